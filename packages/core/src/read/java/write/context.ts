import type { PlannedStep } from '../../../model/plan.js'
import type { JavaSession, JavaState } from '../java-session.js'
import type { BoundProgram } from '../bound-program.js'

/** What planning a step needs. */
export interface JavaWriteContext {
  readonly language: JavaSession
  readonly state: JavaState
  readonly bound: BoundProgram
}

/** A step that was written and checked, and the state that it leads to. */
export interface JavaWritten {
  readonly after: JavaState
  readonly step: PlannedStep
}
