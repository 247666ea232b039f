import ts from 'typescript'
import type { InjectPlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { memberName, symbolOf } from '../declarations.js'
import { affectedPaths, brokenBinding, describeError, newErrors } from './check.js'
import type { WriteContext, Written } from './context.js'
import type { FileEditor } from './file-editor.js'
import { NameConflict, ProjectEditor } from './file-editor.js'
import type { CreationSite, FoundPoint } from './injection-points.js'
import { collaboratorOf, creationSites, findInjectionPoints, superCalls } from './injection-points.js'
import { meansSymbol, mentions } from './narrow.js'
import { isPortable, portableText } from './portable.js'
import { NotWritable, takeNames, TypeWriter } from './written-type.js'

/** Why it cannot be done, thrown inside the planning and turned into a refusal at its edge. */
class Refused extends Error {
  constructor(readonly reason: string, message: string) { super(message) }
}

export function inject(plan: InjectPlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot } = context
  const point = findInjectionPoints(plan.type, node, snapshot).find(one => one.told.key === plan.point)
  if (!point) return planRefused('no-point', `${node.name?.text ?? 'The class'} does not build or fetch ${plan.point} any more.`)
  if (/\.[cm]?jsx?$/.test(node.getSourceFile().fileName)) return planRefused('javascript', 'The class is JavaScript; what it is handed could not be checked.')
  const tryTypes = (withDefault: boolean): Written | PlanRefusal => {
    let last: PlanRefusal | undefined
    for (const as of typesToTry(plan, point, node, context)) {
      const outcome = tryInject({ ...plan, withDefault }, node, point, as, context)
      if (!('refused' in outcome)) return outcome
      last = outcome
      if (outcome.reason !== 'does-not-compile') break
    }
    return last!
  }
  const outcome = tryTypes(plan.withDefault)
  if (!('refused' in outcome) || !NEEDS_DEFAULT.has(outcome.reason) || plan.withDefault) return outcome
  // Where not every creation site can be changed, a default keeps those that cannot.
  const kept = tryTypes(true)
  if ('refused' in kept) return outcome
  return { ...kept, step: { ...kept.step, notes: [`The parameter keeps a default: ${outcome.message}`, ...kept.step.notes] } }
}

/** Refusals about creation sites, which a default makes needless. */
const NEEDS_DEFAULT = new Set(['class-as-value', 'spread', 'arguments', 'anonymous'])

/** The declared types to try: what was chosen; else interfaces of the project that the class implements; else the class. */
function typesToTry(plan: InjectPlan, point: FoundPoint, _node: ts.ClassLikeDeclaration, { snapshot }: WriteContext): (string | null)[] {
  if (plan.as !== null) return [plan.as]
  const holder = collaboratorClass(point, { snapshot })
  if (!holder) return [null]
  const found: string[] = []
  for (const clause of holder.heritageClauses ?? []) {
    if (clause.token !== ts.SyntaxKind.ImplementsKeyword) continue
    for (const heritage of clause.types) {
      const declaration = snapshot.checker.getTypeAtLocation(heritage).symbol?.declarations?.[0]
      const owner = declaration && snapshot.declarations.ownerOf(declaration)
      if (owner && !heritage.typeArguments) found.push(owner.type)
    }
  }
  return [...found.reverse(), null]
}

function collaboratorClass(point: FoundPoint, { snapshot }: { snapshot: WriteContext['snapshot'] }): ts.ClassLikeDeclaration | undefined {
  const first = point.nodes[0]!
  if (ts.isNewExpression(first)) return collaboratorOf(first, snapshot)?.node
  return snapshot.checker.getTypeAtLocation(first).symbol?.declarations?.find(ts.isClassLike)
}

/** What becomes of the point: the parameter's name and type, how a site provides it, and how the class uses it. */
interface Provision {
  readonly name: string
  readonly type: string
  /** Text that provides it at a site, with the imports that the site's file then needs. */
  readonly provide: (at: FileEditor) => string
  /** Kept in a field of its own, because members other than the constructor use it. */
  readonly kept: boolean
}

function tryInject(plan: InjectPlan, node: ts.ClassLikeDeclaration, point: FoundPoint, as: string | null, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const editor = new ProjectEditor(snapshot, root)
  const path = snapshot.pathOf(node.getSourceFile())!
  const notes: string[] = []
  let provision: Provision
  try {
    refuseWhatAFrameworkBuilds(node)
    const own = editor.editor(path)
    provision = point.told.kind === 'instance' ? replaceInstance(plan, node, point, as, own, editor, context)
      : replaceCreation(plan, node, point, as, own, editor, context)
    const sites = plan.withDefault ? [] : creationSites(node, snapshot)
    addParameter(node, provision, own, editor, context, plan.withDefault, sites, plan.levels, notes)
  } catch (error) {
    if (error instanceof Refused) return planRefused(error.reason, error.message)
    if (error instanceof NotWritable) return planRefused('not-visible', `Its type cannot be written down: ${error.message}.`)
    if (error instanceof NameConflict) return planRefused('import', `${error.message}.`)
    throw error
  }
  let built: ReturnType<ProjectEditor['finish']>
  try {
    built = editor.finish()
  } catch (error) {
    if (error instanceof NameConflict) return planRefused('import', `${error.message}.`)
    throw error
  }
  const after = context.session.edit(snapshot, new Map(built.changes.map(change => [`${root}/${change.path}`, change.after])))
  const errors = newErrors(snapshot, after, root, affectedPaths(after, root, built.changes.map(change => change.path)))
  if (errors.length > 0) return planRefused('does-not-compile', `It would not compile: ${describeError(errors[0]!, root)}`)
  const broken = brokenBinding(snapshot, after, built.edits, as === null ? [] : [{ types: new Set([point.told.collaborator]), to: as }])
  if (broken) return planRefused('binding', `${broken}.`)
  return {
    after, step: {
      refused: false, changes: built.changes, edits: built.count, notes,
      choices: {
        point: plan.point, name: provision.name, as: as ?? 'narrowest', default: plan.withDefault ? 'yes' : 'no', levels: String(plan.levels)
      }
    }
  }
}

function refuseWhatAFrameworkBuilds(node: ts.ClassLikeDeclaration): void {
  if (ts.canHaveDecorators(node) && ts.getDecorators(node)?.length) {
    throw new Refused('framework', 'Its decorators mean that a framework builds it, and the framework would not know the new parameter.')
  }
}

// ---- inside the class

function replaceInstance(
  plan: InjectPlan, node: ts.ClassLikeDeclaration, point: FoundPoint, as: string | null, own: FileEditor, editor: ProjectEditor, context: WriteContext
): Provision {
  const { snapshot } = context
  const first = point.nodes[0] as ts.Identifier
  const name = uniqueName(plan.name ?? first.text, node, new Set([first.text]), false)
  let type: string
  try {
    type = as ? typeName(as, own, editor, snapshot) : writeType(snapshot.checker.getTypeAtLocation(first), node, own, editor, context)
  } catch (error) {
    if (!(error instanceof Refused) && !(error instanceof NotWritable)) throw error
    // Whatever the instance is, its own type can always be named by it.
    type = `typeof ${portableText(first, own, snapshot, editor)}`
  }
  for (const use of point.nodes as ts.Identifier[]) {
    const place = placeOf(use, node)
    if (place.inFunction) throw new Refused('this', `${first.text} is used in a function with a this of its own, line ${lineOf(use)}.`)
    if (place.field) throw new Refused('order', `${first.text} is used in the initialiser of a field, before the constructor could hand it in (line ${lineOf(use)}).`)
    if (place.constructor && isBeforeSuper(use, place.constructor)) {
      own.replace(use.getStart(), use.end, written(use, name))
    } else own.replace(use.getStart(), use.end, written(use, `this.${name}`))
  }
  return { name, type, kept: true, provide: at => portableText(first, at, snapshot, editor) }
}

function written(use: ts.Identifier, text: string): string {
  return ts.isShorthandPropertyAssignment(use.parent) ? `${use.text}: ${text}` : text
}

function replaceCreation(
  plan: InjectPlan, node: ts.ClassLikeDeclaration, point: FoundPoint, as: string | null, own: FileEditor, editor: ProjectEditor, context: WriteContext
): Provision {
  const { snapshot } = context
  const creation = point.nodes[0] as ts.NewExpression
  const place = placeOf(creation, node)
  if (place.inFunction) throw new Refused('this', `It is built in a function with a this of its own, line ${lineOf(creation)}.`)
  const constructed = creation.arguments ?? ts.factory.createNodeArray<ts.Expression>()
  const made = collaboratorOf(creation, snapshot)!
  if (made.node === node || creationSites(node, snapshot).includes(creation)) {
    throw new Refused('itself', `${node.name?.text ?? 'The class'} builds its own kind, line ${lineOf(creation)}; its constructor would need itself.`)
  }
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
    if (field) moveInitialiser(field, creation, name, type, node, own)
    else own.replace(creation.getStart(), creation.end, name)
    return { name, type, kept: false, provide: at => portableText(creation, at, snapshot, editor) }
  }
  // Built more than once, or from what is known only then: what builds it is handed in.
  if (constructed.some(ts.isSpreadElement)) throw new Refused('spread', `It is built with a spread argument, line ${lineOf(creation)}; a factory for that cannot be typed surely.`)
  const name = uniqueName(plan.name ?? `create${className}`, node, new Set(), false)
  const allPortable = portable
  const signature = snapshot.checker.getResolvedSignature(creation)
  if (!signature) throw new Refused('signature', 'Which constructor it calls is not known.')
  const parameters = allPortable ? '' : constructed.map((_, index) => {
    const parameter = signature.getParameters()[Math.min(index, signature.getParameters().length - 1)]
    if (!parameter?.valueDeclaration) throw new Refused('signature', 'Which constructor it calls is not known.')
    if (ts.isParameter(parameter.valueDeclaration) && parameter.valueDeclaration.dotDotDotToken) throw new Refused('spread', 'Its constructor takes any number of arguments.')
    const type = snapshot.checker.getTypeOfSymbolAtLocation(parameter, node)
    const declared = parameter.valueDeclaration
    const optional = ts.isParameter(declared) && (declared.questionToken !== undefined || declared.initializer !== undefined)
    const text = writeType(type, node, own, editor, context)
    return `${parameter.name}: ${text}${optional && !/\bundefined\b/.test(text) ? ' | undefined' : ''}`
  }).join(', ')
  const plainType = `(${parameters}) => ${valueType()}`
  const type = genericsOf(creation, node, plainType) + plainType
  const passed = allPortable ? '' : creationArguments(creation)
  if (field && !place.deferred) {
    const call = `${name}(${passed})`
    moveInitialiser(field, creation, call, valueType(), node, own, true)
    return { name, type, kept: false, provide: at => factoryText(creation, allPortable, signature, at, context, editor) }
  }
  const inConstructor = place.constructor !== undefined && (isBeforeSuper(creation, place.constructor) || !place.deferred)
  own.replace(creation.getStart(), creation.end, `${inConstructor ? '' : 'this.'}${name}(${passed})`)
  return { name, type, kept: !inConstructor, provide: at => factoryText(creation, allPortable, signature, at, context, editor) }
}

/** Type parameters of the functions around a node that a type mentions, as the factory has to declare them. */
function genericsOf(inside: ts.Node, owner: ts.ClassLikeDeclaration, type: string): string {
  const found: string[] = []
  for (let at = inside.parent; at !== owner; at = at.parent) {
    if (!ts.isFunctionLike(at)) continue
    for (const parameter of at.typeParameters ?? []) if (new RegExp(`\\b${parameter.name.text}\\b`).test(type)) found.push(parameter.getText())
  }
  return found.length > 0 ? `<${found.join(', ')}>` : ''
}

function creationArguments(creation: ts.NewExpression): string {
  const list = creation.arguments
  return list && list.length > 0 ? creation.getSourceFile().text.slice(list[0]!.getStart(), list[list.length - 1]!.end) : ''
}

function factoryText(creation: ts.NewExpression, allPortable: boolean, signature: ts.Signature, at: FileEditor, context: WriteContext, editor: ProjectEditor): string {
  if (allPortable) return `() => ${portableText(creation, at, context.snapshot, editor)}`
  const names = (creation.arguments ?? []).map((_, index) => signature.getParameters()[index]!.name)
  const made = portableText(creation.expression, at, context.snapshot, editor)
  return `(${names.join(', ')}) => new ${made}(${names.join(', ')})`
}

/** Where in a class a node stands. */
interface Place {
  /** The field whose initialiser it is in. */
  readonly field: ts.PropertyDeclaration | undefined
  readonly constructor: ts.ConstructorDeclaration | undefined
  /** Runs exactly once for each object. */
  readonly once: boolean
  /** Runs later than the code around it: inside a nested function. */
  readonly deferred: boolean
  /** Inside a function that has a `this` of its own. */
  readonly inFunction: boolean
}

function placeOf(node: ts.Node, owner: ts.ClassLikeDeclaration): Place {
  let once = true, deferred = false, inFunction = false
  let at: ts.Node = node
  while (at.parent !== owner) {
    at = at.parent
    if (ts.isArrowFunction(at)) { once = false; deferred = true }
    else if (ts.isFunctionExpression(at) || ts.isFunctionDeclaration(at) || ts.isClassLike(at) ||
      (ts.isObjectLiteralExpression(at.parent) && (ts.isMethodDeclaration(at) || ts.isAccessor(at)))) { once = false; deferred = true; inFunction = true }
    else if (ts.isIterationStatement(at, false) || ts.isIfStatement(at) || ts.isConditionalExpression(at) || ts.isSwitchStatement(at) || ts.isTryStatement(at) ||
      (ts.isBinaryExpression(at) && [ts.SyntaxKind.BarBarToken, ts.SyntaxKind.AmpersandAmpersandToken, ts.SyntaxKind.QuestionQuestionToken,
        ts.SyntaxKind.QuestionQuestionEqualsToken, ts.SyntaxKind.BarBarEqualsToken].includes(at.operatorToken.kind))) once = false
  }
  const field = ts.isPropertyDeclaration(at) ? at : undefined
  const constructor = ts.isConstructorDeclaration(at) ? at : undefined
  if (constructor?.body?.statements.some(statement => ts.isReturnStatement(statement) || (ts.isIfStatement(statement) && statement.pos < node.pos && containsReturn(statement)))) once = false
  return { field, constructor, once: once && (field !== undefined || constructor !== undefined), deferred, inFunction }
}

function containsReturn(node: ts.Node): boolean {
  let found = false
  const visit = (at: ts.Node): void => { if (ts.isReturnStatement(at)) found = true; else if (!ts.isFunctionLike(at)) ts.forEachChild(at, visit) }
  visit(node)
  return found
}

function isBeforeSuper(node: ts.Node, constructor: ts.ConstructorDeclaration): boolean {
  const call = superCalls(constructor)[0]
  return call !== undefined && node.pos < call.end
}

/** Takes a field's initialiser into the constructor, where nothing else needs the field before. */
function moveInitialiser(
  field: ts.PropertyDeclaration, creation: ts.NewExpression, replacement: string, type: string, node: ts.ClassLikeDeclaration, own: FileEditor, factory = false
): void {
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
  pendingAssignments.set(own, [...(pendingAssignments.get(own) ?? []), `this.${name} = ${value}`])
}

/** Assignments that the constructor gets, by the editor of the class's file, until `addParameter` writes them. */
const pendingAssignments = new WeakMap<FileEditor, string[]>()

/** The field or method that uses another field while fields are being set, if any. */
function readsBefore(name: string, field: ts.PropertyDeclaration, node: ts.ClassLikeDeclaration): string | undefined {
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

// ---- the constructor and those who call it

function addParameter(
  node: ts.ClassLikeDeclaration, provision: Provision, own: FileEditor, editor: ProjectEditor, context: WriteContext,
  withDefault: boolean, sites: readonly CreationSite[], levels: number, notes: string[]
): void {
  const constructors = node.members.filter(ts.isConstructorDeclaration)
  if (constructors.length > 1) throw new Refused('overloads', 'Its constructor is overloaded; which of the forms should take the collaborator is yours to say.')
  if (!withDefault) refuseOtherUses(node, context)
  const constructor = constructors[0]
  const assignments = pendingAssignments.get(own) ?? []
  pendingAssignments.delete(own)
  const modifier = provision.kept ? 'private readonly ' : ''
  const parameter = withDefault ? `${modifier}${provision.name}: ${provision.type} = ${provision.provide(own)}` : `${modifier}${provision.name}: ${provision.type}`
  const { lineEnd, indent, semicolons } = own.style
  const end = semicolons ? ';' : ''
  let at: number
  if (constructor) {
    const required = constructor.parameters.findIndex(one => one.questionToken || one.initializer || one.dotDotDotToken)
    at = withDefault || required < 0 ? constructor.parameters.length : required
    if (withDefault && constructor.parameters.some(one => one.dotDotDotToken)) throw new Refused('rest', 'Its constructor takes any number of arguments, so that none can follow with a default.')
    insertParameter(constructor, at, parameter, own)
    if (assignments.length > 0) {
      const body = constructor.body!
      const call = superCalls(constructor)[0]
      const after = call ? ts.findAncestor(call, ts.isStatement)!.end : body.getStart() + 1
      const inner = own.indentAt(constructor.getStart()) + indent
      if (!call && body.statements.length === 0) {
        own.replace(body.getStart(), body.end, `{${assignments.map(line => lineEnd + inner + line + end).join('')}${lineEnd}${own.indentAt(constructor.getStart())}}`)
      } else own.insert(after, assignments.map(line => lineEnd + inner + line + end).join(''))
    }
  } else {
    const inherited = inheritedParameters(node, own, editor, context)
    at = withDefault ? inherited.count : inherited.required
    const parameters = [...inherited.texts]
    parameters.splice(at, 0, parameter)
    const base = own.indentAt(node.getStart()) + indent
    const lines = [
      ...(inherited.extended ? [`super(${inherited.names.join(', ')})`] : []), ...assignments
    ]
    const body = lines.length === 0 ? '{}' : `{${lines.map(line => lineEnd + base + indent + line + end).join('')}${lineEnd}${base}}`
    const text = `constructor(${parameters.join(', ')}) ${body}`
    const fields = node.members.filter(ts.isPropertyDeclaration)
    const last = fields[fields.length - 1]
    const first = node.members[0]
    if (last) own.insert(last.end, `${lineEnd}${lineEnd}${base}${text}`)
    else if (first) {
      const start = first.getStart(undefined, true)
      own.insert(start, `${text}${lineEnd}${lineEnd}${own.indentAt(start)}`)
    } else {
      const close = node.end - 1
      own.replace(node.members.pos, close, `${lineEnd}${base}${text}${lineEnd}${own.indentAt(node.getStart())}`)
    }
  }
  for (const site of sites) provideAt(site, at, provision, editor, context, levels, notes)
}

function insertParameter(constructor: ts.ConstructorDeclaration, at: number, text: string, own: FileEditor): void {
  const list = constructor.parameters
  if (list.length === 0) {
    own.insert(list.pos, text)
    return
  }
  const source = own.file.text
  const multiline = source.slice(list.pos, list.end).includes('\n')
  const separator = multiline ? `,${own.style.lineEnd}${own.indentAt(list[0]!.getStart())}` : ', '
  if (at < list.length) own.insert(list[at]!.getStart(undefined, true), text + separator)
  else own.insert(list[list.length - 1]!.end, separator + text)
}

function provideAt(site: CreationSite, at: number, provision: Provision, editor: ProjectEditor, context: WriteContext, levels: number, notes: string[]): void {
  const path = context.snapshot.pathOf(site.getSourceFile())!
  const file = editor.editor(path)
  const list = site.arguments
  if (list?.some((argument, index) => ts.isSpreadElement(argument) && index <= at)) throw new Refused('spread', `${path}:${lineOf(site)} passes its arguments with a spread.`)
  if ((list?.length ?? 0) < at) throw new Refused('arguments', `${path}:${lineOf(site)} passes fewer arguments than the constructor has.`)
  const text = passedOn(site, provision, editor, context, levels, notes) ?? provision.provide(file)
  if (!list) { file.insert(site.end, `(${text})`); return }
  if (list.length === 0) { file.insert(list.pos, text); return }
  const multiline = file.file.text.slice(list.pos, list.end).includes('\n') && file.file.text.slice(list.pos, list[0]!.getStart()).includes('\n')
  const separator = multiline ? `,${file.style.lineEnd}${file.indentAt(list[0]!.getStart())}` : ', '
  if (at < list.length) file.insert(list[at]!.getStart(), text + separator)
  else file.insert(list[list.length - 1]!.end, separator + text)
}

/** Moves creation one level up where the site runs once, in a constructor of the project; the name that is passed on then. */
function passedOn(site: CreationSite, provision: Provision, editor: ProjectEditor, context: WriteContext, levels: number, notes: string[]): string | undefined {
  if (levels <= 0) return undefined
  const constructor = ts.findAncestor(site, ts.isConstructorDeclaration)
  const owner = constructor?.parent
  if (!constructor || !owner || !ts.isClassLike(owner) || ts.findAncestor(site, ts.isClassLike) !== owner) return undefined
  if (!placeOf(site, owner).once || context.snapshot.files.isTest(context.snapshot.pathOf(owner.getSourceFile())!)) return undefined
  if (ts.canHaveDecorators(owner) && ts.getDecorators(owner)?.length) return undefined
  if (owner.members.filter(ts.isConstructorDeclaration).length > 1) return undefined
  const path = context.snapshot.pathOf(owner.getSourceFile())!
  const own = editor.editor(path)
  // The type's name has to be visible there; where it is not simple, creation stays at this site.
  if (!/^[\w$]+$/.test(provision.type)) return undefined
  const symbol = context.snapshot.checker.resolveName(provision.type, own.file, ts.SymbolFlags.Type, false)
  if (!symbol) return undefined
  const name = uniqueName(provision.name, owner, new Set(), false)
  addParameter(owner, { ...provision, name, kept: false }, own, editor, context, false, creationSites(owner, context.snapshot), levels - 1, notes)
  notes.push(`${owner.name?.text ?? 'A class'} is handed ${name} too and passes it on.`)
  return name
}

/** Parameters of the constructor that a class without its own inherits, to be repeated and handed to `super`. */
function inheritedParameters(node: ts.ClassLikeDeclaration, own: FileEditor, editor: ProjectEditor, context: WriteContext) {
  const none = { texts: [] as string[], names: [] as string[], required: 0, count: 0, extended: false }
  const heritage = node.heritageClauses?.find(clause => clause.token === ts.SyntaxKind.ExtendsKeyword)?.types[0]
  if (!heritage) return none
  const { checker } = context.snapshot
  const signatures = checker.getTypeAtLocation(heritage.expression).getConstructSignatures()
  if (signatures.length !== 1) {
    if (signatures.length === 0) return { ...none, extended: true }
    throw new Refused('overloads', 'The constructor that it inherits is overloaded.')
  }
  const parameters = signatures[0]!.getParameters()
  const texts: string[] = [], names: string[] = []
  let required = -1
  parameters.forEach((parameter, index) => {
    const declaration = parameter.valueDeclaration
    if (!declaration || !ts.isParameter(declaration) || !ts.isIdentifier(declaration.name)) throw new Refused('inherited', 'The constructor that it inherits cannot be repeated.')
    const optional = declaration.questionToken !== undefined || declaration.initializer !== undefined
    if ((optional || declaration.dotDotDotToken) && required < 0) required = index
    const type = writeType(checker.getTypeOfSymbolAtLocation(parameter, node), node, own, editor, context)
    texts.push(`${declaration.dotDotDotToken ? '...' : ''}${parameter.name}${optional ? '?' : ''}: ${type}`)
    names.push(`${declaration.dotDotDotToken ? '...' : ''}${parameter.name}`)
  })
  return { texts, names, required: required < 0 ? texts.length : required, count: texts.length, extended: true }
}

/** A class that is handed around as a value is built by code that nothing here can update. */
function refuseOtherUses(node: ts.ClassLikeDeclaration, { snapshot }: WriteContext): void {
  const symbol = symbolOf(node)
  if (!symbol || !node.name) throw new Refused('anonymous', 'The class has no name, so its creation sites cannot be found.')
  for (const [file, path] of snapshot.paths) {
    if (!mentions(file, node.name.text)) continue
    const visit = (at: ts.Node): void => {
      if (ts.isImportDeclaration(at) || ts.isExportDeclaration(at) || ts.isTypeNode(at) && !ts.isExpressionWithTypeArguments(at)) return
      if (ts.isIdentifier(at) && at.text === node.name!.text && at !== node.name && meansSymbol(at, symbol, snapshot.checker)) {
        const parent = at.parent
        const fine = (ts.isNewExpression(parent) && parent.expression === at) || (ts.isPropertyAccessExpression(parent) && parent.expression === at) ||
          ts.isExpressionWithTypeArguments(parent) || ts.isExportAssignment(parent) ||
          (ts.isBinaryExpression(parent) && parent.operatorToken.kind === ts.SyntaxKind.InstanceOfKeyword && parent.right === at)
        if (!fine) throw new Refused('class-as-value', `${path}:${lineOf(at)} hands the class itself around, so not every place that builds it is known.`)
      }
      ts.forEachChild(at, visit)
    }
    visit(file)
  }
}

// ---- names and types

function typeName(id: string, own: FileEditor, editor: ProjectEditor, snapshot: WriteContext['snapshot']): string {
  const path = id.slice(0, id.indexOf('#'))
  const name = id.slice(id.indexOf('#') + 1)
  if (!/^[\w$]+$/.test(name)) throw new Refused('nested', `${name} is nested and cannot be imported by its name.`)
  if (path === own.path) return name
  const file = snapshot.program.getSourceFile(`${editor.root}/${path}`)
  const declaration = file && [...snapshot.declarations.declaredIn(file)].find(([, declared]) => declared.id === id)?.[0]
  const exported = declaration && editor.exportedName(declaration)
  if (!exported) throw new Refused('not-exported', `${name} is not exported by ${path}.`)
  return own.nameFor({ name: exported, file: path, specifier: null, typeOnly: true })
}

/** A type as it stands in the class's own file, with the imports that it needs there. */
function writeType(type: ts.Type, node: ts.ClassLikeDeclaration, own: FileEditor, editor: ProjectEditor, { snapshot }: WriteContext): string {
  const declared = type.symbol?.declarations?.find(at => ts.isClassLike(at) || ts.isInterfaceDeclaration(at))
  const owner = declared && snapshot.declarations.ownerOf(declared)
  // A plain class or interface of the project is imported by its name; anything else must be visible already.
  if (owner && owner.member === '' && type.isClassOrInterface() && !type.typeParameters?.length) return typeName(owner.type, own, editor, snapshot)
  const write = new TypeWriter(snapshot, editor, node, true)
  const text = write.inferred(type)
  takeNames(write, own)
  return text
}

function uniqueName(wanted: string, node: ts.ClassLikeDeclaration, allowed: ReadonlySet<string>, mayFill: boolean): string {
  const members = new Set(node.members.map(memberName))
  const taken = new Set<string>()
  const constructor = node.members.find((member): member is ts.ConstructorDeclaration => ts.isConstructorDeclaration(member) && member.body !== undefined)
  for (const member of node.members) taken.add(memberName(member))
  const fields = new Set(node.members.filter(ts.isPropertyDeclaration).map(memberName))
  const visit = (at: ts.Node): void => { if (ts.isIdentifier(at) && !(ts.isPropertyAccessExpression(at.parent) && at.parent.name === at)) taken.add(at.text); ts.forEachChild(at, visit) }
  if (constructor) visit(constructor)
  // A parameter may have the name of the field that it fills.
  const free = (name: string) => !taken.has(name) || (mayFill ? fields.has(name) && !(constructor && namesIn(constructor).has(name)) : allowed.has(name) && !members.has(name))
  const safe = RESERVED.has(wanted) ? `${wanted}Instance` : wanted
  if (free(safe)) return safe
  for (let n = 2; ; n++) if (free(`${safe}${n}`)) return `${safe}${n}`
}

const RESERVED = new Set(['default', 'function', 'class', 'new', 'delete', 'import', 'export', 'switch', 'case', 'package', 'interface', 'private', 'public', 'static', 'enum', 'in', 'void', 'with', 'yield', 'let', 'arguments', 'eval'])

function namesIn(constructor: ts.ConstructorDeclaration): Set<string> {
  const names = new Set<string>()
  const visit = (at: ts.Node): void => { if (ts.isIdentifier(at) && !(ts.isPropertyAccessExpression(at.parent) && at.parent.name === at)) names.add(at.text); ts.forEachChild(at, visit) }
  visit(constructor)
  return names
}

function lowerFirst(name: string): string {
  const head = /^[A-Z]+(?![a-z])/.exec(name)?.[0]
  return head ? head.toLowerCase() + name.slice(head.length) : name.charAt(0).toLowerCase() + name.slice(1)
}

function lineOf(node: ts.Node): number {
  return node.getSourceFile().getLineAndCharacterOfPosition(node.getStart()).line + 1
}
