import type { MemberFacts, Origin, ParameterFacts, Span, TypeFacts, TypeKind } from '../../model/facts.js'
import type { Overloads } from '../binding/overloads.js'
import type { ClassSymbol, FieldSymbol } from '../binding/symbols.js'
import { CONSTRUCTOR, Flags, MethodSymbol } from '../binding/symbols.js'
import type { FlatTree, Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import { modifiersOf } from './declare.js'
import { isInertClass } from './inert.js'
import { hasLogic, refusesToWork, statementsOf } from './logic.js'
import { classOf, isAbstraction, unite } from './origins.js'
import { isInjecting } from './outside.js'
import type { JavaProgram } from './program.js'
import type { JavaFile } from './scope.js'
import { Field, Kind } from './syntax.js'
import { isAnnotation } from './type-names.js'

/** What the facts of a class need to know of the file and program around it. */
export interface JavaTypeContext {
  readonly file: JavaFile
  readonly program: JavaProgram
  readonly overloads: Overloads
  readonly span: (start: number, end: number) => Span
  readonly originsOf: (field: FieldSymbol) => readonly Origin[]
}

/** The facts of a class, interface, enum, record or annotation type. */
export function javaTypeFacts(symbol: ClassSymbol, node: Node, context: JavaTypeContext): TypeFacts {
  const { file: { tree }, span } = context
  const name = tree.child(node, Field.Name)
  const told = name === NONE ? node : name
  let outer = symbol.outer
  while (outer && outer.name === '' && outer.outer) outer = outer.outer
  return {
    id: symbol.id, name: symbol.name, kind: kindOf(symbol), span: span(tree.start(told), tree.end(told)),
    lines: span(tree.end(node), tree.end(node)).line - span(tree.start(node), tree.start(node)).line + 1,
    exported: (symbol.flags & Flags.Public) !== 0, inert: isInertClass(symbol, context.program), outer: outer ? outer.id : null,
    members: memberFacts(symbol, node, context), parameters: parametersOf(symbol, node, context)
  }
}

/** What every class, enum and record extends anyway. */
const OF_THE_LANGUAGE = new Set(['java.lang.Object', 'java.lang.Enum', 'java.lang.Record'])

function memberFacts(symbol: ClassSymbol, node: Node, context: JavaTypeContext): MemberFacts[] {
  const { file: { tree }, span } = context
  const members: MemberFacts[] = [], places = new Map<string, number>()
  const base = symbol.superclass?.symbol
  const inFramework = base !== undefined && !base.source && !OF_THE_LANGUAGE.has(base.id)
  const isPublic = (flags: number) => (flags & Flags.Public) !== 0 || (symbol.isInterface && !(flags & Flags.Private))
  const add = (name: Node, at: Node, kind: MemberFacts['kind'], flags: number, body: Node, text: string, origins: readonly Origin[] = []) => {
    // Overloads are one member: what each of them does is told together.
    const key = `${kind} ${text}`, known = places.get(key)
    const isMethod = kind === 'method'
    const fact: MemberFacts = {
      name: text, kind, span: { ...span(tree.start(name), tree.end(name)), end: tree.end(at) }, public: isPublic(flags), static: (flags & Flags.Static) !== 0,
      abstract: (flags & Flags.Abstract) !== 0 || (symbol.isInterface && isMethod && body === NONE), logic: body !== NONE && hasLogic(tree, body), hasBody: body !== NONE, origins,
      signature: isMethod ? signatureOf(tree, at) : '', refuses: isMethod && body !== NONE && refusesToWork(tree, body),
      lines: span(tree.end(at), tree.end(at)).line - span(tree.start(at), tree.start(at)).line + 1,
      mutable: kind === 'field' && (flags & Flags.Final) === 0 && !symbol.isInterface,
      calledFromOutside: isMethod && (flags & Flags.Static) === 0 && overridesExternal(symbol, name, context),
      ...(inFramework && body !== NONE && tree.kind(body) === Kind.Block ? { statements: statementsOf(tree, body).map(one => span(tree.start(one), tree.end(one))) } : {})
    }
    if (known === undefined) { places.set(key, members.length); members.push(fact) }
    else {
      const before = members[known]!
      members[known] = {
        ...before, public: before.public || fact.public, logic: before.logic || fact.logic, hasBody: before.hasBody || fact.hasBody, abstract: before.abstract && fact.abstract,
        lines: before.lines + fact.lines, signature: `${before.signature}|${fact.signature}`, refuses: before.refuses && fact.refuses, calledFromOutside: before.calledFromOutside || fact.calledFromOutside,
        ...(before.statements || fact.statements ? { statements: [...before.statements ?? [], ...fact.statements ?? []] } : {})
      }
    }
  }
  if (tree.kind(node) === Kind.RecordDeclaration) {
    for (const at of childrenOf(tree, tree.child(node, Field.Parameters))) {
      const name = parameterName(tree, at)
      if (name === NONE) continue
      const type = symbol.own(tree.textOf(name)).find(one => one.kind === 'field')
      add(name, at, 'field', Flags.Public | Flags.Final, NONE, tree.textOf(name), [{ how: 'handed-in', abstraction: type?.kind === 'field' && isAbstraction(classOf(type.type)) }])
    }
  }
  const visit = (holder: Node): void => {
    for (let at = tree.first(holder); at !== NONE; at = tree.next(at, holder)) {
      const flags = modifiersOf(tree, at)
      const name = tree.child(at, Field.Name), body = tree.child(at, Field.Body)
      switch (tree.kind(at)) {
        case Kind.FieldDeclaration: case Kind.ConstantDeclaration:
          for (const child of tree.children(at)) {
            if (tree.kind(child) !== Kind.VariableDeclarator) continue
            const own = tree.child(child, Field.Name), value = tree.child(child, Field.Value)
            const field = symbol.own(tree.textOf(own)).find((one): one is FieldSymbol => one.kind === 'field' && one.node === own)
            const injected: readonly Origin[] = field && annotationsOf(tree, at).some(isInjecting) ? [{ how: 'handed-in', abstraction: isAbstraction(classOf(field.type)) }] : []
            // A field that holds a lambda is run when it is called, not when its object is made.
            const lambda = value !== NONE && tree.kind(value) === Kind.LambdaExpression ? tree.child(value, Field.Body) : NONE
            add(own, child, 'field', flags | (symbol.isInterface ? Flags.Static : 0), lambda, tree.textOf(own), field ? unite(context.originsOf(field), injected) : [])
          }
          break
        case Kind.EnumConstant: add(name, at, 'value', Flags.Public | Flags.Static, NONE, tree.textOf(name)); break
        case Kind.MethodDeclaration: case Kind.AnnotationTypeElementDeclaration: add(name, at, 'method', flags, body, tree.textOf(name)); break
        case Kind.ConstructorDeclaration: case Kind.CompactConstructorDeclaration: add(name, at, 'constructor', flags, body, 'constructor'); break
        case Kind.EnumBodyDeclarations: visit(at); break
        default:
      }
    }
  }
  const body = tree.child(node, Field.Body)
  if (body !== NONE) visit(body)
  return members
}

function childrenOf(tree: FlatTree, holder: Node): Node[] { return holder === NONE ? [] : tree.children(holder) }

function parameterName(tree: FlatTree, at: Node): Node {
  return tree.kind(at) === Kind.SpreadParameter ? tree.child(tree.childOf(at, Kind.VariableDeclarator), Field.Name) : tree.child(at, Field.Name)
}

function textOfType(tree: FlatTree, at: Node): string {
  const type = tree.kind(at) === Kind.SpreadParameter ? NONE : tree.child(at, Field.Type)
  return type === NONE ? '...' : tree.textOf(type).replace(/\s+/g, ' ')
}

function signatureOf(tree: FlatTree, method: Node): string {
  const parameters = childrenOf(tree, tree.child(method, Field.Parameters)).filter(at => tree.kind(at) === Kind.FormalParameter || tree.kind(at) === Kind.SpreadParameter)
  return `(${parameters.map(at => textOfType(tree, at)).join(',')})=>${textOfType(tree, method)}`
}

/** Whether a method is one that a class or interface outside the sources declares: it may be called by code that is not seen. */
function overridesExternal(symbol: ClassSymbol, name: Node, { file: { tree }, program, overloads }: JavaTypeContext): boolean {
  const text = tree.textOf(name)
  const method = symbol.own(text).find((one): one is MethodSymbol => one.kind === 'method' && one.node === name)
  if (!method) return false
  for (const ancestor of program.hierarchy.ancestorsOf(symbol)) {
    if (ancestor !== symbol && !ancestor.source && ancestor.own(text).some(other => other.kind === 'method' && !other.isStatic && overloads.overrides(symbol, method, other))) return true
  }
  return false
}

/** The constructor that takes most, of those that others can call where there are any. */
export function longestConstructor(symbol: ClassSymbol): MethodSymbol | undefined {
  const all = symbol.own(CONSTRUCTOR).filter(one => one instanceof MethodSymbol), seen = all.filter(one => (one.flags & Flags.Private) === 0)
  return (seen.length > 0 ? seen : all).reduce<MethodSymbol | undefined>((most, one) => (one.arity > (most?.arity ?? -1) ? one : most), undefined)
}

/** Parameters of the constructor that has the most. */
function parametersOf(symbol: ClassSymbol, node: Node, { file: { tree }, program }: JavaTypeContext): ParameterFacts[] {
  const longest = longestConstructor(symbol)
  if (!longest || longest.arity === 0) return []
  const body = tree.child(node, Field.Body)
  const written = childrenOf(tree, body).find(at => tree.kind(at) === Kind.ConstructorDeclaration && tree.child(at, Field.Name) === longest.node)
  const holder = tree.child(written ?? node, Field.Parameters)
  return childrenOf(tree, holder).filter(at => tree.kind(at) === Kind.FormalParameter || tree.kind(at) === Kind.SpreadParameter).map((at, index) => {
    // Many of a class are none of it.
    const type = longest.signature.parameters[index]!, made = type.tag === 'array' ? undefined : classOf(type)
    const external = made !== undefined && !made.source
    const isData = made === undefined || (external ? isValueOfLanguage(made) : isInertClass(made, program))
    const name = parameterName(tree, at)
    return {
      name: name === NONE ? '' : tree.textOf(name), type: made === undefined ? '' : external ? made.packageName : made.id, text: textOfType(tree, at),
      kind: isData ? 'data' : isAbstraction(made) ? 'abstraction' : 'class', optional: false
    }
  })
}

/** What a test writes down as it is: texts, numbers, lists, times. */
function isValueOfLanguage(symbol: ClassSymbol): boolean {
  if (symbol.packageName.startsWith('java.util.function') || symbol.packageName.startsWith('java.util.concurrent')) return false
  return ['java.lang', 'java.util', 'java.math', 'java.nio.file', 'java.net', 'java.time'].includes(symbol.packageName) &&
    !['java.lang.Runnable', 'java.lang.Thread', 'java.util.Random', 'java.time.Clock', 'java.util.Timer', 'java.lang.ClassLoader', 'java.net.Socket', 'java.net.ServerSocket'].includes(symbol.id)
}

function annotationsOf(tree: FlatTree, node: Node): string[] {
  const modifiers = tree.childOf(node, Kind.Modifiers)
  return modifiers === NONE ? [] : tree.children(modifiers).filter(at => isAnnotation(tree.kind(at))).map(at => tree.textOf(tree.child(at, Field.Name)))
}

export function kindOf(symbol: ClassSymbol): TypeKind {
  if (symbol.flags & Flags.Enum) return 'enum'
  if (symbol.flags & Flags.Record) return 'record'
  if (symbol.isInterface) return 'interface'
  return symbol.flags & Flags.Abstract ? 'abstract-class' : 'class'
}

