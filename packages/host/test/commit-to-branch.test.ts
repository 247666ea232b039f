import { execFileSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { isRefusal } from '@hollowmoor/contract/errors'
import type { CommitPlan } from '@hollowmoor/core/edit/patch-series'
import { patchSeries } from '@hollowmoor/core/edit/patch-series'
import { commitToBranch } from '@hollowmoor/host/commit-to-branch'

const PLANS: CommitPlan[] = [
  { title: 'Extract an interface', notes: ['1 of 2 uses become it.', '--- not the end'], changes: [{ path: 'src/log.ts', before: 'a\nb\n', after: 'a\nB\n' }, { path: 'src/port.ts', before: null, after: 'new\n' }] },
  { title: 'Move Löwe elsewhere', notes: [], changes: [{ path: 'src/old.ts', before: 'old\n', after: null }, { path: 'far/old.ts', before: null, after: 'old' }, { path: 'src/log.ts', before: 'a\nB\n', after: 'a\nC\n' }] }
]
let folder: string, root: string
const git = (...args: string[]) => execFileSync('git', args, { cwd: root, stdio: 'pipe', encoding: 'utf8' })
const write = (path: string, text: string) => { mkdirSync(join(root, path, '..'), { recursive: true }); writeFileSync(join(root, path), text) }

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'hollowmoor-branch-'))
  root = join(folder, 'app')
  mkdirSync(root)
  execFileSync('git', ['init', '-q', '-b', 'main', folder])
  for (const [name, value] of [['user.name', 'Tester'], ['user.email', 'tester@localhost']]) git('config', name!, value!)
  write('src/log.ts', 'a\nb\n')
  write('src/old.ts', 'old\n')
  write('run.sh', '#!/bin/sh\n')
  git('add', '-A')
  git('update-index', '--chmod=+x', 'run.sh')
  git('commit', '-q', '-m', 'first')
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

test('a commit a plan stands on the new branch; files, index and branch stay as they are', async () => {
  write('src/unsaved.ts', 'not committed\n')
  const status = git('status', '--porcelain')
  const made = await commitToBranch(root, 'hollowmoor/one', PLANS)
  expect(isRefusal(made) ? made.message : made.commits.length).toBe(2)
  expect(git('log', '--format=%s|%b', 'main..hollowmoor/one').trim().split('\n').filter(line => line !== '')).toEqual(['Move Löwe elsewhere|', 'Extract an interface|1 of 2 uses become it.', '--- not the end'])
  expect(git('ls-tree', '-r', '--name-only', 'hollowmoor/one').trim().split('\n')).toEqual(['far/old.ts', 'run.sh', 'src/log.ts', 'src/port.ts'])
  expect(git('ls-tree', 'hollowmoor/one', 'run.sh')).toContain('100755')
  expect(git('show', 'hollowmoor/one:./src/log.ts')).toBe('a\nC\n')
  expect(git('show', 'hollowmoor/one~1:./src/log.ts')).toBe('a\nB\n')
  expect([git('status', '--porcelain'), git('rev-parse', '--abbrev-ref', 'HEAD').trim(), readFileSync(join(root, 'src/log.ts'), 'utf8')]).toEqual([status, 'main', 'a\nb\n'])
})

test.each([
  ['a name that is taken', 'main', 'GIT_STATE', () => undefined], ['a name that cannot be one', 'a..b', 'CHOICE_INVALID', () => undefined], ['a name that looks like an option', '--all', 'CHOICE_INVALID', () => undefined],
  ['a file that the commit has otherwise', 'fresh', 'GIT_STATE', () => { write('src/log.ts', 'x\n'); git('commit', '-q', '-am', 'other') }],
  ['a new file that the commit has already', 'fresh', 'GIT_STATE', () => { write('src/port.ts', 'x\n'); git('add', '-A'); git('commit', '-q', '-m', 'other') }]
])('refuses %s, and makes nothing', async (_, name, code, before) => {
  before()
  const made = await commitToBranch(root, name, PLANS)
  expect(isRefusal(made) && made.refused).toBe(code)
  expect(git('branch', '--format=%(refname:short)').trim()).toBe('main')
})

test('without a commit there is nothing to branch from', async () => {
  const empty = mkdtempSync(join(tmpdir(), 'hollowmoor-empty-'))
  execFileSync('git', ['init', '-q', empty])
  expect(await commitToBranch(empty, 'x', PLANS)).toMatchObject({ refused: 'GIT_STATE' })
  rmSync(empty, { recursive: true, force: true })
})

test('a file of git itself is never part of a commit', async () => {
  const plans: CommitPlan[] = [{ title: 'Set a hook', notes: [], changes: [{ path: '.git/hooks/pre-commit', before: null, after: 'echo\n' }] }]
  expect(await commitToBranch(root, 'fresh', plans)).toMatchObject({ refused: 'PATH_NOT_ALLOWED' })
})

test('a file keeps its mode, also where its name looks like a pattern', async () => {
  write('src/[id].ts', 'a\n')
  git('add', '-A')
  git('update-index', '--chmod=+x', 'src/[id].ts')
  git('commit', '-q', '-m', 'second')
  const plans: CommitPlan[] = [{ title: 'Edit', notes: [], changes: [{ path: 'src/[id].ts', before: 'a\n', after: 'b\n' }] }]
  expect(isRefusal(await commitToBranch(root, 'fresh', plans))).toBe(false)
  expect(git('ls-tree', '-r', 'fresh')).toMatch(/^100755 .*src\/\[id\]\.ts$/m)
})

test('patches are taken by git am, commit by commit', () => {
  const file = join(folder, 'series.patch')
  writeFileSync(file, patchSeries(PLANS, new Date(Date.UTC(2026, 10, 27, 9, 5, 3))))
  git('am', '-q', '--directory=app', file)
  expect(git('log', '--format=%s|%ad', '--date=iso', '-2').trim().split('\n')).toEqual(['Move Löwe elsewhere|2026-11-27 09:05:03 +0000', 'Extract an interface|2026-11-27 09:05:03 +0000'])
  expect(git('show', 'HEAD:./src/log.ts')).toBe('a\nC\n')
  expect(git('show', 'HEAD:./far/old.ts')).toBe('old')
  expect(git('ls-tree', '-r', '--name-only', 'HEAD').trim().split('\n')).toEqual(['far/old.ts', 'run.sh', 'src/log.ts', 'src/port.ts'])
})
