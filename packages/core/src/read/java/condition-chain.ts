import { ClassSymbol, Flags } from '../binding/symbols.js'
import type { FlatTree, Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import { parentOf } from './bound-program.js'
import type { JavaFile } from './scope.js'
import { Field, Kind } from './syntax.js'

/** One way that a chain of conditions can take. */
export interface JavaBranch {
  /** Constants, texts or types, for any of which it is taken. */
  readonly labels: readonly Node[]
  /** The test that names the thing, or parts of it, anew as what it is: `x instanceof A a`. */
  readonly named: Node | undefined
  readonly body: Node
}

/** Conditions, one behind the other, each of which asks what one and the same thing is. */
export interface JavaConditionChain {
  readonly subject: Node
  readonly by: JavaTest['by']
  readonly branches: readonly JavaBranch[]
  /** What is done where none of them holds. */
  readonly other: Node | undefined
  /** The statement that it ends with: where each branch leaves the method, another `if` behind it goes on. */
  readonly last: Node
}

/**
 * `if (x == Kind.A) ... else if (x == Kind.B) ... else ...`, and a row of `if`s each of which leaves the method; also with
 * `instanceof`, and with `equals` for texts. Undefined where it asks for something else, or goes on from a condition before.
 */
export function javaConditionChain(first: Node, file: JavaFile): JavaConditionChain | undefined {
  const { tree } = file
  const start = testOf(tree.child(first, Field.Condition), file)
  if (!start || tree.field(first) === Field.Alternative) return undefined
  const isSame = (test: JavaTest | undefined): boolean => test !== undefined && isSameTest(test, start, tree)
  const beside = (node: Node, by: 1 | -1): Node => {
    const parent = parentOf(tree, node)
    if (parent < 0 || ![Kind.Block, Kind.SwitchBlockStatementGroup, Kind.ConstructorBody].includes(tree.kind(parent))) return NONE
    const all = tree.children(parent), found = all[all.indexOf(node) + by]
    return found !== undefined && tree.kind(found) === Kind.IfStatement ? found : NONE
  }
  const before = beside(first, -1)
  if (before !== NONE && isSame(testOf(tree.child(before, Field.Condition), file)) && leavesEach(before, tree)) return undefined
  const branches: JavaBranch[] = []
  let last = first, other: Node | undefined
  for (let at = first; at !== NONE; ) {
    const test = tree.kind(at) === Kind.IfStatement ? testOf(tree.child(at, Field.Condition), file) : undefined
    if (!test || !isSame(test)) { other = at; break }
    branches.push({ labels: test.labels, named: test.named, body: tree.child(at, Field.Consequence) })
    const alternative = tree.child(at, Field.Alternative)
    if (alternative !== NONE || !branches.every(one => leaves(one.body, tree))) { at = alternative; continue }
    const next = beside(last, 1)
    if (next === NONE || !isSame(testOf(tree.child(next, Field.Condition), file))) break
    at = last = next
  }
  return { subject: start.subject, by: start.by, branches, other, last }
}

interface JavaTest {
  readonly subject: Node
  /** What is asked: whether it is the same (`==`), is equal to a text (`equals`, asked of the thing, or of the text), or is of a type. */
  readonly by: 'same' | 'equal' | 'equal-to' | 'type'
  readonly labels: readonly Node[]
  readonly named: Node | undefined
}

function testOf(condition: Node, file: JavaFile): JavaTest | undefined {
  const { tree } = file
  let at = condition
  while (tree.kind(at) === Kind.ParenthesizedExpression) at = tree.first(at)
  const left = tree.child(at, Field.Left), right = tree.child(at, Field.Right)
  if (tree.kind(at) === Kind.InstanceofExpression) {
    const label = right === NONE ? tree.child(at, Field.Pattern) : right
    return label === NONE ? undefined : { subject: left, by: 'type', labels: [label], named: right === NONE || tree.child(at, Field.Name) !== NONE ? at : undefined }
  }
  if (tree.kind(at) === Kind.MethodInvocation) {
    const object = tree.child(at, Field.Object), given = tree.children(tree.child(at, Field.Arguments)), [only] = given
    if (object === NONE || given.length !== 1 || tree.textOf(tree.child(at, Field.Name)) !== 'equals') return undefined
    const isTurned = isConstant(object, file), subject = isTurned ? only! : object, label = isTurned ? object : only!
    return isConstant(label, file) ? { subject, by: isTurned ? 'equal-to' : 'equal', labels: [label], named: undefined } : undefined
  }
  if (tree.kind(at) !== Kind.BinaryExpression) return undefined
  const operator = tree.text.slice(tree.end(left), tree.start(right)).replace(/\/\*[^]*?\*\/|\/\/[^\r\n]*|\s/g, '')
  if (operator === '||') {
    const one = testOf(left, file), another = testOf(right, file)
    return one && another && !one.named && !another.named && isSameTest(one, another, tree) ? { ...one, labels: [...one.labels, ...another.labels] } : undefined
  }
  // Texts that are the same need not be one object.
  const isLabel = (node: Node) => tree.kind(node) !== Kind.StringLiteral && isConstant(node, file)
  const isTurned = isLabel(left), subject = isTurned ? right : left, label = isTurned ? left : right
  return operator === '==' && isLabel(label) ? { subject, by: 'same', labels: [label], named: undefined } : undefined
}

/** A text, or a constant of an enum of the project. */
function isConstant(node: Node, file: JavaFile): boolean {
  const { tree } = file
  if (tree.kind(node) === Kind.StringLiteral) return true
  const name = tree.kind(node) === Kind.FieldAccess ? tree.child(node, Field.Field) : tree.kind(node) === Kind.Identifier ? node : NONE
  const meaning = name === NONE ? undefined : file.meaning(name)
  return meaning !== undefined && !(meaning instanceof ClassSymbol) && meaning.kind === 'field' && meaning.isStatic && (meaning.owner.flags & Flags.Enum) !== 0 && meaning.owner.source
}

function isSameTest(one: JavaTest, another: JavaTest, tree: FlatTree): boolean { return one.by === another.by && tree.textOf(one.subject) === tree.textOf(another.subject) }

function leavesEach(node: Node, tree: FlatTree): boolean {
  const alternative = tree.child(node, Field.Alternative)
  return leaves(tree.child(node, Field.Consequence), tree) && (alternative === NONE || (tree.kind(alternative) === Kind.IfStatement && leavesEach(alternative, tree)))
}

/** Whether a method, or a switch that is wanted as a value, is left at the end of a statement, if not before. */
export function leaves(statement: Node | undefined, tree: FlatTree): boolean {
  if (statement === undefined || statement === NONE) return false
  switch (tree.kind(statement)) {
    case Kind.ReturnStatement: case Kind.ThrowStatement: case Kind.YieldStatement: return true
    case Kind.Block: return leaves(tree.children(statement).at(-1), tree)
    case Kind.IfStatement: return leaves(tree.child(statement, Field.Consequence), tree) && leaves(tree.child(statement, Field.Alternative), tree)
    default: return false
  }
}
