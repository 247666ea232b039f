import type { EffectKind } from '../../../effect/kinds.js'
import { catalogueOf } from '../../../effect/shipped.js'
import { ClassSymbol, FieldSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'
import { plainType } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import type { OutsideGroup } from '../../write/outside-group.js'
import { outsideReferences } from '../../write/outside-group.js'
import { parentOf } from '../bound-program.js'
import { modifiersOf } from '../declare.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { classAround } from './class-around.js'
import type { JavaWriteContext } from './context.js'
import { handledExceptions } from './handled-exceptions.js'
import { placeOf } from './place.js'
import { argumentNodes } from './portable.js'

interface HandedOver { readonly node: Node; readonly type: Type }

/** A use of the outside that can be put behind an interface: one call or creation. */
export interface JavaOutsideUse {
  readonly node: Node
  /** The method or constructor that runs. */
  readonly method: MethodSymbol
  /**
   * What is handed over, in order, with the type that is wanted. Constants are none of it, and literals only where uses of the same
   * method have others in their place.
   */
  readonly passed: readonly HandedOver[]
  readonly literals: readonly HandedOver[]
  readonly result: Type
  /** Checked exceptions that may come of it where it stands. */
  readonly thrown: readonly ClassSymbol[]
}

/** Effects whose calls in the JDK throw nothing that has to be handled. */
const QUIET: ReadonlySet<EffectKind> = new Set(['clock', 'randomness', 'environment', 'console'])

/** Others of the JDK that throw nothing. */
const QUIET_METHODS: ReadonlySet<string> = new Set(['exists', 'notExists', 'isDirectory', 'isRegularFile', 'isSymbolicLink', 'isReadable', 'isWritable', 'isExecutable'].map(name => `java.nio.file.Files.${name}`))

/** Whether a package is the JDK's, of which a group is told by what it touches. */
export function isJdk(external: string): boolean { return /^javax?\./.test(external) }

/** What the objects of a class use of the outside themselves, by what it is, in source order. Linear in the references and nodes of its file. */
export function findJavaOutsideUses(owner: ClassSymbol, context: JavaWriteContext): OutsideGroup<JavaOutsideUse>[] {
  const { bound, state } = context
  const declared = bound.program.declarations.get(owner)
  const file = declared && bound.file(declared.file.path)?.java
  const facts = file && state.facts.files.find(one => one.path === file.path)
  if (!file || !facts) return []
  const groups = new Map<string, OutsideGroup<JavaOutsideUse>>()
  const seen = new Set<Node>()
  let starts: Map<number, Node> | undefined
  for (const { reference, effect } of outsideReferences(facts.references, owner.id, 'java')) {
    const key = isJdk(reference.to) ? `jdk.${effect}` : reference.to
    let group = groups.get(key)
    if (!group) groups.set(key, group = { key, external: reference.to, effect, uses: [], stays: [] })
    starts ??= namesByStart(file)
    const name = starts.get(reference.span.start)
    const found = name === undefined ? 'it is not found any more' : useAround(name, effect, owner, file, context)
    if (typeof found === 'string') group.stays.push({ line: reference.span.line, why: found })
    else if (!seen.has(found.node)) { seen.add(found.node); group.uses.push(found) }
  }
  return [...groups.values()].map(group => (group.effect === 'environment' ? group : { ...group, uses: withLiterals(group.uses, file) }))
}

/** Uses that differ only in literals become the same call: what differs is handed over. What is asked of the environment is told apart by its name. */
function withLiterals(uses: readonly JavaOutsideUse[], { tree }: JavaFile): JavaOutsideUse[] {
  const given = ({ passed, literals }: JavaOutsideUse) => [...passed, ...literals].sort((a, b) => a.node - b.node)
  const alike = new Map<MethodSymbol, JavaOutsideUse[]>()
  for (const use of uses) alike.set(use.method, [...alike.get(use.method) ?? [], use])
  return uses.map(use => {
    const all = given(use), others = alike.get(use.method)!.map(given).filter(one => one.length === all.length)
    const differs = (at: number) => others.some(one => tree.textOf(one[at]!.node) !== tree.textOf(all[at]!.node))
    return { ...use, passed: all.filter((one, at) => !use.literals.includes(one) || differs(at)) }
  })
}

function namesByStart({ tree }: JavaFile): Map<number, Node> {
  const found = new Map<number, Node>()
  for (let at = 0; at < tree.size * 5; at += 5) if (tree.kind(at) === Kind.Identifier || tree.kind(at) === Kind.TypeIdentifier) found.set(tree.start(at), at)
  return found
}

function useAround(name: Node, effect: EffectKind, owner: ClassSymbol, file: JavaFile, { bound }: JavaWriteContext): JavaOutsideUse | string {
  const node = callAround(name, file)
  return node === NONE ? 'it is no call' : useOf(node, effect, owner, file, bound)
}

/** A call or creation that could be put behind an interface, or why not. `held`: it is asked of a field that holds an object of the library. */
export function useOf(node: Node, effect: EffectKind, owner: ClassSymbol, file: JavaFile, bound: JavaWriteContext['bound'], held = false): JavaOutsideUse | string {
  const { tree } = file
  const method = file.meaning(tree.kind(node) === Kind.MethodInvocation ? tree.child(node, Field.Name) : node)
  if (!(method instanceof MethodSymbol) || method.owner.source) return 'what it calls is not known'
  if (classAround(file, node) !== owner) return 'it stands in a class within'
  const declared = bound.program.declarations.get(owner)!
  const place = placeOf(tree, node, declared.body)
  if (place.kind === 'field') return 'it is in the initialiser of a field, which runs before anything could be handed in'
  if (place.kind === 'initialiser') return 'it is in an initialiser, which runs before anything could be handed in'
  if (modifiersOf(tree, place.member) & Flags.Static) return 'it is in a static method, so that no object could hand it in'
  if (place.inConstructorCall) return 'it is handed to another constructor'
  if (place.deferred === 'class') return 'it stands in a class within'
  const receiver = held ? undefined : receiverProblem(node, method, file)
  if (receiver) return receiver
  if (method.signature.typeParameters.length > 0 || (method.owner.typeParameters.length > 0 && !method.isStatic)) return 'it is generic'
  if (tree.kind(node) === Kind.ObjectCreationExpression && tree.contains(node, Kind.ClassBody)) return 'it makes a class of its own'
  const result = tree.kind(node) === Kind.ObjectCreationExpression ? plainType(method.owner) : method.signature.result
  if (!isPlainData(result)) return `its type belongs to the library`
  const passed: HandedOver[] = [], literals: HandedOver[] = []
  for (const [index, argument] of argumentNodes(file, node).entries()) {
    const type = wantedType(method, index, argumentNodes(file, node).length)
    // What is asked of a held object is asked as the library has it; of a class, what is always the same is left to the implementation.
    if (isConstant(argument, file) && !(held && type && isPlainData(type))) {
      if (type && isPlainData(type) && LITERALS.has(tree.kind(argument))) literals.push({ node: argument, type })
      continue
    }
    if (!type || !isPlainData(type)) return `${tree.textOf(argument)} goes where a type of the library is wanted`
    if (tree.kind(argument) === Kind.LambdaExpression || tree.kind(argument) === Kind.MethodReference) return 'a function is handed over'
    passed.push({ node: argument, type })
  }
  if (isJdk(method.owner.packageName) && (QUIET.has(effect) || QUIET_METHODS.has(`${method.owner.id}.${method.name}`))) return { node, method, passed, literals, result, thrown: [] }
  const thrown = handledExceptions(node, place.member, file, declared.scope, bound)
  return thrown === null ? 'it is in a lambda, where what it may throw is not known' : { node, method, passed, literals, result, thrown }
}

/** The call or creation that a name begins: `now` in `LocalDate.now()`, `out` in `System.out.println(...)`. */
function callAround(name: Node, { tree }: JavaFile): Node {
  for (let at = name; ;) {
    const parent = parentOf(tree, at), kind = tree.kind(parent)
    if (kind === Kind.MethodInvocation && (tree.child(parent, Field.Name) === at || tree.child(parent, Field.Object) === at)) return parent
    if (kind === Kind.ObjectCreationExpression) return parent
    if (kind !== Kind.FieldAccess && kind !== Kind.ScopedTypeIdentifier) return NONE
    at = parent
  }
}

/** What a call is made of has to be a class of the library, or a constant of one. */
function receiverProblem(node: Node, method: MethodSymbol, file: JavaFile): string | undefined {
  const { tree } = file
  if (tree.kind(node) === Kind.ObjectCreationExpression) return undefined
  const object = tree.child(node, Field.Object)
  if (object === NONE) return method.isStatic ? undefined : `${method.name} is inherited`
  if (isOfLibrary(object, file)) return undefined
  return `${tree.textOf(object).slice(0, 40)} is an object that is held`
}

/** A class of a library, or a static field of one, as it is named. */
function isOfLibrary(node: Node, file: JavaFile): boolean {
  const { tree } = file
  const named = tree.kind(node) === Kind.FieldAccess ? tree.child(node, Field.Field) : node
  const meaning = file.meaning(named) ?? file.meaning(node)
  return meaning instanceof ClassSymbol ? !meaning.source : meaning instanceof FieldSymbol && meaning.isStatic && !meaning.owner.source
}

const LITERALS: ReadonlySet<number> = new Set([Kind.DecimalIntegerLiteral, Kind.HexIntegerLiteral, Kind.DecimalFloatingPointLiteral, Kind.CharacterLiteral, Kind.StringLiteral])

/** Literals, and constants of libraries. */
export function isConstant(node: Node, file: JavaFile): boolean {
  const { tree } = file
  switch (tree.kind(node)) {
    case Kind.DecimalIntegerLiteral: case Kind.HexIntegerLiteral: case Kind.DecimalFloatingPointLiteral: case Kind.True: case Kind.False: case Kind.CharacterLiteral: case Kind.StringLiteral: return true
    case Kind.FieldAccess: return isOfLibrary(node, file) && file.meaning(tree.child(node, Field.Field)) instanceof FieldSymbol
    default: return false
  }
}

/** The type that a library's method wants of an argument. */
export function wantedType(method: MethodSymbol, index: number, count: number): Type | undefined {
  const { parameters } = method.signature
  const last = parameters.at(-1)
  if (method.varargs && last?.tag === 'array' && index >= parameters.length - 1) return count === parameters.length ? undefined : last.element
  return parameters[index]
}

/** Whether values of a type can be handed about without the library: what the JDK has to hold data, and the project's own. */
export function isPlainData(type: Type): boolean {
  switch (type.tag) {
    case 'primitive': return true
    case 'array': return isPlainData(type.element)
    case 'special': return type.name === 'void'
    case 'class': {
      const { symbol } = type
      if (!type.args.every(one => one.tag !== 'variable' && (one.tag === 'wildcard' ? one.bound === null || isPlainData(one.bound) : isPlainData(one)))) return false
      if (symbol.source) return true
      const name = symbol.id.slice(symbol.packageName === '' ? 0 : symbol.packageName.length + 1)
      return isJdk(symbol.packageName) && (catalogueOf('java').effectOf(symbol.packageName, name) === 'pure' || symbol.id === 'java.nio.file.Path')
    }
    default: return false
  }
}
