import { lstatSync, realpathSync } from 'node:fs'
import { dirname, isAbsolute, join, normalize, sep } from 'node:path'
import type { Refusal } from '@hollowmoor/contract/errors'
import { refusal } from '@hollowmoor/contract/errors'
import { closedFolderOf } from '@hollowmoor/core/edit/closed-folders'
import { systemRefusal } from './system-error.js'

const CONTROL_CHARACTER = /[\u0000-\u001f\u007f]/

/**
 * The path of a project's file on disk; refused where it would lie outside the project, by its name or by a link, in a folder
 * of git, or where a link stands in its place, dangling or not.
 */
export function pathInside(root: string, path: string): string | Refusal {
  const bad = (code: 'REQUEST_INVALID' | 'PATH_NOT_ALLOWED', why: string) => {
    return refusal(code, `${JSON.stringify(path).slice(1, -1)} ${why}; nothing was written.`, path)
  }
  if (CONTROL_CHARACTER.test(path)) return bad('REQUEST_INVALID', 'holds a control character')
  const parts = normalize(path).split(sep)
  if (path === '' || isAbsolute(path) || parts.includes('..')) return bad('REQUEST_INVALID', 'leads out of the project')
  const closed = closedFolderOf(path)
  if (closed !== undefined) return bad('PATH_NOT_ALLOWED', `lies in ${closed}, which Hollowmoor never writes to`)
  const full = join(root, path)
  let existing = full
  try {
    while (!exists(existing)) existing = dirname(existing)
  } catch (error) {
    return systemRefusal(error, `${path} cannot be reached, so nothing was written`, path) ?? bad('REQUEST_INVALID', 'cannot be reached')
  }
  if (existing === full && lstatSync(full).isSymbolicLink()) return bad('REQUEST_INVALID', 'is a link')
  let real: string
  try {
    real = realpathSync(existing)
  } catch {
    return bad('REQUEST_INVALID', 'leads through a link to nowhere')
  }
  if (real !== root && !real.startsWith(root + sep)) return bad('REQUEST_INVALID', 'leads out of the project through a link')
  return full
}

/** Whether anything stands at a path; a link counts, wherever it leads. */
function exists(path: string): boolean {
  try {
    return lstatSync(path, { throwIfNoEntry: false }) !== undefined
  } catch (error) {
    // A file stands where a folder would have to be: what is below it does not exist.
    if ((error as NodeJS.ErrnoException).code === 'ENOTDIR') return false
    throw error
  }
}
