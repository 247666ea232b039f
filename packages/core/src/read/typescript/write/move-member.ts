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
import { passedOn } from './moved-members.js'
import { namesElsewhere } from './names-elsewhere.js'
import { attachedEnd } from './moving-statements.js'
import { takeNames, TypeWriter } from './written-type.js'

/** A method that can stand in the class of one of its arguments. */
interface Move {
  readonly method: ts.MethodDeclaration & { readonly body: ts.Block }
  readonly parameter: ts.ParameterDeclaration
  readonly target: ts.ClassDeclaration
  /** Places where the argument is named: there it becomes `this`. */
  readonly named: readonly ts.Identifier[]
  /** Fields of its own class that it reads, which are handed along. */
  readonly fields: ReadonlyMap<string, readonly ts.PropertyAccessExpression[]>
}

const has = (node: ts.Node, kind: ts.SyntaxKind) => ts.canHaveModifiers(node) && ts.getModifiers(node)?.some(one => one.kind === kind) === true

/** Methods of a class that could stand in the class of one of their arguments, as far as that is seen without trying. */
export function movableMembers(node: ts.ClassLikeDeclaration, snapshot: Snapshot): MovableMember[] {
  const found: MovableMember[] = []
  for (const method of node.members) {
    if (!ts.isMethodDeclaration(method)) continue
    for (const { id } of targetsOf(method, snapshot)) {
      try {
        const { named, fields, parameter, target } = moveOf(node, memberName(method), id, snapshot)
        refuseUnseen(method, parameter, target, snapshot)
        found.push({ member: memberName(method), to: id, uses: new Set(named.map(one => (ts.isPropertyAccessExpression(one.parent) && one.parent.expression === one ? one.parent.name.text : ''))).size, own: fields.size })
      } catch (error) { if (!(error instanceof Refused)) throw error }
    }
  }
  return found
}

/** What would soon be refused: names that the other file cannot have, and files that load the one that they would be needed by. */
function refuseUnseen(method: ts.MethodDeclaration, parameter: ts.ParameterDeclaration, target: ts.ClassDeclaration, snapshot: Snapshot): void {
  const file = method.getSourceFile(), to = snapshot.pathOf(target.getSourceFile())
  if (to === undefined || target.getSourceFile() === file) return
  const loaded: string[] = []
  const editor = new ProjectEditor(snapshot, snapshot.program.getCurrentDirectory())
  namesElsewhere([method], new Set([parameter]), snapshot, editor, { nameFor: needed => { if (!needed.typeOnly && needed.file !== null && needed.file !== to) loaded.push(needed.file); return needed.name } })
  if (loaded.length > 0 && loads(loaded, to, snapshot)) throw new Refused('file-cycle', 'Files would load each other in a circle')
}

const loadedBy = new WeakMap<Snapshot, ReadonlyMap<string, ReadonlySet<string>>>()

/** Whether some files import another one, by themselves or by what they import. Linear in imports, once for a snapshot. */
function loads(from: readonly string[], to: string, snapshot: Snapshot): boolean {
  let graph = loadedBy.get(snapshot)
  if (!graph) loadedBy.set(snapshot, graph = new Map([...snapshot.paths].map(([file, path]) => [path, importedBy(file, snapshot)])))
  const seen = new Set(from)
  for (const path of seen) for (const next of graph.get(path) ?? []) seen.add(next)
  return seen.has(to)
}

/** Files that a file imports or hands on, but for what it names as types only. */
function importedBy(file: ts.SourceFile, snapshot: Snapshot): Set<string> {
  const found = new Set<string>()
  for (const statement of file.statements) {
    if (!(ts.isImportDeclaration(statement) || ts.isExportDeclaration(statement)) || !statement.moduleSpecifier) continue
    const clause = ts.isImportDeclaration(statement) ? statement.importClause : statement
    const named = ts.isImportDeclaration(statement) ? statement.importClause?.namedBindings : statement.exportClause
    const typesOnly = clause?.isTypeOnly === true || (named !== undefined && (ts.isNamedImports(named) || ts.isNamedExports(named)) && named.elements.length > 0 && named.elements.every(one => one.isTypeOnly) && !(ts.isImportDeclaration(statement) && statement.importClause?.name))
    if (typesOnly) continue
    for (const declaration of snapshot.checker.getSymbolAtLocation(statement.moduleSpecifier)?.declarations ?? []) {
      const path = ts.isSourceFile(declaration) ? snapshot.pathOf(declaration) : undefined
      if (path !== undefined) found.add(path)
    }
  }
  return found
}

/** Classes of the project that a method has as an argument. */
function targetsOf(method: ts.MethodDeclaration, { checker, declarations }: Snapshot): { parameter: ts.ParameterDeclaration; target: ts.ClassDeclaration; id: string }[] {
  return method.parameters.flatMap(parameter => {
    if (!parameter.type || !ts.isTypeReferenceNode(parameter.type) || parameter.type.typeArguments) return []
    const target = checker.getTypeAtLocation(parameter.type).symbol?.declarations?.find(ts.isClassDeclaration)
    const id = target && declarations.ownerOf(target)?.type
    return target && id !== undefined ? [{ parameter, target, id }] : []
  })
}

function moveOf(node: ts.ClassLikeDeclaration, member: string, to: string, snapshot: Snapshot): Move {
  const { checker } = snapshot
  if (!ts.isClassDeclaration(node) || !node.name) throw new Refused('nested', 'It stands in a class without a name')
  const methods = node.members.filter(one => ts.isMethodDeclaration(one) && memberName(one) === member)
  const [method] = methods as ts.MethodDeclaration[]
  if (!method?.body || methods.length > 1 || !ts.isIdentifier(method.name)) throw new Refused('member', `${member} is no method with one body and a plain name`)
  if (has(method, ts.SyntaxKind.StaticKeyword) || method.asteriskToken || ts.getDecorators(method)?.length || method.questionToken) throw new Refused('member', `${member} is static, a generator or has decorators`)
  const matching = targetsOf(method, snapshot).filter(one => one.id === to)
  const [match, another] = matching
  if (!match) throw new Refused('target', `${member} does not take an object of that class`)
  if (another) throw new Refused('target', `${member} takes two objects of that class`)
  const { parameter, target } = match
  if (target === node || !target.name || !ts.isSourceFile(target.parent) || target.typeParameters || !ts.isIdentifier(parameter.name)) throw new Refused('target', `${target.name?.text ?? 'The class'} is generic, stands inside something else, or is its own class`)
  if (parameter.questionToken || parameter.initializer || parameter.dotDotDotToken) throw new Refused('target', `${parameter.name.text} may be left out`)
  if (/\.[cm]?jsx?$|\.d\.[cm]?ts$/.test(target.getSourceFile().fileName)) throw new Refused('javascript', 'It would move to a file that is not TypeScript')
  if (checker.getPropertyOfType(checker.getTypeAtLocation(target), member)) throw new Refused('name-taken', `${target.name.text} has a ${member} already`)

  const parameters = new Set(node.typeParameters?.map(one => checker.getSymbolAtLocation(one.name)))
  const symbol = checker.getSymbolAtLocation(parameter.name)
  const named: ts.Identifier[] = [], fields = new Map<string, ts.PropertyAccessExpression[]>()
  const visit = (at: ts.Node, ownThis: boolean): void => {
    if (at.kind === ts.SyntaxKind.SuperKeyword || at.kind === ts.SyntaxKind.ThisType || (ts.isIdentifier(at) && at.text === 'arguments')) throw new Refused('between', `It speaks of what its class inherits, or of its arguments as a whole, line ${lineOf(at)}`)
    if (ts.isIdentifier(at) && parameters.size > 0 && parameters.has(checker.getSymbolAtLocation(at))) throw new Refused('generic', `${member} speaks of a type parameter of its class`)
    if (at.kind === ts.SyntaxKind.ThisKeyword && !ownThis) noteField(at)
    if (ts.isIdentifier(at) && at !== parameter.name && (checker.getSymbolAtLocation(at) === symbol || (ts.isShorthandPropertyAssignment(at.parent) && checker.getShorthandAssignmentValueSymbol(at.parent) === symbol))) {
      if (ownThis) throw new Refused('between', `${at.text} is used in a function that has a this of its own, line ${lineOf(at)}`)
      if (isWritten(at)) throw new Refused('assigned', `${at.text} is set to something else, line ${lineOf(at)}`)
      if (ts.isTypeQueryNode(at.parent)) throw new Refused('between', `The type of ${at.text} is spoken of, line ${lineOf(at)}`)
      named.push(at)
    }
    const hides = ts.isFunctionExpression(at) || ts.isFunctionDeclaration(at) || ts.isClassLike(at) || (ts.isObjectLiteralExpression(at.parent) && (ts.isMethodDeclaration(at) || ts.isAccessor(at)))
    ts.forEachChild(at, child => visit(child, ownThis || hides))
  }
  const noteField = (self: ts.Node): void => {
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
  return { method: method as Move['method'], parameter, target, named, fields }
}

function isWritten(at: ts.Identifier): boolean {
  const { parent } = at
  if (ts.isBinaryExpression(parent) && parent.left === at) return parent.operatorToken.kind >= ts.SyntaxKind.FirstAssignment && parent.operatorToken.kind <= ts.SyntaxKind.LastAssignment
  return ts.isPrefixUnaryExpression(parent) || ts.isPostfixUnaryExpression(parent) ? parent.operator === ts.SyntaxKind.PlusPlusToken || parent.operator === ts.SyntaxKind.MinusMinusToken : ts.isDeleteExpression(parent)
}

/** Moves a method to the class of one of its arguments; its own class keeps one that hands on, for whoever calls it. */
export function moveMember(plan: MoveMemberPlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const file = node.getSourceFile(), path = snapshot.pathOf(file)!
  if (/\.[cm]?jsx?$/.test(path)) return planRefused('javascript', `${path} is JavaScript; what moves could not be checked.`)
  try {
    const { method, parameter, target, named, fields } = moveOf(node, plan.member, plan.to, snapshot)
    const targetFile = target.getSourceFile(), targetPath = snapshot.pathOf(targetFile)!
    refuseUnseen(method, parameter, target, snapshot)
    refusePretended(target, snapshot)
    refuseInSubclasses(target, plan.member, snapshot)
    const editor = new ProjectEditor(snapshot, root)
    const own = editor.editor(path), there = editor.editor(targetPath)
    const write = new TypeWriter(snapshot, editor, node, path === targetPath)

    // Fields of its own class come first, under names that mean nothing else in the method.
    const words = new Set(method.getText().match(/[\w$]+/g))
    const handed = [...fields].map(([name, uses]) => {
      const declaration = snapshot.checker.getSymbolAtLocation(uses[0]!.name)!.valueDeclaration as ts.PropertyDeclaration | ts.ParameterDeclaration
      const type = declaration.type && !declaration.questionToken ? write.source(declaration.type) : write.inferred(snapshot.checker.getTypeOfSymbolAtLocation(snapshot.checker.getSymbolAtLocation(uses[0]!.name)!, node))
      const local = name.replace(/^[#_]+/, '')
      return { name, uses, type, local: numberedName(local, one => one === name ? !isLocalIn(method, one) : !words.has(one)) }
    })
    const left = method.parameters.filter(one => one !== parameter)
    const edits: TextEdit[] = []
    const modifiers = (ts.getModifiers(method) ?? []).filter(one => [ts.SyntaxKind.PrivateKeyword, ts.SyntaxKind.ProtectedKeyword, ts.SyntaxKind.OverrideKeyword, ts.SyntaxKind.PublicKeyword].includes(one.kind))
    for (const one of modifiers) edits.push({ start: one.getStart(file), end: one.end + /^\s*/.exec(file.text.slice(one.end))![0].length, text: '' })
    edits.push(...parametersWithout(method, parameter, handed.map(one => `${one.local}: ${one.type}`).join(', '), file))
    for (const one of named) edits.push({ start: one.getStart(file), end: one.end, text: ts.isShorthandPropertyAssignment(one.parent) ? `${one.text}: this` : 'this' })
    for (const { uses, local } of handed) for (const use of uses) edits.push({ start: use.getStart(file), end: use.end, text: local })
    if (path !== targetPath) edits.push(...namesElsewhere([method], new Set([parameter]), snapshot, editor, there))
    takeNames(write, there)

    const start = method.getStart(file), end = method.end
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
      notes: [`${node.name!.text}.${plan.member} stays for its callers and hands on to ${target.name!.text}.`], choices: { to: plan.to },
      planned: [{ types: new Set([plan.to]), to: plan.type }, { types: new Set([plan.type]), to: plan.to }],
      moved: all => [{ from: path, start, end, to: targetPath, at: shifted(at, all.get(targetPath) ?? [], lead + text) + lead.length, edits: sorted }]
    })
  } catch (error) { return refusalOf(error) }
}

/** The parameters of a method without one of them, and with others before the first. */
function parametersWithout(method: ts.MethodDeclaration, gone: ts.ParameterDeclaration, first: string, file: ts.SourceFile): TextEdit[] {
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

function isLocalIn(method: ts.MethodDeclaration, name: string): boolean {
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
