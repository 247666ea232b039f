import { existsSync, lstatSync } from 'node:fs'
import { join } from 'node:path'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal } from '@hollowmoor/contract/errors'
import { withProjectLock } from './project-lock.js'
import type { JournalEntry } from './write-journal.js'
import { writeDurably, WriteRecord } from './write-journal.js'
import { cleanUp, performEntry, rollBack, stateOf, syncFolders, temporaryPath } from './write-steps.js'

/** What became of a write that a crash had interrupted. */
export interface Recovery {
  /** Stuck: the files are left as they are, because going either way would lose what somebody else wrote, or is not permitted. */
  readonly outcome: 'finished' | 'put back' | 'stuck'
  /** For people: what happened to which files, and for one that is stuck what to do. */
  readonly message: string
}

/**
 * Brings every write to a project that a crash interrupted to its end: all files new, or all old. Whoever opens a project
 * does this first, so that it never reads a mixture. Safe to call at any time and again; costs one look at a folder where
 * there is nothing to do.
 */
export async function recoverProject(root: string): Promise<readonly Recovery[] | Refusal> {
  if (WriteRecord.pending(root).records.every(isSettled)) return unreadableJournals(root)
  return withProjectLock(root, async () => [...recoverLocked(root), ...unreadableJournals(root)])
}

/** Whether only the owner has still to hear of a write. */
function isSettled({ stage, journal }: WriteRecord): boolean {
  return stage === 'cleaned' && journal.owner !== null && existsSync(journal.owner.data)
}

/** The same for whoever holds the project's lock. */
export function recoverLocked(root: string): Recovery[] {
  return WriteRecord.pending(root).records.filter(record => !isSettled(record)).map(recovered)
}

function recovered(record: WriteRecord): Recovery {
  const { journal } = record
  const files = journal.entries.length === 1 ? 'of 1 file' : `of ${journal.entries.length} files`
  const name = `${journal.owner?.action === 'undo' ? 'An undo' : 'A write'} ${files} that was interrupted on ${journal.at.slice(0, 16).replace('T', ' at ')}`
  try {
    const forward = record.stage !== 'preparing'
    if (forward && goForward(record)) return { outcome: 'finished', message: `${name} was finished.` }
    const foreign = journal.entries.filter(entry => stateOf(journal.root, entry) === 'other').map(({ path }) => path)
    const doubt = forward ? foreign.find(path => !isStaged(journal.root, journal.entries.find(entry => entry.path === path)!)) : undefined
    if (doubt !== undefined) return { outcome: 'stuck', message: `${name} was left as it is: ${foreign.join(', ')} were edited meanwhile. ${adviceFor(record)}` }
    rollBack(record)
    const left = foreign.length === 0 ? '' : ` ${foreign.join(', ')} ${foreign.length === 1 ? 'was' : 'were'} edited meanwhile and left as edited.`
    return { outcome: 'put back', message: `${name} was taken back; the files are the old ones.${left}` }
  } catch (error) {
    return { outcome: 'stuck', message: `${name} cannot be brought to its end: ${(error as Error).message}. ${adviceFor(record)}` }
  }
}

function adviceFor({ folder }: WriteRecord): string {
  return `Mend that and survey again, or put the files right by hand and delete ${folder}, which keeps the old and the new texts.`
}

function isStaged(root: string, entry: JournalEntry): boolean {
  const staged = temporaryPath(root, entry, 'staged')
  return staged !== null && existsSync(staged)
}

/** Puts all files in place that are not. False where one of them was edited before its new text took its place. */
function goForward(record: WriteRecord): boolean {
  const { root, entries, owner } = record.journal
  if (record.stage === 'committed') {
    const states = entries.map(entry => stateOf(root, entry))
    if (entries.some((entry, index) => states[index] === 'other' && (isStaged(root, entry) || entry.after === null))) return false
    entries.forEach((entry, index) => {
      if (states[index] !== 'before') return
      if (entry.after !== null && !isStaged(root, entry)) writeDurably(temporaryPath(root, entry, 'staged')!, entry.after, entry.mode)
      performEntry(record, entry)
    })
    syncFolders(record)
    record.markPerformed()
  }
  cleanUp(record)
  if (owner === null || !existsSync(owner.data)) record.letGo()
  else record.markCleaned()
  return true
}

/** Journals of ours that the disk has lost the contents of: nothing can be done with them, and nothing is. */
function unreadableJournals(root: string): Recovery[] {
  return WriteRecord.pending(root).unreadable.map(folder => ({
    outcome: 'stuck', message: `The journal in ${folder} cannot be read; a write may have been interrupted. Look at your files, then delete that folder.`
  }))
}

/** What lies in a project in the place where journals once were: never believed, and told. Null where there is nothing. */
export function foreignJournal(root: string): string | null {
  const stat = lstatSync(join(root, '.hollowmoor'), { throwIfNoEntry: false })
  if (!stat) return null
  const path = stat.isDirectory() ? join(root, '.hollowmoor', 'journal.json') : join(root, '.hollowmoor')
  if (!lstatSync(path, { throwIfNoEntry: false })) return null
  return `${path} came with this project; this installation did not write it, so it was left alone. Delete it unless you know what it is for.`
}

/** What a recovery has to tell, or why it could not be tried. */
export function recoveryMessages(recoveries: readonly Recovery[] | Refusal): string[] {
  return isRefusal(recoveries) ? [recoveries.message] : recoveries.map(({ message }) => message)
}
