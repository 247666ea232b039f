import ts from 'typescript'
import type { EffectKind } from '../../../effect/kinds.js'
import type { OutsideGroup } from '../../write/outside-group.js'
import { outsideReferences } from '../../write/outside-group.js'
import { memberName } from '../declarations.js'
import { externalNameOf, RUNTIME } from '../externals.js'
import type { Snapshot } from '../session.js'
import { whyNoParameter } from './handed-functions.js'
import { functionsOf } from './injection-points.js'
import { isPlainData } from './plain-data.js'
import { isBeforeSuper, placeOf } from './place.js'

/** A use of the outside that can be put behind an interface: the smallest expression around it whose result is not the library's. */
export interface OutsideUse {
  readonly node: ts.Expression
  /** What is handed over, in order. A literal is part of it where uses that are alike otherwise have others in its place; else it becomes part of the implementation. */
  readonly passed: readonly ts.Expression[]
  readonly literals: readonly ts.Expression[]
  /** Names along the call: `statSync`, `size`. */
  readonly names: readonly string[]
  /** The class is not yet built where it stands, so that the parameter itself is meant. */
  readonly beforeSuper: boolean
  /** The function of a file that it stands in; undefined in a class. */
  readonly within: ts.FunctionLikeDeclaration | undefined
}

/** What the objects of a class, or the functions of a file, use of the outside themselves, by what it is, in source order. Linear in the references of its file. */
export function findOutsideUses(type: string, node: ts.ClassLikeDeclaration | ts.SourceFile, snapshot: Snapshot): OutsideGroup<OutsideUse>[] {
  const source = node.getSourceFile(), path = snapshot.pathOf(source)
  const facts = snapshot.facts.files.find(file => file.path === path)
  const groups = new Map<string, OutsideGroup<OutsideUse>>()
  const seen = new Set<ts.Node>()
  for (const { reference, effect } of outsideReferences(facts?.references ?? [], type, 'typescript')) {
    const key = reference.to === RUNTIME ? `${RUNTIME}.${effect}` : reference.to
    let group = groups.get(key)
    if (!group) groups.set(key, group = { key, external: reference.to, effect, uses: [], stays: [] })
    const name = nameAt(source, reference.span.start)
    const found = name ? useAround(name, effect, node, snapshot) : 'it is not found any more'
    if (typeof found === 'string') group.stays.push({ line: reference.span.line, why: found })
    else if (!seen.has(found.node)) { seen.add(found.node); group.uses.push(found) }
  }
  return [...groups.values()].map(group => ({ ...group, uses: withLiterals(group.uses) }))
}

/** Uses that differ only in literals become the same call: what differs is handed over. */
function withLiterals(uses: readonly OutsideUse[]): OutsideUse[] {
  const given = ({ passed, literals }: OutsideUse) => [...passed, ...literals].sort((a, b) => a.pos - b.pos)
  const alike = new Map<string, OutsideUse[]>()
  const keyOf = (use: OutsideUse) => `${use.names.join('.')} ${use.passed.length + use.literals.length}`
  for (const use of uses) alike.set(keyOf(use), [...alike.get(keyOf(use)) ?? [], use])
  return uses.map(use => {
    const others = alike.get(keyOf(use))!.map(given)
    const differs = (at: number) => others.some(one => one[at]!.getText() !== others[0]![at]!.getText())
    return { ...use, passed: given(use).filter((one, at) => !use.literals.includes(one) || differs(at)) }
  })
}

function nameAt(file: ts.SourceFile, position: number): ts.Identifier | undefined {
  let found: ts.Identifier | undefined
  const visit = (node: ts.Node): void => {
    if (position < node.pos || position >= node.end || found) return
    if (ts.isIdentifier(node) && node.getStart(file) === position) found = node
    else ts.forEachChild(node, visit)
  }
  visit(file)
  return found
}

/** The use that a name is part of, or why it cannot be put behind an interface. */
function useAround(name: ts.Identifier, effect: EffectKind, owner: ts.ClassLikeDeclaration | ts.SourceFile, snapshot: Snapshot): OutsideUse | string {
  const whole = expressionAround(name, snapshot)
  if (typeof whole === 'string') return whole
  const root = rootOf(whole)
  if (!ts.isIdentifier(root) || !isOutside(root, snapshot)) return `${root.getText()} is an object that is held, and what it is belongs to the library`
  if (isImportedFromFile(root, snapshot)) return `${root.text} comes from a file beside the sources that is not read`
  return useOf(whole, effect, owner, snapshot)
}

/** What is asked of an object of a library that a class holds: `this.link.send(...)`, from the name of the field outwards. */
export function heldUseAround(name: ts.Identifier | ts.PrivateIdentifier, effect: EffectKind, owner: ts.ClassLikeDeclaration, snapshot: Snapshot): OutsideUse | string {
  const whole = expressionAround(name, snapshot)
  if (typeof whole === 'string') return whole
  return whole === name.parent ? 'it is handed on' : useOf(whole, effect, owner, snapshot, name.parent)
}

/** A use whose expression is known. `held`: what it begins with, where that is a field. */
function useOf(whole: ts.Expression, effect: EffectKind, owner: ts.ClassLikeDeclaration | ts.SourceFile, snapshot: Snapshot, held?: ts.Node): OutsideUse | string {
  const { checker } = snapshot
  const home = ts.isSourceFile(owner) ? functionAround(whole, owner, snapshot) : memberAround(whole, owner)
  if (typeof home === 'string') return home
  if (ts.isParameter(whole.parent)) return 'it is the default of a parameter'
  if (isSet(whole)) return 'it is set, not asked for'
  const passed: ts.Expression[] = [], literals: ts.Expression[] = [], names: string[] = []
  const problem = takeApart(whole, snapshot, { passed, literals }, names, held)
  if (problem) return problem
  if (names.length === 0) return 'it has no name of its own'
  const calls = callsAround(whole, passed)
  // What the process was started with is asked for without a call; any other value without one is a constant.
  if (calls === 0 && effect !== 'environment' && !held) return 'it is a constant'
  if (calls > 1 && passed.some(one => !isSimple(one))) return 'what is handed over would be worked out in another order'
  for (const one of passed) {
    const type = checker.getTypeAtLocation(one)
    if (!isPlainData(type, snapshot)) return `${one.getText()} is of a type of the library, ${checker.typeToString(type)}`
  }
  return { node: whole, passed, literals, names, ...home }
}

/** Where in a class a use stands, or why what stands there could not be handed in. */
function memberAround(whole: ts.Expression, owner: ts.ClassLikeDeclaration): Pick<OutsideUse, 'beforeSuper' | 'within'> | string {
  const member = ts.findAncestor(whole, at => at.parent === owner) as ts.ClassElement | undefined
  if (!member) return 'it stands outside the members of the class'
  if (ts.canHaveModifiers(member) && ts.getModifiers(member)?.some(one => one.kind === ts.SyntaxKind.StaticKeyword)) return `${memberName(member)} is static, so that no object could hand it in`
  const place = placeOf(whole, owner)
  if (place.inFunction) return 'it stands in a function with a this of its own'
  if (place.field && !place.deferred) return 'it is in the initialiser of a field, which runs before anything could be handed in'
  return { beforeSuper: place.constructor !== undefined && isBeforeSuper(whole, place.constructor), within: undefined }
}

/** The function of a file in which a use stands, or why that could not be handed anything. */
function functionAround(whole: ts.Expression, file: ts.SourceFile, snapshot: Snapshot): Pick<OutsideUse, 'beforeSuper' | 'within'> | string {
  const within = functionsOf(file).find(({ target }) => target.pos <= whole.pos && whole.end <= target.end)?.target
  if (!within) return 'it runs as the file is loaded, or in a function that has no name at its top'
  if (ts.findAncestor(whole, one => one.parent === within && ts.isParameter(one))) return 'it is the default of a parameter'
  const reason = whyNoParameter(within, snapshot)
  return reason ?? { beforeSuper: false, within }
}

/** Whether an expression is what something is assigned to, or taken away. */
function isSet(node: ts.Expression): boolean {
  const { parent } = node
  if (ts.isBinaryExpression(parent)) return parent.left === node && parent.operatorToken.kind >= ts.SyntaxKind.FirstAssignment && parent.operatorToken.kind <= ts.SyntaxKind.LastAssignment
  return ts.isDeleteExpression(parent) || ts.isPostfixUnaryExpression(parent) || (ts.isPrefixUnaryExpression(parent) && (parent.operator === ts.SyntaxKind.PlusPlusToken || parent.operator === ts.SyntaxKind.MinusMinusToken))
}

/** From a name outwards to the first expression whose value is not the library's. */
function expressionAround(name: ts.Identifier | ts.PrivateIdentifier, snapshot: Snapshot): ts.Expression | string {
  const { checker } = snapshot
  let at: ts.Expression = ts.isPropertyAccessExpression(name.parent) && name.parent.name === name ? name.parent : name as ts.Identifier
  for (;;) {
    const { parent } = at
    const isCallee = (ts.isCallExpression(parent) || ts.isNewExpression(parent)) && parent.expression === at
    const isHolder = (ts.isPropertyAccessExpression(parent) || ts.isElementAccessExpression(parent)) && parent.expression === at
    const type = checker.getTypeAtLocation(at)
    if (!isCallee && !ts.isIdentifier(at)) {
      if (ts.isCallExpression(at) && ts.isExpressionStatement(parent)) return at
      if (isPlainData(type, snapshot) && type.getCallSignatures().length === 0 && type.getConstructSignatures().length === 0) return at
    }
    if (isCallee || isHolder || ts.isNonNullExpression(parent)) { at = parent; continue }
    if (ts.isCallExpression(parent) && parent.arguments.includes(at)) { at = parent; continue }
    return type.getCallSignatures().length > 0 && (ts.isIdentifier(at) || ts.isPropertyAccessExpression(at)) ? `${at.getText()} is handed on as a function` : `its type ${checker.typeToString(type)} is the library's`
  }
}

/** What an expression begins with. */
export function rootOf(node: ts.Expression): ts.Expression {
  while (ts.isPropertyAccessExpression(node) || ts.isElementAccessExpression(node) || ts.isCallExpression(node) || ts.isNewExpression(node) || ts.isNonNullExpression(node) || ts.isParenthesizedExpression(node)) node = node.expression
  return node
}

/** Whether a name means something that is imported from outside the project, or a global. */
export function isOutside(name: ts.Identifier, snapshot: Snapshot): boolean {
  const found = snapshot.checker.getSymbolAtLocation(name)
  const symbol = found && found.flags & ts.SymbolFlags.Alias ? snapshot.checker.getAliasedSymbol(found) : found
  const declaration = symbol?.declarations?.[0]
  return declaration !== undefined && snapshot.pathOf(declaration.getSourceFile()) === undefined && externalNameOf(declaration) !== undefined
}

/** Whether a name is imported from a path: code of the project that its settings leave out, such as what a generator wrote. */
export function isImportedFromFile(name: ts.Identifier, { checker }: Snapshot): boolean {
  const declaration = checker.getSymbolAtLocation(name)?.declarations?.[0]
  const statement = declaration && ts.findAncestor(declaration, ts.isImportDeclaration)
  return statement !== undefined && ts.isStringLiteral(statement.moduleSpecifier) && statement.moduleSpecifier.text.startsWith('.')
}

/** Gathers what is handed over and the names along an expression; says what cannot be taken apart. */
function takeApart(node: ts.Expression, snapshot: Snapshot, given: Record<'passed' | 'literals', ts.Expression[]>, names: string[], held?: ts.Node): string | undefined {
  if (node === held) return undefined
  if (ts.isIdentifier(node)) { names.push(node.text); return undefined }
  if (ts.isNonNullExpression(node) || ts.isParenthesizedExpression(node)) return takeApart(node.expression, snapshot, given, names, held)
  if (ts.isPropertyAccessExpression(node)) {
    const problem = takeApart(node.expression, snapshot, given, names, held)
    if (!problem) names.push(node.name.text)
    return problem
  }
  if (ts.isElementAccessExpression(node)) {
    const problem = takeApart(node.expression, snapshot, given, names, held)
    if (problem) return problem
    if (ts.isStringLiteralLike(node.argumentExpression)) names.push(node.argumentExpression.text)
    else if (!isConstant(node.argumentExpression)) given.passed.push(node.argumentExpression)
    return undefined
  }
  if (!ts.isCallExpression(node) && !ts.isNewExpression(node)) return `${node.getText()} is no call`
  if (node.typeArguments?.length) return 'it is called with types of its own'
  const problem = takeApart(node.expression, snapshot, given, names, held)
  if (problem) return problem
  for (const argument of node.arguments ?? []) {
    if (ts.isSpreadElement(argument)) return 'its arguments are spread'
    if (isConstant(argument)) { if (isOfAnyValue(argument, snapshot)) given.literals.push(argument); continue }
    if (isPlainData(snapshot.checker.getTypeAtLocation(argument), snapshot)) { given.passed.push(argument); continue }
    const root = rootOf(argument)
    if (!ts.isIdentifier(root) || !isOutside(root, snapshot)) return `${argument.getText()} is of a type of the library`
    const inner = takeApart(argument, snapshot, given, [])
    if (inner) return inner
  }
  return undefined
}

/** Whether any text or number could stand in the place of a literal. */
function isOfAnyValue(node: ts.Expression, { checker }: Snapshot): boolean {
  if (!ts.isStringLiteralLike(node) && !ts.isNumericLiteral(node)) return false
  const wanted = checker.getContextualType(node)
  return !wanted || checker.isTypeAssignableTo(checker.getBaseTypeOfLiteralType(checker.getTypeAtLocation(node)), wanted)
}

/** An expression that means the same wherever it stands, and has no effect. */
export function isConstant(node: ts.Expression): boolean {
  // A text of several lines is handed over as it stands.
  if (ts.isStringLiteralLike(node)) return !node.getText().includes('\n')
  if (ts.isNumericLiteral(node) || ts.isBigIntLiteral(node) || ts.isRegularExpressionLiteral(node)) return true
  if ([ts.SyntaxKind.TrueKeyword, ts.SyntaxKind.FalseKeyword, ts.SyntaxKind.NullKeyword].includes(node.kind)) return true
  if (ts.isIdentifier(node)) return node.text === 'undefined'
  if (ts.isPrefixUnaryExpression(node)) return ts.isNumericLiteral(node.operand)
  if (ts.isArrayLiteralExpression(node)) return node.elements.every(isConstant)
  return ts.isObjectLiteralExpression(node) && node.properties.every(one => ts.isPropertyAssignment(one) && !ts.isComputedPropertyName(one.name) && isConstant(one.initializer))
}

/** An expression that can be worked out earlier or later without a difference. */
function isSimple(node: ts.Expression): boolean {
  if (ts.isIdentifier(node) || isConstant(node) || node.kind === ts.SyntaxKind.ThisKeyword) return true
  if (ts.isPropertyAccessExpression(node)) return isSimple(node.expression)
  if (ts.isTemplateExpression(node)) return node.templateSpans.every(span => isSimple(span.expression))
  return ts.isBinaryExpression(node) && !(node.operatorToken.kind >= ts.SyntaxKind.FirstAssignment && node.operatorToken.kind <= ts.SyntaxKind.LastAssignment) && isSimple(node.left) && isSimple(node.right)
}

/** Calls of the library itself in an expression: what is handed over is none of it. */
function callsAround(node: ts.Node, passed: readonly ts.Expression[]): number {
  let count = 0
  const visit = (at: ts.Node): void => {
    if (passed.includes(at as ts.Expression)) return
    if (ts.isCallExpression(at) || ts.isNewExpression(at)) count++
    ts.forEachChild(at, visit)
  }
  visit(node)
  return count
}
