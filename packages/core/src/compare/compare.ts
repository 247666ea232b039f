import type { Verdict } from '../measure/verdict.js'
import { compareText } from '../model/order.js'
import type { SurveyDigest } from './digest.js'

export type CycleLevelName = SurveyDigest['cycles'][number]['level']

/** What is different between two surveys, the earlier one first. */
export interface Comparison {
  /** Cycles of which no two members are in one cycle any more. */
  readonly closed: readonly { readonly level: CycleLevelName; readonly members: readonly string[] }[]
  /** Cycles with members that were in none together before. */
  readonly opened: readonly { readonly level: CycleLevelName; readonly members: readonly string[]; readonly joined: readonly string[] }[]
  readonly gone: SurveyDigest['dependencies']
  readonly come: SurveyDigest['dependencies']
  /** Types that needed the outside or were not known and can be tested without it now, and the other way. New types are tied where they begin so. */
  readonly freed: readonly { readonly type: string; readonly before: Verdict; readonly after: Verdict }[]
  readonly tied: readonly { readonly type: string; readonly before: Verdict | null; readonly after: Verdict }[]
  readonly modules: readonly { readonly id: string; readonly before: SurveyDigest['modules'][number] | null; readonly after: SurveyDigest['modules'][number] | null }[]
}

const isFree = (verdict: Verdict): boolean => verdict === 'alone' || verdict === 'with-real-classes'

/** Compares two surveys of a project by what they say, whatever moved on its lines. O(both). */
export function compareSurveys(before: SurveyDigest, after: SurveyDigest): Comparison {
  const key = (one: { from: string; to: string }) => `${one.from}\0${one.to}`
  const had = new Set(before.dependencies.map(key)), has = new Set(after.dependencies.map(key))
  const freed: Comparison['freed'][number][] = [], tied: Comparison['tied'][number][] = []
  for (const [type, verdict] of Object.entries(after.verdicts)) {
    const was = before.verdicts[type]
    if (was !== undefined && !isFree(was) && isFree(verdict)) freed.push({ type, before: was, after: verdict })
    else if (!isFree(verdict) && (was === undefined || isFree(was))) tied.push({ type, before: was ?? null, after: verdict })
  }
  const modulesBefore = new Map(before.modules.map(module => [module.id, module])), modulesAfter = new Map(after.modules.map(module => [module.id, module]))
  return {
    closed: before.cycles.filter(cycle => !after.cycles.some(other => other.level === cycle.level && shared(cycle.members, other.members).length > 1)).map(({ level, members }) => ({ level, members })),
    opened: after.cycles.flatMap(cycle => {
      const known = before.cycles.filter(other => other.level === cycle.level).map(other => shared(cycle.members, other.members)).sort((a, b) => b.length - a.length)[0] ?? []
      const joined = cycle.members.filter(member => !(known.length > 1 && known.includes(member)))
      return joined.length === 0 ? [] : [{ level: cycle.level, members: cycle.members, joined }]
    }),
    gone: before.dependencies.filter(one => !has.has(key(one))), come: after.dependencies.filter(one => !had.has(key(one))),
    freed: freed.sort((a, b) => compareText(a.type, b.type)), tied: tied.sort((a, b) => compareText(a.type, b.type)),
    modules: [...new Set([...modulesBefore.keys(), ...modulesAfter.keys()])].sort(compareText)
      .map(id => ({ id, before: modulesBefore.get(id) ?? null, after: modulesAfter.get(id) ?? null })).filter(one => JSON.stringify(one.before) !== JSON.stringify(one.after))
  }
}

function shared(a: readonly string[], b: readonly string[]): string[] {
  const set = new Set(b)
  return a.filter(member => set.has(member))
}
