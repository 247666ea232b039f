import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { changedLines } from '@hollowmoor/host/line-coverage'
import { KEPT_OUTPUT, runCommand } from '@hollowmoor/host/run-command'
import { compareTests, readTestReport } from '@hollowmoor/host/test-report'

let folder: string
beforeEach(() => { folder = mkdtempSync(join(tmpdir(), 'hollowmoor-run-')) })
afterEach(() => rmSync(folder, { recursive: true, force: true }))

describe('a command', () => {
  test('tells its status and what it printed as it prints it', async () => {
    let seen = ''
    const outcome = await runCommand('echo one; echo two >&2; exit 3', { folder, seconds: 20, onOutput: text => { seen += text } })
    expect(outcome).toMatchObject({ status: 3, ended: null })
    expect([outcome.output, seen].map(text => text.includes('one') && text.includes('two'))).toEqual([true, true])
  })

  test('that hangs is ended at its time limit', async () => {
    const outcome = await runCommand('trap "" TERM; while true; do sleep 0.05; done', { folder, seconds: 1 })
    expect(outcome).toMatchObject({ status: null, ended: 'time-limit' })
    expect(outcome.seconds).toBeLessThan(15)
  })

  test('that prints a gigabyte is ended, and only the end is kept', async () => {
    const outcome = await runCommand('yes aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa | head -c 1000000000', { folder, seconds: 100 })
    expect(outcome.ended).toBe('too-much-output')
    expect(outcome.output.length).toBeLessThanOrEqual(KEPT_OUTPUT)
  })

  test('that forks takes what it started with it', async () => {
    await runCommand(`(while true; do date +%s%N > ${folder}/alive; sleep 0.05; done) & sleep 0.3`, { folder, seconds: 20 })
    await new Promise(resolve => setTimeout(resolve, 200))
    const then = existsSync(join(folder, 'alive')) ? readFileSync(join(folder, 'alive'), 'utf8') : ''
    await new Promise(resolve => setTimeout(resolve, 400))
    expect(readFileSync(join(folder, 'alive'), 'utf8')).toBe(then)
  })

  test('can be cancelled', async () => {
    const abort = new AbortController()
    setTimeout(() => abort.abort(), 200)
    expect(await runCommand('sleep 30', { folder, seconds: 60, signal: abort.signal })).toMatchObject({ status: null, ended: 'cancelled' })
  })
})

describe('test reports', () => {
  const table: [string, string, [string, boolean][]][] = [
    ['node:test', '✔ opens (1.2ms)\n✖ closes (3ms)\nℹ tests 2\n\n✖ failing tests:\n\n✖ closes (3ms)\n', [['opens', true], ['closes', false]]],
    ['Jest', 'PASS a.test.ts\n  lock\n    ✓ opens (5 ms)\n    ✕ closes\n', [['opens', true], ['closes', false]]],
    ['TAP', 'TAP version 13\nok 1 - opens\nnot ok 2 - closes\nok 3 - later # SKIP\n1..3\n', [['opens', true], ['closes', false]]],
    ['with colours', '\u001b[32m✔ opens\u001b[39m\n', [['opens', true]]],
    ['nothing', 'all fine\n', []]
  ]
  test.each(table)('%s', (_, output, expected) => expect(readTestReport(output).map(one => [one.name, one.passed])).toEqual(expected))

  test('are compared by name: broken, failed already, mended, gone', () => {
    const side = (all: Record<string, boolean>) => Object.entries(all).map(([name, passed]) => ({ name, passed }))
    expect(compareTests(side({ a: true, b: false, c: false, d: true, e: true }), side({ a: false, b: false, c: true, e: true, f: true }))).toEqual({
      before: { passed: 3, failed: 2 }, after: { passed: 3, failed: 2 }, broken: ['a'], failedAlready: ['b'], mended: ['c'], gone: ['d'], added: ['f']
    })
  })
})

test('changed lines are those of the new text', () => {
  expect(changedLines({ path: 'a', before: 'a\nb\nc\nd\n', after: 'a\nB\nc\nx\nd\n' })).toEqual([2, 4])
})
