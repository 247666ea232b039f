import ts from 'typescript'
import { memberName } from '../declarations.js'
import type { Snapshot } from '../session.js'
import type { TypeWriter } from './written-type.js'

/** A member of a class that an interface can have, with all its declarations (overloads, getter and setter). */
export interface PublicMember {
  readonly name: string
  readonly nodes: readonly (ts.ClassElement | ts.ParameterPropertyDeclaration)[]
  /** The property of the class's instances. */
  readonly symbol: ts.Symbol
  /** True for members that a base class of the project declares. */
  readonly inherited: boolean
}

/** The public instance members of a class, its own first, then those that its base classes in the project declare. */
export function publicMembers(node: ts.ClassLikeDeclaration, snapshot: Snapshot): PublicMember[] {
  const members = new Map<string, { nodes: PublicMember['nodes'][number][]; inherited: boolean; symbol: ts.Symbol }>()
  for (const property of snapshot.checker.getPropertiesOfType(snapshot.checker.getTypeAtLocation(node))) {
    for (const declaration of property.declarations ?? []) {
      if (snapshot.pathOf(declaration.getSourceFile()) === undefined) continue
      const isMember = (ts.isClassElement(declaration) && ts.isClassLike(declaration.parent)) ||
        (ts.isParameter(declaration) && ts.isParameterPropertyDeclaration(declaration, declaration.parent))
      if (!isMember || isHidden(declaration)) continue
      const name = memberName(declaration)
      const holder = ts.isParameter(declaration) ? declaration.parent.parent : declaration.parent
      const entry = members.get(name) ?? { nodes: [], inherited: holder !== node, symbol: property }
      entry.nodes.push(declaration as PublicMember['nodes'][number])
      members.set(name, entry)
    }
  }
  const all = [...members].map(([name, entry]) => ({ name, ...entry }))
  const place = (member: PublicMember) => member.nodes[0]!.pos
  return all.sort((a, b) => Number(a.inherited) - Number(b.inherited) || (a.inherited ? (a.name < b.name ? -1 : 1) : place(a) - place(b)))
}

function isHidden(node: ts.Declaration): boolean {
  const name = (node as ts.NamedDeclaration).name
  if (!name || ts.isPrivateIdentifier(name)) return true
  if (ts.isComputedPropertyName(name) && !/^\[Symbol\.\w+\]$/.test(name.getText())) return true
  return ts.canHaveModifiers(node) && (ts.getModifiers(node) ?? []).some(modifier =>
    modifier.kind === ts.SyntaxKind.PrivateKeyword || modifier.kind === ts.SyntaxKind.ProtectedKeyword || modifier.kind === ts.SyntaxKind.StaticKeyword)
}

/** The member as an interface declares it, one line each, without the ending `;`. Throws `NotWritable`. */
export function memberSignatures(member: PublicMember, owner: ts.ClassLikeDeclaration, snapshot: Snapshot, write: TypeWriter): string[] {
  const { checker } = snapshot
  const first = member.nodes[0]!
  const name = (first as ts.NamedDeclaration).name!.getText()
  // What a generic base class declares is written as this class sees it.
  if (member.inherited) {
    const { symbol } = member
    const type = checker.getTypeOfSymbolAtLocation(symbol, owner)
    const optional = symbol.flags & ts.SymbolFlags.Optional ? '?' : ''
    const readonly = ts.isGetAccessor(first) && member.nodes.length === 1 ? 'readonly ' : ''
    return [`${readonly}${name}${optional}: ${write.inferred(type)}`]
  }
  const setter = member.nodes.find(ts.isSetAccessor), getter = member.nodes.find(ts.isGetAccessor)
  if (getter || setter) {
    const type = getter ? getter.type ? write.source(getter.type) : write.inferred(checker.getTypeAtLocation(getter)) : undefined
    const taken = setter?.parameters[0]?.type
    if (!setter) return [`readonly ${name}: ${type}`]
    if (getter && taken && getter.type && taken.getText() !== getter.type.getText()) {
      return [`get ${name}(): ${type}`, `set ${name}(value: ${write.source(taken)})`]
    }
    return [`${name}: ${type ?? (taken ? write.source(taken) : 'unknown')}`]
  }
  if (ts.isPropertyDeclaration(first) || ts.isParameter(first)) {
    const readonly = ts.getModifiers(first)?.some(modifier => modifier.kind === ts.SyntaxKind.ReadonlyKeyword) ? 'readonly ' : ''
    const type = first.type ? write.source(first.type) : write.inferred(checker.getTypeAtLocation(first))
    return [`${readonly}${name}${first.questionToken ? '?' : ''}: ${type}`]
  }
  const methods = member.nodes.filter(ts.isMethodDeclaration)
  const written = methods.length > 1 ? methods.filter(method => !method.body) : methods
  return written.map(method => {
    const parameters = method.typeParameters ? `<${method.typeParameters.map(parameter => write.source(parameter)).join(', ')}>` : ''
    const signature = checker.getSignatureFromDeclaration(method)
    const result = method.type ? write.source(method.type) : signature ? write.inferred(signature.getReturnType()) : 'void'
    return `${name}${method.questionToken ? '?' : ''}${parameters}(${writeParameters(method.parameters, snapshot, write)}): ${result}`
  })
}

/** Parameters without their modifiers and defaults. `called`: under which name. */
export function writeParameters(parameters: readonly ts.ParameterDeclaration[], snapshot: Snapshot, write: TypeWriter, called = (name: string) => name): string {
  return parameters.map((parameter, index) => {
    const name = ts.isIdentifier(parameter.name) ? parameter.name.text : `options${index === 0 ? '' : index}`
    const rest = parameter.dotDotDotToken ? '...' : ''
    // A default in the middle is not optional for callers.
    const optional = (parameter.questionToken || parameter.initializer) && parameters.slice(index + 1).every(later => later.questionToken || later.initializer || later.dotDotDotToken)
    let type = parameter.type ? write.source(parameter.type) : write.inferred(snapshot.checker.getTypeAtLocation(parameter))
    if (parameter.initializer && !optional) type = `${type} | undefined`
    return `${rest}${called(name)}${optional ? '?' : ''}: ${type}`
  }).join(', ')
}
