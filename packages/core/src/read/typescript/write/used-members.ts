import ts from 'typescript'
import type { Snapshot } from '../session.js'

/**
 * The members that are used of what a type's name declares: of a parameter, a field or a variable, in its file. Null where
 * the name declares nothing that can be followed so, as a result's or an argument's.
 */
export function usedMembers(name: ts.Identifier, { checker }: Snapshot): ReadonlySet<string> | null {
  const reference = name.parent
  const holder = reference.parent
  if (!ts.isTypeReferenceNode(reference) || !(ts.isParameter(holder) || ts.isPropertyDeclaration(holder) || ts.isVariableDeclaration(holder)) || holder.type !== reference) return null
  const declared = new Set<ts.Symbol>()
  const own = checker.getSymbolAtLocation(holder.name)
  if (own) declared.add(own)
  // A parameter that is a field too is both.
  if (ts.isParameter(holder) && ts.isIdentifier(holder.name) && ts.isParameterPropertyDeclaration(holder, holder.parent)) for (const one of checker.getSymbolsOfParameterPropertyDeclaration(holder, holder.name.text)) declared.add(one)
  const used = new Set<string>()
  let other = false
  const visit = (node: ts.Node): void => {
    if (ts.isIdentifier(node) && node !== holder.name) {
      const symbol = checker.getSymbolAtLocation(node)
      if (symbol && declared.has(symbol)) {
        const value = ts.isPropertyAccessExpression(node.parent) && node.parent.name === node ? node.parent : node
        if (ts.isPropertyAccessExpression(value.parent) && value.parent.expression === value) used.add(value.parent.name.text)
        else other = true
      }
    }
    ts.forEachChild(node, visit)
  }
  visit(name.getSourceFile())
  return other ? null : used
}
