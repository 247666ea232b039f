import type { MemberSymbol } from '../../binding/symbols.js'
import { ClassSymbol, Flags } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH } from '../../syntax/flat-tree.js'
import type { BoundFile } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { Kind } from '../syntax.js'
import { classAround } from './class-around.js'

/** Where a name behind a dot is a member of what stands before it. */
const ASKED: ReadonlySet<number> = new Set([Kind.MethodInvocation, Kind.FieldAccess, Kind.MethodReference])
const known = new WeakMap<JavaFile, readonly Node[]>()

/**
 * Where a file names a class or a member of the sources that it cannot see there: private to another class, or known in another package only
 * (JLS 6.6), a member of
 * something of a class that cannot be seen among them. What is protected is taken as seen. Found once for a file. O(size of the file).
 */
export function unseenNames({ java: file }: BoundFile): readonly Node[] {
  let found = known.get(file)
  if (!found) known.set(file, found = search(file))
  return found
}

function search(file: JavaFile): Node[] {
  const { tree } = file, found: Node[] = []
  for (let at = 0; at < tree.size * NODE_WIDTH; at += NODE_WIDTH) {
    const kind = tree.kind(at), meaning = kind === Kind.Identifier || kind === Kind.TypeIdentifier || kind === Kind.ObjectCreationExpression ? file.meaning(at) : undefined
    if (!meaning || (!(meaning instanceof ClassSymbol) && meaning.kind === 'local')) continue
    const receiver = file.receivers.get(at)
    if (!isSeen(meaning as ClassSymbol | MemberSymbol, at, file) || (receiver && !isSeen(receiver, at, file) && ASKED.has(tree.kind(parentOf(tree, at))))) found.push(at)
  }
  return found
}

function isSeen(one: ClassSymbol | MemberSymbol, at: Node, file: JavaFile): boolean {
  const holder = one instanceof ClassSymbol ? one.outer : one.owner
  if (!(one instanceof ClassSymbol ? one : one.owner).source || one.flags & (Flags.Public | Flags.Protected | Flags.Local)) return true
  if (one.flags & Flags.Private) return holder === null || classAround(file, at)?.outermost === holder.outermost
  return holder?.isInterface === true || (one instanceof ClassSymbol ? one : one.owner).packageName === file.packageName
}
