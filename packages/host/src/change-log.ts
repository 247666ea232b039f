import type { ChangeLog } from '@hollowmoor/core/measure/change-history'
import { askGit } from './git.js'

/** Commits that are looked at, newest first. */
const MOST_COMMITS = 2000

/**
 * Which files of a folder each of the last commits changed, merges left out; null where git knows no commit of it. Paths are from
 * the folder; a file that was renamed counts under the name it has now.
 */
export function changeLog(folder: string, commits = MOST_COMMITS): ChangeLog | null {
  const told = askGit(folder, 'log', ['--no-merges', `-${commits}`, '--relative', '--name-status', '--find-renames', '-z', '--format=%x01%H', '--', '.'])
  if (!told) return null
  const nameNow = new Map<string, string>()
  const changed: string[][] = []
  for (const commit of told.toString().split('\x01').slice(1)) {
    const fields = commit.split('\0').map(field => field.replace(/^\n+/, '')).filter(field => field !== '').slice(1)
    const files: string[] = []
    for (let at = 0; at < fields.length; at++) {
      const status = fields[at]!
      if (/^[RC]\d/.test(status)) {
        const before = fields[++at]!, after = fields[++at]!, now = nameNow.get(after) ?? after
        if (status.startsWith('R')) nameNow.set(before, now)
        files.push(now)
      } else { const path = fields[++at]!; files.push(nameNow.get(path) ?? path) }
    }
    changed.push(files)
  }
  return changed.length === 0 ? null : { commits: changed }
}
