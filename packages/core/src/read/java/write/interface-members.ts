import type { ClassSymbol } from '../../binding/symbols.js'
import { CONSTRUCTOR, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'
import { argumentsOf, substitute, thisType } from '../../binding/types.js'
import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { FileNames } from './java-editor.js'
import { copiedType, typeParametersText, typeText } from './type-text.js'

/** A public method that a class has or inherits from a class of the sources, and where it is declared. */
export interface PublicMethod {
  readonly method: MethodSymbol
  readonly file: JavaFile
  readonly node: Node
}

/** The methods that an interface of a class could have: public, of its objects, not those of every object. */
export function publicMethods(symbol: ClassSymbol, { program, overloads }: BoundProgram): PublicMethod[] {
  const found: PublicMethod[] = []
  for (let at: ClassSymbol | undefined = symbol; at?.source; at = at.superclass?.symbol) {
    const declared = program.declarations.get(at)
    if (!declared) break
    for (const method of [...at.ownMembers].sort((a, b) => a.node - b.node)) {
      if (!(method instanceof MethodSymbol) || method.name === CONSTRUCTOR || method.isStatic || !(method.flags & Flags.Public) || method.node < 0) continue
      if (program.top.symbol.own(method.name).some(other => other instanceof MethodSymbol && other.arity === method.arity && overloads.overrides(symbol, method, other))) continue
      if (found.some(({ method: other }) => other.name === method.name && other.arity === method.arity && overloads.overrides(symbol, other, method))) continue
      const node = parentOf(declared.file.tree, method.node)
      if (declared.file.tree.kind(node) === Kind.MethodDeclaration) found.push({ method, file: declared.file, node })
    }
  }
  return found
}

/** One method of an interface as lines without indentation: its documentation, and its signature with a semicolon. `from`: the class beside which it will stand. */
export function signatureLines(
  { method, file, node }: PublicMethod, symbol: ClassSymbol, names: FileNames, bound: BoundProgram, renamed: (file: JavaFile, node: Node) => string | undefined, ownName: string | null,
  from: ClassSymbol | undefined
): string[] {
  const { tree } = file
  // What is inherited from a generic class is written as it is seen from here.
  const seen = method.owner !== symbol && method.owner.typeParameters.length > 0 ? argumentsOf(bound.program.hierarchy.asSuper(thisType(symbol), method.owner) ?? thisType(method.owner)) : undefined
  const written = (typeNode: Node, type: Type, outermost: boolean): string => {
    // A result may be narrower in the class than in its interface.
    if (outermost && ownName !== null && type.tag === 'class' && type.symbol === symbol) {
      const args = type.args.map(arg => typeText(arg, names, from))
      return ownName + (args.length > 0 ? `<${args.join(', ')}>` : '')
    }
    if (seen) return typeText(substitute(type, seen), names, from)
    return copiedType(typeNode, file, names, from, at => renamed(file, at))
  }
  const { signature } = method
  for (const type of [signature.result, ...signature.parameters]) refuseForeignVariables(seen ? substitute(type, seen) : type, new Set([...symbol.typeParameters, ...signature.typeParameters]), method.name)
  const parameters = signature.typeParameters.length > 0 ? `${typeParametersText(signature.typeParameters, names, from)} ` : ''
  const typeNode = tree.child(node, Field.Type)
  const dimensions = tree.child(node, Field.Dimensions)
  const result = dimensions === NONE ? written(typeNode, signature.result, true) : typeText(signature.result, names, from)
  const list = parameterNodes(tree, node).map((at, index) => parameterText(at, signature.parameters[index]!, method, index, signature.parameters.length))
  const thrown = tree.childOf(node, Kind.Throws)
  const clause = thrown === NONE ? '' : ` throws ${tree.children(thrown).map(at => copiedType(at, file, names, from, () => undefined)).join(', ')}`
  return [...documentation(tree, node), `${parameters}${result} ${method.name}(${list.join(', ')})${clause};`]

  function parameterText(at: Node, type: Type, of: MethodSymbol, index: number, count: number): string {
    const open = of.varargs && index === count - 1
    if (tree.kind(at) === Kind.SpreadParameter) {
      const name = tree.textOf(tree.child(tree.childOf(at, Kind.VariableDeclarator), Field.Name))
      const element = type.tag === 'array' ? type.element : type
      return `${typeText(seen ? substitute(element, seen) : element, names, from)}${open ? '...' : '[]'} ${name}`
    }
    const name = tree.textOf(tree.child(at, Field.Name))
    const plain = tree.child(at, Field.Dimensions) === NONE
    return `${plain ? written(tree.child(at, Field.Type), type, false) : typeText(seen ? substitute(type, seen) : type, names, from)} ${name}`
  }
}

/** Type parameters of a class around an inner one mean nothing in an interface of its own. */
function refuseForeignVariables(type: Type, known: ReadonlySet<unknown>, member: string): void {
  switch (type.tag) {
    case 'variable': if (!known.has(type)) throw new Refused('generic', `${member} mentions ${type.name}, a type parameter of the class around it`); return
    case 'class': for (const arg of type.args) refuseForeignVariables(arg, known, member); return
    case 'array': refuseForeignVariables(type.element, known, member); return
    case 'wildcard': if (type.bound) refuseForeignVariables(type.bound, known, member); return
    default:
  }
}

export function parameterNodes(tree: FlatTree, method: Node): Node[] {
  const holder = tree.child(method, Field.Parameters)
  return holder === NONE ? [] : tree.children(holder).filter(at => tree.kind(at) === Kind.FormalParameter || tree.kind(at) === Kind.SpreadParameter)
}

export function parameterName(tree: FlatTree, at: Node): string {
  return tree.textOf(tree.kind(at) === Kind.SpreadParameter ? tree.child(tree.childOf(at, Kind.VariableDeclarator), Field.Name) : tree.child(at, Field.Name))
}

/** The documentation comment directly before a declaration, line by line, its lines brought to one column. */
export function documentation(tree: FlatTree, node: Node): string[] {
  const start = documentationStart(tree, node)
  if (start === tree.start(node)) return []
  const comment = tree.text.slice(start, tree.start(node)).trimEnd()
  return comment.split(/\r?\n/).map((line, index) => index === 0 ? line.trim() : ` ${line.trim()}`)
}

/** Where a declaration begins, its documentation comment counted in. */
export function documentationStart(tree: FlatTree, node: Node): number {
  const start = tree.start(node)
  const before = tree.text.slice(0, start)
  const end = before.trimEnd()
  if (!end.endsWith('*/')) return start
  const open = end.lastIndexOf('/*')
  return open >= 0 && end.startsWith('/**', open) ? open : start
}
