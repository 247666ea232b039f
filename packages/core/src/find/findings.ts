import { compareText } from '../model/order.js'
import type { Survey } from '../survey.js'
import { findCrowdedConstructors, findFeatureEnvy, findOutsideAmongLogic, findSeveralResponsibilities, findTypeSwitches } from './classes.js'
import { findCycles } from './cycles.js'
import type { Finder, Finding } from './finding.js'
import { FINDING_KINDS, plural } from './finding.js'
import { findLogicInFrameworkClasses } from './framework-logic.js'
import { findAlwaysTogether, findLessStable, findLibraries, findRepeatedSetup } from './groups.js'
import { findFatInterfaces, findRefusedMembers, findSameShape } from './interfaces.js'
import { findHiddenState, findStatics, findWelded } from './outside.js'

/** Cycles last: their cuts may still be looked for elsewhere. */
const FINDERS: readonly Finder[] = [
  findStatics, findWelded, findLogicInFrameworkClasses, findCrowdedConstructors, findFatInterfaces, findRefusedMembers, findTypeSwitches, findLibraries, findAlwaysTogether,
  findSeveralResponsibilities, findOutsideAmongLogic, findSameShape, findFeatureEnvy, findHiddenState, findLessStable, findRepeatedSetup, findCycles
]

const known = new WeakMap<Survey, readonly Finding[]>()

/** All that was found in a survey, most freed for least cost first; found once. */
export function findingsOf(survey: Survey): readonly Finding[] {
  let findings = known.get(survey)
  if (!findings) {
    findings = FINDERS.flatMap(find => [...find(survey)]).sort((a, b) => worthOf(b) - worthOf(a) || FINDING_KINDS.indexOf(a.kind) - FINDING_KINDS.indexOf(b.kind) || compareText(a.id, b.id))
    known.set(survey, findings)
  }
  return findings
}

/** A module freed weighs as much as five types freed, and a type as much as four clients spared. */
const MODULE = 20, TYPE = 4, CLIENT = 1
/** Opening another file costs as much as two references, another step as much as three. */
const FILE = 2, STEP = 3

/** What a finding frees for what it costs. */
export function worthOf({ frees, cost }: Finding): number {
  return (MODULE * frees.modules + TYPE * frees.types + CLIENT * frees.clients) / (cost.references + FILE * cost.files + STEP * cost.steps)
}

/** Why a finding stands where it does, in one sentence. */
export function explainRank(finding: Finding): string {
  const { frees, cost } = finding
  const freed = [frees.modules > 0 ? plural(frees.modules, 'module') : '', frees.types > 0 ? plural(frees.types, 'type') : '', frees.clients > 0 ? plural(frees.clients, 'client') : ''].filter(text => text !== '')
  return `It frees ${freed.join(' and ') || 'nothing that is counted'} (a module counts ${MODULE}, a type ${TYPE}, a client ${CLIENT}) for ${plural(cost.references, 'reference')} in ${plural(cost.files, 'file')} and ${plural(cost.steps, 'step')} ` +
    `(a file counts ${FILE}, a step ${STEP}): ${worthOf(finding).toFixed(2)}.`
}
