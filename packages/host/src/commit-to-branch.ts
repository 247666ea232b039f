import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Refusal } from '@hollowmoor/contract/errors'
import { refusal } from '@hollowmoor/contract/errors'
import type { CommitPlan } from '@hollowmoor/core/edit/patch-series'
import { commitMessage } from '@hollowmoor/core/edit/patch-series'

/** Keeps git from running anything of the repository's own, filters included. */
const SAFE = ['-c', 'core.hooksPath=/dev/null', '-c', 'core.fsmonitor=false', '-c', 'protocol.allow=never']

/** A branch that was made, with its commits, first one first. */
export interface NewBranch { readonly branch: string; readonly commits: readonly string[] }

/**
 * Makes a new branch from the commit at hand, with one commit for each plan. Neither the working tree nor the index nor the
 * branch at hand is touched: the commits are put together in an index of their own. Refused where the branch exists, or where a
 * file is not in the commit as the change was planned on it.
 */
export function commitToBranch(root: string, branch: string, plans: readonly CommitPlan[]): NewBranch | Refusal {
  const scratch = mkdtempSync(join(tmpdir(), 'hollowmoor-index-'))
  const env = { ...process.env, GIT_INDEX_FILE: join(scratch, 'index'), GIT_TERMINAL_PROMPT: '0', GIT_OPTIONAL_LOCKS: '0' }
  const git = (args: readonly string[], input?: string): { ok: boolean; out: string; error: string } => {
    const done = spawnSync('git', [...SAFE, ...args], { cwd: root, input, env, encoding: 'utf8', maxBuffer: 1 << 28, timeout: 60_000 })
    return { ok: done.status === 0, out: done.stdout ?? '', error: (done.stderr ?? '').trim() }
  }
  try {
    const head = git(['rev-parse', '--verify', 'HEAD^{commit}'])
    if (!head.ok) return refusal('GIT_STATE', 'There is no commit here to make a branch from.')
    if (branch.startsWith('-') || !git(['check-ref-format', '--branch', branch]).ok) return refusal('CHOICE_INVALID', `${branch} is no name that a branch can have.`)
    if (git(['show-ref', '--verify', '--quiet', `refs/heads/${branch}`]).ok) return refusal('GIT_STATE', `There is a branch ${branch} already; choose another name.`)
    const prefix = git(['rev-parse', '--show-prefix']).out.trimEnd()
    if (!git(['read-tree', 'HEAD']).ok) return refusal('GIT_STATE', 'The commit at hand cannot be read.')
    const expected = new Map<string, string | null>()
    for (const { path, before } of plans.flatMap(plan => plan.changes)) {
      if (!expected.has(path)) {
        const stored = git(['cat-file', 'blob', `HEAD:${prefix}${path}`])
        expected.set(path, stored.ok ? stored.out : null)
        if ((stored.ok ? stored.out : null) !== before) return refusal('GIT_STATE', `${path} is not committed as it is in your files; commit it first, or write to your files instead.`, path)
      }
    }
    let parent = head.out.trim()
    const commits: string[] = []
    for (const plan of plans) {
      for (const { path, after } of plan.changes) {
        const full = `${prefix}${path}`
        if (after === null) {
          if (!git(['update-index', '--force-remove', '--', path]).ok) return refusal('GIT_STATE', `${path} could not be taken away.`, path)
          continue
        }
        const mode = /^(\d{6}) /.exec(git(['ls-files', '-s', '--full-name', '--', `:/${full}`]).out)?.[1] ?? '100644'
        const blob = git(['hash-object', '-w', '--no-filters', '--stdin'], after)
        if (!blob.ok || !git(['update-index', '--add', '--cacheinfo', `${mode},${blob.out.trim()},${full}`]).ok) return refusal('GIT_STATE', `${path} could not be stored: ${blob.error}`, path)
      }
      const tree = git(['write-tree'])
      const commit = tree.ok ? git(['commit-tree', tree.out.trim(), '-p', parent, '-F', '-'], commitMessage(plan)) : tree
      if (!commit.ok) return refusal('GIT_STATE', `git could not make the commit: ${commit.error.split('\n').slice(-1)[0] ?? ''}`)
      commits.push(parent = commit.out.trim())
    }
    const made = git(['update-ref', `refs/heads/${branch}`, parent, '0'.repeat(40)])
    return made.ok ? { branch, commits } : refusal('GIT_STATE', `The branch could not be made: ${made.error}`)
  } finally {
    rmSync(scratch, { recursive: true, force: true })
  }
}
