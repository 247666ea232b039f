/** Members by the role that each is in, and those in none. */
export interface MemberGroups {
  readonly roles: readonly { readonly name: string; readonly members: readonly string[] }[]
  readonly rest: readonly string[]
}

/** Reads `Name: member, member; Name: member`; what is no member of the interface is left out. */
export function readGroups(text: string, members: readonly string[]): MemberGroups {
  const roles = text.split(';').map(part => part.trim()).filter(part => part.includes(':')).map(part => ({
    name: part.slice(0, part.indexOf(':')).trim(), members: part.slice(part.indexOf(':') + 1).split(',').map(one => one.trim()).filter(one => members.includes(one))
  }))
  const placed = new Set(roles.flatMap(role => role.members))
  return { roles, rest: members.filter(member => !placed.has(member)) }
}

/** The text again; roles without members are left out. */
export function groupsText({ roles }: MemberGroups): string {
  return roles.filter(role => role.members.length > 0).map(role => `${role.name}: ${role.members.join(', ')}`).join('; ')
}

/** A member in another role, or in none (-1); members keep the order of the interface. */
export function movedTo({ roles, rest }: MemberGroups, member: string, role: number, members: readonly string[]): MemberGroups {
  const inOrder = (list: readonly string[]) => members.filter(one => list.includes(one))
  return {
    roles: roles.map((one, at) => ({ ...one, members: at === role ? inOrder([...one.members, member]) : one.members.filter(other => other !== member) })),
    rest: role === -1 ? inOrder([...rest, member]) : rest.filter(one => one !== member)
  }
}
