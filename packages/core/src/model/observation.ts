/**
 * A value as a recording saw it. Numbers are kept as text, so that what JSON has no words for stays what it is (-0, NaN, large
 * ones). A `date` is its year, month from 0, day, hours, minutes, seconds and milliseconds where it was seen. A `constant` is named by the
 * qualified name of its enum and its own. What is `shown` is what an object says of itself. An `object` is known by its class alone.
 */
export type ObservedValue =
  | { readonly is: 'text' | 'number' | 'bigint' | 'boolean' | 'nothing' | 'date' | 'constant' | 'character' | 'shown' | 'object'; readonly text: string }
  | { readonly is: 'list' | 'set'; readonly items: readonly ObservedValue[] }
  | { readonly is: 'map'; readonly entries: readonly (readonly [ObservedValue, ObservedValue])[] }
  | { readonly is: 'record'; readonly fields: readonly (readonly [string, ObservedValue])[] }

/** A call of something that was handed in: its name there and its member, and what it was given. */
export interface ObservedCall {
  readonly name: string
  readonly given: readonly ObservedValue[]
}

/** What one call of a member did, as far as it can be seen from outside. */
export interface Observation {
  /** What it gave; null where it threw. */
  readonly gives: ObservedValue | null
  readonly throws: { readonly type: string; readonly message: string } | null
  /** What was asked of those handed in, in order, by the constructor too. */
  readonly calls: readonly ObservedCall[]
  /** What each query gave after it, by the number of the query; null where it threw. */
  readonly after: readonly (ObservedValue | null)[]
}

/** What a class did with each call of a test. */
export interface Observations {
  /** By the name of the case, of those that did the same every time. */
  readonly cases: Readonly<Record<string, Observation>>
  /** Names of cases that did something else another time. */
  readonly unstable: readonly string[]
}

/** Whether a value can be written down so that it can be compared with. */
export function isComparable(value: ObservedValue): boolean {
  switch (value.is) {
    case 'object': return false
    case 'list': case 'set': return value.items.every(isComparable)
    case 'map': return value.entries.every(([key, one]) => isComparable(key) && isComparable(one))
    case 'record': return value.fields.every(([, one]) => isComparable(one))
    default: return true
  }
}

export function isSameValue(a: ObservedValue | null | undefined, b: ObservedValue | null | undefined): boolean { return JSON.stringify(a ?? null) === JSON.stringify(b ?? null) }
