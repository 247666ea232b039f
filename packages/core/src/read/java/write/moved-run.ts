import type { TextEdit } from '../../../edit/text-edit.js'
import { applyEdits } from '../../../edit/text-edit.js'
import { ClassSymbol, FieldSymbol, MethodSymbol } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'
import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { Field, Kind } from '../syntax.js'
import type { HandedParameter } from './facade-parts.js'
import { SUPPLIERS } from './facade-parts.js'
import { handledEverywhere, handledExceptions } from './handled-exceptions.js'
import type { FileNames } from './java-editor.js'
import { refuseUnseen } from './portable.js'
import type { JavaRunPlace } from './repeated-runs.js'

/** Statements of a place as they stand in a new file. `holes`: what stands in the place of an expression; `margin`: what their lines begin with there; `more`: what else is different there. */
export function movedStatements(place: JavaRunPlace, holes: ReadonlyMap<Node, string>, names: FileNames, margin: string, more: readonly TextEdit[] = []): string {
  const { file: { tree }, statements } = place, edits: TextEdit[] = [...more]
  const start = tree.start(statements[0]!.node), end = tree.end(statements.at(-1)!.node)
  for (const { node } of statements) for (let at = node; at < tree.after(node); at += 5) {
    const hole = holes.get(at)
    if (hole !== undefined) { edits.push({ start: tree.start(at), end: tree.end(at), text: hole }); at = tree.after(at) - 5; continue }
    edits.push(...renamed(at, place, names))
  }
  const from = /^[ \t]*/.exec(tree.text.slice(tree.text.lastIndexOf('\n', start - 1) + 1, start))![0]
  for (let at = tree.text.indexOf('\n', start); at >= 0 && at < end; at = tree.text.indexOf('\n', at + 1)) {
    const line = at + 1
    if (tree.text.startsWith(from, line) && !edits.some(edit => edit.start < line && line <= edit.end) && !isInsideText(line, place)) edits.push({ start: line, end: line + from.length, text: margin })
  }
  return applyEdits(tree.text.slice(start, end), edits.sort((a, b) => a.start - b.start).map(edit => ({ ...edit, start: edit.start - start, end: edit.end - start })))
}

/** What stands in the statements for what is handed in. */
export function handedTexts(parameters: readonly HandedParameter[]): Map<Node, string> {
  return new Map(parameters.flatMap(({ name, holes, lazy, type }) => holes.map(hole => [hole.nodes[0]!, lazy ? `${name}.${(type.tag === 'primitive' ? SUPPLIERS.get(type.name)?.get : undefined) ?? 'get'}()` : name] as const)))
}

/** Parameters as they are declared; those that are worked out later are functions. */
export function writtenParameters(parameters: readonly HandedParameter[], names: FileNames, written: (type: Type) => string): string[] {
  const supplier = (type: Type): string => {
    const known = type.tag === 'primitive' ? SUPPLIERS.get(type.name) : undefined
    if (known) return names.byName('java.util.function', known.type)
    if (type.tag === 'primitive') throw new Refused('type', `What is worked out in between is a ${type.name}, for which there is no interface`)
    return `${names.byName('java.util.function', 'Supplier')}<${written(type)}>`
  }
  return parameters.map(one => `${one.lazy ? supplier(one.type) : written(one.type)} ${one.name}`)
}

/** What one place hands for them. */
export function givenArguments(parameters: readonly HandedParameter[], place: number, tree: FlatTree): string[] {
  return parameters.map(({ holes: [hole], lazy }) => { const text = tree.textOf(hole!.nodes[place]!); return lazy ? `() -> ${text}` : text })
}

/** Classes as the new file names them; what it could not see is refused. */
function renamed(at: Node, { file }: JavaRunPlace, names: FileNames): TextEdit[] {
  const { tree } = file, kind = tree.kind(at), meaning = file.meaning(at)
  if (meaning instanceof MethodSymbol || meaning instanceof FieldSymbol) refuseUnseen(meaning, names, undefined)
  if ((kind !== Kind.Identifier && kind !== Kind.TypeIdentifier) || !(meaning instanceof ClassSymbol)) return []
  const parent = parentOf(tree, at)
  if ([Kind.ScopedTypeIdentifier, Kind.ScopedIdentifier].includes(tree.kind(parent)) && tree.first(parent) !== at) return []
  if (tree.kind(parent) === Kind.FieldAccess && tree.child(parent, Field.Field) === at) return []
  const written = names.nameOf(meaning)
  return written === tree.textOf(at) ? [] : [{ start: tree.start(at), end: tree.end(at), text: written }]
}

function isInsideText(offset: number, { file: { tree }, statements }: JavaRunPlace): boolean {
  return statements.some(({ node }) => {
    for (let at = node; at < tree.after(node); at += 5) if (tree.kind(at) === Kind.StringLiteral && tree.start(at) < offset && offset <= tree.end(at)) return true
    return false
  })
}

/** What the method says that it throws: what every place is ready for. */
export function thrownBy(places: readonly JavaRunPlace[], bound: BoundProgram): ClassSymbol[] {
  const handled = places.map(({ file, method, owner, statements }) => handledExceptions(statements[0]!.node, method, file, bound.program.declarations.get(owner)!.scope, bound))
  return handled.some(one => one === null) ? [] : handledEverywhere(handled as ClassSymbol[][], bound)
}
