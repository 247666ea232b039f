// Classes and types are told by each other, so both are here; what is done with types is in types.ts.

/** Modifiers, numbered as class files have them. */
export const Flags = {
  Public: 0x1, Private: 0x2, Protected: 0x4, Static: 0x8, Final: 0x10, Varargs: 0x80, Interface: 0x200, Abstract: 0x400,
  Annotation: 0x2000, Enum: 0x4000,
  /** Ours: not in class files. */
  Record: 0x10000, Default: 0x20000, Local: 0x40000, Sealed: 0x80000
} as const

/** Fills in what a class declares, when it is first asked for. */
export interface ClassBody {
  /** Type parameters, superclass, interfaces. */
  header(symbol: ClassSymbol): void
  /** Fields and methods. */
  members(symbol: ClassSymbol): void
}

/** A class, interface, enum, record or annotation type: of the sources, or of a library. */
export class ClassSymbol {
  /** Member classes by simple name. */
  readonly types = new Map<string, ClassSymbol>()
  private typeParameterList: readonly TypeVariable[] = []
  private superclassType: ClassType | null = null
  private interfaceTypes: readonly ClassType[] = []
  private isKnown = true
  private readonly memberMap = new Map<string, MemberSymbol[]>()
  private headerState: 'none' | 'filling' | 'done' = 'none'
  private membersState: 'none' | 'filling' | 'done' = 'none'
  /** The type of `this` inside it; made by `types.ts`. */
  ownType: ClassType | undefined

  constructor(
    /** Qualified name with dots; local classes have their method's name in it. Told apart by the reader where two have one name. */
    public id: string,
    readonly name: string,
    readonly packageName: string,
    readonly outer: ClassSymbol | null,
    public flags: number,
    /** True where it is one of the sources being read. */
    readonly source: boolean,
    private readonly body: ClassBody
  ) {}

  get isInterface(): boolean { return (this.flags & Flags.Interface) !== 0 }
  get isStatic(): boolean { return (this.flags & Flags.Static) !== 0 }

  private fillHeader(): void {
    if (this.headerState !== 'none') return
    this.headerState = 'filling'
    this.body.header(this)
    this.headerState = 'done'
  }

  private fillMembers(): void {
    if (this.membersState !== 'none') return
    this.membersState = 'filling'
    this.body.members(this)
    this.membersState = 'done'
  }

  /** For the one who fills the header in. Parameters first, since the others may mention them. */
  setTypeParameters(list: readonly TypeVariable[]): void { this.typeParameterList = list }
  setParents(superclass: ClassType | null, interfaces: readonly ClassType[], areAll = true): void { this.superclassType = superclass; this.interfaceTypes = interfaces; this.isKnown = areAll }

  /** While the header is being filled in, for instance by its own bounds, whatever is known so far. */
  get typeParameters(): readonly TypeVariable[] { this.fillHeader(); return this.typeParameterList }
  get superclass(): ClassType | null { this.fillHeader(); return this.superclassType }
  /** False where it also extends or implements something that was not found. */
  get hasKnownParents(): boolean { this.fillHeader(); return this.isKnown }
  get interfaces(): readonly ClassType[] { this.fillHeader(); return this.interfaceTypes }

  add(member: MemberSymbol): void {
    const list = this.memberMap.get(member.name)
    if (list) list.push(member)
    else this.memberMap.set(member.name, [member])
  }

  /** Its own fields and methods of a name, in the order of the source. Constructors are named `<init>`. */
  own(name: string): readonly MemberSymbol[] { this.fillMembers(); return this.memberMap.get(name) ?? NO_MEMBERS }
  get ownNames(): Iterable<string> { this.fillMembers(); return this.memberMap.keys() }
  get ownMembers(): MemberSymbol[] { this.fillMembers(); return [...this.memberMap.values()].flat() }

  /** The outermost class around it, itself at the top. */
  get outermost(): ClassSymbol { return this.outer ? this.outer.outermost : this }

  isInside(other: ClassSymbol): boolean { return this === other || (this.outer?.isInside(other) ?? false) }
}

const NO_MEMBERS: readonly MemberSymbol[] = []

export const CONSTRUCTOR = '<init>'

export class FieldSymbol {
  readonly kind = 'field'
  private known: Type | undefined

  constructor(readonly name: string, readonly owner: ClassSymbol, readonly flags: number, private readonly typeOf: () => Type, readonly node = -1) {}

  get type(): Type { return this.known ??= this.typeOf() }
  get isStatic(): boolean { return (this.flags & Flags.Static) !== 0 }
}

/** What a method or constructor takes and gives. */
export interface Signature {
  readonly typeParameters: readonly TypeVariable[]
  readonly parameters: readonly Type[]
  readonly result: Type
}

export class MethodSymbol {
  readonly kind = 'method'
  private known: Signature | undefined

  constructor(
    readonly name: string, readonly owner: ClassSymbol, readonly flags: number,
    /** How many parameters it has: known before their types are. */
    readonly arity: number,
    private readonly signatureOf: () => Signature, readonly node = -1
  ) {}

  get signature(): Signature { return this.known ??= this.signatureOf() }
  get isStatic(): boolean { return (this.flags & Flags.Static) !== 0 }
  get isAbstract(): boolean { return (this.flags & Flags.Abstract) !== 0 }
  /** True where the last parameter takes any number of arguments. */
  get varargs(): boolean { return (this.flags & Flags.Varargs) !== 0 }
}

export type MemberSymbol = FieldSymbol | MethodSymbol

/**
 * Types as class-based languages with generics have them. Class types without arguments, primitives and the special types
 * are one object each, so that most comparisons are by identity.
 */
export type Type = PrimitiveType | ClassType | ArrayType | TypeVariable | WildcardType | IntersectionType | SpecialType

export class PrimitiveType {
  readonly tag = 'primitive'
  /** `rank`: order of the numeric ones by what widens to what; 0 for those that are no numbers. */
  constructor(readonly name: string, readonly rank: number) {}
}

export class ClassType {
  readonly tag = 'class'
  constructor(readonly symbol: ClassSymbol, readonly args: readonly Type[]) {}
  /** A generic class without arguments: its members are seen erased. */
  get isRaw(): boolean { return this.args.length === 0 && this.symbol.typeParameters.length > 0 }
}

export class ArrayType {
  readonly tag = 'array'
  constructor(readonly element: Type) {}
}

/** A type parameter of a class or method; in inference, an unknown that stands for one. */
export class TypeVariable {
  readonly tag = 'variable'
  bounds: readonly Type[] = []
  constructor(readonly name: string) {}
}

/** An argument `?`, `? extends bound` or `? super bound`. */
export class WildcardType {
  readonly tag = 'wildcard'
  constructor(readonly variance: 'any' | 'extends' | 'super', readonly bound: Type | null) {}
}

export class IntersectionType {
  readonly tag = 'intersection'
  constructor(readonly parts: readonly Type[]) {}
}

/** `null`: the type of null. `void`. `unknown`: not understood; it goes with everything, so that one gap makes no others. */
export class SpecialType {
  readonly tag = 'special'
  constructor(readonly name: 'null' | 'void' | 'unknown') {}
}
