import { JavaCompiler, jdkPrograms } from '@hollowmoor/host/java-compiler'
import { applyJava } from '../../core/test/applying.js'
import { readJava } from '../../core/test/java.js'

// Which of several methods is meant is what the language's compiler says.
const withJdk = jdkPrograms() ? test : test.skip

/** Two methods `f` by their parameters, and the arguments of a call. */
const CALLS: readonly (readonly [string, string, string])[] = [
  ['Craft a', 'Towed a', 'new Barge()'], ['Craft a', 'Towed a', '(Craft) new Barge()'], ['Craft a', 'Barge a', 'new Barge()'], ['Object a', 'Towed a', 'new Barge()'], ['Towed a', 'Loaded a', 'new Barge()'], ['Towed a', 'Loaded a', 'new Raft()'],
  ['Object a, String b', 'String a, Object b', '"a", "b"'], ['Object a, String b', 'String a, Object b', '"a", (Object) "b"'], ['Craft a, Towed b', 'Towed a, Craft b', 'new Barge(), new Barge()'], ['Craft a, Craft b', 'Towed a, Barge b', 'new Barge(), new Barge()'],
  ['long a, int b', 'int a, long b', '1, 1'], ['long a, int b', 'int a, long b', '1, 1L'], ['int a', 'Integer a', '1'], ['long a', 'Integer a', '1'], ['Object a', 'long a', '1'], ['double a', 'float a', '1'],
  ['String a', 'Integer a', 'null'], ['Object a', 'String a', 'null'], ['Craft a', 'Towed a', 'null'], ['Craft[] a', 'Object a', 'new Barge[0]'], ['Craft[] a', 'Towed[] a', 'new Barge[0]'], ['Barge a, Object b', 'Craft a, String b', 'new Barge(), "b"']
]

withJdk('what may mean several methods or constructors alike is told where javac tells it', async () => {
  const files: Record<string, string> = {
    'p/Craft.java': 'package p;\npublic class Craft { }\n', 'p/Towed.java': 'package p;\npublic interface Towed { }\n', 'p/Loaded.java': 'package p;\npublic interface Loaded extends Towed { }\n',
    'p/Barge.java': 'package p;\npublic class Barge extends Craft implements Towed { }\n', 'p/Raft.java': 'package p;\npublic class Raft implements Loaded { }\n'
  }
  for (const [at, [one, other, given]] of CALLS.entries()) {
    files[`p/Call${at}.java`] = `package p;\nclass Call${at} {\n    void f(${one}) { }\n    void f(${other}) { }\n    void of() { f(${given}); }\n}\n`
    files[`p/Made${at}.java`] = `package p;\nclass Made${at} {\n    Made${at}(${one}) { }\n    Made${at}(${other}) { }\n    static Object of() { return new Made${at}(${given}); }\n}\n`
  }
  const { language, state } = readJava(files), bound = language.bound(state)
  const ours = Object.keys(files).filter(path => bound.file(path)!.findings.ambiguous.size > 0)
  const compiler = new JavaCompiler(jdkPrograms()!)
  try {
    const errors = await compiler.newErrors('1', new Map(Object.keys(files).map(path => [path, 'package p;\n'])), ['-proc:none', '-Xmaxerrs', '1000'], new Map(Object.entries(files)))
    expect(errors!.filter(one => !one.includes('is ambiguous') && !/no suitable/.test(one))).toEqual([])
    const told = new Set(errors!.filter(one => one.includes('is ambiguous')).map(one => one.slice(0, one.indexOf(':'))))
    expect(ours).toEqual(Object.keys(files).filter(path => told.has(path)))
    expect(ours.length).toBeGreaterThan(10)
  } finally { compiler.close() }
})

test('a parameter is not narrowed to an interface where a call would not know which method it means any more', () => {
  const files = {
    'p/Element.java': 'package p;\npublic class Element { }\n', 'p/Document.java': 'package p;\npublic class Document extends Element {\n    public String title() { return "a"; }\n}\n',
    'p/Writer.java': 'package p;\npublic class Writer {\n    public String write(Document document) { return document.title(); }\n    public String write(Element element) { return ""; }\n}\n',
    'p/Main.java': 'package p;\nclass Main {\n    String told() { return new Writer().write(new Document()); }\n}\n', 'p/Reader.java': 'package p;\nclass Reader {\n    String read(Document document) { return document.title(); }\n}\n'
  }
  const applied = applyJava(files, 'extract-interface:p.Document') as Record<string, string>
  expect(applied).not.toHaveProperty(['p/Writer.java'])
  expect(applied['p/Reader.java']).toContain('String read(DocumentPort document)')
})
