import { z } from 'zod'
import { EFFECT_KINDS } from '@hollowmoor/core/effect/kinds'

const globs = z.array(z.string().min(1).max(500)).max(200)

/** One entry of a catalogue of outside effects. */
export const EffectEntrySchema = z.strictObject({
  match: z.string().min(1).max(300), effect: z.enum([...EFFECT_KINDS, 'pure']), when: z.enum(['used', 'extended']).optional()
})

/** What a project's owner may set; whatever is left out keeps its default. */
export const SettingsSchema = z.strictObject({
  exclude: globs.optional(),
  useGitignore: z.boolean().optional(),
  tests: globs.optional(),
  moduleRoots: globs.optional(),
  /** What using externals means; docs/formats/effects.md tells how entries are matched. */
  effects: z.array(EffectEntrySchema).max(1000).optional(),
  kind: z.enum(['application', 'library']).optional()
})

export type SettingsInput = z.infer<typeof SettingsSchema>
