import { compareText } from '../../../model/order.js'
import type { JavaState } from '../java-session.js'

interface Uses {
  /** Paths of files that use a type. */
  readonly users: ReadonlyMap<string, ReadonlySet<string>>
  /** Types that inherit from a type directly. */
  readonly heirs: ReadonlyMap<string, readonly string[]>
  readonly declares: ReadonlyMap<string, readonly string[]>
  readonly pathOf: ReadonlyMap<string, string>
}

const known = new WeakMap<JavaState, Uses>()

function usesOf(state: JavaState): Uses {
  const before = known.get(state)
  if (before) return before
  const users = new Map<string, Set<string>>(), heirs = new Map<string, string[]>(), declares = new Map<string, string[]>(), pathOf = new Map<string, string>()
  const use = (type: string, path: string): void => { const set = users.get(type); if (set) set.add(path); else users.set(type, new Set([path])) }
  for (const file of state.facts.files) {
    declares.set(file.path, file.types.map(type => type.id))
    for (const type of file.types) pathOf.set(type.id, file.path)
    for (const reference of file.references) {
      if (reference.external) continue
      use(reference.to, file.path)
      if (reference.receiver !== null) use(reference.receiver, file.path)
      if (reference.kind === 'extends' || reference.kind === 'implements') heirs.set(reference.to, [...(heirs.get(reference.to) ?? []), reference.from])
    }
  }
  const uses = { users, heirs, declares, pathOf }
  known.set(state, uses)
  return uses
}

/** Paths of files that use a type of the state's code, its own among them. */
export function filesUsing(state: JavaState, type: string): string[] {
  const { users, pathOf } = usesOf(state)
  const own = pathOf.get(type)
  return [...new Set([...(own === undefined ? [] : [own]), ...(users.get(type) ?? [])])].sort(compareText)
}

/** The files whose meaning a change of some files can alter: these, and all that use their types or types that inherit from those. */
export function affectedFiles(state: JavaState, changed: readonly string[]): string[] {
  const { users, heirs, declares, pathOf } = usesOf(state)
  const types = new Set(changed.flatMap(path => declares.get(path) ?? []))
  for (const type of types) for (const heir of heirs.get(type) ?? []) types.add(heir)
  const paths = new Set(changed)
  for (const type of types) {
    const own = pathOf.get(type)
    if (own !== undefined) paths.add(own)
    for (const path of users.get(type) ?? []) paths.add(path)
  }
  return [...paths].sort(compareText)
}
