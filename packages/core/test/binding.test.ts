import { brokenBinding } from '@hollowmoor/core/read/typescript/write/check'
import type { Files } from './project.js'
import { readProject } from './project.js'

/** Tells what is broken after replacing a piece of one file by another. */
function after(files: Files, path: string, old: string, fresh: string, planned: Parameters<typeof brokenBinding>[3] = []): string | null {
  const { session, snapshot } = readProject(files)
  const start = files[path]!.indexOf(old)
  const text = files[path]!.replace(old, fresh)
  const changed = session.edit(snapshot, new Map([[`/hm-test/${path}`, text]]))
  return brokenBinding(snapshot, changed, new Map([[path, [{ start, end: start + old.length, text: fresh }]]]), planned)?.message ?? null
}

const files = {
  'a.ts': 'export class A { run() {} }\nexport class B { run() {} }\n',
  'use.ts': 'import { A } from "./a"\nexport function f(one: A) {\n  one.run()\n}\n'
}

describe('binding is', () => {
  test('kept where nothing that was bound changes', () => {
    expect(after(files, 'use.ts', 'export function', '// a word\nexport function')).toBeNull()
    expect(after(files, 'a.ts', 'run() {} }\nexport', 'run() { this.toString() } }\nexport')).toBeNull()
  })

  test('broken where a name means something else', () => {
    expect(after(files, 'use.ts', '{ A }', '{ B as A }')).toBe('use.ts:2: a name that meant a.ts#A would mean a.ts#B')
  })

  test('kept where the plan says so', () => {
    expect(after(files, 'use.ts', '{ A }', '{ B as A }', [{ types: new Set(['a.ts#A']), to: 'a.ts#B' }])).toBeNull()
  })

  test('broken where a new local captures a name', () => {
    const capturing = { ...files, 'use.ts': 'import { A } from "./a"\nexport function f() {\n  return new A()\n}\n' }
    expect(after(capturing, 'use.ts', '() {', '(A: any) {')).toBe('use.ts:3: a name that meant a.ts#A would mean nothing')
  })

  test('broken where something is not understood any more', () => {
    expect(after(files, 'a.ts', 'class A { run', 'class A { go')).toMatch(/^use\.ts:3: a name that meant a\.ts#A\.run would mean nothing/)
  })
})

test('what several libraries have is told by the same one, in whatever order the compiler looks at it', () => {
  const library = (name: string) => `export declare class ${name} { private readonly own${name}: string; once(): void }\n`
  const libraries = { 'node_modules/alpha/index.d.ts': library('Alpha'), 'node_modules/beta/index.d.ts': library('Beta'), 'node_modules/alpha/package.json': '{ "name": "alpha", "types": "index.d.ts" }', 'node_modules/beta/package.json': '{ "name": "beta", "types": "index.d.ts" }' }
  for (const seenFirst of ['alpha', 'beta']) {
    const name = seenFirst.charAt(0).toUpperCase() + seenFirst.slice(1)
    const { snapshot } = readProject({ ...libraries, 'a.ts': `import { ${name} } from '${seenFirst}'\nexport const a = (one: ${name}) => one.once()\n`, 'b.ts': "import { Alpha } from 'alpha'\nimport { Beta } from 'beta'\nexport const b = (one: Beta | Alpha) => one.once()\n" })
    expect([seenFirst, snapshot.facts.files.find(file => file.path === 'b.ts')!.references.filter(one => one.member === 'once').map(one => one.to)]).toEqual([seenFirst, ['alpha']])
  }
})
