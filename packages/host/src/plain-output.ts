import { StringDecoder } from 'node:string_decoder'
import { stripVTControlCharacters } from 'node:util'

/** What a stream prints as text, without the marks by which a terminal colours it; a mark or a character may come in two pieces. */
export class PlainOutput {
  private readonly decoder = new StringDecoder('utf8')
  /** The beginning of a mark that has not ended yet. */
  private held = ''

  /** The text of the next piece. */
  take(piece: Buffer): string { return this.plain(this.held + this.decoder.write(piece)) }

  /** What is left when the stream has ended. */
  end(): string {
    const rest = this.held + this.decoder.end()
    this.held = ''
    return stripVTControlCharacters(rest)
  }

  private plain(text: string): string {
    const open = UNFINISHED.exec(text)
    this.held = open ? open[0] : ''
    return stripVTControlCharacters(open ? text.slice(0, open.index) : text)
  }
}

/** An escape, or one with a bracket and numbers, at the end of a text (ECMA-48, control sequences). */
const UNFINISHED = /\u001B(\[[0-9;:?]*)?$/
