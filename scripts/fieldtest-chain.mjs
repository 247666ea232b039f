// Takes statics of a code base all the way, TypeScript (functions of files, too) or Java: made replaceable, the instance handed to each
// who calls them, and the static face let go, each step planned on the result of the one before. What comes of it is checked as a whole,
// in Java by javac.
// `npm run fieldtest:chain -- DIR ... [--limit N] [--callers N] [--journal FILE] [--keep DIR]`. Statics with more than `--callers` (8)
// classes that call them are left out; where one cannot be handed the instance, the face stays, and nothing is counted.
import { resolve } from 'node:path'
import { isRefusal } from '@hollowmoor/contract/errors'
import { CompileCheck } from '@hollowmoor/host/compile-check'
import { OpenProject } from '@hollowmoor/host/open-project'
import { problemsWith } from '@hollowmoor/host/problems-with'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { dependenciesOn, measureProject } from '@hollowmoor/core/survey'
import { FieldJournal, someOf } from './field-journal.mjs'

const args = process.argv.slice(2)
const option = name => { const at = args.indexOf(name); return at < 0 ? undefined : args.splice(at, 2)[1] }
const limit = Number(option('--limit') ?? Infinity), mostCallers = Number(option('--callers') ?? 8)
const journal = new FieldJournal(option('--journal'), option('--keep'))
const RETIRE = 'retire-static-face'
const compilers = new CompileCheck()

for (const folder of args) {
  const root = resolve(folder), project = await OpenProject.open(root)
  if (isRefusal(project)) { console.error(project.message); process.exit(2) }
  const code = root.split('/').slice(-4).join('/')
  const { survey } = project, start = () => project.session.writer(project.state)
  const statics = someOf(offersOf(survey, start(), undefined, 'make-static-replaceable'), undefined, limit)
  for (const offer of statics) {
    const retire = { id: `${RETIRE}:${offer.subject}`, remedy: RETIRE }
    if (callersOf(survey, offer.subject).length > mostCallers || journal.find(code, retire.id)) continue
    try { await takeAllTheWay(code, project, offer, retire) } catch (error) {
      journal.note(code, retire, 'failed', 'thrown')
      journal.keep(code, retire.id, error.stack, [])
      console.log(`  FAILED ${retire.id}: ${error.stack.split('\n').slice(0, 3).join(' | ')}`)
    }
  }
}
console.table(journal.table())
process.exitCode = [...journal.done.values()].some(one => one.result === 'failed') ? 1 : 0
compilers.close()

async function takeAllTheWay(code, project, offer, retire) {
  const writer = project.session.writer(project.state), steps = []
  let { survey } = project
  const take = (id, choices = {}) => {
    const outcome = planStep(id, choices, survey, writer)
    if (outcome.refused) return outcome
    steps.push(outcome)
    survey = measureProject(writer.current.facts)
    return outcome
  }
  if (take(offer.id).refused) return
  for (const type of callersOf(survey, offer.subject)) {
    for (let rounds = 0; rounds < 20; rounds++) {
      const point = writer.injectionPoints(type).find(one => one.collaborator === offer.subject)
      if (!point || take(`inject:${type}:${point.key}`).refused) break
    }
  }
  if (!offersOf(survey, writer, offer.subject, RETIRE).length) { console.log(`  left: ${offer.subject} is still called by ${callersOf(survey, offer.subject).join(', ')}`); return }
  const last = take(retire.id)
  if (last.refused) { journal.note(code, retire, 'refused', last.reason); console.log(`  refused ${retire.id}: ${last.message}`); return }
  const changes = changesOf(steps)
  const problems = await problemsWith(project, changes, compilers)
  journal.note(code, retire, problems.length === 0 ? 'applied' : 'failed', problems.length === 0 ? '' : 'compile')
  if (problems.length > 0) { journal.keep(code, retire.id, problems.join('\n'), changes); console.log(`  FAILED ${retire.id} after ${steps.length} steps: ${problems[0]}`) }
}

/** Ids of product types that name a static of a class. */
function callersOf({ model, ...survey }, subject) {
  const index = model.typeIndex.get(subject)
  return [...new Set(dependenciesOn({ model, ...survey }, index).map(one => model.types[one.from]).filter(type => !type.test).map(type => type.id))]
}

/** All steps as one change. */
function changesOf(steps) {
  const files = new Map()
  for (const { path, before, after } of steps.flatMap(one => one.changes)) files.set(path, { path, before: files.has(path) ? files.get(path).before : before, after })
  return [...files.values()].filter(one => one.before !== one.after)
}
