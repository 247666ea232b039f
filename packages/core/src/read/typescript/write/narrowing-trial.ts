import type ts from 'typescript'
import type { FileChange, TextEdit } from '../../../edit/text-edit.js'
import type { Narrowable, NarrowingTrial } from '../../write/narrow-wherever-allowed.js'
import type { Snapshot } from '../session.js'
import type { PlannedRebinding } from './check.js'
import { affectedPaths, brokenBinding, errorsToCompiler, newErrors } from './check.js'
import type { WriteContext } from './context.js'
import type { Annotation } from './narrow.js'
import { annotationsBehind } from './narrow.js'

/** A change with some types narrowed. */
export interface NarrowedChange {
  readonly changes: readonly FileChange[]
  readonly edits: ReadonlyMap<string, readonly TextEdit[]>
  readonly count: number
  /** Where each narrowed name stands in the new text, `path:offset`, and its key. */
  readonly narrowedAt: ReadonlyMap<string, string>
}

/** A change as it was written and what was found wrong with it: errors, or a name that would mean something else. */
export interface Tried<Change extends NarrowedChange> {
  readonly built: Change
  readonly after: Snapshot
  readonly errors: readonly ts.Diagnostic[]
  readonly broken: string | null
}

/** Reads a change with narrowed types again and tells what is wrong, and behind which of them. `more`: keys of narrowed names in text that is new. */
export function narrowingTrial<Change extends NarrowedChange>(
  built: Change, planned: readonly PlannedRebinding[], { session, snapshot, root }: WriteContext, more: (after: Snapshot) => Iterable<readonly [string, string]> = () => []
): NarrowingTrial<Tried<Change>> {
  const after = session.edit(snapshot, new Map(built.changes.map(change => [`${root}/${change.path}`, change.after])))
  const changed = built.changes.map(change => change.path)
  // The changed files first: most of what is wrong shows there.
  let errors = newErrors(snapshot, after, root, changed)
  let checked = changed.length
  if (errors.length === 0) {
    const affected = affectedPaths(after, root, changed)
    // What is wrong only where nothing changed may be so in this order alone.
    errors = errorsToCompiler(newErrors(snapshot, after, root, affected), snapshot, after, session)
    checked = affected.length
  }
  const broken = errors.length === 0 ? brokenBinding(snapshot, after, built.edits, planned) : null
  const keys = new Map([...built.narrowedAt, ...more(after)])
  const keyAt = (at: ts.SourceFile, start: number) => keys.get(`${after.pathOf(at) ?? ''}:${start}`)
  const behind = (active: ReadonlyMap<string, Narrowable>): Set<string> => {
    if (errors.length > 0) return new Set(errors.flatMap(error => annotationsBehind(error, after, active, keyAt)))
    // A file in which a name would mean something else keeps its types.
    const where = broken!.slice(0, broken!.indexOf(':'))
    const inFile = [...active].filter(([, annotation]) => annotation.path === where).map(([key]) => key)
    return new Set(inFile.length > 0 ? inFile : active.keys())
  }
  return { result: { built, after, errors, broken }, holds: errors.length === 0 && broken === null, behind, checked }
}

/** Where narrowed names stand after all edits, for tracing errors back to them. */
export function narrowedPlaces(narrowed: Iterable<Annotation>, edits: ReadonlyMap<string, readonly TextEdit[]>): Map<string, string> {
  const places = new Map<string, string>()
  for (const annotation of narrowed) {
    const start = annotation.name.getStart()
    let shift = 0
    for (const edit of edits.get(annotation.path) ?? []) if (edit.end <= start) shift += edit.text.length - (edit.end - edit.start)
    places.set(`${annotation.path}:${start + shift}`, `${annotation.path}:${start}`)
  }
  return places
}
