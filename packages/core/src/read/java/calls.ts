import { holdsUnknown, Inference } from '../binding/inference.js'
import type { Argument, Candidate } from '../binding/overloads.js'
import { formalAt } from '../binding/overloads.js'
import type { ClassSymbol } from '../binding/symbols.js'
import { MethodSymbol } from '../binding/symbols.js'
import type { Substitution, Type, TypeVariable } from '../binding/types.js'
import { ClassType, describe, erasure, NULL, plainType, substitute, thisType, UNKNOWN, VOID } from '../binding/types.js'
import type { Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import type { Qualifier } from './expression-part.js'
import { ExpressionPart } from './expression-part.js'
import type { Scope } from './scope.js'
import { Field, Kind } from './syntax.js'

/** Calls: which of several methods is meant, and what its type parameters stand for. */
export class Calls extends ExpressionPart {
  /** `asReceiver`: nothing more will be known of its type, so what is not takes its bound. */
  invocation(node: Node, scope: Scope, wanted: Type | null, asReceiver = false): Type {
    const { tree } = this
    const name = tree.child(node, Field.Name)
    const object = tree.child(node, Field.Object)
    const argumentsNode = tree.child(node, Field.Arguments)
    const text = tree.textOf(name)
    const explicit = tree.child(node, Field.TypeArguments)
    const typeArguments = explicit === NONE ? [] : tree.children(explicit).map(child => this.program.names.type(child, scope))
    let receiver: Type | null = null
    let methods: readonly MethodSymbol[] = []
    let receiverSymbol: ClassSymbol | null = null
    if (object === NONE) {
      for (let at: Scope | null = scope; at; at = at.outer) {
        if (!at.symbol) continue
        const found = this.overloads.of(at.symbol, text).filter(method => this.whole.names.visible(method, scope))
        if (found.length === 0) continue
        methods = found
        receiver = thisType(at.symbol)
        receiverSymbol = at.symbol
        break
      }
      if (methods.length === 0) methods = this.importedMethods(text, scope)
    } else {
      let before: Qualifier
      if (tree.childOf(node, Kind.Super) !== NONE && tree.kind(object) !== Kind.Super) {
        const type = this.program.names.type(object, scope)
        const owner = scope.owner
        // `Interface.super.m()` calls the interface's own; `Outer.super.m()` that of the outer class's superclass.
        const direct = type.tag === 'class' && owner && type.symbol.isInterface && !owner.isInside(type.symbol)
        before = { value: type.tag === 'class' ? direct ? type : this.whole.superOf(type.symbol) : UNKNOWN }
      } else before = this.whole.names.qualifier(object, scope)
      if ('packageName' in before) { this.argumentsAlone(argumentsNode, scope); this.file.bind(name, undefined, 'what it is called on is not found'); return UNKNOWN }
      if ('symbol' in before) { receiverSymbol = before.symbol; receiver = plainType(before.symbol); methods = this.overloads.of(before.symbol, text) }
      else {
        receiver = before.value
        if (receiver === UNKNOWN) { this.argumentsAlone(argumentsNode, scope); this.file.bind(name, undefined, 'the type of what it is called on is not known'); return UNKNOWN }
        const type = this.hierarchy.upper(receiver)
        if (type.tag === 'array') {
          methods = this.overloads.of(this.program.top.symbol, text)
          if (text === 'clone') { this.argumentsAlone(argumentsNode, scope); return type }
        } else for (const part of type.tag === 'intersection' ? type.parts : [type]) {
          const seen = this.hierarchy.upper(part)
          const symbols = seen.tag === 'class' ? [seen] : seen.tag === 'intersection' ? seen.parts.filter((one): one is ClassType => one.tag === 'class') : []
          for (const one of symbols) {
            if (methods.length > 0) break
            methods = this.overloads.of(one.symbol, text)
            if (methods.length > 0) { receiverSymbol = one.symbol; receiver = one }
          }
        }
        if (receiver.tag !== 'array') receiver = methods.length > 0 && receiverSymbol ? receiver : type
      }
      const seen = methods.filter(method => this.whole.names.visible(method, scope))
      if (seen.length > 0) methods = seen
    }
    if (methods.length === 0) {
      this.argumentsAlone(argumentsNode, scope)
      this.file.bind(name, undefined, 'no method of this name is found')
      return UNKNOWN
    }
    const nodes = tree.children(argumentsNode)
    const args = this.known(nodes, scope)
    const chosen = this.overloads.choose(methods, receiver, args)
    this.findings?.noteChoice(name, chosen?.isAmbiguous === true)
    if (!chosen) {
      this.argumentsAlone(argumentsNode, scope)
      this.file.bind(name, undefined, `no ${text} takes ${nodes.length} argument${nodes.length === 1 ? '' : 's'}`)
      return UNKNOWN
    }
    this.file.bind(name, chosen.method)
    if (receiverSymbol) this.file.receivers.set(name, receiverSymbol)
    const rawReceiver = receiver?.tag === 'class' && receiver.isRaw && !chosen.method.isStatic && chosen.method.owner.typeParameters.length > 0
    const result = this.instantiate(chosen, chosen.method.signature.typeParameters, nodes, args, scope, wanted, typeArguments, rawReceiver, asReceiver)
    if (text === 'getClass' && nodes.length === 0 && chosen.method.owner === this.program.top.symbol && receiver) {
      return new ClassType(this.program.known('java/lang/Class').symbol, [erasure(this.hierarchy.upper(receiver))])
    }
    return result
  }

  private importedMethods(name: string, scope: Scope): readonly MethodSymbol[] {
    // By name before on demand; several imports of one name are overloads of each other.
    for (const onDemand of [false, true]) {
      const found: MethodSymbol[] = []
      for (const one of this.file.imports) {
        if (!one.isStatic || one.onDemand !== onDemand || !(onDemand || one.name.endsWith(`.${name}`))) continue
        const holder = this.program.names.qualified(onDemand ? one.name : one.name.slice(0, one.name.lastIndexOf('.')))
        if (!holder) continue
        const methods = this.overloads.of(holder, name).filter(method => method.isStatic && this.whole.names.visible(method, scope))
        if (methods.length > 0) { this.file.usedImports.add(one); found.push(...methods) }
      }
      if (found.length > 0) return found
    }
    return []
  }

  argumentsAlone(holder: Node, scope: Scope): void {
    if (holder === NONE) return
    for (const child of this.tree.children(holder)) this.whole.type(child, scope)
  }

  /** Arguments as far as they are known on their own. Lambdas and method references wait for the method. */
  known(nodes: readonly Node[], scope: Scope): Argument[] {
    return nodes.map(node => {
      const inner = this.unwrapped(node)
      const kind = this.tree.kind(inner)
      if (kind === Kind.LambdaExpression) return { type: null, adapts: true, function: this.whole.functions.lambdaShape(inner, scope) }
      if (kind === Kind.MethodReference) return { type: null, adapts: true, function: this.whole.functions.referenceShape(inner, scope) }
      if (kind === Kind.TernaryExpression && this.endsInFunction(inner)) {
        const branch = this.unwrapped(this.tree.child(inner, Field.Consequence))
        const shape = this.tree.kind(branch) === Kind.LambdaExpression ? this.whole.functions.lambdaShape(branch, scope) : this.whole.functions.referenceShape(branch, scope)
        return { type: null, adapts: true, function: shape }
      }
      return { type: this.whole.type(node, scope), adapts: this.adapts(inner), function: null }
    })
  }

  private endsInFunction(node: Node): boolean {
    const kind = this.tree.kind(this.unwrapped(this.tree.child(node, Field.Consequence)))
    return kind === Kind.LambdaExpression || kind === Kind.MethodReference
  }

  unwrapped(node: Node): Node {
    while (this.tree.kind(node) === Kind.ParenthesizedExpression) node = this.tree.first(node)
    return node
  }

  /** Whether an expression's type could be another if another were wanted. */
  private adapts(node: Node): boolean {
    const { tree } = this
    switch (tree.kind(node)) {
      case Kind.MethodInvocation: {
        if (tree.child(node, Field.TypeArguments) !== NONE) return false
        const method = this.file.meaning(tree.child(node, Field.Name))
        if (!(method instanceof MethodSymbol) || method.signature.typeParameters.length === 0) return false
        return new Inference(this.hierarchy, method.signature.typeParameters).mentions(method.signature.result)
      }
      case Kind.ObjectCreationExpression: return this.isDiamond(node)
      case Kind.TernaryExpression: return this.adapts(this.unwrapped(tree.child(node, Field.Consequence))) || this.adapts(this.unwrapped(tree.child(node, Field.Alternative)))
      case Kind.SwitchExpression: return true
      default: return false
    }
  }

  isDiamond(node: Node): boolean {
    const type = this.tree.child(node, Field.Type)
    if (this.tree.kind(type) !== Kind.GenericType) return false
    const args = this.tree.childOf(type, Kind.TypeArguments)
    return args !== NONE && this.tree.first(args) === NONE
  }

  /**
   * The result of a call, its type parameters inferred; goes into the arguments that had to wait. `raw`: the receiver is,
   * so that the result is erased and nothing is inferred.
   */
  instantiate(
    chosen: Candidate, variables: readonly TypeVariable[], nodes: readonly Node[], args: readonly Argument[], scope: Scope, wanted: Type | null,
    explicit: readonly Type[] = [], raw = false, asReceiver = false
  ): Type {
    const variable = chosen.method.varargs && !this.passesArray(chosen, args)
    const formals = nodes.map((_, index) => formalAt(chosen, index, variable))
    const waits = (index: number) => args[index]!.function !== null || (args[index]!.adapts && holdsUnknown(args[index]!.type!))
    if (variables.length === 0 || raw || explicit.length > 0) {
      const by: Substitution = new Map(raw ? variables.map(one => [one, erasure(one)]) : variables.map((one, index) => [one, explicit[index] ?? UNKNOWN]))
      nodes.forEach((node, index) => { if (waits(index)) this.expectArgument(node, this.whole.type(node, scope, substitute(formals[index]!, by)), substitute(formals[index]!, by), scope, args[index]!) })
      if (this.findings) args.forEach((arg, index) => { if (!waits(index)) this.expectArgument(nodes[index]!, arg.type!, substitute(formals[index]!, by), scope, arg) })
      const result = substitute(chosen.result, by)
      return raw ? erasure(result) : result
    }
    const inference = new Inference(this.hierarchy, variables)
    args.forEach((arg, index) => { if (arg.type && !waits(index)) inference.argument(arg.type, formals[index]!) })
    const useWanted = (): void => { if (wanted && wanted !== UNKNOWN && wanted !== VOID) inference.wanted(chosen.result, wanted) }
    // What is wanted counts before arguments that wait for it; where nothing waits, what the arguments say is enough.
    const waiting = nodes.map((_, index) => index).filter(waits)
    if (waiting.length > 0 || holdsUnknown(substitute(chosen.result, inference.solution()))) useWanted()
    /** What each function was looked at as. */
    const looked = new Map<number, Type>()
    for (const index of waiting) {
      const node = nodes[index]!, formal = formals[index]!
      const inner = this.unwrapped(node)
      if (this.tree.kind(inner) === Kind.MethodReference) this.whole.functions.referenceTells(inner, formal, scope, inference)
      const by = inference.solution()
      const known = substitute(formal, by)
      if (args[index]!.function) {
        looked.set(index, known)
        const given = this.whole.functions.functionResult(inner, scope, known)
        const declared = this.program.functions.of(formal)
        if (given && declared) inference.argument(given, declared.result)
        if (this.tree.kind(inner) === Kind.LambdaExpression && declared) this.whole.functions.explicitParametersTell(inner, declared.parameters, scope, inference)
      } else inference.argument(this.whole.type(node, scope, known), formal)
    }
    let by = inference.solution()
    if (waiting.length > 1) {
      // A lambda before the one that made something known is gone through again, now that it is.
      for (const index of waiting.slice(0, -1)) if (args[index]!.function) {
        const known = substitute(formals[index]!, by)
        looked.set(index, known)
        const given = this.whole.functions.functionResult(this.unwrapped(nodes[index]!), scope, known)
        const declared = this.program.functions.of(formals[index]!)
        if (given && declared) inference.argument(given, declared.result)
      }
      by = inference.solution()
    }
    if (this.findings) {
      by = this.asWanted(chosen, variables, formals, args, by, wanted)
      // What a function gives may have told what is wanted of it: then it is no other than that.
      for (const [index, known] of looked) {
        const told = substitute(formals[index]!, by)
        if (describe(told) !== describe(known)) this.whole.functions.functionResult(this.unwrapped(nodes[index]!), scope, told)
      }
      for (const variable of variables) this.expectBounds(nodes, by, variable)
      args.forEach((arg, index) => this.expectArgument(nodes[index]!, arg.type ?? UNKNOWN, substitute(formals[index]!, by), scope, arg))
    }
    if (asReceiver) for (const variable of variables) if (by.get(variable) === UNKNOWN) by.set(variable, erasure(variable))
    return substitute(chosen.result, by)
  }

  /** Type arguments that make the result what is wanted, where those that the arguments tell do not and these fit them as well. */
  private asWanted(
    chosen: Candidate, variables: readonly TypeVariable[], formals: readonly Type[], args: readonly Argument[], by: Map<TypeVariable, Type>, wanted: Type | null
  ): Map<TypeVariable, Type> {
    if (!wanted || wanted === VOID || this.whole.goes(substitute(chosen.result, by), wanted)) return by
    const inference = new Inference(this.hierarchy, variables)
    inference.wanted(chosen.result, wanted)
    args.forEach((arg, index) => { if (arg.type) inference.argument(arg.type, formals[index]!) })
    const other = inference.solution()
    const fits = this.whole.goes(substitute(chosen.result, other), wanted) && args.every((arg, index) => !arg.type || arg.adapts || this.whole.goes(arg.type, substitute(formals[index]!, other)))
    return fits ? other : by
  }

  /** A type argument has to be within the bounds of its parameter. */
  private expectBounds(nodes: readonly Node[], by: Substitution, variable: TypeVariable): void {
    const solved = by.get(variable)
    if (nodes.length === 0 || !solved || holdsUnknown(solved)) return
    const bound = variable.bounds.find(one => !this.hierarchy.isSubtype(erasure(this.hierarchy.upper(solved)), erasure(substitute(one, by))))
    if (bound) this.findings?.outside.set(nodes[0]!, { given: solved, wanted: bound })
    else this.findings?.outside.delete(nodes[0]!)
  }

  /** An argument that could be another type if another were wanted is asked again, with what is. */
  private expectArgument(node: Node, given: Type, formal: Type, scope: Scope, arg: Argument): void {
    if (!this.findings || arg.function) return
    this.whole.expect(node, arg.adapts && !this.whole.goes(given, formal) ? this.whole.type(node, scope, formal) : given, formal)
  }

  /** Whether the last argument of a call is the array itself. */
  private passesArray(chosen: Candidate, args: readonly Argument[]): boolean {
    if (args.length !== chosen.method.arity) return false
    const last = args[args.length - 1]?.type
    if (!last) return false
    const type = this.hierarchy.upper(last)
    return last === NULL || (type.tag === 'array' && this.hierarchy.isSubtype(erasure(type), erasure(chosen.parameters[chosen.parameters.length - 1]!)))
  }
}
