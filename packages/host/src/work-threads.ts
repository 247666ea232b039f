import { existsSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import type { MessagePort } from 'node:worker_threads'
import { MessageChannel, receiveMessageOnPort, Worker } from 'node:worker_threads'
import type { Work, WorkAnswer, WorkStart, WorkTask } from './work-messages.js'

/** A thread that has not answered for so long is given up, and its work done here. */
const PATIENCE = 60_000
/** Pieces that a thread has at once: while one's answer is taken, it works on the next. */
const AHEAD = 2

interface Thread { readonly port: MessagePort; readonly waiting: Set<number> }

/**
 * Does pieces of work on all processors. Reading a project is one synchronous piece of work, so this waits without the
 * event loop: answers are taken off the ports by hand, and this thread works too while the others do.
 */
export class WorkThreads {
  private threads: Thread[] | undefined
  private readonly answers = new Int32Array(new SharedArrayBuffer(4))
  /** Tasks of all calls are numbered on, so that an answer is never taken for one of another call. */
  private numbered = 0
  /** What waits for an answer, by the number of its task. */
  private readonly open = new Map<number, (answer: WorkAnswer['answer']) => void>()
  private readonly script = new URL('./work-thread.js', import.meta.url)

  constructor(private readonly wasm: string, private readonly count = Math.min(4, availableParallelism()) - 1) {}

  /** Does every piece: begins and finishes. */
  run<Piece, Result>(pieces: readonly Piece[], send: (piece: Piece) => Work, here: (piece: Piece) => Result, taken: (piece: Piece, result: Result | WorkAnswer['answer']) => void): void {
    this.begin(pieces, send, here, taken)()
  }

  /**
   * Gives the threads their first pieces, and returns what finishes: every piece is done in a thread (`send` tells it what to
   * do) or here; `taken` gets each result, in the order in which they come, and may throw to stop.
   */
  begin<Piece, Result>(pieces: readonly Piece[], send: (piece: Piece) => Work, here: (piece: Piece) => Result, taken: (piece: Piece, result: Result | WorkAnswer['answer']) => void): () => void {
    let threads = this.start()
    // Threads take from the front, this one from the end: it is not to wait for the largest piece.
    let next = 0, end = pieces.length, stopped = false
    const waiting = new Map<number, Piece>()
    const give = (thread: Thread, most = AHEAD): void => {
      while (thread.waiting.size < most && next < end) {
        const id = this.numbered++, piece = pieces[next++]!
        waiting.set(id, piece)
        this.open.set(id, answer => { if (!stopped) { waiting.delete(id); taken(piece, answer) } })
        thread.waiting.add(id)
        thread.port.postMessage({ id, work: send(piece) } satisfies WorkTask)
      }
    }
    for (let most = 1; most <= AHEAD; most++) for (const thread of threads) give(thread, most)
    const finish = (): void => {
      let heard = Date.now()
      while (next < end || waiting.size > 0) {
        const seen = Atomics.load(this.answers, 0)
        for (const thread of threads) {
          if (this.hear(thread)) heard = Date.now()
          give(thread)
        }
        if (next < end) { const piece = pieces[--end]!; taken(piece, here(piece)) }
        else if (waiting.size > 0) {
          Atomics.wait(this.answers, 0, seen, 200)
          if (Date.now() - heard > PATIENCE) {
            for (const piece of waiting.values()) taken(piece, here(piece))
            waiting.clear()
            this.threads = threads = []
          }
        }
      }
    }
    return () => {
      try { finish() } catch (error) { stopped = true; throw error }
    }
  }

  /** Takes the answers of a thread, for whichever call they are. An answer to one that was stopped is taken by nobody. */
  private hear(thread: Thread): boolean {
    let heard = false
    for (let message = receiveMessageOnPort(thread.port); message; message = receiveMessageOnPort(thread.port)) {
      const { id, answer } = message.message as WorkAnswer
      thread.waiting.delete(id)
      heard = true
      const take = this.open.get(id)
      this.open.delete(id)
      take?.(answer)
    }
    return heard
  }

  private start(): Thread[] {
    // From sources that are not built there is no thread to start.
    if (!this.threads && (this.count < 1 || !existsSync(fileURLToPath(this.script)))) this.threads = []
    return this.threads ??= Array.from({ length: this.count }, () => {
      const { port1, port2 } = new MessageChannel()
      const start: WorkStart = { wasm: this.wasm, port: port2, answers: this.answers.buffer as SharedArrayBuffer }
      const worker = new Worker(this.script, { workerData: start, transferList: [port2] })
      // They end with the process, and never keep it from ending.
      worker.unref()
      port1.unref()
      return { port: port1, waiting: new Set<number>() }
    })
  }
}
