import type { GroupArgumentsPlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { CONSTRUCTOR, Flags, MethodSymbol } from '../../binding/symbols.js'
import { speaksOf } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { lowerFirst, numberedName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { isAnnotation } from '../type-names.js'
import { checkedJavaStep } from './checked-step.js'
import { refuseOtherUses } from './constructor-parameter.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { constructorsOf, creationSites } from './creation-sites.js'
import { licence, RESERVED } from './extract-interface.js'
import { parameterName, parameterNodes } from './interface-members.js'
import { JavaEditor, NewJavaFile } from './java-editor.js'
import { argumentNodes } from './portable.js'
import { freeName } from './provision.js'
import { takenNames } from './taken-names.js'
import { typeText } from './type-text.js'

/** Methods of every object, which a record's component cannot be named like. */
const OF_EVERY_OBJECT = new Set(['clone', 'finalize', 'getClass', 'hashCode', 'notify', 'notifyAll', 'toString', 'wait'])

function onlyConstructor(symbol: ClassSymbol, { program }: BoundProgram): { readonly file: JavaFile; readonly node: Node } | undefined {
  const declared = program.declarations.get(symbol)
  if (!declared || symbol.outer || symbol.flags & (Flags.Enum | Flags.Record | Flags.Local | Flags.Interface)) return undefined
  const all = constructorsOf(symbol, declared.file, declared.node)
  return all.length === 1 ? { file: declared.file, node: all[0]! } : undefined
}

/** Names of a constructor's arguments from the first on, as far as they can be grouped. */
export function groupableParameters(symbol: ClassSymbol, bound: BoundProgram): string[] {
  const found = onlyConstructor(symbol, bound)
  if (!found) return []
  const { tree } = found.file
  const annotated = (node: Node) => { const modifiers = tree.childOf(node, Kind.Modifiers); return modifiers !== NONE && tree.children(modifiers).some(at => isAnnotation(tree.kind(at)) && !/^@(Deprecated|SuppressWarnings)\b/.test(tree.textOf(at))) }
  if (annotated(found.node)) return []
  const names: string[] = []
  const constructor = bound.program.methodAt(found.file, found.node) ?? symbol.own(CONSTRUCTOR).find(one => one instanceof MethodSymbol)
  const variables = new Set<unknown>([...symbol.typeParameters, ...(constructor instanceof MethodSymbol ? constructor.signature.typeParameters : [])])
  for (const [index, at] of parameterNodes(tree, found.node).entries()) {
    if (constructor instanceof MethodSymbol && speaksOf(constructor.signature.parameters[index]!, variables)) break
    if (tree.kind(at) === Kind.SpreadParameter || annotated(at) || OF_EVERY_OBJECT.has(parameterName(tree, at))) break
    names.push(parameterName(tree, at))
  }
  return names
}

/** Some arguments of a constructor as one object of a small class of its own; every place that creates it hands that. */
export function groupJavaArguments(plan: GroupArgumentsPlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const found = onlyConstructor(symbol, bound)
  if (!found || groupableParameters(symbol, bound).length < 2) return planRefused('constructor', `${symbol.name} has not exactly one constructor, or it takes nothing that could be grouped.`)
  const file = bound.file(found.file.path)?.java
  if (!file) throw new Refused('not-readable', `${found.file.path} cannot be followed`)
  const { tree } = file
  const taken = takenNames(context)
  const name = plan.name ?? numberedName(`${symbol.name}Parts`, one => !taken.has(one))
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) || RESERVED.test(name)) return planRefused('name', `${name} is not a name that a class can have.`)
  const target = `${file.path.slice(0, file.path.lastIndexOf('/') + 1)}${name}.java`
  if (bound.program.packages.get(symbol.packageName)?.has(name) || state.source.isFile(`${language.root}/${target}`)) return planRefused('file-exists', `${name} exists already beside it; choose another name.`)
  refuseOtherUses(symbol, context)

  const constructor = bound.program.methodAt(file, found.node)!
  const all = parameterNodes(tree, found.node)
  const first = all.findIndex(at => parameterName(tree, at) === plan.parameters[0])
  const group = all.slice(first, first + plan.parameters.length)
  const types = constructor.signature.parameters.slice(first, first + group.length)
  const variables = new Set<unknown>([...symbol.typeParameters, ...constructor.signature.typeParameters])
  if (types.some(type => speaksOf(type, variables))) return planRefused('generic', 'Their types speak of type parameters of the class.')

  const editor = new JavaEditor(bound)
  const own = editor.file(file.path)
  const { lineEnd, indent } = own.style
  const names = new NewJavaFile(symbol.packageName, new Set([name]), bound)
  const isRecord = [...bound.trees.values()].some(one => one.contains(0, Kind.RecordDeclaration))
  const access = symbol.flags & Flags.Public ? 'public ' : ''
  const components = group.map((at, index) => ({ name: parameterName(tree, at), type: typeText(types[index]!, names) }))
  const listed = components.map(one => `${one.type} ${one.name}`).join(', ')
  const body = isRecord ? [`${access}record ${name}(${listed}) {`, '}'] : [
    `${access}final class ${name} {`, ...components.map(one => `${indent}public final ${one.type} ${one.name};`), '', `${indent}${access}${name}(${listed}) {`,
    ...components.map(one => `${indent}${indent}this.${one.name} = ${one.name};`), `${indent}}`, '}'
  ]
  const imports = [...names.needed].sort().map(one => `import ${one};`)
  editor.create(target, [...licence(tree.text, lineEnd), ...(symbol.packageName === '' ? [] : [`package ${symbol.packageName};`, '']), ...imports, ...(imports.length > 0 ? [''] : []), ...body, ''].join(lineEnd))

  const parameter = freeName(lowerFirst(name.startsWith(symbol.name) ? name.slice(symbol.name.length) || name : name), file, found.node, new Set())
  own.replace(tree.start(group[0]!), tree.end(group.at(-1)!), `${name} ${parameter}`)
  for (let at = found.node; at < tree.after(found.node); at += 5) {
    const meaning = file.meaning(at)
    if (tree.kind(at) !== Kind.Identifier || !meaning || !('role' in meaning)) continue
    const index = group.findIndex(node => meaning.node === node || parentOf(tree, meaning.node) === node || (meaning.role === 'parameter' && tree.textOf(at) === parameterName(tree, node)))
    if (index < 0 || group.some(node => at > node && at < tree.after(node))) continue
    const parent = parentOf(tree, at)
    if ((tree.kind(parent) === Kind.AssignmentExpression && tree.child(parent, Field.Left) === at) || tree.kind(parent) === Kind.UpdateExpression) throw new Refused('assigned', `${tree.textOf(at)} is given another value in the constructor`)
    own.replaceNode(at, `${parameter}.${tree.textOf(at)}${isRecord ? '()' : ''}`)
  }
  const sites = creationSites(constructor, context)
  for (const site of sites) {
    const where = `${site.file.path}:${site.file.tree.text.slice(0, site.file.tree.start(site.node)).split('\n').length}`
    if (site.kind !== 'creation' && site.kind !== 'super' && site.kind !== 'this') throw new Refused('reference', `${where} hands the constructor itself around`)
    const given = argumentNodes(site.file, site.node).slice(first, first + group.length)
    if (given.length < group.length) throw new Refused('arguments', `${where} passes fewer arguments than the constructor has`)
    const at = editor.file(site.file.path)
    at.insert(site.file.tree.start(given[0]!), `new ${site.file.path === file.path ? name : at.byName(symbol.packageName, name)}(`)
    at.insert(site.file.tree.end(given.at(-1)!), ')')
  }
  return checkedJavaStep(editor, context, {
    notes: [`${sites.length} ${sites.length === 1 ? 'place hands' : 'places hand'} them together as a ${name}.`], choices: { parameters: plan.parameters.join(','), name },
    planned: [{ types: new Set([symbol.id]), to: symbol.id }]
  })
}
