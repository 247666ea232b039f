import { cyclicComponents } from '../graph/components.js'
import type { CodeModel } from '../model/code-model.js'
import { compareText } from '../model/order.js'
import type { Dependency } from './dependencies.js'
import { enclosingModules } from './modules.js'
import { bestCuts, solveOneByOne } from './remembered-cuts.js'
import type { Verdict } from './verdict.js'

/** Numbers in `Fabric.dependencies` for each dependency: from, to, references. */
const WIDTH = 3

/** What modules are made of, in numbers: enough to arrange types otherwise and measure again, and small enough to send to a page. */
export interface Fabric {
  readonly modules: readonly string[]
  /** Product types. `module` is a place in `modules`; nested types name the outermost one by its place here. */
  readonly types: readonly { readonly id: string; readonly module: number; readonly outermost: number; readonly lines: number; readonly verdict: Verdict | null }[]
  /** Three numbers for each dependency between types: from, to, references. */
  readonly dependencies: readonly number[]
}

/** What is thought of otherwise. */
export interface Rearrangement {
  /** Outermost types by id, each with the module it goes to; a module may be new. */
  readonly moves: readonly { readonly type: string; readonly module: string }[]
  /** Dependencies of a folder's graph that are gone. */
  readonly struck: readonly { readonly within: string; readonly from: string; readonly to: string }[]
}

/** The graph of a folder under a rearrangement. */
export interface RearrangedGraph {
  readonly within: string
  readonly nodes: readonly string[]
  readonly dependencies: readonly { readonly from: string; readonly to: string; readonly references: number; readonly cut: boolean }[]
  readonly cycles: readonly (readonly string[])[]
  /** References that the best cuts of its cycles change. */
  readonly cost: number
}

export interface RearrangedModule { readonly id: string; readonly types: number; readonly ca: number; readonly ce: number; readonly instability: number | null }

export interface RearrangedProject {
  readonly graphs: readonly RearrangedGraph[]
  readonly cycles: number
  readonly modulesInCycles: number
  readonly cost: number
  /** Every module with a type of its own, by id. */
  readonly modules: readonly RearrangedModule[]
  /** The module of every type, as it would be. */
  readonly moduleOf: readonly string[]
}

export function fabricOf(model: CodeModel, dependencies: readonly Dependency[], verdicts: readonly (Verdict | null)[]): Fabric {
  const modules: string[] = [], places = new Map<string, number>()
  const product = model.types.filter(type => !type.test), number = new Map(product.map((type, at) => [type.index, at]))
  const placeOf = (module: string): number => {
    let at = places.get(module)
    if (at === undefined) { places.set(module, at = modules.length); modules.push(module) }
    return at
  }
  return {
    types: product.map(type => ({ id: type.id, module: placeOf(type.module), outermost: number.get(type.outermost) ?? number.get(type.index)!, lines: type.lines, verdict: verdicts[type.index]! })),
    modules, dependencies: dependencies.flatMap(({ from, to, references }) => { const a = number.get(from), b = number.get(to); return a === undefined || b === undefined ? [] : [a, b, references.length] })
  }
}

/** What is left of a rearrangement once the code is another: moves of types that are still there and not yet where they go, and struck dependencies whose ends are still there. */
export function stillFits({ types, modules }: Fabric, { moves, struck }: Rearrangement): Rearrangement {
  const moduleOf = new Map(types.map(type => [type.id, modules[type.module]!]))
  const kept = moves.filter(one => moduleOf.has(one.type) && moduleOf.get(one.type) !== one.module)
  const places = [...modules, ...kept.map(one => one.module)]
  const isThere = (end: string): boolean => places.some(place => place === end || end === '.' || place.startsWith(`${end}/`))
  return { moves: kept, struck: struck.filter(one => isThere(one.from) && isThere(one.to)) }
}

/**
 * Measures a project with some types elsewhere and some dependencies gone: the graph of each folder, its cycles and best cuts,
 * and the modules' couplings. The same as a survey would say of the code so arranged. O(dependencies * depth) and the cuts.
 */
export function rearranged(fabric: Fabric, { moves, struck }: Rearrangement): RearrangedProject {
  const to = new Map(moves.map(move => [move.type, move.module]))
  const moduleOf = fabric.types.map(type => to.get(fabric.types[type.outermost]!.id) ?? fabric.modules[type.module]!)
  const gone = new Set(struck.map(one => key(one.within, one.from, one.to)))
  const graphs = new Map<string, { nodes: Set<string>; weights: Map<string, { from: string; to: string; references: number }> }>()
  const graphAt = (within: string) => {
    let graph = graphs.get(within)
    if (!graph) graphs.set(within, graph = { nodes: new Set(), weights: new Map() })
    return graph
  }
  const chains = new Map<string, string[]>()
  const chainOf = (module: string): string[] => {
    let chain = chains.get(module)
    if (!chain) chains.set(module, chain = enclosingModules(module))
    return chain
  }
  for (const module of new Set(moduleOf)) {
    const chain = chainOf(module)
    graphAt(module).nodes.add(module)
    for (let level = 1; level < chain.length; level++) graphAt(chain[level]!).nodes.add(chain[level - 1]!)
  }
  const tallies = new Map<string, { types: number; into: Set<number>; outOf: Set<number> }>()
  const tally = (module: string) => {
    let entry = tallies.get(module)
    if (!entry) tallies.set(module, entry = { types: 0, into: new Set(), outOf: new Set() })
    return entry
  }
  for (const module of moduleOf) tally(module).types++
  const levels = new Map<string, { within: string; from: string; to: string }>()
  /** The graph in which two modules meet, and their nodes there. */
  const meet = (from: string, target: string) => {
    const both = key('', from, target)
    let found = levels.get(both)
    if (!found) {
      const up = chainOf(from), down = chainOf(target), common = up.find(id => down.includes(id))!
      levels.set(both, found = { within: common, from: up[up.indexOf(common) - 1] ?? common, to: down[down.indexOf(common) - 1] ?? common })
    }
    return found
  }
  const { dependencies } = fabric
  for (let at = 0; at < dependencies.length; at += WIDTH) {
    const a = moduleOf[dependencies[at]!]!, b = moduleOf[dependencies[at + 1]!]!
    if (a === b) continue
    const { within, from, to: target } = meet(a, b), pair = key(within, from, target)
    if (gone.has(pair)) continue
    tally(a).outOf.add(dependencies[at]!)
    tally(b).into.add(dependencies[at]!)
    const { weights } = graphAt(within), entry = weights.get(pair)
    if (entry) entry.references += dependencies[at + 2]!
    else weights.set(pair, { from, to: target, references: dependencies[at + 2]! })
  }
  const told = [...graphs].sort((a, b) => compareText(a[0], b[0])).map(([within, { nodes, weights }]) => cutGraph(within, [...nodes].sort(compareText), [...weights.values()]))
  return {
    graphs: told, moduleOf, cost: told.reduce((sum, graph) => sum + graph.cost, 0), cycles: told.reduce((sum, graph) => sum + graph.cycles.length, 0),
    modulesInCycles: told.reduce((sum, graph) => sum + graph.cycles.reduce((all, cycle) => all + cycle.length, 0), 0),
    modules: [...tallies].sort((a, b) => compareText(a[0], b[0])).map(([id, { types, into, outOf }]) => ({ id, types, ca: into.size, ce: outOf.size, instability: into.size + outOf.size === 0 ? null : outOf.size / (into.size + outOf.size) }))
  }
}

const key = (within: string, from: string, to: string) => `${within}\0${from}\0${to}`

function cutGraph(within: string, nodes: readonly string[], weights: readonly { from: string; to: string; references: number }[]): RearrangedGraph {
  const index = new Map(nodes.map((node, at) => [node, at]))
  const sorted = [...weights].sort((a, b) => compareText(a.from, b.from) || compareText(a.to, b.to))
  const arcs = sorted.map(one => ({ from: index.get(one.from)!, to: index.get(one.to)!, weight: one.references }))
  const components = cyclicComponents(nodes.length, arcs)
  const componentOf = new Map(components.flatMap((members, at) => members.map(node => [node, at] as const)))
  const inside = components.map((_, at) => arcs.flatMap((arc, place) => (componentOf.get(arc.from) === at && componentOf.get(arc.to) === at ? [place] : [])))
  const cuts = bestCuts(components.map((members, at) => {
    const local = new Map(members.map((node, place) => [node, place]))
    return { nodeCount: members.length, arcs: inside[at]!.map(place => ({ from: local.get(arcs[place]!.from)!, to: local.get(arcs[place]!.to)!, weight: arcs[place]!.weight })) }
  }), solveOneByOne)()
  const cut = new Set(cuts.flatMap((one, at) => one.arcs.map(place => inside[at]![place]!)))
  return {
    within, nodes, dependencies: sorted.map((one, place) => ({ ...one, cut: cut.has(place) })), cycles: components.map(members => members.map(node => nodes[node]!)),
    cost: cuts.reduce((sum, one) => sum + one.cost, 0)
  }
}

/** A move, and what the cuts of all module cycles would cost after it. */
export interface HelpfulMove { readonly type: string; readonly module: string; readonly cost: number; readonly cycles: number }

/** So many moves are tried, in small and in large projects. */
const TRIED = 60, TRIED_LARGE = 12, LARGE = 20_000

/**
 * Moves of single types after which breaking the module cycles costs less, best first: of the types at the ends of what flows
 * back, to the module at its other end, those with most references first. At most `most`.
 */
export function helpfulMoves(fabric: Fabric, now: Rearrangement, most = 5): HelpfulMove[] {
  const looking = lookForMoves(fabric, now, most)
  for (;;) { const step = looking.next(); if (step.done) return step.value }
}

/** The same move by move, so that whoever asks can stop in between. */
export function* lookForMoves(fabric: Fabric, now: Rearrangement, most = 5): Generator<void, HelpfulMove[]> {
  const before = rearranged(fabric, now)
  const back = new Set(before.graphs.flatMap(graph => graph.dependencies.filter(one => one.cut).map(one => key(graph.within, one.from, one.to))))
  const candidates = new Map<string, { type: string; module: string; references: number }>()
  const { dependencies, types } = fabric
  const propose = (type: number, module: string, references: number): void => {
    const { id } = types[types[type]!.outermost]!
    if (id.endsWith('#')) return
    const entry = candidates.get(key('', id, module))
    if (entry) entry.references += references
    else candidates.set(key('', id, module), { type: id, module, references })
  }
  for (let at = 0; at < dependencies.length; at += WIDTH) {
    const a = before.moduleOf[dependencies[at]!]!, b = before.moduleOf[dependencies[at + 1]!]!
    if (a === b) continue
    const up = enclosingModules(a), down = enclosingModules(b), common = up.find(id => down.includes(id))!
    if (!back.has(key(common, up[up.indexOf(common) - 1] ?? common, down[down.indexOf(common) - 1] ?? common))) continue
    propose(dependencies[at]!, b, dependencies[at + 2]!)
    propose(dependencies[at + 1]!, a, dependencies[at + 2]!)
  }
  const tried = [...candidates.values()].sort((a, b) => b.references - a.references || compareText(a.type, b.type) || compareText(a.module, b.module)).slice(0, dependencies.length / WIDTH > LARGE ? TRIED_LARGE : TRIED)
  const found: HelpfulMove[] = []
  for (const { type, module } of tried) {
    yield
    const { cost, cycles } = rearranged(fabric, { ...now, moves: [...now.moves.filter(move => move.type !== type), { type, module }] })
    if (cost < before.cost) found.push({ type, module, cost, cycles })
  }
  return found.sort((a, b) => a.cost - b.cost || a.cycles - b.cycles || compareText(a.type, b.type)).slice(0, most)
}
