import type { ClassSymbol } from '../../binding/symbols.js'
import { Flags, MethodSymbol } from '../../binding/symbols.js'

/** The method that gives the instance which a class's static methods call, where it has one. */
export function instanceGiver(symbol: ClassSymbol): MethodSymbol | undefined {
  return symbol.own('instance').find((one): one is MethodSymbol => one instanceof MethodSymbol && one.isStatic && one.arity === 0 && !(one.flags & Flags.Private) && one.signature.result.tag === 'class' && one.signature.result.symbol.isInterface)
}

/** Whether a class has a static method without arguments of the name that the one would have which gives the instance. */
export function hasInstance(symbol: ClassSymbol): boolean {
  return symbol.own('instance').some(one => one instanceof MethodSymbol && one.isStatic && one.arity === 0)
}
