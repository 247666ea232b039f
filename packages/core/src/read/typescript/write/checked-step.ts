import type ts from 'typescript'
import type { TextEdit } from '../../../edit/text-edit.js'
import type { PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { Refused } from '../../write/refused.js'
import { usedTooEarly } from '../../write/used-too-early.js'
import type { MovedText, PlannedRebinding } from './check.js'
import { affectedPaths, brokenBinding, describeError, errorsToCompiler, newErrors } from './check.js'
import type { WriteContext, Written } from './context.js'
import type { ProjectEditor } from './file-editor.js'
import { NameConflict } from './file-editor.js'
import { NotWritable } from './written-type.js'

/** What is told of a step beside its edits, and what its check needs to know. */
export interface StepToCheck {
  readonly notes: readonly string[]
  readonly choices: Readonly<Record<string, string>>
  /** What may mean something else afterwards. */
  readonly planned: readonly PlannedRebinding[]
  /** Errors that are passed over. */
  readonly passed?: (error: ts.Diagnostic) => boolean
  /** Text that stands elsewhere afterwards, told from the edits of each file. */
  readonly moved?: readonly MovedText[] | ((edits: ReadonlyMap<string, readonly TextEdit[]>) => readonly MovedText[])
}

/** Finishes the edits of a step, reads the result again, and gives it only if it compiles and every name keeps its meaning. */
export function checkedStep(editor: ProjectEditor, context: WriteContext, { notes, choices, planned, passed, moved = [] }: StepToCheck): Written | PlanRefusal {
  const { session, snapshot, root, unchecked } = context
  let built: ReturnType<ProjectEditor['finish']>
  try { built = editor.finish() } catch (error) { return refusalOf(error) }
  if (unchecked) return { after: snapshot, step: { refused: false, changes: built.changes, edits: built.count, notes, choices } }
  const after = session.edit(snapshot, new Map(built.changes.map(change => [`${root}/${change.path}`, change.after])))
  const changed = built.changes.map(change => change.path)
  // Who imported a file that is gone is no importer of it any more.
  const orphans = affectedPaths(snapshot, root, built.changes.filter(change => change.after === null).map(change => change.path))
  const found = newErrors(snapshot, after, root, new Set([...affectedPaths(after, root, changed), ...orphans])).filter(error => !passed?.(error))
  const errors = errorsToCompiler(found, snapshot, after, session)
  if (errors.length > 0) return planRefused('does-not-compile', `It would not compile: ${describeError(errors[0]!, root)}`)
  const broken = brokenBinding(snapshot, after, built.edits, planned, typeof moved === 'function' ? moved(built.edits) : moved)
  if (broken) return planRefused('binding', `${broken.message}.`)
  const early = usedTooEarly(snapshot.facts, changed, () => after.facts)
  if (early) return planRefused('order', `${early}.`)
  return { after, step: { refused: false, changes: built.changes, edits: built.count, notes, choices } }
}

/** The refusal that an error of planning stands for; throws what is none. */
export function refusalOf(error: unknown): PlanRefusal {
  if (error instanceof Refused) return planRefused(error.reason, /[.!]$/.test(error.message) ? error.message : `${error.message}.`)
  if (error instanceof NotWritable) return planRefused('not-visible', `Its type cannot be written down: ${error.message}.`)
  if (error instanceof NameConflict) return planRefused('import', `${error.message}.`)
  throw error
}
