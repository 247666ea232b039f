import ts from 'typescript'
import type { PlanRefusal, Role, SplitInterfacePlan } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { narrowWhereverAllowed } from '../../write/narrow-wherever-allowed.js'
import { memberName, symbolOf } from '../declarations.js'
import type { Snapshot } from '../session.js'
import { describeError } from './check.js'
import { refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import type { FileEditor } from './file-editor.js'
import { ProjectEditor, topLevelNames } from './file-editor.js'
import { refusingImplementations } from './implementations.js'
import type { Refusing } from './implementations.js'
import { attachedEnd, attachedStart } from './moving-statements.js'
import type { Annotation } from './narrow.js'
import { annotationsOf } from './narrow.js'
import type { NarrowedChange } from './narrowing-trial.js'
import { narrowedPlaces, narrowingTrial, OrderErrors } from './narrowing-trial.js'
import { removeAllLines } from '../../write/removed-lines.js'
import { usedMembers } from './used-members.js'

/** Trials that narrowing to one role may cost beyond the first rounds. */
const BUDGET = { trials: 6, checks: 200 }

/** Names of the members that a role could have: those with a plain name, in an interface declared once. */
export function dividedMembers(node: ts.InterfaceDeclaration, { snapshot: { checker } }: WriteContext): string[] {
  if (!ts.isSourceFile(node.parent) || (symbolOf(node)?.declarations?.length ?? 1) > 1) return []
  // What it has from its parents stays, whatever it says of it again.
  const parents = node.heritageClauses?.flatMap(clause => clause.types.map(one => checker.getTypeAtLocation(one))) ?? []
  const names = node.members.filter(one => one.name && (ts.isIdentifier(one.name) || ts.isStringLiteral(one.name))).map(one => memberName(one))
  return [...new Set(names.filter(name => !parents.some(parent => parent.getProperty(name))))]
}

/** An interface that is composed of roles, each beside it in its file; its uses narrowed to the smallest role that serves. */
export function splitInterface(plan: SplitInterfacePlan, node: ts.InterfaceDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const file = node.getSourceFile(), path = snapshot.pathOf(file)!, own = node.name.text
  if (dividedMembers(node, context).length === 0) return planRefused('merged', `${own} is declared in several places, or not at the top of its file.`)
  const taken = topLevelNames(file)
  for (const { name } of plan.roles) {
    if (!/^[A-Za-z_$][\w$]*$/.test(name)) return planRefused('name', `${name} is not a name that an interface can have.`)
    if (taken.has(name)) return planRefused('name-taken', `${path} has a ${name} already; choose another name.`)
    taken.add(name)
  }
  const typeId = snapshot.declarations.typeOf(node)!.id
  const planned = plan.roles.map(role => ({ types: new Set([typeId]), to: `${path}#${role.name}` }))
  const chosen = new Map<string, { place: Annotation; role: string }>(), dropped: Refusing[] = []
  const build = () => write(plan.roles, node, [...chosen.values()], dropped, context)
  const order = new OrderErrors(() => write(plan.roles, node, [], [], context), context)
  try {
    let last = narrowingTrial(build(), planned, context, order, false).result
    if (last.errors.length > 0) return planRefused('does-not-compile', `It would not compile: ${describeError(last.errors[0]!, root)}`)
    if (last.broken !== null) return planRefused('binding', `${last.broken.message}.`)
    // What its own members say of it stays: they stand elsewhere afterwards.
    const places = plan.narrow ? annotationsOf(node, snapshot).filter(place => place.file !== file || place.name.end <= node.pos || place.name.pos >= node.end) : []
    for (const role of [...plan.roles].sort((a, b) => a.members.length - b.members.length)) {
      const candidates = places.filter(place => !chosen.has(place.key) && serves(place, new Set(role.members), snapshot))
      if (candidates.length === 0) continue
      const outcome = narrowWhereverAllowed(candidates, (narrowed, onlyWhether) => {
        for (const place of candidates) chosen.delete(place.key)
        for (const place of narrowed) chosen.set(place.key, { place, role: role.name })
        return narrowingTrial(build(), planned, context, order, onlyWhether)
      }, BUDGET)
      const { last: { result } } = outcome
      for (const place of candidates) if (![...result.built.narrowedAt.values()].includes(place.key)) chosen.delete(place.key)
      for (const place of candidates) if ([...result.built.narrowedAt.values()].includes(place.key)) chosen.set(place.key, { place, role: role.name })
      last = result
    }
    const kept: string[] = []
    for (const one of plan.drop ? refusingImplementations(node, plan.roles, snapshot) : []) {
      dropped.push(one)
      const tried = narrowingTrial(build(), planned, context, order, false)
      if (tried.holds) last = tried.result
      else { dropped.pop(); kept.push(one.name) }
    }
    if (last.errors.length > 0 || last.broken !== null) return planRefused('does-not-compile', last.broken?.message ?? `It would not compile: ${describeError(last.errors[0]!, root)}`)
    const notes = plan.roles.map(role => {
      const count = [...chosen.values()].filter(one => one.role === role.name).length
      return `${role.name} has ${role.members.join(', ')}; ${count} ${count === 1 ? 'use' : 'uses'} of ${own} as a type ${count === 1 ? 'becomes' : 'become'} it.`
    })
    for (const one of dropped) notes.push(`${one.name} keeps ${one.keeps.map(role => role.name).join(', ')} and no longer answers ${one.refused.join(', ')}.`)
    for (const name of kept) notes.push(`${name} still answers what it cannot do: it is used where all of ${own} is wanted.`)
    return {
      after: last.after, step: {
        refused: false, changes: last.built.changes, edits: last.built.count, notes,
        choices: { roles: plan.roles.map(role => `${role.name}: ${role.members.join(', ')}`).join('; '), narrow: plan.narrow ? 'yes' : 'no', drop: plan.drop ? 'yes' : 'no' }
      }
    }
  } catch (error) { return refusalOf(error) }
}

/** Whether what is declared at a place uses nothing but these members, as far as that is seen at once; the rest is seen by trying. */
function serves(place: Annotation, members: ReadonlySet<string>, snapshot: Snapshot): boolean {
  const used = usedMembers(place.name, snapshot)
  return used === null || (used.size > 0 && [...used].every(name => members.has(name)))
}

function write(roles: readonly Role[], node: ts.InterfaceDeclaration, narrowed: readonly { place: Annotation; role: string }[], dropped: readonly Refusing[], context: WriteContext): NarrowedChange {
  const { snapshot, root } = context
  const editor = new ProjectEditor(snapshot, root)
  const file = node.getSourceFile(), path = snapshot.pathOf(file)!
  const own = editor.editor(path)
  divide(roles, node, own)
  for (const { place, role } of narrowed) {
    const at = editor.editor(place.path)
    at.replace(place.name.getStart(), place.name.end, at.nameFor({ name: role, file: path, specifier: null, typeOnly: true }))
  }
  for (const one of dropped) {
    const at = editor.editor(one.path)
    const parameters = one.heritage.typeArguments ? `<${one.heritage.typeArguments.map(argument => argument.getText()).join(', ')}>` : ''
    at.replace(one.heritage.getStart(), one.heritage.end, one.keeps.map(role => at.nameFor({ name: role.name, file: path, specifier: null, typeOnly: true }) + (parametersOf(node, role) === '' ? '' : parameters)).join(', '))
    removeAllLines(one.members.map(member => ({ start: member.getStart(undefined, true), end: member.end })), at)
  }
  const done = editor.finish()
  return { ...done, narrowedAt: narrowedPlaces(narrowed.map(one => one.place), done.edits) }
}

/** Moves members into roles that stand before the interface, and lets it extend them. */
function divide(roles: readonly Role[], node: ts.InterfaceDeclaration, own: FileEditor): void {
  const { file } = own
  const { text } = file
  const { lineEnd, indent } = own.style
  const exported = node.modifiers?.some(one => one.kind === ts.SyntaxKind.ExportKeyword) ? 'export ' : ''
  const pieces: string[] = []
  const moved = new Set<ts.TypeElement>()
  for (const role of roles) {
    const members = node.members.filter(one => one.name && role.members.includes(memberName(one)))
    for (const one of members) moved.add(one)
    const lines = members.map(one => indent + text.slice(one.getStart(file, true), one.end))
    pieces.push(`${exported}interface ${role.name}${parametersOf(node, role)} {${lineEnd}${lines.join(lineEnd)}${lineEnd}}`)
  }
  const declared = pieces.join(lineEnd + lineEnd)
  own.keepNames(declared)
  own.insert(attachedStart(node, file), declared + lineEnd + lineEnd)
  const names = roles.map(role => role.name + argumentsFor(node, role)).join(', ')
  const clause = node.heritageClauses?.[0]
  const head = node.typeParameters ? text.indexOf('>', node.typeParameters.end) + 1 : node.name.end
  if (clause) own.insert(clause.types.end, `, ${names}`)
  else own.insert(head, ` extends ${names}`)
  const open = text.indexOf('{', clause?.end ?? head)
  if (moved.size === node.members.length) own.replace(open, node.end, '{}')
  else removeAllLines([...moved].map(one => ({ start: one.getStart(file, true), end: attachedEnd(one, file) })), own)
}

/** The type parameters of the interface that a role's members speak of. */
function parameterNodes(node: ts.InterfaceDeclaration, role: Role): ts.TypeParameterDeclaration[] {
  const all = [...node.typeParameters ?? []]
  const mentions = (texts: readonly string[], name: string) => texts.some(text => new RegExp(`(?<![\\w$])${name.replace(/\$/g, '\\$')}(?![\\w$])`).test(text))
  let wanted = all.filter(one => mentions(node.members.filter(member => member.name && role.members.includes(memberName(member))).map(member => member.getText()), one.name.text))
  // A bound may speak of another parameter.
  for (let size = -1; size !== wanted.length;) { size = wanted.length; wanted = all.filter(one => wanted.includes(one) || mentions(wanted.map(other => other.getText()), one.name.text)) }
  return wanted
}

function parametersOf(node: ts.InterfaceDeclaration, role: Role): string {
  const nodes = parameterNodes(node, role)
  return nodes.length === 0 ? '' : `<${nodes.map(one => one.getText()).join(', ')}>`
}

function argumentsFor(node: ts.InterfaceDeclaration, role: Role): string {
  const nodes = parameterNodes(node, role)
  return nodes.length === 0 ? '' : `<${nodes.map(one => one.name.text).join(', ')}>`
}
