import { apply } from './applying.js'
import type { Files } from './project.js'

const CONFIG = (more = '') => ({ 'tsconfig.json': `{"compilerOptions":{"strict":true,"target":"es2022","module":"esnext","moduleResolution":"bundler","esModuleInterop":true,"types":[]${more}}}` })

/** What a desk speaks of is had by default, under one name, or is what its own file exports by default. */
const FILES: Files = {
  'node_modules/kit/package.json': '{ "name": "kit", "types": "index.d.ts" }',
  'node_modules/kit/index.d.ts': 'declare class Kit { readonly size: number }\ndeclare namespace Kit { interface Part { name: string } }\nexport default Kit\n',
  'node_modules/rules/package.json': '{ "name": "rules", "types": "index.d.ts" }', 'node_modules/rules/index.d.ts': 'export interface Rule { text: string }\n',
  'src/boat.ts': 'class Boat { tons = 1 }\n\nexport default Boat\n', 'src/rates.ts': 'export interface Rate { each: number }\n',
  'src/desk.ts': `import Kit from 'kit'
import * as rules from 'rules'
import Ship from './boat'
import * as rates from './rates'

class Desk {
  constructor(private readonly rate: rates.Rate) {}
  admit(ship: Ship, kit: Kit): Kit.Part { return { name: \`\${ship.tons} \${kit.size} \${this.rate.each}\` } }
  rule(rate: rates.Rate): rules.Rule { return { text: \`\${rate.each}\` } }
  other(): Desk { return new Desk(this.rate) }
}

export default Desk
`,
  'src/use.ts': "import Desk from './desk'\nexport const use = (desk: Desk) => desk.rule({ each: 1 }).text\n"
}
const text = (applied: ReturnType<typeof apply>, path: string) => (applied as Record<string, string>)[path] ?? JSON.stringify(applied)

test('an interface in a file of its own imports them in the same way', () => {
  const applied = apply({ ...FILES, ...CONFIG() }, 'extract-interface:src/desk.ts#Desk')
  expect(text(applied, 'src/desk-port.ts').split('\n')).toEqual([
    "import Ship from './boat';", "import * as rates from './rates';", "import Kit from 'kit';", "import * as rules from 'rules';", '',
    'export interface DeskPort {', '  admit(ship: Ship, kit: Kit): Kit.Part;', '  rule(rate: rates.Rate): rules.Rule;', '  other(): DeskPort;', '}', ''
  ].map(line => (text(applied, 'src/desk.ts').includes(';') ? line : line.replace(/;$/, ''))))
  expect(text(applied, 'src/use.ts')).toContain('(desk: DeskPort) => desk.rule')
})

test('as types alone, where the project says so', () => {
  const applied = apply({ ...FILES, ...CONFIG(',"verbatimModuleSyntax":true') }, 'extract-interface:src/desk.ts#Desk')
  expect(text(applied, 'src/desk-port.ts').match(/^import .* from/gm)).toEqual(['import type Ship from', 'import type * as rates from', 'import type Kit from', 'import type * as rules from'])
})

test('what is built is imported by its own name where nothing else has it by default yet', () => {
  const files: Files = {
    ...CONFIG(), 'src/engine.ts': 'export default class Engine { power(): number { return 3 } }\n',
    'src/boat.ts': "import Motor from './engine'\n\nexport class Boat {\n  private readonly motor = new Motor()\n  power(): number { return this.motor.power() }\n}\n",
    'src/yard.ts': "import { Boat } from './boat'\nexport const launch = () => new Boat()\n"
  }
  const applied = apply(files, 'inject:src/boat.ts#Boat:src/engine.ts#Engine@motor', { default: 'no' })
  expect(text(applied, 'src/yard.ts')).toMatch(/import Engine from '.\/engine';?\n[^]*new Boat\(new Engine\(\)\)/)
})
