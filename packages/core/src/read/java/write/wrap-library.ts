import type { OutsideUses, PlanRefusal, WrapLibraryPlan } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { Flags } from '../../binding/symbols.js'
import { NONE } from '../../syntax/flat-tree.js'
import { lowerFirst } from '../../write/names.js'
import type { OutsideGroup } from '../../write/outside-group.js'
import { HELD, heldKey } from '../../write/outside-group.js'
import { freeTypeName, outsideNames } from '../../write/outside-names.js'
import { Refused } from '../../write/refused.js'
import type { JavaFile } from '../scope.js'
import { heldNames, wrapHeldInJava } from './wrap-held.js'
import { findJavaHeldLibraries } from './held-library.js'
import { checkedJavaStep } from './checked-step.js'
import { callsFor, existingMethods, methodLines, outsidePackage, replaceUse, sourceRoot } from './wrapper-calls.js'
import type { Call } from './wrapper-calls.js'
import { handToConstructor } from './constructor-parameter.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { licence, RESERVED } from './extract-interface.js'
import { JavaEditor, NewJavaFile } from './java-editor.js'
import type { JavaOutsideUse } from './outside-uses.js'
import { findJavaOutsideUses, isJdk } from './outside-uses.js'
import { freeName } from './provision.js'

/** A class called `Files` would be taken for the JDK's. */
function namesFor({ external, effect }: OutsideGroup<JavaOutsideUse>) {
  const names = outsideNames(external.replaceAll('.', '/'), effect, isJdk(external))
  return effect === 'file-system' ? { label: names.label, port: 'Storage', implementation: 'DiskStorage' } : isJdk(external) ? names : { ...names, label: external }
}

/** What could be put behind interfaces in a class. */
export function javaOutsideUses(owner: ClassSymbol, context: JavaWriteContext): OutsideUses[] {
  if (owner.isInterface || owner.flags & (Flags.Enum | Flags.Record | Flags.Local) || (owner.outer && !owner.isStatic)) return []
  const held = findJavaHeldLibraries(owner, context).filter(one => one.stays === null).map((one): OutsideUses => {
    const { port, implementation } = heldNames(one, owner, context)
    return { key: heldKey(one.external, one.symbol.name), label: `${one.external} (${one.symbol.name})`, name: port, implementation, uses: one.uses.length, edits: one.uses.length + 5, files: 4 }
  })
  return held.concat(findJavaOutsideUses(owner, context).filter(group => group.uses.length > 0).map(group => {
    const { label, port, implementation } = namesFor(group)
    return { key: group.key, label, name: port, implementation, uses: group.uses.length, edits: group.uses.length + 5, files: 4 }
  }))
}

/** Puts what a class uses of a library behind an interface, whose implementation alone names it, and hands that to the class. */
export function wrapJavaLibrary(plan: WrapLibraryPlan, owner: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  if (plan.uses.startsWith(HELD)) return wrapHeldInJava(plan, owner, context)
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
