import type { FileSource } from '../../file-source.js'
import type { CompilerInput, LanguageSession, ReadProgress } from '../../language.js'
import type { ProjectSettings } from '../../settings.js'
import type { BoundProgram } from '../bound-program.js'
import type { JavaState, JavaTools } from '../java-session.js'
import { JavaSession } from '../java-session.js'
import { affectedFiles } from './affected-files.js'
import { describeFlaw, newFlaws } from './flaws.js'
import type { JavaWriter } from './java-writer.js'
import { javaWriter } from './java-writer.js'

/** Java, read by our own rules and written so that they find nothing wrong that was not wrong before. */
export class JavaLanguage implements LanguageSession<JavaState> {
  private readonly session: JavaSession

  constructor(readonly root: string, settings: ProjectSettings, tools: JavaTools) { this.session = new JavaSession(root, settings, tools) }

  read(source: FileSource, before?: JavaState, progress?: ReadProgress, stop?: () => void): JavaState { return this.session.read(source, before, progress, stop) }
  edit(before: JavaState, texts: ReadonlyMap<string, string | null>): JavaState { return this.session.edit(before, texts) }
  writer(at: JavaState): JavaWriter { return javaWriter(this.session, at) }
  compilerInputs(at: JavaState): CompilerInput[] { return this.session.compilerInputs(at) }
  bound(state: JavaState): BoundProgram { return this.session.bound(state) }

  newProblems(before: JavaState, after: JavaState, changed: readonly string[]): string[] {
    const own = changed.filter(path => path.endsWith('.java'))
    if (own.length === 0) return []
    return newFlaws(this.bound(before), this.bound(after), affectedFiles(before, own), new Map()).map(flaw => describeFlaw(flaw, this.bound(after)))
  }
}
