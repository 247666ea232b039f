import { structuredPatch } from 'diff'
import type { FileChange } from './text-edit.js'

/** A run of changed lines with some lines around it. Line numbers from 1. */
export interface Hunk {
  readonly oldStart: number
  readonly oldLines: number
  readonly newStart: number
  readonly newLines: number
  /** Lines with ' ', '-' or '+' before them; '\ No newline at end of file' as diff writes it. */
  readonly lines: readonly string[]
}

/** The hunks between two texts, `context` unchanged lines around each. */
export function hunksOf(change: FileChange, context = 3): Hunk[] {
  if (change.before === change.after) return []
  return structuredPatch(change.path, change.path, change.before ?? '', change.after ?? '', '', '', { context }).hunks
}

/** The text in which only the hunks with the given numbers are taken over. */
export function withHunks(change: FileChange, accepted: ReadonlySet<number>): string | null {
  const hunks = hunksOf(change)
  if (hunks.every((_, index) => accepted.has(index))) return change.after
  if (change.before === null || change.after === null) return accepted.size > 0 ? change.after : change.before
  const lines = splitLines(change.before)
  const result: string[] = []
  let at = 0
  hunks.forEach((hunk, index) => {
    const start = hunk.oldLines === 0 ? hunk.oldStart : hunk.oldStart - 1
    result.push(...lines.slice(at, start))
    at = start + hunk.oldLines
    if (!accepted.has(index)) { result.push(...lines.slice(start, at)); return }
    const newLines = splitLines(change.after!)
    const newAt = hunk.newLines === 0 ? hunk.newStart : hunk.newStart - 1
    result.push(...newLines.slice(newAt, newAt + hunk.newLines))
  })
  result.push(...lines.slice(at))
  return result.join('')
}

/** Lines with their ends. */
function splitLines(text: string): string[] {
  return text.match(/[^\n]*\n|[^\n]+$/g) ?? []
}

/** A unified diff of several files in the form that `git apply` takes. */
export function unifiedDiff(changes: readonly FileChange[]): string {
  let result = ''
  for (const change of changes) {
    const hunks = hunksOf(change)
    if (hunks.length === 0) continue
    result += `diff --git a/${change.path} b/${change.path}\n`
    if (change.before === null) result += 'new file mode 100644\n'
    if (change.after === null) result += 'deleted file mode 100644\n'
    result += `--- ${change.before === null ? '/dev/null' : `a/${change.path}`}\n+++ ${change.after === null ? '/dev/null' : `b/${change.path}`}\n`
    for (const hunk of hunks) {
      const range = (start: number, lines: number) => (lines === 1 ? `${start}` : `${start},${lines}`)
      result += `@@ -${range(hunk.oldStart, hunk.oldLines)} +${range(hunk.newStart, hunk.newLines)} @@\n${hunk.lines.join('\n')}\n`
    }
  }
  return result
}
