/** Git's own folder, by every name under which a file system may know it, and Hollowmoor's. */
const CLOSED_FOLDER = /^(?:\.git|git~\d+|\.hollowmoor)[. ]*$/i

/** The folder on a path that is never written to, whatever a change says; undefined where there is none. */
export function closedFolderOf(path: string): string | undefined {
  return path.split(/[\\/]/).find(part => CLOSED_FOLDER.test(part))
}
