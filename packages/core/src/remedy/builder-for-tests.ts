import { listed } from '../find/finding.js'
import { planRefused } from '../model/plan.js'
import type { Remedy } from './remedy.js'
import { keyed } from './remedy.js'

/** One place beside the tests for the set-up that several of them have alike. */
export const builderForTestsRemedy: Remedy = {
  name: 'builder-for-tests',
  title: 'One builder for the set-up',

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.test || type.inert || type.kind === 'functions') return []
    return writer.repeatedSetUps(type.id).map((one, at) => ({
      // What saves most needs no key.
      detail: at === 0 ? '' : one.key,
      title: `One ${one.name} for what ${one.places.length} tests set up alike`, edits: one.edits, files: one.files
    }))
  },

  choices(subject, detail, _survey, writer) {
    const found = keyed(writer.repeatedSetUps(subject), detail)
    return [{ name: 'name', label: 'Its name', kind: 'text', value: found?.name ?? '', help: found ? `It does the ${found.statements} statements that begin at ${listed(found.places)}.` : '', options: [] }]
  },

  plan(subject, detail, choices, _survey, writer) {
    const found = keyed(writer.repeatedSetUps(subject), detail)
    if (!found) return planRefused('sequence', 'No set-up with it is alike in several tests any more.')
    return writer.buildForTests({ type: subject, sequence: found.key, name: choices.name || null })
  }
}
