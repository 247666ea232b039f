import type { ClassSymbol } from '../../binding/symbols.js'
import { describe } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { lowerFirst, numberedName } from '../../write/names.js'
import type { OutsideGroup } from '../../write/outside-group.js'
import { HELD } from '../../write/outside-group.js'
import { nameFromText } from '../../write/outside-names.js'
import { Refused } from '../../write/refused.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import type { JavaWriteContext } from './context.js'
import { RESERVED } from './extract-interface.js'
import { handledEverywhere } from './handled-exceptions.js'
import type { FileNames, JavaFileEditor } from './java-editor.js'
import { NewJavaFile } from './java-editor.js'
import type { JavaOutsideUse } from './outside-uses.js'
import { isConstant } from './outside-uses.js'
import { argumentNodes } from './portable.js'
import { typeText } from './type-text.js'

/** A call of the interface, with the uses that it serves. */
export interface Call { readonly name: string; readonly parameters: readonly string[]; readonly uses: JavaOutsideUse[] }

/** A package at the root of the product's packages, on which every other may lean. */
export function outsidePackage({ state, bound }: JavaWriteContext): string {
  const packages = [...new Set([...bound.paths].filter(path => !state.files.isTest(path)).map(path => bound.file(path)?.java.packageName ?? ''))].filter(name => name !== '').map(name => name.split('.'))
  let common = packages[0] ?? []
  for (const one of packages) { let at = 0; while (at < common.length && common[at] === one[at]) at++; common = common.slice(0, at) }
  return [...common, 'outside'].join('.')
}

export function sourceRoot({ path, packageName }: JavaFile): string {
  const folder = path.slice(0, path.lastIndexOf('/') + 1), tail = packageName === '' ? '' : `${packageName.replaceAll('.', '/')}/`
  if (!folder.endsWith(tail)) throw new Refused('folder', `${path} does not lie in the folder of its package`)
  return folder.slice(0, folder.length - tail.length)
}

/** Leaves what is handed over where it stands; all around it becomes the call. */
export function replaceUse(use: JavaOutsideUse, call: string, holder: string, own: JavaFileEditor): void {
  const { tree } = own
  let at = tree.start(use.node), text = `${holder}.${call}(`
  use.passed.forEach((one, index) => {
    own.replace(at, tree.start(one.node), text)
    at = tree.end(one.node)
    text = index === use.passed.length - 1 ? ')' : ', '
  })
  own.replace(at, tree.end(use.node), use.passed.length === 0 ? `${text})` : text)
}

export interface FoundCall extends Call { readonly isKnown: boolean }

/** One call for all uses that do the same. */
export function callsFor(group: OutsideGroup<JavaOutsideUse>, file: JavaFile, existing: readonly { readonly name: string; readonly text: string }[], context: JavaWriteContext): FoundCall[] {
  const byShape = new Map<string, FoundCall>()
  const names = new Set([...existing.map(one => one.name), ...OF_EVERY_OBJECT])
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

/** Methods that every object has, with a meaning that others lean on. */
const OF_EVERY_OBJECT: ReadonlySet<string> = new Set(['equals', 'hashCode', 'toString', 'getClass', 'clone', 'finalize', 'notify', 'notifyAll', 'wait'])

/** `System.getenv("MAX_AGE")` gives `maxAge`, `LocalDate.now()` gives `now`, or `localDateNow` beside another `now`. */
function callName(use: JavaOutsideUse, { effect, key }: OutsideGroup<JavaOutsideUse>, { tree }: JavaFile, taken: ReadonlySet<string>): string {
  const owner = lowerFirst(use.method.owner.name)
  if (tree.kind(use.node) === Kind.ObjectCreationExpression) return numberedName(owner, name => !taken.has(name))
  const first = tree.first(tree.child(use.node, Field.Arguments))
  const said = effect === 'environment' && first !== NONE && tree.kind(first) === Kind.StringLiteral ? nameFromText(tree.textOf(first).replaceAll('"', '').replaceAll('.', '_')) : ''
  const wanted = said !== '' && !RESERVED.test(said) ? said : use.method.name
  // As the library has it, methods of one name differ by what they are handed.
  const isAsOfLibrary = key.startsWith(HELD) && use.passed.length === use.method.arity
  if (!taken.has(wanted) || (isAsOfLibrary && !OF_EVERY_OBJECT.has(wanted))) return wanted
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
  // A field of the class's own holds the object in the implementation too.
  if (field && 'kind' in field && field.kind === 'field' && field.owner.source) return `${field.name}.${use.method.name}(${given})`
  const held = field && 'kind' in field && field.kind === 'field' ? `${names.nameOf(field.owner)}.${field.name}` : names.nameOf(use.method.owner)
  return `${held}.${use.method.name}(${given})`
}

export function constantText(node: Node, file: JavaFile, names: FileNames): string {
  const { tree } = file
  if (!isConstant(node, file)) throw new Refused('arguments', `${tree.textOf(node)} cannot be repeated`)
  const field = tree.kind(node) === Kind.FieldAccess ? file.meaning(tree.child(node, Field.Field)) : undefined
  return field && 'kind' in field && field.kind === 'field' ? `${names.nameOf(field.owner)}.${field.name}` : tree.textOf(node)
}

export function methodLines(call: Call, isPort: boolean, file: JavaFile, names: FileNames, indent: string, { bound }: JavaWriteContext): string[] {
  const [first] = call.uses
  const thrown = handledEverywhere(call.uses.map(use => use.thrown), bound).map(one => names.nameOf(one)).sort()
  const head = `${typeText(first!.result, names)} ${call.name}(${first!.passed.map((one, index) => `${typeText(one.type, names)} ${call.parameters[index]}`).join(', ')})${thrown.length > 0 ? ` throws ${thrown.join(', ')}` : ''}`
  if (isPort) return [`${head};`]
  const isVoid = first!.result.tag === 'special'
  return ['@Override', `public ${head} {`, `${indent}${isVoid ? '' : 'return '}${bodyText(first!, call.parameters, file, names)};`, '}']
}

const squeezed = (text: string): string => text.replace(/@Override/g, '').replace(/\s+/g, '').replace(/\b[a-z][\w]*\.(?=[a-zA-Z])/g, '')

/** Methods of the class in front of a library, their own names taken out, to be compared with. */
export function existingMethods(symbol: ClassSymbol, { bound }: JavaWriteContext): { name: string; text: string }[] {
  const declared = bound.program.declarations.get(symbol)!
  const { tree } = declared.file
  return tree.children(declared.body).filter(at => tree.kind(at) === Kind.MethodDeclaration).map(at => {
    const name = tree.child(at, Field.Name)
    return { name: tree.textOf(name), text: squeezed(`${tree.text.slice(tree.start(at), tree.start(name))}#${tree.text.slice(tree.end(name), tree.end(at))}`) }
  })
}
