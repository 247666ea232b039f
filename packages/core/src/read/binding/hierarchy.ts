import type { ClassSymbol, MemberSymbol } from './symbols.js'
import type { Substitution, Type, TypeVariable } from './types.js'
import { argumentsOf, ArrayType, ClassType, erasure, IntersectionType, NULL, plainType, sameType, substitute, UNKNOWN, WildcardType } from './types.js'

/** What a language says of its types beyond what they declare. */
export interface TypeRules {
  /** The class that every class inherits from. */
  readonly top: ClassType
  /** The classes and interfaces that every array is. */
  readonly arrayParents: readonly ClassType[]
  /** The class that stands for a primitive where an object is needed. */
  boxed(name: string): ClassType | undefined
  /** The primitive that a class stands for. */
  unboxed(type: ClassType): Type | undefined
  /** Whether a value of a primitive goes where another is wanted, without a cast. */
  widens(from: Type, to: Type): boolean
}

/** Subtyping, and a type seen as one of its supertypes. */
export class Hierarchy {
  constructor(readonly rules: TypeRules) {}

  /** The direct supertypes of a class type, its arguments put in. */
  parents(type: ClassType): ClassType[] {
    const { symbol } = type
    const declared = symbol.superclass ? [symbol.superclass, ...symbol.interfaces] : symbol.interfaces.length > 0 || symbol === this.rules.top.symbol ? [...symbol.interfaces] : [this.rules.top]
    if (symbol.typeParameters.length === 0) return declared
    if (type.args.length === 0) return declared.map(parent => plainType(parent.symbol))
    const by = argumentsOf(type)
    return declared.map(parent => substitute(parent, by) as ClassType)
  }

  /** The type seen as one of a class, or undefined where it is none. */
  asSuper(type: Type, symbol: ClassSymbol): ClassType | undefined {
    switch (type.tag) {
      case 'class': {
        if (type.symbol === symbol) return type
        if (symbol === this.rules.top.symbol) return this.rules.top
        return this.search(type, symbol, 0)
      }
      case 'variable': return this.firstOf(type.bounds.length > 0 ? type.bounds : [this.rules.top], symbol)
      case 'wildcard': return type.variance === 'extends' && type.bound ? this.asSuper(type.bound, symbol) : symbol === this.rules.top.symbol ? this.rules.top : undefined
      case 'intersection': return this.firstOf(type.parts, symbol)
      case 'array': return this.rules.arrayParents.find(parent => parent.symbol === symbol)
      default: return undefined
    }
  }

  private firstOf(types: readonly Type[], symbol: ClassSymbol): ClassType | undefined {
    for (const type of types) {
      const found = this.asSuper(type, symbol)
      if (found) return found
    }
    return symbol === this.rules.top.symbol ? this.rules.top : undefined
  }

  private search(type: ClassType, symbol: ClassSymbol, depth: number): ClassType | undefined {
    // A class that inherits from itself, in code that does not compile, must not hang us.
    if (depth > 60) return undefined
    if (!this.inherits(type.symbol, symbol)) return undefined
    for (const parent of this.parents(type)) {
      if (parent.symbol === symbol) return parent
      const found = this.search(parent, symbol, depth + 1)
      if (found) return found
    }
    return undefined
  }

  private readonly ancestors = new Map<ClassSymbol, ReadonlySet<ClassSymbol>>()

  /** Every class and interface that a class inherits from, itself first. */
  ancestorsOf(symbol: ClassSymbol): ReadonlySet<ClassSymbol> {
    const known = this.ancestors.get(symbol)
    if (known) return known
    const found = new Set<ClassSymbol>([symbol])
    const queue = [symbol]
    for (let at = 0; at < queue.length; at++) {
      const { superclass, interfaces } = queue[at]!
      for (const parent of superclass ? [superclass, ...interfaces] : interfaces) if (!found.has(parent.symbol)) { found.add(parent.symbol); queue.push(parent.symbol) }
    }
    found.add(this.rules.top.symbol)
    this.ancestors.set(symbol, found)
    return found
  }

  inherits(symbol: ClassSymbol, from: ClassSymbol): boolean {
    return symbol === from || this.ancestorsOf(symbol).has(from)
  }

  /** A type that a value can be declared with: a wildcard's bound, any other type itself. */
  whole(type: Type): Type {
    return type.tag === 'wildcard' ? (type.variance === 'extends' && type.bound) || this.rules.top : type
  }

  /** The upper bound that a value of a type surely has: captures are not named, their bounds are used. */
  upper(type: Type): Type {
    switch (type.tag) {
      case 'wildcard': return type.variance === 'extends' && type.bound ? this.upper(type.bound) : this.rules.top
      case 'variable': return type.bounds.length === 0 ? this.rules.top : type.bounds.length === 1 ? this.upper(type.bounds[0]!) : new IntersectionType(type.bounds)
      default: return type
    }
  }

  isSubtype(from: Type, to: Type, depth = 0): boolean {
    if (from === to || from === UNKNOWN || to === UNKNOWN || depth > 40) return true
    switch (to.tag) {
      case 'intersection': return to.parts.every(part => this.isSubtype(from, part, depth + 1))
      case 'wildcard': return to.variance === 'super' && to.bound ? this.isSubtype(from, to.bound, depth + 1) : to.variance === 'any' || (to.bound !== null && this.isSubtype(from, to.bound, depth + 1))
      default:
    }
    switch (from.tag) {
      case 'special': return from.name === 'null' ? to.tag !== 'primitive' && to.tag !== 'special' : false
      case 'primitive': return to.tag === 'primitive' && this.rules.widens(from, to)
      case 'intersection': return from.parts.some(part => this.isSubtype(part, to, depth + 1))
      case 'variable': return to === this.rules.top || (from.bounds.length === 0 ? false : from.bounds.some(bound => this.isSubtype(bound, to, depth + 1)))
      case 'wildcard': return this.isSubtype(this.upper(from), to, depth + 1)
      case 'array':
        if (to.tag === 'array') return from.element.tag === 'primitive' || to.element.tag === 'primitive' ? sameType(from.element, to.element) : this.isSubtype(from.element, to.element, depth + 1)
        return to.tag === 'class' && (to.symbol === this.rules.top.symbol || this.rules.arrayParents.some(parent => parent.symbol === to.symbol))
      case 'class': {
        if (to.tag !== 'class') return false
        if (to.symbol === this.rules.top.symbol) return true
        const seen = this.asSuper(from, to.symbol)
        if (!seen) return false
        // Raw on either side: allowed, unchecked.
        if (to.args.length === 0 || seen.args.length === 0) return true
        return seen.args.every((arg, index) => this.contains(to.args[index]!, arg, depth + 1))
      }
    }
  }

  /** Whether a type argument allows another: `? extends Number` allows `Integer`. */
  contains(argument: Type, other: Type, depth = 0): boolean {
    if (argument === other || argument === UNKNOWN || other === UNKNOWN) return true
    // A wildcard stands for some type within its bound; it is taken for the bound itself.
    if (argument.tag !== 'wildcard' && other.tag === 'wildcard') return sameType(argument, other.bound ?? this.rules.top)
    if (argument.tag !== 'wildcard') return sameType(argument, other) || (depth < 20 && this.isSubtype(argument, other, depth + 1) && this.isSubtype(other, argument, depth + 1))
    if (argument.variance === 'any' || !argument.bound) return true
    if (argument.variance === 'extends') return this.isSubtype(other.tag === 'wildcard' ? (other.variance === 'extends' && other.bound) || this.rules.top : other, argument.bound, depth + 1)
    if (other.tag === 'wildcard') return other.variance === 'super' && other.bound !== null && this.isSubtype(argument.bound, other.bound, depth + 1)
    return this.isSubtype(argument.bound, other, depth + 1)
  }

  /** A member's type as seen through a receiver. */
  seenThrough(type: Type, member: MemberSymbol, receiver: Type): Type {
    if (member.owner.typeParameters.length === 0) return type
    const seen = this.asSuper(receiver, member.owner)
    if (!seen) return type
    return seen.args.length === 0 ? erasure(type) : substitute(type, this.captured(argumentsOf(seen), true))
  }

  /**
   * Wildcards of a receiver as types that its members can be seen with: their bounds. What is handed to `? super T` is a T;
   * what comes from it can be anything within the parameter's own bound.
   */
  captured(given: Substitution, forResult: boolean): Substitution {
    let changed: Map<TypeVariable, Type> | undefined
    for (const [parameter, type] of given) {
      if (type.tag !== 'wildcard') continue
      changed ??= new Map(given)
      const own = (): Type => parameter.bounds[0] ? erasure(parameter.bounds[0]) : this.rules.top
      changed.set(parameter, type.variance === 'extends' && type.bound ? type.bound : type.variance === 'super' && type.bound && !forResult ? type.bound : own())
    }
    return changed ?? given
  }

  /** The least class or interface types that all of some types have; as Java's lub, but recursive arguments become `?`. */
  common(types: readonly Type[], depth = 0): Type {
    const distinct: Type[] = []
    for (const type of types) if (type !== NULL && !distinct.some(one => sameType(one, type))) distinct.push(type)
    if (distinct.length === 0) return types[0] ?? this.rules.top
    if (distinct.length === 1) return distinct[0]!
    if (distinct.includes(UNKNOWN)) return distinct.find(type => type !== UNKNOWN) ?? UNKNOWN
    const objects = distinct.map(type => type.tag === 'primitive' ? this.rules.boxed(type.name) ?? this.rules.top : type)
    for (const candidate of objects) if (objects.every(other => this.isSubtype(other, candidate))) return candidate
    if (objects.every((type): type is ArrayType => type.tag === 'array') && objects.every(type => type.element.tag !== 'primitive')) return new ArrayType(this.common(objects.map(type => type.element), depth + 1))
    const sets = objects.map(type => this.symbolsOf(type))
    const shared = [...sets[0]!].filter(symbol => sets.every(set => set.has(symbol)))
    const least = shared.filter(symbol => !shared.some(other => other !== symbol && this.inherits(other, symbol)))
    const parts = least.map((symbol): Type => {
      if (symbol.typeParameters.length === 0) return plainType(symbol)
      const views = objects.map(type => this.asSuper(type, symbol))
      if (views.some(view => !view || view.args.length === 0) || depth > 2) return depth > 2 ? new ClassType(symbol, symbol.typeParameters.map(() => new WildcardType('any', null))) : plainType(symbol)
      return new ClassType(symbol, symbol.typeParameters.map((_, index) => {
        const args = views.map(view => view!.args[index]!)
        if (args.every(arg => sameType(arg, args[0]!))) return args[0]!
        return new WildcardType('extends', this.common(args.map(arg => this.whole(arg)), depth + 1))
      }))
    })
    // A class before interfaces, as it was found first in the chain.
    parts.sort((a, b) => Number((a as ClassType).symbol.isInterface) - Number((b as ClassType).symbol.isInterface))
    return parts.length === 0 ? this.rules.top : parts.length === 1 ? parts[0]! : new IntersectionType(parts)
  }

  private symbolsOf(type: Type): Set<ClassSymbol> {
    switch (type.tag) {
      case 'class': return new Set(this.ancestorsOf(type.symbol))
      case 'variable': return new Set((type.bounds.length > 0 ? type.bounds : [this.rules.top]).flatMap(bound => [...this.symbolsOf(bound)]))
      case 'intersection': return new Set(type.parts.flatMap(part => [...this.symbolsOf(part)]))
      case 'wildcard': return this.symbolsOf(this.upper(type))
      case 'array': return new Set([...this.rules.arrayParents.map(parent => parent.symbol), this.rules.top.symbol])
      default: return new Set([this.rules.top.symbol])
    }
  }
}
