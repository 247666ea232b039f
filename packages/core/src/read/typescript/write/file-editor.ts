import ts from 'typescript'
import type { FileChange, TextEdit } from '../../../edit/text-edit.js'
import { applyEdits } from '../../../edit/text-edit.js'
import { Refused } from '../../write/refused.js'
import type { LineEditor } from '../../write/removed-lines.js'
import { freeAround } from '../../write/removed-lines.js'
import { folderOf, readJson } from '../project-files.js'
import type { Snapshot } from '../session.js'
import { packageEntries, specifierByPattern } from '../workspace.js'
import type { FileStyle, TypeImportStyle } from './style.js'
import { styleOf, typeImportStyle } from './style.js'
import type { NeededName } from './file-imports.js'
import { elementRemovals, FileImports } from './file-imports.js'
import { handedOnBy } from './handed-on.js'

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
    const proposed = needed.as ?? (needed.name === 'default' ? this.project.defaultNameOf(needed.file) : needed.name)
    let local = proposed
    for (let n = 2; taken.has(local) || [...this.added.values()].some(other => other.local === local); n++) local = `${proposed}${n}`
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
      if (needed.name === '*') {
        if (clause.namedBindings && ts.isNamespaceImport(clause.namedBindings) && (needed.typeOnly || !clause.isTypeOnly) && this.isModule(statement.moduleSpecifier, needed)) return clause.namedBindings.name.text
        continue
      }
      const elements = clause.namedBindings && ts.isNamedImports(clause.namedBindings) ? clause.namedBindings.elements : []
      for (const element of elements) {
        if (this.meansNeeded(element.name, needed)) {
          if (!needed.typeOnly) this.makeValueImport(clause, element)
          return element.name.text
        }
      }
      if (clause.name && (needed.typeOnly || !clause.isTypeOnly) && (this.meansNeeded(clause.name, needed) || (needed.name === 'default' && this.isModule(statement.moduleSpecifier, needed)))) return clause.name.text
    }
    return undefined
  }

  /** Whether an import is of the module that a needed name is had from. */
  private isModule(specifier: ts.StringLiteral, { file, specifier: wanted }: NeededName): boolean {
    if (file === null) return specifier.text === wanted
    const { checker, pathOf } = this.project.snapshot
    return checker.getSymbolAtLocation(specifier)?.declarations?.some(one => ts.isSourceFile(one) && pathOf(one) === file) === true
  }

  private meansNeeded(name: ts.Identifier, needed: NeededName): boolean {
    const { checker } = this.project.snapshot
    const symbol = checker.getSymbolAtLocation(name)
    const target = symbol && symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol
    return target?.declarations?.some(declaration => {
      const path = this.project.snapshot.pathOf(declaration.getSourceFile())
      return needed.file !== null ? path === needed.file && this.project.exportedName(declaration) === needed.name : false
    }) === true || (needed.file !== null && ts.isImportSpecifier(name.parent) && (name.parent.propertyName ?? name.parent.name).text === needed.name && handedOnBy(name.parent, this.project.snapshot) === needed.file) || (needed.file === null && needed.specifier !== null && ts.isImportSpecifier(name.parent) &&
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

  /** All edits of the file, with imports added, merged and, where nothing uses them any more, removed. Throws `Refused` where two of them overlap. */
  finish(): { edits: TextEdit[]; after: string } {
    const edits = [...this.edits]
    new FileImports(this.file, this.path, this.style, this.project, this.added.values(), this.removedNames, this.reusedLocals).write(edits)
    try { return { edits, after: applyEdits(this.file.text, edits) } } catch (error) {
      if (!(error instanceof RangeError)) throw error
      throw new Refused('overlap', `Two changes of ${this.path} would overlap`)
    }
  }
}

/** Words of a text that are not behind a dot. */
function freeWords(text: string): Set<string> {
  return new Set(text.match(/(?<![\w$])(?<!(?<!\.\.)\.)[A-Za-z_$][\w$]*/g))
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
    const names = this.snapshot.checker.getExportsOfModule(module).filter(exported => {
      const target = exported.flags & ts.SymbolFlags.Alias ? this.snapshot.checker.getAliasedSymbol(exported) : exported
      return target === own.symbol || target.declarations?.includes(declaration as ts.Declaration)
    }).map(exported => exported.name)
    return names.find(name => name !== 'default') ?? names[0]
  }

  /** What is called what a file exports by default: as it is declared, else by its file. */
  defaultNameOf(path: string | null): string {
    const { checker, program } = this.snapshot
    const file = path === null ? undefined : program.getSourceFile(`${this.root}/${path}`), module = file && checker.getSymbolAtLocation(file)
    const found = module && checker.tryGetMemberInModuleExports('default', module)
    const declared = found && found.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(found) : found
    const name = (declared?.declarations?.[0] as { name?: ts.Node } | undefined)?.name?.getText()
    if (name !== undefined && /^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name)) return name
    return (path ?? 'imported').replace(/^.*\//, '').replace(/\.[^.]*$/, '').replace(/[^\p{L}\p{N}]+(\p{L})?/gu, (_, letter: string | undefined) => letter?.toUpperCase() ?? '').replace(/^(?=\p{N})|^$/u, 'imported')
  }

  /** How one file imports a name that another exports: as the files around do it, endings and aliases included, and from another package by what that shows. */
  specifierFor(from: string, to: string, name: string): string {
    const found = this.possibleSpecifier(from, to, name)
    if (found === undefined) throw new NameConflict(`${from} and ${to} are in different packages, and no file of the first imports the second yet`)
    return found
  }

  /** The same; undefined where the other package does not show it, so that no import can be written. */
  possibleSpecifier(from: string, to: string, name: string): string | undefined {
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
      return target && this.shownByPackage(from, target, to, name)
    }
    return relativeSpecifier(from, to, this.relativeEnding(file, to))
  }

  /** How a package shows a name of one of its files to another that depends on it. */
  private shownByPackage(from: string, target: ts.SourceFile, to: string, name: string): string | undefined {
    const { snapshot: { files, source, checker, program }, root } = this
    const meant = (file: ts.SourceFile | undefined) => {
      const module = file && checker.getSymbolAtLocation(file), found = module && checker.tryGetMemberInModuleExports(name, module)
      return found && found.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(found) : found
    }
    const wanted = meant(target), home = packageFolder(this.snapshot, to)
    const owner = [...files.packages].find(([, folder]) => folder === home)?.[0]
    if (!wanted || owner === undefined || !dependsOn(readJson(source, `${root}/${packageFolder(this.snapshot, from)}/package.json`), owner)) return undefined
    const entry = [...packageEntries(source, root, files)].find(([path, one]) => one.package === owner && meant(program.getSourceFile(`${root}/${path}`)) === wanted)
    return entry?.[1].specifier ?? specifierByPattern(source, root, files, to)
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

function dependsOn(manifest: Record<string, unknown> | undefined, name: string): boolean {
  return ['dependencies', 'devDependencies', 'peerDependencies', 'optionalDependencies'].some(field => name in (manifest?.[field] as object | undefined ?? {}))
}

/** The folder of the package of the workspace that a file belongs to. */
export function packageFolder(snapshot: Snapshot, path: string): string {
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
