/** What the server answers with, view by view. Plain data. */
import type { TestBeside } from '@hollowmoor/core/model/test-beside'
import type { Commands, Decisions, StepInput } from './api.js'

export interface ProjectView {
  readonly id: number
  readonly name: string
  readonly path: string
  readonly demo: boolean
  readonly state: 'new' | 'reading' | 'ready' | 'failed'
  readonly error: string | null
  readonly surveyedAt: string | null
  readonly surveyId: number | null
  readonly summary: SurveySummary | null
  readonly commands: Commands
  /** Commands proposed from the build files. */
  readonly proposed: { readonly compile: string; readonly test: string }
  readonly settings: { readonly exclude: readonly string[]; readonly useGitignore: boolean; readonly tests: readonly string[]; readonly moduleRoots: readonly string[]; readonly effects: readonly { readonly match: string; readonly effect: string; readonly when?: 'used' | 'extended' }[]; readonly kind: 'application' | 'library' }
  /** The job that is reading it, if any. */
  readonly job: number | null
  readonly notices: readonly ProjectNotice[]
}

/**
 * Something about a project's folder that its owner should know: a write that a crash had interrupted was brought to its end,
 * or cannot be (blocked), or the folder came with a journal that this installation did not write (foreign).
 */
export interface ProjectNotice {
  readonly kind: 'recovered' | 'blocked' | 'foreign'
  readonly message: string
}

/** The figures of one survey by which it is compared with another. */
export interface SurveySummary {
  readonly files: number
  readonly testFiles: number
  readonly lines: number
  readonly types: number
  readonly modules: number
  readonly references: number
  readonly unresolved: number
  readonly unreadFiles: number
  readonly problems: number
  readonly notInstalled: readonly string[]
  readonly moduleCycles: number
  readonly modulesInCycles: number
  readonly fileCycles: number
  readonly typeCycles: number
  /** References that the best cuts of all module cycles change. */
  readonly cutReferences: number
  readonly proven: boolean
  readonly joints: { readonly welded: number; readonly bolted: number; readonly plugged: number; readonly inert: number }
  /** How many types with logic can be tested how; absent in surveys of earlier versions. */
  readonly verdicts?: VerdictCounts
  readonly findings?: number
}

export type Verdict = 'alone' | 'with-real-classes' | 'needs-outside' | 'not-known'
export type VerdictCounts = Readonly<Record<Verdict, number>>

export interface ModuleRow {
  readonly id: string
  readonly parent: string | null
  readonly types: number
  readonly lines: number
  readonly ca: number
  readonly ce: number
  readonly instability: number | null
  readonly abstractness: number | null
  readonly distance: number | null
  readonly subtree: { readonly types: number; readonly lines: number; readonly ca: number; readonly ce: number }
}

export interface GraphView {
  readonly within: string
  readonly nodes: readonly { readonly id: string; readonly label: string; readonly lines: number; readonly types: number; readonly opens: boolean; readonly verdicts: VerdictCounts }[]
  readonly dependencies: readonly { readonly from: string; readonly to: string; readonly references: number; readonly atRunTime: number; readonly cut: boolean }[]
  readonly cycles: readonly string[][]
}

/** Something worth changing, as it stands in a list. */
export interface FindingRow {
  readonly id: string
  readonly kind: string
  /** Id of the type or module, key of the cycle, or name of the external. */
  readonly subject: string
  readonly about: 'type' | 'module' | 'cycle' | 'external'
  readonly name: string
  /** The module that it lies in, or ''. */
  readonly module: string
  readonly sentence: string
  readonly remedies: readonly string[]
  /** What of the subject it is about, as the ids of steps that take a part of one have it behind the subject; '' where it is the whole. */
  readonly detail: string
  readonly cost: { readonly references: number; readonly files: number; readonly steps: number }
  readonly frees: { readonly modules: number; readonly types: number; readonly clients: number }
  readonly worth: number
  /** Why it stands where it does. */
  readonly rank: string
  /** Changes when the code that it is about does. */
  readonly digest: string
  readonly setAside: { readonly reason: string; readonly at: string } | null
  /** True where it was set aside and the code has changed since. */
  readonly cameBack: boolean
}

export interface EvidenceView {
  readonly what: string
  readonly file: string
  readonly line: number
  readonly column: number
  readonly excerpt: readonly string[]
  readonly firstLine: number
  readonly mark: readonly [number, number]
}

export interface FindingView extends FindingRow { readonly evidence: readonly EvidenceView[] }

export interface LandView {
  readonly summary: SurveySummary
  readonly graphs: readonly GraphView[]
  /** The folder whose graph is shown first. */
  readonly start: string
  readonly modules: readonly ModuleRow[]
  /** The findings that free most for least. */
  readonly nextSteps: readonly FindingRow[]
  readonly problems: readonly { readonly file: string; readonly line: number; readonly message: string }[]
  readonly unresolved: readonly { readonly file: string; readonly line: number; readonly column: number; readonly name: string; readonly reason: string }[]
  readonly excluded: readonly string[]
}

/** What git's log says of the code as it is now. */
export interface ChangingView {
  /** Commits that were looked at. */
  readonly commits: number
  /** Files that changed, with the types they declare; most changed first. */
  readonly files: readonly { readonly path: string; readonly changes: number; readonly types: readonly string[] }[]
  /** Pairs of files that change together though neither depends on the other. */
  readonly together: readonly { readonly a: string; readonly b: string; readonly together: number; readonly of: number }[]
  /** How much more each finding weighs because its code changes often. */
  readonly weights: Readonly<Record<string, number>>
}

export type CycleLevel = 'modules' | 'files' | 'types'

export interface CycleRow {
  readonly level: CycleLevel
  /** Stable while its members are: the level, where it lies, and its first member. */
  readonly key: string
  readonly within: string
  readonly members: readonly string[]
  readonly atRunTime: boolean
  readonly cut: readonly { readonly from: string; readonly to: string; readonly references: number }[]
  readonly cost: number
  readonly lowerBound: number
}

export interface CycleView extends CycleRow {
  readonly dependencies: readonly { readonly from: string; readonly to: string; readonly references: number; readonly atRunTime: number }[]
}

export interface ReferenceView {
  readonly file: string
  readonly line: number
  readonly column: number
  readonly kind: string
  readonly from: string
  readonly to: string
  readonly member: string
  readonly typeOnly: boolean
  /** Lines around it, the first of which is `firstLine`; `mark` are offsets in the line of the reference. */
  readonly excerpt: readonly string[]
  readonly firstLine: number
  readonly mark: readonly [number, number]
}

export interface TypeRow {
  readonly id: string
  readonly name: string
  readonly kind: string
  readonly module: string
  readonly file: string
  readonly line: number
  readonly lines: number
  readonly test: boolean
  readonly fanIn: number
  readonly fanOut: number
  readonly welded: number
  readonly bolted: number
  readonly plugged: number
  readonly inert: number
  /** Null for tests and for types without logic. */
  readonly verdict: Verdict | null
}

/** One step on the way to an outside effect. */
export interface PathStepView { readonly type: string; readonly name: string; readonly member: string; readonly file: string; readonly line: number; readonly column: number }

/** `wantedBy`: how many constructors want the same, where it is wanted all over the project and speaks of nothing else in it; otherwise 0. */
export interface SetupView { readonly name: string; readonly text: string; readonly kind: 'double' | 'real' | 'literal' | 'circular' | 'external'; readonly type: string | null; readonly wantedBy: number; readonly children: readonly SetupView[] }

/** What keeps a type from being tested by itself. */
export interface ReachView {
  /** False where only the stored survey is at hand: then no paths are told, and nothing to plug. */
  readonly searched: boolean
  readonly effects: readonly { readonly kind: string; readonly borne: boolean; readonly path: readonly PathStepView[] }[]
  /** The smallest set to plug, and how many other types the same would free; null where nothing needs plugging or none frees it, or where only the stored survey is at hand. */
  readonly plugs: { readonly collaborators: readonly { readonly name: string; readonly type: string | null }[]; readonly proven: boolean; readonly others: number } | null
  /** True where no plug frees it: its base class or framework holds it. */
  readonly held: boolean
  readonly setup: { readonly arguments: readonly SetupView[]; readonly realObjects: number; readonly doubles: number; readonly lines: number }
}

/** What would be of a type with some of its collaborators plugged. */
export interface PluggedView {
  readonly verdict: Verdict | null
  /** Kinds of effects that it would still reach. */
  readonly effects: readonly string[]
  /** How many other types that need the outside now would be free with the same plugged. */
  readonly others: number
}

export interface CohesionView {
  readonly lcom4: number | null
  readonly tcc: number | null
  readonly groups: readonly { readonly methods: readonly string[]; readonly fields: readonly string[] }[]
  readonly between: readonly { readonly from: string; readonly to: string; readonly line: number; readonly column: number }[]
}

export interface JointView {
  readonly kind: 'welded' | 'bolted' | 'plugged' | 'inert'
  readonly reason: string
  readonly name: string
  /** Id of the collaborator, or null for an external. */
  readonly type: string | null
  readonly references: number
  /** Outside effects that the collaborator itself reaches. */
  readonly behind: readonly string[]
  /** Welded to something that only computes. */
  readonly pure: boolean
  readonly firstFile: string
  readonly firstLine: number
  /** Remedies of this class that are about this collaborator. */
  readonly remedies: readonly { readonly id: string; readonly title: string }[]
}

export interface ClassView {
  readonly row: TypeRow
  readonly joints: readonly JointView[]
  readonly clients: readonly { readonly id: string; readonly name: string; readonly test: boolean; readonly members: readonly string[]; readonly references: number }[]
  readonly members: readonly { readonly name: string; readonly kind: string; readonly public: boolean; readonly line: number; readonly clients: number; readonly tests: number; readonly refuses: boolean }[]
  readonly implementers: readonly { readonly id: string; readonly name: string }[]
  readonly cycles: readonly CycleRow[]
  readonly reach: ReachView
  readonly cohesion: CohesionView
  /** Clients that use the same members, and those members. */
  readonly clientGroups: readonly { readonly clients: readonly string[]; readonly members: readonly string[] }[]
  readonly findings: readonly FindingRow[]
  readonly offers: readonly OfferView[]
}

export interface OfferView {
  readonly id: string
  readonly remedy: string
  readonly subject: string
  readonly title: string
  readonly edits: number
  readonly files: number
}

/** A branch that was made from a change. */
export interface NewBranchView { readonly branch: string; readonly commits: readonly string[] }

export interface ChoiceView {
  readonly name: string
  readonly label: string
  readonly kind: 'text' | 'yes-no' | 'one-of' | 'many-of' | 'groups' | 'lines'
  readonly options: readonly { readonly value: string; readonly label: string }[]
  readonly value: string
  readonly help: string
}

export interface FileView {
  readonly path: string
  readonly isNew: boolean
  readonly isGone: boolean
  readonly hunks: readonly { readonly oldStart: number; readonly newStart: number; readonly lines: readonly string[] }[]
}

export interface MeasuredEffect {
  readonly label: string
  readonly before: number
  readonly after: number
  /** Whether less of it is better, more of it is, or neither. */
  readonly better: 'less' | 'more' | 'neither'
}

export type ChangeState = 'planning' | 'refused' | 'planned' | 'written' | 'undone'

/** A step of a change; `misfit`: why it cannot be done on what the steps before it leave, once that is known. */
export type ChangeStep = StepInput & { readonly title: string; readonly notes: readonly string[]; readonly edits: number; readonly misfit?: string | null; readonly beside?: TestBeside
  /** Files that it changes; and, once it was divided, the paths of each batch, which compiles on those before it. */
  readonly files?: number; readonly batches?: readonly (readonly string[])[] }

export interface ChangeView {
  readonly id: number
  readonly projectId: number
  readonly state: ChangeState
  readonly title: string
  readonly steps: readonly ChangeStep[]
  readonly refusal: string | null
  /** Files of a planned change that are not any more what it was planned on. */
  readonly outdated: readonly string[]
  readonly files: readonly FileView[]
  readonly effects: readonly MeasuredEffect[]
  readonly decisions: Decisions
  /** What would not compile with the present decisions; empty where all is well. */
  readonly problems: readonly string[]
  readonly trial: TrialView | null
  readonly job: number | null
}

export interface TrialCommandView { readonly status: number | null; readonly ended: string | null; readonly seconds: number; readonly output: string }
export interface TrialSideView { readonly compile: TrialCommandView | null; readonly test: TrialCommandView | null; readonly passed: number; readonly failed: number }

export interface TrialView {
  readonly verdict: string
  readonly good: boolean
  readonly before: TrialSideView
  readonly after: TrialSideView
  readonly broken: readonly string[]
  readonly failedAlready: readonly string[]
  readonly mended: readonly string[]
  readonly gone: readonly string[]
  readonly lines: { readonly changed: number; readonly run: number; readonly testFiles: readonly string[] } | null
  /** Installed files of the user's own that were changed during the trial; not told of trials made before that was looked at. */
  readonly changedDependencies?: readonly string[]
}

export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled' | 'interrupted'

export interface JobView {
  readonly id: number
  readonly projectId: number
  readonly kind: 'survey' | 'plan' | 'trial' | 'history' | 'divide'
  readonly state: JobState
  readonly phase: string
  readonly done: number
  readonly total: number
  readonly error: string | null
  /** Output of a trial as it runs; only what came since the event before. */
  readonly output?: string
  readonly changeId: number | null
}

/** Figures of a project at one moment, for the chart of its history. */
export interface SharesView {
  readonly verdicts: VerdictCounts
  readonly welded: number
  readonly bolted: number
  readonly plugged: number
  readonly findings: number
  readonly types: number
  readonly lines: number
  readonly modulesInCycles: number
}

/** One survey that can be compared: of the files as they were then, or of a commit. */
export interface HistoryRow {
  readonly id: number
  readonly kind: 'survey' | 'commit'
  readonly at: string
  readonly commit: string | null
  /** What led to it: a change of Hollowmoor's, or the commit's subject. */
  readonly subject: string
  readonly shares: SharesView
}

export interface DependencyChange {
  readonly from: string
  readonly to: string
  readonly references: number
  readonly places: readonly { readonly file: string; readonly line: number; readonly commit: string | null }[]
}

export interface ComparisonView {
  readonly closed: readonly { readonly level: CycleLevel; readonly members: readonly string[] }[]
  readonly opened: readonly { readonly level: CycleLevel; readonly members: readonly string[]; readonly joined: readonly string[] }[]
  readonly gone: readonly DependencyChange[]
  readonly come: readonly DependencyChange[]
  readonly freed: readonly { readonly type: string; readonly before: Verdict; readonly after: Verdict }[]
  readonly tied: readonly { readonly type: string; readonly before: Verdict | null; readonly after: Verdict }[]
  readonly modules: readonly { readonly id: string; readonly before: ModuleShare | null; readonly after: ModuleShare | null }[]
}
export interface ModuleShare { readonly types: number; readonly lines: number; readonly ca: number; readonly ce: number }

/** What the branch at hand adds against where it left its base. */
export interface BranchView {
  readonly base: string
  readonly commit: string
  /** The job that surveys the base, while there is nothing to compare with yet. */
  readonly job: number | null
  readonly comparison: ComparisonView | null
}

export interface GitView { readonly branch: string | null; readonly commit: string | null; readonly uncommitted: readonly string[] }
