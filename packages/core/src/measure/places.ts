import type { CodeModel } from '../model/code-model.js'
import type { Place } from './call-places.js'
import { placeIndex, placeKind } from './call-places.js'
import type { ReachedEffect } from './reach.js'

/** A place in the code for people. */
export interface CodePlace {
  /** Index of the file. */
  readonly file: number
  readonly line: number
  readonly column: number
  /** How many UTF-16 units it is long; 0 where it is not known. */
  readonly length: number
}

/** Where a place of the call graph is; null for what follows from the language alone. */
export function codePlace(model: CodeModel, place: Place): CodePlace | null {
  const index = placeIndex(place)
  switch (placeKind(place)) {
    case 'reference': { const one = model.references.at(index); return { file: one.file, line: one.line, column: one.column, length: one.end - one.start } }
    case 'own-use': { const one = model.ownUses[index]!; return { file: one.file, line: one.line, column: one.column, length: one.end - one.start } }
    case 'unresolved': { const one = model.unresolved[index]!; return { file: one.file, line: one.line, column: one.column, length: one.name.length } }
    case 'nowhere': return null
  }
}

/** Where a member is declared; the type itself for its loading and for a constructor that is not written. */
export function declarationPlace(model: CodeModel, type: number, member: string): CodePlace {
  const { file, line, members } = model.types[type]!
  const found = members.find(one => one.name === member)
  return found ? { file, line: found.span.line, column: found.span.column, length: member.length } : { file, line, column: 1, length: 0 }
}

/** One line of the path to an effect: the member in whose code it stands, and the place that leads on. */
export interface PathLine extends CodePlace {
  readonly type: number
  readonly member: string
}

/** The path to an effect line by line: each member on the way with the place in it that leads on, the last one to the effect. */
export function pathLines(model: CodeModel, { steps, place }: ReachedEffect): PathLine[] {
  return steps.map((step, at) => {
    const next = at + 1 < steps.length ? steps[at + 1]!.place : place
    return { type: step.type, member: step.member, ...(codePlace(model, next) ?? declarationPlace(model, step.type, step.member)) }
  })
}
