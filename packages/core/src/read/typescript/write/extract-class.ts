import ts from 'typescript'
import type { TextEdit } from '../../../edit/text-edit.js'
import type { ExtractClassPlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { MadeOf } from '../../write/made-in-tests.js'
import { toldOfTests } from '../../write/made-in-tests.js'
import { lowerFirst, numberedName, upperFirst, withArticle } from '../../write/names.js'
import { removeAllLines } from '../../write/removed-lines.js'
import { memberName } from '../declarations.js'
import { checkedStep, refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import { beginConstructor } from './constructor-parameter.js'
import type { Extraction } from './extraction.js'
import { extractionOf, otherProperties } from './extraction.js'
import type { FileEditor } from './file-editor.js'
import { ProjectEditor, topLevelNames } from './file-editor.js'
import type { FilledField } from './filled-fields.js'
import { asParameter } from './filled-fields.js'
import type { MovedMembers } from './moved-members.js'
import { commentedStart, moveMembers, passedOn, returnsNothing, shiftAt } from './moved-members.js'
import { constructorLine } from './moved-run.js'
import { attachedEnd, attachedStart } from './moving-statements.js'
import type { SharedField } from './shared-fields.js'
import { holdTheOther, testObjects } from './test-objects.js'

/** Fields and the methods that share them as a class of their own, which the class holds and hands calls on to. */
export function extractClass(plan: ExtractClassPlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const file = node.getSourceFile(), path = snapshot.pathOf(file)!
  if (/\.[cm]?jsx?$/.test(path)) return planRefused('javascript', `${path} is JavaScript; what moves could not be checked.`)
  try {
    const { fields, filled, shared, faces, hidden, asked, leadsBack } = extractionOf(node, new Set(plan.members), plan.type, snapshot)
    const own = node.name!.text
    const taken = new Set([...snapshot.facts.files.flatMap(one => one.types.map(type => type.name)), ...topLevelNames(file)])
    const stem = plan.stem ?? (fields[0] ? memberName(fields[0]) : [...filled, ...shared][0]?.name ?? memberName([...faces, ...hidden][0]!)).replace(/^[#_]+/, '')
    const name = plan.name ?? numberedName(own + upperFirst(stem), one => !taken.has(one))
    if (!/^[A-Za-z_$][\w$]*$/.test(name)) return planRefused('name', `${name} is not a name that a class can have.`)
    if (topLevelNames(file).has(name)) return planRefused('name-taken', `${path} has a ${name} already; choose another name.`)
    const moving = new Set<ts.ClassElement>([...fields, ...faces, ...hidden])
    const left = new Set([...node.members.filter(one => !moving.has(one)).map(memberName), ...otherProperties(node, filled)]), kept = new Set(faces.map(memberName))
    const field = numberedName(lowerFirst(name.startsWith(own) && name.length > own.length ? name.slice(own.length) : name), one => !left.has(one) && !kept.has(one))

    const editor = new ProjectEditor(snapshot, root)
    const at = editor.editor(path)
    const { lineEnd, indent, semicolons } = at.style
    const end = semicolons ? ';' : ''
    const going = node.members.filter(one => moving.has(one))
    const askedFor = new Set(asked.map(one => one.name.getText()))
    const moved = moveMembers(going, new Set<ts.ClassElement>(faces), member => unclassed(member, askedFor, file), at)
    const isSeen = ts.getModifiers(node as ts.ClassDeclaration)?.some(one => one.kind === ts.SyntaxKind.ExportKeyword) === true, parts = madeOf({ filled, shared }, node as ts.ClassDeclaration)
    const asking = plan.tests && isSeen && parts ? testObjects(node as ts.ClassDeclaration, kept, parts, snapshot) : [], isExported = isSeen && (plan.exported || asking.length > 0)
    const head = `${isExported ? 'export ' : ''}class ${name} {${lineEnd}`, made = withConstructor(moved, going.findIndex(one => !ts.isPropertyDeclaration(one)), [...filled.map(fromFilled), ...shared.map(fromShared)], at)
    const text = `${head}${made.text}}${lineEnd}${lineEnd}`
    at.keepNames(text)
    const before = attachedStart(node as ts.ClassDeclaration, file)
    at.insert(before, text)
    for (const face of faces) if (face.body) {
      const asked = `this.${field}.${memberName(face)}`
      const hand = ts.isGetAccessor(face) ? `return ${asked}` : ts.isSetAccessor(face) ? `${asked} = ${passedOn(face)}` : `${returnsNothing(face, snapshot) ? '' : 'return '}${asked}(${passedOn(face)})`
      at.replace(face.body.getStart(file), face.body.end, `{${lineEnd}${indent}${indent}${hand}${end}${lineEnd}${indent}}`)
    }
    for (const one of asked) at.insert(one.name.getStart(file), `${field}.`)
    const given = [...filled.map(one => one.parameter.name.text), ...shared.map(one => one.given)].join(', ')
    const isMadeInConstructor = filled.length > 0 || shared.some(one => !one.isMade)
    holdIt(node as ts.ClassDeclaration, { fields, shared }, `private readonly ${field}${isMadeInConstructor ? `: ${name}` : ` = new ${name}(${given})`}${end}`, at)
    if (isMadeInConstructor) makeInConstructor(node.members.find(ts.isConstructorDeclaration)!, filled, shared, `this.${field} = new ${name}(${given})${end}`, at)
    const inTests = holdTheOther(asking, parts ?? [], name, path, editor, snapshot)
    removeAllLines([...fields.filter(one => one !== heldAt(fields, shared)), ...hidden].map(member => ({ start: commentedStart(member, file), end: attachedEnd(member, file) })), at)
    return checkedStep(editor, context, {
      notes: [...notesOf(own, name, kept, askedFor, shared), ...toldOfTests(inTests, name), ...(leadsBack ? [`${name} needs ${own} in turn: the two are a cycle.`] : [])], choices: { members: plan.members.join(','), name },
      planned: [{ types: new Set([plan.type]), to: `${path}#${name}` }],
      moved: edits => { const shift = before + shiftAt(before, edits.get(path) ?? []) + head.length; return made.pieces.map(piece => ({ ...piece, at: piece.at + shift })) }
    })
  } catch (error) { return refusalOf(error) }
}

/** What an object of the new class is made of, for who makes one elsewhere; undefined where only the class itself can. */
function madeOf({ filled, shared }: Pick<Extraction, 'filled' | 'shared'>, node: ts.ClassDeclaration): MadeOf[] | undefined {
  const parameters = node.members.find(ts.isConstructorDeclaration)?.parameters.map(one => one.name.getText()) ?? []
  const all = [
    ...filled.map(one => parameters.indexOf(one.parameter.name.text)),
    ...shared.map(({ isMade, declared, given }) => (isMade ? (declared.initializer && (ts.isStringLiteralLike(declared.initializer) || ts.isNumericLiteral(declared.initializer)) ? declared.initializer.getText() : -1) : parameters.indexOf(given)))
  ]
  return all.includes(-1) ? undefined : all
}

function notesOf(own: string, name: string, kept: ReadonlySet<string>, asked: ReadonlySet<string>, shared: readonly SharedField[]): string[] {
  const hands = [...kept].join(', '), asks = [...asked].join(', ')
  return [
    `${own} holds ${withArticle(name)}${hands === '' ? '' : ` and hands ${hands} on to it`}${asks === '' ? '' : ` and asks it for ${asks}`}.`,
    ...(shared.length > 0 ? [`Both have ${shared.map(one => one.name).join(', ')}, which nothing sets again.`] : [])
  ]
}

/** The moved field in whose place the new object stands: the first, if all that its making needs is declared before. */
function heldAt(fields: readonly ts.PropertyDeclaration[], shared: readonly SharedField[]): ts.PropertyDeclaration | undefined {
  const [first] = fields
  return first && shared.every(one => !one.isMade || one.declared.end <= first.pos) ? first : undefined
}

/** Declares the field that holds the new object. */
function holdIt(node: ts.ClassDeclaration, { fields, shared }: Pick<Extraction, 'fields' | 'shared'>, declaration: string, own: FileEditor): void {
  const { file, style: { indent, lineEnd } } = own, at = heldAt(fields, shared), last = shared.filter(one => one.isMade).at(-1)?.declared
  if (at) own.replace(commentedStart(at, file), attachedEnd(at, file), declaration)
  else if (last) own.insert(attachedEnd(last, file), `${lineEnd}${indent}${declaration}`)
  else own.insert(commentedStart(node.members[0]!, file), `${declaration}${lineEnd}${lineEnd}${indent}`)
}

/** In a class that nobody inherits from and only its holder sees, `override` and `protected` mean nothing. */
function unclassed(member: ts.ClassElement, asked: ReadonlySet<string>, file: ts.SourceFile): TextEdit[] {
  if (!ts.canHaveModifiers(member)) return []
  return (ts.getModifiers(member) ?? []).filter(one => one.kind === ts.SyntaxKind.OverrideKeyword || one.kind === ts.SyntaxKind.ProtectedKeyword || (one.kind === ts.SyntaxKind.PrivateKeyword && asked.has(memberName(member))))
    .map(one => ({ start: one.getStart(file), end: one.end + /^\s*/.exec(file.text.slice(one.end))![0].length, text: '' }))
}

/** What the new class is handed: an argument of its constructor, and where that is not the field itself the field and its filling. */
interface Handed { readonly parameter: string; readonly field: string; readonly filling: string }

function fromFilled(one: FilledField): Handed { return { parameter: asParameter(one), field: '', filling: one.declared ? `this.${one.name} = ${one.name}` : '' } }

function fromShared({ name, declared, type }: SharedField): Handed {
  if (ts.isParameter(declared)) return { parameter: `private readonly ${name}: ${type}`, field: '', filling: '' }
  const bare = name.replace(/^#/, '')
  return { parameter: `${bare}: ${type}`, field: `${bare === name ? 'private ' : ''}readonly ${name}: ${type}`, filling: `this.${name} = ${bare}` }
}

/** A constructor before the first method, for what is handed in, and the fields that only it declares before all. */
function withConstructor(moved: MovedMembers, method: number, handed: readonly Handed[], { style: { indent, lineEnd, semicolons } }: FileEditor): MovedMembers {
  if (handed.length === 0) return moved
  const end = semicolons ? ';' : '', fields = handed.flatMap(one => (one.field === '' ? [] : [`${indent}${one.field}${end}${lineEnd}`])).join('')
  const body = handed.filter(one => one.filling !== '').map(({ filling }) => `${lineEnd}${indent}${indent}${filling}${end}`).join('')
  const plain = constructorLine(handed.map(one => one.parameter), indent, lineEnd), head = body === '' ? plain : `${plain.slice(0, -1)}${body}${lineEnd}${indent}}`
  const first = moved.pieces[method]!.at - indent.length, line = (first === 0 && fields !== '' ? lineEnd : '') + head + lineEnd + lineEnd
  return { text: fields + moved.text.slice(0, first) + line + moved.text.slice(first), pieces: moved.pieces.map((piece, index) => ({ ...piece, at: piece.at + fields.length + (index < method ? 0 : line.length) })) }
}

/**
 * Makes the object where the first of its fields was filled, or behind what fills those that stay, or as the first thing; arguments declare
 * moved fields no more.
 */
function makeInConstructor(constructor: ts.ConstructorDeclaration, filled: readonly FilledField[], shared: readonly SharedField[], making: string, own: FileEditor): void {
  const { file, style: { indent, lineEnd } } = own, [first, ...others] = filled.flatMap(one => one.filled ?? []).sort((a, b) => a.pos - b.pos)
  for (const { parameter, declared } of filled) if (!declared) own.replace(ts.getModifiers(parameter)![0]!.getStart(file), parameter.name.getStart(file), '')
  const staying = shared.flatMap(one => one.filled ?? []).sort((a, b) => a.pos - b.pos).at(-1), isLater = staying !== undefined && (!first || staying.pos > first.pos)
  if (isLater) own.insert(attachedEnd(staying, file), `${lineEnd}${indent}${indent}${making}`)
  else if (first) own.replace(first.getStart(file), first.end, making)
  else beginConstructor(constructor, [making], own)
  // Comments beside them stay.
  removeAllLines([...(first && isLater ? [first] : []), ...others].map(one => ({ start: one.getStart(file), end: one.end })), own)
}
