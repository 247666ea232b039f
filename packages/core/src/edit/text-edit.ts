/** One replacement in a text: half-open UTF-16 offsets and what stands there afterwards. */
export interface TextEdit {
  readonly start: number
  readonly end: number
  readonly text: string
}

/** A text as it was and as it will be. Null where the file is not there before, or not afterwards. */
export interface FileChange {
  /** Path from the project's root. */
  readonly path: string
  readonly before: string | null
  readonly after: string | null
}

/** Edits in order of place; insertions at one place keep the order in which they were given. */
export function orderEdits(edits: readonly TextEdit[]): TextEdit[] {
  return edits.map((edit, index) => ({ edit, index }))
    .sort((a, b) => a.edit.start - b.edit.start || a.edit.end - b.edit.end || a.index - b.index).map(({ edit }) => edit)
}

/** Applies edits to a text. Throws `RangeError` where two overlap: a plan that does so is wrong. O(n + edits log edits). */
export function applyEdits(text: string, edits: readonly TextEdit[]): string {
  let result = '', at = 0
  for (const edit of orderEdits(edits)) {
    if (edit.start < at) throw new RangeError(`edits overlap at ${edit.start}: one before it ends at ${at}`)
    result += text.slice(at, edit.start) + edit.text
    at = edit.end
  }
  return result + text.slice(at)
}

/** Where offsets of the old text stand in the new one; null for what an edit replaced. Edits as `orderEdits` gives them. */
export function offsetMapper(edits: readonly TextEdit[]): (start: number, end: number) => { start: number; end: number } | null {
  const ordered = orderEdits(edits)
  return (start, end) => {
    let shift = 0
    for (const edit of ordered) {
      if (edit.start >= end && !(edit.start === edit.end && edit.start < end)) break
      if (edit.end <= start) { shift += edit.text.length - (edit.end - edit.start); continue }
      return null
    }
    return { start: start + shift, end: end + shift }
  }
}
