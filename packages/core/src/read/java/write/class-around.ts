import type { ClassSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { around } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { Kind } from '../syntax.js'

const CLASS_LIKE = new Set([Kind.ClassDeclaration, Kind.InterfaceDeclaration, Kind.EnumDeclaration, Kind.RecordDeclaration, Kind.AnnotationTypeDeclaration])

/** The named class that a place is in, or that a node declares. */
export function classAround(file: JavaFile, node: Node): ClassSymbol | undefined {
  const holder = CLASS_LIKE.has(file.tree.kind(node)) ? node : around(file.tree, node, CLASS_LIKE)
  return holder < 0 ? undefined : file.classes.get(holder)
}
