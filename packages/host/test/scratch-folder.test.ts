import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { filesChangedSince } from '@hollowmoor/host/linked-dependencies'
import { removeLeftScratchFolders } from '@hollowmoor/host/scratch-folder'
import { ScratchCopy } from '@hollowmoor/host/scratch-copy'

let root: string
const isAlive = (pid: number) => {
  try {
    return process.kill(pid, 0) && !/^State:\s+Z/m.test(readFileSync(`/proc/${pid}/status`, 'utf8'))
  } catch {
    return false
  }
}

beforeEach(() => {
  root = realpathSync(mkdtempSync(join(tmpdir(), 'hollowmoor-scratch-')))
  mkdirSync(join(root, 'node_modules/dep'), { recursive: true })
  writeFileSync(join(root, 'node_modules/dep/index.js'), 'original')
  mkdirSync(join(root, 'node_modules/@own'))
  mkdirSync(join(root, 'packages/part'), { recursive: true })
  writeFileSync(join(root, 'packages/part/part.js'), 'original')
  symlinkSync('../../packages/part', join(root, 'node_modules/@own/part'))
})
afterEach(() => rmSync(root, { recursive: true, force: true }))

test('a trial that writes to installed packages changes none of the user\'s, or tells which', async () => {
  const copy = await ScratchCopy.of(root)
  const { output } = await copy.run('echo changed > node_modules/dep/index.js; cat node_modules/dep/index.js; mkdir node_modules/.cache', { seconds: 20 })
  const told = await copy.changedDependencies()
  await copy.remove()
  expect(output).toBe('changed\n')
  const now = readFileSync(join(root, 'node_modules/dep/index.js'), 'utf8')
  expect(now === 'original' || told.includes(join(root, 'node_modules/dep/index.js'))).toBe(true)
  expect(existsSync(join(root, 'node_modules/.cache'))).toBe(false)
})

test('packages of the project itself are those of the copy', async () => {
  const copy = await ScratchCopy.of(root)
  copy.apply([{ path: 'packages/part/part.js', before: 'original', after: 'planned' }])
  const { output } = await copy.run('cat node_modules/@own/part/part.js; echo x > node_modules/@own/part/part.js', { seconds: 20 })
  await copy.remove()
  expect([output, readFileSync(join(root, 'packages/part/part.js'), 'utf8')]).toEqual(['planned', 'original'])
})

test('what was written, made or removed since a moment is found, and nothing else', async () => {
  await new Promise(resolve => setTimeout(resolve, 30))
  const since = Date.now()
  await new Promise(resolve => setTimeout(resolve, 30))
  expect(await filesChangedSince([join(root, 'node_modules')], since)).toEqual([])
  writeFileSync(join(root, 'node_modules/dep/index.js'), 'changed!')
  mkdirSync(join(root, 'node_modules/new'))
  expect(await filesChangedSince([join(root, 'node_modules')], since)).toEqual([join(root, 'node_modules/dep/index.js'), join(root, 'node_modules/new')])
})

test('a process that was started for a trial ends with it, also one that left its group', async () => {
  const copy = await ScratchCopy.of(root)
  await copy.run('setsid sleep 300 > /dev/null 2>&1 & echo $! > pid; sleep 0.3', { seconds: 20 })
  const left = Number(readFileSync(join(copy.folder, 'pid'), 'utf8'))
  expect(isAlive(left)).toBe(true)
  await copy.remove()
  expect([isAlive(left), existsSync(copy.folder)]).toEqual([false, false])
})

test('what a killed process left is ended and removed by the next, but nothing of one that lives', async () => {
  const script = `import { ScratchCopy } from ${JSON.stringify(join(process.cwd(), 'packages/host/dist/scratch-copy.js'))}
    const copy = await ScratchCopy.of(${JSON.stringify(root)})
    void copy.run('sleep 300', { seconds: 400 })
    const note = copy.run('setsid sleep 301 > /dev/null 2>&1 & echo $!', { seconds: 20 })
    console.log(JSON.stringify({ folder: copy.folder, pid: Number((await note).output) }))
    setInterval(() => {}, 1000)`
  const child = spawn(process.execPath, ['--input-type=module', '-e', script], { stdio: ['ignore', 'pipe', 'inherit'], env: { ...process.env } })
  const told = JSON.parse(await new Promise<string>(resolve => child.stdout.once('data', data => resolve(String(data))))) as { folder: string; pid: number }
  expect([await removeLeftScratchFolders(), existsSync(told.folder), isAlive(told.pid)]).toEqual([0, true, true])
  child.kill('SIGKILL')
  await new Promise(resolve => child.once('exit', resolve))
  expect([await removeLeftScratchFolders(), existsSync(told.folder), isAlive(told.pid)]).toEqual([1, false, false])
  expect(readdirSync(join(process.env.HOLLOWMOOR_STATE!, 'scratch'))).toEqual([])
  expect(spawnSync('pgrep', ['-f', '^sleep 30[01]$']).stdout.toString()).toBe('')
})
