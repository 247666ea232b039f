import type { Observation, ObservedValue, Observations } from '../../model/observation.js'
import { isComparable, isSameValue } from '../../model/observation.js'
import type { TestCase } from './first-test-cases.js'
import { NEW } from './first-test-cases.js'

/** What one test holds: a call, what it did, and what the object says of itself afterwards. */
export interface SeenCase {
  readonly made: TestCase
  readonly seen: Observation
  /** Queries whose answers the call changed, by their number, with what they give then. */
  readonly after: readonly { readonly query: number; readonly gives: ObservedValue }[]
}

export interface SeenCases {
  readonly cases: readonly SeenCase[]
  /** Members of which nothing is held, with why. */
  readonly leftOut: readonly string[]
}

/** Errors of the runtime say that an argument made no sense, and not what the class does. */
const RUNTIME_ERROR = /^(TypeError|ReferenceError|RangeError|SyntaxError|InternalError|AssertionError)$|(^|\.)(NullPointer|ClassCast|StackOverflow|OutOfMemory|ArrayStore|NegativeArraySize|AbstractMethod|NoSuchMethod|NoClassDef)\w*$/

/** What a JavaScript engine says itself when it throws one. */
const ENGINE_MESSAGE = /^(Cannot |Can't |undefined|null |Invalid (array length|count|string length|time|date|left|regular)|Maximum call stack|Reduce of empty|Class constructor|Class extends|Converting circular|Object prototype|Assignment to|Unexpected |Iterator |Private |Derived )| is not (a function|iterable|a constructor|defined|an object|a valid|extensible)|before initialization|radix|precision|digits/

/**
 * What is worth holding of what was seen: each member once for each thing that it does. `thrown`: kinds of errors of the runtime that the
 * class throws by its own words, as a check of its arguments; such a one says what it does.
 */
export function seenCases(cases: readonly TestCase[], queries: readonly string[], { cases: seen, unstable }: Observations, thrown: ReadonlySet<string> = new Set()): SeenCases {
  const isOfRuntime = ({ type, message }: NonNullable<Observation['throws']>) => RUNTIME_ERROR.test(type) && (!thrown.has(type) || ENGINE_MESSAGE.test(message))
  const held: SeenCase[] = [], told = new Map<string, Set<string>>(), why = new Map<string, string>()
  const fresh = seen[NEW]?.after ?? []
  for (const made of cases) {
    const one = seen[made.name]
    if (!one) { why.set(made.member, unstable.includes(made.name) ? 'it does not do the same each time' : 'it did not come to an end'); continue }
    if (one.throws && isOfRuntime(one.throws)) { why.set(made.member, `with sample arguments it ends with ${one.throws.type}: ${firstLine(one.throws.message)}`); continue }
    const after = one.after.flatMap((gives, query) => (gives !== null && isComparable(gives) && queries[query] !== made.call && !isSameValue(gives, fresh[query]) ? [{ query, gives }] : []))
    const did = JSON.stringify([one.gives, one.throws, one.calls, after])
    const before = told.get(made.member) ?? new Set()
    if (before.has(did)) continue
    told.set(made.member, before.add(did))
    held.push({ made, seen: one, after })
  }
  return { cases: held, leftOut: [...why].filter(([member]) => !told.has(member)).map(([member, reason]) => `${member} (${reason})`) }
}

function firstLine(text: string): string { return text.split('\n', 1)[0]!.slice(0, 100) }
