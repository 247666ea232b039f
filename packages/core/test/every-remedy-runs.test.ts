import { typeScriptWriter } from '@hollowmoor/core/read/typescript/write/writer'
import { offersOf, planStep, REMEDIES } from '@hollowmoor/core/remedy/catalogue'
import { readProject } from './project.js'
import { FRAME, LIBRARIES, randomProgram } from './random-program.js'
import { toldBy } from './running.js'

const NODE = { 'tsconfig.json': '{"compilerOptions":{"strict":true,"target":"ES2022","module":"ESNext","moduleResolution":"Bundler","types":["node"],"lib":["ES2022"]}}', 'node_modules/@types/node/package.json': '{"name":"@types/node","types":"index.d.ts"}', 'node_modules/@types/node/index.d.ts': "declare module 'node:fs' { export function existsSync(path: string): boolean }", ...FRAME }

/** Programs that are looked at; more of them by `ROUNDS=100`. */
const ROUNDS = Number(process.env.ROUNDS ?? 6), FIRST = Number(process.env.FIRST ?? 20261201)

/** What only a run of a test can plan, and the end of a way whose beginning is another remedy. */
const LEFT_OUT = new Set(['first-test', 'retire-static-face'])

test('a program does after every remedy what it did before, over random programs', () => {
  const counts = new Map<string, { applied: number; refused: number }>()
  for (let round = 0; round < ROUNDS; round++) {
    const files = randomProgram(FIRST + round), { session, snapshot, survey, writer } = readProject({ ...files, ...NODE })
    const wrong = snapshot.program.getSemanticDiagnostics().map(error => `${error.file?.fileName}: ${JSON.stringify(error.messageText)}`)
    expect({ round, wrong }).toEqual({ round, wrong: [] })
    const before = toldBy(files, LIBRARIES)
    for (const { id, remedy } of offersOf(survey, writer)) {
      if (LEFT_OUT.has(remedy)) continue
      const outcome = planStep(id, {}, survey, typeScriptWriter(session, snapshot)), count = counts.get(remedy) ?? { applied: 0, refused: 0 }
      counts.set(remedy, count)
      if (outcome.refused) { count.refused++; if (process.env.ROUNDS) console.log(`${FIRST + round} ${id}: ${outcome.message}`); continue }
      count.applied++
      const after: Record<string, string> = { ...files }
      for (const change of outcome.changes) { if (change.after === null) delete after[change.path]; else after[change.path] = change.after }
      let told: unknown
      try { told = toldBy(after, LIBRARIES) } catch (error) { told = String(error) }
      if (told !== before) throw new Error(`${FIRST + round} ${id}: ${String(before)}\n${String(told)}\n${outcome.changes.map(change => `--- ${change.path}\n${change.before ?? ''}\n+++\n${change.after ?? ''}`).join('\n')}`)
    }
  }
  if (process.env.ROUNDS) console.log(JSON.stringify(Object.fromEntries(counts)))
  expect(REMEDIES.filter(({ name }) => !LEFT_OUT.has(name) && !counts.get(name)?.applied).map(one => one.name)).toEqual([])
})
