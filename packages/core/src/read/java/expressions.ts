import { holdsUnknown, settled } from '../binding/inference.js'
import type { Overloads } from '../binding/overloads.js'
import type { ClassSymbol } from '../binding/symbols.js'
import type { Type } from '../binding/types.js'
import { ClassType, erasure, NULL, thisType, UNKNOWN, VOID } from '../binding/types.js'
import type { FlatTree, Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import { Calls } from './calls.js'
import { Creations } from './creations.js'
import { ExpressionNames } from './expression-names.js'
import type { Bodies, WholeExpressions } from './expression-part.js'
import { FunctionExpressions } from './function-expressions.js'
import { Operators } from './operators.js'
import { BOOLEAN, CHAR, DOUBLE, FLOAT, INT, LONG, promoted } from './primitives.js'
import type { JavaProgram } from './program.js'
import type { JavaFile, Scope } from './scope.js'
import { Field, Kind } from './syntax.js'
import type { TypeFindings } from './type-findings.js'

/** Types of expressions, and what the names in them mean. One for each file. */
export class Expressions implements WholeExpressions {
  private readonly tree: FlatTree
  private readonly string: ClassType
  bodies!: Bodies
  readonly names: ExpressionNames
  readonly operators: Operators
  readonly calls: Calls
  readonly functions: FunctionExpressions
  readonly creations: Creations

  /** `findings`: where what does not fit together is noted; a survey leaves it out, a change that is checked does not. */
  constructor(readonly program: JavaProgram, readonly file: JavaFile, readonly overloads: Overloads, readonly findings: TypeFindings | null = null) {
    this.tree = file.tree
    this.string = program.known('java/lang/String')
    this.names = new ExpressionNames(this)
    this.operators = new Operators(this)
    this.calls = new Calls(this)
    this.functions = new FunctionExpressions(this)
    this.creations = new Creations(this)
  }

  private get hierarchy() { return this.program.hierarchy }

  /** The type of an expression. `wanted`: what it is assigned or handed to, where that is known. */
  type(node: Node, scope: Scope, wanted: Type | null = null): Type {
    if (node === NONE) return UNKNOWN
    const { tree } = this
    switch (tree.kind(node)) {
      case Kind.DecimalIntegerLiteral: case Kind.HexIntegerLiteral: case Kind.OctalIntegerLiteral: case Kind.BinaryIntegerLiteral:
        return /[lL]$/.test(tree.text[tree.end(node) - 1]!) ? LONG : INT
      case Kind.DecimalFloatingPointLiteral: case Kind.HexFloatingPointLiteral: return /[fF]$/.test(tree.text[tree.end(node) - 1]!) ? FLOAT : DOUBLE
      case Kind.True: case Kind.False: return BOOLEAN
      case Kind.CharacterLiteral: return CHAR
      case Kind.StringLiteral: return this.string
      case Kind.NullLiteral: return NULL
      case Kind.Identifier: return this.names.identifier(node, scope)
      case Kind.This: { const owner = scope.owner; return owner ? thisType(owner) : UNKNOWN }
      case Kind.Super: { const owner = scope.owner; return owner ? this.superOf(owner) : UNKNOWN }
      case Kind.ParenthesizedExpression: return this.type(tree.first(node), scope, wanted)
      case Kind.AssignmentExpression: {
        const target = tree.child(node, Field.Left), value = tree.child(node, Field.Right)
        const left = this.type(target, scope)
        const right = this.type(value, scope, left)
        if (this.findings && this.operators.operator(tree.end(target), tree.start(value)) === '=') this.expect(value, right, left)
        return left
      }
      case Kind.BinaryExpression: return this.operators.binary(node, scope)
      case Kind.UnaryExpression: {
        const operand = this.type(tree.child(node, Field.Operand), scope)
        if (tree.text[tree.start(node)] === '!') return BOOLEAN
        const number = this.operators.number(operand)
        return number ? promoted(number, INT) : UNKNOWN
      }
      case Kind.UpdateExpression: return this.type(tree.first(node), scope)
      case Kind.TernaryExpression: return this.operators.ternary(node, scope, wanted)
      case Kind.InstanceofExpression: return this.operators.instanceOf(node, scope)
      case Kind.CastExpression: return this.operators.cast(node, scope)
      case Kind.FieldAccess: return this.names.fieldAccess(node, scope)
      case Kind.ArrayAccess: {
        const array = this.hierarchy.upper(this.type(tree.child(node, Field.Array), scope))
        this.type(tree.child(node, Field.Index), scope)
        return array.tag === 'array' ? array.element : UNKNOWN
      }
      case Kind.MethodInvocation: return this.calls.invocation(node, scope, wanted)
      case Kind.ObjectCreationExpression: return this.creations.creation(node, scope, wanted)
      case Kind.ArrayCreationExpression: return this.operators.arrayCreation(node, scope)
      case Kind.ArrayInitializer: {
        const element = wanted?.tag === 'array' ? wanted.element : null
        for (const child of tree.children(node)) this.expect(child, this.type(child, scope, element), element)
        return wanted ?? UNKNOWN
      }
      case Kind.ElementValueArrayInitializer: for (const child of tree.children(node)) this.type(child, scope); return UNKNOWN
      case Kind.ClassLiteral: {
        const type = this.program.names.type(tree.first(node), scope)
        const boxed = type === VOID ? this.program.known('java/lang/Void') : type.tag === 'primitive' ? this.program.boxed(type.name) ?? UNKNOWN : type
        return new ClassType(this.program.known('java/lang/Class').symbol, [boxed])
      }
      case Kind.LambdaExpression: this.functions.lambda(node, scope, wanted); return wanted ?? UNKNOWN
      case Kind.MethodReference: this.functions.methodReference(node, scope, wanted); return wanted ?? UNKNOWN
      case Kind.SwitchExpression: return this.operators.joined(this.bodies.switchBody(node, scope, wanted), wanted)
      default: {
        for (const child of tree.children(node)) this.type(child, scope)
        return UNKNOWN
      }
    }
  }

  /** Notes it where a value of one type stands where another is wanted and does not go. */
  expect(node: Node, given: Type, wanted: Type | null): void {
    if (!this.findings || wanted === null) return
    this.findings.note(node, this.goes(given, wanted) ? null : { given, wanted })
  }

  /** Whether a value of a type goes where another is wanted, by assignment. */
  goes(given: Type, wanted: Type): boolean {
    if (wanted === VOID || given === UNKNOWN || wanted === UNKNOWN) return true
    // Of arguments that are not known the classes tell at least whether one is the other at all.
    if (holdsUnknown(given) || holdsUnknown(wanted)) return this.hierarchy.isSubtype(erasure(given), erasure(wanted))
    if (given.tag === 'primitive' && wanted.tag === 'primitive') return true
    if (wanted.tag === 'primitive') return this.operators.number(given) !== undefined
    if (given.tag === 'primitive') { const boxed = this.program.boxed(given.name); return boxed === undefined || this.operators.number(wanted) !== undefined || this.hierarchy.isSubtype(boxed, wanted) }
    return this.hierarchy.isSubtype(given, wanted)
  }

  superOf(owner: ClassSymbol): Type {
    return this.hierarchy.parents(thisType(owner))[0] ?? this.program.top
  }

  /** A type that a variable can have: nothing left unknown in it, captures by their bounds. */
  ofVariable(type: Type): Type {
    return settled(this.hierarchy.whole(type === NULL ? this.program.top : type), this.hierarchy)
  }
}
