import type { ClassSymbol } from '../../binding/symbols.js'
import { Flags } from '../../binding/symbols.js'
import type { SeenCase } from '../../write/seen-cases.js'
import { NEW } from '../../write/first-test-cases.js'
import { upperFirst } from '../../write/names.js'
import type { NewJavaFile } from './java-editor.js'
import type { Expected } from './observed-text.js'
import { expectedText, quoted } from './observed-text.js'
import { RECORDER } from './recorder-text.js'
import type { JavaSampleValues } from './sample-values.js'
import type { JavaTestCase, JavaTestCases } from './test-cases.js'

/** Longer than this, arguments stand on lines of their own. */
const LINE = 120

/** How a class for a test is laid out, and by which JUnit it is run. */
export interface JavaTestStyle {
  readonly junit: 4 | 5
  readonly indent: string
  readonly lineEnd: string
}

/** What stands in the file of a first test: for what, under which names, and what builds the object. */
export interface JavaTestSubject {
  readonly symbol: ClassSymbol
  /** The class with its arguments. */
  readonly type: string
  readonly variable: string
  /** Name of the test class. */
  readonly name: string
  readonly given: readonly string[]
  readonly licence: readonly string[]
}

/** The text of a class of tests; a tab stands for one step of indentation until it is finished. */
export class JavaTestText {
  private readonly statics = new Set<string>()

  constructor(
    private readonly subject: JavaTestSubject, private readonly names: NewJavaFile, private readonly style: JavaTestStyle, private readonly samples: JavaSampleValues,
    private readonly throwable: (id: string) => ClassSymbol | undefined
  ) {}

  /** One test for each call, without saying what it does; and which lines are about which method. */
  skeleton({ cases, queries }: JavaTestCases): { whole: string; members: Map<string, string> } {
    const members = new Map<string, string>()
    const named = testNames(cases)
    const tests = cases.flatMap((one, at) => {
      members.set(named[at]!, one.member)
      return ['', ...this.test(named[at]!, [this.take, ...queries.map(query => `${query.text};`), `${one.call};`])]
    })
    return { whole: this.whole([], tests), members }
  }

  /** A test that records what each call does. */
  recorder(id: string, { cases, queries }: JavaTestCases): string {
    const { variable, type } = this.subject
    const asked = queries.map(query => `, ${variable} -> ${query.text}`).join('')
    const lines = [`record(${quoted(NEW)}, ${variable} -> null${asked});`, ...cases.map(one => `record(${quoted(one.name)}, ${variable} -> ${one.isCommand ? `{ ${one.call}; return null; }` : one.call}${asked});`)]
    return this.whole(RECORDER.trim().replaceAll('TYPE', type).replaceAll('SUBJECT', quoted(id)).split('\n'), ['', ...this.test('records', lines)], true)
  }

  /** The tests that hold what was seen. */
  holding(cases: readonly (SeenCase & { readonly made: JavaTestCase })[], queries: JavaTestCases['queries']): string {
    const named = testNames(cases.map(one => one.made))
    const tests = cases.flatMap((one, at) => {
      const body = this.held(one, queries)
      return ['', ...this.test(named[at]!, [...(new RegExp(`\\b${this.subject.variable}\\b`).test(body.join('\n')) ? [this.take] : []), ...body])]
    })
    return this.whole([], tests)
  }

  private get take(): string { return `${this.subject.type} ${this.subject.variable} = alone();` }

  private held({ made, seen, after }: SeenCase & { readonly made: JavaTestCase }, queries: JavaTestCases['queries']): string[] {
    const lines: string[] = []
    const expected = seen.gives && !made.isCommand ? expectedText(seen.gives, made.result, symbol => this.names.nameOf(symbol)) : undefined
    if (seen.throws) lines.push(...this.thrown(made, seen.throws))
    else if (expected) lines.push(this.compared(made.call, expected))
    else lines.push(`${made.call};`)
    if (seen.calls.length > 0) {
      const calls = seen.calls.map(one => quoted(one.name)), short = `${this.use('assertEquals')}(${this.names.byName('java.util', 'Arrays')}.asList(${calls.join(', ')}), calls);`
      lines.push(...(short.length <= LINE || calls.length === 1 ? [short] : ['assertEquals(Arrays.asList(', ...calls.map((one, at) => `\t${one}${at < calls.length - 1 ? ',' : ''}`), '), calls);']))
    }
    for (const { query, gives } of after) {
      const one = expectedText(gives, queries[query]!.result, symbol => this.names.nameOf(symbol))
      if (one) lines.push(this.compared(queries[query]!.text, one))
    }
    return lines
  }

  private compared(call: string, { how, text, actual }: Expected): string {
    if (how === 'null') return `${this.use('assertNull')}(${call});`
    if (how === 'true' || how === 'false') return `${this.use(how === 'true' ? 'assertTrue' : 'assertFalse')}(${call});`
    const compared = actual(call)
    if (compared.startsWith('Arrays.')) this.names.byName('java.util', 'Arrays')
    return `${this.use('assertEquals')}(${text}, ${compared}${how === 'decimal' && this.style.junit === 4 ? ', 0.0' : ''});`
  }

  private thrown(made: JavaTestCase, { type, message }: { readonly type: string; readonly message: string }): string[] {
    const symbol = this.throwable(type)
    const name = symbol && symbol.flags & Flags.Public ? this.names.nameOf(symbol) : 'Exception'
    const says = (caught: string) => (message === 'null' ? `${this.use('assertNull')}(${caught}.getMessage());` : `${this.use('assertEquals')}(${quoted(message)}, ${caught}.getMessage());`)
    if (this.style.junit === 5) return [`${name} thrown = ${this.use('assertThrows')}(${name}.class, () -> ${made.call});`, says('thrown')]
    return ['try {', `\t${made.call};`, `\t${this.use('fail')}("it ends as if nothing was wrong");`, `} catch (${name} thrown) {`, `\t${says('thrown')}`, '}']
  }

  private use(assertion: string): string { this.statics.add(assertion); return assertion }

  private test(name: string, body: readonly string[]): string[] {
    return ['@Test', `${this.style.junit === 4 ? 'public ' : ''}void ${name}() throws Exception {`, ...body.map(line => `\t${line}`), '}']
  }

  /** Lines of set-up that one test needs, with all that its doubles take. */
  setUpLines(): number {
    const doubles = [...this.samples.doubleMethods.values()].filter(({ name }) => this.subject.given.some(one => one.includes(`${name}(`)))
    return this.alone().length - 3 + doubles.reduce((sum, { lines }) => sum + lines.length - 2, 0)
  }

  private alone(): string[] {
    const { symbol, type, given } = this.subject
    const short = `return new ${symbol.name}${type.includes('<') ? '<>' : ''}(${given.join(', ')});`
    const built = short.length <= LINE - 8 ? [short] : [`${short.slice(0, short.indexOf('(') + 1)}`, ...given.map((one, at) => `\t${one}${at < given.length - 1 ? ',' : ');'}`)]
    return [`/** ${/^[AEIOU]/.test(symbol.name) ? 'An' : 'A'} ${symbol.name} by itself. */`, `private ${type} alone() throws Exception {`, ...built.map(line => `\t${line}`), '}']
  }

  /** The whole file; `recorder`: what only a recording needs. */
  private whole(recorder: readonly string[], tests: readonly string[], records = false): string {
    const { symbol, name, licence } = this.subject
    const isBuilt = records || tests.some(line => line.includes('= alone()'))
    const used = [...tests, ...(isBuilt ? this.subject.given : [])]
    const doubles = [...this.samples.doubleMethods.values()].filter(one => used.some(line => line.includes(`${one.name}(`))).flatMap(({ lines }) => ['', ...lines])
    const keepsCalls = records || [...used, ...doubles].some(line => line.includes('saw(')) || tests.some(line => line.includes(', calls)'))
    const keeping = keepsCalls ? [
      '/** What was asked of what is handed in. */', `private final ${this.names.byName('java.util', 'List')}<String> calls = new ${this.names.byName('java.util', 'ArrayList')}<>();`, '',
      'private <Answer> Answer saw(String call, Answer answer) {', '\tcalls.add(call);', '\treturn answer;', '}', ''
    ] : []
    const body = [...keeping, ...(isBuilt ? this.alone() : []), ...doubles, ...(recorder.length > 0 ? ['', ...recorder] : []), ...tests]
    const test = this.names.byName(this.style.junit === 5 ? 'org.junit.jupiter.api' : 'org.junit', 'Test')
    const text = body.join('\n')
    const said = (word: string) => new RegExp(`(?<![\\w.])${word}\\b`).test(text)
    const assertions = this.style.junit === 5 ? 'org.junit.jupiter.api.Assertions' : 'org.junit.Assert'
    const imports = [...this.names.needed].filter(one => said(one.slice(one.lastIndexOf('.') + 1)) || one.endsWith(`.${test}`)).sort().map(one => `import ${one};`)
    const statics = [...this.statics].filter(said).sort().map(one => `import static ${assertions}.${one};`)
    const lines = [
      ...licence, ...(symbol.packageName === '' ? [] : [`package ${symbol.packageName};`, '']), ...statics, ...(statics.length > 0 ? [''] : []), ...imports, '',
      records ? '/** Records what a class does. */' : `/** Characterization tests: they hold what ${symbol.name} does now, as seen by running it, whether or not it should. */`,
      `${this.style.junit === 4 ? 'public ' : ''}class ${name} {`, ...body.map(line => (line === '' ? '' : `\t${line}`)), '}'
    ].filter((line, at, all) => line !== '' || all[at - 1] !== '')
    return lines.map(line => { const [, tabs, rest] = /^(\t*)(.*)$/s.exec(line)!; return tabs!.replaceAll('\t', this.style.indent) + rest! }).join(this.style.lineEnd) + this.style.lineEnd
  }
}

/** Names of test methods, by what each case calls. */
function testNames(cases: readonly JavaTestCase[]): string[] {
  const taken = new Set(['records', 'alone', 'saw'])
  return cases.map(({ name, member }) => {
    const words = name.slice(member.length).replace(/(\d)\.(\d)/g, '$1_$2').match(/\w+/g) ?? []
    const whole = member + words.map(upperFirst).join('')
    let free = whole
    for (let n = 2; taken.has(free); n++) free = `${whole}_${n}`
    taken.add(free)
    return free
  })
}
