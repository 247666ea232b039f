// `npm run bench [-- measuring cuts reach whatIf firstView java]`: speed and size, as ratios side by side in one run. Machines are noisy; look at ratios, not at seconds.
import { spawnSync } from 'node:child_process'
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { unzipSync } from 'fflate'
import { bestCut } from '@hollowmoor/core/graph/feedback-arcs'
import { seededRandom } from '@hollowmoor/core/graph/random'
import { buildCallGraph } from '@hollowmoor/core/measure/call-graph'
import { Reach } from '@hollowmoor/core/measure/reach'
import { rearranged } from '@hollowmoor/core/measure/rearrangement'
import { verdictOf } from '@hollowmoor/core/measure/verdict'
import { linkModel } from '@hollowmoor/core/model/link'
import { catalogueOf } from '@hollowmoor/core/effect/shipped'
import { findingsOf } from '@hollowmoor/core/find/findings'
import { jointsOf } from '@hollowmoor/core/measure/joints'
import { surveyDocumentPieces } from '@hollowmoor/core/export/survey-document'
import { OpenProject } from '@hollowmoor/host/open-project'
import { findBrowser, root } from './setup.mjs'

const scratch = mkdtempSync(join(tmpdir(), 'hollowmoor-bench-'))
const rows = []
const report = (what, value, wanted, holds) => { rows.push({ what, value, wanted, holds: holds ? 'yes' : 'NO' }); console.log(`${holds ? '  ' : '! '}${what}: ${value}  (wanted: ${wanted})`) }
const median = values => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]
/** Seconds that something asynchronous takes. */
const waited = async action => { const start = performance.now(); await action(); return (performance.now() - start) / 1000 }
const seconds = action => { const start = performance.now(); const result = action(); return { result, seconds: (performance.now() - start) / 1000 } }

/** rxjs as it ships its sources, with a configuration under which tsc finds everything it needs. */
function sample() {
  const folder = join(scratch, 'rxjs')
  for (const part of ['src', 'package.json']) cpSync(join(root, 'node_modules/rxjs', part), join(folder, part), { recursive: true })
  rmSync(join(folder, 'src/Rx.global.js'), { force: true })
  for (const name of ['base', 'cjs', 'cjs.spec', 'esm', 'esm5', 'esm5.rollup', 'types', 'types.spec']) rmSync(join(folder, `src/tsconfig.${name}.json`), { force: true })
  writeFileSync(join(folder, 'tsconfig.json'), JSON.stringify({ compilerOptions: { strict: true, target: 'ES2022', module: 'ESNext', moduleResolution: 'Bundler', lib: ['ESNext', 'DOM'], types: [], skipLibCheck: true, noEmit: true }, include: ['src'] }))
  symlinkSync(join(root, 'node_modules'), join(folder, 'node_modules'))
  return folder
}

function child(args) {
  const done = spawnSync(process.execPath, ['-r', join(root, 'scripts/report-memory.cjs'), ...args], { encoding: 'utf8', maxBuffer: 1e9 })
  return JSON.parse(/@@(.*)/.exec(done.stderr)[1])
}

async function measuring() {
  const folder = sample()
  const tsc = [], ours = []
  for (let round = 0; round < 3; round++) {
    tsc.push(child([join(root, 'node_modules/typescript/lib/tsc.js'), '--noEmit', '-p', folder]))
    ours.push(child([join(root, 'packages/cli/bin/hollowmoor.mjs'), 'measure', folder, '--json', join(scratch, 'survey.json')]))
  }
  const time = median(ours.map(one => one.seconds)) / median(tsc.map(one => one.seconds))
  const memory = median(ours.map(one => one.megabytes)) / median(tsc.map(one => one.megabytes))
  report('measuring rxjs against tsc --noEmit, time', `${time.toFixed(2)} times`, 'at most 1.2', time <= 1.2)
  report('the same, memory', `${memory.toFixed(2)} times`, 'at most 1.5', memory <= 1.5)

  const opening = performance.now()
  const project = await OpenProject.open(folder)
  const first = (performance.now() - opening) / 1000
  const again = []
  for (let round = 0; round < 5; round++) {
    // Inside a body whose result is written down.
    const path = join(folder, 'src/internal/Subscription.ts')
    writeFileSync(path, readFileSync(path, 'utf8').replace(/(\n {2}unsubscribe\(\): void \{)/, `$1\n    void ${round};`))
    again.push(await waited(() => project.renew()))
  }
  const ratio = median(again) / first
  report('a second survey after a change inside a body', `${ratio.toFixed(3)} of the first`, 'at most 0.2', ratio <= 0.2)
  const fresh = await OpenProject.open(folder)
  const same = [...surveyDocumentPieces(fresh.survey)].join('') === [...surveyDocumentPieces(project.survey)].join('')
  report('it says what a fresh survey says', same ? 'byte for byte' : 'something else', 'byte for byte', same)
}

function cuts() {
  for (const degree of [2, 3, 4]) {
    const times = []
    let proven = true
    for (let seed = 1; seed <= 10; seed++) {
      const random = seededRandom(seed * 100 + degree)
      const arcs = new Map()
      for (let from = 0; from < 30; from++) {
        const add = to => { if (to !== from) arcs.set(`${from},${to}`, { from, to, weight: 1 + Math.floor(random() * 9) }) }
        add((from + 1) % 30)
        while ([...arcs.values()].filter(arc => arc.from === from).length < degree) add(Math.floor(random() * 30))
      }
      const { result, seconds: took } = seconds(() => bestCut(30, [...arcs.values()]))
      times.push(took)
      proven &&= result.lowerBound === result.cost
    }
    report(`best cut of 30 nodes, out-degree ${degree}, worst of 10`, `${Math.max(...times).toFixed(2)} s${proven ? ', all proven' : ', not all proven'}`, 'exact, under 1 s', proven && Math.max(...times) < 1)
  }
  const random = seededRandom(77)
  const arcs = new Map()
  for (let from = 0; from < 2000; from++) for (let k = 0; k < 4; k++) {
    const to = from + 1 + Math.floor(random() * Math.min(200, 1999 - from))
    if (to < 2000) arcs.set(`${from},${to}`, { from, to, weight: 1 + Math.floor(random() * 4) })
  }
  let planted = 0
  for (let k = 0; k < 120; k++) {
    const to = Math.floor(random() * 1500), from = to + 100 + Math.floor(random() * 390)
    if (!arcs.has(`${from},${to}`)) { arcs.set(`${from},${to}`, { from, to, weight: 1 }); planted++ }
  }
  arcs.set('1999,0', { from: 1999, to: 0, weight: 1 })
  planted++
  const { result, seconds: took } = seconds(() => bestCut(2000, [...arcs.values()]))
  report('best cut of 2,000 nodes', `${took.toFixed(1)} s`, 'under 10 s', took < 10)
  report('its cost against the planted cut', `${result.cost} of ${planted}`, 'within a tenth', result.cost <= planted * 1.1)
  report('its lower bound', `${result.lowerBound} of ${result.cost}`, 'at least half', result.lowerBound >= result.cost / 2)
}

/** Reach and verdicts of a made-up code base of a million calls: layered, with interfaces, recursion and a few effects far below. */
function reach() {
  const random = seededRandom(5), upTo = count => Math.floor(random() * count)
  const types = 20_000, members = 10, calls = 1_130_000
  const span = line => ({ start: line * 10, end: line * 10 + 5, line, column: 1 })
  const id = type => `f${Math.floor(type / 20)}.ts#T${type}`
  const nameOf = (type, member) => `m${Math.floor(type / 10)}x${member}`
  const files = Array.from({ length: types / 20 }, (_, at) => ({ path: `f${at}.ts`, language: 'typescript', module: null, lines: 1000, test: false, types: [], references: [], ownUses: [], typeSwitches: [], overrides: [], unresolved: [], problems: [] }))
  for (let type = 0; type < types; type++) {
    // One in ten is an interface; the nine after it implement it.
    const isInterface = type % 10 === 0
    files[Math.floor(type / 20)].types.push({
      id: id(type), name: `T${type}`, kind: isInterface ? 'interface' : 'class', span: span(1), lines: 50, exported: true, inert: false, outer: null, parameters: [],
      members: Array.from({ length: members }, (_, at) => ({ name: nameOf(type, at), kind: 'method', span: span(at + 1), public: true, static: false, abstract: isInterface, logic: !isInterface, hasBody: !isInterface, origins: [], signature: '', refuses: false, mutable: false, lines: 3, calledFromOutside: false }))
    })
    if (!isInterface) for (let at = 0; at < members; at++) files[Math.floor(type / 20)].overrides.push({ type: id(type), base: id(type - (type % 10)), member: nameOf(type, at) })
  }
  const reference = (from, to, member, kind, origins, external = false, abstraction = false) => ({ span: span(1 + upTo(1000)), kind, from: id(from), inMember: nameOf(from, upTo(members)), to: external ? to : id(to), member, external, typeOnly: false, origins, throughAbstraction: abstraction, receiver: null, inertTarget: false })
  for (let at = 0; at < calls; at++) {
    const from = 1 + upTo(types - 1)
    if (from % 10 === 0) continue
    // Mostly downwards and near, sometimes back up: layers with loops.
    const to = Math.min(types - 1, Math.max(0, random() < 0.97 ? from + 1 + upTo(400) : from - upTo(100)))
    const own = files[Math.floor(from / 20)].references
    if (to % 10 === 0) own.push(reference(from, to, nameOf(to, upTo(members)), 'calls', random() < 0.5 ? [{ how: 'handed-in', abstraction: true }] : [{ how: 'created' }], false, true))
    else own.push(random() < 0.2 ? reference(from, to, '', 'creates', [{ how: 'created' }]) : reference(from, to, nameOf(to, upTo(members)), 'calls', [{ how: 'handed-in', abstraction: false }]))
  }
  for (let at = 0; at < 30; at++) { const from = 1 + upTo(types / 10 - 1) * 10 + upTo(8); files[Math.floor(from / 20)].references.push(reference(from, ['node:fs', 'pg', 'axios'][at % 3], 'read', 'calls-static', [{ how: 'static' }], true)) }
  const model = linkModel(files)
  const joints = jointsOf(model)
  globalThis.gc?.()
  const before = process.memoryUsage().rss
  const { result, seconds: took } = seconds(() => {
    const found = new Reach(buildCallGraph(model, language => catalogueOf(language)))
    return model.types.map(type => verdictOf(model, joints, found, type.index))
  })
  const grown = (process.memoryUsage().rss - before) / 1e6
  const counts = result.reduce((all, verdict) => ({ ...all, [verdict]: (all[verdict] ?? 0) + 1 }), {})
  report(`reach and verdicts of ${model.references.length.toLocaleString('en')} calls`, `${took.toFixed(1)} s, ${grown.toFixed(0)} MB (${JSON.stringify(counts)})`, 'at most 5 s and 1 GB', took <= 5 && grown <= 1000)
}

/** A what-if over modules: types that move in a layered project with some dependencies that flow back. */
function whatIf() {
  for (const [types, wanted] of [[2000, 0.1], [10_000, 1]]) {
    const random = seededRandom(types), upTo = count => Math.floor(random() * count)
    const modules = Array.from({ length: types / 20 }, (_, at) => `src/area${Math.floor(at / 10)}/part${at}`)
    const dependencies = []
    for (let from = 0; from < types; from++) for (let use = 0; use < 6; use++) {
      const to = Math.min(types - 1, Math.max(0, random() < 0.985 ? from + 1 + upTo(200) : from - upTo(400)))
      if (to !== from) dependencies.push(from, to, 1 + upTo(4))
    }
    const fabric = { modules, dependencies, types: Array.from({ length: types }, (_, at) => ({ id: `${modules[Math.floor(at / 20)]}/f.ts#T${at}`, module: Math.floor(at / 20), outermost: at, lines: 30, verdict: null })) }
    const before = rearranged(fabric, { moves: [], struck: [] })
    const times = Array.from({ length: 9 }, () => {
      const type = upTo(types)
      return seconds(() => rearranged(fabric, { moves: [{ type: fabric.types[type].id, module: modules[upTo(modules.length)] }], struck: [] })).seconds
    })
    report(`a what-if over ${types.toLocaleString('en')} types (${dependencies.length / 3} dependencies, ${before.cycles} cycles)`, `${(median(times) * 1000).toFixed(0)} ms`, `at most ${wanted * 1000} ms`, median(times) <= wanted)
  }
}

/** The sources of a module of the JDK, from the archive that a JDK's package of sources brings; undefined where there is none. */
function jdkSources(module) {
  const javac = spawnSync('readlink', ['-f', process.env.JAVA_HOME ? join(process.env.JAVA_HOME, 'bin/javac') : spawnSync('which', ['javac'], { encoding: 'utf8' }).stdout.trim()], { encoding: 'utf8' }).stdout.trim()
  const home = join(javac, '../..')
  const archive = [join(home, 'lib/src.zip'), join(home, '../openjdk-17/lib/src.zip')].find(path => javac !== '' && existsSync(path))
  if (!archive) return undefined
  const to = join(scratch, module)
  for (const [name, content] of Object.entries(unzipSync(readFileSync(archive), { filter: ({ name }) => name.startsWith(`${module}/`) && name.endsWith('.java') }))) {
    mkdirSync(join(scratch, name, '..'), { recursive: true })
    writeFileSync(join(scratch, name), content)
  }
  return { folder: to, javac }
}

/** Seconds of wall and of processors that a command takes, its children included. */
function timed(command) {
  const done = spawnSync('bash', ['-c', `time -p ${command}`], { encoding: 'utf8', maxBuffer: 1e9 })
  const of = name => Number(new RegExp(`^${name} ([\\d.]+)`, 'm').exec(done.stderr)[1])
  return { wall: of('real'), cpu: of('user') + of('sys') }
}

/** Measures a module of the JDK and compiles it, in turns: the median of each round's ratio. Undefined where there are no sources. */
function againstJavac(module, rounds) {
  const sources = jdkSources(module)
  if (!sources) { console.log('  (no JDK with its sources, on Debian openjdk-17-jdk-headless and openjdk-17-source: Java is not measured)'); return undefined }
  const list = join(scratch, `${module}-sources`)
  writeFileSync(list, spawnSync('find', [sources.folder, '-name', '*.java', '-not', '-name', '*-info.java'], { encoding: 'utf8', maxBuffer: 1e9 }).stdout)
  const theirs = [], ours = []
  for (let round = 0; round < rounds; round++) {
    theirs.push(timed(`${sources.javac} -proc:none -nowarn -J-Xmx3g --patch-module ${module}=${sources.folder} -d ${join(scratch, 'classes', module)} @${list}`))
    ours.push(timed(`${process.execPath} ${join(root, 'packages/cli/bin/hollowmoor.mjs')} measure ${sources.folder}`))
  }
  // What stands next to each other in time is compared: a machine that others share is faster or slower by a third from minute to minute.
  const ratio = of => median(ours.map((one, round) => one[of] / theirs[round][of]))
  const wall = ratio('wall'), cpu = ratio('cpu')
  const each = of => `${ours.map(one => one[of].toFixed(0)).join(', ')} s against ${theirs.map(one => one[of].toFixed(0)).join(', ')} s`
  report(`measuring ${module} against javac, wall`, `${wall.toFixed(2)} times (${each('wall')})`, 'at most 0.5', wall <= 0.5)
  report('the same, processors', `${cpu.toFixed(2)} times (${each('cpu')})`, 'at most 0.5', cpu <= 0.5)
  const memory = child([join(root, 'packages/cli/bin/hollowmoor.mjs'), 'measure', sources.folder])
  report('the same, memory', `${memory.megabytes.toFixed(0)} MB`, 'at most 1,500 MB', memory.megabytes <= 1500)
  return { folder: sources.folder, wall: median(ours.map(one => one.wall)) }
}

/** A second survey after a change in a body: one that uses nothing, and one by which types use others than before. */
async function secondSurvey(project, folder, what, wanted) {
  const path = join(folder, 'java/awt/Button.java')
  const edits = { 'that uses nothing new': round => `int unused${round} = 1;`, 'that uses other types': round => `${['Canvas', 'Label', 'Choice', 'Panel', 'Dialog', 'Frame', 'Scrollbar'][round]} other${round} = null; other${round}.getX();` }
  for (const [kind, edit] of Object.entries(edits)) {
    const again = [], cuts = []
    for (let round = 0; round < 7; round++) {
      writeFileSync(path, readFileSync(path, 'utf8').replace('public void addNotify() {', `public void addNotify() {\n        ${edit(round)}`))
      again.push(await waited(() => project.renew()))
      cuts.push(seconds(() => project.survey.typeCycles).seconds)
    }
    report(`a second survey of ${what} after a change inside a body ${kind}`, `${median(again).toFixed(2)} s, then ${median(cuts).toFixed(2)} s until all cuts are there`, `at most ${wanted} s`, median(again) <= wanted)
  }
}

async function java() {
  const desktop = againstJavac('java.desktop', 5)
  if (!desktop) return
  const { project, stages } = await javaStages(desktop.folder)
  const whole = Object.values(stages).reduce((sum, one) => sum + one, 0)
  for (const [name, took] of Object.entries(stages)) console.log(`    ${name}: ${took.toFixed(1)} s, ${Math.round(100 * took / whole)} %`)
  const surveyed = whole - stages.store
  report('findings', `${(stages.find / (surveyed - stages.find)).toFixed(2)} of one thread's survey`, 'add at most 0.2', stages.find <= 0.2 * (surveyed - stages.find))
  report('storing it in SQLite', `${(stages.store / surveyed).toFixed(2)} of one thread's survey, ${(stages.store / desktop.wall).toFixed(2)} of the whole one's time`, 'adds at most a quarter', stages.store <= desktop.wall * 0.25)
  await secondSurvey(project, desktop.folder, 'java.desktop', 2)
  const some = join(scratch, 'thousand')
  const files = spawnSync('find', [join(desktop.folder, 'java'), join(desktop.folder, 'javax'), '-name', '*.java'], { encoding: 'utf8', maxBuffer: 1e9 }).stdout.trim().split('\n').sort().slice(0, 1000)
  for (const file of files) cpSync(file, join(some, file.slice(desktop.folder.length)))
  await secondSurvey(await OpenProject.open(some), some, '1,000 files', 0.2)
  againstJavac('java.base', 5)
}

/** Seconds that each stage of a survey of Java takes on one thread, and the project as the application holds it. */
async function javaStages(folder) {
  const [{ Grammar }, { JAVA_GRAMMAR }, { JavaFile }, { JavaProgram }, { BodyBinder }, { Overloads }, { extractJavaFile }, { measureProject }, { javaTools }] = await Promise.all([
    'read/syntax/grammar', 'read/java/syntax', 'read/java/scope', 'read/java/program', 'read/java/bodies', 'read/binding/overloads', 'read/java/extract', 'survey'
  ].map(name => import(`@hollowmoor/core/${name}`)).concat(import('@hollowmoor/host/languages')))
  const grammar = await Grammar.load(readFileSync(join(root, 'node_modules/@repomix/tree-sitter-wasms/out/tree-sitter-java.wasm')), JAVA_GRAMMAR)
  const { jdk } = await javaTools()
  const project = await OpenProject.open(folder)
  const stages = { parse: 0, walk: 0, declare: 0, bind: 0, facts: 0, measure: 0, find: 0, store: 0 }
  const timed = (stage, action) => { const start = performance.now(); const result = action(); stages[stage] += (performance.now() - start) / 1000; return result }
  const { memory } = grammar
  const read = memory.read.bind(memory)
  memory.read = tree => { const walked = timed('walk', () => read(tree)); return walked }
  const files = project.state.sources.map(path => new JavaFile(path, timed('parse', () => grammar.parse(project.textOf(path)))))
  stages.parse -= stages.walk
  const program = timed('declare', () => new JavaProgram(files, [jdk]))
  const overloads = new Overloads(program.hierarchy, program.functions)
  const facts = files.map(file => {
    timed('bind', () => new BodyBinder(program, file, overloads).bind())
    return timed('facts', () => extractJavaFile(file, program, overloads, false))
  })
  // Cuts are found when first asked for: here, so that they do not count as findings.
  const survey = timed('measure', () => { const measured = measureProject({ ...project.state.facts, files: facts }); void measured.typeCycles; return measured })
  timed('find', () => findingsOf(survey))
  const { openDatabase, SurveyRecord } = await import('../packages/server/dist/store/database.js')
  const { packSlice } = await import('../packages/server/dist/worker/packed-survey.js')
  const { storeParts } = await import('../packages/server/dist/store/store-parts.js')
  const database = await openDatabase(join(scratch, 'stored'))
  const record = await SurveyRecord.create({ projectId: 1, takenAt: '', commit: null, summary: {} })
  stages.store = await waited(() => storeParts(record, at => Promise.resolve(packSlice(survey, [], at, path => project.textOf(path)))))
  await database.close()
  return { project, stages }
}

/** Time from the arrival of the data to the first stone, in the browser, for a project of 2,000 types. */
async function firstView() {
  const browserPath = findBrowser()
  if (!browserPath) { console.log('  (no browser: the first view is not measured)'); return }
  const folder = join(scratch, 'large')
  const random = seededRandom(12)
  for (let module = 0; module < 40; module++) {
    mkdirSync(join(folder, `src/m${module}`), { recursive: true })
    for (let file = 0; file < 10; file++) {
      let text = '', body = ''
      for (let type = 0; type < 5; type++) {
        const to = Math.min(39, module + Math.floor(random() * 5)), other = Math.floor(random() * 10)
        if (to !== module || other !== file) { text += `import { T${to}x${other}x${type} as U${type} } from '../m${to}/f${other}'\n`; body += `export class T${module}x${file}x${type} { private u = new U${type}(); go(): number { return this.u.go() } }\n` } else body += `export class T${module}x${file}x${type} { go(): number { return 1 } }\n`
      }
      writeFileSync(join(folder, `src/m${module}/f${file}.ts`), text + body)
    }
  }
  const { serve } = await import('../packages/server/dist/serve.js')
  const started = await serve({ port: 4910, dataFolder: join(scratch, 'data'), open: folder })
  await started.idle()
  const { default: puppeteer } = await import('puppeteer-core')
  const browser = await puppeteer.launch({ executablePath: browserPath, args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'], defaultViewport: { width: 1280, height: 800 } })
  try {
    const times = []
    for (let round = 0; round < 3; round++) {
      const page = await browser.newPage()
      await page.evaluateOnNewDocument(() => {
        addEventListener('DOMContentLoaded', () => new MutationObserver((_, observer) => {
          if (document.querySelectorAll('.stone').length > 0) { observer.disconnect(); requestAnimationFrame(() => { window.stoneAt = performance.now() }) }
        }).observe(document, { childList: true, subtree: true }))
      })
      await page.goto(started.address)
      await page.waitForFunction('window.stoneAt !== undefined')
      times.push(await page.evaluate(() => window.stoneAt - performance.getEntriesByType('resource').find(one => one.name.endsWith('/land')).responseEnd))
      await page.close()
    }
    report('first view of 2,000 types after its data', `${(median(times) / 1000).toFixed(2)} s`, 'at most 1 s', median(times) <= 1000)
  } finally {
    await browser.close()
    await started.stop()
  }
}

if (!existsSync(resolve(root, 'packages/cli/dist/cli.js'))) throw new Error('run "npm run setup" first')
const wanted = process.argv.slice(2)
for (const part of [measuring, cuts, reach, whatIf, firstView, java]) if (wanted.length === 0 || wanted.includes(part.name)) await part()
rmSync(scratch, { recursive: true, force: true })
console.table(rows)
process.exitCode = rows.every(row => row.holds === 'yes') ? 0 : 1
