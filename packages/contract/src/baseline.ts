import { z } from 'zod'

/** Cycles that a project accepts for now, so that a check tells only new ones. */
export const BaselineSchema = z.strictObject({
  format: z.literal('hollowmoor-baseline'),
  version: z.literal(1),
  moduleCycles: z.array(z.strictObject({ within: z.string(), members: z.array(z.string()) })),
  fileCycles: z.array(z.strictObject({ members: z.array(z.string()) }))
})

export type Baseline = z.infer<typeof BaselineSchema>
