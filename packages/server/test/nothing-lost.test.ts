import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import sqlite from 'sqlite3'
import request from 'supertest'
import { HeldLock } from '@hollowmoor/host/held-lock'
import { madeStateFolder, projectKey } from '@hollowmoor/host/state-folder'
import { writesFolder } from '@hollowmoor/host/write-journal'
import type { ChangeView, ProjectView } from '@hollowmoor/contract/views'
import type { Started } from '../dist/serve.js'
import { serve } from '../dist/serve.js'
import { served, writeFiles } from './served.js'

const FILES: Readonly<Record<string, string>> = {
  'tsconfig.json': '{ "compilerOptions": { "strict": true, "module": "ESNext", "moduleResolution": "Bundler", "target": "ES2022", "types": [] } }',
  'src/lamp.ts': 'export class Lamp {\n  light(): number { return 2 }\n}\n',
  'src/lock.ts': "import { Lamp } from './lamp'\n\nexport class Lock {\n  constructor(private readonly lamp: Lamp) {}\n\n  open(): number {\n    return this.lamp.light()\n  }\n}\n",
  'src/bridge.ts': "import { Lamp } from './lamp'\n\nexport class Bridge {\n  constructor(private readonly lamp: Lamp) {}\n\n  turn(): number {\n    return this.lamp.light()\n  }\n}\n"
}
const CHANGED = ['src/bridge.ts', 'src/lamp.ts', 'src/light.ts', 'src/lock.ts']
const EXTRACT = { id: 'extract-interface:src/lamp.ts#Lamp', choices: { name: 'Light' } }
let base: string, data: string, root: string, started: Started, id: number

const get = (path: string) => request(started.server).get(path)
const post = (path: string, body: object = {}) => request(started.server).post(path).send(body)
const view = async (change: number) => (await get(`/api/changes/${change}`)).body as ChangeView
const projectView = async () => (await get(`/api/projects/${id}`)).body as ProjectView
const texts = () => CHANGED.map(path => (existsSync(join(root, path)) ? readFileSync(join(root, path), 'utf8') : null))
const OLD = CHANGED.map(path => FILES[path] ?? null)

async function plan(choices: Record<string, string> = EXTRACT.choices): Promise<number> {
  const { body } = await post(`/api/projects/${id}/changes`, { steps: [{ ...EXTRACT, choices }] })
  await started.idle()
  const change = await view((body as ChangeView).id)
  expect(change).toMatchObject({ state: 'planned', refusal: null })
  return change.id
}

async function restart(between: () => void = () => undefined): Promise<void> {
  await started.stop()
  between()
  const outcome = await serve({ port: 0, dataFolder: data })
  if ('refused' in outcome) throw new Error(outcome.message)
  started = outcome
}

/** Does something with the database beside the server. */
function inDatabase(sql: string): Promise<void> {
  return new Promise((resolve, reject) => {
    const database = new sqlite.Database(join(data, 'hollowmoor.sqlite'))
    database.exec(sql, error => database.close(() => (error ? reject(error) : resolve())))
  })
}

/** From now on the database takes no news of changes, as on a disk that is full. */
const deafen = () => inDatabase("CREATE TRIGGER deaf BEFORE UPDATE OF state ON changes BEGIN SELECT RAISE(FAIL, 'database or disk is full'); END")
const hearAgain = () => inDatabase('DROP TRIGGER deaf')

/** Writes a change in a process that is killed at a step. */
function killWrite(change: ChangeView, files: object[], step: string, count = 1): void {
  const script = fileURLToPath(new URL('../../host/test/killed-write.mjs', import.meta.url))
  const owner = JSON.stringify({ data: realpathSync(data), change: change.id, action: 'write' })
  const { signal } = spawnSync(process.execPath, [script, root, step, String(count)], { env: { ...process.env, CHANGES: JSON.stringify(files), OWNER: owner } })
  expect(signal).toBe('SIGKILL')
}

beforeEach(async () => {
  base = realpathSync(mkdtempSync(join(tmpdir(), 'hollowmoor-lost-')))
  root = join(base, 'code')
  data = join(base, 'data')
  mkdirSync(root)
  writeFiles(root, FILES)
  const opened = await served(data, root)
  started = opened.started
  id = opened.id
})
afterEach(async () => {
  await started.stop()
  rmSync(base, { recursive: true, force: true })
})

describe('one at a time', () => {
  test('a second server on a data folder is refused with the address of the first, and starts when that has ended', async () => {
    const second = await serve({ port: 0, dataFolder: data })
    expect(second).toMatchObject({ refused: 'DATA_FOLDER_IN_USE', message: expect.stringContaining('--data FOLDER') })
    const { port } = started.server.address() as { port: number }
    expect((second as { subject?: string }).subject).toBe(`http://127.0.0.1:${port}/`)
    await restart()
    expect((await get('/api/projects')).status).toBe(200)
  })

  test('while another process writes to the project nothing is written, and the change stays as it is', async () => {
    const change = await plan()
    const lock = await HeldLock.acquire(join(madeStateFolder('writes', projectKey(root)), 'lock'), 1000)
    const { status, body } = await post(`/api/changes/${change}/write`)
    await lock!.release()
    expect({ status, body }).toMatchObject({ status: 409, body: { code: 'PROJECT_BUSY' } })
    expect((await view(change)).state).toBe('planned')
    expect(texts()).toEqual(OLD)
    expect((await post(`/api/changes/${change}/write`)).status).toBe(202)
  }, 60_000)

  test('of three writes, and of three undos, that are asked for at once one is done', async () => {
    const change = await plan()
    const ask = async (act: string) => (await Promise.all([1, 2, 3].map(() => post(`/api/changes/${change}/${act}`)))).map(({ status }) => status).sort()
    expect(await ask('write')).toEqual([202, 409, 409])
    expect(await ask('undo')).toEqual([202, 409, 409])
    expect(texts()).toEqual(OLD)
  })
})

describe('where the database cannot be told', () => {
  test('a change that is on the files is written, after a start as well, and can be undone', async () => {
    const change = await plan()
    await deafen()
    expect((await post(`/api/changes/${change}/write`)).status).toBe(202)
    expect((await view(change)).state).toBe('written')
    await restart()
    expect((await view(change)).state).toBe('written')
    await hearAgain()
    await restart()
    expect((await view(change)).state).toBe('written')
    expect((await post(`/api/changes/${change}/undo`)).status).toBe(202)
    expect(texts()).toEqual(OLD)
  })

  test('a change that was written and undone meanwhile is undone', async () => {
    const change = await plan()
    await deafen()
    expect((await post(`/api/changes/${change}/write`)).status).toBe(202)
    expect((await post(`/api/changes/${change}/undo`)).status).toBe(202)
    expect((await view(change)).state).toBe('undone')
    await hearAgain()
    await restart()
    expect((await view(change)).state).toBe('undone')
    expect(texts()).toEqual(OLD)
  })
})

describe('after a kill while files were written', () => {
  const filesOf = async (change: number) => {
    const { text } = await get(`/api/changes/${change}/diff`)
    expect(text).toContain('Light')
    return new Promise<object[]>((resolve, reject) => {
      const database = new sqlite.Database(join(data, 'hollowmoor.sqlite'))
      database.get('SELECT files FROM changes WHERE id = ?', [change], (error, row: { files: string }) => database.close(() => (error ? reject(error) : resolve(JSON.parse(row.files) as object[]))))
    })
  }

  test.each([['staged', 2, 'planned', 'taken back'], ['renamed', 1, 'written', 'finished'], ['performed', 1, 'written', 'finished']])(
    'at the step %s, number %d, the change is %s at the next start, and its page says so', async (step, count, state, told) => {
      const change = await plan()
      const files = await filesOf(change)
      const changed = await view(change)
      await restart(() => killWrite(changed, files, step, count))
      expect((await view(change)).state).toBe(state)
      expect((await projectView()).notices).toMatchObject([{ kind: 'recovered', message: expect.stringContaining(told) }])
      expect(readdirSync(join(root, 'src')).filter(name => name.includes('hollowmoor'))).toEqual([])
      if (state === 'written') expect((await post(`/api/changes/${change}/undo`)).status).toBe(202)
      expect(texts()).toEqual(OLD)
    }
  )

  test('a recovery that cannot end keeps no server from starting, and the page says what to do', async () => {
    const change = await plan()
    const files = await filesOf(change)
    const changed = await view(change)
    await restart(() => {
      killWrite(changed, files, 'renamed')
      for (const journal of journals()) writeFileSync(journal, '')
    })
    expect((await projectView()).notices).toMatchObject([{ kind: 'blocked', message: expect.stringContaining('Look at your files, then delete that folder') }])
    expect((await get('/api/projects')).status).toBe(200)
    expect((await get(`/api/projects/${id}/changes`)).status).toBe(200)
  })

  /** The journals of this project, each in a folder of its own. */
  function journals(): string[] {
    const folder = writesFolder(root)
    return readdirSync(folder).map(name => join(folder, name, 'journal.json')).filter(path => existsSync(path))
  }
})

describe('a project that came with journals of its own', () => {
  const KEY = 'key\n'
  const entry = { path: 'src/lamp.ts', staged: '../../key.txt', kept: null }
  const PLACES: Readonly<Record<string, () => void>> = {
    'a journal that moves a file from outside': () => inJournal(JSON.stringify({ version: 1, entries: [entry], madeFolders: ['../empty'] })),
    'an empty journal': () => inJournal(''),
    'a journal that says nothing': () => inJournal('{}'),
    'a journal that is a folder': () => mkdirSync(join(root, '.hollowmoor/journal.json'), { recursive: true }),
    'a file in the place of the folder': () => writeFileSync(join(root, '.hollowmoor'), ''),
    'a link in the place of the folder': () => symlinkSync(join(base, 'elsewhere'), join(root, '.hollowmoor'))
  }

  function inJournal(text: string): void {
    mkdirSync(join(root, '.hollowmoor'))
    writeFileSync(join(root, '.hollowmoor/journal.json'), text)
  }

  test('starts, touches nothing, and says so', async () => {
    writeFileSync(join(base, 'key.txt'), KEY)
    mkdirSync(join(base, 'empty'))
    writeFiles(base, { 'elsewhere/a.old': KEY, 'elsewhere/journal.json': '{}' })
    for (const [name, lay] of Object.entries(PLACES)) {
      await restart(() => {
        rmSync(join(root, '.hollowmoor'), { recursive: true, force: true })
        lay()
      })
      const outside = [join(base, 'key.txt'), join(base, 'elsewhere/a.old')].map(path => readFileSync(path, 'utf8'))
      const { notices } = await projectView()
      expect({ name, notices }).toMatchObject({ name, notices: [{ kind: 'foreign', message: expect.stringContaining('left alone') }] })
      expect({ name, texts: texts(), outside, empty: existsSync(join(base, 'empty')) }).toEqual({ name, texts: OLD, outside: [KEY, KEY], empty: true })
    }
    await post(`/api/projects/${id}/survey`)
    await started.idle()
    expect((await post(`/api/changes/${await plan()}/write`)).status).toBe(202)
  }, 60_000)
})

describe('what cannot be read or written has a code, the file, and a way on', () => {
  test('a file that became a folder takes down no list, and is named when the change is to be written', async () => {
    const change = await plan()
    rmSync(join(root, 'src/lock.ts'))
    mkdirSync(join(root, 'src/lock.ts'))
    expect((await get(`/api/projects/${id}/changes`)).body).toMatchObject([{ id: change, outdated: ['src/lock.ts'] }])
    const { status, body } = await post(`/api/changes/${change}/write`)
    expect({ status, body }).toMatchObject({ status: 409, body: { code: 'NOT_A_FILE', subject: 'src/lock.ts' } })
    expect(readFileSync(join(root, 'src/lamp.ts'), 'utf8')).toBe(FILES['src/lamp.ts'])
  })

  test('a name with a line break is refused when it is chosen, with a sentence about the name', async () => {
    const { status, body } = await post(`/api/projects/${id}/changes`, { steps: [{ ...EXTRACT, choices: { name: 'Li\nght' } }] })
    expect({ status, body }).toMatchObject({ status: 400, body: { code: 'CHOICE_INVALID', message: 'The name "Li\\nght" holds a line break, which no name can have; choose another.' } })
    expect((await get(`/api/projects/${id}/changes`)).body).toEqual([])
  })

  test('a file in the place of its data folder is told when a server is to start', async () => {
    const file = join(base, 'file')
    writeFileSync(file, '')
    expect(await serve({ port: 0, dataFolder: file })).toMatchObject({ refused: 'NOT_A_FILE', message: expect.stringContaining(file) })
  })
})
