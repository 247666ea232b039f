import type { FileChange } from '../edit/text-edit.js'

/** Words with which a command to a database begins, inside a text. */
const SQL = /["'`]\s*(select\b.*\bfrom\b|insert\s+into\b|update\s+\S+\s+set\b|delete\s+from\b|merge\s+into\b|replace\s+into\b|call\s+\w|with\s+\w+\s+as\b|(alter|drop|create|truncate)\s+table\b)/i
/** Calls that hand a text to a shell. */
const SHELL = /\b(exec|execSync)\s*\(|\.exec\s*\(\s*(["'`]|[^()]*\+)|\bshell\s*:\s*true\b|\b(sh|bash|cmd)["']\s*,\s*["'](-c|\/c)["']/
/** A text that is put together with what is not known: a template with a value, or texts that are added. */
const BUILT = /`[^`]*\$\{|["'`]\s*\+|\+\s*["'`]|\.format\s*\(|\.formatted\s*\(|\.concat\s*\(/

/**
 * Lines of a change that build a command for a database or a shell from text: whoever reviews code that moves is to see
 * them once more, with the safer form. A reading of lines, in any language: it may tell too much, and misses what is built elsewhere.
 */
export function textBuiltNotes(changes: readonly FileChange[]): string[] {
  return changes.flatMap(({ path, before, after }) => {
    if (after === null) return []
    const known = new Map<string, number>()
    for (const line of (before ?? '').split(/\r?\n/)) known.set(line.trim(), (known.get(line.trim()) ?? 0) + 1)
    const lines = after.split(/\r?\n/)
    return lines.flatMap((line, index) => {
      const left = known.get(line.trim()) ?? 0
      if (left > 0) { known.set(line.trim(), left - 1); return [] }
      // What is added may stand on the line after.
      const whole = /\+\s*$/.test(line) || /^\s*\+/.test(lines[index + 1] ?? '') ? `${line} ${(lines[index + 1] ?? '').trim()}` : line
      if (!BUILT.test(whole)) return []
      if (SQL.test(whole)) return [`${path}:${index + 1} builds SQL from text, and moves: hand the values over as parameters of the statement instead.`]
      return SHELL.test(whole) ? [`${path}:${index + 1} builds a shell command from text, and moves: start the program itself with a list of arguments instead.`] : []
    })
  })
}
