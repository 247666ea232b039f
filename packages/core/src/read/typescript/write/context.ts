import type { PlannedStep } from '../../../model/plan.js'
import type { Snapshot, TypeScriptSession } from '../session.js'

/** What writing works on: a session and one of its states. */
export interface WriteContext {
  readonly session: TypeScriptSession
  readonly snapshot: Snapshot
  readonly root: string
}

/** A planned step together with the state that it leads to. */
export interface Written {
  readonly step: PlannedStep
  readonly after: Snapshot
}
