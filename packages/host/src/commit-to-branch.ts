import { join } from 'node:path'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import type { CommitPlan } from '@hollowmoor/core/edit/patch-series'
import { commitMessage } from '@hollowmoor/core/edit/patch-series'
import type { GitCommand, GitOutcome } from './git.js'
import { runGit } from './git.js'
import { pathInside } from './project-path.js'
import { ScratchFolder } from './scratch-folder.js'
import { systemRefusal } from './system-error.js'

/** A branch that was made, with its commits, first one first. */
export interface NewBranch {
  readonly branch: string
  readonly commits: readonly string[]
}

/** Asks git with an index of its own. */
type AskGit = (command: GitCommand, args: readonly string[], input?: string) => GitOutcome

/**
 * Makes a new branch from the commit at hand, with one commit for each plan. Neither the working tree nor the index nor the
 * branch at hand is touched: the commits are put together in an index of their own, and the branch is there at once or not at
 * all. Refused where the branch exists, or where a file is not in the commit as the change was planned on it.
 */
export async function commitToBranch(root: string, branch: string, plans: readonly CommitPlan[]): Promise<NewBranch | Refusal> {
  for (const { path } of plans.flatMap(plan => plan.changes)) {
    const full = pathInside(root, path)
    if (isRefusal(full)) return full
  }
  let scratch: ScratchFolder
  try {
    scratch = await ScratchFolder.create('index')
  } catch (error) {
    const told = systemRefusal(error, 'The branch was not made, as git needs a temporary index')
    if (told) return told
    throw error
  }
  const indexFile = join(scratch.folder, 'index')
  const ask: AskGit = (command, args, input) => runGit(root, command, args, { indexFile, ...(input === undefined ? {} : { input }) })
  try {
    return makeBranch(ask, branch, plans)
  } finally {
    await scratch.remove()
  }
}

function makeBranch(ask: AskGit, branch: string, plans: readonly CommitPlan[]): NewBranch | Refusal {
  const head = ask('rev-parse', ['--verify', 'HEAD^{commit}'])
  if (!head.ok) return refusal('GIT_STATE', 'There is no commit here to make a branch from.')
  const named = nameObstacle(ask, branch)
  if (named) return named
  const prefix = ask('rev-parse', ['--show-prefix']).output.toString().trimEnd()
  if (!ask('read-tree', ['HEAD']).ok) return refusal('GIT_STATE', 'The commit at hand cannot be read.')
  const uncommitted = firstUncommitted(ask, prefix, plans)
  if (uncommitted !== undefined) {
    return refusal('GIT_STATE', `${uncommitted} is not committed as it is in your files; commit it first, or write to your files instead.`, uncommitted)
  }
  let parent = head.output.toString().trim()
  const commits: string[] = []
  for (const plan of plans) {
    const failed = stagePlan(ask, prefix, plan)
    if (failed) return failed
    const tree = ask('write-tree', [])
    const commit = tree.ok ? ask('commit-tree', [tree.output.toString().trim(), '-p', parent, '-F', '-'], commitMessage(plan)) : tree
    if (!commit.ok) return refusal('GIT_STATE', `git could not make the commit: ${commit.error}`)
    commits.push(parent = commit.output.toString().trim())
  }
  const made = ask('update-ref', [`refs/heads/${branch}`, parent, '0'.repeat(parent.length)])
  return made.ok ? { branch, commits } : refusal('GIT_STATE', `The branch could not be made: ${made.error}`)
}

function nameObstacle(ask: AskGit, branch: string): Refusal | null {
  if (branch.startsWith('-') || !ask('check-ref-format', ['--branch', branch]).ok) {
    return refusal('CHOICE_INVALID', `${branch} is no name that a branch can have.`)
  }
  if (!ask('show-ref', ['--verify', '--quiet', `refs/heads/${branch}`]).ok) return null
  return refusal('GIT_STATE', `There is a branch ${branch} already; choose another name.`)
}

/** The first file that the commit holds otherwise than the plans were made on. */
function firstUncommitted(ask: AskGit, prefix: string, plans: readonly CommitPlan[]): string | undefined {
  const seen = new Set<string>()
  for (const { path, before } of plans.flatMap(plan => plan.changes)) {
    if (seen.has(path)) continue
    seen.add(path)
    const stored = ask('cat-file', ['blob', `HEAD:${prefix}${path}`])
    if ((stored.ok ? stored.output.toString() : null) !== before) return path
  }
  return undefined
}

/** Puts the files of a plan into the index. */
function stagePlan(ask: AskGit, prefix: string, plan: CommitPlan): Refusal | null {
  for (const { path, after } of plan.changes) {
    const full = `${prefix}${path}`
    if (after === null) {
      if (!ask('update-index', ['--force-remove', '--', path]).ok) return refusal('GIT_STATE', `${path} could not be taken away.`, path)
      continue
    }
    const listed = ask('ls-files', ['-s', '--full-name', '--', `:(top,literal)${full}`]).output.toString()
    const mode = /^(\d{6}) /.exec(listed)?.[1] ?? '100644'
    const blob = ask('hash-object', ['-w', '--stdin'], after)
    const stored = blob.ok ? ask('update-index', ['--add', '--cacheinfo', `${mode},${blob.output.toString().trim()},${full}`]) : blob
    if (!stored.ok) return refusal('GIT_STATE', `${path} could not be stored: ${stored.error}`, path)
  }
  return null
}
