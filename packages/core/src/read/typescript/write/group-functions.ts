import ts from 'typescript'
import type { MakeReplaceablePlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { lowerFirst, numberedName, upperFirst } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import type { Snapshot } from '../session.js'
import { checkedStep, refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import { ProjectEditor, topLevelNames } from './file-editor.js'
import { isInLoadCircle } from './new-file-cycle.js'
import { refusedName } from './new-file.js'
import { takeNames, TypeWriter } from './written-type.js'

/** A function that a file exports under its own name. */
interface ExportedFunction {
  readonly name: ts.Identifier
  readonly node: ts.FunctionDeclaration | ts.ArrowFunction | ts.FunctionExpression
  /** What it is cannot be said in one line of an interface: it has several forms, or a type of its own. */
  readonly asItIs: boolean
}

/** Functions of a file as one object of an interface, which can be handed in. */
export interface FunctionGroup {
  readonly constant: ts.VariableDeclaration & { readonly name: ts.Identifier }
  readonly promised: ts.InterfaceDeclaration
  readonly functions: ReadonlySet<ts.Symbol>
}

/** `logBook` for a `LogBookFunctions`: another name than that of the constant, which may be its default. */
export function handedName({ constant, promised }: FunctionGroup): string {
  const stem = lowerFirst(promised.name.text.replace(/Functions$/, ''))
  return stem === '' || stem === constant.name.text ? `${constant.name.text}Given` : stem
}

/** What a function is called where it is declared: an import may give it another name. */
export function calledName(use: ts.Identifier, { checker }: Snapshot): string { return checker.getAliasedSymbol(checker.getSymbolAtLocation(use)!).name }

const isExported = (node: ts.Node) => ts.canHaveModifiers(node) && ts.getModifiers(node)?.some(one => one.kind === ts.SyntaxKind.ExportKeyword) === true && !ts.getModifiers(node)?.some(one => one.kind === ts.SyntaxKind.DefaultKeyword)

function exportedFunctions(file: ts.SourceFile): ExportedFunction[] {
  const found: ExportedFunction[] = [], forms = new Map<string, number>()
  for (const statement of file.statements) {
    if (!isExported(statement)) continue
    if (ts.isFunctionDeclaration(statement) && statement.name) {
      forms.set(statement.name.text, (forms.get(statement.name.text) ?? 0) + 1)
      if (statement.body) found.push({ name: statement.name, node: statement, asItIs: false })
    } else if (ts.isVariableStatement(statement) && statement.declarationList.flags & ts.NodeFlags.Const) for (const { name, initializer, type } of statement.declarationList.declarations) {
      if (ts.isIdentifier(name) && initializer && (ts.isArrowFunction(initializer) || ts.isFunctionExpression(initializer))) found.push({ name, node: initializer, asItIs: type !== undefined })
    }
  }
  return found.filter(one => !speaksOfThis(one.node)).map(one => ({ ...one, asItIs: one.asItIs || (forms.get(one.name.text) ?? 1) > 1 }))
}

/** A function that has an object at hand is none that can do without. */
function speaksOfThis(node: ts.Node): boolean {
  let found = false
  const visit = (at: ts.Node): void => {
    if (at.kind === ts.SyntaxKind.ThisKeyword) found = true
    if (!ts.isClassLike(at)) ts.forEachChild(at, visit)
  }
  visit(node)
  return found
}

/** The groups of a file: exported constants of an interface of the project whose values are functions of the file. */
export function functionGroups(file: ts.SourceFile, { checker, declarations }: Snapshot): FunctionGroup[] {
  return file.statements.flatMap(statement => (ts.isVariableStatement(statement) && isExported(statement) && statement.declarationList.flags & ts.NodeFlags.Const ? [...statement.declarationList.declarations] : [])).flatMap(declaration => {
    const { name, type, initializer } = declaration
    const promised = type && checker.getTypeAtLocation(type).symbol?.declarations?.find(ts.isInterfaceDeclaration)
    if (!ts.isIdentifier(name) || !initializer || !ts.isObjectLiteralExpression(initializer) || !promised || !declarations.ownerOf(promised) || !initializer.properties.every(ts.isShorthandPropertyAssignment)) return []
    const functions = new Set(initializer.properties.map(one => checker.getShorthandAssignmentValueSymbol(one)).filter(one => one !== undefined))
    return [{ constant: declaration as FunctionGroup['constant'], promised, functions }]
  })
}

/** Names of the functions of a file that could be handed in together; none where they are in a group already. */
export function groupableFunctions(file: ts.SourceFile, snapshot: Snapshot): string[] {
  if (/\.[cm]?jsx?$/.test(file.fileName) || !ts.isExternalModule(file) || functionGroups(file, snapshot).length > 0 || isInLoadCircle(snapshot, snapshot.pathOf(file)!)) return []
  return exportedFunctions(file).map(one => one.name.text)
}

/** The functions of a file as one object of an interface. Callers stay as they are; a class can then be handed it. */
export function groupFunctions(plan: MakeReplaceablePlan, file: ts.SourceFile, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context, path = snapshot.pathOf(file)!
  const [group] = functionGroups(file, snapshot)
  if (group) return planRefused('done', `${group.constant.name.text} holds its functions already.`)
  if (/\.[cm]?jsx?$/.test(path)) return planRefused('javascript', `${path} is JavaScript, which has no interfaces.`)
  const functions = exportedFunctions(file)
  if (functions.length === 0) return planRefused('no-members', `${path} exports no functions that others could be handed.`)
  if (isInLoadCircle(snapshot, path)) return planRefused('load-cycle', `${path} is loaded in a circle with others, so that the object could be wanted before it is there.`)
  const taken = topLevelNames(file), stem = stemOf(path)
  const name = plan.name ?? numberedName(`${stem}Functions`, one => !taken.has(one) && !taken.has(lowerFirst(one))), constant = plan.implementation ?? lowerFirst(name)
  const bad = refusedName(name, 'an interface') ?? refusedName(constant, 'a constant')
  if (bad) return bad
  try {
    for (const one of [name, constant]) if (taken.has(one)) throw new Refused('name-taken', `${path} has a ${one} already; choose another name`)
    const editor = new ProjectEditor(snapshot, root), own = editor.editor(path), { lineEnd, indent, semicolons } = own.style, end = semicolons ? ';' : ''
    const write = new TypeWriter(snapshot, editor, file, true)
    const members = functions.map(one => `${indent}${memberText(one, write, snapshot)}${end}`)
    takeNames(write, own)
    const values = functions.map(one => one.name.text), line = `export const ${constant}: ${name} = { ${values.join(', ')} }${end}`
    const object = line.length <= LINE ? line : [`export const ${constant}: ${name} = {`, ...values.map((value, at) => `${indent}${value}${at < values.length - 1 ? ',' : ''}`), `}${end}`].join(lineEnd)
    const lead = file.text === '' || file.text.endsWith('\n') ? '' : lineEnd
    own.insert(file.text.length, `${lead}${[`${lineEnd}/** What others use of this file, to be handed in. */`, `export interface ${name} {`, ...members, '}', '', object, ''].join(lineEnd)}`)
    return checkedStep(editor, context, { notes: [`A class that calls them can be handed ${constant}, and a test hands it another ${name}; callers stay as they are until then.`], choices: { name, implementation: constant, swap: plan.swap }, planned: [] })
  } catch (error) { return refusalOf(error) }
}

/** Longer than this an object is written with one function on each line. */
const LINE = 120

/** `water-level.ts` gives `WaterLevel`; of an `index.ts`, its folder speaks. */
function stemOf(path: string): string {
  const parts = path.replace(/\.[cm]?tsx?$/, '').split('/'), last = parts.at(-1) === 'index' && parts.length > 1 ? parts.at(-2)! : parts.at(-1)!
  const words = last.match(/[\p{L}\p{N}]+/gu) ?? ['File']
  return words.map(upperFirst).join('').replace(/^(?=\p{N})/u, 'File')
}

/** A function as an interface says it. */
function memberText({ name, node, asItIs }: ExportedFunction, write: TypeWriter, { checker }: Snapshot): string {
  const plain = node.parameters.every(one => ts.isIdentifier(one.name) && (one.type !== undefined || one.initializer !== undefined))
  if (asItIs || node.typeParameters || !plain) return `readonly ${name.text}: typeof ${name.text}`
  const parameters = node.parameters.map(one => {
    const optional = one.questionToken || one.initializer ? '?' : ''
    return `${one.dotDotDotToken ? '...' : ''}${one.name.getText()}${optional}: ${one.type ? write.source(one.type) : write.inferred(checker.getBaseTypeOfLiteralType(checker.getTypeAtLocation(one)))}`
  })
  return `${name.text}(${parameters.join(', ')}): ${node.type ? write.source(node.type) : write.inferred(checker.getReturnTypeOfSignature(checker.getSignatureFromDeclaration(node)!))}`
}
