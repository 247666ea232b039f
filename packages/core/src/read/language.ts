import type { FileFacts, FileProblem } from '../model/facts.js'

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
