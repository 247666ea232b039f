import type { PlanRefusal, Role, SplitInterfacePlan } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { ClassSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { TypeVariable } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { narrowWhereverAllowed } from '../../write/narrow-wherever-allowed.js'
import { removeAllLines } from '../../write/removed-lines.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { refusesToWork } from '../logic.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { filesUsing } from './affected-files.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { licence, RESERVED } from './extract-interface.js'
import { describeFlaw } from './flaws.js'
import { documentationStart } from './interface-members.js'
import { JavaEditor } from './java-editor.js'
import type { NarrowingPlace } from './narrowing-places.js'
import { narrowingPlaces } from './narrowing-places.js'
import type { JavaTried } from './narrowing-trial.js'
import { javaNarrowingTrial } from './narrowing-trial.js'

const BUDGET = { trials: 6, checks: 120 }

/** Names of the methods that a role of an interface could have: without bodies, of its objects; none of a nested interface. */
export function dividedMethods(symbol: ClassSymbol, bound: BoundProgram): string[] {
  const declared = bound.program.declarations.get(symbol)
  if (!symbol.isInterface || symbol.flags & (Flags.Annotation | Flags.Sealed | Flags.Local) || symbol.outer || !declared) return []
  const file = bound.file(declared.file.path)?.java
  if (!file) return []
  const methods = symbol.ownMembers.filter(one => one instanceof MethodSymbol && one.isAbstract && !one.isStatic && one.node >= 0).sort((a, b) => a.node - b.node)
  // What it has from its parents or from every object stays, whatever it says of it again.
  const inherited = [bound.program.top.symbol, ...bound.program.hierarchy.ancestorsOf(symbol)].filter(one => one !== symbol)
  const isInherited = (one: MethodSymbol) => inherited.some(from => from.own(one.name).some(other => other instanceof MethodSymbol && other.arity === one.arity && (from === bound.program.top.symbol || bound.overloads.overrides(symbol, one, other))))
  const bad = new Set(methods.filter(one => one instanceof MethodSymbol && (isInherited(one) || innerNameIn(parentOf(file.tree, one.node), file) !== undefined)).map(one => one.name))
  return [...new Set(methods.map(one => one.name).filter(name => !bad.has(name)))]
}

/** A name in a method that means a type inside the interface, which a role would not see by it. */
function innerNameIn(method: Node, file: JavaFile): string | undefined {
  const { tree } = file
  for (let at = method; at < tree.after(method); at += 5) {
    const meaning = file.meaning(at)
    if (!(meaning instanceof ClassSymbol) || !meaning.outer || tree.textOf(at) !== meaning.name) continue
    const parent = parentOf(tree, at)
    const qualified = tree.kind(parent) === Kind.ScopedTypeIdentifier && tree.first(parent) !== at
    if (!qualified && file.singleImports.get(meaning.name)?.name !== meaning.id) return meaning.name
  }
  return undefined
}

interface Refusing { readonly symbol: ClassSymbol; readonly file: JavaFile; readonly heritage: Node; readonly keeps: readonly Role[]; readonly methods: readonly Node[]; readonly refused: readonly string[] }

/** An interface that is composed of roles in files of their own; its uses narrowed to the smallest role that serves. */
export function splitJavaInterface(plan: SplitInterfacePlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  if (dividedMethods(symbol, bound).length === 0) return planRefused('nested', `${symbol.name} is no interface at the top of its file with methods to divide.`)
  const { file } = bound.program.declarations.get(symbol)!
  const folder = file.path.slice(0, file.path.lastIndexOf('/') + 1)
  for (const { name } of plan.roles) {
    if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) || RESERVED.test(name)) return planRefused('name', `${name} is not a name that an interface can have.`)
    if (bound.program.packages.get(symbol.packageName)?.has(name) || state.source.isFile(`${language.root}/${folder}${name}.java`)) return planRefused('file-exists', `${name} exists already beside it; choose another name.`)
  }
  const idOf = (role: Role) => symbol.packageName === '' ? role.name : `${symbol.packageName}.${role.name}`
  const planned = plan.roles.map(role => ({ types: new Set([symbol.id]), to: idOf(role) }))
  const chosen = new Map<string, { place: NarrowingPlace; role: string }>(), dropped: Refusing[] = []
  const trial = () => javaNarrowingTrial(write(), [...chosen.values()].map(one => one.place), planned, context)
  const refused = (tried: JavaTried) => planRefused('does-not-compile', `It would not compile: ${describeFlaw(tried.flaws[0]!, language.bound(tried.after))}`)
  let last = trial().result
  if (last.flaws.length > 0) return refused(last)
  // What its own methods say of it stays: they stand elsewhere afterwards.
  const { node: declaration } = bound.program.declarations.get(symbol)!
  const isOwn = (place: NarrowingPlace) => place.path === file.path && place.node > declaration && place.node < file.tree.after(declaration)
  const places = plan.narrow ? narrowingPlaces(symbol, bound, filesUsing(state, symbol.id).filter(path => !bound.foreign.has(path))).filter(place => !isOwn(place)) : []
  for (const role of [...plan.roles].sort((a, b) => a.members.length - b.members.length)) {
    const candidates = places.filter(place => !chosen.has(place.key) && serves(place, new Set(role.members)))
    if (candidates.length === 0) continue
    let best: readonly NarrowingPlace[] = []
    const take = (narrowed: readonly NarrowingPlace[]): void => {
      for (const place of candidates) chosen.delete(place.key)
      for (const place of narrowed) chosen.set(place.key, { place, role: role.name })
    }
    const outcome = narrowWhereverAllowed(candidates, narrowed => {
      take(narrowed)
      const tried = trial()
      if (tried.holds) best = narrowed
      return tried
    }, BUDGET)
    take(best)
    last = outcome.last.result
    if (last.flaws.length > 0) last = trial().result
  }
  const kept: string[] = []
  for (const one of plan.drop ? refusing() : []) {
    dropped.push(one)
    const tried = trial()
    if (tried.holds) last = tried.result
    else { dropped.pop(); kept.push(one.symbol.name) }
  }
  if (last.flaws.length > 0) return refused(last)
  const notes = plan.roles.map(role => {
    const count = [...chosen.values()].filter(one => one.role === role.name).length
    return `${role.name} has ${role.members.join(', ')}; ${count} ${count === 1 ? 'use' : 'uses'} of ${symbol.name} as a type ${count === 1 ? 'becomes' : 'become'} it.`
  })
  for (const one of dropped) notes.push(`${one.symbol.name} keeps ${one.keeps.map(role => role.name).join(', ')} and no longer answers ${one.refused.join(', ')}.`)
  for (const name of kept) notes.push(`${name} still answers what it cannot do: it is used where all of ${symbol.name} is wanted.`)
  return {
    after: last.after, step: {
      refused: false, changes: last.changes, edits: last.count, notes,
      choices: { roles: plan.roles.map(role => `${role.name}: ${role.members.join(', ')}`).join('; '), narrow: plan.narrow ? 'yes' : 'no', drop: plan.drop ? 'yes' : 'no' }
    }
  }

  /** Whether what is declared at a place uses nothing but these members, as far as that is seen at once. */
  function serves(place: NarrowingPlace, members: ReadonlySet<string>): boolean {
    const used = usedMethods(place, symbol, bound)
    return used === null || (used.size > 0 && [...used].every(name => members.has(name)))
  }

  function methodNodes(role: Role): Node[] {
    return symbol.ownMembers.filter(one => one instanceof MethodSymbol && one.isAbstract && role.members.includes(one.name)).map(one => parentOf(file.tree, one.node)).sort((a, b) => a - b)
  }

  /** The type parameters of the interface that a role's methods speak of. */
  function variables(role: Role): TypeVariable[] {
    const mentions = (texts: readonly string[], name: string) => texts.some(text => new RegExp(`(?<![\\w$])${name.replace(/\$/g, '\\$')}(?![\\w$])`).test(text))
    const holder = file.tree.child(bound.program.declarations.get(symbol)!.node, Field.TypeParameters)
    const nodes = holder === NONE ? [] : file.tree.children(holder)
    let wanted = symbol.typeParameters.filter(one => mentions(methodNodes(role).map(node => file.tree.textOf(node)), one.name))
    for (let size = -1; size !== wanted.length;) {
      size = wanted.length
      wanted = symbol.typeParameters.filter((one, at) => wanted.includes(one) || symbol.typeParameters.some((other, index) => index !== at && wanted.includes(other) && mentions([file.tree.textOf(nodes[index]!)], one.name)))
    }
    return wanted
  }

  function write() {
    const editor = new JavaEditor(bound)
    const own = editor.file(file.path)
    const { tree } = own
    const { lineEnd, indent } = own.style
    const { node } = bound.program.declarations.get(symbol)!
    const access = symbol.flags & Flags.Public ? 'public ' : ''
    const holder = tree.child(node, Field.TypeParameters)
    for (const role of plan.roles) {
      const nodes = methodNodes(role)
      // What the whole overrides of its parents a role, which has none, does not.
      const texts = nodes.map(at => tree.text.slice(documentationStart(tree, at), tree.start(at)) + tree.textOf(at).replace(/@Override\b\s*/, ''))
      const wanted = variables(role)
      const parameters = wanted.length === 0 ? '' : `<${tree.children(holder).filter((_, at) => wanted.includes(symbol.typeParameters[at]!)).map(at => tree.textOf(at)).join(', ')}>`
      const imports = importsFor(nodes, parameters)
      editor.create(`${folder}${role.name}.java`, [
        ...licence(tree.text, lineEnd), ...(symbol.packageName === '' ? [] : [`package ${symbol.packageName};`, '']), ...imports, ...(imports.length > 0 ? [''] : []),
        `${access}interface ${role.name}${parameters} {`, texts.map(text => indent + text).join(texts.some(text => text.includes('\n')) || /\n[ \t]*\r?\n/.test(tree.text.slice(tree.start(nodes[0]!), tree.end(nodes.at(-1)!))) ? lineEnd + lineEnd : lineEnd), '}', ''
      ].join(lineEnd))
    }
    removeAllLines(plan.roles.flatMap(methodNodes).map(at => ({ start: documentationStart(tree, at), end: tree.end(at) })), own)
    const names = plan.roles.map(role => own.byName(symbol.packageName, role.name) + argumentsText(role)).join(', ')
    const parents = tree.childOf(node, Kind.ExtendsInterfaces)
    if (parents !== NONE) own.insert(tree.end(parents), `, ${names}`)
    else own.insert(tree.end(holder === NONE ? tree.child(node, Field.Name) : holder), ` extends ${names}`)
    for (const { place, role } of chosen.values()) {
      const at = editor.file(place.path)
      at.replaceNode(place.node, at.byName(symbol.packageName, role))
    }
    for (const one of dropped) {
      const at = editor.file(one.file.path)
      const given = one.file.tree.kind(one.heritage) === Kind.GenericType ? one.file.tree.textOf(one.file.tree.childOf(one.heritage, Kind.TypeArguments)) : ''
      at.replaceNode(one.heritage, one.keeps.map(role => at.byName(symbol.packageName, role.name) + (variables(role).length > 0 ? given : '')).join(', '))
      removeAllLines(one.methods.map(method => ({ start: documentationStart(one.file.tree, method), end: one.file.tree.end(method) })), at)
    }
    return editor.finish()
  }

  function argumentsText(role: Role): string {
    const wanted = variables(role)
    return wanted.length === 0 ? '' : `<${wanted.map(one => one.name).join(', ')}>`
  }

  /** The imports of the interface's file that some of its methods need. */
  function importsFor(nodes: readonly Node[], parameters: string): string[] {
    const { tree } = file
    const words = new Set(`${nodes.map(at => tree.textOf(at)).join(' ')} ${parameters}`.match(/[\p{L}\p{N}_$]+/gu))
    return file.imports.filter(one => one.onDemand || words.has(one.name.slice(one.name.lastIndexOf('.') + 1))).map(one => tree.textOf(one.node).trim())
  }

  /** Classes that implement the interface directly and cannot honour all of its roles; only where roles hold all of it. */
  function refusing(): Refusing[] {
    const inRoles = new Set(plan.roles.flatMap(role => role.members))
    if (symbol.ownMembers.some(one => one instanceof MethodSymbol && one.isAbstract && !inRoles.has(one.name))) return []
    const found: Refusing[] = []
    for (const [one, declared] of bound.program.declarations) {
      if (one.isInterface || one.flags & Flags.Local || !one.interfaces.some(parent => parent.symbol === symbol)) continue
      const { tree } = declared.file
      const user = bound.file(declared.file.path)?.java
      const list = tree.child(declared.node, Field.Interfaces)
      if (!user || list === NONE || declared.body === NONE || bound.foreign.has(declared.file.path)) continue
      const types = tree.children(list).flatMap(at => (tree.kind(at) === Kind.TypeList ? tree.children(at) : [at]))
      const heritage = types.find(at => user.meaning(tree.kind(at) === Kind.GenericType ? tree.first(at) : at) === symbol)
      const methods = tree.children(declared.body).filter(at => tree.kind(at) === Kind.MethodDeclaration && inRoles.has(tree.textOf(tree.child(at, Field.Name))))
      const nameOf = (at: Node) => tree.textOf(tree.child(at, Field.Name))
      const idle = methods.filter(at => tree.child(at, Field.Body) !== NONE && refusesToWork(tree, tree.child(at, Field.Body)))
      const names = new Set(idle.map(nameOf).filter(name => methods.every(at => nameOf(at) !== name || idle.includes(at))))
      const gone = plan.roles.filter(role => role.members.every(member => names.has(member))), keeps = plan.roles.filter(role => !gone.includes(role))
      if (heritage === undefined || gone.length === 0 || keeps.length === 0) continue
      const members = gone.flatMap(role => role.members)
      found.push({ symbol: one, file: user, heritage, keeps, methods: idle.filter(at => members.includes(nameOf(at))), refused: members })
    }
    return found
  }
}

/** The methods that are called on what a type's name declares, in its file; null where it declares nothing that can be followed so. */
function usedMethods(place: NarrowingPlace, symbol: ClassSymbol, bound: BoundProgram): ReadonlySet<string> | null {
  const file = bound.file(place.path)?.java
  if (!file) return null
  const { tree } = file
  let holder = parentOf(tree, place.node)
  if (tree.kind(holder) === Kind.GenericType) holder = parentOf(tree, holder)
  if (![Kind.FormalParameter, Kind.FieldDeclaration, Kind.LocalVariableDeclaration].includes(tree.kind(holder))) return null
  const names = tree.kind(holder) === Kind.FormalParameter ? [tree.child(holder, Field.Name)] : tree.children(holder).filter(at => tree.kind(at) === Kind.VariableDeclarator).map(at => tree.child(at, Field.Name))
  const texts = new Set(names.map(at => tree.textOf(at)))
  const used = new Set<string>()
  for (let at = 0; at < tree.size * 5; at += 5) {
    if (tree.kind(at) !== Kind.Identifier || names.includes(at) || !texts.has(tree.textOf(at))) continue
    const meaning = file.meaning(at)
    if (!meaning || meaning instanceof ClassSymbol) continue
    const declaredAt = meaning.node
    if (!names.includes(declaredAt) && !names.some(name => parentOf(tree, name) === declaredAt)) continue
    let value = at
    if (tree.kind(parentOf(tree, value)) === Kind.FieldAccess) value = parentOf(tree, value)
    const call = parentOf(tree, value)
    if (tree.kind(call) !== Kind.MethodInvocation || tree.child(call, Field.Object) !== value) return null
    const method = file.meaning(tree.child(call, Field.Name)) ?? file.meaning(call)
    if (!(method instanceof MethodSymbol) || method.owner !== symbol) return null
    used.add(method.name)
  }
  return used
}
