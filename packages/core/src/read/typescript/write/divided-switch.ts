import ts from 'typescript'
import type { Snapshot } from '../session.js'
import type { WrittenFunction } from './switch-homes.js'

/** What one class will do. */
export interface DividedCase {
  /** What it stands for; none for what is done in any other case. */
  readonly labels: readonly ts.Expression[]
  /** Without the `break` at their end. */
  readonly statements: readonly ts.Statement[]
  /** Comments before the first of them, as written. */
  readonly comments: readonly string[]
  /** Each `break` in the middle of them, which ends the case. */
  readonly breaks: readonly ts.BreakStatement[]
}

/** A switch taken apart into its cases. */
export interface DividedSwitch {
  readonly node: ts.SwitchStatement
  /** The function that it stands in. */
  readonly around: WrittenFunction
  readonly cases: readonly DividedCase[]
  /** What comes of it: each case gives back a value, each sets the same variable at its end, or each just runs. */
  readonly result: 'returned' | 'nothing' | { readonly set: ts.Symbol; readonly declaration: ts.VariableDeclaration | ts.ParameterDeclaration }
  /** The statement that it ends with: what stands behind a switch without a default is done in any other case. */
  readonly last: ts.Statement
  /** Whether each value that the type allows has a case. */
  readonly exhaustive: boolean
}

/** A switch in a function as cases that do not run into each other and leave in the same way, or undefined where they do not. */
export function divideSwitch(node: ts.SwitchStatement, around: WrittenFunction, { checker }: Snapshot): DividedSwitch | undefined {
  const cases: DividedCase[] = [], { clauses } = node.caseBlock
  let labels: ts.Expression[] = [], isOther = false, comments: string[] = []
  for (const [at, clause] of clauses.entries()) {
    if (ts.isCaseClause(clause)) labels.push(clause.expression)
    else isOther = true
    comments.push(...commentsBefore(clause, clauseStatements(clause)[0]))
    const isLast = at === clauses.length - 1
    if (clause.statements.length === 0 && !isLast) continue
    const statements = withoutBreak(clause)
    if (!isLast && statements.length === clauseStatements(clause).length && !leaves(statements.at(-1))) return undefined
    cases.push({ labels: isOther ? [] : labels, statements, comments, breaks: statements.flatMap(breaksIn) })
    labels = []
    comments = []
    isOther = false
  }
  if (cases.some(one => one.statements.some(jumps)) || cases.length < 2) return undefined
  const exhaustive = isExhaustive(node, checker), endsEarly = cases.some(one => one.breaks.length > 0)
  let last: ts.Statement = node
  const block = node.parent, hasOther = () => cases.some(one => one.labels.length === 0)
  const returning = cases.flatMap(one => one.statements.flatMap(returnsIn))
  if (returning.some(one => one.expression)) {
    // Where one case goes on behind the switch, what it gives back is not known yet.
    if (endsEarly) return undefined
    if (!hasOther() && block === around.body) {
      const rest = around.body.statements.slice(around.body.statements.indexOf(node) + 1)
      if (rest.length > 0 && !rest.some(one => jumps(one) || breaksIn(one).length > 0)) { cases.push({ labels: [], statements: rest, comments: [], breaks: [] }); last = rest.at(-1)! }
    }
    const all = cases.flatMap(one => one.statements.flatMap(returnsIn))
    return (hasOther() || exhaustive) && all.every(one => one.expression) && cases.every(one => leaves(one.statements.at(-1))) ? { node, around, cases, result: 'returned', last, exhaustive } : undefined
  }
  if (returning.length > 0) return block === around.body && around.body.statements.at(-1) === node ? { node, around, cases, result: 'nothing', last, exhaustive } : undefined
  const set = !endsEarly && (hasOther() || exhaustive) ? setByAll(cases, node, around, checker) : undefined
  return { node, around, cases, result: set ?? 'nothing', last, exhaustive }
}

/** The value that a case gives to the variable that all of them set. */
export function settingOf({ statements }: DividedCase): ts.BinaryExpression | undefined {
  const last = statements.at(-1)
  return last && ts.isExpressionStatement(last) && ts.isBinaryExpression(last.expression) && last.expression.operatorToken.kind === ts.SyntaxKind.EqualsToken && ts.isIdentifier(last.expression.left) ? last.expression : undefined
}

function setByAll(cases: readonly DividedCase[], node: ts.SwitchStatement, around: WrittenFunction, checker: ts.TypeChecker): Extract<DividedSwitch['result'], object> | undefined {
  const setting = cases.filter(one => !(one.statements.at(-1) && ts.isThrowStatement(one.statements.at(-1)!))).map(settingOf)
  const symbols = new Set(setting.map(one => one && checker.getSymbolAtLocation(one.left)))
  const [set] = symbols, declaration = set?.valueDeclaration
  if (symbols.size !== 1 || !set || !declaration || !(ts.isVariableDeclaration(declaration) || ts.isParameter(declaration)) || ts.findAncestor(declaration, one => one === around) === undefined || ts.findAncestor(declaration, one => one === node)) return undefined
  return { set, declaration }
}

/** Comments above a clause, behind its label, and above its first statement. */
function commentsBefore(clause: ts.CaseOrDefaultClause, first: ts.Statement | undefined): string[] {
  const { text } = clause.getSourceFile()
  const places = [clause.pos, ...(first ? [first.pos] : [])]
  const ranges = places.flatMap((pos, at) => [...(at > 0 ? ts.getTrailingCommentRanges(text, pos) ?? [] : []), ...ts.getLeadingCommentRanges(text, pos) ?? []])
  return [...new Map(ranges.map(one => [one.pos, text.slice(one.pos, one.end)])).values()]
}

function clauseStatements(clause: ts.CaseOrDefaultClause): readonly ts.Statement[] {
  const [only, end] = clause.statements
  if (only && ts.isBlock(only) && (clause.statements.length === 1 || (clause.statements.length === 2 && ts.isBreakStatement(end!)))) return [...only.statements, ...(end ? [end] : [])]
  return clause.statements
}

function withoutBreak(clause: ts.CaseOrDefaultClause): readonly ts.Statement[] {
  const statements = clauseStatements(clause), last = statements.at(-1)
  return last && ts.isBreakStatement(last) && !last.label ? statements.slice(0, -1) : statements
}

function leaves(statement: ts.Statement | undefined): boolean { return statement !== undefined && (ts.isReturnStatement(statement) || ts.isThrowStatement(statement)) }

/** Where a function is left with or without a value, those of functions inside of it left out. */
export function returnsIn(node: ts.Node): ts.ReturnStatement[] {
  if (ts.isFunctionLike(node) || ts.isClassLike(node)) return []
  if (ts.isReturnStatement(node)) return [node]
  const found: ts.ReturnStatement[] = []
  ts.forEachChild(node, child => { found.push(...returnsIn(child)) })
  return found
}

/** Whether something leaves the statement for a place outside of it, other than by giving back, throwing, or ending the case. */
function jumps(statement: ts.Node): boolean {
  const visit = (node: ts.Node, inLoop: boolean): boolean => {
    if (ts.isFunctionLike(node) || ts.isClassLike(node)) return false
    if (ts.isBreakOrContinueStatement(node)) return node.label !== undefined || (ts.isContinueStatement(node) && !inLoop)
    const loop = inLoop || ts.isIterationStatement(node, false)
    return ts.forEachChild(node, child => visit(child, loop) || undefined) ?? false
  }
  return visit(statement, false)
}

/** What ends the statement itself: no loop and no switch inside of it. */
function breaksIn(node: ts.Node): ts.BreakStatement[] {
  if (ts.isFunctionLike(node) || ts.isClassLike(node) || ts.isIterationStatement(node, false) || ts.isSwitchStatement(node)) return []
  if (ts.isBreakStatement(node)) return node.label ? [] : [node]
  const found: ts.BreakStatement[] = []
  ts.forEachChild(node, child => { found.push(...breaksIn(child)) })
  return found
}

function isExhaustive({ expression, caseBlock }: ts.SwitchStatement, checker: ts.TypeChecker): boolean {
  const type = checker.getTypeAtLocation(expression), parts = type.isUnion() ? type.types : [type]
  const covered = new Set(caseBlock.clauses.filter(ts.isCaseClause).map(one => checker.typeToString(checker.getTypeAtLocation(one.expression))))
  return parts.every(one => (one.flags & (ts.TypeFlags.StringLiteral | ts.TypeFlags.EnumLiteral)) !== 0 && covered.has(checker.typeToString(one)))
}
