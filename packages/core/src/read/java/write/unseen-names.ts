import type { MemberSymbol } from '../../binding/symbols.js'
import { ClassSymbol, CONSTRUCTOR, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH, NONE } from '../../syntax/flat-tree.js'
import type { BoundFile } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { Kind } from '../syntax.js'
import { classAround } from './class-around.js'
import { constructorCall, constructorsOf } from './creation-sites.js'

/** Where a name behind a dot is a member of what stands before it. */
const ASKED: ReadonlySet<number> = new Set([Kind.MethodInvocation, Kind.FieldAccess, Kind.MethodReference])
/** What names a class or a member: a name, what is made, `this(...)` and `super(...)`. */
const NAMING: ReadonlySet<number> = new Set([Kind.Identifier, Kind.TypeIdentifier, Kind.ObjectCreationExpression, Kind.This, Kind.Super])
const known = new WeakMap<JavaFile, readonly Node[]>()

/**
 * Where a file names a class or a member of the sources that it cannot see there: private to another class, or known in another package only
 * (JLS 6.6), a member of
 * something of a class that cannot be seen among them. What else is protected is taken as seen. Found once for a file. O(size of the file).
 */
export function unseenNames({ java: file }: BoundFile): readonly Node[] {
  let found = known.get(file)
  if (!found) known.set(file, found = search(file))
  return found
}

function search(file: JavaFile): Node[] {
  const { tree } = file, found: Node[] = []
  for (let at = 0; at < tree.size * NODE_WIDTH; at += NODE_WIDTH) {
    const kind = tree.kind(at), meaning = NAMING.has(kind) ? file.meaning(at) : undefined
    if (!meaning || (!(meaning instanceof ClassSymbol) && meaning.kind === 'local')) continue
    const receiver = file.receivers.get(at)
    // Who extends a class may begin with its protected constructor, and may not make one with it.
    const isProtectedMade = kind === Kind.ObjectCreationExpression && meaning instanceof MethodSymbol && meaning.owner.source && (meaning.flags & Flags.Protected) !== 0 && meaning.owner.packageName !== file.packageName && tree.childOf(at, Kind.ClassBody) === NONE
    if (isProtectedMade || !isSeen(meaning as ClassSymbol | MemberSymbol, at, file) || (receiver && !isSeen(receiver, at, file) && ASKED.has(tree.kind(parentOf(tree, at))))) found.push(at)
  }
  return [...found, ...unseenSupers(file)]
}

/** Classes and constructors that begin, without saying so, with a constructor of the class above that cannot be called from there (JLS 8.8.7, 8.8.9). */
function unseenSupers(file: JavaFile): Node[] {
  return [...file.classes].flatMap(([node, symbol]) => {
    const above = symbol.superclass?.symbol
    if (file.tree.kind(node) !== Kind.ClassDeclaration || !above?.source) return []
    const callable = above.own(CONSTRUCTOR).filter((one): one is MethodSymbol => one instanceof MethodSymbol && (one.arity === 0 || (one.varargs && one.arity === 1)))
    if (callable.length === 0 || callable.some(one => isSeen(one, node, file))) return []
    const declared = constructorsOf(symbol, file, node)
    return declared.length === 0 ? [node] : declared.filter(one => constructorCall(file, one) === NONE)
  })
}

function isSeen(one: ClassSymbol | MemberSymbol, at: Node, file: JavaFile): boolean {
  const holder = one instanceof ClassSymbol ? one.outer : one.owner
  if (!(one instanceof ClassSymbol ? one : one.owner).source || one.flags & (Flags.Public | Flags.Protected | Flags.Local)) return true
  if (one.flags & Flags.Private) return holder === null || classAround(file, at)?.outermost === holder.outermost
  return holder?.isInterface === true || (one instanceof ClassSymbol ? one : one.owner).packageName === file.packageName
}
