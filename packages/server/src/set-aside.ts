import type { FindingRow } from '@hollowmoor/contract/views'
import { SetAsideRecord } from './store/database.js'

/** Sets a finding aside with a reason, as its code is now. */
export async function setAside(projectId: number, finding: FindingRow, reason: string): Promise<void> {
  await SetAsideRecord.upsert({ projectId, finding: finding.id, reason, digest: finding.digest, at: new Date().toISOString() })
}

export async function takeBack(projectId: number, finding: string): Promise<void> {
  await SetAsideRecord.destroy({ where: { projectId, finding } })
}

/** The findings with what was set aside of them; one whose code has changed since has come back. */
export async function withAsides<T extends FindingRow>(projectId: number, rows: readonly T[]): Promise<T[]> {
  const aside = new Map((await SetAsideRecord.findAll({ where: { projectId } })).map(one => [one.finding, one]))
  return rows.map(row => {
    const one = aside.get(row.id)
    if (!one) return row
    return one.digest === row.digest ? { ...row, setAside: { reason: one.reason, at: one.at } } : { ...row, cameBack: true }
  })
}
