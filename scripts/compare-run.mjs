// Compares what Hollowmoor says of outside effects with what a running program does: `npm run compare:run [-- FOLDER [COMMAND]]`.
// Runs the project's own tests on a copy with the runtime's calls recorded, and tells (1) types that are called testable
// without the outside and touched it, in their own frames or in those of what they hold other than by a plugged joint, and
// (2) of the types said to need the outside whose path the tests ran, how many were seen to touch it. For Java the
// recorder is a security manager (JDK 17): it sees files, network, environment and processes, but neither clock nor chance.
import { spawnSync } from 'node:child_process'
import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { bitOf, kindsIn, outsideOf } from '@hollowmoor/core/effect/kinds'
import { pathLines } from '@hollowmoor/core/measure/places'
import { OpenProject } from '@hollowmoor/host/open-project'
import { root as repository } from './setup.mjs'

const folder = resolve(process.argv[2] ?? 'demo/withymere/typescript')
const scratch = mkdtempSync(join(tmpdir(), 'hollowmoor-run-'))
const copy = join(scratch, 'project'), log = join(scratch, 'effects.jsonl')
cpSync(folder, copy, { recursive: true, filter: path => !/\/(node_modules|build|\.git)$/.test(path) })
if (!existsSync(join(copy, 'node_modules'))) symlinkSync(existsSync(join(folder, 'node_modules')) ? join(folder, 'node_modules') : join(repository, 'node_modules'), join(copy, 'node_modules'))
writeFileSync(log, '')

const isJava = existsSync(join(copy, 'pom.xml')) || existsSync(join(copy, 'compile.sh'))
const recorded = isJava ? ['file-system', 'network', 'environment', 'process'] : ['file-system', 'network', 'clock', 'randomness', 'environment', 'process', 'console', 'threads-and-timers']
const command = process.argv[3] ?? (isJava ? 'sh compile.sh && sh test.sh' : JSON.parse(readFileSync(join(copy, 'package.json'), 'utf8')).scripts.test)
const agent = join(scratch, 'recorder')
if (isJava) {
  const built = spawnSync('javac', ['-nowarn', '-d', agent, join(repository, 'scripts/record/EffectRecorder.java')], { encoding: 'utf8' })
  if (built.status !== 0) { console.error(built.stderr); process.exit(2) }
}
const coverage = join(scratch, 'coverage')
const env = {
  ...process.env, PATH: `${join(copy, 'node_modules/.bin')}:${process.env.PATH}`, HOLLOWMOOR_RECORD: log, HOLLOWMOOR_ROOT: copy,
  ...(isJava ? { JDK_JAVA_OPTIONS: `-Djava.security.manager=EffectRecorder -Xbootclasspath/a:${agent}` }
    : { NODE_OPTIONS: `--enable-source-maps --import ${pathToFileURL(join(repository, 'scripts/record/node-hooks.mjs'))}`, NODE_V8_COVERAGE: coverage })
}
const ran = spawnSync(command, { cwd: copy, shell: true, env, encoding: 'utf8', maxBuffer: 1e9 })
console.log(`${command}: status ${ran.status}`)
if (ran.status !== 0 || process.env.SHOW_OUTPUT) console.log(`${ran.stdout.slice(-1500)}\n${ran.stderr.slice(-1500)}`)

const project = await OpenProject.open(folder)
const { survey } = project, { model } = survey
const typesByFile = new Map()
for (const type of model.types) {
  const path = model.files[type.file].path
  const list = typesByFile.get(path) ?? []
  // Overloads are one member of the model, told where the first stands: what is in none of them is the type's own.
  if (type.kind !== 'functions') list.push({ type: type.index, member: '', start: type.line, end: type.line + type.lines - 1 })
  for (const member of type.members) list.push({ type: type.index, member: member.name, start: member.span.line, end: member.span.line + member.lines - 1 })
  typesByFile.set(path, list)
}
/** The innermost member around a line. */
function memberAt(frame) {
  const at = frame.lastIndexOf(':'), line = Number(frame.slice(at + 1))
  const inside = (typesByFile.get(frame.slice(0, at)) ?? []).filter(one => one.start <= line && line <= one.end)
  return inside.sort((a, b) => a.end - a.start - (b.end - b.start))[0]
}
const supertypes = model.types.map(() => new Set())
for (const { type, base } of model.overrides) supertypes[type].add(base)
for (const { from, to, references } of survey.dependencies) if (references.some(at => ['extends', 'implements'].includes(model.references.kind(at)))) supertypes[from].add(to)
/** Types that extend or implement one of a library. */
const ofLibrary = new Set()
for (let at = 0; at < model.references.length; at++) if (model.references.to(at) < 0 && ['extends', 'implements'].includes(model.references.kind(at))) ofLibrary.add(model.references.from(at))
const isOfLibrary = type => ofLibrary.has(type) || [...supertypes[type]].some(one => one !== type && isOfLibrary(one))
const isA = (type, base) => type === base || [...supertypes[type]].some(one => one !== type && isA(one, base))
const { references } = model
/** By line of code: what is called there through something plugged in, a type of the project or -1 for one of a library. */
const pluggedAt = new Map()
for (let at = 0; at < references.length; at++) {
  const use = references.use(at)
  if (!use?.throughAbstraction || references.held(at).kind !== 'plugged') continue
  const place = `${model.files[references.file(at)].path}:${references.at(at).line}`
  pluggedAt.set(place, [...pluggedAt.get(place) ?? [], references.to(at)])
}
/** Whether a test would have put a double where code of `from` at a line went on in code of `to`: a collaborator behind an abstraction, or a subclass. */
const isPlugged = (from, to, frame) => isA(to, from) || survey.joints[from].some(joint => joint.kind === 'plugged' && joint.to >= 0 && isA(to, joint.to)) ||
  (pluggedAt.get(frame) ?? []).some(called => called < 0 ? isOfLibrary(to) : isA(to, called))

const touched = new Map(), example = new Map(), executed = new Set()
/** A frame of Java names a class; the file is the one that declares its outermost. */
const pathOfClass = frame => {
  const at = frame.lastIndexOf(':')
  const index = model.typeIndex.get(frame.slice(0, at).split('$')[0])
  return index === undefined ? frame : `${model.files[model.types[index].file].path}:${frame.slice(at + 1)}`
}
for (const line of readFileSync(log, 'utf8').split('\n').filter(Boolean)) {
  const { kind, frames: told } = JSON.parse(line)
  const frames = isJava ? told.map(pathOfClass) : told
  const seen = []
  for (const frame of frames) {
    executed.add(frame)
    const place = memberAt(frame)
    if (!place || model.types[place.type].test) break
    const before = seen.at(-1)
    // Beyond a plugged joint a test would have put a double.
    if (before !== undefined && before !== place.type && isPlugged(place.type, before, frame)) break
    if (before !== place.type) seen.push(place.type)
  }
  for (const type of seen) { touched.set(type, (touched.get(type) ?? 0) | bitOf(kind)); if (!example.has(`${type} ${kind}`)) example.set(`${type} ${kind}`, frames.slice(0, 4).join(' < ')) }
}

const recordable = recorded.reduce((set, kind) => set | bitOf(kind), 0)
const wrong = [...touched].filter(([type, set]) => ['alone', 'with-real-classes'].includes(survey.verdicts[type]) || (set & ~survey.reach.setOf(type)) !== 0 && survey.verdicts[type] !== null)
for (const [type, set] of wrong) {
  for (const kind of kindsIn(set & ~survey.reach.setOf(type))) console.log(`  MISSED ${model.types[type].id} (${survey.verdicts[type]}): ${kind}: ${example.get(`${type} ${kind}`)}`)
}
// Whether the tests ran the path: all lines on it, as far as the recorder or the runtime's coverage tell.
const linesRun = isJava ? { has: place => executed.has(place) } : linesOfCoverage(coverage)
let said = 0, confirmed = 0
for (const type of model.types) {
  if (survey.verdicts[type.index] !== 'needs-outside') continue
  const paths = survey.reach.effectsOf(type.index).filter(effect => recorded.includes(effect.kind)).map(effect => ({ kind: effect.kind, lines: pathLines(model, effect) }))
  const ran = paths.filter(({ lines }) => lines.every(({ file, line, member }) => member === '' || linesRun.has(`${model.files[file].path}:${line}`)))
  if (ran.length === 0) continue
  said++
  if (outsideOf(touched.get(type.index) ?? 0) & recordable) confirmed++
  else console.log(`  not seen: ${type.id}: ${ran.map(({ kind, lines }) => `${kind} by ${lines.map(({ file, line }) => `${model.files[file].path}:${line}`).join(' > ')}`)[0]}`)
}
const called = survey.verdicts.filter(verdict => verdict === 'alone' || verdict === 'with-real-classes').length
console.log(JSON.stringify({
  folder: folder.split('/').pop(), touched: touched.size, calledWithoutOutside: called, ofTheseTouched: [...touched.keys()].filter(type => ['alone', 'with-real-classes'].includes(survey.verdicts[type])).length,
  needsOutsideWithPathRun: said, seenToTouch: confirmed, share: said === 0 ? null : Number((confirmed / said).toFixed(3))
}))
rmSync(scratch, { recursive: true, force: true })
process.exitCode = wrong.some(([type]) => ['alone', 'with-real-classes'].includes(survey.verdicts[type])) || (said > 0 && confirmed / said < 0.9) ? 1 : 0

/** Lines that a run executed, from the runtime's own coverage; of functions that never ran, none. */
function linesOfCoverage(directory) {
  const lines = new Set()
  for (const name of existsSync(directory) ? readdirSync(directory) : []) {
    const { result } = JSON.parse(readFileSync(join(directory, name), 'utf8'))
    for (const script of result) {
      if (!script.url.startsWith(`file://${copy}/`)) continue
      const path = script.url.slice(`file://${copy}/`.length)
      for (const one of script.functions) for (const range of one.ranges) if (range.count > 0) lines.add(`${path}#${one.functionName}`)
    }
  }
  // The loader keeps members' names: a line counts as run where the member around it ran.
  return { has: place => { const member = memberAt(place); return member !== undefined && (lines.has(`${place.slice(0, place.lastIndexOf(':'))}#${member.member === 'constructor' ? model.types[member.type].name : member.member}`) || executed.has(place)) } }
}
