import type { ClassSymbol } from '../../binding/symbols.js'
import { ClassSymbol as AnyClass } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH, NONE } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { LocalSymbol } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { callsThis, constructorsOf } from './creation-sites.js'
import { parameterName, parameterNodes } from './interface-members.js'
import { isNeverSet } from './settled.js'

/** Where a constructor fills some fields, each with an argument of its own as it is. */
export interface FillingConstructor {
  readonly node: Node
  /** By the name of the field: the statement, and the argument. */
  readonly filled: ReadonlyMap<string, { readonly statement: Node; readonly argument: string }>
}

/** The constructors of a class that fill fields, those left out that have another one do it; empty where there is none. */
export function fillingConstructors(symbol: ClassSymbol, file: JavaFile, { program }: BoundProgram): FillingConstructor[] {
  const { tree } = file
  return constructorsOf(symbol, file, program.declarations.get(symbol)!.node).filter(one => !callsThis(file, one)).map(node => {
    const parameters = new Set(parameterNodes(tree, node).map(one => parameterName(tree, one))), filled = new Map<string, { statement: Node; argument: string }>(), twice = new Set<string>()
    for (const statement of tree.children(tree.child(node, Field.Body))) {
      const setting = tree.kind(statement) === Kind.ExpressionStatement && tree.kind(tree.first(statement)) === Kind.AssignmentExpression ? tree.first(statement) : NONE
      if (setting === NONE) continue
      const left = tree.child(setting, Field.Left), right = tree.child(setting, Field.Right), name = fieldSet(left, file)
      if (name === undefined) continue
      const meaning = tree.kind(right) === Kind.Identifier && tree.text.slice(tree.end(left), tree.start(right)).trim() === '=' ? file.meaning(right) : undefined
      if (filled.has(name)) twice.add(name)
      if (meaning instanceof LocalSymbol && parameters.has(meaning.name) && isNeverSet(meaning, right, file)) filled.set(name, { statement, argument: meaning.name })
    }
    for (const name of twice) filled.delete(name)
    return { node, filled }
  })
}

/** The field of the object at hand that a target of an assignment is. */
function fieldSet(left: Node, file: JavaFile): string | undefined {
  const { tree } = file, name = tree.kind(left) === Kind.Identifier ? left : tree.kind(left) === Kind.FieldAccess && tree.kind(tree.first(left)) === Kind.This ? tree.child(left, Field.Field) : NONE
  const meaning = name === NONE ? undefined : file.meaning(name) ?? file.meaning(left)
  return meaning && !(meaning instanceof AnyClass) && meaning.kind === 'field' ? meaning.name : undefined
}

/**
 * Refuses where an object that each constructor makes, of what some fields are filled with, would come too late: something has used the
 * whole before. `statements`: where a constructor fills them.
 */
export function refuseTooLate(symbol: ClassSymbol, constructors: readonly { readonly node: Node; readonly statements: readonly Node[] }[], leaving: ReadonlySet<Node>, file: JavaFile, { program }: BoundProgram): void {
  const { tree } = file, line = (at: Node) => tree.text.slice(0, tree.start(at)).split('\n').length
  for (const member of tree.children(program.declarations.get(symbol)!.body)) {
    if (leaving.has(member) || (tree.kind(member) !== Kind.FieldDeclaration && tree.kind(member) !== Kind.Block)) continue
    const early = wholeUse(member, file)
    if (early !== NONE) throw new Refused('order', `The object itself is used as it is made, line ${line(early)}, before what it would then need is there`)
  }
  for (const { node, statements: filling } of constructors) {
    const statements = tree.children(tree.child(node, Field.Body)), last = Math.max(-1, ...filling.map(one => statements.indexOf(one)))
    for (const statement of statements.slice(0, last + 1)) {
      const early = tree.kind(statement) === Kind.ExplicitConstructorInvocation ? NONE : wholeUse(statement, file)
      if (early !== NONE) throw new Refused('order', `The object itself is used in line ${line(early)}, before all of what would move is filled`)
    }
  }
}

/** Where code calls a method of its own object, or hands that on; NONE where it does neither. */
function wholeUse(code: Node, file: JavaFile): Node {
  const { tree } = file
  for (let at = code; at < tree.after(code); at += NODE_WIDTH) {
    const kind = tree.kind(at)
    if (kind === Kind.LambdaExpression || kind === Kind.ClassBody) { at = tree.after(at) - NODE_WIDTH; continue }
    if (kind === Kind.This && !(tree.kind(parentOf(tree, at)) === Kind.FieldAccess && tree.first(parentOf(tree, at)) === at)) return at
    if (kind !== Kind.MethodInvocation || tree.child(at, Field.Object) !== NONE) continue
    const meaning = file.meaning(tree.child(at, Field.Name)) ?? file.meaning(at)
    if (!meaning || meaning instanceof AnyClass || meaning.kind === 'local' || !meaning.isStatic) return at
  }
  return NONE
}
