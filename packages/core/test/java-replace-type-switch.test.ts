import { offersOf } from '@hollowmoor/core/remedy/catalogue'
import type { Applied } from './applying.js'
import { applyJava } from './applying.js'
import type { Files } from './java.js'
import { readJava } from './java.js'

const ID = 'replace-type-switch:craft.Dues'
const dues = (body: string) => `package craft;

public class Dues {
    private final double rate;
    private int count = 1;

    public Dues(double rate) {
        this.rate = rate;
    }

    public double dueFor(Kind kind, double tons) {
${body}
    }
}
`
const JAVA: Files = {
  'craft/Kind.java': 'package craft;\n\npublic enum Kind { BARGE, WORK_FLAT, TUG, PUNT }\n',
  'craft/Dues.java': dues('        switch (kind) {\n            case BARGE:\n            case WORK_FLAT:\n                return rate * tons;\n            // Towing is free.\n            case TUG:\n                return 0;\n            default: {\n                if (tons > 3) {\n                    return rate;\n                }\n                return 1;\n            }\n        }'),
  'office/Office.java': 'package office;\n\nimport craft.Dues;\nimport craft.Kind;\n\npublic class Office {\n    public double due() {\n        return new Dues(2).dueFor(Kind.TUG, 4);\n    }\n}\n'
}
const textOf = (applied: Applied, path: string) => (applied as Record<string, string>)[path]
const offered = (files: Files) => { const { survey, language, state } = readJava(files); return offersOf(survey, language.writer(state)).filter(one => one.remedy === 'replace-type-switch').map(one => one.id) }

describe('replacing a type switch in Java', () => {
  test('each case is a class of one interface, beside what chooses among them', () => {
    const applied = applyJava(JAVA, ID)
    expect(textOf(applied, 'craft/KindDue.java')).toBe('package craft;\n\n/** What Dues.dueFor does for one Kind. */\npublic interface KindDue {\n    double dueFor(double rate, double tons);\n}\n')
    expect(textOf(applied, 'craft/DueByKind.java')).toBe(`package craft;

import java.util.EnumMap;
import java.util.Map;
import java.util.Objects;

/** Chooses by Kind: for another one there is another class here, and one more line. */
public final class DueByKind {
    private static final Map<Kind, KindDue> KNOWN = new EnumMap<>(Kind.class);
    private static final KindDue OTHER = new OtherDue();

    static {
        KNOWN.put(Kind.BARGE, new BargeDue());
        KNOWN.put(Kind.WORK_FLAT, new BargeDue());
        KNOWN.put(Kind.TUG, new TugDue());
    }

    private DueByKind() {
    }

    public static KindDue of(Kind kind) {
        return KNOWN.getOrDefault(Objects.requireNonNull(kind), OTHER);
    }

    static final class BargeDue implements KindDue {
        @Override
        public double dueFor(double rate, double tons) {
            return rate * tons;
        }
    }

    static final class TugDue implements KindDue {
        @Override
        public double dueFor(double rate, double tons) {
            // Towing is free.
            return 0;
        }
    }

    static final class OtherDue implements KindDue {
        @Override
        public double dueFor(double rate, double tons) {
            if (tons > 3) {
                return rate;
            }
            return 1;
        }
    }
}
`)
    expect(textOf(applied, 'craft/Dues.java')).toBe(`package craft;

import java.util.function.Function;

public class Dues {
    private final double rate;
    private int count = 1;
    private final Function<Kind, KindDue> dueBy;

    public Dues(double rate) {
        this(rate, DueByKind::of);
    }

    public Dues(double rate, Function<Kind, KindDue> dueBy) {
        this.dueBy = dueBy;
        this.rate = rate;
    }

    public double dueFor(Kind kind, double tons) {
        return dueBy.apply(kind).dueFor(rate, tons);
    }
}
`)
  })

  test('without a default, each place that builds the class hands in what chooses', () => {
    const applied = applyJava(JAVA, ID, { default: 'no' })
    expect(textOf(applied, 'office/Office.java')).toContain('new Dues(2, DueByKind::of)')
    expect(textOf(applied, 'office/Office.java')).toContain('import craft.DueByKind;\n')
  })

  test.each([
    ['a switch that is wanted as a value', 'double due = switch (kind) {\n            case BARGE, WORK_FLAT -> rate;\n            case TUG -> { double half = tons / 2; yield half; }\n            case PUNT -> throw new IllegalStateException("punt");\n        };\n        return due;', 'double due = dueBy.apply(kind).dueFor(rate, tons);\n        return due;', '            double half = tons / 2; return half;\n'],
    ['a variable that each case sets', 'double due;\n        switch (kind) {\n            case BARGE: due = tons; break;\n            case TUG: due = 0; break;\n            case PUNT: throw new IllegalStateException();\n            default: due = count;\n        }\n        return due;', 'double due = dueBy.apply(kind).dueFor(tons, () -> count);\n        return due;', '            return count.getAsInt();\n'],
    ['what only runs', 'switch (kind) {\n            case BARGE -> System.out.println(tons);\n            case TUG -> { }\n            case PUNT -> System.out.println();\n        }\n        return tons;', 'dueBy.apply(kind).dueFor(tons);\n        return tons;', 'static final class OtherDue implements KindDue {\n        @Override\n        public void dueFor(double tons) {\n        }\n'],
    ['what stands behind a switch without a default', 'switch (kind) {\n            case BARGE: return tons;\n            case TUG: return 0;\n            case PUNT: return 1;\n        }\n        return tons / 2;', 'return dueBy.apply(kind).dueFor(tons);\n    }', '            return tons / 2;\n']
  ])('%s', (_, body, asking, chooser) => {
    const applied = applyJava({ ...JAVA, 'craft/Dues.java': dues(`        ${body}`) }, ID)
    expect(textOf(applied, 'craft/Dues.java')).toContain(asking)
    expect(textOf(applied, 'craft/DueByKind.java')).toContain(chooser)
  })

  test('a break in the middle of what only runs ends its method', () => {
    const applied = applyJava({ ...JAVA, 'craft/Dues.java': dues('        switch (kind) {\n            case BARGE:\n                for (;;) { break; }\n                if (tons > 2) break;\n                System.out.println(tons);\n                break;\n            case TUG: break;\n            case PUNT: System.out.println(); break;\n        }\n        return tons;') }, ID)
    expect(textOf(applied, 'craft/DueByKind.java')).toContain('            for (;;) { break; }\n            if (tons > 2) return;\n            System.out.println(tons);\n')
  })

  test('a variable that some cases set is handed to each of them, and had back', () => {
    const applied = applyJava({ ...JAVA, 'craft/Dues.java': dues('        double due = 0;\n        switch (kind) {\n            case BARGE:\n                due = tons; // by weight\n                break;\n            case TUG:\n                break;\n            case PUNT:\n                due += 1;\n                if (tons > 3) break;\n                due += rate;\n                break;\n            // Nobody knows.\n        }\n        return due;') }, ID)
    expect(textOf(applied, 'craft/Dues.java')).toContain('        double due = 0;\n        due = dueBy.apply(kind).dueFor(tons, rate, due);\n        return due;\n')
    const text = textOf(applied, 'craft/DueByKind.java')!
    const bodies = [...text.matchAll(/double dueFor\(double tons, double rate, double due\) \{\n([^]*?) {8}\}\n/g)].map(match => match[1]!.trim().replaceAll('\n            ', '\n'))
    expect(bodies).toEqual(['due = tons; // by weight\nreturn due;', 'return due;', 'due += 1;\nif (tons > 3) return due;\ndue += rate;\n// Nobody knows.\nreturn due;', 'return due;'])
  })

  test('a field that each case sets is set to what the class gives', () => {
    const applied = applyJava({ ...JAVA, 'craft/Dues.java': dues('        switch (kind) {\n            case BARGE: this.count = 4; break;\n            case TUG: count = 2; break;\n            case PUNT: throw new IllegalStateException("free");\n            default: this.count = 0;\n        }\n        return tons;') }, ID)
    expect(textOf(applied, 'craft/Dues.java')).toContain('        this.count = dueBy.apply(kind).dueFor();\n        return tons;\n')
    expect(textOf(applied, 'craft/KindDue.java')).toContain('    int dueFor();\n')
    expect(textOf(applied, 'craft/DueByKind.java')).toContain('        public int dueFor() {\n            return 2;\n        }\n')
  })

  test('what each case sets before it looks at it is its own', () => {
    const applied = applyJava({ ...JAVA, 'craft/Dues.java': dues('        double due;\n        switch (kind) {\n            case BARGE:\n                due = tons;\n                due *= 2;\n                System.out.println(due);\n                break;\n            case TUG:\n                throw new IllegalStateException("free");\n            case PUNT:\n                due = 1;\n                break;\n            default:\n                due = rate;\n        }\n        return due;') }, ID)
    expect(textOf(applied, 'craft/DueByKind.java')).toContain('        public double dueFor(double tons, double rate) {\n            double due;\n            due = tons;\n            due *= 2;\n            System.out.println(due);\n            return due;\n        }\n')
    expect(textOf(applied, 'craft/DueByKind.java')).toContain('            throw new IllegalStateException("free");\n        }\n')
  })

  test.each([
    ['one of several', '        int a = 0, b = 0;\n        switch (kind) { case BARGE: a = 1; break; case TUG: b = 2; break; case PUNT: a = 3; break; }\n        return a + b;'],
    ['half set where something fails', '        int a = 0;\n        try {\n            switch (kind) { case BARGE: a = 1; System.out.println(a); break; case TUG: a = 2; break; case PUNT: a = 3; break; }\n        } catch (RuntimeException e) { return a; }\n        return a;'],
    ['without a value before', '        int a;\n        if (tons > 2) a = 1; else a = 2;\n        switch (kind) { case BARGE: a += 1; break; case TUG: a = 2; break; case PUNT: a = 3; break; }\n        return a;']
  ])('is not offered for a variable that would be %s', (_, body) => { expect(offered({ ...JAVA, 'craft/Dues.java': dues(body) })).toEqual([]) })

  test('a static method calls what chooses', () => {
    const files = { ...JAVA, 'craft/Dues.java': JAVA['craft/Dues.java']!.replace('public double dueFor', 'public static double dueFor').replace('private final double rate', 'private static double rate').replace('this.rate', 'Dues.rate') }
    const applied = applyJava(files, ID)
    expect(textOf(applied, 'craft/Dues.java')).toContain('    public static double dueFor(Kind kind, double tons) {\n        return DueByKind.of(kind).dueFor(')
    expect(textOf(applied, 'craft/Dues.java')).toContain('    public Dues(double rate) {\n        Dues.rate = rate;\n    }\n')
  })

  test('a switch over texts', () => {
    const files = { 'a/Signs.java': 'package a;\n\nclass Signs {\n    private String sign;\n    int word() {\n        switch (sign) {\n            case "stop": return 1;\n            case "slow-down": return 2;\n            case "go": return 3;\n            default: return 0;\n        }\n    }\n}\n' }
    const applied = applyJava(files, 'replace-type-switch:a.Signs:word')
    expect(textOf(applied, 'a/WordBySign.java')).toContain('    private static final Map<String, SignWord> KNOWN = new HashMap<>();\n')
    expect(textOf(applied, 'a/WordBySign.java')).toContain('        KNOWN.put("slow-down", new SlowDownWord());\n')
    expect(textOf(applied, 'a/WordBySign.java')).toContain('\nfinal class WordBySign {')
  })

  test.each([
    ['cases that run into each other', 'switch (kind) { case BARGE: tons++; case TUG: return tons; case PUNT: return 2; default: return 3; }'],
    ['a field that is set', 'switch (kind) { case BARGE: count = 2; return 1; case TUG: return 1; case PUNT: return 2; default: return 3; }'],
    ['a case that leaves a loop around', 'for (;;) { switch (kind) { case BARGE: continue; case TUG: return 1; case PUNT: return 2; default: return 3; } }'],
    ['a break in the middle of a case', 'switch (kind) { case BARGE: if (tons > 2) break; return 1; case TUG: return 1; case PUNT: return 2; default: return 3; }\n        return 4;'],
    ['cases that only call what the class does', 'switch (kind) { case BARGE: return hashCode(); case TUG: return hashCode(); case PUNT: return hashCode(); default: return hashCode(); }'],
    ['a value that is wanted inside of an expression', 'return 1 + switch (kind) { case BARGE -> 1; case TUG -> 2; case PUNT -> 3; default -> 4; };']
  ])('is not offered for %s', (_, body) => { expect(offered({ ...JAVA, 'craft/Dues.java': dues(`        ${body}`) })).toEqual([]) })

  test('a variable that is set again is handed as it is, for nothing that a case runs can set it; one that may have no value yet stays', () => {
    const body = (first: string) => `        ${first}\n        switch (kind) { case BARGE: System.out.println(); System.out.println(due); break; case TUG: break; case PUNT: System.out.println(tons); break; }\n        due = 2;\n        return due;`
    expect(textOf(applyJava({ ...JAVA, 'craft/Dues.java': dues(body('double due = 1;')) }, ID), 'craft/Dues.java')).toContain('dueBy.apply(kind).dueFor(due, tons);\n        due = 2;\n')
    expect(offered({ ...JAVA, 'craft/Dues.java': dues(body('double due; if (tons > 2) due = 1; else due = 3;')) })).toEqual([])
  })

  test('is refused where its names are taken', () => {
    expect(applyJava(JAVA, ID, { name: 'Office' })).toMatchObject({ 'craft/Office.java': expect.any(String) as string })
    expect(applyJava(JAVA, ID, { name: 'Kind' })).toMatchObject({ reason: 'file-exists' })
    expect(applyJava(JAVA, ID, { name: 'class' })).toMatchObject({ reason: 'name' })
    expect(applyJava(JAVA, `${ID}:other`)).toMatchObject({ reason: 'switch' })
  })
})
