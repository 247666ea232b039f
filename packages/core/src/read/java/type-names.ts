import { ClassSymbol } from '../binding/symbols.js'
import { Flags } from '../binding/symbols.js'
import type { Type, TypeVariable } from '../binding/types.js'
import { ArrayType, ClassType, plainType, UNKNOWN, VOID, WildcardType } from '../binding/types.js'
import type { Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import type { Import, JavaFile } from './scope.js'
import { PRIMITIVES } from './primitives.js'
import type { Scope } from './scope.js'
import { Field, Kind } from './syntax.js'

/** Classes and packages by name, of the sources and of libraries. */
export interface ClassNames {
  classIn(packageName: string, name: string): ClassSymbol | undefined
  isPackage(name: string): boolean
}

/** What names of types mean: chapter 6 of The Java Language Specification. */
export class TypeNames {
  private readonly onDemand = new Map<JavaFile, Map<string, { symbol: ClassSymbol; by: Import } | null>>()

  constructor(private readonly program: ClassNames) {}

  /** The type that a node of the syntax writes, its names bound. `header`: in the head of a class, whose members are not in scope. */
  type(node: Node, scope: Scope, header = false): Type {
    if (node === NONE) return UNKNOWN
    const { file } = scope, { tree } = file
    switch (tree.kind(node)) {
      case Kind.IntegralType: case Kind.FloatingPointType: case Kind.BooleanType: return PRIMITIVES[tree.textOf(node)] ?? UNKNOWN
      case Kind.VoidType: return VOID
      case Kind.TypeIdentifier: case Kind.Identifier: {
        const name = tree.textOf(node)
        const found = this.simple(name, scope, header)
        if (found instanceof ClassSymbol) { file.bind(node, found); return plainType(found) }
        if (found) return found
        if (name !== 'var') file.bind(node, undefined, 'no type of this name is found')
        return UNKNOWN
      }
      case Kind.ScopedTypeIdentifier: case Kind.ScopedIdentifier: case Kind.FieldAccess: return this.scoped(node, scope, header)
      case Kind.GenericType: {
        const [head, args] = tree.children(node)
        const base = head === undefined ? UNKNOWN : this.type(head, scope, header)
        const list = args === undefined ? [] : tree.children(args).map(child => this.argument(child, scope, header))
        if (base.tag !== 'class' || list.length === 0) return base
        const type = new ClassType(base.symbol, list)
        file.written.set(node, type)
        return type
      }
      case Kind.ArrayType: {
        const element = this.type(tree.child(node, Field.Element), scope, header)
        return arrayOf(element, bracketsIn(tree.textOf(tree.child(node, Field.Dimensions))))
      }
      case Kind.AnnotatedType: {
        let type: Type = UNKNOWN
        for (const child of tree.children(node)) if (!isAnnotation(tree.kind(child))) type = this.type(child, scope, header)
        return type
      }
      case Kind.Wildcard: return this.argument(node, scope, header)
      default: return UNKNOWN
    }
  }

  private argument(node: Node, scope: Scope, header: boolean): Type {
    const { tree } = scope.file
    if (tree.kind(node) === Kind.AnnotatedType) {
      const inner = tree.children(node).find(child => !isAnnotation(tree.kind(child)))
      return inner === undefined ? UNKNOWN : this.argument(inner, scope, header)
    }
    if (tree.kind(node) !== Kind.Wildcard) return this.type(node, scope, header)
    const bound = tree.children(node).find(child => !isAnnotation(tree.kind(child)) && tree.kind(child) !== Kind.Super)
    if (bound === undefined) return new WildcardType('any', null)
    const between = tree.text.slice(tree.start(node), tree.start(bound))
    return new WildcardType(/\bsuper\b/.test(between) ? 'super' : 'extends', this.type(bound, scope, header))
  }

  private scoped(node: Node, scope: Scope, header: boolean): Type {
    const { file } = scope, { tree } = file
    const parts = tree.children(node).filter(child => !isAnnotation(tree.kind(child)))
    const [head, last] = [parts[0], parts[parts.length - 1]]
    if (head === undefined || last === undefined || head === last) return UNKNOWN
    const name = tree.textOf(last)
    const outer = this.qualifier(head, scope, header)
    if (outer === undefined) { file.bind(last, undefined, 'what stands before it is not found'); return UNKNOWN }
    const found = typeof outer === 'string' ? this.program.classIn(outer, name) : this.memberType(outer, name)
    file.bind(last, found, 'no type of this name is found')
    return found ? plainType(found) : UNKNOWN
  }

  /** A class, or the name of a package, that stands before a dot. */
  private qualifier(node: Node, scope: Scope, header: boolean): ClassSymbol | string | undefined {
    const { file } = scope, { tree } = file
    switch (tree.kind(node)) {
      case Kind.TypeIdentifier: case Kind.Identifier: {
        const name = tree.textOf(node)
        const found = this.simple(name, scope, header)
        if (found instanceof ClassSymbol) { file.bind(node, found); return found }
        return found ? undefined : name
      }
      case Kind.GenericType: { const type = this.type(node, scope, header); return type.tag === 'class' ? type.symbol : undefined }
      case Kind.AnnotatedType: { const type = this.type(node, scope, header); return type.tag === 'class' ? type.symbol : undefined }
      case Kind.ScopedTypeIdentifier: case Kind.ScopedIdentifier: case Kind.FieldAccess: {
        const parts = tree.children(node).filter(child => !isAnnotation(tree.kind(child)))
        const last = parts[parts.length - 1]!
        const outer = this.qualifier(parts[0]!, scope, header)
        if (outer === undefined) return undefined
        const name = tree.textOf(last)
        const found = typeof outer === 'string' ? this.program.classIn(outer, name) : this.memberType(outer, name)
        if (found) { file.bind(last, found); return found }
        return typeof outer === 'string' ? `${outer}.${name}` : undefined
      }
      default: return undefined
    }
  }

  /** What a simple name means as a type at a place. */
  simple(name: string, scope: Scope, header = false): ClassSymbol | TypeVariable | undefined {
    let skipMembers = header
    for (let at: Scope | null = scope; at; at = at.outer) {
      const local = at.ownType(name) ?? at.ownVariable(name)
      if (local) return local
      if (at.symbol) {
        if (at.symbol.name === name) return at.symbol
        const member = skipMembers ? undefined : this.memberType(at.symbol, name)
        skipMembers = false
        if (member) return member
      }
    }
    return this.ofFile(name, scope.file)
  }

  /** What a simple name means by a file's imports, its package and `java.lang`. */
  private ofFile(name: string, file: JavaFile): ClassSymbol | undefined {
    const single = file.singleImports.get(name)
    // What is imported by its name is that, whether its library is at hand or not.
    if (single) {
      const found = this.qualified(single.name)
      if (found) file.usedImports.add(single)
      return found
    }
    for (const one of file.types) if (one.name === name) return one
    const own = this.program.classIn(file.packageName, name)
    if (own) return own
    let known = this.onDemand.get(file)
    if (!known) this.onDemand.set(file, known = new Map())
    let found = known.get(name)
    if (found === undefined) known.set(name, found = this.searchOnDemand(name, file))
    if (found) { file.usedImports.add(found.by); return found.symbol }
    return this.program.classIn('java.lang', name)
  }

  private searchOnDemand(name: string, file: JavaFile): { symbol: ClassSymbol; by: Import } | null {
    for (const by of file.imports) {
      if (by.isStatic && !by.onDemand && by.name.endsWith(`.${name}`)) {
        const holder = this.qualified(by.name.slice(0, by.name.lastIndexOf('.')))
        const symbol = holder && this.memberType(holder, name)
        if (symbol) return { symbol, by }
      }
      if (!by.onDemand) continue
      const inPackage = by.isStatic ? undefined : this.program.classIn(by.name, name)
      if (inPackage && (inPackage.flags & Flags.Public || inPackage.packageName === file.packageName)) return { symbol: inPackage, by }
      const holder = inPackage || (!by.isStatic && this.program.isPackage(by.name)) ? undefined : this.qualified(by.name)
      // Of a class named without `static`, only what it declares itself; with `static`, what it inherits too.
      const symbol = holder && (by.isStatic ? this.memberType(holder, name) : holder.types.get(name))
      if (symbol) return { symbol, by }
    }
    return null
  }

  private readonly qualifiedNames = new Map<string, ClassSymbol | undefined>()

  /** A class by its whole dotted name. */
  qualified(name: string): ClassSymbol | undefined {
    if (this.qualifiedNames.has(name)) return this.qualifiedNames.get(name)
    let found: ClassSymbol | undefined
    const dot = name.lastIndexOf('.')
    found = this.program.classIn(dot < 0 ? '' : name.slice(0, dot), name.slice(dot + 1))
    if (!found && dot > 0) {
      const outer = this.qualified(name.slice(0, dot))
      found = outer && this.memberType(outer, name.slice(dot + 1))
    }
    this.qualifiedNames.set(name, found)
    return found
  }

  /** A member class, of the class itself or inherited. Private ones and those of other packages are not inherited. */
  memberType(symbol: ClassSymbol, name: string, heir: ClassSymbol = symbol, depth = 0): ClassSymbol | undefined {
    const own = symbol.types.get(name)
    // One that is not inherited still hides what lies above it.
    if (own) return symbol === heir || this.isInherited(own, heir) ? own : undefined
    if (depth > 60) return undefined
    const { superclass, interfaces } = symbol
    const above = superclass && this.memberType(superclass.symbol, name, heir, depth + 1)
    if (above) return above
    for (const parent of interfaces) {
      const found = this.memberType(parent.symbol, name, heir, depth + 1)
      if (found) return found
    }
    return undefined
  }

  private isInherited(member: ClassSymbol, heir: ClassSymbol): boolean {
    if (member.flags & Flags.Private) return member.outermost === heir.outermost
    return (member.flags & (Flags.Public | Flags.Protected)) !== 0 || member.packageName === heir.packageName
  }
}

export function isAnnotation(kind: number): boolean { return kind === Kind.Annotation || kind === Kind.MarkerAnnotation }

/** Number of pairs of brackets in `[][]`. */
export function bracketsIn(text: string): number {
  let count = 0
  for (const char of text) if (char === '[') count++
  return count
}

/** An array of arrays of a type. */
export function arrayOf(type: Type, dimensions: number): Type {
  for (; dimensions > 0; dimensions--) type = new ArrayType(type)
  return type
}
