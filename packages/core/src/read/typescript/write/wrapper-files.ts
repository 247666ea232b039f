import ts from 'typescript'
import { Refused } from '../../write/refused.js'
import type { PlanRefusal, WrapLibraryPlan } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { freeTypeName } from '../../write/outside-names.js'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import { fileNameFor } from './file-name.js'
import type { OutsideUse } from './outside-uses.js'
import { importLines } from './extract-interface.js'
import type { FileEditor, ProjectEditor } from './file-editor.js'
import { packageFolder } from './file-editor.js'
import { valueImports } from './new-file-imports.js'
import { TypeWriter } from './written-type.js'

/** A call of the interface: how it is declared, and what the implementation does. */
export interface Call {
  readonly name: string
  readonly parameters: string
  readonly result: string
  readonly body: string
}

/** The files of the interface and of its implementation: new, or extended where both are there. */
export class WrapperFiles {
  readonly port: ts.InterfaceDeclaration | undefined
  private readonly class: ts.ClassDeclaration | undefined
  private readonly calls: Call[] = []
  private readonly imports = new Map<string, { readonly name: string; readonly file: null; readonly specifier: string }>()

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

  /** `name`: as it is exported, `default` or `*`; `local`: as the implementation calls it. */
  importing({ name, local, specifier }: { readonly name: string; readonly local: string; readonly specifier: string }): void {
    const known = this.imports.get(local)
    if (known && (known.name !== name || known.specifier !== specifier)) throw new Refused('import', `${local} would be imported from ${known.specifier} and from ${specifier}`)
    this.imports.set(local, { name, file: null, specifier })
  }

  /** `opening`: lines of the implementation before its methods. */
  write(types: TypeWriter, style: FileEditor['style'], label: string, opening: readonly string[] = []): void {
    if (this.calls.length === 0) return
    for (const { name, local } of types.needed) if (name.file === null) throw new Refused('leaks', `${local} of ${name.specifier} would be seen through the interface`)
    if (this.port && this.class) { this.extend(types, style.semicolons ? ';' : ''); return }
    const { lineEnd, indent, semicolons } = style, end = semicolons ? ';' : ''
    const port = [`/** What the project uses of ${label}. */`, `export interface ${this.portName} {`, ...this.calls.map(call => indent + signatureOf(call) + end), '}'].join(lineEnd)
    this.editor.create(this.portFile, importLines(types, this.editor, this.portFile, style, port) + port + lineEnd)
    const body = [`/** The one place that uses ${label} itself. */`, `export class ${this.implementationName} implements ${this.portName} {`, ...opening, this.calls.map(call => methodOf(call, indent, end, lineEnd)).join(lineEnd + lineEnd), '}'].join(lineEnd)
    const used = new TypeWriter(this.snapshot, this.editor, this.snapshot.program.getSourceFiles()[0]!, false)
    used.needed.push(...types.needed, { name: { name: this.portName, file: this.portFile, specifier: null, typeOnly: true }, local: this.portName })
    const library = valueImports(this.imports, this.editor, this.implementationFile, style)
    this.editor.create(this.implementationFile, library + importLines(used, this.editor, this.implementationFile, style, body) + body + lineEnd)
  }

  private extend(types: TypeWriter, end: string): void {
    const port = this.editor.editor(this.portFile), done = this.editor.editor(this.implementationFile)
    for (const file of [port, done]) for (const { name, local } of types.needed) if (file.path !== name.file && this.calls.some(call => signatureOf(call).includes(local)) && file.nameFor(name) !== local) throw new Refused('import', `${local} means something else in ${file.path}`)
    for (const [local, needed] of this.imports) if (done.nameFor({ ...needed, typeOnly: false, as: local }) !== local) throw new Refused('import', `${local} means something else in ${done.path}`)
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

/** Leaves what is handed over where it stands, on lines of its own where it does; all around it becomes the call. */
export function replaceUse(use: OutsideUse, call: string, holder: string, own: FileEditor): void {
  const { text: code } = own.file
  let at = use.node.getStart(own.file), text = `${holder}.${call}(`
  use.passed.forEach((one, index) => {
    const start = one.getStart(own.file), gap = /\s*$/.exec(code.slice(at, start))![0]
    own.replace(at, start, (gap.includes('\n') ? text.trimEnd() + gap : text))
    at = one.end
    text = index === use.passed.length - 1 ? ')' : ', '
  })
  const lines = use.passed.length === 0 ? undefined : /^,?\s*\n\s*(?=\))/.exec(code.slice(at, use.node.end))?.[0]
  own.replace(at, use.node.end, use.passed.length === 0 ? `${text})` : `${lines ?? ''}${text}`)
}

export interface ChosenNames { readonly folder: string; readonly port: string; readonly implementation: string; readonly fileOf: (name: string) => string }

/** Where the interface and the class in front of the library go, and how they are called. `shared`: those of another class may be extended. */
export function chosenNames(plan: WrapLibraryPlan, proposed: { readonly port: string; readonly implementation: string }, path: string, shared: boolean, snapshot: Snapshot): ChosenNames | PlanRefusal {
  const folder = plan.folder ?? outsideFolder(path, snapshot)
  if (!/^[\w@-][\w@.-]*(\/[\w@-][\w@.-]*)*$/.test(folder)) return planRefused('folder', `${folder} is not a folder in the project.`)
  const fileOf = (name: string) => `${folder === '' ? '' : `${folder}/`}${fileNameFor(name, path)}`
  const taken = new Set(snapshot.facts.files.flatMap(one => one.types.filter(type => !shared || one.path !== fileOf(type.name)).map(type => type.name)))
  const port = plan.name ?? freeTypeName(proposed.port, taken), implementation = plan.implementation ?? freeTypeName(proposed.implementation, taken)
  for (const name of [port, implementation]) if (!/^[A-Za-z_$][\w$]*$/.test(name)) return planRefused('name', `${name} is not a name that a type can have.`)
  return { folder, port, implementation, fileOf }
}

/** Of a package's product files so many lie in the folder of its sources; what lies beside it is examples and configuration. */
const NEARLY_ALL = 0.9

/** A folder at the root of the product's sources of a file's package, on which every module may lean. */
function outsideFolder(path: string, snapshot: Snapshot): string {
  const home = packageFolder(snapshot, path)
  let folder = home, inside = snapshot.facts.files.filter(file => file.types.length > 0 && !snapshot.files.isTest(file.path) && packageFolder(snapshot, file.path) === home).map(file => file.path)
  for (const part of folderOf(path).slice(home === '' ? 0 : home.length + 1).split('/')) {
    const next = folder === '' ? part : `${folder}/${part}`, within = inside.filter(one => one.startsWith(`${next}/`))
    if (part === '' || within.length < NEARLY_ALL * inside.length) break
    folder = next
    inside = within
  }
  return folder === '' ? 'outside' : `${folder}/outside`
}
