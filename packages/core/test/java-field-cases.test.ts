import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { applyJava } from './applying.js'
import type { Files } from './java.js'
import { readJava } from './java.js'

/** What field tests on other people's code broke, or refused without need. */

test('a name of a library that is not at hand is imported where it is said once more', () => {
  const files: Files = {
    'p/Tolls.java': `package p;

import far.away.Note;
import far.away.Sum;

public class Tolls {
    @Note("of old")
    public static Sum due(@Note int locks) {
        Sum sum = new Sum(locks);
        return sum;
    }
}
`,
    'p/Desk.java': 'package p;\n\nclass Desk {\n    Object ask() { return Tolls.due(2); }\n}\n'
  }
  expect(applyJava(files, 'make-static-replaceable:p.Tolls')).toMatchObject({
    'p/TollsPort.java': expect.stringMatching(/import far\.away\.Sum;[^]*Sum due\(int locks\);/) as string,
    'p/DefaultTolls.java': expect.stringMatching(/import far\.away\.Note;\nimport far\.away\.Sum;[^]*@Note\("of old"\)\n {4}public Sum due\(@Note int locks\) \{\n {8}Sum sum = new Sum\(locks\);/) as string
  })
})

test('a name that nothing imports is no name of a library', () => {
  const files: Files = { 'p/Tolls.java': 'package p;\n\npublic class Tolls {\n    public static Sum due(int locks) {\n        return null;\n    }\n}\n' }
  expect(applyJava(files, 'make-static-replaceable:p.Tolls')).toMatchObject({ reason: 'does-not-compile', message: expect.stringContaining('Sum: no type of this name is found') as string })
})

test('what an interface says again of its parents is not divided', () => {
  const files: Files = {
    'p/Bag.java': 'package p;\n\npublic interface Bag extends Iterable<String> {\n    @Override\n    java.util.Iterator<String> iterator();\n\n    boolean equals(Object other);\n\n    void add(String one);\n\n    int count(String one);\n}\n',
    'p/Adder.java': 'package p;\n\nclass Adder { void all(Bag bag) { bag.add("x"); } }\n', 'p/Other.java': 'package p;\n\nclass Other { void all(Bag bag) { bag.add("y"); } }\n',
    'p/Counter.java': 'package p;\n\nclass Counter { int of(Bag bag) { return bag.count("x"); } }\n', 'p/More.java': 'package p;\n\nclass More { int of(Bag bag) { return bag.count("y"); } }\n'
  }
  const { language, state, survey } = readJava(files)
  expect(language.writer(state).dividedMembers('p.Bag')).toEqual(['add', 'count'])
  expect(offersOf(survey, language.writer(state)).map(one => one.id)).toContain('split-interface:p.Bag')
  const after = applyJava(files, 'split-interface:p.Bag')
  expect(after).toMatchObject({ 'p/Bag.java': expect.stringMatching(/^package p;\n\npublic interface Bag extends Iterable<String>, \w+, \w+ \{\n {4}@Override\n {4}java\.util\.Iterator<String> iterator\(\);\n\n {4}boolean equals\(Object other\);\n\}\n$/) as string })
})

test('what every object has stays public in a class of its own', () => {
  const files: Files = {
    'p/Boat.java': `package p;

public class Boat {
    private String name = "";
    private int crew;

    public void call(String other) {
        name = other;
    }

    @Override
    public String toString() {
        return name + "!";
    }

    public void board(int more) {
        crew += more;
    }

    public int crew() {
        return crew;
    }
}
`
  }
  expect(applyJava(files, 'extract-class:p.Boat', { members: 'name,call,toString', name: 'BoatName' })).toMatchObject({ 'p/BoatName.java': expect.stringMatching(/\n {4}void call\(String other\) \{[^]*\n {4}public String toString\(\) \{/) as string })
})

test('of classes of one shape, what one of them may throw and another does not say is left out', () => {
  const shape = (name: string, read: string) => `package p;\n\npublic class ${name} {\n    public int open(int at) { return at + ${name.length}; }\n    public int read(int at)${read} { return at * ${name.length}; }\n    public int shut(int at) { return at - ${name.length}; }\n    public int mend(int at) throws IllegalStateException { return at / ${name.length}; }\n}\n`
  const files: Files = { 'p/UpperGate.java': shape('UpperGate', ''), 'p/LowerGate.java': shape('LowerGate', ' throws java.io.IOException'), 'p/SideGate.java': shape('SideGate', '') }
  const after = applyJava(files, 'shared-interface:p.UpperGate')
  expect(after).toMatchObject({ 'p/Gate.java': expect.stringContaining('int mend(int at) throws IllegalStateException;') as string })
  expect((after as Record<string, string>)['p/Gate.java']).not.toContain('read')
})

test('only what nothing overrides promises that any number of values are safe', () => {
  const files: Files = { 'p/Sets.java': 'package p;\n\npublic class Sets {\n    @SafeVarargs\n    public static <E> java.util.Set<E> of(E... all) {\n        return new java.util.HashSet<>(java.util.Arrays.asList(all));\n    }\n}\n', 'p/Desk.java': 'package p;\n\nclass Desk { Object ask() { return Sets.of("a"); } }\n' }
  const after = applyJava(files, 'make-static-replaceable:p.Sets') as Record<string, string>
  expect(after['p/DefaultSets.java']).not.toContain('SafeVarargs')
  expect(after['p/Sets.java']).toContain('@SafeVarargs\n    public static <E>')
})

describe('a class that Java writes out by its fields', () => {
  const files: Files = {
    'p/Log.java': 'package p;\n\npublic class Log {\n    void note(String line) { }\n}\n',
    'p/Berth.java': `package p;

import java.io.Serializable;
import java.time.LocalTime;

public class Berth implements Serializable {
    private int crew;

    public void moor() {
        Log log = new Log();
        log.note("moored " + LocalTime.now());
        crew++;
    }
}
`,
    'p/Pier.java': 'package p;\n\npublic class Pier {\n    public void moor() {\n        new Log().note("moored " + java.time.LocalTime.now());\n    }\n}\n'
  }

  test.each(['inject:p.Berth:p.Log@moor', 'wrap-library:p.Berth:jdk.clock'])('is given no further one: %s', id => {
    const { survey, language, state } = readJava(files)
    const offered = offersOf(survey, language.writer(state)).map(one => one.id), there = id.replaceAll('Berth', 'Pier')
    expect(offered).toContain(there)
    expect(offered).not.toContain(id)
    expect(applyJava(files, id)).toMatchObject({ reason: 'serializable', message: 'Berth is serializable, and its fields are part of what is written.' })
    expect(applyJava(files, there)).not.toHaveProperty('reason')
  })
})

test('a method that is asked for at run time by the classes of its parameters keeps them', () => {
  const files: Files = {
    'p/Chart.java': 'package p;\n\npublic class Chart {\n    public int depth() { return 1; }\n}\n',
    'p/Pilot.java': 'package p;\n\npublic class Pilot {\n    public Pilot(Chart chart) { chart.depth(); }\n\n    int steer(Chart chart) { return chart.depth(); }\n\n    int drift(Chart chart) { return chart.depth(); }\n}\n',
    'p/Check.java': 'package p;\n\nclass Check {\n    Object ask() throws Exception { return Pilot.class.getDeclaredMethod("steer", Chart.class); }\n}\n'
  }
  const pilot = (more: Files = {}) => (applyJava({ ...files, ...more }, 'extract-interface:p.Chart') as Record<string, string>)['p/Pilot.java']
  expect(pilot()).toMatch(/public Pilot\(ChartPort chart\)[^]*steer\(Chart chart\)[^]*drift\(ChartPort chart\)/)
  const asking = (text: string): Files => ({ 'p/Check.java': `package p;\n\nclass Check {\n    Object ask(String name) throws Exception { return Pilot.class.${text}; }\n}\n` })
  expect(pilot(asking('getConstructor(Chart.class)'))).toMatch(/public Pilot\(Chart chart\)[^]*steer\(ChartPort chart\)/)
  expect(pilot(asking('getMethod(name, Chart.class)'))).toMatch(/public Pilot\(ChartPort chart\)[^]*steer\(Chart chart\)[^]*drift\(Chart chart\)/)
})

test('a class whose constructors are listed at run time is given none more', () => {
  const files: Files = {
    'p/Log.java': 'package p;\n\npublic class Log {\n    void note(String line) { System.out.println(line); }\n}\n',
    'p/Berth.java': 'package p;\n\npublic class Berth {\n    public void moor() {\n        new Log().note("moored");\n    }\n}\n',
    'p/Check.java': 'package p;\n\nclass Check {\n    Class<?> kind = Berth.class;\n\n    int count() { return kind.getDeclaredConstructors().length; }\n}\n'
  }
  const id = 'inject:p.Berth:p.Log@moor'
  expect(applyJava(files, id)).toMatchObject({ reason: 'reflection', message: 'p/Check.java:4 looks at the class at run time, and lists what it has.' })
  const named = applyJava({ ...files, 'p/Check.java': files['p/Check.java']!.replace('kind.getDeclaredConstructors().length', 'kind.getName().length()') }, id)
  expect(named).toMatchObject({ 'p/Berth.java': expect.stringContaining('public Berth() {\n        this(Log::new);\n') as string })
})

test('a class that is looked through at run time stays in its package, and one that is written out says what moving it costs', () => {
  const files: Files = {
    'p/Berth.java': 'package p;\n\npublic class Berth implements java.io.Serializable {\n    public int crew;\n}\n',
    'p/Check.java': 'package p;\n\nclass Check {\n    int count() { return Berth.class.getDeclaredClasses().length; }\n}\n', 'q/Pier.java': 'package q;\n\nclass Pier {\n    p.Berth berth;\n}\n'
  }
  const { survey, language, state } = readJava(files)
  expect(planStep('move-type:p.Berth', { module: 'q' }, survey, language.writer(state))).toMatchObject({ refused: true, reason: 'reflection', message: 'p/Check.java:4 looks at what Berth has at run time; from another package it may not.' })
  const named = readJava({ ...files, 'p/Check.java': files['p/Check.java']!.replace('getDeclaredClasses().length', 'getName().length()') })
  expect(planStep('move-type:p.Berth', { module: 'q' }, named.survey, named.language.writer(named.state))).toMatchObject({ refused: false, notes: expect.arrayContaining(['Berth is serializable: what was written out under its old name cannot be read any more.']) as string[] })
  const kept = readJava({ ...files, 'p/Check.java': 'package p;\n\nclass Check { }\n', 'p/Berth.java': files['p/Berth.java']!.replace('public int crew', 'private static final long serialVersionUID = 1L;\n    public int crew') })
  expect(offersOf(kept.survey, kept.language.writer(kept.state)).map(one => one.id)).not.toContain('move-type:p.Berth')
  expect(planStep('move-type:p.Berth', { module: 'q' }, kept.survey, kept.language.writer(kept.state))).toMatchObject({ refused: true, reason: 'serializable' })
})

test('a type parameter keeps its bound where another class that it is handed to asks for that', () => {
  const files: Files = {
    'p/Bag.java': 'package p;\n\npublic interface Bag {\n    void add(String one);\n\n    int count(String one);\n\n    void close();\n}\n',
    'p/Held.java': 'package p;\n\nclass Held<E extends Bag> {\n    void of(E bag) { bag.close(); }\n}\n', 'p/Shut.java': 'package p;\n\nclass Shut { void all(Bag bag) { bag.close(); } }\n',
    'p/Adder.java': 'package p;\n\nclass Adder { void all(Bag bag) { bag.add("x"); } }\n', 'p/Other.java': 'package p;\n\nclass Other { void all(Bag bag) { bag.add("y"); } }\n',
    'p/Counter.java': 'package p;\n\nclass Counter { int of(Bag bag) { return bag.count("x"); } }\n', 'p/More.java': 'package p;\n\nclass More { int of(Bag bag) { return bag.count("y"); } }\n',
    'p/Fleet.java': 'package p;\n\nclass Fleet<E extends Bag> {\n    Held<E> held;\n    void all(E bag) { bag.add("x"); }\n}\n',
    'p/Free.java': 'package p;\n\nclass Free<E extends Bag> {\n    void all(E bag) { bag.add("x"); }\n}\n'
  }
  const after = applyJava(files, 'split-interface:p.Bag') as Record<string, string>
  expect(after['p/Adder.java']).toMatch(/all\(BagAdd\w* bag\)|all\((?!Bag )\w+ bag\)/)
  expect(after['p/Fleet.java'] ?? files['p/Fleet.java']).toContain('class Fleet<E extends Bag> {')
  expect(after['p/Held.java']).toMatch(/class Held<E extends (?!Bag>)\w+> \{/)
  expect(after['p/Free.java']).toMatch(/class Free<E extends (?!Bag>)\w+> \{/)
})

test('what every object has is no name of a call to a library', () => {
  const files: Files = {
    'p/Desk.java': 'package p;\n\nimport javax.xml.XMLConstants;\nimport org.xml.sax.SAXException;\n\npublic class Desk {\n    public boolean open(String name) throws SAXException {\n        if (XMLConstants.XMLNS_ATTRIBUTE.equals(name)) throw new SAXException(name);\n        return XMLConstants.XML_NS_PREFIX.equals(name);\n    }\n}\n'
  }
  const applied = applyJava(files, 'wrap-library:p.Desk:jdk.unknown') as Record<string, string>
  expect(applied['p/Desk.java']).toContain('if (xml.stringEquals(name)) throw')
  expect(Object.values(applied).join('\n')).not.toMatch(/ equals\(\w+ \w+\)/)
})

test('a class does not move where it asks something of a class that cannot be seen there', () => {
  const files: Files = {
    'p/Items.java': 'package p;\n\nclass Items {\n    public int indexOf(Object item) { return 0; }\n}\n',
    'p/Board.java': 'package p;\n\npublic class Board {\n    public Items items() { return new Items(); }\n}\n',
    'p/Item.java': 'package p;\n\npublic class Item {\n    public int at(Board board) { return board.items().indexOf(this); }\n}\n',
    'q/Desk.java': 'package q;\n\npublic class Desk {\n    p.Item item;\n}\n'
  }
  expect(applyJava(files, 'move-type:p.Item', { module: 'q' })).toHaveProperty('message', expect.stringContaining('cannot be seen'))
  expect(applyJava({ ...files, 'p/Items.java': files['p/Items.java']!.replace('class Items', 'public class Items') }, 'move-type:p.Item', { module: 'q' })).toHaveProperty(['q/Item.java'])
})
