import { JavaCompiler, jdkPrograms } from '@hollowmoor/host/java-compiler'
import { readJava } from '../../core/test/java.js'

// What may have the name of something else is what the language's compiler says.
const withJdk = jdkPrograms() ? test : test.skip

/** Bodies of a class. */
const BODIES: readonly string[] = [
  'void f(int a) { int a = 1; }', 'void f() { int a = 1; { int a = 2; } }', 'void f() { { int a = 1; } int a = 2; }', 'void f() { { int a = 1; } { int a = 2; } }',
  'void f() { for (int a = 0; a < 2; a++) { int a = 1; } }', 'void f() { for (int a = 0; a < 2; a++) { } for (int a = 0; a < 2; a++) { } }', 'void f(int[] a) { for (int a : a) { } }', 'void f(int[] b) { for (int a : b) { int b = a; } }',
  'void f() { try { int a = 1; } catch (RuntimeException a) { int b = 1; } finally { int a = 2; } }', 'void f(int a) { try { g(); } catch (RuntimeException a) { } } void g() { }', 'void f() throws Exception { try (java.io.StringReader a = new java.io.StringReader("")) { int a = 1; } }',
  'void f(int a) { java.util.function.IntUnaryOperator b = a -> a; }', 'void f(int a) { java.util.function.IntUnaryOperator b = c -> { int a = c; return a; }; }', 'java.util.function.IntUnaryOperator b = a -> a + 1; int a = 2;',
  'void f(int a) { Object b = new Object() { int g(int a) { int b = a; return b; } }; }', 'void f(int a) { class Inner { int a = 2; void g() { int a = 3; } } }', 'int a; void f() { int a = 1; }', 'void f() { int a = 1, a = 2; }',
  'void f(int b) { switch (b) { case 1: int a = 1; break; case 2: int a = 2; break; default: } }', 'void f(int b) { switch (b) { case 1: { int a = 1; break; } case 2: { int a = 2; break; } default: } }', 'void f() { var a = 1; var a = 2; }',
  'void f(Object a) { if (a instanceof String b) { int c = b.length(); } else { String b = ""; } }', 'void f(Object a) { if (!(a instanceof String b)) return; int c = b.length(); }', 'void f(Object a) { if (a instanceof String b) { } if (a instanceof Integer b) { } }',
  'void f() { do { int a = 1; } while (true); }', 'void f() { while (true) { int a = 1; if (a > 1) { int a = 2; } } }', 'void f(int a, int a) { }', 'static { int a = 1; { int a = 2; } }'
]

withJdk('a local that has the name of another one is told where javac tells it', async () => {
  const files = Object.fromEntries(BODIES.map((body, at) => [`p/Named${at}.java`, `package p;\nclass Named${at} {\n    ${body}\n}\n`]))
  const { language, state } = readJava(files), bound = language.bound(state)
  const ours = Object.keys(files).filter(path => bound.file(path)!.java.repeated.size > 0)
  const compiler = new JavaCompiler(jdkPrograms()!)
  try {
    const errors = await compiler.newErrors('1', new Map(Object.keys(files).map(path => [path, 'package p;\n'])), ['-proc:none', '-Xmaxerrs', '1000'], new Map(Object.entries(files)))
    expect(errors!.filter(one => !one.includes('is already defined'))).toEqual([])
    const told = new Set(errors!.map(one => one.slice(0, one.indexOf(':'))))
    expect(ours).toEqual(Object.keys(files).filter(path => told.has(path)))
    expect(ours.length).toBeGreaterThan(10)
  } finally { compiler.close() }
})
