import ts from 'typescript'
import type { TextEdit } from '../../../edit/text-edit.js'
import { offsetMapper } from '../../../edit/text-edit.js'
import type { FileFacts, ReferenceFacts } from '../../../model/facts.js'
import type { Snapshot, TypeScriptSession } from '../session.js'
import { importersOf } from '../session.js'

/** Diagnostics of the files of one snapshot, each computed once. */
const computed = new WeakMap<ts.Program, Map<string, readonly ts.Diagnostic[]>>()

export function diagnosticsOf(snapshot: Snapshot, path: string, file: ts.SourceFile): readonly ts.Diagnostic[] {
  let known = computed.get(snapshot.program)
  if (!known) computed.set(snapshot.program, known = new Map())
  let diagnostics = known.get(path)
  if (!diagnostics) {
    diagnostics = [...snapshot.program.getSyntacticDiagnostics(file), ...snapshot.program.getSemanticDiagnostics(file)]
    known.set(path, diagnostics)
  }
  return diagnostics
}

/**
 * What an error says, wherever it stands. Its head alone, and the members of a union in no order: how far the compiler explains it, and in
 * which order it names what may be, depends on what it has looked at before.
 */
export function keyOf(diagnostic: ts.Diagnostic): string {
  const { code, messageText } = diagnostic, head = typeof messageText === 'string' ? messageText : messageText.messageText
  return `${code} ${head.replace(/'[^']* \| [^']*'/g, unordered)}`
}

/** A union as it is told, sorted; of one that is told in part only how many there are. */
function unordered(union: string): string {
  const members = union.slice(1, -1).split(' | '), left = members.map(one => /^\.\.\. (\d+) more \.\.\.$/.exec(one)).find(one => one)
  return left ? `'${members.length - 1 + Number(left[1])} members'` : `'${members.sort().join(' | ')}'`
}

/** Errors that a changed state has beyond those it had before, compared as multisets file by file. */
export function newErrors(before: Snapshot, after: Snapshot, root: string, paths: Iterable<string>): ts.Diagnostic[] {
  const found: ts.Diagnostic[] = []
  for (const path of paths) {
    const file = after.program.getSourceFile(`${root}/${path}`)
    if (!file) continue
    const now = diagnosticsOf(after, path, file)
    if (now.length === 0) continue
    const old = before.program.getSourceFile(`${root}/${path}`)
    const allowed = new Map<string, number>()
    for (const diagnostic of old ? diagnosticsOf(before, path, old) : []) {
      allowed.set(keyOf(diagnostic), (allowed.get(keyOf(diagnostic)) ?? 0) + 1)
    }
    for (const diagnostic of now) {
      const left = allowed.get(keyOf(diagnostic)) ?? 0
      if (left > 0) allowed.set(keyOf(diagnostic), left - 1)
      else if (!wasMissing(diagnostic, before)) found.push(diagnostic)
    }
  }
  return found
}

/** Code of `Cannot find module`. */
const NO_MODULE = 2307

/** Packages that a project imports and that are not installed. */
const missing = new WeakMap<Snapshot, ReadonlySet<string>>()

/** Whether an error is only that a package is not installed which other files import as well. */
function wasMissing({ code, file, start, length }: ts.Diagnostic, before: Snapshot): boolean {
  if (code !== NO_MODULE || !file || start === undefined || length === undefined) return false
  let known = missing.get(before)
  if (!known) {
    const specifiers = [...before.paths.keys()].flatMap(one => one.statements.filter(ts.isImportDeclaration).map(({ moduleSpecifier }) => moduleSpecifier)).filter(ts.isStringLiteral)
    missing.set(before, known = new Set(specifiers.filter(one => !one.text.startsWith('.') && !before.checker.getSymbolAtLocation(one)).map(one => one.text)))
  }
  return known.has(file.text.slice(start + 1, start + length - 1))
}

/** Errors of a whole project by file, looked at in the compiler's own order by a checker of their own. */
const inOrder = new WeakMap<Snapshot, Map<string, ts.Diagnostic[]>>()

function errorsInOrder(snapshot: Snapshot, session: TypeScriptSession): Map<string, ts.Diagnostic[]> {
  let known = inOrder.get(snapshot)
  if (known) return known
  inOrder.set(snapshot, known = new Map())
  const { program, pathOf } = session.edit(snapshot, new Map())
  for (const error of [...program.getSyntacticDiagnostics(), ...program.getSemanticDiagnostics()]) {
    const path = error.file && pathOf(error.file)
    if (path !== undefined) known.set(path, [...known.get(path) ?? [], error])
  }
  return known
}

/**
 * Those of some new errors that the compiler finds too when it looks at the whole project in its own order. Which of two types that
 * lead to each other it looks at first can decide whether it finds them alike, so an error that only another order shows is none.
 * As long as compiling the project twice.
 */
export function errorsToCompiler(errors: readonly ts.Diagnostic[], before: Snapshot, after: Snapshot, session: TypeScriptSession): ts.Diagnostic[] {
  const isOfWhole = (error: ts.Diagnostic) => error.file === undefined || after.pathOf(error.file) === undefined
  const counted = (snapshot: Snapshot, path: string) => (errorsInOrder(snapshot, session).get(path) ?? [])
  return errors.length === 0 ? [] : errors.filter(error => {
    if (isOfWhole(error)) return true
    const path = after.pathOf(error.file!)!, key = keyOf(error)
    const count = (list: readonly ts.Diagnostic[]) => list.filter(one => keyOf(one) === key).length
    return count(counted(after, path)) > count(counted(before, path)) || counted(after, path).length > counted(before, path).length
  })
}

/** The files whose meaning a change can alter: the changed ones and all that import them, directly or not. */
export function affectedPaths(after: Snapshot, root: string, changed: Iterable<string>): string[] {
  const files = [...changed].flatMap(path => after.program.getSourceFile(`${root}/${path}`) ?? [])
  return [...importersOf(after.program, files, after.paths)].sort()
}

export function describeError(diagnostic: ts.Diagnostic, root: string): string {
  const message = ts.flattenDiagnosticMessageText(diagnostic.messageText, ' ')
  if (!diagnostic.file || diagnostic.start === undefined) return message
  const { line } = diagnostic.file.getLineAndCharacterOfPosition(diagnostic.start)
  return `${diagnostic.file.fileName.slice(root.length + 1)}:${line + 1}: ${message}`
}

/** What a plan allows to bind otherwise than before: from `type` (and any of `types`) to `to`. */
export interface PlannedRebinding {
  readonly types: ReadonlySet<string>
  readonly to: string
}

/** A piece of a file that stands in another file afterwards. */
export interface MovedText {
  readonly from: string
  readonly start: number
  readonly end: number
  readonly to: string
  /** Where it begins there. */
  readonly at: number
  /** What is different in it there; offsets are those of the file that it comes from. */
  readonly edits: readonly TextEdit[]
}

/** A name that does not mean what it did: in words, and where it stands in the changed code. */
export interface BrokenName {
  readonly message: string
  readonly path: string
  readonly start: number
}

/**
 * Binding kept (definitions.md): every reference that existed and was not edited away binds to what it bound to before,
 * or to what the plan says; nothing that was bound is unresolved now. Returns the first that breaks it.
 */
export function brokenBinding(
  before: Snapshot, after: Snapshot, edits: ReadonlyMap<string, readonly TextEdit[]>, planned: readonly PlannedRebinding[], moved: readonly MovedText[] = []
): BrokenName | null {
  const now = new Map(after.facts.files.map(facts => [facts.path, facts]))
  const startsIn = memoized((path: string) => startsOf(now.get(path)))
  for (const old of before.facts.files) {
    const facts = now.get(old.path)
    const gone = moved.filter(one => one.from === old.path)
    if ((!facts && gone.length === 0) || facts === old) continue
    const map = offsetMapper(edits.get(old.path) ?? [])
    const shifts = gone.map(one => ({ ...one, map: offsetMapper(one.edits) }))
    const foundAt = (span: ReferenceFacts['span']): FoundNames | null => {
      const moving = shifts.find(one => span.start >= one.start && span.end <= one.end)
      const place = (moving?.map ?? map)(span.start, span.end)
      if (!place) return null
      const path = moving?.to ?? old.path, start = moving ? place.start - moving.start + moving.at : place.start
      return { path, start, references: startsIn(path).get(start) ?? [] }
    }
    const broken = compareFile(old, foundAt, planned)
    if (broken) return broken
  }
  const was = new Map(before.facts.files.map(facts => [facts.path, facts]))
  for (const path of new Set([...edits.keys(), ...moved.map(one => one.to), ...was.keys()])) {
    const facts = now.get(path), old = was.get(path)
    if (!facts || facts === old) continue
    // What was not understood where it stood is not understood where it stands now.
    const sources = moved.filter(one => one.to === path && one.from !== path).flatMap(one => was.get(one.from) ?? [])
    const broken = newlyUnresolved(old ?? sources[0], sources, facts)
    if (broken) return broken
  }
  return null
}

function memoized<Result>(find: (path: string) => Result): (path: string) => Result {
  const known = new Map<string, Result>()
  return path => { if (!known.has(path)) known.set(path, find(path)); return known.get(path)! }
}

function startsOf(facts: FileFacts | undefined): Map<number, ReferenceFacts[]> {
  const at = new Map<number, ReferenceFacts[]>()
  for (const reference of facts?.references ?? []) {
    const list = at.get(reference.span.start)
    if (list) list.push(reference)
    else at.set(reference.span.start, [reference])
  }
  return at
}

/** What stands now where a reference stood. */
interface FoundNames {
  readonly path: string
  readonly start: number
  readonly references: readonly ReferenceFacts[]
}

/** `foundAt`: null where it was edited away. */
function compareFile(old: FileFacts, foundAt: (span: ReferenceFacts['span']) => FoundNames | null, planned: readonly PlannedRebinding[]): BrokenName | null {
  for (const reference of old.references) {
    if (reference.kind === 'imports-only') continue
    const place = foundAt(reference.span)
    if (!place) continue
    const { path, start, references: found } = place
    const same = found.some(other => other.to === reference.to && other.member === reference.member)
    if (same) continue
    const rebound = found.some(other => other.member === reference.member &&
      planned.some(plan => plan.types.has(reference.to) && plan.to === other.to))
    if (rebound) continue
    // A use of a member that this very type now declares or holds is no reference to another type any more.
    if (found.length === 0 && planned.some(plan => plan.types.has(reference.to) && plan.to === reference.from)) continue
    const was = reference.member ? `${reference.to}.${reference.member}` : reference.to
    const is = found[0] ? (found[0].member ? `${found[0].to}.${found[0].member}` : found[0].to) : 'nothing'
    return { message: `${old.path}:${reference.span.line}: a name that meant ${was} would mean ${is}`, path, start }
  }
  return null
}

/** A name of a file that is not understood, and was neither in it nor where moved text comes from. */
function newlyUnresolved(old: FileFacts | undefined, sources: readonly FileFacts[], now: FileFacts): BrokenName | null {
  if (old && now.unresolved.length > old.unresolved.length) {
    const known = new Set([old, ...sources].flatMap(one => one.unresolved.map(name => name.name)))
    const fresh = now.unresolved.find(name => !known.has(name.name))
    if (fresh) return { message: `${now.path}:${fresh.span.line}: ${fresh.name} would not be understood any more`, path: now.path, start: fresh.span.start }
  }
  return null
}
