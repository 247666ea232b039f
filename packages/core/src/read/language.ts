import type { FileFacts, FileProblem } from '../model/facts.js'
import type { WriterAt } from '../model/plan.js'
import type { FileSource } from './file-source.js'

/** Facts of a whole project, with what could not be read: what every language's reader yields. */
export interface ProjectFacts {
  readonly files: readonly FileFacts[]
  /** Files of the code that nothing here can read, such as .vue. */
  readonly unread: readonly string[]
  readonly problems: readonly (FileProblem & { readonly file: string })[]
  /** Declared dependencies that are not installed, so that what they offer does not resolve. */
  readonly notInstalled: readonly string[]
  /** Folders that the settings leave out. */
  readonly excluded: readonly string[]
}

/** Progress of reading: `done` of `total` files, where that is known. */
export type ReadProgress = (phase: 'finding' | 'parsing' | 'reading', done: number, total: number) => void

/** One state of a project's text in a language. Never changes. */
export interface CodeState {
  readonly facts: ProjectFacts
  /** Paths from the root of what is read, sorted. */
  readonly sources: readonly string[]
  /** Text of a source as this state has it. */
  textOf(path: string): string | undefined
}

/** What a language's own compiler needs to look at a state, where there is one that is not in this process. */
export interface CompilerInput {
  readonly language: string
  /** Path from the root to text. */
  readonly sources: ReadonlyMap<string, string>
  /** Absolute paths of libraries. */
  readonly libraries: readonly string[]
}

/** Reads a project in one language again and again, and writes planned changes in it. */
export interface LanguageSession<State extends CodeState = CodeState> {
  readonly root: string
  /** Reads the state that `source` shows. `before`: any earlier state of the same session. */
  read(source: FileSource, before?: State, progress?: ReadProgress, stop?: () => void): State
  /** The state in which some texts of `before` are others: absolute path to text, or null for a file that is gone. */
  edit(before: State, texts: ReadonlyMap<string, string | null>): State
  /** A writer that starts at a state; `current` is the state that the steps planned with it lead to. */
  writer(at: State): WriterAt<State>
  /** What does not compile or bind in `after` and did in `before`, in words; `changed`: paths from the root. */
  newProblems(before: State, after: State, changed: readonly string[]): string[]
  /** For a compiler outside; none for a language whose compiler has looked at every change already. */
  compilerInputs(at: State): CompilerInput[]
}
