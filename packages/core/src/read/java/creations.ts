import { Inference, settled } from '../binding/inference.js'
import type { ClassSymbol, MethodSymbol } from '../binding/symbols.js'
import { CONSTRUCTOR } from '../binding/symbols.js'
import type { Type , ClassType } from '../binding/types.js'
import { plainType, substitute, thisType, UNKNOWN, VOID } from '../binding/types.js'
import type { Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import { declareClass } from './declare.js'
import { ExpressionPart } from './expression-part.js'
import type { Scope } from './scope.js'
import { Field, Kind } from './syntax.js'

/** Creations of objects, with what they hand to constructors; calls of other constructors; constants of enums. */
export class Creations extends ExpressionPart {
  creation(node: Node, scope: Scope, wanted: Type | null): Type {
    const { tree } = this
    const typeNode = tree.child(node, Field.Type)
    const argumentsNode = tree.child(node, Field.Arguments)
    const body = tree.childOf(node, Kind.ClassBody)
    // `outer.new Inner()`: what stands before `new` is the first child, before the type.
    const first = tree.first(node)
    let created: Type
    if (first !== typeNode && tree.end(first) < tree.start(typeNode) && /^\s*\.\s*new\b/.test(tree.text.slice(tree.end(first), tree.start(typeNode)))) {
      const outer = this.hierarchy.upper(this.whole.type(first, scope))
      const head = tree.kind(typeNode) === Kind.GenericType ? tree.first(typeNode) : typeNode
      const symbol = outer.tag === 'class' ? this.program.names.memberType(outer.symbol, tree.textOf(head)) : undefined
      this.file.bind(head, symbol, 'no member class of this name is found')
      if (tree.kind(typeNode) === Kind.GenericType) for (const child of tree.children(tree.childOf(typeNode, Kind.TypeArguments))) this.program.names.type(child, scope)
      created = symbol ? plainType(symbol) : UNKNOWN
    } else created = this.program.names.type(typeNode, scope)
    if (created.tag !== 'class') {
      this.whole.calls.argumentsAlone(argumentsNode, scope)
      if (body !== NONE) this.anonymous(node, body, scope, this.program.top)
      return created
    }
    const nodes = argumentsNode === NONE ? [] : tree.children(argumentsNode)
    const args = this.whole.calls.known(nodes, scope)
    const all = created.symbol.isInterface ? [] : created.symbol.own(CONSTRUCTOR).filter((one): one is MethodSymbol => one.kind === 'method')
    const seen = all.filter(method => this.whole.names.visible(method, scope) || body !== NONE)
    const methods = seen.length > 0 ? seen : all
    const diamond = this.whole.calls.isDiamond(node)
    const receiver = diamond ? thisType(created.symbol) : created
    const chosen = this.overloads.choose(methods, receiver, args, diamond ? created.symbol.typeParameters : [])
    this.findings?.noteChoice(node, chosen?.isAmbiguous === true)
    let result: Type = created
    if (chosen) {
      this.file.bind(node, chosen.method)
      if (diamond) {
        const variables = [...created.symbol.typeParameters, ...chosen.method.signature.typeParameters]
        result = this.whole.calls.instantiate({ ...chosen, result: thisType(created.symbol) }, variables, nodes, args, scope, wanted)
      } else {
        this.whole.calls.instantiate({ ...chosen, result: created }, chosen.method.signature.typeParameters, nodes, args, scope, null)
      }
    } else {
      if (nodes.length > 0) this.whole.calls.argumentsAlone(argumentsNode, scope)
      if (diamond && wanted?.tag === 'class') {
        const inference = new Inference(this.hierarchy, created.symbol.typeParameters)
        inference.wanted(thisType(created.symbol), wanted)
        result = substitute(thisType(created.symbol), inference.solution())
      }
      if (!created.symbol.isInterface) this.file.bind(node, undefined, `no constructor takes ${nodes.length} argument${nodes.length === 1 ? '' : 's'}`)
    }
    if (body !== NONE) {
      const parent = settled(result, this.hierarchy)
      return thisType(this.anonymous(node, body, scope, parent.tag === 'class' ? parent : plainType(created.symbol)))
    }
    if (this.findings) {
      this.findings.creations.set(node, result)
      args.forEach((arg, index) => { if (arg.type) this.findings!.argumentTypes.set(nodes[index]!, arg.type) })
    }
    return result
  }

  /** The class of a creation with a body, or of an enum's constant with one. */
  anonymous(node: Node, body: Node, scope: Scope, parent: ClassType): ClassSymbol {
    const owner = scope.owner!
    const symbol = declareClass(this.file, node, owner, scope, this.program.declarations, this.program, { name: '', id: `${owner.id}.$${this.tree.start(node)}`, body })
    if (parent.symbol.isInterface) symbol.setParents(this.program.top, [parent])
    else symbol.setParents(parent, [])
    this.whole.bodies.classBody(symbol)
    return symbol
  }

  /** A call of `this(...)` or `super(...)`. */
  explicitConstructor(node: Node, scope: Scope): void {
    const { tree } = this
    const target = tree.child(node, Field.Constructor)
    const argumentsNode = tree.child(node, Field.Arguments)
    const object = tree.child(node, Field.Object)
    if (object !== NONE) this.whole.type(object, scope)
    const owner = scope.owner
    if (!owner) { this.whole.calls.argumentsAlone(argumentsNode, scope); return }
    const type = tree.kind(target) === Kind.This ? thisType(owner) : this.whole.superOf(owner)
    if (type.tag !== 'class') { this.whole.calls.argumentsAlone(argumentsNode, scope); return }
    const nodes = tree.children(argumentsNode)
    const args = this.whole.calls.known(nodes, scope)
    const methods = type.symbol.own(CONSTRUCTOR).filter((one): one is MethodSymbol => one.kind === 'method')
    const chosen = this.overloads.choose(methods, type, args)
    if (chosen) { this.file.bind(target, chosen.method); this.whole.calls.instantiate({ ...chosen, result: VOID }, chosen.method.signature.typeParameters, nodes, args, scope, null) }
    else this.whole.calls.argumentsAlone(argumentsNode, scope)
  }

  /** The arguments of an enum's constant. */
  enumConstant(node: Node, scope: Scope, symbol: ClassSymbol): void {
    const { tree } = this
    const argumentsNode = tree.child(node, Field.Arguments)
    const nodes = argumentsNode === NONE ? [] : tree.children(argumentsNode)
    const args = this.whole.calls.known(nodes, scope)
    const methods = symbol.own(CONSTRUCTOR).filter((one): one is MethodSymbol => one.kind === 'method')
    const chosen = this.overloads.choose(methods, plainType(symbol), args)
    if (chosen) { this.file.bind(node, chosen.method); this.whole.calls.instantiate({ ...chosen, result: VOID }, [], nodes, args, scope, null) }
    else if (argumentsNode !== NONE) this.whole.calls.argumentsAlone(argumentsNode, scope)
    const body = tree.child(node, Field.Body)
    if (body !== NONE) this.anonymous(node, body, scope, plainType(symbol))
  }
}
