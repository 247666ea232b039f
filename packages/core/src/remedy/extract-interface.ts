import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import { dependenciesFrom, dependenciesOn } from '../survey.js'
import type { Remedy } from './remedy.js'

/** An interface over all or some members of a class, with its clients narrowed to it. */
export const extractInterfaceRemedy: Remedy = {
  name: 'extract-interface',
  title: 'Extract interface',

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.kind !== 'class' || type.test) return []
    const members = writer.interfaceMembers(type.id)
    if (members.length === 0 || interfaceOfAll(index, members, survey)) return []
    const uses = annotationUses(index, survey)
    return [{
      detail: '', title: `Extract an interface from ${type.name}`,
      edits: uses.count + 2, files: uses.files + 2
    }]
  },

  choices(subject, _detail, survey, writer) {
    const clients = clientsByMember(subject, survey)
    return [
      { name: 'members', label: 'Members', kind: 'many-of', value: '', help: 'None chosen means all public ones.', options: writer.interfaceMembers(subject).map(name => ({ value: name, label: `${name}${clients.has(name) ? ` (used by ${clients.get(name)!.size})` : ''}` })) },
      { name: 'clients', label: 'Only what these clients use', kind: 'many-of', value: '', help: 'Chooses the members for you.', options: clientNames(clients, survey) },
      { name: 'name', label: 'Name', kind: 'text', value: '', help: 'Left empty, a free name is proposed.', options: [] },
      { name: 'place', label: 'Place', kind: 'one-of', value: 'own-file', help: 'With a client, the client no longer depends on the class\'s module.', options: [
        { value: 'own-file', label: 'own file beside the class' }, { value: 'class-file', label: 'in the class\'s file' }, { value: 'client', label: 'with a client' }
      ] },
      { name: 'client', label: 'Which client', kind: 'one-of', value: '', help: 'For the place "with a client".', options: clientNames(clients, survey) },
      { name: 'narrow', label: 'Narrow clients to it', kind: 'yes-no', value: 'yes', help: 'Wherever their use allows.', options: [] }
    ]
  },

  plan(subject, _detail, choices, survey, writer) {
    let members = listOf(choices.members)
    const clients = listOf(choices.clients)
    if (clients) {
      const used = clientsByMember(subject, survey)
      const wanted = writer.interfaceMembers(subject).filter(name => [...(used.get(name) ?? [])].some(client => clients.includes(survey.model.types[client]!.id)))
      members = [...new Set([...(members ?? []), ...wanted])]
      if (members.length === 0) return planRefused('no-members', 'The chosen clients use none of its public members.')
    }
    const unknown = members?.find(name => !writer.interfaceMembers(subject).includes(name))
    if (unknown !== undefined) return planRefused('member', `${unknown} is not a public member of the class.`)
    const place = choices.place ?? 'own-file'
    if (place !== 'own-file' && place !== 'class-file' && place !== 'client') return planRefused('place', `${place} is no place; choose own-file, class-file or client.`)
    if (place === 'client' && !survey.model.typeIndex.has(choices.client ?? '')) return planRefused('client', 'Choose the client beside which the interface is to stand.')
    const known = place === 'client' || choices.name ? undefined : interfaceOfAll(survey.model.typeIndex.get(subject)!, members ?? writer.interfaceMembers(subject), survey)
    if (known) return planRefused('done', `It implements ${known} already, which has these very members; give a name for another one.`)
    return writer.extractInterface({
      type: subject, members, name: choices.name || null, place, client: choices.client || null, narrow: (choices.narrow ?? 'yes') !== 'no'
    })
  }
}

/** The name of an interface that a class implements and that has some members and no others. */
function interfaceOfAll(index: number, members: readonly string[], survey: Survey): string | undefined {
  const { model } = survey, wanted = new Set(members)
  const promised = dependenciesFrom(survey, index).filter(one => one.references.some(at => model.references.kind(at) === 'implements')).map(one => model.types[one.to]!)
  return promised.find(one => { const names = new Set(one.members.map(member => member.name)); return names.size === wanted.size && [...names].every(name => wanted.has(name)) })?.name
}

function listOf(text: string | undefined): string[] | null {
  const items = (text ?? '').split(',').map(item => item.trim()).filter(item => item !== '')
  return items.length > 0 ? items : null
}

/** How often a class stands as a type, and in how many files. */
function annotationUses(index: number, survey: Survey): { count: number; files: number } {
  const files = new Set<number>()
  let count = 0
  const { references } = survey.model
  for (const dependency of dependenciesOn(survey, index)) {
    for (const at of dependency.references) {
      const kind = references.kind(at)
      if (kind === 'signature' || kind === 'type-argument') { count++; files.add(references.file(at)) }
    }
  }
  return { count, files: files.size }
}

/** The types that use each member of a class. */
export function clientsByMember(subject: string, survey: Survey): Map<string, Set<number>> {
  const index = survey.model.typeIndex.get(subject)
  const clients = new Map<string, Set<number>>()
  if (index === undefined) return clients
  for (const dependency of dependenciesOn(survey, index)) {
    for (const at of dependency.references) {
      const { member, from } = survey.model.references.at(at)
      if (member === '') continue
      const set = clients.get(member) ?? new Set()
      set.add(from)
      clients.set(member, set)
    }
  }
  return clients
}

function clientNames(clients: ReadonlyMap<string, ReadonlySet<number>>, survey: Survey) {
  const all = new Set([...clients.values()].flatMap(set => [...set]))
  return [...all].map(at => survey.model.types[at]!).filter(type => !type.test).sort((a, b) => (a.id < b.id ? -1 : 1))
    .map(type => ({ value: type.id, label: type.name }))
}
