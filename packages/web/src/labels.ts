export { labelOf } from '@hollowmoor/contract/labels'

/** A count with its noun: `1 cycle`, `2 cycles`. */
export function counted(count: number, noun: string, plural = `${noun}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? noun : plural}`
}

/** A long name with its middle left out at word humps, its end kept. */
export function shortened(name: string, most: number): string {
  if (name.length <= most) return name
  if (/^[a-z][\w]*(\.[a-z]\w*)+$/.test(name)) {
    // Of a package the end tells most.
    const parts = name.split('.')
    while (parts.length > 1 && parts.join('.').length + 2 > most) parts.shift()
    return `…${parts.join('.')}`
  }
  const words = name.match(/[A-Z]+(?![a-z])|[A-Z]?[a-z0-9]+|./g) ?? [name]
  let end = ''
  while (words.length > 1 && (words[words.length - 1]! + end).length < most * 0.6) end = words.pop()! + end
  let start = ''
  while (words.length > 0 && (start + words[0]! + end).length < most) start += words.shift()!
  return words.length === 0 ? start + end : `${start || name.slice(0, Math.max(1, most - end.length - 1))}…${end}`
}

/** How far a type can be tested by itself, in words. */
export const VERDICT_WORDS: Record<string, string> = { 'alone': 'alone', 'with-real-classes': 'with real classes', 'needs-outside': 'needs the outside', 'not-known': 'not known' }

export const EFFECT_WORDS: Record<string, string> = {
  'file-system': 'file system', 'user-interface': 'user interface', 'threads-and-timers': 'threads and timers', 'framework': 'framework host', 'unknown': 'unknown code', 'unresolved': 'a name that was not understood', 'logging': 'a log'
}
export const effectWord = (kind: string): string => EFFECT_WORDS[kind] ?? kind

export const FINDING_WORDS: Record<string, string> = {
  'module-cycle': 'module cycle', 'file-cycle': 'file cycle', 'class-cycle': 'class cycle', 'static-used-from-many-places': 'static used from many places', 'welded-to-the-outside': 'welded to the outside',
  'logic-in-a-framework-class': 'logic locked in a framework class', 'crowded-constructor': 'crowded constructor', 'fat-interface': 'fat interface', 'refused-member': 'refused member', 'type-switch': 'type switch',
  'library-in-many-places': 'library in many places', 'always-used-together': 'always used together', 'several-responsibilities': 'several responsibilities', 'same-shape': 'same shape, no shared abstraction',
  'feature-envy': 'feature envy', 'hidden-state': 'hidden state', 'less-stable-dependency': 'depends on a less stable module', 'repeated-test-setup': 'repeated set-up in tests'
}

export const REMEDY_WORDS: Record<string, string> = {
  'extract-interface': 'extract interface', 'split-interface': 'split interface', 'inject': 'inject', 'make-static-replaceable': 'make the static replaceable', 'introduce-facade': 'introduce facade', 'wrap-library': 'wrap the library',
  'extract-class': 'extract class', 'move-member': 'move member', 'move-type': 'move type', 'extract-plain-class': 'extract plain class', 'replace-type-switch': 'replace the type switch', 'retire-static-face': 'let the static face go', 'shared-interface': 'introduce a shared interface',
  'group-arguments': 'group arguments', 'compose-object-graph': 'compose the object graph in one place', 'turn-dependency-round': 'turn the dependency round', 'builder-for-tests': 'one builder for the set-up', 'start-implementation': 'start another implementation', 'test-double': 'double for tests', 'first-test': 'write its first test'
}
/** Remedies that can be applied now. */
export const BUILT_REMEDIES: ReadonlySet<string> = new Set(['extract-interface', 'inject', 'turn-dependency-round', 'move-type', 'split-interface', 'make-static-replaceable', 'shared-interface', 'group-arguments', 'extract-class', 'wrap-library', 'compose-object-graph', 'move-member', 'introduce-facade', 'builder-for-tests', 'extract-plain-class', 'replace-type-switch'])

/** A remedy as a button names it. */
export function remedyWord(remedy: string): string {
  const word = REMEDY_WORDS[remedy] ?? remedy
  return word.charAt(0).toUpperCase() + word.slice(1)
}

export const KIND_WORDS: Record<string, string> = {
  'class': 'class', 'abstract-class': 'abstract class', 'interface': 'interface', 'enum': 'enum', 'record': 'record', 'alias': 'type alias', 'functions': 'functions of a file'
}
