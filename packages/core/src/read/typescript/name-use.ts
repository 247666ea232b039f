import ts from 'typescript'
import type { ReferenceKind } from '../../model/facts.js'
import { RUNTIME } from './externals.js'

/** How a name is used: as what kind, and on which receiver. */
export interface Use {
  readonly kind: ReferenceKind
  readonly receiver: ts.Expression | null
  /** True for the class in `Class.member`: the member's own reference tells how it is held. */
  readonly staticReceiver: boolean
}

/** What the code around a name does with it. */
export function describeUse(name: ts.Node): Use {
  let at: ts.Node = name
  let receiver: ts.Expression | null = null
  if (ts.isPropertyAccessExpression(at.parent) && at.parent.name === at) { receiver = at.parent.expression; at = at.parent }
  else if (ts.isElementAccessExpression(at)) receiver = at.expression
  const staticReceiver = ts.isPropertyAccessExpression(at.parent) && at.parent.expression === at
  let inner = at
  while (ts.isParenthesizedExpression(at.parent) || ts.isNonNullExpression(at.parent) || ts.isAsExpression(at.parent)) { at = at.parent; inner = at }
  const parent = at.parent
  const as = (kind: ReferenceKind): Use => ({ kind, receiver, staticReceiver: staticReceiver && receiver === null })
  if (ts.isNewExpression(parent) && parent.expression === inner) {
    return as(ts.isThrowStatement(parent.parent) ? 'throws' : 'creates')
  }
  if ((ts.isCallExpression(parent) && parent.expression === inner) || (ts.isTaggedTemplateExpression(parent) && parent.tag === inner)) return as('calls')
  if (ts.isJsxOpeningLikeElement(parent) && parent.tagName === inner) return as('calls')
  if (ts.isBinaryExpression(parent)) {
    const operator = parent.operatorToken.kind
    if (parent.left === inner && operator >= ts.SyntaxKind.FirstAssignment && operator <= ts.SyntaxKind.LastAssignment) return as('writes')
    if (parent.right === inner && operator === ts.SyntaxKind.InstanceOfKeyword && ts.findAncestor(parent, ts.isCatchClause)) return as('catches')
  }
  if ((ts.isPrefixUnaryExpression(parent) || ts.isPostfixUnaryExpression(parent)) &&
    (parent.operator === ts.SyntaxKind.PlusPlusToken || parent.operator === ts.SyntaxKind.MinusMinusToken)) return as('writes')
  return as('reads')
}

/** True for a name where it is declared. */
export function isDeclarationName(name: ts.Node): boolean {
  const parent = name.parent as ts.NamedDeclaration
  if (parent.name !== name) return false
  return !ts.isPropertyAccessExpression(parent) && !ts.isShorthandPropertyAssignment(parent) && !ts.isExportSpecifier(parent) &&
    !ts.isMetaProperty(parent) && !ts.isImportSpecifier(parent)
}

/** True for a literal that is taken apart on the left of an assignment. */
export function isAssignmentTarget(literal: ts.Node): boolean {
  return ts.isBinaryExpression(literal.parent) && literal.parent.left === literal && literal.parent.operatorToken.kind === ts.SyntaxKind.EqualsToken
}

/** What of an external a place names: a global with what is used of it, `Date()` for one that is built of nothing. */
export function externalMember(place: ts.Node, external: string, file: ts.SourceFile): string {
  const parent = place.parent
  const text = place.getText(file)
  if (external === RUNTIME && ts.isPropertyAccessExpression(parent) && parent.expression === place) return `${text}.${parent.name.text}`
  // `new Date()` asks the clock, `new Date(0)` does not.
  return ts.isNewExpression(parent) && parent.expression === place && (parent.arguments?.length ?? 0) === 0 ? `${text}()` : text
}

/** The properties that a name in an object literal stands for: of the type that is wanted there, or of the object that it takes apart. */
export function propertiesMeant(name: ts.Identifier | ts.StringLiteralLike, literal: ts.ObjectLiteralExpression, checker: ts.TypeChecker): ts.Symbol[] {
  if (isAssignmentTarget(literal)) return [checker.getTypeAtLocation((literal.parent as ts.BinaryExpression).right).getProperty(name.text) ?? []].flat()
  const contextual = checker.getContextualType(literal)
  const whole = contextual?.getProperty(name.text)
  if (whole) return [whole]
  return contextual?.isUnion() ? contextual.types.flatMap(type => type.getProperty(name.text) ?? []) : []
}

/** Whether an import says of a name, or of all that it imports, that it is a type. */
export function isImportedAsType(name: ts.Identifier): boolean {
  return ts.findAncestor(name, at => (ts.isImportClause(at) || ts.isImportSpecifier(at)) && at.isTypeOnly) !== undefined
}
