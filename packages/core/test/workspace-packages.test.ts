import { planStep } from '@hollowmoor/core/remedy/catalogue'
import { apply } from './applying.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

const CONFIG = JSON.stringify({ compilerOptions: { strict: true, module: 'ESNext', moduleResolution: 'Bundler', target: 'ES2022', types: [], rootDir: 'lib', outDir: 'dist' } })

/** Two packages: nothing of the second names `boat.ts` of the first, where what it works with is declared. */
function workspace(exports: string, dependencies = '{"fleet":"1"}'): Files {
  return {
    'package.json': '{"name":"whole","workspaces":["packages/*"]}',
    'packages/fleet/package.json': `{"name":"fleet","exports":${exports}}`, 'packages/fleet/tsconfig.json': CONFIG,
    'packages/fleet/lib/boat.ts': 'export interface Boat { tons: number }\nexport class Fleet { boats: Boat[] = []\n  largest(): Boat | undefined { return this.boats[0] } }\n',
    'packages/fleet/lib/index.ts': "export { Fleet, type Boat } from './boat'\n",
    'packages/fleet/lib/all.ts': "export { Fleet } from './boat'\n",
    'packages/desk/package.json': `{"name":"desk","dependencies":${dependencies}}`, 'packages/desk/tsconfig.json': CONFIG,
    'packages/desk/lib/desk.ts': "import { Fleet } from 'fleet'\n\nexport class Desk {\n  constructor(private readonly fleet: Fleet) {}\n  first() { return this.fleet.largest() }\n}\nexport const use = (desk: Desk) => desk.first()\n"
  }
}

const port = (applied: ReturnType<typeof apply>) => (applied as Record<string, string>)['packages/desk/lib/desk-port.ts'] ?? applied

test.each([
  ['by its entry', '"./dist/index.js"', 'fleet'],
  ['by one of its paths', '{".":"./dist/all.js","./whole":"./dist/index.js"}', 'fleet/whole'],
  ['by a pattern', '{".":"./dist/all.js","./*":"./dist/*.js"}', 'fleet/boat']
])('a type of another package is imported as that shows it: %s', (_, exports, specifier) => {
  const files = workspace(exports), id = 'extract-interface:packages/desk/lib/desk.ts#Desk'
  expect(port(apply(files, id))).toBe(`import { Boat } from '${specifier}'\n\nexport interface DeskPort {\n  first(): Boat | undefined\n}\n`)
})

test.each([
  ['what a package does not show', '{".":"./dist/all.js"}', undefined],
  ['a package that is not depended on', '"./dist/index.js"', '{}']
])('refuses %s', (_, exports, dependencies) => {
  expect(apply(workspace(exports, dependencies), 'extract-interface:packages/desk/lib/desk.ts#Desk')).toMatchObject({ reason: 'import' })
})

test('uses in another package stay where that could not import the interface, and it is said', () => {
  const files = workspace('"./dist/index.js"'), { survey, writer } = readProject(files)
  const step = planStep('extract-interface:packages/fleet/lib/boat.ts#Fleet', {}, survey, writer)
  expect(!step.refused && [step.changes.map(one => one.path), step.notes]).toEqual([['packages/fleet/lib/boat.ts', 'packages/fleet/lib/fleet-port.ts'], [expect.any(String), '1 in other packages of the workspace stays: they could not import it.']])
})
