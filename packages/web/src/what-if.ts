import { cyclicComponents } from '@hollowmoor/core/graph/components'
import { bestCut } from '@hollowmoor/core/graph/feedback-arcs'

export interface WhatIfQuestion {
  readonly members: readonly string[]
  readonly dependencies: readonly { readonly from: string; readonly to: string; readonly references: number }[]
  /** Dependencies struck out, as `from → to`. */
  readonly struck: readonly string[]
}

export interface WhatIfAnswer {
  /** What is still in a cycle, one list for each. */
  readonly left: readonly (readonly string[])[]
  /** References that the best cut of what is left changes. */
  readonly cost: number
  readonly struckReferences: number
}

export const arrow = (from: string, to: string) => `${from} → ${to}`

/** What would be left of a cycle without some of its dependencies. */
export function answerWhatIf({ members, dependencies, struck }: WhatIfQuestion): WhatIfAnswer {
  const gone = new Set(struck)
  const kept = dependencies.filter(one => !gone.has(arrow(one.from, one.to)))
  const index = new Map(members.map((member, at) => [member, at]))
  const arcs = kept.map(one => ({ from: index.get(one.from)!, to: index.get(one.to)!, weight: one.references }))
  const left = cyclicComponents(members.length, arcs)
  let cost = 0
  for (const nodes of left) {
    const local = new Map(nodes.map((node, at) => [node, at]))
    cost += bestCut(nodes.length, arcs.filter(arc => local.has(arc.from) && local.has(arc.to)).map(arc => ({ ...arc, from: local.get(arc.from)!, to: local.get(arc.to)! }))).cost
  }
  return {
    left: left.map(nodes => nodes.map(node => members[node]!)), cost,
    struckReferences: dependencies.filter(one => gone.has(arrow(one.from, one.to))).reduce((sum, one) => sum + one.references, 0)
  }
}
