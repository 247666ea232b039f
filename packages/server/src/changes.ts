import type { Decisions, StepInput } from '@hollowmoor/contract/api'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import type { ChangeView, TrialView } from '@hollowmoor/contract/views'
import { csvOf } from '@hollowmoor/core/export/csv'
import { hunksOf, unifiedDiff, withHunks } from '@hollowmoor/core/edit/diff'
import type { CommitPlan } from '@hollowmoor/core/edit/patch-series'
import { inBatches, patchSeries } from '@hollowmoor/core/edit/patch-series'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import { orderSteps } from '@hollowmoor/core/remedy/change'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import type { NewBranch } from '@hollowmoor/host/commit-to-branch'
import { commitToBranch } from '@hollowmoor/host/commit-to-branch'
import type { Written } from '@hollowmoor/host/journalled-write'
import { writeChange } from '@hollowmoor/host/journalled-write'
import { outdatedFiles } from '@hollowmoor/host/outdated-files'
import type { CommandOutcome } from '@hollowmoor/host/run-command'
import type { TrialOutcome, TrialSide } from '@hollowmoor/host/trial'
import { tryOnCopy } from '@hollowmoor/host/trial'
import { undoChange } from '@hollowmoor/host/undo'
import type { Jobs } from './jobs.js'
import { planRecorded } from './planning.js'
import type { Projects } from './projects.js'
import { Serially } from './serially.js'
import type { ProjectRecord } from './store/database.js'
import { ChangeRecord } from './store/database.js'
import type { UnsettledWrites } from './unsettled-writes.js'

/** Changes: planned, decided on, tried, written and undone. */
export class Changes {
  /** What is written and undone in one project happens one after the other. */
  private readonly serially = new Serially<number>()

  constructor(private readonly jobs: Jobs, private readonly projects: Projects, private readonly unsettled: UnsettledWrites) {}

  async find(id: number): Promise<ChangeRecord | Refusal> {
    const record = Number.isSafeInteger(id) ? await ChangeRecord.findByPk(id) : null
    return record ? this.unsettled.settle(record) : refusal('CHANGE_UNKNOWN', 'There is no such change.')
  }

  async list(project: ProjectRecord): Promise<ChangeView[]> {
    const records = await ChangeRecord.findAll({ where: { projectId: project.id }, order: [['id', 'DESC']], limit: 100 })
    for (const record of records) await this.unsettled.settle(record)
    return records.map(record => ({ ...this.view(project, record), files: [] }))
  }

  /** All changes of a project as a table, newest first. */
  async csv(projectId: number): Promise<string> {
    const records = await ChangeRecord.findAll({ where: { projectId }, order: [['id', 'DESC']] })
    for (const record of records) await this.unsettled.settle(record)
    return csvOf(['id', 'state', 'title', 'steps', 'files', 'refused because', 'trial'], records.map(({ id, state, steps, files, refusal, trial }) =>
      [id, state, steps.map(step => step.title).join(', then '), steps.length, files.length, refusal, trial?.verdict ?? null]))
  }

  /**
   * A change as it is in the database. What runs for it is looked up before it is read, too: of a job that ends in between, what was
   * read tells nothing yet, and whoever is told of no job waits for none.
   */
  async current(id: number): Promise<ChangeView | Refusal> {
    const running = this.jobs.runningForChange(id)
    const record = await this.find(id)
    if (isRefusal(record)) return record
    const project = await this.projects.find(record.projectId)
    return isRefusal(project) ? project : this.view(project, record, running)
  }

  view(project: ProjectRecord, record: ChangeRecord, running = this.jobs.runningForChange(record.id)): ChangeView {
    return {
      id: record.id, projectId: record.projectId, state: record.state, steps: record.steps.map((step, index) => ({ ...step, files: record.parts?.[index]?.length ?? 0 })), refusal: record.refusal,
      outdated: record.state === 'planned' ? outdatedFiles(project.path, record.files) : [],
      title: record.steps.map(step => step.title).join(', then '), effects: record.effects, decisions: record.decisions, problems: record.problems,
      trial: record.trial, job: running?.id ?? null,
      files: record.files.map(file => ({
        path: file.path, isNew: file.before === null, isGone: file.after === null,
        hunks: hunksOf(file).map(({ oldStart, newStart, lines }) => ({ oldStart, newStart, lines }))
      }))
    }
  }

  diff(record: ChangeRecord): string { return unifiedDiff(accepted(record)) }

  /** A commit for each step, or for each batch of it; or one for all, also where a part was refused: what is left may be of no single step. */
  private commits(record: ChangeRecord, each: 'step' | 'all'): CommitPlan[] {
    const whole = Object.keys(record.decisions.refused).length === 0
    if (each === 'step' && whole && record.parts?.length === record.steps.length) return record.steps.flatMap((step, index) => inBatches({ title: step.title, notes: step.notes, changes: record.parts![index]! }, step.batches ?? []))
    return [{ title: record.steps.map(step => step.title).join(', then '), notes: record.steps.flatMap(step => step.notes), changes: accepted(record) }]
  }

  /** The change as mails that `git am` takes. */
  patches(record: ChangeRecord): string { return patchSeries(this.commits(record, 'step'), new Date()) }

  /** Commits a change to a new branch; the user's files, index and branch stay as they are. */
  async commit(project: ProjectRecord, record: ChangeRecord, { name, each }: { name: string; each: 'step' | 'all' }): Promise<NewBranch | Refusal> {
    if (record.state !== 'planned') return refusal('CHANGE_STATE', `This change is ${record.state}; only a planned one can be committed to a branch.`)
    if (accepted(record).length === 0) return refusal('CHANGE_STATE', 'Every file was refused; there is nothing to commit.')
    if (record.problems.length > 0) return refusal('DOES_NOT_COMPILE', `With what you refused it would not compile: ${record.problems[0]}`)
    return commitToBranch(project.path, name, this.commits(record, each))
  }

  async plan(project: ProjectRecord, requested: readonly StepInput[]): Promise<ChangeRecord> {
    const steps = orderSteps(requested)
    const record = await ChangeRecord.create({
      projectId: project.id, state: 'planning', steps: steps.map(step => ({ ...step, title: step.id, notes: [], edits: 0 })), refusal: null, files: [], parts: null, written: null, madeFolders: null,
      effects: [], decisions: { refused: {} }, problems: [], trial: null
    })
    await this.startPlanning(project, record, steps)
    return record
  }

  /** Plans a change anew on the code as it is now, with those of its steps that stay, in their order. What was refused of files that come out the same stays refused. */
  async planAgain(project: ProjectRecord, record: ChangeRecord, kept: readonly number[]): Promise<Refusal | undefined> {
    if (record.state !== 'planned' && record.state !== 'refused') return refusal('CHANGE_STATE', `This change is ${record.state}; only one that is not written can be planned again.`)
    if (this.jobs.runningForChange(record.id)) return refusal('CHANGE_STATE', 'This change is being planned or tried; wait until that has ended.')
    const steps = kept.map(number => record.steps[number])
    if (!steps.every(step => step !== undefined)) return refusal('CHOICE_INVALID', `This change has ${record.steps.length} step${record.steps.length === 1 ? '' : 's'}.`)
    await record.update({ state: 'planning', steps: steps.map(step => ({ ...step, misfit: null })), refusal: null, trial: null })
    await this.projects.survey(project)
    await this.startPlanning(project, record, steps)
    return undefined
  }

  private async startPlanning(project: ProjectRecord, record: ChangeRecord, steps: readonly StepInput[]): Promise<void> {
    await this.jobs.start(project.id, 'plan', record.id, async ({ progress, signal, output }) => {
      try {
        const outcome = await planRecorded(steps, {
          plan: async planned => await this.projects.thread(project.id).call('plan', [planned], { progress, signal }), root: project.path, commands: project.commands, signal, tell: output, progress
        })
        if (isRefusal(outcome)) { await record.update({ state: 'refused', refusal: outcome.message }); return }
        if ('misfits' in outcome) {
          // What is not offered any more keeps the title that it had.
          const told = record.steps.map((step, index) => ({ ...step, title: step.title === step.id ? outcome.misfits[index]!.title : step.title, misfit: outcome.misfits[index]!.misfit }))
          const [first] = told.flatMap(({ title, misfit }, index) => (misfit === null ? [] : [told.length > 1 ? `Step ${index + 1}, ${title}: ${misfit}` : misfit]))
          await record.update({ state: 'refused', refusal: first ?? null, steps: told })
          return
        }
        const decisions = decisionsThatStay(record, outcome.files)
        const problems = Object.keys(decisions.refused).length === 0 ? [] : await this.projects.thread(project.id).call('problemsOf', [acceptedFiles(outcome.files, decisions)])
        await record.update({
          state: 'planned', files: [...outcome.files], parts: outcome.parts.map(part => [...part]), effects: [...outcome.effects], decisions, problems: isRefusal(problems) ? [problems.message] : problems,
          steps: outcome.steps.map(({ title, notes, edits, choices, beside }, index) => ({ id: steps[index]!.id, title, notes, edits, choices: { ...choices }, misfit: null, ...(beside ? { beside } : {}) }))
        })
      } catch (error) {
        await record.update({ state: 'refused', refusal: signal.aborted ? 'Planning was cancelled.' : 'Planning failed inside; plan it again.' }).catch(() => undefined)
        throw error
      }
    })
  }

  /** Takes decisions over and says what would not compile with them. */
  async decide(project: ProjectRecord, record: ChangeRecord, decisions: Decisions): Promise<Refusal | undefined> {
    if (record.state !== 'planned') return refusal('CHANGE_STATE', `This change is ${record.state}; only a planned one can be decided on.`)
    const unknown = Object.keys(decisions.refused).find(path => !record.files.some(file => file.path === path))
    if (unknown !== undefined) return refusal('CHOICE_INVALID', `${unknown} is no file of this change.`, unknown)
    const problems = await this.projects.ask(project, 'problemsOf', [acceptedFiles(record.files, decisions)])
    if (isRefusal(problems)) return problems
    await record.update({ decisions, problems, trial: null })
    return undefined
  }

  /** Divides a step into batches that each compile on those before them. */
  async startDividing(project: ProjectRecord, record: ChangeRecord, { step, size }: { step: number; size: number }): Promise<Refusal | undefined> {
    if (record.state !== 'planned') return refusal('CHANGE_STATE', `This change is ${record.state}; only a planned one can be divided.`)
    if (this.jobs.runningForChange(record.id)) return refusal('CHANGE_STATE', 'Something is done with this change already; wait until that has ended.')
    if (!record.parts?.[step]) return refusal('CHOICE_INVALID', `This change has ${record.steps.length} step${record.steps.length === 1 ? '' : 's'}.`)
    const parts = record.parts.slice(0, step + 1)
    await this.jobs.start(project.id, 'divide', record.id, async ({ progress, signal }) => {
      const batches = await this.projects.thread(project.id).call('divide', [parts, size], { progress, signal })
      if (isRefusal(batches)) throw new Error(batches.message)
      await record.update({ steps: record.steps.map((one, index) => (index === step ? { ...one, batches } : one)) })
    })
    return undefined
  }

  async startTrial(project: ProjectRecord, record: ChangeRecord): Promise<Refusal | undefined> {
    const commands = project.commands
    if (!commands?.confirmed) return refusal('COMMAND_NOT_CONFIRMED', 'Confirm the compile and test commands first; nothing runs that you have not confirmed.')
    if (record.state !== 'planned') return refusal('CHANGE_STATE', `This change is ${record.state}; only a planned one can be tried.`)
    if (this.jobs.runningForChange(record.id)) return refusal('CHANGE_STATE', 'This change is being tried already.')
    await this.jobs.start(project.id, 'trial', record.id, async ({ signal, progress, output }) => {
      let stage = 0
      const outcome = await tryOnCopy(project.path, project.settings ?? DEFAULT_SETTINGS, accepted(record), commands, signal, event => {
        if (event.text.startsWith('$ ')) progress(`${event.side} the change: ${event.step}`, stage++, 4)
        output(event.text)
      })
      if (signal.aborted) return
      await record.update({ trial: trialView(outcome, commands) })
    })
    return undefined
  }

  write(project: ProjectRecord, record: ChangeRecord): Promise<Refusal | undefined> {
    return this.serially.run(project.id, async () => {
      await this.renewed(record)
      if (record.state !== 'planned') return refusal('CHANGE_STATE', `This change is ${record.state}; only a planned one can be written.`)
      const files = accepted(record)
      if (files.length === 0) return refusal('CHANGE_STATE', 'Every file was refused; there is nothing to write.')
      if (record.problems.length > 0) return refusal('DOES_NOT_COMPILE', `With what you refused it would not compile: ${record.problems[0]}`)
      const outcome = await writeChange(project.path, files, {
        owner: { data: this.unsettled.data, change: record.id, action: 'write' },
        acknowledge: async ({ made }) => { await record.update({ state: 'written', written: files, madeFolders: [...made] }) }
      })
      return this.finished(outcome, project, record, `change ${record.id}: ${record.steps.map(step => step.title).join('; ')}`)
    })
  }

  undo(project: ProjectRecord, record: ChangeRecord): Promise<Refusal | undefined> {
    return this.serially.run(project.id, async () => {
      await this.renewed(record)
      if (record.state !== 'written' || !record.written) return refusal('CHANGE_STATE', `This change is ${record.state}; only a written one can be undone.`)
      const outcome = await undoChange(project.path, record.written, record.madeFolders ?? [], {
        owner: { data: this.unsettled.data, change: record.id, action: 'undo' },
        acknowledge: async () => { await record.update({ state: 'undone' }) }
      })
      return this.finished(outcome, project, record, `change ${record.id} undone`)
    })
  }

  /** The record as it is now: what was asked for at the same time may have been done meanwhile. */
  private async renewed(record: ChangeRecord): Promise<void> {
    await record.reload()
    await this.unsettled.settle(record)
  }

  /** After the files are what they are to be, nothing that fails makes the answer another. */
  private async finished(outcome: Written | Refusal, project: ProjectRecord, record: ChangeRecord, cause: string): Promise<Refusal | undefined> {
    if (isRefusal(outcome)) return outcome
    if (!outcome.isAcknowledged) {
      this.unsettled.load()
      await this.renewed(record)
    }
    await this.projects.survey(project, cause).catch(() => undefined)
    return undefined
  }
}

function accepted(record: ChangeRecord): FileChange[] { return acceptedFiles(record.files, record.decisions) }

/** The files of a change with the refused hunks left as they were; files of which nothing is left fall out. */
export function acceptedFiles(files: readonly FileChange[], decisions: Decisions): FileChange[] {
  return files.flatMap(file => {
    const refused = decisions.refused[file.path]
    if (refused === undefined) return [file]
    if (refused === 'all') return []
    const hunks = hunksOf(file)
    const after = withHunks(file, new Set(hunks.map((_, index) => index).filter(index => !refused.includes(index))))
    return after === file.before ? [] : [{ ...file, after }]
  })
}

/** What was refused of files that are planned as they were before. */
function decisionsThatStay({ files, decisions }: ChangeRecord, planned: readonly FileChange[]): Decisions {
  const before = new Map(files.map(file => [file.path, file]))
  const isSame = (file: FileChange) => { const old = before.get(file.path); return old?.before === file.before && old.after === file.after }
  return { refused: Object.fromEntries(planned.filter(isSame).flatMap(({ path }) => (decisions.refused[path] === undefined ? [] : [[path, decisions.refused[path]]]))) }
}

function trialView(outcome: TrialOutcome, commands: { compile: string; test: string }): TrialView {
  const command = (one: CommandOutcome | null) => one && { status: one.status, ended: one.ended, seconds: one.seconds, output: one.output.slice(-60_000) }
  const side = (one: TrialSide) => ({
    compile: command(one.compile), test: command(one.test), passed: one.tests.filter(test => test.passed).length, failed: one.tests.filter(test => !test.passed).length
  })
  const { comparison, lines } = outcome
  const compiles = commands.compile === '' || outcome.after.compile?.status === 0
  const testsRan = outcome.after.tests.length > 0
  const sameStatus = outcome.after.test === null || outcome.after.test.status === 0 || outcome.after.test.status === outcome.before.test?.status
  const good = compiles && comparison.broken.length === 0 && comparison.gone.length === 0 && sameStatus
  return { verdict: verdictOf(), good, before: side(outcome.before), after: side(outcome.after), broken: comparison.broken, failedAlready: comparison.failedAlready, mended: comparison.mended, gone: comparison.gone, lines, changedDependencies: outcome.changedDependencies }

  /** Claims no more than was seen. */
  function verdictOf(): string {
    if (!compiles) return outcome.before.compile?.status === 0 ? 'It does not compile with your command, and did before.' : 'It does not compile with your command, and did not before either.'
    const compiled = commands.compile === '' ? '' : 'Compiles. '
    if (!testsRan) {
      if (outcome.after.test?.ended) return `${compiled}The tests were ended (${outcome.after.test.ended}).`
      return outcome.after.test === null ? `${compiled}No test command was run.` : `${compiled}Tests ran, but no results could be read from what they printed (exit status ${outcome.after.test.status}).`
    }
    const told = `${compiled}${comparison.after.passed} of ${outcome.after.tests.length} tests pass, ${comparison.before.passed} of ${outcome.before.tests.length} before.`
    if (comparison.broken.length > 0) return `${told} ${comparison.broken.length} passed before and fail${comparison.broken.length === 1 ? 's' : ''} now.`
    if (lines === null) return `${told} Which of them ran the changed lines is not known.`
    if (lines.changed === 0) return `${told} No line that can run was changed.`
    if (lines.run === 0) return `${told} No test runs these lines.`
    return `${told} They ran ${lines.run} of the ${lines.changed} changed lines that can run${lines.testFiles.length > 0 ? `, from ${lines.testFiles.length} test file${lines.testFiles.length === 1 ? '' : 's'}` : ''}.`
  }
}
