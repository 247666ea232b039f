import { join } from 'node:path'
import type { Refusal } from '@hollowmoor/contract/errors'
import { refusal } from '@hollowmoor/contract/errors'
import { HeldLock } from './held-lock.js'
import { madeStateFolder, projectKey, stateFolder } from './state-folder.js'
import { systemRefusal } from './system-error.js'

/** So long another process may take for its write. */
const PATIENCE = 15_000

/** Does something as the only one, among all processes of this user, that writes to a project. */
export async function withProjectLock<Result>(root: string, action: () => Promise<Result>): Promise<Result | Refusal> {
  let lock: HeldLock | null
  try {
    lock = await HeldLock.acquire(join(madeStateFolder('writes', projectKey(root)), 'lock'), PATIENCE)
  } catch (error) {
    const failed = `Nothing was written, as no journal can be kept in ${stateFolder()}`
    return systemRefusal(error, failed) ?? refusal('WRITE_FAILED', `${failed}: ${(error as Error).message}`)
  }
  if (!lock) return refusal('PROJECT_BUSY', `Another Hollowmoor process is writing to ${root}; wait until it is done, and try again.`, root)
  try {
    return await action()
  } finally {
    await lock.release()
  }
}
