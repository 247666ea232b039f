import ts from 'typescript'
import type { ExtractInterfacePlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { proposedInterfaceName } from '../../write/names.js'
import type { NarrowingTrial } from '../../write/narrow-wherever-allowed.js'
import { narrowWhereverAllowed } from '../../write/narrow-wherever-allowed.js'
import { symbolOf } from '../declarations.js'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import type { PlannedRebinding } from './check.js'
import { describeError } from './check.js'
import type { WriteContext, Written } from './context.js'
import type { FileEditor } from './file-editor.js'
import { NameConflict, ProjectEditor, topLevelNames } from './file-editor.js'
import { importedAs, isUnlisted } from './file-imports.js'
import { fileNameFor } from './file-name.js'
import type { PublicMember } from './members.js'
import { memberSignatures, publicMembers } from './members.js'
import { mentionsIn, renamedMentions, typeNamesIn } from './interface-text.js'
import type { InterfaceMention, InterfaceText } from './interface-text.js'
import type { Annotation } from './narrow.js'
import { annotationsOf } from './narrow.js'
import type { Tried } from './narrowing-trial.js'
import { narrowedPlaces, narrowingTrial, OrderErrors } from './narrowing-trial.js'
import type { FileStyle } from './style.js'
import { NotWritable, takeNames, TypeWriter } from './written-type.js'

/** `others`: classes of the same shape, which implement it too. */
export function extractInterface(plan: ExtractInterfacePlan, node: ts.ClassLikeDeclaration, context: WriteContext, others: readonly ts.ClassLikeDeclaration[] = []): Written | PlanRefusal {
  const { snapshot } = context
  const path = snapshot.pathOf(node.getSourceFile())!
  if (!node.name) return planRefused('anonymous', 'The class has no name, so nothing could implement its interface by name.')
  if (/\.[cm]?jsx?$/.test(path)) return planRefused('javascript', `${path} is JavaScript, which has no interfaces.`)
  const all = publicMembers(node, snapshot)
  const wanted = plan.members === null ? all : all.filter(member => plan.members!.includes(member.name))
  if (others.length > 0 && [node, ...others].some(one => one.typeParameters)) return planRefused('generic', 'One of the classes is generic; what they share would mean something else in each.')
  if (others.some(one => !one.name)) return planRefused('anonymous', 'One of the classes has no name.')
  if (wanted.length === 0) return planRefused('no-members', `${node.name.text} has no public instance members to put into an interface.`)
  const name = plan.name ?? proposedInterfaceName(node.name.text, new Set(snapshot.facts.files.flatMap(one => one.types.map(type => type.name))))
  if (!/^[A-Za-z_$][\w$]*$/.test(name)) return planRefused('name', `${name} is not a name that an interface can have.`)

  let attempt = tryPlace(plan, node, context, path, wanted, name, plan.place, others)
  // What the members mention may be private to the class's file; there the interface can still be.
  if ('refused' in attempt && attempt.refused && attempt.reason === 'not-visible' && plan.place === 'own-file') {
    const inFile = tryPlace(plan, node, context, path, wanted, name, 'class-file', others)
    if (!('refused' in inFile)) attempt = { ...inFile, step: { ...inFile.step, notes: [`It stands in the class's own file, because ${lower(attempt.message)}`, ...inFile.step.notes] } }
  }
  return attempt
}

function lower(text: string): string { return text.charAt(0).toLowerCase() + text.slice(1) }

type Attempt = Written | PlanRefusal

function tryPlace(
  plan: ExtractInterfacePlan, node: ts.ClassLikeDeclaration, context: WriteContext, path: string, wanted: readonly PublicMember[],
  name: string, place: ExtractInterfacePlan['place'], others: readonly ts.ClassLikeDeclaration[]
): Attempt {
  const { snapshot, root } = context
  const file = node.getSourceFile()
  const sameFile = place === 'class-file'
  const folder = place === 'client' && plan.client !== null ? folderOf(plan.client.slice(0, plan.client.indexOf('#'))) : folderOf(path)
  const target = sameFile ? path : `${folder === '' ? '' : `${folder}/`}${fileNameFor(name, path)}`
  if (!sameFile && (snapshot.files.isSource(target) || snapshot.source.isFile(`${root}/${target}`))) {
    return planRefused('file-exists', `${target} exists already; choose another name.`)
  }
  if (sameFile && topLevelNames(file).has(name)) return planRefused('name-taken', `${path} has a ${name} already; choose another name.`)

  let interfaceText: InterfaceText
  const probe = new ProjectEditor(snapshot, root)
  const write = new TypeWriter(snapshot, probe, node, sameFile)
  try {
    const parameters = node.typeParameters ? `<${node.typeParameters.map(parameter => write.source(parameter)).join(', ')}>` : ''
    interfaceText = { head: `interface ${name}${parameters}`, lines: wanted.flatMap(member => memberSignatures(member, node, snapshot, write)) }
  } catch (error) {
    if (error instanceof NotWritable) return planRefused('not-visible', `A member of ${node.name!.text} cannot be written elsewhere: ${error.message}.`)
    throw error
  }

  const own = node.name!.text
  // The interface itself may speak of the class: `next(): Lock`. Left so, it would bring the class along to every client.
  const declared = plan.narrow ? annotationsOf(node, snapshot) : [], within = declared.filter(one => probe.possibleSpecifier(one.path, target, name) !== undefined)
  const annotations: (Annotation | InterfaceMention)[] = plan.narrow ? [...within, ...mentionsIn(interfaceText, own, target)] : []
  const rebinding: PlannedRebinding = { types: withBases(node, snapshot), to: `${target}#${name}` }
  const order = new OrderErrors(() => build(node, context, path, target, sameFile, name, interfaceText, write, [], others), context)
  const trial = (narrowed: readonly (Annotation | InterfaceMention)[], onlyWhether: boolean): NarrowingTrial<Tried<Built>> => {
    const mentions = narrowed.filter(one => 'mention' in one)
    const text = renamedMentions(interfaceText, own, mentions, name)
    const built = build(node, context, path, target, sameFile, name, text, write, narrowed.filter(one => 'name' in one), others)
    return narrowingTrial(built, [rebinding], context, order, onlyWhether, after => {
      const starts = mentions.length > 0 ? typeNamesIn(after.program.getSourceFile(`${root}/${target}`)!, name, new Set([name, own])) : []
      return mentions.map(one => [`${target}:${starts[one.mention]!}`, one.key])
    })
  }
  let outcome: ReturnType<typeof narrowWhereverAllowed<Annotation | InterfaceMention, Tried<Built>>>
  try {
    outcome = narrowWhereverAllowed(annotations, trial)
  } catch (error) {
    if (error instanceof NameConflict) return planRefused('import', `${error.message}.`)
    throw error
  }
  const { narrowed, last: { result: last } } = outcome
  if (last.errors.length > 0) return planRefused('does-not-compile', `It would not compile: ${describeError(last.errors[0]!, root)}`)
  if (last.broken !== null) return planRefused('binding', `${last.broken.message}.`)
  const notes = annotations.length === 0 ? (plan.narrow ? [`Nothing is declared as ${node.name!.text}, so there is nothing to narrow.`] : []) : [`${narrowed} of ${annotations.length} uses of ${node.name!.text} as a type become ${name}.`]
  if (narrowed < annotations.length) notes.push('The others need more than the interface has, or hand the object to code that wants the class.')
  if (within.length < declared.length) notes.push(`${declared.length - within.length} in other packages of the workspace ${declared.length - within.length === 1 ? 'stays' : 'stay'}: they could not import it.`)
  return {
    after: last.after, step: {
      refused: false, changes: last.built.changes, edits: last.built.count, notes,
      choices: { name, members: wanted.map(member => member.name).join(','), place, narrow: plan.narrow ? 'yes' : 'no', ...(plan.client ? { client: plan.client } : {}) }
    }
  }
}

type Built = ReturnType<typeof build>

function build(
  node: ts.ClassLikeDeclaration, context: WriteContext, path: string, target: string, sameFile: boolean, name: string,
  text: InterfaceText, write: TypeWriter, narrowed: readonly Annotation[], others: readonly ts.ClassLikeDeclaration[]
) {
  const editor = new ProjectEditor(context.snapshot, context.root)
  const own = editor.editor(path)
  const style = own.style
  const end = style.semicolons ? ';' : ''
  const isExported = editor.exportedName(node) !== undefined
  const base = sameFile ? own.indentAt(node.getStart()) : ''
  const body = [`${!sameFile || isExported ? 'export ' : ''}${text.head} {`, ...text.lines.map(line => `${base}${style.indent}${line}${end}`), `${base}}`].join(style.lineEnd)
  if (sameFile) {
    takeNames(write, own)
    own.insert(node.getStart(undefined, true), body + style.lineEnd + style.lineEnd + base)
  } else {
    const imports = importLines(write, editor, target, style, body)
    editor.create(target, imports + body + style.lineEnd)
  }
  const parameters = node.typeParameters ? `<${node.typeParameters.map(parameter => parameter.name.text).join(', ')}>` : ''
  for (const one of [node, ...others]) {
    const at = editor.editor(context.snapshot.pathOf(one.getSourceFile())!)
    const local = at === own && sameFile ? name : at.nameFor({ name, file: target, specifier: null, typeOnly: true })
    implement(one, `${local}${one === node ? parameters : ''}`, at)
  }
  for (const annotation of narrowed) {
    const file = editor.editor(annotation.path)
    const written = annotation.path === target ? name : file.nameFor({ name, file: target, specifier: null, typeOnly: true })
    file.replace(annotation.name.getStart(), annotation.name.end, written)
  }
  const done = editor.finish()
  return { ...done, narrowedAt: narrowedPlaces(narrowed, done.edits) }
}

/** Lets a class implement an interface too. */
function implement(node: ts.ClassLikeDeclaration, written: string, own: FileEditor): void {
  const implemented = node.heritageClauses?.find(clause => clause.token === ts.SyntaxKind.ImplementsKeyword)
  if (implemented) { own.insert(implemented.types.end, `, ${written}`); return }
  const after = node.heritageClauses?.[0]?.end ?? (node.typeParameters ? node.getSourceFile().text.indexOf('>', node.typeParameters.end) + 1 : node.name!.end)
  own.insert(after, ` implements ${written}`)
}

/** Import lines of a new file, from the names that its types need, as far as its text still mentions them. */
export function importLines(write: Pick<TypeWriter, 'needed'>, editor: ProjectEditor, target: string, style: FileStyle, body: string): string {
  const mentioned = new Set(body.match(/[\p{L}\p{N}_$]+/gu))
  const bySpecifier = new Map<string, string[]>(), unlisted: [string, string][] = []
  for (const { name, local } of write.needed) {
    if (!mentioned.has(local)) continue
    const specifier = name.specifier ?? editor.specifierFor(target, name.file!, name.name)
    const renamed = importedAs(name.name, local)
    if (isUnlisted(name.name)) { unlisted.push([specifier, `import ${editor.typeStyle === 'plain' ? '' : 'type '}${renamed}`]); continue }
    const written = editor.typeStyle === 'inline' ? `type ${renamed}` : renamed
    bySpecifier.set(specifier, [...(bySpecifier.get(specifier) ?? []), written])
  }
  if (bySpecifier.size + unlisted.length === 0) return ''
  const keyword = editor.typeStyle === 'statement' ? 'import type' : 'import'
  const heads = [...unlisted, ...[...bySpecifier].map(([specifier, names]): [string, string] => [specifier, `${keyword} { ${names.sort().join(', ')} }`])]
  return heads.sort((a, b) => (a[0] < b[0] ? -1 : 1)).map(([specifier, head]) => `${head} from ${style.quote}${specifier}${style.quote}${style.semicolons ? ';' : ''}${style.lineEnd}`).join('') + style.lineEnd
}

/** Ids of a class and of the types that it inherits members from: what a narrowed receiver may have meant before. */
function withBases(node: ts.ClassLikeDeclaration, snapshot: Snapshot): Set<string> {
  const ids = new Set<string>()
  const visit = (type: ts.Type, depth: number): void => {
    for (const declaration of type.symbol?.declarations ?? []) {
      const owner = snapshot.declarations.ownerOf(declaration)
      if (owner) ids.add(owner.type)
    }
    if (depth > 0) for (const base of type.getBaseTypes?.() ?? []) visit(base, depth - 1)
  }
  const symbol = symbolOf(node)
  if (symbol) visit(snapshot.checker.getDeclaredTypeOfSymbol(symbol), 20)
  for (const clause of node.heritageClauses ?? []) for (const heritage of clause.types) visit(snapshot.checker.getTypeAtLocation(heritage), 20)
  return ids
}
