import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import type { ObjectGraph } from './object-graph.js'
import { defaultImplementation, implementationsOf, isBuildable, objectGraph } from './object-graph.js'
import type { ChoiceField, Choices, Remedy } from './remedy.js'

/** From so many objects on it is worth a place of its own. */
const FEWEST = 2

/** A function that builds an object and all that it needs, in the right order. */
export const composeObjectGraphRemedy: Remedy = {
  name: 'compose-object-graph',
  offeredWhereWritten: true,
  title: 'Compose its object graph',

  offers(index, survey) {
    const type = survey.model.types[index]!
    if (type.inert || type.parameters.length === 0 || !isBuildable(survey, index)) return []
    const { objects, circle } = objectGraph(survey, index, new Map())
    if (circle.length > 0 || objects.length <= FEWEST) return []
    return [{ detail: '', title: `Build ${type.name} and the ${objects.length - 1} objects that it needs in one place`, edits: 1, files: 1 }]
  },

  choices(subject, _detail, survey) {
    return [
      { name: 'name', label: 'Name', kind: 'text', value: '', help: 'Left empty, a free name is proposed.', options: [] },
      ...abstractionsOf(survey, subject).map((abstraction): ChoiceField => {
        const { name } = survey.model.types[abstraction]!, candidates = implementationsOf(survey, abstraction)
        return {
          name, label: `${name} is`, kind: 'one-of', value: defaultImplementation(survey, candidates) ?? '', help: '',
          options: [{ value: '', label: 'handed in' }, ...candidates.map(one => ({ value: survey.model.types[one]!.id, label: survey.model.types[one]!.name }))]
        }
      })
    ]
  },

  plan(subject, _detail, choices, survey, writer) {
    const chosen = chosenOf(survey, subject, choices)
    if (typeof chosen === 'string') return planRefused('choice', chosen)
    const graph = objectGraph(survey, survey.model.typeIndex.get(subject)!, chosen)
    if (graph.circle.length > 0) return planRefused('circle', `${graph.circle.join(' needs ')} needs ${graph.circle[0]!}: none of them can be built first. Hand one of them in, or turn one of these dependencies round.`)
    const outcome = writer.composeGraph({ type: subject, name: choices.name || null, objects: graph.objects, handedIn: graph.handedIn })
    return outcome.refused ? outcome : { ...outcome, notes: [...outcome.notes, ...missing(survey, graph)] }
  }
}

/** Abstractions on the way for which there is something to choose. What is chosen for one may bring others. */
function abstractionsOf(survey: Survey, subject: string): number[] {
  const { model } = survey
  const { objects } = objectGraph(survey, model.typeIndex.get(subject)!, new Map())
  const wanted = objects.flatMap(({ type }) => model.types[model.typeIndex.get(type)!]!.parameters).filter(one => one.kind === 'abstraction' && !one.optional).map(one => model.typeIndex.get(one.type) ?? -1)
  return [...new Set(wanted)].filter(one => one >= 0 && implementationsOf(survey, one).length > 0).sort((a, b) => a - b)
}

/** The chosen implementations by the id of their abstraction, or why a choice makes no sense. */
function chosenOf(survey: Survey, subject: string, choices: Choices): Map<string, string | null> | string {
  const chosen = new Map<string, string | null>()
  for (const abstraction of abstractionsOf(survey, subject)) {
    const { id, name } = survey.model.types[abstraction]!, value = choices[name]
    if (value === undefined) continue
    const candidates = implementationsOf(survey, abstraction).map(one => survey.model.types[one]!)
    const found = candidates.find(one => one.id === value || one.name === value)
    if (value !== '' && !found) return `${value} is no implementation of ${name} that can be built; there ${candidates.length === 1 ? 'is' : 'are'} ${candidates.map(one => one.name).join(', ')}.`
    chosen.set(id, found?.id ?? null)
  }
  return chosen
}

function missing(survey: Survey, { handedIn }: ObjectGraph): string[] {
  const named = (why: string) => handedIn.filter(one => one.why === why).map(one => one.name)
  const told = (names: readonly string[], text: (are: string) => string) => (names.length === 0 ? [] : [`${names.join(', ')} ${text(names.length === 1 ? 'is' : 'are')}`])
  return [
    ...told(named('no-implementation'), are => `${are} handed in: nothing in the project implements ${are === 'is' ? 'it' : 'them'}.`),
    ...told(named('several'), are => `${are} handed in: there is more than one implementation; choose one to have it built here.`),
    ...told(named('not-buildable'), are => `${are} handed in: the class is abstract, hidden or has no constructor that others may call.`)
  ]
}
