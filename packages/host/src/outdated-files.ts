import { lstatSync, readFileSync } from 'node:fs'
import { isRefusal } from '@hollowmoor/contract/errors'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import { pathInside } from './project-path.js'

/** Paths of a change's files that are not what it was made from, or cannot be read. Never throws. */
export function outdatedFiles(root: string, changes: readonly FileChange[]): string[] {
  return changes.filter(change => isOutdated(root, change)).map(({ path }) => path)
}

function isOutdated(root: string, { path, before }: FileChange): boolean {
  try {
    const full = pathInside(root, path)
    if (isRefusal(full)) return true
    const stat = lstatSync(full, { throwIfNoEntry: false })
    if (before === null) return stat !== undefined
    return !stat?.isFile() || !readFileSync(full).equals(Buffer.from(before, 'utf8'))
  } catch {
    return true
  }
}
