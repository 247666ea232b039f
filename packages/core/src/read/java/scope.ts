import type { ClassSymbol, MemberSymbol, MethodSymbol } from '../binding/symbols.js'
import type { ClassType, Type, TypeVariable } from '../binding/types.js'
import type { FlatTree, Node } from '../syntax/flat-tree.js'
import { NODE_WIDTH } from '../syntax/flat-tree.js'

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
  get owner(): ClassSymbol | null { return this.symbol ?? this.outer?.owner ?? null }

  /**
   * Where another local of the class's body has the name already, that is noted as wrong (JLS 6.4). Variables of patterns are left out:
   * how far those reach is wider here than it is.
   */
  declare(local: LocalSymbol): LocalSymbol {
    const other = this.knownLocal(local.name)
    if (other && other.node !== local.node && other.role !== 'pattern' && local.role !== 'pattern') this.file.repeated.add(local.node)
    this.locals ??= new Map()
    this.locals.set(local.name, local)
    return local
  }
  declareType(symbol: ClassSymbol): void { (this.localTypes ??= new Map()).set(symbol.name, symbol) }
  declareVariable(variable: TypeVariable): void { (this.variables ??= new Map()).set(variable.name, variable) }

  /** The local of a name that is known here, inside the body of its class. */
  private knownLocal(name: string): LocalSymbol | undefined { return this.symbol ? undefined : this.locals?.get(name) ?? this.outer?.knownLocal(name) }

  ownLocal(name: string): LocalSymbol | undefined { return this.locals?.get(name) }
  ownType(name: string): ClassSymbol | undefined { return this.localTypes?.get(name) }
  ownVariable(name: string): TypeVariable | undefined { return this.variables?.get(name) }
}

/** What a name in the text was bound to. */
export type Bound = ClassSymbol | MemberSymbol | LocalSymbol

/** One import declaration. */
export interface Import {
  readonly node: Node
  /** Dotted name without `.*`. */
  readonly name: string
  readonly isStatic: boolean
  readonly onDemand: boolean
}

/** A file read, with what its names mean once it is bound. */
export class JavaFile {
  packageName = ''
  readonly imports: Import[] = []
  readonly singleImports = new Map<string, Import>()
  /** Its top-level types. */
  readonly types: ClassSymbol[] = []
  /** Every class that it declares, local and anonymous ones included, with where. */
  readonly classes = new Map<Node, ClassSymbol>()
  /** Imports through which a name was found. */
  readonly usedImports = new Set<Import>()
  readonly scope: Scope
  private meanings: (Bound | undefined)[] | undefined
  /** For uses of members: the class that the receiver is declared as. */
  readonly receivers = new Map<Node, ClassSymbol>()
  readonly unbound = new Map<Node, string>()
  /** Locals that are declared where another of their name is known. */
  readonly repeated = new Set<Node>()
  /** Types that are written with arguments, by where. */
  readonly written = new Map<Node, ClassType>()

  constructor(readonly path: string, readonly tree: FlatTree) {
    this.scope = new Scope(this, null)
  }

  bind(node: Node, meaning: Bound | undefined, reason = 'is not found'): void {
    if (meaning) {
      (this.meanings ??= new Array<Bound | undefined>(this.tree.size))[node / NODE_WIDTH] = meaning
      this.unbound.delete(node)
    } else if (this.meaning(node) === undefined) this.unbound.set(node, reason)
  }

  meaning(node: Node): Bound | undefined { return this.meanings?.[node / NODE_WIDTH] }
}
