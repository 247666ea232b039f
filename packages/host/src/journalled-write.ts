import { createHash } from 'node:crypto'
import {
  chmodSync, closeSync, existsSync, fsyncSync, lstatSync, mkdirSync, openSync, readdirSync, readFileSync, realpathSync, renameSync, rmdirSync, rmSync,
  statSync, unlinkSync, writeFileSync
} from 'node:fs'
import { basename, dirname, isAbsolute, join, normalize, sep } from 'node:path'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'

/** Steps of a write, in order; tests stop the process at each. */
export type WriteStep = 'staged' | 'journalled' | 'renamed' | 'finished'

interface JournalEntry {
  readonly path: string
  /** Where the new text lies ready, or null where the file is to go. */
  readonly staged: string | null
  /** Where the old text is kept, or null where there was none. */
  readonly kept: string | null
}

/** The journal: while it is there, a write was begun and not finished. It is complete or absent, never half. */
interface Journal {
  readonly version: 1
  readonly entries: readonly JournalEntry[]
  readonly madeFolders: readonly string[]
}

const JOURNAL = 'journal.json'

/** The path of a project's file on disk; refused where it would lie outside the project, by its name or by a link. */
export function pathInside(root: string, path: string): string | Refusal {
  const bad = (why: string) => refusal('REQUEST_INVALID', `${path} ${why}; nothing was written.`, path)
  if (path.includes('\0')) return bad('holds a NUL character')
  if (path === '' || isAbsolute(path) || normalize(path).split(sep).includes('..')) return bad('leads out of the project')
  const full = join(root, path)
  let existing = full
  while (!existsSync(existing)) existing = dirname(existing)
  const real = realpathSync(existing)
  if (real !== root && !real.startsWith(root + sep)) return bad('leads out of the project through a link')
  if (existsSync(full) && lstatSync(full).isSymbolicLink()) return bad('is a link')
  return full
}

/**
 * Writes a change to the user's files: all of them or none, and only if each is byte for byte what the change was made
 * from. New texts are staged beside the files first; then the journal is written; then the files are renamed. After a
 * crash `recoverWrites` finishes what the journal says, or clears what was staged before there was one.
 * `journalFolder` must lie on the same disk as the project.
 */
export function writeChange(
  root: string, changes: readonly FileChange[], journalFolder: string, atStep: (step: WriteStep, path?: string) => void = () => undefined
): { written: string[] } | Refusal {
  recoverWrites(root, journalFolder)
  const targets: { change: FileChange; full: string }[] = []
  for (const change of changes) {
    const full = pathInside(root, change.path)
    if (isRefusal(full)) return full
    const differs = differsFrom(full, change.before)
    if (differs) return refusal('FILES_CHANGED', `${change.path} ${differs}; nothing was written. Survey again and plan the change anew.`, change.path)
    targets.push({ change, full })
  }
  const entries: JournalEntry[] = []
  const madeFolders: string[] = []
  try {
    mkdirSync(journalFolder, { recursive: true })
    for (const { change, full } of targets) {
      for (const folder of missingFolders(dirname(full))) { mkdirSync(folder); madeFolders.push(folder) }
      const mark = createHash('sha1').update(change.path).digest('hex').slice(0, 12)
      const staged = change.after === null ? null : join(journalFolder, `${mark}.new`)
      const kept = change.before === null ? null : join(journalFolder, `${mark}.old`)
      if (staged) writeDurably(staged, change.after!, existsSync(full) ? statSync(full).mode & 0o777 : 0o644)
      if (kept) writeDurably(kept, change.before!, statSync(full).mode & 0o777)
      entries.push({ path: change.path, staged: staged && basename(staged), kept: kept && basename(kept) })
    }
    atStep('staged')
    writeDurably(join(journalFolder, `${JOURNAL}.tmp`), JSON.stringify({ version: 1, entries, madeFolders } satisfies Journal), 0o600)
    renameSync(join(journalFolder, `${JOURNAL}.tmp`), join(journalFolder, JOURNAL))
    atStep('journalled')
  } catch (error) {
    clear(journalFolder)
    for (const folder of madeFolders.reverse()) removeEmpty(folder)
    return refusal('WRITE_FAILED', `Nothing was written: ${(error as Error).message}`)
  }
  try {
    for (const entry of entries) {
      perform(root, journalFolder, entry)
      atStep('renamed', entry.path)
    }
  } catch (error) {
    rollBack(root, journalFolder, { version: 1, entries, madeFolders })
    return refusal('WRITE_FAILED', `Nothing was changed; what had been written was put back: ${(error as Error).message}`)
  }
  clear(journalFolder)
  atStep('finished')
  return { written: targets.map(({ change }) => change.path) }
}

/** Finishes a write that a crash interrupted, so that the files are the new ones, or leaves the old ones, whole. Safe to call again. */
export function recoverWrites(root: string, journalFolder: string): 'nothing' | 'finished' | 'put back' {
  const path = join(journalFolder, JOURNAL)
  if (!existsSync(path)) {
    if (existsSync(journalFolder)) clear(journalFolder)
    return 'nothing'
  }
  const journal = JSON.parse(readFileSync(path, 'utf8')) as Journal
  try {
    for (const entry of journal.entries) perform(root, journalFolder, entry)
    clear(journalFolder)
    return 'finished'
  } catch {
    rollBack(root, journalFolder, journal)
    return 'put back'
  }
}

/** Puts one file in place. Done already where its staged text is gone. */
function perform(root: string, journalFolder: string, entry: JournalEntry): void {
  const full = pathInside(root, entry.path)
  if (isRefusal(full)) throw new Error(full.message)
  if (entry.staged === null) { if (existsSync(full)) unlinkSync(full); return }
  const staged = join(journalFolder, entry.staged)
  if (!existsSync(staged)) return
  mkdirSync(dirname(full), { recursive: true })
  renameSync(staged, full)
}

function rollBack(root: string, journalFolder: string, journal: Journal): void {
  for (const entry of journal.entries) {
    const full = pathInside(root, entry.path)
    if (isRefusal(full)) continue
    if (entry.kept === null) { if (existsSync(full)) unlinkSync(full); continue }
    const kept = join(journalFolder, entry.kept)
    if (existsSync(kept)) writeDurably(full, readFileSync(kept, 'utf8'), statSync(kept).mode & 0o777)
  }
  clear(journalFolder)
  for (const folder of [...journal.madeFolders].reverse()) removeEmpty(folder)
}

function clear(journalFolder: string): void {
  // The journal goes first: without it what else lies there means nothing.
  rmSync(join(journalFolder, JOURNAL), { force: true })
  for (const name of readdirSync(journalFolder)) if (/\.(new|old|tmp)$/.test(name)) rmSync(join(journalFolder, name), { force: true })
  removeEmpty(journalFolder)
}

function removeEmpty(folder: string): void {
  try { rmdirSync(folder) } catch { /* something else lies there; it stays */ }
}

function missingFolders(folder: string): string[] {
  const missing: string[] = []
  for (let at = folder; !existsSync(at); at = dirname(at)) missing.unshift(at)
  return missing
}

function writeDurably(path: string, text: string, mode: number): void {
  const handle = openSync(path, 'w', mode)
  try {
    writeFileSync(handle, text)
    fsyncSync(handle)
  } finally {
    closeSync(handle)
  }
  chmodSync(path, mode)
}

/** In words, how a file differs from what a change expects; undefined where it does not. */
/** Paths of a change's files that are not what it was made from. */
export function outdatedFiles(root: string, changes: readonly FileChange[]): string[] {
  return changes.filter(change => { const full = pathInside(root, change.path); return isRefusal(full) || differsFrom(full, change.before) !== undefined }).map(change => change.path)
}

function differsFrom(full: string, before: string | null): string | undefined {
  if (before === null) return existsSync(full) ? 'exists already' : undefined
  if (!existsSync(full)) return 'is gone'
  return readFileSync(full).equals(Buffer.from(before, 'utf8')) ? undefined : 'has changed since the preview was made'
}
