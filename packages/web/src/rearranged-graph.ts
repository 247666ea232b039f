import type { GraphView, VerdictCounts } from '@hollowmoor/contract/views'
import type { Fabric, RearrangedProject } from '@hollowmoor/core/measure/rearrangement'
import { labelOf } from '@hollowmoor/contract/labels'

const NOTHING: VerdictCounts = { alone: 0, 'with-real-classes': 0, 'needs-outside': 0, 'not-known': 0 }
const inside = (module: string, node: string, within: string) => module === node || (node !== within && (node === '.' || module.startsWith(`${node}/`)))

/** The drawing of a folder's graph under a rearrangement: nodes that were there keep their lines, but for types that came or went. */
export function rearrangedGraph(base: GraphView, fabric: Fabric, project: RearrangedProject): GraphView {
  const graph = project.graphs.find(one => one.within === base.within)
  if (!graph) return { ...base, nodes: [], dependencies: [], cycles: [] }
  const known = new Map(base.nodes.map(node => [node.id, node]))
  return {
    within: base.within, cycles: graph.cycles.map(cycle => [...cycle]), dependencies: graph.dependencies.map(one => ({ ...one, atRunTime: one.references })),
    nodes: graph.nodes.map(id => {
      const node = known.get(id) ?? { id, label: id === base.within ? `${labelOf(id)} (own files)` : labelOf(id, base.within), lines: 0, types: 0, opens: false, verdicts: NOTHING }
      const verdicts: Record<keyof VerdictCounts, number> = { ...node.verdicts }
      let { lines, types } = node
      fabric.types.forEach((type, at) => {
        const was = fabric.modules[type.module]!, is = project.moduleOf[at]!
        if (was === is) return
        const change = Number(inside(is, id, base.within)) - Number(inside(was, id, base.within))
        if (change === 0) return
        types += change
        // A nested type's lines are those of the type around it too.
        if (type.outermost === at) lines += change * type.lines
        if (type.verdict) verdicts[type.verdict] += change
      })
      return { ...node, lines: Math.max(0, lines), types, verdicts }
    })
  }
}
