import type { CodeModel } from '../model/code-model.js'
import { compareText } from '../model/order.js'
import type { Dependency } from './dependencies.js'

/** The files that each of the last commits changed, newest first. */
export interface ChangeLog { readonly commits: readonly (readonly string[])[] }

/** Two files that change together, though neither depends on the other. */
export interface ChangingTogether {
  readonly a: number
  readonly b: number
  /** Commits that changed both. */
  readonly together: number
  /** Commits that changed the one that changes less often. */
  readonly of: number
}

/** A commit that changes more files than this is a sweep over the code, not a change to one thing. */
const SWEEP = 30
/** Fewer commits in common may be chance; so may a smaller share of the rarer one's. */
const LEAST = 3, SHARE = 0.5

/** How many commits changed each file of a model, by its index. Sweeps count too: the file did change. */
export function changesByFile(model: CodeModel, { commits }: ChangeLog): Int32Array {
  const counts = new Int32Array(model.files.length), place = placesOf(model)
  for (const files of commits) for (const path of new Set(files)) { const at = place.get(path); if (at !== undefined) counts[at]!++ }
  return counts
}

const placesOf = (model: CodeModel) => new Map(model.files.map((file, index) => [file.path, index]))

/**
 * Pairs of product files that the same commits change without any dependency between them either way: what knows of each other
 * without saying so (logical coupling: Gall, Hajek, Jazayeri 1998). Most common commits first. O(commits * files of a commit²).
 */
export function changingTogether(model: CodeModel, dependencies: readonly Dependency[], log: ChangeLog): ChangingTogether[] {
  const place = placesOf(model), counts = new Int32Array(model.files.length)
  const pairs = new Map<number, number>()
  const count = model.files.length
  for (const files of log.commits) {
    if (files.length > SWEEP) continue
    const known = [...new Set(files)].map(path => place.get(path)).filter((at): at is number => at !== undefined && !model.files[at]!.test).sort((a, b) => a - b)
    for (const at of known) counts[at]!++
    for (let a = 0; a < known.length; a++) for (let b = a + 1; b < known.length; b++) { const pair = known[a]! * count + known[b]!; pairs.set(pair, (pairs.get(pair) ?? 0) + 1) }
  }
  for (const { from, to } of dependencies) {
    const a = model.types[from]!.file, b = model.types[to]!.file
    pairs.delete(Math.min(a, b) * count + Math.max(a, b))
  }
  return [...pairs].filter(([, together]) => together >= LEAST)
    .map(([pair, together]) => { const a = Math.floor(pair / count), b = pair % count; return { a, b, together, of: Math.min(counts[a]!, counts[b]!) } })
    .filter(({ together, of }) => together >= SHARE * of)
    .sort((x, y) => y.together - x.together || x.of - y.of || compareText(model.files[x.a]!.path, model.files[y.a]!.path) || compareText(model.files[x.b]!.path, model.files[y.b]!.path))
}

/** How much more a finding weighs because its code changes often: 1 for code that never changed, and 1 more each time the changes double. */
export function weightByChanges({ evidence }: { readonly evidence: readonly { readonly file: number }[] }, changes: Int32Array): number {
  return 1 + Math.log2(1 + evidence.reduce((most, { file }) => Math.max(most, changes[file]!), 0))
}
