import { ClassSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH, NONE } from '../../syntax/flat-tree.js'
import type { BoundProgram } from '../bound-program.js'
import { Field, Kind } from '../syntax.js'
import type { JavaRunPlace } from './repeated-runs.js'
import type { JavaUnified } from './statement-unifier.js'
import { unifyJavaStatements } from './statement-unifier.js'

/** Statements of one method that could stand in another class. */
export interface PlainRun extends JavaRunPlace { readonly unified: JavaUnified; readonly all: number }

export function linesOf({ file: { tree }, statements }: Pick<JavaRunPlace, 'file' | 'statements'>): number {
  return tree.text.slice(tree.start(statements[0]!.node), tree.end(statements.at(-1)!.node)).split('\n').length
}

export const memberOf = ({ file: { tree }, method }: JavaRunPlace): string => tree.textOf(tree.child(method, Field.Name))

/** Of each method the statements in a row that do without what the class inherits and set none of its fields, most lines first. */
export function plainRuns(owner: ClassSymbol, bound: BoundProgram): PlainRun[] {
  const methods = methodsOf(owner, bound)
  if (!methods) return []
  const { file, bodies } = methods, { tree } = file, libraries = librariesOf(owner, bound), found: PlainRun[] = []
  for (const { method, block } of bodies) {
    const all = tree.children(block).map(node => ({ file, node }))
    let best: PlainRun | undefined
    for (let from = 0; from < all.length; from++) for (let to = all.length; to > from; to--) {
      const statements = all.slice(from, to)
      if (best && linesOf({ file, statements }) <= linesOf(best)) break
      const unified = statements.every(({ node }) => isPlain(node, file, libraries)) ? unifyJavaStatements([statements], bound.program) : undefined
      if (unified && !unified.holes.some(hole => asksFramework(hole.nodes[0]!, file))) best = { owner, file, method, block, statements, unified, all: all.length }
    }
    if (best) found.push(best)
  }
  return found.sort((a, b) => linesOf(b) - linesOf(a))
}

/** The methods of a class whose statements may go, with their bodies; undefined of another class. */
function methodsOf(owner: ClassSymbol, bound: BoundProgram): { readonly file: JavaRunPlace['file']; readonly bodies: readonly { readonly method: Node; readonly block: Node }[] } | undefined {
  const declared = bound.program.declarations.get(owner), file = declared && bound.file(declared.file.path)?.java
  if (!declared || !file || owner.outer || owner.typeParameters.length > 0 || owner.flags & (Flags.Enum | Flags.Record | Flags.Interface | Flags.Local)) return undefined
  const { tree } = file
  const bodies = tree.children(declared.body).map(method => ({ method, block: tree.kind(method) === Kind.MethodDeclaration ? tree.child(method, Field.Body) : NONE })).filter(({ method, block }) => {
    const modifiers = tree.childOf(method, Kind.Modifiers)
    return block !== NONE && !(modifiers !== NONE && /\bstatic\b/.test(tree.textOf(modifiers)))
  })
  return { file, bodies }
}

/** The fewest statements in a row of a method that hold some lines and can stand elsewhere; undefined where there are none, or one alone. */
export function touchingRun(owner: ClassSymbol, member: string, lines: readonly number[], bound: BoundProgram): PlainRun | undefined {
  const methods = methodsOf(owner, bound)
  if (!methods || lines.length === 0) return undefined
  const { file } = methods, { tree } = file
  const lineAt = (offset: number) => tree.text.slice(0, offset).split('\n').length
  const holds = (at: Node, line: number) => lineAt(tree.start(at)) <= line && line <= lineAt(tree.end(at))
  for (const { method, block: body } of methods.bodies) {
    if (tree.textOf(tree.child(method, Field.Name)) !== member || !lines.every(line => holds(body, line))) continue
    for (const block of blocksIn(body, file).filter(one => lines.every(line => holds(one, line))).reverse()) {
      const all = tree.children(block).map(node => ({ file, node })), isHeld = ({ node }: { readonly node: Node }) => lines.some(line => holds(node, line))
      const from = all.findIndex(isHeld), last = all.findLastIndex(isHeld)
      if (from < 0) continue
      for (let to = last + 1; to <= all.length; to++) {
        const statements = all.slice(from, to)
        const unified = statements.length > 1 && !(from === 0 && to === all.length && block === body) ? unifyJavaStatements([statements], bound.program) : undefined
        if (unified) return { owner, file, method, block, statements, unified, all: all.length }
      }
    }
  }
  return undefined
}

/** A block and those inside it that run with it, the outer before the inner. */
function blocksIn(block: Node, { tree }: JavaRunPlace['file']): Node[] {
  const found: Node[] = []
  for (let at = block; at < tree.after(block); at += NODE_WIDTH) {
    const kind = tree.kind(at)
    if (kind === Kind.LambdaExpression || kind === Kind.ClassBody) at = tree.after(at) - NODE_WIDTH
    else if (kind === Kind.Block) found.push(at)
  }
  return found
}

/** Packages of the libraries that a class inherits from. */
function librariesOf(owner: ClassSymbol, { program }: BoundProgram): Set<string> {
  return new Set([...program.hierarchy.ancestorsOf(owner)].filter(one => !one.source && !one.packageName.startsWith('java.')).map(one => one.packageName))
}

/** Whether an expression calls a method of the object itself that a library declares. */
function asksFramework(node: Node, file: JavaRunPlace['file']): boolean {
  const { tree } = file, method = tree.kind(node) === Kind.MethodInvocation && tree.child(node, Field.Object) === NONE ? file.meaning(tree.child(node, Field.Name)) : undefined
  return method instanceof MethodSymbol && !method.owner.source
}

function isPlain(node: Node, file: JavaRunPlace['file'], libraries: ReadonlySet<string>): boolean {
  for (let at = node; at < file.tree.after(node); at += 5) {
    const meaning = file.meaning(at), holder = meaning instanceof ClassSymbol ? meaning : meaning && meaning.kind !== 'local' ? meaning.owner : undefined
    if (holder && libraries.has(holder.packageName)) return false
  }
  return true
}
