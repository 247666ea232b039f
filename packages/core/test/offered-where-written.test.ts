import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import type { Files } from './project.js'
import { readProject } from './project.js'

/** What could be written is offered with what it edits; what could not is not, and says why when it is asked for all the same. */
const LOG = 'export class Log {\n  note(line: string): void { console.log(line) }\n}\n'

const CASES: readonly { readonly what: string; readonly files: Files; readonly offered: string; readonly not: string; readonly reason: string }[] = [
  {
    what: 'a field that another field uses at once',
    files: {
      'log.ts': LOG,
      'desk.ts': "import { Log } from './log'\n\nexport class Desk {\n  private log = new Log()\n  private note = this.log.note\n  private quiet = new Log()\n\n  open(): void { this.log.note('open'); this.quiet.note('open'); void this.note }\n}\n"
    },
    offered: 'inject:desk.ts#Desk:log.ts#Log@quiet', not: 'inject:desk.ts#Desk:log.ts#Log@log', reason: 'order'
  },
  {
    what: 'arguments of a class that is handed around',
    files: {
      'boats.ts': `import { Log } from './log'

export class Boat {
  constructor(private log: Log, private name: string, private crew: number, private place: string) {}
  call(): void { this.log.note(this.name + this.crew + this.place) }
}

export class Barge {
  constructor(private log: Log, private name: string, private crew: number, private place: string) {}
  call(): void { this.log.note(this.name + this.crew + this.place) }
}
`,
      'log.ts': LOG,
      'yard.ts': `import { Barge, Boat } from './boats'
import { Log } from './log'

function make(kind: typeof Boat, name: string): Boat { return new kind(new Log(), name, 1, 'quay') }
export const boats = [make(Boat, 'Heron'), new Boat(new Log(), 'Teal', 2, 'quay'), new Boat(new Log(), 'Gull', 3, 'quay')]
export const barges = [new Barge(new Log(), 'Slow', 4, 'quay'), new Barge(new Log(), 'Slower', 5, 'quay')]
`
    },
    offered: 'group-arguments:boats.ts#Barge', not: 'group-arguments:boats.ts#Boat', reason: 'class-as-value'
  }
]

test.each(CASES)('$what', ({ files, offered, not, reason }) => {
  const { survey, writer } = readProject(files)
  const offers = offersOf(survey, writer)
  const ids = offers.map(one => one.id)
  expect(planStep(not, {}, survey, readProject(files).writer)).toMatchObject({ refused: true, reason })
  expect(ids).not.toContain(not)
  const offer = offers.find(one => one.id === offered)
  const planned = planStep(offered, {}, survey, readProject(files).writer)
  if (planned.refused) throw new Error(planned.message)
  expect(offer).toMatchObject({ edits: planned.edits, files: planned.changes.length })
})

test('what is only sketched leads nowhere, and a sketch may be of what does not compile', () => {
  const files: Files = { 'log.ts': LOG, 'desk.ts': "import { Log } from './log'\n\nexport class Desk {\n  private log = new Log()\n\n  open(): void { this.log.note('open') }\n}\n" }
  const { survey, writer } = readProject(files)
  const before = writer.current
  const { sketch } = writer
  expect(planStep('inject:desk.ts#Desk:log.ts#Log@log', {}, survey, sketch)).toMatchObject({ refused: false })
  expect(sketch.current).toBe(before)
  expect(planStep('inject:desk.ts#Desk:log.ts#Log@log', {}, survey, writer)).toMatchObject({ refused: false })
  expect(writer.current).not.toBe(before)
  expect(offersOf(survey, writer).map(one => one.id)).not.toContain('inject:desk.ts#Desk:log.ts#Log@log')
})
