import type { FieldSymbol, MemberSymbol } from '../../binding/symbols.js'
import { ClassSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH, NONE } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { modifiersOf } from '../declare.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { isAnnotation } from '../type-names.js'
import type { FillingConstructor } from './filled-fields.js'
import { fillingConstructors, refuseTooLate } from './filled-fields.js'
import { handsOnTo } from './handing-on.js'
import { membersAt } from './moved-members.js'
import { isSettled } from './settled.js'
import type { SharedJavaField } from './shared-fields.js'
import { sharedJavaFields } from './shared-fields.js'
import { refuseWrittenOut } from './written-out.js'

/** Members of a class that can stand in one of their own. */
export interface Extraction {
  readonly file: JavaFile
  readonly fields: readonly Node[]
  /** Names of those that constructors fill with arguments. */
  readonly filled: readonly string[]
  readonly constructors: readonly FillingConstructor[]
  /** Fields that nothing sets once they are filled, and that what stays needs as well: each of the two classes has them. */
  readonly shared: readonly SharedJavaField[]
  /** Methods that others call: they stay and hand on. */
  readonly faces: readonly Node[]
  readonly hidden: readonly Node[]
  /** Names of hidden methods, where what stays calls them: it asks the new class afterwards. */
  readonly asked: readonly Node[]
  /** Private constants that what goes uses: they go along. */
  readonly constants: readonly Node[]
  /** Where what stays names these constants. */
  readonly named: readonly Node[]
  /** Whether the new class would need the old one: its statics, the types inside it, or itself. */
  readonly leadsBack: boolean
  /** Private static members that what goes uses: the package sees them afterwards. */
  readonly opened: ReadonlySet<MemberSymbol>
  readonly moving: ReadonlySet<MemberSymbol>
  /** Whether the class inherits from another: statics that it has from there are named by that. */
  isInherited(holder: ClassSymbol): boolean
}

/** Whether some members of a class can go into a class of their own that does without it, as far as that is seen without trying. */
export function canExtractJavaClass(symbol: ClassSymbol, members: readonly string[], bound: BoundProgram): boolean {
  try { return !extractionOf(symbol, new Set(members), bound).leadsBack } catch (error) {
    if (error instanceof Refused) return false
    throw error
  }
}

/** Annotations that say nothing to anybody but the compiler. */
export const PLAIN_ANNOTATION = /^@(Override|Deprecated|SuppressWarnings)\b/

/** What goes of the members that are named. Throws `Refused` where they cannot. O(size of the class). */
export function extractionOf(symbol: ClassSymbol, chosen: ReadonlySet<string>, bound: BoundProgram): Extraction {
  const { program: { declarations, hierarchy }, overloads } = bound
  const declared = declarations.get(symbol)
  const file = declared && bound.file(declared.file.path)?.java
  if (!declared || !file || symbol.outer || symbol.isInterface || symbol.flags & (Flags.Enum | Flags.Record | Flags.Local)) throw new Refused('nested', `${symbol.name} is no class at the top of its file`)
  refuseWrittenOut(symbol, bound)
  const { tree } = file
  const fields: Node[] = [], faces: Node[] = [], hidden: Node[] = [], rest: Node[] = []
  /** `tank` of its declaration, of `tank` and of `this.tank`. */
  const fieldOf = (at: Node): string => tree.textOf(tree.kind(at) === Kind.FieldDeclaration ? tree.child(tree.childOf(at, Kind.VariableDeclarator), Field.Name) : tree.kind(at) === Kind.FieldAccess ? tree.child(at, Field.Field) : at)
  const sharable = sharedJavaFields(symbol, file, bound), constructors = fillingConstructors(symbol, file, bound)
  const staying = usedByWhatStays(declared.body, chosen, constructors, file), used = fieldsUsedIn(membersNamed(declared.body, chosen, file, true), new Set(), file)
  // What only the group uses goes along, named or not.
  const names = new Set([...chosen, ...[...sharable.values()].filter(one => one.symbol.flags & Flags.Private && !staying.has(one.symbol) && used.has(one.symbol)).map(one => one.name)])
  const staysToo = (name: string) => sharable.has(name) && (staying.has(sharable.get(name)!.symbol) || !(sharable.get(name)!.symbol.flags & Flags.Private))
  const found = new Set<string>()
  for (const member of tree.children(declared.body)) {
    const kind = tree.kind(member)
    const declarators = kind === Kind.FieldDeclaration ? tree.children(member).filter(at => tree.kind(at) === Kind.VariableDeclarator) : []
    const own = declarators.length > 0 ? declarators.map(at => tree.textOf(tree.child(at, Field.Name))) : kind === Kind.MethodDeclaration ? [tree.textOf(tree.child(member, Field.Name))] : []
    if (!own.some(name => names.has(name))) { rest.push(member); continue }
    for (const name of own) found.add(name)
    if (kind === Kind.FieldDeclaration && staysToo(own[0]!)) { rest.push(member); continue }
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
  if (faces.length + hidden.length === 0) throw new Refused('members', 'A class of its own needs a method')
  if (rest.every(at => tree.kind(at) === Kind.ConstructorDeclaration || modifiersOf(tree, at) & Flags.Static)) throw new Refused('members', `Nothing would be left of an object of ${symbol.name}`)
  const { constants, named } = ownConstants(declared.body, new Set([...fields, ...faces, ...hidden]), symbol, file, bound)
  const all = [...fields, ...faces, ...hidden], moving = membersAt([...constants, ...all], symbol, file, bound), faceMembers = membersAt(faces, symbol, file, bound)
  const filled = fields.map(fieldOf).filter(name => constructors.some(one => one.filled.has(name)))
  for (const name of filled) if (!constructors.every(one => one.filled.has(name))) throw new Refused('used', `Not every constructor fills ${name} with an argument`)
  if (fields.some(at => filled.includes(fieldOf(at)) && tree.child(tree.childOf(at, Kind.VariableDeclarator), Field.Value) !== NONE)) throw new Refused('used', 'A field is made and filled, too')
  const filling = new Set(constructors.flatMap(one => filled.map(name => one.filled.get(name)!.statement)))
  const variables = new Set(symbol.typeParameters.map(one => one.name))
  const called = new Set<MemberSymbol>(), shared = new Map<string, SharedJavaField>(), asked: Node[] = [], opened = new Set<MemberSymbol>()
  const own = new Set<MemberSymbol>([...moving, ...[...sharable.values()].map(one => one.symbol)])
  let leadsBack = false
  const line = (at: Node) => tree.text.slice(0, tree.start(at)).split('\n').length
  for (const member of tree.children(declared.body)) {
    if (constants.includes(member)) continue
    const inside = all.includes(member)
    for (let at = member; at < tree.after(member); at += NODE_WIDTH) {
      if (filling.has(at)) { at = tree.after(at) - NODE_WIDTH; continue }
      const kind = tree.kind(at)
      if (inside && (kind === Kind.Super || (kind === Kind.This && !isOwnUse(at, file, own)))) throw new Refused('between', `The object itself, or what it inherits, is spoken of in line ${line(at)}`)
      if (inside && kind === Kind.TypeIdentifier && variables.has(tree.textOf(at)) && !(file.meaning(at) instanceof ClassSymbol)) throw new Refused('generic', `A type parameter of the class is spoken of in line ${line(at)}`)
      const made = inside && kind === Kind.ObjectCreationExpression ? file.meaning(at) : undefined
      if (made instanceof MethodSymbol && made.owner === symbol && made.flags & Flags.Private) throw new Refused('between', `The constructor that line ${line(at)} calls is private to ${symbol.name}`)
      if (made instanceof MethodSymbol && made.owner.outer === symbol && !made.owner.isStatic && !(made.owner.flags & (Flags.Interface | Flags.Enum | Flags.Record))) throw new Refused('between', `${made.owner.name}, which line ${line(at)} makes, belongs to an object of ${symbol.name}`)
      if (kind !== Kind.Identifier && kind !== Kind.TypeIdentifier) continue
      const meaning = file.meaning(at)
      if (!meaning || (!(meaning instanceof ClassSymbol) && meaning.kind === 'local')) continue
      if (meaning instanceof ClassSymbol) {
        if (inside && (meaning === symbol || meaning.outer === symbol)) leadsBack = true
        if (inside && meaning.outer === symbol && meaning.flags & Flags.Private) throw new Refused('between', `${meaning.name} is private to ${symbol.name}`)
        continue
      }
      const one = meaning as MemberSymbol
      if (moving.has(one)) {
        if (named.includes(at)) continue
        if (inside && faceMembers.has(one)) called.add(one)
        const qualifier = qualifierOf(at, file)
        const mine = qualifier === NONE || tree.kind(qualifier) === Kind.This
        if (!faceMembers.has(one) && (!inside || !mine)) {
          if (inside || !(one instanceof MethodSymbol) || tree.kind(parentOf(tree, at)) !== Kind.MethodInvocation) throw new Refused('used', `${one.name} is used outside the group too, line ${line(at)}`)
          if (tree.kind(member) === Kind.FieldDeclaration || tree.kind(member) === Kind.Block) throw new Refused('order', `Something is made with what ${one.name} does, line ${line(at)}`)
          asked.push(at)
        }
        // In a class within a method `this` is another object, which is seen by the name alone.
        continue
      }
      if (!inside) continue
      if (one.owner !== symbol && !hierarchy.ancestorsOf(symbol).has(one.owner)) continue
      const qualifier = qualifierOf(at, file)
      if (one.isStatic) {
        if (one.owner === symbol) leadsBack = true
        else if (qualifier === NONE && !canNameStatic(one, symbol, file)) throw new Refused('between', `${one.name}, which line ${line(at)} uses, is inherited from ${one.owner.name}, which a class beside it cannot name`)
        if (one.flags & Flags.Private) opened.add(one)
        continue
      }
      if (sharable.get(one.name)?.symbol === one && (qualifier === NONE || tree.kind(qualifier) === Kind.This)) { shared.set(one.name, sharable.get(one.name)!); continue }
      if (qualifier === NONE || tree.kind(qualifier) === Kind.This) throw new Refused('between', `${one.name}, which stays, is used in line ${line(at)}`)
      if (one.owner === symbol && one.flags & Flags.Private) throw new Refused('between', `${one.name} is private to ${symbol.name}`)
    }
  }
  if (all.some(at => new RegExp(`\\b${symbol.name}\\.this\\b`).test(tree.textOf(at)))) throw new Refused('between', 'The object itself is spoken of')
  for (const other of declarations.keys()) {
    if (other === symbol || !hierarchy.ancestorsOf(other).has(symbol)) continue
    for (const one of called) if (one instanceof MethodSymbol && other.own(one.name).some(method => method instanceof MethodSymbol && overloads.overrides(other, method, one))) throw new Refused('overridden', `${one.name} is overridden, and the group calls it`)
  }
  if (faces.length + asked.length === 0) throw new Refused('members', 'A class of its own needs a method that others call')
  const [only, another] = new Set([...fields.map(fieldOf), ...shared.keys()])
  if (only !== undefined && another === undefined && hidden.length === 0 && faces.every(face => { const to = handsOnTo(face, tree); return to !== NONE && fieldOf(to) === only })) throw new Refused('done', `Its methods only hand on to ${only} already`)
  for (const one of shared.values()) if ([...variables].some(name => new RegExp(`\\b${name}\\b`).test(one.type))) throw new Refused('generic', `${one.name} is of a type that the class leaves open`)
  for (const one of shared.values()) for (let at = tree.child(one.declared, Field.Type); at < tree.after(tree.child(one.declared, Field.Type)); at += NODE_WIDTH) {
    const meaning = tree.kind(at) === Kind.TypeIdentifier ? file.meaning(at) : undefined
    if (meaning === symbol || (meaning instanceof ClassSymbol && meaning.outer === symbol)) leadsBack = true
    if (meaning instanceof ClassSymbol && meaning.outer === symbol && meaning.flags & Flags.Private) throw new Refused('between', `${meaning.name} is private to ${symbol.name}`)
  }
  const isMadeInConstructor = filled.length > 0 || [...shared.values()].some(one => !one.isMade)
  refuseOrder(file, declared.body, fields, isMadeInConstructor || shared.size > 0)
  if (isMadeInConstructor) refuseTooLate(symbol, constructors.map(one => ({ node: one.node, statements: [...filled.map(name => one.filled.get(name)!.statement), ...[...shared.values()].flatMap(field => field.fillings.get(one.node)?.statement ?? [])] })), new Set(all), file, bound)
  return { file, fields, filled, constructors, shared: [...shared.values()].sort((a, b) => a.declared - b.declared), faces, hidden, asked, constants, named, leadsBack, opened, moving, isInherited: holder => hierarchy.ancestorsOf(symbol).has(holder) }
}

/** Whether a class beside another can use a static that the other inherits, by the name that its file has for who declares it. */
function canNameStatic({ flags, owner }: MemberSymbol, symbol: ClassSymbol, file: JavaFile): boolean {
  const isBeside = owner.packageName === symbol.packageName
  return !owner.outer && (isBeside || (flags & Flags.Protected) === 0) && (isBeside || file.imports.some(one => !one.onDemand && one.name === `${owner.packageName}.${owner.name}`))
}

/** Own fields that anything but the named members uses; where a constructor only fills one with an argument, that is no use. */
function usedByWhatStays(body: Node, names: ReadonlySet<string>, constructors: readonly FillingConstructor[], file: JavaFile): ReadonlySet<FieldSymbol> {
  return fieldsUsedIn(membersNamed(body, names, file, false), new Set(constructors.flatMap(one => [...one.filled.values()].map(({ statement }) => statement))), file)
}

/** Private constants of a class, told when it is compiled, that some of its members use, each by its name alone. */
function ownConstants(body: Node, members: ReadonlySet<Node>, symbol: ClassSymbol, file: JavaFile, bound: BoundProgram): { readonly constants: Node[]; readonly named: Node[] } {
  const { tree } = file, used = fieldsUsedIn([...members], new Set(), file), named = new Map<MemberSymbol, Node[]>(), qualified = new Set<MemberSymbol>()
  for (let at = body; at < tree.after(body); at += NODE_WIDTH) {
    const meaning = tree.kind(at) === Kind.Identifier ? file.meaning(at) : undefined
    if (!meaning || meaning instanceof ClassSymbol || meaning.kind !== 'field' || tree.kind(parentOf(tree, at)) === Kind.VariableDeclarator && tree.child(parentOf(tree, at), Field.Name) === at) continue
    if (qualifierOf(at, file) !== NONE) qualified.add(meaning)
    else if (![...members].some(member => member <= at && at < tree.after(member))) named.set(meaning, [...named.get(meaning) ?? [], at])
  }
  const constants = tree.children(body).filter(at => {
    const flags = modifiersOf(tree, at), declarators = tree.kind(at) === Kind.FieldDeclaration ? tree.children(at).filter(one => tree.kind(one) === Kind.VariableDeclarator) : []
    const value = declarators.length === 1 ? tree.child(declarators[0]!, Field.Value) : NONE
    if ((flags & Flags.Static) === 0 || (flags & Flags.Final) === 0 || (flags & Flags.Private) === 0 || value === NONE || !isSettled(value, file, bound.program)) return false
    return [...membersAt([at], symbol, file, bound)].every(one => used.has(one as FieldSymbol) && !qualified.has(one))
  })
  return { constants, named: [...membersAt(constants, symbol, file, bound)].flatMap(one => named.get(one) ?? []) }
}

/** The methods and fields of a class that have certain names, or all other members. */
function membersNamed(body: Node, names: ReadonlySet<string>, { tree }: JavaFile, are: boolean): Node[] {
  return tree.children(body).filter(member => {
    const kind = tree.kind(member)
    const isNamed = kind === Kind.MethodDeclaration ? names.has(tree.textOf(tree.child(member, Field.Name))) : kind === Kind.FieldDeclaration && tree.children(member).some(at => tree.kind(at) === Kind.VariableDeclarator && names.has(tree.textOf(tree.child(at, Field.Name))))
    return isNamed === are
  })
}

function fieldsUsedIn(members: readonly Node[], passedOver: ReadonlySet<Node>, file: JavaFile): ReadonlySet<FieldSymbol> {
  const { tree } = file, used = new Set<FieldSymbol>()
  for (const member of members) for (let at = member; at < tree.after(member); at += NODE_WIDTH) {
    if (passedOver.has(at)) { at = tree.after(at) - NODE_WIDTH; continue }
    const meaning = tree.kind(at) === Kind.Identifier ? file.meaning(at) : undefined
    if (meaning && !(meaning instanceof ClassSymbol) && meaning.kind === 'field') used.add(meaning as FieldSymbol)
  }
  return used
}

/** `this.x` of what goes along, or is shared. */
function isOwnUse(at: Node, file: JavaFile, own: ReadonlySet<MemberSymbol>): boolean {
  const { tree } = file
  const parent = parentOf(tree, at)
  const name = tree.kind(parent) === Kind.FieldAccess ? tree.child(parent, Field.Field) : tree.kind(parent) === Kind.MethodInvocation && tree.child(parent, Field.Object) === at ? tree.child(parent, Field.Name) : NONE
  const meaning = name === NONE ? undefined : file.meaning(name) ?? file.meaning(parent)
  return meaning !== undefined && own.has(meaning as MemberSymbol)
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
