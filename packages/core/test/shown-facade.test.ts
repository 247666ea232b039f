import { seededRandom } from '@hollowmoor/core/graph/random'
import { choicesOf, offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import type { Applied } from './applying.js'
import { apply, applyJava } from './applying.js'
import { readJava } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'
import { toldBy } from './running.js'

const BOOKS = 'export class Book {\n  private sum = 0\n  credit(amount: number): void { this.sum += amount }\n  total(): number { return this.sum }\n}\n'
const LAMP = 'export class Lamp {\n  private on = false\n  light(): void { this.on = true }\n  isLit(): boolean { return this.on }\n}\n'
const LOCK = `import { Book } from './book'
import { Lamp } from './lamp'

export class Lock {
  private passed = 0
  constructor(private readonly book: Book, private readonly lamp: Lamp, readonly name: string) {}

  pass(toll: number): number {
    this.passed += 1
    this.lamp.light()
    const due = toll * 2
    this.book.credit(due)
    this.book.credit(1)
    return due + this.passed
  }

  close(): string {
    this.shut()
    return this.name
  }

  private shut(): void {
    this.passed = 0
  }
}
`
const FILES: Files = { 'book.ts': BOOKS, 'lamp.ts': LAMP, 'lock.ts': LOCK, 'main.ts': "import { Book } from './book'\nimport { Lamp } from './lamp'\nimport { Lock } from './lock'\n\nexport const lock = new Lock(new Book(), new Lamp(), 'Upper')\n" }
const ID = 'introduce-facade:lock.ts#Lock:shown'

const JAVA_LOCK = `package locks;

public class Lock {
    private final Book book;
    private final Lamp lamp;
    private final String name;
    private int passed = 0;

    public Lock(Book book, Lamp lamp, String name) {
        this.book = book;
        this.lamp = lamp;
        this.name = name;
    }

    public int pass(int toll) {
        passed++;
        lamp.light();
        int due = toll * 2;
        book.credit(due);
        book.credit(1);
        return due + passed;
    }

    public String close() {
        shut();
        return name;
    }

    private void shut() {
        passed = 0;
    }
}
`
const JAVA: Files = {
  'locks/Book.java': 'package locks;\n\npublic class Book {\n    private int sum = 0;\n    public void credit(int amount) { sum += Math.abs(amount); }\n    public int total() { return sum; }\n}\n',
  'locks/Lamp.java': 'package locks;\n\npublic class Lamp {\n    private boolean on = false;\n    public void light() { on = true; System.out.flush(); }\n    public boolean isLit() { return on; }\n}\n',
  'locks/Lock.java': JAVA_LOCK, 'locks/Office.java': 'package locks;\n\nclass Office {\n    final Lock lock = new Lock(new Book(), new Lamp(), "Upper");\n}\n'
}
const JAVA_ID = 'introduce-facade:locks.Lock:shown'
const textOf = (applied: Applied, path: string) => (applied as Record<string, string>)[path]

describe('a facade for statements that are shown', () => {
  test('is offered of a class with statements over several others, at first for those over most', () => {
    const { survey, writer } = readProject(FILES)
    expect(offersOf(survey, writer).filter(one => one.remedy === 'introduce-facade').map(one => [one.id, one.title])).toEqual([[ID, 'Put a facade before statements of Lock that you show']])
    const [lines, others, name] = choicesOf(ID, survey, writer)!
    expect(lines).toMatchObject({ name: 'lines', kind: 'lines', value: '10-13' })
    expect(lines!.options.slice(0, 2)).toEqual([{ value: '4', label: 'export class Lock {' }, { value: '5', label: '  private passed = 0' }])
    expect(lines!.options.at(-1)).toEqual({ value: '25', label: '}' })
    expect(others).toMatchObject({ name: 'others', value: 'yes' })
    expect(name).toMatchObject({ name: 'name', value: '' })
  })

  test('takes what its class is handed for them alone', () => {
    expect(apply(FILES, ID)).toEqual({
      'book-facade.ts': "import { Book } from './book'\nimport { Lamp } from './lamp'\n\n/** What Lock does with them, behind one call. */\nexport class BookFacade {\n  constructor(private readonly book: Book, private readonly lamp: Lamp) {}\n\n  creditBook(toll: number): number {\n    this.lamp.light()\n    const due = toll * 2\n    this.book.credit(due)\n    this.book.credit(1)\n    return due\n  }\n}\n",
      'lock.ts': LOCK.replace("import { Book } from './book'\nimport { Lamp } from './lamp'\n", "import { BookFacade } from './book-facade'\n").replace('private readonly book: Book, private readonly lamp: Lamp, ', 'private readonly bookFacade: BookFacade, ')
        .replace('    this.lamp.light()\n    const due = toll * 2\n    this.book.credit(due)\n    this.book.credit(1)\n', '    const due = this.bookFacade.creditBook(toll)\n'),
      'main.ts': FILES['main.ts']!.replace("import { Lock } from './lock'", "import { Lock } from './lock'\nimport { BookFacade } from './book-facade'").replace('new Book(), new Lamp(), ', 'new BookFacade(new Book(), new Lamp()), ')
    })
  })

  test('stands for other lines where others are shown, and for what another class has alike', () => {
    const gate = "import { Book } from './book'\n\nexport class Gate {\n  constructor(private readonly ledger: Book) {}\n\n  shut(n: number): void {\n    this.ledger.credit(n)\n    this.ledger.credit(7)\n  }\n}\n"
    const applied = apply({ ...FILES, 'gate.ts': gate }, ID, { lines: '12-13', name: 'Purse', method: 'take' })
    expect(textOf(applied, 'purse.ts')).toContain('  take(due: number, amount: number): void {\n    this.book.credit(due)\n    this.book.credit(amount)\n  }\n')
    expect(textOf(applied, 'lock.ts')).toContain('    const due = toll * 2\n    this.purse.take(due, 1)\n    return due + this.passed\n')
    expect(textOf(applied, 'lock.ts')).toContain('constructor(private readonly purse: Purse, private readonly lamp: Lamp, readonly name: string)')
    expect(Object.keys(apply({ ...FILES, 'gate.ts': gate }, ID, { lines: '12-13', others: 'no' })).sort()).toEqual(['book-facade.ts', 'lock.ts', 'main.ts'])
    expect(textOf(applied, 'gate.ts')).toContain('  constructor(private readonly purse: Purse) {}\n\n  shut(n: number): void {\n    this.purse.take(n, 7)\n  }\n')
  })

  test('has no method of the name of what it keeps', () => {
    const files = { ...FILES, 'book.ts': BOOKS.replace('credit(', 'book('), 'lock.ts': LOCK.replaceAll('.credit(', '.book(') }
    expect(textOf(apply(files, ID), 'book-facade.ts')).toContain('  useBook(toll: number): number {\n')
    expect(apply(files, ID, { method: 'book' })).toMatchObject({ reason: 'name-taken' })
  })

  test('leaves open what its statements leave open, and is refused where it would have to keep that', () => {
    const generic = LOCK.replace('pass(toll: number)', 'pass<Craft extends { toll: number }>(crafts: Craft[])').replace('const due = toll * 2', 'const due = crafts.reduce((sum, one) => sum + one.toll, 0)')
    const applied = apply({ ...FILES, 'lock.ts': generic }, ID)
    expect(textOf(applied, 'book-facade.ts')).toContain('  creditBook<Craft extends { toll: number }>(crafts: Craft[]): number {\n')
    expect(textOf(applied, 'lock.ts')).toContain('    const due = this.bookFacade.creditBook<Craft>(crafts)\n')
    expect(apply({ ...FILES, 'lock.ts': generic }, ID, { face: 'steps' })).toMatchObject({ reason: 'generic' })
    const kept = { 'book.ts': BOOKS.replace('class Book', 'class Book<Of = number>').replace('amount: number): void', 'amount: number, of?: Of): void').replace('this.sum += amount', 'this.sum += of ? amount : 1'), 'lock.ts': LOCK.replace('class Lock', 'class Lock<Of>').replace('book: Book', 'book: Book<Of>') }
    expect(apply({ ...FILES, ...kept }, ID)).toMatchObject({ reason: 'generic' })
  })

  test('takes an object apart as what it is, and says the type arguments of what its class extends', () => {
    const files: Files = {
      ...FILES, 'base.ts': "export interface Place { readonly book: { credit(n: number): void }; readonly lamp?: { light(): void }; readonly name: string }\nexport class Base<Wish extends object = { at: number }> {\n  constructor(protected readonly place: Place, readonly wish: Wish, readonly all: Map<string, Wish[]> = new Map()) {}\n}\n",
      'gate.ts': "import { Base } from './base'\nimport { Book } from './book'\nimport { Lamp } from './lamp'\n\nexport class Gate extends Base {\n  shut(book: Book, lamp: Lamp, n: number): number {\n    const { name } = this.place\n    lamp.light()\n    book.credit(n)\n    book.credit(name.length)\n    return n\n  }\n}\n"
    }
    const applied = apply(files, 'introduce-facade:gate.ts#Gate:shown', { lines: '7-10' })
    expect(textOf(applied, 'book-facade.ts')).toContain('  creditBook(place: Place, lamp: Lamp, book: Book, n: number): void {\n    const { name } = place\n')
    expect(textOf(applied, 'gate.ts')).toContain('constructor(place: Place, wish: { at: number; }, all?: Map<string, ({ at: number; })[]>, private readonly bookFacade: BookFacade = new BookFacade()) {\n    super(place, wish, all)\n')
  })

  test('is found again where its statements have moved to other lines, and refused where they have changed', () => {
    const plan = (files: Files, choices: Record<string, string>) => { const { survey, writer } = readProject(files); return planStep(ID, choices, survey, writer) }
    const first = plan(FILES, { lines: '12-13' })
    if (first.refused) throw new Error(first.message)
    expect(first.choices).toMatchObject({ lines: '12-13', holds: 'this.book.credit(due) this.book.credit(1)' })
    const later = plan({ ...FILES, 'lock.ts': LOCK.replace('  pass(', '  /** One more. */\n  open(): void { this.lamp.light() }\n\n  pass(') }, first.choices)
    expect(later.refused ? later.message : later.changes.find(one => one.path === 'lock.ts')!.after).toContain('    const due = toll * 2\n    this.bookFacade.creditBook(due)\n    return due + this.passed\n')
    expect(plan({ ...FILES, 'lock.ts': LOCK.replace('credit(1)', 'credit(3)') }, first.choices)).toMatchObject({ refused: true, reason: 'lines', message: expect.stringContaining('lock.ts:12-13') })
  })

  test.each<[string, string, Files, string, string]>([
    ['no lines', 'all', {}, 'lines', 'all are no lines'],
    ['lines the wrong way round', '13-10', {}, 'lines', '13-10 are no lines'],
    ['lines without a statement', '4-6', {}, 'lines', 'lock.ts:4-6 holds no whole statement of a method'],
    ['a part of a statement', '14-14', { 'lock.ts': LOCK.replace('return due + this.passed', 'return due +\n      this.passed') }, 'lines', 'no whole statement'],
    ['one statement', '10-10', {}, 'lines', 'one statement alone'],
    ['statements of two methods', '12-18', {}, 'lines', 'lock.ts:12-18 holds statements of several methods'],
    ['statements that set a field', '9-13', {}, 'lines', 'the statement in lock.ts:9 leaves the method, sets something outside'],
    ['statements that leave the method', '12-14', {}, 'lines', 'the statement in lock.ts:14'],
    ['a method that only the class can call', '18-19', { 'lock.ts': LOCK.replace('    this.shut()\n', '    this.book.credit(1)\n    this.shut()\n') }, 'lines', 'the statement in lock.ts:19'],
    ['statements that call nothing of the project', '10-11', { 'lock.ts': LOCK.replace('    this.lamp.light()\n', '    console.log(toll)\n') }, 'lines', "calls nothing of the project's"],
    ['two variables that are used behind them', '10-13', { 'lock.ts': LOCK.replace('this.book.credit(1)', 'const more = this.book.total()').replace('due + this.passed', 'due + more') }, 'result', 'more than one variable'],
    ['a class that is made by its decorators', '10-13', { 'lock.ts': LOCK.replace('export class Lock', '@kept\nexport class Lock').replace(/$/, '\nfunction kept(target: unknown): void { void target }\n') }, 'constructors', 'decorators']
  ])('refuses %s', (_, lines, more, reason, message) => {
    const { survey, writer } = readProject({ ...FILES, ...more })
    const at = more['lock.ts']?.includes('@kept') ? lines.replace(/\d+/g, line => String(Number(line) + 1)) : lines
    expect(planStep(ID, { lines: at }, survey, writer)).toMatchObject({ refused: true, reason, message: expect.stringContaining(message) })
  })

  test('in Java takes what its class is handed for them alone', () => {
    const { survey, language, state } = readJava(JAVA)
    expect(offersOf(survey, language.writer(state)).filter(one => one.remedy === 'introduce-facade').map(one => one.id)).toEqual([JAVA_ID])
    const applied = applyJava(JAVA, JAVA_ID)
    expect(textOf(applied, 'locks/BookFacade.java')).toContain('    public int creditBook(int toll) {\n        lamp.light();\n        int due = toll * 2;\n        book.credit(due);\n        book.credit(1);\n        return due;\n    }\n')
    expect(textOf(applied, 'locks/Lock.java')).toContain('        passed++;\n        int due = bookFacade.creditBook(toll);\n        return due + passed;\n')
    expect(textOf(applied, 'locks/Lock.java')).not.toMatch(/\bBook\b|\bLamp\b/)
    expect(textOf(applied, 'locks/Office.java')).toContain('new Lock(new BookFacade(new Book(), new Lamp()), "Upper")')
  })

  test('in Java is found again where its statements have moved to other lines', () => {
    const plan = (files: Files, choices: Record<string, string>) => { const { survey, language, state } = readJava(files); return planStep(JAVA_ID, choices, survey, language.writer(state)) }
    const first = plan(JAVA, { lines: '19-20' })
    if (first.refused) throw new Error(first.message)
    const later = plan({ ...JAVA, 'locks/Lock.java': JAVA_LOCK.replace('package locks;\n', 'package locks;\n\n/** Up and down. */') }, first.choices)
    expect(later.refused ? later.message : later.changes.find(one => one.path === 'locks/Lock.java')!.after).toContain('        int due = toll * 2;\n        bookFacade.creditBook(due);\n        return due + passed;\n')
    expect(plan({ ...JAVA, 'locks/Lock.java': JAVA_LOCK.replace('credit(1)', 'credit(3)') }, first.choices)).toMatchObject({ reason: 'lines' })
  })

  test.each<[string, string, (code: string) => string, string]>([
    ['lines without a statement', '4-8', code => code, 'lines'], ['one statement', '17-17', code => code, 'lines'], ['statements of two methods', '19-25', code => code, 'lines'], ['statements that set a field', '16-20', code => code, 'lines'],
    ['statements that leave the method', '19-21', code => code, 'lines'], ['a call of nothing of the project', '17-18', code => code.replace('lamp.light();', 'System.gc();'), 'lines'],
    ['two variables that are used behind them', '17-20', code => code.replace('book.credit(1);', 'int more = book.total();').replace('due + passed', 'due + more'), 'result'],
    ['a class of several constructors', '17-20', code => code.replace(/\n}\n$/, '\n\n    Lock() { this(new Book(), new Lamp(), ""); }\n}\n'), 'constructors']
  ])('in Java refuses %s', (_, lines, edit, reason) => {
    const { survey, language, state } = readJava({ ...JAVA, 'locks/Lock.java': edit(JAVA_LOCK) })
    expect(planStep(JAVA_ID, { lines }, survey, language.writer(state))).toMatchObject({ refused: true, reason })
  })

  test('what runs, how often and in which order stays, over random lines of random methods', () => {
    const draw = seededRandom(20261130), upTo = (count: number) => Math.floor(draw() * count)
    let applied = 0, refused = 0
    for (let round = 0; round < 40; round++) {
      const argument = () => ['1', 'n', `tick(${upTo(9)})`, 'this.count', 'this.next()', 'this.a.size()', 'n + this.b.size()', '`${n}`.length', 'k'][upTo(9)]!
      const line = () => [`this.a.a(${argument()})`, `this.b.b(${argument()}, ${argument()})`, `if (n > 1) this.b.b(${argument()}, 1)`, `k = ${argument()}`, `for (const one of [1, n]) this.a.a(one + ${argument()})`, `void [n].forEach(one => this.b.b(one, ${argument()}))`, 'this.count += n', `const v${upTo(1000000)} = this.a.size()`][Math.min(upTo(18), upTo(8))]!
      const body = ['let k = n', ...Array.from({ length: 5 + upTo(4) }, line), 'log.push(`k${k}`)']
      const files: Files = {
        'log.ts': 'export const log: string[] = []\nexport function tick(n: number): number { log.push(`tick${n}`); return n }\n',
        'a.ts': "import { log } from './log'\nexport class A { private sum = 0\n  a(n: number): void { log.push(`a${n}`); this.sum += n }\n  size(): number { return this.sum } }\n",
        'b.ts': "import { log } from './log'\nexport class B { private sum = 0\n  b(n: number, m: number): void { log.push(`b${n} ${m}`); this.sum += n * m }\n  size(): number { return this.sum } }\n",
        'p.ts': `import { A } from './a'\nimport { B } from './b'\nimport { log, tick } from './log'\n\nexport class P {\n  private count = 1\n  constructor(private readonly a: A, private readonly b: B) {}\n  next(): number { this.count += 1; log.push('next' + this.count); return tick(this.count) }\n  run(n: number): void {\n${body.map(one => `    ${one}\n`).join('')}  }\n}\n`,
        'main.ts': "import { A } from './a'\nimport { B } from './b'\nimport { log } from './log'\nimport { P } from './p'\nconst a = new A(), b = new B(), p = new P(a, b)\np.run(2)\np.run(1)\nexport const told = log.join(' ')\n"
      }
      const from = 10 + upTo(body.length - 1), to = from + 1 + upTo(10 + body.length - from - 1)
      const { survey, writer } = readProject(files), outcome = planStep('introduce-facade:p.ts#P:shown', { lines: `${from}-${to}`, face: upTo(4) === 0 ? 'steps' : 'call' }, survey, writer)
      if (outcome.refused) { refused++; expect(['lines', 'result', 'order']).toContain(outcome.reason); continue }
      applied++
      expect({ round, log: toldBy({ ...files, ...Object.fromEntries(outcome.changes.map(change => [change.path, change.after!])) }) }).toEqual({ round, log: toldBy(files) })
    }
    expect({ applied: applied >= 20, refused: refused >= 10 }).toEqual({ applied: true, refused: true })
  })
})
