import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import { readAnyText } from '@hollowmoor/core/read/file-source'
import type { ReadProgress } from '@hollowmoor/core/read/language'
import type { ProjectSettings } from '@hollowmoor/core/read/settings'
import type { ProjectSession, ProjectState } from '@hollowmoor/core/read/project-session'
import type { Survey } from '@hollowmoor/core/survey'
import { measureProject } from '@hollowmoor/core/survey'
import { DiskSource } from './disk-source.js'
import { sessionFor, solveCuts, wantsTypeScript } from './languages.js'
import { openFolder, settingsOf } from './project-folder.js'

/** A project that has been read and measured, and can be read again. */
export class OpenProject {
  private constructor(
    readonly root: string, public session: ProjectSession, private typeScript: boolean, readonly settings: ProjectSettings,
    private readonly disk: DiskSource, public state: ProjectState, public survey: Survey
  ) {}

  /** Opens a folder, reads it and measures it. `settings` in place of those that the folder itself has. */
  static async open(folder: string, settings?: ProjectSettings, progress?: ReadProgress, stop?: () => void): Promise<OpenProject | Refusal> {
    const opened = openFolder(folder)
    if (isRefusal(opened)) return opened
    const chosen = settings ?? settingsOf(opened.root)
    if (isRefusal(chosen)) return chosen
    const disk = new DiskSource()
    const typeScript = wantsTypeScript(opened.root, chosen, disk)
    const session = await sessionFor(opened.root, chosen, typeScript)
    const state = session.read(disk, undefined, progress, stop)
    const empty = emptyReason(opened.root, state, disk)
    if (empty) return empty
    return new OpenProject(opened.root, session, typeScript, chosen, disk, state, measureProject(state.facts, chosen, solveCuts))
  }

  /** Reads again what changed and measures anew. */
  async renew(progress?: ReadProgress, stop?: () => void): Promise<Refusal | undefined> {
    this.disk.forget()
    const opened = openFolder(this.root)
    if (isRefusal(opened)) return opened
    // A language that the project did not hold so far needs a session with it.
    const grown = !this.typeScript && wantsTypeScript(this.root, this.settings, this.disk)
    if (grown) {
      this.typeScript = true
      this.session = await sessionFor(this.root, this.settings)
    }
    const state = this.session.read(this.disk, grown ? undefined : this.state, progress, stop)
    const empty = emptyReason(this.root, state, this.disk)
    if (empty) return empty
    // Cuts that the survey before had not been asked for are still being looked for; they serve this one too.
    void this.survey.typeCycles
    this.survey = measureProject(state.facts, this.settings, solveCuts, { survey: this.survey, facts: this.state.facts })
    this.state = state
    return undefined
  }

  /** Text of a file as the survey saw it. */
  textOf(path: string): string | undefined {
    return this.state.textOf(path)
  }

  /** Sources whose text on disk is not what the survey saw, files that came and went included. */
  changedSince(): string[] {
    const changed: string[] = []
    for (const path of this.state.sources) {
      const file = `${this.root}/${path}`
      const outcome = path.endsWith('.java') ? readAnyText(this.disk, file) : this.disk.readText(file)
      // One that could not be read before either is as it was.
      if (('text' in outcome ? outcome.text : undefined) !== this.textOf(path)) changed.push(path)
    }
    return changed
  }
}

function emptyReason(root: string, state: ProjectState, disk: DiskSource): Refusal | undefined {
  if (state.facts.files.length > 0) return undefined
  if (disk.list(root).length === 0) return refusal('FOLDER_EMPTY', `${root} is empty; name the folder that holds the code.`, root)
  const unread = state.facts.problems.find(problem => state.sources.includes(problem.file))
  return refusal('NOTHING_TO_READ', unread ? `${root}: nothing could be read; ${unread.file} ${unread.message}.`
    : `${root} holds no TypeScript or Java sources that are not left out; look at its exclusions, or name the folder that holds the code.`, root)
}
