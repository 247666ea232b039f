import type { Arc } from '../graph/digraph.js'
import type { Cut } from '../graph/feedback-arcs.js'
import { bestCut } from '../graph/feedback-arcs.js'

/** How many graphs are remembered, and how large they are at least: small ones are solved as fast as they are looked up. */
const MOST = 48, LEAST_ARCS = 60

/**
 * The best cut of a graph, remembered. Between two surveys of a project most cycles stay as they are, and a cut depends on
 * nothing but its graph, so remembering one never changes what a survey says.
 */
const remembered = new Map<string, Cut>()

/** A strongly connected graph whose best cut is wanted. */
export interface CutProblem {
  readonly nodeCount: number
  readonly arcs: readonly Arc[]
}

/**
 * Begins to find best cuts, and gives what waits for them: one for each problem, in their order. Whoever has several processors
 * lets others work on them until then.
 */
export type SolveCuts = (problems: readonly CutProblem[]) => () => Cut[]

export const solveOneByOne: SolveCuts = problems => () => problems.map(({ nodeCount, arcs }) => bestCut(nodeCount, arcs))

/** Begins to find the best cuts of some graphs: remembered ones, and the others by `solve`. */
export function bestCuts(problems: readonly CutProblem[], solve: SolveCuts): () => Cut[] {
  const keys = problems.map(({ nodeCount, arcs }) => arcs.length < LEAST_ARCS ? undefined : `${nodeCount};${arcs.map(({ from, to, weight }) => `${from},${to},${weight}`).join(';')}`)
  const found = keys.map(key => key === undefined ? undefined : remembered.get(key))
  const open = problems.map((_, index) => index).filter(index => !found[index])
  const finish = solve(open.map(index => problems[index]!))
  return () => {
    finish().forEach((cut, at) => { found[open[at]!] = cut })
    keys.forEach((key, index) => {
      if (key === undefined) return
      // The one used last stands last; the first is the one to forget.
      remembered.delete(key)
      remembered.set(key, found[index]!)
      if (remembered.size > MOST) remembered.delete(remembered.keys().next().value!)
    })
    return found as Cut[]
  }
}
