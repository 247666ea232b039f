import type { Arc } from './digraph.js'
import { componentOf, isAcyclic, topologicalOrder } from './components.js'
import { exactFeedbackArcs, withoutNeedless } from './exact-feedback-arcs.js'
import { bestCut } from './feedback-arcs.js'
import { FractionalCyclePacking } from './fractional-cycle-packing.js'
import { byArcRank, packingBound, sift } from './heuristic-feedback-arcs.js'
import { seededRandom } from './random.js'
import { PathSearch } from './shortest-cycle.js'

function randomGraph(seed: number, nodes: number, chance: number): Arc[] {
  const random = seededRandom(seed)
  const arcs: Arc[] = []
  for (let from = 0; from < nodes; from++) for (let to = 0; to < nodes; to++) {
    if (from !== to && random() < chance) arcs.push({ from, to, weight: 1 + Math.floor(random() * 6) })
  }
  return arcs
}

const marked = (length: number, cut: readonly number[]) => Uint8Array.from({ length }, (_, at) => (cut.includes(at) ? 1 : 0))
const weigh = (arcs: readonly Arc[], cut: readonly number[]) => cut.reduce((sum, at) => sum + arcs[at]!.weight, 0)

describe('cheapest paths', () => {
  test('are as cheap as by trying all lengths (Bellman, Ford), on 200 random graphs', () => {
    for (let seed = 1; seed <= 200; seed++) {
      const nodes = 8
      const arcs = randomGraph(seed, nodes, 0.25)
      const random = seededRandom(seed + 1000)
      const lengths = Float64Array.from(arcs, () => Math.round(random() * 20) / 4)
      const distance = new Array<number>(nodes).fill(Infinity)
      distance[0] = 0
      for (let round = 0; round < nodes; round++) arcs.forEach((arc, at) => { distance[arc.to] = Math.min(distance[arc.to]!, distance[arc.from]! + lengths[at]!) })
      const search = new PathSearch(nodes, arcs)
      for (let to = 1; to < nodes; to++) {
        const found = search.cheapest(lengths, 0, to, Infinity)
        expect({ seed, to, length: found?.length ?? Infinity }).toEqual({ seed, to, length: distance[to] })
        // And the path is one: from the start to the end, each arc where the last one ended.
        let at = 0
        for (const index of found?.path ?? []) { expect(arcs[index]!.from).toBe(at); at = arcs[index]!.to }
        if (found) expect(at).toBe(to)
      }
    }
  })

  test('give up at their limit', () => {
    const arcs = [{ from: 0, to: 1, weight: 1 }, { from: 1, to: 2, weight: 1 }]
    expect(new PathSearch(3, arcs).cheapest(Float64Array.from([1, 1]), 0, 2, 2)).toBeNull()
  })
})

describe('bounds and heuristics around the least cut', () => {
  test('never cross it, on 120 random graphs', () => {
    for (let seed = 1; seed <= 120; seed++) {
      const nodes = 9
      const arcs = randomGraph(seed, nodes, 0.3)
      if (isAcyclic(nodes, arcs)) continue
      const least = bestCut(nodes, arcs).cost
      const ranked = withoutNeedless(nodes, arcs, byArcRank(nodes, arcs))
      const sifted = sift(nodes, arcs, marked(arcs.length, ranked), 20)
      const siftedCut = [...arcs.keys()].filter(at => sifted[at] === 1)
      expect(isAcyclic(nodes, arcs, marked(arcs.length, ranked))).toBe(true)
      expect(isAcyclic(nodes, arcs, sifted)).toBe(true)
      expect(weigh(arcs, ranked)).toBeGreaterThanOrEqual(least)
      expect(weigh(arcs, siftedCut)).toBeLessThanOrEqual(weigh(arcs, ranked))
      expect(weigh(arcs, siftedCut)).toBeGreaterThanOrEqual(least)
      const fractional = new FractionalCyclePacking(nodes, arcs).solve(new Uint8Array(arcs.length))
      expect(fractional.value).toBeLessThanOrEqual(least + 1e-6)
      expect(packingBound(nodes, arcs, ranked, 8)).toBeLessThanOrEqual(least + 1e-6)
      expect(packingBound(nodes, arcs, ranked, 8)).toBeGreaterThan(0)
    }
  })

  test('every cycle is covered by the fractional cut', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const nodes = 7
      const arcs = randomGraph(seed, nodes, 0.35)
      const { share } = new FractionalCyclePacking(nodes, arcs).solve(new Uint8Array(arcs.length))
      const search = new PathSearch(nodes, arcs)
      arcs.forEach((arc, at) => {
        const back = search.cheapest(share, arc.to, arc.from, Infinity)
        if (back) expect(back.length + share[at]!).toBeGreaterThan(1 - 1e-4)
      })
    }
  })

  test('without effort the start comes back, with a bound below it', () => {
    const arcs = randomGraph(3, 12, 0.4)
    const start = withoutNeedless(12, arcs, byArcRank(12, arcs))
    const outcome = exactFeedbackArcs(12, arcs, start, 0)
    expect(outcome.cut).toEqual([...start].sort((a, b) => a - b))
    expect(outcome.lowerBound).toBeLessThanOrEqual(outcome.cost)
  })
})

describe('orders', () => {
  test('of acyclic graphs point every arc forward; what is on a cycle is left out', () => {
    for (let seed = 1; seed <= 100; seed++) {
      const nodes = 10
      const arcs = randomGraph(seed, nodes, 0.2).filter(arc => arc.from < arc.to)
      const place = new Map(topologicalOrder(nodes, arcs).map((node, at) => [node, at]))
      expect(place.size).toBe(nodes)
      for (const arc of arcs) expect(place.get(arc.from)!).toBeLessThan(place.get(arc.to)!)
    }
    const loop = [{ from: 0, to: 1, weight: 1 }, { from: 1, to: 0, weight: 1 }, { from: 2, to: 0, weight: 1 }]
    expect(topologicalOrder(3, loop)).toEqual([2])
    expect(new Set(componentOf(3, loop)).size).toBe(2)
  })
})
