import type { Observation, ObservedValue } from '@hollowmoor/core/model/observation'
import { z } from 'zod'

/** A value as a recording test writes it. */
const ValueSchema: z.ZodType<ObservedValue> = z.lazy(() => z.union([
  z.object({ is: z.enum(['text', 'number', 'bigint', 'boolean', 'nothing', 'date', 'constant', 'character', 'shown', 'object']), text: z.string() }),
  z.object({ is: z.enum(['list', 'set']), items: z.array(ValueSchema) }),
  z.object({ is: z.literal('map'), entries: z.array(z.tuple([ValueSchema, ValueSchema])) }),
  z.object({ is: z.literal('record'), fields: z.array(z.tuple([z.string(), ValueSchema])) })
]))

const ObservationSchema: z.ZodType<Observation> = z.object({
  gives: ValueSchema.nullable(),
  throws: z.object({ type: z.string(), message: z.string() }).nullable(),
  calls: z.array(z.object({ name: z.string(), given: z.array(ValueSchema) })),
  after: z.array(ValueSchema.nullable())
})

/** A line of a recording: that a call of the class `subject` begins, what it did, or why no object of the class could be built. */
export const RecordedLineSchema = z.union([
  z.object({ subject: z.string(), name: z.string(), seen: ObservationSchema }),
  z.object({ subject: z.string(), name: z.literal(''), error: z.string() }),
  z.object({ subject: z.string(), begun: z.string() })
])
