import type { TypeRow } from '@hollowmoor/contract/views'
import { counted, labelOf, shortened } from '../src/labels.js'
import { pairLines } from '../src/pair-lines.js'
import { search } from '../src/search.js'
import { answerWhatIf, arrow } from '../src/what-if.js'

const row = (name: string, more: Partial<TypeRow> = {}): TypeRow => ({
  id: `src/${name.toLowerCase()}.ts#${name}`, name, kind: 'class', module: 'src', file: 'src', line: 1, lines: 1, test: false, fanIn: 0, fanOut: 0, welded: 0, bolted: 0, plugged: 0, inert: 0, verdict: null, ...more
})

describe('search', () => {
  const rows = [row('PassageDesk'), row('DeskPanel'), row('Desk'), row('PassagePlanner'), row('Panel', { test: true }), row('Lock', { fanIn: 9 })]
  const table: [string, string[]][] = [
    ['desk', ['Desk', 'DeskPanel', 'PassageDesk']], ['pd', ['PassageDesk']], ['pas', ['PassageDesk', 'PassagePlanner']], ['src/lock', ['Lock']], ['nothing', []]
  ]
  test.each(table)('%s', (typed, names) => expect(search(rows, typed, 10).map(one => one.name)).toEqual(names))
  test('nothing typed shows what is used most', () => expect(search(rows, ' ', 1)[0]!.name).toBe('Lock'))
})

test('lines are set side by side', () => {
  expect(pairLines({ oldStart: 5, newStart: 5, lines: [' a', '-b', '-c', '+B', ' d', '+e'] })).toEqual([
    { oldNumber: 5, old: 'a', newNumber: 5, new: 'a', changed: false }, { oldNumber: 6, old: 'b', newNumber: 6, new: 'B', changed: true },
    { oldNumber: 7, old: 'c', newNumber: null, new: null, changed: true }, { oldNumber: 8, old: 'd', newNumber: 7, new: 'd', changed: false },
    { oldNumber: null, old: null, newNumber: 8, new: 'e', changed: true }
  ])
})

test('labels, counts and long names', () => {
  expect([labelOf('src/a/b.ts#Name'), labelOf('src/a/b.ts#'), labelOf('src/a'), labelOf('.')]).toEqual(['Name', 'b.ts', 'a', '(root)'])
  expect([counted(1, 'class', 'classes'), counted(2000, 'class', 'classes')]).toEqual(['1 class', '2,000 classes'])
  const short = shortened('LangiumGrammarSemanticTokenProvider', 20)
  expect(short.length).toBeLessThanOrEqual(21)
  expect(short.endsWith('Provider')).toBe(true)
})

describe('what if', () => {
  const members = ['a', 'b', 'c']
  const dependencies = [{ from: 'a', to: 'b', references: 4 }, { from: 'b', to: 'c', references: 3 }, { from: 'c', to: 'a', references: 2 }, { from: 'b', to: 'a', references: 1 }]
  test('tells what is left of a cycle, and what would open that', () => {
    expect(answerWhatIf({ members, dependencies, struck: [arrow('c', 'a')] })).toEqual({ left: [['a', 'b']], cost: 1, struckReferences: 2 })
    expect(answerWhatIf({ members, dependencies, struck: [arrow('c', 'a'), arrow('b', 'a')] })).toEqual({ left: [], cost: 0, struckReferences: 3 })
  })
})
