import type { Refusal } from '@hollowmoor/contract/errors'
import { refusal } from '@hollowmoor/contract/errors'
import type { ReadProgress } from '@hollowmoor/core/read/language'
import type { ProjectSettings } from '@hollowmoor/core/read/settings'
import type { Survey } from '@hollowmoor/core/survey'
import { measureProject } from '@hollowmoor/core/survey'
import { CommitSource } from './commit-source.js'
import { sessionFor, solveCuts, wantsTypeScript } from './languages.js'

/** Surveys a commit as it is in the repository; the working tree is not touched. What is installed is taken as it is now. */
export async function surveyCommit(root: string, hash: string, settings: ProjectSettings, progress?: ReadProgress, stop?: () => void): Promise<Survey | Refusal> {
  const source = CommitSource.open(root, hash)
  if (!source) return refusal('COMMIT_UNKNOWN', `There is no commit ${hash} in the git repository of ${root}; fetch it, or name another.`, hash)
  const session = await sessionFor(root, settings, wantsTypeScript(root, settings, source))
  const state = session.read(source, undefined, progress, stop)
  if (state.facts.files.length === 0) return refusal('NOTHING_TO_READ', `Commit ${hash.slice(0, 10)} holds no TypeScript or Java sources in ${root}.`, hash)
  return measureProject(state.facts, settings, solveCuts)
}
