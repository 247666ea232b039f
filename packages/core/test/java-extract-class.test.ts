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
