import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { seededRandom } from '../graph/random.js'
import { hunksOf, unifiedDiff, withHunks } from './diff.js'
import type { FileChange } from './text-edit.js'
import { applyEdits, offsetMapper } from './text-edit.js'

describe('edits', () => {
  test('are applied by place, insertions in the order given', () => {
    expect(applyEdits('abcdef', [{ start: 4, end: 5, text: 'E' }, { start: 1, end: 1, text: '1' }, { start: 1, end: 1, text: '2' }, { start: 0, end: 1, text: '' }])).toBe('12bcdEf')
  })

  test('that overlap are no plan', () => {
    expect(() => applyEdits('abcdef', [{ start: 1, end: 3, text: '' }, { start: 2, end: 4, text: '' }])).toThrow(/overlap at 2/)
  })

  test('tell where an untouched place went, and that a replaced one is gone', () => {
    const map = offsetMapper([{ start: 2, end: 4, text: 'xyz' }, { start: 6, end: 6, text: '!' }])
    expect([map(0, 2), map(2, 4), map(4, 6), map(6, 8)]).toEqual([{ start: 0, end: 2 }, null, { start: 5, end: 7 }, { start: 8, end: 10 }])
  })
})

function randomText(random: () => number, lines: number): string[] {
  return Array.from({ length: lines }, () => 'abcdefgh'.charAt(Math.floor(random() * 8)).repeat(1 + Math.floor(random() * 3)))
}

/** A change of random lines; sometimes without a last line end, sometimes with CRLF. */
function randomChange(random: () => number): FileChange {
  const end = random() < 0.2 ? '\r\n' : '\n'
  const before = randomText(random, 5 + Math.floor(random() * 40))
  const after = before.flatMap(line => { const at = random(); return at < 0.08 ? [] : at < 0.16 ? [line, 'new'] : at < 0.24 ? ['other'] : [line] })
  const finish = () => (random() < 0.25 ? '' : end)
  return { path: 'some file.txt', before: before.join(end) + finish(), after: after.join(end) + finish() }
}

describe('diffs', () => {
  test('of random changes are taken by git apply and give the new text', () => {
    const folder = mkdtempSync(join(tmpdir(), 'hollowmoor-diff-'))
    try {
      for (let seed = 1; seed <= 25; seed++) {
        const change = { ...randomChange(seededRandom(seed)), path: 'a.txt' }
        if (change.before === change.after) continue
        writeFileSync(join(folder, 'a.txt'), change.before!)
        execFileSync('git', ['apply', '-'], { cwd: folder, input: unifiedDiff([change]) })
        expect({ seed, text: readFileSync(join(folder, 'a.txt'), 'utf8') }).toEqual({ seed, text: change.after })
      }
      const made = unifiedDiff([{ path: 'b/new.txt', before: null, after: 'one\ntwo\n' }])
      execFileSync('git', ['apply', '-'], { cwd: folder, input: made })
      expect(readFileSync(join(folder, 'b/new.txt'), 'utf8')).toBe('one\ntwo\n')
      execFileSync('git', ['apply', '-'], { cwd: folder, input: unifiedDiff([{ path: 'b/new.txt', before: 'one\ntwo\n', after: null }]) })
    } finally {
      rmSync(folder, { recursive: true, force: true })
    }
  })

  test('taken hunk by hunk give the old text, the new text, and only what was accepted', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const random = seededRandom(seed)
      const change = randomChange(random)
      const hunks = hunksOf(change)
      expect(withHunks(change, new Set())).toBe(change.before)
      expect(withHunks(change, new Set(hunks.keys()))).toBe(change.after)
      // Taking some, and then the rest of what is left to do, ends at the new text.
      const some = new Set([...hunks.keys()].filter(() => random() < 0.5))
      const half = withHunks(change, some)
      expect({ seed, hunks: hunksOf({ ...change, before: half }).length }).toEqual({ seed, hunks: hunks.length - some.size })
    }
  })
})
