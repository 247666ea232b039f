import type { OldTest } from '../../../model/test-beside.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { CONSTRUCTOR, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { around } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import type { JavaWriteContext } from './context.js'
import { creationSites } from './creation-sites.js'

/** More of a test than this is not shown. */
const MOST_LINES = 40

/** The test with the least set-up for an object of a class that is there already; undefined where none builds one. */
export function oldJavaTest(symbol: ClassSymbol, context: JavaWriteContext): OldTest | undefined {
  let found: OldTest | undefined
  for (const constructor of symbol.own(CONSTRUCTOR)) {
    if (!(constructor instanceof MethodSymbol)) continue
    for (const { file, node, kind } of creationSites(constructor, context)) {
      if (kind !== 'creation' || !context.state.files.isTest(file.path)) continue
      const one = setUpAround(node, file, context)
      if (one && (!found || one.old.lines < found.old.lines)) found = one
    }
  }
  return found
}

function setUpAround(at: Node, file: JavaFile, { state, bound }: JavaWriteContext): OldTest | undefined {
  const { tree } = file
  const method = around(tree, at, new Set([Kind.MethodDeclaration, Kind.ConstructorDeclaration]))
  const body = method < 0 ? NONE : tree.child(method, Field.Body)
  if (body === NONE) return undefined
  const statements = tree.children(body), last = statements.find(one => one <= at && at < tree.after(one))
  if (last === undefined) return undefined
  let realObjects = 0
  for (let node = body; node < tree.after(last); node += 5) {
    if (node === at || tree.kind(node) !== Kind.ObjectCreationExpression) continue
    const built = file.meaning(node)
    if (built instanceof MethodSymbol && built.owner.source && !state.files.isTest(bound.pathOf(built.owner) ?? '')) realObjects++
  }
  const lineAt = (offset: number) => tree.text.slice(0, offset).split('\n').length
  const line = lineAt(tree.start(method)), end = lineAt(tree.end(method))
  return {
    path: file.path, line, text: tree.text.split(/\r?\n/).slice(line - 1, Math.min(end, line - 1 + MOST_LINES)),
    old: { lines: lineAt(tree.end(last)) - lineAt(tree.start(statements[0]!)) + 1, realObjects }
  }
}
