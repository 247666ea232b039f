import type { FileFacts } from './facts.js'

/** Where things stand and how long they are: what an edit moves that changes nothing else. What others see of a file shows in their own facts. */
const PLACES = new Set(['span', 'line', 'lines', 'statements'])

/**
 * True where two readings of a project state the same, file by file, but for where in its file each thing stands: then all that
 * is measured between types is the same too. Files with the same facts cost one comparison; O(facts) for the others.
 */
export function sameButForPlaces(before: readonly FileFacts[], after: readonly FileFacts[]): boolean {
  return before.length === after.length && before.every((file, at) => file === after[at] || same(file, after[at]))
}

/** True where two facts state the same but for where things stand. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false
  if (Array.isArray(a)) return Array.isArray(b) && a.length === b.length && a.every((one, at) => same(one, b[at]))
  const one = a as Record<string, unknown>, other = b as Record<string, unknown>
  const keys = Object.keys(one)
  return keys.length === Object.keys(other).length && keys.every(key => PLACES.has(key) || same(one[key], other[key]))
}
