import { apart } from './apart.js'
import { seededRandom } from '../graph/random.js'
import { layoutLadder } from './ladder.js'
import { convexHull, layoutWatershed } from './watershed.js'

function randomGraph(seed: number, count: number) {
  const random = seededRandom(seed)
  const nodes = Array.from({ length: count }, (_, at) => ({ id: `m${at}`, label: `m${at}`, lines: 10 + Math.floor(random() * 900) }))
  const dependencies = nodes.flatMap((node, from) => nodes.flatMap((other, to) => from < to && random() < 3 / count
    ? [{ from: node.id, to: other.id, references: 1 + Math.floor(random() * 20), cut: false }] : []))
  if (count > 3) dependencies.push({ from: 'm3', to: 'm0', references: 2, cut: true }, { from: 'm0', to: 'm3', references: 5, cut: false })
  const seen = new Set<string>()
  return { nodes, dependencies: dependencies.filter(one => !seen.has(`${one.from} ${one.to}`) && seen.add(`${one.from} ${one.to}`)), cycles: count > 3 ? [['m0', 'm3']] : [] }
}

describe('watershed', () => {
  test.each([1, 3, 9, 25, 60])('of %i modules has all stones in sight, none on another', count => {
    const drawing = layoutWatershed(randomGraph(count, count), 860, 560)
    for (const stone of drawing.stones) {
      expect(stone.x - stone.radius).toBeGreaterThanOrEqual(0)
      expect(stone.x + stone.radius).toBeLessThanOrEqual(860)
      expect(stone.y - stone.radius).toBeGreaterThanOrEqual(0)
      expect(stone.y + stone.radius).toBeLessThanOrEqual(560)
    }
    drawing.stones.forEach((a, at) => drawing.stones.slice(at + 1).forEach(b => {
      expect(Math.hypot(a.x - b.x, a.y - b.y)).toBeGreaterThan((a.radius + b.radius) * 0.99)
    }))
  })

  test('lets everything but the cut flow from left to right', () => {
    const graph = randomGraph(4, 14)
    const drawing = layoutWatershed(graph, 860, 560)
    const x = new Map(drawing.stones.map(stone => [stone.id, stone.x]))
    for (const one of graph.dependencies) expect(one.cut ? x.get(one.from)! > x.get(one.to)! : x.get(one.from)! < x.get(one.to)!).toBe(true)
  })

  test('is the same every time, and moves few stones when one dependency grows', () => {
    const graph = randomGraph(9, 20)
    const before = layoutWatershed(graph, 860, 560)
    expect(layoutWatershed(graph, 860, 560)).toEqual(before)
    const grown = { ...graph, dependencies: graph.dependencies.map((one, at) => (at === 0 ? { ...one, references: one.references + 1 } : one)) }
    const moved = layoutWatershed(grown, 860, 560).stones.filter((stone, at) => Math.hypot(stone.x - before.stones[at]!.x, stone.y - before.stones[at]!.y) > 40)
    expect(moved.length).toBeLessThanOrEqual(4)
  })

  test('2,000 modules are placed', () => {
    expect(layoutWatershed(randomGraph(2, 2000), 860, 560).stones).toHaveLength(2000)
  })
})

test('a hull holds all its points', () => {
  const random = seededRandom(3)
  const points = Array.from({ length: 60 }, () => ({ x: random() * 100, y: random() * 100 }))
  const hull = convexHull(points)
  for (const p of points) {
    for (let at = 0; at < hull.length; at++) {
      const a = hull[at]!, b = hull[(at + 1) % hull.length]!
      expect((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x)).toBeGreaterThan(-1e-6)
    }
  }
})

describe('ladder', () => {
  const cycle = {
    members: ['booking', 'locks', 'water'],
    dependencies: [{ from: 'booking', to: 'locks', references: 14 }, { from: 'locks', to: 'water', references: 9 }, { from: 'booking', to: 'water', references: 1 }, { from: 'water', to: 'booking', references: 2 }],
    cut: [{ from: 'water', to: 'booking' }]
  }

  test('lists members in the order that the cut leaves, the cut leading back up', () => {
    const ladder = layoutLadder(cycle)
    expect(ladder.rungs).toEqual(['booking', 'locks', 'water'])
    expect(ladder.brackets.filter(one => one.back).map(one => [one.fromRow, one.toRow])).toEqual([[2, 0]])
    expect(ladder.brackets.filter(one => !one.back).every(one => one.fromRow < one.toRow)).toBe(true)
  })

  test('puts no two overlapping brackets into one lane', () => {
    const { brackets } = layoutLadder(cycle)
    for (const a of brackets) for (const b of brackets) {
      if (a === b || a.back !== b.back || a.lane !== b.lane) continue
      expect(Math.max(a.fromRow, a.toRow) <= Math.min(b.fromRow, b.toRow) || Math.max(b.fromRow, b.toRow) <= Math.min(a.fromRow, a.toRow)).toBe(true)
    }
  })

  test('beyond a limit shows the cut alone', () => {
    expect(layoutLadder(cycle, 0).brackets.map(one => one.back)).toEqual([true])
  })
})

test('what would lie over something that came before is left out', () => {
  const box = (x: number, y: number) => ({ x, y, width: 10, height: 4 })
  expect(apart([box(0, 0), box(5, 1), box(10, 0), box(0, 4), box(20, 0)], one => one, [box(22, 2)])).toEqual([box(0, 0), box(10, 0), box(0, 4)])
})
