import ts from 'typescript'
import type { DividedCase } from './switch-cases.js'

/** What a switch over a thing, or over a property of it, says of that thing: in each case it is one of fewer types. */
export interface Narrowed {
  readonly symbol: ts.Symbol
  /** What it is before anything is known of it. */
  readonly whole: ts.Type
  /** For each case the types that are left. */
  readonly cases: readonly (readonly ts.Type[])[]
}

/** Types of a union by the cases of a switch over it or over its discriminant. Undefined where the thing is no union, or no plain name. */
export function narrowedCases(subject: ts.Expression, cases: readonly DividedCase[], checker: ts.TypeChecker): Narrowed | undefined {
  const property = ts.isPropertyAccessExpression(subject) ? subject : undefined, expression = property ? property.expression : subject
  const symbol = ts.isIdentifier(expression) ? checker.getSymbolAtLocation(expression) : undefined
  const whole = checker.getTypeAtLocation(expression)
  if (!symbol || !whole.isUnion()) return undefined
  const kinds = new Map(whole.types.map(one => {
    if (!property) return [one, [one]] as const
    const kind = checker.getPropertyOfType(one, property.name.text)
    return [one, kind ? partsOf(checker.getTypeOfSymbol(kind)) : []] as const
  }))
  const labels = cases.map(one => one.labels.map(label => checker.getTypeAtLocation(label)))
  const isKind = (one: ts.Type, wanted: readonly ts.Type[]) => kinds.get(one)!.some(kind => wanted.some(label => sameKind(kind, label)))
  const known = labels.flat()
  const left = (wanted: readonly ts.Type[]) => whole.types.filter(one => (wanted.length > 0 ? isKind(one, wanted) : !kinds.get(one)!.every(kind => known.some(label => sameKind(kind, label)))))
  return { symbol, whole, cases: labels.map(left) }
}

/** What a thing is where it is an object of a class that a case asks for. Undefined where it has no name of its own, or a case cannot be told as one type. */
export function casesByClass(subject: ts.Expression, cases: readonly DividedCase[], checker: ts.TypeChecker): Narrowed | undefined {
  const symbol = ts.isIdentifier(subject) ? checker.getSymbolAtLocation(subject) : undefined, whole = checker.getTypeAtLocation(subject)
  const all = cases.map(one => one.labels.map(label => objectOf(label, checker)))
  if (!symbol || all.some(classes => classes.some(one => one === undefined))) return undefined
  const known = all.flat() as ts.Type[], isOne = (one: ts.Type, wanted: readonly ts.Type[]) => wanted.some(each => checker.isTypeAssignableTo(one, each))
  return {
    symbol, whole,
    cases: (all as ts.Type[][]).map(wanted => {
      if (wanted.length === 0) return whole.isUnion() ? whole.types.filter(one => !isOne(one, known)) : []
      return [...new Set(wanted.flatMap(each => { const parts = partsOf(whole).filter(one => checker.isTypeAssignableTo(one, each)); return parts.length > 0 ? parts : [each] }))]
    })
  }
}

/** What an object of a class is. */
function objectOf(label: ts.Expression, checker: ts.TypeChecker): ts.Type | undefined {
  const type = checker.getTypeAtLocation(label), prototype = type.getProperty('prototype')
  const given = prototype && checker.getTypeOfSymbol(prototype)
  return given && !(given.flags & ts.TypeFlags.Any) ? given : type.getConstructSignatures()[0]?.getReturnType()
}

function partsOf(type: ts.Type): readonly ts.Type[] { return type.isUnion() ? type.types : [type] }

/** Literals are made anew where they are written (fresh ones): by their value they are the same. */
function sameKind(kind: ts.Type, label: ts.Type): boolean {
  if (kind === label) return true
  if (kind.isLiteral() && label.isLiteral()) return kind.value === label.value && (kind.flags & ts.TypeFlags.EnumLiteral) === (label.flags & ts.TypeFlags.EnumLiteral) && (kind.symbol === label.symbol || !(kind.flags & ts.TypeFlags.EnumLiteral))
  // A kind that is any text may be this one.
  return !kind.isLiteral() && (kind.flags & (ts.TypeFlags.String | ts.TypeFlags.Number)) !== 0
}
