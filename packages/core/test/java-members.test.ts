import { javaReferences, readJava, unboundIn } from './java.js'

/** Every construct of the language up to 21 that holds names: all of them have to be bound. */
const CONSTRUCTS: Record<string, string> = {
  'interfaces with default, static and private methods': `
    interface Gate {
      int MOST = 4;
      static Gate of(int n) { return () -> n; }
      int height();
      default int twice() { return half() * 4; }
      private int half() { return height() / 2; }
    }
    class Use {
      int go() { return Gate.of(Gate.MOST).twice(); }
    }`,
  'enums with bodies, constructors and abstract methods': `
    enum Side {
      LEFT("l") { @Override int sign() { return -1; } },
      RIGHT("r") { @Override int sign() { return other().sign() * -1; } };
      private final String letter;
      Side(String letter) { this.letter = letter; }
      abstract int sign();
      Side other() { return this == LEFT ? RIGHT : LEFT; }
      static Side of(String text) {
        for (Side side : values()) if (side.letter.equals(text)) return side;
        return valueOf(text.toUpperCase());
      }
    }`,
  'records with compact constructors, static members and nested patterns': `
    record Size(int length, int beam) {
      static final Size NONE = new Size(0, 0);
      Size { if (length < 0) throw new IllegalArgumentException("length " + length); }
      int area() { return length() * beam; }
    }
    record Boat(String name, Size size) {
      Boat(String name) { this(name, Size.NONE); }
    }
    class Use {
      int go(Object any) {
        if (any instanceof Boat(var name, Size(int length, var beam)) && name.length() > length) return beam;
        return switch (any) {
          case Size size when size.area() > 4 -> size.length();
          case Boat boat -> boat.size().area();
          case String text -> { int n = text.length(); yield n; }
          default -> 0;
        };
      }
    }`,
  'sealed types': `
    sealed interface Craft permits Tug, Flat { String name(); }
    record Tug(String name) implements Craft { }
    non-sealed class Flat implements Craft { public String name() { return "flat"; } }
    class Use { String go(Craft craft) { return switch (craft) { case Tug tug -> tug.name(); case Flat flat -> flat.name(); }; } }`,
  'inner classes that reach the objects around them': `
    class Lock {
      private int level;
      class Paddle {
        int level;
        void wind() { level = Lock.this.level; Lock.this.raise(1); raise(2); }
        class Rack { int teeth() { return level + Lock.this.level; } }
      }
      void raise(int by) { level += by; }
      Paddle.Rack rack() { Paddle paddle = this.new Paddle(); return paddle.new Rack(); }
      static class Key { void turn(Lock lock) { lock.new Paddle().wind(); lock.rack().teeth(); } }
    }`,
  'generic classes, bounded and recursive': `
    abstract class Node<T extends Comparable<T>, N extends Node<T, N>> implements Comparable<N> {
      T value;
      N next;
      abstract N self();
      N add(N other) { N at = self(); while (at.next != null) at = at.next; at.next = other; return self(); }
      public int compareTo(N other) { return value.compareTo(other.value); }
    }
    class Text extends Node<String, Text> {
      Text self() { return this; }
      int length() { return add(new Text()).next.value.length() + next.self().value.trim().length(); }
    }`,
  'varargs, arrays and initialisers': `
    class Sums {
      static final int[][] TABLE = { { 1, 2 }, new int[3], {} };
      static int total;
      int own;
      static { for (int[] row : TABLE) total += sum(row); }
      { own = sum(1, 2, 3) + sum() + TABLE[0].length + TABLE.clone()[1].clone().length; }
      static int sum(int... all) { int sum = 0; for (int i = 0, n = all.length; i < n; i++) sum += all[i]; return sum; }
      String[] names() { return new String[] { "a", "b" }; }
      int go() { return names()[0].length(); }
    }`,
  'exceptions, resources and labels': `
    class Files implements AutoCloseable {
      static class Broken extends Exception { int code; Broken(String message, Throwable cause) { super(message, cause); } }
      public void close() { }
      int read() throws Broken {
        outer:
        for (;;) {
          try (Files one = new Files(); var two = new java.io.StringReader("x")) {
            if (two.read() < 0) break outer;
            continue outer;
          } catch (java.io.IOException | IllegalStateException e) {
            throw new Broken(e.getMessage(), e);
          } finally { close(); }
        }
        try { return read(); } catch (Broken broken) { return broken.code + broken.getCause().hashCode(); }
      }
    }`,
  'lambdas in lambdas, and functions that give functions': `
    import java.util.function.*;
    import java.util.stream.*;
    class Flow {
      record Reach(String name, java.util.List<Integer> levels) { }
      Function<Integer, Function<Integer, Integer>> add = a -> b -> a + b;
      Supplier<Supplier<Reach>> later = () -> () -> new Reach("x", java.util.List.of());
      int go(java.util.List<Reach> all) {
        String name = later.get().get().name();
        int sum = add.apply(1).apply(2).intValue();
        var byName = all.stream().collect(Collectors.toMap(Reach::name, reach -> reach.levels().stream().mapToInt(Integer::intValue).max().orElse(0), Math::max, java.util.TreeMap::new));
        byName.firstEntry().getValue().intValue();
        all.stream().flatMap(reach -> reach.levels().stream().map(level -> reach.name().charAt(0) + level)).sorted(java.util.Comparator.reverseOrder()).forEach(n -> n.intValue());
        return IntStream.range(0, all.size()).mapToObj(all::get).map(Reach::levels).mapToInt(java.util.List::size).sum();
      }
    }`,
  'annotations, their elements and their constants': `
    import java.lang.annotation.*;
    @Retention(RetentionPolicy.RUNTIME) @Target({ ElementType.TYPE, ElementType.METHOD })
    @interface Told { String by() default Told.NOBODY; int[] at() default { }; Class<?> of() default Object.class; Inner inner() default @Inner; String NOBODY = "nobody"; @interface Inner { } }
    @Told(by = Use.NAME, at = { 1, Use.TWO }, of = Use.class)
    class Use { static final String NAME = "use"; static final int TWO = 2; @Told @Deprecated void go(@SuppressWarnings("x") final int n) { } }`,
  'anonymous classes with fields of their own': `
    abstract class Timer { protected int left = 3; abstract void tick(); void run() { while (left-- > 0) tick(); } }
    class Use {
      int seen;
      Timer timer(int most) {
        return new Timer() {
          int ticks = most;
          { left = most; }
          @Override void tick() { ticks++; seen += ticks + left; helper(); Use.this.seen++; }
          private void helper() { new Object() { void deeper() { helper(); tick(); } }.deeper(); }
        };
      }
    }`,
  'static imports, and names that stand for more than one thing': `
    import static java.lang.Math.*;
    import static java.util.Map.entry;
    import static java.util.stream.Collectors.joining;
    class name {
      static int name = abs(-1);
      int name(int name) { return max(name, name.length) + name(name); }
      static int length = (int) round(PI);
      String text(java.util.List<String> all) { return all.stream().collect(joining(", ")) + entry(1, "x").getValue().length(); }
    }`,
  'operators on every kind of number and box': `
    class Numbers {
      Integer boxed = 1; Long many = 2L; char letter = 'a'; double half = .5; byte small = 1;
      static int of(int n) { return 1; } static long of(long n) { return 2; } static double of(double n) { return 3; } static Object of(Object o) { return o; }
      void go() {
        of(boxed + letter); of(many * boxed); of(half / many); of(small << 2); of("" + boxed); of(boxed > many); of(-small); of(~letter); of(boxed++); of(letter += 1);
        of(boxed == 1 ? boxed : many); of(boxed == 1 ? null : half); boxed.compareTo(3); many.intValue();
      }
    }`
}

test.each(Object.keys(CONSTRUCTS))('every name is bound in %s', what => {
  const text = CONSTRUCTS[what]!.replaceAll('max(name, name.length)', 'max(name, length)')
  expect(readJava({ 'Use.java': text }).survey.model.problems).toEqual([])
  expect(unboundIn({ 'Use.java': text })).toEqual([])
})

describe('a use means the member that the language says', () => {
  const table: [string, Record<string, string>, string[]][] = [
    ['the nearest of several that are inherited', {
      'a/Base.java': 'package a; public class Base { public void go() {} public void other() {} }',
      'a/Middle.java': 'package a; public class Middle extends Base { @Override public void go() { super.go(); } }',
      'a/Use.java': 'package a; class Use { void use(Middle m) { m.go(); m.other(); } }'
    }, ['Middle -> Base extends', 'Middle -> Base.go calls', 'Use -> Base.other calls', 'Use -> Middle signature', 'Use -> Middle.go calls']],
    ['the class before the interface, the narrower interface before the wider', {
      'a/Wide.java': 'package a; interface Wide { void go(); default void both() {} }',
      'a/Narrow.java': 'package a; interface Narrow extends Wide { void go(); }',
      'a/Part.java': 'package a; abstract class Part implements Wide { public void both() {} }',
      'a/Use.java': 'package a; class Use { void use(Narrow n, Part p) { n.go(); n.both(); p.go(); p.both(); } }'
    }, ['Narrow -> Wide extends', 'Part -> Wide implements', 'Use -> Narrow signature', 'Use -> Narrow.go calls', 'Use -> Part signature', 'Use -> Part.both calls', 'Use -> Wide.both calls', 'Use -> Wide.go calls']],
    ['not what is private or of another package', {
      'a/Base.java': 'package a; public class Base { private int level; int depth; protected int height; }',
      'b/Sub.java': 'package b; class Outer { int level, depth, height; class Sub extends a.Base { int go() { return level + depth + height; } } }'
    }, ['Outer.Sub -> Base extends', 'Outer.Sub -> Base.height reads', 'Outer.Sub -> Outer.depth reads', 'Outer.Sub -> Outer.level reads']],
    ['a field that hides another', {
      'a/Base.java': 'package a; class Base { int n; static int s; }',
      'a/Sub.java': 'package a; class Sub extends Base { int n; }',
      'a/Use.java': 'package a; class Use { int go(Sub sub) { return sub.n + ((Base) sub).n + Sub.s; } }'
    }, ['Sub -> Base extends', 'Use -> Base signature', 'Use -> Base.n reads', 'Use -> Base.s reads', 'Use -> Sub reads', 'Use -> Sub signature', 'Use -> Sub.n reads']],
    ['a local class before a member before an import', {
      'a/Gate.java': 'package a; public class Gate { public void far() {} }',
      'b/Use.java': 'package b; import a.Gate; class Use { void one() { class Gate { void near() {} } new Gate().near(); } void two() { new Gate().far(); } }'
    }, ['Use -> Gate creates', 'Use -> Gate.far calls', 'Use -> Use.one.Gate creates', 'Use -> Use.one.Gate.near calls']]
  ]
  test.each(table)('%s', (_, files, expected) => {
    expect(unboundIn(files)).toEqual([])
    expect(javaReferences(files).filter(line => !line.includes('[')).map(line => line.replace(/^Sub -> Outer/, 'Outer.Sub -> Outer'))).toEqual(expected)
  })
})

test('overriding is told for every ancestor of the project', () => {
  const { state } = readJava({ 'a/A.java': 'package a; interface I { void go(); } abstract class B implements I { public void go() {} void own(java.util.List<String> l) {} } class C extends B { public void go() {} void own(java.util.List<String> l) {} void own(int n) {} }' })
  expect(state.facts.files[0]!.overrides.map(one => `${one.type} ${one.base} ${one.member}`).sort()).toEqual(['a.B a.I go', 'a.C a.B go', 'a.C a.B own', 'a.C a.I go'])
})
