import { expect, test } from '@jest/globals'
import { largest } from './largest.js'
import { seededRandom } from './random.js'

test('the largest of some numbers are those that sorting finds, of equal ones the first', () => {
  const random = seededRandom(31)
  for (let round = 0; round < 300; round++) {
    // Few different values, so that many are equal.
    const values = Float64Array.from({ length: 1 + Math.floor(random() * 60) }, () => Math.floor(random() * 12) / 3)
    const count = Math.floor(random() * (values.length + 3))
    const sorted = Array.from(values, (_, at) => at).sort((a, b) => values[b]! - values[a]! || a - b)
    expect(largest(values, count)).toEqual(sorted.slice(0, count).sort((a, b) => a - b))
  }
})
