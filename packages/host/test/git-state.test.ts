import { execFileSync } from 'node:child_process'
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, realpathSync, rmSync, symlinkSync, utimesSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { commitOfLine } from '@hollowmoor/host/commit-source'
import { gitState } from '@hollowmoor/host/git-state'

let root: string
const git = (...args: string[]) => execFileSync('git', args, { cwd: root, encoding: 'utf8', stdio: 'pipe' })
const write = (path: string, text: string) => {
  mkdirSync(join(root, path, '..'), { recursive: true })
  writeFileSync(join(root, path), text)
}
/** The same by git itself, which runs filters; there are none here. */
function byGit(): string[] {
  const lines = git('status', '--porcelain', '-z', '--no-renames', '--untracked-files=all').split('\0').filter(line => line !== '')
  return [...new Set(lines.map(line => line.slice(3)))].sort()
}

beforeEach(() => {
  root = realpathSync(mkdtempSync(join(tmpdir(), 'hollowmoor-state-of-git-')))
  git('init', '-q', '-b', 'main')
  for (const [name, value] of [['user.name', 'Tester'], ['user.email', 'tester@localhost']]) git('config', name!, value!)
})
afterEach(() => rmSync(root, { recursive: true, force: true }))

test('without a commit every file is uncommitted, and the branch has its name', async () => {
  write('a.ts', 'a\n')
  write('b.ts', 'b\n')
  git('add', 'a.ts')
  expect(await gitState(root)).toEqual({ branch: 'main', commit: null, uncommitted: ['a.ts', 'b.ts'] })
})

test('where no branch is checked out there is a commit alone', async () => {
  write('a.ts', 'a\n')
  git('add', '-A')
  git('commit', '-q', '-m', 'first')
  git('checkout', '-q', '--detach')
  expect(await gitState(root)).toEqual({ branch: null, commit: git('rev-parse', '--short', 'HEAD').trim(), uncommitted: [] })
})

test.each([
  ['line ends that git changes', () => {
    git('config', 'core.autocrlf', 'true')
    rmSync(join(root, 'a.ts'))
    git('checkout', '-q', 'a.ts')
    utimesSync(join(root, 'a.ts'), new Date(), new Date(Date.now() + 9000))
    expect(readFileSync(join(root, 'a.ts'), 'utf8')).toBe('a\r\nb\r\n')
  }, []],
  ['a file that was only touched', () => { utimesSync(join(root, 'a.ts'), new Date(), new Date(Date.now() + 9000)) }, []],
  ['a file that git is told not to look at', () => { git('update-index', '--assume-unchanged', 'a.ts'); write('a.ts', 'x\n') }, []],
  ['a file of the same size, as new as the index', () => { write('a.ts', 'a\nc\n') }, ['a.ts']],
  ['a link in place of a file', () => { rmSync(join(root, 'a.ts')); symlinkSync('deep/b.ts', join(root, 'a.ts')) }, ['a.ts']],
  ['a name with a line break', () => { write('new\nfile.ts', 'x\n') }, ['new\nfile.ts']],
  ['a file that is ignored', () => { write('.gitignore', '*.log\n'); write('x.log', 'x\n') }, ['.gitignore']]
])('%s', async (_, happen, expected) => {
  write('a.ts', 'a\nb\n')
  write('deep/b.ts', 'b\n')
  git('add', '-A')
  git('commit', '-q', '-m', 'first')
  happen()
  expect((await gitState(root))?.uncommitted).toEqual(expected)
  expect(byGit()).toEqual(expected)
})

test('says the same as git after random changes', async () => {
  let seed = 7
  const random = (below: number) => { seed = (seed * 1103515245 + 12345) % 2147483648; return Math.floor((seed / 2147483648) * below) }
  const paths = Array.from({ length: 24 }, (_, index) => `${['', 'src/', 'src/deep/', 'a b/'][index % 4]!}f${index}.ts`)
  for (const path of paths) write(path, `${path}\n`)
  git('add', '-A')
  git('commit', '-q', '-m', 'first')
  const acts: ((path: string) => void)[] = [
    path => write(path, `${random(3)}\n`), path => rmSync(join(root, path), { force: true }), path => write(path, `${path}\n`), path => { try { git('add', path) } catch { /* not there */ } },
    path => { try { chmodSync(join(root, path), 0o644); utimesSync(join(root, path), new Date(), new Date(random(1e12))) } catch { /* not there */ } },
    path => write(`${path}.new.ts`, 'x\n'), path => { try { git('rm', '-q', '--cached', path) } catch { /* not there */ } }, () => git('commit', '-q', '--allow-empty', '-m', 'more')
  ]
  for (let round = 0; round < 60; round++) {
    for (let act = 0; act <= random(4); act++) acts[random(acts.length)]!(paths[random(paths.length)]!)
    const state = await gitState(root)
    expect([round, state?.uncommitted]).toEqual([round, byGit()])
  }
})

test('the commit of a line is told as git blame tells it, and none for lines that are new', () => {
  const lines = Array.from({ length: 12 }, (_, index) => `line ${index}`)
  const text = () => `${lines.join('\n')}\n`
  write('src/a.ts', text())
  git('add', '-A')
  git('commit', '-q', '-m', 'first')
  lines[5] = 'second'
  write('src/a.ts', text())
  git('commit', '-q', '-am', 'second')
  lines.splice(8, 2)
  lines.splice(3, 0, 'new', 'new too')
  lines[0] = 'changed'
  write('src/a.ts', text())
  const expected = git('blame', '--porcelain', '--', 'src/a.ts').split('\n').filter(line => /^[0-9a-f]{40} /.test(line)).map(line => line.slice(0, 40)).map(hash => (/^0+$/.test(hash) ? null : hash))
  const found = readFileSync(join(root, 'src/a.ts'), 'utf8').trimEnd().split('\n').map((_, index) => commitOfLine(root, 'src/a.ts', index + 1)?.hash ?? null)
  expect(found).toEqual(expected)
})
