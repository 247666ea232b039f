import ts from 'typescript'
import type { TypeKind } from '../../model/facts.js'
import { compareText } from '../../model/order.js'

export type TypeNode = ts.ClassLikeDeclaration | ts.InterfaceDeclaration | ts.EnumDeclaration | ts.TypeAliasDeclaration

/** What a declaration belongs to: a type of the project, with the member it is (or '' where it is the type itself). */
export interface Owner {
  readonly type: string
  readonly member: string
}

/** Names of the declarations of one file, in source order. */
export interface DeclaredType {
  readonly id: string
  readonly name: string
  readonly node: TypeNode
  /** Id of what it is nested in, or null at the top. */
  readonly outer: string | null
}

export function isTypeNode(node: ts.Node): node is TypeNode {
  return ts.isClassLike(node) || ts.isInterfaceDeclaration(node) || ts.isEnumDeclaration(node) ||
    (ts.isTypeAliasDeclaration(node) && isStructural(node.type))
}

/** An alias of an object or function type is a type of its own; other aliases are values of the file's unit. */
function isStructural(type: ts.TypeNode): boolean {
  while (ts.isParenthesizedTypeNode(type)) type = type.type
  return ts.isTypeLiteralNode(type) || ts.isFunctionTypeNode(type) || ts.isConstructorTypeNode(type)
}

/** Gives ids to the types of a program's files and tells what any declaration belongs to. */
export class Declarations {
  private readonly byFile = new Map<ts.SourceFile, ReadonlyMap<ts.Node, DeclaredType>>()
  private readonly merged = new Map<ts.Symbol, DeclaredType>()
  private readonly owners = new Map<ts.Node, Owner | null>()

  constructor(
    private readonly checker: ts.TypeChecker,
    /** Path from the root of a file that is read, or undefined for one outside. */
    private readonly pathOf: (file: ts.SourceFile) => string | undefined
  ) {}

  /** The types that a file declares, in source order, each under its own (not merged) id. */
  declaredIn(file: ts.SourceFile): ReadonlyMap<ts.Node, DeclaredType> {
    let declared = this.byFile.get(file)
    if (declared) return declared
    const path = this.pathOf(file)!
    const found = new Map<ts.Node, DeclaredType>()
    const repeats = new Map<string, number>()
    const symbols = new Map<ts.Symbol, DeclaredType>()
    const visit = (node: ts.Node, prefix: string, outer: string | null, functionName: string | null): void => {
      if (isTypeNode(node)) {
        const symbol = symbolOf(node)
        const known = symbol && symbols.get(symbol)
        const name = typeName(node)
        if (known) found.set(node, { ...known, node })
        else {
          const base = `${path}#${prefix}${functionName && prefix === '' ? `${functionName}.` : ''}${name}`
          const times = (repeats.get(base) ?? 0) + 1
          repeats.set(base, times)
          const type = { id: times === 1 ? base : `${base}~${times}`, name: name === 'default' ? fileStem(path) : name, node, outer: outer ?? (functionName ? `${path}#` : null) }
          found.set(node, type)
          if (symbol) symbols.set(symbol, type)
        }
        if (ts.isClassLike(node)) {
          const id = found.get(node)!.id
          ts.forEachChild(node, child => visit(child, id.slice(path.length + 1) + '.', id, null))
        }
        return
      }
      if (ts.isModuleDeclaration(node)) {
        const name = ts.isStringLiteral(node.name) ? '' : `${node.name.text}.`
        if (node.body) ts.forEachChild(node.body, child => visit(child, prefix + name, outer, functionName))
        return
      }
      const named = outer === null && functionName === null ? functionNameOf(node) : null
      ts.forEachChild(node, child => visit(child, prefix, outer, functionName ?? named))
    }
    ts.forEachChild(file, node => visit(node, '', null, null))
    declared = found
    this.byFile.set(file, declared)
    return declared
  }

  /** The type that a declaration of one stands for: merged declarations are one type, at the first by path. */
  typeOf(node: TypeNode): DeclaredType | undefined {
    const symbol = symbolOf(node)
    const canonical = symbol && this.merged.get(symbol)
    if (canonical) return canonical
    const file = node.getSourceFile()
    if (this.pathOf(file) === undefined) return undefined
    const own = this.declaredIn(file).get(node)
    if (!own || !symbol) return own
    const all = mergedSymbol(this.checker, symbol).declarations?.filter(isTypeNode) ?? []
    let first: DeclaredType = own, firstPath = this.pathOf(file)!, firstStart = node.pos
    for (const other of all) {
      const path = this.pathOf(other.getSourceFile())
      if (path === undefined) continue
      const order = compareText(path, firstPath) || other.pos - firstStart
      if (order < 0) { first = this.declaredIn(other.getSourceFile()).get(other) ?? first; firstPath = path; firstStart = other.pos }
    }
    this.merged.set(symbol, first)
    return first
  }

  /**
   * What a declaration belongs to; null for what is no type and no member: locals, parameters, properties of anonymous
   * object types, whole modules. Undefined for declarations outside the files that are read.
   */
  ownerOf(declaration: ts.Node): Owner | null | undefined {
    const known = this.owners.get(declaration)
    if (known !== undefined) return known
    const path = this.pathOf(declaration.getSourceFile())
    if (path === undefined) return undefined
    const owner = this.findOwner(declaration, path)
    this.owners.set(declaration, owner)
    return owner
  }

  private findOwner(declaration: ts.Node, path: string): Owner | null {
    if (isTypeNode(declaration)) {
      const type = this.typeOf(declaration)
      return type ? { type: type.id, member: '' } : null
    }
    const holder = memberHolder(declaration)
    if (holder) {
      const type = this.typeOf(holder)
      return type ? { type: type.id, member: memberName(declaration) } : null
    }
    const unit = unitMemberName(declaration)
    return unit === null ? null : { type: `${path}#`, member: unit }
  }
}

/** The class, interface, enum or aliased object type that a declaration is a member of. */
export function memberHolder(declaration: ts.Node): TypeNode | undefined {
  const parent = declaration.parent
  if (!parent) return undefined
  if (ts.isParameter(declaration)) {
    return ts.isParameterPropertyDeclaration(declaration, parent) ? parent.parent as ts.ClassLikeDeclaration : undefined
  }
  if (ts.isClassElement(declaration) && ts.isClassLike(parent)) return parent
  if (ts.isTypeElement(declaration) && ts.isInterfaceDeclaration(parent)) return parent
  if (ts.isEnumMember(declaration)) return parent as ts.EnumDeclaration
  if (ts.isTypeElement(declaration) && ts.isTypeLiteralNode(parent)) {
    let at: ts.Node = parent.parent
    while (ts.isParenthesizedTypeNode(at)) at = at.parent
    return ts.isTypeAliasDeclaration(at) && isTypeNode(at) ? at : undefined
  }
  return undefined
}

export function memberName(declaration: ts.Node): string {
  if (ts.isConstructorDeclaration(declaration)) return 'constructor'
  const name = (declaration as ts.NamedDeclaration).name
  if (!name) return ''
  return ts.isComputedPropertyName(name) ? name.getText() : (name as ts.Identifier).text ?? name.getText()
}

/** Name under which something stands at the top of a file (namespaces included), or null for what does not. */
export function unitMemberName(declaration: ts.Node): string | null {
  if (ts.isBindingElement(declaration)) {
    let at: ts.Node = declaration
    while (ts.isBindingElement(at) || ts.isObjectBindingPattern(at) || ts.isArrayBindingPattern(at)) at = at.parent
    return ts.isVariableDeclaration(at) && isTopLevel(at.parent.parent) && ts.isIdentifier(declaration.name)
      ? namespacePrefix(at.parent.parent) + declaration.name.text : null
  }
  if (ts.isVariableDeclaration(declaration)) {
    const statement = declaration.parent.parent
    return ts.isVariableStatement(statement) && isTopLevel(statement) && ts.isIdentifier(declaration.name)
      ? namespacePrefix(statement) + declaration.name.text : null
  }
  if ((ts.isFunctionDeclaration(declaration) || ts.isTypeAliasDeclaration(declaration)) && isTopLevel(declaration)) {
    return namespacePrefix(declaration) + (declaration.name?.text ?? 'default')
  }
  if (ts.isExportAssignment(declaration)) return 'default'
  return null
}

function isTopLevel(statement: ts.Node): boolean {
  return ts.isSourceFile(statement.parent) || ts.isModuleBlock(statement.parent)
}

function namespacePrefix(statement: ts.Node): string {
  let prefix = ''
  for (let at = statement.parent; at && !ts.isSourceFile(at); at = at.parent) {
    if (ts.isModuleDeclaration(at) && ts.isIdentifier(at.name)) prefix = `${at.name.text}.${prefix}`
  }
  return prefix
}

function functionNameOf(node: ts.Node): string | null {
  if (ts.isFunctionDeclaration(node)) return node.name?.text ?? 'default'
  if (ts.isVariableDeclaration(node) && ts.isIdentifier(node.name) && node.initializer && !ts.isClassExpression(node.initializer)) {
    return node.name.text
  }
  return null
}

function typeName(node: TypeNode): string {
  if (node.name) return node.name.text
  const parent = node.parent
  if (ts.isVariableDeclaration(parent) && ts.isIdentifier(parent.name)) return parent.name.text
  if (ts.isPropertyAssignment(parent) && ts.isIdentifier(parent.name)) return parent.name.text
  return 'default'
}

function fileStem(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1).replace(/\.[^.]+$/, '')
}

export function symbolOf(node: ts.Node): ts.Symbol | undefined {
  return (node as ts.Node & { symbol?: ts.Symbol }).symbol
}

export function mergedSymbol(checker: ts.TypeChecker, symbol: ts.Symbol): ts.Symbol {
  return (checker as ts.TypeChecker & { getMergedSymbol(symbol: ts.Symbol): ts.Symbol }).getMergedSymbol(symbol)
}

export function kindOf(nodes: readonly TypeNode[]): TypeKind {
  const node = nodes.find(ts.isClassLike) ?? nodes[0]!
  if (ts.isClassLike(node)) {
    return node.modifiers?.some(modifier => modifier.kind === ts.SyntaxKind.AbstractKeyword) ? 'abstract-class' : 'class'
  }
  return ts.isInterfaceDeclaration(node) ? 'interface' : ts.isEnumDeclaration(node) ? 'enum' : 'alias'
}

/** Whether a variable only names a class that stands in its initialiser. */
export function isTypeHolder(node: ts.VariableDeclaration): boolean {
  return node.initializer !== undefined && ts.isClassExpression(node.initializer)
}
