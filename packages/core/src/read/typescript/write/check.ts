import ts from 'typescript'
import type { TextEdit } from '../../../edit/text-edit.js'
import { offsetMapper } from '../../../edit/text-edit.js'
import type { FileFacts, ReferenceFacts } from '../../../model/facts.js'
import type { Snapshot } from '../session.js'
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

function keyOf(diagnostic: ts.Diagnostic): string {
  return `${diagnostic.code} ${ts.flattenDiagnosticMessageText(diagnostic.messageText, '\n')}`
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
      else found.push(diagnostic)
    }
  }
  return found
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

/**
 * Binding kept (definitions.md): every reference that existed and was not edited away binds to what it bound to before,
 * or to what the plan says; nothing that was bound is unresolved now. Returns the first that breaks it, in words.
 */
export function brokenBinding(
  before: Snapshot, after: Snapshot, edits: ReadonlyMap<string, readonly TextEdit[]>, planned: readonly PlannedRebinding[]
): string | null {
  const now = new Map(after.facts.files.map(facts => [facts.path, facts]))
  for (const old of before.facts.files) {
    const facts = now.get(old.path)
    if (!facts || facts === old) continue
    const broken = compareFile(old, facts, edits.get(old.path) ?? [], planned)
    if (broken) return broken
  }
  return null
}

function compareFile(old: FileFacts, now: FileFacts, edits: readonly TextEdit[], planned: readonly PlannedRebinding[]): string | null {
  const map = offsetMapper(edits)
  const at = new Map<string, ReferenceFacts[]>()
  for (const reference of now.references) {
    const key = `${reference.span.start}`
    const list = at.get(key)
    if (list) list.push(reference)
    else at.set(key, [reference])
  }
  for (const reference of old.references) {
    if (reference.kind === 'imports-only') continue
    const place = map(reference.span.start, reference.span.end)
    if (!place) continue
    const found = at.get(`${place.start}`) ?? []
    const same = found.some(other => other.to === reference.to && other.member === reference.member)
    if (same) continue
    const rebound = found.some(other => other.member === reference.member &&
      planned.some(plan => plan.types.has(reference.to) && plan.to === other.to))
    if (rebound) continue
    // A use of a member that this very type now declares or holds is no reference to another type any more.
    if (found.length === 0 && planned.some(plan => plan.types.has(reference.to) && plan.to === reference.from)) continue
    const was = reference.member ? `${reference.to}.${reference.member}` : reference.to
    const is = found[0] ? (found[0].member ? `${found[0].to}.${found[0].member}` : found[0].to) : 'nothing'
    return `${old.path}:${reference.span.line}: a name that meant ${was} would mean ${is}`
  }
  if (now.unresolved.length > old.unresolved.length) {
    const known = new Set(old.unresolved.map(name => name.name))
    const fresh = now.unresolved.find(name => !known.has(name.name))
    if (fresh) return `${old.path}:${fresh.span.line}: ${fresh.name} would not be understood any more`
  }
  return null
}
