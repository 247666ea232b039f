import { parentPort } from 'node:worker_threads'
import type { StepInput } from '@hollowmoor/contract/api'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import type { PlannedStep } from '@hollowmoor/core/model/plan'
import { choicesOf, offersOf, parseRemedyId, planStep } from '@hollowmoor/core/remedy/catalogue'
import { batchesOf, usedFirst } from '@hollowmoor/core/remedy/batches'
import { composeChanges } from '@hollowmoor/core/remedy/composed-changes'
import { digestOf } from '@hollowmoor/core/compare/digest'
import { fabricOf } from '@hollowmoor/core/measure/rearrangement'
import type { Survey } from '@hollowmoor/core/survey'
import { measureProject } from '@hollowmoor/core/survey'
import { CompileCheck } from '@hollowmoor/host/compile-check'
import { problemsWith } from '@hollowmoor/host/problems-with'
import { changeLog } from '@hollowmoor/host/change-log'
import { solveCuts } from '@hollowmoor/host/languages'
import { surveyCommit } from '@hollowmoor/host/commit-survey'
import { settingsOf } from '@hollowmoor/host/project-folder'
import { OpenProject } from '@hollowmoor/host/open-project'
import { exported } from './exported.js'
import { changingView } from './changing-view.js'
import { findingRows, findingView } from './finding-views.js'
import { packSlice } from './packed-survey.js'
import type { PlannedChange, ProjectCalls, RequestMessage, ResponseMessage, UnfitChange } from './messages.js'
import { pluggedView } from './reach-views.js'
import { classView, cycleRows, cycleView, effectsOf, jointReferences, landView, referenceViews, summarise, typeRow, wrapOffers } from './views.js'

class Cancelled extends Error {}

let project: OpenProject | undefined
let settingsKey = ''
let progress: (phase: string, done: number, total: number) => void = () => undefined
let stop: () => void = () => undefined

const none = () => refusal('SURVEY_NONE', 'This project has not been surveyed yet; survey it first.')
/** Runs with the surveyed project, or tells that there is none. */
function withProject<T>(action: (open: OpenProject) => T) {
  return project ? action(project) : none()
}

const calls: ProjectCalls = {
  async survey(path, settings) {
    const key = JSON.stringify([path, settings])
    if (project && key === settingsKey) {
      const failed = await project.renew(progress, stop)
      if (failed) return failed
    } else {
      const opened = await OpenProject.open(path, settings ?? undefined, progress, stop)
      if (isRefusal(opened)) return opened
      project = opened
      settingsKey = key
    }
    return { summary: summarise(project.survey), settings: project.settings }
  },
  pack: slice => withProject(open => packSlice(open.survey, open.state.facts.excluded, slice, path => open.textOf(path))),
  land: () => withProject(open => landView(open.survey, open.state.facts.excluded, path => open.textOf(path))),
  cycles: () => withProject(open => cycleRows(open.survey)),
  cycle: key => withProject(open => cycleView(open.survey, key) ?? refusal('NOT_FOUND', 'This cycle is not there any more.', key)),
  fabric: () => withProject(({ survey }) => fabricOf(survey.model, survey.dependencies, survey.verdicts)),
  changing: () => withProject(open => changingView(open.survey, changeLog(open.root))),
  types: () => withProject(open => open.survey.model.types.map(type => typeRow(open.survey, type.index))),
  type: id => withProject(open => {
    const writer = open.session.writer(open.state)
    return classView(open.survey, id, offersOf(open.survey, writer, id), path => open.textOf(path), true, type => writer.replaceableMethods(type).length > 0) ?? refusal('TYPE_UNKNOWN', `There is no type ${id} in the last survey.`, id)
  }),
  digest: () => withProject(open => digestOf(open.survey)),
  async commitDigest(root, hash, settings) {
    const chosen = settings ?? settingsOf(root)
    if (isRefusal(chosen)) return chosen
    const survey = await surveyCommit(root, hash, chosen, progress, stop)
    return isRefusal(survey) ? survey : digestOf(survey)
  },
  plugged: (type, collaborators) => withProject(open => {
    const index = open.survey.model.typeIndex.get(type)
    return index === undefined ? refusal('TYPE_UNKNOWN', `There is no type ${type} in the last survey.`, type) : pluggedView(open.survey, index, collaborators)
  }),
  wraps: external => withProject(open => { const writer = open.session.writer(open.state); return wrapOffers(open.survey, external, type => offersOf(open.survey, writer, type)) }),
  exported: (what, title) => withProject(open => exported(open.survey, what, title)),
  findings: () => withProject(open => findingRows(open.survey, path => open.textOf(path))),
  finding: id => withProject(open => findingView(open.survey, id, path => open.textOf(path)) ?? refusal('NOT_FOUND', 'This finding is not there any more: what it was about has changed.', id)),
  references: (level, within, from, to) => withProject(open => referenceViews(open.survey, level, within, from, to, path => open.textOf(path))),
  jointReferences: (type, collaborator) => withProject(open => jointReferences(open.survey, type, collaborator, path => open.textOf(path))),
  choices: id => withProject(open => choicesOf(id, open.survey, open.session.writer(open.state)) ??
    refusal('REMEDY_UNKNOWN', 'This remedy is not offered any more; the code has changed.', id)),
  plan: steps => withProject(open => planSteps(open, steps)),
  problemsOf: files => withProject(open => problemsWith(open, files, compilers)),
  divide: (parts, size) => withProject(open => divide(open, parts, size)),
  changedFiles: () => withProject(open => open.changedSince())
}

const compilers = new CompileCheck()

/** Plans steps one on the other, in their order. One that does not fit is passed over, so that all that do not are told. */
async function planSteps(open: OpenProject, steps: readonly StepInput[]): Promise<PlannedChange | UnfitChange | ReturnType<typeof refusal>> {
  const writer = open.session.writer(open.state)
  let survey = open.survey
  const done: PlannedStep[] = [], told: PlannedChange['steps'][number][] = [], subjects: string[] = [], misfits: UnfitChange['misfits'][number][] = []
  for (const [index, step] of steps.entries()) {
    stop()
    progress('planning', index, steps.length)
    const parsed = parseRemedyId(step.id, survey)
    const title = parsed ? offersOf(survey, writer, parsed.subject).find(offer => offer.id === step.id)?.title ?? parsed.remedy.titleOf?.(parsed.subject, parsed.detail, survey, writer) ?? `${parsed.remedy.title}: ${namedBy(parsed, survey)}` : step.id
    const outcome = planStep(step.id, step.choices, survey, writer)
    // What is done already is no reason not to do the rest.
    const isDone = outcome.refused && outcome.reason === 'done' && steps.length > 1
    misfits.push({ title, misfit: outcome.refused && !isDone ? outcome.message : null })
    if (isDone) { done.push({ refused: false, changes: [], edits: 0, notes: [outcome.message], choices: step.choices }); told.push({ title, notes: [outcome.message], edits: 0, choices: step.choices }) }
    if (outcome.refused) continue
    done.push(outcome)
    const { notes, edits, choices, beside, recorder } = outcome
    told.push({ title, notes, edits, choices, ...(beside ? { beside } : {}), ...(recorder !== undefined && parsed ? { recorder: { subject: parsed.subject, path: recorder } } : {}) })
    if (parsed) subjects.push(parsed.subject)
    survey = measureProject(writer.current.facts, open.settings, solveCuts)
  }
  if (misfits.some(one => one.misfit !== null)) return { misfits }
  const files = composeChanges(done)
  const compiled = await compilers.check(open, files)
  if (compiled.errors.length > 0) return refusal('REMEDY_REFUSED', `It would not compile: ${compiled.errors[0]}`, steps.at(-1)?.id)
  const last = told.at(-1)
  if (last && compiled.told !== null) told[told.length - 1] = { ...last, notes: [...last.notes, compiled.told] }
  return { files, parts: done.map(step => step.changes), steps: told, effects: effectsOf(open.survey, survey, subjects) }
}

async function divide(open: OpenProject, parts: readonly (readonly FileChange[])[], size: number): Promise<string[][]> {
  const before = parts.slice(0, -1).map(changes => ({ changes })), last = parts.at(-1) ?? []
  let asked = 0
  const batches = await batchesOf(usedFirst(last, open.survey), size, changes => {
    stop()
    progress('dividing', Math.min(asked++, last.length), last.length)
    return problemsWith(open, composeChanges([...before, { changes }]), compilers)
  })
  return batches.map(batch => batch.map(one => one.path))
}

const port = parentPort!
port.on('message', async (message: RequestMessage) => {
  const { taskId } = message
  const answer = (response: ResponseMessage) => port.postMessage(response)
  progress = (phase, done, total) => answer({ taskId, progress: { phase, done, total } })
  stop = () => { if (Atomics.load(message.cancelled, 0) === 1) throw new Cancelled() }
  try {
    stop()
    const call = calls[message.call] as (...args: readonly unknown[]) => unknown
    answer({ taskId, result: await call(...message.args) })
  } catch (error) {
    if (error instanceof Cancelled) answer({ taskId, wasCancelled: true })
    else answer({ taskId, error: error instanceof Error ? error.stack ?? error.message : String(error) })
  }
})

/** What a step is about: a type, or the one of a file's functions and constants that is named. */
function namedBy({ subject, detail }: { readonly subject: string; readonly detail: string }, { model }: Survey): string {
  const { name, kind } = model.types[model.typeIndex.get(subject)!]!
  return kind === 'functions' && detail !== '' ? detail : name
}
