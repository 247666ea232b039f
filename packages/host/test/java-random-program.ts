import { seededRandom } from '@hollowmoor/core/graph/random'
import type { Files } from '../../core/test/java.js'

/** What an expression of a number may read where it stands: names of numbers, and calls by their text, `#` for an argument. */
interface Reach {
  readonly numbers: readonly string[]
  readonly calls: readonly string[]
}

/** The package that a program stands in, with its parts: another can be put in its place in every text. */
export const PACKAGE = 'prog'

/**
 * A program that compiles, whose `Main.told()` tells what it did in which order, and that has of everything that the remedies look for:
 * collaborators that are made, fetched and handed in, statics with and without state, switches over kinds and classes, inheritance,
 * a long constructor, statements that several classes have alike, inner classes, what touches files, a base class of a library.
 */
export function randomJavaProgram(seed: number): Files {
  const draw = seededRandom(seed), upTo = (count: number) => Math.floor(draw() * count), pick = <T>(...from: readonly T[]): T => from[upTo(from.length)]!
  const chance = (of: number) => upTo(of) === 0
  const value = (reach: Reach, depth = 2): string => {
    if (depth === 0 || chance(3)) return chance(4) ? String(upTo(9)) : pick(...reach.numbers)
    const inner = () => value(reach, depth - 1)
    return pick(() => pick(...reach.calls).replace('#', inner()), () => pick(...reach.calls).replace('#', inner()), () => `(${inner()} ${pick('+', '-', '*')} ${inner()})`, () => `Math.max(${inner()}, ${inner()})`, () => `(${inner()} > ${upTo(6)} ? ${inner()} : ${inner()})`)()
  }
  let locals = 0
  const statements = (reach: Reach, set: readonly string[], count: number, depth = 1): { readonly lines: string[]; readonly reach: Reach } => {
    const lines: string[] = [], numbers = [...reach.numbers], now = () => ({ ...reach, numbers })
    for (let at = 0; at < count; at++) {
      const inside = () => statements(now(), set, 1 + upTo(2), depth - 1).lines.map(line => `    ${line}`)
      const form = upTo(depth > 0 ? 8 : 4)
      if (form === 0) { const name = `part${++locals}`; lines.push(`int ${name} = ${value(now())};`); numbers.push(name) }
      else if (form === 1 && set.length > 0) lines.push(`${pick(...set)} ${pick('+=', '=')} ${value(now())};`)
      else if (form <= 3) lines.push(`Log.tick(${value(now())}, "${pick('a', 'b', 'c')}");`)
      else if (form === 4) lines.push(`if (${value(now())} > ${upTo(7)}) {`, ...inside(), ...(chance(2) ? ['} else {', ...inside()] : []), '}')
      else if (form === 5) { const each = `each${++locals}`; lines.push(`for (int ${each} = 0; ${each} < ${1 + upTo(3)}; ${each}++) {`, ...statements({ ...now(), numbers: [...numbers, each] }, set, 1, 0).lines.map(line => `    ${line}`), ...(chance(3) ? [`    if (${each} > 1) break;`] : []), '}') }
      else if (form === 6) lines.push('try {', ...inside(), '} finally {', `    Log.tick(${upTo(9)}, "f");`, '}')
      else lines.push(`// Step ${++locals}.`, `Log.tick(${value(now())});`)
    }
    return { lines, reach: now() }
  }
  const body = (reach: Reach, set: readonly string[], count = 1 + upTo(3)): string => {
    const { lines, reach: known } = statements(reach, set, count)
    return [...lines, `return ${value(known)};`].map(line => `        ${line}\n`).join('')
  }
  const method = (name: string, reach: Reach, set: readonly string[], before = 'public') => `    ${before} int ${name}(int n) {\n${body(reach, set)}    }\n`
  const kindSwitch = (reach: Reach): string => {
    const cases = ['FLAT', 'BARGE', 'TUG'].filter(() => !chance(4)), form = upTo(3), end = (text: string) => (form === 0 ? `return ${text};` : form === 1 ? `found = ${text};` : `Log.tick(${text});`)
    const inner = () => statements(reach, [], upTo(2), 0).lines
    const branches = chance(2) || cases.length === 0
      ? ['switch (kind) {', ...cases.flatMap(one => [`    case ${one}: {`, ...inner().map(line => `        ${line}`), `        ${end(value(reach))}`, ...(form === 0 ? [] : ['        break;']), '    }']), '    default:', `        ${end(value(reach, 1))}`, '}']
      : [...cases.flatMap((one, at) => [`${at === 0 ? '' : '} else '}if (kind == Kind.${one}) {`, ...inner().map(line => `    ${line}`), `    ${end(value(reach))}`]), '} else {', `    ${end(value(reach, 1))}`, '}']
    return [...(form === 1 ? ['int found;'] : []), ...branches, ...(form === 1 ? ['return found;'] : form === 2 ? ['return n;'] : [])].map(line => `        ${line}\n`).join('')
  }
  const file = (path: string, imports: readonly string[], text: string): [string, string] => [`${PACKAGE}/${path}.java`, `package ${PACKAGE}${path.includes('/') ? `.${path.slice(0, path.lastIndexOf('/'))}` : ''};\n\n${[...imports].sort().map(one => `import ${one.replace('@', PACKAGE)};\n`).join('')}${imports.length > 0 ? '\n' : ''}${text}`]
  const everywhere = ['Log.tick(#)', 'Tables.of(#)', 'Rates.due(#)', 'Rates.rate(#, 2)', 'Registry.instance().add(#)', '(Paper.isFiled(#) ? 1 : 2)']
  const isCounter = chance(2)

  const office = (name: string, of: { readonly type: string; readonly field: string; readonly made: string }, extra: string): string => {
    const how = upTo(4), isHanded = how === 0, touches = chance(2)
    const field = how === 1 ? `    private final ${of.type} ${of.field} = ${of.made};\n` : how === 3 ? '' : `    private final ${of.type} ${of.field};\n`
    const parameters = ['String mark', 'int tons', ...(isHanded ? [`${of.type} ${of.field}`] : [])]
    const fills = ['this.mark = mark;', 'this.tons = tons;', ...(isHanded ? [`this.${of.field} = ${of.field};`] : how === 2 ? [`this.${of.field} = ${of.made};`] : [])]
    const dep = how === 3 ? of.made : of.field
    const reach: Reach = { numbers: ['n', 'count', 'this.tons', 'mark.length()'], calls: [...everywhere, `${dep}.add(#)`, `${dep}.add(#)`, ...(touches ? ['(Files.exists(Path.of(mark + #)) ? 1 : 2)'] : [])] }
    return `/** ${name}. */\npublic class ${name} {\n    private int count = ${upTo(4)};\n    private final String mark;\n    final int tons;\n${field}\n    public ${name}(${parameters.join(', ')}) {\n${fills.map(one => `        ${one}\n`).join('')}    }\n\n${method('add', reach, ['count'])}\n${method('work', { ...reach, calls: [...reach.calls, 'add(#)', `new Clerk(2, ${upTo(9)}).add(#)`] }, ['count'])}\n    public int choose(Kind kind, int n) {\n${kindSwitch(reach)}    }\n${extra}}\n`
  }
  const desk = office('Desk', { type: 'Clerk', field: 'clerk', made: pick('new Clerk(2, 9)', 'new Clerk(3, 5)') }, ''), deskMade = desk.includes('int tons, Clerk clerk') ? 'new Desk("d", 2, new Clerk(4, 9))' : 'new Desk("d", 2)'
  const ledger = office('Ledger', { type: 'Desk', field: 'desk', made: deskMade }, '\n    public int weigh(Object thing, int n) {\n        if (thing instanceof Desk) {\n            return ((Desk) thing).tons + n;\n        } else if (thing instanceof Clerk) {\n            return ((Clerk) thing).add(n);\n        }\n        return n;\n    }\n')
  const isLedgerHanded = ledger.includes('int tons, Desk desk'), more = isLedgerHanded ? `, ${deskMade}` : ''
  const steps = (field: string) => `        store.put(${field});\n        clerk.note(${field});\n        int size = store.take(0) + clerk.total();\n        Log.tick(size, "r");\n`
  const user = (name: string, own: string, text: string) => `public class ${name} {\n    private final Store store;\n    private final Clerk clerk;\n${own}\n    public ${name}(Store store, Clerk clerk) {\n        this.store = store;\n        this.clerk = clerk;\n    }\n\n    public int add(int n) {\n${text}    }\n}\n`
  const lines = body({ numbers: ['n', 'tons'], calls: ['Log.tick(#)', 'Rates.due(#)', 'Tables.of(#)'] }, [], 4 + upTo(3)).replace(/ {8}return (.*);\n$/, '        int shown = $1;\n')
  const inFunctions: Reach = { numbers: ['n'], calls: ['Log.tick(#)', 'Tables.of(#)', 'Tables.limit + #'] }
  const parts = ['@.Log', '@.base.Clerk', '@.base.Kind', '@.base.Paper', '@.base.Rates', '@.base.Registry', '@.base.Tables', 'java.nio.file.Files', 'java.nio.file.Path']
  const named = (text: string, all: readonly string[]) => all.filter(one => new RegExp(`\\b${one.slice(one.lastIndexOf('.') + 1)}\\b`).test(text))
  const front = user('Front', '', `${steps('n')}        return size + Paper.file(n);\n`), back = user('Back', '    private int last = 1;\n', `        last = n;\n${steps('last')}        return last + (Paper.isFiled(n) ? size : 0);\n`)
  const rates = `public class Rates {\n    public static int rate(int n, int more) {\n${body({ ...inFunctions, numbers: ['n', 'more'] }, [])}    }\n\n${method('due', { ...inFunctions, calls: [...inFunctions.calls, 'rate(#, 1)', 'new Clerk(3, 2).add(#)'] }, [], 'public static')}\n    public static int told(Kind kind, int n) {\n${kindSwitch(inFunctions)}    }\n}\n`
  const board = `public class Board extends WindowAdapter {\n    private final int tons;\n\n    public Board(int tons) {\n        this.tons = tons;\n    }\n\n    public int add(int n) {\n        windowOpened(null);\n${lines}        windowClosed(null);\n        return shown;\n    }\n}\n`
  const oddReach: Reach = { numbers: ['n', 'one', 'last()', 'made', 'limit', 'rest.length', 'size.weight'], calls: ['Log.tick(#)', 'clerk.add(#)', 'last(#)', 'inner.of(#)', 'apply(x -> x + 1, #)', '(next == null ? 0 : next.all()) + #', '(int) (# * 1.5)', 'sum(#, 2, 3)'] }
  const odd = `public class Odd extends Base<Integer> implements Iterable<Integer> {
    static int made = 0;
    private static final int LIMIT;

    static {
        LIMIT = ${1 + upTo(4)};
    }

    public enum Size {
        SMALL(1), LARGE(${2 + upTo(5)});

        final int weight;

        Size(int weight) { this.weight = weight; }
    }

    private class Inner {
        private int own = made;

        int of(int n) { own += n; return own + seen.size(); }
    }

    static class Full extends Exception {
        private static final long serialVersionUID = 1;

        Full(String text) { super(text); }
    }

    private final List<IntConsumer> listeners = new ArrayList<>();
    private final Inner inner = new Inner();
    private final Clerk clerk = new Clerk(${upTo(5)}, ${upTo(5)});
    private final Size size;
    private final int[] rest;
    private Odd next;

    public Odd(int n) { this(n, Size.SMALL); }

    public Odd(int n, Size size, int... rest) {
        super(n + rest.length);
        this.size = size;
        this.rest = rest;
        made++;
    }

    @Override
    protected int of(Integer one) { return one == null ? 0 : one; }

    public Odd on(IntConsumer run) { listeners.add(run); return this; }

    int last() { return seen.isEmpty() ? 0 : of(seen.get(seen.size() - 1)); }

    int last(long n) { return (int) n + last(); }

    static int sum(int... all) {
        int found = 0;
        for (int one : all) found += one;
        return found;
    }

    private int apply(IntUnaryOperator how, int n) { return how.applyAsInt(n); }

    @Override
    public Iterator<Integer> iterator() {
        return new Iterator<Integer>() {
            private int at = 0;

            @Override
            public boolean hasNext() { return at < seen.size(); }

            @Override
            public Integer next() { return seen.get(at++); }
        };
    }

    public int add(int n) {
        seen.add(n);
        for (IntConsumer run : listeners) run.accept(n);
        if (next == null && n > ${upTo(6)}) next = new Odd(n, Size.LARGE, 1, 2);
        int one = 0, limit = LIMIT;
        for (int each : this) one += each;
${body(oddReach, [])}    }

    public int weigh() {
        try {
            check();
            return clerk.total();
        } catch (Full full) {
            return Log.tick(full.getMessage().length(), "e");
        }
    }

    private synchronized void check() throws Full {
        if (seen.size() > ${1 + upTo(3)}) throw new Full("full");
    }
}
`
  return Object.fromEntries([
    file('office/Base', ['@.Log', 'java.util.ArrayList', 'java.util.List'], `public abstract class Base<T> {\n    protected final List<T> seen = new ArrayList<>();\n\n    protected Base(T first) {\n        seen.add(first);\n${chance(2) ? '        Log.tick(of(first), "g");\n' : '        Log.tick(1, "g");\n'}    }\n\n    protected abstract int of(T one);\n\n    public int all() {\n        int found = 0;\n        for (T one : seen) found += of(one);\n        return found;\n    }\n}\n`),
    file('office/Odd', ['@.Log', '@.base.Clerk', 'java.util.ArrayList', 'java.util.Iterator', 'java.util.List', 'java.util.function.IntConsumer', 'java.util.function.IntUnaryOperator'], odd),
    file('Log', [], 'public class Log {\n    public static final StringBuilder all = new StringBuilder();\n\n    public static int tick(int n, String mark) { all.append(mark).append(n).append(\' \'); return n; }\n\n    public static int tick(int n) { return tick(n, "t"); }\n}\n'),
    file('base/Kind', [], 'public enum Kind { FLAT, BARGE, TUG, RAFT }\n'),
    file('base/Counter', [], 'public interface Counter {\n    int add(int n);\n\n    int total();\n}\n'),
    file('base/Tables', ['@.Log'], `public class Tables {\n    static int limit = ${1 + upTo(5)};\n    private static int asked = 0;\n\n${method('of', { numbers: ['n', 'limit', 'asked'], calls: ['Log.tick(#)', 'half(#)'] }, ['asked'], 'public static')}\n    static int half(int n) { return n > 1 ? n - 1 : Log.tick(n, "h"); }\n}\n`),
    file('base/Rates', ['@.Log'], rates),
    file('base/Paper', named('Files Path Log', parts), `public class Paper {\n    private static final String FOLDER = "none";\n\n    public static boolean isFiled(int n) { return Files.exists(Path.of(FOLDER + n)) || n > ${upTo(4)}; }\n\n${method('file', { numbers: ['n', 'FOLDER.length()'], calls: ['Log.tick(#)', '(isFiled(#) ? 1 : 3)'] }, [], 'public static')}}\n`),
    file('base/Clerk', ['@.Log', 'java.util.ArrayList', 'java.util.List'], `/** Counts. */\npublic class Clerk${isCounter ? ' implements Counter' : ''} {\n    private int count;\n    private final int most;\n    private final List<Integer> seen = new ArrayList<>();\n\n    public Clerk(int start, int most) {\n        this.count = start;\n        this.most = most;\n    }\n\n${method('add', { numbers: ['n', 'count', 'most', 'seen.size()'], calls: ['Log.tick(#)', 'half(#)'] }, ['count'])}\n    public int total() { return count + seen.size(); }\n\n    public void note(int n) { seen.add(n); count += Log.tick(n, "n"); }\n\n    private int half(int n) { return n / 2; }\n}\n`),
    file('base/Registry', [], 'public class Registry {\n    private static Clerk one;\n\n    public static Clerk instance() {\n        if (one == null) one = new Clerk(1, 9);\n        return one;\n    }\n}\n'),
    file('base/Form', ['@.Log'], `public class Form {\n    private final String mark;\n    private final int tons;\n    private final int length;\n    private final int width;\n    private final String kind;\n    private final Clerk clerk;\n\n    public Form(String mark, int tons, int length, int width, String kind, Clerk clerk) {\n        this.mark = mark;\n        this.tons = tons;\n        this.length = length;\n        this.width = width;\n        this.kind = kind;\n        this.clerk = clerk;\n    }\n\n${method('add', { numbers: ['n', 'tons', 'length', 'width', 'mark.length()'], calls: ['Log.tick(#)', 'clerk.add(#)', 'Paper.file(#)', '(Paper.isFiled(#) ? 2 : 1)'] }, [])}\n    // What it costs.\n    public int charge(Clerk clerk, int n) {\n${chance(2) ? '        Log.tick(tons);\n' : ''}        clerk.note(n);\n        clerk.note(${upTo(9)});\n        return clerk.total() + clerk.add(n);\n    }\n\n    public int area() { return length * width + kind.length(); }\n}\n`),
    file('base/Store', [], 'public interface Store {\n    void put(int n);\n\n    int take(int n);\n\n    int size();\n\n    void clear();\n}\n'),
    file('base/Shelf', ['@.Log', 'java.util.ArrayList', 'java.util.List'], 'public class Shelf implements Store {\n    private List<Integer> all = new ArrayList<>();\n\n    @Override\n    public void put(int n) { all.add(n); Log.tick(n, "p"); }\n\n    @Override\n    public int take(int n) { return n < all.size() ? all.get(n) : Log.tick(n, "q"); }\n\n    @Override\n    public int size() { return all.size(); }\n\n    @Override\n    public void clear() { all = new ArrayList<>(); }\n}\n'),
    file('office/Front', named(front, [...parts, '@.base.Store']), front), file('office/Back', named(back, [...parts, '@.base.Store']), back),
    file('office/Viewer', ['@.Log', '@.base.Store'], '/** Only looks. */\npublic class Viewer {\n    private final Store store;\n\n    public Viewer(Store store) {\n        this.store = store;\n    }\n\n    public int add(int n) { return store.size() > n ? Log.tick(n, "v") : store.size(); }\n}\n'),
    file('office/Board', [...named(board, parts), 'java.awt.event.WindowAdapter'], board),
    file('office/Desk', named(desk, parts), desk), file('office/Ledger', named(ledger, parts), ledger),
    file('office/BigLedger', ['@.Log'], `public class BigLedger extends Ledger {\n    private final int bonus;\n\n    public BigLedger(String mark, int bonus${isLedgerHanded ? ', Desk desk' : ''}) {\n        super(mark, bonus + 1${isLedgerHanded ? ', desk' : ''});\n        this.bonus = bonus;\n    }\n\n    @Override\n    public int add(int n) { return super.add(n) + Log.tick(bonus, "s"); }\n}\n`),
    file('Main', ['@.base.Clerk', '@.base.Form', '@.base.Kind', '@.base.Rates', '@.base.Shelf', '@.office.Back', '@.office.BigLedger', '@.office.Board', '@.office.Desk', '@.office.Front', '@.office.Ledger', '@.office.Odd', '@.office.Viewer'], `public class Main {\n    public static String told() {\n        Shelf shelf = new Shelf();\n        Clerk clerk = new Clerk(5, 9);\n        Form form = new Form("m", 4, 2, 3, "tug", clerk);\n        Front front = new Front(shelf, clerk);\n        Back back = new Back(shelf, clerk);\n        Desk desk = ${deskMade};\n        Ledger ledger = new Ledger("l", ${1 + upTo(5)}${more});\n        BigLedger big = new BigLedger("b", 3${more});\n        Odd odd = new Odd(2);\n        Odd other = new Odd(3, Odd.Size.LARGE, 4).on(n -> Log.tick(n, "o"));\n        for (int at = 1; at < 8; at += 3) {\n            for (Odd one : new Odd[] { odd, other }) { Log.tick(one.add(at)); Log.tick(one.weigh()); Log.tick(one.all()); }\n            Log.tick(front.add(at)); Log.tick(back.add(at)); Log.tick(new Viewer(shelf).add(at)); Log.tick(new Board(3).add(at)); Log.tick(form.add(at)); Log.tick(form.charge(clerk, at)); Log.tick(form.area());\n            Log.tick(desk.add(at)); Log.tick(desk.work(at)); Log.tick(desk.choose(Kind.${pick('FLAT', 'TUG', 'RAFT')}, at)); Log.tick(desk.choose(Kind.BARGE, at));\n            Log.tick(ledger.add(at)); Log.tick(ledger.work(at)); Log.tick(ledger.choose(Kind.TUG, at)); Log.tick(ledger.choose(Kind.${pick('FLAT', 'RAFT', 'BARGE')}, at)); Log.tick(ledger.weigh(desk, at)); Log.tick(ledger.weigh(clerk, at));\n            Log.tick(big.add(at)); Log.tick(big.work(at)); Log.tick(Rates.told(Kind.FLAT, at)); Log.tick(Rates.told(Kind.RAFT, at));\n        }\n        return Log.all.toString();\n    }\n}\n`)
  ])
}
