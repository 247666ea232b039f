import { applyJava } from './java-writing.js'

const MOTOR = 'package a;\n\npublic class Motor {\n    private int turns;\n    private final String name;\n    public Motor(String name) { this.name = name; }\n    public Motor() { this("plain"); }\n    public void turn() { turns++; log(); }\n    private void log() { System.out.println(name + turns); }\n}\n'

describe('inject in Java', () => {
  it('turns the initialiser of a field into a constructor parameter and builds it at every creation site', () => {
    const { text } = applyJava({
      'a/Motor.java': MOTOR,
      'a/Gate.java': 'package a;\n\npublic class Gate {\n    private final Motor motor = new Motor("gate");\n    private int height;\n\n    void open() { motor.turn(); }\n}\n',
      'b/Lock.java': 'package b;\n\nimport a.Gate;\n\nclass Lock {\n    Gate gate = new Gate();\n}\n'
    }, 'inject', 'a.Gate')
    expect(text('a/Gate.java')).toBe('package a;\n\npublic class Gate {\n    private final Motor motor;\n    private int height;\n\n    public Gate(Motor motor) {\n        this.motor = motor;\n    }\n\n    void open() { motor.turn(); }\n}\n')
    expect(text('b/Lock.java')).toBe('package b;\n\nimport a.Gate;\nimport a.Motor;\n\nclass Lock {\n    Gate gate = new Gate(new Motor("gate"));\n}\n')
  })

  it('needs one factory for two places that build the same, and another where it is handed something else', () => {
    const files = (second: string) => ({ 'a/Motor.java': MOTOR, 'a/Yard.java': `package a;\n\npublic class Yard {\n    Motor first(String name) { return new Motor(name); }\n    Motor second(String name) { return ${second}; }\n    static Yard open() { return new Yard(); }\n}\n` })
    const twice = (second: string) => {
      const { writer } = applyJava(files(second), 'inject', 'a.Yard', { point: 'a.Motor@first' })
      const outcome = writer.inject({ type: 'a.Yard', point: 'a.Motor@second', name: null, as: null, withDefault: false, levels: 0 })
      if (outcome.refused) throw new Error(outcome.message)
      return outcome.changes.find(change => change.path === 'a/Yard.java')!.after!
    }
    expect(twice('new Motor(name + 1)')).toBe('package a;\n\nimport java.util.function.Function;\n\npublic class Yard {\n    private final Function<String, Motor> motorFactory;\n\n    public Yard(Function<String, Motor> motorFactory) {\n        this.motorFactory = motorFactory;\n    }\n\n    Motor first(String name) { return motorFactory.apply(name); }\n    Motor second(String name) { return motorFactory.apply(name + 1); }\n    static Yard open() { return new Yard(Motor::new); }\n}\n')
    expect(twice('new Motor()')).toContain('new Yard(Motor::new, Motor::new)')
  })

  it('hands in what fetches an object by a static method, but not what would throw or makes a new one', () => {
    const files = (body: string, more = '') => ({
      'a/Table.java': `package a;\n\npublic class Table {\n    private static Table only;\n    private int uses;\n    public int rate() { return uses++; }\n    public static Table getInstance() { if (only == null) { only = new Table(); } return only; }\n    public static Table fresh() { return new Table(); }\n    public static Table read() throws java.io.IOException { return getInstance(); }\n${more}}\n`,
      'a/Tolls.java': `package a;\n\npublic class Tolls {\n    int toll() throws Exception { return ${body}; }\n    static Tolls open() { return new Tolls(); }\n}\n`
    })
    expect(applyJava(files('Table.getInstance().rate() + Table.getInstance().rate()'), 'inject', 'a.Tolls').text('a/Tolls.java')).toBe('package a;\n\nimport java.util.function.Supplier;\n\npublic class Tolls {\n    private final Supplier<Table> table;\n\n    public Tolls(Supplier<Table> table) {\n        this.table = table;\n    }\n\n    int toll() throws Exception { return table.get().rate() + table.get().rate(); }\n    static Tolls open() { return new Tolls(Table::getInstance); }\n}\n')
    expect(applyJava(files('Table.fresh().rate()'), 'inject', 'a.Tolls').refused).toBe('no-point')
    expect(applyJava({ ...files('1'), 'a/Gate.java': 'package a;\n\nclass Gate {\n    Gate() { this(Table.getInstance()); }\n    Gate(Table table) { table.rate(); }\n}\n' }, 'inject', 'a.Gate').refused).toBe('no-point')
    expect(applyJava(files('Table.read().rate()'), 'inject', 'a.Tolls').refused).toBe('no-point')
  })

  it('makes the field final where nothing else sets it', () => {
    const gate = (more: string) => applyJava({ 'a/Motor.java': MOTOR, 'a/Gate.java': `package a;\n\nclass Gate {\n    private Motor motor = new Motor();\n    void open() { motor.turn();${more} }\n}\n` }, 'inject', 'a.Gate').text('a/Gate.java')
    expect(gate('')).toContain('    private final Motor motor;')
    expect(gate(' motor = null;')).toContain('    private Motor motor;')
    expect(gate(' this.motor = null;')).toContain('    private Motor motor;')
  })

  it('changes constructors that exist, after what they call and before what they take any number of', () => {
    const { text } = applyJava({
      'a/Motor.java': MOTOR,
      'a/Gate.java': 'package a;\n\npublic class Gate extends Thing {\n    private final Motor motor = new Motor();\n\n    public Gate(int height, String... names) {\n        super(height);\n        motor.turn();\n    }\n\n    public Gate() {\n        this(3, "a", "b");\n    }\n}\nclass Thing { Thing(int height) { } }\n'
    }, 'inject', 'a.Gate')
    expect(text('a/Gate.java')).toContain('    public Gate(int height, Motor motor, String... names) {\n        super(height);\n        this.motor = motor;\n        motor.turn();\n    }')
    expect(text('a/Gate.java')).toContain('        this(3, new Motor(), "a", "b");')
  })

  it('hands in a factory where it is made again and again, or from what is known only then', () => {
    const again = applyJava({
      'a/Motor.java': MOTOR,
      'a/Yard.java': 'package a;\n\npublic class Yard {\n    public Motor next() { return new Motor(); }\n    public Motor named(String name) { return new Motor(name + "!"); }\n    static Yard open() { return new Yard(); }\n}\n'
    }, 'inject', 'a.Yard', { point: 'a.Motor@next' })
    expect(again.text('a/Yard.java')).toBe('package a;\n\nimport java.util.function.Supplier;\n\npublic class Yard {\n    private final Supplier<Motor> motorFactory;\n\n    public Yard(Supplier<Motor> motorFactory) {\n        this.motorFactory = motorFactory;\n    }\n\n    public Motor next() { return motorFactory.get(); }\n    public Motor named(String name) { return new Motor(name + "!"); }\n    static Yard open() { return new Yard(Motor::new); }\n}\n')
    const named = again.writer.injectionPoints('a.Yard')
    expect(named.map(point => point.key)).toEqual(['a.Motor@named'])
    const { outcome } = { outcome: again.writer.inject({ type: 'a.Yard', point: 'a.Motor@named', name: null, as: null, withDefault: false, levels: 0 }) }
    const yard = outcome.refused ? outcome.message : outcome.changes.find(change => change.path === 'a/Yard.java')!.after!
    expect(yard).toContain('public Yard(Supplier<Motor> motorFactory, Function<String, Motor> motorFactory2)')
    expect(yard).toContain('return motorFactory2.apply(name + "!");')
    expect(yard).toContain('return new Yard(Motor::new, Motor::new);')
  })

  it('declares a factory of its own where the library has none: three arguments, or exceptions to handle', () => {
    const { text } = applyJava({
      'a/Part.java': 'package a;\n\npublic class Part {\n    public Part(int a, String b, long c) throws java.io.IOException { }\n    public void work() { System.gc(); }\n}\n',
      'a/Shop.java': 'package a;\n\nimport java.io.IOException;\n\npublic class Shop {\n    int made;\n    Part make(int a) throws IOException { made++; return new Part(a, "b", 2L); }\n    static Shop open() { return new Shop(); }\n}\n'
    }, 'inject', 'a.Shop')
    const shop = text('a/Shop.java')
    expect(shop).toContain('    private final PartFactory partFactory;\n\n    /** Makes what Shop needs in the course of its work. */\n    public interface PartFactory {\n        Part create(int a, String b, long c) throws IOException;\n    }')
    expect(shop).toContain('return partFactory.create(a, "b", 2L);')
    expect(shop).toContain('return new Shop(Part::new);')
  })

  it('does not box and widen at once: a factory of its own takes the int where a long is wanted', () => {
    const { text } = applyJava({
      'a/Span.java': 'package a;\n\npublic class Span {\n    private long n;\n    public Span(long n) { this.n = n; }\n    public void grow() { n++; System.gc(); }\n}\n',
      'a/Shop.java': 'package a;\n\nclass Shop {\n    static Span open(int days) { return new Span(days); }\n    Span span(int days) { return new Span(days); }\n}\n'
    }, 'inject', 'a.Shop', { point: 'a.Span@span' })
    expect(text('a/Shop.java')).toContain('    interface SpanFactory {\n        Span create(long n);\n    }')
    expect(text('a/Shop.java')).toContain('return spanFactory.create(days);')
    const open = applyJava({
      'a/Span.java': 'package a;\n\npublic class Span {\n    private long n;\n    public Span(long n, int a, int b) { this.n = n; }\n    public void grow() { n++; System.gc(); }\n}\n',
      'a/Shop.java': 'package a;\n\nclass Shop {\n    static Span open(int days) { return new Span(days, 1, 2); }\n}\n'
    }, 'inject', 'a.Shop')
    expect(open.text('a/Shop.java')).toContain('static Span open(int days) {\n        return open(days, Span::new);\n    }\n\n    static Span open(int days, SpanFactory spanFactory) { return spanFactory.create(days, 1, 2); }')
  })

  it('reaches subclasses, constructor references and anonymous classes', () => {
    const { text } = applyJava({
      'a/Motor.java': MOTOR,
      'a/Gate.java': 'package a;\n\npublic class Gate {\n    final Motor motor;\n    Gate() {\n        motor = new Motor();\n    }\n}\n',
      'a/Uses.java': 'package a;\n\nimport java.util.function.Supplier;\n\nclass Small extends Gate { }\nclass Large extends Gate {\n    Large(int size) { System.out.println(size); }\n}\nclass Uses {\n    Supplier<Gate> make = Gate::new;\n    Gate odd = new Gate() { };\n}\n'
    }, 'inject', 'a.Gate')
    expect(text('a/Gate.java')).toContain('    Gate(Motor motor2) {\n        motor = motor2;\n    }')
    expect(text('a/Uses.java')).toBe('package a;\n\nimport java.util.function.Supplier;\n\nclass Small extends Gate {\n    Small() {\n        super(new Motor());\n    }\n}\nclass Large extends Gate {\n    Large(int size) {\n        super(new Motor()); System.out.println(size); }\n}\nclass Uses {\n    Supplier<Gate> make = () -> new Gate(new Motor());\n    Gate odd = new Gate(new Motor()) { };\n}\n')
  })

  it('declares the parameter as the interface that the collaborator implements, the field too', () => {
    const { text } = applyJava({
      'a/Motor.java': MOTOR.replace('class Motor', 'class Motor implements Turning'), 'a/Turning.java': 'package a;\n\npublic interface Turning { void turn(); }\n',
      'a/Gate.java': 'package a;\n\nclass Gate {\n    private final Motor motor = new Motor();\n    void open() { motor.turn(); }\n}\n'
    }, 'inject', 'a.Gate')
    expect(text('a/Gate.java')).toBe('package a;\n\nclass Gate {\n    private final Turning motor;\n\n    Gate(Turning motor) {\n        this.motor = motor;\n    }\n    void open() { motor.turn(); }\n}\n')
  })

  it('keeps the present form beside the new one on demand, and where a site could not build it', () => {
    const files = {
      'a/Motor.java': MOTOR,
      'a/Gate.java': 'package a;\n\npublic class Gate {\n    private final Motor motor = new Motor();\n\n    /** Makes one. */\n    public Gate(int height) {\n    }\n}\n',
      'b/Lock.java': 'package b;\n\nclass Lock {\n    a.Gate gate = new a.Gate(2);\n}\n'
    }
    const asked = applyJava(files, 'inject', 'a.Gate', { withDefault: true })
    expect(asked.text('a/Gate.java')).toContain('    /** Makes one. */\n    public Gate(int height) {\n        this(height, new Motor());\n    }\n\n    public Gate(int height, Motor motor) {\n        this.motor = motor;\n    }')
    const hidden = applyJava({ ...files, 'a/Motor.java': MOTOR.replace('public class', 'class') }, 'inject', 'a.Gate')
    expect(hidden.text('a/Gate.java')).toContain('this(height, new Motor());')
    expect(hidden.notes[0]).toMatch(/^The constructor keeps its present form/)
  })

  it('gives a static method a second form, and callers stay as they are', () => {
    const { text } = applyJava({
      'a/Motor.java': MOTOR,
      'a/Tool.java': 'package a;\n\nclass Tool {\n    static int run(int times) {\n        Motor motor = new Motor();\n        motor.turn();\n        return times;\n    }\n    int use() { return run(3); }\n}\n'
    }, 'inject', 'a.Tool')
    expect(text('a/Tool.java')).toContain('    static int run(int times) {\n        return run(times, new Motor());\n    }\n\n    static int run(int times, Motor motor2) {\n        Motor motor = motor2;')
  })

  it('hands in a shared instance', () => {
    const { text } = applyJava({
      'a/Motor.java': MOTOR, 'a/Park.java': 'package a;\n\npublic class Park {\n    public static final Motor MAIN = new Motor();\n}\n',
      'b/Gate.java': 'package b;\n\nimport a.Park;\n\npublic class Gate {\n    void open() { Park.MAIN.turn(); }\n    void shut() { Park.MAIN.turn(); }\n    static Gate make() { return new Gate(); }\n}\n'
    }, 'inject', 'b.Gate')
    expect(text('b/Gate.java')).toContain('    private final Motor motor;\n\n    public Gate(Motor motor) {\n        this.motor = motor;\n    }\n')
    expect(text('b/Gate.java')).toContain('void open() { motor.turn(); }')
    expect(text('b/Gate.java')).toContain('return new Gate(Park.MAIN);')
  })

  it('passes it on from further up where that is asked for', () => {
    const { text, notes } = applyJava({
      'a/Motor.java': MOTOR,
      'a/Gate.java': 'package a;\n\npublic class Gate {\n    private final Motor motor = new Motor();\n    void open() { motor.turn(); }\n}\n',
      'a/Lock.java': 'package a;\n\npublic class Lock {\n    private final Gate gate;\n    public Lock() { gate = new Gate(); }\n    static Lock make() { return new Lock(); }\n}\n'
    }, 'inject', 'a.Gate', { levels: 1 })
    expect(text('a/Lock.java')).toContain('public Lock(Motor motor) { gate = new Gate(motor); }')
    expect(text('a/Lock.java')).toContain('return new Lock(new Motor());')
    expect(notes).toEqual(['Lock is handed motor too and passes it on.'])
  })

  it('refuses what cannot be safe: fields read before, types only a method knows', () => {
    const early = applyJava({
      'a/Motor.java': MOTOR, 'a/Gate.java': 'package a;\n\nclass Gate {\n    Motor motor = new Motor();\n    Object copy = motor;\n}\n'
    }, 'inject', 'a.Gate')
    expect(early.refused).toBe('order')
    const generic = applyJava({
      'a/Box.java': 'package a;\n\npublic class Box<T> {\n    int size;\n    public Box(T first) { }\n    public void add(T one) { size++; System.gc(); }\n}\n',
      'a/Maker.java': 'package a;\n\nclass Maker {\n    int n;\n    <T> Box<T> make(T first) { return new Box<T>(first); }\n}\n'
    }, 'inject', 'a.Maker')
    expect(generic.refused).toBe('generic')
  })

  it('leaves a shared instance where it is handed to this(...), before there is an object to hold it', () => {
    const { text } = applyJava({
      'a/Motor.java': MOTOR.replace('private int turns;', 'public static final Motor SHARED = new Motor();\n    private int turns;'),
      'a/Gate.java': 'package a;\n\npublic class Gate {\n    private final Motor motor;\n    public Gate() { this(Motor.SHARED); }\n    public Gate(Motor motor) { this.motor = motor; }\n    void go() { Motor.SHARED.turn(); motor.turn(); }\n}\n'
    }, 'inject', 'a.Gate', { point: 'a.Motor.SHARED' })
    expect(text('a/Gate.java')).toContain('public Gate() { this(Motor.SHARED, Motor.SHARED); }')
    expect(text('a/Gate.java')).toMatch(/void go\(\) \{ motor\d?\.turn\(\); motor\.turn\(\); \}/)
  })

  it('offers neither records, exceptions and private parts, nor what is handed to this(...)', () => {
    const { writer } = applyJava({
      'a/Motor.java': MOTOR,
      'a/Gate.java': 'package a;\n\nclass Gate {\n    record Size(int a) { }\n    static class Broken extends RuntimeException { }\n    private static class Part { void run() { System.gc(); } }\n    Gate() { this(new Motor()); }\n    Gate(Motor motor) { new Part().run(); if (new Size(1).a() > 2) throw new Broken(); }\n    public static void main(String[] args) { new Motor().turn(); }\n}\n'
    }, 'extract', 'a.Gate')
    expect(writer.injectionPoints('a.Gate')).toEqual([])
  })
})
