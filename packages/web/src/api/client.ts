import type { Commands, Decisions, StepInput } from '@hollowmoor/contract/api'
import type { Fabric } from '@hollowmoor/core/measure/rearrangement'
import type { SettingsInput } from '@hollowmoor/contract/settings'
import type {
  BranchView, ChangeView, ChangingView, ChoiceView, ClassView, ComparisonView, CycleRow, CycleView, FindingRow, FindingView, GitView, HistoryRow,
  JobView, LandView, NewBranchView, OfferView, PluggedView, ProjectView, ReferenceView, TypeRow
} from '@hollowmoor/contract/views'

/** An answer that says no: what happened, and what to do next. */
export class ApiError extends Error {
  constructor(readonly code: string, message: string) { super(message) }
}

async function request<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response
  try {
    response = await fetch(path, { method, ...(body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }) })
  } catch {
    throw new ApiError('UNREACHABLE', 'Hollowmoor does not answer; start it again in its terminal and reload this page.')
  }
  if (response.status === 204) return undefined as T
  const answer: unknown = await response.json().catch(() => ({ code: 'INTERNAL', message: 'The answer could not be read.' }))
  if (!response.ok) throw new ApiError((answer as { code: string }).code, (answer as { message: string }).message)
  return answer as T
}

const query = (values: Record<string, string>) => new URLSearchParams(values).toString()
const at = (project: number, path = '') => `/api/projects/${project}${path}`

export const api = {
  projects: () => request<{ projects: ProjectView[]; demo: boolean }>('GET', '/api/projects'),
  addProject: (path: string) => request<ProjectView>('POST', '/api/projects', { path }),
  project: (id: number) => request<ProjectView>('GET', at(id)),
  updateProject: (id: number, change: { settings?: SettingsInput; commands?: Commands }) => request<ProjectView>('PATCH', at(id), change),
  removeProject: (id: number) => request<void>('DELETE', at(id)),
  resetDemo: (id: number) => request<void>('POST', `/api/projects/${id}/reset`),
  survey: (id: number) => request<JobView>('POST', at(id, '/survey')),
  git: (id: number) => request<GitView | null>('GET', at(id, '/git')),
  stale: (id: number) => request<{ changed: string[] }>('GET', at(id, '/stale')),
  land: (id: number) => request<LandView>('GET', at(id, '/land')),
  wraps: (id: number, external: string) => request<OfferView[]>('GET', `${at(id, '/wraps')}?${query({ external })}`),
  changing: (id: number) => request<ChangingView | null>('GET', at(id, '/changing')),
  fabric: (id: number) => request<Fabric>('GET', at(id, '/fabric')),
  cycles: (id: number) => request<CycleRow[]>('GET', at(id, '/cycles')),
  cycle: (id: number, key: string) => request<CycleView>('GET', at(id, `/cycle?${query({ key })}`)),
  history: (id: number) => request<HistoryRow[]>('GET', at(id, '/history')),
  surveyCommits: (id: number, commits: number) => request<JobView>('POST', at(id, '/history'), { commits }),
  compare: (id: number, before: number, after: number) => request<ComparisonView>('GET', at(id, `/compare?${query({ before: String(before), after: String(after) })}`)),
  branch: (id: number) => request<BranchView | null>('GET', at(id, '/branch')),
  plugged: (id: number, type: string, collaborators: string[]) => request<PluggedView>('POST', at(id, '/plugged'), { type, collaborators }),
  findings: (id: number) => request<FindingRow[]>('GET', at(id, '/findings')),
  finding: (id: number, finding: string) => request<FindingView>('GET', at(id, `/finding?${query({ id: finding })}`)),
  setAside: (id: number, finding: string, reason: string) => request<void>('PUT', at(id, '/aside'), { finding, reason }),
  takeBack: (id: number, finding: string) => request<void>('DELETE', at(id, `/aside?${query({ finding })}`)),
  types: (id: number) => request<TypeRow[]>('GET', at(id, '/types')),
  type: (id: number, type: string) => request<ClassView>('GET', at(id, `/type?${query({ type })}`)),
  references: (id: number, level: string, within: string, from: string, to: string) =>
    request<ReferenceView[]>('GET', at(id, `/references?${query({ level, within, from, to })}`)),
  joint: (id: number, type: string, collaborator: string) => request<ReferenceView[]>('GET', at(id, `/joint?${query({ type, collaborator })}`)),
  choices: (id: number, remedy: string) => request<ChoiceView[]>('GET', at(id, `/choices?${query({ remedy })}`)),
  changes: (id: number) => request<ChangeView[]>('GET', at(id, '/changes')),
  planAgain: (change: number, steps: readonly number[]) => request<ChangeView>('POST', `/api/changes/${change}/again`, { steps }),
  plan: (id: number, steps: StepInput[]) => request<ChangeView>('POST', at(id, '/changes'), { steps }),
  change: (id: number) => request<ChangeView>('GET', `/api/changes/${id}`),
  decide: (id: number, decisions: Decisions) => request<ChangeView>('PUT', `/api/changes/${id}/decisions`, decisions),
  tryOnCopy: (id: number) => request<ChangeView>('POST', `/api/changes/${id}/trial`),
  commit: (id: number, name: string, each: 'step' | 'all') => request<NewBranchView>('POST', `/api/changes/${id}/branch`, { name, each }),
  divide: (id: number, step: number, size: number) => request<ChangeView>('POST', `/api/changes/${id}/batches`, { step, size }),
  write: (id: number) => request<ChangeView>('POST', `/api/changes/${id}/write`),
  undo: (id: number) => request<ChangeView>('POST', `/api/changes/${id}/undo`),
  cancelJob: (id: number) => request<{ cancelled: boolean }>('POST', `/api/jobs/${id}/cancel`)
}

/** Watches a project while a page shows it; calls back with the number of each new survey. Returns what ends that. */
export function followProject(id: number, listener: (survey: number) => void): () => void {
  const events = new EventSource(`/api/projects/${id}/events`)
  events.onmessage = event => listener((JSON.parse(String(event.data)) as { survey: number }).survey)
  return () => events.close()
}

/** Follows a job until it ends; calls back with every state. Returns what stops following. */
export function followJob(id: number, listener: (job: JobView) => void): () => void {
  const events = new EventSource(`/api/jobs/${id}/events`)
  events.onmessage = event => {
    const job = JSON.parse(String(event.data)) as JobView
    listener(job)
    if (job.state !== 'queued' && job.state !== 'running') events.close()
  }
  return () => events.close()
}
