import { seededRandom } from '@hollowmoor/core/graph/random'
import type { Files } from './project.js'

/** What an expression of a number may read where it stands: names of numbers, and calls by their text, `#` for an argument. */
interface Reach {
  readonly numbers: readonly string[]
  readonly calls: readonly string[]
}

/** A library that the programs use, for the compiler and when they run. */
export const FRAME = { 'node_modules/frame/package.json': '{"name":"frame","types":"index.d.ts"}', 'node_modules/frame/index.d.ts': 'export class Panel { constructor(); show(name: string, value: number): void }\n' }
export const LIBRARIES = { frame: { Panel: class { show(): void { /* Nobody looks. */ } } } }

/**
 * A program of some twenty files that compiles, tells what it did in which order (`told` of its `main.ts`), and has of everything that the
 * remedies look for: collaborators that are made, fetched, handed in and shared, statics with and without state, functions, switches over
 * kinds and classes, inheritance, long constructors, statements that several classes have alike, what touches files.
 */
export function randomProgram(seed: number): Files {
  const draw = seededRandom(seed), upTo = (count: number) => Math.floor(draw() * count), pick = <T>(...from: readonly T[]): T => from[upTo(from.length)]!
  const chance = (of: number) => upTo(of) === 0
  const value = (reach: Reach, depth = 2): string => {
    if (depth === 0 || chance(3)) return chance(4) ? String(upTo(9)) : pick(...reach.numbers)
    const inner = () => value(reach, depth - 1)
    return pick(() => pick(...reach.calls).replace('#', inner()), () => pick(...reach.calls).replace('#', inner()), () => `${inner()} ${pick('+', '-')} ${inner()}`.replace(/- -/, '+ '), () => `Math.max(${inner()}, ${inner()})`, () => `(${inner()} > ${upTo(6)} ? ${inner()} : ${inner()})`)()
  }
  let locals = 0
  /** Statements, and the numbers that are known behind them. `set`: what may be set. */
  const statements = (reach: Reach, set: readonly string[], count: number, depth = 1): { readonly lines: string[]; readonly reach: Reach } => {
    const lines: string[] = [], numbers = [...reach.numbers]
    const now = () => ({ ...reach, numbers })
    for (let at = 0; at < count; at++) {
      const inside = () => statements(now(), set, 1 + upTo(2), depth - 1).lines.map(line => `  ${line}`)
      const form = upTo(depth > 0 ? 8 : 4)
      if (form === 0) { const name = `part${++locals}`; lines.push(`const ${name} = ${value(now())}`); numbers.push(name) }
      else if (form === 1 && set.length > 0) lines.push(`${pick(...set)} ${pick('+=', '=')} ${value(now())}`)
      else if (form <= 3) lines.push(`tick(${value(now())}, '${pick('a', 'b', 'c')}')`)
      else if (form === 4) lines.push(`if (${value(now())} > ${upTo(7)}) {`, ...inside(), ...(chance(2) ? ['} else {', ...inside()] : []), '}')
      else if (form === 5) lines.push(`for (const each of [1, ${value(now())}]) {`, ...statements({ ...now(), numbers: [...numbers, 'each'] }, set, 1, 0).lines.map(line => `  ${line}`), ...(chance(3) ? ['  if (each > 3) break'] : []), '}')
      else if (form === 6) lines.push('try {', ...inside(), '} finally {', `  tick(${upTo(9)}, 'f')`, '}')
      else lines.push(`// Step ${++locals}.`, `tick(${value(now())})`)
    }
    return { lines, reach: now() }
  }
  const body = (reach: Reach, set: readonly string[], margin: string, count = 1 + upTo(3)): string => {
    const { lines, reach: known } = statements(reach, set, count)
    return [...lines, `return ${value(known)}`].map(line => `${margin}${line}\n`).join('')
  }
  const method = (name: string, reach: Reach, set: readonly string[], before = '') => `  ${before}${name}(n: number): number {\n${body(reach, set, '    ')}  }\n`
  const kindSwitch = (reach: Reach): string => {
    const cases = ['flat', 'barge', 'tug'].filter(() => !chance(4)), form = upTo(3), end = (text: string) => (form === 0 ? `return ${text}` : form === 1 ? `found = ${text}` : `tick(${text})`)
    const branches = chance(2)
      ? [`switch (kind) {`, ...cases.flatMap(one => [`  case '${one}': {`, ...statements(reach, [], upTo(2), 0).lines.map(line => `    ${line}`), `    ${end(value(reach))}`, ...(form === 0 ? [] : ['    break']), '  }']), `  default: ${end(value(reach, 1))}`, '}']
      : cases.length === 0 ? [end(value(reach, 1))] : [...cases.flatMap((one, at) => [`${at === 0 ? '' : '} else '}if (kind === '${one}') {`, ...statements(reach, [], upTo(2), 0).lines.map(line => `  ${line}`), `  ${end(value(reach))}`]), '} else {', `  ${end(value(reach, 1))}`, '}']
    return [...(form === 1 ? ['let found = 0'] : []), ...branches, ...(form === 1 ? ['return found'] : form === 2 ? ['return n'] : [])].map(line => `    ${line}\n`).join('')
  }

  const inFunctions: Reach = { numbers: ['n'], calls: ['tick(#)', 'Tables.of(#)', 'Tables.limit + #'] }
  const everywhere = ['tick(#)', 'Tables.of(#)', 'due(#)', 'rate(#, 2)', 'shared.add(#)', 'Registry.instance().add(#)']
  const tables = `import { tick } from '../log'\n\n/** What holds for all. */\nexport class Tables {\n  static limit = ${1 + upTo(5)}\n  private static asked = 0\n\n${method('of', { numbers: ['n', 'Tables.limit', 'Tables.asked'], calls: ['tick(#)', ...(chance(2) ? ['Tables.half(#)'] : [])] }, ['Tables.asked'], 'static ')}\n  static half(n: number): number { return n > 1 ? n - 1 : tick(n, 'h') }\n}\n`
  const rates = `import { tick } from '../log'\nimport { Tables } from './tables'\n\nexport function rate(n: number, more = 1): number {\n${body({ ...inFunctions, numbers: ['n', 'more'] }, [], '  ')}}\n\nexport function due(n: number): number {\n${body({ ...inFunctions, calls: [...inFunctions.calls, 'rate(#)', 'new Clerk(3).add(#)'] }, [], '  ')}}\n\nexport function told(kind: Kind, n: number): number {\n${kindSwitch(inFunctions).replaceAll(/^ {2}/gm, '')}}\n`
  const kindOf = "import type { Kind } from './kinds'\n"
  const counter = 'import { tick } from \'../log\'\nimport type { Counter } from \'./kinds\'\n'
  const implementing = chance(2) ? ' implements Counter' : ''
  const clerk = `${implementing ? counter : "import { tick } from '../log'\n"}\n/** Counts. */\nexport class Clerk${implementing} {\n  private count: number\n  private readonly seen: number[] = []\n\n  constructor(start: number, private readonly most = 9) { this.count = start }\n\n${method('add', { numbers: ['n', 'this.count', 'this.most', 'this.seen.length'], calls: ['tick(#)', 'this.half(#)'] }, ['this.count'])}\n  total(): number { return this.count + this.seen.length }\n  note(n: number): void { this.seen.push(n); this.count += tick(n, 'n') }\n  private half(n: number): number { return Math.floor(n / 2) }\n}\n`
  const registry = `import { Clerk } from './clerk'\n\nexport class Registry {\n  private static one: Clerk | undefined\n  static instance(): Clerk { return (Registry.one ??= new Clerk(1)) }\n}\n`
  // Classes over these: each makes, fetches or is handed the one before.
  const office = (name: string, of: { readonly type: string; readonly field: string; readonly path: string; readonly made: string }, extra: string): string => {
    const how = upTo(4), isHanded = how === 0, touches = chance(2)
    const fields = [`  private count = ${upTo(4)}\n`, ...(how === 1 ? [`  private readonly ${of.field} = ${of.made}\n`] : how === 2 ? [`  private readonly ${of.field}: ${of.type}\n`] : [])].join('')
    const parameters = ['private readonly mark: string', 'readonly tons: number', ...(isHanded ? [`private readonly ${of.field}: ${of.type}`] : [])]
    const dep = how === 3 ? of.made : `this.${of.field}`
    const reach: Reach = { numbers: ['n', 'this.count', 'this.tons', 'this.mark.length'], calls: [...everywhere, `${dep}.add(#)`, `${dep}.add(#)`, ...(touches ? ['(existsSync(this.mark + String(#)) ? 1 : 2)'] : [])] }
    const again = pick(...['Clerk', 'Tables'])
    const repeated = `    const clerk = new Clerk(n)\n    clerk.note(this.tons)\n    clerk.note(n)\n    this.count += clerk.total()\n    return clerk.total() + this.count\n`
    return `${touches ? "import { existsSync } from 'node:fs'\n" : ''}import { tick } from '../log'\nimport { Clerk } from '../base/clerk'\nimport type { Kind } from '../base/kinds'\nimport { due, rate } from '../base/rates'\nimport { Registry } from '../base/registry'\nimport { shared } from '../base/shared'\nimport { Tables } from '../base/tables'\n${of.path}\n/** ${name}. */\nexport class ${name} {\n${fields}\n  constructor(${parameters.join(', ')}) {${how === 2 ? ` this.${of.field} = ${of.made.replace('this.tons', 'tons').replace('this.mark', 'mark')}` : ''} }\n\n${method('add', reach, ['this.count'])}\n${method('work', { ...reach, calls: [...reach.calls, 'this.add(#)', `new ${again === 'Clerk' ? 'Clerk(2).add' : 'Clerk(this.tons, 4).add'}(#)`] }, ['this.count'])}\n  choose(kind: Kind, n: number): number {\n${kindSwitch(reach)}  }\n\n  sum(n: number): number {\n${repeated}  }\n${extra}}\n`.replace("import { due, rate } from '../base/rates'\n", "import { due, rate } from '../base/rates'\n")
  }
  // Ways to say the same: private names, members that are functions, imports of other forms, a collaborator that is handed in if one likes.
  const oddly = (text: string, isDesk: boolean): string => {
    let said = text
    if (chance(3)) said = said.replace('private count = ', '#count = ').replaceAll('this.count', 'this.#count')
    if (isDesk && chance(3)) said = said.replace('  add(n: number): number {', '  readonly add = (n: number): number => {')
    if (chance(4)) said = said.replace("import { due, rate } from '../base/rates'", "import * as rates from '../base/rates'").replace(/\b(due|rate)\(/g, 'rates.$1(')
    else if (chance(4)) said = said.replace('import { due, rate }', 'import { due as owed, rate }').replace(/\bdue\(/g, 'owed(')
    if (chance(4)) said = said.replace(/import \{ Registry \} from '..\/base\/registry'\nimport \{ shared \} from '..\/base\/shared'/, "import { Registry, shared } from '../base'")
    if (chance(3)) said = said.replace("    clerk.note(this.tons)\n", "    const { tons, mark } = this\n    clerk.note(tons + mark.length)\n")
    return said
  }
  const odd = (): string => `import { Clerk } from '../base/clerk'\nimport { tick } from '../log'\n\nexport enum Size { Small, Large = 'large' }\n\nexport abstract class Base<T extends { readonly n: number }> {\n  protected readonly seen: T[] = []\n  constructor(readonly first: T) { this.seen.push(first); ${chance(2) ? 'this.begin(first.n)' : ''} }\n  protected abstract begin(n: number): void\n  all(): number { return this.seen.reduce((sum, one) => sum + one.n, 0) }\n}\n
export class Odd extends Base<{ n: number; name?: string }> {
  static made = 0
  private readonly listeners: ((n: number) => void)[] = []
  private next?: Odd
  readonly clerk = new Clerk(${upTo(5)}, ${upTo(5)})

  constructor(n = ${upTo(9)}, private readonly size: Size = Size.Small, ...more: readonly number[]) { super({ n: n + more.length }); Odd.made++ }

  protected begin(n: number): void { tick(n, 'g') }
  get last(): number { return this.seen.at(-1)?.n ?? ${value({ numbers: ['Odd.made', 'this.seen.length'], calls: ['tick(#)'] })} }
  set last(n: number) { this.seen.push({ n, name: \`at \${n}\` }) }
  on(run: (n: number) => void): this { this.listeners.push(run); return this }
  *each(): Generator<number> { for (const { n } of this.seen) yield n }

  add(n: number): number {
    this.last = n
    for (const run of this.listeners) run(n)
    this.next ??= n > ${upTo(6)} ? new Odd(n, Size.Large, 1, 2) : undefined
    const [one = 0, ...rest] = this.each()
${body({ numbers: ['n', 'one', 'rest.length', 'this.last', 'Odd.made'], calls: ['tick(#)', 'this.clerk.add(#)', '(this.next?.all() ?? 0) + #', "(this.size === Size.Large ? 1 : 2)"] }, [], '    ')}  }

  weigh(): number {
    try {
      if (this.seen.length > ${1 + upTo(3)}) throw new RangeError('full')
      return this.clerk.total()
    } catch (error) {
      return tick(error instanceof RangeError ? error.message.length : 0, 'e')
    }
  }
}
`
  const desk = office('Desk', { type: 'Clerk', field: 'clerk', path: '', made: pick('new Clerk(2)', 'new Clerk(3, 5)') }, '')
  const deskMade = /readonly clerk: Clerk\)/.test(desk) ? "new Desk('d', 2, new Clerk(4))" : "new Desk('d', 2)"
  const ledger = office('Ledger', { type: 'Desk', field: 'desk', path: "import { Desk } from './desk'\n", made: deskMade }, `\n  weigh(thing: Clerk | Desk, n: number): number {\n    if (thing instanceof Desk) return thing.tons + n\n    return thing.add(n)\n  }\n`)
  const isLedgerHanded = /readonly desk: Desk\)/.test(ledger), ledgerArguments = (mark: string) => `'${mark}', ${1 + upTo(5)}${isLedgerHanded ? `, ${deskMade}` : ''}`
  const big = `import { tick } from '../log'\n${isLedgerHanded ? "import type { Desk } from './desk'\n" : ''}import { Ledger } from './ledger'\n\nexport class BigLedger extends Ledger {\n  constructor(mark: string, private readonly bonus: number${isLedgerHanded ? ', desk: Desk' : ''}) { super(mark, bonus + 1${isLedgerHanded ? ', desk' : ''}) }\n\n  override add(n: number): number { return super.add(n) + tick(this.bonus, 's') }\n}\n`
  const paper = `import { existsSync } from 'node:fs'\nimport { tick } from '../log'\n\nexport class Paper {\n  private static folder = 'none'\n\n  static isFiled(n: number): boolean { return existsSync(Paper.folder + n) || n > ${upTo(4)} }\n\n${method('file', { numbers: ['n', 'Paper.folder.length'], calls: ['tick(#)', '(Paper.isFiled(#) ? 1 : 3)'] }, [], 'static ')}}\n`
  const form = `import { tick } from '../log'\nimport type { Clerk } from './clerk'\nimport { Paper } from './paper'\n\nexport class Form {\n  constructor(readonly mark: string, readonly tons: number, private readonly length: number, private readonly width: number, readonly kind: string, private readonly clerk: Clerk) {}\n\n${method('add', { numbers: ['n', 'this.tons', 'this.length', 'this.width', 'this.mark.length'], calls: ['tick(#)', 'this.clerk.add(#)', 'Paper.file(#)', '(Paper.isFiled(#) ? 2 : 1)'] }, [])}\n  // What it costs.\n  charge(clerk: Clerk, n: number): number {\n${chance(2) ? '    tick(this.tons)\n' : ''}    clerk.note(n)\n    clerk.note(${upTo(9)})\n    return clerk.total() + clerk.add(n)\n  }\n\n  area(): number { return this.length * this.width + this.kind.length }\n}\n`
  const store = `import { tick } from '../log'\n\nexport interface Store {\n  put(n: number): void\n  take(n: number): number\n  size(): number\n  clear(): void\n}\n\nexport class Shelf implements Store {\n  private all: number[] = []\n\n  put(n: number): void { this.all.push(n); tick(n, 'p') }\n  take(n: number): number { return this.all[n] ?? tick(n, 'q') }\n  size(): number { return this.all.length }\n  clear(): void { this.all = [] }\n}\n`
  const steps = (field: string) => `    this.store.put(${field})\n    this.clerk.note(${field})\n    const size = this.store.take(0) + this.clerk.total()\n    tick(size, 'r')\n`
  const users = `import type { Clerk } from '../base/clerk'\nimport type { Store } from '../base/store'\nimport { Paper } from '../base/paper'\nimport { tick } from '../log'\n\nexport class Front {\n  constructor(private readonly store: Store, private readonly clerk: Clerk) {}\n\n  add(n: number): number {\n${steps('n')}    return size + Paper.file(n)\n  }\n}\n\nexport class Back {\n  private last = 1\n\n  constructor(private readonly store: Store, private readonly clerk: Clerk) {}\n\n  add(n: number): number {\n    this.last = n\n${steps('this.last')}    return this.last + (Paper.isFiled(n) ? size : 0)\n  }\n}\n\n/** Only looks. */\nexport class Viewer {\n  constructor(private readonly store: Store) {}\n\n  add(n: number): number { return this.store.size() > n ? tick(n, 'v') : this.store.size() }\n}\n`
  const lines = body({ numbers: ['n', 'this.tons'], calls: ['tick(#)', 'due(#)', 'Tables.of(#)'] }, [], '    ', 4 + upTo(3)).replace(/ {4}return (.*)\n$/, '    const shown = $1\n')
  const board = `import { Panel } from 'frame'\nimport { due } from '../base/rates'\nimport { Tables } from '../base/tables'\nimport { tick } from '../log'\n\nexport class Board extends Panel {\n  constructor(private readonly tons: number) { super() }\n\n  add(n: number): number {\n    this.show('add', n)\n${lines}    this.show('shown', shown)\n    return shown\n  }\n}\n`
  const setUp = (at: number) => `  test('${at}', () => {\n    const clerk = new Clerk(2, 7)\n    clerk.note(${upTo(5)})\n    const form = new Form('f', 2, 3, ${upTo(9)}, 'flat', clerk)\n    tick(form.add(${at}))\n    tick(form.area())\n    tick(clerk.total())\n  })\n`
  const isDefault = chance(3)
  const files: Files = {
    'base/paper.ts': paper, 'base/form.ts': form, 'base/store.ts': store, 'office/users.ts': users, 'office/board.ts': board,
    'test/form.test.ts': `import { Clerk } from '../base/clerk'\nimport { Form } from '../base/form'\nimport { test, tick } from '../log'\n\nexport function formTests(): void {\n${setUp(1)}${setUp(2)}${setUp(3)}}\n`,
    'log.ts': "export const all: string[] = []\nexport function tick(n: number, mark = 't'): number { all.push(mark + n); return n }\nexport function test(name: string, run: () => void): void { all.push(name); run() }\n",
    'base/kinds.ts': "export type Kind = 'flat' | 'barge' | 'tug' | 'raft'\n\nexport interface Counter { add(n: number): number; total(): number }\n",
    'base/tables.ts': tables, 'base/rates.ts': `${rates.includes('new Clerk') ? "import { Clerk } from './clerk'\n" : ''}${kindOf}${rates}`, 'base/clerk.ts': clerk, 'base/registry.ts': registry,
    'base/shared.ts': "import { Clerk } from './clerk'\n\nexport const shared = new Clerk(2)\n",
    'office/desk.ts': oddly(desk, true), 'office/ledger.ts': oddly(ledger, false), 'office/odd.ts': odd(), 'base/index.ts': "export * from './registry'\nexport { shared } from './shared'\nexport { Tables as Lists } from './tables'\n", 'office/big-ledger.ts': big,
    'main.ts': `import { Clerk } from './base/clerk'\nimport { told as of } from './base/rates'\nimport { Desk } from './office/desk'\nimport { BigLedger } from './office/big-ledger'\nimport { Ledger } from './office/ledger'\nimport { Form } from './base/form'\nimport { Shelf } from './base/store'\nimport { Board } from './office/board'\nimport { Odd, Size } from './office/odd'\nimport { Back, Front, Viewer } from './office/users'\nimport { formTests } from './test/form.test'\nimport { all, tick } from './log'\n\nconst shelf = new Shelf(), clerk = new Clerk(5), form = new Form('m', 4, 2, 3, 'tug', clerk)\nfor (const one of [new Front(shelf, clerk), new Back(shelf, clerk), new Viewer(shelf), new Board(3), form]) { tick(one.add(2)); tick(one.add(7)) }\ntick(form.charge(clerk, 3)); tick(form.area()); formTests()\nconst odd = new Odd(2), other = new Odd(undefined, Size.Large, 4).on(n => tick(n, 'o'))\nfor (const one of [odd, other]) { tick(one.add(3)); tick(one.add(9)); tick(one.weigh()); tick(one.all()); tick(one.last) }\nconst desk = ${deskMade}, ledger = new Ledger(${ledgerArguments('l')}), big = new BigLedger('b', 3${isLedgerHanded ? `, ${deskMade}` : ''})\nfor (const one of [desk, ledger, big]) {\n  tick(one.add(2)); tick(one.work(3)); tick(one.choose('${pick('flat', 'tug', 'raft')}', 4)); tick(one.choose('barge', 1)); tick(one.sum(2)); tick(one.work(1))\n}\ntick(ledger.weigh(desk, 1)); tick(big.weigh(new Clerk(1), 6)); tick(of('${pick('flat', 'barge')}', 2)); tick(of('tug', 5)); tick(of('raft', 1))\nexport const told = all.join(' ')\n`
  }
  return isDefault ? Object.fromEntries(Object.entries(files).map(([path, text]) => [path, text.replace('export class Clerk', 'export default class Clerk').replace(/import( type)? \{ Clerk \} from/g, 'import$1 Clerk from')])) : files
}
