import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { seededRandom } from '@hollowmoor/core/graph/random'
import type { Observations } from '@hollowmoor/core/model/observation'
import type { PlannedStep } from '@hollowmoor/core/model/plan'
import { planStep } from '@hollowmoor/core/remedy/catalogue'
import { jdkPrograms } from '@hollowmoor/host/java-compiler'
import { readRecording } from '@hollowmoor/host/recording'
import type { Files } from '../../core/test/java.js'
import { readJava } from '../../core/test/java.js'
import { printedBy } from './java-running.js'

/** As much of JUnit as the tests name, and what runs all tests of the classes that it is told. */
const JUNIT = (classes: readonly string[]): Files => ({
  'org/junit/jupiter/api/Test.java': 'package org.junit.jupiter.api;\n@java.lang.annotation.Retention(java.lang.annotation.RetentionPolicy.RUNTIME)\npublic @interface Test {}\n',
  'org/junit/jupiter/api/Assertions.java': `package org.junit.jupiter.api;
public class Assertions {
  public interface Body { void run() throws Throwable; }
  public static void assertEquals(Object a, Object b) { if (!java.util.Objects.equals(a, b)) throw new AssertionError(a + " and " + b); }
  public static void assertEquals(int a, int b) { if (a != b) throw new AssertionError(a + " and " + b); }
  public static void assertEquals(long a, long b) { if (a != b) throw new AssertionError(a + " and " + b); }
  public static void assertEquals(double a, double b) { if (Double.compare(a, b) != 0) throw new AssertionError(a + " and " + b); }
  public static void assertNull(Object a) { if (a != null) throw new AssertionError(); }
  public static void assertTrue(boolean a) { if (!a) throw new AssertionError(); }
  public static void assertFalse(boolean a) { if (a) throw new AssertionError(); }
  public static <T extends Throwable> T assertThrows(Class<T> type, Body body) { try { body.run(); } catch (Throwable thrown) { return type.cast(thrown); } throw new AssertionError(); }
}
`,
  'All.java': `public class All { public static void main(String[] args) throws Exception {
  for (String name : "${classes.join(' ')}".split(" ")) { Class<?> type = Class.forName(name); for (java.lang.reflect.Method one : type.getDeclaredMethods()) if (one.isAnnotationPresent(org.junit.jupiter.api.Test.class)) {
    one.setAccessible(true);
    java.lang.reflect.Constructor<?> made = type.getDeclaredConstructor(); made.setAccessible(true);
    try { one.invoke(made.newInstance()); } catch (java.lang.reflect.InvocationTargetException failed) { System.out.println(type.getSimpleName() + "." + one.getName() + ": " + failed.getCause()); }
  } }
} }
`
})
const LIKE: Files = { 'test/p/OtherTest.java': 'package p;\n\nimport org.junit.jupiter.api.Test;\n\nclass OtherTest {\n    @Test\n    void one() {\n    }\n}\n' }

function planned(files: Files, type: string, seen?: Observations): PlannedStep {
  const { survey, language, state } = readJava(files)
  const step = planStep(`first-test:${type}`, seen ? { seen: JSON.stringify(seen) } : {}, survey, language.writer(state))
  if (step.refused) throw new Error(`${step.reason}: ${step.message}`)
  return step
}
const textOf = (step: PlannedStep): Files => Object.fromEntries(step.changes.map(change => [change.path, change.after!]))

/** The tests of some classes, with what was seen when their recordings ran. */
function firstTests(files: Files, types: readonly string[]): { readonly held: Files; readonly notes: readonly string[][]; readonly seen: ReadonlyMap<string, Observations | string> } {
  const folder = mkdtempSync(join(tmpdir(), 'hollowmoor-recording-')), to = join(folder, 'recording.jsonl')
  try {
    const recorders = Object.assign({}, ...types.map(type => textOf(planned(files, type)))) as Files
    expect(printedBy({ ...files, ...recorders, ...JUNIT(types.map(one => `${one}CharacterizationTest`)) }, { HOLLOWMOOR_RECORDING: to })).toEqual([''])
    const seen = readRecording(readFileSync(to, 'utf8'))
    const steps = types.map(type => planned(files, type, seen.get(type) as Observations))
    return { held: Object.assign({}, ...steps.map(textOf)) as Files, notes: steps.map(step => [...step.notes]), seen }
  } finally { rmSync(folder, { recursive: true, force: true }) }
}

test('nothing stands in for what has methods from outside the project: they would be lacking', () => {
  const files: Files = { ...LIKE, 'src/p/Gauge.java': 'package p;\n\npublic interface Gauge extends Comparable<Gauge> {\n    int read();\n}\n', 'src/p/Desk.java': 'package p;\n\npublic class Desk {\n    private final Gauge gauge;\n\n    public Desk(Gauge gauge) { this.gauge = gauge; }\n\n    public int level() { return gauge.read() * 2; }\n}\n' }
  expect(() => planned(files, 'p.Desk')).toThrow('no-sample: ')
  // A marker has none at all.
  expect(textOf(planned({ ...files, 'src/p/Gauge.java': 'package p;\n\npublic interface Gauge {}\n', 'src/p/Desk.java': files['src/p/Desk.java']!.replace('gauge.read() * 2', 'gauge == null ? 1 : 2') }, 'p.Desk'))['test/p/DeskCharacterizationTest.java']).toContain('new Gauge() {')
})

const run = (jdkPrograms() ? test : test.skip)

run('a class with doubles, statics, enums, collections and what it throws is held, and the tests tell when it does something else', () => {
  const files: Files = {
    ...LIKE,
    'src/p/Side.java': 'package p;\n\npublic enum Side { LEFT, RIGHT }\n',
    'src/p/Gauge.java': 'package p;\n\npublic interface Gauge {\n    double read(Side side, String name);\n\n    void reset();\n\n    Gauge other();\n}\n',
    'src/p/Size.java': 'package p;\n\npublic record Size(double length, int beam) {}\n',
    'src/p/Desk.java': `package p;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;

public class Desk {
    private final Gauge gauge;
    private final Function<String, Integer> rates;
    private final List<String> names = new ArrayList<>();

    public Desk(Gauge gauge, Function<String, Integer> rates) {
        this.gauge = gauge;
        this.rates = rates;
    }

    public double level(Side side) {
        return gauge.read(side, "upper") * (side == Side.LEFT ? 2 : 3);
    }

    public void admit(String name, Size size) {
        if (name.equals("closed")) throw new IllegalStateException("the \\"desk\\" is closed");
        if (size.beam() > 3) gauge.reset();
        names.add(name + rates.apply(name));
    }

    public List<String> names() {
        return names;
    }

    public Long count() {
        return names.isEmpty() ? null : Long.valueOf(names.size());
    }

    public char[] letters(int... numbers) {
        char[] all = new char[numbers.length];
        for (int at = 0; at < all.length; at++) all[at] = (char) ('a' + numbers[at]);
        return all;
    }

    public Object itself() {
        return new Object();
    }

    public static Side across(Side side) {
        return side == Side.LEFT ? Side.RIGHT : Side.LEFT;
    }

    public int broken(String text) {
        Object none = null;
        return none.hashCode() + text.length();
    }
}
`
  }
  const { held, notes } = firstTests(files, ['p.Desk'])
  const text = held['test/p/DeskCharacterizationTest.java']!
  expect(text).toContain(`    /** Stands in for a Gauge. */
    private Gauge gaugeDouble(String name1) {`.replace('name1', 'name2'))
  expect(text).toContain('return saw(name2 + ".read(" + side + ", " + name + ")", 1.0);')
  expect(text).toContain(`    /** A Desk by itself. */
    private Desk alone() throws Exception {
        return new Desk(gaugeDouble("gauge"), given1 -> saw("rates.apply(" + given1 + ")", 1));
    }`)
  expect(text).toContain(`    @Test
    void levelSideLEFT() throws Exception {
        Desk desk = alone();
        assertEquals(2.0, desk.level(Side.LEFT));
        assertEquals(Arrays.asList("gauge.read(LEFT, upper)"), calls);
    }`)
  expect(text).toContain('IllegalStateException thrown = assertThrows(IllegalStateException.class, () -> desk.admit("closed", new Size(1.0, 1)));\n        assertEquals("the \\"desk\\" is closed", thrown.getMessage());')
  expect(text).toContain('assertEquals("[text1]", String.valueOf(desk.names()));\n        assertEquals((Object) 1L, desk.count());')
  expect(text).toContain('assertEquals("[b]", Arrays.toString(desk.letters(1)));')
  expect(text).toContain('assertEquals(Side.RIGHT, Desk.across(Side.LEFT));')
  expect(notes[0]).toEqual([expect.stringMatching(/^It holds \d+ things that Desk does now/), expect.stringMatching(/^Left out: broken \(with sample arguments it ends with java.lang.NullPointerException/)])

  const all = { ...files, ...held, ...JUNIT(['p.DeskCharacterizationTest']) }
  expect(printedBy(all)).toEqual([''])
  const other = { ...all, 'src/p/Desk.java': files['src/p/Desk.java']!.replace('? 2 : 3', '? 2 : 4').replace('names.add(name +', 'names.add("no " +') }
  expect(printedBy(other).map(line => line.split(':')[0]!).sort()).toEqual(['', 'DeskCharacterizationTest.admitEmptyNewSize1_01', 'DeskCharacterizationTest.admitTextNewSize1_01', 'DeskCharacterizationTest.levelSideRIGHT'])
})

run('random classes do what their first tests say, and not what another class does', () => {
  const random = seededRandom(77), below = (most: number) => Math.floor(random() * most)
  const files: Files = { ...LIKE }, others: Files = {}, types: string[] = []
  for (let round = 0; round < 30; round++) {
    const name = `R${round}`, fields = 1 + below(3), limit = 2 + below(30)
    const step = () => ['+', '-', '*'][below(3)]!
    const body = (change: number) => `package p;

public class ${name} {
    private final ${round % 3 === 0 ? 'Meter meter' : 'int start'};
${Array.from({ length: fields }, (_, at) => `    private int f${at} = ${at + change};\n`).join('')}
    public ${name}(${round % 3 === 0 ? 'Meter meter' : 'int start'}) { this.${round % 3 === 0 ? 'meter = meter' : 'start = start'}; }

    public int first(int a, boolean up) { if (a > ${limit}) return f0 ${operators[0]!} ${round % 3 === 0 ? 'meter.read(a)' : 'start'}; return up ? a ${operators[1]!} ${limit} : f0; }
    public void add(int a) { ${Array.from({ length: fields }, (_, at) => `f${at} = f${at} ${operators[2]!} a + ${at};`).join(' ')} }
    public String told() { return "${name} " + f0${fields > 1 ? ' + f1' : ''}; }
    public long[] all() { return new long[] { f0, ${limit}L }; }
}
`
    const operators = [step(), step(), step()]
    types.push(`p.${name}`)
    files[`src/p/${name}.java`] = body(0)
    others[`src/p/${name}.java`] = body(1)
  }
  files['src/p/Meter.java'] = 'package p;\n\npublic interface Meter {\n    int read(int of);\n}\n'
  const { held } = firstTests(files, types)
  const classes = types.map(one => `${one}CharacterizationTest`)
  expect(printedBy({ ...files, ...held, ...JUNIT(classes) })).toEqual([''])
  const told = new Set(printedBy({ ...files, ...others, ...held, ...JUNIT(classes) }).map(line => line.split('.')[0]!).filter(name => name !== ''))
  expect(told.size).toBe(types.length)
})
