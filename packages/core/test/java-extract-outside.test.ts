import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { applyJava } from './applying.js'
import type { Files } from './java.js'
import { readJava } from './java.js'

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
