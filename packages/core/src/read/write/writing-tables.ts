import type { LanguageWriter, PlannedStep, PlanRefusal, Plans, Questions, StepOutcome, WriterAt } from '../../model/plan.js'

/** `unchecked`: what is planned is not read again, and leads nowhere. */
export interface Checking { readonly unchecked?: true }

/** How one language answers each question; undefined where the type is not of the kind that is asked about. */
export type Answers<Context> = { readonly [Asked in keyof Questions]: (context: Context, ...asked: Parameters<Questions[Asked]>) => ReturnType<Questions[Asked]> | undefined }

/** A step that was written and checked, and the state that it leads to. */
export interface WrittenStep<State> {
  readonly step: PlannedStep
  readonly after: State
}

/** How one language carries out each kind of plan. */
export type Planners<Context, State> = { readonly [Kind in keyof Plans]: (plan: Plans[Kind], context: Context) => WrittenStep<State> | PlanRefusal }

/** What is answered where nobody knows the type; its keys are all questions. */
const NOTHING: { readonly [Asked in keyof Questions]: ReturnType<Questions[Asked]> } = {
  interfaceMembers: [], injectionPoints: [], outsideUses: [], dividedMembers: [], replaceableMethods: [], membersToImplement: [], canExtractClass: false, sharableFields: [],
  groupableParameters: [], canMove: false, movableMembers: [], repeatedSequences: [], showableSequence: null, declaredLines: null, repeatedSetUps: [], plainParts: [], touchingPart: null, typeSwitches: [], staticFaces: [], testableMembers: [], isGeneric: false
}

const KINDS: { readonly [Kind in keyof Plans]: true } = {
  extractInterface: true, inject: true, wrapLibrary: true, splitInterface: true, makeReplaceable: true, implementInterface: true, extractClass: true,
  groupArguments: true, moveType: true, composeGraph: true, moveMember: true, introduceFacade: true, buildForTests: true, extractPlainClass: true, replaceTypeSwitch: true, retireStaticFace: true, writeFirstTest: true
}

/** A writer of one way to answer any question and one way to carry out any plan. */
export function writerOf(
  answer: <Asked extends keyof Questions>(question: Asked, asked: Parameters<Questions[Asked]>) => ReturnType<Questions[Asked]> | undefined,
  carryOut: <Kind extends keyof Plans>(kind: Kind, plan: Plans[Kind]) => StepOutcome
): LanguageWriter {
  const questions = Object.keys(NOTHING) as (keyof Questions)[], kinds = Object.keys(KINDS) as (keyof Plans)[]
  return Object.fromEntries<unknown>([
    ...questions.map(question => [question, (...asked: Parameters<Questions[typeof question]>) => answer(question, asked) ?? NOTHING[question]] as const),
    ...kinds.map(kind => [kind, (plan: Plans[typeof kind]) => carryOut(kind, plan)] as const)
  ]) as unknown as LanguageWriter
}

/** A writer of a language's tables. Each step is planned on the result of the one before; `current` is the state that they lead to. */
export function writerOfTables<Context extends Checking, State>(start: State, contextAt: (state: State) => Context, answers: Answers<Context>, planners: Planners<Context, State>): WriterAt<State> {
  let state = start
  const writer = writerOf(
    (question, asked) => answers[question](contextAt(state), ...asked),
    (kind, plan) => {
      const outcome = planners[kind](plan, contextAt(state))
      if ('refused' in outcome) return outcome
      state = outcome.after
      return outcome.step
    }
  )
  return Object.defineProperties(writer, {
    current: { get: () => state },
    sketch: { get: () => writerOfTables(state, at => ({ ...contextAt(at), unchecked: true }), answers, planners) }
  }) as unknown as WriterAt<State>
}
