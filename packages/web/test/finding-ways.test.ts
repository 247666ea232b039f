/** @jest-environment jsdom */
import type { CycleView, ReferenceView } from '@hollowmoor/contract/views'
import { page, serve, settled } from './served-page.js'
import { finding, project, row } from './samples.js'
import { answerWhatIf } from '../src/what-if.js'
import type { WhatIfRequest, WhatIfResponse } from '../src/what-if-worker.js'
import FindPalette from '../src/components/FindPalette.vue'
import CycleLadder from '../src/views/cycles/CycleLadder.vue'
import CyclesView from '../src/views/cycles/CyclesView.vue'
import FindingsView from '../src/views/findings/FindingsView.vue'
import { useProjectStore } from '../src/stores/project.js'

/** Answers as the web worker does, only later. */
class Thinker {
  onmessage: ((event: { data: WhatIfResponse }) => void) | null = null
  postMessage(request: WhatIfRequest): void { if (request.kind === 'cycle') setTimeout(() => this.onmessage?.({ data: { kind: 'cycle', id: request.id, answer: answerWhatIf(request.question) } })) }
  terminate(): void { this.onmessage = null }
}
Object.assign(globalThis, { Worker: Thinker })

const opened = { 'GET /api/projects/1': project(), 'GET /api/projects/1/stale': { changed: [] } }
const open = () => useProjectStore().open(1)

describe('find', () => {
  const rows = [row('PassageDesk'), row('DeskPanel'), row('Lock', { fanIn: 9 })]
  const palette = async () => { serve({ 'GET /api/projects/1/types': rows }); return page(FindPalette) }
  test('goes to what is chosen with the arrow keys', async () => {
    const { shown, router } = await palette()
    const input = shown.get('input')
    expect(document.activeElement).toBe(input.element)
    await input.setValue('desk')
    expect(shown.findAll('strong').map(one => one.text())).toEqual(['DeskPanel', 'PassageDesk'])
    for (const key of ['ArrowDown', 'ArrowDown', 'ArrowUp', 'ArrowDown']) await input.trigger('keydown', { key })
    expect(shown.get('li.chosen').text()).toContain('PassageDesk')
    await input.trigger('keydown', { key: 'Enter' })
    await settled()
    expect(router.currentRoute.value).toMatchObject({ name: 'class', query: { type: 'src/passagedesk.ts#PassageDesk' } })
    expect(shown.emitted('close')).toHaveLength(1)
  })
  test('begins at the first again when something else is typed, and goes nowhere where there is nothing', async () => {
    const { shown, router } = await palette()
    const input = shown.get('input')
    await input.trigger('keydown', { key: 'ArrowDown' })
    await input.setValue('desk')
    await input.trigger('keydown', { key: 'k' })
    expect(shown.get('li.chosen').text()).toContain('DeskPanel')
    await input.setValue('sluice')
    await input.trigger('keydown', { key: 'Enter' })
    await settled()
    expect([shown.text(), router.currentRoute.value.name, shown.emitted('close')]).toEqual(['Nothing of that name.', 'land', undefined])
    await input.trigger('keydown', { key: 'Escape' })
    expect(shown.emitted('close')).toHaveLength(1)
  })
})

describe('findings', () => {
  const envy = finding('Desk', { id: 'envy', kind: 'feature-envy', sentence: 'tell uses Lock most.', remedies: ['move-member'], detail: 'tell', worth: 3 })
  const kinds = finding('Office', { id: 'kinds', subject: 'src/office.ts#Office', worth: 2 }), library = finding('signal-kit', { id: 'library', kind: 'library-in-many-places', about: 'external', subject: 'signal-kit', sentence: 'signal-kit is used by 9.', remedies: ['wrap-library'], worth: 1 })
  const gone = finding('Punt', { id: 'gone', sentence: 'Punt does much.', setAside: { reason: 'It goes next year.', at: '2026-01-01' } })
  const changing = { commits: 40, files: [], together: [], weights: { kinds: 4, envy: 1 } }
  const view = async (address = '', answers: Record<string, unknown> = {}) => {
    const asked = serve({ ...opened, 'GET /api/projects/1/findings': [envy, kinds, library, gone], 'GET /api/projects/1/changing': changing,
      'GET /api/projects/1/finding': ({ query }: { query: URLSearchParams }) => [envy, kinds, library, gone].find(one => one.id === query.get('id')), ...answers })
    const { shown, router } = await page(FindingsView, { at: `/projects/1/findings${address}`, before: open })
    return { asked, shown, router, listed: () => shown.findAll('.item .said').map(one => one.text()) }
  }
  test('stand by what they free, or by that and how often their code changes', async () => {
    const { shown, router, listed } = await view()
    expect(listed()).toEqual(['tell uses Lock most.', 'Office asks for a kind.', 'signal-kit is used by 9.'])
    await shown.get('.weigh input').setValue(true)
    await settled()
    expect(router.currentRoute.value.query.weigh).toBe('changes')
    expect(listed()[0]).toBe('Office asks for a kind.')
    expect(shown.get('h1').text()).toContain('3 places are worth changing')
  })
  test('are filtered by words of theirs and by kind, each with its count', async () => {
    const { shown, listed } = await view()
    expect(shown.findAll('.kinds option').map(one => one.text())).toEqual(['all', 'feature envy (1)', 'type switch (1)', 'library in many places (1)'])
    await shown.get('.kinds select').setValue('type-switch')
    await settled()
    expect(listed()).toEqual(['Office asks for a kind.'])
    await shown.get('.kinds select').setValue('')
    await shown.get('[aria-label=Filter]').setValue('LOCK')
    await settled()
    expect(listed()).toEqual(['tell uses Lock most.'])
  })
  test('lead to the remedy at the part that they are about', async () => {
    const { shown } = await view('?finding=envy')
    const link = shown.findAll('.detail a').find(one => one.text() === 'move member')!
    expect(link.attributes('href')).toBe('/projects/1/changes/new?step=move-member:src/desk.ts%23Desk:tell&about=src/desk.ts%23Desk')
  })
  test('of a library lead to all its steps, once it is known where it can be wrapped', async () => {
    const steps = ['wrap-library:src/a.ts#A:signal-kit', 'wrap-library:src/b.ts#B:signal-kit']
    const known = await view('?finding=library', { 'GET /api/projects/1/wraps': steps.map(id => ({ id, remedy: 'wrap-library', subject: '', title: '', edits: 1, files: 1 })) })
    expect(decodeURIComponent(known.shown.findAll('.detail a').find(one => one.text() === 'wrap the library')!.attributes('href')!)).toContain(steps.map(one => `step=${one}`).join('&'))
    const none = await view('?finding=library', { 'GET /api/projects/1/wraps': [] })
    expect(none.shown.get('.detail .block').text()).toContain('wrap the library (by hand for now)')
  })
  test('are set aside with a reason, and taken back', async () => {
    const { asked, shown } = await view('?finding=kinds', { 'PUT /api/projects/1/aside': undefined, 'DELETE /api/projects/1/aside': undefined })
    await shown.findAll('button').find(one => one.text() === 'Set aside…')!.trigger('click')
    const submit = shown.get('.aside button')
    expect(submit.attributes('disabled')).toBeDefined()
    await shown.get('.aside input').setValue('It is read once.')
    await shown.get('.aside').trigger('submit')
    await settled()
    expect(asked.find(one => one.method === 'PUT')!.body).toEqual({ finding: 'kinds', reason: 'It is read once.' })
    await shown.findAll('a').find(one => one.text() === '1 was set aside')!.trigger('click')
    await settled()
    await shown.get('.item').trigger('click')
    await settled()
    await shown.findAll('button').find(one => one.text() === 'Take it back')!.trigger('click')
    await settled()
    expect(asked.find(one => one.method === 'DELETE')!.query.get('finding')).toBe('gone')
  })
})

describe('cycles', () => {
  const key = 'modules:src:booking'
  const cycle: CycleView = {
    level: 'modules', key, within: 'src', members: ['src/booking', 'src/locks', 'src/office'], atRunTime: true, cost: 2, lowerBound: 2, cut: [{ from: 'src/locks', to: 'src/booking', references: 2 }],
    dependencies: [{ from: 'src/booking', to: 'src/locks', references: 7, atRunTime: 7 }, { from: 'src/locks', to: 'src/booking', references: 2, atRunTime: 2 }, { from: 'src/office', to: 'src/booking', references: 3, atRunTime: 3 }, { from: 'src/locks', to: 'src/office', references: 4, atRunTime: 4 }]
  }
  const reference = (from: string, to: string, more: Partial<ReferenceView> = {}): ReferenceView => ({ file: from.split('#')[0]!, line: 4, column: 2, kind: 'calls', from, to, member: 'tell', typeOnly: false, excerpt: ['this.desk.tell()'], firstLine: 4, mark: [10, 14], ...more })
  const types = [row('Desk', { id: 'src/booking/desk.ts#Desk', module: 'src/booking' }), row('Lock', { id: 'src/locks/lock.ts#Lock', module: 'src/locks' }), row('rules', { id: 'src/booking/rules.ts#', kind: 'functions', module: 'src/booking' })]
  const view = async (address = '', more: Partial<CycleView> = {}) => {
    const asked = serve({ ...opened, 'GET /api/projects/1/cycles': [{ ...cycle, ...more }, { ...cycle, level: 'types', key: 'types:x', within: '', members: ['src/a.ts#A', 'src/b.ts#B'], atRunTime: false }], 'GET /api/projects/1/cycle': { ...cycle, ...more }, 'GET /api/projects/1/types': types,
      'GET /api/projects/1/references': [reference('src/locks/lock.ts#Lock', 'src/booking/desk.ts#Desk'), reference('src/locks/lock.ts#Lock', 'src/booking/rules.ts#', { member: 'dueFor' })] })
    const { shown, router } = await page(CyclesView, { at: `/projects/1/cycles${address}`, before: open })
    return { asked, shown, router, links: (words: RegExp) => shown.findAll('a').filter(one => words.test(one.text())).map(one => [one.text(), decodeURIComponent(one.attributes('href')!)]) }
  }
  test('say what opens them, and whether that is proven', async () => {
    expect((await view()).shown.get('h1').text()).toBe('booking · locks · office go round in a circle. Changing 2 references opens it; no smaller change can (proven).')
    expect((await view('', { lowerBound: 1, atRunTime: false })).shown.get('h1').text()).toContain('in types only. Changing 2 references opens it; no change of fewer than 1 can.')
  })
  test('show what flows back first, or what the address names', async () => {
    const first = await view()
    expect(Object.fromEntries(first.asked.find(one => one.path.endsWith('/references'))!.query)).toEqual({ level: 'modules', within: 'src', from: 'src/locks', to: 'src/booking' })
    const named = await view('?from=src/locks&to=src/office')
    expect(named.asked.filter(one => one.path.endsWith('/references')).at(-1)!.query.get('to')).toBe('src/office')
  })
  test('lead to turning the dependency round, and to moving a type or a function', async () => {
    const { links } = await view()
    expect(links(/beside Lock/)).toEqual([['Put an interface for what Lock uses of Desk beside Lock', '/projects/1/changes/new?step=extract-interface:src/booking/desk.ts#Desk&set=clients=src/locks/lock.ts#Lock&set=place=client&set=client=src/locks/lock.ts#Lock&about=src/booking/desk.ts#Desk']])
    expect(links(/^Move/).map(([text]) => text)).toEqual(['Move Lock to booking', 'Move Desk to locks', 'Move dueFor to locks'])
    expect(links(/^Move dueFor/)[0]![1]).toBe('/projects/1/changes/new?step=move-type:src/booking/rules.ts#:dueFor&set=module=src/locks&about=src/booking/rules.ts#')
  })
  test('what if a dependency were gone is answered, and put back', async () => {
    const { shown } = await view()
    const press = async (words: string) => { await shown.findAll('button').find(one => one.text() === words)!.trigger('click'); await settled() }
    await press('Strike out')
    expect(shown.get('.what-if').text()).toContain('Without 1 dependency (2 references): 3 members still go round; 3 more references would open that.')
    await shown.get('[aria-label="office to booking, 3 references"]').trigger('keydown', { key: ' ' })
    await settled()
    expect(shown.get('.what-if').text()).toContain('Without 2 dependencies (5 references): the cycle is gone.')
    await press('Put back')
    expect(shown.get('.what-if').text()).toContain('Strike a dependency out and see what is left.')
  })
  test('of many members bracket only the cut and what is chosen', async () => {
    const members = Array.from({ length: 14 }, (_, at) => `src/m${at}`)
    const ring = { ...cycle, members, dependencies: members.map((from, at) => ({ from, to: members[(at + 1) % 14]!, references: 1, atRunTime: 1 })), cut: [{ from: 'src/m13', to: 'src/m0', references: 1 }], cost: 1 }
    const { shown } = await page(CycleLadder, { props: { cycle: ring, selected: null, struck: [] } })
    expect([shown.findAll('.rung').length, shown.findAll('.bracket').length]).toEqual([14, 1])
    expect(shown.get('.bracket').attributes('aria-label')).toBe('m13 to m0, 1 reference, part of the best cut')
    await shown.get('.bracket').trigger('click')
    await shown.get('.bracket').trigger('keydown', { key: ' ' })
    expect([shown.emitted('select'), shown.emitted('strike')]).toEqual([[['src/m13', 'src/m0']], [['src/m13', 'src/m0']]])
  })
})
