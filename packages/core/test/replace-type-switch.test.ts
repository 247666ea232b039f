import { seededRandom } from '@hollowmoor/core/graph/random'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import type { Applied } from './applying.js'
import { apply } from './applying.js'
import type { Files } from './project.js'
import { readProject } from './project.js'
import { toldBy } from './running.js'

const ID = 'replace-type-switch:dues.ts#Dues'
const KIND = 'export enum Kind { Barge = \'barge\', WorkFlat = \'work-flat\', Tug = \'tug\', Punt = \'punt\' }\n'
const dues = (body: string, more = '') => `import { Kind } from './kind'

/** What is owed. */
export class Dues {
  private count = 1

  constructor(private readonly rate: number) {}
${more}
  dueFor(kind: Kind, tons: number): number {
${body}
  }
}
`
const RETURNED = `    switch (kind) {
      case Kind.Barge:
      case Kind.WorkFlat:
        return this.rate * tons
      // Towing is free.
      case Kind.Tug: return 0
      default: {
        // Small craft.
        if (tons > 3) return this.rate
        return 1
      }
    }`
const FILES: Files = { 'kind.ts': KIND, 'dues.ts': dues(RETURNED), 'office.ts': "import { Dues } from './dues'\nimport { Kind } from './kind'\nexport const due = new Dues(2).dueFor(Kind.Tug, 4)\n" }
const textOf = (applied: Applied, path: string) => (applied as Record<string, string>)[path]
const offered = (files: Files) => { const { survey, writer } = readProject(files); return offersOf(survey, writer).filter(one => one.remedy === 'replace-type-switch').map(one => one.id) }

describe('replacing a type switch in TypeScript', () => {
  test('a case that does not read what it is handed says so where the configuration asks for that', () => {
    const config = { 'tsconfig.json': '{"compilerOptions":{"strict":true,"noUnusedParameters":true,"target":"es2022","module":"esnext","moduleResolution":"bundler","types":[]}}' }
    const text = textOf(apply({ ...FILES, ...config }, ID), 'kind-due.ts')!
    expect(text.match(/dueFor\(.*\)/g)).toEqual(['dueFor(rate: number, tons: number)', 'dueFor(rate: number, tons: number)', 'dueFor(_rate: number, _tons: number)', 'dueFor(rate: number, tons: number)'])
  })

  test('each case is a class of one interface; what chooses among them is handed in', () => {
    const applied = apply(FILES, ID)
    expect(textOf(applied, 'kind-due.ts')).toBe(`import { Kind } from './kind'

/** What Dues.dueFor does for one Kind. */
export interface KindDue {
  dueFor(rate: number, tons: number): number
}

export class BargeDue implements KindDue {
  dueFor(rate: number, tons: number): number {
    return rate * tons
  }
}

export class TugDue implements KindDue {
  dueFor(rate: number, tons: number): number {
    // Towing is free.
    return 0
  }
}

export class OtherDue implements KindDue {
  dueFor(rate: number, tons: number): number {
    // Small craft.
    if (tons > 3) return rate
    return 1
  }
}

const KNOWN: ReadonlyMap<Kind, KindDue> = new Map<Kind, KindDue>([
  [Kind.Barge, new BargeDue()],
  [Kind.WorkFlat, new BargeDue()],
  [Kind.Tug, new TugDue()]
])
const OTHER = new OtherDue()

/** Chooses by Kind: for another one there is another class, and one more line above. */
export function dueByKind(kind: Kind): KindDue {
  return KNOWN.get(kind) ?? OTHER
}
`)
    expect(textOf(applied, 'dues.ts')).toBe(dues('    return this.dueBy(kind).dueFor(this.rate, tons)')
      .replace("import { Kind } from './kind'\n", "import { Kind } from './kind'\nimport { KindDue, dueByKind } from './kind-due'\n").replace('private readonly rate: number)', 'private readonly rate: number, private readonly dueBy: (kind: Kind) => KindDue = dueByKind)'))
    expect(Object.keys(applied).sort()).toEqual(['dues.ts', 'kind-due.ts'])
  })

  test('without a default, each place that builds the class hands in what chooses', () => {
    const applied = apply(FILES, ID, { default: 'no' })
    expect(textOf(applied, 'office.ts')).toContain('new Dues(2, dueByKind).dueFor(Kind.Tug, 4)')
    expect(textOf(applied, 'dues.ts')).toContain('private readonly dueBy: (kind: Kind) => KindDue)')
  })

  test('a variable that each case sets is set to what the class gives, and declared with it where nothing else sets it', () => {
    const set = (after: string) => dues(`    let due: number\n    switch (kind) {\n      case Kind.Barge: due = tons; break\n      case Kind.Tug: throw new Error('free')\n      case Kind.Punt: due = 2; break\n      default:\n        console.log(this.count)\n        due = 1\n    }\n${after}    return due`)
    expect(textOf(apply({ ...FILES, 'dues.ts': set('') }, ID), 'dues.ts')).toContain('    const due: number = this.dueBy(kind).dueFor(tons, () => this.count)\n    return due\n')
    expect(textOf(apply({ ...FILES, 'dues.ts': set('    due += 1\n') }, ID), 'dues.ts')).toContain('    let due: number\n    due = this.dueBy(kind)')
  })

  test('what stands behind a switch without a default is done in any other case', () => {
    const applied = apply({ ...FILES, 'dues.ts': dues("    switch (kind) {\n      case Kind.Barge: return tons\n      case Kind.Tug: return 0\n      case Kind.Punt: return 1\n    }\n    const half = tons / 2\n    return half") }, ID)
    expect(textOf(applied, 'dues.ts')).toContain('number {\n    return this.dueBy(kind).dueFor(tons)\n  }')
    expect(textOf(applied, 'kind-due.ts')).toContain('export class OtherDue implements KindDue {\n  dueFor(tons: number): number {\n    const half = tons / 2\n    return half\n  }')
  })

  test('where every value has a case, one more does not compile until it has one', () => {
    const files = { 'job.ts': "export type Job = 'grease' | 'gate-work' | 'dredge'\n", 'dues.ts': "import type { Job } from './job'\nexport class Dues {\n  hoursFor(job: Job): number {\n    switch (job) {\n      case 'grease': return 1\n      case 'gate-work': return 16\n      case 'dredge': return 24\n    }\n  }\n}\n" }
    const applied = apply(files, 'replace-type-switch:dues.ts#Dues:hoursFor')
    expect(textOf(applied, 'job-hours.ts')).toContain("const KNOWN: Readonly<Record<Job, JobHours>> = {\n  grease: new GreaseHours(),\n  'gate-work': new GateWorkHours(),\n  dredge: new DredgeHours()\n}\n")
    expect(textOf(applied, 'dues.ts')).toContain('constructor(private readonly hoursBy: (kind: Job) => JobHours = hoursByJob) {}')
  })

  test('what only runs runs in its class, and nothing does where no case is for it', () => {
    const applied = apply({ ...FILES, 'dues.ts': dues("    switch (kind) {\n      case Kind.Barge: console.log('b', tons); break\n      case Kind.Tug: console.log('t'); break\n      case Kind.Punt: break\n    }\n    return tons") }, ID)
    expect(textOf(applied, 'kind-due.ts')).toContain('export class PuntDue implements KindDue {\n  dueFor(tons: number): void {}\n}\n\nexport class OtherDue implements KindDue {\n  dueFor(tons: number): void {}\n}\n')
    expect(textOf(applied, 'dues.ts')).toContain('    this.dueBy(kind).dueFor(tons)\n    return tons\n')
  })

  test('a variable that some cases set is handed to each of them, and had back', () => {
    const applied = apply({ ...FILES, 'dues.ts': dues("    let due = 0\n    switch (kind) {\n      case Kind.Barge: due = tons; break\n      case Kind.Tug: break\n      case Kind.Punt:\n        due += 1\n        // Twice.\n        due += this.rate\n        break\n    }\n    return due") }, ID)
    expect(textOf(applied, 'dues.ts')).toContain('    let due = 0\n    due = this.dueBy(kind).dueFor(tons, this.rate, due)\n    return due\n')
    expect(textOf(applied, 'kind-due.ts')).toContain('export interface KindDue {\n  dueFor(tons: number, rate: number, due: number): number\n}')
    expect(textOf(applied, 'kind-due.ts')).toContain('export class TugDue implements KindDue {\n  dueFor(tons: number, rate: number, due: number): number {\n    return due\n  }\n}')
    expect(textOf(applied, 'kind-due.ts')).toContain('    due += 1\n    // Twice.\n    due += rate\n    return due\n  }\n')
    expect(textOf(applied, 'kind-due.ts')).toContain('export class OtherDue implements KindDue {\n  dueFor(tons: number, rate: number, due: number): number {\n    return due\n  }\n}')
  })

  test('a field that each case sets is set to what the class gives', () => {
    const body = (field: string) => `    switch (kind) {\n      case Kind.Barge: ${field} = tons; break\n      case Kind.Tug: ${field} = this.rate; break\n      case Kind.Punt: throw new Error('no')\n      default: ${field} = 0\n    }\n    return 1`
    const applied = apply({ ...FILES, 'dues.ts': dues(body('this.count')) }, ID)
    expect(textOf(applied, 'dues.ts')).toContain('    this.count = this.dueBy(kind).dueFor(tons, this.rate)\n    return 1\n')
    expect(textOf(applied, 'kind-due.ts')).toContain('    return rate;\n')
    // What may be another one by then is handed in, and set there.
    expect(textOf(apply({ ...FILES, 'dues.ts': dues(body('this.held.own'), '  held = { own: 1 }\n') }, ID), 'kind-due.ts')).toContain('    held().own = 0\n')
    expect(textOf(apply({ ...FILES, 'dues.ts': dues(body('this.held.own'), '  readonly held = { own: 1 }\n') }, ID), 'dues.ts')).toContain('    this.held.own = this.dueBy(kind)')
    expect(offered({ ...FILES, 'dues.ts': dues(body('this.held'), '  set held(n: number) { this.count = n }\n') })).toEqual([])
  })

  test('what a function gives that is waited for is given as it is, or as a promise', () => {
    const all = (first: string) => ({ ...FILES, 'office.ts': '', 'dues.ts': dues(`    switch (kind) {\n      case Kind.Barge: return ${first}\n      case Kind.Tug: return 0\n      default: return 1\n      case Kind.Punt: throw new Error('no')\n    }`).replace('dueFor(kind: Kind, tons: number): number', 'async dueFor(kind: Kind, tons: number): Promise<number>').replace('private count = 1', 'private async count(): Promise<number> { return 1 }') })
    expect(textOf(apply(all('tons * 2'), ID), 'kind-due.ts')!.match(/dueFor\(.*/g)![0]).toBe('dueFor(tons: number): number')
    expect(textOf(apply(all('tons * 2'), ID), 'dues.ts')).toContain('Promise<number> {\n    return this.dueBy(kind).dueFor(tons)\n  }')
    expect(textOf(apply(all('Promise.resolve(tons * 2)'), ID), 'kind-due.ts')!.match(/dueFor\(.*/g)![0]).toBe('dueFor(tons: number): number | Promise<number>')
  })

  test('so are several, as one object; what each case sets before it looks at it is its own', () => {
    const body = "    let left = tons, top: number\n    switch (kind) {\n      case Kind.Barge: top = 1; left += 2; break\n      case Kind.Tug: throw new Error('no')\n      case Kind.Punt: top = left; if (left > 3) break; left = 0; break\n      default: top = 4\n    }\n    return left + top"
    const applied = apply({ ...FILES, 'dues.ts': dues(body) }, ID)
    expect(textOf(applied, 'dues.ts')).toContain('    ;({ left, top } = this.dueBy(kind).dueFor(left))\n    return left + top\n')
    expect(textOf(applied, 'kind-due.ts')).toContain('  dueFor(left: number): { left: number; top: number } {\n    let top: number\n    top = 1; left += 2;\n    return { left, top }\n  }\n')
    expect(textOf(applied, 'kind-due.ts')).toContain("  dueFor(left: number): { left: number; top: number } {\n    throw new Error('no')\n  }\n")
    expect(textOf(applied, 'kind-due.ts')).toContain('    top = left; if (left > 3) return { left, top }; left = 0;\n    return { left, top }\n')
  })

  test('a function that may end without giving anything back gives nothing in any other case', () => {
    const applied = apply({ ...FILES, 'dues.ts': dues("    switch (kind) {\n      case Kind.Barge: return tons * 2\n      case Kind.Tug: return 0\n      case Kind.Punt: return 1\n    }").replace('tons: number): number', 'tons: number): number | undefined'), 'office.ts': '' }, ID)
    expect(textOf(applied, 'kind-due.ts')).toContain('export class OtherDue implements KindDue {\n  dueFor(tons: number): number | undefined {\n    return undefined\n  }\n}')
  })

  test.each([
    ['cases that run into each other', "switch (kind) { case Kind.Barge: tons++; case Kind.Tug: return tons; case Kind.Punt: return 2; default: return 3 }"],
    ['a case that leaves a loop around', 'for (;;) { switch (kind) { case Kind.Barge: continue; case Kind.Tug: return 1; case Kind.Punt: return 2; default: return 3 } }'],
    ['a break in the middle of a case', 'switch (kind) { case Kind.Barge: if (tons > 2) break; return 1; case Kind.Tug: return 1; case Kind.Punt: return 2; default: return 3 }\n    return 4'],
    ['a field that is set', 'switch (kind) { case Kind.Barge: this.count = 2; return 1; case Kind.Tug: return 1; case Kind.Punt: return 2; default: return 3 }'],
    ['variables that another function knows', 'let a = 0, b = 0\n    const told = () => a\n    switch (kind) { case Kind.Barge: a = 1; break; case Kind.Tug: b = 2; break; case Kind.Punt: a = 3; break }\n    return told() + b'],
    ['variables of which what fails would leave one set', 'let a = 0, b = 0\n    try { switch (kind) { case Kind.Barge: a = 1; b = Number(tons); break; case Kind.Tug: b = 2; break; case Kind.Punt: a = 3; break } } catch { return a }\n    return a + b'],
    ['some that give back and some that do not', 'switch (kind) { case Kind.Barge: return 1; case Kind.Tug: return 2; case Kind.Punt: console.log(1); break }\n    return 4'],
    ['a variable outside that a loop sets', 'let at = 0\n    switch (kind) { case Kind.Barge: for (at of [1, 2]) console.log(at); return 1; case Kind.Tug: return 1; case Kind.Punt: return 2; default: return at }'],
    ['a case that waits', 'const f = async () => { switch (kind) { case Kind.Barge: return await Promise.resolve(1); case Kind.Tug: return 2; case Kind.Punt: return 3; default: return 4 } }\n    void f()\n    return 1']
  ])('is not offered for %s', (_, body) => { expect(offered({ ...FILES, 'dues.ts': dues(`    ${body}`) })).toEqual([]) })

  test('each case is handed what its kind says that the whole is', () => {
    const shapes = "export interface Lock { kind: 'lock'; rise: number }\nexport interface Weir { kind: 'weir'; width: number; flow?: number }\nexport type Works = Lock | Weir | { kind: 'quay' } | { kind: 'ford' }\n"
    const area = (body: string) => `import type { Works } from './works'\n\nexport class Area {\n  of(works: Works, wide: number): number {\n${body}\n  }\n}\n`
    const files = { 'works.ts': shapes, 'area.ts': area("    switch (works.kind) {\n      case 'lock': return works.rise * wide\n      case 'weir': return works.flow === undefined ? works.width : works.flow\n      default: return works.kind.length\n      case 'quay': return 0\n    }") }
    const applied = apply(files, 'replace-type-switch:area.ts#Area')
    expect(textOf(applied, 'area.ts')).toContain('    return this.ofBy(works.kind).of(works, wide)\n')
    expect(textOf(applied, 'kind-of.ts')!.match(/^ *of\(.*$/gm)).toEqual(['  of(works: Works, wide: number): number', '  of(works: Lock, wide: number): number {', '  of(works: Weir, wide: number): number {', expect.stringContaining('  of(works: {'), expect.stringContaining('  of(works: {')])
    expect(textOf(applied, 'kind-of.ts')).toContain("import type { Lock, Weir, Works } from './works'")
    // Neither does what is worked out before know it, nor is a class of any use that only asks for that.
    const own = (first: string) => area(`    switch (works.kind) {\n      case 'lock': return ${first}\n      case 'weir': return this.wide(works)\n      default: return this.wide(works)\n      case 'quay': return this.wide(works)\n    }`).replace(/\}\n$/, '\n  wide(works: Works): number { return works.kind.length }\n}\n')
    expect(offered({ ...files, 'area.ts': own('works.rise') })).toEqual([])
    expect(offered({ ...files, 'area.ts': own('this.wide({ kind: "quay" })').replaceAll('this.wide(works)', 'this.wide({ kind: "ford" } as never)') })).toEqual([])
    // What is not called by a name of its own is not known to be the same in each case.
    expect(offered({ ...files, 'area.ts': area("    const held = { works }\n    switch (held.works.kind) {\n      case 'lock': return held.works.rise\n      case 'weir': return 1\n      default: return 2\n      case 'quay': return 0\n    }") })).toEqual([])
  })

  test('what the class works out with the kind is handed in', () => {
    const own = dues(`    switch (kind) {\n      case Kind.Barge: return this.rateOf(kind) * 2\n      case Kind.Tug: return 0\n      default: return this.rateOf(kind)\n    }`, '\n  private rateOf(kind: Kind): number { return kind.length * this.rate }\n')
    expect(offered({ ...FILES, 'dues.ts': own })).toEqual([])
    const three = own.replace('case Kind.Tug: return 0', 'case Kind.Tug: return 0\n      case Kind.Punt: return kind.length')
    const applied = apply({ ...FILES, 'dues.ts': three }, ID)
    expect(textOf(applied, 'dues.ts')).toContain('return this.dueBy(kind).dueFor(() => this.rateOf(kind), kind)')
    expect(textOf(applied, 'kind-due.ts')).toContain('kind: Kind.Punt)')
  })

  test('of several switches the first needs no key, and each of the others has its own', () => {
    const two = dues(`    const base = tons\n    switch (kind) { case Kind.Barge: return base; case Kind.Tug: return 0; case Kind.Punt: return 1; default: return 2 }`, `\n  word(kind: Kind): string {\n    switch (kind) { case Kind.Barge: return 'b'; case Kind.Tug: return 't'; case Kind.Punt: return 'p'; default: return '' }\n  }\n`)
    const both = offered({ ...FILES, 'dues.ts': two })
    expect(both).toEqual([ID, `${ID}:dueFor`])
    expect(textOf(apply({ ...FILES, 'dues.ts': two }, both[0]!), 'dues.ts')).toContain('return this.wordBy(kind).word()')
    expect(textOf(apply({ ...FILES, 'dues.ts': two }, both[1]!), 'dues.ts')).toContain('return this.dueBy(kind).dueFor(base)')
  })

  test('a break in the middle of what only runs ends its method', () => {
    const applied = apply({ ...FILES, 'dues.ts': dues("    switch (kind) {\n      case Kind.Barge:\n        for (;;) { break }\n        if (tons > 2) break\n        console.log(tons)\n        break\n      case Kind.Tug: break\n      case Kind.Punt: console.log(1); break\n    }\n    return tons") }, ID)
    expect(textOf(applied, 'kind-due.ts')).toContain('    for (;;) { break }\n    if (tons > 2) return\n    console.log(tons)\n')
  })

  test('a static method and a function call what chooses by its name', () => {
    const still = apply({ ...FILES, 'dues.ts': FILES['dues.ts']!.replace('  dueFor', '  static dueFor').replaceAll('this.rate', '2'), 'office.ts': '' }, ID)
    expect(textOf(still, 'dues.ts')).toContain('  static dueFor(kind: Kind, tons: number): number {\n    return dueByKind(kind).dueFor(tons)\n  }')
    expect(textOf(still, 'dues.ts')).toContain('  constructor(private readonly rate: number) {}\n')
    const body = RETURNED.replaceAll('this.rate', 'rate').replaceAll('\n    ', '\n  ').trimStart()
    const files = { 'kind.ts': KIND, 'dues.ts': `import { Kind } from './kind'\n\nexport const dueFor = (kind: Kind, rate: number, tons: number): number => {\n  ${body}\n}\n\nexport function both(kind: Kind): string {\n  return [1, 2].map(one => {\n    switch (kind) {\n      case Kind.Tug: return 't' + one\n      case Kind.Barge: return 'b'\n      case Kind.Punt: return 'p'\n    }\n    return 'x'\n  }).join()\n}\n` }
    expect(offered(files)).toEqual(['replace-type-switch:dues.ts#', 'replace-type-switch:dues.ts#:both'])
    const first = apply(files, 'replace-type-switch:dues.ts#')
    expect(textOf(first, 'dues.ts')).toContain('export const dueFor = (kind: Kind, rate: number, tons: number): number => {\n  return dueByKind(kind).dueFor(rate, tons)\n}')
    expect(textOf(first, 'dues.ts')).toContain("import { dueByKind } from './kind-due'")
    expect(textOf(first, 'kind-due.ts')).toContain('/** What dueFor does for one Kind. */')
    expect(textOf(apply(files, 'replace-type-switch:dues.ts#:both'), 'dues.ts')).toContain('map(one => {\n    return bothByKind(kind).both(one)\n  })')
  })

  test('is not offered in a function that could be called before its file is loaded', () => {
    const works = (before: string) => `import { Kind } from './kind'\n${before}export function word(kind: Kind): string {\n  switch (kind) {\n    case Kind.Barge: return 'b'\n    case Kind.Tug: return 't'\n    case Kind.Punt: return 'p'\n    default: return named()\n  }\n}\nfunction named(): string { return 'n' }\n`
    const files = (before: string, more: Files = {}): Files => ({ 'kind.ts': KIND, 'words.ts': works(before), ...more })
    expect(offered(files('class Plain { rate = named() }\nexport const plain = Plain\n'))).toEqual(['replace-type-switch:words.ts#'])
    expect(offered(files('export const first = word(Kind.Tug)\n'))).toEqual([])
    expect(offered(files('export class Rate { static of = named() }\n'))).toEqual([])
    expect(offered(files('export function word(kind: Kind.Tug): string\nexport function word(kind: Kind): string\n'))).toEqual([])
    const circle = { 'other.ts': "import { word } from './words'\nimport { Kind } from './kind'\nexport const other = () => word(Kind.Tug)\n" }
    expect(offered(files("import { other } from './other'\nexport const again = () => other()\n", circle))).toEqual([])
    // What its file alone can name stands there with it.
    const within = apply(files(''), 'replace-type-switch:words.ts#')
    expect(Object.keys(within)).toEqual(['words.ts'])
    expect(textOf(within, 'words.ts')).toContain('export class OtherWord implements KindWord {\n  word(): string {\n    return named()\n  }\n}\n')
  })

  test('types that a class or a function leaves open are left open by each method', () => {
    const held = `import { Kind } from './kind'\n\nexport class Held<Craft extends Hull, Other> {\n  constructor(private readonly craft: Craft, readonly other: Other) {}\n\n  pick<Key extends keyof Craft>(kind: Kind, key: Key): Craft[Key] | null {\n    switch (kind) {\n      case Kind.Barge: return this.craft[key]\n      case Kind.Tug: return null\n      case Kind.Punt: { const found = { ...this.craft } as Craft; return found[key] }\n      default: return null\n    }\n  }\n}\n\nexport interface Hull { length: number }\n`
    const applied = apply({ 'kind.ts': KIND, 'held.ts': held }, 'replace-type-switch:held.ts#Held')
    expect(textOf(applied, 'held.ts')).toContain('  pick<Craft extends Hull, Key extends keyof Craft>(craft: Craft, key: Key): Craft[Key] | null\n')
    expect(textOf(applied, 'held.ts')).toContain('return this.pickBy(kind).pick<Craft, Key>(this.craft, key)')
  })

  test('what is set in an object that is handed in is set there', () => {
    const body = "    const craft = { berth: 1, tons }\n    switch (kind) {\n      case Kind.Barge: craft.berth = 2; break\n      case Kind.Tug: delete (craft as { tons?: number }).tons; break\n      case Kind.Punt: craft.berth += this.count; break\n      default: craft.tons++\n    }\n    return craft.berth"
    const applied = apply({ ...FILES, 'dues.ts': dues(body) }, ID)
    expect(textOf(applied, 'kind-due.ts')).toContain('dueFor(craft: { berth: number; tons: number; }, count: () => number): void {\n    craft.berth = 2;\n')
    expect(textOf(applied, 'kind-due.ts')).toContain('craft.berth += count();\n')
    expect(textOf(applied, 'dues.ts')).toContain('this.dueBy(kind).dueFor(craft, () => this.count)\n    return craft.berth\n')
  })

  test('is not offered in classes that a framework builds, but in their static methods', () => {
    const built = (text: string) => text.replace('export class', 'declare function Built(it: unknown, context: unknown): void\n@Built\nexport class')
    expect(offered(FILES)).toEqual([ID])
    expect(offered({ ...FILES, 'dues.ts': built(FILES['dues.ts']!), 'office.ts': '' })).toEqual([])
    expect(offered({ ...FILES, 'dues.ts': built(FILES['dues.ts']!.replace('  dueFor', '  static dueFor').replaceAll('this.rate', '2')), 'office.ts': '' })).toEqual([ID])
  })

  test('stands in the file of the class where that declares what the cases need, so that no two files need each other', () => {
    const own = dues(RETURNED).replace("import { Kind } from './kind'\n\n", '').replace('export class', 'class')
    const applied = apply({ 'dues.ts': `${KIND}const KNOWN = 3\nexport const known = KNOWN\n\n${own}` }, ID)
    expect(Object.keys(applied)).toEqual(['dues.ts'])
    expect(textOf(applied, 'dues.ts')).toContain(`export const known = KNOWN

/** What Dues.dueFor does for one Kind. */
interface KindDue {
  dueFor(rate: number, tons: number): number
}

class BargeDue implements KindDue {
`)
    expect(textOf(applied, 'dues.ts')).toContain('const KNOWN2: ReadonlyMap<Kind, KindDue> = new Map<Kind, KindDue>([\n  [Kind.Barge, new BargeDue()],\n')
    expect(textOf(applied, 'dues.ts')).toContain('  return KNOWN2.get(kind) ?? OTHER\n}\n\n/** What is owed. */\nclass Dues {\n')
    expect(apply({ 'dues.ts': `${own}${KIND}` }, ID)).toMatchObject({ reason: 'order' })
  })

  test('is refused where its name is taken', () => {
    expect(apply({ ...FILES, 'kind-due.ts': 'export const a = 1\n' }, ID)).toMatchObject({ reason: 'file-exists' })
    expect(apply(FILES, ID, { name: 'a b' })).toMatchObject({ reason: 'name' })
    expect(apply(FILES, `${ID}:other`)).toMatchObject({ reason: 'switch' })
  })

  test('says how many places another kind touches, before and after', () => {
    const { survey, writer } = readProject({ ...FILES, 'other.ts': "import { Kind } from './kind'\nexport function word(kind: Kind): string { switch (kind) { case Kind.Barge: return 'b'; case Kind.Tug: return 't'; case Kind.Punt: return 'p'; default: return '' } }\n" })
    const outcome = planStep(ID, {}, survey, writer)
    expect(outcome.refused ? outcome.message : outcome.notes[0]).toBe('Another Kind touches 2 places now; then a class of its own and the line that chooses it, and the 1 other place as before.')
  })

  test('what runs, how often and in which order stays, over random switches', () => {
    const draw = seededRandom(20261130), upTo = (count: number) => Math.floor(draw() * count)
    const refusals: string[] = []
    let applied = 0
    for (let round = 0; round < 50; round++) {
      const files = program(upTo)
      const outcome = readProject(files).writer.replaceTypeSwitch({ type: 'p.ts#P', place: 'run', name: null, withDefault: round % 3 !== 0 })
      if (outcome.refused) { refusals.push(outcome.message + files['p.ts']!); continue }
      applied++
      expect({ round, log: toldBy({ ...files, ...Object.fromEntries(outcome.changes.map(change => [change.path, change.after!])) }) }).toEqual({ round, log: toldBy(files) })
    }
    expect({ refusals, isEnough: applied >= 30 }).toEqual({ refusals, isEnough: true })
  })

  test('so it does in functions whose kinds tell what the whole is, and that set what they are handed', () => {
    const draw = seededRandom(20261131), upTo = (count: number) => Math.floor(draw() * count)
    const refusals: string[] = []
    let applied = 0
    for (let round = 0; round < 40; round++) {
      const { files, type } = unionProgram(upTo)
      const { writer } = readProject(files), [place] = writer.typeSwitches(type)
      const outcome = place ? writer.replaceTypeSwitch({ type, place: place.key, name: null, withDefault: true }) : undefined
      if (!outcome || outcome.refused) { refusals.push(`${outcome?.message ?? 'not offered'}${files['p.ts']!}`); continue }
      applied++
      expect({ round, log: toldBy({ ...files, ...Object.fromEntries(outcome.changes.map(change => [change.path, change.after!])) }) }).toEqual({ round, log: toldBy(files) })
    }
    expect({ refusals, isEnough: applied >= 36 }).toEqual({ refusals, isEnough: true })
  })
})

/** A function, a function held by a name, a static method or one inside of a method, which chooses by what a thing says that it is. */
function unionProgram(upTo: (count: number) => number): { files: Files; type: string } {
  const own = ['works.rise', 'works.width', 'works.length', 'works.depth']
  const value = (at: number) => [own[at]!, `tick(${own[at]!})`, 'total.sum', 'helper(n)', 'n + base', `weigh(works)`, 'total.list.length'][upTo(7)]!
  const act = (at: number) => [`total.sum += ${value(at)}`, `total.list[${upTo(3)}] = ${value(at)}`, `total.last = { by: ${value(at)} }`, `tick(${value(at)})`, `${own[at]!}++`, `delete total.last`, `if (${value(at)} > 3) total.sum = ${value(at)}`][upTo(7)]!
  const mode = upTo(3), home = upTo(4)
  const end = (at: number) => (upTo(7) === 0 ? `throw new Error('e' + ${value(at)})` : mode === 0 ? `return ${value(at)}` : mode === 1 ? `out = ${value(at)}; break` : 'break')
  const clauses = ['lock', 'weir', 'quay', 'ford'].map((kind, at) => `    case '${kind}': ${Array.from({ length: upTo(3) }, () => `${act(at)}; `).join('')}${end(at)}\n`)
  if (upTo(2) === 0) clauses[3] = clauses[3]!.replace("case 'ford'", 'default')
  const body = `{\n  const base = tick(n)\n${mode === 1 ? '  let out: number\n' : ''}  switch (works.kind) {\n${clauses.join('')}  }\n${mode === 0 ? '' : `  return ${mode === 1 ? 'out' : 'base'}\n`}}`
  const signature = '(works: Works, total: Total, n: number): number'
  const code = [`export function run${signature} ${body}`, `export const run = ${signature} => ${body}`, `export class P { static run${signature} ${body} }\nexport const run = P.run`, `export class P { all${signature} { const each = (n: number): number => ${body}\n  return each(n) + each(n + 1) } }\nexport const run = (works: Works, total: Total, n: number) => new P().all(works, total, n)`][home]!
  return {
    type: home < 2 ? 'p.ts#' : 'p.ts#P',
    files: {
      'log.ts': 'export const log: string[] = []\nexport function tick(n: number): number { log.push(`tick${n}`); return n }\n',
      'works.ts': "import { log } from './log'\nexport interface Lock { kind: 'lock'; rise: number }\nexport interface Weir { kind: 'weir'; width: number }\nexport type Works = Lock | Weir | { kind: 'quay'; length: number } | { kind: 'ford'; depth: number }\nexport class Total { private held = 1\n  list: number[] = []\n  last?: { by: number }\n  get sum(): number { log.push('get'); return this.held }\n  set sum(n: number) { log.push(`set${n}`); this.held = n } }\nexport function weigh(works: Works): number { return works.kind.length }\n",
      'p.ts': `import { tick } from './log'\nimport { Total, weigh } from './works'\nimport type { Works } from './works'\n\n${upTo(2) === 0 ? '' : 'export '}function helper(n: number): number { return tick(n * 2) }\n\n${code}\n`,
      'main.ts': "import { log } from './log'\nimport { run } from './p'\nimport { Total } from './works'\nimport type { Works } from './works'\nconst works = (n: number): Works[] => [{ kind: 'lock', rise: n }, { kind: 'weir', width: n + 1 }, { kind: 'quay', length: n + 2 }, { kind: 'ford', depth: n + 3 }]\nfor (const n of [1, 4]) for (const one of works(n)) { const total = new Total(); try { log.push('= ' + run(one, total, n)) } catch (error) { log.push('! ' + (error as Error).message) } log.push(JSON.stringify([one, total])) }\nexport const told = log.join(' ')\n"
    }
  }
}

/** A class whose method chooses among kinds, and a program that asks it for each of them, and for none. */
function program(upTo: (count: number) => number): Files {
  const value = (): string => ['1', 'n', `tick(${upTo(9)})`, 'this.count', 'this.next()', 'this.a.size()', 'n + this.a.size()', '`${n}`.length', 'n > 2 ? tick(n) : this.count', 'base * 2', mode === 3 ? 'left' : 'n', mode === 3 ? 'tick(top)' : 'n'][upTo(12)]!
  const mode = upTo(5), hasDefault = upTo(3) > 0
  const call = () => [`this.a.add(${value()})`, `tick(${value()})`, `if (${value()} > 2) this.a.add(${value()})`, `for (const one of [1, 2, 3]) { if (one > n) break; tick(one) }`, mode === 2 || mode === 3 ? `if (${value()} > 3) break` : 'tick(0)', ...(mode === 3 ? [`left = ${value()}`, `left += ${value()}`, '[left, top] = [top, n]', 'if (n > 2) top++'] : [])][upTo(mode === 3 ? 9 : 5)]!
  const end = () => (upTo(6) === 0 ? `throw new Error('e' + ${value()})` : mode === 0 ? (upTo(3) === 0 ? `if (${value()} > 3) return ${value()}; return ${value()}` : `return ${value()}`) : mode === 1 || mode === 4 ? `${mode === 4 ? 'this.count' : 'out'} = ${value()}; break` : 'break')
  const labels = ['A', 'B', 'C', 'D', 'E'].slice(0, 3 + upTo(3))
  const clauses = labels.map((label, at) => `      case Kind.${label}:${upTo(4) === 0 && at < labels.length - 1 ? '' : ` ${Array.from({ length: upTo(3) }, () => `{ ${call()} }`).join(' ')} ${end()}`}\n`)
  const other = hasDefault || mode === 1 || mode === 4 ? `      default: ${end()}\n` : ''
  const after = mode === 0 && !hasDefault ? `    tick(77)\n    return base\n` : mode === 0 ? '' : `    tick(88)\n    return ${mode === 1 ? 'out' : mode === 3 ? 'left * 100 + top' : 'base'}\n`
  return {
    'log.ts': 'export const log: string[] = []\nexport function tick(n: number): number { log.push(`tick${n}`); return n }\n',
    'kind.ts': 'export enum Kind { A = 1, B, C, D, E, F }\n',
    'a.ts': "import { log } from './log'\nexport class A { private sum = 0\n  add(n: number): void { log.push(`a${n}`); this.sum += n }\n  size(): number { return this.sum } }\n",
    'p.ts': `import { A } from './a'\nimport { Kind } from './kind'\nimport { log, tick } from './log'\n\nexport class P {\n  private count = 1\n  constructor(private readonly a: A) {}\n  next(): number { this.count += 1; log.push('next' + this.count); return tick(this.count) }\n  run(kind: Kind, n: number): number {\n    const base = tick(n)\n${mode === 1 ? '    let out: number\n' : mode === 3 ? `    let left = 3, top: number = base\n` : ''}    switch (kind) {\n${clauses.join('')}${other}    }\n${after}  }\n}\n`,
    'main.ts': "import { A } from './a'\nimport { Kind } from './kind'\nimport { log } from './log'\nimport { P } from './p'\nconst p = new P(new A())\nfor (const n of [1, 3, 5]) for (const kind of [Kind.A, Kind.B, Kind.C, Kind.D, Kind.E, Kind.F]) { try { log.push('= ' + p.run(kind, n)) } catch (error) { log.push('! ' + (error as Error).message) } }\nexport const told = log.join(' ')\n"
  }
}

test('a default that is reached by no value of the type keeps being told of, and the compiler still asks for a class for each', () => {
  const files = {
    'works.ts': "export enum Works { Quay, Ford, Lock }\nexport function unknown(works: never): never { throw new Error(`no ${String(works)}`) }\n",
    'due.ts': "import { unknown, Works } from './works'\nexport function due(works: Works, tons: number): number {\n  switch (works) {\n    case Works.Quay: return tons * 2\n    case Works.Ford:\n    case Works.Lock: return tons + works\n    default: return unknown(works)\n  }\n}\n",
    'main.ts': "import { due } from './due'\nimport { Works } from './works'\nlet failed = ''\ntry { due(7 as Works, 1) } catch (error) { failed = (error as Error).message }\nexport const told = `${due(Works.Quay, 3)} ${due(Works.Ford, 3)} ${due(Works.Lock, 3)} ${failed}`\n"
  }
  const applied = { ...files, ...apply(files, 'replace-type-switch:due.ts#') as Record<string, string> }, written = Object.values(applied).find(text => text.includes('Record<'))!
  expect(written).toContain('(tons: number, works: never): number {\n    return unknown(works)')
  expect(written).toMatch(/Readonly<Record<Works, \w+>> = \{\n {2}\[Works\.Quay\]: new Quay\w+\(\),/)
  expect(written).toContain('return KNOWN[kind] ?? OTHER')
  expect(toldBy(applied)).toBe(toldBy(files))
  // One more kind is an error where its class is missing.
  const more = { ...applied, 'works.ts': files['works.ts'].replace('Lock }', 'Lock, Weir }') }
  expect(readProject(more).snapshot.program.getSemanticDiagnostics().map(({ messageText }) => (typeof messageText === 'string' ? messageText : messageText.messageText))).toEqual([expect.stringContaining('[Works.Weir]')])
})
