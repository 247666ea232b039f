import type { MemberFacts, Origin } from './facts.js'

/** Details that only uses of behaviour have; kept beside the columns because most references lack them. */
export interface BehaviourUse {
  readonly origins: readonly Origin[]
  readonly throughAbstraction: boolean
  readonly receiver: string | null
  readonly inertTarget: boolean
}

/** How a type holds a collaborator, worst first. */
export const JOINT_KINDS = ['welded', 'bolted', 'plugged', 'inert'] as const
export type JointKind = (typeof JOINT_KINDS)[number]

/** Why a joint is what it is, in the words of the origin that decided it. */
export type JointReason = 'created' | 'static' | 'inherited' | 'concrete' | 'abstraction' | 'got-from' | 'data'

/** How one use of behaviour holds what it uses (definitions.md). */
export interface Held { readonly kind: JointKind; readonly reason: JointReason }

export const RANK: Record<JointKind, number> = { welded: 0, bolted: 1, plugged: 2, inert: 3 }

/** The worse of two. */
export function worse(a: Held, b: Held): Held {
  return RANK[b.kind] < RANK[a.kind] ? b : a
}

function declared(abstraction: boolean): Held {
  return abstraction ? { kind: 'plugged', reason: 'abstraction' } : { kind: 'bolted', reason: 'concrete' }
}

/** What holds nothing but data. */
export const INERT: Held = { kind: 'inert', reason: 'data' }

/** How a type with these members holds what one of its references uses: the worst of where it may come from. */
export function heldBy(use: BehaviourUse, members: readonly MemberFacts[]): Held {
  return use.origins.map(origin => fromOrigin(origin, members, use.throughAbstraction, null)).reduce(worse, INERT)
}

function fromOrigin(origin: Origin, members: readonly MemberFacts[], abstraction: boolean | null, seen: Set<string> | null): Held {
  switch (origin.how) {
    case 'created': case 'static': case 'inherited': return { kind: 'welded', reason: origin.how }
    // What is handed in itself is declared as it is used; what something is got from, as its parameter says.
    case 'handed-in': return declared(abstraction ?? origin.abstraction)
    case 'got-from': {
      const own = declared(abstraction ?? origin.abstraction)
      const giver = origin.receiver.map(inner => fromOrigin(inner, members, null, seen)).reduce(worse, own)
      return giver === own ? own : { kind: giver.kind, reason: 'got-from' }
    }
    case 'field': {
      const unknown = declared(abstraction ?? true)
      if (seen?.has(origin.field)) return unknown
      const walked = (seen ?? new Set<string>()).add(origin.field)
      const member = members.find(one => one.name === origin.field && one.origins.length > 0)
      if (!member) return unknown
      return member.origins.map(inner => fromOrigin(inner, members, abstraction, walked)).reduce(worse, unknown)
    }
    case 'own': case 'unknown': return declared(abstraction ?? true)
  }
}
