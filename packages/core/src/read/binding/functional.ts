import type { Hierarchy } from './hierarchy.js'
import type { ClassSymbol, MethodSymbol } from './symbols.js'
import { CONSTRUCTOR } from './symbols.js'
import type { Type } from './types.js'
import { ClassType, erasure, substitute, argumentsOf } from './types.js'

/** What a lambda or method reference of a type takes and gives. */
export interface FunctionType {
  readonly method: MethodSymbol
  readonly parameters: readonly Type[]
  readonly result: Type
}

/** Finds the one abstract method of interfaces that stand for functions. */
export class FunctionTypes {
  private readonly known = new Map<ClassSymbol, MethodSymbol | null>()

  constructor(private readonly hierarchy: Hierarchy) {}

  of(type: Type): FunctionType | undefined {
    if (type.tag === 'intersection') {
      for (const part of type.parts) { const found = this.of(part); if (found) return found }
      return undefined
    }
    if (type.tag !== 'class' || !type.symbol.isInterface) return undefined
    const method = this.methodOf(type.symbol)
    if (!method) return undefined
    // Wildcards stand for their bounds here, whichever way they go.
    const seen = type.args.length === 0 ? type : new ClassType(type.symbol, type.args.map((arg, index) => {
      if (arg.tag !== 'wildcard') return arg
      return arg.bound ?? this.hierarchy.upper(erasure(type.symbol.typeParameters[index]!))
    }))
    const owner = this.hierarchy.asSuper(seen, method.owner) ?? seen
    const { parameters, result } = method.signature
    if (owner.args.length === 0 && owner.symbol.typeParameters.length > 0) return { method, parameters: parameters.map(erasure), result: erasure(result) }
    const by = argumentsOf(owner)
    return { method, parameters: parameters.map(one => substitute(one, by)), result: substitute(result, by) }
  }

  private methodOf(symbol: ClassSymbol): MethodSymbol | null {
    const known = this.known.get(symbol)
    if (known !== undefined) return known
    const found: MethodSymbol[] = []
    const implemented: MethodSymbol[] = []
    const top = this.hierarchy.rules.top.symbol
    for (const ancestor of this.hierarchy.ancestorsOf(symbol)) {
      if (!ancestor.isInterface) continue
      for (const member of ancestor.ownMembers) {
        if (member.kind !== 'method' || member.isStatic || member.name === CONSTRUCTOR) continue
        const same = (other: MethodSymbol) => other.name === member.name && other.arity === member.arity
        if (!member.isAbstract) implemented.push(member)
        // What every object has anyway does not count.
        else if (!top.own(member.name).some(other => other.kind === 'method' && other.arity === member.arity) &&
          !found.some(same) && !implemented.some(other => same(other) && this.hierarchy.inherits(other.owner, ancestor))) found.push(member)
      }
    }
    const method = found.length === 1 ? found[0]! : null
    this.known.set(symbol, method)
    return method
  }
}
