import type { Choices } from '@hollowmoor/core/remedy/remedy'
import { apply, applyJava } from './applying.js'
import type { Files } from './project.js'

/** What a base class's constructor calls runs before the fields of the class itself are there. */
const BASE = `import { Clock } from './clock'
export abstract class Base {
  ready = this.prepare()
  constructor() { this.begin() }
  private begin(): void { this.open() }
  abstract open(): void
  prepare(): boolean { return true }
  later(): void { new Clock() }
  named(): void {}
  given(): void {}
  alias = this.named
  when = (): void => { this.given() }
}
`
const CLOCK = 'export class Clock { now(): number { return 7 } }\n'
const lock = (method: string) => `import { Base } from './base'\nimport { Clock } from './clock'\nexport class Lock extends Base {\n  private levels = 0\n  private marks = 0\n  override ${method}\n  level(): number { return this.levels++ }\n  mark(): number { return this.marks++ }\n  marked(): boolean { return this.marks > 2 }\n}\n`
const OPEN = 'open(): void { new Clock().now() }'
const INJECT = 'inject:lock.ts#Lock:clock.ts#Clock@open'

describe('what would be used before it is there', () => {
  const typescript: [string, Files, string, Choices, unknown][] = [
    ['called by the constructor, through another method', { 'lock.ts': lock(OPEN) }, 'open', {}, { reason: 'order', message: 'open is called while an object is made, by the constructor of Base, and createClock would not be there yet.' }],
    ['called for a field', { 'lock.ts': lock('prepare(): boolean { return new Clock().now() > 2 }\n  open(): void {}') }, 'prepare', {}, { reason: 'order' }],
    ['not called', { 'lock.ts': lock('later(): void { new Clock().now() }\n  open(): void {}') }, 'later', {}, { 'lock.ts': expect.stringContaining('this.createClock().now()') as string }],
    ['only named by a field', { 'lock.ts': lock('named(): void { new Clock().now() }\n  open(): void {}') }, 'named', {}, { 'lock.ts': expect.stringContaining('this.createClock().now()') as string }],
    ['called by a function in a field', { 'lock.ts': lock('given(): void { new Clock().now() }\n  open(): void {}') }, 'given', {}, { 'lock.ts': expect.stringContaining('this.createClock().now()') as string }],
    ['called, but by a class further up', { 'lock.ts': `import { Middle } from './middle'\n${lock(OPEN).replace('extends Base', 'extends Middle')}`, 'middle.ts': "import { Base } from './base'\nexport abstract class Middle extends Base { override open(): void {} }\n" }, 'open', {}, { reason: 'order' }],
    ['called by one that is called', { 'lock.ts': lock('open(): void { this.note() }\n  note(): void { new Clock().now() }') }, 'note', {}, { reason: 'order' }]
  ]
  test.each(typescript)('in TypeScript: %s', (_, files, member, choices, told) => {
    expect(apply({ 'base.ts': BASE, 'clock.ts': CLOCK, ...files }, INJECT.replace('@open', `@${member}`), choices)).toMatchObject(told as object)
  })

  const JAVA: Files = {
    'a/Base.java': 'package a;\npublic abstract class Base {\n    final boolean ready = prepare();\n    Base() { begin(); }\n    private void begin() { open(); }\n    abstract void open();\n    boolean prepare() { return true; }\n    void later() { }\n}\n',
    'a/Clock.java': 'package a;\npublic class Clock { int now() { return 7; } }\n'
  }
  const javaLock = (body: string, above = 'Base') => `package a;\npublic class Lock extends ${above} {\n    ${body}\n}\n`
  const java: [string, Files, string, unknown][] = [
    ['called by the constructor, through another method', { 'a/Lock.java': javaLock('void open() { new Clock().now(); }') }, 'open', { reason: 'order' }], ['called for a field', { 'a/Lock.java': javaLock('void open() { }\n    boolean prepare() { return new Clock().now() > 2; }') }, 'prepare', { reason: 'order' }],
    ['not called', { 'a/Lock.java': javaLock('void open() { }\n    void later() { new Clock().now(); }') }, 'later', { 'a/Lock.java': expect.stringContaining('clockFactory.get().now()') as string }],
    ['called by Swing', { 'a/Lock.java': javaLock('public void updateUI() { new Clock().now(); }', 'javax.swing.JPanel') }, 'updateUI', { reason: 'order', message: expect.stringContaining('by the constructor of its base class') as string }]
  ]
  test.each(java)('in Java: %s', (_, files, member, told) => { expect(applyJava({ ...JAVA, ...files }, `inject:a.Lock:a.Clock@${member}`)).toMatchObject(told as object) })
})
