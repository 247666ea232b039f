import { cohesionOf } from '@hollowmoor/core/measure/cohesion'
import { setupOf } from '@hollowmoor/core/measure/setup-tree'
import { readJava } from './java.js'
import { readProject } from './project.js'

const cohesion = (body: string) => {
  const { model } = readProject({ 'a.ts': `export class A { ${body} }` }).survey
  const type = model.typeIndex.get('a.ts#A')!
  return cohesionOf(model, type)
}

describe('cohesion, by hand', () => {
  test('methods are joined by shared fields and by calls; constructors, statics and empty methods do not count', () => {
    const found = cohesion('x = 0; y = 0; z = 0; constructor() { this.x = this.y } a(): number { return this.x + 1 } b(): number { return this.x + this.y } c(): number { return this.z + 1 } d(): number { return this.c() + 1 } e(): void {} static s(): number { return 1 + 1 }')
    expect(found.lcom4).toBe(2)
    expect(found.groups).toEqual([{ methods: ['a', 'b'], fields: ['x', 'y'] }, { methods: ['c'], fields: ['z'] }])
    expect(found.between).toEqual([])
    // Of a, b, c, d and e (which counts for nothing): a-b by x, c-d by z.
    expect(found.tcc).toBeCloseTo(2 / 6)
  })

  test('a call between groups over fields is told as what speaks against dividing', () => {
    const found = cohesion('x = 0; y = 0; a(): number { return this.x + this.b() } b(): number { return this.y + 1 }')
    expect([found.lcom4, found.groups.length, found.between.map(({ from, to, line }) => ({ from, to, line }))]).toEqual([1, 2, [{ from: 'a', to: 'b', line: 1 }]])
  })

  test('the same in Java, with fields named without this', () => {
    const { model } = readJava({ 'a/A.java': 'package a; class A { int x; int y; public int p() { return x + 1; } public int q() { return this.x * 2; } public int r() { return y - 1; } }' }).survey
    const type = model.typeIndex.get('a.A')!
    const found = cohesionOf(model, type)
    expect([found.lcom4, found.groups.map(group => group.methods)]).toEqual([2, [['p', 'q'], ['r']]])
    expect(found.tcc).toBeCloseTo(1 / 3)
  })
})

describe('what a constructor needs', () => {
  test('is told down to plain values, with doubles for abstractions and circles cut', () => {
    const { model } = readProject({
      'a.ts': `export interface Port { go(): void }
export class Deep { constructor(readonly port: Port, readonly size: number) {} run(): number { return this.size * 2 } }
export class Mid { constructor(readonly deep: Deep, readonly back?: Top) {} run(): number { return this.deep.run() * 2 } }
export class Top { constructor(readonly mid: Mid, readonly deep: Deep, readonly top: Top, readonly name: string) {} run(): number { return this.mid.run() * 2 } }`
    }).survey
    const setup = setupOf(model, model.typeIndex.get('a.ts#Top')!)
    expect(setup.arguments.map(one => [one.name, one.kind])).toEqual([['mid', 'real'], ['deep', 'real'], ['top', 'circular'], ['name', 'literal']])
    expect(setup.arguments[0]!.children.map(one => [one.name, one.kind])).toEqual([['deep', 'real'], ['back', 'literal']])
    expect([setup.realObjects, setup.doubles, setup.lines]).toEqual([3, 2, 6])
  })
})
