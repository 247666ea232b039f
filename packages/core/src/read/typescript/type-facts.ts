import ts from 'typescript'
import type { MemberFacts, MemberKind, Origin, ParameterFacts, Span, TypeFacts } from '../../model/facts.js'
import type { Declarations, DeclaredType, TypeNode } from './declarations.js'
import { isTypeNode, kindOf, memberName, symbolOf } from './declarations.js'
import { isInertType } from './inert.js'
import { hasLogic, refusesToWork, statementsOf } from './logic.js'
import type { OriginContext } from './origins.js'
import { fieldOrigins, isAbstraction, originsOf } from './origins.js'

/** What the facts of a type need to know of the program around it. */
export interface TypeContext {
  readonly checker: ts.TypeChecker
  readonly declarations: Declarations
  readonly inert: Map<ts.Symbol, boolean>
}

/** The facts of a type as far as `file` declares it. */
export function typeFacts(declared: DeclaredType, file: ts.SourceFile, context: TypeContext, origins: OriginContext): TypeFacts {
  const symbol = symbolOf(declared.node)
  const all = symbol?.declarations?.filter(isTypeNode) ?? [declared.node]
  const nodes = all.length > 0 ? all : [declared.node]
  const lines = nodes.filter(node => node.getSourceFile() === file).reduce((sum, node) => sum + linesOf(node, file), 0)
  const constructor = constructorOf(nodes.filter(ts.isClassLike), context)
  return {
    id: declared.id, name: declared.name, kind: kindOf(nodes), span: spanOf(declared.node.name ?? declared.node, file), lines,
    exported: isExported(declared.node), inert: symbol ? isInertType(symbol, context.checker, context.inert) : false,
    outer: declared.outer, members: nodes.flatMap(node => membersOf(node, context, origins)),
    parameters: constructor ? parametersOf(constructor, context, origins) : []
  }
}

/** The facts of a function or value at the top of a file. */
export function unitMemberFacts(node: ts.Node, name: string, file: ts.SourceFile, context: OriginContext): MemberFacts {
  const callable = ts.isFunctionDeclaration(node) ? node
    : ts.isVariableDeclaration(node) && node.initializer && (ts.isArrowFunction(node.initializer) || ts.isFunctionExpression(node.initializer)) ? node.initializer
      : undefined
  const statement = ts.isVariableDeclaration(node) ? node.parent.parent : node
  const exported = ts.isExportAssignment(node) || (ts.canHaveModifiers(statement) &&
    ts.getModifiers(statement)?.some(modifier => modifier.kind === ts.SyntaxKind.ExportKeyword) === true)
  return {
    name, kind: callable ? 'function' : 'value', span: spanOf(node, file), public: exported, static: true, abstract: false,
    logic: callable?.body !== undefined && hasLogic(callable.body), hasBody: callable?.body !== undefined,
    origins: ts.isVariableDeclaration(node) && node.initializer && !callable ? originsOf(node.initializer, context) : [],
    signature: callable ? signatureOf(callable) : '', refuses: false, lines: linesOf(node, file), calledFromOutside: false,
    mutable: ts.isVariableDeclaration(node) && ts.isVariableDeclarationList(node.parent) && (node.parent.flags & ts.NodeFlags.Const) === 0
  }
}

function spanOf(node: ts.Node, file: ts.SourceFile): Span {
  const start = node.getStart(file)
  const { line, character } = file.getLineAndCharacterOfPosition(start)
  return { start, end: node.end, line: line + 1, column: character + 1 }
}

function linesOf(node: ts.Node, file: ts.SourceFile): number {
  return file.getLineAndCharacterOfPosition(node.end).line - file.getLineAndCharacterOfPosition(node.getStart(file)).line + 1
}

function membersOf(node: TypeNode, context: TypeContext, originContext: OriginContext): MemberFacts[] {
  const file = node.getSourceFile()
  const facts: MemberFacts[] = []
  const outside = ts.isClassLike(node) ? membersOfExternalBases(node, context) : new Set<string>()
  const inFramework = ts.isClassLike(node) && extendsExternal(node, context)
  const add = (member: ts.Node, kind: MemberKind, origins: readonly Origin[]) => {
    const name = memberName(member)
    const initial = ts.isPropertyDeclaration(member) ? member.initializer : undefined
    // A field that holds a function is run when it is called, not when its object is made.
    const callable = initial && (ts.isArrowFunction(initial) || ts.isFunctionExpression(initial)) ? initial : member as ts.FunctionLikeDeclaration
    const body = callable.body ?? undefined
    const modifiers = ts.canHaveModifiers(member) ? ts.getModifiers(member) ?? [] : []
    const has = (kinds: readonly ts.SyntaxKind[]) => modifiers.some(modifier => kinds.includes(modifier.kind))
    const start = ((member as ts.NamedDeclaration).name ?? member).getStart(file)
    const at = file.getLineAndCharacterOfPosition(start)
    const hidden = has([ts.SyntaxKind.PrivateKeyword, ts.SyntaxKind.ProtectedKeyword]) || name.startsWith('#')
    facts.push({
      name, kind, span: { start, end: member.end, line: at.line + 1, column: at.character + 1 }, public: !hidden,
      static: has([ts.SyntaxKind.StaticKeyword]), abstract: has([ts.SyntaxKind.AbstractKeyword]),
      logic: body !== undefined && hasLogic(body), hasBody: body !== undefined, origins,
      signature: kind === 'method' ? signatureOf(callable) : '', refuses: kind === 'method' && body !== undefined && refusesToWork(body),
      lines: linesOf(member, file), mutable: kind === 'field' && !has([ts.SyntaxKind.ReadonlyKeyword]), calledFromOutside: outside.has(name),
      ...(inFramework && body !== undefined ? { statements: statementsOf(body).map(one => spanOf(one, file)) } : {})
    })
  }
  if (ts.isEnumDeclaration(node)) for (const member of node.members) add(member, 'value', [])
  else if (ts.isClassLike(node)) {
    const origins = fieldOrigins(node, originContext)
    for (const member of node.members) {
      if (ts.isConstructorDeclaration(member)) {
        if (member.body) add(member, 'constructor', [])
        for (const parameter of member.parameters) {
          if (ts.isParameterPropertyDeclaration(parameter, member)) add(parameter, 'field', origins.get(memberName(parameter)) ?? [])
        }
      } else if (ts.isPropertyDeclaration(member)) add(member, 'field', origins.get(memberName(member)) ?? [])
      else if (ts.isMethodDeclaration(member)) { if (member.body || !facts.some(fact => fact.name === memberName(member))) add(member, 'method', []) }
      else if (ts.isGetAccessor(member)) add(member, 'getter', [])
      else if (ts.isSetAccessor(member)) add(member, 'setter', [])
    }
  } else {
    let literal: ts.Node = node
    if (ts.isTypeAliasDeclaration(node)) {
      literal = node.type
      while (ts.isParenthesizedTypeNode(literal)) literal = literal.type
    }
    const members = ts.isInterfaceDeclaration(literal) || ts.isTypeLiteralNode(literal) ? literal.members : []
    for (const member of members) {
      if (!member.name || facts.some(fact => fact.name === memberName(member))) continue
      const kind = ts.isMethodSignature(member) ? 'method' : ts.isGetAccessor(member) ? 'getter' : ts.isSetAccessor(member) ? 'setter' : 'field'
      add(member, kind, [])
    }
  }
  return facts
}

function extendsExternal(node: ts.ClassLikeDeclaration, { checker, declarations }: TypeContext): boolean {
  const base = node.heritageClauses?.find(clause => clause.token === ts.SyntaxKind.ExtendsKeyword)?.types[0]
  const declared = base && checker.getTypeAtLocation(base).symbol?.declarations
  return declared !== undefined && declared.every(declaration => declarations.ownerOf(declaration) === undefined)
}

/** Names of members that a class has from bases outside the project. */
function membersOfExternalBases(node: ts.ClassLikeDeclaration, { checker, declarations }: TypeContext): Set<string> {
  const names = new Set<string>()
  for (const clause of node.heritageClauses ?? []) {
    for (const heritage of clause.types) {
      for (const property of checker.getTypeAtLocation(heritage).getProperties()) {
        if (property.declarations?.some(declaration => declarations.ownerOf(declaration) === undefined)) names.add(property.name)
      }
    }
  }
  return names
}

/** The constructor that builds a class: its own, else the one that it inherits from a class of the project. */
export function constructorOf(nodes: readonly ts.ClassLikeDeclaration[], context: Pick<TypeContext, 'checker' | 'declarations'>): ts.ConstructorDeclaration | undefined {
  const { checker, declarations } = context, seen = new Set<ts.Node>()
  for (let at = nodes; at.length > 0 && !seen.has(at[0]!);) {
    seen.add(at[0]!)
    const own = at.flatMap(node => node.members.filter(ts.isConstructorDeclaration)).find(member => member.body)
    if (own) return own
    const base = at.flatMap(node => node.heritageClauses?.find(one => one.token === ts.SyntaxKind.ExtendsKeyword)?.types ?? [])[0]?.expression
    const named = base && checker.getSymbolAtLocation(base), symbol = named && named.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(named) : named
    at = symbol?.declarations?.filter(ts.isClassLike).filter(one => declarations.ownerOf(one) !== undefined) ?? []
  }
  return undefined
}

function parametersOf(constructor: ts.ConstructorDeclaration, { checker, declarations, inert }: TypeContext, origins: OriginContext): ParameterFacts[] {
  return constructor.parameters.map(parameter => {
    const type = checker.getNonNullableType(checker.getTypeAtLocation(parameter))
    const declaration = (type.aliasSymbol?.declarations ?? type.symbol?.declarations)?.find(one => isTypeNode(one)) ?? type.symbol?.declarations?.[0]
    const owner = declaration && declarations.ownerOf(declaration)
    const symbol = declaration && symbolOf(declaration)
    const isData = !type.symbol || (owner !== undefined && owner !== null && symbol !== undefined && isInertType(symbol, checker, inert))
    const external = owner === undefined && declaration !== undefined && isTypeNode(declaration) ? origins.nameOfHolder(declaration) ?? '' : ''
    return {
      name: ts.isIdentifier(parameter.name) ? parameter.name.text : '', type: owner?.type ?? (external === 'runtime' ? '' : external), text: textOfType(parameter.type),
      kind: isData || external === 'runtime' ? 'data' : isAbstraction(type) ? 'abstraction' : owner || external !== '' ? 'class' : 'data',
      optional: parameter.questionToken !== undefined || parameter.initializer !== undefined
    }
  })
}

function textOfType(node: ts.TypeNode | undefined): string { return node ? node.getText().replace(/\s+/g, ' ') : '' }

function signatureOf(node: ts.SignatureDeclaration): string {
  return `(${node.parameters?.map(parameter => textOfType(parameter.type)).join(',') ?? ''})=>${textOfType(node.type)}`
}

function isExported(node: TypeNode): boolean {
  const statement = ts.isClassExpression(node) && ts.isVariableDeclaration(node.parent) ? node.parent.parent.parent : node
  return ts.canHaveModifiers(statement) && ts.getModifiers(statement)?.some(modifier => modifier.kind === ts.SyntaxKind.ExportKeyword) === true
}
