import ts from 'typescript'
import type { Snapshot } from '../session.js'
import type { SpecifierPlace } from './module-specifiers.js'
import { specifiersOf } from './module-specifiers.js'
import { remembered } from './remembered.js'

/** One name of a file, reached through the name that all of it is imported under: `rates.tollFor`. */
export type ThroughWhole = (ts.PropertyAccessExpression & { readonly name: ts.Identifier }) | ts.QualifiedName

/** The identifier behind the dot. */
export function nameBehind(use: ThroughWhole): ts.Identifier { return ts.isQualifiedName(use) ? use.right : use.name }

/** What a file uses of a file that it imports under one name; undefined where it hands that name around as a thing of its own. */
export function usesThrough(binding: ts.NamespaceImport, file: ts.SourceFile, checker: ts.TypeChecker): readonly ThroughWhole[] | undefined {
  const symbol = checker.getSymbolAtLocation(binding.name), uses: ThroughWhole[] = []
  let isWhole = false
  const visit = (node: ts.Node): void => {
    if (ts.isIdentifier(node) && node.text === binding.name.text && node !== binding.name && meant(node, checker) === symbol) {
      const { parent } = node
      if (ts.isPropertyAccessExpression(parent) && parent.expression === node && ts.isIdentifier(parent.name)) uses.push(parent as ThroughWhole)
      // Another name given to what is behind the dot (`import T = rates.Toll`) would have to be given anew.
      else if (ts.isQualifiedName(parent) && parent.left === node && !ts.isImportEqualsDeclaration(parent.parent)) uses.push(parent)
      else isWhole = true
    }
    ts.forEachChild(node, visit)
  }
  visit(file)
  return isWhole ? undefined : uses
}

function meant(node: ts.Identifier, checker: ts.TypeChecker): ts.Symbol | undefined {
  if (ts.isShorthandPropertyAssignment(node.parent)) return checker.getShorthandAssignmentValueSymbol(node.parent)
  return ts.isExportSpecifier(node.parent) ? checker.getExportSpecifierLocalTargetSymbol(node.parent) : checker.getSymbolAtLocation(node)
}

/** Whether a place has all of a file as one thing, so that nothing of it can go without being missed there. */
export function hasWhole({ file, literal }: SpecifierPlace, { checker }: Snapshot): boolean {
  const holder = literal.parent
  if (ts.isImportDeclaration(holder) || ts.isExportDeclaration(holder)) {
    const bindings = ts.isImportDeclaration(holder) ? holder.importClause?.namedBindings : holder.exportClause
    return bindings !== undefined && (ts.isNamespaceExport(bindings) || (ts.isNamespaceImport(bindings) && usesThrough(bindings, file, checker) === undefined))
  }
  return !(ts.isLiteralTypeNode(holder) && ts.isImportTypeNode(holder.parent) && holder.parent.qualifier)
}

/** Whether any other file of the project has all of a file as one thing. */
export const isHadWhole = remembered((file: ts.SourceFile, snapshot: Snapshot): boolean => specifiersOf(file, snapshot).some(place => place.file !== file && hasWhole(place, snapshot)))
