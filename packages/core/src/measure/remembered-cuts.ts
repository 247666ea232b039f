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

export function rememberedBestCut(nodeCount: number, arcs: readonly Arc[]): Cut {
  if (arcs.length < LEAST_ARCS) return bestCut(nodeCount, arcs)
  const key = `${nodeCount};${arcs.map(({ from, to, weight }) => `${from},${to},${weight}`).join(';')}`
  let cut = remembered.get(key)
  if (cut) remembered.delete(key)
  else cut = bestCut(nodeCount, arcs)
  // The one used last stands last; the first is the one to forget.
  remembered.set(key, cut)
  if (remembered.size > MOST) remembered.delete(remembered.keys().next().value!)
  return cut
}
