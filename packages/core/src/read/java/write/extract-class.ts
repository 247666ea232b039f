import type { TextEdit } from '../../../edit/text-edit.js'
import { applyEdits } from '../../../edit/text-edit.js'
import type { ExtractClassPlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { MemberSymbol } from '../../binding/symbols.js'
import { ClassSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import type { MadeOf } from '../../write/made-in-tests.js'
import { toldOfTests } from '../../write/made-in-tests.js'
import { lowerFirst, numberedName, upperFirst, withArticle } from '../../write/names.js'
import { removeAllLines } from '../../write/removed-lines.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { checkedJavaStep } from './checked-step.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { licence, RESERVED } from './extract-interface.js'
import type { Extraction } from './extraction.js'
import { extractionOf, isEnumLabel, qualifierOf } from './extraction.js'
import type { FillingConstructor } from './filled-fields.js'
import { parameterName, parameterNodes } from './interface-members.js'
import type { JavaFileEditor } from './java-editor.js'
import { JavaEditor } from './java-editor.js'
import { commentedStart } from './moved-members.js'
import type { SharedJavaField } from './shared-fields.js'
import { writtenType } from './shared-fields.js'
import { LITERALS } from './settled.js'
import { takenNames } from './taken-names.js'
import { holdTheOther, testObjects } from './test-objects.js'

/** Fields and the methods that share them as a class of their own, which the class holds and hands calls on to. */
export function extractJavaClass(plan: ExtractClassPlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const extraction = extractionOf(symbol, new Set(plan.members), bound)
  const { file, fields, filled, constructors, shared, faces, hidden, asked, constants, named, leadsBack, opened, moving } = extraction
  const { tree } = file
  const methodName = (at: Node) => tree.textOf(tree.child(at, Field.Name))
  const fieldName = fields[0] === undefined ? '' : nameOf(fields[0], file)
  const taken = takenNames(context)
  const word = plan.stem ?? (fieldName || (shared[0]?.name ?? methodName([...faces, ...hidden][0]!)))
  const name = plan.name ?? numberedName(symbol.name + upperFirst(word), one => !taken.has(one))
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) || RESERVED.test(name)) return planRefused('name', `${name} is not a name that a class can have.`)
  const target = `${file.path.slice(0, file.path.lastIndexOf('/') + 1)}${name}.java`
  if (bound.program.packages.get(symbol.packageName)?.has(name) || state.source.isFile(`${language.root}/${target}`)) return planRefused('file-exists', `${name} exists already beside it; choose another name.`)
  const left = new Set(symbol.ownMembers.filter(one => !moving.has(one)).map(one => one.name))
  const words = new Set(tree.text.match(/[\p{L}_$][\p{L}\p{N}_$]*/gu))
  const stem = lowerFirst(name.startsWith(symbol.name) && name.length > symbol.name.length ? name.slice(symbol.name.length) : name)
  const field = numberedName(RESERVED.test(stem) ? `${stem}Part` : stem, one => !left.has(one) && (one === fieldName || !words.has(one)))

  const editor = new JavaEditor(bound)
  const own = editor.file(file.path)
  const { lineEnd, indent } = own.style
  const going = tree.children(bound.program.declarations.get(symbol)!.body).filter(at => fields.includes(at) || faces.includes(at) || hidden.includes(at))
  const askedFor = new Set(asked.map(at => tree.textOf(at)))
  const typeAt = (at: Node) => qualifiedType(at, file, symbol, extraction), sharedTypes = shared.map(one => ({ name: one.name, type: typeAt(one.declared) }))
  const used = new Set<string>(sharedTypes.flatMap(one => one.type.match(/[\p{L}\p{N}_$]+/gu) ?? [])), firstMethod = going.find(at => !fields.includes(at))
  const texts = going.map(at => {
    const start = faces.includes(at) ? tree.start(at) : commentedStart(file, at), end = tree.end(at)
    const edits = unclassed(at, file, symbol, extraction, faces.includes(at), !fields.includes(at) && askedFor.has(methodName(at)))
    const text = applyEdits(tree.text.slice(start, end), edits.map(edit => ({ ...edit, start: edit.start - start, end: edit.end - start })))
    for (const one of text.match(/[\p{L}\p{N}_$]+/gu) ?? []) used.add(one)
    return indent + text.trimStart()
  })
  const parameters = [...filled.map(one => ({ name: one, type: typeAt(fields.find(at => nameOf(at, file) === one)!) })), ...sharedTypes]
  const handed = parameters.length > 0 ? handedConstructor(name, parameters, indent, lineEnd) : ''
  const constantLines = constants.map(at => { const text = tree.text.slice(commentedStart(file, at), tree.end(at)); for (const one of text.match(/[\p{L}\p{N}_$]+/gu) ?? []) used.add(one); return indent + (named.some(one => tree.textOf(one) === nameOf(at, file)) ? text.replace(/\bprivate\s+/, '') : text) + lineEnd }).join('')
  const sharedFields = constantLines + sharedTypes.map(one => `${indent}private final ${one.type} ${one.name};${lineEnd}`).join('')
  const body = (sharedFields === '' || fields.includes(going[0]!) ? sharedFields : sharedFields + lineEnd) + texts.map((text, index) => (index === 0 ? '' : fields.includes(going[index]!) && fields.includes(going[index - 1]!) ? lineEnd : lineEnd + lineEnd) + (handed !== '' && going[index] === firstMethod ? handed + lineEnd + lineEnd : '') + text).join('')
  const imports = file.imports.filter(one => one.onDemand || used.has(one.name.slice(one.name.lastIndexOf('.') + 1))).map(one => tree.textOf(one.node).trim())
  editor.create(target, [...licence(tree.text, lineEnd), ...(symbol.packageName === '' ? [] : [`package ${symbol.packageName};`, '']), ...imports, ...(imports.length > 0 ? [''] : []), `class ${name} {`, body, '}', ''].join(lineEnd))

  for (const at of faces) {
    const { signature: { result }, name: method } = bound.program.methodAt(file, at)!
    const passed = parameterNodes(tree, at).map(one => parameterName(tree, one))
    const nothing = result.tag === 'special' && result.name === 'void'
    own.replaceNode(tree.child(at, Field.Body), `{${lineEnd}${indent}${indent}${nothing ? '' : 'return '}${passed.includes(field) ? 'this.' : ''}${field}.${method}(${passed.join(', ')});${lineEnd}${indent}}`)
  }
  for (const at of asked) own.insert(tree.start(at), `${field}.`)
  for (const at of named) own.insert(tree.start(at), `${name}.`)
  const parts = plan.tests ? madeOf(extraction) : undefined, inTests = parts ? holdTheOther(testObjects(symbol, new Set(faces.map(methodName)), parts, context), parts, name, editor) : new Map<string, number>()
  const isMadeInConstructor = filled.length > 0 || shared.some(one => !one.isMade)
  holdIt(symbol, fields, shared, `private final ${name} ${field}${isMadeInConstructor ? '' : ` = new ${name}(${shared.map(one => one.name).join(', ')})`};`, file, own, bound)
  if (isMadeInConstructor) for (const one of constructors) makeInConstructor(one, filled, shared, given => `this.${field} = new ${name}(${given.join(', ')});`, file, own)
  removeAllLines([...constants, ...fields.filter(at => at !== heldAt(fields, shared)), ...hidden].map(at => ({ start: commentedStart(file, at), end: tree.end(at) })), own)
  for (const one of opened) openToPackage(one, file, own)
  const hands = [...new Set(faces.map(methodName))].join(', '), asks = [...askedFor].join(', ')
  return checkedJavaStep(editor, context, {
    notes: [
      `${symbol.name} holds ${withArticle(name)}${hands === '' ? '' : ` and hands ${hands} on to it`}${asks === '' ? '' : ` and asks it for ${asks}`}.`,
      ...(shared.length > 0 ? [`Both have ${shared.map(one => one.name).join(', ')}, which nothing sets again.`] : []),
      ...toldOfTests(inTests, name),
      ...(leadsBack ? [`${name} needs ${symbol.name} in turn: the two are a cycle.`] : []),
      ...(opened.size > 0 ? [`${[...opened].map(one => one.name).join(', ')}, private until now, can be seen in the package.`] : [])
    ], choices: { members: plan.members.join(','), name },
    planned: asked.length > 0 || constants.length > 0 || inTests.size > 0 ? [{ types: new Set([symbol.id]), to: symbol.packageName === '' ? name : `${symbol.packageName}.${name}` }] : []
  })
}

/** What an object of the new class is made of, for who makes one elsewhere; undefined where only the class itself can. */
function madeOf({ file, filled, shared, constructors }: Extraction): MadeOf[] | undefined {
  const { tree } = file, [constructor, another] = constructors
  if (another || (!constructor && (filled.length > 0 || shared.some(one => !one.isMade)))) return undefined
  const names = constructor ? parameterNodes(tree, constructor.node).map(one => parameterName(tree, one)) : []
  const literalOf = (declared: Node) => { const value = tree.child(tree.childOf(declared, Kind.VariableDeclarator), Field.Value); return LITERALS.has(tree.kind(value)) ? tree.textOf(value) : -1 }
  const all = [...filled.map(one => names.indexOf(constructor!.filled.get(one)!.argument)), ...shared.map(one => (one.isMade ? literalOf(one.declared) : names.indexOf(one.fillings.get(constructor!.node)!.given)))]
  return all.includes(-1) ? undefined : all
}

const nameOf = (at: Node, { tree }: JavaFile): string => tree.textOf(tree.child(tree.childOf(at, Kind.VariableDeclarator), Field.Name))

/** The type of a field as another class of the package writes it. */
function qualifiedType(at: Node, file: JavaFile, symbol: ClassSymbol, going: Pick<Extraction, 'moving' | 'isInherited'>): string {
  const { tree } = file, type = tree.child(at, Field.Type), start = tree.start(type), end = tree.end(type)
  const edits = unclassed(at, file, symbol, going, false, false).filter(edit => edit.start >= start && edit.end <= end)
  return applyEdits(tree.text.slice(start, end), edits.map(edit => ({ ...edit, start: edit.start - start, end: edit.end - start }))) + writtenType(at, file).slice(end - start)
}

/** The moved field in whose place the new object stands: the first, if all that its making needs is declared before. */
function heldAt(fields: readonly Node[], shared: readonly SharedJavaField[]): Node | undefined {
  const [first] = fields
  return first !== undefined && shared.every(one => !one.isMade || one.declared < first) ? first : undefined
}

/** Declares the field that holds the new object. */
function holdIt(symbol: ClassSymbol, fields: readonly Node[], shared: readonly SharedJavaField[], declaration: string, file: JavaFile, own: JavaFileEditor, bound: BoundProgram): void {
  const { tree } = file, { indent, lineEnd } = own.style, at = heldAt(fields, shared), last = shared.filter(one => one.isMade).at(-1)?.declared
  if (at !== undefined) own.replace(commentedStart(file, at), tree.end(at), declaration)
  else if (last !== undefined) own.insert(tree.end(last), `${lineEnd}${indent}${declaration}`)
  else own.insert(commentedStart(file, tree.first(bound.program.declarations.get(symbol)!.body)), `${declaration}${lineEnd}${lineEnd}${indent}`)
}

/** Lets the package see a static member that was private. */
function openToPackage(member: MemberSymbol, { tree }: JavaFile, own: JavaFileEditor): void {
  let at = member.node
  while (tree.childOf(at, Kind.Modifiers) === NONE) at = parentOf(tree, at)
  const modifiers = tree.childOf(at, Kind.Modifiers), found = /\bprivate\s+/.exec(tree.text.slice(tree.start(modifiers)))!
  own.replace(tree.start(modifiers) + found.index, tree.start(modifiers) + found.index + found[0].length, '')
}

/** A constructor that fills fields with its arguments. */
function handedConstructor(name: string, fields: readonly { readonly name: string; readonly type: string }[], indent: string, lineEnd: string): string {
  return [`${indent}${name}(${fields.map(one => `${one.type} ${one.name}`).join(', ')}) {`, ...fields.map(one => `${indent}${indent}this.${one.name} = ${one.name};`), `${indent}}`].join(lineEnd)
}

/** Makes the object where the first of its fields was filled, or behind what fills those that stay. */
function makeInConstructor(constructor: FillingConstructor, names: readonly string[], shared: readonly SharedJavaField[], making: (given: readonly string[]) => string, { tree }: JavaFile, own: JavaFileEditor): void {
  const { filled } = constructor, { lineEnd, indent } = own.style
  const [first, ...others] = names.map(name => filled.get(name)!.statement).sort((a, b) => a - b)
  const staying = shared.flatMap(one => one.fillings.get(constructor.node)?.statement ?? []).sort((a, b) => a - b).at(-1), isLater = staying !== undefined && (first === undefined || staying > first)
  const text = making([...names.map(name => filled.get(name)!.argument), ...shared.map(one => one.fillings.get(constructor.node)?.given ?? `this.${one.name}`)])
  if (isLater) own.insert(tree.end(staying), `${lineEnd}${indent}${indent}${text}`)
  else own.replaceNode(first!, text)
  removeAllLines([...(first !== undefined && isLater ? [first] : []), ...others].map(at => ({ start: tree.start(at), end: tree.end(at) })), own)
}

/** In a class that only its package sees a method needs no access of its own; annotations and documentation stay with the one that hands on. */
function unclassed(at: Node, file: JavaFile, symbol: ClassSymbol, { moving, isInherited }: Pick<Extraction, 'moving' | 'isInherited'>, isFace: boolean, isAsked: boolean): TextEdit[] {
  const { tree } = file
  const edits: TextEdit[] = []
  const modifiers = tree.childOf(at, Kind.Modifiers)
  if (isFace && modifiers !== NONE) {
    // What every object has is public everywhere.
    const isOfEveryObject = /^(toString|hashCode|equals)$/.test(tree.textOf(tree.child(at, Field.Name)))
    const kept = tree.textOf(modifiers).replace(/@\w+(\([^)]*\))?/g, '').match(isOfEveryObject ? /\b(strictfp|public)\b/g : /\b(strictfp)\b/g) ?? []
    edits.push({ start: tree.start(modifiers), end: tree.end(modifiers) + /^\s*/.exec(tree.text.slice(tree.end(modifiers)))![0].length, text: kept.map(word => `${word} `).join('') })
  }
  if (isAsked && modifiers !== NONE) {
    const found = /\bprivate\s+/.exec(tree.text.slice(tree.start(modifiers)))!
    edits.push({ start: tree.start(modifiers) + found.index, end: tree.start(modifiers) + found.index + found[0].length, text: '' })
  }
  for (let node = at; node < tree.after(at); node += 5) {
    if (tree.kind(node) !== Kind.Identifier && tree.kind(node) !== Kind.TypeIdentifier) continue
    const meaning = file.meaning(node)
    const holder = meaning instanceof ClassSymbol ? (meaning.outer === symbol ? symbol : undefined) : meaning && meaning.kind !== 'local' && meaning.isStatic && !moving.has(meaning) ? meaning.owner : undefined
    if (!holder || (holder !== symbol && !isInherited(holder))) continue
    const parent = parentOf(tree, node)
    const qualified = ([Kind.ScopedTypeIdentifier, Kind.ScopedIdentifier].includes(tree.kind(parent)) && tree.first(parent) !== node) || qualifierOf(node, file) !== NONE
    if (!qualified && !isEnumLabel(node, file)) edits.push({ start: tree.start(node), end: tree.start(node), text: `${holder.name}.` })
  }
  return edits
}
