import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { newErrors } from '@hollowmoor/core/read/typescript/write/check'
import type { Applied } from './applying.js'
import { apply, applyJava } from './applying.js'
import type { Files as JavaFiles } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

const ID = 'builder-for-tests:window.ts#Window'
const HELP: Files = {
  'book.ts': 'export class Book {\n  private sum = 0\n  credit(amount: number): void { this.sum += amount }\n  total(): number { return this.sum }\n}\n',
  'window.ts': "import type { Book } from './book'\nexport class Window {\n  constructor(private readonly book: Book, private readonly folder: string) {}\n  sell(toll: number): string { this.book.credit(toll); return this.folder }\n}\n",
  'test/folder.ts': 'export function scratch(): { folder: string; remove: () => void } { return { folder: "x", remove: () => undefined } }\nexport declare function test(name: string, body: () => void | Promise<void>): void\nexport declare function equal(a: unknown, b: unknown): void\n'
}
const FILES: Files = {
  ...HELP,
  'test/window.test.ts': `import { Book } from '../book'
import { Window } from '../window'
import { equal, scratch, test } from './folder'

test('one is sold', () => {
  const { folder, remove } = scratch()
  const book = new Book()
  // Where slips go.
  const window = new Window(book, folder + '/slips')
  equal(window.sell(3), 'x')
  equal(book.total(), 3)
  remove()
})

test('two are sold', () => {
  const { folder, remove } = scratch()
  const ledger = new Book()
  const window = new Window(ledger, folder + '/slips')
  window.sell(3)
  window.sell(4)
  equal(ledger.total(), 7)
  remove()
})
`,
  'test/other.test.ts': `import { Book } from '../book'
import { Window } from '../window'
import { scratch, test } from './folder'

test('nothing is sold', async () => {
  const { folder, remove } = scratch()
  const book = new Book()
  const window = new Window(book, folder + '/others')
  await Promise.resolve(window.sell(0))
  remove()
})
`
}
const textOf = (applied: Applied, path: string) => (applied as Record<string, string>)[path]

describe('one builder for what tests set up in TypeScript', () => {
  test('is a function beside them that gives what they use of it, and is handed what differs', () => {
    const applied = apply(FILES, ID)
    expect(Object.keys(applied).sort()).toEqual(['test/other.test.ts', 'test/set-up-window.ts', 'test/window.test.ts'])
    expect(textOf(applied, 'test/set-up-window.ts')).toBe(`import { Book } from '../book'
import { Window } from '../window'
import { scratch } from './folder'

/** Sets up what 3 tests set up alike. */
export function setUpWindow(value: string) {
  const { folder, remove } = scratch()
  const book = new Book()
  const window = new Window(book, folder + value)
  return { remove, book, window }
}
`)
    const { survey, writer } = readProject(FILES)
    expect(planStep(ID, {}, survey, writer)).toMatchObject({ notes: ['10 lines of set-up in 3 tests become 3, and 3 in one place.', 'Comments inside the statements are kept of the first place alone.'] })
    expect(textOf(applied, 'test/other.test.ts')).toContain("  const { remove, window } = setUpWindow('/others')\n  await Promise")
    expect(textOf(applied, 'test/window.test.ts')).toContain("  const { remove, book: ledger, window } = setUpWindow('/slips')\n  window.sell(3)")
    expect(textOf(applied, 'test/window.test.ts')).toContain("import { equal, test } from './folder'")
  })

  test('waits where they wait', () => {
    const waiting = (code: string) => code.replaceAll('= scratch()', '= await scratch()').replaceAll('() => {\n', 'async () => {\n').replace('async async', 'async')
    const applied = apply({ ...FILES, 'test/window.test.ts': waiting(FILES['test/window.test.ts']!), 'test/other.test.ts': waiting(FILES['test/other.test.ts']!).replace('others', 'slips') }, ID, { name: 'atTheWindow' })
    expect(textOf(applied, 'test/at-the-window.ts')).toContain('export async function atTheWindow() {\n  const { folder, remove } = await scratch()\n')
    expect(textOf(applied, 'test/window.test.ts')).toContain('const { remove, book: ledger, window } = await atTheWindow()')
  })

  const offered = (files: Files) => { const { survey, writer } = readProject(files); return offersOf(survey, writer).filter(one => one.remedy === 'builder-for-tests').map(one => one.id) }

  test('is offered of every type that is built, where several tests do it', () => {
    expect(offered(FILES)).toEqual(['builder-for-tests:book.ts#Book', ID])
    expect(offered({ ...HELP, 'test/other.test.ts': FILES['test/other.test.ts']! })).toEqual([])
    expect(apply({ ...HELP, 'test/other.test.ts': FILES['test/other.test.ts']! }, ID)).toMatchObject({ reason: 'sequence' })
    expect(apply(FILES, ID, { name: 'test' })).toMatchObject({ reason: 'name-taken' })
  })
})

const JAVA_ID = 'builder-for-tests:desk.Window'
const test1 = (name: string, more: string, folder = '/slips') => `    @Test
    void ${name}() throws Exception {
        Book book = new Book();
        // Where slips go.
        Window window = new Window(book, Scratch.folder() + "${folder}");
        Runnable later = () -> book.total();
${more}
    }
`
const JAVA: JavaFiles = {
  'src/main/java/records/Book.java': 'package records;\n\npublic class Book {\n    private double sum = 0;\n    public void credit(double amount) { if (amount < 0) throw new IllegalArgumentException(); sum += amount; }\n    public double total() { return sum; }\n}\n',
  'src/main/java/desk/Window.java': 'package desk;\n\npublic class Window {\n    private final records.Book book;\n    private final String folder;\n    public Window(records.Book book, String folder) { this.book = book; this.folder = folder; }\n    public String sell(double toll) { book.credit(toll); return folder; }\n}\n',
  'src/test/java/desk/Scratch.java': 'package desk;\n\nclass Scratch { static String folder() throws java.io.IOException { return "x"; } }\n', 'src/test/java/desk/Test.java': 'package desk;\n\n@interface Test { }\n',
  'src/test/java/desk/WindowTest.java': `package desk;\n\nimport records.Book;\n\nclass WindowTest {\n${test1('one', '        window.sell(3);\n        later.run();')}\n${test1('two', '        window.sell(4);\n        if (book.total() < 4) throw new IllegalStateException(window.sell(1));', '/others')}\n${test1('three', '        window.sell(5);')}}\n`
}

describe('one builder for what tests set up in Java', () => {
  test('is a class beside them that has what they use of it', () => {
    const applied = applyJava(JAVA, JAVA_ID)
    expect(textOf(applied, 'src/test/java/desk/WindowSetUp.java')).toBe(`package desk;

import records.Book;

/** Sets up what 3 tests set up alike. */
final class WindowSetUp {
    final Book book;
    final Window window;

    WindowSetUp(String folder) throws Exception {
        Book book = new Book();
        // Where slips go.
        Window window = new Window(book, folder);
        this.book = book;
        this.window = window;
    }
}
`)
    expect(textOf(applied, 'src/test/java/desk/WindowTest.java')).toContain('        WindowSetUp setUp = new WindowSetUp(Scratch.folder() + "/others");\n        Runnable later = () -> setUp.book.total();\n        setUp.window.sell(4);\n        if (setUp.book.total() < 4) throw new IllegalStateException(setUp.window.sell(1));\n')
    expect(textOf(applied, 'src/test/java/desk/WindowTest.java')).not.toContain('import')
  })

  test('that one test asks twice gives each a name that nothing else has there', () => {
    const twice = `    @Test
    void twice() throws Exception {
        int setUp = 1;
        Book book = new Book();
        Window window = new Window(book, "/first");
        window.sell(setUp);
        Book other = new Book();
        Window second = new Window(other, "/second");
        if (other.total() > book.total()) second.sell(1);
    }
`
    const applied = applyJava({ ...JAVA, 'src/test/java/desk/WindowTest.java': JAVA['src/test/java/desk/WindowTest.java']!.replace(/}\n$/, `${twice}}\n`).replaceAll('        Runnable later = () -> book.total();\n', '').replace('        later.run();', '') }, JAVA_ID)
    const text = textOf(applied, 'src/test/java/desk/WindowTest.java')
    expect(text).toContain('        int setUp = 1;\n        WindowSetUp setUp2 = new WindowSetUp("/first");\n        setUp2.window.sell(setUp);\n        WindowSetUp setUp3 = new WindowSetUp("/second");\n        if (setUp3.book.total() > setUp2.book.total()) setUp3.window.sell(1);\n')
    expect(text).toContain('WindowSetUp setUp = new WindowSetUp(Scratch.folder()')
  })

  test('refuses what is set to something else, and names that are taken', () => {
    expect(applyJava({ ...JAVA, 'src/test/java/desk/WindowTest.java': JAVA['src/test/java/desk/WindowTest.java']!.replaceAll('        Runnable later = () -> book.total();\n', '').replace('window.sell(3);\n        later.run();', 'window = null;') }, JAVA_ID)).toMatchObject({ reason: 'assigned' })
    expect(applyJava(JAVA, JAVA_ID, { name: 'Scratch' })).toMatchObject({ reason: 'file-exists' })
    expect(applyJava(JAVA, JAVA_ID, { name: 'class' })).toMatchObject({ reason: 'name' })
  })
})

describe('what stands in the way of one builder', () => {
  const body = (name: string, more: string) => `test('${name}', () => {\n  const book = new Book()\n${more}  const window = new Window(book, 'x')\n  equal(window.sell(3), 'x')\n  sum = 1\n  equal(sum, 1)\n})\n`
  const offered = (more: string) => {
    const { survey, writer } = readProject({ ...HELP, 'test/window.test.ts': `import { Book } from '../book'\nimport { Window } from '../window'\nimport { equal, test } from './folder'\n${['a', 'b', 'c'].map(name => body(name, more)).join('')}` })
    return offersOf(survey, writer, undefined, 'builder-for-tests').length
  }

  test('a variable that they leave empty cannot be given', () => {
    expect([offered('  let sum = 0\n'), offered('  let sum: number\n  sum = 4\n'), offered('  let sum: number\n')].map(count => count > 0)).toEqual([true, true, false])
  })

  test('a package that is not installed is imported where it is needed, but only one that was imported before', () => {
    const away = Object.fromEntries(Object.entries(FILES).map(([path, text]) => [path, path.endsWith('.test.ts') ? text.replace(/import \{ (.*)scratch(.*) \} from '.\/folder'/, "import { $1scratch$2 } from 'far-away'") : text]))
    const applied = apply(away, ID)
    expect(textOf(applied, 'test/set-up-window.ts')).toContain("import { scratch } from 'far-away'")
    const { session, snapshot } = readProject(FILES), after = session.edit(snapshot, new Map([['/hm-test/test/folder.ts', "import { near } from 'near-by'\nexport const far = near\n"]]))
    expect(newErrors(snapshot, after, '/hm-test', ['test/folder.ts']).map(one => one.code)).toEqual([2307])
  })
})
