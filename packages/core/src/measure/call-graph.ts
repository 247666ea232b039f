import { bitOf } from '../effect/kinds.js'
import type { EffectKind } from '../effect/kinds.js'
import type { EffectCatalogue } from '../effect/catalogue.js'
import type { RowGraph } from '../graph/reachable-bits.js'
import { rowsOf } from '../graph/reachable-bits.js'
import type { CodeModel, ModelType } from '../model/code-model.js'
import type { MemberFacts } from '../model/facts.js'

/** The node of a type for what runs when it is loaded, and for the making of one of its objects. */
export const LOADING = '', MAKING = 'constructor'

/** Where an edge or effect stands: a reference, a use of an own member, an unresolved name, or nowhere (it follows from the language). */
export type Place = number
export const NOWHERE: Place = -1
const PLACE_KINDS = 3
export const referencePlace = (index: number): Place => index * PLACE_KINDS
export const ownUsePlace = (index: number): Place => index * PLACE_KINDS + 1
export const unresolvedPlace = (index: number): Place => index * PLACE_KINDS + 2
export function placeKind(place: Place): 'reference' | 'own-use' | 'unresolved' | 'nowhere' {
  return place < 0 ? 'nowhere' : (['reference', 'own-use', 'unresolved'] as const)[place % PLACE_KINDS]!
}
export function placeIndex(place: Place): number { return Math.floor(place / PLACE_KINDS) }

/** How the caller of an abstract member holds the object. */
export enum SlotHold {
  /** Handed in as an abstraction: a test puts a double there. */
  Plugged,
  Other,
  /** Fetched from something that nothing outside can replace: whatever implements it may be there. */
  Fetched
}

/**
 * Who runs whose bodies. A node is a member of a type (overloads are one), the loading of a type, or the making of one of
 * its objects. Plain edges are always followed. A *slot* is a member that others override: which of them a call runs depends
 * on which objects there are. Fields are nodes too: what gives them their value runs when they are read or their object is made.
 */
export interface CallGraph {
  readonly model: CodeModel
  readonly nodeCount: number
  readonly nodeType: Int32Array
  readonly nodeName: readonly string[]
  /** Nodes of a type, from the first to the one before the next type's first. */
  readonly firstNode: Int32Array
  readonly plain: RowGraph & { readonly places: Int32Array }
  /** Calls of slots, by node. `targets` are slots. */
  readonly slotCalls: RowGraph & { readonly places: Int32Array; readonly holds: Uint8Array }
  /** Nodes that a call of a slot may run, each with the type of which there must be an object. */
  readonly overriders: RowGraph & { readonly types: Int32Array }
  /** Effects of a node's own code. `targets` are bits. */
  readonly effects: RowGraph & { readonly places: Int32Array; readonly plugged: Uint8Array }
  nodeOf(type: number, name: string): number | undefined
}

/** Builds the call graph of a model: O(references + own uses + overrides), but for finding out which classes fit an interface that they do not name. */
export function buildCallGraph(model: CodeModel, catalogueOf: (language: string) => EffectCatalogue): CallGraph {
  return new CallGraphBuilder(model, catalogueOf).build()
}

/** More classes than this with one member's name are not taken for implementations by their shape. */
const COMMON = 100

class CallGraphBuilder {
  private readonly names: Map<string, number>[] = []
  private readonly members: Map<string, MemberFacts[]>[] = []
  private readonly nodeType: number[] = []
  private readonly nodeName: string[] = []
  private readonly firstNode: Int32Array
  private readonly plain = { from: [] as number[], to: [] as number[], place: [] as number[] }
  private readonly slots = new Map<number, number>()
  private readonly calls = { from: [] as number[], slot: [] as number[], place: [] as number[], hold: [] as number[] }
  private readonly effects = { node: [] as number[], bit: [] as number[], place: [] as number[], plugged: [] as number[] }
  /** By node that is overridden: the nodes that override it directly. */
  private readonly directOverriders = new Map<number, number[]>()
  private readonly languages: readonly string[]

  constructor(private readonly model: CodeModel, private readonly catalogueOf: (language: string) => EffectCatalogue) {
    this.firstNode = new Int32Array(model.types.length + 1)
    this.languages = model.types.map(type => model.files[type.file]!.language)
  }

  build(): CallGraph {
    this.addNodes()
    for (const { type, base, member } of this.model.overrides) {
      const from = this.names[type]!.get(member), to = this.names[base]!.get(member)
      if (from === undefined || to === undefined) continue
      const list = this.directOverriders.get(to)
      if (list) list.push(from)
      else this.directOverriders.set(to, [from])
    }
    this.addWithinTypes()
    this.addReferences()
    this.addOwnUses()
    this.model.unresolved.forEach(({ from, inMember }, index) => {
      if (from < 0 || inMember === '') return
      const node = this.names[from]!.get(inMember)
      if (node !== undefined) this.addEffect(node, 'unresolved', unresolvedPlace(index), false)
    })
    return this.finish()
  }

  private addNodes(): void {
    for (const type of this.model.types) {
      this.firstNode[type.index] = this.nodeType.length
      const names = new Map<string, number>(), members = new Map<string, MemberFacts[]>()
      const add = (name: string) => {
        if (names.has(name)) return
        names.set(name, this.nodeType.length)
        this.nodeType.push(type.index)
        this.nodeName.push(name)
      }
      add(LOADING)
      add(MAKING)
      for (const member of type.members) {
        add(member.name)
        const list = members.get(member.name)
        if (list) list.push(member)
        else members.set(member.name, [member])
      }
      this.names.push(names)
      this.members.push(members)
    }
    this.firstNode[this.model.types.length] = this.nodeType.length
  }

  /** What follows from the language: loading gives static fields their values, making an object gives its fields theirs. */
  private addWithinTypes(): void {
    for (const type of this.model.types) {
      if (type.kind === 'functions') continue
      const names = this.names[type.index]!
      const loading = names.get(LOADING)!, making = names.get(MAKING)!
      this.addPlain(making, loading, NOWHERE)
      for (const [name, facts] of this.members[type.index]!) {
        // What is declared and done elsewhere, as a native method is: nobody here knows what it does.
        if (type.kind.endsWith('class') && facts.every(one => one.kind === 'method' && !one.hasBody && !one.abstract)) this.addEffect(names.get(name)!, 'unknown', NOWHERE, false)
      }
      for (const member of type.members) {
        const node = names.get(member.name)!
        if (node === making) continue
        const holdsValue = (member.kind === 'field' || member.kind === 'value') && !member.hasBody
        if (member.static) {
          // Whoever uses a static member has its class loaded; what the loading runs need not lead back.
          if (holdsValue) this.addPlain(loading, node, NOWHERE)
          else this.addPlain(node, loading, NOWHERE)
        } else if (holdsValue || member.calledFromOutside) this.addPlain(making, node, NOWHERE)
      }
    }
  }

  private addReferences(): void {
    const { references } = this.model
    let lastFrom = -1, lastWithin = -1, node = -1
    for (let index = 0; index < references.length; index++) {
      if (references.typeOnly(index)) continue
      const kind = references.kind(index)
      const from = references.from(index), to = references.to(index)
      if (kind === 'extends') {
        const making = this.names[from]!.get(MAKING)!
        if (to >= 0) this.addPlain(making, this.names[to]!.get(MAKING)!, referencePlace(index))
        else this.addExternal(making, from, references.external(index), references.member(index), 'extended', referencePlace(index), false)
        continue
      }
      if (kind !== 'calls' && kind !== 'calls-static' && kind !== 'creates' && kind !== 'reads' && kind !== 'writes' && kind !== 'throws') continue
      // References follow each other through one body after the other.
      const within = references.inMemberNumber(index)
      if (from !== lastFrom || within !== lastWithin) node = this.nodeWithin(from, references.inMember(index))
      lastFrom = from
      lastWithin = within
      // A default of a parameter is only what callers get who pass nothing.
      if (!references.use(index)) continue
      if (to < 0) {
        if (kind === 'throws') continue
        this.addExternal(node, from, references.external(index), references.member(index), 'used', referencePlace(index), references.held(index).kind === 'plugged')
        continue
      }
      const member = references.member(index)
      if (member === '') { if (kind === 'creates' || kind === 'throws') this.addPlain(node, this.names[to]!.get(MAKING)!, referencePlace(index)); continue }
      const target = this.names[to]!.get(member)
      if (target === undefined) continue
      const held = references.held(index)
      this.addUse(node, to, member, target, referencePlace(index), held.kind === 'plugged' ? SlotHold.Plugged
        : held.kind === 'welded' && held.reason !== 'created' && held.reason !== 'inherited' ? SlotHold.Fetched : SlotHold.Other)
    }
  }

  /** The node of a member, or of the loading of its type for what stands in none. */
  private nodeWithin(type: number, member: string): number { return this.names[type]!.get(member) ?? this.names[type]!.get(LOADING)! }

  private addOwnUses(): void {
    this.model.ownUses.forEach(({ type, inMember, member }, index) => {
      const node = this.nodeWithin(type, inMember)
      const target = this.names[type]!.get(member)
      if (target === undefined || target === node) return
      const facts = this.members[type]!.get(member)
      // What gives an object's field its value ran when the object was made.
      if (facts?.every(one => one.kind === 'field' && !one.static && !one.hasBody) && this.model.types[type]!.kind !== 'functions') return
      this.addUse(node, type, member, target, ownUsePlace(index), SlotHold.Other)
    })
  }

  /** A use of a member of a project's type. */
  private addUse(node: number, type: number, member: string, target: number, place: Place, hold: SlotHold): void {
    const facts = this.members[type]!.get(member)
    const isAbstract = facts !== undefined && facts.every(one => isWithoutBody(one, this.model.types[type]!))
    if (!isAbstract) this.addPlain(node, target, place)
    if (!isAbstract && !this.directOverriders.has(target)) return
    let slot = this.slots.get(target)
    if (slot === undefined) this.slots.set(target, slot = this.slots.size)
    this.calls.from.push(node)
    this.calls.slot.push(slot)
    this.calls.place.push(place)
    this.calls.hold.push(hold)
  }

  private addPlain(from: number, to: number, place: Place): void {
    if (from === to) return
    this.plain.from.push(from)
    this.plain.to.push(to)
    this.plain.place.push(place)
  }

  private addExternal(node: number, type: number, external: string, member: string, how: 'used' | 'extended', place: Place, plugged: boolean): void {
    const effect = this.catalogueOf(this.languages[type]!).effectOf(external, member, how)
    if (effect !== 'pure') this.addEffect(node, effect, place, plugged)
  }

  private addEffect(node: number, effect: EffectKind, place: Place, plugged: boolean): void {
    this.effects.node.push(node)
    this.effects.bit.push(bitOf(effect))
    this.effects.place.push(place)
    this.effects.plugged.push(plugged ? 1 : 0)
  }

  private finish(): CallGraph {
    const count = this.nodeType.length
    const found = { slot: [] as number[], node: [] as number[], type: [] as number[] }
    const inherited = this.inheritedImplementations()
    for (const [target, slot] of this.slots) {
      const seen = new Set<number>([target])
      const add = (node: number, type: number) => {
        if (this.members[this.nodeType[node]!]!.get(this.nodeName[node]!)!.every(one => isWithoutBody(one, this.model.types[this.nodeType[node]!]!))) return
        found.slot.push(slot)
        found.node.push(node)
        found.type.push(type)
      }
      const open = [target]
      while (open.length > 0) {
        const at = open.pop()!
        for (const { node, type } of inherited.get(at) ?? []) add(node, type)
        for (const next of this.directOverriders.get(at) ?? []) {
          if (seen.has(next)) continue
          seen.add(next)
          open.push(next)
          add(next, this.nodeType[next]!)
        }
      }
    }
    const plain = rowsOf(count, this.plain.from, this.plain.to)
    const calls = rowsOf(count, this.calls.from, this.calls.slot)
    const overriders = rowsOf(this.slots.size, found.slot, found.node)
    const effects = rowsOf(count, this.effects.node, this.effects.bit)
    const ordered = (values: readonly number[], order: Int32Array) => Int32Array.from(order, at => values[at]!)
    return {
      model: this.model, nodeCount: count, nodeType: Int32Array.from(this.nodeType), nodeName: this.nodeName, firstNode: this.firstNode,
      plain: { ...plain, places: ordered(this.plain.place, plain.order) },
      slotCalls: { ...calls, places: ordered(this.calls.place, calls.order), holds: Uint8Array.from(calls.order, at => this.calls.hold[at]!) },
      overriders: { ...overriders, types: ordered(found.type, overriders.order) },
      effects: { ...effects, places: ordered(this.effects.place, effects.order), plugged: Uint8Array.from(effects.order, at => this.effects.plugged[at]!) },
      nodeOf: (type, name) => this.names[type]?.get(name)
    }
  }

  /**
   * Members that a class has from a base and that serve an interface the base does not know; and, where a language looks at
   * the shape of objects alone, classes with all members of an interface that they do not name. By node of the interface's member.
   */
  private inheritedImplementations(): Map<number, { node: number; type: number }[]> {
    const { model } = this
    const bases: number[][] = model.types.map(() => []), interfaces: number[][] = model.types.map(() => [])
    for (let index = 0; index < model.references.length; index++) {
      const kind = model.references.kind(index), to = model.references.to(index)
      if (to < 0 || (kind !== 'extends' && kind !== 'implements')) continue
      (kind === 'extends' && model.types[to]!.kind !== 'interface' ? bases : interfaces)[model.references.from(index)]!.push(to)
    }
    const found = new Map<number, { node: number; type: number }[]>()
    const isSlot = (type: number, member: string) => { const node = this.names[type]!.get(member); return node !== undefined && this.slots.has(node) ? node : undefined }
    /** The nearest base, or with `own` the type itself, that has a body for a member. */
    const bodyOf = (type: number, member: string, own: boolean): number | undefined => {
      const seen = new Set<number>()
      for (let open = own ? [type] : bases[type]!; open.length > 0;) {
        const next: number[] = []
        for (const at of open) {
          if (seen.has(at)) continue
          seen.add(at)
          if (this.members[at]!.get(member)?.some(one => !isWithoutBody(one, model.types[at]!))) return this.names[at]!.get(member)
          next.push(...bases[at]!)
        }
        open = next
      }
      return undefined
    }
    const note = (slotNode: number, node: number, type: number) => {
      const list = found.get(slotNode)
      if (list) list.push({ node, type })
      else found.set(slotNode, [{ node, type }])
    }
    for (const type of model.types) {
      if (type.kind !== 'class' && type.kind !== 'abstract-class') continue
      const seen = new Set<number>()
      for (let open = interfaces[type.index]!; open.length > 0;) {
        const next: number[] = []
        for (const at of open) {
          if (seen.has(at)) continue
          seen.add(at)
          for (const member of this.members[at]!.keys()) {
            const slotNode = isSlot(at, member)
            if (slotNode === undefined || this.members[type.index]!.has(member)) continue
            const node = bodyOf(type.index, member, false)
            if (node !== undefined) note(slotNode, node, type.index)
          }
          next.push(...interfaces[at]!)
        }
        open = next
      }
    }
    const classesWith = new Map<string, number[]>()
    for (const type of model.types) {
      if (type.kind !== 'class' || this.languages[type.index] !== 'typescript') continue
      for (const name of this.members[type.index]!.keys()) { const list = classesWith.get(name); if (list) list.push(type.index); else classesWith.set(name, [type.index]) }
    }
    for (const shape of model.types) {
      if ((shape.kind !== 'interface' && shape.kind !== 'alias') || this.languages[shape.index] !== 'typescript') continue
      const wanted = [...this.members[shape.index]!.keys()]
      if (wanted.length === 0 || !wanted.some(member => isSlot(shape.index, member) !== undefined)) continue
      const rarest = wanted.reduce((a, b) => ((classesWith.get(b)?.length ?? 0) < (classesWith.get(a)?.length ?? 0) ? b : a))
      const candidates = classesWith.get(rarest) ?? []
      // Names that so many classes have say nothing of what is meant.
      if (candidates.length > COMMON) continue
      for (const type of candidates) {
        if (interfaces[type]!.includes(shape.index) || !wanted.every(member => bodyOf(type, member, true) !== undefined)) continue
        for (const member of wanted) { const slotNode = isSlot(shape.index, member); if (slotNode !== undefined) note(slotNode, bodyOf(type, member, true)!, type) }
      }
    }
    return found
  }
}

/** True for what only states that there is such a member: abstract ones, and members of interfaces. */
function isWithoutBody(member: MemberFacts, type: ModelType): boolean {
  if (member.abstract) return true
  return (type.kind === 'interface' || type.kind === 'alias') && !member.hasBody && !member.static
}
