import type { PlanRefusal, RetireStaticFacePlan, StaticFace } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { Flags, MethodSymbol } from '../../binding/symbols.js'
import { describe } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import { removeAllLines } from '../../write/removed-lines.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { modifiersOf } from '../declare.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { checkedJavaStep } from './checked-step.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { handsOnTo } from './handing-on.js'
import { instanceGiver } from './instance-giver.js'
import { JavaEditor } from './java-editor.js'
import { commentedStart } from './moved-members.js'

interface FoundFace extends StaticFace { readonly node: Node }

function facesOf(symbol: ClassSymbol, bound: BoundProgram): { readonly file: JavaFile; readonly faces: readonly FoundFace[] } | undefined {
  const giver = instanceGiver(symbol), declared = bound.program.declarations.get(symbol), file = declared && bound.file(declared.file.path)?.java
  if (!giver || !file) return undefined
  const { tree } = file, faces: FoundFace[] = []
  for (const node of tree.children(declared.body)) {
    if (tree.kind(node) !== Kind.MethodDeclaration || !(modifiersOf(tree, node) & Flags.Static) || modifiersOf(tree, node) & Flags.Private) continue
    const method = bound.program.methodAt(file, node)
    if (!method || method === giver) continue
    const [first] = method.signature.parameters
    const kind = isFace(node, method, file) ? 'face' : first && describe(first) === describe(giver.signature.result) ? 'swap' : undefined
    if (kind) faces.push({ member: method.name, kind, node })
  }
  return { file, faces }
}

/** Whether a method only calls the method of its name of what its class gives, or holds. */
function isFace(node: Node, method: MethodSymbol, file: JavaFile): boolean {
  const { tree } = file, object = handsOnTo(node, tree)
  if (object === NONE) return false
  const name = tree.kind(object) === Kind.MethodInvocation ? tree.child(object, Field.Name) : tree.kind(object) === Kind.FieldAccess ? tree.child(object, Field.Field) : object
  const holder = file.meaning(name), called = file.meaning(tree.child(parentOf(tree, object), Field.Name))
  return holder !== undefined && 'owner' in holder && holder.owner === method.owner && called instanceof MethodSymbol && called.owner !== method.owner && !called.isStatic
}

/** Static methods of a class that gives an instance: those that only call it, and those that take another. */
export function javaStaticFaces(symbol: ClassSymbol, { bound }: JavaWriteContext): StaticFace[] {
  const all = new Map((facesOf(symbol, bound)?.faces ?? []).map(({ member, kind }) => [member, kind]))
  return [...all].map(([member, kind]) => ({ member, kind }))
}

export function retireJavaStaticFace(plan: RetireStaticFacePlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const found = facesOf(symbol, context.bound)
  if (!found) throw new Refused('no-members', `${symbol.name} gives no instance`)
  const editor = new JavaEditor(context.bound), own = editor.file(found.file.path), { tree } = found.file
  removeAllLines(found.faces.filter(one => plan.members.includes(one.member)).map(({ node }) => ({ start: commentedStart(found.file, node), end: tree.end(node) })), own)
  return checkedJavaStep(editor, context, { notes: [], choices: {}, planned: [] })
}
