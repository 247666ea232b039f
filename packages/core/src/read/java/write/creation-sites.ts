import type { ClassSymbol} from '../../binding/symbols.js';
import { CONSTRUCTOR, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { filesUsing } from './affected-files.js'
import { parentOf } from '../bound-program.js'
import type { JavaWriteContext } from './context.js'

/**
 * A place that runs a constructor: a creation (of an anonymous class too), a call from another constructor, a reference to
 * it as a function; or a constructor, or a class without any, that runs it without saying so.
 */
export interface CreationSite {
  readonly file: JavaFile
  readonly node: Node
  readonly kind: 'creation' | 'this' | 'super' | 'reference' | 'implicit-super' | 'no-constructor'
}

/** Every place of the project, tests included, that runs a constructor. In order of path and place. */
export function creationSites(constructor: MethodSymbol, { bound, state }: JavaWriteContext): CreationSite[] {
  const sites: CreationSite[] = []
  const { owner } = constructor
  const implicit = constructor.arity === 0 || (constructor.varargs && constructor.arity === 1)
  for (const path of filesUsing(state, owner.id)) {
    const file = bound.file(path)?.java
    if (!file) continue
    const { tree } = file
    for (let node = 0; node < tree.size * 5; node += 5) {
      if (file.meaning(node) !== constructor) continue
      const kind = tree.kind(node)
      if (kind === Kind.ObjectCreationExpression) sites.push({ file, node, kind: 'creation' })
      else if (kind === Kind.MethodReference) sites.push({ file, node, kind: 'reference' })
      else if (kind === Kind.This || kind === Kind.Super) sites.push({ file, node: parentOf(tree, node), kind: kind === Kind.This ? 'this' : 'super' })
    }
    if (!implicit) continue
    for (const [node, symbol] of file.classes) {
      if (symbol.superclass?.symbol !== owner || tree.kind(node) !== Kind.ClassDeclaration) continue
      const declared = constructorsOf(symbol, file, node)
      if (declared.length === 0) sites.push({ file, node, kind: 'no-constructor' })
      for (const one of declared) if (constructorCall(file, one) === NONE) sites.push({ file, node: one, kind: 'implicit-super' })
    }
  }
  return sites
}

/** The constructors that a class writes. */
export function constructorsOf(symbol: ClassSymbol, { tree }: JavaFile, node: Node): Node[] {
  const body = tree.child(node, Field.Body)
  return body === NONE ? [] : tree.children(body).filter(at => tree.kind(at) === Kind.ConstructorDeclaration)
}

/** The call of another constructor with which a constructor begins, or NONE. */
export function constructorCall({ tree }: JavaFile, constructor: Node): Node {
  const body = tree.child(constructor, Field.Body)
  return body === NONE ? NONE : tree.childOf(body, Kind.ExplicitConstructorInvocation)
}

export function callsThis(file: JavaFile, constructor: Node): boolean {
  const call = constructorCall(file, constructor)
  return call !== NONE && file.tree.kind(file.tree.child(call, Field.Constructor)) === Kind.This
}

/** The symbol of a class's constructor by its node; of the one that it has without writing it by NONE. */
export function constructorSymbol(symbol: ClassSymbol, file: JavaFile, node: Node, context: JavaWriteContext): MethodSymbol | undefined {
  if (node !== NONE) return context.bound.program.methodAt(file, node)
  return symbol.own(CONSTRUCTOR).find((one): one is MethodSymbol => one instanceof MethodSymbol)
}
