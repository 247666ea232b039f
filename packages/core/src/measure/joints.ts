import type { BehaviourUse, CodeModel } from '../model/code-model.js'
import type { Origin } from '../model/facts.js'
import { compareText } from '../model/order.js'

/** How a type holds a collaborator, worst first. */
export const JOINT_KINDS = ['welded', 'bolted', 'plugged', 'inert'] as const
export type JointKind = (typeof JOINT_KINDS)[number]

/** Why a joint is what it is, in the words of the origin that decided it. */
export type JointReason = 'created' | 'static' | 'inherited' | 'concrete' | 'abstraction' | 'got-from' | 'data'

export interface Joint {
  /** Index of the collaborator, or -1 for an external. */
  readonly to: number
  /** Name of the external, or ''. */
  readonly external: string
  readonly kind: JointKind
  readonly reason: JointReason
  /** Indices of the references that use its behaviour, in order of place. */
  readonly references: readonly number[]
}

/** How one use of behaviour holds what it uses. */
export interface Held { readonly kind: JointKind; readonly reason: JointReason }

const RANK: Record<JointKind, number> = { welded: 0, bolted: 1, plugged: 2, inert: 3 }

function worse(a: Held, b: Held): Held {
  return RANK[b.kind] < RANK[a.kind] ? b : a
}

function declared(abstraction: boolean): Held {
  return abstraction ? { kind: 'plugged', reason: 'abstraction' } : { kind: 'bolted', reason: 'concrete' }
}

/**
 * The joints of every type, one for each collaborator whose behaviour it uses (definitions.md). The worst of several
 * origins wins; what a field holds is the worst of what is ever put into it. O(references + origins).
 */
export function jointsOf(model: CodeModel): Joint[][] {
  const found: Map<number | string, { to: number; external: string; held: Held; references: number[] }>[] = model.types.map(() => new Map())
  const { references } = model
  for (let index = 0; index < references.length; index++) {
    const use = references.use(index)
    if (!use) continue
    const from = references.from(index)
    let to = references.to(index)
    if (use.receiver !== null && to >= 0) to = model.typeIndex.get(use.receiver) ?? to
    if (to === from) continue
    // Globals of the runtime are told apart by name; packages are one collaborator each.
    const named = to < 0 ? references.external(index) : ''
    const external = collaboratorName(named, references.member(index))
    if (to < 0 && use.inertTarget) continue
    const held: Held = (to >= 0 && model.types[to]!.inert) || use.inertTarget
      ? { kind: 'inert', reason: 'data' } : heldBy(use, from, model)
    const key = to >= 0 ? to : external
    const entry = found[from]!.get(key)
    if (entry) { entry.held = worse(entry.held, held); entry.references.push(index) }
    else found[from]!.set(key, { to, external: to >= 0 ? '' : external, held, references: [index] })
  }
  return found.map(map => [...map.values()]
    .map(({ to, external, held, references: list }) => ({ to, external, kind: held.kind, reason: held.reason, references: list }))
    .sort((a, b) => RANK[a.kind] - RANK[b.kind] || compareText(nameOf(model, a), nameOf(model, b))))
}

/** The name under which an external is told as a collaborator. */
export function collaboratorName(external: string, member: string): string {
  if (external === 'node:process') return 'process'
  return external === 'runtime' ? member.split('.')[0]!.replace(/\(\)$/, '') : external
}

function nameOf(model: CodeModel, joint: { to: number; external: string }): string {
  return joint.to >= 0 ? model.types[joint.to]!.id : joint.external
}

/** How `type` holds what one of its references uses: the worst of where it may come from. */
export function heldBy(use: BehaviourUse, type: number, model: CodeModel): Held {
  return use.origins.map(origin => fromOrigin(origin, type, use.throughAbstraction, model, null))
    .reduce(worse, { kind: 'inert', reason: 'data' } as Held)
}

function fromOrigin(origin: Origin, type: number, abstraction: boolean | null, model: CodeModel, seen: Set<string> | null): Held {
  switch (origin.how) {
    case 'created': case 'static': case 'inherited': return { kind: 'welded', reason: origin.how }
    // What is handed in itself is declared as it is used; what something is got from, as its parameter says.
    case 'handed-in': return declared(abstraction ?? origin.abstraction)
    case 'got-from': {
      const own = declared(abstraction ?? origin.abstraction)
      const giver = origin.receiver.map(inner => fromOrigin(inner, type, null, model, seen)).reduce(worse, own)
      return giver === own ? own : { kind: giver.kind, reason: 'got-from' }
    }
    case 'field': {
      const unknown = declared(abstraction ?? true)
      if (seen?.has(origin.field)) return unknown
      const walked = (seen ?? new Set<string>()).add(origin.field)
      const member = model.types[type]!.members.find(one => one.name === origin.field && one.origins.length > 0)
      if (!member) return unknown
      return member.origins.map(inner => fromOrigin(inner, type, abstraction, model, walked)).reduce(worse, unknown)
    }
    case 'own': case 'unknown': return declared(abstraction ?? true)
  }
}
