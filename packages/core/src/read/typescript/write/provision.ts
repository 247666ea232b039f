import ts from 'typescript'
import type { InjectPlan } from '../../../model/plan.js'
import { lowerFirst } from '../../write/names.js'
import { memberName } from '../declarations.js'
import type { WriteContext } from './context.js'
import type { FileEditor, ProjectEditor } from './file-editor.js'
import { factoryOf } from './factory.js'
import { calledName, handedName } from './group-functions.js'
import { typeName, writeType } from './injected-type.js'
import type { CreationSite, FoundPoint } from './injection-points.js'
import { collaboratorOf, creationSites, lineOf } from './injection-points.js'
import { uniqueName } from './parameter-name.js'
import { isBeforeSuper, placeOf } from './place.js'
import { isPortable, portableText } from './portable.js'
import { Refused } from '../../write/refused.js'
import { NotWritable } from './written-type.js'

/** What becomes of the point: the parameter's name and type, how a site provides it, and how the class uses it. */
export interface Provision {
  readonly name: string
  readonly type: string
  /** Text that provides it at a site, with the imports that the site's file then needs. */
  readonly provide: (at: FileEditor) => string
  /** Kept in a field of its own, because members other than the constructor use it. */
  readonly kept: boolean
  /** Assignments that the constructor gets, in place of initialisers of fields. */
  readonly assignments: readonly string[]
  /** The constructor has a parameter that is handed the same already; it needs no other. */
  readonly shared?: boolean
}

export function replaceInstance(
  plan: InjectPlan, node: ts.ClassLikeDeclaration, point: FoundPoint, as: string | null, own: FileEditor, editor: ProjectEditor, context: WriteContext
): Provision {
  const { snapshot } = context
  const first = point.nodes[0] as ts.Identifier
  const { group } = point
  const name = uniqueName(plan.name ?? (point.replaceable ? lowerFirst(first.text) : group ? handedName(group) : first.text), node, new Set([first.text]), false)
  let type: string
  try {
    type = as ? typeName(as, own, editor, snapshot) : writeType(snapshot.checker.getTypeAtLocation(first), node, own, editor, context)
  } catch (error) {
    if (!(error instanceof Refused) && !(error instanceof NotWritable)) throw error
    // Whatever the instance is, its own type can always be named by it.
    type = `typeof ${portableText(first, own, snapshot, editor)}`
  }
  for (const use of point.nodes as ts.Identifier[]) {
    const place = placeOf(use, node), member = group ? `.${calledName(use, snapshot)}` : ''
    if (place.inFunction) throw new Refused('this', `${first.text} is used in a function with a this of its own, line ${lineOf(use)}.`)
    if (place.field) throw new Refused('order', `${first.text} is used in the initialiser of a field, before the constructor could hand it in (line ${lineOf(use)}).`)
    if (place.constructor && isBeforeSuper(use, place.constructor)) {
      own.replace(use.getStart(), use.end, written(use, name + member))
    } else own.replace(use.getStart(), use.end, written(use, `this.${name}${member}`))
  }
  if (group) return { name, type, kept: true, assignments: [], provide: at => at.nameFor({ name: group.constant.name.text, file: snapshot.pathOf(group.constant.getSourceFile())!, specifier: null, typeOnly: false }) }
  return { name, type, kept: true, assignments: [], provide: at => portableText(first, at, snapshot, editor) + (point.replaceable ? '.instance()' : '') }
}

function written(use: ts.Identifier, text: string): string {
  return ts.isShorthandPropertyAssignment(use.parent) ? `${use.text}: ${text}` : text
}

export function replaceCreation(
  plan: InjectPlan, node: ts.ClassLikeDeclaration, point: FoundPoint, as: string | null, own: FileEditor, editor: ProjectEditor, context: WriteContext
): Provision {
  const { snapshot } = context
  const creation = point.nodes[0] as ts.NewExpression
  const place = placeOf(creation, node)
  if (place.inFunction) throw new Refused('this', `It is built in a function with a this of its own, line ${lineOf(creation)}.`)
  const constructed = creation.arguments ?? ts.factory.createNodeArray<ts.Expression>()
  const made = collaboratorOf(creation, snapshot)!
  const elsewhere = plan.withDefault ? [] : creationSites(node, snapshot).filter(site => site.getSourceFile() !== made.node.getSourceFile())
  const targetPortable = isPortable(creation.expression, snapshot, editor) ||
    (elsewhere.length === 0 ? ts.isIdentifier(creation.expression) : editor.exportClass(made.node))
  if (!targetPortable) throw new Refused('not-exported', `${creation.expression.getText()} is not exported, so that no other file could build it.`)
  const portable = !creation.typeArguments && constructed.every(argument => isPortable(argument, snapshot, editor))
  const once = place.once
  const className = point.told.label
  const text = as ? typeName(as, own, editor, snapshot) : null
  const plainClass = () => { const written = creation.expression.getText(); own.keepNames(written); return written }
  const valueType = () => text ?? (creation.typeArguments || snapshot.checker.getTypeAtLocation(creation).isClassOrInterface() === false
    ? writeType(snapshot.checker.getTypeAtLocation(creation), node, own, editor, context) : plainClass())
  const field = place.field

  if (once && portable) {
    const name = uniqueName(plan.name ?? (field ? memberName(field).replace(/^#|^_/, '') : lowerFirst(className)), node, new Set(), field !== undefined)
    const type = valueType()
    const assignments = field ? [moveInitialiser(field, creation, name, type, node, own)] : []
    if (!field) own.replace(creation.getStart(), creation.end, name)
    return { name, type, kept: false, assignments, provide: at => portableText(creation, at, snapshot, editor) }
  }
  // Built more than once, or from what is known only then: what builds it is handed in.
  if (constructed.some(ts.isSpreadElement)) throw new Refused('spread', `It is built with a spread argument, line ${lineOf(creation)}; a factory for that cannot be typed surely.`)
  const factory = factoryOf(creation, portable, node, valueType, own, editor, context)
  const runsInConstructor = place.constructor !== undefined && (isBeforeSuper(creation, place.constructor) || !place.deferred) || (field !== undefined && !place.deferred)
  const shared = plan.name === null && !plan.withDefault ? sharedParameter(node, factory.type, runsInConstructor, factory.textFor, editor, snapshot) : undefined
  const name = shared ?? uniqueName(plan.name ?? `create${className}`, node, new Set(), false)
  const { type, passed } = factory
  if (field && !place.deferred) {
    const call = `${name}(${passed})`
    const assignments = [moveInitialiser(field, creation, call, valueType(), node, own, true)]
    return { name, type, kept: false, assignments, shared: shared !== undefined, provide: at => factory.textFor(at) }
  }
  const inConstructor = place.constructor !== undefined && (isBeforeSuper(creation, place.constructor) || !place.deferred)
  own.replace(creation.getStart(), creation.end, `${inConstructor ? '' : 'this.'}${name}(${passed})`)
  return { name, type, kept: !inConstructor, assignments: [], shared: shared !== undefined, provide: at => factory.textFor(at) }
}

/** A parameter of the constructor of the same type that every place which runs the constructor hands the same: what it is handed does for another use. */
function sharedParameter(
  node: ts.ClassLikeDeclaration, type: string, inConstructor: boolean, textFor: (at: FileEditor) => string, editor: ProjectEditor, snapshot: WriteContext['snapshot']
): string | undefined {
  const constructor = node.members.find((member): member is ts.ConstructorDeclaration => ts.isConstructorDeclaration(member) && member.body !== undefined)
  const sites = creationSites(node, snapshot)
  if (!constructor || sites.length === 0) return undefined
  const isSame = (site: CreationSite, index: number) => {
    const given = site.arguments?.[index]
    return given !== undefined && given.getText() === textFor(editor.editor(snapshot.pathOf(site.getSourceFile())!))
  }
  const found = constructor.parameters.find((parameter, index) => ts.isIdentifier(parameter.name) && !parameter.questionToken && !parameter.initializer && parameter.type?.getText() === type &&
    (inConstructor || ts.isParameterPropertyDeclaration(parameter, constructor)) && sites.every(site => isSame(site, index)))
  return found?.name.getText()
}

/** Hands in what fetches an object by a static method, so that it is fetched when it was before. */
export function replaceFetch(
  plan: InjectPlan, node: ts.ClassLikeDeclaration, point: FoundPoint, as: string | null, own: FileEditor, editor: ProjectEditor, context: WriteContext
): Provision {
  const { snapshot } = context
  const { holder, method } = point.fetched!
  const className = holder.name!.text
  const wanted = /^(get)?instance$/i.test(method) ? `get${className}` : `${method}${className}`
  const name = uniqueName(plan.name ?? wanted, node, new Set(), false)
  const result = as ? typeName(as, own, editor, snapshot) : writeType(snapshot.checker.getTypeAtLocation(point.nodes[0]!), node, own, editor, context)
  for (const use of point.nodes as ts.CallExpression[]) {
    const place = placeOf(use, node)
    if (place.inFunction) throw new Refused('this', `${className}.${method} is called in a function with a this of its own, line ${lineOf(use)}.`)
    if (place.field) throw new Refused('order', `${className}.${method} is called in the initialiser of a field, before the constructor could hand it in (line ${lineOf(use)}).`)
    own.replace(use.getStart(), use.end, `${place.constructor && isBeforeSuper(use, place.constructor) ? '' : 'this.'}${name}()`)
  }
  const target = (point.nodes[0] as ts.CallExpression).expression as ts.PropertyAccessExpression
  return { name, type: `() => ${result}`, kept: true, assignments: [], provide: at => `() => ${portableText(target.expression, at, snapshot, editor)}.${method}()` }
}

/** Takes a field's initialiser away where nothing else needs the field before, and returns the assignment for the constructor. */
function moveInitialiser(
  field: ts.PropertyDeclaration, creation: ts.NewExpression, replacement: string, type: string, node: ts.ClassLikeDeclaration, own: FileEditor, factory = false
): string {
  const name = memberName(field)
  const reader = readsBefore(name, field, node)
  if (reader) throw new Refused('order', `${reader} uses ${name} while the object's fields are being set, before a constructor could hand it in.`)
  const initializer = field.initializer!
  if (factory && mentionsLaterField(initializer, node, field)) throw new Refused('order', `What ${name} is built from is set after it.`)
  const nameEnd = (field.exclamationToken ?? field.questionToken ?? field.name).end
  const text = node.getSourceFile().text
  const value = text.slice(initializer.getStart(), creation.getStart()) + replacement + text.slice(creation.end, initializer.end)
  own.keepNames(value)
  const exact = initializer === creation
  if (!field.type && !exact) throw new Refused('initialiser', `The type of ${name} is not written down and its initialiser does more than build it.`)
  own.replace(field.type ? field.type.end : nameEnd, initializer.end, field.type ? '' : `: ${type}`)
  if (field.type && exact && type !== field.type.getText() && ts.isTypeReferenceNode(field.type) && field.type.getText() === creation.expression.getText()) {
    own.replace(field.type.getStart(), field.type.end, type)
  }
  return `this.${name} = ${value}`
}

/** The field or method that uses another field while fields are being set, if any. */
export function readsBefore(name: string, field: ts.PropertyDeclaration, node: ts.ClassLikeDeclaration): string | undefined {
  const methods = new Map(node.members.flatMap(member => (ts.isMethodDeclaration(member) || ts.isAccessor(member)) && member.body ? [[memberName(member), member.body] as const] : []))
  const seen = new Set<string>()
  const uses = (at: ts.Node, now: boolean): boolean => {
    let found = false
    const visit = (inner: ts.Node): void => {
      // A nested function runs later, unless it is called on the spot, which no one does in an initialiser.
      if (now && (ts.isFunctionLike(inner)) && inner !== at && !ts.isCallExpression(inner.parent)) return
      if (ts.isPropertyAccessExpression(inner) && inner.expression.kind === ts.SyntaxKind.ThisKeyword) {
        const used = inner.name.text
        if (used === name) found = true
        const body = methods.get(used)
        if (body && !seen.has(used)) { seen.add(used); if (uses(body, false)) found = true }
      }
      ts.forEachChild(inner, visit)
    }
    visit(at)
    return found
  }
  for (const member of node.members) {
    if (!ts.isPropertyDeclaration(member) || member === field || !member.initializer || member.pos < field.pos) continue
    if (ts.getModifiers(member)?.some(modifier => modifier.kind === ts.SyntaxKind.StaticKeyword)) continue
    if (uses(member.initializer, true)) return memberName(member)
  }
  return undefined
}

function mentionsLaterField(initializer: ts.Expression, node: ts.ClassLikeDeclaration, field: ts.PropertyDeclaration): boolean {
  const later = new Set(node.members.filter(member => ts.isPropertyDeclaration(member) && member.pos > field.pos && member.initializer === undefined).map(memberName))
  let found = false
  const visit = (at: ts.Node): void => {
    if (ts.isPropertyAccessExpression(at) && at.expression.kind === ts.SyntaxKind.ThisKeyword && later.has(at.name.text)) found = true
    ts.forEachChild(at, visit)
  }
  visit(initializer)
  return found
}
