import { mkdirSync, rmSync } from 'node:fs'
import { join, relative } from 'node:path'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import { testMatcher } from '@hollowmoor/core/read/discover'
import type { ProjectSettings } from '@hollowmoor/core/read/settings'
import type { ChangedLinesRun } from './line-coverage.js'
import { changedLinesRun } from './line-coverage.js'
import type { CommandOutcome } from './run-command.js'
import { ScratchCopy } from './scratch-copy.js'
import type { TestComparison, TestResult } from './test-report.js'
import { compareTests, reportFiles, testResults } from './test-report.js'

export interface TrialCommands {
  readonly compile: string
  readonly test: string
  /** Time limit of each command. */
  readonly seconds: number
}

export interface TrialSide {
  readonly compile: CommandOutcome | null
  readonly test: CommandOutcome | null
  readonly tests: readonly TestResult[]
}

export interface TrialOutcome {
  readonly before: TrialSide
  readonly after: TrialSide
  readonly comparison: TestComparison
  /** Null where the test command left no trace of what it ran. */
  readonly lines: ChangedLinesRun | null
  /** Installed files of the user's own that were changed meanwhile, as paths in the project; none where a trial cannot write to them. */
  readonly changedDependencies: readonly string[]
}

export type TrialEvent = { readonly side: 'before' | 'after'; readonly step: 'copy' | 'compile' | 'test'; readonly text: string }

/** Compiles and tests a copy of the project before and after a change, with the user's own commands. */
export async function tryOnCopy(
  root: string, settings: ProjectSettings, changes: readonly FileChange[], commands: TrialCommands, signal: AbortSignal, tell: (event: TrialEvent) => void
): Promise<TrialOutcome> {
  const copy = await ScratchCopy.of(root)
  try {
    const side = async (name: 'before' | 'after', coverage: string | null): Promise<TrialSide> => {
      const run = async (step: 'compile' | 'test', command: string, env: Record<string, string> = {}) => {
        if (command.trim() === '' || signal.aborted) return null
        tell({ side: name, step, text: `$ ${command}\n` })
        return copy.run(command, { seconds: commands.seconds, signal, env, onOutput: text => tell({ side: name, step, text }) })
      }
      const compile = await run('compile', commands.compile)
      // Reports of earlier runs, the user's own copied along among them, would tell of other tests.
      for (const path of reportFiles(copy.folder)) rmSync(path)
      const test = await run('test', commands.test, coverage ? { NODE_V8_COVERAGE: coverage } : {})
      return { compile, test, tests: test ? testResults(copy.folder, test.output) : [] }
    }
    tell({ side: 'before', step: 'copy', text: 'The project is copied.\n' })
    const before = await side('before', null)
    copy.apply(changes)
    const coverage = join(copy.folder, '.hollowmoor-coverage')
    mkdirSync(coverage, { recursive: true })
    const after = await side('after', coverage)
    return {
      before, after, comparison: compareTests(before.tests, after.tests),
      lines: after.test ? changedLinesRun(coverage, copy.folder, changes, testMatcher(settings)) : null,
      changedDependencies: (await copy.changedDependencies()).map(path => relative(root, path))
    }
  } finally {
    await copy.remove()
  }
}
