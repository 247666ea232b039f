import { closeSync, existsSync, fsyncSync, openSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { randomBytes } from 'node:crypto'
import { join } from 'node:path'
import { z } from 'zod'
import { madeStateFolder, projectKey, stateFolder } from './state-folder.js'

/** The name of a file that a write stages beside a project's own: the id of the write, the number of the file, its role. */
const temporaryName = z.string().regex(/^\.hollowmoor-[0-9a-f]{32}-\d+\.(?:new|old)$/)

const JournalSchema = z.strictObject({
  version: z.literal(2),
  id: z.string().regex(/^[0-9a-f]{32}$/),
  /** The real path of the project. */
  root: z.string(),
  at: z.string(),
  /** Whose record has to say what became of the write: a change in the database of a data folder. Null for the command line. */
  owner: z.strictObject({ data: z.string(), change: z.int(), action: z.enum(['write', 'undo']) }).nullable(),
  entries: z.array(z.strictObject({
    path: z.string(),
    /** Null where there is no file before, or none after. */
    before: z.string().nullable(),
    after: z.string().nullable(),
    /** Permissions of the new file. */
    mode: z.int(),
    /** Where the new text is laid ready, and where the old file is kept meanwhile: names beside the file. */
    staged: temporaryName.nullable(),
    kept: temporaryName.nullable()
  })),
  /** Folders that the write makes, outer ones first. */
  makes: z.array(z.string()),
  /** Folders that go with it where nothing is left in them, inner ones first. */
  removes: z.array(z.string())
})

/** What a write is about to do, written down before it does any of it. */
export type Journal = z.infer<typeof JournalSchema>
export type JournalEntry = Journal['entries'][number]
export type WriteOwner = NonNullable<Journal['owner']>

/**
 * How far a write has come: its texts are being laid ready, it is decided that they go in place, they are in place, or what was
 * laid beside the files is gone, too.
 */
export type Stage = 'preparing' | 'committed' | 'performed' | 'cleaned'

const JOURNAL = 'journal.json'
const COMMITTED = 'committed'
const PERFORMED = 'performed'
const CLEANED = 'cleaned'

/** The folder in which the writes to a project are kept, and its lock. Null where nothing was ever written to it. */
export function writesFolder(root: string): string {
  return join(stateFolder(), 'writes', projectKey(root))
}

/** A write that is under way or was left by a crash, with the folder that keeps it. */
export class WriteRecord {
  private constructor(readonly folder: string, readonly journal: Journal) {}

  /** Writes a journal down for good. Throws where it cannot be; nothing is left then. */
  static create(content: Omit<Journal, 'version' | 'id' | 'at'>, id: string): WriteRecord {
    const folder = madeStateFolder('writes', projectKey(content.root), id)
    const journal: Journal = { version: 2, id, at: new Date().toISOString(), ...content }
    try {
      writeDurably(join(folder, `${JOURNAL}.tmp`), JSON.stringify(journal), 0o600)
      renameSync(join(folder, `${JOURNAL}.tmp`), join(folder, JOURNAL))
      syncFolder(folder)
      syncFolder(join(folder, '..'))
    } catch (error) {
      rmSync(folder, { recursive: true, force: true })
      throw error
    }
    return new WriteRecord(folder, journal)
  }

  /** The writes to a project that have not been let go, oldest first, and the folders whose journals cannot be read. */
  static pending(root: string): { readonly records: WriteRecord[]; readonly unreadable: string[] } {
    return pendingIn(writesFolder(root), root)
  }

  /** The writes of all projects that a data folder has to hear of. */
  static ownedBy(data: string): WriteRecord[] {
    const all = join(stateFolder(), 'writes')
    const records = existsSync(all) ? readdirSync(all).flatMap(key => pendingIn(join(all, key), null).records) : []
    return records.filter(({ journal }) => journal.owner?.data === data)
  }

  /** Null where the folder holds no journal that this installation wrote whole. */
  static read(folder: string, root: string | null): WriteRecord | null {
    try {
      const parsed = JournalSchema.safeParse(JSON.parse(readFileSync(join(folder, JOURNAL), 'utf8')))
      if (!parsed.success || (root !== null && parsed.data.root !== root) || !folder.endsWith(parsed.data.id)) return null
      return new WriteRecord(folder, parsed.data)
    } catch {
      return null
    }
  }

  /** Whether all files are the new ones, so that the owner has to hear of it. */
  get isPerformed(): boolean {
    return existsSync(join(this.folder, PERFORMED))
  }

  get stage(): Stage {
    if (existsSync(join(this.folder, CLEANED))) return 'cleaned'
    if (this.isPerformed) return 'performed'
    return existsSync(join(this.folder, COMMITTED)) ? 'committed' : 'preparing'
  }

  /** From here on a crash ends with the write done; before, with nothing done. */
  markCommitted(): void {
    this.mark(COMMITTED)
  }

  /** Takes the decision back, so that a crash ends with nothing done. */
  unmarkCommitted(): void {
    rmSync(join(this.folder, COMMITTED), { force: true })
    syncFolder(this.folder)
  }

  /** The files are the new ones; what is left is that the owner hears of it. */
  markPerformed(): void {
    this.mark(PERFORMED)
  }

  /** Nothing is left to do on the files. */
  markCleaned(): void {
    this.mark(CLEANED)
  }

  private mark(name: string): void {
    try {
      writeDurably(join(this.folder, name), '', 0o600)
      syncFolder(this.folder)
    } catch (error) {
      rmSync(join(this.folder, name), { force: true })
      throw error
    }
  }

  /** Forgets the write. The journal goes first: without it the rest means nothing. */
  letGo(): void {
    rmSync(join(this.folder, JOURNAL), { force: true })
    rmSync(this.folder, { recursive: true, force: true })
  }
}

function pendingIn(folder: string, root: string | null): { records: WriteRecord[]; unreadable: string[] } {
  const names = existsSync(folder) ? readdirSync(folder).filter(name => /^[0-9a-f]{32}$/.test(name)) : []
  const records: WriteRecord[] = []
  const unreadable: string[] = []
  for (const name of names) {
    const record = WriteRecord.read(join(folder, name), root)
    if (record) records.push(record)
    else if (existsSync(join(folder, name, JOURNAL))) unreadable.push(join(folder, name))
    // Without a journal nothing was begun.
    else if (isOld(join(folder, name))) rmSync(join(folder, name), { recursive: true, force: true })
  }
  return { records: records.sort((a, b) => (a.journal.at < b.journal.at ? -1 : 1)), unreadable }
}

/** Whether nobody can be writing the journal of this folder any more. */
function isOld(folder: string): boolean {
  const stat = statSync(folder, { throwIfNoEntry: false })
  return stat !== undefined && Date.now() - stat.mtimeMs > 60_000
}

/** An id that no other write has. */
export function newWriteId(): string {
  return randomBytes(16).toString('hex')
}

/** Writes a new file and has the disk take it. Throws where there is one already. */
export function writeDurably(path: string, text: string, mode: number): void {
  const handle = openSync(path, 'wx', mode)
  try {
    writeFileSync(handle, text)
    fsyncSync(handle)
  } finally {
    closeSync(handle)
  }
}

/** Has the disk take the names in a folder, where the system knows how. */
export function syncFolder(folder: string): void {
  let handle: number
  try {
    handle = openSync(folder, 'r')
  } catch {
    return
  }
  try {
    fsyncSync(handle)
  } catch {
    // Some file systems have no such thing.
  } finally {
    closeSync(handle)
  }
}
