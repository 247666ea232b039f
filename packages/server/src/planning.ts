import type { Commands, StepInput } from '@hollowmoor/contract/api'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import { SEEN } from '@hollowmoor/core/remedy/write-first-test'
import type { TellOutput } from '@hollowmoor/host/recording'
import { confirmOnCopy, recordOnCopy } from '@hollowmoor/host/recording'
import type { PlannedChange, UnfitChange } from './worker/messages.js'
import type { Progress } from './worker/project-thread.js'

/** What planning needs of those around it. */
export interface Planning {
  readonly plan: (steps: readonly StepInput[]) => Promise<PlannedChange | UnfitChange | Refusal>
  readonly root: string
  readonly commands: Commands | null
  readonly signal: AbortSignal
  readonly tell: TellOutput
  readonly progress: Progress
}

/**
 * Plans steps. Where some of them are tests of which it has to be seen what they are to hold, they are recorded on a copy with the user's
 * own commands, planned again with what was seen, and run once more.
 */
export async function planRecorded(steps: readonly StepInput[], { plan, root, commands, signal, tell, progress }: Planning): Promise<PlannedChange | UnfitChange | Refusal> {
  // What was seen once may not be so now.
  const asked = steps.map(({ id, choices }) => ({ id, choices: Object.fromEntries(Object.entries(choices).filter(([name]) => name !== SEEN)) }))
  const first = await plan(asked)
  if (isRefusal(first) || 'misfits' in first) return first
  const subjects = first.steps.flatMap(({ recorder }) => (recorder ? [recorder.subject] : []))
  if (subjects.length === 0) return first
  if (!commands?.confirmed) return refusal('COMMAND_NOT_CONFIRMED', 'What a class does is recorded by running your tests on a copy: confirm the compile and test commands first. Nothing runs that you have not confirmed.')
  const unfit = (why: (subject: string) => string | null): UnfitChange => ({ misfits: first.steps.map(({ title, recorder }) => ({ title, misfit: recorder ? why(recorder.subject) : null })) })

  progress('recording what it does', 1, 3)
  const seen = await recordOnCopy(root, first.files, subjects, commands, signal, tell)
  if (isRefusal(seen)) return unfit(() => seen.message)
  if ([...seen.values()].some(isRefusal)) return unfit(subject => { const one = seen.get(subject); return isRefusal(one) ? one.message : null })
  const second = await plan(asked.map((step, index) => {
    const recorder = first.steps[index]!.recorder
    return recorder ? { ...step, choices: { ...step.choices, [SEEN]: JSON.stringify(seen.get(recorder.subject)) } } : step
  }))
  if (isRefusal(second) || 'misfits' in second) return second
  progress('running the new test', 2, 3)
  const doubt = await confirmOnCopy(root, second.files, commands, signal, tell)
  return doubt ? unfit(() => doubt.message) : second
}
