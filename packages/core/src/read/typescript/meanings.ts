import ts from 'typescript'
import { compareText } from '../../model/order.js'
import type { Declarations, Owner } from './declarations.js'
import { isPureGlobal } from './effects.js'
import { externalNameOf } from './externals.js'

/** What a symbol is: members or types of the project, externals, nothing of interest, or not resolved. */
export type Meaning =
  | { readonly is: 'project'; readonly owners: readonly Owner[]; readonly declaration: ts.Node }
  | { readonly is: 'external'; readonly name: string; readonly declaration: ts.Node }
  | { readonly is: 'local' }
  | { readonly is: 'unresolved'; readonly reason: string }

const LOCAL: Meaning = { is: 'local' }

/** What symbols stand for. Each is looked into once for all files of a program. */
export class Meanings {
  constructor(private readonly checker: ts.TypeChecker, private readonly declarations: Declarations, private readonly known: Map<ts.Symbol, Meaning>) {}

  unaliased(symbol: ts.Symbol): ts.Symbol {
    return symbol.flags & ts.SymbolFlags.Alias ? this.checker.getAliasedSymbol(symbol) : symbol
  }

  of(symbol: ts.Symbol): Meaning {
    const { known } = this
    let meaning = known.get(symbol)
    if (!meaning) known.set(symbol, meaning = this.find(symbol))
    return meaning
  }

  private find(symbol: ts.Symbol): Meaning {
    const target = this.unaliased(symbol)
    const declarations = target.declarations
    if (!declarations || declarations.length === 0) {
      return symbol.flags & ts.SymbolFlags.Alias ? { is: 'unresolved', reason: 'imported from a module that is not found' } : LOCAL
    }
    const owners: Owner[] = []
    let external: Extract<Meaning, { readonly is: 'external' }> | undefined
    for (const declaration of declarations) {
      const owner = this.declarations.ownerOf(declaration)
      if (owner === undefined) {
        if (ts.isSourceFile(declaration) || ts.isModuleDeclaration(declaration)) return LOCAL
        const name = externalNameOf(declaration)
        // Which of several the checker has first depends on what it saw before.
        if (name !== undefined && (!external || compareText(name, external.name) < 0)) external = { is: 'external', name, declaration }
      } else if (owner && !owners.some(other => other.type === owner.type && other.member === owner.member)) owners.push(owner)
    }
    // Of a union the project's own count, wherever they stand: in which order the checker has them depends on what it saw before.
    if (owners.length === 0 && external) return external
    // A constant merged with a type of its name is that type.
    const types = owners.filter(owner => owner.member === '')
    return owners.length === 0 ? LOCAL : { is: 'project', owners: types.length > 0 ? types : owners, declaration: declarations[0]! }
  }

  /** True where nothing of it is left when the program runs. */
  isOnlyType(symbol: ts.Symbol | undefined): boolean {
    const target = symbol && this.unaliased(symbol)
    return target !== undefined && (target.flags & ts.SymbolFlags.Value) === 0
  }

  /** True where a name that a type shares with a namespace means the namespace, which is no type. */
  namesNamespace(name: ts.Identifier, symbol: ts.Symbol, inType: boolean): boolean {
    const target = this.unaliased(symbol)
    if (!(target.flags & ts.SymbolFlags.Namespace)) return false
    // In `N.M.T` both N and M are namespaces.
    const whole = ts.isQualifiedName(name.parent) && name.parent.right === name ? name.parent : name
    if (ts.isQualifiedName(whole.parent) && whole.parent.left === whole) return !(target.flags & ts.SymbolFlags.Enum)
    return !inType && !(target.flags & (ts.SymbolFlags.Class | ts.SymbolFlags.Enum | ts.SymbolFlags.Variable | ts.SymbolFlags.Function))
  }

  /** Plain constants hold nothing that a test would replace; for members the type that declares them decides. */
  isInert(declaration: ts.Node, external: boolean, member: string): boolean {
    if (external) return isPureGlobal(member)
    if (!ts.isVariableDeclaration(declaration)) return false
    const type = this.checker.getTypeAtLocation(declaration)
    const plain = ts.TypeFlags.StringLike | ts.TypeFlags.NumberLike | ts.TypeFlags.BooleanLike | ts.TypeFlags.BigIntLike | ts.TypeFlags.ESSymbolLike
    return (type.flags & plain) !== 0
  }
}

/** True for what is had without an object: statics, functions, variables, what is imported. */
export function namesStatic(symbol: ts.Symbol | undefined): boolean {
  const declaration = symbol?.declarations?.[0]
  if (!declaration) return false
  return (ts.canHaveModifiers(declaration) && ts.getModifiers(declaration)?.some(modifier => modifier.kind === ts.SyntaxKind.StaticKeyword) === true) ||
    ts.isFunctionDeclaration(declaration) || ts.isVariableDeclaration(declaration) || (symbol!.flags & ts.SymbolFlags.Alias) !== 0
}
