import ts from 'typescript'
import type { Snapshot } from '../session.js'

const accessors = new WeakMap<Snapshot, ReadonlySet<string>>()

/** Names of accessors of the project's classes: a field of such a name may be worked out when it is read. */
function accessorNames(snapshot: Snapshot): ReadonlySet<string> {
  let names = accessors.get(snapshot)
  if (!names) accessors.set(snapshot, names = new Set(snapshot.facts.files.flatMap(file => file.types.flatMap(type => type.members.filter(one => one.kind === 'getter' || one.kind === 'setter').map(one => one.name)))))
  return names
}

/** Whether looking at a property may run something of the project. */
export function mayRun(node: ts.Expression, snapshot: Snapshot): boolean {
  return ts.isPropertyAccessExpression(node) && (accessorNames(snapshot).has(node.name.text) || mayRun(node.expression, snapshot))
}

/** Whether it makes no difference when, and how often, an expression is worked out. */
export function isSettled(node: ts.Expression, snapshot: Snapshot): boolean {
  const { checker } = snapshot
  const settled = (one: ts.Expression) => isSettled(one, snapshot)
  if (ts.isParenthesizedExpression(node) || ts.isAsExpression(node) || ts.isNonNullExpression(node) || ts.isSatisfiesExpression(node)) return settled(node.expression)
  if (ts.isLiteralExpression(node) && !ts.isRegularExpressionLiteral(node)) return true
  if ([ts.SyntaxKind.TrueKeyword, ts.SyntaxKind.FalseKeyword, ts.SyntaxKind.NullKeyword, ts.SyntaxKind.ThisKeyword].includes(node.kind)) return true
  if (ts.isTemplateExpression(node)) return node.templateSpans.every(span => settled(span.expression) && isPlain(span.expression, checker))
  if (ts.isBinaryExpression(node)) {
    const { kind } = node.operatorToken
    return kind > ts.SyntaxKind.LastAssignment || kind < ts.SyntaxKind.FirstAssignment ? [node.left, node.right].every(one => settled(one) && isPlain(one, checker)) : false
  }
  if (ts.isPrefixUnaryExpression(node)) return node.operator !== ts.SyntaxKind.PlusPlusToken && node.operator !== ts.SyntaxKind.MinusMinusToken && settled(node.operand) && isPlain(node.operand, checker)
  if (ts.isConditionalExpression(node)) return settled(node.condition) && settled(node.whenTrue) && settled(node.whenFalse)
  if (ts.isIdentifier(node)) {
    const symbol = ts.isShorthandPropertyAssignment(node.parent) ? checker.getShorthandAssignmentValueSymbol(node.parent) : checker.getSymbolAtLocation(node)
    return node.text === 'undefined' || (symbol !== undefined && isNeverSet(symbol, checker))
  }
  if (ts.isPropertyAccessExpression(node)) {
    if (!settled(node.expression) || accessorNames(snapshot).has(node.name.text)) return false
    const declarations = checker.getSymbolAtLocation(node.name)?.declarations ?? []
    return declarations.length > 0 && declarations.every(isFixed)
  }
  return false
}

/** Text, numbers and the like, which nothing is run for to work with. */
function isPlain(node: ts.Expression, checker: ts.TypeChecker): boolean {
  const plain = ts.TypeFlags.StringLike | ts.TypeFlags.NumberLike | ts.TypeFlags.BooleanLike | ts.TypeFlags.BigIntLike | ts.TypeFlags.Null | ts.TypeFlags.Undefined
  const type = checker.getTypeAtLocation(node)
  return (type.isUnion() ? type.types : [type]).every(one => (one.flags & plain) !== 0)
}

function isFixed(declaration: ts.Declaration): boolean {
  if (ts.isEnumMember(declaration)) return true
  return (ts.isPropertyDeclaration(declaration) || ts.isPropertySignature(declaration) || ts.isParameter(declaration)) &&
    ts.getModifiers(declaration)?.some(one => one.kind === ts.SyntaxKind.ReadonlyKeyword) === true
}

/** A constant, or an argument or variable that its function sets no more after it is declared. */
function isNeverSet(symbol: ts.Symbol, checker: ts.TypeChecker): boolean {
  const [declaration, another] = symbol.declarations ?? []
  if (!declaration || another) return false
  if (symbol.flags & (ts.SymbolFlags.Class | ts.SymbolFlags.Function | ts.SymbolFlags.Enum)) return true
  if (symbol.flags & ts.SymbolFlags.Alias) return false
  if (ts.isVariableDeclaration(declaration) && ts.getCombinedNodeFlags(declaration) & ts.NodeFlags.Const) return true
  if (ts.isBindingElement(declaration) && ts.getCombinedNodeFlags(declaration) & ts.NodeFlags.Const) return true
  const around = ts.findAncestor(declaration, one => ts.isFunctionLike(one) && one !== declaration.parent) ?? declaration.getSourceFile()
  const owner = ts.isParameter(declaration) ? declaration.parent : around
  let isSet = false
  const visit = (node: ts.Node): void => {
    if (ts.isIdentifier(node) && node.text === symbol.name && node !== (declaration as ts.NamedDeclaration).name && checker.getSymbolAtLocation(node) === symbol && isTarget(node)) isSet = true
    ts.forEachChild(node, visit)
  }
  visit(owner)
  return !isSet
}

/** Whether a name, or a property, is set where it stands. */
export function isTarget(name: ts.Identifier | ts.PropertyAccessExpression): boolean {
  let at: ts.Node = name
  // `[a, { b }] = …` sets both.
  while (ts.isParenthesizedExpression(at.parent) || ts.isAsExpression(at.parent) || ts.isNonNullExpression(at.parent) || ts.isArrayLiteralExpression(at.parent) || ts.isObjectLiteralExpression(at.parent) || ts.isPropertyAssignment(at.parent) || ts.isShorthandPropertyAssignment(at.parent) || ts.isSpreadElement(at.parent)) at = at.parent
  const { parent } = at
  if (ts.isBinaryExpression(parent)) return parent.left === at && parent.operatorToken.kind >= ts.SyntaxKind.FirstAssignment && parent.operatorToken.kind <= ts.SyntaxKind.LastAssignment
  if (ts.isPrefixUnaryExpression(parent) || ts.isPostfixUnaryExpression(parent)) return parent.operator === ts.SyntaxKind.PlusPlusToken || parent.operator === ts.SyntaxKind.MinusMinusToken
  return (ts.isForOfStatement(parent) || ts.isForInStatement(parent)) && parent.initializer === at
}

const COLLECTIONS = new Set(['Map', 'Set', 'WeakMap', 'WeakSet'])

/** `new Map()` of the language itself. */
function isEmptyCollection(node: ts.Expression, checker: ts.TypeChecker): boolean {
  return ts.isNewExpression(node) && !node.arguments?.length && ts.isIdentifier(node.expression) && COLLECTIONS.has(node.expression.text) &&
    (checker.getSymbolAtLocation(node.expression)?.declarations ?? []).every(one => one.getSourceFile().isDeclarationFile)
}

/** Whether building an object runs nothing but the filling of its own fields with what it is handed and with plain values. */
export function isQuietCreation(node: ts.NewExpression, { checker }: Snapshot): boolean {
  const found = checker.getSymbolAtLocation(node.expression)
  const symbol = found && found.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(found) : found
  const declaration = symbol?.declarations?.find(ts.isClassLike)
  if (!declaration || declaration.heritageClauses?.some(clause => clause.token === ts.SyntaxKind.ExtendsKeyword) || ts.getDecorators(declaration as ts.ClassDeclaration)?.length) return false
  const isValue = (one: ts.Expression): boolean => ts.isLiteralExpression(one) || ts.isIdentifier(one) || (ts.isArrayLiteralExpression(one) && one.elements.length === 0) || (ts.isObjectLiteralExpression(one) && one.properties.length === 0) ||
    [ts.SyntaxKind.TrueKeyword, ts.SyntaxKind.FalseKeyword, ts.SyntaxKind.NullKeyword].includes(one.kind) || isEmptyCollection(one, checker) || (ts.isPrefixUnaryExpression(one) && ts.isNumericLiteral(one.operand))
  return declaration.members.every(member => {
    if (ts.isPropertyDeclaration(member)) return ts.getModifiers(member)?.some(one => one.kind === ts.SyntaxKind.StaticKeyword) || !member.initializer || isValue(member.initializer)
    if (!ts.isConstructorDeclaration(member)) return !ts.isSetAccessor(member)
    return member.parameters.every(one => !one.initializer || isValue(one.initializer)) && (member.body?.statements.every(statement => ts.isExpressionStatement(statement) && ts.isBinaryExpression(statement.expression) &&
      statement.expression.operatorToken.kind === ts.SyntaxKind.EqualsToken && ts.isPropertyAccessExpression(statement.expression.left) && statement.expression.left.expression.kind === ts.SyntaxKind.ThisKeyword && isValue(statement.expression.right)) ?? true)
  })
}
