import ts from 'typescript'
import type { InjectPlan } from '../../../model/plan.js'
import { symbolOf } from '../declarations.js'
import { insertParameter } from './constructor-parameter.js'
import type { WriteContext } from './context.js'
import { factoryOf } from './factory.js'
import type { FileEditor, ProjectEditor } from './file-editor.js'
import { calledName, handedName } from './group-functions.js'
import { typeName, writeType } from './injected-type.js'
import type { FoundPoint } from './injection-points.js'
import { lineOf } from './injection-points.js'
import { meansSymbol, mentions } from './narrow.js'
import { freeNameIn } from './parameter-name.js'
import { placeOf } from './place.js'
import { isPortable, portableText } from './portable.js'
import { lowerFirst } from '../../write/names.js'
import { Refused } from '../../write/refused.js'

/**
 * Hands a collaborator to a function or a static method: its last parameter, with what it builds today as the default, so
 * that every call stays as it is. Returns the parameter's name.
 */
export function injectIntoFunction(
  plan: InjectPlan, point: FoundPoint, target: ts.FunctionLikeDeclaration, as: string | null, own: FileEditor, editor: ProjectEditor, context: WriteContext
): string {
  const { snapshot } = context
  refuseUsesAsValue(target, snapshot)
  if (point.group && as) {
    const { group } = point, name = freeNameIn(plan.name ?? handedName(group), target)
    for (const use of point.nodes as ts.Identifier[]) own.replace(use.getStart(), use.end, `${name}.${calledName(use, snapshot)}`)
    appendParameter(target, `${name}: ${typeName(as, own, editor, snapshot)} = ${own.nameFor({ name: group.constant.name.text, file: snapshot.pathOf(group.constant.getSourceFile())!, specifier: null, typeOnly: false })}`, own)
    return name
  }
  const creation = point.nodes[0] as ts.NewExpression
  const className = point.told.label
  const portable = !creation.typeArguments && (creation.arguments ?? []).every(argument => isPortable(argument, snapshot, editor))
  const text = as ? typeName(as, own, editor, snapshot) : null
  const madeType = snapshot.checker.getTypeAtLocation(creation)
  const valueType = () => text ?? writeType(madeType, target, own, editor, context)
  if (portable && runsOnceACall(creation, target)) {
    const name = freeNameIn(plan.name ?? lowerFirst(className), target)
    const parameter = `${name}: ${valueType()} = ${portableText(creation, own, snapshot, editor)}`
    own.replace(creation.getStart(), creation.end, name)
    appendParameter(target, parameter, own)
    return name
  }
  const name = freeNameIn(plan.name ?? `create${className}`, target)
  const factory = factoryOf(creation, portable, target, valueType, own, editor, context)
  own.replace(creation.getStart(), creation.end, `${name}(${factory.passed})`)
  appendParameter(target, `${name}: ${factory.type} = ${factory.textFor(own)}`, own)
  return name
}

/** True where every call that gets through the function runs the creation once, and nothing before it could end the call. */
function runsOnceACall(creation: ts.NewExpression, target: ts.FunctionLikeDeclaration): boolean {
  const body = target.body
  if (!body || !ts.isBlock(body) || placeOf(creation, target).deferred || target.asteriskToken) return false
  const statement = body.statements.find(one => one.pos <= creation.pos && creation.end <= one.end)
  // Only declarations and plain literals before it: whatever else ran first would run after it now.
  return statement === body.statements[0] && (ts.isVariableStatement(statement!) || ts.isReturnStatement(statement!)) &&
    (ts.isVariableStatement(statement!) ? statement.declarationList.declarations[0]?.initializer : (statement as ts.ReturnStatement).expression) === creation
}

/** Puts one more parameter at the end of a function's. */
export function appendParameter(target: ts.FunctionLikeDeclaration, text: string, own: FileEditor): void {
  const list = target.parameters
  const only = list[0]
  const bare = ts.isArrowFunction(target) && only && own.file.text.slice(target.getStart(), only.getStart()).replace(/\basync\b/, '').trim() === ''
  if (bare) own.replace(only.getStart(), only.end, `(${only.getText()}, ${text})`)
  else insertParameter(list, list.length, text, own)
}

/** Called by code that hands it other arguments than are written (`map(f)`), the new parameter could be filled with anything. */
export function refuseUsesAsValue(target: ts.FunctionLikeDeclaration, snapshot: WriteContext['snapshot']): void {
  const declaration = ts.isArrowFunction(target) || ts.isFunctionExpression(target) ? target.parent : target
  const symbol = symbolOf(declaration)
  const name = ts.getNameOfDeclaration(declaration as ts.Declaration)
  if (!symbol || !name || !ts.isIdentifier(name)) throw new Refused('anonymous', 'The function has no name by which its calls could be found.')
  for (const [file, path] of snapshot.paths) {
    if (!mentions(file, name.text)) continue
    const visit = (at: ts.Node): void => {
      if (ts.isImportDeclaration(at) || ts.isExportDeclaration(at) || ts.isTypeNode(at)) return
      if (ts.isIdentifier(at) && at.text === name.text && at !== name && meansSymbol(at, symbol, snapshot.checker)) {
        const used = ts.isPropertyAccessExpression(at.parent) && at.parent.name === at ? at.parent : at
        const called = ts.isCallExpression(used.parent) && used.parent.expression === used
        if (!called && !ts.isExportAssignment(used.parent)) throw new Refused('function-as-value', `${path}:${lineOf(at)} hands ${name.text} itself around, so what it is called with is not known.`)
        if (called && used.parent.arguments.some(ts.isSpreadElement)) throw new Refused('spread', `${path}:${lineOf(at)} passes its arguments with a spread.`)
      }
      ts.forEachChild(at, visit)
    }
    visit(file)
  }
}
