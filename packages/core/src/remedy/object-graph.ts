import type { GraphArgument, GraphObject, HandedIn } from '../model/plan.js'
import type { ParameterFacts } from '../model/facts.js'
import { lowerFirst, numberedName } from '../read/write/names.js'
import type { Survey } from '../survey.js'
import { dependenciesOn } from '../survey.js'

/** Objects in an order in which each can be built, and what somebody else has to hand in. */
export interface ObjectGraph {
  readonly objects: readonly GraphObject[]
  readonly handedIn: readonly (HandedIn & { readonly why: 'value' | 'no-implementation' | 'several' | 'not-buildable' })[]
  /** Names of classes of which each needs the next, and the last the first; empty where there is no such circle. */
  readonly circle: readonly string[]
}

/** Which class stands for an abstraction, by the abstraction's id; null where it is to be handed in. */
export type Implementations = ReadonlyMap<string, string | null>

/**
 * The objects that one object of a type needs, each built once and shared by those that want it, in post-order of a walk over
 * the arguments of their constructors. Linear in those.
 */
export function objectGraph(survey: Survey, root: number, chosen: Implementations): ObjectGraph {
  const { model } = survey
  const places = new Map<number, number>(), path: number[] = []
  const objects: GraphObject[] = []
  const handedIn: ObjectGraph['handedIn'][number][] = []
  let circle: readonly string[] = []

  /** The place of the object of a class; -1 where it lies on a circle. */
  const build = (type: number): number => {
    const known = places.get(type)
    if (known !== undefined) return known
    if (path.includes(type)) { circle = path.slice(path.indexOf(type)).map(one => model.types[one]!.name); return -1 }
    path.push(type)
    const given = model.types[type]!.parameters
    // What is optional and stands last takes its default.
    const count = given.reduce((most, one, index) => (one.optional ? most : index + 1), 0)
    const args = given.slice(0, count).map((parameter, index) => argument(type, parameter, index))
    path.pop()
    objects.push({ type: model.types[type]!.id, arguments: args })
    places.set(type, objects.length - 1)
    return objects.length - 1
  }
  const argument = (type: number, parameter: ParameterFacts, index: number): GraphArgument => {
    const wanted = model.typeIndex.get(parameter.type) ?? -1
    const take = (why: ObjectGraph['handedIn'][number]['why']): GraphArgument => ({ handedIn: handIn(type, parameter, index, why) })
    if (parameter.kind === 'data' || wanted < 0) return take(parameter.kind === 'abstraction' ? 'no-implementation' : 'value')
    if (parameter.kind === 'class') return isBuildable(survey, wanted) ? { object: build(wanted) } : take('not-buildable')
    const candidates = implementationsOf(survey, wanted)
    const name = chosen.has(parameter.type) ? chosen.get(parameter.type)! : defaultImplementation(survey, candidates)
    const implementation = candidates.find(one => model.types[one]!.id === name)
    return implementation === undefined ? take(candidates.length > 1 ? 'several' : 'no-implementation') : { object: build(implementation) }
  }
  const handIn = (type: number, parameter: ParameterFacts, index: number, why: ObjectGraph['handedIn'][number]['why']): number => {
    // One of a service serves all who want it; two plain values of one name may be different ones.
    const same = parameter.kind === 'data' ? -1 : handedIn.findIndex(one => one.wanted === parameter.type && one.text === parameter.text && parameter.type !== '')
    if (same >= 0) return same
    const own = lowerFirst(parameter.name || 'value')
    const free = (name: string) => !handedIn.some(one => one.name === name)
    const name = free(own) ? own : numberedName(`${lowerFirst(model.types[type]!.name)}${own.charAt(0).toUpperCase()}${own.slice(1)}`, free)
    handedIn.push({ name, of: model.types[type]!.id, parameter: index, wanted: parameter.type, text: parameter.text, why })
    return handedIn.length - 1
  }
  build(root)
  return { objects, handedIn, circle }
}

/** Whether code elsewhere in the project may build an object of a type. */
export function isBuildable({ model }: Survey, type: number): boolean {
  const { kind, exported, test, members } = model.types[type]!
  return kind === 'class' && exported && !test && !members.some(one => one.kind === 'constructor' && !one.public)
}

/** Classes of the product that can be built and are what a type stands for, by way of any other types. */
export function implementationsOf(survey: Survey, abstraction: number): number[] {
  const { references } = survey.model
  const seen = new Set([abstraction]), found: number[] = []
  for (const at of seen) {
    for (const { from, references: places } of dependenciesOn(survey, at)) {
      if (seen.has(from) || !places.some(place => { const kind = references.kind(place); return kind === 'implements' || kind === 'extends' })) continue
      seen.add(from)
      if (isBuildable(survey, from)) found.push(from)
    }
  }
  return found.sort((a, b) => a - b)
}

/** The only one there is, or the only one that the product builds by now. */
export function defaultImplementation(survey: Survey, candidates: readonly number[]): string | null {
  const { model } = survey
  const built = candidates.filter(one => dependenciesOn(survey, one).some(({ from, references }) => !model.types[from]!.test && references.some(at => model.references.kind(at) === 'creates')))
  const [one, ...others] = candidates.length === 1 ? candidates : built
  return one === undefined || others.length > 0 ? null : model.types[one]!.id
}
