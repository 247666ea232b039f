import type { ClassSymbol } from '../../binding/symbols.js'
import { FieldSymbol, Flags } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { differentOrder } from '../../write/argument-order.js'
import { Refused } from '../../write/refused.js'
import { removeLines } from '../../write/removed-lines.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { LocalSymbol } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { isAnnotation } from '../type-names.js'
import type { CreationSite } from './creation-sites.js'
import { constructorsOf } from './creation-sites.js'
import { parameterName, parameterNodes } from './interface-members.js'
import type { JavaFileEditor } from './java-editor.js'
import { commentedStart } from './moved-members.js'
import { argumentNodes } from './portable.js'
import { isSettled } from './settled.js'

/** A final field that the only constructor fills with what it is handed. */
export interface HandedField {
  readonly symbol: FieldSymbol
  readonly constructor: Node
  readonly parameter: Node
  /** Place of the parameter among the constructor's. */
  readonly index: number
  readonly declaration: Node
  readonly assignment: Node
}

/** The field that a name means in a class, if it is one that is handed in. */
export function handedField(node: Node, owner: ClassSymbol, file: JavaFile, { program }: BoundProgram): HandedField | undefined {
  const { tree } = file
  const named = tree.kind(node) === Kind.FieldAccess && tree.kind(tree.child(node, Field.Object)) === Kind.This ? tree.child(node, Field.Field) : node
  const symbol = tree.kind(named) === Kind.Identifier ? file.meaning(named) : undefined
  if (!(symbol instanceof FieldSymbol) || symbol.owner !== owner || symbol.isStatic || !(symbol.flags & Flags.Final) || !(symbol.flags & Flags.Private) || symbol.node < 0) return undefined
  const declared = program.declarations.get(owner)!
  const [constructor, another] = constructorsOf(owner, file, declared.node)
  const declarator = parentOf(tree, symbol.node), declaration = parentOf(tree, declarator)
  if (constructor === undefined || another !== undefined || tree.child(declarator, Field.Value) !== NONE || tree.children(declaration).filter(one => tree.kind(one) === Kind.VariableDeclarator).length > 1 || isAnnotated(declaration, file)) return undefined
  const parameters = parameterNodes(tree, constructor)
  for (const assignment of tree.children(tree.child(constructor, Field.Body))) {
    const set = tree.kind(assignment) === Kind.ExpressionStatement ? tree.first(assignment) : NONE
    if (set === NONE || tree.kind(set) !== Kind.AssignmentExpression) continue
    const left = tree.child(set, Field.Left), right = tree.child(set, Field.Right)
    const target = file.meaning(tree.kind(left) === Kind.FieldAccess ? tree.child(left, Field.Field) : left), value = tree.kind(right) === Kind.Identifier ? file.meaning(right) : undefined
    if (target !== symbol || !(value instanceof LocalSymbol) || value.role !== 'parameter') continue
    const index = parameters.findIndex(one => parameterName(tree, one) === value.name)
    const parameter = parameters[index]
    return parameter !== undefined && tree.kind(parameter) !== Kind.SpreadParameter && !isAnnotated(parameter, file) ? { symbol, constructor, parameter, index, declaration, assignment } : undefined
  }
  return undefined
}

function isAnnotated(node: Node, { tree }: JavaFile): boolean {
  const modifiers = tree.childOf(node, Kind.Modifiers)
  return modifiers !== NONE && tree.children(modifiers).some(at => isAnnotation(tree.kind(at)) && !/^@SuppressWarnings\b/.test(tree.textOf(at)))
}

/** Whether a field is used in given statements only, but for parts of them that stay, and what it is filled with is used for nothing else. */
export function isUsedOnlyIn(statements: ReadonlySet<Node>, staying: ReadonlySet<Node>, { symbol, constructor, parameter, assignment }: HandedField, file: JavaFile): boolean {
  const { tree } = file, name = parameterName(tree, parameter)
  let hidden = -1, shown = -1
  for (let at = 0; at < tree.size * 5; at += 5) {
    if (statements.has(at) || at === assignment) hidden = Math.max(hidden, tree.after(at))
    if (staying.has(at)) shown = Math.max(shown, tree.after(at))
    if (at < hidden && at >= shown) continue
    const meaning = file.meaning(at)
    if (meaning === symbol && at !== symbol.node) return false
    if (meaning instanceof LocalSymbol && meaning.role === 'parameter' && meaning.name === name && at > constructor && at < tree.after(constructor) && !(at > parameter && at < tree.after(parameter))) return false
  }
  return true
}

/** Takes parameters out of a constructor, with the fields that they fill, and puts one in the place of the first of all that are spoken of. */
export function replaceParameters(handed: readonly HandedField[], gone: ReadonlySet<HandedField>, written: { readonly parameter: string; readonly field: string; readonly assignment: string }, file: JavaFile, own: JavaFileEditor): void {
  const { tree } = file, [first] = [...handed].sort((a, b) => a.index - b.index), list = parameterNodes(tree, first!.constructor)
  editList(list, handed.map(one => one.index), new Set([...gone].map(one => one.index)), written.parameter, own)
  const { lineEnd } = own.style
  if (gone.has(first!)) {
    own.replace(commentedStart(file, first!.declaration), tree.end(first!.declaration), written.field)
    own.replaceNode(first!.assignment, written.assignment)
  } else {
    own.insert(commentedStart(file, first!.declaration), `${written.field}${lineEnd}${own.indentAt(tree.start(first!.declaration))}`)
    own.insert(tree.start(first!.assignment), `${written.assignment}${lineEnd}${own.indentAt(tree.start(first!.assignment))}`)
  }
  dropFields([...gone].filter(one => one !== first), file, own)
}

/** Takes fields out that nothing needs any more; what filled them stays a parameter of the constructor. `replaced`: a declaration that something stands for already. */
export function dropFields(gone: Iterable<HandedField>, file: JavaFile, own: JavaFileEditor, replaced: Node = NONE): void {
  for (const { declaration, assignment } of gone) {
    if (declaration !== replaced) removeLines(commentedStart(file, declaration), file.tree.end(declaration), own)
    removeLines(file.tree.start(assignment), file.tree.end(assignment), own)
  }
}

/** Lets a place that creates an object hand `written(arguments)` for some of its arguments; those of `gone` are handed no more by themselves. */
export function replaceArguments(site: CreationSite, indices: readonly number[], gone: ReadonlySet<number>, written: (given: readonly string[]) => string, own: JavaFileEditor, { program }: BoundProgram): void {
  const { file, node } = site, { tree } = file
  const place = `${file.path}:${tree.text.slice(0, tree.start(node)).split('\n').length}`
  if (site.kind !== 'creation' && site.kind !== 'super' && site.kind !== 'this') throw new Refused('reference', `${place} hands the constructor itself around`)
  const list = argumentNodes(file, node)
  if (list.length <= Math.max(...indices)) throw new Refused('arguments', `${place} passes fewer arguments than the constructor has`)
  const different = differentOrder(list.map(one => ({ settled: isSettled(one, file, program), simple: isSimple(one, file) })), indices, gone)
  if (different) throw new Refused('order', different === 'twice' ? `${place} would work out an argument twice; give it a name first` : `${place} works out arguments in an order that would change; give them names first`)
  editList(list, indices, gone, written(indices.map(index => tree.textOf(list[index]!))), own)
}

/** Puts a text in the place of the first of some elements, and takes out those that are gone. */
function editList(list: readonly Node[], indices: readonly number[], gone: ReadonlySet<number>, text: string, own: JavaFileEditor): void {
  const { tree } = own, first = Math.min(...indices)
  for (const index of indices) {
    const node = list[index]!
    if (index === first) {
      if (gone.has(index)) own.replaceNode(node, text)
      else own.insert(tree.start(node), `${text}, `)
    } else if (gone.has(index)) own.replace(tree.end(list[index - 1]!), tree.end(node), '')
  }
}

function isSimple(node: Node, { tree }: JavaFile): boolean {
  const kind = tree.kind(node)
  return kind === Kind.Identifier || kind === Kind.This || kind === Kind.StringLiteral || kind === Kind.NullLiteral || /Literal$/.test(Kind[kind] ?? '') || kind === Kind.True || kind === Kind.False ||
    (kind === Kind.FieldAccess && tree.kind(tree.child(node, Field.Object)) === Kind.This)
}
