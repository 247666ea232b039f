import { offersOf } from '@hollowmoor/core/remedy/catalogue'
import type { Applied } from './applying.js'
import { applyJava } from './applying.js'
import type { Files } from './java.js'
import { readJava } from './java.js'

const ID = 'replace-type-switch:craft.Dues'
const CRAFT = (name: string, holds: string) => ({ [`craft/${name}.java`]: `package craft;\n\npublic class ${name} extends Craft {\n    public int ${holds}() { return 2; }\n}\n` })
const files = (body: string, parameters = 'Kind kind, int tons', more = ''): Files => ({
  'craft/Kind.java': 'package craft;\n\npublic enum Kind { BARGE, TUG, PUNT, RAFT }\n',
  'craft/Craft.java': 'package craft;\n\npublic class Craft {\n    private Kind kind;\n    public Kind getKind() { return kind; }\n    public Kind next() { System.out.println(kind); return kind; }\n}\n',
  ...CRAFT('Barge', 'holds'), ...CRAFT('Tug', 'pull'), ...CRAFT('Punt', 'poles'),
  'craft/Dues.java': `package craft;\n\nclass Dues {\n    private final int rate = 2;\n    private int count = 1;\n\n    int dueFor(${parameters}) {\n${body}\n    }\n${more}}\n`
})
const textOf = (applied: Applied, path: string) => (applied as Record<string, string>)[path]!
const offered = (all: Files) => { const { survey, language, state } = readJava(all); return offersOf(survey, language.writer(state)).filter(one => one.remedy === 'replace-type-switch').map(one => one.title) }
const bodies = (text: string) => [...text.matchAll(/class (\w+) implements[^{]*\{\n {8}@Override\n {8}[^\n]*\{\n([^]*?) {8}\}\n/g)].map(([, name, body]) => [name, body!.trim().replaceAll('\n            ', '\n')])

describe('replacing a chain of conditions in Java', () => {
  test('each branch is a class; comments stand where they stood', () => {
    const applied = applyJava(files('        // What is owed.\n        if (kind == Kind.BARGE || Kind.RAFT == kind) {\n            return rate * tons; // by weight\n        } // Towing is free.\n        else if (kind == Kind.TUG) return 0;\n        else if (kind == Kind.PUNT) return 1; // small\n        else {\n            // Nobody knows.\n            if (tons > 3) return 2;\n            return 3;\n            // The end.\n        } // of it'.replace('Kind.RAFT == kind', 'kind == Kind.RAFT')), ID)
    expect(bodies(textOf(applied, 'craft/DueByKind.java'))).toEqual([
      ['BargeDue', 'return rate * tons; // by weight'], ['TugDue', '// Towing is free.\nreturn 0;'], ['PuntDue', 'return 1; // small'], ['OtherDue', '// Nobody knows.\nif (tons > 3) return 2;\nreturn 3;\n// The end.']
    ])
    expect(textOf(applied, 'craft/DueByKind.java')).toContain('        KNOWN.put(Kind.BARGE, new BargeDue());\n        KNOWN.put(Kind.RAFT, new BargeDue());\n        KNOWN.put(Kind.TUG, new TugDue());\n')
    // Nothing at all was none of them, and no error.
    expect(textOf(applied, 'craft/DueByKind.java')).toContain('        return KNOWN.getOrDefault(kind, OTHER);\n')
    expect(textOf(applied, 'craft/Dues.java')).toContain('        // What is owed.\n        return dueBy.apply(kind).dueFor(rate, tons); // of it\n    }\n')
  })

  test('types are asked for in their order; a thing that is named anew is named in its class', () => {
    const applied = applyJava(files('        if (craft instanceof Barge barge) {\n            int due = barge.holds();\n            return due * rate;\n        }\n        if (craft instanceof Tug) {\n            return ((Tug) craft).pull();\n        }\n        if (craft instanceof Punt punt) return punt.poles();\n        return 0;', 'Craft craft'), ID)
    const text = textOf(applied, 'craft/DueByCraft.java')
    expect(bodies(text)).toEqual([['BargeDue', 'Barge barge = (Barge) craft;\nint due = barge.holds();\nreturn due * rate;'], ['TugDue', 'return ((Tug) craft).pull();'], ['PuntDue', 'Punt punt = (Punt) craft;\nreturn punt.poles();'], ['OtherDue', 'return 0;']])
    expect(text).toContain(`final class DueByCraft {
    private static final CraftDue BARGE_DUE = new BargeDue();
    private static final CraftDue TUG_DUE = new TugDue();
    private static final CraftDue PUNT_DUE = new PuntDue();
    private static final CraftDue OTHER = new OtherDue();

    private DueByCraft() {
    }

    static CraftDue of(Craft thing) {
        if (thing instanceof Barge) {
            return BARGE_DUE;
        }
        if (thing instanceof Tug) {
            return TUG_DUE;
        }
        if (thing instanceof Punt) {
            return PUNT_DUE;
        }
        return OTHER;
    }
`)
    expect(textOf(applied, 'craft/Dues.java')).toContain('    int dueFor(Craft craft) {\n        return dueBy.apply(craft).dueFor(craft, rate);\n    }\n')
    expect(textOf(applied, 'craft/Dues.java')).toContain('Function<Craft, CraftDue> dueBy')
  })

  test('texts that are equal, asked of the thing or of the text', () => {
    const chain = (test: (text: string) => string) => files(`        if (${test('barge')}) return 1;\n        else if (${test('tug')}) return 2;\n        else if (${test('punt')}) return 3;\n        else return rate;`, 'Board board', '    static class Board { String sign; String getSign() { return sign; } }\n')
    expect(textOf(applyJava(chain(text => `board.getSign().equals("${text}")`), ID), 'craft/DueBySign.java')).toContain('return KNOWN.getOrDefault(Objects.requireNonNull(kind), OTHER);')
    const turned = applyJava(chain(text => `"${text}".equals(board.sign)`), ID)
    expect(textOf(turned, 'craft/DueBySign.java')).toContain('        KNOWN.put("tug", new TugDue());\n')
    expect(textOf(turned, 'craft/DueBySign.java')).toContain('return KNOWN.getOrDefault(kind, OTHER);')
    // Texts that are the same need not be one object.
    expect(offered(chain(text => `board.sign == "${text}"`))).toEqual([])
  })

  test('a row that leaves without a value is all that is done', () => {
    const all = files('        return 1;', undefined, '\n    void tell(Kind kind) {\n        if (kind == Kind.BARGE) { System.out.println("b"); return; }\n        if (kind == Kind.TUG) return;\n        if (kind == Kind.PUNT) { return; }\n        // Rafts.\n        System.out.println("r");\n    }\n')
    const applied = applyJava(all, `${ID}:tell`)
    expect(textOf(applied, 'craft/Dues.java')).toContain('    void tell(Kind kind) {\n        tellBy.apply(kind).tell();\n    }\n')
    expect(bodies(textOf(applied, 'craft/TellByKind.java')).at(-1)).toEqual(['OtherTell', '// Rafts.\nSystem.out.println("r");'])
  })

  test.each([
    ['two kinds', '        if (kind == Kind.BARGE) return 1;\n        else if (kind == Kind.TUG) return 2;\n        else return 3;'],
    ['a kind that is asked for twice', '        if (kind == Kind.BARGE) return 1;\n        if (kind == Kind.TUG) return 2;\n        if (kind == Kind.BARGE) return 3;\n        if (kind == Kind.PUNT) return 4;\n        return 5;'],
    ['a branch that leaves a loop around', '        for (;;) { if (kind == Kind.BARGE) break; else if (kind == Kind.TUG) System.out.println(1); else if (kind == Kind.PUNT) System.out.println(2); }\n        return tons;'],
    ['a field that is set', '        if (kind == Kind.BARGE) count = 1;\n        else if (kind == Kind.TUG) count = 2;\n        else if (kind == Kind.PUNT) count = 3;\n        return tons;'],
    ['another thing in the middle', '        if (kind == Kind.BARGE) return 1;\n        if (tons > 3) return 2;\n        if (kind == Kind.TUG) return 2;\n        if (kind == Kind.PUNT) return 2;\n        return 3;'],
    ['a method that ends in an error whatever it is', '        if (kind == Kind.BARGE) throw new IllegalStateException("a");\n        else if (kind == Kind.TUG) throw new IllegalStateException("b");\n        else if (kind == Kind.PUNT) throw new IllegalStateException("c");\n        else throw new IllegalStateException("d");']
  ])('is not offered for %s', (_, body) => { expect(offered(files(body))).toEqual([]) })

  test('is offered where looking gives a field, and not where it runs something', () => {
    const row = (look: string) => files(`        if (${look} == Kind.BARGE) return 1;\n        if (${look} == Kind.TUG) return 2;\n        if (${look} == Kind.PUNT) return 3;\n        return rate;`, 'Craft craft')
    expect(offered(row('craft.getKind()'))).toEqual(['A class for each of the 4 cases of Dues.dueFor'])
    expect(offered(row('craft.next()'))).toEqual([])
    expect(offered({ ...row('craft.getKind()'), 'craft/Tug.java': 'package craft;\n\npublic class Tug extends Craft {\n    @Override public Kind getKind() { return next(); }\n}\n' })).toEqual([])
  })

  test('a thing that may be another one when it is named anew stays', () => {
    const body = (look: string) => files(`        if (${look} instanceof Barge barge) return barge.holds();\n        else if (${look} instanceof Tug tug) return tug.pull();\n        else if (${look} instanceof Punt punt) return punt.poles();\n        else return rate;`, 'Craft craft', '    private Craft held;\n')
    expect(offered(body('craft'))).toEqual(['A class for each of the 4 cases of Dues.dueFor'])
    expect(offered(body('held'))).toEqual([])
  })

  test('is told once for a row, where it begins', () => {
    const { survey } = readJava(files('        if (kind == Kind.BARGE) return 1;\n        if (kind == Kind.TUG) return 2;\n        if (kind == Kind.PUNT) return 3;\n        if (kind == Kind.RAFT) return 4;\n        return 5;'))
    expect(survey.model.typeSwitches.map(one => [one.line, one.word, one.over, one.cases])).toEqual([[8, 'if', 'craft.Kind', ['BARGE', 'TUG', 'PUNT', 'RAFT']]])
  })
})
