import { seededRandom } from '@hollowmoor/core/graph/random'
import type { Fabric } from '@hollowmoor/core/measure/rearrangement'
import { fabricOf, helpfulMoves, rearranged, stillFits } from '@hollowmoor/core/measure/rearrangement'
import type { Survey } from '@hollowmoor/core/survey'
import type { Files } from './project.js'
import { readProject } from './project.js'

const fabric = ({ model, dependencies, verdicts }: Survey): Fabric => fabricOf(model, dependencies, verdicts)
const AS_IT_IS = { moves: [], struck: [] }

/** A project of classes that each stand in a file of their own, in the folder that is given for each. */
function project(folders: readonly string[], uses: readonly (readonly [number, number])[]): Files {
  const files: Files = {}
  folders.forEach((folder, at) => {
    const wanted = uses.filter(([from]) => from === at).map(([, to]) => to)
    const up = folder === '.' ? '.' : folder.split('/').map(() => '..').join('/')
    const path = (to: number) => `${up}/${folders[to] === '.' ? '' : `${folders[to]}/`}t${to}`.replace('././', './')
    files[`${folder === '.' ? '' : `${folder}/`}t${at}.ts`] = `${wanted.map(to => `import { T${to} } from '${path(to)}'\n`).join('')}export class T${at} { run(): void { ${wanted.map(to => `new T${to}()`).join('; ')} } }\n`
  })
  return files
}

/** What a survey says of modules, in the form of a rearrangement's answer. */
function told(survey: Survey) {
  const graphs = survey.moduleGraphs.map(graph => {
    const cycles = survey.moduleCycles.filter(cycle => cycle.within === graph.within)
    return {
      within: graph.within, nodes: graph.nodes, dependencies: graph.dependencies.map(one => [one.from, one.to, one.references.length]), cycles: cycles.map(cycle => cycle.members),
      cost: cycles.reduce((sum, cycle) => sum + cycle.cut.references, 0)
    }
  })
  return { graphs, modules: survey.modules.filter(one => one.types > 0).map(({ id, types, ca, ce, instability }) => ({ id, types, ca, ce, instability })) }
}
function answered({ graphs, modules }: ReturnType<typeof rearranged>) {
  return { graphs: graphs.map(({ within, nodes, dependencies, cycles, cost }) => ({ within, nodes, dependencies: dependencies.map(one => [one.from, one.to, one.references]), cycles, cost })), modules }
}

const FOLDERS = ['.', 'a', 'a/x', 'a/y', 'b', 'b/z']

test('types moved in thought measure as a survey of the code with those files moved, on random projects', () => {
  for (let seed = 1; seed <= 6; seed++) {
    const random = seededRandom(seed), upTo = (count: number) => Math.floor(random() * count)
    const count = 14
    const before = Array.from({ length: count }, () => FOLDERS[upTo(FOLDERS.length)]!), after = [...before]
    const pairs = new Map<string, readonly [number, number]>()
    for (let at = 0; at < 34; at++) { const from = upTo(count), to = upTo(count); if (from !== to) pairs.set(`${from} ${to}`, [from, to]) }
    for (let at = 0; at < 4; at++) after[upTo(count)] = [...FOLDERS, 'new'][upTo(FOLDERS.length + 1)]!
    const survey = readProject(project(before, [...pairs.values()])).survey, moved = readProject(project(after, [...pairs.values()])).survey
    const known = fabric(survey)
    expect({ seed, ...answered(rearranged(known, AS_IT_IS)) }).toEqual({ seed, ...told(survey) })
    const idOf = (at: number) => known.types.find(type => type.id.endsWith(`#T${at}`))!.id
    const moves = after.flatMap((module, at) => (module === before[at] ? [] : [{ type: idOf(at), module }]))
    expect({ seed, ...answered(rearranged(known, { moves, struck: [] })) }).toEqual({ seed, ...told(moved) })
    const helpful = helpfulMoves(known, AS_IT_IS)
    for (const { type, module, cost } of helpful) expect(rearranged(known, { moves: [{ type, module }], struck: [] }).cost).toBe(cost)
    expect(helpful.every(one => one.cost < rearranged(known, AS_IT_IS).cost)).toBe(true)
  }
})

test('a type that stands in the wrong module is what helps most; struck out, what flows back is gone', () => {
  // T2 lies in b, and is used by and uses what lies in a.
  const known = fabric(readProject(project(['a', 'a', 'b', 'a', 'b'], [[0, 2], [1, 2], [2, 3], [3, 1], [3, 4]])).survey)
  const before = rearranged(known, AS_IT_IS)
  expect([before.cycles, before.modulesInCycles]).toEqual([1, 2])
  const [best] = helpfulMoves(known, AS_IT_IS)
  expect([best!.type, best!.module, best!.cycles, best!.cost]).toEqual(['b/t2.ts#T2', 'a', 0, 0])
  const back = before.graphs.flatMap(graph => graph.dependencies.filter(one => one.cut).map(one => ({ within: graph.within, from: one.from, to: one.to })))
  const struck = rearranged(known, { moves: [], struck: back })
  expect([struck.cycles, struck.cost]).toEqual([0, 0])
})

test('nested types go where the type around them goes', () => {
  const { survey } = readProject({ 'a/o.ts': 'export class Outer { run(): void { class Inner { go(): void {} } new Inner().go() } }', 'b/c.ts': 'import { Outer } from "../a/o"\nexport class C { run(): void { new Outer().run() } }' })
  const known = fabric(survey), after = rearranged(known, { moves: [{ type: 'a/o.ts#Outer', module: 'b' }], struck: [] })
  expect(new Set(after.moduleOf)).toEqual(new Set(['b']))
  expect(after.graphs.every(graph => graph.dependencies.length === 0)).toBe(true)
})

test('what is supposed outlives a change of the code as far as it still fits', () => {
  const known = fabric(readProject(project(['a', 'a', 'b'], [[0, 2], [2, 1]])).survey)
  const struck = [{ within: '.', from: 'b', to: 'a' }, { within: '.', from: 'gone', to: 'a' }]
  expect(stillFits(known, { moves: [{ type: 'b/t2.ts#T2', module: 'a' }, { type: 'a/t1.ts#T1', module: 'a' }, { type: 'c/t9.ts#T9', module: 'a' }], struck })).toEqual({
    moves: [{ type: 'b/t2.ts#T2', module: 'a' }], struck: [struck[0]]
  })
})
