import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { bestCut } from '@hollowmoor/core/graph/feedback-arcs'
import { seededRandom } from '@hollowmoor/core/graph/random'
import type { CutProblem } from '@hollowmoor/core/measure/remembered-cuts'
import { JAVA_GRAMMAR } from '@hollowmoor/core/read/java/syntax'
import type { FlatTree } from '@hollowmoor/core/read/syntax/flat-tree'
import { Grammar } from '@hollowmoor/core/read/syntax/grammar'
// The built one: its threads run built files.
import { cutsInThreads } from '../dist/cut-work.js'
import { parseInThreads } from '../dist/parser-threads.js'
import { WorkThreads } from '../dist/work-threads.js'

const wasm = createRequire(`${process.cwd()}/package.json`).resolve('@repomix/tree-sitter-wasms/out/tree-sitter-java.wasm')
const grammar = await Grammar.load(readFileSync(wasm), JAVA_GRAMMAR)

/** Texts of very different lengths, enough of them that threads are started. */
function texts(seed: number): string[] {
  const random = seededRandom(seed)
  return Array.from({ length: 90 }, (_, n) => `class C${n} { ${'int f() { return 1 + 2; } '.repeat(Math.floor(random() * random() * 12_000))} }`)
}

const told = (tree: FlatTree) => [tree.text.length, tree.size, tree.kind(0), tree.end(0)]

test('many texts parsed in threads give the trees that one after another gives, in their order, each time', () => {
  const threads = new WorkThreads(wasm, 2)
  for (const seed of [1, 2]) {
    const all = texts(seed)
    const ready: number[] = []
    const trees = parseInThreads(grammar, threads, all, count => ready.push(count))
    expect(trees.map(told)).toEqual(all.map(text => told(grammar.parse(text))))
    expect(ready.at(-1)).toBe(all.length)
  }
})

test('stopped in the middle, the next call is not told what the stopped one had asked', () => {
  const threads = new WorkThreads(wasm, 2)
  expect(() => parseInThreads(grammar, threads, texts(3), () => { throw new Error('stopped') })).toThrow('stopped')
  const all = texts(4)
  expect(parseInThreads(grammar, threads, all, () => undefined).map(told)).toEqual(all.map(text => told(grammar.parse(text))))
})

test('threads that never start cost time, but nothing else', () => {
  const all = ['class A { }', 'class B { }']
  expect(parseInThreads(grammar, new WorkThreads('/nowhere.wasm', 1), all, () => undefined).map(tree => tree.text)).toEqual(all)
  expect(parseInThreads(grammar, new WorkThreads(wasm, 0), [], () => undefined)).toEqual([])
})

/** Strongly connected graphs of different sizes. */
function cutProblems(seed: number): CutProblem[] {
  const random = seededRandom(seed)
  return [40, 12, 45, 5, 50].map(nodeCount => {
    const pairs = new Map<string, { from: number; to: number; weight: number }>()
    for (let node = 0; node < nodeCount; node++) {
      for (const to of [(node + 1) % nodeCount, ...Array.from({ length: 3 }, () => Math.floor(random() * nodeCount))]) {
        if (to !== node) pairs.set(`${node} ${to}`, { from: node, to, weight: 1 + Math.floor(random() * 9) })
      }
    }
    return { nodeCount, arcs: [...pairs.values()] }
  })
}
const oneByOne = (problems: readonly CutProblem[]) => problems.map(({ nodeCount, arcs }) => bestCut(nodeCount, arcs))

test('cuts found in threads are those found one by one, the small ones among them', () => {
  const problems = cutProblems(7)
  expect(cutsInThreads(new WorkThreads(wasm, 2), 100)(problems)()).toEqual(oneByOne(problems))
})

test('what is begun first may be waited for last: each call gets its own answers', () => {
  const threads = new WorkThreads(wasm, 2), solve = cutsInThreads(threads, 100)
  const first = cutProblems(8), second = cutProblems(9), all = texts(5)
  const finishFirst = solve(first), finishSecond = solve(second)
  expect(parseInThreads(grammar, threads, all, () => undefined).map(told)).toEqual(all.map(text => told(grammar.parse(text))))
  expect(finishSecond()).toEqual(oneByOne(second))
  expect(finishFirst()).toEqual(oneByOne(first))
})
