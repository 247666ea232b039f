// Applies remedies to a code base on a copy and runs its own tests, TypeScript or Java. `npm run fieldtest:suite -- DIR --test COMMAND
// [--compile COMMAND] [--remedy NAME,...] [--limit N] [--batch N] [--seconds N] [--journal FILE] [--keep DIR] [--settings JSON]`. Changes
// that touch no file in common are applied together, at most `--batch` of them (24); where a test then fails that passed before, or is
// gone, the batch is halved until what is to blame stands alone. Tests that do not pass in both of two runs before are left out.
import { rmSync } from 'node:fs'
import { resolve } from 'node:path'
import { isRefusal } from '@hollowmoor/contract/errors'
import { OpenProject } from '@hollowmoor/host/open-project'
import { ScratchCopy } from '@hollowmoor/host/scratch-copy'
import { reportFiles, testResults } from '@hollowmoor/host/test-report'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { blame, ChangeBatches } from './change-batches.mjs'
import { FieldJournal, someOf } from './field-journal.mjs'

const args = process.argv.slice(2)
const option = name => { const at = args.indexOf(name); return at < 0 ? undefined : args.splice(at, 2)[1] }
const test = option('--test'), compile = option('--compile') ?? '', only = option('--remedy')
const limit = Number(option('--limit') ?? Infinity), size = Number(option('--batch') ?? 24), seconds = Number(option('--seconds') ?? 600)
const journal = new FieldJournal(option('--journal'), option('--keep'))
const settings = { ...DEFAULT_SETTINGS, ...JSON.parse(option('--settings') ?? '{}') }
const DOES_NOT_COMPILE = 'it does not compile'
const root = args[0] && resolve(args[0])
if (!root || !test) { console.error('usage: fieldtest:suite -- DIR --test COMMAND [--compile COMMAND]'); process.exit(2) }
const project = await OpenProject.open(root, settings)
if (isRefusal(project)) { console.error(project.message); process.exit(2) }
const code = root.split('/').at(-1)

const first = await run([]), second = await run([])
if (!first || !second) { console.error('It does not compile as it is.'); process.exit(2) }
const stable = [...first].filter(([name, passed]) => passed && second.get(name)).map(([name]) => name)
console.log(`${stable.length} tests pass in both of two runs before; ${first.size - stable.length} do not and are left out.`)
if (stable.length === 0) process.exit(2)

let runs = 0, together = 0
const waiting = someOf(offersOf(project.survey, project.session.writer(project.state)), only, limit).filter(offer => !journal.find(code, offer.id))
const batches = new ChangeBatches(size), full = []
for (const offer of waiting) {
  let outcome
  try { outcome = planStep(offer.id, {}, project.survey, project.session.writer(project.state)) } catch (error) {
    journal.note(code, offer, 'failed', 'thrown')
    journal.keep(code, offer.id, error.stack, [])
    continue
  }
  if (outcome.refused) { journal.note(code, offer, 'refused', outcome.reason); continue }
  full.push(batches.add({ offer, changes: outcome.changes }) ?? [])
}
const all = [...full.filter(cases => cases.length > 0), ...batches.rest()]
console.log(`${waiting.length} places, in ${all.length} batches`)
for (const cases of all) {
  await blame(cases, {
    problemsOf: testsBrokenBy,
    good: ({ offer }) => journal.note(code, offer, 'applied'),
    bad: ({ offer, changes }, broken) => {
      journal.note(code, offer, 'failed', broken[0] === DOES_NOT_COMPILE ? 'compile' : 'tests')
      journal.keep(code, offer.id, broken.slice(0, 20).join('\n'), changes)
      console.log(`  FAILED ${offer.id}: ${broken.length}: ${broken.slice(0, 3).join(' | ')}`)
    },
    together: (halves, broken) => { together++; console.log(`  only together: ${halves.map(one => one.offer.id).join(' ; ')}: ${broken[0]}`) }
  })
}
console.log(`${runs} runs of the tests; ${together} pairs of halves that failed only together`)
console.table(journal.table())
process.exitCode = [...journal.done.values()].some(one => one.result === 'failed') ? 1 : 0

/** Names of tests that passed before and do not now. */
async function testsBrokenBy(cases) {
  runs++
  const after = await run(cases.flatMap(one => one.changes))
  if (!after) return [DOES_NOT_COMPILE]
  const broken = stable.filter(name => !after.get(name))
  console.log(`  ${new Date().toISOString().slice(11, 19)} ${cases.length} changes: ${stable.length - broken.length} of ${stable.length} pass`)
  return broken
}

/** Test names with whether they passed, on a copy with changes; nothing where it does not compile. */
async function run(changes) {
  const copy = await ScratchCopy.of(root)
  try {
    copy.apply(changes)
    for (const path of reportFiles(copy.folder)) rmSync(path)
    if (compile) {
      const { status, output } = await copy.run(compile, { seconds })
      if (status !== 0) { if (changes.length > 0) console.log(output.split('\n').filter(line => line.includes('error')).slice(0, 3).join('\n')); return undefined }
    }
    const { output } = await copy.run(test, { seconds })
    return new Map(testResults(copy.folder, output).map(one => [one.name, one.passed]))
  } finally { await copy.remove() }
}
