import type { ImplementInterfacePlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { Flags, MethodSymbol } from '../../binding/symbols.js'
import { speaksOf } from '../../binding/types.js'
import { implementationName, numberedName } from '../../write/names.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { Kind } from '../syntax.js'
import { checkedJavaStep } from './checked-step.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { licence, RESERVED } from './extract-interface.js'
import { javaFakeOf } from './fake.js'
import type { PublicMethod } from './interface-members.js'
import { parameterName, parameterNodes, signatureLines } from './interface-members.js'
import { JavaEditor, NewJavaFile, styleOf } from './java-editor.js'
import { takenNames } from './taken-names.js'
import { typeParametersText, typeText } from './type-text.js'

/** The methods that an implementation has to have; undefined where not all of them are in the sources. */
export function abstractMethods(symbol: ClassSymbol, { program, overloads }: BoundProgram): PublicMethod[] | undefined {
  if (!symbol.isInterface || symbol.flags & (Flags.Annotation | Flags.Sealed | Flags.Local | Flags.Private) || !program.declarations.has(symbol)) return undefined
  const found: PublicMethod[] = [], settled: MethodSymbol[] = []
  for (const ancestor of program.hierarchy.ancestorsOf(symbol)) {
    if (ancestor === program.top.symbol) continue
    const declared = program.declarations.get(ancestor)
    for (const method of [...ancestor.ownMembers].sort((a, b) => a.node - b.node)) {
      if (!(method instanceof MethodSymbol) || method.isStatic || method.flags & Flags.Private) continue
      // Nearer ones, and those that come with a body, settle it.
      if (settled.some(other => other.name === method.name && other.arity === method.arity && overloads.overrides(symbol, other, method))) continue
      settled.push(method)
      // What every object has implements it only where others may call that: not `clone`.
      if (!method.isAbstract || program.top.symbol.own(method.name).some(other => other instanceof MethodSymbol && (other.flags & Flags.Public) !== 0 && other.arity === method.arity && overloads.overrides(symbol, method, other))) continue
      if (!declared || method.node < 0) return undefined
      const node = parentOf(declared.file.tree, method.node)
      if (declared.file.tree.kind(node) !== Kind.MethodDeclaration) return undefined
      found.push({ method, file: declared.file, node })
    }
  }
  return found
}

export function methodsToImplement(symbol: ClassSymbol, bound: BoundProgram): string[] { return [...new Set((abstractMethods(symbol, bound) ?? []).map(one => one.method.name))] }

/** A class that implements an interface, in a file of its own: one to be written, or a double for tests. */
export function implementJavaInterface(plan: ImplementInterfacePlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const methods = abstractMethods(symbol, bound) ?? []
  if (methods.length === 0) return planRefused('no-members', `${symbol.name} has nothing that a class could implement, or inherits it from outside the project.`)
  const taken = takenNames(context)
  const name = plan.name ?? implementationName(symbol.name, plan.as, one => taken.has(one))
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) || RESERVED.test(name)) return planRefused('name', `${name} is not a name that a class can have.`)
  const { file } = bound.program.declarations.get(symbol)!
  const folder = file.path.slice(0, file.path.lastIndexOf('/') + 1)
  const target = `${plan.as === 'implementation' ? folder : testFolder(folder, symbol.packageName, context)}${name}.java`
  if (bound.program.packages.get(symbol.packageName)?.has(name) || state.source.isFile(`${language.root}/${target}`)) return planRefused('file-exists', `${name} exists already in ${symbol.packageName || 'its package'}; choose another name.`)

  const { lineEnd, indent } = styleOf(file.tree)
  const names = new NewJavaFile(symbol.packageName, new Set([name, ...symbol.typeParameters.map(one => one.name)]), bound)
  const parameters = typeParametersText(symbol.typeParameters, names)
  const own = names.nameOf(symbol) + (symbol.typeParameters.length > 0 ? `<${symbol.typeParameters.map(one => one.name).join(', ')}>` : '')
  const fields: string[] = [], bodies: string[][] = []
  const fieldNames = new Set<string>(['calls'])
  if (plan.as === 'spy') {
    names.needed.add('java.util.ArrayList').add('java.util.List')
    fields.push('/** Every call, as `method(arguments)`. */', 'public final List<String> calls = new ArrayList<>();')
  }
  const fake = plan.as === 'fake' ? javaFakeOf(methods, names) : undefined
  if (fake === null) return planRefused('nothing-kept', `Nothing that ${symbol.name} is given comes back from it, so that a fake would have nothing to keep; write a stub or a spy.`)
  if (fake) fields.push(...fake.fields)
  for (const [at, one] of methods.entries()) {
    const signature = signatureLines(one, symbol, names, bound, () => undefined, null, undefined).at(-1)!.slice(0, -1)
    const { signature: { result, typeParameters } } = one.method
    const passed = parameterNodes(one.file.tree, one.node).map(at => parameterName(one.file.tree, at))
    const body: string[] = []
    const kept = fake?.bodies[at]
    if (kept) body.push(...kept)
    else if (plan.as === 'implementation' || plan.as === 'fake') body.push(`throw new UnsupportedOperationException("${name}.${one.method.name} is not written yet");`)
    else {
      if (plan.as === 'spy') body.push(`calls.add("${one.method.name}(${passed.length === 0 ? ')"' : `" + ${passed.join(' + ", " + ')} + ")"`});`)
      if (!(result.tag === 'special' && result.name === 'void')) {
        if (speaksOf(result, new Set(typeParameters))) body.push(`throw new UnsupportedOperationException("what ${one.method.name} answers depends on its caller: write it here");`)
        else {
          const field = numberedName(`${one.method.name}Answer`, candidate => !fieldNames.has(candidate))
          fieldNames.add(field)
          const type = typeParameters.length > 0 ? typeText(result, names) : signature.slice(0, signature.indexOf(` ${one.method.name}(`))
          fields.push(`public ${type} ${field};`)
          body.push(`return ${passed.includes(field) ? 'this.' : ''}${field};`)
        }
      }
    }
    bodies.push([...(usesOverride(bound) ? ['@Override'] : []), `public ${signature} {`, ...body.map(line => indent + line), '}'])
  }
  const isPublic = symbol.flags & Flags.Public && isPublicAround(symbol) ? 'public ' : ''
  const imports = [...names.needed].sort().map(one => `import ${one};`)
  const inside = [...fields, ...bodies.flatMap((lines, index) => [...(index > 0 || fields.length > 0 ? [''] : []), ...lines])].map(line => (line === '' ? '' : indent + line))
  const editor = new JavaEditor(bound)
  editor.create(target, [
    ...licence(file.tree.text, lineEnd), ...(symbol.packageName === '' ? [] : [`package ${symbol.packageName};`, '']), ...imports, ...(imports.length > 0 ? [''] : []),
    `${isPublic}class ${name}${parameters} implements ${own} {`, ...inside, '}', ''
  ].join(lineEnd))
  const notes = plan.as === 'implementation' ? ['Each of its methods says that it is not written yet. Hand it in where the objects are put together.']
    : [plan.as === 'fake' ? 'It keeps what it is given and gives it back; what it could not tell how to do says that it is not written yet.' : plan.as === 'spy' ? 'It keeps every call with its arguments; a test sets what it is to answer in its fields.' : 'A test sets what it is to answer in its fields.']
  return checkedJavaStep(editor, context, { notes, choices: { as: plan.as, name }, planned: [] })
}

function usesOverride({ trees }: BoundProgram): boolean {
  for (const tree of trees.values()) if (tree.text.includes('@Override')) return true
  return false
}

function isPublicAround(symbol: ClassSymbol): boolean {
  for (let at = symbol.outer; at; at = at.outer) if (!(at.flags & Flags.Public)) return false
  return true
}

/** The folder of a package's tests: below the root that another test stands under, else beside its sources. */
export function testFolder(folder: string, packageName: string, { state, bound }: JavaWriteContext): string {
  const inside = packageName === '' ? '' : `${packageName.replaceAll('.', '/')}/`
  for (const path of state.sources) {
    if (!state.files.isTest(path)) continue
    const own = bound.file(path)?.java.packageName ?? ''
    const tail = own === '' ? '' : `${own.replaceAll('.', '/')}/`
    const at = path.slice(0, path.lastIndexOf('/') + 1)
    if (at.endsWith(tail)) return at.slice(0, at.length - tail.length) + inside
  }
  return folder
}
