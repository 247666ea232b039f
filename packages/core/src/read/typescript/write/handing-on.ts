import ts from 'typescript'
import { memberName } from '../declarations.js'

/** The object whose method of the same name is all that a method calls: `this.tank` of `fill(n) { this.tank.fill(n) }`. Undefined for one that does anything else. */
export function handsOnTo(method: ts.MethodDeclaration): ts.Expression | undefined {
  const [only] = method.body?.statements ?? []
  const call = only && method.body!.statements.length === 1 && (ts.isReturnStatement(only) || ts.isExpressionStatement(only)) ? only.expression : undefined
  return call && ts.isCallExpression(call) && ts.isPropertyAccessExpression(call.expression) && call.expression.name.text === memberName(method) ? call.expression.expression : undefined
}
