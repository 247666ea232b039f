import { bitOf } from '../effect/kinds.js'
import type { EffectKind } from '../effect/kinds.js'
import type { EffectCatalogue } from '../effect/catalogue.js'
import type { CodeModel, ModelType } from '../model/code-model.js'
import type { Place } from './call-places.js'
import { NOWHERE, ownUsePlace, referencePlace, unresolvedPlace } from './call-places.js'
import type { MemberNodes } from './member-nodes.js'
import { isWithoutBody, LOADING, MAKING } from './member-nodes.js'

/** How the caller of an abstract member holds the object. */
export enum SlotHold {
  /** Handed in as an abstraction: a test puts a double there. */
  Plugged,
  Other,
  /** Fetched from something that nothing outside can replace: whatever implements it may be there. */
  Fetched
}

/** Collects the edges and effects of a call graph, of all of a model or of a part of it. */
export class CallEdges {
  readonly plain = { from: [] as number[], to: [] as number[], place: [] as number[] }
  readonly calls = { from: [] as number[], slot: [] as number[], place: [] as number[], hold: [] as number[] }
  readonly effects = { node: [] as number[], bit: [] as number[], place: [] as number[], plugged: [] as number[] }

  /** `slots`: numbers of the members that are called as slots, by node; new ones are added. */
  constructor(
    private readonly model: CodeModel, private readonly nodes: MemberNodes, private readonly slots: Map<number, number>,
    private readonly isOverridden: (node: number) => boolean, private readonly catalogueOf: (language: string) => EffectCatalogue
  ) {}

  /** What follows from the language: loading gives static fields their values, making an object gives its fields theirs. */
  addWithin(type: ModelType): void {
    if (type.kind === 'functions') return
    const names = this.nodes.names[type.index]!
    const loading = names.get(LOADING)!, making = names.get(MAKING)!
    this.addPlain(making, loading, NOWHERE)
    for (const [name, facts] of this.nodes.members[type.index]!) {
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

  /** The references from one number up to, not including, another. */
  addReferences(first: number, end: number): void {
    const { references } = this.model
    let lastFrom = -1, lastWithin = -1, node = -1
    for (let index = first; index < end; index++) {
      if (references.typeOnly(index)) continue
      const kind = references.kind(index)
      const from = references.from(index), to = references.to(index)
      if (kind === 'extends') {
        const making = this.nodes.names[from]!.get(MAKING)!
        if (to >= 0) this.addPlain(making, this.nodes.names[to]!.get(MAKING)!, referencePlace(index))
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
      if (member === '') { if (kind === 'creates' || kind === 'throws') this.addPlain(node, this.nodes.names[to]!.get(MAKING)!, referencePlace(index)); continue }
      const target = this.nodes.names[to]!.get(member)
      if (target === undefined) continue
      const held = references.held(index)
      this.addUse(node, to, member, target, referencePlace(index), held.kind === 'plugged' ? SlotHold.Plugged
        : held.kind === 'welded' && held.reason !== 'created' && held.reason !== 'inherited' ? SlotHold.Fetched : SlotHold.Other)
    }
  }

  /** The node of a member, or of the loading of its type for what stands in none. */
  private nodeWithin(type: number, member: string): number { return this.nodes.names[type]!.get(member) ?? this.nodes.names[type]!.get(LOADING)! }

  addOwnUses(first: number, end: number): void {
    for (let index = first; index < end; index++) {
      const { type, inMember, member } = this.model.ownUses[index]!
      const node = this.nodeWithin(type, inMember)
      const target = this.nodes.names[type]!.get(member)
      if (target === undefined || target === node) continue
      const facts = this.nodes.members[type]!.get(member)
      // What gives an object's field its value ran when the object was made.
      if (facts?.every(one => one.kind === 'field' && !one.static && !one.hasBody) && this.model.types[type]!.kind !== 'functions') continue
      this.addUse(node, type, member, target, ownUsePlace(index), SlotHold.Other)
    }
  }

  addUnresolved(first: number, end: number): void {
    for (let index = first; index < end; index++) {
      const { from, inMember } = this.model.unresolved[index]!
      const node = from < 0 || inMember === '' ? undefined : this.nodes.names[from]!.get(inMember)
      if (node !== undefined) this.addEffect(node, 'unresolved', unresolvedPlace(index), false)
    }
  }

  /** A use of a member of a project's type. */
  private addUse(node: number, type: number, member: string, target: number, place: Place, hold: SlotHold): void {
    const facts = this.nodes.members[type]!.get(member)
    const isAbstract = facts !== undefined && facts.every(one => isWithoutBody(one, this.model.types[type]!))
    if (!isAbstract) this.addPlain(node, target, place)
    if (!isAbstract && !this.isOverridden(target)) return
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
    const effect = this.catalogueOf(this.model.files[this.model.types[type]!.file]!.language).effectOf(external, member, how)
    if (effect !== 'pure') this.addEffect(node, effect, place, plugged)
  }

  private addEffect(node: number, effect: EffectKind, place: Place, plugged: boolean): void {
    this.effects.node.push(node)
    this.effects.bit.push(bitOf(effect))
    this.effects.place.push(place)
    this.effects.plugged.push(plugged ? 1 : 0)
  }
}
