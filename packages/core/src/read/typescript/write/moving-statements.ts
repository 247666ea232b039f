import ts from 'typescript'
import type { Snapshot } from '../session.js'
import { remembered } from './remembered.js'

/** What the statements of a file's top level use of each other and of its imports. */
export interface TopLevelUses {
  /** By statement: the statements of the same file that declare what it names. */
  readonly statements: ReadonlyMap<ts.Statement, ReadonlySet<ts.Statement>>
  /** By statement: the names that it uses from each other statement, and whether only as types. */
  readonly names: ReadonlyMap<ts.Statement, ReadonlyMap<ts.Statement, ReadonlyMap<string, { readonly typeOnly: boolean }>>>
  /** By statement: the names that it uses from the file's imports. */
  readonly imports: ReadonlyMap<ts.Statement, ReadonlySet<ImportedName>>
}

/** One name that an import brings. */
export type ImportedName = ts.ImportSpecifier | ts.ImportClause | ts.NamespaceImport | ts.ImportEqualsDeclaration

export const topLevelUses = remembered((file: ts.SourceFile, { checker }: Snapshot): TopLevelUses => {
  const statements = new Map<ts.Statement, Set<ts.Statement>>(), imports = new Map<ts.Statement, Set<ImportedName>>()
  const names = new Map<ts.Statement, Map<ts.Statement, Map<string, { typeOnly: boolean }>>>()
  for (const statement of file.statements) {
    const used = new Set<ts.Statement>(), imported = new Set<ImportedName>(), named = new Map<ts.Statement, Map<string, { typeOnly: boolean }>>()
    statements.set(statement, used)
    imports.set(statement, imported)
    names.set(statement, named)
    if (ts.isImportDeclaration(statement)) continue
    const visit = (node: ts.Node): void => {
      if (ts.isIdentifier(node)) {
        for (const declaration of symbolNamed(node, checker)?.declarations ?? []) {
          if (declaration.getSourceFile() !== file) continue
          if (isImportedName(declaration)) { imported.add(declaration); continue }
          const holder = topLevelStatement(declaration, file)
          // Members of a type and locals are found by way of what holds them.
          if (!holder || holder === statement || !declaresAtTop(declaration)) continue
          used.add(holder)
          const list = named.get(holder) ?? new Map<string, { typeOnly: boolean }>()
          named.set(holder, list.set(node.text, { typeOnly: (list.get(node.text)?.typeOnly ?? true) && isTypeUse(node) }))
        }
      }
      ts.forEachChild(node, visit)
    }
    visit(statement)
  }
  return { statements, names, imports }
})

function symbolNamed(node: ts.Identifier, checker: ts.TypeChecker): ts.Symbol | undefined {
  const { parent } = node
  if (ts.isPropertyAccessExpression(parent) && parent.name === node) return undefined
  if (ts.isShorthandPropertyAssignment(parent)) return checker.getShorthandAssignmentValueSymbol(parent)
  if (ts.isExportSpecifier(parent)) return checker.getExportSpecifierLocalTargetSymbol(parent)
  return checker.getSymbolAtLocation(node)
}

export function isImportedName(node: ts.Node): node is ImportedName {
  return ts.isImportSpecifier(node) || ts.isImportClause(node) || ts.isNamespaceImport(node) || ts.isImportEqualsDeclaration(node)
}

/** The statement of a file's top level that a node is in. */
export function topLevelStatement(node: ts.Node, file: ts.SourceFile): ts.Statement | undefined {
  let at = node
  while (at.parent && at.parent !== file) at = at.parent
  return at.parent === file ? at as ts.Statement : undefined
}

function declaresAtTop(declaration: ts.Node): boolean {
  let at = declaration
  while (ts.isBindingElement(at) || ts.isObjectBindingPattern(at) || ts.isArrayBindingPattern(at)) at = at.parent
  if (ts.isVariableDeclaration(at)) return ts.isVariableStatement(at.parent.parent) && ts.isSourceFile(at.parent.parent.parent)
  return ts.isSourceFile(at.parent)
}

/** True where the compiler erases the use. */
export function isTypeUse(node: ts.Identifier): boolean {
  if (ts.isPartOfTypeNode(node)) return true
  const heritage = ts.findAncestor(node, at => ts.isHeritageClause(at) || ts.isStatement(at))
  return heritage !== undefined && ts.isHeritageClause(heritage) && (heritage.token === ts.SyntaxKind.ImplementsKeyword || ts.isInterfaceDeclaration(heritage.parent))
}

export function isExportedStatement(statement: ts.Statement): boolean {
  return ts.canHaveModifiers(statement) && ts.getModifiers(statement)?.some(one => one.kind === ts.SyntaxKind.ExportKeyword) === true
}

/** What is private to some statements of a file and goes along with them: declarations that nothing else in it uses. */
export function privateTo(moved: ReadonlySet<ts.Statement>, file: ts.SourceFile, uses: TopLevelUses): Set<ts.Statement> {
  const listed = new Set<ts.Statement>()
  for (const statement of file.statements) if (ts.isExportDeclaration(statement) || ts.isExportAssignment(statement)) for (const one of uses.statements.get(statement)!) listed.add(one)
  const carried = new Set<ts.Statement>(), open = [...moved]
  while (open.length > 0) {
    for (const used of uses.statements.get(open.pop()!)!) {
      if (moved.has(used) || carried.has(used) || isExportedStatement(used) || listed.has(used) || !isPlainDeclaration(used)) continue
      carried.add(used)
      open.push(used)
    }
  }
  for (let changed = true; changed;) {
    changed = false
    for (const statement of file.statements) {
      if (moved.has(statement) || carried.has(statement)) continue
      for (const used of uses.statements.get(statement)!) if (carried.delete(used)) changed = true
    }
  }
  return carried
}

function isPlainDeclaration(statement: ts.Statement): boolean {
  return ts.isFunctionDeclaration(statement) || ts.isClassDeclaration(statement) || ts.isInterfaceDeclaration(statement) || ts.isTypeAliasDeclaration(statement) ||
    ts.isEnumDeclaration(statement) || ts.isVariableStatement(statement)
}

/** Where a statement begins, comments directly above it counted in: those that no blank line parts from it. */
export function attachedStart(statement: ts.Statement, file: ts.SourceFile): number {
  let start = statement.getStart(file)
  for (const comment of [...ts.getLeadingCommentRanges(file.text, statement.pos) ?? []].reverse()) {
    if (/\n\s*\n/.test(file.text.slice(comment.end, start).replace(/\r/g, '')) || /^(#!|\/\/\/\s*<)/.test(file.text.slice(comment.pos, comment.end))) break
    start = comment.pos
  }
  return start
}

/** Where a statement or member ends, a comment on the same line counted in. */
export function attachedEnd(statement: ts.Node, file: ts.SourceFile): number {
  return statement.end + (/^[ \t]*\/\/[^\r\n]*/.exec(file.text.slice(statement.end))?.[0].length ?? 0)
}
