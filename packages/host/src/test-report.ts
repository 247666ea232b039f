import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { XMLParser } from 'fast-xml-parser'

/** One test as a runner told it. */
export interface TestResult { readonly name: string; readonly passed: boolean }

/**
 * Reads test results off what a runner printed: marks before names (as node:test, Jest, Vitest and Mocha print them) and
 * TAP. Nested groups that the runner repeats as results count once, by their full line. Empty where nothing is recognised.
 */
export function readTestReport(output: string): TestResult[] {
  const found = new Map<string, boolean>()
  // Failures are told a second time at the end; there they say nothing new.
  const end = output.search(/^(✖ failing tests:|# failing tests)/m)
  for (const raw of (end < 0 ? output : output.slice(0, end)).split('\n')) {
    const line = raw.replace(/\u001b\[[0-9;]*m/g, '')
    const tap = /^\s*(not )?ok \d+ - (.*?)(?: # time=\S*)?(?: # (SKIP|TODO).*)?$/.exec(line)
    const mark = /^\s*([✔✓√]|[✖✕×✗])\s+(.+?)(?:\s+\(?\d+(?:\.\d+)?\s*m?s\)?)?$/.exec(line)
    const name = tap ? tap[2]! : mark?.[2]
    if (name === undefined || (tap && tap[3])) continue
    const passed = tap ? tap[1] === undefined : /[✔✓√]/.test(mark![1]!)
    found.set(name, (found.get(name) ?? true) && passed)
  }
  return [...found].map(([name, passed]) => ({ name, passed }))
}

/** Where runners write reports; anything else of a project is not searched. */
const REPORT = /(^|\/)TEST-[^/]*\.xml$/

interface XmlCase { readonly name?: string; readonly classname?: string; readonly failure?: unknown; readonly error?: unknown; readonly skipped?: unknown }

/** Results in JUnit XML, as Maven, Gradle and JUnit's own launcher write them; skipped tests are left out. Throws on what is no XML. */
export function readJUnitXml(xml: string): TestResult[] {
  const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '', isArray: name => name === 'testcase' || name === 'testsuite' })
  const found: TestResult[] = []
  const visit = (node: unknown): void => {
    if (typeof node !== 'object' || node === null) return
    for (const [name, children] of Object.entries(node)) {
      if (!Array.isArray(children)) { if (name === 'testsuites') visit(children); continue }
      if (name === 'testsuite') for (const child of children) visit(child)
      if (name === 'testcase') for (const one of children as XmlCase[]) {
        if (one.skipped === undefined) found.push({ name: `${one.classname ?? ''}${one.classname ? '.' : ''}${one.name ?? ''}`, passed: one.failure === undefined && one.error === undefined })
      }
    }
  }
  visit(parser.parse(xml, true))
  return found
}

/** Paths of all test reports below a folder. */
export function reportFiles(folder: string): string[] {
  const found: string[] = []
  const visit = (at: string, inside: string, depth: number): void => {
    if (depth > 12) return
    for (const entry of readdirSync(at, { withFileTypes: true })) {
      const path = inside === '' ? entry.name : `${inside}/${entry.name}`
      if (entry.isDirectory()) { if (entry.name !== 'node_modules' && entry.name !== '.git') visit(join(at, entry.name), path, depth + 1) }
      else if (entry.isFile() && REPORT.test(path)) found.push(join(folder, path))
    }
  }
  visit(folder, '', 0)
  return found.sort()
}

/** What a run of tests told: in the reports that it wrote, else in what it printed. */
export function testResults(folder: string, output: string): TestResult[] {
  const fromReports = reportFiles(folder).flatMap(path => {
    try { return readJUnitXml(readFileSync(path, 'utf8')) } catch { return [] }
  })
  return fromReports.length > 0 ? fromReports : readTestReport(output)
}

export interface TestComparison {
  readonly before: { readonly passed: number; readonly failed: number }
  readonly after: { readonly passed: number; readonly failed: number }
  /** Tests that passed before and fail now. */
  readonly broken: readonly string[]
  /** Tests that failed before already and still do. */
  readonly failedAlready: readonly string[]
  readonly mended: readonly string[]
  /** Tests of one side only. */
  readonly gone: readonly string[]
  readonly added: readonly string[]
}

export function compareTests(before: readonly TestResult[], after: readonly TestResult[]): TestComparison {
  const old = new Map(before.map(test => [test.name, test.passed]))
  const now = new Map(after.map(test => [test.name, test.passed]))
  const count = (tests: readonly TestResult[]) => ({ passed: tests.filter(test => test.passed).length, failed: tests.filter(test => !test.passed).length })
  const names = (wanted: (was: boolean | undefined, is: boolean | undefined) => boolean) =>
    [...new Set([...old.keys(), ...now.keys()])].filter(name => wanted(old.get(name), now.get(name))).sort()
  return {
    before: count(before), after: count(after),
    broken: names((was, is) => was === true && is === false), failedAlready: names((was, is) => was === false && is === false),
    mended: names((was, is) => was === false && is === true), gone: names((was, is) => was !== undefined && is === undefined),
    added: names((was, is) => was === undefined && is !== undefined)
  }
}
