import { isAcyclic } from './components.js'
import type { Arc } from './digraph.js'
import { GrowingOrder } from './growing-order.js'
import { seededRandom } from './random.js'

test('an arc is refused exactly where it would close a cycle, as a naive check of the whole graph says', () => {
  const random = seededRandom(31)
  for (let round = 0; round < 150; round++) {
    const nodes = 2 + Math.floor(random() * 14)
    const arcs: Arc[] = Array.from({ length: 50 }, () => ({ from: Math.floor(random() * nodes), to: Math.floor(random() * nodes), weight: 1 }))
    const marks = new Uint8Array(arcs.length).fill(1)
    // Begins with some that point upward, which hold no cycle.
    arcs.forEach((arc, index) => { if (index < 12 && arc.from < arc.to) marks[index] = 0 })
    const growing = new GrowingOrder(nodes, arcs, marks)
    arcs.forEach((arc, index) => {
      if (marks[index] === 0) return
      marks[index] = 0
      const allowed = isAcyclic(nodes, arcs, marks)
      expect(growing.add(arc)).toBe(allowed)
      if (!allowed) marks[index] = 1
    })
  }
})

test('a long way round is found', () => {
  const arcs: Arc[] = Array.from({ length: 2000 }, (_, index) => ({ from: index, to: index + 1, weight: 1 }))
  const growing = new GrowingOrder(2001, arcs, new Uint8Array(arcs.length))
  expect(growing.add({ from: 2000, to: 0, weight: 1 })).toBe(false)
  expect(growing.add({ from: 0, to: 2000, weight: 1 })).toBe(true)
  expect(growing.add({ from: 7, to: 7, weight: 1 })).toBe(false)
})
