import type { Stats } from 'node:fs'
import { accessSync, chmodSync, chownSync, constants, copyFileSync, existsSync, linkSync, lstatSync, mkdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import { pathInside } from './project-path.js'
import { withProjectLock } from './project-lock.js'
import { systemRefusal } from './system-error.js'
import type { JournalEntry, WriteOwner } from './write-journal.js'
import { newWriteId, writeDurably, WriteRecord } from './write-journal.js'
import { recoverLocked } from './write-recovery.js'
import { cleanUp, FileChangedMeanwhile, hasLinks, performEntry, rollBack, syncFolders, temporaryPath } from './write-steps.js'

/** Steps of a write, in order; tests end the process at each. */
export type WriteStep = 'locked' | 'journalled' | 'folder' | 'staged' | 'kept' | 'committed' | 'renamed' | 'performed' | 'acknowledged' | 'finished'

export interface WriteOptions {
  /** Whose record has to say that the files were written; it is told of it after a crash, too. */
  readonly owner?: WriteOwner
  /** Puts into the owner's record that the files were written. Where it fails the journal stays, and says so in its place. */
  readonly acknowledge?: (done: Written) => Promise<void>
  /** Folders that go with the change where nothing is left in them. */
  readonly removes?: readonly string[]
  readonly atStep?: (step: WriteStep, path?: string) => void
}

/** What a write did to the files. */
export interface Written {
  readonly written: readonly string[]
  /** Folders that were made for new files, outer ones first. */
  readonly made: readonly string[]
  /** Whether the owner's record says so; otherwise the journal does until it can. */
  readonly isAcknowledged: boolean
}

interface Target {
  readonly change: FileChange
  readonly full: string
  /** The file as it is; null where there is none. */
  readonly stat: Stats | null
}

/**
 * Writes a change to the user's files: all of them or none, and only if each is byte for byte what the change was made
 * from. What is about to be done is written down first, outside of the project. Then the new texts are laid ready beside the
 * files, and the old files kept there by a second name; then the decision is noted; then the files are renamed. A crash before
 * the decision ends with nothing done, a crash after it with everything (`recoverProject`). One process at a time writes to a
 * project.
 */
export function writeChange(root: string, changes: readonly FileChange[], options: WriteOptions = {}): Promise<Written | Refusal> {
  return withProjectLock(root, async () => {
    options.atStep?.('locked')
    const blocked = recoverLocked(root).find(({ outcome }) => outcome === 'stuck')
    if (blocked) return refusal('RECOVERY_BLOCKED', blocked.message, root)
    return writeLocked(root, changes, options)
  })
}

/** The same for whoever holds the project's lock and has recovered it. */
export async function writeLocked(root: string, changes: readonly FileChange[], options: WriteOptions): Promise<Written | Refusal> {
  const targets = targetsOf(root, changes)
  if (isRefusal(targets)) return targets
  const id = newWriteId()
  const makes = foldersToMake(root, targets)
  let record: WriteRecord
  try {
    const entries = targets.map((target, index) => entryOf(target, id, index))
    record = WriteRecord.create({ root, owner: options.owner ?? null, entries, makes, removes: [...options.removes ?? []] }, id)
  } catch (error) {
    return systemRefusal(error, 'Nothing was written, as no journal of it can be kept') ?? writeFailed(error)
  }
  try {
    options.atStep?.('journalled')
    stage(record, targets, options)
    record.markCommitted()
    options.atStep?.('committed')
    for (const entry of record.journal.entries) {
      performEntry(record, entry)
      options.atStep?.('renamed', entry.path)
    }
    assertKeptUnchanged(record)
    syncFolders(record)
    record.markPerformed()
  } catch (error) {
    return takenBack(record, error)
  }
  options.atStep?.('performed')
  const isClean = isCleanedUp(record)
  const done = { written: changes.map(({ path }) => path), made: makes }
  const isAcknowledged = await acknowledged(done, options)
  options.atStep?.('acknowledged')
  if (isAcknowledged && isClean) letGo(record)
  options.atStep?.('finished')
  return { ...done, isAcknowledged }
}

function writeFailed(error: unknown): Refusal {
  return refusal('WRITE_FAILED', `Nothing was written: ${(error as Error).message}`)
}

/** Puts everything back after a failure, and says what came of it. */
function takenBack(record: WriteRecord, cause: unknown): Refusal {
  const told = cause instanceof FileChangedMeanwhile
    ? refusal('FILES_CHANGED', `${cause.path} was saved by another program meanwhile; nothing was written. Survey again and plan the change anew.`, cause.path)
    : systemRefusal(cause, 'Nothing was written') ?? writeFailed(cause)
  try {
    rollBack(record)
    return told
  } catch (error) {
    return refusal('RECOVERY_BLOCKED', `${told.message} Some files could not be put back (${(error as Error).message}); this is tried again with the next survey.`)
  }
}

/** A program that holds a file open may have saved into the old one after the new one took its place. */
function assertKeptUnchanged({ journal: { root, entries } }: WriteRecord): void {
  for (const entry of entries) {
    const kept = temporaryPath(root, entry, 'kept')
    if (kept !== null && !readFileSync(kept).equals(Buffer.from(entry.before!, 'utf8'))) throw new FileChangedMeanwhile(entry.path)
  }
}

async function acknowledged(done: Omit<Written, 'isAcknowledged'>, { acknowledge }: WriteOptions): Promise<boolean> {
  try {
    await acknowledge?.({ ...done, isAcknowledged: true })
    return true
  } catch {
    return false
  }
}

/** Whether nothing is left beside the files; what cannot be removed now is with the next recovery. */
function isCleanedUp(record: WriteRecord): boolean {
  try {
    cleanUp(record)
    record.markCleaned()
    return true
  } catch {
    return false
  }
}

function letGo(record: WriteRecord): void {
  try {
    record.letGo()
  } catch {
    // It stays, and is let go with the next recovery; telling its owner again changes nothing.
  }
}

/** The files of a change, each checked: it is what the change was made from, and it and its folder can be written. */
function targetsOf(root: string, changes: readonly FileChange[]): Target[] | Refusal {
  const targets: Target[] = []
  for (const change of changes) {
    const full = pathInside(root, change.path)
    if (isRefusal(full)) return full
    const differs = differenceFrom(full, change)
    if (differs) return differs
    const closed = writeObstacle(root, full, change)
    if (closed) return closed
    targets.push({ change, full, stat: change.before === null ? null : lstatSync(full) })
  }
  return targets
}

/** Why a file is not what a change was made from; null where it is. */
function differenceFrom(full: string, { path, before }: FileChange): Refusal | null {
  const changed = (how: string) => refusal('FILES_CHANGED', `${path} ${how}; nothing was written. Survey again and plan the change anew.`, path)
  try {
    const stat = lstatSync(full, { throwIfNoEntry: false })
    if (before === null) return stat ? changed('exists already') : null
    if (!stat) return changed('does not exist any more')
    if (stat.isDirectory()) return refusal('NOT_A_FILE', `${path} is a folder now; nothing was written. Move it away, or survey again and plan the change anew.`, path)
    if (!stat.isFile()) return refusal('NOT_A_FILE', `${path} is no ordinary file; nothing was written.`, path)
    return readFileSync(full).equals(Buffer.from(before, 'utf8')) ? null : changed('has changed since the preview was made')
  } catch (error) {
    return systemRefusal(error, `${path} cannot be read, so nothing was written`, path) ?? changed('cannot be read')
  }
}

/** Why a file cannot be written although it is what it should be: found before anything is touched. */
function writeObstacle(root: string, full: string, { path, before }: FileChange): Refusal | null {
  if (before !== null) {
    try {
      accessSync(full, constants.W_OK)
    } catch {
      return refusal('NOT_PERMITTED', `${path} is read-only; nothing was written. Make it writable, or reject this file, and try again.`, path)
    }
  }
  let folder = dirname(full)
  while (!existsSync(folder)) folder = dirname(folder)
  try {
    accessSync(folder, constants.W_OK | constants.X_OK)
    return null
  } catch {
    const name = relative(root, folder) || '.'
    return refusal('NOT_PERMITTED', `The folder ${name} is read-only, so ${path} cannot be written; nothing was. Make the folder writable and try again.`, path)
  }
}

function entryOf({ change, stat }: Target, id: string, index: number): JournalEntry {
  return {
    path: change.path, before: change.before, after: change.after, mode: stat ? stat.mode & 0o7777 : 0o644,
    staged: change.after === null ? null : `.hollowmoor-${id}-${index}.new`,
    kept: change.before === null ? null : `.hollowmoor-${id}-${index}.old`
  }
}

/** Folders that new files need and that are not there, as paths in the project, outer ones first. */
function foldersToMake(root: string, targets: readonly Target[]): string[] {
  const missing = new Set<string>()
  for (const { full } of targets) {
    const own: string[] = []
    for (let folder = dirname(full); !existsSync(folder); folder = dirname(folder)) own.unshift(relative(root, folder))
    for (const folder of own) missing.add(folder)
  }
  return [...missing]
}

/** Makes the folders, lays the new texts ready beside their files, and keeps the old files by a second name. */
function stage(record: WriteRecord, targets: readonly Target[], { atStep }: WriteOptions): void {
  const { root, makes, entries } = record.journal
  for (const folder of makes) {
    mkdirSync(join(root, folder))
    atStep?.('folder', folder)
  }
  entries.forEach((entry, index) => {
    const { full, stat } = targets[index]!
    const staged = temporaryPath(root, entry, 'staged')
    if (staged !== null) {
      writeDurably(staged, entry.after!, entry.mode)
      takeOver(staged, entry.mode, stat)
      atStep?.('staged', entry.path)
    }
    const kept = temporaryPath(root, entry, 'kept')
    if (kept !== null) {
      keep(full, kept)
      atStep?.('kept', entry.path)
    }
  })
  syncFolders(record)
}

/** Gives a staged file the permissions and the owner of the file that it replaces. */
function takeOver(staged: string, mode: number, stat: Stats | null): void {
  chmodSync(staged, mode)
  if (!stat) return
  const own = lstatSync(staged)
  if (own.uid === stat.uid && own.gid === stat.gid) return
  try {
    chownSync(staged, stat.uid, stat.gid)
    chmodSync(staged, mode)
  } catch {
    // Only the superuser gives files away; anyone else's new file is their own.
  }
}

/** A second name for a file; a copy where the file system knows no second names. */
function keep(full: string, kept: string): void {
  try {
    linkSync(full, kept)
  } catch (error) {
    if (hasLinks(error)) throw error
    copyFileSync(full, kept, constants.COPYFILE_EXCL)
  }
}
