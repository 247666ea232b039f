import ts from 'typescript'
import { catalogueOf } from '../../../effect/shipped.js'
import { externalNameOf, RUNTIME } from '../externals.js'
import type { Snapshot } from '../session.js'

/** Depth to which the parts of a type are looked at; deeper ones are taken for the library's. */
const DEEPEST = 6

/**
 * Whether values of a type can be handed about without the library that they come from: made of what the language itself has
 * and of the project's own types. Objects that do something of their own, such as a process or a timer, are none.
 */
export function isPlainData(type: ts.Type, snapshot: Snapshot, depth = 0): boolean {
  const { checker } = snapshot
  if (depth > DEEPEST) return false
  if (type.flags & ts.TypeFlags.TypeParameter) return false
  if (type.isUnionOrIntersection()) return type.types.every(one => isPlainData(one, snapshot, depth + 1))
  if (!(type.flags & ts.TypeFlags.Object)) return (type.flags & (ts.TypeFlags.IndexedAccess | ts.TypeFlags.Conditional | ts.TypeFlags.Substitution)) === 0
  const all = (types: readonly ts.Type[]) => types.every(one => isPlainData(one, snapshot, depth + 1))
  if (!all(checker.getTypeArguments(type as ts.TypeReference) ?? [])) return false
  const declaration = type.symbol?.declarations?.[0]
  if (!declaration || checker.isTupleType(type)) return true
  const isNamed = ts.isClassLike(declaration) || ts.isInterfaceDeclaration(declaration)
  if (isNamed) {
    if (snapshot.pathOf(declaration.getSourceFile()) !== undefined) return true
    const { name } = type.symbol
    return externalNameOf(declaration) === RUNTIME && ( /^(Readonly(Array|Map|Set)|Promise(Like)?|(Async)?(Iterable|Iterator|IterableIterator|Generator)|ArrayLike)$/.test(name) || catalogueOf('typescript').effectOf(RUNTIME, name) === 'pure')
  }
  const signatures = [...type.getCallSignatures(), ...type.getConstructSignatures()]
  if (signatures.some(one => one.typeParameters?.length)) return false
  if (!all(signatures.flatMap(one => [one.getReturnType(), ...one.parameters.map(parameter => checker.getTypeOfSymbolAtLocation(parameter, declaration))]))) return false
  return all(type.getProperties().map(one => checker.getTypeOfSymbolAtLocation(one, declaration))) && all(checker.getIndexInfosOfType(type).map(one => one.type))
}
