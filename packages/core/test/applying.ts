import { planStep } from '@hollowmoor/core/remedy/catalogue'
import type { Choices } from '@hollowmoor/core/remedy/remedy'
import type { StepOutcome } from '@hollowmoor/core/model/plan'
import type { Files as JavaFiles } from './java.js'
import { readJava } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

/** The texts of the files that one remedy changes, null for those that go; or why it cannot be done. */
export type Applied = Record<string, string | null> | { readonly reason: string; readonly message: string }

function told(outcome: StepOutcome): Applied {
  return outcome.refused ? { reason: outcome.reason, message: outcome.message } : Object.fromEntries(outcome.changes.map(change => [change.path, change.after]))
}

/** Applies a remedy by its id to TypeScript in memory. */
export function apply(files: Files, id: string, choices: Choices = {}): Applied {
  const { survey, writer } = readProject(files)
  return told(planStep(id, choices, survey, writer))
}

/** Applies a remedy by its id to Java in memory. */
export function applyJava(files: JavaFiles, id: string, choices: Choices = {}): Applied {
  const { survey, language, state } = readJava(files)
  return told(planStep(id, choices, survey, language.writer(state)))
}
