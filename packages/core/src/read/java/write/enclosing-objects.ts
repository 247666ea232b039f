import { Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH, NONE } from '../../syntax/flat-tree.js'
import type { BoundFile, BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { modifiersOf } from '../declare.js'
import { Field, Kind } from '../syntax.js'

/** Where a file makes an object of an inner class and no object of the class around that is at hand (JLS 15.9.2). O(size of the file). */
export function withoutEnclosingObject({ java: file }: BoundFile, { program }: BoundProgram): Node[] {
  const { tree } = file, found: Node[] = []
  for (let at = 0; at < tree.size * NODE_WIDTH; at += NODE_WIDTH) {
    if (tree.kind(at) !== Kind.ObjectCreationExpression || tree.first(at) < tree.child(at, Field.Type)) continue
    const made = file.meaning(at), owner = made instanceof MethodSymbol ? made.owner : undefined, around = owner?.outer
    if (!owner?.source || !around || around.isInterface || owner.isStatic || owner.isInterface || owner.flags & (Flags.Local | Flags.Enum | Flags.Record)) continue
    let isStatic = false, isAtHand = false
    for (let up = at; up > 0 && !isAtHand; up = parentOf(tree, up)) {
      const kind = tree.kind(up), holder = file.classes.get(up)
      if (kind === Kind.StaticInitializer || ((kind === Kind.MethodDeclaration || kind === Kind.FieldDeclaration) && modifiersOf(tree, up) & Flags.Static)) isStatic = true
      if (!holder) continue
      isAtHand = !isStatic && (holder === around || program.hierarchy.ancestorsOf(holder).has(around))
      if (holder.isStatic || holder.isInterface || holder.flags & (Flags.Enum | Flags.Record)) isStatic = true
    }
    if (!isAtHand && tree.childOf(at, Kind.ClassBody) === NONE) found.push(at)
  }
  return found
}
