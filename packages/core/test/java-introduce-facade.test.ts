import { offersOf } from '@hollowmoor/core/remedy/catalogue'
import type { Applied } from './applying.js'
import { applyJava } from './applying.js'
import type { Files } from './java.js'
import { readJava } from './java.js'

const ID = 'introduce-facade:tolls.Slip'
const SHARED: Files = {
  'tolls/Slip.java': 'package tolls;\n\npublic class Slip {\n    private final java.util.List<String> lines = new java.util.ArrayList<>();\n    private final String folder;\n    public final int number;\n    public Slip(int number, String folder) { this.number = number; this.folder = folder; }\n    public void add(String text) { lines.add(text); }\n    public String store() { return folder + lines.size(); }\n}\n',
  'records/Book.java': 'package records;\n\npublic class Book {\n    private double sum = 0;\n    public void credit(double amount, String reason) { sum += amount + reason.length(); }\n}\n',
  'desk/Craft.java': 'package desk;\n\npublic interface Craft { String name(); double at(); }\n', 'desk/Barge.java': 'package desk;\n\nclass Barge implements Craft {\n    private final String name = "Teasel";\n    public String name() { return name; }\n    public double at() { return System.nanoTime(); }\n}\n'
}
const DESK = `package desk;

import records.Book;
import tolls.Slip;

public class Desk {
    /** What comes in. */
    private final Book book;
    /** Where slips go. */
    private final String folder;
    private final String label;
    private int count = 1;

    public Desk(Book book, String folder, String label) {
        this.book = book;
        this.folder = folder;
        this.label = label;
    }

    String settle(Craft craft, double toll) {
        count++;
        Slip slip = new Slip(count, folder);
        // The crew sees this.
        slip.add(craft.name()
            + ", passage");
        slip.store();
        book.credit(toll, craft.name());
        return label;
    }
}
`
const WINDOW = `package desk;

import records.Book;
import tolls.Slip;

public class Window {
    private final Book ledger;
    private final String slips;

    public Window(String slips, Book ledger) {
        this.ledger = ledger;
        this.slips = slips;
    }

    void sell(String craft, double toll) {
        Slip paper = new Slip(7, this.slips);
        paper.add(craft);
        paper.store();
        this.ledger.credit(toll * 2, craft);
    }
}
`
const FILES: Files = {
  ...SHARED, 'desk/Desk.java': DESK, 'desk/Window.java': WINDOW,
  'office/Office.java': 'package office;\n\nimport desk.Desk;\nimport desk.Window;\nimport records.Book;\n\nclass Office {\n    final Book book = new Book();\n    final Desk desk = new Desk(book, "slips", "desk");\n    final Window window = new Window("slips", book);\n}\n'
}
const textOf = (applied: Applied, path: string) => (applied as Record<string, string>)[path]

describe('introducing a facade in Java', () => {
  test('stands before what classes do alike; they are handed it for what only that needed', () => {
    const applied = applyJava(FILES, ID)
    expect(Object.keys(applied).sort()).toEqual(['desk/Desk.java', 'desk/SlipFacade.java', 'desk/Window.java', 'office/Office.java'])
    expect(textOf(applied, 'desk/SlipFacade.java')).toBe(`package desk;

import records.Book;
import tolls.Slip;

/** What Desk and Window do alike, behind one call. */
public class SlipFacade {
    private final Book book;
    private final String folder;

    public SlipFacade(Book book, String folder) {
        this.book = book;
        this.folder = folder;
    }

    public void storeSlip(int number, String text, double toll, String reason) {
        Slip slip = new Slip(number, folder);
        // The crew sees this.
        slip.add(text);
        slip.store();
        book.credit(toll, reason);
    }
}
`)
    expect(textOf(applied, 'desk/Desk.java')).toBe(`package desk;

public class Desk {
    private final SlipFacade slipFacade;
    private final String label;
    private int count = 1;

    public Desk(SlipFacade slipFacade, String label) {
        this.slipFacade = slipFacade;
        this.label = label;
    }

    String settle(Craft craft, double toll) {
        count++;
        slipFacade.storeSlip(count, craft.name()
            + ", passage", toll, craft.name());
        return label;
    }
}
`)
    expect(textOf(applied, 'desk/Window.java')).toBe(`package desk;

public class Window {
    private final SlipFacade slipFacade;

    public Window(SlipFacade slipFacade) {
        this.slipFacade = slipFacade;
    }

    void sell(String craft, double toll) {
        slipFacade.storeSlip(7, craft, toll * 2, craft);
    }
}
`)
    expect(textOf(applied, 'office/Office.java')).toContain('new Desk(new SlipFacade(book, "slips"), "desk")')
    expect(textOf(applied, 'office/Office.java')).toContain('new Window(new SlipFacade(book, "slips"))')
  })

  test('keeps what the class needs besides, gives what is used behind, and says what may be thrown', () => {
    const throwing = (code: string) => code.replace(') {\n        count++', ') throws java.io.IOException {\n        count++').replace('double toll) {\n        Slip paper', 'double toll) throws java.io.IOException {\n        Slip paper')
    const applied = applyJava({
      ...FILES, 'tolls/Slip.java': SHARED['tolls/Slip.java']!.replace('String store() {', 'String store() throws java.io.IOException {'),
      'desk/Desk.java': throwing(DESK).replace('return label', 'book.credit(slip.number, "extra");\n        return label').replace('credit(toll, craft', 'credit(craft.at(), craft'),
      'desk/Window.java': throwing(WINDOW).replace('toll * 2', 'System.nanoTime()')
    }, ID, { name: 'Slips', method: 'issue' })
    expect(textOf(applied, 'desk/Slips.java')).toContain('import java.io.IOException;\nimport java.util.function.DoubleSupplier;\n')
    expect(textOf(applied, 'desk/Slips.java')).toContain('    public Slip issue(int number, String text, DoubleSupplier amount, String reason) throws IOException {\n')
    expect(textOf(applied, 'desk/Slips.java')).toContain('        book.credit(amount.getAsDouble(), reason);\n        return slip;\n')
    expect(textOf(applied, 'desk/Desk.java')).toContain('    private final Slips slips;\n    /** What comes in. */\n    private final Book book;\n    private final String label;\n')
    expect(textOf(applied, 'desk/Desk.java')).toContain('    public Desk(Slips slips, Book book, String label) {\n        this.slips = slips;\n        this.book = book;\n        this.label = label;\n')
    expect(textOf(applied, 'desk/Desk.java')).toContain('        Slip slip = slips.issue(count, craft.name()\n            + ", passage", () -> craft.at(), craft.name());\n        book.credit(slip.number, "extra");\n')
    expect(textOf(applied, 'desk/Window.java')).toContain('        slips2.issue(7, craft, () -> System.nanoTime(), craft);\n')
    expect(textOf(applied, 'office/Office.java')).toContain('new Desk(new Slips(book, "slips"), book, "desk")')
  })

  test.each<[string, Files, string]>([
    ['arguments that would be worked out in another order', { 'office/Office.java': FILES['office/Office.java']!.replace('new Window("slips", book)', 'new Window(name(), make())').replace(/\}\n$/, '    static String name() { return "a"; }\n    static Book make() { return new Book(); }\n}\n') }, 'order'],
    ['a constructor that is handed around', { 'office/Maker.java': 'package office;\n\nclass Maker { java.util.function.BiFunction<String, records.Book, desk.Window> make = desk.Window::new; }\n' }, 'reference'],
    ['a file that is there', { 'desk/SlipFacade.java': 'package desk;\n\nclass SlipFacade { }\n' }, 'file-exists']
  ])('refuses %s', (_, more, reason) => {
    expect(applyJava({ ...FILES, ...more }, ID, reason === 'file-exists' ? { name: 'SlipFacade' } : {})).toMatchObject({ reason })
  })

  const offered = (files: Files) => { const { survey, language, state } = readJava(files); return offersOf(survey, language.writer(state)).filter(one => one.remedy === 'introduce-facade' && !one.id.endsWith(':shown')).map(one => one.title) }

  test('is offered of every type of the group, and no more once it is done', () => {
    expect(offered(FILES)).toEqual(Array.from({ length: 2 }, () => 'Put SlipFacade before Slip and Book, for Desk.settle and Window.sell'))
    expect(offered({ ...FILES, ...applyJava(FILES, ID) as Files })).toEqual([])
  })

  test('where classes hold nothing of what it goes over, it keeps nothing, and is handed to them with a default', () => {
    const files: Files = {
      'watch/Bell.java': 'package watch;\n\npublic final class Bell {\n    private static final Bell ONE = new Bell();\n    private final java.util.List<Object> heard = new java.util.ArrayList<>();\n    private Bell() { }\n    public static Bell one() { return ONE; }\n    public void forget(Object who) { heard.remove(who); }\n}\n',
      'watch/Lamp.java': 'package watch;\n\npublic final class Lamp {\n    private static final Lamp ONE = new Lamp();\n    private final java.util.List<Keeper> seen = new java.util.ArrayList<>();\n    private Lamp() { }\n    public static Lamp one() { return ONE; }\n    public void leave(Keeper who) { seen.remove(who); }\n}\n',
      'watch/Keeper.java': 'package watch;\n\npublic interface Keeper { }\n',
      'watch/Day.java': 'package watch;\n\npublic class Day {\n    void end(Keeper other) {\n        Bell.one().forget(other);\n        Lamp.one().leave(other);\n    }\n}\n',
      'watch/Night.java': 'package watch;\n\npublic class Night {\n    private final String name;\n\n    public Night(String name) {\n        this.name = name;\n    }\n\n    String end(Keeper who) {\n        Bell.one().forget(who);\n        Lamp.one().leave(who);\n        return name;\n    }\n}\n'
    }
    expect(offered(files)).toEqual(['Bell', 'Lamp'].map(() => 'Put BellFacade before Bell and Lamp, for Day.end and Night.end'))
    const made = applyJava(files, 'introduce-facade:watch.Bell') as Record<string, string>
    expect(made['watch/BellFacade.java']).toBe('package watch;\n\n/** What Day and Night do alike, behind one call. */\npublic class BellFacade {\n    public void forgetBell(Keeper other) {\n        Bell.one().forget(other);\n        Lamp.one().leave(other);\n    }\n}\n')
    expect(made['watch/Day.java']).toBe('package watch;\n\npublic class Day {\n    private final BellFacade bellFacade;\n\n    public Day() {\n        this(new BellFacade());\n    }\n\n    public Day(BellFacade bellFacade) {\n        this.bellFacade = bellFacade;\n    }\n\n    void end(Keeper other) {\n        bellFacade.forgetBell(other);\n    }\n}\n')
    expect(made['watch/Night.java']).toContain('    public Night(String name) {\n        this(name, new BellFacade());\n    }\n\n    public Night(String name, BellFacade bellFacade) {\n        this.bellFacade = bellFacade;\n        this.name = name;\n    }\n')
    expect((applyJava(files, 'introduce-facade:watch.Bell', { default: 'no' }) as Record<string, string>)['watch/Day.java']).not.toContain('new BellFacade')
  })

  test.each<[string, (code: string) => string]>([
    ['they call something else', code => code.replace('paper.store()', 'paper.add(craft)')],
    ['an operator is another', code => code.replace('paper.add(craft);\n        paper.store();', 'paper.add(craft);\n        if (paper.store() == null) paper.store();')],
    ['they set what stands outside', code => code.replace('paper.store()', 'craft = paper.store()')],
    ['they leave the method', code => code.replace('paper.store()', 'if (toll < 0) return')],
    ['they stand in a static method', code => code.replace('void sell', 'static void sell').replace('this.slips', '"x"').replace('this.ledger', 'new Book()')]
  ])('is not offered where %s', (_, edit) => {
    expect(offered({ ...FILES, 'desk/Window.java': edit(WINDOW) })).toEqual([])
  })

  test('is told step by step, and what a place leaves at its usual value is not said', () => {
    const kiosk = WINDOW.replaceAll('Window', 'Kiosk').replace('sell(String craft, double toll)', 'sell(String craft, double toll, String why)').replace('credit(toll * 2, craft)', 'credit(toll, why)')
    const files = { ...FILES, 'desk/Kiosk.java': kiosk, 'desk/Window.java': WINDOW.replace('credit(toll * 2, craft)', 'credit(toll * 2, "passage")'), 'desk/Desk.java': DESK.replace('credit(toll, craft.name())', 'credit(toll, "passage")') }
    const applied = applyJava(files, ID, { face: 'steps' })
    expect(textOf(applied, 'desk/SlipFacade.java')).toContain(`
    /** Begins: the rest is said in the steps that follow. */
    public CraftStep number(int number) {
        return craft -> toll -> new LastStep(number, craft, toll);
    }

    /** Waits for craft. */
    public interface CraftStep {
        TollStep craft(String craft);
    }

    /** Waits for toll. */
    public interface TollStep {
        LastStep toll(double toll);
    }

    /** All that has to be said is said; the rest has its usual value. */
    public final class LastStep {
        private final int number;
        private final String craft;
        private final double toll;
        private String reason = "passage";

        private LastStep(int number, String craft, double toll) {
            this.number = number;
            this.craft = craft;
            this.toll = toll;
        }

        /** "passage" where it is not said. */
        public LastStep reason(String reason) {
            this.reason = reason;
            return this;
        }

        public void storeSlip() {
            SlipFacade.this.storeSlip(number, craft, toll, reason);
        }
    }

    private void storeSlip(int number, String craft, double toll, String reason) {
`)
    expect(textOf(applied, 'desk/Window.java')).toContain('        slipFacade.number(7).craft(craft).toll(toll * 2).storeSlip();\n')
    expect(textOf(applied, 'desk/Kiosk.java')).toContain('        slipFacade.number(7).craft(craft).toll(toll).reason(why).storeSlip();\n')
    const plain = applyJava(FILES, ID, { face: 'steps' })
    expect(textOf(plain, 'desk/SlipFacade.java')).toMatch(/return text -> toll -> reason -> \(\) -> storeSlip\(number, text, toll, reason\);[^]*\/\*\* All is said\. \*\/\n {4}public interface LastStep \{\n {8}void storeSlip\(\);\n {4}\}\n/)
    expect(textOf(plain, 'desk/Window.java')).toContain('        slipFacade.number(7).text(craft).toll(toll * 2).reason(craft).storeSlip();\n')
  })
})
