import { listIn } from '../graph/lists.js'
import type { Survey } from '../survey.js'

const known = new WeakMap<Survey, (type: number, ancestor: number) => boolean>()

/** Whether a type extends or implements another, at once or by others in between; looked up once for a survey. O(dependencies), then O(1). */
export function ancestryOf(survey: Survey): (type: number, ancestor: number) => boolean {
  const before = known.get(survey)
  if (before) return before
  const { model, dependencies } = survey
  const parents = new Map<number, number[]>(), all = new Map<number, Set<number>>()
  for (const { from, to, references } of dependencies) if (references.some(at => { const kind = model.references.kind(at); return kind === 'extends' || kind === 'implements' })) listIn(parents, from).push(to)
  const above = (type: number): Set<number> => {
    let found = all.get(type)
    if (found) return found
    all.set(type, found = new Set())
    for (const parent of parents.get(type) ?? []) { found.add(parent); for (const one of above(parent)) found.add(one) }
    return found
  }
  const isAncestor = (type: number, ancestor: number) => parents.has(type) && above(type).has(ancestor)
  known.set(survey, isAncestor)
  return isAncestor
}
