import ts from 'typescript'
import type { TextEdit } from '../../../edit/text-edit.js'
import type { ExtractClassPlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { lowerFirst, numberedName, withArticle } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import { removeAllLines } from '../../write/removed-lines.js'
import { memberName } from '../declarations.js'
import type { Snapshot } from '../session.js'
import { checkedStep, refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import { beginConstructor } from './constructor-parameter.js'
import type { FileEditor } from './file-editor.js'
import { ProjectEditor, topLevelNames } from './file-editor.js'
import type { FilledField } from './filled-fields.js'
import { asParameter, filledFields, refuseTooLate } from './filled-fields.js'
import { handsOnTo } from './handing-on.js'
import { lineOf } from './injection-points.js'
import type { MovedMembers } from './moved-members.js'
import { commentedStart, moveMembers, passedOn, returnsNothing, shiftAt } from './moved-members.js'
import { constructorLine } from './moved-run.js'
import { attachedEnd, attachedStart } from './moving-statements.js'
import { isHidden } from './statement-unifier.js'

/** Members of a class that can stand in one of their own. */
interface Extraction {
  readonly fields: readonly ts.PropertyDeclaration[]
  /** Those that the constructor fills with its arguments; where these declare them, they are not among the others. */
  readonly filled: readonly FilledField[]
  /** Methods that others call: they stay and hand on. */
  readonly faces: readonly ts.MethodDeclaration[]
  readonly hidden: readonly ts.MethodDeclaration[]
}

const has = (node: ts.Node, kind: ts.SyntaxKind) => ts.canHaveModifiers(node) && ts.getModifiers(node)?.some(one => one.kind === kind) === true

/** Whether some members of a class can go into a class of their own, as far as that is seen without trying. */
export function canExtractClass(node: ts.ClassLikeDeclaration, members: readonly string[], type: string, snapshot: Snapshot): boolean {
  try { extraction(node, new Set(members), type, snapshot) } catch (error) {
    if (error instanceof Refused) return false
    throw error
  }
  return true
}

function extraction(node: ts.ClassLikeDeclaration, names: ReadonlySet<string>, type: string, snapshot: Snapshot): Extraction {
  const { checker, facts } = snapshot
  if (!ts.isClassDeclaration(node) || !node.name || !ts.isSourceFile(node.parent) || ts.getDecorators(node)?.length) throw new Refused('nested', 'It does not stand under a name at the top of its file, or has decorators')
  const fields: ts.PropertyDeclaration[] = [], faces: ts.MethodDeclaration[] = [], hidden: ts.MethodDeclaration[] = []
  const filled = filledFields(node, snapshot).filter(one => names.has(one.name)), filling = new Set<ts.Node | undefined>(filled.map(one => one.filled))
  const moving = new Set<ts.Node>(filled.map(one => one.declared ?? one.parameter)), found = new Set(filled.map(one => one.name))
  if (filled.some((one, at) => filled.findIndex(other => other.name === one.name) !== at)) throw new Refused('member', 'A field is filled twice')
  for (const member of node.members) {
    const name = memberName(member)
    if (!names.has(name) || ts.isConstructorDeclaration(member)) continue
    found.add(name)
    const isPrivate = has(member, ts.SyntaxKind.PrivateKeyword) || (member.name !== undefined && ts.isPrivateIdentifier(member.name))
    if (ts.canHaveDecorators(member) && ts.getDecorators(member)?.length) throw new Refused('framework', `${name} has decorators`)
    if (has(member, ts.SyntaxKind.StaticKeyword) || has(member, ts.SyntaxKind.AbstractKeyword)) throw new Refused('member', `${name} is static or abstract`)
    if (ts.isPropertyDeclaration(member)) {
      if (!isPrivate) throw new Refused('member', `${name} is a field that others see`)
      fields.push(member)
    } else if (ts.isMethodDeclaration(member) && !member.asteriskToken) (isPrivate ? hidden : faces).push(member)
    else throw new Refused('member', `${name} is neither a method nor a field`)
    moving.add(member)
  }
  for (const name of names) if (!found.has(name)) throw new Refused('member', `${name} is no member of ${node.name.text} that could go`)
  if (fields.length + filled.length === 0 || faces.length === 0) throw new Refused('members', 'A class of its own needs a field, and a method that others call')
  const [onlyName, another] = new Set([...fields.map(memberName), ...filled.map(one => one.name)])
  if (another === undefined && hidden.length === 0 && faces.every(face => { const to = handsOnTo(face); return to && ts.isPropertyAccessExpression(to) && to.expression.kind === ts.SyntaxKind.ThisKeyword && to.name.text === onlyName })) throw new Refused('done', `Its methods only hand on to ${onlyName} already`)
  if (node.members.every(member => moving.has(member) || ts.isConstructorDeclaration(member) || has(member, ts.SyntaxKind.StaticKeyword)) && otherProperties(node, filled).length === 0) throw new Refused('members', `Nothing would be left of an object of ${node.name.text}`)

  const isMoving = (name: ts.Node) => checker.getSymbolAtLocation(name)?.declarations?.some(one => moving.has(one)) === true
  const called = new Set<string>()
  const parameters = new Set(node.typeParameters?.map(one => checker.getSymbolAtLocation(one.name)))
  for (const member of node.members) {
    const inside = moving.has(member)
    const visit = (at: ts.Node, ownThis: boolean): void => {
      if (filling.has(at)) return
      if (ts.isPropertyAccessExpression(at) && isMoving(at.name)) {
        const method = faces.some(face => memberName(face) === at.name.text)
        const mine = at.expression.kind === ts.SyntaxKind.ThisKeyword && !ownThis
        if (inside && mine && method) called.add(at.name.text)
        if (!method && (!inside || !mine)) throw new Refused('used', `${at.name.text} is used outside the group too, line ${lineOf(at)}`)
      } else if (ts.isElementAccessExpression(at) && at.expression.kind === ts.SyntaxKind.ThisKeyword) throw new Refused('used', `A member is found by a text, line ${lineOf(at)}`)
      else if (ts.isBindingElement(at) && names.has((at.propertyName ?? at.name).getText())) throw new Refused('used', `${(at.propertyName ?? at.name).getText()} may be taken out of the object, line ${lineOf(at)}`)
      if (inside) {
        if (at.kind === ts.SyntaxKind.ThisKeyword && !ownThis && !(ts.isPropertyAccessExpression(at.parent) && at.parent.expression === at && isMoving(at.parent.name))) {
          throw new Refused('between', ts.isPropertyAccessExpression(at.parent) ? `${memberName(member)} uses ${at.parent.name.text}, which stays, line ${lineOf(at)}` : `${memberName(member)} hands the object itself on, line ${lineOf(at)}`)
        }
        if (ts.isPropertyAccessExpression(at) && at.expression.kind !== ts.SyntaxKind.ThisKeyword && !isMoving(at.name) && isHidden(checker.getSymbolAtLocation(at.name))) throw new Refused('between', `${memberName(member)} uses ${at.name.text}, which only its class can name, line ${lineOf(at)}`)
        if (at.kind === ts.SyntaxKind.ThisType || at.kind === ts.SyntaxKind.SuperKeyword) throw new Refused('between', `${memberName(member)} speaks of its class or of what it inherits, line ${lineOf(at)}`)
        if (ts.isIdentifier(at) && parameters.has(checker.getSymbolAtLocation(at))) throw new Refused('generic', `${memberName(member)} speaks of a type parameter of the class`)
      }
      const hides = ts.isFunctionExpression(at) || ts.isFunctionDeclaration(at) || (ts.isClassLike(at) && at !== node) || (ts.isObjectLiteralExpression(at.parent) && (ts.isMethodDeclaration(at) || ts.isAccessor(at)))
      ts.forEachChild(at, child => visit(child, ownThis || hides))
    }
    visit(member, false)
  }
  // Called from inside the group, what a subclass puts in its place would no longer be found.
  for (const { overrides } of facts.files) for (const one of overrides) if (one.base === type && called.has(one.member)) throw new Refused('overridden', `${one.member} is overridden, and the group calls it`)
  for (const one of filled) {
    asParameter(one)
    const type = (one.declared ?? one.parameter).type
    if (type && speaksOfOwn(type, parameters, checker)) throw new Refused('generic', `${one.name} is of a type that the class leaves open`)
  }
  refuseOrder(node, fields, filled.length > 0)
  if (filled.length > 0) refuseTooLate(node, filled, new Set(faces.map(memberName)))
  return { fields, filled, faces, hidden }
}

function speaksOfOwn(node: ts.Node, own: ReadonlySet<ts.Symbol | undefined>, checker: ts.TypeChecker): boolean {
  return (ts.isIdentifier(node) && own.has(checker.getSymbolAtLocation(node))) || (ts.forEachChild(node, child => speaksOfOwn(child, own, checker) || undefined) ?? false)
}

/**
 * Fields are made where the first of them stands, or behind all others where the constructor makes them (`isLast`): what those in between
 * do must not matter.
 */
function refuseOrder(node: ts.ClassLikeDeclaration, fields: readonly ts.PropertyDeclaration[], isLast: boolean): void {
  if (fields.length === 0) return
  const all = node.members.filter(ts.isPropertyDeclaration).filter(one => !has(one, ts.SyntaxKind.StaticKeyword))
  const between = all.slice(all.indexOf(fields[0]!), isLast ? all.length : all.indexOf(fields.at(-1)!)).filter(one => !fields.includes(one) && one.initializer && !isQuiet(one.initializer))
  if (between.length > 0 && fields.some(one => one.initializer && !isQuiet(one.initializer))) throw new Refused('order', `${memberName(between[0]!)} is made between them`)
}

function isQuiet(expression: ts.Expression): boolean {
  if (ts.isLiteralExpression(expression) || [ts.SyntaxKind.TrueKeyword, ts.SyntaxKind.FalseKeyword, ts.SyntaxKind.NullKeyword].includes(expression.kind) || ts.isIdentifier(expression)) return true
  if (ts.isArrayLiteralExpression(expression)) return expression.elements.every(isQuiet)
  if (ts.isObjectLiteralExpression(expression)) return expression.properties.length === 0
  return ts.isNewExpression(expression) && /^(Weak)?(Map|Set)$/.test(expression.expression.getText()) && !expression.arguments?.length
}

/** Fields and the methods that share them as a class of their own, which the class holds and hands calls on to. */
export function extractClass(plan: ExtractClassPlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const file = node.getSourceFile(), path = snapshot.pathOf(file)!
  if (/\.[cm]?jsx?$/.test(path)) return planRefused('javascript', `${path} is JavaScript; what moves could not be checked.`)
  try {
    const { fields, filled, faces, hidden } = extraction(node, new Set(plan.members), plan.type, snapshot)
    const own = node.name!.text
    const taken = new Set([...snapshot.facts.files.flatMap(one => one.types.map(type => type.name)), ...topLevelNames(file)])
    const stem = (fields[0] ? memberName(fields[0]) : filled[0]!.name).replace(/^[#_]+/, '')
    const name = plan.name ?? numberedName(own + stem.charAt(0).toUpperCase() + stem.slice(1), one => !taken.has(one))
    if (!/^[A-Za-z_$][\w$]*$/.test(name)) return planRefused('name', `${name} is not a name that a class can have.`)
    if (topLevelNames(file).has(name)) return planRefused('name-taken', `${path} has a ${name} already; choose another name.`)
    const moving = new Set<ts.ClassElement>([...fields, ...faces, ...hidden])
    const left = new Set([...node.members.filter(one => !moving.has(one)).map(memberName), ...otherProperties(node, filled)]), kept = new Set(faces.map(memberName))
    const field = numberedName(lowerFirst(name.startsWith(own) && name.length > own.length ? name.slice(own.length) : name), one => !left.has(one) && !kept.has(one))

    const editor = new ProjectEditor(snapshot, root)
    const at = editor.editor(path)
    const { lineEnd, indent, semicolons } = at.style
    const end = semicolons ? ';' : ''
    const going = node.members.filter(one => moving.has(one))
    const moved = moveMembers(going, new Set<ts.ClassElement>(faces), member => unclassed(member, file), at)
    const head = `class ${name} {${lineEnd}`, made = withConstructor(moved, going.findIndex(one => !ts.isPropertyDeclaration(one)), filled, at)
    const text = `${head}${made.text}}${lineEnd}${lineEnd}`
    at.keepNames(text)
    const before = attachedStart(node as ts.ClassDeclaration, file)
    at.insert(before, text)
    for (const face of faces) if (face.body) {
      at.replace(face.body.getStart(file), face.body.end, `{${lineEnd}${indent}${indent}${returnsNothing(face, snapshot) ? '' : 'return '}this.${field}.${memberName(face)}(${passedOn(face)})${end}${lineEnd}${indent}}`)
    }
    const [first, ...others] = fields
    const declaration = `private readonly ${field}${filled.length > 0 ? `: ${name}` : ` = new ${name}()`}${end}`
    if (first) at.replace(commentedStart(first, file), attachedEnd(first, file), declaration)
    else { const [begin] = node.members; at.insert(commentedStart(begin!, file), `${declaration}${lineEnd}${lineEnd}${indent}`) }
    if (filled.length > 0) makeInConstructor(node.members.find(ts.isConstructorDeclaration)!, filled, `this.${field} = new ${name}(${filled.map(one => one.parameter.name.text).join(', ')})${end}`, at)
    removeAllLines([...others, ...hidden].map(member => ({ start: commentedStart(member, file), end: attachedEnd(member, file) })), at)
    return checkedStep(editor, context, {
      notes: [`${own} holds ${withArticle(name)} and hands ${[...kept].join(', ')} on to it.`], choices: { members: plan.members.join(','), name },
      planned: [{ types: new Set([plan.type]), to: `${path}#${name}` }],
      moved: edits => { const shift = before + shiftAt(before, edits.get(path) ?? []) + head.length; return made.pieces.map(piece => ({ ...piece, at: piece.at + shift })) }
    })
  } catch (error) { return refusalOf(error) }
}

/** In a class that nobody inherits from and only its holder sees, `override` and `protected` mean nothing. */
function unclassed(member: ts.ClassElement, file: ts.SourceFile): TextEdit[] {
  if (!ts.canHaveModifiers(member)) return []
  return (ts.getModifiers(member) ?? []).filter(one => one.kind === ts.SyntaxKind.OverrideKeyword || one.kind === ts.SyntaxKind.ProtectedKeyword)
    .map(one => ({ start: one.getStart(file), end: one.end + /^\s*/.exec(file.text.slice(one.end))![0].length, text: '' }))
}

/** Arguments of the constructor that declare other fields. */
function otherProperties(node: ts.ClassLikeDeclaration, filled: readonly FilledField[]): string[] {
  return node.members.filter(ts.isConstructorDeclaration).flatMap(one => [...one.parameters]).filter(one => ts.getModifiers(one)?.length && !filled.some(({ parameter }) => parameter === one)).map(one => one.name.getText())
}

/** A constructor before the first method, for what is handed in. */
function withConstructor(moved: MovedMembers, method: number, filled: readonly FilledField[], { style: { indent, lineEnd, semicolons } }: FileEditor): MovedMembers {
  if (filled.length === 0) return moved
  const body = filled.filter(one => one.declared).map(({ name }) => `${lineEnd}${indent}${indent}this.${name} = ${name}${semicolons ? ';' : ''}`).join('')
  const plain = constructorLine(filled.map(asParameter), indent, lineEnd), head = body === '' ? plain : `${plain.slice(0, -1)}${body}${lineEnd}${indent}}`
  const at = moved.pieces[method]!.at - indent.length, line = head + lineEnd + lineEnd
  return { text: moved.text.slice(0, at) + line + moved.text.slice(at), pieces: moved.pieces.map(piece => (piece.at < at ? piece : { ...piece, at: piece.at + line.length })) }
}

/** Makes the object where the first of its fields was filled, or as the first thing; arguments declare the fields no more. */
function makeInConstructor(constructor: ts.ConstructorDeclaration, filled: readonly FilledField[], making: string, own: FileEditor): void {
  const { file } = own, [first, ...others] = filled.flatMap(one => one.filled ?? []).sort((a, b) => a.pos - b.pos)
  for (const { parameter, declared } of filled) if (!declared) own.replace(ts.getModifiers(parameter)![0]!.getStart(file), parameter.name.getStart(file), '')
  if (!first) { beginConstructor(constructor, [making], own); return }
  own.replace(first.getStart(file), first.end, making)
  // Comments beside them stay.
  removeAllLines(others.map(one => ({ start: one.getStart(file), end: one.end })), own)
}
