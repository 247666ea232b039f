import { seededRandom } from '@hollowmoor/core/graph/random'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { jdkPrograms } from '@hollowmoor/host/java-compiler'
import type { Files } from '../../core/test/java.js'
import { readJava } from '../../core/test/java.js'
import { expectTheSame } from './java-running.js'

// What programs do can only be seen where they can be run.
const withJdk = jdkPrograms() ? test : test.skip

const ROUNDS = 48

withJdk('a class extracted from another does what its members did, over random groups and constructors', () => {
  const draw = seededRandom(20261130), upTo = (count: number) => Math.floor(draw() * count)
  expectTheSame(ROUNDS, ROUNDS - 14, name => program(name, upTo), (files, round) => {
    const { survey, language, state } = readJava(files)
    const [offer] = offersOf(survey, language.writer(state)).filter(one => one.remedy === 'extract-class' && one.subject === `r${round}.P`)
    if (!offer) return { refusal: 'not offered' }
    const outcome = planStep(offer.id, {}, survey, language.writer(state))
    if (outcome.refused) throw new Error(`${outcome.message}\n${files[`r${round}/P.java`]!}`)
    return Object.fromEntries(outcome.changes.map(change => [change.path, change.after!]))
  })
}, 120_000)

/**
 * A class of two groups of members over a log each, which one or two constructors fill or which are made with it; both may use a third
 * log, a constant of the class, and a private method of one of them.
 */
function program(name: string, upTo: (count: number) => number): Files {
  const handed = upTo(3), word = () => (upTo(2) === 0 ? 'this.' : ''), shared = upTo(4), asks = upTo(3) === 0, isMost = upTo(3) === 0
  const both = [['Log both', '    private Log both;\n', '        this.both = both;\n'], ['', '    private final Log both = new Log();\n', ''], ['', '    final Log both;\n', '        both = new Log();\n'], ['', '', '']][shared] as [string, string, string]
  const group = (mark: string, isHanded: boolean) => {
    const log = `${mark}Log`, made = upTo(3) === 0 ? '' : `    private int ${mark}Count = ${upTo(4) === 0 ? `Log.tick("${mark}")` : upTo(9)};\n`
    const uses = `${shared === 3 ? '' : ` ${word()}both.add("" + n);`}${isMost ? ' if (n > MOST) n = MOST;' : ''}`
    const help = asks && mark === 'a' ? `    private int aHelp(int n) { return ${word()}${log}.add("help" + n)${made === '' ? '' : ' + aCount'}; }\n\n` : ''
    return {
      parameter: isHanded ? `Log ${log}` : '', fields: `    private ${upTo(2) === 0 ? 'final ' : ''}Log ${log}${isHanded ? '' : ' = new Log()'};\n${made}`, filling: isHanded ? `        this.${log} = ${log};\n` : '',
      methods: `    public int ${mark}One(int n) { ${word()}${log}.add("${mark}" + n);${uses} return n + ${made === '' ? '1' : `${mark}Count++`}; }\n\n    public String ${mark}Two() { return ${word()}${log}.add("two") + "${mark}"${asks ? ` + ${word()}aHelp(2)` : ''}; }\n\n${help}`
    }
  }
  const a = group('a', handed !== 1), b = group('b', handed > 0)
  const before = upTo(3) === 0 ? '        Log.tick("before");\n' : '', after = ['        aOne(7);\n', '        Log.tick("after");\n', ''][upTo(3)]!
  const parameters = [a.parameter, b.parameter, both[0]].filter(one => one !== '')
  const more = upTo(2) === 0 ? '' : `    public P(${parameters.join(', ')}, int n) {\n        this(${parameters.map(one => one.slice(4)).join(', ')});\n        Log.tick("more" + n);\n    }\n\n`
  const given = parameters.map(() => 'new Log()').join(', ')
  return {
    [`${name}/Log.java`]: `package ${name};\npublic class Log { static final StringBuilder all = new StringBuilder(); private int own = 0; public static int tick(String text) { all.append(text).append(' '); return all.length(); } public int add(String text) { own++; tick(text + own); return own; } }\n`,
    [`${name}/P.java`]: `package ${name};\n\npublic class P {\n${isMost ? '    private static final int MOST = 2;\n' : ''}${a.fields}${both[1]}${b.fields}    final int kept = Log.tick("kept");\n\n    public P(${parameters.join(', ')}) {\n${before}${a.filling}${both[2]}${b.filling}${after}    }\n\n${more}${a.methods}${b.methods}}\n`,
    [`${name}/Main.java`]: `package ${name};\npublic class Main { public static String told() { P p = new P(${given}${more === '' ? '' : ', 3'}); Log.tick("" + (p.aOne(1) + p.bOne(2) + p.aOne(3)) + p.aTwo() + p.bTwo() + p.kept); return Log.all.toString(); } }\n`
  }
}
