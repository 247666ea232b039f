// Applies every remedy offered on code bases, one at a time, each on the untouched code, in memory, and checks each result
// with the compiler. `npm run fieldtest -- [DIR ...] [--remedy NAME,...] [--limit N] [--enough N] [--cold N]`. Without folders: packages that ship
// sources and the demo. `--limit N`: of each remedy in each code base; `--enough N`: what has been applied N times in all is not asked for
// any more. `--cold N` writes N of the results to a copy and compiles it with tsc in a process of its own. `--journal FILE`: goes on
// where an earlier run with that file ended. `--keep DIR`: keeps the files of what broke, before and after.
import { spawnSync } from 'node:child_process'
import { cpSync, existsSync, mkdirSync, mkdtempSync, realpathSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join, resolve } from 'node:path'
import ts from 'typescript'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { TypeScriptSession } from '@hollowmoor/core/read/typescript/session'
import { collaboratorOf } from '@hollowmoor/core/read/typescript/write/injection-points'
import { typeScriptWriter } from '@hollowmoor/core/read/typescript/write/writer'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { measureProject } from '@hollowmoor/core/survey'
import { DiskSource } from '@hollowmoor/host/disk-source'
import { LIBRARY_FOLDER } from '@hollowmoor/host/project-folder'
import { FieldJournal, someOf } from './field-journal.mjs'

const args = process.argv.slice(2)
const option = name => { const at = args.indexOf(name); return at < 0 ? undefined : Number(args.splice(at, 2)[1]) }
const word = name => { const at = args.indexOf(name); return at < 0 ? undefined : args.splice(at, 2)[1] }
const cold = option('--cold') ?? 0, limit = option('--limit') ?? Infinity, enough = option('--enough') ?? Infinity, only = word('--remedy')
const journal = new FieldJournal(word('--journal'), word('--keep'))
const scratch = mkdtempSync(join(tmpdir(), 'hollowmoor-fieldtest-'))
const modules = resolve('node_modules')
const folders = (args.length > 0 ? args.map(arg => existsSync(join(modules, arg)) || arg === 'withymere' ? arg : resolve(arg)) : ['withymere', 'immer', 'prosemirror-state', 'prosemirror-transform', 'prosemirror-model', 'prosemirror-view', 'rxjs', 'langium']).map(name => {
  const from = name === 'withymere' ? resolve('demo/withymere/typescript') : existsSync(join(modules, name)) && !name.startsWith('/') ? join(modules, name) : name
  const to = join(scratch, name.split('/').pop())
  for (const part of name === 'withymere' || name.startsWith('/') ? ['.'] : ['src', 'package.json', 'tsconfig.json']) {
    if (existsSync(join(from, part))) cpSync(join(from, part), join(to, part), { recursive: true, filter: path => !path.slice(from.length).includes('node_modules') })
  }
  // A code base that has its packages beside it is compiled with those, else with ours.
  const own = join(from, 'node_modules')
  symlinkSync(name.startsWith('/') && existsSync(own) ? own : modules, join(to, 'node_modules'))
  return to
})

const untouched = new Map()
const totals = { applied: {}, cold: 0, failed: 0, creations: 0, creationsOffered: 0, concrete: 0, concreteOffered: 0 }
for (const root of folders) {
  const started = Date.now()
  const session = new TypeScriptSession(root, DEFAULT_SETTINGS, LIBRARY_FOLDER)
  const snapshot = session.read(new DiskSource())
  const survey = measureProject(snapshot.facts)
  const everything = typeScriptWriter(session, snapshot)
  const offers = only ? journal.wanted(only, enough).flatMap(remedy => offersOf(survey, everything, undefined, remedy)) : offersOf(survey, everything)
  const figures = { folder: root.split('/').pop(), classes: survey.model.types.filter(type => type.kind === 'class' && !type.test).length }
  const creations = creationsOf(snapshot), concrete = concreteClasses(survey)
  const offeredCreations = offers.filter(offer => offer.remedy === 'inject' && offer.id.includes('@')).length
  const offeredConcrete = concrete.filter(type => offers.some(offer => offer.remedy === 'extract-interface' && offer.subject === type.id)).length
  figures.new = `${offeredCreations} of ${creations} offered`
  figures.concrete = `${offeredConcrete} of ${concrete.length} offered`
  totals.creations += creations; totals.creationsOffered += offeredCreations
  totals.concrete += concrete.length; totals.concreteOffered += offeredConcrete
  const tally = new Map(), code = root.split('/').slice(-1)[0]
  let shown = 0
  for (const offer of someOf(offers, only, limit)) {
    if (journal.applied(offer.remedy) >= enough && !journal.find(code, offer.id)) continue
    const entry = tally.get(offer.remedy) ?? { offered: 0, applied: 0, failed: 0, refused: {} }
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
    let outcome, writer
    try {
      writer = typeScriptWriter(session, snapshot)
      outcome = planStep(offer.id, {}, survey, writer)
    } catch (error) {
      entry.failed++; totals.failed++
      journal.note(code, offer, 'failed', 'thrown')
      journal.keep(code, offer.id, error.stack, [])
      console.log(`  FAILED ${offer.id}: ${error.stack.split('\n').slice(0, 3).join(' | ')}`)
      continue
    }
    if (outcome.refused) {
      entry.refused[outcome.reason] = (entry.refused[outcome.reason] ?? 0) + 1
      journal.note(code, offer, 'refused', outcome.reason)
      if (process.env.SHOW_REFUSALS && shown++ < 60) console.log(`  refused ${offer.id}: ${outcome.reason}: ${outcome.message}`)
      continue
    }
    entry.applied++
    totals.applied[offer.remedy] = (totals.applied[offer.remedy] ?? 0) + 1
    const isCold = journal.cold < cold && entry.applied % 4 === 1
    if (isCold) {
      totals.cold++
      if (!compilesCold(root, outcome.changes)) {
        entry.failed++; totals.failed++
        journal.failedCold(code, offer, outcome.changes)
        continue
      }
    }
    journal.note(code, offer, 'applied', '', isCold)
  }
  console.log(JSON.stringify({ ...figures, ...Object.fromEntries(tally), seconds: Math.round((Date.now() - started) / 1000) }))
}
console.log(JSON.stringify(totals))
console.table(journal.table())
rmSync(scratch, { recursive: true, force: true })
// How much is offered of all there is says something only where all is asked for.
process.exitCode = totals.failed > 0 || (!only && (totals.creationsOffered < totals.creations * 0.6 || totals.concreteOffered < totals.concrete * 0.9)) ? 1 : 0

/** Every `new` in product code of a class of the project that is neither record nor exception, wherever it stands. */
function creationsOf(snapshot) {
  let count = 0
  for (const [file, path] of snapshot.paths) {
    if (snapshot.files.isTest(path)) continue
    const visit = node => {
      if (ts.isNewExpression(node) && collaboratorOf(node, snapshot)) count++
      ts.forEachChild(node, visit)
    }
    visit(file)
  }
  return count
}

/** Concrete product classes with a public method of their own. */
function concreteClasses(survey) {
  return survey.model.types.filter(type => type.kind === 'class' && !type.test && type.members.some(member => member.kind === 'method' && member.public && !member.static))
}

/** Whether tsc, started anew, finds no error in the changed copy that it does not find in the untouched one. */
function compilesCold(root, changes) {
  const copy = `${root}-cold`
  rmSync(copy, { recursive: true, force: true })
  cpSync(root, copy, { recursive: true, filter: path => !path.endsWith('/node_modules') })
  symlinkSync(realpathSync(join(root, 'node_modules')), join(copy, 'node_modules'))
  if (!untouched.has(root)) untouched.set(root, errorsOf(copy))
  const before = untouched.get(root)
  for (const { path, after } of changes) {
    if (after === null) { rmSync(join(copy, path)); continue }
    mkdirSync(dirname(join(copy, path)), { recursive: true })
    writeFileSync(join(copy, path), after)
  }
  const after = errorsOf(copy)
  for (const [error, count] of after) if (count > (before.get(error) ?? 0)) { console.log(`    ${error}`); return false }
  return true
}

function errorsOf(folder) {
  const { stdout } = spawnSync(process.execPath, [join(modules, 'typescript/bin/tsc'), '--noEmit', '--skipLibCheck', '--ignoreDeprecations', '6.0', '-p', folder], { encoding: 'utf8' })
  const errors = new Map()
  // What no file could import before is imported no better by a new one.
  for (const line of stdout.split('\n').filter(text => text.includes(': error TS') && !/error TS2307: Cannot find module '[^.]/.test(text))) {
    // What moved to another file takes its errors along.
    const key = line.replace(/^.*?([^/]+)\(\d+,\d+\)/, '$1')
    errors.set(key, (errors.get(key) ?? 0) + 1)
  }
  return errors
}
