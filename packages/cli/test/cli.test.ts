import { execFileSync } from 'node:child_process'
import { cpSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { Writable } from 'node:stream'
import { Ajv2020 } from 'ajv/dist/2020.js'
import { z } from 'zod'
import { SurveyDocumentSchema } from '@hollowmoor/contract/survey-document'
import { run } from '../src/cli.js'

const DEMO = resolve('demo/withymere/typescript')
let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'hollowmoor-cli-'))
  cpSync(DEMO, join(folder, 'demo'), { recursive: true, filter: path => !path.slice(DEMO.length).includes('node_modules') })
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

async function hollowmoor(...args: string[]) {
  const told = { out: '', err: '' }
  const into = (name: 'out' | 'err') => new Writable({ write(chunk, _, done) { told[name] += String(chunk); done() } })
  const status = await run(args, { out: into('out'), err: into('err') })
  return { status, ...told }
}
const demo = () => join(folder, 'demo')

describe('measure', () => {
  test('writes a document that its published schema accepts, the same bytes each time', async () => {
    const { status, out } = await hollowmoor('measure', demo(), '--json', '-')
    expect(status).toBe(0)
    const schema = JSON.parse(readFileSync('docs/formats/survey-1.schema.json', 'utf8')) as object
    const valid = new Ajv2020({ strict: false }).compile(schema)
    expect(valid(JSON.parse(out)) ? null : valid.errors).toBeNull()
    expect(SurveyDocumentSchema.parse(JSON.parse(out)).moduleCycles.map(cycle => cycle.members)).toEqual([
      ['src/booking', 'src/locks', 'src/water'], ['src/notices', 'src/records']
    ])
    await hollowmoor('measure', demo(), '--json', join(folder, 'again.json'))
    expect(readFileSync(join(folder, 'again.json'), 'utf8')).toBe(out)
  })

  test('the published schema is the one that the contract states', () => {
    const published: unknown = JSON.parse(readFileSync('docs/formats/survey-1.schema.json', 'utf8'))
    expect(published).toEqual(JSON.parse(JSON.stringify(z.toJSONSchema(SurveyDocumentSchema))))
  })

  test('without --json tells a summary', async () => {
    const { out } = await hollowmoor('measure', demo())
    expect(out).toContain('2 module cycles')
    expect(out).toContain('proven least')
  })
})

describe('check --against', () => {
  const git = (...args: string[]) => execFileSync('git', ['-c', 'user.name=t', '-c', 'user.email=t@example.org', ...args], { cwd: demo(), encoding: 'utf8' })

  test('tells what a branch adds with line and commit, and fails where it ties a type', async () => {
    symlinkSync(resolve('node_modules'), join(demo(), 'node_modules'))
    writeFileSync(join(demo(), '.gitignore'), 'node_modules\n')
    git('init', '-q', '-b', 'main')
    git('add', '-A')
    git('commit', '-qm', 'before')
    git('checkout', '-qb', 'more')
    expect(await hollowmoor('check', demo(), '--against', 'main')).toMatchObject({ status: 0, out: 'Nothing is different in dependencies, cycles and what can be tested alone.\n' })
    const path = join(demo(), 'src/tolls/concession.ts')
    writeFileSync(path, `import { Logbook } from '../records/logbook.js';\n${readFileSync(path, 'utf8').replace(/(private winterShare\([^{]*\{)/, "$1\n    Logbook.write('tolls', 'asked');")}`)
    git('commit', '-qam', 'logged')
    const { status, out } = await hollowmoor('check', demo(), '--against', 'main')
    expect(status).toBe(1)
    expect(out).toContain('tied: src/tolls/concession.ts#ConcessionRules (alone -> needs-outside)')
    expect(out).toMatch(/added: src\/tolls\/concession\.ts#ConcessionRules -> src\/records\/logbook\.ts#Logbook at src\/tolls\/concession\.ts:\d+ in [0-9a-f]{10}/)
    expect(git('status', '--porcelain')).toBe('')
  })

  test('says so where git knows no such branch', async () => {
    git('init', '-q')
    expect(await hollowmoor('check', demo(), '--against', '--output=x')).toMatchObject({ status: 2 })
    expect((await hollowmoor('check', demo(), '--against', 'nowhere')).err).toContain('git knows no such branch or commit')
  })
})

describe('remedies and apply', () => {
  test('a wide change comes as mails of a few files each, which git am takes one after the other', async () => {
    symlinkSync(resolve('node_modules'), join(demo(), 'node_modules'))
    writeFileSync(join(demo(), '.gitignore'), 'node_modules\n')
    const git = (...args: string[]) => execFileSync('git', ['-c', 'user.name=t', '-c', 'user.email=t@example.org', ...args], { cwd: demo(), encoding: 'utf8' })
    git('init', '-q', '-b', 'main')
    git('add', '-A')
    git('commit', '-qm', 'before')
    const id = 'extract-interface:src/booking/passage-desk.ts#PassageDesk'
    expect(await hollowmoor('apply', demo(), id, '--diff', '--batch', '2')).toMatchObject({ status: 2 })
    const { status, out } = await hollowmoor('apply', demo(), id, '--patch', '--batch', '3')
    expect(status).toBe(0)
    const count = out.match(/^Subject: /gm)!.length
    expect(count).toBeGreaterThan(1)
    writeFileSync(join(folder, 'series.patch'), out)
    git('am', '-q', join(folder, 'series.patch'))
    expect(git('log', '--oneline').trim().split('\n')).toHaveLength(count + 1)
    const whole = await hollowmoor('apply', demo(), id, '--diff')
    expect(whole.out === '' || whole.status !== 0).toBe(true)
  })

  const id = 'inject:src/booking/passage-desk.ts#PassageDesk:src/tolls/toll-calculator.ts#TollCalculator@calculator'

  test('lists them with ids that stay, and applies one as a diff that git takes', async () => {
    const listed = JSON.parse((await hollowmoor('remedies', demo(), '--type', 'src/booking/passage-desk.ts#PassageDesk', '--json', '-')).out) as { id: string; edits: number }[]
    expect(listed.map(offer => offer.id)).toContain(id)
    const { status, out } = await hollowmoor('apply', demo(), id, '--set', 'name=tolls', '--diff')
    expect(status).toBe(0)
    expect(readFileSync(join(demo(), 'src/booking/passage-desk.ts'), 'utf8')).not.toContain('tolls: TollCalculator')
    execFileSync('git', ['apply', '-'], { cwd: demo(), input: out })
    const byDiff = readFileSync(join(demo(), 'src/booking/passage-desk.ts'), 'utf8')
    expect(byDiff).toContain('tolls: TollCalculator,')
    execFileSync('git', ['apply', '-R', '-'], { cwd: demo(), input: out })
    expect((await hollowmoor('apply', demo(), id, '--set', 'name=tolls', '--write')).status).toBe(0)
    expect(readFileSync(join(demo(), 'src/booking/passage-desk.ts'), 'utf8')).toBe(byDiff)
  })

  test('a refusal is status 3, and nothing is written', async () => {
    const { status, err } = await hollowmoor('apply', demo(), 'extract-interface:src/tolls/toll-calculator.ts#TollCalculator', '--set', 'name=Receipt', '--write')
    expect([status, err]).toEqual([3, expect.stringContaining('receipt.ts exists already')])
  })
})

describe('check', () => {
  test('fails on a cycle that the baseline does not list, and names its cut', async () => {
    const found = await hollowmoor('check', demo())
    expect(found.status).toBe(1)
    expect(found.out).toContain('cycle of 3 modules: src/booking, src/locks, src/water; cut 2 references: src/water -> src/booking')
    const baseline = join(folder, 'kept/baseline.json')
    expect((await hollowmoor('check', demo(), '--write-baseline', baseline)).status).toBe(0)
    expect((await hollowmoor('check', demo(), '--baseline', baseline)).status).toBe(0)
    writeFileSync(join(demo(), 'src/craft/closes.ts'), "import { TollTable } from '../tolls/toll-table.js';\nexport const rate = (table: TollTable) => table.minimum;\n")
    const worse = await hollowmoor('check', demo(), '--baseline', baseline)
    expect([worse.status, worse.out]).toEqual([1, expect.stringContaining('src/craft, src/tolls')])
  })
})

describe('wrong use is status 2 and one line', () => {
  const table: [string, () => string[], string][] = [
    ['no command', () => [], 'name a command'], ['an unknown command', () => ['weigh'], 'weigh'], ['a missing folder', () => ['measure', join(folder, 'nowhere')], 'nowhere'],
    ['an unknown option', () => ['measure', demo(), '--yaml'], '--yaml'], ['an unknown type', () => ['remedies', demo(), '--type', 'x#Y'], '--type'],
    ['an unknown remedy', () => ['apply', demo(), 'inject:no', '--diff'], 'inject:no'], ['apply without a goal', () => ['apply', demo(), 'x'], '--diff'],
    ['a choice that is none', () => ['apply', demo(), 'x', '--diff', '--set', 'oops'], '--set oops'], ['a baseline that is none', () => ['check', demo(), '--baseline', join(demo(), 'package.json')], 'package.json'],
    ['a place that cannot be written', () => ['measure', demo(), '--json', join(folder, 'no/such/file.json')], 'file.json']
  ]
  test.each(table)('%s', async (_, args, part) => {
    const { status, err } = await hollowmoor(...args())
    expect([status, err.trim().split('\n').length, err.includes(part)]).toEqual([2, 1, true])
  })

  test('--help shows examples', async () => {
    const { status, out } = await hollowmoor('measure', '--help')
    expect([status, out.includes('Examples:')]).toEqual([0, true])
  })
})
