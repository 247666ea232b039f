import { holdsUnknown } from '../binding/inference.js'
import { CONSTRUCTOR } from '../binding/symbols.js'
import type { PrimitiveType, Type } from '../binding/types.js'
import { UNKNOWN } from '../binding/types.js'
import type { Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import { ExpressionPart } from './expression-part.js'
import { BOOLEAN, INT, promoted } from './primitives.js'
import type { Scope } from './scope.js'
import { LocalSymbol } from './scope.js'
import { Field, Kind } from './syntax.js'
import { arrayOf, bracketsIn, isAnnotation } from './type-names.js'

/** Types of operators, conditionals, casts, patterns and arrays. */
export class Operators extends ExpressionPart {
  number(type: Type): PrimitiveType | undefined {
    if (type.tag === 'primitive') return type
    const upper = this.hierarchy.upper(type)
    const unboxed = upper.tag === 'class' ? this.program.unboxed(upper) : undefined
    return unboxed?.tag === 'primitive' ? unboxed : undefined
  }

  binary(node: Node, scope: Scope): Type {
    const { tree } = this
    // Long chains of `+` lean to the left; walked without recursion, they may be thousands long.
    const chain: Node[] = []
    let at = node
    while (tree.kind(at) === Kind.BinaryExpression) { chain.push(at); at = tree.child(at, Field.Left) }
    let left = this.whole.type(at, scope)
    for (let index = chain.length - 1; index >= 0; index--) {
      const one = chain[index]!
      const rightNode = tree.child(one, Field.Right)
      const right = this.whole.type(rightNode, scope)
      left = this.operation(this.operator(tree.end(tree.child(one, Field.Left)), tree.start(rightNode)), left, right)
    }
    return left
  }

  operator(from: number, to: number): string {
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

  ternary(node: Node, scope: Scope, wanted: Type | null): Type {
    const { tree } = this
    // Pattern variables of the condition are known where it holds; they stay in the scope around, which does no harm.
    this.whole.type(tree.child(node, Field.Condition), scope)
    const types = [Field.Consequence, Field.Alternative].map(field => {
      const branch = tree.child(node, field)
      const type = this.whole.type(branch, scope, wanted)
      this.whole.expect(branch, type, wanted)
      return type
    })
    return this.joined(types, wanted)
  }

  /** The type of a value that is one of several. */
  joined(types: readonly Type[], wanted: Type | null): Type {
    if (types.length === 0) return wanted ?? UNKNOWN
    const numbers = types.map(type => this.number(type))
    if (types.some(type => type.tag === 'primitive') && numbers.every(one => one !== undefined)) {
      if (numbers.every(one => one === numbers[0])) return numbers[0]!
      return numbers.includes(BOOLEAN) ? this.hierarchy.common(types) : (numbers as PrimitiveType[]).reduce((a, b) => a === b ? a : promoted(a, b))
    }
    if (wanted && wanted !== UNKNOWN && wanted.tag !== 'primitive' && !holdsUnknown(wanted)) return types.every(type => type === types[0]) ? types[0]! : wanted
    return this.hierarchy.common(types)
  }

  instanceOf(node: Node, scope: Scope): Type {
    const { tree } = this
    this.whole.type(tree.child(node, Field.Left), scope)
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

  cast(node: Node, scope: Scope): Type {
    const { tree } = this
    const value = tree.child(node, Field.Value)
    const types = tree.children(node).filter(child => tree.field(child) === Field.Type).map(child => this.program.names.type(child, scope))
    const type = types[0] ?? UNKNOWN
    this.whole.type(value, scope, types.find(one => this.program.functions.of(one)) ?? type)
    return type
  }

  arrayCreation(node: Node, scope: Scope): Type {
    const { tree } = this
    let dimensions = 0
    for (const child of tree.children(node)) {
      if (tree.kind(child) === Kind.DimensionsExpr) { dimensions++; for (const inner of tree.children(child)) if (!isAnnotation(tree.kind(inner))) this.whole.type(inner, scope) }
      else if (tree.kind(child) === Kind.Dimensions) dimensions += bracketsIn(tree.textOf(child))
    }
    const type = arrayOf(this.program.names.type(tree.child(node, Field.Type), scope), dimensions)
    const value = tree.child(node, Field.Value)
    if (value !== NONE) this.whole.type(value, scope, type)
    return type
  }
}
