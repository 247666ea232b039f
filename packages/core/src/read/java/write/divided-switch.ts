import type { ClassSymbol, FieldSymbol } from '../../binding/symbols.js'
import { ClassSymbol as AnyClass } from '../../binding/symbols.js'
import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH, NONE } from '../../syntax/flat-tree.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { javaConditionChain, leaves } from '../condition-chain.js'
import type { JavaProgram } from '../program.js'
import type { JavaFile } from '../scope.js'
import { LocalSymbol } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { isLook, isSettled } from './settled.js'

/** What one class will do. */
export interface DividedJavaCase {
  /** What it stands for; none for what is done in any other case. */
  readonly labels: readonly Node[]
  /** Without the `break` at their end. */
  readonly statements: readonly Node[]
  /** Where what belongs to it begins, and ends: behind the case before, and behind its last statement or where its block ends. */
  readonly from: number
  readonly to: number
  /** The test that names the thing anew as what it is. */
  readonly named: Node | undefined
  /** Each `break` in the middle of them, which ends the case. */
  readonly breaks: readonly Node[]
}

/** A field, as it is named where it is set. */
export interface SetField { readonly field: FieldSymbol; readonly target: Node }

/** What each case sets at its end. */
export function setOf(result: DividedJavaSwitch['result']): LocalSymbol | SetField | undefined { return result instanceof LocalSymbol || (typeof result === 'object' && 'field' in result) ? result : undefined }

/** A variable that some cases set, and the others leave as it is. `isHanded`: its value before is wanted. */
export interface KeptVariable { readonly kept: LocalSymbol; readonly isHanded: boolean }

/** The variable that cases set anywhere. */
export function keptOf(result: DividedJavaSwitch['result']): KeptVariable | undefined { return typeof result === 'object' && 'kept' in result ? result : undefined }

/** A switch, or a chain of conditions that is one, taken apart into its cases. */
export interface DividedJavaSwitch {
  readonly node: Node
  /** What it chooses by, without parentheses around it. */
  readonly subject: Node
  /** Whether the labels are types, asked for in their order, and not values. */
  readonly isByType: boolean
  /** Whether nothing at all is one of the other cases; else it is an error. */
  readonly takesNull: boolean
  /** The enum that its constants are of; null for texts. */
  readonly kinds: ClassSymbol | null
  readonly cases: readonly DividedJavaCase[]
  /** `value`: it stands where a value is wanted; else what comes of it: each case gives back, each sets the same variable or field at its end, some set a variable anywhere, or each just runs. */
  readonly result: 'value' | 'returned' | 'nothing' | LocalSymbol | SetField | KeptVariable
  /** The statement that it ends with: what stands behind a switch without a default is done in any other case. */
  readonly last: Node
  /** Where it ends, with a comment that goes along. */
  readonly end: number
}

/** A switch over an enum or texts, or a chain of conditions, as cases that do not run into each other and leave in the same way, or undefined where they do not. `body`: that of its method. */
export function divideJavaSwitch(node: Node, body: Node, file: JavaFile, { program }: BoundProgram): DividedJavaSwitch | undefined {
  const found = file.tree.kind(node) === Kind.IfStatement ? branchesOf(node, file, program) : casesOf(node, file, program)
  return found && found.cases.length > 1 && !found.cases.some(one => one.statements.some(statement => jumps(statement, file.tree))) ? leaving({ node, ...found }, body, file) : undefined
}

type Cases = Omit<DividedJavaSwitch, 'node' | 'result'>

function casesOf(node: Node, file: JavaFile, program: JavaProgram): Cases | undefined {
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
        const kind = kindsOf(constant, file, program)
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
    const to = isLast ? tree.end(block) : lineEnd(group, tree)
    cases.push({ labels: isOther ? [] : labels, statements, from, to, named: undefined, breaks: statements.flatMap(one => breaksIn(one, tree)) })
    labels = []
    isOther = false
    from = to
  }
  return kinds === undefined ? undefined : { subject: bare(tree.child(node, Field.Condition), tree), isByType: false, takesNull: false, kinds, cases, last: node, end: tree.end(node) }
}

/** Each branch of a chain as a case; what asks for something else as well is done where nothing before holds. */
function branchesOf(first: Node, file: JavaFile, program: JavaProgram): Cases | undefined {
  const { tree } = file, chain = javaConditionChain(first, file)
  if (!chain || !isLook(chain.subject, file, program)) return undefined
  const isByType = chain.by === 'type', labels = chain.branches.flatMap(one => one.labels)
  const all = isByType ? [null] : [...new Set(labels.map(label => kindsOf(label, file, program)))], [kinds] = all
  // What is named anew is named by what is handed in; parts of it are not.
  if (kinds === undefined || all.length > 1 || chain.branches.some(one => one.named !== undefined && (tree.child(one.named, Field.Pattern) !== NONE || !isSettled(chain.subject, file, program)))) return undefined
  if (!isByType && new Set(labels.map(label => tree.textOf(label).replace(/^.*\./, ''))).size < labels.length) return undefined
  let from = tree.start(first)
  const cases = [...chain.branches, ...(chain.other === undefined ? [] : [{ labels: [], named: undefined, body: chain.other }])].map(({ labels: own, named, body }): DividedJavaCase => {
    const isBlock = tree.kind(body) === Kind.Block, begin = from
    from = isBlock ? tree.end(body) : lineEnd(body, tree)
    return { labels: own, statements: isBlock ? tree.children(body) : [body], from: begin, to: from, named, breaks: [] }
  })
  // A `break` in a branch is one of a loop or a switch around.
  if (cases.some(one => one.statements.some(statement => breaksIn(statement, tree).length > 0))) return undefined
  return { subject: chain.subject, isByType, takesNull: chain.by !== 'equal', kinds, cases, last: chain.last, end: from }
}

/** Behind a comment that stands on the line of a statement's end. */
function lineEnd(node: Node, tree: FlatTree): number { return tree.end(node) + (/^[ \t]*\/\/[^\r\n]*/.exec(tree.text.slice(tree.end(node)))?.[0].length ?? 0) }

function bare(condition: Node, tree: FlatTree): Node {
  let at = condition
  while (tree.kind(at) === Kind.ParenthesizedExpression) at = tree.first(at)
  return at
}

/** The enum of a constant; null for a text, undefined for anything else. */
function kindsOf(constant: Node, file: JavaFile, program: JavaProgram): ClassSymbol | null | undefined {
  const { tree } = file
  if (tree.kind(constant) === Kind.StringLiteral) return null
  const name = tree.kind(constant) === Kind.Identifier ? constant : tree.kind(constant) === Kind.FieldAccess ? tree.child(constant, Field.Field) : NONE
  const meaning = name === NONE ? undefined : file.meaning(name)
  return meaning && !(meaning instanceof AnyClass) && meaning.kind === 'field' && meaning.owner.source && program.declarations.has(meaning.owner) ? meaning.owner : undefined
}

/** How the cases leave; undefined where some do in another way than others. */
function leaving(found: Omit<DividedJavaSwitch, 'result'>, body: Node, file: JavaFile): DividedJavaSwitch | undefined {
  const { tree } = file, { node } = found, cases = [...found.cases]
  const parent = parentOf(tree, node), hasOther = () => cases.some(one => one.labels.length === 0), endsEarly = cases.some(one => one.breaks.length > 0)
  if (tree.kind(node) !== Kind.IfStatement && tree.kind(parent) !== Kind.Block) {
    const isWanted = tree.kind(parent) === Kind.ReturnStatement || (tree.kind(parent) === Kind.VariableDeclarator && tree.child(parent, Field.Value) === node) || (tree.kind(parent) === Kind.AssignmentExpression && tree.child(parent, Field.Right) === node)
    return isWanted && cases.every(one => givesValue(one, tree)) ? { ...found, result: 'value' } : undefined
  }
  const returning = cases.flatMap(one => one.statements.flatMap(statement => returnsIn(statement, tree))), gives = returning.some(one => tree.first(one) !== NONE)
  // Nothing would say any more that the method ends there.
  if (returning.length === 0 && hasOther() && cases.every(one => leaves(one.statements.at(-1), tree))) return undefined
  if (returning.length === 0) {
    const result = (hasOther() && !endsEarly ? setByAll(cases, node, file) : undefined) ?? keptVariable(found, body, file)
    return result && { ...found, result }
  }
  const statements = parent === body ? tree.children(body) : []
  if (!gives && statements.at(-1) === found.last) return { ...found, result: 'nothing' }
  // Where one case goes on behind the switch, what it gives back is not known yet.
  if (endsEarly || (!gives && (hasOther() || parent !== body))) return undefined
  const rest = statements.slice(statements.indexOf(found.last) + 1)
  const isRestCase = !hasOther() && parent === body && rest.length > 0 && !rest.some(statement => jumps(statement, tree) || breaksIn(statement, tree).length > 0)
  if (isRestCase) cases.push({ labels: [], statements: rest, from: found.end, to: found.end, named: undefined, breaks: [] })
  const last = isRestCase ? rest.at(-1)! : found.last, end = isRestCase ? tree.end(last) : found.end
  const all = cases.flatMap(one => one.statements.flatMap(statement => returnsIn(statement, tree)))
  if (!hasOther() || !all.every(one => (tree.first(one) !== NONE) === gives) || !cases.every(one => leaves(one.statements.at(-1), tree) || (!gives && one.statements === rest))) return undefined
  return { ...found, cases, result: gives ? 'returned' : 'nothing', last, end }
}

/** The value that a case gives at its end to what all of them set. */
export function javaSettingOf({ statements }: Pick<DividedJavaCase, 'statements'>, tree: FlatTree): { readonly left: Node; readonly right: Node } | undefined {
  const last = statements.at(-1)
  if (last === undefined || tree.kind(last) !== Kind.ExpressionStatement || tree.kind(tree.first(last)) !== Kind.AssignmentExpression) return undefined
  const setting = tree.first(last), left = tree.child(setting, Field.Left), right = tree.child(setting, Field.Right)
  const isName = tree.kind(left) === Kind.Identifier || (tree.kind(left) === Kind.FieldAccess && tree.kind(tree.child(left, Field.Object)) === Kind.This)
  return isName && tree.text.slice(tree.end(left), tree.start(right)).trim() === '=' ? { left, right } : undefined
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

function setByAll(cases: readonly DividedJavaCase[], node: Node, file: JavaFile): LocalSymbol | SetField | undefined {
  const { tree } = file
  const setting = cases.filter(one => one.statements.length === 0 || tree.kind(one.statements.at(-1)!) !== Kind.ThrowStatement).map(one => javaSettingOf(one, tree))
  const symbols = new Set(setting.map(one => one && file.meaning(tree.kind(one.left) === Kind.FieldAccess ? tree.child(one.left, Field.Field) : one.left)))
  const [set] = symbols
  if (symbols.size !== 1 || !set) return undefined
  if (set instanceof LocalSymbol) return set.node >= node && set.node < tree.after(node) ? undefined : set
  return !(set instanceof AnyClass) && set.kind === 'field' ? { field: set, target: setting[0]!.left } : undefined
}

/** The variable that cases set; `nothing` where they set none. Undefined where it cannot be handed to a case and had back from it: it is one of several, or what fails would leave it half set. */
function keptVariable({ node, cases }: Pick<DividedJavaSwitch, 'node' | 'cases'>, body: Node, file: JavaFile): KeptVariable | 'nothing' | undefined {
  const { tree } = file, set = new Set<LocalSymbol>()
  for (const statement of cases.flatMap(one => one.statements)) for (let at = statement; at < tree.after(statement); at += NODE_WIDTH) {
    const kind = tree.kind(at), target = kind === Kind.AssignmentExpression ? tree.child(at, Field.Left) : kind === Kind.UpdateExpression ? tree.first(at) : NONE
    const meaning = target === NONE ? undefined : file.meaning(target)
    if (meaning instanceof LocalSymbol && !cases.some(one => one.statements.some(each => each <= meaning.node && meaning.node < tree.after(each)))) set.add(meaning)
  }
  const [kept] = set
  if (!kept) return 'nothing'
  if (set.size > 1) return undefined
  for (let at = node; at !== body; at = parentOf(tree, at)) if (tree.kind(at) === Kind.TryStatement || tree.kind(at) === Kind.TryWithResourcesStatement) return undefined
  const isHanded = !cases.some(one => one.labels.length === 0) || !cases.every(one => setsFirst(one, kept, file))
  const hasValue = kept.role === 'parameter' || (kept.role === 'variable' && tree.kind(kept.node) === Kind.VariableDeclarator && tree.child(kept.node, Field.Value) !== NONE)
  return isHanded && !hasValue ? undefined : { kept, isHanded }
}

/** Whether a case sets a variable before it looks at it; one that only fails needs none. */
function setsFirst({ statements, breaks }: DividedJavaCase, kept: LocalSymbol, file: JavaFile): boolean {
  const { tree } = file
  const speaks = (node: Node): boolean => { for (let at = node; at < tree.after(node); at += NODE_WIDTH) if (file.meaning(at) === kept) return true; return false }
  const first = statements.find(speaks), last = statements.at(-1)
  if (first === undefined) return last !== undefined && tree.kind(last) === Kind.ThrowStatement && breaks.length === 0
  const setting = javaSettingOf({ statements: [first] }, tree)
  return setting !== undefined && file.meaning(setting.left) === kept && !speaks(setting.right) && !breaks.some(one => one < first)
}

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
