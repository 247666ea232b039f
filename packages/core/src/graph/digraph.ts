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
