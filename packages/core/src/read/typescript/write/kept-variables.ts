import ts from 'typescript'
import type { DividedCase, DividedSwitch, KeptVariable } from './switch-cases.js'
import { isTarget } from './settled.js'

/** More of them than this would make of each class a bag of numbers. */
const MOST = 4

/**
 * Variables of the function around that cases set. `isWhole`: each value has a case. Undefined where one of them cannot be handed to
 * a case and had back from it: a function inside knows it too, or what throws would leave it half set.
 */
export function keptVariables({ node, around, cases }: Pick<DividedSwitch, 'node' | 'around' | 'cases'>, isWhole: boolean, checker: ts.TypeChecker): readonly KeptVariable[] | undefined {
  const set = new Set<ts.Symbol>()
  const visit = (at: ts.Node): void => {
    const symbol = ts.isIdentifier(at) && isTarget(at) ? ts.isShorthandPropertyAssignment(at.parent) ? checker.getShorthandAssignmentValueSymbol(at.parent) : checker.getSymbolAtLocation(at) : undefined
    if (symbol && !symbol.declarations?.some(one => cases.some(each => each.statements.some(statement => statement.pos <= one.pos && one.end <= statement.end)))) set.add(symbol)
    ts.forEachChild(at, visit)
  }
  for (const one of cases) one.statements.forEach(visit)
  if (set.size === 0) return []
  if (set.size > MOST || isTried(node, around)) return undefined
  const kept: KeptVariable[] = []
  for (const symbol of set) {
    const declaration = symbol.valueDeclaration
    if (!declaration || !(ts.isVariableDeclaration(declaration) || ts.isParameter(declaration)) || !ts.isIdentifier(declaration.name) || functionOf(declaration) !== around || isKnownInside(symbol, around, checker)) return undefined
    if (checker.getTypeOfSymbol(symbol).flags & ts.TypeFlags.Any) return undefined
    kept.push({ set: symbol, declaration, isHanded: !isWhole || !cases.every(one => setsFirst(one, symbol, checker)) })
  }
  return kept.sort((a, b) => a.declaration.pos - b.declaration.pos)
}

function functionOf(node: ts.Node): ts.Node | undefined { return ts.findAncestor(node.parent, one => ts.isFunctionLike(one) || ts.isClassStaticBlockDeclaration(one)) }

/** Whether what fails in a statement is caught in the same function, where a variable would be seen that was set before. */
function isTried(node: ts.Node, around: ts.Node): boolean {
  for (let at = node; at !== around; at = at.parent) if (ts.isTryStatement(at)) return true
  return false
}

/** Whether an expression is a variable or argument that stays as it is while statements run which do not set it themselves: no function inside knows it. */
export function staysAsItIs(node: ts.Expression, checker: ts.TypeChecker): boolean {
  const symbol = !ts.isIdentifier(node) ? undefined : ts.isShorthandPropertyAssignment(node.parent) ? checker.getShorthandAssignmentValueSymbol(node.parent) : checker.getSymbolAtLocation(node)
  const declaration = symbol?.valueDeclaration, around = declaration && functionOf(declaration)
  // One that may not have a value yet is better not asked for it.
  const hasValue = declaration && (ts.isParameter(declaration) || (ts.isVariableDeclaration(declaration) && declaration.initializer !== undefined))
  return symbol !== undefined && around !== undefined && hasValue === true && functionOf(node) === around && !isKnownInside(symbol, around, checker)
}

function isKnownInside(symbol: ts.Symbol, around: ts.Node, checker: ts.TypeChecker): boolean {
  const visit = (at: ts.Node, isInside: boolean): boolean => {
    if (isInside && ts.isIdentifier(at) && at.text === symbol.name && (ts.isShorthandPropertyAssignment(at.parent) ? checker.getShorthandAssignmentValueSymbol(at.parent) : checker.getSymbolAtLocation(at)) === symbol) return true
    const inner = isInside || (at !== around && (ts.isFunctionLike(at) || ts.isClassLike(at)))
    return ts.forEachChild(at, child => visit(child, inner) || undefined) ?? false
  }
  return visit(around, false)
}

/** Whether a case sets a variable before it looks at it; one that only fails needs none. */
function setsFirst({ statements, breaks }: DividedCase, symbol: ts.Symbol, checker: ts.TypeChecker): boolean {
  const speaks = (node: ts.Node): boolean => (ts.isIdentifier(node) && node.text === symbol.name && checker.getSymbolAtLocation(node) === symbol) || (ts.forEachChild(node, child => speaks(child) || undefined) ?? false)
  const first = statements.find(speaks), last = statements.at(-1)
  if (!first) return last !== undefined && ts.isThrowStatement(last) && breaks.length === 0
  const setting = ts.isExpressionStatement(first) && ts.isBinaryExpression(first.expression) && first.expression.operatorToken.kind === ts.SyntaxKind.EqualsToken ? first.expression : undefined
  return setting !== undefined && ts.isIdentifier(setting.left) && setting.left.text === symbol.name && !speaks(setting.right) && !breaks.some(one => one.pos < first.end)
}
