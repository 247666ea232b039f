import { choicesOf, offersOf } from '@hollowmoor/core/remedy/catalogue'
import { apply, applyJava } from './applying.js'
import type { Files as JavaFiles } from './java.js'
import { readJava } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

const QUAY: Files = {
  'ports.ts': 'export interface Bell { ring(): void }\nexport interface Chart { depth(): number }\n',
  'bells.ts': "import type { Bell } from './ports'\nexport class Gong implements Bell { ring(): void { this.n++; this.n-- } private n = 0 }\nexport class Whistle implements Bell { constructor(readonly tone: number) {} ring(): void { if (this.tone) return } }\n",
  'winch.ts': "import type { Bell, Chart } from './ports'\nexport class Winch { constructor(private readonly bell: Bell, readonly limit: number, private readonly chart: Chart) {} go(): number { this.bell.ring(); return this.limit + this.chart.depth() } }\n",
  'quay.ts': "import type { Bell } from './ports'\nimport { Winch } from './winch'\nexport class Quay {\n  constructor(private readonly winch: Winch, private readonly bell: Bell, readonly limit: number, readonly name = 'a') {}\n  run(): number { this.bell.ring(); return this.winch.go() + this.limit }\n}\n"
}
const ID = 'compose-object-graph:quay.ts#Quay'

describe('composing an object graph in TypeScript', () => {
  test('each object is built once, before those that want it; what is missing is handed in', () => {
    expect(apply(QUAY, ID, { Bell: 'Gong' })).toEqual({
      'compose-quay.ts': "import { Gong } from './bells'\nimport { Quay } from './quay'\nimport { Winch } from './winch'\nimport type { Chart } from './ports'\n\n/** Builds a Quay and all that it needs: each object once, before those that want it. */\nexport function composeQuay(limit: number, chart: Chart, quayLimit: number): Quay {\n  const gong = new Gong()\n  const winch = new Winch(gong, limit, chart)\n  return new Quay(winch, gong, quayLimit)\n}\n"
    })
  })

  test('an implementation is taken by itself where it is the only one, or the only one that is built by now', () => {
    const choice = (files: Files) => { const { survey, writer } = readProject(files); return choicesOf(ID, survey, writer)!.find(one => one.name === 'Bell')! }
    expect(choice(QUAY)).toMatchObject({ value: '', options: [{ label: 'handed in' }, { label: 'Gong' }, { label: 'Whistle' }] })
    expect(choice({ ...QUAY, 'main.ts': "import { Gong } from './bells'\nexport const gong = new Gong()\n" }).value).toBe('bells.ts#Gong')
    const alone = apply({ ...QUAY, 'bells.ts': QUAY['bells.ts']!.split('\n')[0]! + '\n' + QUAY['bells.ts']!.split('\n')[1]! + '\n' }, ID) as Record<string, string>
    expect(alone['compose-quay.ts']).toContain('const gong = new Gong()')
  })

  test('what a choice brings along is handed in too', () => {
    const made = apply(QUAY, ID, { Bell: 'Whistle', name: 'quayOf' }) as Record<string, string>
    expect(made['quay-of.ts']).toContain('export function quayOf(tone: number, limit: number, chart: Chart, quayLimit: number): Quay {\n  const whistle = new Whistle(tone)\n')
  })

  test.each<[string, string, Files, Record<string, string>]>([
    ['a circle, by its names', 'circle', { 'a.ts': "import type { B } from './b'\nexport class A { constructor(readonly b: B) {} go(): number { return this.b.go() + 1 } }\n", 'b.ts': "import type { A } from './a'\nexport class B { constructor(readonly a: A) {} go(): number { return this.a.go() + 1 } }\n", 'quay.ts': "import type { A } from './a'\nexport class Quay { constructor(readonly a: A) {} go(): number { return this.a.go() + 1 } }\n" }, {}],
    ['what implements nothing of the kind', 'choice', QUAY, { Bell: 'Winch' }], ['a name that none can have', 'name', QUAY, { name: 'a b' }], ['a file that is there', 'file-exists', QUAY, { name: 'winch' }]
  ])('refuses %s', (_, reason, files, choices) => { expect(apply(files, ID, choices)).toMatchObject({ reason }) })

  test('the circle is named', () => {
    const files = { 'a.ts': "import type { B } from './b'\nexport class A { constructor(readonly b: B) {} go(): number { return this.b.go() + 1 } }\n", 'b.ts': "import type { A } from './a'\nexport class B { constructor(readonly a: A) {} go(): number { return this.a.go() + 1 } }\n" }
    expect(apply(files, 'compose-object-graph:a.ts#A')).toMatchObject({ message: expect.stringContaining('A needs B needs A') as string })
  })

  test('it is offered where there is something to compose', () => {
    const offered = (files: Files) => { const { survey, writer } = readProject(files); return offersOf(survey, writer).filter(one => one.remedy === 'compose-object-graph').map(one => one.subject) }
    expect(offered({ ...QUAY, 'main.ts': "import { Gong } from './bells'\nexport const gong = new Gong()\n" })).toEqual(['quay.ts#Quay'])
    expect(offered({ 'a.ts': 'export class A { constructor(readonly n: number) {} go(): number { return this.n + 1 } }\n' })).toEqual([])
  })
})

const JAVA: JavaFiles = {
  'a/Bell.java': 'package a;\n\npublic interface Bell { void ring(); }\n',
  'b/Gong.java': 'package b;\n\nimport a.Bell;\nimport java.io.IOException;\n\npublic class Gong implements Bell {\n    public Gong() throws IOException { }\n    public void ring() { }\n}\n',
  'b/Winch.java': 'package b;\n\nimport a.Bell;\nimport java.util.List;\n\npublic class Winch {\n    private final Bell bell;\n    public Winch(Bell bell, List<String> lines) { this.bell = bell; }\n    void go() { bell.ring(); }\n}\n',
  'c/Quay.java': 'package c;\n\nimport a.Bell;\nimport b.Winch;\n\npublic class Quay {\n    private final Winch winch;\n    public Quay(Winch winch, Bell bell, int limit) { this.winch = winch; bell.ring(); }\n}\n'
}

describe('composing an object graph in Java', () => {
  test('a class of its own has the method, which throws what the constructors throw', () => {
    expect(applyJava(JAVA, 'compose-object-graph:c.Quay')).toEqual({
      'c/QuayGraph.java': 'package c;\n\nimport b.Gong;\nimport b.Winch;\nimport java.io.IOException;\nimport java.util.List;\n\n/** Builds a Quay and all that it needs: each object once, before those that want it. */\npublic final class QuayGraph {\n    private QuayGraph() {\n    }\n\n    public static Quay compose(List<String> lines, int limit) throws IOException {\n        Gong gong = new Gong();\n        Winch winch = new Winch(gong, lines);\n        return new Quay(winch, gong, limit);\n    }\n}\n'
    })
  })

  test.each<[string, string, JavaFiles, Record<string, string>]>([
    ['a name that is there', 'file-exists', JAVA, { name: 'Quay' }], ['a word of the language', 'name', JAVA, { name: 'switch' }],
    ['what has type parameters', 'generic', { ...JAVA, 'b/Winch.java': JAVA['b/Winch.java']!.replace('class Winch', 'class Winch<T>') }, {}],
    ['any number of arguments', 'varargs', { ...JAVA, 'b/Winch.java': JAVA['b/Winch.java']!.replace('List<String> lines', 'String... lines') }, {}]
  ])('refuses %s', (_, reason, files, choices) => { expect(applyJava(files, 'compose-object-graph:c.Quay', choices)).toMatchObject({ reason }) })

  test('many of a class are no object of it, and a long name without arguments stays on its line', () => {
    const long = 'VeryLongAndCarefullyChosenNameOfABellFounderWhoCastsBells'
    const applied = applyJava({
      'a/Rings.java': 'package a;\n\npublic interface Rings { void ring(); }\n', 'a/Casts.java': 'package a;\n\npublic interface Casts { int cast(); }\n',
      'a/Bell.java': 'package a;\n\npublic class Bell implements Rings {\n    private int rung;\n    public void ring() { rung++; }\n}\n', [`a/${long}.java`]: `package a;\n\npublic class ${long} implements Casts {\n    private int cast;\n    public int cast() { return cast++; }\n}\n`,
      'a/Tower.java': `package a;\n\npublic class Tower {\n    private final Rings[] bells;\n    private final Rings first;\n    private final Casts founder;\n    public Tower(Rings[] bells, Rings first, Casts founder) {\n        this.bells = bells;\n        this.first = first;\n        this.founder = founder;\n    }\n    public int go() { first.ring(); return founder.cast() + bells.length; }\n}\n`
    }, 'compose-object-graph:a.Tower') as JavaFiles
    expect(applied['a/TowerGraph.java']).toContain(`    public static Tower compose(Rings[] bells) {\n        Bell bell = new Bell();\n        ${long} ${long.charAt(0).toLowerCase()}${long.slice(1)} = new ${long}();\n        return new Tower(bells, bell, `)
  })

  test('the constructor that takes most is one that others can call', () => {
    const files = { ...JAVA, 'b/Winch.java': JAVA['b/Winch.java']!.replace('    void go()', '    private Winch(Bell bell, List<String> lines, int more) { this.bell = bell; }\n    void go()') }
    const { survey } = readJava(files)
    expect(survey.model.types.find(one => one.name === 'Winch')!.parameters.map(one => one.name)).toEqual(['bell', 'lines'])
  })

  test('a class that others cannot build is handed in', () => {
    const files = { ...JAVA, 'b/Winch.java': JAVA['b/Winch.java']!.replace('public Winch(', 'Winch(') }
    const { survey } = readJava(files)
    expect(survey.model.types.find(one => one.name === 'Winch')!.members.find(one => one.kind === 'constructor')!.public).toBe(false)
    expect(applyJava(files, 'compose-object-graph:c.Quay')).toEqual({ 'c/QuayGraph.java': expect.stringContaining('compose(Winch winch, int limit)') as string })
  })
})

test('a class is built by the constructor that it inherits', () => {
  const files: Files = {
    'hull.ts': 'export class Hull { readonly length = 3 }\n', 'craft.ts': "import type { Hull } from './hull'\nexport class Craft { constructor(readonly hull: Hull) {} }\nexport class Barge extends Craft { load(): number { return this.hull.length } }\n",
    'yard.ts': "import type { Barge } from './craft'\nexport class Yard { constructor(private readonly barge: Barge) {} load(): number { return this.barge.load() } }\n"
  }
  const made = apply(files, 'compose-object-graph:yard.ts#Yard')
  expect(made).toMatchObject({ 'compose-yard.ts': expect.stringContaining('(hull: Hull): Yard {\n  const barge = new Barge(hull)\n  return new Yard(barge)\n') as string })
})
