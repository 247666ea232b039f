import ts from 'typescript'
import { memberName } from '../declarations.js'

/**
 * The object whose member of the same name is all that a member asks for: `this.tank` of `fill(n) { this.tank.fill(n) }` and of
 * `get full() { return this.tank.full }`. Undefined for one that does anything else.
 */
export function handsOnTo(method: ts.MethodDeclaration | ts.AccessorDeclaration): ts.Expression | undefined {
  const [only] = method.body?.statements ?? []
  const call = only && method.body!.statements.length === 1 && (ts.isReturnStatement(only) || ts.isExpressionStatement(only)) ? only.expression : undefined
  if (ts.isAccessor(method)) {
    const named = call && ts.isBinaryExpression(call) && ts.isSetAccessor(method) ? call.left : call
    return named && ts.isPropertyAccessExpression(named) && named.name.text === memberName(method) ? named.expression : undefined
  }
  return call && ts.isCallExpression(call) && ts.isPropertyAccessExpression(call.expression) && call.expression.name.text === memberName(method) ? call.expression.expression : undefined
}
