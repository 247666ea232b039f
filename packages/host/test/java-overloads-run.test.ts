import { seededRandom } from '@hollowmoor/core/graph/random'
import { MethodSymbol } from '@hollowmoor/core/read/binding/symbols'
import { Field, Kind } from '@hollowmoor/core/read/java/syntax'
import { JavaCompiler, jdkPrograms } from '@hollowmoor/host/java-compiler'
import type { Files } from '../../core/test/java.js'
import { readJava } from '../../core/test/java.js'
import { printedBy } from './java-running.js'

// Which of several methods a call means is seen by running it.
const withJdk = jdkPrograms() ? test : test.skip
const ROUNDS = Number(process.env.ROUNDS ?? 250), FIRST = Number(process.env.FIRST ?? 1)

/** What is wanted and what is given, so that the one often takes the other. */
const THEMES: readonly { readonly types: readonly string[]; readonly values: readonly string[] }[] = [
  { types: ['int', 'long', 'double', 'char', 'byte', 'Integer', 'Long', 'Number', 'Object', 'int...', 'long...', 'Object...', 'T', 'U', 'Comparable<Integer>'], values: ['1', '1L', "'c'", '(byte) 1', 'Integer.valueOf(1)', '1 + 1L', "'c' + 1", 'one() ? 1 : 2', 'one() ? 1 : 2L', 'same(1)', '1.5', 'null'] },
  { types: ['String', 'CharSequence', 'Object', 'Comparable<String>', 'String...', 'Object...', 'T', 'char[]', 'CharSequence[]', 'Integer'], values: ['"a"', 'null', '(Object) "a"', '(CharSequence) "a"', '"a" + 1', 'one() ? "a" : "b"', 'same("a")', 'new String[] { "a" }', '"a".toCharArray()'] },
  { types: ['Craft', 'Barge', 'Towed', 'Loaded', 'Object', 'T', 'Craft...', 'Towed[]', 'Supplier<Craft>', 'Class<?>', 'Class<? extends Craft>'], values: ['new Craft()', 'new Barge()', 'new Raft()', '(Towed) new Raft()', 'one() ? new Barge() : new Raft()', 'null', 'same(new Barge())', 'Barge.class', 'Barge::new', 'new Barge[0]'] },
  { types: ['List<String>', 'Collection<?>', 'Iterable<String>', 'Object', 'List<T>', 'Collection<? extends CharSequence>', 'T', 'Set<String>', 'ArrayList<String>', 'Object...'], values: ['new ArrayList<String>()', 'List.of("a")', 'new ArrayList<>()', 'new HashSet<String>()', 'made()', 'Arrays.asList("a", "b")', 'Collections.emptyList()', 'same(List.of("a"))', 'null'] },
  { types: ['Runnable', 'Supplier<String>', 'Callable<Integer>', 'IntSupplier', 'Supplier<T>', 'Callable<T>', 'Object', 'Runnable...'], values: ['() -> { }', '() -> "a"', '() -> 1', '() -> one()', '() -> { throw new IllegalStateException(); }', '() -> { return 1; }', '() -> new ArrayList<>()', 'Barge::new', '() -> { while (true) { } }'] },
  { types: ['Function<String, Integer>', 'UnaryOperator<String>', 'Consumer<String>', 'Predicate<String>', 'ToIntFunction<String>', 'Function<String, T>', 'Comparator<String>', 'BiFunction<String, String, Integer>', 'Object'], values: ['a -> 1', 'a -> a', 'a -> { }', '(String a) -> 1', 'String::length', 'String::trim', 'a -> a.isEmpty()', '(a, b) -> 1', 'String::compareTo', '(String a) -> { }', '(String a) -> a.length()', 'String::isEmpty'] }
]
const HEAD = `package p;

import java.util.*;
import java.util.concurrent.Callable;
import java.util.function.*;

`
const HELP: Files = {
  'p/Craft.java': 'package p;\npublic class Craft { }\n', 'p/Towed.java': 'package p;\npublic interface Towed { }\n', 'p/Loaded.java': 'package p;\npublic interface Loaded extends Towed { }\n',
  'p/Barge.java': 'package p;\npublic class Barge extends Craft implements Towed { }\n', 'p/Raft.java': 'package p;\npublic class Raft extends Craft implements Loaded { }\n'
}

/** A class with two to four methods of one name and a call of it. */
function calling(name: string, draw: () => number): string {
  const upTo = (count: number) => Math.floor(draw() * count), pick = <T>(from: readonly T[]): T => from[upTo(from.length)]!
  const themes = Array.from({ length: 1 + upTo(2) }, () => pick(THEMES)), count = themes.length, seen = new Set<string>(), methods: string[] = []
  for (let at = 0; at < 2 + upTo(3); at++) {
    const types = themes.map(({ types: from }, index) => { for (;;) { const type = pick(from); if (!type.endsWith('...') || index === count - 1) return type } })
    const erased = types.map(type => type.replace(/<.*>/, '').replace('...', '[]').replace(/^T$/, 'Object').replace(/^U$/, 'Number')).join()
    if (seen.has(erased)) continue
    seen.add(erased)
    const generic = [...(types.some(type => /^T$|<T>/.test(type)) ? ['T'] : []), ...(types.includes('U') ? ['U extends Number'] : [])].join(', ')
    methods.push(`    static ${generic === '' ? '' : `<${generic}> `}String f(${types.map((type, index) => `${type} a${index}`).join(', ')}) { return "${methods.length}"; }`)
  }
  const given = themes.map(({ values }) => pick(values))
  // Any number may be any, and none.
  if (draw() < 0.15) given.pop()
  else if (draw() < 0.1) given.push(pick(themes.at(-1)!.values))
  return `${HEAD}class ${name} {\n${methods.join('\n')}\n    static boolean one() { return true; }\n    static <A> List<A> made() { return new ArrayList<>(); }\n    static <A> A same(A one) { return one; }\n    static String of() { return f(${given.join(', ')}); }\n}\n`
}

/** What javac says of each file; of those that it cannot get through itself, that. */
async function errorsOf(files: Files): Promise<string[]> {
  const compiler = new JavaCompiler(jdkPrograms()!), paths = Object.keys(files)
  const empty = new Map([...Object.entries(HELP), ...paths.map(path => [path, 'package p;\n'] as const)])
  const of = async (some: readonly string[]): Promise<string[]> => {
    const errors = (await compiler.newErrors('1', empty, ['-proc:none', '-Xmaxerrs', '10000'], new Map(some.map(path => [path, files[path]!]))))!
    if (!errors.some(one => one.startsWith(':'))) return errors
    if (some.length === 1) return [`${some[0]!}:0: javac fails`]
    return [...await of(some.slice(0, some.length >> 1)), ...await of(some.slice(some.length >> 1))]
  }
  try { return await of(paths) } finally { compiler.close() }
}

withJdk('a call means the method that runs', async () => {
  const files: Files = {}
  for (let round = FIRST; round < FIRST + ROUNDS; round++) files[`p/Call${round}.java`] = calling(`Call${round}`, seededRandom(round))
  const errors = await errorsOf(files)
  const wrong = new Set(errors.map(one => one.slice(0, one.indexOf(':')))), right = Object.keys(files).filter(path => !wrong.has(path))
  const name = (path: string) => path.slice(2, -5)
  const printed = printedBy({ ...HELP, ...Object.fromEntries(right.map(path => [path, files[path]!])), 'p/Told.java': `package p;\npublic class Told { public static void all() { ${right.map(path => `System.out.println("${name(path)} " + ${name(path)}.of());`).join(' ')} } }\n`, 'All.java': 'public class All { public static void main(String[] args) { p.Told.all(); } }\n' })
  const ran = new Map(printed.map(line => line.split(' ') as [string, string]))
  expect(right.length).toBeGreaterThan(ROUNDS / 4)

  const { language, state } = readJava({ ...HELP, ...files }), bound = language.bound(state)
  const told: string[] = []
  for (const path of Object.keys(files)) {
    const { java: file, findings } = bound.file(path)!, { tree } = file
    let call = -1
    for (let at = 0; at < tree.size * 5; at += 5) if (tree.kind(at) === Kind.MethodInvocation && tree.textOf(tree.child(at, Field.Name)) === 'f') { call = at; break }
    const meaning = file.meaning(tree.child(call, Field.Name))
    const ours = meaning instanceof MethodSymbol ? String(meaning.owner.own('f').indexOf(meaning)) : 'none'
    const isWrong = findings.ambiguous.size + findings.mismatches.size + findings.outside.size + file.unbound.size > 0
    const source = files[path]!.split('\n').filter(line => / f\(/.test(line)).join('\n')
    if (wrong.has(path)) continue
    if (isWrong) told.push(`${path}: refused: ${[...findings.ambiguous].map(() => 'ambiguous')} ${[...findings.mismatches.keys()].map(node => tree.textOf(node))} ${[...file.unbound.values()]}; ${ran.get(name(path))} runs\n${source}`)
    else if (ours !== ran.get(name(path))) told.push(`${path}: ${ran.get(name(path))} runs, and ${ours} is taken for it\n${source}`)
  }
  expect(told.slice(0, 12)).toEqual([])
})
