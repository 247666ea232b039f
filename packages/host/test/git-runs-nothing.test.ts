import { execFileSync, spawnSync } from 'node:child_process'
import { chmodSync, cpSync, existsSync, mkdirSync, mkdtempSync, renameSync, rmSync, utimesSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { changeLog } from '@hollowmoor/host/change-log'
import { baseBranch, commitOf, commitOfLine, forkPoint, lastCommits } from '@hollowmoor/host/commit-source'
import { surveyCommit } from '@hollowmoor/host/commit-survey'
import { commitToBranch } from '@hollowmoor/host/commit-to-branch'
import { gitState } from '@hollowmoor/host/git-state'
import { OpenProject } from '@hollowmoor/host/open-project'

const BEFORE = 'export class Lamp {}\n'
const AFTER = 'export class Lamp { lit = false }\n'

/** A repository of two commits and a branch, as a stranger might send it; `canary` is what must not appear. */
class StrangersRepository {
  readonly folder = mkdtempSync(join(tmpdir(), 'hollowmoor-stranger-'))
  readonly root = join(this.folder, 'project')
  readonly canary = join(this.folder, 'canary')
  /** A program that leaves the canary, and passes on what it is given, as a filter would. */
  readonly program = join(this.folder, 'program.sh')

  constructor() {
    mkdirSync(join(this.root, 'src'), { recursive: true })
    writeFileSync(this.program, `#!/bin/sh\necho "$0 $*" >> '${this.canary}'\ncat 2>/dev/null\nexit 0\n`)
    chmodSync(this.program, 0o755)
    this.git('init', '-q', '-b', 'main')
    this.git('config', 'user.name', 'Tester')
    this.git('config', 'user.email', 'tester@localhost')
    this.write('src/lamp.ts', BEFORE)
    this.write('src/wick.ts', 'export class Wick {}\n')
    this.git('add', '-A')
    this.git('commit', '-q', '-m', 'first')
    this.git('switch', '-q', '-c', 'topic')
    this.write('src/lamp.ts', `// lit\n${BEFORE}`)
    this.git('commit', '-q', '-a', '-m', 'second')
  }

  git(...args: string[]): string {
    return execFileSync('git', args, { cwd: this.root, encoding: 'utf8', stdio: 'pipe' })
  }

  write(path: string, text: string): void {
    writeFileSync(join(this.root, path), text)
  }

  /** Makes git look at every file's contents again. */
  touch(): void {
    const now = new Date(Date.now() + 5000)
    for (const path of ['src/lamp.ts', 'src/wick.ts']) utimesSync(join(this.root, path), now, now)
  }

  remove(): void {
    rmSync(this.folder, { recursive: true, force: true })
  }
}

type Way = readonly [name: string, prepare: (repository: StrangersRepository) => void, provoke: readonly (readonly string[])[]]

const status: readonly string[] = ['status', '--porcelain']

/** Every way that is known to have git start a program, with a plain command of git's that does so where it is. */
const WAYS: readonly Way[] = [
  ['a clean filter', repository => {
    repository.git('config', 'filter.evil.clean', repository.program)
    repository.write('.gitattributes', '*.ts filter=evil\n')
    repository.touch()
  }, [status]],
  ['a process filter', repository => {
    repository.git('config', 'filter.evil.process', repository.program)
    repository.write('.gitattributes', '*.ts filter=evil\n')
    repository.touch()
  }, [status]],
  ['a filter of the attributes inside .git', repository => {
    repository.git('config', 'filter.evil.clean', repository.program)
    writeFileSync(join(repository.root, '.git/info/attributes'), '* filter=evil\n')
    repository.touch()
  }, [status]],
  ['a filter from an included file', repository => {
    writeFileSync(join(repository.root, '.git/more'), `[filter "evil"]\n\tclean = ${repository.program}\n\tsmudge = ${repository.program}\n`)
    repository.git('config', 'include.path', 'more')
    repository.write('.gitattributes', '*.ts filter=evil\n')
    repository.touch()
  }, [status]],
  ['a filter from the configuration of a worktree', repository => {
    repository.git('config', 'extensions.worktreeConfig', 'true')
    repository.git('config', '--worktree', 'filter.evil.clean', repository.program)
    repository.write('.gitattributes', '*.ts filter=evil\n')
    repository.touch()
  }, [status]],
  ['a filter of a file that was just committed', repository => {
    repository.git('config', 'filter.evil.clean', repository.program)
    repository.write('.gitattributes', '*.ts filter=evil\n')
    // The same size, and as new as the index: git compares contents.
    repository.write('src/wick.ts', 'export class Wisk {}\n')
  }, [status]],
  ['a monitor of files', repository => { repository.git('config', 'core.fsmonitor', repository.program) }, [status]],
  ['hooks', repository => {
    for (const hook of ['post-index-change', 'reference-transaction', 'pre-commit', 'post-commit', 'post-checkout']) {
      cpSync(repository.program, join(repository.root, '.git/hooks', hook))
    }
  }, [['update-ref', 'refs/heads/probe', 'HEAD']]],
  ['hooks in a folder of the configuration', repository => {
    mkdirSync(join(repository.root, 'tools'))
    cpSync(repository.program, join(repository.root, 'tools/reference-transaction'))
    repository.git('config', 'core.hooksPath', 'tools')
  }, [['update-ref', 'refs/heads/probe', 'HEAD']]],
  ['an external diff', repository => {
    repository.git('config', 'diff.external', repository.program)
    repository.write('src/lamp.ts', AFTER)
  }, [['diff']]],
  ['a text conversion', repository => {
    repository.git('config', 'diff.evil.textconv', repository.program)
    repository.git('config', 'diff.evil.command', repository.program)
    repository.write('.gitattributes', '*.ts diff=evil\n')
    repository.write('src/lamp.ts', AFTER)
  }, [['blame', 'src/lamp.ts']]],
  ['a check of signatures', repository => {
    repository.git('config', 'log.showSignature', 'true')
    repository.git('config', 'gpg.program', repository.program)
    repository.git('config', 'gpg.openpgp.program', repository.program)
    const signed = repository.git('cat-file', 'commit', 'HEAD').replace('\n\n', '\ngpgsig -----BEGIN PGP SIGNATURE-----\n \n made up\n -----END PGP SIGNATURE-----\n\n')
    const hash = execFileSync('git', ['hash-object', '-t', 'commit', '-w', '--stdin'], { cwd: repository.root, input: signed, encoding: 'utf8' }).trim()
    repository.git('update-ref', 'refs/heads/topic', hash)
  }, [['log', '-1']]],
  ['signing', repository => {
    repository.git('config', 'commit.gpgSign', 'true')
    repository.git('config', 'user.signingKey', 'key')
    repository.git('config', 'gpg.program', repository.program)
  }, [['commit', '--allow-empty', '-m', 'x']]],
  ['a pager and an editor', repository => {
    for (const name of ['core.pager', 'pager.log', 'pager.blame', 'core.editor', 'sequence.editor']) repository.git('config', name, repository.program)
  }, [['commit', '--allow-empty']]],
  ['a remote that objects are fetched from, by a program', repository => {
    makePromisor(repository, `ext::${repository.program}`)
    repository.git('config', 'protocol.ext.allow', 'always')
  }, [['cat-file', 'blob', `HEAD:src/wick.ts`]]],
  ['a remote that objects are fetched from, by ssh', repository => {
    makePromisor(repository, 'ssh://nobody@localhost/nowhere')
    repository.git('config', 'core.sshCommand', repository.program)
    repository.git('config', 'protocol.ssh.allow', 'always')
  }, [['cat-file', 'blob', `HEAD:src/wick.ts`]]],
  ['a remote of this machine with a program of its own', repository => {
    makePromisor(repository, repository.root)
    repository.git('config', 'remote.origin.uploadpack', repository.program)
    repository.git('config', 'protocol.file.allow', 'always')
  }, [['cat-file', 'blob', `HEAD:src/wick.ts`]]],
  ['a helper for passwords', repository => {
    makePromisor(repository, 'http://127.0.0.1:9/none')
    repository.git('config', 'credential.helper', `!${repository.program}`)
    repository.git('config', 'core.askPass', repository.program)
    repository.git('config', 'protocol.http.allow', 'always')
  }, []],
  ['a submodule with a filter and a monitor', repository => {
    const inner = join(repository.root, 'inner')
    execFileSync('git', ['init', '-q', inner])
    const git = (...args: string[]) => execFileSync('git', ['-c', 'user.name=T', '-c', 'user.email=t@localhost', ...args], { cwd: inner, stdio: 'pipe' })
    writeFileSync(join(inner, 'a.ts'), 'export class A {}\n')
    git('add', '-A')
    git('commit', '-q', '-m', 'inner')
    repository.git('add', 'inner')
    repository.git('commit', '-q', '-m', 'with a submodule')
    git('config', 'core.fsmonitor', repository.program)
    git('config', 'filter.evil.clean', repository.program)
    writeFileSync(join(inner, '.gitattributes'), '* filter=evil\n')
    writeFileSync(join(inner, 'a.ts'), 'export class B {}\n')
  }, [status]],
  ['a folder laid out as a bare repository, checked out as files', repository => {
    repository.git('config', 'core.fsmonitor', repository.program)
    repository.git('config', 'core.bare', 'false')
    repository.git('config', 'core.worktree', '.')
    for (const name of ['HEAD', 'config', 'index', 'objects', 'refs']) renameSync(join(repository.root, '.git', name), join(repository.root, name))
    rmSync(join(repository.root, '.git'), { recursive: true })
  }, [status]],
  ['a bare repository in a folder between the project and its own', repository => {
    const between = join(repository.root, 'src')
    execFileSync('git', ['init', '-q', '--bare', join(repository.folder, 'bare')])
    for (const name of ['HEAD', 'config', 'objects', 'refs']) cpSync(join(repository.folder, 'bare', name), join(between, name), { recursive: true })
    execFileSync('git', ['config', '--file', join(between, 'config'), 'core.bare', 'false'])
    execFileSync('git', ['config', '--file', join(between, 'config'), 'core.worktree', between])
    execFileSync('git', ['config', '--file', join(between, 'config'), 'core.fsmonitor', repository.program])
  }, [['-C', 'src', 'status', '--porcelain']]],
  ['a .git file that leads to a folder of the project', repository => {
    renameSync(join(repository.root, '.git'), join(repository.root, 'settings'))
    repository.write('.git', 'gitdir: settings\n')
    repository.git('config', 'core.fsmonitor', repository.program)
  }, [status]],
  ['a program called git in the project', repository => {
    cpSync(repository.program, join(repository.root, 'git'))
    cpSync(repository.program, join(repository.root, 'src', 'git'))
  }, []]
]

/** A partial clone that lacks a blob. */
function makePromisor(repository: StrangersRepository, url: string): void {
  const blob = repository.git('rev-parse', 'HEAD:src/wick.ts').trim()
  repository.git('config', 'core.repositoryFormatVersion', '1')
  repository.git('config', 'extensions.partialClone', 'origin')
  repository.git('config', 'remote.origin.url', url)
  repository.git('config', 'remote.origin.promisor', 'true')
  rmSync(join(repository.root, '.git/objects', blob.slice(0, 2), blob.slice(2)))
}

/** Everything that Hollowmoor asks git for, by what it is asked for. */
const OPERATIONS: readonly (readonly [string, (root: string) => unknown])[] = [
  ['open and survey', async root => (await OpenProject.open(root))],
  ['state', root => gitState(root)],
  ['history', async root => { for (const { hash } of lastCommits(root, 5)) await surveyCommit(root, hash, DEFAULT_SETTINGS) }],
  ['change log', root => changeLog(root)],
  ['branch', root => [baseBranch(root), forkPoint(root, 'main'), commitOf(root, 'HEAD')]],
  ['blame', root => commitOfLine(root, 'src/lamp.ts', 1)],
  ['commit to a branch', root => commitToBranch(root, 'made', [{ title: 'Light it', notes: [], changes: [{ path: 'src/lamp.ts', before: `// lit\n${BEFORE}`, after: AFTER }] }])]
]

describe.each(WAYS)('%s', (_, prepare, provoke) => {
  let repository: StrangersRepository
  const path = process.env.PATH
  beforeEach(() => {
    repository = new StrangersRepository()
    prepare(repository)
  })
  afterEach(() => {
    process.env.PATH = path
    repository.remove()
  })

  test('runs nothing, whatever is asked', async () => {
    // Who has `.` on their search path would find a program of the project.
    process.env.PATH = `.:${path}`
    for (const root of [repository.root, join(repository.root, 'src')]) {
      for (const [name, operation] of OPERATIONS) {
        await operation(root)
        expect([name, existsSync(repository.canary)]).toEqual([name, false])
      }
    }
  })

  // So that the test above can fail: git as it is does run it.
  for (const command of provoke) test(`would run with git ${command.join(' ')}`, () => {
    spawnSync('git', [...command], { cwd: repository.root, env: { ...process.env, GIT_EDITOR: undefined, EDITOR: undefined }, input: '', timeout: 5000, killSignal: 'SIGKILL' })
    expect(existsSync(repository.canary)).toBe(true)
  })
})

test('all calls of git go through one module', () => {
  const found = spawnSync('grep', ['-rlE', `(spawn|spawnSync|exec|execFile|execFileSync|execSync)\\([^)]*git|simple-git`, 'packages', '--include=*.ts', '--exclude-dir=node_modules', '--exclude-dir=dist', '--exclude-dir=test', '--exclude=*.test.ts'], { encoding: 'utf8' })
  expect(found.stdout.trim()).toBe('')
  const callers = spawnSync('grep', ['-rl', 'node:child_process', 'packages', '--include=*.ts', '--exclude-dir=node_modules', '--exclude-dir=dist', '--exclude-dir=test', '--exclude=*.test.ts'], { encoding: 'utf8' })
  const expected = ['effect/typescript.ts', 'git.ts', 'java-compiler.ts', 'marked-processes.ts', 'run-command.ts']
  expect(callers.stdout.trim().split('\n').map(file => file.replace(/^.*\/src\//, '')).sort()).toEqual(expected)
})
