import { seededRandom } from '@hollowmoor/core/graph/random'
import { jdkPrograms } from '@hollowmoor/host/java-compiler'
import type { Files } from '../../core/test/java.js'
import { readJava } from '../../core/test/java.js'
import { expectTheSame } from './java-running.js'

// What programs do can only be seen where they can be run.
const withJdk = jdkPrograms() ? test : test.skip

const ROUNDS = 44

withJdk('a class for each branch does what its branch did, as often and in the same order, over random chains', () => {
  const draw = seededRandom(20261130), upTo = (count: number) => Math.floor(draw() * count)
  expectTheSame(ROUNDS, ROUNDS - 12, name => program(name, upTo), (files, round) => {
    const { language, state } = readJava(files), type = `r${round}.P`
    const writer = language.writer(state), [place] = writer.typeSwitches(type)
    const outcome = place && writer.replaceTypeSwitch({ type, place: place.key, name: null, withDefault: round % 3 !== 0 })
    return !outcome || outcome.refused ? { refusal: (outcome?.message ?? 'not offered') + files[`r${round}/P.java`]! } : Object.fromEntries(outcome.changes.map(change => [change.path, change.after!]))
  })
}, 120_000)

/** A class whose method, of an object or static, chooses by a chain or a row of conditions, and a program that asks it for each kind, and for none. */
function program(name: string, upTo: (count: number) => number): Files {
  const of = (texts: readonly string[]): string => texts[upTo(texts.length)]!
  const by = of(['same', 'equal', 'equal-to', 'type', 'named']), isRow = upTo(2) === 0, mode = of(isRow ? ['returned', 'runs'] : ['returned', 'set', 'runs']), still = upTo(3) === 0 ? 'static ' : ''
  const isByType = by === 'type' || by === 'named', type = isByType ? 'C' : by === 'same' ? 'Kind' : 'String'
  // Only a variable can be named anew; texts are kinds where a member of the project gives them.
  const look = by.startsWith('equal') || (by !== 'named' && upTo(3) === 0) ? 'holder.getIt()' : 'it'
  const known = (at: number) => (by === 'named' ? of([`c${at}.a${at}`, `c${at}.tick()`]) : by === 'type' ? (look === 'it' ? of([`((C${at}) it).a${at}`, 'it.all']) : 'holder.getIt().all') : 'n')
  const value = (at: number) => of(['1', 'n', `Log.tick(${upTo(9)})`, 'count', 'n + log.size()', '(n > 2 ? Log.tick(n) : base)', 'base * 2', 'steps[1]', known(at), `Log.tick(${known(at)})`])
  const run = (at: number) => of([`log.a(${value(at)});`, `Log.tick(${value(at)});`, `if (${value(at)} > 2) { log.a(${value(at)}); }`, 'for (int one : steps) { if (one > n) break; Log.tick(one); }', `int own = ${value(at)}; Log.tick(own);`])
  const fail = (at: number) => `throw new IllegalStateException("e" + ${value(at)});`
  const end = (at: number) => (upTo(6) === 0 ? fail(at) : mode === 'returned' ? `return ${value(at)};` : mode === 'set' ? `out = ${value(at)};` : isRow ? 'return;' : '')
  const test = (at: number) => ({ same: `${look} == Kind.K${at}`, equal: `${look}.equals("k${at}")`, 'equal-to': `"k${at}".equals(${look})`, type: `${look} instanceof C${at}`, named: `${look} instanceof C${at} c${at}` })[by]!
  const labels = [0, 1, 2, 3].slice(0, 3 + upTo(2)), both = by !== 'named' && upTo(3) === 0
  const conditions = labels.map(at => `if (${test(at)}${both && at === 1 ? ` || ${test(isByType ? 5 : 4)}` : ''}) { ${(both && at === 1 && isByType ? 'Log.tick(n);' : run(at))} ${both && at === 1 && isByType ? mode === 'returned' ? 'return n;' : mode === 'set' ? 'out = n;' : isRow ? 'return;' : '' : end(at)} }`)
  const hasOther = mode === 'set' || upTo(2) === 0
  const other = `{ Log.tick(base); ${mode === 'returned' ? 'return n;' : mode === 'set' ? 'out = base;' : ''} }`
  const rest = mode === 'returned' ? '        Log.tick(77);\n        return base;\n' : '        Log.tick(88);\n'
  const chain = isRow ? `        ${conditions.join('\n        ')}\n${rest}` : `        ${conditions.join(' else ')}${hasOther ? ` else ${other}` : ''}\n${mode === 'returned' && hasOther ? '' : rest}`
  const body = `        int base = Log.tick(n);\n${mode === 'set' ? '        int out;\n' : ''}${chain}${mode === 'set' ? '        return out;\n' : ''}`
  const all = isByType ? 'new C(), new C0(), new C1(), new C2(), new C3(), new C5(), null' : by === 'same' ? 'Kind.K0, Kind.K1, Kind.K2, Kind.K3, Kind.K4, null' : '"k0", "k1", "k2", "k3", "k4", "other", null'
  const asked = mode === 'runs' ? 'p.run(it, new H(it), n);' : 'Log.add("= " + p.run(it, new H(it), n));'
  return {
    [`${name}/Log.java`]: `package ${name};\npublic class Log { static final StringBuilder all = new StringBuilder(); private int sum = 0; public static void add(String text) { all.append(text).append(' '); } public static int tick(int n) { add("tick" + n); return n; } public void a(int n) { add("a" + n); sum += n; } public int size() { return sum; } }\n`,
    [`${name}/Kind.java`]: `package ${name};\npublic enum Kind { K0, K1, K2, K3, K4 }\n`,
    [`${name}/C.java`]: `package ${name};\npublic class C { public int all = 9; public int tick() { return Log.tick(all); } }\n`,
    ...Object.fromEntries([0, 1, 2, 3, 5].map(at => [`${name}/C${at}.java`, `package ${name};\npublic class C${at} extends ${at === 2 ? 'C1' : 'C'} { public int a${at} = ${at + 20}; }\n`])),
    [`${name}/H.java`]: `package ${name};\npublic class H { private ${type} it; public H(${type} it) { this.it = it; } public ${type} getIt() { return it; } }\n`,
    [`${name}/P.java`]: `package ${name};\npublic class P {\n    private ${still}int count = 1;\n    private ${still}final int[] steps = { 1, 2, 3 };\n    private ${still}Log log;\n    public P(Log log) { ${still === '' ? 'this' : 'P'}.log = log; }\n    public ${still}${mode === 'runs' ? 'void' : 'int'} run(${type} it, H holder, int n) {\n        count++;\n${body}    }\n}\n`,
    [`${name}/Main.java`]: `package ${name};\npublic class Main { public static String told() { P p = new P(new Log()); for (int n = 1; n < 6; n += 2) for (${type} it : new ${type}[] { ${all} }) { try { ${asked} } catch (IllegalStateException error) { Log.add("! " + error.getMessage()); } catch (NullPointerException error) { Log.add("! null"); } } return Log.all.toString(); } }\n`
  }
}
