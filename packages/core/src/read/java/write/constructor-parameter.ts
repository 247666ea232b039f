import type { ClassSymbol, MethodSymbol } from '../../binding/symbols.js'
import { Flags } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import { classAround } from './class-around.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import type { JavaWriteContext } from './context.js'
import type { CreationSite } from './creation-sites.js'
import { callsThis, constructorCall, constructorsOf, constructorSymbol, creationSites } from './creation-sites.js'
import { parameterNodes } from './interface-members.js'
import type { JavaEditor, JavaFileEditor } from './java-editor.js'
import { placeOf } from './place.js'
import { argumentNodes } from './portable.js'
import type { Provision } from './provision.js'
import { freeName } from './provision.js'
import { refuseWrittenOut } from './written-out.js'

export interface Handing {
  readonly provision: Provision
  readonly editor: JavaEditor
  readonly context: JavaWriteContext
  /** The constructor keeps a form without the parameter. */
  readonly withDefault: boolean
  readonly notes: string[]
}

/**
 * Gives constructors of a class the parameter, and every place that runs them what it then needs. `only`: the one
 * constructor that needs it; NONE where every one does that does not call another.
 */
export function handToConstructor(owner: ClassSymbol, file: JavaFile, only: Node, levels: number, handing: Handing): void {
  const { provision, editor, context, withDefault } = handing
  const { node, body } = context.bound.program.declarations.get(owner)!
  if (provision.kept) refuseWrittenOut(owner, context.bound)
  const own = editor.file(file.path)
  const all = constructorsOf(owner, file, node)
  const changed = only !== NONE ? [only] : all.filter(one => !callsThis(file, one))
  const statements = [...(provision.kept ? [`this.${provision.name} = ${provision.name};`] : []), ...(provision.assignment === null ? [] : [provision.assignment])]
  declareMembers(file, body, own, provision)
  if (all.length === 0) {
    const symbol = constructorSymbol(owner, file, NONE, context)
    const sites = symbol && !withDefault ? creationSites(symbol, context) : []
    if (!withDefault) refuseOtherUses(owner, context)
    if (provision.thrown.length > 0) throw new Refused('throws', `Making it can throw ${provision.thrown.join(', ')}, which no constructor here says`)
    insertConstructors(owner, file, body, own, [
      ...(withDefault ? [{ parameters: '', statements: [`this(${provision.provide(own, owner)});`] }] : []),
      { parameters: `${provision.typeIn(own)} ${provision.name}`, statements }
    ])
    for (const site of sites) provideAt(site, 0, levels, handing)
    return
  }
  for (const constructor of changed) {
    const symbol = constructorSymbol(owner, file, constructor, context)
    if (!symbol) throw new Refused('no-constructor', 'Its constructor is not found')
    const { tree } = file
    if (provision.thrown.length > 0) refuseUnhandled(provision, file, constructor)
    const parameters = parameterNodes(tree, constructor)
    const at = symbol.varargs ? parameters.length - 1 : parameters.length
    if (withDefault) keepForm(file, constructor, parameters, at, own, provision, owner)
    else refuseOtherUses(owner, context)
    insertInList(tree.child(constructor, Field.Parameters), parameters, at, `${provision.typeIn(own)} ${provision.name}`, own)
    if (statements.length > 0) {
      const block = tree.child(constructor, Field.Body)
      const call = constructorCall(file, constructor)
      const after = call === NONE ? tree.start(block) + 1 : tree.end(call)
      const margin = own.indentAt(tree.start(constructor))
      const lines = statements.map(line => `${own.style.lineEnd}${margin}${own.style.indent}${line}`).join('')
      const empty = tree.text.slice(tree.start(block) + 1, tree.end(block) - 1).trim() === ''
      if (empty) own.replace(tree.start(block) + 1, tree.end(block) - 1, `${lines}${own.style.lineEnd}${margin}`)
      else own.insert(after, lines)
    }
    if (!withDefault) for (const site of creationSites(symbol, context)) provideAt(site, at, levels, handing)
  }
}

/** The field that keeps what is handed in, and the type of a factory. */
export function declareMembers(file: JavaFile, body: Node, own: JavaFileEditor, provision: Provision): void {
  const { tree } = file
  const lines = [...(provision.kept ? [`private final ${provision.typeIn(own)} ${provision.name};`] : [])]
  if (lines.length === 0 && provision.declaration.length === 0) return
  const { lineEnd, indent } = own.style
  const fields = tree.children(body).filter(at => tree.kind(at) === Kind.FieldDeclaration)
  const last = fields.at(-1)
  const margin = last !== undefined ? own.indentAt(tree.start(last)) : own.indentAt(tree.start(body)) + indent
  const written = (list: readonly string[]) => list.map(line => `${lineEnd}${margin}${line}`).join('')
  const declaration = provision.declaration.length > 0 ? `${lineEnd}${written(provision.declaration)}` : ''
  if (last !== undefined) { own.insert(lineRest(tree.text, tree.end(last)), written(lines) + declaration); return }
  const start = tree.start(body) + 1
  const empty = tree.first(body) === NONE
  own.insert(start, written(lines) + declaration + (empty ? '' : tree.text[start] === '\n' || tree.text[start] === '\r' ? lineEnd : `${lineEnd}${margin}`))
}

/** The end of a line whose rest is a comment; the offset itself elsewhere. */
function lineRest(text: string, offset: number): number {
  const rest = /^[ \t]*\/\/[^\r\n]*/.exec(text.slice(offset, offset + 400))
  return rest ? offset + rest[0].length : offset
}

/** Writes constructors into a class that has none, after its fields. */
function insertConstructors(owner: ClassSymbol, file: JavaFile, body: Node, own: JavaFileEditor, forms: readonly { parameters: string; statements: readonly string[] }[]): void {
  const { tree } = file
  const { lineEnd, indent } = own.style
  const members = tree.children(body)
  const last = members.filter(at => tree.kind(at) === Kind.FieldDeclaration).at(-1)
  const margin = members[0] !== undefined ? own.indentAt(tree.start(members[0])) : own.indentAt(tree.start(body)) + indent
  const access = owner.flags & Flags.Public ? 'public ' : owner.flags & Flags.Protected ? 'protected ' : owner.flags & Flags.Private ? 'private ' : ''
  const block = (lines: readonly string[]) => lines.length === 0 ? '{ }' : `{${lines.map(line => `${lineEnd}${margin}${indent}${line}`).join('')}${lineEnd}${margin}}`
  const text = forms.map(({ parameters, statements }) => `${margin}${access}${owner.name}(${parameters}) ${block(statements)}`).join(`${lineEnd}${lineEnd}`)
  if (last !== undefined) own.insert(lineRest(tree.text, tree.end(last)), `${lineEnd}${lineEnd}${text}`)
  else if (members.length === 0) own.replace(tree.start(body) + 1, tree.end(body) - 1, `${lineEnd}${text}${lineEnd}${own.indentAt(tree.start(body))}`)
  else own.insert(tree.start(body) + 1, `${lineEnd}${text}${lineEnd}`)
}

/** Writes the constructor's present form before it, calling the other with what is built today. */
function keepForm(file: JavaFile, constructor: Node, parameters: readonly Node[], at: number, own: JavaFileEditor, provision: Provision, owner: ClassSymbol): void {
  const { tree } = file
  const { lineEnd, indent } = own.style
  const margin = own.indentAt(tree.start(constructor))
  const names = parameters.map(one => tree.textOf(tree.kind(one) === Kind.SpreadParameter ? tree.child(tree.childOf(one, Kind.VariableDeclarator), Field.Name) : tree.child(one, Field.Name)))
  names.splice(at, 0, provision.provide(own, owner))
  const head = tree.text.slice(tree.start(constructor), tree.start(tree.child(constructor, Field.Body))).trimEnd()
  own.insert(tree.start(constructor), `${head} {${lineEnd}${margin}${indent}this(${names.join(', ')});${lineEnd}${margin}}${lineEnd}${lineEnd}${margin}`)
}

function refuseUnhandled(provision: Provision, { tree }: JavaFile, constructor: Node): void {
  const clause = tree.childOf(constructor, Kind.Throws)
  const said = clause === NONE ? [] : tree.children(clause).map(child => tree.textOf(child))
  const missing = provision.thrown.find(name => !said.includes(name))
  if (missing !== undefined) throw new Refused('throws', `Making it can throw ${missing}, which the constructor does not say, so that who creates the object is not ready for it`)
}

/** Puts an entry at an index of a list in parentheses, in the list's own manner. */
export function insertInList(holder: Node, entries: readonly Node[], at: number, text: string, own: JavaFileEditor): void {
  const { tree } = own
  if (entries.length === 0) { own.insert(tree.end(holder) - 1, text); return }
  const multiline = /\n/.test(tree.text.slice(tree.start(holder), tree.start(entries[0]!))) || (entries.length > 1 && entries.slice(1).every((one, index) => tree.text.slice(tree.end(entries[index]!), tree.start(one)).includes('\n')))
  const separator = multiline ? `,${own.style.lineEnd}${own.indentAt(tree.start(entries[entries.length - 1]!))}` : ', '
  if (at < entries.length) own.insert(tree.start(entries[at]!), text + separator)
  else own.insert(tree.end(entries[entries.length - 1]!), separator + text)
}

function provideAt(site: CreationSite, at: number, levels: number, handing: Handing): void {
  const { provision, editor } = handing
  const { file, node, kind } = site
  const { tree } = file
  const own = editor.file(file.path)
  const from = classAround(file, node)
  switch (kind) {
    case 'no-constructor': {
      const symbol = file.classes.get(node)!
      const body = tree.child(node, Field.Body)
      if (provision.thrown.length > 0) throw new Refused('throws', `${symbol.name} inherits the constructor without saying what it throws`)
      insertConstructors(symbol, file, body, own, [{ parameters: '', statements: [`super(${provision.provide(own, symbol)});`] }])
      return
    }
    case 'implicit-super': {
      const block = tree.child(node, Field.Body)
      const margin = own.indentAt(tree.start(node))
      own.insert(tree.start(block) + 1, `${own.style.lineEnd}${margin}${own.style.indent}super(${provision.provide(own, from)});`)
      return
    }
    case 'reference': {
      const text = tree.textOf(tree.first(node))
      const symbol = file.meaning(node) as MethodSymbol
      const taken = freeName('argument', file, 0, new Set())
      const names = Array.from({ length: symbol.arity }, (_, index) => `${taken}${index + 1}`)
      const passed = [...names]
      passed.splice(at, 0, provision.provide(own, from))
      const generic = symbol.owner.typeParameters.length > 0 && !text.includes('<') ? '<>' : ''
      own.replaceNode(node, `${names.length === 1 ? names[0] : `(${names.join(', ')})`} -> new ${text}${generic}(${passed.join(', ')})`)
      return
    }
    default: {
      const entries = argumentNodes(file, node)
      const holder = tree.child(node, Field.Arguments)
      const text = passedOn(site, levels, handing) ?? provision.provide(own, from)
      insertInList(holder, entries, Math.min(at, entries.length), text, own)
    }
  }
}

/** Moves creation one level up where the site runs once, in a constructor of the project; the name that is passed on then. */
function passedOn(site: CreationSite, levels: number, handing: Handing): string | undefined {
  const { provision, context, notes } = handing
  const { file, node, kind } = site
  if (levels <= 0 || (kind !== 'creation' && kind !== 'super') || context.state.files.isTest(file.path)) return undefined
  const owner = classAround(file, node)
  const declared = owner && context.bound.program.declarations.get(owner)
  if (!owner || !declared || owner.flags & (Flags.Local | Flags.Enum | Flags.Record)) return undefined
  const place = placeOf(file.tree, node, declared.body)
  if (place.kind !== 'constructor' || !place.once || place.inConstructorCall === 'this') return undefined
  const name = freeName(provision.name, file, declared.node, new Set())
  try {
    handToConstructor(owner, file, place.member, levels - 1, { ...handing, provision: { ...provision, name, kept: false, assignment: null, declaration: [] } })
  } catch (error) {
    if (error instanceof Refused) return undefined
    throw error
  }
  notes.push(`${owner.name} is handed ${name} too and passes it on.`)
  return name
}

const FRAMEWORK = new Set([
  'Component', 'Service', 'Repository', 'Controller', 'RestController', 'Configuration', 'Entity', 'Embeddable', 'MappedSuperclass', 'Stateless', 'Stateful', 'MessageDriven',
  'ApplicationScoped', 'RequestScoped', 'SessionScoped', 'Dependent', 'Path', 'Provider', 'WebServlet', 'WebFilter', 'WebListener', 'Aspect', 'SpringBootApplication', 'Mojo', 'RunWith'
])

const LISTS_MEMBERS = /\.get(?:Declared)?(?:Constructors|Fields|Methods)\(/

/** A class that a framework builds, or whose class object is handed around, is built by code that nothing here can update. */
export function refuseOtherUses(owner: ClassSymbol, { bound, state }: JavaWriteContext): void {
  const declared = bound.program.declarations.get(owner)!
  const { tree } = declared.file
  const modifiers = tree.childOf(declared.node, Kind.Modifiers)
  if (modifiers !== NONE) for (const one of tree.children(modifiers)) {
    const name = tree.child(one, Field.Name)
    if (name !== NONE && FRAMEWORK.has(tree.textOf(name).replace(/^.*\./, ''))) throw new Refused('framework', `@${tree.textOf(name)} means that a framework builds it, and the framework would not know the new parameter`)
  }
  for (const facts of state.facts.files) {
    if (!facts.references.some(one => one.to === owner.id) && facts.path !== declared.file.path) continue
    const file = bound.file(facts.path)?.java
    if (!file) continue
    for (let at = 0; at < file.tree.size * 5; at += 5) {
      if (file.tree.kind(at) !== Kind.ClassLiteral) continue
      const name = lastName(file, at)
      if (name === NONE || file.meaning(name) !== owner) continue
      const user = classAround(file, at)
      // A logger's name and the like: the class speaks of itself.
      if (user?.outermost === owner.outermost) continue
      const place = `${facts.path}:${file.tree.text.slice(0, file.tree.start(at)).split('\n').length}`
      // Even one constructor more would be seen there.
      if (LISTS_MEMBERS.test(file.tree.text)) throw new Refused('reflection', `${place} looks at the class at run time, and lists what it has`)
      throw new Refused('class-as-value', `${place} hands the class itself around, so not every place that builds it is known`)
    }
  }
}

function lastName(file: JavaFile, node: Node): Node {
  let found: Node = NONE
  for (let at = node; at < file.tree.after(node); at += 5) if (file.tree.kind(at) === Kind.TypeIdentifier || file.tree.kind(at) === Kind.Identifier) found = at
  return found
}
