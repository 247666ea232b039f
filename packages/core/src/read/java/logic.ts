import type { FlatTree, Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import { Field, Kind } from './syntax.js'

/** True for a body that does more than assign, return or forward. */
export function hasLogic(tree: FlatTree, body: Node): boolean {
  const simple = (node: Node): boolean => {
    if (node === NONE) return true
    switch (tree.kind(node)) {
      case Kind.Identifier: case Kind.This: case Kind.True: case Kind.False: case Kind.NullLiteral: case Kind.StringLiteral: case Kind.CharacterLiteral:
      case Kind.DecimalIntegerLiteral: case Kind.DecimalFloatingPointLiteral: case Kind.HexIntegerLiteral: return true
      case Kind.FieldAccess: return simple(tree.child(node, Field.Object))
      case Kind.ParenthesizedExpression: return simple(tree.first(node))
      case Kind.MethodInvocation: return simple(tree.child(node, Field.Object)) && tree.children(tree.child(node, Field.Arguments)).every(simple)
      default: return false
    }
  }
  const statements = tree.children(body)
  const expressions = [Kind.ExpressionStatement, Kind.ExplicitConstructorInvocation]
  if (statements.length > 1 && !statements.every(one => expressions.includes(tree.kind(one)))) return true
  return !statements.every(one => {
    if (tree.kind(one) === Kind.ExplicitConstructorInvocation) return true
    const inner = tree.first(one)
    if (tree.kind(one) === Kind.ReturnStatement) return simple(inner)
    if (tree.kind(one) !== Kind.ExpressionStatement) return false
    return tree.kind(inner) === Kind.AssignmentExpression ? simple(tree.child(inner, Field.Right)) : simple(inner)
  })
}

/** True for a body that does nothing, or only throws. */
export function refusesToWork(tree: FlatTree, body: Node): boolean {
  const statements = tree.children(body)
  return statements.length === 0 || (statements.length === 1 && tree.kind(statements[0]!) === Kind.ThrowStatement)
}

/** Statements that hold others, and what stands in them around those. */
const HOLDING = new Set<number>([
  Kind.Block, Kind.IfStatement, Kind.ForStatement, Kind.EnhancedForStatement, Kind.WhileStatement, Kind.DoStatement, Kind.SwitchExpression, Kind.SwitchBlock, Kind.SwitchBlockStatementGroup,
  Kind.SwitchRule, Kind.TryStatement, Kind.TryWithResourcesStatement, Kind.CatchClause, Kind.FinallyClause, Kind.SynchronizedStatement, Kind.LabeledStatement
])
const NO_PART = new Set<number>([Kind.SwitchLabel, Kind.CatchFormalParameter])

/** The parts of a body that hold no other statement, in their order. */
export function statementsOf(tree: FlatTree, body: Node): Node[] {
  return tree.children(body).flatMap(node => (NO_PART.has(tree.kind(node)) ? [] : HOLDING.has(tree.kind(node)) ? statementsOf(tree, node) : [node]))
}
