import type { FunctionTypes } from './functional.js'
import type { Hierarchy } from './hierarchy.js'
import { Inference } from './inference.js'
import type { ClassSymbol } from './symbols.js'
import type { MethodSymbol } from './symbols.js'
import type { Substitution, Type, TypeVariable } from './types.js'
import { argumentsOf, ArrayType, ClassType, erasure, substitute, UNKNOWN, VOID } from './types.js'

/** An argument of a call, as far as it is known before the method is. */
export interface Argument {
  /** Its type on its own; null for lambdas and method references, which have none. */
  readonly type: Type | null
  /** True where its type could be another if another were wanted: a generic call, a creation whose arguments are inferred. */
  readonly adapts: boolean
  /** For lambdas and method references. */
  readonly function: FunctionShape | null
}

export interface FunctionShape {
  readonly kind: 'lambda' | 'method-reference'
  /** Whether it can be a function of so many parameters. */
  readonly accepts: (count: number) => boolean
  /** What the body can be: it gives a value, it gives none, or either (an expression that is a statement too). */
  readonly gives: 'value' | 'nothing' | 'either'
  /** The type of what it gives, where that is known without knowing its parameters; null elsewhere. */
  readonly result: () => Type | null
  /** The same where it does not depend on what is wanted either, so that it has to fit that; null elsewhere. */
  readonly settled: () => Type | null
}

/** A method as its receiver sees it: the receiver's type arguments put in. */
export interface Candidate {
  readonly method: MethodSymbol
  readonly parameters: readonly Type[]
  readonly result: Type
  /** Whether another takes the arguments as well and neither is more specific, so that no compiler would choose. */
  readonly isAmbiguous?: boolean
}

/** The methods that a call may mean, and the one that it means. Chapter 15.12 of The Java Language Specification. */
export class Overloads {
  private readonly methods = new Map<ClassSymbol, Map<string, readonly MethodSymbol[]>>()

  constructor(private readonly hierarchy: Hierarchy, private readonly functions: FunctionTypes) {}

  /** Methods of a name that a class has or inherits, without those that it overrides. */
  of(symbol: ClassSymbol, name: string): readonly MethodSymbol[] {
    let byName = this.methods.get(symbol)
    if (!byName) this.methods.set(symbol, byName = new Map())
    const known = byName.get(name)
    if (known) return known
    const found: MethodSymbol[] = []
    const ancestors = [...this.hierarchy.ancestorsOf(symbol)]
    // What a class inherits from classes stands before what its interfaces declare; also for an interface, but for its own.
    for (const interfaces of [false, true]) {
      for (const ancestor of symbol.isInterface && !interfaces ? [symbol, ...ancestors] : ancestors) {
        if (ancestor === symbol ? interfaces || found.some(one => one.owner === symbol) : ancestor.isInterface !== interfaces) continue
        for (const member of ancestor.own(name)) {
          if (member.kind !== 'method') continue
          // Static methods of an interface belong to it alone.
          if (member.isStatic && ancestor.isInterface && ancestor !== symbol) continue
          const at = found.findIndex(other => other.arity === member.arity && other.owner !== member.owner && this.sameParameters(symbol, other, member))
          if (at < 0) found.push(member)
          else if (found[at]!.owner !== symbol) found[at] = this.standing(found[at]!, member)
        }
      }
    }
    byName.set(name, found)
    return found
  }

  /** Whether a class's method overrides one that it inherits. */
  overrides(symbol: ClassSymbol, method: MethodSymbol, other: MethodSymbol): boolean {
    return method.arity === other.arity && this.sameParameters(symbol, method, other)
  }

  /** Of two inherited methods with the same parameters, the one that a call means. */
  private standing(first: MethodSymbol, later: MethodSymbol): MethodSymbol {
    if (!first.isAbstract && !first.owner.isInterface) return first
    const overrides = (a: MethodSymbol, b: MethodSymbol) => this.hierarchy.inherits(a.owner, b.owner) && (!a.owner.isInterface || b.owner.isInterface)
    if (overrides(later, first)) return later
    if (overrides(first, later)) return first
    if (first.isAbstract !== later.isAbstract) return first.isAbstract ? later : first
    return this.hierarchy.isSubtype(erasure(later.signature.result), erasure(first.signature.result)) ? later : first
  }

  private sameParameters(symbol: ClassSymbol, a: MethodSymbol, b: MethodSymbol): boolean {
    const receiver = symbol.typeParameters.length > 0 ? new ClassType(symbol, symbol.typeParameters) : new ClassType(symbol, [])
    // Type parameters of their own are the same by their order, or erased (JLS 8.4.2).
    const own = a.signature.typeParameters, others = b.signature.typeParameters
    const by: Substitution = new Map(others.map((one, at) => [one, own.length === others.length ? own[at]! : erasure(this.hierarchy.seenThrough(one.bounds[0] ?? one, b, receiver))] as const))
    const seen = (method: MethodSymbol, aligned: Substitution) => method.signature.parameters.map(type => erasure(substitute(this.hierarchy.seenThrough(type, method, receiver), aligned)))
    const left = seen(a, new Map()), right = seen(b, by)
    return left.every((type, index) => sameErased(type, right[index]!))
  }

  /** A method as a receiver of a type sees it. Wildcards of the receiver stand for their bounds. */
  seen(method: MethodSymbol, receiver: Type | null): Candidate {
    const { parameters, result } = method.signature
    if (!receiver || method.isStatic || method.owner.typeParameters.length === 0) return { method, parameters, result }
    const owner = this.hierarchy.asSuper(receiver, method.owner)
    if (!owner) return { method, parameters, result }
    if (owner.args.length === 0) return { method, parameters: parameters.map(erasure), result: erasure(result) }
    const given = argumentsOf(owner)
    const forParameters: Substitution = this.hierarchy.captured(given, false)
    const forResult: Substitution = this.hierarchy.captured(given, true)
    return { method, parameters: parameters.map(type => substitute(type, forParameters)), result: substitute(result, forResult) }
  }

  /**
   * The most specific of the methods that take the arguments; else the one that comes nearest. `open`: type parameters of
   * the class that are inferred with the call, for a creation with `<>`.
   */
  choose(methods: readonly MethodSymbol[], receiver: Type | null, args: readonly Argument[], open: readonly TypeVariable[] = []): Candidate | undefined {
    const fitting = methods.filter(method => method.arity === args.length || (method.varargs && args.length >= method.arity - 1))
    if (fitting.length === 0) return undefined
    const candidates = fitting.map(method => this.seen(method, receiver))
    if (candidates.length === 1) return candidates[0]
    for (const phase of ['strict', 'loose', 'variable'] as const) {
      const applicable = candidates.filter(candidate => this.applies(candidate, args, phase, open))
      if (applicable.length === 1) return applicable[0]
      if (applicable.length > 1) return this.mostSpecific(applicable, args, phase === 'variable')
    }
    // Nothing fits: something about an argument was not understood.
    return candidates.find(candidate => candidate.method.arity === args.length) ?? candidates[0]
  }

  private applies(candidate: Candidate, args: readonly Argument[], phase: 'strict' | 'loose' | 'variable', open: readonly TypeVariable[]): boolean {
    const { method } = candidate
    if (phase === 'variable' ? !method.varargs : method.arity !== args.length) return false
    const formals = args.map((_, index) => formalAt(candidate, index, phase === 'variable'))
    const own = method.signature.typeParameters
    const typeParameters = open.length > 0 ? [...open, ...own] : own
    let by: Substitution = new Map()
    if (typeParameters.length > 0) {
      const inference = new Inference(this.hierarchy, typeParameters)
      args.forEach((arg, index) => { if (arg.type && !arg.adapts) inference.argument(arg.type, formals[index]!) })
      by = inference.solution()
      if (!this.isWithinBounds(typeParameters, by)) return false
    }
    return args.every((arg, index) => {
      const formal = formals[index]!
      // What is still to be inferred on both sides meets in what both can be.
      if (arg.type && arg.adapts && formal.tag === 'variable' && typeParameters.includes(formal)) return arg.type !== VOID && formal.bounds.every(bound => this.hierarchy.isSubtype(erasure(arg.type!), erasure(bound)))
      return this.takes(substitute(formal, by), arg, phase !== 'strict', typeParameters.length > 0 && this.functions.of(formal)?.result.tag === 'variable')
    })
  }

  private isWithinBounds(typeParameters: readonly TypeVariable[], by: Substitution): boolean {
    return typeParameters.every(parameter => {
      const solved = by.get(parameter)!
      return solved === UNKNOWN || parameter.bounds.every(bound => this.hierarchy.isSubtype(erasure(solved), erasure(substitute(bound, by))))
    })
  }

  /** `isInferred`: what a function gives is what is still to be inferred. */
  private takes(formal: Type, arg: Argument, loose: boolean, isInferred = false): boolean {
    if (formal === UNKNOWN) return true
    if (arg.function) {
      if (formal.tag === 'variable') return true
      const wanted = this.functions.of(formal)
      if (!wanted) return false
      const { accepts, gives, settled } = arg.function
      if (!accepts(wanted.parameters.length)) return false
      if (wanted.result === VOID ? gives === 'value' : gives === 'nothing') return false
      const given = wanted.result === VOID ? null : settled()
      return given === null || (given !== VOID && (isInferred || this.mayBeAssigned(given, wanted.result)))
    }
    const given = arg.type!
    if (given === VOID) return false
    // A class is no type parameter of the code around the call, whatever is inferred for its own.
    if (arg.adapts && formal.tag === 'variable' && given.tag === 'class') return false
    if (arg.adapts) return this.hierarchy.isSubtype(erasure(given), erasure(formal)) || (loose && this.convertible(erasure(given), erasure(formal)))
    if (given.tag === 'primitive' && formal.tag === 'primitive') return this.hierarchy.isSubtype(given, formal)
    if ((given.tag === 'primitive') !== (formal.tag === 'primitive')) return loose && this.convertible(given, formal)
    return this.hierarchy.isSubtype(given, formal)
  }

  /** Whether a value of a type can be given where one of another is wanted; a number may be a constant that is small enough. */
  private mayBeAssigned(given: Type, wanted: Type): boolean {
    if (given === UNKNOWN || wanted === UNKNOWN || wanted.tag === 'variable') return true
    const from = erasure(this.hierarchy.upper(given)), to = erasure(this.hierarchy.upper(wanted)), { rules } = this.hierarchy
    if (this.hierarchy.isSubtype(from, to) || this.convertible(from, to)) return true
    const small = to.tag === 'class' ? rules.unboxed(to) : to
    return from.tag === 'primitive' && small?.tag === 'primitive' && CONSTANTS.has(from.name) && NARROW.has(small.name)
  }

  /** By boxing or unboxing. */
  private convertible(given: Type, formal: Type): boolean {
    const { rules } = this.hierarchy
    if (given === UNKNOWN) return true
    if (given.tag === 'primitive') { const boxed = rules.boxed(given.name); return boxed !== undefined && this.hierarchy.isSubtype(boxed, formal) }
    const upper = this.hierarchy.upper(given)
    const unboxed = upper.tag === 'class' ? rules.unboxed(upper) : undefined
    return unboxed !== undefined && formal.tag === 'primitive' && this.hierarchy.isSubtype(unboxed, formal)
  }

  private mostSpecific(candidates: readonly Candidate[], args: readonly Argument[], variable: boolean): Candidate {
    const best = candidates.filter(one => candidates.every(other => one === other || this.moreSpecific(one, other, args, variable)))
    if (best.length === 1) return best[0]!
    const rest = best.length > 1 ? best : candidates
    // The same signature from several supertypes: one with a body, else the one with the narrowest result.
    const chosen = rest.find(one => !one.method.isAbstract) ??
      rest.reduce((least, one) => this.hierarchy.isSubtype(erasure(one.result), erasure(least.result)) && !this.hierarchy.isSubtype(erasure(least.result), erasure(one.result)) ? one : least)
    return best.length === 0 && !variable && this.isPlainly(candidates, args) ? { ...chosen, isAmbiguous: true } : chosen
  }

  /** Whether all is known by which one is chosen: methods of the sources without type parameters, arguments of known types. */
  private isPlainly(candidates: readonly Candidate[], args: readonly Argument[]): boolean {
    return candidates.every(({ method }) => method.owner.source && method.signature.typeParameters.length === 0 && method.owner.typeParameters.length === 0) && args.every(({ type, adapts }) => type !== null && type !== UNKNOWN && !adapts)
  }

  private moreSpecific(one: Candidate, other: Candidate, args: readonly Argument[], variable: boolean): boolean {
    const { typeParameters } = other.method.signature
    const count = variable ? Math.max(args.length, one.method.arity, other.method.arity) : args.length
    let by: Substitution = new Map()
    if (typeParameters.length > 0) {
      const inference = new Inference(this.hierarchy, typeParameters)
      for (let index = 0; index < count; index++) inference.argument(formalAt(one, index, variable), formalAt(other, index, variable))
      by = inference.solution()
      if (!this.isWithinBounds(typeParameters, by)) return false
    }
    for (let index = 0; index < count; index++) {
      const mine = formalAt(one, index, variable), theirs = substitute(formalAt(other, index, variable), by)
      const shape = args[index]?.function
      if (shape && this.functionMoreSpecific(mine, theirs, shape)) continue
      if (mine.tag === 'primitive' !== (theirs.tag === 'primitive')) {
        const given = args[index]?.type
        if (given && (given.tag === 'primitive') === (mine.tag === 'primitive')) continue
        return false
      }
      if (!this.hierarchy.isSubtype(mine, theirs)) return false
    }
    return true
  }

  private functionMoreSpecific(mine: Type, theirs: Type, shape: FunctionShape): boolean {
    if (this.hierarchy.isSubtype(mine, theirs)) return true
    const a = this.functions.of(mine), b = this.functions.of(theirs)
    if (!a || !b || this.hierarchy.isSubtype(theirs, mine)) return false
    if (b.result === VOID) return true
    if (a.result === VOID) return false
    const primitive = a.result.tag === 'primitive'
    if (primitive === (b.result.tag === 'primitive')) return this.hierarchy.isSubtype(a.result, b.result)
    const given = shape.result()
    return given !== null && given !== UNKNOWN && (given.tag === 'primitive') === primitive
  }
}

/** Constants of these may be values of those, where they are small enough (JLS 5.2). */
const CONSTANTS: ReadonlySet<string> = new Set(['int', 'short', 'char', 'byte']), NARROW: ReadonlySet<string> = new Set(['short', 'char', 'byte'])

/** The declared type for an argument; in a call with any number of arguments, the element's for all from the last on. */
export function formalAt(candidate: Candidate, index: number, variable: boolean): Type {
  const { parameters } = candidate
  if (!variable || index < parameters.length - 1) return parameters[Math.min(index, parameters.length - 1)] ?? UNKNOWN
  const last = parameters[parameters.length - 1]
  return last instanceof ArrayType ? last.element : last ?? UNKNOWN
}

function sameErased(a: Type, b: Type): boolean {
  if (a === b) return true
  return a.tag === 'array' && b.tag === 'array' && sameErased(a.element, b.element)
}
