/** @jest-environment jsdom */
import type { ChangeView as Change, FileView, TrialView } from '@hollowmoor/contract/views'
import { page, serve, settled, Stream } from './served-page.js'
import { change, job, project } from './samples.js'
import ChangeView from '../src/views/changes/ChangeView.vue'
import SideBySide from '../src/views/changes/SideBySide.vue'
import StepBatches from '../src/views/changes/StepBatches.vue'
import TestsBeside from '../src/views/changes/TestsBeside.vue'
import TrialPanel from '../src/views/changes/TrialPanel.vue'
import { useProjectStore } from '../src/stores/project.js'

const file = (path: string, hunks = 2, more: Partial<FileView> = {}): FileView => ({
  path, isNew: false, isGone: false, hunks: Array.from({ length: hunks }, (_, at) => ({ oldStart: 1 + at * 20, newStart: 1 + at * 20, lines: [' a', '-b', '+B'] })), ...more
})
const step = (title: string, more: Partial<Change['steps'][number]> = {}) => ({ id: `move-type:src/${title}.ts#${title}`, choices: {}, title, notes: [], edits: 1, ...more })

describe('what a change does to a file', () => {
  const besides = async (refused: 'all' | number[] | undefined, hunks = 3) => {
    const { shown } = await page(SideBySide, { props: { file: file('src/lock.ts', hunks), refused, frozen: false, root: '/home/keeper' } })
    return { shown, decided: () => shown.emitted<[unknown]>('decide')?.at(-1)?.[0] }
  }
  test.each<[string, 'all' | number[] | undefined, number, unknown]>([
    ['one of three', undefined, 1, [1]], ['a second', [2], 0, [0, 2]], ['the last that was accepted', [0, 2], 1, 'all'], ['one taken back', [1, 2], 2, [1]], ['the only one taken back', [1], 1, undefined], ['one taken back of all', 'all', 0, [1, 2]]
  ])('%s of its places', async (_, before, at, after) => {
    const { shown, decided } = await besides(before)
    await shown.findAll('.bar input')[at]!.trigger('change')
    expect(decided()).toEqual(after)
  })
  test('as a whole', async () => {
    const one = await besides([1])
    await one.shown.get('header input').trigger('change')
    expect(one.decided()).toBe('all')
    const other = await besides('all')
    await other.shown.get('header input').trigger('change')
    expect(other.decided()).toBeUndefined()
    expect(other.shown.findAll('.hunk.refused')).toHaveLength(3)
  })
  test('has one side where it is new or goes', async () => {
    const cells = async (more: Partial<FileView>) => (await page(SideBySide, { props: { file: file('src/lock.ts', 1, more), refused: undefined, frozen: true, root: '' } })).shown.findAll('tr')[0]!.findAll('td').length
    expect([await cells({}), await cells({ isNew: true }), await cells({ isGone: true })]).toEqual([4, 2, 2])
  })
})

describe('batches', () => {
  const divided = async (more: Partial<Change['steps'][number]>, props = {}) => (await page(StepBatches, { props: { step: step('Lock', more), frozen: false, dividing: false, ...props } })).shown
  test('are for steps that touch many files', async () => {
    expect((await divided({ files: 3 })).text()).toBe('')
    const shown = await divided({ files: 9 })
    await shown.get('button').trigger('click')
    await shown.get('form').trigger('submit')
    expect(shown.emitted('divide')).toEqual([[4]])
    expect(shown.find('form').exists()).toBe(false)
  })
  test('tell what is in each, and where there can be but one', async () => {
    const many = (await divided({ files: 12, batches: [Array.from({ length: 10 }, (_, at) => `src/f${at}.ts`), ['src/a.ts', 'src/b.ts']] })).text()
    expect(many).toContain('In 2 batches')
    expect(many).toContain('10 files: f0.ts, f1.ts, f2.ts, f3.ts, f4.ts, f5.ts, f6.ts, f7.ts and 2 more')
    expect((await divided({ files: 6, batches: [['src/a.ts']] })).text()).toContain('Its 6 files have to change at once')
    expect((await divided({ files: 6 }, { dividing: true })).text()).toBe('Each batch is compiled…')
  })
})

test('old and new test stand side by side, with what each sets up', async () => {
  const beside = { path: 'test/office.test.ts', line: 12, text: ['a', 'b'], newPath: 'test/officeCharacterization.test.ts', old: { lines: 9, realObjects: 4 }, new: { lines: 3, realObjects: 1, doubles: 2 } }
  const lines = ['+import x', '+', '+/** An Office by itself, to ask it what it does. */', '+function office() {']
  const { shown } = await page(TestsBeside, { props: { beside, files: [{ path: beside.newPath, isNew: true, isGone: false, hunks: [{ oldStart: 0, newStart: 1, lines }] }], root: '/home/keeper' } })
  expect(shown.text()).toContain('9 lines of set-up, 4 real objects')
  expect(shown.get('strong.good').text()).toBe('3 lines of set-up, 1 real object, 2 doubles')
  expect(shown.findAll('pre')[1]!.text()).toBe('/** An Office by itself, to ask it what it does. */\nfunction office() {')
  expect(shown.text()).toContain('officeCharacterization.test.ts:3')
})

describe('a trial on a copy', () => {
  const side = (passed: number, failed: number, status: number | null = 0, ended: string | null = null) => ({ compile: { status, ended, seconds: 1, output: 'compiled ' }, test: { status, ended, seconds: 1, output: 'tested' }, passed, failed })
  const trial = (more: Partial<TrialView> = {}): TrialView => ({ verdict: 'All 39 tests pass as before.', good: true, before: side(39, 0), after: side(39, 0), broken: [], failedAlready: [], mended: [], gone: [], lines: null, ...more })
  const tried = async (view: Change, props = {}) => (await page(TrialPanel, { props: { change: view, project: project(), job: null, output: '', ...props } })).shown
  test('runs only commands that were seen and confirmed', async () => {
    const asked = serve({ 'PATCH /api/projects/1': project(), 'POST /api/changes/3/trial': change({ job: 5 }) })
    const shown = await tried(change())
    expect(asked).toEqual([])
    await shown.findAll('input')[1]!.setValue('npm test -- lock')
    await shown.get('form').trigger('submit')
    await settled()
    expect(asked.map(one => [one.method, one.path, one.body])).toEqual([
      ['PATCH', '/api/projects/1', { commands: { compile: 'npx tsc --noEmit', test: 'npm test -- lock', seconds: 120, confirmed: true } }], ['POST', '/api/changes/3/trial', undefined]
    ])
    expect([shown.emitted('confirmed'), shown.emitted('started')].map(one => one?.length)).toEqual([1, 1])
  })
  test('does not start where the commands are refused', async () => {
    const asked = serve({ 'PATCH /api/projects/1': { code: 'COMMANDS', message: 'The time limit is too long.' } })
    const shown = await tried(change())
    await shown.get('form').trigger('submit')
    await settled()
    expect([shown.get('[role=alert]').text(), shown.emitted('started'), asked.length]).toEqual(['The time limit is too long.', undefined, 1])
  })
  test('tells what broke, what had failed already, and what ran', async () => {
    const bad = await tried(change({ trial: trial({ verdict: 'One test is broken.', good: false, after: side(37, 2, 1), broken: ['locks fill'], failedAlready: ['gates rust'], lines: { changed: 17, run: 15, testFiles: ['test/lock.test.ts'] } }) }))
    const shownRows = bad.findAll('tbody tr').filter(one => one.isVisible()).map(one => one.text())
    expect(bad.get('strong').classes()).toContain('bad')
    expect(shownRows).toEqual(['compilepassesfails (1)', 'tests39 pass, 0 fail37 pass, 2 fail', 'broken by thislocks fill', 'failed alreadygates rust', 'changed lines15 of 17 ran, in test/lock.test.ts'])
    const slow = await tried(change({ trial: trial({ before: side(0, 0, null, 'time limit'), after: { ...side(0, 0), compile: null } }) }))
    expect(slow.find('tbody tr').text()).toBe('compileended: time limitnot run')
    expect((await tried(change({ trial: trial(), state: 'written' }))).find('form').exists()).toBe(false)
  })
  test('tells which installed dependencies the commands changed, and nothing where they changed none', async () => {
    const files = Array.from({ length: 10 }, (_, index) => `node_modules/dep/${index}.js`)
    const told = (await tried(change({ trial: trial({ changedDependencies: files }) }))).get('[role=alert]').text().replace(/\s+/g, ' ')
    expect(told).toContain('changed 10 files of your installed dependencies')
    expect(told).toContain('node_modules/dep/7.js and 2 more.')
    expect((await tried(change({ trial: trial({ changedDependencies: [] }) }))).find('[role=alert]').exists()).toBe(false)
  })
  test('shows what is printed as it runs, and can be ended', async () => {
    const asked = serve({ 'POST /api/jobs/5/cancel': { cancelled: true } })
    const shown = await tried(change(), { job: job({ kind: 'trial', phase: 'Tests, after' }), output: 'PASS lock' })
    expect([shown.get('[role=status]').text(), shown.get('pre').text()]).toEqual(['Tests, after… Cancel', 'PASS lock'])
    await shown.get('button').trigger('click')
    expect(asked.map(one => one.path)).toEqual(['/api/jobs/5/cancel'])
  })
})

describe('a change', () => {
  const opened = async (view: Change | (() => Change), answers: Record<string, unknown> = {}) => {
    const asked = serve({ 'GET /api/projects/1': project(), 'GET /api/projects/1/stale': { changed: [] }, 'GET /api/projects/1/git': { branch: 'main', commit: 'abc1234', uncommitted: [] }, 'GET /api/changes/3': view, ...answers })
    const { shown } = await page(ChangeView, { at: '/projects/1/changes/3', before: () => useProjectStore().open(1) })
    return { asked, shown, sent: () => asked.filter(one => one.method !== 'GET').map(one => [one.method, one.path, one.body]), press: async (words: string) => { await shown.findAll('button').find(one => one.text() === words)!.trigger('click'); await settled() } }
  }
  const three = change({ title: 'Three steps', steps: [step('Lock'), step('Gate'), step('Desk')], files: [file('src/lock.ts')] })
  test('is written only by its button, and undone by another', async () => {
    let state: Change['state'] = 'planned'
    const { shown, sent, press } = await opened(() => change({ state, files: [file('src/lock.ts')] }), { 'POST /api/changes/3/write': () => { state = 'written'; return change() }, 'POST /api/changes/3/undo': () => { state = 'undone'; return change() } })
    expect(shown.get('h1').text()).toContain('1 file would change.')
    expect(sent()).toEqual([])
    await press('Write to my files')
    expect(shown.get('h1').text()).toContain('written to your files.')
    await press('Undo')
    expect(shown.get('h1').text()).toContain('undone; your files are as they were.')
    expect(sent().map(([, path]) => path)).toEqual(['/api/changes/3/write', '/api/changes/3/undo'])
  })
  test('keeps the decisions on other files when one is made, and drops one that is taken back', async () => {
    const { shown, sent } = await opened(change({ files: [file('src/lock.ts'), file('src/gate.ts')], decisions: { refused: { 'src/gate.ts': [1] } } }), { 'PUT /api/changes/3/decisions': change() })
    await shown.findAll('.file')[0]!.findAll('.bar input')[0]!.trigger('change')
    await settled()
    await shown.findAll('.file')[1]!.findAll('.bar input')[1]!.trigger('change')
    await settled()
    expect(sent().map(([, , body]) => body)).toEqual([{ refused: { 'src/gate.ts': [1], 'src/lock.ts': [0] } }, { refused: {} }])
  })
  test('steps are done earlier, left out, and planned again', async () => {
    const { shown, sent } = await opened(three, { 'POST /api/changes/3/again': three })
    await shown.findAll('button').filter(one => one.text() === 'do it earlier')[1]!.trigger('click')
    await settled()
    await shown.findAll('button').filter(one => one.text() === 'leave it out')[0]!.trigger('click')
    await settled()
    expect(sent().map(([, , body]) => body)).toEqual([{ steps: [0, 2, 1] }, { steps: [1, 2] }])
  })
  test('that does not fit any more can go without what does not', async () => {
    const unfit = change({ ...three, state: 'refused', refusal: 'Gate is gone.', steps: [step('Lock'), step('Gate', { misfit: 'Gate is gone.' }), step('Desk')] })
    const { shown, sent, press } = await opened(unfit, { 'POST /api/changes/3/again': unfit })
    expect(shown.get('h1').text()).toContain('it cannot be done like this.')
    expect(shown.findAll('.unfit li').map(one => one.text())).toEqual(['Lock: fits', 'Gate: Gate is gone.', 'Desk: fits'])
    await press('Plan it without what does not fit')
    expect(sent()).toEqual([['POST', '/api/changes/3/again', { steps: [0, 2] }]])
  })
  test('cannot be written while what was refused would not compile, and says where', async () => {
    const { shown } = await opened(change({ files: [file('src/lock.ts')], problems: ['src/desk.ts:4: Gate is not known', 'another'], outdated: ['a', 'b', 'c', 'd', 'e'].map(one => `src/${one}.ts`) }))
    expect(shown.get('[role=alert]').text()).toBe('With what you refused it would not compile: src/desk.ts:4: Gate is not known (and 1 more)')
    expect(shown.findAll('button').find(one => one.text() === 'Write to my files')!.attributes('disabled')).toBeDefined()
    expect(shown.get('.outdated').text()).toContain('src/a.ts, src/b.ts, src/c.ts, src/d.ts and 1 more. It would not be written like this.')
  })
  test('files stand under the batch that they are in', async () => {
    const { shown } = await opened(change({ files: ['a', 'b', 'c'].map(one => file(`src/${one}.ts`)), steps: [step('Lock', { files: 4, batches: [['src/c.ts'], ['src/b.ts']] })] }))
    expect(shown.findAll('h2.batch').map(one => one.text())).toEqual(['Batch 1 of 2', 'Batch 2 of 2', 'In no batch'])
    expect(shown.findAll('.file h2').map(one => one.text().trim())).toEqual(['src/c.ts', 'src/b.ts', 'src/a.ts'])
  })
  test('is committed to a branch of that name, a commit a step or one for all', async () => {
    const { shown, sent } = await opened(three, { 'POST /api/changes/3/branch': { branch: 'hollowmoor/move-type-3', commits: ['1', '2', '3'] } })
    const forms = shown.findAll('form')
    await forms.at(-1)!.findAll('input[type=radio]')[1]!.setValue()
    await forms.at(-1)!.trigger('submit')
    await settled()
    expect(sent()).toEqual([['POST', '/api/changes/3/branch', { name: 'hollowmoor/move-type-3', each: 'all' }]])
    expect(shown.text()).toContain('3 commits on hollowmoor/move-type-3')
  })
  test('what was measured is better or worse by what is wanted of it', async () => {
    const { shown } = await opened(change({ effects: [
      { label: 'welded joints', before: 4, after: 3, better: 'less' }, { label: 'types alone', before: 4, after: 3, better: 'more' }, { label: 'types', before: 4, after: 5, better: 'neither' }, { label: 'cycles', before: 1, after: 1, better: 'less' }
    ] }))
    expect(shown.findAll('aside table')[0]!.findAll('tr').map(one => one.findAll('td')[2]!.classes().filter(name => name !== 'figure'))).toEqual([['good'], ['heed'], [], []])
  })
  test('follows its job to the end, and then shows what came of it', async () => {
    let view = change({ state: 'planning', job: 5 })
    const { shown } = await opened(() => view)
    expect(shown.get('h1').text()).toContain('being planned and checked…')
    const stream = Stream.opened.find(one => one.url === '/api/jobs/5/events')!
    stream.tell(job({ kind: 'plan', phase: 'Tests', output: 'first ' }))
    stream.tell(job({ kind: 'plan', phase: 'Tests', output: 'second' }))
    await settled()
    expect(shown.get('pre.output').text()).toBe('first second')
    view = change({ state: 'refused', refusal: 'It has no public members.' })
    stream.tell(job({ kind: 'plan', state: 'done' }))
    await settled()
    expect(shown.get('h1').text()).toBe('Extract an interface from Lock: it cannot be done. It has no public members.')
    expect(stream.closed).toBe(true)
  })
  test('an error of the server is told, and nothing is taken for done', async () => {
    const { shown, press } = await opened(change({ files: [file('src/lock.ts')] }), { 'POST /api/changes/3/write': { code: 'OUTDATED', message: 'src/lock.ts has changed since; plan it again.' } })
    await press('Write to my files')
    expect(shown.get('[role=alert]').text()).toBe('src/lock.ts has changed since; plan it again.')
    expect(shown.get('h1').text()).toContain('would change')
  })
})
