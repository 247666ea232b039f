import type { EffectSet } from '../effect/kinds.js'
import { bitOf } from '../effect/kinds.js'
import { listIn } from '../graph/lists.js'
import type { Survey } from '../survey.js'

/** What a class of its own is worth having for; a clock or a console is handed in. */
export const WORTH_A_CLASS: EffectSet = bitOf('file-system') | bitOf('network') | bitOf('database') | bitOf('process') | bitOf('device')

/** The references of a member that touch the outside, by its name. */
export type TouchingMembers = ReadonlyMap<string, readonly number[]>

const known = new WeakMap<Survey, ReadonlyMap<number, TouchingMembers>>()

/**
 * For each class the members that touch the outside themselves, so far as that is worth a class of its own. An implementation of an
 * abstraction that does so is where the outside belongs: it is left out. Found once for a survey. O(references).
 */
export function membersTouchingOutside(survey: Survey): ReadonlyMap<number, TouchingMembers> {
  let found = known.get(survey)
  if (!found) known.set(survey, found = touching(survey))
  return found
}

function touching(survey: Survey): ReadonlyMap<number, TouchingMembers> {
  const { model, reach } = survey, found = new Map<number, Map<string, number[]>>()
  const implementing = new Set(model.overrides.map(({ type }) => type))
  for (let at = 0; at < model.references.length; at++) {
    const from = model.references.from(at)
    if (model.references.to(at) >= 0 || implementing.has(from) || model.types[from]!.test || model.types[from]!.kind !== 'class' || (reach.behind([at]) & WORTH_A_CLASS) === 0) continue
    let members = found.get(from)
    if (!members) found.set(from, members = new Map())
    listIn(members, model.references.inMember(at)).push(at)
  }
  return found
}
