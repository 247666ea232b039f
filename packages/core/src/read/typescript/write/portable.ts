import ts from 'typescript'
import { unitMemberName } from '../declarations.js'
import type { Snapshot } from '../session.js'
import type { FileEditor, ProjectEditor } from './file-editor.js'

/**
 * True for an expression that means the same anywhere in the project: literals, exported values, globals, and `new` or
 * lists and objects of those. `this`, parameters and locals are known only where it stands.
 */
export function isPortable(expression: ts.Expression, snapshot: Snapshot, editor: ProjectEditor): boolean {
  const inner = (node: ts.Expression) => isPortable(node, snapshot, editor)
  if (ts.isLiteralExpression(expression) || [ts.SyntaxKind.TrueKeyword, ts.SyntaxKind.FalseKeyword, ts.SyntaxKind.NullKeyword].includes(expression.kind)) return true
  if (ts.isPrefixUnaryExpression(expression)) return inner(expression.operand)
  if (ts.isParenthesizedExpression(expression)) return inner(expression.expression)
  if (ts.isArrayLiteralExpression(expression)) return expression.elements.every(inner)
  if (ts.isObjectLiteralExpression(expression)) {
    return expression.properties.every(property => ts.isPropertyAssignment(property) && !ts.isComputedPropertyName(property.name) && inner(property.initializer))
  }
  if (ts.isNewExpression(expression)) {
    return !expression.typeArguments && inner(expression.expression) && (expression.arguments ?? []).every(inner)
  }
  if (ts.isPropertyAccessExpression(expression)) return inner(expression.expression)
  if (ts.isIdentifier(expression)) return meaningOf(expression, snapshot, editor) !== undefined
  return false
}

/** How a name can be had in another file: from the file that exports it, from a package, or as a global. */
function meaningOf(name: ts.Identifier, snapshot: Snapshot, editor: ProjectEditor): { file: string | null; specifier: string | null; exported: string } | 'global' | undefined {
  const { checker } = snapshot
  const found = checker.getSymbolAtLocation(name)
  if (!found) return undefined
  if (name.text === 'undefined') return 'global'
  const target = found.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(found) : found
  const declaration = target.valueDeclaration ?? target.declarations?.[0]
  if (!declaration) return undefined
  const path = snapshot.pathOf(declaration.getSourceFile())
  if (path !== undefined) {
    if (!(ts.isClassLike(declaration) || ts.isEnumDeclaration(declaration)) && unitMemberName(declaration) === null) return undefined
    const exported = editor.exportedName(declaration)
    return exported === undefined ? undefined : { file: path, specifier: null, exported }
  }
  const own = found.declarations?.[0]
  if (own && ts.isImportSpecifier(own)) {
    const specifier = own.parent.parent.parent.moduleSpecifier
    if (!ts.isStringLiteral(specifier) || specifier.text.startsWith('.')) return undefined
    return { file: null, specifier: specifier.text, exported: (own.propertyName ?? own.name).text }
  }
  return own && !ts.isImportClause(own) && !ts.isNamespaceImport(own) && !ts.isExternalModule(declaration.getSourceFile()) ? 'global' : undefined
}

/** The text of a portable expression for another file, with the imports that it needs there. */
export function portableText(expression: ts.Node, to: FileEditor, snapshot: Snapshot, editor: ProjectEditor): string {
  const source = expression.getSourceFile()
  const start = expression.getStart()
  const parts: { start: number; end: number; text: string }[] = []
  const visit = (node: ts.Node): void => {
    if (ts.isIdentifier(node)) {
      const parent = node.parent
      if ((ts.isPropertyAccessExpression(parent) && parent.name === node) || (ts.isPropertyAssignment(parent) && parent.name === node)) return
      const meaning = meaningOf(node, snapshot, editor)
      const local = meaning === undefined && to.file === source
      if (!local && meaning && meaning !== 'global') {
        const written = to.nameFor({ name: meaning.exported, file: meaning.file, specifier: meaning.specifier, typeOnly: false })
        parts.push({ start: node.getStart() - start, end: node.end - start, text: written })
      }
      return
    }
    ts.forEachChild(node, visit)
  }
  visit(expression)
  let text = source.text.slice(start, expression.end)
  for (const part of parts.reverse()) text = text.slice(0, part.start) + part.text + text.slice(part.end)
  return text
}
