/** @jest-environment jsdom */
import type { ChoiceView } from '@hollowmoor/contract/views'
import { page, serve, settled } from './served-page.js'
import { change, classView, project } from './samples.js'
import LinesPicker from '../src/views/changes/LinesPicker.vue'
import NewChangeView from '../src/views/changes/NewChangeView.vue'
import RolesEditor from '../src/views/changes/RolesEditor.vue'
import { useProjectStore } from '../src/stores/project.js'

describe('members in roles', () => {
  const members = ['name', 'length', 'start']
  const edited = async (text: string) => {
    const { shown } = await page(RolesEditor, { props: { modelValue: text, members } })
    return { shown, last: () => shown.emitted<[string]>('update:modelValue')?.at(-1)?.[0] }
  }
  test('are moved by keyboard with the list beside each', async () => {
    const { shown, last } = await edited('Painted: name; Driven: start')
    expect(shown.findAll('.role').map(one => one.findAll('.member').length)).toEqual([1, 1, 1])
    await shown.get('[aria-label="Role of length"]').setValue(1)
    expect(last()).toBe('Painted: name; Driven: length, start')
    await shown.get('[aria-label="Role of name"]').setValue(-1)
    expect(last()).toBe('Driven: length, start')
    expect(shown.text()).toContain('a role without any is left out')
  })
  test('are dragged with the pointer', async () => {
    const { shown, last } = await edited('Painted: name; Driven: start')
    await shown.findAll('.member')[0]!.trigger('dragstart')
    await shown.findAll('.role')[1]!.trigger('drop')
    expect(last()).toBe('Driven: name, start')
    // Nothing is dragged any more.
    await shown.findAll('.role')[2]!.trigger('drop')
    expect(shown.emitted('update:modelValue')).toHaveLength(1)
  })
  test('roles are named and added', async () => {
    const { shown, last } = await edited('Painted: name')
    await shown.get('[aria-label="Name of role 1"]').setValue('  Coloured ')
    expect(last()).toBe('Coloured: name')
    await shown.get('button').trigger('click')
    await shown.get('[aria-label="Role of start"]').setValue(1)
    expect(last()).toBe('Coloured: name; Role2: start')
  })
  test('what comes from outside is shown, and what was just said is not read again', async () => {
    const { shown } = await edited('Painted: name')
    await shown.get('button').trigger('click')
    await shown.setProps({ modelValue: 'Painted: name' })
    expect(shown.findAll('.role')).toHaveLength(3)
    await shown.setProps({ modelValue: 'Driven: start' })
    expect(shown.findAll('.role')).toHaveLength(2)
  })
})

describe('lines', () => {
  const options = Array.from({ length: 9 }, (_, at) => ({ value: String(at + 10), label: `line ${at + 10}` }))
  const picked = async (modelValue: string) => {
    const { shown } = await page(LinesPicker, { props: { modelValue, options, label: 'Statements' } })
    return { shown, last: () => shown.emitted<[string]>('update:modelValue')?.at(-1)?.[0] }
  }
  test('a click begins anew, and with the shift key it is the other end', async () => {
    const { shown, last } = await picked('12-14')
    expect(shown.findAll('.chosen').map(one => one.get('.number').text())).toEqual(['12', '13', '14'])
    const lines = shown.findAll('.line')
    await lines[6]!.trigger('click', { shiftKey: true })
    expect(last()).toBe('12-16')
    await lines[0]!.trigger('click', { shiftKey: true })
    expect(last()).toBe('10-14')
    await lines[4]!.trigger('click')
    expect(last()).toBe('14-14')
  })
  test.each([['first', '17', '12-14', '17-17'], ['first', '11', '12-14', '11-14'], ['last', '11', '12-14', '11-11'], ['last', '99', '12-14', '12-18'], ['first', '1', '', '10-10']])('the %s typed as %s, from %s', async (end, typed, before, after) => {
    const { shown, last } = await picked(before)
    await shown.get(`[aria-label="Statements: ${end}"]`).setValue(typed)
    expect(last()).toBe(after)
  })
})

describe('a new change', () => {
  const choice = (name: string, more: Partial<ChoiceView> = {}): ChoiceView => ({ name, label: name, kind: 'text', options: [], value: '', help: '', ...more })
  const STEP = 'extract-interface:src/lock.ts#Lock'
  const fields = [choice('name', { value: 'LockPort' }), choice('members', { kind: 'many-of', value: 'open,close', options: ['open', 'close', 'fill'].map(value => ({ value, label: value })) }),
    choice('place', { kind: 'one-of', value: 'beside', options: [{ value: 'beside', label: 'beside it' }, { value: 'client', label: 'with a client' }] }), choice('client', { kind: 'one-of', value: '' })]
  const offers = [{ id: STEP, remedy: 'extract-interface', subject: 'src/lock.ts#Lock', title: 'Extract an interface from Lock', edits: 4, files: 2 }, { id: 'extract-class:src/lock.ts#Lock', remedy: 'extract-class', subject: 'src/lock.ts#Lock', title: 'Extract a class from Lock', edits: 9, files: 2 }]
  const opened = async (address: string, answers: Record<string, unknown> = {}) => {
    const asked = serve({
      'GET /api/projects/1': project(), 'GET /api/projects/1/stale': { changed: [] }, 'GET /api/projects/1/choices': fields, 'GET /api/projects/1/type': classView('Lock', { offers }),
      'POST /api/projects/1/changes': change(), ...answers
    })
    const { shown, router } = await page(NewChangeView, { at: `/projects/1/changes/new?${address}`, before: () => useProjectStore().open(1) })
    return { asked, shown, router, planned: () => asked.filter(one => one.method === 'POST').map(one => one.body) }
  }
  test('asks with what is proposed, and leads to the plan', async () => {
    const { shown, router, planned } = await opened(`step=${encodeURIComponent(STEP)}&about=${encodeURIComponent('src/lock.ts#Lock')}`)
    expect(shown.get('h2').text()).toBe('1. Extract an interface from Lock')
    // A client is asked for only where the interface goes to one.
    expect(shown.findAll('label').map(one => one.text())).toEqual(['name', 'members', 'place'])
    await shown.get('input').setValue('Gate')
    await shown.get('.act button').trigger('click')
    await settled()
    expect(planned()).toEqual([{ steps: [{ id: STEP, choices: { name: 'Gate', members: 'open,close', place: 'beside', client: '' } }] }])
    expect(router.currentRoute.value).toMatchObject({ name: 'change', params: { change: '3' } })
  })
  test('takes what the address says before what an earlier change had chosen', async () => {
    const earlier = change({ steps: [{ ...change().steps[0]!, choices: { name: 'Earlier', place: 'client', client: 'src/desk.ts#Desk' } }] })
    const { shown, planned } = await opened(`step=${encodeURIComponent(STEP)}&from=3&set=${encodeURIComponent('name=Named')}`, { 'GET /api/changes/3': earlier })
    expect(shown.findAll('label').map(one => one.text())).toContain('client')
    await shown.get('.act button').trigger('click')
    await settled()
    expect(planned()[0]).toMatchObject({ steps: [{ choices: { name: 'Named', place: 'client', client: 'src/desk.ts#Desk' } }] })
  })
  test('steps are added and left out in the address', async () => {
    const { shown, router } = await opened(`step=${encodeURIComponent(STEP)}&step=${encodeURIComponent(offers[1]!.id)}&about=${encodeURIComponent('src/lock.ts#Lock')}`)
    expect(shown.get('h1').text()).toContain('2 steps')
    await shown.findAll('.step header button')[0]!.trigger('click')
    await settled()
    expect([router.currentRoute.value.query.step].flat()).toEqual([offers[1]!.id])
    expect(shown.findAll('.step')).toHaveLength(1)
  })
  test('says why it cannot be planned, and stays', async () => {
    const { shown, router } = await opened(`step=${encodeURIComponent(STEP)}`, { 'POST /api/projects/1/changes': { code: 'NAME', message: 'There is a Lock already.' } })
    await shown.get('.act button').trigger('click')
    await settled()
    expect(shown.get('[role=alert]').text()).toBe('There is a Lock already.')
    expect(router.currentRoute.value.name).toBe('new-change')
  })
  test('runs the tests for a first test only with commands that were seen', async () => {
    const { asked, shown } = await opened('step=first-test:src/lock.ts%23Lock', { 'GET /api/projects/1/choices': [], 'PATCH /api/projects/1': project() })
    expect(shown.text()).toContain('Your tests run four times')
    const inputs = shown.findAll<HTMLInputElement>('.commands input')
    expect(inputs.map(one => one.element.value)).toEqual(['npx tsc --noEmit', 'npm test', '120'])
    await inputs[1]!.setValue(' ')
    expect(shown.get('.act button').attributes('disabled')).toBeDefined()
    await inputs[1]!.setValue('npm test -- lock')
    await shown.get('.act button').trigger('click')
    await settled()
    expect(asked.filter(one => one.method !== 'GET').map(one => [one.method, one.body])).toEqual([
      ['PATCH', { commands: { compile: 'npx tsc --noEmit', test: 'npm test -- lock', seconds: 120, confirmed: true } }], ['POST', { steps: [{ id: 'first-test:src/lock.ts#Lock', choices: {} }] }]
    ])
  })
  test.each([
    ['move-type:src/desk.ts#:dueFor', '1. Move dueFor to another module'], ['move-type:src/desk.ts#Desk', '1. Move Desk to another module'], ['inject:src/desk.ts#Desk', '1. Inject: Desk'], ['extract-interface:yard.craft.Punt', '1. Extract an interface from Punt']
  ])('%s is named before what it touches is known', async (step, title) => {
    const { shown } = await opened(`step=${encodeURIComponent(step)}`)
    expect(shown.get('h2').text()).toBe(title)
  })
})
