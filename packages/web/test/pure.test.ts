import { plugSteps } from '../src/plug-steps.js'
import { groupsText, movedTo, readGroups } from '../src/member-groups.js'
import type { FindingRow, TypeRow } from '@hollowmoor/contract/views'
import type { GraphView } from '@hollowmoor/contract/views'
import { rearranged } from '@hollowmoor/core/measure/rearrangement'
import { remedyLink } from '../src/finding-links.js'
import { counted, labelOf, shortened } from '../src/labels.js'
import { pairLines } from '../src/pair-lines.js'
import { rearrangedGraph } from '../src/rearranged-graph.js'
import { search } from '../src/search.js'
import { answerWhatIf, arrow } from '../src/what-if.js'

const row = (name: string, more: Partial<TypeRow> = {}): TypeRow => ({
  id: `src/${name.toLowerCase()}.ts#${name}`, name, kind: 'class', module: 'src', file: 'src', line: 1, lines: 1, test: false, fanIn: 0, fanOut: 0, welded: 0, bolted: 0, plugged: 0, inert: 0, verdict: null, ...more
})

describe('the way from a finding to its remedy', () => {
  const finding = (more: Partial<FindingRow>): FindingRow => ({
    id: 'x', kind: 'type-switch', subject: 'a.ts#Desk', about: 'type', name: 'Desk', module: 'a', sentence: '', remedies: [], detail: 'dueFor:2', cost: { references: 0, files: 0, steps: 0 }, frees: { modules: 0, types: 0, clients: 0 },
    worth: 0, rank: '', digest: '', setAside: null, cameBack: false, ...more
  })
  const step = (remedy: string, more: Partial<FindingRow> = {}) => remedyLink(1, finding(more), remedy)?.query
  test('leads to the part that the finding is about, where the remedy takes a part', () => {
    expect(step('replace-type-switch')).toEqual({ step: 'replace-type-switch:a.ts#Desk:dueFor:2', about: 'a.ts#Desk' })
    expect(step('replace-type-switch', { detail: '' })).toEqual({ step: 'replace-type-switch:a.ts#Desk', about: 'a.ts#Desk' })
    expect(step('move-member', { kind: 'feature-envy', detail: 'tell' })).toEqual({ step: 'move-member:a.ts#Desk:tell', about: 'a.ts#Desk' })
    expect(step('extract-class', { kind: 'feature-envy', detail: 'tell' })).toEqual({ step: 'extract-class:a.ts#Desk', about: 'a.ts#Desk' })
  })
  test('leads to the page of a class that builds what reaches outside: it is what is built that gets an interface', () => {
    for (const remedy of ['extract-interface', 'inject']) expect(remedyLink(1, finding({ kind: 'welded-to-the-outside', detail: '' }), remedy)).toEqual({ name: 'class', params: { project: 1 }, query: { type: 'a.ts#Desk' } })
    expect(step('extract-interface', { kind: 'fat-interface', detail: '' })).toEqual({ step: 'extract-interface:a.ts#Desk', about: 'a.ts#Desk' })
  })
  test('leads to the abstraction that a class cannot keep to, and nowhere for what is done by hand', () => {
    expect(step('split-interface', { kind: 'refused-member', id: 'refused-member:a.ts#Desk:a.ts#Port', detail: '' })).toEqual({ step: 'split-interface:a.ts#Port', about: 'a.ts#Port' })
    expect(remedyLink(1, finding({}), 'by-hand')).toBeNull()
  })
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

test('the map of a rearrangement counts types, lines and verdicts where they would be', () => {
  const fabric = {
    modules: ['src/a', 'src/b/deep'], dependencies: [0, 1, 2],
    types: [{ id: 'src/a/x.ts#X', module: 0, outermost: 0, lines: 40, verdict: 'alone' as const }, { id: 'src/b/deep/y.ts#Y', module: 1, outermost: 1, lines: 9, verdict: 'needs-outside' as const }]
  }
  const counts = (alone: number, outside: number) => ({ alone, 'with-real-classes': 0, 'needs-outside': outside, 'not-known': 0 })
  const base: GraphView = {
    within: 'src', cycles: [], dependencies: [{ from: 'src/a', to: 'src/b', references: 2, atRunTime: 2, cut: false }],
    nodes: [{ id: 'src/a', label: 'a', lines: 50, types: 1, opens: false, verdicts: counts(1, 0) }, { id: 'src/b', label: 'b', lines: 12, types: 1, opens: true, verdicts: counts(0, 1) }]
  }
  const moved = (type: string, module: string) => rearrangedGraph(base, fabric, rearranged(fabric, { moves: [{ type, module }], struck: [] }))
  expect(moved('src/a/x.ts#X', 'src/b')).toMatchObject({ nodes: [{ id: 'src/b', lines: 52, types: 2, opens: true, verdicts: counts(1, 1) }] })
  const fresh = moved('src/a/x.ts#X', 'src/new')
  expect(fresh.nodes.map(node => [node.id, node.label, node.lines, node.types])).toEqual([['src/b', 'b', 12, 1], ['src/new', 'new', 40, 1]])
  expect(fresh.dependencies.map(one => [one.from, one.to, one.references])).toEqual([['src/new', 'src/b', 2]])
  // Out of the folder that is shown, it is in none of its nodes.
  expect(moved('src/a/x.ts#X', 'other').nodes.map(node => [node.id, node.types])).toEqual([['src/b', 1]])
})

describe('members in roles', () => {
  const members = ['name', 'length', 'start', 'stop']
  test('are read and written, and what is in no role is the rest', () => {
    const groups = readGroups('Painted: name, gone; Driven: start', members)
    expect(groups).toEqual({ roles: [{ name: 'Painted', members: ['name'] }, { name: 'Driven', members: ['start'] }], rest: ['length', 'stop'] })
    expect(groupsText(groups)).toBe('Painted: name; Driven: start')
  })
  test('move from one to another in the order of the interface', () => {
    const groups = readGroups('Painted: name; Driven: start, stop', members)
    expect(groupsText(movedTo(groups, 'start', 0, members))).toBe('Painted: name, start; Driven: stop')
    expect(movedTo(groups, 'name', -1, members)).toEqual({ roles: [{ name: 'Painted', members: [] }, { name: 'Driven', members: ['start', 'stop'] }], rest: ['name', 'length'] })
    expect(groupsText(movedTo(groups, 'name', -1, members))).toBe('Driven: start, stop')
  })
})

test('an interface is extracted first only where a class is built inside, not where an instance is fetched', () => {
  const rows = [{ id: 'a.ts#Log', kind: 'class' }, { id: 'b.ts#Port', kind: 'interface' }] as TypeRow[]
  const steps = (type: string, id: string) => plugSteps({ type, remedies: [{ id, title: '' }] }, rows)
  expect(steps('a.ts#Log', 'inject:d.ts#Desk:a.ts#Log@log')).toEqual(['extract-interface:a.ts#Log', 'inject:d.ts#Desk:a.ts#Log@log'])
  expect(steps('a.ts#Log', 'inject:d.ts#Desk:a.ts#Log')).toEqual(['inject:d.ts#Desk:a.ts#Log'])
  expect(steps('b.ts#Port', 'inject:d.ts#Desk:b.ts#Port@port')).toEqual(['inject:d.ts#Desk:b.ts#Port@port'])
})
