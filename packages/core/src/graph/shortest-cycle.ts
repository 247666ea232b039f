import type { Arc, ArcRows } from './digraph.js'
import { arcRows, endsOf } from './digraph.js'

/** A path and its length. */
export interface FoundPath {
  /** Indices of its arcs, in order. */
  readonly path: number[]
  readonly length: number
}

/**
 * Cheapest paths through one graph under lengths that change between the searches (Dijkstra 1959, with a binary heap). What a
 * search needs is kept for the next, so that one that ends early costs only what it has seen. O(E log V) a search.
 */
export class PathSearch {
  private readonly rows: ArcRows
  private readonly from: Int32Array
  private readonly to: Int32Array
  private readonly distance: Float64Array
  private readonly by: Int32Array
  private readonly heap = new MinHeap()
  /** Nodes whose distance the last search has set. */
  private seen: number[] = []

  constructor(nodeCount: number, arcs: readonly Arc[]) {
    const { from, to } = endsOf(arcs)
    this.from = from
    this.to = to
    this.rows = arcRows(nodeCount, from)
    this.distance = new Float64Array(nodeCount).fill(Infinity)
    this.by = new Int32Array(nodeCount).fill(-1)
  }

  /** The cheapest path from one node to another, without the marked arcs; null where there is none cheaper than `limit`. */
  cheapest(lengths: Float64Array, from: number, to: number, limit: number, without?: Uint8Array): FoundPath | null {
    const { rows: { starts, arcs }, distance, by, heap, to: heads } = this
    for (const node of this.seen) distance[node] = Infinity
    const seen: number[] = this.seen = [from]
    heap.clear()
    distance[from] = 0
    heap.push(from, 0)
    for (;;) {
      const node = heap.pop()
      if (node < 0) return null
      const key = heap.poppedKey
      if (key > distance[node]!) continue
      if (node === to) break
      for (let at = starts[node]!; at < starts[node + 1]!; at++) {
        const index = arcs[at]!
        if (without && without[index] === 1) continue
        const reached = key + lengths[index]!, head = heads[index]!
        if (reached < distance[head]! && reached < limit) {
          if (distance[head] === Infinity) seen.push(head)
          distance[head] = reached
          by[head] = index
          heap.push(head, reached)
        }
      }
    }
    const path: number[] = []
    for (let node = to; node !== from;) {
      const index = by[node]!
      path.push(index)
      node = this.from[index]!
    }
    return { path: path.reverse(), length: distance[to]! }
  }
}

/** A binary heap of nodes; ties come out lowest node first, so that results do not depend on insertion. */
class MinHeap {
  private keys = new Float64Array(256)
  private nodes = new Int32Array(256)
  private size = 0
  /** Key of the node that came out last. */
  poppedKey = 0

  clear(): void { this.size = 0 }

  push(node: number, key: number): void {
    if (this.size === this.nodes.length) this.grow()
    const { keys, nodes } = this
    let at = this.size++
    while (at > 0) {
      const parent = (at - 1) >> 1
      if (keys[parent]! < key || (keys[parent] === key && nodes[parent]! <= node)) break
      keys[at] = keys[parent]!
      nodes[at] = nodes[parent]!
      at = parent
    }
    keys[at] = key
    nodes[at] = node
  }

  /** The node with the least key, or -1. */
  pop(): number {
    if (this.size === 0) return -1
    const { keys, nodes } = this
    const top = nodes[0]!
    this.poppedKey = keys[0]!
    const size = --this.size, key = keys[size]!, node = nodes[size]!
    let at = 0
    for (;;) {
      let child = 2 * at + 1
      if (child >= size) break
      const right = child + 1
      if (right < size && (keys[right]! < keys[child]! || (keys[right] === keys[child] && nodes[right]! < nodes[child]!))) child = right
      if (key < keys[child]! || (key === keys[child] && node <= nodes[child]!)) break
      keys[at] = keys[child]!
      nodes[at] = nodes[child]!
      at = child
    }
    keys[at] = key
    nodes[at] = node
    return top
  }

  private grow(): void {
    const keys = new Float64Array(this.keys.length * 2), nodes = new Int32Array(this.nodes.length * 2)
    keys.set(this.keys)
    nodes.set(this.nodes)
    this.keys = keys
    this.nodes = nodes
  }
}
