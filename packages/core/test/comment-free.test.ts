import { seededRandom } from '@hollowmoor/core/graph/random'
import { CommentFree } from '@hollowmoor/core/read/syntax/comment-free'
import { JAVA_GRAMMAR } from '@hollowmoor/core/read/java/syntax'
import { tools } from './java.js'

const { tokens, unsure } = JAVA_GRAMMAR.comments!

test('comments go, what only looks like one stays', () => {
  const free = new CommentFree(tokens, unsure)
  const text = 'a /* b */ c // d\n"/* e */" \'"\' /* \' */ f /***/ g /*/ h */ """\n // i " \\""" /* j */ """ // k'
  expect(free.shorten(text)).toBe('a   c \n"/* e */" \'"\'   f   g   """\n // i " \\""" /* j */ """ ')
  expect(free.shorten('int a = 1;')).toBeUndefined()
  expect(free.shorten('"\\{ "/*" }" /* */')).toBeUndefined()
})

test('each offset is moved to where its letter stands in the whole text', () => {
  const free = new CommentFree(tokens, unsure)
  const text = '// one\n class A /* two */ { String s = "//"; } /** three */ // four\n/* five */ class B { } // six'
  const short = free.shorten(text)!
  for (const word of ['class A', '{ String', '"//"', '; }', 'class B', '}']) expect(text.startsWith(word, free.inWhole(short.indexOf(word)))).toBe(true)
  // Ends, too: what ends where a comment begins is not moved by it.
  expect(text.slice(free.inWhole(short.indexOf('class A')), free.inWhole(short.indexOf('class A') + 7))).toBe('class A')
})

test('random texts, whole and broken, give the tree that they give with their comments', () => {
  const random = seededRandom(41)
  const of = (from: readonly string[]): string => from[Math.floor(random() * from.length)]!
  const gaps = [' ', '\n', '\r\n', '\t', '/**/', '/***/', '/* " */', '/* \' */', '/*/ // */', '// "\n', '// /*\n', '/** {@code x}\n * y */\n', '//\r\n', '/* \u00e9\ud83d\ude00 */']
  const values = ['1', '"//"', '"/*"', '"*/"', '"\\""', '"\\\\"', '\'"\'', '\'\\\'\'', '\'/\'', '"""\n  // " /* \\"""\n  """', 'a /b', '(a)', 'f(a, b)']
  // An apostrophe, a quote, an opened comment: what breaks off in the middle.
  const broken = ['\'', '"', '/*', '*/', '}', '"""']
  const gap = (): string => Array.from({ length: 1 + Math.floor(random() * 2) }, () => of(gaps)).join('')
  const grammar = tools.grammar
  let failing = 0
  for (let round = 0; round < 600; round++) {
    const members = Array.from({ length: 1 + Math.floor(random() * 4) }, (_, n) => ['@X', 'int', `m${n}`, '(', 'int', 'a', ')', '{', 'return', of(values), '+', of(values), ';', '}'].flatMap(token => [token, gap()]).join(''))
    let text = gap() + ['package', 'p', ';', 'class', 'C', '{'].flatMap(token => [token, gap()]).join('') + members.join(gap()) + '}' + (random() < 0.5 ? gap() : random() < 0.5 ? '// end' : '')
    if (random() < 0.3) {
      const at = Math.floor(random() * text.length)
      text = text.slice(0, at) + of(broken) + text.slice(at)
    }
    const whole = grammar.recordsOfWhole(text)
    if (grammar.parse(text).contains(0, JAVA_GRAMMAR.errorKind)) failing++
    expect({ text, records: [...grammar.records(text)] }).toEqual({ text, records: [...whole] })
  }
  expect(failing).toBeGreaterThan(50)
})
