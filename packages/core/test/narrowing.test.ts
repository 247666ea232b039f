import type { Files } from './project.js'
import { readProject } from './project.js'

const LOG = 'export class Log {\n  private lines: string[] = []\n  write(text: string): void { this.lines.push(text) }\n  flush(): number { return this.lines.length }\n}\n'

/** The client's text after an interface with only `write` was put over `Log`. */
function narrowed(client: string, more: Files = {}): string {
  const { writer } = readProject({ 'log.ts': LOG, 'client.ts': `import { Log } from './log'\n${client}`, ...more })
  const outcome = writer.extractInterface({ type: 'log.ts#Log', members: ['write'], name: 'Sink', place: 'own-file', client: null, narrow: true })
  if (outcome.refused) throw new Error(outcome.message)
  const text = outcome.changes.find(change => change.path === 'client.ts')?.after ?? `import { Log } from './log'\n${client}`
  return text!.split('\n').filter(line => !line.startsWith('import')).join('\n')
}

describe('narrowing reaches', () => {
  const table: [string, string, string][] = [
    ['fields, parameters and results', 'export class A { private log?: Log\n set(log: Log): void { this.log = log }\n get(): Log | undefined { return this.log } }', 'export class A { private log?: Sink\n set(log: Sink): void { this.log = log }\n get(): Sink | undefined { return this.log } }'],
    ['variables', 'export function f(all: Log[]) { let first: Log | undefined = all[0]\n first?.write("x") }', 'export function f(all: Sink[]) { let first: Sink | undefined = all[0]\n first?.write("x") }'],
    ['type arguments', 'export const all = new Map<string, Log>()\nexport const later: Promise<Log>[] = []\nall.get("x")?.write("y")', 'export const all = new Map<string, Sink>()\nexport const later: Promise<Sink>[] = []\nall.get("x")?.write("y")'],
    ['callbacks', 'export function each(all: Log[], act: (log: Log) => void) { all.forEach(log => act(log)) }', 'export function each(all: Sink[], act: (log: Sink) => void) { all.forEach(log => act(log)) }'],
    ['chains of calls', 'function last(log: Log) { log.write("z") }\nfunction middle(log: Log) { last(log) }\nexport function first(log: Log) { middle(log) }', 'function last(log: Sink) { log.write("z") }\nfunction middle(log: Sink) { last(log) }\nexport function first(log: Sink) { middle(log) }'],
    ['members of other interfaces, and who implements them', 'export interface Has { log: Log }\nexport class B implements Has { constructor(readonly log: Log) {} go() { this.log.write("b") } }', 'export interface Has { log: Sink }\nexport class B implements Has { constructor(readonly log: Sink) {} go() { this.log.write("b") } }'],
    ['generics with the class as a bound', 'export function g<T extends Log>(log: T): T { log.write("g"); return log }', 'export function g<T extends Sink>(log: T): T { log.write("g"); return log }']
  ]
  test.each(table)('%s', (_, client, expected) => expect(narrowed(client)).toBe(expected))
})

describe('narrowing leaves', () => {
  const table: [string, string, string][] = [
    ['what calls more', 'export function f(log: Log) { return log.flush() }\nexport function g(log: Log) { log.write("x") }', 'export function f(log: Log) { return log.flush() }\nexport function g(log: Sink) { log.write("x") }'],
    ['a list from which more is called', 'export class A { all: Log[] = []\n n() { return this.all.map(one => one.flush()) } }\nexport function g(log: Log) { log.write("x") }', 'export class A { all: Log[] = []\n n() { return this.all.map(one => one.flush()) } }\nexport function g(log: Sink) { log.write("x") }'],
    ['what flows into code that wants the class', 'function needs(log: Log) { log.flush() }\nexport function pass(log: Log) { needs(log) }', 'function needs(log: Log) { log.flush() }\nexport function pass(log: Log) { needs(log) }'],
    ['a result on which a caller calls more', 'export function make(): Log { return new Log() }\nexport const n = make().flush()', 'export function make(): Log { return new Log() }\nexport const n = make().flush()'],
    ['destructured parts that call more', 'export function f({ log }: { log: Log }) { return log.flush() }', 'export function f({ log }: { log: Log }) { return log.flush() }']
  ]
  test.each(table)('%s', (_, client, expected) => expect(narrowed(client)).toBe(expected))

  test('typeof, instanceof, heritage and creations', () => {
    const client = 'export class Sub extends Log {}\nexport const kind: typeof Log = Log\nexport const is = (x: unknown) => x instanceof Log\nexport const one = new Log()'
    expect(narrowed(client)).toBe(client)
  })
})

test('what asks for a member in a way that no type is checked for keeps the class, and nothing else does', () => {
  const client = "export class A { constructor(readonly log: Log, readonly other: Log) {} go() { this.log['lines'].length; this.other.write('x') } }\nexport function f(log: Log) { log.write('x') }"
  expect(narrowed(client)).toBe(client.replace('other: Log', 'other: Sink').replace('f(log: Log)', 'f(log: Sink)'))
})

test('in the file of a class that is exported apart from where it is declared, the interface is exported all the same', () => {
  const { writer } = readProject({
    'log.ts': "class Hidden {}\nclass Log { write(hidden: Hidden): void { void hidden }\n more(): number { return 1 } }\nexport default Log\n",
    'client.ts': "import Log from './log'\nexport const f = (log: Log, other: Log) => other.more()\n"
  })
  const outcome = writer.extractInterface({ type: 'log.ts#Log', members: ['write'], name: 'Sink', place: 'own-file', client: null, narrow: true })
  expect(!outcome.refused && outcome.notes).toContain('1 of 2 uses of Log as a type become Sink.')
  expect(!outcome.refused && outcome.changes.map(one => one.after!.split('\n').filter(line => /interface|import|const/.test(line)))).toEqual([
    ["import Log from './log'", "import { Sink } from './log'", 'export const f = (log: Sink, other: Log) => other.more()'], ['export interface Sink {']
  ])
})

test('an error that was there before does not stand in the way, a new one does', () => {
  const outcome = (client: string) => readProject({ 'log.ts': LOG, 'client.ts': client }).writer
    .extractInterface({ type: 'log.ts#Log', members: null, name: 'Sink', place: 'own-file', client: null, narrow: true })
  expect(outcome('import { Log } from "./log"\nexport const wrong: number = "text"\nexport function f(log: Log) { log.write("x") }').refused).toBe(false)
  // A declaration of the same name elsewhere, merged globally, would change what a name means.
  const clash = readProject({ 'log.ts': 'class Log { write() {} }\n', 'other.ts': 'interface LogPort { other: number }\ndeclare const it: LogPort\nit.other\n' }).writer
    .extractInterface({ type: 'log.ts#Log', members: null, name: 'LogPort', place: 'class-file', client: null, narrow: true })
  expect(clash.refused).toBe(true)
})

describe('the new interface\'s own text', () => {
  function extracted(code: string, members: string[] | null = null): string {
    const { writer } = readProject({ 'lock.ts': code })
    const outcome = writer.extractInterface({ type: 'lock.ts#Lock', members, name: 'Chamber', place: 'own-file', client: null, narrow: true })
    if (outcome.refused) throw new Error(outcome.message)
    return outcome.changes.find(change => change.before === null)!.after!
  }

  test('speaks of the interface, so that no client gets the class by it', () => {
    expect(extracted('export class Lock {\n  next(): Lock | null { return null }\n  all(): Promise<Lock[]> { return Promise.resolve([]) }\n}\n')).toBe(
      'export interface Chamber {\n  next(): Chamber | null\n  all(): Promise<Chamber[]>\n}\n')
  })

  test('keeps the class where the class wants itself', () => {
    const text = extracted('export class Lock {\n  private level = 0\n  same = (other: Lock): boolean => other.level === this.level\n  next(): Lock { return this }\n}\n')
    expect(text).toContain('next(): Chamber')
    expect(text).toContain('same: (other: Lock) => boolean')
    expect(text).toContain("import { Lock } from './lock'")
  })

  test('with type parameters', () => {
    expect(extracted('export class Lock<T> {\n  constructor(readonly held: T) {}\n  map<U>(f: (held: T) => U): Lock<U> { return new Lock(f(this.held)) }\n}\n')).toBe(
      'export interface Chamber<T> {\n  readonly held: T\n  map<U>(f: (held: T) => U): Chamber<U>\n}\n')
  })
})

test('what an inexact blame dropped is tried again', () => {
  // The error stands at a call that mentions every parameter; only `deep` needs the class.
  const text = narrowed('function needs(log: Log) { log.flush() }\nexport function mixed(a: Log, b: Log, deep: Log, c: Log) { a.write("a"); b.write("b"); c.write("c"); [a, b, c].length && needs(deep) }')
  expect(text).toBe('function needs(log: Log) { log.flush() }\nexport function mixed(a: Sink, b: Sink, deep: Log, c: Sink) { a.write("a"); b.write("b"); c.write("c"); [a, b, c].length && needs(deep) }')
})
