import { seededRandom } from '@hollowmoor/core/graph/random'
import type { ChoiceField, Choices } from '@hollowmoor/core/remedy/remedy'
import { choicesOf, offersOf, planStep, REMEDIES } from '@hollowmoor/core/remedy/catalogue'
import { jdkPrograms } from '@hollowmoor/host/java-compiler'
import type { Files } from '../../core/test/java.js'
import { readJava, unboundIn } from '../../core/test/java.js'
import { PACKAGE, randomJavaProgram } from './java-random-program.js'
import { printedBy } from './java-running.js'

// What programs do can only be seen where they can be run.
const withJdk = jdkPrograms() ? test : test.skip

/** Programs that are looked at; more of them by `ROUNDS=100`. */
const ROUNDS = Number(process.env.ROUNDS ?? 1), FIRST = Number(process.env.FIRST ?? 20261308)

/** What only a run of a test can plan, what needs tests, and the end of a way whose beginning is another remedy. */
const LEFT_OUT = new Set(['first-test', 'builder-for-tests', 'retire-static-face'])

withJdk('a Java program does after every remedy what it did before, over random programs', () => {
  const draw = seededRandom(FIRST)
  /** Of what can be one of several things now and then another than is proposed. */
  const chosen = (choices: readonly ChoiceField[]): Choices => Object.fromEntries(choices.filter(one => one.kind === 'one-of' && one.options.length > 0 && (one.value === '' || draw() < 0.5)).map(one => [one.name, one.options[Math.floor(draw() * one.options.length)]!.value]))
  const counts = new Map<string, { applied: number; refused: number }>()
  for (let round = 0; round < ROUNDS; round++) {
    const files = randomJavaProgram(FIRST + round), { survey, language, state } = readJava(files)
    expect({ round, unbound: unboundIn(files) }).toEqual({ round, unbound: [] })
    const variants: { readonly id: string; readonly files: Files }[] = [{ id: 'as it is', files }]
    for (const { id, remedy, subject } of offersOf(survey, language.writer(state))) {
      if (LEFT_OUT.has(remedy) || subject === `${PACKAGE}.Main`) continue
      const outcome = planStep(id, chosen(choicesOf(id, survey, language.writer(state)) ?? []), survey, language.writer(state)), count = counts.get(remedy) ?? { applied: 0, refused: 0 }
      counts.set(remedy, count)
      if (outcome.refused) { count.refused++; if (process.env.ROUNDS) process.stdout.write(`${FIRST + round} ${id}: ${outcome.message}\n`); continue }
      count.applied++
      const after: Record<string, string | null> = { ...files, ...Object.fromEntries(outcome.changes.map(change => [change.path, change.after])) }
      variants.push({ id, files: Object.fromEntries(Object.entries(after).flatMap(([path, text]) => (text === null ? [] : [[path, text]]))) })
    }
    // All of them side by side, each in a package of its own.
    const named = (text: string, at: number) => text.replace(new RegExp(`\\b${PACKAGE}\\b`, 'g'), `v${at}`)
    const all: Files = Object.fromEntries(variants.flatMap((one, at) => Object.entries(one.files).map(([path, text]) => [named(path, at), named(text, at)])))
    const printed = printedBy({ ...all, 'All.java': `public class All {\n    public static void main(String[] args) {\n${variants.map((_, at) => `        System.out.println(v${at}.Main.told());\n`).join('')}    }\n}\n` })
    expect(printed[0]!.length).toBeGreaterThan(300)
    for (const [at, { id }] of variants.entries()) expect({ seed: FIRST + round, id, told: printed[at] }).toEqual({ seed: FIRST + round, id, told: printed[0] })
  }
  if (process.env.ROUNDS) process.stdout.write(`${JSON.stringify(Object.fromEntries(counts))}\n`)
  expect(REMEDIES.filter(({ name }) => !LEFT_OUT.has(name) && !counts.get(name)?.applied).map(one => one.name)).toEqual([])
}, 900_000)
