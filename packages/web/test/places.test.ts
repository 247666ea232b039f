/** @jest-environment jsdom */
import type { ComparisonView, HistoryRow, LandView as Land, ModuleRow, SurveySummary } from '@hollowmoor/contract/views'
import type { Fabric, RearrangedProject } from '@hollowmoor/core/measure/rearrangement'
import { rearranged } from '@hollowmoor/core/measure/rearrangement'
import { ref, shallowRef } from 'vue'
import { page, serve, settled, Stream } from './served-page.js'
import { finding, job, project } from './samples.js'
import ComparisonPanel from '../src/components/ComparisonPanel.vue'
import ChangesView from '../src/views/changes/ChangesView.vue'
import HistoryView from '../src/views/history/HistoryView.vue'
import LandView from '../src/views/land/LandView.vue'
import ModulesView from '../src/views/land/ModulesView.vue'
import WhatIfPanel from '../src/views/land/WhatIfPanel.vue'
import ProjectsView from '../src/views/projects/ProjectsView.vue'
import SettingsView from '../src/views/projects/SettingsView.vue'
import { change } from './samples.js'
import { useProjectStore } from '../src/stores/project.js'

Object.assign(globalThis, { Worker: class { onmessage = null; postMessage(): void { /* Nothing is asked here. */ } terminate(): void { /* Nothing runs. */ } } })
const opened = { 'GET /api/projects/1': project(), 'GET /api/projects/1/stale': { changed: [] } }
const open = () => useProjectStore().open(1)
const verdicts = { 'alone': 10, 'with-real-classes': 5, 'needs-outside': 5, 'not-known': 0 }
const summary = (more: Partial<SurveySummary> = {}): SurveySummary => ({
  files: 60, testFiles: 9, lines: 4000, types: 51, modules: 9, references: 400, unresolved: 0, unreadFiles: 0, problems: 0, notInstalled: [], moduleCycles: 0, modulesInCycles: 0, fileCycles: 0, typeCycles: 0, cutReferences: 0, proven: true,
  joints: { welded: 4, bolted: 3, plugged: 2, inert: 1 }, verdicts, findings: 3, ...more
})
const module = (id: string, more: Partial<ModuleRow> = {}): ModuleRow => ({ id, parent: null, types: 3, lines: 30, ca: 1, ce: 2, instability: 0.67, abstractness: 0, distance: 0.33, subtree: { types: 3, lines: 30, ca: 1, ce: 2 }, ...more })

describe('projects', () => {
  const listed = async (projects: unknown[], answers: Record<string, unknown> = {}) => {
    const asked = serve({ 'GET /api/projects': { projects, demo: true }, ...answers })
    return { asked, ...await page(ProjectsView, { at: '/' }) }
  }
  test('say how each stands', async () => {
    const { shown } = await listed([project({ state: 'reading' }), project({ id: 2, state: 'failed', error: 'It cannot be read.' }), project({ id: 3, summary: summary({ moduleCycles: 2 }) }), project({ id: 4, summary: summary(), surveyedAt: null })])
    expect(shown.findAll('tbody tr').map(one => one.findAll('td')[3]!.text().replace(/\s+/g, ' '))).toEqual(['being read…', 'It cannot be read.', '2 module cycles, 4 welded joints', 'no module cycles, 4 welded joints'])
    expect(shown.findAll('tbody tr')[3]!.text()).toContain('not yet')
  })
  test('one is opened by the path of its folder, or it is said why not', async () => {
    const { asked, shown, router } = await listed([], { 'POST /api/projects': ({ body }: { body: { path: string } }) => (body.path === '/home/keeper/saltwick' ? project({ id: 6 }) : { code: 'NO_FOLDER', message: `${body.path} is no folder.` }) })
    await shown.get('form').trigger('submit')
    await shown.get('#path').setValue('  /nowhere ')
    await shown.get('form').trigger('submit')
    await settled()
    expect([shown.get('[role=alert]').text(), router.currentRoute.value.name]).toEqual(['/nowhere is no folder.', 'projects'])
    await shown.get('#path').setValue('/home/keeper/saltwick')
    await shown.get('form').trigger('submit')
    await settled()
    expect(router.currentRoute.value).toMatchObject({ name: 'land', params: { project: '6' } })
    expect(asked.filter(one => one.method === 'POST')).toHaveLength(2)
  })
  test('is forgotten only when that is said twice, and the demo is reset', async () => {
    const { asked, shown } = await listed([project({ id: 2, demo: false }), project()], { 'DELETE /api/projects/2': undefined, 'POST /api/projects/1/reset': undefined })
    const button = () => shown.findAll('tbody button')[0]!
    await button().trigger('click')
    expect([button().text(), asked.some(one => one.method === 'DELETE')]).toEqual(['Really forget it?', false])
    await button().trigger('click')
    await shown.findAll('tbody button')[1]!.trigger('click')
    await settled()
    expect(asked.filter(one => one.method !== 'GET').map(one => one.path)).toEqual(['/api/projects/2', '/api/projects/1/reset'])
  })
})

describe('settings', () => {
  const settings = { exclude: ['dist/**'], useGitignore: true, tests: ['**/*.test.ts'], moduleRoots: [], effects: [{ match: 'signal-kit', effect: 'network' }, { match: 'sluice-display#DisplayView', effect: 'framework', when: 'extended' as const }], kind: 'library' as const }
  const form = async () => {
    const asked = serve({ ...opened, 'GET /api/projects/1': project({ settings }), 'GET /api/projects/1/land': { excluded: ['dist'] }, 'PATCH /api/projects/1': project(), 'POST /api/projects/1/survey': job() })
    const { shown } = await page(SettingsView, { at: '/projects/1/settings', before: open })
    return { asked, shown, save: async () => { await shown.findAll('button').at(-1)!.trigger('click'); await settled() }, sent: () => asked.filter(one => one.method !== 'GET') }
  }
  test('are shown as they are, changed a line each, and followed by a survey', async () => {
    const { shown, save, sent } = await form()
    expect(shown.get<HTMLTextAreaElement>('#effects').element.value).toBe('signal-kit network\nsluice-display#DisplayView framework extended')
    await shown.get('#exclude').setValue('dist/**\n\n  old/** ')
    await shown.get('#effects').setValue('odd-kit   pure')
    await save()
    expect(sent().map(one => [one.path, one.body])).toEqual([['/api/projects/1', { settings: { ...settings, exclude: ['dist/**', 'old/**'], effects: [{ match: 'odd-kit', effect: 'pure' }] } }], ['/api/projects/1/survey', undefined]])
    expect(shown.text()).toContain('Saved; surveying again.')
  })
  test.each(['signal-kit', 'signal-kit network sometimes'])('%s is no entry, and nothing is sent', async entry => {
    const { shown, save, sent } = await form()
    await shown.get('#effects').setValue(entry)
    await save()
    expect(shown.get('.bad').text()).toContain(`"${entry}" is no entry`)
    expect(sent()).toEqual([])
  })
})

describe('the lay of the land', () => {
  const land = (more: Partial<Land> = {}, numbers: Partial<SurveySummary> = {}): Land => ({
    summary: summary(numbers), start: 'src', modules: [module('src/booking')], nextSteps: [], problems: [], unresolved: [], excluded: [],
    graphs: [{ within: 'src', cycles: [], dependencies: [{ from: 'src/booking', to: 'src/locks', references: 3, atRunTime: 3, cut: false }], nodes: ['booking', 'locks'].map(label => ({ id: `src/${label}`, label, lines: 50, types: 2, opens: label === 'locks', verdicts })) }], ...more
  })
  const view = async (answer: Land, address = '') => {
    serve({ ...opened, 'GET /api/projects/1/land': answer, 'GET /api/projects/1/branch': null })
    const { shown, router } = await page(LandView, { at: `/projects/1${address}`, before: open })
    return { shown, router, head: shown.get('h1').text().replace(/\s+/g, ' ') }
  }
  test('is one sentence: cycles and what breaks them, and what can be tested', async () => {
    expect((await view(land({}, { moduleCycles: 2, modulesInCycles: 5, cutReferences: 7, proven: false }))).head).toBe('51 types in 9 modules. 2 cycles hold 5 modules together; 7 references are enough to break them as far as we know. Of 20 types with logic, 10 can be tested alone and 5 need the outside (25 %).')
    expect((await view(land({}, { moduleCycles: 1, modulesInCycles: 2, cutReferences: 1 }))).head).toContain('1 cycle holds 2 modules together; 1 reference is enough to break it.')
    expect((await view(land())).head).toContain('No module depends on itself in a circle.')
  })
  test('says what it could not read, and shows it', async () => {
    const { shown, head } = await view(land({ unresolved: [{ file: 'src/a.ts', line: 3, column: 1, name: 'gone', reason: 'nothing is called so' }], problems: [{ file: 'src/b.ts', line: 1, message: 'a bracket is missing' }] }, { unresolved: 1, problems: 1, unreadFiles: 2, notInstalled: ['a', 'b', 'c', 'd'] }))
    expect(head).toContain('4 dependencies not installed (a, b, c, …), so much does not resolve')
    expect(head).toContain('1 name not understood. 2 files of kinds that are not read. 1 problem in reading.')
    await shown.get('a[href="#not-understood"]').trigger('click')
    expect(shown.text()).toContain('nothing is called so')
    await shown.get('a[href="#problems"]').trigger('click')
    expect(shown.text()).toContain('a bracket is missing')
    expect(shown.text()).not.toContain('nothing is called so')
  })
  test('leads from what is worth doing to where it is told', async () => {
    const steps = [finding('Desk', { id: 'kinds' }), finding('booking', { id: 'cycle', kind: 'module-cycle', about: 'cycle', subject: 'modules:src:booking' })]
    const { shown } = await view(land({ nextSteps: steps }))
    expect(shown.findAll('a.step').map(one => one.attributes('href'))).toEqual(['/projects/1/findings?finding=kinds', '/projects/1/cycles?cycle=modules:src:booking'])
    expect((await view(land())).shown.text()).toContain('Nothing is found that is worth changing.')
  })
  test('what is chosen on it tells its figures', async () => {
    const { shown } = await view(land(), '?module=src/booking')
    expect(shown.get('footer.chosen').text().replace(/\s+/g, ' ')).toContain('booking 2 types, 50 lines; used by 1, uses 2 types outside; instability 0.67, abstractness 0.00, distance 0.33.')
  })
  test('nothing surveyed yet can be surveyed', async () => {
    const asked = serve({ ...opened, 'GET /api/projects/1': project({ surveyId: null }), 'POST /api/projects/1/survey': job(), 'GET /api/projects/1/branch': null })
    const { shown } = await page(LandView, { before: open })
    expect(shown.text()).toContain('Nothing has been surveyed yet.')
    await shown.get('button').trigger('click')
    await settled()
    expect(asked.at(-1)!.path).toBe('/api/projects/1/survey')
  })
})

test('modules are sorted by any figure, up and down, those without one at an end', async () => {
  serve({ ...opened, 'GET /api/projects/1/land': { modules: [module('b', { lines: 10, instability: null }), module('a', { lines: 30 }), module('c', { lines: 20, instability: 0.1 }), module('empty', { types: 0 })] } })
  const { shown } = await page(ModulesView, { at: '/projects/1/modules', before: open })
  const names = () => shown.findAll('tbody tr').map(one => one.get('a').text()).join()
  const sort = async (label: string) => { await shown.findAll('thead button').find(one => one.text().startsWith(label))!.trigger('click'); await settled(); return names() }
  expect(names()).toBe('a,b,c')
  expect([await sort('lines'), await sort('lines'), await sort('I')]).toEqual(['a,c,b', 'b,c,a', 'a,c,b'])
})

describe('in thought', () => {
  const fabric: Fabric = {
    modules: ['src/booking', 'src/locks'], dependencies: [0, 1, 2, 1, 0, 1, 2, 0, 3],
    types: [{ id: 'src/booking/desk.ts#Desk', module: 0, outermost: 0, lines: 9, verdict: null }, { id: 'src/locks/lock.ts#Lock', module: 1, outermost: 1, lines: 9, verdict: null }, { id: 'src/locks/log.ts#Log', module: 1, outermost: 2, lines: 9, verdict: null }]
  }
  const panel = async (moves: { type: string; module: string }[]) => {
    const calls: unknown[][] = []
    const note = (name: string) => (...given: unknown[]) => { calls.push([name, ...given]) }
    const state = {
      moves: ref(moves), struck: ref([]), before: shallowRef<RearrangedProject>(rearranged(fabric, { moves: [], struck: [] })), after: shallowRef<RearrangedProject>(rearranged(fabric, { moves, struck: [] })), isChanged: ref(moves.length > 0),
      helpful: ref(moves.length > 0 ? [] : [{ type: 'src/booking/desk.ts#Desk', module: 'src/locks', cost: 0, cycles: 0 }]), move: note('move'), stay: note('stay'), toggle: note('toggle'), clear: note('clear')
    }
    const { shown } = await page(WhatIfPanel, { props: { project: 1, fabric, within: 'src', state } })
    return { calls, shown, press: async (words: string) => { await shown.findAll('button').find(one => one.text() === words)!.trigger('click') } }
  }
  test('the cycles are counted as they are, with what would help', async () => {
    const { calls, shown, press } = await panel([])
    expect(shown.get('[role=status]').text()).toContain('1 module cycle, 2 references to change.')
    expect(shown.text()).toContain('Desk to locks: no cycle left')
    await press('Strike out')
    expect(calls).toEqual([['toggle', { within: 'src', from: 'src/booking', to: 'src/locks' }]])
  })
  test('and as they would be, with what is different for each module', async () => {
    const { calls, shown, press } = await panel([{ type: 'src/booking/desk.ts#Desk', module: 'src/locks' }])
    expect(shown.get('[role=status]').text().replace(/\s+/g, ' ')).toContain('No module cycle instead of 1, holding 0 instead of 2 modules; 0 references to change instead of 2.')
    expect(shown.text()).toContain('No move of a single type makes the cycles cheaper to break.')
    await press('Leave it')
    await press('As it is')
    expect(calls).toEqual([['stay', 'src/booking/desk.ts#Desk'], ['clear']])
  })
})

describe('history', () => {
  const survey = (id: number, more: Partial<HistoryRow> = {}): HistoryRow => ({ id, kind: 'survey', at: `2026-05-0${id}T08:00:00.000Z`, commit: null, subject: '', shares: { verdicts: { ...verdicts, alone: id }, welded: 9 - id, bolted: 1, plugged: id, findings: 3, types: 51, lines: 4000, modulesInCycles: 5 - id }, ...more })
  const none: ComparisonView = { closed: [], opened: [], gone: [], come: [], freed: [], tied: [], modules: [] }
  const view = async (rows: HistoryRow[], answers: Record<string, unknown> = {}) => {
    const asked = serve({ ...opened, 'GET /api/projects/1/history': rows, 'GET /api/projects/1/git': { branch: 'main', commit: 'abc', uncommitted: [] }, 'GET /api/projects/1/changing': null, 'GET /api/projects/1/compare': none, ...answers })
    const { shown } = await page(HistoryView, { at: '/projects/1/history', before: open })
    return { shown, compared: () => asked.filter(one => one.path.endsWith('/compare')).map(one => [...one.query.values()].join(' to ')) }
  }
  test('compares the last two, or those that are chosen, the earlier with the later', async () => {
    const { shown, compared } = await view([survey(1), survey(2), survey(3), survey(4, { kind: 'commit', commit: '0123456789ab', subject: 'Gates close by themselves' })])
    expect(compared()).toEqual(['3 to 4'])
    expect(shown.get('h1').text()).toContain('went from 6 to 9, modules in cycles from 4 to 1')
    const moments = shown.findAll('.moment')
    await moments[0]!.trigger('click')
    await settled()
    expect(compared().at(-1)).toBe('1 to 4')
    await shown.get('[aria-label="Compare to 2026-05-02 08:00"]').setValue()
    await settled()
    expect(compared().at(-1)).toBe('1 to 2')
    // What is later than the later one becomes that.
    await moments[2]!.trigger('keydown', { key: 'Enter' })
    await settled()
    expect(compared().at(-1)).toBe('2 to 3')
    expect(shown.text()).toContain('01234567')
  })
  test('one survey has nothing to be compared with', async () => {
    const { shown, compared } = await view([survey(1)])
    expect([compared(), shown.get('.right .empty').text()]).toEqual([[], 'One survey so far: survey again after a change, or survey earlier commits.'])
  })
  test('earlier commits are surveyed one after the other, and it is told how far', async () => {
    const { shown } = await view([survey(1)], { 'POST /api/projects/1/history': job({ id: 8, kind: 'history' }) })
    await shown.get('form.commits').trigger('submit')
    await settled()
    const stream = Stream.opened.find(one => one.url === '/api/jobs/8/events')!
    stream.tell(job({ id: 8, done: 3, total: 20 }))
    await settled()
    expect(shown.get('[role=status]').text()).toContain('Surveying commit 4 of 20')
    stream.tell(job({ id: 8, state: 'failed', error: 'Commit 0123 cannot be read.' }))
    await settled()
    expect([shown.find('[role=status]').exists(), shown.get('.told.bad').text()]).toEqual([false, 'Commit 0123 cannot be read.'])
  })
  test('a comparison tells what opened and closed, what was freed and tied, and where', async () => {
    const told = async (more: Partial<ComparisonView>) => (await page(ComparisonPanel, { props: { comparison: { ...none, ...more }, root: '/home', project: 1 } })).shown
    expect((await told({})).text()).toContain('Nothing is different')
    const place = { file: 'src/lock.ts', line: 7, commit: 'abc1234' }
    const shown = await told({
      opened: [{ level: 'modules', members: ['src/a', 'src/b'], joined: ['src/b'] }], closed: [{ level: 'types', members: ['src/a.ts#A'] }], tied: [{ type: 'src/c.ts#C', before: null, after: 'needs-outside' }],
      freed: Array.from({ length: 14 }, (_, at) => ({ type: `src/t.ts#T${at}`, before: 'needs-outside' as const, after: 'alone' as const })), come: [{ from: 'src/a', to: 'src/b', references: 2, places: [place, place, place] }], gone: [{ from: 'src/b', to: 'src/c', references: 1, places: [place] }]
    })
    const text = shown.text().replace(/\s+/g, ' ')
    for (const part of ['Opened: a cycle of modules with a, b (b came in)', 'Closed: the cycle of types with A', '1 type tied to the outside: C (new → needs the outside)', '14 types freed:', '1 dependency added', '1 dependency gone']) expect(text).toContain(part)
    expect([text.includes('T11'), text.includes('T12'), shown.findAll('table a').length]).toEqual([true, false, 2])
    await shown.get('button').trigger('click')
    expect(shown.text()).toContain('T13')
  })
})

test('changes stand with their state, and why one was refused', async () => {
  serve({ ...opened, 'GET /api/projects/1/changes': [change({ state: 'written' }), change({ id: 4, state: 'refused', refusal: 'It has no public members.' })] })
  const { shown } = await page(ChangesView, { at: '/projects/1/changes', before: open })
  expect(shown.get('h1').text()).toBe('2 changes, 1 of them in your files.')
  expect(shown.findAll('tbody tr')[1]!.findAll('td').map(one => one.text())).toEqual(['Extract an interface from Lock', 'refused', 'It has no public members.'])
})
