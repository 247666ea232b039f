import { bitOf, kindsIn, notKnownOf, outsideOf } from '@hollowmoor/core/effect/kinds'
import { rowsOf } from '@hollowmoor/core/graph/reachable-bits'
import { seededRandom } from '@hollowmoor/core/graph/random'
import type { CallGraph } from '@hollowmoor/core/measure/call-graph'
import { SlotHold } from '@hollowmoor/core/measure/call-edges'
import { MAKING } from '@hollowmoor/core/measure/member-nodes'
import { pathLines } from '@hollowmoor/core/measure/places'
import { smallestPlugs } from '@hollowmoor/core/measure/plugs'
import { Reach } from '@hollowmoor/core/measure/reach'
import type { CodeModel } from '@hollowmoor/core/model/code-model'
import { readJava } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

const effectsOf = (files: Files, id: string) => {
  const { survey } = readProject(files)
  return kindsIn(survey.reach.setOf(survey.model.typeIndex.get(id)!))
}
const verdictsOf = (survey: ReturnType<typeof readProject>['survey']) =>
  Object.fromEntries(survey.model.types.map(type => [type.name, survey.verdicts[type.index]]).filter(([, verdict]) => verdict !== null))

const MAST = 'export interface Mast { send(text: string): void }\nexport class RealMast implements Mast { send(text: string): void { void fetch(text) } }\n'

describe('what a class reaches', () => {
  test('ends at what is plugged into it, and goes on into what is built or bolted', () => {
    const user = (how: string) => ({ 'mast.ts': MAST, 'desk.ts': `import { Mast, RealMast } from './mast'\nexport class Desk { ${how}\n book(): void { this.mast.send('x'.repeat(2)); if (this.mast) return } }` })
    expect(effectsOf(user('constructor(private readonly mast: Mast) {}'), 'desk.ts#Desk')).toEqual([])
    expect(effectsOf(user('constructor(private readonly mast: RealMast) {}'), 'desk.ts#Desk')).toEqual(['network'])
    expect(effectsOf(user('private readonly mast: Mast = new RealMast()'), 'desk.ts#Desk')).toEqual(['network'])
    expect(effectsOf(user('constructor(private readonly mast: Mast = new RealMast()) {}'), 'desk.ts#Desk')).toEqual([])
  })

  test('a helper that is given the double does not bring the real one back', () => {
    const files = {
      'mast.ts': MAST,
      'helper.ts': "import { Mast } from './mast'\nexport class Helper { constructor(private readonly mast: Mast) {} go(): void { this.mast.send('a' + 'b') } }",
      'desk.ts': "import { Mast } from './mast'\nimport { Helper } from './helper'\nexport class Desk { constructor(private readonly mast: Mast) {} book(): void { const helper = new Helper(this.mast); helper.go() } }",
      'office.ts': "import { RealMast } from './mast'\nimport { Desk } from './desk'\nexport class Office { open(): void { const desk = new Desk(new RealMast()); desk.book() } }"
    }
    expect(effectsOf(files, 'desk.ts#Desk')).toEqual([])
    expect(effectsOf(files, 'office.ts#Office')).toEqual(['network'])
  })

  test('what is fetched from a global may be anything that fits; what a class fits by its shape alone too', () => {
    const files = {
      'clock.ts': 'export interface Clock { now(): number }\nexport class SystemClock { now(): number { return Date.now() } }\nlet current: Clock | null = null\nexport function setClock(clock: Clock): void { current = clock }\nexport function clock(): Clock { return current! }',
      'desk.ts': "import { clock } from './clock'\nexport class Desk { late(): boolean { const now = clock().now(); return now > 10 } }"
    }
    expect(effectsOf(files, 'desk.ts#Desk')).toEqual(['clock'])
  })

  test('overriding members, getters, initialisers of fields and statics, and functions in fields are run when they are', () => {
    const files = {
      'a.ts': `export abstract class Base { run(): string { return this.step() + '!' } abstract step(): string }
export class Impl extends Base { step(): string { return String(Math.random()) } }
export class Getter { get at(): number { return Date.now() } }
export class Static { static readonly home = process.env.HOME; static name(): string { return 'n' + 1 } }
export class Lazy { readonly later = () => { console.log('x') } }
declare const process: { env: Record<string, string> }`,
      'b.ts': `import { Impl, Getter, Static, Lazy, Base } from './a'
export class UsesBase { constructor(private readonly base: Base) {} go(): string { return this.base.run() + '' } }
export class MakesImpl { go(): string { return new Impl().run() + '' } }
export class Reads { go(getter: Getter): number { return getter.at + 1 } }
export class MakesLazy { go(): object { const lazy = new Lazy(); return lazy } }
export class CallsLazy { go(): void { const lazy = new Lazy(); lazy.later() } }`
    }
    const { survey } = readProject(files)
    const of = (name: string) => kindsIn(survey.reach.setOf(survey.model.typeIndex.get(`b.ts#${name}`)!))
    expect([of('UsesBase'), of('MakesImpl'), of('Reads'), of('MakesLazy'), of('CallsLazy')]).toEqual([[], ['randomness'], ['clock'], [], ['console']])
  })

  test('the shortest path is told line by line, through recursion', () => {
    const files = {
      'a.ts': `import { B } from './b'
export class A { constructor(private readonly b: B) {}
 go(n: number): void { if (n > 0) this.go(n - 1)
  this.b.far(); this.b.near() } }`,
      'b.ts': `export class B { far(): void { this.more() } more(): void { this.near() }
 near(): void { console.log(1); this.far() } }`
    }
    const { survey } = readProject(files)
    const { model, reach } = survey
    const [effect] = reach.effectsOf(model.typeIndex.get('a.ts#A')!)
    expect(pathLines(model, effect!).map(line => `${model.types[line.type]!.name}.${line.member} ${model.files[line.file]!.path}:${line.line}`)).toEqual(['A.go a.ts:4', 'B.near b.ts:2'])
  })

  test('the same holds in Java, with class loading and what the runtime calls', () => {
    const { survey } = readJava({
      'a/Log.java': 'package a; import java.nio.file.*; class Log { static final Path HOME = Paths.get(System.getenv("HOME")); static void write(String s) throws Exception { Files.writeString(HOME, s); } }',
      'a/Job.java': 'package a; class Job implements Runnable { public void run() { long at = System.nanoTime(); if (at > 3) return; } }',
      'a/Starts.java': 'package a; class Starts { void go() { Object made = new Job(); hand(made); } void hand(Object it) { } }',
      'a/Port.java': 'package a; interface Port { int level(); }',
      'a/Desk.java': 'package a; class Desk { private final Port port; Desk(Port port) { this.port = port; } int twice() { return port.level() * 2; } void tell() throws Exception { Log.write("x" + twice()); } }',
      'a/Pure.java': 'package a; import java.time.*; class Pure { boolean late(Clock clock) { return LocalDate.now(clock).getYear() > 2000; } int other() { return LocalDate.of(2000, 1, 1).getYear() + 1; } }',
      'a/Asks.java': 'package a; import java.time.*; class Asks { int year() { return LocalDate.now().getYear() + 1; } }'
    })
    const of = (name: string) => kindsIn(survey.reach.setOf(survey.model.typeIndex.get(`a.${name}`)!))
    expect(of('Log')).toEqual(['file-system', 'environment'])
    expect(of('Desk')).toEqual(['file-system', 'environment'])
    expect(of('Starts')).toEqual(['clock'])
    expect(of('Pure')).toEqual([])
    expect(of('Asks')).toEqual(['clock'])
  })
})

describe('verdicts and what to plug', () => {
  const files = {
    'store.ts': 'export class Store { put(text: string): void { void fetch(text); if (text) return } }',
    'desk.ts': `import { Store } from './store'
import { Sums } from './sums'
export class Desk { private readonly store = new Store(); private readonly sums = new Sums(); book(n: number): void { this.store.put(String(this.sums.add(n) + Date.now())) } }`,
    'sums.ts': 'export class Sums { private all = 0\n add(n: number): number { this.all += n; return this.all * 2 } }',
    'shop.ts': "import { Sums } from './sums'\nexport class Shop { constructor(private readonly sums: Sums) {} sell(n: number): number { return this.sums.add(n) + 1 } }",
    'ports.ts': 'export interface Port { go(): void }\nexport class Pair { constructor(readonly a: Port) {} }'
  }

  test('alone, with real classes, needs the outside; types without logic have none', () => {
    expect(verdictsOf(readProject(files).survey)).toEqual({ Store: 'needs-outside', Desk: 'needs-outside', Sums: 'alone', Shop: 'with-real-classes' })
  })

  test('unknown third-party code makes it not known, never clean', () => {
    const { survey } = readProject({ 'a.ts': "import { odd } from 'odd-kit'\nexport class A { go(): number { return odd(1) + 1 } }", 'node_modules/odd-kit/package.json': '{"name":"odd-kit","types":"index.d.ts"}', 'node_modules/odd-kit/index.d.ts': 'export declare function odd(n: number): number' })
    expect(verdictsOf(survey)).toEqual({ A: 'not-known' })
    const told = readProject({ 'a.ts': "import { odd } from 'odd-kit'\nexport class A { go(): number { return odd(1) + 1 } }", 'node_modules/odd-kit/package.json': '{"name":"odd-kit","types":"index.d.ts"}', 'node_modules/odd-kit/index.d.ts': 'export declare function odd(n: number): number' }, { effects: [{ match: 'odd-kit', effect: 'pure' }] })
    expect(verdictsOf(told.survey)).toEqual({ A: 'alone' })
  })

  test('what a native method does is not known either', () => {
    const { survey } = readJava({ 'a/Nat.java': 'package a; class Nat { native int ask(); int twice() { return ask() * 2; } static int once() { return 1 + 1; } }', 'a/User.java': 'package a; class User { int go() { return Nat.once() + 1; } }' })
    expect(survey.model.types.map(type => [type.name, survey.verdicts[type.index]])).toEqual([['Nat', 'not-known'], ['User', 'alone']])
    const { model, reach } = survey
    expect(pathLines(model, reach.effectsOf(model.typeIndex.get('a.Nat')!)[0]!).map(line => `${line.member}:${line.line}`)).toEqual(['ask:1'])
  })

  test('the smallest set to plug leaves what is pure alone', () => {
    const { survey } = readProject(files)
    const desk = survey.model.typeIndex.get('desk.ts#Desk')!
    const plugs = smallestPlugs(survey.reach, desk, survey.joints[desk]!)!
    expect(plugs.collaborators.map(one => (typeof one === 'number' ? survey.model.types[one]!.name : one)).sort()).toEqual(['Date', 'Store'])
    expect(plugs.proven).toBe(true)
  })
})

/** The rule as definitions.md states it, by sets and repetition. */
function naive(graph: CallGraph, start: number): number {
  const { plain, slotCalls, overriders, effects, nodeType, nodeName, firstNode, nodeCount } = graph
  const seen = new Set<number>()
  for (let node = firstNode[start]!; node < firstNode[start + 1]!; node++) seen.add(node)
  for (let settled = false; !settled;) {
    for (let before = -1; before !== seen.size;) {
      before = seen.size
      const live = new Set([...seen].filter(node => nodeName[node] === MAKING).map(node => nodeType[node]!))
      for (const node of [...seen]) {
        for (let at = plain.starts[node]!; at < plain.starts[node + 1]!; at++) seen.add(plain.targets[at]!)
        for (let at = slotCalls.starts[node]!; at < slotCalls.starts[node + 1]!; at++) {
          if (slotCalls.holds[at] === SlotHold.Plugged && nodeType[node] === start) continue
          const slot = slotCalls.targets[at]!
          for (let one = overriders.starts[slot]!; one < overriders.starts[slot + 1]!; one++) if (live.has(overriders.types[one]!)) seen.add(overriders.targets[one]!)
        }
      }
    }
    settled = true
    const live = new Set([...seen].filter(node => nodeName[node] === MAKING).map(node => nodeType[node]!))
    for (let node = 0; node < nodeCount; node++) {
      if (!seen.has(node)) continue
      for (let at = slotCalls.starts[node]!; at < slotCalls.starts[node + 1]!; at++) {
        if (slotCalls.holds[at] !== SlotHold.Fetched) continue
        const slot = slotCalls.targets[at]!
        const rows = Array.from({ length: overriders.starts[slot + 1]! - overriders.starts[slot]! }, (_, one) => overriders.starts[slot]! + one)
        if (rows.some(one => live.has(overriders.types[one]!))) continue
        for (const one of rows) if (!seen.has(overriders.targets[one]!)) { seen.add(overriders.targets[one]!); settled = false }
      }
    }
  }
  let set = 0
  for (const node of seen) for (let at = effects.starts[node]!; at < effects.starts[node + 1]!; at++) if (!effects.plugged[at]) set |= effects.targets[at]!
  return set
}

test('the bounds and walks give what the rule gives, on random graphs', () => {
  for (let seed = 1; seed <= 300; seed++) {
    const random = seededRandom(seed), upTo = (n: number) => Math.floor(random() * n)
    const typeCount = 3 + upTo(8), perType = 4, nodeCount = typeCount * perType
    const nodeName: string[] = [], nodeType: number[] = []
    for (let type = 0; type < typeCount; type++) for (let member = 0; member < perType; member++) { nodeType.push(type); nodeName.push(member === 0 ? MAKING : `m${member}`) }
    const rows = (count: number, of: number, to: number) => { const from: number[] = [], target: number[] = []; for (let at = 0; at < count; at++) { from.push(upTo(of)); target.push(upTo(to)) } return rowsOf(of, from, target) }
    const slots = 1 + upTo(6)
    const plain = rows(upTo(nodeCount * 2), nodeCount, nodeCount), calls = rows(upTo(nodeCount), nodeCount, slots), over = rows(upTo(slots * 3), slots, nodeCount)
    const effects = (() => { const from: number[] = [], bit: number[] = []; for (let at = 0; at < 1 + upTo(4); at++) { from.push(upTo(nodeCount)); bit.push(bitOf((['clock', 'unknown', 'database'] as const)[upTo(3)]!)) } return rowsOf(nodeCount, from, bit) })()
    // Which override is there once an object is made, and which only when fetched, is for one start at a time; fetched slots are kept apart from others.
    const fetched = Array.from({ length: slots }, () => random() < 0.3)
    const graph: CallGraph = {
      model: { types: nodeName.slice(0, typeCount).map((_, index) => ({ index, test: false })) } as unknown as CodeModel, nodeCount, nodeType: Int32Array.from(nodeType), nodeName,
      firstNode: Int32Array.from({ length: typeCount + 1 }, (_, type) => type * perType),
      plain: { ...plain, places: new Int32Array(plain.targets.length) },
      slotCalls: { ...calls, places: new Int32Array(calls.targets.length), holds: Uint8Array.from(calls.targets, slot => (fetched[slot] ? SlotHold.Fetched : random() < 0.5 ? SlotHold.Plugged : SlotHold.Other)) },
      overriders: { ...over, types: Int32Array.from(over.targets, node => nodeType[node]!) },
      effects: { ...effects, places: new Int32Array(effects.targets.length), plugged: new Uint8Array(effects.targets.length) },
      slots: new Map(), names: [], members: [], nodeOf: () => undefined
    }
    const reach = new Reach(graph), deciding = new Reach(graph)
    // Asked first, so that types are decided on by what was decided before, not by their whole sets.
    const decision = (set: number) => (outsideOf(set) !== 0 ? 'outside' : notKnownOf(set) !== 0 ? 'not known' : 'clean')
    for (let type = 0; type < typeCount; type++) expect({ seed, type, decision: decision(deciding.deciding(type)) }).toEqual({ seed, type, decision: decision(naive(graph, type)) })
    for (let type = 0; type < typeCount; type++) expect({ seed, type, set: kindsIn(reach.setOf(type)) }).toEqual({ seed, type, set: kindsIn(naive(graph, type)) })
  }
})
