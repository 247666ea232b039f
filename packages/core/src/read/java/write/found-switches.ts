import type { ClassSymbol } from '../../binding/symbols.js'
import { Flags } from '../../binding/symbols.js'
import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH, NONE } from '../../syntax/flat-tree.js'
import type { SwitchNames } from '../../write/switch-names.js'
import { upperFirst } from '../../write/names.js'
import { switchNames } from '../../write/switch-names.js'
import type { BoundProgram } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { javaTypeSwitch } from '../type-switches.js'
import type { JavaWriteContext } from './context.js'
import type { DividedJavaCase, DividedJavaSwitch } from './divided-switch.js'
import { bareValueOf, divideJavaSwitch, javaSettingOf, keptOf, setOf } from './divided-switch.js'
import type { JavaRunPlace } from './repeated-runs.js'
import type { JavaUnified } from './statement-unifier.js'
import { plainTypeOf, unifyJavaStatements } from './statement-unifier.js'
import { takenNames } from './taken-names.js'

/** A switch, or a chain of conditions that is one, in a method of a class, with what of it can stand elsewhere. */
export interface FoundSwitch extends DividedJavaSwitch {
  readonly key: string
  readonly member: string
  /** Whether it belongs to no object, so that there is nothing that could be handed what chooses. */
  readonly isStatic: boolean
  readonly place: JavaRunPlace
  readonly unified: JavaUnified
  readonly over: string
}

/** Switches of a class's methods whose cases could stand elsewhere. */
export function foundSwitches(owner: ClassSymbol, bound: BoundProgram): FoundSwitch[] {
  const declared = bound.program.declarations.get(owner), file = declared && bound.file(declared.file.path)?.java
  if (!declared || !file || owner.outer || owner.typeParameters.length > 0 || owner.flags & (Flags.Enum | Flags.Record | Flags.Interface | Flags.Local)) return []
  const { tree } = file, found: FoundSwitch[] = [], counts = new Map<string, number>()
  for (const method of tree.children(declared.body)) {
    const modifiers = tree.childOf(method, Kind.Modifiers), body = tree.kind(method) === Kind.MethodDeclaration ? tree.child(method, Field.Body) : NONE
    if (body === NONE || tree.child(method, Field.TypeParameters) !== NONE) continue
    const member = tree.textOf(tree.child(method, Field.Name)), isStatic = modifiers !== NONE && /\bstatic\b/.test(tree.textOf(modifiers))
    for (let at = body; at < tree.after(body); at += NODE_WIDTH) {
      if (tree.kind(at) === Kind.LambdaExpression || tree.kind(at) === Kind.ClassBody) { at = tree.after(at) - NODE_WIDTH; continue }
      if ((tree.kind(at) !== Kind.SwitchExpression && tree.kind(at) !== Kind.IfStatement) || !javaTypeSwitch(at, file)) continue
      const count = counts.get(member) ?? 0, divided = divideJavaSwitch(at, body, file, bound)
      counts.set(member, count + 1)
      if (!divided) continue
      const named = divided.cases.flatMap(one => (one.named === undefined ? [] : [one.named])), kept = keptOf(divided.result)
      // What is named anew is had from the thing, which is handed in for that.
      const statements = divided.cases.flatMap(one => [...(one.named === undefined ? [] : [tree.child(one.named, Field.Left)]), ...partsOf(one, divided, tree)].map(node => ({ file, node })))
      const unified = statements.length > named.length ? unifyJavaStatements([statements], bound.program, true, new Set([...named, ...(kept ? [kept.kept.node] : [])])) : undefined
      // Where all that a case does is handed to it whole, its class would do nothing.
      const handed = new Set(unified?.holes.map(hole => hole.nodes[0]!))
      if (unified && !divided.cases.every(one => one.statements.length === 1 && callsOnly(one.statements[0]!, handed, tree))) found.push({ ...divided, key: `${member}${count === 0 ? '' : `:${count + 1}`}`, member, isStatic, place: { owner, file, method, block: body, statements }, unified, over: kindName(divided, file, bound) })
    }
  }
  return found
}

/** Whether a statement gives back what a call gives that is handed to it whole. */
function callsOnly(statement: Node, handed: ReadonlySet<Node>, tree: FlatTree): boolean {
  const value = tree.kind(statement) === Kind.ReturnStatement || tree.kind(statement) === Kind.ExpressionStatement ? tree.first(statement) : NONE
  return value !== NONE && tree.kind(value) === Kind.MethodInvocation && handed.has(value)
}

/** What of a case stands elsewhere afterwards; of what is set, or wanted, only the value. */
function partsOf(one: DividedJavaCase, { result }: Pick<DividedJavaSwitch, 'result'>, tree: FlatTree): Node[] {
  const value = result === 'value' ? bareValueOf(one, tree) : setOf(result) ? javaSettingOf(one, tree)?.right : undefined
  return value === undefined ? [...one.statements] : [...one.statements.slice(0, -1), value]
}

/** What a case stands for: names of constants or types, or texts. */
export function labelTexts({ labels }: DividedJavaCase, { place: { file: { tree } } }: FoundSwitch): string[] {
  return labels.map(label => (tree.kind(label) === Kind.StringLiteral ? tree.textOf(label).slice(1, -1) : tree.textOf(label).replace(/<.*/s, '').replace(/\[\]/g, 'Array').replace(/^.*\./, '')))
}

/** Names for what stands in the place of a switch. `wanted`: that of the interface. */
export function namesOf(found: FoundSwitch, wanted: string | null, context: JavaWriteContext): SwitchNames {
  const taken = takenNames(context)
  const beside = context.bound.program.packages.get(found.place.owner.packageName)
  return switchNames(found.member, found.over, found.cases.map(one => labelTexts(one, found)), wanted, name => !taken.has(name) && !beside?.has(name))
}

/** The name of the enum, or of the type of what is looked at; else of that itself. */
function kindName({ kinds, isByType, subject }: DividedJavaSwitch, file: JavaFile, { program }: BoundProgram): string {
  const type = isByType ? plainTypeOf(subject, file, program) : undefined
  return kinds?.name ?? (type?.tag === 'class' && type.symbol.source ? type.symbol.name : textKindName(file.tree.textOf(subject)))
}

/** `Sign` for `this.sign` and `it.getSign()`. */
function textKindName(condition: string): string {
  const name = ([...condition.matchAll(/[\p{L}_$][\p{L}\p{N}_$]*/gu)].at(-1)?.[0] ?? 'kind').replace(/^get(?=[A-Z])/, '')
  return upperFirst(name)
}
