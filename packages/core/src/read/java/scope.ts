import type { ClassSymbol, MethodSymbol } from '../binding/symbols.js'
import type { Type, TypeVariable } from '../binding/types.js'
import type { Node } from '../syntax/flat-tree.js'
import type { JavaFile } from './declare.js'

/** A local variable or parameter. */
export class LocalSymbol {
  readonly kind = 'local'
  type: Type
  constructor(
    readonly name: string, type: Type,
    /** The node that declares it, from which its values can be found. */
    readonly node: Node,
    readonly role: 'parameter' | 'lambda-parameter' | 'variable' | 'pattern' | 'exception' | 'element'
  ) { this.type = type }
}

/** What names mean at a place: a chain from the innermost block out to the file. */
export class Scope {
  private locals: Map<string, LocalSymbol> | undefined
  private localTypes: Map<string, ClassSymbol> | undefined
  private variables: Map<string, TypeVariable> | undefined

  constructor(
    readonly file: JavaFile, readonly outer: Scope | null,
    /** The class whose body this is, on the scope of a class. */
    readonly symbol: ClassSymbol | null = null,
    /** The method, on the scope of a method. */
    readonly method: MethodSymbol | null = null
  ) {}

  inner(): Scope { return new Scope(this.file, this) }

  /** The innermost class around the place. */
  get owner(): ClassSymbol | null {
    for (let at: Scope | null = this; at; at = at.outer) if (at.symbol) return at.symbol
    return null
  }

  declare(local: LocalSymbol): LocalSymbol { (this.locals ??= new Map()).set(local.name, local); return local }
  declareType(symbol: ClassSymbol): void { (this.localTypes ??= new Map()).set(symbol.name, symbol) }
  declareVariable(variable: TypeVariable): void { (this.variables ??= new Map()).set(variable.name, variable) }

  ownLocal(name: string): LocalSymbol | undefined { return this.locals?.get(name) }
  ownType(name: string): ClassSymbol | undefined { return this.localTypes?.get(name) }
  ownVariable(name: string): TypeVariable | undefined { return this.variables?.get(name) }
}
