/**
 * A text without its comments, for a parser to read: where sources are well documented, comments are up to half of what
 * it would go through letter by letter, only to leave them out of the tree.
 */
export class CommentFree {
  private shifts = new Int32Array(1 << 16)
  private length = 0

  /**
   * `tokens` finds comments and all that may hold what looks like one (texts in quotes); of what it finds, what begins with
   * `/*` or `//` is a comment. A text with `unsure` in it is left as it is.
   */
  constructor(private readonly tokens: RegExp, private readonly unsure: string) {}

  /** The text with each block comment as one space and each line comment as nothing; undefined where that would save little. */
  shorten(text: string): string | undefined {
    if (!text.includes('/*') && !text.includes('//') || text.includes(this.unsure)) return undefined
    let short = '', from = 0, at = 0
    if (this.shifts.length <= text.length) this.shifts = new Int32Array(text.length * 2)
    const { shifts, tokens } = this
    tokens.lastIndex = 0
    for (let found = tokens.exec(text); found; found = tokens.exec(text)) {
      const token = found[0]
      if (token.charCodeAt(0) !== 47) continue
      short += text.slice(from, found.index)
      // A token that ends where the comment began is not moved by it: only what begins behind it is.
      shifts.fill(from - at, this.length, short.length + 1)
      this.length = short.length + 1
      if (token.charCodeAt(1) === 42) short += ' '
      from = found.index + token.length
      at = short.length
    }
    short += text.slice(from)
    shifts.fill(from - at, this.length, short.length + 1)
    this.length = 0
    return short
  }

  /** Moves an offset in the text that `shorten` gave last to where that stands in the whole one. */
  inWhole(offset: number): number { return offset + this.shifts[offset]! }
}
