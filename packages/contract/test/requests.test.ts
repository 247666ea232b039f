import type { z } from 'zod'
import { BranchSchema, CommandsSchema, DecisionsSchema, DivisionSchema, ExportSchema, HistorySchema, NewChangeSchema, NewProjectSchema, PlanAgainSchema, PluggedSchema, ProjectUpdateSchema, SetAsideSchema } from '@hollowmoor/contract/api'
import { ERROR_STATUS, isRefusal, refusal } from '@hollowmoor/contract/errors'
import { isTypeId, labelOf } from '@hollowmoor/contract/labels'
import { RecordedLineSchema } from '@hollowmoor/contract/recording'
import { SettingsSchema } from '@hollowmoor/contract/settings'

const takes = (schema: z.ZodType, value: unknown) => schema.safeParse(value).success
const commands = { compile: 'npx tsc', test: 'npm test', seconds: 120, confirmed: true }

describe('what a request may carry', () => {
  test.each<[string, z.ZodType, unknown, unknown[]]>([
    ['a project', NewProjectSchema, { path: '/home/keeper/withymere' }, [{ path: '' }, {}, { path: '/a', more: 1 }, { path: 'a'.repeat(4097) }, { path: 3 }]],
    ['commands', CommandsSchema, commands, [{ ...commands, seconds: 0 }, { ...commands, seconds: 3601 }, { ...commands, seconds: 1.5 }, { ...commands, confirmed: 'yes' }, { ...commands, test: 'x'.repeat(2001) }]],
    ['an update', ProjectUpdateSchema, { commands }, [{ commands: {} }, { name: 'other' }]],
    ['a change', NewChangeSchema, { steps: [{ id: 'inject:a', choices: { name: 'gate' } }] }, [{ steps: [] }, { steps: [{ id: '', choices: {} }] }, { steps: [{ id: 'a' }] }, { steps: [{ id: 'a', choices: { name: 3 } }] }, { steps: Array.from({ length: 21 }, () => ({ id: 'a', choices: {} })) }]],
    ['steps again', PlanAgainSchema, { steps: [2, 0] }, [{ steps: [] }, { steps: [0, 0] }, { steps: [-1] }, { steps: [0.5] }]],
    ['decisions', DecisionsSchema, { refused: { 'src/a.ts': 'all', 'src/b.ts': [0, 2] } }, [{ refused: { a: 'some' } }, { refused: { a: [-1] } }, {}]],
    ['a branch', BranchSchema, { name: 'hollowmoor/gates', each: 'step' }, [{ name: '  ', each: 'all' }, { name: 'a', each: 'none' }, { name: 'a'.repeat(201), each: 'all' }]],
    ['batches', DivisionSchema, { step: 0, size: 4 }, [{ step: 0, size: 0 }, { step: -1, size: 2 }, { step: 0, size: 501 }]],
    ['what is set aside', SetAsideSchema, { finding: 'a', reason: 'It is read once.' }, [{ finding: 'a', reason: ' \n ' }, { finding: '', reason: 'b' }]],
    ['commits', HistorySchema, { commits: 20 }, [{ commits: 0 }, { commits: 201 }, { commits: '20' }]],
    ['collaborators', PluggedSchema, { type: 'a', collaborators: ['b'] }, [{ type: 'a' }, { type: '', collaborators: [] }, { type: 'a', collaborators: [3] }]],
    ['settings', SettingsSchema, { exclude: ['dist/**'], effects: [{ match: 'signal-kit', effect: 'network' }, { match: 'odd-kit', effect: 'pure', when: 'used' }], kind: 'library' }, [{ exclude: [''] }, { effects: [{ match: 'a', effect: 'magic' }] }, { effects: [{ match: 'a', effect: 'network', when: 'often' }] }, { kind: 'game' }, { colour: 'red' }]]
  ])('%s, and nothing else', (_, schema, good, bad) => {
    expect(schema.safeParse(good)).toEqual({ success: true, data: good })
    expect(bad.filter(one => takes(schema, one))).toEqual([])
  })
  test('names and reasons lose the space around them', () => {
    expect(BranchSchema.parse({ name: ' gates ', each: 'all' }).name).toBe('gates')
    expect(SetAsideSchema.parse({ finding: 'a', reason: '\tIt stays. ' }).reason).toBe('It stays.')
  })
  test('of exports only those that there are, and no path', () => {
    expect(['types.csv', 'survey.html', 'modules.graphml'].every(one => takes(ExportSchema, one))).toBe(true)
    expect(['../types.csv', 'types.CSV', '', 'modules.csv/..'].filter(one => takes(ExportSchema, one))).toEqual([])
  })
  test('settings that are left out stay left out', () => expect(SettingsSchema.parse({})).toEqual({}))
})

describe('a line of a recording', () => {
  const value = { is: 'list', items: [{ is: 'map', entries: [[{ is: 'text', text: 'a' }, { is: 'record', fields: [['n', { is: 'number', text: '1' }]] }]] }] }
  test('is of a call that begins, of what it did, or of why there is no object', () => {
    expect(takes(RecordedLineSchema, { subject: 'Lock', begun: 'open' })).toBe(true)
    expect(takes(RecordedLineSchema, { subject: 'Lock', name: '', error: 'no such gate' })).toBe(true)
    expect(takes(RecordedLineSchema, { subject: 'Lock', name: 'open', seen: { gives: value, throws: null, calls: [{ name: 'tell', given: [value] }], after: [null, value] } })).toBe(true)
  })
  test('holds no value of a kind that is not known, however deep', () => {
    const deep = { is: 'list', items: [{ is: 'map', entries: [[{ is: 'text', text: 'a' }, { is: 'code', text: 'x()' }]] }] }
    expect(takes(RecordedLineSchema, { subject: 'Lock', name: 'open', seen: { gives: deep, throws: null, calls: [], after: [] } })).toBe(false)
    expect(takes(RecordedLineSchema, { subject: 'Lock', name: 'open', error: 'only where none could be built' })).toBe(false)
  })
})

describe('names of what there is', () => {
  test.each([
    ['src/locks/lock.ts#Lock', 'Lock'], ['src/locks/rules.ts#', 'rules.ts'], ['rules.ts#', 'rules.ts'], ['src/locks', 'locks'], ['.', '(root)'], ['yard.craft.Punt', 'Punt'], ['yard.craft.Punt.Seat', 'Punt.Seat'], ['yard.craft', 'yard.craft'], ['Punt', 'Punt'], ['src/lock.ts#Lock.Side', 'Lock.Side']
  ])('%s is told as %s', (id, label) => expect(labelOf(id)).toBe(label))
  test('a package is told without what it is shown within', () => {
    expect([labelOf('yard.craft.flat', 'yard'), labelOf('yard.craft.flat', 'yards'), labelOf('yard', 'yard')]).toEqual(['craft.flat', 'yard.craft.flat', 'yard'])
  })
  test('types of the project are told from what is outside', () => {
    expect(['src/a.ts#A', 'src/a.ts#', 'yard.craft.Punt', 'node:fs', 'signal-kit', '@scope/kit', 'java.util'].map(isTypeId)).toEqual([true, true, true, false, false, false, false])
  })
})

test('a refusal is told from everything else, and each of its codes has a status of an error', () => {
  expect(refusal('TYPE_UNKNOWN', 'There is no Lock.')).toEqual({ refused: 'TYPE_UNKNOWN', message: 'There is no Lock.' })
  expect([isRefusal(refusal('GIT_STATE', 'a', 'b')), isRefusal(null), isRefusal('refused'), isRefusal({ refused: 'X' }), isRefusal(undefined)]).toEqual([true, false, false, false, false])
  expect(Object.values(ERROR_STATUS).filter(status => status < 400 || status > 599)).toEqual([])
})
