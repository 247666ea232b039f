import { Inference } from '../binding/inference.js'
import type { Argument, Candidate, FunctionShape } from '../binding/overloads.js'
import { formalAt } from '../binding/overloads.js'
import type { ClassSymbol, MethodSymbol } from '../binding/symbols.js'
import { CONSTRUCTOR } from '../binding/symbols.js'
import type { Type } from '../binding/types.js'
import { erasure, plainType, substitute, thisType, UNKNOWN, VOID } from '../binding/types.js'
import type { Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import type { Qualifier } from './expression-part.js'
import { ExpressionPart } from './expression-part.js'
import type { Scope } from './scope.js'
import { LocalSymbol } from './scope.js'
import { Field, Kind } from './syntax.js'

/** Expressions whose type is the same whatever is wanted. */
const FIXED: ReadonlySet<number> = new Set([Kind.StringLiteral, Kind.CastExpression, Kind.BinaryExpression, Kind.UnaryExpression, Kind.ObjectCreationExpression])

/** Lambdas and method references: what they take and give, and what they tell about the call that they are handed to. */
export class FunctionExpressions extends ExpressionPart {
  lambdaShape(node: Node, scope: Scope): FunctionShape {
    const { tree } = this
    const parameters = tree.child(node, Field.Parameters), body = tree.child(node, Field.Body)
    const names = this.lambdaParameters(parameters)
    const explicit = names.length === 0 || tree.kind(parameters) === Kind.FormalParameters
    let gives: FunctionShape['gives'] = 'value'
    if (tree.kind(body) === Kind.Block) gives = this.returnsValue(body) ? 'value' : this.completes(body) ? 'nothing' : 'either'
    else if ([Kind.MethodInvocation, Kind.AssignmentExpression, Kind.UpdateExpression, Kind.ObjectCreationExpression].includes(tree.kind(body))) gives = 'either'
    let known: Type | null | undefined
    const result = (): Type | null => {
      if (known === undefined) known = explicit ? this.lambdaBody(node, scope, [], null) : null
      return known
    }
    const settled = (): Type | null => {
      const type = result()
      if (tree.kind(body) === Kind.Block) return type?.tag === 'primitive' ? type : null
      // What a call of a generic method gives, and what several branches do, depends on what is wanted.
      return type === VOID || type?.tag === 'primitive' || FIXED.has(tree.kind(body)) ? type : null
    }
    return { kind: 'lambda', accepts: count => count === names.length, gives, result, settled }
  }

  private lambdaParameters(parameters: Node): Node[] {
    const { tree } = this
    if (parameters === NONE) return []
    if (tree.kind(parameters) === Kind.Identifier) return [parameters]
    return tree.children(parameters).filter(child => [Kind.Identifier, Kind.FormalParameter, Kind.SpreadParameter, Kind.UnderscorePattern].includes(tree.kind(child)))
  }

  /** Whether a block returns a value; nested lambdas and classes have returns of their own. */
  private returnsValue(node: Node): boolean {
    const { tree } = this
    for (let at = tree.first(node); at !== NONE; at = tree.next(at, node)) {
      const kind = tree.kind(at)
      if (kind === Kind.LambdaExpression || kind === Kind.ClassBody) continue
      if (kind === Kind.ReturnStatement ? tree.first(at) !== NONE : this.returnsValue(at)) return true
    }
    return false
  }

  /** Whether the end of a block may be reached, as far as its last statement tells. */
  private completes(block: Node): boolean {
    const { tree } = this
    const last = tree.children(block).at(-1)
    if (last === undefined) return true
    if (tree.kind(last) === Kind.ThrowStatement) return false
    if (tree.kind(last) === Kind.WhileStatement) return tree.textOf(tree.child(last, Field.Condition)) !== '(true)'
    return true
  }

  /** Goes through a lambda as what is wanted. */
  lambda(node: Node, scope: Scope, wanted: Type | null): Type {
    const declared = wanted ? this.program.functions.of(wanted) : undefined
    return this.lambdaBody(node, scope, declared?.parameters ?? [], declared?.result ?? null)
  }

  private lambdaBody(node: Node, scope: Scope, types: readonly Type[], wanted: Type | null): Type {
    const { tree } = this
    const inside = scope.inner()
    this.lambdaParameters(tree.child(node, Field.Parameters)).forEach((parameter, index) => {
      const kind = tree.kind(parameter)
      const given = this.hierarchy.whole(types[index] ?? UNKNOWN)
      if (kind === Kind.Identifier) { inside.declare(new LocalSymbol(tree.textOf(parameter), given, parameter, 'lambda-parameter')); return }
      if (kind === Kind.UnderscorePattern) return
      const isVar = tree.textOf(tree.child(parameter, Field.Type) === NONE ? parameter : tree.child(parameter, Field.Type)) === 'var'
      const name = kind === Kind.SpreadParameter ? tree.child(tree.childOf(parameter, Kind.VariableDeclarator), Field.Name) : tree.child(parameter, Field.Name)
      inside.declare(new LocalSymbol(tree.textOf(name), isVar ? given : this.program.parameterType(parameter, inside), parameter, 'lambda-parameter'))
    })
    const body = tree.child(node, Field.Body)
    const useful = wanted && wanted !== VOID && wanted !== UNKNOWN ? wanted : null
    if (tree.kind(body) !== Kind.Block) {
      const type = this.whole.type(body, inside, useful)
      this.whole.expect(body, type, useful)
      return type
    }
    const returned = this.whole.bodies.lambdaBlock(body, inside, useful)
    return returned.length === 0 ? VOID : this.whole.operators.joined(returned, null)
  }

  explicitParametersTell(node: Node, declared: readonly Type[], scope: Scope, inference: Inference): void {
    const { tree } = this
    if (tree.kind(tree.child(node, Field.Parameters)) !== Kind.FormalParameters) return
    this.lambdaParameters(tree.child(node, Field.Parameters)).forEach((parameter, index) => {
      if (tree.kind(parameter) !== Kind.FormalParameter || tree.textOf(tree.child(parameter, Field.Type)) === 'var') return
      inference.argument(this.program.parameterType(parameter, scope), declared[index] ?? UNKNOWN)
    })
  }

  /** What a lambda or method reference gives as a function of a type. */
  functionResult(node: Node, scope: Scope, wanted: Type): Type | undefined {
    switch (this.tree.kind(node)) {
      case Kind.LambdaExpression: return this.lambda(node, scope, wanted)
      case Kind.MethodReference: return this.methodReference(node, scope, wanted)
      case Kind.TernaryExpression: {
        this.whole.type(this.tree.child(node, Field.Condition), scope)
        this.functionResult(this.whole.calls.unwrapped(this.tree.child(node, Field.Alternative)), scope, wanted)
        return this.functionResult(this.whole.calls.unwrapped(this.tree.child(node, Field.Consequence)), scope, wanted)
      }
      default: return undefined
    }
  }

  private referenceParts(node: Node): { before: Node; name: Node } {
    const { tree } = this
    const children = tree.children(node)
    const last = children[children.length - 1]!
    const between = tree.text.slice(tree.start(node), tree.end(node))
    const isNew = /::\s*(<[^]*>)?\s*new$/.test(between)
    return { before: children[0]!, name: isNew ? NONE : last }
  }

  private referenceQualifier(node: Node, scope: Scope): Qualifier {
    const { tree } = this
    switch (tree.kind(node)) {
      case Kind.ArrayType: case Kind.GenericType: case Kind.ScopedTypeIdentifier: case Kind.TypeIdentifier: case Kind.AnnotatedType: case Kind.IntegralType: case Kind.FloatingPointType: case Kind.BooleanType: {
        const type = this.program.names.type(node, scope)
        return type.tag === 'class' ? { symbol: type.symbol } : { value: type }
      }
      default: return this.whole.names.qualifier(node, scope)
    }
  }

  referenceShape(node: Node, scope: Scope): FunctionShape {
    const methods = this.referenceMethods(node, scope), { before, name } = this.referenceParts(node)
    const isOfType = name !== NONE && 'symbol' in this.referenceQualifier(before, scope)
    const only = methods.length === 1 ? methods[0]! : undefined
    const result = () => (only ? only.name === CONSTRUCTOR ? plainType(only.owner) : only.signature.result : null)
    const accepts = (count: number) => methods.length === 0 || methods.some(({ arity, varargs, isStatic }) => {
      const given = isOfType && !isStatic ? count - 1 : count
      return varargs ? given >= arity - 1 : given === arity
    })
    // Only what has no type parameters of its own or of its class gives the same to everyone.
    const isPlain = only && !only.varargs && only.signature.typeParameters.length === 0 && only.owner.typeParameters.length === 0
    return { kind: 'method-reference', accepts, gives: only && only.name !== CONSTRUCTOR && only.signature.result === VOID ? 'nothing' : 'either', result, settled: () => isPlain ? result() : null }
  }

  private referenceMethods(node: Node, scope: Scope): readonly MethodSymbol[] {
    const { before, name } = this.referenceParts(node)
    const found = this.referenceQualifier(before, scope)
    const type = 'symbol' in found ? plainType(found.symbol) : 'value' in found ? this.hierarchy.upper(found.value) : UNKNOWN
    if (name === NONE) return type.tag === 'class' ? type.symbol.own(CONSTRUCTOR).filter((one): one is MethodSymbol => one.kind === 'method') : []
    const symbol = type.tag === 'class' ? type.symbol : type.tag === 'array' ? this.program.top.symbol : undefined
    return symbol ? this.overloads.of(symbol, this.tree.textOf(name)).filter(method => this.whole.names.visible(method, scope)) : []
  }

  /** A reference to the only method of its name tells what the function takes, before anything else does. */
  referenceTells(node: Node, formal: Type, scope: Scope, inference: Inference): void {
    const declared = this.program.functions.of(formal)
    const methods = this.referenceMethods(node, scope)
    if (!declared || methods.length !== 1) return
    const method = methods[0]!
    const { before } = this.referenceParts(node)
    const found = this.referenceQualifier(before, scope)
    const unbound = 'symbol' in found && !method.isStatic && method.name !== CONSTRUCTOR
    const given = unbound ? [plainType(found.symbol), ...method.signature.parameters] : method.signature.parameters
    if (given.length !== declared.parameters.length) return
    declared.parameters.forEach((parameter, index) => {
      if (parameter.tag === 'variable' && inference.isFree(parameter)) inference.wanted(parameter, given[index]!)
    })
  }

  methodReference(node: Node, scope: Scope, wanted: Type | null): Type | undefined {
    const { before, name } = this.referenceParts(node)
    const declared = wanted ? this.program.functions.of(wanted) : undefined
    const found = this.referenceQualifier(before, scope)
    const type = 'symbol' in found ? plainType(found.symbol) : 'value' in found ? this.hierarchy.upper(found.value) : UNKNOWN
    const parameters = declared?.parameters ?? []
    const asArguments = (types: readonly Type[]): Argument[] => types.map(one => ({ type: one, adapts: false, function: null }))
    if (name === NONE) {
      if (type.tag !== 'class') return type
      const methods = type.symbol.own(CONSTRUCTOR).filter((one): one is MethodSymbol => one.kind === 'method')
      const open = this.tree.kind(before) === Kind.GenericType ? [] : type.symbol.typeParameters
      const chosen = this.overloads.choose(methods, open.length > 0 ? thisType(type.symbol) : type, asArguments(parameters), open) ?? (methods[0] && this.overloads.seen(methods[0], type))
      this.file.bind(node, chosen?.method)
      if (type.symbol.typeParameters.length === 0) {
        if (this.findings && declared && chosen) this.expectReference(node, before, null, { ...chosen, result: type }, parameters, declared.result)
        return type
      }
      const written = this.tree.kind(before) === Kind.GenericType ? this.program.names.type(before, scope) : type
      if (written.tag === 'class' && written.args.length > 0) return written
      const inference = new Inference(this.hierarchy, type.symbol.typeParameters)
      if (chosen) parameters.forEach((parameter, index) => inference.argument(parameter, chosen.method.signature.parameters[index] ?? UNKNOWN))
      if (declared && declared.result !== VOID) inference.wanted(thisType(type.symbol), declared.result)
      return substitute(thisType(type.symbol), inference.solution())
    }
    if (type === UNKNOWN) { this.file.bind(name, undefined, 'the type of what it is taken from is not known'); return UNKNOWN }
    const text = this.tree.textOf(name)
    const symbol = type.tag === 'class' ? type.symbol : this.program.top.symbol
    if (type.tag === 'array' && text === 'clone') return type
    const all = this.overloads.of(symbol, text)
    const seen = all.filter(method => this.whole.names.visible(method, scope))
    const methods = seen.length > 0 ? seen : all
    let chosen: Candidate | undefined
    if ('symbol' in found) {
      const receiver = parameters[0] && this.hierarchy.asSuper(parameters[0], symbol) ? parameters[0] : type
      const statics = methods.filter(method => method.isStatic), others = methods.filter(method => !method.isStatic)
      const direct = declared ? this.fitting(statics, null, asArguments(parameters)) : undefined
      const unbound = declared && parameters.length > 0 ? this.fitting(others, receiver, asArguments(parameters.slice(1))) : undefined
      chosen = direct ?? unbound ?? (methods[0] && this.overloads.seen(methods[0], receiver))
    } else {
      const receiver = found as { value: Type }
      chosen = this.overloads.choose(methods, receiver.value, asArguments(parameters)) ?? (methods[0] && this.overloads.seen(methods[0], receiver.value))
    }
    if (!chosen) { this.file.bind(name, undefined, 'no method of this name is found'); return UNKNOWN }
    this.file.bind(name, chosen.method)
    this.file.receivers.set(name, symbol)
    if (this.findings && declared) this.expectReference(node, before, 'symbol' in found && !chosen.method.isStatic ? symbol : null, chosen, parameters, declared.result)
    const { typeParameters } = chosen.method.signature
    if (typeParameters.length === 0) return chosen.result
    const inference = new Inference(this.hierarchy, typeParameters)
    const given = 'symbol' in found && !chosen.method.isStatic ? parameters.slice(1) : parameters
    given.forEach((parameter, index) => inference.argument(parameter, formalAt(chosen, index, chosen.method.varargs && given.length !== chosen.method.arity)))
    if (declared && declared.result !== VOID) inference.wanted(chosen.result, declared.result)
    return substitute(chosen.result, inference.solution())
  }

  /** What a function is handed goes to the method that it stands for, and what that gives is what is wanted. */
  private expectReference(node: Node, before: Node, receiver: ClassSymbol | null, chosen: Candidate, parameters: readonly Type[], result: Type): void {
    if (receiver && parameters[0]) this.whole.expect(before, erasure(this.hierarchy.upper(parameters[0])), plainType(receiver))
    const handed = receiver ? parameters.slice(1) : parameters
    const { arity, varargs } = chosen.method, bare = (type: Type) => erasure(this.hierarchy.upper(type))
    // Several values for the last parameter, or an array of them. Of several methods of a name the nearest may not be the one that is meant; a class has its constructors alone.
    const takes = (variable: boolean) => (variable ? varargs && handed.length >= arity - 1 : handed.length === arity || chosen.method.name !== CONSTRUCTOR) && handed.every((type, index) => this.whole.goes(bare(type), bare(formalAt(chosen, index, variable))))
    const fits = (takes(false) || takes(true)) && (result === VOID || result.tag === 'variable' || this.whole.goes(bare(chosen.result), bare(result)))
    this.findings?.note(node, fits ? null : { given: chosen.result, wanted: result })
  }

  /** The method that takes the arguments, or none: unlike `choose` on the overloads, nothing is taken for nearest. */
  private fitting(methods: readonly MethodSymbol[], receiver: Type | null, args: readonly Argument[]): Candidate | undefined {
    const fitting = methods.filter(method => method.arity === args.length || (method.varargs && args.length >= method.arity - 1))
    return fitting.length > 0 ? this.overloads.choose(fitting, receiver, args) : undefined
  }
}
