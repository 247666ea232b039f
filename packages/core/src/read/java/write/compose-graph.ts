import type { ComposeGraphPlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { Flags } from '../../binding/symbols.js'
import { NONE } from '../../syntax/flat-tree.js'
import { lowerFirst, numberedName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import { parentOf } from '../bound-program.js'
import { Kind } from '../syntax.js'
import { longestConstructor } from '../type-facts.js'
import { checkedJavaStep } from './checked-step.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { licence, RESERVED } from './extract-interface.js'
import { JavaEditor, NewJavaFile, styleOf } from './java-editor.js'
import { takenNames } from './taken-names.js'
import { copiedType, typeText } from './type-text.js'

/** Longer than this a call is written with one argument on each line. */
const LINE = 120

/** A class with one static method that builds an object and all that it needs, in the object's package. */
export function composeJavaGraph(plan: ComposeGraphPlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const { program } = bound
  const taken = takenNames(context)
  if (plan.name === null && program.packages.get(symbol.packageName)?.has(`${symbol.name}Graph`)) return planRefused('done', `${symbol.name}Graph builds it already; give a name to build it in another way.`)
  const name = plan.name ?? numberedName(`${symbol.name}Graph`, one => !taken.has(one))
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) || RESERVED.test(name)) return planRefused('name', `${name} is not a name that a class can have.`)
  const { file } = program.declarations.get(symbol)!
  const target = `${file.path.slice(0, file.path.lastIndexOf('/') + 1)}${name}.java`
  if (program.packages.get(symbol.packageName)?.has(name) || state.source.isFile(`${language.root}/${target}`)) return planRefused('file-exists', `${name} exists already in ${symbol.packageName || 'its package'}; choose another name.`)

  const { lineEnd, indent } = styleOf(file.tree)
  const names = new NewJavaFile(symbol.packageName, new Set([name]), bound)
  const parameters = plan.handedIn.map(one => {
    const taking = classOf(one.of), constructor = longestConstructor(taking)
    const type = constructor?.signature.parameters[one.parameter]
    if (!constructor || !type) throw new Refused('parameters', `What the constructor of ${taking.name} takes is not known`)
    if (taking.typeParameters.length > 0) throw new Refused('generic', `${taking.name} has type parameters, so that what it takes depends on who builds it`)
    if (constructor.varargs && one.parameter === constructor.arity - 1) throw new Refused('varargs', `The last argument of ${taking.name} is any number of values`)
    return `${typeText(type, names)} ${RESERVED.test(one.name) ? `${one.name}Value` : one.name}`
  })
  const handedIn = plan.handedIn.map(one => (RESERVED.test(one.name) ? `${one.name}Value` : one.name))

  const thrown = new Set<string>()
  const locals = new Set(handedIn)
  const variables = plan.objects.map(({ type }) => {
    const variable = numberedName(lowerFirst(classOf(type).name), one => !locals.has(one) && !RESERVED.test(one))
    locals.add(variable)
    return variable
  })
  const lines = plan.objects.flatMap(({ type, arguments: args }, index) => {
    const built = classOf(type)
    if (built.typeParameters.length > 0) throw new Refused('generic', `${built.name} has type parameters, so that it cannot be told what to build it for`)
    if (built.outer && !(built.flags & Flags.Static)) throw new Refused('nested', `${built.name} belongs to an object of ${built.outer.name}`)
    for (const one of exceptionsOf(built)) thrown.add(one)
    const given = args.map(one => ('object' in one ? variables[one.object]! : handedIn[one.handedIn]!))
    const last = index === plan.objects.length - 1, written = names.nameOf(built)
    const before = `${last ? 'return' : `${written} ${variables[index]!} =`} new ${written}(`
    const short = `${before}${given.join(', ')});`
    return given.length === 0 || short.length + 2 * indent.length <= LINE ? [short] : [before, ...given.map((one, at) => `${indent}${indent}${one}${at < given.length - 1 ? ',' : ');'}`)]
  })
  const isPublic = symbol.flags & Flags.Public ? 'public ' : ''
  const result = names.nameOf(symbol), clause = thrown.size > 0 ? ` throws ${[...thrown].sort().join(', ')}` : ''
  const head = `${isPublic}static ${result} compose(${parameters.join(', ')})${clause} {`
  const heads = head.length + indent.length <= LINE ? [head] : [`${isPublic}static ${result} compose(`, ...parameters.map((one, at) => `${indent}${indent}${one}${at < parameters.length - 1 ? ',' : `)${clause} {`}`)]
  const imports = [...names.needed].sort().map(one => `import ${one};`)
  const inside = [`private ${name}() {`, '}', '', ...heads, ...lines.map(line => indent + line), '}'].map(line => (line === '' ? '' : indent + line))
  const editor = new JavaEditor(bound)
  editor.create(target, [
    ...licence(file.tree.text, lineEnd), ...(symbol.packageName === '' ? [] : [`package ${symbol.packageName};`, '']), ...imports, ...(imports.length > 0 ? [''] : []),
    `/** Builds a ${symbol.name} and all that it needs: each object once, before those that want it. */`, `${isPublic}final class ${name} {`, ...inside, '}', ''
  ].join(lineEnd))
  return checkedJavaStep(editor, context, { notes: [`${name}.compose builds ${plan.objects.length} objects; call it where the program begins. It names every class that it builds: keep that to this one place.`], choices: { name }, planned: [] })

  function classOf(id: string): ClassSymbol {
    const found = bound.classById(id)
    if (!found) throw new Refused('no-class', `${id} is not a class that can be built here`)
    return found
  }

  /** What the constructor says that it throws. */
  function exceptionsOf(built: ClassSymbol): string[] {
    const constructor = longestConstructor(built), declared = program.declarations.get(built)
    if (!constructor || !declared || constructor.node < 0) return []
    const node = parentOf(declared.file.tree, constructor.node)
    const clause = node < 0 ? NONE : declared.file.tree.childOf(node, Kind.Throws)
    if (clause === NONE) return []
    // Its names are bound with the file.
    const bodies = bound.file(declared.file.path)!.java
    return bodies.tree.children(clause).map(at => copiedType(at, bodies, names, undefined, () => undefined))
  }
}
