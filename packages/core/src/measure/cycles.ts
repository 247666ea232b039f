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

class GraphBuilder {
  private readonly pairs = new Map<string, { from: string; to: string; references: number[]; atRunTime: number }>()
  private readonly nodes = new Set<string>()

  constructor(private readonly within: string) {}

  add(from: string, to: string, references: readonly number[], model: CodeModel): void {
    this.nodes.add(from).add(to)
    const key = `${from}\0${to}`
    let entry = this.pairs.get(key)
    if (!entry) this.pairs.set(key, entry = { from, to, references: [], atRunTime: 0 })
    for (const index of references) {
      entry.references.push(index)
      if (!model.references.typeOnly(index)) entry.atRunTime++
    }
  }

  addNode(node: string): void { this.nodes.add(node) }

  build(): DependencyGraph {
    const dependencies = [...this.pairs.values()].sort((a, b) => compareText(a.from, b.from) || compareText(a.to, b.to))
    for (const dependency of dependencies) dependency.references.sort((a, b) => a - b)
    return { within: this.within, nodes: [...this.nodes].sort(compareText), dependencies }
  }
}

/**
 * One graph for each folder: its child folders with all they hold, and one node (the folder's own id) for its own files.
 * A reference counts only in the graph of the lowest common folder of its two ends. With `flat` all modules form one
 * graph, as packages do. Product code only.
 */
export function moduleGraphs(model: CodeModel, dependencies: readonly Dependency[], flat = false): DependencyGraph[] {
  const graphs = new Map<string, GraphBuilder>()
  const at = (within: string) => {
    let graph = graphs.get(within)
    if (!graph) graphs.set(within, graph = new GraphBuilder(within))
    return graph
  }
  for (const type of model.types) {
    if (type.test) continue
    if (flat) { at('.').addNode(type.module); continue }
    const chain = enclosingModules(type.module)
    at(type.module).addNode(type.module)
    for (let level = 1; level < chain.length; level++) at(chain[level]!).addNode(chain[level - 1]!)
  }
  for (const { from, to, references } of dependencies) {
    const source = model.types[from]!, target = model.types[to]!
    if (source.test || target.test || source.module === target.module) continue
    if (flat) { at('.').add(source.module, target.module, references, model); continue }
    const up = enclosingModules(source.module), down = enclosingModules(target.module)
    const common = up.find(id => down.includes(id))!
    const below = (chain: readonly string[]) => chain[chain.indexOf(common) - 1] ?? common
    at(common).add(below(up), below(down), references, model)
  }
  return [...graphs.values()].map(graph => graph.build()).sort((a, b) => compareText(a.within, b.within))
}

/** The graph of product files. */
export function fileGraph(model: CodeModel, dependencies: readonly Dependency[]): DependencyGraph {
  const graph = new GraphBuilder('')
  // By numbers first: there are far more references than pairs of files.
  const pairs = new Map<number, number[]>()
  const count = model.files.length
  for (const { from, to, references } of dependencies) {
    const target = model.types[to]!.file
    if (model.files[target]!.test || model.files[model.types[from]!.file]!.test) continue
    for (const index of references) {
      const source = model.references.file(index)
      if (source === target) continue
      const pair = source * count + target
      const list = pairs.get(pair)
      if (list) list.push(index)
      else pairs.set(pair, [index])
    }
  }
  for (const [pair, references] of pairs) graph.add(model.files[Math.floor(pair / count)]!.path, model.files[pair % count]!.path, references, model)
  return graph.build()
}

/** The graph of product types, nested ones folded into the outermost. */
export function typeGraph(model: CodeModel, dependencies: readonly Dependency[]): DependencyGraph {
  const graph = new GraphBuilder('')
  for (const { from, to, references } of dependencies) {
    const source = model.types[model.types[from]!.outermost]!, target = model.types[model.types[to]!.outermost]!
    if (source !== target && !source.test && !target.test) graph.add(source.id, target.id, references, model)
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

/** The strongly connected components of a graph, with what their cuts are found from. */
function componentsOf(graph: DependencyGraph): (CutProblem & { cycle: Omit<Cycle, 'cut'>; inside: GraphDependency[] })[] {
  const index = new Map(graph.nodes.map((node, at) => [node, at]))
  const arcs: Arc[] = graph.dependencies.map(dependency => ({
    from: index.get(dependency.from)!, to: index.get(dependency.to)!, weight: dependency.references.length
  }))
  return cyclicComponents(graph.nodes.length, arcs).map(nodes => {
    const local = new Map(nodes.map((node, at) => [node, at]))
    const inside = graph.dependencies.filter((_, at) => local.has(arcs[at]!.from) && local.has(arcs[at]!.to))
    const toLocal = (dependency: GraphDependency, weight: number): Arc => ({
      from: local.get(index.get(dependency.from)!)!, to: local.get(index.get(dependency.to)!)!, weight
    })
    const live = inside.filter(dependency => dependency.atRunTime > 0).map(dependency => toLocal(dependency, 1))
    return {
      nodeCount: nodes.length, arcs: inside.map(dependency => toLocal(dependency, dependency.references.length)), inside,
      cycle: { within: graph.within, members: nodes.map(node => graph.nodes[node]!), dependencies: inside, atRunTime: cyclicComponents(nodes.length, live).length > 0 }
    }
  })
}
