import type ts from 'typescript'
import type { WrittenFunction } from './switch-homes.js'

/** What one class will do. */
export interface DividedCase {
  /** What it stands for; none for what is done in any other case. */
  readonly labels: readonly ts.Expression[]
  /** Without the `break` at their end. */
  readonly statements: readonly ts.Statement[]
  /** Comments before the first of them, as written. */
  readonly comments: readonly string[]
  /** Comments behind the last of them. */
  readonly closing: readonly string[]
  /** Each `break` in the middle of them, which ends the case. */
  readonly breaks: readonly ts.BreakStatement[]
}

/** A switch, or a chain of conditions that is one, taken apart into its cases. */
export interface DividedSwitch {
  readonly node: ts.SwitchStatement | ts.IfStatement
  /** What it chooses by. */
  readonly subject: ts.Expression
  /** Whether the labels are classes, asked for in their order, and not values. */
  readonly isByClass: boolean
  /** The function that it stands in. */
  readonly around: WrittenFunction
  readonly cases: readonly DividedCase[]
  /** What comes of it: each case gives back a value, each sets the same variable or property at its end, some set variables anywhere, or each just runs. */
  readonly result: 'returned' | 'nothing' | SetVariable | { readonly kept: readonly KeptVariable[] }
  /** The statement that it ends with: what stands behind a switch without a default is done in any other case. */
  readonly last: ts.Statement
  /** Where it ends, with a comment that goes along. */
  readonly end: number
  /** Whether each value that the type allows has a case. */
  readonly exhaustive: boolean
}

/** A variable of the function around, or a property of something. */
export interface SetVariable {
  readonly set: ts.Symbol
  /** As it is named where it is set. */
  readonly target: ts.Expression
}

/** A variable of the function around that some cases set, and the others leave as it is. `isHanded`: its value before is wanted. */
export interface KeptVariable {
  readonly set: ts.Symbol
  readonly declaration: ts.VariableDeclaration | ts.ParameterDeclaration
  readonly isHanded: boolean
}

/** The variable or property that each case sets at its end. */
export function setOf(result: DividedSwitch['result']): SetVariable | undefined { return typeof result === 'object' && 'set' in result ? result : undefined }

/** Variables that cases set anywhere; empty where they set none. */
export function keptOf(result: DividedSwitch['result']): readonly KeptVariable[] { return typeof result === 'object' && 'kept' in result ? result.kept : [] }
