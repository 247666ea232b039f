import ts from 'typescript'
import type { LineRange, ShownLines } from '../../../model/repeated-sequence.js'
import { Refused } from '../../write/refused.js'
import { rowsOf, shownAndAlike } from '../../write/repeated-runs.js'
import type { ShownBlock } from '../../write/shown-statements.js'
import { heldBy, statementsShown } from '../../write/shown-statements.js'
import type { Snapshot } from '../session.js'
import { lineOf } from './injection-points.js'
import type { RepeatedRun } from './repeated-runs.js'
import { anchorsIn, anchorsOver, instanceBlocksIn, instanceClassOf, languageOf, usableRun } from './repeated-runs.js'

/** A class that is handed one object more: it has one constructor, and only code makes it. */
export function canBeHandedMore(node: ts.ClassDeclaration): boolean {
  return !ts.getDecorators(node)?.length && node.members.filter(ts.isConstructorDeclaration).length <= 1
}

/** The statements that lines of a class hold, and those alike in other classes. Refused with what is in the way. */
export function shownRun(node: ts.ClassDeclaration, lines: ShownLines, snapshot: Snapshot): RepeatedRun {
  const path = snapshot.pathOf(node.getSourceFile())!, where = `${path}:${lines.from}-${lines.to}`
  const { block, from, to } = statementsShown(instanceBlocksIn(node).map(shownBlock), lines, where)
  const language = languageOf(snapshot), statements = block.statements.slice(from, to)
  const stuck = statements.find((_, at) => !language.unify([statements.slice(0, at + 1)]))
  if (stuck) throw new Refused('lines', `the statement in ${path}:${lineOf(stuck)} leaves the method, sets something outside of the statements, or calls what only ${node.name!.text} can call`)
  const first = anchorsIn(block, snapshot).find(one => one.at >= from && one.at < to)
  const others = !lines.others ? [] : [...new Set([...first?.types ?? []].flatMap(type => anchorsOver(type, snapshot)))].filter(one => canBeHandedMore(instanceClassOf(one.block)!))
  const run = first && shownAndAlike(first, from, to, others, language), usable = run && usableRun(run, snapshot)
  if (!run || run.types.length === 0) throw new Refused('lines', `${where} calls nothing of the project's that a facade could stand before`)
  if (!usable) throw new Refused('result', `more than one variable of ${where} is used behind it`)
  return usable
}

/** What the statements of the first place say, as it is kept with a plan. */
export function heldByRun({ places: [place] }: RepeatedRun): string {
  const { block, statements } = place!, from = block.statements.indexOf(statements[0]!)
  return heldBy(shownBlock(block), from, from + statements.length)
}

function shownBlock(block: ts.Block): ShownBlock<ts.Block> {
  return { block, statements: block.statements.map(one => ({ from: lineOf(one), to: endLineOf(one), text: () => one.getText() })) }
}

/** Rows of statements of a class's methods that one call could stand for, those over most types first. */
export function showableRuns(node: ts.ClassDeclaration, snapshot: Snapshot): { readonly lines: LineRange; readonly run: RepeatedRun }[] {
  const language = languageOf(snapshot)
  const linesOf = (block: ts.Block, from: number, to: number): LineRange => ({ from: lineOf(block.statements[from]!), to: endLineOf(block.statements[to - 1]!) })
  return instanceBlocksIn(node).flatMap(block => {
    const runOf = (from: number, to: number) => { const statements = block.statements.slice(from, to), unified = language.unify([statements]); return unified && usableRun({ ...language.called(statements, unified), places: [{ block, statements }], unified }, snapshot) }
    return rowsOf(block.statements, language, (from, to) => !isAllOf(block, from, to) && runOf(from, to) !== undefined).flatMap(({ from, to }) => { const run = runOf(from, to); return run ? [{ lines: linesOf(block, from, to), run }] : [] })
  }).sort((a, b) => b.run.types.length - a.run.types.length)
}

/** Whether nothing but giving back what came of it would be left of a method. */
function isAllOf(block: ts.Block, from: number, to: number): boolean {
  return from === 0 && !ts.isBlock(block.parent) && ts.isClassElement(block.parent) && block.statements.slice(to).every(ts.isReturnStatement)
}

function endLineOf(node: ts.Node): number { return node.getSourceFile().getLineAndCharacterOfPosition(node.end).line + 1 }
