import assert from 'node:assert/strict'
import { createRequire } from 'node:module'
import ts from 'typescript'
import type { Observations } from '@hollowmoor/core/model/observation'
import { readRecording } from '@hollowmoor/host/recording'
import type { Files } from './project.js'

const builtIn = createRequire(import.meta.url)

/** Tests that a file hands to node's runner, by their names. */
type Tests = Map<string, () => unknown>

/** Loads a file of a project in memory, in whose tests files are written with `write`; gives the tests that it declares. */
function loaded(files: Files, path: string, written: string[]): Tests {
  const modules = new Map<string, Record<string, unknown>>(), tests: Tests = new Map()
  const stand: Record<string, unknown> = {
    'node:test': { test: (name: string, body: () => unknown) => { tests.set(name, body) } }, 'node:assert/strict': { __esModule: true, default: assert },
    'node:fs': { appendFileSync: (_: string, line: string) => { written.push(line) } }
  }
  const load = (at: string): Record<string, unknown> => {
    const before = modules.get(at)
    if (before) return before
    const exports: Record<string, unknown> = {}
    modules.set(at, exports)
    const { outputText } = ts.transpileModule(files[at]!, { compilerOptions: { module: ts.ModuleKind.CommonJS, target: ts.ScriptTarget.ES2022, esModuleInterop: true } })
    const body = new Function('exports', 'require', 'process', outputText) as (...given: unknown[]) => void
    body(exports, (from: string) => stand[from] ?? (from.startsWith('.') ? load(new URL(from.replace(/\.js$/, '.ts').replace(/(\.ts)?$/, '.ts'), `file:///${at}`).pathname.slice(1)) : builtIn(from)), { env: { HOLLOWMOOR_RECORDING: 'somewhere' } })
    return exports
  }
  load(path)
  return tests
}

/** What the recording test of a class saw. */
export async function seenBy(files: Files, recorder: string, subject: string): Promise<Observations> {
  const written: string[] = []
  for (const body of loaded(files, recorder, written).values()) await body()
  const seen = readRecording(written.join('')).get(subject)
  if (seen === undefined || typeof seen === 'string') throw new Error(seen ?? 'nothing was recorded')
  return seen
}

/** Names of the tests of a file that pass, and of those that fail. */
export async function testsOf(files: Files, path: string): Promise<{ passed: string[]; failed: string[] }> {
  const passed: string[] = [], failed: string[] = []
  for (const [name, body] of loaded(files, path, [])) {
    try { await body(); passed.push(name) } catch { failed.push(name) }
  }
  return { passed, failed }
}
