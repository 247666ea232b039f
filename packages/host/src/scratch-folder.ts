import { chmodSync, lstatSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { randomBytes } from 'node:crypto'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { z } from 'zod'
import { HeldLock } from './held-lock.js'
import { endProcessesWith } from './marked-processes.js'
import { madeStateFolder, stateFolder } from './state-folder.js'

/** The variable by which processes are known that were started for a scratch folder; its value is the folder's id. */
export const SCRATCH_VARIABLE = 'HOLLOWMOOR_SCRATCH'

/** Which folder belongs to a scratch id. It is noted before the folder is made, so that none is ever forgotten. */
const NoteSchema = z.strictObject({ folder: z.string() })

/**
 * A folder among the temporary ones that goes when it is not needed any more, and with it every process that was started for
 * it. Where the process that made it ends without removing it, the next one that starts does (`removeLeftScratchFolders`).
 */
export class ScratchFolder {
  private constructor(readonly id: string, readonly folder: string, private readonly note: string, private readonly lock: HeldLock) {}

  /** `purpose` becomes part of the folder's name. Throws where the folder cannot be made. */
  static async create(purpose: string): Promise<ScratchFolder> {
    const id = randomBytes(16).toString('hex')
    const note = madeStateFolder('scratch', id)
    const lock = await HeldLock.tryAcquire(join(note, 'lock'))
    if (!lock) throw new Error(`${note} is in use`)
    try {
      const folder = join(tmpdir(), `hollowmoor-${purpose}-${id}`)
      writeFileSync(join(note, 'note.json'), JSON.stringify({ folder }), { mode: 0o600 })
      mkdirSync(folder, { mode: 0o700 })
      return new ScratchFolder(id, folder, note, lock)
    } catch (error) {
      await lock.release()
      rmSync(note, { recursive: true, force: true })
      throw error
    }
  }

  /** What a process that works in this folder gets in its environment, so that it can be ended with it. */
  get environment(): Record<string, string> {
    return { [SCRATCH_VARIABLE]: this.id }
  }

  async remove(): Promise<void> {
    await endProcessesWith(SCRATCH_VARIABLE, this.id)
    removeTree(this.folder)
    await this.lock.release()
    rmSync(this.note, { recursive: true, force: true })
  }
}

/**
 * Removes scratch folders of processes that ended without doing so, and ends what they had started. Only
 * folders of this user go that bear the id under which they were noted. Returns how many there were.
 */
export async function removeLeftScratchFolders(): Promise<number> {
  const all = join(stateFolder(), 'scratch')
  let removed = 0
  for (const id of idsIn(all)) {
    const note = join(all, id)
    const lock = await HeldLock.tryAcquire(join(note, 'lock')).catch(() => null)
    if (!lock) continue
    await endProcessesWith(SCRATCH_VARIABLE, id)
    if (removeNoted(note, id)) removed++
    await lock.release()
    rmSync(note, { recursive: true, force: true })
  }
  return removed
}

function idsIn(folder: string): string[] {
  try {
    return readdirSync(folder).filter(name => /^[0-9a-f]{32}$/.test(name))
  } catch {
    return []
  }
}

function removeNoted(note: string, id: string): boolean {
  try {
    const { folder } = NoteSchema.parse(JSON.parse(readFileSync(join(note, 'note.json'), 'utf8')))
    const { uid } = lstatSync(note)
    const stat = lstatSync(folder)
    if (!folder.endsWith(`-${id}`) || !stat.isDirectory() || stat.uid !== uid) return false
    removeTree(folder)
    return true
  } catch {
    // It went already, or was never made.
    return false
  }
}

/** Removes a folder with all that is in it; links are not followed. Folders that somebody closed are opened first. */
function removeTree(folder: string): void {
  try {
    rmSync(folder, { recursive: true, force: true, maxRetries: 3 })
  } catch {
    openFolders(folder)
    rmSync(folder, { recursive: true, force: true, maxRetries: 3 })
  }
}

function openFolders(folder: string): void {
  chmodSync(folder, 0o700)
  for (const entry of readdirSync(folder, { withFileTypes: true })) if (entry.isDirectory()) openFolders(join(folder, entry.name))
}
