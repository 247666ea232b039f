import { createHash } from 'node:crypto'
import { chmodSync, mkdirSync } from 'node:fs'
import { homedir } from 'node:os'
import { join } from 'node:path'

/**
 * Where this installation keeps what has to survive a crash: the journals of writes, and which scratch folders there are. It
 * is one folder for each user, whatever data folder a server uses, so that every process finds what another left. It never
 * lies in a project: what lies there is somebody else's.
 */
export function stateFolder(): string {
  return process.env.HOLLOWMOOR_STATE ?? join(process.env.XDG_STATE_HOME ?? join(homedir(), '.local', 'state'), 'hollowmoor')
}

/** Makes a folder below the state folder that only this user can look into; its path. Throws where it cannot be made. */
export function madeStateFolder(...names: readonly string[]): string {
  const folder = join(stateFolder(), ...names)
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  chmodSync(stateFolder(), 0o700)
  return folder
}

/** The name under which something of a project is kept, from its real path. */
export function projectKey(root: string): string {
  return createHash('sha256').update(root).digest('hex').slice(0, 32)
}
