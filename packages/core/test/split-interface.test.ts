import { applyJava } from './applying.js'
import { planStep } from '@hollowmoor/core/remedy/catalogue'
import type { Choices } from '@hollowmoor/core/remedy/remedy'
import { measureProject } from '@hollowmoor/core/survey'
import type { Files as JavaFiles } from './java.js'
import { readJava } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

function split(files: Files, type: string, choices: Choices = {}) {
  const { survey, writer } = readProject(files)
  const outcome = planStep(`split-interface:${type}`, choices, survey, writer)
  return outcome.refused ? { reason: outcome.reason } : { notes: outcome.notes, texts: Object.fromEntries(outcome.changes.map(change => [change.path, change.after])) as Record<string, string> }
}
function splitJava(files: JavaFiles, type: string, choices: Choices = {}) {
  const { language, state } = readJava(files)
  const outcome = planStep(`split-interface:${type}`, choices, measureProject(state.facts), language.writer(state))
  return outcome.refused ? { reason: outcome.reason, message: outcome.message } : { notes: outcome.notes, texts: Object.fromEntries(outcome.changes.map(change => [change.path, change.after])) as Record<string, string> }
}

const CRAFT = `/** What floats. */
export interface Craft {
  /** What is painted on it. */
  name(): string
  length(): number

  start(): void
  stop(): void
}
`
const OFFICE = "import { Craft } from './craft'\n\nexport class Register {\n  list(craft: Craft): string { return `${craft.name()} ${craft.length()}` }\n}\n\nexport class Harbour {\n  constructor(private readonly craft: Craft) {}\n  go(): void { this.craft.start(); this.craft.stop() }\n}\n"

describe('splitting an interface in TypeScript', () => {
  test('its clients\' groups become roles, and their uses are narrowed to them', () => {
    expect(split({ 'craft.ts': CRAFT, 'office.ts': OFFICE }, 'craft.ts#Craft')).toEqual({
      notes: ['CraftName has name, length; 1 use of Craft as a type becomes it.', 'CraftStart has start, stop; 1 use of Craft as a type becomes it.'],
      texts: {
        'craft.ts': 'export interface CraftName {\n  /** What is painted on it. */\n  name(): string\n  length(): number\n}\n\nexport interface CraftStart {\n  start(): void\n  stop(): void\n}\n\n/** What floats. */\nexport interface Craft extends CraftName, CraftStart {}\n',
        'office.ts': OFFICE.replace("import { Craft }", 'import { CraftName, CraftStart }').replace('craft: Craft)', 'craft: CraftName)').replace('craft: Craft)', 'craft: CraftStart)')
      }
    })
  })

  test('an implementation loses what it cannot do, where nobody needs it', () => {
    const outcome = split({
      'craft.ts': CRAFT, 'office.ts': OFFICE,
      'flat.ts': "import { Craft } from './craft'\n\nexport class Flat implements Craft {\n  name(): string { return 'flat' }\n  length(): number { return 3 }\n\n  start(): void {}\n  stop(): void { throw new Error('no engine') }\n}\n",
      'main.ts': "import { Flat } from './flat'\nimport { Register } from './office'\nnew Register().list(new Flat())\n"
    }, 'craft.ts#Craft')
    expect(outcome.texts?.['flat.ts']).toBe("import { CraftName } from './craft'\n\nexport class Flat implements CraftName {\n  name(): string { return 'flat' }\n  length(): number { return 3 }\n}\n")
    expect(outcome.notes).toContain('Flat keeps CraftName and no longer answers start, stop.')
  })

  test('and keeps it where all of the interface is wanted', () => {
    const outcome = split({
      'craft.ts': CRAFT, 'office.ts': OFFICE,
      'flat.ts': "import { Craft } from './craft'\nexport class Flat implements Craft {\n  name(): string { return 'flat' }\n  length(): number { return 3 }\n  start(): void {}\n  stop(): void {}\n}\n",
      'main.ts': "import { Flat } from './flat'\nimport { Harbour } from './office'\nnew Harbour(new Flat()).go()\n"
    }, 'craft.ts#Craft')
    expect(outcome.texts?.['flat.ts']).toBeUndefined()
    expect(outcome.notes).toContain('Flat still answers what it cannot do: it is used where all of Craft is wanted.')
  })

  test('members in no role stay, and type parameters go with the members that speak of them', () => {
    const outcome = split({
      'box.ts': 'export interface Box<T, K extends T[]> {\n  get(): T;\n  size: number;\n  all(): K;\n}\n', 'use.ts': "import { Box } from './box'\nexport const a = (box: Box<string, string[]>) => box.get()\nexport const b = (box: Box<string, string[]>) => box.size\n"
    }, 'box.ts#Box', { roles: 'Getting: get; Sized: size' })
    expect(outcome.texts?.['box.ts']).toBe('export interface Getting<T> {\n  get(): T;\n}\n\nexport interface Sized {\n  size: number;\n}\n\nexport interface Box<T, K extends T[]> extends Getting<T>, Sized {\n  all(): K;\n}\n')
    expect(outcome.texts?.['use.ts']).toBeUndefined()
  })

  test.each([
    ['a member that is none', 'member', { roles: 'A: fly' }], ['a member twice', 'roles', { roles: 'A: name; B: name' }], ['a name that is taken', 'name-taken', { roles: 'Craft: name' }],
    ['text that lists no roles', 'roles', { roles: 'name length' }], ['a name that cannot be one', 'name', { roles: '3: name' }]
  ])('refuses %s', (_, reason, choices) => { expect(split({ 'craft.ts': CRAFT, 'office.ts': OFFICE }, 'craft.ts#Craft', choices)).toEqual({ reason }) })
})

test('what an interface says again of its parents is not divided', () => {
  const files = { 'craft.ts': "interface Named { name: string | number }\nexport interface Craft extends Named { name: string; moor(): void; tow(): void }\n" }
  expect(readProject(files).writer.dividedMembers('craft.ts#Craft')).toEqual(['moor', 'tow'])
})

describe('splitting an interface in Java', () => {
  const craft = 'package a;\n\nimport java.util.List;\n\n/** What floats. */\npublic interface Craft {\n    /** What is painted on it. */\n    String name();\n\n    List<String> papers();\n\n    void start();\n\n    void stop();\n}\n'
  const register = 'package b;\n\nimport a.Craft;\n\npublic class Register {\n    String list(Craft craft) { return craft.name() + craft.papers(); }\n}\n'
  const harbour = 'package b;\n\nimport a.Craft;\n\npublic class Harbour {\n    private final Craft craft;\n    Harbour(Craft craft) { this.craft = craft; }\n    void go() { craft.start(); craft.stop(); }\n}\n'
  const flat = 'package b;\n\nimport a.Craft;\nimport java.util.List;\n\npublic class Flat implements Craft {\n    @Override\n    public String name() { return "flat"; }\n\n    @Override\n    public List<String> papers() { return List.of(); }\n\n    @Override\n    public void start() { }\n\n    @Override\n    public void stop() { throw new UnsupportedOperationException(); }\n}\n'
  const main = 'package b;\n\nclass Main {\n    String all() { return new Register().list(new Flat()); }\n}\n'

  test('roles stand in files of their own, uses are narrowed, and an implementation keeps what it can honour', () => {
    const outcome = splitJava({ 'a/Craft.java': craft, 'b/Register.java': register, 'b/Harbour.java': harbour, 'b/Flat.java': flat, 'b/Main.java': main }, 'a.Craft')
    expect(outcome).toMatchObject({
      texts: {
        'a/Craft.java': 'package a;\n\n/** What floats. */\npublic interface Craft extends CraftName, CraftStart {\n}\n',
        'a/CraftName.java': 'package a;\n\nimport java.util.List;\n\npublic interface CraftName {\n    /** What is painted on it. */\n    String name();\n\n    List<String> papers();\n}\n',
        'a/CraftStart.java': 'package a;\n\npublic interface CraftStart {\n    void start();\n\n    void stop();\n}\n',
        'b/Register.java': register.replaceAll('Craft', 'CraftName'),
        'b/Flat.java': 'package b;\n\nimport a.CraftName;\nimport java.util.List;\n\npublic class Flat implements CraftName {\n    @Override\n    public String name() { return "flat"; }\n\n    @Override\n    public List<String> papers() { return List.of(); }\n}\n'
      }
    })
    expect(outcome.texts?.['b/Harbour.java']).toContain('private final CraftStart craft;')
  })

  test('type parameters go with the methods that speak of them', () => {
    const outcome = splitJava({ 'a/Box.java': 'package a;\n\ninterface Box<T, K extends Comparable<K>> {\n    T get();\n    int size();\n    K key();\n}\n', 'a/Use.java': 'package a;\n\nclass Use {\n    int size(Box<String, String> box) { return box.size(); }\n    String get(Box<String, String> box) { return box.get(); }\n}\n' }, 'a.Box', { roles: 'Getting: get; Sized: size' })
    expect(outcome.texts?.['a/Box.java']).toBe('package a;\n\ninterface Box<T, K extends Comparable<K>> extends Getting<T>, Sized {\n    K key();\n}\n')
    expect(outcome.texts?.['a/Getting.java']).toBe('package a;\n\ninterface Getting<T> {\n    T get();\n}\n')
  })

  test.each([
    ['a name beside it', 'file-exists', { roles: 'Register: name' }], ['a reserved word', 'name', { roles: 'class: name' }], ['a member that is none', 'member', { roles: 'A: fly' }]
  ])('refuses %s', (_, reason, choices) => { expect(splitJava({ 'a/Craft.java': craft, 'a/Register.java': 'package a;\n\nclass Register { }\n' }, 'a.Craft', choices)).toMatchObject({ reason }) })
})

describe('what a role of a generic interface is', () => {
  const uses = (body: string) => `package a;\n\nclass Use {\n    int all(Shelf<?, ?> shelf) { return shelf.size(); }\n    boolean more(Shelf<?, ?> shelf) { return shelf.size() > 3; }\n    <K, V> V one(Shelf<K, V> shelf, K key) { return shelf.get(key); }\n    <K, V> V two(Shelf<K, V> shelf, K key) { ${body} }\n}\n`
  const shelf = (above: string, mark: string) => `package a;\n\npublic interface Shelf<K, V>${above} {\n    ${mark}int size();\n    V get(K key);\n}\n`

  test('a role without type parameters is not used with arguments', () => {
    const outcome = splitJava({ 'a/Shelf.java': shelf('', ''), 'a/Use.java': uses('return shelf.get(key);') }, 'a.Shelf', { roles: 'ShelfSize: size; ShelfGet: get' })
    const use = 'texts' in outcome ? outcome.texts?.['a/Use.java'] ?? uses('return shelf.get(key);') : ''
    // The role has no parameters of its own: with arguments it would not compile.
    expect(use).not.toMatch(/ShelfSize<\?, \?>/)
  })

  test('a role that would say that it overrides, and overrides nothing, is refused', () => {
    const files = { 'a/Sized.java': 'package a;\n\ninterface Sized { int size(); }\n', 'a/Shelf.java': shelf(' extends Sized', '@Override '), 'a/Use.java': uses('return shelf.get(key);') }
    const outcome = splitJava(files, 'a.Shelf')
    const made = 'texts' in outcome ? Object.entries(outcome.texts ?? {}).filter(([path]) => path.startsWith('a/Shelf') && path !== 'a/Shelf.java').map(([, text]) => text) : []
    expect(made.every(text => !text.includes('@Override') || text.includes('extends Sized'))).toBe(true)
  })
})

test('in Java a method that overrides another goes on speaking of the same type arguments', () => {
  const files = {
    'a/Shape.java': 'package a;\n\npublic interface Shape {\n    String name();\n\n    void draw();\n}\n',
    'a/Action.java': 'package a;\n\nimport java.util.Collection;\n\nabstract class Action {\n    abstract Collection<Shape> objects();\n\n    abstract void take(Collection<Shape> all);\n}\n',
    'a/Move.java': 'package a;\n\nimport java.util.Collection;\nimport java.util.Collections;\n\nclass Move extends Action {\n    private Shape one;\n\n    @Override\n    Collection<Shape> objects() { return Collections.singleton(one); }\n\n    @Override\n    void take(Collection<Shape> all) { for (Shape each : all) told(each); }\n\n    String told(Shape each) { return each.name(); }\n}\n',
    'a/Canvas.java': 'package a;\n\nclass Canvas {\n    void paint(Action action) { for (Shape each : action.objects()) each.draw(); }\n}\n'
  }
  const applied = applyJava(files, 'split-interface:a.Shape', { roles: 'Named: name; Drawn: draw' }) as Record<string, string>
  const texts = { ...files, ...applied }
  const said = (path: keyof typeof files) => [...texts[path].matchAll(/Collection<(\w+)> (objects|all)/g)].map(match => `${match[2]} ${match[1]}`)
  expect(said('a/Move.java')).toEqual(said('a/Action.java'))
  expect(applied['a/Move.java']).toContain('String told(Named each)')
})
