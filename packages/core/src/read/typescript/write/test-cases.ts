import ts from 'typescript'
import type { TestCase } from '../../write/first-test-cases.js'
import { argumentLists, caseName } from '../../write/first-test-cases.js'
import { NoSample } from '../../write/no-sample.js'
import type { Snapshot } from '../session.js'
import type { PublicMember } from './members.js'
import { publicMembers } from './members.js'
import type { SampleValues } from './sample-values.js'
import { isOptional } from './sample-values.js'

/** What is asked of an object without arguments, so that it can be seen what became of it. */
const MOST_QUERIES = 12

/** Calls that a test of a class makes, what it can ask afterwards, and which members it leaves out and why. */
export interface TestCases {
  readonly cases: readonly TestCase[]
  /** Expressions that ask the object something. */
  readonly queries: readonly string[]
  readonly leftOut: readonly string[]
}

/** A member that a test could call. */
interface Callable {
  readonly name: string
  readonly nodes: PublicMember['nodes']
  readonly type: ts.Type
  readonly static: boolean
}

/** Names of the members that a test could call. */
export function testableMembers(node: ts.ClassLikeDeclaration, snapshot: Snapshot): string[] {
  if (!node.name || !ts.isSourceFile(node.parent)) return []
  return publicMembers(node, snapshot).filter(({ nodes: [first] }) => isCallable(first!)).map(one => one.name)
    .concat(staticMethods(node).map(one => one.name.getText()))
}

function isCallable(node: PublicMember['nodes'][number]): boolean {
  const name = (node as ts.NamedDeclaration).name
  return (ts.isMethodDeclaration(node) || ts.isGetAccessor(node)) && name !== undefined && ts.isIdentifier(name)
}

function staticMethods(node: ts.ClassLikeDeclaration): ts.MethodDeclaration[] {
  return node.members.filter((one): one is ts.MethodDeclaration => ts.isMethodDeclaration(one) && one.body !== undefined && ts.isIdentifier(one.name) &&
    (ts.getModifiers(one) ?? []).some(modifier => modifier.kind === ts.SyntaxKind.StaticKeyword) && !(ts.getModifiers(one) ?? []).some(modifier => modifier.kind === ts.SyntaxKind.PrivateKeyword || modifier.kind === ts.SyntaxKind.ProtectedKeyword))
}

/** The calls that a test of a class makes. `subject`: the object; `left`: names of members that are left out. */
export function testCases(node: ts.ClassLikeDeclaration, subject: string, samples: SampleValues, snapshot: Snapshot, left: ReadonlySet<string>): TestCases {
  const { checker } = snapshot
  const cases: TestCase[] = [], leftOut: string[] = [], queries: string[] = []
  const names = new Set<string>()
  const callables: Callable[] = [
    ...publicMembers(node, snapshot).map(({ name, nodes, symbol }) => ({ name, nodes, type: checker.getTypeOfSymbolAtLocation(symbol, node), static: false })),
    ...staticMethods(node).map(one => ({ name: (one.name as ts.Identifier).text, nodes: [one], type: checker.getTypeAtLocation(one), static: true }))
  ]
  for (const { name, nodes, type, static: isStatic } of callables) {
    if (left.has(name)) { leftOut.push(name); continue }
    const on = isStatic ? node.name!.text : subject
    const [first] = nodes
    if (!ts.isMethodDeclaration(first!)) {
      if (isStatic || !(ts.isGetAccessor(first!) || ts.isPropertyDeclaration(first!) || ts.isParameter(first!))) continue
      if (queries.length < MOST_QUERIES) queries.push(`${on}.${name}`)
      if (ts.isGetAccessor(first!)) add(name, [], `${on}.${name}`, type)
      continue
    }
    if (!ts.isIdentifier(first.name)) continue
    const [signature] = type.getCallSignatures()
    if (!signature) continue
    const result = signature.getReturnType()
    try {
      const parameters = signature.parameters.filter(one => !isOptional(one))
      const varied = written(nodes)
      const each = signature.parameters.flatMap(one => {
        const wanted = checker.getTypeOfSymbolAtLocation(one, node)
        if (parameters.includes(one)) return [withWritten(samples.all(wanted, one.name), wanted, varied, samples)]
        return []
      })
      for (const list of argumentLists(each)) add(name, list, `${on}.${name}(${list.join(', ')})`, result)
      if (!isStatic && parameters.length === 0 && !isNothing(result) && !isWaiting(result) && queries.length < MOST_QUERIES) queries.push(`${on}.${name}()`)
      optionals(name, on, signature, each, result)
    } catch (error) {
      if (!(error instanceof NoSample)) throw error
      leftOut.push(`${name} (${error.message})`)
    }
  }
  return { cases, queries, leftOut }

  function add(member: string, given: readonly string[], call: string, result: ts.Type): void {
    const name = caseName(member, given, names)
    names.add(name)
    cases.push({ name, member, call, isCommand: isNothing(result), waits: isWaiting(result) })
  }

  /** A call with what may be left out, where there is something to hand in. */
  function optionals(member: string, on: string, signature: ts.Signature, each: readonly (readonly string[])[], result: ts.Type): void {
    const further: string[] = []
    for (const one of signature.parameters.slice(each.length)) {
      const declaration = one.valueDeclaration
      if (!declaration || !ts.isParameter(declaration) || declaration.dotDotDotToken) break
      try { further.push(samples.of(checker.getNonNullableType(checker.getTypeOfSymbolAtLocation(one, node)), one.name)) } catch (error) { if (error instanceof NoSample) break; throw error }
    }
    if (further.length === 0) return
    const given = [...each.map(([usual]) => usual!), ...further]
    add(member, given, `${on}.${member}(${given.join(', ')})`, result)
  }
}

function isNothing(type: ts.Type): boolean { return (type.flags & (ts.TypeFlags.Void | ts.TypeFlags.Undefined | ts.TypeFlags.Never)) !== 0 || (isWaiting(type) && isNothing((type as ts.TypeReference).typeArguments?.[0] ?? type)) }
function isWaiting(type: ts.Type): boolean { return type.symbol?.name === 'Promise' || type.symbol?.name === 'PromiseLike' }

/** Numbers and texts that stand in the bodies of a member: what it compares with decides what it does. */
function written(nodes: readonly ts.Node[]): { readonly numbers: string[]; readonly texts: string[] } {
  const numbers = new Set<string>(), texts = new Set<string>()
  const compares = (node: ts.Node) => {
    const { parent } = node
    return ts.isCaseClause(parent) || (ts.isBinaryExpression(parent) && /^[<>=!]/.test(parent.operatorToken.getText()) && parent.operatorToken.kind !== ts.SyntaxKind.EqualsToken)
  }
  const visit = (node: ts.Node): void => {
    if (ts.isNumericLiteral(node) && compares(node)) { numbers.add(node.text); numbers.add(String(Number(node.text) + 1)) }
    if (ts.isStringLiteralLike(node) && compares(node) && node.text.length < 30) texts.add(node.text)
    ts.forEachChild(node, visit)
  }
  for (const node of nodes) visit(node)
  return { numbers: [...numbers], texts: [...texts] }
}

function withWritten(usual: readonly string[], type: ts.Type, { numbers, texts }: ReturnType<typeof written>, samples: SampleValues): string[] {
  const more = type.flags & ts.TypeFlags.Number ? numbers : type.flags & ts.TypeFlags.String ? texts.map(one => samples.text(one)) : []
  return [...new Set([...usual.slice(0, 1), ...more, ...usual.slice(1)])]
}
