import type { ObservedValue } from '../../../model/observation.js'
import { isComparable } from '../../../model/observation.js'
import { compareText } from '../../../model/order.js'
import { NEW } from '../../write/first-test-cases.js'
import type { SeenCase } from '../../write/seen-cases.js'
import { importLines } from './extract-interface.js'
import type { ProjectEditor } from './file-editor.js'
import { valueImports } from './new-file-imports.js'
import type { FileStyle } from './style.js'
import { observedText } from './observed-text.js'
import { RECORDER } from './recorder-text.js'
import type { SampleValues } from './sample-values.js'
import type { TestCases } from './test-cases.js'
import type { TestStyle } from './test-style.js'

/** Longer than this, arguments stand on lines of their own. */
const LINE = 120

/** What is tested: the name of a class, what an object of it is called, and what its constructor is handed. */
export interface TestSubject {
  readonly own: string
  readonly subject: string
  readonly given: readonly string[]
}

/** The text of a test file in the style of those around. */
export class TestText {
  readonly subject: string
  private readonly own: string
  private readonly given: readonly string[]
  /** Whether what is given to doubles is kept with their calls. */
  private keepsGiven = true

  constructor(
    { own, subject, given }: TestSubject, private readonly editor: ProjectEditor, readonly target: string, private readonly framework: TestStyle, private readonly style: FileStyle
  ) {
    this.own = own
    this.subject = subject
    this.given = given
  }

  /** One test for each call, without saying what it does; and which lines are about which member. */
  skeleton({ cases, queries }: TestCases, samples: SampleValues): { whole: string; members: Map<number, string> } {
    const bodies = cases.map(one => [this.take([one.call, ...queries]), ...queries.map(query => `${query};`), `${one.waits ? 'await ' : ''}${one.call};`])
    const lines = this.opening(bodies.flat(), samples)
    const members = new Map<number, string>()
    for (const [at, one] of cases.entries()) {
      for (const line of ['', ...this.test(one.name, one.waits, bodies[at]!.filter(line => line !== ''))]) { members.set(lines.length, one.member); lines.push(line) }
    }
    return { whole: this.finish(lines), members }
  }

  /** A test that records what each call does. */
  recorder(subject: string, { cases, queries }: TestCases, samples: SampleValues): string {
    const asked = `queries: [${queries.map(query => `() => ${query}`).join(', ')}]`
    const recorded = [{ name: NEW, call: 'undefined' }, ...cases].map(one => `await record(${this.text(one.name)}, () => { calls = []; const ${this.subject} = alone(); return { calls, call: () => ${one.call}, ${asked} }; });`)
    // The recorder has the names that what keeps calls has.
    const text = [...recorded, 'saw('], opening = this.opening(text, samples)
    // Written with semicolons throughout, and unchecked: it is run once and read by nobody.
    return this.finish(['// @ts-nocheck', ...opening, ...RECORDER.replaceAll('SUBJECT', JSON.stringify(subject)).split('\n'), ...this.test('records', true, recorded)], true)
  }

  /** The tests that hold what was seen. */
  holding(cases: readonly SeenCase[], queries: readonly string[], samples: SampleValues): string {
    this.keepsGiven = cases.every(one => one.seen.calls.every(call => call.given.every(isComparable)))
    const bodies = cases.map(one => this.held(one, queries))
    const tests = bodies.flatMap((body, at) => ['', ...this.test(`${this.own}.${cases[at]!.made.name}`, body.some(line => line.includes('await ')), [this.take(body), ...body].filter(line => line !== ''))])
    return this.finish([...this.opening(tests, samples, `// Characterization tests: they hold what ${this.own} does now, as seen by running it, whether or not it should.`), ...tests])
  }

  /** What one call did, as assertions. */
  private held({ made, seen, after }: SeenCase, queries: readonly string[]): string[] {
    const lines: string[] = []
    const call = made.waits ? `await ${made.call}` : made.call
    if (seen.throws) lines.push(this.throws(made.call, made.waits, seen.throws.message))
    else if (seen.gives && !made.isCommand && this.written(seen.gives) !== undefined) lines.push(this.equal(call, seen.gives))
    else lines.push(`${call};`)
    if (seen.calls.length > 0) {
      const calls = seen.calls.map(one => `[${[this.text(one.name), ...(this.keepsGiven ? one.given.map(value => this.written(value) ?? 'undefined') : [])].join(', ')}]`)
      lines.push(this.same('calls', `[${calls.join(', ')}]`))
    }
    for (const { query, gives } of after) if (this.written(gives) !== undefined) lines.push(this.equal(queries[query]!, gives))
    return lines
  }

  private equal(actual: string, value: ObservedValue): string {
    const expected = this.written(value)!
    if (value.is === 'list' || value.is === 'set' || value.is === 'map' || value.is === 'record' || value.is === 'date') return this.same(actual, expected)
    return this.framework.asserts === 'assert' ? `assert.equal(${actual}, ${expected});` : `expect(${actual}).toBe(${expected});`
  }

  private same(actual: string, expected: string): string { return this.framework.asserts === 'assert' ? `assert.deepEqual(${actual}, ${expected});` : `expect(${actual}).toEqual(${expected});` }

  private throws(call: string, waits: boolean, message: string): string {
    const text = this.text(message)
    if (this.framework.asserts === 'assert') return `${waits ? 'await assert.rejects' : 'assert.throws'}(() => ${call}, { message: ${text} });`
    return waits ? `await expect(${call}).rejects.toThrow(${text});` : `expect(() => ${call}).toThrow(${text});`
  }

  private written(value: ObservedValue): string | undefined { return observedText(value, one => this.text(one)) }

  private test(name: string, waits: boolean, body: readonly string[]): string[] {
    return [`${this.framework.test}(${this.text(name)}, ${waits ? 'async ' : ''}() => {`, ...body.map(line => `\t${line}`), '});']
  }

  /** The line that builds the object, where a body needs one. */
  private take(body: readonly string[]): string {
    return new RegExp(`(?<![\\w$.'"])${this.subject}\\b`).test(body.join('\n')) ? `const ${this.subject} = alone();` : ''
  }

  /** Lines of set-up that one test needs, with all that its doubles take. */
  setUpLines(samples: SampleValues): number {
    const doubles = [...samples.doubleFunctions.values()].filter(({ name }) => this.given.some(one => one.includes(`${name}(`)))
    return this.alone(false).length - 3 + doubles.reduce((sum, { lines }) => sum + lines.length - 2, 0)
  }

  /** What stands above the tests: imports, what keeps calls, doubles, and the function that builds the object. Each only where it is used. */
  private opening(tests: readonly string[], samples: SampleValues, comment = ''): string[] {
    const named = (name: string, texts: readonly string[]) => texts.some(line => new RegExp(`(?<![\\w$.'"])${name}\\b`).test(line))
    const isBuilt = named('alone', tests) || tests.some(line => line.includes('= alone()'))
    const used = [...tests, ...(isBuilt ? this.given : [])]
    // One double may be handed another.
    const wanted = new Set<readonly string[]>()
    for (let size = -1; size !== wanted.size;) {
      size = wanted.size
      for (const { name, lines } of samples.doubleFunctions.values()) if (named(name, [...used, ...[...wanted].flat().filter(line => !line.startsWith('function '))])) wanted.add(lines)
    }
    const doubles = [...wanted].flatMap(lines => ['', ...lines])
    const keepsCalls = [...used, ...doubles].some(line => line.includes('saw(')) || named('calls', tests)
    const alone = isBuilt ? this.alone(keepsCalls) : []
    const [given, kept] = this.keepsGiven ? ['given', '[name, ...given]'] : ['_given', '[name]']
    const keeping = keepsCalls ? ['/** What was asked of what is handed in. */', 'let calls: unknown[][] = [];', '', `function saw<Answer>(name: string, ${given}: unknown[], answer: Answer): Answer {`, `\tcalls.push(${kept});`, '\treturn answer;', '}'] : []
    const body = [...used, ...doubles, ...alone], values = new Map([...samples.values].filter(([name]) => named(name, body)))
    const asserts = tests.some(line => /(?<![\w$.'"])(assert\.|expect\()/.test(line))
    const frameworks = asserts ? this.framework.imports : this.framework.imports.filter(line => !line.startsWith('import assert')).map(line => line.replace('{ expect, ', '{ '))
    const style = { ...this.style, semicolons: true, lineEnd: '\n' }
    const types = { needed: samples.types.needed.filter(({ local }) => !values.has(local) && named(local, body)) }
    const imports = [importLines(types, this.editor, this.target, style, body.join('\n')), valueImports(values, this.editor, this.target, style)].flatMap(text => text.split('\n')).filter(line => line !== '')
    return [
      ...frameworks.map(line => `${line.replaceAll("'", this.style.quote)};`), ...imports.sort((a, b) => compareText(/from (.*)/.exec(a)?.[1] ?? '', /from (.*)/.exec(b)?.[1] ?? '')),
      ...(comment === '' ? [] : ['', comment]), '', ...keeping, ...doubles, '', ...alone
    ]
  }

  /** The function that builds the object. */
  private alone(resets: boolean): string[] {
    const short = `return new ${this.own}(${this.given.join(', ')});`
    const built = short.length <= LINE ? [short] : [`return new ${this.own}(`, ...this.given.map((one, at) => `\t${one}${at < this.given.length - 1 ? ',' : ''}`), ');']
    return [`/** ${/^[AEIOU]/.test(this.own) ? 'An' : 'A'} ${this.own} by itself. */`, 'function alone() {', ...(resets ? ['\tcalls = [];'] : []), ...built.map(line => `\t${line}`), '}']
  }

  private text(value: string): string {
    const inner = JSON.stringify(value).slice(1, -1)
    return this.style.quote === '"' ? `"${inner}"` : `'${inner.replaceAll('\\"', '"').replaceAll("'", "\\'")}'`
  }

  /** Lines in the style of the file: a tab for each step of indentation, semicolons as they are used there. */
  private finish(lines: readonly string[], semicolons = this.style.semicolons): string {
    const kept = lines.filter((line, at) => line !== '' || (at > 0 && lines[at - 1] !== ''))
    const styled = kept.map(line => {
      const [, tabs, rest] = /^(\t*)(.*)$/s.exec(line)!
      return tabs!.replaceAll('\t', this.style.indent) + (semicolons ? rest! : rest!.replace(/;$/, ''))
    })
    return styled.join(this.style.lineEnd) + this.style.lineEnd
  }
}
