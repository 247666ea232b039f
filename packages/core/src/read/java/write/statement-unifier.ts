import { ClassSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'
import { describe, mentions, plainType } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { parentOf } from '../bound-program.js'
import type { JavaProgram } from '../program.js'
import type { JavaFile } from '../scope.js'
import type { Bound } from '../scope.js'
import { LocalSymbol } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { argumentNodes } from './portable.js'

/** A statement of a file. */
export interface JavaStatement { readonly file: JavaFile; readonly node: Node }

/** An expression that differs from place to place, one node for each; what stands there is handed in. */
export interface JavaHole { readonly nodes: readonly Node[]; readonly type: Type }

export interface JavaUnified {
  /** In the order in which they stand. */
  readonly holes: readonly JavaHole[]
  /** For each place the nodes that declare its variables, by a number that is the same in all places. */
  readonly locals: readonly ReadonlyMap<Node, number>[]
}

/**
 * The same statements in several places but for expressions, or undefined where they differ in more than that; see the writer of
 * TypeScript. `whole`: they are all that their method does in some case, so that they may leave it, and jump where they do so inside. `named`:
 * nodes that declare variables before them, which they have under their names, and may set.
 */
export function unifyJavaStatements(runs: readonly (readonly JavaStatement[])[], program: JavaProgram, whole = false, named: ReadonlySet<Node> = new Set()): JavaUnified | undefined {
  const [first] = runs
  if (!first || first.length === 0 || runs.some(run => run.length !== first.length)) return undefined
  const unifier = new Unifier(runs, program, whole, named)
  return first.every((_, at) => unifier.unify(runs.map(run => run[at]!.node))) ? { holes: unifier.holes, locals: unifier.locals } : undefined
}

/** What leaves the place, belongs to the object at hand, or declares a class. */
const LEAVING = new Set([Kind.ReturnStatement, Kind.BreakStatement, Kind.ContinueStatement, Kind.YieldStatement])
const NEVER = new Set([Kind.This, Kind.Super, Kind.LabeledStatement, Kind.ClassBody, Kind.ClassDeclaration, Kind.RecordDeclaration, Kind.EnumDeclaration, Kind.InterfaceDeclaration, Kind.Error])

class Unifier {
  holes: JavaHole[] = []
  readonly locals: Map<Node, number>[]
  private count = 0
  private readonly files: readonly JavaFile[]
  private readonly ranges: readonly { readonly from: Node; readonly to: Node }[]

  constructor(runs: readonly (readonly JavaStatement[])[], private readonly program: JavaProgram, private readonly whole: boolean, private readonly named: ReadonlySet<Node>) {
    this.locals = runs.map(() => new Map<Node, number>())
    this.files = runs.map(run => run[0]!.file)
    this.ranges = runs.map(run => ({ from: run[0]!.node, to: run[0]!.file.tree.after(run.at(-1)!.node) }))
  }

  unify(nodes: readonly Node[]): boolean {
    const before = this.holes.length
    if (this.alike(nodes)) return true
    this.holes.length = before
    return this.hole(nodes)
  }

  private alike(nodes: readonly Node[]): boolean {
    const { files } = this
    const kind = files[0]!.tree.kind(nodes[0]!)
    if (NEVER.has(kind) || (LEAVING.has(kind) && !this.whole) || nodes.some((node, at) => files[at]!.tree.kind(node) !== kind)) return false
    if (kind === Kind.Identifier || kind === Kind.TypeIdentifier) return this.sameName(nodes)
    // A method without an object is one of the object at hand, or static in a way that only this file knows.
    if (kind === Kind.MethodInvocation && nodes.some((node, at) => files[at]!.tree.child(node, Field.Object) === NONE)) return false
    // An object of a class within a class has the object at hand around it.
    if (kind === Kind.ObjectCreationExpression && nodes.some((node, at) => isInner(files[at]!.meaning(node)))) return false
    if (kind === Kind.ObjectCreationExpression && new Set(nodes.map((node, at) => files[at]!.meaning(node))).size > 1) return false
    if (kind === Kind.AssignmentExpression || kind === Kind.UpdateExpression) {
      if (nodes.some((node, at) => !this.isOwnVariable(kind === Kind.AssignmentExpression ? files[at]!.tree.child(node, Field.Left) : files[at]!.tree.first(node), at))) return false
    }
    const lists = nodes.map((node, at) => files[at]!.tree.children(node))
    if (lists[0]!.length === 0) return nodes.every((node, at) => files[at]!.tree.textOf(node) === files[0]!.tree.textOf(nodes[0]!))
    // What stands between the parts: keywords and operators.
    const gaps = nodes.map((node, at) => this.gaps(node, lists[at]!, at))
    return lists.every(list => list.length === lists[0]!.length) && gaps.every(gap => gap === gaps[0]) && lists[0]!.every((_, at) => this.unify(lists.map(list => list[at]!)))
  }

  private gaps(node: Node, children: readonly Node[], place: number): string {
    const { tree } = this.files[place]!
    let at = tree.start(node), text = ''
    for (const child of children) { text += `${tree.text.slice(at, tree.start(child))}\0`; at = tree.end(child) }
    return (text + tree.text.slice(at, tree.end(node))).replace(/\/\*[^]*?\*\/|\/\/[^\r\n]*/g, '').replace(/\s+/g, '')
  }

  private sameName(nodes: readonly Node[]): boolean {
    const { files } = this
    const meanings = nodes.map((node, at) => files[at]!.meaning(node))
    const [first] = meanings
    if (first instanceof LocalSymbol || meanings.some(one => one instanceof LocalSymbol)) {
      if (meanings.every(one => one instanceof LocalSymbol && this.named.has(one.node))) return true
      if (!meanings.every((one, at) => one instanceof LocalSymbol && this.isInside(one.node, at))) return false
      const numbers = (meanings as LocalSymbol[]).map((one, at) => this.locals[at]!.get(one.node))
      return numbers[0] !== undefined && numbers.every(number => number === numbers[0])
    }
    const { tree } = files[0]!, parent = parentOf(tree, nodes[0]!)
    // Where a variable is declared, its name says nothing yet.
    if (first === undefined) {
      if (!meanings.every(one => one === undefined) || !isDeclared(parent, nodes[0]!, files[0]!) || files.some(({ unbound }, at) => unbound.has(nodes[at]!))) return false
      const number = this.count++
      // A lambda's only parameter is declared by its name.
      nodes.forEach((node, at) => { this.locals[at]!.set(parentOf(files[at]!.tree, node), number).set(node, number) })
      return true
    }
    if (meanings.some(one => one !== first)) return false
    if (first instanceof ClassSymbol) return true
    // A field is had through an object or through its class.
    return first instanceof MethodSymbol || tree.kind(parent) === Kind.FieldAccess && tree.child(parent, Field.Field) === nodes[0]
  }

  private isInside(node: Node, place: number): boolean { const { from, to } = this.ranges[place]!; return node >= from && node < to }

  private isOwnVariable(node: Node, place: number): boolean {
    const meaning = this.files[place]!.meaning(node)
    return meaning instanceof LocalSymbol && (this.named.has(meaning.node) || this.isInside(meaning.node, place))
  }

  private hole(nodes: readonly Node[]): boolean {
    if (nodes.some((node, at) => !this.canBeHandedIn(node, at))) return false
    const types = nodes.map((node, at) => this.typeOf(node, at))
    const [type] = types
    if (!type || type.tag === 'special' || types.some(one => !one || describe(one) !== describe(type))) return false
    this.holes.push({ nodes, type })
    return true
  }

  private canBeHandedIn(node: Node, place: number): boolean {
    const file = this.files[place]!, { tree } = file, parent = parentOf(tree, node)
    const fits = tree.kind(parent) === Kind.ArgumentList || (tree.kind(parent) === Kind.MethodInvocation && tree.child(parent, Field.Object) === node) ||
      (tree.kind(parent) === Kind.FieldAccess && tree.child(parent, Field.Object) === node) || (tree.kind(parent) === Kind.VariableDeclarator && tree.child(parent, Field.Value) === node) || isReadAsValue(node, file, this.whole)
    if (!fits || tree.kind(node) === Kind.Super || tree.kind(node) === Kind.ArrayInitializer) return false
    for (let at = node; at < tree.after(node); at += 5) {
      const meaning = file.meaning(at)
      if (meaning instanceof LocalSymbol && this.named.has(meaning.node)) return false
      if (meaning instanceof LocalSymbol && this.isInside(meaning.node, place) && !(meaning.node >= node && meaning.node < tree.after(node))) return false
      // A class as such is nothing that can be handed in.
      if (at === node && meaning instanceof ClassSymbol) return false
    }
    return true
  }

  /** The type that is wanted in its place, or its own; undefined where it is not known or speaks of type parameters. */
  private typeOf(node: Node, place: number): Type | undefined {
    const file = this.files[place]!, { tree } = file, parent = parentOf(tree, node)
    if (tree.kind(parent) === Kind.ArgumentList) {
      const call = parentOf(tree, parent)
      const method = file.meaning(tree.kind(call) === Kind.MethodInvocation ? tree.child(call, Field.Name) : call)
      const args = argumentNodes(file, call), index = args.indexOf(node)
      if (method instanceof MethodSymbol && !(method.varargs && index >= method.arity - 1)) {
        const wanted = method.signature.parameters[index]
        if (wanted && !mentions(wanted, new Set([...method.owner.typeParameters, ...method.signature.typeParameters]))) return wanted
      }
    }
    return plainTypeOf(node, file, this.program)
  }
}

function isInner(made: Bound | undefined): boolean { return made instanceof MethodSymbol && made.owner.outer !== null && !made.owner.isStatic && !made.owner.isInterface && !(made.owner.flags & (Flags.Enum | Flags.Record)) }

function isDeclared(parent: Node, node: Node, { tree }: JavaFile): boolean {
  const kind = tree.kind(parent)
  return [Kind.VariableDeclarator, Kind.FormalParameter, Kind.EnhancedForStatement, Kind.CatchFormalParameter, Kind.Resource, Kind.TypePattern, Kind.InstanceofExpression].includes(kind) && tree.child(parent, Field.Name) === node ||
    kind === Kind.InferredParameters || (kind === Kind.LambdaExpression && tree.child(parent, Field.Parameters) === node) || kind === Kind.TypePattern
}

/** A variable, field or method of the object at hand, where its value is wanted. `whole`: and where it is given back. */
function isReadAsValue(node: Node, { tree }: JavaFile, whole: boolean): boolean {
  const parent = parentOf(tree, node), kind = tree.kind(node), holder = tree.kind(parent)
  if (kind !== Kind.Identifier && kind !== Kind.FieldAccess && kind !== Kind.MethodInvocation) return false
  if (holder === Kind.BinaryExpression || holder === Kind.TernaryExpression || holder === Kind.ParenthesizedExpression || holder === Kind.UnaryExpression) return true
  if ((holder === Kind.CastExpression || holder === Kind.EnhancedForStatement) && tree.child(parent, Field.Value) === node) return true
  if (holder === Kind.ArrayAccess || (holder === Kind.InstanceofExpression && tree.child(parent, Field.Left) === node)) return true
  if (whole && (holder === Kind.ReturnStatement || holder === Kind.YieldStatement)) return true
  if (whole && holder === Kind.ExpressionStatement) return tree.kind(parentOf(tree, parent)) === Kind.SwitchRule && kind !== Kind.MethodInvocation
  return holder === Kind.AssignmentExpression && tree.child(parent, Field.Right) === node
}

/** The type of an expression that says it itself: a variable, a field, what a method without type parameters gives, a text. */
export function plainTypeOf(node: Node, file: JavaFile, program: JavaProgram): Type | undefined {
  const { tree } = file
  const named = (at: Node): Type | undefined => {
    const meaning = file.meaning(at)
    if (meaning instanceof LocalSymbol) return meaning.type
    if (!meaning || meaning instanceof ClassSymbol) return undefined
    const type = meaning.kind === 'field' ? meaning.type : meaning.signature.result
    return mentions(type, new Set([...meaning.owner.typeParameters, ...(meaning.kind === 'method' ? meaning.signature.typeParameters : [])])) ? undefined : type
  }
  switch (tree.kind(node)) {
    case Kind.Identifier: return named(node)
    case Kind.FieldAccess: return named(tree.child(node, Field.Field))
    case Kind.MethodInvocation: return named(tree.child(node, Field.Name))
    case Kind.ParenthesizedExpression: return plainTypeOf(tree.first(node), file, program)
    case Kind.StringLiteral: { const text = program.classIn('java.lang', 'String'); return text && plainType(text) }
    case Kind.ObjectCreationExpression: { const made = file.meaning(node); return made instanceof MethodSymbol && made.owner.typeParameters.length === 0 && tree.childOf(node, Kind.ClassBody) === NONE ? plainType(made.owner) : undefined }
    default: return undefined
  }
}
