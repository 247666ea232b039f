import ts from 'typescript'
import type { TextEdit } from '../../../edit/text-edit.js'
import { applyEdits } from '../../../edit/text-edit.js'
import type { MovableMember, MoveMemberPlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { numberedName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import { memberName, symbolOf } from '../declarations.js'
import type { Snapshot } from '../session.js'
import { checkedStep, refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import { ProjectEditor } from './file-editor.js'
import { lineOf } from './injection-points.js'
import { wouldLoad } from './loaded-files.js'
import { passedOn } from './moved-members.js'
import { indentation } from './moved-run.js'
import { namesElsewhere } from './names-elsewhere.js'
import { attachedEnd } from './moving-statements.js'
import { childrenOf } from './statement-unifier.js'
import { takeNames, TypeWriter } from './written-type.js'

/** A method, a static one, or a function of a file. */
type Movable = ts.MethodDeclaration | ts.FunctionDeclaration

/** A class, or a file with functions of its own. */
type Home = ts.ClassLikeDeclaration | ts.SourceFile

/** A method or a function that can stand in the class of one of its arguments. */
interface Move {
  readonly method: Movable & { readonly name: ts.Identifier; readonly body: ts.Block }
  readonly parameter: ts.ParameterDeclaration
  readonly target: ts.ClassDeclaration
  /** Places where the argument is named: there it becomes `this`. */
  readonly named: readonly ts.Identifier[]
  /** Fields of its own class that it reads, which are handed along. */
  readonly fields: ReadonlyMap<string, readonly ts.PropertyAccessExpression[]>
}

const has = (node: ts.Node, kind: ts.SyntaxKind) => ts.canHaveModifiers(node) && ts.getModifiers(node)?.some(one => one.kind === kind) === true

/** Methods of a class, or functions of a file, that could stand in the class of one of their arguments, as far as that is seen without trying. */
export function movableMembers(home: Home, snapshot: Snapshot): MovableMember[] {
  const found: MovableMember[] = []
  for (const method of movablesOf(home)) {
    for (const { id } of targetsOf(method, snapshot)) {
      try {
        const member = method.name!.getText(), { named, fields, parameter, target } = moveOf(home, member, id, snapshot)
        refuseUnseen(method, parameter, target, snapshot)
        found.push({ member, to: id, uses: new Set(named.map(one => (ts.isPropertyAccessExpression(one.parent) && one.parent.expression === one ? one.parent.name.text : ''))).size, own: fields.size })
      } catch (error) { if (!(error instanceof Refused)) throw error }
    }
  }
  return found
}

function movablesOf(home: Home): Movable[] {
  return ts.isSourceFile(home) ? home.statements.filter((one): one is ts.FunctionDeclaration => ts.isFunctionDeclaration(one) && one.name !== undefined) : home.members.filter(ts.isMethodDeclaration)
}

/** What would soon be refused: names that the other file cannot have, and files that load the one that they would be needed by. */
function refuseUnseen(method: Movable, parameter: ts.ParameterDeclaration, target: ts.ClassDeclaration, snapshot: Snapshot): void {
  const file = method.getSourceFile(), to = snapshot.pathOf(target.getSourceFile())
  if (to === undefined || target.getSourceFile() === file) return
  const loaded: string[] = []
  const editor = new ProjectEditor(snapshot, snapshot.program.getCurrentDirectory())
  namesElsewhere([method], new Set([parameter]), snapshot, editor, { nameFor: needed => { if (!needed.typeOnly && needed.file !== null && needed.file !== to) loaded.push(needed.file); return needed.name } })
  if (loaded.length > 0 && wouldLoad(loaded, to, snapshot)) throw new Refused('file-cycle', 'Files would load each other in a circle')
}

/** Classes of the project that a method has as an argument. */
function targetsOf(method: Movable, { checker, declarations }: Snapshot): { parameter: ts.ParameterDeclaration; target: ts.ClassDeclaration; id: string }[] {
  return method.parameters.flatMap(parameter => {
    if (!parameter.type || !ts.isTypeReferenceNode(parameter.type) || parameter.type.typeArguments) return []
    const target = checker.getTypeAtLocation(parameter.type).symbol?.declarations?.find(ts.isClassDeclaration)
    const id = target && declarations.ownerOf(target)?.type
    return target && id !== undefined ? [{ parameter, target, id }] : []
  })
}

function moveOf(home: Home, member: string, to: string, snapshot: Snapshot): Move {
  const { checker } = snapshot
  const node = ts.isSourceFile(home) ? undefined : home
  if (node && (!ts.isClassDeclaration(node) || !node.name)) throw new Refused('nested', 'It stands in a class without a name')
  const methods = movablesOf(home).filter(one => one.name?.getText() === member)
  const [method] = methods
  if (!method?.body || methods.length > 1 || !method.name || !ts.isIdentifier(method.name)) throw new Refused('member', `${member} has no one body under a plain name`)
  if (method.asteriskToken || method.modifiers?.some(ts.isDecorator) || (ts.isMethodDeclaration(method) && method.questionToken)) throw new Refused('member', `${member} is a generator or has decorators`)
  const matching = targetsOf(method, snapshot).filter(one => one.id === to)
  const [match, another] = matching
  if (!match) throw new Refused('target', `${member} does not take an object of that class`)
  if (another) throw new Refused('target', `${member} takes two objects of that class`)
  const { parameter, target } = match
  if (target === node || !target.name || !ts.isSourceFile(target.parent) || target.typeParameters || !ts.isIdentifier(parameter.name)) throw new Refused('target', `${target.name?.text ?? 'The class'} is generic, stands inside something else, or is its own class`)
  if (parameter.questionToken || parameter.initializer || parameter.dotDotDotToken) throw new Refused('target', `${parameter.name.text} may be left out`)
  if (/\.[cm]?jsx?$|\.d\.[cm]?ts$/.test(target.getSourceFile().fileName)) throw new Refused('javascript', 'It would move to a file that is not TypeScript')
  if (checker.getPropertyOfType(checker.getTypeAtLocation(target), member)) throw new Refused('name-taken', `${target.name.text} has a ${member} already`)

  const parameters = new Set(node?.typeParameters?.map(one => checker.getSymbolAtLocation(one.name)))
  const symbol = checker.getSymbolAtLocation(parameter.name), self = ts.isFunctionDeclaration(method) ? checker.getSymbolAtLocation(method.name) : undefined
  const named: ts.Identifier[] = [], fields = new Map<string, ts.PropertyAccessExpression[]>()
  const visit = (at: ts.Node, ownThis: boolean): void => {
    if (at.kind === ts.SyntaxKind.SuperKeyword || at.kind === ts.SyntaxKind.ThisType || (ts.isIdentifier(at) && at.text === 'arguments')) throw new Refused('between', `It speaks of what its class inherits, or of its arguments as a whole, line ${lineOf(at)}`)
    if (ts.isIdentifier(at) && parameters.size > 0 && parameters.has(checker.getSymbolAtLocation(at))) throw new Refused('generic', `${member} speaks of a type parameter of its class`)
    if (at.kind === ts.SyntaxKind.ThisKeyword && !ownThis) noteField(at)
    if (self !== undefined && ts.isIdentifier(at) && checker.getSymbolAtLocation(at) === self) throw new Refused('between', `${member} calls itself, line ${lineOf(at)}`)
    // Of other objects of its class, and of the class itself, it may use what nobody else may.
    if (node && node !== target && ts.isPropertyAccessExpression(at) && at.expression.kind !== ts.SyntaxKind.ThisKeyword && isHiddenIn(node, checker.getSymbolAtLocation(at.name))) throw new Refused('between', `${member} uses ${at.name.text}, which only its class may, line ${lineOf(at)}`)
    if (ts.isIdentifier(at) && at !== parameter.name && (checker.getSymbolAtLocation(at) === symbol || (ts.isShorthandPropertyAssignment(at.parent) && checker.getShorthandAssignmentValueSymbol(at.parent) === symbol))) {
      if (ownThis) throw new Refused('between', `${at.text} is used in a function that has a this of its own, line ${lineOf(at)}`)
      if (isWritten(at)) throw new Refused('assigned', `${at.text} is set to something else, line ${lineOf(at)}`)
      if (ts.isTypeQueryNode(at.parent)) throw new Refused('between', `The type of ${at.text} is spoken of, line ${lineOf(at)}`)
      named.push(at)
    }
    const hides = ts.isFunctionExpression(at) || ts.isFunctionDeclaration(at) || ts.isClassLike(at) || (ts.isObjectLiteralExpression(at.parent) && (ts.isMethodDeclaration(at) || ts.isAccessor(at)))
    ts.forEachChild(at, child => visit(child, ownThis || hides))
  }
  const noteField = (own: ts.Node): void => {
    if (!node || has(method, ts.SyntaxKind.StaticKeyword)) throw new Refused('between', `${member} speaks of this, line ${lineOf(own)}`)
    noteFieldOf(own, node)
  }
  const noteFieldOf = (self: ts.Node, node: ts.ClassLikeDeclaration): void => {
    const access = self.parent
    const declaration = ts.isPropertyAccessExpression(access) && access.expression === self ? checker.getSymbolAtLocation(access.name)?.valueDeclaration : undefined
    if (!declaration || !ts.isPropertyAccessExpression(access)) throw new Refused('between', `${member} hands its object on, line ${lineOf(self)}`)
    const own = declaration.parent === node || (ts.isParameter(declaration) && ts.isParameterPropertyDeclaration(declaration, declaration.parent) && declaration.parent.parent === node)
    if (!own || !(ts.isPropertyDeclaration(declaration) || ts.isParameter(declaration))) throw new Refused('between', `${member} uses ${access.name.text}, which stays, line ${lineOf(self)}`)
    if (!has(declaration, ts.SyntaxKind.ReadonlyKeyword)) throw new Refused('between', `${member} uses ${access.name.text}, which may be set meanwhile, line ${lineOf(self)}`)
    const list = fields.get(access.name.text)
    if (list) list.push(access)
    else fields.set(access.name.text, [access])
  }
  ts.forEachChild(method, child => { if (child !== method.name) visit(child, false) })
  refuseMissing(method.body, named, snapshot)
  return { method: method as Move['method'], parameter, target, named, fields }
}

function isHiddenIn(node: ts.ClassLikeDeclaration, symbol: ts.Symbol | undefined): boolean {
  const declaration = symbol?.valueDeclaration
  return declaration?.parent === node && (has(declaration, ts.SyntaxKind.PrivateKeyword) || has(declaration, ts.SyntaxKind.ProtectedKeyword) || (ts.isClassElement(declaration) && declaration.name !== undefined && ts.isPrivateIdentifier(declaration.name)))
}

/** Where null may be handed as an object of any type, nobody can call a method of it: unless what is done looks into it in any case. */
function refuseMissing(body: ts.Block, named: readonly ts.Identifier[], { program }: Snapshot): void {
  const options = program.getCompilerOptions()
  if (options.strictNullChecks ?? options.strict) return
  const looked = new Set<ts.Node>(named.filter(one => (ts.isPropertyAccessExpression(one.parent) || ts.isElementAccessExpression(one.parent)) && one.parent.expression === one && !one.parent.questionDotToken))
  const isCertain = (node: ts.Node): boolean => {
    if (looked.has(node)) return true
    if (ts.isFunctionLike(node) || ts.isClassLike(node)) return false
    if (ts.isIfStatement(node) || ts.isSwitchStatement(node) || ts.isWhileStatement(node)) return isCertain(node.expression)
    if (ts.isConditionalExpression(node)) return isCertain(node.condition)
    if (ts.isForStatement(node)) return node.initializer !== undefined && isCertain(node.initializer)
    if (ts.isForInStatement(node) || ts.isForOfStatement(node)) return isCertain(node.expression)
    if (ts.isTryStatement(node)) return false
    if (ts.isBinaryExpression(node) && [ts.SyntaxKind.AmpersandAmpersandToken, ts.SyntaxKind.BarBarToken, ts.SyntaxKind.QuestionQuestionToken].includes(node.operatorToken.kind)) return isCertain(node.left)
    return childrenOf(node).some(isCertain)
  }
  for (const statement of body.statements) {
    if (isCertain(statement)) return
    if (mayLeave(statement)) break
  }
  throw new Refused('may-be-missing', 'It may be handed null, and does not look into it in every case')
}

function mayLeave(node: ts.Node): boolean {
  return !ts.isFunctionLike(node) && !ts.isClassLike(node) && (ts.isReturnStatement(node) || ts.isThrowStatement(node) || childrenOf(node).some(mayLeave))
}

function isWritten(at: ts.Identifier): boolean {
  const { parent } = at
  if (ts.isBinaryExpression(parent) && parent.left === at) return parent.operatorToken.kind >= ts.SyntaxKind.FirstAssignment && parent.operatorToken.kind <= ts.SyntaxKind.LastAssignment
  return ts.isPrefixUnaryExpression(parent) || ts.isPostfixUnaryExpression(parent) ? parent.operator === ts.SyntaxKind.PlusPlusToken || parent.operator === ts.SyntaxKind.MinusMinusToken : ts.isDeleteExpression(parent)
}

/** Moves a method to the class of one of its arguments; its own class keeps one that hands on, for whoever calls it. */
export function moveMember(plan: MoveMemberPlan, home: Home, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const file = home.getSourceFile(), path = snapshot.pathOf(file)!
  if (/\.[cm]?jsx?$/.test(path)) return planRefused('javascript', `${path} is JavaScript; what moves could not be checked.`)
  try {
    const { method, parameter, target, named, fields } = moveOf(home, plan.member, plan.to, snapshot)
    const targetFile = target.getSourceFile(), targetPath = snapshot.pathOf(targetFile)!
    refuseUnseen(method, parameter, target, snapshot)
    refusePretended(target, snapshot)
    refuseInSubclasses(target, plan.member, snapshot)
    const editor = new ProjectEditor(snapshot, root)
    const own = editor.editor(path), there = editor.editor(targetPath)
    const write = new TypeWriter(snapshot, editor, home, path === targetPath)

    // Fields of its own class come first, under names that mean nothing else in the method.
    const words = new Set(method.getText().match(/[\w$]+/g))
    const handed = [...fields].map(([name, uses]) => {
      const declaration = snapshot.checker.getSymbolAtLocation(uses[0]!.name)!.valueDeclaration as ts.PropertyDeclaration | ts.ParameterDeclaration
      const type = declaration.type && !declaration.questionToken ? write.source(declaration.type) : write.inferred(snapshot.checker.getTypeOfSymbolAtLocation(snapshot.checker.getSymbolAtLocation(uses[0]!.name)!, home))
      const local = name.replace(/^[#_]+/, '')
      return { name, uses, type, local: numberedName(local, one => one === name ? !isLocalIn(method, one) : !words.has(one)) }
    })
    const left = method.parameters.filter(one => one !== parameter)
    const edits: TextEdit[] = []
    // `async` is all that stays before the name.
    const before = [...ts.getModifiers(method) ?? [], ...(ts.isFunctionDeclaration(method) ? method.getChildren(file).filter(one => one.kind === ts.SyntaxKind.FunctionKeyword) : [])].filter(one => one.kind !== ts.SyntaxKind.AsyncKeyword)
    for (const one of before) edits.push({ start: one.getStart(file), end: one.end + /^\s*/.exec(file.text.slice(one.end))![0].length, text: '' })
    edits.push(...parametersWithout(method, parameter, handed.map(one => `${one.local}: ${one.type}`).join(', '), file))
    for (const one of named) edits.push({ start: one.getStart(file), end: one.end, text: ts.isShorthandPropertyAssignment(one.parent) ? `${one.text}: this` : 'this' })
    for (const { uses, local } of handed) for (const use of uses) edits.push({ start: use.getStart(file), end: use.end, text: local })
    if (path !== targetPath) edits.push(...namesElsewhere([method], new Set([parameter]), snapshot, editor, there))
    takeNames(write, there)

    const start = method.getStart(file), end = method.end
    edits.push(...indentation([method], edits, start, end, own.indentAt(start), there.style.indent))
    const sorted = edits.sort((one, other) => one.start - other.start || one.end - other.end)
    const text = applyEdits(file.text.slice(start, end), sorted.map(edit => ({ ...edit, start: edit.start - start, end: edit.end - start })))
    const { lineEnd, indent } = there.style
    const last = target.members.at(-1)
    const at = last ? attachedEnd(last, targetFile) : targetFile.text.indexOf('{', target.name!.end) + 1
    const lead = `${lineEnd}${last ? lineEnd : ''}${indent}`
    there.insert(at, lead + text + (last ? '' : lineEnd))
    there.keepNames(text)

    const passed = [...handed.map(one => `this.${one.name}`), ...(left.length === 0 ? [] : [passedOn(method, left)])].join(', ')
    const ownIndent = own.indentAt(method.getStart(file))
    const nothing = (snapshot.checker.getReturnTypeOfSignature(snapshot.checker.getSignatureFromDeclaration(method)!).flags & ts.TypeFlags.Void) !== 0
    own.replace(method.body.getStart(file), method.body.end, `{${lineEnd}${ownIndent}${own.style.indent}${nothing ? '' : 'return '}${(parameter.name as ts.Identifier).text}.${plan.member}(${passed})${own.style.semicolons ? ';' : ''}${lineEnd}${ownIndent}}`)
    const asynchronous = ts.getModifiers(method)?.find(one => one.kind === ts.SyntaxKind.AsyncKeyword)
    // What it hands on is a promise already.
    if (asynchronous) own.replace(asynchronous.getStart(file), asynchronous.end + /^\s*/.exec(file.text.slice(asynchronous.end))![0].length, '')

    return checkedStep(editor, context, {
      notes: [`${ts.isSourceFile(home) ? plan.member : `${home.name!.text}.${plan.member}`} stays for its callers and hands on to ${target.name!.text}.`], choices: { to: plan.to },
      planned: [{ types: new Set([plan.to]), to: plan.type }, { types: new Set([plan.type]), to: plan.to }],
      moved: all => [{ from: path, start, end, to: targetPath, at: shifted(at, all.get(targetPath) ?? [], lead + text) + lead.length, edits: sorted }]
    })
  } catch (error) { return refusalOf(error) }
}

/** The parameters of a method without one of them, and with others before the first. */
function parametersWithout(method: Movable, gone: ts.ParameterDeclaration, first: string, file: ts.SourceFile): TextEdit[] {
  const list = method.parameters, at = list.indexOf(gone)
  const lead = first !== '' && list.length > 1 ? `${first}, ` : first
  const head = list[0]!.getStart(file)
  if (at === 0) return [{ start: head, end: list[1]?.getStart(file) ?? gone.end, text: lead }]
  return [...(lead === '' ? [] : [{ start: head, end: head, text: lead }]), { start: list[at - 1]!.end, end: gone.end, text: '' }]
}

/** Where an insertion at a place begins, by what the other edits before it add and take. */
function shifted(at: number, edits: readonly TextEdit[], inserted: string): number {
  let shift = 0
  for (const edit of edits) if (edit.end <= at && !(edit.start === at && edit.text.startsWith(inserted))) shift += edit.text.length - (edit.end - edit.start)
  return at + shift
}

function isLocalIn(method: Movable, name: string): boolean {
  let found = false
  const visit = (node: ts.Node): void => {
    if (ts.isIdentifier(node) && node.text === name && !(ts.isPropertyAccessExpression(node.parent) && node.parent.name === node) && !(ts.isPropertyAssignment(node.parent) && node.parent.name === node)) found = true
    ts.forEachChild(node, visit)
  }
  visit(method)
  return found
}

/** Objects that are only said to be of the class would not have the method. */
function refusePretended(target: ts.ClassDeclaration, snapshot: Snapshot): void {
  const symbol = symbolOf(target), name = target.name!.text
  for (const [file, path] of snapshot.paths) {
    if (!file.text.includes(name)) continue
    const visit = (node: ts.Node): void => {
      const said = ts.isAsExpression(node) || ts.isTypeAssertionExpression(node) ? node.type : undefined
      if (said && !ts.isConstTypeReference(said) && snapshot.checker.getTypeAtLocation(said).symbol === symbol) {
        const from = snapshot.checker.getTypeAtLocation((node as ts.AsExpression).expression)
        if (from.symbol !== symbol) throw new Refused('cast', `${path}:${lineOf(node)} says of something else that it is a ${name}`)
      }
      ts.forEachChild(node, visit)
    }
    visit(file)
  }
}

function refuseInSubclasses(target: ts.ClassDeclaration, member: string, { facts, program, declarations, checker, paths }: Snapshot): void {
  const symbol = symbolOf(target)
  const holding = new Set(facts.files.filter(one => one.types.some(type => type.members.some(other => other.name === member))).map(one => one.path))
  for (const [file, path] of paths) {
    if (!holding.has(path)) continue
    for (const [node] of declarations.declaredIn(program.getSourceFile(file.fileName)!)) {
      if (!ts.isClassLike(node) || !node.members.some(one => memberName(one) === member)) continue
      for (let at: ts.Type | undefined = checker.getTypeAtLocation(node); at; at = at.getBaseTypes?.()?.[0]) {
        if (at.symbol === symbol) throw new Refused('overridden', `${node.name?.text ?? 'A subclass'} has a ${member} of its own`)
      }
    }
  }
}
