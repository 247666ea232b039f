import { existsSync } from 'node:fs'
import { basename } from 'node:path'
import type { Commands } from '@hollowmoor/contract/api'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import type { SettingsInput } from '@hollowmoor/contract/settings'
import type { JobView, ProjectView } from '@hollowmoor/contract/views'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { gitState } from '@hollowmoor/host/git-state'
import { proposedCommands } from '@hollowmoor/host/proposed-commands'
import { openFolder, settingsOf } from '@hollowmoor/host/project-folder'
import type { Jobs } from './jobs.js'
import { JobFailed } from './jobs.js'
import { JobRecord, ProjectRecord, SurveyRecord } from './store/database.js'
import type { CallName, ProjectCalls } from './worker/messages.js'
import { ProjectThread } from './worker/project-thread.js'

const NO_COMMANDS: Commands = { compile: '', test: '', seconds: 300, confirmed: false }

/** The registered projects, their surveys and their threads. */
export class Projects {
  private readonly threads = new Map<number, ProjectThread>()

  constructor(private readonly jobs: Jobs) {}

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
    await ProjectRecord.destroy({ where: { id } })
  }

  async views(): Promise<ProjectView[]> {
    return Promise.all((await ProjectRecord.findAll({ order: [['id', 'ASC']] })).map(record => this.view(record)))
  }

  async view(record: ProjectRecord): Promise<ProjectView> {
    const survey = await SurveyRecord.findOne({ where: { projectId: record.id }, order: [['id', 'DESC']] })
    const reading = this.jobs.runningFor(record.id, 'survey')
    const last = await JobRecord.findOne({ where: { projectId: record.id, kind: 'survey' }, order: [['id', 'DESC']] })
    const own = record.settings ?? (existsSync(record.path) ? settingsOf(record.path) : DEFAULT_SETTINGS)
    return {
      id: record.id, name: record.name, path: record.path, demo: record.demo,
      state: reading ? 'reading' : last && last.state !== 'done' && last.state !== 'cancelled' && last.state !== 'interrupted' ? 'failed' : survey ? 'ready' : 'new',
      error: !reading && last?.state === 'failed' ? last.error : isRefusal(own) ? own.message : null,
      surveyedAt: survey?.takenAt ?? null, surveyId: survey?.id ?? null, summary: survey?.summary ?? null,
      commands: record.commands ?? NO_COMMANDS, proposed: proposedCommands(record.path), settings: isRefusal(own) ? DEFAULT_SETTINGS : own, job: reading?.id ?? null
    }
  }

  async update(record: ProjectRecord, change: { settings?: SettingsInput | undefined; commands?: Commands | undefined }): Promise<void> {
    const settings = change.settings && Object.fromEntries(Object.entries(change.settings).filter(([, value]) => value !== undefined))
    await record.update({
      ...(settings ? { settings: { ...DEFAULT_SETTINGS, ...record.settings, ...settings } } : {}), ...(change.commands ? { commands: change.commands } : {})
    })
  }

  /** Surveys a project, or joins the survey that is under way. */
  async survey(record: ProjectRecord): Promise<JobView> {
    const running = this.jobs.runningFor(record.id, 'survey')
    if (running) return running
    return this.jobs.start(record.id, 'survey', null, async ({ progress, signal }) => {
      const outcome = await this.thread(record.id).call('survey', [record.path, record.settings], { progress, signal })
      if (isRefusal(outcome)) throw new JobFailed(outcome.message)
      const git = await gitState(record.path)
      await SurveyRecord.create({ projectId: record.id, takenAt: new Date().toISOString(), commit: git?.commit ?? null, summary: outcome.summary })
    })
  }

  /** Asks a project's thread; after a restart of the server it is surveyed first. */
  async ask<N extends CallName>(record: ProjectRecord, name: N, args: Parameters<ProjectCalls[N]>): Promise<ReturnType<ProjectCalls[N]>> {
    const answer = await this.thread(record.id).call(name, args)
    if (isRefusal(answer) && answer.refused === 'SURVEY_NONE' && await SurveyRecord.count({ where: { projectId: record.id } }) > 0 && !this.jobs.runningFor(record.id, 'survey')) {
      await this.survey(record)
      return this.thread(record.id).call(name, args)
    }
    return answer
  }

  thread(id: number): ProjectThread {
    let thread = this.threads.get(id)
    if (!thread) this.threads.set(id, thread = new ProjectThread())
    return thread
  }

  async close(): Promise<void> {
    for (const thread of this.threads.values()) await thread.close()
    this.threads.clear()
  }
}
