import ts from 'typescript'
import type { FileFacts } from '../../model/facts.js'
import type { DeclaredType, Declarations } from './declarations.js'
import { memberName } from './declarations.js'

/** The members of a class or interface that stand for one of another type of the project. */
export function overridesOf(node: ts.ClassLikeDeclaration | ts.InterfaceDeclaration, declared: DeclaredType, checker: ts.TypeChecker, declarations: Declarations): FileFacts['overrides'][number][] {
  const overrides: FileFacts['overrides'][number][] = []
  for (const clause of node.heritageClauses ?? []) {
    for (const heritage of clause.types) {
      const type = checker.getTypeAtLocation(heritage)
      for (const member of node.members) {
        if (!member.name || ts.isComputedPropertyName(member.name)) continue
        for (const base of type.getProperty(memberName(member))?.declarations ?? []) {
          const owner = declarations.ownerOf(base)
          if (owner && owner.type !== declared.id) overrides.push({ type: declared.id, base: owner.type, member: owner.member })
        }
      }
    }
  }
  return overrides
}
