import { spawn } from 'node:child_process'
import { PlainOutput } from './plain-output.js'

export interface CommandOutcome {
  /** Exit status, or null where it was ended. */
  readonly status: number | null
  /** Why it was ended, if it was. */
  readonly ended: 'time-limit' | 'cancelled' | 'too-much-output' | null
  /** The end of what it printed, without colours, at most `KEPT_OUTPUT` characters. */
  readonly output: string
  readonly seconds: number
}

/** Characters of output that are kept; what is printed before them is dropped. */
export const KEPT_OUTPUT = 400_000
/** A command that prints more than this is ended. */
const MOST_OUTPUT = 64 * 1024 * 1024

export interface CommandOptions {
  readonly folder: string
  readonly seconds: number
  readonly env?: Readonly<Record<string, string>>
  readonly signal?: AbortSignal
  readonly onOutput?: (text: string) => void
}

/**
 * Runs a command that the user has typed or confirmed, in a process group of its own, so that whatever it starts ends
 * with it. Never rejects.
 */
export function runCommand(command: string, options: CommandOptions): Promise<CommandOutcome> {
  const started = Date.now()
  return new Promise(resolve => {
    const env = { ...process.env, FORCE_COLOR: '0', NO_COLOR: '1', CI: 'true', ...options.env } as NodeJS.ProcessEnv
    // A test runner inside a test runner would report to the outer one.
    delete env.NODE_TEST_CONTEXT
    const child = spawn(command, { cwd: options.folder, shell: true, detached: true, stdio: ['ignore', 'pipe', 'pipe'], env })
    let output = '', printed = 0
    let ended: CommandOutcome['ended'] = null
    const end = (why: NonNullable<CommandOutcome['ended']>) => {
      if (ended) return
      ended = why
      kill(child.pid, 'SIGTERM')
      setTimeout(() => kill(child.pid, 'SIGKILL'), 1500).unref()
    }
    const timer = setTimeout(() => end('time-limit'), options.seconds * 1000)
    const cancel = () => end('cancelled')
    if (options.signal?.aborted) cancel()
    options.signal?.addEventListener('abort', cancel)
    const tell = (text: string) => {
      if (text === '') return
      output = (output + text).slice(-KEPT_OUTPUT)
      if (!ended) options.onOutput?.(text)
    }
    const streams = [child.stdout, child.stderr].map(stream => {
      const plain = new PlainOutput()
      stream.on('data', (chunk: Buffer) => {
        printed += chunk.length
        tell(plain.take(chunk))
        if (printed > MOST_OUTPUT) end('too-much-output')
      })
      return plain
    })
    const finish = (status: number | null, extra = '') => {
      clearTimeout(timer)
      options.signal?.removeEventListener('abort', cancel)
      // What it started and left behind goes too.
      kill(child.pid, 'SIGKILL')
      for (const plain of streams) tell(plain.end())
      resolve({ status: ended ? null : status, ended, output: output + extra, seconds: (Date.now() - started) / 1000 })
    }
    child.on('error', error => finish(null, `\n${error.message}`))
    child.on('exit', status => {
      // Pipes may be held open by what it left behind; a moment is enough for what is still under way.
      const wait = setTimeout(() => finish(status), 300)
      child.on('close', () => { clearTimeout(wait); finish(status) })
    })
  })
}

function kill(pid: number | undefined, signal: NodeJS.Signals): void {
  if (pid === undefined) return
  try { process.kill(-pid, signal) } catch { /* gone already */ }
}
