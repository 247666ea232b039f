import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import request from 'supertest'
import type { ChangeView, NewBranchView } from '@hollowmoor/contract/views'
import type { Started } from '../dist/serve.js'
import { served, writeFiles } from './served.js'

const FILES: Record<string, string> = {
  'tsconfig.json': '{ "compilerOptions": { "strict": true, "noEmit": true, "module": "ESNext", "moduleResolution": "Bundler", "target": "ES2022", "types": [] } }',
  'src/log.ts': 'export class Log {\n  private lines: string[] = []\n  note(line: string): void { this.lines.push(line) }\n}\n',
  'src/desk.ts': "import { Log } from './log'\n\nexport class Desk {\n  private log = new Log()\n\n  open(): void { this.log.note('open') }\n}\n",
  'src/main.ts': "import { Desk } from './desk'\nnew Desk().open()\n",
  ...Object.fromEntries(Array.from({ length: 5 }, (_, at) => [`src/user${at}.ts`, `import { Log } from './log'\n${at > 0 ? `import { use${at - 1} } from './user${at - 1}'\n` : ''}\nexport function use${at}(log: Log): void {\n  log.note('${at}')\n${at > 0 ? `  use${at - 1}(log)\n` : ''}}\n`]))
}
let data: string, root: string, started: Started, id: number

const get = (path: string) => request(started.server).get(path)
const post = (path: string, body: object = {}) => request(started.server).post(path).send(body)
const view = async (change: number) => (await get(`/api/changes/${change}`)).body as ChangeView
const git = (...args: string[]) => execFileSync('git', ['-c', 'user.name=t', '-c', 'user.email=t@example.org', ...args], { cwd: root, encoding: 'utf8' })

beforeAll(async () => {
  data = mkdtempSync(join(tmpdir(), 'hollowmoor-batches-'))
  root = join(data, 'code')
  writeFiles(root, FILES)
  git('init', '-q', '-b', 'main')
  git('add', '-A')
  git('commit', '-qm', 'before')
  const opened = await served(join(data, 'db'), root)
  started = opened.started
  id = opened.id
})
afterAll(async () => { await started.stop(); rmSync(data, { recursive: true, force: true }) })

async function planned(...steps: string[]): Promise<number> {
  const { body } = await post(`/api/projects/${id}/changes`, { steps: steps.map(step => ({ id: step, choices: {} })) })
  await started.idle()
  return (body as ChangeView).id
}

test('a step is divided into batches, each a commit that the compiler takes', async () => {
  const change = await planned('inject:src/desk.ts#Desk:src/log.ts#Log@log', 'extract-interface:src/log.ts#Log')
  const before = await view(change), wide = before.steps.findIndex(step => step.title.includes('interface'))
  expect(before.steps[wide]).toMatchObject({ files: 7 })
  expect((await post(`/api/changes/${change}/batches`, { step: wide, size: 3 })).status).toBe(202)
  await started.idle()
  const { steps } = await view(change), { batches } = steps[wide]!
  expect(batches!.flat().sort()).toEqual(['src/log-port.ts', 'src/log.ts', ...Array.from({ length: 5 }, (_, at) => `src/user${at}.ts`)])
  expect(batches!.length).toBeGreaterThanOrEqual(3)
  expect(batches![0]).toContain('src/log-port.ts')

  const { text } = await get(`/api/changes/${change}/patches`)
  expect(text.match(/^Subject: .*/gm)).toHaveLength(1 + batches!.length)
  expect(text).toMatch(new RegExp(`^Subject: \\[PATCH \\d/${1 + batches!.length}\\] .*\\(2 of ${batches!.length}\\)$`, 'm'))
  const made = await post(`/api/changes/${change}/branch`, { name: 'in-batches', each: 'step' })
  const { commits } = made.body as NewBranchView
  expect(commits).toHaveLength(1 + batches!.length)
  for (const commit of commits) {
    git('checkout', '-q', commit)
    const { status, stdout } = spawnSync(process.execPath, [resolve('node_modules/typescript/bin/tsc'), '-p', root], { encoding: 'utf8' })
    expect({ commit: git('log', '-1', '--format=%s'), status, stdout }).toEqual({ commit: git('log', '-1', '--format=%s'), status: 0, stdout: '' })
  }
  expect(git('diff', '--stat', 'in-batches', commits.at(-1)!)).toBe('')
  git('checkout', '-q', 'main')
})

test('what has to change at once is one batch, and nonsense is refused', async () => {
  const change = await planned('inject:src/desk.ts#Desk:src/log.ts#Log@log')
  await post(`/api/changes/${change}/batches`, { step: 0, size: 1 })
  await started.idle()
  expect((await view(change)).steps[0]!.batches).toEqual([['src/desk.ts', 'src/main.ts']])
  expect((await get(`/api/changes/${change}/patches`)).text.match(/^Subject: .*/gm)).toHaveLength(1)
  expect((await post(`/api/changes/${change}/batches`, { step: 4, size: 1 })).body).toMatchObject({ code: 'CHOICE_INVALID' })
  expect((await post(`/api/changes/${change}/batches`, { step: 0, size: 0 })).status).toBe(400)
})
