import ts from 'typescript'
import type { PlanRefusal, RetireStaticFacePlan, StaticFace } from '../../../model/plan.js'
import { removeAllLines } from '../../write/removed-lines.js'
import { memberName } from '../declarations.js'
import { checkedStep, refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import { ProjectEditor } from './file-editor.js'
import { handsOnTo } from './handing-on.js'
import { commentedStart } from './moved-members.js'
import { attachedEnd } from './moving-statements.js'

const isStatic = (member: ts.ClassElement): member is ts.MethodDeclaration => ts.isMethodDeclaration(member) && ts.getModifiers(member)?.some(one => one.kind === ts.SyntaxKind.StaticKeyword) === true

/** Static methods of a class that gives an instance: those that only call it, and those that take another. */
export function staticFaces(node: ts.ClassLikeDeclaration): StaticFace[] {
  const giver = node.members.find(member => isStatic(member) && memberName(member) === 'instance' && member.parameters.length === 0)
  if (!giver) return []
  const all = new Map<string, StaticFace['kind']>()
  for (const member of node.members) {
    if (!isStatic(member) || member === giver || !member.body) continue
    const kind = isFace(member, node) ? 'face' : isSwap(member, giver as ts.MethodDeclaration) ? 'swap' : undefined
    if (kind) all.set(memberName(member), kind)
  }
  return [...all].map(([member, kind]) => ({ member, kind }))
}

/** Whether a method only calls the method of its name of what the class gives, or holds. */
function isFace(method: ts.MethodDeclaration, node: ts.ClassLikeDeclaration): boolean {
  let holder = handsOnTo(method)
  if (!holder) return false
  if (ts.isCallExpression(holder) && holder.arguments.length === 0) holder = holder.expression
  return ts.isPropertyAccessExpression(holder) && (holder.expression.kind === ts.SyntaxKind.ThisKeyword || (ts.isIdentifier(holder.expression) && holder.expression.text === node.name?.text)) && node.members.some(one => memberName(one) === (holder as ts.PropertyAccessExpression).name.text)
}

/** Whether the first thing that a method is handed is what the class gives. */
function isSwap({ parameters: [first] }: ts.MethodDeclaration, giver: ts.MethodDeclaration): boolean { return first?.type !== undefined && first.type.getText() === giver.type?.getText() }

export function retireStaticFace(plan: RetireStaticFacePlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context, file = node.getSourceFile()
  try {
    const editor = new ProjectEditor(snapshot, root), own = editor.editor(snapshot.pathOf(file)!)
    const going = node.members.filter(member => ts.isMethodDeclaration(member) && isStatic(member) && plan.members.includes(memberName(member)))
    removeAllLines(going.map(member => ({ start: commentedStart(member, file), end: attachedEnd(member, file) })), own)
    return checkedStep(editor, context, { notes: [], choices: {}, planned: [] })
  } catch (error) { return refusalOf(error) }
}
