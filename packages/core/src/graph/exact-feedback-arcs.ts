import type { Arc } from './digraph.js'
import { CUT, FREE, FractionalCyclePacking, KEPT } from './fractional-cycle-packing.js'
import { GrowingOrder } from './growing-order.js'

export interface ExactOutcome {
  /** Indices of the arcs of the best cut found, ascending. */
  readonly cut: number[]
  readonly cost: number
  /** No cut is cheaper than this; equal to `cost` where it is proven least. */
  readonly lowerBound: number
}

/**
 * The least weighted feedback arc set (Karp 1972) of one strongly connected graph by branch and bound over the fractional
 * cycle packing. Weights must be positive integers. `effort` bounds the number of relaxations solved, so that the result
 * depends on the input alone and not on the machine; when it runs out the best cut so far comes with its bound.
 *
 * Among cuts of equal cost the one whose sorted arc indices come first is returned, if `effort` suffices.
 */
export function exactFeedbackArcs(nodeCount: number, arcs: readonly Arc[], start: readonly number[], effort: number): ExactOutcome {
  const packing = new FractionalCyclePacking(nodeCount, arcs)
  const weigh = (cut: readonly number[]) => cut.reduce((sum, index) => sum + arcs[index]!.weight, 0)
  let left = effort

  /** Looks for a cut cheaper than `limit` that respects `fixed`; null where none exists, undefined when out of effort. */
  const search = (fixed: Uint8Array, limit: number): { cut: number[]; cost: number } | null | undefined => {
    let best: { cut: number[]; cost: number } | null = null
    let bound = limit
    const stack: Uint8Array[] = [fixed]
    while (stack.length > 0) {
      const state = stack.pop()!
      let taken = 0
      for (let index = 0; index < arcs.length; index++) if (state[index] === CUT) taken += arcs[index]!.weight
      if (taken >= bound) continue
      if (left-- <= 0) return undefined
      const relaxed = packing.solve(state)
      if (relaxed.infeasible || Math.ceil(taken + relaxed.value - 1e-4) >= bound) continue
      let branch = -1, closest = Infinity
      const rounded = new Uint8Array(arcs.length)
      for (let index = 0; index < arcs.length; index++) {
        const share = state[index] === CUT ? 1 : relaxed.share[index]!
        if (share > 1e-6) rounded[index] = 1
        if (state[index] === FREE && share > 1e-6 && share < 1 - 1e-6) {
          const distance = Math.abs(share - 0.5) - arcs[index]!.weight * 1e-9
          if (distance < closest) { closest = distance; branch = index }
        }
      }
      // Rounding every share up always is a cut; taking back what is not needed makes it a good one.
      const cut = withoutNeedless(nodeCount, arcs, rounded, state)
      const cost = weigh(cut)
      if (cost < bound) { best = { cut, cost }; bound = cost }
      if (branch < 0) continue
      for (const choice of [KEPT, CUT]) {
        const child = Uint8Array.from(state)
        child[branch] = choice
        stack.push(child)
      }
    }
    return best
  }

  const root = packing.solve(new Uint8Array(arcs.length))
  const rootBound = Math.ceil(root.value - 1e-4)
  let cut = [...start].sort((a, b) => a - b)
  let cost = weigh(cut)
  const first = search(new Uint8Array(arcs.length), cost)
  if (first === undefined) return { cut, cost, lowerBound: Math.min(cost, rootBound) }
  if (first) { cut = first.cut; cost = first.cost }

  // Proven. Now the first in order among the cuts of this cost, arc by arc.
  const state = new Uint8Array(arcs.length)
  let chosen = cut
  for (let index = 0, taken = 0; index < arcs.length && taken < cost; index++) {
    if (arcs[index]!.weight + taken > cost) { state[index] = KEPT; continue }
    state[index] = CUT
    if (!chosen.includes(index)) {
      const found = search(state, cost + 1)
      if (found === undefined) break
      if (found === null) { state[index] = KEPT; continue }
      chosen = found.cut
    }
    taken += arcs[index]!.weight
  }
  return { cut: chosen, cost, lowerBound: cost }
}

/** Drops arcs from a cut, heaviest first, as long as it stays one; those that `state` fixes as cut stay. */
export function withoutNeedless(nodeCount: number, arcs: readonly Arc[], cut: Uint8Array, state?: Uint8Array): number[] {
  const marks = Uint8Array.from(cut)
  const inCut: number[] = []
  marks.forEach((mark, index) => { if (mark === 1) inCut.push(index) })
  const growing = new GrowingOrder(nodeCount, arcs, marks)
  for (const index of [...inCut].sort((a, b) => arcs[b]!.weight - arcs[a]!.weight || b - a)) {
    if (state && state[index] === CUT) continue
    if (growing.add(arcs[index]!)) marks[index] = 0
  }
  return inCut.filter(index => marks[index] === 1)
}
