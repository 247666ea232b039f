/** One call of a member that a test makes on an object of its own. */
export interface TestCase {
  /** What it is called, which no other case is. */
  readonly name: string
  readonly member: string
  /** The call as it is written. */
  readonly call: string
  /** It gives nothing: what it did is seen by asking afterwards. */
  readonly isCommand: boolean
  /** What it gives has to be waited for. */
  readonly waits: boolean
}

/** The name under which is recorded what an object says of itself when it is new. */
export const NEW = 'new'

/** More calls of one member tell little more. */
const MOST_CASES = 6

/**
 * Lists of arguments out of what each argument may be: the first of each, and then each of the others in turn beside the
 * first ones. At most `MOST_CASES`.
 */
export function argumentLists(each: readonly (readonly string[])[]): string[][] {
  const usual = each.map(([first]) => first!)
  const lists = [usual]
  for (let turn = 1; lists.length < MOST_CASES && each.some(one => one.length > turn); turn++) {
    for (const [at, one] of each.entries()) {
      if (one.length > turn && lists.length < MOST_CASES) lists.push(usual.with(at, one[turn]!))
    }
  }
  return lists
}

/** A short name for a call that no other has: with its arguments where they are short. */
export function caseName(member: string, given: readonly string[], taken: ReadonlySet<string>): string {
  const whole = `${member}(${given.map(one => (/^(''|"")$/.test(one) ? 'empty' : /^\w+Double\(['"](\w+)['"]\)$/.exec(one)?.[1] ?? one)).join(', ')})`
  const name = whole.length <= 60 && !/["'`\\\n]/.test(whole.replaceAll(/'[\w .:-]*'|"[\w .:-]*"/g, '')) ? whole.replaceAll(/['"]/g, '') : member
  if (!taken.has(name)) return name
  for (let n = 2; ; n++) if (!taken.has(`${name}, ${n}`)) return `${name}, ${n}`
}
