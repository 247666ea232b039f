import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import { writeChange } from '@hollowmoor/host/journalled-write'
import { WriteRecord, writesFolder } from '@hollowmoor/host/write-journal'
import { foreignJournal, recoverProject } from '@hollowmoor/host/write-recovery'

const CHANGE: FileChange[] = [
  { path: 'a.ts', before: 'old a\n', after: 'new a\n' }, { path: 'b.ts', before: 'old b\n', after: 'new b\n' }, { path: 'c.ts', before: 'old c\n', after: 'new c\n' }
]
let folder: string, root: string
const write = (path: string, text: string) => writeFileSync(join(root, path), text)
const texts = () => ['a.ts', 'b.ts', 'c.ts'].map(name => (existsSync(join(root, name)) ? readFileSync(join(root, name), 'utf8') : null))

/** Writes in a process of its own, which is killed at the given step. */
function killAt(step: string, count = 1): void {
  const script = fileURLToPath(new URL('killed-write.mjs', import.meta.url))
  const { signal } = spawnSync(process.execPath, [script, root, step, String(count)], { env: { ...process.env, CHANGES: JSON.stringify(CHANGE) } })
  expect(signal).toBe('SIGKILL')
}

beforeEach(() => {
  folder = realpathSync(mkdtempSync(join(tmpdir(), 'hollowmoor-recovery-')))
  root = join(folder, 'project')
  mkdirSync(root)
  for (const { path, before } of CHANGE) write(path, before!)
})
afterEach(() => {
  rmSync(writesFolder(root), { recursive: true, force: true })
  rmSync(folder, { recursive: true, force: true })
})

describe('a write that was interrupted', () => {
  test('is told by what became of it', async () => {
    killAt('renamed')
    expect(texts()).toEqual(['new a\n', 'old b\n', 'old c\n'])
    expect(await recoverProject(root)).toMatchObject([{ outcome: 'finished', message: expect.stringMatching(/^A write of 3 files .* was finished/) }])
    killedAgain()
    expect(await recoverProject(root)).toMatchObject([{ outcome: 'put back' }])
    expect(texts()).toEqual(['old a\n', 'old b\n', 'old c\n'])

    function killedAgain(): void {
      for (const { path, before } of CHANGE) write(path, before!)
      killAt('staged', 2)
    }
  })

  test('is taken back where a file was edited before its new text took its place; the edit stays', async () => {
    killAt('renamed')
    write('c.ts', 'mine\n')
    expect(await recoverProject(root)).toMatchObject([{ outcome: 'put back', message: expect.stringContaining('c.ts was edited meanwhile') }])
    expect(texts()).toEqual(['old a\n', 'old b\n', 'mine\n'])
  })

  test('is finished where a file was edited after its new text took its place; the edit stays', async () => {
    killAt('renamed')
    write('a.ts', 'new a\nmine\n')
    expect(await recoverProject(root)).toMatchObject([{ outcome: 'finished' }])
    expect(texts()).toEqual(['new a\nmine\n', 'new b\n', 'new c\n'])
  })

  test('stays as it is where either way would lose an edit, says so, and keeps others from being written', async () => {
    killAt('renamed')
    write('a.ts', 'new a\nmine\n')
    write('c.ts', 'mine\n')
    const [told] = await recoverProject(root) as { outcome: string; message: string }[]
    expect(told).toMatchObject({ outcome: 'stuck', message: expect.stringContaining(writesFolder(root)) })
    expect(texts()).toEqual(['new a\nmine\n', 'old b\n', 'mine\n'])
    expect(await writeChange(root, [{ path: 'd.ts', before: null, after: 'x' }])).toMatchObject({ refused: 'RECOVERY_BLOCKED' })
  })

  test.each(['committed', 'renamed'])('in a folder that was laid anew meanwhile, killed at %s, ends whole', async step => {
    killAt(step)
    rmSync(root, { recursive: true })
    mkdirSync(root)
    for (const { path, before } of CHANGE) write(path, before!)
    await recoverProject(root)
    expect([CHANGE.map(one => one.before), CHANGE.map(one => one.after)]).toContainEqual(texts())
    expect(readdirSync(root)).toEqual(['a.ts', 'b.ts', 'c.ts'])
  })

  test('is kept until its owner has heard of it', async () => {
    const owner = { data: folder, change: 7, action: 'write' as const }
    const outcome = await writeChange(root, CHANGE, { owner, acknowledge: () => Promise.reject(new Error('disk full')) })
    expect(outcome).toMatchObject({ isAcknowledged: false })
    expect(await recoverProject(root)).toEqual([])
    const [record] = WriteRecord.ownedBy(folder)
    expect(record?.journal.owner).toEqual(owner)
    expect(record?.journal.entries.map(({ path, before, after }) => ({ path, before, after }))).toEqual(CHANGE)
    record!.letGo()
    expect(WriteRecord.ownedBy(folder)).toEqual([])
  })
})

describe('a journal that this installation did not write for the project', () => {
  const outside = () => join(folder, 'outside.txt')
  const entry = { path: 'a.ts', before: 'old a\n', after: null, mode: 0o644, staged: null, kept: null }
  const journal = (more: object) => JSON.stringify({ version: 2, id: '0'.repeat(32), root, at: '2026-01-01T00:00:00Z', owner: null, entries: [entry], makes: [], removes: [], ...more })

  const inProject: [string, () => void][] = [
    ['an empty one', () => writeFileSync(join(root, '.hollowmoor/journal.json'), '')],
    ['one that is no JSON', () => writeFileSync(join(root, '.hollowmoor/journal.json'), '{')],
    ['an empty object', () => writeFileSync(join(root, '.hollowmoor/journal.json'), '{}')],
    ['a folder', () => mkdirSync(join(root, '.hollowmoor/journal.json'))],
    ['one of today\'s form', () => writeFileSync(join(root, '.hollowmoor/journal.json'), journal({}))],
    ['one of the form before', () => writeFileSync(join(root, '.hollowmoor/journal.json'), JSON.stringify({ version: 1, entries: [{ path: 'a.ts', staged: null, kept: null }], madeFolders: [] }))],
    ['a file in place of the folder', () => { rmSync(join(root, '.hollowmoor'), { recursive: true }); writeFileSync(join(root, '.hollowmoor'), 'x') }],
    ['a link in place of the folder', () => { rmSync(join(root, '.hollowmoor'), { recursive: true }); symlinkSync(folder, join(root, '.hollowmoor')) }]
  ]
  test.each(inProject)('%s, in the project, is left alone and told', async (_, make) => {
    writeFileSync(outside(), 'key')
    writeFileSync(join(folder, 'x.old'), 'kept')
    mkdirSync(join(root, '.hollowmoor'))
    make()
    expect(await recoverProject(root)).toEqual([])
    expect(foreignJournal(root)).toContain('.hollowmoor')
    expect(await writeChange(root, CHANGE)).not.toHaveProperty('refused')
    expect([texts(), readFileSync(outside(), 'utf8'), existsSync(join(folder, 'x.old'))]).toEqual([CHANGE.map(one => one.after), 'key', true])
  })

  const id = '0'.repeat(32)
  const kept: [string, () => string][] = [
    ['is empty', () => ''], ['is cut off', () => journal({}).slice(0, 40)], ['is of another project', () => journal({ root: '/elsewhere' })],
    ['is of another name', () => journal({ id: '1'.repeat(32) })], ['names a file to keep outside of the project', () => journal({ entries: [{ ...entry, kept: '../../outside.txt' }] })]
  ]
  test.each(kept)('that %s, where journals are kept, is left alone and told', async (_, text) => {
    mkdirSync(join(writesFolder(root), id), { recursive: true })
    writeFileSync(join(writesFolder(root), id, 'journal.json'), text())
    expect(await recoverProject(root)).toMatchObject([{ outcome: 'stuck', message: expect.stringContaining(join(writesFolder(root), id)) }])
    expect(texts()).toEqual(CHANGE.map(one => one.before))
  })

  test.each(['../outside.txt', '/etc/passwd', 'link/x.ts', '.git/config'])('with the path %s touches nothing there', async path => {
    symlinkSync(folder, join(root, 'link'))
    mkdirSync(join(writesFolder(root), id), { recursive: true })
    writeFileSync(outside(), 'old a\n')
    writeFileSync(join(writesFolder(root), id, 'journal.json'), journal({ entries: [{ ...entry, path }] }))
    writeFileSync(join(writesFolder(root), id, 'committed'), '')
    expect(await recoverProject(root)).toMatchObject([{ outcome: 'stuck' }])
    expect(readFileSync(outside(), 'utf8')).toBe('old a\n')
  })
})

test('a dangling link where a new file goes is left where it is', async () => {
  symlinkSync(join(folder, 'nowhere'), join(root, 'new.ts'))
  expect(await writeChange(root, [{ path: 'new.ts', before: null, after: 'x\n' }])).toHaveProperty('refused')
  expect([existsSync(join(folder, 'nowhere')), readdirSync(root)]).toEqual([false, ['a.ts', 'b.ts', 'c.ts', 'new.ts']])
})

test.each(['.git/hooks/pre-commit', 'src/.git/config', '.GIT/config', '.hollowmoor/journal.json', 'git~1/config', '.git./config'])('%s is never written', async path => {
  expect(await writeChange(root, [{ path, before: null, after: 'x\n' }])).toMatchObject({ refused: 'PATH_NOT_ALLOWED' })
})

test.each([
  ['a folder in place of a file', () => { rmSync(join(root, 'b.ts')); mkdirSync(join(root, 'b.ts')) }, 'NOT_A_FILE'],
  ['a pipe in place of a file', () => { rmSync(join(root, 'b.ts')); spawnSync('mkfifo', [join(root, 'b.ts')]) }, 'NOT_A_FILE']
])('%s is told by its name, and nothing is written', async (_, make, code) => {
  make()
  expect(await writeChange(root, CHANGE)).toMatchObject({ refused: code, subject: 'b.ts' })
  expect(readFileSync(join(root, 'a.ts'), 'utf8')).toBe('old a\n')
})

test('two that write at once write one after the other', async () => {
  const outcomes = await Promise.all([writeChange(root, CHANGE), writeChange(root, CHANGE.map(one => ({ ...one, after: 'other\n' }))), writeChange(root, CHANGE)])
  expect(outcomes.filter(one => 'refused' in one).map(one => 'refused' in one && one.refused)).toEqual(['FILES_CHANGED', 'FILES_CHANGED'])
  expect([CHANGE.map(one => one.after), ['other\n', 'other\n', 'other\n']]).toContainEqual(texts())
})
