import type { RowGraph } from '../graph/reachable-bits.js'
import { rowsOf } from '../graph/reachable-bits.js'
import type { CodeModel, ModelType } from '../model/code-model.js'
import type { MemberNodes } from './member-nodes.js'
import { isWithoutBody } from './member-nodes.js'

/** More classes than this with one member's name are not taken for implementations by their shape. */
const COMMON = 100

/** By node that is overridden: the nodes that override it directly. O(overrides). */
export function directOverridersOf(model: CodeModel, { names }: MemberNodes): Map<number, number[]> {
  const found = new Map<number, number[]>()
  for (const { type, base, member } of model.overrides) {
    const from = names[type]!.get(member), to = names[base]!.get(member)
    if (from === undefined || to === undefined) continue
    const list = found.get(to)
    if (list) list.push(from)
    else found.set(to, [from])
  }
  return found
}

/** Nodes that a call of each slot may run, each with the type of which there must be an object. */
export function slotOverriders(model: CodeModel, nodes: MemberNodes, slots: ReadonlyMap<number, number>, directOverriders: ReadonlyMap<number, readonly number[]>): RowGraph & { readonly types: Int32Array } {
  const found = { slot: [] as number[], node: [] as number[], type: [] as number[] }
  const inherited = inheritedImplementations(model, nodes, slots)
  for (const [target, slot] of slots) {
    const seen = new Set<number>([target])
    const add = (node: number, type: number) => {
      const owner = nodes.nodeType[node]!
      if (nodes.members[owner]!.get(nodes.nodeName[node]!)!.every(one => isWithoutBody(one, model.types[owner]!))) return
      found.slot.push(slot)
      found.node.push(node)
      found.type.push(type)
    }
    const open = [target]
    while (open.length > 0) {
      const at = open.pop()!
      for (const { node, type } of inherited.get(at) ?? []) add(node, type)
      for (const next of directOverriders.get(at) ?? []) {
        if (seen.has(next)) continue
        seen.add(next)
        open.push(next)
        add(next, nodes.nodeType[next]!)
      }
    }
  }
  const rows = rowsOf(slots.size, found.slot, found.node)
  return { ...rows, types: Int32Array.from(rows.order, at => found.type[at]!) }
}

/**
 * Members that a class has from a base and that serve an interface the base does not know; and, where a language looks at
 * the shape of objects alone, classes with all members of an interface that they do not name. By node of the interface's member.
 */
function inheritedImplementations(model: CodeModel, { names, members }: MemberNodes, slots: ReadonlyMap<number, number>): Map<number, { node: number; type: number }[]> {
  const languageOf = (type: ModelType) => model.files[type.file]!.language
      const bases: number[][] = model.types.map(() => []), interfaces: number[][] = model.types.map(() => [])
  for (let index = 0; index < model.references.length; index++) {
    const kind = model.references.kind(index), to = model.references.to(index)
    if (to < 0 || (kind !== 'extends' && kind !== 'implements')) continue
    (kind === 'extends' && model.types[to]!.kind !== 'interface' ? bases : interfaces)[model.references.from(index)]!.push(to)
  }
  const found = new Map<number, { node: number; type: number }[]>()
  const isSlot = (type: number, member: string) => { const node = names[type]!.get(member); return node !== undefined && slots.has(node) ? node : undefined }
  /** The nearest base, or with `own` the type itself, that has a body for a member. */
  const bodyOf = (type: number, member: string, own: boolean): number | undefined => {
    const seen = new Set<number>()
    for (let open = own ? [type] : bases[type]!; open.length > 0;) {
      const next: number[] = []
      for (const at of open) {
        if (seen.has(at)) continue
        seen.add(at)
        if (members[at]!.get(member)?.some(one => !isWithoutBody(one, model.types[at]!))) return names[at]!.get(member)
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
        for (const member of members[at]!.keys()) {
          const slotNode = isSlot(at, member)
          if (slotNode === undefined || members[type.index]!.has(member)) continue
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
    if (type.kind !== 'class' || languageOf(type) !== 'typescript') continue
    for (const name of members[type.index]!.keys()) { const list = classesWith.get(name); if (list) list.push(type.index); else classesWith.set(name, [type.index]) }
  }
  for (const shape of model.types) {
    if ((shape.kind !== 'interface' && shape.kind !== 'alias') || languageOf(shape) !== 'typescript') continue
    const wanted = [...members[shape.index]!.keys()]
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
