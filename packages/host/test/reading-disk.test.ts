import { jest } from '@jest/globals'
import { chmodSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { isRefusal } from '@hollowmoor/contract/errors'
import { decodeText, DiskSource } from '@hollowmoor/host/disk-source'
import { OpenProject } from '@hollowmoor/host/open-project'

let root: string
beforeEach(() => { root = mkdtempSync(join(tmpdir(), 'hollowmoor-read-')) })
afterEach(() => rmSync(root, { recursive: true, force: true }))

const put = (path: string, content: string | Buffer) => { mkdirSync(join(root, path, '..'), { recursive: true }); writeFileSync(join(root, path), content) }
const codeOf = async (folder: string) => { const opened = await OpenProject.open(folder); return isRefusal(opened) ? opened.refused : 'opened' }

describe('opening', () => {
  test('tells what is wrong with the folder', async () => {
    put('file.txt', 'x')
    put('empty/x/.keep', '')
    rmSync(join(root, 'empty/x'), { recursive: true })
    put('words/readme.md', 'no code')
    const codes = [join(root, 'nowhere'), join(root, 'file.txt'), join(root, 'empty'), join(root, 'words'), 'a\0b'].map(codeOf)
    expect(await Promise.all(codes))
      .toEqual(['FOLDER_MISSING', 'FOLDER_IS_FILE', 'FOLDER_EMPTY', 'NOTHING_TO_READ', 'FOLDER_NAME'])
  })

  test('reads on past files that cannot be read, and says which and why', async () => {
    put('good.ts', 'export class Good {}')
    put('big.ts', `export const big = "${'x'.repeat(10 * 1024 * 1024)}"`)
    put('binary.ts', Buffer.from([0x65, 0, 1, 2]))
    put('latin.ts', Buffer.from([0x2f, 0x2f, 0xe9, 0x0a]))
    put('tsconfig.json', '{ "compilerOptions": { "strict": "yes", "types": [] } }')
    symlinkSync(join(root, 'nowhere.ts'), join(root, 'broken.ts'))
    symlinkSync(root, join(root, 'loop'))
    symlinkSync(tmpdir(), join(root, 'out'))
    const opened = await OpenProject.open(root)
    if (isRefusal(opened)) throw new Error(opened.message)
    expect(opened.survey.model.files.map(file => file.path)).toEqual(['good.ts'])
    const told = opened.survey.model.problems.map(problem => `${problem.file}: ${problem.message}`).join('\n')
    for (const part of ['big.ts: is larger', 'binary.ts: is binary', 'latin.ts: is not valid UTF-8', 'broken.ts: is a link', 'tsconfig.json: Compiler option']) expect(told).toContain(part)
  })

  test('Java in another encoding is read, told, and not written', async () => {
    put('a/Bell.java', Buffer.from('package a;\n\n/** Caf\xe9 bell. */\npublic class Bell {\n    public void ring() { System.out.println("\xe9"); }\n}\n', 'latin1'))
    put('a/Tower.java', 'package a;\n\nclass Tower {\n    private final Bell bell = new Bell();\n    void strike() { bell.ring(); }\n}\n')
    put('a/Generated.java', `class Generated { String all = "${'x'.repeat(10 * 1024 * 1024)}"; }`)
    const opened = await OpenProject.open(root)
    if (isRefusal(opened)) throw new Error(opened.message)
    expect(opened.survey.model.types.map(type => type.id)).toEqual(['a.Bell', 'a.Tower'])
    expect(opened.survey.model.problems.map(problem => `${problem.file} ${problem.message}`)).toEqual([
      'a/Bell.java is not valid UTF-8; it is read as ISO-8859-1, and no change is made to it', 'a/Generated.java is larger than 2 MB; it is left out'
    ])
    expect(opened.changedSince()).toEqual([])
    const writer = opened.session.writer(opened.state)
    expect(writer.extractInterface({ type: 'a.Bell', members: null, name: null, place: 'own-file', client: null, narrow: true })).toMatchObject({ refused: true, reason: 'encoding' })
    const [point] = writer.injectionPoints('a.Tower')
    expect(writer.inject({ type: 'a.Tower', point: point!.key, name: null, as: null, withDefault: false, levels: 0 })).toMatchObject({ refused: false, changes: [{ path: 'a/Tower.java' }] })
  })

  test('UTF-16 is read, and a mark at the start is kept', () => {
    expect(decodeText(Buffer.from('\ufeffclass A {}', 'utf16le'))).toEqual({ text: '\ufeffclass A {}' })
    expect(decodeText(Buffer.from('\ufeffx', 'utf8'))).toEqual({ text: '\ufeffx' })
  })

  test('a file without permission is told, where permissions count', async () => {
    put('a.ts', 'export class A {}')
    put('locked.ts', 'export class L {}')
    chmodSync(join(root, 'locked.ts'), 0)
    const opened = await OpenProject.open(root)
    if (isRefusal(opened)) throw new Error(opened.message)
    const asRoot = process.getuid?.() === 0
    expect(opened.survey.model.files.length).toBe(asRoot ? 2 : 1)
  })

  test('settings of the project that make no sense are refused with the file', async () => {
    put('a.ts', 'export class A {}')
    put('hollowmoor.json', '{ "exlude": [] }')
    const opened = await OpenProject.open(root)
    expect(opened).toMatchObject({ refused: 'SETTINGS_INVALID', subject: join(root, 'hollowmoor.json') })
  })
})

test('a folder that changes, and then disappears, is told when it is read again', async () => {
  put('a.ts', 'export class A {}')
  const opened = await OpenProject.open(root)
  if (isRefusal(opened)) throw new Error(opened.message)
  put('a.ts', 'export class A { more() {} }')
  expect(opened.changedSince()).toEqual(['a.ts'])
  expect(await opened.renew()).toBeUndefined()
  expect(opened.changedSince()).toEqual([])
  expect(opened.survey.model.types[0]!.members.map(member => member.name)).toEqual(['more'])
  rmSync(root, { recursive: true })
  expect(await opened.renew()).toMatchObject({ refused: 'FOLDER_MISSING' })
})

describe('in the middle of a survey', () => {
  /** Lets something happen right before the file system is asked for the n-th time. */
  function happening(n: number, what: () => void) {
    let asked = 0
    const spies = (['readText', 'isFile', 'isDirectory', 'list'] as const).map(name => {
      const real = DiskSource.prototype[name] as (path: string) => unknown
      return jest.spyOn(DiskSource.prototype, name).mockImplementation(function (this: DiskSource, path: string) {
        if (++asked === n) what()
        return real.call(this, path) as never
      })
    })
    return { count: () => asked, restore: () => spies.forEach(spy => spy.mockRestore()) }
  }

  const fill = () => {
    for (const name of ['a', 'b', 'c']) put(`src/${name}.ts`, `import { B } from './b'\nexport class ${name.toUpperCase()} { constructor(readonly next?: B) {} }\n`)
    put('package.json', '{ "name": "going" }')
    put('tsconfig.json', '{ "compilerOptions": { "strict": true, "types": [] }, "include": ["src"] }')
  }

  test('a folder that goes away is told, whenever that happens: refused, or the files said to be missing', async () => {
    fill()
    const counting = happening(0, () => undefined)
    await OpenProject.open(root)
    const total = counting.count()
    counting.restore()
    expect(total).toBeGreaterThan(20)
    const outcomes = new Set<string>()
    for (let n = 1; n <= total; n += Math.ceil(total / 25)) {
      fill()
      const spying = happening(n, () => rmSync(root, { recursive: true }))
      const opened = await OpenProject.open(root)
      spying.restore()
      if (isRefusal(opened)) { outcomes.add(opened.refused); continue }
      const read = opened.survey.model.files.map(file => file.path)
      const problems = opened.survey.model.problems.map(problem => problem.message)
      // Whole, or what is missing is said; and in either case it no longer matches the files.
      expect(read.length === 3 || problems.some(message => message.includes('is not there any more'))).toBe(true)
      expect(opened.changedSince().sort()).toEqual(expect.arrayContaining(read))
      outcomes.add(read.length === 3 ? 'whole' : 'partial')
    }
    expect(outcomes.size).toBeGreaterThan(1)
  })

  test('a file that changes is read whole, as it was or as it is, and told to have changed if it was read before', async () => {
    fill()
    const after = 'export class A { fresh() {} }\nexport class More {}\n'
    for (let n = 1; n < 60; n += 4) {
      fill()
      const spying = happening(n, () => put('src/a.ts', after))
      const opened = await OpenProject.open(root)
      spying.restore()
      if (isRefusal(opened)) throw new Error(opened.message)
      const types = opened.survey.model.types.filter(type => type.id.startsWith('src/a.ts#') && type.kind === 'class').map(type => type.name)
      const isNew = types.includes('More')
      expect(types).toEqual(isNew ? ['A', 'More'] : ['A'])
      put('src/a.ts', after)
      expect(opened.changedSince()).toEqual(isNew ? [] : ['src/a.ts'])
    }
  })
})

test('a project in Java that gets a file in TypeScript is read in both', async () => {
  put('a/Gate.java', 'package a;\n\npublic class Gate { }\n')
  const opened = await OpenProject.open(root)
  if (isRefusal(opened)) throw new Error(opened.message)
  expect(opened.survey.model.types.map(type => type.id)).toEqual(['a.Gate'])
  put('web/page.ts', 'export class Page { }\n')
  expect(await opened.renew()).toBeUndefined()
  expect(opened.survey.model.types.map(type => type.id).sort()).toEqual(['a.Gate', 'web/page.ts#Page'])
})
