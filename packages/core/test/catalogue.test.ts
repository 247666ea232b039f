import { readFileSync } from 'node:fs'
import { choicesOf, offersOf, parseRemedyId, planStep, REMEDIES } from '@hollowmoor/core/remedy/catalogue'
import { isPlanned, orderSteps } from '@hollowmoor/core/remedy/change'
import { composeChanges } from '@hollowmoor/core/remedy/composed-changes'
import { readProject } from './project.js'

const files = {
  'log.ts': 'export class Log { write(text: string) { console.log(text) } }\n',
  'desk.ts': "import { Log } from './log'\nexport class Desk { private log = new Log(); say() { this.log.write('x') } }\nnew Desk().say()\n",
  'desk.test.ts': "import { Log } from './log'\nexport class Fake { log = new Log() }\n"
}

describe('offers', () => {
  test('have ids that stay while the code moves, and name what is done', () => {
    const ids = (source: typeof files) => { const { survey, writer } = readProject(source); return offersOf(survey, writer).map(offer => offer.id) }
    const before = ids(files)
    expect(before).toEqual(['extract-interface:desk.ts#Desk', 'inject:desk.ts#Desk:log.ts#Log@log', 'extract-interface:log.ts#Log', 'wrap-library:log.ts#Log:runtime.console'])
    expect(ids({ ...files, 'desk.ts': `// one line more\n${files['desk.ts']}` })).toEqual(before)
  })

  test('can be taken apart, also where a path holds a colon', () => {
    const { survey } = readProject({ ...files, 'odd:name.ts': 'export class Odd { go() {} }\n' })
    expect(parseRemedyId('extract-interface:odd:name.ts#Odd', survey)).toMatchObject({ subject: 'odd:name.ts#Odd', detail: '' })
    expect(parseRemedyId('inject:desk.ts#Desk:log.ts#Log@log', survey)).toMatchObject({ subject: 'desk.ts#Desk', detail: 'log.ts#Log@log' })
    expect(parseRemedyId('inject:gone.ts#Gone:x', survey)).toBeUndefined()
    expect(parseRemedyId('explode:desk.ts#Desk', survey)).toBeUndefined()
  })

  test('bring their choices, with clients by what they use', () => {
    const { survey, writer } = readProject(files)
    const choices = choicesOf('extract-interface:log.ts#Log', survey, writer)!
    expect(choices.find(one => one.name === 'members')!.options).toEqual([{ value: 'write', label: 'write (used by 1)' }])
    expect(choices.find(one => one.name === 'clients')!.options.map(one => one.value)).toEqual(['desk.ts#Desk'])
    expect(choicesOf('inject:desk.ts#Desk:log.ts#Log@log', survey, writer)!.map(one => one.name)).toEqual(['name', 'as', 'default', 'levels'])
  })

  const wrong: [string, string, Record<string, string>, string][] = [
    ['an unknown remedy', 'inject:nowhere.ts#X:y', {}, 'unknown'], ['an unknown member', 'extract-interface:log.ts#Log', { members: 'read' }, 'member'],
    ['an unknown place', 'extract-interface:log.ts#Log', { place: 'moon' }, 'place'], ['a place without its client', 'extract-interface:log.ts#Log', { place: 'client' }, 'client'],
    ['clients that use nothing', 'extract-interface:log.ts#Log', { clients: 'log.ts#Log' }, 'no-members'], ['levels that are no number', 'inject:desk.ts#Desk:log.ts#Log@log', { levels: 'up' }, 'levels'],
    ['a name that is none', 'inject:desk.ts#Desk:log.ts#Log@log', { name: '1st' }, 'name'], ['a type that is none', 'inject:desk.ts#Desk:log.ts#Log@log', { as: 'x.ts#X' }, 'as'],
    ['a point that is gone', 'inject:desk.ts#Desk:log.ts#Log@other', {}, 'no-point']
  ]
  test.each(wrong)('refuse %s', (_, id, choices, reason) => {
    const { survey, writer } = readProject(files)
    expect(planStep(id, choices, survey, writer)).toMatchObject({ refused: true, reason })
  })
})

describe('steps', () => {
  test('are done in the order in which they build on each other', () => {
    const step = (id: string) => ({ id, choices: {} })
    expect(orderSteps([step('inject:a'), step('extract-interface:b'), step('inject:c')]).map(one => one.id)).toEqual(['extract-interface:b', 'inject:a', 'inject:c'])
  })

  test('become one change from the first state to the last', () => {
    const { survey, writer } = readProject(files)
    const first = planStep('extract-interface:log.ts#Log', { name: 'Sink' }, survey, writer)
    const second = planStep('inject:desk.ts#Desk:log.ts#Log@log', {}, survey, writer)
    if (!isPlanned(first) || !isPlanned(second)) throw new Error('refused')
    const whole = composeChanges([first, second])
    expect(whole.map(change => [change.path, change.before === null])).toEqual([['desk.ts', false], ['log.ts', false], ['sink.ts', true]])
    expect(whole[0]!.before).toBe(files['desk.ts'])
    expect(whole[0]!.after).toBe("import { Log } from './log'\nimport { Sink } from './sink'\nexport class Desk { private log: Sink;\n\n  constructor(log: Sink) {\n    this.log = log\n  } say() { this.log.write('x') } }\nnew Desk(new Log()).say()\n")
    expect(composeChanges([{ ...first, changes: [{ path: 'x', before: 'a', after: 'b' }] }, { ...second, changes: [{ path: 'x', before: 'b', after: 'a' }] }])).toEqual([])
  })
})

test('the document of the remedies lists all that there are', () => {
  const rows = [...readFileSync('docs/remedies.md', 'utf8').split('## What every')[0]!.matchAll(/^\| `([a-z-]+)` \|/gm)].map(match => match[1])
  expect(rows.sort()).toEqual(REMEDIES.map(one => one.name).sort())
})
