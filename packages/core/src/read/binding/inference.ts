import type { Hierarchy } from './hierarchy.js'
import type { Substitution, Type, TypeVariable } from './types.js'
import { ClassType, mentions, NULL, sameType, substitute, thisType, UNKNOWN, VOID } from './types.js'

interface Bounds {
  readonly equal: Type[]
  readonly lower: Type[]
  readonly upper: Type[]
}

/**
 * Finds type arguments of a generic call from what its arguments are and what is wanted of its result: the bounds and
 * reductions of The Java Language Specification, chapter 18, without capture variables (a wildcard's bound is used). A
 * parameter about which nothing is known stays unknown, which goes with everything.
 */
export class Inference {
  private readonly bounds = new Map<TypeVariable, Bounds>()
  private readonly open: ReadonlySet<TypeVariable>

  constructor(private readonly hierarchy: Hierarchy, readonly variables: readonly TypeVariable[]) {
    this.open = new Set(variables)
    for (const variable of variables) this.bounds.set(variable, { equal: [], lower: [], upper: [] })
  }

  mentions(type: Type): boolean { return mentions(type, this.open) }

  /** An argument of one type goes where another is declared. */
  argument(given: Type, declared: Type): void {
    if (!this.mentions(declared) || given === VOID) return
    const { rules } = this.hierarchy
    this.below(given.tag === 'primitive' ? rules.boxed(given.name) ?? UNKNOWN : given, declared, 0)
  }

  /** The result is wanted as a type. */
  wanted(result: Type, expected: Type): void {
    if (!this.mentions(result)) return
    if (expected.tag === 'primitive') {
      const boxed = this.hierarchy.rules.boxed(expected.name)
      // A primitive says little: it may come by unboxing, and widening after.
      if (result.tag === 'variable' && boxed && this.isFree(result)) this.bounds.get(result)!.upper.push(boxed)
      return
    }
    this.above(expected, result, 0)
  }

  /** Nothing is known yet of a parameter. */
  isFree(variable: TypeVariable): boolean {
    const bounds = this.bounds.get(variable)
    return bounds !== undefined && bounds.equal.length === 0 && bounds.lower.length === 0
  }

  private add(list: Type[], type: Type): void {
    if (type !== NULL && !list.some(one => sameType(one, type))) list.push(type)
  }

  /** given <: declared, where declared mentions parameters. */
  private below(given: Type, declared: Type, depth: number): void {
    if (depth > 12 || given === UNKNOWN || given === NULL) return
    switch (declared.tag) {
      case 'variable': if (this.open.has(declared)) this.add(this.bounds.get(declared)!.lower, this.hierarchy.whole(given)); return
      case 'wildcard': if (declared.bound && declared.variance === 'extends') this.below(given, declared.bound, depth + 1); return
      case 'array': {
        const array = given.tag === 'array' ? given : this.hierarchy.upper(given)
        if (array.tag === 'array' && array.element.tag !== 'primitive') this.below(array.element, declared.element, depth + 1)
        return
      }
      case 'intersection': for (const part of declared.parts) this.below(given, part, depth + 1); return
      case 'class': {
        const seen = this.hierarchy.asSuper(given, declared.symbol)
        if (!seen) return
        seen.args.forEach((arg, index) => { if (declared.args[index]) this.contained(arg, declared.args[index], depth + 1) })
        return
      }
      default:
    }
  }

  /** given is a type argument where declared is wanted. */
  private contained(given: Type, declared: Type, depth: number): void {
    if (!this.mentions(declared)) return
    if (declared.tag !== 'wildcard') { this.equal(given, declared, depth); return }
    if (!declared.bound) return
    if (declared.variance === 'extends') this.below(given.tag === 'wildcard' ? given.variance === 'extends' ? given.bound! : this.hierarchy.rules.top : given, declared.bound, depth)
    else if (given.tag !== 'wildcard') this.above(given, declared.bound, depth)
    else if (given.bound && given.variance === 'super') this.above(given.bound, declared.bound, depth)
    else if (given.bound) this.above(given.bound, declared.bound, depth)
  }

  private equal(given: Type, declared: Type, depth: number): void {
    if (depth > 12 || given === UNKNOWN) return
    if (declared.tag === 'variable') {
      if (this.open.has(declared)) {
        if (given.tag === 'wildcard') { if (given.variance !== 'any') this.add(this.bounds.get(declared)!.equal, given.bound!); else this.add(this.bounds.get(declared)!.lower, this.hierarchy.rules.top) }
        else this.add(this.bounds.get(declared)!.equal, given)
      }
    } else if (declared.tag === 'class') {
      const seen = given.tag === 'class' && given.symbol === declared.symbol ? given : this.hierarchy.asSuper(given, declared.symbol)
      seen?.args.forEach((arg, index) => { if (declared.args[index]) this.contained(arg, declared.args[index], depth + 1) })
    } else if (declared.tag === 'array' && given.tag === 'array') this.equal(given.element, declared.element, depth + 1)
    else if (declared.tag === 'wildcard' && declared.bound) this.equal(given.tag === 'wildcard' && given.bound ? given.bound : given, declared.bound, depth + 1)
  }

  /** declared <: given, where declared mentions parameters. */
  private above(given: Type, declared: Type, depth: number): void {
    if (depth > 12 || given === UNKNOWN || given === NULL) return
    switch (declared.tag) {
      case 'variable': if (this.open.has(declared)) this.add(this.bounds.get(declared)!.upper, given.tag === 'wildcard' ? given.bound ?? this.hierarchy.rules.top : given); return
      case 'array': if (given.tag === 'array') this.above(given.element, declared.element, depth + 1); return
      case 'wildcard': if (declared.bound) this.above(given, declared.bound, depth + 1); return
      case 'class': {
        const target = given.tag === 'class' ? given : this.hierarchy.upper(given)
        if (target.tag !== 'class') return
        const seen = this.hierarchy.asSuper(declared, target.symbol)
        seen?.args.forEach((arg, index) => {
          const wanted = target.args[index]
          if (!wanted || !this.mentions(arg)) return
          if (wanted.tag !== 'wildcard') this.equal(wanted, arg, depth + 1)
          else if (wanted.bound && wanted.variance === 'extends') this.above(wanted.bound, arg, depth + 1)
          else if (wanted.bound) this.below(wanted.bound, arg, depth + 1)
        })
        return
      }
      default:
    }
  }

  /** What each parameter is by now; those about which nothing is known are unknown. */
  solution(): Map<TypeVariable, Type> {
    const found = new Map<TypeVariable, Type>()
    for (const variable of this.variables) found.set(variable, this.solve(variable))
    // A parameter that is known tells of others by its own bound: `C extends Collection<T>`.
    for (const variable of this.variables) {
      const solved = found.get(variable)!
      if (solved === UNKNOWN) continue
      for (const bound of variable.bounds) if (this.mentions(bound)) this.below(solved, bound, 0)
    }
    for (const variable of this.variables) if (found.get(variable) === UNKNOWN) found.set(variable, this.solve(variable))
    for (const variable of this.variables) found.set(variable, this.filled(found.get(variable)!, variable, found))
    for (const [variable, type] of found) if (this.mentions(type)) found.set(variable, substitute(type, new Map([...found].map(([one, solved]) => [one, one === variable || this.mentions(solved) ? UNKNOWN : solved]))))
    return found
  }

  /** Unknown arguments of a solution as the parameter's bound wants them: for `M extends Map<K, V>` a `TreeMap<>` is one of K and V. */
  private filled(solved: Type, variable: TypeVariable, found: Substitution): Type {
    if (solved.tag !== 'class' || !solved.args.includes(UNKNOWN)) return solved
    const { symbol, args } = solved
    const own = new Inference(this.hierarchy, symbol.typeParameters)
    for (const bound of variable.bounds) own.wanted(thisType(symbol), substitute(bound, found))
    const by = own.solution()
    return new ClassType(symbol, args.map((arg, index) => arg === UNKNOWN ? by.get(symbol.typeParameters[index]!)! : arg))
  }

  private solve(variable: TypeVariable): Type {
    const { equal, lower, upper } = this.bounds.get(variable)!
    const proper = equal.filter(type => !this.mentions(type))
    if (proper.length > 0) return proper.find(type => !holdsUnknown(type)) ?? proper[0]!
    const known = lower.filter(type => !this.mentions(type))
    if (known.length > 0) {
      const whole = known.filter(type => !holdsUnknown(type))
      return this.hierarchy.common(whole.length > 0 ? whole : known)
    }
    const above = upper.filter(type => !this.mentions(type))
    if (above.length > 0) return above.reduce((least, type) => this.hierarchy.isSubtype(type, least) ? type : least)
    return UNKNOWN
  }
}

export function holdsUnknown(type: Type): boolean {
  switch (type.tag) {
    case 'special': return type === UNKNOWN
    case 'class': return type.args.some(holdsUnknown)
    case 'array': return holdsUnknown(type.element)
    case 'wildcard': return type.bound !== null && holdsUnknown(type.bound)
    case 'intersection': return type.parts.some(holdsUnknown)
    default: return false
  }
}

/** Unknown arguments as their parameters' bounds: what is left of a type when nothing more can come to be known. */
export function settled(type: Type, hierarchy: Hierarchy): Type {
  if (!holdsUnknown(type)) return type
  if (type.tag === 'class') return new ClassType(type.symbol, type.args.map(arg => arg === UNKNOWN ? hierarchy.rules.top : settled(arg, hierarchy)))
  return type
}
