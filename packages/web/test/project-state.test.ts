/** @jest-environment jsdom */
import { defineComponent, h, nextTick, ref } from 'vue'
import type { Fabric } from '@hollowmoor/core/measure/rearrangement'
import { page, serve, settled, Stream } from './served-page.js'
import { job, project } from './samples.js'
import { api, ApiError, followJob } from '../src/api/client.js'
import { useLoaded } from '../src/composables/useLoaded.js'
import { usePreferences } from '../src/composables/usePreferences.js'
import type { RearrangementState } from '../src/composables/useRearrangement.js'
import { useRearrangement } from '../src/composables/useRearrangement.js'
import type { WhatIfRequest, WhatIfResponse } from '../src/what-if-worker.js'
import App from '../src/App.vue'
import SurveyState from '../src/components/SurveyState.vue'
import { useProjectStore } from '../src/stores/project.js'

const stream = (url: string) => Stream.opened.filter(one => one.url === url).at(-1)!
const Empty = defineComponent({ render: () => h('p') })

describe('requests', () => {
  test('that are refused say what happened and what to do', async () => {
    serve({ 'POST /api/projects': { code: 'NO_FOLDER', message: '/nowhere is no folder; type the path of one.' } })
    await expect(api.addProject('/nowhere')).rejects.toEqual(new ApiError('NO_FOLDER', '/nowhere is no folder; type the path of one.'))
  })
  test('that nobody answers say how to go on', async () => {
    Object.assign(globalThis, { fetch: () => Promise.reject(new TypeError('failed')) })
    await expect(api.projects()).rejects.toMatchObject({ code: 'UNREACHABLE', message: expect.stringContaining('start it again') })
  })
  test('whose answer cannot be read are errors, and those without one are not', async () => {
    Object.assign(globalThis, { fetch: async () => ({ status: 500, ok: false, json: () => Promise.reject(new SyntaxError('<')) }) })
    await expect(api.land(1)).rejects.toMatchObject({ code: 'INTERNAL' })
    serve({ 'DELETE /api/projects/1': undefined })
    expect(await api.removeProject(1)).toBeUndefined()
  })
  test('keep what is odd in a name', async () => {
    const asked = serve({ 'GET /api/projects/1/type': {} })
    await api.type(1, 'src/a b&c.ts#D?')
    expect(asked[0]!.query.get('type')).toBe('src/a b&c.ts#D?')
  })
  test('a job is followed to its end and no further', () => {
    serve({})
    const heard: string[] = []
    followJob(5, state => heard.push(state.state))
    const events = stream('/api/jobs/5/events')
    for (const state of ['queued', 'running', 'cancelled'] as const) { events.tell(job({ state })); if (state !== 'cancelled') expect(events.closed).toBe(false) }
    expect([heard, events.closed]).toEqual([['queued', 'running', 'cancelled'], true])
  })
})

describe('what is loaded', () => {
  test('is never overtaken by an earlier answer, nor an error of one', async () => {
    const wanted = ref(1), given: Record<number, { give: (value: string) => void; fail: (error: Error) => void }> = {}
    const loaded = useLoaded(wanted, () => new Promise<string>((give, fail) => { given[wanted.value] = { give, fail } }))
    wanted.value = 2
    await nextTick()
    wanted.value = 3
    await nextTick()
    given[2]!.give('second')
    await settled()
    expect([loaded.data.value, loaded.loading.value]).toEqual([null, true])
    given[3]!.give('third')
    given[1]!.fail(new Error('too late'))
    await settled()
    expect([loaded.data.value, loaded.error.value, loaded.loading.value]).toEqual(['third', null, false])
  })
  test('keeps what it had when the next cannot be had, and says so until it can', async () => {
    let answer = () => Promise.resolve('first')
    const loaded = useLoaded([], () => answer())
    await settled()
    answer = () => Promise.reject(new Error('gone'))
    await loaded.reload()
    expect([loaded.data.value, loaded.error.value]).toEqual(['first', 'gone'])
    answer = () => Promise.resolve('again')
    await loaded.reload()
    expect([loaded.data.value, loaded.error.value]).toEqual(['again', null])
  })
})

describe('the project that is open', () => {
  const started = async (answers: Record<string, unknown>) => {
    const asked = serve({ 'GET /api/projects/1/stale': { changed: [] }, ...answers })
    await page(Empty)
    const store = useProjectStore()
    await store.open(1)
    await settled()
    return { asked, store }
  }
  test('tells which files have changed since its survey, but not while one is under way', async () => {
    const idle = await started({ 'GET /api/projects/1': project(), 'GET /api/projects/1/stale': { changed: ['src/lock.ts'] } })
    expect(idle.store.changedFiles).toEqual(['src/lock.ts'])
    const busy = await started({ 'GET /api/projects/1': project({ job: 5 }), 'GET /api/projects/1/stale': { changed: ['src/lock.ts'] } })
    stream('/api/jobs/5/events').tell(job())
    await busy.store.checkStale()
    expect([busy.store.job?.id, busy.store.changedFiles, busy.asked.some(one => one.path.endsWith('/stale'))]).toEqual([5, [], false])
  })
  test('is read anew when its survey has ended, and its views with it', async () => {
    let surveyId = 7
    const { store } = await started({ 'GET /api/projects/1': () => project({ surveyId, job: surveyId === 7 ? 5 : null }) })
    expect(store.version).toBe('1:7')
    surveyId = 8
    stream('/api/jobs/5/events').tell(job({ state: 'done' }))
    await settled()
    expect([store.version, store.job]).toEqual(['1:8', null])
  })
  test('is renewed by a file that is saved, and watched once', async () => {
    let surveyId = 7
    const { store } = await started({ 'GET /api/projects/1': () => project({ surveyId }) })
    await store.open(1)
    expect(Stream.opened.filter(one => one.url === '/api/projects/1/events')).toHaveLength(1)
    surveyId = 9
    stream('/api/projects/1/events').tell({ survey: 9 })
    await settled()
    expect([store.version, store.changedFiles]).toEqual(['1:9', []])
  })
  test('another one takes its place at once, and its stream is closed', async () => {
    const { store } = await started({ 'GET /api/projects/1': project(), 'GET /api/projects/2': project({ id: 2, name: 'saltwick' }), 'GET /api/projects/2/stale': { changed: [] } })
    const going = store.open(2)
    expect(store.project).toBeNull()
    await going
    expect([store.project?.name, stream('/api/projects/1/events').closed]).toEqual(['saltwick', true])
  })
  test('that is gone says so', async () => {
    const { store } = await started({ 'GET /api/projects/1': { code: 'NO_PROJECT', message: 'There is no project 1.' } })
    expect([store.project, store.error]).toEqual([null, 'There is no project 1.'])
  })
  test('looks at nothing while the browser keeps its page, and again when that is back', async () => {
    const { store } = await started({ 'GET /api/projects/1': project() })
    dispatchEvent(new Event('pagehide'))
    expect(stream('/api/projects/1/events').closed).toBe(true)
    dispatchEvent(Object.assign(new Event('pageshow'), { persisted: true }))
    await settled()
    expect([store.project?.id, stream('/api/projects/1/events').closed]).toEqual([1, false])
  })
})

describe('how it stands is told above every view', () => {
  const told = async (answers: Record<string, unknown>, then?: () => void) => {
    const asked = serve({ 'GET /api/projects/1/stale': { changed: [] }, ...answers })
    const { shown } = await page(SurveyState, { before: () => useProjectStore().open(1) })
    then?.()
    await settled()
    return { asked, shown }
  }
  test('a survey that goes on, with how far it is, and it can be ended', async () => {
    const { asked, shown } = await told({ 'GET /api/projects/1': project({ job: 5 }), 'POST /api/jobs/5/cancel': { cancelled: true } }, () => stream('/api/jobs/5/events').tell(job({ phase: 'parsing', done: 30, total: 1200 })))
    expect(shown.text()).toContain('Parsing 30 of 1,200 files…')
    await shown.get('button').trigger('click')
    expect(asked.at(-1)!.path).toBe('/api/jobs/5/cancel')
  })
  test('one that failed, and files that changed since: either way it can be done again', async () => {
    const failed = await told({ 'GET /api/projects/1': project({ state: 'failed', error: 'tsconfig.json cannot be read.' }), 'POST /api/projects/1/survey': job() })
    expect(failed.shown.get('[role=alert]').text()).toContain('tsconfig.json cannot be read.')
    await failed.shown.get('button').trigger('click')
    expect(failed.asked.at(-1)!.path).toBe('/api/projects/1/survey')
    const stale = await told({ 'GET /api/projects/1': project(), 'GET /api/projects/1/stale': { changed: ['a.ts', 'b.ts', 'c.ts'] } })
    expect(stale.shown.text()).toContain('3 files changed since this survey(a.ts, b.ts, …)')
  })
})

describe('a project in thought', () => {
  const fabric: Fabric = {
    modules: ['src/booking', 'src/locks'], dependencies: [0, 1, 2, 1, 0, 1, 2, 2, 1],
    types: [{ id: 'src/booking/desk.ts#Desk', module: 0, outermost: 0, lines: 9, verdict: null }, { id: 'src/locks/lock.ts#Lock', module: 1, outermost: 1, lines: 9, verdict: null }, { id: 'src/locks/log.ts#Log', module: 1, outermost: 2, lines: 9, verdict: null }]
  }
  const supposed = async () => {
    const sent: WhatIfRequest[] = []
    const workers: { onmessage: ((event: { data: WhatIfResponse }) => void) | null }[] = []
    Object.assign(globalThis, { Worker: class { onmessage = null; constructor() { workers.push(this) } postMessage(request: WhatIfRequest): void { sent.push(request) } terminate(): void { this.onmessage = null } } })
    const known = ref<Fabric | null>(null)
    let state!: RearrangementState
    await page(defineComponent({ setup() { state = useRearrangement(known); return () => h('p') } }))
    const answer = (id: number, cost: number) => workers[0]!.onmessage!({ data: { kind: 'arrangement', id, answer: { cost, cycles: 0, modulesInCycles: 0, graphs: [], modules: [], moduleOf: [] } as never } })
    const arrangements = () => sent.filter((one): one is Extract<WhatIfRequest, { kind: 'arrangement' }> => one.kind === 'arrangement')
    return { known, state, sent, answer, arrangements }
  }
  test('is asked for as it is and as it would be, and an overtaken answer is dropped', async () => {
    const { known, state, answer, arrangements } = await supposed()
    state.move('src/locks/log.ts#Log', 'src/booking')
    await nextTick()
    expect(arrangements()).toEqual([])
    known.value = fabric
    await nextTick()
    state.move('src/locks/log.ts#Log', 'src/new')
    await nextTick()
    const asked = arrangements()
    expect(asked.map(one => one.arrangement.moves.map(move => move.module))).toEqual([[], ['src/booking'], ['src/new']])
    answer(asked[1]!.id, 50)
    expect(state.after.value).toBeNull()
    answer(asked[0]!.id, 9)
    answer(asked[2]!.id, 3)
    expect([state.before.value?.cost, state.after.value?.cost]).toEqual([9, 3])
  })
  test('strikes out and puts back the same dependency, and forgets all at once', async () => {
    const { known, state } = await supposed()
    known.value = fabric
    const back = { within: 'src', from: 'src/locks', to: 'src/booking' }
    state.toggle(back)
    state.toggle({ ...back, to: 'src/other' })
    state.toggle({ ...back })
    expect(state.struck.value).toEqual([{ ...back, to: 'src/other' }])
    state.move('src/locks/log.ts#Log', 'src/booking')
    state.move('src/locks/lock.ts#Lock', 'src/booking')
    state.stay('src/locks/log.ts#Log')
    expect(state.moves.value.map(one => one.type)).toEqual(['src/locks/lock.ts#Lock'])
    state.clear()
    expect(state.isChanged.value).toBe(false)
  })
  test('what no longer fits a new survey is dropped', async () => {
    const { known, state } = await supposed()
    known.value = fabric
    state.move('src/locks/log.ts#Log', 'src/booking')
    state.move('src/locks/lock.ts#Lock', 'src/booking')
    await nextTick()
    known.value = { ...fabric, types: fabric.types.slice(0, 2), dependencies: [0, 1, 2, 1, 0, 1] }
    await nextTick()
    expect(state.moves.value.map(one => one.type)).toEqual(['src/locks/lock.ts#Lock'])
  })
})

describe('the application', () => {
  const started = async () => {
    serve({ 'GET /api/projects/1': project(), 'GET /api/projects/1/stale': { changed: [] }, 'GET /api/projects/1/types': [] })
    return page(App, { at: '/projects/1/findings' })
  }
  const key = (key: string, more: KeyboardEventInit = {}, target: EventTarget = document.body) => target.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }))
  test('tells where one is, and finds by keyboard', async () => {
    const { shown } = await started()
    expect(shown.get('nav a[aria-current=page]').text()).toBe('Next steps')
    expect(shown.get('.project').text()).toBe('withymere')
    // A key that is handled is not the browser's any more.
    expect(key('k', { ctrlKey: true })).toBe(false)
    await settled()
    expect(shown.find('[role=dialog][aria-label=Find]').exists()).toBe(true)
    shown.unmount()
  })
  test('the question mark helps, but not where one types', async () => {
    const { shown } = await started()
    const field = document.createElement('input')
    document.body.append(field)
    key('?', {}, field)
    await settled()
    const before = shown.text().length
    key('?')
    await settled()
    expect(shown.text().length).toBeGreaterThan(before)
    key('?')
    await settled()
    expect(shown.text().length).toBe(before)
    shown.unmount()
  })
  test('theme and the form of links to the editor are kept', async () => {
    const { toggleTheme, editorLink, editorHref } = usePreferences()
    editorLink.value = 'editor://{path}#{line},{column}'
    toggleTheme()
    await nextTick()
    expect([localStorage.getItem('hollowmoor.theme'), document.documentElement.classList.contains('dark')]).toEqual(['dark', true])
    expect(editorHref('/home/keeper', 'src/a b.ts', 4)).toBe('editor:///home/keeper/src/a%20b.ts#4,1')
    toggleTheme()
    await nextTick()
    expect([localStorage.getItem('hollowmoor.theme'), localStorage.getItem('hollowmoor.editorLink')]).toEqual(['light', 'editor://{path}#{line},{column}'])
  })
})
