/** @jest-environment jsdom */
import type { BranchView, GraphView } from '@hollowmoor/contract/views'
import { page, serve, settled, Stream } from './served-page.js'
import { job, project } from './samples.js'
import { drawingText } from '../src/save-drawing.js'
import BranchPanel from '../src/views/land/BranchPanel.vue'
import WatershedDrawing from '../src/views/land/WatershedDrawing.vue'
import { useProjectStore } from '../src/stores/project.js'

const verdicts = (alone: number, outside: number) => ({ 'alone': alone, 'with-real-classes': 0, 'needs-outside': outside, 'not-known': 0 })
const node = (label: string, more: Partial<GraphView['nodes'][number]> = {}) => ({ id: `src/${label}`, label, lines: 400, types: 4, opens: false, verdicts: verdicts(3, 1), ...more })
const flow = (from: string, to: string, references: number, cut = false) => ({ from: `src/${from}`, to: `src/${to}`, references, atRunTime: references, cut })
const graph = (more: Partial<GraphView> = {}): GraphView => ({
  within: 'src', cycles: [['src/booking', 'src/locks']], nodes: [node('booking'), node('locks', { opens: true }), node('words', { verdicts: verdicts(0, 0), lines: 3, types: 1 })],
  dependencies: [flow('booking', 'locks', 7), flow('locks', 'booking', 1, true), flow('booking', 'words', 2)], ...more
})

describe('the map', () => {
  const drawn = async (shownGraph: GraphView, selected: string | null = null) => (await page(WatershedDrawing, { props: { graph: shownGraph, selected } })).shown
  test('tells each module in words: its size, what can be tested, what it uses', async () => {
    const shown = await drawn(graph())
    expect(shown.findAll('.stone').map(one => one.attributes('aria-label')).sort()).toEqual([
      'booking: 4 types, 400 lines; 3 of 4 types with logic can be tested without the outside; uses 2, used by 1', 'locks: 4 types, 400 lines; 3 of 4 types with logic can be tested without the outside; uses 1, used by 1; can be opened', 'words: 1 type, 3 lines; no logic; uses 0, used by 1'
    ])
    expect([shown.findAll('.pool').length, shown.findAll('.back').length > 0, shown.findAll('.ring').length]).toEqual([1, true, 2])
  })
  test('what flows back leads to its cycle, by pointer and by keyboard', async () => {
    const shown = await drawn(graph()), tag = shown.get('[aria-label="locks to booking flows back: 1 reference"]')
    expect(tag.text()).toBe('1 ref')
    await tag.trigger('click')
    await tag.trigger('keydown', { key: 'Enter' })
    expect(shown.emitted('cut')).toEqual([['src/locks', 'src/booking'], ['src/locks', 'src/booking']])
  })
  test('a module is chosen, and one that holds others is opened', async () => {
    const shown = await drawn(graph()), stone = (label: string) => shown.findAll('.stone').find(one => one.attributes('aria-label')!.startsWith(label))!
    await stone('booking').trigger('click')
    await stone('booking').trigger('keydown', { key: 'Enter' })
    await stone('locks').trigger('keydown', { key: 'Enter' })
    await stone('locks').trigger('keydown', { key: ' ' })
    await stone('booking').trigger('dblclick')
    await stone('locks').trigger('dblclick')
    await shown.get('svg').trigger('click')
    expect(shown.emitted('select')).toEqual([['src/booking'], ['src/booking'], ['src/locks'], [null]])
    expect(shown.emitted('open')).toEqual([['src/locks'], ['src/locks']])
  })
  test('of what is chosen the flows stand out, with their references', async () => {
    const shown = await drawn(graph(), 'src/words')
    expect([shown.findAll('.stone.chosen').length, shown.findAll('g.dim').length]).toEqual([1, 2])
    expect(shown.findAll('.tag').map(one => one.text())).toContain('2 refs')
  })
  test('of many modules only what flows back is drawn until one is chosen, and of very much of that the widest', async () => {
    const names = Array.from({ length: 20 }, (_, at) => `m${at}`)
    const many = graph({ nodes: names.map(name => node(name)), cycles: [], dependencies: names.slice(1).map((name, at) => flow(name, names[at]!, 3)) })
    expect((await drawn(many)).findAll('.ribbon')).toHaveLength(0)
    expect((await drawn(many, 'src/m5')).findAll('.ribbon')).toHaveLength(2)
    const tangled = graph({ nodes: names.map(name => node(name)), cycles: [names.map(name => `src/${name}`)], dependencies: names.flatMap((from, a) => names.slice(a + 1, a + 3).flatMap((to, step) => [flow(from, to, 9), flow(to, from, 1 + a + step, true)])) })
    const shown = await drawn(tangled)
    expect(shown.findAll('path.back')).toHaveLength(12)
    expect(shown.get('.more').text()).toContain('25 more dependencies with a module chosen, or under Cycles.')
  })
  test('is saved as a drawing of its own, with what the style sheet says and nothing of the page', async () => {
    const shown = await drawn(graph()), text = drawingText(shown.get('svg').element as unknown as SVGSVGElement)
    expect(text).toMatch(/^<svg[^>]* xmlns="http:\/\/www\.w3\.org\/2000\/svg"/)
    expect(text).toContain('locks')
    expect(text).not.toMatch(/<(?:g|path|circle|text|rect)\b[^>]* (?:class|role|tabindex)=/)
    // What is on the page stays as it was.
    expect(shown.findAll('.stone[role=button]')).toHaveLength(3)
  })
})

describe('what a branch adds', () => {
  const comparison = { closed: [], opened: [], gone: [], freed: [], modules: [], come: [{ from: 'src/a', to: 'src/b', references: 2, places: [] }], tied: [{ type: 'src/c.ts#C', before: null, after: 'needs-outside' as const }] }
  const told = async (branch: BranchView | null | (() => BranchView)) => {
    serve({ 'GET /api/projects/1': project(), 'GET /api/projects/1/stale': { changed: [] }, 'GET /api/projects/1/branch': branch })
    return (await page(BranchPanel, { props: { project: 1 }, before: () => useProjectStore().open(1) })).shown
  }
  test('is one sentence, with the rest behind it', async () => {
    const shown = await told({ base: 'main', commit: 'abc', job: null, comparison })
    expect(shown.text()).toBe('Against main this branch adds 1 dependency, opens 0 cycles, frees 0 and ties 1 type.')
    await shown.get('a').trigger('click')
    expect(shown.text()).toContain('1 type tied to the outside:')
    await shown.get('a').trigger('click')
    expect(shown.find('.sheet').exists()).toBe(false)
  })
  test('is nothing where there is no branch', async () => expect((await told(null)).text()).toBe(''))
  test('waits for the survey of where it began', async () => {
    let known = false
    const shown = await told(() => ({ base: 'main', commit: 'abc', job: known ? null : 5, comparison: known ? comparison : null }))
    expect(shown.text()).toContain('Surveying main where this branch left it')
    known = true
    Stream.opened.find(one => one.url === '/api/jobs/5/events')!.tell(job({ state: 'done' }))
    await settled()
    expect(shown.text()).toContain('Against main this branch adds')
  })
})
