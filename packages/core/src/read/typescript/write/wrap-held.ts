import ts from 'typescript'
import type { PlanRefusal, WrapLibraryPlan } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { heldKey } from '../../write/outside-group.js'
import { heldObjectNames } from '../../write/outside-names.js'
import type { Snapshot } from '../session.js'
import { checkedStep, refusalOf } from './checked-step.js'
import { addParameter } from './constructor-parameter.js'
import type { WriteContext, Written } from './context.js'
import type { FileEditor } from './file-editor.js'
import { ProjectEditor } from './file-editor.js'
import type { HeldLibrary } from './held-library.js'
import { findHeldLibraries } from './held-library.js'
import { creationSites } from './injection-points.js'
import { uniqueName } from './parameter-name.js'
import { readsBefore } from './provision.js'
import { CallMaker } from './wrapper-calls.js'
import { chosenNames, replaceUse, WrapperFiles } from './wrapper-files.js'

/** Names that nothing in the project has, nor the class of the library, which the implementation imports. */
export function heldNames({ field, creation }: HeldLibrary, node: ts.ClassLikeDeclaration, { facts }: Snapshot): { readonly port: string; readonly implementation: string } {
  const taken = new Set(facts.files.flatMap(one => one.types.map(type => type.name))).add(creation.expression.getText().split('.').at(-1)!)
  return heldObjectNames(field, node.name?.text ?? '', taken)
}

/**
 * Puts a library object that a class holds behind an interface: its implementation makes and holds it. Where what it is made of is
 * the same wherever it is made, the class is handed the implementation; else the class makes it where it made the object.
 */
export function wrapHeld(plan: WrapLibraryPlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const held = findHeldLibraries(node, snapshot).find(one => heldKey(one.external, one.field) === plan.uses)
  if (!held) return planRefused('done', `${node.name?.text ?? 'The class'} holds no object of a library in ${plan.uses.slice(plan.uses.lastIndexOf(':') + 1)} any more.`)
  const path = snapshot.pathOf(node.getSourceFile())!
  if (held.stays) return planRefused('stays', `It cannot be put behind an interface: ${path}:${held.stays.line}, ${held.stays.why}.`)
  if (/\.[cm]?jsx?$/.test(path)) return planRefused('javascript', `${path} is JavaScript, which has no interfaces.`)
  const chosen = chosenNames(plan, heldNames(held, node, snapshot), path, false, snapshot)
  if ('refused' in chosen) return chosen
  const { folder, port, implementation, fileOf } = chosen
  try {
    const editor = new ProjectEditor(snapshot, root)
    const pair = new WrapperFiles(port, fileOf(port), implementation, fileOf(implementation), editor, snapshot, root)
    const own = editor.editor(path), { field, declaration, creation } = held
    const calls = new CallMaker(false, node, pair, editor, context)
    for (const use of held.uses) replaceUse(use, calls.callFor(use).name, `this.${field}`, own)
    const opening = openingOf(held, calls, own)
    const type = own.nameFor({ name: port, file: pair.portFile, specifier: null, typeOnly: true })
    const made = (at: FileEditor) => at.nameFor({ name: implementation, file: pair.implementationFile, specifier: null, typeOnly: false })
    const isHanded = declaration.initializer === creation && held.passed.length === 0 && readsBefore(field, declaration, node) === undefined && !(ts.canHaveDecorators(node) && ts.getDecorators(node)?.length)
    if (isHanded) {
      own.replace(declaration.name.end, creation.end, `: ${type}`)
      const name = uniqueName(field.replace(/^[#_]+/, ''), node, new Set(), true)
      addParameter(node, { name, type, kept: false, assignments: [`this.${field} = ${name}`], provide: at => `new ${made(at)}()` }, own, editor, context, plan.withDefault, plan.withDefault ? [] : creationSites(node, snapshot), 0, [])
    } else {
      if (declaration.type) own.replace(declaration.type.getStart(), declaration.type.end, type)
      else own.insert((declaration.exclamationToken ?? declaration.name).end, `: ${type}`)
      own.replace(creation.getStart(), creation.end, `new ${made(own)}(${held.passed.map(one => one.getText()).join(', ')})`)
    }
    pair.write(calls.needed, own.style, held.external, opening)
    return checkedStep(editor, context, {
      notes: [
        `${implementation} is where ${held.external} is used now; a test hands in another ${port}.`,
        ...(isHanded ? [] : [`${node.name?.text ?? 'The class'} makes it where it made the object, of what only it knows; Inject hands it in.`])
      ],
      choices: { uses: plan.uses, name: port, implementation, folder, default: plan.withDefault ? 'yes' : 'no' }, planned: []
    })
  } catch (error) { return refusalOf(error) }
}

/** The lines of the implementation that make and hold the object. */
function openingOf(held: HeldLibrary, calls: CallMaker, { style: { indent, lineEnd, semicolons } }: FileEditor): string[] {
  const { field, creation, passed } = held
  const end = semicolons ? ';' : '', modifiers = field.startsWith('#') ? 'readonly' : 'private readonly'
  const names = calls.parameterNames({ names: [], passed })
  const text = calls.textOf({ node: creation, passed }, names)
  if (passed.length === 0) return [`${indent}${modifiers} ${field} = ${text}${end}${lineEnd}`]
  const made = /^new ([\w$.]+)/.exec(text)![1]!
  return [
    `${indent}${modifiers} ${field}: ${made}${end}${lineEnd}`, `${indent}constructor(${names.map((name, index) => `${name}: ${calls.typeOf(passed[index]!)}`).join(', ')}) {`,
    `${indent}${indent}this.${field} = ${text}${end}`, `${indent}}${lineEnd}`
  ]
}
