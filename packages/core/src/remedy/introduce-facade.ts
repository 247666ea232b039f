import type { RepeatedSequence } from '../model/repeated-sequence.js'
import { listed } from '../find/finding.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import type { Remedy } from './remedy.js'
import { keyed } from './remedy.js'

/** One method of a class of its own, or a face of steps, for what several classes do alike over a group of classes. */
export const introduceFacadeRemedy: Remedy = {
  name: 'introduce-facade',
  offeredWhereWritten: true,
  title: 'Introduce facade',
  moves: true,

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.test || type.inert || type.kind === 'functions') return []
    return writer.repeatedSequences(type.id).map((one, at) => ({
      // What saves most needs no key.
      detail: at === 0 ? '' : one.key,
      title: `Put ${one.name} before ${listed(one.types.map(id => nameOf(survey, id)))}, for ${placesOf(one)}`, edits: one.edits, files: one.files
    }))
  },

  choices(subject, detail, survey, writer) {
    const proposed = keyed(writer.repeatedSequences(subject), detail)
    return [
      { name: 'name', label: 'Name of the class', kind: 'text', value: proposed?.name ?? '', help: 'Left empty, a free name is proposed.', options: [] },
      { name: 'method', label: 'Name of its method', kind: 'text', value: proposed?.method ?? '', help: proposed ? `It does the ${proposed.statements} statements of ${placesOf(proposed)}.` : '', options: [] },
      { name: 'face', label: 'Said', kind: 'one-of', value: 'call', help: 'Step by step every argument has its name where it is said, and what has a usual value can be left out.', options: [{ value: 'call', label: 'in one call' }, { value: 'steps', label: proposed?.many ? 'step by step, as it takes so much' : 'step by step' }] },
      ...(proposed?.keepsNothing ? [{ name: 'default', label: 'Keep a default', kind: 'yes-no' as const, value: 'yes', help: 'It keeps nothing and is handed to constructors; with a default, creation sites stay as they are.', options: [] }] : [])
    ]
  },

  plan(subject, detail, choices, _survey, writer) {
    const found = keyed(writer.repeatedSequences(subject), detail)
    if (choices.face && choices.face !== 'call' && choices.face !== 'steps') return planRefused('face', 'A facade is told all in one call, or step by step.')
    if (!found) return planRefused('sequence', 'No statements over it are alike in several classes any more.')
    return writer.introduceFacade({ type: subject, sequence: found.key, name: choices.name || null, method: choices.method || null, face: choices.face === 'steps' ? 'steps' : 'call', withDefault: choices.default !== 'no' })
  }
}

/** `PassageDesk.settle and TollWindow.sellReturn`. */
function placesOf({ places }: RepeatedSequence): string {
  return listed([...new Set(places)].map(place => place.slice(Math.max(place.lastIndexOf('#'), place.lastIndexOf('.', place.lastIndexOf('.') - 1)) + 1)))
}

function nameOf({ model }: Survey, id: string): string { return model.types[model.typeIndex.get(id)!]?.name ?? id }
