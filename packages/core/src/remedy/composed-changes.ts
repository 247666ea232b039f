import type { FileChange } from '../edit/text-edit.js'
import type { PlannedStep } from '../model/plan.js'

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

/** Two steps, the second planned on the result of the first, as one. */
export function asOneStep(first: PlannedStep, second: PlannedStep): PlannedStep {
  return { ...second, changes: composeChanges([first, second]), edits: first.edits + second.edits, notes: [...first.notes, ...second.notes] }
}
