import { seededRandom } from '@hollowmoor/core/graph/random'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { jdkPrograms } from '@hollowmoor/host/java-compiler'
import type { Files } from '../../core/test/java.js'
import { readJava } from '../../core/test/java.js'
import { expectTheSame } from './java-running.js'

// What programs do can only be seen where they can be run.
const withJdk = jdkPrograms() ? test : test.skip

const ROUNDS = 60

withJdk('what touches the outside does elsewhere what it did, over random methods', () => {
  const draw = seededRandom(20261134), upTo = (count: number) => Math.floor(draw() * count), counts = { whole: 0, statements: 0, several: 0 }
  expectTheSame(ROUNDS, 36, name => program(name, upTo), (files, round) => {
    const { survey, language, state } = readJava(files)
    const offers = offersOf(survey, language.writer(state), undefined, 'extract-class').filter(one => one.subject === `r${round}.P` && one.id.includes(':file-system'))
    const offer = offers.find(one => one.id.includes('+')) ?? offers[upTo(offers.length)]
    if (!offer) return { refusal: 'not offered' }
    counts[offer.id.includes('+') ? 'several' : offer.id.includes('@') ? 'statements' : 'whole']++
    const outcome = planStep(offer.id, { held: ['made', 'handed'][upTo(2)]! }, survey, language.writer(state))
    if (outcome.refused) throw new Error(`${offer.id}: ${outcome.message}\n${files[`r${round}/P.java`]!}`)
    return Object.fromEntries(outcome.changes.map(change => [change.path, change.after!]))
  })
  expect([counts.whole > 10, counts.statements > 10, counts.several > 3]).toEqual([true, true, true])
}, 180_000)

/** A class whose methods look at files among what they compute, over fields that are set again, are not, or are made with it. */
function program(name: string, upTo: (count: number) => number): Files {
  const pick = (...from: readonly string[]) => from[upTo(from.length)]!
  const value = () => pick('n', 'mark.length()', 'this.count', 'most', 'Log.tick(n)', 'twice(n)', 'log.size()', '7', 'LIMIT')
  const seen = () => pick('Files.exists(Path.of(mark + n))', `Files.exists(Path.of("x" + ${value()}))`, 'Files.isDirectory(Path.of("/"))', `(Files.list(Path.of("/")).count() > 0 && ${value()} > 2)`)
  const touch = (at: number) => pick(`boolean there${at} = ${seen()};`, `if (${seen()}) Log.tick(${value()});`, `log.add("" + ${seen()} + ${value()});`, `int size${at} = ${seen()} ? ${value()} : 0;`)
  const work = (at: number) => pick(`count += ${value()};`, `Log.tick(${value()});`, `int sum${at} = ${value()} + ${value()};`, `log.add("" + ${value()});`, `if (n > ${upTo(4)}) { Log.tick(${value()}); }`, `for (int each = 0; each < ${upTo(3)}; each++) { Log.tick(each); if (each > 1) break; }`)
  const method = (of: string, touches: number) => {
    const lines = Array.from({ length: 2 + upTo(4) }, (_, at) => work(at))
    for (let at = 0; at < touches; at++) lines.splice(upTo(lines.length + 1), 0, touch(at + 10))
    const given = lines.flatMap(line => /^(?:int|boolean) (\w+) =/.exec(line)?.[1] ?? [])
    const end = `return "end" + ${given.length > 0 && upTo(2) === 0 ? given[upTo(given.length)]! : 'n'};`, form = upTo(3)
    const inner = [...lines, ...(form === 0 ? [end] : [])].map(line => `            ${line}\n`).join('')
    const body = form === 0 ? `        try {\n${inner}        } finally {\n            Log.tick(1);\n        }\n` : form === 1 ? `        if (n > 0) {\n${inner}        }\n        return "end" + n;\n` : [...lines, end].map(line => `        ${line}\n`).join('')
    return `    public String ${of}(int n) throws IOException {\n${body}    }\n\n`
  }
  const look = `    ${pick('public ', 'private ')}String look(int n) throws IOException {\n        log.add("look");\n        return "" + ${seen()} + most + (n > LIMIT ? LIMIT : n);\n    }\n\n`
  const log = pick('private final Log log = new Log();', 'private final Log log;'), isMade = log.includes('=')
  return {
    [`${name}/Log.java`]: `package ${name};\npublic class Log { static final StringBuilder all = new StringBuilder(); private int own = 0; static int tick(int n) { all.append("t" + n + " "); return n; } void add(String text) { own++; all.append(text + own + " "); } int size() { return own; } }\n`,
    [`${name}/P.java`]: `package ${name};\n\nimport java.io.IOException;\nimport java.nio.file.Files;\nimport java.nio.file.Path;\n\npublic class P {\n    private static final int LIMIT = ${upTo(5)};\n    private int count = 1;\n    final int most = ${upTo(9)};\n    ${log}\n    ${pick('private', 'protected')} final String mark;\n\n    public P(String mark) {\n        this.mark = mark;\n${isMade ? '' : '        this.log = new Log();\n'}    }\n\n    public int twice(int n) { return n > count ? Log.tick(n) * 2 : n + 1; }\n\n    public boolean odd(int n) { return n % 2 == 1 && count > 0; }\n\n${method('work', 1 + upTo(2))}${look}${method('more', upTo(3))}    public String all(int n) throws IOException { return look(n) + count; }\n}\n`,
    [`${name}/Main.java`]: `package ${name};\npublic class Main { public static String told() { try { P p = new P("a"); Log.all.append(p.work(2) + p.more(5) + p.all(1) + p.work(1) + p.odd(3) + p.twice(9)); } catch (java.io.IOException e) { Log.all.append(e); } return Log.all.toString(); } }\n`
  }
}
