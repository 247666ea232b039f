import type { ClassSymbol } from '../../binding/symbols.js'
import { MethodSymbol } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'
import { describe } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { numberedName } from '../../write/names.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { LocalSymbol } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { RESERVED } from './extract-interface.js'
import type { HandedField } from './handed-fields.js'
import { handedField } from './handed-fields.js'
import { parameterName, parameterNodes } from './interface-members.js'
import { argumentNodes } from './portable.js'
import type { JavaRepeatedRun, JavaRunPlace } from './repeated-runs.js'
import { isNeverSet, isQuietCreation, isSettled, staysAsItIs } from './settled.js'
import type { JavaHole } from './statement-unifier.js'
import { plainTypeOf } from './statement-unifier.js'

/** What the facade is built of: every class that it is for is handed it, and keeps it in a field. */
export interface FacadeCollaborator {
  readonly name: string
  readonly type: Type
  readonly holes: readonly JavaHole[]
  readonly fields: ReadonlyMap<ClassSymbol, HandedField>
}

/** What its method is handed; `lazy`: as a function, because when it is worked out may matter. */
export interface HandedParameter {
  readonly name: string
  readonly type: Type
  readonly holes: readonly JavaHole[]
  readonly lazy: boolean
  /** When it is worked out makes no difference. */
  readonly settled: boolean
}

export interface FacadeParts {
  readonly collaborators: readonly FacadeCollaborator[]
  readonly parameters: readonly HandedParameter[]
}

/** Divides what differs between the places of a run into what the facade keeps and what each call hands it. Undefined where that cannot be. */
export function facadeParts(run: JavaRepeatedRun, bound: BoundProgram): FacadeParts | undefined { return dividedHoles(run, bound, hole => handedFields(hole, run, bound)) }

/**
 * `keeps`: the fields of each class that an expression stands for, where it is one that is kept. `early`: what is worked out
 * before anything else runs; left out where the code runs from its beginning to its end.
 */
export function dividedHoles(
  run: Pick<JavaRepeatedRun, 'places' | 'unified'>, bound: BoundProgram, keeps: (hole: JavaHole) => Map<ClassSymbol, HandedField> | undefined, early: ReadonlySet<JavaHole> = workedOutFirst(run, bound)
): FacadeParts | undefined {
  const { places } = run, names = wordsOf(run)
  const collaborators: (FacadeCollaborator & { holes: JavaHole[] })[] = []
  const parameters: (Omit<HandedParameter, 'type'> & { holes: JavaHole[]; type: Type })[] = []
  const free = (wanted: string) => { const found = numberedName(RESERVED.test(wanted) ? `${wanted}Value` : wanted, one => !names.has(one)); names.add(found); return found }
  const text = (node: Node, at: number) => places[at]!.file.tree.textOf(node)
  for (const hole of run.unified.holes) {
    const fields = keeps(hole)
    if (fields) {
      const before = collaborators.find(one => [...fields].every(([owner, field]) => one.fields.get(owner)?.symbol === field.symbol))
      if (before) before.holes.push(hole)
      else { const [field] = fields.values(); collaborators.push({ name: free(field!.symbol.name), type: field!.symbol.type, holes: [hole], fields }) }
      continue
    }
    const settled = hole.nodes.every((node, at) => isSettled(node, places[at]!.file, bound.program) || staysAsItIs(node, places[at]!.file))
    // What waits to be asked for is asked for each time.
    const lazy = !settled && !early.has(hole)
    const before = settled || lazy ? parameters.find(one => one.settled === settled && one.lazy === lazy && one.holes[0]!.nodes.every((node, at) => text(node, at) === text(hole.nodes[at]!, at))) : undefined
    const type = before && describe(before.type) !== describe(hole.type) ? ownType(hole, places, bound) : before?.type
    // What is handed once serves every place that wants it: as what it is, where they want it as different things.
    if (before && type) { before.holes.push(hole); before.type = type; continue }
    if (lazy && !hole.nodes.every((node, at) => canWait(node, places[at]!.file, hole.type))) return undefined
    parameters.push({ name: free(proposedName(hole, run, bound)), type: hole.type, holes: [hole], lazy, settled })
  }
  const [client] = collaborators[0]?.fields.keys() ?? []
  // In the order in which the first class is handed them.
  if (client) collaborators.sort((a, b) => a.fields.get(client)!.index - b.fields.get(client)!.index)
  return { collaborators, parameters }
}

/** What an expression is in every place, whatever it is wanted as. */
function ownType({ nodes }: JavaHole, places: readonly JavaRunPlace[], { program }: BoundProgram): Type | undefined {
  const types = nodes.map((node, at) => plainTypeOf(node, places[at]!.file, program)), [type] = types
  return type && types.every(one => one && describe(one) === describe(type)) ? type : undefined
}

/** Whether a lambda can say an expression: its variables are never set again, and there is an interface for its type. */
function canWait(node: Node, file: JavaFile, type: Type): boolean {
  if (type.tag === 'primitive' && !SUPPLIERS.has(type.name)) return false
  for (let at = node; at < file.tree.after(node); at += 5) {
    const meaning = file.meaning(at)
    if (meaning instanceof LocalSymbol && !(meaning.node >= node && meaning.node < file.tree.after(node)) && !isNeverSet(meaning, node, file)) return false
  }
  return true
}

/** Interfaces of the library for what is worked out later, with what gives it. */
export const SUPPLIERS: ReadonlyMap<string, { readonly type: string; readonly get: string }> = new Map([
  ['int', { type: 'IntSupplier', get: 'getAsInt' }], ['long', { type: 'LongSupplier', get: 'getAsLong' }], ['double', { type: 'DoubleSupplier', get: 'getAsDouble' }], ['boolean', { type: 'BooleanSupplier', get: 'getAsBoolean' }]
])

function handedFields(hole: JavaHole, { places }: JavaRepeatedRun, bound: BoundProgram): Map<ClassSymbol, HandedField> | undefined {
  const fields = new Map<ClassSymbol, HandedField>()
  for (const [at, { owner, file }] of places.entries()) {
    const field = handedField(hole.nodes[at]!, owner, file, bound), before = fields.get(owner)
    if (!field || (before && before.symbol !== field.symbol)) return undefined
    if (!before) fields.set(owner, field)
  }
  return fields
}

const BRANCHES = new Set([
  Kind.IfStatement, Kind.TernaryExpression, Kind.WhileStatement, Kind.DoStatement, Kind.ForStatement, Kind.EnhancedForStatement, Kind.SwitchExpression, Kind.TryStatement, Kind.TryWithResourcesStatement, Kind.LambdaExpression
])

/** What is worked out before anything in the statements has run that it could see: there an argument of the call is as good. */
function workedOutFirst({ places, unified }: Pick<JavaRepeatedRun, 'places' | 'unified'>, { program }: BoundProgram): Set<JavaHole> {
  const [{ file, statements }] = places as [JavaRepeatedRun['places'][number]], { tree } = file
  const holes = new Map(unified.holes.map(hole => [hole.nodes[0]!, hole])), first = new Set<JavaHole>()
  let hasRun = false
  const visit = (node: Node, certain: boolean): void => {
    const hole = holes.get(node)
    if (hole) { if (certain && !hasRun) first.add(hole); return }
    const kind = tree.kind(node)
    const branches = BRANCHES.has(kind) || (kind === Kind.BinaryExpression && /&&|\|\|/.test(tree.text.slice(tree.end(tree.child(node, Field.Left)), tree.start(tree.child(node, Field.Right)))))
    for (const child of tree.children(node)) visit(child, certain && !branches)
    if (kind === Kind.MethodInvocation || (kind === Kind.ObjectCreationExpression && !isQuietCreation(node, file, program))) hasRun = true
  }
  for (const { node } of statements) visit(node, true)
  return first
}

/** By what most places call it, else by the parameter that it is handed as; else by itself. */
function proposedName({ nodes }: JavaHole, { places }: Pick<JavaRepeatedRun, 'places'>, { program }: BoundProgram): string {
  const named = nodes.flatMap((node, at) => (places[at]!.file.tree.kind(node) === Kind.Identifier ? [places[at]!.file.tree.textOf(node)] : []))
  const usual = named.find(name => named.filter(other => other === name).length * 2 > nodes.length)
  if (usual !== undefined) return usual
  const [node] = nodes as [Node], { file } = places[0]!, { tree } = file
  if (file.meaning(node) instanceof LocalSymbol) return tree.textOf(node)
  const holder = parentOf(tree, node)
  if (tree.kind(holder) === Kind.ArgumentList) {
    const call = parentOf(tree, holder), index = argumentNodes(file, call).indexOf(node)
    const method = file.meaning(tree.kind(call) === Kind.MethodInvocation ? tree.child(call, Field.Name) : call)
    if (method instanceof MethodSymbol && method.owner.source && method.node >= 0) {
      const declared = program.declarations.get(method.owner)!.file
      const at = parameterNodes(declared.tree, parentOf(declared.tree, method.node))[index]
      if (at !== undefined && declared.tree.kind(at) !== Kind.SpreadParameter) return parameterName(declared.tree, at)
    }
  }
  const last = tree.kind(node) === Kind.MethodInvocation ? tree.child(node, Field.Name) : tree.kind(node) === Kind.FieldAccess ? tree.child(node, Field.Field) : NONE
  return last === NONE ? 'value' : tree.textOf(last).replace(/^get(?=[A-Z])/, '').replace(/^./, letter => letter.toLowerCase())
}

/** Names of variables in the statements of the first place, but for those of what is handed in. */
function wordsOf({ places, unified }: Pick<JavaRepeatedRun, 'places' | 'unified'>): Set<string> {
  const { file: { tree }, statements } = places[0]!, holes = new Set(unified.holes.map(hole => hole.nodes[0]!)), words = new Set<string>()
  for (const { node } of statements) for (let at = node; at < tree.after(node); at += 5) {
    if (holes.has(at)) { at = tree.after(at) - 5; continue }
    if (tree.kind(at) === Kind.Identifier) words.add(tree.textOf(at))
  }
  return words
}
