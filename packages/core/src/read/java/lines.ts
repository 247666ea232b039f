import type { Span } from '../../model/facts.js'

/** Lines of a text, for places of offsets. */
export class Lines {
  private readonly starts: number[] = [0]

  constructor(readonly text: string) {
    for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) this.starts.push(at + 1)
  }

  get count(): number { return this.text.endsWith('\n') ? this.starts.length - 1 : this.starts.length }

  span(start: number, end: number): Span {
    let low = 0, high = this.starts.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (this.starts[middle]! <= start) low = middle
      else high = middle - 1
    }
    return { start, end, line: low + 1, column: start - this.starts[low]! + 1 }
  }
}
