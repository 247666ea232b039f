import { seededRandom } from '@hollowmoor/core/graph/random'
import { offersOf } from '@hollowmoor/core/remedy/catalogue'
import type { Applied } from './applying.js'
import { apply } from './applying.js'
import type { Files } from './project.js'
import { readProject } from './project.js'
import { toldBy } from './running.js'

const ID = 'introduce-facade:slip.ts#Slip'
const SHARED: Files = {
  'slip.ts': 'export class Slip {\n  private lines: string[] = []\n  constructor(readonly number: number, private readonly folder: string) {}\n  add(text: string): void { this.lines.push(text) }\n  store(): string { return this.folder + this.lines.length }\n}\n',
  'book.ts': 'export class Book {\n  private sum = 0\n  credit(amount: number, reason: string): void { this.sum += amount + reason.length }\n}\n'
}
const desk = (body: string, more = '') => `import { Book } from './book'
import { Slip } from './slip'

export class Desk {
  private count = 1
${more}
  constructor(private readonly book: Book, private readonly folder: string, readonly label: string) {}

  settle(craft: { readonly name: string; at(): number }, toll: number): string {
    this.count += 1
${body}
  }
}
`
const DESK = desk('    const slip = new Slip(this.count, this.folder)\n    // The crew sees this.\n    slip.add(`${craft.name}\n  passage`)\n    slip.store()\n    this.book.credit(toll, craft.name)\n    return this.label')
const WINDOW = `import { Book } from './book'
import { Slip } from './slip'

export class Window {
  private readonly ledger: Book
  private readonly slips: string

  constructor(slips: string, ledger: Book) {
    this.ledger = ledger
    this.slips = slips
  }

  sell(craft: string, toll: number): void {
    const paper = new Slip(7, this.slips)
    paper.add(craft)
    paper.store()
    this.ledger.credit(toll * 2, craft)
  }
}
`
const FILES: Files = {
  ...SHARED, 'desk.ts': DESK, 'window.ts': WINDOW,
  'office.ts': "import { Book } from './book'\nimport { Desk } from './desk'\nimport { Window } from './window'\n\nconst book = new Book()\nexport const desk = new Desk(book, 'slips', 'desk')\nexport const window = new Window('slips', book)\n"
}

const textOf = (applied: Applied, path: string) => (applied as Record<string, string>)[path]

describe('introducing a facade in TypeScript', () => {
  test('stands before what classes do alike; they are handed it for what only that needed', () => {
    const applied = apply(FILES, ID)
    expect(Object.keys(applied).sort()).toEqual(['desk.ts', 'office.ts', 'slip-facade.ts', 'window.ts'])
    expect(textOf(applied, 'slip-facade.ts')).toBe(`import { Slip } from './slip'
import { Book } from './book'

/** What Desk and Window do alike, behind one call. */
export class SlipFacade {
  constructor(private readonly book: Book, private readonly folder: string) {}

  storeSlip(number: number, text: string, toll: number, reason: string): void {
    const slip = new Slip(number, this.folder)
    // The crew sees this.
    slip.add(text)
    slip.store()
    this.book.credit(toll, reason)
  }
}
`)
    expect(textOf(applied, 'desk.ts')).toContain('  constructor(private readonly slipFacade: SlipFacade, readonly label: string) {}\n')
    expect(textOf(applied, 'desk.ts')).toContain('    this.count += 1\n    this.slipFacade.storeSlip(this.count, `${craft.name}\n  passage`, toll, craft.name)\n    return this.label\n')
    expect(textOf(applied, 'desk.ts')).not.toMatch(/Book|import \{ Slip \}/)
    expect(textOf(applied, 'window.ts')).toBe(`import { SlipFacade } from './slip-facade'

export class Window {

  constructor(private readonly slipFacade: SlipFacade) {
  }

  sell(craft: string, toll: number): void {
    this.slipFacade.storeSlip(7, craft, toll * 2, craft)
  }
}
`)
    expect(textOf(applied, 'office.ts')).toContain("new Desk(new SlipFacade(book, 'slips'), 'desk')")
    expect(textOf(applied, 'office.ts')).toContain("new Window(new SlipFacade(book, 'slips'))")
  })

  test('keeps what the class needs besides, and hands it twice', () => {
    const applied = apply({ ...FILES, 'desk.ts': DESK.replace('return this.label', "this.book.credit(1, 'extra')\n    return this.label") }, ID, { name: 'Slips', method: 'issue' })
    expect(textOf(applied, 'desk.ts')).toContain('  constructor(private readonly slips: Slips, private readonly book: Book, readonly label: string) {}\n')
    expect(textOf(applied, 'desk.ts')).toContain("    this.slips.issue(this.count, `${craft.name}\n  passage`, toll, craft.name)\n    this.book.credit(1, 'extra')\n")
    expect(textOf(applied, 'office.ts')).toContain("new Desk(new Slips(book, 'slips'), book, 'desk')")
  })

  test('gives what is used behind it, waits where they wait, and hands a function for what is worked out in between', () => {
    const waiting = (code: string) => code.replace('settle(', 'async settle(').replace('sell(', 'async sell(').replace('): string {', '): Promise<string> {').replace('): void {', '): Promise<void> {')
    const applied = apply({
      ...FILES, 'slip.ts': SHARED['slip.ts']!.replace('store(): string {', 'async store(): Promise<string> {'),
      'desk.ts': waiting(DESK).replace('slip.store()', 'await slip.store()').replace('return this.label', 'return String(slip.number)').replace('credit(toll, craft.name)', 'credit(craft.at(), craft.name)'),
      'window.ts': waiting(WINDOW).replace('paper.store()', 'await paper.store()').replace('toll * 2', 'Date.now()')
    }, ID)
    expect(textOf(applied, 'slip-facade.ts')).toContain('  async storeSlip(number: number, text: string, amount: () => number, reason: string): Promise<Slip> {\n')
    expect(textOf(applied, 'slip-facade.ts')).toContain('    this.book.credit(amount(), reason)\n    return slip\n  }\n')
    expect(textOf(applied, 'desk.ts')).toContain('const slip = await this.slipFacade.storeSlip(this.count, `${craft.name}\n  passage`, () => craft.at(), craft.name)\n    return String(slip.number)')
    expect(textOf(applied, 'window.ts')).toContain('    await this.slipFacade.storeSlip(7, craft, () => Date.now(), craft)\n')
  })

  test.each<[string, Files, string]>([
    ['arguments that would be worked out in another order', { 'office.ts': FILES['office.ts']!.replace("new Window('slips', book)", 'new Window(name(), make())') + "function name(): string { return 'a' }\nfunction make(): Book { return new Book() }\n" }, 'order'],
    ['a class that is handed around', { 'other.ts': "import { Window } from './window'\nexport const all = [Window]\n" }, 'class-as-value'],
    ['one that is built inside of another', { 'office.ts': FILES['office.ts']!.replace("new Desk(book, 'slips', 'desk')", "new Desk(new Window('slips', book) ? book : book, 'slips', 'desk')") }, 'nested'],
    ['a file that is there', { 'slip-facade.ts': 'export const a = 1\n' }, 'file-exists']
  ])('refuses %s', (_, more, reason) => {
    expect(apply({ ...FILES, ...more }, ID)).toMatchObject({ reason })
  })

  test('is told step by step, and what a place leaves at its usual value is not said', () => {
    const more = WINDOW.replace('Window', 'Kiosk').replace("sell(craft: string, toll: number)", "sell(craft: string, toll: number, why: string)").replace('credit(toll * 2, craft)', "credit(toll, why)")
    const files = {
      ...FILES, 'window.ts': WINDOW.replace('credit(toll * 2, craft)', "credit(toll * 2, 'passage')"), 'desk.ts': DESK.replace('credit(toll, craft.name)', "credit(toll, 'passage')"), 'kiosk.ts': more,
      'office.ts': `${FILES['office.ts']!}\nimport { Kiosk } from './kiosk'\nexport const kiosk = new Kiosk('slips', book)\n`
    }
    const applied = apply(files, ID, { face: 'steps' })
    expect(textOf(applied, 'slip-facade.ts')).toBe(`import { Slip } from './slip'
import { Book } from './book'

/** What Desk and Kiosk and Window do alike, said step by step. */
export class SlipFacade {
  constructor(private readonly book: Book, private readonly folder: string) {}

  /** Begins: the rest is said in the steps that follow. */
  number(number: number): SlipFacadeCraftStep {
    return { craft: craft => ({ toll: toll => this.ready(number, craft, toll) }) }
  }

  private ready(number: number, craft: string, toll: number, reason: string = 'passage'): SlipFacadeLastStep {
    return {
      reason: said => this.ready(number, craft, toll, said),
      storeSlip: () => this.storeSlip(number, craft, toll, reason)
    }
  }

  private storeSlip(number: number, craft: string, toll: number, reason: string): void {
    const slip = new Slip(number, this.folder)
    // The crew sees this.
    slip.add(craft)
    slip.store()
    this.book.credit(toll, reason)
  }
}

/** Waits for craft. */
export interface SlipFacadeCraftStep {
  craft(craft: string): SlipFacadeTollStep
}

/** Waits for toll. */
export interface SlipFacadeTollStep {
  toll(toll: number): SlipFacadeLastStep
}

/** All that has to be said is said; the rest has its usual value. */
export interface SlipFacadeLastStep {
  /** 'passage' where it is not said. */
  reason(reason: string): SlipFacadeLastStep
  storeSlip(): void
}
`)
    expect(textOf(applied, 'desk.ts')).toContain('    this.slipFacade.number(this.count).craft(`${craft.name}\n  passage`).toll(toll).storeSlip()\n    return this.label\n')
    expect(textOf(applied, 'window.ts')).toContain('    this.slipFacade.number(7).craft(craft).toll(toll * 2).storeSlip()\n')
    expect(textOf(applied, 'kiosk.ts')).toContain('    this.slipFacade.number(7).craft(craft).toll(toll).reason(why).storeSlip()\n')
  })

  test('step by step, what is needed later gives what comes of it and waits where they wait', () => {
    const waiting = (code: string) => code.replace('settle(', 'async settle(').replace('sell(', 'async sell(').replace('): string {', '): Promise<string> {').replace('): void {', '): Promise<void> {')
    const applied = apply({
      ...FILES, 'slip.ts': SHARED['slip.ts']!.replace('store(): string {', 'async store(): Promise<string> {'),
      'desk.ts': waiting(DESK).replace('slip.store()', 'await slip.store()').replace('return this.label', 'return String(slip.number)'), 'window.ts': waiting(WINDOW).replace('paper.store()', 'await paper.store()')
    }, ID, { face: 'steps' })
    expect(textOf(applied, 'slip-facade.ts')).toMatch(/reason: reason => \(\{ storeSlip: \(\) => this\.storeSlip\(number, text, toll, reason\) \}\)[^]*private async storeSlip\([^]*\): Promise<Slip> \{[^]*\/\*\* All is said\. \*\/\nexport interface SlipFacadeLastStep \{\n {2}storeSlip\(\): Promise<Slip>\n\}\n$/)
    expect(textOf(applied, 'desk.ts')).toContain('    const slip = await this.slipFacade.number(this.count).text(`${craft.name}\n  passage`).toll(toll).reason(craft.name).storeSlip()\n')
  })

  test('a face that nobody knows is refused', () => {
    expect(apply(FILES, ID, { face: 'sung' })).toMatchObject({ reason: 'face' })
  })

  const offered = (files: Files) => { const { survey, writer } = readProject(files); return offersOf(survey, writer).filter(one => one.remedy === 'introduce-facade' && !one.id.endsWith(':shown')).map(one => one.title) }

  test('is offered of every type of the group, and no more once it is done', () => {
    expect(offered(FILES)).toEqual(['Book', 'Slip'].map(() => 'Put SlipFacade before Slip and Book, for Desk.settle and Window.sell'))
    expect(offered({ ...FILES, ...apply(FILES, ID) as Files })).toEqual([])
    expect(apply({ ...FILES, ...apply(FILES, ID) as Files }, ID)).toMatchObject({ reason: 'sequence' })
  })

  test('where classes hold nothing of what it goes over, it keeps nothing, and is handed to them with a default', () => {
    const files: Files = {
      'bell.ts': 'export class Bell {\n  static readonly one = new Bell()\n  private readonly heard = new Set<object>()\n  forget(who: object): void { this.heard.delete(who) }\n  quiet(): void { this.heard.clear() }\n}\n',
      'lamp.ts': 'export interface Keeper { readonly name: string }\nexport class Lamp {\n  static readonly one = new Lamp()\n  private readonly seen = new Set<Keeper>()\n  leave(who: Keeper): void { this.seen.delete(who) }\n}\n',
      'day.ts': "import { Bell } from './bell'\nimport { type Keeper, Lamp } from './lamp'\n\nexport class Day {\n  end(other: Keeper): void {\n    Bell.one.forget(other)\n    Lamp.one.leave(other)\n    Bell.one.quiet()\n  }\n}\n",
      'night.ts': "import { Bell } from './bell'\nimport { type Keeper, Lamp } from './lamp'\n\nexport class Night {\n  constructor(readonly name: string) {}\n\n  end(who: Keeper): string {\n    Bell.one.forget(who)\n    Lamp.one.leave(who)\n    Bell.one.quiet()\n    return this.name\n  }\n}\n"
    }
    expect(offered(files)).toEqual(['Bell', 'Lamp'].map(() => 'Put BellFacade before Bell and Lamp, for Day.end and Night.end'))
    expect(apply(files, 'introduce-facade:bell.ts#Bell')).toEqual({
      'bell-facade.ts': "import { Bell } from './bell'\nimport { Lamp } from './lamp'\nimport { type Keeper } from './lamp'\n\n/** What Day and Night do alike, behind one call. */\nexport class BellFacade {\n  quietBell(other: Keeper): void {\n    Bell.one.forget(other)\n    Lamp.one.leave(other)\n    Bell.one.quiet()\n  }\n}\n",
      'day.ts': "import { type Keeper } from './lamp'\nimport { BellFacade } from './bell-facade'\n\nexport class Day {\n  constructor(private readonly bellFacade: BellFacade = new BellFacade()) {}\n\n  end(other: Keeper): void {\n    this.bellFacade.quietBell(other)\n  }\n}\n",
      'night.ts': "import { type Keeper } from './lamp'\nimport { BellFacade } from './bell-facade'\n\nexport class Night {\n  constructor(readonly name: string, private readonly bellFacade: BellFacade = new BellFacade()) {}\n\n  end(who: Keeper): string {\n    this.bellFacade.quietBell(who)\n    return this.name\n  }\n}\n"
    })
  })

  test.each<[string, (code: string) => string]>([
    ['they call something else', code => code.replace('paper.store()', 'paper.add(craft)')],
    ['they set what stands outside', code => code.replace('paper.store()', 'craft = paper.store()')],
    ['they leave the method', code => code.replace('paper.store()', 'if (toll < 0) return')],
    ['they stand in a static method', code => code.replace('  sell(', '  static sell(').replaceAll('this.slips)', "'x')")]
  ])('is not offered where %s', (_, edit) => {
    expect(offered({ ...FILES, 'window.ts': edit(WINDOW) }).filter(one => one.includes('store'))).toEqual([])
    expect(offered({ ...FILES, 'window.ts': edit(WINDOW) }).every(one => !one.includes('Window'))).toBe(true)
  })

  test('what runs, how often and in which order stays, over random statements', () => {
    const draw = seededRandom(20261129), upTo = (count: number) => Math.floor(draw() * count)
    const refusals: string[] = []
    let applied = 0
    for (let round = 0; round < 40; round++) {
      const calls = Array.from({ length: 3 + upTo(3) }, () => upTo(4))
      const argument = () => ['1', 'n', `tick(${upTo(9)})`, 'this.count', 'this.next()', 'this.a.size()', 'n + this.b.size()', '`${n}`.length', 'n > 2 ? tick(n) : this.count'][upTo(9)]!
      const body = () => ['const c = new C(' + argument() + ')', ...calls.map(call => [`this.a.a(${argument()})`, `this.b.b(${argument()}, ${argument()})`, `c.c(${argument()})`, `if (c.c(${argument()}) > 3) this.a.a(${argument()})`][call]!)].map(line => `    ${line}\n`).join('')
      const client = (name: string) => `import { A } from './a'\nimport { B } from './b'\nimport { C } from './c'\nimport { log, tick } from './log'\n\nexport class ${name} {\n  private count = 1\n  constructor(private readonly a: A, private readonly b: B) {}\n  next(): number { this.count += 1; log.push('next' + this.count); return tick(this.count) }\n  run(n: number): void {\n${body()}  }\n}\n`
      const files: Files = {
        'log.ts': 'export const log: string[] = []\nexport function tick(n: number): number { log.push(`tick${n}`); return n }\n',
        'a.ts': "import { log } from './log'\nexport class A { private sum = 0\n  a(n: number): void { log.push(`a${n}`); this.sum += n }\n  size(): number { return this.sum } }\n",
        'b.ts': "import { log } from './log'\nexport class B { private sum = 0\n  b(n: number, m: number): void { log.push(`b${n} ${m}`); this.sum += n * m }\n  size(): number { return this.sum } }\n",
        'c.ts': `import { log } from './log'\nexport class C { private sum = 0\n  constructor(private readonly at: number) { ${round % 2 === 0 ? 'log.push(`c${at}`)' : ''} }\n  c(n: number): number { this.sum += n; log.push(\`c\${this.at} \${this.sum}\`); return this.sum } }\n`,
        'p.ts': client('P'), 'q.ts': client('Q'),
        'main.ts': "import { A } from './a'\nimport { B } from './b'\nimport { log } from './log'\nimport { P } from './p'\nimport { Q } from './q'\nconst a = new A(), b = new B()\nconst p = new P(a, b), q = new Q(a, b)\np.run(2)\nq.run(5)\np.run(1)\nexport const told = log.join(' ')\n"
      }
      const outcome = readProject(files).writer.introduceFacade({ type: 'a.ts#A', sequence: 'p.ts#P.run', name: null, method: null, face: round % 2 === 0 ? 'call' : 'steps', withDefault: false })
      if (outcome.refused) { refusals.push(outcome.message); continue }
      applied++
      expect({ round, log: toldBy({ ...files, ...Object.fromEntries(outcome.changes.map(change => [change.path, change.after!])) }) }).toEqual({ round, log: toldBy(files) })
    }
    expect({ refusals, isEnough: applied >= 30 }).toEqual({ refusals, isEnough: true })
  })
})
