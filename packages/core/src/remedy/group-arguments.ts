import { travellingArguments } from '../find/classes.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import { dependenciesOn } from '../survey.js'
import type { Remedy } from './remedy.js'

/** Constructors with fewer arguments are no burden. */
const FEWEST = 4

/** Arguments of a constructor that stand together, as one object. */
export const groupArgumentsRemedy: Remedy = {
  name: 'group-arguments',
  offeredWhereWritten: true,
  title: 'Group constructor arguments',

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if ((type.kind !== 'class' && type.kind !== 'abstract-class') || type.test || type.inert || type.parameters.length < FEWEST) return []
    const run = proposedRun(index, survey, writer.groupableParameters(type.id))
    if (run.length < 2) return []
    const users = dependenciesOn(survey, index), creations = users.flatMap(one => one.references.filter(at => survey.model.references.kind(at) === 'creates'))
    return [{
      detail: '', title: `Group ${run.join(', ')} of ${type.name}'s constructor`,
      edits: creations.length + run.length + 2, files: new Set(creations.map(at => survey.model.references.file(at))).size + 1
    }]
  },

  choices(subject, _detail, survey, writer) {
    const all = writer.groupableParameters(subject)
    return [
      { name: 'parameters', label: 'Arguments', kind: 'many-of', value: proposedRun(survey.model.typeIndex.get(subject)!, survey, all).join(','), help: 'They have to stand next to each other.', options: all.map(name => ({ value: name, label: name })) },
      { name: 'name', label: 'Name of the group', kind: 'text', value: '', help: 'Left empty, a free name is proposed.', options: [] }
    ]
  },

  plan(subject, _detail, choices, survey, writer) {
    const all = writer.groupableParameters(subject)
    const parameters = choices.parameters ? choices.parameters.split(',').map(one => one.trim()).filter(one => one !== '') : proposedRun(survey.model.typeIndex.get(subject)!, survey, all)
    const unknown = parameters.find(name => !all.includes(name))
    if (unknown !== undefined) return planRefused('parameter', `${unknown} is no argument of its constructor that can be grouped.`)
    const places = parameters.map(name => all.indexOf(name)).sort((a, b) => a - b)
    if (places.length < 2) return planRefused('parameter', 'Choose at least two arguments.')
    if (places.some((place, at) => at > 0 && place !== places[at - 1]! + 1)) return planRefused('order', 'The arguments have to stand next to each other, or the order in which they are made would change.')
    return writer.groupArguments({ type: subject, parameters: places.map(place => all[place]!), name: choices.name || null })
  }
}

/** Arguments that always travel together, else those that are collaborators; of these the longest run. */
function proposedRun(index: number, survey: Survey, all: readonly string[]): string[] {
  const { parameters } = survey.model.types[index]!
  const travelling = travellingArguments(survey).filter(set => set.types.includes(index)).flatMap(set => set.names.map(name => name.split(':')[0]!))
  const longest = (wanted: ReadonlySet<string>): string[] => {
    let best: string[] = [], run: string[] = []
    for (const name of all) {
      run = wanted.has(name) ? [...run, name] : []
      if (run.length > best.length) best = run
    }
    return best
  }
  for (const wanted of [new Set(travelling), new Set(parameters.filter(one => one.kind !== 'data').map(one => one.name)), new Set(all)]) {
    const run = longest(wanted)
    if (run.length >= 2) return run
  }
  return []
}
