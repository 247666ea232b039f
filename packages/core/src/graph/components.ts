import type { Arc, ArcRows } from './digraph.js'
import { arcRows, endsOf, outgoing } from './digraph.js'

/**
 * Strongly connected components: iterative, stack-safe low-link traversal in O(V + E) (Tarjan 1972).
 *
 * Returns the number of each node's component. Components are numbered in reverse topological order: an arc between two
 * components goes from the higher to the lower number.
 */
export function componentOf(nodeCount: number, arcs: readonly Arc[], without?: Uint8Array): Int32Array {
  const { from, to } = endsOf(arcs)
  if (!without) return componentsOfRows(nodeCount, arcRows(nodeCount, from), to)
  const live: number[] = []
  for (let index = 0; index < arcs.length; index++) if (without[index] === 0) live.push(index)
  return componentsOfRows(nodeCount, arcRows(nodeCount, from, Int32Array.from(live)), to)
}

/** The same of packed arcs: `heads` gives the second node of each. */
export function componentsOfRows(nodeCount: number, { starts, arcs }: ArcRows, heads: Int32Array): Int32Array {
  const component = new Int32Array(nodeCount).fill(-1)
  const order = new Int32Array(nodeCount).fill(-1)
  const low = new Int32Array(nodeCount)
  const next = starts.slice(0, nodeCount)
  const open = new Int32Array(nodeCount), path = new Int32Array(nodeCount + 1)
  let opened = 0, depth = 0, clock = 0, count = 0
  for (let root = 0; root < nodeCount; root++) {
    if (order[root] !== -1) continue
    path[depth++] = root
    while (depth > 0) {
      const node = path[depth - 1]!, end = starts[node + 1]!
      if (order[node] === -1) { order[node] = low[node] = clock++; open[opened++] = node }
      let deeper = false
      while (next[node]! < end) {
        const to = heads[arcs[next[node]!]!]!
        if (order[to] === -1) { path[depth++] = to; deeper = true; break }
        // A node without a component yet is still open, so it closes a cycle.
        if (component[to] === -1 && low[to]! < low[node]!) low[node] = low[to]!
        next[node]!++
      }
      if (deeper) continue
      depth--
      if (low[node] === order[node]) {
        for (;;) {
          const member = open[--opened]!
          component[member] = count
          if (member === node) break
        }
        count++
      }
    }
  }
  return component
}

/** The components with more than one node, each ascending, ordered by their first node. Self-arcs do not count. */
export function cyclicComponents(nodeCount: number, arcs: readonly Arc[]): number[][] {
  const component = componentOf(nodeCount, arcs)
  const members = new Map<number, number[]>()
  for (let node = 0; node < nodeCount; node++) {
    const list = members.get(component[node]!)
    if (list) list.push(node)
    else members.set(component[node]!, [node])
  }
  return [...members.values()].filter(list => list.length > 1).sort((a, b) => a[0]! - b[0]!)
}

/** True where the arcs, without those marked, hold no cycle. Self-arcs count as cycles. O(V + E). */
export function isAcyclic(nodeCount: number, arcs: readonly Arc[], without?: Uint8Array): boolean {
  const open = new Int32Array(nodeCount)
  const out = outgoing(nodeCount, arcs, without)
  arcs.forEach((arc, index) => { if (!without || without[index] === 0) open[arc.to]!++ })
  const free: number[] = []
  for (let node = 0; node < nodeCount; node++) if (open[node] === 0) free.push(node)
  let seen = 0
  while (free.length > 0) {
    seen++
    for (const index of out[free.pop()!]!) if (--open[arcs[index]!.to]! === 0) free.push(arcs[index]!.to)
  }
  return seen === nodeCount
}

/**
 * Nodes of an acyclic graph (after leaving out the marked arcs) so that every arc points forward; among those free at
 * the same time the lowest number first. Nodes on a cycle are left out of the result. O(V log V + E) in practice.
 */
export function topologicalOrder(nodeCount: number, arcs: readonly Arc[], without?: Uint8Array): number[] {
  const open = new Int32Array(nodeCount)
  const out = outgoing(nodeCount, arcs, without)
  arcs.forEach((arc, index) => { if (!without || without[index] === 0) open[arc.to]!++ })
  let wave: number[] = []
  for (let node = 0; node < nodeCount; node++) if (open[node] === 0) wave.push(node)
  const order: number[] = []
  while (wave.length > 0) {
    const following: number[] = []
    for (const node of wave) {
      order.push(node)
      for (const index of out[node]!) if (--open[arcs[index]!.to]! === 0) following.push(arcs[index]!.to)
    }
    wave = following.sort((a, b) => a - b)
  }
  return order
}
