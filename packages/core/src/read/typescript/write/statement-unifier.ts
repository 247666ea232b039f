import ts from 'typescript'
import { KnownNodes } from './known-nodes.js'

/** An expression that differs from place to place, one node for each; what stands there is handed in. */
export interface Hole { readonly nodes: readonly ts.Expression[] }

/** What is alike in statements of several places. */
export interface Unified {
  /** In the order in which they stand. */
  readonly holes: readonly Hole[]
  /** For each place its variables that the statements declare, by a number that is the same in all places. */
  readonly locals: readonly ReadonlyMap<ts.Symbol, number>[]
}

/**
 * The same statements in several places but for expressions, or undefined where they differ in more than that (anti-unification,
 * Plotkin 1970). What they call and build, and what they name at the top of files, is the same thing everywhere; variables of their
 * own may have other names. Nothing in them leaves the place or sets what stands outside. `canName`: whether another file could
 * name a symbol; `whole`: they are all that their method does in some case, so that they may leave it, and jump where they do so
 * inside; `own`: variables before them that are theirs, which they may set. O(places × nodes), times the depth where expressions differ.
 */
export function unifyStatements(runs: readonly (readonly ts.Node[])[], checker: ts.TypeChecker, canName: (symbol: ts.Symbol) => boolean, whole = false, own: readonly ts.Symbol[] = []): Unified | undefined {
  const [first] = runs
  if (!first || runs.some(run => run.length !== first.length)) return undefined
  const unifier = new Unifier(runs, checker, canName, whole, own)
  return first.every((_, at) => unifier.unify(runs.map(run => run[at]!))) ? { holes: unifier.holes, locals: unifier.locals } : undefined
}

class Unifier {
  holes: Hole[] = []
  readonly locals: Map<ts.Symbol, number>[]
  private count = 0
  private readonly known: KnownNodes

  constructor(private readonly runs: readonly (readonly ts.Node[])[], private readonly checker: ts.TypeChecker, private readonly canName: (symbol: ts.Symbol) => boolean, private readonly whole: boolean, own: readonly ts.Symbol[]) {
    this.locals = runs.map(() => new Map<ts.Symbol, number>(own.map((symbol, at) => [symbol, at])))
    this.count = own.length
    this.known = KnownNodes.of(checker)
  }

  unify(nodes: readonly ts.Node[]): boolean {
    const before = this.holes.length
    if (this.alike(nodes)) return true
    this.holes.length = before
    return this.hole(nodes)
  }

  private alike(nodes: readonly ts.Node[]): boolean {
    const [first] = nodes as [ts.Node]
    const { kind } = first
    if (nodes.some(node => node.kind !== kind)) return false
    if (ts.isIdentifier(first)) return this.sameName(nodes as readonly ts.Identifier[])
    // What belongs to the object at hand is handed in; what leaves the place cannot stand elsewhere.
    if (kind === ts.SyntaxKind.ThisKeyword || kind === ts.SyntaxKind.SuperKeyword || kind === ts.SyntaxKind.YieldExpression) return false
    if (!this.whole && (ts.isReturnStatement(first) || ts.isBreakOrContinueStatement(first)) && !this.isInsideFunction(first)) return false
    if (ts.isPropertyAccessExpression(first) && (first.expression.kind === ts.SyntaxKind.ThisKeyword || isHidden(this.checker.getSymbolAtLocation(first.name)))) return false
    if (ts.isObjectLiteralExpression(first)) return this.alikeObjects(nodes as readonly ts.ObjectLiteralExpression[])
    if (ts.isLiteralExpression(first) || kind === ts.SyntaxKind.TemplateHead || kind === ts.SyntaxKind.TemplateMiddle || kind === ts.SyntaxKind.TemplateTail) {
      return nodes.every(node => (node as ts.LiteralLikeNode).text === (first as ts.LiteralLikeNode).text)
    }
    if (this.setsSomething(nodes)) return false
    if ((ts.isPrefixUnaryExpression(first) || ts.isPostfixUnaryExpression(first)) && nodes.some(node => (node as ts.PrefixUnaryExpression).operator !== first.operator)) return false
    if (ts.isVariableDeclarationList(first) && nodes.some(node => (node.flags & ts.NodeFlags.BlockScoped) !== (first.flags & ts.NodeFlags.BlockScoped) || (node.flags & ts.NodeFlags.BlockScoped) === 0)) return false
    const lists = nodes.map(childrenOf)
    return lists.every(list => list.length === lists[0]!.length) && lists[0]!.every((_, at) => this.unify(lists.map(list => list[at]!)))
  }

  /** `{ craft }` is `{ craft: craft }`. */
  private alikeObjects(nodes: readonly ts.ObjectLiteralExpression[]): boolean {
    const [first] = nodes as [ts.ObjectLiteralExpression]
    if (nodes.some(node => node.properties.length !== first.properties.length)) return false
    return first.properties.every((_, at) => {
      const properties = nodes.map(node => node.properties[at]!)
      const plain = properties.every(one => (ts.isPropertyAssignment(one) && (ts.isIdentifier(one.name) || ts.isStringLiteral(one.name))) || (ts.isShorthandPropertyAssignment(one) && !one.objectAssignmentInitializer))
      if (!plain) return this.unify(properties)
      return properties.every(one => (one.name as ts.Identifier).text === (properties[0]!.name as ts.Identifier).text) &&
        this.unify(properties.map(one => (ts.isPropertyAssignment(one) ? one.initializer : one.name!)))
    })
  }

  private sameName(names: readonly ts.Identifier[]): boolean {
    const [first] = names as [ts.Identifier]
    const { parent } = first
    const isKey = (ts.isPropertyAccessExpression(parent) && parent.name === first) || (ts.isPropertyAssignment(parent) && parent.name === first) || (ts.isQualifiedName(parent) && parent.right === first) ||
      (ts.isBindingElement(parent) && parent.propertyName === first) || ((ts.isMethodDeclaration(parent) || ts.isPropertySignature(parent) || ts.isMethodSignature(parent)) && parent.name === first)
    const symbols = names.map(name => this.symbolOf(name))
    if (isKey) return names.every(name => name.text === first.text) && symbols.every(symbol => this.sameMember(symbol, symbols[0]))
    if (isDeclared(first)) {
      if (symbols.includes(undefined)) return false
      const number = this.count++
      symbols.forEach((symbol, at) => this.locals[at]!.set(symbol!, number))
      return true
    }
    if (names.every(name => name.text === 'undefined') && !symbols.some(symbol => symbol?.declarations?.length)) return true
    if (symbols.includes(undefined)) return false
    const numbers = symbols.map((symbol, at) => this.locals[at]!.get(symbol!))
    if (numbers.some(number => number !== undefined)) return numbers.every(number => number === numbers[0])
    const targets = symbols.map(symbol => (symbol!.flags & ts.SymbolFlags.Alias ? this.checker.getAliasedSymbol(symbol!) : symbol!))
    return targets.every(target => target === targets[0]) && this.canName(symbols[0]!)
  }

  /** Members of one object literal or type each are the same by name alone; those of the project's types have to be the same ones. */
  private sameMember(a: ts.Symbol | undefined, b: ts.Symbol | undefined): boolean {
    return a === b || (a !== undefined && b !== undefined && a.declarations?.[0] === b.declarations?.[0]) || (a === undefined) === (b === undefined) && !a?.declarations?.some(one => ts.isClassLike(one.parent) || ts.isInterfaceDeclaration(one.parent))
  }

  private symbolOf(name: ts.Identifier): ts.Symbol | undefined { return this.known.symbolOf(name) }

  /** Whether something outside the statements is set. */
  private setsSomething(nodes: readonly ts.Node[]): boolean {
    return nodes.some((node, at) => {
      const target = (ts.isForOfStatement(node) || ts.isForInStatement(node)) && !ts.isVariableDeclarationList(node.initializer) ? node.initializer : ts.isBinaryExpression(node) && node.operatorToken.kind >= ts.SyntaxKind.FirstAssignment && node.operatorToken.kind <= ts.SyntaxKind.LastAssignment ? node.left
        : (ts.isPrefixUnaryExpression(node) || ts.isPostfixUnaryExpression(node)) && (node.operator === ts.SyntaxKind.PlusPlusToken || node.operator === ts.SyntaxKind.MinusMinusToken) ? node.operand
          : ts.isDeleteExpression(node) ? node.expression : undefined
      if (!target) return false
      // What is set in an object that is handed in is set there too; the object itself is not handed to its own cases.
      if (isOfHandedObject(target)) return false
      const symbol = ts.isIdentifier(target) ? this.checker.getSymbolAtLocation(target) : undefined
      return !symbol || !this.locals[at]!.has(symbol)
    })
  }

  private hole(nodes: readonly ts.Node[]): boolean {
    if (!nodes.every(node => canBeHandedIn(node)) || nodes.some((node, at) => this.speaksOfLocals(node, at))) return false
    const types = nodes.map(node => this.known.typeOf(node as ts.Expression))
    if (types.some(type => type !== types[0])) return false
    this.holes.push({ nodes: nodes as readonly ts.Expression[] })
    return true
  }

  private speaksOfLocals(node: ts.Node, place: number): boolean {
    const { symbols, waits } = this.known.mentionsOf(node), locals = this.locals[place]!
    return waits || symbols.some(symbol => locals.has(symbol))
  }

  private isInsideFunction(node: ts.Node): boolean {
    const whole = this.runs[0]!
    for (let at = node; at; at = at.parent) { if (ts.isFunctionLike(at)) return true; if (whole.includes(at)) return false }
    return false
  }
}

export function childrenOf(node: ts.Node): ts.Node[] {
  const list: ts.Node[] = []
  ts.forEachChild(node, child => { list.push(child) })
  return list
}

/** A member that only its own class, or those below it, can name. */
export function isHidden(member: ts.Symbol | undefined): boolean {
  return member?.declarations?.some(one => (ts.getCombinedModifierFlags(one) & (ts.ModifierFlags.Private | ts.ModifierFlags.Protected)) !== 0 || ((one as ts.NamedDeclaration).name !== undefined && ts.isPrivateIdentifier((one as ts.NamedDeclaration).name!))) === true
}

/** A property of something, but not of the object at hand. */
function isOfHandedObject(target: ts.Node): boolean {
  return (ts.isPropertyAccessExpression(target) || ts.isElementAccessExpression(target)) && target.expression.kind !== ts.SyntaxKind.ThisKeyword && target.expression.kind !== ts.SyntaxKind.SuperKeyword
}

function isDeclared(name: ts.Identifier): boolean {
  const { parent } = name
  return ((ts.isVariableDeclaration(parent) || ts.isParameter(parent) || ts.isBindingElement(parent) || ts.isFunctionExpression(parent)) && parent.name === name)
}

/** Whether an argument could stand in its place. */
function canBeHandedIn(node: ts.Node): boolean {
  const { parent } = node
  if (ts.isIdentifier(node) && ts.isShorthandPropertyAssignment(parent)) return true
  if (!ts.isExpression(node) || ts.isExpressionStatement(parent) || ts.isOmittedExpression(node) || ts.isSpreadElement(node) || ts.isTypeNode(node)) return false
  if (ts.isObjectLiteralExpression(node) && ts.isParenthesizedExpression(parent)) return false
  if (ts.isIdentifier(node) && ((parent as ts.Node & { readonly name?: ts.Node }).name === node || ts.isTypeNode(parent))) return false
  if ((ts.isCallExpression(parent) || ts.isNewExpression(parent)) && parent.expression === node) return false
  if (ts.isTaggedTemplateExpression(parent) || ts.isPrefixUnaryExpression(parent) || ts.isPostfixUnaryExpression(parent) || ts.isTypeOfExpression(parent) || ts.isDeleteExpression(parent)) return false
  return !(ts.isBinaryExpression(parent) && parent.left === node && parent.operatorToken.kind >= ts.SyntaxKind.FirstAssignment && parent.operatorToken.kind <= ts.SyntaxKind.LastAssignment)
}
