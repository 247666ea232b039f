import { readProject } from './project.js'

const files = {
  'src/a/x.ts': 'import { Y } from "../b/y"\nexport class X { constructor(private y: Y) {} go() { this.y.run() } }\nexport interface Port { go(): void }',
  'src/b/y.ts': 'import type { Z } from "../c/z"\nexport class Y { run() {} last?: Z }\nexport abstract class Base {}\nexport enum Kind { One }',
  'src/c/z.ts': 'import { X } from "../a/x"\nexport class Z { make() { return new X(null!) } }',
  'test/z.test.ts': 'import { Z } from "../src/c/z"\nnew Z()'
}

describe('modules', () => {
  const { survey } = readProject(files)
  const module = (id: string) => survey.modules.find(one => one.id === id)!

  test('have Martin\'s measures of their own files', () => {
    expect(module('src/a')).toMatchObject({ parent: 'src', types: 2, lines: 3, ca: 1, ce: 1, instability: 0.5, abstractness: 0.5, distance: 0 })
    expect(module('src/b')).toMatchObject({ types: 3, ca: 1, ce: 1, abstractness: 1 / 3 })
  })

  test('without a denominator have no ratio', () => {
    expect(module('src')).toMatchObject({ types: 0, instability: null, abstractness: null, distance: null, subtree: { types: 6, ca: 0, ce: 0 } })
  })

  test('leave test code out of their figures', () => {
    expect(module('src/c').ca).toBe(1)
    expect(survey.modules.some(one => one.id === 'test')).toBe(false)
  })

  test('go round once, in the folder where the cycle lies, and not at run time where a type closes it', () => {
    expect(survey.moduleCycles).toHaveLength(1)
    expect(survey.moduleCycles[0]).toMatchObject({ within: 'src', members: ['src/a', 'src/b', 'src/c'], atRunTime: false, cut: { references: 1, lowerBound: 1 } })
    expect(survey.moduleCycles[0]!.cut.dependencies.map(one => [one.from, one.to])).toEqual([['src/b', 'src/c']])
    expect(survey.fileCycles).toHaveLength(1)
  })

  test('can be other roots than folders', () => {
    const { survey: other } = readProject(files, { moduleRoots: ['src'] })
    expect(other.modules.filter(one => one.types > 0).map(one => [one.id, one.types])).toEqual([['src', 6]])
    expect(other.moduleCycles).toEqual([])
  })
})

test('fan-in and fan-out count distinct other product types', () => {
  const { survey } = readProject(files)
  const at = survey.model.typeIndex.get('src/a/x.ts#X')!
  expect([survey.fanIn[at], survey.fanOut[at]]).toEqual([1, 1])
  expect(survey.fanIn[survey.model.typeIndex.get('src/c/z.ts#Z')!]).toBe(1)
})

test('type cycles fold nested types into the outermost', () => {
  const { survey } = readProject({ 'a.ts': 'export class A { make() { class Inner { up(a: A) { a.make() } }\nreturn new Inner() } }' })
  expect(survey.typeCycles).toEqual([])
})

describe('joints', () => {
  const kinds = 'export interface Port { go(): void }\nexport class Real implements Port { go() {} static make() { return new Real() } static hi() {} }\nexport interface Data { x: number }\nexport const shared = new Real()\nexport class Hub { real(): Real { return new Real() }\nport(): Port { return new Real() } }\n'
  const table: [string, string, string][] = [
    ['created in a field', 'class A { r = new Real(); f() { this.r.go() } }', 'Real welded created'],
    ['created in a method', 'class A { f() { const r = new Real(); r.go() } }', 'Real welded created'],
    ['a static call', 'class A { f() { Real.hi() } }', 'Real welded static'],
    ['an imported instance', 'class A { f() { shared.go() } }', 'Real welded static'],
    ['inherited', 'class A extends Real { f() { this.go() } }', 'Real welded inherited'],
    ['handed to the constructor as a class', 'class A { constructor(private r: Real) {} f() { this.r.go() } }', 'Real bolted concrete'],
    ['handed to a method as a class', 'class A { f(r: Real) { r.go() } }', 'Real bolted concrete'],
    ['handed in as an interface', 'class A { constructor(private r: Port) {} f() { this.r.go() } }', 'Port plugged abstraction'],
    ['set by a setter', 'class A { private r!: Port; set port(p: Port) { this.r = p }\nf() { this.r.go() } }', 'Port plugged abstraction'],
    ['the worst of two origins', 'class A { constructor(private r: Real) {} swap() { this.r = new Real() } f() { this.r.go() } }', 'Real welded created'],
    ['plain data', 'class A { f(d: Data) { return d.x } }', 'Data inert data'],
    ['a list of what was handed in', 'class A { constructor(private all: Port[]) {} f() { for (const one of this.all) one.go() } }', 'Port plugged abstraction'],
    ['kept in a collection that the type makes', 'class A { private all = new Map<string, Port>(); add(p: Port) { this.all.set("a", p) } f() { for (const one of this.all.values()) one.go() } }', 'Port plugged abstraction'],
    ['the values of what was handed in', 'class A { constructor(private all: Record<string, Port>) {} f() { for (const one of Object.values(this.all)) one.go() } }', 'Port plugged abstraction'],
    ['put into a collection as it is made', 'class A { private all = new Set([new Real()]); f() { for (const one of this.all) one.go() } }', 'Real welded created'],
    ['put into a list as it is written', 'class A { private all: Real[] = [new Real()]; f() { this.all.forEach(one => one.go()) } }', 'Real welded created'],
    ['got from what was handed in', 'class A { constructor(private h: Hub) {} f() { this.h.port().go() } }', 'Port bolted got-from'],
    ['what a function that was handed in gives', 'class A { private r: Port; constructor(make: () => Port) { this.r = make() } f() { this.r.go() } }', 'Port plugged abstraction'],
    ['a default of a parameter welds nothing', 'class A { constructor(private r: Port = new Real()) {} f() { this.r.go() } }', 'Port plugged abstraction']
  ]
  test.each(table)('%s', (_, code, expected) => {
    const { survey } = readProject({ 'kinds.ts': kinds, 'a.ts': `import { Port, Real, Data, shared, Hub } from "./kinds"\nexport ${code}` })
    const at = survey.model.typeIndex.get('a.ts#A')!
    const told = survey.joints[at]!.map(joint => `${joint.to < 0 ? joint.external : survey.model.types[joint.to]!.name} ${joint.kind} ${joint.reason}`)
    expect(told).toContain(expected)
  })

  test('effects of the runtime are collaborators, what only computes is none', () => {
    const { survey } = readProject({ 'a.ts': 'export class A { f() { return Math.max(Date.now(), JSON.parse("1")) } }' })
    expect(survey.joints[0]!.map(joint => [joint.external, joint.kind])).toEqual([['Date', 'welded']])
  })
})
