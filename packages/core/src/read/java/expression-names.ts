import type { FieldSymbol , MethodSymbol } from '../binding/symbols.js'
import { ClassSymbol, Flags } from '../binding/symbols.js'
import type { Type } from '../binding/types.js'
import { thisType, UNKNOWN } from '../binding/types.js'
import type { Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import type { Qualifier } from './expression-part.js'
import { ExpressionPart } from './expression-part.js'
import { INT } from './primitives.js'
import type { Scope } from './scope.js'
import { Field, Kind } from './syntax.js'

/** What names and what stands before dots mean: variables, fields, classes, packages. */
export class ExpressionNames extends ExpressionPart {
  identifier(node: Node, scope: Scope): Type {
    const found = this.variable(node, scope)
    if (found) return found
    this.file.bind(node, undefined, 'no variable of this name is found')
    return UNKNOWN
  }

  /** A simple name as a local variable or field; binds it. */
  private variable(node: Node, scope: Scope): Type | undefined {
    const name = this.tree.textOf(node)
    for (let at: Scope | null = scope; at; at = at.outer) {
      const local = at.ownLocal(name)
      if (local) { this.file.bind(node, local); return local.type }
      if (!at.symbol) continue
      const field = this.field(at.symbol, name, scope)
      if (field) {
        this.file.bind(node, field)
        this.file.receivers.set(node, at.symbol)
        return this.hierarchy.seenThrough(field.type, field, thisType(at.symbol))
      }
    }
    // By name before on demand.
    for (const onDemand of [false, true]) for (const one of this.file.imports) {
      if (!one.isStatic || one.onDemand !== onDemand || !(onDemand || one.name.endsWith(`.${name}`))) continue
      const holder = this.program.names.qualified(one.onDemand ? one.name : one.name.slice(0, one.name.lastIndexOf('.')))
      const field = holder && this.field(holder, name, scope)
      if (field?.isStatic) { this.file.usedImports.add(one); this.file.bind(node, field); return field.type }
    }
    return undefined
  }

  /** A field by name, of a class or inherited, as far as it can be seen from a place. */
  field(symbol: ClassSymbol, name: string, scope: Scope, depth = 0): FieldSymbol | undefined {
    for (const member of symbol.own(name)) if (member.kind === 'field' && this.visible(member, scope)) return member
    if (depth > 60) return undefined
    const { superclass, interfaces } = symbol
    const above = superclass && this.field(superclass.symbol, name, scope, depth + 1)
    if (above) return above
    for (const parent of interfaces) {
      const found = this.field(parent.symbol, name, scope, depth + 1)
      if (found) return found
    }
    return undefined
  }

  visible(member: FieldSymbol | MethodSymbol, scope: Scope): boolean {
    const { flags, owner } = member
    if (flags & Flags.Public) return true
    const from = scope.owner
    if (flags & Flags.Private) return from === null || from.outermost === owner.outermost
    if (owner.packageName === scope.file.packageName) return true
    if (!(flags & Flags.Protected)) return false
    for (let at = from; at; at = at.outer) if (this.hierarchy.inherits(at, owner)) return true
    return from === null
  }

  /** What stands before a dot. Variables stand before types, types before packages: JLS 6.4.2. */
  qualifier(node: Node, scope: Scope): Qualifier {
    const { tree } = this
    switch (tree.kind(node)) {
      case Kind.Identifier: {
        const value = this.variable(node, scope)
        if (value) return { value }
        const name = tree.textOf(node)
        const found = this.program.names.simple(name, scope)
        if (found instanceof ClassSymbol) { this.file.bind(node, found); return { symbol: found } }
        if (this.startsPackage(name)) return { packageName: name }
        this.file.bind(node, undefined, 'neither a variable nor a type nor a package of this name is found')
        return { value: UNKNOWN }
      }
      case Kind.FieldAccess: {
        const last = tree.child(node, Field.Field)
        if (tree.kind(last) !== Kind.Identifier) return { value: this.fieldAccess(node, scope) }
        const object = tree.child(node, Field.Object)
        const before = this.isSuperAccess(node) ? { value: this.whole.type(node, scope) } : this.qualifier(object, scope)
        return this.select(before, last, scope)
      }
      case Kind.ScopedIdentifier: {
        const [object, last] = [tree.first(node), tree.children(node).at(-1)!]
        return this.select(this.qualifier(object, scope), last, scope)
      }
      case Kind.MethodInvocation: return { value: this.whole.calls.invocation(node, scope, null, true) }
      default: return { value: this.whole.type(node, scope) }
    }
  }

  private startsPackage(name: string): boolean {
    return this.program.isPackage(name) || this.program.startsPackage(name)
  }

  private select(before: Qualifier, last: Node, scope: Scope): Qualifier {
    const name = this.tree.textOf(last)
    if ('packageName' in before) {
      const symbol = this.program.classIn(before.packageName, name)
      if (symbol) { this.file.bind(last, symbol); return { symbol } }
      const packageName = `${before.packageName}.${name}`
      if (this.program.isPackage(packageName) || this.program.startsPackage(packageName)) return { packageName }
      this.file.bind(last, undefined, 'neither a type nor a package of this name is found')
      return { value: UNKNOWN }
    }
    if ('symbol' in before) {
      const field = this.field(before.symbol, name, scope)
      if (field) { this.file.bind(last, field); this.file.receivers.set(last, before.symbol); return { value: field.type } }
      const symbol = this.program.names.memberType(before.symbol, name)
      this.file.bind(last, symbol, `${before.symbol.name} has no member of this name`)
      return symbol ? { symbol } : { value: UNKNOWN }
    }
    return { value: this.fieldOf(before.value, last, scope) }
  }

  private fieldOf(receiver: Type, last: Node, scope: Scope): Type {
    if (receiver === UNKNOWN) { this.file.bind(last, undefined, 'the type of what it is read from is not known'); return UNKNOWN }
    const name = this.tree.textOf(last)
    const type = this.hierarchy.upper(receiver)
    if (type.tag === 'array') { if (name !== 'length') this.file.bind(last, undefined); return name === 'length' ? INT : UNKNOWN }
    for (const part of type.tag === 'intersection' ? type.parts : [type]) {
      const seen = this.hierarchy.upper(part)
      if (seen.tag !== 'class') continue
      const field = this.field(seen.symbol, name, scope)
      if (!field) continue
      this.file.bind(last, field)
      this.file.receivers.set(last, seen.symbol)
      return this.hierarchy.whole(this.hierarchy.seenThrough(field.type, field, seen))
    }
    this.file.bind(last, undefined, 'no field of this name is found')
    return UNKNOWN
  }

  private isSuperAccess(node: Node): boolean {
    return this.tree.childOf(node, Kind.Super) !== NONE && this.tree.kind(this.tree.child(node, Field.Object)) !== Kind.Super
  }

  fieldAccess(node: Node, scope: Scope): Type {
    const { tree } = this
    const last = tree.child(node, Field.Field)
    const object = tree.child(node, Field.Object)
    if (tree.kind(last) === Kind.This) {
      const type = this.program.names.type(object, scope)
      return type.tag === 'class' ? thisType(type.symbol) : UNKNOWN
    }
    if (this.isSuperAccess(node)) {
      const type = this.program.names.type(object, scope)
      return type.tag === 'class' ? this.fieldOf(this.whole.superOf(type.symbol), last, scope) : UNKNOWN
    }
    const found = this.qualifier(node, scope)
    if ('value' in found) return found.value
    return UNKNOWN
  }
}
