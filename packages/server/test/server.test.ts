import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import request from 'supertest'
import type { ChangeView, ProjectView } from '@hollowmoor/contract/views'
import type { Started } from '../dist/serve.js'
// The built server: its threads run built files.
import { serve } from '../dist/serve.js'
import { ERROR_STATUS } from '@hollowmoor/contract/errors'

const DEMO = resolve('demo/withymere/typescript')
const EXTRACT = 'extract-interface:src/tolls/toll-calculator.ts#TollCalculator'
const INJECT = 'inject:src/booking/passage-desk.ts#PassageDesk:src/tolls/toll-calculator.ts#TollCalculator@calculator'
let data: string, root: string, started: Started, id: number

const at = () => started.server
const get = (path: string) => request(at()).get(path)
const post = (path: string, body: object = {}) => request(at()).post(path).send(body)
const put = (path: string, body: object) => request(at()).put(path).send(body)

async function planned(steps: { id: string; choices: Record<string, string> }[]): Promise<ChangeView> {
  const { body } = await post(`/api/projects/${id}/changes`, { steps })
  await started.idle()
  return (await get(`/api/changes/${(body as ChangeView).id}`)).body as ChangeView
}

beforeAll(async () => {
  data = mkdtempSync(join(tmpdir(), 'hollowmoor-server-'))
  root = join(data, 'code')
  cpSync(DEMO, root, { recursive: true, filter: path => !path.slice(DEMO.length).includes('node_modules') })
  const outcome = await serve({ port: 0, dataFolder: join(data, 'db'), open: root })
  if ('refused' in outcome) throw new Error(outcome.message)
  started = outcome
  await started.idle()
  id = ((await get('/api/projects')).body as { projects: ProjectView[] }).projects[0]!.id
})
afterAll(async () => { await started.stop(); rmSync(data, { recursive: true, force: true }) })

describe('only this machine is answered', () => {
  const port = () => (at().address() as AddressInfo).port
  const ask = (headers: Readonly<Record<string, string>>) => {
    const named = Object.fromEntries(Object.entries(headers).map(([name, value]) => [name, value.replace('PORT', String(port()))]))
    return request(at()).post('/api/jobs/0/cancel').set(named)
  }
  const foreign: [string, Record<string, string>][] = [
    ['a foreign Host', { Host: 'evil.example' }],
    ['a Host that begins like ours', { Host: '127.0.0.1.evil.example:PORT' }],
    ['a Host that ends like ours', { Host: 'evil.localhost:PORT' }],
    ['a Host without the port', { Host: 'localhost' }],
    ['a Host with another port', { Host: '127.0.0.1:1' }],
    ['another address of this machine', { Host: '127.0.0.2:PORT' }],
    ['a foreign origin', { Origin: 'http://evil.example' }],
    ['an origin that is hidden', { Origin: 'null' }],
    ['another port of this machine', { Origin: 'http://127.0.0.1:9999' }],
    ['our address by another scheme', { Origin: 'https://127.0.0.1:PORT' }],
    ['a page of another site', { 'Sec-Fetch-Site': 'cross-site' }],
    ['a page of another port', { 'Sec-Fetch-Site': 'same-site' }]
  ]
  test.each(foreign)('not %s', async (_, headers) => {
    const response = await ask(headers)
    expect([response.status, (response.body as { code: string }).code]).toEqual([403, 'FOREIGN_ORIGIN'])
  })

  const own: [string, Record<string, string>][] = ['127.0.0.1:PORT', 'localhost:PORT', '[::1]:PORT'].flatMap((name): [string, Record<string, string>][] => [
    [`a page of http://${name}`, { Host: name, Origin: `http://${name}`, 'Sec-Fetch-Site': 'same-origin' }],
    [`a program that asks ${name}`, { Host: name }],
    [`a page of ${name} that asks another of our names`, { Host: 'localhost:PORT', Origin: `http://${name}`, 'Sec-Fetch-Site': 'cross-site' }]
  ])
  test.each(own)('%s is', async (_, headers) => {
    expect((await ask(headers)).status).toBe(200)
  })
})

describe('wrong requests get a clear answer', () => {
  const wrong: [string, () => request.Test, number][] = [
    ['a project that is none', () => get('/api/projects/999'), 404], ['an id that is none', () => get('/api/projects/..%2f..%2fetc'), 404], ['a type with NUL', () => get(`/api/projects/${id}/type?type=%00`), 404],
    ['a type that leads out', () => get(`/api/projects/${id}/type?type=${encodeURIComponent('../../etc/passwd#')}`), 404], ['no query', () => get(`/api/projects/${id}/type`), 400],
    ['a body that is none', () => request(at()).post('/api/projects').set({ 'Content-Type': 'application/json' }).send('{'), 400],
    ['a body of another shape', () => post('/api/projects', { folder: '/' }), 400], ['a folder that is none', () => post('/api/projects', { path: join(data, 'nowhere') }), 404],
    ['a folder with NUL', () => post('/api/projects', { path: 'a\0b' }), 400], ['an address that is none', () => get('/api/nothing'), 404],
    ['a change that is none', () => post('/api/changes/999/write'), 404], ['a cycle that is none', () => get(`/api/projects/${id}/cycle?key=x`), 404], ['a job that is none', () => get('/api/jobs/999'), 404]
  ]
  test.each(wrong)('%s', async (_, ask, status) => {
    const response = await ask()
    const { code, message } = response.body as { code: string; message: string }
    expect([response.status, Object.keys(ERROR_STATUS).includes(code), message.length > 10]).toEqual([status, true, true])
  })

  test('the files of this machine are not served', async () => {
    for (const path of ['/../../../etc/passwd', '/%2e%2e/%2e%2e/etc/passwd', '/..%2f..%2fetc/passwd']) {
      expect((await get(path)).text ?? '').not.toContain('root:')
    }
  })
})

describe('a change', () => {
  test('is planned, decided on, written, measured as predicted, and undone byte for byte', async () => {
    const before = new Map(readdirSync(join(root, 'src/booking')).map(name => [name, readFileSync(join(root, 'src/booking', name), 'utf8')]))
    const change = await planned([{ id: INJECT, choices: {} }, { id: EXTRACT, choices: { name: 'TollReckoner' } }])
    expect(change.state).toBe('planned')
    expect(change.steps.map(step => step.id)).toEqual([EXTRACT, INJECT])
    expect(change.files.map(file => file.path)).toContain('src/tolls/toll-reckoner.ts')
    expect(readFileSync(join(root, 'src/booking/passage-desk.ts'), 'utf8')).toBe(before.get('passage-desk.ts'))

    const half = await put(`/api/changes/${change.id}/decisions`, { refused: { 'src/tolls/toll-reckoner.ts': 'all' } })
    expect((half.body as ChangeView).problems[0]).toContain('toll-reckoner')
    expect((await post(`/api/changes/${change.id}/write`)).status).toBe(422)
    await put(`/api/changes/${change.id}/decisions`, { refused: {} })

    expect((await post(`/api/changes/${change.id}/write`)).status).toBe(202)
    expect(existsSync(join(root, 'src/tolls/toll-reckoner.ts'))).toBe(true)
    expect(existsSync(join(root, '.hollowmoor'))).toBe(false)
    await started.idle()
    const motor = (await get(`/api/projects/${id}/type?type=${encodeURIComponent('src/locks/gate-motor.ts#GateMotor')}`)).body as { joints: { name: string; remedies: { id: string; title: string }[] }[] }
    // What a field holds of a library is plugged by wrapping it.
    expect(motor.joints.find(joint => joint.name === 'signal-kit')?.remedies).toEqual([{ id: 'wrap-library:src/locks/gate-motor.ts#GateMotor:held:signal-kit:link', title: 'Put what GateMotor uses of signal-kit (link) behind Link' }])
    const desk = (await get(`/api/projects/${id}/type?type=${encodeURIComponent('src/booking/passage-desk.ts#PassageDesk')}`)).body as { row: { welded: number; plugged: number } }
    const effect = (label: string) => change.effects.find(one => one.label === label)!.after
    expect([desk.row.welded, desk.row.plugged]).toEqual([effect('PassageDesk: welded'), effect('PassageDesk: plugged')])

    expect((await post(`/api/changes/${change.id}/undo`)).status).toBe(202)
    await started.idle()
    for (const [name, text] of before) expect(readFileSync(join(root, 'src/booking', name), 'utf8')).toBe(text)
    expect(existsSync(join(root, 'src/tolls/toll-reckoner.ts'))).toBe(false)
    expect((await post(`/api/changes/${change.id}/undo`)).status).toBe(409)
  })

  test('is not written over an edit made meanwhile, and the survey says that it is old', async () => {
    const change = await planned([{ id: EXTRACT, choices: {} }])
    const path = join(root, 'src/tolls/toll-calculator.ts')
    const text = readFileSync(path, 'utf8')
    writeFileSync(path, `${text}\n`)
    expect(((await get(`/api/projects/${id}/stale`)).body as { changed: string[] }).changed).toEqual(['src/tolls/toll-calculator.ts'])
    const response = await post(`/api/changes/${change.id}/write`)
    expect([response.status, (response.body as { code: string }).code]).toEqual([409, 'FILES_CHANGED'])
    writeFileSync(path, text)
  })

  test('that cannot be done is refused with the reason', async () => {
    const change = await planned([{ id: EXTRACT, choices: { name: 'Receipt' } }])
    expect([change.state, change.refusal]).toEqual(['refused', expect.stringContaining('exists already')])
  })

  test('runs no command that was not confirmed', async () => {
    const change = await planned([{ id: EXTRACT, choices: {} }])
    const response = await post(`/api/changes/${change.id}/trial`)
    expect([response.status, (response.body as { code: string }).code]).toEqual([400, 'COMMAND_NOT_CONFIRMED'])
  })
})

test('every error code is documented, and no other', () => {
  const documented = [...readFileSync('docs/errors.md', 'utf8').matchAll(/^\| `([A-Z_]+)` \|/gm)].map(match => match[1])
  expect(documented.sort()).toEqual(Object.keys(ERROR_STATUS).sort())
})

test('a Java project is surveyed, shown and asked about like any other', async () => {
  const folder = join(data, 'java')
  mkdirSync(join(folder, 'src/water'), { recursive: true })
  writeFileSync(join(folder, 'src/water/Gauge.java'), 'package water;\n\npublic class Gauge {\n  private final Sluice sluice = new Sluice();\n\n  public int level() { return sluice.open() ? 1 : 2; }\n}\n')
  writeFileSync(join(folder, 'src/water/Sluice.java'), 'package water;\n\nclass Sluice {\n  boolean open() { System.out.println("open"); return true; }\n}\n')
  const { body: added } = await post('/api/projects', { path: folder })
  await started.idle()
  const java = (added as { id: number }).id
  const { body: land } = await get(`/api/projects/${java}/land`)
  expect(land).toMatchObject({ summary: { types: 2, modules: 1, files: 2, unresolved: 0 } })
  const { body: type } = await get(`/api/projects/${java}/type?type=water.Gauge`)
  expect(type).toMatchObject({ row: { kind: 'class', module: 'water', file: 'src/water/Gauge.java' }, offers: [{ id: 'extract-interface:water.Gauge' }, { id: 'inject:water.Gauge:water.Sluice@sluice' }], joints: [{ name: 'Sluice', kind: 'welded', reason: 'created' }] })
  const { body: lines } = await get(`/api/projects/${java}/joint?type=water.Gauge&collaborator=water.Sluice`)
  expect((lines as { line: number; kind: string }[]).map(line => [line.line, line.kind])).toEqual([[4, 'signature'], [4, 'creates'], [6, 'calls']])
  const { body: change } = await post(`/api/projects/${java}/changes`, { steps: [{ id: 'inject:water.Gauge:water.Sluice@sluice', choices: {} }] })
  await started.idle()
  const { body: planned } = await get(`/api/changes/${(change as ChangeView).id}`)
  expect(planned).toMatchObject({ state: 'planned', refusal: null, files: [{ path: 'src/water/Gauge.java' }] })
  expect((planned as ChangeView).steps[0]!.notes.at(-1)).toMatch(/^Checked by reading the result again/)
  const { body: absurd } = await post(`/api/projects/${java}/changes`, { steps: [{ id: 'extract-interface:water.Gauge', choices: { name: 'Sluice' } }] })
  await started.idle()
  expect((await get(`/api/changes/${(absurd as ChangeView).id}`)).body).toMatchObject({ state: 'refused', refusal: expect.stringContaining('water.Sluice exists already') as string })
})

test('a change is committed to a new branch, a commit a step, and given as patches', async () => {
  const { execFileSync } = await import('node:child_process')
  const git = (...args: string[]) => execFileSync('git', args, { cwd: root, stdio: 'pipe', encoding: 'utf8' })
  const { body: none } = await post(`/api/changes/${(await planned([{ id: EXTRACT, choices: {} }])).id}/branch`, { name: 'one', each: 'step' })
  expect(none).toMatchObject({ code: 'GIT_STATE' })
  git('init', '-q', '-b', 'main')
  for (const [name, value] of [['user.name', 'Tester'], ['user.email', 'tester@localhost']]) git('config', name!, value!)
  git('add', '-A')
  git('commit', '-q', '-m', 'as delivered')
  const change = await planned([{ id: EXTRACT, choices: {} }, { id: INJECT, choices: {} }])
  const made = await post(`/api/changes/${change.id}/branch`, { name: 'hollowmoor/plug', each: 'step' })
  expect([made.status, (made.body as { commits: string[] }).commits.length]).toEqual([201, 2])
  expect(git('log', '--format=%s', 'main..hollowmoor/plug').trim().split('\n')).toEqual(['Hand TollCalculator to PassageDesk (built in calculator)', 'Extract an interface from TollCalculator'])
  expect(git('status', '--porcelain')).toBe('')
  expect((await post(`/api/changes/${change.id}/branch`, { name: '../evil', each: 'step' })).status).toBe(400)
  expect((await post(`/api/changes/${change.id}/branch`, { name: 'hollowmoor/whole', each: 'all' })).body).toMatchObject({ commits: { length: 1 } })
  const { text } = await get(`/api/changes/${change.id}/patches`)
  git('checkout', '-q', '-b', 'mailed')
  execFileSync('git', ['am', '-q'], { cwd: root, input: text, stdio: 'pipe' })
  expect(git('diff', 'mailed', 'hollowmoor/plug')).toBe('')
  git('checkout', '-q', 'main')
})
