import type { ClassSymbol } from '../../binding/symbols.js'
import { CONSTRUCTOR, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Substitution, Type, TypeVariable } from '../../binding/types.js'
import { argumentsOf, substitute, thisType } from '../../binding/types.js'
import type { TestCase } from '../../write/first-test-cases.js'
import { argumentLists, caseName } from '../../write/first-test-cases.js'
import { NoSample } from '../../write/no-sample.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { Kind } from '../syntax.js'
import { publicMethods } from './interface-members.js'
import type { JavaSampleValues } from './sample-values.js'

/** What is asked of an object without arguments, so that it can be seen what became of it. */
const MOST_QUERIES = 12

/** A call of a method, and what the method says that it gives. */
export interface JavaTestCase extends TestCase { readonly result: Type }

/** Calls that a test of a class makes, what it can ask afterwards, and which methods it leaves out and why. */
export interface JavaTestCases {
  readonly cases: readonly JavaTestCase[]
  readonly queries: readonly { readonly text: string; readonly result: Type }[]
  readonly leftOut: readonly string[]
}

/** Methods of a class that a test beside it can call. */
export function testableMethods(symbol: ClassSymbol, bound: BoundProgram): MethodSymbol[] {
  if (symbol.flags & (Flags.Abstract | Flags.Enum | Flags.Annotation | Flags.Local | Flags.Private) || symbol.isInterface || symbol.outer) return []
  const statics = symbol.ownMembers.filter((one): one is MethodSymbol => one instanceof MethodSymbol && one.isStatic && (one.flags & Flags.Public) !== 0 && one.name !== CONSTRUCTOR && one.name !== 'main' && one.node >= 0)
  return [...publicMethods(symbol, bound).map(one => one.method), ...statics.sort((a, b) => a.node - b.node)]
}

/**
 * The calls that a test of a class makes. `subject`: the object; `own`: what its class's type parameters stand for;
 * `left`: names of methods that are left out.
 */
export function javaTestCases(symbol: ClassSymbol, subject: string, samples: JavaSampleValues, own: Substitution, bound: BoundProgram, left: ReadonlySet<string>): JavaTestCases {
  const cases: JavaTestCase[] = [], leftOut: string[] = [], queries: JavaTestCases['queries'][number][] = []
  const names = new Set<string>()
  for (const method of testableMethods(symbol, bound)) {
    if (left.has(method.name)) { if (!leftOut.includes(method.name)) leftOut.push(method.name); continue }
    const seen = method.owner === symbol || method.owner.typeParameters.length === 0 ? new Map<TypeVariable, Type>() : argumentsOf(bound.program.hierarchy.asSuper(thisType(symbol), method.owner) ?? thisType(method.owner))
    const asSeen = (type: Type) => substitute(substitute(type, seen), own)
    const result = asSeen(method.signature.result)
    const isCommand = result.tag === 'special' && result.name === 'void'
    const call = (given: readonly string[]) => `${method.isStatic ? symbol.name : subject}.${method.name}(${given.join(', ')})`
    try {
      const each = samples.given(method, asSeen).map((all, at) => withWritten(all, asSeen(method.signature.parameters[at]!), writtenIn(method, bound)))
      for (const given of argumentLists(each)) {
        const name = caseName(method.name, given, names)
        names.add(name)
        cases.push({ name, member: method.name, call: call(given), isCommand, waits: false, result })
      }
      if (!method.isStatic && each.length === 0 && !isCommand && queries.length < MOST_QUERIES) queries.push({ text: call([]), result })
    } catch (error) {
      if (!(error instanceof NoSample)) throw error
      leftOut.push(`${method.name} (${error.message})`)
    }
  }
  return { cases, queries, leftOut }
}

/** Numbers and texts that the body of a method compares with. */
function writtenIn(method: MethodSymbol, { program }: BoundProgram): { numbers: string[]; texts: string[] } {
  const declared = program.declarations.get(method.owner)
  const numbers = new Set<string>(), texts = new Set<string>()
  if (!declared || method.node < 0) return { numbers: [], texts: [] }
  const { tree } = declared.file, node = parentOf(tree, method.node)
  for (let at = node; at < tree.after(node); at += 5) {
    const kind = tree.kind(at)
    if (kind === Kind.DecimalIntegerLiteral && compares(at, tree)) { const value = tree.textOf(at).replace(/[lL_]/g, ''); numbers.add(value); numbers.add(String(Number(value) + 1)) }
    if (kind === Kind.StringLiteral && (compares(at, tree) || isEqualled(at, tree)) && tree.textOf(at).length < 30) texts.add(tree.textOf(at))
  }
  return { numbers: [...numbers].slice(0, 4), texts: [...texts].slice(0, 4) }
}

function compares(at: Node, tree: FlatTree): boolean {
  const parent = parentOf(tree, at)
  if (tree.kind(parent) === Kind.SwitchLabel) return true
  return tree.kind(parent) === Kind.BinaryExpression && /(?<![<>=!])(==|!=|<=?|>=?)(?![<>=])/.test(tree.textOf(parent))
}

/** `"text".equals(x)` and `x.equals("text")`. */
function isEqualled(at: Node, tree: FlatTree): boolean {
  const parent = parentOf(tree, at), call = tree.kind(parent) === Kind.MethodInvocation ? parent : parentOf(tree, parent)
  return tree.kind(call) === Kind.MethodInvocation && /\.(equals|equalsIgnoreCase|startsWith|endsWith|contains)\s*\(/.test(tree.textOf(call))
}

function withWritten(usual: readonly string[], type: Type, { numbers, texts }: { numbers: string[]; texts: string[] }): string[] {
  const name = type.tag === 'primitive' ? type.name : type.tag === 'class' ? type.symbol.id : ''
  const more = name === 'int' || name === 'java.lang.Integer' ? numbers : name === 'long' || name === 'java.lang.Long' ? numbers.map(one => `${one}L`) : name === 'double' ? numbers.map(one => `${one}.0`) : name === 'java.lang.String' ? texts : []
  return [...new Set([...usual.slice(0, 1), ...more, ...usual.slice(1)])]
}
