import ts from 'typescript'
import type { FileChange, TextEdit } from '../../../edit/text-edit.js'
import { applyEdits } from '../../../edit/text-edit.js'
import type { LineEditor } from '../../write/removed-lines.js'
import { freeAround } from '../../write/removed-lines.js'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import type { FileStyle, TypeImportStyle } from './style.js'
import { styleOf, typeImportStyle } from './style.js'

/** A name that a file needs: exported under `name` by `file`, or by the module `specifier` where that is no file of ours. */
export interface NeededName {
  readonly name: string
  readonly file: string | null
  readonly specifier: string | null
  readonly typeOnly: boolean
}

export class NameConflict extends Error {}

/** Gathers the edits of one file, imports included. */
export class FileEditor implements LineEditor {
  private readonly edits: TextEdit[] = []
  private readonly added = new Map<string, NeededName & { local: string }>()
  /** Identifiers that the edits take away, by the position at which they start. */
  private readonly removedNames = new Set<number>()
  private readonly reusedLocals = new Set<string>()
  readonly style: FileStyle

  constructor(readonly file: ts.SourceFile, readonly path: string, private readonly project: ProjectEditor) {
    this.style = styleOf(file)
  }

  get edited(): boolean { return this.edits.length > 0 }
  get count(): number { return this.edits.length + this.added.size }

  replace(start: number, end: number, text: string): void {
    const kept = freeWords(text)
    const note = (node: ts.Node): void => {
      if (node.pos > end || node.end < start) return
      // A name that the new text holds too, other than behind a dot, is still used.
      if (ts.isIdentifier(node)) { if (node.getStart(this.file) >= start && node.end <= end && !kept.has(node.text)) this.removedNames.add(node.getStart(this.file)) }
      else ts.forEachChild(node, note)
    }
    if (end > start) note(this.file)
    this.edits.push({ start, end, text })
  }

  /** Says that text written elsewhere in the file uses these names, so that their imports stay. */
  keepNames(text: string): void { for (const word of freeWords(text)) this.reusedLocals.add(word) }

  insert(at: number, text: string): void { this.edits.push({ start: at, end: at, text }) }

  get text(): string { return this.file.text }

  freeAround(start: number, end: number): { from: number; to: number } { return freeAround(this.edits, start, end, this.text.length) }

  private readonly exporting = new Set<ts.Statement>()

  isExporting(statement: ts.Statement): boolean { return this.exporting.has(statement) }

  /** Lets the file export what a statement declares. */
  exportAtStart(statement: ts.Statement): void {
    this.exporting.add(statement)
    this.insert(statement.getStart(this.file), 'export ')
  }

  /** Indentation of the line on which a position stands. */
  indentAt(position: number): string {
    const lineStart = this.file.text.lastIndexOf('\n', position - 1) + 1
    return /^[ \t]*/.exec(this.file.text.slice(lineStart))![0]
  }

  /** The name under which something can be used in this file; an import is added where needed. */
  nameFor(needed: NeededName): string {
    if (needed.file === this.path) return needed.name
    const existing = this.findImport(needed)
    if (existing) {
      this.reusedLocals.add(existing)
      return existing
    }
    const key = `${needed.file ?? ''}\0${needed.specifier ?? ''}\0${needed.name}`
    const known = this.added.get(key)
    if (known) {
      if (known.typeOnly && !needed.typeOnly) this.added.set(key, { ...known, typeOnly: false })
      return known.local
    }
    const taken = topLevelNames(this.file)
    let local = needed.name
    for (let n = 2; taken.has(local) || [...this.added.values()].some(other => other.local === local); n++) local = `${needed.name}${n}`
    this.added.set(key, { ...needed, local })
    return local
  }

  /** Imports a name as itself where the file's own declaration of it goes away. */
  importAsItself(needed: NeededName): void {
    this.added.set(`${needed.file ?? ''}\0${needed.specifier ?? ''}\0${needed.name}`, { ...needed, local: needed.name })
  }

  /** Takes names out of the list of an import or export, of which others stay. */
  removeElements(elements: ts.NodeArray<ts.ImportSpecifier> | ts.NodeArray<ts.ExportSpecifier>, goes: ReadonlySet<ts.Node>): void {
    this.edits.push(...elementRemovals(elements, goes, this.file, this.edits))
  }

  private findImport(needed: NeededName): string | undefined {
    for (const statement of this.file.statements) {
      if (!ts.isImportDeclaration(statement) || !statement.importClause || !ts.isStringLiteral(statement.moduleSpecifier)) continue
      const clause = statement.importClause
      const elements = clause.namedBindings && ts.isNamedImports(clause.namedBindings) ? clause.namedBindings.elements : []
      for (const element of elements) {
        if (this.meansNeeded(element.name, needed)) {
          if (!needed.typeOnly) this.makeValueImport(clause, element)
          return element.name.text
        }
      }
      if (clause.name && this.meansNeeded(clause.name, needed) && (needed.typeOnly || !clause.isTypeOnly)) return clause.name.text
    }
    return undefined
  }

  private meansNeeded(name: ts.Identifier, needed: NeededName): boolean {
    const { checker } = this.project.snapshot
    const symbol = checker.getSymbolAtLocation(name)
    const target = symbol && symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol
    return target?.declarations?.some(declaration => {
      const path = this.project.snapshot.pathOf(declaration.getSourceFile())
      return needed.file !== null ? path === needed.file && this.project.exportedName(declaration) === needed.name : false
    }) === true || (needed.file === null && needed.specifier !== null && ts.isImportSpecifier(name.parent) &&
      (name.parent.propertyName ?? name.parent.name).text === needed.name &&
      (name.parent.parent.parent.parent.moduleSpecifier as ts.StringLiteral).text === needed.specifier)
  }

  /** Lets an import that is for types only bring the value too. */
  private makeValueImport(clause: ts.ImportClause, element: ts.ImportSpecifier): void {
    if (clause.isTypeOnly) {
      const keyword = clause.getFirstToken(this.file)!
      const end = keyword.end + /^\s*/.exec(this.file.text.slice(keyword.end))![0].length
      // The others of the statement go along; erasing them is then up to the compiler.
      if (!this.edits.some(edit => edit.start === keyword.getStart(this.file) && edit.text === '')) this.edits.push({ start: keyword.getStart(this.file), end, text: '' })
    } else if (element.isTypeOnly) {
      const start = element.getStart(this.file)
      const end = (element.propertyName ?? element.name).getStart(this.file)
      if (!this.edits.some(edit => edit.start === start)) this.edits.push({ start, end, text: '' })
    }
  }

  /** All edits of the file, with imports added, merged and, where nothing uses them any more, removed. */
  finish(): { edits: TextEdit[]; after: string } {
    const edits = [...this.edits]
    const removable = this.unusedImports()
    const gone = this.writeRemovedImports(edits, removable)
    this.writeAddedImports(edits, removable, gone)
    return { edits, after: applyEdits(this.file.text, edits) }
  }

  /** Import names whose every use was edited away. Those that nothing used before stay: they are the user's. */
  private unusedImports(): Set<ts.ImportSpecifier | ts.ImportClause> {
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
    const unused = new Set<ts.ImportSpecifier | ts.ImportClause>()
    for (const statement of this.file.statements) {
      if (!ts.isImportDeclaration(statement) || !statement.importClause) continue
      const clause = statement.importClause
      const names: (ts.ImportSpecifier | ts.ImportClause)[] = clause.name ? [clause] : []
      if (clause.namedBindings && ts.isNamedImports(clause.namedBindings)) names.push(...clause.namedBindings.elements)
      for (const holder of names) {
        const symbol = checker.getSymbolAtLocation(holder.name!)
        const entry = symbol && uses.get(symbol)
        if (entry && entry.before > 0 && entry.left === 0 && !this.reusedLocals.has(holder.name!.text)) unused.add(holder)
      }
    }
    return unused
  }

  private writeRemovedImports(edits: TextEdit[], unused: ReadonlySet<ts.ImportSpecifier | ts.ImportClause>): Set<ts.Statement> {
    const text = this.file.text
    const gone = new Set<ts.Statement>()
    for (const statement of this.file.statements) {
      if (!ts.isImportDeclaration(statement) || !statement.importClause) continue
      const clause = statement.importClause
      const bindings = clause.namedBindings
      const elements = bindings && ts.isNamedImports(bindings) ? bindings.elements : undefined
      const goes = (elements ?? []).filter(element => unused.has(element))
      const defaultGoes = clause.name !== undefined && unused.has(clause)
      if (goes.length === 0 && !defaultGoes) continue
      const touched = edits.some(edit => edit.start >= statement.getStart(this.file) && edit.end <= statement.end && edit.start < statement.end)
      const allGo = (!clause.name || defaultGoes) && (elements ? goes.length === elements.length : !bindings)
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

  private writeAddedImports(edits: TextEdit[], removable: ReadonlySet<ts.ImportSpecifier | ts.ImportClause>, gone: ReadonlySet<ts.Statement>): void {
    const lines: string[] = []
    const { style } = this
    const merged = new Map<ts.ImportDeclaration, string[]>()
    const fresh = new Map<string, { names: string[]; typeOnly: boolean }>()
    const style2 = this.project.typeStyle
    for (const needed of this.added.values()) {
      const specifier = needed.specifier ?? this.project.specifierFor(this.path, needed.file!)
      const renamed = needed.local === needed.name ? needed.name : `${needed.name} as ${needed.local}`
      if (needed.name === 'default') {
        fresh.set(`${specifier}\0default`, { names: [needed.local], typeOnly: false })
        continue
      }
      const statementType = needed.typeOnly && style2 === 'statement'
      const host = this.file.statements.filter(ts.isImportDeclaration).find(statement => {
        const clause = statement.importClause
        if (!clause?.namedBindings || !ts.isNamedImports(clause.namedBindings) || clause.namedBindings.elements.length === 0) return false
        // A statement whose names all go is removed as a whole.
        if (clause.namedBindings.elements.every(element => removable.has(element))) return false
        return (statement.moduleSpecifier as ts.StringLiteral).text === specifier && clause.isTypeOnly === statementType
      })
      const written = needed.typeOnly && style2 === 'inline' ? `type ${renamed}` : renamed
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
      const names = mode === 'default' ? entry.names[0]! : `{ ${entry.names.join(', ')} }`
      lines.push(`import ${entry.typeOnly ? 'type ' : ''}${names} from ${style.quote}${specifier}${style.quote}${style.semicolons ? ';' : ''}`)
    }
    if (lines.length === 0) { this.closeGap(edits, gone); return }
    const imports = this.file.statements.filter(statement => ts.isImportDeclaration(statement) || ts.isImportEqualsDeclaration(statement))
    const staying = imports.filter(statement => !gone.has(statement))
    const last = staying[staying.length - 1]
    if (!last && imports[0]) edits.push({ start: imports[0].getStart(this.file), end: imports[0].getStart(this.file), text: lines.map(line => line + style.lineEnd).join('') })
    else if (last) edits.push({ start: last.end, end: last.end, text: lines.map(line => style.lineEnd + line).join('') })
    else {
      const at = this.headerEnd()
      edits.push({ start: at, end: at, text: lines.map(line => line + style.lineEnd).join('') + style.lineEnd })
    }
  }

  /** Where all imports went and none came, the blank line that parted them from the rest goes too. */
  private closeGap(edits: TextEdit[], gone: ReadonlySet<ts.Statement>): void {
    const imports = this.file.statements.filter(ts.isImportDeclaration)
    const first = imports[0], last = imports.at(-1)
    if (!first || !last || !imports.every(one => gone.has(one)) || this.file.text.slice(0, first.getStart(this.file)).trim() !== '') return
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
}

/** Words of a text that are not behind a dot. */
function freeWords(text: string): Set<string> {
  return new Set(text.match(/(?<![\w$.])[A-Za-z_$][\w$]*/g))
}

function elementRemovals(
  elements: ts.NodeArray<ts.ImportSpecifier> | ts.NodeArray<ts.ExportSpecifier>, goes: ReadonlySet<ts.Node>, file: ts.SourceFile, others: readonly TextEdit[]
): TextEdit[] {
  const removals: TextEdit[] = []
  elements.forEach((element: ts.Node, index: number) => {
    if (!goes.has(element)) return
    const next = elements[index + 1], previous = elements[index - 1]
    const start = next || !previous ? element.getStart(file) : previousEnd(elements, index, goes)
    const end = next ? next.getStart(file) : element.end
    if (![...others, ...removals].some(edit => edit.start < end && edit.end > start)) removals.push({ start, end, text: '' })
  })
  return removals
}

function previousEnd(elements: ts.NodeArray<ts.ImportSpecifier> | ts.NodeArray<ts.ExportSpecifier>, index: number, unused: ReadonlySet<ts.Node>): number {
  let at = index - 1
  while (at > 0 && unused.has(elements[at]!)) at--
  return elements[at]!.end
}

export function topLevelNames(file: ts.SourceFile): Set<string> {
  const locals = (file as ts.SourceFile & { locals?: ReadonlyMap<string, unknown> }).locals
  return new Set(locals ? [...locals.keys()] : [])
}

/** Editors of all files that a plan touches, and files that it makes. */
export class ProjectEditor {
  private readonly editors = new Map<string, FileEditor>()
  private readonly created = new Map<string, string>()
  private readonly removed = new Set<string>()
  private readonly newlyExported = new Set<ts.Node>()
  private packageImports: Map<ts.Symbol, { name: string; specifier: string }> | undefined
  private readonly packageModules = new Set<ts.Symbol>()
  readonly typeStyle: TypeImportStyle

  constructor(readonly snapshot: Snapshot, readonly root: string) {
    this.typeStyle = typeImportStyle(snapshot.paths.keys(), snapshot.files.options)
  }

  editor(path: string): FileEditor {
    let editor = this.editors.get(path)
    if (!editor) this.editors.set(path, editor = new FileEditor(this.snapshot.program.getSourceFile(`${this.root}/${path}`)!, path, this))
    return editor
  }

  create(path: string, text: string): void { this.created.set(path, text) }

  /** Takes a file away; what its editor gathered is dropped. */
  remove(path: string): void { this.removed.add(path) }

  /** Lets the file of a class that is declared at its top export it. False where that cannot be written. */
  exportClass(node: ts.ClassLikeDeclaration): boolean {
    const path = this.snapshot.pathOf(node.getSourceFile())
    if (!ts.isClassDeclaration(node) || !node.name || !ts.isSourceFile(node.parent) || path === undefined || ts.getDecorators(node)?.length) return false
    if (!this.newlyExported.has(node)) this.editor(path).insert(node.getStart(), 'export ')
    this.newlyExported.add(node)
    return true
  }

  /** Name under which a declaration is exported by its own file, `default` included; undefined where it is not. */
  exportedName(declaration: ts.Node): string | undefined {
    if (this.newlyExported.has(declaration)) return (declaration as ts.ClassDeclaration).name!.text
    const file = declaration.getSourceFile()
    const module = this.snapshot.checker.getSymbolAtLocation(file)
    const own = (declaration as ts.Node & { symbol?: ts.Symbol; localSymbol?: ts.Symbol })
    if (!module || !own.symbol) return undefined
    for (const exported of this.snapshot.checker.getExportsOfModule(module)) {
      const target = exported.flags & ts.SymbolFlags.Alias ? this.snapshot.checker.getAliasedSymbol(exported) : exported
      if (target === own.symbol || target.declarations?.includes(declaration as ts.Declaration)) return exported.name
    }
    return undefined
  }

  /** How one file imports another: as the files around do it, endings and aliases included. */
  specifierFor(from: string, to: string): string {
    const { snapshot } = this
    const target = snapshot.program.getSourceFile(`${this.root}/${to}`)
    const file = snapshot.program.getSourceFile(`${this.root}/${from}`)
    if (target && file) {
      const existing = this.existingSpecifier(file, target)
      if (existing !== undefined) return existing
    }
    if (packageFolder(snapshot, from) !== packageFolder(snapshot, to)) {
      for (const [other, path] of snapshot.paths) {
        if (packageFolder(snapshot, path) !== packageFolder(snapshot, from) || !target) continue
        const existing = this.existingSpecifier(other, target)
        if (existing !== undefined && !existing.startsWith('.')) return existing
      }
      throw new NameConflict(`${from} and ${to} are in different packages, and no file of the first imports the second yet`)
    }
    return relativeSpecifier(from, to, this.relativeEnding(file, to))
  }

  /** How any file of the project imports something that a package exports: its name there, and the package's specifier. */
  packageImportOf(symbol: ts.Symbol): { name: string; specifier: string } | undefined {
    if (!this.packageImports) {
      this.packageImports = new Map()
      for (const file of this.snapshot.paths.keys()) {
        for (const statement of file.statements) {
          if (!ts.isImportDeclaration(statement) || !ts.isStringLiteral(statement.moduleSpecifier) || statement.moduleSpecifier.text.startsWith('.')) continue
          const module = this.snapshot.checker.getSymbolAtLocation(statement.moduleSpecifier)
          if (!module || this.packageModules.has(module)) continue
          this.packageModules.add(module)
          for (const exported of this.snapshot.checker.getExportsOfModule(module)) {
            const target = exported.flags & ts.SymbolFlags.Alias ? this.snapshot.checker.getAliasedSymbol(exported) : exported
            if (!this.packageImports.has(target)) this.packageImports.set(target, { name: exported.name, specifier: statement.moduleSpecifier.text })
          }
        }
      }
    }
    return this.packageImports.get(symbol)
  }

  private existingSpecifier(file: ts.SourceFile, target: ts.SourceFile): string | undefined {
    for (const statement of file.statements) {
      if (!ts.isImportDeclaration(statement) || !ts.isStringLiteral(statement.moduleSpecifier)) continue
      const symbol = this.snapshot.checker.getSymbolAtLocation(statement.moduleSpecifier)
      if (symbol?.declarations?.includes(target)) return statement.moduleSpecifier.text
    }
    return undefined
  }

  /** The ending with which relative imports are written: of the file itself, else of any file, else as the options want it. */
  private relativeEnding(file: ts.SourceFile | undefined, to: string): string {
    const written = to.replace(/\.d\.ts$/, '').match(/\.[^./]+$/)?.[0] ?? ''
    const output = written.replace(/^\.([cm]?)tsx?$/, '.$1js').replace('.jsx', '.js')
    const sample = (candidate: ts.SourceFile): string | undefined => {
      for (const statement of candidate.statements) {
        if (!ts.isImportDeclaration(statement) && !ts.isExportDeclaration(statement)) continue
        const specifier = statement.moduleSpecifier
        if (!specifier || !ts.isStringLiteral(specifier) || !/^\.\.?\//.test(specifier.text)) continue
        if (/\.[cm]?jsx?$/.test(specifier.text)) return output
        if (/\.[cm]?tsx?$/.test(specifier.text)) return written
        if (!/\.\w+$/.test(specifier.text)) return ''
      }
      return undefined
    }
    const own = file && sample(file)
    if (own !== undefined) return own
    for (const other of this.snapshot.paths.keys()) {
      const found = sample(other)
      if (found !== undefined) return found
    }
    const resolution = this.snapshot.files.options.moduleResolution
    return resolution === ts.ModuleResolutionKind.NodeNext || resolution === ts.ModuleResolutionKind.Node16 ? output : ''
  }

  /** All changes, with the edits behind them for the check. */
  finish(): { changes: FileChange[]; edits: Map<string, TextEdit[]>; count: number } {
    const changes: FileChange[] = []
    const edits = new Map<string, TextEdit[]>()
    let count = this.created.size
    for (const [path, text] of this.created) changes.push({ path, before: null, after: text })
    for (const path of this.removed) { changes.push({ path, before: this.snapshot.textOf(path) ?? null, after: null }); count++ }
    for (const [path, editor] of this.editors) {
      if (this.removed.has(path)) continue
      const outcome = editor.finish()
      if (outcome.edits.length === 0) continue
      edits.set(path, outcome.edits)
      count += outcome.edits.length
      changes.push({ path, before: editor.file.text, after: outcome.after })
    }
    return { changes: changes.sort((a, b) => (a.path < b.path ? -1 : 1)), edits, count }
  }
}

function packageFolder(snapshot: Snapshot, path: string): string {
  const folders = new Set(snapshot.files.packages.values())
  for (let folder = folderOf(path); ; folder = folderOf(folder)) if (folder === '' || folders.has(folder)) return folder
}

export function relativeSpecifier(from: string, to: string, ending: string): string {
  const source = folderOf(from) === '' ? [] : folderOf(from).split('/')
  const target = to.replace(/(\.d)?\.[cm]?[jt]sx?$/, '').split('/')
  let same = 0
  while (same < source.length && same < target.length - 1 && source[same] === target[same]) same++
  const up = '../'.repeat(source.length - same)
  return (up === '' ? './' : up) + target.slice(same).join('/') + ending
}
