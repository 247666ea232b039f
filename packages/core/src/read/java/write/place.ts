import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { Field, Kind } from '../syntax.js'
import { parentOf } from '../bound-program.js'

/** Where in a class, or in a method, a node stands. */
export interface Place {
  /** The member of the class that it is in: a field, a method, a constructor, an initialiser. */
  readonly member: Node
  readonly kind: 'field' | 'method' | 'constructor' | 'initialiser'
  /** The declarator of the field. */
  readonly declarator: Node
  /** Runs exactly once each time that the member runs. */
  readonly once: boolean
  /** Runs later than the code around it: in a lambda or in an anonymous class. */
  readonly deferred: 'lambda' | 'class' | null
  /** Inside the arguments of a call of another constructor, `this(...)` or `super(...)`. */
  readonly inConstructorCall: 'this' | 'super' | null
}

const REPEATS = new Set([Kind.ForStatement, Kind.EnhancedForStatement, Kind.WhileStatement, Kind.DoStatement])
const BRANCHES = new Set([Kind.IfStatement, Kind.TernaryExpression, Kind.SwitchExpression, Kind.TryStatement, Kind.TryWithResourcesStatement, Kind.AssertStatement])

/** `body`: of the class whose member the node is in. */
export function placeOf(tree: FlatTree, node: Node, body: Node): Place {
  let once = true
  let deferred: Place['deferred'] = null
  let inConstructorCall: Place['inConstructorCall'] = null
  let declarator: Node = NONE
  let at = node
  for (;;) {
    const parent = parentOf(tree, at)
    if (parent === body || parent < 0) break
    at = parent
    const kind = tree.kind(at)
    if (kind === Kind.LambdaExpression) { once = false; deferred ??= 'lambda' }
    else if (kind === Kind.ClassBody) { once = false; deferred = 'class' }
    else if (REPEATS.has(kind) || BRANCHES.has(kind)) once = false
    else if (kind === Kind.BinaryExpression && /&&|\|\|/.test(tree.text.slice(tree.end(tree.child(at, Field.Left)), tree.start(tree.child(at, Field.Right))))) once = false
    else if (kind === Kind.ExplicitConstructorInvocation) inConstructorCall = tree.kind(tree.child(at, Field.Constructor)) === Kind.This ? 'this' : 'super'
    else if (kind === Kind.VariableDeclarator) declarator = at
  }
  const kind = memberKind(tree, at)
  if (kind === 'constructor' && leavesEarly(tree, at, node)) once = false
  return { member: at, kind, declarator: kind === 'field' ? declarator : NONE, once, deferred, inConstructorCall }
}

function memberKind(tree: FlatTree, member: Node): Place['kind'] {
  switch (tree.kind(member)) {
    case Kind.FieldDeclaration: return 'field'
    case Kind.MethodDeclaration: return 'method'
    case Kind.ConstructorDeclaration: return 'constructor'
    default: return 'initialiser'
  }
}

/** Whether a constructor may return before it comes to a node. */
function leavesEarly(tree: FlatTree, member: Node, node: Node): boolean {
  for (let at = member; at < node; at += 5) {
    if (tree.kind(at) === Kind.LambdaExpression || tree.kind(at) === Kind.ClassBody) { if (tree.after(at) <= node) at = tree.after(at) - 5 }
    else if (tree.kind(at) === Kind.ReturnStatement) return true
  }
  return false
}
