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

/** The evidence of one finding without the lines of the files. */
export type StoredFinding = readonly Omit<EvidenceView, 'excerpt' | 'firstLine'>[]

/** The evidence of every finding, in their order. */
export function* storedEvidence(survey: Survey): Generator<StoredFinding> {
  for (const { evidence } of findingsOf(survey)) yield evidence.slice(0, SHOWN).map(one => placeView(survey, one))
}

/** Stored evidence with the lines of the files as they are now. */
export function withLines(stored: StoredFinding, textOf: TextOf): EvidenceView[] {
  const lines = linesReader(textOf)
  return stored.map(one => excerpted(one, lines))
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
  const { id, kind, subject, about, sentence, remedies, detail = '', cost, frees } = finding
  const index = survey.model.typeIndex.get(subject)
  const type = index === undefined ? undefined : survey.model.types[index]
  return {
    id, kind, subject, about, sentence, remedies, detail, cost, frees, worth: worthOf(finding), rank: explainRank(finding), name: type?.name ?? labelOf(subject), module: type?.module ?? (about === 'module' ? subject : ''),
    digest: digestOf(survey, finding, lines), setAside: null, cameBack: false
  }
}

/** A hash of what the finding says and of the lines that it is about, wherever in their files they stand now. */
function digestOf(survey: Survey, finding: Finding, lines: Lines): string {
  const hash = createHash('sha1').update(finding.sentence)
  for (const { file, line } of finding.evidence) { const path = survey.model.files[file]!.path; hash.update(`\0${path}\0${(lines(path)[line - 1] ?? '').trim()}`) }
  return hash.digest('hex').slice(0, 16)
}

export function evidenceView(survey: Survey, evidence: Evidence, lines: Lines): EvidenceView { return excerpted(placeView(survey, evidence), lines) }

function placeView(survey: Survey, { what, file, line, column, length }: Evidence): StoredFinding[number] {
  return { what, file: survey.model.files[file]!.path, line, column, mark: [column - 1, column - 1 + Math.max(1, length)] }
}

function excerpted(place: StoredFinding[number], lines: Lines): EvidenceView {
  const first = Math.max(1, place.line - 1)
  return { ...place, excerpt: lines(place.file).slice(first - 1, place.line + 1).map(one => one.slice(0, 240)), firstLine: first }
}
