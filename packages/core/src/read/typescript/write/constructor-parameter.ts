import ts from 'typescript'
import { symbolOf } from '../declarations.js'
import type { WriteContext } from './context.js'
import type { FileEditor, ProjectEditor } from './file-editor.js'
import { writeType } from './injected-type.js'
import type { CreationSite } from './injection-points.js'
import { creationSites, lineOf, superCalls } from './injection-points.js'
import { meansSymbol, mentions } from './narrow.js'
import { uniqueName } from './parameter-name.js'
import { placeOf } from './place.js'
import type { Provision } from './provision.js'
import { Refused } from '../../write/refused.js'

/** Gives a class's constructor the parameter, and every place that runs the constructor what it then needs. */
export function addParameter(
  node: ts.ClassLikeDeclaration, provision: Provision, own: FileEditor, editor: ProjectEditor, context: WriteContext,
  withDefault: boolean, sites: readonly CreationSite[], levels: number, notes: string[]
): void {
  const constructors = node.members.filter(ts.isConstructorDeclaration)
  if (constructors.length > 1) throw new Refused('overloads', 'Its constructor is overloaded; which of the forms should take the collaborator is yours to say.')
  if (!withDefault) refuseOtherUses(node, context)
  const constructor = constructors[0]
  const { assignments } = provision
  const modifier = provision.kept ? 'private readonly ' : ''
  const parameter = withDefault ? `${modifier}${provision.name}: ${provision.type} = ${provision.provide(own)}` : `${modifier}${provision.name}: ${provision.type}`
  const { lineEnd, indent, semicolons } = own.style
  const end = semicolons ? ';' : ''
  let at: number
  if (constructor) {
    const required = constructor.parameters.findIndex(one => one.questionToken || one.initializer || one.dotDotDotToken)
    at = withDefault || required < 0 ? constructor.parameters.length : required
    if (withDefault && constructor.parameters.some(one => one.dotDotDotToken)) throw new Refused('rest', 'Its constructor takes any number of arguments, so that none can follow with a default.')
    insertParameter(constructor.parameters, at, parameter, own)
    if (assignments.length > 0) beginConstructor(constructor, assignments.map(line => line + end), own)
  } else {
    const inherited = inheritedParameters(node, own, editor, context)
    at = withDefault ? inherited.count : inherited.required
    const parameters = [...inherited.texts]
    parameters.splice(at, 0, parameter)
    const base = own.indentAt(node.getStart()) + indent
    const lines = [
      ...(inherited.extended ? [`super(${inherited.names.join(', ')})`] : []), ...assignments
    ]
    const body = lines.length === 0 ? '{}' : `{${lines.map(line => lineEnd + base + indent + line + end).join('')}${lineEnd}${base}}`
    const text = `constructor(${parameters.join(', ')}) ${body}`
    const fields = node.members.filter(ts.isPropertyDeclaration)
    const last = fields[fields.length - 1]
    const first = node.members[0]
    if (last) own.insert(last.end, `${lineEnd}${lineEnd}${base}${text}`)
    else if (first) {
      const start = first.getStart(undefined, true)
      own.insert(start, `${text}${lineEnd}${lineEnd}${own.indentAt(start)}`)
    } else {
      const close = node.end - 1
      own.replace(node.members.pos, close, `${lineEnd}${base}${text}${lineEnd}${own.indentAt(node.getStart())}`)
    }
  }
  for (const site of sites) provideAt(site, at, provision, editor, context, levels, notes)
}

/** Puts statements at the beginning of a constructor, behind what it has its base class do. */
export function beginConstructor(constructor: ts.ConstructorDeclaration, statements: readonly string[], own: FileEditor): void {
  const { lineEnd, indent } = own.style, body = constructor.body!, base = own.indentAt(constructor.getStart())
  const call = superCalls(constructor)[0]
  const lines = statements.map(line => lineEnd + base + indent + line).join('')
  if (!call && body.statements.length === 0) own.replace(body.getStart(), body.end, `{${lines}${lineEnd}${base}}`)
  else {
    const at = call ? ts.findAncestor(call, ts.isStatement)!.end : body.getStart() + 1, [between] = /^[ \t]*/.exec(own.file.text.slice(at))!
    // What stands on the same line begins a line of its own.
    if (/[\r\n/}]/.test(own.file.text.charAt(at + between!.length))) own.insert(at, lines)
    else own.replace(at, at + between!.length, lines + lineEnd + base + indent)
  }
}

/** Puts a parameter at an index of a list in parentheses, in the list's own manner. */
export function insertParameter(list: ts.NodeArray<ts.ParameterDeclaration>, at: number, text: string, own: FileEditor): void {
  if (list.length === 0) {
    own.insert(list.pos, text)
    return
  }
  const source = own.file.text
  const multiline = source.slice(list.pos, list.end).includes('\n')
  const separator = multiline ? `,${own.style.lineEnd}${own.indentAt(list[0]!.getStart())}` : ', '
  if (at < list.length) own.insert(list[at]!.getStart(undefined, true), text + separator)
  else own.insert(list[list.length - 1]!.end, separator + text)
}

function provideAt(site: CreationSite, at: number, provision: Provision, editor: ProjectEditor, context: WriteContext, levels: number, notes: string[]): void {
  const path = context.snapshot.pathOf(site.getSourceFile())!
  const file = editor.editor(path)
  const list = site.arguments
  if (list?.some((argument, index) => ts.isSpreadElement(argument) && index <= at)) throw new Refused('spread', `${path}:${lineOf(site)} passes its arguments with a spread.`)
  if ((list?.length ?? 0) < at) throw new Refused('arguments', `${path}:${lineOf(site)} passes fewer arguments than the constructor has.`)
  const text = passedOn(site, provision, editor, context, levels, notes) ?? provision.provide(file)
  if (!list) { file.insert(site.end, `(${text})`); return }
  if (list.length === 0) { file.insert(list.pos, text); return }
  const multiline = file.file.text.slice(list.pos, list.end).includes('\n') && file.file.text.slice(list.pos, list[0]!.getStart()).includes('\n')
  const separator = multiline ? `,${file.style.lineEnd}${file.indentAt(list[0]!.getStart())}` : ', '
  if (at < list.length) file.insert(list[at]!.getStart(), text + separator)
  else file.insert(list[list.length - 1]!.end, separator + text)
}

/** Moves creation one level up where the site runs once, in a constructor of the project; the name that is passed on then. */
function passedOn(site: CreationSite, provision: Provision, editor: ProjectEditor, context: WriteContext, levels: number, notes: string[]): string | undefined {
  if (levels <= 0) return undefined
  const constructor = ts.findAncestor(site, ts.isConstructorDeclaration)
  const owner = constructor?.parent
  if (!constructor || !owner || !ts.isClassLike(owner) || ts.findAncestor(site, ts.isClassLike) !== owner) return undefined
  if (!placeOf(site, owner).once || context.snapshot.files.isTest(context.snapshot.pathOf(owner.getSourceFile())!)) return undefined
  if (ts.canHaveDecorators(owner) && ts.getDecorators(owner)?.length) return undefined
  if (owner.members.filter(ts.isConstructorDeclaration).length > 1) return undefined
  const path = context.snapshot.pathOf(owner.getSourceFile())!
  const own = editor.editor(path)
  // The type's name has to be visible there; where it is not simple, creation stays at this site.
  if (!/^[\w$]+$/.test(provision.type)) return undefined
  const symbol = context.snapshot.checker.resolveName(provision.type, own.file, ts.SymbolFlags.Type, false)
  if (!symbol) return undefined
  const name = uniqueName(provision.name, owner, new Set(), false)
  addParameter(owner, { ...provision, name, kept: false, assignments: [] }, own, editor, context, false, creationSites(owner, context.snapshot), levels - 1, notes)
  notes.push(`${owner.name?.text ?? 'A class'} is handed ${name} too and passes it on.`)
  return name
}

/** Parameters of the constructor that a class without its own inherits, to be repeated and handed to `super`. */
function inheritedParameters(node: ts.ClassLikeDeclaration, own: FileEditor, editor: ProjectEditor, context: WriteContext) {
  const none = { texts: [] as string[], names: [] as string[], required: 0, count: 0, extended: false }
  const heritage = node.heritageClauses?.find(clause => clause.token === ts.SyntaxKind.ExtendsKeyword)?.types[0]
  if (!heritage) return none
  const { checker } = context.snapshot
  const signatures = checker.getTypeAtLocation(heritage.expression).getConstructSignatures()
  if (signatures.length !== 1) {
    if (signatures.length === 0) return { ...none, extended: true }
    throw new Refused('overloads', 'The constructor that it inherits is overloaded.')
  }
  const [signature] = signatures as [ts.Signature], parameters = signature.getParameters()
  // What the class that it extends leaves open, it says by its type arguments, or leaves at their defaults.
  const base = checker.getTypeAtLocation(heritage), given = 'target' in base ? checker.getTypeArguments(base as ts.TypeReference) : []
  const closed = (text: string) => (signature.typeParameters ?? []).reduce((written, open, at) => {
    const word = new RegExp(`\\b${open.symbol.name}\\b`, 'g')
    if (!given[at] || !word.test(written)) return written
    const told = writeType(given[at], node, own, editor, context)
    return written.replace(word, written === open.symbol.name || /^[\w$.]+(<.*>)?$/.test(told) ? () => told : () => `(${told})`)
  }, text)
  const texts: string[] = [], names: string[] = []
  let required = -1
  parameters.forEach((parameter, index) => {
    const declaration = parameter.valueDeclaration
    if (!declaration || !ts.isParameter(declaration) || !ts.isIdentifier(declaration.name)) throw new Refused('inherited', 'The constructor that it inherits cannot be repeated.')
    const optional = declaration.questionToken !== undefined || declaration.initializer !== undefined
    if ((optional || declaration.dotDotDotToken) && required < 0) required = index
    const type = closed(writeType(checker.getTypeOfSymbolAtLocation(parameter, node), node, own, editor, context))
    texts.push(`${declaration.dotDotDotToken ? '...' : ''}${parameter.name}${optional ? '?' : ''}: ${type}`)
    names.push(`${declaration.dotDotDotToken ? '...' : ''}${parameter.name}`)
  })
  return { texts, names, required: required < 0 ? texts.length : required, count: texts.length, extended: true }
}

/** A class that is handed around as a value is built by code that nothing here can update. */
export function refuseOtherUses(node: ts.ClassLikeDeclaration, { snapshot }: WriteContext): void {
  const symbol = symbolOf(node)
  if (!symbol || !node.name) throw new Refused('anonymous', 'The class has no name, so its creation sites cannot be found.')
  for (const [file, path] of snapshot.paths) {
    if (!mentions(file, node.name.text)) continue
    const visit = (at: ts.Node): void => {
      if (ts.isImportDeclaration(at) || ts.isExportDeclaration(at) || ts.isTypeNode(at) && !ts.isExpressionWithTypeArguments(at)) return
      if (ts.isIdentifier(at) && at.text === node.name!.text && at !== node.name && meansSymbol(at, symbol, snapshot.checker)) {
        const parent = at.parent
        const fine = (ts.isNewExpression(parent) && parent.expression === at) || (ts.isPropertyAccessExpression(parent) && parent.expression === at) ||
          ts.isExpressionWithTypeArguments(parent) || ts.isExportAssignment(parent) ||
          (ts.isBinaryExpression(parent) && parent.operatorToken.kind === ts.SyntaxKind.InstanceOfKeyword && parent.right === at)
        if (!fine) throw new Refused('class-as-value', `${path}:${lineOf(at)} hands the class itself around, so not every place that builds it is known.`)
      }
      ts.forEachChild(at, visit)
    }
    visit(file)
  }
}
