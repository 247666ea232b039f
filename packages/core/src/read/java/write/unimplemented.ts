import { Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import type { BoundFile, BoundProgram } from '../bound-program.js'

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
  return [...java.classes].flatMap(([node, symbol]) => {
    if (symbol.isInterface || symbol.flags & (Flags.Abstract | Flags.Annotation | Flags.Enum)) return []
    const ancestors = [...hierarchy.ancestorsOf(symbol)]
    if (!ancestors.every(one => one.hasKnownParents)) return []
    const lacks = ancestors.flatMap(one => one.ownMembers).find(method => method instanceof MethodSymbol && method.isAbstract &&
      !ancestors.some(one => one.own(method.name).some(other => other instanceof MethodSymbol && !other.isAbstract && !other.isStatic && !(other.flags & Flags.Private) && overloads.overrides(symbol, other, method))))
    return lacks ? [{ node, message: `${symbol.name === '' ? 'the class without a name' : symbol.name} lacks ${lacks.name}, which ${lacks.owner.name} asks for` }] : []
  })
}
