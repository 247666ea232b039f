import { ClassSymbol, Flags } from '../binding/symbols.js'
import type { ClassBody } from '../binding/symbols.js'
import type { FlatTree, Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import type { Import, JavaFile } from './scope.js'
import { Scope } from './scope.js'
import { Field, Kind } from './syntax.js'

/** Where a class of the sources is declared. */
export interface ClassDeclaration {
  readonly file: JavaFile
  readonly node: Node
  /** The node that holds its members; NONE where it has none. */
  readonly body: Node
  /** What names mean inside it. */
  readonly scope: Scope
}

const TYPE_DECLARATIONS = new Set([Kind.ClassDeclaration, Kind.InterfaceDeclaration, Kind.EnumDeclaration, Kind.RecordDeclaration, Kind.AnnotationTypeDeclaration])

export function isTypeDeclaration(kind: number): boolean { return TYPE_DECLARATIONS.has(kind) }

/** Reads what a file declares: its package, its imports, its types and the types in those. Bodies are not looked into. */
export function declareFile(file: JavaFile, declarations: Map<ClassSymbol, ClassDeclaration>, bodies: ClassBody): void {
  const { tree } = file
  for (let at = tree.first(0); at !== NONE; at = tree.next(at, 0)) {
    const kind = tree.kind(at)
    if (kind === Kind.PackageDeclaration) file.packageName = dotted(tree, lastName(tree, at))
    else if (kind === Kind.ImportDeclaration) {
      const name = dotted(tree, lastName(tree, at))
      const declared: Import = { node: at, name, isStatic: /^import\s+static\b/.test(tree.text.slice(tree.start(at), tree.start(at) + 40)), onDemand: tree.childOf(at, Kind.Asterisk) !== NONE }
      file.imports.push(declared)
      if (!declared.onDemand && !declared.isStatic) file.singleImports.set(name.slice(name.lastIndexOf('.') + 1), declared)
    } else if (isTypeDeclaration(kind)) file.types.push(declareClass(file, at, null, file.scope, declarations, bodies))
  }
}

/** The name in a package or import declaration. */
function lastName(tree: FlatTree, node: Node): Node {
  const scoped = tree.childOf(node, Kind.ScopedIdentifier)
  return scoped !== NONE ? scoped : tree.childOf(node, Kind.Identifier)
}

/** The text of a dotted name without the comments and spaces that may stand in it. */
export function dotted(tree: FlatTree, node: Node): string {
  if (node === NONE) return ''
  const text = tree.textOf(node)
  return /[\s/@]/.test(text) ? text.replace(/\/\*[^]*?\*\/|\/\/.*|@\w+/g, '').replace(/\s+/g, '') : text
}

/**
 * Makes the symbol of a class and of its member classes. `name`: for anonymous classes, which have none; `within`: for
 * local ones, what stands between the outer class's name and theirs.
 */
export function declareClass(
  file: JavaFile, node: Node, outer: ClassSymbol | null, scope: Scope, declarations: Map<ClassSymbol, ClassDeclaration>, bodies: ClassBody,
  local?: { name: string; id: string; body: Node }
): ClassSymbol {
  const { tree } = file
  const kind = tree.kind(node)
  const name = local?.name ?? tree.textOf(tree.child(node, Field.Name))
  const id = local?.id ?? (outer ? `${outer.id}.${name}` : file.packageName ? `${file.packageName}.${name}` : name)
  let flags = modifiersOf(tree, node)
  if (local) flags |= Flags.Local
  switch (kind) {
    case Kind.InterfaceDeclaration: flags |= Flags.Interface | Flags.Abstract | (outer ? Flags.Static : 0); break
    case Kind.AnnotationTypeDeclaration: flags |= Flags.Interface | Flags.Abstract | Flags.Annotation | (outer ? Flags.Static : 0); break
    case Kind.EnumDeclaration: flags |= Flags.Enum | (outer ? Flags.Static : 0); break
    case Kind.RecordDeclaration: flags |= Flags.Record | Flags.Final | (outer ? Flags.Static : 0); break
    default:
  }
  // Members of an interface are public and static, whatever is written.
  if (outer?.isInterface && !local) flags |= Flags.Public | Flags.Static
  const symbol = new ClassSymbol(id, name, file.packageName, outer, flags, true, bodies)
  const body = local?.body ?? tree.child(node, Field.Body)
  const own = new Scope(file, scope, symbol)
  declarations.set(symbol, { file, node, body, scope: own })
  file.classes.set(node, symbol)
  if (body !== NONE) declareInner(file, body, symbol, own, declarations, bodies)
  return symbol
}

function declareInner(file: JavaFile, body: Node, symbol: ClassSymbol, scope: Scope, declarations: Map<ClassSymbol, ClassDeclaration>, bodies: ClassBody): void {
  const { tree } = file
  for (let at = tree.first(body); at !== NONE; at = tree.next(at, body)) {
    if (isTypeDeclaration(tree.kind(at))) {
      const inner = declareClass(file, at, symbol, scope, declarations, bodies)
      if (!symbol.types.has(inner.name)) symbol.types.set(inner.name, inner)
    } else if (tree.kind(at) === Kind.EnumBodyDeclarations) declareInner(file, at, symbol, scope, declarations, bodies)
  }
}

const WORDS: Readonly<Record<string, number>> = {
  public: Flags.Public, private: Flags.Private, protected: Flags.Protected, static: Flags.Static, final: Flags.Final, abstract: Flags.Abstract,
  default: Flags.Default, sealed: Flags.Sealed
}

/** Modifiers written before a declaration, as flags. */
export function modifiersOf(tree: FlatTree, node: Node): number {
  const first = tree.first(node)
  if (first === NONE || tree.kind(first) !== Kind.Modifiers) return 0
  let flags = 0
  let from = tree.start(first)
  const take = (to: number): void => {
    if (to <= from) return
    for (const word of tree.text.slice(from, to).replace(/\/\*[^]*?\*\/|\/\/.*/g, ' ').match(/[a-z-]+/g) ?? []) flags |= WORDS[word] ?? 0
  }
  for (let at = tree.first(first); at !== NONE; at = tree.next(at, first)) {
    take(tree.start(at))
    from = tree.end(at)
  }
  take(tree.end(first))
  return flags
}
