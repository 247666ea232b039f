import { apply, applyJava } from './applying.js'
import { offersOf } from '@hollowmoor/core/remedy/catalogue'
import { readJava } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

const PORT = "import { Line } from './line'\n\nexport interface Named { readonly name: string }\n\nexport interface LogPort extends Named {\n  add(line: Line, ...more: string[]): void\n  find<T extends Line>(like: T): Promise<T[]>\n  level: number\n  note?(text: string): void\n}\n"
const FILES = { 'src/log-port.ts': PORT, 'src/line.ts': 'export interface Line { text: string }\n', 'test/log.test.ts': "import type { LogPort } from '../src/log-port'\nexport const log = (port: LogPort) => port.name\n" }

describe('implementing an interface in TypeScript', () => {
  test('another implementation stands beside it, each member of it not written yet', () => {
    expect(apply(FILES, 'start-implementation:src/log-port.ts#LogPort')).toEqual({
      'src/other-log.ts': `import type { Line } from './line'
import type { LogPort } from './log-port'

export class OtherLog implements LogPort {
  add(line: Line, ...more: string[]): void {
    throw new Error('OtherLog.add is not written yet')
  }

  find<T extends Line>(like: T): Promise<T[]> {
    throw new Error('OtherLog.find is not written yet')
  }

  get level(): number {
    throw new Error('OtherLog.level is not written yet')
  }

  set level(value: number) {
    Object.defineProperty(this, 'level', { value, writable: true })
  }

  note?: LogPort['note']

  get name(): string {
    throw new Error('OtherLog.name is not written yet')
  }
}
`.replace(/note\?: LogPort\['note'\]\n\n/, "note?: LogPort['note']\n\n").replace('get name(): string {', "get name(): LogPort['name'] {")
    })
  })

  test('an underscore says of a parameter that it is not read, where the configuration asks for that', () => {
    const files = {
      'tsconfig.json': '{"compilerOptions":{"strict":true,"noUnusedParameters":true,"target":"es2022","module":"esnext","moduleResolution":"bundler","types":[]}}',
      'port.ts': 'export interface Port {\n  add(line: string): void\n  find(line: string, from: number): boolean\n  isLong(line: unknown): line is string\n}\n'
    }
    expect((apply(files, 'start-implementation:port.ts#Port') as Record<string, string>)['other-port.ts']).toMatch(/ add\(_line: string\): void \{[^]* find\(_line: string, _from: number\): boolean \{[^]* isLong\(_line: unknown\): _line is string \{/)
    expect((apply(files, 'test-double:port.ts#Port') as Record<string, string>)['port-spy.ts']).toContain('  find(line: string, from: number): boolean {')
  })

  test('names types of a library as the project has them, by the file that hands them on', () => {
    const files = {
      'node_modules/kit/package.json': '{ "name": "kit", "types": "index.d.ts" }', 'node_modules/kit/index.d.ts': 'export interface Token { readonly done: boolean }\n',
      'src/kit.ts': "export { Token } from 'kit'\n", 'src/port.ts': "import type { Token } from './kit'\n\nexport interface Port { run(token: Token): void }\n"
    }
    expect(apply(files, 'start-implementation:src/port.ts#Port')).toMatchObject({ 'src/other-port.ts': expect.stringContaining("import type { Token } from './kit'\nimport type { Port } from './port'\n") as string })
  })

  test('a spy stands with the tests, answers what it is told and keeps every call', () => {
    const made = apply(FILES, 'test-double:src/log-port.ts#LogPort')
    expect(Object.keys(made)).toEqual(['test/log-spy.ts'])
    const text = (made as Record<string, string>)['test/log-spy.ts']!
    expect(text).toContain('export class LogSpy implements LogPort {\n  readonly calls: { readonly member: string, readonly arguments: readonly unknown[] }[] = []\n\n  constructor(private readonly answers: Partial<LogPort> = {}) {}\n')
    expect(text).toContain("  add(line: Line, ...more: string[]): void {\n    this.calls.push({ member: 'add', arguments: [line, ...more] })\n    this.answers.add?.(line, ...more)\n  }\n")
    expect(text).toContain("    if (this.answers.find === undefined) throw new Error('LogSpy was not told what find is to answer')\n    return this.answers.find(like)\n")
  })

  test('what the spy does is so when it runs', async () => {
    const text = (apply({ 'src/port.ts': 'export interface Port { add(text: string): void; size(): number }\n' }, 'test-double:src/port.ts#Port') as Record<string, string>)['src/port-spy.ts']!
    const { default: ts } = await import('typescript')
    const code = ts.transpileModule(text, { compilerOptions: { module: ts.ModuleKind.CommonJS, target: ts.ScriptTarget.ES2022 } }).outputText
    const module = { exports: {} as { PortSpy: new (answers?: object) => { add(text: string): void; size(): number; calls: unknown[] } } }
    new Function('exports', 'module', code)(module.exports, module)
    const spy = new module.exports.PortSpy({ size: () => 3 })
    spy.add('a')
    expect(spy.size()).toBe(3)
    expect(spy.calls).toEqual([{ member: 'add', arguments: ['a'] }, { member: 'size', arguments: [] }])
    expect(() => new module.exports.PortSpy().size()).toThrow('PortSpy was not told what size is to answer')
  })

  test.each([
    ['a name that cannot be one', 'name', FILES, 'test-double:src/log-port.ts#LogPort', { name: '3' }], ['no kind of double', 'as', FILES, 'test-double:src/log-port.ts#LogPort', { as: 'mock' }],
    ['a file that is there', 'file-exists', { ...FILES, 'src/other-log.ts': 'export {}\n' }, 'start-implementation:src/log-port.ts#LogPort', {}],
    ['an interface that its file keeps', 'no-members', { 'a.ts': 'interface Port { go(): void }\nexport const a = (port: Port) => port.go()\n' }, 'test-double:a.ts#Port', {}],
    ['what is called itself', 'no-members', { 'a.ts': 'export interface Port { (): void; go(): void }\n' }, 'test-double:a.ts#Port', {}]
  ])('refuses %s', (_, reason, files, id, choices) => { expect(apply(files as unknown as Files, id, choices)).toMatchObject({ reason }) })

  test('doubles are offered of interfaces of behaviour', () => {
    const { survey, writer } = readProject(FILES)
    expect(offersOf(survey, writer).filter(one => one.remedy === 'test-double').map(one => one.subject)).toEqual(['src/log-port.ts#LogPort'])
  })
})

const JAVA = {
  'src/main/java/a/LogPort.java': 'package a;\n\nimport java.util.List;\nimport java.util.Map;\n\npublic interface LogPort extends Named {\n    /** Adds. */\n    void add(String line, int... more);\n    List<String> find(Map<String, List<String>> like) throws Exception;\n    <T extends Comparable<T>> T pick(List<T> all);\n    <T> int count(List<T> all);\n    default int size() { return 1; }\n    String toString();\n}\n',
  'src/main/java/a/Named.java': 'package a;\n\npublic interface Named {\n    String name();\n    int size();\n}\n',
  'src/test/java/b/OtherTest.java': 'package b;\n\nclass OtherTest {\n    @Override\n    public String toString() { return ""; }\n}\n'
}

describe('implementing an interface in Java', () => {
  test('a spy stands with the tests of its package, its answers in fields', () => {
    expect(applyJava(JAVA, 'test-double:a.LogPort')).toEqual({
      'src/test/java/a/LogSpy.java': `package a;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;

public class LogSpy implements LogPort {
    /** Every call, as \`method(arguments)\`. */
    public final List<String> calls = new ArrayList<>();
    public List<String> findAnswer;
    public int countAnswer;
    public String nameAnswer;

    @Override
    public void add(String line, int... more) {
        calls.add("add(" + line + ", " + more + ")");
    }

    @Override
    public List<String> find(Map<String, List<String>> like) throws Exception {
        calls.add("find(" + like + ")");
        return findAnswer;
    }

    @Override
    public <T extends Comparable<T>> T pick(List<T> all) {
        calls.add("pick(" + all + ")");
        throw new UnsupportedOperationException("what pick answers depends on its caller: write it here");
    }

    @Override
    public <T> int count(List<T> all) {
        calls.add("count(" + all + ")");
        return countAnswer;
    }

    @Override
    public String name() {
        calls.add("name()");
        return nameAnswer;
    }
}
`
    })
  })

  test('another implementation stands beside it', () => {
    const made = applyJava(JAVA, 'start-implementation:a.Named', { name: 'Painted' }) as Record<string, string>
    expect(made['src/main/java/a/Painted.java']).toBe('package a;\n\npublic class Painted implements Named {\n    @Override\n    public String name() {\n        throw new UnsupportedOperationException("Painted.name is not written yet");\n    }\n\n    @Override\n    public int size() {\n        throw new UnsupportedOperationException("Painted.size is not written yet");\n    }\n}\n')
  })

  test('what every object has is written only where others may not call that', () => {
    const made = applyJava({ 'a/Shape.java': 'package a;\n\npublic interface Shape extends Cloneable {\n    Object clone();\n\n    boolean equals(Object other);\n\n    int size();\n}\n' }, 'start-implementation:a.Shape') as Record<string, string>
    expect(Object.values(made)[0]!.match(/public .*\(.*\)/g)).toEqual(['public Object clone()', 'public int size()'])
  })

  test.each([
    ['a reserved word', 'name', { name: 'class' }], ['a class that is there', 'file-exists', { name: 'LogPort' }]
  ])('refuses %s', (_, reason, choices) => { expect(applyJava(JAVA, 'start-implementation:a.Named', choices)).toMatchObject({ reason }) })

  test('an interface that inherits from a library is not offered', () => {
    const { language, state, survey } = readJava({ 'a/Port.java': 'package a;\n\ninterface Port extends Comparable<Port> { void go(); }\n' })
    expect(offersOf(survey, language.writer(state)).filter(one => one.remedy === 'start-implementation')).toEqual([])
  })
})
