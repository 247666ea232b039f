import { mkdirSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'
import type { Refusal } from '@hollowmoor/contract/errors'
import { refusal } from '@hollowmoor/contract/errors'
import { HeldLock } from '@hollowmoor/host/held-lock'
import { systemRefusal } from '@hollowmoor/host/system-error'

const AddressSchema = z.strictObject({ address: z.url({ protocol: /^http$/, hostname: /^127\.0\.0\.1$/ }) })

/** The one server of a data folder: it holds a lock that goes with its process, and notes its address beside the database. */
export class DataFolder {
  private constructor(readonly path: string, private readonly lock: HeldLock) {}

  /** Refused with DATA_FOLDER_IN_USE where another server has it; the subject is then that server's address, if it is known. */
  static async take(path: string): Promise<DataFolder | Refusal> {
    try {
      mkdirSync(path, { recursive: true, mode: 0o700 })
      const real = realpathSync(path)
      const lock = await HeldLock.tryAcquire(join(real, 'server.lock'))
      return lock ? new DataFolder(real, lock) : inUse(real)
    } catch (error) {
      return cannotUse(path, error)
    }
  }

  /** Lets others know where the server is. That they cannot be told keeps nothing from working. */
  note(address: string): void {
    try {
      writeFileSync(noteIn(this.path), JSON.stringify({ address }), { mode: 0o600 })
    } catch {
      // The disk may be full.
    }
  }

  async leave(): Promise<void> {
    rmSync(noteIn(this.path), { force: true })
    await this.lock.release()
  }
}

/** Why a data folder cannot be used. */
export function cannotUse(path: string, error: unknown): Refusal {
  const failed = `The data folder ${path} cannot be used`
  return systemRefusal(error, failed, path) ?? refusal('INTERNAL', `${failed}: ${(error as Error).message}`, path)
}

function noteIn(folder: string): string {
  return join(folder, 'server.json')
}

function inUse(folder: string): Refusal {
  const address = addressNoted(folder)
  const where = address === undefined ? 'is starting' : `runs at ${address}`
  const other = 'choose another data folder with --data FOLDER'
  return refusal('DATA_FOLDER_IN_USE', `Hollowmoor ${where} already with the data folder ${folder}. Open that page, or ${other}.`, address)
}

function addressNoted(folder: string): string | undefined {
  try {
    return AddressSchema.parse(JSON.parse(readFileSync(noteIn(folder), 'utf8'))).address
  } catch {
    return undefined
  }
}

const OpenedSchema = z.object({ id: z.int() })

/** Has a server that runs already open a project; the address of its page, or of the server where there is no project to open. */
export async function openInRunning(address: string, folder: string | undefined): Promise<string | Refusal> {
  if (folder === undefined) return address
  try {
    const response = await fetch(new URL('/api/projects', address), {
      method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ path: folder }), signal: AbortSignal.timeout(10_000)
    })
    const answer: unknown = await response.json()
    const opened = OpenedSchema.safeParse(answer)
    if (response.ok && opened.success) return new URL(`/projects/${opened.data.id}`, address).href
    const { message } = z.object({ message: z.string() }).parse(answer)
    return refusal('REQUEST_INVALID', message, folder)
  } catch (error) {
    return refusal('DATA_FOLDER_IN_USE', `The server at ${address} does not answer: ${(error as Error).message}. End it, and try again.`, address)
  }
}
