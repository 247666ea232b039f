import { appendFileSync, existsSync, readFileSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import type { Refusal } from '@hollowmoor/contract/errors'
import { refusal } from '@hollowmoor/contract/errors'
import { RecordedLineSchema } from '@hollowmoor/contract/recording'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import type { Observation, Observations } from '@hollowmoor/core/model/observation'
import type { CommandOutcome } from './run-command.js'
import { ScratchCopy } from './scratch-copy.js'
import { reportFiles, testResults } from './test-report.js'
import type { TrialCommands } from './trial.js'

/** The environment variables that name the file which recording tests write to, and the calls that they pass over. */
const FILE = 'HOLLOWMOOR_RECORDING', WITHOUT = 'HOLLOWMOOR_RECORDING_WITHOUT'
/** A call that has not come to an end after so many milliseconds is ended with its run, and passed over in the next. */
const LONGEST_CALL = 6000
/** So many calls that do not end are passed over before it is given up. */
const MOST_ENDLESS = 12
/** A recording that is larger is not read. */
const LARGEST = 32 * 1024 * 1024

export type TellOutput = (text: string) => void

/**
 * Runs the recording tests of a change twice on a copy of the project, with the user's own commands, and gives what they saw of each
 * class, by its id, or why nothing was seen.
 */
export async function recordOnCopy(root: string, changes: readonly FileChange[], subjects: readonly string[], commands: TrialCommands, signal: AbortSignal, tell: TellOutput): Promise<ReadonlyMap<string, Observations | Refusal> | Refusal> {
  if (commands.test.trim() === '') return refusal('COMMAND_NOT_CONFIRMED', 'What a class does is recorded by running a test of it: type the command that runs your tests.')
  const copy = await ScratchCopy.of(root)
  try {
    copy.apply(changes)
    const file = join(copy.folder, '.hollowmoor-recording.jsonl')
    const failed = await compile(copy, commands, signal, tell)
    if (failed) return failed
    let last: CommandOutcome | undefined
    const endless: string[] = []
    for (let turn = 0; turn < 2 && !signal.aborted;) {
      tell(`$ ${commands.test}\n`)
      const run = new AbortController(), cancel = () => run.abort()
      signal.addEventListener('abort', cancel)
      const watch = setInterval(() => { if (callUnderWay(file) !== undefined && Date.now() - statSync(file).mtimeMs > LONGEST_CALL) run.abort() }, 1000)
      last = await copy.run(commands.test, { seconds: commands.seconds, signal: run.signal, env: { [FILE]: file, [WITHOUT]: endless.join('\n') }, onOutput: tell })
      clearInterval(watch)
      signal.removeEventListener('abort', cancel)
      const stuck = last.ended === null || signal.aborted ? undefined : callUnderWay(file)
      if (stuck === undefined) { turn++; continue }
      if (endless.push(stuck) > MOST_ENDLESS) return refusal('RECORDING_FAILED', `More than ${MOST_ENDLESS} calls do not come to an end with sample arguments, ${stuck} the last of them.`)
      tell(`${stuck} does not come to an end; it is passed over.\n`)
      // So that the call that stuck is not the last word when the next run begins.
      appendFileSync(file, '\n{}\n')
    }
    if (signal.aborted) return refusal('RECORDING_FAILED', 'Recording was cancelled.')
    if (!existsSync(file)) return refusal('RECORDING_FAILED', `Nothing was recorded: your test command ${ending(last)} without running the new test${lastLine(last)}. A command that runs all tests of the project does.`)
    if (statSync(file).size > LARGEST) return refusal('RECORDING_FAILED', 'What was recorded is more than 32 MB; it is not read.')
    const seen = readRecording(readFileSync(file, 'utf8'))
    return new Map(subjects.map(subject => {
      const one = seen.get(subject)
      return [subject, one === undefined ? refusal('RECORDING_FAILED', `Your test command ran no test of ${subject}.`) : typeof one === 'string' ? refusal('RECORDING_FAILED', `${subject} cannot be built with sample arguments: ${one}`) : one]
    }))
  } finally {
    await endCopy(copy, tell)
  }
}

/** Runs the user's tests on a copy without and with a change; a refusal where a test that the change brings fails, or the command does that did not. */
export async function confirmOnCopy(root: string, changes: readonly FileChange[], commands: TrialCommands, signal: AbortSignal, tell: TellOutput): Promise<Refusal | undefined> {
  const copy = await ScratchCopy.of(root)
  try {
    const before = await testsOf()
    copy.apply(changes)
    const failed = await compile(copy, commands, signal, tell)
    if (failed) return failed
    const after = await testsOf()
    if (signal.aborted) return refusal('RECORDING_FAILED', 'Recording was cancelled.')
    const known = new Set(before.results.map(one => one.name))
    const broken = after.results.filter(one => !one.passed && !known.has(one.name))
    if (broken.length > 0) return refusal('RECORDING_FAILED', `What was recorded does not hold when it is run once more: ${broken[0]!.name}${broken.length > 1 ? ` and ${broken.length - 1} more` : ''}.`)
    if (after.outcome.status !== 0 && before.outcome.status === 0) return refusal('RECORDING_FAILED', `With the new test your test command ${ending(after.outcome)}${lastLine(after.outcome)}.`)
    return undefined

    async function testsOf() {
      for (const path of reportFiles(copy.folder)) rmSync(path)
      tell(`$ ${commands.test}\n`)
      const outcome = await copy.run(commands.test, { seconds: commands.seconds, signal, onOutput: tell })
      return { outcome, results: testResults(copy.folder, outcome.output) }
    }
  } finally {
    await endCopy(copy, tell)
  }
}

/** Removes a copy, and tells which installed files of the user's own the commands changed, where a copy shares them. */
async function endCopy(copy: ScratchCopy, tell: TellOutput): Promise<void> {
  const changed = await copy.changedDependencies()
  if (changed.length > 0) tell(`Your commands changed installed dependencies of your project: ${changed.join(', ')}\n`)
  await copy.remove()
}

/** The call that the last line of a recording says has begun, as `subject name`; undefined where it ended. */
function callUnderWay(file: string): string | undefined {
  if (!existsSync(file) || statSync(file).size > LARGEST) return undefined
  const line = RecordedLineSchema.safeParse(parsedLine(readFileSync(file, 'utf8').trimEnd().split('\n').at(-1) ?? ''))
  return line.success && 'begun' in line.data ? `${line.data.subject} ${line.data.begun}` : undefined
}

async function compile(copy: ScratchCopy, commands: TrialCommands, signal: AbortSignal, tell: TellOutput): Promise<Refusal | undefined> {
  if (commands.compile.trim() === '') return undefined
  tell(`$ ${commands.compile}\n`)
  const outcome = await copy.run(commands.compile, { seconds: commands.seconds, signal, onOutput: tell })
  return outcome.status === 0 ? undefined : refusal('RECORDING_FAILED', `Your compile command ${ending(outcome)}${lastLine(outcome)}.`)
}

function ending(outcome: CommandOutcome | undefined): string { return outcome === undefined ? 'was not run' : outcome.ended === 'time-limit' ? 'took longer than its time limit' : outcome.ended ? `was ended (${outcome.ended})` : `ended with status ${outcome.status}` }
function lastLine(outcome: CommandOutcome | undefined): string {
  const line = outcome?.output.replace(/\u001b\[[0-9;]*m/g, '').trim().split('\n').filter(one => /error|fail|cannot|not found/i.test(one)).at(-1)?.trim()
  return line ? ` (${line.slice(0, 160)})` : ''
}

/** What the lines of a recording say of each class, or why no object of it could be built. Lines that are none are passed over. */
export function readRecording(text: string): Map<string, Observations | string> {
  const seen = new Map<string, { cases: Map<string, string>; unstable: Set<string> }>(), failed = new Map<string, string>()
  for (const line of text.split('\n')) {
    const parsed = RecordedLineSchema.safeParse(parsedLine(line))
    if (!parsed.success) continue
    if ('begun' in parsed.data) continue
    if ('error' in parsed.data) { failed.set(parsed.data.subject, parsed.data.error); continue }
    const { subject, name } = parsed.data, told = JSON.stringify(parsed.data.seen)
    const one = seen.get(subject) ?? { cases: new Map<string, string>(), unstable: new Set<string>() }
    seen.set(subject, one)
    if ((one.cases.get(name) ?? told) !== told) one.unstable.add(name)
    one.cases.set(name, told)
  }
  const found = new Map<string, Observations | string>(failed)
  for (const [subject, { cases, unstable }] of seen) {
    if (!failed.has(subject)) found.set(subject, { cases: Object.fromEntries([...cases].filter(([name]) => !unstable.has(name)).map(([name, told]) => [name, JSON.parse(told) as Observation])), unstable: [...unstable] })
  }
  return found
}

function parsedLine(line: string): unknown {
  try { return JSON.parse(line) } catch { return undefined }
}

