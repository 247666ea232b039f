import ts from 'typescript'
import type { Snapshot } from '../session.js'
import type { ProjectEditor } from './file-editor.js'
import type { NeededName } from './file-imports.js'
import { handedOnBy } from './handed-on.js'

/** How another file has what an import brings: from the file of the project that declares it, else as it is imported here. Undefined where it cannot be repeated. */
export function importedElsewhere(declaration: ts.Node, symbol: ts.Symbol, typeOnly: boolean, snapshot: Snapshot, editor: ProjectEditor): NeededName | undefined {
  if (!ts.isImportSpecifier(declaration) && !ts.isImportClause(declaration) && !ts.isNamespaceImport(declaration)) return undefined
  const statement = ts.findAncestor(declaration, ts.isImportDeclaration)
  if (!statement || !ts.isStringLiteral(statement.moduleSpecifier)) return undefined
  const { text } = statement.moduleSpecifier, isRelative = text.startsWith('.')
  const as = ts.isImportSpecifier(declaration) ? undefined : declaration.name?.text
  const [target] = snapshot.checker.getAliasedSymbol(symbol).declarations ?? []
  const path = target && snapshot.pathOf(target.getSourceFile())
  if (ts.isNamespaceImport(declaration)) {
    if (path !== undefined) return { name: '*', file: path, specifier: null, typeOnly, as }
    return isRelative ? undefined : { name: '*', file: null, specifier: text, typeOnly, as }
  }
  const exported = target && path !== undefined ? editor.exportedName(target) : undefined
  if (path !== undefined && exported !== undefined) return { name: exported, file: path, specifier: null, typeOnly, ...(exported === 'default' && as !== undefined ? { as } : {}) }
  const original = ts.isImportSpecifier(declaration) ? (declaration.propertyName ?? declaration.name).text : 'default'
  if (!isRelative) return { name: original, file: null, specifier: text, typeOnly, ...(as === undefined ? {} : { as }) }
  // What a file of the project only hands on, such as a library's type, is had from that file.
  const through = ts.isImportSpecifier(declaration) ? handedOnBy(declaration, snapshot) : undefined
  return through === undefined ? undefined : { name: original, file: through, specifier: null, typeOnly }
}
