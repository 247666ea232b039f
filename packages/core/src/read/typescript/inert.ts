import ts from 'typescript'
import { isTypeNode } from './declarations.js'

/** True for types that hold only data: no test would want to replace them. Enums, records, exceptions and aliases of them. */
export function isInertType(symbol: ts.Symbol, checker: ts.TypeChecker, known: Map<ts.Symbol, boolean>): boolean {
  const before = known.get(symbol)
  if (before !== undefined) return before
  // While it is being found out, a type that inherits from itself counts as data.
  known.set(symbol, true)
  const inert = (symbol.declarations ?? []).filter(isTypeNode).every(node => {
    if (ts.isEnumDeclaration(node)) return true
    if (ts.isTypeAliasDeclaration(node)) return ts.isTypeLiteralNode(node.type) && node.type.members.every(isDataMember)
    for (const clause of node.heritageClauses ?? []) {
      if (clause.token === ts.SyntaxKind.ImplementsKeyword) {
        // What is implemented as an abstraction is meant to be replaced.
        if (clause.types.length > 0) return false
        continue
      }
      for (const heritage of clause.types) {
        const type = checker.getTypeAtLocation(heritage)
        const base = type.symbol as ts.Symbol | undefined
        if (base === undefined) return false
        if (/(^|\.)[A-Za-z]*(Error|Exception)$/.test(base.name)) continue
        if (!isInertType(base, checker, known) || !base.declarations?.some(isTypeNode)) return false
      }
    }
    return ts.isClassLike(node) ? isException(node) || node.members.every(isDataMember) : node.members.every(isDataMember)
  })
  known.set(symbol, inert)
  return inert
}

function isException(node: ts.ClassLikeDeclaration): boolean {
  return node.heritageClauses?.some(clause => clause.token === ts.SyntaxKind.ExtendsKeyword &&
    /(Error|Exception)$/.test(clause.types[0]?.expression.getText() ?? '')) === true
}

function isDataMember(member: ts.ClassElement | ts.TypeElement): boolean {
  if (ts.isPropertyDeclaration(member)) {
    const value = member.initializer
    return !value || !(ts.isArrowFunction(value) || ts.isFunctionExpression(value) || ts.isNewExpression(value))
  }
  if (ts.isPropertySignature(member)) return !member.type || !ts.isFunctionTypeNode(member.type)
  if (ts.isConstructorDeclaration(member)) return member.body === undefined || member.body.statements.length === 0 ||
    member.body.statements.every(statement => ts.isExpressionStatement(statement) &&
      (ts.isBinaryExpression(statement.expression) || statement.expression.getText().startsWith('super(')))
  return ts.isIndexSignatureDeclaration(member)
}
