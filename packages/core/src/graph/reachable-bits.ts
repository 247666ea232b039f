/** A graph by rows: the targets of node n are `targets[starts[n]]` up to, not including, `targets[starts[n + 1]]`. */
export interface RowGraph {
  readonly starts: Int32Array
  readonly targets: Int32Array
}

/** Sorts edges into rows. O(nodes + edges); `order` are the places of the edges in the rows. */
export function rowsOf(nodeCount: number, from: ArrayLike<number>, to: ArrayLike<number>): RowGraph & { readonly order: Int32Array } {
  const starts = new Int32Array(nodeCount + 1)
  for (let at = 0; at < from.length; at++) starts[from[at]! + 1]!++
  for (let node = 0; node < nodeCount; node++) starts[node + 1]! += starts[node]!
  const next = starts.slice(0, nodeCount)
  const targets = new Int32Array(from.length), order = new Int32Array(from.length)
  for (let at = 0; at < from.length; at++) {
    const place = next[from[at]!]!++
    targets[place] = to[at]!
    order[place] = at
  }
  return { starts, targets, order }
}

/**
 * For each node the union of the bits of all nodes that it reaches, itself included: one low-link traversal that closes
 * components as it meets them (Tarjan 1972), stack-safe, O(nodes + edges).
 */
export function reachableBits({ starts, targets }: RowGraph, own: Int32Array): Int32Array {
  const count = own.length
  const bits = own.slice()
  const order = new Int32Array(count).fill(-1), low = new Int32Array(count), next = starts.slice(0, count)
  const closed = new Uint8Array(count)
  const open = new Int32Array(count), path = new Int32Array(count)
  let opened = 0, depth = 0, clock = 0
  for (let root = 0; root < count; root++) {
    if (order[root] !== -1) continue
    path[depth++] = root
    while (depth > 0) {
      const node = path[depth - 1]!
      if (order[node] === -1) { order[node] = low[node] = clock++; open[opened++] = node }
      const end = starts[node + 1]!
      let deeper = false
      while (next[node]! < end) {
        const to = targets[next[node]!]!
        if (order[to] === -1) { path[depth++] = to; deeper = true; break }
        if (closed[to] === 0) low[node] = Math.min(low[node]!, low[to]!)
        bits[node]! |= bits[to]!
        next[node]!++
      }
      if (deeper) continue
      depth--
      if (low[node] !== order[node]) continue
      // What any member of the component reaches, all do.
      let first = opened
      let all = 0
      do { first--; all |= bits[open[first]!]! } while (open[first] !== node)
      for (let at = first; at < opened; at++) { bits[open[at]!] = all; closed[open[at]!] = 1 }
      opened = first
    }
  }
  return bits
}
