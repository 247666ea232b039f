import type { ChangingView } from '@hollowmoor/contract/views'
import { findingsOf } from '@hollowmoor/core/find/findings'
import type { ChangeLog } from '@hollowmoor/core/measure/change-history'
import { changesByFile, changingTogether, weightByChanges } from '@hollowmoor/core/measure/change-history'
import type { Survey } from '@hollowmoor/core/survey'

/** Rows that are shown of each table. */
const SHOWN = 500

export function changingView(survey: Survey, log: ChangeLog | null): ChangingView | null {
  if (!log) return null
  const { model, dependencies } = survey
  const changes = changesByFile(model, log), types: string[][] = model.files.map(() => [])
  for (const type of model.types) types[type.file]!.push(type.id)
  const path = (file: number) => model.files[file]!.path
  return {
    commits: log.commits.length,
    files: model.files.map((file, at) => ({ path: file.path, changes: changes[at]!, types: types[at]! })).filter(file => file.changes > 0).sort((a, b) => b.changes - a.changes),
    together: changingTogether(model, dependencies, log).slice(0, SHOWN).map(({ a, b, ...rest }) => ({ a: path(a), b: path(b), ...rest })),
    weights: Object.fromEntries(findingsOf(survey).map(finding => [finding.id, weightByChanges(finding, changes)]))
  }
}
