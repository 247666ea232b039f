import { seededRandom } from '@hollowmoor/core/graph/random'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import type { Applied } from './applying.js'
import { apply } from './applying.js'
import type { Files } from './project.js'
import { readProject } from './project.js'
import { toldBy } from './running.js'

const LOG = `export const opened = Date.now()

/** Whether a lock is late. */
export function isLate(due: number): boolean {
  return Date.now() > due
}

export const lateLocks = (all: readonly number[], most = 3): number[] => all.filter(due => isLate(due)).slice(0, most)

export async function report(
  all: readonly number[],
  title?: string,
): Promise<string> {
  const late = lateLocks(all)
  return \`\${title ?? 'Locks'} \${late.length} \${Date.now()}\`
}

function sum(a: number, b: number): number { return a + b }
export function total(): number { return sum(1, 2) }
`
const ID = 'wrap-library:log.ts#:runtime.clock'
const textOf = (applied: Applied, path: string) => (applied as Record<string, string>)[path]

describe('what functions of a file use of the outside', () => {
  test('goes behind an interface, which they and those that call them are handed with a default', () => {
    const applied = apply({ 'log.ts': LOG }, ID)
    expect(applied).toEqual({
      'log.ts': `import { Clock } from './outside/clock'
import { SystemClock } from './outside/system-clock'

export const opened = Date.now()

/** Whether a lock is late. */
export function isLate(due: number, clock: Clock = new SystemClock()): boolean {
  return clock.now() > due
}

export const lateLocks = (all: readonly number[], most = 3, clock: Clock = new SystemClock()): number[] => all.filter(due => isLate(due, clock)).slice(0, most)

export async function report(
  all: readonly number[],
  title?: string,
  clock: Clock = new SystemClock(),
): Promise<string> {
  const late = lateLocks(all, undefined, clock)
  return \`\${title ?? 'Locks'} \${late.length} \${clock.now()}\`
}

function sum(a: number, b: number): number { return a + b }
export function total(): number { return sum(1, 2) }
`,
      'outside/clock.ts': '/** What the project uses of the clock. */\nexport interface Clock {\n  now(): number\n}\n',
      'outside/system-clock.ts': "import { Clock } from './clock'\n\n/** The one place that uses the clock itself. */\nexport class SystemClock implements Clock {\n  now(): number {\n    return Date.now()\n  }\n}\n"
    })
  })

  test('is told, where it stays', () => {
    const { survey, writer } = readProject({ 'log.ts': LOG })
    const outcome = planStep(ID, {}, survey, writer)
    expect(outcome.refused ? outcome.message : outcome.notes).toEqual([
      'SystemClock is where the clock is used now; a test hands in another Clock.', 'One other function of the file hands it on to those that use it.',
      'log.ts:1 stays as it is: it runs as the file is loaded, or in a function that has no name at its top.'
    ])
  })

  const left: [string, string, string][] = [
    ['a function that is handed around', 'export function late(due: number): boolean { return Date.now() > due }\nexport const all = [1].filter(late)\n', 'log.ts:2 hands late itself around, so what it is called with is not known'],
    ['one with several forms', 'export function late(due: string): boolean\nexport function late(due: number): boolean\nexport function late(due: string | number): boolean { return Date.now() > Number(due) }\n', 'its function has several forms'],
    ['one that takes any number of arguments', 'export function late(...due: number[]): boolean { return Date.now() > due[0]! }\n', 'its function takes any number of arguments'],
    ['one that looks at all of its arguments', 'export function late(): boolean { return Date.now() > arguments.length }\n', 'its function takes any number of arguments'],
    ['the default of a parameter', 'export function late(due: number, now = Date.now()): boolean { return now > due }\n', 'it is the default of a parameter'],
    ['a function without a name', 'export default () => Date.now()\n', 'it runs as the file is loaded, or in a function that has no name at its top']
  ]
  test.each(left)('stays in %s', (_, code, why) => {
    const { survey, writer } = readProject({ 'log.ts': code })
    expect(offersOf(survey, writer).map(one => one.id)).not.toContain(ID)
    expect(apply({ 'log.ts': code }, ID)).toMatchObject({ reason: 'stays', message: `Nothing of it can be put behind an interface: line ${code.split('\n').findIndex(line => line.includes('Date.now')) + 1}, ${why}.` })
  })

  test('can be tested without it then, and a second file and a class share what is there', () => {
    const files: Files = { 'log.ts': LOG.replace(/^.*\n/, ''), 'desk.ts': 'export const open = (): number => Date.now() + Number(new Date())\n', 'lock.ts': 'export class Lock { late(): boolean { return Date.now() > 3 } }\n' }
    const once = { ...files, ...apply(files, ID) } as Files, { survey } = readProject(once)
    expect(readProject(files).survey.verdicts[survey.model.typeIndex.get('log.ts#')!]).toBe('needs-outside')
    expect(survey.verdicts[survey.model.typeIndex.get('log.ts#')!]).toBe('alone')
    const twice = apply(once, 'wrap-library:desk.ts#:runtime.clock')
    expect(twice).toMatchObject({
      'desk.ts': "import { Clock } from './outside/clock'\nimport { SystemClock } from './outside/system-clock'\n\nexport const open = (clock: Clock = new SystemClock()): number => clock.now() + Number(clock.date())\n"
    })
    expect(Object.keys(twice).sort()).toEqual(['desk.ts', 'outside/clock.ts', 'outside/system-clock.ts'])
    expect(Object.keys(apply(once, 'wrap-library:lock.ts#Lock:runtime.clock'))).toEqual(['lock.ts'])
    expect(apply(once, ID)).toMatchObject({ reason: 'done', message: 'log.ts uses nothing of the clock itself any more.' })
  })

  test('of a function that has it already goes through what it has', () => {
    const files: Files = { 'log.ts': 'export function late(due: number): boolean { return Date.now() > due }\nexport function later(due: number): boolean { return late(due) }\n' }
    const once = { ...files, ...apply(files, ID) } as Files
    const more = { ...once, 'log.ts': once['log.ts']!.replace('return late(due, clock)', 'return late(due, clock) && Date.now() > 1') }
    expect(textOf(apply(more, ID), 'log.ts')).toBe(once['log.ts']!.replace('return late(due, clock)', 'return late(due, clock) && clock.now() > 1'))
  })

  test('is imported by the implementation as it was: by default, whole, or under its name', () => {
    const files: Files = {
      'node_modules/kit/package.json': '{ "name": "kit", "types": "index.d.ts" }', 'node_modules/kit/index.d.ts': 'declare const kit: { send(text: string): number }\nexport default kit\nexport function tell(text: string): void\n',
      'node_modules/old/package.json': '{ "name": "old", "types": "index.d.ts" }', 'node_modules/old/index.d.ts': 'declare const old: { ask(): number }\nexport = old\n',
      'node_modules/@types/node/package.json': '{ "name": "@types/node", "types": "index.d.ts" }', 'node_modules/@types/node/index.d.ts': "declare module 'node:fs' { export function readFileSync(path: string): string; const all: { readFileSync(path: string): string }; export default all }\n",
      'tsconfig.json': '{ "compilerOptions": { "strict": true, "target": "es2022", "module": "esnext", "moduleResolution": "bundler", "types": ["node"] } }',
      'a.ts': "import kit, { tell as say } from 'kit'\nimport * as whole from 'kit'\nimport * as old from 'old'\nimport fs from 'node:fs'\n\nexport function a(): number { say('x'); whole.tell('y'); return kit.send('z') }\nexport function b(): number { return old.ask() }\nexport function c(): number { return fs.readFileSync('d').length }\n"
    }
    const { survey, writer } = readProject(files)
    expect(writer.outsideUses('a.ts#').map(one => [one.key, one.uses])).toEqual([['kit', 3], ['old', 1], ['node:fs', 1]])
    const made = (key: string) => { const outcome = planStep(`wrap-library:a.ts#:${key}`, {}, survey, writer); return outcome.refused ? outcome.message : outcome.changes.map(one => one.after).find(text => text!.includes('implements'))!.split('\n').filter(line => /^import .*from '[^.]|return/.test(line)) }
    expect(made('kit')).toEqual(["import kit, { tell } from 'kit'", "    return kit.send('z')"])
    expect(made('old')).toEqual(["import * as old from 'old'", '    return old.ask()'])
    expect(made('node:fs')).toEqual(["import { readFileSync } from 'node:fs'", "    return readFileSync('d')"])
    // A second file extends what is there, and imports more into it.
    const once = { ...files, ...apply(files, 'wrap-library:a.ts#:old') } as Files
    const more = { ...once, 'e.ts': "import older from 'old'\nexport function e(): number { return older.ask() + 1 }\n" }
    expect(apply(more, 'wrap-library:e.ts#:old')).toMatchObject({ 'outside/direct-old.ts': expect.stringContaining('return older.ask()') as string })
  })

  test('is one call where only literals differ', () => {
    const desk = "export function open(name: string): void {\n  console.error('opening')\n  console.error('open')\n  console.error(name)\n  console.error('a', 1)\n}\nexport const close = (at: Date): string => at.toISOString() + new Date(2).toISOString() + new Date(3).toISOString()\n"
    const applied = apply({ 'desk.ts': desk }, 'wrap-library:desk.ts#:runtime.console')
    expect(applied).toMatchObject({ 'outside/terminal.ts': expect.stringContaining('{\n  error(data: string): void\n  error2(): void\n}') as string })
    expect(textOf(applied, 'desk.ts')).toContain("  terminal.error('opening')\n  terminal.error('open')\n  terminal.error(name)\n  terminal.error2()\n")
  })

  test('stays on its lines, keeps one name in all functions, and goes to a folder of the sources', () => {
    const files: Files = {
      ...Object.fromEntries(Array.from({ length: 10 }, (_, at) => [`src/a/c${at}.ts`, `export class C${at} { run(): number { return ${at} } }\n`])), 'samples/s.ts': 'export class S { run(): void {} }\n',
      'src/b/desk.ts': "function now(clock: number): number {\n  return Math.max(\n    clock,\n    Date.now()\n  )\n}\n\nexport function log(): void {\n  console.error(\n    `at ${now(1)}`\n  )\n  console.error(`two\n    lines`)\n}\n"
    }
    expect(textOf(apply(files, 'wrap-library:src/b/desk.ts#:runtime.clock'), 'src/b/desk.ts')).toBe("import { Clock } from '../outside/clock'\nimport { SystemClock } from '../outside/system-clock'\n\nfunction now(clock: number, clockGiven: Clock = new SystemClock()): number {\n  return Math.max(\n    clock,\n    clockGiven.now()\n  )\n}\n\nexport function log(clockGiven: Clock = new SystemClock()): void {\n  console.error(\n    `at ${now(1, clockGiven)}`\n  )\n  console.error(`two\n    lines`)\n}\n")
    const told = apply(files, 'wrap-library:src/b/desk.ts#:runtime.console')
    expect(textOf(told, 'src/b/desk.ts')).toContain('log(terminal: Terminal = new ConsoleTerminal()): void {\n  terminal.error(\n    `at ${now(1)}`\n  )\n  terminal.error(`two\n    lines`)\n')
    expect(textOf(told, 'src/outside/terminal.ts')).toContain('{\n  error(data: string): void\n}')
  })

  test('is handed behind what may be left out, and not counted with a this', () => {
    const code = 'export function late(this: void, due = 1, most?: number): boolean { return Date.now() > due + (most ?? 0) }\nexport function all(): boolean[] { return [late(), late(2), late(3, 4)] }\n'
    expect(textOf(apply({ 'log.ts': code }, ID), 'log.ts')!.split('\n').slice(3)).toEqual([
      'export function late(this: void, due = 1, most?: number, clock: Clock = new SystemClock()): boolean { return clock.now() > due + (most ?? 0) }',
      'export function all(clock: Clock = new SystemClock()): boolean[] { return [late(undefined, undefined, clock), late(2, undefined, clock), late(3, 4, clock)] }', ''
    ])
  })

  test('does what it did, asks as often and in the same order, and what is handed in reaches all that is called', () => {
    const next = seededRandom(71)
    const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!
    let handed = 0
    for (let round = 0; round < 25; round++) {
      const count = 3 + Math.floor(next() * 4), called = (at: number, given: string) => `f${at + 1 + Math.floor(next() * (count - at - 1))}(${given})`
      const last = (at: number) => at === count - 1
      const line = (at: number): string => (last(at) || next() < 0.3 ? 'total += Date.now() % 7' : pick([
        () => `total += ${called(at, 'total % 5')}`, () => `total += ${called(at, 'a, b + 1')}`, () => `total += ${called(at, 'Date.now() % 3')}`,
        () => `total = [1, 2].map(one => one + ${called(at, 'one')}).reduce((x, y) => x + y, total)`, () => `if (total % 2 === 0) total += ${called(at, 'Date.now() % 3, Date.now()')}`
      ])())
      const functions = Array.from({ length: count }, (_, at) => {
        const lines = ['let total = a', ...Array.from({ length: 1 + Math.floor(next() * 3) }, () => line(at)), ...(next() < 0.3 ? [`if (a > 0 && a < 4) total += f${at}(a - 1, b)`] : []), 'return total + b']
        const body = `{\n  ${lines.join('\n  ')}\n}`
        return next() < 0.6 ? `export function f${at}(a: number, b = 2): number ${body}` : `export const f${at} = (a: number, b = 2): number => ${body}`
      })
      const asValue = next() < 0.2 ? ['export const all = () => [1, 2].map(f0)'] : []
      const main = (now: string, more: string) => `import * as desk from './desk'\nconst before = Date.now\nlet count = 0\nDate.now = ${now}\nconst fake = { now: () => count++ }\nexport const told: number[] = []\ntry { for (const a of [1, 2, 5]) { ${functions.map((_, at) => `told.push(desk.f${at}(a, 3${more}), count)`).join('; ')} } } finally { Date.now = before }\n`
      const files: Files = { 'desk.ts': [...functions, ...asValue, ''].join('\n'), 'main.ts': main('() => count++', '') }
      const applied = apply(files, 'wrap-library:desk.ts#:runtime.clock')
      if ('reason' in applied) { expect(applied).toMatchObject({ reason: 'stays' }); continue }
      const after = { ...files, ...applied } as Files
      expect({ round, told: toldBy(after) }).toEqual({ round, told: toldBy(files) })
      if (asValue.length > 0) continue
      handed++
      expect({ round, told: toldBy({ ...after, 'main.ts': main("() => { throw new Error('asked the clock itself') }", ', fake') }) }).toEqual({ round, told: toldBy(files) })
    }
    expect(handed).toBeGreaterThan(15)
  })
})
