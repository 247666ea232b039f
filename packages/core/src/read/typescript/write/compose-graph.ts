import type ts from 'typescript'
import type { ComposeGraphPlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { lowerFirst, numberedName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import { folderOf } from '../project-files.js'
import { constructorOf } from '../type-facts.js'
import { checkedStep, refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import { importLines } from './extract-interface.js'
import { ProjectEditor, topLevelNames } from './file-editor.js'
import { fileNameFor } from './file-name.js'
import { newFilePath } from './new-file.js'
import { valueImports } from './new-file-imports.js'
import { TypeWriter } from './written-type.js'

/** Longer than this a call is written with one argument on each line. */
const LINE = 140

/** A function in a file of its own that builds an object and all that it needs. `classOf`: a class by its id. */
export function composeGraph(plan: ComposeGraphPlan, node: ts.ClassLikeDeclaration, context: WriteContext, classOf: (id: string) => ts.ClassLikeDeclaration | undefined): Written | PlanRefusal {
  const { snapshot, root } = context
  const path = snapshot.pathOf(node.getSourceFile())!, own = node.name?.text ?? ''
  const taken = new Set([...snapshot.paths.keys()].flatMap(file => [...topLevelNames(file)]))
  const usual = `${folderOf(path) === '' ? '' : `${folderOf(path)}/`}${fileNameFor(`compose${own}`, path)}`
  if (plan.name === null && snapshot.files.isSource(usual)) return planRefused('done', `compose${own} builds it already; give a name to build it in another way.`)
  const name = plan.name ?? numberedName(`compose${own}`, one => !taken.has(one))
  const target = newFilePath({ name, kind: 'a function', folder: folderOf(path), like: path }, context)
  if (typeof target !== 'string') return target
  try {
    const editor = new ProjectEditor(snapshot, root)
    const { style } = editor.editor(path)
    const { lineEnd, indent, semicolons } = style
    const end = semicolons ? ';' : ''

    const types: TypeWriter['needed'] = []
    const parameters = plan.handedIn.map(one => {
      const taking = classOf(one.of), constructor = taking && constructorOf([taking], snapshot)
      const parameter = constructor?.parameters[one.parameter]
      if (!constructor || !parameter) throw new Refused('parameters', `What the constructor of ${one.of} takes is not known`)
      const declaring: ts.ClassLikeDeclaration = constructor.parent
      const write = new TypeWriter(snapshot, editor, declaring, false)
      const written = parameter.type ? write.source(parameter.type) : write.inferred(snapshot.checker.getTypeAtLocation(parameter))
      if (declaring.typeParameters?.some(generic => new RegExp(`(?<![\\w$])${generic.name.text}(?![\\w$])`).test(written))) throw new Refused('generic', `${one.name} is of a type that only the generic class ${declaring.name?.text ?? ''} knows`)
      for (const needed of write.needed) if (!types.some(other => other.local === needed.local && other.name.name === needed.name.name && other.name.file === needed.name.file && other.name.specifier === needed.name.specifier)) types.push(needed)
      return `${one.name}: ${written}`
    })

    const values = new Map<string, { name: string; file: string; specifier: null }>()
    const locals = new Set(plan.handedIn.map(one => one.name))
    const classNames = plan.objects.map(({ type }) => {
      const declared = classOf(type), file = declared && snapshot.pathOf(declared.getSourceFile())
      if (!declared?.name || file === undefined) throw new Refused('no-class', `${type} is not a class of the project`)
      const exported = editor.exportedName(declared)
      if (exported === undefined) throw new Refused('not-visible', `${file} does not export ${declared.name.text}, so that no other file can build it`)
      const local = numberedName(declared.name.text, one => !values.has(one) || (values.get(one)!.file === file && values.get(one)!.name === exported))
      values.set(local, { name: exported, file, specifier: null })
      return local
    })
    for (const { local, name: { name: exported, file } } of types) {
      const value = values.get(local)
      if (types.some(other => other.local === local && (other.name.file !== file || other.name.name !== exported)) || (value && (value.file !== file || value.name !== exported))) throw new Refused('name-taken', `Two different types are called ${local}`)
    }
    const variables = classNames.map(one => {
      const variable = numberedName(lowerFirst(one), free => !locals.has(free) && !values.has(free) && free !== name && !RESERVED.has(free))
      locals.add(variable)
      return variable
    })
    const lines = plan.objects.map(({ arguments: args }, index) => {
      const given = args.map(one => ('object' in one ? variables[one.object]! : plan.handedIn[one.handedIn]!.name))
      const last = index === plan.objects.length - 1
      const before = `${last ? 'return' : `const ${variables[index]!} =`} new ${classNames[index]!}(`
      const short = `${before}${given.join(', ')})${end}`
      return given.length === 0 || short.length + indent.length <= LINE ? indent + short : [indent + before, ...given.map((one, at) => `${indent}${indent}${one}${at < given.length - 1 ? ',' : ''}`), `${indent})${end}`].join(lineEnd)
    })
    const result = classNames.at(-1)!
    const head = `export function ${name}(${parameters.join(', ')}): ${result} {`
    const body = [
      `/** Builds a ${own} and all that it needs: each object once, before those that want it. */`,
      ...(head.length <= LINE ? [head] : [`export function ${name}(`, ...parameters.map((one, at) => `${indent}${one}${at < parameters.length - 1 ? ',' : ''}`), `): ${result} {`]),
      ...lines, '}'
    ].join(lineEnd)
    const wanted = types.filter(({ local }) => !values.has(local))
    editor.create(target, (valueImports(values, editor, target, style) + importLines({ needed: wanted }, editor, target, style, body).trimEnd()).trimEnd() + lineEnd + lineEnd + body + lineEnd)
    return checkedStep(editor, context, { notes: [`${name} builds ${plan.objects.length} objects; call it where the program begins. It names every class that it builds: keep that to this one place.`], choices: { name }, planned: [] })
  } catch (error) { return refusalOf(error) }
}

/** Words that no variable can be called by, of those that a class's name may become. */
const RESERVED = new Set(['package', 'default', 'function', 'class', 'switch', 'case', 'delete', 'import', 'export', 'enum', 'new', 'return', 'yield', 'await', 'interface', 'static', 'in', 'this', 'super', 'typeof', 'void', 'var', 'let', 'const', 'do', 'if', 'else', 'for', 'while', 'with', 'try', 'catch', 'throw', 'finally', 'break', 'continue', 'debugger', 'extends', 'implements', 'instanceof', 'null', 'true', 'false', 'private', 'public', 'protected', 'arguments', 'eval'])
