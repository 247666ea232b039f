import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import { seededRandom } from '@hollowmoor/core/graph/random'
import { batchesOf, usedFirst } from '@hollowmoor/core/remedy/batches'
import { planStep } from '@hollowmoor/core/remedy/catalogue'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { TypeScriptSession } from '@hollowmoor/core/read/typescript/session'
import { typeScriptWriter } from '@hollowmoor/core/read/typescript/write/writer'
import { newErrors } from '@hollowmoor/core/read/typescript/write/check'
import { measureProject } from '@hollowmoor/core/survey'
import { LIBRARY_FOLDER } from '@hollowmoor/host/project-folder'
import type { Files } from './project.js'
import { sourceOf } from './project.js'

const change = (path: string): FileChange => ({ path, before: 'a', after: 'b' })
const paths = (batches: readonly (readonly FileChange[])[]) => batches.map(batch => batch.map(one => one.path))

describe('dividing a change into batches', () => {
  test('what depends on nothing is divided by number, in its order', async () => {
    expect(paths(await batchesOf(['a', 'b', 'c', 'd', 'e'].map(change), 2, () => Promise.resolve([])))).toEqual([['a', 'b'], ['c', 'd'], ['e']])
  })

  test('what has to change at once stays together, and may be everything', async () => {
    const needs = (batch: string, also: string) => (files: readonly FileChange[]) => Promise.resolve(files.some(one => one.path === batch) && !files.some(one => one.path === also) ? [`${also}:3: it is handed too little`] : [])
    expect(paths(await batchesOf(['a', 'b', 'c', 'd'].map(change), 1, needs('a', 'c')))).toEqual([['a', 'c'], ['b'], ['d']])
    const all = (files: readonly FileChange[]) => Promise.resolve(files.length < 4 ? ['elsewhere:1: it is unknown'] : [])
    expect(paths(await batchesOf(['a', 'b', 'c', 'd'].map(change), 1, all))).toEqual([['a', 'b', 'c', 'd']])
  })

  test('over random needs every batch stands on those before it, and none is asked for more often than there are files', async () => {
    const draw = seededRandom(20261129)
    for (let round = 0; round < 200; round++) {
      const count = 1 + Math.floor(draw() * 14), size = 1 + Math.floor(draw() * 4)
      const names = Array.from({ length: count }, (_, at) => `f${at}`)
      const needs = names.flatMap(from => names.filter(to => to !== from && draw() < 1.2 / count).map(to => ({ from, to, told: draw() < 0.7 })))
      let asked = 0
      const wrong = (files: readonly FileChange[]) => { const there = new Set(files.map(one => one.path)); return needs.filter(({ from, to }) => there.has(from) && !there.has(to)).map(({ from, to, told }) => `${told ? to : from}:1: needs more`) }
      const batches = await batchesOf(names.map(change), size, files => { asked++; return Promise.resolve(wrong(files)) })
      expect(batches.flat().map(one => one.path).sort()).toEqual([...names].sort())
      batches.forEach((_, at) => { expect({ round, wrong: wrong(batches.slice(0, at + 1).flat()) }).toEqual({ round, wrong: [] }) })
      expect(asked).toBeLessThanOrEqual(count + batches.length)
      if (needs.length === 0) expect(batches.every(batch => batch.length <= size)).toBe(true)
    }
  })

  const FILES: Files = {
    'log.ts': 'export class Log {\n  note(line: string): void { this.lines.push(line) }\n  private lines: string[] = []\n}\n',
    ...Object.fromEntries(Array.from({ length: 6 }, (_, at) => [`user${at}.ts`, `import { Log } from './log'\n${at > 0 ? `import { use${at - 1} } from './user${at - 1}'\n` : ''}\nexport function use${at}(log: Log): void {\n  log.note('${at}')\n${at > 0 ? `  use${at - 1}(log)\n` : ''}}\n`]))
  }
  async function divided(files: Files, id: string, size: number) {
    const session = new TypeScriptSession('/hm-test', DEFAULT_SETTINGS, LIBRARY_FOLDER)
    const before = session.read(sourceOf(files)), survey = measureProject(before.facts)
    const planned = planStep(id, {}, survey, typeScriptWriter(session, before))
    if (planned.refused) throw new Error(planned.message)
    const problemsWith = (some: readonly FileChange[]) => {
      const after = session.edit(before, new Map(some.map(one => [`/hm-test/${one.path}`, one.after])))
      return newErrors(before, after, '/hm-test', after.sources).map(error => `${error.file!.fileName.slice('/hm-test/'.length)}:1: ${String(error.messageText)}`)
    }
    const batches = await batchesOf(usedFirst(planned.changes, survey), size, some => Promise.resolve(problemsWith(some)))
    batches.forEach((_, at) => { expect(problemsWith(batches.slice(0, at + 1).flat())).toEqual([]) })
    return paths(batches)
  }

  test('users of a class are narrowed after the interface is there, the innermost first', async () => {
    expect(await divided(FILES, 'extract-interface:log.ts#Log', 3)).toEqual([['log-port.ts', 'log.ts', 'user0.ts'], ['user1.ts', 'user2.ts', 'user3.ts'], ['user4.ts', 'user5.ts']])
  })

  test('a constructor and all that call it change at once', async () => {
    const files: Files = {
      ...FILES, 'desk.ts': "import { Log } from './log'\n\nexport class Desk {\n  private log = new Log()\n  open(): void { this.log.note('open') }\n}\n",
      ...Object.fromEntries(Array.from({ length: 3 }, (_, at) => [`hall${at}.ts`, `import { Desk } from './desk'\n\nexport const desk${at} = new Desk()\n`]))
    }
    expect(await divided(files, 'inject:desk.ts#Desk:log.ts#Log@log', 1)).toEqual([['desk.ts', 'hall0.ts', 'hall1.ts', 'hall2.ts']])
  })
})
