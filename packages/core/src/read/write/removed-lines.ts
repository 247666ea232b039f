import type { TextEdit } from '../../edit/text-edit.js'

/** What gathers the edits of one file. */
export interface LineEditor {
  readonly text: string
  /** How far around a place nothing was edited yet. */
  freeAround(start: number, end: number): { readonly from: number; readonly to: number }
  replace(start: number, end: number, text: string): void
}

export function freeAround(edits: readonly TextEdit[], start: number, end: number, length: number): { from: number; to: number } {
  let from = 0, to = length
  for (const edit of edits) {
    if (edit.end <= start) from = Math.max(from, edit.end)
    else if (edit.start >= end) to = Math.min(to, edit.start)
  }
  return { from, to }
}

/** Takes several declarations out, those that stand together as one. */
export function removeAllLines(ranges: readonly { readonly start: number; readonly end: number }[], own: LineEditor): void {
  let open: { start: number; end: number } | undefined
  for (const range of [...ranges].sort((a, b) => a.start - b.start)) {
    if (open && own.text.slice(open.end, range.start).trim() === '') open.end = range.end
    else { if (open) removeLines(open.start, open.end, own); open = { ...range } }
  }
  if (open) removeLines(open.start, open.end, own)
}

/** Takes a declaration out with its lines, and one of two blank lines that would then meet. */
export function removeLines(start: number, end: number, own: LineEditor): void {
  const { text } = own
  let from = start, to = end
  while (from > 0 && (text[from - 1] === ' ' || text[from - 1] === '\t')) from--
  while (to < text.length && (text[to] === ' ' || text[to] === '\t')) to++
  const begins = from === 0 || text[from - 1] === '\n'
  // What shares its line with others leaves the line as it is.
  if (!begins || !/^(\r?\n|$)/.test(text.slice(to, to + 2))) { own.replace(start, begins ? to : end, ''); return }
  if (text.startsWith('\r\n', to)) to += 2
  else if (text[to] === '\n') to++
  const blank = /^[ \t]*\r?\n/.exec(text.slice(to))
  const closes = /^[ \t]*\}/.test(text.slice(to)), rest = text.slice(to).trim() === ''
  // A blank line after it stays where it parts what stands before it from what comes.
  const parted = from === 0 || /(?:\{|\n)[ \t]*\r?\n$/.test(text.slice(0, from))
  if (blank && parted) to += blank[0].length
  else if (!blank && (closes || rest)) from -= /(?:\r?\n[ \t]*)?$/.exec(text.slice(0, from).replace(/\r?\n$/, ''))![0].length
  const free = own.freeAround(start, end)
  own.replace(Math.max(from, free.from), Math.min(to, free.to), '')
}
