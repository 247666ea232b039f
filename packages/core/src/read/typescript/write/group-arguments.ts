import ts from 'typescript'
import type { GroupArgumentsPlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { numberedName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import { checkedStep, refusalOf } from './checked-step.js'
import { refuseOtherUses } from './constructor-parameter.js'
import type { WriteContext, Written } from './context.js'
import { ProjectEditor, topLevelNames } from './file-editor.js'
import type { CreationSite } from './injection-points.js'
import { creationSites, lineOf, superCalls } from './injection-points.js'
import { attachedStart } from './moving-statements.js'
import { takeNames, TypeWriter } from './written-type.js'

/** The constructor whose arguments can be grouped: the only form, with a body. */
function onlyConstructor(node: ts.ClassLikeDeclaration): ts.ConstructorDeclaration | undefined {
  const all = node.members.filter(ts.isConstructorDeclaration)
  return all.length === 1 && all[0]!.body ? all[0] : undefined
}

/** Names of a constructor's arguments from the first on, as far as they can be grouped. */
export function groupableParameters(node: ts.ClassLikeDeclaration): string[] {
  const constructor = onlyConstructor(node)
  if (!constructor || !ts.isClassDeclaration(node) || !node.name || !ts.isSourceFile(node.parent) || ts.getDecorators(node)?.length) return []
  const names: string[] = []
  for (const parameter of constructor.parameters) {
    if (!ts.isIdentifier(parameter.name) || parameter.dotDotDotToken || ts.getDecorators(parameter)?.length) break
    names.push(parameter.name.text)
  }
  return names
}

/** Some arguments of a constructor as one object, with an interface of its own beside the class; every place that creates it hands that. */
export function groupArguments(plan: GroupArgumentsPlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const file = node.getSourceFile(), path = snapshot.pathOf(file)!
  const constructor = onlyConstructor(node)
  if (!constructor || groupableParameters(node).length < 2) return planRefused('constructor', 'Its constructor is overloaded, decorated, or takes nothing that could be grouped.')
  if (/\.[cm]?jsx?$/.test(path)) return planRefused('javascript', `${path} is JavaScript; what it is handed could not be checked.`)
  const own = node.name!.text
  const taken = new Set([...snapshot.facts.files.flatMap(one => one.types.map(type => type.name)), ...topLevelNames(file)])
  const name = plan.name ?? numberedName(`${own}Parts`, one => !taken.has(one))
  if (!/^[A-Za-z_$][\w$]*$/.test(name)) return planRefused('name', `${name} is not a name that an interface can have.`)
  if (topLevelNames(file).has(name)) return planRefused('name-taken', `${path} has a ${name} already; choose another name.`)
  const group = constructor.parameters.filter(one => ts.isIdentifier(one.name) && plan.parameters.includes(one.name.text))
  const first = constructor.parameters.indexOf(group[0]!)
  try {
    refuseOtherUses(node, context)
    refuseEarlyUse(node, group)
    const editor = new ProjectEditor(snapshot, root)
    const at = editor.editor(path)
    const { lineEnd, indent, semicolons } = at.style
    const end = semicolons ? ';' : ''
    const write = new TypeWriter(snapshot, editor, node, true)
    const isOptional = (one: ts.ParameterDeclaration) => one.questionToken !== undefined || one.initializer !== undefined
    const typeOf = (one: ts.ParameterDeclaration) => (one.type ? write.source(one.type) : write.inferred(snapshot.checker.getTypeAtLocation(one)))
    const fields = group.map(one => `${indent}readonly ${(one.name as ts.Identifier).text}${isOptional(one) ? '?' : ''}: ${typeOf(one)}${end}${lineEnd}`)
    const parameters = node.typeParameters?.filter(one => fields.some(text => new RegExp(`(?<![\\w$])${one.name.text}(?![\\w$])`).test(text))) ?? []
    const generics = parameters.length > 0 ? `<${parameters.map(one => write.source(one)).join(', ')}>` : '', given = parameters.length > 0 ? `<${parameters.map(one => one.name.text).join(', ')}>` : ''
    takeNames(write, at)
    const exported = (node as ts.ClassDeclaration).modifiers?.some(one => one.kind === ts.SyntaxKind.ExportKeyword) ? 'export ' : ''
    const declared = `${exported}interface ${name}${generics} {${lineEnd}${fields.join('')}}${lineEnd}${lineEnd}`
    at.keepNames(declared)
    at.insert(attachedStart(node as ts.ClassDeclaration, file), declared)

    const names = group.map(one => `${(one.name as ts.Identifier).text}${one.initializer ? ` = ${one.initializer.getText()}` : ''}`)
    const last = group.at(-1)!
    const allOptional = group.every(isOptional) && constructor.parameters.slice(first + group.length).every(one => isOptional(one) || one.dotDotDotToken !== undefined)
    const grouped = `{ ${names.join(', ')} }: ${name}${given}${allOptional ? ' = {}' : ''}`
    at.keepNames(grouped)
    at.replace(group[0]!.getStart(file, true), last.end, grouped)
    const kept = group.filter(one => ts.isParameterPropertyDeclaration(one, constructor))
    if (kept.length > 0) {
      const margin = at.indentAt(constructor.getStart(file))
      const text = (one: ts.ParameterDeclaration) => file.text.slice(one.modifiers![0]!.getStart(file), one.name.getStart(file)) + (one.name as ts.Identifier).text + (one.questionToken ? '?' : '') + `: ${typeOf(one)}${end}`
      const fieldLines = kept.map(text).join(lineEnd + margin)
      at.keepNames(fieldLines)
      at.insert(constructor.getStart(file, true), fieldLines + lineEnd + lineEnd + margin)
      const assignments = kept.map(one => `this.${(one.name as ts.Identifier).text} = ${(one.name as ts.Identifier).text}${end}`)
      const body = constructor.body!, call = superCalls(constructor)[0]
      if (body.statements.length === 0) at.replace(body.getStart(file), body.end, `{${assignments.map(line => lineEnd + margin + indent + line).join('')}${lineEnd}${margin}}`)
      else at.insert(call ? ts.findAncestor(call, ts.isStatement)!.end : body.getStart(file) + 1, assignments.map(line => lineEnd + margin + indent + line).join(''))
    }
    const sites = creationSites(node, snapshot)
    for (const site of sites) handTogether(site, first, group, editor, context)
    return checkedStep(editor, context, {
      notes: [`${sites.length} ${sites.length === 1 ? 'place hands' : 'places hand'} them together as a ${name}.`], choices: { parameters: plan.parameters.join(','), name }, planned: []
    })
  } catch (error) { return refusalOf(error) }
}

/** Fields that an argument fills are filled after the initialisers of others: none of these may look at them. */
function refuseEarlyUse(node: ts.ClassLikeDeclaration, group: readonly ts.ParameterDeclaration[]): void {
  const names = new Set(group.map(one => (one.name as ts.Identifier).text))
  for (const member of node.members) {
    if (!ts.isPropertyDeclaration(member) || !member.initializer) continue
    const visit = (at: ts.Node): void => {
      if (ts.isPropertyAccessExpression(at) && at.expression.kind === ts.SyntaxKind.ThisKeyword && names.has(at.name.text) && !ts.findAncestor(at, one => one === member.initializer && ts.isFunctionLike(one))) {
        throw new Refused('order', `A field is initialised with this.${at.name.text}, line ${lineOf(at)}`)
      }
      ts.forEachChild(at, visit)
    }
    visit(member.initializer)
  }
}

/** Lets a place that creates an object hand some of its arguments as one. */
function handTogether(site: CreationSite, first: number, group: readonly ts.ParameterDeclaration[], editor: ProjectEditor, { snapshot }: WriteContext): void {
  const path = snapshot.pathOf(site.getSourceFile())!
  const own = editor.editor(path)
  const list = site.arguments
  if (list?.some((one, index) => ts.isSpreadElement(one) && index < first + group.length)) throw new Refused('spread', `${path}:${lineOf(site)} passes its arguments with a spread`)
  const given = list?.slice(first, first + group.length) ?? []
  if (given.length === 0) {
    // Only what may be left out was left out; so may be the whole.
    if (list && list.length < first) return
    if (group.every(one => one.questionToken || one.initializer)) return
    throw new Refused('arguments', `${path}:${lineOf(site)} passes fewer arguments than the constructor has`)
  }
  given.forEach((argument, index) => {
    const name = (group[index]!.name as ts.Identifier).text
    const label = ts.isIdentifier(argument) && argument.text === name ? '' : `${name}: `
    own.insert(argument.getStart(), `${index === 0 ? '{ ' : ''}${label}`)
  })
  own.insert(given.at(-1)!.end, ' }')
}
