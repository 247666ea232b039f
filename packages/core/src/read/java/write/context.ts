import type { Checking, WrittenStep } from '../../write/writing-tables.js'
import type { JavaSession, JavaState } from '../java-session.js'
import type { BoundProgram } from '../bound-program.js'

/** What planning a step needs. */
export interface JavaWriteContext extends Checking {
  readonly language: JavaSession
  readonly state: JavaState
  readonly bound: BoundProgram
}

export type JavaWritten = WrittenStep<JavaState>
