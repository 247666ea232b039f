import ts from 'typescript'
import type { PlanRefusal, ReplaceTypeSwitchPlan, SwitchPlace } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { Refused } from '../../write/refused.js'
import type { SwitchNames } from '../../write/switch-names.js'
import { caseName } from '../../write/switch-names.js'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import { checkedStep, refusalOf } from './checked-step.js'
import { addParameter } from './constructor-parameter.js'
import type { WriteContext, Written } from './context.js'
import { dividedHoles } from './facade-parts.js'
import { ProjectEditor } from './file-editor.js'
import type { FoundSwitch } from './found-switches.js'
import { foundSwitches, isOf, labelText, namesOf } from './found-switches.js'
import { writeType } from './injected-type.js'
import { creationSites, lineOf } from './injection-points.js'
import type { writtenParameters } from './moved-run.js'
import { givenArguments } from './moved-run.js'
import { shiftAt } from './moved-members.js'
import { attachedStart } from './moving-statements.js'
import { newFilePath } from './new-file.js'
import { newFileCycle } from './new-file-cycle.js'
import { uniqueName } from './parameter-name.js'
import { givenTypeArguments } from './scoped-type-parameters.js'
import { isTarget } from './settled.js'
import type { SetVariable } from './switch-cases.js'
import { keptOf, setOf } from './switch-cases.js'
import { runsAtLoad } from './switch-homes.js'
import { valuesOf, writtenCases } from './written-cases.js'
import { kindWord } from './written-choice.js'
import { NotWritable, takeNames } from './written-type.js'

/** Switches of a class, or of a file's functions, whose cases could each be a class, in order. */
export function typeSwitches(node: ts.ClassLikeDeclaration | ts.SourceFile, snapshot: Snapshot): SwitchPlace[] {
  return foundSwitches(node, snapshot).map(one => ({
    key: one.key, member: one.member, handed: one.owner !== undefined, line: lineOf(one.node), over: one.over, cases: one.cases.map(({ labels }) => caseName(labels.map(labelText))), name: namesOf(one, null, snapshot).contract, edits: one.cases.length + 3, files: 2
  }))
}

/** An interface with one class for each case, and a function that chooses among them, which the class is handed; what belongs to no object calls it. */
export function replaceTypeSwitch(plan: ReplaceTypeSwitchPlan, node: ts.ClassLikeDeclaration | ts.SourceFile, context: WriteContext): Written | PlanRefusal {
  const { snapshot } = context
  const found = foundSwitches(node, snapshot).find(one => one.key === plan.place)
  if (!found) return planRefused('switch', `The cases of ${plan.place} cannot stand elsewhere: each has to give back a value, set the same variable or field at its end, or just run, and none may set other fields of the class.`)
  const names = namesOf(found, plan.name, snapshot), { owner, top, unified, result, narrowed } = found
  const file = top.getSourceFile(), path = snapshot.pathOf(file)!
  const target = newFilePath({ name: names.contract, kind: 'an interface', folder: folderOf(path), like: path, importers: [file] }, context)
  if (typeof target !== 'string') return target
  try {
    const { parameters, names: inside } = dividedHoles({ places: [{ statements: found.parts }], unified }, snapshot, () => undefined, new Set(), hole => (narrowed && isOf(hole, narrowed, snapshot) ? narrowed.whole : undefined))
    const holes = new Map<ts.Node, string>(parameters.flatMap(handed => handed.holes.map(hole => [hole.nodes[0]!, handed.lazy ? `${handed.name}()` : handed.name] as const)))
    const beside = besideOrWithin(found, names, parameters, holes, context), { editor, written, isWithin } = beside, own = editor.editor(path)
    const home = isWithin ? path : target, before = attachedStart(isWithin ? firstAfterKinds(found, snapshot) : top, file), { lineEnd } = own.style
    const lead = isWithin ? '' : written.first.imports(target, written.text, new Set([names.contract, names.choose, ...names.classes, ...inside]))
    if (isWithin) {
      takeNames(written.first.write, own)
      own.keepNames(written.text)
      own.insert(before, written.text + lineEnd)
    } else editor.create(target, lead + written.text)

    const kind = owner ? writeType(snapshot.checker.getTypeAtLocation(found.subject), found.subject, own, editor, context) : ''
    const contract = isWithin || !owner ? names.contract : own.nameFor({ name: names.contract, file: target, specifier: null, typeOnly: true })
    const notes: string[] = []
    let choose: string
    if (owner) {
      const field = uniqueName(names.field, owner, new Set(), false)
      addParameter(owner, {
        name: field, type: `(${kindWord(found)}: ${kind}) => ${contract}`, kept: true, assignments: [], provide: at => (at.path === home ? names.choose : at.nameFor({ name: names.choose, file: home, specifier: null, typeOnly: false }))
      }, own, editor, context, plan.withDefault, plan.withDefault ? [] : creationSites(owner, snapshot), 0, notes)
      choose = `this.${field}`
    } else choose = isWithin ? names.choose : own.nameFor({ name: names.choose, file: home, specifier: null, typeOnly: false })
    const kept = keptOf(result), end = own.style.semicolons ? ';' : ''
    const given = [...givenArguments(parameters, 0, snapshot.checker), ...kept.filter(one => one.isHanded).map(one => one.set.name)]
    const call = `${choose}(${found.subject.getText()}).${names.method}${givenTypeArguments(written.typeParameters)}(${given.join(', ')})`
    own.keepNames(call)
    if (owner) own.keepNames(kind)
    const variable = setOf(result), apart = variable && declaredApart(found, variable, snapshot)
    const had = valuesOf(kept), head = result === 'returned' ? 'return ' : apart ? `const ${apart.declaration.getText()} = ` : variable ? `${variable.target.getText()} = ` : kept.length === 1 ? `${had} = ` : ''
    // A line that begins with a parenthesis goes on from the one before.
    own.replace((apart?.statement ?? found.node).getStart(file), found.end, kept.length > 1 ? `${end === '' ? ';' : ''}(${had} = ${call})${end}` : head + call + end)
    const checked = checkedStep(editor, context, {
      notes: [
        ...(isWithin ? [`They stand in ${path}, for they need what is declared in it.`] : []),
        ...(found.exhaustive && !found.cases.some(one => one.labels.length === 0) ? [`${found.over} is the whole of what has a class; a value that its type does not allow was passed over in silence, and is an error now.`] : []),
        ...parameters.filter(handed => handed.lazy).map(handed => `What is called ${handed.name} is worked out only in some cases, and so it is handed as a function.`), ...notes
      ],
      choices: { place: plan.place, name: names.contract, ...(owner ? { default: plan.withDefault ? 'yes' : 'no' } : {}) }, planned: [],
      moved: edits => { const by = isWithin ? before + shiftAt(before, edits.get(path) ?? []) : lead.length; return written.moved.map(one => ({ ...one, from: path, to: home, at: one.at + by })) }
    })
    if ('refused' in checked || isWithin) return checked
    const cycle = newFileCycle(snapshot, checked.after, path, target)
    return cycle ? planRefused('load-cycle', `${target} and ${cycle.find(one => one !== target) ?? path} would load each other in a circle.`) : checked
  } catch (error) { return refusalOf(error) }
}

/** The cases as a file of their own, or within that of the class where they need what is declared there: else both would need each other. */
function besideOrWithin(found: FoundSwitch, names: SwitchNames, parameters: Parameters<typeof writtenParameters>[0], holes: ReadonlyMap<ts.Node, string>, { snapshot, root }: WriteContext) {
  const path = snapshot.pathOf(found.top.getSourceFile())!
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

/** What chooses is made as the file is loaded: it stands before the code of the switch, or behind the kinds, which have to be there by then. */
function firstAfterKinds({ top, told, cases, isByClass }: FoundSwitch, snapshot: Snapshot): ts.Statement {
  // Classes are asked for when it is asked.
  const { statements } = top.getSourceFile(), labels = isByClass ? [] : cases.flatMap(one => one.labels)
  const kinds = labels.flatMap(label => {
    const declaration = ts.isPropertyAccessExpression(label) ? snapshot.checker.getSymbolAtLocation(label.expression)?.declarations?.[0] : undefined
    const statement = declaration && statements.find(one => one.pos <= declaration.pos && declaration.end <= one.end)
    return statement && declaration.getSourceFile() === top.getSourceFile() && statement.pos > top.pos && !ts.isImportDeclaration(statement) ? [statement] : []
  })
  if (kinds.length === 0) return top
  const last = Math.max(...kinds.map(one => statements.indexOf(one))), after = statements[last + 1]
  if (!after || statements.slice(statements.indexOf(top), last + 1).some(one => runsAtLoad(one, snapshot))) throw new Refused('order', `${labels[0]!.getText()} is declared behind ${told}, and would not be there yet when what chooses by it is made`)
  return after
}

/** The declaration directly before that nothing else sets, so that both are one. */
function declaredApart({ node: at, around }: FoundSwitch, { set, target }: SetVariable, { checker }: Snapshot): { statement: ts.Statement; declaration: ts.VariableDeclaration } | undefined {
  const declaration = set.valueDeclaration
  if (!ts.isIdentifier(target) || !declaration || !ts.isVariableDeclaration(declaration) || !ts.isVariableDeclarationList(declaration.parent) || declaration.initializer || declaration.parent.declarations.length > 1 || !ts.isBlock(at.parent)) return undefined
  const statement = declaration.parent.parent, { statements } = at.parent
  if (!ts.isVariableStatement(statement) || statements.indexOf(statement) !== statements.indexOf(at) - 1) return undefined
  let isSet = false
  const visit = (one: ts.Node): void => {
    if (one === at) return
    if (ts.isIdentifier(one) && one.text === set.name && checker.getSymbolAtLocation(one) === set && isTarget(one)) isSet = true
    ts.forEachChild(one, visit)
  }
  visit(around.body)
  return isSet ? undefined : { statement, declaration }
}
