import ts from 'typescript'
import type { Blame, Narrowable } from '../../write/narrow-wherever-allowed.js'
import type { Snapshot } from '../session.js'

/** A place in the code as it is where a class stands as a type. */
export interface Annotation extends Narrowable {
  readonly file: ts.SourceFile
  /** The name that would be replaced. */
  readonly name: ts.Identifier
}

/** Every place where the name of a class or interface is used as a type, its own body included; `typeof` and heritage are no such places. */
export function annotationsOf(classNode: ts.ClassLikeDeclaration | ts.InterfaceDeclaration, snapshot: Snapshot): Annotation[] {
  const { checker } = snapshot
  const symbol = classNode.name ? checker.getSymbolAtLocation(classNode.name) : undefined
  if (!symbol) return []
  const found: Annotation[] = []
  for (const [file, path] of snapshot.paths) {
    if (!mentions(file, symbol.name) && !importsRenamed(file)) continue
    const visit = (node: ts.Node): void => {
      if (ts.isTypeReferenceNode(node) && ts.isIdentifier(node.typeName) && meansSymbol(node.typeName, symbol, checker)) {
        found.push({ path, key: `${path}:${node.typeName.getStart()}`, file, name: node.typeName })
      }
      ts.forEachChild(node, visit)
    }
    visit(file)
  }
  return found.sort((a, b) => (a.path < b.path ? -1 : a.path > b.path ? 1 : a.name.pos - b.name.pos))
}

export function meansSymbol(name: ts.Node, symbol: ts.Symbol, checker: ts.TypeChecker): boolean {
  const found = checker.getSymbolAtLocation(name)
  return found === symbol || (found !== undefined && (found.flags & ts.SymbolFlags.Alias) !== 0 && checker.getAliasedSymbol(found) === symbol)
}

/** True where the file holds the name at all: saves walking files that cannot matter. */
export function mentions(file: ts.SourceFile, name: string): boolean {
  return name === 'default' || file.text.includes(name)
}

/** Files that import under another name, or a default, may mean a class without writing its name. */
export function importsRenamed(file: ts.SourceFile): boolean {
  return /\bas\s|import\s+[\w$]+/.test(file.text)
}

/**
 * The annotations behind an error in the changed text: those in the declarations of the names that the erroneous
 * expression mentions, first closely, then in wider circles. Never empty while `active` is not.
 */
export function annotationsBehind(
  diagnostic: Pick<ts.Diagnostic, 'file' | 'start' | 'length'>, after: Snapshot, active: ReadonlyMap<string, Narrowable>, keyAt: (file: ts.SourceFile, start: number) => string | undefined
): Blame {
  const file = diagnostic.file
  const around = (keys: readonly string[]): Blame => ({ keys: [...new Set(keys)], close: false })
  if (!file || diagnostic.start === undefined) return around([...active.keys()])
  const { checker } = after
  const within = (node: ts.Node): string[] => {
    const keys: string[] = []
    const visit = (at: ts.Node): void => {
      if (ts.isIdentifier(at)) {
        const key = keyAt(at.getSourceFile(), at.getStart())
        if (key !== undefined && active.has(key)) keys.push(key)
      }
      ts.forEachChild(at, visit)
    }
    visit(node)
    return keys
  }
  /** Annotations in what a declaration shows: types of variables, parameters, fields and results, not bodies. */
  const shown = (declaration: ts.Node, depth: number): string[] => {
    const keys: string[] = []
    const typed = declaration as { type?: ts.TypeNode; parameters?: readonly ts.ParameterDeclaration[]; initializer?: ts.Expression; typeParameters?: readonly ts.Node[] }
    if (typed.type) keys.push(...within(typed.type))
    for (const parameter of typed.parameters ?? []) if (parameter.type) keys.push(...within(parameter.type))
    for (const parameter of typed.typeParameters ?? []) keys.push(...within(parameter))
    if (keys.length > 0 || depth === 0) return keys
    if (!typed.type && typed.initializer) keys.push(...named(typed.initializer, depth - 1))
    if (ts.isParameter(declaration) && !declaration.type) {
      const call = ts.findAncestor(declaration, at => ts.isCallExpression(at) || ts.isNewExpression(at))
      if (call) keys.push(...named((call as ts.CallExpression).expression, depth - 1))
    }
    if (ts.isVariableDeclaration(declaration) && ts.isForOfStatement(declaration.parent.parent)) keys.push(...named(declaration.parent.parent.expression, depth - 1))
    if (ts.isBindingElement(declaration)) {
      let at: ts.Node = declaration
      while (ts.isBindingElement(at) || ts.isObjectBindingPattern(at) || ts.isArrayBindingPattern(at)) at = at.parent
      keys.push(...shown(at, depth - 1))
    }
    if (ts.isFunctionLike(declaration) && (declaration as ts.FunctionLikeDeclaration).body && !typed.type) {
      // An inferred result comes from what is returned.
      const visit = (at: ts.Node): void => {
        if (ts.isReturnStatement(at) && at.expression) keys.push(...named(at.expression, depth - 1))
        else if (!ts.isFunctionLike(at)) ts.forEachChild(at, visit)
      }
      const { body } = declaration as ts.FunctionLikeDeclaration
      if (body && ts.isBlock(body)) ts.forEachChild(body, visit)
      else if (body) keys.push(...named(body, depth - 1))
    }
    return keys
  }
  const named = (node: ts.Node, depth: number): string[] => {
    const keys = within(node)
    const visit = (at: ts.Node): void => {
      if (ts.isIdentifier(at)) {
        const symbol = checker.getSymbolAtLocation(at)
        for (const declaration of symbol?.declarations ?? []) keys.push(...shown(declaration, depth))
      }
      ts.forEachChild(at, visit)
    }
    visit(node)
    return keys
  }
  let node: ts.Node = tokenAt(file, diagnostic.start)
  if (!ts.isSourceFile(node) && ts.isPropertyAccessExpression(node.parent) && node.parent.name === node) node = node.parent
  // The smallest node that covers the whole span.
  const end = diagnostic.start + (diagnostic.length ?? 0)
  while (node.parent && node.end < end) node = node.parent
  for (let depth = 2; node && !ts.isSourceFile(node); node = node.parent) {
    const keys = named(node, depth)
    if (keys.length > 0) return { keys: [...new Set(keys)], close: depth === 2 }
    if (ts.isStatement(node) || ts.isClassElement(node)) {
      const owner = ts.findAncestor(node, at => ts.isFunctionLike(at))
      const signature = owner ? shown(owner, 1) : []
      if (signature.length > 0) return around(signature)
      depth = 4
    }
    if (ts.isClassLike(node)) {
      const inClass = within(node)
      if (inClass.length > 0) return around(inClass)
    }
  }
  const inFile = within(file)
  return around(inFile.length > 0 ? inFile : [...active.keys()])
}

function tokenAt(file: ts.SourceFile, position: number): ts.Node {
  let found: ts.Node = file
  const visit = (node: ts.Node): void => {
    if (node.getStart(file) <= position && position < node.end) { found = node; ts.forEachChild(node, visit) }
  }
  ts.forEachChild(file, visit)
  return found
}
