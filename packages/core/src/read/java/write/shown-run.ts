import type { LineRange, ShownLines } from '../../../model/repeated-sequence.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { Refused } from '../../write/refused.js'
import { rowsOf, shownAndAlike } from '../../write/repeated-runs.js'
import type { ShownBlock } from '../../write/shown-statements.js'
import { heldBy, statementsShown } from '../../write/shown-statements.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { Kind } from '../syntax.js'
import type { JavaWriteContext } from './context.js'
import { constructorsOf } from './creation-sites.js'
import type { JavaRepeatedRun, MethodBlock } from './repeated-runs.js'
import { anchorsOver, callsIn, instanceBlocksIn, languageOf, statementsOf, usableRun } from './repeated-runs.js'
import type { JavaStatement } from './statement-unifier.js'

/** A class of one constructor, or none, which can be handed one object more. */
export function canBeHandedMore(owner: ClassSymbol, { program }: BoundProgram, file: MethodBlock['file']): boolean {
  const declared = program.declarations.get(owner)
  return declared !== undefined && constructorsOf(owner, file, declared.node).length <= 1
}

/** The statements that lines of a class hold, and those alike in other classes. Refused with what is in the way. */
export function shownJavaRun(owner: ClassSymbol, lines: ShownLines, context: JavaWriteContext): JavaRepeatedRun {
  const { bound } = context, { path } = bound.program.declarations.get(owner)!.file, where = `${path}:${lines.from}-${lines.to}`
  const { block, from, to } = statementsShown(blocksOf(owner, bound).map(shownBlock), lines, where)
  const language = languageOf(context), statements = statementsOf(block).slice(from, to)
  const stuck = statements.find((_, at) => !language.unify([statements.slice(0, at + 1)]))
  if (stuck) throw new Refused('lines', `the statement in ${path}:${linesOf(stuck).from} leaves the method, sets something outside of the statements, or calls what only ${owner.name} can call`)
  // The file's own anchors: what is alike is told apart by them.
  const first = callsIn(path, bound).find(one => one.block.node === block.node && one.at >= from && one.at < to)
  const others = !lines.others ? [] : [...new Set([...first?.types ?? []].flatMap(type => anchorsOver(type, context)))].filter(one => canBeHandedMore(one.block.owner, bound, one.block.file))
  const run = first && shownAndAlike(first, from, to, others, language), usable = run && usableRun(run)
  if (!run || run.types.length === 0) throw new Refused('lines', `${where} calls nothing of the project's that a facade could stand before`)
  if (!usable) throw new Refused('result', `more than one variable of ${where} is used behind it`)
  return usable
}

/** What the statements of the first place say, as it is kept with a plan. */
export function heldByRun({ places: [place] }: JavaRepeatedRun): string {
  const { file, block, method, owner, statements } = place!, shown = { file, node: block, method, owner }
  const from = statementsOf(shown).findIndex(one => one.node === statements[0]!.node)
  return heldBy(shownBlock(shown), from, from + statements.length)
}

/** Rows of statements of a class's methods that one call could stand for, those over most types first. */
export function showableJavaRuns(owner: ClassSymbol, context: JavaWriteContext): { readonly lines: LineRange; readonly run: JavaRepeatedRun }[] {
  const language = languageOf(context)
  return blocksOf(owner, context.bound).flatMap(block => {
    const all = statementsOf(block)
    const runOf = (from: number, to: number) => { const statements = all.slice(from, to), unified = language.unify([statements]); return unified && usableRun({ ...language.called(statements, unified), places: [{ block, statements }], unified }) }
    return rowsOf(all, language, (from, to) => !isAllOf(block, from, to) && runOf(from, to) !== undefined)
      .flatMap(({ from, to }) => { const run = runOf(from, to); return run ? [{ lines: { from: linesOf(all[from]!).from, to: linesOf(all[to - 1]!).to }, run }] : [] })
  }).sort((a, b) => b.run.types.length - a.run.types.length)
}

function blocksOf(owner: ClassSymbol, bound: BoundProgram): MethodBlock[] {
  const path = bound.program.declarations.get(owner)?.file.path, file = path === undefined ? undefined : bound.file(path)?.java
  return file ? instanceBlocksIn(file).filter(one => one.owner === owner) : []
}

function shownBlock(block: MethodBlock): ShownBlock<MethodBlock> {
  return { block, statements: statementsOf(block).map(one => ({ ...linesOf(one), text: () => one.file.tree.textOf(one.node) })) }
}

/** Whether nothing but giving back what came of it would be left of a method. */
function isAllOf(block: MethodBlock, from: number, to: number): boolean {
  const { tree } = block.file
  return from === 0 && parentOf(tree, block.node) === block.method && statementsOf(block).slice(to).every(one => tree.kind(one.node) === Kind.ReturnStatement)
}

function linesOf({ file: { tree }, node }: JavaStatement): LineRange {
  const lineAt = (offset: number) => tree.text.slice(0, offset).split('\n').length
  return { from: lineAt(tree.start(node)), to: lineAt(tree.end(node)) }
}
