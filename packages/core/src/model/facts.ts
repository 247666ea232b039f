/**
 * What a reader states about one file: the unit of reading, of caching and of re-reading.
 *
 * Facts are symbolic: they name types by their ids and members by their names, so that the facts of one file stay
 * valid while other files change inside their bodies. `linkModel` turns the facts of all files into a `CodeModel`.
 * They are plain data, so that they travel between threads and can be stored.
 */

/** What a type is. `functions` is the unit of a file's free functions and values. */
export type TypeKind =
  | 'class' | 'abstract-class' | 'interface' | 'enum' | 'record' | 'struct' | 'trait' | 'mixin' | 'protocol'
  | 'alias' | 'functions'

/** What a member is. A `value` is a variable or constant of a functions unit, or a case of an enum. */
export type MemberKind = 'field' | 'method' | 'constructor' | 'getter' | 'setter' | 'function' | 'value'

/** How one type uses another at one place in the code. */
export const REFERENCE_KINDS = [
  'extends', 'implements', 'creates', 'calls', 'calls-static', 'reads', 'writes', 'signature', 'throws', 'catches',
  'annotates', 'type-argument', 'imports-only'
] as const
export type ReferenceKind = (typeof REFERENCE_KINDS)[number]

/** A place in a file: half-open UTF-16 offsets, with line and column from 1 for people. */
export interface Span {
  readonly start: number
  readonly end: number
  readonly line: number
  readonly column: number
}

/**
 * Where a value comes from, seen from the type that uses it.
 *
 * - `created`: by a `new` in the type itself. - `static`: from a static member, a module-level variable, a global or
 *   an imported function. - `inherited`: through a base class. - `handed-in`: constructor, method or setter parameter.
 * - `field`: whatever the named field of the same type holds; its own origins say more. - `got-from`: the result of a
 *   member of `from`. - `own`: made of literals or of the type itself. - `unknown`: not understood.
 */
export type Origin =
  | { readonly how: 'created' | 'static' | 'inherited' | 'own' | 'unknown' }
  | { readonly how: 'handed-in'; readonly abstraction: boolean }
  | { readonly how: 'field'; readonly field: string }
  | { readonly how: 'got-from'; readonly from: string; readonly abstraction: boolean; readonly receiver: readonly Origin[] }

export interface MemberFacts {
  readonly name: string
  readonly kind: MemberKind
  readonly span: Span
  /** True for public members, and for everything that a functions unit exports. */
  readonly public: boolean
  readonly static: boolean
  readonly abstract: boolean
  /** True where it has a body that does more than assign, return or forward. */
  readonly logic: boolean
  readonly hasBody: boolean
  /** For fields: where its values come from. Empty for others. */
  readonly origins: readonly Origin[]
  /** For methods: types of its parameters and of what it returns, as written, `(a,b)=>c`. Empty for others. */
  readonly signature: string
  /** True for a method with a body that does nothing, or only throws. */
  readonly refuses: boolean
  /** For fields and values: whether it can be set again after it was made. */
  readonly mutable: boolean
  /** Physical lines that it spans. */
  readonly lines: number
  /** True where it overrides a member of an external, so that code outside the project may call it. */
  readonly calledFromOutside: boolean
  /**
   * Of a class whose base class is an external: where the parts of its body stand that hold no other statement, in their
   * order: simple statements, and what conditions and loops look at.
   */
  readonly statements?: readonly Span[]
}

/** One parameter of a constructor. */
export interface ParameterFacts {
  readonly name: string
  /** Id of the project's type that it is declared as, or the name of an external, or ''. */
  readonly type: string
  /** The declared type as written. */
  readonly text: string
  /** `abstraction`: an interface, abstract class or function type. `class`: a concrete class with behaviour. `data`: the rest. */
  readonly kind: 'abstraction' | 'class' | 'data'
  readonly optional: boolean
}

export interface TypeFacts {
  readonly id: string
  readonly name: string
  readonly kind: TypeKind
  readonly span: Span
  /** Physical lines from the first to the last line of its declaration. */
  readonly lines: number
  readonly exported: boolean
  /** Only data: no behaviour that a test would want to replace. */
  readonly inert: boolean
  /** The id of the type it is nested in, or null. */
  readonly outer: string | null
  readonly members: readonly MemberFacts[]
  /** Parameters of its constructor; of several constructors, of the one with the most. */
  readonly parameters: readonly ParameterFacts[]
}

/** One place where one type uses another. */
export interface ReferenceFacts {
  readonly span: Span
  readonly kind: ReferenceKind
  /** Id of the type that the place is in. */
  readonly from: string
  /** Name of the member that the place is in, or '' at the level of the type. */
  readonly inMember: string
  /** Id of the type that declares what is named, or the name of an external with `external` true. */
  readonly to: string
  /** Name of the member that is named, or '' where the type itself is. */
  readonly member: string
  readonly external: boolean
  /** True where the compiler erases it. */
  readonly typeOnly: boolean
  /** For uses of behaviour: where the receiver comes from. Null where no behaviour is used. */
  readonly origins: readonly Origin[] | null
  /** True where the receiver's declared type is an abstraction; only meaningful with `origins`. */
  readonly throughAbstraction: boolean
  /** Id of the type of the receiver, where it differs from the declaring type. */
  readonly receiver: string | null
  /** True where the named thing holds only data. */
  readonly inertTarget: boolean
}

/** One place where a type uses a member of its own. */
export interface OwnUseFacts {
  readonly span: Span
  readonly type: string
  readonly inMember: string
  readonly member: string
  readonly kind: ReferenceKind
}

/** A place that chooses among cases by what kind of thing it has before it. */
export interface TypeSwitchFacts {
  readonly span: Span
  readonly type: string
  readonly inMember: string
  /** What is looked at: the id of an enum, `type.member` of a property with a few literal values, or '' for the classes of objects. */
  readonly over: string
  readonly cases: readonly string[]
  /** The word that it begins with. */
  readonly word: 'switch' | 'if'
}

export interface UnresolvedFacts {
  readonly span: Span
  /** Id of the type that the place is in. */
  readonly from: string
  readonly inMember: string
  readonly name: string
  readonly reason: string
}

export interface FileProblem {
  readonly line: number
  readonly message: string
}

export interface FileFacts {
  /** Path from the project's root, with `/`. */
  readonly path: string
  readonly language: string
  /** The module that the file says it belongs to, such as a package; null where its folder decides. */
  readonly module: string | null
  readonly lines: number
  readonly test: boolean
  readonly types: readonly TypeFacts[]
  readonly references: readonly ReferenceFacts[]
  readonly ownUses: readonly OwnUseFacts[]
  readonly typeSwitches: readonly TypeSwitchFacts[]
  /** Pairs of (overriding type, overridden type, member): targets that a call may also reach. */
  readonly overrides: readonly { readonly type: string; readonly base: string; readonly member: string }[]
  readonly unresolved: readonly UnresolvedFacts[]
  readonly problems: readonly FileProblem[]
}
