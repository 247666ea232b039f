import { topologicalOrder } from './components.js'
import type { Arc } from './digraph.js'

/**
 * An acyclic graph to which arcs are added one by one, each refused where it would close a cycle. A topological order is
 * kept, and only the part between the two ends of an arc is looked at and put right (D. J. Pearce, P. H. J. Kelly, "A
 * dynamic topological sort algorithm for directed acyclic graphs", 2007).
 */
export class GrowingOrder {
  private readonly position: Int32Array
  private readonly out: number[][]
  private readonly into: number[][]

  /** `without`: marks of the arcs that are not there yet. What is there must be acyclic. */
  constructor(nodeCount: number, arcs: readonly Arc[], without: Uint8Array) {
    this.position = new Int32Array(nodeCount)
    topologicalOrder(nodeCount, arcs, without).forEach((node, at) => { this.position[node] = at })
    this.out = Array.from({ length: nodeCount }, () => [])
    this.into = Array.from({ length: nodeCount }, () => [])
    arcs.forEach(({ from, to }, index) => { if (without[index] === 0) { this.out[from]!.push(to); this.into[to]!.push(from) } })
  }

  /** Adds an arc; false, and nothing changed, where it would close a cycle. O(affected part). */
  add({ from, to }: Arc): boolean {
    const { position } = this
    if (from === to) return false
    if (position[from]! > position[to]!) {
      const last = position[from]!, first = position[to]!
      const after = this.reached(to, this.out, at => position[at]! <= last)
      if (after.includes(from)) return false
      const before = this.reached(from, this.into, at => position[at]! >= first)
      // What leads to `from` goes before what `to` leads to, in the places that both had.
      const byPlace = (a: number, b: number) => position[a]! - position[b]!
      const moved = [...before.sort(byPlace), ...after.sort(byPlace)]
      const places = moved.map(node => position[node]!).sort((a, b) => a - b)
      moved.forEach((node, at) => { position[node] = places[at]! })
    }
    this.out[from]!.push(to)
    this.into[to]!.push(from)
    return true
  }

  private reached(start: number, next: readonly number[][], within: (node: number) => boolean): number[] {
    const seen = new Set([start])
    const open = [start]
    while (open.length > 0) for (const node of next[open.pop()!]!) if (!seen.has(node) && within(node)) { seen.add(node); open.push(node) }
    return [...seen]
  }
}
