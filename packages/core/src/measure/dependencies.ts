import type { CodeModel } from '../model/code-model.js'

/** All references from one type to another. */
export interface Dependency {
  readonly from: number
  readonly to: number
  /** Indices into the model's references, in order of place. */
  readonly references: readonly number[]
}

/** Dependencies between types of the project, ordered by their ends. O(references log references). */
export function dependenciesOf(model: CodeModel): Dependency[] {
  const byPair = new Map<number, number[]>()
  const { references } = model
  const count = model.types.length
  for (let index = 0; index < references.length; index++) {
    const to = references.to(index)
    if (to < 0) continue
    const pair = references.from(index) * count + to
    const list = byPair.get(pair)
    if (list) list.push(index)
    else byPair.set(pair, [index])
  }
  return [...byPair].sort((a, b) => a[0] - b[0])
    .map(([pair, list]) => ({ from: Math.floor(pair / count), to: pair % count, references: list }))
}

/** Fan-in and fan-out of each type: distinct other product types that use it, and that it uses. */
export function fansOf(model: CodeModel, dependencies: readonly Dependency[]): { fanIn: Int32Array; fanOut: Int32Array } {
  const fanIn = new Int32Array(model.types.length), fanOut = new Int32Array(model.types.length)
  for (const { from, to } of dependencies) {
    if (!model.types[to]!.test) fanOut[from]!++
    if (!model.types[from]!.test) fanIn[to]!++
  }
  return { fanIn, fanOut }
}
