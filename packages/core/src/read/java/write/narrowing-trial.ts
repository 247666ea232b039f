import type { FileChange, TextEdit } from '../../../edit/text-edit.js'
import type { Narrowable, NarrowingTrial } from '../../write/narrow-wherever-allowed.js'
import type { BoundProgram } from '../bound-program.js'
import type { JavaState } from '../java-session.js'
import { affectedFiles } from './affected-files.js'
import { filesThatSayNewNames } from './captured-names.js'
import type { JavaWriteContext } from './context.js'
import type { Flaw, PlannedRebinding } from './flaws.js'
import { newFlaws } from './flaws.js'
import type { NarrowingPlace } from './narrowing-places.js'
import { placesBehind } from './narrowing-places.js'

/** A change with some types narrowed, read again. */
export interface JavaTried {
  readonly changes: readonly FileChange[]
  readonly edits: ReadonlyMap<string, readonly TextEdit[]>
  readonly count: number
  readonly after: JavaState
  readonly flaws: readonly Flaw[]
}

/** Reads a change with narrowed types again and tells what is wrong, and behind which of them. `more`: what else would be wrong. */
export function javaNarrowingTrial(
  { changes, edits, count }: Pick<JavaTried, 'changes' | 'edits' | 'count'>, narrowed: readonly NarrowingPlace[], planned: readonly PlannedRebinding[], { bound, state, language }: JavaWriteContext,
  more: (now: BoundProgram) => Flaw[] = () => []
): NarrowingTrial<JavaTried> {
  const after = language.edit(state, new Map(changes.map(change => [`${language.root}/${change.path}`, change.after])))
  const now = language.bound(after)
  const changed = changes.map(change => change.path)
  // The changed files first: most of what is wrong shows there.
  let flaws = newFlaws(bound, now, changed, edits, planned)
  let checked = changed.length
  if (flaws.length === 0) flaws = more(now)
  if (flaws.length === 0) {
    const affected = [...new Set([...affectedFiles(state, changed.filter(one => state.trees.has(one))), ...filesThatSayNewNames(bound, now, changed)])].filter(one => !changed.includes(one))
    flaws = newFlaws(bound, now, affected, edits, planned)
    checked += affected.length
  }
  const keys = new Map<string, string>()
  for (const one of narrowed) {
    const start = bound.trees.get(one.path)!.start(one.node)
    let shift = 0
    for (const edit of edits.get(one.path) ?? []) if (edit.end <= start && edit.start < start) shift += edit.text.length - (edit.end - edit.start)
    keys.set(`${one.path}:${start + shift}`, one.key)
  }
  const behind = (active: ReadonlyMap<string, Narrowable>) => flaws.map(flaw => placesBehind(flaw, now, active, (at, start) => keys.get(`${at}:${start}`)))
  return { result: { changes, edits, count, after, flaws }, holds: flaws.length === 0, behind, checked }
}
