import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { apply } from './applying.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

function move(files: Files, type: string, module: string): { texts: Record<string, string | null>; notes: readonly string[] } | { reason: string; message: string } {
  const outcome = readProject(files).writer.moveType({ type, member: null, module })
  return outcome.refused ? { reason: outcome.reason, message: outcome.message } : { texts: Object.fromEntries(outcome.changes.map(change => [change.path, change.after])), notes: outcome.notes }
}
const texts = (files: Files, type: string, module: string) => { const outcome = move(files, type, module); if (!('texts' in outcome)) throw new Error(`${outcome.reason}: ${outcome.message}`); return outcome.texts }

describe('moving a type in TypeScript', () => {
  test('a file with nothing else in it moves whole, and relative imports are written anew on both sides', () => {
    expect(texts({
      'water/level.ts': "import { Depth } from './depth'\nimport { Reach } from '../locks/reach'\n\n/** How high it stands. */\nexport class Level {\n  constructor(readonly depth: Depth, readonly reach: Reach) {}\n}\n",
      'water/depth.ts': 'export class Depth { metres = 1 }\n',
      'locks/reach.ts': 'export class Reach { name = \'a\' }\n',
      'office.ts': "import { Level } from './water/level'\nexport const one = (level: Level) => level.depth.metres\n"
    }, 'water/level.ts#Level', 'locks')).toEqual({
      'locks/level.ts': "import { Depth } from '../water/depth'\nimport { Reach } from './reach'\n\n/** How high it stands. */\nexport class Level {\n  constructor(readonly depth: Depth, readonly reach: Reach) {}\n}\n",
      'water/level.ts': null,
      'office.ts': "import { Level } from './locks/level'\nexport const one = (level: Level) => level.depth.metres\n"
    })
  })

  test('from a file that it shares, it takes its comment and what is private to it, and imports only what it needs', () => {
    expect(texts({
      'water/all.ts': "import { Depth, Width } from './sizes'\n\nconst LIMIT = 3\nconst SHARED = 4\n\n// Below this nobody passes.\nexport class Level {\n  low(depth: Depth): boolean { return depth.metres < LIMIT + SHARED }\n}\n\nexport class Bank {\n  wide(width: Width): boolean { return width.metres > SHARED }\n}\n",
      'water/sizes.ts': 'export interface Depth { metres: number }\nexport interface Width { metres: number }\n',
      'desk.ts': "import { Bank, Level } from './water/all'\nexport const desk = (bank: Bank, level: Level) => [bank, level]\n"
    }, 'water/all.ts#Level', '.')).toEqual({
      'level.ts': "import { Depth } from './water/sizes'\nimport { SHARED } from './water/all'\n\nconst LIMIT = 3\n\n// Below this nobody passes.\nexport class Level {\n  low(depth: Depth): boolean { return depth.metres < LIMIT + SHARED }\n}\n",
      'water/all.ts': "import { Width } from './sizes'\n\nexport const SHARED = 4\n\nexport class Bank {\n  wide(width: Width): boolean { return width.metres > SHARED }\n}\n",
      'desk.ts': "import { Bank } from './water/all'\nimport { Level } from './level'\nexport const desk = (bank: Bank, level: Level) => [bank, level]\n"
    })
  })

  test('what stays imports it, barrels export it, and types are imported as types where the project does so', () => {
    const outcome = texts({
      'a/kinds.ts': "export interface Kind { name: string }\nexport interface Boat { kind: Kind }\nexport const none = 0\n",
      'a/index.ts': "export * from './kinds'\nexport type { Boat } from './kinds'\n",
      'b/use.ts': "import type { Kind } from '../a/index'\nexport const name = (kind: Kind) => kind.name\n"
    }, 'a/kinds.ts#Kind', 'b')
    expect(outcome['a/kinds.ts']).toBe("import type { Kind } from '../b/kind'\n\nexport interface Boat { kind: Kind }\nexport const none = 0\n")
    expect(outcome['a/index.ts']).toBe("export * from './kinds'\nexport * from '../b/kind'\nexport type { Boat } from './kinds'\n")
    expect(outcome['b/use.ts']).toBeUndefined()
  })

  const TOLLS: Files = {
    'tolls/money.ts': "import { RATES } from './rates'\nimport type { Craft } from '../fleet/craft'\n\nconst lengthOf = (craft: Craft): number => craft.length\n\n/** Fits into a lock. */\nexport function fits(craft: Craft): boolean {\n  return lengthOf(craft) < 20\n}\n\nexport function due(weight: number): number { return weight * RATES.each }\n\nexport const NAMES = ['a', 'b'] as const\nexport const first = due(1)\nexport type Sized = Craft | null\n",
    'tolls/rates.ts': 'export const RATES = { each: 2 }\n', 'fleet/craft.ts': 'export interface Craft { readonly length: number }\n',
    'fleet/yard.ts': "import type { Craft } from './craft'\nimport { due, fits, type Sized } from '../tolls/money'\n\nexport class Yard {\n  take(craft: Craft): boolean { return fits(craft) && fits({ length: 3 }) && due(3) > 1 }\n  one: Sized = null\n}\n",
    'fleet/list.ts': "import { NAMES } from '../tolls/money'\nexport const all: readonly string[] = NAMES\n"
  }

  test('a function goes to the module that it has most to do with, with what is private to it', () => {
    const { survey, writer } = readProject(TOLLS)
    expect(offersOf(survey, writer, 'tolls/money.ts#').filter(one => one.remedy === 'move-type').map(one => [one.id, one.title])).toEqual([
      ['move-type:tolls/money.ts#:fits', 'Move fits to another module'], ['move-type:tolls/money.ts#:NAMES', 'Move NAMES to another module'], ['move-type:tolls/money.ts#:Sized', 'Move Sized to another module']
    ])
    expect(apply(TOLLS, 'move-type:tolls/money.ts#:fits')).toEqual({
      'fleet/fits.ts': "import type { Craft } from './craft'\n\nconst lengthOf = (craft: Craft): number => craft.length\n\n/** Fits into a lock. */\nexport function fits(craft: Craft): boolean {\n  return lengthOf(craft) < 20\n}\n",
      'tolls/money.ts': TOLLS['tolls/money.ts']!.replace(/const lengthOf[^]*?(?=export function due)/, ''),
      'fleet/yard.ts': TOLLS['fleet/yard.ts']!.replace('due, fits, type Sized', 'due, type Sized').replace("'../tolls/money'\n", "'../tolls/money'\nimport { fits } from './fits'\n")
    })
    expect(apply(TOLLS, 'move-type:tolls/money.ts#:Sized')).toMatchObject({ 'fleet/sized.ts': "import type { Craft } from './craft'\n\nexport type Sized = Craft | null\n" })
    expect(apply(TOLLS, 'move-type:tolls/money.ts#:NAMES')).toMatchObject({ 'fleet/names.ts': "export const NAMES = ['a', 'b'] as const\n", 'fleet/list.ts': "import { NAMES } from './names'\nexport const all: readonly string[] = NAMES\n" })
  })

  test('a frozen constant is a plain one', () => {
    const files = { ...TOLLS, 'tolls/kinds.ts': "export const KINDS = Object.freeze({ WIDE: 'wide', SLIM: 'slim' } as const)\nexport const other = 1\n", 'fleet/wide.ts': "import { KINDS } from '../tolls/kinds'\nexport const wide = () => KINDS.WIDE\n" }
    expect(apply(files, 'move-type:tolls/kinds.ts#:KINDS')).toMatchObject({ 'fleet/kinds.ts': "export const KINDS = Object.freeze({ WIDE: 'wide', SLIM: 'slim' } as const)\n" })
    expect(apply({ ...files, 'tolls/kinds.ts': files['tolls/kinds.ts'].replace("'wide'", 'String(1)') }, 'move-type:tolls/kinds.ts#:KINDS', { module: 'fleet' })).toMatchObject({ reason: 'nested' })
  })

  test.each<[string, string, string, Record<string, string>?]>([
    ['what runs as its file is loaded', 'first', 'nested'], ['what is not there', 'none', 'nested'], ['where it is already', 'due', 'done', { module: 'tolls' }]
  ])('refuses %s', (_, member, reason, choices = { module: 'fleet' }) => { expect(apply(TOLLS, `move-type:tolls/money.ts#:${member}`, choices)).toMatchObject({ reason }) })

  test('keeps line ends, quotes and aliases', () => {
    const outcome = texts({
      'a/log.ts': 'import { Line as Row } from "./line";\r\nexport class Log {\r\n\tadd(row: Row): void { void row; }\r\n}\r\nexport class Other {}\r\n', 'a/line.ts': 'export class Line {}\r\n',
      'c.ts': 'import { Log as L, Other } from "./a/log";\r\nexport const c: [L, Other] = [new L(), new Other()];\r\n'
    }, 'a/log.ts#Log', 'b')
    expect(outcome['b/log.ts']).toBe('import { Line as Row } from "../a/line";\r\n\r\nexport class Log {\r\n\tadd(row: Row): void { void row; }\r\n}\r\n')
    expect(outcome['c.ts']).toBe('import { Other } from "./a/log";\r\nimport { Log as L } from "./b/log";\r\nexport const c: [L, Other] = [new L(), new Other()];\r\n')
  })

  test('a namespace import that does not use it stays as it is', () => {
    expect(texts({
      'a/two.ts': 'export class One {}\nexport const two = 2\n', 'd.ts': "import * as all from './a/two'\nexport const d = all.two\n"
    }, 'a/two.ts#One', 'b')).toEqual({ 'b/one.ts': 'export class One {}\n', 'a/two.ts': 'export const two = 2\n' })
  })

  test('where a file is had under one name, what moves is imported by its own', () => {
    expect(texts({
      'a/two.ts': 'export class One { static make(): One { return new One() } }\nexport interface Row { one: One }\nexport const two = 2\n',
      'd.ts': "import * as all from './a/two'\n\nexport class D extends all.One {\n  row: all.Row = { one: all.One.make() }\n  two = all.two\n  same(all: { One: number }): number { return all.One }\n}\n",
      'e.ts': "import type * as all from './a/two'\nexport const e: typeof all.One | null = null\n"
    }, 'a/two.ts#One', 'b')).toEqual({
      'b/one.ts': 'export class One { static make(): One { return new One() } }\n',
      'a/two.ts': "import type { One } from '../b/one'\n\nexport interface Row { one: One }\nexport const two = 2\n",
      'd.ts': "import * as all from './a/two'\nimport { One } from './b/one'\n\nexport class D extends One {\n  row: all.Row = { one: One.make() }\n  two = all.two\n  same(all: { One: number }): number { return all.One }\n}\n",
      'e.ts': "import type { One } from './b/one'\nexport const e: typeof One | null = null\n"
    })
  })

  test('it is not offered for a part of a file that something has as one thing', () => {
    const offered = (use: string) => { const { survey, writer } = readProject({ 'a/two.ts': 'export class One {}\nexport class Two {}\n', 'b/d.ts': `import * as all from '../a/two'\nexport class D { one = new all.One(); ${use} }\n` }); return offersOf(survey, writer, 'a/two.ts#One', 'move-type').length }
    expect([offered(''), offered('every = Object.keys(all)'), offered('same = { all }')]).toEqual([1, 0, 0])
  })

  test('what is exported apart from where it is declared moves with its file, and is not offered beside others', () => {
    const files = (more: string): Files => ({ 'a/two.ts': `class One {}\n${more}\nexport default One\n`, 'b/d.ts': "import First from '../a/two'\nexport class D { one = new First() }\n" })
    expect(texts(files(''), 'a/two.ts#One', 'b')).toEqual({ 'a/two.ts': null, 'b/two.ts': 'class One {}\n\nexport default One\n', 'b/d.ts': "import First from './two'\nexport class D { one = new First() }\n" })
    const { survey, writer } = readProject(files('export class Two {}'))
    expect(offersOf(survey, writer, 'a/two.ts#One', 'move-type')).toEqual([])
  })

  test('a whole file moves though others load it in a circle: the order in which they are loaded stays the same', () => {
    expect(texts({
      'a/base.ts': "import { Part } from './part'\nexport class Base { part(): Base { return new Part() } }\n", 'a/part.ts': "import { Base } from './base'\nexport class Part extends Base {}\n"
    }, 'a/part.ts#Part', 'b')).toEqual({
      'a/base.ts': "import { Part } from '../b/part'\nexport class Base { part(): Base { return new Part() } }\n", 'a/part.ts': null, 'b/part.ts': "import { Base } from '../a/base'\nexport class Part extends Base {}\n"
    })
  })

  test('imports of the last names of a list go with the comma before them', () => {
    expect(texts({
      'a/two.ts': "import { A, B, C, D } from './all'\nexport class One { b: B | null = null; c: C | null = null; d: D | null = null }\nexport const two: A | null = null\n", 'a/all.ts': 'export class A {}\nexport class B {}\nexport class C {}\nexport class D {}\n'
    }, 'a/two.ts#One', 'b')['a/two.ts']).toBe("import { A } from './all'\nexport const two: A | null = null\n")
  })

  describe('what a package shows to whoever installs it', () => {
    const PACKAGE: Files = {
      'package.json': '{"name":"locks","main":"dist/index.js","exports":{".":"./dist/index.js","./rows":"./dist/rows.js"}}',
      'src/index.ts': "export interface Row { x: number }\nexport class One { row: Row = { x: 1 } }\nexport const two = 2\n", 'src/rows.ts': "import { type Row } from './index'\nexport class Rows { rows: Row[] = [] }\n",
      'src/b/use.ts': "import * as all from '../index'\nexport class Use { one: all.One | null = null; every = Object.keys(all) }\n"
    }

    test('its entry goes on exporting what moves', () => {
      const outcome = move(PACKAGE, 'src/index.ts#Row', 'src/b')
      expect('texts' in outcome && outcome).toEqual({
        texts: {
          'src/b/row.ts': 'export interface Row { x: number }\n', 'src/rows.ts': "import { type Row } from './b/row'\nexport class Rows { rows: Row[] = [] }\n",
          'src/index.ts': "import { type Row } from './b/row'\n\nexport class One { row: Row = { x: 1 } }\nexport const two = 2\nexport type { Row } from './b/row'\n"
        },
        notes: ['src/index.ts is what others get of the package locks, and goes on exporting Row.']
      })
    })

    test('who has it by the name of the package goes on doing so, and no other package is a home for it', () => {
      const files: Files = {
        'package.json': '{"name":"whole"}', 'locks/package.json': '{"name":"locks","main":"src/index.ts"}',
        'locks/src/index.ts': "import { Use } from './b/use'\nexport class One { use = new Use() }\nexport const two = 2\n", 'locks/src/b/use.ts': 'export class Use {}\n',
        'desk/package.json': '{"name":"desk","dependencies":{"locks":"1"}}', 'desk/src/desk.ts': "import { One } from 'locks'\nexport class Desk { one = new One(); other: One[] = [new One()] }\n"
      }
      const { survey, writer } = readProject(files)
      const planned = planStep('move-type:locks/src/index.ts#One', {}, survey, writer)
      expect(!planned.refused && [planned.choices, planned.changes.map(one => one.path)]).toEqual([{ module: 'locks/src/b' }, ['locks/src/b/one.ts', 'locks/src/index.ts']])
    })

    test('an application shows nothing', () => {
      const texts = move({ ...PACKAGE, 'package.json': '{"name":"locks"}' }, 'src/rows.ts#Rows', 'src/b')
      expect('texts' in texts && Object.keys(texts.texts)).toEqual(['src/b/rows.ts', 'src/rows.ts'])
      expect(move({ ...PACKAGE, 'package.json': '{"name":"locks"}', 'src/b/use.ts': '' }, 'src/index.ts#Row', 'src/b')).toMatchObject({ notes: [] })
    })

    test('an entry itself stays', () => {
      const { survey, writer } = readProject(PACKAGE)
      expect(move(PACKAGE, 'src/rows.ts#Rows', 'src/b')).toMatchObject({ reason: 'entry' })
      expect(['src/rows.ts#Rows', 'src/index.ts#One'].map(type => offersOf(survey, writer, type, 'move-type').length)).toEqual([0, 1])
    })
  })

  test('an interface and a constant of one name go together', () => {
    expect(texts({
      'a/two.ts': 'export interface One { x: number }\nexport const One = { of: (x: number): One => ({ x }) }\nexport const two = 2\n', 'd.ts': "import { One, two } from './a/two'\nexport const d: One = One.of(two)\n"
    }, 'a/two.ts#One', 'b')['b/one.ts']).toBe('export interface One { x: number }\n\nexport const One = { of: (x: number): One => ({ x }) }\n')
  })

  const refused: [string, string, Files, string, string][] = [
    ['a place that it is in already', 'done', { 'a/one.ts': 'export class One {}\n' }, 'a/one.ts#One', 'a'],
    ['a folder outside', 'module', { 'a/one.ts': 'export class One {}\n' }, 'a/one.ts#One', '../b'],
    ['a file that is there', 'file-exists', { 'a/one.ts': 'export class One {}\n', 'b/one.ts': 'export const x = 1\n' }, 'a/one.ts#One', 'b'],
    ['a nested class', 'nested', { 'a/one.ts': 'export function f() { class One {}\n return new One() }\n' }, 'a/one.ts#f.One', 'b'],
    ['a file had under one name', 'namespace-import', { 'a/two.ts': 'export class One {}\nexport const two = 2\n', 'd.ts': "import * as all from './a/two'\nexport const d = Object.keys(all)\n" }, 'a/two.ts#One', 'b'],
    ['a file handed on under one name', 'namespace-import', { 'a/two.ts': 'export class One {}\nexport const two = 2\n', 'd.ts': "export * as all from './a/two'\n" }, 'a/two.ts#One', 'b'],
    ['one export list', 'export-list', { 'a/two.ts': 'class One {}\nexport const two = 2\nexport { One }\n' }, 'a/two.ts#One', 'b'],
    ['a file that looks where it is', 'place', { 'a/one.ts': 'export class One { here = import.meta }\n' }, 'a/one.ts#One', 'b'],
    ['a file named by a test that replaces modules', 'named-in-text', { 'a/one.ts': 'export class One {}\n', 'a/one.test.ts': "declare const jest: { mock(path: string): void }\njest.mock('./one')\nexport {}\n" }, 'a/one.ts#One', 'b'],
    ['files that would load each other', 'file-cycle', { 'a/two.ts': 'export class One { all() { return new Two() } }\nexport class Two { one() { return new One() } }\n' }, 'a/two.ts#One', 'b']
  ]
  test.each(refused)('refuses %s', (_, reason, files, type, module) => {
    expect(move(files, type, module)).toMatchObject({ reason })
  })
})
