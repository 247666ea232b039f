import { spawnSync } from 'node:child_process'
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, statSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import { writeChange } from '@hollowmoor/host/journalled-write'
import { outdatedFiles } from '@hollowmoor/host/outdated-files'
import { undoChange } from '@hollowmoor/host/undo'
import { recoverProject } from '@hollowmoor/host/write-recovery'

let root: string
beforeEach(() => {
  root = realpathSync(mkdtempSync(join(tmpdir(), 'hollowmoor-write-')))
  mkdirSync(join(root, 'src'))
  writeFileSync(join(root, 'src/a.ts'), 'old a\n')
  writeFileSync(join(root, 'src/b.ts'), 'old b\r\n')
  writeFileSync(join(root, 'src/gone.ts'), 'going\n')
  chmodSync(join(root, 'src/a.ts'), 0o755)
})
afterEach(() => rmSync(root, { recursive: true, force: true }))

const change: FileChange[] = [
  { path: 'src/a.ts', before: 'old a\n', after: 'new a\n' }, { path: 'src/b.ts', before: 'old b\r\n', after: 'new b\r\n' },
  { path: 'src/deep/c.ts', before: null, after: 'new c\n' }, { path: 'src/gone.ts', before: 'going\n', after: null }
]
const text = (path: string) => (existsSync(join(root, path)) ? readFileSync(join(root, path), 'utf8') : null)
const state = () => change.map(one => text(one.path))
const OLD = change.map(one => one.before), NEW = change.map(one => one.after)

describe('a write', () => {
  test('writes all files, keeps their modes, and leaves nothing else', async () => {
    expect(await writeChange(root, change)).toEqual({ written: change.map(one => one.path), made: ['src/deep'], isAcknowledged: true })
    expect(state()).toEqual(NEW)
    expect(statSync(join(root, 'src/a.ts')).mode & 0o777).toBe(0o755)
    expect(readdirSync(root)).toEqual(['src'])
  })

  test.each([
    ['was edited meanwhile', () => writeFileSync(join(root, 'src/b.ts'), 'mine\n'), 'FILES_CHANGED'],
    ['is gone', () => rmSync(join(root, 'src/b.ts')), 'FILES_CHANGED'],
    ['appeared where a new one was to be', () => { mkdirSync(join(root, 'src/deep')); writeFileSync(join(root, 'src/deep/c.ts'), 'mine\n') }, 'FILES_CHANGED']
  ])('is refused whole where one file %s', async (_, happen, code) => {
    happen()
    const before = state()
    expect(await writeChange(root, change)).toMatchObject({ refused: code })
    expect(state()).toEqual(before)
  })

  test.each(['../out.ts', '/etc/out.ts', 'src/../../out.ts', 'a\0b.ts', ''])('to %j is refused', async path => {
    expect(await writeChange(root, [{ path, before: null, after: 'x' }])).toMatchObject({ refused: 'REQUEST_INVALID' })
  })

  test('through a link out of the project is refused', async () => {
    symlinkSync(tmpdir(), join(root, 'link'))
    expect(await writeChange(root, [{ path: 'link/hollowmoor-out.ts', before: null, after: 'x' }])).toMatchObject({ refused: 'REQUEST_INVALID' })
    expect(existsSync(join(tmpdir(), 'hollowmoor-out.ts'))).toBe(false)
  })

  const moments: [string, number, 'old' | 'new'][] = [
    ['locked', 1, 'old'], ['journalled', 1, 'old'], ['folder', 1, 'old'], ['staged', 1, 'old'], ['staged', 3, 'old'], ['kept', 1, 'old'], ['kept', 3, 'old'],
    ['committed', 1, 'new'], ['renamed', 1, 'new'], ['renamed', 2, 'new'], ['renamed', 3, 'new'], ['renamed', 4, 'new'], ['performed', 1, 'new'],
    ['acknowledged', 1, 'new'], ['finished', 1, 'new']
  ]
  test.each(moments)('killed at %s (%i) is whole after the next start: the files are %s', async (step, count, expected) => {
    const script = fileURLToPath(new URL('killed-write.mjs', import.meta.url))
    const killed = spawnSync(process.execPath, [script, root, step, String(count)], { env: { ...process.env, CHANGES: JSON.stringify(change) }, encoding: 'utf8' })
    expect(killed.signal).toBe('SIGKILL')
    await recoverProject(root)
    expect(state()).toEqual(expected === 'old' ? OLD : NEW)
    expect([readdirSync(root), readdirSync(join(root, 'src')).filter(name => name.startsWith('.'))]).toEqual([['src'], []])
    // Recovering again finds nothing.
    expect(await recoverProject(root)).toEqual([])
  })
})

describe('what a change was made from', () => {
  test('is all there before it is written, and none of it after', async () => {
    expect(outdatedFiles(root, change)).toEqual([])
    await writeChange(root, change)
    expect(outdatedFiles(root, change)).toEqual(change.map(one => one.path))
  })

  test.each([
    ['a file that was edited', () => writeFileSync(join(root, 'src/a.ts'), 'old a\n '), ['src/a.ts']],
    ['line ends that are others', () => writeFileSync(join(root, 'src/b.ts'), 'old b\n'), ['src/b.ts']],
    ['a file that is gone', () => rmSync(join(root, 'src/gone.ts')), ['src/gone.ts']],
    ['a new file that is there already', () => { mkdirSync(join(root, 'src/deep')); writeFileSync(join(root, 'src/deep/c.ts'), '') }, ['src/deep/c.ts']],
    ['a link in the place of a file', () => { rmSync(join(root, 'src/a.ts')); symlinkSync(join(root, 'src/b.ts'), join(root, 'src/a.ts')) }, ['src/a.ts']],
    ['two at once', () => { writeFileSync(join(root, 'src/a.ts'), 'x'); rmSync(join(root, 'src/b.ts')) }, ['src/a.ts', 'src/b.ts']]
  ])('tells %s', (_, act, outdated) => {
    act()
    expect(outdatedFiles(root, change)).toEqual(outdated)
  })

  test('never lies out of the project', () => {
    expect(outdatedFiles(root, [{ path: '../out.ts', before: null, after: 'x' }])).toEqual(['../out.ts'])
  })
})

describe('undo', () => {
  test('gives the files back byte for byte', async () => {
    await writeChange(root, change)
    expect(await undoChange(root, change, ['src/deep'])).not.toHaveProperty('refused')
    expect(state()).toEqual(OLD)
  })

  test('takes the folders along that were made for its files, but none that something else lies in', async () => {
    const made: FileChange[] = [{ path: 'src/outside/deep/one.ts', before: null, after: 'one\n' }, { path: 'src/shared/two.ts', before: null, after: 'two\n' }]
    await writeChange(root, made)
    writeFileSync(join(root, 'src/shared/mine.ts'), 'mine\n')
    expect(await undoChange(root, made, ['src/outside', 'src/outside/deep', 'src/shared'])).not.toHaveProperty('refused')
    expect([existsSync(join(root, 'src/outside')), existsSync(join(root, 'src/shared')), text('src/shared/mine.ts')]).toEqual([false, true, 'mine\n'])
  })

  test('takes back only its own lines where others were edited since', async () => {
    const long = Array.from({ length: 30 }, (_, at) => `line ${at}\n`)
    writeFileSync(join(root, 'src/long.ts'), long.join(''))
    const one: FileChange = { path: 'src/long.ts', before: long.join(''), after: long.join('').replace('line 3\n', 'changed\n') }
    await writeChange(root, [one])
    writeFileSync(join(root, 'src/long.ts'), text('src/long.ts')!.replace('line 25\n', 'mine\n'))
    expect(await undoChange(root, [one], [])).not.toHaveProperty('refused')
    expect(text('src/long.ts')).toBe(long.join('').replace('line 25\n', 'mine\n'))
  })

  test('is refused where the same lines were edited, and changes nothing', async () => {
    await writeChange(root, change)
    writeFileSync(join(root, 'src/a.ts'), 'mine\n')
    expect(await undoChange(root, change, ['src/deep'])).toMatchObject({ refused: 'UNDO_CONFLICT', subject: 'src/a.ts' })
    expect(state()).toEqual(['mine\n', 'new b\r\n', 'new c\n', null])
  })
})
