import { z } from 'zod'
import { SettingsSchema } from './settings.js'

/** What requests carry. Answers are described by the view types in `views.ts`. */
export const NewProjectSchema = z.strictObject({ path: z.string().min(1).max(4096) })

export const CommandsSchema = z.strictObject({
  compile: z.string().max(2000), test: z.string().max(2000), seconds: z.int().min(1).max(3600), confirmed: z.boolean()
})

export const ProjectUpdateSchema = z.strictObject({ settings: SettingsSchema.optional(), commands: CommandsSchema.optional() })

const choices = z.record(z.string().max(100), z.string().max(20_000))
export const NewChangeSchema = z.strictObject({
  steps: z.array(z.strictObject({ id: z.string().min(1).max(4000), choices })).min(1).max(20)
})

/** A change planned anew on the present code: the numbers of its steps that stay, in the order in which they are to be done. */
export const PlanAgainSchema = z.strictObject({ steps: z.array(z.int().min(0)).min(1).max(20).refine(steps => new Set(steps).size === steps.length, 'names a step twice') })

/** For each file that is not wholly accepted: the numbers of its refused hunks, or 'all'. */
export const DecisionsSchema = z.strictObject({
  refused: z.record(z.string(), z.union([z.literal('all'), z.array(z.int().min(0))]))
})

/** A new branch, with a commit for each step or one for all. */
export const BranchSchema = z.strictObject({ name: z.string().trim().min(1).max(200), each: z.enum(['step', 'all']) })

/** A step of a change, by its number from 0, to be divided into batches of so many files. */
export const DivisionSchema = z.strictObject({ step: z.int().min(0).max(99), size: z.int().min(1).max(500) })

export const SetAsideSchema = z.strictObject({ finding: z.string().min(1).max(4000), reason: z.string().trim().min(1).max(1000) })

export const HistorySchema = z.strictObject({ commits: z.int().min(1).max(200) })

/** What can be taken along: tables as CSV, graphs as GraphML, a survey as one page. */
export const ExportSchema = z.enum(['types.csv', 'modules.csv', 'findings.csv', 'dependencies.csv', 'cycles.csv', 'modules.graphml', 'files.graphml', 'types.graphml', 'survey.html'])
export type ExportName = z.infer<typeof ExportSchema>

/** A what-if: these collaborators of a type handed in as abstractions. */
export const PluggedSchema = z.strictObject({ type: z.string().min(1).max(4000), collaborators: z.array(z.string().max(4000)).max(500) })

export type StepInput = z.infer<typeof NewChangeSchema>['steps'][number]
export type Decisions = z.infer<typeof DecisionsSchema>
export type Commands = z.infer<typeof CommandsSchema>
