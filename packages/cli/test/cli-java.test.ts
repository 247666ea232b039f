import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { Writable } from 'node:stream'
import { Ajv2020 } from 'ajv/dist/2020.js'
import type { SurveyDocument } from '@hollowmoor/contract/survey-document'
import { SurveyDocumentSchema } from '@hollowmoor/contract/survey-document'
import { run } from '../src/cli.js'

let folder: string
beforeEach(() => { folder = mkdtempSync(join(tmpdir(), 'hollowmoor-cli-java-')) })
afterEach(() => rmSync(folder, { recursive: true, force: true }))

const put = (path: string, text: string) => { mkdirSync(dirname(join(folder, path)), { recursive: true }); writeFileSync(join(folder, path), text) }

async function hollowmoor(...args: string[]) {
  const told = { out: '', err: '' }
  const into = (name: 'out' | 'err') => new Writable({ write(chunk, _, done) { told[name] += String(chunk); done() } })
  const status = await run(args, { out: into('out'), err: into('err') })
  return { status, ...told }
}

/** A small office: booking and locks lead to each other, tolls do not. */
function office(): void {
  put('src/main/java/org/withymere/booking/Desk.java', 'package org.withymere.booking;\n\nimport org.withymere.locks.Lock;\nimport org.withymere.tolls.*;\n\npublic class Desk {\n  private final Tolls tolls = new Tolls();\n  private final Lock lock;\n\n  public Desk(Lock lock) { this.lock = lock; }\n\n  public int book(int length) {\n    if (length > 10) lock.open(this);\n    return tolls.due(length);\n  }\n}\n')
  put('src/main/java/org/withymere/locks/Lock.java', 'package org.withymere.locks;\n\nimport org.withymere.booking.Desk;\n\npublic interface Lock {\n  void open(Desk desk);\n}\n')
  put('src/main/java/org/withymere/tolls/Tolls.java', 'package org.withymere.tolls;\n\npublic class Tolls {\n  public int due(int length) { return length * Rates.PER_FOOT; }\n}\n\nclass Rates {\n  static final int PER_FOOT = 3;\n}\n')
  put('src/test/java/org/withymere/booking/DeskTest.java', 'package org.withymere.booking;\n\nclass DeskTest {\n  void books() { new Desk(desk -> { }).book(3); }\n}\n')
}

async function measured(): Promise<SurveyDocument> {
  const { status, out } = await hollowmoor('measure', folder, '--json', '-')
  expect(status).toBe(0)
  return JSON.parse(out) as SurveyDocument
}

test('the survey of Java code is a document of the published format', async () => {
  office()
  const document = await measured()
  const valid = new Ajv2020({ strict: false }).compile(JSON.parse(readFileSync('docs/formats/survey-1.schema.json', 'utf8')) as object)
  expect(valid(document) ? null : valid.errors).toBeNull()
  expect(SurveyDocumentSchema.parse(document).languages).toEqual(['java'])
  expect(document.types.map(type => [type.id, type.module, type.test])).toEqual([
    ['org.withymere.booking.Desk', 'org.withymere.booking', false], ['org.withymere.locks.Lock', 'org.withymere.locks', false],
    ['org.withymere.tolls.Tolls', 'org.withymere.tolls', false], ['org.withymere.tolls.Rates', 'org.withymere.tolls', false], ['org.withymere.booking.DeskTest', 'org.withymere.booking', true]
  ])
  expect(document.moduleCycles.map(cycle => [cycle.members, cycle.cut])).toEqual([[['org.withymere.booking', 'org.withymere.locks'], { dependencies: [{ from: 'org.withymere.locks', to: 'org.withymere.booking' }], references: 1, lowerBound: 1 }]])
  expect(document.types[0]!.joints).toEqual({ welded: 1, bolted: 0, plugged: 1, inert: 0 })
  expect([document.counts.unresolved, document.counts.testFiles]).toEqual([0, 1])
})

test('places are exact: lines and columns of each reference', async () => {
  office()
  const dependency = (await measured()).dependencies.find(one => one.from === 'org.withymere.booking.Desk' && one.to === 'org.withymere.tolls.Tolls')!
  expect(dependency.references.map(one => [one.line, one.column, one.kind, one.member])).toEqual([[7, 17, 'signature', ''], [7, 35, 'creates', ''], [14, 18, 'calls', 'due']])
})

test('check fails on a cycle among packages, and not on one that the baseline lists', async () => {
  office()
  const baseline = join(folder, 'baseline.json')
  expect(await hollowmoor('check', folder)).toMatchObject({ status: 1, out: expect.stringContaining('org.withymere.locks -> org.withymere.booking') as string })
  expect((await hollowmoor('check', folder, '--write-baseline', baseline)).status).toBe(0)
  expect((await hollowmoor('check', folder, '--baseline', baseline)).status).toBe(0)
})

test('TypeScript and Java in one folder are one project', async () => {
  office()
  put('web/page.ts', 'export class Page { show(): string { return "x" } }\nexport const page = new Page()\n')
  const document = await measured()
  expect(document.languages).toEqual(['java', 'typescript'])
  expect(document.types.map(type => type.id)).toContain('web/page.ts#Page')
  expect(document.modules.map(module => module.id)).toEqual(expect.arrayContaining(['web', 'org.withymere.tolls']))
})

test('remedies are listed, printed as a diff, and written', async () => {
  office()
  const offers = JSON.parse((await hollowmoor('remedies', folder, '--json', '-')).out) as { id: string; title: string }[]
  expect(offers.map(offer => offer.id)).toEqual([
    'extract-interface:org.withymere.booking.Desk', 'inject:org.withymere.booking.Desk:org.withymere.tolls.Tolls@tolls', 'move-type:org.withymere.booking.Desk',
    'start-implementation:org.withymere.locks.Lock', 'test-double:org.withymere.locks.Lock', 'move-type:org.withymere.locks.Lock', 'extract-interface:org.withymere.tolls.Tolls'
  ])
  const path = join(folder, 'src/main/java/org/withymere/booking/Desk.java')
  const before = readFileSync(path, 'utf8')
  const { status, out } = await hollowmoor('apply', folder, offers[1]!.id, '--diff')
  expect(status).toBe(0)
  expect(out).toContain('+  public Desk(Lock lock, Tolls tolls) { \n+    this.tolls = tolls;'.replace('{ \n', '{\n'))
  expect(readFileSync(path, 'utf8')).toBe(before)
  expect((await hollowmoor('apply', folder, offers[1]!.id, '--write')).status).toBe(0)
  expect(readFileSync(path, 'utf8')).toContain('private final Tolls tolls;')
  expect(readFileSync(join(folder, 'src/test/java/org/withymere/booking/DeskTest.java'), 'utf8')).toContain('new Desk(desk -> { }, new Tolls()).book(3);')
  const again = await hollowmoor('apply', folder, offers[1]!.id, '--diff')
  expect(again).toMatchObject({ status: 3, err: expect.stringContaining('does not build or fetch') as string })
})

test('a library that is not there is said; one that lies in the project is read', async () => {
  put('pom.xml', '<project><groupId>org.withymere</groupId><artifactId>office</artifactId><dependencies><dependency><groupId>org.nowhere</groupId><artifactId>bell</artifactId><version>1</version></dependency></dependencies></project>')
  put('lib/broken.jar', 'no archive')
  put('src/A.java', 'import org.nowhere.Bell;\nclass A { Bell bell; }\n')
  const document = await measured()
  expect(document.problems.map(problem => `${problem.file}: ${problem.message}`)).toEqual(['lib/broken.jar: is no archive that can be read; its classes are not known'])
  expect(document.unresolved.map(one => [one.line, one.name])).toEqual([[1, 'import org.nowhere.Bell;'], [2, 'Bell']])
})
