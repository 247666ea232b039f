import { createRequire } from 'node:module'
import { posix } from 'node:path'
import ts from 'typescript'
import type { Files } from './project.js'

const builtIn = createRequire(import.meta.url)

/** What a program tells as `told` of its `main.ts`; its files import each other by relative paths without an ending. `libraries`: what else they import, by name. */
export function toldBy(files: Files, libraries: Readonly<Record<string, unknown>> = {}): unknown {
  const modules = new Map<string, Record<string, unknown>>()
  const found = (path: string): string => (`${path}.ts` in files ? `${path}.ts` : posix.join(path, 'index.ts'))
  const load = (path: string): Record<string, unknown> => {
    const before = modules.get(path)
    if (before) return before
    const exports: Record<string, unknown> = {}
    modules.set(path, exports)
    const { outputText } = ts.transpileModule(files[path]!, { compilerOptions: { module: ts.ModuleKind.CommonJS, target: ts.ScriptTarget.ES2022 } })
    const body = new Function('exports', 'require', outputText) as (exports: unknown, require: (from: string) => unknown) => void
    body(exports, from => (from.startsWith('.') ? load(found(posix.join(posix.dirname(path), from))) : libraries[from] ?? builtIn(from)))
    return exports
  }
  return load('main.ts').told
}
