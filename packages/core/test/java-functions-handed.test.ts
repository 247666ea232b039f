import { MethodSymbol } from '@hollowmoor/core/read/binding/symbols'
import { Field, Kind } from '@hollowmoor/core/read/java/syntax'
import { readJava } from './java.js'

/** Which method `f` a call means, by its place, and whether anything of the file is wrong. */
function meant(methods: readonly string[], given: string): string {
  const text = `package p;

import java.util.*;
import java.util.concurrent.Callable;
import java.util.function.*;

class Desk {
${methods.map(one => `    static ${one.startsWith('<') ? one.replace('> ', '> void f(') : `void f(${one}`}) { }`).join('\n')}
    static boolean open() { return true; }
    static void shut() { }
    static void of() { f(${given}); }
}
`
  const { language, state } = readJava({ 'p/Desk.java': text, 'p/Barge.java': 'package p;\nclass Barge { }\n' }), { java, findings } = language.bound(state).file('p/Desk.java')!, { tree } = java
  for (let at = 0; at < tree.size * 5; at += 5) {
    if (tree.kind(at) !== Kind.MethodInvocation || tree.textOf(tree.child(at, Field.Name)) !== 'f') continue
    const meaning = java.meaning(tree.child(at, Field.Name)), isWrong = findings.mismatches.size + findings.ambiguous.size + java.unbound.size > 0
    return `${meaning instanceof MethodSymbol ? meaning.owner.own('f').indexOf(meaning) : 'none'}${isWrong ? ' wrong' : ''}`
  }
  return 'no call'
}

// What runs is what `java-overloads-run` asks a JDK; these are the kinds of calls that it has shown.
describe('a function that is handed over tells methods of a name apart', () => {
  test.each<[string, string[], string, string]>([
    ['by the number of its parameters', ['Runnable a', 'Consumer<String> a'], 'a -> { }', '1'],
    ['by whether it gives something', ['Runnable a', 'Callable<Integer> a'], '() -> 1', '1'],
    ['by a call that gives nothing', ['Supplier<String> a', 'Runnable a'], '() -> shut()', '1'],
    ['by what a call gives', ['IntSupplier a', 'Callable<Integer> a', 'Runnable a'], '() -> open()', '2'],
    ['by what is made', ['Callable<Integer> a', 'Supplier<List<String>> a'], '() -> new ArrayList<>()', '1'],
    ['by what a block gives', ['Supplier<String> a', 'IntSupplier a'], '() -> { return 1; }', '1'],
    ['by a text', ['IntSupplier a', 'Supplier<String> a'], '() -> "a"', '1'],
    ['by a number that is small enough', ['Supplier<Byte> a', 'Supplier<String> a'], '() -> 1', '0'],
    ['by written types', ['Predicate<String> a', 'ToIntFunction<String> a'], '(String a) -> a.length()', '1'],
    ['by what a method gives', ['ToIntFunction<String> a', 'Predicate<String> a'], 'String::isEmpty', '1'],
    ['by what a method takes', ['Consumer<String> a', 'Comparator<String> a'], 'String::trim', '0'],
    ['by what another takes', ['Function<String, String> a', 'BiFunction<String, String, Integer> a'], 'String::compareTo', '1'],
    ['by what a constructor makes', ['Callable<Integer> a', 'Supplier<Barge> a'], 'Barge::new', '1'],
    ['by what fits before any number does', ['IntSupplier a', 'Runnable... a'], 'Barge::new', '1'],
    ['where it never ends it gives anything', ['String a, Runnable b', 'Object a, IntSupplier b'], '1.5, () -> { while (true) { } }', '1'],
    ['where it throws it gives anything', ['Callable<Integer> a', 'Consumer<String> a'], '() -> { throw new IllegalStateException(); }', '0']
  ])('%s', (_, methods, given, expected) => expect(meant(methods, given)).toBe(expected))
})

describe('what is inferred', () => {
  test.each<[string, string[], string, string]>([
    ['is what a value and a function have in common', ['<T> T a, Callable<T> b', 'int a, Runnable b'], 'new Barge(), () -> { return 1; }', '0'],
    ['is nearer where its bound is', ['<T> T a', '<U extends Number> U a'], '1.5', '1'],
    ['keeps to its bound', ['<U extends Number> U a', 'Object a'], '"a"', '1'],
    ['meets in what both can be', ['Barge a, Iterable<String> b', '<T> T a, T b'], 'open() ? new Barge() : "a", Arrays.asList("a", "b")', '1']
  ])('%s', (_, methods, given, expected) => expect(meant(methods, given)).toBe(expected))
})
