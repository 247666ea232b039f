import type ts from 'typescript'
import type { Snapshot } from '../session.js'
import type { Narrowable } from './narrow.js'
import { annotationsBehind } from './narrow.js'

/** What came of writing a change with some annotations narrowed. */
export interface NarrowingTrial<Result> {
  readonly result: Result
  readonly after: Snapshot
  readonly errors: readonly ts.Diagnostic[]
  /** A name that would mean something else, as `path:line: ...`; null where none does. */
  readonly broken: string | null
  /** The key of the narrowed annotation at a place of the changed text. */
  readonly keyAt: (file: ts.SourceFile, start: number) => string | undefined
  /** How many files were checked to know it. */
  readonly checked: number
}

/** Rounds of dropping after which what is left is given up. */
const MOST_ROUNDS = 12
/** What regaining may cost: trials, and files checked in all of them. Counts, not seconds: the same code narrows the same. */
const MOST_TRIALS = 80, MOST_CHECKS = 2000

/**
 * The largest set of annotations found that can be narrowed together. First all are, and those behind an error are dropped
 * until none is left; blame is not exact, so what was dropped is then tried again, in halves, within a fixed budget.
 */
export function narrowWhereverAllowed<One extends Narrowable, Result>(
  annotations: readonly One[], trial: (narrowed: readonly One[]) => NarrowingTrial<Result>
): { narrowed: number; last: NarrowingTrial<Result> } {
  const active = new Map(annotations.map(annotation => [annotation.key, annotation]))
  const chosen = (keys: ReadonlyMap<string, Narrowable>) => annotations.filter(annotation => keys.has(annotation.key))
  let last = trial(annotations)
  for (let round = 0; !holds(last) && active.size > 0; round++) {
    if (round >= MOST_ROUNDS) active.clear()
    else for (const key of toDrop(last, active)) active.delete(key)
    last = trial(chosen(active))
  }
  if (!holds(last) || active.size === annotations.length) return { narrowed: active.size, last }

  let trials = 0, checks = 0
  const regain = (group: readonly One[]): void => {
    if (group.length === 0 || trials >= MOST_TRIALS || checks >= MOST_CHECKS) return
    const wider = new Map([...active, ...group.map(annotation => [annotation.key, annotation] as const)])
    const found = trial(chosen(wider))
    trials++
    checks += found.checked
    if (holds(found)) {
      for (const annotation of group) active.set(annotation.key, annotation)
      last = found
      return
    }
    if (group.length === 1) return
    const middle = group.length >> 1
    regain(group.slice(0, middle))
    regain(group.slice(middle))
  }
  // All at once is what has just failed, so it starts with halves.
  const dropped = annotations.filter(annotation => !active.has(annotation.key))
  if (dropped.length === 1) regain(dropped)
  else { regain(dropped.slice(0, dropped.length >> 1)); regain(dropped.slice(dropped.length >> 1)) }
  return { narrowed: active.size, last }
}

function holds(trial: NarrowingTrial<unknown>): boolean {
  return trial.errors.length === 0 && trial.broken === null
}

function toDrop(trial: NarrowingTrial<unknown>, active: ReadonlyMap<string, Narrowable>): Set<string> {
  if (trial.errors.length > 0) return new Set(trial.errors.flatMap(error => annotationsBehind(error, trial.after, active, trial.keyAt)))
  // A file in which a name would mean something else keeps its types.
  const where = trial.broken!.slice(0, trial.broken!.indexOf(':'))
  const inFile = [...active].filter(([, annotation]) => annotation.path === where).map(([key]) => key)
  return new Set(inFile.length > 0 ? inFile : active.keys())
}
