import { ClassSymbol, Flags } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH } from '../../syntax/flat-tree.js'
import type { BoundFile, BoundProgram } from '../bound-program.js'
import { Kind } from '../syntax.js'

/** A name that a new class would take, and why. */
export interface CapturedName {
  readonly node: Node
  readonly message: string
}

/**
 * Files that say the name of a class that is new in its package, and would see it there: those of the package, and those that import all of
 * it. What they mean by the name they may mean no longer. O(text of the packages that have a new class).
 */
export function filesThatSayNewNames(before: BoundProgram, after: BoundProgram, changed: readonly string[]): string[] {
  const fresh = changed.flatMap(path => [...after.typesOf(path)]).filter(one => before.program.classIn(one.packageName, one.name) === undefined)
  if (fresh.length === 0) return []
  return [...before.paths].filter(path => fresh.some(({ packageName, name }) =>
    (before.packageOf(path) === packageName || before.importsOf(path).some(one => one.onDemand && !one.isStatic && one.name === packageName)) &&
    new RegExp(`(?<![\\p{L}\\p{N}_$])${name.replaceAll('$', '\\$')}(?![\\p{L}\\p{N}_$])`, 'u').test(before.trees.get(path)!.text)))
}

/**
 * Names of types that could mean a new class as well, since their file imports all of two packages that have one (JLS 6.5.5.1), and names that
 * a library may give which is not at hand, and which mean a new class of the file's package now. `now`: where a place of the old text is.
 */
export function capturedNames(old: BoundFile, before: BoundProgram, after: BoundProgram, now: (node: Node) => Node | undefined, meaningNow: (node: Node) => unknown): CapturedName[] {
  const { tree, imports, singleImports, packageName, unbound } = old.java, found: CapturedName[] = []
  const all = imports.filter(one => one.onDemand && !one.isStatic)
  if (all.length === 0) return []
  const isFresh = (inPackage: string, name: string) => {
    const one = after.program.classIn(inPackage, name)
    return one !== undefined && one.flags & Flags.Public && before.program.classIn(inPackage, name) === undefined ? one : undefined
  }
  const others = new Map<string, ClassSymbol | undefined>()
  for (let at = 0; at < tree.size * NODE_WIDTH; at += NODE_WIDTH) {
    const kind = tree.kind(at)
    if (kind !== Kind.Identifier && kind !== Kind.TypeIdentifier) continue
    const meaning = old.java.meaning(at)
    if (!(meaning instanceof ClassSymbol) || meaning.outer || meaning.packageName === packageName || singleImports.has(meaning.name) || meaning.name !== tree.textOf(at)) continue
    if (!others.has(meaning.name)) others.set(meaning.name, all.map(by => (by.name === meaning.packageName ? undefined : isFresh(by.name, meaning.name))).find(one => one !== undefined))
    const other = others.get(meaning.name), place = other && now(at)
    if (other && place !== undefined) found.push({ node: place, message: `${meaning.name} could be ${other.id} as well` })
  }
  if (all.every(one => before.program.isPackage(one.name) || before.program.names.qualified(one.name))) return found
  for (const at of unbound.keys()) {
    const place = now(at), meaning = place === undefined ? undefined : meaningNow(place)
    if (place !== undefined && meaning instanceof ClassSymbol && meaning.source && !before.classById(meaning.id)) found.push({ node: place, message: `${tree.textOf(at)} would mean ${meaning.id}, and may be of a library that is not at hand` })
  }
  return found
}
