import type { FileChange } from '../edit/text-edit.js'
import type { Survey } from '../survey.js'

/** What is wrong with some files of a change alone: lines that begin with the path of the file, as far as it is known. */
export type ProblemsWith = (files: readonly FileChange[]) => Promise<readonly string[]>

/**
 * Divides the files of a change into batches of at most `size`, as far as that can be: with each of them on top of those before it,
 * `problemsWith` finds nothing. What has to change at once stays together, however much that is, so one batch means that the change
 * cannot be divided. At most as many questions as there are files, and one a batch more.
 */
export async function batchesOf(changes: readonly FileChange[], size: number, problemsWith: ProblemsWith): Promise<FileChange[][]> {
  const batches: FileChange[][] = []
  let waiting = [...changes]
  const done: FileChange[] = []
  while (waiting.length > 0) {
    const batch = waiting.slice(0, size)
    waiting = waiting.slice(size)
    while (waiting.length > 0) {
      const problems = await problemsWith([...done, ...batch])
      if (problems.length === 0) break
      // What is wrong in a file that changes too is put right by its change; else whatever comes next may be what is missing.
      const wanted = waiting.filter(one => problems.some(problem => problem.startsWith(`${one.path}:`)))
      const more = wanted.length > 0 ? wanted : waiting.slice(0, 1)
      batch.push(...more)
      waiting = waiting.filter(one => !more.includes(one))
    }
    batches.push(batch)
    done.push(...batch)
  }
  return batches
}

/** The files of a change with what others lean on first: new files, then what is used before what uses it. Linear in the dependencies. */
export function usedFirst(changes: readonly FileChange[], { model, dependencies }: Survey): FileChange[] {
  const byPath = new Map(changes.map(one => [one.path, one]))
  const uses = new Map<string, Set<string>>()
  for (const { from, to } of dependencies) {
    const user = model.files[model.types[from]!.file]!.path, used = model.files[model.types[to]!.file]!.path
    if (user === used || !byPath.has(user) || !byPath.has(used)) continue
    const known = uses.get(user)
    if (known) known.add(used)
    else uses.set(user, new Set([used]))
  }
  const ordered: FileChange[] = [], seen = new Set<string>()
  const visit = (path: string): void => {
    if (seen.has(path)) return
    seen.add(path)
    for (const used of [...uses.get(path) ?? []].sort()) visit(used)
    ordered.push(byPath.get(path)!)
  }
  const sorted = [...changes].sort((a, b) => Number(a.before !== null) - Number(b.before !== null) || (a.path < b.path ? -1 : 1))
  for (const { path } of sorted) visit(path)
  return ordered
}
