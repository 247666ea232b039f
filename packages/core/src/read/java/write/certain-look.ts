import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { parentOf } from '../bound-program.js'
import { Field, Kind } from '../syntax.js'

/**
 * Whether a method looks into an object whatever else it is handed, so that null was an error there all along. Null may be
 * handed as an object of any class, but nobody can call a method of it. `named`: the places that name the object.
 */
export function isLookedInto(body: Node, named: readonly Node[], tree: FlatTree): boolean {
  const looked = new Set(named.filter(at => {
    const parent = parentOf(tree, at)
    return (tree.kind(parent) === Kind.MethodInvocation && tree.child(parent, Field.Object) === at) || (tree.kind(parent) === Kind.FieldAccess && tree.first(parent) === at)
  }))
  const isCertain = (node: Node): boolean => {
    if (node === NONE) return false
    if (looked.has(node)) return true
    switch (tree.kind(node)) {
      case Kind.LambdaExpression: case Kind.ClassBody: case Kind.TryStatement: case Kind.TryWithResourcesStatement: return false
      case Kind.IfStatement: case Kind.WhileStatement: case Kind.SwitchExpression: case Kind.TernaryExpression: return isCertain(tree.child(node, Field.Condition))
      case Kind.ForStatement: return isCertain(tree.child(node, Field.Init))
      case Kind.EnhancedForStatement: return isCertain(tree.child(node, Field.Value))
      case Kind.BinaryExpression: {
        const left = tree.child(node, Field.Left), right = tree.child(node, Field.Right)
        return isCertain(left) || (!/&&|\|\|/.test(tree.text.slice(tree.end(left), tree.start(right))) && isCertain(right))
      }
      default: return tree.children(node).some(isCertain)
    }
  }
  for (const statement of tree.children(body)) {
    if (isCertain(statement)) return true
    if (mayLeave(statement, tree)) return false
  }
  return false
}

function mayLeave(node: Node, tree: FlatTree): boolean {
  const kind = tree.kind(node)
  return kind === Kind.ReturnStatement || kind === Kind.ThrowStatement || (kind !== Kind.LambdaExpression && kind !== Kind.ClassBody && tree.children(node).some(child => mayLeave(child, tree)))
}
