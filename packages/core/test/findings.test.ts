import { crossCuttingTypes } from '@hollowmoor/core/find/cross-cutting'
import { explainRank, findingsOf, worthOf } from '@hollowmoor/core/find/findings'
import type { FindingKind } from '@hollowmoor/core/find/finding'
import type { Survey } from '@hollowmoor/core/survey'
import { isRefusal } from '@hollowmoor/contract/errors'
import { OpenProject } from '@hollowmoor/host/open-project'
import { CLEAN_JAVA, CLEAN_TYPESCRIPT } from './clean.js'
import { readJava } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

const sentences = (survey: Survey, kind: FindingKind) => findingsOf(survey).filter(one => one.kind === kind).map(one => one.sentence)
const of = (files: Files, kind: FindingKind) => sentences(readProject(files).survey, kind)

describe.each(['typescript', 'java'] as const)('the demo in %s', language => {
  let survey: Survey
  const found = (kind: FindingKind) => findingsOf(survey).filter(one => one.kind === kind).map(one => `${survey.model.types[survey.model.typeIndex.get(one.subject) ?? -1]?.name ?? one.subject} ${survey.model.files[one.evidence[0]!.file]!.path.replace(/^.*\//, '')}`)
  beforeAll(async () => {
    const opened = await OpenProject.open(`demo/withymere/${language}`)
    if (isRefusal(opened)) throw new Error(opened.message)
    survey = opened.survey
  })
  const file = (name: string) => (language === 'java' ? `${name}.java` : `${name.replace(/(?!^)[A-Z]/g, '-$&').toLowerCase()}.ts`)

  test('shows every flaw that was planted, at its place', () => {
    expect(found('module-cycle').map(one => one.split(' ')[1])).toEqual([file('GaugeReader'), file('KeeperPager')])
    expect(found('static-used-from-many-places')).toEqual([`Logbook ${file('PassageDesk')}`].map(expect.stringContaining.bind(expect, 'Logbook')))
    expect(found('crowded-constructor')).toEqual([`PassageDesk ${file('PassageDesk')}`])
    expect(found('fat-interface')).toContainEqual(expect.stringMatching(/^LockFlight /))
    expect(found('refused-member')).toContain(`WorkFlat ${file('WorkFlat')}`)
    expect(sentences(survey, 'type-switch').join()).toContain('TollCalculator.tollFor')
    expect(found('logic-in-a-framework-class')).toContain(`LockPanel ${file('LockPanel')}`)
    expect(sentences(survey, 'library-in-many-places').join()).toMatch(/signal-?kit is used in [5-9] files of [3-5] modules/)
    expect(found('welded-to-the-outside')).toContain(`PassageDesk ${file('PassageDesk')}`)
    expect(found('hidden-state').map(one => one.split(' ')[0])).toContain('Logbook')
    expect(found('feature-envy').map(one => one.split(' ')[0])).toEqual(expect.arrayContaining(['TollCalculator', 'MaintenancePlan']))
    expect(sentences(survey, 'feature-envy').join()).toContain('MaintenancePlan.crewNote uses above, chamber, isFull and 2 more of Lock and nothing of its own.')
    expect(sentences(survey, 'several-responsibilities').join()).toMatch(/Receipt touches the file system in store, and beside that computes in add, total, tax/)
    expect(found('several-responsibilities').map(one => one.split(' ')[0])).toContain('PoweredCraft')
    expect(sentences(survey, 'same-shape')).toEqual([expect.stringMatching(/^(GateMotor and SwingBridge|SwingBridge and GateMotor) have the same open, close and isOpen and no abstraction in common\.$/)])
    expect(sentences(survey, 'always-used-together')).toEqual(['LedgerBook.credit, PassageLog.add and new Receipt are called together in 3 places, by 2 types.'])
    expect(sentences(survey, 'repeated-test-setup')).toEqual(['TollWindow, LedgerBook and PassageLog are built together 3 times in tests.'])
    expect(found('less-stable-dependency').length).toBeGreaterThan(0)
  })

  test('says nothing of the parts that are clean', () => {
    const clean = ['Convoy', 'Rainfall', 'Notice', 'StoppageNotice', 'Severity', 'Dimensions', 'ConcessionRules']
    expect(findingsOf(survey).filter(one => clean.includes(survey.model.types[survey.model.typeIndex.get(one.subject) ?? -1]?.name ?? '') && one.kind !== 'type-switch')).toEqual([])
  })

  test('ranks by what is freed for what it costs, and says so', () => {
    const findings = findingsOf(survey)
    for (let at = 1; at < findings.length; at++) expect(worthOf(findings[at - 1]!)).toBeGreaterThanOrEqual(worthOf(findings[at]!))
    expect(findings[0]!.kind).toBe('module-cycle')
    expect(explainRank(findings[0]!)).toMatch(/^It frees 3 modules .* for \d references? in 1 file and 1 step/)
    expect(new Set(findings.map(one => one.id)).size).toBe(findings.length)
    for (const one of findings) expect({ id: one.id, evidence: one.evidence.length > 0 }).toEqual({ id: one.id, evidence: true })
  })
})

test('nothing at all is found in code that is clean, in either language', () => {
  expect(findingsOf(readProject(CLEAN_TYPESCRIPT).survey).map(one => one.sentence)).toEqual([])
  expect(findingsOf(readJava(CLEAN_JAVA).survey).map(one => one.sentence)).toEqual([])
})

describe('each way of finding', () => {
  test('classes of one shape, but not those that share an abstraction', () => {
    const boat = (name: string, more = '') => `export class ${name} ${more}{ start(): void { this.n++ } stop(): void { this.n-- } turn(degrees: number): void { this.n += degrees } private n = 0 }\n`
    expect(of({ 'a.ts': boat('Tug') + boat('Barge') }, 'same-shape')).toEqual(['Tug and Barge have the same start, stop and turn and no abstraction in common.'])
    expect(of({ 'a.ts': `interface Moves { start(): void; stop(): void; turn(degrees: number): void }\n${boat('Tug', 'implements Moves ')}${boat('Barge', 'implements Moves ')}` }, 'same-shape')).toEqual([])
  })

  test('classes that the same calls go over in several places', () => {
    const parts = ['Gate', 'Pump', 'Lamp'].map(name => `export class ${name} { private n = 0; go(): number { this.n++; return this.n + 1 } }`).join('\n')
    const client = (name: string) => `import { Gate, Pump, Lamp } from './parts'\nexport class ${name} { run(gate: Gate, pump: Pump, lamp: Lamp): number { return gate.go() + pump.go() + lamp.go() } }`
    expect(of({ 'parts.ts': parts, 'a.ts': client('A'), 'b.ts': client('B'), 'c.ts': client('C') }, 'always-used-together')).toEqual(['Gate.go, Pump.go and Lamp.go are called together in 3 places, by 3 types.'])
    // Other calls of the same objects are no sequence to hide; nor is what one of them inherits from another.
    expect(of({ 'parts.ts': parts.replace('return this.n + 1 }', 'return this.n + 1 } other(): number { return this.n }'), 'a.ts': client('A'), 'b.ts': client('B'), 'c.ts': client('C').replace('gate.go', 'gate.other') }, 'always-used-together')).toEqual([])
    expect(of({ 'parts.ts': parts.replace('class Pump {', 'class Pump extends Gate {').replace('private n = 0; go(): number { this.n++; return this.n + 1 } }\nexport class Lamp', 'override go(): number { return 2 } }\nexport class Lamp'), 'a.ts': client('A'), 'b.ts': client('B'), 'c.ts': client('C') }, 'always-used-together')).toEqual([])
    expect(of({ 'parts.ts': parts, 'a.ts': client('A'), 'b.ts': client('B') }, 'always-used-together')).toEqual([])
  })

  test('what touches the outside beside what computes, but not what does one of the two, or stands behind an abstraction', () => {
    const files = (head: string, more = '') => ({ 'a.ts': `interface Stores { store(): void }\nexport class Bill ${head}{ private rows: number[] = []\n add(row: number): void { if (row > 0) this.rows.push(row) }\n total(): number { return this.rows.reduce((a, b) => a + b, 0) }\n tax(rate: number): number { return Math.round(this.total() * rate) }\n store(): void { void fetch('bill', { body: String(this.total()) }) }\n${more} }\nexport const all: Stores[] = []` })
    expect(of(files(''), 'several-responsibilities')).toEqual(['Bill touches the network in store, and beside that computes in add, total and tax.'])
    expect(of(files('implements Stores '), 'several-responsibilities')).toEqual([])
    expect(of(files('', "load(): void { void fetch('a') }\n keep(): void { void fetch('b') }"), 'several-responsibilities')).toEqual([])
  })

  test('tests that build the same things', () => {
    const parts = ['Gate', 'Pump', 'Lamp'].map(name => `export class ${name} { private n = 0; go(): number { this.n++; return this.n + 1 } }`).join('\n')
    const setup = "import { Gate, Pump, Lamp } from '../parts'\nexport function testOne(): void { new Gate().go(); new Pump().go(); new Lamp().go() }\n"
    expect(of({ 'parts.ts': parts, 'test/a.test.ts': setup, 'test/b.test.ts': setup, 'test/c.test.ts': setup }, 'repeated-test-setup')).toEqual(['Gate, Pump and Lamp are built together 3 times in tests.'])
    const inOneFile = setup.replace('export function', 'it(() => { new Gate().go(); new Pump().go(); new Lamp().go() })\nit(() => { new Gate().go(); new Pump().go(); new Lamp().go() })\nit(() => { new Gate().go(); new Pump().go(); new Lamp().go() })\nfunction it(run: () => void): void { run() }\nexport function')
    expect(of({ 'parts.ts': parts, 'test/a.test.ts': inOneFile }, 'repeated-test-setup')).toEqual(['Gate, Pump and Lamp are built together 4 times in tests.'])
  })

  test('arguments that travel together, and those wanted everywhere', () => {
    const ports = "export interface Clock { now(): number }\nexport interface Log { add(text: string): void }\nexport interface A { a(): number }\nexport interface B { b(): number }\nexport interface C { c(): number }\nexport interface D { d(): number }\n"
    const user = (name: string, args: string) => `import { A, B, C, Clock, D, Log } from './ports'\nexport class ${name} { constructor(${args}) {} go(): number { return this.clock.now() + 1 } }\n`
    const [sentence] = of({
      'ports.ts': ports, 'x.ts': user('X', 'readonly clock: Clock, readonly log: Log, readonly a: A, readonly b: B, readonly c: C, readonly d: D'),
      'y.ts': user('Y', 'readonly clock: Clock, readonly log: Log, readonly a: A'), 'z.ts': user('Z', 'readonly clock: Clock, readonly log: Log')
    }, 'crowded-constructor')
    expect(sentence).toBe('The constructor of X takes 6 arguments; clock and log are wanted all over the project and speak of nothing else in it; clock and log always travel together.')
  })

  test('statements of a framework class that do not touch it, and the fields that only they use', () => {
    const library = { 'node_modules/shown/package.json': '{"name":"shown","types":"index.d.ts"}', 'node_modules/shown/index.d.ts': 'export declare class View { protected put(text: string): void }' }
    const view = (body: string) => ({ ...library, 'package.json': '{"dependencies":{"shown":"1"}}', 'a.ts': `import { View } from 'shown'\nexport class Board extends View {\n  private rows: number[] = []\n  private last = 0\n  private say(text: string): void { this.put(text) }\n  show(limit: number): void {\n${body}\n  }\n}\n` })
    const survey = readProject(view('    let sum = 0\n    for (const row of this.rows) {\n      if (row > limit) sum += row\n      else sum -= 1\n    }\n    this.last = sum\n    this.say(`${sum}`)\n    this.put(`${this.last}`)')).survey
    const [found] = findingsOf(survey).filter(one => one.kind === 'logic-in-a-framework-class')
    expect(found!.sentence).toBe('Board extends View, so that a test needs the framework; 7 of 9 statements of show do not touch it, 5 lines; rows is used by those alone.')
    expect(found!.evidence.map(({ line, what }) => `${line} ${what}`)).toEqual(['2 extends shown', '7 from here 7 statements of show, 5 lines, do not touch it'])
    expect(of(view('    this.put(`${this.rows.length}`)\n    this.put(`${limit}`)\n    this.say(`${this.last}`)\n    this.say(`${this.rows[0]}`)'), 'logic-in-a-framework-class')).toEqual([])
  })

  test('what speaks of the business is no cross-cutting argument, however many want it', () => {
    const ports = "import type { Berth } from './berth'\nexport interface Log { add(text: string): void }\nexport interface Berths { all(): Berth[] }\nexport interface A { a(): number }\nexport interface B { b(): number }\nexport interface C { c(): number }\nexport interface D { d(): number }\n"
    const user = (name: string, args: string) => `import { A, B, Berths, C, D, Log } from './ports'\nexport class ${name} { constructor(${args}) {} go(): number { return this.berths.all().length + 1 } }\n`
    const files = {
      'berth.ts': 'export interface Berth { readonly length: number }', 'ports.ts': ports,
      'x.ts': user('X', 'readonly berths: Berths, readonly log: Log, readonly a: A, readonly b: B, readonly c: C, readonly d: D'),
      'y.ts': user('Y', 'readonly log: Log, readonly berths: Berths'), 'z.ts': user('Z', 'readonly berths: Berths, readonly more: A, readonly log: Log')
    }
    expect(of(files, 'crowded-constructor')).toEqual(['The constructor of X takes 6 arguments; log is wanted all over the project and speaks of nothing else in it; berths and log always travel together.'])
    expect([...crossCuttingTypes(readProject(files).survey)]).toEqual([['ports.ts#Log', 3]])
  })

  test('a switch over an enum in two places, a chain of instanceof, and none where a plain value is looked at', () => {
    const kinds = 'export enum Kind { A, B, C }\n'
    const place = (name: string) => `import { Kind } from './kinds'\nexport function ${name}(kind: Kind): number { switch (kind) { case Kind.A: return 1; case Kind.B: return 2; case Kind.C: return 3 } }\n`
    expect(of({ 'kinds.ts': kinds, 'a.ts': place('one'), 'b.ts': place('two') }, 'type-switch')).toEqual(['a.ts.one and b.ts.two choose by Kind among 3 cases; the next case touches 2 places.'])
    expect(of({ 'kinds.ts': kinds, 'a.ts': place('one') }, 'type-switch')).toEqual([])
    expect(of({ 'a.ts': 'class A { a = 1 }\nclass B { b = 1 }\nclass C { c = 1 }\nexport function size(it: object): number { if (it instanceof A) return it.a; else if (it instanceof B) return it.b; else if (it instanceof C) return it.c; return 0 }' }, 'type-switch')).toHaveLength(1)
    expect(of({ 'a.ts': "export function f(text: string): number { switch (text) { case 'a': return 1; case 'b': return 2; case 'c': return 3; case 'd': return 4 } return 0 }" }, 'type-switch')).toEqual([])
  })

  test('in a library a static is advised to be handed in', () => {
    const files: Files = { 'log.ts': 'export class Log { static add(text: string): void { console.log(text); if (text) return } }' }
    for (const name of ['a', 'b', 'c', 'd']) files[`${name}.ts`] = `import { Log } from './log'\nexport class ${name.toUpperCase()} { go(): void { for (const one of ['x', 'y']) Log.add(one) } }`
    expect(of(files, 'static-used-from-many-places')).toEqual(['4 types use Log statically, which reaches the console; for 4 of them it is the only thing in the way of a test.'])
    expect(sentences(readProject(files, { kind: 'library' }).survey, 'static-used-from-many-places')[0]).toContain('In a library it should be handed in')
  })
})

test('hidden state that nothing static asks for has no remedy but a hand', () => {
  const remedies = (files: Record<string, string>) => findingsOf(readProject(files).survey).filter(one => one.kind === 'hidden-state').map(one => [one.subject, one.remedies])
  expect(remedies({ 'gauge.ts': 'let read = 0\nexport class Gauge { level(): number { read++; return read } }\n' })).toEqual([['gauge.ts#', []]])
  expect(remedies({ 'gauge.ts': 'let read = 0\nexport function level(): number { read++; return read }\n' })).toEqual([['gauge.ts#', ['make-static-replaceable', 'inject']]])
  expect(remedies({ 'gauge.ts': 'export class Gauge { private static read = 0; static level(): number { Gauge.read++; return Gauge.read } }\n' })).toEqual([['gauge.ts#Gauge', ['make-static-replaceable', 'inject']]])
})

test('a method that uses what its class inherits, or takes a mere record apart, envies nobody', () => {
  const envied = (files: Record<string, string>) => findingsOf(readProject(files).survey).filter(one => one.kind === 'feature-envy').map(one => one.sentence)
  const parts = 'a(): number { return 1 } b(): number { return 2 } c(): number { return 3 } d(): number { return 4 } e(): number { return 5 }'
  const asks = (of: string) => `if (${of}.a() > 2) return ${of}.b()\n    return ${of}.c() + ${of}.d() * ${of}.e()`
  expect(envied({ 'base.ts': `export class Base { ${parts} }\n`, 'gate.ts': `import { Base } from './base'\nexport class Gate {\n  weigh(base: Base): number {\n    ${asks('base')}\n  }\n}\n` })).toEqual(['Gate.weigh uses a, b, c and 2 more of Base and nothing of its own.'])
  expect(envied({ 'base.ts': `export class Base { ${parts} }\n`, 'gate.ts': `import { Base } from './base'\nexport class Gate extends Base {\n  weigh(): number {\n    ${asks('this')}\n  }\n}\n` })).toEqual([])
  const record = 'export interface Row { a: number; b: number; c: number; d: number; e: number }\n'
  expect(envied({ 'row.ts': record, 'gate.ts': "import type { Row } from './row'\nexport class Gate {\n  weigh(row: Row): number {\n    if (row.a > 2) return row.b\n    return row.c + row.d * row.e\n  }\n}\n" })).toEqual([])
})
