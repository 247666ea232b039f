import ts from 'typescript'
import type { PlanRefusal, ReplaceTypeSwitchPlan, SwitchPlace } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { Refused } from '../../write/refused.js'
import { numberedName } from '../../write/names.js'
import { caseName, switchNames } from '../../write/switch-names.js'
import { memberName } from '../declarations.js'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import { typeSwitchOf } from '../type-switches.js'
import { checkedStep, refusalOf } from './checked-step.js'
import { addParameter } from './constructor-parameter.js'
import type { WriteContext, Written } from './context.js'
import type { DividedCase, DividedSwitch } from './divided-switch.js'
import { divideSwitch, settingOf } from './divided-switch.js'
import { dividedHoles } from './facade-parts.js'
import type { FileEditor } from './file-editor.js'
import { ProjectEditor, topLevelNames } from './file-editor.js'
import { writeType } from './injected-type.js'
import { creationSites, lineOf } from './injection-points.js'
import { givenArguments, MovedRun, writtenParameters } from './moved-run.js'
import { shiftAt } from './moved-members.js'
import { attachedEnd, attachedStart } from './moving-statements.js'
import { newFilePath } from './new-file.js'
import { newFileCycle } from './new-file-cycle.js'
import { uniqueName } from './parameter-name.js'
import { canName, waits } from './repeated-runs.js'
import { isTarget } from './settled.js'
import type { Unified } from './statement-unifier.js'
import { unifyStatements } from './statement-unifier.js'
import { NotWritable } from './written-type.js'

interface FoundSwitch extends DividedSwitch {
  readonly key: string
  readonly owner: ts.ClassDeclaration
  /** What is done with it all, in the order of the cases. */
  readonly parts: readonly ts.Node[]
  readonly unified: Unified
  /** What the kinds are: the name of their type, or of the property that holds them. */
  readonly over: string
}

/** Switches of a class's methods whose cases could stand elsewhere. */
function foundSwitches(owner: ts.ClassLikeDeclaration, snapshot: Snapshot): FoundSwitch[] {
  if (!ts.isClassDeclaration(owner) || !owner.name || !ts.isSourceFile(owner.parent) || owner.typeParameters || ts.getDecorators(owner)?.length || /\.[cm]?jsx?$/.test(owner.getSourceFile().fileName)) return []
  const { checker, declarations } = snapshot, found: FoundSwitch[] = []
  for (const method of owner.members) {
    if (!ts.isMethodDeclaration(method) || !method.body || method.typeParameters || method.asteriskToken || ts.getModifiers(method)?.some(one => one.kind === ts.SyntaxKind.StaticKeyword || one.kind === ts.SyntaxKind.AsyncKeyword)) continue
    let count = 0
    const visit = (node: ts.Node): void => {
      if (ts.isFunctionLike(node)) return
      if (ts.isSwitchStatement(node) && typeSwitchOf(node, checker, declarations)) {
        const key = `${memberName(method)}${count === 0 ? '' : `:${count + 1}`}`
        count++
        // Where a kind says what its holder is, each case knows more of that than a class could be told.
        const narrows = ts.isPropertyAccessExpression(node.expression) && checker.getTypeAtLocation(node.expression.expression).isUnion()
        const divided = narrows ? undefined : divideSwitch(node, method, snapshot)
        const parts = divided?.cases.flatMap(one => partsOf(one, divided))
        const unified = parts && parts.length > 0 && !parts.some(waits) ? unifyStatements([parts], checker, symbol => canName(symbol, snapshot), true) : undefined
        const over = kindName(node.expression, checker)
        if (unified && over !== undefined) found.push({ ...divided!, key, owner, parts: parts!, unified, over })
      }
      ts.forEachChild(node, visit)
    }
    visit(method.body)
  }
  return found
}

/** What of a case stands elsewhere afterwards; of what is set, only the value. */
function partsOf(one: DividedCase, { result }: Pick<DividedSwitch, 'result'>): ts.Node[] {
  const setting = typeof result === 'object' ? settingOf(one) : undefined
  return setting ? [...one.statements.slice(0, -1), setting.right] : [...one.statements]
}

/** `CraftKind` for a value of it; `Kind` for one of a few texts in a property of that name. */
function kindName(subject: ts.Expression, checker: ts.TypeChecker): string | undefined {
  const type = checker.getTypeAtLocation(subject)
  const named = type.aliasSymbol?.name ?? (type.flags & ts.TypeFlags.EnumLike ? enumOf(type.symbol)?.name : undefined)
  const property = ts.isPropertyAccessExpression(subject) ? subject.name.text : ts.isIdentifier(subject) ? subject.text : undefined
  return named ?? (property && property.charAt(0).toUpperCase() + property.slice(1))
}

/** A type that has shrunk to one of an enum's members is of that enum. */
function enumOf(symbol: ts.Symbol | undefined): ts.Symbol | undefined {
  const declaration = symbol?.valueDeclaration
  return declaration && ts.isEnumMember(declaration) ? (declaration.parent as ts.EnumDeclaration & { symbol: ts.Symbol }).symbol : symbol
}

function labelText(label: ts.Expression): string { return ts.isStringLiteralLike(label) ? label.text : (label as ts.PropertyAccessExpression).name.text }

function namesOf({ method, over, cases }: FoundSwitch, wanted: string | null, snapshot: Snapshot) {
  const taken = new Set(snapshot.facts.files.flatMap(one => one.types.map(type => type.name)))
  return switchNames(memberName(method), over, cases.map(one => one.labels.map(labelText)), wanted, name => !taken.has(name))
}

/** Switches of a class whose cases could each be a class, in order. */
export function typeSwitches(node: ts.ClassLikeDeclaration, snapshot: Snapshot): SwitchPlace[] {
  return foundSwitches(node, snapshot).map(one => ({
    key: one.key, member: memberName(one.method), line: lineOf(one.node), over: one.over, cases: one.cases.map(({ labels }) => caseName(labels.map(labelText))), name: namesOf(one, null, snapshot).contract, edits: one.cases.length + 3, files: 2
  }))
}

/** An interface with one class for each case, and a function that chooses among them, which the class is handed. */
export function replaceTypeSwitch(plan: ReplaceTypeSwitchPlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot } = context
  const found = foundSwitches(node, snapshot).find(one => one.key === plan.place)
  if (!found) return planRefused('switch', `No switch of ${plan.place} has cases that could stand elsewhere: each gives back a value, sets one and the same variable at its end, or just runs, and none sets anything else.`)
  const names = namesOf(found, plan.name, snapshot), { owner, unified, result } = found
  const file = owner.getSourceFile(), path = snapshot.pathOf(file)!
  const target = newFilePath({ name: names.contract, kind: 'an interface', folder: folderOf(path), like: path, importers: [file] }, context)
  if (typeof target !== 'string') return target
  try {
    const { parameters, names: inside } = dividedHoles({ places: [{ statements: found.parts }], unified }, snapshot, () => undefined, new Set())
    const holes = new Map<ts.Node, string>(parameters.flatMap(handed => handed.holes.map(hole => [hole.nodes[0]!, handed.lazy ? `${handed.name}()` : handed.name] as const)))
    const beside = besideOrWithin(found, names, parameters, holes, context), { editor, written, isWithin } = beside, own = editor.editor(path)
    const home = isWithin ? path : target, before = attachedStart(owner, file), { lineEnd } = own.style
    const lead = isWithin ? '' : written.first.imports(target, written.text, new Set([names.contract, names.choose, ...names.classes, ...inside]))
    if (isWithin) {
      refuseLater(found, snapshot)
      own.keepNames(written.text)
      own.insert(before, written.text + lineEnd)
    } else editor.create(target, lead + written.text)

    const kind = writeType(snapshot.checker.getTypeAtLocation(found.node.expression), found.node, own, editor, context)
    const contract = isWithin ? names.contract : own.nameFor({ name: names.contract, file: target, specifier: null, typeOnly: true })
    const field = uniqueName(names.field, owner, new Set(), false)
    const notes: string[] = []
    addParameter(owner, {
      name: field, type: `(kind: ${kind}) => ${contract}`, kept: true, assignments: [], provide: at => (at.path === home ? names.choose : at.nameFor({ name: names.choose, file: home, specifier: null, typeOnly: false }))
    }, own, editor, context, plan.withDefault, plan.withDefault ? [] : creationSites(owner, snapshot), 0, notes)
    const call = `this.${field}(${found.node.expression.getText()}).${names.method}(${givenArguments(parameters, 0).join(', ')})${own.style.semicolons ? ';' : ''}`
    own.keepNames(call)
    own.keepNames(kind)
    const variable = typeof result === 'object' ? result : undefined, apart = variable && declaredApart(found, variable, snapshot)
    const head = result === 'returned' ? 'return ' : !variable ? '' : apart ? `const ${apart.declaration.getText()} = ` : `${variable.set.name} = `
    own.replace((apart?.statement ?? found.node).getStart(file), attachedEnd(found.last, file), head + call)
    const checked = checkedStep(editor, context, {
      notes: [
        ...(isWithin ? [`They stand in ${path}, for they need what is declared in it.`] : []),
        ...(found.exhaustive && !found.cases.some(one => one.labels.length === 0) ? [`${found.over} is the whole of what has a class; a value that its type does not allow was passed over in silence, and is an error now.`] : []),
        ...parameters.filter(handed => handed.lazy).map(handed => `What is called ${handed.name} is worked out only in some cases, and so it is handed as a function.`), ...notes
      ],
      choices: { place: plan.place, name: names.contract, default: plan.withDefault ? 'yes' : 'no' }, planned: [],
      moved: edits => { const by = isWithin ? before + shiftAt(before, edits.get(path) ?? []) : lead.length; return written.moved.map(one => ({ ...one, from: path, to: home, at: one.at + by })) }
    })
    if ('refused' in checked || isWithin) return checked
    const cycle = newFileCycle(snapshot, checked.after, path, target)
    return cycle ? planRefused('load-cycle', `${target} and ${cycle.find(one => one !== target) ?? path} would load each other in a circle.`) : checked
  } catch (error) { return refusalOf(error) }
}

/** The cases as a file of their own, or within that of the class where they need what is declared there: else both would need each other. */
function besideOrWithin(found: FoundSwitch, names: ReturnType<typeof namesOf>, parameters: Parameters<typeof writtenParameters>[0], holes: ReadonlyMap<ts.Node, string>, { snapshot, root }: WriteContext) {
  const path = snapshot.pathOf(found.owner.getSourceFile())!
  const write = (isWithin: boolean) => {
    const editor = new ProjectEditor(snapshot, root)
    return { editor, isWithin, written: writtenCases(found, names, parameters, holes, editor, editor.editor(path), isWithin, snapshot) }
  }
  try {
    const beside = write(false)
    if (!beside.written.first.needsOf(path)) return beside
  } catch (error) { if (!(error instanceof Refused) && !(error instanceof NotWritable)) throw error }
  return write(true)
}

/** What chooses is made as the file is loaded: an enum that stands further down is not there yet. */
function refuseLater({ owner, cases }: FoundSwitch, { checker }: Snapshot): void {
  for (const label of cases.flatMap(one => one.labels)) {
    const declaration = ts.isPropertyAccessExpression(label) ? checker.getSymbolAtLocation(label.expression)?.declarations?.[0] : undefined
    if (declaration && declaration.getSourceFile() === owner.getSourceFile() && ts.isEnumDeclaration(declaration) && declaration.pos > owner.pos) throw new Refused('order', `${declaration.name.text} is declared behind ${owner.name!.text}, and would not be there yet when what chooses by it is made`)
  }
}

/** The declaration directly before that nothing else sets, so that both are one. */
function declaredApart({ node: at, method }: FoundSwitch, { set, declaration }: Extract<DividedSwitch['result'], object>, { checker }: Snapshot): { statement: ts.Statement; declaration: ts.VariableDeclaration } | undefined {
  if (!ts.isVariableDeclaration(declaration) || !ts.isVariableDeclarationList(declaration.parent) || declaration.initializer || declaration.parent.declarations.length > 1 || !ts.isBlock(at.parent)) return undefined
  const statement = declaration.parent.parent, { statements } = at.parent
  if (!ts.isVariableStatement(statement) || statements.indexOf(statement) !== statements.indexOf(at) - 1) return undefined
  let isSet = false
  const visit = (one: ts.Node): void => {
    if (one === at) return
    if (ts.isIdentifier(one) && one.text === set.name && checker.getSymbolAtLocation(one) === set && isTarget(one)) isSet = true
    ts.forEachChild(one, visit)
  }
  visit(method.body!)
  return isSet ? undefined : { statement, declaration }
}

/** The code of the new file without its imports; `moved`: where the bodies of the cases come from, and where in the code they stand. */
function writtenCases(
  found: FoundSwitch, names: ReturnType<typeof namesOf>, parameters: Parameters<typeof writtenParameters>[0], holes: ReadonlyMap<ts.Node, string>, editor: ProjectEditor, own: FileEditor, isWithin: boolean, snapshot: Snapshot
) {
  const { owner, method, result, cases, over } = found, { checker } = snapshot
  const { lineEnd, indent, semicolons, quote } = own.style, end = semicolons ? ';' : ''
  const file = owner.getSourceFile(), taken = topLevelNames(file)
  // In the file of the class, what it does not export need not be either.
  const exported = isWithin && !ts.getModifiers(owner)?.some(one => one.kind === ts.SyntaxKind.ExportKeyword) ? '' : 'export '
  const table = numberedName('KNOWN', name => !isWithin || !taken.has(name)), otherwise = numberedName('OTHER', name => !isWithin || !taken.has(name))
  let first: MovedRun | undefined
  const bodies = cases.map(one => {
    const { statements } = one
    if (statements.length === 0) return undefined
    const setting = typeof result === 'object' ? settingOf(one) : undefined
    const more = setting ? [{ start: setting.getStart(file), end: setting.right.getStart(file), text: 'return ' }] : []
    const run = new MovedRun({ node: owner, statements }, holes, indent + indent, editor, snapshot, first, more, isWithin ? own : undefined)
    first ??= run
    return run
  })
  const { write } = first!
  const given = result === 'nothing' ? 'void' : typeof result === 'object' ? (result.declaration.type ? write.source(result.declaration.type) : write.inferred(checker.getTypeAtLocation(result.declaration)))
    : method.type ? write.source(method.type) : write.inferred(checker.getReturnTypeOfSignature(checker.getSignatureFromDeclaration(method)!))
  const signature = `${names.method}(${writtenParameters(parameters, write).join(', ')}): ${given}`
  let text = [`/** What ${owner.name!.text}.${memberName(method)} does for one ${over}. */`, `${exported}interface ${names.contract} {`, `${indent}${signature}${end}`, '}', ''].join(lineEnd)
  const moved: { start: number; end: number; at: number; edits: MovedRun['edits'] }[] = []
  cases.forEach((_, at) => {
    const run = bodies[at]
    text += `${lineEnd}${exported}class ${names.classes[at]!} implements ${names.contract} {${lineEnd}${indent}${signature} {`
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
  const lines = (list: readonly string[]) => list.map((line, at) => `${indent}${line}${at < list.length - 1 ? ',' : ''}`)
  const isTotal = other < 0 && found.exhaustive
  // A record of all kinds does not compile when there is one more; a map serves where there is a class for any other.
  const known = isTotal
    ? [`const ${table}: Readonly<Record<${kind}, ${names.contract}>> = {`, ...lines(entries.map(({ label, value }) => `${ts.isStringLiteralLike(label) && /^[A-Za-z_$][\w$]*$/.test(label.text) ? label.text : ts.isStringLiteralLike(label) ? label.getText() : `[${labelElsewhere(label, first!, editor, snapshot)}]`}: ${value}`)), `}${end}`]
    : [`const ${table}: ReadonlyMap<${kind}, ${names.contract}> = new Map<${kind}, ${names.contract}>([`, ...lines(entries.map(({ label, value }) => `[${ts.isStringLiteralLike(label) ? quote + label.text + quote : labelElsewhere(label, first!, editor, snapshot)}, ${value}]`)), `])${end}`]
  const rest = isTotal ? `${table}[kind]` : `${table}.get(kind) ?? ${otherwise}`
  // Where a switch without a default does nothing in any other case, a class does.
  if (!isTotal && other < 0) text += `${lineEnd}${exported}class ${names.other} implements ${names.contract} {${lineEnd}${indent}${signature} {}${lineEnd}}${lineEnd}`
  text += [
    '', ...known, ...(isTotal ? [] : [`const ${otherwise} = new ${names.other}()${end}`]), '',
    `/** Chooses by ${over}: for another one there is another class, and one more line above. */`,
    `${exported}function ${names.choose}(kind: ${kind}): ${names.contract} {`, `${indent}return ${rest}${end}`, '}', ''
  ].join(lineEnd)
  return { text, moved, first: first! }
}

/** A constant of an enum as the new file names it. */
function labelElsewhere(label: ts.Expression, run: MovedRun, editor: ProjectEditor, snapshot: Snapshot): string {
  const { expression, name } = label as ts.PropertyAccessExpression
  const found = snapshot.checker.getSymbolAtLocation(expression), symbol = found && found.flags & ts.SymbolFlags.Alias ? snapshot.checker.getAliasedSymbol(found) : found
  const declaration = symbol?.declarations?.[0], path = declaration && snapshot.pathOf(declaration.getSourceFile()), exported = declaration && editor.exportedName(declaration)
  if (path === undefined || exported === undefined) throw new Refused('not-visible', `${expression.getText()} is not exported, so that no other file could name it`)
  return `${run.nameFor({ name: exported, file: path, specifier: null, typeOnly: false })}.${name.text}`
}
