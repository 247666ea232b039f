import { z } from 'zod'

const globs = z.array(z.string().min(1).max(500)).max(200)

/** What a project's owner may set; whatever is left out keeps its default. */
export const SettingsSchema = z.strictObject({
  exclude: globs.optional(),
  useGitignore: z.boolean().optional(),
  tests: globs.optional(),
  moduleRoots: globs.optional()
})

export type SettingsInput = z.infer<typeof SettingsSchema>
