import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { Field, Kind } from '../syntax.js'

/** The object whose method of the same name is all that a method calls: `tank` of `void fill(int n) { tank.fill(n); }`. NONE for one that does anything else. */
export function handsOnTo(method: Node, tree: FlatTree): Node {
  const body = tree.child(method, Field.Body), statements = body === NONE ? [] : tree.children(body), [only] = statements
  if (only === undefined || statements.length !== 1 || (tree.kind(only) !== Kind.ReturnStatement && tree.kind(only) !== Kind.ExpressionStatement)) return NONE
  const call = tree.first(only)
  const isSame = call !== NONE && tree.kind(call) === Kind.MethodInvocation && tree.textOf(tree.child(call, Field.Name)) === tree.textOf(tree.child(method, Field.Name))
  return isSame ? tree.child(call, Field.Object) : NONE
}
