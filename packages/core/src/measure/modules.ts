import type { CodeModel } from '../model/code-model.js'
import { compareText } from '../model/order.js'
import type { Dependency } from './dependencies.js'

/** Martin's measures of one module (R. C. Martin, "OO Design Quality Metrics", 1994). Ratios without a denominator are null. */
export interface ModuleMeasures {
  readonly id: string
  readonly parent: string | null
  /** Types and physical lines of its own product files. */
  readonly types: number
  readonly lines: number
  /** Types outside that depend on types inside, and types inside that depend on project types outside. */
  readonly ca: number
  readonly ce: number
  readonly instability: number | null
  readonly abstractness: number | null
  readonly distance: number | null
  /** The same with all nested modules. */
  readonly subtree: { readonly types: number; readonly lines: number; readonly ca: number; readonly ce: number }
}

/** Ids of the modules around a nested one, innermost first, the root `.` last. Itself included. */
export function enclosingModules(module: string): string[] {
  const chain = [module]
  while (module !== '.') {
    const slash = module.lastIndexOf('/')
    module = slash < 0 ? '.' : module.slice(0, slash)
    chain.push(module)
  }
  return chain
}

/** Measures of every module that holds product code, and of the folders around it. Ordered by id. */
export function measureModules(model: CodeModel, dependencies: readonly Dependency[]): ModuleMeasures[] {
  interface Tally { types: number; lines: number; into: Set<number>; outOf: Set<number>; abstract: number; counted: number }
  const tally = (): Tally => ({ types: 0, lines: 0, into: new Set(), outOf: new Set(), abstract: 0, counted: 0 })
  const own = new Map<string, Tally>(), whole = new Map<string, Tally>()
  const at = (map: Map<string, Tally>, id: string) => {
    let entry = map.get(id)
    if (!entry) map.set(id, entry = tally())
    return entry
  }
  const chains = new Map<string, string[]>()
  const chainOf = (module: string) => {
    let chain = chains.get(module)
    if (!chain) chains.set(module, chain = enclosingModules(module))
    return chain
  }
  for (const file of model.files) {
    if (file.test) continue
    const { module } = file
    at(own, module).lines += file.lines
    for (const id of chainOf(module)) at(whole, id).lines += file.lines
  }
  for (const type of model.types) {
    if (type.test) continue
    const mine = at(own, type.module)
    mine.types++
    for (const id of chainOf(type.module)) at(whole, id).types++
    const abstract = type.kind === 'interface' || type.kind === 'abstract-class'
    if (abstract) mine.abstract++
    if (abstract || type.kind === 'class' || type.kind === 'enum') mine.counted++
  }
  for (const { from, to } of dependencies) {
    const source = model.types[from]!, target = model.types[to]!
    if (source.test || target.test || source.module === target.module) continue
    at(own, source.module).outOf.add(from)
    at(own, target.module).into.add(from)
    const sourceChain = chainOf(source.module), targetChain = chainOf(target.module)
    for (const id of sourceChain) if (!targetChain.includes(id)) at(whole, id).outOf.add(from)
    for (const id of targetChain) if (!sourceChain.includes(id)) at(whole, id).into.add(from)
  }
  return [...whole.keys()].sort(compareText).map(id => {
    const mine = own.get(id) ?? tally(), all = whole.get(id)!
    const ca = mine.into.size, ce = mine.outOf.size
    const instability = ca + ce === 0 ? null : ce / (ca + ce)
    const abstractness = mine.counted === 0 ? null : mine.abstract / mine.counted
    return {
      id, parent: id === '.' ? null : enclosingModules(id)[1]!, types: mine.types, lines: mine.lines, ca, ce, instability, abstractness,
      distance: instability === null || abstractness === null ? null : Math.abs(abstractness + instability - 1),
      subtree: { types: all.types, lines: all.lines, ca: all.into.size, ce: all.outOf.size }
    }
  })
}
