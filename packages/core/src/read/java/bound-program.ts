import { compareText } from '../../model/order.js'
import { Overloads } from '../binding/overloads.js'
import type { ClassSymbol } from '../binding/symbols.js'
import type { StubSource } from '../classfile/stub-index.js'
import type { FlatTree, Node } from '../syntax/flat-tree.js'
import { BodyBinder } from './bodies.js'
import { JavaProgram } from './program.js'
import type { Import } from './scope.js'
import { JavaFile } from './scope.js'
import { TypeFindings } from './type-findings.js'

/** A file whose names are bound and whose types were looked at. */
export interface BoundFile {
  readonly java: JavaFile
  readonly findings: TypeFindings
}

/** All declarations of one state of the code; the bodies of a file are bound when it is first asked for. */
export class BoundProgram {
  readonly program: JavaProgram
  readonly overloads: Overloads
  private readonly files = new Map<string, JavaFile>()
  private readonly bound = new Map<string, BoundFile | null>()
  private ids: Map<string, ClassSymbol> | undefined

  /** `foreign`: paths of files that cannot be written back as they were read. */
  constructor(readonly trees: ReadonlyMap<string, FlatTree>, readonly foreign: ReadonlySet<string>, libraries: readonly StubSource[]) {
    for (const [path, tree] of [...trees].sort((a, b) => compareText(a[0], b[0]))) this.files.set(path, new JavaFile(path, tree))
    this.program = new JavaProgram([...this.files.values()], libraries)
    this.overloads = new Overloads(this.program.hierarchy, this.program.functions)
  }

  get paths(): Iterable<string> { return this.files.keys() }

  /** What a file imports; nothing of its bodies is looked at. */
  importsOf(path: string): readonly Import[] { return this.files.get(path)?.imports ?? [] }

  packageOf(path: string): string { return this.files.get(path)?.packageName ?? '' }

  /** The types that a file declares at its top. */
  typesOf(path: string): readonly ClassSymbol[] { return this.files.get(path)?.types ?? [] }

  private imported: ReadonlySet<string> | undefined

  /** Simple names that some file imports by name: in that file they mean no class of its package. */
  get importedNames(): ReadonlySet<string> { return this.imported ??= new Set([...this.files.values()].flatMap(one => [...one.singleImports.keys()])) }

  /** Undefined where there is no such file, or where it nests too deep to be followed. */
  file(path: string): BoundFile | undefined {
    let found = this.bound.get(path)
    if (found === undefined) this.bound.set(path, found = this.bind(path))
    return found ?? undefined
  }

  private bind(path: string): BoundFile | null {
    const java = this.files.get(path)
    if (!java) return null
    const findings = new TypeFindings()
    try {
      new BodyBinder(this.program, java, this.overloads, findings).bind()
    } catch (error) {
      if (!(error instanceof RangeError)) throw error
      return null
    }
    return { java, findings }
  }

  /** A class of the sources by its id; local and anonymous ones are not found. */
  classById(id: string): ClassSymbol | undefined {
    if (!this.ids) {
      this.ids = new Map()
      for (const symbol of this.program.declarations.keys()) if (!this.ids.has(symbol.id)) this.ids.set(symbol.id, symbol)
    }
    return this.ids.get(id)
  }

  pathOf(symbol: ClassSymbol): string | undefined { return this.program.declarations.get(symbol)?.file.path }
}

const parents = new WeakMap<FlatTree, Int32Array>()
const WIDTH = 5

/** The parent of a node; -1 of the root. Found for all nodes of a tree at once, in linear time. */
export function parentOf(tree: FlatTree, node: Node): Node {
  let known = parents.get(tree)
  if (!known) {
    known = new Int32Array(tree.size).fill(-1)
    const open: Node[] = []
    for (let index = 0; index < tree.size; index++) {
      const at = index * WIDTH
      while (open.length > 0 && tree.after(open[open.length - 1]!) <= at) open.pop()
      known[index] = open.length > 0 ? open[open.length - 1]! : -1
      open.push(at)
    }
    parents.set(tree, known)
  }
  return known[node / WIDTH]!
}

/** The nearest node of some kinds around a node, or -1. */
export function around(tree: FlatTree, node: Node, kinds: ReadonlySet<number>): Node {
  let at = parentOf(tree, node)
  while (at >= 0 && !kinds.has(tree.kind(at))) at = parentOf(tree, at)
  return at
}
