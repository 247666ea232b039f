import ts from 'typescript'
import type { Role } from '../../../model/plan.js'
import { memberName, symbolOf } from '../declarations.js'
import { refusesToWork } from '../logic.js'
import type { Snapshot } from '../session.js'
import { importsRenamed, meansSymbol, mentions } from './narrow.js'

/** A class that implements an interface by name and cannot honour all of its roles. */
export interface Refusing {
  readonly name: string
  readonly path: string
  readonly heritage: ts.ExpressionWithTypeArguments
  readonly keeps: readonly Role[]
  /** Members that would go, with their names. */
  readonly members: readonly ts.ClassElement[]
  readonly refused: readonly string[]
}

/** Classes that implement an interface directly and leave some members empty or only throw from them; only where roles hold all of its members. */
export function refusingImplementations(node: ts.InterfaceDeclaration, roles: readonly Role[], snapshot: Snapshot): Refusing[] {
  const symbol = symbolOf(node)
  const inRoles = new Set(roles.flatMap(role => role.members))
  if (!symbol || node.members.some(one => !one.name || !inRoles.has(memberName(one)))) return []
  const found: Refusing[] = []
  for (const [file, path] of snapshot.paths) {
    if (!mentions(file, node.name.text) && !importsRenamed(file)) continue
    const visit = (at: ts.Node): void => {
      ts.forEachChild(at, visit)
      if (!ts.isClassLike(at)) return
      const heritage = at.heritageClauses?.find(clause => clause.token === ts.SyntaxKind.ImplementsKeyword)?.types.find(one => meansSymbol(one.expression, symbol, snapshot.checker))
      if (!heritage) return
      const bodies = at.members.filter(one => ts.isMethodDeclaration(one) && inRoles.has(memberName(one)) && one.body !== undefined && refusesToWork(one.body))
      const refused = new Set(bodies.map(one => memberName(one)))
      const keeps = roles.filter(role => !role.members.some(member => refused.has(member)))
      // A role of which it honours a part stays: what it does there is wanted.
      const gone = roles.filter(role => role.members.every(member => refused.has(member))).flatMap(role => role.members)
      if (gone.length === 0 || keeps.length === 0 || keeps.length + roles.filter(role => role.members.every(member => gone.includes(member))).length !== roles.length) return
      const members = bodies.filter(one => gone.includes(memberName(one)))
      if (at.members.some(one => ts.isMethodDeclaration(one) && gone.includes(memberName(one)) && !members.includes(one))) return
      found.push({ name: at.name?.text ?? 'A class', path, heritage, keeps, members, refused: gone })
    }
    visit(file)
  }
  return found
}
