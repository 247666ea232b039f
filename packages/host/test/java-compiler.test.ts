import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { JavaCompiler, jdkPrograms } from '@hollowmoor/host/java-compiler'

const programs = jdkPrograms()
const SOURCES = new Map([
  ['a/Gate.java', 'package a;\n\npublic class Gate { public int height() { return 3; } }\n'],
  ['a/Lock.java', 'package a;\n\nclass Lock { int full = new Gate().height(); Missing missing; }\n']
])
let compiler: JavaCompiler
beforeEach(() => { if (programs) compiler = new JavaCompiler(programs) })
afterEach(() => compiler?.close())

// The compiler is the JDK's: without one there is nothing to ask.
const withJdk = programs ? describe : describe.skip

withJdk('the JDK\'s compiler', () => {
  const asked = (changes: [string, string | null][]) => compiler.newErrors('1', SOURCES, ['-proc:none'], new Map(changes))

  test('tells what a change makes wrong, and not what was wrong before', async () => {
    expect(await asked([])).toEqual([])
    expect(await asked([['a/Gate.java', 'package a;\n\npublic class Gate { public String height() { return ""; } }\n']])).toEqual(['a/Lock.java:3: incompatible types: java.lang.String cannot be converted to int'])
  })

  test('finds what shows only where code is made', async () => {
    // What a generic call gives is cast to what the constructor takes, which cannot be seen from here.
    const hidden = new Map([
      ['p/Root.java', 'package p;\nclass Root { }\n'], ['p/Leaf.java', 'package p;\npublic class Leaf extends Root { }\n'],
      ['p/Holder.java', 'package p;\npublic class Holder { public Holder(Root root) { } }\n'], ['q/Use.java', 'package q;\nclass Use { Object o = new p.Holder(new p.Leaf()); }\n']
    ])
    const changed = 'package q;\nclass Use { Object o(java.util.function.Supplier<p.Leaf> leaf) { return new p.Holder(leaf.get()); } }\n'
    expect(await compiler.newErrors('3', hidden, ['-proc:none'], new Map([['q/Use.java', changed]]))).toEqual([expect.stringContaining('p.Root is not public in p')])
  })

  test('what did not compile where it stood may go elsewhere, as often as it stood there', async () => {
    const whole = 'package a;\n\nclass Lock { int full = new Gate().height(); }\n', moved = 'package a;\n\nclass Moved { Missing missing; }\n'
    expect(await asked([['a/Lock.java', whole], ['a/Moved.java', moved]])).toEqual([])
    expect(await asked([['a/Moved.java', moved]])).toEqual([expect.stringContaining('a/Moved.java:3: cannot find symbol')])
    expect(await asked([['a/Lock.java', whole], ['a/Moved.java', moved.replace('missing;', 'missing, other; Missing third;')]])).toHaveLength(1)
    expect(await asked([['a/Lock.java', whole], ['a/Moved.java', moved.replace('Missing missing', 'Absent absent')]])).toEqual([expect.stringContaining('class Absent')])
  })

  test('a library that is missing may be named in one more file, and no other', async () => {
    const desk = 'package a;\n\nimport far.away.Signal;\n\nclass Desk { Signal signal; int tell() { return signal.tell(); } }\n'
    const sources = new Map([...SOURCES, ['a/Desk.java', desk]]), face = desk.replaceAll('Desk', 'Face')
    const told = (text: string) => compiler.newErrors('4', sources, ['-proc:none'], new Map([['a/Face.java', text]]))
    expect(await told(face)).toEqual([])
    expect(await told(face.replace('far.away', 'near.by'))).toEqual([expect.stringContaining('package near.by does not exist'), expect.stringContaining('class Signal')])
    expect(await told(face.replace('int tell()', 'Lamp lamp; int tell()'))).toEqual([expect.stringContaining('class Lamp')])
  })

  test('what did not compile is the same in another package, with what is handed on of another type, and of a class that is missing in its package', async () => {
    const sources = new Map([
      ['a/Base.java', 'package a;\nclass Base extends Far { void use(Gate gate) { check(gate); } Widget made() { return new Base(); } }\n'], ['a/Gate.java', 'package a;\nclass Gate { }\n'], ['a/Widget.java', 'package a;\npublic class Widget { }\n'],
      ['b/Lib.java', 'package b;\npublic class Lib { }\n'], ['a/Uses.java', 'package a;\nimport b.Lost;\nclass Uses { }\n']
    ])
    const asked = (changes: [string, string | null][]) => compiler.newErrors('5', sources, ['-proc:none'], new Map(changes))
    const narrowed: [string, string | null][] = [['a/GatePort.java', 'package a;\ninterface GatePort { }\n'], ['a/Gate.java', 'package a;\nclass Gate implements GatePort { }\n'], ['a/Base.java', sources.get('a/Base.java')!.replace('Gate gate', 'GatePort gate')]]
    expect(await asked(narrowed)).toEqual([])
    expect(await asked([...narrowed.slice(0, 2), ['a/Base.java', narrowed[2]![1]!.replace('check(gate);', 'check(gate); check(gate);')]])).toHaveLength(1)
    expect(await asked([['a/Base.java', null], ['c/Base.java', sources.get('a/Base.java')!.replace('package a;', 'package c;\nimport a.Widget;').replace('void use(Gate gate) { check(gate); }', '')]])).toEqual([])
    expect(await asked([['a/More.java', 'package a;\nimport b.Lost;\nclass More { }\n']])).toEqual([])
    expect(await asked([['a/More.java', 'package a;\nimport b.Lost;\nclass More { Lost lost; }\n']])).toEqual([])
    expect(await asked([['a/More.java', 'package a;\nimport b.Gone;\nclass More { }\n']])).toHaveLength(1)
  })

  test('sees files that come and go', async () => {
    expect(await asked([['a/Missing.java', 'package a;\nclass Missing { }\n']])).toEqual([])
    expect((await asked([['a/Gate.java', null]]))![0]).toMatch(/^a\/Lock\.java:3: cannot find symbol.*class Gate/)
  })

  test('answers in order when asked at once, and anew for other sources', async () => {
    const [first, second] = await Promise.all([asked([['a/Gate.java', 'package a;\nclass Gate { }\n']]), asked([])])
    expect([first!.length > 0, second]).toEqual([true, []])
    expect(await compiler.newErrors('2', new Map([['B.java', 'class B { }']]), [], new Map([['B.java', 'class B { int x = "a"; }']]))).toEqual(['B.java:1: incompatible types: java.lang.String cannot be converted to int'])
  })
})

test('a JDK that is none gives no answer', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'hollowmoor-jdk-'))
  const broken = new JavaCompiler(folder)
  expect(await broken.newErrors('1', SOURCES, [], new Map())).toBeUndefined()
  broken.close()
  rmSync(folder, { recursive: true, force: true })
})

test('a JDK is found by JAVA_HOME and by the search path, and only where it has a compiler', () => {
  expect(jdkPrograms({ PATH: '/nowhere:/no/where' })).toBeUndefined()
  if (programs) expect(jdkPrograms({ PATH: programs })).toBe(programs)
})
