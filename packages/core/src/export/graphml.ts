import { fileGraph, typeGraph } from '../measure/cycles.js'
import type { DependencyGraph } from '../measure/cycles.js'
import type { Survey } from '../survey.js'
import { escaped } from './xml.js'

export const GRAPH_LEVELS = ['modules', 'files', 'types'] as const
export type GraphLevel = (typeof GRAPH_LEVELS)[number]

/** The dependency graph of a level as GraphML: nodes with their kind and verdict, edges with their references. Modules of all folders are one graph. */
export function graphAsGraphml(survey: Survey, level: GraphLevel): string {
  const graphs: readonly DependencyGraph[] = level === 'modules' ? survey.moduleGraphs : [level === 'files' ? fileGraph(survey.model, survey.dependencies) : typeGraph(survey.model, survey.dependencies)]
  const nodes = new Set(graphs.flatMap(graph => graph.nodes))
  const lines = [
    '<?xml version="1.0" encoding="UTF-8"?>', '<graphml xmlns="http://graphml.graphdrawing.org/xmlns">',
    '  <key id="kind" for="node" attr.name="kind" attr.type="string"/>', '  <key id="verdict" for="node" attr.name="verdict" attr.type="string"/>', '  <key id="lines" for="node" attr.name="lines" attr.type="int"/>',
    '  <key id="references" for="edge" attr.name="references" attr.type="int"/>', '  <key id="atRunTime" for="edge" attr.name="atRunTime" attr.type="int"/>', `  <graph id="${level}" edgedefault="directed">`
  ]
  for (const id of nodes) {
    const index = level === 'types' ? survey.model.typeIndex.get(id) : undefined
    const type = index === undefined ? undefined : survey.model.types[index]
    const verdict = index === undefined ? null : survey.verdicts[index]
    lines.push(`    <node id="${escaped(id)}">${type ? `<data key="kind">${type.kind}</data><data key="lines">${type.lines}</data>` : ''}${verdict ? `<data key="verdict">${verdict}</data>` : ''}</node>`)
  }
  for (const graph of graphs) {
    for (const { from, to, references, atRunTime } of graph.dependencies) lines.push(`    <edge source="${escaped(from)}" target="${escaped(to)}"><data key="references">${references.length}</data><data key="atRunTime">${atRunTime}</data></edge>`)
  }
  lines.push('  </graph>', '</graphml>', '')
  return lines.join('\n')
}
