import { notKnownOf, outsideOf } from '../effect/kinds.js'
import type { Joint } from './joints.js'
import type { Collaborator, Reach } from './reach.js'

/** The smallest set of collaborators that have to be handed in as abstractions for a type to reach nothing outside. */
export interface PlugSet {
  readonly collaborators: readonly Collaborator[]
  /** True where no smaller set does. */
  readonly proven: boolean
}

/** Beyond this many that could be left out, smaller sets are not tried out one by one. */
const TRIED_OUT = 10

export function collaboratorOf(joint: Joint): Collaborator { return joint.to >= 0 ? joint.to : joint.external }

/**
 * Finds what to plug. Those that reach outside even with all others plugged are needed in any case; where they are not
 * enough, sets that hold them are tried by size. Null where no plug frees the type: its framework or its base holds it.
 */
export function smallestPlugs(reach: Reach, type: number, joints: readonly Joint[]): PlugSet | null {
  const frees = (plugged: readonly Collaborator[]): boolean => {
    const set = reach.deciding(type, new Set(plugged))
    return outsideOf(set) === 0 && notKnownOf(set) === 0
  }
  // What a class inherits is not handed in by plugging.
  const all = joints.filter(joint => joint.kind === 'welded' || joint.kind === 'bolted').filter(joint => joint.reason !== 'inherited').map(collaboratorOf)
  if (!frees(all)) return null
  const needed = all.filter(one => !frees(all.filter(other => other !== one)))
  if (frees(needed)) return { collaborators: needed, proven: true }
  const rest = all.filter(one => !needed.includes(one))
  if (rest.length <= TRIED_OUT) {
    const sets = Array.from({ length: 1 << rest.length }, (_, bits) => rest.filter((_, at) => bits & (1 << at))).sort((a, b) => a.length - b.length)
    for (const more of sets) if (frees([...needed, ...more])) return { collaborators: [...needed, ...more], proven: true }
  }
  // Left out one by one as long as the rest still frees it.
  let kept = all
  for (const one of rest) { const without = kept.filter(other => other !== one); if (frees(without)) kept = without }
  return { collaborators: kept, proven: false }
}
