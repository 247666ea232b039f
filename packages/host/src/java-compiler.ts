import type { ChildProcessWithoutNullStreams } from 'node:child_process'
import { spawn } from 'node:child_process'
import { existsSync } from 'node:fs'
import { delimiter, dirname, isAbsolute, join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** The folder of a JDK's programs, by JAVA_HOME or the search path, relative entries left out; undefined where no JDK is installed. */
export function jdkPrograms(env: NodeJS.ProcessEnv = process.env): string | undefined {
  const folders = [...(env.JAVA_HOME ? [join(env.JAVA_HOME, 'bin')] : []), ...(env.PATH ?? '').split(delimiter)]
  return folders.find(folder => isAbsolute(folder) && existsSync(join(folder, 'javac')) && existsSync(join(folder, 'java')))
}

const WORKER = join(dirname(dirname(fileURLToPath(import.meta.url))), 'java/CompilerWorker.java')
/** A check that takes longer is given up: a change is then shown as checked by our own rules alone. */
const PATIENCE = 120_000

/** What is said of a package, and of a class, that is nowhere. */
const MISSING_PACKAGE = /^package ([\w.]+) does not exist$/, MISSING_CLASS = /^cannot find symbol; symbol: +class (\w+)$/, MISSING_IN_PACKAGE = /^cannot find symbol; symbol: +class (\w+); location: package ([\w.]+)$/

/**
 * The installed Java compiler as a process that stays: it is given a project's sources once and asked again and again what
 * would be wrong if some were others. It runs nothing of the project's: annotation processors are off.
 */
export class JavaCompiler {
  private process: ChildProcessWithoutNullStreams | undefined
  private received = Buffer.alloc(0)
  private answer: ((errors: string[] | undefined) => void) | undefined
  private set = ''
  private failed = false
  private readonly known = new Map<string, string[]>()
  private queue: Promise<unknown> = Promise.resolve()

  constructor(private readonly programs: string) {}

  /**
   * Errors, as `path:line: message`, that the compiler finds once some sources are others and does not find in the sources
   * as they are. Undefined where it could not be asked. `state`: names the sources, which are given anew when it changes.
   */
  newErrors(state: string, sources: ReadonlyMap<string, string>, options: readonly string[], changes: ReadonlyMap<string, string | null>): Promise<string[] | undefined> {
    const asked = this.queue.then(async () => {
      if (this.failed) return undefined
      if (this.set !== state) {
        this.send(0, [...sources], options)
        this.set = state
        this.known.clear()
      }
      const before = await this.errorsWith(new Map())
      const after = before && await this.errorsWith(changes)
      if (!before || !after) return undefined
      const key = (error: string) => error.replace(/:\d+: /, ': ')
      const left = new Map<string, number>(), known = new Set(before.map(key))
      for (const error of before) left.set(key(error), (left.get(key(error)) ?? 0) + 1)
      const fresh = after.filter(error => {
        // How often it is told of a file depends on where else it looks first.
        if (known.has(key(error)) && !changes.has(error.slice(0, error.indexOf(':')))) return false
        const count = left.get(key(error)) ?? 0
        if (count > 0) left.set(key(error), count - 1)
        return count === 0
      })
      // What did not compile where it stood does not where it stands now: code that is moved takes along what its class path lacks.
      // It may be in another package now, or hand on what has another type: a method that is not found is not found with that either.
      const whole = (error: string) => error.slice(error.indexOf(': ') + 2)
      const words = (error: string) => whole(error).replace(/; location: .*$/, '').replace(/(symbol: +method \w+)\(.*/, '$1').replace(/\b(?:[a-z_]\w*\.)+(?=[A-Z])/g, ''), gone = new Map<string, number>()
      for (const [error, count] of left) if (count > 0 && changes.has(error.slice(0, error.indexOf(': ')))) gone.set(words(error), (gone.get(words(error)) ?? 0) + count)
      // A library that is not at hand is missing wherever it is imported.
      const missing = new Set(before.flatMap(error => MISSING_PACKAGE.exec(words(error))?.[1] ?? []))
      const missingClasses = new Set(before.flatMap(error => { const found = MISSING_IN_PACKAGE.exec(whole(error)); return found ? [`${found[2]}.${found[1]}`] : [] }))
      const isOfMissing = (error: string) => {
        const [, lost, inPackage] = MISSING_IN_PACKAGE.exec(whole(error)) ?? []
        if (lost !== undefined) return missingClasses.has(`${inPackage}.${lost}`)
        const named = MISSING_PACKAGE.exec(words(error))?.[1], symbol = MISSING_CLASS.exec(words(error))?.[1], text = changes.get(error.slice(0, error.indexOf(':')))
        return named !== undefined ? missing.has(named) : symbol !== undefined && [...[...missing].map(one => `${one}.${symbol}`), ...missingClasses].some(one => one.endsWith(`.${symbol}`) && text?.includes(`import ${one};`))
      }
      return fresh.filter(error => {
        if (isOfMissing(error)) return false
        const count = gone.get(words(error)) ?? 0
        if (count > 0) gone.set(words(error), count - 1)
        return count === 0
      })
    })
    this.queue = asked.catch(() => undefined)
    return asked
  }

  private async errorsWith(changes: ReadonlyMap<string, string | null>): Promise<string[] | undefined> {
    const key = JSON.stringify([...changes])
    const known = this.known.get(key)
    if (known) return known
    this.send(1, [...changes])
    const errors = await new Promise<string[] | undefined>(resolve => {
      const timer = setTimeout(() => { this.fail() }, PATIENCE)
      this.answer = result => { clearTimeout(timer); resolve(result) }
      if (this.failed) this.answer(undefined)
    })
    if (errors) this.known.set(key, errors)
    return errors
  }

  private send(what: 0 | 1, files: readonly (readonly [string, string | null])[], options: readonly string[] = []): void {
    const parts: Buffer[] = []
    const int = (value: number): void => { const buffer = Buffer.alloc(4); buffer.writeInt32BE(value); parts.push(buffer) }
    const string = (text: string | null): void => { if (text === null) { int(-1); return } const bytes = Buffer.from(text); int(bytes.length); parts.push(bytes) }
    int(what)
    if (what === 0) { int(options.length); for (const option of options) string(option) }
    int(files.length)
    for (const [path, text] of files) { string(path); string(text) }
    this.start().stdin.write(Buffer.concat(parts))
  }

  private start(): ChildProcessWithoutNullStreams {
    if (this.process) return this.process
    const child = spawn(join(this.programs, 'java'), ['-Xss16m', WORKER], { stdio: ['pipe', 'pipe', 'pipe'] })
    child.on('error', () => this.fail())
    child.on('exit', () => this.fail())
    child.stdin.on('error', () => this.fail())
    child.stderr.resume()
    child.stdout.on('data', (data: Buffer) => this.take(data))
    // It never keeps the process that asks it from ending, and ends with it: its input closes.
    child.unref()
    for (const stream of [child.stdin, child.stdout, child.stderr]) (stream as unknown as { unref?: () => void }).unref?.()
    return this.process = child
  }

  private take(data: Buffer): void {
    this.received = Buffer.concat([this.received, data])
    let at = 0
    const int = (): number | undefined => { if (this.received.length < at + 4) return undefined; at += 4; return this.received.readInt32BE(at - 4) }
    const count = int()
    if (count === undefined) return
    const errors: string[] = []
    for (let index = 0; index < count; index++) {
      const length = int()
      if (length === undefined || this.received.length < at + length) return
      errors.push(this.received.toString('utf8', at, at + length))
      at += length
    }
    this.received = this.received.subarray(at)
    this.answer?.(errors)
    this.answer = undefined
  }

  private fail(): void {
    this.failed = true
    this.process?.kill()
    this.answer?.(undefined)
    this.answer = undefined
  }

  /** Ends the process. */
  close(): void { this.fail() }
}
