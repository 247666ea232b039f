import { readFileSync, realpathSync } from 'node:fs'
import { join } from 'node:path'
import { hunksOf } from '@hollowmoor/core/edit/diff'
import type { FileSource, TextOutcome } from '@hollowmoor/core/read/file-source'
import { decodeText, DiskSource } from './disk-source.js'
import { askGit } from './git.js'

/** Larger files are no sources. */
const LARGEST = 2 * 1024 * 1024

export interface CommitInfo { readonly hash: string; readonly at: string; readonly subject: string }

/** A commit by any name that git knows; null where there is none. A name never begins with a dash. */
export function commitOf(folder: string, ref: string): CommitInfo | null {
  if (ref === '' || ref.startsWith('-')) return null
  const told = askGit(folder, 'log', ['-1', '--format=%H%x00%cI%x00%s', `${ref}^{commit}`, '--'])?.toString().trimEnd().split('\0')
  return told && told.length === 3 ? { hash: told[0]!, at: told[1]!, subject: told[2]! } : null
}

/** The last commits that touched a folder, newest first, along the first parents. */
export function lastCommits(folder: string, count: number): CommitInfo[] {
  const told = askGit(folder, 'log', ['--first-parent', `-${count}`, '--format=%H%x00%cI%x00%s', '--', '.'])?.toString() ?? ''
  return told.split('\n').filter(line => line !== '').map(line => { const [hash, at, subject] = line.split('\0'); return { hash: hash!, at: at!, subject: subject ?? '' } })
}

/** Where the branch at hand left another: the commit that both have. */
export function forkPoint(folder: string, ref: string): CommitInfo | null {
  if (ref === '' || ref.startsWith('-')) return null
  const base = askGit(folder, 'merge-base', [ref, 'HEAD'])?.toString().trim()
  return base ? commitOf(folder, base) : null
}

/** The branch that others are made from, by the names that are usual for it; null where there is none or it is the one at hand. */
export function baseBranch(folder: string): string | null {
  const here = askGit(folder, 'rev-parse', ['--abbrev-ref', 'HEAD'])?.toString().trim()
  const named = askGit(folder, 'rev-parse', ['--abbrev-ref', 'origin/HEAD'])?.toString().trim()
  for (const name of [...(named ? [named] : []), 'main', 'master', 'trunk', 'develop']) {
    if (name !== here && name !== `origin/${here}` && commitOf(folder, name)) return name
  }
  return null
}

/**
 * The commit that wrote a line as it stands in the working tree; null for one that is not committed. The committed text is
 * asked for its history, and the line is found in it here: git would run the filters of the repository on the file.
 */
export function commitOfLine(folder: string, file: string, line: number): CommitInfo | null {
  const committed = askGit(folder, 'cat-file', ['blob', `HEAD:./${file}`])?.toString()
  const committedLine = committed === undefined ? null : lineInOlderText(committed, textOf(join(folder, file)), line)
  if (committedLine === null) return null
  const told = askGit(folder, 'blame', ['--porcelain', '-L', `${committedLine},${committedLine}`, 'HEAD', '--', file])?.toString()
  const hash = told?.slice(0, 40) ?? ''
  return hash === '' ? null : commitOf(folder, hash)
}

function textOf(path: string): string | null {
  try {
    return readFileSync(path, 'utf8')
  } catch {
    return null
  }
}

/** The number that a line of a text has in an older text; null where the line is new. Line ends make no difference. */
function lineInOlderText(older: string, newer: string | null, line: number): number | null {
  if (newer === null) return null
  const before = older.replaceAll('\r\n', '\n')
  const after = newer.replaceAll('\r\n', '\n')
  if (before === after) return line
  let shift = 0
  for (const hunk of hunksOf({ path: '', before, after }, 0)) {
    // Of lines that only went, diff names the line before them.
    const start = hunk.newLines === 0 ? hunk.newStart + 1 : hunk.newStart
    if (line < start) break
    if (line < start + hunk.newLines) return null
    shift += hunk.newLines - hunk.oldLines
  }
  return line - shift
}

/**
 * The files of a commit, in place of those in the working tree; what is installed beside them (`node_modules`) and what
 * lies outside the folder is the machine's own. The working tree is neither read for sources nor touched.
 */
export class CommitSource implements FileSource {
  private readonly disk = new DiskSource()
  private readonly blobs = new Map<string, { hash: string; size: number }>()
  private readonly folders = new Map<string, Map<string, 'file' | 'directory'>>()
  private readonly contents = new Map<string, Buffer>()

  private constructor(private readonly root: string) {}

  /** Null where git does not know the commit. */
  static open(folder: string, hash: string): CommitSource | null {
    const source = new CommitSource(realpathSync(folder))
    const tree = askGit(folder, 'ls-tree', ['-r', '-z', '--long', hash, '--', '.'])
    if (!tree) return null
    source.folders.set(source.root, new Map())
    for (const line of tree.toString().split('\0')) {
      const found = /^(\d+) blob ([0-9a-f]+) +(\d+)\t([^]*)$/.exec(line)
      // Links of the repository are not followed.
      if (found && found[1] !== '120000') source.add(`${source.root}/${found[4]}`, found[2]!, Number(found[3]))
    }
    source.load(folder)
    return source
  }

  private add(path: string, hash: string, size: number): void {
    this.blobs.set(path, { hash, size })
    let child: 'file' | 'directory' = 'file'
    for (let at = path; at.length > this.root.length;) {
      const parent = at.slice(0, at.lastIndexOf('/'))
      const known = this.folders.get(parent)
      const names = known ?? new Map<string, 'file' | 'directory'>()
      names.set(at.slice(parent.length + 1), child)
      if (!known) this.folders.set(parent, names)
      child = 'directory'
      at = parent
    }
  }

  /** All sources and build files at once: asking git for each would take longer than reading them. */
  private load(folder: string): void {
    const wanted = [...this.blobs].filter(([path, { size }]) => size <= LARGEST && /\.(?:[cm]?tsx?|[cm]?jsx?|java|json|xml|gradle|kts|properties|vue)$|\/\.gitignore$/.test(path) && !path.includes('/node_modules/'))
    const hashes = [...new Set(wanted.map(([, { hash }]) => hash))]
    const answer = askGit(folder, 'cat-file', ['--batch'], `${hashes.join('\n')}\n`)
    if (!answer) return
    for (let at = 0; at < answer.length;) {
      const end = answer.indexOf(10, at)
      const [hash, , size] = answer.toString('utf8', at, end).split(' ')
      const length = Number(size)
      this.contents.set(hash!, answer.subarray(end + 1, end + 1 + length))
      at = end + 1 + length + 1
    }
  }

  private isOurs(path: string): boolean { return (path === this.root || path.startsWith(`${this.root}/`)) && !path.includes('/node_modules') }

  readText(path: string): TextOutcome {
    if (!this.isOurs(path)) return this.disk.readText(path)
    const blob = this.blobs.get(path)
    const content = blob && this.contents.get(blob.hash)
    return content ? decodeText(content) : { unreadable: blob ? 'too-large' : 'missing' }
  }

  readBytes(path: string): Uint8Array | undefined {
    if (!this.isOurs(path)) return this.disk.readBytes(path)
    const blob = this.blobs.get(path)
    // Archives of libraries that are not in the repository are as they lie there now.
    return blob ? this.contents.get(blob.hash) ?? askGit(this.root, 'cat-file', ['blob', blob.hash]) ?? undefined : this.disk.readBytes(path)
  }

  isFile(path: string): boolean { return this.isOurs(path) ? this.blobs.has(path) : this.disk.isFile(path) }
  isDirectory(path: string): boolean { return this.isOurs(path) ? this.folders.has(path) : this.disk.isDirectory(path) }

  list(path: string): ReturnType<FileSource['list']> {
    if (!this.isOurs(path)) return this.disk.list(path)
    const own = [...(this.folders.get(path) ?? [])].map(([name, kind]) => ({ name, kind }))
    const installed = this.disk.isDirectory(`${path}/node_modules`) ? [{ name: 'node_modules', kind: 'directory' as const }] : []
    return [...own, ...installed].sort((a, b) => (a.name < b.name ? -1 : 1))
  }

  realPath(path: string): string { return this.isOurs(path) ? path : this.disk.realPath(path) }
}
