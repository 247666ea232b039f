import type { Verdict, VerdictCounts } from '../measure/verdict.js'
import { countVerdicts } from '../measure/verdict.js'
import { findingsOf } from '../find/findings.js'
import type { Survey } from '../survey.js'

/** A place where a dependency stands, for those who compare surveys. */
export interface DigestPlace { readonly file: string; readonly line: number }

/** What is kept of a survey so that it can be compared with others: small, plain data. */
export interface SurveyDigest {
  readonly version: 1
  /** Dependencies between product types: ids of both, how many references, and the first place of each file that has one. */
  readonly dependencies: readonly { readonly from: string; readonly to: string; readonly references: number; readonly places: readonly DigestPlace[] }[]
  readonly cycles: readonly { readonly level: 'modules' | 'files' | 'types'; readonly within: string; readonly members: readonly string[]; readonly cost: number }[]
  /** Types with logic. */
  readonly verdicts: Readonly<Record<string, Verdict>>
  readonly modules: readonly { readonly id: string; readonly types: number; readonly lines: number; readonly ca: number; readonly ce: number }[]
  readonly shares: { readonly verdicts: VerdictCounts; readonly welded: number; readonly bolted: number; readonly plugged: number; readonly findings: number; readonly types: number; readonly lines: number; readonly modulesInCycles: number }
}

/** Places that are kept of one dependency. */
const PLACES = 5

/** The digest of a survey. O(references). */
export function digestOf(survey: Survey): SurveyDigest {
  const { model } = survey
  const joints = { welded: 0, bolted: 0, plugged: 0, inert: 0 }
  for (const type of model.types) if (!type.test) for (const joint of survey.joints[type.index]!) joints[joint.kind]++
  const verdicts: Record<string, Verdict> = {}
  for (const type of model.types) { const verdict = survey.verdicts[type.index]; if (verdict) verdicts[type.id] = verdict }
  return {
    version: 1,
    dependencies: survey.dependencies.filter(({ from, to }) => !model.types[from]!.test && !model.types[to]!.test).map(({ from, to, references }) => ({
      from: model.types[from]!.id, to: model.types[to]!.id, references: references.length,
      places: references.slice(0, PLACES).map(at => { const one = model.references.at(at); return { file: model.files[one.file]!.path, line: one.line } })
    })),
    cycles: ([['modules', survey.moduleCycles], ['files', survey.fileCycles], ['types', survey.typeCycles]] as const)
      .flatMap(([level, cycles]) => cycles.map(cycle => ({ level, within: cycle.within, members: [...cycle.members], cost: cycle.cut.references }))),
    verdicts, modules: survey.modules.filter(module => module.types > 0).map(({ id, types, lines, ca, ce }) => ({ id, types, lines, ca, ce })),
    shares: {
      verdicts: countVerdicts(survey.verdicts), welded: joints.welded, bolted: joints.bolted, plugged: joints.plugged, findings: findingsOf(survey).length,
      types: model.types.filter(type => !type.test).length, lines: model.files.filter(file => !file.test).reduce((sum, file) => sum + file.lines, 0), modulesInCycles: survey.moduleCycles.reduce((sum, cycle) => sum + cycle.members.length, 0)
    }
  }
}
