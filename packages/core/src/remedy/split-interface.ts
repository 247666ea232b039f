import { clientGroups } from '../find/interfaces.js'
import type { Role } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import { dependenciesOn } from '../survey.js'
import type { Remedy } from './remedy.js'

/** An interface divided along its clients, and along what its implementations can honour. */
export const splitInterfaceRemedy: Remedy = {
  name: 'split-interface',
  title: 'Split interface',

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.kind !== 'interface' || type.test) return []
    if (rolesOf(index, survey, writer.dividedMembers(type.id)).length < 2) return []
    const users = dependenciesOn(survey, index)
    return [{
      detail: '', title: `Split ${type.name} into the roles that its clients use`,
      edits: type.members.length + users.length, files: new Set(users.map(one => survey.model.types[one.from]!.file)).size + 1
    }]
  },

  choices(subject, _detail, survey, writer) {
    const members = writer.dividedMembers(subject)
    const proposed = rolesOf(survey.model.typeIndex.get(subject)!, survey, members)
    return [
      { name: 'roles', label: 'Roles', kind: 'groups', value: rolesText(proposed), help: 'What is in none stays in the interface itself.', options: members.map(name => ({ value: name, label: name })) },
      { name: 'narrow', label: 'Narrow uses to a role', kind: 'yes-no', value: 'yes', help: 'Wherever their use allows.', options: [] },
      { name: 'drop', label: 'Let implementations keep only what they can honour', kind: 'yes-no', value: 'yes', help: 'Members that are empty or only throw go where nobody needs them.', options: [] }
    ]
  },

  plan(subject, _detail, choices, survey, writer) {
    const index = survey.model.typeIndex.get(subject)!
    const members = writer.dividedMembers(subject)
    if (members.length === 0) return planRefused('members', 'None of its members could be that of a role: it is declared in several places or inside something else, or has them all from others.')
    const roles = choices.roles ? readRoles(choices.roles) : rolesOf(index, survey, members)
    if (!roles) return planRefused('roles', 'Write roles as "Name: member, member; Name: member".')
    if (roles.length === 0) return planRefused('roles', 'Its clients use it as a whole, so that there is nothing to divide it along.')
    const seen = new Set<string>()
    for (const role of roles) for (const member of role.members) {
      if (!members.includes(member)) return planRefused('member', `${member} is no member that a role of it could have.`)
      if (seen.has(member)) return planRefused('roles', `${member} stands in two roles.`)
      seen.add(member)
    }
    return writer.splitInterface({ type: subject, roles, narrow: (choices.narrow ?? 'yes') !== 'no', drop: (choices.drop ?? 'yes') !== 'no' })
  }
}

/** More roles than these would help nobody. */
const MOST_ROLES = 6

/** Members by the clients that use them, and by the implementations that refuse them; each such set is a role. */
export function rolesOf(index: number, survey: Survey, members: readonly string[]): Role[] {
  const { model } = survey
  const groupOf = new Map(clientGroups(survey, index).flatMap((group, at) => group.members.map(member => [member, at] as const)))
  const refusers = new Map<string, number[]>()
  for (const { type, base, member } of model.overrides) {
    if (base !== index || model.types[type]!.test || !members.includes(member)) continue
    const own = model.types[type]!.members.filter(one => one.name === member)
    if (own.length > 0 && own.every(one => one.refuses)) refusers.set(member, [...(refusers.get(member) ?? []), type].sort((a, b) => a - b))
  }
  const roles = new Map<string, string[]>()
  for (const member of members) {
    const group = groupOf.get(member), refused = refusers.get(member)
    // What nobody uses stays where it is, unless somebody cannot honour the rest of it.
    if (group === undefined && !refused && refusers.size === 0) continue
    const key = `${group ?? ''}|${refused?.join() ?? ''}`
    const list = roles.get(key)
    if (list) list.push(member)
    else roles.set(key, [member])
  }
  const { name } = model.types[index]!
  return [...roles.values()].sort((a, b) => b.length - a.length || members.indexOf(a[0]!) - members.indexOf(b[0]!)).slice(0, MOST_ROLES)
    .map(list => ({ name: `${name}${list[0]!.charAt(0).toUpperCase()}${list[0]!.slice(1)}`, members: list }))
}

export function rolesText(roles: readonly Role[]): string { return roles.map(role => `${role.name}: ${role.members.join(', ')}`).join('; ') }

/** Undefined where the text is no list of roles. */
export function readRoles(text: string): Role[] | undefined {
  const roles: Role[] = []
  for (const part of text.split(';').map(one => one.trim()).filter(one => one !== '')) {
    const colon = part.indexOf(':')
    const members = part.slice(colon + 1).split(',').map(one => one.trim()).filter(one => one !== '')
    if (colon < 1 || members.length === 0) return undefined
    roles.push({ name: part.slice(0, colon).trim(), members })
  }
  return roles
}
