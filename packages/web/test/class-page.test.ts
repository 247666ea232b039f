/** @jest-environment jsdom */
import type { ClassView as Page, JointView, ReachView } from '@hollowmoor/contract/views'
import { page, serve, settled } from './served-page.js'
import { classView, finding, project, row } from './samples.js'
import ClassesView from '../src/views/classes/ClassesView.vue'
import ClassView from '../src/views/classes/ClassView.vue'
import InsidePanel from '../src/views/classes/InsidePanel.vue'
import ReachPanel from '../src/views/classes/ReachPanel.vue'
import ExcerptLines from '../src/components/ExcerptLines.vue'
import { useProjectStore } from '../src/stores/project.js'

const opened = { 'GET /api/projects/1': project(), 'GET /api/projects/1/stale': { changed: [] } }
const open = () => useProjectStore().open(1)
const LOG = 'src/log.ts#Log', DESK = 'src/desk.ts#Desk'
const joint = (name: string, more: Partial<JointView> = {}): JointView => ({ kind: 'welded', reason: 'created', name, type: `src/${name.toLowerCase()}.ts#${name}`, references: 2, behind: [], pure: false, firstFile: 'src/desk.ts', firstLine: 4, remedies: [], ...more })

describe('the page of a class', () => {
  const inject = { id: `inject:${DESK}:${LOG}@log`, title: 'Hand the Log in' }
  const view = async (more: Partial<Page> = {}, address = '', answers: Record<string, unknown> = {}) => {
    const asked = serve({ ...opened, 'GET /api/projects/1/type': classView('Desk', more), 'GET /api/projects/1/types': [row('Log'), row('Desk')], ...answers })
    const { shown, router } = await page(ClassView, { at: `/projects/1/class?type=${encodeURIComponent(DESK)}${address}`, before: open })
    const press = async (words: RegExp) => { await shown.findAll('button').find(one => words.test(one.text()))!.trigger('click'); await settled() }
    return { asked, shown, router, press, steps: () => [router.currentRoute.value.query.step].flat() }
  }
  const joints = [joint('Log', { remedies: [inject], behind: ['file-system'] }), joint('Clock', { kind: 'bolted', reason: 'concrete', pure: true }), joint('Gate', { kind: 'plugged', reason: 'abstraction' })]
  test('counts its joints by kind, and says what holds it', async () => {
    const { shown } = await view({ joints, row: row('Desk', { fanIn: 1, verdict: 'needs-outside' }), reach: { ...classView('x').reach, effects: [{ kind: 'file-system', borne: false, path: [] }, { kind: 'logging', borne: true, path: [] }] } })
    const text = shown.get('h1').text().replace(/\s+/g, ' ')
    expect(text).toContain('needs the outside: file system.')
    expect(text).toContain('It holds 3 collaborators: 1 welded (nothing outside can replace them), 1 bolted (handed in, but as concrete classes), 1 plugged. 1 type uses it.')
    expect(shown.findAll('.joints tbody tr').map(one => one.findAll('.behind').map(cell => cell.text())[0])).toEqual(['file system', 'only computes', ''])
  })
  test('plugs a class that is built inside with an interface for it first', async () => {
    const { press, steps, router } = await view({ joints })
    await press(/^Plug it$/)
    expect(steps()).toEqual([`extract-interface:${LOG}`, inject.id])
    expect(router.currentRoute.value.query.about).toBe(DESK)
  })
  test('tells what would be of it with some plugged, and makes a change of that', async () => {
    const { asked, shown, press, steps } = await view({ joints, row: row('Desk', { id: DESK, verdict: 'needs-outside' }) }, '', { 'POST /api/projects/1/plugged': { verdict: 'alone', effects: ['clock'], others: 2 } })
    await shown.get('[aria-label="What if Log were plugged?"]').setValue(true)
    await settled()
    expect(asked.at(-1)!.body).toEqual({ type: DESK, collaborators: [LOG] })
    expect(shown.get('.what-if').text().replace(/\s+/g, ' ')).toContain('With Log plugged: alone, it still reaches clock. 2 other types would be free too.')
    await press(/first test/)
    expect(steps()).toEqual([`extract-interface:${LOG}`, inject.id, `first-test:${DESK}`])
  })
  test('a joint that is plugged already has nothing to suppose', async () => {
    const { shown } = await view({ joints })
    expect(shown.findAll('.if input')).toHaveLength(2)
    const { shown: known } = await view({ joints }, `&plug=${encodeURIComponent(LOG)}`, { 'POST /api/projects/1/plugged': { verdict: null, effects: [], others: 0 } })
    expect(known.findAll<HTMLInputElement>('.if input').map(one => one.element.checked)).toEqual([true, false])
  })
  test('offers a remedy of the whole by a button, and one of several places by a list; what is done at a joint is there', async () => {
    const offer = (id: string, remedy: string) => ({ id, remedy, subject: DESK, title: id, edits: 3, files: 1 })
    const { shown, press, steps } = await view({ joints, offers: [offer(`extract-interface:${DESK}`, 'extract-interface'), offer(`replace-type-switch:${DESK}:a`, 'replace-type-switch'), offer(`replace-type-switch:${DESK}:b`, 'replace-type-switch'), offer(inject.id, 'inject')] })
    expect(shown.get('.remedies').findAll('button').map(one => one.text())).toEqual(['Extract interface up to 3 edits'])
    expect(shown.get('.remedies .el-select').text()).toContain('Replace the type switch: 2 places')
    await press(/^Extract interface/)
    expect(steps()).toEqual([`extract-interface:${DESK}`])
  })
  test.each<[Partial<Page>, string]>([
    [{ row: row('Desk', { test: true }) }, 'it is test code'], [{ row: row('Desk') }, 'it is a class without public methods'], [{ row: row('Desk', { kind: 'alias' }) }, 'it is of the kind type alias']
  ])('says why nothing is offered', async (more, why) => expect((await view(more)).shown.text()).toContain(`No remedy is offered here: ${why}.`))
  test('shows the lines of a joint, and those of a client', async () => {
    const line = { file: 'src/desk.ts', line: 4, column: 2, kind: 'calls', from: DESK, to: LOG, member: 'tell', typeOnly: true, excerpt: ['this.log.tell()'], firstLine: 4, mark: [9, 13] }
    const { asked, shown, press } = await view({ joints, clients: [{ id: 'src/office.ts#Office', name: 'Office', test: false, members: ['a', 'b', 'c', 'd', 'e', 'f'], references: 1 }] }, '', { 'GET /api/projects/1/joint': [line] })
    await shown.findAll('.joints a')[0]!.trigger('click')
    await settled()
    expect(shown.get('.lines h2').text()).toBe('Desk uses Log: 1 reference')
    expect(shown.get('.lines').text()).toContain('calls Log.tell, erased by the compiler')
    await press(/^Close$/)
    expect(shown.find('.lines').exists()).toBe(false)
    await press(/^Office/)
    expect(shown.get('.lines h2').text()).toBe('Office uses Desk: 1 reference')
    expect(asked.filter(one => one.path.endsWith('/joint')).map(one => [...one.query.values()])).toEqual([[DESK, LOG], ['src/office.ts#Office', DESK]])
    expect(shown.get('.item').text()).toContain('a, b, c, d, e, 1 more')
  })
  test('a class that is not there leads back to those that are', async () => {
    const { shown } = await view({}, '', { 'GET /api/projects/1/type': { code: 'NO_TYPE', message: 'There is no src/desk.ts#Desk.' } })
    expect(shown.get('[role=alert]').text()).toBe('There is no src/desk.ts#Desk. All classes')
  })
})

describe('what it reaches', () => {
  const reach = (more: Partial<ReachView>): ReachView => ({ ...classView('x').reach, ...more })
  const told = async (more: Partial<ReachView>, props = {}) => (await page(ReachPanel, { props: { reach: reach(more), name: 'Desk', root: '/home', project: 1, type: DESK, isBuilt: true, hasFirstTest: true, ...props } })).shown
  const steps = (...names: string[]) => names.map((name, at) => ({ type: `src/${name}.ts#${name}`, name, member: at === 0 ? '' : 'constructor', file: `src/${name}.ts`, line: at + 1, column: 1 }))
  test('is told by the way there, each class once', async () => {
    const shown = await told({ effects: [{ kind: 'network', borne: false, path: steps('Desk', 'Desk', 'Wire') }] })
    expect(shown.get('summary').text()).toBe('network 3 steps: Desk → Wire')
    expect(shown.findAll('li').slice(0, 3).map(one => one.text().replace(/\s+/g, ' '))).toEqual(['Desk when it is loaded src/Desk.ts:1', 'Desk when it is made src/Desk.ts:2', 'Wire when it is made src/Wire.ts:3'])
  })
  test('names the smallest set to plug, or why none helps', async () => {
    const plugs = { collaborators: ['Log', 'Clock', 'Wire'].map(name => ({ name, type: null })), proven: true, others: 1 }
    expect((await told({ plugs })).get('.plug').text()).toBe('Plug Log, Clock and Wire and it reaches nothing outside; no smaller set does. The same would free 1 other type.')
    expect((await told({ held: true })).get('.plug').text()).toContain('No plug frees it')
    expect((await told({ searched: false })).text()).toContain('as soon as the code is read again')
    expect((await told({})).text()).toContain('Nothing: no file, clock, server or screen is touched')
  })
  test('and what has to be built for a test, as a tree', async () => {
    const node = (name: string, kind: 'double' | 'real', children: ReachView['setup']['arguments'] = [], wantedBy = 0) => ({ name, text: name.toUpperCase(), kind, type: null, wantedBy, children })
    const shown = await told({ setup: { arguments: [node('rules', 'real', [node('clock', 'double', [], 12)])], realObjects: 2, doubles: 1, lines: 5 } })
    expect(shown.findAll('.tree li').map(one => [one.attributes('style'), one.text().replace(/\s+/g, ' ')])).toEqual([
      ['padding-left: 14px;', 'rules: RULES has to be built'], ['padding-left: 32px;', 'clock: CLOCK a double will do · cross-cutting, wanted by 12 constructors']
    ])
    expect(shown.get('header.second').text()).toContain('2 real objects, 1 double, about 5 lines')
    expect((await told({}, { isBuilt: false })).text()).not.toContain('To build one')
  })
})

describe('what is inside', () => {
  const member = (name: string, clients: number, more: Partial<Page['members'][number]> = {}) => ({ name, kind: 'method', public: true, line: 1, clients, tests: 0, refuses: false, ...more })
  const inside = async (more: Partial<Page>) => (await page(InsidePanel, { props: { view: classView('Desk', more), root: '/home' } })).shown
  test('its members by who uses them', async () => {
    const shown = await inside({ members: [member('none', 0), member('few', 1, { refuses: true }), member('many', 9), member('tested', 0, { tests: 2 }), member('hidden', 0, { public: false }), member('constructor', 5, { kind: 'constructor' })] })
    expect(shown.findAll('tr').map(one => one.findAll('td').map(cell => cell.text()))).toEqual([
      ['many', 'method', '9'], ['few', 'method · empty or only throws', '1'], ['none', 'method', 'nobody'], ['tested', 'method', 'tests only'], ['hidden', 'hidden method', '']
    ])
  })
  test('groups over separate fields, and what speaks against dividing it', async () => {
    const groups = [{ methods: ['open', 'close'], fields: ['gate'] }, { methods: Array.from({ length: 15 }, (_, at) => `m${at}`), fields: ['ledger'] }]
    const free = await inside({ cohesion: { lcom4: 2, tcc: 0.25, groups, between: [] } })
    expect(free.text()).toContain('Its methods form 2 groups over shared fields (LCOM4 2, TCC 0.25)')
    expect(free.text()).toContain('and 3 more methods')
    expect(free.text()).toContain('each could be a class of its own')
    const tied = await inside({ cohesion: { lcom4: 2, tcc: null, groups, between: [{ from: 'open', to: 'm1', line: 8, column: 1 }] } })
    expect(tied.text()).toContain('Against dividing it: 1 call between groups, such as open → m1.')
    expect((await inside({ cohesion: { lcom4: 1, tcc: 1, groups: groups.slice(0, 1), between: [] } })).text()).toContain('Its methods share their fields (LCOM4 1, TCC 1.00)')
  })
  test('what is marked far to the right is brought into sight', async () => {
    const text = `${'x'.repeat(80)}WANTED;`
    const { shown } = await page(ExcerptLines, { props: { excerpt: ['before', text], firstLine: 3, line: 4, mark: [80, 86] } })
    expect(shown.findAll('.line').map(one => one.text())).toEqual(['3before', `4…${'x'.repeat(34)}WANTED;`])
    expect(shown.get('mark').text()).toBe('WANTED')
  })
})

describe('all classes', () => {
  const rows = [row('Lock', { welded: 1, fanIn: 3, lines: 90, verdict: 'alone' }), row('Desk', { welded: 4, lines: 10, verdict: 'needs-outside' }), row('LockTest', { test: true, welded: 9 }), row('Gate', { id: 'src/locks/gate.ts#Gate', module: 'src/locks', welded: 1, fanIn: 5 })]
  const listed = async (address = '', changing: unknown = null) => {
    serve({ ...opened, 'GET /api/projects/1/types': rows, 'GET /api/projects/1/changing': changing })
    const { shown, router } = await page(ClassesView, { at: `/projects/1/classes${address}`, before: open })
    return { shown, router, names: () => shown.findAll('tbody tr').map(one => one.get('a').text()) }
  }
  test('stand by what is welded in them, and by what is asked for', async () => {
    const { shown, names } = await listed()
    expect(names()).toEqual(['Desk', 'Gate', 'Lock'])
    expect(shown.get('h1').text()).toContain('3 types with 6 welded joints')
    await shown.findAll('thead button').find(one => one.text() === 'lines')!.trigger('click')
    await settled()
    expect(names()).toEqual(['Lock', 'Desk', 'Gate'])
    await shown.findAll('thead button').find(one => one.text() === 'type')!.trigger('click')
    await settled()
    expect(names()).toEqual(['Desk', 'Gate', 'Lock'])
  })
  test('of a module, of a verdict, of a part of a name, and those of tests', async () => {
    expect((await listed('?module=src/locks')).names()).toEqual(['Gate'])
    expect((await listed('?verdict=alone')).names()).toEqual(['Lock'])
    const { shown, names } = await listed()
    await shown.get('[aria-label=Filter]').setValue('LOCK')
    expect(names()).toEqual(['Gate', 'Lock'])
    await shown.get('input[type=checkbox]').setValue(true)
    expect(names()).toEqual(['LockTest', 'Gate', 'Lock'])
    await shown.get('[aria-label=Filter]').setValue('sluice')
    expect(shown.text()).toContain('No type fits.')
  })
  test('by how often their files changed, where there is a log', async () => {
    const { shown, names } = await listed('?sort=changes', { commits: 9, files: [{ path: 'src/lock.ts', changes: 7, types: ['src/lock.ts#Lock'] }], together: [], weights: {} })
    expect(names()[0]).toBe('Lock')
    expect(shown.findAll('tbody tr')[0]!.findAll('td').at(-1)!.text()).toBe('7')
    expect((await listed()).shown.text()).not.toContain('changed')
  })
})

test('a finding that was set aside says so on the page of its class', async () => {
  serve({ ...opened, 'GET /api/projects/1/type': classView('Desk', { findings: [finding('Desk', { setAside: { reason: 'x', at: '' } })] }), 'GET /api/projects/1/types': [] })
  const { shown } = await page(ClassView, { at: `/projects/1/class?type=${encodeURIComponent(DESK)}`, before: open })
  expect(shown.get('.finding').text()).toContain('type switch frees 1 type set aside')
})
