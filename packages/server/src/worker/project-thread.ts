import { Worker } from 'node:worker_threads'
import type { CallName, ProjectCalls, RequestMessage, ResponseMessage } from './messages.js'

export type Progress = (phase: string, done: number, total: number) => void

export class CallCancelled extends Error {}

interface Waiting { resolve: (value: unknown) => void; reject: (error: Error) => void; progress: Progress | undefined }

/**
 * The thread that owns one project's programs and survey. One call runs at a time, in order; a call can be cancelled
 * while it reads. A thread that dies (out of memory, say) fails its calls and is started anew by the next one.
 */
export class ProjectThread {
  private worker: Worker | undefined
  private readonly waiting = new Map<number, Waiting>()
  private nextTask = 1

  call<N extends CallName>(
    name: N, args: Parameters<ProjectCalls[N]>, options: { progress?: Progress; signal?: AbortSignal } = {}
  ): Promise<ReturnType<ProjectCalls[N]>> {
    const taskId = this.nextTask++
    const cancelled = new Int32Array(new SharedArrayBuffer(4))
    options.signal?.addEventListener('abort', () => Atomics.store(cancelled, 0, 1))
    return new Promise((resolve, reject) => {
      this.waiting.set(taskId, { resolve: resolve as (value: unknown) => void, reject, progress: options.progress })
      const message: RequestMessage = { taskId, call: name, args, cancelled }
      this.start().postMessage(message)
    })
  }

  private start(): Worker {
    if (this.worker) return this.worker
    const worker = new Worker(new URL('./project-worker.js', import.meta.url), { resourceLimits: { maxOldGenerationSizeMb: 8192, stackSizeMb: 16 } })
    worker.unref()
    worker.on('message', (message: ResponseMessage) => {
      const waiting = this.waiting.get(message.taskId)
      if (!waiting) return
      if ('progress' in message) { waiting.progress?.(message.progress.phase, message.progress.done, message.progress.total); return }
      this.waiting.delete(message.taskId)
      if ('result' in message) waiting.resolve(message.result)
      else if ('error' in message) waiting.reject(new Error(message.error))
      else waiting.reject(new CallCancelled())
    })
    const failed = (error: Error) => {
      if (this.worker === worker) this.worker = undefined
      for (const [taskId, { reject }] of this.waiting) { this.waiting.delete(taskId); reject(error) }
    }
    worker.on('error', failed)
    worker.on('exit', () => failed(new Error('the project\'s thread ended')))
    this.worker = worker
    return worker
  }

  async close(): Promise<void> { await this.worker?.terminate() }
}
