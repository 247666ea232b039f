/** What a test must not touch; and three weaker kinds, of which the last two say that something is not known. */
export const EFFECT_KINDS = [
  'file-system', 'network', 'database', 'clock', 'randomness', 'environment', 'process', 'console', 'device', 'user-interface', 'threads-and-timers',
  'framework', 'logging', 'unknown', 'unresolved'
] as const
export type EffectKind = (typeof EFFECT_KINDS)[number]

/** A set of effects: bit n stands for the n-th kind. */
export type EffectSet = number

export function bitOf(kind: EffectKind): EffectSet { return 1 << EFFECT_KINDS.indexOf(kind) }

export function kindsIn(set: EffectSet): EffectKind[] { return EFFECT_KINDS.filter((_, index) => set & (1 << index)) }

/** The kinds of a set as people write them. */
export function effectsInWords(set: EffectSet): string[] { return kindsIn(set).map(kind => `the ${kind.replaceAll('-', ' ')}`) }

/** Effects that a test bears: what a class writes to its log disturbs none. */
const BORNE = bitOf('logging')
const NOT_KNOWN = bitOf('unknown') | bitOf('unresolved')

/** The effects of a set that keep a test from running alone. */
export function outsideOf(set: EffectSet): EffectSet { return set & ~BORNE & ~NOT_KNOWN }

/** What of a set says that something on the way is not known. */
export function notKnownOf(set: EffectSet): EffectSet { return set & NOT_KNOWN }
