import { compareSurveys } from './compare.js'
import type { SurveyDigest } from './digest.js'

const digest = (more: Partial<SurveyDigest>): SurveyDigest => ({
  version: 1, dependencies: [], cycles: [], verdicts: {}, modules: [],
  shares: { verdicts: { 'alone': 0, 'with-real-classes': 0, 'needs-outside': 0, 'not-known': 0 }, welded: 0, bolted: 0, plugged: 0, findings: 0, types: 0, lines: 0, modulesInCycles: 0 }, ...more
})
const cycle = (...members: string[]) => ({ level: 'modules' as const, within: '.', members, cost: 1 })
const dependency = (from: string, to: string, line = 1) => ({ from, to, references: 1, places: [{ file: `${from}.ts`, line }] })

test('cycles are closed, opened and grown; one that only lost a member is neither', () => {
  const found = compareSurveys(digest({ cycles: [cycle('a', 'b'), cycle('c', 'd'), cycle('e', 'f', 'g')] }), digest({ cycles: [cycle('c', 'd', 'x'), cycle('e', 'f'), cycle('y', 'z')] }))
  expect(found.closed.map(one => one.members)).toEqual([['a', 'b']])
  expect(found.opened.map(one => [one.members, one.joined])).toEqual([[['c', 'd', 'x'], ['x']], [['y', 'z'], ['y', 'z']]])
})

test('dependencies come and go by their ends, not by their lines', () => {
  const found = compareSurveys(digest({ dependencies: [dependency('A', 'B', 3), dependency('A', 'C')] }), digest({ dependencies: [dependency('A', 'B', 9), dependency('D', 'A', 4)] }))
  expect(found.gone.map(one => `${one.from} ${one.to}`)).toEqual(['A C'])
  expect(found.come).toEqual([dependency('D', 'A', 4)])
})

test('types are freed and tied; a new one that is free is neither', () => {
  const found = compareSurveys(
    digest({ verdicts: { A: 'needs-outside', B: 'alone', C: 'not-known', G: 'needs-outside' }, modules: [{ id: 'm', types: 1, lines: 2, ca: 0, ce: 0 }] }),
    digest({ verdicts: { A: 'with-real-classes', B: 'needs-outside', C: 'not-known', D: 'needs-outside', E: 'alone' }, modules: [{ id: 'm', types: 2, lines: 2, ca: 0, ce: 0 }] })
  )
  expect(found.freed).toEqual([{ type: 'A', before: 'needs-outside', after: 'with-real-classes' }])
  expect(found.tied).toEqual([{ type: 'B', before: 'alone', after: 'needs-outside' }, { type: 'D', before: null, after: 'needs-outside' }])
  expect(found.modules.map(one => one.id)).toEqual(['m'])
})
