import type { ClassSymbol, MemberSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import type { BoundProgram } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { documentationStart } from './interface-members.js'

/** What some members declare: a field and a method may have one name. */
export function membersAt(nodes: readonly Node[], symbol: ClassSymbol, file: JavaFile, { program }: BoundProgram): Set<MemberSymbol> {
  const { tree } = file
  return new Set(nodes.flatMap((at): (MemberSymbol | undefined)[] => {
    if (tree.kind(at) !== Kind.FieldDeclaration) return [program.methodAt(file, at)]
    const names = tree.children(at).filter(one => tree.kind(one) === Kind.VariableDeclarator).map(one => tree.textOf(tree.child(one, Field.Name)))
    return names.map(name => symbol.own(name).find(one => one.kind === 'field'))
  }).filter(one => one !== undefined))
}

/** Where a member begins, its comments counted in: documentation, or lines directly above it. */
export function commentedStart({ tree }: JavaFile, at: Node): number {
  const documented = documentationStart(tree, at)
  if (documented !== tree.start(at)) return documented
  let start = tree.start(at)
  for (;;) {
    const lineStart = tree.text.lastIndexOf('\n', start - 1) + 1
    const before = tree.text.slice(0, Math.max(0, lineStart - 1))
    const line = before.slice(before.lastIndexOf('\n') + 1)
    if (!/^\s*\/\//.test(line)) return start
    start = before.lastIndexOf('\n') + 1 + /^\s*/.exec(line)![0].length
  }
}
