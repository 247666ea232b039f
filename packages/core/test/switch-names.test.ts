import { caseName, switchNames } from '@hollowmoor/core/read/write/switch-names'

test.each([
  ['WIDE_BARGE', 'WideBarge'], ['wide-barge', 'WideBarge'], ['wideBarge', 'WideBarge'], ['Tug', 'Tug'], ['A', 'A'], ['slow down!', 'SlowDown'], ['12', 'Case12'], ['', 'Empty'], ['--', 'Empty'], ['HTTP2', 'Http2'], ['größe', 'Größe']
])('a case %j is called %s', (label, name) => { expect(caseName([label])).toBe(name) })

test('what no case is for is called other, and of several labels the first speaks', () => {
  expect(caseName([])).toBe('Other')
  expect(caseName(['BARGE', 'FLAT'])).toBe('Barge')
})

describe('names for what stands in the place of a switch', () => {
  const free = () => true
  const names = (member: string, over = 'Kind', cases: readonly (readonly string[])[] = [['A'], []]) => switchNames(member, over, cases, null, free)

  test.each([
    ['tollFor', 'KindToll', 'tollByKind', 'tollBy'], ['getRate', 'KindRate', 'rateByKind', 'rateBy'], ['interval', 'KindInterval', 'intervalByKind', 'intervalBy'],
    ['#urgencyOf', 'KindUrgency', 'urgencyByKind', 'urgencyBy'], ['For', 'KindFor', 'forByKind', 'forBy'], ['_size', 'KindSize', 'sizeByKind', 'sizeBy']
  ])('%s', (member, contract, choose, field) => {
    expect(names(member)).toMatchObject({ contract, choose, field })
  })

  test('a kind that is named as a constant gives names of classes', () => {
    expect(names('startTag', 'TAG_ID')).toMatchObject({ contract: 'TagIdStartTag', choose: 'startTagByTagId' })
    expect(names('toll', 'URL')).toMatchObject({ contract: 'URLToll', choose: 'tollByURL' })
  })

  test('a method keeps its name, without what makes it private', () => {
    expect(names('#urgencyOf').method).toBe('urgencyOf')
    expect(names('tollFor').method).toBe('tollFor')
  })

  test('a class for each case, and one for any other where no case is', () => {
    expect(names('toll', 'Kind', [['A'], ['B', 'C'], []])).toMatchObject({ classes: ['AToll', 'BToll', 'OtherToll'], other: 'OtherToll' })
    expect(names('toll', 'Kind', [['A'], ['B']])).toMatchObject({ classes: ['AToll', 'BToll'], other: 'OtherToll' })
  })

  test('no name is had twice, neither by what is there nor by what is made', () => {
    const taken = new Set(['KindToll', 'AToll'])
    expect(switchNames('toll', 'Kind', [['A'], ['a'], []], null, name => !taken.has(name))).toMatchObject({ contract: 'KindToll2', classes: ['AToll2', 'AToll3', 'OtherToll'] })
    expect(switchNames('toll', 'Kind', [['A'], []], 'AToll', free)).toMatchObject({ contract: 'AToll', classes: ['AToll2', 'OtherToll'] })
    const all = Object.values(switchNames('toll', 'Other', [['Kind'], []], null, free)).flat()
    expect(new Set(all.filter(name => /^[A-Z]/.test(name))).size).toBe(all.filter(name => /^[A-Z]/.test(name)).length - 1)
  })
})
