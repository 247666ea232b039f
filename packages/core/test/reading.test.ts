import { OverlayFileSource } from '@hollowmoor/core/read/file-source'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { TypeScriptSession } from '@hollowmoor/core/read/typescript/session'
import { DiskSource } from '@hollowmoor/host/disk-source'
import { LIBRARY_FOLDER } from '@hollowmoor/host/project-folder'
import type { Files } from './project.js'
import { readProject, referencesOf } from './project.js'

const B = 'export class B { static count = 0; static make(): B { return new B() } field = 1; run(): void {} }\n'

describe('references', () => {
  const table: [string, string, string[]][] = [
    ['extends and implements', 'import { B } from "./b"\nexport interface I {}\nclass A extends B implements I {}', ['a.ts#A -> b.ts#B extends', 'a.ts#A -> a.ts#I implements type']],
    ['a creation', 'import { B } from "./b"\nclass A { b = new B() }', ['a.ts#A -> b.ts#B creates']],
    ['a call through a field', 'import { B } from "./b"\nclass A { constructor(private b: B) {} go() { this.b.run() } }', ['a.ts#A -> b.ts#B signature type', 'a.ts#A -> b.ts#B.run calls']],
    ['a static call, with its class', 'import { B } from "./b"\nclass A { go() { B.make() } }', ['a.ts#A -> b.ts#B reads', 'a.ts#A -> b.ts#B.make calls-static']],
    ['reading and writing a field', 'import { B } from "./b"\nexport function f(b: B) { b.field = b.field + 1; B.count++ }', ['a.ts# -> b.ts#B signature type', 'a.ts# -> b.ts#B.field writes', 'a.ts# -> b.ts#B.field reads', 'a.ts# -> b.ts#B reads', 'a.ts# -> b.ts#B.count writes']],
    ['type arguments', 'import { B } from "./b"\nexport const all = new Map<string, B>()', ['a.ts# -> b.ts#B type-argument type']],
    ['a throw and a catch', 'class E extends Error {}\nexport class A { go() { try { throw new E() } catch (e) { return e instanceof E } } }', ['a.ts#A -> a.ts#E throws', 'a.ts#A -> a.ts#E catches']],
    ['a decorator', 'function mark(target: unknown, context: unknown) {}\n@mark class A {}', ['a.ts#A -> a.ts#.mark annotates']],
    ['destructuring and object literals', 'export interface P { x: number }\nexport class A { go(p: P): P { const { x } = p; return { x } } }', ['a.ts#A -> a.ts#P signature type', 'a.ts#A -> a.ts#P.x reads', 'a.ts#A -> a.ts#P.x writes']],
    ['an import that nothing uses', 'import { B } from "./b"\nexport const one = 1', ['a.ts# -> b.ts#B imports-only']],
    ['a re-export', 'export { B } from "./b"', ['a.ts# -> b.ts#B imports-only']],
    ['typeof in a type', 'import { B } from "./b"\nexport type M = { make: typeof B }', ['a.ts#M -> b.ts#B signature type']],
    ['element access by name', 'import { B } from "./b"\nexport function f(b: B) { return b["field"] }', ['a.ts# -> b.ts#B signature type', 'a.ts# -> b.ts#B.field reads']]
  ]
  test.each(table)('%s', (_, code, expected) => {
    expect(referencesOf({ 'a.ts': code, 'b.ts': B })).toEqual([...expected].sort())
  })

  test('follow re-exports to where a thing is declared', () => {
    const found = referencesOf({ 'a.ts': 'import { C } from "./index"\nnew C()', 'index.ts': 'export { B as C } from "./b"', 'b.ts': B })
    expect(found).toContain('a.ts# -> b.ts#B creates')
  })

  test('a member of a union gives one for each declaration', () => {
    const found = referencesOf({ 'a.ts': 'export class X { go() {} }\nexport class Y { go() {} }\nexport function f(one: X | Y) { one.go() }' })
    expect(found).toEqual(expect.arrayContaining(['a.ts# -> a.ts#X.go calls', 'a.ts# -> a.ts#Y.go calls']))
  })

  test('a member means the type that declares it, also through a subclass', () => {
    const found = referencesOf({ 'a.ts': 'import { B } from "./b"\nexport class D extends B {}\nexport function f(d: D) { d.run() }', 'b.ts': B })
    expect(found).toContain('a.ts# -> b.ts#B.run calls')
  })

  test('a namespace that shares a type\'s name is not that type', () => {
    const found = referencesOf({
      'a.ts': 'import * as all from "./b"\nexport const one: all.M.Inner = { x: 1 }\nexport const two: all.M = { y: 1 }', 'b.ts': 'export interface M { y: number }\nexport namespace M { export interface Inner { x: number } }'
    })
    expect(found.filter(line => line.endsWith('signature type'))).toEqual(['a.ts# -> b.ts#M signature type', 'a.ts# -> b.ts#M.Inner signature type'])
    const only = referencesOf({ 'a.ts': 'import * as all from "./b"\nexport const one: all.M.Inner = { x: 1 }', 'b.ts': 'export interface M { y: number }\nexport namespace M { export interface Inner { x: number } }' })
    expect(only).not.toContain('a.ts# -> b.ts#M signature type')
  })

  test('have exact lines and columns', () => {
    const { model } = readProject({ 'a.ts': 'import { B } from "./b"\r\n\r\nexport const made =  new B()', 'b.ts': B }).survey
    const at = Array.from({ length: model.references.length }, (_, index) => model.references.at(index)).find(one => one.kind === 'creates' && model.files[one.file]!.path === 'a.ts')!
    expect([at.line, at.column, at.end - at.start]).toEqual([3, 26, 1])
  })
})

describe('types', () => {
  const idsOf = (code: string) => readProject({ 'a.ts': code }).survey.model.types.map(type => `${type.id} ${type.kind}`)

  const table: [string, string, string[]][] = [
    ['kinds', 'abstract class A {}\ninterface I { x(): void }\nenum E { One }\ntype T = { x: 1 }\ntype F = () => void', ['a.ts#A abstract-class', 'a.ts#I interface', 'a.ts#E enum', 'a.ts#T alias', 'a.ts#F alias']],
    ['free functions and values as one unit', 'export function f() {}\nconst x = 1', ['a.ts# functions']],
    ['other aliases belong to the unit', 'type U = 1 | 2', ['a.ts# functions']],
    ['a default class', 'export default class { run() {} }', ['a.ts#default class']],
    ['a class in a function, and in a namespace', 'function f() { class L {} }\nnamespace N { export class M {} }', ['a.ts#f.L class', 'a.ts#N.M class', 'a.ts# functions']],
    ['a class expression has the name of its variable', 'export const K = class { go() {} }', ['a.ts#K class']],
    ['a repeated name', 'function f() { class L {} }\nfunction g() { class L {} }\n{ class L {} }\n{ class L {} }', ['a.ts#f.L class', 'a.ts#g.L class', 'a.ts#L class', 'a.ts#L~2 class', 'a.ts# functions']],
    ['merged declarations are one', 'interface M { a: 1 }\nclass M { b = 2 }', ['a.ts#M class']]
  ]
  test.each(table)('%s', (_, code, expected) => expect(idsOf(code)).toEqual(expected))

  test('merge across files, at the first by path', () => {
    const { model } = readProject({ 'b.ts': 'export interface M { x: number }', 'a.ts': 'declare module "./b" { interface M { y: number } }\nexport {}' }).survey
    expect(model.types.filter(type => type.name === 'M').map(type => type.id)).toEqual(['a.ts#M'])
  })

  test('data is told from behaviour', () => {
    const { model } = readProject({ 'a.ts': 'export interface R { x: number }\nexport interface S { run(): void }\nexport class Bad extends Error {}\nexport class P { constructor(readonly x: number) {} }\nexport class Q { go() { return 1 } }' }).survey
    expect(model.types.map(type => [type.name, type.inert])).toEqual([['R', true], ['S', false], ['Bad', true], ['P', true], ['Q', false]])
  })
})

describe('a project', () => {
  test('leaves out what .gitignore and the settings leave out, and tells tests', () => {
    const { survey, snapshot } = readProject({
      'src/a.ts': 'export const a = 1', 'src/a.test.ts': 'export const t = 1', 'dist/a.ts': 'export const no = 1', 'made/x.ts': 'export const no = 1', '.gitignore': 'made/\n'
    })
    expect(survey.model.files.map(file => [file.path, file.test])).toEqual([['src/a.test.ts', true], ['src/a.ts', false]])
    expect(snapshot.facts.excluded).toEqual(['dist', 'made'])
  })

  test('without a tsconfig is read with its JavaScript', () => {
    const files = { 'a.js': 'import { B } from "./b.js"\nexport const b = new B()', 'b.js': 'export class B { run() {} }' }
    const read = (config: Files) => new TypeScriptSession('/hm-test', DEFAULT_SETTINGS, LIBRARY_FOLDER).read(new OverlayFileSource(new Map(Object.entries({ ...files, ...config }).map(([path, text]) => [`/hm-test/${path}`, text])), new DiskSource())).facts.files.map(file => file.path)
    expect(read({})).toEqual(['a.js', 'b.js'])
    expect(read({ 'tsconfig.json': '{}' })).toEqual([])
    expect(read({ 'tsconfig.json': '{"compilerOptions":{"allowJs":true},"files":["b.js"]}' })).toEqual(['b.js'])
  })

  test('does not take what a compiler wrote for sources: a source map is beside it, or the configuration puts it there', () => {
    const config = (options: object) => JSON.stringify({ compilerOptions: { strict: true, module: 'ESNext', moduleResolution: 'Bundler', target: 'ES2022', types: [], ...options } })
    const read = (files: Files) => { const { survey, snapshot } = readProject(files); return { files: survey.model.files.map(file => file.path), excluded: snapshot.facts.excluded } }
    const mapped = { 'src/a.ts': 'export class A {}', 'lib/a.js': 'export class A {}', 'lib/a.js.map': '{}', 'lib/a.d.ts': 'export declare class A {}', 'lib/b/c.d.ts': 'export declare class C {}', 'lib/b/c.d.ts.map': '{}' }
    for (const options of [{}, { allowJs: true }]) expect(read({ ...mapped, 'tsconfig.json': config(options) })).toEqual({ files: ['src/a.ts'], excluded: ['lib'] })
    const put = { 'src/a.ts': 'export class A {}', 'types/a.d.ts': 'export declare class A {}', 'src/shapes.d.ts': 'declare class Shape {}' }
    expect(read({ ...put, 'tsconfig.json': config({ declaration: true, declarationDir: 'types' }) })).toEqual({ files: ['src/a.ts', 'src/shapes.d.ts'], excluded: ['types'] })
    expect(read({ ...put, 'tsconfig.json': config({ outDir: './types', rootDir: 'src' }) }).files).toEqual(['src/a.ts', 'src/shapes.d.ts'])
    expect(read({ 'a.ts': '', 'a.js': '', 'a.d.ts': '', 'b.tsx': '', 'b.jsx': '', 'c.mts': '', 'c.mjs': '', 'c.d.mts': '', 'd.js': '', 'tsconfig.json': config({ allowJs: true }) })).toEqual({ files: ['a.ts', 'b.tsx', 'c.mts', 'd.js'], excluded: [] })
    // Declarations written by hand stay, and so does what is compiled where it stands.
    expect(read({ ...put, 'tsconfig.json': config({}) }).files).toEqual(['src/a.ts', 'src/shapes.d.ts', 'types/a.d.ts'])
    expect(read({ ...put, 'tsconfig.json': config({ outDir: '.' }) }).files).toEqual(['src/a.ts', 'src/shapes.d.ts', 'types/a.d.ts'])
  })

  test('with syntax errors is read as far as it goes, and says where', () => {
    const { survey } = readProject({ 'a.ts': 'export class A { go() {} }\nexport class {{ \nexport class C {}' })
    expect(survey.model.problems[0]).toMatchObject({ file: 'a.ts', line: 2 })
    expect(survey.model.types.map(type => type.name)).toContain('A')
  })

  test('nested 10,000 deep is left out with a word, and the rest is read', () => {
    const { survey } = readProject({ 'deep.ts': `export const x = ${'('.repeat(10_000)}1${')'.repeat(10_000)}`, 'a.ts': 'export class A {}' })
    expect(survey.model.problems).toEqual([{ file: 'deep.ts', line: 1, message: expect.stringContaining('1,000 levels') }])
    expect(survey.model.types.map(type => type.id)).toEqual(['a.ts#A'])
  })

  test('tells what did not resolve, with the reason', () => {
    const { survey } = readProject({ 'a.ts': 'import { gone } from "./nowhere"\nexport function f(x: any) { gone(); x.y() }' })
    expect(survey.model.unresolved.map(one => [one.name, one.reason])).toEqual([
      ['gone', 'imported from a module that is not found'], ['y', 'its receiver has no known type']
    ])
  })

  test('finds its way through path mapping and workspace packages', () => {
    const found = referencesOf({
      'package.json': '{"name":"whole","workspaces":["packages/*"]}',
      'tsconfig.json': JSON.stringify({ compilerOptions: { strict: true, module: 'ESNext', moduleResolution: 'Bundler', target: 'ES2022', types: [], paths: { '~/*': ['./packages/one/src/*'] } } }),
      'packages/one/package.json': '{"name":"@t/one","main":"dist/index.js"}', 'packages/one/src/index.ts': 'export class One { go() {} }',
      'packages/two/package.json': '{"name":"@t/two"}', 'packages/two/src/a.ts': 'import { One } from "@t/one"\nnew One()', 'packages/two/src/b.ts': 'import { One } from "~/index"\nnew One()'
    })
    expect(found).toEqual(['packages/two/src/a.ts# -> packages/one/src/index.ts#One creates', 'packages/two/src/b.ts# -> packages/one/src/index.ts#One creates'])
  })

  test('finds the sources of a workspace package by where its configuration compiles them to', () => {
    const config = (more: object) => JSON.stringify({ compilerOptions: { strict: true, module: 'ESNext', moduleResolution: 'Bundler', target: 'ES2022', types: [], ...more } })
    expect(referencesOf({
      'package.json': '{"name":"whole","workspaces":["packages/*"]}', 'tsconfig.json': config({}),
      'packages/one/package.json': '{"name":"one","exports":"./out/js/index.js"}', 'packages/one/tsconfig.json': config({ rootDir: 'code', outDir: 'out/js' }), 'packages/one/code/index.ts': 'export class One {}', 'packages/one/code/deep/more.ts': 'export class More {}',
      'packages/two/package.json': '{"name":"two","main":"built/index.js"}', 'packages/two/tsconfig.json': config({ outDir: 'built' }), 'packages/two/index.ts': 'export class Two {}',
      'packages/all/use.ts': 'import { One } from "one"\nimport { More } from "one/out/js/deep/more.js"\nimport { Two } from "two"\nnew One()\nnew More()\nnew Two()'
    })).toEqual([
      'packages/all/use.ts# -> packages/one/code/deep/more.ts#More creates', 'packages/all/use.ts# -> packages/one/code/index.ts#One creates', 'packages/all/use.ts# -> packages/two/index.ts#Two creates'
    ])
  })

  test('says which dependencies are not installed', () => {
    expect(readProject({ 'package.json': '{"dependencies":{"left-behind":"1"}}', 'a.ts': 'export const a = 1' }).snapshot.facts.notInstalled).toEqual(['left-behind'])
  })
})

test('of a union of a project\'s type and one of a library, the project\'s counts, in whichever order they stand', () => {
  for (const union of ['Range | Selection', 'Selection | Range']) {
    const found = referencesOf({ 'a.ts': `export interface Mark { anchorNode: string | null }\nexport type Range = Mark`, 'b.ts': `import type { Mark } from './a'\nexport function f(one: ${union.replace('Range', 'Mark')}) { return one.anchorNode }` })
    expect(found).toContain('b.ts# -> a.ts#Mark.anchorNode reads')
  }
})
