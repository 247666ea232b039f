import { componentOf, topologicalOrder } from '../graph/components.js'
import type { Arc } from '../graph/digraph.js'

export interface WatershedInput {
  readonly nodes: readonly { readonly id: string; readonly label: string; readonly lines: number }[]
  readonly dependencies: readonly { readonly from: string; readonly to: string; readonly references: number; readonly cut: boolean }[]
  readonly cycles: readonly (readonly string[])[]
}

export interface Stone { readonly id: string; readonly label: string; readonly x: number; readonly y: number; readonly radius: number }

/** A dependency as a band: wide where it starts, narrow where it ends. `path` is its outline, closed. */
export interface Ribbon {
  readonly from: string
  readonly to: string
  readonly references: number
  /** Flows back: it belongs to the cut of its cycle. Its outline is notched. */
  readonly back: boolean
  readonly path: string
  /** Middle of the band, where its figure stands. */
  readonly x: number
  readonly y: number
}

export interface Pool { readonly members: readonly string[]; readonly path: string; readonly x: number; readonly y: number }

export interface Watershed {
  readonly width: number
  readonly height: number
  readonly stones: readonly Stone[]
  readonly ribbons: readonly Ribbon[]
  readonly pools: readonly Pool[]
}

interface Point { x: number; y: number }

/**
 * Places modules so that dependencies flow from left to right once the cut is taken away, members of a cycle near each
 * other. Deterministic; a node's column depends only on the longest way to it, and its row on its neighbours' rows with
 * ties by id, so that small changes move few stones. O(V^2 + E log E).
 */
export function layoutWatershed(input: WatershedInput, width: number, height: number): Watershed {
  const count = input.nodes.length
  const index = new Map(input.nodes.map((node, at) => [node.id, at]))
  const arcs: (Arc & { cut: boolean })[] = input.dependencies.map(one => ({ from: index.get(one.from)!, to: index.get(one.to)!, weight: one.references, cut: one.cut }))
  const without = Uint8Array.from(arcs, arc => (arc.cut ? 1 : 0))
  const column = columnsOf(count, arcs, without)
  const columns = Math.max(0, ...column) + 1
  const inColumn: number[][] = Array.from({ length: columns }, () => [])
  const component = componentOf(count, arcs)
  for (let node = 0; node < count; node++) inColumn[column[node]!]!.push(node)

  const row = new Float64Array(count)
  for (const nodes of inColumn) nodes.forEach((node, at) => { row[node] = (at + 0.5) / nodes.length })
  for (let sweep = 0; sweep < 6; sweep++) {
    const order = sweep % 2 === 0 ? inColumn : [...inColumn].reverse()
    for (const nodes of order) {
      const wanted = new Map(nodes.map(node => {
        let sum = 0, weight = 0
        for (const arc of arcs) {
          const other = arc.from === node ? arc.to : arc.to === node ? arc.from : -1
          if (other < 0 || column[other] === column[node]) continue
          // Members of one cycle draw each other closer, so that its pool is small.
          const pull = Math.sqrt(arc.weight) * (component[other] === component[node] ? 3 : 1)
          sum += row[other]! * pull
          weight += pull
        }
        return [node, weight === 0 ? 0.5 : sum / weight] as const
      }))
      nodes.sort((a, b) => wanted.get(a)! - wanted.get(b)! || a - b)
      nodes.forEach((node, at) => { row[node] = (at + 0.5) / nodes.length })
    }
  }

  // Columns with one stone would all stand on one line and hide each other's ribbons; they sway a little.
  const swayed = Array.from(row, (value, at) => value + (inColumn[column[at]!]!.length === 1 ? [0.06, -0.22, 0.22][column[at]! % 3]! : ((column[at]! % 2) - 0.5) * 0.16))
  const top = Math.min(...swayed), bottom = Math.max(...swayed)
  const level = (at: number) => (bottom - top < 1e-6 ? 0.5 : (swayed[at]! - top) / (bottom - top))

  const most = Math.max(1, ...input.nodes.map(node => node.lines))
  const tallest = Math.max(1, ...inColumn.map(nodes => nodes.length))
  const largest = Math.max(8, Math.min(44, (height - 40) / tallest / 2.9, (width - 60) / columns / 2.6))
  const margin = largest + 34
  const stones: Stone[] = input.nodes.map((node, at) => {
    const step = columns === 1 ? 0 : (width - 2 * margin) / (columns - 1)
    const y = 22 + largest + level(at) * (height - 2 * largest - 62)
    return {
      id: node.id, label: node.label, x: round(columns === 1 ? width / 2 : margin + column[at]! * step), y: round(y),
      radius: round(Math.max(Math.min(10, largest), largest * Math.sqrt(node.lines / most)))
    }
  })
  const heaviest = Math.max(1, ...input.dependencies.map(one => one.references))
  const ribbons = input.dependencies.map(one => ribbon(stones[index.get(one.from)!]!, stones[index.get(one.to)!]!, one, heaviest, stones))
  const pools = input.cycles.map(members => pool(members, members.map(id => stones[index.get(id)!]!)))
  return { width, height, stones, ribbons, pools }
}

/** Column of each node: the longest way to it, with sinks pulled right beside what uses them last. */
function columnsOf(count: number, arcs: readonly Arc[], without: Uint8Array): Int32Array {
  const order = topologicalOrder(count, arcs, without)
  const column = new Int32Array(count)
  const out: number[][] = Array.from({ length: count }, () => [])
  arcs.forEach((arc, at) => { if (without[at] === 0) out[arc.from]!.push(arc.to) })
  for (const node of order) for (const to of out[node]!) column[to] = Math.max(column[to]!, column[node]! + 1)
  // A source with only far targets moves toward them, which shortens its ribbons.
  for (const node of [...order].reverse()) {
    if (out[node]!.length === 0) continue
    const nearest = Math.min(...out[node]!.map(to => column[to]!))
    const hasIncoming = arcs.some((arc, at) => without[at] === 0 && arc.to === node)
    if (!hasIncoming) column[node] = Math.max(column[node]!, nearest - 1)
  }
  return column
}

function ribbon(from: Stone, to: Stone, one: { references: number; cut: boolean }, heaviest: number, stones: readonly Stone[]): Ribbon {
  const start = 3 + 11 * Math.sqrt(one.references / heaviest)
  const end = Math.max(1.2, start * 0.25)
  const points = centreLine(from, to, one.cut, stones)
  const left: Point[] = [], right: Point[] = []
  const steps = 28
  for (let at = 0; at <= steps; at++) {
    const t = at / steps
    const p = bezier(points, t), q = bezier(points, Math.min(1, t + 0.01)), o = bezier(points, Math.max(0, t - 0.01))
    const length = Math.hypot(q.x - o.x, q.y - o.y) || 1
    const normal = { x: -(q.y - o.y) / length, y: (q.x - o.x) / length }
    let half = (start + (end - start) * t) / 2
    // Teeth along what flows back: it can be told without its colour.
    if (one.cut) half = Math.max(3.2, half) * (at % 4 < 2 ? 1 : 0.35)
    left.push({ x: p.x + normal.x * half, y: p.y + normal.y * half })
    right.unshift({ x: p.x - normal.x * half, y: p.y - normal.y * half })
  }
  // The figure stands beside the band, on the side to which it bends.
  const middle = bezier(points, one.cut ? 0.5 : 0.42)
  const straight = { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 }
  const away = Math.hypot(middle.x - straight.x, middle.y - straight.y) || 1
  const aside = one.cut ? 17 : 0
  return {
    from: from.id, to: to.id, references: one.references, back: one.cut, x: round(middle.x + ((middle.x - straight.x) / away) * aside), y: round(middle.y + ((middle.y - straight.y) / away) * aside),
    path: `M${[...left, ...right].map(p => `${round(p.x)},${round(p.y)}`).join('L')}Z`
  }
}

/** Four control points from rim to rim; bent around stones that stand in the way, and below for what flows back. */
function centreLine(from: Stone, to: Stone, back: boolean, stones: readonly Stone[]): [Point, Point, Point, Point] {
  const dx = to.x - from.x, dy = to.y - from.y
  const length = Math.hypot(dx, dy) || 1
  let bend = back ? Math.max(30, length * 0.22) : 0
  if (!back) {
    for (const stone of stones) {
      if (stone === from || stone === to) continue
      const along = ((stone.x - from.x) * dx + (stone.y - from.y) * dy) / (length * length)
      if (along < 0.08 || along > 0.92) continue
      const off = ((stone.x - from.x) * dy - (stone.y - from.y) * dx) / length
      const room = stone.radius + 14
      if (Math.abs(off) < room) {
        const push = (room - Math.abs(off)) * 1.7 * (off >= 0 ? 1 : -1)
        if (Math.abs(push) > Math.abs(bend)) bend = push
      }
    }
  }
  const nx = -dy / length, ny = dx / length
  const control = (t: number): Point => ({ x: from.x + dx * t + nx * bend, y: from.y + dy * t + ny * bend })
  const c1 = control(0.35), c2 = control(0.65)
  return [rim(from, c1, 2), c1, c2, rim(to, c2, 4)]
}

function rim(stone: Stone, toward: Point, gap: number): Point {
  const dx = toward.x - stone.x, dy = toward.y - stone.y
  const length = Math.hypot(dx, dy) || 1
  return { x: stone.x + (dx / length) * (stone.radius + gap), y: stone.y + (dy / length) * (stone.radius + gap) }
}

function bezier([a, b, c, d]: readonly [Point, Point, Point, Point], t: number): Point {
  const s = 1 - t
  const mix = (p: number, q: number, r: number, u: number) => s * s * s * p + 3 * s * s * t * q + 3 * s * t * t * r + t * t * t * u
  return { x: mix(a.x, b.x, c.x, d.x), y: mix(a.y, b.y, c.y, d.y) }
}

/** A rounded outline around the stones of a cycle: the hull of circles a little larger than them. */
function pool(members: readonly string[], stones: readonly Stone[]): Pool {
  const points: Point[] = []
  for (const stone of stones) {
    for (let at = 0; at < 20; at++) {
      const angle = (at / 20) * 2 * Math.PI
      points.push({ x: stone.x + Math.cos(angle) * (stone.radius + 16), y: stone.y + Math.sin(angle) * (stone.radius + 16) })
    }
  }
  const hull = convexHull(points)
  const top = hull.reduce((best, p) => (p.y < best.y ? p : best), hull[0]!)
  return { members, path: `M${hull.map(p => `${round(p.x)},${round(p.y)}`).join('L')}Z`, x: round(top.x), y: round(top.y) }
}

/** The convex hull of points, anticlockwise (Andrew's monotone chain, 1979). O(n log n). */
export function convexHull(points: readonly Point[]): Point[] {
  const sorted = [...points].sort((a, b) => a.x - b.x || a.y - b.y)
  const chain = (list: readonly Point[]) => {
    const result: Point[] = []
    for (const p of list) {
      while (result.length >= 2) {
        const a = result[result.length - 2]!, b = result[result.length - 1]!
        if ((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x) > 0) break
        result.pop()
      }
      result.push(p)
    }
    result.pop()
    return result
  }
  return [...chain(sorted), ...chain([...sorted].reverse())]
}

function round(value: number): number { return Math.round(value * 10) / 10 }
