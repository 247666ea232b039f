import { lstatSync, readFileSync } from 'node:fs'
import { applyPatch, structuredPatch } from 'diff'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import type { WriteOptions, Written } from './journalled-write.js'
import { writeChange } from './journalled-write.js'
import { pathInside } from './project-path.js'
import { systemRefusal } from './system-error.js'

/**
 * Takes a written change back. Files that are as they were written become what they were; in files that were edited
 * elsewhere since, only the written lines are taken back. Where the same lines were edited, nothing is changed. Of folders
 * only those that the write made go (`made`), where nothing else lies in them.
 */
export async function undoChange(
  root: string, written: readonly FileChange[], made: readonly string[], options: WriteOptions = {}
): Promise<Written | Refusal> {
  const back: FileChange[] = []
  for (const change of written) {
    const reversed = reversedChange(root, change)
    if (isRefusal(reversed)) return reversed
    if (reversed) back.push(reversed)
  }
  return writeChange(root, back, { ...options, removes: [...made].reverse() })
}

/** What takes one file back; null where it is as it was before. */
function reversedChange(root: string, change: FileChange): FileChange | Refusal | null {
  const now = presentText(root, change.path)
  if (isRefusal(now)) return now
  if (now === change.before) return null
  if (now === change.after) return { path: change.path, before: now, after: change.before }
  const conflict = refusal('UNDO_CONFLICT', `${change.path} was edited at the same lines since; nothing was undone. Take those edits back first, or undo by hand.`, change.path)
  if (now === null || change.before === null || change.after === null) return conflict
  const patch = structuredPatch(change.path, change.path, change.after, change.before, '', '', { context: 3 })
  const merged = applyPatch(now, patch, { fuzzFactor: 0 })
  return merged === false ? conflict : { path: change.path, before: now, after: merged }
}

/** The text of a file; null where there is none. */
function presentText(root: string, path: string): string | null | Refusal {
  const full = pathInside(root, path)
  if (isRefusal(full)) return full
  try {
    const stat = lstatSync(full, { throwIfNoEntry: false })
    if (!stat) return null
    if (stat.isDirectory()) return refusal('NOT_A_FILE', `${path} is a folder now; nothing was undone. Move it away and try again.`, path)
    return stat.isFile() ? readFileSync(full, 'utf8') : refusal('NOT_A_FILE', `${path} is no ordinary file; nothing was undone.`, path)
  } catch (error) {
    const told = systemRefusal(error, `${path} cannot be read, so nothing was undone`, path)
    if (told) return told
    throw error
  }
}
