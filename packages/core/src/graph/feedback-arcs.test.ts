import { componentOf, cyclicComponents, isAcyclic } from './components.js'
import type { Arc } from './digraph.js'
import { bestCut } from './feedback-arcs.js'
import { seededRandom } from './random.js'

/** A random graph without self-arcs or repeats, its arcs in order. */
function randomArcs(random: () => number, nodes: number, chance: number, heaviest: number): Arc[] {
  const arcs: Arc[] = []
  for (let from = 0; from < nodes; from++) {
    for (let to = 0; to < nodes; to++) {
      if (from !== to && random() < chance) arcs.push({ from, to, weight: 1 + Math.floor(random() * heaviest) })
    }
  }
  return arcs
}

/** The best cut by trying every subset of arcs: cost, then number of arcs, then order. */
function naiveBestCut(nodes: number, arcs: readonly Arc[]): { cost: number; arcs: number[] } {
  let best: { cost: number; arcs: number[] } | null = null
  for (let set = 0; set < 2 ** arcs.length; set++) {
    const marks = Uint8Array.from(arcs, (_, index) => (set >> index) & 1)
    const chosen = arcs.flatMap((_, index) => (marks[index] === 1 ? [index] : []))
    const cost = chosen.reduce((sum, index) => sum + arcs[index]!.weight, 0)
    const better = !best || cost < best.cost || (cost === best.cost && (chosen.length < best.arcs.length ||
      (chosen.length === best.arcs.length && firstInOrder(chosen, best.arcs))))
    if (better && isAcyclic(nodes, arcs, marks)) best = { cost, arcs: chosen }
  }
  return best!
}

function firstInOrder(a: readonly number[], b: readonly number[]): boolean {
  const at = a.findIndex((value, index) => value !== b[index])
  return at >= 0 && a[at]! < b[at]!
}

/** Components by whether two nodes reach each other. */
function naiveComponents(nodes: number, arcs: readonly Arc[]): boolean[][] {
  const reaches = Array.from({ length: nodes }, (_, a) => Array.from({ length: nodes }, (_, b) => a === b))
  for (const arc of arcs) reaches[arc.from]![arc.to] = true
  for (let k = 0; k < nodes; k++) for (let a = 0; a < nodes; a++) for (let b = 0; b < nodes; b++) {
    if (reaches[a]![k] && reaches[k]![b]) reaches[a]![b] = true
  }
  return reaches.map((row, a) => row.map((there, b) => there && reaches[b]![a]!))
}

describe('components', () => {
  test('agree with reachability both ways on 300 random graphs', () => {
    for (let seed = 1; seed <= 300; seed++) {
      const random = seededRandom(seed)
      const nodes = 2 + Math.floor(random() * 9)
      const arcs = randomArcs(random, nodes, 0.2, 1)
      const component = componentOf(nodes, arcs)
      const together = naiveComponents(nodes, arcs)
      for (let a = 0; a < nodes; a++) for (let b = 0; b < nodes; b++) {
        expect({ seed, same: component[a] === component[b] }).toEqual({ seed, same: together[a]![b] })
      }
      for (const arc of arcs) expect(component[arc.from]! >= component[arc.to]!).toBe(true)
    }
  })

  test('a path of 200,000 nodes does not overflow the stack', () => {
    const arcs = Array.from({ length: 200_000 }, (_, from) => ({ from, to: (from + 1) % 200_000, weight: 1 }))
    expect(cyclicComponents(200_000, arcs)).toHaveLength(1)
  })
})

describe('best cut', () => {
  test('is the least, with ties by number and order, on 250 random graphs', () => {
    for (let seed = 1; seed <= 250; seed++) {
      const random = seededRandom(seed)
      const nodes = 3 + Math.floor(random() * 4)
      const arcs = randomArcs(random, nodes, 0.45, 4).slice(0, 13)
      const naive = naiveBestCut(nodes, arcs)
      expect({ seed, ...bestCut(nodes, arcs) }).toEqual({ seed, arcs: naive.arcs, cost: naive.cost, lowerBound: naive.cost })
    }
  })

  test.each([2, 3, 4])('is proven for 30 nodes of out-degree %i', degree => {
    for (let seed = 1; seed <= 4; seed++) {
      const { arcs } = ringWithChords(seededRandom(seed * 31 + degree), 30, degree)
      const cut = bestCut(30, arcs)
      expect(cut.lowerBound).toBe(cut.cost)
      expect(isAcyclic(30, arcs, Uint8Array.from(arcs, (_, index) => (cut.arcs.includes(index) ? 1 : 0)))).toBe(true)
    }
  })

  test('of a large graph leaves no cycle, and its bound is below its cost', () => {
    const random = seededRandom(5)
    const arcs: Arc[] = []
    for (let from = 0; from < 300; from++) {
      for (let k = 0; k < 3; k++) {
        const to = Math.floor(random() * 300)
        if (to !== from && !arcs.some(arc => arc.from === from && arc.to === to)) arcs.push({ from, to, weight: 1 + (k % 3) })
      }
    }
    const cut = bestCut(300, arcs)
    expect(isAcyclic(300, arcs, Uint8Array.from(arcs, (_, index) => (cut.arcs.includes(index) ? 1 : 0)))).toBe(true)
    expect(cut.lowerBound).toBeGreaterThan(0)
    expect(cut.lowerBound).toBeLessThanOrEqual(cut.cost)
  })
})

/** A strongly connected graph: a ring through all nodes and random further arcs. */
function ringWithChords(random: () => number, nodes: number, degree: number): { arcs: Arc[] } {
  const pairs = new Map<string, Arc>()
  for (let from = 0; from < nodes; from++) {
    pairs.set(`${from},${(from + 1) % nodes}`, { from, to: (from + 1) % nodes, weight: 1 + Math.floor(random() * 9) })
    while ([...pairs.values()].filter(arc => arc.from === from).length < degree) {
      const to = Math.floor(random() * nodes)
      if (to !== from) pairs.set(`${from},${to}`, { from, to, weight: 1 + Math.floor(random() * 9) })
    }
  }
  return { arcs: [...pairs.values()] }
}
