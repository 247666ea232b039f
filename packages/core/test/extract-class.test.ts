import { apply } from './applying.js'
import { seededRandom } from '@hollowmoor/core/graph/random'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import type { Choices } from '@hollowmoor/core/remedy/remedy'
import type { Files } from './project.js'
import { readProject } from './project.js'
import { toldBy } from './running.js'

const FLAT = `export interface Craft { moor(place: string): void }

/** A flat. */
export class Flat implements Craft {
  private load = 0
  // Where it lies.
  private place: string | null = null
  private visits: string[] = []

  constructor(readonly name: string) {}

  add(tonnes: number): void { this.load += tonnes }
  total(): number { return this.load + this.name.length }

  /** Ties it up. */
  override: boolean = false
  moor(place: string): void {
    this.place = place
    this.note(place)
  }

  where(): string { return this.place ?? this.visits.map(one => this.visits[0] + one).join() }

  private note(place: string): void { this.visits.push(place) }
}
`.replace("  override: boolean = false\n", '')

describe('extracting a class in TypeScript', () => {
  test('the group goes with its helpers and comments, what others call stays and hands on', () => {
    expect(apply({ 'flat.ts': FLAT, 'use.ts': "import { Flat } from './flat'\nexport const flat = new Flat('a')\nflat.moor('b')\n" }, 'extract-class:flat.ts#Flat')).toEqual({
      'flat.ts': `export interface Craft { moor(place: string): void }

class FlatPlace {
  // Where it lies.
  private place: string | null = null
  private visits: string[] = []

  moor(place: string): void {
    this.place = place
    this.note(place)
  }

  where(): string { return this.place ?? this.visits.map(one => this.visits[0] + one).join() }

  private note(place: string): void { this.visits.push(place) }
}

/** A flat. */
export class Flat implements Craft {
  private load = 0
  private readonly place = new FlatPlace()

  constructor(readonly name: string) {}

  add(tonnes: number): void { this.load += tonnes }
  total(): number { return this.load + this.name.length }

  /** Ties it up. */
  moor(place: string): void {
    this.place.moor(place)
  }

  where(): string {
    return this.place.where()
  }
}
`
    })
  })

  const type = 'flat.ts#Flat'
  const refused: [string, string, Files, Choices][] = [
    ['a group that uses what stays', 'between', { 'flat.ts': FLAT }, { members: 'load,total,add,where' }], ['a field that others use', 'used', { 'flat.ts': FLAT }, { members: 'place,moor,note,visits' }],
    ['a field that others see', 'member', { 'flat.ts': FLAT.replace('private place', 'place') }, { members: 'place,visits,moor,where,note' }], ['no method', 'members', { 'flat.ts': FLAT }, { members: 'load' }], ['a method without its field', 'between', { 'flat.ts': FLAT }, { members: 'moor' }],
    ['what is no member', 'member', { 'flat.ts': FLAT }, { members: 'place,sail' }], ['a name that is taken', 'name-taken', { 'flat.ts': FLAT }, { name: 'Craft' }],
    ['a field that the constructor fills', 'used', { 'flat.ts': FLAT.replace('(readonly name: string) {}', '(readonly name: string) { this.place = name }') }, { members: 'place,visits,moor,where,note' }],
    ['what only its class can name', 'between', { 'flat.ts': FLAT.replace('  private visits', '  private static most = 9\n  private visits').replace('this.visits.push(place)', 'if (this.visits.length < Flat.most) this.visits.push(place)') }, { members: 'place,visits,moor,where,note' }],
    ['all but static members', 'members', { 'flat.ts': 'export class Flat { private a = 1\n  static of(): Flat { return new Flat() }\n  up(): number { return this.a++ }\n  down(): number { return this.a-- } }\n' }, { members: 'a,up,down' }],
    ['another object looked into', 'used', { 'flat.ts': FLAT.replace('  add(', '  same(other: Flat): boolean { return other.place === null }\n  add(') }, { members: 'place,visits,moor,where,note' }],
    ['a method that is overridden and called inside', 'overridden', { 'flat.ts': FLAT.replace("return this.place ??", "this.moor('x'); return this.place ??"), 'wide.ts': "import { Flat } from './flat'\nexport class Wide extends Flat { override moor(): void {} }\n" }, { members: 'place,visits,moor,where,note' }]
  ]
  test.each(refused)('refuses %s', (_, reason, files, choices) => { expect(apply(files, `extract-class:${type}`, choices)).toMatchObject({ reason }) })

  test('is offered for a group that stands by itself, not where all belongs together', () => {
    const { survey, writer } = readProject({ 'flat.ts': FLAT, 'one.ts': 'export class One { private a = 1; up(): number { return this.a++ } down(): number { return this.a-- } }\n', 'asks.ts': 'export class Asks { private a = 1; up(): number { return this.a++ } down(): number { return this.a > 3 ? this.a-- : 0 } both(): number { return this.up() + this.down() } }\n', 'holds.ts': 'export class Holds { private a = 1; private b = 2; get(): number { return this.a } set(a: number): void { this.a = a } more(): number { return this.b * 2 } }\n' })
    expect(offersOf(survey, writer).filter(one => one.remedy === 'extract-class').map(one => [one.subject, one.title])).toEqual([['flat.ts#Flat', 'Extract a class of place, visits, moor, where, note from Flat'.replace('moor, where, note', 'moor, where, note')]])
  })
})

const OFFICE = `export interface Post { send(to: string, text: string): void }
export interface Ledger { book(tons: number): void; sum(): number }

/** Where dues are paid. */
export class Office {
  // What a reminder begins with.
  private readonly greeting: string
  private sent = 0

  constructor(
    private readonly ledger: Ledger,
    private post: Post,
    greeting: string
  ) {
    if (greeting === '') throw new Error('no greeting')
    this.greeting = greeting
  }

  pay(tons: number): number {
    this.ledger.book(tons)
    return this.ledger.sum()
  }
  owed(): number { return this.ledger.sum() }

  remind(to: string): void {
    this.sent++
    this.post.send(to, this.greeting)
  }
  count(): number { return this.sent }
}
`
const OFFICE_ID = 'extract-class:office.ts#Office'

describe('extracting a class of what the constructor is handed', () => {
  test('the new class is handed it, and made where it was filled', () => {
    const applied = apply({ 'office.ts': OFFICE }, OFFICE_ID, { members: 'greeting,post,sent,remind,count', name: 'Reminders' })
    expect(applied).toEqual({ 'office.ts': `export interface Post { send(to: string, text: string): void }
export interface Ledger { book(tons: number): void; sum(): number }

class Reminders {
  // What a reminder begins with.
  private readonly greeting: string
  private sent = 0

  constructor(private post: Post, greeting: string) {
    this.greeting = greeting
  }

  remind(to: string): void {
    this.sent++
    this.post.send(to, this.greeting)
  }

  count(): number { return this.sent }
}

/** Where dues are paid. */
export class Office {
  private readonly reminders: Reminders

  constructor(
    private readonly ledger: Ledger,
    post: Post,
    greeting: string
  ) {
    if (greeting === '') throw new Error('no greeting')
    this.reminders = new Reminders(post, greeting)
  }

  pay(tons: number): number {
    this.ledger.book(tons)
    return this.ledger.sum()
  }
  owed(): number { return this.ledger.sum() }

  remind(to: string): void {
    this.reminders.remind(to)
  }
  count(): number {
    return this.reminders.count()
  }
}
` })
  })

  test('where its arguments alone declare the fields, it is the first thing that the constructor makes', () => {
    expect(apply({ 'office.ts': OFFICE }, OFFICE_ID, { members: 'ledger,pay,owed', name: 'Till' })).toEqual({ 'office.ts': expect.stringMatching(/class Till \{\n {2}constructor\(private readonly ledger: Ledger\) \{\}\n\n {2}pay\(tons: number\): number \{[^]*  private readonly till: Till\n\n {2}\/\/ What a reminder begins with\.\n {2}private readonly greeting: string\n[^]* {4}ledger: Ledger,\n[^]*\) \{\n {4}this\.till = new Till\(ledger\)\n {4}if \(/) as string })
    const bare = "interface Log { add(text: string): void }\nclass Base { constructor(readonly name: string) {} }\nexport class Gate extends Base {\n  constructor(private readonly log?: Log, name = 'gate') { super(name) }\n\n  open(): void { this.log?.add('open') }\n  shut(): void { this.log?.add('shut') }\n  word(): string { return this.name }\n}\n"
    const applied = apply({ 'gate.ts': bare }, 'extract-class:gate.ts#Gate', { members: 'log,open,shut' }) as Record<string, string>
    expect(applied['gate.ts']).toContain('class GateLog {\n  constructor(private readonly log: Log | undefined) {}\n')
    expect(applied['gate.ts']).toContain("  constructor(log?: Log, name = 'gate') { super(name)\n    this.log = new GateLog(log)")
  })

  test('comments beside what filled the fields stay', () => {
    const two = OFFICE.replace('private post: Post,', 'post: Post,').replace('private sent', 'private post: Post\n  private sent').replace('this.greeting = greeting\n', 'this.greeting = greeting // First of all.\n    // By hand.\n    this.post = post // Or by boat.\n')
    const applied = apply({ 'office.ts': two }, OFFICE_ID, { members: 'greeting,post,sent,remind,count', name: 'Reminders' }) as Record<string, string>
    expect(applied['office.ts']).toContain('    this.reminders = new Reminders(post, greeting) // First of all.\n    // By hand.\n    // Or by boat.\n  }\n')
  })

  const refused: [string, string, string, string][] = [
    ['a field that only some filling sets', 'used', 'this.greeting = greeting', "if (greeting > 'a') this.greeting = greeting + '!'"], ['one that is filled with what the object says', 'used', 'this.greeting = greeting', 'this.greeting = `${greeting}${this.sent}`'],
    ['one that is used in the constructor and set again', 'used', 'this.greeting = greeting\n', "this.greeting = greeting\n    console.log(this.greeting)\n    if (greeting === 'x') this.greeting = 'y'\n"],
    ['the object that is used before', 'order', "if (greeting === '')", "this.count()\n    if (greeting === '')"], ['a field that asks the object as it is made', 'order', 'private sent = 0', 'private sent = 0\n  readonly first = this.count()'],
    ['another field that is made with something that may matter', 'order', 'private sent = 0', 'private sent = Date.now()\n  readonly at = Date.now()'], ['one that others see and set', 'member', 'private post', 'public post'],
    ['a field that is filled twice', 'member', 'this.greeting = greeting\n', 'this.greeting = greeting\n    this.greeting = greeting\n']
  ]
  test.each(refused)('refuses %s', (_, reason, from, to) => {
    expect(apply({ 'office.ts': OFFICE.replace(from, to).replace('private readonly greeting', 'private greeting') }, OFFICE_ID, { members: 'greeting,post,sent,remind,count' })).toMatchObject({ reason })
  })

  test('is refused for a type that the class leaves open', () => {
    const open = OFFICE.replace('class Office', 'class Office<Mail extends Post>').replace('private post: Post', 'private post: Mail')
    expect(apply({ 'office.ts': open }, OFFICE_ID, { members: 'greeting,post,sent,remind,count' })).toMatchObject({ reason: 'generic' })
  })

  test('does the same, over random groups', () => {
    const draw = seededRandom(20261130), upTo = (count: number) => Math.floor(draw() * count)
    let applied = 0
    const refusals: string[] = []
    for (let round = 0; round < 40; round++) {
      const files = programOf(upTo), { survey, writer } = readProject(files)
      const [offer] = offersOf(survey, writer).filter(one => one.remedy === 'extract-class')
      if (!offer) { refusals.push(files['p.ts']!); continue }
      const outcome = planStep(offer.id, {}, survey, writer)
      if (outcome.refused) throw new Error(`${outcome.message}\n${files['p.ts']!}`)
      applied++
      expect({ round, told: toldBy({ ...files, ...Object.fromEntries(outcome.changes.map(change => [change.path, change.after!])) }) }).toEqual({ round, told: toldBy(files) })
    }
    expect({ refusals, isEnough: applied >= 26 }).toEqual({ refusals, isEnough: true })
  })
})

/** A class of two groups of members, whose fields are arguments, filled by hand, or made with it; both may use one log, and one group may ask the other for something. */
function programOf(upTo: (count: number) => number): Files {
  const shared = upTo(4), uses = shared === 3 ? '' : '; this.both.add(String(n))', asks = upTo(3) === 0
  const both = [['    private readonly both: Log', '', ''], ['    both: Log', '  private readonly both: Log\n', '    this.both = both\n'], ['    other: Log', '  readonly both = new Log()\n', ''], ['    other: Log', '', '']][shared]!
  const group = (mark: string) => {
    const kind = upTo(3), name = `${mark}Log`
    const parameter = kind === 0 ? `private ${upTo(2) === 0 ? 'readonly ' : ''}${name}: Log` : `${name}: Log`
    const field = kind === 0 ? '' : `  private ${name}: Log\n`, filling = kind === 0 ? '' : `    this.${name} = ${name}\n`
    const made = upTo(2) === 0 ? '' : `  private ${mark}Count = ${upTo(3) === 0 ? `tick('${mark}')` : upTo(9)}\n`
    const count = made === '' ? '1' : `this.${mark}Count++`
    const help = asks && mark === 'a' ? `  private aHelp(n: number): number { return this.aLog.add('help' + n)${made === '' ? '' : ' + this.aCount'} }\n` : '', helped = asks ? ' + this.aHelp(2)' : ''
    // What is computed where it is read, and what is set by code of its own.
    const asked = upTo(2) === 0 ? '' : `  get ${mark}Size(): number { return ${count.replace('++', '')} + this.${name}.add('size') }\n${upTo(2) === 0 ? '' : `  set ${mark}Size(n: number) { this.${name}.add('set' + n) }\n`}`
    return { parameter, field: `${field}${made}`, filling, sets: asked.includes('set '), asks: asked !== '', methods: `${asked}  ${mark}One(n: number): number { this.${name}.add('${mark}' + n)${uses}; return n + ${count} }\n  ${mark}Two(): string { return this.${name}.add('two') + '${mark}'${helped} }\n${help}` }
  }
  const a = group('a'), b = group('b'), before = upTo(3) === 0 ? "    tick('before')\n" : '', between = upTo(3) === 0 ? "    tick('between')\n" : '', after = ["    this.aOne(7)\n", "    tick('after')\n", ''][upTo(3)]!
  const [parameter, field, filling] = both as [string, string, string]
  return {
    'log.ts': 'export const all: string[] = []\nexport function tick(text: string): number { all.push(text); return all.length }\nexport class Log { private own = 0\n  add(text: string): number { this.own++; all.push(text + this.own); return this.own } }\n',
    'p.ts': `import { Log, tick } from './log'\n\nexport class P {\n${a.field}${field}${b.field}  readonly kept = tick('kept')\n\n  constructor(${a.parameter}, ${b.parameter},\n${parameter}) {\n${before}${a.filling}${between}${b.filling}${filling}${after}  }\n\n${a.methods}${b.methods}}\n`,
    'main.ts': "import { all, Log } from './log'\nimport { P } from './p'\nconst p = new P(new Log(), new Log(), new Log())\nall.push(String(p.aOne(1) + p.bOne(2) + p.aOne(3)), p.aTwo(), p.bTwo(), String(p.kept))\n" + [['a', a] as const, ['b', b] as const].map(([mark, group]) => `${group.sets ? `p.${mark}Size = 7\n` : ''}${group.asks ? `all.push(String(p.${mark}Size))\n` : ''}`).join('') + "export const told = all.join(' ')\n"
  }
}

test('properties that are computed go, and what others read and set hands on', () => {
  const text = `export class Gauge {
  private level = 0
  private name = 'upper'

  /** In metres. */
  get metres(): number { return this.level / 100 }
  set metres(metres: number) { this.level = metres * 100 }
  private get isHigh(): boolean { return this.level > 300 }
  raise(by: number): boolean { this.metres += by; return this.isHigh }

  get title() { return this.name.toUpperCase() }
  rename(name: string): string { this.name = name; return this.title }
}
`
  const use = "import { Gauge } from './gauge'\nconst gauge = new Gauge()\ngauge.metres = 2\nexport const told = `${gauge.raise(2)} ${gauge.metres} ${gauge.rename('low')} ${gauge.title}`\n"
  const applied = apply({ 'gauge.ts': text, 'main.ts': use }, 'extract-class:gauge.ts#Gauge', { members: 'level,metres,isHigh,raise' }) as Record<string, string>
  expect(applied['gauge.ts']).toBe(`class GaugeLevel {
  private level = 0

  get metres(): number { return this.level / 100 }

  set metres(metres: number) { this.level = metres * 100 }

  private get isHigh(): boolean { return this.level > 300 }

  raise(by: number): boolean { this.metres += by; return this.isHigh }
}

export class Gauge {
  private readonly level = new GaugeLevel()
  private name = 'upper'

  /** In metres. */
  get metres(): number {
    return this.level.metres
  }
  set metres(metres: number) {
    this.level.metres = metres
  }
  raise(by: number): boolean {
    return this.level.raise(by)
  }

  get title() { return this.name.toUpperCase() }
  rename(name: string): string { this.name = name; return this.title }
}
`)
  expect(toldBy({ 'gauge.ts': applied['gauge.ts']!, 'main.ts': use })).toBe(toldBy({ 'gauge.ts': text, 'main.ts': use }))
  expect(apply({ 'gauge.ts': applied['gauge.ts']! }, 'extract-class:gauge.ts#Gauge', { members: 'level,metres,raise' })).toMatchObject({ reason: 'done' })
})

const kept: [string, string, string, string][] = [
  ['a property without a name to say', 'member', 'get metres()', 'get [\'metres\']()'], ['one that is read from outside the group and private', 'used', 'get metres()', 'private get metres()'],
  ['one that is taken out of the object', 'used', 'return this.name', 'const { metres } = this; return metres + this.name'], ['a field with accessors of its own', 'member', 'private level', 'private accessor level']
]
test.each(kept)('leaves %s', (_, reason, from, to) => {
  const text = 'export class Gauge {\n  private level = 0\n  private name = \'a\'\n  get metres(): number { return this.level / 100 }\n  raise(by: number): void { this.level += by }\n  title(): string { return this.name }\n  both(): string { return this.title() + this.metres }\n}\n'
  expect(apply({ 'gauge.ts': text.replace(from, to) }, 'extract-class:gauge.ts#Gauge', { members: to.startsWith('get [') ? "level,['metres'],raise" : 'level,metres,raise' })).toMatchObject({ reason })
})

test('where no group can go it is told what keeps each', () => {
  const text = 'export class Gauge {\n  private level = 0\n  names: string[] = []\n  raise(by: number): void { this.level += by }\n  read(): string { return this.level + this.first() }\n  first(): string { return this.names[0]! }\n  add(name: string): void { this.names.push(name) }\n}\n'
  expect(apply({ 'gauge.ts': text }, 'extract-class:gauge.ts#Gauge')).toMatchObject({
    message: 'No group of its members stands by itself. names, first and add: names is a field that others see. level, raise and read: read uses first, which stays, line 5. Choose the members.'
  })
})

test('what is taken out of another object by the same name is not its own', () => {
  const text = 'export class Gauge {\n  private level = 0\n  private name = \'a\'\n  get metres(): number { return this.level / 100 }\n  raise(by: number): void { this.level += by }\n  title(of: { metres: number }): string { const { metres } = of; return this.name + metres }\n  rename(name: string): void { this.name = name }\n}\n'
  expect((apply({ 'gauge.ts': text }, 'extract-class:gauge.ts#Gauge', { members: 'level,metres,raise' }) as Record<string, string>)['gauge.ts']).toContain('return this.level.metres')
})

test('what only a group uses goes along, unnamed, and what is spread in it stays imported', () => {
  const text = "import { most } from './most'\nexport class Hours {\n  private extra: number[] = []\n  constructor(private readonly summer: number, private readonly winter: number) {}\n  open(): number { this.extra.push(...most); return this.summer }\n  shut(): number { return this.extra.length > 2 ? this.summer : 1 }\n  cold(): number { return this.winter > 3 ? 1 : 2 }\n  ice(): number { return this.winter }\n}\n"
  const applied = (apply({ 'hours.ts': text, 'most.ts': 'export const most = [1, 2]\n' }, 'extract-class:hours.ts#Hours', { members: 'extra,open,shut' }) as Record<string, string>)['hours.ts']!
  expect(applied).toContain("import { most } from './most'\nclass HoursExtra {\n  private extra: number[] = []\n\n  constructor(private readonly summer: number) {}\n")
  expect(applied).toContain('constructor(summer: number, private readonly winter: number) {\n    this.extra = new HoursExtra(summer)')
})

const faces: [string, string, string, string][] = [['methods of several forms', 'overloads', '  open(at: number): number', '  open(at: number): number\n  open(at: string): number\n  open(at: unknown): number'], ['arguments that are taken apart in the head', 'parameters', 'open(at: number)', 'open({ at }: { at: number })']]
test.each(faces)('faces cannot be %s', (_, reason, from, to) => {
  const text = 'export class Hours {\n  private a = 1\n  private b = 2\n  open(at: number): number { return this.a++ + Number(at) }\n  up(): number { return this.a-- }\n  shut(): number { return this.b }\n}\n'
  expect(apply({ 'hours.ts': text.replace(from, to) }, 'extract-class:hours.ts#Hours', { members: 'a,open,up' })).toMatchObject({ reason })
})

test('asking why no group goes plans nothing: what comes next stands on the code as it is', () => {
  const { survey, writer, snapshot } = readProject({ 'holds.ts': 'export class Holds { private a = 1; private b = 2; get(): number { return this.a } set(a: number): void { this.a = a } more(): number { return this.b * 2 } }\n' })
  expect(planStep('extract-class:holds.ts#Holds', {}, survey, writer)).toMatchObject({ refused: true, reason: 'members' })
  expect(writer.current).toBe(snapshot)
})
