import { seededRandom } from '@hollowmoor/core/graph/random'
import type { Blame, Narrowable } from '@hollowmoor/core/read/write/narrow-wherever-allowed'
import { narrowWhereverAllowed } from '@hollowmoor/core/read/write/narrow-wherever-allowed'

/**
 * Places of which some can never be narrowed, and some hand their object to others, which have to be narrowed then too. Blame is exact, or names
 * places that have nothing to do with it.
 */
function world(seed: number) {
  const random = seededRandom(seed), count = 3 + Math.floor(random() * 20)
  const places = Array.from({ length: count }, (_, at): Narrowable => ({ path: 'a', key: `${at}` }))
  const fixed = new Set(places.filter(() => random() < 0.15).map(one => one.key))
  const into = new Map(places.map(one => [one.key, places.filter(other => other !== one && random() < 0.08).map(other => other.key)]))
  let trials = 0
  const trial = (isExact: boolean) => (narrowed: readonly Narrowable[], onlyWhether: boolean) => {
    trials++
    const keys = new Set(narrowed.map(one => one.key))
    const wrong = [...keys].filter(key => fixed.has(key) || into.get(key)!.some(other => !keys.has(other)))
    const blame = (key: string): Blame => (isExact || random() < 0.6 ? { keys: [key], close: true } : { keys: [key, ...[...keys].filter(() => random() < 0.3)], close: random() < 0.5 })
    // Where only whether it holds is asked, nobody wants to know what is behind it.
    return { result: keys, holds: wrong.length === 0, behind: () => { if (onlyWhether) throw new Error('not asked'); return wrong.map(blame) }, checked: 1 }
  }
  /** The largest set that holds, found by taking away what is wrong until nothing is. */
  const largest = () => {
    const left = new Set(places.map(one => one.key))
    for (let before = -1; before !== left.size;) {
      before = left.size
      for (const key of left) if (fixed.has(key) || into.get(key)!.some(other => !left.has(other))) left.delete(key)
    }
    return left
  }
  return { places, trial, largest, trials: () => trials }
}

test('with exact blame it is the largest set, and nothing is tried twice', () => {
  for (let seed = 1; seed <= 60; seed++) {
    const { places, trial, largest, trials } = world(seed)
    const { narrowed, last } = narrowWhereverAllowed(places, trial(true))
    expect([seed, [...last.result].sort(), narrowed]).toEqual([seed, [...largest()].sort(), largest().size])
    expect(trials()).toBeLessThanOrEqual(places.length + 1)
  }
})

test('with blame that is a guess it holds all the same, and within the budget most of it is found', () => {
  let found = 0, most = 0
  for (let seed = 1; seed <= 60; seed++) {
    const { places, trial, largest, trials } = world(seed)
    const { last } = narrowWhereverAllowed(places, trial(false), { trials: 40, checks: 1000 })
    expect([seed, last.holds, [...last.result].every(key => largest().has(key))]).toEqual([seed, true, true])
    // Rounds of dropping come on top.
    expect(trials()).toBeLessThanOrEqual(40 + places.length + 14)
    found += last.result.size
    most += largest().size
  }
  expect(found).toBeGreaterThan(most * 0.9)
})

test('what nobody is to blame for lets nothing be narrowed', () => {
  const { narrowed, last } = narrowWhereverAllowed([{ path: 'a', key: '1' }, { path: 'a', key: '2' }], chosen => ({ result: chosen.length, holds: chosen.length === 0, behind: active => [{ keys: [...active.keys()], close: false }], checked: 1 }))
  expect([narrowed, last.result, last.holds]).toEqual([0, 0, true])
})
