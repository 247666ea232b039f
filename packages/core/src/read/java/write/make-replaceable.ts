import type { TextEdit } from '../../../edit/text-edit.js'
import { applyEdits } from '../../../edit/text-edit.js'
import type { MakeReplaceablePlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { MemberSymbol } from '../../binding/symbols.js'
import { ClassSymbol, Flags } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { numberedName, proposedInterfaceName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import { removeAllLines } from '../../write/removed-lines.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { modifiersOf } from '../declare.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { checkedJavaStep } from './checked-step.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { licence, RESERVED } from './extract-interface.js'
import { hasInstance, instanceGiver } from './instance-giver.js'
import { parameterName, parameterNodes, signatureLines } from './interface-members.js'
import { JavaEditor, NewJavaFile } from './java-editor.js'
import { commentedStart, membersAt } from './moved-members.js'
import { takenNames } from './taken-names.js'

/** The members of a class of statics, by what becomes of them. */
interface Statics {
  readonly faces: readonly Node[]
  readonly hidden: readonly Node[]
}

function staticsOf(symbol: ClassSymbol, bound: BoundProgram): Statics | Refused {
  const declared = bound.program.declarations.get(symbol)
  if (!declared || symbol.outer || symbol.isInterface || symbol.flags & (Flags.Enum | Flags.Record | Flags.Local)) return new Refused('nested', `${symbol.name} is no class at the top of its file`)
  const { file: { tree }, node, body } = declared
  if (symbol.typeParameters.length > 0 || tree.child(node, Field.Superclass) !== NONE || tree.child(node, Field.Interfaces) !== NONE) return new Refused('heritage', `${symbol.name} inherits or is generic`)
  const faces: Node[] = [], hidden: Node[] = []
  for (const member of tree.children(body)) {
    const flags = modifiersOf(tree, member), isPrivate = (flags & Flags.Private) !== 0
    const name = tree.kind(member) === Kind.FieldDeclaration ? tree.textOf(tree.child(tree.childOf(member, Kind.VariableDeclarator), Field.Name)) : tree.textOf(tree.child(member, Field.Name))
    switch (tree.kind(member)) {
      // What keeps others from making one.
      case Kind.ConstructorDeclaration: if (isPrivate && parameterNodes(tree, member).length === 0) break; return new Refused('mixed', `${symbol.name} can be made: it has a constructor`)
      case Kind.MethodDeclaration:
        if (!(flags & Flags.Static)) return new Refused('mixed', `${symbol.name} has members of its objects too, such as ${name}`)
        if (name === 'main' && !isPrivate) break
        if (/\bnative\b/.test(tree.text.slice(tree.start(member), tree.start(tree.child(member, Field.Name))))) return new Refused('native', `${name} is native`)
        if (isPrivate) hidden.push(member)
        else faces.push(member)
        break
      case Kind.FieldDeclaration:
        if (!(flags & Flags.Static)) return new Refused('mixed', `${symbol.name} has members of its objects too, such as ${name}`)
        if (isPrivate) hidden.push(member)
        else if (!(flags & Flags.Final)) return new Refused('field', `${name} is a static variable that others can set`)
        break
      case Kind.ClassDeclaration: case Kind.InterfaceDeclaration: case Kind.EnumDeclaration: case Kind.RecordDeclaration: case Kind.AnnotationTypeDeclaration:
        if (tree.kind(member) === Kind.ClassDeclaration && !(flags & Flags.Static)) return new Refused('mixed', `${name} belongs to an object of ${symbol.name}`)
        break
      default: return new Refused('initialiser', `${symbol.name} has a static initialiser`)
    }
  }
  return faces.length === 0 ? new Refused('no-members', `${symbol.name} has no static methods that others could call`) : { faces, hidden }
}

/** Names of the static methods that would be called through an instance; none where that cannot be done. */
export function replaceableMethods(symbol: ClassSymbol, bound: BoundProgram): string[] {
  const statics = staticsOf(symbol, bound)
  if (statics instanceof Refused || hasInstance(symbol)) return []
  const { file: { path }, body } = bound.program.declarations.get(symbol)!
  const file = bound.file(path)?.java
  if (!file) return []
  const { tree } = file
  const going = tree.children(body).filter(at => statics.faces.includes(at) || statics.hidden.includes(at))
  const moving = membersAt(going, symbol, file, bound)
  try { for (const at of going) unstatic(at, file, symbol, moving, bound, false) } catch (error) {
    if (error instanceof Refused) return []
    throw error
  }
  return [...new Set(statics.faces.map(at => tree.textOf(tree.child(at, Field.Name))))]
}

/** A class with what the statics of a class do, behind an interface; the statics stay and call an instance that can be replaced. */
export function makeJavaReplaceable(plan: MakeReplaceablePlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  if (instanceGiver(symbol)) return planRefused('done', `${symbol.name} gives the instance that its static methods call already.`)
  if (hasInstance(symbol)) return planRefused('name-taken', `${symbol.name} has a static method instance() of its own; rename that first.`)
  const statics = staticsOf(symbol, bound)
  if (statics instanceof Refused) throw statics
  const declared = bound.program.declarations.get(symbol)!
  const file = bound.file(declared.file.path)?.java
  if (!file) throw new Refused('not-readable', `${declared.file.path} cannot be followed`)
  const { tree } = file
  const taken = takenNames(context)
  const port = plan.name ?? proposedInterfaceName(symbol.name, taken), implementation = plan.implementation ?? numberedName(`Default${symbol.name}`, name => !taken.has(name))
  const folder = file.path.slice(0, file.path.lastIndexOf('/') + 1)
  for (const name of [port, implementation]) {
    if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) || RESERVED.test(name)) return planRefused('name', `${name} is not a name that a type can have.`)
    if (bound.program.packages.get(symbol.packageName)?.has(name) || state.source.isFile(`${language.root}/${folder}${name}.java`)) return planRefused('file-exists', `${name} exists already beside it; choose another name.`)
  }
  const editor = new JavaEditor(bound)
  const own = editor.file(file.path)
  const { lineEnd, indent } = own.style
  const isPublic = symbol.flags & Flags.Public ? 'public ' : ''
  const head = [...licence(tree.text, lineEnd), ...(symbol.packageName === '' ? [] : [`package ${symbol.packageName};`, ''])]

  const portNames = new NewJavaFile(symbol.packageName, new Set([port]), bound)
  const lines = statics.faces.map(at => signatureLines({ method: bound.program.methodAt(file, at)!, file, node: at }, symbol, portNames, bound, () => undefined, null, undefined))
  const body = lines.flatMap((one, index) => [...(index > 0 && (one.length > 1 || lines[index - 1]!.length > 1) ? [''] : []), ...one.map(line => indent + line)])
  const imports = [...portNames.needed].sort().map(one => `import ${one};`)
  editor.create(`${folder}${port}.java`, [...head, ...imports, ...(imports.length > 0 ? [''] : []), `${isPublic}interface ${port} {`, ...body, '}', ''].join(lineEnd))

  const going = tree.children(declared.body).filter(at => statics.faces.includes(at) || statics.hidden.includes(at))
  const moving = membersAt(going, symbol, file, bound)
  const needed = new Set<string>()
  const members = going.map(at => {
    const isFace = statics.faces.includes(at)
    const start = isFace ? tree.start(at) : commentedStart(file, at), end = tree.end(at)
    const edits = unstatic(at, file, symbol, moving, bound, isFace)
    for (const word of tree.text.slice(start, end).match(/[\p{L}\p{N}_$]+/gu) ?? []) needed.add(word)
    return indent + applyEdits(tree.text.slice(start, end), edits.map(edit => ({ ...edit, start: edit.start - start, end: edit.end - start })))
  })
  const text = members.map((one, index) => (index === 0 ? '' : isField(going[index]!) && isField(going[index - 1]!) ? lineEnd : lineEnd + lineEnd) + one).join('')
  const kept = file.imports.filter(one => one.onDemand || needed.has(one.name.slice(one.name.lastIndexOf('.') + 1))).map(one => tree.textOf(one.node).trim())
  editor.create(`${folder}${implementation}.java`, [...head, ...kept, ...(kept.length > 0 ? [''] : []), `${isPublic ? 'public ' : ''}class ${implementation} implements ${port} {`, text, '}', ''].join(lineEnd))

  const all = new Set(symbol.ownMembers.map(one => one.name))
  const current = numberedName('current', name => !all.has(name)), replace = numberedName(plan.swap === 'during' ? 'during' : 'replace', name => !all.has(name))
  const access = isPublic
  const first = statics.faces[0]!
  const constants = tree.children(declared.body).filter(at => isField(at) && !going.includes(at))
  if (constants.some(at => at > first)) throw new Refused('order', `A constant of ${symbol.name} stands after its methods`)
  const holder = (plan.swap === 'during' ? ambientHolder() : [
    `private static volatile ${port} ${current} = new ${implementation}();`, '',
    '/** What the static methods call. */', `${access}static ${port} instance() {`, `${indent}return ${current};`, '}', '',
    '/** Lets another one stand in; gives the one before, to be put back. */', `${access}static ${port} ${replace}(${port} other) {`, `${indent}${port} before = ${current};`, `${indent}${current} = other;`, `${indent}return before;`, '}'
  ]).map(line => (line === '' ? '' : indent + line)).join(lineEnd)
  own.insert(commentedStart(file, first), holder.slice(indent.length) + lineEnd + lineEnd + indent)
  for (const at of statics.faces) {
    const block = tree.child(at, Field.Body)
    const method = bound.program.methodAt(file, at)!
    const { result } = method.signature
    const nothing = result.tag === 'special' && result.name === 'void'
    const passed = parameterNodes(tree, at).map(one => parameterName(tree, one))
    own.replaceNode(block, `{${lineEnd}${indent}${indent}${nothing ? '' : 'return '}${plan.swap === 'during' ? 'instance()' : `${passed.includes(current) ? `${symbol.name}.` : ''}${current}`}.${method.name}(${passed.join(', ')});${lineEnd}${indent}}`)
  }
  removeAllLines(statics.hidden.map(at => ({ start: commentedStart(file, at), end: tree.end(at) })), own)
  return checkedJavaStep(editor, context, {
    notes: [plan.swap === 'during' ? `Tests let another ${port} stand in with ${symbol.name}.${replace}(other, () -> ...), for their own thread alone; nothing at a caller says what it works with.` : `Tests let another ${port} stand in with ${symbol.name}.${replace}(...), and put the one before back.`], choices: { name: port, implementation, swap: plan.swap }, planned: []
  })

  /** One that there always is, and others for what a thread runs in a call. */
  function ambientHolder(): string[] {
    const others = numberedName('others', name => !all.has(name)), local = own.byName('java.lang', 'ThreadLocal')
    return [
      `private static final ${port} ${current} = new ${implementation}();`, `private static final ${local}<${port}> ${others} = new ${local}<>();`, '',
      '/** What the static methods call: what stands in for this thread, else the one that there always is. */', `${access}static ${port} instance() {`, `${indent}${port} other = ${others}.get();`, `${indent}return other == null ? ${current} : other;`, '}', '',
      '/** Lets another one stand in for what an action runs in this thread; other threads do not see it. */', `${access}static void ${replace}(${port} other, ${own.byName('java.lang', 'Runnable')} action) {`,
      `${indent}${port} before = ${others}.get();`, `${indent}${others}.set(other);`, `${indent}try {`, `${indent}${indent}action.run();`, `${indent}} finally {`,
      `${indent}${indent}if (before == null) {`, `${indent}${indent}${indent}${others}.remove();`, `${indent}${indent}} else {`, `${indent}${indent}${indent}${others}.set(before);`, `${indent}${indent}}`, `${indent}}`, '}'
    ]
  }

  function isField(at: Node): boolean { return tree.kind(at) === Kind.FieldDeclaration }
}

/** The edits that make a static member one of objects; `@Override` and `public` for what the interface promises. */
function unstatic(member: Node, file: JavaFile, symbol: ClassSymbol, moving: ReadonlySet<MemberSymbol>, bound: BoundProgram, isFace: boolean): TextEdit[] {
  const { tree } = file
  const edits: TextEdit[] = []
  const modifiers = tree.childOf(member, Kind.Modifiers)
  const text = tree.textOf(modifiers), start = tree.start(modifiers)
  const found = /\bstatic\b\s*/.exec((text + /^\s*/.exec(tree.text.slice(tree.end(modifiers)))![0]).replace(/@\w+(\([^)]*\))?/g, whole => ' '.repeat(whole.length)))
  if (!found) throw new Refused('modifiers', `The modifiers of ${tree.textOf(tree.child(member, Field.Name))} cannot be read`)
  edits.push({ start: start + found.index, end: start + found.index + found[0].length, text: '' })
  // A promise that only what nothing overrides may make.
  const promise = /@SafeVarargs\b\s*/.exec(text)
  if (promise) edits.push({ start: start + promise.index, end: start + promise.index + promise[0].length, text: '' })
  if (isFace) {
    const access = /\b(public|protected)\b/.exec(text)
    if (!access) edits.push({ start: start + found.index + found[0].length, end: start + found.index + found[0].length, text: 'public ' })
    else if (access[0] !== 'public') edits.push({ start: start + access.index, end: start + access.index + access[0].length, text: 'public' })
    if (bound.trees.size > 0 && [...bound.trees.values()].some(one => one.text.includes('@Override'))) {
      const margin = /[ \t]*$/.exec(tree.text.slice(0, tree.start(member)))![0]
      edits.push({ start: tree.start(member), end: tree.start(member), text: `@Override${tree.text.includes('\r\n') ? '\r\n' : '\n'}${margin}` })
    }
  }
  for (let at = member; at < tree.after(member); at += 5) {
    const meaning = file.meaning(at)
    if (meaning === symbol && (tree.kind(at) === Kind.Identifier || tree.kind(at) === Kind.TypeIdentifier)) {
      // `Logbook.entries`: of what goes along, this object's.
      const parent = parentOf(tree, at), kind = tree.kind(parent)
      const member = kind === Kind.FieldAccess && tree.first(parent) === at ? file.meaning(tree.child(parent, Field.Field)) ?? file.meaning(parent)
        : kind === Kind.MethodInvocation && tree.child(parent, Field.Object) === at ? file.meaning(tree.child(parent, Field.Name)) ?? file.meaning(parent)
          : kind === Kind.MethodReference && tree.first(parent) === at ? file.meaning(tree.children(parent).at(-1)!) : undefined
      if (member && moving.has(member as MemberSymbol)) edits.push({ start: tree.start(at), end: tree.end(at), text: thisHere(at, file) })
      continue
    }
    if (meaning && !(meaning instanceof ClassSymbol) && meaning.kind !== 'local' && meaning.flags & Flags.Private && meaning.owner !== symbol && meaning.owner.outermost === symbol) {
      throw new Refused('not-visible', `${meaning.owner.name}.${meaning.name} is private, and only code inside ${symbol.name} sees it`)
    }
    const owner = meaning instanceof ClassSymbol ? meaning.outer : meaning && meaning.kind !== 'local' ? meaning.owner : null
    if (owner !== symbol || (tree.kind(at) !== Kind.Identifier && tree.kind(at) !== Kind.TypeIdentifier)) continue
    if (!(meaning instanceof ClassSymbol) && moving.has(meaning as MemberSymbol)) continue
    const parent = parentOf(tree, at)
    const qualified = ([Kind.FieldAccess, Kind.ScopedTypeIdentifier, Kind.ScopedIdentifier].includes(tree.kind(parent)) && tree.first(parent) !== at) ||
      (tree.kind(parent) === Kind.MethodInvocation && tree.child(parent, Field.Name) === at && tree.child(parent, Field.Object) !== NONE)
    if (meaning instanceof ClassSymbol && meaning.flags & Flags.Private) throw new Refused('not-visible', `${meaning.name} is private to ${symbol.name}`)
    // A case of an enum is named alone in a switch.
    if (!qualified && tree.kind(parent) !== Kind.SwitchLabel) edits.push({ start: tree.start(at), end: tree.start(at), text: `${symbol.name}.` })
  }
  return edits
}

/** `this` of the object itself, where no class in between has one of its own. */
function thisHere(at: Node, { tree }: JavaFile): string {
  for (let around = parentOf(tree, at); around >= 0; around = parentOf(tree, around)) {
    const kind = tree.kind(around)
    if (kind === Kind.MethodDeclaration || kind === Kind.FieldDeclaration) {
      const holder = parentOf(tree, parentOf(tree, around))
      if (parentOf(tree, holder) > 0) throw new Refused('this', 'It is used inside a class within a method')
      return 'this'
    }
  }
  return 'this'
}
