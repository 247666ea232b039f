import { cyclicComponents } from '../graph/components.js'
import type { Arc } from '../graph/digraph.js'
import type { CodeModel } from '../model/code-model.js'
import { compareText } from '../model/order.js'
import type { Dependency } from './dependencies.js'
import { enclosingModules } from './modules.js'
import type { CutProblem, SolveCuts } from './remembered-cuts.js'
import { bestCuts, solveOneByOne } from './remembered-cuts.js'

/** One dependency between two nodes of a graph of modules, files or types. */
export interface GraphDependency {
  readonly from: string
  readonly to: string
  /** Indices of the references that make it. */
  readonly references: readonly number[]
  /** How many of them exist at run time. */
  readonly atRunTime: number
}

/** A graph whose nodes are ids; dependencies ordered by their ends. */
export interface DependencyGraph {
  /** For module graphs the folder whose graph it is; '' otherwise. */
  readonly within: string
  readonly nodes: readonly string[]
  readonly dependencies: readonly GraphDependency[]
}

/** A strongly connected component with its best cut. */
export interface Cycle {
  readonly within: string
  /** Ids of its members, in order. */
  readonly members: readonly string[]
  /** True where a cycle is left when references that the compiler erases do not count. */
  readonly atRunTime: boolean
  /** All dependencies among its members. */
  readonly dependencies: readonly GraphDependency[]
  readonly cut: {
    readonly dependencies: readonly GraphDependency[]
    /** How many references the cut changes: its cost. */
    readonly references: number
    /** No cut changes fewer; equal to `references` where that is proven. */
    readonly lowerBound: number
  }
}

/** Gathers dependencies between numbered nodes; names only come in at the end, for there are far more references than nodes. */
class GraphBuilder {
  private readonly pairs = new Map<number, { from: number; to: number; references: number[]; atRunTime: number }>()
  private readonly nodes = new Set<number>()

  /** `names`: of all nodes that may be added, by their numbers. */
  constructor(private readonly within: string, private readonly names: readonly string[], private readonly model: CodeModel) {}

  add(from: number, to: number, references: readonly number[]): void { for (const index of references) this.addOne(from, to, index) }

  addOne(from: number, to: number, reference: number): void {
    const key = from * this.names.length + to
    let entry = this.pairs.get(key)
    if (!entry) {
      this.nodes.add(from).add(to)
      this.pairs.set(key, entry = { from, to, references: [], atRunTime: 0 })
    }
    entry.references.push(reference)
    if (!this.model.references.typeOnly(reference)) entry.atRunTime++
  }

  addNode(node: number): void { this.nodes.add(node) }

  build(): DependencyGraph {
    const { names } = this
    const nodes = [...this.nodes].sort((a, b) => compareText(names[a]!, names[b]!))
    const rank = new Int32Array(names.length)
    nodes.forEach((node, at) => { rank[node] = at })
    const dependencies = [...this.pairs.values()].sort((a, b) => rank[a.from]! - rank[b.from]! || rank[a.to]! - rank[b.to]!)
    return {
      within: this.within, nodes: nodes.map(node => names[node]!),
      dependencies: dependencies.map(({ from, to, references, atRunTime }) => ({ from: names[from]!, to: names[to]!, references: ascending(references), atRunTime }))
    }
  }
}

/** Most lists are in order as they come. */
function ascending(numbers: number[]): number[] {
  for (let at = 1; at < numbers.length; at++) if (numbers[at - 1]! > numbers[at]!) return numbers.sort((a, b) => a - b)
  return numbers
}

/**
 * One graph for each folder: its child folders with all they hold, and one node (the folder's own id) for its own files.
 * A reference counts only in the graph of the lowest common folder of its two ends. With `flat` all modules form one
 * graph, as packages do. Product code only.
 */
export function moduleGraphs(model: CodeModel, dependencies: readonly Dependency[], flat = false): DependencyGraph[] {
  const names: string[] = [], numbers = new Map<string, number>()
  const numberOf = (id: string): number => {
    let number = numbers.get(id)
    if (number === undefined) { number = names.length; names.push(id); numbers.set(id, number) }
    return number
  }
  /** Of each module itself and the folders around it, the nearest first. */
  const chains = new Map<string, readonly number[]>()
  const chainOf = (module: string): readonly number[] => {
    let chain = chains.get(module)
    if (!chain) chains.set(module, chain = enclosingModules(module).map(numberOf))
    return chain
  }
  const root = numberOf('.')
  for (const type of model.types) if (flat) numberOf(type.module); else chainOf(type.module)
  const graphs = new Map<number, GraphBuilder>()
  const at = (within: number) => {
    let graph = graphs.get(within)
    if (!graph) graphs.set(within, graph = new GraphBuilder(names[within]!, names, model))
    return graph
  }
  for (const type of model.types) {
    if (type.test) continue
    if (flat) { at(root).addNode(numberOf(type.module)); continue }
    const chain = chainOf(type.module)
    at(chain[0]!).addNode(chain[0]!)
    for (let level = 1; level < chain.length; level++) at(chain[level]!).addNode(chain[level - 1]!)
  }
  for (const { from, to, references } of dependencies) {
    const source = model.types[from]!, target = model.types[to]!
    if (source.test || target.test || source.module === target.module) continue
    if (flat) { at(root).add(numberOf(source.module), numberOf(target.module), references); continue }
    const up = chainOf(source.module), down = chainOf(target.module)
    const common = up.find(id => down.includes(id))!
    const below = (chain: readonly number[]) => chain[chain.indexOf(common) - 1] ?? common
    at(common).add(below(up), below(down), references)
  }
  return [...graphs.values()].map(graph => graph.build()).sort((a, b) => compareText(a.within, b.within))
}

/** The graph of product files. */
export function fileGraph(model: CodeModel, dependencies: readonly Dependency[]): DependencyGraph {
  const graph = new GraphBuilder('', model.files.map(file => file.path), model)
  for (const { from, to, references } of dependencies) {
    const target = model.types[to]!.file
    if (model.files[target]!.test || model.files[model.types[from]!.file]!.test) continue
    for (const index of references) {
      const source = model.references.file(index)
      if (source !== target) graph.addOne(source, target, index)
    }
  }
  return graph.build()
}

/** The graph of product types, nested ones folded into the outermost. */
export function typeGraph(model: CodeModel, dependencies: readonly Dependency[]): DependencyGraph {
  const graph = new GraphBuilder('', model.types.map(type => type.id), model)
  for (const { from, to, references } of dependencies) {
    const source = model.types[from]!.outermost, target = model.types[to]!.outermost
    if (source !== target && !model.types[source]!.test && !model.types[target]!.test) graph.add(source, target, references)
  }
  return graph.build()
}

/**
 * Begins to find the cycles of some graphs, and gives what waits for them: each graph's ordered by their first member. The cuts
 * of all are found together.
 */
export function cyclesOf(graphs: readonly DependencyGraph[], solve: SolveCuts = solveOneByOne): () => Cycle[][] {
  const found = graphs.map(componentsOf)
  const finish = bestCuts(found.flat(), solve)
  return () => {
    const cuts = finish()
    let next = 0
    return found.map(components => components.map(({ cycle, inside }) => {
      const cut = cuts[next++]!
      return { ...cycle, cut: { dependencies: cut.arcs.map(at => inside[at]!), references: cut.cost, lowerBound: cut.lowerBound } }
    }))
  }
}

/** The strongly connected components of a graph, with what their cuts are found from. O(nodes + dependencies). */
function componentsOf(graph: DependencyGraph): (CutProblem & { cycle: Omit<Cycle, 'cut'>; inside: GraphDependency[] })[] {
  const index = new Map(graph.nodes.map((node, at) => [node, at]))
  const arcs: Arc[] = graph.dependencies.map(dependency => ({
    from: index.get(dependency.from)!, to: index.get(dependency.to)!, weight: dependency.references.length
  }))
  const components = cyclicComponents(graph.nodes.length, arcs)
  const componentAt = new Int32Array(graph.nodes.length).fill(-1), local = new Int32Array(graph.nodes.length)
  components.forEach((nodes, component) => nodes.forEach((node, at) => { componentAt[node] = component; local[node] = at }))
  const inside: GraphDependency[][] = components.map(() => []), own: Arc[][] = components.map(() => []), live: Arc[][] = components.map(() => [])
  arcs.forEach(({ from, to, weight }, at) => {
    const component = componentAt[from]!
    if (component < 0 || componentAt[to] !== component) return
    const dependency = graph.dependencies[at]!, arc = { from: local[from]!, to: local[to]!, weight }
    inside[component]!.push(dependency)
    own[component]!.push(arc)
    if (dependency.atRunTime > 0) live[component]!.push(arc)
  })
  return components.map((nodes, at) => ({
    nodeCount: nodes.length, arcs: own[at]!, inside: inside[at]!,
    cycle: { within: graph.within, members: nodes.map(node => graph.nodes[node]!), dependencies: inside[at]!, atRunTime: cyclicComponents(nodes.length, live[at]!).length > 0 }
  }))
}
