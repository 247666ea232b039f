import { existsSync, readdirSync, readFileSync, rmdirSync } from 'node:fs'
import { dirname } from 'node:path'
import { applyPatch, structuredPatch } from 'diff'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import { pathInside, writeChange } from './journalled-write.js'

/**
 * Takes a written change back. Files that are as they were written become what they were; in files that were edited
 * elsewhere since, only the written lines are taken back. Where the same lines were edited, nothing is changed.
 */
export function undoChange(root: string, written: readonly FileChange[], journalFolder: string): { written: string[] } | Refusal {
  const back: FileChange[] = []
  for (const change of written) {
    const full = pathInside(root, change.path)
    if (isRefusal(full)) return full
    const now = existsSync(full) ? readFileSync(full, 'utf8') : null
    if (now === change.before) continue
    if (now === change.after) { back.push({ path: change.path, before: now, after: change.before }); continue }
    const conflict = refusal('UNDO_CONFLICT', `${change.path} was edited at the same lines since; nothing was undone. Take those edits back first, or undo by hand.`, change.path)
    if (now === null || change.before === null || change.after === null) return conflict
    const merged = applyPatch(now, structuredPatch(change.path, change.path, change.after, change.before, '', '', { context: 3 }), { fuzzFactor: 0 })
    if (merged === false) return conflict
    back.push({ path: change.path, before: now, after: merged })
  }
  const outcome = writeChange(root, back, journalFolder)
  if (!isRefusal(outcome)) for (const { path, after } of back) if (after === null) removeEmptyFolders(root, path)
  return outcome
}

/** Folders that were made for a file that is gone again go with it, as far as nothing else lies in them. */
function removeEmptyFolders(root: string, path: string): void {
  for (let folder = dirname(path); folder !== '.'; folder = dirname(folder)) {
    const full = pathInside(root, folder)
    if (isRefusal(full) || !existsSync(full) || readdirSync(full).length > 0) return
    rmdirSync(full)
  }
}
