import type { Inference } from '../binding/inference.js'
import type { Argument, Candidate, FunctionShape, Overloads } from '../binding/overloads.js'
import type { ClassSymbol, FieldSymbol, MethodSymbol } from '../binding/symbols.js'
import type { ClassType, Type, TypeVariable } from '../binding/types.js'
import type { FlatTree, Node } from '../syntax/flat-tree.js'
import type { JavaProgram } from './program.js'
import type { JavaFile, Scope } from './scope.js'
import type { TypeFindings } from './type-findings.js'

/** What stands before a dot: a value, a class, or the beginning of a package's name. */
export type Qualifier = { readonly value: Type } | { readonly symbol: ClassSymbol } | { readonly packageName: string }

/** What statements have to do for the expressions that hold some. */
export interface Bodies {
  /** Goes through a block in which `return` gives what is wanted; returns the types of what is returned. */
  lambdaBlock(block: Node, scope: Scope, wanted: Type | null): Type[]
  /** Goes through a `switch`; returns the types of the values that it gives. */
  switchBody(node: Node, scope: Scope, wanted: Type | null): Type[]
  classBody(symbol: ClassSymbol): void
}

/** What a call is chosen and typed by, for others. */
export interface CallTyping {
  /** `asReceiver`: nothing more will be known of its type, so what is not takes its bound. */
  invocation(node: Node, scope: Scope, wanted: Type | null, asReceiver?: boolean): Type
  /** Goes into arguments of which nothing is known. */
  argumentsAlone(holder: Node, scope: Scope): void
  /** What arguments are before a method is chosen. */
  known(nodes: readonly Node[], scope: Scope): Argument[]
  instantiate(
    chosen: Candidate, variables: readonly TypeVariable[], nodes: readonly Node[], args: readonly Argument[], scope: Scope, wanted: Type | null,
    explicit?: readonly Type[], raw?: boolean, asReceiver?: boolean
  ): Type
  isDiamond(node: Node): boolean
  /** An expression without the parentheses around it. */
  unwrapped(node: Node): Node
}

/** What functions that are handed to a call tell about it. */
export interface FunctionTyping {
  lambdaShape(node: Node, scope: Scope): FunctionShape
  referenceShape(node: Node, scope: Scope): FunctionShape
  functionResult(node: Node, scope: Scope, wanted: Type): Type | undefined
  explicitParametersTell(node: Node, declared: readonly Type[], scope: Scope, inference: Inference): void
  referenceTells(node: Node, formal: Type, scope: Scope, inference: Inference): void
}

/** All kinds of expressions of one file, as each of them sees the others. */
export interface WholeExpressions {
  readonly program: JavaProgram
  readonly file: JavaFile
  readonly overloads: Overloads
  readonly findings: TypeFindings | null
  readonly bodies: Bodies
  readonly names: { qualifier(node: Node, scope: Scope): Qualifier; visible(member: FieldSymbol | MethodSymbol, scope: Scope): boolean }
  readonly operators: { joined(types: readonly Type[], wanted: Type | null): Type }
  readonly calls: CallTyping
  readonly functions: FunctionTyping
  /** The type of an expression. `wanted`: what it is assigned or handed to, where that is known. */
  type(node: Node, scope: Scope, wanted?: Type | null): Type
  /** Notes it where a value of one type stands where another is wanted and does not go. */
  expect(node: Node, given: Type, wanted: Type | null): void
  /** Whether a value of a type goes where another is wanted, by assignment. */
  goes(given: Type, wanted: Type): boolean
  superOf(owner: ClassSymbol): Type
}

/** One kind of expressions. */
export abstract class ExpressionPart {
  protected readonly program: JavaProgram
  protected readonly file: JavaFile
  protected readonly overloads: Overloads
  protected readonly findings: TypeFindings | null
  protected readonly tree: FlatTree
  protected readonly string: ClassType

  constructor(protected readonly whole: WholeExpressions) {
    this.program = whole.program
    this.file = whole.file
    this.overloads = whole.overloads
    this.findings = whole.findings
    this.tree = whole.file.tree
    this.string = whole.program.known('java/lang/String')
  }

  protected get hierarchy() { return this.program.hierarchy }
}
