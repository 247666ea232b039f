import type { Choices } from '@hollowmoor/core/remedy/remedy'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { applyJava } from './applying.js'
import type { Files } from './java.js'
import { readJava } from './java.js'

const JAVA = `package a;

import java.util.ArrayList;
import java.util.List;

/** A flat. */
public class Flat {
    public static final int MOST = 9;
    private final String name;
    private int load;
    /** Where it lies. */
    private String place;
    private final List<String> visits = new ArrayList<>();

    public Flat(String name) {
        this.name = name;
    }

    public int add(int tonnes) { load += tonnes; return load + name.length(); }

    /** Ties it up. */
    public final void moor(String at) throws IllegalStateException {
        this.place = at;
        note(at);
    }

    public String where(int index) { return visits.size() > MOST ? place : visits.get(index); }

    private void note(String at) { visits.add(at); }
}
`
describe('extracting a class in Java', () => {
  test('the group goes to a file of its own, what others call stays and hands on', () => {
    // It would need the constant of Flat in turn, and so it is for the user to choose.
    const { survey, language, state } = readJava({ 'a/Flat.java': JAVA })
    expect(offersOf(survey, language.writer(state), undefined, 'extract-class')).toEqual([])
    expect(planStep('extract-class:a.Flat', { members: 'place,visits,moor,where,note' }, survey, language.writer(state))).toMatchObject({ notes: [expect.anything(), 'FlatPlace needs Flat in turn: the two are a cycle.'] })
    expect(applyJava({ 'a/Flat.java': JAVA }, 'extract-class:a.Flat', { members: 'place,visits,moor,where,note' })).toEqual({
      'a/FlatPlace.java': `package a;

import java.util.ArrayList;
import java.util.List;

class FlatPlace {
    /** Where it lies. */
    private String place;
    private final List<String> visits = new ArrayList<>();

    void moor(String at) throws IllegalStateException {
        this.place = at;
        note(at);
    }

    String where(int index) { return visits.size() > Flat.MOST ? place : visits.get(index); }

    private void note(String at) { visits.add(at); }
}
`,
      'a/Flat.java': `package a;

/** A flat. */
public class Flat {
    public static final int MOST = 9;
    private final String name;
    private int load;
    private final FlatPlace place = new FlatPlace();

    public Flat(String name) {
        this.name = name;
    }

    public int add(int tonnes) { load += tonnes; return load + name.length(); }

    /** Ties it up. */
    public final void moor(String at) throws IllegalStateException {
        place.moor(at);
    }

    public String where(int index) {
        return place.where(index);
    }
}
`
    })
  })

  const OFFICE = `package a;

public class Office {
    private final Ledger ledger;
    private final Post post;
    private String[] greeting;
    private int sent;

    public Office(Ledger ledger) {
        this(ledger, null);
    }

    public Office(Ledger ledger, Post post, String... greeting) {
        this.ledger = ledger;
        if (greeting.length == 0) throw new IllegalArgumentException();
        this.post = post;
        this.greeting = greeting;
    }

    public double owed() { return ledger.sum(); }

    public void remind(String to) {
        sent++;
        post.send(to, greeting);
    }

    public int count() { return sent; }
}
`
  const MORE = { 'a/Ledger.java': 'package a;\npublic interface Ledger { double sum(); }\n', 'a/Post.java': 'package a;\npublic interface Post { void send(String to, String[] text); }\n' }

  test('fields that constructors fill with their arguments go along', () => {
    const applied = applyJava({ 'a/Office.java': OFFICE, ...MORE }, 'extract-class:a.Office', { members: 'post,greeting,sent,remind,count', name: 'Reminders' }) as Files
    expect(applied['a/Reminders.java']).toBe(`package a;

class Reminders {
    private final Post post;
    private String[] greeting;
    private int sent;

    Reminders(Post post, String[] greeting) {
        this.post = post;
        this.greeting = greeting;
    }

    void remind(String to) {
        sent++;
        post.send(to, greeting);
    }

    int count() { return sent; }
}
`)
    expect(applied['a/Office.java']).toContain('    private final Ledger ledger;\n    private final Reminders reminders;\n\n    public Office(Ledger ledger) {\n        this(ledger, null);\n    }\n')
    expect(applied['a/Office.java']).toContain('            throw new IllegalArgumentException();'.trim() + '\n        this.reminders = new Reminders(post, greeting);\n    }\n')
  })

  const office: [string, string, string, string][] = [
    ['not all constructors fill', 'used', 'this(ledger, null);', 'this.ledger = ledger;\n        this.post = null;'], ['one is set again', 'used', 'public int count()', 'void forget() { this.post = null; }\n\n    public int count()'],
    ['the object is used before', 'order', 'if (greeting', 'count();\n        if (greeting'],
    ['the object is handed on before', 'order', 'if (greeting', 'System.out.println(this);\n        if (greeting'], ['a field asks the object as it is made', 'order', 'private int sent;', 'private int sent;\n    private final int first = count();'],
    ['another field is made with something that may matter', 'order', 'private int sent;', 'private long sent = System.nanoTime();\n    private long at = System.nanoTime();']
  ]
  test.each(office)('fields stay where %s', (_, reason, from, to) => {
    expect(applyJava({ 'a/Office.java': OFFICE.replace(from, to).replace('private final Post', 'private Post'), ...MORE }, 'extract-class:a.Office', { members: 'post,greeting,sent,remind,count' })).toMatchObject({ reason })
  })

  const group = 'place,visits,moor,where,note'
  const refused: [string, string, Files, Choices][] = [
    ['a group that uses what stays', 'between', { 'a/Flat.java': JAVA.replace('return load +', 'return visits.size() + place.length() + load +') }, { members: 'load,add' }], ['a field that others use', 'used', { 'a/Flat.java': JAVA }, { members: 'place,moor,note,visits' }],
    ['a private constructor of the class that it calls', 'between', { 'a/Flat.java': JAVA.replace('public Flat(String name) {', 'private Flat(String name) {').replace('note(at);', 'note(at + new Flat(at).hashCode());') }, { members: group }],
    ['a serializable class', 'serializable', { 'a/Flat.java': JAVA.replace('class Flat {', 'class Flat implements java.io.Serializable {') }, { members: group }],
    ['the object itself handed on', 'between', { 'a/Flat.java': JAVA.replace('note(at);', 'note(this.toString());') }, { members: group }],
    ['a class inside it that belongs to its object', 'between', { 'a/Flat.java': JAVA.replace('note(at);', 'note(at + new Knot().hashCode());\n    }\n\n    class Knot {') }, { members: group }],
    ['synchronized methods', 'member', { 'a/Flat.java': JAVA.replace('public final void moor', 'public synchronized void moor') }, { members: group }],
    ['annotations that something else reads', 'framework', { 'a/Flat.java': JAVA.replace('    private String place', '    @Column\n    private String place').replace('/** A flat. */', '@interface Column { }\n\n/** A flat. */') }, { members: group }],
    ['a reserved name', 'name', { 'a/Flat.java': JAVA }, { members: group, name: 'class' }]
  ]
  test.each(refused)('refuses %s', (_, reason, files, choices) => { expect(applyJava(files, 'extract-class:a.Flat', choices)).toMatchObject({ reason }) })
})

const TILL = `package a;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/** Where dues are paid. */
public class Till {
    private static final int MOST = 9;
    private final double rate;
    protected final Path folder;
    private final List<String> marks = List.of("due");
    private double paid;

    public Till(double rate, Path folder) {
        this.rate = rate;
        this.folder = folder.normalize();
    }

    public double due(int tons) { return tons > MOST ? rate * MOST : rate * tons; }

    public double twice() { return due(2) * 2 + marks.size(); }

    public void pay(String kind) throws IOException {
        paid += kind.equals("flat") ? 1 : due(1) / 2;
        keep(String.valueOf(paid));
        if (paid > 4) this.keep(kind);
    }

    public String last() throws IOException { return Files.readString(path()); }

    /** Keeps it. */
    private void keep(String text) throws IOException {
        if (text.length() > MOST) throw new IllegalArgumentException(text);
        Files.writeString(path(), marks.get(0) + text);
    }

    private Path path() { return folder.resolve("paid.txt"); }
}
`
const FILES = 'extract-class:a.Till:file-system'

describe('extracting what touches the outside in Java', () => {
  test('goes with its helpers; what nothing sets again both have, a constant goes along, and what stays asks for the rest', () => {
    const { survey, language, state } = readJava({ 'a/Till.java': TILL })
    expect(offersOf(survey, language.writer(state), undefined, 'extract-class').map(one => one.id)).toContain(FILES)
    const outcome = planStep(FILES, {}, survey, language.writer(state))
    if (outcome.refused) throw new Error(outcome.message)
    expect(outcome.notes).toEqual(['Till holds a TillFiles and hands last on to it and asks it for keep.', 'Both have folder, marks, which nothing sets again.'])
    const after = Object.fromEntries(outcome.changes.map(one => [one.path, one.after]))
    expect(after['a/TillFiles.java']).toBe(`package a;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

class TillFiles {
    static final int MOST = 9;
    private final Path folder;
    private final List<String> marks;

    TillFiles(Path folder, List<String> marks) {
        this.folder = folder;
        this.marks = marks;
    }

    String last() throws IOException { return Files.readString(path()); }

    /** Keeps it. */
    void keep(String text) throws IOException {
        if (text.length() > MOST) throw new IllegalArgumentException(text);
        Files.writeString(path(), marks.get(0) + text);
    }

    private Path path() { return folder.resolve("paid.txt"); }
}
`)
    expect(after['a/Till.java']).toContain('return tons > TillFiles.MOST ? rate * TillFiles.MOST : rate * tons;')
    expect(after['a/Till.java']).toContain('        this.folder = folder.normalize();\n        this.files = new TillFiles(this.folder, this.marks);\n')
    expect(after['a/Till.java']).toContain('        files.keep(String.valueOf(paid));\n        if (paid > 4) this.files.keep(kind);\n')
    expect(after['a/Till.java']).toContain('    public String last() throws IOException {\n        return files.last();\n    }\n}\n')
  })

  const stays: [string, string, string, string][] = [
    ['where it asks for what changes', 'between', 'marks.get(0) + text', 'paid + text'], ['where a field is made with what it says', 'order', 'private double paid;', 'private double paid;\n    private final Object first = path();'],
    ['where the constructor asks for it before all is filled', 'order', 'this.rate = rate;', 'path();\n        this.rate = rate;'], ['where a helper is handed on', 'used', 'if (paid > 4) this.keep(kind);', 'java.util.function.Supplier<Path> where = this::path;'],
    ['where what it shares is set again', 'between', 'public double twice()', 'void moveTo(Path other) { where = other; }\n\n    public double twice()'], ['where one constructor fills it otherwise', 'between', 'public double due(', 'public Till(Path at) {\n        rate = 1;\n        if (at != null) where = at; else where = null;\n    }\n\n    public double due(']
  ]
  test.each(stays)('stays %s', (_, reason, from, to) => {
    const text = TILL.replace(from, to), isSet = text.includes('where = ')
    expect(applyJava({ 'a/Till.java': isSet ? text.replaceAll('folder', 'where').replace('protected final', 'private').replace('Path where)', 'Path folder)').replace('where.normalize()', 'folder.normalize()') : text }, FILES, { members: 'last,keep,path' })).toMatchObject({ reason })
  })

  test('it can be handed in, beside the constructor that there is', () => {
    const applied = applyJava({ 'a/Till.java': TILL.replace('.normalize()', '').replaceAll('marks.get(0)', '"due"'), 'a/Main.java': 'package a;\nclass Main { double told() { return new Till(2, null).due(3); } }\n' }, FILES, { held: 'handed', name: 'Paper' }) as Files
    expect(applied).not.toHaveProperty('message')
    expect(Object.keys(applied).sort()).toEqual(['a/Paper.java', 'a/Till.java'])
    expect(applied['a/Till.java']).toMatch(/public Till\(double rate, Path folder\) \{\n {8}this\(rate, folder, /)
  })

  test('types inside the class are named by it, private ones stay', () => {
    const text = TILL.replace('private final List<String> marks = List.of("due");', 'private final List<Mark> marks = List.of();\n\n    static class Mark { }').replace('marks.get(0)', 'String.valueOf(marks)')
    expect((applyJava({ 'a/Till.java': text }, FILES, { members: 'last,keep,path' }) as Files)['a/TillFiles.java']).toContain('    private final List<Till.Mark> marks;\n\n    TillFiles(Path folder, List<Till.Mark> marks) {\n')
    expect(applyJava({ 'a/Till.java': text.replace('static class Mark', 'private static class Mark') }, FILES, { members: 'last,keep,path' })).toMatchObject({ reason: 'between' })
  })

  test('what only a group uses goes along, unnamed', () => {
    const text = TILL.replace('protected final Path', 'private final Path').replace('this.folder = folder.normalize()', 'this.folder = folder')
    const applied = applyJava({ 'a/Till.java': text }, FILES, {}) as Files
    expect(applied['a/TillFiles.java']).toContain('    private final List<String> marks;\n    private final Path folder;\n')
    expect(applied['a/Till.java']).not.toContain('private final Path folder')
  })

  test('from a method that does more only the statements go, the exceptions that they throw with them', () => {
    const text = TILL.replace(/ {4}public String last[^]*$/, `    public String store(String mark) {
        try {
            Path path = folder.resolve(mark + due(1));
            Files.createDirectories(folder);
            Files.writeString(path, "due" + twice());
            paid = 0;
            return path + "" + paid;
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }
}
`).replace(/ {4}public void pay[^]*?\n {4}}\n\n/, '')
    const applied = applyJava({ 'a/Till.java': text }, 'extract-class:a.Till:file-system@store', {}) as Files
    expect(applied['a/TillFiles.java']).toContain('/** What Till does with the file system. */\npublic class TillFiles {\n')
    expect(applied['a/TillFiles.java']).toMatch(/ {4}public void store\(Path folder, Path path, DoubleSupplier twice\) throws IOException \{\n {8}Files\.createDirectories\(folder\);\n {8}Files\.writeString\(path, "due" \+ twice\.getAsDouble\(\)\);\n/)
    expect(applied['a/Till.java']).toMatch(/ {12}Path path = folder\.resolve\(mark \+ due\(1\)\);\n {12}files\.store\(folder, path, \(\) -> twice\(\)\);\n {12}paid = 0;\n/)
  })
})

describe('extracting what touches the outside from several methods that do more in Java', () => {
  const LEDGER = `package a;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

public class Ledger {
    private final Path folder;
    private int read;

    public Ledger(Path folder) {
        this.folder = folder;
    }

    public double due(double tons) { return tons * 2; }

    public String store(String mark, double tons) throws IOException {
        read = 0;
        Path path = folder.resolve(mark);
        long size = Files.exists(path) ? Files.size(path) : 0;
        Files.writeString(path, mark + due(tons));
        return path + " " + size + read;
    }

    public int load(String mark) throws IOException {
        read++;
        int folder = mark.length();
        List<String> lines = Files.readAllLines(this.folder.resolve(mark));
        boolean isThere = Files.exists(this.folder);
        return isThere ? lines.size() + folder : read;
    }
}
`
  const ALL = 'extract-class:a.Ledger:file-system@store+load'

  test('gives one class, which holds each field once and tells several results of a method together', () => {
    const { survey, language, state } = readJava({ 'a/Ledger.java': LEDGER })
    expect(offersOf(survey, language.writer(state), undefined, 'extract-class').map(one => one.id)).toEqual([ALL, ALL.replace('+load', ''), ALL.replace('store+', '')])
    const outcome = planStep(ALL, {}, survey, language.writer(state))
    if (outcome.refused) throw new Error(outcome.message)
    expect(outcome.notes[0]).toBe('LedgerFiles touches the file system; Ledger keeps 3 of the 5 statements of store, 3 of the 5 statements of load, and its tests stay as they are.')
    const after = Object.fromEntries(outcome.changes.map(one => [one.path, one.after]))
    expect(after['a/LedgerFiles.java']).toBe(`package a;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.function.DoubleSupplier;

/** What Ledger does with the file system. */
public class LedgerFiles {
    private final Path folder;

    public LedgerFiles(Path folder) {
        this.folder = folder;
    }

    public long store(Path path, String mark, DoubleSupplier due) throws IOException {
        long size = Files.exists(path) ? Files.size(path) : 0;
        Files.writeString(path, mark + due.getAsDouble());
        return size;
    }

    public LoadDecision load(String mark) throws IOException {
        List<String> lines = Files.readAllLines(folder.resolve(mark));
        boolean isThere = Files.exists(folder);
        return new LoadDecision(lines, isThere);
    }

    /** What it decides. */
    public static final class LoadDecision {
        public final List<String> lines;
        public final boolean isThere;

        LoadDecision(List<String> lines, boolean isThere) {
            this.lines = lines;
            this.isThere = isThere;
        }
    }
}
`)
    expect(after['a/Ledger.java']).toContain('        LedgerFiles.LoadDecision decision = files.load(mark);\n        List<String> lines = decision.lines;\n        boolean isThere = decision.isThere;\n')
  })

  test('a field whose name means something else in the statements of one is told from it', () => {
    const text = LEDGER.replace('List<String> lines = Files.readAllLines(this.folder.resolve(mark));', 'Path folder2 = this.folder;\n        List<String> lines = Files.readAllLines(folder2.resolve(mark));').replace('mark + due(tons)', 'folder + mark + due(tons)')
      .replace('int folder = mark.length();', 'int count = mark.length();').replaceAll('folder2', 'folder').replace('lines.size() + folder', 'lines.size() + count')
    const applied = (applyJava({ 'a/Ledger.java': text }, ALL, {}) as Files)['a/LedgerFiles.java']
    expect(applied).toContain('        Files.writeString(path, folder + mark + due.getAsDouble());\n')
    expect(applied).toContain('        List<String> lines = Files.readAllLines(folder.resolve(mark));\n        boolean isThere = Files.exists(this.folder);\n')
  })

  test('all that are named have to be there', () => {
    expect(applyJava({ 'a/Ledger.java': LEDGER }, 'extract-class:a.Ledger:file-system@store+due', {})).toMatchObject({ reason: 'nothing-outside' })
  })
})

describe('a constant that a class inherits, in what is taken out of it', () => {
  const craft = (modifier: string, of: string) => `package ${of};\n\npublic abstract class Craft {\n    ${modifier}static final Integer MOST = Integer.valueOf(9);\n    public abstract int add(int tonnes);\n}\n`
  const flat = (imports: string) => JAVA.replace('import java.util.ArrayList;', `${imports}import java.util.ArrayList;`).replace('public class Flat', 'public class Flat extends Craft').replace('    public static final int MOST = 9;\n', '')
  const members = 'place,visits,moor,where,note'

  test('is named by the class that declares it, which is imported where it is', () => {
    const beside = applyJava({ 'a/Craft.java': craft('', 'a'), 'a/Flat.java': flat('') }, 'extract-class:a.Flat', { members }) as Files
    expect(beside['a/FlatPlace.java']).toContain('visits.size() > Craft.MOST ? place')
    const imported = applyJava({ 'b/Craft.java': craft('public ', 'b'), 'a/Flat.java': flat('import b.Craft;\n') }, 'extract-class:a.Flat', { members }) as Files
    expect(imported['a/FlatPlace.java']).toMatch(/^package a;\n\nimport b\.Craft;\nimport java\.util\.ArrayList;\n/)
    expect(imported['a/FlatPlace.java']).toContain('visits.size() > Craft.MOST ? place')
    // The class that stays still extends it.
    expect(imported['a/Flat.java']).toContain('import b.Craft;\n')
  })

  test('does not lead back, and so the class is offered', () => {
    const { survey, language, state } = readJava({ 'a/Craft.java': craft('', 'a'), 'a/Flat.java': flat('').replace('load + name.length()', 'load').replace('        this.name = name;\n', '').replace('    private final String name;\n', '') })
    expect(offersOf(survey, language.writer(state), undefined, 'extract-class').map(one => one.title)).toEqual(['Extract a class of place, visits, moor, where, note from Flat'])
  })

  test.each([['only who inherits sees it', craft('protected ', 'b'), 'import b.Craft;\n'], ['the file has it with all that lies beside it', craft('public ', 'b'), 'import b.*;\n']])('refuses where %s', (_, base, imports) => {
    expect(applyJava({ 'b/Craft.java': base, 'a/Flat.java': flat(imports) }, 'extract-class:a.Flat', { members })).toMatchObject({ reason: 'between', message: expect.stringContaining('MOST, which line 27 uses, is inherited from Craft') as string })
  })
})
