import type { PlanRefusal, WrapLibraryPlan } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { MethodSymbol } from '../../binding/symbols.js'
import { NONE } from '../../syntax/flat-tree.js'
import { lowerFirst, numberedName } from '../../write/names.js'
import { heldKey } from '../../write/outside-group.js'
import { freeTypeName, heldObjectNames } from '../../write/outside-names.js'
import { Refused } from '../../write/refused.js'
import { parentOf } from '../bound-program.js'
import { Field } from '../syntax.js'
import { checkedJavaStep } from './checked-step.js'
import { handToConstructor } from './constructor-parameter.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { licence, RESERVED } from './extract-interface.js'
import type { JavaHeldLibrary } from './held-library.js'
import { findJavaHeldLibraries } from './held-library.js'
import type { FileNames } from './java-editor.js'
import { JavaEditor, NewJavaFile } from './java-editor.js'
import { argumentNodes } from './portable.js'
import { freeName, readsBefore } from './provision.js'
import { takenNames } from './taken-names.js'
import { typeText } from './type-text.js'
import { callsFor, constantText, methodLines, outsidePackage, replaceUse, sourceRoot } from './wrapper-calls.js'
import { refuseWrittenOut } from './written-out.js'

/** Names that nothing in the project has, nor the class of the library, which would be taken for that. */
export function heldNames({ symbol }: JavaHeldLibrary, owner: ClassSymbol, context: JavaWriteContext): { readonly port: string; readonly implementation: string } {
  const taken = takenNames(context).add(symbol.type.tag === 'class' ? symbol.type.symbol.name : '')
  return heldObjectNames(symbol.name, owner.name, taken)
}

/**
 * Puts a library object that a class holds behind an interface: its implementation makes and holds it. Where what it is made of is
 * the same wherever it is made, the class is handed the implementation; else the class makes it where it made the object.
 */
export function wrapHeldInJava(plan: WrapLibraryPlan, owner: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const held = findJavaHeldLibraries(owner, context).find(one => heldKey(one.external, one.symbol.name) === plan.uses)
  if (!held) return planRefused('done', `${owner.name} holds no object of a library in ${plan.uses.slice(plan.uses.lastIndexOf(':') + 1)} any more.`)
  const { file, symbol, creation, declarator, passed } = held, { tree } = file
  if (held.stays) return planRefused('stays', `It cannot be put behind an interface: ${file.path}:${held.stays.line}, ${held.stays.why}.`)
  refuseWrittenOut(owner, bound)
  const packageName = plan.folder === null ? outsidePackage(context) : plan.folder.replaceAll('/', '.')
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*(\.[\p{L}_$][\p{L}\p{N}_$]*)*$/u.test(packageName)) return planRefused('folder', `${packageName} is not a name that a package can have.`)
  const taken = takenNames(context), proposed = heldNames(held, owner, context)
  const port = plan.name ?? freeTypeName(proposed.port, taken), implementation = plan.implementation ?? freeTypeName(proposed.implementation, taken)
  for (const name of [port, implementation]) if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) || RESERVED.test(name)) return planRefused('name', `${name} is not a name that a type can have.`)
  const folder = `${sourceRoot(file)}${packageName.replaceAll('.', '/')}/`
  for (const name of [port, implementation]) if (bound.program.packages.get(packageName)?.has(name) || state.source.isFile(`${language.root}/${folder}${name}.java`)) throw new Refused('file-exists', `${folder}${name}.java exists already; choose another name`)

  const editor = new JavaEditor(bound), own = editor.file(file.path)
  const { style: { indent, lineEnd } } = own
  const calls = callsFor({ key: plan.uses, external: held.external, effect: held.effect, uses: [...held.uses], stays: [] }, file, [], context)
  for (const call of calls) for (const use of call.uses) replaceUse(use, call.name, tree.textOf(tree.child(use.node, Field.Object)), own)
  const declared = bound.program.declarations.get(owner)!, typeNode = tree.child(parentOf(tree, declarator), Field.Type)
  own.replaceNode(typeNode, own.byName(packageName, port))
  const isHanded = held.inField && passed.length === 0 && readsBefore(symbol.name, declarator, owner, file, bound) === undefined
  if (isHanded) {
    own.replace(tree.end(tree.child(declarator, Field.Name)), tree.end(creation), '')
    const name = freeName(symbol.name, file, declared.node, new Set([symbol.name]))
    handToConstructor(owner, file, NONE, 0, {
      editor, context, withDefault: plan.withDefault, notes: [],
      provision: { name, typeIn: names => names.byName(packageName, port), provide: names => `new ${names.byName(packageName, implementation)}()`, kept: false, assignment: `this.${symbol.name} = ${name};`, declaration: [], thrown: [] }
    })
  } else own.replace(tree.start(creation), tree.end(creation), `new ${own.byName(packageName, implementation)}(${passed.map(one => tree.textOf(one.node)).join(', ')})`)

  const written = (name: string, isPort: boolean, comment: string, title: string, opening: (names: FileNames) => string[]): void => {
    const names = new NewJavaFile(packageName, new Set([port, implementation]), bound)
    const lead = opening(names)
    const members = calls.flatMap((call, index) => [...(index > 0 && !isPort ? [''] : []), ...methodLines(call, isPort, file, names, indent, context)])
    const imports = [...names.needed].sort().map(one => `import ${one};`)
    editor.create(`${folder}${name}.java`, [...licence(own.text, lineEnd), `package ${packageName};`, '', ...imports, ...(imports.length > 0 ? [''] : []), comment, `${title} {`, ...[...lead, ...members].map(text => (text === '' ? '' : indent + text)), '}', ''].join(lineEnd))
  }
  written(port, true, `/** What the project uses of ${held.external}. */`, `public interface ${port}`, () => [])
  written(implementation, false, `/** The one place that uses ${held.external} itself. */`, `public class ${implementation} implements ${port}`, names => openingLines(held, implementation, names, indent))
  return checkedJavaStep(editor, context, {
    notes: [
      `${implementation} is where ${held.external} is used now; a test hands in another ${port}.`,
      ...(isHanded ? [] : [`${owner.name} makes it where it made the object, of what only it knows; Inject hands it in.`])
    ],
    choices: { uses: plan.uses, name: port, implementation, folder: packageName, default: plan.withDefault ? 'yes' : 'no' },
    planned: [{ types: new Set([owner.id]), to: '', field: symbol.name }]
  })
}

/** The lines of the implementation that make and hold the object. */
function openingLines({ symbol, file, creation, passed, thrown }: JavaHeldLibrary, name: string, names: FileNames, indent: string): string[] {
  const type = typeText(symbol.type, names), taken = new Set<string>([symbol.name])
  const parameters = passed.map(one => {
    const { tree } = file, text = tree.textOf(one.node)
    const wanted = /^[\p{Ll}_][\p{L}\p{N}_]*$/u.test(text) ? text : one.type.tag === 'class' ? (one.type.symbol.name === 'String' ? 'text' : lowerFirst(one.type.symbol.name)) : 'value'
    const free = numberedName(RESERVED.test(wanted) ? 'value' : wanted, other => !taken.has(other))
    taken.add(free)
    return free
  })
  const constructor = file.meaning(creation)
  if (!(constructor instanceof MethodSymbol)) throw new Refused('no-constructor', 'What makes it is not known')
  const given = argumentNodes(file, creation).map(node => { const at = passed.findIndex(one => one.node === node); return at >= 0 ? parameters[at]! : constantText(node, file, names) }).join(', ')
  const made = `new ${names.nameOf(constructor.owner)}(${given})`
  if (passed.length === 0 && thrown.length === 0) return [`private final ${type} ${symbol.name} = ${made};`, '']
  const throws = thrown.length > 0 ? ` throws ${thrown.map(one => names.nameOf(one)).join(', ')}` : ''
  return [
    `private final ${type} ${symbol.name};`, '', `public ${name}(${passed.map((one, index) => `${typeText(one.type, names)} ${parameters[index]}`).join(', ')})${throws} {`,
    `${indent}this.${symbol.name} = ${made};`, '}', ''
  ]
}
