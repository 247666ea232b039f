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

  test('a class that is built in two places needs one factory; another one where what it is handed is not the same', () => {
    const yard = (second: string) => ({ 'motor.ts': MOTOR, 'yard.ts': `import { Motor } from './motor'\nexport class Yard {\n  first(power: number) { return new Motor(power) }\n  second(power: number) { return ${second} }\n}\nexport const yard = new Yard()\n` })
    const twice = (files: Files) => {
      const { writer } = readProject(files)
      const step = () => writer.inject({ type: 'yard.ts#Yard', point: writer.injectionPoints('yard.ts#Yard')[0]!.key, name: null, as: null, withDefault: false, levels: 0 })
      step()
      const outcome = step()
      if (outcome.refused) throw new Error(outcome.message)
      return outcome.changes.find(change => change.path === 'yard.ts')!.after
    }
    expect(twice(yard('new Motor(power + 1)'))).toBe("import { Motor } from './motor'\nexport class Yard {\n  constructor(private readonly createMotor: (power: number | undefined) => Motor) {}\n\n  first(power: number) { return this.createMotor(power) }\n  second(power: number) { return this.createMotor(power + 1) }\n}\nexport const yard = new Yard((power) => new Motor(power))\n")
    expect(twice(yard('new Motor(3)'))).toContain('new Yard((power) => new Motor(power), () => new Motor(3))')
  })

  test('what a static method gives is fetched by what is handed in, as often and as late as before', () => {
    const table = "export class Table {\n  private static only: Table | null = null\n  rate(): number { return 1 }\n  static current(): Table { return (Table.only ??= new Table()) }\n  static fresh(): Table { return new Table() }\n}\n"
    const outcome = inject({ 'table.ts': table, 'tolls.ts': "import { Table } from './table'\nexport class Tolls {\n  toll(): number { return Table.current().rate() + Table.current().rate() }\n}\nexport const tolls = new Tolls()\n" }, 'tolls.ts#Tolls', 'table.ts#Table.current')
    expect(outcome).toMatchObject({ texts: { 'tolls.ts': "import { Table } from './table'\nexport class Tolls {\n  constructor(private readonly currentTable: () => Table) {}\n\n  toll(): number { return this.currentTable().rate() + this.currentTable().rate() }\n}\nexport const tolls = new Tolls(() => Table.current())\n" } })
    const points = (body: string) => readProject({ 'table.ts': table, 'tolls.ts': `import { Table } from './table'\nexport class Tolls {\n  toll() { ${body} }\n}\n` }).writer.injectionPoints('tolls.ts#Tolls').map(point => point.key)
    expect(points('return Table.current()')).toEqual(['table.ts#Table.current'])
    expect(points('return Table.fresh()')).toEqual([])
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

  test('offers nothing for a class that builds its own kind, by itself or by a subclass without a constructor', () => {
    const { writer } = readProject({ 'a.ts': 'export class Lock {\n  next() { return new Lock() }\n  other() { return new Stop() }\n  static first() { return new Lock() }\n}\nclass Stop extends Lock { go() {} }\n' })
    expect(writer.injectionPoints('a.ts#Lock')).toEqual([])
  })
})

describe('inject into functions and static methods', () => {
  const into = (code: string, type = 'lock.ts#', more: Files = {}) => inject({ 'motor.ts': MOTOR, 'lock.ts': `import { Motor } from './motor'\n${code}`, ...more }, type, 0)
  const textOf = (outcome: ReturnType<typeof inject>) => 'texts' in outcome ? outcome.texts['lock.ts']!.replace("import { Motor } from './motor'\n", '') : outcome

  test('what a function builds first becomes its last parameter, with a default', () => {
    expect(textOf(into('export function open(): void {\n  const motor = new Motor(2)\n  motor.start()\n}\nopen()\n'))).toBe(
      'export function open(motor2: Motor = new Motor(2)): void {\n  const motor = motor2\n  motor.start()\n}\nopen()\n')
  })

  test('what is built only sometimes, or from what is known then, becomes a factory', () => {
    expect(textOf(into('export const open = (power: number, sure = true) => {\n  if (sure) new Motor(power).start()\n}\n'))).toBe(
      'export const open = (power: number, sure = true, createMotor: (power: number | undefined) => Motor = (power) => new Motor(power)) => {\n  if (sure) createMotor(power).start()\n}\n')
    expect(textOf(into('export const open = power => new Motor(power)\n'))).toBe(
      'export const open = (power, createMotor: (power: number | undefined) => Motor = (power) => new Motor(power)) => createMotor(power)\n')
  })

  test('type parameters of the function are known to the factory', () => {
    const outcome = into('class Box<T> { constructor(readonly held: T) {} open(): T { return this.held } }\nexport function fill<T>(held: T): T {\n  return new Box<T>(held).open()\n}\n')
    expect(textOf(outcome)).toContain('fill<T>(held: T, createBox: (held: T) => Box<T> = (held) => new Box(held)): T {\n  return createBox(held).open()')
  })

  test('a static method likewise', () => {
    expect(textOf(into('export class Lock {\n  static open(n: number): void {\n    for (let i = 0; i < n; i++) new Motor().start()\n  }\n}\nLock.open(2)\n', 'lock.ts#Lock'))).toContain(
      'static open(n: number, createMotor: () => Motor = () => new Motor()): void {\n    for (let i = 0; i < n; i++) createMotor().start()')
  })

  test('is not offered where a last parameter cannot be, or would be hidden', () => {
    const { writer } = readProject({ 'motor.ts': MOTOR, 'lock.ts': `import { Motor } from './motor'
export function a(x: string): Motor
export function a(x: number): Motor
export function a(x: unknown) { return new Motor(Number(x)) }
export function b(...all: number[]) { return new Motor(all[0]) }
export const c: () => Motor = () => new Motor()
export function d() { class Local { go() {} } return new Local() }
export const e = new Motor()
` })
    expect(writer.injectionPoints('lock.ts#')).toEqual([])
  })

  test('refuses a function that is handed around, which may be called with anything', () => {
    expect(into('export function make(n: number) { return new Motor(n) }\nexport const all = [1, 2].map(make)\n')).toEqual({ reason: 'function-as-value' })
    expect(into('export function make(n: number) { return new Motor(n) }\nexport const one = make(...([1] as const))\n')).toEqual({ reason: 'spread' })
  })
})
