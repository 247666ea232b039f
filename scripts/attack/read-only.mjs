// Walks every combination of read-only files and folders; the same walk as the unit test makes, whose rows are judged there.
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { root as repository } from '../root.mjs'

export async function readOnly({ findings }) {
  const script = join(repository, 'packages/host/test/unprivileged-writes.mjs')
  const { stdout, stderr } = spawnSync(process.execPath, [script], { encoding: 'utf8', timeout: 300_000 })
  const counts = { combinations: 0, written: 0, refused: 0 }
  for (const line of stdout.trim().split('\n')) {
    const { name, write, undo, before, after } = JSON.parse(line)
    counts.combinations++
    counts[write.refused === null ? 'written' : 'refused']++
    for (const [act, { refused, thrown, left, texts }, old, fresh] of [['write', write, before, after], ['undo', undo, after, before]]) {
      const expected = JSON.stringify(refused === null ? fresh : old)
      if (thrown !== null || left.length > 0 || JSON.stringify(texts) !== expected) findings.add(`${act}, ${name}: ${thrown ?? JSON.stringify(texts)}`)
    }
  }
  if (counts.combinations === 0) findings.add(`the walk did not run: ${stderr}`)
  return counts
}
