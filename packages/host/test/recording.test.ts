import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import { confirmOnCopy, readRecording, recordOnCopy } from '@hollowmoor/host/recording'

const never = new AbortController().signal, quiet = () => undefined
const commands = (test: string, compile = '') => ({ compile, test, seconds: 60 })
const added = (path: string, after: string): FileChange => ({ path, before: null, after })
const line = (subject: string, name: string, value: string) => JSON.stringify({ subject, name, seen: { gives: { is: 'text', text: value }, throws: null, calls: [], after: [] } })

/** A recording test in plain JavaScript: writes the lines that it is told, and sticks where it is told to. */
const RECORDER = (body: string) => `import { appendFileSync } from 'node:fs';
import { test } from 'node:test';
const write = line => appendFileSync(process.env.HOLLOWMOOR_RECORDING, line + '\\n');
const without = (process.env.HOLLOWMOOR_RECORDING_WITHOUT ?? '').split('\\n');
test('records', () => { ${body} });
`
let root: string
beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'hollowmoor-recorded-'))
  mkdirSync(join(root, 'test'))
  writeFileSync(join(root, 'package.json'), '{ "type": "module" }')
  writeFileSync(join(root, 'test/old.test.js'), "import { test } from 'node:test';\ntest('old', () => {});\n")
})
afterEach(() => { rmSync(root, { recursive: true, force: true }) })

test('what differs from one time to the next is told as unstable, and lines that are none are passed over', () => {
  const seen = readRecording([line('a#A', 'one()', '1'), line('a#A', 'one()', '1'), line('a#A', 'two()', '1'), line('a#A', 'two()', '2'), 'no json', '{}', '{"subject":"a#A","name":"three()","seen":{"gives":5}}', '{"subject":"b#B","name":"","error":"Error: no"}', line('b#B', 'x', '1'), ''].join('\n'))
  expect(seen.get('b#B')).toBe('Error: no')
  expect(seen.get('a#A')).toEqual({ cases: { 'one()': { gives: { is: 'text', text: '1' }, throws: null, calls: [], after: [] } }, unstable: ['two()'] })
})

test('a recording runs twice on a copy, and a call that does not end is passed over', async () => {
  const told: string[] = []
  const body = `for (const name of ['one()', 'stuck()', 'two()']) {
    if (without.includes('src/a.js#A ' + name)) continue;
    write(JSON.stringify({ subject: 'src/a.js#A', begun: name }));
    if (name === 'stuck()') for (;;) {}
    write(${JSON.stringify(line('src/a.js#A', 'NAME', 'VALUE'))}.replace('NAME', name).replace('VALUE', name === 'two()' ? String(process.pid) : 'same'));
  }`
  const seen = await recordOnCopy(root, [added('test/new.test.js', RECORDER(body))], ['src/a.js#A'], commands('node --test test/*.test.js'), never, text => told.push(text))
  if ('refused' in seen) throw new Error(seen.message)
  expect(seen.get('src/a.js#A')).toEqual({ cases: { 'one()': { gives: { is: 'text', text: 'same' }, throws: null, calls: [], after: [] } }, unstable: ['two()'] })
  expect(told).toContain('src/a.js#A stuck() does not come to an end; it is passed over.\n')
  expect(readdirSync(join(root, 'test'))).toEqual(['old.test.js'])
})

test('what cannot be recorded says why', async () => {
  const recorded = (test: string, body = '', compile = '') => recordOnCopy(root, [added('test/new.test.js', RECORDER(body))], ['src/a.js#A'], commands(test, compile), never, quiet)
  expect(await recorded('')).toMatchObject({ refused: 'COMMAND_NOT_CONFIRMED' })
  expect(await recorded('node --test test/old.test.js')).toMatchObject({ refused: 'RECORDING_FAILED', message: expect.stringMatching(/^Nothing was recorded: your test command ended with status 0 without running the new test/) as string })
  expect(await recorded('node --test test/*.test.js', '', 'echo "x: error: no such thing"; exit 3')).toEqual({ refused: 'RECORDING_FAILED', message: 'Your compile command ended with status 3 (x: error: no such thing).' })
  const built = await recorded('node --test test/*.test.js', "write(JSON.stringify({ subject: 'src/a.js#A', name: '', error: 'Error: too small' }))")
  expect(built instanceof Map && built.get('src/a.js#A')).toEqual({ refused: 'RECORDING_FAILED', message: 'src/a.js#A cannot be built with sample arguments: Error: too small' })
  const other = await recorded('node --test test/*.test.js', `write(${JSON.stringify(line('src/b.js#B', 'x', '1'))})`)
  expect(other instanceof Map && other.get('src/a.js#A')).toEqual({ refused: 'RECORDING_FAILED', message: 'Your test command ran no test of src/a.js#A.' })
  const cancelled = new AbortController()
  cancelled.abort()
  expect(await recordOnCopy(root, [], [], commands('true'), cancelled.signal, quiet)).toMatchObject({ message: 'Recording was cancelled.' })
  expect(existsSync(join(root, 'test/new.test.js'))).toBe(false)
})

test('a test that does not hold when it is run once more is not kept', async () => {
  const confirm = (body: string) => confirmOnCopy(root, [added('test/new.test.js', `import { test } from 'node:test';\ntest('new one', () => { ${body} });\n`)], commands('node --test --test-reporter=spec test/*.test.js'), never, quiet)
  expect(await confirm('')).toBeUndefined()
  expect(await confirm("throw new Error('other')")).toEqual({ refused: 'RECORDING_FAILED', message: 'What was recorded does not hold when it is run once more: new one.' })
  expect(await confirmOnCopy(root, [added('test/new.test.js', 'import "nothing"')], commands('node test/new.test.js 2>/dev/null || [ ! -f test/new.test.js ]'), never, quiet)).toMatchObject({ message: expect.stringMatching(/^With the new test your test command ended with status 1/) as string })
})
