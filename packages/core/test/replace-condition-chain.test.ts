import { seededRandom } from '@hollowmoor/core/graph/random'
import { findingsOf } from '@hollowmoor/core/find/findings'
import { offersOf, parseRemedyId, planStep } from '@hollowmoor/core/remedy/catalogue'
import type { Applied } from './applying.js'
import { apply } from './applying.js'
import type { Files } from './project.js'
import { readProject } from './project.js'
import { toldBy } from './running.js'

const KIND = "export enum Kind { Barge = 'barge', Tug = 'tug', Punt = 'punt', Raft = 'raft' }\n"
const CRAFT = 'export class Craft { constructor(readonly tons: number) {} }\nexport class Barge extends Craft { holds = 2 }\nexport class Tug extends Craft { pull = 3 }\nexport class Punt extends Craft { poles = 1 }\n'
const dues = (body: string, parameters = 'kind: Kind, tons: number') => `import { Barge, Craft, Punt, Tug } from './craft'
import { Kind } from './kind'

export class Dues {
  private count = 1

  constructor(private readonly rate: number) {}

  dueFor(${parameters}): number {
${body}
  }
}
`
const OF_CRAFT = 'craft: Craft'
const files = (body: string, parameters?: string): Files => ({ 'kind.ts': KIND, 'craft.ts': CRAFT, 'dues.ts': dues(body, parameters) })
const ID = 'replace-type-switch:dues.ts#Dues'
const textOf = (applied: Applied, path: string) => (applied as Record<string, string>)[path]!
const offered = (all: Files) => { const { survey, writer } = readProject(all); return offersOf(survey, writer).filter(one => one.remedy === 'replace-type-switch').map(one => one.title) }
const bodies = (text: string) => [...text.matchAll(/class (\w+) implements[^{]*\{\n {2}[^\n]*\{\n?([^]*?)(?:\n {2})?\}\n/g)].map(([, name, body]) => [name, body!.trim()])

describe('replacing a chain of conditions in TypeScript', () => {
  test('each branch is a class; comments stand where they stood', () => {
    const applied = apply(files(`    // What is owed.
    if (kind === Kind.Barge || kind === Kind.Raft) {
      return this.rate * tons // by weight
    } // Towing is free.
    else if (Kind.Tug === kind) return 0
    else if (kind === Kind.Punt) return 1 // small
    else {
      // Nobody knows.
      if (tons > 3) return 2
      return 3
      // The end.
    } // of it`.replace('Kind.Tug === kind', 'kind === Kind.Tug')), ID)
    expect(bodies(textOf(applied, 'kind-due.ts'))).toEqual([
      ['BargeDue', 'return rate * tons // by weight'], ['TugDue', '// Towing is free.\n    return 0'], ['PuntDue', 'return 1 // small'], ['OtherDue', '// Nobody knows.\n    if (tons > 3) return 2\n    return 3\n    // The end.']
    ])
    expect(textOf(applied, 'kind-due.ts')).toContain('  [Kind.Barge, new BargeDue()],\n  [Kind.Raft, new BargeDue()],\n  [Kind.Tug, new TugDue()],\n')
    expect(textOf(applied, 'dues.ts')).toContain('    // What is owed.\n    return this.dueBy(kind).dueFor(this.rate, tons) // of it\n  }\n')
  })

  test('so is each condition of a row that leaves, and what stands behind the row is done in any other case', () => {
    const applied = apply(files("    if (kind === Kind.Barge) return tons\n    if (kind === Kind.Tug) { return 0 }\n    // Poled.\n    if (kind === Kind.Punt) throw new Error('no')\n    const half = tons / 2\n    return half // rounded"), ID)
    expect(bodies(textOf(applied, 'kind-due.ts'))).toEqual([['BargeDue', 'return tons'], ['TugDue', 'return 0'], ['PuntDue', "// Poled.\n    throw new Error('no')"], ['OtherDue', 'const half = tons / 2\n    return half // rounded']])
    expect(textOf(applied, 'dues.ts')).toContain('): number {\n    return this.dueBy(kind).dueFor(tons)\n  }')
  })

  test('what asks for something else as well is done where nothing before it holds', () => {
    const applied = apply(files('    if (kind === Kind.Barge) return tons\n    else if (kind === Kind.Tug) return 0\n    else if (kind === Kind.Punt) return 1\n    else if (tons > 8 && kind === Kind.Raft) return 2\n    else return 3'), ID)
    expect(bodies(textOf(applied, 'kind-due.ts')).at(-1)).toEqual(['OtherDue', 'if (tons > 8 && kind === Kind.Raft) return 2\n    else return 3'])
  })

  test('classes are asked for in their order, and each case is handed what it is for', () => {
    const applied = apply(files('    if (craft instanceof Barge) return craft.holds * this.rate\n    if (craft instanceof Tug || craft instanceof Punt) return craft.tons\n    if (craft instanceof Craft) return craft.tons\n    return 0', OF_CRAFT), ID)
    const text = textOf(applied, 'craft-due.ts')
    expect(text.match(/^ *dueFor\(.*$/gm)).toEqual(['  dueFor(craft: Craft, rate: number): number', '  dueFor(craft: Barge, rate: number): number {', '  dueFor(craft: Tug | Punt, rate: number): number {', '  dueFor(craft: Craft, rate: number): number {', '  dueFor(craft: Craft, rate: number): number {'])
    expect(text).toContain(`const BARGE_DUE = new BargeDue()
const TUG_DUE = new TugDue()
const CRAFT_DUE = new CraftDue2()
const OTHER = new OtherDue()

/** Chooses by Craft: for another one there is another class, and one more line here. */
export function dueByCraft(thing: Craft): CraftDue {
  if (thing instanceof Barge) return BARGE_DUE
  if (thing instanceof Tug || thing instanceof Punt) return TUG_DUE
  if (thing instanceof Craft) return CRAFT_DUE
  return OTHER
}
`.replaceAll('CRAFT_DUE', 'CRAFT_DUE2'))
    expect(textOf(applied, 'dues.ts')).toContain('private readonly dueBy: (thing: Craft) => CraftDue = dueByCraft)')
    expect(textOf(applied, 'dues.ts')).toContain('    return this.dueBy(craft).dueFor(craft, this.rate)\n')
  })

  test('a member of a union, and what is left of it', () => {
    const applied = apply(files('    if (craft instanceof Barge) return craft.holds\n    else if (craft instanceof Tug) return craft.pull\n    else if (craft instanceof Punt) return craft.poles\n    else return craft.length', 'craft: Barge | Tug | Punt | string'), ID)
    expect(textOf(applied, 'craft-due.ts').match(/^ *dueFor\(.*$/gm)!.slice(1)).toEqual(['Barge', 'Tug', 'Punt', 'string'].map(type => `  dueFor(craft: ${type}): number {`))
  })

  test('a variable that each branch sets is set to what the class gives', () => {
    const applied = apply(files('    let due: number\n    if (kind === Kind.Barge) due = tons\n    else if (kind === Kind.Tug) { console.log(this.count); due = 1 }\n    else if (kind === Kind.Punt) due = 2\n    else due = 3\n    return due'), ID)
    expect(textOf(applied, 'dues.ts')).toContain('    const due: number = this.dueBy(kind).dueFor(tons, () => this.count)\n    return due\n')
  })

  test('a row that leaves without a value is all that is done', () => {
    const applied = apply({ 'kind.ts': KIND, 'tell.ts': "import { Kind } from './kind'\nexport function tell(kind: Kind): void {\n  if (kind === Kind.Barge) { console.log('b'); return }\n  if (kind === Kind.Tug) { console.log('t'); return }\n  if (kind === Kind.Punt) return\n  console.log('r')\n  console.log('s')\n}\n" }, 'replace-type-switch:tell.ts#')
    expect(textOf(applied, 'tell.ts')).toContain('export function tell(kind: Kind): void {\n  tellByKind(kind).tell()\n}\n')
    expect(bodies(textOf(applied, 'kind-tell.ts')).at(-1)).toEqual(['OtherTell', "console.log('r')\n    console.log('s')"])
  })

  test.each([
    ['two kinds', '    if (kind === Kind.Barge) return 1\n    else if (kind === Kind.Tug) return 2\n    else return 3'],
    ['a kind that is asked for twice', '    if (kind === Kind.Barge) return 1\n    if (kind === Kind.Tug) return 2\n    if (kind === Kind.Barge) return 3\n    if (kind === Kind.Punt) return 4\n    return 5'],
    ['a branch that leaves a loop around', '    for (;;) { if (kind === Kind.Barge) break; else if (kind === Kind.Tug) console.log(1); else if (kind === Kind.Punt) console.log(2) }\n    return tons'],
    ['a field that is set', '    if (kind === Kind.Barge) this.count = 1\n    else if (kind === Kind.Tug) this.count = 2\n    else if (kind === Kind.Punt) this.count = 3\n    return tons'],
    ['another thing in the middle', '    if (kind === Kind.Barge) return 1\n    if (tons > 3) return 2\n    if (kind === Kind.Tug) return 2\n    if (kind === Kind.Punt) return 2\n    return 3'],
    ['a condition that goes on behind', '    if (kind === Kind.Barge) return 1\n    if (kind === Kind.Tug) console.log(2)\n    if (kind === Kind.Punt) return 2\n    return 3'],
    ['what is called to look at it', '    const told = () => kind\n    if (told() === Kind.Barge) return 1\n    if (told() === Kind.Tug) return 2\n    if (told() === Kind.Punt) return 2\n    return 3']
  ])('is not offered for %s', (_, body) => { expect(offered(files(body))).toEqual([]) })

  test('is not offered where looking runs something, or where a case knows of what has no name of its own', () => {
    const own = (kind: string, body: string) => ({
      ...files(body), 'job.ts': `import { Kind } from './kind'\nimport { Craft } from './craft'\nexport class Job { ${kind} }\n`, 'dues.ts': dues(body, 'job: Job').replace('import { Kind }', "import { Job } from './job'\nimport { Kind }")
    })
    const byKind = '    if (job.kind === Kind.Barge) return 1\n    if (job.kind === Kind.Tug) return 2\n    if (job.kind === Kind.Punt) return 3\n    return 4'
    expect(offered(own('kind = Kind.Tug', byKind))).toEqual(['A class for each of the 4 cases of Dues.dueFor'])
    expect(offered(own('get kind(): Kind { console.log(1); return Kind.Tug }', byKind))).toEqual([])
    const byCraft = (used: string) => `    if (job.craft instanceof Barge) return ${used}\n    if (job.craft instanceof Tug) return 2\n    if (job.craft instanceof Punt) return 3\n    return 4`
    expect(offered(own('craft = new Craft(1)', byCraft('1')))).toEqual(['A class for each of the 4 cases of Dues.dueFor'])
    expect(offered(own('craft = new Craft(1)', byCraft('job.craft.holds')))).toEqual([])
  })

  test('the finding names the place of its remedy, also where that is not the first of its class or its member', () => {
    const first = "    if (kind === Kind.Barge) this.count = 1\n    else if (kind === Kind.Tug) this.count = 2\n    else if (kind === Kind.Punt) this.count = 3\n"
    const { survey, writer } = readProject(files(`${first}    if (craft instanceof Barge) return 1\n    if (craft instanceof Tug) return 2\n    if (craft instanceof Punt) return 3\n    return 4`, 'kind: Kind, craft: Craft'))
    const found = findingsOf(survey).filter(one => one.kind === 'type-switch')
    expect(found.map(one => one.detail)).toEqual(['dueFor:2'])
    expect(planStep(`${ID}:${found[0]!.detail!}`, {}, survey, writer)).toMatchObject({ refused: false })
    expect(planStep(`${ID}:dueFor`, {}, survey, writer)).toMatchObject({ refused: true, reason: 'switch', message: expect.stringContaining('none may set other fields') as string })
  })

  test('so does that of a function', () => {
    const { survey, writer } = readProject({ 'craft.ts': CRAFT, 'tell.ts': "import { Barge, Craft, Punt, Tug } from './craft'\nexport function tell(craft: Craft): number {\n  if (craft instanceof Barge) return 1\n  if (craft instanceof Tug) return 2\n  if (craft instanceof Punt) return 3\n  return 4\n}\n" })
    const found = findingsOf(survey).filter(one => one.kind === 'type-switch')
    expect(found.map(one => [one.subject, one.detail, one.remedies])).toEqual([['tell.ts#', 'tell', ['replace-type-switch']]])
    // The first of its file is offered without a key, and called the same with it.
    const [offer] = offersOf(survey, writer, 'tell.ts#', 'replace-type-switch')
    expect(parseRemedyId('replace-type-switch:tell.ts#:tell', survey)!.remedy.titleOf!('tell.ts#', 'tell', survey, writer)).toBe(offer!.title)
    expect(planStep('replace-type-switch:tell.ts#:tell', {}, survey, writer)).toMatchObject({ refused: false })
  })

  test('several in one member are told apart by what they choose by, and by their lines', () => {
    const row = (name: string) => `    if (${name} === Kind.Barge) console.log(1)\n    else if (${name} === Kind.Tug) console.log(2)\n    else if (${name} === Kind.Punt) console.log(3)\n`
    const byCraft = '    if (craft instanceof Barge) return 1\n    if (craft instanceof Tug) return 2\n    if (craft instanceof Punt) return 3\n    return 4'
    expect(offered(files(row('kind') + row('kind') + byCraft, 'kind: Kind, craft: Craft'))).toEqual([
      'A class for each of the 3 cases of Dues.dueFor by Kind, line 10', 'A class for each of the 3 cases of Dues.dueFor by Kind, line 13', 'A class for each of the 4 cases of Dues.dueFor by Craft'
    ])
  })

  test('a variable that is set again is handed as it is; one that a function inside knows is asked for when it is wanted', () => {
    const body = (more: string) => `    let due = 1\n${more}    if (kind === Kind.Barge) { console.log(tons); console.log(due) }\n    else if (kind === Kind.Tug) console.log(tons)\n    else if (kind === Kind.Punt) console.log(due)\n    due = 2\n    return due`
    expect(textOf(apply(files(body('')), ID), 'dues.ts')).toContain('    this.dueBy(kind).dueFor(tons, due)\n')
    expect(textOf(apply(files(body('    const more = () => { due++ }\n    more()\n')), ID), 'dues.ts')).toContain('    this.dueBy(kind).dueFor(tons, () => due)\n')
  })

  test('is told once for a row, where it begins', () => {
    const { survey } = readProject(files('    if (kind === Kind.Barge) return 1\n    if (kind === Kind.Tug) return 2\n    if (kind === Kind.Punt) return 3\n    if (kind === Kind.Raft) return 4\n    return 5'))
    expect(survey.model.typeSwitches.map(one => [one.line, one.word, one.over, one.cases])).toEqual([[10, 'if', 'kind.ts#Kind', ['Barge', 'Tug', 'Punt', 'Raft']]])
  })

  test('what runs, how often and in which order stays, over random chains', () => {
    const draw = seededRandom(20261132), upTo = (count: number) => Math.floor(draw() * count), refusals: string[] = []
    let applied = 0
    for (let round = 0; round < 50; round++) {
      const all = program(upTo)
      const { writer } = readProject(all), [place] = writer.typeSwitches('p.ts#P')
      const outcome = place && writer.replaceTypeSwitch({ type: 'p.ts#P', place: place.key, name: null, withDefault: round % 3 !== 0 })
      if (!outcome || outcome.refused) { refusals.push((outcome?.message ?? 'not offered') + all['p.ts']!); continue }
      applied++
      expect({ round, log: toldBy({ ...all, ...Object.fromEntries(outcome.changes.map(change => [change.path, change.after!])) }) }).toEqual({ round, log: toldBy(all) })
    }
    expect({ refusals, isEnough: applied >= 40 }).toEqual({ refusals, isEnough: true })
  })
})

/** A class whose method chooses by a chain or a row, among values or classes, and a program that asks it for each, and for none. */
function program(upTo: (count: number) => number): Files {
  const isByClass = upTo(2) === 0, isRow = upTo(2) === 0, mode = isRow ? upTo(2) * 2 : upTo(3)
  const known = isByClass ? (at: number) => [`it.a${at}`, 'it.all', 'it'][upTo(3)]! : () => 'it'
  const number = (name: string) => (name === 'it' ? (isByClass ? 'it.all' : 'it') : name)
  const value = (at: number) => ['1', 'n', `tick(${upTo(9)})`, 'this.count', 'this.next()', '`${n}`.length', 'n > 2 ? tick(n) : this.count', 'base * 2', `tick(${number(known(at))})`, number(known(at))][upTo(10)]!
  const run = (at: number) => [`tick(${value(at)})`, `if (${value(at)} > 2) this.log.add(${value(at)})`, 'for (const one of [1, 2, 3]) { if (one > n) break; tick(one) }', `const own = ${value(at)}; tick(own)`][upTo(4)]!
  const end = (at: number) => (upTo(6) === 0 ? `throw new Error('e' + ${value(at)})` : mode === 0 ? `return ${value(at)}` : mode === 1 ? `out = ${value(at)}` : isRow ? 'return' : '')
  const test = (at: number) => (isByClass ? `it instanceof C${at}` : `it === Kind.K${at}`)
  const labels = [0, 1, 2, 3].slice(0, 3 + upTo(2)), both = upTo(3) === 0
  const branch = (at: number) => `{ ${run(at)}; ${end(at)} }`
  const other = 4, hasOther = mode === 1 || upTo(2) === 0
  const conditions = labels.map(at => `if (${test(at)}${both && at === 1 && !isByClass ? ' || it === Kind.K4' : ''}) ${branch(at)}`)
  const rest = mode === 0 ? `    tick(77)\n    return base\n` : '    tick(88)\n'
  const chain = isRow ? `    ${conditions.join('\n    ')}\n${rest}` : `    ${conditions.join(' else ')}${hasOther ? ` else ${branch(other).replaceAll(`it.a${other}`, 'n')}` : ''}\n${mode === 0 && hasOther ? '' : rest}`
  const type = isByClass ? 'C' : 'Kind'
  return {
    'log.ts': 'export const log: string[] = []\nexport class Log { add(n: number): void { log.push(`add${n}`) } }\nexport function tick(n: number): number { log.push(`tick${n}`); return n }\n',
    'kind.ts': 'export enum Kind { K0 = 1, K1, K2, K3, K4, K5 }\n',
    'craft.ts': `export class C { all = 9 }\n${[0, 1, 2, 3, 5].map(at => `export class C${at} extends ${at === 2 ? 'C1' : 'C'} { a${at} = ${at + 20} }`).join('\n')}\n`,
    'p.ts': `import { C, C0, C1, C2, C3 } from './craft'\nimport { Kind } from './kind'\nimport { Log, log, tick } from './log'\n\nexport class P {\n  private count = 1\n  constructor(private readonly log: Log) {}\n  next(): number { this.count += 1; log.push('next' + this.count); return tick(this.count) }\n  run(it: ${type}, n: number): ${mode === 2 ? 'void' : 'number'} {\n    const base = tick(n)\n${mode === 1 ? '    let out: number\n' : ''}${chain}${mode === 1 ? '    return out\n' : ''}  }\n}\n`,
    'main.ts': `import { C, C0, C1, C2, C3, C5 } from './craft'\nimport { Kind } from './kind'\nimport { Log, log } from './log'\nimport { P } from './p'\nconst p = new P(new Log())\nfor (const n of [1, 3, 5]) for (const it of ${isByClass ? '[new C(), new C0(), new C1(), new C2(), new C3(), new C5()]' : '[Kind.K0, Kind.K1, Kind.K2, Kind.K3, Kind.K4, Kind.K5]'}) { try { log.push('= ' + p.run(it, n)) } catch (error) { log.push('! ' + (error as Error).message) } }\nexport const told = log.join(' ')\n`
  }
}
