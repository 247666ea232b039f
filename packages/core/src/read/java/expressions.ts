import { holdsUnknown, Inference, settled } from '../binding/inference.js'
import type { Argument, Candidate, FunctionShape, Overloads } from '../binding/overloads.js'
import { formalAt } from '../binding/overloads.js'
import type { FieldSymbol } from '../binding/symbols.js'
import { ClassSymbol, CONSTRUCTOR, Flags, MethodSymbol } from '../binding/symbols.js'
import type { PrimitiveType, Substitution, Type, TypeVariable } from '../binding/types.js'
import { ClassType, erasure, NULL, plainType, substitute, thisType, UNKNOWN, VOID } from '../binding/types.js'
import type { FlatTree, Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import { declareClass } from './declare.js'
import type { TypeFindings } from './type-findings.js'
import { type JavaFile } from './scope.js'
import { BOOLEAN, CHAR, DOUBLE, FLOAT, INT, LONG, promoted } from './primitives.js'
import type { JavaProgram } from './program.js'
import type { Scope } from './scope.js'
import { LocalSymbol } from './scope.js'
import { Field, Kind } from './syntax.js'
import { arrayOf, bracketsIn, isAnnotation } from './type-names.js'

/** What stands before a dot: a value, a class, or the beginning of a package's name. */
type Qualifier = { readonly value: Type } | { readonly symbol: ClassSymbol } | { readonly packageName: string }

/** What statements have to do for the expressions that hold some. */
export interface Bodies {
  /** Goes through a block in which `return` gives what is wanted; returns the types of what is returned. */
  lambdaBlock(block: Node, scope: Scope, wanted: Type | null): Type[]
  /** Goes through a `switch`; returns the types of the values that it gives. */
  switchBody(node: Node, scope: Scope, wanted: Type | null): Type[]
  classBody(symbol: ClassSymbol): void
}

/** Types of expressions, and what the names in them mean. One for each file. */
export class Expressions {
  private readonly tree: FlatTree
  private readonly string: ClassType
  bodies!: Bodies

  /** `findings`: where what does not fit together is noted; a survey leaves it out, a change that is checked does not. */
  constructor(readonly program: JavaProgram, readonly file: JavaFile, private readonly overloads: Overloads, readonly findings: TypeFindings | null = null) {
    this.tree = file.tree
    this.string = program.known('java/lang/String')
  }

  private get hierarchy() { return this.program.hierarchy }

  /** The type of an expression. `wanted`: what it is assigned or handed to, where that is known. */
  type(node: Node, scope: Scope, wanted: Type | null = null): Type {
    if (node === NONE) return UNKNOWN
    const { tree } = this
    switch (tree.kind(node)) {
      case Kind.DecimalIntegerLiteral: case Kind.HexIntegerLiteral: case Kind.OctalIntegerLiteral: case Kind.BinaryIntegerLiteral:
        return /[lL]$/.test(tree.text[tree.end(node) - 1]!) ? LONG : INT
      case Kind.DecimalFloatingPointLiteral: case Kind.HexFloatingPointLiteral: return /[fF]$/.test(tree.text[tree.end(node) - 1]!) ? FLOAT : DOUBLE
      case Kind.True: case Kind.False: return BOOLEAN
      case Kind.CharacterLiteral: return CHAR
      case Kind.StringLiteral: return this.string
      case Kind.NullLiteral: return NULL
      case Kind.Identifier: return this.identifier(node, scope)
      case Kind.This: { const owner = scope.owner; return owner ? thisType(owner) : UNKNOWN }
      case Kind.Super: { const owner = scope.owner; return owner ? this.superOf(owner) : UNKNOWN }
      case Kind.ParenthesizedExpression: return this.type(tree.first(node), scope, wanted)
      case Kind.AssignmentExpression: {
        const target = tree.child(node, Field.Left), value = tree.child(node, Field.Right)
        const left = this.type(target, scope)
        const right = this.type(value, scope, left)
        if (this.findings && this.operator(tree.end(target), tree.start(value)) === '=') this.expect(value, right, left)
        return left
      }
      case Kind.BinaryExpression: return this.binary(node, scope)
      case Kind.UnaryExpression: {
        const operand = this.type(tree.child(node, Field.Operand), scope)
        if (tree.text[tree.start(node)] === '!') return BOOLEAN
        const number = this.number(operand)
        return number ? promoted(number, INT) : UNKNOWN
      }
      case Kind.UpdateExpression: return this.type(tree.first(node), scope)
      case Kind.TernaryExpression: return this.ternary(node, scope, wanted)
      case Kind.InstanceofExpression: return this.instanceOf(node, scope)
      case Kind.CastExpression: return this.cast(node, scope)
      case Kind.FieldAccess: return this.fieldAccess(node, scope)
      case Kind.ArrayAccess: {
        const array = this.hierarchy.upper(this.type(tree.child(node, Field.Array), scope))
        this.type(tree.child(node, Field.Index), scope)
        return array.tag === 'array' ? array.element : UNKNOWN
      }
      case Kind.MethodInvocation: return this.invocation(node, scope, wanted)
      case Kind.ObjectCreationExpression: return this.creation(node, scope, wanted)
      case Kind.ArrayCreationExpression: return this.arrayCreation(node, scope)
      case Kind.ArrayInitializer: {
        const element = wanted?.tag === 'array' ? wanted.element : null
        for (const child of tree.children(node)) this.expect(child, this.type(child, scope, element), element)
        return wanted ?? UNKNOWN
      }
      case Kind.ElementValueArrayInitializer: for (const child of tree.children(node)) this.type(child, scope); return UNKNOWN
      case Kind.ClassLiteral: {
        const type = this.program.names.type(tree.first(node), scope)
        const boxed = type === VOID ? this.program.known('java/lang/Void') : type.tag === 'primitive' ? this.program.boxed(type.name) ?? UNKNOWN : type
        return new ClassType(this.program.known('java/lang/Class').symbol, [boxed])
      }
      case Kind.LambdaExpression: this.lambda(node, scope, wanted); return wanted ?? UNKNOWN
      case Kind.MethodReference: this.methodReference(node, scope, wanted); return wanted ?? UNKNOWN
      case Kind.SwitchExpression: return this.joined(this.bodies.switchBody(node, scope, wanted), wanted)
      default: {
        for (const child of tree.children(node)) this.type(child, scope)
        return UNKNOWN
      }
    }
  }

  /** Notes it where a value of one type stands where another is wanted and does not go. */
  expect(node: Node, given: Type, wanted: Type | null): void {
    if (!this.findings || wanted === null) return
    this.findings.note(node, this.goes(given, wanted) ? null : { given, wanted })
  }

  /** Whether a value of a type goes where another is wanted, by assignment. */
  private goes(given: Type, wanted: Type): boolean {
    if (wanted === VOID || given === UNKNOWN || wanted === UNKNOWN) return true
    // Of arguments that are not known the classes tell at least whether one is the other at all.
    if (holdsUnknown(given) || holdsUnknown(wanted)) return this.hierarchy.isSubtype(erasure(given), erasure(wanted))
    if (given.tag === 'primitive' && wanted.tag === 'primitive') return true
    if (wanted.tag === 'primitive') return this.number(given) !== undefined
    if (given.tag === 'primitive') { const boxed = this.program.boxed(given.name); return boxed === undefined || this.number(wanted) !== undefined || this.hierarchy.isSubtype(boxed, wanted) }
    return this.hierarchy.isSubtype(given, wanted)
  }

  private superOf(owner: ClassSymbol): Type {
    return this.hierarchy.parents(thisType(owner))[0] ?? this.program.top
  }

  // ---- names

  private identifier(node: Node, scope: Scope): Type {
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

  private visible(member: FieldSymbol | MethodSymbol, scope: Scope): boolean {
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
  private qualifier(node: Node, scope: Scope): Qualifier {
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
        const before = this.isSuperAccess(node) ? { value: this.type(node, scope) } : this.qualifier(object, scope)
        return this.select(before, last, scope)
      }
      case Kind.ScopedIdentifier: {
        const [object, last] = [tree.first(node), tree.children(node).at(-1)!]
        return this.select(this.qualifier(object, scope), last, scope)
      }
      case Kind.MethodInvocation: return { value: this.invocation(node, scope, null, true) }
      default: return { value: this.type(node, scope) }
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

  private fieldAccess(node: Node, scope: Scope): Type {
    const { tree } = this
    const last = tree.child(node, Field.Field)
    const object = tree.child(node, Field.Object)
    if (tree.kind(last) === Kind.This) {
      const type = this.program.names.type(object, scope)
      return type.tag === 'class' ? thisType(type.symbol) : UNKNOWN
    }
    if (this.isSuperAccess(node)) {
      const type = this.program.names.type(object, scope)
      return type.tag === 'class' ? this.fieldOf(this.superOf(type.symbol), last, scope) : UNKNOWN
    }
    const found = this.qualifier(node, scope)
    if ('value' in found) return found.value
    return UNKNOWN
  }

  // ---- operators

  private number(type: Type): PrimitiveType | undefined {
    if (type.tag === 'primitive') return type
    const upper = this.hierarchy.upper(type)
    const unboxed = upper.tag === 'class' ? this.program.unboxed(upper) : undefined
    return unboxed?.tag === 'primitive' ? unboxed : undefined
  }

  private binary(node: Node, scope: Scope): Type {
    const { tree } = this
    // Long chains of `+` lean to the left; walked without recursion, they may be thousands long.
    const chain: Node[] = []
    let at = node
    while (tree.kind(at) === Kind.BinaryExpression) { chain.push(at); at = tree.child(at, Field.Left) }
    let left = this.type(at, scope)
    for (let index = chain.length - 1; index >= 0; index--) {
      const one = chain[index]!
      const rightNode = tree.child(one, Field.Right)
      const right = this.type(rightNode, scope)
      left = this.operation(this.operator(tree.end(tree.child(one, Field.Left)), tree.start(rightNode)), left, right)
    }
    return left
  }

  private operator(from: number, to: number): string {
    const text = this.tree.text.slice(from, to)
    return (text.includes('/*') || text.includes('//') ? text.replace(/\/\*[^]*?\*\/|\/\/.*/g, '') : text).trim()
  }

  private operation(operator: string, left: Type, right: Type): Type {
    switch (operator) {
      case '==': case '!=': case '<': case '>': case '<=': case '>=': case '&&': case '||': return BOOLEAN
      case '+': {
        const a = this.number(left), b = this.number(right)
        return a && b ? promoted(a, b) : left === UNKNOWN || right === UNKNOWN ? (this.isString(left) || this.isString(right) ? this.string : UNKNOWN) : this.string
      }
      case '<<': case '>>': case '>>>': { const a = this.number(left); return a ? promoted(a, INT) : UNKNOWN }
      default: {
        const a = this.number(left), b = this.number(right)
        if (!a || !b) return UNKNOWN
        return a === BOOLEAN && b === BOOLEAN ? BOOLEAN : promoted(a, b)
      }
    }
  }

  private isString(type: Type): boolean { return type.tag === 'class' && type.symbol === this.string.symbol }

  private ternary(node: Node, scope: Scope, wanted: Type | null): Type {
    const { tree } = this
    // Pattern variables of the condition are known where it holds; they stay in the scope around, which does no harm.
    this.type(tree.child(node, Field.Condition), scope)
    const types = [Field.Consequence, Field.Alternative].map(field => {
      const branch = tree.child(node, field)
      const type = this.type(branch, scope, wanted)
      this.expect(branch, type, wanted)
      return type
    })
    return this.joined(types, wanted)
  }

  /** The type of a value that is one of several. */
  private joined(types: readonly Type[], wanted: Type | null): Type {
    if (types.length === 0) return wanted ?? UNKNOWN
    const numbers = types.map(type => this.number(type))
    if (types.some(type => type.tag === 'primitive') && numbers.every(one => one !== undefined)) {
      if (numbers.every(one => one === numbers[0])) return numbers[0]!
      return numbers.includes(BOOLEAN) ? this.hierarchy.common(types) : (numbers as PrimitiveType[]).reduce((a, b) => a === b ? a : promoted(a, b))
    }
    if (wanted && wanted !== UNKNOWN && wanted.tag !== 'primitive' && !holdsUnknown(wanted)) return types.every(type => type === types[0]) ? types[0]! : wanted
    return this.hierarchy.common(types)
  }

  private instanceOf(node: Node, scope: Scope): Type {
    const { tree } = this
    this.type(tree.child(node, Field.Left), scope)
    const pattern = tree.child(node, Field.Pattern)
    if (pattern !== NONE) { this.pattern(pattern, scope, UNKNOWN); return BOOLEAN }
    const right = tree.child(node, Field.Right)
    const type = this.program.names.type(right, scope)
    const name = tree.child(node, Field.Name)
    if (name !== NONE) scope.declare(new LocalSymbol(tree.textOf(name), type, node, 'pattern'))
    return BOOLEAN
  }

  /** Declares the variables of a pattern. `from`: the type of what is matched, for `var`. */
  pattern(node: Node, scope: Scope, from: Type): void {
    const { tree } = this
    switch (tree.kind(node)) {
      case Kind.Pattern: for (const child of tree.children(node)) this.pattern(child, scope, from); return
      case Kind.TypePattern: case Kind.RecordPatternComponent: {
        const parts = tree.children(node).filter(child => !isAnnotation(tree.kind(child)) && tree.kind(child) !== Kind.Modifiers)
        if (parts.length === 1) { this.pattern(parts[0]!, scope, from); return }
        const [typeNode, name] = [parts[0]!, parts.at(-1)!]
        const type = tree.textOf(typeNode) === 'var' ? from : this.program.names.type(typeNode, scope)
        scope.declare(new LocalSymbol(tree.textOf(name), type, node, 'pattern'))
        return
      }
      case Kind.RecordPattern: {
        const type = this.program.names.type(tree.first(node), scope)
        const body = tree.childOf(node, Kind.RecordPatternBody)
        if (body === NONE) return
        const constructor = type.tag === 'class' ? type.symbol.own(CONSTRUCTOR).find(one => one.kind === 'method') : undefined
        const components = constructor?.kind === 'method' ? constructor.signature.parameters : []
        tree.children(body).forEach((child, index) => this.pattern(child, scope, components[index] ?? UNKNOWN))
        return
      }
      default:
    }
  }

  private cast(node: Node, scope: Scope): Type {
    const { tree } = this
    const value = tree.child(node, Field.Value)
    const types = tree.children(node).filter(child => tree.field(child) === Field.Type).map(child => this.program.names.type(child, scope))
    const type = types[0] ?? UNKNOWN
    this.type(value, scope, types.find(one => this.program.functions.of(one)) ?? type)
    return type
  }

  private arrayCreation(node: Node, scope: Scope): Type {
    const { tree } = this
    let dimensions = 0
    for (const child of tree.children(node)) {
      if (tree.kind(child) === Kind.DimensionsExpr) { dimensions++; for (const inner of tree.children(child)) if (!isAnnotation(tree.kind(inner))) this.type(inner, scope) }
      else if (tree.kind(child) === Kind.Dimensions) dimensions += bracketsIn(tree.textOf(child))
    }
    const type = arrayOf(this.program.names.type(tree.child(node, Field.Type), scope), dimensions)
    const value = tree.child(node, Field.Value)
    if (value !== NONE) this.type(value, scope, type)
    return type
  }

  // ---- calls

  /** `asReceiver`: nothing more will be known of its type, so what is not takes its bound. */
  private invocation(node: Node, scope: Scope, wanted: Type | null, asReceiver = false): Type {
    const { tree } = this
    const name = tree.child(node, Field.Name)
    const object = tree.child(node, Field.Object)
    const argumentsNode = tree.child(node, Field.Arguments)
    const text = tree.textOf(name)
    const explicit = tree.child(node, Field.TypeArguments)
    const typeArguments = explicit === NONE ? [] : tree.children(explicit).map(child => this.program.names.type(child, scope))
    let receiver: Type | null = null
    let methods: readonly MethodSymbol[] = []
    let receiverSymbol: ClassSymbol | null = null
    if (object === NONE) {
      for (let at: Scope | null = scope; at; at = at.outer) {
        if (!at.symbol) continue
        const found = this.overloads.of(at.symbol, text).filter(method => this.visible(method, scope))
        if (found.length === 0) continue
        methods = found
        receiver = thisType(at.symbol)
        receiverSymbol = at.symbol
        break
      }
      if (methods.length === 0) methods = this.importedMethods(text, scope)
    } else {
      let before: Qualifier
      if (tree.childOf(node, Kind.Super) !== NONE && tree.kind(object) !== Kind.Super) {
        const type = this.program.names.type(object, scope)
        const owner = scope.owner
        // `Interface.super.m()` calls the interface's own; `Outer.super.m()` that of the outer class's superclass.
        const direct = type.tag === 'class' && owner && type.symbol.isInterface && !owner.isInside(type.symbol)
        before = { value: type.tag === 'class' ? direct ? type : this.superOf(type.symbol) : UNKNOWN }
      } else before = this.qualifier(object, scope)
      if ('packageName' in before) { this.argumentsAlone(argumentsNode, scope); this.file.bind(name, undefined, 'what it is called on is not found'); return UNKNOWN }
      if ('symbol' in before) { receiverSymbol = before.symbol; receiver = plainType(before.symbol); methods = this.overloads.of(before.symbol, text) }
      else {
        receiver = before.value
        if (receiver === UNKNOWN) { this.argumentsAlone(argumentsNode, scope); this.file.bind(name, undefined, 'the type of what it is called on is not known'); return UNKNOWN }
        const type = this.hierarchy.upper(receiver)
        if (type.tag === 'array') {
          methods = this.overloads.of(this.program.top.symbol, text)
          if (text === 'clone') { this.argumentsAlone(argumentsNode, scope); return type }
        } else for (const part of type.tag === 'intersection' ? type.parts : [type]) {
          const seen = this.hierarchy.upper(part)
          const symbols = seen.tag === 'class' ? [seen] : seen.tag === 'intersection' ? seen.parts.filter((one): one is ClassType => one.tag === 'class') : []
          for (const one of symbols) {
            if (methods.length > 0) break
            methods = this.overloads.of(one.symbol, text)
            if (methods.length > 0) { receiverSymbol = one.symbol; receiver = one }
          }
        }
        if (receiver.tag !== 'array') receiver = methods.length > 0 && receiverSymbol ? receiver : type
      }
      const seen = methods.filter(method => this.visible(method, scope))
      if (seen.length > 0) methods = seen
    }
    if (methods.length === 0) {
      this.argumentsAlone(argumentsNode, scope)
      this.file.bind(name, undefined, 'no method of this name is found')
      return UNKNOWN
    }
    const nodes = tree.children(argumentsNode)
    const args = this.known(nodes, scope)
    const chosen = this.overloads.choose(methods, receiver, args)
    if (!chosen) {
      this.argumentsAlone(argumentsNode, scope)
      this.file.bind(name, undefined, `no ${text} takes ${nodes.length} argument${nodes.length === 1 ? '' : 's'}`)
      return UNKNOWN
    }
    this.file.bind(name, chosen.method)
    if (receiverSymbol) this.file.receivers.set(name, receiverSymbol)
    const rawReceiver = receiver?.tag === 'class' && receiver.isRaw && !chosen.method.isStatic && chosen.method.owner.typeParameters.length > 0
    const result = this.instantiate(chosen, chosen.method.signature.typeParameters, nodes, args, scope, wanted, typeArguments, rawReceiver, asReceiver)
    if (text === 'getClass' && nodes.length === 0 && chosen.method.owner === this.program.top.symbol && receiver) {
      return new ClassType(this.program.known('java/lang/Class').symbol, [erasure(this.hierarchy.upper(receiver))])
    }
    return result
  }

  private importedMethods(name: string, scope: Scope): readonly MethodSymbol[] {
    // By name before on demand; several imports of one name are overloads of each other.
    for (const onDemand of [false, true]) {
      const found: MethodSymbol[] = []
      for (const one of this.file.imports) {
        if (!one.isStatic || one.onDemand !== onDemand || !(onDemand || one.name.endsWith(`.${name}`))) continue
        const holder = this.program.names.qualified(onDemand ? one.name : one.name.slice(0, one.name.lastIndexOf('.')))
        if (!holder) continue
        const methods = this.overloads.of(holder, name).filter(method => method.isStatic && this.visible(method, scope))
        if (methods.length > 0) { this.file.usedImports.add(one); found.push(...methods) }
      }
      if (found.length > 0) return found
    }
    return []
  }

  private argumentsAlone(holder: Node, scope: Scope): void {
    if (holder === NONE) return
    for (const child of this.tree.children(holder)) this.type(child, scope)
  }

  /** Arguments as far as they are known on their own. Lambdas and method references wait for the method. */
  private known(nodes: readonly Node[], scope: Scope): Argument[] {
    return nodes.map(node => {
      const inner = this.unwrapped(node)
      const kind = this.tree.kind(inner)
      if (kind === Kind.LambdaExpression) return { type: null, adapts: true, function: this.lambdaShape(inner, scope) }
      if (kind === Kind.MethodReference) return { type: null, adapts: true, function: this.referenceShape(inner, scope) }
      if (kind === Kind.TernaryExpression && this.endsInFunction(inner)) {
        const branch = this.unwrapped(this.tree.child(inner, Field.Consequence))
        const shape = this.tree.kind(branch) === Kind.LambdaExpression ? this.lambdaShape(branch, scope) : this.referenceShape(branch, scope)
        return { type: null, adapts: true, function: shape }
      }
      return { type: this.type(node, scope), adapts: this.adapts(inner), function: null }
    })
  }

  private endsInFunction(node: Node): boolean {
    const kind = this.tree.kind(this.unwrapped(this.tree.child(node, Field.Consequence)))
    return kind === Kind.LambdaExpression || kind === Kind.MethodReference
  }

  private unwrapped(node: Node): Node {
    while (this.tree.kind(node) === Kind.ParenthesizedExpression) node = this.tree.first(node)
    return node
  }

  /** Whether an expression's type could be another if another were wanted. */
  private adapts(node: Node): boolean {
    const { tree } = this
    switch (tree.kind(node)) {
      case Kind.MethodInvocation: {
        if (tree.child(node, Field.TypeArguments) !== NONE) return false
        const method = this.file.meaning(tree.child(node, Field.Name))
        if (!(method instanceof MethodSymbol) || method.signature.typeParameters.length === 0) return false
        return new Inference(this.hierarchy, method.signature.typeParameters).mentions(method.signature.result)
      }
      case Kind.ObjectCreationExpression: return this.isDiamond(node)
      case Kind.TernaryExpression: return this.adapts(this.unwrapped(tree.child(node, Field.Consequence))) || this.adapts(this.unwrapped(tree.child(node, Field.Alternative)))
      case Kind.SwitchExpression: return true
      default: return false
    }
  }

  private isDiamond(node: Node): boolean {
    const type = this.tree.child(node, Field.Type)
    if (this.tree.kind(type) !== Kind.GenericType) return false
    const args = this.tree.childOf(type, Kind.TypeArguments)
    return args !== NONE && this.tree.first(args) === NONE
  }

  /**
   * The result of a call, its type parameters inferred; goes into the arguments that had to wait. `raw`: the receiver is,
   * so that the result is erased and nothing is inferred.
   */
  private instantiate(
    chosen: Candidate, variables: readonly TypeVariable[], nodes: readonly Node[], args: readonly Argument[], scope: Scope, wanted: Type | null,
    explicit: readonly Type[] = [], raw = false, asReceiver = false
  ): Type {
    const variable = chosen.method.varargs && !this.passesArray(chosen, args)
    const formals = nodes.map((_, index) => formalAt(chosen, index, variable))
    const waits = (index: number) => args[index]!.function !== null || (args[index]!.adapts && holdsUnknown(args[index]!.type!))
    if (variables.length === 0 || raw || explicit.length > 0) {
      const by: Substitution = new Map(raw ? variables.map(one => [one, erasure(one)]) : variables.map((one, index) => [one, explicit[index] ?? UNKNOWN]))
      nodes.forEach((node, index) => { if (waits(index)) this.expectArgument(node, this.type(node, scope, substitute(formals[index]!, by)), substitute(formals[index]!, by), scope, args[index]!) })
      if (this.findings) args.forEach((arg, index) => { if (!waits(index)) this.expectArgument(nodes[index]!, arg.type!, substitute(formals[index]!, by), scope, arg) })
      const result = substitute(chosen.result, by)
      return raw ? erasure(result) : result
    }
    const inference = new Inference(this.hierarchy, variables)
    args.forEach((arg, index) => { if (arg.type && !waits(index)) inference.argument(arg.type, formals[index]!) })
    const useWanted = (): void => { if (wanted && wanted !== UNKNOWN && wanted !== VOID) inference.wanted(chosen.result, wanted) }
    // What is wanted counts before arguments that wait for it; where nothing waits, what the arguments say is enough.
    const waiting = nodes.map((_, index) => index).filter(waits)
    if (waiting.length > 0 || holdsUnknown(substitute(chosen.result, inference.solution()))) useWanted()
    for (const index of waiting) {
      const node = nodes[index]!, formal = formals[index]!
      const inner = this.unwrapped(node)
      if (this.tree.kind(inner) === Kind.MethodReference) this.referenceTells(inner, formal, scope, inference)
      const by = inference.solution()
      const known = substitute(formal, by)
      if (args[index]!.function) {
        const given = this.functionResult(inner, scope, known)
        const declared = this.program.functions.of(formal)
        if (given && declared) inference.argument(given, declared.result)
        if (this.tree.kind(inner) === Kind.LambdaExpression && declared) this.explicitParametersTell(inner, declared.parameters, scope, inference)
      } else inference.argument(this.type(node, scope, known), formal)
    }
    let by = inference.solution()
    if (waiting.length > 1) {
      // A lambda before the one that made something known is gone through again, now that it is.
      for (const index of waiting.slice(0, -1)) if (args[index]!.function) {
        const known = substitute(formals[index]!, by)
        const given = this.functionResult(this.unwrapped(nodes[index]!), scope, known)
        const declared = this.program.functions.of(formals[index]!)
        if (given && declared) inference.argument(given, declared.result)
      }
      by = inference.solution()
    }
    if (this.findings) {
      by = this.asWanted(chosen, variables, formals, args, by, wanted)
      for (const variable of variables) this.expectBounds(nodes, by, variable)
      args.forEach((arg, index) => this.expectArgument(nodes[index]!, arg.type ?? UNKNOWN, substitute(formals[index]!, by), scope, arg))
    }
    if (asReceiver) for (const variable of variables) if (by.get(variable) === UNKNOWN) by.set(variable, erasure(variable))
    return substitute(chosen.result, by)
  }

  /** Type arguments that make the result what is wanted, where those that the arguments tell do not and these fit them as well. */
  private asWanted(
    chosen: Candidate, variables: readonly TypeVariable[], formals: readonly Type[], args: readonly Argument[], by: Map<TypeVariable, Type>, wanted: Type | null
  ): Map<TypeVariable, Type> {
    if (!wanted || wanted === VOID || this.goes(substitute(chosen.result, by), wanted)) return by
    const inference = new Inference(this.hierarchy, variables)
    inference.wanted(chosen.result, wanted)
    args.forEach((arg, index) => { if (arg.type) inference.argument(arg.type, formals[index]!) })
    const other = inference.solution()
    const fits = this.goes(substitute(chosen.result, other), wanted) && args.every((arg, index) => !arg.type || arg.adapts || this.goes(arg.type, substitute(formals[index]!, other)))
    return fits ? other : by
  }

  /** A type argument has to be within the bounds of its parameter. */
  private expectBounds(nodes: readonly Node[], by: Substitution, variable: TypeVariable): void {
    const solved = by.get(variable)
    if (nodes.length === 0 || !solved || holdsUnknown(solved)) return
    const bound = variable.bounds.find(one => !this.hierarchy.isSubtype(erasure(this.hierarchy.upper(solved)), erasure(substitute(one, by))))
    if (bound) this.findings?.outside.set(nodes[0]!, { given: solved, wanted: bound })
    else this.findings?.outside.delete(nodes[0]!)
  }

  /** An argument that could be another type if another were wanted is asked again, with what is. */
  private expectArgument(node: Node, given: Type, formal: Type, scope: Scope, arg: Argument): void {
    if (!this.findings || arg.function) return
    this.expect(node, arg.adapts && !this.goes(given, formal) ? this.type(node, scope, formal) : given, formal)
  }

  /** Whether the last argument of a call is the array itself. */
  private passesArray(chosen: Candidate, args: readonly Argument[]): boolean {
    if (args.length !== chosen.method.arity) return false
    const last = args[args.length - 1]?.type
    if (!last) return false
    const type = this.hierarchy.upper(last)
    return last === NULL || (type.tag === 'array' && this.hierarchy.isSubtype(erasure(type), erasure(chosen.parameters[chosen.parameters.length - 1]!)))
  }

  // ---- lambdas and method references

  private lambdaShape(node: Node, scope: Scope): FunctionShape {
    const { tree } = this
    const parameters = tree.child(node, Field.Parameters), body = tree.child(node, Field.Body)
    const names = this.lambdaParameters(parameters)
    const explicit = names.length === 0 || tree.kind(parameters) === Kind.FormalParameters
    let gives: FunctionShape['gives'] = 'value'
    if (tree.kind(body) === Kind.Block) gives = this.returnsValue(body) ? 'value' : this.completes(body) ? 'nothing' : 'either'
    else if ([Kind.MethodInvocation, Kind.AssignmentExpression, Kind.UpdateExpression, Kind.ObjectCreationExpression].includes(tree.kind(body))) gives = 'either'
    let known: Type | null | undefined
    const result = (): Type | null => {
      if (known === undefined) known = explicit ? this.lambdaBody(node, scope, [], null) : null
      return known
    }
    return { kind: 'lambda', arity: names.length, gives, result }
  }

  private lambdaParameters(parameters: Node): Node[] {
    const { tree } = this
    if (parameters === NONE) return []
    if (tree.kind(parameters) === Kind.Identifier) return [parameters]
    return tree.children(parameters).filter(child => [Kind.Identifier, Kind.FormalParameter, Kind.SpreadParameter, Kind.UnderscorePattern].includes(tree.kind(child)))
  }

  /** Whether a block returns a value; nested lambdas and classes have returns of their own. */
  private returnsValue(node: Node): boolean {
    const { tree } = this
    for (let at = tree.first(node); at !== NONE; at = tree.next(at, node)) {
      const kind = tree.kind(at)
      if (kind === Kind.LambdaExpression || kind === Kind.ClassBody) continue
      if (kind === Kind.ReturnStatement ? tree.first(at) !== NONE : this.returnsValue(at)) return true
    }
    return false
  }

  /** Whether the end of a block may be reached, as far as its last statement tells. */
  private completes(block: Node): boolean {
    const { tree } = this
    const last = tree.children(block).at(-1)
    if (last === undefined) return true
    if (tree.kind(last) === Kind.ThrowStatement) return false
    if (tree.kind(last) === Kind.WhileStatement) return tree.textOf(tree.child(last, Field.Condition)) !== '(true)'
    return true
  }

  /** Goes through a lambda as what is wanted. */
  private lambda(node: Node, scope: Scope, wanted: Type | null): Type {
    const declared = wanted ? this.program.functions.of(wanted) : undefined
    return this.lambdaBody(node, scope, declared?.parameters ?? [], declared?.result ?? null)
  }

  private lambdaBody(node: Node, scope: Scope, types: readonly Type[], wanted: Type | null): Type {
    const { tree } = this
    const inside = scope.inner()
    this.lambdaParameters(tree.child(node, Field.Parameters)).forEach((parameter, index) => {
      const kind = tree.kind(parameter)
      const given = this.hierarchy.whole(types[index] ?? UNKNOWN)
      if (kind === Kind.Identifier) { inside.declare(new LocalSymbol(tree.textOf(parameter), given, parameter, 'lambda-parameter')); return }
      if (kind === Kind.UnderscorePattern) return
      const isVar = tree.textOf(tree.child(parameter, Field.Type) === NONE ? parameter : tree.child(parameter, Field.Type)) === 'var'
      const name = kind === Kind.SpreadParameter ? tree.child(tree.childOf(parameter, Kind.VariableDeclarator), Field.Name) : tree.child(parameter, Field.Name)
      inside.declare(new LocalSymbol(tree.textOf(name), isVar ? given : this.program.parameterType(parameter, inside), parameter, 'lambda-parameter'))
    })
    const body = tree.child(node, Field.Body)
    const useful = wanted && wanted !== VOID && wanted !== UNKNOWN ? wanted : null
    if (tree.kind(body) !== Kind.Block) {
      const type = this.type(body, inside, useful)
      this.expect(body, type, useful)
      return type
    }
    const returned = this.bodies.lambdaBlock(body, inside, useful)
    return returned.length === 0 ? VOID : this.joined(returned, null)
  }

  private explicitParametersTell(node: Node, declared: readonly Type[], scope: Scope, inference: Inference): void {
    const { tree } = this
    if (tree.kind(tree.child(node, Field.Parameters)) !== Kind.FormalParameters) return
    this.lambdaParameters(tree.child(node, Field.Parameters)).forEach((parameter, index) => {
      if (tree.kind(parameter) !== Kind.FormalParameter || tree.textOf(tree.child(parameter, Field.Type)) === 'var') return
      inference.argument(this.program.parameterType(parameter, scope), declared[index] ?? UNKNOWN)
    })
  }

  /** What a lambda or method reference gives as a function of a type. */
  private functionResult(node: Node, scope: Scope, wanted: Type): Type | undefined {
    switch (this.tree.kind(node)) {
      case Kind.LambdaExpression: return this.lambda(node, scope, wanted)
      case Kind.MethodReference: return this.methodReference(node, scope, wanted)
      case Kind.TernaryExpression: {
        this.type(this.tree.child(node, Field.Condition), scope)
        this.functionResult(this.unwrapped(this.tree.child(node, Field.Alternative)), scope, wanted)
        return this.functionResult(this.unwrapped(this.tree.child(node, Field.Consequence)), scope, wanted)
      }
      default: return undefined
    }
  }

  private referenceParts(node: Node): { before: Node; name: Node } {
    const { tree } = this
    const children = tree.children(node)
    const last = children[children.length - 1]!
    const between = tree.text.slice(tree.start(node), tree.end(node))
    const isNew = /::\s*(<[^]*>)?\s*new$/.test(between)
    return { before: children[0]!, name: isNew ? NONE : last }
  }

  private referenceQualifier(node: Node, scope: Scope): Qualifier {
    const { tree } = this
    switch (tree.kind(node)) {
      case Kind.ArrayType: case Kind.GenericType: case Kind.ScopedTypeIdentifier: case Kind.TypeIdentifier: case Kind.AnnotatedType: case Kind.IntegralType: case Kind.FloatingPointType: case Kind.BooleanType: {
        const type = this.program.names.type(node, scope)
        return type.tag === 'class' ? { symbol: type.symbol } : { value: type }
      }
      default: return this.qualifier(node, scope)
    }
  }

  private referenceShape(node: Node, scope: Scope): FunctionShape {
    const methods = this.referenceMethods(node, scope)
    const only = methods.length === 1 ? methods[0]! : undefined
    return { kind: 'method-reference', arity: -1, gives: only && only.name !== CONSTRUCTOR && only.signature.result === VOID ? 'nothing' : 'either', result: () => only ? only.name === CONSTRUCTOR ? plainType(only.owner) : only.signature.result : null }
  }

  private referenceMethods(node: Node, scope: Scope): readonly MethodSymbol[] {
    const { before, name } = this.referenceParts(node)
    const found = this.referenceQualifier(before, scope)
    const type = 'symbol' in found ? plainType(found.symbol) : 'value' in found ? this.hierarchy.upper(found.value) : UNKNOWN
    if (name === NONE) return type.tag === 'class' ? type.symbol.own(CONSTRUCTOR).filter((one): one is MethodSymbol => one.kind === 'method') : []
    const symbol = type.tag === 'class' ? type.symbol : type.tag === 'array' ? this.program.top.symbol : undefined
    return symbol ? this.overloads.of(symbol, this.tree.textOf(name)).filter(method => this.visible(method, scope)) : []
  }

  /** A reference to the only method of its name tells what the function takes, before anything else does. */
  private referenceTells(node: Node, formal: Type, scope: Scope, inference: Inference): void {
    const declared = this.program.functions.of(formal)
    const methods = this.referenceMethods(node, scope)
    if (!declared || methods.length !== 1) return
    const method = methods[0]!
    const { before } = this.referenceParts(node)
    const found = this.referenceQualifier(before, scope)
    const unbound = 'symbol' in found && !method.isStatic && method.name !== CONSTRUCTOR
    const given = unbound ? [plainType(found.symbol), ...method.signature.parameters] : method.signature.parameters
    if (given.length !== declared.parameters.length) return
    declared.parameters.forEach((parameter, index) => {
      if (parameter.tag === 'variable' && inference.isFree(parameter)) inference.wanted(parameter, given[index]!)
    })
  }

  private methodReference(node: Node, scope: Scope, wanted: Type | null): Type | undefined {
    const { before, name } = this.referenceParts(node)
    const declared = wanted ? this.program.functions.of(wanted) : undefined
    const found = this.referenceQualifier(before, scope)
    const type = 'symbol' in found ? plainType(found.symbol) : 'value' in found ? this.hierarchy.upper(found.value) : UNKNOWN
    const parameters = declared?.parameters ?? []
    const asArguments = (types: readonly Type[]): Argument[] => types.map(one => ({ type: one, adapts: false, function: null }))
    if (name === NONE) {
      if (type.tag !== 'class') return type
      const methods = type.symbol.own(CONSTRUCTOR).filter((one): one is MethodSymbol => one.kind === 'method')
      const open = this.tree.kind(before) === Kind.GenericType ? [] : type.symbol.typeParameters
      const chosen = this.overloads.choose(methods, open.length > 0 ? thisType(type.symbol) : type, asArguments(parameters), open) ?? (methods[0] && this.overloads.seen(methods[0], type))
      this.file.bind(node, chosen?.method)
      if (type.symbol.typeParameters.length === 0) return type
      const written = this.tree.kind(before) === Kind.GenericType ? this.program.names.type(before, scope) : type
      if (written.tag === 'class' && written.args.length > 0) return written
      const inference = new Inference(this.hierarchy, type.symbol.typeParameters)
      if (chosen) parameters.forEach((parameter, index) => inference.argument(parameter, chosen.method.signature.parameters[index] ?? UNKNOWN))
      if (declared && declared.result !== VOID) inference.wanted(thisType(type.symbol), declared.result)
      return substitute(thisType(type.symbol), inference.solution())
    }
    if (type === UNKNOWN) { this.file.bind(name, undefined, 'the type of what it is taken from is not known'); return UNKNOWN }
    const text = this.tree.textOf(name)
    const symbol = type.tag === 'class' ? type.symbol : this.program.top.symbol
    if (type.tag === 'array' && text === 'clone') return type
    const all = this.overloads.of(symbol, text)
    const seen = all.filter(method => this.visible(method, scope))
    const methods = seen.length > 0 ? seen : all
    let chosen: Candidate | undefined
    if ('symbol' in found) {
      const receiver = parameters[0] && this.hierarchy.asSuper(parameters[0], symbol) ? parameters[0] : type
      const statics = methods.filter(method => method.isStatic), others = methods.filter(method => !method.isStatic)
      const direct = declared ? this.fitting(statics, null, asArguments(parameters)) : undefined
      const unbound = declared && parameters.length > 0 ? this.fitting(others, receiver, asArguments(parameters.slice(1))) : undefined
      chosen = direct ?? unbound ?? (methods[0] && this.overloads.seen(methods[0], receiver))
    } else {
      const receiver = found as { value: Type }
      chosen = this.overloads.choose(methods, receiver.value, asArguments(parameters)) ?? (methods[0] && this.overloads.seen(methods[0], receiver.value))
    }
    if (!chosen) { this.file.bind(name, undefined, 'no method of this name is found'); return UNKNOWN }
    this.file.bind(name, chosen.method)
    this.file.receivers.set(name, symbol)
    if (this.findings && declared) this.expectReference(node, before, 'symbol' in found && !chosen.method.isStatic ? symbol : null, chosen, parameters, declared.result)
    const { typeParameters } = chosen.method.signature
    if (typeParameters.length === 0) return chosen.result
    const inference = new Inference(this.hierarchy, typeParameters)
    const given = 'symbol' in found && !chosen.method.isStatic ? parameters.slice(1) : parameters
    given.forEach((parameter, index) => inference.argument(parameter, formalAt(chosen, index, chosen.method.varargs && given.length !== chosen.method.arity)))
    if (declared && declared.result !== VOID) inference.wanted(chosen.result, declared.result)
    return substitute(chosen.result, inference.solution())
  }

  /** What a function is handed goes to the method that it stands for, and what that gives is what is wanted. */
  private expectReference(node: Node, before: Node, receiver: ClassSymbol | null, chosen: Candidate, parameters: readonly Type[], result: Type): void {
    if (receiver && parameters[0]) this.expect(before, erasure(this.hierarchy.upper(parameters[0])), plainType(receiver))
    const handed = receiver ? parameters.slice(1) : parameters
    const fits = handed.every((type, index) => this.goes(erasure(this.hierarchy.upper(type)), erasure(this.hierarchy.upper(formalAt(chosen, index, chosen.method.varargs && handed.length !== chosen.method.arity))))) &&
      (result === VOID || result.tag === 'variable' || this.goes(erasure(this.hierarchy.upper(chosen.result)), erasure(this.hierarchy.upper(result))))
    this.findings?.note(node, fits ? null : { given: chosen.result, wanted: result })
  }

  /** The method that takes the arguments, or none: unlike `choose` on the overloads, nothing is taken for nearest. */
  private fitting(methods: readonly MethodSymbol[], receiver: Type | null, args: readonly Argument[]): Candidate | undefined {
    const fitting = methods.filter(method => method.arity === args.length || (method.varargs && args.length >= method.arity - 1))
    return fitting.length > 0 ? this.overloads.choose(fitting, receiver, args) : undefined
  }

  // ---- creations

  private creation(node: Node, scope: Scope, wanted: Type | null): Type {
    const { tree } = this
    const typeNode = tree.child(node, Field.Type)
    const argumentsNode = tree.child(node, Field.Arguments)
    const body = tree.childOf(node, Kind.ClassBody)
    // `outer.new Inner()`: what stands before `new` is the first child, before the type.
    const first = tree.first(node)
    let created: Type
    if (first !== typeNode && tree.end(first) < tree.start(typeNode) && /^\s*\.\s*new\b/.test(tree.text.slice(tree.end(first), tree.start(typeNode)))) {
      const outer = this.hierarchy.upper(this.type(first, scope))
      const head = tree.kind(typeNode) === Kind.GenericType ? tree.first(typeNode) : typeNode
      const symbol = outer.tag === 'class' ? this.program.names.memberType(outer.symbol, tree.textOf(head)) : undefined
      this.file.bind(head, symbol, 'no member class of this name is found')
      if (tree.kind(typeNode) === Kind.GenericType) for (const child of tree.children(tree.childOf(typeNode, Kind.TypeArguments))) this.program.names.type(child, scope)
      created = symbol ? plainType(symbol) : UNKNOWN
    } else created = this.program.names.type(typeNode, scope)
    if (created.tag !== 'class') {
      this.argumentsAlone(argumentsNode, scope)
      if (body !== NONE) this.anonymous(node, body, scope, this.program.top)
      return created
    }
    const nodes = argumentsNode === NONE ? [] : tree.children(argumentsNode)
    const args = this.known(nodes, scope)
    const all = created.symbol.isInterface ? [] : created.symbol.own(CONSTRUCTOR).filter((one): one is MethodSymbol => one.kind === 'method')
    const seen = all.filter(method => this.visible(method, scope) || body !== NONE)
    const methods = seen.length > 0 ? seen : all
    const diamond = this.isDiamond(node)
    const receiver = diamond ? thisType(created.symbol) : created
    const chosen = this.overloads.choose(methods, receiver, args, diamond ? created.symbol.typeParameters : [])
    let result: Type = created
    if (chosen) {
      this.file.bind(node, chosen.method)
      if (diamond) {
        const variables = [...created.symbol.typeParameters, ...chosen.method.signature.typeParameters]
        result = this.instantiate({ ...chosen, result: thisType(created.symbol) }, variables, nodes, args, scope, wanted)
      } else {
        this.instantiate({ ...chosen, result: created }, chosen.method.signature.typeParameters, nodes, args, scope, null)
      }
    } else {
      if (nodes.length > 0) this.argumentsAlone(argumentsNode, scope)
      if (diamond && wanted?.tag === 'class') {
        const inference = new Inference(this.hierarchy, created.symbol.typeParameters)
        inference.wanted(thisType(created.symbol), wanted)
        result = substitute(thisType(created.symbol), inference.solution())
      }
      if (!created.symbol.isInterface) this.file.bind(node, undefined, `no constructor takes ${nodes.length} argument${nodes.length === 1 ? '' : 's'}`)
    }
    if (body !== NONE) {
      const parent = settled(result, this.hierarchy)
      return thisType(this.anonymous(node, body, scope, parent.tag === 'class' ? parent : plainType(created.symbol)))
    }
    if (this.findings) {
      this.findings.creations.set(node, result)
      args.forEach((arg, index) => { if (arg.type) this.findings!.argumentTypes.set(nodes[index]!, arg.type) })
    }
    return result
  }

  /** The class of a creation with a body, or of an enum's constant with one. */
  anonymous(node: Node, body: Node, scope: Scope, parent: ClassType): ClassSymbol {
    const owner = scope.owner!
    const symbol = declareClass(this.file, node, owner, scope, this.program.declarations, this.program, { name: '', id: `${owner.id}.$${this.tree.start(node)}`, body })
    if (parent.symbol.isInterface) symbol.setParents(this.program.top, [parent])
    else symbol.setParents(parent, [])
    this.bodies.classBody(symbol)
    return symbol
  }

  /** A call of `this(...)` or `super(...)`. */
  explicitConstructor(node: Node, scope: Scope): void {
    const { tree } = this
    const target = tree.child(node, Field.Constructor)
    const argumentsNode = tree.child(node, Field.Arguments)
    const object = tree.child(node, Field.Object)
    if (object !== NONE) this.type(object, scope)
    const owner = scope.owner
    if (!owner) { this.argumentsAlone(argumentsNode, scope); return }
    const type = tree.kind(target) === Kind.This ? thisType(owner) : this.superOf(owner)
    if (type.tag !== 'class') { this.argumentsAlone(argumentsNode, scope); return }
    const nodes = tree.children(argumentsNode)
    const args = this.known(nodes, scope)
    const methods = type.symbol.own(CONSTRUCTOR).filter((one): one is MethodSymbol => one.kind === 'method')
    const chosen = this.overloads.choose(methods, type, args)
    if (chosen) { this.file.bind(target, chosen.method); this.instantiate({ ...chosen, result: VOID }, chosen.method.signature.typeParameters, nodes, args, scope, null) }
    else this.argumentsAlone(argumentsNode, scope)
  }

  /** The arguments of an enum's constant. */
  enumConstant(node: Node, scope: Scope, symbol: ClassSymbol): void {
    const { tree } = this
    const argumentsNode = tree.child(node, Field.Arguments)
    const nodes = argumentsNode === NONE ? [] : tree.children(argumentsNode)
    const args = this.known(nodes, scope)
    const methods = symbol.own(CONSTRUCTOR).filter((one): one is MethodSymbol => one.kind === 'method')
    const chosen = this.overloads.choose(methods, plainType(symbol), args)
    if (chosen) { this.file.bind(node, chosen.method); this.instantiate({ ...chosen, result: VOID }, [], nodes, args, scope, null) }
    else if (argumentsNode !== NONE) this.argumentsAlone(argumentsNode, scope)
    const body = tree.child(node, Field.Body)
    if (body !== NONE) this.anonymous(node, body, scope, plainType(symbol))
  }

  /** A type that a variable can have: nothing left unknown in it, captures by their bounds. */
  ofVariable(type: Type): Type {
    return settled(this.hierarchy.whole(type === NULL ? this.program.top : type), this.hierarchy)
  }
}

