import { z } from 'zod'
import { EFFECT_KINDS } from '@hollowmoor/core/effect/kinds'
import { FINDING_KINDS, REMEDY_NAMES } from '@hollowmoor/core/find/finding'
import { VERDICTS } from '@hollowmoor/core/measure/verdict'
import { REFERENCE_KINDS } from '@hollowmoor/core/model/facts'

const count = z.int().min(0)
const ratio = z.number().nullable()
const cycle = z.strictObject({
  within: z.string(), members: z.array(z.string()).min(2), atRunTime: z.boolean(),
  cut: z.strictObject({
    dependencies: z.array(z.strictObject({ from: z.string(), to: z.string() })).min(1), references: count, lowerBound: count
  })
})

const place = z.strictObject({ type: z.string(), member: z.string(), file: z.string(), line: z.int().min(1), column: z.int().min(1) })

/** The survey document, version 1. Its JSON Schema is published under docs/formats/. */
export const SurveyDocumentSchema = z.strictObject({
  format: z.literal('hollowmoor-survey'),
  version: z.literal(1),
  languages: z.array(z.string()),
  counts: z.strictObject({
    files: count, testFiles: count, unreadFiles: count, lines: count, modules: count, types: count, members: count,
    references: count, unresolved: count
  }),
  modules: z.array(z.strictObject({
    id: z.string(), parent: z.string().nullable(), types: count, lines: count, ca: count, ce: count, instability: ratio,
    abstractness: ratio, distance: ratio, subtree: z.strictObject({ types: count, lines: count, ca: count, ce: count })
  })),
  types: z.array(z.strictObject({
    id: z.string(), name: z.string(),
    kind: z.enum(['class', 'abstract-class', 'interface', 'enum', 'record', 'struct', 'trait', 'mixin', 'protocol', 'alias', 'functions']),
    module: z.string(), file: z.string(), line: z.int().min(1), lines: count, test: z.boolean(), fanIn: count, fanOut: count,
    joints: z.strictObject({ welded: count, bolted: count, plugged: count, inert: count }),
    verdict: z.enum(VERDICTS).optional(),
    effects: z.array(z.strictObject({ kind: z.enum(EFFECT_KINDS), path: z.array(place) })).optional(),
    realObjects: count.optional(), lcom4: count.optional(), tcc: z.number().min(0).max(1).optional()
  })),
  dependencies: z.array(z.strictObject({
    from: z.string(), to: z.string(),
    references: z.array(z.strictObject({
      file: z.string(), line: z.int().min(1), column: z.int().min(1), kind: z.enum(REFERENCE_KINDS), member: z.string(), typeOnly: z.boolean()
    })).min(1)
  })),
  externals: z.array(z.strictObject({ name: z.string(), references: count })),
  moduleCycles: z.array(cycle),
  fileCycles: z.array(cycle),
  typeCycles: z.array(cycle),
  findings: z.array(z.strictObject({
    kind: z.enum(FINDING_KINDS), subject: z.string(), sentence: z.string(),
    evidence: z.array(z.strictObject({ file: z.string(), line: z.int().min(1), column: z.int().min(1), what: z.string() })), remedies: z.array(z.enum(REMEDY_NAMES)),
    cost: z.strictObject({ references: count, files: count, steps: count }), frees: z.strictObject({ modules: count, types: count, clients: count })
  })).optional(),
  unresolved: z.array(z.strictObject({ file: z.string(), line: z.int().min(1), column: z.int().min(1), name: z.string(), reason: z.string() })),
  problems: z.array(z.strictObject({ file: z.string(), line: z.int().min(1), message: z.string() }))
})

export type SurveyDocument = z.infer<typeof SurveyDocumentSchema>
