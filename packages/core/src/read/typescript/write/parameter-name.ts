import ts from 'typescript'
import { numberedName } from '../../write/names.js'
import { memberName } from '../declarations.js'

/** A name for a constructor's parameter that nothing in the constructor or among the members has, but for `allowed` ones. */
export function uniqueName(wanted: string, node: ts.ClassLikeDeclaration, allowed: ReadonlySet<string>, mayFill: boolean): string {
  const members = new Set(node.members.map(memberName))
  const taken = new Set<string>()
  const constructor = node.members.find((member): member is ts.ConstructorDeclaration => ts.isConstructorDeclaration(member) && member.body !== undefined)
  for (const member of node.members) taken.add(memberName(member))
  const fields = new Set(node.members.filter(ts.isPropertyDeclaration).map(memberName))
  const visit = (at: ts.Node): void => { if (ts.isIdentifier(at) && !(ts.isPropertyAccessExpression(at.parent) && at.parent.name === at)) taken.add(at.text); ts.forEachChild(at, visit) }
  if (constructor) visit(constructor)
  // A parameter may have the name of the field that it fills.
  const free = (name: string) => !taken.has(name) || (mayFill ? fields.has(name) && !(constructor && namesIn(constructor).has(name)) : allowed.has(name) && !members.has(name))
  const safe = RESERVED.has(wanted) ? `${wanted}Instance` : wanted
  return numberedName(safe, free)
}

/** A name for a parameter of a function that nothing inside it has. */
export function freeNameIn(wanted: string, node: ts.FunctionLikeDeclaration): string {
  const taken = namesIn(node)
  return numberedName(RESERVED.has(wanted) ? `${wanted}Instance` : wanted, name => !taken.has(name))
}

const RESERVED = new Set(['default', 'function', 'class', 'new', 'delete', 'import', 'export', 'switch', 'case', 'package', 'interface', 'private', 'public', 'static', 'enum', 'in', 'void', 'with', 'yield', 'let', 'arguments', 'eval'])

function namesIn(node: ts.Node): Set<string> {
  const names = new Set<string>()
  const visit = (at: ts.Node): void => { if (ts.isIdentifier(at) && !(ts.isPropertyAccessExpression(at.parent) && at.parent.name === at)) names.add(at.text); ts.forEachChild(at, visit) }
  visit(node)
  return names
}
