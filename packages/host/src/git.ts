import { execFile, spawnSync } from 'node:child_process'
import { accessSync, constants, existsSync, realpathSync, statSync } from 'node:fs'
import { delimiter, dirname, isAbsolute, join } from 'node:path'

/**
 * The commands of git that are run. None of them reads the contents of a working tree, because that is where git runs the
 * filters of a repository; whoever needs those contents reads and compares the files without git.
 */
export type GitCommand =
  | 'blame' | 'cat-file' | 'check-ref-format' | 'commit-tree' | 'diff-index' | 'hash-object' | 'log' | 'ls-files' | 'ls-tree' | 'merge-base'
  | 'read-tree' | 'rev-parse' | 'show-ref' | 'symbolic-ref' | 'update-index' | 'update-ref' | 'write-tree'

/** How one command ended. */
export interface GitOutcome {
  readonly ok: boolean
  readonly output: Buffer
  /** The end of what git printed as its error. */
  readonly error: string
}

export interface GitOptions {
  readonly input?: string
  /** An index file to use in place of the repository's. */
  readonly indexFile?: string
}

const TIME_LIMIT = 120_000
const LARGEST_OUTPUT = 1 << 30

/**
 * Settings of the command line, which win over every configuration file: those of the repository, of its worktrees, and
 * those that they include. Each names a program that git would otherwise start.
 */
const SETTINGS: Readonly<Record<string, string>> = {
  'safe.bareRepository': 'explicit',
  'core.hooksPath': '/dev/null',
  'core.fsmonitor': 'false',
  'core.untrackedCache': 'false',
  'core.pager': 'cat',
  'core.editor': 'false',
  'core.askPass': '',
  'core.sshCommand': 'false',
  'core.gitProxy': '',
  'core.alternateRefsCommand': '',
  'credential.helper': '',
  'gpg.program': 'false',
  'gpg.openpgp.program': 'false',
  'gpg.ssh.program': 'false',
  'gpg.x509.program': 'false',
  'gpg.ssh.defaultKeyCommand': '',
  'commit.gpgSign': 'false',
  'log.showSignature': 'false',
  'submodule.recurse': 'false',
  'protocol.allow': 'never'
}

/** Options that a command always gets, because no setting switches the same thing off. */
const COMMAND_OPTIONS: Partial<Record<GitCommand, readonly string[]>> = {
  blame: ['--no-textconv'],
  'commit-tree': ['--no-gpg-sign'],
  'diff-index': ['--cached', '--no-ext-diff', '--no-textconv', '--ignore-submodules=all'],
  'hash-object': ['--no-filters'],
  log: ['--no-ext-diff', '--no-textconv', '--no-show-signature']
}

/** Variables of git that stay as the user has set them: who commits, and where the user's own configuration lies. */
const KEPT_VARIABLES = /^GIT_(?:(?:AUTHOR|COMMITTER)_(?:NAME|EMAIL|DATE)|CONFIG_(?:GLOBAL|SYSTEM|NOSYSTEM)|EXEC_PATH)$/

/**
 * The environment of git: variables that would point it to another repository or name a program are taken out, and no
 * protocol is allowed, so that a repository that lacks objects does not fetch them.
 */
export function gitEnvironment(env: NodeJS.ProcessEnv, top: string, indexFile?: string): NodeJS.ProcessEnv {
  const kept = Object.fromEntries(Object.entries(env).filter(([name]) => !name.startsWith('GIT_') || KEPT_VARIABLES.test(name)))
  return {
    ...kept,
    GIT_ALLOW_PROTOCOL: 'none',
    GIT_ASKPASS: '',
    // A `.git` that is no repository must not lead to one further up.
    GIT_CEILING_DIRECTORIES: dirname(top),
    GIT_NO_LAZY_FETCH: '1',
    GIT_OPTIONAL_LOCKS: '0',
    GIT_PAGER: 'cat',
    GIT_TERMINAL_PROMPT: '0',
    LC_ALL: 'C.UTF-8',
    ...(indexFile === undefined ? {} : { GIT_INDEX_FILE: indexFile })
  }
}

/** The full path of git by the search path; entries that are no absolute paths would find a program of the project. */
function findGit(): string | undefined {
  for (const folder of (process.env.PATH ?? '').split(delimiter)) {
    if (!isAbsolute(folder)) continue
    const program = join(folder, process.platform === 'win32' ? 'git.exe' : 'git')
    try {
      accessSync(program, constants.X_OK)
      return program
    } catch {
      // Not in this folder.
    }
  }
  return undefined
}

/**
 * The working tree that a folder lies in: the nearest folder around it that holds `.git`. Null where there is none, or where
 * a folder in between is laid out as a bare repository, which git would take its configuration from.
 */
export function workTreeOf(folder: string): string | null {
  let current: string
  try {
    current = realpathSync(folder)
  } catch {
    return null
  }
  for (;;) {
    if (existsSync(join(current, '.git'))) return current
    if (isLaidOutAsRepository(current)) return null
    const parent = dirname(current)
    if (parent === current) return null
    current = parent
  }
}

function isLaidOutAsRepository(folder: string): boolean {
  const isFolder = (name: string): boolean => statSync(join(folder, name), { throwIfNoEntry: false })?.isDirectory() === true
  return existsSync(join(folder, 'HEAD')) && (isFolder('objects') || existsSync(join(folder, 'commondir')))
}

interface PreparedCommand {
  readonly program: string
  readonly top: string
  readonly args: readonly string[]
}

/** The arguments in full, or null where git is not to be asked at all. */
function prepared(folder: string, command: GitCommand, args: readonly string[]): PreparedCommand | null {
  const top = workTreeOf(folder)
  const program = findGit()
  if (top === null || program === undefined) return null
  const settings = Object.entries(SETTINGS).flatMap(([name, value]) => ['-c', `${name}=${value}`])
  return { program, top, args: ['--no-pager', `--work-tree=${top}`, ...settings, command, ...COMMAND_OPTIONS[command] ?? [], ...args] }
}

const NO_REPOSITORY: GitOutcome = { ok: false, output: Buffer.alloc(0), error: 'not in a git repository' }

function lastLine(text: string): string {
  return text.trim().split('\n').at(-1) ?? ''
}

/** Runs one command in the repository around a folder. Never throws; outside of a repository it fails without running git. */
export function runGit(folder: string, command: GitCommand, args: readonly string[], options: GitOptions = {}): GitOutcome {
  const run = prepared(folder, command, args)
  if (!run) return NO_REPOSITORY
  const env = gitEnvironment(process.env, run.top, options.indexFile)
  const done = spawnSync(run.program, run.args, { cwd: folder, input: options.input ?? '', env, maxBuffer: LARGEST_OUTPUT, timeout: TIME_LIMIT })
  return { ok: done.status === 0, output: done.stdout ?? Buffer.alloc(0), error: lastLine(done.stderr?.toString() ?? '') }
}

/** The same without holding up this thread. */
export function runGitAsync(folder: string, command: GitCommand, args: readonly string[]): Promise<GitOutcome> {
  const run = prepared(folder, command, args)
  if (!run) return Promise.resolve(NO_REPOSITORY)
  const options = { cwd: folder, env: gitEnvironment(process.env, run.top), encoding: 'buffer' as const, maxBuffer: LARGEST_OUTPUT, timeout: TIME_LIMIT }
  return new Promise(resolve => {
    const child = execFile(run.program, run.args, options, (error, stdout, stderr) => {
      resolve({ ok: error === null, output: stdout, error: lastLine(stderr.toString()) })
    })
    child.stdin?.end()
  })
}

/** What a command printed; null where it failed. */
export function askGit(folder: string, command: GitCommand, args: readonly string[], input?: string): Buffer | null {
  const { ok, output } = runGit(folder, command, args, input === undefined ? {} : { input })
  return ok ? output : null
}
