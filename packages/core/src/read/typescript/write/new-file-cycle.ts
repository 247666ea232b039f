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

const circles = new WeakMap<Snapshot, ReadonlySet<string>>()

/** Whether a file is loaded in a circle with others. All files of a state are looked at once. */
export function isInLoadCircle(snapshot: Snapshot, path: string): boolean {
  let inCircle = circles.get(snapshot)
  if (!inCircle) circles.set(snapshot, inCircle = new Set(circlesOf(snapshot.facts.files).flat()))
  return inCircle.has(path)
}

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

/** The files that are in one circle with a file; null where there is none. */
function circleOf(files: readonly FileFacts[], path: string): string[] | null { return circlesOf(files).find(circle => circle.includes(path)) ?? null }

/** Files that load each other in a circle, by what remains of their references when they run. */
function circlesOf(files: readonly FileFacts[]): string[][] {
  const holder = holders(files), index = new Map(files.map((file, at) => [file.path, at]))
  const arcs: { from: number; to: number; weight: number }[] = []
  files.forEach((file, from) => {
    const seen = new Set<string>()
    for (const one of file.references) {
      const target = loads(one) ? holder.get(one.to) : undefined
      if (target !== undefined && target !== file.path && !seen.has(target)) { seen.add(target); arcs.push({ from, to: index.get(target)!, weight: 1 }) }
    }
  })
  return cyclicComponents(files.length, arcs).map(members => members.map(at => files[at]!.path))
}

function loads(one: ReferenceFacts): boolean { return !one.external && !one.typeOnly && one.kind !== 'imports-only' }
