import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { changedLines, changedLinesRun } from '@hollowmoor/host/line-coverage'

const folder = mkdtempSync(join(tmpdir(), 'hollowmoor-coverage-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const change = (path: string, before: string | null, after: string) => ({ path, before, after })
const isTest = (path: string) => path.startsWith('test/')

test('without coverage nothing is said', () => {
  expect(changedLinesRun(join(folder, 'nowhere'), folder, [], isTest)).toBeNull()
  const empty = join(folder, 'empty')
  mkdirSync(empty)
  expect(changedLinesRun(empty, folder, [], isTest)).toBeNull()
})

test('lines of a file that no test loads count as not run; what cannot run and what is new do not count', () => {
  const coverage = join(folder, 'coverage')
  mkdirSync(coverage)
  writeFileSync(join(coverage, 'one.json'), JSON.stringify({ result: [] }))
  const before = 'export class A {\n  go() {\n    return 1\n  }\n}\n'
  const after = "import { B } from './b'\n\n// Why.\nexport class A {\n  constructor(private readonly b: B) {}\n\n  go() {\n    return this.b.one()\n  }\n}\n"
  const changes = [change('src/a.ts', before, after), change('src/b.ts', null, 'export interface B {\n  one(): number\n}\n'), change('test/a.test.ts', 'a()\n', 'b()\n')]
  expect(changedLinesRun(coverage, folder, changes, isTest)).toEqual({ changed: 2, run: 0, testFiles: [] })
})

test('changed lines are those of the new text', () => {
  expect(changedLines(change('a.ts', 'one\ntwo\nthree\n', 'one\n2\nthree\nfour\n'))).toEqual([2, 4])
  expect(changedLines(change('a.ts', null, 'one\ntwo\n'))).toEqual([1, 2])
})
