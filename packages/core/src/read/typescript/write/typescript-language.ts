import type { FileSource } from '../../file-source.js'
import type { LanguageSession, ReadProgress } from '../../language.js'
import type { ProjectSettings } from '../../settings.js'
import type { Snapshot } from '../session.js'
import { TypeScriptSession } from '../session.js'
import { affectedPaths, describeError, errorsToCompiler, newErrors } from './check.js'
import type { TypeScriptWriter } from './writer.js'
import { typeScriptWriter } from './writer.js'

/** TypeScript, read through its compiler and written with its checker's help. */
export class TypeScriptLanguage implements LanguageSession<Snapshot> {
  private readonly session: TypeScriptSession

  /** `libraryFolder`: where the compiler's own declarations lie. */
  constructor(readonly root: string, settings: ProjectSettings, libraryFolder: string) {
    this.session = new TypeScriptSession(root, settings, libraryFolder)
  }

  read(source: FileSource, before?: Snapshot, progress?: ReadProgress, stop?: () => void): Snapshot { return this.session.read(source, before, progress, stop) }
  edit(before: Snapshot, texts: ReadonlyMap<string, string | null>): Snapshot { return this.session.edit(before, texts) }
  writer(at: Snapshot): TypeScriptWriter { return typeScriptWriter(this.session, at) }

  newProblems(before: Snapshot, after: Snapshot, changed: readonly string[]): string[] {
    const own = changed.filter(path => after.files.isSource(path) || before.files.isSource(path))
    const errors = newErrors(before, after, this.root, affectedPaths(after, this.root, own))
    return errorsToCompiler(errors, before, after, this.session).map(error => describeError(error, this.root))
  }

  /** The compiler is part of every reading. */
  compilerInputs(): [] { return [] }
}
