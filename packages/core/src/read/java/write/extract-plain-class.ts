import type { ExtractPlainClassPlan, PlainPart, PlanRefusal } from '../../../model/plan.js'
import type { TouchingLines } from '../../../model/touching-lines.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import type { BoundProgram } from '../bound-program.js'
import { speaksOf } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { lowerFirst, numberedName, upperFirst } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import { Field, Kind } from '../syntax.js'
import { checkedJavaStep } from './checked-step.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { constructorCall } from './creation-sites.js'
import { licence, RESERVED } from './extract-interface.js'
import type { FacadeCollaborator, FacadeParts } from './facade-parts.js'
import { dividedHoles } from './facade-parts.js'
import { dropFields, handedField, isUsedOnlyIn } from './handed-fields.js'
import { parameterName } from './interface-members.js'
import type { JavaFileEditor } from './java-editor.js'
import { JavaEditor, NewJavaFile } from './java-editor.js'
import { commentedStart } from './moved-members.js'
import { givenArguments, handedTexts, movedStatements, thrownBy, writtenParameters } from './moved-run.js'
import { freeName } from './provision.js'
import type { PlainRun } from './plain-runs.js'
import { linesOf, memberOf, plainRuns, touchingRun } from './plain-runs.js'
import { usedAfter, variableOf } from './repeated-runs.js'
import { takenNames } from './taken-names.js'
import { typeText } from './type-text.js'
import { refuseWrittenOut } from './written-out.js'

function proposedName({ owner }: PlainRun, stem: string, context: JavaWriteContext): string {
  const taken = takenNames(context)
  return numberedName(`${owner.name}${stem}`, one => !taken.has(one))
}

function partOf(run: PlainRun, stem: string, method: string, context: JavaWriteContext): PlainPart {
  const { tree } = run.file
  return { member: memberOf(run), line: tree.text.slice(0, tree.start(run.statements[0]!.node)).split('\n').length, statements: run.statements.length, lines: linesOf(run), name: proposedName(run, stem, context), method }
}

/** Statements of a method that hold all that touches something outside. */
export function touchingJavaPart(owner: ClassSymbol, member: string, { lines, stem }: TouchingLines, context: JavaWriteContext): PlainPart | null {
  const run = touchingRun(owner, member, lines, context.bound)
  return run ? partOf(run, stem, member, context) : null
}

/** Statements of the methods of a class that could stand in a plain one, most lines first. */
export function plainJavaParts(owner: ClassSymbol, context: JavaWriteContext): PlainPart[] {
  return plainRuns(owner, context.bound).map(run => partOf(run, 'Logic', 'decide', context))
}

/** A plain class with the statements, a method for those of each method; the class makes one when it is made, and asks it. */
export function extractPlainJavaClass(plan: ExtractPlainClassPlan, owner: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const all: DividedRun[] = [], touching = plan.parts[0]?.touching ?? null
  for (const { member, touching: what } of plan.parts) {
    const run = what ? touchingRun(owner, member, what.lines, bound) : plainRuns(owner, bound).find(one => memberOf(one) === member)
    const parts = run && dividedHoles({ places: [run], unified: run.unified }, bound, hole => { const field = handedField(hole.nodes[0]!, owner, run.file, bound); return field ? new Map([[owner, field]]) : undefined })
    if (!run || !parts) return planRefused('nothing-plain', `No statements in a row of ${member} ${what ? `hold what touches ${what.what} and can stand elsewhere` : 'do without the framework and without setting its fields'}.`)
    all.push({ run, parts })
  }
  const [{ run }] = all as [DividedRun]
  const name = plan.name ?? proposedName(run, touching?.stem ?? 'Logic', context), method = plan.method ?? (touching ? memberOf(run) : 'decide')
  for (const [text, kind] of [[name, 'class'], [method, 'method']] as const) if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(text) || RESERVED.test(text)) return planRefused('name', `${text} is not a name that a ${kind} can have.`)
  refuseWrittenOut(owner, bound)
  const { file } = run, { tree } = file
  const target = `${file.path.slice(0, file.path.lastIndexOf('/') + 1)}${name}.java`
  if (bound.program.packages.get(owner.packageName)?.has(name) || state.source.isFile(`${language.root}/${target}`)) return planRefused('file-exists', `${name} exists already beside ${owner.name}; choose another name.`)

  const editor = new JavaEditor(bound), own = editor.file(file.path), { lineEnd, indent } = own.style, inner = indent + indent
  const decisions = all.map(one => (all.length === 1 ? 'Decision' : `${upperFirst(memberOf(one.run))}Decision`))
  const names = new NewJavaFile(owner.packageName, new Set([name, ...decisions]), bound), kept: FacadeCollaborator[] = []
  const methods = all.map((one, at) => plainMethod(one, { name, method: all.length === 1 ? method : memberOf(one.run), decision: decisions[at]!, kept, owner }, names, own, bound))
  kept.sort((a, b) => a.fields.get(owner)!.index - b.fields.get(owner)!.index)
  const declaredKept = kept.map(one => `${typeText(one.type, names)} ${one.name}`)
  const code = [
    touching ? `/** What ${owner.name} does with ${touching.what}. */` : `/** What ${owner.name} decides, apart from the framework that builds it. */`, `public class ${name} {`,
    ...(kept.length === 0 ? [] : [...declaredKept.map(one => `${indent}private final ${one};`), '', `${indent}public ${name}(${declaredKept.join(', ')}) {`, ...kept.map(one => `${inner}this.${one.name} = ${one.name};`), `${indent}}`, '']),
    ...methods.flatMap((one, at) => (at === 0 ? one.code : ['', ...one.code])), ...methods.flatMap(one => one.decision), '}', ''
  ]
  const imports = [...names.needed].sort().map(one => `import ${one};`)
  editor.create(target, [...licence(tree.text, lineEnd), ...(owner.packageName === '' ? [] : [`package ${owner.packageName};`, '']), ...imports, ...(imports.length > 0 ? [''] : []), ...code].join(lineEnd))

  const declared = bound.program.declarations.get(owner)!
  const field = freeName(lowerFirst(name.startsWith(owner.name) && name.length > owner.name.length ? name.slice(owner.name.length) : name), file, declared.node, new Set())
  const handed = kept.map(one => one.fields.get(owner)!), parameters = all.flatMap(one => one.parts.parameters)
  const staying = new Set(parameters.flatMap(one => one.holes.map(hole => hole.nodes[0]!)))
  const gone = handed.filter(one => isUsedOnlyIn(new Set(all.flatMap(({ run: { statements } }) => statements.map(statement => statement.node))), staying, one, file))
  const [first] = tree.children(declared.body), replaced = gone.some(one => one.declaration === first) ? first! : NONE
  holdOne(field, name, handed.length === 0 ? NONE : handed[0]!.constructor, handed.map(one => parameterName(tree, one.parameter)), first!, replaced !== NONE, own)
  dropFields(gone, file, own, replaced)
  for (const one of methods) one.ask(field)
  const keeps = all.map(({ run: one }) => `${one.all - one.statements.length} of the ${one.all} statements ${one.block === tree.child(one.method, Field.Body) ? 'of' : 'in their block of'} ${memberOf(one)}`)
  return checkedJavaStep(editor, context, {
    notes: [`${touching ? `${name} touches ${touching.what}` : `${name} can be built and tested without the framework`}; ${owner.name} keeps ${keeps.join(', ')}, and its tests stay as they are.`,
      ...parameters.filter(one => one.lazy).map(one => `What is called ${one.name} is worked out in between, and so it is handed as a function.`)],
    choices: { name, ...(all.length === 1 ? { method } : {}) }, planned: []
  })
}

/** Statements with what they are handed and what their class is built of. */
interface DividedRun { readonly run: PlainRun; readonly parts: FacadeParts }

/** The plain class that a method is written for. */
interface PlainClass {
  readonly owner: ClassSymbol
  readonly name: string
  readonly method: string
  /** What the class of several results is called. */
  readonly decision: string
  /** What it is built of; what a method needs is added. */
  readonly kept: FacadeCollaborator[]
}

/** Statements of one method as a method of the plain class, with the class of its results, and how they are asked for where they stood. */
function plainMethod({ run, parts: { collaborators, parameters } }: DividedRun, plain: PlainClass, names: NewJavaFile, own: JavaFileEditor, bound: BoundProgram): { readonly code: readonly string[]; readonly decision: readonly string[]; ask(field: string): void } {
  const { file: { tree } } = run, { lineEnd, indent } = own.style, inner = indent + indent, { owner, name, method, kept, decision } = plain
  const holes = handedTexts(parameters)
  for (const one of collaborators) {
    let known = kept.find(other => other.fields.get(owner)?.symbol === one.fields.get(owner)!.symbol)
    if (!known) kept.push(known = { ...one, name: numberedName(one.name, free => !kept.some(other => other.name === free)) })
    // Only the name that was proposed here is known to mean nothing else in these statements.
    for (const hole of one.holes) holes.set(hole.nodes[0]!, known.name === one.name ? known.name : `this.${known.name}`)
  }
  const body = movedStatements(run, holes, names, inner)
  const results = usedAfter(run, run.unified.locals[0]!).sort((a, b) => a - b).map(number => {
    const found = variableOf({ places: [run], unified: run.unified }, number)
    if (!found || speaksOf(found.type, new Set(owner.typeParameters))) throw new Refused('result', `${found?.name ?? 'Something'} is used behind the statements, and is no plain variable of theirs`)
    // The shell names the types as its own file does.
    return { name: found.name, type: typeText(found.type, names), shown: found.type }
  })
  const thrown = thrownBy([run], bound).map(one => names.nameOf(one)), throws = thrown.length > 0 ? ` throws ${thrown.join(', ')}` : ''
  const [only] = results, gives = results.length === 0 ? 'void' : results.length === 1 ? only!.type : decision
  return {
    code: [
      `${indent}public ${gives} ${method}(${writtenParameters(parameters, names, type => typeText(type, names)).join(', ')})${throws} {`, inner + body,
      ...(results.length === 0 ? [] : [`${inner}return ${results.length === 1 ? only!.name : `new ${decision}(${results.map(one => one.name).join(', ')})`};`]), `${indent}}`
    ],
    decision: results.length < 2 ? [] : [
      '', `${indent}/** What it decides. */`, `${indent}public static final class ${decision} {`, ...results.map(one => `${inner}public final ${one.type} ${one.name};`), '',
      `${inner}${decision}(${results.map(one => `${one.type} ${one.name}`).join(', ')}) {`, ...results.map(one => `${inner}${indent}this.${one.name} = ${one.name};`), `${inner}}`, `${indent}}`
    ],
    ask: field => {
      const start = tree.start(run.statements[0]!.node), margin = own.indentAt(start), variable = freeName('decision', run.file, run.method, new Set())
      const call = `${field}.${method}(${givenArguments(parameters, 0, tree).join(', ')})`, shown = results.map(one => typeText(one.shown, own))
      own.replace(start, tree.end(run.statements.at(-1)!.node), results.length === 0 ? `${call};` : results.length === 1 ? `${shown[0]!} ${only!.name} = ${call};`
        : [`${name}.${decision} ${variable} = ${call};`, ...results.map((one, at) => `${shown[at]!} ${one.name} = ${variable}.${one.name};`)].join(lineEnd + margin))
    }
  }
}

/** A field with an object that the constructor makes, where what it is handed is at hand; before the first member, or in its place. */
function holdOne(field: string, type: string, constructor: Node, given: readonly string[], first: Node, replaces: boolean, own: JavaFileEditor): void {
  const { tree, style: { lineEnd, indent } } = own, creation = `new ${type}(${given.join(', ')})`
  const text = `private final ${type} ${field}${constructor === NONE ? ` = ${creation}` : ''};`
  if (replaces) own.replace(commentedStart(own.java, first), tree.end(first), text)
  else own.insert(commentedStart(own.java, first), `${text}${lineEnd}${tree.kind(first) === Kind.FieldDeclaration ? '' : lineEnd}${own.indentAt(tree.start(first))}`)
  if (constructor === NONE) return
  const block = tree.child(constructor, Field.Body), call = constructorCall(own.java, constructor)
  own.insert(call === NONE ? tree.start(block) + 1 : tree.end(call), `${lineEnd}${own.indentAt(tree.start(constructor))}${indent}this.${field} = ${creation};`)
}
