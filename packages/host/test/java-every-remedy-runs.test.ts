import { seededRandom } from '@hollowmoor/core/graph/random'
import { choicesOf, offersOf, planStep, REMEDIES } from '@hollowmoor/core/remedy/catalogue'
import { measureProject } from '@hollowmoor/core/survey'
import { jdkPrograms } from '@hollowmoor/host/java-compiler'
import type { Files } from '../../core/test/java.js'
import { readJava, unboundIn } from '../../core/test/java.js'
import { chosenBy, changed } from '../../core/test/random-steps.js'
import { PACKAGE, randomJavaProgram } from './java-random-program.js'
import { printedBy } from './java-running.js'

// What programs do can only be seen where they can be run.
const withJdk = jdkPrograms() ? test : test.skip

/** Programs that are looked at; more of them by `ROUNDS=100`. */
const ROUNDS = Number(process.env.ROUNDS ?? 1), FIRST = Number(process.env.FIRST ?? 20261308)

/** What only a run of a test can plan, what needs tests, and the end of a way whose beginning is another remedy. */
const LEFT_OUT = new Set(['first-test', 'builder-for-tests', 'retire-static-face'])

/** What forms of a program tell, each in a package of its own. */
function toldBySideBySide(variants: readonly Files[]): string[] {
  const named = (text: string, at: number) => text.replace(new RegExp(`\\b${PACKAGE}\\b`, 'g'), `v${at}`)
  const all: Files = Object.fromEntries(variants.flatMap((one, at) => Object.entries(one).map(([path, text]) => [named(path, at), named(text, at)])))
  return printedBy({ ...all, 'All.java': `public class All {\n    public static void main(String[] args) {\n${variants.map((_, at) => `        System.out.println(v${at}.Main.told());\n`).join('')}    }\n}\n` })
}

withJdk('a Java program does after every remedy what it did before, over random programs', () => {
  const chosen = chosenBy(seededRandom(FIRST))
  const counts = new Map<string, { applied: number; refused: number }>()
  for (let round = 0; round < ROUNDS; round++) {
    const files = randomJavaProgram(FIRST + round), { survey, language, state } = readJava(files)
    expect({ round, unbound: unboundIn(files) }).toEqual({ round, unbound: [] })
    const variants: { readonly id: string; readonly files: Files }[] = [{ id: 'as it is', files }]
    for (const { id, remedy, subject } of offersOf(survey, language.writer(state))) {
      if (LEFT_OUT.has(remedy) || subject === `${PACKAGE}.Main`) continue
      const outcome = planStep(id, chosen(choicesOf(id, survey, language.writer(state))), survey, language.writer(state)), count = counts.get(remedy) ?? { applied: 0, refused: 0 }
      counts.set(remedy, count)
      if (outcome.refused) { count.refused++; if (process.env.ROUNDS) process.stdout.write(`${FIRST + round} ${id}: ${outcome.message}\n`); continue }
      count.applied++
      variants.push({ id, files: changed(files, outcome) })
    }
    const printed = toldBySideBySide(variants.map(one => one.files))
    expect(printed[0]!.length).toBeGreaterThan(300)
    for (const [at, { id }] of variants.entries()) expect({ seed: FIRST + round, id, told: printed[at] }).toEqual({ seed: FIRST + round, id, told: printed[0] })
  }
  if (process.env.ROUNDS) process.stdout.write(`${JSON.stringify(Object.fromEntries(counts))}\n`)
  expect(REMEDIES.filter(({ name }) => !LEFT_OUT.has(name) && !counts.get(name)?.applied).map(one => one.name)).toEqual([])
}, 900_000)

/** Steps that are taken one on the other. */
const STEPS = 6

withJdk('a Java program does after several remedies, each on what the one before left, what it did at first', () => {
  const draw = seededRandom(FIRST + 1), upTo = (count: number) => Math.floor(draw() * count), chosen = chosenBy(draw), names = REMEDIES.map(one => one.name).filter(name => !LEFT_OUT.has(name))
  let taken = 0
  for (let round = 0; round < ROUNDS; round++) {
    const files = randomJavaProgram(FIRST + round), { language, state, ...read } = readJava(files), writer = language.writer(state), variants = [files], ids: string[] = []
    let { survey } = read
    for (let trial = 0; ids.length < STEPS && trial < STEPS * 4; trial++) {
      const offers = offersOf(survey, writer, undefined, names[upTo(names.length)]).filter(one => one.subject !== `${PACKAGE}.Main`)
      if (offers.length === 0) continue
      const { id } = offers[upTo(offers.length)]!, outcome = planStep(id, chosen(choicesOf(id, survey, writer)), survey, writer)
      if (outcome.refused) continue
      ids.push(id)
      variants.push(changed(variants.at(-1)!, outcome))
      survey = measureProject(writer.current.facts)
    }
    const printed = toldBySideBySide(variants)
    for (const at of ids.keys()) expect({ seed: FIRST + round, ids: ids.slice(0, at + 1), told: printed[at + 1] }).toEqual({ seed: FIRST + round, ids: ids.slice(0, at + 1), told: printed[0] })
    taken += ids.length
  }
  expect(taken).toBeGreaterThanOrEqual(ROUNDS * STEPS - 2)
}, 900_000)
