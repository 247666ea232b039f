import ts from 'typescript'
import type {
  FileFacts, FileProblem, MemberFacts, Origin, OwnUseFacts, ReferenceFacts, ReferenceKind, Span, TypeFacts, TypeSwitchFacts, UnresolvedFacts
} from '../../model/facts.js'
import type { Declarations, DeclaredType, Owner, TypeNode } from './declarations.js'
import { isTypeNode, memberHolder, memberName, unitMemberName } from './declarations.js'
import { isPureGlobal } from './effects.js'
import { externalNameOf, RUNTIME } from './externals.js'
import type { OriginContext } from './origins.js'
import { isAbstraction, originsOf } from './origins.js'
import { shapeOf } from './shape.js'
import { typeFacts, unitMemberFacts } from './type-facts.js'
import { typeSwitchOf } from './type-switches.js'

export interface ExtractContext {
  readonly program: ts.Program
  readonly checker: ts.TypeChecker
  readonly declarations: Declarations
  readonly pathOf: (file: ts.SourceFile) => string | undefined
  readonly isTest: (path: string) => boolean
  /** What a symbol stands for, shared by all files of one program. */
  readonly meanings: Map<ts.Symbol, Meaning>
  readonly inert: Map<ts.Symbol, boolean>
}

/** What a symbol is: members or types of the project, externals, nothing of interest, or not resolved. */
export type Meaning =
  | { readonly is: 'project'; readonly owners: readonly Owner[]; readonly declaration: ts.Node }
  | { readonly is: 'external'; readonly name: string; readonly declaration: ts.Node }
  | { readonly is: 'local' }
  | { readonly is: 'unresolved'; readonly reason: string }

const LOCAL: Meaning = { is: 'local' }

/** Reads the facts of one file off the checker. Linear in the file's identifiers. */
export function extractFile(file: ts.SourceFile, context: ExtractContext): FileFacts {
  return new Extractor(file, context).run()
}

class Extractor {
  private readonly path: string
  private readonly unit: string
  private readonly references: ReferenceFacts[] = []
  private readonly ownUses: OwnUseFacts[] = []
  private readonly typeSwitches: TypeSwitchFacts[] = []
  private readonly unresolved: UnresolvedFacts[] = []
  private readonly overrides: FileFacts['overrides'][number][] = []
  /** Imported names that are used other than by being exported again. */
  private readonly usedImports = new Set<ts.Symbol>()
  private readonly importNames: ts.Identifier[] = []
  private readonly originContext: OriginContext
  private readonly nodesByType = new Map<string, TypeNode[]>()
  private unitMembers: MemberFacts[] = []

  // Where the walk is.
  private type: string
  private member = ''
  private inType = false
  private inTypeArgument = false
  private inDecorator = false
  private inDefault = false

  constructor(private readonly file: ts.SourceFile, private readonly context: ExtractContext) {
    this.path = context.pathOf(file)!
    this.unit = this.type = `${this.path}#`
    this.originContext = {
      checker: context.checker,
      nameOfHolder: declaration => {
        const owner = context.declarations.ownerOf(declaration)
        return owner === undefined ? externalNameOf(declaration) : owner?.type
      }
    }
  }

  run(): FileFacts {
    const { file } = this
    for (const statement of file.statements) this.visit(statement)
    this.addUnusedImports()
    const types = this.types()
    return {
      path: this.path, language: 'typescript', module: null, lines: lineCount(file), test: this.context.isTest(this.path),
      shape: shapeOf(file), types, references: this.references.sort((a, b) => a.span.start - b.span.start), ownUses: this.ownUses,
      typeSwitches: this.typeSwitches, overrides: this.overrides, unresolved: this.unresolved, problems: this.problems()
    }
  }

  private span(node: ts.Node): Span {
    const start = node.getStart(this.file)
    const { line, character } = this.file.getLineAndCharacterOfPosition(start)
    return { start, end: node.end, line: line + 1, column: character + 1 }
  }

  private problems(): FileProblem[] {
    return this.context.program.getSyntacticDiagnostics(this.file).map(diagnostic => ({
      line: this.file.getLineAndCharacterOfPosition(diagnostic.start ?? 0).line + 1,
      message: ts.flattenDiagnosticMessageText(diagnostic.messageText, ' ')
    }))
  }

  // ---- the walk

  private visit = (node: ts.Node): void => {
    if (isTypeNode(node)) return this.visitTypeDeclaration(node)
    switch (node.kind) {
      case ts.SyntaxKind.Identifier:
      case ts.SyntaxKind.PrivateIdentifier:
        return this.visitName(node as ts.Identifier)
      case ts.SyntaxKind.StringLiteral:
      case ts.SyntaxKind.NoSubstitutionTemplateLiteral:
        return this.visitLiteralName(node as ts.StringLiteralLike)
      case ts.SyntaxKind.ImportDeclaration: return this.visitImport(node as ts.ImportDeclaration)
      case ts.SyntaxKind.ImportEqualsDeclaration: {
        const name = (node as ts.ImportEqualsDeclaration).name
        this.importNames.push(name)
        return
      }
      case ts.SyntaxKind.ExportDeclaration: return this.visitExport(node as ts.ExportDeclaration)
      case ts.SyntaxKind.HeritageClause: return this.visitHeritage(node as ts.HeritageClause)
      case ts.SyntaxKind.Decorator: return this.within('inDecorator', true, node)
      case ts.SyntaxKind.Parameter: return this.visitParameter(node as ts.ParameterDeclaration)
      case ts.SyntaxKind.SwitchStatement: case ts.SyntaxKind.IfStatement: this.addTypeSwitch(node as ts.SwitchStatement | ts.IfStatement); break
      default:
    }
    if (ts.isTypeNode(node) || node.kind === ts.SyntaxKind.TypeParameter) return this.visitType(node)
    if ((ts.isCallExpression(node) || ts.isNewExpression(node) || ts.isTaggedTemplateExpression(node)) && node.typeArguments) {
      ts.forEachChild(node, child => {
        if (!ts.isTypeNode(child)) { this.visit(child); return }
        const before = this.inTypeArgument
        this.inTypeArgument = true
        this.visit(child)
        this.inTypeArgument = before
      })
      return
    }
    const owned = this.type === this.unit && this.member === '' ? unitMemberName(node) : null
    if (owned !== null && (!ts.isVariableDeclaration(node) || !isTypeHolder(node))) {
      this.addUnitMember(node, owned)
      return this.inMember(owned, node)
    }
    ts.forEachChild(node, this.visit)
  }

  private addTypeSwitch(node: ts.SwitchStatement | ts.IfStatement): void {
    const found = typeSwitchOf(node, this.context.checker, this.context.declarations)
    if (found) this.typeSwitches.push({ span: this.span(node), type: this.type, inMember: this.member, ...found })
  }

  private within(flag: 'inType' | 'inTypeArgument' | 'inDecorator' | 'inDefault', value: boolean, node: ts.Node): void {
    const before = this[flag]
    this[flag] = value
    ts.forEachChild(node, this.visit)
    this[flag] = before
  }

  private inMember(name: string, node: ts.Node): void {
    const before = this.member
    this.member = name
    ts.forEachChild(node, this.visit)
    this.member = before
  }

  private visitType(node: ts.Node): void {
    if (ts.isTypeReferenceNode(node) || ts.isExpressionWithTypeArguments(node) || ts.isImportTypeNode(node) || ts.isTypeQueryNode(node)) {
      const before = this.inType
      this.inType = true
      ts.forEachChild(node, child => {
        if (ts.isTypeNode(child) && node.typeArguments?.includes(child)) {
          const argument = this.inTypeArgument
          this.inTypeArgument = true
          this.visit(child)
          this.inTypeArgument = argument
        } else this.visit(child)
      })
      this.inType = before
      return
    }
    this.within('inType', true, node)
  }

  private visitParameter(node: ts.ParameterDeclaration): void {
    for (const modifier of node.modifiers ?? []) this.visit(modifier)
    this.visit(node.name)
    if (node.type) this.visit(node.type)
    if (node.initializer) {
      const before = this.inDefault
      this.inDefault = true
      this.visit(node.initializer)
      this.inDefault = before
    }
  }

  private visitTypeDeclaration(node: TypeNode): void {
    const declared = this.context.declarations.typeOf(node)
    if (!declared) return
    const beforeType = this.type, beforeMember = this.member, beforeIn = this.inType, beforeArgument = this.inTypeArgument
    this.type = declared.id
    this.member = ''
    this.inTypeArgument = false
    this.inType = ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)
    const nodes = this.nodesByType.get(declared.id)
    if (nodes) nodes.push(node)
    else this.nodesByType.set(declared.id, [node])
    ts.forEachChild(node, child => {
      if (memberHolder(child) === node) this.inMember(memberName(child), child)
      else this.visit(child)
    })
    if (ts.isClassLike(node) || ts.isInterfaceDeclaration(node)) this.addOverrides(node, declared)
    this.type = beforeType
    this.member = beforeMember
    this.inType = beforeIn
    this.inTypeArgument = beforeArgument
  }

  private addOverrides(node: ts.ClassLikeDeclaration | ts.InterfaceDeclaration, declared: DeclaredType): void {
    for (const clause of node.heritageClauses ?? []) {
      for (const heritage of clause.types) {
        const type = this.context.checker.getTypeAtLocation(heritage)
        for (const member of node.members) {
          if (!member.name || ts.isComputedPropertyName(member.name)) continue
          for (const base of type.getProperty(memberName(member))?.declarations ?? []) {
            const owner = this.context.declarations.ownerOf(base)
            if (owner && owner.type !== declared.id) this.overrides.push({ type: declared.id, base: owner.type, member: owner.member })
          }
        }
      }
    }
  }

  private visitHeritage(node: ts.HeritageClause): void {
    const extending = node.token === ts.SyntaxKind.ExtendsKeyword
    const inClass = ts.isClassLike(node.parent)
    const kind: ReferenceKind = extending ? 'extends' : 'implements'
    for (const heritage of node.types) {
      const expression = heritage.expression
      const name = ts.isPropertyAccessExpression(expression) ? expression.name : expression
      if (ts.isIdentifier(name)) {
        const typeOnly = !extending || !inClass
        this.resolve(name, this.symbolAt(name), kind, typeOnly, extending && inClass ? [{ how: 'inherited' }] : null)
        if (ts.isPropertyAccessExpression(expression)) this.visit(expression.expression)
      } else this.visit(expression)
      for (const argument of heritage.typeArguments ?? []) {
        const before = this.inType, beforeArgument = this.inTypeArgument
        this.inType = this.inTypeArgument = true
        this.visit(argument)
        this.inType = before
        this.inTypeArgument = beforeArgument
      }
    }
  }

  // ---- imports and exports

  private visitImport(node: ts.ImportDeclaration): void {
    const clause = node.importClause
    if (clause?.name) this.importNames.push(clause.name)
    const bindings = clause?.namedBindings
    if (bindings && ts.isNamedImports(bindings)) for (const element of bindings.elements) this.importNames.push(element.name)
  }

  private visitExport(node: ts.ExportDeclaration): void {
    if (!node.moduleSpecifier || !node.exportClause || !ts.isNamedExports(node.exportClause)) return
    for (const element of node.exportClause.elements) {
      const name = element.propertyName ?? element.name
      if (!ts.isIdentifier(name)) continue
      const symbol = this.context.checker.getSymbolAtLocation(name)
      this.fromUnit(() => this.resolve(name, symbol, 'imports-only', node.isTypeOnly || element.isTypeOnly || this.isOnlyType(symbol), null))
    }
  }

  private addUnusedImports(): void {
    for (const name of this.importNames) {
      const symbol = this.context.checker.getSymbolAtLocation(name)
      if (symbol && this.usedImports.has(symbol)) continue
      let typeOnly = this.isOnlyType(symbol)
      for (let at: ts.Node = name; at && !ts.isSourceFile(at); at = at.parent) {
        if ((ts.isImportClause(at) || ts.isImportSpecifier(at)) && at.isTypeOnly) typeOnly = true
      }
      const specifier = name.parent
      const place = ts.isImportSpecifier(specifier) && specifier.propertyName && ts.isIdentifier(specifier.propertyName)
        ? specifier.propertyName : name
      this.fromUnit(() => this.resolve(place, symbol, 'imports-only', typeOnly, null))
    }
  }

  private fromUnit(action: () => void): void {
    const type = this.type, member = this.member
    this.type = this.unit
    this.member = ''
    action()
    this.type = type
    this.member = member
  }

  private isOnlyType(symbol: ts.Symbol | undefined): boolean {
    const target = symbol && this.unaliased(symbol)
    return target !== undefined && (target.flags & ts.SymbolFlags.Value) === 0
  }

  // ---- names

  private symbolAt(name: ts.Node): ts.Symbol | undefined {
    return this.context.checker.getSymbolAtLocation(name)
  }

  private visitName(name: ts.Identifier): void {
    const parent = name.parent
    if (isDeclarationName(name)) {
      if (ts.isBindingElement(parent) && parent.name === name && !parent.propertyName && ts.isObjectBindingPattern(parent.parent)) {
        const property = this.context.checker.getTypeAtLocation(parent.parent).getProperty(name.text)
        if (property) this.resolve(name, property, 'reads', false, this.patternOrigins(parent))
      } else if (ts.isPropertyAssignment(parent) || ts.isMethodDeclaration(parent) || ts.isGetAccessor(parent) || ts.isSetAccessor(parent)) {
        if (ts.isObjectLiteralExpression(parent.parent)) this.resolveInLiteral(name, parent.parent)
      } else if (ts.isJsxAttribute(parent)) {
        this.resolve(name, this.symbolAt(name), 'writes', false, null)
      }
      return
    }
    if (ts.isShorthandPropertyAssignment(parent)) {
      const value = this.context.checker.getShorthandAssignmentValueSymbol(parent)
      this.resolve(name, value, 'reads', false, this.inDefault ? null : [{ how: 'static' }])
      if (isAssignmentTarget(parent.parent)) {
        const property = this.context.checker.getPropertySymbolOfDestructuringAssignment(name)
        if (property) this.resolve(name, property, 'reads', false, null)
      } else this.resolveInLiteral(name, parent.parent)
      return
    }
    if (ts.isExportSpecifier(parent) || ts.isLabeledStatement(parent) || ts.isBreakOrContinueStatement(parent) || ts.isMetaProperty(parent)) return
    if (ts.isBindingElement(parent) && parent.propertyName === name) {
      const property = this.symbolAt(name)
      if (property) this.resolve(name, property, 'reads', false, this.patternOrigins(parent))
      return
    }
    if (name.text === 'const' && ts.isTypeReferenceNode(parent)) return
    const symbol = this.symbolAt(name)
    if (symbol === undefined && name.text === 'arguments') return
    if (symbol && this.namesNamespace(name, symbol)) {
      if (symbol.flags & ts.SymbolFlags.Alias) this.usedImports.add(symbol)
      return
    }
    if (this.inType) {
      // `x is T` and `asserts x` name a parameter; type parameters and locals fall out by themselves.
      this.resolve(name, symbol, this.inTypeArgument ? 'type-argument' : 'signature', true, null)
      return
    }
    const use = describeUse(name)
    const isStatic = use.receiver === null || this.namesStatic(symbol)
    const kind = this.inDecorator ? 'annotates' : use.kind === 'calls' && isStatic ? 'calls-static' : use.kind
    this.resolve(name, symbol, kind, false, null, use)
  }

  private visitLiteralName(literal: ts.StringLiteralLike): void {
    const parent = literal.parent
    if (ts.isElementAccessExpression(parent) && parent.argumentExpression === literal) {
      const symbol = this.symbolAt(literal)
      const use = describeUse(parent)
      if (symbol) this.resolve(literal, symbol, use.kind, false, this.inDefault ? null : this.originsFor(use.kind, parent.expression), undefined)
    } else if (ts.isLiteralTypeNode(parent) && ts.isIndexedAccessTypeNode(parent.parent)) {
      const symbol = this.symbolAt(literal)
      if (symbol) this.resolve(literal, symbol, 'signature', true, null)
    } else if (ts.isPropertyAssignment(parent) && parent.name === literal && ts.isObjectLiteralExpression(parent.parent)) {
      this.resolveInLiteral(literal, parent.parent)
    }
  }

  /** The property of a contextual type that a name in an object literal fills. */
  private resolveInLiteral(name: ts.Identifier | ts.StringLiteralLike, literal: ts.ObjectLiteralExpression): void {
    const { checker } = this.context
    if (isAssignmentTarget(literal)) {
      const property = checker.getTypeAtLocation((literal.parent as ts.BinaryExpression).right).getProperty(name.text)
      if (property) this.resolve(name, property, 'reads', false, null)
      return
    }
    const contextual = checker.getContextualType(literal)
    if (!contextual) return
    const whole = contextual.getProperty(name.text)
    const properties = whole ? [whole]
      : contextual.isUnion() ? contextual.types.flatMap(type => type.getProperty(name.text) ?? []) : []
    for (const property of properties) this.resolve(name, property, 'writes', false, null)
  }

  private patternOrigins(element: ts.BindingElement): readonly Origin[] | null {
    if (this.inDefault) return null
    let at: ts.Node = element
    while (ts.isBindingElement(at) || ts.isObjectBindingPattern(at) || ts.isArrayBindingPattern(at)) at = at.parent
    if (ts.isVariableDeclaration(at) && at.initializer) return originsOf(at.initializer, this.originContext)
    if (ts.isParameter(at)) return [{ how: 'handed-in', abstraction: isAbstraction(this.context.checker.getTypeAtLocation(at)) }]
    return [{ how: 'unknown' }]
  }

  /** True where a name that a type shares with a namespace means the namespace, which is no type. */
  private namesNamespace(name: ts.Identifier, symbol: ts.Symbol): boolean {
    const target = this.unaliased(symbol)
    if (!(target.flags & ts.SymbolFlags.Namespace)) return false
    // In `N.M.T` both N and M are namespaces.
    const whole = ts.isQualifiedName(name.parent) && name.parent.right === name ? name.parent : name
    if (ts.isQualifiedName(whole.parent) && whole.parent.left === whole) return !(target.flags & ts.SymbolFlags.Enum)
    return !this.inType && !(target.flags & (ts.SymbolFlags.Class | ts.SymbolFlags.Enum | ts.SymbolFlags.Variable | ts.SymbolFlags.Function))
  }

  private namesStatic(symbol: ts.Symbol | undefined): boolean {
    const declaration = symbol?.declarations?.[0]
    if (!declaration) return false
    return (ts.canHaveModifiers(declaration) && ts.getModifiers(declaration)?.some(modifier => modifier.kind === ts.SyntaxKind.StaticKeyword) === true) ||
      ts.isFunctionDeclaration(declaration) || ts.isVariableDeclaration(declaration) || (symbol!.flags & ts.SymbolFlags.Alias) !== 0
  }

  // ---- meanings

  private unaliased(symbol: ts.Symbol): ts.Symbol {
    return symbol.flags & ts.SymbolFlags.Alias ? this.context.checker.getAliasedSymbol(symbol) : symbol
  }

  private meaningOf(symbol: ts.Symbol): Meaning {
    const { meanings } = this.context
    let meaning = meanings.get(symbol)
    if (!meaning) meanings.set(symbol, meaning = this.findMeaning(symbol))
    return meaning
  }

  private findMeaning(symbol: ts.Symbol): Meaning {
    const target = this.unaliased(symbol)
    const declarations = target.declarations
    if (!declarations || declarations.length === 0) {
      return symbol.flags & ts.SymbolFlags.Alias ? { is: 'unresolved', reason: 'imported from a module that is not found' } : LOCAL
    }
    const owners: Owner[] = []
    let external: Meaning | undefined
    for (const declaration of declarations) {
      const owner = this.context.declarations.ownerOf(declaration)
      if (owner === undefined) {
        if (ts.isSourceFile(declaration) || ts.isModuleDeclaration(declaration)) return LOCAL
        const name = externalNameOf(declaration)
        if (name !== undefined) external ??= { is: 'external', name, declaration }
      } else if (owner && !owners.some(other => other.type === owner.type && other.member === owner.member)) owners.push(owner)
    }
    // Of a union the project's own count, wherever they stand: in which order the checker has them depends on what it saw before.
    if (owners.length === 0 && external) return external
    // A constant merged with a type of its name is that type.
    const types = owners.filter(owner => owner.member === '')
    return owners.length === 0 ? LOCAL : { is: 'project', owners: types.length > 0 ? types : owners, declaration: declarations[0]! }
  }

  private resolve(
    place: ts.Node, symbol: ts.Symbol | undefined, kind: ReferenceKind, typeOnly: boolean, origins: readonly Origin[] | null, use?: Use
  ): void {
    if (symbol === undefined) {
      const reason = use?.receiver ? 'its receiver has no known type' : 'no declaration found'
      this.unresolved.push({ span: this.span(place), from: this.type, inMember: this.member, name: place.getText(this.file), reason })
      return
    }
    const meaning = this.meaningOf(symbol)
    if (symbol.flags & ts.SymbolFlags.Alias && kind !== 'imports-only') this.usedImports.add(symbol)
    if (meaning.is === 'local') return
    if (meaning.is === 'unresolved') {
      this.unresolved.push({ span: this.span(place), from: this.type, inMember: this.member, name: place.getText(this.file), reason: meaning.reason })
      return
    }
    if (meaning.is === 'external') {
      if (meaning.name === RUNTIME && (typeOnly || use?.receiver)) return
      this.push(place, kind, meaning.name, this.externalMember(place, meaning), true, typeOnly, this.held(kind, origins, use && meaning.name === RUNTIME ? { ...use, staticReceiver: false } : use), use, meaning.declaration)
      return
    }
    for (const owner of meaning.owners) {
      if (owner.type === this.type) {
        const used = owner.member === '' && kind === 'creates' ? 'constructor' : owner.member
        if (used !== '' && !typeOnly && !this.inType) this.ownUses.push({ span: this.span(place), type: this.type, inMember: this.member, member: used, kind })
        continue
      }
      this.push(place, kind, owner.type, owner.member, false, typeOnly, this.held(kind, origins, use), use, meaning.declaration)
    }
  }

  private held(kind: ReferenceKind, origins: readonly Origin[] | null, use: Use | undefined): readonly Origin[] | null {
    if (this.inDefault || this.inDecorator || !use) return origins
    return this.originsFor(kind, use.receiver, use.staticReceiver)
  }

  private originsFor(kind: ReferenceKind, receiver: ts.Expression | null, staticReceiver = false): readonly Origin[] | null {
    if (kind === 'creates' || kind === 'throws') return [{ how: 'created' }]
    if (staticReceiver) return null
    if (kind === 'calls-static' || receiver === null) return [{ how: 'static' }]
    return originsOf(receiver, this.originContext)
  }

  private externalMember(place: ts.Node, meaning: { name: string }): string {
    const parent = place.parent
    const text = place.getText(this.file)
    if (meaning.name === RUNTIME && ts.isPropertyAccessExpression(parent) && parent.expression === place) return `${text}.${parent.name.text}`
    // `new Date()` asks the clock, `new Date(0)` does not.
    return ts.isNewExpression(parent) && parent.expression === place && (parent.arguments?.length ?? 0) === 0 ? `${text}()` : text
  }

  private push(
    place: ts.Node, kind: ReferenceKind, to: string, member: string, external: boolean, typeOnly: boolean,
    origins: readonly Origin[] | null, use: Use | undefined, declaration: ts.Node
  ): void {
    let receiver: string | null = null, throughAbstraction = false
    if (origins && use?.receiver && kind !== 'calls-static') {
      const type = this.context.checker.getTypeAtLocation(use.receiver)
      throughAbstraction = isAbstraction(type)
      const holder = type.symbol?.declarations?.[0]
      const owner = holder && this.context.declarations.ownerOf(holder)
      if (owner && owner.member === '' && owner.type !== to) receiver = owner.type
    }
    this.references.push({
      span: this.span(place), kind, from: this.type, inMember: this.member, to, member, external, typeOnly, origins,
      throughAbstraction, receiver, inertTarget: origins !== null && this.isInert(declaration, external, to === RUNTIME ? member : '')
    })
  }

  /** Plain constants hold nothing that a test would replace; for members the type that declares them decides. */
  private isInert(declaration: ts.Node, external: boolean, member: string): boolean {
    if (external) return isPureGlobal(member)
    if (!ts.isVariableDeclaration(declaration)) return false
    const type = this.context.checker.getTypeAtLocation(declaration)
    const plain = ts.TypeFlags.StringLike | ts.TypeFlags.NumberLike | ts.TypeFlags.BooleanLike | ts.TypeFlags.BigIntLike | ts.TypeFlags.ESSymbolLike
    return (type.flags & plain) !== 0
  }

  // ---- declarations

  private addUnitMember(node: ts.Node, name: string): void {
    if (!this.unitMembers.some(member => member.name === name)) this.unitMembers.push(unitMemberFacts(node, name, this.file, this.originContext))
  }

  private types(): TypeFacts[] {
    const types: TypeFacts[] = []
    const own = this.context.declarations.declaredIn(this.file)
    const done = new Set<string>()
    for (const node of own.keys()) {
      const declared = this.context.declarations.typeOf(node as TypeNode)!
      // A declaration merged into another file's is told there.
      if (done.has(declared.id) || this.context.pathOf(declared.node.getSourceFile()) !== this.path) continue
      done.add(declared.id)
      types.push(typeFacts(declared, this.file, this.context, this.originContext))
    }
    const needsUnit = this.unitMembers.length > 0 || this.references.some(reference => reference.from === this.unit)
    const span = { start: 0, end: this.file.end, line: 1, column: 1 }
    if (needsUnit) {
      const name = this.path.slice(this.path.lastIndexOf('/') + 1)
      const lines = Math.max(0, lineCount(this.file) - types.filter(type => type.outer === null).reduce((sum, type) => sum + type.lines, 0))
      types.push({
        id: this.unit, name, kind: 'functions', span, lines, exported: true, outer: null, members: this.unitMembers, parameters: [],
        inert: this.unitMembers.length > 0 && this.unitMembers.every(member => member.kind === 'value' && member.origins.every(origin => origin.how === 'own'))
      })
    }
    return types
  }

}

/** How a name is used: as what kind, and on which receiver. */
interface Use {
  readonly kind: ReferenceKind
  readonly receiver: ts.Expression | null
  /** True for the class in `Class.member`: the member's own reference tells how it is held. */
  readonly staticReceiver: boolean
}

function describeUse(name: ts.Node): Use {
  let at: ts.Node = name
  let receiver: ts.Expression | null = null
  if (ts.isPropertyAccessExpression(at.parent) && at.parent.name === at) { receiver = at.parent.expression; at = at.parent }
  else if (ts.isElementAccessExpression(at)) receiver = at.expression
  const staticReceiver = ts.isPropertyAccessExpression(at.parent) && at.parent.expression === at
  let inner = at
  while (ts.isParenthesizedExpression(at.parent) || ts.isNonNullExpression(at.parent) || ts.isAsExpression(at.parent)) { at = at.parent; inner = at }
  const parent = at.parent
  const as = (kind: ReferenceKind): Use => ({ kind, receiver, staticReceiver: staticReceiver && receiver === null })
  if (ts.isNewExpression(parent) && parent.expression === inner) {
    return as(ts.isThrowStatement(parent.parent) ? 'throws' : 'creates')
  }
  if ((ts.isCallExpression(parent) && parent.expression === inner) || (ts.isTaggedTemplateExpression(parent) && parent.tag === inner)) return as('calls')
  if (ts.isJsxOpeningLikeElement(parent) && parent.tagName === inner) return as('calls')
  if (ts.isBinaryExpression(parent)) {
    const operator = parent.operatorToken.kind
    if (parent.left === inner && operator >= ts.SyntaxKind.FirstAssignment && operator <= ts.SyntaxKind.LastAssignment) return as('writes')
    if (parent.right === inner && operator === ts.SyntaxKind.InstanceOfKeyword && ts.findAncestor(parent, ts.isCatchClause)) return as('catches')
  }
  if ((ts.isPrefixUnaryExpression(parent) || ts.isPostfixUnaryExpression(parent)) &&
    (parent.operator === ts.SyntaxKind.PlusPlusToken || parent.operator === ts.SyntaxKind.MinusMinusToken)) return as('writes')
  return as('reads')
}

function isDeclarationName(name: ts.Node): boolean {
  const parent = name.parent as ts.NamedDeclaration
  if (parent.name !== name) return false
  return !ts.isPropertyAccessExpression(parent) && !ts.isShorthandPropertyAssignment(parent) && !ts.isExportSpecifier(parent) &&
    !ts.isMetaProperty(parent) && !ts.isImportSpecifier(parent)
}

function isAssignmentTarget(literal: ts.Node): boolean {
  return ts.isBinaryExpression(literal.parent) && literal.parent.left === literal && literal.parent.operatorToken.kind === ts.SyntaxKind.EqualsToken
}

function isTypeHolder(node: ts.VariableDeclaration): boolean {
  return node.initializer !== undefined && ts.isClassExpression(node.initializer)
}

function lineCount(file: ts.SourceFile): number {
  const starts = file.getLineStarts().length
  return file.text.endsWith('\n') ? starts - 1 : starts
}
