import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { seededRandom } from '@hollowmoor/core/graph/random'
import { blame, ChangeBatches } from './change-batches.mjs'
import { FieldJournal, someOf } from './field-journal.mjs'

/** A number below another, drawn, and the same each time. */
function drawing(seed) {
  const draw = seededRandom(seed)
  return count => Math.floor(draw() * count)
}

describe('changes that are looked at together', () => {
  test('touch no file in common, are no more than may be, and none is lost', () => {
    for (let round = 1; round <= 200; round++) {
      const draw = drawing(round), batches = new ChangeBatches(1 + draw(6)), given = Array.from({ length: draw(40) }, (_, id) => ({ id, changes: Array.from({ length: 1 + draw(3) }, () => ({ path: `f${draw(12)}` })) }))
      const found = given.flatMap(one => [batches.add(one) ?? []])
      expect(batches.count(() => true)).toBe(given.length - found.flat().length)
      found.push(...batches.rest())
      expect(found.flat().map(one => one.id).sort((a, b) => a - b)).toEqual(given.map(one => one.id))
      for (const batch of found) {
        const files = batch.flatMap(one => [...new Set(one.changes.map(change => change.path))])
        expect([batch.length <= batches.size, new Set(files).size]).toEqual([true, files.length])
      }
    }
  })
  test('those to blame are found, however many, and those that are only together wrong are told', async () => {
    for (let round = 1; round <= 200; round++) {
      const draw = drawing(round), cases = Array.from({ length: 1 + draw(13) }, (_, id) => id), bad = new Set(cases.filter(() => draw(5) === 0)), quarrel = draw(3) === 0 && cases.length > 1 ? [cases[0], cases.at(-1)] : []
      const good = [], blamed = [], together = []
      await blame(cases, {
        problemsOf: async some => [...some.filter(one => bad.has(one)).map(one => `${one} is bad`), ...(quarrel.length > 0 && quarrel.every(one => some.includes(one)) ? ['they do not fit'] : [])],
        good: one => good.push(one), bad: (one, problems) => { blamed.push(one); expect(problems).toEqual([`${one} is bad`]) }, together: (_, problems) => together.push(problems[0])
      })
      expect([good.sort((a, b) => a - b), blamed.sort((a, b) => a - b)]).toEqual([cases.filter(one => !bad.has(one)), [...bad]])
      expect(together.every(one => one === 'they do not fit')).toBe(true)
      if (quarrel.length > 0 && bad.size === 0) expect(together).toHaveLength(1)
    }
  })
  test('one that breaks among many takes few looks', async () => {
    let looks = 0
    await blame(Array.from({ length: 64 }, (_, id) => id), { problemsOf: async some => { looks++; return some.includes(37) ? ['bad'] : [] }, good: () => undefined, bad: () => undefined, together: () => undefined })
    expect(looks).toBe(13)
  })
})

describe('the journal of a field test', () => {
  const offer = (id, remedy = 'inject') => ({ id, remedy })
  test('goes on where a run was ended, even within a line', () => {
    const folder = mkdtempSync(join(tmpdir(), 'hollowmoor-journal-')), file = join(folder, 'deep/field.jsonl')
    try {
      const first = new FieldJournal(file)
      first.note('lib', offer('a'), 'applied', '', true)
      first.note('lib', offer('b'), 'refused', 'name')
      writeFileSync(file, `${readFileSync(file, 'utf8')}{"code":"lib","id":"c","rem`)
      const second = new FieldJournal(file)
      expect([second.find('lib', 'a')?.result, second.find('lib', 'c'), second.applied('inject'), second.cold]).toEqual(['applied', undefined, 1, 1])
      second.note('lib', offer('c'), 'applied')
      const third = new FieldJournal(file)
      expect([third.find('lib', 'c')?.result, third.find('other', 'c'), third.applied('inject')]).toEqual(['applied', undefined, 2])
      expect(third.wanted('inject,move-type', 2)).toEqual(['move-type'])
    } finally { rmSync(folder, { recursive: true, force: true }) }
  })
  test('counts what became of each remedy', () => {
    const journal = new FieldJournal()
    for (const [id, result, reason] of [['a', 'applied', ''], ['b', 'refused', 'name'], ['c', 'refused', 'name'], ['d', 'missed', 'javac'], ['e', 'refused', 'order']]) journal.note('lib', offer(id), result, reason)
    expect(journal.table()).toEqual({ inject: { offered: 5, applied: 1, refused: 3, missed: 1, failed: 0, cold: 0, 'refused of offered': '60 %', why: 'name 2, javac 1, order 1' } })
  })
  test('keeps the files of what broke, before and after', () => {
    const folder = mkdtempSync(join(tmpdir(), 'hollowmoor-kept-'))
    try {
      new FieldJournal(undefined, folder).keep('lib', 'inject:src/a.ts#A', 'it breaks', [{ path: 'src/a.ts', before: 'old', after: 'new' }, { path: 'src/gone.ts', before: 'old', after: null }])
      const kept = path => readFileSync(join(folder, 'lib_inject_src_a.ts_A', path), 'utf8')
      expect([kept('before/src/a.ts'), kept('after/src/a.ts'), kept('before/src/gone.ts'), JSON.parse(kept('case.json')).message]).toEqual(['old', 'new', 'old', 'it breaks'])
      expect(() => kept('after/src/gone.ts')).toThrow()
    } finally { rmSync(folder, { recursive: true, force: true }) }
  })
  test('so many of each remedy are taken from all over what is offered', () => {
    const offers = [...Array.from({ length: 100 }, (_, at) => offer(`i${at}`)), ...Array.from({ length: 3 }, (_, at) => offer(`m${at}`, 'move-type')), offer('x', 'extract-class')]
    const taken = someOf(offers, 'inject,move-type', 10)
    expect([taken.length, taken.filter(one => one.remedy === 'move-type').length]).toEqual([13, 3])
    const places = taken.filter(one => one.remedy === 'inject').map(one => Number(one.id.slice(1)))
    expect(places).toEqual(Array.from({ length: 10 }, (_, at) => at * 10))
    expect(someOf(offers, undefined, Infinity)).toHaveLength(104)
  })
})
