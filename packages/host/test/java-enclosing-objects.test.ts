import { withoutEnclosingObject } from '@hollowmoor/core/read/java/write/enclosing-objects'
import { JavaCompiler, jdkPrograms } from '@hollowmoor/host/java-compiler'
import { readJava } from '../../core/test/java.js'

// What the language asks for is what its compiler says.
const withJdk = jdkPrograms() ? test : test.skip

/** Bodies of a class `Lock` with an inner class `Gate` and a nested one `Key`, which has its own inner `Tooth`. */
const BODIES = {
  Method: 'Object of() { return new Gate(); }', Static: 'static Object of() { return new Gate(); }', Field: 'Object gate = new Gate();', StaticField: 'static Object gate = new Gate();', Initializer: '{ new Gate(); }',
  StaticInitializer: 'static { new Gate(); }', Constructor: 'Made() { new Gate(); }', Handed: 'static Object of(Lock lock) { return lock.new Gate(); }', Key: 'static Object of() { return new Key(); }',
  Tooth: 'static Object of() { return new Key().new Tooth(); }', NoKey: 'Object of() { return new Key.Tooth(); }', InLambda: 'java.util.function.Supplier<Object> of() { return () -> new Gate(); }', InNested: 'static class Box { Object of() { return new Gate(); } }',
  InInner: 'class Box { Object of() { return new Gate(); } }', Anonymous: 'Object of() { return new Object() { Object of() { return new Gate(); } }; }', InRecord: 'record Box(int n) { Object of() { return new Gate(); } }',
  InEnum: 'enum Box { ONE; Object of() { return new Gate(); } }', InLocal: 'Object of() { class Box { Object gate = new Gate(); } return new Box(); }', InLocalStatic: 'static Object of() { class Box { Object gate = new Gate(); } return new Box(); }',
  InInterface: 'interface Box { default Object of() { return new Gate(); } }', Own: 'class Box { } static Object of() { return new Box(); }', OwnThis: 'class Box { } Object of() { return this.new Box(); }'
}

withJdk('an object of an inner class wants one of the class around, as javac says', async () => {
  const files = Object.fromEntries([
    ['p/Lock.java', 'package p;\npublic class Lock { class Gate { } static class Key { class Tooth { } } }\n'],
    ...Object.entries(BODIES).flatMap(([name, body]) => [[`p/${name}Inside.java`, `package p;\nclass ${name}Inside extends Lock { ${body.replace('Made()', `${name}Inside()`)} }\n`], [`p/${name}Apart.java`, `package p;\nclass ${name}Apart { ${body.replace('Made()', `${name}Apart()`).replaceAll('new Gate', 'new Lock.Gate').replace('lock.new Lock.Gate', 'lock.new Gate').replace('new Key', 'new Lock.Key')} }\n`]])
  ]) as Record<string, string>
  const { language, state } = readJava(files), bound = language.bound(state)
  const ours = Object.keys(files).filter(path => withoutEnclosingObject(bound.file(path)!, bound).length > 0)
  const compiler = new JavaCompiler(jdkPrograms()!)
  try {
    const errors = await compiler.newErrors('1', new Map(Object.keys(files).map(path => [path, 'package p;\n'])), ['-proc:none', '-Xmaxerrs', '1000'], new Map(Object.entries(files)))
    expect(errors!.every(one => /enclosing instance|non-static variable this/.test(one))).toBe(true)
    expect(ours).toEqual([...new Set(errors!.map(one => one.slice(0, one.indexOf(':'))))].sort((a, b) => Object.keys(files).indexOf(a) - Object.keys(files).indexOf(b)))
    expect(ours.length).toBeGreaterThan(15)
  } finally { compiler.close() }
})
