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
import { creationSites } from './injection-points.js'
import { findHeldLibraries } from './held-library.js'
import { findOutsideUses } from './outside-uses.js'
import { uniqueName } from './parameter-name.js'
import { CallMaker } from './wrapper-calls.js'
import { heldNames, wrapHeld } from './wrap-held.js'
import { chosenNames, replaceUse, WrapperFiles } from './wrapper-files.js'

/** What could be put behind interfaces in a class; nothing where a framework builds it. */
export function outsideUses(type: string, node: ts.ClassLikeDeclaration, snapshot: Snapshot): OutsideUses[] {
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

/** Puts what a class uses of a library behind an interface, whose implementation alone imports it, and hands that to the class. */
export function wrapLibrary(plan: WrapLibraryPlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  if (plan.uses.startsWith(HELD)) return wrapHeld(plan, node, context)
  const { snapshot, root } = context
  const group = findOutsideUses(plan.type, node, snapshot).find(one => one.key === plan.uses)
  if (!group) return planRefused('done', `${node.name?.text ?? 'The class'} uses nothing of ${plan.uses.replace(`${RUNTIME}.`, 'the ')} itself any more.`)
  if (group.uses.length === 0) return planRefused('stays', `Nothing of it can be put behind an interface: line ${group.stays[0]!.line}, ${group.stays[0]!.why}.`)
  const path = snapshot.pathOf(node.getSourceFile())!
  if (/\.[cm]?jsx?$/.test(path)) return planRefused('javascript', `${path} is JavaScript, which has no interfaces.`)
  if (ts.canHaveDecorators(node) && ts.getDecorators(node)?.length) return planRefused('framework', 'Its decorators mean that a framework builds it, and the framework would not know the new parameter.')
  const proposed = outsideNames(group.external, group.effect, group.external === RUNTIME)
  const chosen = chosenNames(plan, proposed, path, true, snapshot)
  if ('refused' in chosen) return chosen
  const { folder, port, implementation, fileOf } = chosen
  try {
    const editor = new ProjectEditor(snapshot, root)
    const pair = new WrapperFiles(port, fileOf(port), implementation, fileOf(implementation), editor, snapshot, root)
    const own = editor.editor(path)
    const held = heldAs(node, pair, snapshot)
    const field = held ?? uniqueName(lowerFirst(port), node, new Set(), false)
    const calls = new CallMaker(group.external === RUNTIME, node, pair, editor, context)
    for (const use of group.uses) replaceUse(use, calls.callFor(use).name, use.beforeSuper ? field : `this.${field}`, own)
    if (held === undefined) {
      const type = own.nameFor({ name: port, file: pair.portFile, specifier: null, typeOnly: true })
      const provide = (at: FileEditor) => `new ${at.nameFor({ name: implementation, file: pair.implementationFile, specifier: null, typeOnly: false })}()`
      addParameter(node, { name: field, type, kept: true, assignments: [], provide }, own, editor, context, plan.withDefault, plan.withDefault ? [] : creationSites(node, snapshot), 0, [])
    }
    pair.write(calls.needed, own.style, proposed.label)
    return checkedStep(editor, context, {
      notes: [
        `${implementation} is where ${proposed.label} is used now; a test hands in another ${port}.`,
        ...group.stays.map(({ line, why }) => `${path}:${line} stays as it is: ${why}.`)
      ],
      choices: { uses: plan.uses, name: port, implementation, folder, default: plan.withDefault ? 'yes' : 'no' }, planned: []
    })
  } catch (error) { return refusalOf(error) }
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
