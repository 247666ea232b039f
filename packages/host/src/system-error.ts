import type { ErrorCode, Refusal } from '@hollowmoor/contract/errors'
import { refusal } from '@hollowmoor/contract/errors'

/** How the codes of the system and of the database are told, and the advice that goes with each. */
const TOLD: Readonly<Record<string, readonly [ErrorCode, string, string]>> = {
  EACCES: ['NOT_PERMITTED', 'you have no permission for it', 'Change its permissions, or those of its folder, and try again'],
  EPERM: ['NOT_PERMITTED', 'the system does not permit it', 'Change its permissions, or those of its folder, and try again'],
  EROFS: ['NOT_PERMITTED', 'the disk is mounted read-only', 'Mount it writable, and try again'],
  ENOSPC: ['DISK_FULL', 'the disk is full', 'Free some space, and try again'],
  EDQUOT: ['DISK_FULL', 'your disk quota is used up', 'Free some space, and try again'],
  EISDIR: ['NOT_A_FILE', 'a folder stands in the place of a file', 'Move the folder away, and try again'],
  ENOTDIR: ['NOT_A_FILE', 'a file stands in the place of a folder', 'Move the file away, and try again'],
  EEXIST: ['NOT_A_FILE', 'something else stands in its place', 'Move that away, and try again'],
  ENAMETOOLONG: ['CHOICE_INVALID', 'the name is too long', 'Choose a shorter one'],
  SQLITE_FULL: ['DISK_FULL', 'the disk of the data folder is full', 'Free some space, and try again'],
  SQLITE_IOERR: ['DISK_FULL', 'the disk of the data folder cannot be written', 'Free some space or mend the disk, and try again'],
  SQLITE_READONLY: ['NOT_PERMITTED', 'the data folder is read-only', 'Make it writable, and try again'],
  SQLITE_CANTOPEN: ['NOT_PERMITTED', 'the database in the data folder cannot be opened', 'Check its permissions, and try again']
}

/** The code of an error of the system or of the database, which may be wrapped in others. */
function codeOf(error: unknown): { readonly code?: string; readonly path?: string } {
  let current = error as { code?: string; path?: string; parent?: unknown; cause?: unknown } | undefined
  for (let depth = 0; current && depth < 5; depth++) {
    if (typeof current.code === 'string' && current.code in TOLD) return { code: current.code, ...(current.path ? { path: current.path } : {}) }
    current = (current.parent ?? current.cause) as typeof current
  }
  return {}
}

/**
 * An error of the system as a refusal: `failed` says in a clause what did not come about ("src/a.ts was not read"), the rest says
 * why and how to go on. Null for an error that is no such one, which is a fault of ours.
 */
export function systemRefusal(error: unknown, failed: string, subject?: string): Refusal | null {
  const { code, path } = codeOf(error)
  if (code === undefined) return null
  const [refused, why, advice] = TOLD[code]!
  return refusal(refused, `${failed}: ${why}${path === undefined || failed.includes(path) ? '' : ` (${path})`}. ${advice}.`, subject ?? path)
}
