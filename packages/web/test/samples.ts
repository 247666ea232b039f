import type { ChangeView, ClassView, FindingView, JobView, ProjectView, TypeRow } from '@hollowmoor/contract/views'

/** Sample answers of the server; what a test is about it gives itself. */
export const project = (more: Partial<ProjectView> = {}): ProjectView => ({
  id: 1, name: 'withymere', path: '/home/keeper/withymere', demo: true, state: 'ready', error: null, surveyedAt: '2026-05-04T08:00:00.000Z', surveyId: 7, summary: null,
  commands: { compile: '', test: '', seconds: 120, confirmed: false }, proposed: { compile: 'npx tsc --noEmit', test: 'npm test' },
  settings: { exclude: [], useGitignore: true, tests: [], moduleRoots: [], effects: [], kind: 'application' }, job: null, notices: [], ...more
})

export const row = (name: string, more: Partial<TypeRow> = {}): TypeRow => ({
  id: `src/${name.toLowerCase()}.ts#${name}`, name, kind: 'class', module: 'src', file: `src/${name.toLowerCase()}.ts`, line: 1, lines: 1, test: false,
  fanIn: 0, fanOut: 0, welded: 0, bolted: 0, plugged: 0, inert: 0, verdict: null, ...more
})

export const job = (more: Partial<JobView> = {}): JobView => ({ id: 5, projectId: 1, kind: 'survey', state: 'running', phase: 'Reading', done: 0, total: 0, error: null, changeId: null, ...more })

export const finding = (name: string, more: Partial<FindingView> = {}): FindingView => ({
  id: `type-switch:src/desk.ts#${name}:dueFor`, kind: 'type-switch', subject: `src/desk.ts#${name}`, about: 'type', name, module: 'src', sentence: `${name} asks for a kind.`, remedies: ['replace-type-switch'],
  detail: 'dueFor', cost: { references: 2, files: 1, steps: 1 }, frees: { modules: 0, types: 1, clients: 0 }, worth: 1, rank: 'It frees one type.', digest: 'd', setAside: null, cameBack: false, evidence: [], ...more
})

export const change = (more: Partial<ChangeView> = {}): ChangeView => ({
  id: 3, projectId: 1, state: 'planned', title: 'Extract an interface from Lock', refusal: null, outdated: [], files: [], effects: [], decisions: { refused: {} }, problems: [], trial: null, job: null,
  steps: [{ id: 'extract-interface:src/lock.ts#Lock', choices: {}, title: 'Extract an interface from Lock', notes: [], edits: 2 }], ...more
})

export const classView = (name: string, more: Partial<ClassView> = {}): ClassView => ({
  row: row(name), joints: [], clients: [], members: [], implementers: [], cycles: [], clientGroups: [], findings: [], offers: [], cohesion: { lcom4: null, tcc: null, groups: [], between: [] },
  reach: { searched: true, effects: [], plugs: null, held: false, setup: { arguments: [], realObjects: 0, doubles: 0, lines: 1 } }, ...more
})
