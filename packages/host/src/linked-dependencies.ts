import { copyFileSync, existsSync, lstatSync, mkdirSync, readdirSync, realpathSync, statSync, symlinkSync } from 'node:fs'
import { join, relative, sep } from 'node:path'

/** Caches that tools keep beside the packages; they make them anew, and never in the user's folder. */
const CACHES = new Set(['.cache', '.vite', '.vite-temp', '.vitest', '.tmp'])

/** Where a project is and where its copy is. */
export interface CopiedProject {
  readonly root: string
  readonly copy: string
}

/**
 * Puts links to installed packages into a copy of a project. The folder itself is the copy's own, so that what tools add to
 * it stays there, and packages that are folders of the project lead to their copies.
 */
export function linkDependencies(installed: string, target: string, project: CopiedProject): void {
  mkdirSync(target)
  for (const entry of readdirSync(installed, { withFileTypes: true })) {
    const source = join(installed, entry.name)
    const place = join(target, entry.name)
    if (CACHES.has(entry.name)) continue
    if (entry.isFile()) copyFileSync(source, place)
    else if (entry.name.startsWith('@') && entry.isDirectory()) linkDependencies(source, place, project)
    else symlinkSync(inCopy(source, project) ?? source, place)
  }
}

/** Where a link to a folder of the project leads in the copy; null for whatever else. */
function inCopy(source: string, { root, copy }: CopiedProject): string | null {
  if (!lstatSync(source).isSymbolicLink() || !existsSync(source)) return null
  const real = realpathSync(source)
  if (real !== root && !real.startsWith(root + sep)) return null
  const path = relative(root, real)
  return path.split(sep).includes('node_modules') ? null : join(copy, path)
}

/** Names that `filesChangedSince` lists at most. */
const MOST_LISTED = 50
/** Files looked at before others get their turn. */
const AT_ONCE = 500

/** Files and folders below some folders that were written, made, removed or replaced since a moment, by the time that the system keeps. */
export async function filesChangedSince(folders: readonly string[], since: number): Promise<string[]> {
  const changed: string[] = []
  const open = [...folders]
  for (let looked = 0; open.length > 0 && changed.length < MOST_LISTED; looked++) {
    const path = open.pop()!
    if (looked % AT_ONCE === AT_ONCE - 1) await new Promise(resolve => setImmediate(resolve))
    const stat = lstatSync(path, { throwIfNoEntry: false })
    if (!stat) continue
    if (stat.ctimeMs >= since) changed.push(path)
    if (!stat.isDirectory()) continue
    for (const name of namesIn(path)) open.push(join(path, name))
  }
  // A folder counts as changed because something in it came or went; where that is listed itself, it says more.
  return changed.filter(path => !changed.some(other => other.startsWith(path + sep))).sort()
}

function namesIn(folder: string): string[] {
  try {
    return readdirSync(folder)
  } catch {
    return []
  }
}

/** The folders of installed packages that a folder's links lead to, each once, by their real paths. */
export function realFolders(paths: readonly string[]): string[] {
  return [...new Set(paths.filter(path => statSync(path, { throwIfNoEntry: false })?.isDirectory()).map(path => realpathSync(path)))]
}
