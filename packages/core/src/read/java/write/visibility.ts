import { ClassSymbol, CONSTRUCTOR, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { MemberSymbol } from '../../binding/symbols.js'
import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { Kind } from '../syntax.js'
import { isAnnotation } from '../type-names.js'
import { classAround } from './class-around.js'
import type { JavaEditor } from './java-editor.js'

type Declared = ClassSymbol | MemberSymbol

/** So many declarations made public would cost more than what is won by it. */
const MOST_WIDENED = 8

/**
 * What code elsewhere could no longer see if one file's types stood in another package, and what they could no longer see:
 * each declaration with a place that needs it. `inMoved`: whether a file is the one that moves.
 */
export class Visibility {
  private readonly wanted = new Map<Declared, { readonly path: string; readonly node: Node }>()

  constructor(private readonly bound: BoundProgram, private readonly moving: JavaFile, private readonly packageOf: (file: JavaFile) => string) {}

  /** Looks at everything that a file names. */
  look(file: JavaFile): void {
    const { tree } = file
    for (let at = 0; at < tree.size * 5; at += 5) {
      const meaning = file.meaning(at)
      if (!meaning || (!(meaning instanceof ClassSymbol) && meaning.kind === 'local')) continue
      this.need(meaning as Declared, file, at)
    }
  }

  private need(meaning: Declared, file: JavaFile, node: Node): void {
    const owner = meaning instanceof ClassSymbol ? meaning : meaning.owner
    const declared = this.bound.program.declarations.get(owner.outermost)
    if (!(meaning instanceof ClassSymbol) && declared && declared.file !== this.moving && this.inheritedThroughMoved(meaning, file, node)) this.want(meaning, file, node)
    // Only between what moves and what stays is anything different afterwards.
    if (!declared || (declared.file === this.moving) === (file === this.moving) || this.packageOf(declared.file) === this.packageOf(file)) return
    for (let at: ClassSymbol | null = meaning instanceof ClassSymbol ? meaning : null; at; at = at.outer) this.want(at, file, node)
    if (!(meaning instanceof ClassSymbol)) this.want(meaning, file, node)
  }

  /** Whether a member that only its package sees is had by way of a class that goes to another: that would not inherit it any more. */
  private inheritedThroughMoved(one: MemberSymbol, file: JavaFile, node: Node): boolean {
    if (one.flags & (Flags.Public | Flags.Protected | Flags.Private) || one.isStatic || one.owner.isInterface) return false
    const { hierarchy } = this.bound.program
    const receiver = file.receivers.get(node) ?? classAround(file, node)
    if (!receiver) return false
    for (const ancestor of hierarchy.ancestorsOf(receiver)) {
      if (ancestor !== one.owner && this.bound.program.declarations.get(ancestor)?.file === this.moving && hierarchy.ancestorsOf(ancestor).has(one.owner)) return true
    }
    return false
  }

  private want(one: Declared, file: JavaFile, node: Node): void {
    if (one.flags & Flags.Public || (!(one instanceof ClassSymbol) && one.owner.isInterface) || this.wanted.has(one)) return
    // The constructor that nobody wrote is as visible as its class.
    if (one instanceof MethodSymbol && one.name === CONSTRUCTOR && one.arity === 0 && this.bound.program.declarations.get(one.owner)?.node === one.node) { this.want(one.owner, file, node); return }
    if (one.flags & Flags.Protected && this.inheritsHere(one, file, node)) return
    this.wanted.set(one, { path: file.path, node })
  }

  /** Whether a place is in a class that inherits a protected member, and speaks of its own. */
  private inheritsHere(one: Declared, file: JavaFile, node: Node): boolean {
    const owner = one instanceof ClassSymbol ? one.outer : one.owner
    const tree = file.tree
    const parent = parentOf(tree, node)
    // Through another object only its own kind may ask; that is told by neither name nor place alone.
    const qualified = tree.kind(parent) === Kind.FieldAccess || (tree.kind(parent) === Kind.MethodInvocation && tree.first(parent) !== node)
    if (qualified && tree.kind(tree.first(parent)) !== Kind.This && tree.kind(tree.first(parent)) !== Kind.Super) return false
    if (one instanceof MethodSymbol && one.name === CONSTRUCTOR && tree.kind(node) === Kind.ObjectCreationExpression) return false
    for (let at: ClassSymbol | null = classAround(file, node) ?? null; at; at = at.outer) if (owner && this.bound.program.hierarchy.ancestorsOf(at).has(owner)) return true
    return false
  }

  /** Makes public what has to be. Throws `Refused` where that is too much or would break what overrides it. */
  widen(editor: JavaEditor, notes: string[]): void {
    if (this.wanted.size > MOST_WIDENED) {
      const [[first]] = this.wanted as unknown as [[Declared, unknown]]
      throw new Refused('visibility', `${this.wanted.size} declarations that only their package sees, such as ${nameOf(first)}, would have to be public`)
    }
    for (const [one, { path, node }] of this.wanted) {
      const where = `${path}:${this.bound.trees.get(path)!.text.slice(0, this.bound.trees.get(path)!.start(node)).split('\n').length}`
      if (one instanceof MethodSymbol && one.name !== CONSTRUCTOR && this.isOverridden(one)) throw new Refused('visibility', `${where} uses ${nameOf(one)}, which would have to be public, and so would all that override it`)
      const owner = one instanceof ClassSymbol ? one : one.owner
      const declared = this.bound.program.declarations.get(owner)!
      const declaration = one instanceof ClassSymbol ? declared.node : declarationOf(one.node, declared.file.tree)
      if (declaration < 0) throw new Refused('visibility', `${where} uses ${nameOf(one)}, which cannot be made public`)
      makePublic(declaration, declared.file, editor)
      notes.push(`${nameOf(one)} becomes public: ${where} uses it from another package.`)
    }
  }

  private isOverridden(method: MethodSymbol): boolean {
    const { program: { declarations, hierarchy }, overloads } = this.bound
    for (const symbol of declarations.keys()) {
      if (symbol === method.owner || !hierarchy.ancestorsOf(symbol).has(method.owner)) continue
      if (symbol.own(method.name).some(other => other instanceof MethodSymbol && overloads.overrides(symbol, other, method))) return true
    }
    return false
  }
}

/** Methods that override one which only their package sees, in a class or above it: in another package they would no longer. */
export function overridesInPackage(symbol: ClassSymbol, { program: { hierarchy, declarations }, overloads }: BoundProgram): MethodSymbol | undefined {
  const hidden = (method: MethodSymbol) => !(method.flags & (Flags.Public | Flags.Protected | Flags.Private)) && !method.owner.isInterface && !method.isStatic && method.name !== CONSTRUCTOR
  const pair = (lower: ClassSymbol, upper: ClassSymbol): MethodSymbol | undefined => upper.ownMembers.find((one): one is MethodSymbol => one instanceof MethodSymbol && hidden(one) &&
    lower.own(one.name).some(other => other instanceof MethodSymbol && overloads.overrides(lower, other, one)))
  for (const other of declarations.keys()) {
    if (other.outermost === symbol.outermost) {
      for (const ancestor of hierarchy.ancestorsOf(other)) if (ancestor.outermost !== symbol.outermost && ancestor.source) { const found = pair(other, ancestor); if (found) return found }
    } else for (const ancestor of hierarchy.ancestorsOf(other)) if (ancestor.outermost === symbol.outermost) { const found = pair(other, ancestor); if (found) return found }
  }
  return undefined
}

function nameOf(one: Declared): string { return one instanceof ClassSymbol ? one.name : one.name === CONSTRUCTOR ? `The constructor of ${one.owner.name}` : `${one.owner.name}.${one.name}` }

/** The declaration of a member by its name's node. */
function declarationOf(node: Node, tree: FlatTree): Node {
  let at = parentOf(tree, node)
  while (at >= 0 && tree.kind(at) === Kind.VariableDeclarator) at = parentOf(tree, at)
  return [Kind.MethodDeclaration, Kind.ConstructorDeclaration, Kind.FieldDeclaration, Kind.CompactConstructorDeclaration].includes(tree.kind(at)) ? at : NONE
}

/** Writes `public` where a declaration says less. */
export function makePublic(declaration: Node, file: JavaFile, editor: JavaEditor): void {
  const { tree } = file
  const own = editor.file(file.path)
  const modifiers = tree.childOf(declaration, Kind.Modifiers)
  if (modifiers === NONE) { own.insert(tree.start(declaration), 'public '); return }
  const annotations = tree.children(modifiers).filter(at => isAnnotation(tree.kind(at)))
  const start = tree.start(modifiers), text = tree.textOf(modifiers)
  for (const found of text.matchAll(/\b(protected|private)\b/g)) {
    const at = start + found.index
    if (annotations.some(one => tree.start(one) <= at && at < tree.end(one))) continue
    own.replace(at, at + found[0].length, 'public')
    return
  }
  const last = annotations.at(-1)
  if (last === undefined) { own.insert(start, 'public '); return }
  const after = tree.end(last), gap = /^\s*/.exec(tree.text.slice(after))![0]
  own.insert(after + gap.length, 'public ')
}
