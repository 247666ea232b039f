import ts from 'typescript'
import type { TextEdit } from '../../../edit/text-edit.js'
import type { MakeReplaceablePlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { numberedName, proposedInterfaceName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import { removeAllLines } from '../../write/removed-lines.js'
import { memberName } from '../declarations.js'
import type { Snapshot } from '../session.js'
import { checkedStep, refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import { ProjectEditor, topLevelNames } from './file-editor.js'
import { lineOf } from './injection-points.js'
import { memberSignatures } from './members.js'
import { commentedStart, moveMembers, passedOn, returnsNothing, shiftAt } from './moved-members.js'
import { attachedEnd, attachedStart } from './moving-statements.js'
import { meansSymbol } from './narrow.js'
import { takeNames, TypeWriter } from './written-type.js'

/** The members of a class of statics, by what becomes of them. */
interface Statics {
  /** What callers call: stays as a face, its body goes. */
  readonly faces: readonly ts.MethodDeclaration[]
  /** Private state and helpers: go. */
  readonly hidden: readonly (ts.MethodDeclaration | ts.PropertyDeclaration)[]
}

const has = (node: ts.Node, kind: ts.SyntaxKind) => ts.canHaveModifiers(node) && ts.getModifiers(node)?.some(one => one.kind === kind) === true

/** Why the statics of a class cannot be told apart from their state, or how they can. */
function staticsOf(node: ts.ClassLikeDeclaration): Statics | Refused {
  if (!ts.isClassDeclaration(node) || !node.name || !ts.isSourceFile(node.parent)) return new Refused('nested', 'It does not stand under a name at the top of its file')
  if (node.heritageClauses?.length || node.typeParameters || ts.getDecorators(node)?.length) return new Refused('heritage', `${node.name.text} inherits, is generic or has decorators`)
  const faces: ts.MethodDeclaration[] = [], hidden: (ts.MethodDeclaration | ts.PropertyDeclaration)[] = []
  for (const member of node.members) {
    const name = (member as ts.NamedDeclaration).name
    const isPrivate = has(member, ts.SyntaxKind.PrivateKeyword) || (name !== undefined && ts.isPrivateIdentifier(name))
    if (ts.isSemicolonClassElement(member)) continue
    if (ts.isClassStaticBlockDeclaration(member)) return new Refused('field', `${node.name.text} has a static block`)
    if (ts.isConstructorDeclaration(member) && isPrivate && member.parameters.length === 0) continue
    if (!has(member, ts.SyntaxKind.StaticKeyword)) return new Refused('mixed', `${node.name.text} has members of its objects too, such as ${memberName(member)}`)
    if (ts.isMethodDeclaration(member) && ts.isIdentifier(member.name) && !member.asteriskToken) {
      if (isPrivate) hidden.push(member)
      else if (has(member, ts.SyntaxKind.ProtectedKeyword)) return new Refused('protected', `${memberName(member)} is protected`)
      else faces.push(member)
    } else if (ts.isMethodDeclaration(member) && ts.isPrivateIdentifier(member.name)) hidden.push(member)
    else if (ts.isPropertyDeclaration(member) && isPrivate) hidden.push(member)
    else if (!(ts.isPropertyDeclaration(member) && has(member, ts.SyntaxKind.ReadonlyKeyword))) return new Refused('field', `${memberName(member) || 'A static block'} is neither a method nor private nor constant`)
  }
  return faces.length === 0 ? new Refused('no-members', `${node.name.text} has no static methods that others could call`) : { faces, hidden }
}

/** Names of the static methods that would be called through an instance; none where that cannot be done. */
export function replaceableMethods(node: ts.ClassLikeDeclaration): string[] {
  const statics = staticsOf(node)
  return statics instanceof Refused || isReplaceable(node) ? [] : [...new Set(statics.faces.map(memberName))]
}

/** Whether a class gives the instance that its static methods call. */
function isReplaceable(node: ts.ClassLikeDeclaration): boolean {
  return node.members.some(member => ts.isMethodDeclaration(member) && has(member, ts.SyntaxKind.StaticKeyword) && memberName(member) === 'instance' && member.parameters.length === 0)
}

/**
 * A class with what the statics of a class do, behind an interface; the statics stay and call an instance that can be
 * replaced. Callers stay as they are.
 */
export function makeReplaceable(plan: MakeReplaceablePlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const file = node.getSourceFile(), path = snapshot.pathOf(file)!
  if (/\.[cm]?jsx?$/.test(path)) return planRefused('javascript', `${path} is JavaScript, which has no interfaces.`)
  if (isReplaceable(node)) return planRefused('done', `${node.name?.text ?? 'It'} gives the instance that its static methods call already.`)
  const statics = staticsOf(node)
  if (statics instanceof Refused) return refusalOf(statics)
  const own = node.name!.text
  const taken = new Set([...snapshot.facts.files.flatMap(one => one.types.map(type => type.name)), ...topLevelNames(file)])
  const port = plan.name ?? proposedInterfaceName(own, taken), implementation = plan.implementation ?? numberedName(`Default${own}`, name => !taken.has(name))
  for (const name of [port, implementation]) {
    if (!/^[A-Za-z_$][\w$]*$/.test(name)) return planRefused('name', `${name} is not a name that a type can have.`)
    if (topLevelNames(file).has(name)) return planRefused('name-taken', `${path} has a ${name} already; choose another name.`)
  }
  try {
    const editor = new ProjectEditor(snapshot, root)
    const at = editor.editor(path)
    const { lineEnd, indent, semicolons } = at.style
    const end = semicolons ? ';' : '', one = indent, two = indent + indent
    const write = new TypeWriter(snapshot, editor, node, true)
    const names = new Set(node.members.map(memberName))
    const current = numberedName('current', name => !names.has(name)), replace = numberedName(plan.swap === 'during' ? 'during' : 'replace', name => !names.has(name))
    const byName = new Map<string, ts.MethodDeclaration[]>()
    for (const face of statics.faces) byName.set(memberName(face), [...(byName.get(memberName(face)) ?? []), face])
    const signatures = [...byName].flatMap(([name, nodes]) => memberSignatures({ name, nodes, symbol: snapshot.checker.getSymbolAtLocation(nodes[0]!.name)!, inherited: false }, node, snapshot, write))
    takeNames(write, at)
    const exported = has(node, ts.SyntaxKind.ExportKeyword) ? 'export ' : ''
    let text = `${exported}interface ${port} {${lineEnd}${signatures.map(line => one + line + end + lineEnd).join('')}}${lineEnd}${lineEnd}${exported}class ${implementation} implements ${port} {${lineEnd}`

    const going = node.members.filter(member => (statics.faces as readonly ts.ClassElement[]).includes(member) || (statics.hidden as readonly ts.ClassElement[]).includes(member))
    const moving = new Set(going.map(memberName))
    const moved = moveMembers(going, new Set<ts.ClassElement>(statics.faces), member => unstatic(member, node, moving, snapshot), at)
    const begins = text.length
    text += moved.text
    text += `}${lineEnd}${lineEnd}`
    at.keepNames(text)
    const before = attachedStart(node as ts.ClassDeclaration, file)
    at.insert(before, text)
    const called = plan.swap === 'during' ? `${own}.instance()` : `${own}.${current}`
    const holder = (plan.swap === 'during' ? ambientHolder() : [
      `private static ${current}: ${port} = new ${implementation}()${end}`, '',
      '/** What the static methods call. */', `static instance(): ${port} {`, `${one}return ${own}.${current}${end}`, '}', '',
      '/** Lets another one stand in; gives the one before, to be put back. */', `static ${replace}(other: ${port}): ${port} {`,
      `${one}const before = ${own}.${current}${end}`, `${one}${own}.${current} = other${end}`, `${one}return before${end}`, '}'
    ]).map(line => (line === '' ? '' : one + line)).join(lineEnd)
    const first = statics.faces[0]!
    const constants = node.members.filter(member => ts.isPropertyDeclaration(member) && !going.includes(member))
    // After the constants that stay, whose values it may need while it is made.
    if (constants.length > 0 && constants.at(-1)!.pos > first.pos) throw new Refused('order', `A constant of ${own} stands after its methods`)
    const place = commentedStart(first, file)
    at.insert(place, holder.slice(one.length) + lineEnd + lineEnd + one)
    for (const face of statics.faces) if (face.body) {
      at.replace(face.body.getStart(file), face.body.end, `{${lineEnd}${two}${returnsNothing(face, snapshot) ? '' : 'return '}${called}.${memberName(face)}(${passedOn(face)})${end}${lineEnd}${one}}`)
    }
    removeAllLines(statics.hidden.map(member => ({ start: commentedStart(member, file), end: attachedEnd(member, file) })), at)
    return checkedStep(editor, context, {
      notes: [plan.swap === 'during' ? `Tests let another ${port} stand in with ${own}.${replace}(other, () => ...), for what runs in it alone; nothing at a caller says what it works with.` : `Tests let another ${port} stand in with ${own}.${replace}(...), and put the one before back.`], choices: { name: port, implementation, swap: plan.swap },
      planned: [{ types: new Set([`${path}#${own}`]), to: `${path}#${implementation}` }, { types: new Set([`${path}#${own}`]), to: `${path}#${port}` }],
      moved: edits => { const shift = shiftAt(before, edits.get(path) ?? []); return moved.pieces.map(piece => ({ ...piece, at: piece.at + begins + before + shift })) }
    })

    /** One that there always is, and others for what runs in a call, whatever else runs meanwhile. */
    function ambientHolder(): string[] {
      const storage = at.nameFor({ name: 'AsyncLocalStorage', file: null, specifier: 'node:async_hooks', typeOnly: false }), others = numberedName('others', name => !names.has(name))
      return [
        `private static readonly ${current}: ${port} = new ${implementation}()${end}`, `private static readonly ${others} = new ${storage}<${port}>()${end}`, '',
        `/** What the static methods call: what stands in where this runs, else the one that there always is. */`, `static instance(): ${port} {`, `${one}return ${own}.${others}.getStore() ?? ${own}.${current}${end}`, '}', '',
        '/** Lets another one stand in for what an action runs, also where that waits; what runs meanwhile does not see it. */', `static ${replace}<Result>(other: ${port}, action: () => Result): Result {`,
        `${one}return ${own}.${others}.run(other, action)${end}`, '}'
      ]
    }
  } catch (error) { return refusalOf(error) }
}

/** The edits that make a static member one of objects: other members by `this`, constants by the class's name. */
function unstatic(member: ts.ClassElement, node: ts.ClassLikeDeclaration, moving: ReadonlySet<string>, { checker }: Snapshot): TextEdit[] {
  const file = node.getSourceFile()
  const edits: TextEdit[] = []
  const modifier = ts.canHaveModifiers(member) ? ts.getModifiers(member)?.find(one => one.kind === ts.SyntaxKind.StaticKeyword) : undefined
  if (modifier) edits.push({ start: modifier.getStart(file), end: modifier.end + /^\s*/.exec(file.text.slice(modifier.end))![0].length, text: '' })
  const symbol = checker.getSymbolAtLocation(node.name!)!
  const visit = (at: ts.Node, ownThis: boolean): void => {
    if (ts.isIdentifier(at) && at.text === node.name!.text && ts.isPropertyAccessExpression(at.parent) && at.parent.expression === at && meansSymbol(at, symbol, checker) && moving.has(at.parent.name.text)) {
      if (!ownThis) edits.push({ start: at.getStart(file), end: at.end, text: 'this' })
      else if (!isPublicStatic(at.parent.name.text, node)) throw new Refused('this', `${at.parent.name.text} is used in a function with a this of its own, line ${lineOf(at)}`)
    } else if (at.kind === ts.SyntaxKind.ThisKeyword && !ownThis) {
      if (!ts.isPropertyAccessExpression(at.parent) || at.parent.expression !== at) throw new Refused('this', `The class itself is handed on as this, line ${lineOf(at)}`)
      if (!moving.has(at.parent.name.text)) edits.push({ start: at.getStart(file), end: at.end, text: node.name!.text })
    } else if (at.kind === ts.SyntaxKind.SuperKeyword && !ownThis) throw new Refused('heritage', 'It calls what it inherits')
    const hides = ts.isFunctionExpression(at) || ts.isFunctionDeclaration(at) || ts.isClassLike(at) || (ts.isObjectLiteralExpression(at.parent) && (ts.isMethodDeclaration(at) || ts.isAccessor(at)))
    ts.forEachChild(at, child => visit(child, ownThis || hides))
  }
  ts.forEachChild(member, child => visit(child, false))
  return edits
}

function isPublicStatic(name: string, node: ts.ClassLikeDeclaration): boolean {
  return node.members.some(member => memberName(member) === name && ts.isMethodDeclaration(member) && !has(member, ts.SyntaxKind.PrivateKeyword) && ts.isIdentifier(member.name))
}
