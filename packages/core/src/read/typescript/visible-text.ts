import ts from 'typescript'

/**
 * All that other files can see of a file: its text without the bodies whose change cannot show outside. While it stays,
 * their facts stay. A body is left out only where what it yields is written down (a return type, a constructor, a setter);
 * anything inferred stays in. JavaScript and files with global declarations always count as wholly visible.
 */
export function visibleText(file: ts.SourceFile): string {
  const text = file.text
  let from = 0, visible = ''
  const visit = (node: ts.Node): void => {
    const body = hiddenBody(node)
    if (body) {
      visible += text.slice(from, body.pos)
      from = body.end
      // Declarations before the body (parameters, decorators) may hold bodies of their own only in default values.
      return
    }
    ts.forEachChild(node, visit)
  }
  if (!/\.[cm]?jsx?$/.test(file.fileName) && ts.isExternalModule(file)) visit(file)
  return visible + text.slice(from)
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
