import type { FileFacts, FileProblem, Origin, OwnUseFacts, ReferenceFacts, ReferenceKind, Span, TypeFacts, TypeSwitchFacts, UnresolvedFacts } from '../../model/facts.js'
import type { FieldSymbol } from '../binding/symbols.js'
import { ClassSymbol, CONSTRUCTOR, Flags, MethodSymbol } from '../binding/symbols.js'
import type { Overloads } from '../binding/overloads.js'
import type { FlatTree, Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import { Lines } from './lines.js'
import type { JavaFile } from './scope.js'
import { isTypeDeclaration } from './declare.js'
import { isAbstraction, JavaOrigins, unite } from './origins.js'
import { isPureInJdk, tellsBare } from './outside.js'
import type { JavaProgram } from './program.js'
import { Field, Kind } from './syntax.js'
import { javaTypeFacts } from './type-facts.js'
import { javaTypeSwitch } from './type-switches.js'

/** Reads the facts of one bound file. Linear in its syntax tree. */
export function extractJavaFile(file: JavaFile, program: JavaProgram, overloads: Overloads, test: boolean): FileFacts {
  return new JavaExtractor(file, program, overloads, test).run()
}

class JavaExtractor {
  private readonly tree: FlatTree
  private readonly lines: Lines
  private readonly references: ReferenceFacts[] = []
  private readonly types: TypeFacts[] = []
  private readonly ownUses: OwnUseFacts[] = []
  private readonly typeSwitches: TypeSwitchFacts[] = []
  /** Where members stand, in the order of the walk: a later one that holds a place is the inner one. */
  private readonly memberPlaces: { readonly start: number; readonly end: number; readonly from: string; readonly inMember: string }[] = []
  private readonly overrides: FileFacts['overrides'][number][] = []
  private readonly origins: JavaOrigins
  private readonly fieldOrigins = new Map<FieldSymbol, readonly Origin[]>()

  // Where the walk is.
  private type!: ClassSymbol
  private member = ''
  /** Whether the call or creation whose name is visited has no arguments. */
  private passesNothing = false

  constructor(private readonly file: JavaFile, private readonly program: JavaProgram, private readonly overloads: Overloads, private readonly test: boolean) {
    this.tree = file.tree
    this.lines = new Lines(file.tree.text)
    this.origins = new JavaOrigins(file, symbol => named(symbol).id)
  }

  run(): FileFacts {
    const { tree, file } = this
    for (let at = tree.first(0); at !== NONE; at = tree.next(at, 0)) if (isTypeDeclaration(tree.kind(at))) this.visitClass(at)
    this.unusedImports()
    const unresolved: UnresolvedFacts[] = []
    for (const [node, reason] of file.unbound) unresolved.push({ span: this.span(node), ...this.memberAt(tree.start(node)), name: tree.textOf(node).slice(0, 80), reason })
    return {
      path: file.path, language: 'java', module: file.packageName || '.', lines: this.lines.count, test: this.test,
      types: this.types, references: this.references.sort((a, b) => a.span.start - b.span.start), ownUses: this.ownUses, typeSwitches: this.typeSwitches, overrides: this.overrides,
      unresolved: unresolved.sort((a, b) => a.span.start - b.span.start), problems: this.problems()
    }
  }

  private memberAt(start: number): { readonly from: string; readonly inMember: string } {
    const place = this.memberPlaces.findLast(one => one.start <= start && start < one.end)
    return place ? { from: place.from, inMember: place.inMember } : { from: '', inMember: '' }
  }

  private span(node: Node): Span { return this.lines.span(this.tree.start(node), this.tree.end(node)) }

  private problems(): FileProblem[] {
    const { tree } = this
    const problems: FileProblem[] = []
    for (let at = 0; at < tree.size; at++) {
      const node = at * 5
      if (tree.kind(node) !== Kind.Error) continue
      problems.push({ line: this.span(node).line, message: `cannot be parsed here: ${tree.textOf(node).replace(/\s+/g, ' ').slice(0, 40)}` })
      if (problems.length === 20) break
    }
    for (const { name, path, first } of this.program.duplicates) if (path === this.file.path) problems.push({ line: 1, message: `${name} is declared in ${first} too; uses by that name mean the one there` })
    return problems
  }

  /** An import of a type that nothing in the file names. */
  private unusedImports(): void {
    const first = this.file.types[0]
    if (!first) return
    this.type = first
    this.member = ''
    for (const one of this.file.imports) {
      if (this.file.usedImports.has(one)) continue
      const name = one.isStatic && !one.onDemand ? one.name.slice(0, one.name.lastIndexOf('.')) : one.name
      const symbol = this.program.names.qualified(name)
      if (symbol) this.push(one.node, 'imports-only', symbol, '', null, true)
      else if (!one.onDemand) this.file.unbound.set(one.node, 'the imported type is not found')
    }
  }

  // ---- the walk

  private visitClass(node: Node): void {
    const symbol = this.file.classes.get(node)
    if (!symbol) return
    const { type, member } = this
    this.type = symbol
    this.member = ''
    const { tree } = this
    for (let at = tree.first(node); at !== NONE; at = tree.next(at, node)) {
      switch (tree.kind(at)) {
        case Kind.Superclass: this.visit(at, 'extends'); break
        case Kind.SuperInterfaces: this.visit(at, 'implements'); break
        case Kind.ExtendsInterfaces: this.visit(at, 'extends'); break
        case Kind.Identifier: break
        case Kind.ClassBody: case Kind.InterfaceBody: case Kind.EnumBody: case Kind.AnnotationTypeBody: this.visitMembers(at); break
        default: this.visit(at, 'signature')
      }
    }
    this.types.push(javaTypeFacts(symbol, node, { file: this.file, program: this.program, overloads: this.overloads, span: (start, end) => this.lines.span(start, end), originsOf: field => this.fieldOrigins.get(field) ?? [] }))
    this.addOverrides(symbol)
    this.type = type
    this.member = member
  }

  private visitMembers(body: Node): void {
    const { tree } = this
    for (let at = tree.first(body); at !== NONE; at = tree.next(at, body)) {
      const kind = tree.kind(at)
      if (isTypeDeclaration(kind)) { this.visitClass(at); continue }
      const before = this.member
      if (kind === Kind.EnumBodyDeclarations) { this.visitMembers(at); continue }
      switch (kind) {
        case Kind.MethodDeclaration: case Kind.AnnotationTypeElementDeclaration: case Kind.EnumConstant: this.member = tree.textOf(tree.child(at, Field.Name)); break
        case Kind.ConstructorDeclaration: case Kind.CompactConstructorDeclaration: this.member = 'constructor'; break
        case Kind.FieldDeclaration: case Kind.ConstantDeclaration: { const first = tree.childOf(at, Kind.VariableDeclarator); this.member = first === NONE ? '' : tree.textOf(tree.child(first, Field.Name)); break }
        default:
      }
      this.memberPlaces.push({ start: tree.start(at), end: tree.end(at), from: named(this.type).id, inMember: this.member })
      if (kind === Kind.EnumConstant) this.visitEnumConstant(at)
      else this.visit(at, 'signature')
      this.member = before
    }
  }

  private visitEnumConstant(node: Node): void {
    const { tree } = this
    for (const child of tree.children(node)) {
      if (tree.kind(child) === Kind.ClassBody) this.visitAnonymous(child)
      else if (tree.field(child) !== Field.Name) this.visit(child, 'signature')
    }
  }

  /** The body of an anonymous class: its code belongs to the type around it. */
  private visitAnonymous(body: Node): void {
    const { tree } = this
    for (let at = tree.first(body); at !== NONE; at = tree.next(at, body)) {
      if (isTypeDeclaration(tree.kind(at))) this.visitClass(at)
      else this.visit(at, 'signature')
    }
  }

  private visit(node: Node, kind: ReferenceKind): void {
    const { tree, file } = this
    switch (tree.kind(node)) {
      case Kind.Identifier: case Kind.TypeIdentifier: this.visitName(node, kind); return
      case Kind.Annotation: case Kind.MarkerAnnotation:
        for (const child of tree.children(node)) this.visit(child, tree.field(child) === Field.Name ? 'annotates' : 'reads')
        return
      case Kind.ElementValuePair: { const key = tree.child(node, Field.Key); if (key !== NONE) this.visitName(key, 'annotates'); this.visit(tree.child(node, Field.Value), 'reads'); return }
      case Kind.TypeArguments: for (const child of tree.children(node)) this.visit(child, 'type-argument'); return
      case Kind.GenericType: case Kind.ScopedTypeIdentifier: case Kind.ScopedIdentifier: case Kind.AnnotatedType: case Kind.ArrayType: case Kind.Wildcard: case Kind.TypeList: {
        // Of a dotted name the last part is what is meant; those before it only lead there.
        const children = tree.children(node)
        children.forEach((child, index) => this.visit(child, (tree.kind(node) === Kind.ScopedTypeIdentifier || tree.kind(node) === Kind.ScopedIdentifier) && index < children.length - 1 ? 'reads' : kind))
        return
      }
      case Kind.Throws: for (const child of tree.children(node)) this.visit(child, 'throws'); return
      case Kind.CatchType: for (const child of tree.children(node)) this.visit(child, 'catches'); return
      case Kind.ObjectCreationExpression: this.visitCreation(node, 'creates'); return
      case Kind.ThrowStatement: {
        const thrown = tree.first(node)
        if (tree.kind(thrown) === Kind.ObjectCreationExpression) this.visitCreation(thrown, 'throws')
        else this.visit(thrown, 'reads')
        return
      }
      case Kind.MethodInvocation: this.visitInvocation(node); return
      case Kind.FieldAccess: this.visitFieldAccess(node, kind); return
      case Kind.MethodReference: this.visitMethodReference(node); return
      case Kind.AssignmentExpression: {
        const left = tree.child(node, Field.Left)
        this.noteAssignment(left, tree.child(node, Field.Right))
        this.visit(left, 'writes')
        this.visit(tree.child(node, Field.Right), 'reads')
        return
      }
      case Kind.UpdateExpression: this.visit(tree.first(node), 'writes'); return
      case Kind.ArrayAccess: for (const child of tree.children(node)) this.visit(child, 'reads'); return
      case Kind.ExplicitConstructorInvocation: {
        const target = tree.child(node, Field.Constructor)
        const meaning = file.meaning(target)
        if (meaning instanceof MethodSymbol && tree.kind(target) === Kind.Super) this.push(target, 'calls', meaning.owner, 'constructor', [{ how: 'inherited' }])
        for (const child of tree.children(node)) if (child !== target) this.visit(child, 'reads')
        return
      }
      case Kind.VariableDeclarator: {
        const name = tree.child(node, Field.Name), value = tree.child(node, Field.Value)
        const field = this.type.own(tree.textOf(name)).find(member => member.kind === 'field' && member.node === name)
        if (field?.kind === 'field' && value !== NONE) this.addFieldOrigins(field, this.origins.of(value, this.type))
        if (value !== NONE) this.visit(value, 'reads')
        return
      }
      case Kind.LambdaExpression: {
        const parameters = tree.child(node, Field.Parameters)
        if (tree.kind(parameters) !== Kind.Identifier && tree.kind(parameters) !== Kind.InferredParameters) this.visit(parameters, 'signature')
        this.visit(tree.child(node, Field.Body), 'reads')
        return
      }
      case Kind.LabeledStatement: { const inner = tree.children(node).at(-1); if (inner !== undefined) this.visit(inner, 'reads'); return }
      case Kind.SwitchExpression: case Kind.IfStatement: {
        const found = javaTypeSwitch(node, file)
        if (found) this.typeSwitches.push({ span: this.span(node), type: named(this.type).id, inMember: this.member, word: tree.kind(node) === Kind.IfStatement ? 'if' : 'switch', ...found })
        break
      }
      case Kind.BreakStatement: case Kind.ContinueStatement: case Kind.InferredParameters: case Kind.PackageDeclaration: case Kind.ImportDeclaration: return
      case Kind.ClassBody: this.visitAnonymous(node); return
      default:
    }
    if (isTypeDeclaration(tree.kind(node))) { this.visitClass(node); return }
    const inner = isExpressionHolder(tree.kind(node)) ? 'reads' : kind === 'writes' ? 'reads' : kind
    for (let at = tree.first(node); at !== NONE; at = tree.next(at, node)) {
      // Names that declare are no uses; neither is the name of a parameter.
      if (tree.field(at) === Field.Name && tree.kind(at) === Kind.Identifier && !isExpressionHolder(tree.kind(node))) continue
      this.visit(at, typeFieldKind(tree, node, at) ?? inner)
    }
  }

  private visitName(node: Node, kind: ReferenceKind): void {
    const meaning = this.file.meaning(node)
    if (!meaning) return
    if (meaning instanceof ClassSymbol) this.push(node, kind, meaning, '', kind === 'creates' || kind === 'throws' ? [{ how: 'created' }] : null, kind === 'type-argument')
    else if (meaning.kind === 'field') this.pushMember(node, kind === 'writes' ? 'writes' : 'reads', meaning, NONE)
    else if (meaning.kind === 'method') this.push(node, kind, meaning.owner, memberNameOf(meaning), null)
  }

  private visitCreation(node: Node, kind: 'creates' | 'throws'): void {
    const { tree } = this
    const typeNode = tree.child(node, Field.Type)
    for (const child of tree.children(node)) {
      if (child === typeNode) this.withoutArguments(node, () => this.visit(child, kind))
      else this.visit(child, 'reads')
    }
  }

  private withoutArguments(call: Node, action: () => void): void {
    const passed = this.tree.child(call, Field.Arguments)
    this.passesNothing = passed !== NONE && this.tree.first(passed) === NONE
    action()
    this.passesNothing = false
  }

  private visitInvocation(node: Node): void {
    const { tree } = this
    const name = tree.child(node, Field.Name), object = tree.child(node, Field.Object)
    this.origins.noteLambdas(node, this.type)
    const method = this.file.meaning(name)
    if (method instanceof MethodSymbol) this.withoutArguments(node, () => this.pushMember(name, method.isStatic ? 'calls-static' : 'calls', method, object))
    for (const child of tree.children(node)) if (child !== name && tree.kind(child) !== Kind.Super && tree.kind(child) !== Kind.This) this.visit(child, tree.kind(child) === Kind.TypeArguments ? 'type-argument' : 'reads')
  }

  private visitFieldAccess(node: Node, kind: ReferenceKind): void {
    const { tree } = this
    const name = tree.child(node, Field.Field), object = tree.child(node, Field.Object)
    const meaning = this.file.meaning(name)
    if (meaning instanceof ClassSymbol) this.push(name, kind, meaning, '', null)
    else if (meaning?.kind === 'field') this.pushMember(name, kind === 'writes' ? 'writes' : 'reads', meaning, object)
    this.visit(object, 'reads')
  }

  private visitMethodReference(node: Node): void {
    const { tree } = this
    const own = this.file.meaning(node)
    const children = tree.children(node)
    if (own instanceof MethodSymbol) this.visit(children[0]!, 'creates')
    else {
      const last = children[children.length - 1]!
      const method = this.file.meaning(last)
      if (method instanceof MethodSymbol) this.pushMember(last, method.isStatic ? 'calls-static' : 'calls', method, children[0]!)
      for (const child of children) if (child !== last) this.visit(child, 'reads')
    }
  }

  private pushMember(node: Node, kind: ReferenceKind, member: MethodSymbol | FieldSymbol, object: Node): void {
    const owner = member.owner
    let origins: readonly Origin[] | null
    if (member.isStatic) origins = [{ how: 'static' }]
    else if (object !== NONE) origins = this.origins.of(object, this.type)
    else origins = this.type.isInside(owner) && owner !== this.type ? [{ how: 'own' }] : [{ how: 'inherited' }]
    this.push(node, kind, owner, memberNameOf(member), origins, false, member)
  }

  private push(node: Node, kind: ReferenceKind, target: ClassSymbol, member: string, origins: readonly Origin[] | null, typeOnly = false, symbol?: MethodSymbol | FieldSymbol): void {
    const to = named(target)
    const from = named(this.type)
    if (to === from) {
      const used = member === '' && kind === 'creates' ? 'constructor' : member
      if (used !== '' && !typeOnly) this.ownUses.push({ span: this.span(node), type: from.id, inMember: this.member, member: used, kind })
      return
    }
    let receiver: string | null = null, throughAbstraction = false
    if (origins && symbol) {
      const held = this.file.receivers.get(node)
      throughAbstraction = !symbol.isStatic && isAbstraction(held)
      if (held && held.source && named(held) !== to) receiver = named(held).id
    }
    const external = !to.source
    const told = external ? this.externalMember(to, member) : member
    const constant = symbol?.kind === 'field' && symbol.isStatic && (symbol.flags & Flags.Final) !== 0 && isPlain(symbol)
    this.references.push({
      span: this.span(node), kind, from: from.id, inMember: this.member, to: external ? externalNameOf(to) : to.id, member: told, external, typeOnly, origins,
      throughAbstraction, receiver, inertTarget: origins !== null && (external ? isPureInJdk(to.packageName, told) : constant)
    })
  }

  /** `Random` or `Random.nextInt`; with `()` where nothing is passed and that makes a difference. */
  private externalMember(symbol: ClassSymbol, member: string): string {
    const told = member === '' ? symbol.name : `${symbol.name}.${member}`
    if (!this.passesNothing || !tellsBare(symbol.packageName, told)) return told
    return `${told}()`
  }

  private noteAssignment(left: Node, right: Node): void {
    const { tree } = this
    const name = tree.kind(left) === Kind.FieldAccess && tree.kind(tree.child(left, Field.Object)) === Kind.This ? tree.child(left, Field.Field) : left
    const meaning = tree.kind(name) === Kind.Identifier ? this.file.meaning(name) : undefined
    if (meaning && !(meaning instanceof ClassSymbol) && meaning.kind === 'field' && meaning.owner === this.type) this.addFieldOrigins(meaning, this.origins.of(right, this.type))
  }

  private addFieldOrigins(field: FieldSymbol, origins: readonly Origin[]): void {
    this.fieldOrigins.set(field, unite(this.fieldOrigins.get(field) ?? [], origins))
  }

  // ---- declarations

  private addOverrides(symbol: ClassSymbol): void {
    for (const member of symbol.ownMembers) {
      if (member.kind !== 'method' || member.isStatic || member.name === CONSTRUCTOR || member.node < 0) continue
      for (const ancestor of this.program.hierarchy.ancestorsOf(symbol)) {
        if (ancestor === symbol || !ancestor.source) continue
        if (ancestor.own(member.name).some(other => other.kind === 'method' && !other.isStatic && this.overloads.overrides(symbol, member, other))) {
          this.overrides.push({ type: symbol.id, base: ancestor.id, member: member.name })
        }
      }
    }
  }
}

/** The class that code is told to be in: an anonymous class stands for the one around it. */
function named(symbol: ClassSymbol): ClassSymbol {
  while (symbol.name === '' && symbol.outer) symbol = symbol.outer
  return symbol
}

function memberNameOf(member: MethodSymbol | FieldSymbol): string { return member.name === CONSTRUCTOR ? 'constructor' : member.name }

/** Externals are told by package: what a project depends on is rarely one class of it. */
function externalNameOf(symbol: ClassSymbol): string { return symbol.packageName || symbol.id }

function isPlain(field: FieldSymbol): boolean {
  return field.type.tag === 'primitive' || (field.type.tag === 'class' && field.type.symbol.id === 'java.lang.String')
}

function isExpressionHolder(kind: number): boolean {
  switch (kind) {
    case Kind.ArgumentList: case Kind.BinaryExpression: case Kind.UnaryExpression: case Kind.ParenthesizedExpression: case Kind.TernaryExpression: case Kind.ReturnStatement:
    case Kind.ExpressionStatement: case Kind.IfStatement: case Kind.WhileStatement: case Kind.DoStatement: case Kind.SwitchExpression: case Kind.SwitchLabel: case Kind.YieldStatement:
    case Kind.ArrayInitializer: case Kind.DimensionsExpr: case Kind.AssertStatement: case Kind.SynchronizedStatement: case Kind.AnnotationArgumentList: case Kind.ElementValueArrayInitializer: case Kind.Guard: return true
    default: return false
  }
}

function typeFieldKind(tree: FlatTree, parent: Node, child: Node): ReferenceKind | undefined {
  if (tree.field(child) === Field.Type) return 'signature'
  switch (tree.kind(parent)) {
    case Kind.CastExpression: case Kind.InstanceofExpression: return tree.field(child) === Field.Right && tree.kind(parent) === Kind.InstanceofExpression ? 'reads' : tree.field(child) === Field.Value || tree.field(child) === Field.Left ? 'reads' : 'signature'
    case Kind.ForStatement: case Kind.EnhancedForStatement: case Kind.Resource: return tree.field(child) === Field.Value || tree.field(child) === Field.Condition || tree.field(child) === Field.Init || tree.field(child) === Field.Update ? 'reads' : undefined
    case Kind.ClassLiteral: return 'reads'
    default: return undefined
  }
}
