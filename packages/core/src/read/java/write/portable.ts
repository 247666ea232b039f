import type { ClassSymbol } from '../../binding/symbols.js'
import { FieldSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import type { FileNames } from './java-editor.js'
import { copiedType } from './type-text.js'

const LITERALS = new Set([
  Kind.DecimalIntegerLiteral, Kind.HexIntegerLiteral, Kind.OctalIntegerLiteral, Kind.BinaryIntegerLiteral, Kind.DecimalFloatingPointLiteral, Kind.HexFloatingPointLiteral,
  Kind.True, Kind.False, Kind.CharacterLiteral, Kind.StringLiteral, Kind.NullLiteral
])

/** Whether an expression means the same in any file that may see its names: literals, constants, classes, and what is made of those. */
export function isPortable(node: Node, file: JavaFile): boolean {
  const { tree } = file
  const kind = tree.kind(node)
  if (LITERALS.has(kind)) return true
  switch (kind) {
    case Kind.ParenthesizedExpression: case Kind.UnaryExpression: case Kind.BinaryExpression: return tree.children(node).every(child => isPortable(child, file))
    case Kind.ClassLiteral: return !mentionsVariable(node, file)
    case Kind.Identifier: { const meaning = file.meaning(node); return meaning instanceof FieldSymbol && isConstant(meaning) }
    case Kind.FieldAccess: { const meaning = file.meaning(tree.child(node, Field.Field)); return meaning instanceof FieldSymbol && isConstant(meaning) }
    case Kind.ObjectCreationExpression: {
      const made = file.meaning(node)
      if (!(made instanceof MethodSymbol) || tree.childOf(node, Kind.ClassBody) !== NONE || made.owner.flags & Flags.Local) return false
      if (made.owner.outer && !made.owner.isStatic && made.owner.source) return false
      return argumentNodes(file, node).every(child => isPortable(child, file))
    }
    case Kind.MethodInvocation: {
      const method = file.meaning(tree.child(node, Field.Name))
      // Of libraries only: what a method of the project does may depend on when it is called.
      return method instanceof MethodSymbol && method.isStatic && !method.owner.source && tree.child(node, Field.TypeArguments) === NONE && argumentNodes(file, node).every(child => isPortable(child, file))
    }
    default: return false
  }
}

function isConstant(field: FieldSymbol): boolean { return field.isStatic && (field.flags & Flags.Final) !== 0 }

export function argumentNodes({ tree }: JavaFile, node: Node): Node[] {
  const holder = tree.child(node, Field.Arguments)
  return holder === NONE ? [] : tree.children(holder)
}

/** Whether a type that is written mentions a type parameter. */
export function mentionsVariable(node: Node, file: JavaFile): boolean {
  const { tree } = file
  const end = tree.after(node)
  // A name of a type that means no class is that of a type parameter.
  for (let at = node; at < end; at += 5) if (tree.kind(at) === Kind.TypeIdentifier && !file.meaning(at) && !file.unbound.has(at)) return true
  return false
}

/** A portable expression as it is written in another file. Throws `Refused` where a name cannot be seen there. `from`: the class in which it will stand. */
export function portableText(node: Node, file: JavaFile, names: FileNames, from: ClassSymbol | undefined): string {
  const { tree } = file
  const inner = (child: Node): string => portableText(child, file, names, from)
  switch (tree.kind(node)) {
    case Kind.ParenthesizedExpression: return `(${inner(tree.first(node))})`
    case Kind.ClassLiteral: return `${copiedType(tree.first(node), file, names, from, () => undefined)}.class`
    case Kind.UnaryExpression: { const operand = tree.child(node, Field.Operand); return tree.text.slice(tree.start(node), tree.start(operand)) + inner(operand) }
    case Kind.BinaryExpression: {
      const left = tree.child(node, Field.Left), right = tree.child(node, Field.Right)
      return inner(left) + tree.text.slice(tree.end(left), tree.start(right)) + inner(right)
    }
    case Kind.Identifier: case Kind.FieldAccess: {
      const field = file.meaning(tree.kind(node) === Kind.Identifier ? node : tree.child(node, Field.Field)) as FieldSymbol
      refuseUnseen(field, names, from)
      return `${names.nameOf(field.owner, from)}.${field.name}`
    }
    case Kind.ObjectCreationExpression: return `${creationHead(node, file, names, from)}(${argumentNodes(file, node).map(inner).join(', ')})`
    case Kind.MethodInvocation: {
      const method = file.meaning(tree.child(node, Field.Name)) as MethodSymbol
      refuseUnseen(method, names, from)
      return `${names.nameOf(method.owner, from)}.${method.name}(${argumentNodes(file, node).map(inner).join(', ')})`
    }
    default: return tree.textOf(node)
  }
}

/** `new Gate` or `new Gate<>`, up to the arguments. */
export function creationHead(node: Node, file: JavaFile, names: FileNames, from: ClassSymbol | undefined): string {
  const { tree } = file
  const constructor = file.meaning(node) as MethodSymbol
  refuseUnseen(constructor, names, from)
  const type = tree.child(node, Field.Type)
  const generic = tree.kind(type) === Kind.GenericType ? tree.childOf(type, Kind.TypeArguments) : NONE
  const args = generic === NONE ? '' : tree.first(generic) === NONE || mentionsVariable(generic, file) ? '<>' : copiedType(generic, file, names, from, () => undefined)
  return `new ${names.nameOf(constructor.owner, from)}${args}`
}

/** What is neither public nor in the same package cannot be used. */
export function refuseUnseen(member: MethodSymbol | FieldSymbol, names: FileNames, from: ClassSymbol | undefined): void {
  const { flags, owner } = member
  if (flags & Flags.Public || (owner.isInterface && !(flags & Flags.Private))) return
  const seen = flags & Flags.Private ? from?.outermost === owner.outermost : owner.packageName === names.packageName
  if (!seen) throw new Refused('not-visible', `${member instanceof MethodSymbol ? `The constructor of ${owner.name}` : `${owner.name}.${member.name}`} cannot be seen where ${from?.name ?? 'it'} would need it`)
}
