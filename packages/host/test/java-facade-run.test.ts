import { seededRandom } from '@hollowmoor/core/graph/random'
import { jdkPrograms } from '@hollowmoor/host/java-compiler'
import type { Files } from '../../core/test/java.js'
import { readJava } from '../../core/test/java.js'
import { expectTheSame } from './java-running.js'

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
