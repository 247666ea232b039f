import { cyclicComponents } from '../../../graph/components.js'
import type { FileFacts, ReferenceFacts } from '../../../model/facts.js'
import type { Snapshot } from '../session.js'

/**
 * Files that would load each other in a circle through a new file, and did not do so through the file that it comes from: then
 * what one needs of another while it is loaded may not be there yet. Null where there is no such circle. Linear in references.
 */
export function newFileCycle(before: Snapshot, after: Snapshot, from: string, to: string): string[] | null {
  const around = circleOf(after.facts.files, to)
  if (!around) return null
  const old = circleOf(before.facts.files, from)
  // One that was there already stays as harmless as it was unless something now is needed while files are loaded.
  if (old && around.every(path => path === to || old.includes(path))) return neededAtLoad(after.facts.files, new Set(around), to) ? around : null
  return around
}

/** The files that are loaded in a circle with a file; null where there are none. */
export function loadCircle({ facts }: Snapshot, path: string): string[] | null { return circleOf(facts.files, path) }

/** Whether another file of the circle needs the file, or the file another one, while they are loaded. */
function neededAtLoad(files: readonly FileFacts[], circle: ReadonlySet<string>, path: string): boolean {
  const holder = holders(files)
  return files.some(file => circle.has(file.path) && file.references.some(one => {
    const target = holder.get(one.to)
    return target !== undefined && target !== file.path && circle.has(target) && (target === path || file.path === path) && !one.typeOnly && (one.kind === 'extends' || one.inMember === '')
  }))
}

function holders(files: readonly FileFacts[]): Map<string, string> {
  const holder = new Map<string, string>()
  for (const file of files) { holder.set(`${file.path}#`, file.path); for (const type of file.types) holder.set(type.id, file.path) }
  return holder
}

/** The files that are in one circle with a file, by what remains of their references when they run; null where there is none. */
function circleOf(files: readonly FileFacts[], path: string): string[] | null {
  const holder = holders(files), index = new Map(files.map((file, at) => [file.path, at]))
  const arcs: { from: number; to: number; weight: number }[] = []
  files.forEach((file, from) => {
    const seen = new Set<string>()
    for (const one of file.references) {
      const target = loads(one) ? holder.get(one.to) : undefined
      if (target !== undefined && target !== file.path && !seen.has(target)) { seen.add(target); arcs.push({ from, to: index.get(target)!, weight: 1 }) }
    }
  })
  const found = cyclicComponents(files.length, arcs).find(members => members.includes(index.get(path) ?? -1))
  return found ? found.map(at => files[at]!.path) : null
}

function loads(one: ReferenceFacts): boolean { return !one.external && !one.typeOnly && one.kind !== 'imports-only' }
