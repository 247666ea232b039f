import { existsSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import type { MessagePort } from 'node:worker_threads'
import { MessageChannel, receiveMessageOnPort, Worker } from 'node:worker_threads'
import { FlatTree } from '@hollowmoor/core/read/syntax/flat-tree'
import type { Grammar } from '@hollowmoor/core/read/syntax/grammar'
import type { ParserAnswer, ParserStart, ParserTask } from './parser-messages.js'

/** Text that goes to a thread at once, in characters: enough that sending it costs little beside parsing it. */
const CHUNK = 400_000
/** Less text than this is parsed here: a thread takes longer to start. */
const LEAST = 4_000_000
/** A thread that has not answered for so long is given up, and its work done here. */
const PATIENCE = 20_000

interface Thread { readonly port: MessagePort; readonly waiting: Set<number> }

/**
 * Parses many texts on all processors. Reading a project is one synchronous piece of work, so this waits without the event
 * loop: answers are taken off the ports by hand, and this thread parses too while the others do.
 */
export class ParserThreads {
  private threads: Thread[] | undefined
  private readonly answers = new Int32Array(new SharedArrayBuffer(4))
  /** Tasks of all calls are numbered on, so that a late answer is never taken for one of a later call. */
  private numbered = 0
  private readonly script = new URL('./parser-thread.js', import.meta.url)

  constructor(private readonly grammar: Grammar, private readonly wasm: string, private readonly count = Math.min(4, availableParallelism()) - 1) {}

  /** Trees in the order of the texts; `done` is told how many are ready, and may throw to stop. */
  parseAll(texts: readonly string[], done: (count: number) => void): FlatTree[] {
    const size = texts.reduce((sum, text) => sum + text.length, 0)
    const trees = new Array<FlatTree | undefined>(texts.length)
    const chunks = chunksOf(texts)
    let ready = 0
    const take = (chunk: readonly number[], records: readonly Int32Array[]): void => {
      chunk.forEach((at, index) => { trees[at] = new FlatTree(texts[at]!, records[index]!) })
      ready += chunk.length
      done(ready)
    }
    const here = (chunk: readonly number[]): void => take(chunk, chunk.map(at => this.grammar.records(texts[at]!)))
    const threads = size < LEAST ? [] : this.start()
    let next = 0
    const open = new Map<number, readonly number[]>()
    const give = (thread: Thread): void => {
      while (thread.waiting.size < 2 && next < chunks.length) {
        const id = this.numbered++, chunk = chunks[next++]!
        open.set(id, chunk)
        thread.waiting.add(id)
        thread.port.postMessage({ id, texts: chunk.map(at => texts[at]!) } satisfies ParserTask)
      }
    }
    for (const thread of threads) give(thread)
    let heard = Date.now()
    while (next < chunks.length || open.size > 0) {
      const seen = Atomics.load(this.answers, 0)
      for (const thread of threads) {
        for (let message = receiveMessageOnPort(thread.port); message; message = receiveMessageOnPort(thread.port)) {
          const { id, records } = message.message as ParserAnswer
          thread.waiting.delete(id)
          heard = Date.now()
          // An answer to an earlier call that was stopped is no longer wanted.
          const chunk = open.get(id)
          if (chunk) { open.delete(id); take(chunk, records) }
        }
        give(thread)
      }
      if (next < chunks.length) here(chunks[next++]!)
      else if (open.size > 0) {
        Atomics.wait(this.answers, 0, seen, 200)
        if (Date.now() - heard > PATIENCE) {
          for (const chunk of open.values()) here(chunk)
          open.clear()
          this.threads = []
        }
      }
    }
    return trees as FlatTree[]
  }

  private start(): Thread[] {
    // From sources that are not built there is no thread to start.
    if (!this.threads && (this.count < 1 || !existsSync(fileURLToPath(this.script)))) this.threads = []
    return this.threads ??= Array.from({ length: this.count }, () => {
      const { port1, port2 } = new MessageChannel()
      const start: ParserStart = { wasm: this.wasm, port: port2, answers: this.answers.buffer as SharedArrayBuffer }
      const worker = new Worker(this.script, { workerData: start, transferList: [port2] })
      // They end with the process, and never keep it from ending.
      worker.unref()
      port1.unref()
      return { port: port1, waiting: new Set<number>() }
    })
  }
}

/** Places of the texts, in groups of about a chunk each. */
function chunksOf(texts: readonly string[]): number[][] {
  const chunks: number[][] = []
  let size = Infinity
  texts.forEach((text, at) => {
    if (size >= CHUNK) { chunks.push([]); size = 0 }
    chunks[chunks.length - 1]!.push(at)
    size += text.length
  })
  return chunks
}
