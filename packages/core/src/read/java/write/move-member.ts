import type { TextEdit } from '../../../edit/text-edit.js'
import { applyEdits } from '../../../edit/text-edit.js'
import type { MovableMember, MoveMemberPlan, PlanRefusal } from '../../../model/plan.js'
import type { MemberSymbol } from '../../binding/symbols.js'
import { ClassSymbol, FieldSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { numberedName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { JavaFile, LocalSymbol } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { isAnnotation } from '../type-names.js'
import { checkedJavaStep } from './checked-step.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { isLookedInto } from './certain-look.js'
import { isEnumLabel, PLAIN_ANNOTATION, qualifierOf } from './extraction.js'
import { parameterName, parameterNodes } from './interface-members.js'
import { JavaEditor } from './java-editor.js'
import { typeText } from './type-text.js'

/** A method, static or not, that can stand in the class of one of its arguments. */
interface Move {
  readonly file: JavaFile
  readonly node: Node
  readonly method: MethodSymbol
  readonly parameter: Node
  readonly target: ClassSymbol
  /** Places where the argument is named: there it becomes `this`. */
  readonly named: readonly Node[]
  /** Fields of its own class that it reads, which are handed along, with the places that name them, `this.` counted in. */
  readonly fields: ReadonlyMap<FieldSymbol, readonly Node[]>
}

/** Methods of a class that could stand in the class of one of their arguments, as far as that is seen without trying. */
export function movableJavaMembers(symbol: ClassSymbol, bound: BoundProgram): MovableMember[] {
  const found: MovableMember[] = []
  for (const method of symbol.ownMembers) {
    if (!(method instanceof MethodSymbol) || method.isAbstract || method.node < 0) continue
    for (const target of new Set(method.signature.parameters.flatMap(type => (type.tag === 'class' && type.symbol.source ? [type.symbol] : [])))) {
      try {
        const { named, fields, file, node, parameter } = moveOf(symbol, method.name, target.id, bound)
        // What the other file cannot see would be refused soon.
        const there = new JavaEditor(bound).file(bound.program.declarations.get(target)!.file.path)
        namesThere(node, parameter, file, symbol, there, target, bound, [])
        for (const field of fields.keys()) typeText(field.type, there, target)
        found.push({ member: method.name, to: target.id, uses: new Set(named.map(at => usedOf(at, file.tree))).size, own: fields.size })
      } catch (error) { if (!(error instanceof Refused)) throw error }
    }
  }
  return found
}

/** The member that is used of an object where it is named; empty where it is handed on. */
function usedOf(at: Node, tree: FlatTree): string {
  const parent = parentOf(tree, at)
  if (tree.kind(parent) === Kind.MethodInvocation && tree.child(parent, Field.Object) === at) return tree.textOf(tree.child(parent, Field.Name))
  return tree.kind(parent) === Kind.FieldAccess ? tree.textOf(tree.child(parent, Field.Field)) : ''
}

function moveOf(symbol: ClassSymbol, member: string, to: string, bound: BoundProgram): Move {
  const { program: { declarations, hierarchy } } = bound
  const declared = declarations.get(symbol), file = declared && bound.file(declared.file.path)?.java
  if (!declared || !file || symbol.isInterface || symbol.flags & Flags.Local) throw new Refused('nested', `${symbol.name} is no class whose methods can go`)
  const { tree } = file
  const methods = symbol.own(member).filter((one): one is MethodSymbol => one instanceof MethodSymbol)
  const [method] = methods
  if (!method || methods.length > 1 || method.node < 0 || method.isAbstract) throw new Refused('member', `${member} is abstract, overloaded or no method`)
  const node = parentOf(tree, method.node), body = tree.child(node, Field.Body), modifiers = tree.childOf(node, Kind.Modifiers)
  if (tree.kind(node) !== Kind.MethodDeclaration || body === NONE) throw new Refused('member', `${member} has no body`)
  if (modifiers !== NONE && (/\b(synchronized|native)\b/.test(tree.textOf(modifiers)) || tree.children(modifiers).some(at => isAnnotation(tree.kind(at)) && !PLAIN_ANNOTATION.test(tree.textOf(at))))) throw new Refused('framework', `${member} is synchronized, native, or has annotations that something else may read`)
  const places = method.signature.parameters.map((type, index) => ({ type, index })).filter(({ type }) => type.tag === 'class' && type.symbol.id === to)
  const [place, another] = places
  const target = place?.type.tag === 'class' ? place.type.symbol : undefined
  if (!place || !target || another) throw new Refused('target', `${member} does not take exactly one object of that class`)
  if (target === symbol || target.isInterface || !target.source || target.typeParameters.length > 0 || target.flags & (Flags.Local | Flags.Annotation) || (target.outer && !target.isStatic) || !declarations.has(target)) throw new Refused('target', `${target.name} is generic, an interface, its own class, or belongs to an object of another`)
  const parameter = parameterNodes(tree, node)[place.index]!
  if (tree.kind(parameter) !== Kind.FormalParameter) throw new Refused('target', 'It is one of any number of arguments')
  for (const ancestor of hierarchy.ancestorsOf(target)) if (ancestor.own(member).length > 0) throw new Refused('name-taken', `${target.name} has a ${member} already`)

  const line = (at: Node) => tree.text.slice(0, tree.start(at)).split('\n').length
  const variables = new Set(symbol.typeParameters.map(one => one.name))
  const outers = new Set<ClassSymbol>()
  for (let at: ClassSymbol | null = symbol.outer; at; at = at.outer) outers.add(at)
  const named: Node[] = [], fields = new Map<FieldSymbol, Node[]>()
  const own = (one: MemberSymbol) => one.owner === symbol || outers.has(one.owner) || hierarchy.ancestorsOf(symbol).has(one.owner)
  for (let at = node; at < tree.after(node); at += 5) {
    const kind = tree.kind(at)
    const inClass = isInClass(at, node, tree)
    if (kind === Kind.Super) throw new Refused('between', `It speaks of what its class inherits, line ${line(at)}`)
    if (kind === Kind.This && !inClass) {
      const parent = parentOf(tree, at)
      const field = tree.kind(parent) === Kind.FieldAccess && tree.first(parent) === at ? file.meaning(tree.child(parent, Field.Field)) : undefined
      if (!(field instanceof FieldSymbol)) throw new Refused('between', `${member} uses its object itself, line ${line(at)}`)
      continue
    }
    if (kind === Kind.This && tree.kind(parentOf(tree, at)) !== Kind.FieldAccess && tree.kind(parentOf(tree, at)) !== Kind.MethodInvocation) continue
    if (kind === Kind.TypeIdentifier && variables.has(tree.textOf(at)) && !(file.meaning(at) instanceof ClassSymbol)) throw new Refused('generic', `${member} speaks of a type parameter of its class`)
    if (kind !== Kind.Identifier) continue
    const meaning = file.meaning(at)
    if (!meaning || meaning instanceof ClassSymbol) continue
    if (meaning.kind === 'local') {
      if (meaning.node !== parameter || at === tree.child(parameter, Field.Name)) continue
      if (inClass) throw new Refused('between', `${meaning.name} is used in a class inside the method, line ${line(at)}`)
      if (isSet(at, tree)) throw new Refused('assigned', `${meaning.name} is set to something else, line ${line(at)}`)
      named.push(at)
      continue
    }
    const one = meaning as MemberSymbol
    const qualifier = qualifierOf(at, file)
    if (one.flags & Flags.Private && one.owner.outermost === symbol.outermost && symbol.outermost !== target.outermost && qualifier !== NONE && tree.kind(qualifier) !== Kind.This) throw new Refused('between', `${one.name} is private to ${one.owner.name}, line ${line(at)}`)
    if (qualifier !== NONE && tree.kind(qualifier) !== Kind.This) continue
    if (!own(one)) { if (qualifier === NONE && one.isStatic && !isEnumLabel(at, file) && !inClass && one.owner !== target) throw new Refused('import', `${one.name} is imported by its name alone, line ${line(at)}`); continue }
    if (at === tree.child(node, Field.Name)) continue
    if (one.isStatic) {
      if (one.flags & Flags.Private && symbol.outermost !== target.outermost) throw new Refused('between', `${one.name} is private to ${one.owner.name}, line ${line(at)}`)
      continue
    }
    if (!(one instanceof FieldSymbol) || one.owner !== symbol || !(one.flags & Flags.Final) || inClass) throw new Refused('between', `${member} uses ${one.name}, which stays${one instanceof FieldSymbol ? ' and may be set meanwhile' : ''}, line ${line(at)}`)
    const whole = qualifier === NONE ? at : parentOf(tree, at)
    fields.set(one, [...fields.get(one) ?? [], whole])
  }
  if (!isLookedInto(body, named, tree)) throw new Refused('may-be-missing', `${member} may be handed null, and does not look into it in every case`)
  return { file, node, method, parameter, target, named, fields }
}

function isInClass(at: Node, method: Node, tree: FlatTree): boolean {
  for (let up = parentOf(tree, at); up > method; up = parentOf(tree, up)) if (tree.kind(up) === Kind.ClassBody || tree.kind(up) === Kind.EnumBody || tree.kind(up) === Kind.InterfaceBody) return true
  return false
}

function isSet(at: Node, tree: FlatTree): boolean {
  const parent = parentOf(tree, at)
  return (tree.kind(parent) === Kind.AssignmentExpression && tree.child(parent, Field.Left) === at) || tree.kind(parent) === Kind.UpdateExpression
}

/** Moves a method to the class of one of its arguments; its own class keeps one that hands on, for whoever calls it. */
export function moveJavaMember(plan: MoveMemberPlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound } = context
  const { file, node, method, parameter, target, named, fields } = moveOf(symbol, plan.member, plan.to, bound)
  const { tree } = file
  refuseElsewhere(target, plan.member, bound)
  const editor = new JavaEditor(bound)
  const targetDeclared = bound.program.declarations.get(target)!
  const own = editor.file(file.path), there = editor.file(targetDeclared.file.path)

  const list = parameterNodes(tree, node), left = list.filter(one => one !== parameter)
  const locals = localNames(node, file)
  const handed = [...fields].map(([field, uses]) => ({ field, uses, local: numberedName(field.name, one => !locals.has(one)), type: typeText(field.type, there, target) }))
  const edits: TextEdit[] = []
  for (const at of named) edits.push({ start: tree.start(at), end: tree.end(at), text: 'this' })
  for (const { uses, local } of handed) for (const use of uses) if (tree.textOf(use) !== local) edits.push({ start: tree.start(use), end: tree.end(use), text: local })
  edits.push(...parametersWithout(list, parameter, handed.map(({ type, local }) => `${type} ${local}`).join(', '), tree), ...namesThere(node, parameter, file, symbol, there, target, bound, edits))
  const modifiers = tree.childOf(node, Kind.Modifiers), head = modifiers === NONE ? tree.start(node) : tree.end(modifiers) + /^\s*/.exec(tree.text.slice(tree.end(modifiers)))![0].length
  const kept = modifiers === NONE ? '' : [...tree.textOf(modifiers).matchAll(/@SuppressWarnings\([^)]*\)|\bstrictfp\b/g)].map(([one]) => `${one} `).join('')
  const access = target.packageName === symbol.packageName ? '' : 'public '
  const text = access + kept + applyEdits(tree.text.slice(head, tree.end(node)), edits.sort((a, b) => a.start - b.start || a.end - b.end).map(edit => ({ ...edit, start: edit.start - head, end: edit.end - head })))

  const { lineEnd, indent } = there.style
  const members = there.tree.children(targetDeclared.body), last = members.at(-1)
  if (last === undefined || there.tree.kind(targetDeclared.node) === Kind.EnumDeclaration) throw new Refused('target', `${target.name} has no members beside which it could stand`)
  const margin = there.indentAt(there.tree.start(last))
  there.insert(there.tree.end(last), `${lineEnd}${lineEnd}${margin}${text}`)

  const nothing = method.signature.result.tag === 'special' && method.signature.result.name === 'void'
  const ownMargin = own.indentAt(tree.start(node))
  const passed = [...handed.map(({ field }) => (list.some(one => parameterName(tree, one) === field.name) ? `this.${field.name}` : field.name)), ...left.map(one => parameterName(tree, one))].join(', ')
  own.replaceNode(tree.child(node, Field.Body), `{${lineEnd}${ownMargin}${own.style.indent || indent}${nothing ? '' : 'return '}${parameterName(tree, parameter)}.${plan.member}(${passed});${lineEnd}${ownMargin}}`)
  return checkedJavaStep(editor, context, { notes: [`${symbol.name}.${plan.member} stays for its callers and hands on to ${target.name}.`], choices: { to: plan.to }, planned: [] })
}

/** The parameters of a method without one of them, and with others before the first. */
function parametersWithout(list: readonly Node[], gone: Node, first: string, tree: FlatTree): TextEdit[] {
  const at = list.indexOf(gone), head = tree.start(list[0]!)
  const lead = first !== '' && list.length > 1 ? `${first}, ` : first
  if (at === 0) return [{ start: head, end: list[1] === undefined ? tree.end(gone) : tree.start(list[1]), text: lead }]
  return [...(lead === '' ? [] : [{ start: head, end: head, text: lead }]), { start: tree.end(list[at - 1]!), end: tree.end(gone), text: '' }]
}

function localNames(node: Node, file: JavaFile): Set<string> {
  const names = new Set<string>()
  for (let at = node; at < file.tree.after(node); at += 5) {
    const meaning = file.tree.kind(at) === Kind.Identifier ? file.meaning(at) : undefined
    if (meaning && !(meaning instanceof ClassSymbol) && meaning.kind === 'local') names.add((meaning as LocalSymbol).name)
  }
  return names
}

/** Classes as the other file names them, and statics of the class that is left by that class's name. */
function namesThere(node: Node, gone: Node, file: JavaFile, symbol: ClassSymbol, there: ReturnType<JavaEditor['file']>, target: ClassSymbol, { program: { hierarchy } }: BoundProgram, before: readonly TextEdit[]): TextEdit[] {
  const { tree } = file
  const edits: TextEdit[] = []
  for (let at = node; at < tree.after(node); at += 5) {
    if (at === gone) { at = tree.after(gone) - 5; continue }
    const kind = tree.kind(at)
    if (kind === Kind.Modifiers && parentOf(tree, at) === node) { at = tree.after(at) - 5; continue }
    if ((kind !== Kind.Identifier && kind !== Kind.TypeIdentifier) || before.some(edit => edit.start <= tree.start(at) && tree.end(at) <= edit.end && edit.start < edit.end)) continue
    const meaning = file.meaning(at), parent = parentOf(tree, at)
    const dotted = [Kind.ScopedTypeIdentifier, Kind.ScopedIdentifier].includes(tree.kind(parent)) && tree.first(parent) !== at
    if (meaning instanceof ClassSymbol) {
      if (dotted || qualifierOf(at, file) !== NONE || meaning.flags & Flags.Local) continue
      const name = there.nameOf(meaning, target)
      if (name !== tree.textOf(at)) edits.push({ start: tree.start(at), end: tree.end(at), text: name })
    } else if (meaning && meaning.kind !== 'local' && at !== tree.child(node, Field.Name) && meaning.isStatic && qualifierOf(at, file) === NONE && !isEnumLabel(at, file)) {
      const one = meaning as MemberSymbol
      let outer: ClassSymbol | null = symbol
      while (outer && outer !== one.owner && !hierarchy.ancestorsOf(outer).has(one.owner)) outer = outer.outer
      if (outer) edits.push({ start: tree.start(at), end: tree.start(at), text: `${there.nameOf(one.owner, target)}.` })
    }
  }
  return edits
}

/** A subclass with a method of that name would override it; an object that a library makes up would not do what it does. */
function refuseElsewhere(target: ClassSymbol, member: string, bound: BoundProgram): void {
  const { program: { declarations, hierarchy }, trees } = bound
  for (const other of declarations.keys()) {
    if (other !== target && other.own(member).length > 0 && hierarchy.ancestorsOf(other).has(target)) throw new Refused('overridden', `${other.name || 'A subclass'} has a ${member} of its own`)
  }
  const made = new RegExp(`\\b(mock|spy|createMock|niceMock|strictMock)\\(\\s*${target.name}\\.class|@(Mock|MockBean|Spy|Injectable|Mocked)\\b[^;]*\\b${target.name}\\b`)
  for (const [path, tree] of trees) if (tree.text.includes(target.name) && made.test(tree.text)) throw new Refused('mocked', `${path} lets a library make up a ${target.name}, which would not do what ${member} does`)
}
