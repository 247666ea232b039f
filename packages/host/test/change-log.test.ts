import { execFileSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { changeLog } from '@hollowmoor/host/change-log'

const folder = mkdtempSync(join(tmpdir(), 'hollowmoor-log-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const git = (...args: string[]) => execFileSync('git', ['-c', 'user.name=Tester', '-c', 'user.email=tester@localhost', ...args], { cwd: folder, stdio: 'pipe' })
const write = (path: string, text: string) => { mkdirSync(join(folder, path, '..'), { recursive: true }); writeFileSync(join(folder, path), text) }
const commit = (message: string) => { git('add', '-A'); git('commit', '-q', '-m', message) }
const LONG = Array.from({ length: 30 }, (_, at) => `line ${at}\n`).join('')

test('tells the files of each commit, newest first, under the names they have now, from the folder that is asked about', () => {
  expect(changeLog(folder)).toBeNull()
  git('init', '-q')
  expect(changeLog(folder)).toBeNull()
  write('app/a.ts', LONG)
  write('app/with a space.ts', 'x\n')
  write('other/b.ts', 'y\n')
  commit('first')
  write('app/a.ts', `${LONG}more\n`)
  write('other/b.ts', 'z\n')
  commit('second')
  renameSync(join(folder, 'app/a.ts'), join(folder, 'app/c.ts'))
  commit('renamed')
  rmSync(join(folder, 'app/with a space.ts'))
  commit('gone')
  write('other/b.ts', 'only elsewhere\n')
  commit('elsewhere')
  expect(changeLog(join(folder, 'app'))!.commits.map(files => [...files].sort())).toEqual([['with a space.ts'], ['c.ts'], ['c.ts'], ['c.ts', 'with a space.ts']])
  expect(changeLog(folder, 2)!.commits.map(files => [...files])).toEqual([['other/b.ts'], ['app/with a space.ts']])
})
