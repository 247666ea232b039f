import ts from 'typescript'
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
export interface RepeatedRun {
  readonly places: readonly RunPlace[]
  readonly unified: Unified
  /** Ids of the project's classes and interfaces that they go over, in the order in which they come. */
  readonly types: readonly string[]
  /** The type of each call, in order. */
  readonly calls: readonly string[]
  /** Types that are built. */
  readonly built: ReadonlySet<string>
  /** Number of the variable of theirs that is used after them, or null for none. */
  readonly result: number | null
  /** Whether something in them is waited for. */
  readonly waits: boolean
}

/** So many places, types and calls make a run worth one call; so many of a type's places are looked at. */
const PLACES = 2, TYPES = 2, CALLS = 3, MOST = 60

/**
 * Runs of statements that several methods have alike and in which a type is called or built, those first that save most. Linear
 * in the files that use the type, and quadratic in the places that call it, of which at most `MOST` are looked at.
 */
export function repeatedRuns(type: string, snapshot: Snapshot): RepeatedRun[] {
  const using = new Set(snapshot.facts.files.filter(file => !file.test && file.references.some(one => one.to === type)).map(file => file.path))
  const anchors = [...snapshot.paths].filter(([, path]) => using.has(path) && !/\.[cm]?jsx?$|\.d\.[cm]?ts$/.test(path))
    .flatMap(([file]) => callsIn(file, snapshot).filter(one => one.types.has(type))).slice(0, MOST)
  const runs = new Map<string, RepeatedRun>()
  anchors.forEach((first, index) => {
    const ranges = new Map<string, { from: number; to: number }>()
    for (const other of anchors.slice(index + 1)) {
      const range = longest(first, other, snapshot)
      if (range) ranges.set(`${range.from} ${range.to}`, range)
    }
    for (const { from, to } of ranges.values()) {
      const run = runOf(first, from, to, anchors, snapshot)
      if (run) runs.set(run.places.map(({ node, statements }) => `${node.getSourceFile().fileName}:${statements[0]!.pos}-${statements.length}`).join('+'), run)
    }
  })
  return [...runs.values()].filter(run => run.types.includes(type)).sort((a, b) => saved(b) - saved(a)).filter((run, at, all) => !all.slice(0, at).some(better => overlap(better, run)))
}

/** A statement in a method of a class, and what it calls. */
interface Anchor { readonly place: Omit<RunPlace, 'statements'>; readonly at: number; readonly types: ReadonlySet<string> }

const called = new WeakMap<Snapshot, Map<ts.SourceFile, readonly Anchor[]>>()

/** Statements of a file that call something of the project's. Each file of a snapshot is looked through once. */
function callsIn(file: ts.SourceFile, snapshot: Snapshot): readonly Anchor[] {
  let known = called.get(snapshot)
  if (!known) called.set(snapshot, known = new Map())
  let found = known.get(file)
  if (found) return found
  const all: Anchor[] = []
  const visit = (node: ts.Node): void => {
    const owner = ts.isBlock(node) ? instanceClassOf(node) : undefined
    if (owner) (node as ts.Block).statements.forEach((statement, at) => {
      const types = new Set(typesCalled([statement], snapshot).calls)
      if (types.size > 0) all.push({ place: { node: owner, block: node as ts.Block }, at, types })
    })
    ts.forEachChild(node, visit)
  }
  visit(file)
  known.set(file, found = all)
  return found
}

function saved(run: RepeatedRun): number { return run.places.length * run.places[0]!.statements.length }

/** Names of runs, by the method that the first place of each stands in: they stay the same while code around them changes. */
export function keysOf(runs: readonly RepeatedRun[], { declarations }: Snapshot): string[] {
  const counts = new Map<string, number>()
  return runs.map(({ places: [first] }) => {
    const name = `${declarations.ownerOf(first!.node)?.type ?? ''}.${memberName(ts.findAncestor(first!.block, ts.isClassElement)!)}`
    const count = (counts.get(name) ?? 0) + 1
    counts.set(name, count)
    return count === 1 ? name : `${name}:${count}`
  })
}

function overlap(a: RepeatedRun, b: RepeatedRun): boolean {
  return a.places.some(one => b.places.some(other => one.statements.some(statement => other.statements.includes(statement))))
}

/** The class in whose objects' methods code stands, where `this` means the object. */
function instanceClassOf(block: ts.Block): ts.ClassDeclaration | undefined {
  let at: ts.Node = block
  while (at.parent && !(ts.isFunctionLike(at) && !ts.isArrowFunction(at))) at = at.parent
  const { parent } = at
  if (!(ts.isMethodDeclaration(at) || ts.isAccessor(at)) || !ts.isClassDeclaration(parent) || !parent.name || !ts.isSourceFile(parent.parent)) return undefined
  return ts.getModifiers(at)?.some(one => one.kind === ts.SyntaxKind.StaticKeyword) ? undefined : parent
}

/** How far around two places the statements are alike, counted from the first one's. */
function longest(first: Anchor, other: Anchor, snapshot: Snapshot): { from: number; to: number } | undefined {
  const a = first.place.block.statements, b = other.place.block.statements
  const alike = (from: number, to: number) => from >= 0 && to <= a.length && other.at + from - first.at >= 0 && other.at + to - first.at <= b.length &&
    unifyStatements([a.slice(from, to), b.slice(other.at + from - first.at, other.at + to - first.at)], snapshot.checker, symbol => canName(symbol, snapshot)) !== undefined
  let from = first.at, to = first.at + 1
  if (!alike(from, to)) return undefined
  while (alike(from - 1, to)) from--
  while (alike(from, to + 1)) to++
  // Two places of one block must not run into each other.
  if (first.place.block === other.place.block && Math.abs(other.at - first.at) < to - from) return undefined
  return { from, to }
}

function runOf(first: Anchor, from: number, to: number, anchors: readonly Anchor[], snapshot: Snapshot): RepeatedRun | undefined {
  const can = (symbol: ts.Symbol) => canName(symbol, snapshot)
  const statements = trimmed(first.place.block.statements.slice(from, to), snapshot)
  if (statements.length < 2) return undefined
  const start = first.place.block.statements.indexOf(statements[0]!), lead = first.at - start
  const places: RunPlace[] = [{ ...first.place, statements }]
  for (const { place, at } of anchors) {
    const list = place.block.statements.slice(at - lead, at - lead + statements.length)
    if (at - lead < 0 || list.length < statements.length || places.some(one => one.statements.some(statement => list.includes(statement)))) continue
    if (unifyStatements([...places.map(one => one.statements), list], snapshot.checker, can)) places.push({ ...place, statements: list })
  }
  const unified = places.length < PLACES ? undefined : unifyStatements(places.map(one => one.statements), snapshot.checker, can)
  // What differs is handed in: its calls stay where they are.
  const { types, calls, built } = typesCalled(statements, snapshot, new Set(unified?.holes.map(hole => hole.nodes[0]!)))
  if (!unified || types.length < TYPES || calls.length < CALLS) return undefined
  const results = new Set(places.flatMap((place, at) => usedAfter(place, unified.locals[at]!, snapshot)))
  if (results.size > 1) return undefined
  return { places, unified, types, calls, built, result: [...results][0] ?? null, waits: statements.some(waits) }
}

/** Without what stands at either end and calls nothing of the project's. */
function trimmed(statements: readonly ts.Statement[], snapshot: Snapshot): readonly ts.Statement[] {
  let from = 0, to = statements.length
  const calls = (at: number) => typesCalled([statements[at]!], snapshot).calls.length > 0
  while (from < to && !calls(from)) from++
  while (to > from && !calls(to - 1)) to--
  return statements.slice(from, to)
}

/** Types of the project that are called or built in statements, each once, and one entry for each call; what holds only data counts for nothing. */
function typesCalled(statements: readonly ts.Statement[], snapshot: Snapshot, left: ReadonlySet<ts.Node> = new Set()): { types: string[]; calls: string[]; built: Set<string> } {
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
function usedAfter({ block, statements }: RunPlace, locals: ReadonlyMap<ts.Symbol, number>, { checker }: Snapshot): number[] {
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

function waits(node: ts.Node): boolean {
  return ts.isAwaitExpression(node) || (ts.isForOfStatement(node) && node.awaitModifier !== undefined) || (!ts.isFunctionLike(node) && childrenOf(node).some(waits))
}

/** Whether another file could name something: what the language has, what is imported, what its own file exports. */
function canName(symbol: ts.Symbol, { checker, pathOf }: Snapshot): boolean {
  if (symbol.flags & ts.SymbolFlags.Alias) return symbol.declarations?.every(ts.isImportSpecifier) === true
  const [declaration] = symbol.declarations ?? []
  if (!declaration) return false
  const file = declaration.getSourceFile()
  if (pathOf(file) === undefined || !ts.isExternalModule(file)) return true
  const module = checker.getSymbolAtLocation(file)
  return module !== undefined && checker.getExportsOfModule(module).includes(symbol)
}
