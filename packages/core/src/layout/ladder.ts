import { topologicalOrder } from '../graph/components.js'

export interface LadderInput {
  readonly members: readonly string[]
  readonly dependencies: readonly { readonly from: string; readonly to: string; readonly references: number }[]
  readonly cut: readonly { readonly from: string; readonly to: string }[]
}

/** A bracket beside the list, from one rung to another. `lane` is its distance from the list, from 0. */
export interface Bracket {
  readonly from: string
  readonly to: string
  readonly fromRow: number
  readonly toRow: number
  readonly references: number
  /** True for the cut: it leads upward, against the order. */
  readonly back: boolean
  readonly lane: number
}

export interface Ladder {
  /** Members in the order that the cut leaves: each depends only on those below it, but for the cut. */
  readonly rungs: readonly string[]
  readonly brackets: readonly Bracket[]
  /** Widest number of lanes on each side. */
  readonly lanes: { readonly forward: number; readonly back: number }
}

/**
 * Lists the members of a cycle in the order that its cut leaves and brackets the dependencies beside it: those of the cut
 * on one side, the others on the other, no two overlapping in one lane. Reads the same for 2 members and for 2,000.
 * `most` limits the forward brackets to the heaviest. O(E log E + E * lanes).
 */
export function layoutLadder(input: LadderInput, most = 40): Ladder {
  const index = new Map(input.members.map((member, at) => [member, at]))
  const isCut = new Set(input.cut.map(one => `${one.from}\0${one.to}`))
  const arcs = input.dependencies.map(one => ({ from: index.get(one.from)!, to: index.get(one.to)!, weight: one.references }))
  const without = Uint8Array.from(input.dependencies, one => (isCut.has(`${one.from}\0${one.to}`) ? 1 : 0))
  const order = topologicalOrder(input.members.length, arcs, without)
  const rungs = order.map(node => input.members[node]!)
  const row = new Map(rungs.map((member, at) => [member, at]))
  const place = (list: LadderInput['dependencies'], back: boolean): { brackets: Bracket[]; lanes: number } => {
    const ends: { from: number; to: number }[][] = []
    const brackets = [...list].sort((a, b) => span(a) - span(b) || row.get(a.from)! - row.get(b.from)!).map(one => {
      const from = row.get(one.from)!, to = row.get(one.to)!
      const low = Math.min(from, to), high = Math.max(from, to)
      let lane = ends.findIndex(taken => taken.every(other => high <= other.from || low >= other.to))
      if (lane < 0) { lane = ends.length; ends.push([]) }
      ends[lane]!.push({ from: low, to: high })
      return { from: one.from, to: one.to, fromRow: from, toRow: to, references: one.references, back, lane }
    })
    return { brackets, lanes: ends.length }
  }
  const span = (one: { from: string; to: string }) => Math.abs(row.get(one.from)! - row.get(one.to)!)
  const back = place(input.dependencies.filter((_, at) => without[at] === 1), true)
  const heaviest = input.dependencies.filter((_, at) => without[at] === 0).sort((a, b) => b.references - a.references || (a.from < b.from ? -1 : 1)).slice(0, most)
  const forward = place(heaviest, false)
  return { rungs, brackets: [...forward.brackets, ...back.brackets], lanes: { forward: forward.lanes, back: back.lanes } }
}
