import ts from 'typescript'
import { memberName } from '../declarations.js'
import type { Snapshot } from '../session.js'
import { isInLoadCircle } from './new-file-cycle.js'

/** A function whose body is written out. */
export type WrittenFunction = (ts.MethodDeclaration | ts.FunctionDeclaration | ts.FunctionExpression | ts.ArrowFunction) & { readonly body: ts.Block }

/** Code in which a switch can stand: a member of a class, or a function of a file. */
export interface SwitchHome {
  readonly member: string
  /** The member as a reader names it: with its class before it, if it has one. */
  readonly told: string
  /** The class whose objects can be handed what chooses; none for what belongs to no object. */
  readonly owner: ts.ClassDeclaration | undefined
  /** The first statement of the file that declares it. */
  readonly top: ts.Statement
  readonly code: ts.Node
}

/** Places of a class, or of a file's own functions. */
export function switchHomes(node: ts.ClassLikeDeclaration | ts.SourceFile, snapshot: Snapshot): SwitchHome[] {
  if (/\.[cm]?jsx?$/.test(node.getSourceFile().fileName)) return []
  return ts.isSourceFile(node) ? homesOfFile(node, snapshot) : homesOfClass(node)
}

function homesOfClass(owner: ts.ClassLikeDeclaration): SwitchHome[] {
  const { name } = owner
  if (!ts.isClassDeclaration(owner) || !name || !ts.isSourceFile(owner.parent)) return []
  // A framework builds it, which knows nothing of what it would be handed.
  const isBuilt = (ts.getDecorators(owner)?.length ?? 0) > 0 || owner.members.some(one => ts.isConstructorDeclaration(one) && one.parameters.some(parameter => ts.getDecorators(parameter)?.length))
  return owner.members.flatMap(member => {
    const code = ts.isMethodDeclaration(member) ? member.body && member : ts.isPropertyDeclaration(member) ? member.initializer : undefined
    const isStatic = ts.getModifiers(member as ts.MethodDeclaration)?.some(one => one.kind === ts.SyntaxKind.StaticKeyword) === true
    if (!code || (isBuilt && !isStatic)) return []
    return [{ member: memberName(member), told: `${name.text}.${memberName(member)}`, owner: isStatic ? undefined : owner, top: owner, code }]
  })
}

function homesOfFile(file: ts.SourceFile, snapshot: Snapshot): SwitchHome[] {
  if (!ts.isExternalModule(file)) return []
  const path = snapshot.pathOf(file)!
  return file.statements.flatMap((top, at): SwitchHome[] => {
    if (ts.isFunctionDeclaration(top)) {
      // A function may be called before its file is loaded, and the objects that it would then ask are not there yet.
      const [first] = file.statements.filter(one => ts.isFunctionDeclaration(one) && one.name?.text === top.name?.text)
      if (!top.body || !top.name || first !== top || isInLoadCircle(snapshot, path) || file.statements.slice(0, at).some(one => runsAtLoad(one, snapshot))) return []
      return [{ member: top.name.text, told: top.name.text, owner: undefined, top, code: top }]
    }
    const [only, another] = ts.isVariableStatement(top) && top.declarationList.flags & ts.NodeFlags.Const ? top.declarationList.declarations : []
    if (!only || another || !ts.isIdentifier(only.name) || !only.initializer) return []
    return [{ member: only.name.text, told: only.name.text, owner: undefined, top, code: only.initializer }]
  })
}

/** Whether a statement at the top of a file may run a function as the file is loaded. */
export function runsAtLoad(statement: ts.Statement, snapshot: Snapshot): boolean {
  if (ts.isImportDeclaration(statement) || ts.isExportDeclaration(statement) || ts.isInterfaceDeclaration(statement) || ts.isTypeAliasDeclaration(statement)) return false
  const runs = (node: ts.Node): boolean => {
    if (((ts.isCallExpression(node) || ts.isNewExpression(node)) && mayCallBack(node, snapshot)) || ts.isTaggedTemplateExpression(node) || ts.isDecorator(node) || ts.isClassStaticBlockDeclaration(node) || ts.isAwaitExpression(node)) return true
    if (ts.isFunctionLike(node)) return node.name !== undefined && ts.isComputedPropertyName(node.name) && runs(node.name)
    if (ts.isPropertyDeclaration(node) && !ts.getModifiers(node)?.some(one => one.kind === ts.SyntaxKind.StaticKeyword)) return ts.getDecorators(node) !== undefined
    return ts.forEachChild(node, child => runs(child) || undefined) ?? false
  }
  return runs(statement)
}

/** Whether a call could run something of the project: it calls that, or hands a function to a library. */
function mayCallBack(node: ts.CallExpression | ts.NewExpression, { checker, pathOf }: Snapshot): boolean {
  const declaration = checker.getResolvedSignature(node)?.declaration ?? checker.getSymbolAtLocation(node.expression)?.declarations?.[0]
  if (!declaration || pathOf(declaration.getSourceFile()) !== undefined) return true
  const handsFunction = (at: ts.Node): boolean => ts.isFunctionLike(at) || (ts.isExpression(at) && checker.getTypeAtLocation(at).getCallSignatures().length > 0 && !ts.isCallExpression(at.parent)) || (ts.forEachChild(at, child => handsFunction(child) || undefined) ?? false)
  return node.arguments?.some(handsFunction) ?? false
}

/** The function that a statement leaves when it gives back a value, where that is not taken piece by piece. */
export function functionAround(node: ts.Node): WrittenFunction | undefined {
  const around = ts.findAncestor(node.parent, one => ts.isFunctionLike(one) || ts.isClassStaticBlockDeclaration(one))
  if (!around || !(ts.isMethodDeclaration(around) || ts.isFunctionDeclaration(around) || ts.isFunctionExpression(around) || ts.isArrowFunction(around)) || !around.body || !ts.isBlock(around.body) || around.asteriskToken) return undefined
  return around as WrittenFunction
}

/** Whether what a function gives back is waited for. */
export function isAsync(around: WrittenFunction): boolean { return ts.getModifiers(around)?.some(one => one.kind === ts.SyntaxKind.AsyncKeyword) === true }

/** Whether `this` is the same in a node as in code around it. */
export function isOfSameObject(node: ts.Node, code: ts.Node): boolean {
  for (let at = node; at !== code; at = at.parent) if (ts.isClassLike(at) || (ts.isFunctionLike(at) && !ts.isArrowFunction(at))) return false
  return true
}
