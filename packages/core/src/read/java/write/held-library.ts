import type { EffectKind } from '../../../effect/kinds.js'
import { catalogueOf } from '../../../effect/shipped.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { CONSTRUCTOR, FieldSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { isLeftOutside } from '../../write/outside-group.js'
import { parentOf } from '../bound-program.js'
import { modifiersOf } from '../declare.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { isAnnotation } from '../type-names.js'
import { classAround } from './class-around.js'
import type { JavaWriteContext } from './context.js'
import { handledExceptions } from './handled-exceptions.js'
import type { JavaOutsideUse } from './outside-uses.js'
import { isConstant, isPlainData, useOf, wantedType } from './outside-uses.js'
import { placeOf } from './place.js'
import { argumentNodes } from './portable.js'

/** An object of a library that a class makes once for each of its objects, holds in a private field, and asks for things. */
export interface JavaHeldLibrary {
  readonly symbol: FieldSymbol
  readonly file: JavaFile
  readonly declarator: Node
  readonly creation: Node
  /** It is made in the field's initialiser, not in a constructor. */
  readonly inField: boolean
  /** What the creation is handed that is no constant, with the type that is wanted. */
  readonly passed: readonly { readonly node: Node; readonly type: Type }[]
  /** Checked exceptions that making it may throw where it is made. */
  readonly thrown: readonly ClassSymbol[]
  readonly external: string
  readonly effect: EffectKind
  readonly uses: readonly JavaOutsideUse[]
  /** Why it has to stay, with the line, where it has to. */
  readonly stays: { readonly line: number; readonly why: string } | null
}

/** The library objects that a class holds, in source order. Fields times the nodes of the file. */
export function findJavaHeldLibraries(owner: ClassSymbol, { bound }: JavaWriteContext): JavaHeldLibrary[] {
  const declared = bound.program.declarations.get(owner)
  const file = declared && bound.file(declared.file.path)?.java
  if (!declared || !file || declared.body === NONE) return []
  const { tree } = file
  const line = (node: Node) => tree.text.slice(0, tree.start(node)).split('\n').length
  return tree.children(declared.body).flatMap((member): JavaHeldLibrary[] => {
    if (tree.kind(member) !== Kind.FieldDeclaration) return []
    const flags = modifiersOf(tree, member), modifiers = tree.childOf(member, Kind.Modifiers)
    const declarators = tree.children(member).filter(at => tree.kind(at) === Kind.VariableDeclarator)
    if (declarators.length !== 1 || !(flags & Flags.Private) || flags & Flags.Static || (modifiers !== NONE && (tree.children(modifiers).some(at => isAnnotation(tree.kind(at))) || /\b(volatile|transient)\b/.test(tree.textOf(modifiers))))) return []
    const [declarator] = declarators as [Node], name = tree.textOf(tree.child(declarator, Field.Name))
    const symbol = owner.own(name).find((one): one is FieldSymbol => one instanceof FieldSymbol)
    if (!symbol || symbol.type.tag !== 'class' || symbol.type.symbol.source || symbol.type.symbol.typeParameters.length > 0) return []
    const names: Node[] = [], assigned: Node[] = []
    for (let at = 0; at < tree.size * 5; at += 5) {
      if (tree.kind(at) !== Kind.Identifier || tree.textOf(at) !== name || file.meaning(at) !== symbol || parentOf(tree, at) === declarator) continue
      const target = tree.kind(parentOf(tree, at)) === Kind.FieldAccess && tree.child(parentOf(tree, at), Field.Field) === at ? parentOf(tree, at) : at
      if (tree.kind(parentOf(tree, target)) === Kind.AssignmentExpression && tree.child(parentOf(tree, target), Field.Left) === target) assigned.push(parentOf(tree, target))
      else names.push(target)
    }
    const initial = tree.child(declarator, Field.Value), inField = initial !== NONE
    if (inField ? assigned.length > 0 : assigned.length !== 1) return []
    const creation = inField ? initial : tree.child(assigned[0]!, Field.Right)
    const constructor = tree.kind(creation) === Kind.ObjectCreationExpression && !tree.contains(creation, Kind.ClassBody) ? file.meaning(creation) : undefined
    if (!(constructor instanceof MethodSymbol) || constructor.name !== CONSTRUCTOR || constructor.owner.source || constructor.owner !== symbol.type.symbol) return []
    const made = constructor.owner, external = made.packageName
    const effect = catalogueOf('java').effectOf(external, made.id.slice(external.length + 1))
    if (effect === 'pure' || isLeftOutside(effect)) return []
    const place = placeOf(tree, creation, declared.body)
    let stays: JavaHeldLibrary['stays'] = null
    if (!inField && (place.kind !== 'constructor' || !place.once || place.deferred || tree.kind(parentOf(tree, assigned[0]!)) !== Kind.ExpressionStatement)) return []
    const passed: { node: Node; type: Type }[] = []
    const given = argumentNodes(file, creation)
    for (const [index, argument] of given.entries()) {
      if (isConstant(argument, file)) continue
      const type = wantedType(constructor, index, given.length)
      if (type && isPlainData(type) && tree.kind(argument) !== Kind.LambdaExpression && tree.kind(argument) !== Kind.MethodReference) passed.push({ node: argument, type })
      else stays ??= { line: line(argument), why: `${tree.textOf(argument)} goes where a type of the library is wanted` }
    }
    const thrown = inField ? [] : handledExceptions(creation, place.member, file, declared.scope, bound)
    if (thrown === null) stays ??= { line: line(creation), why: 'what making it may throw is not known' }
    const uses: JavaOutsideUse[] = []
    for (const target of names) {
      const call = parentOf(tree, target)
      const use = tree.kind(call) === Kind.MethodInvocation && tree.child(call, Field.Object) === target ? (classAround(file, call) === owner ? useOf(call, effect, owner, file, bound, true) : 'it is asked from a class within') : 'it is handed on'
      if (typeof use === 'string') stays ??= { line: line(target), why: use }
      else uses.push(use)
    }
    return uses.length > 0 || stays ? [{ symbol, file, declarator, creation, inField, passed, thrown: thrown ?? [], external, effect, uses, stays }] : []
  })
}
