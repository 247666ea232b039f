import { cohesionOf } from '../measure/cohesion.js'
import type { LanguageWriter } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import type { Remedy } from './remedy.js'

/** Fields, and the methods that share them, as a class of their own. */
export const extractClassRemedy: Remedy = {
  name: 'extract-class',
  title: 'Extract class',
  moves: true,

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.test || type.inert) return []
    const [group] = groupsOf(index, survey, writer)
    if (!group) return []
    return [{ detail: '', title: `Extract a class of ${[...new Set(group)].join(', ')} from ${type.name}`, edits: group.length + 2, files: 2 }]
  },

  choices(subject, _detail, survey, writer) {
    const index = survey.model.typeIndex.get(subject)!
    const groups = groupsOf(index, survey, writer)
    const members = survey.model.types[index]!.members.filter(one => !one.static && one.kind !== 'constructor').map(one => one.name)
    return [
      { name: 'members', label: 'Members', kind: 'many-of', value: (groups[0] ?? []).join(','), help: groups.length > 1 ? `Other groups: ${groups.slice(1, 4).map(group => group.join(', ')).join('; ')}.` : 'Fields, and the methods that share them.', options: [...new Set(members)].map(name => ({ value: name, label: name })) },
      { name: 'name', label: 'Name', kind: 'text', value: '', help: 'Left empty, a free name is proposed.', options: [] }
    ]
  },

  plan(subject, _detail, choices, survey, writer) {
    const members = choices.members ? choices.members.split(',').map(one => one.trim()).filter(one => one !== '') : groupsOf(survey.model.typeIndex.get(subject)!, survey, writer)[0]
    if (!members?.length) return planRefused('members', 'No group of its members stands by itself; choose the members.')
    return writer.extractClass({ type: subject, members, name: choices.name || null })
  }
}

/** Groups of members that share fields and nothing with the rest, and can go; the largest first, but never all of the class. */
function groupsOf(index: number, survey: Survey, writer: LanguageWriter): string[][] {
  const { groups } = cohesionOf(survey.model, index)
  const { id, members: own } = survey.model.types[index]!, logic = new Set(own.filter(one => one.logic).map(one => one.name))
  const helpers = helpersOf(index, survey)
  const uses = survey.model.ownUses.filter(one => one.type === index)
  // What is left has something of its own: other fields, or what does without the group.
  const leavesMore = (group: readonly string[]) => groups.length > 1 || own.some(({ name, kind, hasBody }) => kind === 'method' && hasBody && !group.includes(name) && !uses.some(one => one.inMember === name && group.includes(one.member)))
  // Two methods that only set a field and give it back are no class of their own.
  const candidates = groups.filter(({ methods }) => methods.length > 2 || (methods.length === 2 && methods.some(one => logic.has(one)))).map(group => [...group.fields, ...group.methods, ...helpers(group.methods)])
  return candidates.filter(members => leavesMore(members) && writer.canExtractClass(id, members))
}

/** Methods without fields of their own that only some others call: they go along. */
function helpersOf(index: number, survey: Survey): (methods: readonly string[]) => string[] {
  const { model } = survey
  const uses = model.ownUses.filter(one => one.type === index)
  const isHidden = new Set(model.types[index]!.members.filter(one => one.kind === 'method' && !one.public).map(one => one.name))
  return methods => {
    const inside = new Set(methods)
    for (let size = -1; size !== inside.size;) {
      size = inside.size
      for (const { member, inMember } of uses) {
        if (inside.has(inMember) && isHidden.has(member) && uses.every(other => other.member !== member || other.inMember === member || inside.has(other.inMember))) inside.add(member)
      }
    }
    return [...inside].filter(one => !methods.includes(one))
  }
}
