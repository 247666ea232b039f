// `npm run walk`: takes Withymere, step by step, from its first survey to code without cycles, most of it testable alone. Each stage is planned
// by the remedies as the application plans them, written to a copy, compiled and tested there by the code's own commands, and surveyed again from
// its files. Prints the figures of docs/walk.md. `--keep DIR` leaves the copy there.
import { spawnSync } from 'node:child_process'
import { cpSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join, resolve } from 'node:path'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { measureProject } from '@hollowmoor/core/survey'
import { countVerdicts } from '@hollowmoor/core/measure/verdict'
import { OpenProject } from '@hollowmoor/host/open-project'
import { root } from './setup.mjs'

const keep = process.argv.indexOf('--keep')
const folder = keep > 0 ? resolve(process.argv[keep + 1]) : join(mkdtempSync(join(tmpdir(), 'hollowmoor-walk-')), 'withymere')
cpSync(join(root, 'demo/withymere/typescript'), folder, { recursive: true })
symlinkSync(join(root, 'node_modules'), join(folder, 'node_modules'))

const file = { Desk: 'src/booking/passage-desk.ts#PassageDesk', Planner: 'src/booking/passage-planner.ts#PassagePlanner', Window: 'src/booking/toll-window.ts#TollWindow', Reader: 'src/water/gauge-reader.ts#GaugeReader', Logbook: 'src/records/logbook.ts#Logbook',
  Flight: 'src/locks/lock-flight.ts#LockFlight', Lock: 'src/locks/lock.ts#Lock', Motor: 'src/locks/gate-motor.ts#GateMotor', Board: 'src/notices/notice-board.ts#NoticeBoard', LowWater: 'src/notices/low-water-notice.ts#LowWaterNotice', Press: 'src/notices/towpath-press.ts#TowpathPress',
  Receipt: 'src/tolls/receipt.ts#Receipt', Account: 'src/tolls/account.ts#Account', Calculator: 'src/tolls/toll-calculator.ts#TollCalculator', Table: 'src/tolls/toll-table.ts#TollTable', Severity: 'src/notices/severity.ts#Severity' }
const turned = (type, client, name) => [`extract-interface:${type}`, { clients: client, place: 'client', client, name }]

/** Each stage: what it is told by, and its steps; a step may be all that is offered of a kind. */
const stages = [
  ['Severity moves to records', [[`move-type:${file.Severity}`, { module: 'src/records' }]]],
  ['the gauges no longer depend on the desk', [turned(file.Desk, file.Reader, 'LowWaterDesk')]],
  ['three cycles inside modules are turned round', [turned(file.Desk, file.Planner, 'Delays'), turned(file.Flight, file.Lock, 'Neighbours'), turned(file.Board, file.LowWater, 'PinnedNotices')]],
  ['what is built inside is handed in', [
    [`extract-interface:${file.Receipt}`, {}], ...[file.Desk, file.Window, file.Account].map(type => ({ of: type, built: file.Receipt })),
    [`extract-interface:${file.Calculator}`, {}], { of: file.Desk, built: file.Calculator }, { of: file.Press, built: file.Board }, [`inject:${file.Calculator}:${file.Table}.current`, {}],
    [`extract-interface:${file.Lock}`, {}], { of: file.Flight, built: file.Lock }, [`extract-interface:${file.Motor}`, {}], { of: file.Lock, built: file.Motor }
  ]],
  ['the logbook is made replaceable', [[`make-static-replaceable:${file.Logbook}`, {}]]],
  ['and handed to all that write to it', ({ id, remedy }) => remedy === 'inject' && id.endsWith(`:${file.Logbook}`)],
  ['clock and disk go behind interfaces', ({ remedy, subject }) => remedy === 'wrap-library' && !subject.includes('/outside/')],
  ['what a panel decides leaves the framework', ({ remedy }) => remedy === 'extract-plain-class'],
  ['each kind that is chosen by has a class of its own', ({ remedy }) => remedy === 'replace-type-switch'],
  ['tests that set up the same share one builder', ({ remedy, subject }) => remedy === 'builder-for-tests' && subject.endsWith('#TollWindow')]
]

const row = (cells, widths = [48, 6, 10, 8, 8, 8, 8, 8]) => console.log(cells.map((cell, index) => (index === 0 ? String(cell).padEnd(widths[0]) : String(cell).padStart(widths[index]))).join(''))
row(['', 'steps', 'mod.cycles', 'cycles', 'alone', 'real', 'outside', 'tests'])
let failed = false
await tell('first survey', 0)
for (const [title, wanted] of stages) {
  const project = await OpenProject.open(folder)
  const writer = project.session.writer(project.state)
  let survey = project.survey, steps = 0
  const changed = new Map()
  const take = (id, choices) => {
    const outcome = planStep(id, choices, survey, writer)
    if (outcome.refused) { console.log(`  refused: ${id}: ${outcome.message}`); failed = true; return }
    for (const change of outcome.changes) changed.set(change.path, change.after)
    survey = measureProject(writer.current.facts, project.settings)
    steps++
  }
  if (typeof wanted === 'function') for (const offer of offersOf(survey, writer).filter(wanted)) take(offer.id, {})
  else for (const step of wanted) {
    if (Array.isArray(step)) { take(...step); continue }
    // One after the other: each leaves the rest where it stands.
    for (;;) {
      const offer = offersOf(survey, writer, step.of).find(one => one.id.startsWith(`inject:${step.of}:${step.built}@`))
      if (!offer) break
      const before = steps
      take(offer.id, {})
      if (steps === before) break
    }
  }
  for (const [path, text] of changed) {
    mkdirSync(dirname(join(folder, path)), { recursive: true })
    if (text === null) rmSync(join(folder, path))
    else writeFileSync(join(folder, path), text)
  }
  await tell(title, steps)
}
const { survey } = await OpenProject.open(folder)
console.log('\nStill need the outside:')
for (const type of survey.model.types) if (survey.verdicts[type.index] === 'needs-outside') console.log(`  ${type.id}: ${[...new Set(survey.reach.effectsOf(type.index).map(one => one.kind.replaceAll('-', ' ')))].join(', ')}`)
if (keep < 0) rmSync(dirname(folder), { recursive: true, force: true })
process.exit(failed ? 1 : 0)

/** Compiles and tests the copy, surveys it from its files, and prints a row. */
async function tell(title, steps) {
  const compiled = spawnSync('npm', ['run', '--silent', 'compile'], { cwd: folder, encoding: 'utf8' })
  const tested = spawnSync('npm', ['test', '--silent'], { cwd: folder, encoding: 'utf8' })
  if (compiled.status !== 0) { failed = true; console.log(compiled.stdout.slice(0, 2000)) }
  const count = name => Number(new RegExp(`^ℹ ${name} (\\d+)`, 'm').exec(tested.stdout)?.[1] ?? NaN)
  if (tested.status !== 0) { failed = true; console.log(tested.stdout.slice(-2000)) }
  const { survey } = await OpenProject.open(folder)
  const verdicts = countVerdicts(survey.verdicts)
  row([title, steps, survey.moduleCycles.length, survey.moduleCycles.length + survey.fileCycles.length + survey.typeCycles.length, verdicts.alone, verdicts['with-real-classes'], verdicts['needs-outside'], `${count('pass')}/${count('tests')}`])
}
