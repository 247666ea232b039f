import type { InjectPlan } from '../../../model/plan.js'
import type { ClassSymbol, MethodSymbol } from '../../binding/symbols.js'
import { FieldSymbol, Flags } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'
import { argumentsOf, plainType, substitute } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { lowerFirst, numberedName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import type { BoundProgram } from '../bound-program.js'
import { classAround } from './class-around.js'
import type { JavaWriteContext } from './context.js'
import type { CreationSite } from './creation-sites.js'
import { constructorsOf, constructorSymbol, creationSites } from './creation-sites.js'
import type { JavaPoint } from './injection-points.js'
import type { FileNames, JavaEditor, JavaFileEditor } from './java-editor.js'
import { parameterNodes } from './interface-members.js'
import type { Place } from './place.js'
import { argumentNodes, creationHead, isPortable, portableText, refuseUnseen } from './portable.js'
import { typeParametersText, typeText } from './type-text.js'

/** What becomes of a point: the parameter's name and type, how a site provides it, and how the class uses it. */
export interface Provision {
  readonly name: string
  /** Its type as it is written in a file. */
  readonly typeIn: (names: FileNames) => string
  /** Text that provides it at a site. `from`: the class that the site is in. */
  readonly provide: (names: FileNames, from: ClassSymbol | undefined) => string
  /** Kept in a field of its own, because members other than the constructor use it. */
  readonly kept: boolean
  /** A statement that the constructor gets, in place of a field's initialiser. */
  readonly assignment: string | null
  /** A declaration that the class gets: the type of a factory that the library has none for. */
  readonly declaration: readonly string[]
  /** Checked exceptions that providing it may throw, as they are written in the class's file. */
  readonly thrown: readonly string[]
  /** The constructor is handed the same already; it needs no other parameter. */
  readonly shared?: boolean
}

export interface Taking {
  readonly plan: InjectPlan
  readonly point: JavaPoint
  readonly owner: ClassSymbol
  readonly place: Place
  readonly as: ClassSymbol | null
  readonly own: JavaFileEditor
  readonly bound: BoundProgram
  readonly editor: JavaEditor
  readonly context: JavaWriteContext
}

/** A name that nothing in the class has; a parameter may have the name of the field that it fills. */
export function freeName(wanted: string, file: JavaFile, within: Node, allowed: ReadonlySet<string>): string {
  const { tree } = file
  const taken = new Set<string>()
  const end = tree.after(within)
  for (let at = within; at < end; at += 5) if (tree.kind(at) === Kind.Identifier) taken.add(tree.textOf(at))
  const safe = JAVA_WORDS.has(wanted) ? `${wanted}Instance` : wanted
  return numberedName(safe, name => !taken.has(name) || allowed.has(name))
}

const JAVA_WORDS = new Set(['default', 'class', 'new', 'import', 'switch', 'case', 'package', 'interface', 'private', 'public', 'static', 'enum', 'void', 'do', 'if', 'for', 'int', 'long', 'char', 'double', 'float', 'boolean', 'short', 'byte', 'assert', 'this', 'super', 'native', 'record', 'var', 'goto', 'const', 'return', 'final', 'abstract', 'try', 'catch', 'throw', 'throws', 'while', 'else', 'break', 'continue', 'extends', 'implements', 'instanceof', 'synchronized', 'transient', 'volatile', 'strictfp', 'protected', 'finally'])

/** Replaces the uses of a shared instance by what is handed in. */
export function takeInstance({ plan, point, owner, place, as, own, bound }: Taking): Provision {
  const { tree } = point.file
  const declared = bound.program.declarations.get(owner)!
  const name = freeName(plan.name ?? lowerFirst(point.giver ? point.giver.owner.name : point.collaborator.name), point.file, declared.node, new Set())
  if (place.kind === 'field') throw new Refused('order', `${point.told.label} is used in the initialiser of a field, before the constructor could hand it in`)
  for (const node of point.nodes) own.replaceNode(node, name)
  const { giver } = point
  if (giver) {
    const given = as ? plainType(as) : giver.signature.result
    return {
      name, typeIn: names => typeText(given, names, owner), kept: true, assignment: null, declaration: [], thrown: [],
      provide: (names, from) => `${names.nameOf(giver.owner, from)}.${giver.name}()`
    }
  }
  const nameNode = tree.kind(point.nodes[0]!) === Kind.FieldAccess ? tree.child(point.nodes[0]!, Field.Field) : point.nodes[0]!
  const field = point.file.meaning(nameNode)
  if (!(field instanceof FieldSymbol)) throw new Refused('no-point', 'It is not found any more')
  const type = as ? plainType(as) : field.type
  return {
    name, typeIn: names => typeText(type, names, owner), kept: true, assignment: null, declaration: [], thrown: [],
    provide: (names, from) => { refuseUnseen(field, names, from); return `${names.nameOf(field.owner, from)}.${field.name}` }
  }
}

/** Hands in what fetches an object by a static method, so that it is fetched when it was before. */
export function takeFetch({ plan, point, owner, place, as, own, bound }: Taking): Provision {
  const fetched = point.fetched!
  const declared = bound.program.declarations.get(owner)!
  if (place.kind === 'field') throw new Refused('order', `${point.told.label} is called in the initialiser of a field, before the constructor could hand it in`)
  const className = fetched.owner.name
  const wanted = /^(get)?instance$/i.test(fetched.name) ? lowerFirst(className) : `${fetched.name.replace(/^get(?=[A-Z])/, '').replace(/^[A-Z]/, first => first.toLowerCase())}${className}`
  const name = freeName(plan.name ?? wanted, point.file, declared.node, new Set())
  for (const node of point.nodes) own.replaceNode(node, `${name}.get()`)
  const given = as ? plainType(as) : fetched.signature.result
  return {
    name, typeIn: names => `${names.byName('java.util.function', 'Supplier')}<${typeText(given, names, owner)}>`, kept: true, assignment: null, declaration: [], thrown: [],
    provide: (names, from) => `${names.nameOf(fetched.owner, from)}::${fetched.name}`
  }
}

/** Replaces a creation by what is handed in: the object itself where it is made once and the same everywhere, else what makes it. */
export function takeCreation(taking: Taking): Provision {
  const { plan, point, owner, place, as, own, bound } = taking
  const { file } = point
  const { tree } = file
  const creation = point.nodes[0]!
  const made = bound.file(file.path)!.findings.creations.get(creation)
  if (made?.tag === 'class' && made.args.some(arg => arg.tag === 'wildcard')) throw new Refused('generic', `What is made is a ${point.told.label} of a type that has no name`)
  const type: Type = as ? plainType(as) : made ?? plainType(point.collaborator)
  const method = point.method === NONE ? undefined : bound.program.methodAt(file, point.method)
  refuseUnnamed(type, owner, method)
  const constructor = file.meaning(creation) as MethodSymbol
  const thrown = checkedExceptions(constructor, own, bound)
  const declared = bound.program.declarations.get(owner)!
  const portable = isPortable(creation, file)
  const inField = place.kind === 'field'
  const fieldName = inField ? tree.textOf(tree.child(place.declarator, Field.Name)) : ''
  if (place.once && portable && (inField || place.kind === 'constructor')) {
    const filled = inField && !assignedIn(fieldName, declared.node, owner, file)
    const name = freeName(plan.name ?? (inField ? fieldName : lowerFirst(point.collaborator.name)), file, declared.node, new Set(filled ? [fieldName] : []))
    const provide = (names: FileNames, from: ClassSymbol | undefined) => portableText(creation, file, names, from)
    if (!inField) {
      own.replaceNode(creation, name)
      return { name, typeIn: names => typeText(type, names, owner), provide, kept: false, assignment: null, declaration: [], thrown }
    }
    const { assignment, declaredType } = moveInitialiser(taking, name, type)
    return { name, typeIn: names => declaredType(names), provide, kept: false, assignment, declaration: [], thrown }
  }
  if (point.method !== NONE && place.once && portable) {
    const name = freeName(plan.name ?? lowerFirst(point.collaborator.name), file, point.method, new Set())
    own.replaceNode(creation, name)
    return { name, typeIn: names => typeText(type, names, owner), provide: (names, from) => portableText(creation, file, names, from), kept: false, assignment: null, declaration: [], thrown }
  }
  // Built more than once, or from what is known only then: what builds it is handed in.
  const factory = factoryOf(taking, constructor, portable, type, thrown)
  const shared = plan.name === null && !plan.withDefault && point.method === NONE && factory.declaration.length === 0 ? sharedFactory(taking, factory) : undefined
  const name = shared ?? freeName(plan.name ?? `${lowerFirst(point.collaborator.name)}Factory`, file, declared.node, new Set())
  const call = `${name}.${factory.method}(${portable ? '' : argumentNodes(file, creation).map(node => tree.textOf(node)).join(', ')})`
  if (inField && place.deferred === null) {
    if (shared) throw new Refused('order', `${name}, which it is handed already, is set after the fields`)
    const { assignment } = moveInitialiser(taking, call, type)
    return { name, typeIn: factory.typeIn, provide: factory.provide, kept: false, assignment, declaration: factory.declaration, thrown: [] }
  }
  if (inField && place.deferred === 'lambda') throw new Refused('order', `It is made in a lambda of a field's initialiser, which the compiler wants complete before the constructor hands anything in`)
  own.replaceNode(creation, call)
  const kept = point.method === NONE && place.kind !== 'constructor'
  return { name, typeIn: factory.typeIn, provide: factory.provide, kept, assignment: null, declaration: factory.declaration, thrown: [], shared: shared !== undefined }
}

/** A field that the only constructor fills from a parameter of its name, and that every place which runs the constructor hands the same factory. */
function sharedFactory({ point, owner, place, own, bound, editor, context }: Taking, factory: Factory): string | undefined {
  const { file } = point
  const { tree } = file
  const constructors = constructorsOf(owner, file, bound.program.declarations.get(owner)!.node)
  const [constructor] = constructors
  const symbol = constructor === undefined ? undefined : constructorSymbol(owner, file, constructor, context)
  if (constructors.length !== 1 || constructor === undefined || !symbol || symbol.varargs || place.kind === 'field') return undefined
  const wanted = factory.typeIn(own)
  const sites = creationSites(symbol, context)
  const isSame = ({ file: at, node, kind }: CreationSite, index: number) => {
    const given = kind === 'creation' || kind === 'super' ? argumentNodes(at, node)[index] : undefined
    return given !== undefined && at.tree.textOf(given) === factory.provide(editor.file(at.path), classAround(at, node))
  }
  const index = parameterNodes(tree, constructor).findIndex((parameter, at) => {
    const name = tree.textOf(tree.child(parameter, Field.Name)), field = owner.own(name).find(one => one instanceof FieldSymbol)
    return tree.textOf(tree.child(parameter, Field.Type)) === wanted && field !== undefined && (field.flags & Flags.Final) !== 0 && sites.length > 0 && sites.every(site => isSame(site, at))
  })
  return index < 0 ? undefined : tree.textOf(tree.child(parameterNodes(tree, constructor)[index]!, Field.Name))
}

/** Whether a constructor sets a field by its plain name, which a parameter of that name would hide. */
function assignedIn(name: string, node: Node, owner: ClassSymbol, file: JavaFile): boolean {
  const { tree } = file
  return constructorsOf(owner, file, node).some(constructor => {
    for (let at = constructor; at < tree.after(constructor); at += 5) {
      const target = tree.kind(at) === Kind.AssignmentExpression ? tree.child(at, Field.Left) : tree.kind(at) === Kind.UpdateExpression ? tree.first(at) : NONE
      if (target !== NONE && tree.kind(target) === Kind.Identifier && tree.textOf(target) === name) return true
    }
    return false
  })
}

interface Factory {
  readonly method: string
  readonly typeIn: (names: FileNames) => string
  readonly provide: (names: FileNames, from: ClassSymbol | undefined) => string
  readonly declaration: readonly string[]
}

function factoryOf({ point, owner, own, bound }: Taking, constructor: MethodSymbol, portable: boolean, type: Type, thrown: readonly string[]): Factory {
  const { file } = point
  const creation = point.nodes[0]!
  const count = argumentNodes(file, creation).length
  if (!portable && constructor.varargs) throw new Refused('varargs', 'Its constructor takes any number of arguments')
  const made = bound.file(file.path)!.findings.creations.get(creation)
  const by = made?.tag === 'class' && made.args.length > 0 ? argumentsOf(made) : new Map()
  const parameters = portable ? [] : constructor.signature.parameters.map(one => substitute(one, by))
  for (const one of parameters) refuseUnnamed(one, owner, point.method === NONE ? undefined : bound.program.methodAt(file, point.method))
  const boxed = parameters.map(one => one.tag === 'primitive' ? bound.program.boxed(one.name)! : one)
  const names = parameterNames(constructor, bound, count)
  const provide = (at: FileNames, from: ClassSymbol | undefined): string => {
    if (portable && count > 0) return `() -> ${portableText(creation, file, at, from)}`
    const head = creationHead(creation, file, at, from)
    return `${head.slice('new '.length).replace(/<.*>$/, '')}::new`
  }
  // What is boxed is not widened as well: an int does not go where a Long is wanted.
  const given = argumentNodes(file, creation).map(node => bound.file(file.path)!.findings.argumentTypes.get(node))
  const widened = parameters.some((one, index) => one.tag === 'primitive' && given[index] !== one)
  const plain = widened ? null : parameters.length === 0 ? 'Supplier' : parameters.length === 1 ? 'Function' : parameters.length === 2 ? 'BiFunction' : null
  if (plain && thrown.length === 0) {
    return {
      method: plain === 'Supplier' ? 'get' : 'apply', provide, declaration: [],
      typeIn: at => `${at.byName('java.util.function', plain)}<${[...boxed, type].map(one => typeText(one, at, owner)).join(', ')}>`
    }
  }
  // The library has no function for it: the class says what it needs.
  for (const one of [type, ...parameters]) refuseUnnamed(one, owner, undefined)
  const factoryName = numberedName(`${point.collaborator.name}Factory`, name => !owner.types.has(name) && bound.program.names.simple(name, bound.program.declarations.get(owner)!.scope) === undefined)
  const variables = owner.typeParameters.length > 0 ? `<${owner.typeParameters.map(one => one.name).join(', ')}>` : ''
  const list = parameters.map((one, index) => `${typeText(one, own, owner)} ${names[index]}`).join(', ')
  const clause = thrown.length > 0 ? ` throws ${thrown.join(', ')}` : ''
  const isPublic = (owner.flags & 1) !== 0
  return {
    method: 'create', provide, typeIn: at => `${at === own ? '' : `${at.nameOf(owner)}.`}${factoryName}${variables}`,
    declaration: [`/** Makes what ${owner.name} needs in the course of its work. */`, `${isPublic ? 'public ' : ''}interface ${factoryName}${typeParametersText(owner.typeParameters, own, owner)} {`, `${own.style.indent}${typeText(type, own, owner)} create(${list})${clause};`, '}']
  }
}

function parameterNames(constructor: MethodSymbol, bound: BoundProgram, count: number): string[] {
  const declared = bound.program.declarations.get(constructor.owner)
  const fallback = Array.from({ length: count }, (_, index) => `argument${index + 1}`)
  if (!declared || constructor.node < 0) return fallback
  const { tree } = declared.file
  const node = tree.children(declared.body).find(at => tree.kind(at) === Kind.ConstructorDeclaration && tree.child(at, Field.Name) === constructor.node)
  if (node === undefined) return fallback
  const names = parameterNodes(tree, node).map(at => tree.textOf(tree.child(at, Field.Name)))
  return names.length === count ? names : fallback
}

/** Types that only a method or nothing at all can name cannot stand in a class's constructor. */
function refuseUnnamed(type: Type, owner: ClassSymbol, method: MethodSymbol | undefined): void {
  const visible = new Set<unknown>(method?.signature.typeParameters)
  for (let at: ClassSymbol | null = owner; at; at = at.isStatic ? null : at.outer) for (const one of at.typeParameters) visible.add(one)
  const visit = (one: Type): void => {
    switch (one.tag) {
      case 'variable': if (!visible.has(one)) throw new Refused('generic', `Its type mentions ${one.name}, which is known only inside a method`); return
      case 'class': for (const arg of one.args) visit(arg); return
      case 'array': visit(one.element); return
      case 'wildcard': if (one.bound) visit(one.bound); return
      case 'intersection': throw new Refused('generic', 'Its type has no name')
      default: if (one.tag === 'special') throw new Refused('generic', 'Its type is not understood')
    }
  }
  visit(type)
}

/** Exceptions of a constructor that whoever runs it has to handle, as written in the class's own file. */
function checkedExceptions(constructor: MethodSymbol, own: JavaFileEditor, { program }: BoundProgram): string[] {
  const declared = program.declarations.get(constructor.owner)
  if (!declared || constructor.node < 0) return []
  const { tree } = declared.file
  const node = tree.children(declared.body).find(at => tree.kind(at) === Kind.ConstructorDeclaration && tree.child(at, Field.Name) === constructor.node)
  const clause = node === undefined ? NONE : tree.childOf(node, Kind.Throws)
  if (clause === NONE) return []
  return tree.children(clause).flatMap(child => {
    const type = program.names.type(child, declared.scope)
    if (type.tag !== 'class') return []
    const unchecked = ['java.lang.RuntimeException', 'java.lang.Error'].some(id => [...program.hierarchy.ancestorsOf(type.symbol)].some(one => one.id === id))
    return unchecked ? [] : [typeText(type, own)]
  })
}

/** Takes a field's initialiser away where nothing else needs the field before, and returns the statement for the constructor. */
function moveInitialiser({ point, owner, place, as, own, bound }: Taking, replacement: string, type: Type): { assignment: string; declaredType: (names: FileNames) => string } {
  const { tree } = point.file
  const creation = point.nodes[0]!
  const { declarator, member } = place
  const name = tree.textOf(tree.child(declarator, Field.Name))
  const value = tree.child(declarator, Field.Value)
  const reader = readsBefore(name, declarator, owner, point.file, bound)
  if (reader) throw new Refused('order', `${reader} uses ${name} while the object's fields are being set, before a constructor could hand it in`)
  const text = tree.text.slice(tree.start(value), tree.start(creation)) + replacement + tree.text.slice(tree.end(creation), tree.end(value))
  own.replace(tree.end(tree.child(declarator, Field.Dimensions) === NONE ? tree.child(declarator, Field.Name) : tree.child(declarator, Field.Dimensions)), tree.end(value), '')
  const typeNode = tree.child(member, Field.Type)
  const field = owner.own(name).find(one => one.kind === 'field')
  const exact = value === creation
  if (as && exact && field?.type.tag === 'class' && field.type.symbol === point.collaborator) own.replaceNode(typeNode, typeText(type, own, owner))
  if (field instanceof FieldSymbol && mayBeFinal(field, point.file, place.member)) own.insert(tree.start(typeNode), 'final ')
  const declaredType = (names: FileNames) => as || !exact || field?.kind !== 'field' || field.type.tag !== 'class' ? typeText(type, names, owner) : typeText(field.type, names, owner)
  return { assignment: `this.${name} = ${text};`, declaredType }
}

/** Whether a field that from now on only constructors set is set by nothing else; only of a private one all uses are in sight. */
function mayBeFinal(field: FieldSymbol, file: JavaFile, member: Node): boolean {
  const { tree } = file
  const modifiers = tree.childOf(member, Kind.Modifiers)
  if (!(field.flags & Flags.Private) || field.flags & Flags.Final || (modifiers !== NONE && /\bvolatile\b|@/.test(tree.textOf(modifiers)))) return false
  if (tree.children(member).filter(at => tree.kind(at) === Kind.VariableDeclarator).length !== 1) return false
  for (let at = 0; at < tree.size * 5; at += 5) {
    const target = tree.kind(at) === Kind.AssignmentExpression ? tree.child(at, Field.Left) : tree.kind(at) === Kind.UpdateExpression ? tree.first(at) : NONE
    if (target === NONE) continue
    const name = tree.kind(target) === Kind.FieldAccess ? tree.child(target, Field.Field) : target
    if (file.meaning(name) === field) return false
  }
  return true
}

/** The field or block that uses a field while fields are being set, if any. */
export function readsBefore(name: string, declarator: Node, owner: ClassSymbol, file: JavaFile, bound: BoundProgram): string | undefined {
  const { tree } = file
  const { body } = bound.program.declarations.get(owner)!
  const methods = new Map<string, Node[]>()
  for (const at of tree.children(body)) if (tree.kind(at) === Kind.MethodDeclaration) { const key = tree.textOf(tree.child(at, Field.Name)); methods.set(key, [...(methods.get(key) ?? []), at]) }
  const seen = new Set<Node>()
  const uses = (node: Node): boolean => {
    const end = tree.after(node)
    for (let at = node; at < end; at += 5) {
      if (tree.kind(at) === Kind.Identifier && tree.textOf(at) === name && file.meaning(at) instanceof FieldSymbol) return true
      if (tree.kind(at) !== Kind.MethodInvocation) continue
      const object = tree.child(at, Field.Object)
      if (object !== NONE && tree.kind(object) !== Kind.This) continue
      for (const method of methods.get(tree.textOf(tree.child(at, Field.Name))) ?? []) if (!seen.has(method)) { seen.add(method); if (uses(method)) return true }
    }
    return false
  }
  for (const at of tree.children(body)) {
    if (tree.kind(at) === Kind.Block) { if (uses(at)) return 'An initialiser'; continue }
    if (tree.kind(at) !== Kind.FieldDeclaration) continue
    for (const other of tree.children(at)) {
      if (tree.kind(other) !== Kind.VariableDeclarator || other === declarator) continue
      const value = tree.child(other, Field.Value)
      if (value !== NONE && uses(value)) return tree.textOf(tree.child(other, Field.Name))
    }
  }
  return undefined
}
