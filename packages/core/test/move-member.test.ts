import { offersOf } from '@hollowmoor/core/remedy/catalogue'
import { apply, applyJava } from './applying.js'
import type { Files as JavaFiles } from './java.js'
import { readJava } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

const BARGE = "import type { Size } from './size'\n\nexport class Barge {\n  constructor(readonly name: string, readonly size: Size) {}\n\n  load(): number { return this.size.length * 2 }\n}\n"
const CLERK = `import type { Barge } from './barge'
import { rateOf } from './rates'
import type { Size } from './size'

export class Clerk {
  private readonly waived = new Set<string>()
  private count = 0

  /** What a passage costs. */
  async priceOf(locks: number, barge: Barge, each = 2): Promise<number> {
    if (this.waived.has(barge.name)) return 0
    const size: Size = barge.size
    const parts = [1, 2].map(part => part * barge.load())
    return rateOf({ barge, size }) * locks * each + parts.length
  }

  waive(name: string): void { this.waived.add(name); this.count++ }
}
`
const FILES: Files = {
  'size.ts': 'export interface Size { readonly length: number }\n', 'barge.ts': BARGE, 'clerk.ts': CLERK,
  'rates.ts': "import type { Size } from './size'\nexport function rateOf(of: { readonly barge: { readonly name: string }; readonly size: Size }): number { return of.size.length }\n"
}
const ID = 'move-member:clerk.ts#Clerk:priceOf'

describe('moving a method in TypeScript', () => {
  test('its object becomes this, fields that it reads are handed along, and what it names is imported', () => {
    expect(apply(FILES, ID)).toEqual({
      'barge.ts': `import type { Size } from './size'
import { rateOf } from './rates'

export class Barge {
  constructor(readonly name: string, readonly size: Size) {}

  load(): number { return this.size.length * 2 }

  async priceOf(waived: Set<string>, locks: number, each = 2): Promise<number> {
    if (waived.has(this.name)) return 0
    const size: Size = this.size
    const parts = [1, 2].map(part => part * this.load())
    return rateOf({ barge: this, size }) * locks * each + parts.length
  }
}
`,
      'clerk.ts': CLERK.replace(/    if \(this[^]*?\n  \}\n/, '    return barge.priceOf(this.waived, locks, each)\n  }\n').replace('async ', '').replace("import { rateOf } from './rates'\nimport type { Size } from './size'\n", '')
    })
  })

  const with_ = (from: string | RegExp, to: string, more: Files = {}): Files => ({ ...FILES, ...more, 'clerk.ts': CLERK.replace(from, to) })
  test.each<[string, string, Files]>([
    ['a field that may be set meanwhile', 'between', with_('return rateOf', 'if (this.count > 1) return 1; return rateOf')],
    ['a method of its own class', 'between', with_('return rateOf', "this.waive('a'); return rateOf")],
    ['the object itself handed on', 'between', with_('return rateOf', 'console.log(this); return rateOf')],
    ['an argument that is set', 'assigned', with_('return rateOf', 'barge = new (class extends Object {} as never)(); return rateOf')],
    ['a function with a this of its own', 'between', with_('return rateOf', 'void function (): number { return barge.load() }; return rateOf')],
    ['two objects of the class', 'target', with_('each = 2', 'each: Barge')],
    ['a name that the class has', 'name-taken', { ...FILES, 'barge.ts': BARGE.replace('load(): number', 'priceOf(): void {}\n  load(): number') }],
    ['a name that its file does not export', 'not-visible', with_('return rateOf', 'return FEE + rateOf')],
    ['files that would load each other', 'file-cycle', { ...FILES, 'rates.ts': "import { Barge } from './barge'\nexport function rateOf(of: object): number { return of instanceof Barge ? 1 : 2 }\n" }],
    ['what is only said to be of the class', 'cast', { ...FILES, 'test/a.test.ts': "import type { Barge } from '../barge'\nexport const fake = { name: 'a' } as unknown as Barge\n" }],
    ['a subclass that has one', 'overridden', { ...FILES, 'tug.ts': "import { Barge } from './barge'\nexport class Tug extends Barge { priceOf(): string { return '' } }\n" }]
  ])('refuses %s', (_, reason, files) => {
    const given = reason === 'not-visible' ? { ...files, 'clerk.ts': files['clerk.ts']!.replace('export class Clerk', 'const FEE = 3\n\nexport class Clerk') } : files
    expect(apply(given, ID, { to: 'barge.ts#Barge' })).toMatchObject({ reason })
  })

  test('a function of a file becomes a method, and stays for its callers', () => {
    const dues = `import type { Barge } from './barge'
import { rateOf } from './rates'

const unused = 1

/** What a passage costs. */
export async function dueOf<Factor extends number>(barge: Barge, factor: Factor): Promise<number> {
  const { size } = barge
  const note = \`
  \${barge.name}\`
  if (note === '') return 0
  return barge.load() * factor + rateOf({ barge, size }) + note.length
}

export function isHeavy(barge: Barge): barge is Barge & { heavy: true } { return barge.load() > 10 && barge.name !== '' }
`
    const files = { ...FILES, 'dues.ts': dues }
    expect(apply(files, 'move-member:dues.ts#:dueOf')).toEqual({
      'barge.ts': BARGE.replace("from './size'\n", "from './size'\nimport { rateOf } from './rates'\n").replace(/\}\n$/, `
  async dueOf<Factor extends number>(factor: Factor): Promise<number> {
    const { size } = this
    const note = \`
  \${this.name}\`
    if (note === '') return 0
    return this.load() * factor + rateOf({ barge: this, size }) + note.length
  }
}
`),
      'dues.ts': dues.replace("import { rateOf } from './rates'\n", '').replace('async ', '').replace(/  const \{ size[^]*?(?=\n\}\n)/, '  return barge.dueOf(factor)')
    })
    expect(apply(files, 'move-member:dues.ts#:isHeavy')).toMatchObject({ 'barge.ts': expect.stringContaining("  isHeavy(): this is Barge & { heavy: true } { return this.load() > 10 && this.name !== '' }\n") as string })
  })

  test('what is not understood where it stands may stay so where it stands then', () => {
    const files = { ...FILES, 'dues.ts': "import type { Barge } from './barge'\nexport function dueOf(barge: Barge, more: any): number { return barge.load() + barge.name.length + more.first + more.second.third }\n" }
    expect(apply(files, 'move-member:dues.ts#:dueOf')).toMatchObject({ 'barge.ts': expect.stringContaining('dueOf(more: any): number { return this.load() + this.name.length + more.first + more.second.third }') as string })
  })

  test('a static method becomes one of the object that it is handed', () => {
    const desk = "import { Barge } from './barge'\n\nexport class Desk {\n  static readonly FEE = 2\n\n  static due(barge: Barge): number { return barge.load() * Desk.FEE + barge.name.length }\n}\n"
    expect(apply({ ...FILES, 'desk.ts': desk }, 'move-member:desk.ts#Desk:due')).toMatchObject({ 'desk.ts': desk.replace('{ return barge.load() * Desk.FEE + barge.name.length }', '{\n    return barge.due()\n  }') })
  })

  test.each<[string, string, string]>([
    ['a function that calls itself', 'between', 'export function dueOf(barge: Barge): number { return barge.load() > 1 ? barge.name.length : dueOf(barge) }'],
    ['what only its class may use', 'between', 'export class Desk {\n  private static fee = 1\n  static dueOf(barge: Barge): number { return barge.load() + barge.name.length + Desk.fee }\n}'],
    ['a function with several forms', 'member', 'export function dueOf(barge: Barge): number\nexport function dueOf(barge: Barge, by: number): number\nexport function dueOf(barge: Barge, by = 1): number { return barge.load() + barge.name.length * by }']
  ])('refuses %s', (_, reason, text) => {
    const files = { ...FILES, 'dues.ts': `import type { Barge } from './barge'\n${text}\n` }
    expect(apply(files, `move-member:dues.ts#${text.includes('class') ? 'Desk' : ''}:dueOf`, { to: 'barge.ts#Barge' })).toMatchObject({ reason })
  })

  test('where null may be handed, it moves only if it looks into its object in any case', () => {
    const loose = (body: string): Files => ({ ...FILES, 'tsconfig.json': '{ "compilerOptions": { "strict": false, "target": "es2022", "module": "esnext", "moduleResolution": "bundler" } }', 'dues.ts': `import type { Barge } from './barge'\nexport function dueOf(barge: Barge, by: number): number {\n  ${body}\n}\n` })
    const ID = 'move-member:dues.ts#:dueOf'
    for (const body of ['return barge ? barge.load() + barge.name.length : 0', 'if (by > 1) return barge.load() + barge.name.length\n  return 0', 'return by > 1 ? barge.load() + barge.name.length : 0', 'if (by > 1) return 0\n  return barge.load() + barge.name.length']) expect(apply(loose(body), ID, { to: 'barge.ts#Barge' })).toMatchObject({ reason: 'may-be-missing' })
    for (const body of ['const twice = by * 2\n  return barge.load() + barge.name.length + twice', 'for (const one of barge.name) if (one === by.toString()) return barge.load()\n  return 0']) expect(apply(loose(body), ID, { to: 'barge.ts#Barge' })).not.toHaveProperty('reason')
  })

  test('it is offered where a method uses more of another class, and would not tie modules in a circle', () => {
    const offered = (files: Files) => { const { survey, writer } = readProject(files); return offersOf(survey, writer).filter(one => one.remedy === 'move-member').map(one => one.title) }
    expect(offered(FILES)).toEqual(['Move Clerk.priceOf to Barge'])
    const apart = { 'hull/size.ts': FILES['size.ts']!, 'hull/barge.ts': BARGE, 'rates/rates.ts': "import type { Barge } from '../hull/barge'\nexport interface Rates { of(barge: Barge): number }\n", 'desk/clerk.ts': "import type { Barge } from '../hull/barge'\nimport type { Rates } from '../rates/rates'\nexport class Clerk { price(barge: Barge, rates: Rates): number { return rates.of(barge) + barge.load() + barge.name.length } }\n" }
    expect(offered(apart)).toEqual([])
    expect(offered({ ...apart, 'rates/rates.ts': 'export interface Rates { of(barge: object): number }\n' })).toEqual(['Move Clerk.price to Barge'])
  })
})

const JAVA: JavaFiles = {
  'hull/Barge.java': 'package hull;\n\npublic class Barge {\n    private final String name;\n\n    public Barge(String name) {\n        this.name = name;\n    }\n\n    public String name() {\n        return name;\n    }\n\n    public int load() {\n        return 2;\n    }\n}\n',
  'desk/Rates.java': 'package desk;\n\npublic class Rates {\n    public static final int FEE = 3;\n\n    public static int of(Object one) {\n        return 1;\n    }\n}\n',
  'desk/Clerk.java': 'package desk;\n\nimport java.io.IOException;\nimport java.util.HashSet;\nimport java.util.List;\nimport java.util.Set;\nimport hull.Barge;\n\npublic class Clerk {\n    private final Set<String> waived = new HashSet<>();\n    private int count;\n\n    static int least() { return 1; }\n\n    /** What a passage costs. */\n    @Deprecated\n    public int priceOf(int locks, Barge barge) throws IOException {\n        if (this.waived.contains(barge.name())) return 0;\n        List<Integer> parts = List.of(barge.load());\n        Runnable later = () -> Rates.of(barge);\n        later.run();\n        return Rates.FEE * locks + parts.size();\n    }\n}\n'
}
const JAVA_ID = 'move-member:desk.Clerk:priceOf'

describe('moving a method in Java', () => {
  test('its object becomes this, fields that it reads are handed along, and what it names is imported', () => {
    const made = applyJava(JAVA, JAVA_ID) as Record<string, string>
    expect(made['hull/Barge.java']).toBe(JAVA['hull/Barge.java']!.replace('package hull;\n', 'package hull;\n\nimport desk.Rates;\nimport java.io.IOException;\nimport java.util.List;\nimport java.util.Set;\n').replace(/\n\}\n$/, '\n\n    public int priceOf(Set<String> waived, int locks) throws IOException {\n        if (waived.contains(this.name())) return 0;\n        List<Integer> parts = List.of(this.load());\n        Runnable later = () -> Rates.of(this);\n        later.run();\n        return Rates.FEE * locks + parts.size();\n    }\n}\n'))
    expect(made['desk/Clerk.java']).toContain('    /** What a passage costs. */\n    @Deprecated\n    public int priceOf(int locks, Barge barge) throws IOException {\n        return barge.priceOf(waived, locks);\n    }\n')
  })

  test('statics of its own class are called by the name of the class', () => {
    const near = { 'a/Barge.java': JAVA['hull/Barge.java']!.replace('package hull', 'package a'), 'a/Clerk.java': 'package a;\n\nclass Clerk {\n    static int least() { return 1; }\n\n    int priceOf(Barge barge) {\n        return least() + barge.load() + barge.name().length();\n    }\n}\n' }
    expect(applyJava(near, 'move-member:a.Clerk:priceOf')).toMatchObject({ 'a/Barge.java': expect.stringContaining('    int priceOf() {\n        return Clerk.least() + this.load() + this.name().length();\n    }\n') as string })
  })

  test('constants of its own class are named with it after case too, those of an enum are not', () => {
    const near: JavaFiles = {
      'a/Kind.java': 'package a;\n\nenum Kind { WIDE, SLIM }\n', 'a/Barge.java': 'package a;\n\nclass Barge {\n    int size;\n    Kind kind;\n}\n',
      'a/Clerk.java': 'package a;\n\nclass Clerk {\n    static final int SMALL = 1;\n\n    int priceOf(Barge barge) {\n        switch (barge.size) { case SMALL: return 1; default: }\n        switch (barge.kind) { case WIDE: return 3; default: return 4; }\n    }\n}\n'
    }
    expect(applyJava(near, 'move-member:a.Clerk:priceOf')).toMatchObject({ 'a/Barge.java': expect.stringContaining('switch (this.size) { case Clerk.SMALL: return 1; default: }\n        switch (this.kind) { case WIDE: return 3; default: return 4; }') as string })
  })

  test('a static method becomes one of the object that it is handed', () => {
    const near: JavaFiles = { 'a/Barge.java': JAVA['hull/Barge.java']!.replace('package hull', 'package a'), 'a/Desk.java': 'package a;\n\nfinal class Desk {\n    static int due(int by, Barge barge) {\n        return barge.load() * by > 9 ? due(by - 1, barge) : barge.name().length();\n    }\n}\n' }
    const made = applyJava(near, 'move-member:a.Desk:due') as Record<string, string>
    expect(made['a/Barge.java']).toContain('\n\n    int due(int by) {\n        return this.load() * by > 9 ? Desk.due(by - 1, this) : this.name().length();\n    }\n}\n')
    expect(made['a/Desk.java']).toContain('    static int due(int by, Barge barge) {\n        return barge.due(by);\n    }\n')
  })

  test('null may be handed as any object: it moves only if it looks into it in any case', () => {
    const near = (body: string): JavaFiles => ({ 'a/Barge.java': JAVA['hull/Barge.java']!.replace('package hull', 'package a'), 'a/Clerk.java': `package a;\n\nclass Clerk {\n    int priceOf(Barge barge, int by) {\n        ${body}\n    }\n}\n` })
    for (const body of ['return barge == null ? 0 : barge.load() + barge.name().length();', 'if (by > 1) return barge.load() + barge.name().length();\n        return 0;', 'if (by > 1) return 0;\n        return barge.load() + barge.name().length();', 'Runnable later = () -> { barge.load(); barge.name(); };\n        later.run();\n        return 1;', 'try { return barge.load() + barge.name().length(); } catch (NullPointerException gone) { return 0; }', 'return by > 1 && barge.load() > barge.name().length() ? 1 : 0;']) expect([body, applyJava(near(body), 'move-member:a.Clerk:priceOf', { to: 'a.Barge' })]).toMatchObject([body, { reason: 'may-be-missing' }])
    for (const body of ['int twice = by * 2;\n        return barge.load() + barge.name().length() + twice;', 'if (barge.load() > by) return 1;\n        return barge.name().length();', 'for (char one : barge.name().toCharArray()) if (one == by) return barge.load();\n        return 0;']) expect([body, applyJava(near(body), 'move-member:a.Clerk:priceOf', { to: 'a.Barge' })]).not.toMatchObject([body, { reason: expect.anything() as string }])
  })

  const with_ = (from: string, to: string, more: JavaFiles = {}): JavaFiles => ({ ...JAVA, ...more, 'desk/Clerk.java': JAVA['desk/Clerk.java']!.replace(from, to) })
  test.each<[string, string, JavaFiles]>([
    ['a field that may be set meanwhile', 'between', with_('        return Rates.FEE', '        count++;\n        return Rates.FEE')],
    ['the object itself', 'between', with_('Rates.of(barge)', 'Rates.of(this)')],
    ['an argument that is set', 'assigned', with_('        later.run', '        barge = null;\n        later.run')],
    ['a class inside the method', 'between', with_('() -> Rates.of(barge)', 'new Runnable() { public void run() { barge.load(); } }')],
    ['an overloaded method', 'member', with_('    static int least', '    int priceOf() { return 1; }\n    static int least')],
    ['annotations that something else may read', 'framework', with_('@Deprecated', '@Scheduled')],
    ['a name that the class has', 'name-taken', { ...JAVA, 'hull/Barge.java': JAVA['hull/Barge.java']!.replace('int load()', 'int priceOf(int a) { return a; }\n\n    public int load()') }],
    ['what is private to its class', 'between', { ...JAVA, 'desk/Clerk.java': JAVA['desk/Clerk.java']!.replace('static int least', 'private static int least').replace('return Rates.FEE', 'return least() + Rates.FEE') }],
    ['what is private to its class and named by that', 'between', { ...JAVA, 'desk/Clerk.java': JAVA['desk/Clerk.java']!.replace('static int least', 'private static int least').replace('return Rates.FEE', 'return Clerk.least() + Rates.FEE') }],
    ['what the other package cannot see', 'not-visible', { ...JAVA, 'desk/Rates.java': JAVA['desk/Rates.java']!.replace('public class', 'class') }],
    ['objects that a library makes up', 'mocked', { ...JAVA, 'hull/BargeTest.java': 'package hull;\n\nclass BargeTest { void a() { Object one = mock(Barge.class); } Object mock(Class<?> of) { return null; } }\n' }],
    ['a subclass that has one', 'overridden', { ...JAVA, 'hull/Tug.java': 'package hull;\n\npublic class Tug extends Barge {\n    Tug() { super(""); }\n    int priceOf(String a) { return 1; }\n}\n' }]
  ])('refuses %s', (_, reason, files) => { expect(applyJava(files, JAVA_ID, { to: 'hull.Barge' })).toMatchObject({ reason }) })

  test('it is offered where a method uses more of another class', () => {
    const { survey, language, state } = readJava(JAVA)
    expect(offersOf(survey, language.writer(state)).filter(one => one.remedy === 'move-member')).toEqual([])
    const near: JavaFiles = { 'hull/Barge.java': JAVA['hull/Barge.java']!, 'desk/Clerk.java': 'package desk;\n\nimport hull.Barge;\n\nclass Clerk {\n    int priceOf(Barge barge) { return barge.load() + barge.name().length(); }\n}\n' }
    const now = readJava(near)
    expect(offersOf(now.survey, now.language.writer(now.state)).filter(one => one.remedy === 'move-member').map(one => one.title)).toEqual(['Move Clerk.priceOf to Barge'])
  })
})
