import type { ClassSymbol } from '../../binding/symbols.js'
import { FieldSymbol, Flags } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH, NONE } from '../../syntax/flat-tree.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { modifiersOf } from '../declare.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import type { FillingConstructor } from './filled-fields.js'
import { fillingConstructors } from './filled-fields.js'

/** A field of a class that nothing sets any more once it is filled, so that another object can have the same. */
export interface SharedJavaField {
  readonly symbol: FieldSymbol
  readonly name: string
  readonly declared: Node
  /** The type as it is written, brackets behind the name included. */
  readonly type: string
  /** Whether its declaration makes what it holds. */
  readonly isMade: boolean
  /** For each constructor that fills fields, by its node, the statement, and what the field is there: an argument, or the field itself. */
  readonly fillings: ReadonlyMap<Node, { readonly statement: Node; readonly given: string }>
}

/** The fields of a class that can be shared, by name. O(size of its file). */
export function sharedJavaFields(symbol: ClassSymbol, file: JavaFile, bound: BoundProgram): ReadonlyMap<string, SharedJavaField> {
  const { tree } = file, found = new Map<string, SharedJavaField>()
  const declared = bound.program.declarations.get(symbol)!, constructors = fillingConstructors(symbol, file, bound), targets = targetsIn(file)
  for (const member of tree.children(declared.body)) {
    const declarators = tree.kind(member) === Kind.FieldDeclaration ? tree.children(member).filter(at => tree.kind(at) === Kind.VariableDeclarator) : []
    const flags = modifiersOf(tree, member)
    if (declarators.length !== 1 || flags & Flags.Static || !(flags & (Flags.Final | Flags.Private))) continue
    const name = tree.textOf(tree.child(declarators[0]!, Field.Name)), field = symbol.own(name).find((one): one is FieldSymbol => one instanceof FieldSymbol)
    if (!field) continue
    const set = targets.get(field) ?? [], isMade = tree.child(declarators[0]!, Field.Value) !== NONE
    const fillings = new Map(constructors.flatMap(one => { const at = fillingOf(one, set, file); return at ? [[one.node, { statement: at, given: one.filled.get(name)?.argument ?? `this.${name}` }] as const] : [] }))
    if (isMade ? set.length === 0 : fillings.size === constructors.length && set.length === constructors.length && constructors.length > 0) found.set(name, { symbol: field, name, declared: member, type: writtenType(member, file), isMade, fillings })
  }
  return found
}

/** The statement directly in a constructor that sets a field, where there is one. */
function fillingOf({ node }: FillingConstructor, set: readonly Node[], { tree }: JavaFile): Node | undefined {
  return tree.children(tree.child(node, Field.Body)).find(statement => tree.kind(statement) === Kind.ExpressionStatement && set.some(at => parentOf(tree, at) === statement && tree.kind(at) === Kind.AssignmentExpression && tree.text.slice(tree.end(tree.child(at, Field.Left)), tree.start(tree.child(at, Field.Right))).trim() === '='))
}

/** Where a file sets its fields. */
function targetsIn(file: JavaFile): ReadonlyMap<FieldSymbol, Node[]> {
  const { tree } = file, found = new Map<FieldSymbol, Node[]>()
  for (let at = 0; at < tree.size * NODE_WIDTH; at += NODE_WIDTH) {
    const kind = tree.kind(at)
    if (kind !== Kind.AssignmentExpression && kind !== Kind.UpdateExpression) continue
    let target = kind === Kind.AssignmentExpression ? tree.child(at, Field.Left) : tree.first(at)
    while (tree.kind(target) === Kind.ParenthesizedExpression) target = tree.first(target)
    const meaning = file.meaning(tree.kind(target) === Kind.FieldAccess ? tree.child(target, Field.Field) : target) ?? file.meaning(target)
    if (meaning instanceof FieldSymbol) found.set(meaning, [...found.get(meaning) ?? [], at])
  }
  return found
}

/** The type of a field as it is written, brackets behind its name included. */
export function writtenType(at: Node, { tree }: JavaFile): string {
  const declarator = tree.childOf(at, Kind.VariableDeclarator), name = tree.child(declarator, Field.Name), value = tree.child(declarator, Field.Value)
  return tree.textOf(tree.child(at, Field.Type)) + tree.text.slice(tree.end(name), value === NONE ? tree.end(declarator) : tree.start(value)).replace('=', '').trim()
}
