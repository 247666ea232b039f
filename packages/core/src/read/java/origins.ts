import type { Origin } from '../../model/facts.js'
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
      case Kind.ObjectCreationExpression: return [{ how: 'created' }]
      case Kind.This: return OWN
      case Kind.Super: return [{ how: 'inherited' }]
      case Kind.Identifier: return this.ofName(node, owner, depth)
      case Kind.FieldAccess: {
        const object = tree.child(node, Field.Object)
        if (tree.kind(object) === Kind.This) return this.ofName(tree.child(node, Field.Field), owner, depth)
        return this.gotFrom(tree.child(node, Field.Field), object, owner, depth)
      }
      case Kind.MethodInvocation: return this.gotFrom(tree.child(node, Field.Name), tree.child(node, Field.Object), owner, depth)
      default: return OWN
    }
  }

  private ofName(node: Node, owner: ClassSymbol, depth: number): readonly Origin[] {
    const meaning = this.file.meaning(node)
    if (!meaning || meaning instanceof ClassSymbol || meaning.kind === 'method') return meaning ? STATIC : UNKNOWN
    if (meaning.kind === 'field') {
      if (meaning.isStatic) return STATIC
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

  private gotFrom(name: Node, object: Node, owner: ClassSymbol, depth: number): readonly Origin[] {
    const member = this.file.meaning(name)
    if (!member || member instanceof ClassSymbol || member.kind === 'local') return UNKNOWN
    const receiver: readonly Origin[] = member.isStatic ? STATIC : object === NONE ? OWN : this.of(object, owner, depth + 1)
    // What plain data or a list hands on is what was put there, not something the list made.
    if (!member.owner.source && isPureInJdk(member.owner.packageName, `${member.owner.name}.${member.name}`)) return receiver
    const type = member.kind === 'field' ? member.type : member.signature.result
    return [{ how: 'got-from', from: this.nameOf(member.owner), abstraction: isAbstraction(classOf(type)), receiver }]
  }
}

export function unite(a: readonly Origin[], b: readonly Origin[]): readonly Origin[] {
  const seen = new Set(a.map(origin => JSON.stringify(origin)))
  return [...a, ...b.filter(origin => !seen.has(JSON.stringify(origin)))]
}
