import ts from 'typescript'

/** How a file is written, so that what is added to it looks like the rest. */
export interface FileStyle {
  readonly lineEnd: string
  readonly quote: '"' | "'"
  readonly semicolons: boolean
  /** One step of indentation. */
  readonly indent: string
  readonly trailingComma: boolean
}

/** Reads the style off a file; what it does not show is taken from `like`, a neighbour of it. O(text). */
export function styleOf(file: ts.SourceFile, like?: FileStyle): FileStyle {
  const text = file.text
  let single = 0, double = 0, ended = 0, open = 0
  const visit = (node: ts.Node): void => {
    if (ts.isStringLiteral(node)) { if (text[node.getStart(file)] === "'") single++; else double++ }
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node) || ts.isExportAssignment(node) || ts.isTypeAliasDeclaration(node) || ts.isExpressionStatement(node) || ts.isVariableStatement(node) || ts.isReturnStatement(node) || ts.isPropertyDeclaration(node)) {
      if (text[node.end - 1] === ';') ended++
      else open++
    }
    ts.forEachChild(node, visit)
  }
  visit(file)
  const indent = /^([ \t]+)\S/m.exec(text.replace(/^[ \t]+\*.*$/gm, ''))?.[1]
  return {
    lineEnd: text.includes('\r\n') ? '\r\n' : text.includes('\n') ? '\n' : like?.lineEnd ?? '\n',
    quote: single === double ? like?.quote ?? "'" : single > double ? "'" : '"',
    semicolons: ended === open ? like?.semicolons ?? true : ended > open,
    indent: indent === undefined ? like?.indent ?? '  ' : indent.startsWith('\t') ? '\t' : indent,
    trailingComma: /,\s*\n\s*[}\])]/.test(text)
  }
}

/** Whether a code base writes imports of types as such: for the whole statement, inline, or not at all. */
export type TypeImportStyle = 'statement' | 'inline' | 'plain'

export function typeImportStyle(files: Iterable<ts.SourceFile>, options: ts.CompilerOptions): TypeImportStyle {
  let statement = 0, inline = 0
  for (const file of files) {
    for (const node of file.statements) {
      if (!ts.isImportDeclaration(node) || !node.importClause) continue
      if (node.importClause.isTypeOnly) statement++
      const bindings = node.importClause.namedBindings
      if (bindings && ts.isNamedImports(bindings) && bindings.elements.some(element => element.isTypeOnly)) inline++
    }
  }
  if (statement + inline === 0) return options.verbatimModuleSyntax ? 'statement' : 'plain'
  return statement >= inline ? 'statement' : 'inline'
}
