import type { TextEdit } from '../../../edit/text-edit.js'
import type { PlanRefusal, ReplaceTypeSwitchPlan, SwitchPlace } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'
import { mentions } from '../../binding/types.js'
import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import { caseName } from '../../write/switch-names.js'
import { parentOf } from '../bound-program.js'
import { leaves } from '../condition-chain.js'
import { LocalSymbol } from '../scope.js'
import { Field, JAVA_GRAMMAR, Kind } from '../syntax.js'
import { checkedJavaStep } from './checked-step.js'
import { handToConstructor } from './constructor-parameter.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import type { DividedJavaCase } from './divided-switch.js'
import { bareValueOf, javaSettingOf, keptOf, setOf } from './divided-switch.js'
import { licence, RESERVED } from './extract-interface.js'
import type { FacadeParts } from './facade-parts.js'
import { dividedHoles } from './facade-parts.js'
import type { FoundSwitch } from './found-switches.js'
import { foundSwitches, labelTexts, namesOf } from './found-switches.js'
import type { FileNames } from './java-editor.js'
import { JavaEditor, NewJavaFile } from './java-editor.js'
import { givenArguments, handedTexts, movedStatements, thrownBy, writtenParameters } from './moved-run.js'
import { freeName } from './provision.js'
import { plainTypeOf } from './statement-unifier.js'
import { typeText } from './type-text.js'
import { isWrittenOut } from './written-out.js'

/** Switches of a class whose cases could each be a class, in order. */
export function javaTypeSwitches(owner: ClassSymbol, context: JavaWriteContext): SwitchPlace[] {
  return foundSwitches(owner, context.bound).filter(one => (one.isStatic || !isWrittenOut(owner, context.bound)) && partsOf(one, context) !== undefined).map(one => {
    const { tree } = one.place.file
    return {
      key: one.key, member: one.member, handed: !one.isStatic, line: tree.text.slice(0, tree.start(one.node)).split('\n').length, over: one.over, cases: one.cases.map(each => caseName(labelTexts(each, one))), name: namesOf(one, null, context).contract, edits: one.cases.length + 4, files: 3
    }
  })
}

/** What the cases are handed; undefined where that cannot be: a variable that is set again is no lambda's. */
function partsOf({ place, unified }: FoundSwitch, { bound }: JavaWriteContext): FacadeParts | undefined {
  return dividedHoles({ places: [place], unified }, bound, () => undefined, new Set())
}

/** An interface with one class for each case, and a class that chooses among them, whose choice the class is handed; a static method calls it. */
export function replaceJavaTypeSwitch(plan: ReplaceTypeSwitchPlan, owner: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const found = foundSwitches(owner, bound).find(one => one.key === plan.place)
  const parts = found && partsOf(found, context)
  if (!found || !parts) return planRefused('switch', `The cases of ${plan.place} cannot stand elsewhere: each has to give back a value, set the same variable or field at its end, or just run, and none may set other fields of the class.`)
  const names = namesOf(found, plan.name, context), { place: { file }, cases, kinds, over, isByType } = found, { tree } = file
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(names.contract) || RESERVED.test(names.contract)) return planRefused('name', `${names.contract} is not a name that an interface can have.`)
  const folder = file.path.slice(0, file.path.lastIndexOf('/') + 1)
  for (const name of [names.contract, names.chooser]) if (bound.program.packages.get(owner.packageName)?.has(name) || state.source.isFile(`${language.root}/${folder}${name}.java`)) return planRefused('file-exists', `${name} exists already beside ${owner.name}; choose another name.`)

  const editor = new JavaEditor(bound), own = editor.file(file.path), { lineEnd, indent } = own.style, inner = indent + indent
  const { parameters } = parts, holes = handedTexts(parameters)
  const kept = keptOf(found.result), back = kept ? `return ${kept.kept.name};` : ''
  const type = resultOf(found), thrown = thrownBy([found.place], bound)
  const access = owner.flags & Flags.Public ? 'public ' : ''
  const signature = (there: FileNames): string => {
    const throws = thrown.length > 0 ? ` throws ${thrown.map(one => there.nameOf(one)).join(', ')}` : ''
    return `${type ? typeText(type, there) : 'void'} ${names.method}(${[...writtenParameters(parameters, there, one => typeText(one, there)), ...(kept?.isHanded ? [`${typeText(kept.kept.type, there)} ${kept.kept.name}`] : [])].join(', ')})${throws}`
  }
  const looked = isByType ? plainTypeOf(found.subject, file, bound.program) : undefined
  if (isByType && (!looked || looked.tag === 'special')) return planRefused('type', `The type of ${tree.textOf(found.subject)} is not known.`)
  const kindIn = (there: FileNames): string => (looked ? typeText(looked, there) : kinds ? there.nameOf(kinds) : 'String')
  const create = (name: string, there: FileNames, code: readonly string[]): void => {
    const imports = [...there.needed].sort().map(one => `import ${one};`)
    editor.create(`${folder}${name}.java`, [...licence(tree.text, lineEnd), ...(owner.packageName === '' ? [] : [`package ${owner.packageName};`, '']), ...imports, ...(imports.length > 0 ? [''] : []), ...code, ''].join(lineEnd))
  }
  const contractNames = new NewJavaFile(owner.packageName, new Set([names.contract]), bound)
  create(names.contract, contractNames, [`/** What ${owner.name}.${found.member} does for one ${over}. */`, `${access}interface ${names.contract} {`, `${indent}${signature(contractNames)};`, '}'])

  const there = new NewJavaFile(owner.packageName, new Set([names.chooser, names.contract, ...names.classes, names.other]), bound)
  const hasOther = kinds === null || cases.some(one => one.labels.length === 0) || found.result !== 'value'
  const bodies = cases.map(one => bodyOf(one, found, holes, there, inner + indent))
  const all = cases.map((_, at) => ({ name: names.classes[at]!, body: bodies[at]! }))
  // Where a switch without a default does nothing in any other case, a class does.
  if (hasOther && !cases.some(one => one.labels.length === 0)) all.push({ name: names.other, body: back })
  const chooses = isByType ? byType() : byValue()
  create(names.chooser, there, [
    `/** Chooses by ${over}: for another one there is another class here, and one more line. */`, `${access}final class ${names.chooser} {`, ...chooses,
    ...all.flatMap(({ name, body }) => ['', `${indent}static final class ${name} implements ${names.contract} {`, `${inner}@Override`, `${inner}public ${signature(there)} {`, ...(body === '' ? [] : [`${inner}${indent}${body}`]), `${inner}}`, `${indent}}`]), '}'
  ])

  const field = found.isStatic ? '' : freeName(names.field, file, bound.program.declarations.get(owner)!.node, new Set()), notes: string[] = []
  if (!found.isStatic) handToConstructor(owner, file, NONE, 0, {
    editor, context, withDefault: plan.withDefault, notes,
    provision: {
      name: field, typeIn: at => `${at.byName('java.util.function', 'Function')}<${kindIn(at)}, ${at.byName(owner.packageName, names.contract)}>`, provide: at => `${at.byName(owner.packageName, names.chooser)}::of`,
      kept: true, assignment: null, declaration: [], thrown: []
    }
  })
  const choose = found.isStatic ? `${own.byName(owner.packageName, names.chooser)}.of` : `${field}.apply`
  replaceSwitch(found, `${choose}(${tree.textOf(found.subject)}).${names.method}(${[...givenArguments(parameters, 0, tree), ...(kept?.isHanded ? [kept.kept.name] : [])].join(', ')})`)
  return checkedJavaStep(editor, context, {
    notes: [
      ...(hasOther ? [] : [`${over} is the whole of what has a class; one that is added without is an error when it comes.`]),
      ...parameters.filter(one => one.lazy).map(one => `What is called ${one.name} is worked out only in some cases, and so it is handed as a function.`), ...notes
    ],
    choices: { place: plan.place, name: names.contract, ...(found.isStatic ? {} : { default: plan.withDefault ? 'yes' : 'no' }) }, planned: found.isStatic ? [] : [{ types: new Set([owner.id]), to: '', field }]
  })

  /** A table of what there is for each value. */
  function byValue(): string[] {
    const known = kindIn(there), map = there.byName('java.util', 'Map'), table = kinds ? `new ${there.byName('java.util', 'EnumMap')}<>(${known}.class)` : `new ${there.byName('java.util', 'HashMap')}<>()`
    const label = (node: Node): string => (kinds ? `${known}.${tree.textOf(node).replace(/^.*\./, '')}` : tree.textOf(node))
    const kind = found!.takesNull ? 'kind' : `${there.byName('java.util', 'Objects')}.requireNonNull(kind)`
    return [
      `${indent}private static final ${map}<${known}, ${names.contract}> KNOWN = ${table};`, ...(hasOther ? [`${indent}private static final ${names.contract} OTHER = new ${names.other}();`] : []), '',
      `${indent}static {`, ...cases.flatMap((one, at) => one.labels.map(node => `${inner}KNOWN.put(${label(node)}, new ${names.classes[at]!}());`)), `${indent}}`, '',
      `${indent}private ${names.chooser}() {`, `${indent}}`, '',
      `${indent}${access}static ${names.contract} of(${known} kind) {`,
      `${inner}return KNOWN.${hasOther ? 'getOrDefault' : 'get'}(${kind}${hasOther ? ', OTHER' : ''});`, `${indent}}`
    ]
  }

  /** Types are asked for one after the other, as they were: an object may be of several. */
  function byType(): string[] {
    const held = cases.map((one, at) => (one.labels.length === 0 ? 'OTHER' : constantName(names.classes[at]!)))
    return [
      ...all.map(({ name }, at) => `${indent}private static final ${names.contract} ${held[at] ?? 'OTHER'} = new ${name}();`), '',
      `${indent}private ${names.chooser}() {`, `${indent}}`, '',
      `${indent}${access}static ${names.contract} of(${kindIn(there)} thing) {`,
      ...cases.flatMap((one, at) => (one.labels.length === 0 ? [] : [`${inner}if (${one.labels.map(node => `thing instanceof ${typeElsewhere(node)}`).join(' || ')}) {`, `${inner}${indent}return ${held[at]!};`, `${inner}}`])),
      `${inner}return OTHER;`, `${indent}}`
    ]
  }

  function typeElsewhere(node: Node): string { return movedStatements({ ...found!.place, statements: [{ file, node }] }, new Map(), there, '') }

  /** The call in the place of the switch; a variable that is declared directly before, and that nothing else sets, is declared with it. */
  function replaceSwitch({ node, result, end }: FoundSwitch, call: string): void {
    const start = tree.start(node)
    if (result === 'value') own.replace(start, tree.end(node), call)
    else if (result === 'returned') own.replace(start, end, `return ${call};`)
    else if (result === 'nothing') own.replace(start, end, `${call};`)
    else if ('field' in result) own.replace(start, end, `${tree.textOf(result.target)} = ${call};`)
    else if ('kept' in result) own.replace(start, end, `${result.kept.name} = ${call};`)
    else {
      const declarator = result.node, declaration = declarator === NONE ? NONE : parentOf(tree, declarator), block = parentOf(tree, node), beside = tree.children(block)
      const isBefore = tree.kind(declarator) === Kind.VariableDeclarator && tree.child(declarator, Field.Value) === NONE && beside.indexOf(declaration) >= 0 && beside.indexOf(declaration) === beside.indexOf(node) - 1 && tree.children(declaration).filter(one => tree.kind(one) === Kind.VariableDeclarator).length === 1
      if (isBefore) own.replace(tree.end(declarator), end, ` = ${call};`)
      else own.replace(start, end, `${result.name} = ${call};`)
    }
  }
}

/** `BARGE_DUE` for `BargeDue`. */
function constantName(name: string): string { return name.replace(/(?<=[\p{Ll}\d])(?=\p{Lu})/gu, '_').toUpperCase() }

/** The type of what comes of a switch; undefined for nothing. Refused where it is not known or speaks of type parameters. */
function resultOf({ node, result, place: { file, method, block, owner } }: FoundSwitch): Type | undefined {
  if (result === 'nothing') return undefined
  if (typeof result === 'object' && 'kept' in result) return result.kept.type
  const { tree } = file, parent = parentOf(tree, node)
  let type: Type | undefined
  if (typeof result === 'object') type = 'field' in result ? result.field.type : result.type
  else if (result === 'returned' || tree.kind(parent) === Kind.ReturnStatement) type = owner.ownMembers.find((one): one is MethodSymbol => one instanceof MethodSymbol && one.node >= 0 && parentOf(tree, one.node) === method)?.signature.result
  else if (tree.kind(parent) === Kind.AssignmentExpression) {
    const meaning = file.meaning(tree.child(parent, Field.Left))
    type = meaning instanceof LocalSymbol ? meaning.type : undefined
  } else for (let at = block; at < tree.after(block); at += 5) {
    const meaning = file.meaning(at)
    if (meaning instanceof LocalSymbol && meaning.node === parent) { type = meaning.type; break }
  }
  if (!type || type.tag === 'special' || mentions(type, new Set(owner.typeParameters))) throw new Refused('result', 'The type of what comes of the switch cannot be written down')
  return type
}

const COMMENTS = JAVA_GRAMMAR.comments!.tokens

/** The body of the method for a case, comments before it included. */
function bodyOf(one: DividedJavaCase, found: FoundSwitch, holes: ReadonlyMap<Node, string>, names: FileNames, margin: string): string {
  const { place, result } = found, { file: { tree } } = place, { statements } = one
  const [first] = statements, upTo = first === undefined ? one.to : tree.start(first)
  const before = commentsIn(tree.text.slice(one.from, upTo)).map(each => each.text)
  const kept = keptOf(result), back = kept && !leaves(statements.at(-1), tree) ? [`return ${kept.kept.name};`] : []
  if (first === undefined) return [...before, ...back].join(`\n${margin}`)
  const more: TextEdit[] = []
  const value = result === 'value' ? bareValueOf(one, tree) : undefined, setting = setOf(result) ? javaSettingOf(one, tree) : undefined
  if (value !== undefined) more.push({ start: tree.start(first), end: tree.start(first), text: 'return ' })
  // What is set stays behind, and may not be seen there.
  if (setting) more.push({ start: tree.start(statements.length > 1 ? setting.left : setting.right), end: tree.start(setting.right), text: 'return ' })
  for (const each of one.breaks) more.push({ start: tree.start(each), end: tree.start(each) + 'break'.length, text: kept ? `return ${kept.kept.name}` : 'return' })
  if (result === 'value') for (const statement of statements) for (const given of yieldsIn(statement, tree)) more.push({ start: tree.start(given), end: tree.start(given) + 'yield'.length, text: 'return' })
  const moved = setting ? [...statements.slice(0, -1), setting.right] : statements
  const body = movedStatements({ ...place, statements: moved.map(node => ({ file: place.file, node })) }, holes, names, margin, more) + (setting ? ';' : '')
  const behind = commentsIn(tree.text.slice(tree.end(statements.at(-1)!), one.to)), beside = behind.filter(each => each.isBeside), below = behind.filter(each => !each.isBeside)
  // What no case looks at before it sets it is each case's own.
  const declared = kept && !kept.isHanded && (back.length > 0 || new RegExp(`(?<![\\p{L}\\p{N}_$.])${kept.kept.name.replace(/\$/g, '\\$')}(?![\\p{L}\\p{N}_$])`, 'u').test(body)) ? [`${typeText(kept.kept.type, names)} ${kept.kept.name};`] : []
  return [...before, ...declared, ...(one.named === undefined ? [] : [namedAnew(one.named)]), [body, ...beside.map(each => each.text)].join(' '), ...below.map(each => each.text), ...back].join(`\n${margin}`)

  /** `A a = (A) x;` for `x instanceof A a`. */
  function namedAnew(test: Node): string {
    const type = movedStatements({ ...place, statements: [{ file: place.file, node: tree.child(test, Field.Right) }] }, holes, names, margin)
    return `${type} ${tree.textOf(tree.child(test, Field.Name))} = (${type}) ${holes.get(tree.child(test, Field.Left))!};`
  }
}

/** Comments in a piece of code; `isBeside`: on its first line. */
function commentsIn(code: string): { readonly text: string; readonly isBeside: boolean }[] {
  return [...code.matchAll(COMMENTS)].filter(([text]) => text.startsWith('/')).map(match => ({ text: match[0], isBeside: !code.slice(0, match.index).includes('\n') }))
}

/** What a switch gives in the block of a case; what a switch inside gives is its own. */
function yieldsIn(node: Node, tree: FlatTree): Node[] {
  if (tree.kind(node) === Kind.SwitchExpression || tree.kind(node) === Kind.LambdaExpression || tree.kind(node) === Kind.ClassBody) return []
  return tree.kind(node) === Kind.YieldStatement ? [node] : tree.children(node).flatMap(child => yieldsIn(child, tree))
}
