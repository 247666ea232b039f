import type { ProjectEditor } from './file-editor.js'
import type { NeededName } from './file-imports.js'
import { importedAs } from './file-imports.js'
import type { FileStyle } from './style.js'

/** Import lines of a new file for what its code uses as values; `values`: by the name that each has there. */
export function valueImports(values: ReadonlyMap<string, Omit<NeededName, 'typeOnly'>>, editor: ProjectEditor, target: string, { quote, semicolons, lineEnd }: Pick<FileStyle, 'quote' | 'semicolons' | 'lineEnd'>): string {
  const bySpecifier = new Map<string, { named: string[]; default: string | null }>(), whole: [string, string][] = []
  for (const [local, { name, file, specifier: given }] of values) {
    const specifier = given ?? editor.specifierFor(target, file!, name)
    if (name === '*') { whole.push([specifier, importedAs(name, local)]); continue }
    const entry = bySpecifier.get(specifier) ?? { named: [], default: null }
    if (name === 'default') entry.default = local
    else entry.named.push(importedAs(name, local))
    bySpecifier.set(specifier, entry)
  }
  const listed = [...bySpecifier].map(([specifier, { named, default: alone }]): [string, string] => [specifier, [...(alone === null ? [] : [alone]), ...(named.length > 0 ? [`{ ${named.sort().join(', ')} }`] : [])].join(', ')])
  return [...listed, ...whole].sort((a, b) => (a[0] < b[0] ? -1 : 1)).map(([specifier, names]) => `import ${names} from ${quote}${specifier}${quote}${semicolons ? ';' : ''}${lineEnd}`).join('')
}
