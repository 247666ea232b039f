import ts from 'typescript'
import type { TypeSwitchFacts } from '../../model/facts.js'
import { conditionChain } from './condition-chain.js'
import type { Declarations } from './declarations.js'

/** Fewer cases than this are a plain condition. */
const FEWEST_CASES = 3

/** What a `switch` or a chain of `if` chooses by, where that is what kind of thing it has before it: an enum, a property with a few literal values, or a class. */
export function typeSwitchOf(node: ts.SwitchStatement | ts.IfStatement, checker: ts.TypeChecker, declarations: Declarations): Pick<TypeSwitchFacts, 'over' | 'cases'> | undefined {
  const found = ts.isSwitchStatement(node) ? ofSwitch(node) : ofChain(node)
  if (!found || new Set(found.cases).size < FEWEST_CASES) return undefined
  if (found.subject === null) return { over: '', cases: found.cases }
  const over = discriminant(found.subject, checker, declarations)
  return over === undefined ? undefined : { over, cases: found.cases }
}

interface Choice { readonly subject: ts.Expression | null; readonly cases: readonly string[] }

function ofSwitch(node: ts.SwitchStatement): Choice | undefined {
  const labels = node.caseBlock.clauses.filter(ts.isCaseClause).map(clause => labelOf(clause.expression))
  return labels.every(label => label !== undefined) ? { subject: node.expression, cases: labels } : undefined
}

function ofChain(first: ts.IfStatement): Choice | undefined {
  const chain = conditionChain(first)
  if (!chain) return undefined
  const labels = chain.branches.flatMap(one => one.labels).map(label => (chain.isByClass ? label.getText() : labelOf(label)))
  return labels.every(label => label !== undefined) ? { subject: chain.isByClass ? null : chain.subject, cases: labels } : undefined
}

function labelOf(expression: ts.Expression): string | undefined {
  if (ts.isStringLiteralLike(expression)) return expression.text
  return ts.isPropertyAccessExpression(expression) && ts.isIdentifier(expression.expression) ? expression.name.text : undefined
}

/** The enum or the property of a project's type that is looked at; undefined for any other value. */
function discriminant(subject: ts.Expression, checker: ts.TypeChecker, declarations: Declarations): string | undefined {
  const type = checker.getTypeAtLocation(subject)
  const parts = type.isUnion() ? type.types : [type]
  for (const part of parts) {
    if (!(part.flags & ts.TypeFlags.EnumLike)) continue
    const declaration = part.symbol?.declarations?.[0]
    const holder = declaration && (ts.isEnumMember(declaration) ? declaration.parent : declaration)
    const owner = holder && declarations.ownerOf(holder)
    if (owner) return owner.type
  }
  if (!parts.every(part => part.flags & ts.TypeFlags.StringLiteral) || parts.length < 2) return undefined
  if (ts.isPropertyAccessExpression(subject)) {
    const owner = checker.getSymbolAtLocation(subject.name)?.declarations?.map(one => declarations.ownerOf(one)).find(one => one)
    if (owner) return `${owner.type}.${owner.member}`
  }
  // A value of a named alias of literals is told by that name.
  const alias = type.aliasSymbol?.declarations?.[0]
  const owner = alias && declarations.ownerOf(alias)
  return owner ? (owner.member === '' ? owner.type : `${owner.type}${owner.member}`) : undefined
}
