import { listed } from '../find/finding.js'
import type { LanguageWriter, RepeatedSequence } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import type { Remedy } from './remedy.js'

/** One place beside the tests for the set-up that several of them have alike. */
export const builderForTestsRemedy: Remedy = {
  name: 'builder-for-tests',
  title: 'One builder for the set-up',

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.test || type.inert || type.kind === 'functions') return []
    return writer.repeatedSetUps(type.id).map((one, at) => ({
      // What saves most needs no key.
      id: `builder-for-tests:${type.id}${at === 0 ? '' : `:${one.key}`}`, remedy: 'builder-for-tests', subject: type.id,
      title: `One ${one.name} for what ${one.places.length} tests set up alike`, edits: one.edits, files: one.files
    }))
  },

  choices(subject, detail, _survey, writer) {
    const found = setUpOf(subject, detail, writer)
    return [{ name: 'name', label: 'Its name', kind: 'text', value: found?.name ?? '', help: found ? `It does the ${found.statements} statements that begin at ${listed(found.places)}.` : '', options: [] }]
  },

  plan(subject, detail, choices, _survey, writer) {
    const found = setUpOf(subject, detail, writer)
    if (!found) return planRefused('sequence', 'No set-up with it is alike in several tests any more.')
    return writer.buildForTests({ type: subject, sequence: found.key, name: choices.name || null })
  }
}

/** The set-up of a key; without one, that which saves most. */
function setUpOf(type: string, key: string, writer: LanguageWriter): RepeatedSequence | undefined {
  const all = writer.repeatedSetUps(type)
  return key === '' ? all[0] : all.find(one => one.key === key)
}
