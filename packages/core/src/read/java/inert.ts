import type { ClassSymbol, MethodSymbol } from '../binding/symbols.js'
import { CONSTRUCTOR, Flags } from '../binding/symbols.js'
import type { FlatTree, Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import { classOf, isAbstraction } from './origins.js'
import type { JavaProgram } from './program.js'
import { Field, Kind } from './syntax.js'

const known = new WeakMap<JavaProgram, Map<ClassSymbol, boolean>>()

/** Records, enums, exceptions and classes that only hold data: nothing of them needs replacing in a test. */
export function isInertClass(symbol: ClassSymbol, program: JavaProgram): boolean {
  let found = known.get(program)
  if (!found) known.set(program, found = new Map())
  const before = found.get(symbol)
  if (before !== undefined) return before
  // While it is being found out, a class that inherits from itself counts as data.
  found.set(symbol, true)
  const inert = holdsData(symbol, program)
  found.set(symbol, inert)
  return inert
}

function holdsData(symbol: ClassSymbol, program: JavaProgram): boolean {
  if (symbol.flags & (Flags.Enum | Flags.Annotation)) return true
  if ([...program.hierarchy.ancestorsOf(symbol)].some(one => one.id === 'java.lang.Throwable')) return true
  if (symbol.flags & (Flags.Interface | Flags.Abstract)) return false
  // What is implemented as an abstraction is meant to be replaced.
  if (symbol.interfaces.some(one => one.symbol.source)) return false
  // A record stands for its values, unless one of them is something to be replaced.
  if (symbol.flags & Flags.Record) {
    return symbol.ownMembers.every(one => { if (one.kind !== 'field' || one.isStatic) return true; const made = classOf(one.type); return made === undefined || (made.source ? isInertClass(made, program) : !isAbstraction(made) || made.packageName.startsWith('java.')) })
  }
  const above = symbol.superclass?.symbol
  if (above && (above.source ? !isInertClass(above, program) : !['java.lang.Object', 'java.lang.Record'].includes(above.id))) return false
  const declared = program.declarations.get(symbol)
  if (!declared || declared.body === NONE) return false
  const { tree } = declared.file
  const methods = symbol.ownMembers.filter((one): one is MethodSymbol => one.kind === 'method' && one.name !== CONSTRUCTOR && one.node >= 0)
  return symbol.ownMembers.some(one => one.kind === 'field' && !one.isStatic) &&
    methods.every(method => ['equals', 'hashCode', 'toString'].includes(method.name) || isAccessor(tree, declared.body, method)) &&
    !buildsCollaborators(tree, declared.body, declared.scope, program)
}

/** A method of one short statement that reads or sets a field. */
function isAccessor(tree: FlatTree, body: Node, method: MethodSymbol): boolean {
  for (let at = tree.first(body); at !== NONE; at = tree.next(at, body)) {
    if (tree.child(at, Field.Name) !== method.node) continue
    const block = tree.child(at, Field.Body)
    if (block === NONE) return false
    const statements = tree.children(block)
    return statements.length <= 1 && statements.every(one => !tree.contains(one, Kind.MethodInvocation) && !tree.contains(one, Kind.ObjectCreationExpression))
  }
  // A record's own accessor is written nowhere.
  return true
}

/** Whether a field begins with an object of a class of the sources. */
function buildsCollaborators(tree: FlatTree, body: Node, scope: Parameters<JavaProgram['names']['type']>[1], program: JavaProgram): boolean {
  return tree.children(body).some(at => tree.kind(at) === Kind.FieldDeclaration && tree.children(at).some(declarator => {
    const value = tree.kind(declarator) === Kind.VariableDeclarator ? tree.child(declarator, Field.Value) : NONE
    if (value === NONE || tree.kind(value) !== Kind.ObjectCreationExpression) return false
    const type = program.names.type(tree.child(value, Field.Type), scope)
    return type.tag === 'class' && type.symbol.source
  }))
}
