import type { Arc } from './digraph.js'
import { PathSearch } from './shortest-cycle.js'

/** State of an arc while solving: free, certainly in the cut, or certainly not in it. */
export const FREE = 0, CUT = 1, KEPT = 2

export interface FractionalCut {
  /** Weight of the best fractional cut, not counting arcs that are `CUT`: a lower bound for every cut. */
  readonly value: number
  /** How much of each arc the fractional cut takes, 0 to 1. */
  readonly share: Float64Array
  /** True where a cycle of `KEPT` arcs alone is left, so that no cut exists. */
  readonly infeasible: boolean
}

const TINY = 1e-9

/**
 * The linear relaxation of the minimum weighted feedback arc set, solved through its dual: the heaviest fractional
 * packing of cycles into the arcs' weights. Columns (cycles) are generated when they are violated and kept between
 * solves; the basis inverse is dense, which suits components of up to a few hundred arcs. Primal simplex with a fixed
 * small perturbation of the weights against cycling; deterministic.
 */
export class FractionalCyclePacking {
  private readonly paths: PathSearch
  private readonly pool: number[][] = []
  private readonly known = new Set<string>()

  constructor(private readonly nodeCount: number, private readonly arcs: readonly Arc[]) {
    this.paths = new PathSearch(nodeCount, arcs)
  }

  solve(state: Uint8Array): FractionalCut {
    const { arcs } = this
    const row = new Int32Array(arcs.length).fill(-1)
    const rows: number[] = []
    for (let index = 0; index < arcs.length; index++) {
      if (state[index] === FREE) { row[index] = rows.length; rows.push(index) }
    }
    const size = rows.length
    const inverse = new Float64Array(size * size)
    const level = new Float64Array(size)
    // Objective coefficient of the basic variable of each row: 0 for a slack, 1 for a cycle.
    const basic = new Float64Array(size)
    for (let r = 0; r < size; r++) {
      inverse[r * size + r] = 1
      level[r] = arcs[rows[r]!]!.weight + 1e-7 * (((r * 7919) % 1009) + 1) / 1009
    }
    const price = new Float64Array(size)
    const share = new Float64Array(arcs.length)
    const direction = new Float64Array(size)
    // A column counts only while all its arcs are there; those that are kept weigh nothing.
    const usable = (cycle: readonly number[]) => cycle.every(index => state[index] !== CUT)

    for (let pivots = 0; ; pivots++) {
      price.fill(0)
      for (let r = 0; r < size; r++) {
        if (basic[r] === 0) continue
        for (let c = 0; c < size; c++) price[c]! += inverse[r * size + c]!
      }
      share.fill(0)
      for (let r = 0; r < size; r++) share[rows[r]!] = Math.max(0, price[r]!)
      let entering: number[] | null = null, best = 1 - 1e-7
      for (const cycle of this.pool) {
        if (!usable(cycle)) continue
        let length = 0
        for (const index of cycle) length += share[index]!
        if (length < best) { best = length; entering = cycle }
      }
      if (!entering) {
        const found = this.generate(state, share)
        if (found === 'kept cycle') return { value: Infinity, share, infeasible: true }
        if (found) continue
        break
      }
      direction.fill(0)
      for (const index of entering) {
        const c = row[index]!
        if (c < 0) continue
        for (let r = 0; r < size; r++) direction[r]! += inverse[r * size + c]!
      }
      let leaving = -1, ratio = Infinity
      for (let r = 0; r < size; r++) {
        if (direction[r]! > TINY && level[r]! / direction[r]! < ratio) { ratio = level[r]! / direction[r]!; leaving = r }
      }
      if (leaving < 0) return { value: Infinity, share, infeasible: true }
      const pivot = direction[leaving]!
      for (let c = 0; c < size; c++) inverse[leaving * size + c]! /= pivot
      level[leaving]! /= pivot
      for (let r = 0; r < size; r++) {
        const factor = direction[r]!
        if (r === leaving || Math.abs(factor) < TINY) continue
        for (let c = 0; c < size; c++) inverse[r * size + c]! -= factor * inverse[leaving * size + c]!
        level[r] = Math.max(0, level[r]! - factor * level[leaving]!)
      }
      basic[leaving] = 1
      if (pivots > 50 * (size + 10)) break
    }
    let value = 0
    for (let index = 0; index < arcs.length; index++) value += share[index]! * arcs[index]!.weight
    // Whatever was left unsolved, the packing itself is a valid bound; the perturbation is taken off.
    let packed = 0
    for (let r = 0; r < size; r++) if (basic[r] === 1) packed += level[r]!
    return { value: Math.min(value, packed) - 1e-5, share, infeasible: false }
  }

  /** Adds the cheapest violated cycle through each node. */
  private generate(state: Uint8Array, share: Float64Array): boolean | 'kept cycle' {
    const gone = Uint8Array.from(state, value => (value === CUT ? 1 : 0))
    let added = false
    for (let index = 0; index < this.arcs.length; index++) {
      if (gone[index] === 1) continue
      const arc = this.arcs[index]!
      const back = this.paths.cheapest(share, arc.to, arc.from, 1 - 1e-6 - share[index]!, gone)
      if (!back) continue
      const cycle = [index, ...back.path].sort((a, b) => a - b)
      if (cycle.every(at => state[at] === KEPT)) return 'kept cycle'
      const key = cycle.join()
      if (this.known.has(key)) continue
      this.known.add(key)
      this.pool.push(cycle)
      added = true
    }
    return added
  }

  get size(): number { return this.nodeCount }
}
