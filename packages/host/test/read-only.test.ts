import { spawnSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'

interface Acted {
  readonly refused: string | null
  readonly subject: string | null
  readonly thrown: string | null
  readonly recovered: unknown
  readonly left: readonly string[]
  readonly texts: readonly (string | null)[]
}
interface Row {
  readonly name: string
  readonly write: Acted
  readonly undo: Acted
  readonly before: readonly (string | null)[]
  readonly after: readonly (string | null)[]
}

test('whatever is read-only, all files are written or none, and nothing is left beside them', () => {
  const script = fileURLToPath(new URL('unprivileged-writes.mjs', import.meta.url))
  const { stdout, stderr } = spawnSync(process.execPath, [script], { env: { ...process.env }, encoding: 'utf8', timeout: 300_000 })
  const rows = stdout.trim().split('\n').map(line => JSON.parse(line) as Row)
  expect([rows.length, stderr]).toEqual([4 * 2 * 3 * 3 * 2, ''])
  const untrue = rows.flatMap(({ name, write, undo, before, after }) => [
    ...wrong(`write: ${name}`, write, before, after), ...wrong(`undo: ${name}`, undo, after, before)
  ])
  expect(untrue).toEqual([])
  // Where nothing is read-only all are written, and where a folder is, none.
  expect(rows.filter(row => row.name.includes('file 644, folder 755, other 755')).every(row => row.write.refused === null && row.undo.refused === null)).toBe(true)
  expect(rows.filter(row => row.name.includes('folder 555')).every(row => row.write.refused === 'NOT_PERMITTED' && row.write.subject !== null)).toBe(true)
})

/** What is not as it should be after an act: old texts where it was refused, new ones where not, and nothing else. */
function wrong(name: string, { refused, thrown, recovered, left, texts }: Acted, old: readonly (string | null)[], fresh: readonly (string | null)[]): unknown[] {
  const expected = refused === null ? fresh : old
  const isTrue = thrown === null && JSON.stringify(texts) === JSON.stringify(expected) && left.length === 0 && JSON.stringify(recovered) === '[]'
  return isTrue ? [] : [{ name, refused, thrown, recovered, left, texts }]
}
