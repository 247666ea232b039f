import ts from 'typescript'
import { Refused } from '../../write/refused.js'
import { memberName } from '../declarations.js'
import type { Snapshot } from '../session.js'
import type { FilledField } from './filled-fields.js'
import { asParameter, filledFields, refuseTooLate } from './filled-fields.js'
import type { SharedField } from './shared-fields.js'
import { sharedFields } from './shared-fields.js'
import { handsOnTo } from './handing-on.js'
import { lineOf } from './injection-points.js'
import { passedOn } from './moved-members.js'
import { isHidden } from './statement-unifier.js'

/** What others ask an object for: a method, or a property that is computed where it is read or set. */
export type Face = ts.MethodDeclaration | ts.AccessorDeclaration

/** Members of a class that can stand in one of their own. */
export interface Extraction {
  readonly fields: readonly ts.PropertyDeclaration[]
  /** Those that the constructor fills with its arguments; where these declare them, they are not among the others. */
  readonly filled: readonly FilledField[]
  /** Fields that nothing sets once they are filled, and that what stays needs as well: each of the two classes has them. */
  readonly shared: readonly SharedField[]
  /** Methods that others call, and properties that they read and set: they stay and hand on. */
  readonly faces: readonly Face[]
  readonly hidden: readonly Face[]
  /** Whether the new class would need the old one: its statics, or itself. */
  readonly leadsBack: boolean
  /** Calls of hidden methods (`this.note`) in what stays, which ask the new class afterwards. */
  readonly asked: readonly ts.PropertyAccessExpression[]
}

const has = (node: ts.Node, kind: ts.SyntaxKind) => ts.canHaveModifiers(node) && ts.getModifiers(node)?.some(one => one.kind === kind) === true

/** Whether some members of a class can go into a class of their own that does without it, as far as that is seen without trying. */
export function canExtractClass(node: ts.ClassLikeDeclaration, members: readonly string[], type: string, snapshot: Snapshot): boolean {
  try { return !extractionOf(node, new Set(members), type, snapshot).leadsBack } catch (error) {
    if (error instanceof Refused) return false
    throw error
  }
}

/** What goes of the members that are named. Throws `Refused` where they cannot. O(size of the class). */
export function extractionOf(node: ts.ClassLikeDeclaration, chosen: ReadonlySet<string>, type: string, snapshot: Snapshot): Extraction {
  const { checker, facts } = snapshot
  if (!ts.isClassDeclaration(node) || !node.name || !ts.isSourceFile(node.parent) || ts.getDecorators(node)?.length) throw new Refused('nested', 'It does not stand under a name at the top of its file, or has decorators')
  const fields: ts.PropertyDeclaration[] = [], faces: Face[] = [], hidden: Face[] = []
  const sharable = sharedFields(node, snapshot), stays = usedByWhatStays(node, chosen, snapshot)
  // What only the group uses goes along, named or not.
  const names = new Set([...chosen, ...[...sharable.values()].filter(one => isPrivate(one.declared) && !stays.has(one.name) && usesIn(node, chosen).has(one.name)).map(one => one.name)])
  const staysToo = (name: string) => sharable.has(name) && (stays.has(name) || !isPrivate(sharable.get(name)!.declared))
  const filled = filledFields(node, snapshot).filter(one => names.has(one.name) && !staysToo(one.name)), filling = new Set<ts.Node | undefined>(filled.map(one => one.filled))
  const moving = new Set<ts.Node>(filled.map(one => one.declared ?? one.parameter)), found = new Set([...filled.map(one => one.name), ...[...sharable.keys()].filter(staysToo)])
  if (filled.some((one, at) => filled.findIndex(other => other.name === one.name) !== at)) throw new Refused('member', 'A field is filled twice')
  for (const member of node.members) {
    const name = memberName(member)
    if (!names.has(name) || ts.isConstructorDeclaration(member) || staysToo(name)) continue
    found.add(name)
    if (ts.canHaveDecorators(member) && ts.getDecorators(member)?.length) throw new Refused('framework', `${name} has decorators`)
    if (has(member, ts.SyntaxKind.StaticKeyword) || has(member, ts.SyntaxKind.AbstractKeyword)) throw new Refused('member', `${name} is static or abstract`)
    if (ts.isPropertyDeclaration(member)) {
      if (!isPrivate(member)) throw new Refused('member', `${name} is a field that others see`)
      if (has(member, ts.SyntaxKind.AccessorKeyword)) throw new Refused('member', `${name} is set and read by code of its own`)
      fields.push(member)
    } else if (ts.isAccessor(member) || (ts.isMethodDeclaration(member) && !member.asteriskToken)) {
      if (ts.isComputedPropertyName(member.name)) throw new Refused('member', `${name} is no name that can be said behind a dot`)
      ;(isPrivate(member) ? hidden : faces).push(member)
    }
    else throw new Refused('member', `${name} is neither a method nor a field`)
    moving.add(member)
  }
  for (const name of names) if (!found.has(name)) throw new Refused('member', `${name} is no member of ${node.name.text} that could go`)
  if (faces.length + hidden.length === 0) throw new Refused('members', 'A class of its own needs a method')
  if (node.members.every(member => moving.has(member) || ts.isConstructorDeclaration(member) || has(member, ts.SyntaxKind.StaticKeyword)) && otherProperties(node, filled).length === 0) throw new Refused('members', `Nothing would be left of an object of ${node.name.text}`)

  const isMoving = (name: ts.Node) => checker.getSymbolAtLocation(name)?.declarations?.some(one => moving.has(one)) === true
  const called = new Set<string>(), shared = new Map<string, SharedField>(), asked: ts.PropertyAccessExpression[] = []
  const itself = checker.getSymbolAtLocation(node.name)
  let leadsBack = false
  const parameters = new Set(node.typeParameters?.map(one => checker.getSymbolAtLocation(one.name)))
  for (const member of node.members) {
    const inside = moving.has(member)
    const visit = (at: ts.Node, ownThis: boolean): void => {
      if (filling.has(at)) return
      if (ts.isPropertyAccessExpression(at) && isMoving(at.name)) {
        const method = faces.some(face => memberName(face) === at.name.text)
        const mine = at.expression.kind === ts.SyntaxKind.ThisKeyword && !ownThis
        if (inside && mine && method) called.add(at.name.text)
        if (!method && (!inside || !mine)) {
          if (inside || !hidden.some(one => ts.isMethodDeclaration(one) && memberName(one) === at.name.text) || ts.isPrivateIdentifier(at.name) || !ts.isCallExpression(at.parent) || at.parent.expression !== at) throw new Refused('used', `${at.name.text} is used outside the group too, line ${lineOf(at)}`)
          if (ts.isPropertyDeclaration(member)) throw new Refused('order', `${memberName(member)} is made with what ${at.name.text} does, line ${lineOf(at)}`)
          asked.push(at)
        }
      } else if (ts.isElementAccessExpression(at) && at.expression.kind === ts.SyntaxKind.ThisKeyword) throw new Refused('used', `A member is found by a text, line ${lineOf(at)}`)
      else if (ts.isBindingElement(at) && names.has((at.propertyName ?? at.name).getText()) && isTakenOut(at, moving, checker)) throw new Refused('used', `${(at.propertyName ?? at.name).getText()} may be taken out of the object, line ${lineOf(at)}`)
      if (inside) {
        const own = at.kind === ts.SyntaxKind.ThisKeyword && !ownThis && ts.isPropertyAccessExpression(at.parent) && at.parent.expression === at ? at.parent.name : undefined
        if (own && !isMoving(own) && sharable.has(own.text)) shared.set(own.text, sharable.get(own.text)!)
        else if (at.kind === ts.SyntaxKind.ThisKeyword && !ownThis && !(own && isMoving(own))) {
          throw new Refused('between', own ? `${memberName(member)} uses ${own.text}, which stays, line ${lineOf(at)}` : `${memberName(member)} hands the object itself on, line ${lineOf(at)}`)
        }
        if (ts.isPropertyAccessExpression(at) && at.expression.kind !== ts.SyntaxKind.ThisKeyword && !isMoving(at.name) && isHidden(checker.getSymbolAtLocation(at.name))) throw new Refused('between', `${memberName(member)} uses ${at.name.text}, which only its class can name, line ${lineOf(at)}`)
        if (at.kind === ts.SyntaxKind.ThisType || at.kind === ts.SyntaxKind.SuperKeyword) throw new Refused('between', `${memberName(member)} speaks of its class or of what it inherits, line ${lineOf(at)}`)
        if (ts.isIdentifier(at) && at.text === node.name!.text && checker.getSymbolAtLocation(at) === itself) leadsBack = true
        if (ts.isIdentifier(at) && parameters.has(checker.getSymbolAtLocation(at))) throw new Refused('generic', `${memberName(member)} speaks of a type parameter of the class`)
      }
      const hides = ts.isFunctionExpression(at) || ts.isFunctionDeclaration(at) || (ts.isClassLike(at) && at !== node) || (ts.isObjectLiteralExpression(at.parent) && (ts.isMethodDeclaration(at) || ts.isAccessor(at)))
      ts.forEachChild(at, child => visit(child, ownThis || hides))
    }
    visit(member, false)
  }
  for (const face of faces) {
    passedOn(face)
    if (faces.some(other => other !== face && other.kind === face.kind && memberName(other) === memberName(face))) throw new Refused('overloads', `${memberName(face)} has several forms`)
  }
  if (faces.length + asked.length === 0) throw new Refused('members', 'A class of its own needs a method that others call')
  refuseDone(fields, filled, shared, faces, hidden)
  // Called from inside the group, what a subclass puts in its place would no longer be found.
  for (const { overrides } of facts.files) for (const one of overrides) if (one.base === type && called.has(one.member)) throw new Refused('overridden', `${one.member} is overridden, and the group calls it`)
  for (const one of filled) {
    asParameter(one)
    const type = (one.declared ?? one.parameter).type
    if (type && speaksOfOwn(type, parameters, checker)) throw new Refused('generic', `${one.name} is of a type that the class leaves open`)
  }
  for (const one of shared.values()) if (parameters.size > 0 && (!one.declared.type || speaksOfOwn(one.declared.type, parameters, checker))) throw new Refused('generic', `${one.name} is of a type that the class leaves open`)
  const isMadeInConstructor = filled.length > 0 || [...shared.values()].some(one => !one.isMade)
  refuseOrder(node, fields, isMadeInConstructor || shared.size > 0)
  if (isMadeInConstructor) refuseTooLate(node, [...filled, ...shared.values()].flatMap(one => one.filled ?? []), new Set([...faces, ...hidden].map(memberName)))
  return { fields, filled, shared: [...shared.values()].sort((a, b) => a.declared.pos - b.declared.pos), faces, hidden, asked, leadsBack }
}

/** Whether what is taken out of an object may be one of some members. */
function isTakenOut(element: ts.BindingElement, members: ReadonlySet<ts.Node>, checker: ts.TypeChecker): boolean {
  const type = checker.getTypeAtLocation(element.parent), name = element.propertyName ?? element.name
  const property = ts.isIdentifier(name) || ts.isStringLiteral(name) ? type.getProperty(name.text) : undefined
  return property === undefined || property.declarations === undefined || property.declarations.some(one => members.has(one))
}

const isPrivate = (node: ts.Node) => has(node, ts.SyntaxKind.PrivateKeyword) || ((ts.isPropertyDeclaration(node) || ts.isMethodDeclaration(node) || ts.isAccessor(node)) && ts.isPrivateIdentifier(node.name))

/** Names of own fields that anything but the named members uses; where a constructor only fills one with an argument, that is no use. */
function usedByWhatStays(node: ts.ClassDeclaration, names: ReadonlySet<string>, snapshot: Snapshot): ReadonlySet<string> {
  const filling = new Set<ts.Node | undefined>(filledFields(node, snapshot).map(one => one.filled))
  return accessedIn(node.members.filter(member => ts.isConstructorDeclaration(member) || !names.has(memberName(member))), filling)
}

/** Names behind a dot in some members of a class. */
function usesIn(node: ts.ClassDeclaration, names: ReadonlySet<string>): ReadonlySet<string> { return accessedIn(node.members.filter(member => names.has(memberName(member))), new Set()) }

function accessedIn(members: readonly ts.ClassElement[], passedOver: ReadonlySet<ts.Node | undefined>): ReadonlySet<string> {
  const used = new Set<string>()
  const visit = (at: ts.Node): void => {
    if (passedOver.has(at)) return
    if (ts.isPropertyAccessExpression(at)) used.add(at.name.text)
    ts.forEachChild(at, visit)
  }
  members.forEach(visit)
  return used
}

/** Refuses where all that is called only hands on to one field already. */
function refuseDone(fields: readonly ts.PropertyDeclaration[], filled: readonly FilledField[], shared: ReadonlyMap<string, SharedField>, faces: readonly Face[], hidden: readonly Face[]): void {
  const [onlyName, another] = new Set([...fields.map(memberName), ...filled.map(one => one.name), ...shared.keys()])
  const isDone = onlyName !== undefined && another === undefined && hidden.length === 0 && faces.every(face => { const to = handsOnTo(face); return to && ts.isPropertyAccessExpression(to) && to.expression.kind === ts.SyntaxKind.ThisKeyword && to.name.text === onlyName })
  if (isDone) throw new Refused('done', `Its methods only hand on to ${onlyName} already`)
}

/** Arguments of the constructor that declare other fields. */
export function otherProperties(node: ts.ClassLikeDeclaration, filled: readonly FilledField[]): string[] {
  return node.members.filter(ts.isConstructorDeclaration).flatMap(one => [...one.parameters]).filter(one => ts.getModifiers(one)?.length && !filled.some(({ parameter }) => parameter === one)).map(one => one.name.getText())
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

