import ts from 'typescript'
import type { EffectKind } from '../../../effect/kinds.js'
import { catalogueOf } from '../../../effect/shipped.js'
import { isLeftOutside } from '../../write/outside-group.js'
import { memberName, symbolOf } from '../declarations.js'
import { externalNameOf, RUNTIME } from '../externals.js'
import type { Snapshot } from '../session.js'
import { superCalls } from './injection-points.js'
import type { OutsideUse } from './outside-uses.js'
import { heldUseAround, isConstant, isImportedFromFile, isOutside, rootOf } from './outside-uses.js'
import { isPlainData } from './plain-data.js'

/** An object of a library that a class makes once for each of its objects, holds in a private field, and asks for things. */
export interface HeldLibrary {
  /** Name of the field, with its `#`. */
  readonly field: string
  readonly declaration: ts.PropertyDeclaration
  readonly creation: ts.NewExpression
  /** What the creation is handed of the class's own; none where it means the same wherever it stands. */
  readonly passed: readonly ts.Expression[]
  readonly external: string
  readonly effect: EffectKind
  readonly uses: readonly OutsideUse[]
  /** Why it has to stay, with the line, where it has to. */
  readonly stays: { readonly line: number; readonly why: string } | null
}

/** The library objects that a class holds, in source order. Linear in the nodes of the class. */
export function findHeldLibraries(node: ts.ClassLikeDeclaration, snapshot: Snapshot): HeldLibrary[] {
  const found: HeldLibrary[] = []
  for (const declaration of node.members) {
    if (!ts.isPropertyDeclaration(declaration) || !isPrivate(declaration) || ts.getDecorators(declaration)?.length) continue
    const symbol = symbolOf(declaration), names = symbol ? mentionsOf(symbol, declaration, node, snapshot) : []
    const assigned = names.filter(name => isAssigned(name))
    const creation = declaration.initializer ?? (assigned.length === 1 ? assignedOnce(assigned[0]!, node) : undefined)
    if (!creation || !ts.isNewExpression(creation) || (declaration.initializer !== undefined && assigned.length > 0)) continue
    const root = rootOf(creation)
    if (!ts.isIdentifier(root) || !isOutside(root, snapshot) || isImportedFromFile(root, snapshot)) continue
    const made = snapshot.checker.getTypeAtLocation(creation).symbol?.declarations?.find(one => ts.isClassLike(one) || ts.isInterfaceDeclaration(one))
    const external = made && externalNameOf(made)
    if (!made || external === undefined || external === RUNTIME || snapshot.pathOf(made.getSourceFile()) !== undefined) continue
    const effect = catalogueOf('typescript').effectOf(external, made.name?.getText() ?? '')
    if (isLeftOutside(effect) || effect === 'pure') continue
    const line = (at: ts.Node) => at.getSourceFile().getLineAndCharacterOfPosition(at.getStart()).line + 1
    const passed: ts.Expression[] = []
    const problem = handedTo(creation, node, snapshot, passed)
    const uses: OutsideUse[] = []
    let stays = problem === undefined ? null : { line: line(creation), why: problem }
    for (const name of names) {
      if (assigned.includes(name)) continue
      const use = heldUseAround(name, effect, node, snapshot)
      if (typeof use === 'string') stays ??= { line: line(name), why: use }
      else if (!uses.some(one => one.node === use.node)) uses.push(use)
    }
    if (uses.length > 0 || stays) found.push({ field: memberName(declaration), declaration, creation, passed, external, effect, uses, stays })
  }
  return found
}

function isPrivate(declaration: ts.PropertyDeclaration): boolean {
  const modifiers = ts.getModifiers(declaration) ?? []
  if (modifiers.some(one => one.kind === ts.SyntaxKind.StaticKeyword || one.kind === ts.SyntaxKind.DeclareKeyword) || declaration.questionToken) return false
  return ts.isPrivateIdentifier(declaration.name) || (ts.isIdentifier(declaration.name) && modifiers.some(one => one.kind === ts.SyntaxKind.PrivateKeyword))
}

/** Names of the field in the class, but for its declaration. */
function mentionsOf(symbol: ts.Symbol, declaration: ts.PropertyDeclaration, node: ts.ClassLikeDeclaration, { checker }: Snapshot): (ts.Identifier | ts.PrivateIdentifier)[] {
  const names: (ts.Identifier | ts.PrivateIdentifier)[] = []
  const visit = (at: ts.Node): void => {
    if ((ts.isIdentifier(at) || ts.isPrivateIdentifier(at)) && at !== declaration.name && at.text === (declaration.name as ts.Identifier).text && checker.getSymbolAtLocation(at) === symbol) names.push(at)
    ts.forEachChild(at, visit)
  }
  visit(node)
  return names
}

function isAssigned(name: ts.Node): boolean {
  const { parent } = name
  return ts.isPropertyAccessExpression(parent) && ts.isBinaryExpression(parent.parent) && parent.parent.left === parent && parent.parent.operatorToken.kind === ts.SyntaxKind.EqualsToken
}

/** What is assigned in a statement of the constructor's own. */
function assignedOnce(name: ts.Node, node: ts.ClassLikeDeclaration): ts.Expression | undefined {
  const assignment = name.parent.parent as ts.BinaryExpression, statement = assignment.parent
  const constructor = statement.parent.parent
  const isOwn = ts.isExpressionStatement(statement) && ts.isBlock(statement.parent) && ts.isConstructorDeclaration(constructor) && constructor.parent === node && (name.parent as ts.PropertyAccessExpression).expression.kind === ts.SyntaxKind.ThisKeyword
  const after = isOwn ? superCalls(constructor)[0] : undefined
  return isOwn && !(after && assignment.pos < after.end) ? assignment.right : undefined
}

/** Gathers what a creation is handed of the class's own; says what of it is the library's. */
function handedTo(creation: ts.NewExpression, node: ts.ClassLikeDeclaration, snapshot: Snapshot, passed: ts.Expression[]): string | undefined {
  if (creation.typeArguments?.length) return 'it is made with types of its own'
  for (const argument of creation.arguments ?? []) {
    if (ts.isSpreadElement(argument)) return 'what it is made of is spread'
    if (isConstant(argument) || isOfOutside(argument, snapshot)) continue
    if (!isPlainData(snapshot.checker.getTypeAtLocation(argument), snapshot)) return `${argument.getText()} is of a type of the library`
    passed.push(argument)
  }
  return undefined
}

/** Whether all that an expression names is of libraries or the language's own, so that it means the same in another file. */
function isOfOutside(node: ts.Expression, snapshot: Snapshot): boolean {
  const isFine = (at: ts.Node): boolean => {
    if (at.kind === ts.SyntaxKind.ThisKeyword || ts.isFunctionLike(at) || ts.isAwaitExpression(at) || ts.isYieldExpression(at)) return false
    if (ts.isIdentifier(at) && !(ts.isPropertyAccessExpression(at.parent) && at.parent.name === at) && !(ts.isPropertyAssignment(at.parent) && at.parent.name === at)) {
      if (at.text !== 'undefined' && (!isOutside(at, snapshot) || isImportedFromFile(at, snapshot))) return false
    }
    return ts.forEachChild(at, child => (isFine(child) ? undefined : true)) !== true
  }
  return isFine(node)
}
