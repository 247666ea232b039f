import type { ClassSymbol } from '../../binding/symbols.js'
import { CONSTRUCTOR, FieldSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH, NONE } from '../../syntax/flat-tree.js'
import type { MadeOf } from '../../write/made-in-tests.js'
import { parentOf } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { LocalSymbol } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import type { JavaWriteContext } from './context.js'
import { creationSites } from './creation-sites.js'
import type { JavaEditor } from './java-editor.js'
import { argumentNodes } from './portable.js'
import { isQuietCreation, isSettled } from './settled.js'

/** A variable or field of a test that holds an object of a class, each time a new one, and asks it for some methods alone. */
export interface TestObject {
  readonly file: JavaFile
  readonly path: string
  readonly sites: readonly Node[]
  /** Its declared type. */
  readonly type: Node
}

type Variable = LocalSymbol | FieldSymbol

/**
 * The variables of tests of the same package that could as well hold an object that is made of a part of the arguments, as long as it has
 * these methods. Left out is what a test may see otherwise: a constructor that does more than fill fields, arguments that do something.
 */
export function testObjects(symbol: ClassSymbol, methods: ReadonlySet<string>, made: readonly MadeOf[], context: JavaWriteContext): TestObject[] {
  const constructors = symbol.own(CONSTRUCTOR).filter(one => one instanceof MethodSymbol), [constructor] = constructors
  if (!constructor || constructors.length > 1) return []
  const found = new Map<Variable, { file: JavaFile; path: string; sites: Node[] }>(), ruled = new Set<Variable>()
  for (const { file, node, kind } of creationSites(constructor, context)) {
    if (!context.state.files.isTest(file.path) || file.packageName !== symbol.packageName) continue
    const variable = kind === 'creation' ? variableOf(node, file) : undefined
    if (!variable) continue
    const entry = found.get(variable) ?? { file, path: file.path, sites: [] }
    entry.sites.push(node)
    found.set(variable, entry)
    if (file.tree.childOf(node, Kind.ClassBody) !== NONE || file.tree.childOf(file.tree.child(node, Field.Type), Kind.TypeArguments) !== NONE || !isQuietCreation(node, file, context.bound.program) || !canTake(argumentNodes(file, node), made, file, context)) ruled.add(variable)
  }
  return [...found].flatMap(([variable, { file, path, sites }]) => {
    const { tree } = file, declarator = declaratorOf(variable, file), type = tree.child(parentOf(tree, declarator), Field.Type)
    if (ruled.has(variable) || tree.kind(declarator) !== Kind.VariableDeclarator || !/^(var|[\p{L}_$][\p{L}\p{N}_$]*)$/u.test(tree.textOf(type)) || (tree.textOf(type) !== 'var' && file.meaning(type) !== symbol)) return []
    if (variable instanceof FieldSymbol && variable.flags & (Flags.Public | Flags.Protected)) return []
    const value = tree.child(declarator, Field.Value), isAlone = tree.children(parentOf(tree, declarator)).filter(one => tree.kind(one) === Kind.VariableDeclarator).length === 1
    return isAlone && (value === NONE || sites.includes(value)) && asksOnly(variable, sites, methods, file) && !isLookedInto(symbol, file) ? [{ file, path, sites, type }] : []
  })
}

/** Lets them hold an object of the other class; how many there are in each test. */
export function holdTheOther(objects: readonly TestObject[], made: readonly MadeOf[], name: string, editor: JavaEditor): ReadonlyMap<string, number> {
  const counts = new Map<string, number>()
  for (const { file, path, sites, type } of objects) {
    const { tree } = file, own = editor.file(path)
    counts.set(path, (counts.get(path) ?? 0) + 1)
    if (tree.textOf(type) !== 'var') own.replace(tree.start(type), tree.end(type), name)
    for (const site of sites) {
      const given = argumentNodes(file, site), text = made.map(one => (typeof one === 'string' ? one : tree.textOf(given[one]!))).join(', ')
      own.replace(tree.start(tree.child(site, Field.Type)), tree.end(site), `${name}(${text})`)
    }
  }
  return counts
}

/** Where a variable is declared by its name. */
function declaratorOf(variable: Variable, { tree }: JavaFile): Node { return variable instanceof FieldSymbol ? parentOf(tree, variable.node) : variable.node }

/** What a creation is put into where it stands. */
function variableOf(node: Node, file: JavaFile): Variable | undefined {
  const { tree } = file, parent = parentOf(tree, node), kind = tree.kind(parent)
  if (kind === Kind.AssignmentExpression && tree.kind(parentOf(tree, parent)) === Kind.ExpressionStatement && tree.child(parent, Field.Right) === node) {
    const left = tree.child(parent, Field.Left), meaning = tree.kind(left) === Kind.FieldAccess && tree.kind(tree.first(left)) === Kind.This ? file.meaning(tree.child(left, Field.Field)) : file.meaning(left)
    return meaning instanceof LocalSymbol || meaning instanceof FieldSymbol ? meaning : undefined
  }
  return kind === Kind.VariableDeclarator ? usesOf(file, meaning => declaratorOf(meaning, file) === parent)[0]?.variable : undefined
}

/** Every place of a file that names certain variables. */
function usesOf(file: JavaFile, wanted: (meaning: Variable) => boolean): { readonly at: Node; readonly variable: Variable }[] {
  const { tree } = file, found: { at: Node; variable: Variable }[] = []
  for (let at = 0; at < tree.size * NODE_WIDTH; at += NODE_WIDTH) {
    const meaning = tree.kind(at) === Kind.Identifier ? file.meaning(at) : undefined
    if ((meaning instanceof LocalSymbol || (meaning instanceof FieldSymbol && meaning.node >= 0)) && wanted(meaning)) found.push({ at, variable: meaning })
  }
  return found
}

/** Whether arguments can be handed on so: those that are needed are there, and what is left out, or comes in another order, does nothing. */
function canTake(given: readonly Node[], made: readonly MadeOf[], file: JavaFile, { bound: { program } }: JavaWriteContext): boolean {
  if (made.some(one => typeof one === 'number' && given.length <= one)) return false
  const doesNothing = (at: Node): boolean => {
    const kind = file.tree.kind(at)
    return kind === Kind.LambdaExpression || isSettled(at, file, program) || (kind === Kind.ObjectCreationExpression && isQuietCreation(at, file, program) && argumentNodes(file, at).every(doesNothing))
  }
  const acting = given.flatMap((one, at) => (doesNothing(one) ? [] : [at]))
  return acting.length === 0 || (acting.length === 1 && made.includes(acting[0]!))
}

/** Whether all that a file does with a variable is to set it at certain places, and to call certain methods of it. */
function asksOnly(variable: Variable, sites: readonly Node[], methods: ReadonlySet<string>, file: JavaFile): boolean {
  const { tree } = file
  let asks = 0
  for (const { at } of usesOf(file, meaning => meaning === variable)) {
    const before = parentOf(tree, at)
    if (before === declaratorOf(variable, file) && tree.child(before, Field.Name) === at) continue
    const whole = tree.kind(before) === Kind.FieldAccess && tree.child(before, Field.Field) === at && tree.kind(tree.first(before)) === Kind.This ? before : at, parent = parentOf(tree, whole)
    if (tree.kind(parent) === Kind.MethodInvocation && tree.child(parent, Field.Object) === whole && methods.has(tree.textOf(tree.child(parent, Field.Name)))) asks++
    else if (!(tree.kind(parent) === Kind.AssignmentExpression && tree.child(parent, Field.Left) === whole && sites.includes(tree.child(parent, Field.Right)))) return false
  }
  return asks > 0
}

/** Whether a file speaks of the class itself, as what replaces objects for a test does. */
function isLookedInto(symbol: ClassSymbol, file: JavaFile): boolean {
  const { tree } = file
  for (let at = 0; at < tree.size * NODE_WIDTH; at += NODE_WIDTH) if (tree.kind(at) === Kind.ClassLiteral && file.meaning(tree.first(at)) === symbol) return true
  return false
}
