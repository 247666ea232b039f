import type { MessagePort } from 'node:worker_threads'
import type { Cut } from '@hollowmoor/core/graph/feedback-arcs'

/** What a thread is started with. */
export interface WorkStart {
  /** The grammar's program, loaded when the first text comes. */
  readonly wasm: string
  readonly port: MessagePort
  /** Counted up and notified after each answer, so that who waits need not listen. */
  readonly answers: SharedArrayBuffer
}

export interface ParseWork { readonly texts: readonly string[] }
/** A graph whose best cut is wanted; its arcs as from, to and weight, one after another. */
export interface CutWork { readonly nodeCount: number; readonly arcs: Int32Array }
export type Work = ParseWork | CutWork

export interface WorkTask { readonly id: number; readonly work: Work }
export interface WorkAnswer { readonly id: number; readonly answer: readonly Int32Array[] | Cut }
