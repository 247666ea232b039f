import type { Observations } from '@hollowmoor/core/model/observation'
import type { PlannedStep } from '@hollowmoor/core/model/plan'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { seenBy, testsOf } from './first-test-running.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

const NODE: Files = {
  'node.d.ts': `declare module 'node:assert/strict' { const assert: { equal(a: unknown, b: unknown): void; deepEqual(a: unknown, b: unknown): void; throws(a: () => unknown, b: object): void; rejects(a: () => unknown, b: object): Promise<void> }; export default assert }
declare module 'node:test' { export function test(name: string, body: () => unknown): void; export function it(name: string, body: () => unknown): void }`,
  'test/other.test.ts': "import assert from 'node:assert/strict';\nimport { test } from 'node:test';\n\ntest('one is one', () => {\n  assert.equal(1, 1);\n});\n"
}
const TOLLS = `export class Tolls {
  private taken = 0;
  constructor(private readonly rate: number) {}
  due(locks: number): number {
    if (locks > 12) return locks * this.rate / 2;
    return locks * this.rate;
  }
  take(amount: number): void {
    if (amount === 0) throw new Error('nothing is taken');
    this.taken += amount;
  }
  total(): number { return this.taken; }
}
`

/** Plans the first test of a class, records it, plans it again, and gives both steps and the files with the second. */
async function firstTest(files: Files, id: string, choices: Record<string, string> = {}): Promise<{ recorder: PlannedStep; held: PlannedStep; files: Files; path: string; seen: Observations }> {
  const recorder = planned(files, id, choices)
  const seen = await seenBy({ ...files, ...texts(recorder) }, recorder.recorder!, id.slice('first-test:'.length))
  const held = planned(files, id, { ...choices, seen: JSON.stringify(seen) })
  return { recorder, held, files: { ...files, ...texts(held) }, path: recorder.recorder!, seen }
}

function planned(files: Files, id: string, choices: Record<string, string>): PlannedStep {
  const { survey, writer } = readProject(files)
  const step = planStep(id, choices, survey, writer)
  if (step.refused) throw new Error(`${step.reason}: ${step.message}`)
  return step
}

function refusalOf(files: Files, id: string, choices: Record<string, string> = {}): string {
  const { survey, writer } = readProject(files)
  const step = planStep(id, choices, survey, writer)
  return step.refused ? `${step.reason}: ${step.message}` : 'planned'
}

const texts = (step: PlannedStep): Files => Object.fromEntries(step.changes.map(change => [change.path, change.after!]))

test('what a class leaves open is in its test the most that it may be', async () => {
  const shelf = `export interface Goods { crate: string; weight: number }
export interface Scale<G extends Goods, Rest> { weigh(crate: G['crate'], rest: Rest): number; name(): string; limit(): number; unit(): string; next(): G | null }
export class Shelf<G extends Goods, Rest> {
  private weight = 0
  constructor(private readonly scale: Scale<G, Rest>, private readonly first: G['crate']) {}
  put(rest: Rest): number { this.weight += this.scale.weigh(this.first, rest) + this.first.length; return this.weight }
  isFull(): boolean { return this.weight > 9 }
}
`
  const { files, path } = await firstTest({ ...NODE, 'src/shelf.ts': shelf }, 'first-test:src/shelf.ts#Shelf')
  expect(files[path]).toContain('): Scale<Goods, any> {')
  expect(await testsOf(files, path)).toMatchObject({ failed: [] })
})

test('a class is built alone, and each of its members held with what it does, as its tests are written', async () => {
  const files = { ...NODE, 'src/tolls.ts': TOLLS }
  const { recorder, held, files: after, path } = await firstTest(files, 'first-test:src/tolls.ts#Tolls')
  expect(recorder.changes).toHaveLength(1)
  expect(after[path]).toBe(`import assert from 'node:assert/strict';
import { test } from 'node:test';
import { Tolls } from '../src/tolls';

// Characterization tests: they hold what Tolls does now, as seen by running it, whether or not it should.

/** A Tolls by itself. */
function alone() {
  return new Tolls(1);
}

test('Tolls.due(1)', () => {
  const tolls = alone();
  assert.equal(tolls.due(1), 1);
});

test('Tolls.due(12)', () => {
  const tolls = alone();
  assert.equal(tolls.due(12), 12);
});

test('Tolls.due(13)', () => {
  const tolls = alone();
  assert.equal(tolls.due(13), 6.5);
});

test('Tolls.due(0)', () => {
  const tolls = alone();
  assert.equal(tolls.due(0), 0);
});

test('Tolls.take(1)', () => {
  const tolls = alone();
  tolls.take(1);
  assert.equal(tolls.total(), 1);
});

test('Tolls.take(0)', () => {
  const tolls = alone();
  assert.throws(() => tolls.take(0), { message: 'nothing is taken' });
});

test('Tolls.total()', () => {
  const tolls = alone();
  assert.equal(tolls.total(), 0);
});
`)
  expect(path).toBe('test/tolls-characterization.test.ts')
  expect(held.notes[0]).toBe('It holds 7 things that Tolls does now, as seen by running it: read whether that is what it should do.')
  expect((await testsOf(after, path)).failed).toEqual([])
  expect((await testsOf({ ...after, 'src/tolls.ts': TOLLS.replace('/ 2', '/ 3').replace('+= amount', '= amount * 2') }, path)).failed).toEqual(['Tolls.due(13)', 'Tolls.take(1)'])
  expect(refusalOf(after, 'first-test:src/tolls.ts#Tolls')).toMatch(/^done: test\/tolls-characterization.test.ts exists already; give a name to write another one\.$/)
  expect(offersOf(readProject(after).survey, readProject(after).writer).filter(one => one.remedy === 'first-test')).toEqual([])
})

test('what is handed in stands in for itself, keeps its calls, and answers with what fits', async () => {
  const { held, files, path } = await firstTest({
    ...NODE,
    'src/desk.ts': `import { Side, type Gauge } from './gauge';
export interface Bell { ring(times: number): void }
export class Desk {
  constructor(private readonly gauge: Gauge, private readonly bell: Bell, private readonly tell: (text: string) => void) {}
  open(side: Side, names: readonly string[], at: Date): string {
    this.bell.ring(names.length);
    this.tell('open ' + at.getFullYear());
    return this.gauge.read(side) > 1 ? 'high' : 'low ' + this.gauge.unit;
  }
  async close(): Promise<number> { return (await this.gauge.later('now')).level; }
}
`,
    'src/gauge.ts': "export enum Side { Left = 'left', Right = 'right' }\nexport interface Level { readonly level: number; readonly note?: string }\nexport interface Gauge {\n  readonly unit: 'm' | 'ft';\n  read(side: Side): number;\n  later(when: string): Promise<Level>;\n  other(): Gauge;\n}\n"
  }, 'first-test:src/desk.ts#Desk')
  const text = files[path]!
  expect(text).toContain("import { Side } from '../src/gauge';")
  expect(text).toContain(`/** Stands in for a Gauge. */
function gaugeDouble(name: string): Gauge {
  return {
    unit: 'm',
    read: (...given: unknown[]) => saw(\`\${name}.read\`, given, 1),
    later: (...given: unknown[]) => saw(\`\${name}.later\`, given, Promise.resolve({ level: 1 })),
    other: (...given: unknown[]) => { saw(\`\${name}.other\`, given, undefined); throw new Error('not told what to answer'); }
  };
}`)
  expect(text).toContain(`  return new Desk(
    gaugeDouble('gauge'),
    { ring: (...given: unknown[]) => saw('bell.ring', given, undefined) },
    (...given: unknown[]) => saw('tell', given, undefined)
  );`)
  expect(text).toContain("assert.equal(desk.open(Side.Left, ['text'], new Date(2026, 0, 12)), 'low m');\n  assert.deepEqual(calls, [['bell.ring', 1], ['tell', 'open 2026'], ['gauge.read', 'left']]);")
  expect(text).toContain("test('Desk.close()', async () => {\n  const desk = alone();\n  assert.equal(await desk.close(), 1);")
  expect((await testsOf(files, path)).failed).toEqual([])
  expect(held.notes).toHaveLength(1)
})

test('objects of other classes come along where they reach nothing, and what cannot be made is left out with the reason', async () => {
  const { files, path, held } = await firstTest({
    ...NODE,
    'src/lock.ts': `export class Chamber { constructor(readonly width: number) {} }
export class Dice { throw(): number { return Math.random(); } }
export abstract class Keeper { abstract name(): string }
export class Lock {
  constructor(private readonly chamber: Chamber) {}
  fits(beam: number, chambers: Map<string, Chamber>, pair: [number, string]): boolean { return beam <= this.chamber.width && chambers.size > 0 && pair[0] > 0; }
  cast(dice: Dice): number { return dice === undefined ? 0 : 1; }
  wait(promise: Promise<number>, only: \`a\${string}\`): void { void promise; void only; }
  size(): { width: number; since: Date; odd: number } { return { width: this.chamber.width, since: new Date(2026, 1, 2), odd: -0 }; }
  itself(): Lock { return this; }
  broken(text: string): number { return (text as unknown as { deep: { deeper: number } }).deep.deeper; }
}
`
  }, 'first-test:src/lock.ts#Lock')
  expect(files[path]).toContain("assert.equal(lock.fits(1, new Map([['text', new Chamber(1)]]), [1, 'text']), true);")
  expect(files[path]).toContain('assert.deepEqual(lock.size(), { width: 1, since: new Date(2026, 1, 2, 0, 0, 0, 0), odd: -0 });')
  expect(files[path]).toContain("test('Lock.itself()', () => {\n  const lock = alone();\n  lock.itself();\n});")
  expect(held.notes[1]).toMatch(/^Left out: broken \(with sample arguments it ends with TypeError: .*\); cast \(dice is a Dice, which cannot be built here without more\); wait \(only is text of a certain form\)\.$/)
  expect((await testsOf(files, path)).failed).toEqual([])
})

test('what is not the same each time is not held', async () => {
  const { files, path, held } = await firstTest({
    ...NODE,
    'src/count.ts': 'let made = 0;\nexport class Count {\n  private readonly own = ++made;\n  number(): number { return this.own; }\n  twice(of: number): number { return of * 2; }\n}\n'
  }, 'first-test:src/count.ts#Count')
  expect(files[path]).not.toContain('count.number()')
  expect(files[path]).toContain('assert.equal(count.twice(1), 2);')
  expect(held.notes).toContain('Left out: number (it does not do the same each time).')
})

test.each([
  ['vitest', "import { expect, it } from 'vitest'\n\nit('adds', () => {\n\texpect(1).toBe(1)\n})\n", "import { expect, it } from 'vitest'\nimport { Tolls } from '../src/tolls'\n", "it('Tolls.due(1)', () => {\n\tconst tolls = alone()\n\texpect(tolls.due(1)).toBe(1)\n})", "expect(() => tolls.take(0)).toThrow('nothing is taken')"],
  ['jest', "test('adds', () => {\n  expect(1).toBe(1);\n});\n", "import { Tolls } from '../src/tolls';\n", "test('Tolls.due(1)', () => {\n  const tolls = alone();\n  expect(tolls.due(1)).toBe(1);\n});", "expect(() => tolls.take(0)).toThrow('nothing is taken');"],
  ['mocha', "it(\"adds\", function () {\n    if (1 < 0) throw new Error(\"no\");\n});\n", "import assert from \"node:assert/strict\";\nimport { Tolls } from \"../src/tolls\";\n", "it(\"Tolls.due(1)\", () => {\n    const tolls = alone();\n    assert.equal(tolls.due(1), 1);\n});", "assert.throws(() => tolls.take(0), { message: \"nothing is taken\" });"]
])('it is written as the tests of %s are', (_, like, imports, one, thrown) => {
  const globals = "declare module 'vitest' { export const expect: any, it: any }\ndeclare const expect: any, test: any, it: any\n"
  const files = { ...NODE, 'globals.d.ts': globals, 'src/tolls.ts': TOLLS, 'test/other.test.ts': like }
  const seen: Observations = { unstable: [], cases: { 'due(1)': { gives: { is: 'number', text: '1' }, throws: null, calls: [], after: [] }, 'take(0)': { gives: null, throws: { type: 'Error', message: 'nothing is taken' }, calls: [], after: [] } } }
  const text = texts(planned(files, 'first-test:src/tolls.ts#Tolls', { seen: JSON.stringify(seen) }))['test/tolls-characterization.test.ts']!
  expect(text.startsWith(imports)).toBe(true)
  expect(text).toContain(one)
  expect(text).toContain(thrown)
})

test('of a large object only what there are samples of is made, and it is said to be of its type', async () => {
  const { files, path } = await firstTest({
    ...NODE,
    'src/plan.ts': `export interface Ground { readonly name: string; readonly form: \`a\${string}\`; deep(): number; sink(by: number): void }
export class Plan {
  constructor(private readonly ground: Ground, private readonly odd: { readonly size: number; readonly form: \`b\${string}\` }) {}
  total(): number { return this.ground.deep() + this.odd.size; }
  form(): number { return this.ground.form.length * 2; }
}
`
  }, 'first-test:src/plan.ts#Plan')
  expect(files[path]).toContain(`/** Stands in for a Ground, as far as a test can tell what it has. */
function groundDouble(name: string): Ground {
  return {
    name: 'text',
    deep: (...given: unknown[]) => saw(\`\${name}.deep\`, given, 1),
    sink: (...given: unknown[]) => saw(\`\${name}.sink\`, given, undefined)
  } as unknown as Ground;
}`)
  expect(files[path]).toContain("{ size: 1 } as unknown as { readonly size: number; readonly form: `b${string}`; }")
  expect(files[path]).not.toContain('plan.form()')
  expect((await testsOf(files, path)).failed).toEqual([])
})

test('a double that is handed another, and a type that is only said where an argument is, are there too', async () => {
  const { files, path } = await firstTest({
    ...NODE,
    'src/parts.ts': 'export interface Bell { ring(times: number): number; shut(now: boolean): number; name: string }\nexport interface Gauge { read(a: number): number; more(a: number): number; bell: Bell; level: string; other: string }\nexport interface Odd { readonly size: number; readonly form: `b${string}` }\nexport type Tree = string | readonly Tree[] | { readonly left: Tree; readonly right: Tree }\n',
    'src/desk.ts': "import type { Gauge, Odd, Tree } from './parts';\nexport class Desk {\n  constructor(private readonly gauge: Gauge) {}\n  ask(odd: Odd, tree: Tree): number { return this.gauge.read(odd.size) + this.gauge.bell.ring(2) + JSON.stringify(tree).length; }\n}\n"
  }, 'first-test:src/desk.ts#Desk')
  expect(files[path]).toContain('bell: bellDouble(`${name}.bell`),')
  expect(files[path]).toContain('function bellDouble(name: string): Bell {')
  expect(files[path]).toContain("import type { Bell, Gauge, Odd } from '../src/parts';")
  expect(files[path]).toContain("desk.ask({ size: 1 } as unknown as Odd, 'text')")
  expect((await testsOf(files, path)).failed).toEqual([])
})

test('what the tests that there are do not know either, such as the names of their runner, is no reason to leave anything out', () => {
  const files = { 'src/tolls.ts': TOLLS, 'test/other.test.ts': "test('adds', () => {\n  expect(1).toBe(1);\n});\n" }
  expect(planned(files, 'first-test:src/tolls.ts#Tolls', {}).recorder).toBe('test/tolls-characterization.test.ts')
  const seen: Observations = { unstable: [], cases: { 'due(1)': { gives: { is: 'number', text: '1' }, throws: null, calls: [], after: [] } } }
  expect(texts(planned(files, 'first-test:src/tolls.ts#Tolls', { seen: JSON.stringify(seen) }))['test/tolls-characterization.test.ts']).toContain('expect(tolls.due(1)).toBe(1);')
})

test('a project without tests says in its package.json with what it is tested, and the test stands beside the class', () => {
  const files = { 'src/tolls.ts': TOLLS, 'package.json': '{ "devDependencies": { "vitest": "1" } }', 'globals.d.ts': "declare module 'vitest' { export const expect: any, test: any }" }
  expect(planned(files, 'first-test:src/tolls.ts#Tolls', {}).recorder).toBe('src/tolls-characterization.test.ts')
})

test('it is refused where it could not be safe or true', () => {
  const files = {
    ...NODE,
    'src/more.ts': `export class Dice { throw(): number { return Math.random() * 6; } }
export class Held { constructor(private readonly dice: Dice) {} sum(): number { return this.dice.throw() + 1; } }
export abstract class Half { abstract one(): number; two(): number { return this.one() * 2; } }
export class Odd { constructor(readonly only: \`a\${string}\`) {} sum(): number { return this.only.length * 2; } }
export class Bare { sum = 1 }
`
  }
  const { survey, writer } = readProject(files)
  expect(offersOf(survey, writer).filter(one => one.remedy === 'first-test').map(one => one.subject)).toEqual(['src/more.ts#Odd'])
  expect(refusalOf(files, 'first-test:src/more.ts#Dice')).toBe('needs-outside: Dice reaches what a test must not touch: plug what is in the way first.')
  expect(refusalOf(files, 'first-test:src/more.ts#Held')).toMatch(/^needs-outside: Held reaches/)
  expect(refusalOf(files, 'first-test:src/more.ts#Bare')).toMatch(/^no-logic: /)
  expect(refusalOf(files, 'first-test:src/more.ts#Odd')).toBe('no-sample: It cannot be built with sample values: only is text of a certain form.')
  expect(refusalOf({ 'src/tolls.ts': TOLLS }, 'first-test:src/tolls.ts#Tolls')).toMatch(/^no-tests: Nothing says with what src\/tolls.ts is tested/)
  expect(refusalOf({ ...NODE, 'src/tolls.ts': TOLLS }, 'first-test:src/tolls.ts#Tolls', { seen: '{' })).toBe('choice: What was recorded cannot be read; record it again.')
  expect(refusalOf({ ...NODE, 'src/tolls.ts': TOLLS }, 'first-test:src/tolls.ts#Tolls', { name: '1x' })).toBe('name: 1x is not a name that a test can have.')
  const none: Observations = { cases: {}, unstable: ['due(1)'] }
  expect(refusalOf({ ...NODE, 'src/tolls.ts': TOLLS }, 'first-test:src/tolls.ts#Tolls', { seen: JSON.stringify(none) })).toMatch(/^nothing-seen: /)
})

test('the test that there is stands beside it, with what both set up', async () => {
  const { held } = await firstTest({
    ...NODE, 'src/tolls.ts': `${TOLLS}export class Till { constructor(readonly tolls: Tolls) {} }\n`,
    'test/tolls.test.ts': "import assert from 'node:assert/strict';\nimport { test } from 'node:test';\nimport { Till, Tolls } from '../src/tolls';\n\ntest('it is taken', () => {\n  const first = new Till(new Tolls(3));\n  const second = new Till(first.tolls);\n  const tolls = new Tolls(2);\n  tolls.take(second.tolls.due(2));\n  assert.equal(tolls.total(), 6);\n});\n"
  }, 'first-test:src/tolls.ts#Tolls')
  expect(held.beside).toMatchObject({ path: 'test/tolls.test.ts', line: 5, newPath: 'test/tolls-characterization.test.ts', old: { lines: 1, realObjects: 1 }, new: { lines: 1, realObjects: 0, doubles: 0 } })
  expect(held.beside!.text[0]).toBe("test('it is taken', () => {")
  expect(held.notes.at(-1)).toBe('test/tolls.test.ts sets up 1 line and 1 real object for one; this, 1 line, no real objects and no doubles.')
})

test('where the runner that the project says it has is not installed, its names are no error', () => {
  const files = { 'tolls.ts': TOLLS, 'package.json': '{ "devDependencies": { "jest": "30" } }' }
  const step = planned(files, 'first-test:tolls.ts#Tolls', {})
  expect(step.recorder).toBe('tolls-characterization.test.ts')
  expect(texts(step)[step.recorder!]).toMatch(/\btest\(/)
})
