import ts from 'typescript'
import type { TextEdit } from '../../../edit/text-edit.js'
import { applyEdits } from '../../../edit/text-edit.js'
import { Refused } from '../../write/refused.js'
import type { Snapshot } from '../session.js'
import type { MovedText } from './check.js'
import type { FileEditor } from './file-editor.js'
import { attachedEnd } from './moving-statements.js'

/** Members of a class as the members of another in the same file: their text, and where each piece of it begins there. */
export interface MovedMembers {
  readonly text: string
  /** `at` counts from the beginning of the text. */
  readonly pieces: readonly MovedText[]
}

/** `bare`: members whose comments stay where they are; `editsOf`: what is different in a member afterwards. */
export function moveMembers(going: readonly ts.ClassElement[], bare: ReadonlySet<ts.ClassElement>, editsOf: (member: ts.ClassElement) => TextEdit[], own: FileEditor): MovedMembers {
  const { file, path, style: { indent, lineEnd } } = own
  let text = ''
  const pieces: MovedText[] = []
  going.forEach((member, index) => {
    const start = bare.has(member) ? member.getStart(file) : commentedStart(member, file), end = attachedEnd(member, file)
    const before = going[index - 1]
    if (before && !(ts.isPropertyDeclaration(member) && ts.isPropertyDeclaration(before)) && !isOverload(before)) text += lineEnd
    const edits = editsOf(member)
    pieces.push({ from: path, start, end, to: path, at: text.length + indent.length, edits })
    text += indent + applyEdits(file.text.slice(start, end), edits.map(edit => ({ ...edit, start: edit.start - start, end: edit.end - start }))) + lineEnd
  })
  return { text, pieces }
}

function isOverload(member: ts.ClassElement): boolean { return ts.isMethodDeclaration(member) && !member.body }

/** How far a place has moved by edits that end before it. */
export function shiftAt(at: number, edits: readonly TextEdit[]): number {
  let shift = 0
  for (const edit of edits) if (edit.end <= at && edit.start < at) shift += edit.text.length - (edit.end - edit.start)
  return shift
}

/** Where a member begins, the comments directly above it counted in. */
export function commentedStart(member: ts.ClassElement, file: ts.SourceFile): number {
  let start = member.getStart(file)
  for (const comment of [...ts.getLeadingCommentRanges(file.text, member.pos) ?? []].reverse()) {
    const line = file.text.slice(file.text.lastIndexOf('\n', comment.pos) + 1, comment.pos)
    if (line.trim() !== '' || /\n\s*\n/.test(file.text.slice(comment.end, start).replace(/\r/g, ''))) break
    start = comment.pos
  }
  return start
}

/** What a method hands on to another of the same parameters, or of some of them. */
export function passedOn(method: ts.MethodDeclaration | ts.FunctionDeclaration | ts.AccessorDeclaration, parameters: readonly ts.ParameterDeclaration[] = method.parameters): string {
  return parameters.map(parameter => {
    if (!ts.isIdentifier(parameter.name) || parameter.name.text === 'this') throw new Refused('parameters', `${method.name!.getText()} takes its arguments apart in its head, so that they cannot be handed on`)
    return `${parameter.dotDotDotToken ? '...' : ''}${parameter.name.text}`
  }).join(', ')
}

export function returnsNothing(method: ts.MethodDeclaration, { checker }: Snapshot): boolean {
  const signature = checker.getSignatureFromDeclaration(method)
  return signature !== undefined && (checker.getReturnTypeOfSignature(signature).flags & ts.TypeFlags.Void) !== 0
}
