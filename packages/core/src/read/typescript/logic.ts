import ts from 'typescript'

/** True for a body that does more than assign, return or forward. */
export function hasLogic(body: ts.ConciseBody): boolean {
  const simple = (expression: ts.Expression | undefined): boolean => {
    if (!expression) return true
    if (ts.isIdentifier(expression) || ts.isLiteralExpression(expression) || expression.kind === ts.SyntaxKind.ThisKeyword ||
      expression.kind === ts.SyntaxKind.TrueKeyword || expression.kind === ts.SyntaxKind.FalseKeyword || expression.kind === ts.SyntaxKind.NullKeyword) return true
    if (ts.isPropertyAccessExpression(expression) || ts.isNonNullExpression(expression) || ts.isAwaitExpression(expression)) return simple(expression.expression)
    if (ts.isCallExpression(expression)) return simple(expression.expression) && expression.arguments.every(simple)
    if (ts.isArrayLiteralExpression(expression)) return expression.elements.length === 0
    return false
  }
  if (!ts.isBlock(body)) return !simple(body)
  if (body.statements.length > 1 && !body.statements.every(ts.isExpressionStatement)) return true
  return !body.statements.every(statement => {
    if (ts.isReturnStatement(statement)) return simple(statement.expression)
    if (!ts.isExpressionStatement(statement)) return false
    const { expression } = statement
    if (ts.isBinaryExpression(expression)) return expression.operatorToken.kind === ts.SyntaxKind.EqualsToken && simple(expression.right)
    return simple(expression)
  })
}

/** True for a body that does nothing, or only throws. */
export function refusesToWork(body: ts.ConciseBody): boolean {
  if (!ts.isBlock(body)) return false
  return body.statements.length === 0 || (body.statements.length === 1 && ts.isThrowStatement(body.statements[0]!))
}

/** The parts of a body that hold no other statement, in their order: simple statements, and what conditions and loops look at. */
export function statementsOf(body: ts.ConciseBody): ts.Node[] {
  const parts: ts.Node[] = []
  const visit = (node: ts.Node): void => {
    if (ts.isBlock(node) || ts.isCaseBlock(node) || ts.isCaseClause(node) || ts.isDefaultClause(node) || ts.isIterationStatement(node, false) || ts.isIfStatement(node) || ts.isSwitchStatement(node) ||
      ts.isTryStatement(node) || ts.isLabeledStatement(node)) ts.forEachChild(node, child => { if (!(ts.isLabeledStatement(node) && child === node.label)) visit(child) })
    else if (ts.isCatchClause(node)) visit(node.block)
    else parts.push(node)
  }
  visit(body)
  return parts
}
