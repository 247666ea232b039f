import { createHash } from 'node:crypto'
import ts from 'typescript'

/**
 * A hash of all that other files can see of a file: its text without the bodies whose change cannot show outside. A body
 * is left out only where what it yields is written down (a return type, a constructor, a setter); anything inferred
 * stays in. JavaScript and files with global declarations always count as wholly visible.
 */
export function shapeOf(file: ts.SourceFile): string {
  const hash = createHash('sha1')
  const text = file.text
  let from = 0
  const visit = (node: ts.Node): void => {
    const body = hiddenBody(node)
    if (body) {
      hash.update(text.slice(from, body.pos))
      from = body.end
      // Declarations before the body (parameters, decorators) may hold bodies of their own only in default values.
      return
    }
    ts.forEachChild(node, visit)
  }
  if (!/\.[cm]?jsx?$/.test(file.fileName) && ts.isExternalModule(file)) visit(file)
  hash.update(text.slice(from))
  return hash.digest('base64')
}

function hiddenBody(node: ts.Node): ts.Node | undefined {
  if (ts.isConstructorDeclaration(node) || ts.isSetAccessorDeclaration(node)) return node.body
  if (ts.isFunctionDeclaration(node) || ts.isMethodDeclaration(node) || ts.isGetAccessorDeclaration(node)) {
    return node.type ? node.body : undefined
  }
  return undefined
}

/** True where a file changes what every other file sees without being imported. */
export function isGlobalFile(file: ts.SourceFile): boolean {
  return !ts.isExternalModule(file) || file.statements.some(statement => ts.isModuleDeclaration(statement) &&
    (ts.isStringLiteral(statement.name) || (statement.flags & ts.NodeFlags.GlobalAugmentation) !== 0))
}
