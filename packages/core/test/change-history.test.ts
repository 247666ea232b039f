import { changesByFile, changingTogether, weightByChanges } from '@hollowmoor/core/measure/change-history'
import { readProject } from './project.js'

const { survey: { model, dependencies } } = readProject({
  'desk.ts': 'import { Tide } from "./tide"\nexport class Desk { ask(): number { return new Tide().height() } }',
  'tide.ts': 'export class Tide { height(): number { return 2 } }',
  'toll.ts': 'export class Toll { due(): number { return 3 } }',
  'berth.ts': 'export class Berth { free(): number { return 4 } }'
})
const named = (log: readonly (readonly string[])[]) => changingTogether(model, dependencies, { commits: log }).map(({ a, b, together, of }) => [model.files[a]!.path, model.files[b]!.path, together, of])

test('files that change together without depending on each other are told, those that depend are not', () => {
  const log = [['desk.ts', 'tide.ts'], ['desk.ts', 'tide.ts', 'toll.ts'], ['tide.ts', 'toll.ts'], ['desk.ts', 'tide.ts', 'toll.ts'], ['toll.ts', 'README.md'], ['berth.ts']]
  expect(named(log)).toEqual([['tide.ts', 'toll.ts', 3, 4]])
  expect([...changesByFile(model, { commits: log })]).toEqual([1, 3, 4, 4])
})

test('what is less than half of the rarer one, fewer than three times, or a sweep over everything says nothing', () => {
  const alone = Array.from({ length: 5 }, () => ['toll.ts']), other = Array.from({ length: 4 }, () => ['berth.ts'])
  const both = ['toll.ts', 'berth.ts']
  expect(named([both, both])).toEqual([])
  expect(named([both, both, both, ...alone, ...other])).toEqual([])
  expect(named([both, both, both, ...alone])).toEqual([['berth.ts', 'toll.ts', 3, 3]])
  const sweep = [...both, ...Array.from({ length: 40 }, (_, at) => `x${at}.ts`)]
  expect(named([sweep, sweep, sweep, sweep])).toEqual([])
})

test('a finding weighs one more each time the changes of its code double', () => {
  const changes = changesByFile(model, { commits: [...Array.from({ length: 7 }, () => ['toll.ts']), ['desk.ts']] })
  const at = (path: string) => ({ file: model.files.findIndex(file => file.path === path) })
  expect(weightByChanges({ evidence: [at('berth.ts')] }, changes)).toBe(1)
  expect(weightByChanges({ evidence: [at('desk.ts'), at('toll.ts')] }, changes)).toBe(4)
})
