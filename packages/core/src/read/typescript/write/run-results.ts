import ts from 'typescript'
import { Refused } from '../../write/refused.js'
import { isTarget } from './settled.js'
import type { Unified } from './statement-unifier.js'

type Variable = (ts.VariableDeclaration | ts.BindingElement) & { readonly name: ts.Identifier }

/** What a place calls a variable of the statements, by its number. Refused for what is no plain variable. */
export function variableAt(unified: Unified, place: number, number: number): Variable {
  const symbol = [...unified.locals[place]!].find(([, other]) => other === number)?.[0], declaration = symbol?.valueDeclaration
  if (!declaration || !(ts.isVariableDeclaration(declaration) || ts.isBindingElement(declaration)) || !ts.isIdentifier(declaration.name)) throw new Refused('result', `${symbol?.name ?? 'What'} is used behind the statements, and is no variable of theirs`)
  return declaration as Variable
}

/** One that may be set again behind the statements keeps all of them settable. */
export function keywordFor(unified: Unified, place: number, used: ReadonlySet<number>): 'const' | 'let' {
  return [...used].every(number => ts.getCombinedNodeFlags(variableAt(unified, place, number)) & ts.NodeFlags.Const) ? 'const' : 'let'
}

/** Whether statements declare a variable of theirs and leave it without a value. */
export function isLeftEmpty(unified: Unified, statements: readonly ts.Node[], number: number): boolean {
  const symbol = [...unified.locals[0]!].find(([, other]) => other === number)?.[0], declaration = symbol?.valueDeclaration
  if (!declaration || !ts.isVariableDeclaration(declaration) || declaration.initializer || !ts.isVariableStatement(declaration.parent.parent)) return false
  const isSet = (at: ts.Node): boolean => (ts.isIdentifier(at) && at.text === symbol.name && isTarget(at)) || (ts.forEachChild(at, child => isSet(child) || undefined) ?? false)
  return !statements.some(isSet)
}
