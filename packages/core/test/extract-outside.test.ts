import { findingsOf } from '@hollowmoor/core/find/findings'
import { seededRandom } from '@hollowmoor/core/graph/random'
import { typeScriptWriter } from '@hollowmoor/core/read/typescript/write/writer'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import type { Choices } from '@hollowmoor/core/remedy/remedy'
import { apply } from './applying.js'
import type { Files } from './project.js'
import { readProject } from './project.js'
import { toldBy } from './running.js'

const NODE = { 'tsconfig.json': '{"compilerOptions":{"strict":true,"target":"ES2022","module":"ESNext","moduleResolution":"Bundler","types":["node"],"lib":["ES2022"]}}', 'node_modules/@types/node/package.json': '{"name":"@types/node","types":"index.d.ts"}', 'node_modules/@types/node/index.d.ts': "declare module 'node:fs' { export function readFileSync(path: string, encoding: 'utf8'): string; export function writeFileSync(path: string, text: string): void; export function existsSync(path: string): boolean }" }
const BOOKS = `import { readFileSync, writeFileSync } from 'node:fs'

/** Where dues are paid. */
export class Office {
  private paid = 0
  readonly longest = 40
  #mark: string

  constructor(private readonly rate: number, private readonly folder: string, mark: string) {
    this.#mark = mark.trim()
  }

  due(tons: number): number { return this.rate * Math.min(tons, this.longest) }
  double(): number { return this.due(2) * 2 }
  half(kind: string): number { return kind === 'flat' ? 1 : this.due(1) / 2 }
  pay(kind: string): void {
    this.paid += this.half(kind)
    this.keep(String(this.paid))
    if (this.paid > 4) this.keep(this.folder)
  }

  last(): string { return readFileSync(this.path(), 'utf8').slice(0, this.longest) }
  // Keeps it.
  private keep(text: string): void { writeFileSync(this.path(), this.#mark + text) }
  private path(): string { return this.folder + '/paid.txt' }
}
`
const OUTSIDE = 'extract-class:office.ts#Office:file-system'

describe('extracting what touches the outside in TypeScript', () => {
  test('goes with its helpers; what nothing sets again both have, and what stays asks for the rest', () => {
    const { survey, writer } = readProject({ 'office.ts': BOOKS, ...NODE })
    const [, offer] = offersOf(survey, writer, undefined, 'extract-class')
    expect([offer!.id, offer!.title]).toEqual([OUTSIDE, 'Extract what touches the file system from Office: #mark, last, keep, path'])
    expect(surveyFindings(survey)).toContainEqual(['several-responsibilities', 'file-system'])
    const outcome = planStep(OUTSIDE, {}, survey, writer)
    if (outcome.refused) throw new Error(outcome.message)
    expect(outcome.notes).toEqual(['Office holds an OfficeFiles and hands last on to it and asks it for keep.', 'Both have longest, #mark, folder, which nothing sets again.'])
    expect(outcome.changes.map(one => one.after)).toEqual([`import { readFileSync, writeFileSync } from 'node:fs'

class OfficeFiles {
  private readonly longest: number
  readonly #mark: string

  constructor(longest: number, mark: string, private readonly folder: string) {
    this.longest = longest
    this.#mark = mark
  }

  last(): string { return readFileSync(this.path(), 'utf8').slice(0, this.longest) }

  // Keeps it.
  keep(text: string): void { writeFileSync(this.path(), this.#mark + text) }

  private path(): string { return this.folder + '/paid.txt' }
}

/** Where dues are paid. */
export class Office {
  private paid = 0
  readonly longest = 40
  private readonly files: OfficeFiles
  #mark: string

  constructor(private readonly rate: number, private readonly folder: string, mark: string) {
    this.#mark = mark.trim()
    this.files = new OfficeFiles(this.longest, this.#mark, folder)
  }

  due(tons: number): number { return this.rate * Math.min(tons, this.longest) }
  double(): number { return this.due(2) * 2 }
  half(kind: string): number { return kind === 'flat' ? 1 : this.due(1) / 2 }
  pay(kind: string): void {
    this.paid += this.half(kind)
    this.files.keep(String(this.paid))
    if (this.paid > 4) this.files.keep(this.folder)
  }

  last(): string {
    return this.files.last()
  }
}
`])
  })

  test('done again it is refused, and not offered any more', () => {
    const after = (apply({ 'office.ts': BOOKS, ...NODE }, OUTSIDE) as Record<string, string>)['office.ts']!
    const { survey, writer } = readProject({ 'office.ts': after, ...NODE })
    expect(offersOf(survey, writer, undefined, 'extract-class').filter(one => one.subject === 'office.ts#Office')).toEqual([])
    expect(planStep(OUTSIDE, {}, survey, writer)).toMatchObject({ reason: 'members' })
    expect(planStep(OUTSIDE, { members: 'last' }, survey, writer)).toMatchObject({ reason: 'done' })
  })

  test('it can be handed in, with what is made today as its default, and is exported then', () => {
    const plain = BOOKS.replace('.slice(0, this.longest)', '').replace('#mark: string', 'private readonly mark: string').replaceAll('this.#mark', 'this.mark').replace('mark.trim()', 'mark')
    const applied = (apply({ 'office.ts': plain, ...NODE }, OUTSIDE, { held: 'handed' }) as Record<string, string>)['office.ts']!
    expect(applied).toContain('export class OfficeFiles {\n')
    const handed = (apply({ 'office.ts': BOOKS, 'main.ts': "import { Office } from './office'\nexport const told = new Office(1, 'a', 'b').due(3)\n", ...NODE }, OUTSIDE, { held: 'handed', name: 'Paper' }) as Record<string, string>)
    expect(Object.keys(handed)).toEqual(['office.ts'])
    expect(handed['office.ts']).toMatch(/constructor\(private readonly rate: number, private readonly folder: string, mark: string, \w+: \(longest: number, mark: string, folder: string\) => Paper = /)
  })

  const stays: [string, string, string, string][] = [
    ['where it asks for what changes', 'between', 'this.#mark + text', 'this.paid + text'], ['where a field is made with what it says', 'order', 'private paid = 0', "private paid = 0\n  readonly first = this.keep('')"],
    ['where the constructor asks for it before all is filled', 'order', 'this.#mark = mark.trim()', "this.keep('x')\n    this.#mark = mark.trim()"], ['where a helper is handed on', 'used', 'if (this.paid > 4) this.keep(this.folder)', "[''].forEach(this.keep, this)"],
    ['where a helper is private in the newer way', 'used', 'private keep(', '#keep('], ['where the object is taken apart', 'between', 'this.#mark + text', '((): string => { const { folder } = this; return folder })() + text']
  ]
  test.each(stays)('stays %s', (_, reason, from, to) => {
    const text = BOOKS.replace(from, to).replaceAll(to.startsWith('#') ? 'this.keep' : '\0', 'this.#keep')
    expect(apply({ 'office.ts': text, ...NODE }, OUTSIDE, { members: to.startsWith('#') ? 'last,#keep,path' : 'last,keep,path' })).toMatchObject({ reason })
  })

  test('is not offered where the class does little else, or answers for an abstraction', () => {
    const small = "import { readFileSync } from 'node:fs'\nexport class Shelf {\n  read(name: string): string { return readFileSync(name, 'utf8') }\n  all(): string { return this.read('a') }\n}\n"
    const asked = BOOKS.replace('export class Office', 'export interface Till { last(): string }\nexport class Office implements Till')
    for (const text of [small, asked]) {
      const { survey, writer } = readProject({ 'office.ts': text, ...NODE })
      expect(offersOf(survey, writer, undefined, 'extract-class').filter(one => one.id.endsWith('file-system'))).toEqual([])
    }
  })
})

const RECEIPT = `import { readFileSync, writeFileSync } from 'node:fs'

/** Adds up and files. */
export class Receipt {
  private readonly lines: number[] = []
  private stored = false

  constructor(readonly number: number, private readonly folder: string) {}

  add(amount: number): void { if (amount > 0) this.lines.push(amount) }
  total(): number { return this.lines.reduce((sum, one) => sum + one, 0) }
  format(): string { return this.lines.map(one => one.toFixed(2)).join() }

  store(mark: string): string {
    if (this.stored) throw new Error('filed already')
    try {
      const path = this.folder + '/' + mark
      const old = readFileSync(path, 'utf8')
      writeFileSync(path, old + this.number + this.format())
      this.stored = true
      return path + this.total()
    } finally { this.add(1) }
  }
}
`
const STORE = 'extract-class:receipt.ts#Receipt:file-system@store'

describe('extracting what touches the outside from a method that does more', () => {
  test('the statements become a method of a class that is handed what nothing sets again; what may change is asked for where it is needed', () => {
    const { survey, writer } = readProject({ 'receipt.ts': RECEIPT, ...NODE })
    expect(offersOf(survey, writer, undefined, 'extract-class').map(one => [one.id, one.title])).toContainEqual([STORE, 'Extract what touches the file system from Receipt.store, 2 statements'])
    const applied = apply({ 'receipt.ts': RECEIPT, ...NODE }, STORE, {}) as Record<string, string>
    expect(applied).toEqual({
      'receipt-files.ts': `import { readFileSync, writeFileSync } from 'node:fs'

/** What Receipt does with the file system. */
export class ReceiptFiles {
  constructor(private readonly number: number) {}

  store(path: string, format: () => string) {
    const old = readFileSync(path, 'utf8')
    writeFileSync(path, old + this.number + format())
  }
}
`,
      'receipt.ts': RECEIPT.replace("import { readFileSync, writeFileSync } from 'node:fs'", "import { ReceiptFiles } from './receipt-files'").replace('  private readonly lines', '  private readonly files: ReceiptFiles\n  private readonly lines')
        .replace('private readonly folder: string) {}', 'private readonly folder: string) {\n    this.files = new ReceiptFiles(number)\n  }')
        .replace(/const old =[^]*this\.format\(\)\)/, 'this.files.store(path, () => this.format())')
    })
    // The kind alone means the first such method where no whole one can go.
    expect(planStep('extract-class:receipt.ts#Receipt:file-system', {}, survey, writer)).toMatchObject({ refused: false, choices: { name: 'ReceiptFiles', method: 'store' } })
  })

  const refused: [string, string, string, string, Choices][] = [
    ['one statement alone', 'nothing-outside', "      const path = this.folder + '/' + mark\n      const old = readFileSync(path, 'utf8')\n", "      const path = mark, old = ''\n", {}], ['statements that set a field of the class', 'nothing-outside', '      writeFileSync(path,', '      this.stored = old !== mark\n      writeFileSync(path,', {}],
    ['a name that no method can have', 'name', 'store(', 'store(', { method: 'a b' }]
  ]
  test.each(refused)('refuses %s', (_, reason, from, to, choices) => { expect(apply({ 'receipt.ts': RECEIPT.replace(from, to), ...NODE }, STORE, choices)).toMatchObject({ reason }) })
})

describe('extracting what touches the outside from several methods that do more', () => {
  const LOAD = `
  load(mark: string): number {
    this.stored = false
    const path = mark + '/' + this.number
    const text = readFileSync(path, 'utf8')
    const amounts = text.split(',').map(Number)
    for (const each of amounts) this.add(each)
    return this.total()
  }
}
`
  const BOTH = RECEIPT.replace(/}\n$/, LOAD), ALL = 'extract-class:receipt.ts#Receipt:file-system@store+load'

  test('gives one class with a method for each, which is built of what any of them needs', () => {
    const { survey, writer } = readProject({ 'receipt.ts': BOTH, ...NODE })
    expect(offersOf(survey, writer, undefined, 'extract-class').filter(one => one.id.includes('@')).map(one => [one.id.slice('extract-class:receipt.ts#Receipt:'.length), one.title])).toEqual([
      ['file-system@store+load', 'Extract what touches the file system from Receipt: 4 statements of store, load'],
      ['file-system@store', 'Extract what touches the file system from Receipt.store, 2 statements'], ['file-system@load', 'Extract what touches the file system from Receipt.load, 2 statements']
    ])
    const outcome = planStep(ALL, {}, survey, writer)
    if (outcome.refused) throw new Error(outcome.message)
    expect(outcome.notes).toEqual([
      'ReceiptFiles touches the file system; Receipt keeps 3 of the 5 statements in their block of store, 4 of the 6 statements of load, and its tests stay as they are.',
      'What is called format is worked out in between, and so it is handed as a function.'
    ])
    expect(outcome.choices).toEqual({ name: 'ReceiptFiles' })
    const applied = Object.fromEntries(outcome.changes.map(one => [one.path, one.after]))
    expect(applied['receipt-files.ts']).toBe(`import { readFileSync, writeFileSync } from 'node:fs'

/** What Receipt does with the file system. */
export class ReceiptFiles {
  constructor(private readonly number: number) {}

  store(path: string, format: () => string) {
    const old = readFileSync(path, 'utf8')
    writeFileSync(path, old + this.number + format())
  }

  load(path: string) {
    const text = readFileSync(path, 'utf8')
    const amounts = text.split(',').map(Number)
    return amounts
  }
}
`)
    expect(applied['receipt.ts']).toContain('      this.files.store(path, () => this.format())\n')
    expect(applied['receipt.ts']).toContain('    const amounts = this.files.load(path)\n    for (const each of amounts)')
    // The kind alone means all of them.
    const kind = readProject({ 'receipt.ts': BOTH, ...NODE })
    expect(planStep('extract-class:receipt.ts#Receipt:file-system', {}, kind.survey, kind.writer)).toMatchObject({ changes: outcome.changes })
  })

  test('of those that are named, in their order, and all of them can go', () => {
    const { survey, writer } = readProject({ 'receipt.ts': BOTH, ...NODE })
    expect(planStep('extract-class:receipt.ts#Receipt:file-system@load+other', {}, survey, writer)).toMatchObject({ reason: 'nothing-outside', message: 'No statements in a row of load or other hold all that touches the file system and can stand elsewhere.' })
    const turned = planStep('extract-class:receipt.ts#Receipt:file-system@load+store', {}, survey, writer)
    expect(turned.refused ? turned.message : turned.changes.find(one => one.path === 'receipt-files.ts')!.after!.indexOf('  load(')).toBeLessThan(200)
  })

  test('has each field that its methods need once, by a name that no method has', () => {
    const text = BOTH.replace('private readonly folder: string', 'private readonly folder: string, private readonly load_: string').replaceAll('load_', 'store2').replace("mark + '/' + this.number\n    const text = readFileSync(path, 'utf8')", "mark\n    const text = readFileSync(path + this.number + this.store2, 'utf8')")
    expect((apply({ 'receipt.ts': text, ...NODE }, ALL, {}) as Record<string, string>)['receipt-files.ts']).toContain('  constructor(private readonly number: number, private readonly store2: string) {}\n')
    const named = text.replaceAll('store2', 'load2').replace('private readonly load2: string', 'load: string').replace('string) {}', 'string) { this.#load = load }').replace('  private stored', '  readonly #load: string\n  private stored').replace('this.load2', 'this.#load')
    expect((apply({ 'receipt.ts': named, ...NODE }, ALL, {}) as Record<string, string>)['receipt-files.ts']).toContain('  constructor(private readonly number: number, private readonly load2: string) {}\n')
  })
})

function surveyFindings(survey: Parameters<typeof findingsOf>[0]): unknown[] { return findingsOf(survey).map(one => [one.kind, one.detail]) }

describe('what a program does when what touches the outside is taken out', () => {
  test('stays the same, over random methods', () => {
    const draw = seededRandom(20261133), upTo = (count: number) => Math.floor(draw() * count)
    const counts = { whole: 0, statements: 0, several: 0, stays: 0 }
    for (let round = 0; round < 60; round++) {
      const files = programOf(upTo), { session, snapshot, survey, writer } = readProject({ ...files, ...NODE })
      const offers = offersOf(survey, writer, undefined, 'extract-class').filter(one => one.subject === 'p.ts#P' && one.id.includes(':file-system'))
      if (offers.length === 0) counts.stays++
      for (const { id } of offers) {
        counts[id.includes('+') ? 'several' : id.includes('@') ? 'statements' : 'whole']++
        const outcome = planStep(id, { held: ['made', 'handed'][upTo(2)]! }, survey, typeScriptWriter(session, snapshot))
        if (outcome.refused) throw new Error(`${id}: ${outcome.message}\n${files['p.ts']!}`)
        expect({ round, told: toldBy({ ...files, ...Object.fromEntries(outcome.changes.map(change => [change.path, change.after!])) }) }).toEqual({ round, told: toldBy(files) })
      }
    }
    expect([counts.whole > 15, counts.statements > 20, counts.several > 5, counts.stays < 25]).toEqual([true, true, true, true])
  })
})

/** A class whose methods look at files among what they compute, over fields that are set again, are not, or are made with it. */
function programOf(upTo: (count: number) => number): Files {
  const pick = (...from: readonly string[]) => from[upTo(from.length)]!
  const value = () => pick('n', 'this.mark.length', 'this.count', 'this.most', 'tick(n)', 'this.twice(n)', 'this.log.size()', '7')
  const touch = (at: number) => pick(`const there${at} = existsSync(this.mark + ${value()})`, `if (existsSync(String(${value()}))) tick(${value()})`, `this.log.add('' + existsSync(this.mark) + ${value()})`, `const size${at} = existsSync('/') ? ${value()} : 0`)
  const work = (at: number) => pick(`this.count += ${value()}`, `tick(${value()})`, `const sum${at} = ${value()} + ${value()}`, `this.log.add(String(${value()}))`, `if (n > ${upTo(4)}) { tick(${value()}) }`, `for (const each of [1, ${value()}]) { tick(each); if (each > 5) break }`)
  const body = (touches: number) => {
    const lines = Array.from({ length: 2 + upTo(4) }, (_, at) => work(at))
    for (let at = 0; at < touches; at++) lines.splice(upTo(lines.length + 1), 0, touch(at + 10))
    const inner = lines.map(line => `      ${line}\n`).join('')
    return pick('plain', 'try', 'if') === 'try' ? `    try {\n${inner}    } finally { tick(1) }\n` : upTo(3) === 0 ? `    if (n > 0) {\n${inner}    }\n` : inner
  }
  const used = (text: string) => ['there', 'size', 'sum'].flatMap(stem => [...text.matchAll(new RegExp(`^ {6}const (${stem}\\d+) =`, 'gm'))].map(match => match[1]!))
  const method = (name: string, touches: number, hidden = false) => {
    const text = body(touches), given = text.startsWith('      ') ? used(text) : []
    return `  ${hidden ? 'private ' : ''}${name}(n: number): string {\n${text}    return 'end' + ${given.length > 0 && upTo(2) === 0 ? given[upTo(given.length)]! : 'n'}\n  }\n`
  }
  const whole = `  ${pick('', 'private ')}look(n: number): string { this.log.add('look'); return String(existsSync(this.mark + n)) + this.most }\n`
  const declared = pick('private readonly mark: string', 'readonly mark: string'), log = pick('private readonly log = new Log()\n', 'private readonly log: Log\n')
  return {
    'log.ts': "export const all: string[] = []\nexport function tick(n: number): number { all.push('t' + n); return n }\nexport class Log { private own = 0\n  add(text: string): void { this.own++; all.push(text + this.own) }\n  size(): number { return this.own } }\n",
    'p.ts': `import { existsSync } from 'node:fs'\nimport { Log, tick } from './log'\n\nexport class P {\n  private count = 1\n  readonly most = ${upTo(9)}\n  ${log}\n  constructor(${declared}) {${log.includes('=') ? '' : ' this.log = new Log()'} }\n\n  twice(n: number): number { return n > this.count ? tick(n) * 2 : n + 1 }\n  odd(n: number): boolean { return n % 2 === 1 && this.count > 0 }\n${method('work', 1 + upTo(2))}${whole}${method('more', upTo(2))}  all(n: number): string { return this.look(n) + this.count }\n}\n`,
    'main.ts': "import { all } from './log'\nimport { P } from './p'\nconst p = new P('a')\nall.push(p.work(2), p.more(5), p.all(1), p.work(1), String(p.odd(3)), String(p.twice(9)))\nexport const told = all.join(' ')\n"
  }
}
