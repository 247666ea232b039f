// Applies every remedy offered on Java code, one at a time, each on the untouched code, and checks each result with javac.
// `npm run fieldtest:java -- FOLDER ... [--classpath JARS] [--remedy NAME,...] [--limit N] [--enough N] [--cold N]`. A folder is the root of
// a project or of its sources. It tells what our own check let through and javac did not; and after that check, what was applied.
// `--limit N`: of each remedy in each code base; `--enough N`: what has been applied N times in all is not asked for any more. `--cold N`
// writes N of the results to a copy and compiles it with javac in a process of its own. `--journal FILE`: goes on where an earlier run with
// that file ended. `--keep DIR`: keeps the files of what broke, before and after. Changes that touch no file in common are compiled
// together; what javac does not take is halved until what is to blame stands alone. Needs a JDK of 17 or later.
import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join, resolve } from 'node:path'
import { CONSTRUCTOR, Flags, MethodSymbol } from '@hollowmoor/core/read/binding/symbols'
import { JavaLanguage } from '@hollowmoor/core/read/java/write/java-language'
import { isInertClass } from '@hollowmoor/core/read/java/inert'
import { modifiersOf } from '@hollowmoor/core/read/java/declare'
import { Field, Kind } from '@hollowmoor/core/read/java/syntax'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { measureProject } from '@hollowmoor/core/survey'
import { DiskSource } from '@hollowmoor/host/disk-source'
import { JavaCompiler, jdkPrograms } from '@hollowmoor/host/java-compiler'
import { javaTools } from '@hollowmoor/host/languages'
import { blame, ChangeBatches } from './change-batches.mjs'
import { FieldJournal, someOf } from './field-journal.mjs'

const args = process.argv.slice(2)
const option = name => { const at = args.indexOf(name); return at < 0 ? undefined : args.splice(at, 2)[1] }
const classpath = option('--classpath') ?? ''
const cold = Number(option('--cold') ?? 0), limit = Number(option('--limit') ?? Infinity), enough = Number(option('--enough') ?? Infinity), only = option('--remedy')
const journal = new FieldJournal(option('--journal'), option('--keep'))
const folders = (args.length > 0 ? args : ['demo/withymere/java']).map(folder => resolve(folder))
const programs = jdkPrograms()
if (!programs) { console.error('No JDK is installed: set JAVA_HOME.'); process.exit(2) }
const options = ['-proc:none', '-nowarn', '-Xmaxerrs', '10000', ...(classpath ? ['-cp', classpath] : [])]
const tools = await javaTools()
/** How many changes are compiled together at most. */
const BATCH = 12
const untouched = new Map()
const totals = { applied: {}, cold: 0, failed: 0, missed: 0, creations: 0, notToHandIn: 0, creationsOffered: 0, concrete: 0, concreteOffered: 0 }

for (const root of folders) {
  const started = Date.now()
  const compiler = new JavaCompiler(programs)
  const language = new JavaLanguage(root, DEFAULT_SETTINGS, tools)
  const state = language.read(new DiskSource())
  const survey = measureProject(state.facts)
  const sources = new Map([...state.trees].map(([path, tree]) => [path, tree.text]))
  const writer = language.writer(state)
  const offers = only ? journal.wanted(only, enough).flatMap(remedy => offersOf(survey, writer, undefined, remedy)) : offersOf(survey, writer)
  const creations = creationsOf(language.bound(state), state)
  const concrete = survey.model.types.filter(type => type.kind === 'class' && !type.test && type.members.some(member => member.kind === 'method' && member.public && !member.static && !['equals', 'hashCode', 'toString'].includes(member.name)))
  const offeredCreations = offers.filter(offer => offer.remedy === 'inject' && offer.id.includes('@')).length
  const offeredConcrete = concrete.filter(type => offers.some(offer => offer.remedy === 'extract-interface' && offer.subject === type.id)).length
  totals.creations += creations.all; totals.notToHandIn += Object.values(creations.kept).reduce((sum, one) => sum + one, 0); totals.creationsOffered += offeredCreations
  totals.concrete += concrete.length; totals.concreteOffered += offeredConcrete
  const tally = new Map(), code = root.split('/').slice(-4).join('/')
  const narrowing = { narrowed: 0, of: 0 }
  let shown = 0
  const batches = new ChangeBatches(BATCH), checks = []
  /** Compiled from cold once nothing else waits for an answer. */
  const fromCold = []
  const refuse = (entry, offer, reason, message) => {
    entry.refused[reason] = (entry.refused[reason] ?? 0) + 1
    if (process.env.SHOW_REFUSALS && shown++ < 80) console.log(`  refused ${offer.id}: ${reason}: ${message}`)
  }
  const settle = cases => blame(cases, {
    problemsOf: async some => {
      const errors = await compiler.newErrors(root, sources, options, new Map(some.flatMap(one => one.changes).map(change => [change.path, change.after])))
      if (!errors) throw new Error(`javac does not answer on ${root}. What was tried before is in the journal; run again to go on.`)
      return errors
    },
    good: one => applied(one),
    bad: ({ offer, entry, changes }, errors) => {
      entry.missed++; totals.missed++
      refuse(entry, offer, 'javac', errors[0])
      journal.note(code, offer, 'missed', 'javac')
      journal.keep(code, offer.id, errors.join('\n'), changes)
      console.log(`  missed ${offer.id}: ${errors[0]}`)
    },
    together: (some, errors) => console.log(`  only together: ${some.map(one => one.offer.id).join(' ; ')}: ${errors[0]}`)
  })
  const applied = ({ offer, entry, changes, notes }) => {
    entry.applied++
    const told = notes.map(note => /^(\d+) of (\d+) uses/.exec(note)).find(Boolean)
    if (told) { narrowing.narrowed += Number(told[1]); narrowing.of += Number(told[2]) }
    totals.applied[offer.remedy] = (totals.applied[offer.remedy] ?? 0) + 1
    if (journal.cold + fromCold.length < cold && entry.applied % 4 === 1) fromCold.push({ offer, entry, changes })
    else journal.note(code, offer, 'applied')
  }
  for (const offer of someOf(offers, only, limit)) {
    if (journal.applied(offer.remedy) + batches.count(one => one.offer.remedy === offer.remedy) >= enough && !journal.find(code, offer.id)) continue
    const entry = tally.get(offer.remedy) ?? { offered: 0, applied: 0, missed: 0, failed: 0, refused: {} }
    tally.set(offer.remedy, entry)
    entry.offered++
    const earlier = journal.find(code, offer.id)
    if (earlier) {
      if (earlier.result === 'applied') totals.applied[offer.remedy] = (totals.applied[offer.remedy] ?? 0) + 1
      if (earlier.result === 'failed') totals.failed++
      if (earlier.result === 'refused') entry.refused[earlier.reason] = (entry.refused[earlier.reason] ?? 0) + 1
      else entry[earlier.result]++
      continue
    }
    let outcome
    try { outcome = planStep(offer.id, {}, survey, language.writer(state)) } catch (error) {
      entry.failed++; totals.failed++
      journal.note(code, offer, 'failed', 'thrown')
      journal.keep(code, offer.id, error.stack, [])
      console.log(`  FAILED ${offer.id}: ${error.stack.split('\n').slice(0, 4).join(' | ')}`)
      continue
    }
    if (outcome.refused) { refuse(entry, offer, outcome.reason, outcome.message); journal.note(code, offer, 'refused', outcome.reason); continue }
    const batch = batches.add({ offer, entry, changes: outcome.changes, notes: outcome.notes })
    if (batch) checks.push(settle(batch))
    // The compiler works in a process of its own while the next is planned: what it says is heard between two plans.
    await new Promise(resolve => setImmediate(resolve))
  }
  for (const batch of batches.rest()) checks.push(settle(batch))
  await Promise.all(checks)
  for (const { offer, entry, changes } of fromCold) {
    totals.cold++
    if (compilesCold(root, changes, sources)) { journal.note(code, offer, 'applied', '', true); continue }
    entry.failed++; totals.failed++
    journal.failedCold(code, offer, changes)
  }
  compiler.close()
  console.log(JSON.stringify({
    folder: root.split('/').pop(), files: sources.size, new: `${offeredCreations} of ${creations.all} offered`, notToHandIn: creations.kept, concrete: `${offeredConcrete} of ${concrete.length} offered`,
    narrowed: `${narrowing.narrowed} of ${narrowing.of}`, ...Object.fromEntries(tally), seconds: Math.round((Date.now() - started) / 1000)
  }))
}
console.log(JSON.stringify(totals))
console.table(journal.table())
process.exitCode = totals.failed > 0 ? 1 : 0

/**
 * Every `new` in product code of a class of the project that is neither record nor exception, wherever it stands; and of
 * them those that nobody else could hand in: a class making its own kind, a class that only its own file can name, an object
 * that belongs to the class and not to one of its objects, and where a program begins.
 */
function creationsOf(bound, state) {
  const kept = { ownKind: 0, hiddenClass: 0, staticField: 0, main: 0 }
  let all = 0
  for (const path of bound.paths) {
    const file = bound.file(path)?.java
    if (!file || state.files.isTest(path)) continue
    const { tree } = file
    const around = []
    for (let at = 0; at < tree.size * 5; at += 5) {
      while (around.length > 0 && tree.after(around.at(-1).node) <= at) around.pop()
      const symbol = file.classes.get(at)
      const isField = tree.kind(at) === Kind.FieldDeclaration || tree.kind(at) === Kind.StaticInitializer
      if (symbol?.name) around.push({ node: at, symbol })
      else if (isField && (tree.kind(at) === Kind.StaticInitializer || modifiersOf(tree, at) & Flags.Static || around.at(-1)?.symbol?.isInterface)) around.push({ node: at, isStatic: true })
      else if (tree.kind(at) === Kind.MethodDeclaration && tree.textOf(tree.child(at, Field.Name)) === 'main' && modifiersOf(tree, at) & Flags.Static) around.push({ node: at, isMain: true })
      if (tree.kind(at) !== Kind.ObjectCreationExpression || tree.childOf(at, Kind.ClassBody) >= 0) continue
      const made = file.meaning(at)
      if (!(made instanceof MethodSymbol) || made.name !== CONSTRUCTOR || !made.owner.source || isInertClass(made.owner, bound.program)) continue
      all++
      const holder = around.findLast(one => one.symbol)?.symbol
      const hidden = made.owner.flags & (Flags.Private | Flags.Local) || (made.owner.outer && !made.owner.isStatic && !made.owner.outer.isInterface)
      if (holder === made.owner) kept.ownKind++
      else if (hidden) kept.hiddenClass++
      else if (around.some(one => one.isStatic)) kept.staticField++
      else if (around.some(one => one.isMain)) kept.main++
    }
  }
  return { all, kept }
}

/** Whether javac, started anew, finds no error in the changed copy that it does not find in the untouched one. */
function compilesCold(root, changes, sources) {
  const errors = texts => {
    const folder = mkdtempSync(join(tmpdir(), 'hollowmoor-cold-'))
    for (const [path, text] of texts) { mkdirSync(dirname(join(folder, path)), { recursive: true }); writeFileSync(join(folder, path), text) }
    writeFileSync(join(folder, 'files.txt'), [...texts.keys()].map(path => `"${join(folder, path)}"`).join('\n'))
    const { stderr } = spawnSync(join(programs, 'javac'), [...options, '-encoding', 'UTF-8', '-d', join(folder, 'out'), `@${join(folder, 'files.txt')}`], { encoding: 'utf8', maxBuffer: 1 << 28 })
    const found = stderr.split('\n').filter(line => line.includes(': error:')).map(line => line.replaceAll(folder, '').replace(/:\d+:/, ':'))
    rmSync(folder, { recursive: true, force: true })
    return found
  }
  const before = untouched.get(root) ?? errors(sources)
  untouched.set(root, before)
  const changed = new Map(sources)
  for (const { path, after } of changes) { if (after === null) changed.delete(path); else changed.set(path, after) }
  const known = new Set(before)
  const fresh = errors(changed).filter(error => !known.has(error))
  for (const error of fresh.slice(0, 2)) console.log(`    ${error}`)
  return fresh.length === 0
}
