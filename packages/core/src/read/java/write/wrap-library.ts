import type { OutsideUses, PlanRefusal, WrapLibraryPlan } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { Flags } from '../../binding/symbols.js'
import { describe } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { lowerFirst, numberedName } from '../../write/names.js'
import type { OutsideGroup } from '../../write/outside-group.js'
import { freeTypeName, nameFromText, outsideNames } from '../../write/outside-names.js'
import { Refused } from '../../write/refused.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { checkedJavaStep } from './checked-step.js'
import { handToConstructor } from './constructor-parameter.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { licence, RESERVED } from './extract-interface.js'
import { handledEverywhere } from './handled-exceptions.js'
import type { FileNames, JavaFileEditor } from './java-editor.js'
import { JavaEditor, NewJavaFile } from './java-editor.js'
import type { JavaOutsideUse } from './outside-uses.js'
import { findJavaOutsideUses, isConstant, isJdk } from './outside-uses.js'
import { argumentNodes } from './portable.js'
import { freeName } from './provision.js'
import { typeText } from './type-text.js'

/** A class called `Files` would be taken for the JDK's. */
function namesFor({ external, effect }: OutsideGroup<JavaOutsideUse>) {
  const names = outsideNames(external.replaceAll('.', '/'), effect, isJdk(external))
  return effect === 'file-system' ? { label: names.label, port: 'Storage', implementation: 'DiskStorage' } : isJdk(external) ? names : { ...names, label: external }
}

/** What could be put behind interfaces in a class. */
export function javaOutsideUses(owner: ClassSymbol, context: JavaWriteContext): OutsideUses[] {
  if (owner.isInterface || owner.flags & (Flags.Enum | Flags.Record | Flags.Local) || (owner.outer && !owner.isStatic)) return []
  return findJavaOutsideUses(owner, context).filter(group => group.uses.length > 0).map(group => {
    const { label, port, implementation } = namesFor(group)
    return { key: group.key, label, name: port, implementation, uses: group.uses.length, edits: group.uses.length + 5, files: 4 }
  })
}

/** A call of the interface, with the uses that it serves. */
interface Call { readonly name: string; readonly parameters: readonly string[]; readonly uses: JavaOutsideUse[] }

/** Puts what a class uses of a library behind an interface, whose implementation alone names it, and hands that to the class. */
export function wrapJavaLibrary(plan: WrapLibraryPlan, owner: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const group = findJavaOutsideUses(owner, context).find(one => one.key === plan.uses)
  if (!group) return planRefused('done', `${owner.name} uses nothing of ${plan.uses.replace('jdk.', 'the ')} itself any more.`)
  if (group.uses.length === 0) return planRefused('stays', `Nothing of it can be put behind an interface: line ${group.stays[0]!.line}, ${group.stays[0]!.why}.`)
  const file = bound.file(bound.program.declarations.get(owner)!.file.path)!.java
  const proposed = namesFor(group)
  const packageName = plan.folder === null ? outsidePackage(context) : plan.folder.replaceAll('/', '.')
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*(\.[\p{L}_$][\p{L}\p{N}_$]*)*$/u.test(packageName)) return planRefused('folder', `${packageName} is not a name that a package can have.`)
  const beside = bound.program.packages.get(packageName)
  const taken = new Set(state.facts.files.flatMap(one => one.types.filter(type => type.id !== `${packageName}.${type.name}`).map(type => type.name)))
  const port = plan.name ?? freeTypeName(proposed.port, taken), implementation = plan.implementation ?? freeTypeName(proposed.implementation, taken)
  for (const name of [port, implementation]) if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) || RESERVED.test(name)) return planRefused('name', `${name} is not a name that a type can have.`)
  const known = { port: beside?.get(port), implementation: beside?.get(implementation) }
  if ((known.port === undefined) !== (known.implementation === undefined)) throw new Refused('name-taken', `Of ${port} and ${implementation} one is there already; choose other names`)
  const folder = `${sourceRoot(file)}${packageName.replaceAll('.', '/')}/`
  if (!known.port) for (const name of [port, implementation]) if (state.source.isFile(`${language.root}/${folder}${name}.java`)) throw new Refused('file-exists', `${folder}${name}.java exists already; choose another name`)

  const editor = new JavaEditor(bound), own = editor.file(file.path)
  const { node } = bound.program.declarations.get(owner)!
  const held = owner.ownMembers.find(member => member.kind === 'field' && !member.isStatic && known.port && member.type.tag === 'class' && member.type.symbol === known.port)
  const field = held?.name ?? freeName(lowerFirst(port), file, node, new Set())
  const calls = callsFor(group, file, known.implementation ? existingMethods(known.implementation, context) : [], context)
  for (const call of calls) for (const use of call.uses) replaceUse(use, call.name, field, own)
  if (!held) {
    handToConstructor(owner, file, NONE, 0, {
      editor, context, withDefault: plan.withDefault, notes: [],
      provision: { name: field, typeIn: names => names.byName(packageName, port), provide: names => `new ${names.byName(packageName, implementation)}()`, kept: true, assignment: null, declaration: [], thrown: [] }
    })
  }
  const added = calls.filter(call => !call.isKnown)
  if (known.port && known.implementation) {
    for (const [symbol, isPort] of [[known.port, true], [known.implementation, false]] as const) if (added.length > 0) extend(symbol, isPort, added, file, editor, context)
  } else {
    const head = [...licence(own.text, own.style.lineEnd), `package ${packageName};`, '']
    const written = (name: string, isPort: boolean, comment: string, title: string): void => {
      const names = new NewJavaFile(packageName, new Set([name]), bound)
      const members = added.flatMap((call, index) => [...(index > 0 && !isPort ? [''] : []), ...methodLines(call, isPort, file, names, own.style.indent, context)])
      const imports = [...names.needed].sort().map(one => `import ${one};`)
      editor.create(`${folder}${name}.java`, [...head, ...imports, ...(imports.length > 0 ? [''] : []), comment, `${title} {`, ...members.map(line => (line === '' ? '' : own.style.indent + line)), '}', ''].join(own.style.lineEnd))
    }
    written(port, true, `/** What the project uses of ${proposed.label}. */`, `public interface ${port}`)
    written(implementation, false, `/** The one place that uses ${proposed.label} itself. */`, `public class ${implementation} implements ${port}`)
  }
  return checkedJavaStep(editor, context, {
    notes: [`${implementation} is where ${proposed.label} is used now; a test hands in another ${port}.`, ...group.stays.map(({ line, why }) => `${file.path}:${line} stays as it is: ${why}.`)],
    choices: { uses: plan.uses, name: port, implementation, folder: packageName, default: plan.withDefault ? 'yes' : 'no' },
    planned: [{ types: new Set([owner.id]), to: '', field }]
  })
}

/** A package at the root of the product's packages, on which every other may lean. */
function outsidePackage({ state, bound }: JavaWriteContext): string {
  const packages = [...new Set([...bound.paths].filter(path => !state.files.isTest(path)).map(path => bound.file(path)?.java.packageName ?? ''))].filter(name => name !== '').map(name => name.split('.'))
  let common = packages[0] ?? []
  for (const one of packages) { let at = 0; while (at < common.length && common[at] === one[at]) at++; common = common.slice(0, at) }
  return [...common, 'outside'].join('.')
}

function sourceRoot({ path, packageName }: JavaFile): string {
  const folder = path.slice(0, path.lastIndexOf('/') + 1), tail = packageName === '' ? '' : `${packageName.replaceAll('.', '/')}/`
  if (!folder.endsWith(tail)) throw new Refused('folder', `${path} does not lie in the folder of its package`)
  return folder.slice(0, folder.length - tail.length)
}

/** Leaves what is handed over where it stands; all around it becomes the call. */
function replaceUse(use: JavaOutsideUse, call: string, holder: string, own: JavaFileEditor): void {
  const { tree } = own
  let at = tree.start(use.node), text = `${holder}.${call}(`
  use.passed.forEach((one, index) => {
    own.replace(at, tree.start(one.node), text)
    at = tree.end(one.node)
    text = index === use.passed.length - 1 ? ')' : ', '
  })
  own.replace(at, tree.end(use.node), use.passed.length === 0 ? `${text})` : text)
}

interface FoundCall extends Call { readonly isKnown: boolean }

/** One call for all uses that do the same. */
function callsFor(group: OutsideGroup<JavaOutsideUse>, file: JavaFile, existing: readonly { readonly name: string; readonly text: string }[], context: JavaWriteContext): FoundCall[] {
  const byShape = new Map<string, FoundCall>()
  const names = new Set(existing.map(one => one.name))
  for (const use of group.uses) {
    const parameters = parameterNames(use)
    const shape = `${use.passed.map(one => describe(one.type)).join()}|${bodyText(use, parameters, file, anyNames(context))}`
    const call = byShape.get(shape)
    if (call) { call.uses.push(use); continue }
    const isAlike = (one: { readonly text: string }) => one.text === squeezed(methodLines({ name: '#', parameters, uses: group.uses.filter(other => other === use) }, false, file, anyNames(context), '', context).join(' '))
    const known = existing.find(isAlike)
    const name = known?.name ?? callName(use, group, file, names)
    names.add(name)
    byShape.set(shape, { name, parameters, uses: [use], isKnown: known !== undefined })
  }
  return [...byShape.values()]
}

/** Names as they are without any import, to compare texts by. */
function anyNames({ bound }: JavaWriteContext): FileNames { return new NewJavaFile('', new Set(), bound) }

/** `System.getenv("MAX_AGE")` gives `maxAge`, `LocalDate.now()` gives `now`, or `localDateNow` beside another `now`. */
function callName(use: JavaOutsideUse, { effect }: OutsideGroup<JavaOutsideUse>, { tree }: JavaFile, taken: ReadonlySet<string>): string {
  const owner = lowerFirst(use.method.owner.name)
  if (tree.kind(use.node) === Kind.ObjectCreationExpression) return numberedName(owner, name => !taken.has(name))
  const first = tree.first(tree.child(use.node, Field.Arguments))
  const said = effect === 'environment' && first !== NONE && tree.kind(first) === Kind.StringLiteral ? nameFromText(tree.textOf(first).replaceAll('"', '').replaceAll('.', '_')) : ''
  const wanted = said !== '' && !RESERVED.test(said) ? said : use.method.name
  if (!taken.has(wanted)) return wanted
  return numberedName(`${owner}${wanted.charAt(0).toUpperCase()}${wanted.slice(1)}`, name => !taken.has(name))
}

/** Named after their types: a library tells no names. */
function parameterNames(use: JavaOutsideUse): string[] {
  const taken = new Set<string>()
  return use.passed.map(({ type }) => {
    const plain = type.tag === 'class' ? lowerFirst(type.symbol.name) : 'value'
    const name = numberedName(plain === 'string' || plain === 'charSequence' ? 'text' : RESERVED.test(plain) ? 'value' : plain, one => !taken.has(one))
    taken.add(name)
    return name
  })
}

/** What the implementation does, as it is written in its file. */
function bodyText(use: JavaOutsideUse, parameters: readonly string[], file: JavaFile, names: FileNames): string {
  const { tree } = file
  const given = argumentNodes(file, use.node).map(node => {
    const at = use.passed.findIndex(one => one.node === node)
    return at >= 0 ? parameters[at]! : constantText(node, file, names)
  }).join(', ')
  if (tree.kind(use.node) === Kind.ObjectCreationExpression) return `new ${names.nameOf(use.method.owner)}(${given})`
  const object = tree.child(use.node, Field.Object)
  const field = object !== NONE && tree.kind(object) === Kind.FieldAccess ? file.meaning(tree.child(object, Field.Field)) : object !== NONE ? file.meaning(object) : undefined
  const held = field && 'kind' in field && field.kind === 'field' ? `${names.nameOf(field.owner)}.${field.name}` : names.nameOf(use.method.owner)
  return `${held}.${use.method.name}(${given})`
}

function constantText(node: Node, file: JavaFile, names: FileNames): string {
  const { tree } = file
  if (!isConstant(node, file)) throw new Refused('arguments', `${tree.textOf(node)} cannot be repeated`)
  const field = tree.kind(node) === Kind.FieldAccess ? file.meaning(tree.child(node, Field.Field)) : undefined
  return field && 'kind' in field && field.kind === 'field' ? `${names.nameOf(field.owner)}.${field.name}` : tree.textOf(node)
}

function methodLines(call: Call, isPort: boolean, file: JavaFile, names: FileNames, indent: string, { bound }: JavaWriteContext): string[] {
  const [first] = call.uses
  const thrown = handledEverywhere(call.uses.map(use => use.thrown), bound).map(one => names.nameOf(one)).sort()
  const head = `${typeText(first!.result, names)} ${call.name}(${first!.passed.map((one, index) => `${typeText(one.type, names)} ${call.parameters[index]}`).join(', ')})${thrown.length > 0 ? ` throws ${thrown.join(', ')}` : ''}`
  if (isPort) return [`${head};`]
  const isVoid = first!.result.tag === 'special'
  return ['@Override', `public ${head} {`, `${indent}${isVoid ? '' : 'return '}${bodyText(first!, call.parameters, file, names)};`, '}']
}

const squeezed = (text: string): string => text.replace(/@Override/g, '').replace(/\s+/g, '').replace(/\b[a-z][\w]*\.(?=[a-zA-Z])/g, '')

/** Methods of the class in front of a library, their own names taken out, to be compared with. */
function existingMethods(symbol: ClassSymbol, { bound }: JavaWriteContext): { name: string; text: string }[] {
  const declared = bound.program.declarations.get(symbol)!
  const { tree } = declared.file
  return tree.children(declared.body).filter(at => tree.kind(at) === Kind.MethodDeclaration).map(at => {
    const name = tree.child(at, Field.Name)
    return { name: tree.textOf(name), text: squeezed(`${tree.text.slice(tree.start(at), tree.start(name))}#${tree.text.slice(tree.end(name), tree.end(at))}`) }
  })
}

function extend(symbol: ClassSymbol, isPort: boolean, calls: readonly Call[], from: JavaFile, editor: JavaEditor, context: JavaWriteContext): void {
  const declared = context.bound.program.declarations.get(symbol)!
  const at = editor.file(declared.file.path)
  const { lineEnd, indent } = at.style
  const lines = calls.flatMap(call => [...(isPort ? [] : ['']), ...methodLines(call, isPort, from, at, indent, context)])
  const brace = at.tree.end(declared.body) - 1, lineStart = at.text.lastIndexOf('\n', brace) + 1
  const text = lines.map(line => (line === '' ? '' : indent + line) + lineEnd).join('')
  if (at.text.slice(lineStart, brace).trim() === '') at.insert(lineStart, text)
  else at.insert(brace, lineEnd + text)
}
