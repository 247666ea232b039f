import ts from 'typescript'
import { applyEdits } from '../../../edit/text-edit.js'
import { Refused } from '../../write/refused.js'
import type { SwitchNames } from '../../write/switch-names.js'
import { leaves } from '../condition-chain.js'
import type { Snapshot } from '../session.js'
import { returnsIn, settingOf } from './divided-switch.js'
import type { FileEditor, ProjectEditor } from './file-editor.js'
import { topLevelNames } from './file-editor.js'
import type { FoundSwitch } from './found-switches.js'
import { contains, isOf } from './found-switches.js'
import { MovedRun, writtenParameters } from './moved-run.js'
import { isExportedStatement } from './moving-statements.js'
import { namesElsewhere } from './names-elsewhere.js'
import type { Narrowed } from './narrowed-cases.js'
import { namedTypeParameters, typeParametersAround, writtenTypeParameters } from './scoped-type-parameters.js'
import { parameterNames } from './unread-parameters.js'
import type { KeptVariable, SetVariable } from './switch-cases.js'
import { keptOf, setOf } from './switch-cases.js'
import { isAsync } from './switch-homes.js'
import { writtenChoice } from './written-choice.js'
import type { TypeWriter } from './written-type.js'

/** The code of the new file without its imports; `moved`: where the bodies of the cases come from, and where in the code they stand. */
export function writtenCases(
  found: FoundSwitch, names: SwitchNames, parameters: Parameters<typeof writtenParameters>[0], holes: ReadonlyMap<ts.Node, string>, editor: ProjectEditor, own: FileEditor, isWithin: boolean, snapshot: Snapshot
) {
  const { top, told, around, result, cases, over, narrowed } = found, { checker } = snapshot
  const { lineEnd, indent, semicolons } = own.style, end = semicolons ? ';' : ''
  const file = top.getSourceFile(), taken = topLevelNames(file)
  // In the file of the switch, what it does not export need not be either.
  const exported = isWithin && !isExportedStatement(top) ? '' : 'export '
  const set = setOf(result), kept = keptOf(result), had = valuesOf(kept)
  let first: MovedRun | undefined
  const bodies = cases.map(one => {
    const { statements } = one
    if (statements.length === 0) return undefined
    const setting = set ? settingOf(one) : undefined
    const more = [
      ...(setting ? [{ start: setting.getStart(file), end: setting.right.getStart(file), text: 'return ' }] : []),
      ...one.breaks.map(each => ({ start: each.getStart(file), end: each.getStart(file) + 'break'.length, text: `return${had === '' ? '' : ` ${had}`}` }))
    ]
    const run = new MovedRun({ node: around, statements }, holes, indent + indent, editor, snapshot, first, more, isWithin ? own : undefined)
    first ??= run
    return run
  })
  const { write } = first!
  const typeOf = ({ declaration }: KeptVariable) => (declaration.type ? write.source(declaration.type) : write.inferred(checker.getTypeAtLocation(declaration)))
  const given = result === 'nothing' ? 'void' : set ? setType(set) : kept.length > 0 ? (kept.length === 1 ? typeOf(kept[0]!) : `{ ${kept.map(one => `${one.set.name}: ${typeOf(one)}`).join('; ')} }`)
    : isAsync(around) ? awaited() : around.type ? (ts.isTypePredicateNode(around.type) ? 'boolean' : write.source(around.type)) : write.inferred(checker.getReturnTypeOfSignature(checker.getSignatureFromDeclaration(around)!))
  /** What an `async` function gives in the end, and the promise of it where a case gives that. */
  function awaited(): string {
    const promised = checker.getReturnTypeOfSignature(checker.getSignatureFromDeclaration(around)!), type = checker.getAwaitedType(promised) ?? promised
    const returned = cases.flatMap(one => one.statements.flatMap(returnsIn)).flatMap(one => (one.expression ? [checker.getTypeAtLocation(one.expression)] : []))
    const every = (wanted: ts.Type) => returned.every(one => checker.isTypeAssignableTo(one, wanted))
    return every(type) ? write.inferred(type) : every(promised) ? write.inferred(promised) : `${write.inferred(type)} | ${write.inferred(promised)}`
  }

  function setType({ set: symbol, target }: SetVariable): string {
    const declaration = symbol.valueDeclaration as ts.VariableDeclaration
    return ts.isIdentifier(target) && declaration.type ? write.source(declaration.type) : write.inferred(ts.isIdentifier(target) ? checker.getTypeAtLocation(declaration) : checker.getTypeAtLocation(target))
  }
  const handed = kept.filter(one => one.isHanded), fresh = kept.filter(one => !one.isHanded)
  // What no case looks at before it sets it is each case's own.
  const declared = (body: string) => {
    const own = fresh.filter(one => new RegExp(`(?<![\\w$])(?<!(?<!\\.\\.)\\.)${one.set.name.replace(/\$/g, '\\$')}(?![\\w$])`).test(body))
    return own.length === 0 ? '' : `let ${own.map(one => `${one.set.name}: ${typeOf(one)}`).join(', ')}${end}${lineEnd}${indent}${indent}`
  }
  const namesIn = parameterNames(snapshot.pathOf(file)!, snapshot)
  const plainly = [...writtenParameters(parameters, write), ...handed.map(one => `${one.set.name}: ${typeOf(one)}`)], asserts = assertsNone(found, snapshot), kinds = cases.map((one, at) => (asserts && one.labels.length === 0 ? 'never' : narrowed && narrowedText(narrowed, at, write)))
  const open = namedTypeParameters(typeParametersAround(around), [given, ...plainly, ...kinds.map(one => one ?? ''), ...bodies.map(one => one?.body ?? '')])
  const form = writtenTypeParameters(open, write)
  // A method of a class may want less than its interface says, for it is handed only what its case is for.
  const signed = (called: (name: string) => string = name => name, at?: number) => {
    const texts = writtenParameters(parameters, write, called, one => (at !== undefined && narrowed && isOf(one.holes[0]!.nodes[0]!, narrowed, snapshot) ? kinds[at] : undefined))
    return `${names.method}${form}(${[...texts, ...handed.map(one => `${called(one.set.name)}: ${typeOf(one)}`)].join(', ')}): ${given}`
  }
  const signature = signed()
  let text = [`/** What ${told} does for one ${over}. */`, `${exported}interface ${names.contract} {`, `${indent}${signature}${end}`, '}', ''].join(lineEnd)
  const moved: { start: number; end: number; at: number; edits: MovedRun['edits'] }[] = []
  cases.forEach((_, at) => {
    const run = bodies[at]
    const each = cases[at]!, margin = `${lineEnd}${indent}${indent}`, gives = had !== '' && !leaves(each.statements.at(-1)) ? `${margin}return ${had}${end}` : ''
    text += `${lineEnd}${exported}class ${names.classes[at]!} implements ${names.contract} {${lineEnd}${indent}${signed(name => namesIn(name, (run?.body ?? '') + gives), at)} {`
    if (!run) text += each.comments.map(comment => margin + comment).join('') + gives + (each.comments.length > 0 || gives !== '' ? `${lineEnd}${indent}}` : '}')
    else {
      text += `${margin}${declared(run.body + gives)}${each.comments.map(comment => comment + margin).join('')}`
      moved.push({ start: run.start, end: run.end, at: text.length, edits: run.edits })
      text += `${run.body}${each.closing.map(comment => margin + comment).join('')}${gives}${lineEnd}${indent}}`
    }
    text += `${lineEnd}}${lineEnd}`
  })
  const kind = write.inferred(checker.getTypeAtLocation(found.subject)), other = cases.findIndex(one => one.labels.length === 0)
  const isTotal = other < 0 && found.exhaustive
  // Where a switch without a default does nothing in any other case, a class does.
  const instead = had !== '' ? had : result === 'returned' ? 'undefined' : ''
  if (!isTotal && other < 0) text += `${lineEnd}${exported}class ${names.other} implements ${names.contract} {${lineEnd}${indent}${signed(name => namesIn(name, instead))} {${instead === '' ? '' : `${lineEnd}${indent}${indent}return ${instead}${end}${lineEnd}${indent}`}}${lineEnd}}${lineEnd}`
  text += writtenChoice({ found, names, kind, isTotal, asksForAll: isTotal || asserts, exported, free: name => !isWithin || !taken.has(name), nameOf: label => (isWithin ? label.getText() : labelElsewhere(label, first!, editor, snapshot, found.isByClass)) }, own.style)
  return { text, moved, first: first!, typeParameters: open }
}

/** What a case gives back of variables that it may have set. */
export function valuesOf(kept: readonly KeptVariable[]): string {
  const names = kept.map(one => one.set.name)
  return names.length < 2 ? names.join() : `{ ${names.join(', ')} }`
}

/** A class as the new file names it. */
function classElsewhere(label: ts.Expression, editor: ProjectEditor, run: MovedRun, snapshot: Snapshot): string {
  const edits = namesElsewhere([label], new Set(), snapshot, editor, { nameFor: needed => run.nameFor(needed) }), start = label.getStart()
  return applyEdits(label.getText(), edits.map(edit => ({ ...edit, start: edit.start - start, end: edit.end - start })))
}

/** Whether the default looks at what no value of the type is left for: `default: return unknown(kind)`, where `kind` is `never`. */
function assertsNone({ cases, narrowed }: FoundSwitch, snapshot: Snapshot): boolean {
  const at = cases.findIndex(one => one.labels.length === 0)
  return narrowed !== undefined && at >= 0 && narrowed.whole.isUnion() && narrowed.cases[at]!.length === 0 && cases[at]!.statements.some(one => contains(one, each => isOf(each, narrowed, snapshot)))
}

/** What a case knows of the thing that its kind tells of; undefined where that is all that is known of it anyway. */
function narrowedText({ whole, cases }: Narrowed, at: number, write: TypeWriter): string | undefined {
  const left = cases[at]!
  return left.length === 0 || (whole.isUnion() && left.length === whole.types.length) ? undefined : left.map(one => write.inferred(one)).join(' | ')
}

/** A class, or a constant of an enum, as the new file names it. */
function labelElsewhere(label: ts.Expression, run: MovedRun, editor: ProjectEditor, snapshot: Snapshot, isByClass: boolean): string {
  if (isByClass) return classElsewhere(label, editor, run, snapshot)
  const { expression, name } = label as ts.PropertyAccessExpression
  const found = snapshot.checker.getSymbolAtLocation(expression), symbol = found && found.flags & ts.SymbolFlags.Alias ? snapshot.checker.getAliasedSymbol(found) : found
  const declaration = symbol?.declarations?.[0], path = declaration && snapshot.pathOf(declaration.getSourceFile()), exported = declaration && editor.exportedName(declaration)
  if (path === undefined || exported === undefined) throw new Refused('not-visible', `${expression.getText()} is not exported, so that no other file could name it`)
  return `${run.nameFor({ name: exported, file: path, specifier: null, typeOnly: false })}.${name.text}`
}
