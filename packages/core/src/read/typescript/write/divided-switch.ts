import ts from 'typescript'
import { conditionChain, isName, leaves } from '../condition-chain.js'
import type { Snapshot } from '../session.js'
import { keptVariables } from './kept-variables.js'
import { attachedEnd } from './moving-statements.js'
import { isSettled, mayRun } from './settled.js'
import type { DividedCase, DividedSwitch, SetVariable } from './switch-cases.js'
import type { WrittenFunction } from './switch-homes.js'

/** A switch, or a chain of conditions, in a function as cases that do not run into each other and leave in the same way, or undefined where they do not. */
export function divideSwitch(node: ts.SwitchStatement | ts.IfStatement, around: WrittenFunction, snapshot: Snapshot): DividedSwitch | undefined {
  const found = ts.isSwitchStatement(node) ? casesOf(node) : branchesOf(node, snapshot)
  return found && found.cases.length > 1 && !found.cases.some(one => one.statements.some(jumps)) && !areAlike(found, snapshot) ? leaving({ node, around, ...found }, snapshot) : undefined
}

type Cases = Pick<DividedSwitch, 'subject' | 'isByClass' | 'cases' | 'last' | 'end'>

function casesOf(node: ts.SwitchStatement): Cases | undefined {
  const cases: DividedCase[] = [], { clauses } = node.caseBlock, file = node.getSourceFile()
  let labels: ts.Expression[] = [], isOther = false, comments: string[] = []
  for (const [at, clause] of clauses.entries()) {
    if (ts.isCaseClause(clause)) labels.push(clause.expression)
    else isOther = true
    comments.push(...commentsBefore(clause, clauseStatements(clause)[0]))
    const isLast = at === clauses.length - 1
    if (clause.statements.length === 0 && !isLast) continue
    const statements = withoutBreak(clause)
    if (!isLast && statements.length === clauseStatements(clause).length && !leaves(statements.at(-1))) return undefined
    // What stands behind the last statement of any other clause stands before the next one.
    const all = clauseStatements(clause), behind = isLast ? node.end : all === clause.statements ? undefined : clause.statements[0]!.end
    const closing = behind === undefined || all.length === 0 ? [] : commentsIn(file.text.slice(attachedEnd(all.at(-1)!, file), behind))
    cases.push({ labels: isOther ? [] : labels, statements, comments, closing, breaks: statements.flatMap(breaksIn) })
    labels = []
    comments = []
    isOther = false
  }
  return { subject: node.expression, isByClass: false, cases, last: node, end: node.end }
}

/** Each branch of a chain as a case; what asks for something else as well is done where nothing before holds. */
function branchesOf(first: ts.IfStatement, snapshot: Snapshot): Cases | undefined {
  const chain = conditionChain(first)
  // It is looked at once now. A `break` in a branch is one of a loop or a switch around.
  if (!chain || !isName(chain.subject) || mayRun(chain.subject, snapshot) || [...chain.branches.map(one => one.body), ...(chain.other ? [chain.other] : [])].some(one => breaksIn(one).length > 0)) return undefined
  const file = first.getSourceFile()
  let from = first.getStart(file)
  const all = [...chain.branches, ...(chain.other ? [{ labels: [], body: chain.other }] : [])]
  const cases = all.map(({ labels, body }): DividedCase => {
    const statements = ts.isBlock(body) ? body.statements : [body], [one] = statements
    const upTo = one ? one.getStart(file) : body.end, comments = commentsIn(file.text.slice(from, upTo))
    from = ts.isBlock(body) ? body.end : attachedEnd(body, file)
    return { labels, statements, comments, closing: one && ts.isBlock(body) ? commentsIn(file.text.slice(attachedEnd(statements.at(-1)!, file), body.end)) : [], breaks: [] }
  })
  return { subject: chain.subject, isByClass: chain.isByClass, cases, last: chain.last, end: from }
}

/** Comments in a piece of code that has no texts of several lines and no regular expressions. */
function commentsIn(text: string): string[] {
  const scanner = ts.createScanner(ts.ScriptTarget.Latest, false, ts.LanguageVariant.Standard, text), found: string[] = []
  for (let token = scanner.scan(); token !== ts.SyntaxKind.EndOfFileToken; token = scanner.scan()) {
    if (token === ts.SyntaxKind.SingleLineCommentTrivia || token === ts.SyntaxKind.MultiLineCommentTrivia) found.push(scanner.getTokenText())
  }
  return found
}

/** Whether two cases are for the same value: the second is never reached, but would be what a table keeps. */
function areAlike({ cases, isByClass }: Cases, { checker }: Snapshot): boolean {
  const labels = isByClass ? [] : cases.flatMap(one => one.labels).map(label => (ts.isPropertyAccessExpression(label) ? checker.getConstantValue(label) ?? label.getText() : (label as ts.StringLiteralLike).text))
  return new Set(labels).size < labels.length
}

/** How the cases leave; undefined where some do in another way than others. */
function leaving(found: Omit<DividedSwitch, 'result' | 'exhaustive'>, snapshot: Snapshot): DividedSwitch | undefined {
  const { checker } = snapshot
  const { node, around } = found, cases = [...found.cases], file = node.getSourceFile()
  const exhaustive = isExhaustive(found, checker), endsEarly = cases.some(one => one.breaks.length > 0)
  const block = node.parent, hasOther = () => cases.some(one => one.labels.length === 0)
  const returning = cases.flatMap(one => one.statements.flatMap(returnsIn)), gives = returning.some(one => one.expression)
  if (returning.length === 0) {
    // Nothing would say any more that the function ends there.
    if (hasOther() && cases.every(one => leaves(one.statements.at(-1)))) return undefined
    const isWhole = hasOther() || exhaustive
    const set = !endsEarly && isWhole ? setByAll(cases, node, around, snapshot) : undefined
    if (set) return { ...found, result: set, exhaustive }
    const kept = keptVariables(found, isWhole, checker)
    return kept && { ...found, result: kept.length > 0 ? { kept } : 'nothing', exhaustive }
  }
  const isAll = block === around.body && around.body.statements.at(-1) === found.last
  if (!gives && isAll) return { ...found, result: 'nothing', exhaustive }
  // Where one case goes on behind the switch, what it gives back is not known yet.
  if (endsEarly || (!gives && (hasOther() || block !== around.body))) return undefined
  const rest = block === around.body ? around.body.statements.slice(around.body.statements.indexOf(found.last) + 1) : []
  const isRestCase = !hasOther() && rest.length > 0 && !rest.some(one => jumps(one) || breaksIn(one).length > 0)
  if (isRestCase) cases.push({ labels: [], statements: rest, comments: commentsIn(file.text.slice(found.end, rest[0]!.getStart(file))), closing: [], breaks: [] })
  const last = isRestCase ? rest.at(-1)! : found.last, end = isRestCase ? attachedEnd(last, file) : found.end
  const all = cases.flatMap(one => one.statements.flatMap(returnsIn))
  const ends = hasOther() || exhaustive || (gives && isAll && givesNothing(around, checker))
  if (!ends || !all.every(one => (one.expression !== undefined) === gives) || !cases.every(one => leaves(one.statements.at(-1)) || (!gives && one.statements === rest))) return undefined
  return { ...found, cases, result: gives ? 'returned' : 'nothing', last, end, exhaustive }
}

/** The value that a case gives at its end to what all of them set. */
export function settingOf({ statements }: DividedCase): ts.BinaryExpression | undefined {
  const last = statements.at(-1)
  return last && ts.isExpressionStatement(last) && ts.isBinaryExpression(last.expression) && last.expression.operatorToken.kind === ts.SyntaxKind.EqualsToken && isName(last.expression.left) ? last.expression : undefined
}

/** Whether a function may end without giving anything back. */
function givesNothing(around: WrittenFunction, checker: ts.TypeChecker): boolean {
  const given = checker.getReturnTypeOfSignature(checker.getSignatureFromDeclaration(around)!), type = checker.getAwaitedType(given) ?? given
  return (type.isUnion() ? type.types : [type]).some(one => (one.flags & (ts.TypeFlags.Undefined | ts.TypeFlags.Any | ts.TypeFlags.Unknown)) !== 0)
}

function setByAll(cases: readonly DividedCase[], node: ts.Statement, around: WrittenFunction, snapshot: Snapshot): SetVariable | undefined {
  const { checker } = snapshot
  const setting = cases.filter(one => !(one.statements.at(-1) && ts.isThrowStatement(one.statements.at(-1)!))).map(settingOf)
  const symbols = new Set(setting.map(one => one && checker.getSymbolAtLocation(one.left)))
  const [set] = symbols, declaration = set?.valueDeclaration, target = setting[0]?.left
  if (symbols.size !== 1 || !set || !declaration || !target) return undefined
  // Of what it is a property is asked before the case runs, now.
  if (ts.isPropertyAccessExpression(target)) return setting.every(one => one!.left.getText() === target.getText()) && isSettled(target.expression, snapshot) && !mayRun(target, snapshot) ? { set, target } : undefined
  if (!(ts.isVariableDeclaration(declaration) || ts.isParameter(declaration)) || ts.findAncestor(declaration, one => one === around) === undefined || ts.findAncestor(declaration, one => one === node)) return undefined
  return { set, target }
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

function isExhaustive({ subject, isByClass, cases }: Cases, checker: ts.TypeChecker): boolean {
  if (isByClass) return false
  const type = checker.getTypeAtLocation(subject), parts = type.isUnion() ? type.types : [type]
  const covered = new Set(cases.flatMap(one => one.labels).map(label => checker.typeToString(checker.getTypeAtLocation(label))))
  return parts.every(one => (one.flags & (ts.TypeFlags.StringLiteral | ts.TypeFlags.EnumLiteral)) !== 0 && covered.has(checker.typeToString(one)))
}
