import type { MessagePort } from 'node:worker_threads'

/** What a parser's thread is started with. */
export interface ParserStart {
  readonly wasm: string
  readonly port: MessagePort
  /** Counted up and notified after each answer, so that who waits need not listen. */
  readonly answers: SharedArrayBuffer
}

export interface ParserTask {
  readonly id: number
  readonly texts: readonly string[]
}

export interface ParserAnswer {
  readonly id: number
  readonly records: readonly Int32Array[]
}
