export interface PairedLine {
  readonly oldNumber: number | null
  readonly old: string | null
  readonly newNumber: number | null
  readonly new: string | null
  readonly changed: boolean
}

/** The lines of a hunk set side by side: what was removed beside what came in its place. */
export function pairLines(hunk: { readonly oldStart: number; readonly newStart: number; readonly lines: readonly string[] }): PairedLine[] {
  const rows: PairedLine[] = []
  let oldNumber = hunk.oldStart, newNumber = hunk.newStart
  let removed: string[] = [], added: string[] = []
  const flush = () => {
    for (let at = 0; at < Math.max(removed.length, added.length); at++) {
      const old = removed[at] ?? null, fresh = added[at] ?? null
      rows.push({ oldNumber: old === null ? null : oldNumber++, old, newNumber: fresh === null ? null : newNumber++, new: fresh, changed: true })
    }
    removed = []
    added = []
  }
  for (const line of hunk.lines) {
    const text = line.slice(1)
    if (line.startsWith('-')) removed.push(text)
    else if (line.startsWith('+')) added.push(text)
    else if (line.startsWith(' ')) {
      flush()
      rows.push({ oldNumber: oldNumber++, old: text, newNumber: newNumber++, new: text, changed: false })
    }
  }
  flush()
  return rows
}
