import ts from 'typescript'
import type { TextEdit } from '../../../edit/text-edit.js'
import type { Snapshot } from '../session.js'
import type { FileStyle, TypeImportStyle } from './style.js'

/**
 * A name that a file needs: exported under `name` by `file`, or by the module `specifier` where that is no file of ours. `default` is what it
 * exports by default, `*` all of it; these are called `as`.
 */
export interface NeededName {
  readonly name: string
  readonly file: string | null
  readonly specifier: string | null
  readonly typeOnly: boolean
  readonly as?: string | undefined
}

/** How an import says a name: alone, under another, or all of a module. */
export function importedAs(name: string, local: string): string { return name === '*' ? `* as ${local}` : name === local || name === 'default' ? local : `${name} as ${local}` }

/** Whether a name stands in an import by itself, outside of any list. */
export function isUnlisted(name: string): boolean { return name === 'default' || name === '*' }

/** What writing imports needs to know of the project. */
export interface ImportContext {
  readonly snapshot: Snapshot
  readonly typeStyle: TypeImportStyle
  /** How one file imports another. */
  specifierFor(from: string, to: string, name: string): string
}

/** What brings a name into a file. */
type NameHolder = ts.ImportSpecifier | ts.ImportClause | ts.NamespaceImport

/** The imports of one file as its edits leave them: what nothing uses any more goes, what is needed comes. */
export class FileImports {
  /** `removedNames`: identifiers that the edits take away, by where they start; `reusedLocals`: names that new text uses. */
  constructor(
    private readonly file: ts.SourceFile, private readonly path: string, private readonly style: FileStyle, private readonly project: ImportContext,
    private readonly added: Iterable<NeededName & { readonly local: string }>, private readonly removedNames: ReadonlySet<number>, private readonly reusedLocals: ReadonlySet<string>
  ) {}

  /** Adds the edits of imports to those of the file. */
  write(edits: TextEdit[]): void {
    const removable = this.unusedImports()
    const gone = this.writeRemovedImports(edits, removable)
    this.writeAddedImports(edits, removable, gone)
  }

  /** Import names whose every use was edited away. Those that nothing used before stay: they are the user's. */
  private unusedImports(): Set<NameHolder> {
    const { checker } = this.project.snapshot
    const uses = new Map<ts.Symbol, { before: number; left: number }>()
    const visit = (node: ts.Node): void => {
      if (ts.isImportDeclaration(node)) return
      if (ts.isIdentifier(node)) {
        const parent = node.parent
        if (ts.isPropertyAccessExpression(parent) && parent.name === node) return
        const symbol = ts.isShorthandPropertyAssignment(parent) ? checker.getShorthandAssignmentValueSymbol(parent)
          : ts.isExportSpecifier(parent) ? checker.getExportSpecifierLocalTargetSymbol(parent) : checker.getSymbolAtLocation(node)
        if (symbol && symbol.flags & ts.SymbolFlags.Alias) {
          const entry = uses.get(symbol) ?? { before: 0, left: 0 }
          entry.before++
          if (!this.removedNames.has(node.getStart(this.file))) entry.left++
          uses.set(symbol, entry)
        }
      }
      ts.forEachChild(node, visit)
    }
    if (this.removedNames.size === 0) return new Set()
    visit(this.file)
    const unused = new Set<NameHolder>()
    for (const statement of this.file.statements) {
      if (!ts.isImportDeclaration(statement) || !statement.importClause) continue
      const clause = statement.importClause
      const names: NameHolder[] = clause.name ? [clause] : []
      if (clause.namedBindings) names.push(...(ts.isNamedImports(clause.namedBindings) ? clause.namedBindings.elements : [clause.namedBindings]))
      for (const holder of names) {
        const symbol = checker.getSymbolAtLocation(holder.name!)
        const entry = symbol && uses.get(symbol)
        if (entry && entry.before > 0 && entry.left === 0 && !this.reusedLocals.has(holder.name!.text)) unused.add(holder)
      }
    }
    return unused
  }

  private writeRemovedImports(edits: TextEdit[], unused: ReadonlySet<NameHolder>): Set<ts.Statement> {
    const text = this.file.text
    const gone = new Set<ts.Statement>()
    for (const statement of this.file.statements) {
      if (!ts.isImportDeclaration(statement) || !statement.importClause) continue
      const clause = statement.importClause
      const bindings = clause.namedBindings
      const elements = bindings && ts.isNamedImports(bindings) ? bindings.elements : undefined
      const goes = (elements ?? []).filter(element => unused.has(element))
      const defaultGoes = clause.name !== undefined && unused.has(clause)
      const wholeGoes = bindings !== undefined && !elements && unused.has(bindings as ts.NamespaceImport)
      if (goes.length === 0 && !defaultGoes && !wholeGoes) continue
      const touched = edits.some(edit => edit.start >= statement.getStart(this.file) && edit.end <= statement.end && edit.start < statement.end)
      const allGo = (!clause.name || defaultGoes) && (elements ? goes.length === elements.length : !bindings || wholeGoes)
      if (allGo && !touched) {
        let end = statement.end
        if (text.startsWith('\r\n', end)) end += 2
        else if (text[end] === '\n') end++
        edits.push({ start: statement.getStart(this.file), end, text: '' })
        gone.add(statement)
      } else if (!defaultGoes && elements) {
        edits.push(...elementRemovals(elements, unused, this.file, edits))
      }
    }
    return gone
  }

  private writeAddedImports(edits: TextEdit[], removable: ReadonlySet<NameHolder>, gone: ReadonlySet<ts.Statement>): void {
    const lines: string[] = []
    const { style } = this
    const merged = new Map<ts.ImportDeclaration, string[]>()
    const fresh = new Map<string, { names: string[]; typeOnly: boolean }>()
    const { typeStyle } = this.project
    for (const needed of this.added) {
      const specifier = needed.specifier ?? this.project.specifierFor(this.path, needed.file!, needed.name)
      const renamed = importedAs(needed.name, needed.local)
      if (isUnlisted(needed.name)) {
        fresh.set(`${specifier}\0${needed.name}`, { names: [renamed], typeOnly: needed.typeOnly && typeStyle !== 'plain' })
        continue
      }
      const statementType = needed.typeOnly && typeStyle === 'statement'
      const host = this.file.statements.filter(ts.isImportDeclaration).find(statement => {
        const clause = statement.importClause
        if (!clause?.namedBindings || !ts.isNamedImports(clause.namedBindings) || clause.namedBindings.elements.length === 0) return false
        // A statement whose names all go is removed as a whole.
        if (clause.namedBindings.elements.every(element => removable.has(element))) return false
        return (statement.moduleSpecifier as ts.StringLiteral).text === specifier && clause.isTypeOnly === statementType
      })
      const written = needed.typeOnly && typeStyle === 'inline' ? `type ${renamed}` : renamed
      if (host) merged.set(host, [...(merged.get(host) ?? []), written])
      else {
        const key = `${specifier}\0${statementType ? 'type' : ''}`
        const entry = fresh.get(key) ?? { names: [], typeOnly: statementType }
        entry.names.push(written)
        fresh.set(key, entry)
      }
    }
    for (const [statement, names] of merged) {
      const elements = (statement.importClause!.namedBindings as ts.NamedImports).elements
      const last = elements[elements.length - 1]!
      const multiline = this.file.text.slice(elements[0]!.getStart(this.file), last.end).includes('\n') ||
        this.file.text.slice(statement.getStart(this.file), elements[0]!.getStart(this.file)).includes('\n')
      const separator = multiline ? `,${style.lineEnd}${this.indentAt(last.getStart(this.file))}` : ', '
      edits.push({ start: last.end, end: last.end, text: names.map(name => separator + name).join('') })
    }
    for (const [key, entry] of fresh) {
      const [specifier, mode] = key.split('\0') as [string, string]
      const names = isUnlisted(mode) ? entry.names[0]! : `{ ${entry.names.join(', ')} }`
      const line = `import ${entry.typeOnly ? 'type ' : ''}${names} from ${style.quote}${specifier}${style.quote}${style.semicolons ? ';' : ''}`
      if (!this.takesThePlace(line, specifier, gone, edits)) lines.push(line)
    }
    if (lines.length === 0) { this.closeGap(edits, gone); return }
    const imports = this.file.statements.filter(statement => ts.isImportDeclaration(statement) || ts.isImportEqualsDeclaration(statement))
    const staying = imports.filter(statement => !gone.has(statement) || edits.some(edit => edit.text !== '' && edit.start === statement.getStart(this.file)))
    const last = staying[staying.length - 1]
    if (!last && imports[0]) edits.push({ start: imports[0].getStart(this.file), end: imports[0].getStart(this.file), text: lines.map(line => line + style.lineEnd).join('') })
    else if (last) edits.push({ start: last.end, end: last.end, text: lines.map(line => style.lineEnd + line).join('') })
    else {
      const at = this.headerEnd()
      edits.push({ start: at, end: at, text: lines.map(line => line + style.lineEnd).join('') + style.lineEnd })
    }
  }

  /** Puts an import where one of the same module goes, so that only what is imported is another. */
  private takesThePlace(line: string, specifier: string, gone: ReadonlySet<ts.Statement>, edits: TextEdit[]): boolean {
    for (const statement of gone) {
      if (!ts.isImportDeclaration(statement) || (statement.moduleSpecifier as ts.StringLiteral).text !== specifier) continue
      const start = statement.getStart(this.file), at = edits.findIndex(edit => edit.start === start && edit.end >= statement.end && edit.text === '')
      if (at < 0) continue
      edits[at] = { start, end: statement.end, text: line }
      return true
    }
    return false
  }

  /** Where all imports went and none came, the blank line that parted them from the rest goes too. */
  private closeGap(edits: TextEdit[], gone: ReadonlySet<ts.Statement>): void {
    const imports = this.file.statements.filter(ts.isImportDeclaration)
    const first = imports[0], last = imports.at(-1)
    if (!first || !last || !imports.every(one => gone.has(one)) || imports.some(one => edits.some(edit => edit.text !== '' && edit.start === one.getStart(this.file))) || this.file.text.slice(0, first.getStart(this.file)).trim() !== '') return
    const at = edits.findIndex(edit => edit.text === '' && edit.start === last.getStart(this.file))
    const blank = at < 0 ? null : /^(?:[ \t]*\r?\n)+/.exec(this.file.text.slice(edits[at]!.end))
    if (blank && !edits.some(edit => edit !== edits[at] && edit.start < edits[at]!.end + blank[0].length && edit.end > edits[at]!.end)) edits[at] = { ...edits[at]!, end: edits[at]!.end + blank[0].length }
  }

  /** After a `#!` line, directives and a comment that stands by itself at the top. */
  private headerEnd(): number {
    const text = this.file.text
    const first = this.file.statements.find(statement => !(ts.isExpressionStatement(statement) && ts.isStringLiteral(statement.expression)))
    if (!first) return text.length
    const before = this.file.statements.indexOf(first) > 0 ? this.file.statements[this.file.statements.indexOf(first) - 1]! : undefined
    if (before) return before.end + (/^\r?\n/.exec(text.slice(before.end))?.[0].length ?? 0)
    const comments = ts.getLeadingCommentRanges(text, first.pos) ?? []
    const detached = comments.find((comment, index) => /\n\s*\n/.test(text.slice(comment.end, comments[index + 1]?.pos ?? first.getStart(this.file))))
    if (detached) return detached.end + /^\s*\n/.exec(text.slice(detached.end))![0].length
    const start = comments[0]?.pos ?? first.getStart(this.file)
    return text.startsWith('#!') ? Math.max(start, text.indexOf('\n') + 1) : start
  }

  private indentAt(position: number): string {
    const { text } = this.file
    return /^[ \t]*/.exec(text.slice(text.lastIndexOf('\n', position - 1) + 1))![0]
  }
}

/** Takes names out of a list; those at its end go with the comma before them. */
export function elementRemovals(
  elements: ts.NodeArray<ts.ImportSpecifier> | ts.NodeArray<ts.ExportSpecifier>, goes: ReadonlySet<ts.Node>, file: ts.SourceFile, others: readonly TextEdit[]
): TextEdit[] {
  const removals: TextEdit[] = []
  const remove = (start: number, end: number): void => {
    if (![...others, ...removals].some(edit => edit.start < end && edit.end > start)) removals.push({ start, end, text: '' })
  }
  const all: readonly ts.Node[] = elements
  let kept = all.length
  while (kept > 0 && goes.has(all[kept - 1]!)) kept--
  all.slice(0, kept).forEach((element, index) => { if (goes.has(element)) remove(element.getStart(file), all[index + 1]!.getStart(file)) })
  if (kept < all.length) remove(kept === 0 ? all[0]!.getStart(file) : all[kept - 1]!.end, all.at(-1)!.end)
  return removals
}
