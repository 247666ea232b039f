import type { Overloads } from '../binding/overloads.js'
import type { ClassSymbol } from '../binding/symbols.js'
import { Flags } from '../binding/symbols.js'
import type { Type } from '../binding/types.js'
import { UNKNOWN, VOID } from '../binding/types.js'
import type { FlatTree, Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import type { JavaFile } from './scope.js'
import { declareClass, isTypeDeclaration } from './declare.js'
import type { Bodies } from './expression-part.js'
import { Expressions } from './expressions.js'
import type { JavaProgram } from './program.js'
import { LocalSymbol, Scope } from './scope.js'
import type { TypeFindings } from './type-findings.js'
import { Field, Kind } from './syntax.js'
import { isAnnotation } from './type-names.js'

/** What `return` or `yield` gives at a place: what is wanted, and what is given so far. */
interface Giving { readonly wanted: Type | null; readonly given: Type[] }

/** Goes through a file's declarations and bodies, so that every name in them is bound. */
export class BodyBinder implements Bodies {
  private readonly tree: FlatTree
  private readonly expressions: Expressions
  private returning: Giving | null = null
  private yielding: Giving | null = null

  constructor(private readonly program: JavaProgram, private readonly file: JavaFile, overloads: Overloads, findings: TypeFindings | null = null) {
    this.tree = file.tree
    this.expressions = new Expressions(program, file, overloads, findings)
    this.expressions.bodies = this
  }

  /** Binds everything in the file. */
  bind(): void {
    for (const symbol of this.file.types) this.classBody(symbol)
    this.annotations()
  }

  classBody(symbol: ClassSymbol): void {
    const { node, body, scope } = this.program.declarations.get(symbol)!
    const { tree } = this
    void symbol.superclass
    const members = symbol.ownMembers
    for (const member of members) void (member.kind === 'field' ? member.type : member.signature)
    for (const inner of symbol.types.values()) this.classBody(inner)
    if (tree.kind(node) === Kind.RecordDeclaration) void symbol.own('<init>')
    if (body !== NONE) this.membersOf(body, symbol, scope)
  }

  private membersOf(body: Node, symbol: ClassSymbol, scope: Scope): void {
    const { tree } = this
    for (let at = tree.first(body); at !== NONE; at = tree.next(at, body)) {
      switch (tree.kind(at)) {
        case Kind.FieldDeclaration: case Kind.ConstantDeclaration:
          for (let child = tree.first(at); child !== NONE; child = tree.next(child, at)) {
            if (tree.kind(child) !== Kind.VariableDeclarator) continue
            const value = tree.child(child, Field.Value)
            if (value === NONE) continue
            const field = symbol.own(tree.textOf(tree.child(child, Field.Name))).find(member => member.kind === 'field')
            const wanted = field?.kind === 'field' ? field.type : null
            this.expressions.expect(value, this.expressions.type(value, scope.inner(), wanted), wanted)
          }
          break
        case Kind.MethodDeclaration: case Kind.ConstructorDeclaration: case Kind.AnnotationTypeElementDeclaration: this.method(at, scope); break
        case Kind.CompactConstructorDeclaration: {
          const inside = new Scope(this.file, scope)
          const header = tree.child(this.program.declarations.get(symbol)!.node, Field.Parameters)
          this.parameters(header, inside)
          this.block(tree.child(at, Field.Body), inside)
          break
        }
        case Kind.StaticInitializer: for (const child of tree.children(at)) this.statement(child, scope); break
        case Kind.Block: this.statement(at, scope); break
        case Kind.EnumConstant: this.expressions.creations.enumConstant(at, scope, symbol); break
        case Kind.EnumBodyDeclarations: this.membersOf(at, symbol, scope); break
        default:
      }
    }
  }

  private method(node: Node, scope: Scope): void {
    const { tree } = this
    const method = this.program.methodAt(this.file, node)
    if (!method) return
    const { result } = method.signature
    const inside = new Scope(this.file, this.program.methodScopes.get(method) ?? scope, null, method)
    const thrown = tree.childOf(node, Kind.Throws)
    if (thrown !== NONE) for (const child of tree.children(thrown)) this.program.names.type(child, inside)
    const parameters = tree.child(node, Field.Parameters)
    if (parameters !== NONE) this.parameters(parameters, inside)
    const value = tree.child(node, Field.Value)
    if (value !== NONE) this.expressions.type(value, inside, result)
    const body = tree.child(node, Field.Body)
    if (body === NONE) return
    const outer = this.returning
    this.returning = { wanted: result === VOID ? null : result, given: [] }
    this.block(body, inside)
    this.returning = outer
  }

  private parameters(holder: Node, scope: Scope): void {
    const { tree } = this
    for (const at of tree.children(holder)) {
      const kind = tree.kind(at)
      if (kind !== Kind.FormalParameter && kind !== Kind.SpreadParameter) {
        if (kind === Kind.ReceiverParameter) for (const child of tree.children(at)) if (tree.kind(child) !== Kind.Identifier) this.program.names.type(child, scope)
        continue
      }
      const name = kind === Kind.SpreadParameter ? tree.child(tree.childOf(at, Kind.VariableDeclarator), Field.Name) : tree.child(at, Field.Name)
      scope.declare(new LocalSymbol(tree.textOf(name), this.program.parameterType(at, scope), at, 'parameter'))
    }
  }

  private block(node: Node, scope: Scope): void {
    const inside = scope.inner()
    for (const child of this.tree.children(node)) this.statement(child, inside)
  }

  lambdaBlock(block: Node, scope: Scope, wanted: Type | null): Type[] {
    const outer = this.returning
    const giving: Giving = this.returning = { wanted, given: [] }
    this.block(block, scope)
    this.returning = outer
    return giving.given
  }

  private statement(node: Node, scope: Scope): void {
    const { tree, expressions } = this
    switch (tree.kind(node)) {
      case Kind.Block: case Kind.ConstructorBody: this.block(node, scope); return
      case Kind.LocalVariableDeclaration: this.localVariables(node, scope); return
      case Kind.ExpressionStatement: expressions.type(tree.first(node), scope); return
      case Kind.ReturnStatement: this.give(tree.first(node), scope, this.returning); return
      case Kind.YieldStatement: this.give(tree.first(node), scope, this.yielding); return
      case Kind.ExplicitConstructorInvocation: expressions.creations.explicitConstructor(node, scope); return
      case Kind.IfStatement: {
        // Pattern variables of the condition stay known after it, for `if (!(x instanceof T t)) return;`.
        expressions.type(tree.child(node, Field.Condition), scope)
        for (const field of [Field.Consequence, Field.Alternative]) {
          const branch = tree.child(node, field)
          if (branch !== NONE) this.statement(branch, scope.inner())
        }
        return
      }
      case Kind.ForStatement: {
        const inside = scope.inner()
        for (const child of tree.children(node)) {
          if (tree.field(child) === Field.Body) this.statement(child, inside.inner())
          else if (tree.kind(child) === Kind.LocalVariableDeclaration) this.localVariables(child, inside)
          else expressions.type(child, inside)
        }
        return
      }
      case Kind.EnhancedForStatement: {
        const inside = scope.inner()
        const values = this.program.hierarchy.upper(expressions.type(tree.child(node, Field.Value), scope))
        const iterable = values.tag === 'array' ? undefined : this.program.hierarchy.asSuper(values, this.program.known('java/lang/Iterable').symbol)
        const element = values.tag === 'array' ? values.element : iterable ? iterable.args[0] ?? this.program.top : UNKNOWN
        const typeNode = tree.child(node, Field.Type)
        const type = tree.textOf(typeNode) === 'var' ? expressions.ofVariable(element) : this.program.withDimensions(this.program.names.type(typeNode, scope), node, scope)
        if (values.tag !== 'array' && !iterable) expressions.expect(tree.child(node, Field.Value), values, this.program.known('java/lang/Iterable'))
        else expressions.expect(tree.child(node, Field.Value), this.program.hierarchy.whole(element), type)
        inside.declare(new LocalSymbol(tree.textOf(tree.child(node, Field.Name)), type, node, 'element'))
        this.statement(tree.child(node, Field.Body), inside)
        return
      }
      case Kind.TryStatement: case Kind.TryWithResourcesStatement: this.tryStatement(node, scope); return
      case Kind.SwitchExpression: this.switchBody(node, scope, null); return
      case Kind.LabeledStatement: { const inner = tree.children(node).at(-1); if (inner !== undefined) this.statement(inner, scope); return }
      case Kind.BreakStatement: case Kind.ContinueStatement: return
      case Kind.WhileStatement: case Kind.DoStatement: case Kind.SynchronizedStatement: case Kind.ThrowStatement: case Kind.AssertStatement: {
        const inside = tree.kind(node) === Kind.AssertStatement || tree.kind(node) === Kind.ThrowStatement ? scope : scope.inner()
        for (const child of tree.children(node)) {
          if (tree.field(child) === Field.Body || tree.kind(child) === Kind.Block) this.statement(child, inside)
          else {
            const type = expressions.type(child, inside)
            if (tree.kind(node) === Kind.ThrowStatement) expressions.expect(child, type, this.program.known('java/lang/Throwable'))
          }
        }
        // `while (!(x instanceof T t)) ...` leaves its variable known.
        return
      }
      case Kind.Modifiers: return
      default:
        if (isTypeDeclaration(tree.kind(node))) { this.localClass(node, scope); return }
        if (tree.kind(node) === Kind.Error) { for (const child of tree.children(node)) this.statement(child, scope); return }
        expressions.type(node, scope)
    }
  }

  private give(value: Node, scope: Scope, giving: Giving | null): void {
    if (value === NONE) return
    const type = this.expressions.type(value, scope, giving?.wanted ?? null)
    this.expressions.expect(value, type, giving?.wanted ?? null)
    giving?.given.push(type)
  }

  private localClass(node: Node, scope: Scope): void {
    const owner = scope.owner
    if (!owner) return
    const name = this.tree.textOf(this.tree.child(node, Field.Name))
    let method = ''
    for (let at: Scope | null = scope; at && !at.symbol; at = at.outer) if (at.method) method = at.method.name === '<init>' ? owner.name : at.method.name
    const id = `${owner.id}.${method === '' ? '' : `${method}.`}${name}`
    const symbol = declareClass(this.file, node, owner, scope, this.program.declarations, this.program, { name, id, body: this.tree.child(node, Field.Body) })
    if (this.tree.kind(node) !== Kind.ClassDeclaration) symbol.flags |= Flags.Static
    scope.declareType(symbol)
    this.classBody(symbol)
  }

  private localVariables(node: Node, scope: Scope): void {
    const { tree } = this
    const typeNode = tree.child(node, Field.Type)
    const isVar = tree.textOf(typeNode) === 'var'
    const declared = isVar ? UNKNOWN : this.program.names.type(typeNode, scope)
    for (const declarator of tree.children(node)) {
      if (tree.kind(declarator) !== Kind.VariableDeclarator) continue
      const type = this.program.withDimensions(declared, declarator, scope)
      const local = new LocalSymbol(tree.textOf(tree.child(declarator, Field.Name)), type, declarator, 'variable')
      // Known before its initialiser, which may be a lambda that mentions it.
      if (!isVar) scope.declare(local)
      const value = tree.child(declarator, Field.Value)
      const given = value === NONE ? UNKNOWN : this.expressions.type(value, scope, isVar ? null : type)
      if (!isVar) this.expressions.expect(value, given, type)
      if (isVar) { local.type = this.expressions.ofVariable(given); scope.declare(local) }
    }
  }

  private tryStatement(node: Node, scope: Scope): void {
    const { tree } = this
    const inside = scope.inner()
    for (const child of tree.children(node)) {
      switch (tree.kind(child)) {
        case Kind.ResourceSpecification:
          for (const resource of tree.children(child)) {
            const value = tree.child(resource, Field.Value), typeNode = tree.child(resource, Field.Type)
            if (value === NONE || typeNode === NONE) { for (const one of tree.children(resource)) if (tree.kind(one) !== Kind.Modifiers) this.expressions.type(one, inside); continue }
            const isVar = tree.textOf(typeNode) === 'var'
            const type = isVar ? null : this.program.names.type(typeNode, inside)
            const given = this.expressions.type(value, inside, type)
            this.expressions.expect(value, given, type)
            this.expressions.expect(typeNode, type ?? given, this.program.known('java/lang/AutoCloseable'))
            inside.declare(new LocalSymbol(tree.textOf(tree.child(resource, Field.Name)), type ?? this.expressions.ofVariable(given), resource, 'variable'))
          }
          break
        case Kind.Block: this.block(child, inside); break
        case Kind.CatchClause: {
          const caught = scope.inner()
          const parameter = tree.childOf(child, Kind.CatchFormalParameter)
          if (parameter !== NONE) {
            const types = tree.children(tree.childOf(parameter, Kind.CatchType)).map(one => this.program.names.type(one, scope))
            caught.declare(new LocalSymbol(tree.textOf(tree.child(parameter, Field.Name)), this.program.hierarchy.common(types), parameter, 'exception'))
          }
          this.block(tree.child(child, Field.Body), caught)
          break
        }
        case Kind.FinallyClause: for (const one of tree.children(child)) this.statement(one, scope); break
        default:
      }
    }
  }

  switchBody(node: Node, scope: Scope, wanted: Type | null): Type[] {
    const { tree } = this
    const selector = this.program.hierarchy.upper(this.expressions.type(tree.child(node, Field.Condition), scope))
    const outer = this.yielding
    const giving: Giving = this.yielding = { wanted, given: [] }
    const body = tree.child(node, Field.Body)
    // Old-style groups share one scope; each rule has its own.
    const shared = scope.inner()
    for (const part of tree.children(body)) {
      const isRule = tree.kind(part) === Kind.SwitchRule
      const inside = isRule ? scope.inner() : shared
      for (const child of tree.children(part)) {
        if (tree.kind(child) === Kind.SwitchLabel) this.label(child, inside, selector)
        else if (isRule && tree.kind(child) === Kind.ExpressionStatement) this.give(tree.first(child), inside, giving)
        else this.statement(child, inside)
      }
    }
    this.yielding = outer
    return giving.given.filter(type => type !== VOID)
  }

  private label(node: Node, scope: Scope, selector: Type): void {
    const { tree } = this
    const constants = selector.tag === 'class' && selector.symbol.flags & Flags.Enum ? selector.symbol : undefined
    for (const child of tree.children(node)) {
      const kind = tree.kind(child)
      if (kind === Kind.Identifier && constants) {
        const field = constants.own(tree.textOf(child)).find(member => member.kind === 'field')
        this.file.bind(child, field, `${constants.name} has no constant of this name`)
        if (field) this.file.receivers.set(child, constants)
      } else if (kind === Kind.Pattern || kind === Kind.TypePattern || kind === Kind.RecordPattern) this.expressions.operators.pattern(child, scope, selector)
      else if (kind === Kind.Guard) for (const one of tree.children(child)) this.expressions.type(one, scope)
      else this.expressions.type(child, scope)
    }
  }

  /** Annotations stand anywhere; their names and values are bound in the scope of the class around them. */
  private annotations(): void {
    const { tree, file } = this
    const visit = (node: Node, scope: Scope): void => {
      const symbol = file.classes.get(node)
      const inside = symbol ? this.program.declarations.get(symbol)!.scope : scope
      for (let at = tree.first(node); at !== NONE; at = tree.next(at, node)) {
        if (isAnnotation(tree.kind(at))) this.annotation(at, inside)
        else visit(at, inside)
      }
    }
    visit(0, file.scope)
  }

  private annotation(node: Node, scope: Scope): void {
    const { tree } = this
    const type = this.program.names.type(tree.child(node, Field.Name), scope)
    const holder = tree.child(node, Field.Arguments)
    if (holder === NONE) return
    for (const child of tree.children(holder)) {
      if (tree.kind(child) !== Kind.ElementValuePair) { this.annotationValue(child, scope); continue }
      const key = tree.child(child, Field.Key)
      const member = type.tag === 'class' ? type.symbol.own(tree.textOf(key)).find(one => one.kind === 'method') : undefined
      this.file.bind(key, member, 'the annotation has no element of this name')
      this.annotationValue(tree.child(child, Field.Value), scope)
    }
  }

  private annotationValue(node: Node, scope: Scope): void {
    const { tree } = this
    if (isAnnotation(tree.kind(node))) this.annotation(node, scope)
    else if (tree.kind(node) === Kind.ElementValueArrayInitializer) for (const child of tree.children(node)) this.annotationValue(child, scope)
    else this.expressions.type(node, scope)
  }
}

