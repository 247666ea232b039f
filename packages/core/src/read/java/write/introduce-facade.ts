import type { PlanRefusal } from '../../../model/plan.js'
import type { IntroduceFacadePlan, RepeatedSequence } from '../../../model/repeated-sequence.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { MethodSymbol } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { lowerFirst, numberedName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import { byCalls, hidesMore } from '../../write/repeated-runs.js'
import { parentOf } from '../bound-program.js'
import { LocalSymbol } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { checkedJavaStep } from './checked-step.js'
import { handToConstructor, refuseOtherUses } from './constructor-parameter.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { creationSites } from './creation-sites.js'
import { licence, RESERVED } from './extract-interface.js'
import type { FacadeParts } from './facade-parts.js'
import { facadeParts } from './facade-parts.js'
import { isUsedOnlyIn, replaceArguments, replaceParameters } from './handed-fields.js'
import type { FileNames } from './java-editor.js'
import { JavaEditor, NewJavaFile } from './java-editor.js'
import { givenArguments, handedTexts, movedStatements, thrownBy, writtenParameters } from './moved-run.js'
import { freeName } from './provision.js'
import type { JavaRepeatedRun, JavaRunPlace } from './repeated-runs.js'
import { javaRepeatedRuns, javaRunKeys, placeName, variableOf } from './repeated-runs.js'
import { takenNames } from './taken-names.js'
import { typeText } from './type-text.js'
import type { FacadeSteps } from '../../write/facade-steps.js'
import { areMany, stepsSaid } from '../../write/facade-steps.js'
import { stepLines, stepsOf, stepTypeNames } from './facade-face.js'
import { canBeHandedMore, heldByRun, showableJavaRuns, shownJavaRun } from './shown-run.js'
import { refuseWrittenOut } from './written-out.js'

/** A method that is handed more is no simpler than what it does. */
const MOST_PARAMETERS = 8

/** Longer than this a call is written with one argument on each line. */
const LINE = 140

/** Statements over a type that classes have alike and that one method could do for all of them. */
export function javaRepeatedSequences(type: string, context: JavaWriteContext): RepeatedSequence[] {
  const runs = javaRepeatedRuns(type, context), keys = javaRunKeys(runs)
  return runs.flatMap((run, at) => {
    const clients = [...new Set(run.places.map(one => one.owner))]
    // What one class repeats belongs in a method of its own.
    const found = clients.length < 2 ? undefined : sequenceOf(run, keys[at]!, context)
    return found ? [found] : []
  })
}

/** Of the statements of a class those over most types that one call could stand for, whether or not others have them alike. */
export function showableJavaSequence(owner: ClassSymbol, context: JavaWriteContext): RepeatedSequence | null {
  const declared = context.bound.program.declarations.get(owner), file = declared && context.bound.file(declared.file.path)?.java
  if (!file || !canBeHandedMore(owner, context.bound, file)) return null
  for (const { lines, run } of showableJavaRuns(owner, context)) { const found = sequenceOf(run, `${lines.from}-${lines.to}`, context); if (found) return found }
  return null
}

/** How a run is offered; undefined where one call for it hides nothing. What classes are not handed cannot be taken from them. */
function sequenceOf(run: JavaRepeatedRun, key: string, context: JavaWriteContext): RepeatedSequence | undefined {
  const clients = [...new Set(run.places.map(one => one.owner))], parts = facadeParts(run, context.bound)
  if (!parts || parts.parameters.length > MOST_PARAMETERS || parts.parameters.filter(one => one.lazy).length > 2) return undefined
  const held = parts.collaborators.length > 0
  if (!held && !hidesMore(run, parts.parameters.map(({ type: one }) => (one.tag === 'class' && one.symbol.source ? one.symbol.id : undefined)))) return undefined
  const names = proposedNames(run, context)
  const sites = held ? clients.reduce((sum, owner) => sum + creationSites(constructorOf(owner, parts, context), context).length, 0) : 0
  return {
    key, types: byCalls(run), places: run.places.map(placeName), statements: run.places[0]!.statements.length, ...names, keepsNothing: !held,
    many: areMany(stepsOf(run, parts, names.method)), edits: run.places.length + clients.length + sites + 1, files: clients.length + 1
  }
}

function constructorOf(owner: ClassSymbol, { collaborators }: FacadeParts, { bound }: JavaWriteContext): MethodSymbol {
  const { file } = bound.program.declarations.get(owner)!
  return bound.program.methodAt(file, collaborators[0]!.fields.get(owner)!.constructor)!
}

function proposedNames(run: JavaRepeatedRun, context: JavaWriteContext): { name: string; method: string } {
  const [main] = byCalls(run), own = context.bound.classById(main!)!.name
  const taken = takenNames(context)
  const called = run.places[0]!.statements.flatMap(({ file, node }) => {
    const { tree } = file, call = tree.kind(node) === Kind.ExpressionStatement ? tree.first(node) : NONE
    const method = call !== NONE && tree.kind(call) === Kind.MethodInvocation ? file.meaning(tree.child(call, Field.Name)) : undefined
    return method instanceof MethodSymbol && method.owner.id === main ? [method.name] : []
  })
  const verb = called.at(-1) ?? 'use'
  return { name: numberedName(`${own}Facade`, one => !taken.has(one)), method: verb.toLowerCase().endsWith(own.toLowerCase()) ? verb : verb + own }
}

/** A class with one method for what several classes do alike; they are handed it in the place of what only that needed. */
export function introduceJavaFacade(plan: IntroduceFacadePlan, shown: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const run = plannedRun(plan, shown, context), parts = run && facadeParts(run, bound)
  if (run && !parts) return planRefused('set-again', 'What these statements work out in between would be handed as a function, and it speaks of variables that are set again; a lambda cannot.')
  if (!run || !parts) return planRefused('sequence', `No statements over ${plan.type} are alike in several classes any more.`)
  const proposed = proposedNames(run, context)
  const name = plan.name ?? proposed.name, method = plan.method ?? proposed.method
  for (const [text, kind] of [[name, 'class'], [method, 'method']] as const) if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(text) || RESERVED.test(text)) return planRefused('name', `${text} is not a name that a ${kind} can have.`)
  const [first] = run.places as [JavaRunPlace], { packageName } = first.owner
  const target = `${first.file.path.slice(0, first.file.path.lastIndexOf('/') + 1)}${name}.java`
  if (bound.program.packages.get(packageName)?.has(name) || state.source.isFile(`${language.root}/${target}`)) return planRefused('file-exists', `${name} exists already beside ${first.owner.name}; choose another name.`)

  const editor = new JavaEditor(bound)
  const steps = plan.face === 'steps' && parts.parameters.length > 0 ? stepsOf(run, parts, method) : null
  editor.create(target, facadeText(run, parts, name, method, steps, context))
  const clients = [...new Set(run.places.map(one => one.owner))], statements = new Map<string, Set<Node>>()
  for (const { file, statements: list } of run.places) { const nodes = statements.get(file.path) ?? new Set<Node>(); for (const { node } of list) nodes.add(node); statements.set(file.path, nodes) }
  const isHeld = parts.collaborators.length > 0, notes: string[] = []
  const sites = new Map(clients.map(owner => [owner, isHeld ? creationSites(constructorOf(owner, parts, context), context) : []]))
  refuseNested([...sites.values()].flat(), statements)
  const fields = new Map<ClassSymbol, string>()
  for (const owner of clients) {
    if (isHeld) refuseOtherUses(owner, context)
    refuseWrittenOut(owner, bound)
    const { file } = run.places.find(one => one.owner === owner)!, { tree } = file
    const own = editor.file(file.path), held = parts.collaborators.map(one => one.fields.get(owner)!)
    const declared = bound.program.declarations.get(owner)!
    const field = freeName(lowerFirst(name), file, declared.node, new Set())
    const staying = new Set(run.places.flatMap((place, at) => (place.file === file ? parts.parameters.flatMap(one => one.holes.map(hole => hole.nodes[at]!)) : [])))
    const gone = new Set(held.filter(one => isUsedOnlyIn(statements.get(file.path)!, staying, one, file)))
    const type = own.byName(packageName, name)
    if (!isHeld) fields.set(owner, field)
    if (!isHeld) {
      const provision = { name: field, typeIn: (at: FileNames) => at.byName(packageName, name), provide: (at: FileNames) => `new ${at.byName(packageName, name)}()`, kept: true, assignment: null, declaration: [], thrown: [] }
      handToConstructor(owner, file, NONE, 0, { editor, context, withDefault: plan.withDefault, notes, provision })
    } else replaceParameters(held, gone, { parameter: `${type} ${field}`, field: `private final ${type} ${field};`, assignment: `this.${field} = ${field};` }, file, own)
    for (const site of sites.get(owner)!) {
      const at = editor.file(site.file.path)
      replaceArguments(site, held.map(one => one.index), new Set([...gone].map(one => one.index)), given => `new ${at.byName(packageName, name)}(${given.join(', ')})`, at, bound)
    }
    for (const [at, place] of run.places.entries()) if (place.owner === owner) {
      const given = givenArguments(parts.parameters, at, tree)
      const start = tree.start(place.statements[0]!.node), margin = own.indentAt(start), { lineEnd, indent } = own.style
      const end = tree.end(place.statements.at(-1)!.node), newLine = lineEnd + margin + indent
      if (steps) {
        const said = [...(steps.required.length === 0 ? ['begin()'] : []), ...stepsSaid(steps, given), `${method}()`], holder = `${resultAt(place, at, run)}${field}`
        const chained = `${holder}.${said.join('.')};`
        own.replace(start, end, chained.length + margin.length <= LINE ? chained : `${holder}${said.map(one => `${newLine}.${one}`).join('')};`)
        continue
      }
      const before = `${resultAt(place, at, run)}${field}.${method}(`, short = `${before}${given.join(', ')});`
      own.replace(start, end, short.length + margin.length <= LINE ? short : `${before}${given.map(one => newLine + one).join(',')});`)
    }
  }
  const outcome = checkedJavaStep(editor, context, {
    notes: [
      ...(run.places.slice(1).some(({ file, statements: list }) => /\/\/|\/\*/.test(file.tree.text.slice(file.tree.start(list[0]!.node), file.tree.end(list.at(-1)!.node)).replace(/"(?:\\.|[^"\\])*"/g, ''))) ? ['Comments inside the statements are kept of the first place alone.'] : []),
      ...parts.parameters.filter(one => one.lazy).map(one => `What is called ${one.name} is worked out in between, and so it is handed as a function.`), ...notes
    ],
    choices: { ...(typeof plan.sequence === 'string' ? {} : { lines: `${plan.sequence.from}-${plan.sequence.to}`, holds: heldByRun(run), others: plan.sequence.others ? 'yes' : 'no' }), name, method, face: plan.face, ...(isHeld ? {} : { default: plan.withDefault ? 'yes' : 'no' }) }, planned: clients.flatMap(owner => [{ types: new Set([owner.id]), to: owner.id }, ...fields.has(owner) ? [{ types: new Set([owner.id]), to: '', field: fields.get(owner)! }] : []])
  })
  return 'refused' in outcome ? outcome : { ...outcome, step: { ...outcome.step, notes: [...clients.map(owner => told(owner, run, outcome)), ...outcome.step.notes] } }
}

/** The statements that a plan names. `shown`: the class whose lines it tells. */
function plannedRun({ type, sequence }: IntroduceFacadePlan, shown: ClassSymbol, context: JavaWriteContext): JavaRepeatedRun | undefined {
  if (typeof sequence === 'string') { const runs = javaRepeatedRuns(type, context); return runs[javaRunKeys(runs).indexOf(sequence)] }
  const declared = context.bound.program.declarations.get(shown), file = declared && context.bound.file(declared.file.path)?.java
  if (!file || !canBeHandedMore(shown, context.bound, file)) throw new Refused('constructors', `${shown.name} has several constructors; it cannot be handed a facade`)
  return shownJavaRun(shown, sequence, context)
}

/** Lines and imports that a client needed, and needs now. */
function told(owner: ClassSymbol, { places }: JavaRepeatedRun, { step }: JavaWritten): string {
  const own = places.filter(place => place.owner === owner), { path, tree } = own[0]!.file
  const lines = own.reduce((sum, { statements }) => sum + tree.text.slice(tree.start(statements[0]!.node), tree.end(statements.at(-1)!.node)).split('\n').length, 0)
  const imports = (text: string) => text.match(/^import\b/gm)?.length ?? 0
  return `${owner.name}: ${lines} lines become ${own.length}; ${imports(tree.text)} imports become ${imports(step.changes.find(change => change.path === path)?.after ?? '')}.`
}

/** A place that builds an object must not stand in an argument of another that changes, nor in the statements that go. */
function refuseNested(sites: readonly { readonly file: { readonly path: string; readonly tree: JavaRunPlace['file']['tree'] }; readonly node: Node }[], statements: ReadonlyMap<string, ReadonlySet<Node>>): void {
  for (const { file: { path, tree }, node } of sites) {
    for (let at = parentOf(tree, node); at >= 0; at = parentOf(tree, at)) {
      if (statements.get(path)?.has(at) || sites.some(other => other.file.path === path && other.node === at)) throw new Refused('nested', `${path}:${tree.text.slice(0, tree.start(node)).split('\n').length} builds one inside what changes too; give it a name first`)
    }
  }
}

/** `Receipt receipt = ` where the variable is used behind the statements. */
function resultAt({ file, block, statements }: JavaRunPlace, place: number, run: JavaRepeatedRun): string {
  if (run.result === null) return ''
  const { tree } = file, found = variableOf(run, run.result, place)
  const declaration = found && parentOf(tree, found.declarator)
  if (!found || declaration === undefined || tree.kind(declaration) !== Kind.LocalVariableDeclaration || tree.children(declaration).filter(one => tree.kind(one) === Kind.VariableDeclarator).length > 1) {
    throw new Refused('result', `${found?.name ?? 'Something'} is used behind the statements, and is no plain variable of theirs`)
  }
  for (let at = tree.after(statements.at(-1)!.node); at < tree.after(block); at += 5) {
    const meaning = file.meaning(at)
    if (meaning instanceof LocalSymbol && run.unified.locals[place]!.get(meaning.node) === run.result) return `${tree.text.slice(tree.start(declaration), tree.start(found.declarator))}${found.name} = `
  }
  return ''
}

/** The file of the facade: its method holds the statements of the first place, with what differs handed in. */
function facadeText(run: JavaRepeatedRun, { collaborators, parameters }: FacadeParts, name: string, method: string, steps: FacadeSteps | null, { bound }: JavaWriteContext): string {
  const [first] = run.places as [JavaRunPlace], { file, owner } = first, { tree } = file
  const names = new NewJavaFile(owner.packageName, new Set([name, ...(steps ? stepTypeNames(steps) : [])]), bound)
  const { lineEnd, indent } = new JavaEditor(bound).file(file.path).style
  const type = (one: Type) => { if (one.tag === 'class' && one.symbol.name === name) throw new Refused('name-taken', `${name} is already the name of something else; choose another`); return typeText(one, names) }

  const holes = new Map<Node, string>()
  for (const { name: own, holes: list } of collaborators) for (const hole of list) holes.set(hole.nodes[0]!, own)
  for (const [node, text] of handedTexts(parameters)) holes.set(node, text)
  const body = movedStatements(first, holes, names, indent + indent)

  const result = run.result === null ? undefined : variableOf(run, run.result)
  const thrown = thrownBy(run.places, bound).map(one => names.nameOf(one))
  const handed = collaborators.map(one => `${type(one.type)} ${one.name}`)
  const taken = writtenParameters(parameters, names, type)
  const gives = result ? type(result.type) : 'void', throws = thrown.length > 0 ? ` throws ${thrown.join(', ')}` : ''
  const head = `${indent}${steps ? 'private' : 'public'} ${gives} ${method}(${taken.join(', ')})${throws} {`
  const code = [
    `/** What ${[...new Set(run.places.map(one => one.owner.name))].join(' and ')} ${run.places.length === 1 ? 'does with them' : 'do alike'}, ${steps ? 'said step by step' : 'behind one call'}. */`, `public class ${name} {`,
    ...(handed.length === 0 ? [] : [
      ...handed.map(one => `${indent}private final ${one};`), '',
      `${indent}public ${name}(${handed.join(', ')}) {`, ...collaborators.map(one => `${indent}${indent}this.${one.name} = ${one.name};`), `${indent}}`, ''
    ]),
    ...(steps ? stepLines({ steps, declared: taken, names: parameters.map(one => one.name), method, result: gives, thrown: throws, name }, indent) : []), head, indent + indent + body, ...(result ? [`${indent}${indent}return ${result.name};`] : []), `${indent}}`, '}', ''
  ]
  const imports = [...names.needed].sort().map(one => `import ${one};`)
  return [...licence(tree.text, lineEnd), ...(owner.packageName === '' ? [] : [`package ${owner.packageName};`, '']), ...imports, ...(imports.length > 0 ? [''] : []), ...code].join(lineEnd)
}
