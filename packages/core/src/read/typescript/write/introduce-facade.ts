import ts from 'typescript'
import type { PlanRefusal } from '../../../model/plan.js'
import type { IntroduceFacadePlan, RepeatedSequence } from '../../../model/repeated-sequence.js'
import { planRefused } from '../../../model/plan.js'
import { lowerFirst, numberedName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import { byCalls, hidesMore } from '../../write/repeated-runs.js'
import type { FacadeSteps } from '../../write/facade-steps.js'
import { areMany, stepsSaid } from '../../write/facade-steps.js'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import { checkedStep, refusalOf } from './checked-step.js'
import { addParameter, refuseOtherUses } from './constructor-parameter.js'
import type { WriteContext, Written } from './context.js'
import { stepsOf, stepsText } from './facade-face.js'
import type { FacadeParts } from './facade-parts.js'
import { facadeParts, handedFieldsOf } from './facade-parts.js'
import { ProjectEditor } from './file-editor.js'
import type { HandedField } from './handed-fields.js'
import { isUsedOnlyIn, replaceArguments, replaceParameters } from './handed-fields.js'
import type { CreationSite } from './injection-points.js'
import { creationSites, lineOf } from './injection-points.js'
import { constructorLine, givenArguments, lostComments, MovedRun, writtenParameters } from './moved-run.js'
import { attachedEnd } from './moving-statements.js'
import { newFilePath, refusedName } from './new-file.js'
import { uniqueName } from './parameter-name.js'
import { givenTypeArguments, namedTypeParameters, typeParametersAround, writtenTypeParameters } from './scoped-type-parameters.js'
import type { RepeatedRun, RunPlace } from './repeated-runs.js'
import { placeName, repeatedRuns, runKeys } from './repeated-runs.js'
import { canBeHandedMore, heldByRun, showableRuns, shownRun } from './shown-run.js'

/** A method that is handed more is no simpler than what it does. */
const MOST_PARAMETERS = 8

/** Longer than this a call is written with one argument on each line. */
const LINE = 140

/** Statements over a type that classes have alike and that one method could do for all of them. */
export function repeatedSequences(type: string, snapshot: Snapshot): RepeatedSequence[] {
  const runs = repeatedRuns(type, snapshot), keys = runKeys(runs, snapshot)
  return runs.flatMap((run, at) => {
    const clients = new Set(run.places.map(one => one.node))
    // What one class repeats belongs in a method of its own.
    return clients.size < 2 || ![...clients].every(canBeHandedMore) || !isWorthIt(run, snapshot) ? [] : [sequenceOf(run, keys[at]!, snapshot)]
  })
}

/** Of the statements of a class those over most types that one call could stand for, whether or not others have them alike. */
export function showableSequence(node: ts.ClassDeclaration, snapshot: Snapshot): RepeatedSequence | null {
  if (!node.name || !ts.isSourceFile(node.parent) || !canBeHandedMore(node) || /\.[cm]?jsx?$|\.d\.[cm]?ts$/.test(node.getSourceFile().fileName)) return null
  const found = showableRuns(node, snapshot).find(({ run }) => isWorthIt(run, snapshot))
  return found ? sequenceOf(found.run, `${found.lines.from}-${found.lines.to}`, snapshot) : null
}

function sequenceOf(run: RepeatedRun, key: string, snapshot: Snapshot): RepeatedSequence {
  const clients = new Set(run.places.map(one => one.node)), parts = facadeParts(run, snapshot), { name, method } = proposedNames(run, snapshot)
  const sites = [...clients].reduce((sum, node) => sum + creationSites(node, snapshot).length, 0)
  return {
    key, types: byCalls(run), places: run.places.map(place => placeName(place, snapshot)), statements: run.places[0]!.statements.length, name, method, keepsNothing: parts.collaborators.length === 0,
    many: areMany(stepsOf(parts, method)), edits: run.places.length + clients.size + sites + 1, files: clients.size + 1
  }
}

/** A facade stands before what its clients hold or build; one that would be handed more than it keeps hides nothing. */
function isWorthIt(run: RepeatedRun, snapshot: Snapshot): boolean {
  const { collaborators, parameters } = facadeParts(run, snapshot)
  if (collaborators.length === 0 && run.built.size < 2 && !hidesMore(run, parameters.map(({ type }) => handedType(type, snapshot)))) return false
  return parameters.length <= MOST_PARAMETERS && parameters.filter(one => one.lazy).length <= 2
}

function handedType(type: ts.Type, { declarations }: Snapshot): string | undefined {
  const declaration = type.symbol?.declarations?.[0]
  return declaration && declarations.ownerOf(declaration)?.type
}

function proposedNames(run: RepeatedRun, snapshot: Snapshot): { name: string; method: string } {
  const [main] = byCalls(run)
  const own = main!.slice(main!.lastIndexOf('#') + 1).split('.').at(-1)!
  const taken = new Set(snapshot.facts.files.flatMap(one => one.types.map(type => type.name)))
  const called = run.places[0]!.statements.flatMap(statement => {
    const call = ts.isExpressionStatement(statement) ? (ts.isAwaitExpression(statement.expression) ? statement.expression.expression : statement.expression) : undefined
    if (!call || !ts.isCallExpression(call) || !ts.isPropertyAccessExpression(call.expression)) return []
    const declaration = snapshot.checker.getSymbolAtLocation(call.expression.name)?.declarations?.[0]
    return declaration && snapshot.declarations.ownerOf(declaration)?.type === main ? [call.expression.name.text] : []
  })
  const verb = called.at(-1) ?? 'use', method = verb.toLowerCase().endsWith(own.toLowerCase()) ? verb : verb + own
  return { name: numberedName(`${own}Facade`, one => !taken.has(one)), method: facadeParts(run, snapshot).collaborators.some(one => one.name === method) ? `use${own}` : method }
}

/** A class with one method for what several classes do alike; they are handed it in the place of what only that needed. */
export function introduceFacade(plan: IntroduceFacadePlan, shown: ts.ClassDeclaration | undefined, context: WriteContext): Written | PlanRefusal {
  try {
    const run = plannedRun(plan, shown, context)
    return run ? writeFacade(plan, run, context) : planRefused('sequence', `No statements over ${plan.type} are alike in several places any more.`)
  } catch (error) { return refusalOf(error) }
}

/** The statements that a plan names. `shown`: the class whose lines it tells. */
function plannedRun({ type, sequence }: IntroduceFacadePlan, shown: ts.ClassDeclaration | undefined, { snapshot }: WriteContext): RepeatedRun | undefined {
  if (typeof sequence === 'string') { const runs = repeatedRuns(type, snapshot); return runs[runKeys(runs, snapshot).indexOf(sequence)] }
  if (!shown?.name || !ts.isSourceFile(shown.parent)) throw new Refused('no-class', `${type} is no class at the top of its file`)
  if (/\.[cm]?jsx?$/.test(shown.getSourceFile().fileName)) throw new Refused('javascript', `${snapshot.pathOf(shown.getSourceFile())!} is JavaScript; what moves could not be checked`)
  if (!canBeHandedMore(shown)) throw new Refused('constructors', `${shown.name.text} has several constructors, or something makes it by its decorators; it cannot be handed a facade`)
  return shownRun(shown, sequence, snapshot)
}

function writeFacade(plan: IntroduceFacadePlan, run: RepeatedRun, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const proposed = proposedNames(run, snapshot)
  const name = plan.name ?? proposed.name, method = plan.method ?? proposed.method
  const [first] = run.places as [RunPlace]
  const path = snapshot.pathOf(first.node.getSourceFile())!, clients = [...new Set(run.places.map(one => one.node))]
  const target = refusedName(method, 'a method') ?? newFilePath({ name, kind: 'a class', folder: folderOf(path), like: path, importers: clients.map(node => node.getSourceFile()) }, context)
  if (typeof target !== 'string') return target
  const parts = facadeParts(run, snapshot)
  if (parts.collaborators.some(one => one.name === method)) return planRefused('name-taken', `${name} keeps something that is called ${method} already; choose another name for its method.`)
  const editor = new ProjectEditor(snapshot, root)
  const steps = plan.face === 'steps' && parts.parameters.length > 0 ? stepsOf(parts, method) : null
  const written = facadeText(run, parts, name, method, steps, target, editor, context)
  editor.create(target, written.text)
  const statements = new Set<ts.Node>(run.places.flatMap(one => one.statements))
  const sites = new Map(clients.map(node => [node, creationSites(node, snapshot)]))
  refuseNested([...sites.values()].flat(), statements, snapshot)
  const notes: string[] = []
  for (const node of clients) {
    if (parts.collaborators.length > 0 || !plan.withDefault) refuseOtherUses(node, context)
    const own = editor.editor(snapshot.pathOf(node.getSourceFile())!)
    const field = uniqueName(lowerFirst(name), node, new Set(), false)
    const held = handedFieldsOf(node, parts)
    const creation = (at: string, given: readonly string[]) => `new ${editor.editor(at).nameFor({ name, file: target, specifier: null, typeOnly: false })}(${given.join(', ')})`
    if (held.length === 0) {
      addParameter(node, { name: field, type: own.nameFor({ name, file: target, specifier: null, typeOnly: true }), kept: true, assignments: [], provide: file => creation(file.path, []) }, own, editor, context, plan.withDefault, plan.withDefault ? [] : sites.get(node)!, 0, notes)
    } else handFacade(node, held, parts, field, own.nameFor({ name, file: target, specifier: null, typeOnly: true }), sites.get(node)!, statements, creation, editor, context)
    for (const place of run.places) if (place.node === node) callAt(place, run, parts, field, method, steps, written.open, editor, snapshot)
  }
  notes.push(...lostComments(run.places))
  for (const { name: one } of parts.parameters.filter(({ lazy }) => lazy)) notes.push(`What is called ${one} is worked out in between, and so it is handed as a function.`)
  const outcome = checkedStep(editor, context, {
    notes, choices: { ...(typeof plan.sequence === 'string' ? {} : { lines: `${plan.sequence.from}-${plan.sequence.to}`, holds: heldByRun(run), others: plan.sequence.others ? 'yes' : 'no' }), name, method, face: plan.face, ...(parts.collaborators.length > 0 ? {} : { default: plan.withDefault ? 'yes' : 'no' }) }, planned: [],
    moved: [{ from: path, start: written.start, end: written.end, to: target, at: written.at, edits: written.edits }]
  })
  return 'refused' in outcome ? outcome : { ...outcome, step: { ...outcome.step, notes: [...clients.map(node => told(node, run, outcome, snapshot)), ...notes] } }
}

/** Lines and imports that a client needed, and needs now. */
function told(node: ts.ClassDeclaration, { places }: RepeatedRun, { after }: Written, snapshot: Snapshot): string {
  const path = snapshot.pathOf(node.getSourceFile())!
  const own = places.filter(place => place.node === node)
  const lines = own.reduce((sum, { statements }) => sum + lineOf(statements.at(-1)!) - lineOf(statements[0]!) + 1, 0)
  const imports = (text: string) => text.match(/^import\b/gm)?.length ?? 0
  return `${node.name!.text}: ${lines} lines become ${own.length}; ${imports(node.getSourceFile().text)} imports become ${imports(after.textOf(path) ?? '')}.`
}

/** A place that builds an object must not stand in an argument of another that changes, nor in the statements that go. */
function refuseNested(sites: readonly CreationSite[], statements: ReadonlySet<ts.Node>, snapshot: Snapshot): void {
  const all = new Set<ts.Node>(sites)
  for (const site of sites) {
    if (ts.findAncestor(site.parent, one => all.has(one) || statements.has(one))) throw new Refused('nested', `${snapshot.pathOf(site.getSourceFile())!}:${lineOf(site)} builds one inside what changes too; give it a name first`)
  }
}

/** Puts the facade in the place of what it is built of, as far as the class needs that for nothing else. */
function handFacade(
  node: ts.ClassDeclaration, held: readonly HandedField[], parts: FacadeParts, field: string, type: string, sites: readonly CreationSite[], statements: ReadonlySet<ts.Node>,
  creation: (path: string, given: readonly string[]) => string, editor: ProjectEditor, { snapshot }: WriteContext
): void {
  const staying = new Set<ts.Node>(parts.parameters.flatMap(one => one.holes.flatMap(hole => hole.nodes)))
  const gone = new Set(held.filter(one => isUsedOnlyIn(statements, staying, one, node, snapshot)))
  replaceParameters(held, gone, `private readonly ${field}: ${type}`, editor.editor(snapshot.pathOf(node.getSourceFile())!))
  const indices = held.map(one => one.index), without = new Set([...gone].map(one => one.index))
  for (const site of sites) {
    const path = snapshot.pathOf(site.getSourceFile())!
    replaceArguments(site, indices, without, given => creation(path, given), editor.editor(path), snapshot)
  }
}

/** The call that stands for the statements in one place. */
function callAt(place: RunPlace, run: RepeatedRun, { parameters }: FacadeParts, field: string, method: string, steps: FacadeSteps | null, open: readonly ts.TypeParameterDeclaration[], editor: ProjectEditor, snapshot: Snapshot): void {
  const file = place.node.getSourceFile(), own = editor.editor(snapshot.pathOf(file)!), at = run.places.indexOf(place)
  const given = givenArguments(parameters, at, snapshot.checker)
  const { indent, lineEnd, semicolons } = own.style
  const start = place.statements[0]!.getStart(file), end = attachedEnd(place.statements.at(-1)!, file), margin = own.indentAt(start)
  const holder = `${resultAt(place, run, snapshot)}${run.waits ? 'await ' : ''}this.${field}`, before = `${holder}.${method}${givenTypeArguments(open)}(`
  const short = `${before}${given.join(', ')})${semicolons ? ';' : ''}`
  const text = steps ? saidInSteps(holder, [...stepsSaidIn(steps, given), `${method}()`], semicolons ? ';' : '', margin, lineEnd + margin + indent) : short.length + margin.length <= LINE ? short : `${before}${given.map(one => lineEnd + margin + indent + one).join(',')}${lineEnd}${margin})${semicolons ? ';' : ''}`
  own.keepNames(text)
  own.replace(start, end, text)
}

function stepsSaidIn(steps: FacadeSteps, given: readonly string[]): string[] { return [...(steps.required.length === 0 ? ['begin()'] : []), ...stepsSaid(steps, given)] }

/** `this.slips.number(7).text(craft).storeSlip()`; each on its own line where that is long. */
function saidInSteps(holder: string, said: readonly string[], end: string, margin: string, newLine: string): string {
  const short = `${holder}.${said.join('.')}${end}`
  return short.length + margin.length <= LINE ? short : `${holder}${said.map(one => `${newLine}.${one}`).join('')}${end}`
}

/** `const receipt = ` where the variable is used behind the statements. */
function resultAt({ block, statements, node }: RunPlace, run: RepeatedRun, snapshot: Snapshot): string {
  if (run.result === null) return ''
  const locals = run.unified.locals[run.places.findIndex(one => one.node === node && one.statements === statements)]!
  const symbol = [...locals].find(([, number]) => number === run.result)?.[0]
  const declaration = symbol?.valueDeclaration
  if (!declaration || !ts.isVariableDeclaration(declaration) || !ts.isIdentifier(declaration.name)) throw new Refused('result', `${symbol?.name ?? 'What'} is used behind the statements, and is no plain variable of theirs`)
  const rest = block.statements.slice(block.statements.indexOf(statements.at(-1)!) + 1)
  const isUsed = rest.some(statement => mentions(statement, symbol, snapshot))
  const keyword = declaration.parent.flags & ts.NodeFlags.Const ? 'const' : 'let'
  return isUsed ? `${keyword} ${declaration.name.text}${declaration.type ? `: ${declaration.type.getText()}` : ''} = ` : ''
}

function mentions(node: ts.Node, symbol: ts.Symbol, { checker }: Snapshot): boolean {
  if (ts.isIdentifier(node) && (checker.getSymbolAtLocation(node) === symbol || (ts.isShorthandPropertyAssignment(node.parent) && checker.getShorthandAssignmentValueSymbol(node.parent) === symbol))) return true
  return ts.forEachChild(node, child => mentions(child, symbol, { checker } as Snapshot) || undefined) === true
}

/** `at`: where the statements of the first place begin in it. */
interface FacadeText extends Pick<MovedRun, 'start' | 'end' | 'edits'> { readonly text: string; readonly at: number; readonly open: readonly ts.TypeParameterDeclaration[] }

/** Type parameters that the method takes over from where the statements stood. Refused where more than one place would have to, or the class itself. */
function openIn({ places }: RepeatedRun, kept: readonly string[], taken: readonly string[], steps: FacadeSteps | null): ts.TypeParameterDeclaration[] {
  const around = typeParametersAround(places[0]!.block), open = namedTypeParameters(around, taken)
  if (namedTypeParameters(around, kept).length > 0 || (open.length > 0 && (places.length > 1 || steps))) throw new Refused('generic', `What it would be handed speaks of ${[...around].map(one => one.name.text).join(' and ')}, which only ${places[0]!.node.name!.text} knows`)
  return open
}

/** The file of the facade: its method holds the statements of the first place, with what differs handed in. */
function facadeText(run: RepeatedRun, parts: FacadeParts, name: string, method: string, steps: FacadeSteps | null, target: string, editor: ProjectEditor, { snapshot }: WriteContext): FacadeText {
  const { collaborators, parameters, names } = parts
  const [first] = run.places as [RunPlace], path = snapshot.pathOf(first.node.getSourceFile())!
  const { style } = editor.editor(path), { lineEnd, indent, semicolons } = style
  const end = semicolons ? ';' : ''
  const holes = new Map<ts.Node, string>()
  for (const { name: own, holes: list } of collaborators) for (const hole of list) holes.set(hole.nodes[0]!, `this.${own}`)
  for (const { name: own, holes: list, lazy } of parameters) for (const hole of list) holes.set(hole.nodes[0]!, lazy ? `${own}()` : own)
  const moved = new MovedRun(first, holes, indent + indent, editor, snapshot), { write, body } = moved

  const handed = collaborators.map(one => `private readonly ${one.name}: ${write.source(one.declared.type!)}`)
  const taken = writtenParameters(parameters, write)
  const result = resultType(run, snapshot)
  const returns = result === null ? 'void' : write.inferred(result.type)
  const promised = run.waits ? `Promise<${returns}>` : returns
  const open = openIn(run, handed, [...taken, promised], steps)
  const told = steps && stepsText({ steps, declared: taken, names: parameters.map(one => one.name), method, result: promised, name }, style)
  const head = `${steps ? 'private ' : ''}${run.waits ? 'async ' : ''}${method}${writtenTypeParameters(open, write)}(${taken.join(', ')}): ${promised} {`
  const heads = head.length + indent.length <= LINE ? indent + head
    : [`${indent}${steps ? 'private ' : ''}${run.waits ? 'async ' : ''}${method}${writtenTypeParameters(open, write)}(`, ...taken.map((one, at) => `${indent}${indent}${one}${at < taken.length - 1 ? ',' : ''}`), `${indent}): ${promised} {`].join(lineEnd)
  const opening = [
    `/** What ${[...new Set(run.places.map(one => one.node.name!.text))].join(' and ')} ${run.places.length === 1 ? 'does with them' : 'do alike'}, ${steps ? 'said step by step' : 'behind one call'}. */`, `export class ${name} {`,
    ...(handed.length > 0 ? [constructorLine(handed, indent, lineEnd), ''] : []), ...(told ? told.members.flatMap(one => [one, '']) : []), heads, ''
  ].join(lineEnd)
  const closing = `${result === null ? '' : `${lineEnd}${indent}${indent}return ${result.name}${end}`}${lineEnd}${indent}}${lineEnd}}${lineEnd}${told ? lineEnd + told.types + lineEnd : ''}`
  const whole = opening + indent + indent + body + closing
  const lead = moved.imports(target, whole, new Set([name, ...names]))
  return { ...moved, open, text: lead + whole, at: lead.length + opening.length + indent.length * 2 }
}

function resultType({ result, unified, places }: RepeatedRun, { checker }: Snapshot): { name: string; type: ts.Type } | null {
  const symbol = result === null ? undefined : [...unified.locals[0]!].find(([, number]) => number === result)?.[0]
  return symbol ? { name: symbol.name, type: checker.getTypeOfSymbolAtLocation(symbol, places[0]!.node) } : null
}
