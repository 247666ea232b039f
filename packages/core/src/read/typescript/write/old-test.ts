import ts from 'typescript'
import type { OldTest, TestSetUp } from '../../../model/test-beside.js'
import type { Snapshot } from '../session.js'
import { symbolOf } from '../declarations.js'
import { lineOf } from './injection-points.js'

/** More of a test than this is not shown. */
const MOST_LINES = 40

/** The test with the least set-up for an object of a class that is there already; undefined where none builds one. */
export function oldTest(node: ts.ClassLikeDeclaration, snapshot: Snapshot): OldTest | undefined {
  const own = symbolOf(node)
  let found: { body: ts.Node; at: ts.Node; setUp: TestSetUp } | undefined
  for (const [file, path] of snapshot.paths) {
    if (!snapshot.files.isTest(path)) continue
    const visit = (at: ts.Node): void => {
      if (ts.isNewExpression(at) && classBuilt(at, snapshot) === own) {
        const body = blockAround(at)
        const setUp = body && setUpUntil(body, at, snapshot)
        if (setUp && (!found || setUp.lines < found.setUp.lines)) found = { body, at, setUp }
      }
      ts.forEachChild(at, visit)
    }
    if (file.text.includes(node.name?.text ?? '')) visit(file)
  }
  if (!found) return undefined
  const file = found.body.getSourceFile(), outer = statementOf(found.body)
  const line = lineOf(outer), last = file.getLineAndCharacterOfPosition(outer.end).line + 1
  return { path: snapshot.pathOf(file)!, line, text: file.text.split(/\r?\n/).slice(line - 1, Math.min(last, line - 1 + MOST_LINES)), old: found.setUp }
}

function classBuilt(node: ts.NewExpression, { checker }: Snapshot): ts.Symbol | undefined {
  const symbol = checker.getSymbolAtLocation(node.expression)
  return symbol && symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol
}

/** The outermost function around a place: the test, or what sets up for several of them. */
function blockAround(at: ts.Node): ts.Block | undefined {
  let found: ts.Block | undefined
  for (let node: ts.Node = at; node.parent; node = node.parent) if (ts.isBlock(node) && ts.isFunctionLike(node.parent)) { found = node; if (isTestCall(node.parent)) break }
  return found
}

function isTestCall(node: ts.Node): boolean { return ts.isCallExpression(node.parent) && /^(it|test|beforeEach|before)$/.test(node.parent.expression.getText().split('.')[0]!) }

function statementOf(body: ts.Node): ts.Node { return ts.findAncestor(body.parent, one => ts.isStatement(one)) ?? body }

/** The statements up to the one that builds it, and what they build. */
function setUpUntil(body: ts.Block, at: ts.Node, snapshot: Snapshot): TestSetUp {
  const statements = body.statements.slice(0, body.statements.findIndex(one => one.pos <= at.pos && at.end <= one.end) + 1)
  let realObjects = 0
  const visit = (node: ts.Node): void => {
    if (ts.isNewExpression(node) && node !== at) {
      const declaration = classBuilt(node, snapshot)?.declarations?.[0]
      if (declaration && ts.isClassLike(declaration) && snapshot.pathOf(declaration.getSourceFile()) !== undefined && !snapshot.files.isTest(snapshot.pathOf(declaration.getSourceFile())!)) realObjects++
    }
    ts.forEachChild(node, visit)
  }
  for (const one of statements) visit(one)
  const [first] = statements, last = statements.at(-1)
  if (!first || !last) return { lines: 0, realObjects }
  const file = body.getSourceFile()
  return { lines: file.getLineAndCharacterOfPosition(last.end).line - file.getLineAndCharacterOfPosition(first.getStart(file)).line + 1, realObjects }
}
