import type { Hierarchy } from '../../binding/hierarchy.js'
import type { ClassSymbol, MethodSymbol } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'
import { describe, thisType } from '../../binding/types.js'

/** What is wrong, in a class, between a method and one that it overrides by its erasure: they speak of a type with other arguments (JLS 8.4.2, 8.4.5). */
export function otherArguments(method: MethodSymbol, other: MethodSymbol, symbol: ClassSymbol, hierarchy: Hierarchy): string | undefined {
  const taken = otherParameters(method, other, symbol, hierarchy)
  if (taken !== undefined || hasOwnParameters(method) || hasOwnParameters(other)) return taken
  const given = seenIn(symbol, method.signature.result, method, hierarchy), promised = seenIn(symbol, other.signature.result, other, hierarchy)
  return isParameterised(given) && isParameterised(promised) && !hierarchy.isSubtype(given, promised) ? `${method.name} gives ${describe(given)}, and ${other.owner.name}.${method.name} promises ${describe(promised)}` : undefined
}

/** The same of what they take alone, where that is told without variables: the class may have one or both from above. */
export function otherParameters(method: MethodSymbol, other: MethodSymbol, symbol: ClassSymbol, hierarchy: Hierarchy): string | undefined {
  // Type parameters of their own would have to be matched first.
  if (hasOwnParameters(method) || hasOwnParameters(other)) return undefined
  for (const [at, written] of method.signature.parameters.entries()) {
    const own = seenIn(symbol, written, method, hierarchy), wanted = seenIn(symbol, other.signature.parameters[at]!, other, hierarchy)
    if (isParameterised(own) && isParameterised(wanted) && (method.owner === symbol || (isClosed(own) && isClosed(wanted))) && !(hierarchy.isSubtype(own, wanted) && hierarchy.isSubtype(wanted, own))) return `${method.name} takes ${describe(own)}, and ${other.owner.name}.${method.name} ${describe(wanted)}`
  }
  return undefined
}

function hasOwnParameters({ signature: { typeParameters } }: MethodSymbol): boolean { return typeParameters.length > 0 }

function isParameterised(type: Type): boolean { return type.tag === 'class' && type.args.length > 0 }

/** Whether a type has no variables and no wildcards in it, and nothing that was not found. */
function isClosed(type: Type): boolean { return type.tag === 'primitive' || (type.tag === 'class' && type.args.every(isClosed)) || (type.tag === 'array' && isClosed(type.element)) }

/** A type of a method as a class has it that declares the method or inherits it. */
export function seenIn(symbol: ClassSymbol, type: Type, method: MethodSymbol, hierarchy: Hierarchy): Type { return method.owner === symbol ? type : hierarchy.seenThrough(type, method, thisType(symbol)) }
