import type ts from 'typescript'
import type { FileFacts } from '../../model/facts.js'
import { compareText } from '../../model/order.js'
import type { FileSource } from '../file-source.js'
import { OverlayFileSource } from '../file-source.js'
import type { CodeState, ProjectFacts, ReadProgress } from '../language.js'
import type { ProjectSettings } from '../settings.js'
import { Declarations } from './declarations.js'
import type { ExtractContext } from './extract.js'
import { extractFile } from './extract.js'
import type { TypeScriptProjectFiles } from './project-files.js'
import { findProjectFiles, unreadableProblem } from './project-files.js'
import { openProgram, ParsedFiles } from './program.js'
import { isGlobalFile, visibleText } from './visible-text.js'

/** One state of the project's text, with its program. Never changes; its facts are read when they are first asked for. */
export interface Snapshot extends CodeState {
  readonly program: ts.Program
  readonly files: TypeScriptProjectFiles
  readonly facts: ProjectFacts
  readonly source: FileSource
  readonly declarations: Declarations
  readonly checker: ts.TypeChecker
  /** Path from the root of a file that is read, or undefined for one outside. */
  readonly pathOf: (file: ts.SourceFile) => string | undefined
  readonly paths: ReadonlyMap<ts.SourceFile, string>
}

/**
 * Reads a TypeScript project again and again. What was parsed and read once is used again as long as neither the file
 * nor the visible shape of anything it imports has changed, and the result is the same as that of a fresh reading.
 */
export class TypeScriptSession {
  private readonly parsed: ParsedFiles

  constructor(readonly root: string, readonly settings: ProjectSettings, readonly libraryFolder: string) {
    this.parsed = new ParsedFiles(libraryFolder)
  }

  /** Reads the state that `source` shows, facts included. `before` is any earlier snapshot of the same session. */
  read(source: FileSource, before?: Snapshot, progress?: ReadProgress, stop?: () => void): Snapshot {
    progress?.('finding', 0, 0)
    const files = findProjectFiles(source, this.root, this.settings, stop)
    progress?.('parsing', 0, files.sources.length)
    const snapshot = this.open(source, files, before, progress, stop)
    void snapshot.facts
    return snapshot
  }

  /** The state in which some texts of `before` are others: absolute path to text, or null for a file that is gone. */
  edit(before: Snapshot, texts: ReadonlyMap<string, string | null>): Snapshot {
    const sources = new Set(before.files.sources)
    for (const [path, text] of texts) {
      const relative = path.slice(this.root.length + 1)
      if (!/\.[cm]?[jt]sx?$/.test(relative)) continue
      if (text === null) sources.delete(relative)
      else sources.add(relative)
    }
    const files = { ...before.files, sources: [...sources].sort(compareText), isSource: (path: string) => sources.has(path) }
    return this.open(new OverlayFileSource(texts, before.source), files, before)
  }

  private open(source: FileSource, files: TypeScriptProjectFiles, before?: Snapshot, progress?: ReadProgress, stop?: () => void): Snapshot {
    const { program, unreadable } = openProgram(source, this.root, files, this.parsed, this.libraryFolder, before?.program)
    stop?.()
    const paths = new Map<ts.SourceFile, string>()
    for (const path of files.sources) {
      const file = program.getSourceFile(`${this.root}/${path}`)
      if (file) paths.set(file, path)
    }
    const pathOf = (file: ts.SourceFile) => paths.get(file)
    const checker = program.getTypeChecker()
    const declarations = new Declarations(checker, pathOf)
    const readFacts = (): ProjectFacts => {
      const context: ExtractContext = { program, checker, declarations, pathOf, isTest: files.isTest, meanings: new Map(), inert: new Map() }
      const kept = before ? this.stillValid(before, program, paths) : new Map<string, FileFacts>()
      const facts: FileFacts[] = []
      for (const [file, path] of [...paths].sort((a, b) => compareText(a[1], b[1]))) {
        stop?.()
        facts.push(kept.get(path) ?? extractFile(file, context))
        if (facts.length % 20 === 0 || facts.length === paths.size) progress?.('reading', facts.length, paths.size)
      }
      const problems = [...files.problems]
      for (const [path, reason] of unreadable) if (files.isSource(path)) problems.push(unreadableProblem(path, reason))
      return {
        files: facts, unread: files.unread, notInstalled: files.notInstalled, excluded: files.excluded,
        problems: problems.sort((a, b) => compareText(a.file, b.file) || a.line - b.line)
      }
    }
    let facts: ProjectFacts | undefined
    return {
      program, files, source, declarations, checker, pathOf, paths, sources: files.sources,
      textOf: path => program.getSourceFile(`${this.root}/${path}`)?.text, get facts() { return facts ??= readFacts() }
    }
  }

  /** Facts of an earlier snapshot that still hold in a new program. */
  private stillValid(before: Snapshot, program: ts.Program, paths: ReadonlyMap<ts.SourceFile, string>): Map<string, FileFacts> {
    const old = new Map(before.facts.files.map(facts => [facts.path, facts]))
    const kept = new Map<string, FileFacts>()
    const changed: { file: ts.SourceFile; path: string }[] = []
    for (const [file, path] of paths) {
      if (old.has(path) && before.program.getSourceFile(file.fileName) === file) kept.set(path, old.get(path)!)
      else changed.push({ file, path })
    }
    if (JSON.stringify(optionsKey(before.program)) !== JSON.stringify(optionsKey(program))) return new Map()
    const was = (file: ts.SourceFile) => before.program.getSourceFile(file.fileName)
    const visible = changed.map(({ file }) => file).filter(file => { const known = was(file); return !known || visibleText(file) !== visibleText(known) })
    const gone = [...before.paths].filter(([, path]) => !program.getSourceFile(`${this.root}/${path}`)).map(([file]) => file)
    if ([...visible, ...gone].some(file => isGlobalFile(file) || isGlobalFile(was(file) ?? file))) return new Map()
    // Where files came or went, an import of a file that did not change can lead elsewhere.
    const hasOther = gone.length > 0 || changed.some(({ path }) => !old.has(path))
    const rerouted = hasOther ? [...paths.keys()].filter(file => kept.has(paths.get(file)!) && resolvedNames(program, file).join() !== resolvedNames(before.program, file).join()) : []
    for (const path of importersOf(program, [...visible, ...rerouted], paths)) kept.delete(path)
    return kept
  }
}

function optionsKey(program: ts.Program): unknown {
  return program.getCompilerOptions()
}

/** Paths of the files that import any of the given ones, directly or not. */
export function importersOf(program: ts.Program, files: readonly ts.SourceFile[], paths: ReadonlyMap<ts.SourceFile, string>): Set<string> {
  if (files.length === 0) return new Set()
  const importers = new Map<ts.SourceFile, ts.SourceFile[]>()
  for (const file of paths.keys()) {
    for (const target of importedFiles(program, file)) {
      const list = importers.get(target)
      if (list) list.push(file)
      else importers.set(target, [file])
    }
  }
  const reached = new Set<ts.SourceFile>(files)
  const open = [...files]
  while (open.length > 0) {
    for (const importer of importers.get(open.pop()!) ?? []) if (!reached.has(importer)) { reached.add(importer); open.push(importer) }
  }
  return new Set([...reached].flatMap(file => paths.get(file) ?? []))
}

/** The files that a file's imports, exports and import types lead to. */
export function importedFiles(program: ts.Program, file: ts.SourceFile): ts.SourceFile[] {
  return resolvedNames(program, file).flatMap(name => program.getSourceFile(name) ?? [])
}

/** Names of the files that imports lead to, in order; '' for one that leads nowhere. */
function resolvedNames(program: ts.Program, file: ts.SourceFile): string[] {
  const literals = (file as ts.SourceFile & { imports?: readonly ts.StringLiteralLike[] }).imports ?? []
  return literals.map(literal => (program as ts.Program & {
    getResolvedModuleFromModuleSpecifier(literal: ts.StringLiteralLike, file: ts.SourceFile): { resolvedModule?: ts.ResolvedModuleFull } | undefined
  }).getResolvedModuleFromModuleSpecifier(literal, file)?.resolvedModule?.resolvedFileName ?? '')
}
