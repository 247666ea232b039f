import ts from 'typescript'

/** One way that a chain of conditions can take. */
export interface Branch {
  /** Constants, texts or classes, for any of which it is taken. */
  readonly labels: readonly ts.Expression[]
  readonly body: ts.Statement
}

/** Conditions, one behind the other, each of which asks what one and the same thing is. */
export interface ConditionChain {
  readonly subject: ts.Expression
  /** Whether its classes are asked for (`instanceof`), and not what it is equal to. */
  readonly isByClass: boolean
  readonly branches: readonly Branch[]
  /** What is done where none of them holds. */
  readonly other: ts.Statement | undefined
  /** The statement that it ends with: where each branch leaves the function, another `if` behind it goes on. */
  readonly last: ts.IfStatement
}

/**
 * `if (x.kind === 'a') ... else if (x.kind === 'b') ... else ...`, and a row of `if`s each of which leaves the function; also with
 * `instanceof`. Undefined where it asks for something else, or goes on from a condition before.
 */
export function conditionChain(first: ts.IfStatement): ConditionChain | undefined {
  const start = testOf(first.expression)
  if (!start || (ts.isIfStatement(first.parent) && first.parent.elseStatement === first)) return undefined
  const before = beside(first, -1)
  if (before && isSameTest(testOf(before.expression), start) && leavesAlways(before)) return undefined
  const branches: Branch[] = []
  let last = first, other: ts.Statement | undefined
  for (let at: ts.Statement | undefined = first; at; ) {
    const test: Test | undefined = ts.isIfStatement(at) ? testOf(at.expression) : undefined
    if (!test || !isSameTest(test, start)) { other = at; break }
    const { thenStatement, elseStatement } = at as ts.IfStatement
    branches.push({ labels: test.labels, body: thenStatement })
    if (elseStatement || !branches.every(one => leaves(one.body))) { at = elseStatement; continue }
    const next = beside(last, 1)
    if (!next || !isSameTest(testOf(next.expression), start)) break
    at = last = next
  }
  return { subject: start.subject, isByClass: start.isByClass, branches, other, last }
}

interface Test { readonly subject: ts.Expression; readonly isByClass: boolean; readonly labels: readonly ts.Expression[] }

/** `x === A`, `A === x`, `x instanceof A`, and several of them for one thing with `||` between. */
function testOf(expression: ts.Expression): Test | undefined {
  if (ts.isParenthesizedExpression(expression)) return testOf(expression.expression)
  if (!ts.isBinaryExpression(expression)) return undefined
  const { left, right, operatorToken: { kind } } = expression
  if (kind === ts.SyntaxKind.BarBarToken) {
    const one = testOf(left), another = testOf(right)
    return one && another && isSameTest(one, another) ? { ...one, labels: [...one.labels, ...another.labels] } : undefined
  }
  const isByClass = kind === ts.SyntaxKind.InstanceOfKeyword
  if (!isByClass && kind !== ts.SyntaxKind.EqualsEqualsEqualsToken && kind !== ts.SyntaxKind.EqualsEqualsToken) return undefined
  const isTurned = !isByClass && ts.isStringLiteralLike(left), subject = isTurned ? right : left, label = isTurned ? left : right
  const isLabel = isByClass ? ts.isIdentifier(label) || (ts.isPropertyAccessExpression(label) && isName(label)) : ts.isStringLiteralLike(label) || (ts.isPropertyAccessExpression(label) && ts.isIdentifier(label.expression))
  return isLabel ? { subject, isByClass, labels: [label] } : undefined
}

/** A name, or a property of one. */
export function isName(node: ts.Expression): boolean {
  return ts.isIdentifier(node) || node.kind === ts.SyntaxKind.ThisKeyword || (ts.isPropertyAccessExpression(node) && isName(node.expression))
}

function isSameTest(one: Test | undefined, another: Test): boolean {
  return one !== undefined && one.isByClass === another.isByClass && one.subject.getText() === another.subject.getText()
}

/** The `if` directly before or behind a statement. */
function beside(node: ts.Statement, by: 1 | -1): ts.IfStatement | undefined {
  const { parent } = node
  if (!ts.isBlock(parent) && !ts.isSourceFile(parent) && !ts.isCaseOrDefaultClause(parent)) return undefined
  const found = parent.statements[parent.statements.indexOf(node) + by]
  return found && ts.isIfStatement(found) ? found : undefined
}

function leavesAlways(node: ts.IfStatement): boolean {
  const { thenStatement, elseStatement } = node
  return leaves(thenStatement) && (!elseStatement || (ts.isIfStatement(elseStatement) && leavesAlways(elseStatement)))
}

/** Whether a function is left at the end of a statement, if not before. */
export function leaves(statement: ts.Statement | undefined): boolean {
  if (!statement) return false
  if (ts.isIfStatement(statement)) return leaves(statement.thenStatement) && leaves(statement.elseStatement)
  return ts.isReturnStatement(statement) || ts.isThrowStatement(statement) || (ts.isBlock(statement) && leaves(statement.statements.at(-1)))
}
