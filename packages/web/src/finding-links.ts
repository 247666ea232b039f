import type { FindingRow } from '@hollowmoor/contract/views'

/** Where a finding's subject is looked at; null for externals, which have no page. */
export function subjectLink(project: number, finding: FindingRow) {
  switch (finding.about) {
    case 'type': return { name: 'class', params: { project }, query: { type: finding.subject } }
    case 'cycle': return { name: 'cycles', params: { project }, query: { cycle: finding.subject } }
    case 'module': return { name: 'land', params: { project }, query: { module: finding.subject } }
    default: return null
  }
}

/** What it frees, in words. */
export function freedText({ frees }: FindingRow): string {
  const part = (count: number, one: string, many: string) => (count === 0 ? [] : [`${count} ${count === 1 ? one : many}`])
  const parts = [...part(frees.modules, 'module', 'modules'), ...part(frees.types, 'type', 'types'), ...part(frees.clients, 'client', 'clients')]
  return parts.length === 0 ? '' : `frees ${parts.join(', ')}`
}
