import { unimplemented } from '@hollowmoor/core/read/java/write/unimplemented'
import { JavaCompiler, jdkPrograms } from '@hollowmoor/host/java-compiler'
import { readJava } from '../../core/test/java.js'

// What a class has to have is what the language's compiler says.
const withJdk = jdkPrograms() ? test : test.skip

const KINDS = `package p;
public interface Gauge<T> extends Comparable<Gauge<T>> { T read(); default void reset() { } String toString(); static int all() { return 0; } <R extends T> void take(R one, java.util.List<? super T> all); }
abstract class Marked { abstract int mark(); protected abstract void lift(int by); void shut() { } public int compareTo(Gauge<String> other) { return 0; } }
interface Quiet { void reset(); }
interface Deep extends java.util.function.Function<String, Integer> { }
abstract class Read<T> implements Gauge<T> { public T read() { return null; } public int compareTo(Gauge<T> other) { return 0; } }
interface Both { void shut(); }
interface Sets { void all(java.util.Set<Quiet> of); java.util.List<Quiet> some(); }
abstract class SetsOther { public void all(java.util.Set<Both> of) { } public java.util.List<Quiet> some() { return null; } }
abstract class SetsSame<T> { public void all(java.util.Set<T> of) { } public java.util.List<T> some() { return null; } }
abstract class Hiding { private void shut() { } static int mark() { return 1; } }
`
const CLASSES = {
  None: 'implements Gauge<String>', All: 'implements Gauge<String> { public String read() { return ""; } public <R extends String> void take(R one, java.util.List<? super String> all) { } public int compareTo(Gauge<String> other) { return 0; } }',
  Erased: 'extends Read<String> { public void take(String one, java.util.List all) { } }', Taken: 'extends Read<String> { public <R extends String> void take(R one, java.util.List<? super String> all) { } }', Other: 'extends Read<String> { public void take(int one, java.util.List<? super String> all) { } }',
  Mark: 'extends Marked { int mark() { return 1; } protected void lift(int by) { } }', Lift: 'extends Marked { int mark() { return 1; } protected void lift(long by) { } }', Half: 'extends Marked { protected void lift(int by) { } }',
  Resets: 'extends Read<String> implements Quiet { public <R extends String> void take(R one, java.util.List<? super String> all) { } public void reset() { } }', Fun: 'implements Deep', FunAll: 'implements Deep { public Integer apply(String one) { return 1; } }', FunWide: 'implements Deep { public Integer apply(Integer one) { return 1; } }',
  Shut: 'extends Hiding implements Both', ShutAll: 'extends Hiding implements Both { public void shut() { } }', Abstract: 'ABSTRACT implements Gauge<String>', Unnamed: '{ Object made = new Deep() { }; }', UnnamedAll: '{ Object made = new Deep() { public Integer apply(String one) { return 1; } }; }',
  Inner: '{ class In extends Marked { } }', InnerAll: '{ class In extends Marked { int mark() { return 1; } protected void lift(int by) { } } }', Plain: '{ }', Lambda: '{ Deep deep = one -> 1; }', Walker: 'implements java.util.Iterator<String> { public String next() { return null; } }', Walks: 'implements java.util.Iterator<String> { public String next() { return null; } public boolean hasNext() { return false; } }',
  SetsFound: 'extends SetsSame<Quiet> implements Sets', SetsLost: 'extends SetsSame<Both> implements Sets', SetsClash: 'extends SetsOther implements Sets', SetsRaw: 'extends SetsSame implements Sets',
  Listed: 'extends java.util.AbstractList<String> { public String get(int at) { return null; } public int size() { return 0; } }', ListedHalf: 'extends java.util.AbstractList<String> { public String get(int at) { return null; } }', Mapped: 'extends java.util.AbstractMap<String, Integer>'
}

withJdk('what a class lacks is what javac says that it lacks', async () => {
  const files = Object.fromEntries([['p/Kinds.java', KINDS.replace('public interface', 'interface')], ...Object.entries(CLASSES).map(([name, rest]) => [`p/${name}.java`, `package p;\n${rest.startsWith('ABSTRACT') ? 'abstract ' : ''}class ${name} ${rest.replace('ABSTRACT ', '')}${rest.endsWith('}') ? '' : ' { }'}\n`])]) as Record<string, string>
  const { language, state } = readJava(files), bound = language.bound(state)
  const ours = Object.keys(files).filter(path => unimplemented(bound.file(path)!, bound).length > 0)
  const compiler = new JavaCompiler(jdkPrograms()!)
  try {
    const errors = await compiler.newErrors('1', new Map(Object.keys(files).map(path => [path, 'package p;\n'])), ['-proc:none', '-Xmaxerrs', '1000'], new Map(Object.entries(files)))
    expect(errors!.filter(one => !/is not abstract and does not override/.test(one))).toEqual([])
    expect(ours.sort()).toEqual([...new Set(errors!.map(one => one.slice(0, one.indexOf(':'))))].sort())
    expect(ours.length).toBeGreaterThan(8)
  } finally { compiler.close() }
})

test('a class that extends something that is not at hand may have it from there', () => {
  const { language, state } = readJava({ 'p/A.java': 'package p;\nimport far.Off;\nclass A extends Off implements Runnable { }\n', 'p/B.java': 'package p;\nclass B extends A { }\nclass C implements Runnable { }\n' }), bound = language.bound(state)
  expect(['p/A.java', 'p/B.java'].flatMap(path => unimplemented(bound.file(path)!, bound)).map(one => one.message)).toEqual(['C lacks run, which Runnable asks for'])
})

test('what takes something that is not at hand may be what is asked for', () => {
  const { language, state } = readJava({ 'p/A.java': 'package p;\nimport far.Off;\ninterface Turns<S> { int turn(S one, int by); }\nclass A { Object made = new Turns<Off>() { public int turn(Off one, int by) { return by; } }; Object half = new Turns<Off>() { public int turn(Off one) { return 1; } }; }\n' }), bound = language.bound(state)
  expect(unimplemented(bound.file('p/A.java')!, bound).map(one => one.message)).toEqual(['the class without a name lacks turn, which Turns asks for'])
})
