import ts from 'typescript'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { TypeScriptSession } from '@hollowmoor/core/read/typescript/session'
import { errorsToCompiler, newErrors } from '@hollowmoor/core/read/typescript/write/check'
import { LIBRARY_FOLDER } from '@hollowmoor/host/project-folder'
import { sourceOf } from './project.js'

const ROOT = '/hm-test'
const FILES = { 'a.ts': 'export const one: number = 1\nexport const wrong: string = 2\n', 'b.ts': "import { one } from './a'\nexport const two: number = one + 1\n" }

/** Errors of a changed state that the compiler finds too, as `file code`. */
function found(texts: Readonly<Record<string, string>>): string[] {
  const session = new TypeScriptSession(ROOT, DEFAULT_SETTINGS, LIBRARY_FOLDER)
  const before = session.read(sourceOf(FILES)), after = session.edit(before, new Map(Object.entries(texts).map(([path, text]) => [`${ROOT}/${path}`, text])))
  return errorsToCompiler(newErrors(before, after, ROOT, after.sources), before, after, session).map(error => `${error.file!.fileName.slice(ROOT.length + 1)} ${error.code}`)
}

test.each<[string, Record<string, string>, string[]]>([
  ['nothing', { 'a.ts': `// Moved.\n${FILES['a.ts']}` }, []],
  ['a type that does not fit', { 'a.ts': FILES['a.ts'].replace('one: number = 1', "one: string = 'x'") }, ['b.ts 2322']],
  ['one more of a kind that was there', { 'a.ts': `${FILES['a.ts']}export const more: string = 3\n` }, ['a.ts 2322']],
  ['text that is no code', { 'b.ts': `${FILES['b.ts']}export const three = (1 + \n` }, ['b.ts 1109', 'b.ts 1005']],
  ['a file that is new', { 'c.ts': 'export const four: string = 4\n' }, ['c.ts 2322']]
])('%s', (_, texts, errors) => {
  expect(found(texts)).toEqual(errors)
})

test('an error that only another order of looking shows is none', () => {
  const session = new TypeScriptSession(ROOT, DEFAULT_SETTINGS, LIBRARY_FOLDER)
  const before = session.read(sourceOf(FILES)), after = session.edit(before, new Map([[`${ROOT}/b.ts`, `${FILES['b.ts']}// More.\n`]]))
  // As if it had been found in this order: the compiler finds it before and after alike.
  const [known] = after.program.getSemanticDiagnostics(after.program.getSourceFile(`${ROOT}/a.ts`))
  expect(known).toMatchObject({ code: 2322 })
  expect(errorsToCompiler([known!], before, after, session)).toEqual([])
})

describe('an error that speaks of a union', () => {
  const kinds = Array.from({ length: 12 }, (_, at) => `Kind${String.fromCharCode(65 + at)}`)
  const declared = (names: readonly string[]) => names.map(name => `export interface ${name} { own${name}: number }\n`).join('')
  const wrongAbout = (names: readonly string[]) => `import type { ${names.join(', ')} } from './kinds'\ndeclare const one: ${names.join(' | ')}\nexport const none = one.missing\n`

  /** The errors of a use of a union before and after another file has spoken of its last member first. */
  function errorsOf(names: readonly string[], after = names): { before: string[]; after: string[]; fresh: string[] } {
    const session = new TypeScriptSession(ROOT, DEFAULT_SETTINGS, LIBRARY_FOLDER)
    const old = session.read(sourceOf({ 'a-first.ts': 'export const nothing = 1\n', 'kinds.ts': declared(kinds), 'use.ts': wrongAbout(names) }))
    const told = (snapshot: typeof old) => snapshot.program.getSemanticDiagnostics(snapshot.program.getSourceFile(`${ROOT}/use.ts`)).map(error => ts.flattenDiagnosticMessageText(error.messageText, ' ').slice(0, 60))
    const changed = session.edit(old, new Map([[`${ROOT}/a-first.ts`, `import type { ${names.at(-1)!} } from './kinds'\nexport let last: ${names.at(-1)!}\n`], [`${ROOT}/use.ts`, wrongAbout(after)]]))
    // The compiler looks at the other file first.
    for (const path of ['a-first.ts', 'use.ts']) changed.program.getSemanticDiagnostics(changed.program.getSourceFile(`${ROOT}/${path}`))
    return { before: told(old), after: told(changed), fresh: newErrors(old, changed, ROOT, ['use.ts']).map(error => `${error.code}`) }
  }

  test.each([2, 3, 12])('is the same in whatever order its %i members are told', count => {
    const { before, after, fresh } = errorsOf(kinds.slice(0, count))
    expect(after).not.toEqual(before)
    expect(fresh).toEqual([])
  })

  test('is another where the union is another', () => {
    expect(errorsOf(kinds.slice(0, 3), [...kinds.slice(0, 2), kinds[5]!]).fresh).toEqual(['2339'])
    expect(errorsOf(kinds.slice(0, 12), kinds.slice(0, 11)).fresh).toEqual(['2339'])
  })
})
