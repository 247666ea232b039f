import type { TextEdit } from '../../../edit/text-edit.js'
import { applyEdits } from '../../../edit/text-edit.js'
import type { ExtractClassPlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { MemberSymbol } from '../../binding/symbols.js'
import { ClassSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH, NONE } from '../../syntax/flat-tree.js'
import { lowerFirst, numberedName, withArticle } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import { removeAllLines } from '../../write/removed-lines.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { modifiersOf } from '../declare.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { isAnnotation } from '../type-names.js'
import { checkedJavaStep } from './checked-step.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { licence, RESERVED } from './extract-interface.js'
import type { FillingConstructor } from './filled-fields.js'
import { fillingConstructors, refuseTooLate } from './filled-fields.js'
import { handsOnTo } from './handing-on.js'
import { parameterName, parameterNodes } from './interface-members.js'
import type { JavaFileEditor } from './java-editor.js'
import { JavaEditor } from './java-editor.js'
import { commentedStart, membersAt } from './moved-members.js'
import { refuseWrittenOut } from './written-out.js'

interface Extraction { readonly file: JavaFile; readonly fields: readonly Node[]; /** Names of those that constructors fill with arguments. */ readonly filled: readonly string[]; readonly constructors: readonly FillingConstructor[]; readonly faces: readonly Node[]; readonly hidden: readonly Node[]; readonly moving: ReadonlySet<MemberSymbol> }

export function canExtractJavaClass(symbol: ClassSymbol, members: readonly string[], bound: BoundProgram): boolean {
  try { extraction(symbol, new Set(members), bound) } catch (error) {
    if (error instanceof Refused) return false
    throw error
  }
  return true
}

/** Annotations that say nothing to anybody but the compiler. */
export const PLAIN_ANNOTATION = /^@(Override|Deprecated|SuppressWarnings)\b/

function extraction(symbol: ClassSymbol, names: ReadonlySet<string>, bound: BoundProgram): Extraction {
  const { program: { declarations, hierarchy }, overloads } = bound
  const declared = declarations.get(symbol)
  const file = declared && bound.file(declared.file.path)?.java
  if (!declared || !file || symbol.outer || symbol.isInterface || symbol.flags & (Flags.Enum | Flags.Record | Flags.Local)) throw new Refused('nested', `${symbol.name} is no class at the top of its file`)
  refuseWrittenOut(symbol, bound)
  const { tree } = file
  const fields: Node[] = [], faces: Node[] = [], hidden: Node[] = [], rest: Node[] = []
  /** `tank` of its declaration, of `tank` and of `this.tank`. */
  const fieldOf = (at: Node): string => tree.textOf(tree.kind(at) === Kind.FieldDeclaration ? tree.child(tree.childOf(at, Kind.VariableDeclarator), Field.Name) : tree.kind(at) === Kind.FieldAccess ? tree.child(at, Field.Field) : at)
  const found = new Set<string>()
  for (const member of tree.children(declared.body)) {
    const kind = tree.kind(member)
    const declarators = kind === Kind.FieldDeclaration ? tree.children(member).filter(at => tree.kind(at) === Kind.VariableDeclarator) : []
    const own = declarators.length > 0 ? declarators.map(at => tree.textOf(tree.child(at, Field.Name))) : kind === Kind.MethodDeclaration ? [tree.textOf(tree.child(member, Field.Name))] : []
    if (!own.some(name => names.has(name))) { rest.push(member); continue }
    for (const name of own) found.add(name)
    const flags = modifiersOf(tree, member), modifiers = tree.childOf(member, Kind.Modifiers)
    if (own.length > 1) throw new Refused('member', `${own.join(' and ')} are declared together`)
    if (flags & (Flags.Static | Flags.Abstract)) throw new Refused('member', `${own[0]} is static or abstract`)
    if (modifiers !== NONE && tree.children(modifiers).some(at => isAnnotation(tree.kind(at)) && !PLAIN_ANNOTATION.test(tree.textOf(at)))) throw new Refused('framework', `${own[0]} has annotations that something else may read`)
    if (modifiers !== NONE && /\b(synchronized|native)\b/.test(tree.textOf(modifiers))) throw new Refused('member', `${own[0]} is synchronized or native`)
    if (kind === Kind.FieldDeclaration) {
      if (!(flags & Flags.Private)) throw new Refused('member', `${own[0]} is a field that others see`)
      fields.push(member)
    } else (flags & Flags.Private ? hidden : faces).push(member)
  }
  for (const name of names) if (!found.has(name)) throw new Refused('member', `${name} is no member of ${symbol.name} that could go`)
  if (fields.length === 0 || faces.length === 0) throw new Refused('members', 'A class of its own needs a field, and a method that others call')
  const [only] = fields
  if (fields.length === 1 && hidden.length === 0 && faces.every(face => { const to = handsOnTo(face, tree); return to !== NONE && fieldOf(to) === fieldOf(only!) })) throw new Refused('done', `Its methods only hand on to ${fieldOf(only!)} already`)
  if (rest.every(at => tree.kind(at) === Kind.ConstructorDeclaration || modifiersOf(tree, at) & Flags.Static)) throw new Refused('members', `Nothing would be left of an object of ${symbol.name}`)
  const all = [...fields, ...faces, ...hidden], moving = membersAt(all, symbol, file, bound), faceMembers = membersAt(faces, symbol, file, bound)
  const constructors = fillingConstructors(symbol, file, bound)
  const filled = fields.map(fieldOf).filter(name => constructors.some(one => one.filled.has(name)))
  for (const name of filled) if (!constructors.every(one => one.filled.has(name))) throw new Refused('used', `Not every constructor fills ${name} with an argument`)
  if (fields.some(at => filled.includes(fieldOf(at)) && tree.child(tree.childOf(at, Kind.VariableDeclarator), Field.Value) !== NONE)) throw new Refused('used', 'A field is made and filled, too')
  const filling = new Set(constructors.flatMap(one => filled.map(name => one.filled.get(name)!.statement)))
  const variables = new Set(symbol.typeParameters.map(one => one.name))
  const called = new Set<MemberSymbol>()
  const line = (at: Node) => tree.text.slice(0, tree.start(at)).split('\n').length
  for (const member of tree.children(declared.body)) {
    const inside = all.includes(member)
    for (let at = member; at < tree.after(member); at += NODE_WIDTH) {
      if (filling.has(at)) { at = tree.after(at) - NODE_WIDTH; continue }
      const kind = tree.kind(at)
      if (inside && (kind === Kind.Super || (kind === Kind.This && !isOwnUse(at, file, moving)))) throw new Refused('between', `The object itself, or what it inherits, is spoken of in line ${line(at)}`)
      if (inside && kind === Kind.TypeIdentifier && variables.has(tree.textOf(at)) && !(file.meaning(at) instanceof ClassSymbol)) throw new Refused('generic', `A type parameter of the class is spoken of in line ${line(at)}`)
      const made = inside && kind === Kind.ObjectCreationExpression ? file.meaning(at) : undefined
      if (made instanceof MethodSymbol && made.owner === symbol && made.flags & Flags.Private) throw new Refused('between', `The constructor that line ${line(at)} calls is private to ${symbol.name}`)
      if (kind !== Kind.Identifier && kind !== Kind.TypeIdentifier) continue
      const meaning = file.meaning(at)
      if (!meaning || (!(meaning instanceof ClassSymbol) && meaning.kind === 'local')) continue
      if (meaning instanceof ClassSymbol) {
        if (inside && meaning.outer === symbol && meaning.flags & Flags.Private) throw new Refused('between', `${meaning.name} is private to ${symbol.name}`)
        continue
      }
      const one = meaning as MemberSymbol
      if (moving.has(one)) {
        if (inside && faceMembers.has(one)) called.add(one)
        const qualifier = qualifierOf(at, file)
        const mine = qualifier === NONE || tree.kind(qualifier) === Kind.This
        if (!faceMembers.has(one) && (!inside || !mine)) throw new Refused('used', `${one.name} is used outside the group too, line ${line(at)}`)
        // In a class within a method `this` is another object, which is seen by the name alone.
        continue
      }
      if (!inside) continue
      if (one.owner !== symbol && !hierarchy.ancestorsOf(symbol).has(one.owner)) continue
      const qualifier = qualifierOf(at, file)
      if (one.isStatic) { if (one.flags & Flags.Private) throw new Refused('between', `${one.name} is private to ${symbol.name}`); continue }
      if (qualifier === NONE || tree.kind(qualifier) === Kind.This) throw new Refused('between', `${one.name}, which stays, is used in line ${line(at)}`)
      if (one.owner === symbol && one.flags & Flags.Private) throw new Refused('between', `${one.name} is private to ${symbol.name}`)
    }
  }
  if (all.some(at => new RegExp(`\\b${symbol.name}\\.this\\b`).test(tree.textOf(at)))) throw new Refused('between', 'The object itself is spoken of')
  for (const other of declarations.keys()) {
    if (other === symbol || !hierarchy.ancestorsOf(other).has(symbol)) continue
    for (const one of called) if (one instanceof MethodSymbol && other.own(one.name).some(method => method instanceof MethodSymbol && overloads.overrides(other, method, one))) throw new Refused('overridden', `${one.name} is overridden, and the group calls it`)
  }
  refuseOrder(file, declared.body, fields, filled.length > 0)
  if (filled.length > 0) refuseTooLate(symbol, constructors, new Set(filled), new Set(all), file, bound)
  return { file, fields, filled, constructors, faces, hidden, moving }
}

/** `this.x` of what goes along. */
function isOwnUse(at: Node, file: JavaFile, moving: ReadonlySet<MemberSymbol>): boolean {
  const { tree } = file
  const parent = parentOf(tree, at)
  const name = tree.kind(parent) === Kind.FieldAccess ? tree.child(parent, Field.Field) : tree.kind(parent) === Kind.MethodInvocation && tree.child(parent, Field.Object) === at ? tree.child(parent, Field.Name) : NONE
  const meaning = name === NONE ? undefined : file.meaning(name) ?? file.meaning(parent)
  return meaning !== undefined && moving.has(meaning as MemberSymbol)
}

/** An enum's constant after `case`, which has to stand without the name of the enum. */
export function isEnumLabel(at: Node, file: JavaFile): boolean {
  const meaning = file.meaning(at)
  return file.tree.kind(parentOf(file.tree, at)) === Kind.SwitchLabel && meaning !== undefined && !(meaning instanceof ClassSymbol) && meaning.kind === 'field' && (meaning.flags & Flags.Enum) !== 0
}

/** What stands before the dot of a name; NONE where nothing does. */
export function qualifierOf(at: Node, { tree }: JavaFile): Node {
  const parent = parentOf(tree, at)
  if (tree.kind(parent) === Kind.FieldAccess && tree.child(parent, Field.Field) === at) return tree.first(parent)
  if (tree.kind(parent) === Kind.MethodInvocation && tree.child(parent, Field.Name) === at) return tree.child(parent, Field.Object)
  if (tree.kind(parent) === Kind.MethodReference && tree.children(parent).at(-1) === at) return tree.first(parent)
  return NONE
}

/**
 * Fields are made where the first of them stands, or behind all others where constructors make them (`isLast`): what those in between do
 * must not matter.
 */
function refuseOrder({ tree }: JavaFile, body: Node, fields: readonly Node[], isLast: boolean): void {
  const quiet = (at: Node): boolean => {
    const value = tree.child(tree.childOf(at, Kind.VariableDeclarator), Field.Value)
    return value === NONE || /^(-?[\w.]+L?|"[^"]*"|null|true|false|new \w+(<[^(]*>)?\(\))$/.test(tree.textOf(value))
  }
  const between = tree.children(body).filter(at => at > fields[0]! && (isLast || at < fields.at(-1)!) && !fields.includes(at) && (tree.kind(at) === Kind.FieldDeclaration ? !quiet(at) : tree.kind(at) === Kind.Block))
  if (between.length > 0 && fields.some(at => !quiet(at))) throw new Refused('order', 'Something else is made between them')
}

/** Fields and the methods that share them as a class of their own, which the class holds and hands calls on to. */
export function extractJavaClass(plan: ExtractClassPlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const { file, fields, filled, constructors, faces, hidden, moving } = extraction(symbol, new Set(plan.members), bound)
  const { tree } = file
  const fieldName = tree.textOf(tree.child(tree.childOf(fields[0]!, Kind.VariableDeclarator), Field.Name))
  const taken = new Set(state.facts.files.flatMap(one => one.types.map(type => type.name)))
  const name = plan.name ?? numberedName(symbol.name + fieldName.charAt(0).toUpperCase() + fieldName.slice(1), one => !taken.has(one))
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) || RESERVED.test(name)) return planRefused('name', `${name} is not a name that a class can have.`)
  const target = `${file.path.slice(0, file.path.lastIndexOf('/') + 1)}${name}.java`
  if (bound.program.packages.get(symbol.packageName)?.has(name) || state.source.isFile(`${language.root}/${target}`)) return planRefused('file-exists', `${name} exists already beside it; choose another name.`)
  const left = new Set(symbol.ownMembers.filter(one => !moving.has(one)).map(one => one.name))
  const words = new Set(tree.text.match(/[\p{L}_$][\p{L}\p{N}_$]*/gu))
  const stem = lowerFirst(name.startsWith(symbol.name) && name.length > symbol.name.length ? name.slice(symbol.name.length) : name)
  const field = numberedName(RESERVED.test(stem) ? `${stem}Part` : stem, one => !left.has(one) && (one === fieldName || !words.has(one)))

  const editor = new JavaEditor(bound)
  const own = editor.file(file.path)
  const { lineEnd, indent } = own.style
  const going = tree.children(bound.program.declarations.get(symbol)!.body).filter(at => fields.includes(at) || faces.includes(at) || hidden.includes(at))
  const used = new Set<string>(), firstMethod = going.find(at => !fields.includes(at))
  const texts = going.map(at => {
    const start = faces.includes(at) ? tree.start(at) : commentedStart(file, at), end = tree.end(at)
    const edits = unclassed(at, file, symbol, moving, faces.includes(at))
    for (const word of tree.text.slice(start, end).match(/[\p{L}\p{N}_$]+/gu) ?? []) used.add(word)
    return indent + applyEdits(tree.text.slice(start, end), edits.map(edit => ({ ...edit, start: edit.start - start, end: edit.end - start }))).trimStart()
  })
  const handed = filled.length > 0 ? handedConstructor(name, filled.map(one => ({ name: one, type: typeOf(fields.find(at => nameOf(at, file) === one)!, file) })), indent, lineEnd) : ''
  const body = texts.map((text, index) => (index === 0 ? '' : fields.includes(going[index]!) && fields.includes(going[index - 1]!) ? lineEnd : lineEnd + lineEnd) + (handed !== '' && going[index] === firstMethod ? handed + lineEnd + lineEnd : '') + text).join('')
  const imports = file.imports.filter(one => one.onDemand || used.has(one.name.slice(one.name.lastIndexOf('.') + 1))).map(one => tree.textOf(one.node).trim())
  editor.create(target, [...licence(tree.text, lineEnd), ...(symbol.packageName === '' ? [] : [`package ${symbol.packageName};`, '']), ...imports, ...(imports.length > 0 ? [''] : []), `class ${name} {`, body, '}', ''].join(lineEnd))

  for (const at of faces) {
    const { signature: { result }, name: method } = bound.program.methodAt(file, at)!
    const passed = parameterNodes(tree, at).map(one => parameterName(tree, one))
    const nothing = result.tag === 'special' && result.name === 'void'
    own.replaceNode(tree.child(at, Field.Body), `{${lineEnd}${indent}${indent}${nothing ? '' : 'return '}${passed.includes(field) ? 'this.' : ''}${field}.${method}(${passed.join(', ')});${lineEnd}${indent}}`)
  }
  own.replace(commentedStart(file, fields[0]!), tree.end(fields[0]!), `private final ${name} ${field}${filled.length > 0 ? '' : ` = new ${name}()`};`)
  for (const one of constructors) if (filled.length > 0) makeInConstructor(one, filled, given => `this.${field} = new ${name}(${given.join(', ')});`, file, own)
  removeAllLines([...fields.slice(1), ...hidden].map(at => ({ start: commentedStart(file, at), end: tree.end(at) })), own)
  return checkedJavaStep(editor, context, {
    notes: [`${symbol.name} holds ${withArticle(name)} and hands ${[...new Set(faces.map(at => tree.textOf(tree.child(at, Field.Name))))].join(', ')} on to it.`], choices: { members: plan.members.join(','), name }, planned: []
  })
}

const nameOf = (at: Node, { tree }: JavaFile): string => tree.textOf(tree.child(tree.childOf(at, Kind.VariableDeclarator), Field.Name))

/** The type of a field as it is written, brackets behind its name included. */
function typeOf(at: Node, { tree }: JavaFile): string {
  const declarator = tree.childOf(at, Kind.VariableDeclarator), name = tree.child(declarator, Field.Name)
  return tree.textOf(tree.child(at, Field.Type)) + tree.text.slice(tree.end(name), tree.end(declarator)).trim()
}

/** A constructor that fills fields with its arguments. */
function handedConstructor(name: string, fields: readonly { readonly name: string; readonly type: string }[], indent: string, lineEnd: string): string {
  return [`${indent}${name}(${fields.map(one => `${one.type} ${one.name}`).join(', ')}) {`, ...fields.map(one => `${indent}${indent}this.${one.name} = ${one.name};`), `${indent}}`].join(lineEnd)
}

/** Makes the object where the first of its fields was filled. */
function makeInConstructor({ filled }: FillingConstructor, names: readonly string[], making: (given: readonly string[]) => string, { tree }: JavaFile, own: JavaFileEditor): void {
  const [first, ...others] = names.map(name => filled.get(name)!.statement).sort((a, b) => a - b)
  own.replaceNode(first!, making(names.map(name => filled.get(name)!.argument)))
  removeAllLines(others.map(at => ({ start: tree.start(at), end: tree.end(at) })), own)
}

/** In a class that only its package sees a method needs no access of its own; annotations and documentation stay with the one that hands on. */
function unclassed(at: Node, file: JavaFile, symbol: ClassSymbol, moving: ReadonlySet<MemberSymbol>, isFace: boolean): TextEdit[] {
  const { tree } = file
  const edits: TextEdit[] = []
  const modifiers = tree.childOf(at, Kind.Modifiers)
  if (isFace && modifiers !== NONE) {
    // What every object has is public everywhere.
    const isOfEveryObject = /^(toString|hashCode|equals)$/.test(tree.textOf(tree.child(at, Field.Name)))
    const kept = tree.textOf(modifiers).replace(/@\w+(\([^)]*\))?/g, '').match(isOfEveryObject ? /\b(strictfp|public)\b/g : /\b(strictfp)\b/g) ?? []
    edits.push({ start: tree.start(modifiers), end: tree.end(modifiers) + /^\s*/.exec(tree.text.slice(tree.end(modifiers)))![0].length, text: kept.map(word => `${word} `).join('') })
  }
  for (let node = at; node < tree.after(at); node += 5) {
    if (tree.kind(node) !== Kind.Identifier && tree.kind(node) !== Kind.TypeIdentifier) continue
    const meaning = file.meaning(node)
    const statically = meaning instanceof ClassSymbol ? meaning.outer === symbol : meaning && meaning.kind !== 'local' && meaning.owner === symbol && meaning.isStatic && !moving.has(meaning)
    if (!statically) continue
    const parent = parentOf(tree, node)
    const qualified = ([Kind.ScopedTypeIdentifier, Kind.ScopedIdentifier].includes(tree.kind(parent)) && tree.first(parent) !== node) || qualifierOf(node, file) !== NONE
    if (!qualified && !isEnumLabel(node, file)) edits.push({ start: tree.start(node), end: tree.start(node), text: `${symbol.name}.` })
  }
  return edits
}
