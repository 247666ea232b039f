import { catalogueOf } from '../../effect/shipped.js'
import type { EffectKind } from '../../effect/kinds.js'
import type { ReferenceFacts } from '../../model/facts.js'

/** What a class uses of one external, or of the language's own runtime for one effect. */
export interface OutsideGroup<Use> {
  readonly key: string
  readonly external: string
  readonly effect: EffectKind
  readonly uses: Use[]
  /** Uses that stay where they are: the line and why. */
  readonly stays: { readonly line: number; readonly why: string }[]
}

const KINDS: ReadonlySet<string> = new Set(['calls', 'calls-static', 'creates', 'reads'])
/** What only computes needs no interface, a log disturbs no test, and what a framework calls cannot be handed in. */
const LEFT: ReadonlySet<EffectKind | 'pure'> = new Set(['pure', 'logging', 'unresolved', 'framework', 'user-interface'])

/** What tells a library object that a class holds from all else that it uses of the outside: the library and the field. */
export function heldKey(external: string, field: string): string { return `${HELD}${external}:${field}` }

export const HELD = 'held:'

/** Whether what has an effect is left where it is: it only computes, disturbs no test, or cannot be handed in. */
export function isLeftOutside(effect: EffectKind | 'pure'): boolean { return LEFT.has(effect) }

/** The references by which a type itself uses the outside, in source order, each with what it touches. */
export function outsideReferences(references: readonly ReferenceFacts[], type: string, language: string): { readonly reference: ReferenceFacts; readonly effect: EffectKind }[] {
  return references.filter(one => one.from === type && one.external && !one.typeOnly && KINDS.has(one.kind)).sort((a, b) => a.span.start - b.span.start).flatMap(reference => {
    const effect = catalogueOf(language).effectOf(reference.to, reference.member)
    return LEFT.has(effect) || effect === 'pure' ? [] : [{ reference, effect }]
  })
}
