import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join, resolve } from 'node:path'
import type { Observations } from '@hollowmoor/core/model/observation'
import { planStep } from '@hollowmoor/core/remedy/catalogue'
import { readRecording } from '@hollowmoor/host/recording'
import { readTestReport } from '@hollowmoor/host/test-report'
import type { Files } from '../../core/test/project.js'
import { readProject } from '../../core/test/project.js'

const OTHER = { globals: "test('one is one', () => {\n  expect(1).toBe(1)\n})\n", imported: "import { expect, it } from '@jest/globals'\n\nit('is one', () => {\n  expect(1).toEqual(1)\n})\n" }
const FILES: Files = {
  'jest.d.ts': "declare function test(name: string, body: () => unknown): void\ndeclare const expect: (value: unknown) => any\ndeclare module '@jest/globals' { export function it(name: string, body: () => unknown): void; export const expect: (value: unknown) => any }\ndeclare module 'node:fs' { export function appendFileSync(path: string, text: string): void }\ndeclare const process: { env: Record<string, string | undefined> }\n",
  'src/gauge.ts': 'export interface Gauge {\n  read(side: string): number\n  reset(): void\n}\n',
  'src/lock.ts': `import type { Gauge } from './gauge'

export class Lock {
  private filled = 0
  private readonly passed = new Map<string, number[]>()
  constructor(private readonly gauge: Gauge) {}
  fill(side: string, metres: number): number {
    if (metres > 4) throw new RangeError(\`\${metres} is too deep\`)
    this.filled += this.gauge.read(side) + metres
    this.passed.set(side, [metres, -0, NaN])
    return this.filled
  }
  async drain(): Promise<{ left: number; sides: string[] }> { this.gauge.reset(); this.filled = 0; return { left: this.filled, sides: [...this.passed.keys()] } }
  async refuse(reason: string): Promise<void> { throw new TypeError(reason) }
  record(): Map<string, number[]> { return this.passed }
  since(): Date { return new Date(Date.UTC(2020, 1, 3)) }
  level(): number { return this.filled }
}
`
}

/** Runs Jest itself on files; what it printed. */
function jest(files: Files, recording = ''): string {
  const folder = mkdtempSync(join(tmpdir(), 'hollowmoor-jest-'))
  try {
    const config = { transform: { '^.+\\.ts$': ['@swc/jest', { jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'commonjs' } }] } }
    for (const [path, text] of Object.entries({ ...files, 'package.json': JSON.stringify({ name: 'locks', jest: config }) })) {
      mkdirSync(dirname(join(folder, path)), { recursive: true })
      writeFileSync(join(folder, path), text)
    }
    symlinkSync(resolve('node_modules'), join(folder, 'node_modules'))
    const { stdout, stderr } = spawnSync(process.execPath, [resolve('node_modules/jest/bin/jest.js'), '--verbose', '--rootDir', folder], { cwd: folder, encoding: 'utf8', env: { ...process.env, HOLLOWMOOR_RECORDING: recording } })
    return stdout + stderr
  } finally { rmSync(folder, { recursive: true, force: true }) }
}

function planned(files: Files, seen?: Observations): Files {
  const { survey, writer } = readProject(files)
  const step = planStep('first-test:src/lock.ts#Lock', seen ? { seen: JSON.stringify(seen) } : {}, survey, writer)
  if (step.refused) throw new Error(`${step.reason}: ${step.message}`)
  return Object.fromEntries(step.changes.map(change => [change.path, change.after!]))
}

test.each(Object.entries(OTHER))('Jest records a class, passes the test that holds what was seen, and fails it when the class does something else: %s', (_, other) => {
  const files: Files = { ...FILES, 'test/other.test.ts': other }, folder = mkdtempSync(join(tmpdir(), 'hollowmoor-recording-')), to = join(folder, 'recording.jsonl')
  try {
    const recorder = { ...files, ...planned(files) }
    jest(recorder, to)
    const seen = readRecording(readFileSync(to, 'utf8')).get('src/lock.ts#Lock')
    if (seen === undefined || typeof seen === 'string') throw new Error(seen ?? 'nothing was recorded')
    const held = { ...files, ...planned(files, seen) }
    const first = readTestReport(jest(held)), own = first.filter(one => one.name.startsWith('Lock'))
    expect([first.filter(one => !one.passed), own.length > 7]).toEqual([[], true])
    const changes: [string, string][] = [['+ metres', '- metres'], ['is too deep', 'is deep'], ['left: this.filled', 'left: 1'], ['TypeError(reason)', "TypeError('no')"], ['this.gauge.reset(); ', ''], ['2020, 1, 3', '2020, 1, 4'], ['[metres, -0', '[metres, 0']]
    // All in one run would hide one behind another; each stands in a copy of its own.
    const copies = changes.map(([from, into], at): Files => Object.fromEntries(Object.entries({ ...held, 'src/lock.ts': held['src/lock.ts']!.replace(from, into) }).map(([path, text]) => [`c${at}/${path}`, text])))
    const outcome = jest(Object.assign({}, ...copies))
    expect(changes.map((change, at) => [change[0], new RegExp(`^FAIL c${at}/`, 'm').test(outcome)])).toEqual(changes.map(change => [change[0], true]))
  } finally { rmSync(folder, { recursive: true, force: true }) }
})
