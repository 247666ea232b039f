import type { ExportName, StepInput } from '@hollowmoor/contract/api'
import type { Refusal } from '@hollowmoor/contract/errors'
import type {
  ChangingView, ChoiceView, ClassView, CycleRow, CycleView, FindingRow, FindingView, LandView, MeasuredEffect, OfferView, PluggedView, ReferenceView, SurveySummary, TypeRow, CycleLevel
} from '@hollowmoor/contract/views'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import type { TestBeside } from '@hollowmoor/core/model/test-beside'
import type { Fabric } from '@hollowmoor/core/measure/rearrangement'
import type { SurveyDigest } from '@hollowmoor/core/compare/digest'
import type { ProjectSettings } from '@hollowmoor/core/read/settings'

import type { SurveyPart } from './packed-survey.js'

/** What is told of a step that was planned; `recorder`: where it is a test of `subject` that has to be run first, so that it is known what it is to hold. */
export interface PlannedStepView {
  readonly title: string
  readonly notes: readonly string[]
  readonly edits: number
  readonly choices: Readonly<Record<string, string>>
  readonly beside?: TestBeside
  readonly recorder?: { readonly subject: string; readonly path: string }
}

export interface PlannedChange {
  readonly files: readonly FileChange[]
  /** What each step changes by itself, on the result of those before it. */
  readonly parts: readonly (readonly FileChange[])[]
  readonly steps: readonly PlannedStepView[]
  readonly effects: readonly MeasuredEffect[]
}

/** A change of which some steps cannot be done: of each step its title, and why it does not fit. */
export interface UnfitChange { readonly misfits: readonly { readonly title: string; readonly misfit: string | null }[] }

/** What a project's thread can be asked, by name: arguments and answer. All plain data. */
export interface ProjectCalls {
  survey(path: string, settings: ProjectSettings | null): Promise<{ summary: SurveySummary; settings: ProjectSettings } | Refusal>
  /** A slice of the survey in parts, to be stored. */
  pack(slice: number): SurveyPart[] | Refusal
  land(): LandView | Refusal
  cycles(): CycleRow[] | Refusal
  cycle(key: string): CycleView | Refusal
  /** What a what-if over modules is computed from. */
  fabric(): Fabric | Refusal
  /** What git's log says; null where there is none. */
  changing(): ChangingView | null | Refusal
  /** What is kept of the survey to be compared. */
  digest(): SurveyDigest | Refusal
  /** Surveys a commit of the repository around a folder; the project's own survey stays. */
  commitDigest(root: string, hash: string, settings: ProjectSettings | null): Promise<SurveyDigest | Refusal>
  /** What would be of a type with some of its collaborators plugged. */
  plugged(type: string, collaborators: readonly string[]): PluggedView | Refusal
  /** What wraps an external wherever it is used. */
  wraps(external: string): readonly OfferView[] | Refusal
  /** A table, a graph or a page to take along. */
  exported(what: ExportName, title: string): string | Refusal
  findings(): readonly FindingRow[] | Refusal
  finding(id: string): FindingView | Refusal
  types(): TypeRow[] | Refusal
  type(id: string): ClassView | Refusal
  references(level: CycleLevel, within: string, from: string, to: string): ReferenceView[] | Refusal
  jointReferences(type: string, collaborator: string): ReferenceView[] | Refusal
  choices(id: string): ChoiceView[] | Refusal
  plan(steps: readonly StepInput[]): Promise<PlannedChange | UnfitChange | Refusal> | Refusal
  /** What would not compile if just these texts were taken over. */
  problemsOf(files: readonly FileChange[]): Promise<string[]> | Refusal
  /** Paths of the batches into which the last of several steps, each on the result of those before it, can be divided. */
  divide(parts: readonly (readonly FileChange[])[], size: number): Promise<string[][]> | Refusal
  changedFiles(): string[] | Refusal
}

export type CallName = keyof ProjectCalls

export interface RequestMessage { readonly taskId: number; readonly call: CallName; readonly args: readonly unknown[]; readonly cancelled: Int32Array }
export type ResponseMessage =
  | { readonly taskId: number; readonly progress: { readonly phase: string; readonly done: number; readonly total: number } }
  | { readonly taskId: number; readonly result: unknown }
  | { readonly taskId: number; readonly error: string }
  | { readonly taskId: number; readonly wasCancelled: true }
