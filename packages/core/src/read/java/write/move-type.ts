import type { MoveTypePlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { ClassSymbol, Flags } from '../../binding/symbols.js'
import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import { lookedThroughAt } from './looked-through.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { dotted } from '../declare.js'
import type { JavaFile } from '../scope.js'
import { Kind } from '../syntax.js'
import { filesUsing } from './affected-files.js'
import { checkedJavaStep } from './checked-step.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import type { PlannedRebinding } from './flaws.js'
import { JavaEditor } from './java-editor.js'
import { overridesInPackage, Visibility } from './visibility.js'

/** Whether what was written out of a class is meant to be read back by its name: it says its version, and is not only thrown. */
function isKeptByName(symbol: ClassSymbol, { program: { hierarchy } }: Pick<BoundProgram, 'program'>): boolean {
  const ancestors = new Set([...hierarchy.ancestorsOf(symbol)].map(one => one.id))
  return ancestors.has('java.io.Serializable') && !ancestors.has('java.lang.Throwable') && symbol.own('serialVersionUID').length > 0
}

/** Whether a class stands alone in a file that bears its name, so that the file can go to another package. */
export function canMoveJavaType(symbol: ClassSymbol, { program }: Pick<BoundProgram, 'program'>): boolean {
  const declared = program.declarations.get(symbol)
  return declared !== undefined && !symbol.outer && !(symbol.flags & (Flags.Local | Flags.Sealed)) && declared.file.types.length === 1 && symbol.packageName !== '' && !isKeptByName(symbol, { program }) &&
    declared.file.path.endsWith(`${symbol.packageName.replaceAll('.', '/')}/${symbol.name}.java`)
}

/**
 * A class in another package, under the same source root: its file moves, whoever names it imports it from there, and it
 * imports what it saw before as a neighbour. What has to be seen across becomes public.
 */
export function moveJavaType(plan: MoveTypePlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const from = symbol.packageName, to = plan.module
  if (isKeptByName(symbol, bound)) return planRefused('serializable', `${symbol.name} says its serialVersionUID: what was written out under its name could not be read any more.`)
  if (!canMoveJavaType(symbol, bound)) return planRefused('nested', `${symbol.name} does not stand alone in a file of its own package's folder that bears its name.`)
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*(\.[\p{L}_$][\p{L}\p{N}_$]*)*$/u.test(to)) return planRefused('module', `${to} is no package that a class can stand in.`)
  if (to === from) return planRefused('done', `${symbol.name} is in ${to} already.`)
  const { file } = bound.program.declarations.get(symbol)!
  const root = file.path.slice(0, file.path.length - `${from.replaceAll('.', '/')}/${symbol.name}.java`.length)
  const target = `${root}${to.replaceAll('.', '/')}/${symbol.name}.java`
  if (bound.program.packages.get(to)?.has(symbol.name) || state.source.isFile(`${language.root}/${target}`)) return planRefused('file-exists', `${to}.${symbol.name} exists already.`)
  const hidden = overridesInPackage(symbol, bound)
  if (hidden) return planRefused('visibility', `${hidden.owner.name}.${hidden.name} is overridden, and only its package sees it; in another one it would no longer be.`)
  const text = namedInText(symbol.id, bound)
  if (text) return planRefused('named-in-text', `${text} names ${symbol.id} in a text, which would then name nothing.`)
  const looked = lookedThroughAt(symbol, context)
  if (looked) return planRefused('reflection', `${looked} looks at what ${symbol.name} has at run time; from another package it may not.`)
  refuseModules(root, from, to, context)

  const editor = new JavaEditor(bound)
  const notes: string[] = []
  const users = usersOf(symbol, file, context)
  const visibility = seenAcross(symbol, to, users, context)
  for (const user of users) if (user !== file) redirect(user, symbol, to, editor)
  moveFile(bound.file(file.path)!.java, symbol, to, bound, editor)
  editor.move(file.path, target)
  visibility.widen(editor, notes)
  if ([...bound.program.hierarchy.ancestorsOf(symbol)].some(one => one.id === 'java.io.Serializable')) notes.push(`${symbol.name} is serializable: what was written out under its old name cannot be read any more.`)
  const planned: PlannedRebinding[] = [{ types: new Set([symbol.id]), to: `${to}.${symbol.name}`, inside: true }]
  return checkedJavaStep(editor, context, { notes, choices: { module: to }, planned })
}

/** The files that name a class, or something that its file declares, its own among them; by path. */
function usersOf(symbol: ClassSymbol, file: JavaFile, { bound, state }: JavaWriteContext): JavaFile[] {
  const paths = new Set([file.path, ...filesUsing(state, symbol.id), ...importers(symbol.id, bound)])
  for (const inner of state.facts.files.find(one => one.path === file.path)?.types ?? []) for (const path of filesUsing(state, inner.id)) paths.add(path)
  return [...paths].sort().map(path => {
    const user = bound.file(path)?.java
    if (!user) throw new Refused('not-readable', `${path} cannot be followed`)
    return user
  })
}

function seenAcross(symbol: ClassSymbol, to: string, users: readonly JavaFile[], { bound }: JavaWriteContext): Visibility {
  const { file } = bound.program.declarations.get(symbol)!
  const visibility = new Visibility(bound, file, one => (one === file ? to : one.packageName))
  for (const user of users) visibility.look(user)
  return visibility
}

/** Whether more would have to become public than the move is worth, or something that cannot. */
export function wouldOpenTooMuch(symbol: ClassSymbol, to: string, context: JavaWriteContext): boolean {
  const { file } = context.bound.program.declarations.get(symbol)!
  try {
    seenAcross(symbol, to, usersOf(symbol, file, context), context).widen(new JavaEditor(context.bound), [])
    return overridesInPackage(symbol, context.bound) !== undefined
  } catch (error) {
    if (error instanceof Refused) return true
    throw error
  }
}

/** Files that import a class or something in it, whether they use it or not. */
function importers(id: string, bound: BoundProgram): string[] {
  return [...bound.paths].filter(path => bound.file(path)?.java.imports.some(one => isIn(one.name, id)))
}

function isIn(name: string, id: string): boolean { return name === id || name.startsWith(`${id}.`) }

/** A text in the code that names a class: reflection would look for it. */
function namedInText(id: string, { trees }: BoundProgram): string | undefined {
  const slashed = id.replaceAll('.', '/')
  for (const [path, tree] of trees) {
    if (!tree.text.includes(`"${id}`) && !tree.text.includes(slashed)) continue
    for (let at = 0; at < tree.size * 5; at += 5) {
      if (tree.kind(at) !== Kind.StringLiteral) continue
      const text = tree.textOf(at)
      if (text.includes(id) && !new RegExp(`${id.replaceAll('.', '\\.')}[\\w]`).test(text) || text.includes(slashed)) return `${path}:${tree.text.slice(0, tree.start(at)).split('\n').length}`
    }
  }
  return undefined
}

/** A module that exports the one package and not the other would hide the class from its users. */
function refuseModules(root: string, from: string, to: string, { state, language }: JavaWriteContext): void {
  const path = `${root}module-info.java`
  const outcome = state.source.readText(`${language.root}/${path}`)
  if (!('text' in outcome)) return
  const exported = (name: string) => new RegExp(`\\bexports\\s+${name.replaceAll('.', '\\.')}\\s*(;|to\\b)`).test(outcome.text)
  if (exported(from) && !exported(to)) throw new Refused('module', `${path} exports ${from} and not ${to}`)
}

/** Lets a file name the class where it is now. */
function redirect(file: JavaFile, symbol: ClassSymbol, to: string, editor: JavaEditor): void {
  const { tree } = file
  const { id, packageName: from } = symbol
  const own = editor.file(file.path)
  let imported = false
  for (const one of file.imports) {
    if (!isIn(one.name, id)) continue
    const plain = !one.isStatic && !one.onDemand && one.name === id
    if (plain) imported = true
    if (plain && file.packageName === to) own.dropImport(one)
    else {
      const name = tree.childOf(one.node, Kind.ScopedIdentifier)
      own.replace(tree.start(name), tree.end(name), `${to}${dotted(tree, name).slice(from.length)}`)
    }
  }
  const imports = new Set(file.imports.map(one => one.node))
  let simple = false
  for (let at = 0; at < tree.size * 5; at += 5) {
    if (imports.has(at)) { at = tree.after(at) - 5; continue }
    if (file.meaning(at) !== symbol) continue
    const qualifier = qualifierOf(tree, at)
    if (qualifier === NONE) { if (tree.kind(at) === Kind.Identifier || tree.kind(at) === Kind.TypeIdentifier) simple = true }
    else if (dotted(tree, qualifier) === from) own.replace(tree.start(qualifier), tree.end(qualifier), to)
  }
  if (simple && !imported && file.packageName !== to) own.needed.add(`${to}.${symbol.name}`)
}

/** What stands before the dot of a name, or NONE. */
function qualifierOf(tree: FlatTree, node: Node): Node {
  const parent = parentOf(tree, node)
  if (parent < 0 || ![Kind.ScopedTypeIdentifier, Kind.ScopedIdentifier, Kind.FieldAccess].includes(tree.kind(parent))) return NONE
  const first = tree.first(parent)
  return first === node ? NONE : first
}

/** The class's own file for its new package: its former neighbours are imported, its new ones no longer. */
function moveFile(file: JavaFile, symbol: ClassSymbol, to: string, bound: BoundProgram, editor: JavaEditor): void {
  const { tree } = file
  const from = symbol.packageName
  const own = editor.file(file.path)
  const declared = tree.childOf(0, Kind.PackageDeclaration)
  const name = tree.childOf(declared, Kind.ScopedIdentifier) !== NONE ? tree.childOf(declared, Kind.ScopedIdentifier) : tree.childOf(declared, Kind.Identifier)
  own.replace(tree.start(name), tree.end(name), to)
  for (const one of file.imports) {
    if (isIn(one.name, symbol.id)) {
      const scoped = tree.childOf(one.node, Kind.ScopedIdentifier)
      own.replace(tree.start(scoped), tree.end(scoped), `${to}${dotted(tree, scoped).slice(from.length)}`)
    } else if (!one.isStatic && (one.onDemand ? one.name === to : one.name === `${to}.${one.name.slice(one.name.lastIndexOf('.') + 1)}`) && bound.program.packages.has(to)) own.dropImport(one)
  }
  const imports = new Set(file.imports.map(one => one.node))
  for (let at = 0; at < tree.size * 5; at += 5) {
    if (imports.has(at) || at === declared) { at = tree.after(at) - 5; continue }
    const kind = tree.kind(at)
    if (kind !== Kind.Identifier && kind !== Kind.TypeIdentifier) continue
    const meaning = file.meaning(at)
    if (!(meaning instanceof ClassSymbol) || meaning.packageName !== from || tree.textOf(at) !== meaning.name) continue
    const qualifier = qualifierOf(tree, at)
    if (meaning === symbol) { if (qualifier !== NONE && dotted(tree, qualifier) === from) own.replace(tree.start(qualifier), tree.end(qualifier), to); continue }
    if (meaning.outer || qualifier !== NONE || file.singleImports.get(meaning.name)?.name === meaning.id) continue
    own.needed.add(meaning.id)
  }
}
