import ts from 'typescript'
import type { ExtractPlainClassPlan, PlainPart, PlanRefusal } from '../../../model/plan.js'
import type { TouchingLines } from '../../../model/touching-lines.js'
import { planRefused } from '../../../model/plan.js'
import { lowerFirst, numberedName } from '../../write/names.js'
import { memberName } from '../declarations.js'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import { checkedStep, refusalOf } from './checked-step.js'
import { beginConstructor } from './constructor-parameter.js'
import type { WriteContext, Written } from './context.js'
import type { FacadeCollaborator, FacadeParts } from './facade-parts.js'
import { dividedHoles } from './facade-parts.js'
import { ProjectEditor } from './file-editor.js'
import { dropFields, handedField, isUsedOnlyIn } from './handed-fields.js'
import { lineOf } from './injection-points.js'
import { commentedStart } from './moved-members.js'
import { constructorLine, givenArguments, MovedRun, writtenParameters } from './moved-run.js'
import { attachedEnd } from './moving-statements.js'
import { newFilePath, refusedName } from './new-file.js'
import { uniqueName } from './parameter-name.js'
import type { PlainRun } from './plain-runs.js'
import { linesOf, plainRuns, touchingRun } from './plain-runs.js'
import { usedAfter, waits } from './repeated-runs.js'
import { variableAt } from './run-results.js'
import { givenTypeArguments, namedTypeParameters, typeParametersAround, writtenTypeParameters } from './scoped-type-parameters.js'

function proposedName({ node }: PlainRun, stem: string, snapshot: Snapshot): string {
  const taken = new Set(snapshot.facts.files.flatMap(one => one.types.map(type => type.name)))
  return numberedName(`${node.name!.text}${stem}`, one => !taken.has(one))
}

function partOf(run: PlainRun, stem: string, method: string, snapshot: Snapshot): PlainPart {
  return { member: memberName(run.method), line: lineOf(run.statements[0]!), statements: run.statements.length, lines: linesOf(run), name: proposedName(run, stem, snapshot), method }
}

/** Statements of a method that hold all that touches something outside. */
export function touchingPart(node: ts.ClassLikeDeclaration, member: string, { lines, stem }: TouchingLines, snapshot: Snapshot): PlainPart | null {
  const run = touchingRun(node, member, lines, snapshot)
  return run ? partOf(run, stem, member, snapshot) : null
}

/** Statements of the methods of a class that could stand in a plain one, most lines first. */
export function plainParts(node: ts.ClassLikeDeclaration, snapshot: Snapshot): PlainPart[] {
  return plainRuns(node, snapshot).map(run => partOf(run, 'Logic', 'decide', snapshot))
}

/** A plain class with the statements, a method for those of each method; the class makes one when it is made, and asks it. */
export function extractPlainClass(plan: ExtractPlainClassPlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const runs: PlainRun[] = [], touching = plan.parts[0]?.touching ?? null
  for (const { member, touching: what } of plan.parts) {
    const run = what ? touchingRun(node, member, what.lines, snapshot) : plainRuns(node, snapshot).find(one => memberName(one.method) === member)
    if (!run) return planRefused('nothing-plain', `No statements in a row of ${member} ${what ? `hold what touches ${what.what} and can stand elsewhere` : 'do without the framework and without setting its fields'}.`)
    runs.push(run)
  }
  const [run] = runs as [PlainRun], own = run.node.name!.text
  const name = plan.name ?? proposedName(run, touching?.stem ?? 'Logic', snapshot), method = plan.method ?? (touching ? memberName(run.method) : 'decide')
  const file = run.node.getSourceFile(), path = snapshot.pathOf(file)!
  const target = refusedName(method, 'a method') ?? newFilePath({ name, kind: 'a class', folder: folderOf(path), like: path, importers: [file] }, context)
  if (typeof target !== 'string') return target
  try {
    const editor = new ProjectEditor(snapshot, root), at = editor.editor(path), { lineEnd, indent } = at.style
    const kept: FacadeCollaborator[] = [], methods: PlainMethod[] = []
    const called = runs.length === 1 ? [method] : runs.map(one => memberName(one.method))
    for (const [number, one] of runs.entries()) methods.push(plainMethod(one, called[number]!, { kept, taken: new Set(called), others: methods[0]?.moved }, editor, snapshot))
    kept.sort((a, b) => a.fields.get(run.node)!.index - b.fields.get(run.node)!.index)
    const [{ moved }] = methods as [PlainMethod]
    const head = [
      touching ? `/** What ${own} does with ${touching.what}. */` : `/** What ${own} decides, apart from the framework that builds it. */`, `export class ${name} {`,
      ...(kept.length > 0 ? [constructorLine(kept.map(one => `private readonly ${one.name}: ${moved.write.source(one.declared.type!)}`), indent, lineEnd), ''] : []), ''
    ].join(lineEnd)
    const whole = `${head}${methods.map(one => one.opening + one.moved.body + one.closing + lineEnd).join('')}}${lineEnd}`
    const lead = moved.imports(target, whole, new Set([name, ...methods.flatMap(one => [...one.parts.names])]))
    editor.create(target, lead + whole)

    const local = at.nameFor({ name, file: target, specifier: null, typeOnly: false }), field = uniqueName(lowerFirst(name.startsWith(own) && name.length > own.length ? name.slice(own.length) : name), run.node, new Set(), false)
    const handed = kept.map(one => one.fields.get(run.node)!)
    const staying = new Set<ts.Node>(methods.flatMap(one => one.parts.parameters.flatMap(({ holes }) => holes.map(hole => hole.nodes[0]!))))
    const gone = handed.filter(one => isUsedOnlyIn(new Set(runs.flatMap(({ statements }) => statements)), staying, one, run.node, snapshot))
    const [first] = run.node.members, replaces = gone.some(({ apart }) => apart?.field === first)
    holdOne(run.node, replaces, field, `new ${local}(${handed.map(one => (one.parameter.name as ts.Identifier).text).join(', ')})`, local, at)
    dropFields(gone, at, replaces ? first : undefined)
    for (const one of methods) {
      const text = one.asked(field)
      at.keepNames(text)
      at.replace(one.run.statements[0]!.getStart(file), attachedEnd(one.run.statements.at(-1)!, file), text)
    }
    const keeps = runs.map(({ method: { name: member, body }, block, statements }) => `${block.statements.length - statements.length} of the ${block.statements.length} statements ${block === body ? 'of' : 'in their block of'} ${member.getText(file)}`)
    let offset = lead.length + head.length
    return checkedStep(editor, context, {
      notes: [`${touching ? `${name} touches ${touching.what}` : `${name} can be built and tested without the framework`}; ${own} keeps ${keeps.join(', ')}, and its tests stay as they are.`,
        ...methods.flatMap(one => one.parts.parameters).filter(one => one.lazy).map(one => `What is called ${one.name} is worked out in between, and so it is handed as a function.`)],
      choices: { name, ...(runs.length === 1 ? { method } : {}) }, planned: [],
      moved: methods.map(one => {
        const piece = { from: path, start: one.moved.start, end: one.moved.end, to: target, at: offset + one.opening.length, edits: one.moved.edits }
        offset += one.opening.length + one.moved.body.length + one.closing.length + lineEnd.length
        return piece
      })
    })
  } catch (error) { return refusalOf(error) }
}

/** Statements of one method as a method of the plain class, and how they are asked for where they stood. */
interface PlainMethod {
  readonly run: PlainRun
  readonly parts: FacadeParts
  readonly moved: MovedRun
  /** Before the statements in the plain class, and behind them. */
  readonly opening: string
  readonly closing: string
  asked(field: string): string
}

/** What the methods of a plain class share. */
interface PlainClass {
  /** What it is built of; what a method needs is added. */
  readonly kept: FacadeCollaborator[]
  /** Names of its methods. */
  readonly taken: ReadonlySet<string>
  /** The statements of one that is written already. */
  readonly others: MovedRun | undefined
}

function plainMethod(run: PlainRun, method: string, { kept, taken, others }: PlainClass, editor: ProjectEditor, snapshot: Snapshot): PlainMethod {
  const parts = dividedHoles({ places: [run], unified: run.unified }, snapshot, hole => { const field = handedField(hole.nodes[0]!, run.node, snapshot); return field ? new Map([[run.node, field]]) : undefined }, run.returns ? new Set() : undefined)
  const { parameters } = parts, { lineEnd, indent, semicolons } = editor.editor(snapshot.pathOf(run.node.getSourceFile())!).style, inner = indent + indent, end = semicolons ? ';' : ''
  const holes = new Map<ts.Node, string>()
  for (const one of parts.collaborators) {
    let known = kept.find(other => other.declared === one.declared)
    if (!known) kept.push(known = { ...one, name: numberedName(one.name, free => !taken.has(free) && !kept.some(other => other.name === free)) })
    for (const hole of one.holes) holes.set(hole.nodes[0]!, `this.${known.name}`)
  }
  for (const { name: handed, holes: list, lazy } of parameters) for (const hole of list) holes.set(hole.nodes[0]!, lazy ? `${handed}()` : handed)
  const moved = new MovedRun(run, holes, inner, editor, snapshot, others)
  const results = usedAfter(run, run.unified.locals[0]!, snapshot).sort((a, b) => a - b), isWaiting = run.statements.some(waits) || (run.returns && run.method.modifiers?.some(one => one.kind === ts.SyntaxKind.AsyncKeyword) === true)
  const given = results.map(number => variableAt(run.unified, 0, number).name.text), together = given.length === 1 ? given[0]! : `{ ${given.join(', ')} }`
  const handed = writtenParameters(parameters, moved.write), back = run.returns && run.method.type ? `: ${moved.write.source(run.method.type)}` : ''
  const open = namedTypeParameters(typeParametersAround(run.method), [...handed, back, moved.body])
  return {
    run, parts, moved,
    opening: `${others ? lineEnd : ''}${indent}${isWaiting ? 'async ' : ''}${method}${writtenTypeParameters(open, moved.write)}(${handed.join(', ')})${back} {${lineEnd}${inner}`,
    closing: `${given.length === 0 ? '' : `${lineEnd}${inner}return ${together}${end}`}${lineEnd}${indent}}`,
    asked: field => {
      const call = `${isWaiting ? 'await ' : ''}this.${field}.${method}${givenTypeArguments(open)}(${givenArguments(parameters, 0, snapshot.checker).join(', ')})${end}`
      return run.returns ? `return ${call}` : given.length === 0 ? call : `${isSetAgain(run, results, snapshot) ? 'let' : 'const'} ${together} = ${call}`
    }
  }
}

/** A field with an object that the constructor makes, where what it is handed is at hand; before the first member, or in its place. */
function holdOne(node: ts.ClassDeclaration, replaces: boolean, field: string, creation: string, type: string, own: ReturnType<ProjectEditor['editor']>): void {
  const { lineEnd, indent, semicolons } = own.style, end = semicolons ? ';' : ''
  const margin = own.indentAt(node.getStart(own.file)) + indent
  const constructor = creation.endsWith('()') ? undefined : node.members.filter(ts.isConstructorDeclaration).find(one => one.body)
  const first = node.members[0]!, text = `private readonly ${field}${constructor ? `: ${type}` : ` = ${creation}`}${end}`
  own.keepNames(text)
  if (replaces) own.replace(commentedStart(first, own.file), attachedEnd(first, own.file), text)
  else own.insert(commentedStart(first, own.file), `${text}${lineEnd}${ts.isPropertyDeclaration(first) ? '' : lineEnd}${margin}`)
  if (!constructor) return
  beginConstructor(constructor, [`this.${field} = ${creation}${end}`], own)
}

/** Whether what the statements give is set to something else behind them. */
function isSetAgain(run: PlainRun, results: readonly number[], { checker }: Snapshot): boolean {
  const symbols = new Set([...run.unified.locals[0]!].filter(([, number]) => results.includes(number)).map(([symbol]) => symbol))
  let isSet = false
  const visit = (at: ts.Node): void => {
    const target = ts.isBinaryExpression(at) && at.operatorToken.kind >= ts.SyntaxKind.FirstAssignment && at.operatorToken.kind <= ts.SyntaxKind.LastAssignment ? at.left
      : ts.isPrefixUnaryExpression(at) || ts.isPostfixUnaryExpression(at) ? at.operand : undefined
    const symbol = target && checker.getSymbolAtLocation(target)
    if ((symbol && symbols.has(symbol)) || (target && !ts.isIdentifier(target) && (ts.isArrayLiteralExpression(target) || ts.isObjectLiteralExpression(target)))) isSet = true
    ts.forEachChild(at, visit)
  }
  for (const statement of run.block.statements.slice(run.block.statements.indexOf(run.statements.at(-1)!) + 1)) visit(statement)
  return isSet
}
