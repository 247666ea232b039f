import type { FileChange } from '../edit/text-edit.js'
import type { PlannedStep, PlanRefusal } from '../model/plan.js'
import { REMEDIES } from './catalogue.js'
import type { Choices } from './remedy.js'

/** A step of a change as the user asked for it. */
export interface StepRequest {
  readonly id: string
  readonly choices: Choices
}

/** Steps in the order in which they build on each other: extract, then inject. The order within a kind is the user's. */
export function orderSteps(steps: readonly StepRequest[]): StepRequest[] {
  const rank = (step: StepRequest) => REMEDIES.findIndex(remedy => step.id.startsWith(`${remedy.name}:`))
  return steps.map((step, index) => ({ step, index })).sort((a, b) => rank(a.step) - rank(b.step) || a.index - b.index).map(({ step }) => step)
}

/** The files of several steps as one change from the first state to the last; files that end as they began fall out. */
export function composeChanges(steps: readonly Pick<PlannedStep, 'changes'>[]): FileChange[] {
  const files = new Map<string, FileChange>()
  for (const step of steps) {
    for (const change of step.changes) {
      const first = files.get(change.path)
      files.set(change.path, { path: change.path, before: first ? first.before : change.before, after: change.after })
    }
  }
  return [...files.values()].filter(change => change.before !== change.after).sort((a, b) => (a.path < b.path ? -1 : 1))
}

export function isPlanned(outcome: PlannedStep | PlanRefusal): outcome is PlannedStep {
  return !outcome.refused
}
