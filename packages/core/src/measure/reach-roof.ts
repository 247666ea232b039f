import type { EffectSet } from '../effect/kinds.js'
import { outsideOf } from '../effect/kinds.js'
import type { RowGraph } from '../graph/reachable-bits.js'
import { rowsOf } from '../graph/reachable-bits.js'
import type { CallGraph } from './call-graph.js'
import { SlotHold } from './call-edges.js'
import { MAKING } from './member-nodes.js'

/** Rows of overriders by the type of which there must be an object. */
export interface OverridersByType {
  /** `targets` are places in the graph's overriders. */
  readonly rows: RowGraph
  /** The slot that each place belongs to. */
  readonly slotOf: Int32Array
}

export function overridersByType({ overriders, model }: CallGraph): OverridersByType {
  const slots = overriders.starts.length - 1
  const slotOf = new Int32Array(overriders.targets.length)
  for (let slot = 0; slot < slots; slot++) slotOf.fill(slot, overriders.starts[slot], overriders.starts[slot + 1])
  return { rows: rowsOf(model.types.length, overriders.types, Int32Array.from(overriders.types, (_, at) => at)), slotOf }
}

/** Extensions in vain that are allowed, beside one for each that was not. */
const IN_VAIN = 20

/**
 * One walk for many types, without any outside effect in it: everything that could run from any of them if nothing were plugged
 * in, every object that any of them makes were there, and of what is fetched anything that fits. A type under the roof reaches no
 * outside effect, because a walk of its own sees no more than that. It grows type by type, and a type with which an outside
 * effect would come under it is taken out again, so that all types together cost about one walk.
 */
export class ReachRoof {
  /** Effects under the roof; never an outside one. */
  set: EffectSet = 0
  private readonly seen: Uint8Array
  private readonly live: Uint8Array
  private readonly slotSeen: Uint8Array
  private readonly spread: Uint8Array
  private vain = 0
  private grown = 0

  constructor(private readonly graph: CallGraph, private readonly worth: Uint8Array, private readonly byType: OverridersByType) {
    const slots = graph.overriders.starts.length - 1
    this.seen = new Uint8Array(graph.nodeCount)
    this.live = new Uint8Array(graph.model.types.length)
    this.slotSeen = new Uint8Array(slots)
    this.spread = new Uint8Array(slots)
  }

  /** Brings a type under the roof; false where an outside effect would come with it, or where trying has been in vain too often. */
  cover(type: number): boolean {
    if (this.vain > IN_VAIN + this.grown) return false
    const { graph: { firstNode, nodeType, nodeName, plain, slotCalls, overriders, effects, model }, seen, live, slotSeen, spread, worth, byType } = this
    const nodes: number[] = [], types: number[] = [], slots: number[] = [], spreadSlots: number[] = []
    let set = this.set
    const push = (node: number): void => { if (seen[node] === 0 && worth[node] !== 0) { seen[node] = 1; nodes.push(node) } }
    for (let node = firstNode[type]!; node < firstNode[type + 1]!; node++) push(node)
    for (let head = 0; head < nodes.length && outsideOf(set) === 0; head++) {
      const node = nodes[head]!
      for (let at = effects.starts[node]!; at < effects.starts[node + 1]!; at++) if (!effects.plugged[at]) set |= effects.targets[at]!
      const made = nodeType[node]!
      if (nodeName[node] === MAKING && live[made] === 0) {
        live[made] = 1
        types.push(made)
        for (let at = byType.rows.starts[made]!; at < byType.rows.starts[made + 1]!; at++) {
          const place = byType.rows.targets[at]!
          if (slotSeen[byType.slotOf[place]!] === 1) push(overriders.targets[place]!)
        }
      }
      for (let at = plain.starts[node]!; at < plain.starts[node + 1]!; at++) push(plain.targets[at]!)
      for (let at = slotCalls.starts[node]!; at < slotCalls.starts[node + 1]!; at++) {
        const slot = slotCalls.targets[at]!, isFetched = slotCalls.holds[at]! === Number(SlotHold.Fetched)
        const first = overriders.starts[slot]!, end = overriders.starts[slot + 1]!
        if (slotSeen[slot] === 0) {
          slotSeen[slot] = 1
          slots.push(slot)
          for (let one = first; one < end; one++) if (live[overriders.types[one]!] === 1) push(overriders.targets[one]!)
        }
        if (isFetched && spread[slot] === 0) {
          spread[slot] = 1
          spreadSlots.push(slot)
          for (let one = first; one < end; one++) if (!model.types[overriders.types[one]!]!.test) push(overriders.targets[one]!)
        }
      }
    }
    if (outsideOf(set) === 0) { this.set = set; this.grown++; return true }
    for (const node of nodes) seen[node] = 0
    for (const one of types) live[one] = 0
    for (const slot of slots) slotSeen[slot] = 0
    for (const slot of spreadSlots) spread[slot] = 0
    this.vain++
    return false
  }
}
