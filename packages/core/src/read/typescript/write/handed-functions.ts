import ts from 'typescript'
import { Refused } from '../../write/refused.js'
import { symbolOf } from '../declarations.js'
import type { Snapshot } from '../session.js'
import type { FileEditor } from './file-editor.js'
import { appendParameter, refuseUsesAsValue } from './function-parameter.js'
import { functionsOf } from './injection-points.js'
import { freeNameIn } from './parameter-name.js'

/** A call of one function of a file by another to which both are handed the same. */
interface HandingCall { readonly call: ts.CallExpression; readonly by: ts.FunctionLikeDeclaration; readonly to: ts.FunctionLikeDeclaration }

/** Functions of a file that are handed one and the same thing, and hand it on to each other. */
export interface HandedFunctions {
  /** What each calls it. */
  readonly names: ReadonlyMap<ts.FunctionLikeDeclaration, string>
  /** Those that are handed it already. */
  readonly held: ReadonlySet<ts.FunctionLikeDeclaration>
  readonly calls: readonly HandingCall[]
}

const known = new WeakMap<Snapshot, Map<ts.FunctionLikeDeclaration, string | null>>()

/** Why a function cannot take one more parameter at its end; null where it can. A state of the code is looked through once for each. */
export function whyNoParameter(target: ts.FunctionLikeDeclaration, snapshot: Snapshot): string | null {
  let answers = known.get(snapshot)
  if (!answers) known.set(snapshot, answers = new Map())
  const before = answers.get(target)
  if (before !== undefined) return before
  const answer = reasonAgainst(target, snapshot)
  answers.set(target, answer)
  return answer
}

function reasonAgainst(target: ts.FunctionLikeDeclaration, snapshot: Snapshot): string | null {
  if (!target.body) return 'its function has no body'
  if (((ts.isFunctionDeclaration(target) && symbolOf(target)?.declarations?.filter(ts.isFunctionLike).length) || 1) > 1) return 'its function has several forms'
  if (target.parameters.some(one => one.dotDotDotToken) || speaksOfArguments(target.body)) return 'its function takes any number of arguments'
  try { refuseUsesAsValue(target, snapshot) } catch (error) {
    // It becomes part of a sentence.
    if (error instanceof Refused) return error.message.replace(/\.$/, '')
    throw error
  }
  return null
}

function speaksOfArguments(node: ts.Node): boolean { return (ts.isIdentifier(node) && node.text === 'arguments') || (ts.forEachChild(node, child => speaksOfArguments(child) || undefined) ?? false) }

/**
 * The functions that use something, and those of the same file that call them, on upwards, as far as they can take it: what one is
 * handed reaches all that it calls. `heldAs`: how a function is handed it already. O(calls of the file × depth of them).
 */
export function handedFunctions(users: ReadonlySet<ts.FunctionLikeDeclaration>, file: ts.SourceFile, wanted: string, heldAs: (target: ts.FunctionLikeDeclaration) => string | undefined, snapshot: Snapshot): HandedFunctions {
  const all = functionsOf(file).map(one => one.target), taking = new Set(users)
  const calls = all.flatMap(by => callsIn(by, new Set(all), snapshot))
  for (let grown = true; grown;) {
    grown = false
    for (const { by, to } of calls) if (taking.has(to) && !taking.has(by) && whyNoParameter(by, snapshot) === null) { taking.add(by); grown = true }
  }
  const held = new Set([...taking].filter(one => heldAs(one) !== undefined))
  // One name for all of them, so that a reader follows it.
  const given = [wanted, `${wanted}Given`].find(name => [...taking].every(one => held.has(one) || freeNameIn(name, one) === name)) ?? wanted
  return { names: new Map([...taking].map(one => [one, heldAs(one) ?? freeNameIn(given, one)])), held, calls: calls.filter(({ by, to }) => taking.has(by) && taking.has(to) && !held.has(to)) }
}

function callsIn(by: ts.FunctionLikeDeclaration, all: ReadonlySet<ts.FunctionLikeDeclaration>, { checker }: Snapshot): HandingCall[] {
  const found: HandingCall[] = []
  const visit = (at: ts.Node): void => {
    if (ts.isCallExpression(at) && ts.isIdentifier(at.expression)) {
      const declaration = checker.getSymbolAtLocation(at.expression)?.valueDeclaration
      const to = declaration && (ts.isVariableDeclaration(declaration) ? declaration.initializer : declaration) as ts.FunctionLikeDeclaration | undefined
      if (to && all.has(to)) found.push({ call: at, by, to })
    }
    ts.forEachChild(at, visit)
  }
  if (by.body) visit(by.body)
  return found
}

/** Writes the parameter, `type = value`, and what each call hands on; what stood between may be left out and stays so. */
export function handToFunctions({ names, held, calls }: HandedFunctions, type: string, value: string, own: FileEditor): void {
  for (const [target, name] of names) if (!held.has(target)) appendParameter(target, `${name}: ${type} = ${value}`, own)
  for (const { call, by, to } of calls) {
    const list = call.arguments, left = to.parameters.filter(one => one.name.getText() !== 'this').length - list.length
    if (left < 0) continue
    const given = [...Array<string>(left).fill('undefined'), names.get(by)!].join(', ')
    if (list.length === 0) own.insert(list.pos, given)
    else own.insert(list.at(-1)!.end, `, ${given}`)
  }
}
