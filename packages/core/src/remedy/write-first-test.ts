import { notKnownOf, outsideOf } from '../effect/kinds.js'
import type { Observations } from '../model/observation.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import { isBuildable } from './object-graph.js'
import type { ChoiceField, Remedy } from './remedy.js'

/** Name of the choice that holds what a recording saw, as JSON; who runs the recording gives it. */
export const SEEN = 'seen'

const NAME: ChoiceField = { name: 'name', label: 'Name', kind: 'text', value: '', help: 'Left empty, a free name is proposed.', options: [] }

/** A test that builds a class by itself and holds what each of its public members does now. */
export const writeFirstTestRemedy: Remedy = {
  name: 'first-test',
  title: 'Write its first test',

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (!isBuildable(survey, index) || !isTestable(survey, index)) return []
    const members = writer.testableMembers(type.id)
    return members.length === 0 ? [] : [{ detail: '', title: `Write a test of ${type.name} alone, which holds what it does now`, edits: 1, files: 1 }]
  },

  choices() { return [NAME] },

  plan(subject, _detail, choices, survey, writer) {
    const index = survey.model.typeIndex.get(subject)!, { name } = survey.model.types[index]!
    switch (survey.verdicts[index]) {
      case 'needs-outside': return planRefused('needs-outside', `${name} reaches what a test must not touch: plug what is in the way first.`)
      case 'not-known': return planRefused('not-known', `${name} calls code of which it is not known what it touches, so that it is not run to see what it does.`)
      case null: return planRefused('no-logic', `${name} does nothing of its own that a test could hold.`)
    }
    const seen = choices[SEEN] === undefined || choices[SEEN] === '' ? null : readSeen(choices[SEEN])
    if (seen === undefined) return planRefused('choice', 'What was recorded cannot be read; record it again.')
    return writer.writeFirstTest({ type: subject, name: choices.name || null, buildable: buildableTypes(survey), seen })
  }
}

function isTestable({ verdicts }: Survey, index: number): boolean { return verdicts[index] === 'alone' || verdicts[index] === 'with-real-classes' }

/** Types whose objects can come along: nothing outside is reached by them, as far as their code is known. */
function buildableTypes(survey: Survey): Set<string> {
  return new Set(survey.model.types.filter(({ index, kind, exported, test }) => {
    if (!isBuildable(survey, index) && (kind !== 'record' || !exported || test)) return false
    const set = survey.reach.deciding(index)
    return outsideOf(set) === 0 && notKnownOf(set) === 0
  }).map(one => one.id))
}

function readSeen(text: string): Observations | undefined {
  try {
    const read = JSON.parse(text) as Partial<Observations> | null
    return read && typeof read.cases === 'object' && Array.isArray(read.unstable) ? read as Observations : undefined
  } catch { return undefined }
}
