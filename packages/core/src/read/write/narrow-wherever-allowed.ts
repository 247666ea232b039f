/** A place where a class stands as a type and could be narrowed. */
export interface Narrowable {
  readonly path: string
  /** Names the place among all of one change. */
  readonly key: string
}

/** What may be behind one thing that is wrong. */
export interface Blame {
  readonly keys: readonly string[]
  /** Found in what is wrong itself, and not only around it. */
  readonly close: boolean
}

/** What came of writing a change with some places narrowed. */
export interface NarrowingTrial<Result> {
  readonly result: Result
  /** True where nothing is wrong with it. */
  readonly holds: boolean
  /** For each thing that is wrong, the keys behind it. Never all empty while `active` is not. */
  readonly behind: (active: ReadonlyMap<string, Narrowable>) => readonly Blame[]
  /** How many files were checked to know it. */
  readonly checked: number
}

/** What regaining may cost: trials, and files checked in all of them. Counts, not seconds: the same code narrows the same. */
export interface NarrowingBudget {
  readonly trials: number
  readonly checks: number
}

/** Rounds of dropping by guess after which what is left is given up. */
const MOST_ROUNDS = 12

/**
 * The largest set of places found that can be narrowed together. First all are, and those behind an error are dropped
 * until none is left. What is alone behind an error while everything else that could be narrowed is, can never be: the less is
 * narrowed, the more wants the class. So these go first; only what was dropped by guess is tried again, in halves, within a fixed budget.
 * `trial`: with `onlyWhether`, whether it holds is all that is asked, and the first thing that is wrong is enough.
 */
export function narrowWhereverAllowed<One extends Narrowable, Result>(
  places: readonly One[], trial: (narrowed: readonly One[], onlyWhether: boolean) => NarrowingTrial<Result>, budget: NarrowingBudget = { trials: 24, checks: 400 }
): { narrowed: number; last: NarrowingTrial<Result> } {
  const active = new Map(places.map(place => [place.key, place]))
  const chosen = (keys: ReadonlyMap<string, Narrowable>) => places.filter(place => keys.has(place.key))
  let last = trial(places, false)
  const impossible = new Set<string>()
  for (let guesses = 0; !last.holds && active.size > 0;) {
    const blames = last.behind(active)
    const alone = guesses > 0 ? [] : blames.filter(one => one.close && one.keys.length === 1).map(one => one.keys[0]!)
    if (alone.length > 0) for (const key of alone) { impossible.add(key); active.delete(key) }
    else if (guesses++ >= MOST_ROUNDS) active.clear()
    else for (const key of blames.flatMap(one => one.keys)) active.delete(key)
    last = trial(chosen(active), false)
  }
  const dropped = places.filter(place => !active.has(place.key) && !impossible.has(place.key))
  if (!last.holds || dropped.length === 0) return { narrowed: active.size, last }

  let trials = 0, checks = 0
  const regain = (group: readonly One[]): void => {
    if (group.length === 0 || trials >= budget.trials || checks >= budget.checks) return
    const wider = new Map([...active, ...group.map(place => [place.key, place] as const)])
    const found = trial(chosen(wider), true)
    trials++
    checks += found.checked
    if (found.holds) {
      for (const place of group) active.set(place.key, place)
      last = found
      return
    }
    if (group.length === 1) return
    const middle = group.length >> 1
    regain(group.slice(0, middle))
    regain(group.slice(middle))
  }
  // All at once is what has just failed, so it starts with halves.
  if (dropped.length === 1) regain(dropped)
  else { regain(dropped.slice(0, dropped.length >> 1)); regain(dropped.slice(dropped.length >> 1)) }
  return { narrowed: active.size, last }
}
