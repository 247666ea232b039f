import ts from 'typescript'
import type { OutsideUses, PlanRefusal, WrapLibraryPlan } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { lowerFirst } from '../../write/names.js'
import { HELD, heldKey } from '../../write/outside-group.js'
import { outsideNames } from '../../write/outside-names.js'
import { memberName } from '../declarations.js'
import { RUNTIME } from '../externals.js'
import type { Snapshot } from '../session.js'
import { checkedStep, refusalOf } from './checked-step.js'
import { addParameter } from './constructor-parameter.js'
import type { WriteContext, Written } from './context.js'
import type { FileEditor } from './file-editor.js'
import { ProjectEditor } from './file-editor.js'
import { handedFunctions, handToFunctions } from './handed-functions.js'
import { creationSites } from './injection-points.js'
import { findHeldLibraries } from './held-library.js'
import type { OutsideUse } from './outside-uses.js'
import { findOutsideUses } from './outside-uses.js'
import { uniqueName } from './parameter-name.js'
import { CallMaker } from './wrapper-calls.js'
import { heldNames, wrapHeld } from './wrap-held.js'
import { chosenNames, replaceUse, WrapperFiles } from './wrapper-files.js'

/** What could be put behind interfaces in a class, or in the functions of a file; nothing where a framework builds a class. */
export function outsideUses(type: string, node: ts.ClassLikeDeclaration | ts.SourceFile, snapshot: Snapshot): OutsideUses[] {
  if (ts.isSourceFile(node)) return usesOfFunctions(type, node, snapshot)
  if (!node.name || (ts.canHaveDecorators(node) && ts.getDecorators(node)?.length) || /\.[cm]?jsx?$/.test(node.getSourceFile().fileName)) return []
  const groups = findOutsideUses(type, node, snapshot).filter(group => group.uses.length > 0)
  const held = findHeldLibraries(node, snapshot).filter(one => one.stays === null)
  if (groups.length === 0 && held.length === 0) return []
  const sites = creationSites(node, snapshot)
  const inFields = held.map((one): OutsideUses => {
    const { port, implementation } = heldNames(one, node, snapshot)
    return { key: heldKey(one.external, one.field), label: `${one.external} (${one.field})`, name: port, implementation, uses: one.uses.length, edits: one.uses.length + sites.length + 3, files: new Set(sites.map(site => site.getSourceFile())).size + 3 }
  })
  return inFields.concat(groups.map(group => {
    const { label, port, implementation } = outsideNames(group.external, group.effect, group.external === RUNTIME)
    return { key: group.key, label, name: port, implementation, uses: group.uses.length, edits: group.uses.length + sites.length + 3, files: new Set(sites.map(site => site.getSourceFile())).size + 3 }
  }))
}

function usesOfFunctions(type: string, file: ts.SourceFile, snapshot: Snapshot): OutsideUses[] {
  if (/\.[cm]?jsx?$/.test(file.fileName) || !ts.isExternalModule(file)) return []
  return findOutsideUses(type, file, snapshot).filter(group => group.uses.length > 0).map(group => {
    const { label, port, implementation } = outsideNames(group.external, group.effect, group.external === RUNTIME)
    const { names, calls } = handedFunctions(usersOf(group.uses), file, lowerFirst(port), () => undefined, snapshot)
    return { key: group.key, label, name: port, implementation, uses: group.uses.length, edits: group.uses.length + names.size + calls.length + 2, files: 3 }
  })
}

/** Functions in which uses stand. */
function usersOf(uses: readonly OutsideUse[]): Set<ts.FunctionLikeDeclaration> { return new Set(uses.flatMap(one => one.within ?? [])) }

/** Puts what a class or functions use of a library behind an interface, whose implementation alone imports it, and hands that to the class or the functions. */
export function wrapLibrary(plan: WrapLibraryPlan, node: ts.ClassLikeDeclaration | ts.SourceFile, context: WriteContext): Written | PlanRefusal {
  if (plan.uses.startsWith(HELD)) return ts.isSourceFile(node) ? planRefused('done', 'Functions hold no objects of a library.') : wrapHeld(plan, node, context)
  const { snapshot, root } = context
  const group = findOutsideUses(plan.type, node, snapshot).find(one => one.key === plan.uses)
  if (!group) return planRefused('done', `${ts.isSourceFile(node) ? snapshot.pathOf(node) : node.name?.text ?? 'The class'} uses nothing of ${plan.uses.replace(`${RUNTIME}.`, 'the ')} itself any more.`)
  if (group.uses.length === 0) return planRefused('stays', `Nothing of it can be put behind an interface: line ${group.stays[0]!.line}, ${group.stays[0]!.why}.`)
  const path = snapshot.pathOf(node.getSourceFile())!
  if (/\.[cm]?jsx?$/.test(path)) return planRefused('javascript', `${path} is JavaScript, which has no interfaces.`)
  if (!ts.isSourceFile(node) && ts.canHaveDecorators(node) && ts.getDecorators(node)?.length) return planRefused('framework', 'Its decorators mean that a framework builds it, and the framework would not know the new parameter.')
  const proposed = outsideNames(group.external, group.effect, group.external === RUNTIME)
  const chosen = chosenNames(plan, proposed, path, true, snapshot)
  if ('refused' in chosen) return chosen
  const { folder, port, implementation, fileOf } = chosen
  try {
    const editor = new ProjectEditor(snapshot, root)
    const pair = new WrapperFiles(port, fileOf(port), implementation, fileOf(implementation), editor, snapshot, root)
    const own = editor.editor(path)
    const calls = new CallMaker(group.external === RUNTIME, node, pair, editor, context)
    const names: PortNames = {
      field: lowerFirst(port), typeIn: at => at.nameFor({ name: port, file: pair.portFile, specifier: null, typeOnly: true }),
      provide: at => `new ${at.nameFor({ name: implementation, file: pair.implementationFile, specifier: null, typeOnly: false })}()`
    }
    const handing = ts.isSourceFile(node) ? handingToFunctions(node, group.uses, pair, names, own, snapshot) : handingToClass(node, pair, names, plan.withDefault, own, editor, context)
    for (const use of group.uses) replaceUse(use, calls.callFor(use).name, handing.holderOf(use), own)
    handing.write()
    pair.write(calls.needed, own.style, proposed.label)
    return checkedStep(editor, context, {
      notes: [
        `${implementation} is where ${proposed.label} is used now; a test hands in another ${port}.`,
        ...handing.notes,
        ...group.stays.map(({ line, why }) => `${path}:${line} stays as it is: ${why}.`)
      ],
      choices: { uses: plan.uses, name: port, implementation, folder, ...(ts.isSourceFile(node) ? {} : { default: plan.withDefault ? 'yes' : 'no' }) }, planned: []
    })
  } catch (error) { return refusalOf(error) }
}

/** How what is handed in is named, typed and made. */
interface PortNames { readonly field: string; readonly typeIn: (at: FileEditor) => string; readonly provide: (at: FileEditor) => string }

/** By what each use reaches the interface, and how it gets there. */
interface Handing { readonly holderOf: (use: OutsideUse) => string; readonly write: () => void; readonly notes: readonly string[] }

function handingToClass(node: ts.ClassLikeDeclaration, pair: WrapperFiles, { field: wanted, typeIn, provide }: PortNames, withDefault: boolean, own: FileEditor, editor: ProjectEditor, context: WriteContext): Handing {
  const held = heldAs(node, pair, context.snapshot), field = held ?? uniqueName(wanted, node, new Set(), false)
  return {
    holderOf: use => (use.beforeSuper ? field : `this.${field}`), notes: [],
    write: () => { if (held === undefined) addParameter(node, { name: field, type: typeIn(own), kept: true, assignments: [], provide }, own, editor, context, withDefault, withDefault ? [] : creationSites(node, context.snapshot), 0, []) }
  }
}

function handingToFunctions(file: ts.SourceFile, uses: readonly OutsideUse[], pair: WrapperFiles, { field, typeIn, provide }: PortNames, own: FileEditor, snapshot: Snapshot): Handing {
  const users = usersOf(uses), handed = handedFunctions(users, file, field, target => target.parameters.find(one => isOfPort(one, pair, snapshot))?.name.getText(), snapshot)
  const others = handed.names.size - users.size
  return {
    holderOf: use => handed.names.get(use.within!)!, write: () => { handToFunctions(handed, typeIn(own), provide(own), own) },
    notes: others > 0 ? [`${others === 1 ? 'One other function of the file hands' : `${others} other functions of the file hand`} it on to those that use it.`] : []
  }
}

/** The member by which a class holds the interface already. */
function heldAs(node: ts.ClassLikeDeclaration, pair: WrapperFiles, { checker }: Snapshot): string | undefined {
  const symbol = pair.port && checker.getSymbolAtLocation(pair.port.name)
  if (!symbol) return undefined
  const isPort = (type: ts.TypeNode | undefined) => type !== undefined && checker.getTypeAtLocation(type).symbol === symbol
  for (const member of node.members) {
    if (ts.isPropertyDeclaration(member) && isPort(member.type)) return memberName(member)
    if (!ts.isConstructorDeclaration(member)) continue
    const parameter = member.parameters.find(one => ts.isParameterPropertyDeclaration(one, member) && isPort(one.type))
    if (parameter) return parameter.name.getText()
  }
  return undefined
}

/** Whether a parameter is declared with the interface that is there already. */
function isOfPort({ type }: ts.ParameterDeclaration, { port }: WrapperFiles, { checker }: Snapshot): boolean {
  return type !== undefined && port !== undefined && checker.getTypeAtLocation(type).symbol === checker.getSymbolAtLocation(port.name)
}
