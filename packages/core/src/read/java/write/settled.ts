import type { ClassSymbol } from '../../binding/symbols.js'
import { CONSTRUCTOR, FieldSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { parentOf } from '../bound-program.js'
import { isPureInJdk } from '../outside.js'
import type { JavaProgram } from '../program.js'
import type { JavaFile } from '../scope.js'
import { LocalSymbol } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { constructorsOf } from './creation-sites.js'
import { argumentNodes } from './portable.js'
import { plainTypeOf } from './statement-unifier.js'

/** Kinds of nodes that are what they say. */
export const LITERALS: ReadonlySet<Kind> = new Set([
  Kind.DecimalIntegerLiteral, Kind.HexIntegerLiteral, Kind.OctalIntegerLiteral, Kind.BinaryIntegerLiteral, Kind.DecimalFloatingPointLiteral, Kind.HexFloatingPointLiteral,
  Kind.True, Kind.False, Kind.CharacterLiteral, Kind.StringLiteral, Kind.NullLiteral, Kind.ClassLiteral
])

/** Whether it makes no difference when, and how often, an expression is worked out. */
export function isSettled(node: Node, file: JavaFile, program: JavaProgram): boolean {
  const { tree } = file
  const settled = (at: Node) => isSettled(at, file, program)
  const kind = tree.kind(node)
  if (LITERALS.has(kind) || kind === Kind.This) return true
  switch (kind) {
    case Kind.ParenthesizedExpression: return settled(tree.first(node))
    case Kind.UnaryExpression: return settled(tree.child(node, Field.Operand))
    case Kind.BinaryExpression: return [tree.child(node, Field.Left), tree.child(node, Field.Right)].every(at => settled(at) && isPlain(at, file, program)) && !/[/%]/.test(tree.text.slice(tree.end(tree.child(node, Field.Left)), tree.start(tree.child(node, Field.Right))))
    case Kind.Identifier: {
      const meaning = file.meaning(node)
      if (meaning instanceof LocalSymbol) return isNeverSet(meaning, node, file)
      return meaning instanceof FieldSymbol && (meaning.flags & Flags.Final) !== 0
    }
    case Kind.FieldAccess: {
      const meaning = file.meaning(tree.child(node, Field.Field))
      return meaning instanceof FieldSymbol && (meaning.flags & Flags.Final) !== 0 && (meaning.isStatic || settled(tree.child(node, Field.Object)))
    }
    case Kind.MethodInvocation: {
      const method = file.meaning(tree.child(node, Field.Name)), object = tree.child(node, Field.Object)
      return method instanceof MethodSymbol && method.arity === 0 && !method.isStatic && (object === NONE || settled(object)) && givesFixedField(method, program)
    }
    default: return false
  }
}

/** Numbers, texts and the like, which nothing is run for to work with. */
function isPlain(node: Node, file: JavaFile, program: JavaProgram): boolean {
  const { tree } = file
  if (LITERALS.has(tree.kind(node))) return true
  if (tree.kind(node) === Kind.BinaryExpression) return [tree.child(node, Field.Left), tree.child(node, Field.Right)].every(at => isPlain(at, file, program))
  if (tree.kind(node) === Kind.ParenthesizedExpression) return isPlain(tree.first(node), file, program)
  const type = plainTypeOf(node, file, program)
  return type !== undefined && (type.tag === 'primitive' || (type.tag === 'class' && type.symbol.id === 'java.lang.String'))
}

/** A variable or argument that its method sets no more after it is declared: one that a lambda may use too. */
export function isNeverSet(local: LocalSymbol, node: Node, file: JavaFile): boolean {
  const { tree } = file
  let around = node
  while (parentOf(tree, around) >= 0 && ![Kind.MethodDeclaration, Kind.ConstructorDeclaration, Kind.ClassBody].includes(tree.kind(around))) around = parentOf(tree, around)
  for (let at = around; at < tree.after(around); at += 5) {
    const kind = tree.kind(at)
    if (kind !== Kind.AssignmentExpression && kind !== Kind.UpdateExpression) continue
    if (file.meaning(kind === Kind.AssignmentExpression ? tree.child(at, Field.Left) : tree.first(at)) === local) return false
  }
  return true
}

const fixed = new WeakMap<JavaProgram, Map<MethodSymbol, boolean>>()

/** Whether an expression is a variable or argument that stays as it is while statements run which do not set it themselves; no lambda can. One that may not have a value yet does not count. */
export function staysAsItIs(node: Node, file: JavaFile): boolean {
  const { tree } = file, meaning = tree.kind(node) === Kind.Identifier ? file.meaning(node) : undefined
  return meaning instanceof LocalSymbol && (meaning.role !== 'variable' || (tree.kind(meaning.node) === Kind.VariableDeclarator && tree.child(meaning.node, Field.Value) !== NONE))
}

/** Whether looking at something runs nothing: a variable, a field, or what only gives a field. */
export function isLook(node: Node, file: JavaFile, program: JavaProgram): boolean {
  const { tree } = file, kind = tree.kind(node)
  if (kind === Kind.This) return true
  if (kind === Kind.Identifier || kind === Kind.FieldAccess) {
    const meaning = file.meaning(kind === Kind.Identifier ? node : tree.child(node, Field.Field))
    return meaning instanceof LocalSymbol || (meaning instanceof FieldSymbol && (kind === Kind.Identifier || meaning.isStatic || isLook(tree.child(node, Field.Object), file, program)))
  }
  if (kind !== Kind.MethodInvocation) return false
  const method = file.meaning(tree.child(node, Field.Name)), object = tree.child(node, Field.Object)
  return method instanceof MethodSymbol && method.arity === 0 && !method.isStatic && (object === NONE || isLook(object, file, program)) && givesField(method, program, false)
}

/** Whether a method, and every one that overrides it, does nothing but give a field that is never set again. */
function givesFixedField(method: MethodSymbol, program: JavaProgram): boolean {
  let known = fixed.get(program)
  if (!known) fixed.set(program, known = new Map())
  const before = known.get(method)
  if (before !== undefined) return before
  const found = givesField(method, program, true)
  known.set(method, found)
  return found
}

/** `isFixed`: one that is never set again. */
function givesField(method: MethodSymbol, program: JavaProgram, isFixed: boolean): boolean {
  const overriding = [...program.declarations.keys()].filter(one => one !== method.owner && program.hierarchy.ancestorsOf(one).has(method.owner))
    .flatMap(one => one.own(method.name).filter((other): other is MethodSymbol => other.kind === 'method' && other.arity === 0))
  const all = method.isAbstract ? overriding : [method, ...overriding]
  return method.owner.source && all.length > 0 && all.every(one => one.isAbstract || isGetter(one, program, isFixed))
}

function isGetter(method: MethodSymbol, program: JavaProgram, isFixed: boolean): boolean {
  const declared = program.declarations.get(method.owner)
  // A record's own accessor is written nowhere.
  if (!declared) return false
  const { file } = declared, { tree } = file
  if (method.node < 0 || tree.kind(parentOf(tree, method.node)) !== Kind.MethodDeclaration) return (method.owner.flags & Flags.Record) !== 0
  const body = tree.child(parentOf(tree, method.node), Field.Body)
  const [only, another] = body === NONE ? [] : tree.children(body)
  const value = only !== undefined && another === undefined && tree.kind(only) === Kind.ReturnStatement ? tree.first(only) : NONE
  if (value === NONE) return false
  if (LITERALS.has(tree.kind(value))) return true
  // Its file may not be bound: a field of the class itself is found by name.
  const name = tree.kind(value) === Kind.Identifier ? tree.textOf(value) : tree.kind(value) === Kind.FieldAccess && tree.kind(tree.child(value, Field.Object)) === Kind.This ? tree.textOf(tree.child(value, Field.Field)) : ''
  return method.owner.own(name).some(one => one.kind === 'field' && (!isFixed || (one.flags & Flags.Final) !== 0))
}

/** Whether building an object runs nothing but the filling of its own fields with what it is handed and with plain values. */
export function isQuietCreation(node: Node, file: JavaFile, program: JavaProgram): boolean {
  const made = file.meaning(node)
  if (!(made instanceof MethodSymbol) || file.tree.childOf(node, Kind.ClassBody) !== NONE) return false
  return isQuietClass(made.owner, program)
}

function isQuietClass(symbol: ClassSymbol, program: JavaProgram): boolean {
  if (!symbol.source) return isPureInJdk(symbol.packageName, symbol.name)
  const declared = program.declarations.get(symbol), above = symbol.superclass?.symbol
  if (!declared || (above && above.id !== 'java.lang.Object' && above.id !== 'java.lang.Record')) return false
  const { file: { tree }, node, body } = declared
  const isValue = (at: Node): boolean => LITERALS.has(tree.kind(at)) || tree.kind(at) === Kind.Identifier || (tree.kind(at) === Kind.UnaryExpression && isValue(tree.child(at, Field.Operand))) ||
    (tree.kind(at) === Kind.ObjectCreationExpression && tree.childOf(at, Kind.ClassBody) === NONE && argumentNodes(declared.file, at).length === 0 && /^(Array|Linked)List$|^(Linked)?Hash(Map|Set)$|^Tree(Map|Set)$|^ArrayDeque$/.test(tree.textOf(tree.child(at, Field.Type)).replace(/<.*/s, '')))
  const quietFields = tree.children(body).every(member => {
    if (tree.kind(member) === Kind.Block || tree.kind(member) === Kind.CompactConstructorDeclaration) return false
    if (tree.kind(member) !== Kind.FieldDeclaration) return true
    const modifiers = tree.childOf(member, Kind.Modifiers)
    if (modifiers !== NONE && /\bstatic\b/.test(tree.textOf(modifiers))) return true
    return tree.children(member).every(one => tree.kind(one) !== Kind.VariableDeclarator || tree.child(one, Field.Value) === NONE || isValue(tree.child(one, Field.Value)))
  })
  return quietFields && symbol.own(CONSTRUCTOR).length > 0 && constructorsOf(symbol, declared.file, node).every(one => tree.children(tree.child(one, Field.Body)).every(statement => {
    const set = tree.kind(statement) === Kind.ExpressionStatement ? tree.first(statement) : NONE
    return set !== NONE && tree.kind(set) === Kind.AssignmentExpression && tree.kind(tree.child(set, Field.Left)) === Kind.FieldAccess && isValue(tree.child(set, Field.Right))
  }))
}
