import ts from 'typescript'
import { numberedName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import type { SwitchNames } from '../../write/switch-names.js'
import type { Snapshot } from '../session.js'
import { settingOf } from './divided-switch.js'
import type { FileEditor, ProjectEditor } from './file-editor.js'
import { topLevelNames } from './file-editor.js'
import type { FoundSwitch } from './found-switches.js'
import { isOf } from './found-switches.js'
import { MovedRun, writtenParameters } from './moved-run.js'
import { isExportedStatement } from './moving-statements.js'
import type { Narrowed } from './narrowed-cases.js'
import { namedTypeParameters, typeParametersAround, writtenTypeParameters } from './scoped-type-parameters.js'
import { parameterNames } from './unread-parameters.js'
import type { TypeWriter } from './written-type.js'

/** The code of the new file without its imports; `moved`: where the bodies of the cases come from, and where in the code they stand. */
export function writtenCases(
  found: FoundSwitch, names: SwitchNames, parameters: Parameters<typeof writtenParameters>[0], holes: ReadonlyMap<ts.Node, string>, editor: ProjectEditor, own: FileEditor, isWithin: boolean, snapshot: Snapshot
) {
  const { top, told, around, result, cases, over, narrowed } = found, { checker } = snapshot
  const { lineEnd, indent, semicolons, quote } = own.style, end = semicolons ? ';' : ''
  const file = top.getSourceFile(), taken = topLevelNames(file)
  // In the file of the switch, what it does not export need not be either.
  const exported = isWithin && !isExportedStatement(top) ? '' : 'export '
  const table = numberedName('KNOWN', name => !isWithin || !taken.has(name)), otherwise = numberedName('OTHER', name => !isWithin || !taken.has(name))
  let first: MovedRun | undefined
  const bodies = cases.map(one => {
    const { statements } = one
    if (statements.length === 0) return undefined
    const setting = typeof result === 'object' ? settingOf(one) : undefined
    const more = [
      ...(setting ? [{ start: setting.getStart(file), end: setting.right.getStart(file), text: 'return ' }] : []),
      ...one.breaks.map(each => ({ start: each.getStart(file), end: each.getStart(file) + 'break'.length, text: 'return' }))
    ]
    const run = new MovedRun({ node: around, statements }, holes, indent + indent, editor, snapshot, first, more, isWithin ? own : undefined)
    first ??= run
    return run
  })
  const { write } = first!
  const given = result === 'nothing' ? 'void' : typeof result === 'object' ? (result.declaration.type ? write.source(result.declaration.type) : write.inferred(checker.getTypeAtLocation(result.declaration)))
    : around.type ? (ts.isTypePredicateNode(around.type) ? 'boolean' : write.source(around.type)) : write.inferred(checker.getReturnTypeOfSignature(checker.getSignatureFromDeclaration(around)!))
  const namesIn = parameterNames(snapshot.pathOf(file)!, snapshot)
  const plainly = writtenParameters(parameters, write), kinds = cases.map((_, at) => narrowed && narrowedText(narrowed, at, write))
  const open = namedTypeParameters(typeParametersAround(around), [given, ...plainly, ...kinds.map(one => one ?? ''), ...bodies.map(one => one?.body ?? '')])
  const form = writtenTypeParameters(open, write)
  // A method of a class may want less than its interface says, for it is handed only what its case is for.
  const signed = (called?: (name: string) => string, at?: number) => `${names.method}${form}(${writtenParameters(parameters, write, called, handed => (at !== undefined && narrowed && isOf(handed.holes[0]!.nodes[0]!, narrowed, snapshot) ? kinds[at] : undefined)).join(', ')}): ${given}`
  const signature = signed()
  let text = [`/** What ${told} does for one ${over}. */`, `${exported}interface ${names.contract} {`, `${indent}${signature}${end}`, '}', ''].join(lineEnd)
  const moved: { start: number; end: number; at: number; edits: MovedRun['edits'] }[] = []
  cases.forEach((_, at) => {
    const run = bodies[at]
    text += `${lineEnd}${exported}class ${names.classes[at]!} implements ${names.contract} {${lineEnd}${indent}${signed(name => namesIn(name, run?.body ?? ''), at)} {`
    if (!run) text += '}'
    else {
      text += `${lineEnd}${indent}${indent}${cases[at]!.comments.map(comment => `${comment}${lineEnd}${indent}${indent}`).join('')}`
      moved.push({ start: run.start, end: run.end, at: text.length, edits: run.edits })
      text += `${run.body}${lineEnd}${indent}}`
    }
    text += `${lineEnd}}${lineEnd}`
  })
  const kind = write.inferred(checker.getTypeAtLocation(found.node.expression))
  const other = cases.findIndex(one => one.labels.length === 0)
  const entries = cases.flatMap((one, at) => one.labels.map(label => ({ label, value: `new ${names.classes[at]!}()` })))
  const named = (label: ts.Expression) => (isWithin ? label.getText() : labelElsewhere(label, first!, editor, snapshot))
  const lines = (list: readonly string[]) => list.map((line, at) => `${indent}${line}${at < list.length - 1 ? ',' : ''}`)
  const isTotal = other < 0 && found.exhaustive
  // A record of all kinds does not compile when there is one more; a map serves where there is a class for any other.
  const known = isTotal
    ? [`const ${table}: Readonly<Record<${kind}, ${names.contract}>> = {`, ...lines(entries.map(({ label, value }) => `${ts.isStringLiteralLike(label) && /^[A-Za-z_$][\w$]*$/.test(label.text) ? label.text : ts.isStringLiteralLike(label) ? label.getText() : `[${named(label)}]`}: ${value}`)), `}${end}`]
    : [`const ${table}: ReadonlyMap<${kind}, ${names.contract}> = new Map<${kind}, ${names.contract}>([`, ...lines(entries.map(({ label, value }) => `[${ts.isStringLiteralLike(label) ? quote + label.text + quote : named(label)}, ${value}]`)), `])${end}`]
  const rest = isTotal ? `${table}[kind]` : `${table}.get(kind) ?? ${otherwise}`
  // Where a switch without a default does nothing in any other case, a class does.
  if (!isTotal && other < 0) text += `${lineEnd}${exported}class ${names.other} implements ${names.contract} {${lineEnd}${indent}${signed(name => namesIn(name, ''))} {}${lineEnd}}${lineEnd}`
  text += [
    '', ...known, ...(isTotal ? [] : [`const ${otherwise} = new ${names.other}()${end}`]), '',
    `/** Chooses by ${over}: for another one there is another class, and one more line above. */`,
    `${exported}function ${names.choose}(kind: ${kind}): ${names.contract} {`, `${indent}return ${rest}${end}`, '}', ''
  ].join(lineEnd)
  return { text, moved, first: first!, typeParameters: open }
}

/** What a case knows of the thing that its kind tells of; undefined where that is all that is known of it anyway. */
function narrowedText({ whole, cases }: Narrowed, at: number, write: TypeWriter): string | undefined {
  const left = cases[at]!
  return left.length === 0 || (whole.isUnion() && left.length === whole.types.length) ? undefined : left.map(one => write.inferred(one)).join(' | ')
}

/** A constant of an enum as the new file names it. */
function labelElsewhere(label: ts.Expression, run: MovedRun, editor: ProjectEditor, snapshot: Snapshot): string {
  const { expression, name } = label as ts.PropertyAccessExpression
  const found = snapshot.checker.getSymbolAtLocation(expression), symbol = found && found.flags & ts.SymbolFlags.Alias ? snapshot.checker.getAliasedSymbol(found) : found
  const declaration = symbol?.declarations?.[0], path = declaration && snapshot.pathOf(declaration.getSourceFile()), exported = declaration && editor.exportedName(declaration)
  if (path === undefined || exported === undefined) throw new Refused('not-visible', `${expression.getText()} is not exported, so that no other file could name it`)
  return `${run.nameFor({ name: exported, file: path, specifier: null, typeOnly: false })}.${name.text}`
}
