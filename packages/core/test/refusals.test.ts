import type { Choices } from '@hollowmoor/core/remedy/remedy'
import { apply } from './applying.js'
import type { Files } from './project.js'

/** JavaScript beside TypeScript is read where the configuration lets it in. */
const WITH_JAVASCRIPT = '{"compilerOptions":{"strict":true,"target":"es2022","module":"esnext","moduleResolution":"bundler","types":[],"allowJs":true,"checkJs":true}}'

interface Case {
  readonly files: Files
  readonly id: string
  readonly choices?: Choices
  readonly reason: string
  readonly message: string
}

/** What is refused in TypeScript, by what it is about. */
const CASES: Record<string, Case> = {
  'an interface of a class in JavaScript': {
    files: { 'tsconfig.json': WITH_JAVASCRIPT, 'lock.js': 'export class Lock {\n  open() { return 1 }\n}\n', 'keeper.ts': "import { Lock } from './lock.js'\nexport class Keeper { constructor(private readonly lock: Lock) {} work(): number { return this.lock.open() } }\n" },
    id: 'extract-interface:lock.js#Lock', reason: 'javascript', message: 'lock.js is JavaScript, which has no interfaces.'
  },
  'a facade for statements that are shown in JavaScript': {
    files: { 'tsconfig.json': WITH_JAVASCRIPT, 'lock.js': 'export class Lock {\n  open() {\n    console.log(1)\n    console.log(2)\n  }\n}\n' },
    id: 'introduce-facade:lock.js#Lock:shown', choices: { lines: '3-4' }, reason: 'javascript', message: 'lock.js is JavaScript; what moves could not be checked.'
  },
  'a constructor parameter of a class in JavaScript': {
    files: { 'tsconfig.json': WITH_JAVASCRIPT, 'bell.ts': 'export class Bell { ring(): void {} }\n', 'lock.js': "import { Bell } from './bell'\nexport class Lock {\n  bell = new Bell()\n  open() { this.bell.ring() }\n}\n" },
    id: 'inject:lock.js#Lock:bell.ts#Bell@bell', reason: 'javascript', message: 'The file is JavaScript; what it is handed could not be checked.'
  },
  'replaceable statics in JavaScript': {
    files: { 'tsconfig.json': WITH_JAVASCRIPT, 'log.js': 'export class Log {\n  static lines = 0\n  static add() { return Log.lines }\n}\n' },
    id: 'make-static-replaceable:log.js#Log', reason: 'javascript', message: 'log.js is JavaScript, which has no interfaces.'
  },
  'functions of JavaScript that would be handed in together': {
    files: { 'tsconfig.json': WITH_JAVASCRIPT, 'log.js': 'export function add() { return 1 }\n' },
    id: 'make-static-replaceable:log.js#', reason: 'javascript', message: 'log.js is JavaScript, which has no interfaces.'
  },
  'the clock behind an interface for a class in JavaScript': {
    files: { 'tsconfig.json': WITH_JAVASCRIPT, 'log.js': 'export class Log {\n  now() { return Date.now() }\n}\n' },
    id: 'wrap-library:log.js#Log:runtime.clock', reason: 'javascript', message: 'log.js is JavaScript, which has no interfaces.'
  },
  'arguments grouped in JavaScript': {
    files: { 'tsconfig.json': WITH_JAVASCRIPT, 'lock.js': 'export class Lock {\n  /** @param {number} a @param {number} b @param {number} c @param {number} d */\n  constructor(a, b, c, d) { this.sum = a + b + c + d }\n}\n' },
    id: 'group-arguments:lock.js#Lock', choices: { parameters: 'a,b,c,d' }, reason: 'javascript', message: 'lock.js is JavaScript; what it is handed could not be checked.'
  },
  'a class taken out of one in JavaScript': {
    files: { 'tsconfig.json': WITH_JAVASCRIPT, 'lock.js': 'export class Lock {\n  level = 0\n  name = \'\'\n  rise() { this.level += 1 }\n  sink() { this.level -= 1 }\n  call() { return this.name }\n}\n' },
    id: 'extract-class:lock.js#Lock', choices: { members: 'level,rise,sink', name: 'Level' }, reason: 'javascript', message: 'lock.js is JavaScript; what moves could not be checked.'
  },
  'a method that would leave JavaScript': {
    files: { 'tsconfig.json': WITH_JAVASCRIPT, 'boat.ts': 'export class Boat { tons = 1; length = 2 }\n', 'lock.js': "import { Boat } from './boat'\nexport class Lock {\n  /** @param {Boat} boat */\n  due(boat) { return boat.tons * boat.length }\n}\n" },
    id: 'move-member:lock.js#Lock:due', choices: { to: 'boat.ts#Boat' }, reason: 'javascript', message: 'lock.js is JavaScript; what moves could not be checked.'
  },
  'a method whose new class would be JavaScript': {
    files: { 'tsconfig.json': WITH_JAVASCRIPT, 'boat.js': 'export class Boat { tons = 1; length = 2 }\n', 'lock.ts': "import { Boat } from './boat'\nexport class Lock {\n  due(boat: Boat): number { return boat.tons * boat.length }\n}\n" },
    id: 'move-member:lock.ts#Lock:due', choices: { to: 'boat.js#Boat' }, reason: 'javascript', message: 'It would move to a file that is not TypeScript.'
  },
  'a default behind any number of arguments': {
    files: { 'bell.ts': 'export class Bell { ring(): void {} }\n', 'lock.ts': "import { Bell } from './bell'\nexport class Lock {\n  private readonly bell = new Bell()\n  constructor(...names: string[]) { void names }\n  open(): void { this.bell.ring() }\n}\n" },
    id: 'inject:lock.ts#Lock:bell.ts#Bell@bell', choices: { default: 'yes' }, reason: 'rest', message: 'Its constructor takes any number of arguments, so that none can follow with a default.'
  },
  'protected statics': {
    files: { 'log.ts': 'export class Log {\n  protected static add(): number { return 1 }\n  static size(): number { return Log.add() }\n}\n' },
    id: 'make-static-replaceable:log.ts#Log', reason: 'protected', message: 'add is protected.'
  },
  'a type of a file to which another adds': {
    files: { 'a/lock.ts': 'export interface Lock { open(): void }\nexport const other = 1\n', 'c/more.ts': "import '../a/lock'\ndeclare module '../a/lock' { interface Lock { close(): void } }\nexport const more = 1\n" },
    id: 'move-type:a/lock.ts#Lock', choices: { module: 'b' }, reason: 'augmented', message: 'Something else in the project adds to what a/lock.ts declares.'
  },
  'what a file exports by default beside other things': {
    files: { 'a/lock.ts': 'export default class Lock { open(): void {} }\nexport const other = 1\n', 'd/use.ts': "import Lock from '../a/lock'\nexport const lock = new Lock()\n" },
    id: 'move-type:a/lock.ts#Lock', choices: { module: 'b' }, reason: 'default-export', message: 'It is what a/lock.ts exports by default, beside other things.'
  },
  'an interface that is declared twice, divided into roles': {
    files: { 'lock.ts': 'export interface Lock { open(): void }\nexport interface Lock { close(): void }\n' },
    id: 'split-interface:lock.ts#Lock', choices: { roles: 'Opening: open; Closing: close' }, reason: 'members', message: 'None of its members could be that of a role: it is declared in several places'
  },
  'a test where nothing says with what the project is tested': {
    files: { 'lock.ts': 'export class Lock {\n  rise(by: number): number { return by > 3 ? 3 : by }\n}\n' },
    id: 'first-test:lock.ts#Lock', reason: 'no-tests', message: "Nothing says with what lock.ts is tested: no test is there, and no package.json lists Vitest, Jest, Mocha or node's own runner."
  },
  'a test of a class that does nothing of its own': {
    files: { 'package.json': '{"devDependencies":{"jest":"30"}}', 'lock.ts': 'export class Lock {\n  readonly name = \'\'\n}\n' },
    id: 'first-test:lock.ts#Lock', reason: 'no-logic', message: 'Lock does nothing of its own that a test could hold.'
  },
  'one interface for classes of which no other has the shape': {
    files: { 'lock.ts': 'export class Lock {\n  open(): void {}\n  close(): void {}\n}\n' },
    id: 'shared-interface:lock.ts#Lock', reason: 'no-shape', message: 'No other class has its shape any more.'
  }
}

describe('refused in TypeScript, with the reason', () => {
  test.each(Object.entries(CASES))('%s', (_, { files, id, choices, reason, message }) => {
    expect(apply(files, id, choices)).toMatchObject({ reason, message: expect.stringContaining(message) as string })
  })
})
