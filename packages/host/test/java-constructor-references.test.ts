import { JavaCompiler, jdkPrograms } from '@hollowmoor/host/java-compiler'
import { readJava } from '../../core/test/java.js'

// Which function a constructor can stand for is what the language's compiler says.
const withJdk = jdkPrograms() ? test : test.skip

/** Functions by their type, each given as a reference to the constructor of a class. */
const REFERENCES: readonly (readonly [string, string])[] = [
  ['Function<Craft, Object>', 'Berth'], ['Function<Barge, Object>', 'Berth'], ['Function<Towed, Object>', 'Berth'], ['Function<Craft, Berth>', 'Berth'], ['Function<Craft, Lock>', 'Berth'], ['Supplier<Object>', 'Craft'], ['Supplier<Barge>', 'Craft'],
  ['Supplier<Object>', 'Berth'], ['BiFunction<Craft, Integer, Object>', 'Lock'], ['BiFunction<Craft, String, Object>', 'Lock'], ['IntFunction<Object>', 'Depth'], ['Function<Integer, Object>', 'Depth'], ['Function<Object, Object>', 'Depth'],
  ['Function<Craft, Object>', 'Many'], ['BiFunction<Craft, Barge, Object>', 'Many'], ['BiFunction<Craft, String, Object>', 'Many'], ['Function<Barge, Towed>', 'Raft'], ['Function<Barge, Craft>', 'Raft'], ['Function<Craft[], Object>', 'Many'], ['Supplier<Object>', 'Many'], ['Function<String, Object>', 'Many']
]

withJdk('a constructor that does not take what a function is handed, or give what it gives, is told as javac tells it', async () => {
  const files: Record<string, string> = {
    'p/Craft.java': 'package p;\npublic class Craft { }\n', 'p/Towed.java': 'package p;\npublic interface Towed { }\n', 'p/Barge.java': 'package p;\npublic class Barge extends Craft implements Towed { }\n', 'p/Berth.java': 'package p;\npublic class Berth { public Berth(Craft craft) { } }\n',
    'p/Lock.java': 'package p;\npublic class Lock { public Lock(Craft craft, int depth) { } }\n', 'p/Depth.java': 'package p;\npublic class Depth { public Depth(int depth) { } }\n', 'p/Many.java': 'package p;\npublic class Many { public Many(Craft... all) { } }\n', 'p/Raft.java': 'package p;\npublic class Raft implements Towed { public Raft(Towed towed) { } }\n'
  }
  for (const [at, [type, made]] of REFERENCES.entries()) files[`p/Use${at}.java`] = `package p;\nimport java.util.function.*;\nclass Use${at} {\n    ${type} made = ${made}::new;\n    void take(${type} other) { }\n    void of() { take(${made}::new); }\n}\n`
  const { language, state } = readJava(files), bound = language.bound(state)
  const ours = Object.keys(files).filter(path => bound.file(path)!.findings.mismatches.size > 0 || bound.file(path)!.java.unbound.size > 0)
  const compiler = new JavaCompiler(jdkPrograms()!)
  try {
    const errors = await compiler.newErrors('1', new Map(Object.keys(files).map(path => [path, 'package p;\n'])), ['-proc:none', '-Xmaxerrs', '1000'], new Map(Object.entries(files)))
    const told = new Set(errors!.map(one => one.slice(0, one.indexOf(':'))))
    expect(ours).toEqual(Object.keys(files).filter(path => told.has(path)))
    expect(ours.length).toBeGreaterThan(6)
  } finally { compiler.close() }
})
