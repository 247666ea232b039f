import { applyJava } from './java-writing.js'

const LEDGER = `package moor.office;

import java.util.List;

/** Counts what the toll brings. */
public class Ledger {
    private int total;

    /**
     * Adds to the total.
     *
     * @param amount in farthings
     */
    public void add(int amount) throws IllegalStateException {
        total += amount;
    }

    public int total() { return total; }

    public Ledger merged(List<Ledger> others) { return this; }

    void forget() { total = 0; }

    @Override
    public String toString() { return "" + total; }
}
`

describe('extract interface in Java', () => {
  it('puts the public methods into a file beside the class, documentation and exceptions along, and narrows the clients', () => {
    const { text, diffs, notes } = applyJava({
      'src/main/java/moor/office/Ledger.java': LEDGER,
      'src/main/java/moor/gate/Toll.java': 'package moor.gate;\n\nimport java.util.ArrayList;\nimport java.util.List;\n\nimport moor.office.Ledger;\n\npublic class Toll {\n    private final Ledger ledger;\n    private final List<Ledger> old = new ArrayList<>();\n\n    public Toll(Ledger ledger) {\n        this.ledger = ledger;\n        old.add(ledger);\n    }\n\n    public int take() {\n        ledger.add(3);\n        for (Ledger one : old) one.add(1);\n        return ledger.total();\n    }\n}\n'
    }, 'extract', 'moor.office.Ledger')
    expect(text('src/main/java/moor/office/LedgerPort.java')).toBe(`package moor.office;

import java.util.List;

public interface LedgerPort {
    /**
     * Adds to the total.
     *
     * @param amount in farthings
     */
    void add(int amount) throws IllegalStateException;

    int total();
    LedgerPort merged(List<LedgerPort> others);
}
`)
    expect(diffs('src/main/java/moor/gate/Toll.java')).toEqual([
      '-import moor.office.Ledger;', '+import moor.office.LedgerPort;',
      '-    private final Ledger ledger;', '-    private final List<Ledger> old = new ArrayList<>();', '+    private final LedgerPort ledger;', '+    private final List<LedgerPort> old = new ArrayList<>();',
      '-    public Toll(Ledger ledger) {', '+    public Toll(LedgerPort ledger) {', '-        for (Ledger one : old) one.add(1);', '+        for (LedgerPort one : old) one.add(1);'
    ])
    expect(diffs('src/main/java/moor/office/Ledger.java')).toEqual([
      '-public class Ledger {', '+public class Ledger implements LedgerPort {', '+    @Override', '+    @Override',
      '-    public Ledger merged(List<Ledger> others) { return this; }', '+    @Override', '+    public LedgerPort merged(List<LedgerPort> others) { return this; }'
    ])
    expect(notes[0]).toBe('6 of 6 uses of Ledger as a type become LedgerPort.')
  })

  it('leaves what needs the class: members that are not public, values handed to code that wants it', () => {
    const { text } = applyJava({
      'a/Ledger.java': LEDGER.replace('package moor.office;', 'package a;'),
      'a/Clerk.java': 'package a;\n\nclass Clerk {\n    static void wipe(Ledger ledger) { ledger.forget(); }\n    static void close(Ledger ledger) { wipe(ledger); }\n    static int read(Ledger ledger) { return ledger.total(); }\n    static Ledger open() { Ledger made = new Ledger(); wipe(made); return made; }\n    static boolean same(Ledger a, Ledger b) { return a == b; }\n}\n'
    }, 'extract', 'a.Ledger')
    const clerk = text('a/Clerk.java')
    expect(clerk).toContain('wipe(Ledger ledger)')
    expect(clerk).toContain('close(Ledger ledger)')
    expect(clerk).toContain('read(LedgerPort ledger)')
    expect(clerk).toContain('Ledger made = new Ledger()')
    expect(clerk).toContain('static LedgerPort open()')
    expect(clerk).toContain('same(LedgerPort a, LedgerPort b)')
  })

  it('keeps the parameters of methods that override each other the same', () => {
    const { text } = applyJava({
      'a/Ledger.java': LEDGER.replace('package moor.office;', 'package a;'),
      'a/Desk.java': 'package a;\n\npublic interface Desk { void put(Ledger ledger); void take(Ledger ledger); Ledger give(); }\n',
      'a/Oak.java': 'package a;\n\npublic class Oak implements Desk {\n    public void put(Ledger ledger) { ledger.forget(); }\n    public void take(Ledger ledger) { ledger.total(); }\n    public Ledger give() { return new Ledger(); }\n}\n'
    }, 'extract', 'a.Ledger')
    expect(text('a/Desk.java')).toContain('void put(Ledger ledger); void take(LedgerPort ledger); LedgerPort give();')
    expect(text('a/Oak.java')).toContain('void put(Ledger ledger)')
    expect(text('a/Oak.java')).toContain('void take(LedgerPort ledger)')
  })

  it('carries type parameters with their bounds, and nested types by their outer class', () => {
    const { text } = applyJava({
      'a/Store.java': 'package a;\n\nimport java.util.Comparator;\nimport java.util.Map;\n\npublic class Store<K extends Comparable<? super K>, V> {\n    public static class Slot { }\n    public <R extends V> R find(K key, Comparator<? super V> by) { return null; }\n    public Map.Entry<K, V>[] all(Slot... slots) { return null; }\n}\n',
      'a/User.java': 'package a;\n\nclass User {\n    Store<String, Integer> store;\n    int n() { return store.find("a", null); }\n}\n'
    }, 'extract', 'a.Store')
    expect(text('a/StorePort.java')).toBe('package a;\n\nimport java.util.Comparator;\nimport java.util.Map;\n\npublic interface StorePort<K extends Comparable<? super K>, V> {\n  <R extends V> R find(K key, Comparator<? super V> by);\n  Map.Entry<K, V>[] all(Store.Slot... slots);\n}\n'.replace(/^ {2}/gm, '    '))
    expect(text('a/User.java')).toContain('StorePort<String, Integer> store;')
    expect(text('a/Store.java')).toContain('public class Store<K extends Comparable<? super K>, V> implements StorePort<K, V> {')
  })

  it('stands beside a nested class whose members speak of its private neighbours', () => {
    const { text, notes } = applyJava({
      'a/Office.java': 'package a;\n\npublic class Office {\n    private static class Stamp { }\n    private static class Drawer {\n        public Stamp stamp() { return new Stamp(); }\n    }\n    private final Drawer drawer = new Drawer();\n    Object use() { return drawer.stamp(); }\n}\n'
    }, 'extract', 'a.Office.Drawer')
    expect(text('a/Office.java')).toContain('    private interface DrawerPort {\n        Stamp stamp();\n    }\n\n    private static class Drawer implements DrawerPort {')
    expect(text('a/Office.java')).toContain('private final DrawerPort drawer = new Drawer();')
    expect(notes[0]).toMatch(/class's own file/)
  })

  it('keeps the licence, the line ends and the indentation of the class', () => {
    const { text } = applyJava({
      'a/Bell.java': '/*\r\n * Copyright of the office.\r\n */\r\npackage a;\r\n\r\nclass Bell {\r\n\tpublic void ring() { }\r\n}\r\n'
    }, 'extract', 'a.Bell')
    expect(text('a/BellPort.java')).toBe('/*\r\n * Copyright of the office.\r\n */\r\n\r\npackage a;\r\n\r\ninterface BellPort {\r\n\tvoid ring();\r\n}\r\n')
  })

  it('follows values through method references, lambdas and streams', () => {
    const { text } = applyJava({
      'a/Ledger.java': LEDGER.replace('package moor.office;', 'package a;'),
      'a/Sum.java': 'package a;\n\nimport java.util.List;\nimport java.util.function.Consumer;\n\nclass Sum {\n    int of(List<Ledger> all) { return all.stream().mapToInt(Ledger::total).sum(); }\n    void each(List<Ledger> all) { all.forEach(one -> one.add(1)); }\n    void wiped(List<Ledger> all) { all.forEach(one -> one.forget()); }\n    void with(Consumer<Ledger> what) { what.accept(new Ledger()); }\n    void use() { with(Ledger::forget); }\n}\n'
    }, 'extract', 'a.Ledger')
    const sum = text('a/Sum.java')
    expect(sum).toContain('of(List<LedgerPort> all) { return all.stream().mapToInt(LedgerPort::total)')
    expect(sum).toContain('each(List<LedgerPort> all)')
    expect(sum).toContain('wiped(List<Ledger> all)')
    expect(sum).toContain('with(Consumer<Ledger> what)')
  })

  it('takes inherited methods along, generic ones as the class sees them, and those that speak of the class itself', () => {
    const { text } = applyJava({
      'a/Base.java': 'package a;\n\npublic abstract class Base<T> {\n    public T first() { return null; }\n    public void put(T one, Ledger into) { }\n}\n',
      'a/Half.java': 'package a;\n\npublic abstract class Half extends Base<String> {\n    public Ledger ledger() { return null; }\n    public boolean like(Ledger other) { return other != null; }\n}\n',
      'a/Ledger.java': 'package a;\n\npublic class Ledger extends Half {\n    public int total() { return 1; }\n}\n',
      'a/Use.java': 'package a;\n\nclass Use {\n    Ledger ledger = new Ledger();\n    int n() { return ledger.ledger().total() + ledger.first().length(); }\n}\n'
    }, 'extract', 'a.Ledger')
    const port = text('a/LedgerPort.java')
    for (const line of ['int total();', 'LedgerPort ledger();', 'boolean like(LedgerPort other);', 'String first();', 'void put(String one, Ledger into);']) expect(port).toContain(line)
    expect(text('a/Half.java')).toContain('public LedgerPort ledger()')
    expect(text('a/Use.java')).toContain('LedgerPort ledger = new Ledger();')
  })

  it('keeps what it is compared with, where its own method reads more of it than the interface has', () => {
    const { text } = applyJava({ 'a/Tide.java': 'package a;\n\npublic class Tide extends Number implements Comparable<Tide> {\n    private int value;\n    public int get() { return value; }\n    public int compareTo(final Tide other) { return Integer.compare(this.value, other.value); }\n    public int intValue() { return value; }\n    public long longValue() { return value; }\n    public float floatValue() { return value; }\n    public double doubleValue() { return value; }\n}\n' }, 'extract', 'a.Tide')
    expect(text('a/Tide.java')).toContain('public class Tide extends Number implements Comparable<Tide>, TidePort {')
    expect(text('a/TidePort.java')).toContain('int compareTo(Tide other);')
  })

  it('refuses names that are taken or can be none, and classes without anything to show', () => {
    const files = { 'a/Ledger.java': LEDGER.replace('package moor.office;', 'package a;'), 'a/Dull.java': 'package a;\nclass Dull { void quiet() { } }\n' }
    expect(applyJava(files, 'extract', 'a.Ledger', { name: 'Dull' }).refused).toBe('file-exists')
    expect(applyJava(files, 'extract', 'a.Ledger', { name: 'class' }).refused).toBe('name')
    expect(applyJava(files, 'extract', 'a.Dull').refused).toBe('no-members')
  })

  it('goes to the client where that is asked for, public and imported by the class', () => {
    const { text } = applyJava({
      'src/a/Ledger.java': LEDGER.replace('package moor.office;', 'package a;'),
      'src/b/Clerk.java': 'package b;\n\nimport a.Ledger;\n\npublic class Clerk {\n    int read(Ledger ledger) { return ledger.total(); }\n}\n'
    }, 'extract', 'a.Ledger', { members: ['total'], place: 'client', client: 'b.Clerk', name: 'Totals' })
    expect(text('src/b/Totals.java')).toBe('package b;\n\npublic interface Totals {\n    int total();\n}\n')
    expect(text('src/b/Clerk.java')).toBe('package b;\n\npublic class Clerk {\n    int read(Totals ledger) { return ledger.total(); }\n}\n')
    expect(text('src/a/Ledger.java')).toContain('import b.Totals;\nimport java.util.List;')
  })
})
