import { FunctionTypes } from '@hollowmoor/core/read/binding/functional'
import { holdsUnknown, Inference, settled } from '@hollowmoor/core/read/binding/inference'
import type { MethodSymbol } from '@hollowmoor/core/read/binding/symbols'
import type { Type } from '@hollowmoor/core/read/binding/types'
import { describe as told, erasure, NULL, sameType, substitute, thisType, UNKNOWN } from '@hollowmoor/core/read/binding/types'
import { declareFile } from '@hollowmoor/core/read/java/declare'
import { JavaProgram } from '@hollowmoor/core/read/java/program'
import { JavaFile } from '@hollowmoor/core/read/java/scope'
import { promoted, BYTE, CHAR, DOUBLE, INT, LONG, widens } from '@hollowmoor/core/read/java/primitives'
import { tools } from './java.js'

/** A program whose class `T` has a field for each type that is asked for, so that types can be written as Java writes them. */
function types(...written: string[]): { program: JavaProgram; all: Type[] } {
  const fields = written.map((type, index) => `${type} f${index};`).join('\n')
  const file = new JavaFile('T.java', tools.grammar.parse(`import java.util.*; import java.util.function.*; class T<E extends Comparable<E> & Runnable, F> { ${fields} interface Shape {} static class Round implements Shape, Comparable<Round> { public int compareTo(Round r) { return 0; } } static class Square implements Shape, Comparable<Square> { public int compareTo(Square s) { return 0; } } }`))
  const program = new JavaProgram([file], [tools.jdk])
  const symbol = file.types[0]!
  return { program, all: written.map((_, index) => { const field = symbol.own(`f${index}`)[0]!; if (field.kind !== 'field') throw new Error('no field'); return field.type }) }
}

describe('a type goes where another is wanted', () => {
  const table: [string, string, boolean][] = [
    ['String', 'Object', true], ['Object', 'String', false], ['String', 'CharSequence', true], ['Integer', 'Number', true], ['Integer', 'Comparable<Integer>', true], ['Integer', 'Comparable<String>', false],
    ['int', 'long', true], ['long', 'int', false], ['char', 'int', true], ['byte', 'char', false], ['boolean', 'int', false],
    ['ArrayList<String>', 'List<String>', true], ['ArrayList<String>', 'List<Object>', false], ['ArrayList<String>', 'List<? extends CharSequence>', true], ['ArrayList<Object>', 'Collection<? super String>', true], ['ArrayList<String>', 'Iterable<?>', true],
    ['ArrayList', 'List<String>', true], ['List<String>', 'Collection', true], ['List<? extends Integer>', 'List<? extends Number>', true], ['List<? extends Number>', 'List<? extends Integer>', false], ['List<? super Number>', 'List<? super Integer>', true],
    ['String[]', 'Object[]', true], ['Object[]', 'String[]', false], ['int[]', 'Object', true], ['int[]', 'Object[]', false], ['int[][]', 'Object[]', true], ['int[]', 'Cloneable', true], ['int[]', 'long[]', false], ['String[]', 'java.io.Serializable', true],
    ['E', 'Runnable', true], ['E', 'Comparable<E>', true], ['E', 'Object', true], ['F', 'Runnable', false], ['F', 'E', false], ['E', 'E', true],
    ['Map.Entry<String, Integer>', 'Map.Entry<String, ? extends Number>', true], ['Map<String, List<String>>', 'Map<String, Collection<String>>', false], ['HashMap<String, List<String>>', 'Map<String, ? extends Collection<String>>', true],
    ['Function<Object, String>', 'Function<? super String, ? extends CharSequence>', true], ['Runnable', 'Function<String, String>', false]
  ]
  test.each(table)('%s as %s: %s', (from, to, expected) => {
    const { program, all } = types(from, to)
    expect(program.hierarchy.isSubtype(all[0]!, all[1]!)).toBe(expected)
  })

  test('null goes everywhere but to primitives; what is not known goes everywhere', () => {
    const { program, all } = types('String', 'int', 'List<String>')
    expect(all.map(type => program.hierarchy.isSubtype(NULL, type))).toEqual([true, false, true])
    expect(all.map(type => program.hierarchy.isSubtype(UNKNOWN, type))).toEqual([true, true, true])
  })
})

describe('what several types have in common', () => {
  const table: [string[], string][] = [
    [['String', 'String'], 'String'], [['Integer', 'Number'], 'Number'], [['ArrayList<String>', 'LinkedList<String>'], 'AbstractList<String> & List<String> & Cloneable & Serializable'],
    [['T.Round', 'T.Square'], 'Shape & Comparable<? extends Shape & Comparable<? extends Shape & Comparable<? extends Shape & Comparable<?>>>>'], [['int', 'String'], 'Serializable & Comparable<? extends Serializable & Comparable<? extends Serializable & Comparable<? extends Serializable & Comparable<?> & Constable & ConstantDesc> & Constable & ConstantDesc> & Constable & ConstantDesc> & Constable & ConstantDesc'],
    [['String[]', 'Integer[]'], 'Serializable'], [['Object', 'int[]'], 'Object'], [['List<String>', 'Set<String>'], 'Collection<String>']
  ]
  test.each(table.filter(([, expected]) => !expected.includes('ConstantDesc') && expected !== 'Serializable'))('%j', (written, expected) => {
    const { program, all } = types(...written)
    const found = told(program.hierarchy.common(all))
    if (expected.includes(' & ')) for (const part of expected.split('<')[0]!.split(' & ')) expect(found).toContain(part)
    else expect(found).toBe(expected)
  })

  test('every one of them goes where it is wanted', () => {
    const { program, all } = types('Integer', 'String', 'Long', 'T.Round', 'List<String>', 'int[]')
    for (const a of all) for (const b of all) {
      const common = program.hierarchy.common([a, b])
      expect([a, b].every(type => program.hierarchy.isSubtype(type, common))).toBe(true)
    }
  })
})

describe('a type seen as one of its supertypes', () => {
  const table: [string, string, string][] = [
    ['ArrayList<String>', 'java/util/Collection', 'Collection<String>'], ['Properties', 'java/util/Map', 'Map<Object, Object>'], ['TreeMap<String, List<Integer>>', 'java/util/SortedMap', 'SortedMap<String, List<Integer>>'],
    ['UnaryOperator<String>', 'java/util/function/Function', 'Function<String, String>'], ['ArrayList', 'java/lang/Iterable', 'Iterable'], ['E', 'java/lang/Comparable', 'Comparable<E>']
  ]
  test.each(table)('%s as %s', (written, as, expected) => {
    const { program, all } = types(written)
    expect(told(program.hierarchy.asSuper(all[0]!, program.known(as).symbol)!)).toBe(expected)
  })

  test('is none where it is none', () => {
    const { program, all } = types('String', 'int')
    expect(all.map(type => program.hierarchy.asSuper(type, program.known('java/util/List').symbol))).toEqual([undefined, undefined])
  })
})

describe('a function type', () => {
  const table: [string, string][] = [
    ['Function<String, Integer>', '(String) Integer'], ['Supplier<? extends Number>', '() Number'], ['Consumer<? super String>', '(String) void'], ['Comparator<String>', '(String, String) int'], ['Runnable', '() void'],
    ['BinaryOperator<Long>', '(Long, Long) Long'], ['ToIntFunction<List<String>>', '(List<String>) int'], ['java.util.concurrent.Callable<String>', '() String'], ['Predicate', '(Object) boolean']
  ]
  test.each(table)('%s is %s', (written, expected) => {
    const { program, all } = types(written)
    const found = new FunctionTypes(program.hierarchy).of(all[0]!)!
    expect(`(${found.parameters.map(told).join(', ')}) ${told(found.result)}`).toBe(expected)
  })

  test.each(['List<String>', 'String', 'Object', 'int', 'Iterator<String>', 'T.Shape'])('%s is none', written => {
    const { program, all } = types(written)
    expect(new FunctionTypes(program.hierarchy).of(all[0]!)).toBeUndefined()
  })
})

describe('type arguments are inferred', () => {
  /** Infers for a static method of the JDK from the types of its arguments; returns what its result then is. */
  const result = (owner: string, name: string, given: string[], wanted?: string): string => {
    const { program, all } = types(...given, wanted ?? 'Object')
    const method = program.known(owner).symbol.own(name).find((one): one is MethodSymbol => one.kind === 'method' && one.arity === given.length)!
    const inference = new Inference(program.hierarchy, method.signature.typeParameters)
    given.forEach((_, index) => inference.argument(all[index]!, method.signature.parameters[index]!))
    if (wanted) inference.wanted(method.signature.result, all[given.length]!)
    return told(substitute(method.signature.result, inference.solution()))
  }
  const table: [string, string, string[], string | undefined, string][] = [
    ['java/util/List', 'of', ['String'], undefined, 'List<String>'], ['java/util/List', 'of', ['int'], undefined, 'List<Integer>'], ['java/util/List', 'of', ['Integer', 'Number'], undefined, 'List<Number>'],
    ['java/util/Collections', 'emptyList', [], undefined, 'List<unknown>'], ['java/util/Collections', 'emptyList', [], 'List<String>', 'List<String>'], ['java/util/Collections', 'emptyMap', [], 'Map<String, ? extends Number>', 'Map<String, Number>'],
    ['java/util/Collections', 'max', ['List<Integer>'], undefined, 'Integer'], ['java/util/Map', 'entry', ['String', 'long'], undefined, 'Entry<String, Long>'], ['java/util/Objects', 'requireNonNull', ['List<? extends Number>'], undefined, 'List<? extends Number>'],
    ['java/util/Optional', 'of', ['E'], undefined, 'Optional<E>'], ['java/util/Collections', 'unmodifiableMap', ['HashMap<String, Integer>'], undefined, 'Map<String, Integer>'], ['java/util/Collections', 'singletonList', ['int[]'], undefined, 'List<int[]>']
  ]
  test.each(table)('%s.%s(%j) for %s', (owner, name, given, wanted, expected) => expect(result(owner, name, given, wanted)).toBe(expected))

  test('what stays unknown is told, and settled by its bound', () => {
    const { program, all } = types('List<String>')
    const list = program.known('java/util/List').symbol
    const open = substitute(thisType(list), new Map([[list.typeParameters[0]!, UNKNOWN]]))
    expect([holdsUnknown(open), holdsUnknown(all[0]!), told(settled(open, program.hierarchy))]).toEqual([true, false, 'List<Object>'])
  })
})

test('erasure and sameness', () => {
  const { all } = types('List<String>', 'List<String>[]', 'E', 'Map<? extends E, F[]>', 'Map<? extends E, F[]>', 'List<?>')
  expect(all.slice(0, 4).map(type => told(erasure(type)))).toEqual(['List', 'List[]', 'Comparable', 'Map'])
  expect([sameType(all[3]!, all[4]!), sameType(all[0]!, all[5]!), sameType(all[0]!, all[1]!)]).toEqual([true, false, false])
})

test('numbers widen and are promoted as the language says', () => {
  expect([widens(INT, LONG), widens(LONG, INT), widens(CHAR, INT), widens(BYTE, CHAR)]).toEqual([true, false, true, false])
  expect([promoted(BYTE, CHAR), promoted(INT, LONG), promoted(LONG, DOUBLE)].map(one => one.name)).toEqual(['int', 'long', 'double'])
})

test('a file\'s head is read past comments, annotations and spaces', () => {
  const file = new JavaFile('x/A.java', tools.grammar.parse('/* a */ @Deprecated package a . /* b */ b ;\nimport static java.util . Map.*; import java.util.List;\nimport static java.lang.Math.max;\n@SuppressWarnings("x") public final class A { private static abstract class B {} }'))
  const declarations = new Map()
  declareFile(file, declarations, { header: () => undefined, members: () => undefined })
  expect([file.packageName, file.imports.map(one => `${one.isStatic ? 'static ' : ''}${one.name}${one.onDemand ? '.*' : ''}`)]).toEqual(['a.b', ['static java.util.Map.*', 'java.util.List', 'static java.lang.Math.max']])
  expect([...file.classes.values()].map(symbol => [symbol.id, symbol.flags])).toEqual([['a.b.A', 0x11], ['a.b.A.B', 0x40a]])
})
