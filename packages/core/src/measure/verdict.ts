import type { EffectSet } from '../effect/kinds.js'
import { notKnownOf, outsideOf } from '../effect/kinds.js'
import type { CodeModel } from '../model/code-model.js'
import type { Joint } from './joints.js'
import type { Reach } from './reach.js'

/** How far a type can be tested by itself (definitions.md). */
export const VERDICTS = ['alone', 'with-real-classes', 'needs-outside', 'not-known'] as const
export type Verdict = (typeof VERDICTS)[number]

/** The verdict on a type; null for test code and for types without logic. */
export function verdictOf(model: CodeModel, joints: readonly (readonly Joint[])[], reach: Reach, type: number): Verdict | null {
  const { test, members } = model.types[type]!
  if (test || !members.some(member => member.logic)) return null
  return verdictFrom(model, type, joints[type]!, reach.deciding(type))
}

/** The verdict on a type that holds its collaborators by `joints` and reaches `set`. */
export function verdictFrom(model: CodeModel, type: number, joints: readonly Joint[], set: EffectSet): Verdict | null {
  const { test, members, parameters } = model.types[type]!
  if (test || !members.some(member => member.logic)) return null
  if (outsideOf(set) !== 0) return 'needs-outside'
  if (notKnownOf(set) !== 0) return 'not-known'
  const plugged = new Set(joints.filter(joint => joint.kind === 'plugged').map(joint => joint.to))
  const isReal = joints.some(joint => joint.kind === 'bolted') || parameters.some(parameter => parameter.kind === 'class' && !parameter.optional && !plugged.has(model.typeIndex.get(parameter.type) ?? -1))
  return isReal ? 'with-real-classes' : 'alone'
}

/** How many types have which verdict. */
export type VerdictCounts = Readonly<Record<Verdict, number>>

export function countVerdicts(verdicts: Iterable<Verdict | null>): VerdictCounts {
  const counts = { alone: 0, 'with-real-classes': 0, 'needs-outside': 0, 'not-known': 0 }
  for (const verdict of verdicts) if (verdict !== null) counts[verdict]++
  return counts
}
