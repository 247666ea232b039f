import ts from 'typescript'
import type { Snapshot } from '../session.js'

const loadedBy = new WeakMap<Snapshot, ReadonlyMap<string, ReadonlySet<string>>>()

/** Whether loading some files loads another one, by themselves or by what they import. Linear in the code, once for a snapshot. */
export function wouldLoad(from: readonly string[], to: string, snapshot: Snapshot): boolean {
  let graph = loadedBy.get(snapshot)
  if (!graph) loadedBy.set(snapshot, graph = new Map([...snapshot.paths].map(([file, path]) => [path, loadedFiles(file, snapshot)])))
  const seen = new Set(from)
  for (const path of seen) for (const next of graph.get(path) ?? []) seen.add(next)
  return seen.has(to)
}

/** Files that a file loads as it runs: an import of which only types are named is gone by then, unless the compiler is told to keep it. */
function loadedFiles(file: ts.SourceFile, { checker, program, pathOf }: Snapshot): Set<string> {
  const options = program.getCompilerOptions(), found = new Set<string>()
  const keepsAll = options.verbatimModuleSyntax === true || options.emitDecoratorMetadata === true
  let values: Set<string> | undefined
  for (const statement of file.statements) {
    if (!(ts.isImportDeclaration(statement) || ts.isExportDeclaration(statement)) || !statement.moduleSpecifier) continue
    const names = namesAtRunTime(statement)
    if (names !== 'all' && !keepsAll) { values ??= namesOfValues(file); if (!names.some(name => values!.has(name))) continue } else if (names !== 'all' && names.length === 0) continue
    for (const declaration of checker.getSymbolAtLocation(statement.moduleSpecifier)?.declarations ?? []) {
      const path = ts.isSourceFile(declaration) ? pathOf(declaration) : undefined
      if (path !== undefined) found.add(path)
    }
  }
  return found
}

/** Local names that an import gives to what may be there at run time; `all`: it is loaded for its own sake, or handed on. */
function namesAtRunTime(statement: ts.ImportDeclaration | ts.ExportDeclaration): readonly string[] | 'all' {
  if (ts.isExportDeclaration(statement)) {
    const { exportClause } = statement
    return statement.isTypeOnly || (exportClause && ts.isNamedExports(exportClause) && exportClause.elements.length > 0 && exportClause.elements.every(one => one.isTypeOnly)) ? [] : 'all'
  }
  const { importClause } = statement
  if (!importClause) return 'all'
  if (importClause.isTypeOnly) return []
  const { name, namedBindings } = importClause
  return [
    ...(name ? [name.text] : []),
    ...(!namedBindings ? [] : ts.isNamespaceImport(namedBindings) ? [namedBindings.name.text] : namedBindings.elements.filter(one => !one.isTypeOnly).map(one => one.name.text))
  ]
}

/** Names that a file uses where a value stands; whatever else has the same name counts too. */
function namesOfValues(file: ts.SourceFile): Set<string> {
  const names = new Set<string>()
  const visit = (node: ts.Node): void => {
    if (ts.isIdentifier(node)) { names.add(node.text); return }
    if (ts.isImportDeclaration(node) || ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)) return
    if (ts.isHeritageClause(node)) { if (node.token === ts.SyntaxKind.ExtendsKeyword) for (const one of node.types) visit(one.expression); return }
    if (ts.isTypeNode(node)) return
    if (ts.isPropertyAccessExpression(node)) { visit(node.expression); return }
    ts.forEachChild(node, visit)
  }
  visit(file)
  return names
}
