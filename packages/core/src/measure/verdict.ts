import { notKnownOf, outsideOf } from '../effect/kinds.js'
import type { CodeModel } from '../model/code-model.js'
import type { Joint } from './joints.js'
import type { Reach } from './reach.js'

/** How far a type can be tested by itself (definitions.md). */
export const VERDICTS = ['alone', 'with-real-classes', 'needs-outside', 'not-known'] as const
export type Verdict = (typeof VERDICTS)[number]

/** The verdict on a type; null for test code and for types without logic. */
export function verdictOf(model: CodeModel, joints: readonly (readonly Joint[])[], reach: Reach, type: number): Verdict | null {
  const { test, members, parameters } = model.types[type]!
  if (test || !members.some(member => member.logic)) return null
  const set = reach.deciding(type)
  if (outsideOf(set) !== 0) return 'needs-outside'
  if (notKnownOf(set) !== 0) return 'not-known'
  const isReal = joints[type]!.some(joint => joint.kind === 'bolted') || parameters.some(parameter => parameter.kind === 'class' && !parameter.optional)
  return isReal ? 'with-real-classes' : 'alone'
}

/** How many types have which verdict. */
export type VerdictCounts = Readonly<Record<Verdict, number>>

export function countVerdicts(verdicts: Iterable<Verdict | null>): VerdictCounts {
  const counts = { alone: 0, 'with-real-classes': 0, 'needs-outside': 0, 'not-known': 0 }
  for (const verdict of verdicts) if (verdict !== null) counts[verdict]++
  return counts
}
