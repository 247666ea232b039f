import { ClassSymbol, MethodSymbol } from '../../binding/symbols.js'
import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import type { Blame, Narrowable } from '../../write/narrow-wherever-allowed.js'
import type { Bound, JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { isAnnotation } from '../type-names.js'
import type { BoundProgram } from '../bound-program.js'
import { around, parentOf } from '../bound-program.js'
import type { Flaw } from './flaws.js'

/** A place in the code as it is where a class stands as a type. */
export interface NarrowingPlace extends Narrowable {
  /** The name, or the whole dotted name, that would be replaced. */
  readonly node: Node
}

/** Every place in some files where a class's name is used as the type of something: not where it is made, inherited from, cast to or asked for. */
export function narrowingPlaces(symbol: ClassSymbol, bound: BoundProgram, paths: Iterable<string>): NarrowingPlace[] {
  const found: NarrowingPlace[] = []
  const asked = askedForByName(symbol, bound)
  for (const path of paths) {
    const file = bound.file(path)
    if (!file?.java.tree.text.includes(symbol.name)) continue
    const { tree } = file.java
    const own = bound.classById(symbol.id) ?? symbol
    for (let at = 0; at < tree.size * 5; at += 5) {
      const kind = tree.kind(at)
      if (kind !== Kind.TypeIdentifier && kind !== Kind.Identifier) continue
      if (file.java.meaning(at) !== own) continue
      const parent = parentOf(tree, at)
      const inScoped = tree.kind(parent) === Kind.ScopedTypeIdentifier
      if (inScoped && tree.children(parent).at(-1) !== at) continue
      const node = inScoped ? parent : at
      if (kind === Kind.Identifier ? !isReferenceQualifier(tree, at, file.java) : !declaresSomething(tree, node) || !isFreeArgument(tree, node, file.java)) continue
      if (asked.size > 0 && isParameterOf(asked, tree, node)) continue
      found.push({ path, key: `${path}:${tree.start(node)}`, node })
    }
  }
  return found
}

const LOOKS_UP = new Map([['getMethod', false], ['getDeclaredMethod', false], ['getConstructor', true], ['getDeclaredConstructor', true]])
const CONSTRUCTORS = '<init>', ANY = '*'

/** Methods that the project asks for at run time by the classes of their parameters, this one among them: those keep what they declare. */
function askedForByName(symbol: ClassSymbol, bound: BoundProgram): ReadonlySet<string> {
  const names = new Set<string>()
  for (const path of bound.paths) {
    const file = bound.file(path)?.java
    if (!file?.tree.text.includes(`${symbol.name}.class`)) continue
    const { tree } = file
    for (let at = 0; at < tree.size * 5; at += 5) {
      if (tree.kind(at) !== Kind.ClassLiteral || tree.textOf(at).split('.').at(-2) !== symbol.name) continue
      const list = parentOf(tree, at), call = tree.kind(list) === Kind.ArgumentList ? parentOf(tree, list) : NONE
      const ofConstructors = call !== NONE && tree.kind(call) === Kind.MethodInvocation ? LOOKS_UP.get(tree.textOf(tree.child(call, Field.Name))) : undefined
      if (ofConstructors === undefined) continue
      const [first] = tree.children(list)
      names.add(ofConstructors ? CONSTRUCTORS : first !== undefined && tree.kind(first) === Kind.StringLiteral ? tree.textOf(first).slice(1, -1) : ANY)
    }
  }
  return names
}

function isParameterOf(methods: ReadonlySet<string>, tree: FlatTree, node: Node): boolean {
  for (let at = node; at >= 0; at = parentOf(tree, at)) {
    if (tree.kind(at) === Kind.Block) return false
    if (tree.kind(at) === Kind.FormalParameters) {
      const holder = parentOf(tree, at)
      if (tree.kind(holder) === Kind.ConstructorDeclaration) return methods.has(CONSTRUCTORS)
      return tree.kind(holder) === Kind.MethodDeclaration && (methods.has(ANY) || methods.has(tree.textOf(tree.child(holder, Field.Name))))
    }
  }
  return false
}

/** `Ledger::total`, where the method needs an object. */
function isReferenceQualifier(tree: FlatTree, node: Node, file: JavaFile): boolean {
  const parent = parentOf(tree, node)
  if (tree.kind(parent) !== Kind.MethodReference || tree.first(parent) !== node) return false
  const method = file.meaning(tree.children(parent).at(-1)!)
  return method instanceof MethodSymbol && !method.isStatic && !(file.meaning(parent) instanceof MethodSymbol)
}

/** Whether the type that a name stands in is that of a variable, a result, an argument or a bound. */
function declaresSomething(tree: FlatTree, node: Node): boolean {
  let at = node
  let parent = parentOf(tree, at)
  // The head of a generic type stands where the generic type does; arguments and elements are types of their own.
  while (tree.kind(parent) === Kind.GenericType || tree.kind(parent) === Kind.AnnotatedType || tree.kind(parent) === Kind.ArrayType) {
    at = parent
    parent = parentOf(tree, at)
  }
  switch (tree.kind(parent)) {
    case Kind.FieldDeclaration: case Kind.ConstantDeclaration: case Kind.LocalVariableDeclaration: case Kind.MethodDeclaration: case Kind.FormalParameter:
    case Kind.SpreadParameter: case Kind.EnhancedForStatement: case Kind.Resource: case Kind.ArrayCreationExpression: return tree.field(at) === Field.Type || tree.kind(parent) === Kind.SpreadParameter
    case Kind.TypeArguments: case Kind.Wildcard: case Kind.TypeBound: return true
    default: return false
  }
}

/** As a type argument, whether the parameter takes any type: an interface is within no other bound. */
function isFreeArgument(tree: FlatTree, node: Node, file: JavaFile): boolean {
  let at = node
  while (tree.kind(parentOf(tree, at)) === Kind.GenericType || tree.kind(parentOf(tree, at)) === Kind.AnnotatedType) at = parentOf(tree, at)
  const list = parentOf(tree, at)
  if (tree.kind(list) !== Kind.TypeArguments || tree.kind(parentOf(tree, list)) !== Kind.GenericType) return true
  const head = tree.first(parentOf(tree, list))
  const symbol = file.meaning(tree.kind(head) === Kind.ScopedTypeIdentifier ? tree.children(head).at(-1)! : head)
  const parameter = symbol instanceof ClassSymbol ? symbol.typeParameters[tree.children(list).indexOf(at)] : undefined
  return !parameter || parameter.bounds.every(bound => bound.tag === 'class' && bound.symbol.id === 'java.lang.Object')
}

/** The narrowed names behind a flaw: those in the declarations of the names that it mentions, first closely, then in wider circles. */
export function placesBehind(flaw: Flaw, after: BoundProgram, active: ReadonlyMap<string, Narrowable>, keyAt: (path: string, start: number) => string | undefined): Blame {
  const file = after.file(flaw.path), wide = (keys: Iterable<string>): Blame => ({ keys: [...new Set(keys)], close: false })
  if (!file) return wide(active.keys())
  const { java } = file
  const { tree } = java

  const within = (node: Node, of: JavaFile): string[] => {
    const keys: string[] = []
    const end = of.tree.after(node)
    for (let at = node; at < end; at += 5) {
      const kind = of.tree.kind(at)
      if (kind !== Kind.TypeIdentifier && kind !== Kind.Identifier && kind !== Kind.ScopedTypeIdentifier) continue
      const key = keyAt(of.path, of.tree.start(at))
      if (key !== undefined && active.has(key)) keys.push(key)
    }
    return keys
  }
  /** What a declaration shows: its types, not its body. */
  const header = (node: Node, of: JavaFile): string[] => of.tree.children(node).flatMap(child => {
    const kind = of.tree.kind(child)
    return of.tree.field(child) === Field.Body || kind === Kind.Block || kind === Kind.VariableDeclarator || isAnnotation(kind) ? [] : within(child, of)
  })
  const shown = (meaning: Bound, depth: number): string[] => {
    if (meaning instanceof ClassSymbol) {
      const declared = after.program.declarations.get(meaning)
      return declared ? header(declared.node, declared.file) : []
    }
    if (meaning.kind !== 'local') {
      const declared = after.program.declarations.get(meaning.owner)
      if (!declared || meaning.node < 0) return []
      const outerNode = parentOf(declared.file.tree, meaning.node)
      const holder = declared.file.tree.kind(outerNode) === Kind.VariableDeclarator ? parentOf(declared.file.tree, outerNode) : outerNode
      return holder < 0 ? [] : header(holder, declared.file)
    }
    const holder = tree.kind(meaning.node) === Kind.VariableDeclarator ? parentOf(tree, meaning.node) : meaning.node
    const own = tree.kind(holder) === Kind.Identifier ? [] : header(holder, java)
    if (own.length > 0 || depth === 0) return own
    if (meaning.role === 'lambda-parameter') {
      const call = around(tree, meaning.node, new Set([Kind.MethodInvocation, Kind.ObjectCreationExpression]))
      return call < 0 ? [] : [...named(call, depth - 1, true), ...statementAround(call, depth - 1)]
    }
    const value = tree.child(meaning.node, Field.Value)
    return value === NONE ? [] : named(value, depth - 1)
  }
  const statementAround = (node: Node, depth: number): string[] => {
    const declared = around(tree, node, new Set([Kind.LocalVariableDeclaration, Kind.FieldDeclaration, Kind.ReturnStatement]))
    return declared < 0 || depth < 0 ? [] : header(declared, java)
  }
  /** `shallow`: not into lambdas, whose own names come back here. */
  const named = (node: Node, depth: number, shallow = false): string[] => {
    const keys = within(node, java)
    const end = tree.after(node)
    for (let at = node; at < end; at += 5) {
      if (shallow && tree.kind(at) === Kind.LambdaExpression) { at = tree.after(at) - 5; continue }
      const meaning = java.meaning(at)
      if (meaning) keys.push(...shown(meaning, depth))
    }
    return keys
  }

  for (let node = flaw.node, depth = 2; node > 0; node = parentOf(tree, node)) {
    const keys = named(node, depth)
    if (keys.length > 0) return { keys: [...new Set(keys)], close: depth === 2 }
    const kind = tree.kind(node)
    if (kind === Kind.ReturnStatement || kind === Kind.MethodDeclaration || kind === Kind.ExpressionStatement || kind === Kind.LambdaExpression) {
      const method = kind === Kind.MethodDeclaration ? node : around(tree, node, new Set([Kind.MethodDeclaration]))
      const outerNode = method < 0 ? [] : [...header(method, java), ...overriddenHeaders(method)]
      if (outerNode.length > 0) return wide(outerNode)
      depth = 4
    }
    if (java.classes.has(node)) {
      const inClass = within(node, java)
      if (inClass.length > 0) return wide(inClass)
    }
  }
  const inFile = within(0, java)
  return wide(inFile.length > 0 ? inFile : active.keys())

  /** What a method overrides is declared elsewhere; types there are behind it too. */
  function overriddenHeaders(method: Node): string[] {
    const symbol = after.program.methodAt(java, method)
    if (!symbol) return []
    const keys: string[] = []
    for (const ancestor of after.program.hierarchy.ancestorsOf(symbol.owner)) {
      if (ancestor === symbol.owner) continue
      for (const other of ancestor.own(symbol.name)) if (other instanceof MethodSymbol && other.arity === symbol.arity) keys.push(...shown(other, 0))
    }
    return keys
  }
}
