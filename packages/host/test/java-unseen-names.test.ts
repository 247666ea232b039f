import { unseenNames } from '@hollowmoor/core/read/java/write/unseen-names'
import { JavaCompiler, jdkPrograms } from '@hollowmoor/host/java-compiler'
import { readJava } from '../../core/test/java.js'

// What the language lets be seen is what its compiler says.
const withJdk = jdkPrograms() ? test : test.skip

/** Lock of package p with members, constructors and classes inside of each access; what others do with them. */
const LOCK = `package p;
public class Lock {
    private int own; int near; public int open;
    private static int ownStatic; static int nearStatic;
    private void shut() { } void close() { } public void lift() { }
    private Lock(int n) { } Lock(String name) { } public Lock() { }
    private static class Gate { public int wide; } static class Key { public int wide; int deep; private int made; } public static class Beam { int wide; private Beam() { } Beam(int n) { } }
    public interface Rule { int MOST = 3; int least(); class Part { } enum Size { SMALL } }
    enum Side { LEFT { @Override int far() { return 1; } }; int far() { return 2; } }
    public record Mark(int n) { static int all; }
    public Hidden hidden() { return null; } public Shown shown() { return null; }
    class Inner { int mine = own + new Gate().wide + new Key().made; }
}
`
/** Classes of q that extend one of p, whose constructors they can call or not. */
const HEIRS = {
  Near: 'extends Gear', NearSaid: 'extends Gear { NearSaid() { super(); } }', NearLeft: 'extends Gear { NearLeft(int n) { } }', NearOther: 'extends Gear { NearOther() { super("a"); } }', NearThis: 'extends Gear { NearThis() { this(1); } NearThis(int n) { super("a"); } }',
  Open: 'extends Wide', Heir: 'extends Held', HeirSaid: 'extends Held { HeirSaid() { super(); } }', HeirMade: 'extends Held { Object other = new Held(); }', Many: 'extends Any', ManySaid: 'extends Any { ManySaid() { super(1, 2); } }', NearUnnamed: '{ Object made = new Gear() { }; }'
}
const USES = {
  Own: 'lock.own', Near: 'lock.near', Open: 'lock.open', OwnStatic: 'Lock.ownStatic', NearStatic: 'Lock.nearStatic', Shut: 'run(() -> lock.shut())', Close: 'run(() -> lock.close())', Lift: 'run(() -> lock.lift())', MadeOwn: 'new Lock(3)', MadeNear: 'new Lock("a")',
  MadeOpen: 'new Lock()', Gate: 'new Lock.Gate()', Key: 'new Lock.Key()', KeyClass: 'Lock.Key.class', Beam: 'Lock.Beam.class', BeamMade: 'new Lock.Beam()', BeamNear: 'new Lock.Beam(2)', BeamWide: '((Lock.Beam) null).wide', Most: 'Lock.Rule.MOST', Part: 'new Lock.Rule.Part()',
  Size: 'Lock.Rule.Size.SMALL', Side: 'Lock.Side.LEFT', MarkMade: 'new Lock.Mark(2)', MarkRead: 'new Lock.Mark(2).n()', MarkAll: 'Lock.Mark.all', Hidden: 'Hidden.class', HiddenStatic: 'Hidden.MOST', Wide: 'Wide.MOST', WideMade: 'new Wide()', WideValue: 'Plain.values().length', Least: '((Lock.Rule) null).least()',
  HiddenHeld: 'lock.hidden()', HiddenAsked: 'lock.hidden().told()', HiddenRead: 'lock.hidden().deep', HiddenText: 'lock.hidden().toString()', ShownAsked: 'lock.shown().told()', ShownRead: 'lock.shown().deep', HiddenFunction: 'run(lock.hidden()::lift)', HiddenLength: 'lock.hidden().all.length'
}

withJdk('what a class cannot see of another is what javac does not let it see', async () => {
  const body = (name: string, of: string, expression: string) => `package ${of};\n${of === 'p' ? '' : 'import p.*;\n'}class ${name} {\n    static void run(Runnable one) { one.run(); }\n    Object of(Lock lock) { ${expression.startsWith('run') ? `${expression}; return null` : `return ${expression}`}; }\n}\n`
  const files = Object.fromEntries([
    ['p/Lock.java', LOCK], ['p/Hidden.java', 'package p;\nclass Hidden { static final int MOST = 1; public int deep; public int[] all; public int told() { return 1; } public void lift() { } }\n'], ['p/Shown.java', 'package p;\npublic class Shown extends Hidden { }\n'], ['p/Wide.java', 'package p;\npublic class Wide { static final int MOST = 1; }\n'], ['p/Plain.java', 'package p;\npublic enum Plain { ONE }\n'],
    ['p/Gear.java', 'package p;\npublic class Gear { Gear() { } protected Gear(String name) { } }\n'], ['p/Held.java', 'package p;\npublic class Held { protected Held() { } }\n'], ['p/Any.java', 'package p;\npublic class Any { Any(int... all) { } }\n'],
    ...Object.entries(HEIRS).map(([name, rest]) => [`q/${name}.java`, `package q;\nimport p.*;\nclass ${name} ${rest}${rest.endsWith('}') ? '' : ' { }'}\n`]),
    ...Object.entries(USES).flatMap(([name, expression]) => [[`p/${name}Beside.java`, body(`${name}Beside`, 'p', expression)], [`q/${name}Apart.java`, body(`${name}Apart`, 'q', expression).replace('import p.*;', /Hidden\./.test(expression) ? 'import p.Hidden;\nimport p.Lock;' : 'import p.*;')]])
  ]) as Record<string, string>
  const { language, state } = readJava(files), bound = language.bound(state)
  // Fields and constructors that cannot be seen have no meaning, or another is meant, which does not fit; of all else the meaning is known, and that it cannot be seen is told.
  const unseen = Object.keys(files).filter(path => unseenNames(bound.file(path)!).length > 0), ours = Object.keys(files).filter(path => unseen.includes(path) || bound.file(path)!.java.unbound.size > 0 || bound.file(path)!.findings.mismatches.size > 0)
  const compiler = new JavaCompiler(jdkPrograms()!)
  try {
    const errors = await compiler.newErrors('1', new Map(Object.keys(files).map(path => [path, `package ${path.slice(0, 1)};\n`])), ['-proc:none', '-Xmaxerrs', '1000'], new Map(Object.entries(files)))
    expect(errors!.filter(one => !/has (private|protected) access|is not public|cannot be accessed|inaccessible class/.test(one))).toEqual([])
    expect(ours).toEqual([...new Set(errors!.map(one => one.slice(0, one.indexOf(':'))))].sort((a, b) => Object.keys(files).indexOf(a) - Object.keys(files).indexOf(b)))
    expect([ours.length > 20, unseen.length > 8]).toEqual([true, true])
  } finally { compiler.close() }
})
