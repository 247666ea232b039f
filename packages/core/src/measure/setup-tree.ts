import type { CodeModel } from '../model/code-model.js'
import type { ParameterFacts } from '../model/facts.js'

/** What one constructor argument takes in a test. */
export interface SetupNode {
  readonly name: string
  /** The declared type as written. */
  readonly text: string
  /** `double`: an abstraction for which a test puts a stand-in. `real`: a class that has to be built. `literal`: a plain value. `circular`: a class that is being built already. */
  readonly kind: 'double' | 'real' | 'literal' | 'circular' | 'external'
  /** Index of the project's type, or -1. */
  readonly type: number
  readonly children: readonly SetupNode[]
}

export interface Setup {
  readonly arguments: readonly SetupNode[]
  /** Objects of real classes that have to be built first, each as often as it is wanted. */
  readonly realObjects: number
  readonly doubles: number
  /** Lines of set-up: one for each object and double, one for the class itself. */
  readonly lines: number
}

/** Deeper than this nobody builds by hand; what is there counts as one object each. */
const DEEPEST = 12

/** What has to be built to build one object of a type. Linear in the tree, which is cut at a circle. */
export function setupOf(model: CodeModel, type: number): Setup {
  let realObjects = 0, doubles = 0
  const node = (parameter: ParameterFacts, above: readonly number[]): SetupNode => {
    const to = model.typeIndex.get(parameter.type) ?? -1
    const made = { name: parameter.name, text: parameter.text, type: to }
    if (parameter.kind === 'data' || parameter.optional) return { ...made, kind: 'literal', children: [] }
    if (parameter.kind === 'abstraction') { doubles++; return { ...made, kind: 'double', children: [] } }
    if (above.includes(to)) return { ...made, kind: 'circular', children: [] }
    realObjects++
    if (to < 0) return { ...made, kind: 'external', children: [] }
    return { ...made, kind: 'real', children: above.length > DEEPEST ? [] : model.types[to]!.parameters.map(one => node(one, [...above, to])) }
  }
  const args = model.types[type]!.parameters.map(parameter => node(parameter, [type]))
  return { arguments: args, realObjects, doubles, lines: realObjects + doubles + 1 }
}
