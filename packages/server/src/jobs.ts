import { EventEmitter } from 'node:events'
import type { JobView } from '@hollowmoor/contract/views'
import { systemRefusal } from '@hollowmoor/host/system-error'
import { JobRecord } from './store/database.js'
import { CallCancelled } from './worker/project-thread.js'

export interface JobContext {
  readonly signal: AbortSignal
  progress(phase: string, done: number, total: number): void
  output(text: string): void
}

/** A refusal that ends a job as failed, with a message for the user. */
export class JobFailed extends Error {}

/** Jobs: queued for each project, with progress, cancellable, kept in the database with their outcome. */
export class Jobs {
  private readonly events = new EventEmitter().setMaxListeners(0)
  private readonly live = new Map<number, { view: JobView; abort: AbortController; output: string }>()
  private readonly queues = new Map<number, Promise<void>>()
  /** Jobs that ended and could not be stored. */
  private readonly unsaved = new Map<number, JobView>()
  private closed = false

  /** The database goes: what still runs is told as interrupted at the next start. */
  close(): void { this.closed = true }

  async start(projectId: number, kind: JobView['kind'], changeId: number | null, work: (context: JobContext) => Promise<void>): Promise<JobView> {
    const record = await JobRecord.create({ projectId, kind, changeId, state: 'queued', phase: '', done: 0, total: 0, error: null })
    const entry = { view: viewOf(record), abort: new AbortController(), output: '' }
    this.live.set(record.id, entry)
    const run = async () => {
      const update = (part: Partial<JobView>, output?: string) => {
        entry.view = { ...entry.view, ...part }
        this.events.emit(String(record.id), output === undefined ? entry.view : { ...entry.view, output })
      }
      const finish = async (part: Pick<JobView, 'state' | 'error'>) => {
        if (this.closed) return
        try {
          await record.update({ ...part, phase: entry.view.phase, done: entry.view.done, total: entry.view.total })
        } catch {
          // The disk may be full: what came of the job is told as long as this server runs.
          this.unsaved.set(record.id, { ...entry.view, ...part })
        }
        update(part)
        this.live.delete(record.id)
      }
      if (this.closed) return
      if (entry.abort.signal.aborted) return finish({ state: 'cancelled', error: null })
      await record.update({ state: 'running' }).catch(() => undefined)
      update({ state: 'running' })
      try {
        await work({
          signal: entry.abort.signal,
          progress: (phase, done, total) => update({ phase, done, total }),
          output: text => { entry.output = (entry.output + text).slice(-200_000); update({}, text) }
        })
        await finish(entry.abort.signal.aborted ? { state: 'cancelled', error: null } : { state: 'done', error: null })
      } catch (error) {
        if (error instanceof CallCancelled || entry.abort.signal.aborted) await finish({ state: 'cancelled', error: null })
        else await finish({ state: 'failed', error: failureText(error) })
      }
    }
    const before = this.queues.get(projectId) ?? Promise.resolve()
    this.queues.set(projectId, before.then(run, run))
    return entry.view
  }

  async view(id: number): Promise<JobView | null> {
    const live = this.live.get(id)
    if (live) return live.view
    const record = this.unsaved.has(id) ? null : await JobRecord.findByPk(id)
    return this.unsaved.get(id) ?? (record && viewOf(record))
  }

  /** What a trial has printed so far, for a page that was loaded meanwhile. */
  outputOf(id: number): string { return this.live.get(id)?.output ?? '' }

  runningFor(projectId: number, kind?: JobView['kind']): JobView | undefined {
    return [...this.live.values()].map(entry => entry.view).find(view => view.projectId === projectId && (kind === undefined || view.kind === kind))
  }

  runningForChange(changeId: number): JobView | undefined {
    return [...this.live.values()].map(entry => entry.view).find(view => view.changeId === changeId)
  }

  cancel(id: number): boolean {
    const live = this.live.get(id)
    live?.abort.abort()
    return live !== undefined
  }

  listen(id: number, listener: (view: JobView) => void): () => void {
    this.events.on(String(id), listener)
    return () => this.events.off(String(id), listener)
  }

  async idle(): Promise<void> { await Promise.all(this.queues.values()) }
}

/** Why a job failed: for a refusal its own message, for an error of the system what to do about it, for a fault of ours what it was. */
function failureText(error: unknown): string {
  if (error instanceof JobFailed) return error.message
  return systemRefusal(error, 'This was not finished')?.message ?? `Something went wrong inside: ${(error as Error).message}`
}

function viewOf(record: JobRecord): JobView {
  const { id, projectId, changeId, kind, state, phase, done, total, error } = record
  return { id, projectId, changeId, kind, state, phase, done, total, error }
}
