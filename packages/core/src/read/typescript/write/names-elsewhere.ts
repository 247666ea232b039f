import ts from 'typescript'
import type { TextEdit } from '../../../edit/text-edit.js'
import { Refused } from '../../write/refused.js'
import type { Snapshot } from '../session.js'
import type { FileEditor, ProjectEditor } from './file-editor.js'
import { importedElsewhere } from './imported-name.js'

/** What code names at the top of its file and in its imports, as another file has it. `left`: parts that are not looked into. */
export function namesElsewhere(code: readonly ts.Node[], left: ReadonlySet<ts.Node>, snapshot: Snapshot, editor: ProjectEditor, there: Pick<FileEditor, 'nameFor'>): TextEdit[] {
  const { checker } = snapshot
  const file = code[0]!.getSourceFile(), begin = code[0]!.pos, end = code.at(-1)!.end
  const edits: TextEdit[] = []
  const visit = (node: ts.Node, typeOnly: boolean): void => {
    if (left.has(node)) return
    if (ts.isIdentifier(node)) { rename(node, typeOnly); return }
    ts.forEachChild(node, child => visit(child, typeOnly || ts.isTypeNode(child)))
  }
  const rename = (name: ts.Identifier, typeOnly: boolean): void => {
    const { parent } = name
    if ((ts.isPropertyAccessExpression(parent) && parent.name === name) || (ts.isPropertyAssignment(parent) && parent.name === name) || (ts.isQualifiedName(parent) && parent.right === name)) return
    const symbol = ts.isShorthandPropertyAssignment(parent) ? checker.getShorthandAssignmentValueSymbol(parent) : checker.getSymbolAtLocation(name)
    const [declaration] = symbol?.declarations ?? []
    if (!symbol || !declaration || declaration.getSourceFile() !== file || (declaration.pos >= begin && declaration.end <= end)) return
    let local: string
    if (symbol.flags & ts.SymbolFlags.Alias) {
      const imported = importedElsewhere(declaration, symbol, typeOnly, snapshot, editor)
      if (!imported) throw new Refused('import', `${name.text} is imported in a way that cannot be repeated`)
      local = there.nameFor(imported)
    } else {
      if (!isAtTop(declaration)) return
      const exported = editor.exportedName(declaration), path = snapshot.pathOf(file)!
      if (exported === undefined) throw new Refused('not-visible', `${path} does not export ${name.text}, which it uses`)
      local = there.nameFor({ name: exported, file: path, specifier: null, typeOnly })
    }
    if (local !== name.text) edits.push({ start: name.getStart(file), end: name.end, text: ts.isShorthandPropertyAssignment(parent) ? `${name.text}: ${local}` : local })
  }
  for (const node of code) visit(node, false)
  return edits
}

/** Whether something is declared at the top of its file. */
export function isAtTop(declaration: ts.Declaration): boolean {
  let at: ts.Node = declaration
  while (ts.isVariableDeclaration(at) || ts.isVariableDeclarationList(at) || ts.isBindingElement(at) || ts.isObjectBindingPattern(at) || ts.isArrayBindingPattern(at)) at = at.parent
  return ts.isSourceFile(at.parent)
}
