import type { JavaWriteContext } from './context.js'

/** Names that a new class is not given unasked: those of the project's classes, and those by which some file imports another. */
export function takenNames({ state, bound }: Pick<JavaWriteContext, 'state' | 'bound'>): Set<string> {
  return new Set([...state.facts.files.flatMap(one => one.types.map(type => type.name)), ...bound.importedNames])
}
