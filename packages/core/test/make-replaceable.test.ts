import { choicesOf, offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { measureProject } from '@hollowmoor/core/survey'
import type { Files as JavaFiles } from './java.js'
import { readJava } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'
import { toldBy } from './running.js'

/** Applies steps one after the other in memory. */
function apply(files: Files, ...ids: string[]) {
  const { survey, writer } = readProject(files)
  let now = survey
  const texts: Record<string, string | null> = {}
  for (const id of ids) {
    const outcome = planStep(id, {}, now, writer)
    if (outcome.refused) return { reason: outcome.reason, texts }
    for (const change of outcome.changes) texts[change.path] = change.after
    now = measureProject(writer.current.facts)
  }
  return { texts, survey: now, offers: offersOf(now, writer).map(one => one.id) }
}
function applyJava(files: JavaFiles, ...ids: string[]) {
  const { language, state, survey } = readJava(files)
  const writer = language.writer(state)
  let now = survey
  const texts: Record<string, string | null> = {}
  for (const id of ids) {
    const outcome = planStep(id, {}, now, writer)
    if (outcome.refused) return { reason: outcome.reason, message: outcome.message, texts }
    for (const change of outcome.changes) texts[change.path] = change.after
    now = measureProject(writer.current.facts)
  }
  return { texts, survey: now, offers: offersOf(now, writer).map(one => one.id) }
}

const LOG = `export class Log {
  static readonly LIMIT = 3
  // Lines so far.
  private static lines: string[] = []

  /** Adds a line. */
  static add(text: string, ...more: string[]): number {
    if (Log.lines.length < Log.LIMIT) this.lines.push(text, ...more)
    return [1].map(() => Log.size())[0]!
  }

  static size(): number { return Log.lines.length }
  static async clear(): Promise<void> { Log.reset() }
  private static reset(): void { Log.lines = [] }
}
`
const DESK = "import { Log } from './log'\n\nexport class Desk {\n  constructor(private readonly name: string) {}\n  open(): number { Log.add(this.name); return Log.size() + Log.LIMIT }\n}\nexport const desk = new Desk('a')\n"

describe('making a static replaceable in TypeScript', () => {
  test('an instance does the work behind an interface, the statics call it, and callers stay as they are', () => {
    expect(apply({ 'log.ts': LOG, 'desk.ts': DESK }, 'make-static-replaceable:log.ts#Log').texts).toEqual({
      'log.ts': `export interface LogPort {
  add(text: string, ...more: string[]): number
  size(): number
  clear(): Promise<void>
}

export class DefaultLog implements LogPort {
  // Lines so far.
  private lines: string[] = []

  add(text: string, ...more: string[]): number {
    if (this.lines.length < Log.LIMIT) this.lines.push(text, ...more)
    return [1].map(() => this.size())[0]!
  }

  size(): number { return this.lines.length }

  async clear(): Promise<void> { this.reset() }

  private reset(): void { this.lines = [] }
}

export class Log {
  static readonly LIMIT = 3

  private static current: LogPort = new DefaultLog()

  /** What the static methods call. */
  static instance(): LogPort {
    return Log.current
  }

  /** Lets another one stand in; gives the one before, to be put back. */
  static replace(other: LogPort): LogPort {
    const before = Log.current
    Log.current = other
    return before
  }

  /** Adds a line. */
  static add(text: string, ...more: string[]): number {
    return Log.current.add(text, ...more)
  }

  static size(): number {
    return Log.current.size()
  }
  static async clear(): Promise<void> {
    return Log.current.clear()
  }
}
`
    })
  })

  test('then a class gets the instance handed in, and its constants stay where they are', () => {
    const outcome = apply({ 'log.ts': LOG, 'desk.ts': DESK }, 'make-static-replaceable:log.ts#Log', 'inject:desk.ts#Desk:log.ts#Log')
    expect(outcome.texts['desk.ts']).toBe("import { Log, LogPort } from './log'\n\nexport class Desk {\n  constructor(private readonly name: string, private readonly log: LogPort) {}\n  open(): number { this.log.add(this.name); return this.log.size() + Log.LIMIT }\n}\nexport const desk = new Desk('a', Log.instance())\n")
    expect(outcome.offers).not.toContain('make-static-replaceable:log.ts#Log')
  })

  test('when nobody calls the statics any more, they go, and what lets another stand in with them', () => {
    const files = { 'log.ts': LOG, 'desk.ts': DESK }, steps = ['make-static-replaceable:log.ts#Log', 'inject:desk.ts#Desk:log.ts#Log'] as const
    expect(apply(files, steps[0]).offers).not.toContain('retire-static-face:log.ts#Log')
    expect(apply(files, steps[0], 'retire-static-face:log.ts#Log').reason).toBe('called')
    const injected = apply(files, ...steps)
    expect(injected.offers).toContain('retire-static-face:log.ts#Log')
    const done = apply(files, ...steps, 'retire-static-face:log.ts#Log')
    expect(done.texts['log.ts']!.slice(done.texts['log.ts']!.indexOf('export class Log {'))).toBe(`export class Log {
  static readonly LIMIT = 3

  private static current: LogPort = new DefaultLog()

  /** What the static methods call. */
  static instance(): LogPort {
    return Log.current
  }
}
`)
    expect(done.offers).not.toContain('retire-static-face:log.ts#Log')
    expect(apply(files, ...steps, 'retire-static-face:log.ts#Log', 'retire-static-face:log.ts#Log').reason).toBe('no-members')
  })

  test('what lets another stand in stays while somebody calls it', () => {
    const files = { 'log.ts': LOG, 'desk.ts': DESK, 'swap.ts': "import { Log } from './log'\nexport function swap(): void { const before = Log.replace(Log.instance()); Log.replace(before) }\n" }
    const written = apply(files, 'make-static-replaceable:log.ts#Log', 'inject:desk.ts#Desk:log.ts#Log')
    expect(apply({ ...files, ...written.texts } as Files, 'retire-static-face:log.ts#Log').texts['log.ts']).toContain('static replace(other: LogPort): LogPort {')
    expect(apply({ ...files, ...written.texts } as Files, 'retire-static-face:log.ts#Log').texts['log.ts']).not.toContain('static add(')
  })

  test('another stands in for what runs in a call alone, also where that waits', async () => {
    const files: Files = {
      'node.d.ts': "declare module 'node:async_hooks' { export class AsyncLocalStorage<T> { run<R>(store: T, callback: () => R): R; getStore(): T | undefined } }\n", 'log.ts': LOG, 'desk.ts': DESK
    }
    const { survey, writer } = readProject(files)
    const outcome = planStep('make-static-replaceable:log.ts#Log', { swap: 'during' }, survey, writer)
    if (outcome.refused) throw new Error(outcome.message)
    const log = outcome.changes.find(change => change.path === 'log.ts')!.after!
    expect(log).toContain(`  private static readonly current: LogPort = new DefaultLog()
  private static readonly others = new AsyncLocalStorage<LogPort>()

  /** What the static methods call: what stands in where this runs, else the one that there always is. */
  static instance(): LogPort {
    return Log.others.getStore() ?? Log.current
  }

  /** Lets another one stand in for what an action runs, also where that waits; what runs meanwhile does not see it. */
  static during<Result>(other: LogPort, action: () => Result): Result {
    return Log.others.run(other, action)
  }

  /** Adds a line. */
  static add(text: string, ...more: string[]): number {
    return Log.instance().add(text, ...more)
  }
`)
    expect(await toldBy({ ...files, 'log.ts': log, 'main.ts': `import { DefaultLog, Log } from './log'
const nap = () => new Promise<void>(done => setTimeout(done, 1))
const run = (times: number) => Log.during(new DefaultLog(), async () => { for (let at = 0; at < times; at++) { Log.add('x'); await nap() } return Log.size() })
export const told = (async () => { Log.add('outside'); const all = await Promise.all([run(1), run(3), run(2)]); return [...all, Log.size()] })()
` })).toEqual([1, 3, 2, 1])
  })

  test('doing it twice is refused as done', () => {
    expect(apply({ 'log.ts': LOG, 'desk.ts': DESK }, 'make-static-replaceable:log.ts#Log', 'make-static-replaceable:log.ts#Log').reason).toBe('done')
  })

  const refused: [string, string, string][] = [
    ['members of its objects', 'mixed', 'export class Log { static add() {}\n size = 1 }'], ['a variable that others set', 'field', 'export class Log { static add() {}\n static size = 1 }'],
    ['the class itself handed on', 'this', 'export class Log { static add() { return [this] } }'], ['a static block', 'field', 'export class Log { static add() {}\n static { void 0 } }'],
    ['a private helper in a function with a this of its own', 'this', 'export class Log { static add() { return function () { return Log.help() } }\n private static help() { return 1 } }'],
    ['arguments taken apart', 'parameters', 'export class Log { static add({ a }: { a: number }) { return a } }'], ['what inherits', 'heritage', 'class Base {}\nexport class Log extends Base { static add() {} }']
  ]
  test.each(refused)('refuses %s', (_, reason, log) => {
    expect(apply({ 'log.ts': log, 'use.ts': "import { Log } from './log'\nexport const use = () => Log.add\n" }, 'make-static-replaceable:log.ts#Log').reason).toBe(reason)
  })

  test('is offered where all is static, with names to choose', () => {
    const { survey, writer } = readProject({ 'log.ts': LOG, 'desk.ts': DESK })
    expect(offersOf(survey, writer).filter(one => one.remedy === 'make-static-replaceable').map(one => one.id)).toEqual(['make-static-replaceable:log.ts#Log'])
    expect(choicesOf('make-static-replaceable:log.ts#Log', survey, writer)?.map(one => one.name)).toEqual(['name', 'implementation', 'swap'])
  })
})

const JAVA_LOG = `package a;

import java.util.ArrayList;
import java.util.List;

/** Lines of all. */
public final class Log {
    public static final int LIMIT = 3;
    private static List<String> lines = new ArrayList<>();

    private Log() { }

    /** Adds a line. */
    static int add(String text, int... more) {
        if (lines.size() < LIMIT) Log.lines.add(text + more.length);
        return size(Kind.ALL);
    }

    public static int size(Kind kind) { return kind == Kind.ALL ? help() : 0; }

    private static int help() { return lines.size(); }

    public enum Kind { ALL, NONE }
}
`
const JAVA_DESK = 'package a;\n\nclass Desk {\n    private final String name;\n\n    Desk(String name) {\n        this.name = name;\n    }\n\n    int open() {\n        Log.add(name);\n        return Log.size(Log.Kind.ALL) + Log.LIMIT;\n    }\n\n    static Desk make() { return new Desk("a"); }\n}\n'

describe('functions of a file that are handed in together', () => {
  const BOOK = `import { appendFileSync, readFileSync } from 'node:fs'

const PATH = 'book'

/** Adds a line. */
export function note(line: string, times = 1): void { appendFileSync(PATH, line.repeat(times)) }
export const size = (): number => readFileSync(PATH, 'utf8').length
export function last<T>(all: readonly T[]): T | undefined { return all.at(-1) }
function helper(): void { note('x') }
export default helper
`
  const files: Files = {
    'node.d.ts': "declare module 'node:fs' { export function appendFileSync(path: string, text: string): void; export function readFileSync(path: string, encoding: 'utf8'): string }\n",
    'log-book.ts': BOOK, 'desk.ts': "import { note, size as length } from './log-book'\n\nexport class Desk {\n  constructor(private readonly name: string) {}\n  open(): number {\n    note(this.name)\n    return [1].map(() => length())[0]!\n  }\n}\nexport const desk = new Desk('a')\n",
    'office.ts': "import { Desk } from './desk'\nexport const office = new Desk('b')\n"
  }
  const ID = 'make-static-replaceable:log-book.ts#', INJECT = 'inject:desk.ts#Desk:log-book.ts#'

  test('stand in one object of an interface, and callers stay as they are', () => {
    const outcome = apply(files, ID)
    expect(Object.keys(outcome.texts)).toEqual(['log-book.ts'])
    expect(outcome.texts['log-book.ts']).toBe(`${BOOK}
/** What others use of this file, to be handed in. */
export interface LogBookFunctions {
  note(line: string, times?: number): void
  size(): number
  readonly last: typeof last
}

export const logBookFunctions: LogBookFunctions = { note, size, last }
`)
    expect(outcome.offers).toContain(INJECT)
    expect(outcome.offers).not.toContain(ID)
  })

  test('a class that calls them is handed the object then, by each name that an import gives them', () => {
    const { texts, survey } = apply(files, ID, INJECT)
    expect(texts['desk.ts']).toBe("import { LogBookFunctions, logBookFunctions } from './log-book'\n\nexport class Desk {\n  constructor(private readonly name: string, private readonly logBook: LogBookFunctions) {}\n  open(): number {\n    this.logBook.note(this.name)\n    return [1].map(() => this.logBook.size())[0]!\n  }\n}\nexport const desk = new Desk('a', logBookFunctions)\n")
    expect(texts['office.ts']).toBe("import { Desk } from './desk'\nimport { logBookFunctions } from './log-book'\nexport const office = new Desk('b', logBookFunctions)\n")
    const desk = survey!.model.typeIndex.get('desk.ts#Desk')!
    expect(survey!.verdicts[desk]).toBe('alone')
  })

  test('a function that calls them, and a constructor that keeps a default, have them by default', () => {
    const more = { ...files, 'tidy.ts': "import { note as write } from './log-book'\n\nexport function tidy(word: string): void {\n  write(word)\n  write('tidy')\n}\nexport const tidied = () => tidy('x')\n" }
    expect(apply(more, ID, 'inject:tidy.ts#:log-book.ts#@tidy').texts['tidy.ts']).toBe("import { LogBookFunctions, logBookFunctions } from './log-book'\n\nexport function tidy(word: string, logBook: LogBookFunctions = logBookFunctions): void {\n  logBook.note(word)\n  logBook.note('tidy')\n}\nexport const tidied = () => tidy('x')\n")
    const { survey, writer } = readProject({ ...files, ...apply(files, ID).texts } as Files)
    const kept = planStep(INJECT, { default: 'yes' }, survey, writer)
    expect(kept.refused ? kept.message : kept.changes.map(change => [change.path, /constructor\(.*/.exec(change.after!)![0]])).toEqual([['desk.ts', 'constructor(private readonly name: string, private readonly logBook: LogBookFunctions = logBookFunctions) {}']])
  })

  test('are not exported one by one any more once everybody is handed the object', () => {
    const RETIRE = 'retire-static-face:log-book.ts#'
    expect(apply(files, ID).offers).not.toContain(RETIRE)
    expect(apply(files, ID, RETIRE).reason).toBe('called')
    expect(apply(files, ID, INJECT).offers).toContain(RETIRE)
    const done = apply(files, ID, INJECT, RETIRE)
    expect(done.texts['log-book.ts']).toBe(apply(files, ID).texts['log-book.ts']!.replace('export function note', 'function note').replace('export const size', 'const size').replace('export function last', 'function last'))
    expect(done.texts['desk.ts']).toBe(apply(files, ID, INJECT).texts['desk.ts'])
    expect(done.offers).not.toContain(RETIRE)
    expect(apply(files, ID, INJECT, RETIRE, RETIRE).reason).toBe('no-members')
  })

  test('lose the export of each of their forms', () => {
    const book = "import { readFileSync } from 'node:fs'\nexport function read(path: string): number\nexport function read(path: string, from: number): number\n/** Reads. */\nexport async function wait(): Promise<number> { return read('a') }\nexport function read(path: string, from = 0): number { return readFileSync(path, 'utf8').length - from }\n"
    const ordered = book.replace("/** Reads. */\nexport async function wait(): Promise<number> { return read('a') }\n", '') + "/** Reads. */\nexport async function wait(): Promise<number> { return read('a') }\n"
    const forms = { 'node.d.ts': files['node.d.ts']!, 'log-book.ts': ordered, 'desk.ts': "import { read, wait } from './log-book'\nexport class Desk { open(): number { void wait(); return read('a', 1) } }\nexport const desk = new Desk()\n" }
    const done = apply(forms, ID, INJECT, 'retire-static-face:log-book.ts#')
    expect(done.texts['log-book.ts']!.startsWith(ordered.replaceAll('export ', ''))).toBe(true)
  })

  test('stay exported where another file exports them as well, or the package shows them', () => {
    const handed = apply({ ...files, 'index.ts': "export { note } from './log-book'\n" }, ID, INJECT, 'retire-static-face:log-book.ts#')
    expect(handed.texts['log-book.ts']).toContain('export function note(')
    expect(handed.texts['log-book.ts']).toContain('\nconst size =')
    const shown = { ...files, 'package.json': '{ "name": "log", "main": "./log-book.ts" }' }
    expect(apply(shown, ID, INJECT).offers).not.toContain('retire-static-face:log-book.ts#')
    expect(apply({ ...files, 'package.json': '{ "name": "log", "main": "./desk.ts" }' }, ID, INJECT).offers).toContain('retire-static-face:log-book.ts#')
  })

  test('are left where they reach nothing outside, where one is loaded in a circle, and where they are grouped already', () => {
    expect(apply({ ...files, 'log-book.ts': 'export function note(line: string): void { void line }\nexport function size(): number { return 1 }\n' }, 'extract-interface:desk.ts#Desk').offers).not.toContain(ID)
    expect(apply({ ...files, 'log-book.ts': `import { office } from './office'\n${BOOK}export const seen = office\n` }, ID).reason).toBe('load-cycle')
    expect(apply(files, ID, ID).reason).toBe('done')
    expect(apply({ ...files, 'log-book.ts': 'export function note(this: object, line: string): void { console.log(this, line) }\nexport const size = function (): number { return Object.keys(this as never).length }\n' }, ID).reason).toBe('no-members')
  })
})

describe('making a static replaceable in Java', () => {
  test('interface and class stand in files of their own, the statics call an instance', () => {
    expect(applyJava({ 'a/Log.java': JAVA_LOG, 'a/Desk.java': JAVA_DESK }, 'make-static-replaceable:a.Log').texts).toEqual({
      'a/LogPort.java': 'package a;\n\npublic interface LogPort {\n    /** Adds a line. */\n    int add(String text, int... more);\n\n    int size(Log.Kind kind);\n}\n',
      'a/DefaultLog.java': 'package a;\n\nimport java.util.ArrayList;\nimport java.util.List;\n\npublic class DefaultLog implements LogPort {\n    private List<String> lines = new ArrayList<>();\n\n    public int add(String text, int... more) {\n        if (lines.size() < Log.LIMIT) this.lines.add(text + more.length);\n        return size(Log.Kind.ALL);\n    }\n\n    public int size(Log.Kind kind) { return kind == Log.Kind.ALL ? help() : 0; }\n\n    private int help() { return lines.size(); }\n}\n',
      'a/Log.java': 'package a;\n\n/** Lines of all. */\npublic final class Log {\n    public static final int LIMIT = 3;\n\n    private Log() { }\n\n    private static volatile LogPort current = new DefaultLog();\n\n    /** What the static methods call. */\n    public static LogPort instance() {\n        return current;\n    }\n\n    /** Lets another one stand in; gives the one before, to be put back. */\n    public static LogPort replace(LogPort other) {\n        LogPort before = current;\n        current = other;\n        return before;\n    }\n\n    /** Adds a line. */\n    static int add(String text, int... more) {\n        return current.add(text, more);\n    }\n\n    public static int size(Kind kind) {\n        return current.size(kind);\n    }\n\n    public enum Kind { ALL, NONE }\n}\n'
    })
  })

  test('is not offered where a method of that name gives something else already', () => {
    const own = { 'a/Log.java': JAVA_LOG.replace('    public enum', '    public static Log instance() { return new Log(); }\n\n    public enum'), 'a/Desk.java': JAVA_DESK }
    const { survey, language, state } = readJava(own)
    expect(offersOf(survey, language.writer(state), undefined, 'make-static-replaceable')).toEqual([])
    expect(applyJava(own, 'make-static-replaceable:a.Log').message).toBe('Log has a static method instance() of its own; rename that first.')
    const asked = { ...own, 'a/Log.java': own['a/Log.java'].replace('instance() { return new Log(); }', 'instance(int which) { return null; }') }
    expect(Object.keys(applyJava(asked, 'make-static-replaceable:a.Log').texts)).toContain('a/LogPort.java')
  })

  test('when nobody calls the statics any more, they go', () => {
    const files = { 'a/Log.java': JAVA_LOG, 'a/Desk.java': JAVA_DESK }, steps = ['make-static-replaceable:a.Log', 'inject:a.Desk:a.Log'] as const
    expect(applyJava(files, steps[0], 'retire-static-face:a.Log').message).toBe('Desk still calls them; hand it the instance first.')
    expect(applyJava(files, ...steps).offers).toContain('retire-static-face:a.Log')
    const itself = { ...files, 'a/Log.java': JAVA_LOG.replace('    public enum', '    public static void main(String[] args) { System.out.println(size(Kind.ALL)); }\n\n    public enum') }
    expect(applyJava(itself, ...steps).offers).not.toContain('retire-static-face:a.Log')
    expect(applyJava(files, ...steps, 'retire-static-face:a.Log').texts['a/Log.java']).toBe('package a;\n\n/** Lines of all. */\npublic final class Log {\n    public static final int LIMIT = 3;\n\n    private Log() { }\n\n    private static volatile LogPort current = new DefaultLog();\n\n    /** What the static methods call. */\n    public static LogPort instance() {\n        return current;\n    }\n\n    public enum Kind { ALL, NONE }\n}\n')
  })

  test('then a class gets the instance handed in', () => {
    const outcome = applyJava({ 'a/Log.java': JAVA_LOG, 'a/Desk.java': JAVA_DESK }, 'make-static-replaceable:a.Log', 'inject:a.Desk:a.Log')
    expect(outcome.reason === undefined ? outcome.texts['a/Desk.java'] : outcome.message).toBe('package a;\n\nclass Desk {\n    private final String name;\n    private final LogPort log;\n\n    Desk(String name, LogPort log) {\n        this.log = log;\n        this.name = name;\n    }\n\n    int open() {\n        log.add(name);\n        return log.size(Log.Kind.ALL) + Log.LIMIT;\n    }\n\n    static Desk make() { return new Desk("a", Log.instance()); }\n}\n')
  })

  const refused: [string, string, string][] = [
    ['members of its objects', 'mixed', 'class Log { static void add() { } int size; }'], ['a variable that others set', 'field', 'class Log { static void add() { } static int size; }'],
    ['a static initialiser', 'initialiser', 'class Log { static void add() { } static { } }'], ['native methods', 'native', 'class Log { static native void add(); }'],
    ['what inherits', 'heritage', 'class Log extends Thread { static void add() { } }'], ['a private type in a signature', 'not-visible', 'class Log { static void add(Part part) { } private static class Part { } }']
  ]
  test.each(refused)('refuses %s', (_, reason, log) => {
    expect(applyJava({ 'a/Log.java': `package a;\n\n${log}\n`, 'a/Use.java': 'package a;\n\nclass Use { Log log; }\n' }, 'make-static-replaceable:a.Log').reason).toBe(reason)
  })
})
