import { holdsUnknown } from '../../binding/inference.js'
import type { ClassSymbol, MemberSymbol } from '../../binding/symbols.js'
import { Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import type { BoundFile, BoundProgram } from '../bound-program.js'
import { otherParameters, seenIn } from './other-arguments.js'

/** A class of a file that lacks a method. */
export interface Unimplemented {
  readonly node: Node
  readonly message: string
}

/**
 * Classes of a file that are not abstract and lack a method that they inherit without a body (JLS 8.1.1.1), one method of each. What extends or
 * implements something that was not found may have it from there. O(methods of what its classes inherit from).
 */
export function unimplemented({ java }: BoundFile, { program: { hierarchy }, overloads }: BoundProgram): Unimplemented[] {
  // What takes something that was not found may be what is asked for.
  const has = (symbol: ClassSymbol, other: MemberSymbol, asked: MethodSymbol): boolean =>
    other instanceof MethodSymbol && !other.isAbstract && !other.isStatic && !(other.flags & Flags.Private) && other.arity === asked.arity &&
    (overloads.overrides(symbol, other, asked) ? other.owner === symbol || !otherParameters(other, asked, symbol, hierarchy) : [other, asked].some(one => one.signature.parameters.some(type => holdsUnknown(seenIn(symbol, type, one, hierarchy)))))
  return [...java.classes].flatMap(([node, symbol]) => {
    if (symbol.isInterface || symbol.flags & (Flags.Abstract | Flags.Annotation | Flags.Enum)) return []
    const ancestors = [...hierarchy.ancestorsOf(symbol)]
    if (!ancestors.every(one => one.hasKnownParents)) return []
    const lacks = ancestors.flatMap(one => one.ownMembers).find(method => method instanceof MethodSymbol && method.isAbstract && !ancestors.some(one => one.own(method.name).some(other => has(symbol, other, method))))
    return lacks ? [{ node, message: `${symbol.name === '' ? 'the class without a name' : symbol.name} lacks ${lacks.name}, which ${lacks.owner.name} asks for` }] : []
  })
}
