import ts from 'typescript'
import { applyEdits } from '@hollowmoor/core/edit/text-edit'
import { elementRemovals } from '@hollowmoor/core/read/typescript/write/file-imports'

const NAMES = ['a', 'type B', 'c as d', 'e']
const LISTS: readonly (readonly [string, string])[] = [
  ['on one line', `import { ${NAMES.join(', ')} } from './all'\n`], ['without spaces', `import {${NAMES.join(',')}} from './all'\n`],
  ['on lines of their own, with a comma at the end', `import {\n  ${NAMES.join(',\n  ')},\n} from './all'\n`], ['exported', `export { ${NAMES.join(', ')} } from './all'\n`]
]

/** What a list holds, as the compiler parses it; its problems, too. */
function parsed(text: string): { file: ts.SourceFile; elements: ts.NodeArray<ts.ImportSpecifier> | ts.NodeArray<ts.ExportSpecifier>; problems: number } {
  const file = ts.createSourceFile('list.ts', text, ts.ScriptTarget.ES2022, true), [statement] = file.statements
  const list = ts.isImportDeclaration(statement!) ? statement.importClause!.namedBindings as ts.NamedImports : (statement as ts.ExportDeclaration).exportClause as ts.NamedExports
  return { file, elements: list.elements, problems: (file as ts.SourceFile & { parseDiagnostics: readonly unknown[] }).parseDiagnostics.length }
}

test.each(LISTS)('of a list %s exactly those names go that shall, whichever they are', (_, text) => {
  for (let chosen = 1; chosen < 2 ** NAMES.length - 1; chosen++) {
    const { file, elements } = parsed(text), isGoing = (at: number) => (chosen >> at) % 2 === 1
    const all: readonly ts.Node[] = elements
    const after = applyEdits(text, elementRemovals(elements, new Set(all.filter((_one, at) => isGoing(at))), file, []))
    const { elements: left, problems } = parsed(after)
    expect([chosen, problems, (left as readonly ts.Node[]).map(one => one.getText())]).toEqual([chosen, 0, NAMES.filter((_name, at) => !isGoing(at))])
    expect(after).not.toMatch(/, *,|\{ *,|[^\n] \n/)
  }
})
