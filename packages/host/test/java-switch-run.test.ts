import { seededRandom } from '@hollowmoor/core/graph/random'
import { jdkPrograms } from '@hollowmoor/host/java-compiler'
import type { Files } from '../../core/test/java.js'
import { readJava } from '../../core/test/java.js'
import { expectTheSame } from './java-running.js'

// What programs do can only be seen where they can be run.
const withJdk = jdkPrograms() ? test : test.skip

const ROUNDS = 56

withJdk('a class for each case does what its case did, as often and in the same order, over random switches', () => {
  const draw = seededRandom(20261130), upTo = (count: number) => Math.floor(draw() * count)
  expectTheSame(ROUNDS, ROUNDS - 12, name => program(name, upTo), (files, round) => {
    const { language, state } = readJava(files)
    const outcome = language.writer(state).replaceTypeSwitch({ type: `r${round}.P`, place: 'run', name: null, withDefault: round % 3 !== 0 })
    return outcome.refused ? { refusal: outcome.message + files[`r${round}/P.java`]! } : Object.fromEntries(outcome.changes.map(change => [change.path, change.after!]))
  })
}, 120_000)

/** A class whose method, of an object or static, chooses among kinds in one of eight ways, and a program that asks it for each kind. */
function program(name: string, upTo: (count: number) => number): Files {
  const of = (texts: readonly string[]): string => texts[upTo(texts.length)]!
  const value = (): string => of(['1', 'n', `Log.tick(${upTo(9)})`, 'count', 'a.size()', 'n + a.size()', '"x".length() + n', '(n > 2 ? Log.tick(n) : base)', 'base * 2', 'limit', ...(mode === 'kept' ? ['out', 'Log.tick(out)'] : [])])
  const call = () => of([`a.a(${value()});`, `Log.tick(${value()});`, `if (${value()} > 2) { a.a(${value()}); }`, 'for (int one = 1; one < 4; one++) { if (one > n) break; Log.tick(one); }', ...(mode === 'kept' ? [`out = ${value()};`, `out += ${value()};`, 'if (n > 1) out++;'] : [])])
  const early = () => (mode === 'ends early' || (mode === 'kept' && upTo(3) === 0) ? of([`if (${value()} > 3) break;`, `if (n > 1) { ${call()} break; }`, `try { if (${value()} > 2) break; ${call()} } finally { Log.tick(55); }`, '']) : '')
  const calls = () => Array.from({ length: upTo(3) }, () => `${call()} ${early()}`).join(' ')
  const fail = () => `throw new IllegalStateException("e" + ${value()});`
  const labels = ['ONE', 'TWO', 'THREE', 'FOUR', 'FIVE'].slice(0, 3 + upTo(3)), mode = of(['returned', 'set', 'runs', 'ends early', 'value', 'arrows', 'kept', 'field']), still = upTo(3) === 0 ? 'static ' : ''
  const end = () => (upTo(6) === 0 ? fail() : mode === 'returned' ? (upTo(3) === 0 ? `if (${value()} > 3) return ${value()}; return ${value()};` : `return ${value()};`) : mode === 'set' || mode === 'field' ? `${mode === 'set' ? 'out' : 'count'} = ${value()}; break;` : 'break;')
  const clauses = labels.map((label, at) => `            case ${label}:${upTo(4) === 0 && at < labels.length - 1 ? '' : ` ${calls()} ${end()}`}\n`).join('')
  const arrow = (label: string) => `            ${label} -> ${mode === 'arrows' ? `{ ${calls()} }` : of([`${value()};`, `{ ${calls()} yield ${value()}; }`, fail()])}\n`
  const arrows = labels.map(label => arrow(`case ${label}`)).join('') + arrow('default')
  const hasDefault = mode === 'set' || mode === 'field' || upTo(3) > 0
  const body = mode === 'value' ? `        int out = switch (kind) {\n${arrows}        };\n        return out + 1;\n`
    : mode === 'arrows' ? `        switch (kind) {\n${arrows}        }\n        return base;\n`
      : `${mode === 'set' ? '        int out;\n' : mode === 'kept' ? '        int out = base;\n' : ''}        switch (kind) {\n${clauses}${hasDefault ? `            default: ${mode === 'set' || mode === 'field' ? `${mode === 'set' ? 'out' : 'count'} = ${value()};` : mode === 'returned' ? `return ${value()};` : calls()}\n` : ''}        }\n${mode === 'returned' && hasDefault ? '' : `        Log.tick(88);\n        return ${mode === 'set' || mode === 'kept' ? 'out' : 'base'};\n`}`
  return {
    [`${name}/Log.java`]: `package ${name};\npublic class Log { static final StringBuilder all = new StringBuilder(); public static void add(String text) { all.append(text).append(' '); } public static int tick(int n) { add("tick" + n); return n; } }\n`,
    [`${name}/Kind.java`]: `package ${name};\npublic enum Kind { ONE, TWO, THREE, FOUR, FIVE, SIX }\n`,
    [`${name}/A.java`]: `package ${name};\npublic class A { private int sum = 0; public void a(int n) { Log.add("a" + n); sum += n; } public int size() { return sum; } }\n`,
    [`${name}/P.java`]: `package ${name};\npublic class P {\n    private ${still}int count = 1;\n    private ${still}final int limit = 7;\n    private ${still}A a;\n    public P(A a) { ${still === '' ? 'this' : 'P'}.a = a; }\n    public ${still}int run(Kind kind, int n) {\n        count++;\n        int base = Log.tick(n);\n${body}    }\n}\n`,
    [`${name}/Main.java`]: `package ${name};\npublic class Main { public static String told() { P p = new P(new A()); for (int n = 1; n < 6; n += 2) for (Kind kind : Kind.values()) { try { Log.add("= " + p.run(kind, n)); } catch (IllegalStateException error) { Log.add("! " + error.getMessage()); } } return Log.all.toString(); } }\n`
  }
}
