import { execFileSync } from 'node:child_process'
import { cpSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import request from 'supertest'
import type { BranchView, ChangingView, ClassView, ComparisonView, FindingRow, FindingView, HistoryRow, LandView, OfferView, PluggedView, ProjectView } from '@hollowmoor/contract/views'
import type { Fabric } from '@hollowmoor/core/measure/rearrangement'
import { rearranged } from '@hollowmoor/core/measure/rearrangement'
import type { Started } from '../dist/serve.js'
// The built server: its threads run built files.
import { serve } from '../dist/serve.js'

const DEMO = resolve('demo/withymere/typescript')
const STATIC = 'static-used-from-many-places:src/records/logbook.ts#Logbook'
let data: string, root: string, started: Started
const get = (path: string) => request(started.server).get(`/api/projects/1${path}`)
const send = (method: 'post' | 'put' | 'delete', path: string, body: object = {}) => request(started.server)[method](`/api/projects/1${path}`).send(body)
const git = (...args: string[]) => execFileSync('git', ['-c', 'user.name=t', '-c', 'user.email=t@example.org', ...args], { cwd: root, encoding: 'utf8' }).trim()
const edit = (path: string, change: (text: string) => string) => writeFileSync(join(root, path), change(readFileSync(join(root, path), 'utf8')))
const survey = async () => { await send('post', '/survey'); await started.idle() }

beforeAll(async () => {
  data = mkdtempSync(join(tmpdir(), 'hollowmoor-findings-'))
  root = join(data, 'code')
  cpSync(DEMO, root, { recursive: true, filter: path => !path.slice(DEMO.length).includes('node_modules') })
  symlinkSync(resolve('node_modules'), join(root, 'node_modules'))
  writeFileSync(join(root, '.gitignore'), 'node_modules\n')
  git('init', '-q', '-b', 'main')
  git('add', '-A')
  git('commit', '-qm', 'The office as it was')
  git('checkout', '-qb', 'logged')
  edit('src/tolls/concession.ts', text => `import { Logbook } from '../records/logbook.js';\n${text.replace(/(private winterShare\([^{]*\{)/, "$1\n    Logbook.write('tolls', 'asked');")}`)
  git('commit', '-qam', 'Concessions are logged')
  const outcome = await serve({ port: 0, dataFolder: join(data, 'db'), open: root })
  if ('refused' in outcome) throw new Error(outcome.message)
  started = outcome
  await started.idle()
})
afterAll(async () => { await started.stop(); rmSync(data, { recursive: true, force: true }) })

describe('findings', () => {
  test('are listed in their order, each with its evidence as lines of code', async () => {
    const rows = (await get('/findings')).body as FindingRow[]
    expect(rows[0]!.kind).toBe('module-cycle')
    const view = (await get(`/finding?id=${encodeURIComponent(STATIC)}`)).body as FindingView
    expect(view.evidence.length).toBeGreaterThan(20)
    for (const one of view.evidence) expect(one.excerpt.join('\n')).toContain('Logbook')
    expect(view.rank).toMatch(/^It frees \d+ types/)
    expect((await get('/finding?id=nothing')).status).toBe(404)
  })

  test('are set aside with a reason, gone from the next steps, and come back when their code changes', async () => {
    expect((await send('put', '/aside', { finding: STATIC, reason: '' })).status).toBe(400)
    expect((await send('put', '/aside', { finding: 'nothing', reason: 'x' })).status).toBe(404)
    expect((await send('put', '/aside', { finding: STATIC, reason: 'The log stays as it is' })).status).toBe(204)
    const find = async () => ((await get('/findings')).body as FindingRow[]).find(one => one.id === STATIC)!
    expect((await find()).setAside?.reason).toBe('The log stays as it is')
    expect(((await get('/land')).body as LandView).nextSteps.map(step => step.id)).not.toContain(STATIC)
    expect(((await get(`/type?type=${encodeURIComponent('src/records/logbook.ts#Logbook')}`)).body as ClassView).findings.find(one => one.id === STATIC)?.setAside?.reason).toBe('The log stays as it is')
    // Lines that only move leave it aside; a changed one brings it back.
    edit('src/booking/passage-desk.ts', text => `\n${text}`)
    await survey()
    expect((await find()).setAside).not.toBeNull()
    edit('src/booking/passage-desk.ts', text => text.replace('cancelled`', 'was cancelled`'))
    await survey()
    expect([(await find()).setAside, (await find()).cameBack]).toEqual([null, true])
    expect((await send('delete', `/aside?finding=${encodeURIComponent(STATIC)}`)).status).toBe(204)
    expect((await find()).cameBack).toBe(false)
    git('checkout', '-q', '--', 'src/booking/passage-desk.ts')
    await survey()
  }, 60_000)

  test('a class tells its verdict, the ways to what it reaches, what to plug, and what it takes to build one', async () => {
    const view = (await get(`/type?type=${encodeURIComponent('src/booking/waiting-list.ts#WaitingList')}`)).body as ClassView
    expect(view.row.verdict).toBe('needs-outside')
    const way = view.reach.effects.find(effect => effect.kind === 'file-system')!.path
    expect(way.map(step => `${step.name}.${step.member}`)).toEqual(['WaitingList.offer', 'Logbook.write'])
    expect(readFileSync(join(root, way[1]!.file), 'utf8').split('\n')[way[1]!.line - 1]).toContain('appendFileSync')
    expect(view.reach.plugs).toMatchObject({ collaborators: [{ name: 'Logbook' }], proven: true })
    expect(view.reach.plugs!.others).toBeGreaterThan(5)
  })
})

test('a what-if answers what would be of a class with some of it plugged', async () => {
  const type = 'src/notices/notice-board.ts#NoticeBoard'
  const ask = async (collaborators: string[]) => (await send('post', '/plugged', { type, collaborators })).body as PluggedView
  expect(await ask([])).toMatchObject({ verdict: 'needs-outside' })
  const freed = await ask(['src/records/logbook.ts#Logbook'])
  expect([freed.effects, freed.verdict]).toEqual([[], 'alone'])
  expect(freed.others).toBeGreaterThan(5)
  expect((await send('post', '/plugged', { type: 'none', collaborators: [] })).status).toBe(404)
})

describe('history', () => {
  test('the branch at hand is compared with where it left its base, with line and commit', async () => {
    let branch = (await get('/branch')).body as BranchView
    expect(branch.base).toBe('main')
    await started.idle()
    branch = (await get('/branch')).body as BranchView
    expect(branch.comparison!.come.map(one => `${one.from} ${one.to}`)).toEqual(['src/tolls/concession.ts#ConcessionRules src/records/logbook.ts#Logbook'])
    const [place] = branch.comparison!.come[0]!.places
    expect(git('rev-parse', 'HEAD')).toMatch(new RegExp(`^${place!.commit!}`))
    expect(branch.comparison!.tied).toEqual([{ type: 'src/tolls/concession.ts#ConcessionRules', before: 'alone', after: 'needs-outside' }])
  }, 60_000)

  test("git's log says how often files change, and findings in what changes often weigh more", async () => {
    const told = (await get('/changing')).body as ChangingView
    expect(told.commits).toBe(2)
    expect(told.files[0]).toMatchObject({ path: 'src/tolls/concession.ts', changes: 2 })
    expect(told.files[0]!.types).toContain('src/tolls/concession.ts#ConcessionRules')
    expect(told.files.slice(1).every(file => file.changes === 1)).toBe(true)
    expect(told.together).toEqual([])
    const findings = (await get('/findings')).body as FindingRow[]
    expect(Object.keys(told.weights).sort()).toEqual(findings.map(one => one.id).sort())
    expect(new Set(Object.values(told.weights).map(weight => weight.toFixed(2)))).toEqual(new Set(['2.00', '2.58']))
  })

  test('a what-if of modules is computed from numbers that say what the map shows', async () => {
    const fabric = (await get('/fabric')).body as Fabric, land = (await get('/land')).body as LandView
    const project = rearranged(fabric, { moves: [], struck: [] })
    expect([project.cycles, project.modulesInCycles, project.cost]).toEqual([land.summary.moduleCycles, land.summary.modulesInCycles, land.summary.cutReferences])
    for (const graph of land.graphs) {
      const same = project.graphs.find(one => one.within === graph.within)!
      expect([same.nodes, same.dependencies.map(one => [one.from, one.to, one.references])]).toEqual([graph.nodes.map(node => node.id), graph.dependencies.map(one => [one.from, one.to, one.references])])
    }
  })

  test('commits are surveyed without touching the working tree, and any two compared', async () => {
    const before = git('status', '--porcelain'), head = git('rev-parse', 'HEAD')
    expect((await send('post', '/history', { commits: 0 })).status).toBe(400)
    expect((await send('post', '/history', { commits: 5 })).status).toBe(202)
    await started.idle()
    expect([git('status', '--porcelain'), git('rev-parse', 'HEAD')]).toEqual([before, head])
    const rows = (await get('/history')).body as HistoryRow[]
    const commits = rows.filter(row => row.kind === 'commit')
    expect(commits.map(row => row.subject).sort()).toEqual(['Concessions are logged', 'The office as it was'])
    const [first, second] = ['The office as it was', 'Concessions are logged'].map(subject => commits.find(row => row.subject === subject)!)
    const told = (await get(`/compare?before=${first!.id}&after=${second!.id}`)).body as ComparisonView
    expect([told.come.length, told.gone.length, told.tied.length]).toEqual([1, 0, 1])
    const back = (await get(`/compare?before=${second!.id}&after=${first!.id}`)).body as ComparisonView
    expect([back.come.length, back.gone.length, back.freed.map(one => one.type)]).toEqual([0, 1, ['src/tolls/concession.ts#ConcessionRules']])
    expect((await get('/compare?before=9999&after=1')).status).toBe(404)
  }, 60_000)
})

test('a saved file is surveyed by itself while a page looks on', async () => {
  const { port } = new URL(started.address)
  const controller = new AbortController()
  const events = await fetch(`http://127.0.0.1:${port}/api/projects/1/events`, { signal: controller.signal })
  const reader = events.body!.getReader()
  await reader.read()
  await new Promise(done => setTimeout(done, 1000))
  const before = ((await get('')).body as ProjectView).surveyId
  edit('src/craft/tug.ts', text => `${text}\nexport class Newcomer { go(): number { return 1 + 1 } }\n`)
  const { value } = await reader.read()
  expect(JSON.parse(new TextDecoder().decode(value).replace(/^data: /, '').trim())).not.toEqual({ survey: before })
  expect(((await get('/types')).body as { name: string }[]).some(row => row.name === 'Newcomer')).toBe(true)
  await started.idle()
  const rows = async () => ((await get('/history')).body as HistoryRow[]).map(row => row.subject)
  const kept = await rows()
  expect(kept.at(-1)).toBe('files were saved')
  // Saved without a difference in what was measured, it is not kept again.
  edit('src/craft/tug.ts', text => text.replace('1 + 1', '1 + 2'))
  await reader.read()
  await started.idle()
  expect(await rows()).toEqual(kept)
  controller.abort()
}, 30_000)

test('what plugs each joint of a class is offered beside it: an interface of its own for a library, a static made replaceable first', async () => {
  const view = (await get(`/type?type=${encodeURIComponent('src/tolls/receipt.ts#Receipt')}`)).body as ClassView
  const remedies = (name: string) => view.joints.find(joint => joint.name === name)!.remedies.map(one => one.id)
  expect(remedies('node:fs')).toEqual(['wrap-library:src/tolls/receipt.ts#Receipt:node:fs'])
  expect(remedies('Logbook')).toEqual(['make-static-replaceable:src/records/logbook.ts#Logbook', 'inject:src/tolls/receipt.ts#Receipt:src/records/logbook.ts#Logbook'])
  expect(remedies('node:path')).toEqual([])
  const clock = (await get(`/type?type=${encodeURIComponent('src/tolls/season-pass.ts#SeasonPass')}`)).body as ClassView
  expect(clock.joints.find(joint => joint.name === 'Date')!.remedies.map(one => one.id)).toEqual(['wrap-library:src/tolls/season-pass.ts#SeasonPass:runtime.clock'])
  const functions = (await get(`/type?type=${encodeURIComponent('src/office/settings.ts#')}`)).body as ClassView
  expect(functions.joints.find(joint => joint.name === 'node:fs')!.remedies.map(one => one.id)).toEqual(['wrap-library:src/office/settings.ts#:node:fs'])
  const wraps = (await get('/wraps?external=node%3Afs')).body as OfferView[]
  expect(wraps.map(one => one.id)).toEqual(['wrap-library:src/office/settings.ts#:node:fs', 'wrap-library:src/records/archive.ts#Archive:node:fs', 'wrap-library:src/tolls/receipt.ts#Receipt:node:fs'])
  // An object that a class holds is wrapped by itself.
  expect(((await get('/wraps?external=signal-kit')).body as OfferView[]).map(one => one.id)).toEqual(['wrap-library:src/locks/gate-motor.ts#GateMotor:held:signal-kit:link'])
})

test('what can be taken along comes as a file, and nothing else does', async () => {
  const csv = await get('/export/findings.csv')
  expect([csv.status, csv.headers['content-disposition']]).toEqual([200, 'attachment; filename="code-findings.csv"'])
  expect((await get('/export/types.graphml')).headers['content-type']).toContain('application/xml')
  expect((await get('/export/survey.html')).text).toContain('module cycles')
  expect((await get('/export/cycles.csv')).text).toContain('modules,')
  expect((await get('/export/changes.csv')).text).toMatch(/^id,state,title/)
  const kept = (await get('/history')).body as HistoryRow[]
  expect((await get(`/export/comparison.html?before=${kept[0]!.id}&after=${kept.at(-1)!.id}`)).text).toContain('What is different')
  expect((await get('/export/comparison.html?before=1&after=999')).body).toMatchObject({ code: 'NOT_FOUND' })
  expect((await get('/export/secrets.csv')).status).toBe(404)
})
