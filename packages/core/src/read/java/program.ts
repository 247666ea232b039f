import type { TypeRules } from '../binding/hierarchy.js'
import { Hierarchy } from '../binding/hierarchy.js'
import { FunctionTypes } from '../binding/functional.js'
import type { ClassBody } from '../binding/symbols.js'
import { ClassSymbol, CONSTRUCTOR, FieldSymbol, Flags, MethodSymbol } from '../binding/symbols.js'
import type { Type } from '../binding/types.js'
import { ArrayType, ClassType, plainType, TypeVariable, UNKNOWN, VOID } from '../binding/types.js'
import type { StubSource } from '../classfile/stub-index.js'
import type { Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import type { ClassDeclaration } from './declare.js'
import { declareFile, modifiersOf } from './declare.js'
import { JavaLibrary } from './library.js'
import { BOXES, PRIMITIVES, widens } from './primitives.js'
import type { JavaFile } from './scope.js'
import { Scope } from './scope.js'
import { Field, Kind } from './syntax.js'
import type { ClassNames } from './type-names.js'
import { arrayOf, bracketsIn, TypeNames } from './type-names.js'

/** All files of a project and all libraries, with everything that they declare. */
export class JavaProgram implements ClassBody, ClassNames, TypeRules {
  readonly declarations = new Map<ClassSymbol, ClassDeclaration>()
  readonly packages = new Map<string, Map<string, ClassSymbol>>()
  readonly library: JavaLibrary
  readonly hierarchy: Hierarchy
  readonly functions: FunctionTypes
  readonly names: TypeNames
  readonly top: ClassType
  readonly arrayParents: readonly ClassType[]
  /** Names that are declared more than once, with the paths that do. */
  readonly duplicates: { name: string; path: string; first: string }[] = []
  private readonly boxes = new Map<string, ClassType>()
  private readonly unboxes = new Map<ClassSymbol, Type>()

  constructor(readonly files: readonly JavaFile[], libraries: readonly StubSource[]) {
    this.library = new JavaLibrary(libraries, name => this.sourceClass(name))
    for (const file of files) {
      declareFile(file, this.declarations, this)
      let types = this.packages.get(file.packageName)
      if (!types) this.packages.set(file.packageName, types = new Map())
      for (const symbol of file.types) {
        const first = types.get(symbol.name)
        if (first) {
          this.duplicates.push({ name: symbol.id, path: file.path, first: this.declarations.get(first)!.file.path })
          renamed(symbol, `@${sourceRootOf(file)}`)
        }
        else types.set(symbol.name, symbol)
      }
    }
    this.top = this.known('java/lang/Object')
    this.arrayParents = [this.known('java/lang/Cloneable'), this.known('java/io/Serializable')]
    for (const [name, box] of Object.entries(BOXES)) {
      const type = this.known(box)
      this.boxes.set(name, type)
      this.unboxes.set(type.symbol, PRIMITIVES[name]!)
    }
    this.hierarchy = new Hierarchy(this)
    this.functions = new FunctionTypes(this.hierarchy)
    this.names = new TypeNames(this)
  }

  /** A class that the language itself needs, by binary name; a stand-in without members where no library has it. */
  known(binaryName: string): ClassType {
    const symbol = this.sourceClass(binaryName) ?? this.library.find(binaryName)
    if (symbol) return plainType(symbol)
    const dotted = binaryName.replaceAll('/', '.')
    const empty: ClassBody = { header: () => undefined, members: () => undefined }
    return plainType(new ClassSymbol(dotted, dotted.slice(dotted.lastIndexOf('.') + 1), dotted.slice(0, dotted.lastIndexOf('.')), null, Flags.Public, false, empty))
  }

  private sourceClass(binaryName: string): ClassSymbol | undefined {
    const slash = binaryName.lastIndexOf('/')
    const types = this.packages.get(slash < 0 ? '' : binaryName.slice(0, slash).replaceAll('/', '.'))
    if (!types) return undefined
    const [top, ...inner] = binaryName.slice(slash + 1).split('$')
    let symbol = types.get(top!)
    for (const name of inner) symbol = symbol?.types.get(name)
    return symbol
  }

  /** A class by package and simple name: of the sources, or of a library. */
  classIn(packageName: string, name: string): ClassSymbol | undefined {
    return this.packages.get(packageName)?.get(name) ?? this.library.find(packageName === '' ? name : `${packageName.replaceAll('.', '/')}/${name}`)
  }

  isPackage(name: string): boolean {
    return this.packages.has(name) || this.library.hasPackage(name)
  }

  private packageStarts: Set<string> | undefined

  /** Whether a name is the beginning of some package's name. */
  startsPackage(name: string): boolean {
    if (!this.packageStarts) {
      this.packageStarts = new Set(['java', 'javax'])
      for (const whole of [...this.packages.keys(), ...this.library.packageNames()]) {
        for (let dot = whole.indexOf('.'); dot > 0; dot = whole.indexOf('.', dot + 1)) this.packageStarts.add(whole.slice(0, dot))
      }
    }
    return this.packageStarts.has(name)
  }

  boxed(name: string): ClassType | undefined { return this.boxes.get(name) }
  unboxed(type: ClassType): Type | undefined { return this.unboxes.get(type.symbol) }
  widens(from: Type, to: Type): boolean { return from.tag === 'primitive' && to.tag === 'primitive' && widens(from, to) }

  // ---- what classes of the sources declare, when it is asked for

  header(symbol: ClassSymbol): void {
    const { file, node, scope } = this.declarations.get(symbol)!
    const { tree } = file
    const kind = tree.kind(node)
    // An anonymous class has its parents from its creation: set by whoever attributes that.
    if (kind === Kind.ObjectCreationExpression || kind === Kind.EnumConstant) return
    symbol.setTypeParameters(this.typeParameters(tree.child(node, Field.TypeParameters), scope))
    const outer = scope
    const missing: Node[] = []
    const list = (holder: Node): ClassType[] => holder === NONE ? [] : this.typesIn(holder, outer, missing)
    if (kind === Kind.EnumDeclaration) {
      const base = this.known('java/lang/Enum')
      symbol.setParents(new ClassType(base.symbol, [plainType(symbol)]), list(tree.child(node, Field.Interfaces)), missing.length === 0)
    } else if (kind === Kind.RecordDeclaration) symbol.setParents(this.known('java/lang/Record'), list(tree.child(node, Field.Interfaces)), missing.length === 0)
    else if (kind === Kind.AnnotationTypeDeclaration) symbol.setParents(null, [this.known('java/lang/annotation/Annotation')])
    else if (kind === Kind.InterfaceDeclaration) symbol.setParents(null, list(tree.childOf(node, Kind.ExtendsInterfaces)), missing.length === 0)
    else {
      const holder = tree.child(node, Field.Superclass)
      const superclass = holder === NONE ? undefined : list(holder)[0]
      symbol.setParents(superclass ?? (symbol === this.top.symbol ? null : this.top), list(tree.child(node, Field.Interfaces)), missing.length === 0)
    }
    const permits = tree.child(node, Field.Permits)
    if (permits !== NONE) list(permits)
  }

  /** The class types that a clause names, as they are in the sources or a library; `missing` takes those that are in neither. */
  private typesIn(holder: Node, scope: Scope, missing: Node[]): ClassType[] {
    const { tree } = scope.file
    const types: ClassType[] = []
    const visit = (at: Node): void => {
      if (tree.kind(at) === Kind.TypeList) { for (const child of tree.children(at)) visit(child); return }
      const type = this.names.type(at, scope, true)
      if (type.tag === 'class') types.push(type)
      else missing.push(at)
    }
    for (const child of tree.children(holder)) visit(child)
    return types
  }

  /** Declares type parameters in a scope and gives them their bounds. */
  typeParameters(holder: Node, scope: Scope): TypeVariable[] {
    if (holder === NONE) return []
    const { tree } = scope.file
    const nodes = tree.children(holder).filter(node => tree.kind(node) === Kind.TypeParameter)
    const variables = nodes.map(node => {
      const name = tree.children(node).find(child => tree.kind(child) === Kind.TypeIdentifier || tree.kind(child) === Kind.Identifier)
      const variable = new TypeVariable(name === undefined ? '?' : tree.textOf(name))
      scope.declareVariable(variable)
      return variable
    })
    nodes.forEach((node, index) => {
      const bound = tree.childOf(node, Kind.TypeBound)
      variables[index]!.bounds = bound === NONE ? [this.top] : tree.children(bound).map(child => this.names.type(child, scope))
    })
    return variables
  }

  members(symbol: ClassSymbol): void {
    const { file, node, body, scope } = this.declarations.get(symbol)!
    const { tree } = file
    // Parameters must be in scope before any member's type is looked at.
    void symbol.typeParameters
    const inInterface = symbol.isInterface
    if (tree.kind(node) === Kind.RecordDeclaration) this.recordMembers(symbol, node, scope)
    if (tree.kind(node) === Kind.EnumDeclaration) this.enumMembers(symbol)
    const visit = (holder: Node): void => {
      for (let at = tree.first(holder); at !== NONE; at = tree.next(at, holder)) {
        switch (tree.kind(at)) {
          case Kind.FieldDeclaration: case Kind.ConstantDeclaration: {
            const flags = modifiersOf(tree, at) | (inInterface ? Flags.Public | Flags.Static | Flags.Final : 0)
            const typeNode = tree.child(at, Field.Type)
            let declared: Type | undefined
            for (let child = tree.first(at); child !== NONE; child = tree.next(child, at)) {
              if (tree.kind(child) !== Kind.VariableDeclarator) continue
              const name = tree.child(child, Field.Name), declarator = child
              symbol.add(new FieldSymbol(tree.textOf(name), symbol, flags, () => this.withDimensions(declared ??= this.names.type(typeNode, scope), declarator, scope), name))
            }
            break
          }
          case Kind.EnumConstant: {
            const name = tree.child(at, Field.Name)
            symbol.add(new FieldSymbol(tree.textOf(name), symbol, Flags.Public | Flags.Static | Flags.Final | Flags.Enum, () => plainType(symbol), name))
            break
          }
          case Kind.MethodDeclaration: case Kind.ConstructorDeclaration: case Kind.AnnotationTypeElementDeclaration: symbol.add(this.method(symbol, at, scope)); break
          case Kind.CompactConstructorDeclaration: break
          case Kind.EnumBodyDeclarations: visit(at); break
          default:
        }
      }
    }
    if (body !== NONE) visit(body)
    // The constructor that every class has that writes none.
    if (!inInterface && symbol.own(CONSTRUCTOR).length === 0) {
      symbol.add(new MethodSymbol(CONSTRUCTOR, symbol, symbol.flags & (Flags.Public | Flags.Protected | Flags.Private), 0, () => ({ typeParameters: [], parameters: [], result: VOID }), node))
    }
  }

  private method(symbol: ClassSymbol, node: Node, scope: Scope): MethodSymbol {
    const { tree } = scope.file
    const isConstructor = tree.kind(node) === Kind.ConstructorDeclaration
    const nameNode = tree.child(node, Field.Name)
    let flags = modifiersOf(tree, node)
    const hasBody = tree.child(node, Field.Body) !== NONE
    if (symbol.isInterface) {
      if (!(flags & Flags.Private)) flags |= Flags.Public
      if (!hasBody && !(flags & Flags.Static)) flags |= Flags.Abstract
    }
    const parameters = tree.child(node, Field.Parameters)
    const nodes = parameters === NONE ? [] : tree.children(parameters).filter(at => tree.kind(at) === Kind.FormalParameter || tree.kind(at) === Kind.SpreadParameter)
    if (nodes.some(at => tree.kind(at) === Kind.SpreadParameter)) flags |= Flags.Varargs
    const method: MethodSymbol = new MethodSymbol(isConstructor ? CONSTRUCTOR : tree.textOf(nameNode), symbol, flags, nodes.length, () => {
      const inside = new Scope(scope.file, scope, null, method)
      const typeParameters = this.typeParameters(tree.child(node, Field.TypeParameters), inside)
      this.methodScopes.set(method, inside)
      return {
        typeParameters, parameters: nodes.map(at => this.parameterType(at, inside)),
        result: isConstructor ? VOID : this.withDimensions(this.names.type(tree.child(node, Field.Type), inside), node, inside)
      }
    }, nameNode)
    this.methodsByNode.set(scope.file, (this.methodsByNode.get(scope.file) ?? new Map<Node, MethodSymbol>()).set(node, method))
    return method
  }

  /** The scope of a method's type parameters, once its signature is known. */
  readonly methodScopes = new Map<MethodSymbol, Scope>()
  private readonly methodsByNode = new Map<JavaFile, Map<Node, MethodSymbol>>()

  methodAt(file: JavaFile, node: Node): MethodSymbol | undefined { return this.methodsByNode.get(file)?.get(node) }

  /** The declared type of a parameter, `...` counted in. */
  parameterType(node: Node, scope: Scope): Type {
    const { tree } = scope.file
    if (tree.kind(node) === Kind.SpreadParameter) {
      const typeNode = tree.children(node).find(child => ![Kind.Modifiers, Kind.VariableDeclarator, Kind.MarkerAnnotation, Kind.Annotation].includes(tree.kind(child)))
      const element = typeNode === undefined ? UNKNOWN : this.names.type(typeNode, scope)
      return new ArrayType(this.withDimensions(element, tree.childOf(node, Kind.VariableDeclarator), scope))
    }
    return this.withDimensions(this.names.type(tree.child(node, Field.Type), scope), node, scope)
  }

  /** Brackets after a name: `int x[]`. */
  withDimensions(type: Type, node: Node, scope: Scope): Type {
    if (node === NONE) return type
    const { tree } = scope.file
    const dimensions = tree.child(node, Field.Dimensions)
    return dimensions === NONE || tree.kind(dimensions) !== Kind.Dimensions ? type : arrayOf(type, bracketsIn(tree.textOf(dimensions)))
  }

  private recordMembers(symbol: ClassSymbol, node: Node, scope: Scope): void {
    const { tree } = scope.file
    const parameters = tree.child(node, Field.Parameters)
    const nodes = parameters === NONE ? [] : tree.children(parameters).filter(at => tree.kind(at) === Kind.FormalParameter || tree.kind(at) === Kind.SpreadParameter)
    const body = tree.child(node, Field.Body)
    const members = body === NONE ? [] : tree.children(body)
    for (const at of nodes) {
      const name = tree.kind(at) === Kind.SpreadParameter ? tree.child(tree.childOf(at, Kind.VariableDeclarator), Field.Name) : tree.child(at, Field.Name)
      const text = tree.textOf(name)
      symbol.add(new FieldSymbol(text, symbol, Flags.Private | Flags.Final, () => this.parameterType(at, scope), name))
      const written = members.some(member => tree.kind(member) === Kind.MethodDeclaration && tree.textOf(tree.child(member, Field.Name)) === text &&
        tree.first(tree.child(member, Field.Parameters)) === NONE)
      if (!written) symbol.add(new MethodSymbol(text, symbol, Flags.Public, 0, () => ({ typeParameters: [], parameters: [], result: this.parameterType(at, scope) }), name))
    }
    // The canonical constructor, unless it is written out with its parameters.
    const written = members.some(member => tree.kind(member) === Kind.ConstructorDeclaration &&
      tree.children(tree.child(member, Field.Parameters)).length === nodes.length && !tree.contains(tree.child(member, Field.Body), Kind.ExplicitConstructorInvocation))
    if (!written) {
      const varargs = nodes.some(at => tree.kind(at) === Kind.SpreadParameter) ? Flags.Varargs : 0
      symbol.add(new MethodSymbol(CONSTRUCTOR, symbol, Flags.Public | varargs, nodes.length, () => ({ typeParameters: [], parameters: nodes.map(at => this.parameterType(at, scope)), result: VOID }), node))
    }
  }

  private enumMembers(symbol: ClassSymbol): void {
    const type = plainType(symbol), string = this.known('java/lang/String')
    symbol.add(new MethodSymbol('values', symbol, Flags.Public | Flags.Static, 0, () => ({ typeParameters: [], parameters: [], result: new ArrayType(type) })))
    symbol.add(new MethodSymbol('valueOf', symbol, Flags.Public | Flags.Static, 1, () => ({ typeParameters: [], parameters: [string], result: type })))
  }
}

/** The folder under which a file's package has its folders; the file's own where they do not fit. */
function sourceRootOf(file: JavaFile): string {
  const folder = file.path.slice(0, Math.max(0, file.path.lastIndexOf('/')))
  const inside = file.packageName.replaceAll('.', '/')
  return inside !== '' && folder.endsWith(inside) ? folder.slice(0, folder.length - inside.length).replace(/\/$/, '') || '.' : folder || '.'
}

function renamed(symbol: ClassSymbol, suffix: string): void {
  symbol.id += suffix
  for (const inner of symbol.types.values()) renamed(inner, suffix)
}
