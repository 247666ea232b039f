import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import type { CompileCheck } from './compile-check.js'
import type { OpenProject } from './open-project.js'

/** What would not compile, or mean nothing any more, if just these texts were taken over: at most twenty lines that begin with a file's path. */
export async function problemsWith(open: OpenProject, files: readonly FileChange[], compilers: CompileCheck): Promise<string[]> {
  const { session, state, root } = open
  const changed = files.filter(file => file.before !== file.after)
  if (changed.length === 0) return []
  const after = session.edit(state, new Map(changed.map(file => [`${root}/${file.path}`, file.after])))
  const own = session.newProblems(state, after, changed.map(file => file.path))
  return (own.length > 0 ? own : (await compilers.check(open, changed)).errors).slice(0, 20)
}
