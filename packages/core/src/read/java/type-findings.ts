import type { Type } from '../binding/types.js'
import type { Node } from '../syntax/flat-tree.js'

/** A value of one type where another is wanted. */
export interface Mismatch {
  readonly given: Type
  readonly wanted: Type
}

/** What a careful reading of a file's bodies tells beyond what its names mean. */
export class TypeFindings {
  readonly mismatches = new Map<Node, Mismatch>()
  /** Inferred type arguments that are outside their bounds, by the first argument of the call. */
  readonly outside = new Map<Node, Mismatch>()
  /** Names of calls, and creations, that may mean several methods or constructors alike. */
  readonly ambiguous = new Set<Node>()
  /** Types of creations, their arguments inferred. */
  readonly creations = new Map<Node, Type>()
  /** Types of the arguments of creations, as they are without being wanted as anything. */
  readonly argumentTypes = new Map<Node, Type>()

  /** Whether what is called is one of several that would do as well. */
  noteChoice(node: Node, isAmbiguous: boolean): void {
    if (isAmbiguous) this.ambiguous.add(node)
    else this.ambiguous.delete(node)
  }

  /** Bodies of lambdas are gone through more than once; what is known last counts. */
  note(node: Node, mismatch: Mismatch | null): void {
    if (mismatch) this.mismatches.set(node, mismatch)
    else this.mismatches.delete(node)
  }
}
