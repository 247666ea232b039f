import { seenFrom } from '@hollowmoor/core/read/typescript/write/module-specifiers'
import { apply } from './applying.js'
import type { Files } from './project.js'

const NODE = { 'tsconfig.json': '{"compilerOptions":{"strict":true,"target":"ES2022","module":"ESNext","moduleResolution":"Bundler","types":["node"],"lib":["ES2022"]}}', 'node_modules/@types/node/package.json': '{"name":"@types/node","types":"index.d.ts"}', 'node_modules/@types/node/index.d.ts': "declare module 'node:fs' { export function readFileSync(path: string, encoding: 'utf8'): string; export function writeFileSync(path: string, text: string): void }" }

describe('statements that go name what they name', () => {
  const RATES = 'export function due(tons: number): number { return tons * 2 }\nexport default class Scale { constructor(readonly tons: number) {} }\n'
  const OFFICE = `import { readFileSync, writeFileSync } from 'node:fs'
import Balance, * as rates from './rates'

export class Office {
  private paid = 0

  total(): number { return this.paid }

  keep(path: string, tons: number): void {
    this.paid++
    const old = readFileSync(path, 'utf8')
    const scale = new Balance(tons)
    writeFileSync(path, old + rates.due(scale.tons))
    this.paid += tons
  }
}
`

  test('by all of a file under a name, and by what it exports by default', () => {
    const applied = apply({ 'office.ts': OFFICE, 'rates.ts': RATES, ...NODE }, 'extract-class:office.ts#Office:file-system@keep') as Files
    expect(applied['office-files.ts']).toContain("import * as rates from './rates'\n")
    expect(applied['office-files.ts']).toContain("import Balance from './rates'\n")
    expect(applied['office-files.ts']).toContain('    const scale = new Balance(tons)\n    writeFileSync(path, old + rates.due(scale.tons))\n')
    // Nothing there needs them any more.
    expect(applied['office.ts']).not.toContain('./rates')
  })
})

describe('a specifier as seen from elsewhere', () => {
  test.each([
    ['./rates', 'a/office.ts', 'b/office.ts', '../a/rates'], ['../a/rates.js', 'b/office.ts', 'a/office.ts', './rates.js'], ['..', 'a/office.ts', 'office.ts', './index'], ['../a', 'b/office.ts', 'a/desk.ts', './index'],
    ['../a', 'b/office.ts', 'a/c/desk.ts', '..'], ['../a', 'b/office.ts', 'desk.ts', './a'], ['pkg/a', 'b/office.ts', 'a/desk.ts', 'pkg/a']
  ])('%s of %s is in %s %s', (specifier, from, to, expected) => { expect(seenFrom(specifier, from, to)).toBe(expected) })
})

test('an object at hand whose class implements an interface is handed in as that', () => {
  const files = {
    'clerk.ts': 'export interface Counter { add(n: number): number }\nexport class Base { add(n: number): number { return n } }\nexport class Clerk extends Base implements Counter { total(): number { return 1 } }\n',
    'shared.ts': "import { Clerk } from './clerk'\nexport const shared = new Clerk()\n", 'desk.ts': "import { shared } from './shared'\nexport class Desk { work(): number { return shared.add(2) } }\nexport const desk = new Desk()\n"
  }
  const applied = apply(files, 'inject:desk.ts#Desk:shared.ts#shared') as Files
  expect(applied['desk.ts']).toContain('constructor(private readonly shared: Counter) {}')
  expect(applied['desk.ts']).toContain('export const desk = new Desk(shared)\n')
})
