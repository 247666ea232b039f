import { findingsOf } from '../find/findings.js'
import type { Survey } from '../survey.js'

/** Tables as comma-separated values (RFC 4180). Cells that a spreadsheet would run as a formula are set in quotes with an apostrophe before. */
export function csvOf(header: readonly string[], rows: Iterable<readonly (string | number | null)[]>): string {
  const cell = (value: string | number | null): string => {
    if (value === null) return ''
    if (typeof value === 'number') return String(value)
    const safe = /^[=+\-@\t\r]/.test(value) ? `'${value}` : value
    return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe
  }
  const lines = [header.map(cell).join(',')]
  for (const row of rows) lines.push(row.map(cell).join(','))
  return `${lines.join('\r\n')}\r\n`
}

export const CSV_TABLES = ['types', 'modules', 'findings', 'dependencies', 'cycles'] as const
export type CsvTable = (typeof CSV_TABLES)[number]

export function tableAsCsv(survey: Survey, table: CsvTable): string {
  const { model } = survey
  switch (table) {
    case 'types': return csvOf(['id', 'name', 'kind', 'module', 'file', 'line', 'lines', 'test', 'fanIn', 'fanOut', 'welded', 'bolted', 'plugged', 'inert', 'verdict'], model.types.map(type => {
      const count = (kind: string) => survey.joints[type.index]!.filter(joint => joint.kind === kind).length
      return [type.id, type.name, type.kind, type.module, model.files[type.file]!.path, type.line, type.lines, type.test ? 'yes' : 'no', survey.fanIn[type.index]!, survey.fanOut[type.index]!, count('welded'), count('bolted'), count('plugged'), count('inert'), survey.verdicts[type.index] ?? '']
    }))
    case 'modules': return csvOf(['id', 'types', 'lines', 'ca', 'ce', 'instability', 'abstractness', 'distance'], survey.modules.map(({ id, types, lines, ca, ce, instability, abstractness, distance }) => [id, types, lines, ca, ce, instability, abstractness, distance]))
    case 'findings': return csvOf(['kind', 'subject', 'sentence', 'file', 'line', 'references', 'files', 'steps', 'modulesFreed', 'typesFreed', 'clientsFreed', 'remedies'], findingsOf(survey).map(({ kind, subject, sentence, evidence: [first], cost, frees, remedies }) =>
      [kind, subject, sentence, first ? model.files[first.file]!.path : '', first?.line ?? null, cost.references, cost.files, cost.steps, frees.modules, frees.types, frees.clients, remedies.join(' ')]))
    case 'dependencies': return csvOf(['from', 'to', 'references', 'file', 'line'], survey.dependencies.map(({ from, to, references }) => {
      const { file, line } = model.references.at(references[0]!)
      return [model.types[from]!.id, model.types[to]!.id, references.length, model.files[file]!.path, line]
    }))
    case 'cycles': return csvOf(['level', 'within', 'size', 'members', 'references', 'references at least', 'at run time', 'cut'], ([['modules', survey.moduleCycles], ['files', survey.fileCycles], ['types', survey.typeCycles]] as const)
      .flatMap(([level, cycles]) => cycles.map(({ within, members, atRunTime, cut }) => [level, within, members.length, members.join(' '), cut.references, cut.lowerBound, atRunTime ? 'yes' : 'no', cut.dependencies.map(one => `${one.from} > ${one.to}`).join('; ')])))
  }
}
