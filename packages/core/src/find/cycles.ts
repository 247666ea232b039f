import type { Cycle } from '../measure/cycles.js'
import type { Survey } from '../survey.js'
import type { Finder, Finding, FindingKind } from './finding.js'
import { atReference, filesOf, listed, plural } from './finding.js'

/** Cycles among modules, files and types, each with the references of its best cut. */
export const findCycles: Finder = survey => [
  ...survey.moduleCycles.map(cycle => finding(survey, cycle, 'module-cycle', 'modules')),
  ...survey.fileCycles.map(cycle => finding(survey, cycle, 'file-cycle', 'files')),
  ...survey.typeCycles.map(cycle => finding(survey, cycle, 'class-cycle', 'types'))
]

function finding(survey: Survey, cycle: Cycle, kind: FindingKind, level: 'modules' | 'files' | 'types'): Finding {
  // Files and types by their own names; the places tell where they are.
  const label = (id: string): string => {
    if (level === 'types') return survey.model.types[survey.model.typeIndex.get(id) ?? -1]?.name ?? id
    if (level === 'files') return id.slice(id.lastIndexOf('/') + 1)
    return cycle.within !== '.' && id.startsWith(`${cycle.within}/`) ? id.slice(cycle.within.length + 1) : id
  }
  const evidence = cycle.cut.dependencies.flatMap(one => one.references.map(at => atReference(survey, at, `${label(one.from)} uses ${label(one.to)}`)))
  const cuts = cycle.cut.dependencies.map(one => `${label(one.from)} → ${label(one.to)}`)
  return {
    kind, id: `${kind}:${cycle.within}:${cycle.members[0]}`, subject: `${level}:${cycle.within}:${cycle.members[0]}`, about: 'cycle',
    sentence: `${listed(cycle.members.map(label))} go round in a circle${cycle.atRunTime ? '' : ', in types only'}; ${plural(cycle.cut.references, 'reference')} from ${listed(cuts, 2)} ${cycle.cut.references === 1 ? 'is' : 'are'} enough to open it.`,
    evidence, remedies: ['extract-interface', 'turn-dependency-round', 'move-type'],
    cost: { references: cycle.cut.references, files: filesOf(evidence), steps: cycle.cut.dependencies.length },
    frees: { modules: level === 'modules' ? cycle.members.length : 0, types: 0, clients: level === 'modules' ? 0 : cycle.members.length }
  }
}
