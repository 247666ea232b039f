import ts from 'typescript'
import { differentOrder } from '../../write/argument-order.js'
import { Refused } from '../../write/refused.js'
import { removeLines } from '../../write/removed-lines.js'
import type { Snapshot } from '../session.js'
import type { FileEditor } from './file-editor.js'
import type { CreationSite } from './injection-points.js'
import { lineOf } from './injection-points.js'
import { commentedStart } from './moved-members.js'
import { attachedEnd } from './moving-statements.js'
import { isSettled, isTarget } from './settled.js'

/** A field that a constructor fills once with what it is handed, and nothing sets later. */
export interface HandedField {
  readonly name: string
  readonly constructor: ts.ConstructorDeclaration
  readonly parameter: ts.ParameterDeclaration
  /** Place of the parameter among the constructor's. */
  readonly index: number
  /** Where it is declared and filled, unless the parameter is the field. */
  readonly apart: { readonly field: ts.PropertyDeclaration; readonly assignment: ts.ExpressionStatement } | null
}

/** The field that `this.name` means in a class, if it is one that is handed in. */
export function handedField(access: ts.Node, node: ts.ClassDeclaration, { checker }: Snapshot): HandedField | undefined {
  if (!ts.isPropertyAccessExpression(access) || access.expression.kind !== ts.SyntaxKind.ThisKeyword) return undefined
  const constructors = node.members.filter(ts.isConstructorDeclaration)
  const [constructor] = constructors
  if (constructors.length !== 1 || !constructor?.body) return undefined
  const declaration = checker.getSymbolAtLocation(access.name)?.valueDeclaration
  const name = access.name.text
  if (!declaration) return undefined
  const plain = (one: ts.ParameterDeclaration) => ts.isIdentifier(one.name) && !one.dotDotDotToken && !one.questionToken && !one.initializer && !ts.getDecorators(one)?.length && one.type !== undefined
  if (ts.isParameter(declaration)) {
    if (declaration.parent !== constructor || !plain(declaration) || isSetAnywhere(name, node, null)) return undefined
    return { name, constructor, parameter: declaration, index: constructor.parameters.indexOf(declaration), apart: null }
  }
  if (!ts.isPropertyDeclaration(declaration) || declaration.parent !== node || declaration.initializer || ts.getDecorators(declaration)?.length) return undefined
  const assignment = constructor.body.statements.find((one): one is ts.ExpressionStatement => ts.isExpressionStatement(one) && ts.isBinaryExpression(one.expression) && one.expression.operatorToken.kind === ts.SyntaxKind.EqualsToken &&
    ts.isPropertyAccessExpression(one.expression.left) && one.expression.left.expression.kind === ts.SyntaxKind.ThisKeyword && one.expression.left.name.text === name)
  const value = assignment && (assignment.expression as ts.BinaryExpression).right
  const parameter = value && ts.isIdentifier(value) ? constructor.parameters.find(one => ts.isIdentifier(one.name) && one.name.text === value.text) : undefined
  if (!assignment || !parameter || !plain(parameter) || isSetAnywhere(name, node, assignment)) return undefined
  return { name, constructor, parameter, index: constructor.parameters.indexOf(parameter), apart: { field: declaration, assignment } }
}

/** Whether something sets the field: only its own class can, as long as it is private or readonly. */
export function isSetAnywhere(name: string, node: ts.ClassDeclaration, but: ts.ExpressionStatement | null): boolean {
  const declared = node.members.find(one => one.name !== undefined && (ts.isIdentifier(one.name) || ts.isPrivateIdentifier(one.name)) && one.name.text === name) ??
    node.members.find(ts.isConstructorDeclaration)?.parameters.find(one => ts.isIdentifier(one.name) && one.name.text === name)
  const modifiers = declared && ts.canHaveModifiers(declared) ? ts.getModifiers(declared)?.map(one => one.kind) ?? [] : []
  if (!modifiers.includes(ts.SyntaxKind.PrivateKeyword) && !modifiers.includes(ts.SyntaxKind.ReadonlyKeyword) && !name.startsWith('#')) return true
  let isSet = false
  const visit = (at: ts.Node): void => {
    if (at === but) return
    if (ts.isPropertyAccessExpression(at) && at.name.text === name && (isTarget(at) || ts.isDeleteExpression(at.parent))) isSet = true
    if (ts.isElementAccessExpression(at) && at.expression.kind === ts.SyntaxKind.ThisKeyword) isSet = true
    ts.forEachChild(at, visit)
  }
  visit(node)
  return isSet
}

/** Whether a private field is used in given statements only, but for parts of them that stay, and what it is filled with is used for nothing else. */
export function isUsedOnlyIn(statements: ReadonlySet<ts.Node>, staying: ReadonlySet<ts.Node>, { name, parameter, constructor, apart }: HandedField, node: ts.ClassDeclaration, { checker }: Snapshot): boolean {
  const declared = apart?.field ?? parameter
  if (!ts.getModifiers(declared)?.some(one => one.kind === ts.SyntaxKind.PrivateKeyword) && !ts.isPrivateIdentifier(declared.name)) return false
  const own = (parameter.name as ts.Identifier).text
  let elsewhere = false
  const stays = (at: ts.Node): void => { if (staying.has(at)) visit(at); else ts.forEachChild(at, stays) }
  const visit = (at: ts.Node): void => {
    if (statements.has(at)) { ts.forEachChild(at, stays); return }
    if (at === declared || at === parameter || at === apart?.assignment) return
    if (ts.isPropertyAccessExpression(at) && at.name.text === name && checker.getSymbolAtLocation(at.name)?.valueDeclaration === declared) elsewhere = true
    if (ts.isBindingElement(at) && (at.propertyName ?? at.name).getText() === name) elsewhere = true
    if (ts.isElementAccessExpression(at) && at.expression.kind === ts.SyntaxKind.ThisKeyword) elsewhere = true
    if (ts.isIdentifier(at) && at.text === own && ts.findAncestor(at, one => one === constructor) && !(ts.isPropertyAccessExpression(at.parent) && at.parent.name === at)) elsewhere = true
    ts.forEachChild(at, visit)
  }
  visit(node)
  return !elsewhere
}

/** Takes parameters out of a constructor, with the fields that they fill, and puts one in the place of the first of all that are spoken of. */
export function replaceParameters(handed: readonly HandedField[], gone: ReadonlySet<HandedField>, text: string, own: FileEditor): void {
  const { constructor } = handed[0]!, list = constructor.parameters
  const all = [...handed].sort((a, b) => a.index - b.index)
  own.keepNames(text)
  editList(list, all.map(one => one.index), new Set(all.filter(one => gone.has(one)).map(one => one.index)), text, own)
  for (const { apart } of gone) if (apart) {
    removeLines(commentedStart(apart.field, own.file), attachedEnd(apart.field, own.file), own)
    removeLines(apart.assignment.getStart(own.file), attachedEnd(apart.assignment, own.file), own)
  }
}

/** Takes fields out that nothing needs any more; what filled them stays a parameter of the constructor. `replaced`: a declaration that something stands for already. */
export function dropFields(gone: Iterable<HandedField>, own: FileEditor, replaced?: ts.Node): void {
  for (const { parameter, apart } of gone) {
    if (!apart) { own.replace(parameter.modifiers![0]!.getStart(own.file), parameter.name.getStart(own.file), ''); continue }
    if (apart.field !== replaced) removeLines(commentedStart(apart.field, own.file), attachedEnd(apart.field, own.file), own)
    removeLines(apart.assignment.getStart(own.file), attachedEnd(apart.assignment, own.file), own)
  }
}

/** Lets a place that creates an object hand `written(arguments)` for some of its arguments; those of `gone` are handed no more by themselves. */
export function replaceArguments(site: CreationSite, indices: readonly number[], gone: ReadonlySet<number>, written: (given: readonly string[]) => string, own: FileEditor, snapshot: Snapshot): void {
  const list = site.arguments, place = `${own.path}:${lineOf(site)}`
  const last = Math.max(...indices)
  if (!list || list.length <= last) throw new Refused('arguments', `${place} passes fewer arguments than the constructor has`)
  if (list.some((argument, at) => ts.isSpreadElement(argument) && at <= last)) throw new Refused('spread', `${place} passes its arguments with a spread`)
  const different = differentOrder(list.map(one => ({ settled: isSettled(one, snapshot), simple: isSimple(one) })), indices, gone)
  if (different) throw new Refused('order', different === 'twice' ? `${place} would work out an argument twice; give it a name first` : `${place} works out arguments in an order that would change; give them names first`)
  const text = written(indices.map(index => list[index]!.getText()))
  own.keepNames(text)
  editList(list, [...indices].sort((a, b) => a - b), gone, text, own)
}

/** Puts a text in the place of the first of some elements, and takes out those that are gone. */
function editList(list: ts.NodeArray<ts.Node>, indices: readonly number[], gone: ReadonlySet<number>, text: string, own: FileEditor): void {
  const first = indices[0]!
  indices.forEach(index => {
    const node = list[index]!
    if (index === first) {
      if (gone.has(index)) own.replace(node.getStart(own.file), node.end, text)
      else own.insert(node.getStart(own.file), `${text}, `)
    } else if (gone.has(index)) own.replace(list[index - 1]!.end, node.end, '')
  })
}

function isSimple(node: ts.Expression): boolean {
  if (ts.isIdentifier(node) || node.kind === ts.SyntaxKind.ThisKeyword || (ts.isLiteralExpression(node) && !ts.isRegularExpressionLiteral(node))) return true
  return ts.isPropertyAccessExpression(node) && node.expression.kind === ts.SyntaxKind.ThisKeyword
}
