import ts from 'typescript'
import type { OutsideUses, PlanRefusal, WrapLibraryPlan } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { lowerFirst, numberedName } from '../../write/names.js'
import type { OutsideGroup } from '../../write/outside-group.js'
import { freeTypeName, nameFromText, outsideNames } from '../../write/outside-names.js'
import { Refused } from '../../write/refused.js'
import { memberName } from '../declarations.js'
import { RUNTIME } from '../externals.js'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import { checkedStep, refusalOf } from './checked-step.js'
import { addParameter } from './constructor-parameter.js'
import type { WriteContext, Written } from './context.js'
import { importLines } from './extract-interface.js'
import type { FileEditor } from './file-editor.js'
import { ProjectEditor } from './file-editor.js'
import { fileNameFor } from './file-name.js'
import { creationSites } from './injection-points.js'
import type { OutsideUse } from './outside-uses.js'
import { findOutsideUses } from './outside-uses.js'
import { uniqueName } from './parameter-name.js'
import { TypeWriter } from './written-type.js'

/** What could be put behind interfaces in a class; nothing where a framework builds it. */
export function outsideUses(type: string, node: ts.ClassLikeDeclaration, snapshot: Snapshot): OutsideUses[] {
  if (!node.name || (ts.canHaveDecorators(node) && ts.getDecorators(node)?.length) || /\.[cm]?jsx?$/.test(node.getSourceFile().fileName)) return []
  const groups = findOutsideUses(type, node, snapshot).filter(group => group.uses.length > 0)
  if (groups.length === 0) return []
  const sites = creationSites(node, snapshot)
  return groups.map(group => {
    const { label, port, implementation } = outsideNames(group.external, group.effect, group.external === RUNTIME)
    return { key: group.key, label, name: port, implementation, uses: group.uses.length, edits: group.uses.length + sites.length + 3, files: new Set(sites.map(site => site.getSourceFile())).size + 3 }
  })
}

/** A call of the interface: how it is declared, and what the implementation does. */
interface Call {
  readonly name: string
  readonly parameters: string
  readonly result: string
  readonly body: string
}

/** Puts what a class uses of a library behind an interface, whose implementation alone imports it, and hands that to the class. */
export function wrapLibrary(plan: WrapLibraryPlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const group = findOutsideUses(plan.type, node, snapshot).find(one => one.key === plan.uses)
  if (!group) return planRefused('done', `${node.name?.text ?? 'The class'} uses nothing of ${plan.uses.replace(`${RUNTIME}.`, 'the ')} itself any more.`)
  if (group.uses.length === 0) return planRefused('stays', `Nothing of it can be put behind an interface: line ${group.stays[0]!.line}, ${group.stays[0]!.why}.`)
  const path = snapshot.pathOf(node.getSourceFile())!
  if (/\.[cm]?jsx?$/.test(path)) return planRefused('javascript', `${path} is JavaScript, which has no interfaces.`)
  if (ts.canHaveDecorators(node) && ts.getDecorators(node)?.length) return planRefused('framework', 'Its decorators mean that a framework builds it, and the framework would not know the new parameter.')
  const proposed = outsideNames(group.external, group.effect, group.external === RUNTIME)
  const folder = plan.folder ?? outsideFolder(snapshot)
  if (!/^[\w@-][\w@.-]*(\/[\w@-][\w@.-]*)*$/.test(folder)) return planRefused('folder', `${folder} is not a folder in the project.`)
  const fileOf = (name: string) => `${folder === '' ? '' : `${folder}/`}${fileNameFor(name, path)}`
  const taken = new Set(snapshot.facts.files.flatMap(one => one.types.filter(type => one.path !== fileOf(type.name)).map(type => type.name)))
  const port = plan.name ?? freeTypeName(proposed.port, taken), implementation = plan.implementation ?? freeTypeName(proposed.implementation, taken)
  for (const name of [port, implementation]) if (!/^[A-Za-z_$][\w$]*$/.test(name)) return planRefused('name', `${name} is not a name that a type can have.`)
  try {
    const editor = new ProjectEditor(snapshot, root)
    const pair = new WrapperFiles(port, fileOf(port), implementation, fileOf(implementation), editor, snapshot, root)
    const own = editor.editor(path)
    const held = heldAs(node, pair, snapshot)
    const field = held ?? uniqueName(lowerFirst(port), node, new Set(), false)
    const calls = new CallMaker(group, node, pair, editor, context)
    for (const use of group.uses) replaceUse(use, calls.callFor(use).name, use.beforeSuper ? field : `this.${field}`, own)
    if (held === undefined) {
      const type = own.nameFor({ name: port, file: pair.portFile, specifier: null, typeOnly: true })
      const provide = (at: FileEditor) => `new ${at.nameFor({ name: implementation, file: pair.implementationFile, specifier: null, typeOnly: false })}()`
      addParameter(node, { name: field, type, kept: true, assignments: [], provide }, own, editor, context, plan.withDefault, plan.withDefault ? [] : creationSites(node, snapshot), 0, [])
    }
    pair.write(calls.needed, own.style, proposed.label)
    return checkedStep(editor, context, {
      notes: [
        `${implementation} is where ${proposed.label} is used now; a test hands in another ${port}.`,
        ...group.stays.map(({ line, why }) => `${path}:${line} stays as it is: ${why}.`)
      ],
      choices: { uses: plan.uses, name: port, implementation, folder, default: plan.withDefault ? 'yes' : 'no' }, planned: []
    })
  } catch (error) { return refusalOf(error) }
}

/** A folder at the root of the product's sources, on which every module may lean. */
function outsideFolder(snapshot: Snapshot): string {
  const folders = snapshot.facts.files.filter(file => file.types.length > 0 && !snapshot.files.isTest(file.path)).map(file => folderOf(file.path).split('/').filter(part => part !== ''))
  let common = folders[0] ?? []
  for (const folder of folders) { let at = 0; while (at < common.length && common[at] === folder[at]) at++; common = common.slice(0, at) }
  return [...common, 'outside'].join('/')
}

/** The member by which a class holds the interface already. */
function heldAs(node: ts.ClassLikeDeclaration, pair: WrapperFiles, { checker }: Snapshot): string | undefined {
  const symbol = pair.port && checker.getSymbolAtLocation(pair.port.name)
  if (!symbol) return undefined
  const isPort = (type: ts.TypeNode | undefined) => type !== undefined && checker.getTypeAtLocation(type).symbol === symbol
  for (const member of node.members) {
    if (ts.isPropertyDeclaration(member) && isPort(member.type)) return memberName(member)
    if (!ts.isConstructorDeclaration(member)) continue
    const parameter = member.parameters.find(one => ts.isParameterPropertyDeclaration(one, member) && isPort(one.type))
    if (parameter) return parameter.name.getText()
  }
  return undefined
}

/** Leaves what is handed over where it stands; all around it becomes the call. */
function replaceUse(use: OutsideUse, call: string, holder: string, own: FileEditor): void {
  let at = use.node.getStart(own.file), text = `${holder}.${call}(`
  use.passed.forEach((one, index) => {
    own.replace(at, one.getStart(own.file), text)
    at = one.end
    text = index === use.passed.length - 1 ? ')' : ', '
  })
  own.replace(at, use.node.end, use.passed.length === 0 ? `${text})` : text)
}

/** The calls that uses need: equal uses share one. */
class CallMaker {
  readonly needed: TypeWriter
  private readonly byShape = new Map<string, Call>()
  private readonly names = new Set<string>()

  constructor(private readonly group: OutsideGroup<OutsideUse>, private readonly node: ts.ClassLikeDeclaration, private readonly pair: WrapperFiles, editor: ProjectEditor, private readonly context: WriteContext) {
    this.needed = new TypeWriter(context.snapshot, editor, node, false)
    for (const name of pair.methodNames) this.names.add(name)
  }

  callFor(use: OutsideUse): Call {
    const { checker } = this.context.snapshot
    const parameterNames = this.parameterNames(use)
    const types = use.passed.map(one => this.typeOf(one))
    const body = this.bodyOf(use, parameterNames)
    const discarded = ts.isExpressionStatement(use.node.parent)
    const resultType = declaredType(use.node, this.context.snapshot)
    const result = discarded && !(resultType.flags & ts.TypeFlags.Never) && !isPromise(resultType) ? 'void' : this.needed.inferred(checker.getBaseTypeOfLiteralType(resultType))
    const parameters = parameterNames.map((name, index) => `${name}: ${types[index]!}`).join(', ')
    const shape = `${parameters}|${result}|${body}`
    let call = this.byShape.get(shape)
    if (call) return call
    const known = this.pair.methodLike(parameters, result, body)
    if (known !== undefined) call = { name: known, parameters, result, body }
    else {
      const name = numberedName(callName(use, this.group.external === RUNTIME), wanted => !this.names.has(wanted))
      this.names.add(name)
      call = { name, parameters, result, body }
      this.pair.add(call)
    }
    this.byShape.set(shape, call)
    return call
  }

  /** Names of the library's own parameters, where they are known. */
  private parameterNames(use: OutsideUse): string[] {
    const taken = new Set(use.names)
    return use.passed.map(one => {
      const { parent } = one
      let wanted = 'value'
      if (ts.isCallExpression(parent) || ts.isNewExpression(parent)) {
        const signature = this.context.snapshot.checker.getResolvedSignature(parent), at = parent.arguments?.indexOf(one) ?? -1
        wanted = signature?.parameters[at]?.name ?? 'value'
      } else if (ts.isElementAccessExpression(parent)) wanted = 'name'
      const safe = /^[A-Za-z_$][\w$]*$/.test(wanted) && !wanted.startsWith('__') ? wanted : 'value'
      const name = numberedName(safe, candidate => !taken.has(candidate))
      taken.add(name)
      return name
    })
  }

  private typeOf(one: ts.Expression): string {
    const { checker } = this.context.snapshot
    const type = checker.getTypeAtLocation(one), wide = checker.getBaseTypeOfLiteralType(type), wanted = checker.getContextualType(one)
    return this.needed.inferred(wanted && !checker.isTypeAssignableTo(wide, wanted) ? type : wide)
  }

  /** The use as the implementation writes it: parameters in place of what is handed over, names as they are exported. */
  private bodyOf(use: OutsideUse, names: readonly string[]): string {
    const file = this.node.getSourceFile()
    const edits = use.passed.map((one, index) => ({ start: one.getStart(file), end: one.end, text: names[index]! }))
    const visit = (at: ts.Node): void => {
      if (use.passed.includes(at as ts.Expression)) return
      if (ts.isIdentifier(at) && !(ts.isPropertyAccessExpression(at.parent) && at.parent.name === at) && !ts.isPropertyAssignment(at.parent)) edits.push(...this.imported(at))
      ts.forEachChild(at, visit)
    }
    visit(use.node)
    let text = '', from = use.node.getStart(file)
    for (const edit of edits.sort((a, b) => a.start - b.start)) { text += file.text.slice(from, edit.start) + edit.text; from = edit.end }
    return (text + file.text.slice(from, use.node.end)).replace(/\s*\r?\n\s*/g, ' ').replace(/ \./g, '.')
  }

  /** Lets the implementation import what a name means; a namespace's member is imported by itself. */
  private imported(name: ts.Identifier): { start: number; end: number; text: string }[] {
    const { checker } = this.context.snapshot
    const symbol = checker.getSymbolAtLocation(name), declaration = symbol?.declarations?.[0]
    if (!symbol || !declaration || !(symbol.flags & ts.SymbolFlags.Alias)) return []
    const statement = ts.findAncestor(declaration, ts.isImportDeclaration)
    if (!statement || !ts.isStringLiteral(statement.moduleSpecifier)) throw new Refused('import', `${name.text} is imported in a way that cannot be repeated`)
    const specifier = statement.moduleSpecifier.text
    if (specifier.startsWith('.')) throw new Refused('import', `${name.text} is imported from ${specifier}, which lies outside the files that are read`)
    if (ts.isImportSpecifier(declaration)) {
      const exported = (declaration.propertyName ?? declaration.name).text
      this.pair.importing({ name: exported, specifier })
      return exported === name.text ? [] : [{ start: name.getStart(), end: name.end, text: exported }]
    }
    const access = name.parent
    const module = checker.getSymbolAtLocation(statement.moduleSpecifier)
    if (!ts.isPropertyAccessExpression(access) || access.expression !== name || !module || !checker.getExportsOfModule(module).some(one => one.name === access.name.text)) {
      throw new Refused('import', `${name.text} is a default or namespace import that cannot be repeated`)
    }
    this.pair.importing({ name: access.name.text, specifier })
    return [{ start: access.getStart(), end: access.end, text: access.name.text }]
  }
}

/** The type of an expression, whatever is known of its value where it stands: a member that was just set is what it may be all the same. */
function declaredType(node: ts.Expression, { checker, files }: Snapshot): ts.Type {
  if (!ts.isPropertyAccessExpression(node) && !ts.isElementAccessExpression(node)) return checker.getTypeAtLocation(node)
  const holder = checker.getTypeAtLocation(node.expression)
  const name = ts.isPropertyAccessExpression(node) ? node.name.text : ts.isStringLiteralLike(node.argumentExpression) ? node.argumentExpression.text : undefined
  const member = name === undefined ? undefined : holder.getProperty(name)
  const indexed = files.options.noUncheckedIndexedAccess ? undefined : checker.getIndexTypeOfType(holder, ts.IndexKind.String)
  return (member ? checker.getTypeOfSymbolAtLocation(member, node) : indexed) ?? checker.getTypeAtLocation(node)
}

function isPromise(type: ts.Type): boolean { return type.symbol?.name === 'Promise' }

/** `statSync(path).size` gives `statSize`, `new Date()` gives `date`, `process.env['MAX_AGE']` gives `maxAge`. */
function callName(use: OutsideUse, isRuntime: boolean): string {
  const names = use.names.map(name => name.replace(/Sync$/, ''))
  const { node } = use
  const last = names.at(-1)!
  if (ts.isNewExpression(node)) return lowerFirst(last)
  if (ts.isElementAccessExpression(node) && ts.isStringLiteralLike(node.argumentExpression)) return nameFromText(last) || 'value'
  if (ts.isPropertyAccessExpression(node) && names.length > 1) {
    const before = names.at(-2)!
    return isRuntime && !ts.isCallExpression(node.expression) ? nameFromText(last) || last : `${lowerFirst(before)}${last.charAt(0).toUpperCase()}${last.slice(1)}`
  }
  return /^[a-z]/.test(last) ? last : lowerFirst(last)
}

/** The files of the interface and of its implementation: new, or extended where both are there. */
class WrapperFiles {
  readonly port: ts.InterfaceDeclaration | undefined
  private readonly class: ts.ClassDeclaration | undefined
  private readonly calls: Call[] = []
  private readonly imports = new Map<string, Set<string>>()

  constructor(
    private readonly portName: string, readonly portFile: string, private readonly implementationName: string, readonly implementationFile: string,
    private readonly editor: ProjectEditor, private readonly snapshot: Snapshot, root: string
  ) {
    if (portFile === implementationFile) throw new Refused('name', 'The interface and the class in front of the library need two names')
    const read = (path: string) => snapshot.files.isSource(path) ? snapshot.program.getSourceFile(`${root}/${path}`) : undefined
    this.port = read(portFile)?.statements.find((one): one is ts.InterfaceDeclaration => ts.isInterfaceDeclaration(one) && one.name.text === portName)
    this.class = read(implementationFile)?.statements.find((one): one is ts.ClassDeclaration => ts.isClassDeclaration(one) && one.name?.text === implementationName)
    if ((this.port === undefined) !== (this.class === undefined)) throw new Refused('name-taken', `Of ${portName} and ${implementationName} one is there already; choose other names`)
    if (this.port) return
    for (const path of [portFile, implementationFile]) if (snapshot.files.isSource(path) || snapshot.source.isFile(`${root}/${path}`)) throw new Refused('file-exists', `${path} exists already; choose another name`)
  }

  get methodNames(): string[] { return [...new Set([...this.port?.members ?? [], ...this.class?.members ?? []].map(member => member.name?.getText() ?? ''))] }

  /** A method of the implementation that does the same. */
  methodLike(parameters: string, result: string, body: string): string | undefined {
    const same = (text: string) => text.replace(/\s+/g, '')
    return this.class?.members.filter(ts.isMethodDeclaration).find(method => {
      const [statement] = method.body?.statements ?? []
      const done = statement && ts.isReturnStatement(statement) ? statement.expression?.getText() : statement && ts.isExpressionStatement(statement) ? statement.expression.getText() : undefined
      return method.body?.statements.length === 1 && done !== undefined && same(done) === same(body) && same(method.parameters.map(one => one.getText()).join()) === same(parameters) && same(method.type?.getText() ?? '') === same(result)
    })?.name.getText()
  }

  add(call: Call): void { this.calls.push(call) }

  importing({ name, specifier }: { readonly name: string; readonly specifier: string }): void { this.imports.set(specifier, (this.imports.get(specifier) ?? new Set()).add(name)) }

  write(types: TypeWriter, style: FileEditor['style'], label: string): void {
    if (this.calls.length === 0) return
    for (const { name, local } of types.needed) if (name.file === null) throw new Refused('leaks', `${local} of ${name.specifier} would be seen through the interface`)
    if (this.port && this.class) { this.extend(types, style.semicolons ? ';' : ''); return }
    const { lineEnd, indent, semicolons } = style, end = semicolons ? ';' : ''
    const port = [`/** What the project uses of ${label}. */`, `export interface ${this.portName} {`, ...this.calls.map(call => indent + signatureOf(call) + end), '}'].join(lineEnd)
    this.editor.create(this.portFile, importLines(types, this.editor, this.portFile, style, port) + port + lineEnd)
    const body = [`/** The one place that uses ${label} itself. */`, `export class ${this.implementationName} implements ${this.portName} {`, this.calls.map(call => methodOf(call, indent, end, lineEnd)).join(lineEnd + lineEnd), '}'].join(lineEnd)
    const used = new TypeWriter(this.snapshot, this.editor, this.snapshot.program.getSourceFiles()[0]!, false)
    used.needed.push(...types.needed, { name: { name: this.portName, file: this.portFile, specifier: null, typeOnly: true }, local: this.portName })
    const library = [...this.imports].sort(([a], [b]) => (a < b ? -1 : 1)).map(([specifier, names]) => `import { ${[...names].sort().join(', ')} } from ${style.quote}${specifier}${style.quote}${end}${lineEnd}`).join('')
    this.editor.create(this.implementationFile, library + importLines(used, this.editor, this.implementationFile, style, body) + body + lineEnd)
  }

  private extend(types: TypeWriter, end: string): void {
    const port = this.editor.editor(this.portFile), done = this.editor.editor(this.implementationFile)
    for (const file of [port, done]) for (const { name, local } of types.needed) if (file.path !== name.file && this.calls.some(call => signatureOf(call).includes(local)) && file.nameFor(name) !== local) throw new Refused('import', `${local} means something else in ${file.path}`)
    for (const [specifier, names] of this.imports) for (const name of names) if (done.nameFor({ name, file: null, specifier, typeOnly: false }) !== name) throw new Refused('import', `${name} means something else in ${done.path}`)
    atEndOf(port, this.port!, this.calls.map(call => port.style.indent + signatureOf(call) + end + port.style.lineEnd).join(''))
    atEndOf(done, this.class!, this.calls.map(call => done.style.lineEnd + methodOf(call, done.style.indent, end, done.style.lineEnd) + done.style.lineEnd).join(''))
  }
}

function signatureOf({ name, parameters, result }: Call): string { return `${name}(${parameters}): ${result}` }

function methodOf(call: Call, indent: string, end: string, lineEnd: string): string {
  return [`${signatureOf(call)} {`, `${indent}${call.result === 'void' ? '' : 'return '}${call.body}${end}`, '}'].map(line => indent + line).join(lineEnd)
}

/** Puts lines before the brace that ends a declaration. */
function atEndOf(file: FileEditor, node: ts.InterfaceDeclaration | ts.ClassDeclaration, lines: string): void {
  const brace = node.end - 1
  const lineStart = file.text.lastIndexOf('\n', brace) + 1
  if (file.text.slice(lineStart, brace).trim() === '') file.insert(lineStart, lines)
  else file.insert(brace, file.style.lineEnd + lines)
}
