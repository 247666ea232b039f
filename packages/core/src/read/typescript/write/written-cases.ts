import ts from 'typescript'
import { applyEdits } from '../../../edit/text-edit.js'
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
import { namesElsewhere } from './names-elsewhere.js'
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
    if (!run) text += cases[at]!.comments.map(comment => `${lineEnd}${indent}${indent}${comment}`).join('') + (cases[at]!.comments.length > 0 ? `${lineEnd}${indent}}` : '}')
    else {
      text += `${lineEnd}${indent}${indent}${cases[at]!.comments.map(comment => `${comment}${lineEnd}${indent}${indent}`).join('')}`
      moved.push({ start: run.start, end: run.end, at: text.length, edits: run.edits })
      text += `${run.body}${cases[at]!.closing.map(comment => `${lineEnd}${indent}${indent}${comment}`).join('')}${lineEnd}${indent}}`
    }
    text += `${lineEnd}}${lineEnd}`
  })
  const kind = write.inferred(checker.getTypeAtLocation(found.subject)), other = cases.findIndex(one => one.labels.length === 0)
  const isTotal = other < 0 && found.exhaustive
  // Where a switch without a default does nothing in any other case, a class does.
  if (!isTotal && other < 0) text += `${lineEnd}${exported}class ${names.other} implements ${names.contract} {${lineEnd}${indent}${signed(name => namesIn(name, ''))} {}${lineEnd}}${lineEnd}`
  const chooses = found.isByClass ? byClass() : byValue()
  text += [
    '', ...chooses.known, ...(isTotal ? [] : [`const ${otherwise} = new ${names.other}()${end}`]), '',
    `/** Chooses by ${over}: for another one there is another class, and one more line ${found.isByClass ? 'here' : 'above'}. */`,
    `${exported}function ${names.choose}(${kindWord(found)}: ${kind}): ${names.contract} {`, ...chooses.body.map(line => `${indent}${line}${end}`), '}', ''
  ].join(lineEnd)
  return { text, moved, first: first!, typeParameters: open }

  /** A table of what there is for each value. */
  function byValue(): { readonly known: readonly string[]; readonly body: readonly string[] } {
    const entries = cases.flatMap((one, at) => one.labels.map(label => ({ label, value: `new ${names.classes[at]!}()` })))
    const named = (label: ts.Expression) => (isWithin ? label.getText() : labelElsewhere(label, first!, editor, snapshot))
    const lines = (list: readonly string[]) => list.map((line, at) => `${indent}${line}${at < list.length - 1 ? ',' : ''}`)
    // A record of all kinds does not compile when there is one more; a map serves where there is a class for any other.
    return isTotal
      ? { known: [`const ${table}: Readonly<Record<${kind}, ${names.contract}>> = {`, ...lines(entries.map(({ label, value }) => `${ts.isStringLiteralLike(label) && /^[A-Za-z_$][\w$]*$/.test(label.text) ? label.text : ts.isStringLiteralLike(label) ? label.getText() : `[${named(label)}]`}: ${value}`)), `}${end}`], body: [`return ${table}[kind]`] }
      : { known: [`const ${table}: ReadonlyMap<${kind}, ${names.contract}> = new Map<${kind}, ${names.contract}>([`, ...lines(entries.map(({ label, value }) => `[${ts.isStringLiteralLike(label) ? quote + label.text + quote : named(label)}, ${value}]`)), `])${end}`], body: [`return ${table}.get(kind) ?? ${otherwise}`] }
  }

  /** Classes are asked for one after the other, as they were: an object may be of several. */
  function byClass(): { readonly known: readonly string[]; readonly body: readonly string[] } {
    const held = cases.map((one, at) => (one.labels.length === 0 ? otherwise : numberedName(constantName(names.classes[at]!), name => !isWithin || !taken.has(name))))
    const named = (label: ts.Expression) => (isWithin ? label.getText() : elsewhere(label, editor, first!, snapshot))
    return {
      known: cases.flatMap((one, at) => (one.labels.length === 0 ? [] : [`const ${held[at]!} = new ${names.classes[at]!}()${end}`])),
      body: [...cases.flatMap((one, at) => (one.labels.length === 0 ? [] : [`if (${one.labels.map(label => `${kindWord(found)} instanceof ${named(label)}`).join(' || ')}) return ${held[at]!}`])), `return ${otherwise}`]
    }
  }
}

/** What is looked at, as what chooses calls it. */
export function kindWord({ isByClass }: FoundSwitch): string { return isByClass ? 'thing' : 'kind' }

/** `BARGE_DUE` for `BargeDue`. */
function constantName(name: string): string { return name.replace(/(?<=[a-z\d])(?=[A-Z])/g, '_').toUpperCase() }

/** A class as the new file names it. */
function elsewhere(label: ts.Expression, editor: ProjectEditor, run: MovedRun, snapshot: Snapshot): string {
  const edits = namesElsewhere([label], new Set(), snapshot, editor, { nameFor: needed => run.nameFor(needed) }), start = label.getStart()
  return applyEdits(label.getText(), edits.map(edit => ({ ...edit, start: edit.start - start, end: edit.end - start })))
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
