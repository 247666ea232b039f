import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { changedLines } from '@hollowmoor/host/line-coverage'
import { KEPT_OUTPUT, runCommand } from '@hollowmoor/host/run-command'
import { proposedCommands } from '@hollowmoor/host/proposed-commands'
import { compareTests, readJUnitXml, readTestReport, reportFiles, testResults } from '@hollowmoor/host/test-report'

let folder: string
beforeEach(() => { folder = mkdtempSync(join(tmpdir(), 'hollowmoor-run-')) })
afterEach(() => rmSync(folder, { recursive: true, force: true }))

describe('a command', () => {
  test('tells its status and what it printed as it prints it', async () => {
    let seen = ''
    const outcome = await runCommand('echo one; echo two >&2; exit 3', { folder, seconds: 20, onOutput: text => { seen += text } })
    expect(outcome).toMatchObject({ status: 3, ended: null })
    expect([outcome.output, seen].map(text => text.includes('one') && text.includes('two'))).toEqual([true, true])
  })

  test('that hangs is ended at its time limit', async () => {
    const outcome = await runCommand('trap "" TERM; while true; do sleep 0.05; done', { folder, seconds: 1 })
    expect(outcome).toMatchObject({ status: null, ended: 'time-limit' })
    expect(outcome.seconds).toBeLessThan(15)
  })

  test('that prints a gigabyte is ended, and only the end is kept', async () => {
    const outcome = await runCommand('yes aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa | head -c 1000000000', { folder, seconds: 100 })
    expect(outcome.ended).toBe('too-much-output')
    expect(outcome.output.length).toBeLessThanOrEqual(KEPT_OUTPUT)
  })

  test('that forks takes what it started with it', async () => {
    await runCommand(`(while true; do date +%s%N > ${folder}/alive; sleep 0.05; done) & sleep 0.3`, { folder, seconds: 20 })
    await new Promise(resolve => setTimeout(resolve, 200))
    const then = existsSync(join(folder, 'alive')) ? readFileSync(join(folder, 'alive'), 'utf8') : ''
    await new Promise(resolve => setTimeout(resolve, 400))
    expect(readFileSync(join(folder, 'alive'), 'utf8')).toBe(then)
  })

  test('can be cancelled', async () => {
    const abort = new AbortController()
    setTimeout(() => abort.abort(), 200)
    expect(await runCommand('sleep 30', { folder, seconds: 60, signal: abort.signal })).toMatchObject({ status: null, ended: 'cancelled' })
  })
})

describe('test reports', () => {
  const table: [string, string, [string, boolean][]][] = [
    ['node:test', '✔ opens (1.2ms)\n✖ closes (3ms)\nℹ tests 2\n\n✖ failing tests:\n\n✖ closes (3ms)\n', [['opens', true], ['closes', false]]],
    ['Jest', 'PASS a.test.ts\n  lock\n    ✓ opens (5 ms)\n    ✕ closes\n', [['opens', true], ['closes', false]]],
    ['TAP', 'TAP version 13\nok 1 - opens\nnot ok 2 - closes\nok 3 - later # SKIP\n1..3\n', [['opens', true], ['closes', false]]],
    ['TAP with times, as Vitest writes it', 'ok 1 - a.test.ts > opens # time=1.29ms\nnot ok 2 - a.test.ts > closes # time=0.1s\n', [['a.test.ts > opens', true], ['a.test.ts > closes', false]]],
    ['with colours', '\u001b[32m✔ opens\u001b[39m\n', [['opens', true]]],
    ['nothing', 'all fine\n', []]
  ]
  test.each(table)('%s', (_, output, expected) => expect(readTestReport(output).map(one => [one.name, one.passed])).toEqual(expected))

  test('are compared by name: broken, failed already, mended, gone', () => {
    const side = (all: Record<string, boolean>) => Object.entries(all).map(([name, passed]) => ({ name, passed }))
    expect(compareTests(side({ a: true, b: false, c: false, d: true, e: true }), side({ a: false, b: false, c: true, e: true, f: true }))).toEqual({
      before: { passed: 3, failed: 2 }, after: { passed: 3, failed: 2 }, broken: ['a'], failedAlready: ['b'], mended: ['c'], gone: ['d'], added: ['f']
    })
  })
})

test('changed lines are those of the new text', () => {
  expect(changedLines({ path: 'a', before: 'a\nb\nc\nd\n', after: 'a\nB\nc\nx\nd\n' })).toEqual([2, 4])
})

describe('reports in JUnit XML', () => {
  const MAVEN = `<?xml version="1.0" encoding="UTF-8"?><testsuite name="a.GateTest" tests="4"><properties><property name="x" value="y"/></properties>
  <testcase name="opens" classname="a.GateTest" time="0.1"/><testcase name="shuts &lt;soon&gt;" classname="a.GateTest"><failure message="no" type="E"><![CDATA[at a.Gate]]></failure></testcase>
  <testcase name="waits" classname="a.GateTest"><skipped/></testcase><testcase name="breaks" classname="a.GateTest"><error type="E"/><system-out>✔ no result</system-out></testcase></testsuite>`

  test('tell each test by class and name; skipped ones are left out', () => {
    expect(readJUnitXml(MAVEN)).toEqual([{ name: 'a.GateTest.opens', passed: true }, { name: 'a.GateTest.shuts <soon>', passed: false }, { name: 'a.GateTest.breaks', passed: false }])
    expect(readJUnitXml(`<testsuites><testsuite><testcase name="one"/></testsuite><testsuite><testsuite><testcase name="two" classname="b"/></testsuite></testsuite></testsuites>`)).toEqual([{ name: 'one', passed: true }, { name: 'b.two', passed: true }])
  })

  test('count before what was printed, wherever the runner puts them', () => {
    for (const path of ['target/surefire-reports', 'module/build/test-results/test', 'node_modules/x']) mkdirSync(join(folder, path), { recursive: true })
    writeFileSync(join(folder, 'target/surefire-reports/TEST-a.GateTest.xml'), MAVEN)
    writeFileSync(join(folder, 'module/build/test-results/test/TEST-b.xml'), '<testsuite><testcase name="rings" classname="b.BellTest"/></testsuite>')
    writeFileSync(join(folder, 'target/surefire-reports/other.xml'), MAVEN)
    writeFileSync(join(folder, 'node_modules/x/TEST-c.xml'), MAVEN)
    expect(reportFiles(folder).map(path => path.slice(folder.length + 1))).toEqual(['module/build/test-results/test/TEST-b.xml', 'target/surefire-reports/TEST-a.GateTest.xml'])
    expect(testResults(folder, '✔ printed').map(one => one.name)).toEqual(['b.BellTest.rings', 'a.GateTest.opens', 'a.GateTest.shuts <soon>', 'a.GateTest.breaks'])
  })

  test('that are broken tell nothing, and what was printed counts', () => {
    writeFileSync(join(folder, 'TEST-x.xml'), '<testsuite><testcase')
    expect(testResults(folder, '✔ printed')).toEqual([{ name: 'printed', passed: true }])
  })
})

describe('commands are proposed', () => {
  const put = (...paths: string[]) => { for (const path of paths) { mkdirSync(join(folder, path, '..'), { recursive: true }); writeFileSync(join(folder, path), path === 'package.json' ? '{ "scripts": { "test": "jest", "build": "tsc" } }' : '') } }

  test.each([
    ['package.json', ['package.json', 'pom.xml'], 'npm run build', 'npm test'],
    ['a Gradle wrapper', ['gradlew', 'build.gradle'], 'sh gradlew --offline -q testClasses', 'sh gradlew --offline test'],
    ['Gradle', ['build.gradle.kts'], 'gradle --offline -q testClasses', 'gradle --offline test'],
    ['Maven', ['pom.xml'], 'mvn -o -q test-compile', 'mvn -o test'],
    ['scripts of its own', ['pom.xml', 'compile.sh', 'test.sh'], 'sh compile.sh', 'sh test.sh'],
    ['nothing', ['readme.txt'], '', '']
  ])('from %s', (_, paths, compile, testing) => {
    put(...paths)
    expect(proposedCommands(folder)).toEqual({ compile, test: testing })
  })

  test('from plain Java sources: the compiler on all of them', () => {
    put('src/a/A.java', 'lib/x.jar')
    expect(proposedCommands(folder).compile).toMatch(/^javac -nowarn -d \.trial\/classes -cp 'lib\/\*.*' \$\(find src -name '\*\.java'\)$/)
  })
})
