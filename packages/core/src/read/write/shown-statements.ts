import type { DeclaredLines, ShownLines } from '../../model/repeated-sequence.js'
import { Refused } from './refused.js'

/** Statements of a block, each with its lines and its text. */
export interface ShownBlock<Block> {
  readonly block: Block
  readonly statements: readonly { readonly from: number; readonly to: number; readonly text: () => string }[]
}

/** Where statements stand in a block: [from, to). */
export interface ShownPlace<Block> { readonly block: Block; readonly from: number; readonly to: number }

/**
 * The statements that lines hold, in the first block that has any. Where they have come to hold something else than when they were
 * shown, the place where that stands now. `where`: how the lines are told. Refused where there are not several, or they are gone.
 */
export function statementsShown<Block>(blocks: readonly ShownBlock<Block>[], lines: ShownLines, where: string): ShownPlace<Block> {
  const isWithin = (one: { readonly from: number; readonly to: number }) => one.from >= lines.from && one.to <= lines.to
  const found = blocks.find(one => one.statements.some(isWithin))
  const place = found && { block: found.block, from: found.statements.findIndex(isWithin), to: found.statements.findLastIndex(isWithin) + 1 }
  if (lines.holds !== null && !(found && place && heldBy(found, place.from, place.to) === lines.holds)) {
    for (const one of blocks) for (let from = 0; from < one.statements.length; from++) for (let to = from + 1; to <= one.statements.length; to++) {
      const text = heldBy(one, from, to)
      if (text === lines.holds) return { block: one.block, from, to }
      if (text.length > lines.holds.length) break
    }
    throw new Refused('lines', `the statements that stood in ${where} when they were shown have changed since then`)
  }
  if (!place) throw new Refused('lines', `${where} holds no whole statement of a method`)
  const first = found!.statements[place.from]!, last = found!.statements[place.to - 1]!
  if (blocks.some(one => one.statements.some(other => isWithin(other) && (other.from < first.from || other.to > last.to)))) throw new Refused('lines', `${where} holds statements of several methods or blocks; a facade's call stands in one place`)
  if (place.to - place.from < 2) throw new Refused('lines', `${where} holds one statement alone; a facade stands for several`)
  return place
}

/** What statements say, however they are laid out. */
export function heldBy<Block>({ statements }: ShownBlock<Block>, from: number, to: number): string {
  return statements.slice(from, to).map(one => one.text()).join(' ').replace(/\s+/g, ' ').trim()
}

/** The lines of a text from one offset to another, each whole. */
export function declaredLines(text: string, start: number, end: number): DeclaredLines {
  const before = text.slice(0, start).split('\n').length
  return { from: before, lines: text.split('\n').slice(before - 1, text.slice(0, end).split('\n').length).map(line => line.replace(/\r$/, '')) }
}
