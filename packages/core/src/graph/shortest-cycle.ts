import type { Arc } from './digraph.js'

/**
 * The cheapest path from one node to another under the given lengths (Dijkstra 1959, with a binary heap).
 * Returns the arcs of the path in order, or null where there is none cheaper than `limit`. O(E log V).
 */
export function cheapestPath(
  arcs: readonly Arc[], out: readonly (readonly number[])[], lengths: Float64Array, from: number, to: number,
  limit: number, without?: Uint8Array
): { path: number[]; length: number } | null {
  const nodeCount = out.length
  const distance = new Float64Array(nodeCount).fill(Infinity)
  const by = new Int32Array(nodeCount).fill(-1)
  const heap = new MinHeap()
  distance[from] = 0
  heap.push(from, 0)
  for (;;) {
    const top = heap.pop()
    if (top === undefined) return null
    const { node, key } = top
    if (key > distance[node]!) continue
    if (node === to) break
    for (const index of out[node]!) {
      if (without && without[index] === 1) continue
      const arc = arcs[index]!
      const reached = key + lengths[index]!
      if (reached < distance[arc.to]! && reached < limit) {
        distance[arc.to] = reached
        by[arc.to] = index
        heap.push(arc.to, reached)
      }
    }
  }
  const path: number[] = []
  for (let node = to; node !== from;) {
    const index = by[node]!
    path.push(index)
    node = arcs[index]!.from
  }
  return { path: path.reverse(), length: distance[to]! }
}

/** A binary heap of nodes; ties come out lowest node first, so that results do not depend on insertion. */
class MinHeap {
  private readonly keys: number[] = []
  private readonly nodes: number[] = []

  private before(a: number, b: number): boolean {
    return this.keys[a]! < this.keys[b]! || (this.keys[a] === this.keys[b] && this.nodes[a]! < this.nodes[b]!)
  }

  private swap(a: number, b: number): void {
    [this.keys[a], this.keys[b]] = [this.keys[b]!, this.keys[a]!];
    [this.nodes[a], this.nodes[b]] = [this.nodes[b]!, this.nodes[a]!]
  }

  push(node: number, key: number): void {
    let at = this.nodes.length
    this.nodes.push(node)
    this.keys.push(key)
    while (at > 0) {
      const parent = (at - 1) >> 1
      if (!this.before(at, parent)) break
      this.swap(at, parent)
      at = parent
    }
  }

  pop(): { node: number; key: number } | undefined {
    if (this.nodes.length === 0) return undefined
    const top = { node: this.nodes[0]!, key: this.keys[0]! }
    this.swap(0, this.nodes.length - 1)
    this.nodes.pop()
    this.keys.pop()
    let at = 0
    for (;;) {
      let least = at
      for (const child of [2 * at + 1, 2 * at + 2]) if (child < this.nodes.length && this.before(child, least)) least = child
      if (least === at) return top
      this.swap(at, least)
      at = least
    }
  }
}
