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
import { dividedHoles, handedFieldsOf } from './facade-parts.js'
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

/** A plain class with the statements; the class makes one when it is made, and asks it. */
export function extractPlainClass(plan: ExtractPlainClassPlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const { touching } = plan
  const run = touching ? touchingRun(node, plan.member, touching.lines, snapshot) : plainRuns(node, snapshot).find(one => memberName(one.method) === plan.member)
  if (!run) return planRefused('nothing-plain', `No statements in a row of ${plan.member} ${touching ? `hold what touches ${touching.what} and can stand elsewhere` : 'do without the framework and without setting its fields'}.`)
  const name = plan.name ?? proposedName(run, touching?.stem ?? 'Logic', snapshot), method = plan.method ?? (touching ? plan.member : 'decide')
  const file = run.node.getSourceFile(), path = snapshot.pathOf(file)!
  const target = refusedName(method, 'a method') ?? newFilePath({ name, kind: 'a class', folder: folderOf(path), like: path, importers: [file] }, context)
  if (typeof target !== 'string') return target
  try {
    const one = { places: [run], unified: run.unified }
    const parts = dividedHoles(one, snapshot, hole => { const field = handedField(hole.nodes[0]!, run.node, snapshot); return field ? new Map([[run.node, field]]) : undefined }, run.returns ? new Set() : undefined)
    const { collaborators, parameters, names } = parts
    const editor = new ProjectEditor(snapshot, root), own = editor.editor(path)
    const { lineEnd, indent, semicolons } = own.style
    const end = semicolons ? ';' : ''
    const holes = new Map<ts.Node, string>()
    for (const { name: kept, holes: list } of collaborators) for (const hole of list) holes.set(hole.nodes[0]!, `this.${kept}`)
    for (const { name: handed, holes: list, lazy } of parameters) for (const hole of list) holes.set(hole.nodes[0]!, lazy ? `${handed}()` : handed)
    const moved = new MovedRun(run, holes, indent + indent, editor, snapshot)
    const results = usedAfter(run, run.unified.locals[0]!, snapshot).sort((a, b) => a - b), isWaiting = run.statements.some(waits) || (run.returns && run.method.modifiers?.some(one => one.kind === ts.SyntaxKind.AsyncKeyword) === true)
    const given = results.map(number => variableAt(run.unified, 0, number).name.text)
    const handed = writtenParameters(parameters, moved.write), back = run.returns && run.method.type ? `: ${moved.write.source(run.method.type)}` : ''
    const open = namedTypeParameters(typeParametersAround(run.method), [...handed, back, moved.body])
    const opening = [
      touching ? `/** What ${run.node.name!.text} does with ${touching.what}. */` : `/** What ${run.node.name!.text} decides, apart from the framework that builds it. */`, `export class ${name} {`,
      ...(collaborators.length > 0 ? [constructorLine(collaborators.map(kept => `private readonly ${kept.name}: ${moved.write.source(kept.declared.type!)}`), indent, lineEnd), ''] : []),
      `${indent}${isWaiting ? 'async ' : ''}${method}${writtenTypeParameters(open, moved.write)}(${handed.join(', ')})${back} {`, ''
    ].join(lineEnd)
    const last = given.length === 0 ? '' : `${lineEnd}${indent}${indent}return ${given.length === 1 ? given[0]! : `{ ${given.join(', ')} }`}${end}`
    const whole = `${opening}${indent}${indent}${moved.body}${last}${lineEnd}${indent}}${lineEnd}}${lineEnd}`
    const lead = moved.imports(target, whole, new Set([name, ...names]))
    editor.create(target, lead + whole)

    const local = own.nameFor({ name, file: target, specifier: null, typeOnly: false }), field = uniqueName(lowerFirst(name.startsWith(run.node.name!.text) && name.length > run.node.name!.text.length ? name.slice(run.node.name!.text.length) : name), run.node, new Set(), false)
    const staying = new Set<ts.Node>(parameters.flatMap(handed => handed.holes.map(hole => hole.nodes[0]!)))
    const gone = handedFieldsOf(run.node, parts).filter(kept => isUsedOnlyIn(new Set(run.statements), staying, kept, run.node, snapshot))
    const [first] = run.node.members, replaces = gone.some(({ apart }) => apart?.field === first)
    holdOne(run.node, replaces, field, `new ${local}(${handedFieldsOf(run.node, parts).map(one => (one.parameter.name as ts.Identifier).text).join(', ')})`, local, own)
    dropFields(gone, own, replaces ? first : undefined)
    const call = `${isWaiting ? 'await ' : ''}this.${field}.${method}${givenTypeArguments(open)}(${givenArguments(parameters, 0, snapshot.checker).join(', ')})${end}`
    const text = run.returns ? `return ${call}` : given.length === 0 ? call : `${isSetAgain(run, results, snapshot) ? 'let' : 'const'} ${given.length === 1 ? given[0]! : `{ ${given.join(', ')} }`} = ${call}`
    own.keepNames(text)
    own.replace(run.statements[0]!.getStart(file), attachedEnd(run.statements.at(-1)!, file), text)
    return checkedStep(editor, context, {
      notes: [`${touching ? `${name} touches ${touching.what}` : `${name} can be built and tested without the framework`}; ${run.node.name!.text} keeps ${run.block.statements.length - run.statements.length} of the ${run.block.statements.length} statements ${run.block === run.method.body ? 'of' : 'in their block of'} ${plan.member}, and its tests stay as they are.`,
        ...parameters.filter(handed => handed.lazy).map(handed => `What is called ${handed.name} is worked out in between, and so it is handed as a function.`)],
      choices: { name, method }, planned: [], moved: [{ from: path, start: moved.start, end: moved.end, to: target, at: lead.length + opening.length + indent.length * 2, edits: moved.edits }]
    })
  } catch (error) { return refusalOf(error) }
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
