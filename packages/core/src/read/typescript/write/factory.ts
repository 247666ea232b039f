import ts from 'typescript'
import type { WriteContext } from './context.js'
import type { FileEditor, ProjectEditor } from './file-editor.js'
import { writeType } from './injected-type.js'
import { lineOf } from './injection-points.js'
import { portableText } from './portable.js'
import { Refused } from '../../write/refused.js'

/** A function that stands for a `new`: its type, the arguments that its call is given, and its own text in a file. */
export interface Factory {
  readonly type: string
  readonly passed: string
  readonly textFor: (at: FileEditor) => string
}

/**
 * The factory for a creation. Where all arguments mean the same everywhere (`portable`) they move into the factory, which
 * then takes none; else it takes what the constructor takes. `owner` is the class or function that is handed it.
 */
export function factoryOf(
  creation: ts.NewExpression, portable: boolean, owner: ts.ClassLikeDeclaration | ts.FunctionLikeDeclaration, valueType: () => string,
  own: FileEditor, editor: ProjectEditor, context: WriteContext
): Factory {
  const { checker } = context.snapshot
  const constructed = creation.arguments ?? ts.factory.createNodeArray<ts.Expression>()
  if (constructed.some(ts.isSpreadElement)) throw new Refused('spread', `It is built with a spread argument, line ${lineOf(creation)}; a factory for that cannot be typed surely.`)
  const signature = checker.getResolvedSignature(creation)
  if (!signature) throw new Refused('signature', 'Which constructor it calls is not known.')
  const parameters = portable ? '' : constructed.map((_, index) => {
    const parameter = signature.getParameters()[Math.min(index, signature.getParameters().length - 1)]
    const declared = parameter?.valueDeclaration
    if (!declared) throw new Refused('signature', 'Which constructor it calls is not known.')
    if (ts.isParameter(declared) && declared.dotDotDotToken) throw new Refused('spread', 'Its constructor takes any number of arguments.')
    const optional = ts.isParameter(declared) && (declared.questionToken !== undefined || declared.initializer !== undefined)
    const text = writeType(checker.getTypeOfSymbolAtLocation(parameter, owner), owner, own, editor, context)
    return `${parameter.name}: ${text}${optional && !/\bundefined\b/.test(text) ? ' | undefined' : ''}`
  }).join(', ')
  const plainType = `(${parameters}) => ${valueType()}`
  const textFor = (at: FileEditor): string => {
    if (portable) return `() => ${portableText(creation, at, context.snapshot, editor)}`
    const names = constructed.map((_, index) => signature.getParameters()[index]!.name).join(', ')
    return `(${names}) => new ${portableText(creation.expression, at, context.snapshot, editor)}(${names})`
  }
  return { type: genericsOf(creation, owner, plainType) + plainType, passed: portable ? '' : argumentsOf(creation), textFor }
}

/** Type parameters of the functions between a node and its owner that a type mentions, as the factory has to declare them. */
function genericsOf(inside: ts.Node, owner: ts.Node, type: string): string {
  const found: string[] = []
  for (let at = inside.parent; at !== owner; at = at.parent) {
    if (!ts.isFunctionLike(at)) continue
    for (const parameter of at.typeParameters ?? []) if (new RegExp(`\\b${parameter.name.text}\\b`).test(type)) found.push(parameter.getText())
  }
  return found.length > 0 ? `<${found.join(', ')}>` : ''
}

function argumentsOf(creation: ts.NewExpression): string {
  const list = creation.arguments
  return list && list.length > 0 ? creation.getSourceFile().text.slice(list[0]!.getStart(), list[list.length - 1]!.end) : ''
}
