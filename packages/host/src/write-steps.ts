import { existsSync, linkSync, lstatSync, readFileSync, renameSync, rmdirSync, rmSync, unlinkSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { isRefusal } from '@hollowmoor/contract/errors'
import { pathInside } from './project-path.js'
import type { JournalEntry, WriteRecord } from './write-journal.js'
import { syncFolder, writeDurably } from './write-journal.js'

/** Thrown where a file is not what it was when the write began. */
export class FileChangedMeanwhile extends Error {
  constructor(readonly path: string) {
    super(`${path} was changed meanwhile`)
  }
}

/** Which text a file holds: the old one, the new one, or one that somebody else wrote. No file counts as text null. */
export type EntryState = 'before' | 'after' | 'other'

/** The full path of an entry's staged or kept file; null where it has none. */
export function temporaryPath(root: string, entry: JournalEntry, role: 'staged' | 'kept'): string | null {
  const name = entry[role]
  return name === null ? null : join(root, dirname(entry.path), name)
}

/** Throws where the path leads out of the project. */
function fullPath(root: string, path: string): string {
  const full = pathInside(root, path)
  if (isRefusal(full)) throw new Error(full.message)
  return full
}

export function stateOf(root: string, entry: JournalEntry): EntryState {
  const full = fullPath(root, entry.path)
  const stat = lstatSync(full, { throwIfNoEntry: false })
  if (!stat) return entry.before === null ? 'before' : entry.after === null ? 'after' : 'other'
  if (!stat.isFile()) return 'other'
  const bytes = readFileSync(full)
  const holds = (text: string | null) => text !== null && bytes.equals(Buffer.from(text, 'utf8'))
  return holds(entry.after) ? 'after' : holds(entry.before) ? 'before' : 'other'
}

/** Whether an error of making a second name for a file is about this file; false where the file system knows no second names. */
export function hasLinks(error: unknown): boolean {
  return !['EPERM', 'ENOTSUP', 'EOPNOTSUPP', 'EXDEV', 'EMLINK', 'ENOSYS'].includes((error as NodeJS.ErrnoException).code ?? '')
}

/** Puts one file in place. The file is the old one; its new text is laid ready. */
export function performEntry({ journal: { root } }: WriteRecord, entry: JournalEntry): void {
  if (stateOf(root, entry) !== 'before') throw new FileChangedMeanwhile(entry.path)
  const full = fullPath(root, entry.path)
  const staged = temporaryPath(root, entry, 'staged')
  if (staged === null) unlinkSync(full)
  else if (entry.before === null) moveToFreePlace(staged, full)
  else renameSync(staged, full)
}

/** Renames a file to a name that nothing has, not even something that came a moment ago. */
function moveToFreePlace(from: string, to: string): void {
  try {
    linkSync(from, to)
  } catch (error) {
    if (hasLinks(error) || existsSync(to)) throw error
    renameSync(from, to)
    return
  }
  unlinkSync(from)
}

/** Puts one file back that holds the new text. Others are left as they are. */
function restoreEntry(root: string, entry: JournalEntry): void {
  if (stateOf(root, entry) !== 'after') return
  const full = fullPath(root, entry.path)
  if (entry.before === null) {
    unlinkSync(full)
    return
  }
  const kept = temporaryPath(root, entry, 'kept')!
  if (!existsSync(kept)) writeDurably(kept, entry.before, entry.mode)
  if (entry.after === null) moveToFreePlace(kept, full)
  else renameSync(kept, full)
}

/** Leaves nothing of a write: files are the old ones, but for those that somebody else wrote meanwhile. Throws where that fails. */
export function rollBack(record: WriteRecord): void {
  const { root, entries, makes } = record.journal
  record.unmarkCommitted()
  for (const entry of [...entries].reverse()) restoreEntry(root, entry)
  removeTemporaryFiles(record)
  for (const folder of [...makes].reverse()) removeIfEmpty(root, folder)
  syncFolders(record)
  record.letGo()
}

/** The last of a write: what it laid beside the files goes, and the folders that it leaves empty. Safe to do again. */
export function cleanUp(record: WriteRecord): void {
  const { root, removes } = record.journal
  removeTemporaryFiles(record)
  for (const folder of removes) removeIfEmpty(root, folder)
  syncFolders(record)
}

function removeIfEmpty(root: string, folder: string): void {
  const full = pathInside(root, folder)
  if (isRefusal(full)) return
  try {
    rmdirSync(full)
  } catch {
    // Something else lies there, or it went already.
  }
}

/** Takes away what the write laid beside the files; their names are of this write alone. */
function removeTemporaryFiles({ journal: { root, entries } }: WriteRecord): void {
  for (const entry of entries) {
    fullPath(root, entry.path)
    for (const role of ['staged', 'kept'] as const) {
      const path = temporaryPath(root, entry, role)
      if (path !== null) rmSync(path, { force: true })
    }
  }
}

/** Has the disk take the names in all folders of a write. */
export function syncFolders({ journal: { root, entries } }: WriteRecord): void {
  for (const folder of new Set(entries.map(({ path }) => dirname(join(root, path))))) syncFolder(folder)
}
