import ts from 'typescript'

/** What an expression speaks of. */
export interface Mentions {
  readonly symbols: readonly ts.Symbol[]
  /** Something in it is waited for, given in between, or asked of what the class inherits. */
  readonly waits: boolean
}

/** What a checker says of nodes, asked once for each: the same statements are compared with many others. */
export class KnownNodes {
  private static readonly all = new WeakMap<ts.TypeChecker, KnownNodes>()
  private readonly symbols = new WeakMap<ts.Identifier, { readonly symbol: ts.Symbol | undefined }>()
  private readonly mentions = new WeakMap<ts.Node, Mentions>()
  private readonly types = new WeakMap<ts.Expression, string>()

  private constructor(private readonly checker: ts.TypeChecker) {}

  static of(checker: ts.TypeChecker): KnownNodes {
    let found = this.all.get(checker)
    if (!found) this.all.set(checker, found = new KnownNodes(checker))
    return found
  }

  symbolOf(name: ts.Identifier): ts.Symbol | undefined {
    let found = this.symbols.get(name)
    if (!found) this.symbols.set(name, found = { symbol: ts.isShorthandPropertyAssignment(name.parent) ? this.checker.getShorthandAssignmentValueSymbol(name.parent) : this.checker.getSymbolAtLocation(name) })
    return found.symbol
  }

  mentionsOf(node: ts.Node): Mentions {
    let found = this.mentions.get(node)
    if (found) return found
    const symbols = new Set<ts.Symbol>()
    let waits = false
    const visit = (at: ts.Node): void => {
      const symbol = ts.isIdentifier(at) ? this.symbolOf(at) : undefined
      if (symbol) symbols.add(symbol)
      if (ts.isAwaitExpression(at) || ts.isYieldExpression(at) || at.kind === ts.SyntaxKind.SuperKeyword) waits = true
      ts.forEachChild(at, visit)
    }
    visit(node)
    this.mentions.set(node, found = { symbols: [...symbols], waits })
    return found
  }

  /** The type that is wanted in the place of an expression, or its own, as text. */
  typeOf(node: ts.Expression): string {
    let found = this.types.get(node)
    if (found === undefined) {
      const wanted = ts.isShorthandPropertyAssignment(node.parent) ? undefined : this.checker.getContextualType(node)
      this.types.set(node, found = this.checker.typeToString(wanted ?? this.checker.getBaseTypeOfLiteralType(this.checker.getTypeAtLocation(node))))
    }
    return found
  }
}
