import type { MemberFacts, ParameterFacts, ReferenceKind, TypeKind } from './facts.js'
import { REFERENCE_KINDS } from './facts.js'
import type { BehaviourUse, Held } from './held.js'
import { INERT } from './held.js'
import type { NameTable } from './name-table.js'

/** Phases of a model; each includes what the ones before it state. */
export enum Phase {
  /** Files are known, with their lines and their syntax problems. */
  Read,
  /** Types and members are known. */
  Declared,
  /** References are bound, or kept as unresolved with a reason. */
  Bound,
  /** Measures have been computed from it. */
  Measured
}

export interface ModelFile {
  readonly path: string
  readonly lines: number
  readonly test: boolean
  readonly language: string
  readonly module: string
}

export interface ModelType {
  /** Dense index, the same as its place in `CodeModel.types`. */
  readonly index: number
  readonly id: string
  readonly name: string
  readonly kind: TypeKind
  /** Index of its file. */
  readonly file: number
  readonly line: number
  readonly lines: number
  readonly start: number
  readonly end: number
  readonly test: boolean
  readonly exported: boolean
  readonly inert: boolean
  /** Id of its module. */
  readonly module: string
  /** Index of the outermost type it is nested in; itself where it is not nested. */
  readonly outermost: number
  readonly members: readonly MemberFacts[]
  readonly parameters: readonly ParameterFacts[]
}

/** One reference, as seen through the table's columns. */
export interface ModelReference {
  readonly index: number
  readonly file: number
  readonly start: number
  readonly end: number
  readonly line: number
  readonly column: number
  readonly kind: ReferenceKind
  readonly from: number
  readonly inMember: string
  /** Index of the target type, or -1 for an external. */
  readonly to: number
  /** Name of the external, or ''. */
  readonly external: string
  readonly member: string
  readonly typeOnly: boolean
}

/** A use of a member by the type that declares it. */
export interface OwnUse {
  readonly type: number
  readonly file: number
  readonly line: number
  readonly column: number
  readonly start: number
  readonly end: number
  readonly inMember: string
  readonly member: string
  readonly kind: ReferenceKind
}

export interface TypeSwitch {
  readonly type: number
  readonly file: number
  readonly line: number
  readonly column: number
  readonly inMember: string
  readonly over: string
  readonly cases: readonly string[]
  readonly word: 'switch' | 'if'
}

/**
 * References in columns: seven 32-bit integers and a byte each, so that a million of them take some 30 MB and can be
 * handed to another thread without copying.
 */
export class ReferenceTable {
  readonly length: number
  constructor(
    private readonly columns: {
      readonly file: Int32Array; readonly start: Int32Array; readonly end: Int32Array; readonly line: Int32Array
      readonly column: Int32Array; readonly from: Int32Array; readonly to: Int32Array; readonly kind: Uint8Array
      readonly typeOnly: Uint8Array; readonly member: Int32Array; readonly inMember: Int32Array; readonly external: Int32Array
    },
    /** What member, external and member stood in are numbered by. */
    readonly names: NameTable,
    private readonly behaviour: readonly (BehaviourUse | null)[],
    private readonly holds: readonly (Held | null)[]
  ) {
    this.length = columns.from.length
  }

  from(index: number): number { return this.columns.from[index]! }
  /** Index of the target type, -1 for an external. */
  to(index: number): number { return this.columns.to[index]! }
  file(index: number): number { return this.columns.file[index]! }
  typeOnly(index: number): boolean { return this.columns.typeOnly[index] === 1 }
  kind(index: number): ReferenceKind { return REFERENCE_KINDS[this.columns.kind[index]!]! }
  inMember(index: number): string { return this.names.at(this.columns.inMember[index]!) }
  member(index: number): string { return this.names.at(this.columns.member[index]!) }
  /** Name of the external, or ''. */
  external(index: number): string { return this.names.at(this.columns.external[index]!) }
  /** What is known of the behaviour that it uses, or null where it uses none. */
  use(index: number): BehaviourUse | null { return this.behaviour[index]! }

  /** How the behaviour that it uses is held. */
  held(index: number): Held { return this.holds[index] ?? INERT }
  /** Number of the member that it stands in: the same for the same name, for telling quickly that two are the same. */
  inMemberNumber(index: number): number { return this.columns.inMember[index]! }

  at(index: number): ModelReference {
    const c = this.columns
    return {
      index, file: c.file[index]!, start: c.start[index]!, end: c.end[index]!, line: c.line[index]!,
      column: c.column[index]!, kind: this.kind(index), from: c.from[index]!, to: c.to[index]!,
      inMember: this.names.at(c.inMember[index]!), member: this.names.at(c.member[index]!),
      external: this.names.at(c.external[index]!), typeOnly: this.typeOnly(index)
    }
  }
}

/** A name that was not understood, and where; `from` is the index of the type that it stands in, -1 where none is known. */
export interface Unresolved {
  readonly file: number
  readonly line: number
  readonly column: number
  readonly name: string
  readonly reason: string
  readonly from: number
  readonly inMember: string
}

/** Everything that was understood of a code base, the same for every language. */
export interface CodeModel {
  readonly phase: Phase
  readonly files: readonly ModelFile[]
  readonly types: readonly ModelType[]
  readonly typeIndex: ReadonlyMap<string, number>
  readonly references: ReferenceTable
  readonly ownUses: readonly OwnUse[]
  readonly typeSwitches: readonly TypeSwitch[]
  readonly overrides: readonly { readonly type: number; readonly base: number; readonly member: string }[]
  readonly unresolved: readonly Unresolved[]
  readonly problems: readonly { readonly file: string; readonly line: number; readonly message: string }[]
}
