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
  /** The last search that came by each node. */
  private readonly seenIn: Int32Array
  private search = 0

  /** `without`: marks of the arcs that are not there yet. What is there must be acyclic. */
  constructor(nodeCount: number, arcs: readonly Arc[], without: Uint8Array) {
    this.position = new Int32Array(nodeCount)
    this.seenIn = new Int32Array(nodeCount)
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
      const after = this.reached(to, this.out, first, last)
      if (this.seenIn[from] === this.search) return false
      const before = this.reached(from, this.into, first, last)
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

  /** The nodes reached from one, by places from `first` to `last` alone. */
  private reached(start: number, next: readonly number[][], first: number, last: number): number[] {
    const { position, seenIn } = this
    const search = ++this.search
    seenIn[start] = search
    const found = [start]
    for (let at = 0; at < found.length; at++) {
      for (const node of next[found[at]!]!) {
        if (seenIn[node] === search || position[node]! < first || position[node]! > last) continue
        seenIn[node] = search
        found.push(node)
      }
    }
    return found
  }
}
