import ts from 'typescript'
import type { TypeNode } from '../declarations.js'
import { symbolOf } from '../declarations.js'
import type { Snapshot } from '../session.js'
import { topLevelStatement } from './moving-statements.js'

/** What stands at the top of a file under a name, so that it can stand in another file. */
export interface MovableDeclaration {
  readonly file: ts.SourceFile
  readonly name: string
  /** All statements that declare it; undefined where it is declared in other files too. */
  readonly statements: readonly ts.Statement[] | undefined
}

/** A class, interface, enum or structural type; undefined where it does not stand by itself at the top of a TypeScript module. */
export function movableType(node: TypeNode, snapshot: Snapshot): MovableDeclaration | undefined {
  const file = node.getSourceFile()
  if (node.parent !== file || !node.name || !isModule(file, snapshot)) return undefined
  const statements = (symbolOf(node)?.declarations ?? [node]).map(one => topLevelStatement(one, file))
  return { file, name: node.name.text, statements: statements.includes(undefined) ? undefined : statements as ts.Statement[] }
}

/** A function, a constant, or another name for a type; undefined for what runs something as its file is loaded. */
export function movableMember(file: ts.SourceFile, member: string, snapshot: Snapshot): MovableDeclaration | undefined {
  if (!isModule(file, snapshot)) return undefined
  const statements = file.statements.filter(one => nameOf(one) === member)
  return statements.length > 0 && statements.every(isStill) ? { file, name: member, statements } : undefined
}

function isModule(file: ts.SourceFile, { pathOf }: Snapshot): boolean {
  return !file.isDeclarationFile && ts.isExternalModule(file) && /\.[cm]?tsx?$/.test(pathOf(file) ?? '')
}

/** The one name that a statement declares. */
function nameOf(statement: ts.Statement): string | undefined {
  if (ts.isFunctionDeclaration(statement) || ts.isTypeAliasDeclaration(statement)) return statement.name?.text
  const [only, another] = ts.isVariableStatement(statement) ? statement.declarationList.declarations : []
  return only && !another && ts.isIdentifier(only.name) ? only.name.text : undefined
}

/** Whether nothing runs where it stands, so that it does not matter when that is. */
function isStill(statement: ts.Statement): boolean {
  if (!ts.isVariableStatement(statement)) return true
  const { declarationList: { flags, declarations: [only] } } = statement
  return (flags & ts.NodeFlags.Const) !== 0 && only?.initializer !== undefined && isPlainValue(only.initializer)
}

function isPlainValue(value: ts.Expression): boolean {
  if (ts.isAsExpression(value) || ts.isSatisfiesExpression(value) || ts.isParenthesizedExpression(value)) return isPlainValue(value.expression)
  // Freezing what is made here runs nothing else.
  if (ts.isCallExpression(value) && value.expression.getText() === 'Object.freeze' && value.arguments.length === 1) return isPlainValue(value.arguments[0]!)
  if (ts.isArrayLiteralExpression(value)) return value.elements.every(isPlainValue)
  if (ts.isObjectLiteralExpression(value)) return value.properties.every(one => ts.isMethodDeclaration(one) || (ts.isPropertyAssignment(one) && !ts.isComputedPropertyName(one.name) && isPlainValue(one.initializer)))
  if (ts.isPrefixUnaryExpression(value)) return isPlainValue(value.operand)
  return ts.isLiteralExpression(value) || ts.isArrowFunction(value) || ts.isFunctionExpression(value) || [ts.SyntaxKind.TrueKeyword, ts.SyntaxKind.FalseKeyword, ts.SyntaxKind.NullKeyword].includes(value.kind)
}
