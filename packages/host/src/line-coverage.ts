import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { allGeneratedPositionsFor, LEAST_UPPER_BOUND, TraceMap } from '@jridgewell/trace-mapping'
import { hunksOf } from '@hollowmoor/core/edit/diff'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'

interface ScriptCoverage {
  readonly url: string
  readonly functions: readonly { readonly ranges: readonly { readonly startOffset: number; readonly endOffset: number; readonly count: number }[] }[]
}
interface CoverageFile {
  readonly result: readonly ScriptCoverage[]
  readonly 'source-map-cache'?: Readonly<Record<string, { readonly lineLengths: readonly number[]; readonly data: { readonly sources: readonly string[] } | null }>>
}

/** Which changed lines a test run executed, from the runtime's own coverage files. */
export interface ChangedLinesRun {
  /** Changed lines that hold code that can run. */
  readonly changed: number
  readonly run: number
  /** Processes (for most runners, test files) that ran any of them. */
  readonly testFiles: readonly string[]
}

/** Null where the run left no coverage, so that nothing can be said. */
export function changedLinesRun(coverageFolder: string, root: string, changes: readonly FileChange[], isTest: (path: string) => boolean): ChangedLinesRun | null {
  if (!existsSync(coverageFolder)) return null
  const files = readdirSync(coverageFolder).filter(name => name.endsWith('.json'))
  if (files.length === 0) return null
  const wanted = new Map(changes.filter(change => change.after !== null && !isTest(change.path)).map(change => [join(root, change.path), changedLines(change)]))
  const runnable = new Set<string>(), run = new Set<string>(), testFiles = new Set<string>(), loaded = new Set<string>()
  for (const name of files) {
    let coverage: CoverageFile
    try {
      coverage = JSON.parse(readFileSync(join(coverageFolder, name), 'utf8')) as CoverageFile
    } catch { continue }
    let touched = false
    for (const script of coverage.result) {
      const path = pathOf(script.url)
      const lines = path === undefined ? undefined : wanted.get(path)
      if (!path || !lines) continue
      const map = coverage['source-map-cache']?.[script.url]
      if (!map?.data) continue
      const starts = lineStarts(map.lineLengths)
      const trace = new TraceMap(map.data as ConstructorParameters<typeof TraceMap>[0])
      const source = trace.sources.find(one => one !== null) ?? null
      if (source === null) continue
      loaded.add(path)
      for (const line of lines) {
        for (const at of positionsOnLine(trace, source, line)) {
          const offset = (starts[at.line - 1] ?? 0) + at.column
          const count = countAt(script, offset)
          if (count === null) continue
          runnable.add(`${path}:${line}`)
          if (count > 0) { run.add(`${path}:${line}`); touched = true }
        }
      }
    }
    if (touched) for (const script of coverage.result) {
      const path = pathOf(script.url)
      if (path?.startsWith(`${root}/`) && isTest(path.slice(root.length + 1)) && /\.(test|spec)\./.test(path)) testFiles.add(path.slice(root.length + 1))
    }
  }
  // Of a file that no test loads the runtime tells nothing; its lines are there all the same. New files may hold types alone.
  for (const { path, before, after } of changes) {
    const lines = wanted.get(join(root, path))
    if (before === null || after === null || !lines || loaded.has(join(root, path))) continue
    const texts = after.split(/\r?\n/)
    for (const line of lines) if (canRun(texts[line - 1] ?? '')) runnable.add(`${join(root, path)}:${line}`)
  }
  return { changed: runnable.size, run: run.size, testFiles: [...testFiles].sort() }
}

/** Whether a line looks like more than an import, a comment, a brace or a declaration of types. */
function canRun(line: string): boolean { return !/^\s*($|[})\]];?,?$|\/\/|\/?\*|import\b|export\s+(\*|\{|interface\b|type\b)|interface\b|type\b|package\b)/.test(line) }

/** Lines of the new text that a change adds or alters, from 1. */
export function changedLines(change: FileChange): number[] {
  return hunksOf(change, 0).flatMap(hunk => Array.from({ length: hunk.newLines }, (_, index) => hunk.newStart + index))
}

/** Places in the generated text that come from a line of the source. */
function positionsOnLine(trace: TraceMap, source: string, line: number): { line: number; column: number }[] {
  const found: { line: number; column: number }[] = []
  for (const column of [0, 2, 4, 6, 8, 10, 12]) {
    for (const at of allGeneratedPositionsFor(trace, { source, line, column, bias: LEAST_UPPER_BOUND })) {
      if (at.line !== null && at.column !== null) found.push({ line: at.line, column: at.column })
    }
  }
  return found
}

/** How often the innermost range around an offset ran; null outside all functions. */
function countAt(script: ScriptCoverage, offset: number): number | null {
  let best: { size: number; count: number } | null = null
  for (const { ranges } of script.functions) {
    for (const range of ranges) {
      if (range.startOffset > offset || range.endOffset <= offset) continue
      const size = range.endOffset - range.startOffset
      if (!best || size <= best.size) best = { size, count: range.count }
    }
  }
  return best?.count ?? null
}

function lineStarts(lengths: readonly number[]): number[] {
  const starts = [0]
  for (const length of lengths) starts.push(starts[starts.length - 1]! + length + 1)
  return starts
}

function pathOf(url: string): string | undefined {
  try { return url.startsWith('file:') ? fileURLToPath(url.replace(/\?.*$/, '')) : undefined } catch { return undefined }
}
