import type { CodeModel, ModelFile, ModelType, OwnUse, TypeSwitch } from './code-model.js'
import { Phase, ReferenceTable } from './code-model.js'
import type { FileFacts, ReferenceFacts } from './facts.js'
import { REFERENCE_KINDS } from './facts.js'
import type { BehaviourUse, Held } from './held.js'
import { heldBy } from './held.js'
import { NameTable } from './name-table.js'
import { compareText } from './order.js'

/** Gives the module of a file that names none itself: the path of a folder. */
export type ModuleRule = (path: string) => string

/** The folder rule: a file belongs to its folder; `.` is the root. Roots other than the project's are stripped first. */
export function folderRule(path: string): string {
  const slash = path.lastIndexOf('/')
  return slash < 0 ? '.' : path.slice(0, slash)
}

/**
 * Joins the facts of all files into one model. Pure and deterministic: files are ordered by path, types by their place,
 * references by their place; references to types that no file declares become unresolved. O(facts). `table`: of an earlier
 * model, whose numbers are used again.
 */
export function linkModel(allFacts: readonly FileFacts[], moduleOf: ModuleRule = folderRule, table = new NameTable()): CodeModel {
  const facts = [...allFacts].sort((a, b) => compareText(a.path, b.path))
  const files: ModelFile[] = []
  const types: ModelType[] = []
  const typeIndex = new Map<string, number>()
  const outer = new Map<number, string>()
  facts.forEach((file, fileIndex) => {
    const module = file.module ?? moduleOf(file.path)
    files.push({ path: file.path, lines: file.lines, test: file.test, language: file.language, module })
    for (const type of file.types) {
      const index = types.length
      typeIndex.set(type.id, index)
      if (type.outer) outer.set(index, type.outer)
      types.push({
        index, id: type.id, name: type.name, kind: type.kind, file: fileIndex, line: type.span.line, lines: type.lines,
        start: type.span.start, end: type.span.end, test: file.test, exported: type.exported, inert: type.inert,
        module, outermost: index, members: type.members,
        parameters: type.parameters
      })
    }
  })
  for (const [index, outerId] of outer) {
    let at = typeIndex.get(outerId)
    while (at !== undefined && outer.has(at)) at = typeIndex.get(outer.get(at)!)
    if (at !== undefined) types[index] = { ...types[index]!, outermost: at }
  }

  const count = facts.reduce((sum, file) => sum + file.references.length, 0)
  const ints = () => new Int32Array(count)
  const columns = {
    file: ints(), start: ints(), end: ints(), line: ints(), column: ints(), from: ints(), to: ints(), member: ints(),
    inMember: ints(), external: ints(), kind: new Uint8Array(count), typeOnly: new Uint8Array(count)
  }
  const behaviour = new Array<BehaviourUse | null>(count).fill(null), holds = new Array<Held | null>(count).fill(null)
  const unresolved: CodeModel['unresolved'][number][] = []
  const overrides: CodeModel['overrides'][number][] = []
  const ownUses: OwnUse[] = [], typeSwitches: TypeSwitch[] = []
  let at = 0
  facts.forEach((file, fileIndex) => {
    for (const name of file.unresolved) {
      unresolved.push({
        file: fileIndex, line: name.span.line, column: name.span.column, name: name.name, reason: name.reason, from: typeIndex.get(name.from) ?? -1, inMember: name.inMember
      })
    }
    for (const { type, span, inMember, member, kind } of file.ownUses) {
      const index = typeIndex.get(type)
      if (index !== undefined) ownUses.push({ type: index, file: fileIndex, line: span.line, column: span.column, start: span.start, end: span.end, inMember, member, kind })
    }
    for (const { type, span, inMember, over, cases, word } of file.typeSwitches) {
      const index = typeIndex.get(type)
      if (index !== undefined) typeSwitches.push({ type: index, file: fileIndex, line: span.line, column: span.column, inMember, over, cases, word })
    }
    for (const pair of file.overrides) {
      const type = typeIndex.get(pair.type), base = typeIndex.get(pair.base)
      if (type !== undefined && base !== undefined) overrides.push({ type, base, member: pair.member })
    }
    const own = columnsOf(file)
    const place = own.typeIds.map(id => typeIndex.get(id) ?? MISSING), names = numbersOf(own, table)
    if (!place.includes(MISSING)) {
      // Nothing of it is left out, which is what most files are like: columns are copied whole.
      columns.file.fill(fileIndex, at, at + own.references.length)
      for (const name of ['start', 'end', 'line', 'column', 'kind', 'typeOnly'] as const) columns[name].set(own[name], at)
      for (let row = 0; row < own.references.length; row++, at++) {
        const to = own.to[row]!
        columns.from[at] = place[own.from[row]!]!
        columns.to[at] = to < 0 ? -1 : place[to]!
        columns.member[at] = names[own.member[row]!]!
        columns.inMember[at] = names[own.inMember[row]!]!
        columns.external[at] = to < 0 ? names[own.external[row]!]! : 0
        behaviour[at] = own.uses[row]!
        holds[at] = own.holds[row]!
      }
      return
    }
    for (let row = 0; row < own.references.length; row++) {
      const from = place[own.from[row]!]!
      const external = own.to[row]! < 0
      const to = external ? -1 : place[own.to[row]!]!
      if (from === MISSING || to === MISSING) {
        const reference = own.references[row]!
        unresolved.push({
          file: fileIndex, line: reference.span.line, column: reference.span.column,
          name: reference.member || reference.to, reason: 'declared in a file that is not read', from: from === MISSING ? -1 : from, inMember: reference.inMember
        })
        continue
      }
      columns.file[at] = fileIndex
      for (const name of ['start', 'end', 'line', 'column', 'kind', 'typeOnly'] as const) columns[name][at] = own[name][row]!
      columns.from[at] = from
      columns.to[at] = to
      columns.member[at] = names[own.member[row]!]!
      columns.inMember[at] = names[own.inMember[row]!]!
      columns.external[at] = external ? names[own.external[row]!]! : 0
      behaviour[at] = own.uses[row]!
      holds[at] = own.holds[row]!
      at++
    }
  })
  const trimmed = Object.fromEntries(
    Object.entries(columns).map(([name, column]) => [name, column.subarray(0, at)])
  ) as typeof columns
  return {
    phase: Phase.Bound, files, types, typeIndex, references: new ReferenceTable(trimmed, table, behaviour, holds), ownUses, typeSwitches, overrides,
    unresolved, problems: facts.flatMap(file => file.problems.map(problem => ({ file: file.path, ...problem })))
  }
}

const MISSING = -2

/** The references of one file in columns, its names numbered: made once for its facts, which most often outlive many models. */
interface FileColumns {
  readonly references: readonly ReferenceFacts[]
  readonly typeIds: readonly string[]
  readonly names: readonly string[]
  readonly from: Int32Array
  /** -1 for externals. */
  readonly to: Int32Array
  readonly start: Int32Array
  readonly end: Int32Array
  readonly line: Int32Array
  readonly column: Int32Array
  readonly member: Int32Array
  readonly inMember: Int32Array
  readonly external: Int32Array
  readonly kind: Uint8Array
  readonly typeOnly: Uint8Array
  readonly uses: readonly (BehaviourUse | null)[]
  readonly holds: readonly (Held | null)[]
}

/** The numbers of a file's names in a table, remembered for the last one. */
const numbered = new WeakMap<FileColumns, { readonly table: NameTable; readonly numbers: Int32Array }>()

function numbersOf(columns: FileColumns, table: NameTable): Int32Array {
  const known = numbered.get(columns)
  if (known?.table === table) return known.numbers
  const numbers = Int32Array.from(columns.names, name => table.numberOf(name))
  numbered.set(columns, { table, numbers })
  return numbers
}

const KINDS = new Map(REFERENCE_KINDS.map((kind, index) => [kind, index]))
const known = new WeakMap<readonly ReferenceFacts[], FileColumns>()

function columnsOf({ references, types: declared }: FileFacts): FileColumns {
  const before = known.get(references)
  if (before) return before
  const count = references.length
  const ints = () => new Int32Array(count)
  const numbered = () => {
    const list: string[] = [], places = new Map<string, number>()
    return { list, at: (text: string): number => { let at = places.get(text); if (at === undefined) { at = list.length; list.push(text); places.set(text, at) } return at } }
  }
  const types = numbered(), names = numbered()
  // Uses of behaviour stand in types of the same file, so that how they hold what they use is known from it alone.
  const membersOf = new Map(declared.map(type => [type.id, type.members]))
  const uses = references.map(({ origins, throughAbstraction, receiver, inertTarget }) => origins ? { origins, throughAbstraction, receiver, inertTarget } : null)
  const made = {
    references, typeIds: types.list, names: names.list, from: ints(), to: ints(), start: ints(), end: ints(), line: ints(), column: ints(), member: ints(), inMember: ints(), external: ints(),
    kind: new Uint8Array(count), typeOnly: new Uint8Array(count), uses,
    holds: uses.map((use, row) => use && heldBy(use, membersOf.get(references[row]!.from) ?? []))
  }
  references.forEach((reference, row) => {
    made.from[row] = types.at(reference.from)
    made.to[row] = reference.external ? -1 : types.at(reference.to)
    made.external[row] = reference.external ? names.at(reference.to) : 0
    made.start[row] = reference.span.start
    made.end[row] = reference.span.end
    made.line[row] = reference.span.line
    made.column[row] = reference.span.column
    made.kind[row] = KINDS.get(reference.kind)!
    made.typeOnly[row] = reference.typeOnly ? 1 : 0
    made.member[row] = names.at(reference.member)
    made.inMember[row] = names.at(reference.inMember)
  })
  known.set(references, made)
  return made
}
