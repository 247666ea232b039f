/** Lines of a file, counted from 1, the last one included. */
export interface LineRange { readonly from: number; readonly to: number }

/** What stands in the lines of a file from one on. */
export interface DeclaredLines { readonly from: number; readonly lines: readonly string[] }

/** Statements that somebody shows by their lines. */
export interface ShownLines extends LineRange {
  /** What stood there when they were shown, or null where they are shown now. */
  readonly holds: string | null
  /** What others have alike is replaced, too. */
  readonly others: boolean
}

/** Statements that several classes have alike, over a group of types. */
export interface RepeatedSequence {
  readonly key: string
  /** Ids of the types that they go over, most called first. */
  readonly types: readonly string[]
  /** `type.member` of each place, or `path:line`. */
  readonly places: readonly string[]
  readonly statements: number
  /** Proposed names of the class or function, and of the method. */
  readonly name: string
  readonly method: string
  /** Classes hold nothing of what it goes over that could be handed to it once. */
  readonly keepsNothing?: boolean
  /** Its arguments are many, or have usual values: said one by one they are clearer. */
  readonly many?: boolean
  readonly edits: number
  readonly files: number
}

/** A class with one method for statements that several classes have alike; they are handed it and call it. */
export interface IntroduceFacadePlan {
  readonly type: string
  /** Key of the statements, as `repeatedSequences` gives it, or the lines of the type that hold them. */
  readonly sequence: string | ShownLines
  /** Names of the class and of its method, or null for the proposed ones. */
  readonly name: string | null
  readonly method: string | null
  /** All arguments in one call, or a step for each. */
  readonly face: 'call' | 'steps'
  /** Where it keeps nothing, creation sites of its clients can stay as they are. */
  readonly withDefault: boolean
}
