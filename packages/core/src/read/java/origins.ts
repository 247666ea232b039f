import type { Origin } from '../../model/facts.js'
import type { FieldSymbol } from '../binding/symbols.js'
import { ClassSymbol, Flags } from '../binding/symbols.js'
import type { Type } from '../binding/types.js'
import type { FlatTree, Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import type { JavaFile } from './scope.js'
import { isPureInJdk } from './outside.js'
import { Field, Kind } from './syntax.js'

const FURTHEST = 6
const OWN: readonly Origin[] = [{ how: 'own' }]
const STATIC: readonly Origin[] = [{ how: 'static' }]
const UNKNOWN: readonly Origin[] = [{ how: 'unknown' }]

/** Interfaces and abstract classes are abstractions: a double can stand in for them. */
export function isAbstraction(symbol: ClassSymbol | undefined): boolean {
  return symbol !== undefined && (symbol.flags & (Flags.Interface | Flags.Abstract)) !== 0
}

export function classOf(type: Type): ClassSymbol | undefined {
  switch (type.tag) {
    case 'class': return type.symbol
    case 'variable': return type.bounds[0] && classOf(type.bounds[0])
    case 'wildcard': return type.bound ? classOf(type.bound) : undefined
    case 'intersection': return classOf(type.parts[0]!)
    case 'array': return classOf(type.element)
    default: return undefined
  }
}

/** Where the values of expressions in a file come from, seen from the type that they stand in. */
export class JavaOrigins {
  private readonly tree: FlatTree
  /** For parameters of lambdas: where what calls them comes from. */
  private readonly lambdaParameters = new Map<Node, readonly Origin[]>()

  constructor(private readonly file: JavaFile, private readonly nameOf: (symbol: ClassSymbol) => string) { this.tree = file.tree }

  /** The parameters of lambdas among a call's arguments get whatever the called object passes them. */
  noteLambdas(invocation: Node, owner: ClassSymbol): void {
    const { tree } = this
    const holder = tree.child(invocation, Field.Arguments), object = tree.child(invocation, Field.Object)
    if (holder === NONE) return
    for (const argument of tree.children(holder)) {
      if (tree.kind(argument) !== Kind.LambdaExpression) continue
      const parameters = tree.child(argument, Field.Parameters)
      const origins = object === NONE ? OWN : this.of(object, owner)
      for (const parameter of tree.kind(parameters) === Kind.Identifier ? [parameters] : tree.children(parameters)) this.lambdaParameters.set(parameter, origins)
    }
  }

  of(node: Node, owner: ClassSymbol, depth = 0): readonly Origin[] {
    if (node === NONE || depth > FURTHEST) return UNKNOWN
    const { tree } = this
    const follow = (inner: Node) => this.of(inner, owner, depth + 1)
    switch (tree.kind(node)) {
      case Kind.ParenthesizedExpression: return follow(tree.first(node))
      case Kind.CastExpression: return follow(tree.child(node, Field.Value))
      case Kind.ArrayAccess: return follow(tree.child(node, Field.Array))
      case Kind.AssignmentExpression: return follow(tree.child(node, Field.Right))
      case Kind.TernaryExpression: return unite(follow(tree.child(node, Field.Consequence)), follow(tree.child(node, Field.Alternative)))
      case Kind.ObjectCreationExpression: return this.ofCreation(node, owner, depth)
      case Kind.ArrayCreationExpression: { const values = tree.child(node, Field.Value); return values === NONE ? OWN : follow(values) }
      case Kind.ArrayInitializer: return this.ofAll(tree.children(node), owner, depth)
      case Kind.This: return OWN
      case Kind.Super: return [{ how: 'inherited' }]
      case Kind.Identifier: return this.ofName(node, owner, depth)
      case Kind.FieldAccess: {
        const object = tree.child(node, Field.Object)
        if (tree.kind(object) === Kind.This) return this.ofName(tree.child(node, Field.Field), owner, depth)
        return this.gotFrom(tree.child(node, Field.Field), object, owner, depth)
      }
      case Kind.MethodInvocation: {
        const member = this.file.meaning(tree.child(node, Field.Name))
        if (member && !(member instanceof ClassSymbol) && member.kind === 'method' && member.isStatic && isPlainData(member.owner, `${member.owner.name}.${member.name}`)) return this.ofArguments(node, owner, depth)
        return this.gotFrom(tree.child(node, Field.Name), tree.child(node, Field.Object), owner, depth)
      }
      default: return OWN
    }
  }

  /** What is taken out of plain data, such as a list, is what was put there: all that shows of it is what it was made of. */
  private ofCreation(node: Node, owner: ClassSymbol, depth: number): readonly Origin[] {
    const made = this.file.meaning(node)
    const isData = made && !(made instanceof ClassSymbol) && made.kind === 'method' && this.tree.childOf(node, Kind.ClassBody) === NONE && isPlainData(made.owner, made.owner.name)
    return isData ? this.ofArguments(node, owner, depth) : [{ how: 'created' }]
  }

  private ofArguments(node: Node, owner: ClassSymbol, depth: number): readonly Origin[] {
    const holder = this.tree.child(node, Field.Arguments)
    return holder === NONE ? OWN : this.ofAll(this.tree.children(holder), owner, depth)
  }

  private ofAll(nodes: readonly Node[], owner: ClassSymbol, depth: number): readonly Origin[] {
    return nodes.length === 0 ? OWN : nodes.map(node => this.of(node, owner, depth + 1)).reduce(unite)
  }

  private ofName(node: Node, owner: ClassSymbol, depth: number): readonly Origin[] {
    const meaning = this.file.meaning(node)
    if (!meaning || meaning instanceof ClassSymbol || meaning.kind === 'method') return meaning ? STATIC : UNKNOWN
    if (meaning.kind === 'field') {
      if (meaning.isStatic) return meaning.owner === owner && this.isBareConstant(meaning, owner, depth) ? OWN : STATIC
      if (meaning.owner === owner) return [{ how: 'field', field: meaning.name }]
      return owner.isInside(meaning.owner) ? [{ how: 'got-from', from: this.nameOf(meaning.owner), abstraction: isAbstraction(classOf(meaning.type)), receiver: OWN }] : [{ how: 'inherited' }]
    }
    const { tree } = this
    switch (meaning.role) {
      case 'parameter': return [{ how: 'handed-in', abstraction: isAbstraction(classOf(meaning.type)) }]
      case 'lambda-parameter': return this.lambdaParameters.get(meaning.node) ?? UNKNOWN
      case 'variable': { const value = tree.child(meaning.node, Field.Value); return value === NONE ? UNKNOWN : this.of(value, owner, depth + 1) }
      case 'element': return this.of(tree.child(meaning.node, Field.Value), owner, depth + 1)
      case 'pattern': { const left = tree.child(meaning.node, Field.Left); return left === NONE ? UNKNOWN : this.of(left, owner, depth + 1) }
      default: return UNKNOWN
    }
  }

  /** A constant of the class itself that holds nothing made elsewhere, such as an array without elements. */
  private isBareConstant(field: FieldSymbol, owner: ClassSymbol, depth: number): boolean {
    if ((field.flags & Flags.Final) === 0 || field.node < 0 || (field.flags & Flags.Enum) !== 0) return false
    const value = this.tree.child(this.tree.parentOfFirst(field.node), Field.Value)
    return value !== NONE && this.of(value, owner, depth + 1).every(origin => origin.how === 'own')
  }

  private gotFrom(name: Node, object: Node, owner: ClassSymbol, depth: number): readonly Origin[] {
    const member = this.file.meaning(name)
    if (!member || member instanceof ClassSymbol || member.kind === 'local') return UNKNOWN
    const receiver: readonly Origin[] = member.isStatic ? STATIC : object === NONE ? OWN : this.of(object, owner, depth + 1)
    // What plain data or a list hands on is what was put there, not something the list made.
    if (isPlainData(member.owner, `${member.owner.name}.${member.name}`)) return receiver
    const type = member.kind === 'field' ? member.type : member.signature.result
    return [{ how: 'got-from', from: this.nameOf(member.owner), abstraction: isAbstraction(classOf(type)), receiver }]
  }
}

/** Whether a member of the library, or a class where its name alone is told, only keeps and gives what it was handed. */
function isPlainData(owner: ClassSymbol, told: string): boolean { return !owner.source && isPureInJdk(owner.packageName, told) }

export function unite(a: readonly Origin[], b: readonly Origin[]): readonly Origin[] {
  const seen = new Set(a.map(origin => JSON.stringify(origin)))
  return [...a, ...b.filter(origin => !seen.has(JSON.stringify(origin)))]
}
