/** A member of an interface as far as a fake needs to know it. Types are told apart by their text. */
export interface KeptMember {
  readonly name: string
  readonly parameters: readonly { readonly name: string; readonly type: string }[]
  /** `maybe`: one or nothing. `many`: several, in one of the language's collections. */
  readonly gives: { readonly what: 'nothing' | 'truth' | 'number' | 'one' | 'maybe' | 'many' | 'other'; readonly of: string }
}

/** How a member works on what was kept. `by`: what it looks for is told by the thing itself, by its key, or not at all. */
export interface KeptRole {
  readonly does: 'keep' | 'find' | 'all' | 'count' | 'has' | 'drop' | 'unknown'
  readonly by: 'itself' | 'key' | null
}

/** What a fake keeps: things of one type, in order, or under a key that is handed over with them. */
export interface KeptValues {
  readonly of: string
  /** Type of the key that is handed over with each; null where each is kept by itself. */
  readonly under: string | null
  /** What of a thing says its key, where it is kept by itself and asked for by one. */
  readonly key: string | null
  readonly roles: readonly KeptRole[]
}

const DROPS = /^(remove|delete|drop|discard|forget|cancel|unregister|take)/i
const HAS = /^(has|contains|includes|exists|knows|is)/i
const COUNTS = /^(size|count|length|total)/i
const UNKNOWN: KeptRole = { does: 'unknown', by: null }

/**
 * What an interface keeps: of a type that some member takes last and another gives back. Undefined where nothing that it is given comes
 * back. `properties`: what a type has that could be a key, with the type of each.
 */
export function keptValues(members: readonly KeptMember[], properties: (type: string) => readonly { readonly name: string; readonly type: string }[]): KeptValues | undefined {
  const given = new Set(members.filter(({ gives }) => gives.what === 'one' || gives.what === 'maybe' || gives.what === 'many').map(one => one.gives.of))
  const isKeeper = ({ name, parameters, gives }: KeptMember, of: string) => parameters.length > 0 && parameters.length <= 2 && parameters.at(-1)!.type === of && !DROPS.test(name) && !HAS.test(name) && (gives.what !== 'maybe' && gives.what !== 'many' && gives.what !== 'other')
  const of = [...given].find(type => members.some(one => isKeeper(one, type)))
  if (of === undefined) return undefined
  const keepers = members.filter(one => isKeeper(one, of))
  const paired = keepers.find(one => one.parameters.length === 2)
  // Kept in both ways, it would have to be told which.
  if (paired && keepers.some(one => one.parameters.length === 1)) return undefined
  const under = paired ? paired.parameters[0]!.type : null
  const asked = members.find(one => one.parameters.length === 1 && one.parameters[0]!.type !== of && !keepers.includes(one) && (one.gives.what === 'one' || one.gives.what === 'maybe') && one.gives.of === of)
  const key = under !== null || !asked ? null : keyOf(asked.parameters[0]!, properties(of))
  const keyType = under ?? (key === null ? null : asked!.parameters[0]!.type)
  const by = ({ parameters: [only] }: KeptMember): KeptRole['by'] => (only?.type === of && under === null ? 'itself' : only?.type === keyType ? 'key' : null)
  const roles = members.map((one): KeptRole => {
    const { name, parameters, gives } = one
    if (keepers.includes(one)) return gives.what === 'one' && gives.of !== of ? UNKNOWN : { does: 'keep', by: null }
    if (parameters.length === 0) return gives.what === 'many' && gives.of === of ? { does: 'all', by: null } : gives.what === 'number' && COUNTS.test(name) ? { does: 'count', by: null } : UNKNOWN
    if (parameters.length > 1 || by(one) === null) return UNKNOWN
    if (DROPS.test(name) && (gives.what === 'nothing' || gives.what === 'truth')) return { does: 'drop', by: by(one) }
    if (HAS.test(name) && gives.what === 'truth') return { does: 'has', by: by(one) }
    return by(one) === 'key' && (gives.what === 'one' || gives.what === 'maybe') && gives.of === of ? { does: 'find', by: 'key' } : UNKNOWN
  })
  return roles.some(one => one.does === 'find' || one.does === 'all') ? { of, under, key, roles } : undefined
}

/** What of a thing is the key that a member asks by: of the same name, or of a usual one, or the only one of its type. */
function keyOf({ name, type }: { readonly name: string; readonly type: string }, properties: readonly { readonly name: string; readonly type: string }[]): string | null {
  const fitting = properties.filter(one => one.type === type)
  const plain = (text: string) => text.replace(/^get(?=[A-Z])/, '').toLowerCase()
  const found = fitting.find(one => plain(one.name) === plain(name)) ?? fitting.find(one => /^(id|key|name|number|code)$/.test(plain(one.name))) ?? (fitting.length === 1 ? fitting[0] : undefined)
  return found?.name ?? null
}
