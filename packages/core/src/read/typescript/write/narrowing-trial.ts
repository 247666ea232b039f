import type ts from 'typescript'
import type { FileChange, TextEdit } from '../../../edit/text-edit.js'
import type { Blame, Narrowable, NarrowingTrial } from '../../write/narrow-wherever-allowed.js'
import type { Snapshot } from '../session.js'
import type { BrokenName, PlannedRebinding } from './check.js'
import { affectedPaths, brokenBinding, errorsToCompiler, keyOf, newErrors } from './check.js'
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
  readonly broken: BrokenName | null
}

/** Errors that a change shows with nothing narrowed, though only in this order of looking: they are none, with whatever is narrowed. */
export class OrderErrors {
  private known: ReadonlySet<string> | undefined

  constructor(private readonly unnarrowed: () => NarrowedChange, private readonly context: WriteContext) {}

  /** Those of some errors that are not among them. What nothing narrowed shows is worked out when first asked for. */
  without(errors: readonly ts.Diagnostic[], after: Snapshot): ts.Diagnostic[] {
    if (errors.length === 0) return []
    this.known ??= this.find()
    return errors.filter(error => !this.known!.has(OrderErrors.place(error, after)))
  }

  private find(): Set<string> {
    const { session, snapshot, root } = this.context, { changes } = this.unnarrowed()
    const after = session.edit(snapshot, new Map(changes.map(change => [`${root}/${change.path}`, change.after])))
    const errors = newErrors(snapshot, after, root, affectedPaths(after, root, changes.map(change => change.path)))
    const real = new Set(errorsToCompiler(errors, snapshot, after, session))
    return new Set(errors.filter(error => !real.has(error)).map(error => OrderErrors.place(error, after)))
  }

  private static place(error: ts.Diagnostic, after: Snapshot): string { return `${error.file ? after.pathOf(error.file) ?? '' : ''} ${keyOf(error)}` }
}

/**
 * Reads a change with narrowed types again and tells what is wrong, and behind which of them. `order`: what is wrong in another order alone.
 * `onlyWhether`: whether something is wrong is all that is asked. `more`: keys of narrowed names in text that is new.
 */
export function narrowingTrial<Change extends NarrowedChange>(
  built: Change, planned: readonly PlannedRebinding[], { session, snapshot, root }: WriteContext, order: OrderErrors, onlyWhether: boolean, more: (after: Snapshot) => Iterable<readonly [string, string]> = () => []
): NarrowingTrial<Tried<Change>> {
  const after = session.edit(snapshot, new Map(built.changes.map(change => [`${root}/${change.path}`, change.after])))
  const changed = built.changes.map(change => change.path)
  // The changed files first: most of what is wrong shows there.
  let errors: ts.Diagnostic[] = [], checked = 0
  const look = (paths: readonly string[], isChanged: boolean): void => {
    const found = newErrors(snapshot, after, root, paths)
    // What is wrong only where nothing changed may be so in this order alone.
    errors = isChanged ? found : order.without(found, after)
    checked += paths.length
  }
  // In the same order either way: it can decide what the compiler finds.
  const inTurn = (paths: readonly string[], isChanged: boolean): void => { for (const group of onlyWhether ? paths.map(path => [path]) : [paths]) if (errors.length === 0) look(group, isChanged) }
  inTurn(changed, true)
  if (errors.length === 0) {
    checked = 0
    inTurn(affectedPaths(after, root, changed), false)
  }
  const broken = errors.length === 0 ? brokenBinding(snapshot, after, built.edits, planned) : null
  const keys = new Map([...built.narrowedAt, ...more(after)])
  const keyAt = (at: ts.SourceFile, start: number) => keys.get(`${after.pathOf(at) ?? ''}:${start}`)
  const behind = (active: ReadonlyMap<string, Narrowable>): Blame[] => {
    if (errors.length > 0) return errors.map(error => annotationsBehind(error, after, active, keyAt))
    return [annotationsBehind({ file: after.program.getSourceFile(`${root}/${broken!.path}`), start: broken!.start, length: 1 }, after, active, keyAt)]
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
