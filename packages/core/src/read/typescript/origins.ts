import ts from 'typescript'
import type { Origin, ReferenceKind } from '../../model/facts.js'
import { memberName } from './declarations.js'
import { isPureGlobal } from './effects.js'
import { RUNTIME } from './externals.js'

/** What the tracing of values needs to know of the program. */
export interface OriginContext {
  readonly checker: ts.TypeChecker
  /** The project type or external that declares a symbol's declaration, or undefined. */
  readonly nameOfHolder: (declaration: ts.Node) => string | undefined
}

const FURTHEST = 6

/** Where the value of an expression comes from, seen from the class or unit it stands in. */
export function originsOf(expression: ts.Expression, context: OriginContext, depth = 0): readonly Origin[] {
  if (depth > FURTHEST) return [{ how: 'unknown' }]
  const follow = (inner: ts.Expression) => originsOf(inner, context, depth + 1)
  if (ts.isParenthesizedExpression(expression) || ts.isAsExpression(expression) || ts.isNonNullExpression(expression) ||
    ts.isSatisfiesExpression(expression) || ts.isAwaitExpression(expression) || ts.isTypeAssertionExpression(expression)) {
    return follow(expression.expression)
  }
  if (expression.kind === ts.SyntaxKind.ThisKeyword) return [{ how: 'own' }]
  if (expression.kind === ts.SyntaxKind.SuperKeyword) return [{ how: 'inherited' }]
  // What is taken out of a collection is what was put there: all that shows of it is what it was made of.
  if (ts.isNewExpression(expression)) return isOfRuntime(expression.expression, context) ? originsOfAll(expression.arguments ?? [], context, depth) : [{ how: 'created' }]
  if (ts.isArrayLiteralExpression(expression)) return originsOfAll(expression.elements, context, depth)
  if (ts.isSpreadElement(expression)) return follow(expression.expression)
  if (ts.isConditionalExpression(expression)) return unite(follow(expression.whenTrue), follow(expression.whenFalse))
  if (ts.isBinaryExpression(expression)) {
    const operator = expression.operatorToken.kind
    if (operator === ts.SyntaxKind.BarBarToken || operator === ts.SyntaxKind.QuestionQuestionToken) {
      return unite(follow(expression.left), follow(expression.right))
    }
    return operator === ts.SyntaxKind.EqualsToken ? follow(expression.right) : [{ how: 'own' }]
  }
  if (ts.isCallExpression(expression)) {
    const callee = expression.expression
    if (ts.isPropertyAccessExpression(callee)) {
      if (isOfRuntime(callee.expression, context)) return originsOfAll(expression.arguments, context, depth)
      return [gotFrom(callee, expression, follow(callee.expression), context)]
    }
    // A function that was handed in, or is held in a variable, gives what its owner chose.
    return [gotFrom(callee, expression, ts.isIdentifier(callee) ? follow(callee) : [{ how: 'static' }], context)]
  }
  if (ts.isPropertyAccessExpression(expression)) {
    if (expression.expression.kind === ts.SyntaxKind.ThisKeyword) return [{ how: 'field', field: expression.name.text }]
    return [gotFrom(expression, expression, follow(expression.expression), context)]
  }
  if (ts.isElementAccessExpression(expression)) return follow(expression.expression)
  if (ts.isIdentifier(expression)) return originsOfName(expression, context, depth)
  return [{ how: 'own' }]
}

/** Of a collection's parts; one that begins empty is filled by the type itself. */
function originsOfAll(expressions: readonly ts.Expression[], context: OriginContext, depth: number): readonly Origin[] {
  return expressions.length === 0 ? [{ how: 'own' }] : expressions.map(one => originsOf(one, context, depth + 1)).reduce(unite)
}

/** Whether a name is a global that only keeps and gives what it is handed, such as `Map` or `Object`. */
function isOfRuntime(expression: ts.Expression, context: OriginContext): boolean {
  if (!ts.isIdentifier(expression) || !isPureGlobal(expression.text)) return false
  const declaration = context.checker.getSymbolAtLocation(expression)?.declarations?.[0]
  return declaration !== undefined && context.nameOfHolder(declaration) === RUNTIME
}

/** Where what a name means is had from, by the use that is made of it; null for a class that a static member is had of. */
export function originsOfUse(kind: ReferenceKind, receiver: ts.Expression | null, staticReceiver: boolean, context: OriginContext): readonly Origin[] | null {
  if (kind === 'creates' || kind === 'throws') return [{ how: 'created' }]
  if (staticReceiver) return null
  return kind === 'calls-static' || receiver === null ? [{ how: 'static' }] : originsOf(receiver, context)
}

function originsOfName(name: ts.Identifier, context: OriginContext, depth: number): readonly Origin[] {
  const symbol = context.checker.getSymbolAtLocation(name)
  const declaration = symbol?.valueDeclaration ?? symbol?.declarations?.[0]
  if (!symbol || !declaration) return [{ how: 'unknown' }]
  if (symbol.flags & ts.SymbolFlags.Alias || declaration.getSourceFile() !== name.getSourceFile()) return [{ how: 'static' }]
  if (ts.isParameter(declaration)) {
    const owner = declaration.parent
    if (ts.isArrowFunction(owner) || ts.isFunctionExpression(owner)) {
      // The parameter of a callback is whatever the called collaborator passes it.
      const call = owner.parent
      if (ts.isCallExpression(call) && ts.isPropertyAccessExpression(call.expression)) {
        return originsOf(call.expression.expression, context, depth + 1)
      }
    }
    return [{ how: 'handed-in', abstraction: isAbstraction(context.checker.getTypeAtLocation(name)) }]
  }
  if (ts.isVariableDeclaration(declaration)) {
    const list = declaration.parent
    if (ts.isCatchClause(list)) return [{ how: 'unknown' }]
    if (ts.isForOfStatement(list.parent)) return originsOf(list.parent.expression, context, depth + 1)
    if (ts.isVariableStatement(list.parent) && (ts.isSourceFile(list.parent.parent) || ts.isModuleBlock(list.parent.parent))) {
      return [{ how: 'static' }]
    }
    return declaration.initializer ? originsOf(declaration.initializer, context, depth + 1) : [{ how: 'unknown' }]
  }
  if (ts.isBindingElement(declaration)) {
    let at: ts.Node = declaration
    while (ts.isBindingElement(at) || ts.isObjectBindingPattern(at) || ts.isArrayBindingPattern(at)) at = at.parent
    if (ts.isParameter(at)) return [{ how: 'handed-in', abstraction: isAbstraction(context.checker.getTypeAtLocation(name)) }]
    if (ts.isVariableDeclaration(at) && at.initializer) return originsOf(at.initializer, context, depth + 1)
    return [{ how: 'unknown' }]
  }
  return [{ how: 'static' }]
}

function gotFrom(named: ts.Expression, value: ts.Expression, receiver: readonly Origin[], context: OriginContext): Origin {
  const at = ts.isPropertyAccessExpression(named) ? named.name : named
  const declaration = context.checker.getSymbolAtLocation(at)?.declarations?.[0]
  const from = declaration ? context.nameOfHolder(declaration) ?? '' : ''
  // What plain data or a list hands on is what was put there, not something the list made.
  if (from === '') return receiver.length === 1 ? receiver[0]! : { how: 'unknown' }
  return { how: 'got-from', from, abstraction: isAbstraction(context.checker.getTypeAtLocation(value)), receiver }
}

function unite(a: readonly Origin[], b: readonly Origin[]): readonly Origin[] {
  const seen = new Set(a.map(origin => JSON.stringify(origin)))
  return [...a, ...b.filter(origin => !seen.has(JSON.stringify(origin)))]
}

/** Interfaces, abstract classes and function types are abstractions: a double can stand in for them. */
export function isAbstraction(type: ts.Type): boolean {
  if (type.isUnion()) return type.types.filter(part => !(part.flags & (ts.TypeFlags.Undefined | ts.TypeFlags.Null))).every(isAbstraction)
  const declarations = type.symbol?.declarations ?? []
  return declarations.length > 0 && declarations.every(declaration =>
    ts.isInterfaceDeclaration(declaration) || ts.isTypeLiteralNode(declaration) || ts.isFunctionTypeNode(declaration) ||
    ts.isMappedTypeNode(declaration) ||
    (ts.isClassDeclaration(declaration) && declaration.modifiers?.some(modifier => modifier.kind === ts.SyntaxKind.AbstractKeyword) === true))
}

/** Origins of every field of a class, from initialisers, assignments to `this.name` and parameter properties. */
export function fieldOrigins(node: ts.ClassLikeDeclaration, context: OriginContext): Map<string, readonly Origin[]> {
  const origins = new Map<string, readonly Origin[]>()
  const add = (name: string, found: readonly Origin[]) => origins.set(name, unite(origins.get(name) ?? [], found))
  for (const member of node.members) {
    if (ts.isPropertyDeclaration(member) && member.initializer) add(memberName(member), originsOf(member.initializer, context))
    if (ts.isConstructorDeclaration(member)) {
      for (const parameter of member.parameters) {
        if (!ts.isParameterPropertyDeclaration(parameter, member)) continue
        add(memberName(parameter), [{ how: 'handed-in', abstraction: isAbstraction(context.checker.getTypeAtLocation(parameter)) }])
      }
    }
  }
  const visit = (at: ts.Node): void => {
    if (ts.isClassLike(at)) return
    if (ts.isBinaryExpression(at) && at.operatorToken.kind >= ts.SyntaxKind.FirstAssignment &&
      at.operatorToken.kind <= ts.SyntaxKind.LastAssignment && ts.isPropertyAccessExpression(at.left) &&
      at.left.expression.kind === ts.SyntaxKind.ThisKeyword) {
      add(at.left.name.text, originsOf(at.right, context))
    }
    ts.forEachChild(at, visit)
  }
  for (const member of node.members) ts.forEachChild(member, visit)
  return origins
}

/** Where what a pattern takes out of an object comes from. */
export function patternOrigins(element: ts.BindingElement, context: OriginContext): readonly Origin[] {
  let at: ts.Node = element
  while (ts.isBindingElement(at) || ts.isObjectBindingPattern(at) || ts.isArrayBindingPattern(at)) at = at.parent
  if (ts.isVariableDeclaration(at) && at.initializer) return originsOf(at.initializer, context)
  if (ts.isParameter(at)) return [{ how: 'handed-in', abstraction: isAbstraction(context.checker.getTypeAtLocation(at)) }]
  return [{ how: 'unknown' }]
}
