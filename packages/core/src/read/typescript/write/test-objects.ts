import ts from 'typescript'
import type { MadeOf } from '../../write/made-in-tests.js'
import { symbolOf } from '../declarations.js'
import type { Snapshot } from '../session.js'
import type { ProjectEditor } from './file-editor.js'
import { creationSites } from './injection-points.js'
import { meansSymbol } from './narrow.js'
import { isQuietCreation, isSettled } from './settled.js'

/** A variable of a test that holds an object of a class, each time a new one, and asks it for some methods alone. */
export interface TestObject {
  readonly file: ts.SourceFile
  readonly sites: readonly ts.NewExpression[]
  /** The name of the class in its declared type. */
  readonly annotation: ts.Identifier | undefined
}

/**
 * The variables of tests that could as well hold an object that is made of a part of the arguments, as long as it has these methods. Left
 * out is what a test may see otherwise: a constructor that does more than fill fields, arguments that do something and would be gone.
 */
export function testObjects(node: ts.ClassDeclaration, methods: ReadonlySet<string>, made: readonly MadeOf[], snapshot: Snapshot): TestObject[] {
  const found = new Map<ts.Symbol, ts.NewExpression[]>(), ruled = new Set<ts.Symbol>()
  for (const site of creationSites(node, snapshot)) {
    if (!ts.isNewExpression(site) || !snapshot.files.isTest(snapshot.pathOf(site.getSourceFile())!)) continue
    const name = ts.isVariableDeclaration(site.parent) ? site.parent.name : ts.isBinaryExpression(site.parent) && site.parent.operatorToken.kind === ts.SyntaxKind.EqualsToken && ts.isExpressionStatement(site.parent.parent) ? site.parent.left : undefined
    const symbol = name && ts.isIdentifier(name) ? snapshot.checker.getSymbolAtLocation(name) : undefined
    if (!symbol) continue
    found.set(symbol, [...found.get(symbol) ?? [], site])
    if (site.typeArguments || !isQuietCreation(site, snapshot) || !canTake(site.arguments ?? [], made, snapshot)) ruled.add(symbol)
  }
  return [...found].flatMap(([symbol, sites]) => {
    const declared = symbol.valueDeclaration, file = sites[0]!.getSourceFile()
    if (ruled.has(symbol) || !declared || !ts.isVariableDeclaration(declared) || declared.getSourceFile() !== file || (declared.initializer && !sites.includes(declared.initializer as ts.NewExpression))) return []
    const annotation = declared.type && ts.isTypeReferenceNode(declared.type) && !declared.type.typeArguments && ts.isIdentifier(declared.type.typeName) ? declared.type.typeName : undefined
    if ((declared.type && !(annotation && meansSymbol(annotation, symbolOf(node)!, snapshot.checker))) || isExported(declared)) return []
    return asksOnly(symbol, declared, sites, methods, file, snapshot) && !isLookedInto(node, file, snapshot) ? [{ file, sites, annotation }] : []
  })
}

/** Lets them hold an object of the other class; how many there are in each test file. */
export function holdTheOther(objects: readonly TestObject[], made: readonly MadeOf[], name: string, path: string, editor: ProjectEditor, snapshot: Snapshot): ReadonlyMap<string, number> {
  const counts = new Map<string, number>()
  for (const { file, sites, annotation } of objects) {
    const test = snapshot.pathOf(file)!, own = editor.editor(test), local = own.nameFor({ name, file: path, specifier: null, typeOnly: false })
    counts.set(test, (counts.get(test) ?? 0) + 1)
    if (annotation) own.replace(annotation.getStart(file), annotation.end, local)
    for (const site of sites) {
      const given = site.arguments ?? [], text = made.map(one => (typeof one === 'string' ? one : given[one]!.getText(file))).join(', ')
      own.keepNames(text)
      own.replace(site.expression.getStart(file), site.end, `${local}(${text})`)
    }
  }
  return counts
}

/** Whether arguments can be handed on so: those that are needed are there, and what is left out, or comes in another order, does nothing. */
function canTake(given: readonly ts.Expression[], made: readonly MadeOf[], snapshot: Snapshot): boolean {
  if (given.some(ts.isSpreadElement) || made.some(one => typeof one === 'number' && given.length <= one)) return false
  const acting = given.flatMap((one, at) => (doesNothing(one, snapshot) ? [] : [at]))
  return acting.length === 0 || (acting.length === 1 && made.includes(acting[0]!))
}

function doesNothing(node: ts.Expression, snapshot: Snapshot): boolean {
  if (ts.isArrowFunction(node) || ts.isFunctionExpression(node)) return true
  if (ts.isArrayLiteralExpression(node)) return node.elements.every(one => doesNothing(one, snapshot))
  if (ts.isObjectLiteralExpression(node)) return node.properties.every(one => ts.isShorthandPropertyAssignment(one) || (ts.isPropertyAssignment(one) && !ts.isComputedPropertyName(one.name) && doesNothing(one.initializer, snapshot)))
  if (ts.isNewExpression(node)) return isQuietCreation(node, snapshot) && (node.arguments ?? []).every(one => doesNothing(one, snapshot))
  return isSettled(node, snapshot)
}

/** Whether all that a file does with a variable is to set it at certain places, and to call certain methods of it. */
function asksOnly(symbol: ts.Symbol, declared: ts.VariableDeclaration, sites: readonly ts.NewExpression[], methods: ReadonlySet<string>, file: ts.SourceFile, { checker }: Snapshot): boolean {
  let asks = 0, isOther = false
  const visit = (at: ts.Node): void => {
    if (ts.isIdentifier(at) && at.text === symbol.name && (checker.getSymbolAtLocation(at) === symbol || (ts.isShorthandPropertyAssignment(at.parent) && checker.getShorthandAssignmentValueSymbol(at.parent) === symbol))) {
      const { parent } = at
      if (ts.isPropertyAccessExpression(parent) && parent.expression === at && ts.isCallExpression(parent.parent) && parent.parent.expression === parent && methods.has(parent.name.text)) asks++
      else if (at !== declared.name && !(ts.isBinaryExpression(parent) && parent.left === at && sites.includes(parent.right as ts.NewExpression))) isOther = true
    }
    ts.forEachChild(at, visit)
  }
  visit(file)
  return asks > 0 && !isOther
}

/** Whether a file looks into the class itself: its prototype or its statics, which may have been replaced for the test. */
function isLookedInto(node: ts.ClassDeclaration, file: ts.SourceFile, { checker }: Snapshot): boolean {
  const symbol = symbolOf(node)!
  const visit = (at: ts.Node): boolean => (ts.isIdentifier(at) && meansSymbol(at, symbol, checker) && !ts.isNewExpression(at.parent) && !ts.isTypeReferenceNode(at.parent) && !ts.isImportSpecifier(at.parent) && !ts.isImportClause(at.parent)) || (ts.forEachChild(at, child => visit(child) || undefined) ?? false)
  return visit(file)
}

function isExported(declared: ts.VariableDeclaration): boolean { return (ts.getCombinedModifierFlags(declared) & ts.ModifierFlags.Export) !== 0 }
