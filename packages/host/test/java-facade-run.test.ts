import { seededRandom } from '@hollowmoor/core/graph/random'
import { planStep } from '@hollowmoor/core/remedy/catalogue'
import { jdkPrograms } from '@hollowmoor/host/java-compiler'
import type { Files } from '../../core/test/java.js'
import { readJava } from '../../core/test/java.js'
import { expectTheSame, printedBy } from './java-running.js'

// What programs do can only be seen where they can be run.
const withJdk = jdkPrograms() ? test : test.skip

const ROUNDS = 24

withJdk('a facade keeps what runs, how often and in which order, over random statements', () => {
  const draw = seededRandom(20261129), upTo = (count: number) => Math.floor(draw() * count)
  expectTheSame(ROUNDS, ROUNDS - 6, name => program(name, upTo), (files, round) => {
    const { language, state } = readJava(files)
    const outcome = language.writer(state).introduceFacade({ type: `r${round}.A`, sequence: `r${round}.P.run`, name: null, method: null, face: round % 2 === 0 ? 'call' : 'steps', withDefault: false })
    return outcome.refused ? { refusal: outcome.message } : Object.fromEntries(outcome.changes.map(change => [change.path, change.after!]))
  })
}, 120_000)

/** Two classes that do the same over three others, with arguments that look at what the others do. */
function program(name: string, upTo: (count: number) => number): Files {
  const calls = Array.from({ length: 3 + upTo(3) }, () => upTo(4))
  const argument = () => ['1', 'n', `Log.tick(${upTo(9)})`, 'count', 'next()', 'a.size()', 'n + b.size()', '"x".length() + n', '(n > 2 ? Log.tick(n) : count)'][upTo(9)]!
  const body = () => [`C c = new C(${argument()});`, ...calls.map(call => [`a.a(${argument()});`, `b.b(${argument()}, ${argument()});`, `c.c(${argument()});`, `if (c.c(${argument()}) > 3) a.a(${argument()});`][call]!)].map(line => `        ${line}\n`).join('')
  const client = (own: string) => `package ${name};\npublic class ${own} {\n    private int count = 1;\n    private final A a;\n    private final B b;\n    public ${own}(A a, B b) { this.a = a; this.b = b; }\n    int next() { count++; Log.add("next" + count); return Log.tick(count); }\n    public void run(int n) {\n${body()}    }\n}\n`
  return {
    [`${name}/Log.java`]: `package ${name};\npublic class Log { static final StringBuilder all = new StringBuilder(); static void add(String text) { all.append(text).append(' '); } static int tick(int n) { add("tick" + n); return n; } }\n`,
    [`${name}/A.java`]: `package ${name};\npublic class A { private int sum = 0; public void a(int n) { Log.add("a" + n); sum += n; } public int size() { return sum; } }\n`,
    [`${name}/B.java`]: `package ${name};\npublic class B { private int sum = 0; public void b(int n, int m) { Log.add("b" + n + "," + m); sum += n * m; } public int size() { return sum; } }\n`,
    [`${name}/C.java`]: `package ${name};\npublic class C { private int sum = 0; private final int at; public C(int at) { this.at = at; ${upTo(2) === 0 ? 'Log.add("c" + at);' : ''} } public int c(int n) { sum += n; Log.add("c" + at + "," + sum); return sum; } }\n`,
    [`${name}/P.java`]: client('P'), [`${name}/Q.java`]: client('Q'),
    [`${name}/Main.java`]: `package ${name};\npublic class Main { public static String told() { A a = new A(); B b = new B(); P p = new P(a, b); Q q = new Q(a, b); p.run(2); q.run(5); p.run(1); return Log.all.toString(); } }\n`
  }
}

/** What is refused of lines that are drawn by lot. */
const ALL_RIGHT = /leaves the method, sets something outside|is used behind|calls nothing of the project|holds one statement alone|variables that are set again/

withJdk('so it does for statements that are shown by lines that are drawn by lot', () => {
  const draw = seededRandom(20261131), upTo = (count: number) => Math.floor(draw() * count)
  const rounds = Array.from({ length: 80 }, (_, round) => ({ round, files: shownProgram(`r${round}`, upTo), from: 8 + upTo(6), length: 1 + upTo(5), face: upTo(4) === 0 ? 'steps' : 'call' }))
  const planned = rounds.flatMap(({ round, files, from, length, face }) => {
    const { survey, language, state } = readJava(files)
    const outcome = planStep(`introduce-facade:r${round}.P:shown`, { lines: `${from}-${from + length}`, face }, survey, language.writer(state))
    if (!outcome.refused) return [{ files, changed: Object.fromEntries(outcome.changes.map(change => [change.path, change.after!])) }]
    expect(outcome.message).toMatch(ALL_RIGHT)
    return []
  })
  // What was planned is run; the packages keep their names.
  const nameOf = (files: Files) => Object.keys(files)[0]!.split('/')[0]!
  const all: Files = { 'All.java': `public class All { public static void main(String[] args) { ${planned.map(one => `System.out.println("${nameOf(one.files)} " + ${nameOf(one.files)}.Main.told());`).join(' ')} } }\n` }
  const together = (of: (one: typeof planned[number]) => Files): Files => Object.assign({}, ...planned.map(of), all) as Files
  expect(printedBy(together(one => ({ ...one.files, ...one.changed })))).toEqual(printedBy(together(one => one.files)))
  expect(planned.length).toBeGreaterThanOrEqual(30)
}, 120_000)

/** A class over two others, whose statements read its fields and variables in operators and conditions. */
function shownProgram(name: string, upTo: (count: number) => number): Files {
  const value = () => ['1', 'n', 'k', 'count', '(k + n)', '(count * 2 - n)', `Log.tick(${upTo(9)})`, 'next()', '(a.size() + count)', '(n > count ? n : k)', '-k', '(n % 3)'][upTo(12)]!
  const truth = () => ['n > count', 'a.size() < n', '!isOdd', 'isOdd && n > 1', `${value()} == 2`][upTo(5)]!
  const line = () => [`a.a(${value()});`, `b.b(${value()}, ${value()});`, `if (${truth()}) b.b(${value()}, 1);`, `for (int i = 0; i < 2; i++) a.a(i + ${value()});`, `while (b.size() < n) b.b(${value()} + 40, 7);`, `int v${upTo(1000000)} = ${value()} + a.size();`, `String t${upTo(1000000)} = "k" + ${value()};`, 'count++;', `k = ${value()};`][Math.min(upTo(14), upTo(9))]!
  return {
    [`${name}/P.java`]: `package ${name};\npublic class P {\n    private int count = 1; private final boolean isOdd = ${upTo(2) === 0}; private final A a; private final B b;\n    public P(A a, B b) { this.a = a; this.b = b; }\n    int next() { count++; Log.add("next" + count); return Log.tick(count); }\n    public void run(int n) {\n        int k = n;\n${Array.from({ length: 8 }, line).map(one => `        ${one}\n`).join('')}        Log.add("k" + k);\n    }\n}\n`,
    [`${name}/Log.java`]: `package ${name};\npublic class Log { static final StringBuilder all = new StringBuilder(); static void add(String text) { all.append(text).append(' '); } static int tick(int n) { add("tick" + n); return n; } }\n`,
    [`${name}/A.java`]: `package ${name};\npublic class A { private int sum = 0; public void a(int n) { Log.add("a" + n); sum += n; } public int size() { return sum; } }\n`,
    [`${name}/B.java`]: `package ${name};\npublic class B { private int sum = 0; public void b(int n, int m) { Log.add("b" + n + "," + m); sum += Math.abs(n) + m; } public int size() { return sum; } }\n`,
    [`${name}/Main.java`]: `package ${name};\npublic class Main { public static String told() { A a = new A(); B b = new B(); P p = new P(a, b); p.run(2); p.run(5); p.run(1); return Log.all.toString(); } }\n`
  }
}
