/**
 * Changes that were each planned on the untouched code, put together where they touch no file in common, so that one run of a
 * compiler or of tests looks at many.
 */
export class ChangeBatches {
  #open = []

  /** `size`: at most so many changes in one. */
  constructor(size) { this.size = size }

  /** How many wait for which `test` holds. */
  count(test) { return this.#open.flatMap(batch => batch.cases).filter(test).length }

  /** Takes a case, an object with `changes`. Gives its batch back, as a list of cases, once that is full. */
  add(one) {
    const paths = one.changes.map(change => change.path)
    let batch = this.#open.find(({ touched }) => paths.every(path => !touched.has(path)))
    if (!batch) this.#open.push(batch = { cases: [], touched: new Set() })
    for (const path of paths) batch.touched.add(path)
    batch.cases.push(one)
    if (batch.cases.length < this.size) return undefined
    this.#open.splice(this.#open.indexOf(batch), 1)
    return batch.cases
  }

  /** What is not full, as lists of cases. */
  rest() { return this.#open.splice(0).map(batch => batch.cases) }
}

/**
 * Finds which of several changes are to blame, by halving. `problemsOf(cases)`: what is wrong with them together, nothing where
 * the list is empty; `good(one)` and `bad(one, problems)` are told of each; `together(cases, problems)` of those that are each
 * right and only together wrong: two changes that were each planned on the code as it is need not fit together.
 */
export async function blame(cases, { problemsOf, good, bad, together }) {
  const problems = await problemsOf(cases)
  if (problems.length === 0) { for (const one of cases) await good(one); return true }
  if (cases.length === 1) { await bad(cases[0], problems); return false }
  const half = Math.ceil(cases.length / 2), parts = { problemsOf, good, bad, together }
  const left = await blame(cases.slice(0, half), parts), right = await blame(cases.slice(half), parts)
  if (left && right) together(cases, problems)
  return left && right
}
