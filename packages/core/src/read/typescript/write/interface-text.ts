import ts from 'typescript'
import type { Narrowable } from '../../write/narrow-wherever-allowed.js'

/** The text of a new interface, without its brackets: `interface Lock<T>`, and one line or more for each member. */
export interface InterfaceText {
  readonly head: string
  readonly lines: readonly string[]
}

/** A place in the new interface's own text where the class stands as a type. */
export interface InterfaceMention extends Narrowable {
  /** Its number among the mentions, in order. */
  readonly mention: number
}

/** Every place of the text where a class, by its local name there, stands as a type. */
export function mentionsIn(text: InterfaceText, className: string, target: string): InterfaceMention[] {
  return startsIn(parse(text), new Set([className])).map((_, mention) => ({ path: target, key: `${target}:new:${mention}`, mention }))
}

/** The text with some of the mentions named otherwise. */
export function renamedMentions(text: InterfaceText, className: string, mentions: readonly InterfaceMention[], name: string): InterfaceText {
  const file = parse(text)
  const starts = startsIn(file, new Set([className]))
  let whole = file.text
  for (const { mention } of [...mentions].sort((a, b) => b.mention - a.mention)) {
    whole = whole.slice(0, starts[mention]) + name + whole.slice(starts[mention]! + className.length)
  }
  const parts = whole.split(SEPARATOR)
  return { head: text.head, lines: parts.slice(1, -1) }
}

/** Where names of types out of a set stand in the declaration of an interface, in order. */
export function typeNamesIn(file: ts.SourceFile, interfaceName: string, names: ReadonlySet<string>): number[] {
  const declaration = file.statements.find(statement => ts.isInterfaceDeclaration(statement) && statement.name.text === interfaceName)
  return declaration ? startsIn(declaration, names) : []
}

/** A comment that no member's text holds, so that the lines can be told apart again. */
const SEPARATOR = '/*\u0000*/'

function parse(text: InterfaceText): ts.SourceFile {
  return ts.createSourceFile('new.ts', [`${text.head} {`, ...text.lines, '}'].join(SEPARATOR), ts.ScriptTarget.Latest, true)
}

function startsIn(node: ts.Node, names: ReadonlySet<string>): number[] {
  const starts: number[] = []
  const visit = (at: ts.Node): void => {
    if (ts.isTypeReferenceNode(at) && ts.isIdentifier(at.typeName) && names.has(at.typeName.text)) starts.push(at.typeName.getStart())
    ts.forEachChild(at, visit)
  }
  visit(node)
  return starts
}
