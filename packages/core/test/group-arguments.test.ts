import { apply, applyJava } from './applying.js'
import type { Choices } from '@hollowmoor/core/remedy/remedy'
import type { Files as JavaFiles } from './java.js'
import type { Files } from './project.js'

const PARTS = 'export class Lamp { on(): void {} }\nexport class Horn { blow(): void {} }\n'
const DESK = "import { Horn, Lamp } from './parts'\n\nexport class Desk {\n  constructor(private readonly lamp: Lamp, horn: Horn, readonly place = 'a', private size?: number) {\n    horn.blow()\n  }\n  go(): number { this.lamp.on(); return (this.size ?? 0) + this.place.length }\n}\n"

describe('grouping constructor arguments in TypeScript', () => {
  test('they are handed as one object, taken apart in the constructor, and every creation hands them so', () => {
    expect(apply({
      'parts.ts': PARTS, 'desk.ts': DESK,
      'use.ts': "import { Desk } from './desk'\nimport { Horn, Lamp } from './parts'\nconst lamp = new Lamp()\nexport const one = new Desk(lamp, new Horn())\nexport class Wide extends Desk { constructor() { super(lamp, new Horn(), 'b', 3) } }\n"
    }, 'group-arguments:desk.ts#Desk')).toEqual({
      'desk.ts': "import { Horn, Lamp } from './parts'\n\nexport interface DeskParts {\n  readonly lamp: Lamp\n  readonly horn: Horn\n}\n\nexport class Desk {\n  private readonly lamp: Lamp\n\n  constructor({ lamp, horn }: DeskParts, readonly place = 'a', private size?: number) {\n    this.lamp = lamp\n    horn.blow()\n  }\n  go(): number { this.lamp.on(); return (this.size ?? 0) + this.place.length }\n}\n",
      'use.ts': "import { Desk } from './desk'\nimport { Horn, Lamp } from './parts'\nconst lamp = new Lamp()\nexport const one = new Desk({ lamp, horn: new Horn() })\nexport class Wide extends Desk { constructor() { super({ lamp, horn: new Horn() }, 'b', 3) } }\n"
    })
  })

  test('what may be left out still may', () => {
    const made = apply({ 'parts.ts': PARTS, 'desk.ts': DESK, 'use.ts': "import { Desk } from './desk'\nimport { Horn, Lamp } from './parts'\nexport const all = [new Desk(new Lamp(), new Horn()), new Desk(new Lamp(), new Horn(), 'c')]\n" }, 'group-arguments:desk.ts#Desk', { parameters: 'place,size', name: 'Where' }) as Record<string, string>
    expect(made['desk.ts']).toContain("export interface Where {\n  readonly place?: string\n  readonly size?: number\n}\n")
    expect(made['desk.ts']).toContain("  readonly place: string\n  private size?: number\n\n  constructor(private readonly lamp: Lamp, horn: Horn, { place = 'a', size }: Where = {}) {\n    this.place = place\n    this.size = size\n    horn.blow()")
    expect(made['use.ts']).toContain("[new Desk(new Lamp(), new Horn()), new Desk(new Lamp(), new Horn(), { place: 'c' })]")
  })

  const refused: [string, string, Files, Choices][] = [
    ['arguments apart', 'order', { 'parts.ts': PARTS, 'desk.ts': DESK }, { parameters: 'lamp,place' }], ['one alone', 'parameter', { 'parts.ts': PARTS, 'desk.ts': DESK }, { parameters: 'lamp' }],
    ['what it does not take', 'parameter', { 'parts.ts': PARTS, 'desk.ts': DESK }, { parameters: 'lamp,rope' }], ['a name that is taken', 'name-taken', { 'parts.ts': PARTS, 'desk.ts': DESK }, { name: 'Lamp' }],
    ['a spread', 'spread', { 'parts.ts': PARTS, 'desk.ts': DESK, 'use.ts': "import { Desk } from './desk'\nimport type { Horn, Lamp } from './parts'\nexport const f = (all: [Lamp, Horn]) => new Desk(...all)\n" }, {}],
    ['a class handed around', 'class-as-value', { 'parts.ts': PARTS, 'desk.ts': DESK, 'use.ts': "import { Desk } from './desk'\nexport const all = [Desk]\n" }, {}],
    ['a field that is initialised with one', 'order', { 'parts.ts': PARTS, 'desk.ts': DESK.replace('  go()', '  readonly on = this.lamp.on()\n  go()') }, {}]
  ]
  test.each(refused)('refuses %s', (_, reason, files, choices) => { expect(apply(files, 'group-arguments:desk.ts#Desk', choices)).toMatchObject({ reason }) })
})

const JAVA = {
  'a/Lamp.java': 'package a;\n\npublic class Lamp { public void on() { } }\n', 'a/Horn.java': 'package a;\n\npublic class Horn { public void blow() { } }\n',
  'a/Desk.java': 'package a;\n\nimport java.util.List;\n\npublic class Desk {\n    private final Lamp lamp;\n    private final List<Horn> horns;\n    private final String place;\n\n    public Desk(Lamp lamp, List<Horn> horns, String place, int size) {\n        this.lamp = lamp;\n        this.horns = horns;\n        this.place = place + size;\n        horns.forEach(one -> one.blow());\n    }\n\n    int all() { lamp.on(); return horns.size() + place.length(); }\n}\n',
  'b/Use.java': 'package b;\n\nimport a.Desk;\nimport a.Horn;\nimport a.Lamp;\nimport java.util.List;\n\nclass Use {\n    Desk desk = new Desk(new Lamp(), List.of(new Horn()), "a", 1);\n}\n'
}

describe('grouping constructor arguments in Java', () => {
  test('they become an object of a small class, or of a record where the project has records', () => {
    const made = applyJava(JAVA, 'group-arguments:a.Desk', { parameters: 'lamp,horns', name: 'Signals' })
    expect(made).toEqual({
      'a/Signals.java': 'package a;\n\nimport java.util.List;\n\npublic final class Signals {\n    public final Lamp lamp;\n    public final List<Horn> horns;\n\n    public Signals(Lamp lamp, List<Horn> horns) {\n        this.lamp = lamp;\n        this.horns = horns;\n    }\n}\n',
      'a/Desk.java': JAVA['a/Desk.java'].replace('Lamp lamp, List<Horn> horns, String', 'Signals signals, String').replace('= lamp;', '= signals.lamp;').replace('= horns;', '= signals.horns;').replace('        horns.forEach', '        signals.horns.forEach'),
      'b/Use.java': JAVA['b/Use.java'].replace('import a.Lamp;\n', 'import a.Lamp;\nimport a.Signals;\n').replace('new Lamp(), List.of(new Horn())', 'new Signals(new Lamp(), List.of(new Horn()))')
    })
    const record = applyJava({ ...JAVA, 'a/Spot.java': 'package a;\n\nrecord Spot(int x) { }\n' }, 'group-arguments:a.Desk', { parameters: 'lamp,horns' }) as Record<string, string>
    expect(record['a/DeskParts.java']).toBe('package a;\n\nimport java.util.List;\n\npublic record DeskParts(Lamp lamp, List<Horn> horns) {\n}\n')
    expect(record['a/Desk.java']).toContain('        this.lamp = parts.lamp();\n        this.horns = parts.horns();\n')
  })

  const refused: [string, string, JavaFiles, Choices][] = [
    ['arguments apart', 'order', JAVA, { parameters: 'lamp,place' }], ['a class that is there', 'file-exists', JAVA, { name: 'Horn' }],
    ['an argument that is set', 'assigned', { ...JAVA, 'a/Desk.java': JAVA['a/Desk.java'].replace('        this.lamp = lamp;', '        lamp = null;\n        this.lamp = lamp;') }, { parameters: 'lamp,horns' }],
    ['a constructor handed around', 'reference', { 'a/Pair.java': 'package a;\n\nclass Pair {\n    Pair(String a, String b, String c, String d) { }\n    interface Maker { Pair make(String a, String b, String c, String d); }\n    Maker maker = Pair::new;\n    void go() { }\n}\n' }, {}],
    ['types of the class\'s own type parameters', 'parameter', { 'a/Pair.java': 'package a;\n\nclass Pair<T> {\n    Pair(T a, T b, T c, T d) { }\n    void go() { }\n}\n' }, {}]
  ]
  test.each(refused)('refuses %s', (_, reason, files, choices) => { expect(applyJava(files, `group-arguments:a.${'a/Pair.java' in files ? 'Pair' : 'Desk'}`, choices)).toMatchObject({ reason }) })
})
