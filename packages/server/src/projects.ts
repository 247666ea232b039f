import { EventEmitter } from 'node:events'
import { existsSync } from 'node:fs'
import { basename, join } from 'node:path'
import type { Commands } from '@hollowmoor/contract/api'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import type { SettingsInput } from '@hollowmoor/contract/settings'
import type { JobView, ProjectNotice, ProjectView } from '@hollowmoor/contract/views'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { readAnyText } from '@hollowmoor/core/read/file-source'
import { DiskSource } from '@hollowmoor/host/disk-source'
import { gitState } from '@hollowmoor/host/git-state'
import { proposedCommands } from '@hollowmoor/host/proposed-commands'
import { openFolder, settingsOf } from '@hollowmoor/host/project-folder'
import type { Recovery } from '@hollowmoor/host/write-recovery'
import { foreignJournal, recoverProject } from '@hollowmoor/host/write-recovery'
import type { History } from './history.js'
import type { Jobs } from './jobs.js'
import { JobFailed } from './jobs.js'
import { HistoryRecord, JobRecord, ProjectRecord, SetAsideRecord, SurveyPartRecord, SurveyRecord } from './store/database.js'
import { PackedSurvey } from './worker/packed-survey.js'
import type { UnsettledWrites } from './unsettled-writes.js'
import { storedSurvey, storeParts } from './store/store-parts.js'
import type { CallName, ProjectCalls } from './worker/messages.js'
import { ProjectThread } from './worker/project-thread.js'

const NO_COMMANDS: Commands = { compile: '', test: '', seconds: 300, confirmed: false }

/** The registered projects, their surveys and their threads. */
export class Projects {
  private readonly threads = new Map<number, ProjectThread>()
  /** Projects whose threads hold a survey. */
  private readonly surveyed = new Set<number>()

  constructor(private readonly jobs: Jobs, private readonly history: History, private readonly unsettled: UnsettledWrites) {}

  async add(path: string, name?: string, demo = false): Promise<ProjectRecord | Refusal> {
    const folder = openFolder(path)
    if (isRefusal(folder)) return folder
    const known = await ProjectRecord.findOne({ where: { path: folder.root } })
    return known ?? ProjectRecord.create({ name: name ?? basename(folder.root), path: folder.root, demo, settings: null, commands: null })
  }

  async find(id: number): Promise<ProjectRecord | Refusal> {
    return (Number.isSafeInteger(id) ? await ProjectRecord.findByPk(id) : null) ?? refusal('PROJECT_UNKNOWN', 'There is no such project; it may have been removed.')
  }

  async remove(id: number): Promise<void> {
    await this.threads.get(id)?.close()
    this.threads.delete(id)
    this.surveyed.delete(id)
    const surveys = await SurveyRecord.findAll({ where: { projectId: id }, attributes: ['id'] })
    await SurveyPartRecord.destroy({ where: { surveyId: surveys.map(one => one.id) } })
    await SurveyRecord.destroy({ where: { projectId: id } })
    await SetAsideRecord.destroy({ where: { projectId: id } })
    await HistoryRecord.destroy({ where: { projectId: id } })
    await ProjectRecord.destroy({ where: { id } })
  }

  async views(): Promise<ProjectView[]> {
    return Promise.all((await ProjectRecord.findAll({ order: [['id', 'ASC']] })).map(record => this.view(record)))
  }

  async view(record: ProjectRecord): Promise<ProjectView> {
    // Looked up first: of one that ends while this is put together, the surveys below may not tell yet, and whoever is told of it learns how it ended.
    const reading = this.jobs.runningFor(record.id, 'survey')
    const survey = await SurveyRecord.findOne({ where: { projectId: record.id }, order: [['id', 'DESC']] })
    const last = await JobRecord.findOne({ where: { projectId: record.id, kind: 'survey' }, order: [['id', 'DESC']] })
    const own = record.settings ?? (existsSync(record.path) ? settingsOf(record.path) : DEFAULT_SETTINGS)
    return {
      id: record.id, name: record.name, path: record.path, demo: record.demo,
      state: reading ? 'reading' : last?.state === 'failed' ? 'failed' : survey ? 'ready' : 'new',
      error: !reading && last?.state === 'failed' ? last.error : isRefusal(own) ? own.message : null,
      surveyedAt: survey?.takenAt ?? null, surveyId: survey?.id ?? null, summary: survey?.summary ?? null,
      notices: this.noticesOf(record), commands: record.commands ?? NO_COMMANDS, proposed: orElse(() => proposedCommands(record.path), { compile: '', test: '' }), settings: isRefusal(own) ? DEFAULT_SETTINGS : own, job: reading?.id ?? null
    }
  }

  async update(record: ProjectRecord, change: { settings?: SettingsInput | undefined; commands?: Commands | undefined }): Promise<void> {
    const settings = change.settings && Object.fromEntries(Object.entries(change.settings).filter(([, value]) => value !== undefined))
    await record.update({
      ...(settings ? { settings: { ...DEFAULT_SETTINGS, ...record.settings, ...settings } } : {}), ...(change.commands ? { commands: change.commands } : {})
    })
  }

  /** Surveys a project, or joins the survey that is under way; after a change that one may have read too early, so that another follows it. */
  async survey(record: ProjectRecord, cause = ''): Promise<JobView> {
    const running = this.jobs.runningFor(record.id, 'survey')
    if (running && cause === '') return running
    return this.jobs.start(record.id, 'survey', null, async ({ progress, signal }) => {
      await this.recover(record)
      const outcome = await this.thread(record.id).call('survey', [record.path, record.settings], { progress, signal })
      if (isRefusal(outcome)) throw new JobFailed(outcome.message)
      this.surveyed.add(record.id)
      const git = await gitState(record.path)
      const survey = await SurveyRecord.create({ projectId: record.id, takenAt: new Date().toISOString(), commit: git?.commit ?? null, summary: outcome.summary })
      const digest = await this.thread(record.id).call('digest', [])
      if (!isRefusal(digest)) await this.history.keep(record, digest, git?.commit ?? null, cause)
      this.listeners.emit(String(record.id), survey.id)
      this.store(record.id, survey)
    })
  }

  /** What became of interrupted writes, by project; told as long as this server runs. */
  private readonly recovered = new Map<number, Recovery[]>()

  /** Brings a write that a crash interrupted to its end before the project is read. Never throws: what cannot be is told on the page. */
  async recover(record: ProjectRecord): Promise<void> {
    const known = (this.recovered.get(record.id) ?? []).filter(({ outcome }) => outcome !== 'stuck')
    const found = await recoverProject(record.path).catch((error: unknown) => refusal('INTERNAL', (error as Error).message))
    const news: readonly Recovery[] = isRefusal(found) ? [{ outcome: 'stuck', message: found.message }] : found
    this.recovered.set(record.id, [...known, ...news])
    this.unsettled.load()
    await this.unsettled.settleAll().catch(() => undefined)
  }

  private noticesOf(record: ProjectRecord): ProjectNotice[] {
    const foreign = orElse(() => foreignJournal(record.path), null)
    const recovered = this.recovered.get(record.id) ?? []
    return [
      ...recovered.map(({ outcome, message }) => ({ kind: outcome === 'stuck' ? 'blocked' as const : 'recovered' as const, message })),
      ...(foreign === null ? [] : [{ kind: 'foreign' as const, message: foreign }])
    ]
  }

  private readonly listeners = new EventEmitter().setMaxListeners(0)

  /** Calls back with each new survey of a project; returns what stops it. */
  listen(project: number, listener: (survey: number) => void): () => void {
    this.listeners.on(String(project), listener)
    return () => this.listeners.off(String(project), listener)
  }

  /** Surveys that are being stored, by project. */
  private readonly storing = new Map<number, { survey: number; done: Promise<void> }>()
  private closed = false

  /** Stores a survey while the server goes on; a newer one takes its place. */
  private store(project: number, survey: SurveyRecord): void {
    const before = this.storing.get(project)?.done ?? Promise.resolve()
    const wanted = (): boolean => !this.closed && this.storing.get(project)?.survey === survey.id
    const done = before.then(() => storeParts(survey, async at => {
      const parts = wanted() ? await this.thread(project).call('pack', [at]) : null
      return parts === null || isRefusal(parts) || !wanted() ? null : parts
    })).catch(() => undefined)
    this.storing.set(project, { survey: survey.id, done })
  }

  /** Waits until what was surveyed is stored. */
  async stored(): Promise<void> { for (const { done } of [...this.storing.values()]) await done }

  /** Asks a project's thread. After a restart of the server it is surveyed first; what the stored survey tells is told meanwhile. */
  async ask<N extends CallName>(record: ProjectRecord, name: N, args: Parameters<ProjectCalls[N]>): Promise<ReturnType<ProjectCalls[N]>> {
    const known = this.surveyed.has(record.id) ? null : await this.fromStore(record, name, args)
    if (!this.surveyed.has(record.id) && !this.jobs.runningFor(record.id, 'survey') && await SurveyRecord.count({ where: { projectId: record.id } }) > 0) await this.survey(record)
    if (known !== null) return known
    const answer = await this.thread(record.id).call(name, args)
    if (!isRefusal(answer) || answer.refused !== 'SURVEY_NONE' || !this.surveyed.delete(record.id)) return answer
    // Its thread died and took the survey along.
    await this.survey(record)
    return this.thread(record.id).call(name, args)
  }

  /** What the last survey that was stored answers; null where it does not. */
  private async fromStore<N extends CallName>(record: ProjectRecord, name: N, args: Parameters<ProjectCalls[N]>): Promise<ReturnType<ProjectCalls[N]> | null> {
    const survey = STORED.has(name) ? await storedSurvey(record.id) : undefined
    if (survey === undefined) return null
    const disk = new DiskSource()
    const textOf = (path: string) => { const outcome = readAnyText(disk, join(record.path, path)); return 'text' in outcome ? outcome.text : undefined }
    const packed = new PackedSurvey(async part => await SurveyPartRecord.findOne({ where: { surveyId: survey, name: part } }) ?? undefined, textOf)
    const answer = packed[name as 'land'] as (...given: readonly unknown[]) => Promise<unknown>
    return await answer.apply(packed, args) as ReturnType<ProjectCalls[N]> | null
  }

  thread(id: number): ProjectThread {
    let thread = this.threads.get(id)
    if (!thread) this.threads.set(id, thread = new ProjectThread())
    return thread
  }

  async close(): Promise<void> {
    this.closed = true
    for (const thread of this.threads.values()) await thread.close()
    this.threads.clear()
    await this.stored()
  }
}

/** What cannot be looked at on the disk is left out of a project's page, which tells all else. */
function orElse<Value>(look: () => Value, otherwise: Value): Value {
  try {
    return look()
  } catch {
    return otherwise
  }
}

/** Calls that a stored survey answers. */
const STORED: ReadonlySet<CallName> = new Set<CallName>(['land', 'fabric', 'cycles', 'cycle', 'types', 'type', 'references', 'jointReferences', 'findings', 'finding'])
