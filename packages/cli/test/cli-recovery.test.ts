import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { Writable } from 'node:stream'
import { writesFolder } from '@hollowmoor/host/write-journal'
import { run } from '../src/cli.js'

const FILES: Readonly<Record<string, string>> = {
  'tsconfig.json': '{ "compilerOptions": { "strict": true, "module": "ESNext", "moduleResolution": "Bundler", "target": "ES2022", "types": [] } }',
  'lamp.ts': 'export class Lamp {\n  light(): number { return 2 }\n}\n',
  'lock.ts': "import { Lamp } from './lamp'\n\nexport class Lock {\n  constructor(private readonly lamp: Lamp) {}\n\n  open(): number {\n    return this.lamp.light()\n  }\n}\n"
}
const CHANGES = ['lamp.ts', 'lock.ts'].map(path => ({ path, before: FILES[path], after: `${FILES[path]}\nexport const later = 1\n` }))
const BIN = resolve('packages/cli/bin/hollowmoor.mjs')
let base: string, root: string

beforeEach(() => {
  base = realpathSync(mkdtempSync(join(tmpdir(), 'hollowmoor-cli-recovery-')))
  root = join(base, 'code')
  mkdirSync(root)
  for (const [path, text] of Object.entries(FILES)) writeFileSync(join(root, path), text)
})
afterEach(() => {
  rmSync(writesFolder(root), { recursive: true, force: true })
  rmSync(base, { recursive: true, force: true })
})

async function hollowmoor(...args: string[]) {
  const told = { out: '', err: '' }
  const into = (name: 'out' | 'err') => new Writable({ write(chunk, _, done) { told[name] += String(chunk); done() } })
  const status = await run(args, { out: into('out'), err: into('err') })
  return { status, ...told }
}

function killWrite(step: string): void {
  const script = resolve('packages/host/test/killed-write.mjs')
  expect(spawnSync(process.execPath, [script, root, step, '1'], { env: { ...process.env, CHANGES: JSON.stringify(CHANGES) } }).signal).toBe('SIGKILL')
}
const isNew = () => CHANGES.map(({ path, after }) => readFileSync(join(root, path), 'utf8') === after)
const leftovers = () => readdirSync(root).filter(name => name.includes('.hollowmoor'))

describe('after a write that was killed half way', () => {
  const COMMANDS: Readonly<Record<string, () => string[]>> = {
    measure: () => ['measure', root],
    check: () => ['check', root, '--write-baseline', join(base, 'baseline.json')],
    remedies: () => ['remedies', root],
    apply: () => ['apply', root, 'extract-interface:lamp.ts#Lamp', '--set', 'name=Light', '--diff']
  }

  test.each(Object.keys(COMMANDS))('%s finishes it first, says so, and reads files of one state', async name => {
    killWrite('renamed')
    expect(isNew()).toEqual([true, false])
    const { status, err } = await hollowmoor(...COMMANDS[name]!())
    expect({ status, err }).toMatchObject({ status: 0, err: expect.stringMatching(/^A write of 2 files that was interrupted on .* was finished\.\n/) })
    expect([isNew(), leftovers()]).toEqual([[true, true], []])
    expect((await hollowmoor(...COMMANDS[name]!())).err).not.toContain('interrupted')
  })

  test('measure takes back what had not begun', async () => {
    killWrite('kept')
    expect(leftovers()).not.toEqual([])
    expect(await hollowmoor('measure', root)).toMatchObject({ status: 0, err: expect.stringContaining('was taken back; the files are the old ones') })
    expect([isNew(), leftovers()]).toEqual([[false, false], []])
  })

  test('nothing is read where it cannot be known how to go on', async () => {
    killWrite('renamed')
    for (const name of readdirSync(writesFolder(root))) if (existsSync(join(writesFolder(root), name, 'journal.json'))) writeFileSync(join(writesFolder(root), name, 'journal.json'), '')
    const { status, out, err } = await hollowmoor('measure', root)
    expect({ status, out }).toEqual({ status: 2, out: '' })
    expect(err).toContain('The files may be half old and half new')
  })
})

test('a second serve tells the page of the first, opened on the folder, and ends', async () => {
  const data = join(base, 'data')
  const first = spawn(process.execPath, [BIN, 'serve', '--port', '0', '--data', data], { env: { ...process.env }, stdio: ['ignore', 'pipe', 'inherit'] })
  try {
    const printed = await new Promise<string>(done => first.stdout.once('data', text => done(String(text))))
    const address = /http:\/\/\S+/.exec(printed)![0]
    const { status, out } = await hollowmoor('serve', root, '--port', '0', '--data', data)
    expect(status).toBe(0)
    expect(out).toContain(`Hollowmoor runs already; this page of it is open to you: ${address}projects/1\n`)
    expect(await (await fetch(`${address}api/projects`)).json()).toMatchObject({ projects: [{ path: root }] })
  } finally {
    first.kill()
    await new Promise(done => first.once('exit', done))
  }
})
