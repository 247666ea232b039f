import type { ClassSymbol, Type, TypeVariable } from './symbols.js'
import { ArrayType, ClassType, IntersectionType, SpecialType, WildcardType } from './symbols.js'

export { ArrayType, ClassType, IntersectionType, PrimitiveType, SpecialType, TypeVariable, WildcardType } from './symbols.js'
export type { Type } from './symbols.js'

export const NULL = new SpecialType('null')
export const VOID = new SpecialType('void')
export const UNKNOWN = new SpecialType('unknown')

const plain = new WeakMap<ClassSymbol, ClassType>()

/** The class without arguments: raw where it is generic. */
export function plainType(symbol: ClassSymbol): ClassType {
  let type = plain.get(symbol)
  if (!type) plain.set(symbol, type = new ClassType(symbol, []))
  return type
}

/** The type of `this` in a class: with its own type parameters as arguments. */
export function thisType(symbol: ClassSymbol): ClassType {
  return symbol.ownType ??= symbol.typeParameters.length === 0 ? plainType(symbol) : new ClassType(symbol, symbol.typeParameters)
}

export type Substitution = ReadonlyMap<TypeVariable, Type>

export function substitute(type: Type, by: Substitution): Type {
  if (by.size === 0) return type
  switch (type.tag) {
    case 'variable': return by.get(type) ?? type
    case 'class': {
      if (type.args.length === 0) return type
      const args = substituteAll(type.args, by)
      return args === type.args ? type : new ClassType(type.symbol, args)
    }
    case 'array': {
      const element = substitute(type.element, by)
      return element === type.element ? type : new ArrayType(element)
    }
    case 'wildcard': {
      if (!type.bound) return type
      const bound = substitute(type.bound, by)
      if (bound === type.bound) return type
      // A wildcard put into a wildcard's bound: `? extends (? extends X)` is `? extends X`.
      return bound.tag === 'wildcard' ? (bound.variance === type.variance ? bound : new WildcardType('any', null)) : new WildcardType(type.variance, bound)
    }
    case 'intersection': {
      const parts = substituteAll(type.parts, by)
      return parts === type.parts ? type : new IntersectionType(parts)
    }
    default: return type
  }
}

export function substituteAll(types: readonly Type[], by: Substitution): readonly Type[] {
  let changed: Type[] | undefined
  for (let index = 0; index < types.length; index++) {
    const now = substitute(types[index]!, by)
    if (now !== types[index] && !changed) changed = types.slice()
    if (changed) changed[index] = now
  }
  return changed ?? types
}

/** Parameters of a class to the arguments of one of its types. Raw types erase: parameters to the erasure of their bounds. */
export function argumentsOf(type: ClassType): Substitution {
  const parameters = type.symbol.typeParameters
  const by = new Map<TypeVariable, Type>()
  if (type.args.length === 0) for (const parameter of parameters) by.set(parameter, erasure(parameter))
  else parameters.forEach((parameter, index) => by.set(parameter, type.args[index] ?? UNKNOWN))
  return by
}

export function erasure(type: Type): Type {
  switch (type.tag) {
    case 'class': return type.args.length === 0 ? type : plainType(type.symbol)
    case 'array': { const element = erasure(type.element); return element === type.element ? type : new ArrayType(element) }
    case 'variable': return type.bounds.length > 0 ? erasure(type.bounds[0]!) : UNKNOWN
    case 'wildcard': return type.variance === 'extends' && type.bound ? erasure(type.bound) : UNKNOWN
    case 'intersection': return erasure(type.parts[0]!)
    default: return type
  }
}

export function sameType(a: Type, b: Type): boolean {
  if (a === b) return true
  if (a.tag !== b.tag) return false
  switch (a.tag) {
    case 'class': {
      const other = b as ClassType
      return a.symbol === other.symbol && a.args.length === other.args.length && a.args.every((arg, index) => sameType(arg, other.args[index]!))
    }
    case 'array': return sameType(a.element, (b as ArrayType).element)
    case 'wildcard': {
      const other = b as WildcardType
      return a.variance === other.variance && (a.bound === other.bound || (a.bound !== null && other.bound !== null && sameType(a.bound, other.bound)))
    }
    case 'intersection': {
      const other = b as IntersectionType
      return a.parts.length === other.parts.length && a.parts.every((part, index) => sameType(part, other.parts[index]!))
    }
    default: return false
  }
}

export function mentions(type: Type, variables: ReadonlySet<TypeVariable>): boolean {
  switch (type.tag) {
    case 'variable': return variables.has(type)
    case 'class': return type.args.some(arg => mentions(arg, variables))
    case 'array': return mentions(type.element, variables)
    case 'wildcard': return type.bound !== null && mentions(type.bound, variables)
    case 'intersection': return type.parts.some(part => mentions(part, variables))
    default: return false
  }
}

/** For people and for messages. */
export function describe(type: Type): string {
  switch (type.tag) {
    case 'primitive': case 'special': case 'variable': return type.name
    case 'class': return type.symbol.name + (type.args.length > 0 ? `<${type.args.map(describe).join(', ')}>` : '')
    case 'array': return `${describe(type.element)}[]`
    case 'wildcard': return type.bound ? `? ${type.variance} ${describe(type.bound)}` : '?'
    case 'intersection': return type.parts.map(describe).join(' & ')
  }
}

/** Whether one of some type parameters stands anywhere in a type. */
export function speaksOf(type: Type, variables: ReadonlySet<unknown>): boolean {
  switch (type.tag) {
    case 'variable': return variables.has(type)
    case 'class': return type.args.some(one => speaksOf(one, variables))
    case 'array': return speaksOf(type.element, variables)
    case 'wildcard': return type.bound !== null && speaksOf(type.bound, variables)
    default: return false
  }
}
