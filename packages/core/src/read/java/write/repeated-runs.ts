import type { ClassSymbol } from '../../binding/symbols.js'
import { Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import type { Called, Repeated, RunAnchor, RunLanguage } from '../../write/repeated-runs.js'
import { findRepeated, keysOf } from '../../write/repeated-runs.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { isInertClass } from '../inert.js'
import type { JavaFile } from '../scope.js'
import { LocalSymbol } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { filesUsing } from './affected-files.js'
import type { JavaWriteContext } from './context.js'
import type { JavaStatement, JavaUnified } from './statement-unifier.js'
import { unifyJavaStatements } from './statement-unifier.js'

/** Statements one after the other in a method of a class's objects. */
export interface JavaRunPlace {
  readonly owner: ClassSymbol
  readonly file: JavaFile
  readonly method: Node
  readonly block: Node
  readonly statements: readonly JavaStatement[]
}

export interface JavaRepeatedRun extends Called {
  readonly places: readonly JavaRunPlace[]
  readonly unified: JavaUnified
  /** Number of the variable of theirs that is used after them, or null for none. */
  readonly result: number | null
}

/** A block of a method of a class's objects. */
export interface MethodBlock { readonly file: JavaFile; readonly node: Node; readonly method: Node; readonly owner: ClassSymbol }

/** Runs of statements that several methods have alike and in which a type is called or built, those first that save most. */
export function javaRepeatedRuns(type: string, context: JavaWriteContext): JavaRepeatedRun[] {
  return findRepeated(type, anchorsOver(type, context), languageOf(context), usableRun)
}

/** Statements in methods of objects that call or build a type. */
export function anchorsOver(type: string, { bound, state }: JavaWriteContext): RunAnchor<MethodBlock, JavaStatement>[] {
  const tests = new Set(state.facts.files.filter(file => file.test).map(file => file.path))
  return filesUsing(state, type).filter(path => !tests.has(path)).flatMap(path => callsIn(path, bound))
}

export function languageOf({ bound }: JavaWriteContext): RunLanguage<JavaStatement, JavaUnified> {
  return {
    unify: runs => unifyJavaStatements(runs, bound.program),
    // What differs is handed in: its calls stay where they are.
    called: (statements, unified) => called(statements, bound, new Set(unified?.holes.map(hole => hole.nodes[0]!)))
  }
}

/** A run as it is written; undefined where more than one variable of it is used behind it. */
export function usableRun(run: Repeated<MethodBlock, JavaStatement, JavaUnified>): JavaRepeatedRun | undefined {
  const places = placesOf(run.places), results = new Set(places.flatMap((place, at) => usedAfter(place, run.unified.locals[at]!)))
  return results.size > 1 ? undefined : { ...run, places, result: [...results][0] ?? null }
}

/** Places as a language writes them. */
export function placesOf(places: readonly { readonly block: MethodBlock; readonly statements: readonly JavaStatement[] }[]): JavaRunPlace[] {
  return places.map(({ block: { file, node, method, owner }, statements }) => ({ owner, file, method, block: node, statements }))
}

/** Names of runs, as they are chosen by. */
export function javaRunKeys(runs: readonly JavaRepeatedRun[]): string[] { return keysOf(runs.map(run => placeName(run.places[0]!))) }

/** `type.method` of the method that a place stands in. */
export function placeName({ owner, file: { tree }, method }: JavaRunPlace): string { return `${owner.id}.${tree.textOf(tree.child(method, Field.Name))}` }

const known = new WeakMap<BoundProgram, Map<string, readonly RunAnchor<MethodBlock, JavaStatement>[]>>()

/** Statements of instance methods of a file that call something of the project's. Each file of a state is looked through once. */
export function callsIn(path: string, bound: BoundProgram): readonly RunAnchor<MethodBlock, JavaStatement>[] {
  let files = known.get(bound)
  if (!files) known.set(bound, files = new Map())
  const before = files.get(path)
  if (before) return before
  const file = bound.file(path)?.java, all = file ? instanceBlocksIn(file).flatMap(block => anchorsIn(block, bound)) : []
  files.set(path, all)
  return all
}

/** Blocks of methods of the objects of a file's plain classes, outer ones first. */
export function instanceBlocksIn(file: JavaFile): MethodBlock[] {
  const blocks: MethodBlock[] = []
  for (let node = 0; node < file.tree.size * 5; node += 5) {
    const found = file.tree.kind(node) === Kind.Block ? instanceMethodAround(node, file) : undefined
    if (found) blocks.push({ file, node, ...found })
  }
  return blocks
}

export function statementsOf({ file, node }: MethodBlock): JavaStatement[] { return file.tree.children(node).map(at => ({ file, node: at })) }

/** Statements of a block that call something of the project's. */
function anchorsIn(block: MethodBlock, bound: BoundProgram): RunAnchor<MethodBlock, JavaStatement>[] {
  const statements = statementsOf(block)
  return statements.flatMap((statement, at) => { const types = new Set(called([statement], bound, new Set()).calls); return types.size > 0 ? [{ block, statements, at, types }] : [] })
}

/** The method of a plain class's objects that a block is in. */
function instanceMethodAround(block: Node, file: JavaFile): { readonly method: Node; readonly owner: ClassSymbol } | undefined {
  const { tree } = file
  let at = block
  while (at >= 0 && ![Kind.MethodDeclaration, Kind.ConstructorDeclaration, Kind.ClassBody, Kind.StaticInitializer, Kind.CompactConstructorDeclaration].includes(tree.kind(at))) at = parentOf(tree, at)
  if (at < 0 || tree.kind(at) !== Kind.MethodDeclaration) return undefined
  const modifiers = tree.childOf(at, Kind.Modifiers)
  if (modifiers !== NONE && /\bstatic\b/.test(tree.textOf(modifiers))) return undefined
  const owner = file.classes.get(parentOf(tree, parentOf(tree, at)))
  return owner && !owner.outer && !(owner.flags & (Flags.Enum | Flags.Record | Flags.Interface | Flags.Local)) ? { method: at, owner } : undefined
}

/** What statements call and build; `left`: expressions that are left out. */
export function called(statements: readonly JavaStatement[], { program }: BoundProgram, left: ReadonlySet<Node>): Called {
  const calls: string[] = [], built = new Set<string>()
  for (const { file, node } of statements) for (let at = node; at < file.tree.after(node); at += 5) {
    if (left.has(at)) { at = file.tree.after(at) - 5; continue }
    const kind = file.tree.kind(at)
    const method = kind === Kind.ObjectCreationExpression ? file.meaning(at) : kind === Kind.MethodInvocation && file.tree.child(at, Field.Object) !== NONE ? file.meaning(file.tree.child(at, Field.Name)) : undefined
    if (!(method instanceof MethodSymbol) || !method.owner.source || isInertClass(method.owner, program)) continue
    calls.push(method.owner.id)
    if (kind === Kind.ObjectCreationExpression) built.add(method.owner.id)
  }
  return { types: [...new Set(calls)], calls, built }
}

/** A variable of a run by its number: what the first place calls it, and its type. Undefined where it is no plain variable. */
export function variableOf({ places, unified }: Pick<JavaRepeatedRun, 'places' | 'unified'>, number: number, place = 0): { readonly name: string; readonly type: Type; readonly declarator: Node } | undefined {
  const { tree } = places[place]!.file
  const declarator = [...unified.locals[place]!].find(([node, other]) => other === number && tree.kind(node) === Kind.VariableDeclarator)?.[0]
  if (declarator === undefined) return undefined
  for (const [at, { file, statements, block }] of places.entries()) for (let node = statements[0]!.node; node < file.tree.after(block); node += 5) {
    const meaning = file.meaning(node)
    if (meaning instanceof LocalSymbol && unified.locals[at]!.get(meaning.node) === number) return meaning.role === 'variable' ? { name: tree.textOf(tree.child(declarator, Field.Name)), type: meaning.type, declarator } : undefined
  }
  return undefined
}

/** Numbers of a place's own variables that are used behind the run. */
export function usedAfter({ file, block, statements }: JavaRunPlace, locals: ReadonlyMap<Node, number>): number[] {
  const { tree } = file, found = new Set<number>()
  for (let at = tree.after(statements.at(-1)!.node); at < tree.after(block); at += 5) {
    const meaning = file.meaning(at)
    const number = meaning instanceof LocalSymbol ? locals.get(meaning.node) : undefined
    if (number !== undefined) found.add(number)
  }
  return [...found]
}
