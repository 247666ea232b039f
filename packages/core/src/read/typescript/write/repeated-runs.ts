import ts from 'typescript'
import type { Called, Repeated, RunAnchor, RunLanguage } from '../../write/repeated-runs.js'
import { findRepeated, keysOf } from '../../write/repeated-runs.js'
import { memberName } from '../declarations.js'
import { isInertType } from '../inert.js'
import type { Snapshot } from '../session.js'
import type { Unified } from './statement-unifier.js'
import { childrenOf, unifyStatements } from './statement-unifier.js'

/** Statements one after the other in a method of a class. */
export interface RunPlace {
  readonly node: ts.ClassDeclaration
  readonly block: ts.Block
  readonly statements: readonly ts.Statement[]
}

/** The same statements in several places, but for what can be handed in. */
export interface RepeatedRun extends Called {
  readonly places: readonly RunPlace[]
  readonly unified: Unified
  /** Number of the variable of theirs that is used after them, or null for none. */
  readonly result: number | null
  /** Whether something in them is waited for. */
  readonly waits: boolean
}

/** Runs of statements that several methods have alike and in which a type is called or built, those first that save most. */
export function repeatedRuns(type: string, snapshot: Snapshot): RepeatedRun[] {
  return findRepeated(type, anchorsOver(type, snapshot), languageOf(snapshot), run => usableRun(run, snapshot))
}

/** Statements in methods that call or build a type. */
export function anchorsOver(type: string, snapshot: Snapshot): RunAnchor<ts.Block, ts.Statement>[] {
  const using = new Set(snapshot.facts.files.filter(file => !file.test && file.references.some(one => one.to === type)).map(file => file.path))
  return [...snapshot.paths].filter(([, path]) => using.has(path) && !/\.[cm]?jsx?$|\.d\.[cm]?ts$/.test(path)).flatMap(([file]) => callsIn(file, snapshot))
}

export function languageOf(snapshot: Snapshot): RunLanguage<ts.Statement, Unified> {
  return {
    unify: runs => unifyStatements(runs, snapshot.checker, symbol => canName(symbol, snapshot)),
    // What differs is handed in: its calls stay where they are.
    called: (statements, unified) => typesCalled(statements, snapshot, new Set(unified?.holes.map(hole => hole.nodes[0]!)))
  }
}

/** A run as it is written; undefined where more than one variable of it is used behind it. */
export function usableRun(run: Repeated<ts.Block, ts.Statement, Unified>, snapshot: Snapshot): RepeatedRun | undefined {
  const places = run.places.map(({ block, statements }) => ({ node: instanceClassOf(block)!, block, statements }))
  const results = new Set(places.flatMap((place, at) => usedAfter(place, run.unified.locals[at]!, snapshot)))
  return results.size > 1 ? undefined : { ...run, places, result: [...results][0] ?? null, waits: places[0]!.statements.some(waits) }
}

/** Names of runs, as they are chosen by. */
export function runKeys(runs: readonly RepeatedRun[], snapshot: Snapshot): string[] { return keysOf(runs.map(run => placeName(run.places[0]!, snapshot))) }

/** `type.member` of the method that a place stands in. */
export function placeName({ node, block }: RunPlace, { declarations }: Snapshot): string {
  return `${declarations.ownerOf(node)?.type ?? ''}.${memberName(ts.findAncestor(block, ts.isClassElement)!)}`
}

const known = new WeakMap<Snapshot, Map<ts.SourceFile, readonly RunAnchor<ts.Block, ts.Statement>[]>>()

/** Statements of a file that call something of the project's. Each file of a snapshot is looked through once. */
function callsIn(file: ts.SourceFile, snapshot: Snapshot): readonly RunAnchor<ts.Block, ts.Statement>[] {
  let files = known.get(snapshot)
  if (!files) known.set(snapshot, files = new Map())
  const before = files.get(file)
  if (before) return before
  const all: RunAnchor<ts.Block, ts.Statement>[] = []
  for (const block of instanceBlocksIn(file)) all.push(...anchorsIn(block, snapshot))
  files.set(file, all)
  return all
}

/** Blocks in which `this` means an object of a class at the top of its file. */
export function instanceBlocksIn(around: ts.Node): ts.Block[] {
  const blocks: ts.Block[] = []
  const visit = (node: ts.Node): void => {
    if (ts.isBlock(node) && instanceClassOf(node)) blocks.push(node)
    ts.forEachChild(node, visit)
  }
  visit(around)
  return blocks
}

/** The class in whose objects' methods code stands, where `this` means the object. */
export function instanceClassOf(block: ts.Block): ts.ClassDeclaration | undefined {
  let at: ts.Node = block
  while (at.parent && !(ts.isFunctionLike(at) && !ts.isArrowFunction(at))) at = at.parent
  const { parent } = at
  if (!(ts.isMethodDeclaration(at) || ts.isAccessor(at)) || !ts.isClassDeclaration(parent) || !parent.name || !ts.isSourceFile(parent.parent)) return undefined
  return ts.getModifiers(at)?.some(one => one.kind === ts.SyntaxKind.StaticKeyword) ? undefined : parent
}

/** Statements of a block that call something of the project's. */
export function anchorsIn(block: ts.Block, snapshot: Snapshot): RunAnchor<ts.Block, ts.Statement>[] {
  const statements = [...block.statements]
  return statements.flatMap((statement, at) => { const types = new Set(typesCalled([statement], snapshot).calls); return types.size > 0 ? [{ block, statements, at, types }] : [] })
}

/** Types of the project that are called or built in statements, each once, and one entry for each call; what holds only data counts for nothing. */
export function typesCalled(statements: readonly ts.Statement[], snapshot: Snapshot, left: ReadonlySet<ts.Node> = new Set()): Called {
  const { checker, declarations } = snapshot
  const calls: string[] = [], built = new Set<string>()
  const visit = (node: ts.Node): void => {
    if (left.has(node)) return
    if (ts.isCallExpression(node) || ts.isNewExpression(node)) {
      const named = ts.isCallExpression(node) && ts.isPropertyAccessExpression(node.expression) ? node.expression.name : ts.isNewExpression(node) ? node.expression : undefined
      const found = named && checker.getSymbolAtLocation(named)
      const symbol = found && found.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(found) : found
      const owner = symbol?.declarations?.[0] && declarations.ownerOf(symbol.declarations[0])
      const holder = symbol && ts.isNewExpression(node) ? symbol : symbol?.declarations?.[0]?.parent && checker.getSymbolAtLocation((symbol.declarations[0].parent as ts.NamedDeclaration).name ?? symbol.declarations[0].parent)
      if (owner && !owner.type.endsWith('#') && holder && !isInertType(holder, checker, new Map()) && !ofThis(node)) {
        calls.push(owner.type)
        if (ts.isNewExpression(node)) built.add(owner.type)
      }
    }
    ts.forEachChild(node, visit)
  }
  statements.forEach(visit)
  return { types: [...new Set(calls)], calls, built }
}

/** A call of the object's own method, which no other class can make. */
function ofThis(node: ts.CallExpression | ts.NewExpression): boolean {
  return ts.isPropertyAccessExpression(node.expression) && node.expression.expression.kind === ts.SyntaxKind.ThisKeyword
}

/** Numbers of a place's own variables that are used behind the run. */
export function usedAfter({ block, statements }: Pick<RunPlace, 'block' | 'statements'>, locals: ReadonlyMap<ts.Symbol, number>, { checker }: Snapshot): number[] {
  const found = new Set<number>()
  const visit = (node: ts.Node): void => {
    if (ts.isIdentifier(node)) {
      const symbol = ts.isShorthandPropertyAssignment(node.parent) ? checker.getShorthandAssignmentValueSymbol(node.parent) : checker.getSymbolAtLocation(node)
      const number = symbol && locals.get(symbol)
      if (number !== undefined) found.add(number)
    }
    ts.forEachChild(node, visit)
  }
  for (const statement of block.statements.slice(block.statements.indexOf(statements.at(-1)!) + 1)) visit(statement)
  return [...found]
}

export function waits(node: ts.Node): boolean {
  return ts.isAwaitExpression(node) || (ts.isForOfStatement(node) && node.awaitModifier !== undefined) || (!ts.isFunctionLike(node) && childrenOf(node).some(waits))
}

/** Whether another file could name something: what the language has, what is imported, what its own file exports. */
export function canName(symbol: ts.Symbol, { checker, pathOf }: Snapshot): boolean {
  if (symbol.flags & ts.SymbolFlags.Alias) return symbol.declarations?.every(one => ts.isImportSpecifier(one) || ts.isImportClause(one) || ts.isNamespaceImport(one)) === true
  const [declaration] = symbol.declarations ?? []
  if (!declaration) return false
  const file = declaration.getSourceFile()
  if (pathOf(file) === undefined || !ts.isExternalModule(file)) return true
  const module = checker.getSymbolAtLocation(file)
  return module !== undefined && checker.getExportsOfModule(module).includes(symbol)
}
