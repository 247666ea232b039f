import type { Arc } from '@hollowmoor/core/graph/digraph'
import type { Cut } from '@hollowmoor/core/graph/feedback-arcs'
import { bestCut } from '@hollowmoor/core/graph/feedback-arcs'
import type { CutProblem, SolveCuts } from '@hollowmoor/core/measure/remembered-cuts'
import type { CutWork } from './work-messages.js'
import type { WorkThreads } from './work-threads.js'

/** Below so many arcs a cut is found sooner than a thread answers. */
const LARGE = 3000

function packed({ nodeCount, arcs }: CutProblem): CutWork {
  const numbers = new Int32Array(arcs.length * 3)
  arcs.forEach(({ from, to, weight }, index) => numbers.set([from, to, weight], index * 3))
  return { nodeCount, arcs: numbers }
}

export function arcsOf({ arcs }: CutWork): Arc[] {
  return Array.from({ length: arcs.length / 3 }, (_, index) => ({ from: arcs[index * 3]!, to: arcs[index * 3 + 1]!, weight: arcs[index * 3 + 2]! }))
}

/** Finds best cuts, the large ones on all processors, beginning at once. */
export function cutsInThreads(threads: WorkThreads, least = LARGE): SolveCuts {
  return problems => {
    const cuts = new Array<Cut | undefined>(problems.length)
    const solveHere = ({ nodeCount, arcs }: CutProblem): Cut => bestCut(nodeCount, arcs)
    const large = problems.map((_, index) => index).filter(index => problems[index]!.arcs.length >= least).sort((a, b) => problems[b]!.arcs.length - problems[a]!.arcs.length)
    const finish = large.length > 1
      // The two largest for each thread: what is measured here until they are asked for takes as long.
      ? threads.begin(large, index => packed(problems[index]!), index => solveHere(problems[index]!), (index, answer) => { cuts[index] = answer as Cut })
      : undefined
    return () => {
      finish?.()
      return problems.map((problem, index) => cuts[index] ?? solveHere(problem))
    }
  }
}
