import { plural } from '../find/finding.js'
import { frameworkBases } from '../find/framework-logic.js'
import type { LanguageWriter, PlainPart } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import type { Remedy } from './remedy.js'

/** Fewer lines are no logic worth a class. */
const FEWEST_LINES = 4

/** The logic of a class that only a framework can build, in a plain class that a test can build (humble object, Meszaros 2007). */
export const extractPlainClassRemedy: Remedy = {
  name: 'extract-plain-class',
  offeredWhereWritten: true,
  title: 'Extract plain class',
  moves: true,

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.test || (type.kind !== 'class' && type.kind !== 'abstract-class') || !frameworkBases(survey).has(index)) return []
    return partsOf(type.id, writer).map((one, at) => ({
      // What is longest needs no name.
      detail: at === 0 ? '' : one.member,
      title: `Put ${plural(one.lines, 'line')} of ${type.name}.${one.member} into a plain class`, edits: 4, files: 2
    }))
  },

  choices(subject, member, _survey, writer) {
    const parts = partsOf(subject, writer), proposed = member === '' ? parts[0] : parts.find(one => one.member === member)
    return [
      { name: 'name', label: 'Name of the class', kind: 'text', value: proposed?.name ?? '', help: 'Left empty, a free name is proposed.', options: [] },
      { name: 'method', label: 'Name of its method', kind: 'text', value: proposed?.method ?? '', help: proposed ? `It does ${plural(proposed.statements, 'statement')} of ${proposed.member}, from line ${proposed.line} on.` : '', options: [] }
    ]
  },

  plan(subject, member, choices, _survey, writer) {
    const parts = partsOf(subject, writer), found = member === '' ? parts[0] : parts.find(one => one.member === member)
    if (!found) return planRefused('nothing-plain', 'No statements in a row do without the framework and without setting its fields.')
    return writer.extractPlainClass({ type: subject, parts: [{ member: found.member, touching: null }], name: choices.name || null, method: choices.method || null })
  }
}

function partsOf(type: string, writer: LanguageWriter): PlainPart[] { return writer.plainParts(type).filter(one => one.lines >= FEWEST_LINES) }
