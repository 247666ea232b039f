import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import type { Baseline } from '@hollowmoor/contract/baseline'
import { BaselineSchema } from '@hollowmoor/contract/baseline'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import { unifiedDiff } from '@hollowmoor/core/edit/diff'
import { inBatches, patchSeries } from '@hollowmoor/core/edit/patch-series'
import { batchesOf, usedFirst } from '@hollowmoor/core/remedy/batches'
import { offersOf, parseRemedyId, planStep } from '@hollowmoor/core/remedy/catalogue'
import { SEEN } from '@hollowmoor/core/remedy/write-first-test'
import { compareSurveys } from '@hollowmoor/core/compare/compare'
import { digestOf } from '@hollowmoor/core/compare/digest'
import type { Survey } from '@hollowmoor/core/survey'
import { surveyDocumentPieces } from '@hollowmoor/core/export/survey-document'
import { surveyCommit } from '@hollowmoor/host/commit-survey'
import { forkPoint } from '@hollowmoor/host/commit-source'
import { CompileCheck } from '@hollowmoor/host/compile-check'
import { problemsWith } from '@hollowmoor/host/problems-with'
import { writeChange } from '@hollowmoor/host/journalled-write'
import { openFolder } from '@hollowmoor/host/project-folder'
import { removeLeftScratchFolders } from '@hollowmoor/host/scratch-folder'
import { recoverProject } from '@hollowmoor/host/write-recovery'
import { OpenProject } from '@hollowmoor/host/open-project'
import { confirmOnCopy, recordOnCopy } from '@hollowmoor/host/recording'
import { Command, CommanderError } from 'commander'
import { comparisonLines } from './comparison-lines.js'
import type { Streams } from './output.js'
import { writePieces } from './output.js'
import { readableSummary } from './summary.js'

/** Exit statuses: 0 done, 1 a check found something, 2 wrong use or unreadable input, 3 refused. */
const DONE = 0, FOUND = 1, WRONG = 2, REFUSED = 3

/** Ends a command with a status and one line on standard error. */
class Stop extends Error {
  constructor(readonly status: number, message: string) { super(message) }
}

/** Runs one command line and returns its exit status. Never ends the process. */
export async function run(args: readonly string[], streams: Streams): Promise<number> {
  let status = DONE
  const program = new Command('hollowmoor')
    .description('Measures coupling and dependency cycles, and makes classes replaceable.')
    .exitOverride()
    .configureOutput({ writeOut: text => void streams.out.write(text), writeErr: () => undefined })

  program.command('measure').argument('<dir>').description('measures a folder of TypeScript or Java code')
    .option('--json <file>', 'write the survey document to a file, or to standard output with -')
    .addHelpText('after', '\nExamples:\n  hollowmoor measure .\n  hollowmoor measure packages/core --json survey.json\n  hollowmoor measure . --json - | head -c 300\n')
    .action(async (dir: string, options: { json?: string }) => {
      const project = await open(dir)
      const pieces = options.json === undefined ? [readableSummary(project.survey)] : surveyDocumentPieces(project.survey)
      const failed = await writePieces(options.json ?? '-', pieces, streams)
      if (failed) throw new Stop(WRONG, failed.message)
    })

  program.command('remedies').argument('<dir>').description('lists what could be done')
    .option('--type <id>', 'only for this type').option('--json <file>', 'write the list to a file, or to standard output with -')
    .addHelpText('after', '\nExamples:\n  hollowmoor remedies .\n  hollowmoor remedies . --type src/desk.ts#Desk --json -\n')
    .action(async (dir: string, options: { type?: string; json?: string }) => {
      const project = await open(dir)
      if (options.type !== undefined && !project.survey.model.typeIndex.has(options.type)) throw new Stop(WRONG, `--type: there is no type ${options.type} in ${dir}`)
      const offers = offersOf(project.survey, project.session.writer(project.state), options.type)
      const text = options.json !== undefined ? `${JSON.stringify(offers, null, 2)}\n`
        : offers.map(offer => `${offer.title}  (up to ${offer.edits} edits in ${offer.files} files)\n  ${offer.id}\n`).join('') || 'Nothing to offer.\n'
      const failed = await writePieces(options.json ?? '-', [text], streams)
      if (failed) throw new Stop(WRONG, failed.message)
    })

  program.command('apply').argument('<dir>').argument('<remedy-id>').description('plans a remedy, checks it, and prints or writes it')
    .option('--set <name=value>', 'a choice of the remedy; can be given several times', (value: string, all: string[]) => [...all, value], [])
    .option('--test <command>', 'run your tests with this on a copy: for a first test, which is recorded').option('--compile <command>', 'run before the tests').option('--seconds <number>', 'time limit of each command', '300')
    .option('--diff', 'print a unified diff that git apply takes').option('--patch', 'print a mail that git am takes').option('--batch <files>', 'with --patch: divide it into mails of at most so many files that each compile on those before').option('--write', 'change the folder')
    .addHelpText('after', '\nExamples:\n  hollowmoor apply . "extract-interface:src/log.ts#Log" --set name=Journal --diff\n  hollowmoor apply . "inject:src/desk.ts#Desk:src/log.ts#Log@log" --write\n  hollowmoor apply . "first-test:src/tolls/account.ts#Account" --test "npm test" --write\n')
    .action(async (dir: string, id: string, options: { set: string[]; test?: string; compile?: string; seconds: string; diff?: boolean; patch?: boolean; batch?: string; write?: boolean }) => {
      if (!options.diff && !options.patch && !options.write) throw new Stop(WRONG, 'say what to do with the change: --diff or --patch prints it, --write writes it')
      const size = options.batch === undefined ? null : Number(options.batch)
      if (size !== null && (!Number.isInteger(size) || size < 1 || !options.patch)) throw new Stop(WRONG, `--batch ${options.batch}: give a number of files, together with --patch`)
      const choices: Record<string, string> = {}
      for (const pair of options.set) {
        const at = pair.indexOf('=')
        if (at <= 0) throw new Stop(WRONG, `--set ${pair}: give it as name=value`)
        choices[pair.slice(0, at)] = pair.slice(at + 1)
      }
      const project = await open(dir)
      if (!parseRemedyId(id, project.survey)) throw new Stop(WRONG, `there is no remedy ${id} in ${dir}; "hollowmoor remedies" lists them`)
      const plan = (chosen: Record<string, string>) => {
        const planned = planStep(id, chosen, project.survey, project.session.writer(project.state))
        if (planned.refused) throw new Stop(REFUSED, planned.message)
        return planned
      }
      let outcome = plan(choices)
      if (outcome.recorder !== undefined) {
        const seconds = Number(options.seconds)
        if (!(seconds > 0)) throw new Stop(WRONG, `--seconds ${options.seconds}: give a number of seconds`)
        if (options.test === undefined) throw new Stop(WRONG, 'what the class does is recorded by running your tests on a copy: give the command with --test')
        const commands = { compile: options.compile ?? '', test: options.test, seconds }, { signal } = new AbortController(), quiet = () => undefined
        const { subject } = parseRemedyId(id, project.survey)!
        const recorded = await recordOnCopy(project.root, outcome.changes, [subject], commands, signal, quiet)
        const seen = isRefusal(recorded) ? recorded : recorded.get(subject)!
        if (isRefusal(seen)) throw new Stop(REFUSED, seen.message)
        outcome = plan({ ...choices, [SEEN]: JSON.stringify(seen) })
        const doubt = await confirmOnCopy(project.root, outcome.changes, commands, signal, quiet)
        if (doubt) throw new Stop(REFUSED, doubt.message)
      }
      const compilers = new CompileCheck()
      const compiled = await compilers.check(project, outcome.changes)
      const batches = size === null || compiled.errors.length > 0 ? [] : await batchesOf(usedFirst(outcome.changes, project.survey), size, files => problemsWith(project, files, compilers))
      compilers.close()
      if (compiled.errors.length > 0) throw new Stop(REFUSED, `It would not compile: ${compiled.errors[0]}`)
      if (options.diff) streams.out.write(unifiedDiff(outcome.changes))
      if (options.patch) {
        const title = offersOf(project.survey, project.session.writer(project.state), parseRemedyId(id, project.survey)!.subject).find(one => one.id === id)?.title ?? id
        streams.out.write(patchSeries(inBatches({ title, notes: outcome.notes, changes: outcome.changes }, batches.map(batch => batch.map(one => one.path))), new Date()))
      }
      if (options.write) {
        const written = await writeChange(project.root, outcome.changes)
        if (isRefusal(written)) throw new Stop(REFUSED, written.message)
      }
    })

  program.command('check').argument('<dir>').description('fails on a cycle among modules or files that the baseline does not list')
    .option('--against <ref>', 'tells what this branch adds against where it left another, and fails on cycles opened and types tied')
    .option('--baseline <file>', 'cycles that are accepted for now').option('--write-baseline <file>', 'write the cycles there are now, and succeed')
    .addHelpText('after', '\nExamples:\n  hollowmoor check .\n  hollowmoor check . --write-baseline baseline.json\n  hollowmoor check . --baseline baseline.json\n  hollowmoor check . --against main\n')
    .action(async (dir: string, options: { against?: string; baseline?: string; writeBaseline?: string }) => {
      const baseline = options.baseline === undefined ? undefined : readBaseline(options.baseline)
      const { survey, root, settings } = await open(dir)
      if (options.against !== undefined) {
        const fork = forkPoint(root, options.against)
        if (!fork) throw new Stop(WRONG, `--against ${options.against}: git knows no such branch or commit in ${root}; fetch it first`)
        const before = await surveyCommit(root, fork.hash, settings)
        if (isRefusal(before)) throw new Stop(WRONG, before.message)
        const found = compareSurveys(digestOf(before), digestOf(survey))
        for (const line of comparisonLines(found, root)) streams.out.write(`${line}\n`)
        if (found.opened.length > 0 || found.tied.length > 0) status = FOUND
        return
      }
      if (options.writeBaseline !== undefined) {
        try {
          mkdirSync(dirname(options.writeBaseline), { recursive: true })
          writeFileSync(options.writeBaseline, `${JSON.stringify(baselineOf(survey), null, 2)}\n`)
        } catch (error) {
          throw new Stop(WRONG, `--write-baseline ${options.writeBaseline}: ${(error as Error).message}`)
        }
        return
      }
      const found = newCycles(survey, baseline)
      for (const line of found) streams.out.write(`${line}\n`)
      if (found.length === 0) streams.out.write('No new cycles.\n')
      else status = FOUND
    })

  program.command('serve').argument('[dir]').description('starts the application on this machine')
    .option('--port <number>', 'port on 127.0.0.1', '4870').option('--data <folder>', 'where projects and surveys are kept')
    .addHelpText('after', '\nExamples:\n  hollowmoor serve\n  hollowmoor serve ~/code/harbour --port 5000\n')
    .action(async (dir: string | undefined, options: { port: string; data?: string }) => {
      const port = Number(options.port)
      if (!Number.isInteger(port) || port < 0 || port > 65535) throw new Stop(WRONG, `--port ${options.port}: a port is a number from 0 to 65535`)
      const { serve } = await import('@hollowmoor/server/serve')
      const started = await serve({ port, ...(options.data ? { dataFolder: options.data } : {}), ...(dir ? { open: dir } : {}) })
      if (isRefusal(started) && started.refused === 'DATA_FOLDER_IN_USE' && started.subject !== undefined) {
        const { openInRunning } = await import('@hollowmoor/server/running-server')
        const page = await openInRunning(started.subject, dir === undefined ? undefined : resolve(dir))
        if (isRefusal(page)) throw new Stop(WRONG, page.message)
        streams.out.write(`Hollowmoor runs already; this page of it is open to you: ${page}\nTo run another server, choose another data folder with --data FOLDER.\n`)
        return
      }
      if (isRefusal(started)) throw new Stop(WRONG, started.message)
      streams.out.write(`Hollowmoor is at ${started.address}\n`)
      await started.closed
    })

  try {
    await program.parseAsync([...args], { from: 'user' })
    return status
  } catch (error) {
    if (error instanceof Stop) { streams.err.write(`${error.message}\n`); return error.status }
    if (error instanceof CommanderError) {
      if (error.exitCode === 0) return DONE
      const message = error.message.replace(/^error: /, '')
      streams.err.write(`${message === '(outputHelp)' ? 'name a command; --help lists them' : message}\n`)
      return WRONG
    }
    streams.err.write(`${(error as Error).message}\n`)
    return WRONG
  }

  async function open(dir: string): Promise<OpenProject> {
    await removeLeftScratchFolders().catch(() => 0)
    await recover(dir)
    const project = await OpenProject.open(dir)
    if (isRefusal(project)) throw new Stop(WRONG, project.message)
    return project
  }

  /** Brings what an interrupted write left to its end, so that no mixture is read; says what was done. */
  async function recover(dir: string): Promise<void> {
    const folder = openFolder(dir)
    if (isRefusal(folder)) throw new Stop(WRONG, folder.message)
    const recovered = await recoverProject(folder.root)
    if (isRefusal(recovered)) throw new Stop(WRONG, recovered.message)
    for (const { message } of recovered) streams.err.write(`${message}\n`)
    const stuck = recovered.find(({ outcome }) => outcome === 'stuck')
    if (stuck) throw new Stop(WRONG, 'The files may be half old and half new, so they are not read.')
  }
}

function readBaseline(path: string): Baseline {
  if (!existsSync(path)) throw new Stop(WRONG, `--baseline ${path}: there is no such file; make it with --write-baseline`)
  try {
    const parsed = BaselineSchema.safeParse(JSON.parse(readFileSync(path, 'utf8')))
    if (parsed.success) return parsed.data
    throw new Stop(WRONG, `--baseline ${path}: it is no baseline (${parsed.error.issues[0]?.message})`)
  } catch (error) {
    if (error instanceof Stop) throw error
    throw new Stop(WRONG, refusal('BASELINE_INVALID', `--baseline ${path}: ${(error as Error).message}`).message)
  }
}

function baselineOf(survey: Survey): Baseline {
  return {
    format: 'hollowmoor-baseline', version: 1,
    moduleCycles: survey.moduleCycles.map(({ within, members }) => ({ within, members: [...members] })),
    fileCycles: survey.fileCycles.map(({ members }) => ({ members: [...members] }))
  }
}

/** Cycles that no cycle of the baseline covers, in words: a cycle is covered where all its members are in one of them. */
export function newCycles(survey: Survey, baseline?: Baseline): string[] {
  const covered = (members: readonly string[], known: readonly { readonly members: readonly string[] }[]) =>
    known.some(cycle => members.every(member => cycle.members.includes(member)))
  const lines: string[] = []
  for (const [name, cycles, known] of [
    ['modules', survey.moduleCycles, baseline?.moduleCycles ?? []], ['files', survey.fileCycles, baseline?.fileCycles ?? []]
  ] as const) {
    for (const cycle of cycles) {
      if (covered(cycle.members, known)) continue
      const cut = cycle.cut.dependencies.map(one => `${one.from} -> ${one.to}`).join(', ')
      lines.push(`cycle of ${cycle.members.length} ${name}: ${cycle.members.join(', ')}; cut ${cycle.cut.references} references: ${cut}`)
    }
  }
  return lines
}
