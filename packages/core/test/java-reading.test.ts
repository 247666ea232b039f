import { readFileSync } from 'node:fs'
import { JAVA_GRAMMAR, Kind } from '@hollowmoor/core/read/java/syntax'
import { readPom } from '@hollowmoor/core/read/java/project-files'
import { Grammar } from '@hollowmoor/core/read/syntax/grammar'
import { seededRandom } from '@hollowmoor/core/graph/random'
import { surveyDocumentPieces } from '@hollowmoor/core/export/survey-document'
import { measureProject } from '@hollowmoor/core/survey'
import { JAVA_WASM, javaLanguage, javaReferences, javaSource, readJava, tools, unboundIn } from './java.js'

const GATE = 'package water; public class Gate { public int level; public static int count; public static Gate make() { return new Gate(); } public void open() { level++; } }'

describe('a Java reference', () => {
  const table: [string, string, string[]][] = [
    ['a creation', 'Gate gate = new Gate();', ['Lock -> Gate creates', 'Lock -> Gate signature']],
    ['a call', 'void go(Gate gate) { gate.open(); }', ['Lock -> Gate signature', 'Lock -> Gate.open calls']],
    ['a static call', 'void go() { Gate.make(); }', ['Lock -> Gate reads', 'Lock -> Gate.make calls-static']],
    ['reads and writes of fields', 'int go(Gate gate) { gate.level = 1; gate.level++; return gate.level + Gate.count; }', ['Lock -> Gate reads', 'Lock -> Gate signature', 'Lock -> Gate.count reads', 'Lock -> Gate.level reads', 'Lock -> Gate.level writes']],
    ['type arguments', 'java.util.List<? extends Gate> gates;', ['Lock -> Gate type-argument type', 'Lock -> [java.util].List signature']],
    ['a method reference', 'Runnable go(Gate gate) { return gate::open; }', ['Lock -> Gate signature', 'Lock -> Gate.open calls', 'Lock -> [java.lang].Runnable signature']],
    ['a constructor reference', 'java.util.function.Supplier<Gate> go() { return Gate::new; }', ['Lock -> Gate creates', 'Lock -> Gate type-argument type', 'Lock -> [java.util.function].Supplier signature']],
    ['a lambda by what it is handed to', 'void go(java.util.List<Gate> gates) { gates.forEach(one -> one.open()); }', ['Lock -> Gate type-argument type', 'Lock -> Gate.open calls', 'Lock -> [java.lang].Iterable.forEach calls', 'Lock -> [java.util].List signature']],
    ['a throw and a catch', 'static class Stuck extends RuntimeException {} void go() { try { throw new Stuck(); } catch (Stuck e) { } }', ['Lock -> Stuck catches', 'Lock -> Stuck throws', 'Lock.Stuck -> [java.lang].RuntimeException extends']],
    ['an anonymous class, told as the class around it', 'Object go() { return new Gate() { @Override public void open() { super.open(); } }; }', ['Lock -> Gate creates', 'Lock -> Gate.open calls', 'Lock -> [java.lang].Object signature', 'Lock -> [java.lang].Override annotates']],
    ['a pattern', 'void go(Object any) { if (any instanceof Gate gate && gate.level > 1) gate.open(); }', ['Lock -> Gate reads', 'Lock -> Gate.level reads', 'Lock -> Gate.open calls', 'Lock -> [java.lang].Object signature']]
  ]
  test.each(table)('%s', (_, body, expected) => {
    const found = javaReferences({ 'water/Gate.java': GATE, 'locks/Lock.java': `package locks; import water.Gate; class Lock { ${body} }` })
    // The import counts where the snippet uses no name through it.
    expect(found.filter(line => !line.includes('imports-only')).map(line => line.replace('-> Lock.Stuck', '-> Stuck'))).toEqual(expected)
  })

  test('an import that nothing uses; one that leads to a used name is none', () => {
    expect(javaReferences({ 'water/Gate.java': GATE, 'locks/Lock.java': 'package locks; import water.Gate; class Lock { }' })).toEqual(['Lock -> Gate imports-only type'])
  })

  test('through single, on-demand and static imports, and by the whole name', () => {
    for (const text of ['import water.Gate; class Lock { Gate g; }', 'import water.*; class Lock { Gate g; }', 'class Lock { water.Gate g; }']) {
      expect(javaReferences({ 'water/Gate.java': GATE, 'locks/Lock.java': `package locks; ${text}` })).toEqual(['Lock -> Gate signature'])
    }
    for (const text of ['import static water.Gate.make;', 'import static water.Gate.*;']) {
      expect(javaReferences({ 'water/Gate.java': GATE, 'locks/Lock.java': `package locks; ${text} class Lock { void go() { make().open(); } }` })).toEqual(['Lock -> Gate.make calls-static', 'Lock -> Gate.open calls'])
    }
  })
})

describe('binding Java', () => {
  /** The parameters of the method `take` that the only call of it means. */
  const chosen = (declared: string[], call: string, more = ''): string | undefined => {
    // Each overload returns a class of its own, so that what is read from the result tells which one it was.
    const methods = declared.map((parameters, index) => `R${index} take(${parameters}) { return null; }`.replace('take(<', '<').replace(/^R(\d+) (<.*?>)/, '$2 R$1 take(')).join('\n')
    const results = declared.map((_, index) => `static class R${index} { int r${index}; }`).join('\n')
    const files = { 'A.java': `import java.util.*; import java.util.function.*; class A { ${results}\n${methods}\n${more}\nvoid go() { ${call}; } }` }
    const { state } = readJava(files)
    const call0 = state.facts.files[0]!
    expect(call0.unresolved.filter(one => !/^r\d+$/.test(one.name))).toEqual([])
    return declared.find((_, index) => readJava({ 'A.java': files['A.java'].replace(`${call};`, `int x = ${call}.r${index};`) }).state.facts.files[0]!.unresolved.length === 0)
  }

  const overloads: [string, string[], string, string][] = [
    ['the most specific', ['Object o', 'String s'], 'take("x")', 'String s'],
    ['a wider number before boxing', ['long l', 'Integer i'], 'take(1)', 'long l'],
    ['boxing before any number of arguments', ['Object o', 'int... all'], 'take(1)', 'Object o'],
    ['any number of arguments last', ['int a, int b', 'int... all'], 'take(1, 2)', 'int a, int b'],
    ['none at all for any number', ['String s', 'int... all'], 'take()', 'int... all'],
    ['a lambda by its number of parameters', ['Function<String, Integer> f', 'BiFunction<String, String, Integer> f'], 'take((a, b) -> 1)', 'BiFunction<String, String, Integer> f'],
    ['a lambda that gives a value', ['Runnable r', 'Supplier<String> s'], 'take(() -> "x")', 'Supplier<String> s'],
    ['a lambda that gives none', ['Runnable r', 'Supplier<String> s'], 'take(() -> System.out.println())', 'Runnable r'],
    ['the one that gives a value, where either would do', ['Runnable r', 'Callback<Integer> c'], 'take(() -> new ArrayList<String>().size())', 'Callback<Integer> c'],
    ['a character as a number', ['int i', 'Object o'], "take('c')", 'int i'],
    ['an array for an object', ['Object o', 'String s'], 'take(new int[0])', 'Object o']
  ]
  test.each(overloads)('chooses %s', (_, declared, call, expected) => {
    expect(chosen(declared, call, 'interface Callback<T> { T call() throws Exception; }')).toBe(expected)
  })

  const typed: [string, string][] = [
    ['a stream mapped and collected', 'var all = gates.stream().filter(g -> g.level > 0).map(g -> g.next()).collect(java.util.stream.Collectors.toList()); all.get(0).open();'],
    ['groups of a stream', 'gates.stream().collect(java.util.stream.Collectors.groupingBy(g -> g.name())).forEach((name, some) -> { name.length(); some.get(0).open(); });'],
    ['a comparator made of a method', 'gates.sort(java.util.Comparator.comparing(Gate::name).thenComparing(g -> g.level));'],
    ['a map computed into', 'var byName = new java.util.HashMap<String, java.util.List<Gate>>(); byName.computeIfAbsent("x", k -> new java.util.ArrayList<>()).add(gates.get(0)); byName.get("x").get(0).open();'],
    ['an optional', 'java.util.Optional.of(gates.get(0)).map(Gate::next).orElseThrow().open();'],
    ['a conditional', '(gates.isEmpty() ? gates.get(0) : gates.get(0).next()).open();'],
    ['a switch that gives a value', 'var one = switch (gates.size()) { case 0 -> gates.get(0); default -> { yield gates.get(0).next(); } }; one.open();'],
    ['an array of arrays', 'Gate[][] rows = { { new Gate() } }; rows[0][0].open(); for (var row : rows) for (var g : row) g.open();'],
    ['a wildcard', 'java.util.List<? extends Gate> some = gates; some.get(0).open(); java.util.function.Consumer<? super Gate> c = Gate::open; some.forEach(c);'],
    ['a bound', 'open2(gates.get(0)).open();'],
    ['the class of an object', 'gates.get(0).getClass().getName().length();'],
    ['a record taken apart', 'Object any = new Pair(gates.get(0), 1); if (any instanceof Pair(Gate g, int n)) g.open();'],
    ['an enum with bodies', 'for (Side side : Side.values()) side.of(gates.get(0)).open(); switch (Side.valueOf("LEFT")) { case LEFT: break; default: }'],
    ['a local class', 'class Twice { Gate g = gates.get(0); void go() { g.open(); } } new Twice().go();'],
    ['a resource', 'try (var reader = new java.io.StringReader("x")) { reader.read(); } catch (java.io.IOException | RuntimeException e) { e.getMessage().length(); }'],
    ['an inner class of an object', 'var lock = new Outer(); var in = lock.new Inner(); in.gate().open();'],
    ['text blocks and long sums', 'String s = """\n  x\n  """ + 1 + \'c\' + gates; s.length();']
  ]
  test.each(typed)('follows the types of %s', (_, body) => {
    const gate = 'class Gate { int level; String name() { return ""; } Gate next() { return this; } void open() {} }'
    const more = 'record Pair(Gate gate, int n) {} enum Side { LEFT { @Override Gate of(Gate g) { return g.next(); } }, RIGHT; Gate of(Gate g) { return g; } } class Outer { class Inner { Gate gate() { return null; } } }'
    expect(unboundIn({ 'Gate.java': `${gate} ${more}`, 'Use.java': `class Use { <T extends Gate> T open2(T t) { return t; } void go(java.util.List<Gate> gates) { ${body} } }` })).toEqual([])
  })

  test('what is not there is kept with its reason', () => {
    expect(unboundIn({ 'A.java': 'import gone.Away; class A { Missing m; void go() { lost(); m.x(); this.nothing = 1; "s".absent(); } }' })).toEqual([
      'import gone.Away;: the imported type is not found', 'Missing: no type of this name is found', 'lost: no method of this name is found',
      'x: the type of what it is called on is not known', 'nothing: no field of this name is found', 'absent: no method of this name is found'
    ])
  })

  test('members hide, are inherited, or are private as the language has it', () => {
    const files = {
      'p/A.java': 'package p; public class A { private int hidden; protected int seen; static class Part { int inA; } void here() {} public void all() {} }',
      'q/B.java': 'package q; import p.A; class Part { int inQ; } class B extends A { int hidden; void go() { hidden = seen; all(); Part part = new Part(); part.inQ++; } }'
    }
    expect(unboundIn(files)).toEqual([])
    expect(javaReferences(files).filter(line => line.includes('Part') || line.includes('hidden'))).toEqual(['B -> Part creates', 'B -> Part signature', 'B -> Part.inQ writes'])
  })
})

describe('the Java survey', () => {
  test('tells kinds, members, modules by package, and cycles among packages', () => {
    const { survey } = readJava({
      'src/main/java/a/One.java': 'package a;\n\npublic abstract class One {\n  protected final b.Two two = new b.Two();\n  abstract void go();\n  int n() { return 1; }\n}\n',
      'src/main/java/b/Two.java': 'package b;\npublic class Two { a.One one; }\ninterface Three { void go(); }\nenum Four { X, Y }\nrecord Five(int n) { }\n',
      'src/test/java/a/OneTest.java': 'package a;\nclass OneTest { One one; }\n'
    })
    const { model } = survey
    expect(model.types.map(type => `${type.id} ${type.kind} ${type.module}${type.test ? ' test' : ''}${type.inert ? ' inert' : ''}`)).toEqual([
      'a.One abstract-class a', 'b.Two class b inert', 'b.Three interface b', 'b.Four enum b inert', 'b.Five record b inert', 'a.OneTest class a test inert'
    ])
    expect(model.types[0]!.members.map(member => `${member.kind} ${member.name} ${member.public} ${member.abstract} ${member.logic}`)).toEqual(['field two false false false', 'method go false true false', 'method n false false false'])
    expect(survey.moduleCycles.map(cycle => cycle.members)).toEqual([['a', 'b']])
    expect(survey.modules.map(module => [module.id, module.ca, module.ce])).toEqual([['.', 0, 0], ['a', 1, 1], ['b', 1, 1]])
  })

  test('tells joints by where a collaborator comes from', () => {
    const code = `package d; import java.util.*;
class Clock { long now() { return System.currentTimeMillis(); } }
interface Bell { void ring(); }
class Motor { void run() { System.out.println(); } }
class Registry { static Registry get() { return new Registry(); } void put() { Motor m = new Motor(); m.run(); } }
class Desk {
  private final Clock clock = new Clock();
  private final Bell bell;
  private Motor motor;
  Desk(Bell bell) { this.bell = bell; }
  void setMotor(Motor motor) { this.motor = motor; }
  void go(List<Bell> more) { clock.now(); bell.ring(); motor.run(); Registry.get().put(); more.forEach(b -> b.ring()); new Random().nextInt(); List.of(1).size(); }
}`
    const { survey } = readJava({ 'd/Desk.java': code })
    const desk = survey.model.types.find(type => type.name === 'Desk')!
    const names = (at: number) => survey.model.types[at]?.name
    expect(survey.joints[desk.index]!.map(joint => `${joint.to >= 0 ? names(joint.to) : joint.external} ${joint.kind}`).sort()).toEqual(['Bell plugged', 'Clock welded', 'Motor bolted', 'Registry welded', 'java.util welded'])
  })

  const bell = 'interface Bell { void ring(); } class Brass implements Bell { public void ring() { } }'
  test.each([
    ['a collection that the type makes', 'private final List<Bell> all = new ArrayList<>(); void add(Bell b) { all.add(b); } void go() { for (Bell b : all) b.ring(); }', 'Bell plugged'],
    ['a copy of what is handed in', 'private final List<Bell> all; Desk(Collection<Bell> bells) { all = new ArrayList<>(Objects.requireNonNull(bells)); } void go() { all.forEach(b -> b.ring()); }', 'Bell plugged'],
    ['what is checked as it is handed in', 'private final Bell bell; Desk(Bell bell) { this.bell = Objects.requireNonNull(bell); } void go() { bell.ring(); }', 'Bell plugged'],
    ['what a list is made of', 'private final List<Bell> all = List.of(new Brass()); void go() { all.get(0).ring(); }', 'Bell welded'],
    ['what an array is made of', 'private final Bell[] all = { new Brass() }; void go() { all[0].ring(); }', 'Bell welded'],
    ['an array or a constant without elements', 'private static final Bell[] NONE = {}; private final Bell[] all; Desk(Bell[] all) { this.all = all == null ? NONE : all; } void go() { for (Bell b : all) b.ring(); }', 'Bell plugged'],
    ['a class of its own that is a list', 'private final List<Bell> all = new ArrayList<>() { @Override public Bell get(int at) { return new Brass(); } }; void go() { all.get(0).ring(); }', 'Bell welded']
  ])('joins what is kept in %s by what was put there', (_, body, expected) => {
    const { survey } = readJava({ 'd/Desk.java': `package d; import java.util.*;
${bell}
class Desk { ${body} }` })
    const desk = survey.model.types.find(type => type.name === 'Desk')!
    expect(survey.joints[desk.index]!.map(joint => `${survey.model.types[joint.to]?.name} ${joint.kind}`)).toContain(expected)
  })

  test('repeats byte for byte what a fresh survey says, over random edits', () => {
    const files: Record<string, string> = {}
    for (let n = 0; n < 6; n++) files[`p${n % 2}/C${n}.java`] = `package p${n % 2};\nimport p${(n + 1) % 2}.*;\npublic class C${n} {\n  public int f = 1;\n  public C${(n + 1) % 6} next() { return new C${(n + 1) % 6}(); }\n  public int go() { return next().f + 1; }\n}\n`
    const draw = seededRandom(20261123)
    const language = javaLanguage()
    let state = language.read(javaSource(files))
    const text = (facts: typeof state.facts) => [...surveyDocumentPieces(measureProject(facts))].join('')
    for (let round = 0; round < 25; round++) {
      const paths = Object.keys(files)
      const path = paths[Math.floor(draw() * paths.length)]!
      const edits = [
        (before: string) => before.replace(/return next\(\)\.f \+ \d+/, `return next().f + ${round}`),
        (before: string) => before.replace(/int f = .*;/, `int f = new C${round % 6}().go();`),
        (before: string) => before.includes('more()') ? before.replace(/ {2}public void more\(\).*\n/, '') : before.replace(/}\n$/, '  public void more() { next().next(); }\n}\n'),
        (before: string) => before.replace('public int go()', 'public long go()'),
        (before: string) => before.replace('{ return next()', '{ int unused; return next()')
      ]
      files[path] = edits[Math.floor(draw() * edits.length)]!(files[path]!)
      state = language.read(javaSource(files), state)
      expect(text(state.facts)).toBe(text(javaLanguage().read(javaSource(files)).facts))
    }
  })
})

describe('Java that is not as it should be', () => {
  test('is read as far as it goes, and said', () => {
    const { survey } = readJava({ 'A.java': 'class A {\n  void ok() { new B(); }\n  void broken( { ]]\n}\n', 'B.java': 'class B { void go() { new A().ok(); } }' })
    expect(survey.model.types.map(type => type.id)).toEqual(expect.arrayContaining(['A', 'B']))
    expect(survey.model.problems.some(problem => problem.file === 'A.java' && problem.message.startsWith('cannot be parsed here'))).toBe(true)
  })

  test('nested 10,000 deep, it costs that file alone', () => {
    const deep = `class Deep { int x = ${'('.repeat(10_000)}1${')'.repeat(10_000)}; }`
    const { survey } = readJava({ 'Deep.java': deep, 'A.java': 'class A { Deep d; }' })
    expect(survey.model.types.map(type => type.id)).toContain('A')
    expect(survey.model.files.length).toBe(2)
  })

  test('a sum of 5,000 parts is no problem', () => {
    const { survey } = readJava({ 'Long.java': `class Sum { static int n; int x = ${Array.from({ length: 5000 }, () => 'n').join(' + ')}; }` })
    expect(survey.model.problems).toEqual([])
    expect(survey.model.types.length).toBe(1)
  })

  test('one name in two source roots: both are kept, and told apart', () => {
    const { survey } = readJava({ 'one/src/p/A.java': 'package p; class A { void a() {} }', 'two/src/p/A.java': 'package p; class A { void b() {} }', 'one/src/p/Use.java': 'package p; class Use { A a; }' })
    expect(survey.model.types.map(type => type.id)).toEqual(['p.A', 'p.Use', 'p.A@two/src'])
    expect(survey.model.problems[0]).toMatchObject({ file: 'two/src/p/A.java', message: expect.stringContaining('is declared in one/src/p/A.java too') as string })
  })

  test('a class that inherits from itself hangs nothing', () => {
    expect(readJava({ 'A.java': 'class A extends B { void a() { go(); } } class B extends A { int x = super.x; }' }).survey.model.types.length).toBe(2)
  })
})

describe('the syntax tree', () => {
  test('read from memory is the one that the cursor gives, on whole and on broken text', () => {
    expect(tools.grammar.direct).toBe(true)
    const draw = seededRandom(7)
    const text = `${JAVA_GRAMMAR.sample}\n// é 𝒳 comment\nclass Z { String s = "é𝒳"; }`
    for (let round = 0; round < 60; round++) {
      const from = Math.floor(draw() * text.length), to = Math.min(text.length, from + Math.floor(draw() * 30))
      expect(tools.grammar.agrees(round === 0 ? text : text.slice(0, from) + text.slice(to))).toBe(true)
    }
  })

  test('a grammar that knows nothing of the kinds gives a tree all the same', async () => {
    const other = await Grammar.load(readFileSync(JAVA_WASM), { ...JAVA_GRAMMAR, kinds: ['nothing'], fields: ['none'] })
    const tree = other.parse('class A { }')
    expect([tree.kind(0), tree.end(0)]).toEqual([0, 11])
    expect(tools.grammar.parse('class A {').contains(0, Kind.ClassDeclaration) || tools.grammar.parse('class A {').contains(0, Kind.Error)).toBe(true)
  })
})

test('a Maven file tells its dependencies, properties put in, exclusions left out', () => {
  expect(readPom(`<project><!-- <dependency><groupId>no</groupId></dependency> --><parent><groupId>org.office</groupId></parent><artifactId>locks</artifactId>
    <properties><bell.version>1.2</bell.version></properties>
    <dependencies><dependency><groupId>org.bell</groupId><artifactId>bell</artifactId><version>\${bell.version}</version>
      <exclusions><exclusion><groupId>x</groupId><artifactId>y</artifactId></exclusion></exclusions></dependency></dependencies></project>`)).toEqual({
    project: 'org.office:locks', dependencies: [{ group: 'org.bell', artifact: 'bell', version: '1.2' }]
  })
})
