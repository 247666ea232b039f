import type { EffectCatalogue } from '../effect/catalogue.js'
import type { EffectKind, EffectSet } from '../effect/kinds.js'
import { bitOf, EFFECT_KINDS, notKnownOf, outsideOf } from '../effect/kinds.js'
import type { RowGraph } from '../graph/reachable-bits.js'
import { reachableBits } from '../graph/reachable-bits.js'
import type { CodeModel } from '../model/code-model.js'
import { SlotHold } from './call-edges.js'
import type { CallGraph } from './call-graph.js'
import { buildCallGraph } from './call-graph.js'
import { renewCallGraph } from './call-graph-renewal.js'
import type { Place } from './call-places.js'
import { NOWHERE, placeIndex, placeKind } from './call-places.js'
import { collaboratorName } from './joints.js'
import { MAKING } from './member-nodes.js'
import type { OverridersByType } from './reach-roof.js'
import { overridersByType, ReachRoof } from './reach-roof.js'

/** One step of a path: the member that runs, and the place in the step before it that leads there. */
export interface ReachStep {
  readonly type: number
  /** '' for its loading, `constructor` for the making of an object. */
  readonly member: string
  /** Where it is called from; `NOWHERE` for the first, and where the language itself leads on. */
  readonly place: Place
}

/** An outside effect that a type reaches. */
export interface ReachedEffect {
  readonly kind: EffectKind
  /** From a member of the type itself to the member whose code touches it. */
  readonly steps: readonly ReachStep[]
  /** The reference, own use or unresolved name that touches it. */
  readonly place: Place
}

/** A collaborator of a type, as far as a walk may leave it out: the index of a type, or the name of an external. */
export type Collaborator = number | string

/**
 * What each type reaches (definitions.md). Two bounds come from one linear pass each: what is reached whatever else there
 * is, and what could be reached at most. Only for types between the two is the call graph walked, each for itself, and only
 * where what is still open may be found.
 */
export class Reach {
  private readonly sure: Int32Array
  private readonly most: Int32Array
  private readonly sets: Int32Array
  /** What decides on each type, -1 where that is not known yet. */
  private readonly decided: Int32Array
  private readonly roof: ReachRoof
  private readonly walk: Walk

  constructor(readonly graph: CallGraph, private readonly catalogueOf?: (language: string) => EffectCatalogue) {
    const { nodeCount, effects, plain, slotCalls, overriders } = graph
    const own = new Int32Array(nodeCount)
    for (let node = 0; node < nodeCount; node++) {
      for (let at = effects.starts[node]!; at < effects.starts[node + 1]!; at++) if (!effects.plugged[at]) own[node]! |= effects.targets[at]!
    }
    this.sure = reachableBits(plain, own)
    // At most: every call of a slot may run all that override it. A node between the two for each slot keeps that linear.
    const slots = overriders.starts.length - 1
    const every = withSlots(plain, slotCalls, overriders)
    const whole = new Int32Array(nodeCount + slots)
    whole.set(own)
    const relevant = bitOf('unresolved') << 1
    const bits = reachableBits(every, whole)
    this.most = bits.slice(0, nodeCount)
    // Making an object matters to a walk only if it decides on a slot that may lead to an effect.
    const matters = new Uint8Array(graph.model.types.length)
    for (let slot = 0; slot < slots; slot++) {
      if (bits[nodeCount + slot] === 0) continue
      for (let at = overriders.starts[slot]!; at < overriders.starts[slot + 1]!; at++) matters[overriders.types[at]!] = 1
    }
    const making = new Int32Array(nodeCount)
    for (let node = 0; node < nodeCount; node++) if (graph.nodeName[node] === MAKING && matters[graph.nodeType[node]!]) making[node] = relevant
    const makes = new Int32Array(nodeCount + slots)
    makes.set(making)
    const reachesMaking = reachableBits(every, makes)
    const worth = new Uint8Array(nodeCount)
    for (let node = 0; node < nodeCount; node++) worth[node] = this.most[node]! !== 0 || reachesMaking[node]! !== 0 ? 1 : 0
    const byType = overridersByType(graph)
    this.walk = new Walk(graph, worth, byType)
    this.roof = new ReachRoof(graph, worth, byType)
    this.sets = new Int32Array(graph.model.types.length).fill(-1)
    this.decided = this.sets.slice()
  }

  /** `earlier`: what was reached before some files changed (their numbers), under the same catalogue; only what stands in those is done anew where that can be. */
  static of(model: CodeModel, catalogueOf: (language: string) => EffectCatalogue, earlier?: { readonly reach: Reach; readonly changedFiles: readonly number[] }): Reach {
    const renewed = earlier && renewCallGraph(earlier.reach.graph, model, earlier.changedFiles, catalogueOf)
    return new Reach(renewed ?? buildCallGraph(model, catalogueOf), catalogueOf)
  }

  /** The kinds of effects that a type reaches. */
  setOf(type: number): EffectSet {
    let set = this.sets[type]!
    if (set !== -1) return set
    const { firstNode } = this.graph
    let sure = 0, most = 0
    for (let node = firstNode[type]!; node < firstNode[type + 1]!; node++) { sure |= this.sure[node]!; most |= this.most[node]! }
    set = sure === most ? sure : this.walk.run(type, most, NO_ONE).set
    this.sets[type] = set
    return set
  }

  /**
   * What decides on a type: an outside effect that it reaches where there is any, otherwise what is not known on the way. The
   * walk ends at the first outside effect; where it is sure there is none.
   */
  deciding(type: number, plugged: ReadonlySet<Collaborator> = NO_ONE): EffectSet {
    const known = this.sets[type]!
    if (known !== -1 && plugged.size === 0) return known
    const { firstNode } = this.graph
    let sure = 0, most = 0
    for (let node = firstNode[type]!; node < firstNode[type + 1]!; node++) { sure |= this.sure[node]!; most |= this.most[node]! }
    if (plugged.size > 0) return most === 0 ? 0 : this.walk.run(type, most, plugged, outsideOf(most)).set
    if (outsideOf(sure) !== 0 || sure === most) return sure
    const before = this.decided[type]!
    if (before !== -1) return before
    // Under the roof there is nothing outside, and what is surely not known is enough to say so; only where it is not, a walk tells.
    const isSettled = this.roof.cover(type) && (notKnownOf(sure) !== 0 || notKnownOf(most & this.roof.set) === 0)
    return (this.decided[type] = isSettled ? sure : this.walk.run(type, most, NO_ONE, outsideOf(most)).set)
  }

  /** What the code behind some references surely reaches; of what is made there, all that it can do counts. */
  behind(references: readonly number[]): EffectSet {
    const { model } = this.graph
    let set = 0
    for (const at of references) {
      const to = model.references.to(at)
      if (to < 0) { const effect = this.effectOfExternal(model, at, 'used'); if (effect !== 'pure') set |= bitOf(effect); continue }
      const made = model.references.kind(at) === 'creates'
      if (made) set |= this.sureOf(to)
      else { const node = this.graph.nodeOf(to, model.references.member(at)); if (node !== undefined) set |= this.sure[node]! }
    }
    return set
  }

  /** What a member could reach at most, by whatever fits. */
  ofMember(type: number, member: string): EffectSet {
    const node = this.graph.nodeOf(type, member)
    return node === undefined ? 0 : this.most[node]!
  }

  private sureOf(type: number): EffectSet {
    const { firstNode } = this.graph
    let set = 0
    for (let node = firstNode[type]!; node < firstNode[type + 1]!; node++) set |= this.sure[node]!
    return set
  }

  /** Each effect that a type reaches, by the shortest path. A walk of its own. */
  effectsOf(type: number): ReachedEffect[] {
    const known = this.sets[type]!
    if (known === 0) return []
    const { firstNode } = this.graph
    let most = 0
    for (let node = firstNode[type]!; node < firstNode[type + 1]!; node++) most |= this.most[node]!
    const outcome = this.walk.run(type, known === -1 ? most : known, NO_ONE)
    this.sets[type] = outcome.set
    return outcome.effects()
  }

  /** What a type reaches while `plugged` are handed in as abstractions. A walk of its own. */
  setWithout(type: number, plugged: ReadonlySet<Collaborator>): EffectSet {
    return this.setOf(type) === 0 ? 0 : this.walk.run(type, this.setOf(type), plugged).set
  }

  /** What extending the external that a reference names means. */
  effectOfBase(model: CodeModel, reference: number): EffectKind | 'pure' { return this.effectOfExternal(model, reference, 'extended') }

  /** Whether all uses of externals by these references only compute. */
  isPureExternal(model: CodeModel, references: readonly number[]): boolean {
    return references.every(at => !model.references.use(at) || this.effectOfExternal(model, at, model.references.kind(at) === 'extends' ? 'extended' : 'used') === 'pure')
  }

  private effectOfExternal(model: CodeModel, reference: number, how: 'used' | 'extended'): EffectKind | 'pure' {
    const { language } = model.files[model.references.file(reference)]!
    return this.catalogueOf?.(language).effectOf(model.references.external(reference), model.references.member(reference), how) ?? 'unknown'
  }

  /** Whether nothing that a type's own members may do reaches an effect, whoever uses it. */
  isPure(type: number): boolean {
    const { firstNode } = this.graph
    for (let node = firstNode[type]!; node < firstNode[type + 1]!; node++) if (this.most[node] !== 0) return false
    return true
  }
}

/** Plain edges and calls of slots together; after the nodes stand the slots, each with what overrides it. */
function withSlots(plain: RowGraph, slotCalls: RowGraph, overriders: RowGraph): RowGraph {
  const nodes = plain.starts.length - 1, slots = overriders.starts.length - 1
  const starts = new Int32Array(nodes + slots + 1), targets = new Int32Array(plain.targets.length + slotCalls.targets.length + overriders.targets.length)
  let length = 0
  for (let node = 0; node < nodes; node++) {
    for (let at = plain.starts[node]!; at < plain.starts[node + 1]!; at++) targets[length++] = plain.targets[at]!
    for (let at = slotCalls.starts[node]!; at < slotCalls.starts[node + 1]!; at++) targets[length++] = nodes + slotCalls.targets[at]!
    starts[node + 1] = length
  }
  for (let slot = 0; slot < slots; slot++) starts[nodes + slot + 1] = length + overriders.starts[slot + 1]!
  targets.set(overriders.targets, length)
  return { starts, targets }
}

const NO_ONE: ReadonlySet<Collaborator> = new Set()

interface Outcome { readonly set: EffectSet; effects(): ReachedEffect[] }

/** Breadth-first walks from one type at a time; its tables are made once and stamped anew by each walk. */
class Walk {
  private readonly seen: Int32Array
  private readonly cameFrom: Int32Array
  private readonly cameBy: Int32Array
  private readonly queue: Int32Array
  private readonly slotSeen: Int32Array
  private readonly slotFrom: Int32Array
  private readonly slotBy: Int32Array
  private readonly live: Int32Array
  private stamp = 0

  constructor(private readonly graph: CallGraph, private readonly worth: Uint8Array, private readonly byType: OverridersByType) {
    const { nodeCount, overriders, model } = graph
    const slots = overriders.starts.length - 1
    this.seen = new Int32Array(nodeCount)
    this.cameFrom = new Int32Array(nodeCount)
    this.cameBy = new Int32Array(nodeCount)
    this.queue = new Int32Array(nodeCount)
    this.slotSeen = new Int32Array(slots)
    this.slotFrom = new Int32Array(slots)
    this.slotBy = new Int32Array(slots)
    this.live = new Int32Array(model.types.length)
  }

  /** `wanted`: the kinds that can be found at most; the walk ends when all are, or when any of `enough` is. */
  run(start: number, wanted: EffectSet, plugged: ReadonlySet<Collaborator>, enough: EffectSet = 0): Outcome {
    const { graph, seen, cameFrom, cameBy, queue, slotSeen, live, worth, byType } = this
    const { model, firstNode, nodeType, nodeName, plain, slotCalls, overriders, effects } = graph
    const stamp = ++this.stamp
    const { references } = model
    const isPlugged = plugged.size === 0 ? () => false : (place: Place, node: number): boolean => {
      // Only what the type itself holds can be handed to it.
      if (nodeType[node] !== start || placeKind(place) !== 'reference') return false
      const index = placeIndex(place)
      const to = references.to(index)
      if (to < 0) return plugged.has(collaboratorName(references.external(index), references.member(index)))
      const receiver = references.use(index)?.receiver
      return plugged.has(to) || (receiver !== null && receiver !== undefined && plugged.has(model.typeIndex.get(receiver) ?? -1))
    }
    let set = 0, head = 0, tail = 0
    const found = new Map<number, { node: number; place: Place }>()
    const fetched: number[] = []
    const push = (node: number, from: number, place: Place) => {
      if (seen[node] === stamp || worth[node] === 0) return
      seen[node] = stamp
      cameFrom[node] = from
      cameBy[node] = place
      queue[tail++] = node
    }
    for (let node = firstNode[start]!; node < firstNode[start + 1]!; node++) push(node, -1, NOWHERE)
    const drain = () => {
      while (head < tail && (wanted & ~set) !== 0 && (set & enough) === 0) {
        const node = queue[head++]!
        for (let at = effects.starts[node]!; at < effects.starts[node + 1]!; at++) {
          const bit = effects.targets[at]!
          if ((set & bit) !== 0 || effects.plugged[at] || isPlugged(effects.places[at]!, node)) continue
          set |= bit
          found.set(bit, { node, place: effects.places[at]! })
        }
        if (nodeName[node] === MAKING && live[nodeType[node]!] !== stamp) {
          const type = nodeType[node]!
          live[type] = stamp
          for (let at = byType.rows.starts[type]!; at < byType.rows.starts[type + 1]!; at++) {
            const place = byType.rows.targets[at]!, slot = byType.slotOf[place]!
            if (slotSeen[slot] === stamp) push(overriders.targets[place]!, this.slotFrom[slot]!, this.slotBy[slot]!)
          }
        }
        for (let at = plain.starts[node]!; at < plain.starts[node + 1]!; at++) {
          const place = plain.places[at]!
          if (!isPlugged(place, node)) push(plain.targets[at]!, node, place)
        }
        for (let at = slotCalls.starts[node]!; at < slotCalls.starts[node + 1]!; at++) {
          const slot = slotCalls.targets[at]!, hold = slotCalls.holds[at]!, place = slotCalls.places[at]!
          if (hold === SlotHold.Plugged && nodeType[node] === start) continue
          if (isPlugged(place, node)) continue
          if (hold === SlotHold.Fetched) fetched.push(slot)
          if (slotSeen[slot] === stamp) continue
          slotSeen[slot] = stamp
          this.slotFrom[slot] = node
          this.slotBy[slot] = place
          for (let one = overriders.starts[slot]!; one < overriders.starts[slot + 1]!; one++) {
            if (live[overriders.types[one]!] === stamp) push(overriders.targets[one]!, node, place)
          }
        }
      }
    }
    drain()
    // Of what was fetched and never seen made, anything in the product that fits may be there.
    while (fetched.length > 0 && (wanted & ~set) !== 0 && (set & enough) === 0) {
      for (const slot of fetched.splice(0)) {
        const first = overriders.starts[slot]!, end = overriders.starts[slot + 1]!
        let known = false
        for (let at = first; at < end; at++) if (live[overriders.types[at]!] === stamp) known = true
        if (known) continue
        for (let at = first; at < end; at++) {
          if (!model.types[overriders.types[at]!]!.test) push(overriders.targets[at]!, this.slotFrom[slot]!, this.slotBy[slot]!)
        }
      }
      drain()
    }
    return {
      set,
      effects: () => EFFECT_KINDS.filter(kind => found.has(bitOf(kind))).map(kind => {
        const { node, place } = found.get(bitOf(kind))!
        const steps: ReachStep[] = []
        for (let at = node; at >= 0; at = cameFrom[at]!) steps.unshift({ type: nodeType[at]!, member: nodeName[at]!, place: cameBy[at]! })
        return { kind, steps, place }
      })
    }
  }
}
