import { findingsOf } from '@hollowmoor/core/find/findings'
import { countVerdicts } from '@hollowmoor/core/measure/verdict'
import type { Survey } from '@hollowmoor/core/survey'

/** A survey in a few lines for a terminal. */
export function readableSummary(survey: Survey): string {
  const { model } = survey
  const product = model.types.filter(type => !type.test)
  // Most findings need no cycles, whose cuts other threads look for meanwhile.
  const findings = findingsOf(survey)
  const lines = [
    `${product.length} types in ${survey.modules.length} modules, ${model.files.reduce((sum, file) => sum + file.lines, 0)} lines in ${model.files.length} files.`
  ]
  if (survey.notInstalled.length > 0) {
    lines.push(`Dependencies are not installed (${survey.notInstalled.slice(0, 5).join(', ')}${survey.notInstalled.length > 5 ? `, and ${survey.notInstalled.length - 5} more` : ''}); much does not resolve.`)
  }
  if (model.unresolved.length > 0) lines.push(`${model.unresolved.length} names were not understood.`)
  if (survey.unreadFiles.length > 0) lines.push(`${survey.unreadFiles.length} files are of kinds that are not read (such as ${survey.unreadFiles[0]}).`)
  for (const problem of model.problems.slice(0, 10)) lines.push(`${problem.file}:${problem.line}: ${problem.message}`)
  if (model.problems.length > 10) lines.push(`... and ${model.problems.length - 10} more problems`)
  lines.push('')
  for (const [name, cycles] of [['module', survey.moduleCycles], ['file', survey.fileCycles], ['type', survey.typeCycles]] as const) {
    lines.push(`${cycles.length === 0 ? 'No' : cycles.length} ${name} ${cycles.length === 1 ? 'cycle' : 'cycles'}${cycles.length === 0 ? '.' : ':'}`)
    for (const cycle of cycles.slice(0, 10)) {
      const members = cycle.members.length > 6 ? `${cycle.members.slice(0, 5).join(', ')} and ${cycle.members.length - 5} more` : cycle.members.join(', ')
      const proven = cycle.cut.references === cycle.cut.lowerBound ? 'proven least' : `at least ${cycle.cut.lowerBound}`
      lines.push(`  ${members}`, `    cut ${cycle.cut.references} references (${proven}): ${cycle.cut.dependencies.slice(0, 4).map(one => `${one.from} -> ${one.to}`).join(', ')}${cycle.cut.dependencies.length > 4 ? ', ...' : ''}${cycle.atRunTime ? '' : '; in types only'}`)
    }
  }
  const shares = countVerdicts(survey.verdicts)
  lines.push('', `Of the types with logic ${shares.alone} can be tested alone, ${shares['with-real-classes']} with real classes; ${shares['needs-outside']} need the outside, ${shares['not-known']} are not known.`)
  if (findings.length > 0) lines.push('', `${findings.length} places are worth changing, those first that free most for least:`)
  for (const { kind, sentence, evidence: [first] } of findings.slice(0, 8)) lines.push(`  ${kind}: ${sentence}`, ...(first ? [`    ${model.files[first.file]!.path}:${first.line}`] : []))
  const worst = [...product].sort((a, b) => weldsOf(survey, b.index) - weldsOf(survey, a.index) || (a.id < b.id ? -1 : 1)).filter(type => weldsOf(survey, type.index) > 0).slice(0, 8)
  if (worst.length > 0) {
    lines.push('', 'Most welded:')
    for (const type of worst) lines.push(`  ${String(weldsOf(survey, type.index)).padStart(3)} welded  ${type.id}:${type.line}`)
  }
  return lines.join('\n') + '\n'
}

function weldsOf(survey: Survey, type: number): number {
  return survey.joints[type]!.filter(joint => joint.kind === 'welded').length
}
