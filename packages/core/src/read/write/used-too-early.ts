import { listIn } from '../../graph/lists.js'
import type { FileFacts, OwnUseFacts, TypeFacts } from '../../model/facts.js'

/** A method of a library's class that its constructor is known to call: in Swing every component does. */
const CALLED_WHILE_MADE = new Set(['updateUI'])

/** What is stated of the files of a project. */
interface StatedFiles { readonly files: readonly FileFacts[] }

interface Known { readonly types: ReadonlyMap<string, TypeFacts>; readonly uses: ReadonlyMap<string, readonly OwnUseFacts[]>; readonly bases: ReadonlyMap<string, readonly string[]> }

const known = new WeakMap<StatedFiles, Known>()

function knownOf(facts: StatedFiles): Known {
  let found = known.get(facts)
  if (found) return found
  const types = new Map<string, TypeFacts>(), uses = new Map<string, OwnUseFacts[]>(), bases = new Map<string, string[]>()
  for (const file of facts.files) {
    for (const type of file.types) types.set(type.id, type)
    for (const use of file.ownUses) listIn(uses, use.type).push(use)
    for (const { type, base, member } of file.overrides) listIn(bases, `${type} ${member}`).push(base)
  }
  known.set(facts, found = { types, uses, bases })
  return found
}

/**
 * What a step would break as objects are made: a method that a base class's constructor calls, and that the step lets use a field which
 * only the constructor of its own class fills, afterwards. Undefined where there is none. `changed`: paths of the files that the step
 * changes; `after`: asked only where such a method stands in them. What a library's constructors call is known of few.
 */
export function usedTooEarly(before: StatedFiles, changed: readonly string[], after: () => StatedFiles): string | undefined {
  const all = knownOf(before), paths = new Set(changed), early = new Map<string, string>()
  for (const file of before.files) {
    if (!paths.has(file.path)) continue
    for (const type of file.types) {
      const running = new Map<string, string>()
      for (const { kind, name, calledFromOutside } of type.members) {
        const base = kind !== 'method' ? undefined : calledFromOutside && CALLED_WHILE_MADE.has(name) ? 'its base class' : makingBase(type.id, name, all, new Set())
        if (base !== undefined) running.set(name, base)
      }
      // What these call of their own runs then, too.
      for (const [name, base] of running) for (const use of all.uses.get(type.id) ?? []) if (use.inMember === name && !running.has(use.member)) running.set(use.member, base)
      for (const [name, base] of running) early.set(`${type.id} ${name}`, base)
    }
  }
  if (early.size === 0) return undefined
  const later = after()
  for (const file of later.files) {
    if (!paths.has(file.path)) continue
    const types = new Map(file.types.map(type => [type.id, type]))
    for (const { type, inMember, member } of file.ownUses) {
      const base = early.get(`${type} ${inMember}`), isField = (of: TypeFacts | undefined) => of?.members.some(one => one.kind === 'field' && one.name === member && !one.static) === true
      if (base !== undefined && isField(types.get(type)) && !isField(all.types.get(type))) return `${inMember} is called while an object is made, by the constructor of ${all.types.get(base)?.name ?? base}, and ${member} would not be there yet`
    }
  }
  return undefined
}

/** The base class whose constructor calls a method that a type overrides; undefined where none of the project's does. */
function makingBase(type: string, member: string, all: Known, seen: Set<string>): string | undefined {
  for (const base of all.bases.get(`${type} ${member}`) ?? []) {
    if (seen.has(base)) continue
    seen.add(base)
    const found = calledWhileMade(base, all).has(member) ? base : makingBase(base, member, all, seen)
    if (found !== undefined) return found
  }
  return undefined
}

/** Members of a class that run while an object of it is made. */
function calledWhileMade(base: string, { types, uses }: Known): ReadonlySet<string> {
  const type = types.get(base)
  if (type?.kind !== 'class' && type?.kind !== 'abstract-class') return new Set()
  const own = uses.get(base) ?? []
  // A field that is a function, or only names one, runs nothing yet.
  const fields = new Set(type.members.filter(one => one.kind === 'field' && !one.hasBody).map(one => one.name))
  const running = new Set(['constructor', '', ...own.filter(use => fields.has(use.inMember) && use.kind === 'calls').map(use => use.member)])
  for (const name of running) for (const use of own) if (use.inMember === name) running.add(use.member)
  return running
}
