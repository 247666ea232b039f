import type { Arc } from './digraph.js'
import { exactFeedbackArcs, withoutNeedless } from './exact-feedback-arcs.js'
import { byArcRank, packingBound, sift } from './heuristic-feedback-arcs.js'

/** A set of arcs whose removal leaves no cycle. */
export interface Cut {
  /** Indices into the arcs, ascending. */
  readonly arcs: number[]
  /** Sum of their weights. */
  readonly cost: number
  /** No cut costs less than this. Equal to `cost` where the cut is proven least. */
  readonly lowerBound: number
}

/** Searches for a way back that a lower bound may take, in all its phases. */
const MOST_SEARCHES = 4000

/** Components up to these sizes are solved exactly, as far as the effort goes; larger ones by search with a bound. */
const EXACT_NODES = 60, EXACT_ARCS = 260, EFFORT = 6000

/**
 * The best cut of a strongly connected graph: least weight, then fewest arcs, then the first in the order of the arcs.
 * Weights are positive integers; arcs must be distinct pairs without self-arcs. The result depends on the input alone.
 */
export function bestCut(nodeCount: number, arcs: readonly Arc[]): Cut {
  if (arcs.length === 0) return { arcs: [], cost: 0, lowerBound: 0 }
  // Fewest arcs among the cheapest: one is added to each scaled weight.
  const scale = arcs.length + 1
  const scaled = arcs.map(arc => ({ ...arc, weight: arc.weight * scale + 1 }))
  const weigh = (cut: readonly number[]) => cut.reduce((sum, index) => sum + arcs[index]!.weight, 0)
  const weighScaled = (cut: readonly number[]) => cut.reduce((sum, index) => sum + scaled[index]!.weight, 0)

  let best: number[] | null = null
  const consider = (marks: Uint8Array) => {
    const cut = withoutNeedless(nodeCount, arcs, marks)
    if (!best || weighScaled(cut) < weighScaled(best)) best = cut
    return cut
  }
  const rounds = nodeCount <= 200 ? 50 : 12
  const ranked = marksOf(arcs.length, consider(byArcRank(nodeCount, scaled)))
  consider(sift(nodeCount, scaled, ranked, rounds))
  const found = best!
  if (nodeCount <= EXACT_NODES && arcs.length <= EXACT_ARCS) {
    const exact = exactFeedbackArcs(nodeCount, scaled, found, EFFORT)
    const cost = weigh(exact.cut)
    const proven = exact.lowerBound === exact.cost
    return { arcs: exact.cut, cost, lowerBound: proven ? cost : Math.max(1, Math.floor(exact.lowerBound / scale)) }
  }
  const cost = weigh(found)
  // Each phase looks for a cheapest way back from every arc of the cut, over the whole graph.
  const phases = Math.max(1, Math.min(nodeCount > 1000 ? 3 : 20, Math.floor(MOST_SEARCHES / found.length)))
  const bound = packingBound(nodeCount, arcs, found, phases)
  return { arcs: found, cost, lowerBound: Math.min(cost, Math.max(1, Math.ceil(bound - 1e-6))) }
}

function marksOf(length: number, indices: readonly number[]): Uint8Array {
  const marks = new Uint8Array(length)
  for (const index of indices) marks[index] = 1
  return marks
}
