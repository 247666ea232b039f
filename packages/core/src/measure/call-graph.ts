import type { EffectCatalogue } from '../effect/catalogue.js'
import type { RowGraph } from '../graph/reachable-bits.js'
import { rowsOf } from '../graph/reachable-bits.js'
import type { CodeModel } from '../model/code-model.js'
import { CallEdges } from './call-edges.js'
import type { MemberNodes } from './member-nodes.js'
import { memberNodesOf } from './member-nodes.js'
import { directOverridersOf, slotOverriders } from './slot-overriders.js'

/** Edges of a call graph by their first node, each with the place where it stands. */
export interface CallRows extends RowGraph { readonly places: Int32Array }

/**
 * Who runs whose bodies. A node is a member of a type (overloads are one), the loading of a type, or the making of one of
 * its objects. Plain edges are always followed. A *slot* is a member that others override: which of them a call runs depends
 * on which objects there are. Fields are nodes too: what gives them their value runs when they are read or their object is made.
 */
export interface CallGraph extends MemberNodes {
  readonly model: CodeModel
  readonly nodeCount: number
  readonly plain: CallRows
  /** Calls of slots, by node. `targets` are slots. */
  readonly slotCalls: CallRows & { readonly holds: Uint8Array }
  /** Nodes that a call of a slot may run, each with the type of which there must be an object. */
  readonly overriders: RowGraph & { readonly types: Int32Array }
  /** Effects of a node's own code. `targets` are bits. */
  readonly effects: CallRows & { readonly plugged: Uint8Array }
  /** Numbers of the slots, by the node of the member. */
  readonly slots: ReadonlyMap<number, number>
  nodeOf(type: number, name: string): number | undefined
}

/** Builds the call graph of a model: O(references + own uses + overrides), but for finding out which classes fit an interface that they do not name. */
export function buildCallGraph(model: CodeModel, catalogueOf: (language: string) => EffectCatalogue): CallGraph {
  const nodes = memberNodesOf(model)
  const directOverriders = directOverridersOf(model, nodes)
  const slots = new Map<number, number>()
  const edges = new CallEdges(model, nodes, slots, node => directOverriders.has(node), catalogueOf)
  for (const type of model.types) edges.addWithin(type)
  edges.addReferences(0, model.references.length)
  edges.addOwnUses(0, model.ownUses.length)
  edges.addUnresolved(0, model.unresolved.length)
  return {
    model, nodeCount: nodes.nodeType.length, ...nodes, ...rowsOfEdges(nodes.nodeType.length, edges), slots, overriders: slotOverriders(model, nodes, slots, directOverriders),
    nodeOf: (type, name) => nodes.names[type]?.get(name)
  }
}

/** Collected edges in rows. */
export function rowsOfEdges(nodeCount: number, edges: CallEdges): Pick<CallGraph, 'plain' | 'slotCalls' | 'effects'> {
  const plain = rowsOf(nodeCount, edges.plain.from, edges.plain.to)
  const calls = rowsOf(nodeCount, edges.calls.from, edges.calls.slot)
  const effects = rowsOf(nodeCount, edges.effects.node, edges.effects.bit)
  const ordered = (values: readonly number[], order: Int32Array) => Int32Array.from(order, at => values[at]!)
  return {
    plain: { ...plain, places: ordered(edges.plain.place, plain.order) },
    slotCalls: { ...calls, places: ordered(edges.calls.place, calls.order), holds: Uint8Array.from(calls.order, at => edges.calls.hold[at]!) },
    effects: { ...effects, places: ordered(edges.effects.place, effects.order), plugged: Uint8Array.from(effects.order, at => edges.effects.plugged[at]!) }
  }
}
