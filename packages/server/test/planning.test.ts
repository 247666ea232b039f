import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { StepInput } from '@hollowmoor/contract/api'
import { planRecorded } from '@hollowmoor/server/planning'
import type { PlannedChange } from '@hollowmoor/server/worker/messages'

const RECORDER = "import { appendFileSync } from 'node:fs';\nimport { test } from 'node:test';\ntest('records', () => appendFileSync(process.env.HOLLOWMOOR_RECORDING, JSON.stringify({ subject: 'a#A', name: 'one()', seen: { gives: { is: 'number', text: '7' }, throws: null, calls: [], after: [] } }) + '\\n'));\n"
const HOLDING = (value: string) => `import { test } from 'node:test';\nimport assert from 'node:assert/strict';\ntest('holds', () => assert.equal(7, ${value}));\n`
const asked: StepInput[] = [{ id: 'inject:a#A:x', choices: { name: 'x' } }, { id: 'first-test:a#A', choices: { name: '', seen: 'of old' } }]
const confirmed = { compile: '', test: 'node --test --test-reporter=spec *.test.mjs', seconds: 60, confirmed: true }
let root: string
beforeEach(() => { root = mkdtempSync(join(tmpdir(), 'hollowmoor-planned-')); writeFileSync(join(root, 'old.test.mjs'), "import { test } from 'node:test';\ntest('old', () => {});\n") })
afterEach(() => { rmSync(root, { recursive: true, force: true }) })

/** Plans as a project's thread does: first a recorder, and with what was seen the test that holds `value`. */
function thread(value: string) {
  const calls: StepInput[][] = []
  const plan = async (steps: readonly StepInput[]): Promise<PlannedChange> => {
    calls.push([...steps])
    const seen = steps[1]!.choices.seen, after = seen === undefined ? RECORDER : HOLDING(value), changes = [{ path: 'new.test.mjs', before: null, after }]
    const told = { notes: [], edits: 1, choices: {} }
    return Promise.resolve({ files: changes, parts: [[], changes], effects: [], steps: [{ title: 'Inject', ...told }, { title: 'First test', ...told, ...(seen === undefined ? { recorder: { subject: 'a#A', path: 'new.test.mjs' } } : {}) }] })
  }
  return { calls, plan }
}
const run = (plan: ReturnType<typeof thread>['plan'], commands: typeof confirmed | null) => planRecorded(asked, { plan, root, commands, signal: new AbortController().signal, tell: () => undefined, progress: () => undefined })

test('a test that has to be recorded is planned again with what was seen of it now, and run', async () => {
  const { calls, plan } = thread('7')
  const outcome = await run(plan, confirmed)
  expect('files' in outcome && outcome.files[0]!.after).toBe(HOLDING('7'))
  expect(calls.map(steps => steps.map(step => step.choices))).toEqual([
    [{ name: 'x' }, { name: '' }], [{ name: 'x' }, { name: '', seen: JSON.stringify({ cases: { 'one()': { gives: { is: 'number', text: '7' }, throws: null, calls: [], after: [] } }, unstable: [] }) }]
  ])
})

test('nothing runs that was not confirmed', async () => {
  for (const commands of [null, { ...confirmed, confirmed: false }]) {
    const { calls, plan } = thread('7')
    expect(await run(plan, commands)).toMatchObject({ refused: 'COMMAND_NOT_CONFIRMED' })
    expect(calls).toHaveLength(1)
  }
})

test('a step that cannot be recorded, or whose test does not hold, does not fit, and the others do', async () => {
  expect(await run(thread('7').plan, { ...confirmed, test: 'node --test old.test.mjs' })).toEqual({ misfits: [{ title: 'Inject', misfit: null }, { title: 'First test', misfit: expect.stringMatching(/^Nothing was recorded/) as string }] })
  expect(await run(thread('8').plan, confirmed)).toEqual({ misfits: [{ title: 'Inject', misfit: null }, { title: 'First test', misfit: 'What was recorded does not hold when it is run once more: holds.' }] })
})
