import { createHash } from 'node:crypto'
import type { EvidenceView, FindingRow, FindingView } from '@hollowmoor/contract/views'
import { labelOf } from '@hollowmoor/contract/labels'
import type { Evidence, Finding } from '@hollowmoor/core/find/finding'
import { explainRank, findingsOf, worthOf } from '@hollowmoor/core/find/findings'
import type { Survey } from '@hollowmoor/core/survey'

/** Gives the text of a file as it was surveyed. */
export type TextOf = (path: string) => string | undefined

/** Evidence that is shown; the rest is counted in the cost. */
const SHOWN = 200

const rowsBySurvey = new WeakMap<Survey, { readonly rows: readonly FindingRow[]; readonly byType: ReadonlyMap<string, readonly FindingRow[]> }>()

function rowsOf(survey: Survey, textOf: TextOf) {
  let known = rowsBySurvey.get(survey)
  if (!known) {
    const lines = linesReader(textOf)
    const rows = findingsOf(survey).map(finding => findingRow(survey, finding, lines))
    const byType = new Map<string, FindingRow[]>()
    for (const row of rows) if (row.about === 'type') { const list = byType.get(row.subject); if (list) list.push(row); else byType.set(row.subject, [row]) }
    rowsBySurvey.set(survey, known = { rows, byType })
  }
  return known
}

/** All findings in their order. Nothing is known here of what was set aside. */
export function findingRows(survey: Survey, textOf: TextOf): readonly FindingRow[] { return rowsOf(survey, textOf).rows }

export function findingView(survey: Survey, id: string, textOf: TextOf): FindingView | null {
  const at = findingsOf(survey).findIndex(one => one.id === id)
  return at < 0 ? null : viewAt(survey, at, textOf, linesReader(textOf))
}

/** Every finding with its evidence, one after the other. */
export function* findingViews(survey: Survey, textOf: TextOf): Generator<FindingView> {
  const lines = linesReader(textOf)
  for (let at = 0; at < findingsOf(survey).length; at++) yield viewAt(survey, at, textOf, lines)
}

function viewAt(survey: Survey, at: number, textOf: TextOf, lines: Lines): FindingView {
  return { ...rowsOf(survey, textOf).rows[at]!, evidence: findingsOf(survey)[at]!.evidence.slice(0, SHOWN).map(one => evidenceView(survey, one, lines)) }
}

/** The findings about one type. */
export function findingsAbout(survey: Survey, type: string, textOf: TextOf): readonly FindingRow[] { return rowsOf(survey, textOf).byType.get(type) ?? [] }

type Lines = (path: string) => readonly string[]

function linesReader(textOf: TextOf): Lines {
  const known = new Map<string, readonly string[]>()
  return path => {
    let lines = known.get(path)
    if (!lines) known.set(path, lines = (textOf(path) ?? '').split(/\r?\n/))
    return lines
  }
}

function findingRow(survey: Survey, finding: Finding, lines: Lines): FindingRow {
  const { id, kind, subject, about, sentence, remedies, cost, frees } = finding
  const index = survey.model.typeIndex.get(subject)
  const type = index === undefined ? undefined : survey.model.types[index]
  return {
    id, kind, subject, about, sentence, remedies, cost, frees, worth: worthOf(finding), rank: explainRank(finding), name: type?.name ?? labelOf(subject), module: type?.module ?? (about === 'module' ? subject : ''),
    digest: digestOf(survey, finding, lines), setAside: null, cameBack: false
  }
}

/** A hash of what the finding says and of the lines that it is about, wherever in their files they stand now. */
function digestOf(survey: Survey, finding: Finding, lines: Lines): string {
  const hash = createHash('sha1').update(finding.sentence)
  for (const { file, line } of finding.evidence) { const path = survey.model.files[file]!.path; hash.update(`\0${path}\0${(lines(path)[line - 1] ?? '').trim()}`) }
  return hash.digest('hex').slice(0, 16)
}

export function evidenceView(survey: Survey, { what, file, line, column, length }: Evidence, lines: Lines): EvidenceView {
  const path = survey.model.files[file]!.path
  const first = Math.max(1, line - 1)
  return { what, file: path, line, column, excerpt: lines(path).slice(first - 1, line + 1).map(one => one.slice(0, 240)), firstLine: first, mark: [column - 1, column - 1 + Math.max(1, length)] }
}
