import ts from 'typescript'
import type { BuildForTestsPlan, PlanRefusal } from '../../../model/plan.js'
import type { RepeatedSequence } from '../../../model/repeated-sequence.js'
import { planRefused } from '../../../model/plan.js'
import { numberedName } from '../../write/names.js'
import type { Called } from '../../write/repeated-runs.js'
import { byCalls, findRepeated, keysOf } from '../../write/repeated-runs.js'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import { checkedStep, refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import { dividedHoles } from './facade-parts.js'
import { ProjectEditor, topLevelNames } from './file-editor.js'
import { lineOf } from './injection-points.js'
import { givenArguments, lostComments, MovedRun, writtenParameters } from './moved-run.js'
import { attachedEnd } from './moving-statements.js'
import { newFilePath } from './new-file.js'
import { anchorsIn, canName, typesCalled, usedAfter, waits } from './repeated-runs.js'
import { isLeftEmpty, keywordFor, variableAt } from './run-results.js'
import type { Unified } from './statement-unifier.js'
import { unifyStatements } from './statement-unifier.js'

/** Set-up that several tests have alike. */
interface RepeatedSetUp extends Called {
  readonly places: readonly { readonly block: ts.Block; readonly statements: readonly ts.Statement[] }[]
  readonly unified: Unified
  /** Numbers of its variables that some test uses behind it, in the order in which they are declared. */
  readonly results: readonly number[]
}

/** So many statements in all places together are worth one that they share. */
const SAVED = 6

/** More than this is no simpler to hand over than to build. */
const MOST_PARAMETERS = 6

function setUpsOf(type: string, snapshot: Snapshot): RepeatedSetUp[] {
  const using = new Set(snapshot.facts.files.filter(file => file.test && file.references.some(one => one.to === type)).map(file => file.path))
  const anchors = [...snapshot.paths].filter(([, path]) => using.has(path) && !/\.[cm]?jsx?$|\.d\.[cm]?ts$/.test(path)).flatMap(([file]) => blocksIn(file).flatMap(block => anchorsIn(block, snapshot)))
  const builds = (statement: ts.Statement) => ts.isVariableStatement(statement) && typesCalled([statement], snapshot).built.size > 0
  return findRepeated(type, anchors, {
    unify: runs => unifyStatements(runs, snapshot.checker, symbol => canName(symbol, snapshot)),
    called: (statements, unified) => typesCalled(statements, snapshot, new Set(unified?.holes.map(hole => hole.nodes[0]!))),
    // What a test does with what it has set up stays in the test.
    mayBegin: statement => ts.isVariableStatement(statement), mayEnd: builds, calls: 2
  }, run => {
    const results = [...new Set(run.places.flatMap((place, at) => usedAfter(place, run.unified.locals[at]!, snapshot)))].sort((a, b) => a - b)
    return run.built.size < 2 || results.length === 0 || run.places.length * run.places[0]!.statements.length < SAVED || results.some(number => isLeftEmpty(run.unified, run.places[0]!.statements, number)) ? undefined : { ...run, results }
  })
}

/** Bodies of functions, and blocks in them. */
function blocksIn(file: ts.SourceFile): ts.Block[] {
  const found: ts.Block[] = []
  const visit = (node: ts.Node): void => { if (ts.isBlock(node)) found.push(node); ts.forEachChild(node, visit) }
  visit(file)
  return found
}

function setUpKeys(runs: readonly RepeatedSetUp[], { pathOf }: Snapshot): string[] { return keysOf(runs.map(run => pathOf(run.places[0]!.block.getSourceFile())!)) }

function proposedName(run: RepeatedSetUp, snapshot: Snapshot): string {
  // What the last statement builds, and not what that is handed.
  const [last] = typesCalled([run.places[0]!.statements.at(-1)!], snapshot).built
  const taken = new Set([...snapshot.paths.keys()].flatMap(file => [...topLevelNames(file)]))
  return numberedName(`setUp${last!.slice(last!.lastIndexOf('#') + 1).split('.').at(-1)!}`, one => !taken.has(one))
}

/** Set-up with a type that tests have alike and that one function could do for all of them. */
export function repeatedSetUps(type: string, snapshot: Snapshot): RepeatedSequence[] {
  const runs = setUpsOf(type, snapshot), keys = setUpKeys(runs, snapshot)
  return runs.flatMap((run, at) => {
    const { parameters } = dividedHoles(run, snapshot, () => undefined)
    if (parameters.length > MOST_PARAMETERS || parameters.filter(one => one.lazy).length > 1) return []
    const places = run.places.map(({ statements: [first] }) => `${snapshot.pathOf(first!.getSourceFile())!}:${lineOf(first!)}`)
    return [{ key: keys[at]!, types: byCalls(run), places, statements: run.places[0]!.statements.length, name: proposedName(run, snapshot), method: '', edits: run.places.length + 1, files: new Set(places.map(place => place.slice(0, place.lastIndexOf(':')))).size + 1 }]
  })
}

/** A function beside the tests that sets up what several of them set up alike, and gives what they use of it. */
export function buildForTests(plan: BuildForTestsPlan, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const runs = setUpsOf(plan.type, snapshot), run = runs[setUpKeys(runs, snapshot).indexOf(plan.sequence)]
  if (!run) return planRefused('sequence', `No set-up with ${plan.type} is alike in several tests any more.`)
  const name = plan.name ?? proposedName(run, snapshot)
  const [first] = run.places as [RepeatedSetUp['places'][number]], path = snapshot.pathOf(first.block.getSourceFile())!
  const target = newFilePath({ name, kind: 'a function', folder: folderOf(path), like: path, importers: run.places.map(({ block }) => block.getSourceFile()) }, context)
  if (typeof target !== 'string') return target
  try {
    const { parameters, names } = dividedHoles(run, snapshot, () => undefined)
    const editor = new ProjectEditor(snapshot, root)
    const { lineEnd, indent, semicolons } = editor.editor(path).style
    const end = semicolons ? ';' : ''
    const holes = new Map(parameters.flatMap(one => one.holes.map(hole => [hole.nodes[0]! as ts.Node, one.lazy ? `${one.name}()` : one.name] as const)))
    const moved = new MovedRun({ node: first.block, statements: first.statements }, holes, indent, editor, snapshot)
    const isWaiting = run.places[0]!.statements.some(waits)
    const given = run.results.map(number => variableAt(run.unified, 0, number).name.text)
    const opening = [`/** Sets up what ${run.places.length} tests set up alike. */`, `export ${isWaiting ? 'async ' : ''}function ${name}(${writtenParameters(parameters, moved.write).join(', ')}) {`, ''].join(lineEnd)
    const whole = `${opening}${indent}${moved.body}${lineEnd}${indent}return { ${given.join(', ')} }${end}${lineEnd}}${lineEnd}`
    const lead = moved.imports(target, whole, new Set([name, ...names]))
    editor.create(target, lead + whole)
    for (const [at, place] of run.places.entries()) {
      const file = place.block.getSourceFile(), own = editor.editor(snapshot.pathOf(file)!)
      const local = own.nameFor({ name, file: target, specifier: null, typeOnly: false })
      const used = new Set(usedAfter(place, run.unified.locals[at]!, snapshot))
      const taken = run.results.filter(number => used.has(number)).map(number => { const there = variableAt(run.unified, 0, number).name.text, here = variableAt(run.unified, at, number).name.text; return there === here ? here : `${there}: ${here}` })
      const call = `${isWaiting ? 'await ' : ''}${local}(${givenArguments(parameters, at, snapshot.checker).join(', ')})${own.style.semicolons ? ';' : ''}`
      const text = taken.length === 0 ? call : `${keywordFor(run.unified, at, used)} { ${taken.join(', ')} } = ${call}`
      own.keepNames(text)
      own.replace(place.statements[0]!.getStart(file), attachedEnd(place.statements.at(-1)!, file), text)
    }
    const lines = ({ statements }: RepeatedSetUp['places'][number]) => lineOf(statements.at(-1)!) - lineOf(statements[0]!) + 1
    return checkedStep(editor, context, {
      notes: [`${run.places.reduce((sum, place) => sum + lines(place), 0)} lines of set-up in ${run.places.length} tests become ${run.places.length}, and ${moved.body.split('\n').length} in one place.`, ...lostComments(run.places)],
      choices: { name }, planned: [], moved: [{ from: path, start: moved.start, end: moved.end, to: target, at: lead.length + opening.length + indent.length, edits: moved.edits }]
    })
  } catch (error) { return refusalOf(error) }
}
