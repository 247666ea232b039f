import { sameShapes } from '../find/interfaces.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import type { Remedy } from './remedy.js'

/** One interface over what classes of the same shape have in common, which all of them implement. */
export const sharedInterfaceRemedy: Remedy = {
  name: 'shared-interface',
  title: 'Introduce a shared interface',

  offers(index, survey, writer) {
    const shape = shapeOf(index, survey)
    if (!shape) return []
    const { types } = survey.model, { id } = types[index]!
    // Of generic classes each one's `T` is another.
    if (shape.types.some(one => writer.isGeneric(types[one]!.id))) return []
    if (!writer.interfaceMembers(id).some(name => shape.members.includes(name))) return []
    return [{
      detail: '', title: `Introduce an interface that ${shape.types.map(one => types[one]!.name).join(', ')} share`,
      edits: shape.types.length + 1, files: shape.types.length + 1
    }]
  },

  choices(subject, _detail, survey) {
    const index = survey.model.typeIndex.get(subject)!
    const shape = shapeOf(index, survey)
    const members = shape?.members ?? []
    return [
      { name: 'members', label: 'Members', kind: 'many-of', value: members.join(','), help: 'Leave out what has the same name and another meaning.', options: members.map(name => ({ value: name, label: name })) },
      { name: 'others', label: 'Together with', kind: 'many-of', value: othersOf(index, survey).join(','), help: '', options: othersOf(index, survey).map(id => ({ value: id, label: survey.model.types[survey.model.typeIndex.get(id)!]!.name })) },
      { name: 'name', label: 'Name', kind: 'text', value: '', help: 'Left empty, what their names have in common, or a free name.', options: [] },
      { name: 'narrow', label: 'Narrow uses of the class to it', kind: 'yes-no', value: 'no', help: 'Wherever their use allows.', options: [] }
    ]
  },

  plan(subject, _detail, choices, survey, writer) {
    const index = survey.model.typeIndex.get(subject)!
    const shape = shapeOf(index, survey)
    if (!shape) return planRefused('no-shape', 'No other class has its shape any more.')
    const listed = (text: string | undefined, all: readonly string[]) => (text === undefined ? [...all] : text.split(',').map(one => one.trim()).filter(one => one !== ''))
    const members = listed(choices.members, shape.members), others = listed(choices.others, othersOf(index, survey))
    const unknown = members.find(name => !shape.members.includes(name)) ?? others.find(id => !othersOf(index, survey).includes(id))
    if (unknown !== undefined) return planRefused('member', `${unknown} is not among what they share.`)
    if (members.length === 0 || others.length === 0) return planRefused('no-members', 'Choose at least one member and one other class.')
    const names = [subject, ...others].map(id => survey.model.types[survey.model.typeIndex.get(id)!]!.name)
    const common = commonName(names), taken = namesIn(survey)
    return writer.extractInterface({
      type: subject, members, name: choices.name || (common && !taken.has(common) ? common : null), place: 'own-file', client: null, narrow: choices.narrow === 'yes', others
    })
  }
}

/** Names that the code says already: of its types, of what it uses from outside, and of what was not found. */
function namesIn({ model: { types, references, unresolved } }: Survey): ReadonlySet<string> {
  const names = new Set([...types.map(type => type.name), ...unresolved.map(one => one.name)])
  for (let at = 0; at < references.length; at++) if (references.to(at) < 0) names.add(references.member(at).split('.', 1)[0]!)
  return names
}

function shapeOf(index: number, survey: Survey) { return sameShapes(survey).find(one => one.types.includes(index)) }

function othersOf(index: number, survey: Survey): string[] {
  return (shapeOf(index, survey)?.types ?? []).filter(one => one !== index).map(one => survey.model.types[one]!.id)
}

/** The words that names end or begin with together: `RadioSender` and `MailSender` give `Sender`. Empty where there are none. */
export function commonName(names: readonly string[]): string {
  const words = names.map(name => name.match(/[A-Z]+(?![a-z])|[A-Z]?[a-z0-9]+/g) ?? [name])
  const shared = (of: readonly (readonly string[])[]) => { let count = 0; while (of.every(list => count < list.length && list[count] === of[0]![count])) count++; return of[0]!.slice(0, count) }
  const end = shared(words.map(list => [...list].reverse())).reverse()
  return (end.length > 0 ? end : shared(words)).join('')
}
