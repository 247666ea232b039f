import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { apply, applyJava } from './applying.js'
import type { Files as JavaFiles } from './java.js'
import { readJava } from './java.js'
import { readProject } from './project.js'

const NODE = { 'tsconfig.json': '{"compilerOptions":{"strict":true,"target":"ES2022","module":"ESNext","moduleResolution":"Bundler","types":["node"],"lib":["ES2022"]}}', 'node_modules/@types/node/package.json': '{"name":"@types/node","types":"index.d.ts"}', 'node_modules/@types/node/index.d.ts': "declare module 'node:fs' { export function readFileSync(path: string, encoding: 'utf8'): string; export function writeFileSync(path: string, text: string): void; export function mkdtempSync(path: string): string }\ndeclare function test(name: string, run: () => void): void\ndeclare function beforeEach(run: () => void): void\ndeclare function expect(value: unknown): { toBe(value: unknown): void }" }
const OFFICE = `import { readFileSync, writeFileSync } from 'node:fs'

export class Office {
  private readonly dues = new Map<string, number>()

  constructor(private readonly rate: number, private readonly folder: string, private readonly marks: readonly string[]) {}

  due(tons: number): number { return this.rate * tons + this.dues.size }
  longest(): number { return this.marks.length > 3 ? 40 : this.due(2) }
  last(): string { return readFileSync(this.folder + '/paid', 'utf8') }
  keep(text: string): void { if (text !== '') writeFileSync(this.folder + '/paid', text) }
}
`
const ID = 'extract-class:office.ts#Office:file-system'
/** A test file over a body. */
const testOf = (body: string) => `import { Office } from './office'\n\n${body}`
const changed = (body: string, office = OFFICE, more: Record<string, string> = {}) => apply({ 'office.ts': office, 'office.test.ts': testOf(body), ...more, ...NODE }, ID) as Record<string, string>

describe('tests of a class of which another is extracted in TypeScript', () => {
  test('an object that is only asked for what goes is of the new class, and made of what that needs', () => {
    const body = "test('keeps', () => {\n  const office = new Office(2, 'files', ['a'])\n  office.keep('due')\n  expect(office.last()).toBe('due')\n})\n\ntest('adds up', () => {\n  const office = new Office(2, 'files', [])\n  expect(office.due(3)).toBe(6)\n  office.keep('x')\n})\n"
    const { survey, writer } = readProject({ 'office.ts': OFFICE, 'office.test.ts': testOf(body), ...NODE })
    expect(offersOf(survey, writer, undefined, 'extract-class').map(one => one.id)).toContain(ID)
    const outcome = planStep(ID, {}, survey, writer)
    if (outcome.refused) throw new Error(outcome.message)
    expect(outcome.notes).toContain('office.test.ts makes an OfficeFiles itself, where it only asks for what goes.')
    const after = Object.fromEntries(outcome.changes.map(one => [one.path, one.after!]))
    expect(after['office.ts']).toContain('\nexport class OfficeFiles {\n  constructor(private readonly folder: string) {}\n')
    expect(after['office.test.ts']).toBe(testOf(body).replace('{ Office }', '{ Office, OfficeFiles }').replace("new Office(2, 'files', ['a'])", "new OfficeFiles('files')"))
  })

  test('one that is made anew before each test goes with its declared type, and the class that nobody names any more is not imported', () => {
    const body = "let office: Office\n\nbeforeEach(() => {\n  office = new Office(1, mkdtempSync('x'), [])\n})\n\ntest('keeps', () => {\n  office.keep('due')\n  expect(office.last()).toBe('due')\n})\n"
    // One name stands where the other stood.
    const text = `import { Office } from './office'\nimport { mkdtempSync } from 'node:fs'\n\n${body}`
    const after = apply({ 'office.ts': OFFICE, 'office.test.ts': text, ...NODE }, ID) as Record<string, string>
    expect(after['office.test.ts']).toBe(text.replace('{ Office }', '{ OfficeFiles }').replace('let office: Office\n', 'let office: OfficeFiles\n').replace("new Office(1, mkdtempSync('x'), [])", "new OfficeFiles(mkdtempSync('x'))"))
  })

  test('they stay where one wants them to', () => {
    const files = { 'office.ts': OFFICE, 'office.test.ts': testOf("test('keeps', () => { const office = new Office(2, 'files', []); office.keep('due') })\n"), ...NODE }
    const after = apply(files, ID, { tests: 'stay' }) as Record<string, string>
    expect(Object.keys(after)).toEqual(['office.ts'])
    expect(after['office.ts']).toContain('\nclass OfficeFiles {\n')
  })

  const KEEP = "office.keep('due')"
  const stays: [string, string, string?][] = [
    ['asks for what stays as well', `const office = new Office(2, 'files', []); ${KEEP}; office.due(1)`], ['is handed on', `const office = new Office(2, 'files', []); ${KEEP}; expect(office).toBe(1)`],
    ['is looked at by an index', `const office = new Office(2, 'files', []); ${KEEP}; office['last']()`], ['has a method replaced', `const office = new Office(2, 'files', []); ${KEEP}; office.last = () => ''`],
    ['is declared as something wider', `const office: Pick<Office, 'keep'> = new Office(2, 'files', []); ${KEEP}`], ['may hold something else', `let office = new Office(2, 'files', []); ${KEEP}; office = JSON.parse('1') as Office`],
    ['is made of what does something that would be gone', `let seen = 1; const office = new Office(seen++, 'files', []); ${KEEP}`], ['is made of a spread', `const all = [2, 'files', ['a']] as const; const office = new Office(...all); ${KEEP}`],
    ['is taken apart by its name', `const office = new Office(2, 'files', []); ${KEEP}; expect({ office }).toBe(1)`], ['is never asked', "const office = new Office(2, 'files', [])"],
    ['is of a class that is looked into', `Office.prototype.due = () => 3; const office = new Office(2, 'files', []); ${KEEP}`],
    ['is of a class whose constructor does more', `const office = new Office(2, 'files', []); ${KEEP}`, OFFICE.replace('readonly string[]) {}', "readonly string[]) { writeFileSync(folder, '') }")],
    ['would need what only the class makes', `const office = new Office(2, 'files', []); ${KEEP}`, OFFICE.replace("'/paid', text)", "'/paid', text + this.name)").replace('  constructor', '  readonly name = this.rate.toFixed(1)\n\n  constructor').replace('due(tons: number): number { return', 'due(tons: number): number { void this.name; return')]
  ]
  test.each(stays.map(([what, body, office = OFFICE]) => [what, body, office] as const))('one stays that %s', (_, body, office) => {
    const after = changed(`test('keeps', () => { ${body} })\n`, office)
    expect(after).toHaveProperty(['office.ts'])
    expect(after).not.toHaveProperty(['office.test.ts'])
  })

  test('what a field is made of by its declaration is told by its text', () => {
    const named = OFFICE.replace("this.folder + '/paid', text", "this.folder + this.name, text").replace('  constructor', "  readonly name = '/paid'\n\n  constructor").replace('return this.rate', 'return this.name.length + this.rate')
    expect(changed("test('keeps', () => { const office = new Office(2, 'files', []); office.keep('due') })\n", named)['office.test.ts']).toContain("const office = new OfficeFiles('files', '/paid'); office.keep('due')")
  })

  test('several objects of several tests are told together', () => {
    const { survey, writer } = readProject({ 'office.ts': OFFICE, 'office.test.ts': testOf("test('a', () => { const one = new Office(2, 'a', []); one.keep('due') })\ntest('b', () => { const one = new Office(3, 'b', []); one.last() })\n"), 'more.test.ts': testOf("test('c', () => { const it = new Office(2, 'c', []); it.last() })\n"), ...NODE })
    const outcome = planStep(ID, {}, survey, writer)
    expect(outcome.refused ? outcome.message : outcome.notes.filter(one => one.includes('itself'))).toEqual(['more.test.ts makes an OfficeFiles itself, where it only asks for what goes.', 'office.test.ts makes an OfficeFiles itself, 2 times, where it only asks for what goes.'])
  })
})

const TILL = `package a;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

public class Till {
    private final List<String> dues = new ArrayList<>();
    private final double rate;
    private final Path folder;
    private final String mark;

    public Till(double rate, Path folder, String mark) {
        this.rate = rate;
        this.folder = folder;
        this.mark = mark;
    }

    public double due(double tons) { return rate * tons + dues.size(); }

    public boolean isMarked() { return mark.isEmpty() || due(1) > 2; }

    public String last() throws IOException { return Files.readString(folder.resolve("paid")); }

    public void keep(String text) throws IOException { if (!text.isEmpty()) Files.writeString(folder.resolve("paid"), text); }
}
`
const JAVA_ID = 'extract-class:a.Till:file-system'
/** A test class over its members. */
const javaTest = (members: string) => `package a;\n\nimport java.io.IOException;\nimport java.nio.file.Path;\n\nclass TillTest {\n${members}}\n`
const changedJava = (members: string, till = TILL) => applyJava({ 'src/main/java/a/Till.java': till, 'src/test/java/a/TillTest.java': javaTest(members) }, JAVA_ID) as JavaFiles

describe('tests of a class of which another is extracted in Java', () => {
  const TEST = 'src/test/java/a/TillTest.java', MAIN = 'src/main/java/a/Till.java'

  test('an object that is only asked for what goes is of the new class, and made of what that needs', () => {
    const members = '    void keeps() throws IOException {\n        Till till = new Till(2, Path.of("x"), "m");\n        till.keep("due");\n        assert till.last().equals("due");\n    }\n\n    void addsUp() throws IOException {\n        Till till = new Till(2, Path.of("x"), "m");\n        till.keep("x");\n        assert till.due(3) == 6;\n    }\n'
    const { survey, language, state } = readJava({ [MAIN]: TILL, [TEST]: javaTest(members) })
    const outcome = planStep(JAVA_ID, {}, survey, language.writer(state))
    if (outcome.refused) throw new Error(outcome.message)
    expect(outcome.notes).toContain(`${TEST} makes a TillFiles itself, where it only asks for what goes.`)
    expect(Object.fromEntries(outcome.changes.map(one => [one.path, one.after]))[TEST]).toBe(javaTest(members.replace('Till till = new Till(2, Path.of("x"), "m");', 'TillFiles till = new TillFiles(Path.of("x"));')))
  })

  test('a field that is filled before each test goes with its declared type', () => {
    const members = '    private Till till;\n\n    void before() {\n        this.till = new Till(1, Path.of("x").normalize(), "");\n    }\n\n    void keeps() throws IOException {\n        till.keep("due");\n        var other = new Till(1, null, "");\n        other.last();\n    }\n'
    expect(changedJava(members)[TEST]).toBe(javaTest(members.replace('private Till till', 'private TillFiles till').replace('new Till(1, Path.of("x").normalize(), "")', 'new TillFiles(Path.of("x").normalize())').replace('new Till(1, null, "")', 'new TillFiles(null)')))
  })

  test('they stay where one wants them to', () => {
    expect(Object.keys(applyJava({ [MAIN]: TILL, [TEST]: javaTest('    void keeps() throws IOException { Till till = new Till(2, null, ""); till.last(); }\n') }, JAVA_ID, { tests: 'stay' })).sort()).toEqual([MAIN, 'src/main/java/a/TillFiles.java'])
  })

  const stays: [string, string, string?][] = [
    ['asks for what stays as well', 'Till till = new Till(2, null, ""); till.last(); till.due(1);'], ['is handed on', 'Till till = new Till(2, null, ""); till.last(); System.out.println(till);'],
    ['is declared as something wider', 'Object till = new Till(2, null, ""); till.toString();'], ['may hold something else', 'Till till = new Till(2, null, ""); till.last(); till = null;'],
    ['is made of what does something that would be gone', 'Till till = new Till(System.in.read(), null, ""); till.last();'], ['is never asked', 'Till till = new Till(2, null, "");'],
    ['is made of a class of its own', 'Till till = new Till(2, null, "") { }; till.last();'], ['is declared beside another', 'Till till = new Till(2, null, ""), more = till; till.last();'],
    ['is of a class that is spoken of itself', 'System.out.println(Till.class); Till till = new Till(2, null, ""); till.last();'],
    ['is of a class whose constructor does more', 'Till till = new Till(2, null, ""); till.last();', TILL.replace('        this.mark = mark;\n', '        this.mark = mark;\n        System.out.println(mark);\n')],
    ['would need what only the class makes', 'Till till = new Till(2, null, ""); till.last();', TILL.replace('resolve("paid"));', 'resolve(mark));').replace('this.mark = mark;', 'this.mark = mark.trim();')]
  ]
  test.each(stays.map(([what, body, till = TILL]) => [what, body, till] as const))('one stays that %s', (_, body, till) => {
    const after = changedJava(`    void keeps() throws IOException { ${body} }\n`, till)
    expect(after).toHaveProperty([MAIN])
    expect(after).not.toHaveProperty([TEST])
  })
})
