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

export function isPlanned(outcome: PlannedStep | PlanRefusal): outcome is PlannedStep {
  return !outcome.refused
}
