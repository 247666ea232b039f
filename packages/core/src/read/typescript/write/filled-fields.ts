import ts from 'typescript'
import { Refused } from '../../write/refused.js'
import { memberName } from '../declarations.js'
import type { Snapshot } from '../session.js'
import { lineOf, superCalls } from './injection-points.js'
import { isSettled, isTarget } from './settled.js'

/** A private field that the constructor fills with one of its arguments, as it is. */
export interface FilledField {
  readonly name: string
  readonly parameter: ts.ParameterDeclaration & { readonly name: ts.Identifier }
  /** Where it is declared and filled; neither where the argument declares it (a parameter property). */
  readonly declared: ts.PropertyDeclaration | undefined
  readonly filled: ts.ExpressionStatement | undefined
}

const isPrivate = (node: ts.HasModifiers) => ts.getModifiers(node)?.some(one => one.kind === ts.SyntaxKind.PrivateKeyword) === true

/** Fields of a class that its only constructor fills so, in the order of its arguments. */
export function filledFields(node: ts.ClassDeclaration, snapshot: Snapshot): FilledField[] {
  const [constructor, another] = node.members.filter(ts.isConstructorDeclaration)
  if (!constructor?.body || another) return []
  return constructor.parameters.flatMap((one): FilledField[] => {
    if (!ts.isIdentifier(one.name) || one.dotDotDotToken || ts.getDecorators(one)?.length) return []
    const parameter = one as FilledField['parameter']
    if (ts.getModifiers(one)?.length) return isPrivate(one) && !isSetIn(one.name.text, constructor.body!) ? [{ name: one.name.text, parameter, declared: undefined, filled: undefined }] : []
    return constructor.body!.statements.flatMap(statement => {
      const value = ts.isExpressionStatement(statement) && ts.isBinaryExpression(statement.expression) && statement.expression.operatorToken.kind === ts.SyntaxKind.EqualsToken ? statement.expression : undefined
      if (!value || !ts.isIdentifier(value.right) || !ts.isPropertyAccessExpression(value.left) || value.left.expression.kind !== ts.SyntaxKind.ThisKeyword || value.right.text !== parameter.name.text || !isSettled(value.right, snapshot)) return []
      const { text: name } = value.left.name, declared = node.members.find((member): member is ts.PropertyDeclaration => ts.isPropertyDeclaration(member) && memberName(member) === name)
      return declared && isPrivate(declared) && !declared.initializer ? [{ name, parameter, declared, filled: statement as ts.ExpressionStatement }] : []
    })
  })
}

/** Whether a block sets a variable of a name. */
export function isSetIn(name: string, block: ts.Node): boolean {
  return (ts.isIdentifier(block) && block.text === name && isTarget(block)) || (ts.forEachChild(block, child => isSetIn(name, child) || undefined) ?? false)
}

/** A filled field as an argument: one that declares it (`private readonly boats: Boats`) where an argument did so, else `boats: Boats`. */
export function asParameter({ name, parameter, declared }: FilledField): string {
  const type = (declared?.type ?? parameter.type)?.getText()
  if (type === undefined) throw new Refused('type', `The type of ${name} is not written down`)
  const modifiers = declared ? '' : ts.getModifiers(parameter)!.some(one => one.kind === ts.SyntaxKind.ReadonlyKeyword) ? 'private readonly ' : 'private '
  const isOptional = (declared ?? parameter).questionToken !== undefined
  return `${modifiers}${name}: ${isOptional ? `${/=>|\bnew\b/.test(type) ? `(${type})` : type} | undefined` : type}`
}

/**
 * Refuses where an object that is made in the constructor, of what some fields are filled with, would come too late: something has used
 * the whole before. `filling`: where the constructor fills them; `later`: methods that ask that object afterwards.
 */
export function refuseTooLate(node: ts.ClassDeclaration, filling: readonly ts.ExpressionStatement[], later: ReadonlySet<string>): void {
  for (const member of node.members) {
    if (!ts.isPropertyDeclaration(member) || !member.initializer || ts.getModifiers(member)?.some(one => one.kind === ts.SyntaxKind.StaticKeyword)) continue
    const early = usesOf(member.initializer).find(one => !ts.isPropertyAccessExpression(one.parent) || later.has(one.parent.name.text) || ts.isCallExpression(one.parent.parent))
    if (early) throw new Refused('order', `${memberName(member)} is made with the object itself, line ${lineOf(early)}, before what it would then need is there`)
  }
  const constructor = node.members.find(ts.isConstructorDeclaration)!, { statements } = constructor.body!
  const last = Math.max(-1, ...filling.map(one => statements.indexOf(one)))
  const begin = superCalls(constructor)[0] ? statements.findIndex(one => one.pos <= superCalls(constructor)[0]!.pos && superCalls(constructor)[0]!.end <= one.end) : -1
  for (const statement of statements.slice(begin + 1, last + 1)) {
    const early = usesOf(statement).find(one => !isFilling(one))
    if (early) throw new Refused('order', `The object itself is used in line ${lineOf(early)}, before all of what would move is filled`)
  }
}

/** `this` in code, but not in functions that are called later. */
function usesOf(node: ts.Node): ts.Node[] {
  if (ts.isFunctionLike(node)) return []
  if (node.kind === ts.SyntaxKind.ThisKeyword) return [node]
  const found: ts.Node[] = []
  ts.forEachChild(node, child => { found.push(...usesOf(child)) })
  return found
}

/** `this` of `this.x = …`. */
function isFilling(node: ts.Node): boolean {
  const { parent } = node
  return ts.isPropertyAccessExpression(parent) && ts.isBinaryExpression(parent.parent) && parent.parent.left === parent && parent.parent.operatorToken.kind === ts.SyntaxKind.EqualsToken
}
