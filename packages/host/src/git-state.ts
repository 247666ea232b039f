import { simpleGit } from 'simple-git'

export interface GitState {
  readonly branch: string | null
  readonly commit: string | null
  /** Files with uncommitted changes, new ones included. */
  readonly uncommitted: readonly string[]
}

/** The state of the git repository around a folder; null where there is none. Hooks are off and nothing is changed. */
export async function gitState(root: string): Promise<GitState | null> {
  try {
    const git = simpleGit({ baseDir: root, config: ['core.hooksPath=/dev/null', 'core.fsmonitor=false'], timeout: { block: 10_000 }, unsafe: { allowUnsafeHooksPath: true, allowUnsafeFsMonitor: true } } as Parameters<typeof simpleGit>[0])
    if (!(await git.checkIsRepo())) return null
    const status = await git.status(['--', '.'])
    const commit = await git.revparse(['--short', 'HEAD']).catch(() => null)
    return { branch: status.current, commit, uncommitted: status.files.map(file => file.path).sort() }
  } catch {
    return null
  }
}
