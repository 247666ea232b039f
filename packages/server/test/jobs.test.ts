import { jest } from '@jest/globals'
import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import request from 'supertest'
import type { ChangeView, JobView, ProjectView } from '@hollowmoor/contract/views'
import type { Started } from '../dist/serve.js'
import { serve } from '../dist/serve.js'
import { ChangeRecord, SurveyRecord } from '../dist/store/database.js'

/** A small project with a test that passes, one that fails, and a third that notices the change. */
const FILES: Record<string, string> = {
  'package.json': '{ "name": "small", "type": "module", "scripts": { "test": "node check.mjs" } }',
  'tsconfig.json': '{ "compilerOptions": { "strict": true, "module": "ESNext", "moduleResolution": "Bundler", "target": "ES2022", "types": [] } }',
  'src/motor.ts': 'export class Motor { start(): number { return 1 } }\n',
  'src/lock.ts': "import { Motor } from './motor'\nexport class Lock {\n  private motor = new Motor()\n  open(): number { return this.motor.start() }\n}\n",
  'src/main.ts': "import { Lock } from './lock'\nexport const opened = new Lock().open()\n",
  'check.mjs': "import { readFileSync } from 'node:fs'\nconsole.log('✔ always')\nconsole.log('✖ never')\nconsole.log(readFileSync('src/main.ts', 'utf8').includes('new Motor()') ? '✖ notices' : '✔ notices')\nprocess.exitCode = 1\n"
}
const INJECT = 'inject:src/lock.ts#Lock:src/motor.ts#Motor@motor'
let data: string, root: string, started: Started, id: number

const get = (path: string) => request(started.server).get(path)
const post = (path: string, body: object = {}) => request(started.server).post(path).send(body)
const patch = (path: string, body: object) => request(started.server).patch(path).send(body)
const view = async (change: number) => (await get(`/api/changes/${change}`)).body as ChangeView

async function start(): Promise<void> {
  const outcome = await serve({ port: 0, dataFolder: join(data, 'db'), open: root })
  if ('refused' in outcome) throw new Error(outcome.message)
  started = outcome
  await started.idle()
  id = ((await get('/api/projects')).body as { projects: ProjectView[] }).projects[0]!.id
}
async function plan(): Promise<number> {
  const { body } = await post(`/api/projects/${id}/changes`, { steps: [{ id: INJECT, choices: {} }] })
  await started.idle()
  return (body as ChangeView).id
}
const confirm = (compile: string, test: string, seconds = 30) => patch(`/api/projects/${id}`, { commands: { compile, test, seconds, confirmed: true } })

beforeEach(async () => {
  data = mkdtempSync(join(tmpdir(), 'hollowmoor-jobs-'))
  root = join(data, 'code')
  for (const [path, text] of Object.entries(FILES)) { mkdirSync(join(root, path, '..'), { recursive: true }); writeFileSync(join(root, path), text) }
  await start()
})
afterEach(async () => { await started.stop(); rmSync(data, { recursive: true, force: true }) })

describe('a trial', () => {
  test('tells what broke, what failed already, and claims no more than it saw', async () => {
    const change = await plan()
    await confirm('true', 'node check.mjs')
    await post(`/api/changes/${change}/trial`)
    await started.idle()
    const { trial } = await view(change)
    expect(trial).toMatchObject({ good: false, broken: ['notices'], failedAlready: ['never'], before: { passed: 2, failed: 1 }, after: { passed: 1, failed: 2 } })
    expect(trial!.verdict).toBe('Compiles. 1 of 3 tests pass, 2 of 3 before. 1 passed before and fails now.')
    expect(readFileSync(join(root, 'src/main.ts'), 'utf8')).toBe(FILES['src/main.ts'])
  })

  const verdicts: [string, string, string, string][] = [
    ['that does not compile', 'grep -q "new Motor()" src/lock.ts', 'true', 'It does not compile with your command, and did before.'],
    ['that never compiled', 'false', 'true', 'It does not compile with your command, and did not before either.'],
    ['without tests', 'true', '', 'Compiles. No test command was run.'],
    ['whose tests say nothing', 'true', 'true', 'Compiles. Tests ran, but no results could be read from what they printed (exit status 0).'],
    ['whose tests run none of the lines', 'true', 'node -e "console.log(String.fromCharCode(10004) + \' fine\')"', 'Compiles. 1 of 1 tests pass, 1 of 1 before. No test runs these lines.']
  ]
  test.each(verdicts)('%s', async (_, compile, test, verdict) => {
    const change = await plan()
    await confirm(compile, test)
    await post(`/api/changes/${change}/trial`)
    await started.idle()
    expect((await view(change)).trial!.verdict).toBe(verdict)
  })

  test('can be cancelled while it hangs, and says so', async () => {
    const change = await plan()
    await confirm('sleep 60', 'true', 100)
    const { body } = await post(`/api/changes/${change}/trial`)
    const job = (body as ChangeView).job!
    await new Promise(resolve => setTimeout(resolve, 400))
    expect((await post(`/api/changes/${change}/trial`)).status).toBe(409)
    await post(`/api/jobs/${job}/cancel`)
    await started.idle()
    expect(((await get(`/api/jobs/${job}`)).body as JobView).state).toBe('cancelled')
    expect((await view(change)).trial).toBeNull()
  })
})

describe('what ends while it is being read', () => {
  afterEach(() => { jest.restoreAllMocks() })

  test('a plan is told of with its job, so that its page learns how it ended', async () => {
    const find = ChangeRecord.findByPk.bind(ChangeRecord)
    const { body } = await post(`/api/projects/${id}/changes`, { steps: [{ id: INJECT, choices: {} }] })
    const { id: change, job } = body as ChangeView
    jest.spyOn(ChangeRecord, 'findByPk').mockImplementationOnce(async (...asked) => {
      const read = await find(...asked)
      await started.idle()
      return read
    })
    expect(await view(change)).toMatchObject({ state: 'planning', job })
    expect(await view(change)).toMatchObject({ state: 'planned', job: null })
  })

  test('a survey, too', async () => {
    const find = SurveyRecord.findOne.bind(SurveyRecord)
    const before = ((await get(`/api/projects/${id}`)).body as ProjectView).surveyId
    const { body } = await post(`/api/projects/${id}/survey`)
    jest.spyOn(SurveyRecord, 'findOne').mockImplementationOnce(async (...asked) => {
      const read = await find(...asked)
      await started.idle()
      return read
    })
    const seen = async () => (await get(`/api/projects/${id}`)).body as ProjectView
    expect(await seen()).toMatchObject({ state: 'reading', surveyId: before, job: (body as JobView).id })
    expect(await seen()).toMatchObject({ state: 'ready', job: null })
  })
})

describe('a restart', () => {
  test('marks what was running as interrupted, and keeps projects, surveys and changes', async () => {
    const change = await plan()
    await confirm('sleep 60', 'true', 100)
    const { body } = await post(`/api/changes/${change}/trial`)
    await new Promise(resolve => setTimeout(resolve, 300))
    // The database as a kill would leave it.
    cpSync(join(data, 'db'), join(data, 'db-then'), { recursive: true })
    await post(`/api/jobs/${(body as ChangeView).job!}/cancel`)
    await started.idle()
    await started.stop()
    rmSync(join(data, 'db'), { recursive: true })
    cpSync(join(data, 'db-then'), join(data, 'db'), { recursive: true })
    await start()
    expect(((await get(`/api/jobs/${(body as ChangeView).job!}`)).body as JobView).state).toBe('interrupted')
    expect((await view(change)).state).toBe('planned')
    const project = (await get(`/api/projects/${id}`)).body as ProjectView
    expect(project).toMatchObject({ state: 'ready', commands: { compile: 'sleep 60', confirmed: true } })
  })

  test('never believes a journal that came with a project, and tells of it', async () => {
    await started.stop()
    const journal = join(root, '.hollowmoor')
    mkdirSync(journal)
    writeFileSync(join(journal, 'abc.new'), 'export const opened = 2\n')
    writeFileSync(join(journal, 'abc.old'), FILES['src/main.ts']!)
    writeFileSync(join(journal, 'journal.json'), JSON.stringify({ version: 1, entries: [{ path: 'src/main.ts', staged: 'abc.new', kept: 'abc.old' }], madeFolders: [] }))
    await start()
    expect(readFileSync(join(root, 'src/main.ts'), 'utf8')).toBe(FILES['src/main.ts'])
    expect(readdirSync(journal).sort()).toEqual(['abc.new', 'abc.old', 'journal.json'])
    expect(((await get(`/api/projects/${id}`)).body as ProjectView).notices).toMatchObject([{ kind: 'foreign' }])
    rmSync(journal, { recursive: true })
  })
})

describe('settings', () => {
  test('change what is read, and are checked', async () => {
    const { status } = await patch(`/api/projects/${id}`, { settings: { exclude: ['src/main.ts'] } })
    expect(status).toBe(200)
    await post(`/api/projects/${id}/survey`)
    await started.idle()
    const types = (await get(`/api/projects/${id}/types`)).body as { id: string }[]
    expect(types.map(type => type.id)).toEqual(['src/lock.ts#Lock', 'src/motor.ts#Motor'])
    expect((await patch(`/api/projects/${id}`, { settings: { exclude: 'src' } })).status).toBe(400)
    expect((await patch(`/api/projects/${id}`, { commands: { compile: '', test: '', seconds: 0, confirmed: true } })).status).toBe(400)
  })

  test('commands are proposed from the build files', async () => {
    expect(((await get(`/api/projects/${id}`)).body as ProjectView).proposed).toEqual({ compile: 'npx tsc --noEmit -p .', test: 'npm test' })
  })
})

test('a folder that disappears fails its survey with a word, and keeps the project', async () => {
  rmSync(root, { recursive: true })
  await post(`/api/projects/${id}/survey`)
  await started.idle()
  const project = (await get(`/api/projects/${id}`)).body as ProjectView
  expect([project.state, project.error]).toEqual(['failed', expect.stringContaining('There is no folder')])
})

test('a job\'s events are streamed until it ends', async () => {
  const { body } = await post(`/api/projects/${id}/survey`)
  const address = started.server.address()
  const port = typeof address === 'object' && address ? address.port : 0
  const response = await fetch(`http://127.0.0.1:${port}/api/jobs/${(body as JobView).id}/events`)
  expect(response.headers.get('content-type')).toBe('text/event-stream')
  const events = (await response.text()).split('\n\n').filter(text => text.startsWith('data: ')).map(text => JSON.parse(text.slice(6)) as JobView)
  expect(events[events.length - 1]!.state).toBe('done')
})

test('after a restart the stored survey is shown at once, and the remedies once the code is read again', async () => {
  const place = `/api/projects/${id}/type?type=${encodeURIComponent('src/lock.ts#Lock')}`
  const before = (await get(place)).body as { offers: { id: string }[]; joints: { remedies: unknown[] }[]; reach: object }
  const land = (await get(`/api/projects/${id}/land`)).body as unknown
  expect(before.offers.map(offer => offer.id)).toContain(INJECT)
  await started.stop()
  const outcome = await serve({ port: 0, dataFolder: join(data, 'db') })
  if ('refused' in outcome) throw new Error(outcome.message)
  started = outcome
  expect((await get(`/api/projects/${id}/land`)).body).toEqual(land)
  expect((await get(place)).body).toEqual({ ...before, offers: [], reach: { ...before.reach, searched: false, effects: [], plugs: null, held: false }, joints: before.joints.map(joint => ({ ...joint, remedies: [] })) })
  expect((await get(`/api/projects/${id}/joint?type=${encodeURIComponent('src/lock.ts#Lock')}&collaborator=${encodeURIComponent('src/motor.ts#Motor')}`)).body).toMatchObject([{ line: 1 }, { line: 3, kind: 'creates' }, { line: 4, kind: 'calls' }].filter(one => one.line !== 1))
  await started.idle()
  expect((await get(place)).body).toEqual(before)
})
