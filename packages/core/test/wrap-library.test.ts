import { choicesOf, offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { measureProject } from '@hollowmoor/core/survey'
import { apply, applyJava } from './applying.js'
import { readJava } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

const DESK = `export class Desk {
  private taken = 0;

  constructor(private readonly name: string) {}

  // When it was opened.
  opened(): string {
    return new Date().toISOString() + this.name;
  }

  late(by: number): boolean {
    return Date.now() > by && Date.now() - by > 60_000;
  }

  private draw(): number {
    return Math.floor(Math.random() * 6);
  }
}
`
const files: Files = { 'src/desk/desk.ts': DESK, 'src/desk/office.ts': "import { Desk } from './desk';\n\nexport const office = new Desk('north');\n" }
const texts = (outcome: ReturnType<typeof apply>) => outcome as Record<string, string>

describe('in TypeScript', () => {
  test('what a class uses of the clock goes behind an interface, whose implementation alone uses it, and is handed in', () => {
    expect(apply(files, 'wrap-library:src/desk/desk.ts#Desk:runtime.clock')).toEqual({
      'src/desk/desk.ts': DESK.replace('export class', "import { Clock } from './outside/clock';\n\nexport class").replace('name: string) {}', 'name: string, private readonly clock: Clock) {}')
        .replace('new Date()', 'this.clock.date()').replaceAll('Date.now()', 'this.clock.now()'),
      'src/desk/office.ts': "import { Desk } from './desk';\nimport { SystemClock } from './outside/system-clock';\n\nexport const office = new Desk('north', new SystemClock());\n",
      'src/desk/outside/clock.ts': '/** What the project uses of the clock. */\nexport interface Clock {\n  date(): Date;\n  now(): number;\n}\n',
      'src/desk/outside/system-clock.ts': "import { Clock } from './clock';\n\n/** The one place that uses the clock itself. */\nexport class SystemClock implements Clock {\n  date(): Date {\n    return new Date();\n  }\n\n  now(): number {\n    return Date.now();\n  }\n}\n"
    })
  })

  test('the class is free of it afterwards, and a second class shares what is there', () => {
    const { survey, writer } = readProject({ ...files, 'src/desk/bell.ts': 'export class Bell {\n  rung = 0;\n\n  ring(): void {\n    if (this.rung > 3) return;\n    this.rung = Date.now();\n    setTimeout(() => { this.rung = 0; }, 50);\n  }\n}\n' })
    const first = planStep('wrap-library:src/desk/desk.ts#Desk:runtime.clock', {}, survey, writer)
    expect(first.refused).toBe(false)
    const between = measureProject(writer.current.facts)
    const second = planStep('wrap-library:src/desk/bell.ts#Bell:runtime.clock', {}, between, writer)
    if (second.refused) throw new Error(second.message)
    // The interface has all that the second needs.
    expect(second.changes.map(change => change.path)).toEqual(['src/desk/bell.ts'])
    expect(second.changes[0]!.after).toContain('constructor(private readonly clock: Clock) {}')
    const third = planStep('wrap-library:src/desk/desk.ts#Desk:runtime.randomness', {}, measureProject(writer.current.facts), writer)
    expect(third.refused).toBe(false)
    const after = measureProject(writer.current.facts)
    const verdict = (id: string) => after.verdicts[after.model.typeIndex.get(id)!]
    expect([verdict('src/desk/desk.ts#Desk'), verdict('src/desk/bell.ts#Bell')]).toEqual(['alone', 'needs-outside'])
    expect(offersOf(after, writer, 'src/desk/desk.ts#Desk').map(one => one.remedy)).not.toContain('wrap-library')
    // What stands in front of the outside is where it belongs.
    expect(offersOf(after, writer, 'src/desk/outside/system-clock.ts#SystemClock').map(one => one.remedy)).not.toContain('wrap-library')
    expect(planStep('wrap-library:src/desk/desk.ts#Desk:runtime.clock', {}, after, writer)).toMatchObject({ refused: true, reason: 'done' })
  })

  test('an interface made for another class gains the calls that are missing', () => {
    const { survey, writer } = readProject({ 'a.ts': 'export class A {\n  go(): number {\n    return Date.now() + 1\n  }\n}\n', 'b.ts': 'export class B {\n  go(): string {\n    return `${new Date().getTime()} ${Date.now()}`\n  }\n}\n' })
    planStep('wrap-library:a.ts#A:runtime.clock', {}, survey, writer)
    const step = planStep('wrap-library:b.ts#B:runtime.clock', {}, measureProject(writer.current.facts), writer)
    if (step.refused) throw new Error(step.message)
    const after = Object.fromEntries(step.changes.map(change => [change.path, change.after]))
    expect(after['outside/clock.ts']).toBe('/** What the project uses of the clock. */\nexport interface Clock {\n  now(): number\n  date(): Date\n}\n')
    expect(after['outside/system-clock.ts']).toContain('  now(): number {\n    return Date.now()\n  }\n\n  date(): Date {\n    return new Date()\n  }\n}\n')
    expect(after['b.ts']).toContain('`${this.clock.date().getTime()} ${this.clock.now()}`')
  })

  test('literals become part of the implementation, what is worked out is handed over, and a library is imported there alone', () => {
    const library = "export declare function write(path: string, text: string, options: { force: boolean }): void\nexport declare function find(path: string, how: 'all' | 'one'): string[]\nexport declare class Frame { constructor(channel: number); append(name: string, value: string | number): Frame; send(): Promise<number> }\nexport declare function info(path: string): Info\nexport interface Info { readonly size: number; readonly again: Info }\n"
    const keeper = "import { Frame, find, info, write as put } from 'kit'\nexport class Keeper {\n  constructor(readonly folder: string) {}\n  keep(name: string): Promise<number> {\n    put(this.folder + name, find(name, 'all').join(), { force: true })\n    return new Frame(5).append('name', name).append('folder', this.folder).send()\n  }\n  size(): number {\n    return info(this.folder).size\n  }\n}\n"
    const changed = texts(apply({ 'node_modules/kit/index.d.ts': library, 'node_modules/kit/package.json': '{ "name": "kit", "types": "index.d.ts" }', 'src/keeper.ts': keeper, 'src/main.ts': "import { Keeper } from './keeper'\nexport const one = new Keeper('a')\n" }, 'wrap-library:src/keeper.ts#Keeper:kit'))
    expect(changed['src/outside/direct-kit.ts']).toBe("import { Frame, find, info, write } from 'kit'\nimport { Kit } from './kit'\n\n/** The one place that uses kit itself. */\nexport class DirectKit implements Kit {\n" +
      '  put(path: string, text: string): void {\n    write(path, text, { force: true })\n  }\n\n  find(path: string): string[] {\n    return find(path, \'all\')\n  }\n\n' +
      "  send(name: string, folder: string): Promise<number> {\n    return new Frame(5).append('name', name).append('folder', folder).send()\n  }\n\n  infoSize(path: string): number {\n    return info(path).size\n  }\n}\n")
    expect(changed['src/keeper.ts']).toBe("import { Kit } from './outside/kit'\nexport class Keeper {\n  constructor(readonly folder: string, private readonly kit: Kit) {}\n  keep(name: string): Promise<number> {\n    this.kit.put(this.folder + name, this.kit.find(name).join())\n    return this.kit.send(name, this.folder)\n  }\n  size(): number {\n    return this.kit.infoSize(this.folder)\n  }\n}\n")
  })

  test.each([
    ['a static member', 'static go(): number { return Date.now() }'],
    ['the initialiser of a field', 'made = Date.now()'],
    ['a function with a this of its own', 'go(): unknown { return { at(): number { return Date.now() } } }'],
    ['a function handed on', 'go(): unknown { return [1].map(Date.now) }'],
    ['a value of the library', 'go(): unknown { const it = performance; return it }']
  ])('%s is not offered', (_, member) => {
    const { survey, writer } = readProject({ 'a.ts': `export class A { ${member} }\n` })
    expect(offersOf(survey, writer, 'a.ts#A').filter(one => one.remedy === 'wrap-library')).toEqual([])
  })

  test('what is only set stays, and what is asked for beside it is handed in', () => {
    const node = 'interface ProcessEnv { [name: string]: string | undefined }\ndeclare const process: { env: ProcessEnv }\n'
    const { survey, writer } = readProject({ 'node_modules/@types/node/index.d.ts': node, 'node_modules/@types/node/package.json': '{ "name": "@types/node", "types": "index.d.ts" }', 'tsconfig.json': '{ "compilerOptions": { "types": ["node"] } }', 'a.ts': "export class A {\n  go(): string {\n    process.env['MAX_AGE'] = '3'\n    return process.env['MAX_AGE'] ?? 'none'\n  }\n}\n" })
    const step = planStep('wrap-library:a.ts#A:runtime.environment', {}, survey, writer)
    if (step.refused) throw new Error(step.message)
    const after = Object.fromEntries(step.changes.map(change => [change.path, change.after]))
    expect(after['a.ts']).toContain("    process.env['MAX_AGE'] = '3'\n    return this.surroundings.maxAge() ?? 'none'\n")
    expect(after['outside/surroundings.ts']).toContain('  maxAge(): string | undefined\n')
    expect(step.notes).toContain('a.ts:3 stays as it is: it is set, not asked for.')
  })

  test('what stays is told, and what would be worked out in another order stays', () => {
    const { survey, writer } = readProject({ 'a.ts': 'export class A {\n  at = Date.now()\n  go(): number { return Date.now() }\n}\n' })
    expect(planStep('wrap-library:a.ts#A:runtime.clock', {}, survey, writer)).toMatchObject({ refused: false, notes: [expect.stringContaining('SystemClock'), 'a.ts:2 stays as it is: it is in the initialiser of a field, which runs before anything could be handed in.'] })
    const kit = "export declare class Frame { append(value: number): Frame; send(): void }\n"
    const ordered = readProject({ 'node_modules/kit/index.d.ts': kit, 'node_modules/kit/package.json': '{ "name": "kit", "types": "index.d.ts" }', 'a.ts': "import { Frame } from 'kit'\nexport class A {\n  n = 0\n  next(): number { return this.n++ }\n  go(): void { new Frame().append(this.next()).send() }\n}\n" })
    expect(offersOf(ordered.survey, ordered.writer, 'a.ts#A').filter(one => one.remedy === 'wrap-library')).toEqual([])
  })

  test('a default keeps creation sites as they are; a constructor before super hands on the parameter itself', () => {
    const changed = texts(apply({ 'a.ts': 'export class Base { constructor(readonly at: number) {} }\nexport class A extends Base {\n  constructor() {\n    super(Date.now())\n  }\n}\nexport const one = new A()\n' }, 'wrap-library:a.ts#A:runtime.clock', { default: 'yes' }))
    expect(changed['a.ts']).toContain('  constructor(private readonly clock: Clock = new SystemClock()) {\n    super(clock.now())\n  }')
    expect(changed['a.ts']).toContain('export const one = new A()\n')
  })

  test('names are chosen, and one that something else has is refused', () => {
    const changed = texts(apply(files, 'wrap-library:src/desk/desk.ts#Desk:runtime.clock', { name: 'TimeSource', implementation: 'WallTime', folder: 'src/time' }))
    expect(Object.keys(changed).sort()).toEqual(['src/desk/desk.ts', 'src/desk/office.ts', 'src/time/time-source.ts', 'src/time/wall-time.ts'])
    expect(apply(files, 'wrap-library:src/desk/desk.ts#Desk:runtime.clock', { folder: '../away' })).toMatchObject({ reason: 'folder' })
    expect(apply(files, 'wrap-library:src/desk/desk.ts#Desk:runtime.clock', { name: '1st' })).toMatchObject({ reason: 'name' })
    expect(apply({ ...files, 'src/desk/outside/clock.ts': 'export const clock = 1\n' }, 'wrap-library:src/desk/desk.ts#Desk:runtime.clock')).toMatchObject({ reason: 'file-exists' })
  })

  describe('an object of a library that a class holds', () => {
    const KIT: Files = {
      'node_modules/kit/package.json': '{ "name": "kit", "types": "index.d.ts" }',
      'node_modules/kit/index.d.ts': "export declare class Frame { constructor(channel: number); append(name: string, value: string | number): Frame }\nexport declare class Mast { constructor(host: string, port: number); send(frame: Frame): Promise<void>; readonly busy: boolean; find(name: string): { readonly size: number; again(): Frame }; frame(): Frame }\n"
    }
    const motor = (field: string, body: string, constructor = '') => `import { Frame, Mast } from 'kit'\n\nexport class Motor {\n  // To the tower.\n  ${field}\n${constructor}\n  async move(to: number): Promise<void> {\n    ${body}\n  }\n}\n`
    const MAIN = "import { Motor } from './motor'\n\nexport const motor = new Motor()\n"
    const wrapped = (text: string, main = MAIN, id = 'mast', choices = {}) => texts(apply({ ...KIT, 'src/motor.ts': text, 'src/main.ts': main }, `wrap-library:src/motor.ts#Motor:held:kit:${id}`, choices))

    test('is held by the implementation, which the class is handed', () => {
      const changed = wrapped(motor("private readonly mast = new Mast('north', 4410)", "if (!this.mast.busy) await this.mast.send(new Frame(3).append('to', to))\n    return void this.mast.find('x').size"))
      expect(changed['src/motor.ts']).toBe(`import { MotorMast } from './outside/motor-mast'

export class Motor {
  // To the tower.
  private readonly mast: MotorMast

  constructor(mast: MotorMast) {
    this.mast = mast
  }

  async move(to: number): Promise<void> {
    if (!this.mast.busy()) await this.mast.send(to)
    return void this.mast.findSize()
  }
}
`)
      expect(changed['src/main.ts']).toBe("import { Motor } from './motor'\nimport { DirectMotorMast } from './outside/direct-motor-mast'\n\nexport const motor = new Motor(new DirectMotorMast())\n")
      expect(changed['src/outside/motor-mast.ts']).toBe('/** What the project uses of kit. */\nexport interface MotorMast {\n  busy(): boolean\n  send(to: number): Promise<void>\n  findSize(): number\n}\n')
      expect(changed['src/outside/direct-motor-mast.ts']).toContain("  private readonly mast = new Mast('north', 4410)\n")
      expect(changed['src/outside/direct-motor-mast.ts']).toContain("  send(to: number): Promise<void> {\n    return this.mast.send(new Frame(3).append('to', to))\n  }\n")
    })

    test('is made by the implementation where it was made, of what only the class knows', () => {
      const changed = wrapped(motor('private mast: Mast', "await this.mast.send(new Frame(3).append('to', to))", '\n  constructor(private readonly lock: number, host: string) {\n    this.mast = new Mast(host, lock)\n  }\n'), MAIN.replace('new Motor()', "new Motor(1, 'north')"))
      expect(changed['src/motor.ts']).toContain('  private mast: MotorMast\n\n  constructor(private readonly lock: number, host: string) {\n    this.mast = new DirectMotorMast(host, lock)\n  }\n')
      expect(changed['src/main.ts']).toBeUndefined()
      expect(changed['src/outside/direct-motor-mast.ts']).toContain('  private readonly mast: Mast\n')
      expect(changed['src/outside/direct-motor-mast.ts']).toContain('  constructor(host: string, port: number) {\n    this.mast = new Mast(host, port)\n  }\n')
    })

    test.each([
      ['is handed on', 'await Promise.resolve(this.mast)', 'handed on'],
      ['gives what is the library\'s', 'await this.mast.send(this.mast.frame())', 'type']
    ])('stays where it %s, and says so', (_, body) => {
      const files = { ...KIT, 'src/motor.ts': motor("private readonly mast = new Mast('north', 4410)", body), 'src/main.ts': MAIN }
      const { survey, writer } = readProject(files)
      expect(offersOf(survey, writer, 'src/motor.ts#Motor').map(one => one.id)).not.toContain('wrap-library:src/motor.ts#Motor:held:kit:mast')
      expect(apply(files, 'wrap-library:src/motor.ts#Motor:held:kit:mast')).toMatchObject({ reason: 'stays', message: expect.stringMatching(/^It cannot be put behind an interface: src\/motor\.ts:\d+, /) as string })
    })

    test('what another field asks of at once is made in place; done twice is refused', () => {
      const changed = wrapped(motor("private readonly mast = new Mast('north', 4410)\n  private readonly first = this.ask()", 'void (to + Number(this.first))', '\n  private ask(): boolean { return this.mast.busy }\n'))
      expect(changed['src/motor.ts']).toContain('  private readonly mast: MotorMast = new DirectMotorMast()\n')
      const files = { ...KIT, 'src/motor.ts': motor("private readonly mast = new Mast('north', 4410)", "await this.mast.send(new Frame(3).append('to', to))"), 'src/main.ts': MAIN }
      expect(apply({ ...files, ...wrapped(files['src/motor.ts']) }, 'wrap-library:src/motor.ts#Motor:held:kit:mast')).toMatchObject({ reason: 'done' })
    })
  })
})

describe('in Java', () => {
  const DESK_JAVA = `package boats.desk;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;

public class Desk {
    private final Path folder;

    public Desk(Path folder) {
        this.folder = folder;
    }

    public String keep(String text) throws IOException {
        Files.writeString(folder.resolve("desk"), text, StandardCharsets.UTF_8);
        return LocalDate.now() + text;
    }

    public int size() {
        try {
            return Files.readAllLines(folder).size();
        } catch (IOException e) {
            return Files.exists(folder) ? 0 : -1;
        }
    }

    public boolean late(long by) {
        return System.currentTimeMillis() > by;
    }
}
`
  const sources = { 'src/boats/desk/Desk.java': DESK_JAVA, 'src/boats/Office.java': 'package boats;\n\nimport boats.desk.Desk;\nimport java.nio.file.Path;\n\nclass Office {\n    final Desk desk = new Desk(Path.of("a"));\n}\n' }

  test('files go behind an interface that says what may be thrown; constants become part of the implementation', () => {
    const changed = applyJava(sources, 'wrap-library:boats.desk.Desk:jdk.file-system') as Record<string, string>
    expect(changed['src/boats/outside/Storage.java']).toBe('package boats.outside;\n\nimport java.io.IOException;\nimport java.nio.file.Path;\nimport java.util.List;\n\n/** What the project uses of the file system. */\npublic interface Storage {\n' +
      '    Path writeString(Path path, CharSequence text) throws IOException;\n    List<String> readAllLines(Path path) throws IOException;\n    boolean exists(Path path);\n}\n')
    expect(changed['src/boats/outside/DiskStorage.java']).toContain('    @Override\n    public Path writeString(Path path, CharSequence text) throws IOException {\n        return Files.writeString(path, text, StandardCharsets.UTF_8);\n    }\n')
    expect(changed['src/boats/desk/Desk.java']).toBe(DESK_JAVA.replace('import java.nio.file.Files;\n', '').replace('import java.nio.charset.StandardCharsets;\n', '').replace('import java.io.IOException;\n', 'import boats.outside.Storage;\nimport java.io.IOException;\n')
      .replace('private final Path folder;\n', 'private final Path folder;\n    private final Storage storage;\n').replace('Desk(Path folder) {\n', 'Desk(Path folder, Storage storage) {\n        this.storage = storage;\n')
      .replace('Files.writeString(folder.resolve("desk"), text, StandardCharsets.UTF_8)', 'storage.writeString(folder.resolve("desk"), text)').replace('Files.readAllLines', 'storage.readAllLines').replace('Files.exists', 'storage.exists'))
    expect(changed['src/boats/Office.java']).toContain('new Desk(Path.of("a"), new DiskStorage())')
  })

  test('a second class shares what is there and adds what is missing; the first is free of it afterwards', () => {
    const { language, state, survey } = readJava({ ...sources, 'src/boats/Bell.java': 'package boats;\n\npublic class Bell {\n    public long ring() {\n        return System.currentTimeMillis() + System.nanoTime();\n    }\n}\n' })
    const writer = language.writer(state)
    const first = planStep('wrap-library:boats.desk.Desk:jdk.clock', {}, survey, writer)
    if (first.refused) throw new Error(first.message)
    const second = planStep('wrap-library:boats.Bell:jdk.clock', {}, measureProject(writer.current.facts), writer)
    if (second.refused) throw new Error(second.message)
    const after = Object.fromEntries(second.changes.map(change => [change.path, change.after]))
    expect(after['src/boats/outside/Clock.java']).toContain('    LocalDate now();\n    long currentTimeMillis();\n    long nanoTime();\n}\n')
    expect(after['src/boats/outside/SystemClock.java']).toContain('    @Override\n    public long nanoTime() {\n        return System.nanoTime();\n    }\n}\n')
    expect(after['src/boats/Bell.java']).toContain('return clock.currentTimeMillis() + clock.nanoTime();')
    const now = measureProject(writer.current.facts)
    expect(now.verdicts[now.model.typeIndex.get('boats.Bell')!]).not.toBe('needs-outside')
    expect(planStep('wrap-library:boats.Bell:jdk.clock', {}, now, writer)).toMatchObject({ refused: true, reason: 'done' })
  })

  test.each([
    ['a static method', 'static long go() { return System.nanoTime(); }'],
    ['an initialiser', 'final long made = System.nanoTime();'],
    ['a class within', 'Object go() { return new Object() { long at() { return System.nanoTime(); } }; }'],
    ['what is held', 'long go(java.util.Timer timer) { timer.cancel(); return 1; }'],
    ['a lambda that may throw', 'java.util.concurrent.Callable<String> go(java.nio.file.Path path) { return () -> java.nio.file.Files.readString(path); }']
  ])('%s is not offered', (_, member) => {
    const { language, state, survey } = readJava({ 'A.java': `public class A { ${member} }\n` })
    expect(offersOf(survey, language.writer(state), 'A').filter(one => one.remedy === 'wrap-library')).toEqual([])
  })

  test('uses of one method that differ in literals are one call, to which those are handed; the environment is asked by name', () => {
    const applied = applyJava({ 'a/Bell.java': 'package a;\n\npublic class Bell {\n    public void ring(String name) {\n        System.out.println("ring");\n        System.out.println(name);\n        System.out.println("rung");\n        System.out.printf("%s %s", name, 3);\n        String tower = System.getenv("TOWER");\n        String rope = System.getenv("ROPE");\n    }\n}\n' }, 'wrap-library:a.Bell:jdk.console') as Record<string, string>
    expect(applied['a/outside/Terminal.java']).toContain('{\n    void println(String text);\n')
    expect(applied['a/outside/Terminal.java']!.match(/println/g)).toHaveLength(1)
    expect(applied['a/Bell.java']).toContain('        terminal.println("ring");\n        terminal.println(name);\n        terminal.println("rung");\n')
    const environment = applyJava({ 'a/Bell.java': 'package a;\n\npublic class Bell {\n    public String ring() {\n        return System.getenv("TOWER") + System.getenv("ROPE");\n    }\n}\n' }, 'wrap-library:a.Bell:jdk.environment') as Record<string, string>
    expect(environment['a/Bell.java']).toContain('return surroundings.tower() + surroundings.rope();')
  })

  test('a name or package that cannot be is refused', () => {
    expect(applyJava(sources, 'wrap-library:boats.desk.Desk:jdk.clock', { folder: '../away' })).toMatchObject({ reason: 'folder' })
    expect(applyJava(sources, 'wrap-library:boats.desk.Desk:jdk.clock', { name: 'class' })).toMatchObject({ reason: 'name' })
    expect(Object.keys(applyJava(sources, 'wrap-library:boats.desk.Desk:jdk.clock', { name: 'Time', implementation: 'Wall', folder: 'boats.time' }))).toEqual(expect.arrayContaining(['src/boats/time/Time.java', 'src/boats/time/Wall.java']))
  })

  test('an object of a library that a class holds is held by the implementation, asked as the library has it', () => {
    const files = {
      'boats/desk/Gauge.java': 'package boats.desk;\n\nimport java.io.File;\nimport java.io.IOException;\nimport java.io.RandomAccessFile;\n\npublic class Gauge {\n    /** Where the levels are. */\n    private final RandomAccessFile levels;\n    private final java.util.Timer wakes = new java.util.Timer("gauge");\n\n    public Gauge(File file) throws IOException {\n        this.levels = new RandomAccessFile(file, "r");\n    }\n\n    public int level(int lock) throws IOException {\n        levels.seek(0);\n        this.levels.seek(lock * 4L);\n        return levels.readInt() + wakes.purge();\n    }\n}\n',
      'boats/Office.java': 'package boats;\n\nimport boats.desk.Gauge;\nimport java.io.File;\nimport java.io.IOException;\n\nclass Office {\n    Gauge gauge() throws IOException { return new Gauge(new File("levels")); }\n}\n'
    }
    const inPlace = applyJava(files, 'wrap-library:boats.desk.Gauge:held:java.io:levels') as Record<string, string>
    expect(inPlace['boats/desk/Gauge.java']).toContain('    private final Levels levels;\n')
    expect(inPlace['boats/desk/Gauge.java']).toContain('        this.levels = new DirectLevels(file, "r");\n'.replace(', "r"', ''))
    expect(inPlace['boats/outside/Levels.java']).toContain('public interface Levels {\n    void seek(long value) throws IOException;\n    int readInt() throws IOException;\n}\n')
    expect(inPlace['boats/outside/DirectLevels.java']).toMatch(/private final RandomAccessFile levels;\n\n {4}public DirectLevels\(File file\) throws \w+ \{\n {8}this\.levels = new RandomAccessFile\(file, "r"\);\n {4}\}\n\n {4}@Override\n {4}public void seek\(long value\) throws IOException \{\n {8}levels\.seek\(value\);\n/)
    const handed = applyJava(files, 'wrap-library:boats.desk.Gauge:held:java.util:wakes') as Record<string, string>
    expect(handed).not.toHaveProperty('reason')
    expect(handed['boats/desk/Gauge.java']).toContain('    private final Wakes wakes;\n\n    public Gauge(File file, Wakes wakes) throws IOException {\n        this.wakes = wakes;\n')
    expect(handed['boats/Office.java']).toContain('new Gauge(new File("levels"), new DirectWakes())')
    expect(handed['boats/outside/DirectWakes.java']).toContain('    private final Timer wakes = new Timer("gauge");\n\n    @Override\n    public int purge() throws IOException {\n        return wakes.purge();\n    }\n')
    const passedOn = { ...files, 'boats/desk/Gauge.java': files['boats/desk/Gauge.java'].replace('levels.seek(0);', 'System.out.println(levels);') }
    expect(applyJava(passedOn, 'wrap-library:boats.desk.Gauge:held:java.io:levels')).toMatchObject({ reason: 'stays', message: 'It cannot be put behind an interface: boats/desk/Gauge.java:17, it is handed on.' })
  })
})

test('what is said of names is true of a held object too: nothing made for another class is extended', () => {
  const { survey, writer } = readProject(files)
  const help = (detail: string) => choicesOf(`wrap-library:src/desk/desk.ts#Desk:${detail}`, survey, writer)!.find(one => one.name === 'name')!.help
  expect(help('runtime.clock')).toContain('One that was made for another class is extended.')
  expect(help('held:kit:mast')).not.toContain('extended')
})
