import ts from 'typescript'
import { memberName } from '../declarations.js'
import type { Snapshot } from '../session.js'
import { topLevelNames } from './file-editor.js'
import { isSetIn } from './filled-fields.js'
import { isSetAnywhere } from './handed-fields.js'
import { isSettled } from './settled.js'

/** A field of a class that nothing sets any more once it is filled, so that another object can have the same. */
export interface SharedField {
  readonly name: string
  /** Its declaration, or the argument of the constructor that is one. */
  readonly declared: ts.PropertyDeclaration | ts.ParameterDeclaration
  /** The statement of the constructor that fills it; undefined where its declaration says what it is. */
  readonly filled: ts.ExpressionStatement | undefined
  /** Whether its declaration makes what it holds. */
  readonly isMade: boolean
  /** The type, as it can be written in the same file. */
  readonly type: string
  /** What it is, in the constructor: an argument, or the field itself. */
  readonly given: string
}

/** The fields of a class that can be shared, by name. */
export function sharedFields(node: ts.ClassDeclaration, snapshot: Snapshot): ReadonlyMap<string, SharedField> {
  const found = new Map<string, SharedField>()
  const [constructor, another] = node.members.filter(ts.isConstructorDeclaration)
  if (another) return found
  const note = (declared: SharedField['declared'], written: ts.ParameterDeclaration | ts.PropertyDeclaration, filled: ts.ExpressionStatement | undefined, given: string) => {
    const name = declared.name.getText(), text = typeOf(written, snapshot)
    if (text === undefined || isSetAnywhere(name, node, filled ?? null)) return
    found.set(name, { name, declared, filled, isMade: ts.isPropertyDeclaration(declared) && declared.initializer !== undefined, type: text, given })
  }
  for (const one of constructor?.body ? constructor.parameters : []) {
    if (ts.isIdentifier(one.name) && !one.dotDotDotToken && ts.getModifiers(one)?.length && !isSetIn(one.name.text, constructor!.body!)) note(one, one, undefined, one.name.text)
  }
  for (const member of node.members) {
    if (!ts.isPropertyDeclaration(member) || ts.getModifiers(member)?.some(one => one.kind === ts.SyntaxKind.StaticKeyword || one.kind === ts.SyntaxKind.AbstractKeyword || one.kind === ts.SyntaxKind.DeclareKeyword) || ts.getDecorators(member)?.length) continue
    if (member.initializer) { note(member, member, undefined, `this.${memberName(member)}`); continue }
    const filled = constructor?.body?.statements.find((statement): statement is ts.ExpressionStatement => fills(statement, memberName(member)))
    if (!filled) continue
    const value = (filled.expression as ts.BinaryExpression).right
    const parameter = ts.isIdentifier(value) && isSettled(value, snapshot) ? constructor!.parameters.find(one => ts.isIdentifier(one.name) && one.name.text === value.text && !one.dotDotDotToken) : undefined
    note(member, member.type || !parameter ? member : parameter, filled, parameter?.name.getText() ?? `this.${memberName(member)}`)
  }
  return found
}

/** `this.name = …`. */
function fills(statement: ts.Statement, name: string): boolean {
  const value = ts.isExpressionStatement(statement) ? statement.expression : undefined
  return value !== undefined && ts.isBinaryExpression(value) && value.operatorToken.kind === ts.SyntaxKind.EqualsToken && ts.isPropertyAccessExpression(value.left) && value.left.expression.kind === ts.SyntaxKind.ThisKeyword && value.left.name.text === name
}

/** Types that can be named everywhere. */
const KNOWN = new Set(['string', 'number', 'boolean', 'bigint', 'symbol', 'undefined', 'null', 'unknown', 'never', 'void', 'Array', 'ReadonlyArray', 'Map', 'ReadonlyMap', 'Set', 'ReadonlySet', 'WeakMap', 'WeakSet', 'Promise', 'Record', 'RegExp', 'Date', 'Error', 'Uint8Array'])

/** A type as it is written, or as the compiler names it; undefined where it has no name that can be written there. */
function typeOf(declared: ts.ParameterDeclaration | ts.PropertyDeclaration, { checker }: Snapshot): string | undefined {
  const optional = (text: string) => (declared.questionToken ? `${/=>|\bnew\b/.test(text) ? `(${text})` : text} | undefined` : text)
  if (declared.type) return optional(declared.type.getText())
  const text = checker.typeToString(checker.getBaseTypeOfLiteralType(checker.getTypeAtLocation(declared)), declared, ts.TypeFormatFlags.NoTruncation | ts.TypeFormatFlags.UseAliasDefinedOutsideCurrentScope)
  const names = text.match(/[A-Za-z_$][\w$]*/g) ?? [], known = topLevelNames(declared.getSourceFile())
  return /^[\w$<>[\], |]+$/.test(text) && names.every(name => KNOWN.has(name) || known.has(name)) ? optional(text) : undefined
}
