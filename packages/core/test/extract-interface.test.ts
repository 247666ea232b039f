import type { ExtractInterfacePlan } from '@hollowmoor/core/model/plan'
import type { Files } from './project.js'
import { readProject } from './project.js'

const plan = (type: string, choices: Partial<ExtractInterfacePlan> = {}): ExtractInterfacePlan =>
  ({ type, members: null, name: null, place: 'own-file', client: null, narrow: true, ...choices })

function apply(files: Files, wanted: ExtractInterfacePlan): { texts: Files } | { reason: string } {
  const outcome = readProject(files).writer.extractInterface(wanted)
  return outcome.refused ? { reason: outcome.reason } : { texts: Object.fromEntries(outcome.changes.map(change => [change.path, change.after ?? ''])) }
}

const LOG = `export class Log {
  private lines: string[] = []
  constructor(readonly name: string) {}
  write(text: string, times = 1): void { for (let at = 0; at < times; at++) this.lines.push(text) }
  get count() { return this.lines.length }
  static make() { return new Log('x') }
}
`

describe('extract interface', () => {
  test('writes all public members and narrows clients, lists included', () => {
    const outcome = apply({
      'log.ts': LOG,
      'desk.ts': "import { Log } from './log'\n\nexport class Desk {\n  private all: Log[] = []\n  add(log: Log): void { this.all.push(log) }\n  say(): void { for (const one of this.all) one.write('hello') }\n}\n"
    }, plan('log.ts#Log'))
    expect(outcome).toEqual({
      texts: {
        'log-port.ts': 'export interface LogPort {\n  readonly name: string\n  write(text: string, times?: number): void\n  readonly count: number\n}\n',
        'log.ts': LOG.replace('export class Log {', 'export class Log implements LogPort {').replace(/^/, "import { LogPort } from './log-port'\n\n"),
        'desk.ts': "import { LogPort } from './log-port'\n\nexport class Desk {\n  private all: LogPort[] = []\n  add(log: LogPort): void { this.all.push(log) }\n  say(): void { for (const one of this.all) one.write('hello') }\n}\n"
      }
    })
  })

  test('leaves types where the use needs more, and what flows into them', () => {
    const outcome = apply({
      'log.ts': LOG,
      'desk.ts': "import { Log } from './log'\nexport function all(log: Log) { return log.count }\nexport function few(log: Log) { log.write('x') }\nexport function pass(log: Log) { all(log) }\n"
    }, plan('log.ts#Log', { members: ['write'] }))
    expect('texts' in outcome && outcome.texts['desk.ts']).toBe(
      "import { Log } from './log'\nimport { LogPort } from './log-port'\nexport function all(log: Log) { return log.count }\nexport function few(log: LogPort) { log.write('x') }\nexport function pass(log: Log) { all(log) }\n")
  })

  test('keeps line ends, tabs, double quotes, semicolons and import type', () => {
    const outcome = apply({
      'other.ts': 'import type { Log } from "./log";\r\nexport type L = Log;\r\n',
      'log.ts': 'export class Log {\r\n\twrite(text: string): void {\r\n\t\tconsole.log("a", text);\r\n\t}\r\n}\r\n'
    }, plan('log.ts#Log', { name: 'Journal' }))
    expect('texts' in outcome && outcome.texts['journal.ts']).toBe('export interface Journal {\r\n\twrite(text: string): void;\r\n}\r\n')
    expect('texts' in outcome && outcome.texts['other.ts']).toBe('import type { Journal } from "./journal";\r\nexport type L = Journal;\r\n')
    expect('texts' in outcome && outcome.texts['log.ts']).toContain('import type { Journal } from "./journal";\r\n')
  })

  test('keeps generics, overloads and accessors of two types', () => {
    const outcome = apply({
      'box.ts': 'export class Box<T extends object> {\n  get(): T\n  get(key: string): T | undefined\n  get(key?: string): T | undefined { return key ? undefined : undefined }\n  map<U>(f: (t: T) => U): U[] { return [] }\n  async load(): Promise<T[]> { return [] }\n  optional?: T\n}\nexport function use(box: Box<Date>): void { box.map(d => d.getTime()) }\n'
    }, plan('box.ts#Box', { name: 'Holder', place: 'class-file' }))
    expect('texts' in outcome && outcome.texts['box.ts']).toContain('export interface Holder<T extends object> {\n  get(): T\n  get(key: string): T | undefined\n  map<U>(f: (t: T) => U): U[]\n  load(): Promise<T[]>\n  optional?: T\n}\n\nexport class Box<T extends object> implements Holder<T> {')
    expect('texts' in outcome && outcome.texts['box.ts']).toContain('use(box: Holder<Date>)')
  })

  test('stands with a client where that is chosen, so that the client\'s module no longer depends on the class', () => {
    const { writer, session } = readProject({
      'water/gauge.ts': "import { Desk } from '../booking/desk'\nexport class Gauge { constructor(private desk: Desk) {}\n  read() { this.desk.low(1) } }\n",
      'booking/desk.ts': "import { Gauge } from '../water/gauge'\nexport class Desk { low(level: number): void {}\n  other(): void {}\n  gauges: Gauge[] = [] }\n"
    })
    const outcome = writer.extractInterface(plan('booking/desk.ts#Desk', { members: ['low'], name: 'LowWaterListener', place: 'client', client: 'water/gauge.ts#Gauge' }))
    expect(outcome.refused).toBe(false)
    if (outcome.refused) return
    expect(outcome.changes.map(change => change.path)).toEqual(['booking/desk.ts', 'water/gauge.ts', 'water/low-water-listener.ts'])
    expect(session.settings).toBeDefined()
    const uses = writer.current.facts.files.find(file => file.path === 'water/gauge.ts')!.references.map(one => one.to)
    expect(uses.every(to => to.startsWith('water/'))).toBe(true)
  })

  test('imports what the members mention', () => {
    const outcome = apply({
      'kinds.ts': 'export interface Line { text: string }\nexport enum Level { Low }\n',
      'log.ts': "import { Line, Level } from './kinds'\nexport class Log { last(level: Level): Line { return { text: String(level) } } }\n"
    }, plan('log.ts#Log'))
    expect('texts' in outcome && outcome.texts['log-port.ts']).toBe("import { Level, Line } from './kinds'\n\nexport interface LogPort {\n  last(level: Level): Line\n}\n")
  })

  test('falls back to the class\'s file where a type is private to it', () => {
    const outcome = apply({ 'log.ts': 'interface Hidden { x: number }\nexport class Log { last(): Hidden { return { x: 1 } } }\n' }, plan('log.ts#Log'))
    expect('texts' in outcome && Object.keys(outcome.texts)).toEqual(['log.ts'])
  })

  const refusals: [string, Files, ExtractInterfacePlan, string][] = [
    ['a class without public members', { 'a.ts': 'export class A { private x = 1 }' }, plan('a.ts#A'), 'no-members'],
    ['a name that is no name', { 'a.ts': 'export class A { go() {} }' }, plan('a.ts#A', { name: 'not a name' }), 'name'],
    ['a file that is there', { 'a.ts': 'export class A { go() {} }', 'port.ts': 'export {}' }, plan('a.ts#A', { name: 'Port' }), 'file-exists'],
    ['a name that is taken', { 'a.ts': 'export class A { go() {} }\nexport class Port {}' }, plan('a.ts#A', { name: 'Port', place: 'class-file' }), 'name-taken'],
    ['a class without a name', { 'a.ts': 'export default class { go() {} }' }, plan('a.ts#default'), 'anonymous'],
    ['what is no class', { 'a.ts': 'export interface A { go(): void }' }, plan('a.ts#A'), 'no-class']
  ]
  test.each(refusals)('refuses %s', (_, files, wanted, reason) => expect(apply(files, wanted)).toEqual({ reason }))
})
