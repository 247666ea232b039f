import { createHash } from 'node:crypto'
import type { BigIntStats } from 'node:fs'
import { lstatSync, readFileSync, readlinkSync, statSync } from 'node:fs'
import { resolve } from 'node:path'
import { runGitAsync, workTreeOf } from './git.js'

export interface GitState {
  /** Null where no branch is checked out. */
  readonly branch: string | null
  readonly commit: string | null
  /** Files with uncommitted changes, new ones included; paths from the top of the repository. */
  readonly uncommitted: readonly string[]
}

/** One entry of the index, with the times and sizes that git noted when it last saw the file unchanged. */
interface IndexEntry {
  readonly path: string
  readonly mode: string
  readonly hash: string
  readonly seconds: bigint
  readonly nanoseconds: bigint
  readonly size: bigint
  /** Whether the user told git not to look at the file, or it is outside of a sparse checkout. */
  readonly isIgnored: boolean
}

const ASSUME_UNCHANGED = 0x8000
const SKIP_WORKTREE = 0x40000000
const LINK = '120000'
const SUBMODULE = '160000'

/**
 * The state of the git repository around a folder; null where there is none. Files are compared with the index here, not by
 * git, which would run the filters of the repository for it. A file that only a filter could compare counts as changed once
 * its time is another than git noted.
 */
export async function gitState(root: string): Promise<GitState | null> {
  const top = workTreeOf(root)
  if (top === null) return null
  const [inside, branch, commit] = await Promise.all([
    runGitAsync(root, 'rev-parse', ['--is-inside-work-tree']),
    runGitAsync(root, 'symbolic-ref', ['--short', '-q', 'HEAD']),
    runGitAsync(root, 'rev-parse', ['--short', '--verify', '-q', 'HEAD'])
  ])
  if (!inside.ok || inside.output.toString().trim() !== 'true') return null
  const text = ({ ok, output }: typeof branch) => (ok ? output.toString().trim() : null)
  return { branch: text(branch), commit: text(commit), uncommitted: await uncommittedFiles(root, top, commit.ok) }
}

async function uncommittedFiles(root: string, top: string, hasCommit: boolean): Promise<string[]> {
  const [staged, index, untracked, indexPath] = await Promise.all([
    hasCommit ? runGitAsync(root, 'diff-index', ['--name-only', '-z', 'HEAD', '--', '.']) : null,
    runGitAsync(root, 'ls-files', ['--full-name', '--stage', '--debug', '-z', '--', '.']),
    runGitAsync(root, 'ls-files', ['--full-name', '--others', '--exclude-standard', '-z', '--', '.']),
    runGitAsync(root, 'rev-parse', ['--git-path', 'index'])
  ])
  const entries = indexEntries(index.output.toString())
  const names = (output: Buffer | undefined) => (output?.toString() ?? '').split('\0').filter(name => name !== '')
  const found = new Set([...names(staged?.output), ...names(untracked.output)])
  if (!hasCommit) for (const { path } of entries) found.add(path)
  const indexTime = timeOf(resolve(root, indexPath.output.toString().trim()))
  for (const entry of entries) if (!found.has(entry.path) && isChanged(`${top}/${entry.path}`, entry, indexTime)) found.add(entry.path)
  return [...found].sort()
}

/** Reads what `ls-files --stage --debug -z` prints: mode, hash, stage and path, then lines with what git noted of the file. */
function indexEntries(printed: string): IndexEntry[] {
  const entry = /(\d{6}) ([0-9a-f]+) (\d)\t([^\0]+)\0((?: {2}[^\n]*\n)*)/g
  return [...printed.matchAll(entry)].map(([, mode, hash, , path, noted]) => {
    const [, seconds = '0', nanoseconds = '0'] = /mtime: (\d+):(\d+)/.exec(noted!) ?? []
    const size = /size: (\d+)/.exec(noted!)?.[1] ?? '0'
    const flags = Number.parseInt(/flags: ([0-9a-f]+)/.exec(noted!)?.[1] ?? '0', 16)
    return {
      path: path!, mode: mode!, hash: hash!, seconds: BigInt(seconds), nanoseconds: BigInt(nanoseconds), size: BigInt(size),
      isIgnored: (flags & ASSUME_UNCHANGED) !== 0 || (flags & SKIP_WORKTREE) !== 0
    }
  })
}

function isChanged(full: string, entry: IndexEntry, indexTime: bigint): boolean {
  if (entry.isIgnored || entry.mode === SUBMODULE) return false
  const stat = lstatSync(full, { bigint: true, throwIfNoEntry: false })
  if (!stat) return true
  if (entry.mode === LINK ? !stat.isSymbolicLink() : !stat.isFile()) return true
  if (isAsNoted(stat, entry) && stat.mtimeNs < indexTime) return false
  try {
    return !hasHash(entry.mode === LINK ? Buffer.from(readlinkSync(full)) : readFileSync(full), entry.hash)
  } catch {
    return true
  }
}

function isAsNoted(stat: BigIntStats, { seconds, nanoseconds, size }: IndexEntry): boolean {
  if ((stat.size & 0xffffffffn) !== size || stat.mtimeNs / 1_000_000_000n !== seconds) return false
  // Some builds of git note whole seconds only.
  return nanoseconds === 0n || stat.mtimeNs % 1_000_000_000n === nanoseconds
}

/** Whether a file's bytes are the blob, as they stand or with the line ends that git stores. */
function hasHash(bytes: Buffer, hash: string): boolean {
  const isBlob = (content: Buffer): boolean => {
    const algorithm = hash.length === 64 ? 'sha256' : 'sha1'
    return createHash(algorithm).update(`blob ${content.length}\0`).update(content).digest('hex') === hash
  }
  if (isBlob(bytes)) return true
  return bytes.includes('\r\n') && isBlob(Buffer.from(bytes.toString('latin1').replaceAll('\r\n', '\n'), 'latin1'))
}

function timeOf(path: string): bigint {
  return statSync(path, { bigint: true, throwIfNoEntry: false })?.mtimeNs ?? 0n
}
