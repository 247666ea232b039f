import type { Survey } from '../survey.js'
import { dependenciesFrom } from '../survey.js'

/** What at least so many constructors, and so large a share of them, want is no business of one class. */
const WANTED_BY = 3, WANTED_SHARE = 0.25

const known = new WeakMap<Survey, ReadonlyMap<string, number>>()

/**
 * Types that are wanted by constructors all over the project and bear none of its meaning: they speak of no type of the
 * project but what is declared beside them and others of their kind, as a log, a clock or a counter does. By id, with the
 * number of constructors. Linear in the dependencies of the candidates, in each of a few rounds.
 */
export function crossCuttingTypes(survey: Survey): ReadonlyMap<string, number> {
  let found = known.get(survey)
  if (!found) known.set(survey, found = search(survey))
  return found
}

function search(survey: Survey): ReadonlyMap<string, number> {
  const { model } = survey
  const wanted = new Map<string, number>()
  let constructors = 0
  for (const type of model.types) {
    const taken = new Set(type.test ? [] : type.parameters.filter(one => one.kind !== 'data' && one.type !== '').map(one => one.type))
    if (taken.size > 0) constructors++
    for (const id of taken) wanted.set(id, (wanted.get(id) ?? 0) + 1)
  }
  const candidates = new Map([...wanted].filter(([, count]) => count >= WANTED_BY && count >= constructors * WANTED_SHARE))
  const speaksOfBusiness = (id: string): boolean => {
    const index = model.typeIndex.get(id)
    if (index === undefined) return false
    return dependenciesFrom(survey, index).some(({ to }) => model.types[to]!.file !== model.types[index]!.file && !candidates.has(model.types[to]!.id))
  }
  for (;;) {
    const business = [...candidates.keys()].filter(speaksOfBusiness)
    if (business.length === 0) return candidates
    for (const id of business) candidates.delete(id)
  }
}
