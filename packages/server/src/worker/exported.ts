import type { ExportName } from '@hollowmoor/contract/api'
import type { CsvTable } from '@hollowmoor/core/export/csv'
import { tableAsCsv } from '@hollowmoor/core/export/csv'
import type { GraphLevel } from '@hollowmoor/core/export/graphml'
import { graphAsGraphml } from '@hollowmoor/core/export/graphml'
import { surveyPage } from '@hollowmoor/core/export/page'
import type { Survey } from '@hollowmoor/core/survey'

/** A survey in the form that a name asks for. */
export function exported(survey: Survey, what: ExportName, title: string): string {
  const [name, form] = what.split('.') as [string, string]
  if (form === 'csv') return tableAsCsv(survey, name as CsvTable)
  return form === 'graphml' ? graphAsGraphml(survey, name as GraphLevel) : surveyPage(survey, title, new Date().toISOString().slice(0, 16).replace('T', ' '))
}
