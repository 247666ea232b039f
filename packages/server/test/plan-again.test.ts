import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import request from 'supertest'
import type { ChangeView } from '@hollowmoor/contract/views'
import type { Started } from '../dist/serve.js'
import { served, writeFiles } from './served.js'

const FILES: Record<string, string> = {
  'tsconfig.json': '{ "compilerOptions": { "strict": true, "module": "ESNext", "moduleResolution": "Bundler", "target": "ES2022", "types": [] } }',
  'src/motor.ts': 'export class Motor {\n  start(): number { return 1 }\n}\n',
  'src/lamp.ts': 'export class Lamp {\n  light(): number { return 2 }\n}\n',
  'src/lock.ts': "import { Lamp } from './lamp'\nimport { Motor } from './motor'\n\nexport class Lock {\n  private motor = new Motor()\n  private lamp = new Lamp()\n\n  open(): number {\n    return this.motor.start() + this.lamp.light()\n  }\n}\n",
  'src/main.ts': "import { Lock } from './lock'\nexport const opened = new Lock().open()\n"
}
const MOTOR = 'inject:src/lock.ts#Lock:src/motor.ts#Motor@motor', LAMP = 'inject:src/lock.ts#Lock:src/lamp.ts#Lamp@lamp'
let data: string, root: string, started: Started, id: number

const get = (path: string) => request(started.server).get(path)
const post = (path: string, body: object = {}) => request(started.server).post(path).send(body)
const put = (path: string, body: object) => request(started.server).put(path).send(body)
const view = async (change: number) => (await get(`/api/changes/${change}`)).body as ChangeView
const edit = (path: string, from: string, to: string) => writeFileSync(join(root, path), readFileSync(join(root, path), 'utf8').replace(from, to))
const after = ({ files }: ChangeView, path: string) => files.find(file => file.path === path)!.hunks.flatMap(hunk => hunk.lines).filter(line => line.startsWith('+'))

async function plan(...steps: string[]): Promise<number> {
  const { body } = await post(`/api/projects/${id}/changes`, { steps: steps.map(step => ({ id: step, choices: {} })) })
  await started.idle()
  return (body as ChangeView).id
}
async function again(change: number, steps: readonly number[]): Promise<ChangeView> {
  const { body, status } = await post(`/api/changes/${change}/again`, { steps })
  expect({ status, state: (body as ChangeView).state }).toEqual({ status: 202, state: 'planning' })
  await started.idle()
  return view(change)
}

beforeAll(async () => {
  data = mkdtempSync(join(tmpdir(), 'hollowmoor-again-'))
  root = join(data, 'code')
  mkdirSync(root)
})
beforeEach(async () => {
  rmSync(root, { recursive: true })
  writeFiles(root, FILES)
  const opened = await served(join(data, 'db'), root)
  started = opened.started
  id = opened.id
})
afterEach(async () => { await started.stop() })
afterAll(() => { rmSync(data, { recursive: true, force: true }) })

test('a plan survives a change elsewhere, says which of its files are others now, and is planned anew', async () => {
  const change = await plan(MOTOR)
  expect(await view(change)).toMatchObject({ state: 'planned', outdated: [] })
  edit('src/lamp.ts', 'return 2', 'return 3')
  expect((await view(change)).outdated).toEqual([])
  edit('src/main.ts', 'new Lock().open()', 'new Lock().open() + 1')
  expect((await view(change)).outdated).toEqual(['src/main.ts'])
  expect((await post(`/api/changes/${change}/write`)).body).toMatchObject({ code: 'FILES_CHANGED', subject: 'src/main.ts' })
  const planned = await again(change, [0])
  expect(planned).toMatchObject({ id: change, state: 'planned', outdated: [] })
  expect(after(planned, 'src/main.ts')).toContain('+export const opened = new Lock(new Motor()).open() + 1')
  expect((await post(`/api/changes/${change}/write`)).status).toBe(202)
  expect(readFileSync(join(root, 'src/main.ts'), 'utf8')).toContain('new Lock(new Motor()).open() + 1')
})

test('of several steps it is told which do not fit any more, and the others go on without them', async () => {
  const change = await plan(MOTOR, LAMP)
  edit('src/lock.ts', '  private motor = new Motor()\n', '')
  edit('src/lock.ts', 'this.motor.start()', '1')
  const unfit = await again(change, [0, 1])
  expect(unfit.state).toBe('refused')
  expect(unfit.refusal).toMatch(/^Step 1, .*: Lock does not build or fetch/)
  expect(unfit.steps.map(step => step.misfit === null)).toEqual([false, true])
  const fitting = await again(change, [1])
  expect(fitting).toMatchObject({ state: 'planned', refusal: null })
  expect(fitting.steps.map(step => step.id)).toEqual([LAMP])
  expect(after(fitting, 'src/main.ts')).toContain('+export const opened = new Lock(new Lamp()).open()')
})

test('its steps are done in another order, and keep what was chosen for them', async () => {
  const { body } = await post(`/api/projects/${id}/changes`, { steps: [{ id: MOTOR, choices: { name: 'engine' } }, { id: LAMP, choices: { default: 'yes' } }] })
  await started.idle()
  const change = (body as ChangeView).id
  const turned = await again(change, [1, 0])
  expect(turned.steps.map(step => [step.id, step.choices.name, step.choices.default])).toEqual([[LAMP, 'lamp', 'yes'], [MOTOR, 'engine', 'no']])
  expect(after(turned, 'src/lock.ts').join('\n')).toContain('constructor(engine: Motor, lamp: Lamp = new Lamp())')
})

test('what was refused of a file stays refused where the file comes out the same', async () => {
  const change = await plan(MOTOR)
  await put(`/api/changes/${change}/decisions`, { refused: { 'src/main.ts': 'all' } })
  expect((await view(change)).problems).toHaveLength(1)
  expect(await again(change, [0])).toMatchObject({ decisions: { refused: { 'src/main.ts': 'all' } }, problems: [expect.stringContaining('src/main.ts')] })
  edit('src/main.ts', 'opened', 'isOpen')
  expect(await again(change, [0])).toMatchObject({ decisions: { refused: {} }, problems: [] })
})

test('only what is not written is planned again, and only with steps that it has', async () => {
  const change = await plan(MOTOR)
  for (const steps of [[], [0, 0], [-1], ['a']]) expect((await post(`/api/changes/${change}/again`, { steps })).status).toBe(400)
  expect((await post(`/api/changes/${change}/again`, { steps: [1] })).body).toMatchObject({ code: 'CHOICE_INVALID', message: 'This change has 1 step.' })
  await post(`/api/changes/${change}/write`)
  await started.idle()
  expect((await post(`/api/changes/${change}/again`, { steps: [0] })).body).toMatchObject({ code: 'CHANGE_STATE', message: 'This change is written; only one that is not written can be planned again.' })
  expect((await post('/api/changes/999/again', { steps: [0] })).status).toBe(404)
})
