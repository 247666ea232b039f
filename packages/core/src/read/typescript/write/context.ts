import type { Snapshot, TypeScriptSession } from '../session.js'
import type { Checking, WrittenStep } from '../../write/writing-tables.js'

/** What writing works on: a session and one of its states. */
export interface WriteContext extends Checking {
  readonly session: TypeScriptSession
  readonly snapshot: Snapshot
  readonly root: string
}

export type Written = WrittenStep<Snapshot>
