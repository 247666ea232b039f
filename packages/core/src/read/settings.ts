import type { EffectEntry } from '../effect/catalogue.js'

/** What a project's owner decides about how it is read. */
export interface ProjectSettings {
  /** Globs, from the project's root, of what is left out. */
  readonly exclude: readonly string[]
  /** Whether what .gitignore files leave out is left out here too. */
  readonly useGitignore: boolean
  /** Globs of test code. */
  readonly tests: readonly string[]
  /** Folders that are each one module, in place of every folder being one. */
  readonly moduleRoots: readonly string[]
  /** What using externals means, in place of or beside what is shipped. */
  readonly effects: readonly EffectEntry[]
  /** Whether others build on it: advice on services that are wanted everywhere depends on it. */
  readonly kind: 'application' | 'library'
}

export const DEFAULT_SETTINGS: ProjectSettings = {
  exclude: [
    '**/node_modules/**', '**/bower_components/**', '**/.*/**', '**/dist/**', '**/build/**', '**/out/**', '**/coverage/**',
    '**/vendor/**', '**/*.min.js', '**/*.generated.*', '**/generated/**', '**/__generated__/**'
  ],
  useGitignore: true,
  tests: [
    '**/*.{test,spec}.*', '**/__tests__/**', '**/{test,tests,spec,e2e}/**', '**/__mocks__/**', '**/*.{stories,bench}.*', '**/*{Test,Tests,IT}.java'
  ],
  moduleRoots: [],
  effects: [],
  kind: 'application'
}
