import type { FileFacts } from '../../model/facts.js'
import { compareText } from '../../model/order.js'
import { Overloads } from '../binding/overloads.js'
import { Jar } from '../classfile/jar.js'
import type { StubSource } from '../classfile/stub-index.js'
import type { FileSource } from '../file-source.js'
import { OverlayFileSource, readAnyText, UNREADABLE_TEXT } from '../file-source.js'
import type { CodeState, CompilerInput, ProjectFacts, ReadProgress } from '../language.js'
import type { ProjectSettings } from '../settings.js'
import type { FlatTree } from '../syntax/flat-tree.js'
import type { Grammar } from '../syntax/grammar.js'
import { BodyBinder } from './bodies.js'
import { BoundProgram } from './bound-program.js'
import { JavaFile } from './scope.js'
import { extractJavaFile } from './extract.js'
import { JavaProgram } from './program.js'
import type { JavaProjectFiles } from './project-files.js'
import { findJavaFiles } from './project-files.js'
import { visibleText } from './visible-text.js'

/** What reading Java needs that is not in the project. */
export interface JavaTools {
  readonly grammar: Grammar
  /** Parses many texts at once, on all processors; where it is left out the grammar does it one by one. */
  readonly parseAll?: (texts: readonly string[], done: (count: number) => void) => FlatTree[]
  /** Signatures of the JDK. */
  readonly jdk: StubSource
  /** The user's home folder, below which local repositories of libraries lie. */
  readonly home: string
}

/** One state of a project's Java sources. */
export interface JavaState extends CodeState {
  readonly source: FileSource
  readonly files: JavaProjectFiles
  readonly trees: ReadonlyMap<string, FlatTree>
  /** Paths of files in an encoding that is not known for sure. */
  readonly foreign: ReadonlySet<string>
}

/** Java, parsed by a grammar and bound by our own rules: no compiler is run. */
export class JavaSession {
  private readonly jars = new Map<string, Jar | undefined>()

  constructor(readonly root: string, private readonly settings: ProjectSettings, private readonly tools: JavaTools) {}

  read(source: FileSource, before?: JavaState, progress?: ReadProgress, stop?: () => void): JavaState {
    const files = findJavaFiles(source, this.root, this.tools.home, this.settings, stop)
    if (files.sources.length > 0) progress?.('parsing', 0, files.sources.length)
    const state = this.open(source, files, before, progress, stop)
    void state.facts
    return state
  }

  edit(before: JavaState, texts: ReadonlyMap<string, string | null>): JavaState {
    const own = [...texts].filter(([path]) => path.endsWith('.java'))
    if (own.length === 0) return before
    const sources = new Set(before.files.sources)
    for (const [path, text] of own) {
      const relative = path.slice(this.root.length + 1)
      if (text === null) sources.delete(relative)
      else sources.add(relative)
    }
    const files = { ...before.files, sources: [...sources].sort(compareText) }
    const trees = new Map(before.trees)
    for (const [path, text] of own) {
      const relative = path.slice(this.root.length + 1)
      if (text === null) trees.delete(relative)
      else if (trees.get(relative)?.text !== text) trees.set(relative, this.tools.grammar.parse(text))
    }
    return this.stateOf(new OverlayFileSource(texts, before.source), files, trees, before.foreign, [...files.problems], before)
  }

  compilerInputs(at: JavaState): CompilerInput[] {
    return at.trees.size === 0 ? [] : [{ language: 'java', sources: new Map([...at.trees].map(([path, tree]) => [path, tree.text])), libraries: at.files.jars }]
  }

  private readonly boundPrograms = new WeakMap<JavaState, BoundProgram>()

  /** A state's code with what its names mean, for whoever changes it. */
  bound(state: JavaState): BoundProgram {
    let bound = this.boundPrograms.get(state)
    if (!bound) this.boundPrograms.set(state, bound = new BoundProgram(state.trees, state.foreign, [this.tools.jdk, ...state.files.jars.flatMap(path => this.jar(path, state.source, []) ?? [])]))
    return bound
  }

  private open(source: FileSource, files: JavaProjectFiles, before?: JavaState, progress?: ReadProgress, stop?: () => void): JavaState {
    const trees = new Map<string, FlatTree>()
    const problems: { file: string; line: number; message: string }[] = [...files.problems]
    const fresh: { path: string; text: string }[] = []
    const foreign = new Set<string>()
    for (const path of files.sources) {
      const outcome = readAnyText(source, `${this.root}/${path}`)
      if ('foreign' in outcome && outcome.foreign) {
        foreign.add(path)
        problems.push({ file: path, line: 1, message: 'is not valid UTF-8; it is read as ISO-8859-1, and no change is made to it' })
      }
      if (!('text' in outcome)) { problems.push({ file: path, line: 1, message: UNREADABLE_TEXT[outcome.unreadable] }); continue }
      const known = before?.trees.get(path)
      if (known?.text === outcome.text) trees.set(path, known)
      else fresh.push({ path, text: outcome.text })
    }
    const told = (done: number): void => { stop?.(); progress?.('parsing', done, fresh.length) }
    const parsed = this.tools.parseAll ? this.tools.parseAll(fresh.map(one => one.text), told)
      : fresh.map(({ text }, index) => { if (index % 20 === 0) told(index); return this.tools.grammar.parse(text) })
    fresh.forEach(({ path }, index) => trees.set(path, parsed[index]!))
    return this.stateOf(source, files, trees, foreign, problems, before, progress, stop)
  }

  /** A state whose facts are read when they are first asked for. */
  private stateOf(
    source: FileSource, files: JavaProjectFiles, trees: ReadonlyMap<string, FlatTree>, foreign: ReadonlySet<string>, problems: { file: string; line: number; message: string }[], before?: JavaState,
    progress?: ReadProgress, stop?: () => void
  ): JavaState {
    let facts: ProjectFacts | undefined
    const readFacts = (): ProjectFacts => {
      const read = trees.size === 0 ? [] : this.factsOf(trees, files, source, before, problems, progress, stop)
      return { files: read, unread: [], notInstalled: files.notInstalled, excluded: files.excluded, problems: problems.sort((a, b) => compareText(a.file, b.file) || a.line - b.line) }
    }
    return { source, files, trees, foreign, sources: files.sources, textOf: path => trees.get(path)?.text, get facts() { return facts ??= readFacts() } }
  }

  private factsOf(
    trees: ReadonlyMap<string, FlatTree>, files: JavaProjectFiles, source: FileSource, before: JavaState | undefined,
    problems: { file: string; line: number; message: string }[],
    progress?: ReadProgress, stop?: () => void
  ): FileFacts[] {
    const javaFiles = [...trees].sort((a, b) => compareText(a[0], b[0])).map(([path, tree]) => new JavaFile(path, tree))
    const libraries = files.jars.flatMap(path => this.jar(path, source, problems) ?? [])
    const program = new JavaProgram(javaFiles, [this.tools.jdk, ...libraries])
    const overloads = new Overloads(program.hierarchy, program.functions)
    const read = (file: JavaFile): FileFacts => {
      try {
        new BodyBinder(program, file, overloads).bind()
        return extractJavaFile(file, program, overloads, files.isTest(file.path))
      } catch (error) {
        // The stack is what ends first on code that nests thousands deep; no other error is one of the code's.
        if (!(error instanceof RangeError)) throw error
        problems.push({ file: file.path, line: 1, message: 'nests deeper than can be followed; it is left out' })
        return { path: file.path, language: 'java', module: file.packageName || '.', lines: 0, test: files.isTest(file.path), types: [], references: [], ownUses: [], typeSwitches: [], overrides: [], unresolved: [], problems: [] }
      }
    }
    const kept = before ? this.stillValid(before, trees, javaFiles, read) : undefined
    if (kept) return kept
    return javaFiles.map((file, index) => {
      if (index % 20 === 0) { stop?.(); progress?.('reading', index, javaFiles.length) }
      return read(file)
    })
  }

  /** The facts of an earlier state, with those files read again that changed only where other files cannot see. */
  private stillValid(before: JavaState, trees: ReadonlyMap<string, FlatTree>, files: readonly JavaFile[], read: (file: JavaFile) => FileFacts): FileFacts[] | undefined {
    if (before.trees.size !== trees.size || [...trees.keys()].some(path => !before.trees.has(path))) return undefined
    const old = new Map(before.facts.files.map(facts => [facts.path, facts]))
    const fresh = new Map<string, FileFacts>()
    for (const file of files) {
      const tree = before.trees.get(file.path)!
      if (tree === file.tree) continue
      if (visibleText(file.tree) !== visibleText(tree)) return undefined
      fresh.set(file.path, read(file))
    }
    return files.map(file => fresh.get(file.path) ?? old.get(file.path)!)
  }

  private jar(path: string, source: FileSource, problems: { file: string; line: number; message: string }[]): Jar | undefined {
    if (!this.jars.has(path)) {
      const bytes = source.readBytes(path)
      this.jars.set(path, bytes && Jar.open(bytes))
    }
    const jar = this.jars.get(path)
    if (!jar) problems.push({ file: path.startsWith(`${this.root}/`) ? path.slice(this.root.length + 1) : path, line: 1, message: 'is no archive that can be read; its classes are not known' })
    return jar
  }
}
