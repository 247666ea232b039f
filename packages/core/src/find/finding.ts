import type { CodePlace } from '../measure/places.js'
import type { Survey } from '../survey.js'

/** What can be worth changing, most pressing first where all else is equal. */
export const FINDING_KINDS = [
  'module-cycle', 'file-cycle', 'class-cycle', 'static-used-from-many-places', 'welded-to-the-outside', 'logic-in-a-framework-class', 'crowded-constructor', 'fat-interface', 'refused-member',
  'type-switch', 'library-in-many-places', 'always-used-together', 'several-responsibilities', 'same-shape', 'feature-envy', 'hidden-state', 'less-stable-dependency', 'repeated-test-setup'
] as const
export type FindingKind = (typeof FINDING_KINDS)[number]

/** Names of remedies as people know them; not all can be applied yet. */
export const REMEDY_NAMES = [
  'extract-interface', 'split-interface', 'inject', 'make-static-replaceable', 'introduce-facade', 'wrap-library', 'extract-class', 'move-member', 'move-type', 'extract-plain-class',
  'replace-type-switch', 'shared-interface', 'group-arguments', 'compose-object-graph', 'turn-dependency-round', 'builder-for-tests'
] as const
export type RemedyName = (typeof REMEDY_NAMES)[number]

export interface Evidence extends CodePlace {
  /** What is seen there, in a few words. */
  readonly what: string
}

/** A place worth changing. */
export interface Finding {
  readonly kind: FindingKind
  /** Stays while what it is about keeps its name. */
  readonly id: string
  /** Id of the type or module, key of the cycle, or name of the external that it is about. */
  readonly subject: string
  readonly about: 'type' | 'module' | 'cycle' | 'external'
  /** Plain, with its figures. */
  readonly sentence: string
  readonly evidence: readonly Evidence[]
  readonly remedies: readonly RemedyName[]
  /** What of the subject it is about, as the ids of steps that take a part of one have it behind the subject; left out where it is the whole. */
  readonly detail?: string
  /** What it takes at most: references and files to edit, remedies to apply. */
  readonly cost: { readonly references: number; readonly files: number; readonly steps: number }
  /** What it frees: modules out of cycles, types that can be tested without the outside, clients spared what they do not use. */
  readonly frees: { readonly modules: number; readonly types: number; readonly clients: number }
}

/** One way of finding: pure, and linear in what it looks at unless it says otherwise. */
export type Finder = (survey: Survey) => Iterable<Finding>

/** Evidence at a reference of the survey's model. */
export function atReference({ model }: Survey, index: number, what: string): Evidence {
  const { file, line, column, start, end } = model.references.at(index)
  return { file, line, column, length: end - start, what }
}

/** Evidence at the declaration of a type or of one of its members. */
export function atDeclaration({ model }: Survey, type: number, member: string, what: string): Evidence {
  const { file, line, members } = model.types[type]!
  const found = members.find(one => one.name === member)
  return found ? { file, line: found.span.line, column: found.span.column, length: member.length, what } : { file, line, column: 1, length: 0, what }
}

/** How many files a list of evidence lies in. */
export function filesOf(evidence: readonly Evidence[]): number { return new Set(evidence.map(one => one.file)).size }

/** `a, b and 3 more`. */
export function listed(names: readonly string[], most = 4): string {
  if (names.length <= most) return names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`
  return `${names.slice(0, most - 1).join(', ')} and ${names.length - most + 1} more`
}

export function plural(count: number, one: string, many = `${one}s`): string { return `${count} ${count === 1 ? one : many}` }
