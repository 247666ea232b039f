import type { Files } from './java.js'
import { javaLanguage, javaSource } from './java.js'

function move(files: Files, type: string, module: string) {
  const language = javaLanguage()
  return language.writer(language.read(javaSource(files))).moveType({ type, member: null, module })
}
function texts(files: Files, type: string, module: string): Record<string, string | null> {
  const outcome = move(files, type, module)
  if (outcome.refused) throw new Error(`${outcome.reason}: ${outcome.message}`)
  return Object.fromEntries(outcome.changes.map(change => [change.path, change.after]))
}
const src = (path: string) => `src/main/java/${path}.java`

describe('moving a class in Java', () => {
  test('its file goes to the package\'s folder, neighbours are imported, users import it from there', () => {
    expect(texts({
      [src('a/Level')]: 'package a;\n\nimport b.Reach;\n\n/** How high it stands. */\npublic class Level {\n    private final Depth depth = new Depth();\n    public boolean low(Reach reach) { return depth.metres() < reach.floor(); }\n}\n',
      [src('a/Depth')]: 'package a;\n\npublic class Depth {\n    public int metres() { return 1; }\n}\n',
      [src('a/Desk')]: 'package a;\n\npublic class Desk {\n    Level level = new Level();\n}\n',
      [src('b/Reach')]: 'package b;\n\nimport a.Level;\n\npublic class Reach {\n    Level level;\n    public int floor() { return 2; }\n}\n',
      [src('c/Far')]: 'package c;\n\nimport a.*;\n\npublic class Far {\n    Level level;\n    a.Level other;\n    Depth depth;\n}\n'
    }, 'a.Level', 'b')).toEqual({
      [src('b/Level')]: 'package b;\n\nimport a.Depth;\n\n/** How high it stands. */\npublic class Level {\n    private final Depth depth = new Depth();\n    public boolean low(Reach reach) { return depth.metres() < reach.floor(); }\n}\n',
      [src('a/Level')]: null,
      [src('a/Desk')]: 'package a;\n\nimport b.Level;\n\npublic class Desk {\n    Level level = new Level();\n}\n',
      [src('b/Reach')]: 'package b;\n\npublic class Reach {\n    Level level;\n    public int floor() { return 2; }\n}\n',
      [src('c/Far')]: 'package c;\n\nimport a.*;\nimport b.Level;\n\npublic class Far {\n    Level level;\n    b.Level other;\n    Depth depth;\n}\n'
    })
  })

  test('what has to be seen across becomes public, and is told', () => {
    const files = {
      [src('a/Level')]: 'package a;\n\nclass Level {\n    int metres;\n    protected void rise() { Depth.note(); }\n}\n',
      [src('a/Depth')]: 'package a;\n\npublic class Depth {\n    static void note() { }\n    int of(Level level) { level.rise(); return level.metres; }\n}\n'
    }
    const outcome = move(files, 'a.Level', 'b')
    expect(outcome.refused ? outcome.message : outcome.notes.length).toBe(4)
    expect(texts(files, 'a.Level', 'b')).toEqual({
      [src('b/Level')]: 'package b;\n\nimport a.Depth;\n\npublic class Level {\n    public int metres;\n    public void rise() { Depth.note(); }\n}\n',
      [src('a/Level')]: null,
      [src('a/Depth')]: 'package a;\n\nimport b.Level;\n\npublic class Depth {\n    public static void note() { }\n    int of(Level level) { level.rise(); return level.metres; }\n}\n'
    })
  })

  test('what was inherited within the package becomes public, where others reach it through what moved', () => {
    const outcome = texts({
      [src('a/Node')]: 'package a;\n\npublic class Node {\n    Node parent;\n}\n', [src('a/Leaf')]: 'package a;\n\npublic class Leaf extends Node {\n}\n',
      [src('a/Tree')]: 'package a;\n\npublic class Tree {\n    Object up(Leaf leaf) { return leaf.parent; }\n}\n'
    }, 'a.Leaf', 'b')
    expect(outcome[src('a/Node')]).toBe('package a;\n\npublic class Node {\n    public Node parent;\n}\n')
  })

  test('static imports and implementations follow it', () => {
    const outcome = texts({
      [src('a/Gauge')]: 'package a;\n\npublic interface Gauge {\n    int FLOOR = 1;\n    String reach();\n}\n',
      [src('a/Pole')]: 'package a;\n\nimport static a.Gauge.FLOOR;\n\npublic class Pole implements Gauge {\n    @Override\n    public String reach() { return "" + FLOOR; }\n}\n'
    }, 'a.Gauge', 'b')
    expect(outcome[src('a/Pole')]).toBe('package a;\n\nimport b.Gauge;\nimport static b.Gauge.FLOOR;\n\npublic class Pole implements Gauge {\n    @Override\n    public String reach() { return "" + FLOOR; }\n}\n')
  })

  test('unnamed classes and inner ones go along', () => {
    expect(texts({
      [src('a/Outer')]: 'package a;\n\npublic class Outer {\n    public interface Go { int go(); }\n    Go go = new Go() {\n        private int at = 1;\n        public int go() { return at++; }\n    };\n}\n', [src('a/Use')]: 'package a;\n\nclass Use {\n    int x(Outer.Go go) { return go.go(); }\n}\n'
    }, 'a.Outer', 'b')[src('a/Use')]).toBe('package a;\n\nimport b.Outer;\n\nclass Use {\n    int x(Outer.Go go) { return go.go(); }\n}\n')
  })

  test('an import that nothing uses beside a static one follows too', () => {
    const outcome = texts({
      [src('a/Gauge')]: 'package a;\n\npublic class Gauge {\n    public static int floor() { return 1; }\n}\n', [src('c/Use')]: 'package c;\n\nimport a.Gauge;\nimport static a.Gauge.floor;\n\nclass Use {\n    int x = floor();\n}\n'
    }, 'a.Gauge', 'b')
    expect(outcome[src('c/Use')]).toBe('package c;\n\nimport b.Gauge;\nimport static b.Gauge.floor;\n\nclass Use {\n    int x = floor();\n}\n')
  })

  const one = { [src('a/One')]: 'package a;\n\npublic class One { }\n' }
  const refused: [string, string, Files, string, string][] = [
    ['the package that it is in', 'done', one, 'a.One', 'a'],
    ['no package', 'module', one, 'a.One', 'a-b'],
    ['a class that is there', 'file-exists', { ...one, [src('b/One')]: 'package b;\n\npublic class One { }\n' }, 'a.One', 'b'],
    ['a file with two classes', 'nested', { [src('a/One')]: 'package a;\n\npublic class One { }\nclass Two { }\n' }, 'a.One', 'b'],
    ['a class that reflection finds by name', 'named-in-text', { ...one, [src('a/Two')]: 'package a;\n\nclass Two { String name = "a.One"; }\n' }, 'a.One', 'b'],
    ['a method that overrides what only the package sees', 'visibility', { [src('a/One')]: 'package a;\n\npublic class One extends Base { void go() { } }\n', [src('a/Base')]: 'package a;\n\npublic class Base { void go() { } }\n' }, 'a.One', 'b'],
    ['a package that the module does not export', 'module', { ...one, 'src/main/java/module-info.java': 'module m {\n    exports a;\n}\n' }, 'a.One', 'b'],
    ['a name that would mean another class there', 'does-not-compile', { [src('a/One')]: 'package a;\n\nimport c.*;\n\npublic class One { Two two; }\n', [src('b/Two')]: 'package b;\n\npublic class Two { }\n', [src('c/Two')]: 'package c;\n\npublic class Two { }\n' }, 'a.One', 'b']
  ]
  test.each(refused)('refuses %s', (_, reason, files, type, module) => {
    const outcome = move(files, type, module)
    expect(outcome.refused ? outcome.reason : outcome.changes).toBe(reason)
  })
})
