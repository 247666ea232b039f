import ts from 'typescript'
import { lowerFirst, numberedName } from '../../write/names.js'
import { nameFromText } from '../../write/outside-names.js'
import { Refused } from '../../write/refused.js'
import type { Snapshot } from '../session.js'
import type { WriteContext } from './context.js'
import type { ProjectEditor } from './file-editor.js'
import type { OutsideUse } from './outside-uses.js'
import type { Call, WrapperFiles } from './wrapper-files.js'
import { TypeWriter } from './written-type.js'

/** The calls that uses need: equal uses share one. */
export class CallMaker {
  readonly needed: TypeWriter
  private readonly byShape = new Map<string, Call>()
  private readonly names = new Set<string>()

  constructor(private readonly isRuntime: boolean, private readonly node: ts.ClassLikeDeclaration | ts.SourceFile, private readonly pair: WrapperFiles, editor: ProjectEditor, private readonly context: WriteContext) {
    this.needed = new TypeWriter(context.snapshot, editor, node, false)
    for (const name of pair.methodNames) this.names.add(name)
  }

  callFor(use: OutsideUse): Call {
    const { checker } = this.context.snapshot
    const parameterNames = this.parameterNames(use)
    const types = use.passed.map(one => this.typeOf(one))
    const body = this.textOf(use, parameterNames)
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
      const name = numberedName(callName(use, this.isRuntime), wanted => !this.names.has(wanted))
      this.names.add(name)
      call = { name, parameters, result, body }
      this.pair.add(call)
    }
    this.byShape.set(shape, call)
    return call
  }

  /** Names of the library's own parameters, where they are known. */
  parameterNames(use: Pick<OutsideUse, 'names' | 'passed'>): string[] {
    const taken = new Set(use.names)
    return use.passed.map(one => {
      const { parent } = one
      let wanted = 'value'
      if (ts.isCallExpression(parent) || ts.isNewExpression(parent)) {
        const signature = this.context.snapshot.checker.getResolvedSignature(parent), at = parent.arguments?.indexOf(one) ?? -1
        wanted = signature?.parameters[at]?.name ?? 'value'
      } else if (ts.isElementAccessExpression(parent)) wanted = 'name'
      const safe = /^[A-Za-z_$][\w$]*$/.test(wanted) && !wanted.startsWith('__') ? wanted : 'value'
      // What a library calls a value, or calls alike, has a better name where it comes from.
      const said = ts.isIdentifier(one) ? one.text : ts.isPropertyAccessExpression(one) && ts.isIdentifier(one.name) ? one.name.text : undefined
      const name = said !== undefined && (safe === 'value' || taken.has(safe)) && !taken.has(said) ? said : numberedName(safe, candidate => !taken.has(candidate))
      taken.add(name)
      return name
    })
  }

  /** What is declared for an expression that is handed over. */
  typeOf(one: ts.Expression): string {
    const { checker } = this.context.snapshot
    const type = checker.getTypeAtLocation(one), wide = checker.getBaseTypeOfLiteralType(type), wanted = checker.getContextualType(one)
    return this.needed.inferred(wanted && !checker.isTypeAssignableTo(wide, wanted) ? type : wide)
  }

  /** An expression as the implementation writes it: names in place of what is handed over, and imported as they are exported. */
  textOf(use: Pick<OutsideUse, 'node' | 'passed'>, names: readonly string[]): string {
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
    return (text + file.text.slice(from, use.node.end)).replace(/\(\s*\n\s*/g, '(').replace(/,?\s*\n\s*\)/g, ')').replace(/\s*\r?\n\s*/g, ' ').replace(/ \./g, '.')
  }

  /** Lets the implementation import what a name means; a member of a namespace, or of one of Node's own modules, is imported by itself. */
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
      this.pair.importing({ name: exported, local: exported, specifier })
      return exported === name.text ? [] : [{ start: name.getStart(), end: name.end, text: exported }]
    }
    const access = name.parent, module = checker.getSymbolAtLocation(statement.moduleSpecifier)
    const isOfNode = module?.declarations?.some(one => one.getSourceFile().fileName.includes('/@types/node/')) === true
    if (module && (isOfNode || ts.isNamespaceImport(declaration)) && ts.isPropertyAccessExpression(access) && access.expression === name && checker.getExportsOfModule(module).some(one => one.name === access.name.text)) {
      this.pair.importing({ name: access.name.text, local: access.name.text, specifier })
      return [{ start: access.getStart(), end: access.end, text: access.name.text }]
    }
    // What a module gives by default may be there only by that, whatever its types say.
    this.pair.importing({ name: ts.isNamespaceImport(declaration) ? '*' : 'default', local: name.text, specifier })
    return []
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
