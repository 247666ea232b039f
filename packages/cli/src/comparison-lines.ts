import type { Comparison } from '@hollowmoor/core/compare/compare'
import { commitOfLine } from '@hollowmoor/host/commit-source'

/** Dependencies of which the commit is told; git is asked for each. */
const BLAMED = 200

/** A comparison in lines for a terminal or a build's log: what came, with its line and commit, and what it opens and ties. */
export function comparisonLines(found: Comparison, root: string): string[] {
  const lines: string[] = []
  for (const cycle of found.opened) lines.push(`opened: cycle of ${cycle.level}: ${cycle.members.join(', ')}${cycle.joined.length < cycle.members.length ? ` (${cycle.joined.join(', ')} came in)` : ''}`)
  for (const cycle of found.closed) lines.push(`closed: cycle of ${cycle.level}: ${cycle.members.join(', ')}`)
  for (const one of found.tied) lines.push(`tied: ${one.type} (${one.before ?? 'new'} -> ${one.after})`)
  for (const one of found.freed) lines.push(`freed: ${one.type} (${one.before} -> ${one.after})`)
  found.come.forEach((one, index) => {
    const [place] = one.places
    const commit = place && index < BLAMED ? commitOfLine(root, place.file, place.line) : null
    lines.push(`added: ${one.from} -> ${one.to}${place ? ` at ${place.file}:${place.line}` : ''}${commit ? ` in ${commit.hash.slice(0, 10)}` : ''}`)
  })
  for (const one of found.gone) lines.push(`gone: ${one.from} -> ${one.to}`)
  return lines.length === 0 ? ['Nothing is different in dependencies, cycles and what can be tested alone.'] : lines
}
