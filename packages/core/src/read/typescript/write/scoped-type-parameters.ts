import ts from 'typescript'
import type { TypeWriter } from './written-type.js'

/** Type parameters that code can name where it stands, the outermost first; those of one name by the innermost. */
export function typeParametersAround(node: ts.Node): ts.TypeParameterDeclaration[] {
  const found = new Map<string, ts.TypeParameterDeclaration>()
  for (let at: ts.Node | undefined = node; at; at = at.parent) {
    if (!ts.isFunctionLike(at) && !ts.isClassLike(at)) continue
    for (const one of [...(at.typeParameters ?? [])].reverse()) if (!found.has(one.name.text)) found.set(one.name.text, one)
  }
  return [...found.values()].reverse()
}

/** Whether a name is a type that the class around a node, or a function in it, leaves open. */
export function isTypeParameterOf(symbol: ts.Symbol, node: ts.Node): boolean {
  return symbol.declarations?.some(one => ts.isTypeParameterDeclaration(one) && one.getSourceFile() === node.getSourceFile()) === true
}

/** Those of them that texts name, and that these need themselves. */
export function namedTypeParameters(around: readonly ts.TypeParameterDeclaration[], texts: readonly string[]): ts.TypeParameterDeclaration[] {
  const words = new Set(texts.flatMap(wordsIn)), found = new Set<ts.TypeParameterDeclaration>()
  const add = (one: ts.TypeParameterDeclaration): void => {
    if (found.has(one)) return
    found.add(one)
    const needed = new Set(wordsIn(`${one.constraint?.getText() ?? ''} ${one.default?.getText() ?? ''}`))
    around.filter(other => needed.has(other.name.text)).forEach(add)
  }
  around.filter(one => words.has(one.name.text)).forEach(add)
  return around.filter(one => found.has(one))
}

/** `<Craft extends Boat>`, or nothing for none. What a class alone may say of them (`in`, `out`) is left out, and what they are if nothing is said. */
export function writtenTypeParameters(parameters: readonly ts.TypeParameterDeclaration[], write: TypeWriter): string {
  if (parameters.length === 0) return ''
  return `<${parameters.map(one => {
    if (one.constraint) write.source(one.constraint)
    return one.constraint ? `${one.name.text} extends ${one.constraint.getText()}` : one.name.text
  }).join(', ')}>`
}

/** `<Craft>` as a call names them. */
export function givenTypeArguments(parameters: readonly ts.TypeParameterDeclaration[]): string { return parameters.length === 0 ? '' : `<${parameters.map(one => one.name.text).join(', ')}>` }

function wordsIn(text: string): string[] { return text.match(/[\p{L}\p{N}_$]+/gu) ?? [] }
