import type { TypeRow } from '@hollowmoor/contract/views'

/** Types that match what was typed, best first: by name from its start, by word humps, then anywhere in name or path. */
export function search(rows: readonly TypeRow[], typed: string, most: number): TypeRow[] {
  const wanted = typed.trim().toLowerCase()
  if (wanted === '') return [...rows].filter(row => !row.test).sort((a, b) => b.fanIn - a.fanIn).slice(0, most)
  const scored: { row: TypeRow; score: number }[] = []
  for (const row of rows) {
    const name = row.name.toLowerCase()
    const humps = (row.name.match(/[A-Z]/g) ?? []).join('').toLowerCase()
    const score = name === wanted ? 0 : name.startsWith(wanted) ? 1 : humps.startsWith(wanted) ? 2 : name.includes(wanted) ? 3 : row.id.toLowerCase().includes(wanted) ? 4 : -1
    if (score >= 0) scored.push({ row, score: score + (row.test ? 0.5 : 0) })
  }
  return scored.sort((a, b) => a.score - b.score || a.row.name.length - b.row.name.length || (a.row.id < b.row.id ? -1 : 1)).slice(0, most).map(({ row }) => row)
}
