import { componentsOfRows, topologicalOrder } from './components.js'
import type { Arc } from './digraph.js'
import { arcRows, endsOf } from './digraph.js'
import { largest } from './largest.js'
import { PathSearch } from './shortest-cycle.js'

/** In a component with more arcs than this, more than one is removed before the ranks are computed anew. */
const ARCS_A_REMOVAL = 250

/**
 * A small feedback arc set by ranking arcs: arcs that many walks cross, for their weight, are removed one after another
 * until no cycle is left (PageRank on the line graph: Geladaris, Lionakis, Tollis 2022). O(removed * line graph).
 */
export function byArcRank(nodeCount: number, arcs: readonly Arc[]): Uint8Array {
  const removed = new Uint8Array(arcs.length)
  const { from, to } = endsOf(arcs)
  let rank = new Float64Array(arcs.length), following = new Float64Array(arcs.length)
  const leaving = new Int32Array(nodeCount), arriving = new Float64Array(nodeCount)
  const live = Int32Array.from(arcs, (_, index) => index)
  let left = live.length
  const keep = (isKept: (index: number) => boolean): void => {
    let kept = 0
    for (let at = 0; at < left; at++) if (isKept(live[at]!)) live[kept++] = live[at]!
    left = kept
  }
  for (;;) {
    // What has left all cycles never comes back into one.
    const component = componentsOfRows(nodeCount, arcRows(nodeCount, from, live.subarray(0, left)), to)
    keep(index => component[from[index]!] === component[to[index]!])
    if (left === 0) return removed
    leaving.fill(0)
    for (let at = 0; at < left; at++) { const index = live[at]!; leaving[from[index]!]!++; rank[index] = 1 }
    for (let round = 0; round < 8; round++) {
      arriving.fill(0)
      for (let at = 0; at < left; at++) { const index = live[at]!; arriving[to[index]!]! += rank[index]! }
      for (let at = 0; at < left; at++) { const index = live[at]!, start = from[index]!; following[index] = arriving[start]! / leaving[start]! }
      const before = rank
      rank = following
      following = before
    }
    // In each component that is still cyclic the best arcs go at once; components do not influence each other.
    const inComponent = new Map<number, number[]>()
    for (let at = 0; at < left; at++) {
      const index = live[at]!, list = inComponent.get(component[from[index]!]!)
      if (list) list.push(index)
      else inComponent.set(component[from[index]!]!, [index])
    }
    const worth = (index: number) => rank[index]! / arcs[index]!.weight
    for (const indices of inComponent.values()) {
      const batch = Math.max(1, Math.floor(indices.length / ARCS_A_REMOVAL))
      if (batch === 1) removed[indices.reduce((best, index) => worth(index) > worth(best) ? index : best)] = 1
      else for (const at of largest(Float64Array.from(indices, worth), batch)) removed[indices[at]!] = 1
    }
    keep(index => removed[index] === 0)
  }
}

/**
 * Improves a feedback arc set by moving single nodes of its order to their best place until nothing improves or
 * `rounds` are over (sifting). Returns the arcs that point backward. O(rounds * V * degree).
 */
export function sift(nodeCount: number, arcs: readonly Arc[], cut: Uint8Array, rounds: number): Uint8Array {
  const order = topologicalOrder(nodeCount, arcs, cut)
  const position = new Float64Array(nodeCount)
  order.forEach((node, at) => { position[node] = at })
  const touching: number[][] = Array.from({ length: nodeCount }, () => [])
  arcs.forEach((arc, index) => { touching[arc.from]!.push(index); touching[arc.to]!.push(index) })
  for (let round = 0; round < rounds; round++) {
    let improved = false
    for (let node = 0; node < nodeCount; node++) {
      // Cost of standing before everything: all arcs into the node from others point backward.
      const steps: { at: number; change: number }[] = []
      let cost = 0, current = 0
      for (const index of touching[node]!) {
        const arc = arcs[index]!
        if (arc.from === node) {
          steps.push({ at: position[arc.to]!, change: arc.weight })
          if (position[arc.to]! < position[node]!) current += arc.weight
        } else {
          cost += arc.weight
          steps.push({ at: position[arc.from]!, change: -arc.weight })
          if (position[arc.from]! > position[node]!) current += arc.weight
        }
      }
      steps.sort((a, b) => a.at - b.at)
      let best = cost, after = -Infinity
      let at = 0
      while (at < steps.length) {
        const place = steps[at]!.at
        while (at < steps.length && steps[at]!.at === place) cost += steps[at++]!.change
        if (cost < best) { best = cost; after = place }
      }
      if (best >= current) continue
      const next = steps.find(step => step.at > after)?.at
      // Positions are spread anew each round, so halving the gap never runs out of precision within one.
      position[node] = after === -Infinity ? (steps[0]?.at ?? 0) - 1 : next === undefined ? after + 1 : after + (next - after) / 2
      improved = true
    }
    if (!improved) break
    const ranked = Array.from(position, (_, node) => node).sort((a, b) => position[a]! - position[b]! || a - b)
    ranked.forEach((node, rank) => { position[node] = rank })
  }
  return Uint8Array.from(arcs, arc => (position[arc.from]! >= position[arc.to]! ? 1 : 0))
}

/**
 * A lower bound for every cut: the value of a fractional packing of cycles into the arcs' weights, by multiplicative
 * lengths (Garg, Koenemann 1998). Every cycle runs through an arc of the given cut, so only those are tried. O(phases *
 * cut * search).
 */
export function packingBound(nodeCount: number, arcs: readonly Arc[], cut: readonly number[], phases: number): number {
  const search = new PathSearch(nodeCount, arcs)
  const load = new Float64Array(arcs.length)
  const lengths = Float64Array.from(arcs, arc => 1e-3 / arc.weight)
  const packed: { cycle: number[]; flow: number }[] = []
  const step = 0.15
  for (let phase = 0; phase < phases; phase++) {
    for (const index of cut) {
      const arc = arcs[index]!
      // Sends the whole weight of the arc each phase, along as many cycles as that takes.
      for (let left = arc.weight, tries = 0; left > 1e-9 && tries < 4; tries++) {
        const back = search.cheapest(lengths, arc.to, arc.from, Infinity)
        if (!back) break
        const cycle = [index, ...back.path]
        let flow = left
        for (const at of cycle) flow = Math.min(flow, arcs[at]!.weight)
        for (const at of cycle) {
          load[at]! += flow / arcs[at]!.weight
          lengths[at]! *= 1 + (step * flow) / arcs[at]!.weight
        }
        packed.push({ cycle, flow })
        left -= flow
      }
    }
  }
  // A cycle scaled down by the fullest of its own arcs leaves no arc with more than its weight, and more of the rest than
  // one scale for all.
  let value = 0
  for (const { cycle, flow } of packed) {
    let fullest = 1
    for (const at of cycle) fullest = Math.max(fullest, load[at]!)
    value += flow / fullest
  }
  return value
}
