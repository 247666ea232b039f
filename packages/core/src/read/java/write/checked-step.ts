import type { PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { usedTooEarly } from '../../write/used-too-early.js'
import type { BoundProgram } from '../bound-program.js'
import { affectedFiles } from './affected-files.js'
import { filesThatSayNewNames } from './captured-names.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import type { Flaw, PlannedRebinding } from './flaws.js'
import { describeFlaw, newFlaws } from './flaws.js'
import type { JavaEditor } from './java-editor.js'

/** What is told of a step beside its edits, and what may mean something else afterwards. */
export interface JavaStepToCheck {
  readonly notes: readonly string[]
  readonly choices: Readonly<Record<string, string>>
  readonly planned: readonly PlannedRebinding[]
  /** What is passed over: names of a library that is not on the class path. */
  readonly passed?: (flaw: Flaw, after: BoundProgram) => boolean
}

/** Finishes the edits of a step, reads the result again, and gives it only if nothing is wrong in it that was not wrong before. */
export function checkedJavaStep(editor: JavaEditor, { bound, state, language, unchecked }: JavaWriteContext, { notes, choices, planned, passed }: JavaStepToCheck): JavaWritten | PlanRefusal {
  const built = editor.finish()
  if (unchecked) return { after: state, step: { refused: false, changes: built.changes, edits: built.count, notes, choices } }
  const after = language.edit(state, new Map(built.changes.map(change => [`${language.root}/${change.path}`, change.after])))
  const now = language.bound(after)
  const changed = built.changes.map(change => change.path)
  const moved = new Map([...editor.moved].map(([from, to]) => [to, from]))
  const flaws = newFlaws(bound, now, new Set([...changed, ...affectedFiles(state, changed), ...filesThatSayNewNames(bound, now, changed)]), built.edits, planned, moved).filter(flaw => !passed?.(flaw, now))
  if (flaws.length > 0) return planRefused('does-not-compile', `It would not compile: ${describeFlaw(flaws[0]!, now)}`)
  const early = usedTooEarly(state.facts, changed, () => after.facts)
  if (early) return planRefused('order', `${early}.`)
  return { after, step: { refused: false, changes: built.changes, edits: built.count, notes, choices } }
}
