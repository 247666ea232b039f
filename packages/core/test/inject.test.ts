import { readProject } from './project.js'
import type { Files } from './project.js'

function inject(files: Files, type: string, at: number | string, choices: { withDefault?: boolean; levels?: number; name?: string } = {}): { reason: string } | { texts: Record<string, string | null>; notes: readonly string[] } {
  const { writer } = readProject(files)
  const points = writer.injectionPoints(type)
  const point = typeof at === 'number' ? points[at]!.key : at
  const outcome = writer.inject({ type, point, name: choices.name ?? null, as: null, withDefault: choices.withDefault ?? false, levels: choices.levels ?? 0 })
  return outcome.refused ? { reason: outcome.reason } : { texts: Object.fromEntries(outcome.changes.map(change => [change.path, change.after])), notes: outcome.notes }
}

const MOTOR = 'export class Motor {\n  constructor(readonly power = 1) {}\n  start(): void { console.log(this.power) }\n}\n'

describe('inject', () => {
  test('a field\'s `new` becomes a parameter; every creation site builds it', () => {
    const outcome = inject({
      'motor.ts': MOTOR,
      'lock.ts': "import { Motor } from './motor';\n\nexport class Lock {\n  /** Drives it. */\n  private readonly motor = new Motor(3);\n\n  constructor(readonly number: number) {}\n\n  open(): void { this.motor.start(); }\n}\n",
      'main.ts': "import { Lock } from './lock';\n\nnew Lock(1).open();\n",
      'lock.test.ts': "import { Lock } from './lock';\nconst lock = new Lock(\n  2,\n);\nlock.open();\n"
    }, 'lock.ts#Lock', 0)
    expect(outcome).toMatchObject({
      texts: {
        'lock.ts': "import { Motor } from './motor';\n\nexport class Lock {\n  /** Drives it. */\n  private readonly motor: Motor;\n\n  constructor(readonly number: number, motor: Motor) {\n    this.motor = motor;\n  }\n\n  open(): void { this.motor.start(); }\n}\n",
        'main.ts': "import { Lock } from './lock';\nimport { Motor } from './motor';\n\nnew Lock(1, new Motor(3)).open();\n",
        'lock.test.ts': "import { Lock } from './lock';\nimport { Motor } from './motor';\nconst lock = new Lock(\n  2,\n  new Motor(3),\n);\nlock.open();\n"
      }
    })
  })

  test('what is built in a method is handed in as a factory', () => {
    const outcome = inject({
      'motor.ts': MOTOR, 'lock.ts': "import { Motor } from './motor'\nexport class Lock {\n  open(power: number) { return new Motor(power) }\n}\nexport const lock = new Lock()\n"
    }, 'lock.ts#Lock', 0)
    expect('texts' in outcome && outcome.texts['lock.ts']).toBe(
      "import { Motor } from './motor'\nexport class Lock {\n  constructor(private readonly createMotor: (power: number | undefined) => Motor) {}\n\n  open(power: number) { return this.createMotor(power) }\n}\nexport const lock = new Lock((power) => new Motor(power))\n")
  })

  test('a use of an exported instance becomes a parameter', () => {
    const outcome = inject({
      'levels.ts': 'export class Levels { latest(): number { return 1 } }\nexport const levels = new Levels()\n',
      'list.ts': "import { levels } from './levels'\nexport class List {\n  go(): number { return levels.latest() + levels.latest() }\n}\n",
      'main.ts': "import { List } from './list'\nnew List().go()\n"
    }, 'list.ts#List', 0)
    expect(outcome).toMatchObject({
      texts: {
        'list.ts': "import { Levels } from './levels'\nexport class List {\n  constructor(private readonly levels: Levels) {}\n\n  go(): number { return this.levels.latest() + this.levels.latest() }\n}\n",
        'main.ts': "import { List } from './list'\nimport { levels } from './levels'\nnew List(levels).go()\n"
      }
    })
  })

  test('a subclass hands it on to super; one without a constructor is created with it', () => {
    const outcome = inject({
      'motor.ts': MOTOR, 'lock.ts': "import { Motor } from './motor'\nexport class Lock {\n  motor = new Motor()\n}\nexport class Guard extends Lock { constructor() { super() } }\nexport class Stop extends Lock {}\nexport const all = [new Guard(), new Stop(), new Lock]\n"
    }, 'lock.ts#Lock', 0)
    const text = 'texts' in outcome ? outcome.texts['lock.ts'] : ''
    expect(text).toContain('constructor() { super(new Motor()) }')
    expect(text).toContain('[new Guard(), new Stop(new Motor()), new Lock(new Motor())]')
  })

  test('a parameter before optional ones, and a default where that is chosen', () => {
    const files = { 'motor.ts': MOTOR, 'lock.ts': "import { Motor } from './motor'\nexport class Lock {\n  private motor = new Motor()\n  constructor(readonly a: number, readonly b = 2) {}\n  go() { this.motor.start() }\n}\nexport const one = new Lock(1, 3)\n" }
    const plain = inject(files, 'lock.ts#Lock', 0)
    expect('texts' in plain && plain.texts['lock.ts']).toContain('constructor(readonly a: number, motor: Motor, readonly b = 2)')
    expect('texts' in plain && plain.texts['lock.ts']).toContain('new Lock(1, new Motor(), 3)')
    const kept = inject(files, 'lock.ts#Lock', 0, { withDefault: true })
    expect('texts' in kept && kept.texts['lock.ts']).toContain('constructor(readonly a: number, readonly b = 2, motor: Motor = new Motor())')
    expect('texts' in kept && kept.texts['lock.ts']).toContain('new Lock(1, 3)')
  })

  test('creation moves up where that is chosen', () => {
    const outcome = inject({
      'motor.ts': MOTOR, 'lock.ts': "import { Motor } from './motor'\nexport class Lock {\n  private motor = new Motor()\n  go() { this.motor.start() }\n}\n",
      'flight.ts': "import { Lock } from './lock'\nimport { Motor } from './motor'\nexport class Flight {\n  private lock: Lock\n  spare?: Motor\n  constructor() { this.lock = new Lock() }\n  go() { this.lock.go() }\n}\n",
      'main.ts': "import { Flight } from './flight'\nnew Flight().go()\n"
    }, 'lock.ts#Lock', 0, { levels: 1 })
    expect('texts' in outcome && outcome.texts['flight.ts']).toContain('constructor(motor: Motor) { this.lock = new Lock(motor) }')
    expect('texts' in outcome && outcome.texts['main.ts']).toBe("import { Flight } from './flight'\nimport { Motor } from './motor'\nnew Flight(new Motor()).go()\n")
  })

  test('takes the interface that an earlier step extracted', () => {
    const { writer } = readProject({
      'motor.ts': MOTOR, 'lock.ts': "import { Motor } from './motor'\nexport class Lock {\n  private motor = new Motor()\n  go() { this.motor.start() }\n}\nnew Lock()\n"
    })
    expect(writer.extractInterface({ type: 'motor.ts#Motor', members: null, name: 'Drive', place: 'own-file', client: null, narrow: true }).refused).toBe(false)
    const outcome = writer.inject({ type: 'lock.ts#Lock', point: writer.injectionPoints('lock.ts#Lock')[0]!.key, name: null, as: null, withDefault: false, levels: 0 })
    expect(outcome.refused ? outcome : outcome.changes[0]!.after).toContain('private motor: Drive')
  })

  test('a class that is handed around keeps a default, and says so', () => {
    const outcome = inject({ 'motor.ts': MOTOR, 'lock.ts': "import { Motor } from './motor'\nexport class Lock {\n  private motor = new Motor()\n  go() { this.motor.start() }\n}\nexport const kinds = [Lock]\n" }, 'lock.ts#Lock', 0)
    expect('notes' in outcome && outcome.notes[0]).toMatch(/keeps a default.*hands the class itself around/)
  })

  const refusals: [string, string, string][] = [
    ['another field that uses it at once', 'export class Lock {\n  a = new Motor()\n  b = this.a.power\n}\n', 'order'],
    ['a method that another field calls at once', 'export class Lock {\n  a = new Motor()\n  b = this.f()\n  f() { return this.a.power }\n}\n', 'order'],
    ['a class that builds its own kind', 'export class Lock {\n  next() { return new Lock() }\n}\n', 'itself'],
    ['an overloaded constructor', 'export class Lock {\n  a = new Motor()\n  constructor(a: string)\n  constructor(a: number)\n  constructor(a: unknown) {}\n}\n', 'overloads'],
    ['a function with a this of its own', 'export class Lock {\n  f() { return function () { return new Motor() } }\n}\n', 'this'],
    ['a spread', 'export class Lock {\n  f(all: [number]) { return new Motor(...all) }\n}\n', 'spread']
  ]
  test.each(refusals)('refuses %s', (_, code, reason) => {
    expect(inject({ 'motor.ts': MOTOR, 'lock.ts': `import { Motor } from './motor'\n${code}` }, 'lock.ts#Lock', 0)).toEqual({ reason })
  })

  test('offers nothing for records, exceptions and defaults of parameters', () => {
    const { writer } = readProject({ 'a.ts': 'class Point { constructor(readonly x: number) {} }\nclass Bad extends Error {}\nclass Real { go() {} }\nexport class A { constructor(private r = new Real()) {} p = new Point(1); f() { throw new Bad() } g() { this.r.go() } }' })
    expect(writer.injectionPoints('a.ts#A')).toEqual([])
  })
})
