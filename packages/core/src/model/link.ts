import type { BehaviourUse, CodeModel, ModelFile, ModelType } from './code-model.js'
import { Phase, ReferenceTable } from './code-model.js'
import type { FileFacts } from './facts.js'
import { REFERENCE_KINDS } from './facts.js'
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
 * references by their place; references to types that no file declares become unresolved. O(facts).
 */
export function linkModel(allFacts: readonly FileFacts[], moduleOf: ModuleRule = folderRule): CodeModel {
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
        constructorParameters: type.constructorParameters
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
  const strings: string[] = ['']
  const stringIndex = new Map<string, number>([['', 0]])
  const intern = (text: string): number => {
    let at = stringIndex.get(text)
    if (at === undefined) { at = strings.length; strings.push(text); stringIndex.set(text, at) }
    return at
  }
  const kindIndex = new Map(REFERENCE_KINDS.map((kind, index) => [kind, index]))
  const behaviour = new Map<number, BehaviourUse>()
  const unresolved: CodeModel['unresolved'][number][] = []
  const overrides: CodeModel['overrides'][number][] = []
  let at = 0
  facts.forEach((file, fileIndex) => {
    for (const name of file.unresolved) {
      unresolved.push({ file: fileIndex, line: name.span.line, column: name.span.column, name: name.name, reason: name.reason })
    }
    for (const pair of file.overrides) {
      const type = typeIndex.get(pair.type), base = typeIndex.get(pair.base)
      if (type !== undefined && base !== undefined) overrides.push({ type, base, member: pair.member })
    }
    for (const reference of file.references) {
      const from = typeIndex.get(reference.from)
      const to = reference.external ? -1 : typeIndex.get(reference.to)
      if (from === undefined || to === undefined) {
        unresolved.push({
          file: fileIndex, line: reference.span.line, column: reference.span.column,
          name: reference.member || reference.to, reason: 'declared in a file that is not read'
        })
        continue
      }
      columns.file[at] = fileIndex
      columns.start[at] = reference.span.start
      columns.end[at] = reference.span.end
      columns.line[at] = reference.span.line
      columns.column[at] = reference.span.column
      columns.from[at] = from
      columns.to[at] = to
      columns.kind[at] = kindIndex.get(reference.kind)!
      columns.typeOnly[at] = reference.typeOnly ? 1 : 0
      columns.member[at] = intern(reference.member)
      columns.inMember[at] = intern(reference.inMember)
      columns.external[at] = reference.external ? intern(reference.to) : 0
      if (reference.origins) {
        behaviour.set(at, {
          origins: reference.origins, throughAbstraction: reference.throughAbstraction,
          receiver: reference.receiver, inertTarget: reference.inertTarget
        })
      }
      at++
    }
  })
  const trimmed = Object.fromEntries(
    Object.entries(columns).map(([name, column]) => [name, column.subarray(0, at)])
  ) as typeof columns
  return {
    phase: Phase.Bound, files, types, typeIndex, references: new ReferenceTable(trimmed, strings, behaviour), overrides,
    unresolved, problems: facts.flatMap(file => file.problems.map(problem => ({ file: file.path, ...problem })))
  }
}
