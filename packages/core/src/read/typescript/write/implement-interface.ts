import ts from 'typescript'
import type { ImplementInterfacePlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { implementationName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import { symbolOf } from '../declarations.js'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import { checkedStep, refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import { importLines } from './extract-interface.js'
import { packageFolder, ProjectEditor } from './file-editor.js'
import { writeParameters } from './members.js'
import { fakeOf } from './fake.js'
import { newFilePath } from './new-file.js'
import { parameterNames } from './unread-parameters.js'
import { TypeWriter } from './written-type.js'

/** Names of what an implementation of an interface has to have; none where a class cannot implement it. */
export function membersToImplement(node: ts.InterfaceDeclaration, { checker }: Snapshot): string[] {
  const type = checker.getTypeAtLocation(node)
  if (type.getCallSignatures().length > 0 || type.getConstructSignatures().length > 0 || checker.getIndexInfosOfType(type).length > 0) return []
  const module = checker.getSymbolAtLocation(node.getSourceFile()), symbol = symbolOf(node)
  if (!module || !symbol || !checker.getExportsOfModule(module).some(one => one.name === node.name.text && (one === symbol || one.declarations?.includes(node)))) return []
  const members = checker.getPropertiesOfType(type)
  // What extends a class with private members can only be that class.
  if (members.some(one => one.declarations?.some(declaration => ts.getCombinedModifierFlags(declaration) & (ts.ModifierFlags.Private | ts.ModifierFlags.Protected)))) return []
  return members.some(one => !/^[A-Za-z_$][\w$]*$/.test(one.name)) ? [] : members.map(one => one.name)
}

/** A class that implements an interface, in a file of its own: one to be written, or a double for tests. */
export function implementInterface(plan: ImplementInterfacePlan, node: ts.InterfaceDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const path = snapshot.pathOf(node.getSourceFile())!, own = node.name.text
  const members = membersToImplement(node, snapshot)
  if (members.length === 0) return planRefused('no-members', `${own} has nothing that a class could implement.`)
  const taken = new Set(snapshot.facts.files.flatMap(one => one.types.map(type => type.name)))
  const name = plan.name ?? implementationName(own, plan.as, one => taken.has(one))
  const target = newFilePath({ name, kind: 'a class', folder: plan.as === 'implementation' ? folderOf(path) : testFolder(path, snapshot), like: path }, context)
  if (typeof target !== 'string') return target
  try {
    const editor = new ProjectEditor(snapshot, root)
    const { style } = editor.editor(path)
    const { lineEnd, indent, semicolons } = style
    const end = semicolons ? ';' : ''
    const write = new TypeWriter(snapshot, editor, node, false)
    const exported = editor.exportedName(node)
    if (exported === undefined || exported === 'default') throw new Refused('not-visible', `${path} does not export ${own} under its name, so that no other file can implement it`)
    write.needed.push({ name: { name: exported, file: path, specifier: null, typeOnly: true }, local: own })
    const parameters = node.typeParameters ? `<${node.typeParameters.map(one => write.source(one)).join(', ')}>` : ''
    const given = node.typeParameters ? `<${node.typeParameters.map(one => one.name.text).join(', ')}>` : ''
    const type = `${own}${given}`
    const lines: string[] = []
    const fake = plan.as === 'fake' ? fakeOf(node, snapshot, write, `${name}.`, style.quote, end) : undefined
    if (fake === null) throw new Refused('nothing-kept', `Nothing that ${own} is given comes back from it, so that a fake would have nothing to keep; write a stub or a spy`)
    if (fake) lines.push(...fake.fields)
    if (plan.as === 'spy') lines.push(`readonly calls: { readonly member: string, readonly arguments: readonly unknown[] }[] = []${end}`, '')
    if (plan.as === 'stub' || plan.as === 'spy') lines.push(`constructor(private readonly answers: Partial<${type}> = {}) {}`)
    const declared = snapshot.checker.getTypeAtLocation(node)
    for (const member of snapshot.checker.getPropertiesOfType(declared)) {
      const text = memberText(member, plan.as === 'fake' ? { ...plan, as: 'implementation' } : plan, name, type, node, snapshot, write, end, style.quote, fake?.bodies.get(member.name))
      if (lines.length > 0 && (text.length > 1 || lines.at(-1) === '}' || plan.as !== 'implementation')) lines.push('')
      lines.push(...text)
    }
    const body = [`export class ${name}${parameters} implements ${type} {`, ...lines.map(line => (line === '' ? '' : indent + line.replaceAll('\t', indent))), '}'].join(lineEnd)
    editor.create(target, importLines(write, editor, target, style, body) + body + lineEnd)
    return checkedStep(editor, context, { notes: notesOf(plan), choices: { as: plan.as, name }, planned: [] })
  } catch (error) { return refusalOf(error) }
}

function notesOf(plan: ImplementInterfacePlan): string[] {
  switch (plan.as) {
    case 'implementation': return ['Each of its members says that it is not written yet. Hand it in where the objects are put together.']
    case 'stub': return ['A test tells it what to answer; what it was not told of does nothing, or says so where a result is wanted.']
    case 'fake': return ['It keeps what it is given and gives it back; what it could not tell how to do says that it is not written yet.']
    case 'spy': return ['It answers what a test tells it, and keeps every call with its arguments.']
  }
}

/** One member as lines; a tab stands for one step of indentation. */
function memberText(member: ts.Symbol, plan: ImplementInterfacePlan, name: string, type: string, node: ts.InterfaceDeclaration, snapshot: Snapshot, write: TypeWriter, end: string, quote: string, body: { readonly waits: boolean; readonly lines: readonly string[] } | undefined): string[] {
  const { checker } = snapshot
  const [declaration] = member.declarations ?? []
  const optional = (member.flags & ts.SymbolFlags.Optional) !== 0
  const isMethod = declaration !== undefined && ts.isMethodSignature(declaration)
  const own = declaration?.parent === node
  const seen = checker.getTypeOfSymbolAtLocation(member, node)
  const quoted = (text: string) => `${quote}${text}${quote}`
  if (!isMethod || (member.declarations?.length ?? 0) > 1 || optional) {
    const wanted = own && declaration && ts.isPropertySignature(declaration) && declaration.type && !optional ? write.source(declaration.type) : `${type}[${quoted(member.name)}]`
    if (plan.as === 'implementation') return optional ? [`${member.name}?: ${wanted}${end}`] : [`get ${member.name}(): ${wanted} {`, `\tthrow new Error(${quoted(`${name}.${member.name} is not written yet`)})${end}`, '}', ...setter(declaration, member.name, wanted)]
    return [`get ${member.name}(): ${wanted} {`, ...(optional ? [] : untold(member.name)), `\treturn this.answers.${member.name}${optional ? ` as ${wanted}` : ''}${end}`, '}', ...setter(declaration, member.name, wanted)]
  }
  const method = declaration
  const signature = seen.getCallSignatures()[0]!
  // What a generic interface above declares is written as this one sees it.
  const written = own || (declaration.parent as ts.InterfaceDeclaration).typeParameters === undefined
  if (!written) return [`get ${member.name}(): ${type}[${quoted(member.name)}] {`, ...(plan.as === 'implementation' ? [`\tthrow new Error(${quoted(`${name}.${member.name} is not written yet`)})${end}`] : [...untold(member.name), `\treturn this.answers.${member.name}${end}`]), '}']
  const generics = method.typeParameters ? `<${method.typeParameters.map(one => write.source(one)).join(', ')}>` : ''
  const result = method.type ? write.source(method.type) : write.inferred(signature.getReturnType())
  const namesIn = parameterNames(snapshot.pathOf(node.getSourceFile())!, snapshot)
  /** What it takes and gives; what it gives may say what one of its parameters is. */
  const shape = (body: readonly string[]) => {
    const called = (parameter: string) => namesIn(parameter, body.join('\n'))
    const gives = method.type && ts.isTypePredicateNode(method.type) ? result.replace(/^(asserts\s+)?([\w$]+)/, (_, asserts: string | undefined, parameter: string) => (asserts ?? '') + (parameter === 'this' ? parameter : called(parameter))) : result
    return `(${writeParameters(method.parameters, snapshot, write, called)}): ${gives}`
  }
  const passed = method.parameters.map(one => `${one.dotDotDotToken ? '...' : ''}${ts.isIdentifier(one.name) ? one.name.text : 'options'}`).join(', ')
  const nothing = (signature.getReturnType().flags & ts.TypeFlags.Void) !== 0
  if (body) return [`${body.waits ? 'async ' : ''}${member.name}${generics}${shape(body.lines)} {`, ...body.lines.map(line => `\t${line}`), '}']
  const lines: string[] = []
  if (plan.as === 'implementation') lines.push(`\tthrow new Error(${quoted(`${name}.${member.name} is not written yet`)})${end}`)
  else {
    if (plan.as === 'spy') lines.push(`\tthis.calls.push({ member: ${quoted(member.name)}, arguments: [${passed}] })${end}`)
    if (nothing) lines.push(`\tthis.answers.${member.name}?.(${passed})${end}`)
    else lines.push(...untold(member.name), `\treturn this.answers.${member.name}(${passed})${end}`)
  }
  return [`${member.name}${generics}${shape(lines)} {`, ...lines, '}']

  function untold(which: string): string[] { return [`\tif (this.answers.${which} === undefined) throw new Error(${quoted(`${name} was not told what ${which} is to answer`)})${end}`] }
}

/** A property that can be set can be set here too. */
function setter(declaration: ts.Declaration | undefined, name: string, type: string): string[] {
  const readonly = declaration !== undefined && (ts.getCombinedModifierFlags(declaration) & ts.ModifierFlags.Readonly) !== 0
  return readonly ? [] : ['', `set ${name}(value: ${type}) {`, `\tObject.defineProperty(this, '${name}', { value, writable: true })`, '}']
}

/** Where tests of a file stand: with a test of its package that uses it, else with any; beside it where there is none. */
function testFolder(path: string, snapshot: Snapshot): string {
  const { facts } = snapshot
  const tests = facts.files.filter(file => file.test && packageFolder(snapshot, file.path) === packageFolder(snapshot, path))
  const user = tests.find(file => file.references.some(one => one.to.startsWith(`${path}#`))) ?? tests[0]
  return folderOf(user?.path ?? path)
}
