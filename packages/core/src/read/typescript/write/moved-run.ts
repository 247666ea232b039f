import ts from 'typescript'
import type { TextEdit } from '../../../edit/text-edit.js'
import { applyEdits } from '../../../edit/text-edit.js'
import { Refused } from '../../write/refused.js'
import type { Snapshot } from '../session.js'
import { importLines } from './extract-interface.js'
import type { HandedParameter } from './facade-parts.js'
import type { FileEditor, ProjectEditor } from './file-editor.js'
import type { NeededName } from './file-imports.js'
import { attachedEnd } from './moving-statements.js'
import { namesElsewhere } from './names-elsewhere.js'
import { valueImports } from './new-file-imports.js'
import type { FileStyle } from './style.js'
import { TypeWriter } from './written-type.js'

/** Statements of one place as they stand in a new file. */
export class MovedRun {
  readonly write: TypeWriter
  /** Offsets of the statements in their own file. */
  readonly start: number
  readonly end: number
  readonly edits: readonly TextEdit[]
  readonly body: string
  private readonly style: FileStyle
  private readonly values: Map<string, Omit<NeededName, 'typeOnly'>>

  /**
   * `holes`: what stands in the place of an expression; `margin`: what their lines begin with there; `others`: others in the
   * same new file; `more`: what else is different there; `within`: the file itself, where they stay in it.
   */
  constructor(
    place: { readonly node: ts.Node; readonly statements: readonly ts.Statement[] }, holes: ReadonlyMap<ts.Node, string>, margin: string, private readonly editor: ProjectEditor, snapshot: Snapshot,
    others?: MovedRun, more: readonly TextEdit[] = [], private readonly within?: FileEditor
  ) {
    const { node, statements } = place, file = statements[0]!.getSourceFile()
    this.write = others?.write ?? new TypeWriter(snapshot, editor, node, within !== undefined)
    this.values = others?.values ?? new Map<string, Omit<NeededName, 'typeOnly'>>()
    const edits: TextEdit[] = [...more, ...(within ? [] : namesElsewhere(statements, new Set(holes.keys()), snapshot, editor, { nameFor: needed => this.nameFor(needed) }))]
    for (const [hole, text] of holes) {
      const { parent } = hole
      if (hole.pos < statements[0]!.pos || hole.end > statements.at(-1)!.end) continue
      const key = ts.isShorthandPropertyAssignment(parent) && hole.getText(file) !== text ? `${hole.getText(file)}: ` : ''
      // `{ flight: flight }` is `{ flight }`.
      const whole = ts.isPropertyAssignment(parent) && parent.initializer === hole && parent.name.getText(file) === text ? parent : hole
      edits.push({ start: whole.getStart(file), end: whole.end, text: key + text })
    }
    this.start = statements[0]!.getStart(file)
    this.end = attachedEnd(statements.at(-1)!, file)
    const own = editor.editor(snapshot.pathOf(file)!)
    this.style = own.style
    edits.push(...indentation(statements, edits, this.start, this.end, own.indentAt(this.start), margin))
    this.edits = edits
    this.body = applyEdits(file.text.slice(this.start, this.end), edits.map(edit => ({ ...edit, start: edit.start - this.start, end: edit.end - this.start })))
  }

  /** Lets the new file name something; its name there. */
  nameFor(needed: NeededName): string {
    if (this.within) return needed.file === this.within.path ? needed.name : this.within.nameFor(needed)
    const local = needed.as ?? (needed.name === 'default' ? this.editor.defaultNameOf(needed.file) : needed.name)
    if (needed.typeOnly) { this.write.needed.push({ name: needed, local }); return local }
    const known = this.values.get(local)
    if (known && (known.file !== needed.file || known.specifier !== needed.specifier)) throw new Refused('name-taken', `Two different things are called ${local}`)
    this.values.set(local, needed)
    return local
  }

  /** Whether the new file needs something of a file. */
  needsOf(path: string): boolean { return [...this.values.values(), ...this.write.needed.map(one => one.name)].some(one => one.file === path) }

  /** The imports of the new file, with a blank line behind; `whole`: the rest of it; `own`: names that mean something of its own. */
  imports(target: string, whole: string, own: ReadonlySet<string>): string {
    const { editor, values, write } = this
    const wanted = write.needed.filter(({ local }, at, all) => !values.has(local) && all.findIndex(other => other.local === local) === at)
    for (const { local, name: { name, file } } of write.needed) {
      const value = values.get(local)
      if (value && file !== null && (value.file !== file || value.name !== name)) throw new Refused('name-taken', `Two different things are called ${local}`)
    }
    for (const local of [...values.keys(), ...wanted.map(one => one.local)]) if (own.has(local)) throw new Refused('name-taken', `${local} is already the name of something else; choose another`)
    const { style } = this
    const text = (valueImports(values, editor, target, style) + importLines({ needed: wanted }, editor, target, style, whole).trimEnd()).trimEnd()
    return text === '' ? '' : text + style.lineEnd + style.lineEnd
  }
}

/** Longer than this a constructor is written with one parameter on each line. */
const LINE = 140

/** A constructor that keeps what it is handed. */
export function constructorLine(handed: readonly string[], indent: string, lineEnd: string): string {
  const line = `${indent}constructor(${handed.join(', ')}) {}`
  return line.length <= LINE ? line : [`${indent}constructor(`, ...handed.map((one, at) => `${indent}${indent}${one}${at < handed.length - 1 ? ',' : ''}`), `${indent}) {}`].join(lineEnd)
}

/** Parameters as they are declared; those that are worked out later are functions. `typed`: where a type is another than that which is handed. */
export function writtenParameters(parameters: readonly HandedParameter[], write: TypeWriter, called = (name: string) => name, typed: (handed: HandedParameter) => string | undefined = () => undefined): string[] {
  return parameters.map(handed => {
    const { name, type, lazy } = handed, text = typed(handed) ?? write.inferred(type)
    return `${called(name)}: ${lazy ? `() => ${/=>|\bnew\b/.test(text) ? `(${text})` : text}` : text}`
  })
}

/** What one place hands for them. */
export function givenArguments(parameters: readonly HandedParameter[], place: number, checker: ts.TypeChecker): string[] {
  return parameters.map(({ holes: [hole], lazy }) => {
    const node = hole!.nodes[place]!, text = node.getText()
    return lazy ? `() => ${ts.isObjectLiteralExpression(node) ? `(${text})` : text}${isKnownToBeThere(node, checker) ? '!' : ''}` : text
  })
}

/** What is said where comments inside the statements would be gone: those of the first place go along. */
export function lostComments(places: readonly { readonly statements: readonly ts.Statement[] }[]): string[] {
  const hasComment = ({ statements }: { readonly statements: readonly ts.Statement[] }) => {
    const file = statements[0]!.getSourceFile()
    return /\/\/|\/\*/.test(file.text.slice(statements[0]!.getStart(file), statements.at(-1)!.end).replace(/(['"`])(?:\\.|(?!\1)[^\\])*\1/g, ''))
  }
  return places.slice(1).some(hasComment) ? ['Comments inside the statements are kept of the first place alone.'] : []
}

/** Edits that give the lines behind the first another margin; lines inside of texts stay. */
export function indentation(statements: readonly ts.Node[], replaced: readonly TextEdit[], start: number, end: number, from: string, to: string): TextEdit[] {
  const file = statements[0]!.getSourceFile(), edits: TextEdit[] = []
  if (from === to) return edits
  const texts: { start: number; end: number }[] = []
  const visit = (node: ts.Node): void => {
    if (ts.isTemplateLiteralToken(node) || ts.isStringLiteral(node)) texts.push({ start: node.getStart(file), end: node.end })
    ts.forEachChild(node, visit)
  }
  statements.forEach(visit)
  for (let at = file.text.indexOf('\n', start); at >= 0 && at < end; at = file.text.indexOf('\n', at + 1)) {
    const line = at + 1
    if (file.text.startsWith(from, line) && ![...texts, ...replaced].some(one => one.start < line && line <= one.end) && !/^[ \t]*\r?\n/.test(file.text.slice(line))) edits.push({ start: line, end: line + from.length, text: to })
  }
  return edits
}

/** A field that may hold nothing, where a condition before has told that it holds something: within a function that is forgotten. */
function isKnownToBeThere(node: ts.Expression, checker: ts.TypeChecker): boolean {
  const symbol = ts.isPropertyAccessExpression(node) ? checker.getSymbolAtLocation(node.name) : undefined
  if (!symbol) return false
  const holdsNothing = (type: ts.Type) => checker.getNonNullableType(type) !== type
  return holdsNothing(checker.getTypeOfSymbol(symbol)) && !holdsNothing(checker.getTypeAtLocation(node))
}
