import ts from 'typescript'
import { superCalls } from './injection-points.js'

/** Where in a class, or in a function, a node stands. */
export interface Place {
  /** The field whose initialiser it is in. */
  readonly field: ts.PropertyDeclaration | undefined
  readonly constructor: ts.ConstructorDeclaration | undefined
  /** Runs exactly once for each object. */
  readonly once: boolean
  /** Runs later than the code around it: inside a nested function. */
  readonly deferred: boolean
  /** Inside a function that has a `this` of its own. */
  readonly inFunction: boolean
}

export function placeOf(node: ts.Node, owner: ts.ClassLikeDeclaration | ts.FunctionLikeDeclaration): Place {
  let once = true, deferred = false, inFunction = false
  let at: ts.Node = node
  while (at.parent !== owner) {
    at = at.parent
    if (ts.isArrowFunction(at)) { once = false; deferred = true }
    else if (ts.isFunctionExpression(at) || ts.isFunctionDeclaration(at) || ts.isClassLike(at) ||
      (ts.isObjectLiteralExpression(at.parent) && (ts.isMethodDeclaration(at) || ts.isAccessor(at)))) { once = false; deferred = true; inFunction = true }
    else if (ts.isIterationStatement(at, false) || ts.isIfStatement(at) || ts.isConditionalExpression(at) || ts.isSwitchStatement(at) || ts.isTryStatement(at) ||
      (ts.isBinaryExpression(at) && [ts.SyntaxKind.BarBarToken, ts.SyntaxKind.AmpersandAmpersandToken, ts.SyntaxKind.QuestionQuestionToken,
        ts.SyntaxKind.QuestionQuestionEqualsToken, ts.SyntaxKind.BarBarEqualsToken].includes(at.operatorToken.kind))) once = false
  }
  const field = ts.isPropertyDeclaration(at) ? at : undefined
  const constructor = ts.isConstructorDeclaration(at) ? at : undefined
  if (constructor?.body?.statements.some(statement => ts.isReturnStatement(statement) || (ts.isIfStatement(statement) && statement.pos < node.pos && containsReturn(statement)))) once = false
  return { field, constructor, once: once && (field !== undefined || constructor !== undefined), deferred, inFunction }
}

function containsReturn(node: ts.Node): boolean {
  let found = false
  const visit = (at: ts.Node): void => { if (ts.isReturnStatement(at)) found = true; else if (!ts.isFunctionLike(at)) ts.forEachChild(at, visit) }
  visit(node)
  return found
}

export function isBeforeSuper(node: ts.Node, constructor: ts.ConstructorDeclaration): boolean {
  const call = superCalls(constructor)[0]
  return call !== undefined && node.pos < call.end
}
