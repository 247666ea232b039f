/** A dependency with a weight (how many references make it). `from` and `to` are node numbers. */
export interface Arc {
  readonly from: number
  readonly to: number
  readonly weight: number
}

/** Outgoing arcs by node, as indices into `arcs`. Arcs for which `without` is 1 are left out. O(V + E). */
export function outgoing(nodeCount: number, arcs: readonly Arc[], without?: Uint8Array): number[][] {
  const out: number[][] = Array.from({ length: nodeCount }, () => [])
  arcs.forEach((arc, index) => { if (!without || without[index] === 0) out[arc.from]!.push(index) })
  return out
}

/** Outgoing arcs of all nodes in one list: those of a node lie from `starts[node]` to `starts[node + 1]`. */
export interface ArcRows {
  readonly starts: Int32Array
  /** Indices into the arcs, by node and within a node ascending. */
  readonly arcs: Int32Array
}

/** What `outgoing` tells, packed for walks that are made often. `from` gives each arc's first node; only the arcs listed in `live` are taken, or all. O(V + E). */
export function arcRows(nodeCount: number, from: Int32Array, live?: Int32Array): ArcRows {
  const count = live ? live.length : from.length
  const starts = new Int32Array(nodeCount + 1)
  for (let at = 0; at < count; at++) starts[from[live ? live[at]! : at]! + 1]!++
  for (let node = 0; node < nodeCount; node++) starts[node + 1]! += starts[node]!
  const next = starts.slice(0, nodeCount), arcs = new Int32Array(count)
  for (let at = 0; at < count; at++) {
    const index = live ? live[at]! : at
    arcs[next[from[index]!]!++] = index
  }
  return { starts, arcs }
}

/** First and second node of each arc, packed. */
export function endsOf(arcs: readonly Arc[]): { from: Int32Array; to: Int32Array } {
  return { from: Int32Array.from(arcs, arc => arc.from), to: Int32Array.from(arcs, arc => arc.to) }
}
