import ts from 'typescript'
import type {
  FileFacts, MemberFacts, Origin, OwnUseFacts, ReferenceFacts, ReferenceKind, Span, TypeSwitchFacts, UnresolvedFacts
} from '../../model/facts.js'
import type { Declarations, TypeNode } from './declarations.js'
import { isTypeHolder, isTypeNode, memberHolder, memberName, unitMemberName } from './declarations.js'
import { externalNameOf, RUNTIME } from './externals.js'
import { lineCount, syntaxProblems, typesOfFile } from './file-types.js'
import type { OriginContext } from './origins.js'
import { isAbstraction, originsOfUse, patternOrigins } from './origins.js'
import type { Meaning } from './meanings.js'
import { Meanings, namesStatic } from './meanings.js'
import type { Use } from './name-use.js'
import { describeUse, externalMember, isAssignmentTarget, isDeclarationName, isImportedAsType, propertiesMeant } from './name-use.js'
import { overridesOf } from './overrides.js'
import { unitMemberFacts } from './type-facts.js'
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
  private readonly meanings: Meanings

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
    this.meanings = new Meanings(context.checker, context.declarations, context.meanings)
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
    const types = typesOfFile(file, this.path, this.unitMembers, this.references.some(reference => reference.from === this.unit), this.context, this.originContext)
    return {
      path: this.path, language: 'typescript', module: null, lines: lineCount(file), test: this.context.isTest(this.path),
      types, references: this.references.sort((a, b) => a.span.start - b.span.start), ownUses: this.ownUses,
      typeSwitches: this.typeSwitches, overrides: this.overrides, unresolved: this.unresolved, problems: syntaxProblems(file, this.context.program)
    }
  }

  private span(node: ts.Node): Span {
    const start = node.getStart(this.file)
    const { line, character } = this.file.getLineAndCharacterOfPosition(start)
    return { start, end: node.end, line: line + 1, column: character + 1 }
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
    if (found) this.typeSwitches.push({ span: this.span(node), type: this.type, inMember: this.member, word: ts.isSwitchStatement(node) ? 'switch' : 'if', ...found })
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
    if (ts.isClassLike(node) || ts.isInterfaceDeclaration(node)) this.overrides.push(...overridesOf(node, declared, this.context.checker, this.context.declarations))
    this.type = beforeType
    this.member = beforeMember
    this.inType = beforeIn
    this.inTypeArgument = beforeArgument
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
      this.fromUnit(() => this.resolve(name, symbol, 'imports-only', node.isTypeOnly || element.isTypeOnly || this.meanings.isOnlyType(symbol), null))
    }
  }

  private addUnusedImports(): void {
    for (const name of this.importNames) {
      const symbol = this.context.checker.getSymbolAtLocation(name)
      if (symbol && this.usedImports.has(symbol)) continue
      const typeOnly = this.meanings.isOnlyType(symbol) || isImportedAsType(name)
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

  // ---- names

  private symbolAt(name: ts.Node): ts.Symbol | undefined {
    return this.context.checker.getSymbolAtLocation(name)
  }

  private visitName(name: ts.Identifier): void {
    const parent = name.parent
    if (isDeclarationName(name)) {
      if (ts.isBindingElement(parent) && parent.name === name && !parent.propertyName && ts.isObjectBindingPattern(parent.parent)) {
        const property = this.context.checker.getTypeAtLocation(parent.parent).getProperty(name.text)
        if (property) this.resolve(name, property, 'reads', false, this.inDefault ? null : patternOrigins(parent, this.originContext))
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
      if (property) this.resolve(name, property, 'reads', false, this.inDefault ? null : patternOrigins(parent, this.originContext))
      return
    }
    if (name.text === 'const' && ts.isTypeReferenceNode(parent)) return
    const symbol = this.symbolAt(name)
    if (symbol === undefined && name.text === 'arguments') return
    if (symbol && this.meanings.namesNamespace(name, symbol, this.inType)) {
      if (symbol.flags & ts.SymbolFlags.Alias) this.usedImports.add(symbol)
      return
    }
    if (this.inType) {
      // `x is T` and `asserts x` name a parameter; type parameters and locals fall out by themselves.
      this.resolve(name, symbol, this.inTypeArgument ? 'type-argument' : 'signature', true, null)
      return
    }
    const use = describeUse(name)
    const isStatic = use.receiver === null || namesStatic(symbol)
    const kind = this.inDecorator ? 'annotates' : use.kind === 'calls' && isStatic ? 'calls-static' : use.kind
    this.resolve(name, symbol, kind, false, null, use)
  }

  private visitLiteralName(literal: ts.StringLiteralLike): void {
    const parent = literal.parent
    if (ts.isElementAccessExpression(parent) && parent.argumentExpression === literal) {
      const symbol = this.symbolAt(literal)
      const use = describeUse(parent)
      if (symbol) this.resolve(literal, symbol, use.kind, false, this.inDefault ? null : originsOfUse(use.kind, parent.expression, false, this.originContext), undefined)
    } else if (ts.isLiteralTypeNode(parent) && ts.isIndexedAccessTypeNode(parent.parent)) {
      const symbol = this.symbolAt(literal)
      if (symbol) this.resolve(literal, symbol, 'signature', true, null)
    } else if (ts.isPropertyAssignment(parent) && parent.name === literal && ts.isObjectLiteralExpression(parent.parent)) {
      this.resolveInLiteral(literal, parent.parent)
    }
  }

  /** The properties that a name in an object literal fills, or reads where the literal takes an object apart. */
  private resolveInLiteral(name: ts.Identifier | ts.StringLiteralLike, literal: ts.ObjectLiteralExpression): void {
    for (const property of propertiesMeant(name, literal, this.context.checker)) this.resolve(name, property, isAssignmentTarget(literal) ? 'reads' : 'writes', false, null)
  }

  private resolve(
    place: ts.Node, symbol: ts.Symbol | undefined, kind: ReferenceKind, typeOnly: boolean, origins: readonly Origin[] | null, use?: Use
  ): void {
    if (symbol === undefined) {
      const reason = use?.receiver ? 'its receiver has no known type' : 'no declaration found'
      this.unresolved.push({ span: this.span(place), from: this.type, inMember: this.member, name: place.getText(this.file), reason })
      return
    }
    const meaning = this.meanings.of(symbol)
    if (symbol.flags & ts.SymbolFlags.Alias && kind !== 'imports-only') this.usedImports.add(symbol)
    if (meaning.is === 'local') return
    if (meaning.is === 'unresolved') {
      this.unresolved.push({ span: this.span(place), from: this.type, inMember: this.member, name: place.getText(this.file), reason: meaning.reason })
      return
    }
    if (meaning.is === 'external') {
      if (meaning.name === RUNTIME && (typeOnly || use?.receiver)) return
      this.push(place, kind, meaning.name, externalMember(place, meaning.name, this.file), true, typeOnly, this.held(kind, origins, use && meaning.name === RUNTIME ? { ...use, staticReceiver: false } : use), use, meaning.declaration)
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
    return originsOfUse(kind, use.receiver, use.staticReceiver, this.originContext)
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
      throughAbstraction, receiver, inertTarget: origins !== null && this.meanings.isInert(declaration, external, to === RUNTIME ? member : '')
    })
  }

  // ---- declarations

  private addUnitMember(node: ts.Node, name: string): void {
    if (!this.unitMembers.some(member => member.name === name)) this.unitMembers.push(unitMemberFacts(node, name, this.file, this.originContext))
  }
}
