import type { Observation, Observations, ObservedValue } from '@hollowmoor/core/model/observation'
import { isComparable } from '@hollowmoor/core/model/observation'
import { argumentLists, caseName, NEW } from '@hollowmoor/core/read/write/first-test-cases'
import { seenCases } from '@hollowmoor/core/read/write/seen-cases'

const text = (value: string): ObservedValue => ({ is: 'text', text: value })
const gave = (value: string, more: Partial<Observation> = {}): Observation => ({ gives: text(value), throws: null, calls: [], after: [], ...more })
const made = (name: string, member = name.split('(')[0]!, isCommand = false) => ({ name, member, call: `one.${name}`, isCommand, waits: false })

test('arguments are varied one at a time beside the usual ones, six times at most', () => {
  expect(argumentLists([])).toEqual([[]])
  expect(argumentLists([['1', '0'], ['true', 'false'], ['x']])).toEqual([['1', 'true', 'x'], ['0', 'true', 'x'], ['1', 'false', 'x']])
  expect(argumentLists([['1', '2', '3', '4'], ['a', 'b', 'c', 'd']])).toEqual([['1', 'a'], ['2', 'a'], ['1', 'b'], ['3', 'a'], ['1', 'c'], ['4', 'a']])
})

test('a case is named by its call where that is short and plain, and otherwise by its member and a number', () => {
  const taken = new Set<string>()
  const named = (member: string, ...given: string[]) => { const name = caseName(member, given, taken); taken.add(name); return name }
  expect(named('due', '1', "'text'")).toBe('due(1, text)')
  expect(named('due', '1', "''")).toBe('due(1, empty)')
  expect(named('due', '1', "'text'")).toBe('due(1, text), 2')
  expect(named('due', "craftDouble('craft')")).toBe('due(craft)')
  expect(named('due', "'it\\'s'")).toBe('due')
  expect(named('due', 'x'.repeat(80))).toBe('due, 2')
})

test('each member is held once for each thing that it does', () => {
  const { cases, leftOut } = seenCases([made('due(1)'), made('due(2)'), made('due(3)'), made('total()')], [], { cases: { 'due(1)': gave('a'), 'due(2)': gave('a'), 'due(3)': gave('b'), 'total()': gave('a') }, unstable: [] })
  expect(cases.map(one => one.made.name)).toEqual(['due(1)', 'due(3)', 'total()'])
  expect(leftOut).toEqual([])
})

test('of what an object says afterwards that is held which it did not say when it was new', () => {
  const seen = { [NEW]: gave('', { after: [text('none'), text('x'), null] }), 'add(1)': gave('', { after: [text('one'), text('x'), text('y')] }), 'size()': gave('none', { after: [text('none'), text('z'), null] }) }
  const { cases } = seenCases([made('add(1)', 'add', true), made('size()')], ['one.size()', 'one.name', 'one.odd()'], { cases: seen, unstable: [] })
  expect(cases.map(one => one.after)).toEqual([[{ query: 0, gives: text('one') }, { query: 2, gives: text('y') }], [{ query: 1, gives: text('z') }]])
})

test('what ends with an error of the runtime, is not the same each time, or does not end is left out and told', () => {
  const threw = (type: string): Observation => ({ gives: null, throws: { type, message: 'why\nmore' }, calls: [], after: [] })
  const { cases, leftOut } = seenCases([made('a()'), made('b()'), made('c()'), made('d()'), made('d(1)'), made('e()'), made('f()')], [],
    { cases: { 'a()': threw('TypeError'), 'b()': threw('java.lang.NullPointerException'), 'c()': threw('ClosedError'), 'd()': threw('RangeError'), 'd(1)': gave('1') }, unstable: ['e()'] })
  expect(cases.map(one => one.made.name)).toEqual(['c()', 'd(1)'])
  expect(leftOut).toEqual(['a (with sample arguments it ends with TypeError: why)', 'b (with sample arguments it ends with java.lang.NullPointerException: why)', 'e (it does not do the same each time)', 'f (it did not come to an end)'])
})

test('a value can be compared where all that it is made of can', () => {
  const object: ObservedValue = { is: 'object', text: 'Desk' }
  expect(isComparable({ is: 'list', items: [text('a'), { is: 'record', fields: [['b', { is: 'map', entries: [[text('c'), { is: 'set', items: [text('d')] }]] }]] }] })).toBe(true)
  for (const value of [object, { is: 'list', items: [object] }, { is: 'set', items: [object] }, { is: 'map', entries: [[text('a'), object]] }, { is: 'record', fields: [['a', object]] }] as ObservedValue[]) expect(isComparable(value)).toBe(false)
})

test('what a class throws by its own words is what it does, and what the engine says of the same kind is not', () => {
  const threw = (message: string): Observation => ({ gives: null, throws: { type: 'RangeError', message }, calls: [], after: [] })
  const seen: Observations = { cases: { 'fill(5)': threw('5 is too deep'), 'list(-1)': threw('Invalid array length') }, unstable: [] }
  const heldWith = (thrown: string[]) => seenCases([made('fill(5)'), made('list(-1)')], [], seen, new Set(thrown)).cases.map(one => one.made.name)
  expect([heldWith([]), heldWith(['TypeError']), heldWith(['RangeError'])]).toEqual([[], [], ['fill(5)']])
})
