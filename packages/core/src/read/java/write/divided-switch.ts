import type { ClassSymbol } from '../../binding/symbols.js'
import { ClassSymbol as AnyClass } from '../../binding/symbols.js'
import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { LocalSymbol } from '../scope.js'
import { Field, Kind } from '../syntax.js'

/** What one class will do. */
export interface DividedJavaCase {
  /** What it stands for; none for what is done in any other case. */
  readonly labels: readonly Node[]
  /** Without the `break` at their end. */
  readonly statements: readonly Node[]
  /** Where what belongs to it begins: behind the case before. */
  readonly from: number
  /** Each `break` in the middle of them, which ends the case. */
  readonly breaks: readonly Node[]
}

/** A switch taken apart into its cases. */
export interface DividedJavaSwitch {
  readonly node: Node
  /** The enum that its constants are of; null for texts. */
  readonly kinds: ClassSymbol | null
  readonly cases: readonly DividedJavaCase[]
  /** `value`: it stands where a value is wanted; else what comes of it: each case gives back, each sets the same variable at its end, or each just runs. */
  readonly result: 'value' | 'returned' | 'nothing' | LocalSymbol
  /** The statement that it ends with: what stands behind a switch without a default is done in any other case. */
  readonly last: Node
}

/** A switch over an enum or texts as cases that do not run into each other and leave in the same way, or undefined where they do not. `body`: that of its method. */
export function divideJavaSwitch(node: Node, body: Node, file: JavaFile, { program }: BoundProgram): DividedJavaSwitch | undefined {
  const { tree } = file, block = tree.child(node, Field.Body), cases: DividedJavaCase[] = []
  let labels: Node[] = [], isOther = false, from = tree.start(block) + 1, kinds: ClassSymbol | null | undefined
  const groups = tree.children(block)
  for (const [at, group] of groups.entries()) {
    const isRule = tree.kind(group) === Kind.SwitchRule
    for (const label of tree.children(group)) {
      if (tree.kind(label) !== Kind.SwitchLabel) continue
      const constants = tree.children(label)
      if (constants.length === 0) isOther = true
      for (const constant of constants) {
        const kind = constantOf(constant, file)
        if (kind === undefined || (kinds !== undefined && kinds !== kind)) return undefined
        kinds = kind
        labels.push(constant)
      }
    }
    const inside = tree.children(group).filter(one => tree.kind(one) !== Kind.SwitchLabel), isLast = at === groups.length - 1
    if (inside.length === 0 && !isLast && !isRule) continue
    const all = inside.length > 0 && tree.kind(inside[0]!) === Kind.Block && (inside.length === 1 || (inside.length === 2 && tree.kind(inside[1]!) === Kind.BreakStatement)) ? [...tree.children(inside[0]!), ...inside.slice(1)] : inside
    const end = all.at(-1), hasBreak = end !== undefined && tree.kind(end) === Kind.BreakStatement && tree.first(end) === NONE
    if (!isRule && !isLast && !hasBreak && !leaves(end, tree)) return undefined
    const statements = hasBreak ? all.slice(0, -1) : all
    cases.push({ labels: isOther ? [] : labels, statements, from, breaks: statements.flatMap(one => breaksIn(one, tree)) })
    labels = []
    isOther = false
    from = tree.end(group)
  }
  if (kinds === undefined || cases.length < 2 || cases.some(one => one.statements.some(statement => jumps(statement, tree)))) return undefined
  const parent = parentOf(tree, node), hasOther = () => cases.some(one => one.labels.length === 0)
  const divided = { node, kinds, cases, last: node }, endsEarly = cases.some(one => one.breaks.length > 0)
  if (tree.kind(parent) !== Kind.Block) {
    const isWanted = tree.kind(parent) === Kind.ReturnStatement || (tree.kind(parent) === Kind.VariableDeclarator && tree.child(parent, Field.Value) === node) || (tree.kind(parent) === Kind.AssignmentExpression && tree.child(parent, Field.Right) === node)
    return isWanted && cases.every(one => givesValue(one, tree)) ? { ...divided, result: 'value' } : undefined
  }
  const returning = cases.flatMap(one => one.statements.flatMap(statement => returnsIn(statement, tree)))
  if (returning.some(one => tree.first(one) !== NONE)) {
    // Where one case goes on behind the switch, what it gives back is not known yet.
    if (endsEarly) return undefined
    let last = node
    if (!hasOther() && parent === body) {
      const statements = tree.children(body), rest = statements.slice(statements.indexOf(node) + 1)
      if (rest.length > 0 && !rest.some(statement => jumps(statement, tree) || breaksIn(statement, tree).length > 0)) { cases.push({ labels: [], statements: rest, from: tree.end(node), breaks: [] }); last = rest.at(-1)! }
    }
    return hasOther() && cases.every(one => leaves(one.statements.at(-1), tree)) ? { ...divided, last, result: 'returned' } : undefined
  }
  if (returning.length > 0) return parent === body && tree.children(body).at(-1) === node ? { ...divided, result: 'nothing' } : undefined
  return { ...divided, result: (hasOther() && !endsEarly ? setByAll(cases, node, file) : undefined) ?? 'nothing' }

  /** The enum of a constant; null for a text, undefined for anything else. */
  function constantOf(constant: Node, { tree: of }: JavaFile): ClassSymbol | null | undefined {
    if (of.kind(constant) === Kind.StringLiteral) return null
    const name = of.kind(constant) === Kind.Identifier ? constant : of.kind(constant) === Kind.FieldAccess ? of.child(constant, Field.Field) : NONE
    const meaning = name === NONE ? undefined : file.meaning(name)
    return meaning && !(meaning instanceof AnyClass) && meaning.kind === 'field' && meaning.owner.source && program.declarations.has(meaning.owner) ? meaning.owner : undefined
  }
}

/** The value that a case gives to the variable that all of them set. */
export function javaSettingOf({ statements }: DividedJavaCase, tree: FlatTree): { readonly left: Node; readonly right: Node } | undefined {
  const last = statements.at(-1)
  if (last === undefined || tree.kind(last) !== Kind.ExpressionStatement || tree.kind(tree.first(last)) !== Kind.AssignmentExpression) return undefined
  const setting = tree.first(last), left = tree.child(setting, Field.Left), right = tree.child(setting, Field.Right)
  return tree.kind(left) === Kind.Identifier && tree.text.slice(tree.end(left), tree.start(right)).trim() === '=' ? { left, right } : undefined
}

/** The bare expression of `case A -> expression;`, where a value is wanted. */
export function bareValueOf({ statements }: DividedJavaCase, tree: FlatTree): Node | undefined {
  const [only] = statements
  return statements.length === 1 && tree.kind(only!) === Kind.ExpressionStatement && tree.kind(parentOf(tree, only!)) === Kind.SwitchRule ? tree.first(only!) : undefined
}

function givesValue(one: DividedJavaCase, tree: FlatTree): boolean {
  const last = one.statements.at(-1)
  return bareValueOf(one, tree) !== undefined || (last !== undefined && (tree.kind(last) === Kind.YieldStatement || tree.kind(last) === Kind.ThrowStatement))
}

function setByAll(cases: readonly DividedJavaCase[], node: Node, file: JavaFile): LocalSymbol | undefined {
  const { tree } = file
  const setting = cases.filter(one => one.statements.length === 0 || tree.kind(one.statements.at(-1)!) !== Kind.ThrowStatement).map(one => javaSettingOf(one, tree))
  const symbols = new Set(setting.map(one => one && file.meaning(one.left)))
  const [set] = symbols
  return symbols.size === 1 && set instanceof LocalSymbol && !(set.node >= node && set.node < tree.after(node)) ? set : undefined
}

function leaves(statement: Node | undefined, tree: FlatTree): boolean { return statement !== undefined && (tree.kind(statement) === Kind.ReturnStatement || tree.kind(statement) === Kind.ThrowStatement || tree.kind(statement) === Kind.YieldStatement) }

const FUNCTIONS = new Set([Kind.LambdaExpression, Kind.ClassBody])
const LOOPS = new Set([Kind.WhileStatement, Kind.DoStatement, Kind.ForStatement, Kind.EnhancedForStatement])

function returnsIn(node: Node, tree: FlatTree): Node[] {
  if (FUNCTIONS.has(tree.kind(node))) return []
  return tree.kind(node) === Kind.ReturnStatement ? [node] : tree.children(node).flatMap(child => returnsIn(child, tree))
}

/** Whether something leaves the statement for a place outside of it, other than by giving back, throwing, or ending the case. */
function jumps(statement: Node, tree: FlatTree): boolean {
  const visit = (node: Node, inLoop: boolean): boolean => {
    const kind = tree.kind(node)
    if (FUNCTIONS.has(kind)) return false
    if (kind === Kind.BreakStatement) return tree.first(node) !== NONE
    if (kind === Kind.ContinueStatement) return tree.first(node) !== NONE || !inLoop
    return tree.children(node).some(child => visit(child, inLoop || LOOPS.has(kind)))
  }
  return visit(statement, false)
}

/** What ends the statement itself: no loop and no switch inside of it. */
function breaksIn(node: Node, tree: FlatTree): Node[] {
  const kind = tree.kind(node)
  if (FUNCTIONS.has(kind) || LOOPS.has(kind) || kind === Kind.SwitchExpression) return []
  return kind === Kind.BreakStatement ? (tree.first(node) === NONE ? [node] : []) : tree.children(node).flatMap(child => breaksIn(child, tree))
}
