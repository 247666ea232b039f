import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import { JavaCompiler, jdkPrograms } from './java-compiler.js'
import type { OpenProject } from './open-project.js'

/** What came of asking installed compilers about a change. */
export interface CompileOutcome {
  /** As `path:line: message`; empty where nothing new is wrong. */
  readonly errors: readonly string[]
  /** For people: which check was done. Null where no compiler outside has a say. */
  readonly told: string | null
}

/** Asks the compilers that are installed about changes, where a language's own is not part of reading it. */
export class CompileCheck {
  private java: JavaCompiler | undefined | null
  private readonly states = new WeakMap<object, string>()
  private numbered = 0

  async check(project: OpenProject, changes: readonly FileChange[]): Promise<CompileOutcome> {
    const input = project.session.compilerInputs(project.state).find(one => one.language === 'java')
    const own = changes.filter(change => change.path.endsWith('.java'))
    if (!input || own.length === 0) return { errors: [], told: null }
    const programs = jdkPrograms()
    if (!programs) return { errors: [], told: 'Checked by reading the result again. No JDK is installed here, so it was not compiled.' }
    if (!this.java) this.java = new JavaCompiler(programs)
    let state = this.states.get(project.state)
    if (state === undefined) this.states.set(project.state, state = String(++this.numbered))
    const options = ['-proc:none', '-nowarn', '-Xmaxerrs', '10000', '-XDshould-stop.ifError=FLOW', ...(input.libraries.length > 0 ? ['-cp', input.libraries.join(':')] : [])]
    const errors = await this.java.newErrors(state, input.sources, options, new Map(own.map(change => [change.path, change.after])))
    if (!errors) {
      this.java.close()
      this.java = null
      return { errors: [], told: 'Checked by reading the result again. The JDK\'s compiler gave no answer, so it was not compiled.' }
    }
    return { errors, told: errors.length > 0 ? null : 'Checked by reading the result again, and with the JDK\'s compiler.' }
  }

  close(): void { this.java?.close() }
}
