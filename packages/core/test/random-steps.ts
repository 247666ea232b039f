import type { PlannedStep } from '@hollowmoor/core/model/plan'
import type { ChoiceField, Choices } from '@hollowmoor/core/remedy/remedy'
import type { Files } from './project.js'

/** Of what can be one of several things now and then another than is proposed. */
export function chosenBy(draw: () => number): (choices: readonly ChoiceField[] | undefined) => Choices {
  return choices => Object.fromEntries((choices ?? []).filter(one => one.kind === 'one-of' && one.options.length > 0 && (one.value === '' || draw() < 0.5)).map(one => [one.name, one.options[Math.floor(draw() * one.options.length)]!.value]))
}

/** The files with the texts that a step leaves of them; each is changed from what it was. */
export function changed(files: Files, { changes }: PlannedStep): Files {
  const after = { ...files }
  for (const change of changes) {
    expect({ path: change.path, before: change.before }).toEqual({ path: change.path, before: files[change.path] ?? null })
    if (change.after === null) delete after[change.path]
    else after[change.path] = change.after
  }
  return after
}
