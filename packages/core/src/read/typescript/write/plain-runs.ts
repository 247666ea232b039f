import ts from 'typescript'
import { memberName } from '../declarations.js'
import type { Snapshot } from '../session.js'
import { returnsIn } from './divided-switch.js'
import { lineOf } from './injection-points.js'
import { canName } from './repeated-runs.js'
import { isTypeParameterOf } from './scoped-type-parameters.js'
import { isSettled } from './settled.js'
import type { Unified } from './statement-unifier.js'
import { unifyStatements } from './statement-unifier.js'

/** Statements of one method that could stand in another class. */
export interface PlainRun {
  readonly node: ts.ClassDeclaration
  readonly method: ts.MethodDeclaration
  readonly block: ts.Block
  readonly statements: readonly ts.Statement[]
  readonly unified: Unified
  /** They are the rest of the method, and what they give back is what it gives back. */
  readonly returns: boolean
}

export const linesOf = ({ statements }: Pick<PlainRun, 'statements'>): number => {
  const file = statements[0]!.getSourceFile()
  return file.getLineAndCharacterOfPosition(statements.at(-1)!.end).line - file.getLineAndCharacterOfPosition(statements[0]!.getStart(file)).line + 1
}

/** Of each method the statements in a row that do without what the class inherits and set none of its fields, most lines first. */
export function plainRuns(node: ts.ClassLikeDeclaration, snapshot: Snapshot): PlainRun[] {
  if (!isDivisible(node)) return []
  const libraries = librariesOf(node, snapshot)
  const found: PlainRun[] = []
  for (const method of node.members) {
    const body = bodyOf(method)
    if (!body) continue
    let best: PlainRun | undefined
    for (let from = 0; from < body.statements.length; from++) for (let to = body.statements.length; to > from; to--) {
      const statements = body.statements.slice(from, to)
      if (best && linesOf({ statements }) <= linesOf(best)) break
      const returns = to === body.statements.length && givesBack(statements)
      const unified = unifyStatements([statements], snapshot.checker, symbol => canName(symbol, snapshot) || isTypeParameterOf(symbol, node), returns)
      if (unified && isPlain(statements, node, libraries, snapshot) && !tellsMoreLater(unified, snapshot)) best = { node, method: method as ts.MethodDeclaration, block: body, statements, unified, returns }
    }
    if (best) found.push(best)
  }
  return found.sort((a, b) => linesOf(b) - linesOf(a))
}

function isDivisible(node: ts.ClassLikeDeclaration): node is ts.ClassDeclaration {
  return ts.isClassDeclaration(node) && node.name !== undefined && ts.isSourceFile(node.parent) && !ts.getDecorators(node)?.length && !/\.[cm]?jsx?$/.test(node.getSourceFile().fileName)
}

/** The body of a method whose statements may go; undefined of another member. */
function bodyOf(member: ts.ClassElement): ts.Block | undefined {
  return ts.isMethodDeclaration(member) && !member.asteriskToken && !ts.getModifiers(member)?.some(one => one.kind === ts.SyntaxKind.StaticKeyword) ? member.body : undefined
}

/** The fewest statements in a row of a method that hold some lines and can stand elsewhere; undefined where there are none, or one alone. */
export function touchingRun(node: ts.ClassLikeDeclaration, member: string, lines: readonly number[], snapshot: Snapshot): PlainRun | undefined {
  if (!isDivisible(node)) return undefined
  for (const method of node.members) {
    const body = memberName(method) === member ? bodyOf(method) : undefined
    if (!body || lines.length === 0 || !lines.every(line => holds(body, line))) continue
    for (const block of blocksIn(body).filter(one => lines.every(line => holds(one, line))).reverse()) {
      const from = block.statements.findIndex(one => lines.some(line => holds(one, line))), last = block.statements.findLastIndex(one => lines.some(line => holds(one, line)))
      if (from < 0 || !lines.every(line => block.statements.some(one => holds(one, line)))) continue
      // What follows may have to go along: it gives back what the statements make.
      for (let to = last + 1; to <= block.statements.length; to++) {
        const statements = block.statements.slice(from, to), returns = block === body && to === block.statements.length && givesBack(statements)
        const unified = statements.length > 1 && !(from === 0 && to === block.statements.length && block === body) ? unifyStatements([statements], snapshot.checker, symbol => canName(symbol, snapshot) || isTypeParameterOf(symbol, node), returns) : undefined
        if (unified && !tellsMoreLater(unified, snapshot)) return { node, method: method as ts.MethodDeclaration, block, statements, unified, returns }
      }
    }
  }
  return undefined
}

function holds(node: ts.Node, line: number): boolean { return lineOf(node) <= line && line <= node.getSourceFile().getLineAndCharacterOfPosition(node.end).line + 1 }

/** A block and those inside it that run with it, the outer before the inner. */
function blocksIn(block: ts.Block): ts.Block[] {
  const found = [block]
  const visit = (at: ts.Node): void => {
    if (ts.isFunctionLike(at) || ts.isClassLike(at)) return
    if (ts.isBlock(at)) found.push(at)
    ts.forEachChild(at, visit)
  }
  ts.forEachChild(block, visit)
  return found
}

/** Whether a condition tells more of what may be set in between, which is asked for anew at each place. */
function tellsMoreLater({ holes }: Unified, snapshot: Snapshot): boolean {
  const types = new Map<string, ts.Type>()
  return holes.some(({ nodes: [node] }) => {
    if (!node || isSettled(node, snapshot)) return false
    const text = node.getText(), type = snapshot.checker.getTypeAtLocation(node), before = types.get(text)
    types.set(text, type)
    return before !== undefined && before !== type
  })
}

/** Whether statements that run to the end of their method give a value back wherever they leave it. */
function givesBack(statements: readonly ts.Statement[]): boolean {
  const last = statements.at(-1)!, all = statements.flatMap(returnsIn)
  return (ts.isReturnStatement(last) || ts.isThrowStatement(last)) && all.length > 0 && all.every(one => one.expression)
}

/** Files of the libraries that a class inherits from. */
function librariesOf(node: ts.ClassDeclaration, { checker, pathOf }: Snapshot): Set<string> {
  const folders = new Set<string>()
  const visit = (type: ts.Type): void => {
    for (const declaration of type.symbol?.declarations ?? []) if (pathOf(declaration.getSourceFile()) === undefined) folders.add(declaration.getSourceFile().fileName)
    for (const base of type.getBaseTypes?.() ?? []) visit(base)
  }
  for (const base of checker.getTypeAtLocation(node).getBaseTypes?.() ?? []) visit(base)
  return folders
}

/** Whether of the object statements use fields of its own alone, and name nothing of the libraries. */
function isPlain(statements: readonly ts.Statement[], node: ts.ClassDeclaration, libraries: ReadonlySet<string>, { checker }: Snapshot): boolean {
  const own = new Set<ts.Node>([...node.members.filter(ts.isPropertyDeclaration), ...node.members.filter(ts.isConstructorDeclaration).flatMap(one => [...one.parameters])])
  let plain = true
  const visit = (at: ts.Node): void => {
    if (at.kind === ts.SyntaxKind.ThisKeyword) {
      const field = ts.isPropertyAccessExpression(at.parent) && at.parent.expression === at ? checker.getSymbolAtLocation(at.parent.name)?.valueDeclaration : undefined
      if (!field || !own.has(field)) plain = false
    }
    if (ts.isIdentifier(at)) {
      const symbol = checker.getSymbolAtLocation(at), target = symbol && symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol
      if (target?.declarations?.some(one => libraries.has(one.getSourceFile().fileName))) plain = false
    }
    ts.forEachChild(at, visit)
  }
  statements.forEach(visit)
  return plain
}
