import type { FileChange, TextEdit } from '../../../edit/text-edit.js'
import { applyEdits, orderEdits } from '../../../edit/text-edit.js'
import { compareText } from '../../../model/order.js'
import { ClassSymbol, Flags } from '../../binding/symbols.js'
import type { FlatTree, Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import type { LineEditor } from '../../write/removed-lines.js'
import { freeAround } from '../../write/removed-lines.js'
import type { Import, JavaFile, Scope } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import type { BoundProgram } from '../bound-program.js'

/** How a file is laid out. */
export interface JavaStyle {
  readonly lineEnd: string
  readonly indent: string
}

/** What names mean in a file that is being written, and what it has to import. */
export abstract class FileNames {
  /** Qualified names that it has to import. */
  readonly needed = new Set<string>()

  constructor(readonly packageName: string) {}

  protected abstract meaning(name: string): unknown
  protected abstract importsAs(name: string): string | undefined

  /** A class as it is written here; imported where that is needed and possible. Throws `Refused` where it cannot be seen. */
  nameOf(symbol: ClassSymbol, from?: ClassSymbol): string {
    this.refuseHidden(symbol, from)
    if (this.meaning(symbol.name) === symbol && !symbol.outer) return symbol.name
    if (symbol.outer) return this.meaning(symbol.name) === symbol ? symbol.name : `${this.nameOf(symbol.outer, from)}.${symbol.name}`
    return this.byName(symbol.packageName, symbol.name)
  }

  /** A top-level class, which need not exist yet. */
  byName(packageName: string, name: string): string {
    const qualified = packageName === '' ? name : `${packageName}.${name}`
    const known = this.meaning(name), imported = this.importsAs(name)
    if (known instanceof ClassSymbol && known.id === qualified) return name
    // The import may be of a library that is not at hand.
    if (imported !== undefined && imported !== qualified) return qualified
    if (packageName === this.packageName || this.needed.has(qualified)) {
      return known === undefined ? name : qualified
    }
    if (packageName === '') throw new Refused('not-visible', `${name} is in no package, so that nothing in a package can name it`)
    if (known !== undefined || [...this.needed].some(one => one.endsWith(`.${name}`))) return qualified
    if (imported === undefined && packageName !== 'java.lang') this.needed.add(qualified)
    return name
  }

  private refuseHidden(symbol: ClassSymbol, from?: ClassSymbol): void {
    for (let at: ClassSymbol | null = symbol; at; at = at.outer) {
      if (at.flags & Flags.Local) throw new Refused('not-visible', `${at.name || 'an anonymous class'} is known only inside a method`)
      if (at.flags & Flags.Public) continue
      if (at.flags & Flags.Private ? from?.outermost !== at.outermost : at.packageName !== this.packageName) throw new Refused('not-visible', `${at.name} cannot be seen there`)
    }
  }
}

/** Edits of one file of the sources. */
export class JavaFileEditor extends FileNames implements LineEditor {
  private readonly edits: TextEdit[] = []
  private readonly removed = new Set<string>()
  readonly tree: FlatTree
  readonly style: JavaStyle

  constructor(readonly java: JavaFile, private readonly bound: BoundProgram, private readonly scope: Scope) {
    super(java.packageName)
    this.tree = java.tree
    this.style = styleOf(this.tree)
  }

  get path(): string { return this.java.path }
  get text(): string { return this.tree.text }

  freeAround(start: number, end: number): { from: number; to: number } { return freeAround(this.edits, start, end, this.text.length) }

  protected meaning(name: string): unknown { return this.bound.program.names.simple(name, this.scope) }
  protected importsAs(name: string): string | undefined { return this.java.singleImports.get(name)?.name }

  insert(at: number, text: string): void { this.edits.push({ start: at, end: at, text }) }

  replace(start: number, end: number, text: string): void {
    for (const word of this.tree.text.slice(start, end).match(/[\p{L}\p{N}_$]+/gu) ?? []) this.removed.add(word)
    this.edits.push({ start, end, text })
  }

  replaceNode(node: Node, text: string): void { this.replace(this.tree.start(node), this.tree.end(node), text) }

  /** Blank characters with which the line of an offset begins. */
  indentAt(offset: number): string {
    const { text } = this.tree
    const start = text.lastIndexOf('\n', offset - 1) + 1
    return /^[ \t]*/.exec(text.slice(start, offset))![0]
  }

  private readonly dropped = new Set<Import>()

  /** Takes an import out with its line. */
  dropImport(one: Import): void { this.dropped.add(one) }

  get changed(): boolean { return this.edits.length > 0 || this.dropped.size > 0 }

  /** All edits, those of imports among them. */
  finish(): TextEdit[] {
    const edits = [...this.edits]
    const unused = [...new Set([...this.dropped, ...this.unused()])]
    const kept = this.java.imports.filter(one => !unused.includes(one))
    const needed = [...this.needed].sort(compareText)
    for (const [index, name] of needed.entries()) {
      // Where one import goes and another comes beside it, the one takes the other's place.
      const replaced = unused.find(one => !one.isStatic && packageOf(one.name) === packageOf(name)) ?? (kept.some(one => !one.isStatic) ? undefined : unused.find(one => !one.isStatic))
      if (replaced) {
        unused.splice(unused.indexOf(replaced), 1)
        edits.push({ start: this.tree.start(replaced.node), end: this.tree.end(replaced.node), text: `import ${name};` })
      } else edits.push(this.importEdit(name, kept, index === 0, index === needed.length - 1))
    }
    for (const one of unused) edits.push(this.removal(one, unused))
    return orderEdits(edits)
  }

  /** The whole line of an import, and the blank line after it where one stands before it too. */
  private removal(one: Import, all: readonly Import[]): TextEdit {
    const { text } = this.tree
    const start = this.tree.start(one.node)
    // Where those directly before it go too, what stands before all of them counts.
    let before = start
    for (let at = this.java.imports.indexOf(one) - 1; at >= 0 && all.includes(this.java.imports[at]!); at--) {
      const other = this.java.imports[at]!
      if (!/^[ \t]*\r?\n$/.test(text.slice(this.tree.end(other.node), before))) break
      before = this.tree.start(other.node)
    }
    let end = this.tree.end(one.node)
    while (end < text.length && text[end] !== '\n' && /\s/.test(text[end]!)) end++
    if (text[end] === '\n') end++
    const next = /^[ \t]*\r?\n/.exec(text.slice(end, end + 80))?.[0]
    if (next !== undefined && (before === 0 || /\n[ \t]*\r?\n$/.test(text.slice(Math.max(0, before - 80), before)))) end += next.length
    return { start, end, text: '' }
  }

  /** Imports of names that the edits took away and that nothing else in the file says, not even a comment. */
  private unused(): Import[] {
    // One that was edited is wanted under its new name.
    const isEdited = (one: Import) => this.edits.some(edit => edit.start >= this.tree.start(one.node) && edit.end <= this.tree.end(one.node))
    const candidates = this.java.imports.filter(one => !one.onDemand && this.removed.has(simpleNameOf(one.name)) && !isEdited(one))
    if (candidates.length === 0) return []
    const holes = this.java.imports.map(one => ({ start: this.tree.start(one.node), end: this.tree.end(one.node), text: '' }))
    const inner = this.edits.filter(edit => !holes.some(hole => edit.start >= hole.start && edit.end <= hole.end))
    const rest = applyEdits(this.tree.text, [...holes, ...inner])
    return candidates.filter(one => !new RegExp(`(?<![\\p{L}\\p{N}_$.])${simpleNameOf(one.name).replace(/\$/g, '\\$')}(?![\\p{L}\\p{N}_$])`, 'u').test(rest))
  }

  /** Beside the import whose name is most alike, in alphabetical order where that one is. */
  private importEdit(name: string, kept: readonly Import[], isFirst: boolean, isLast: boolean): TextEdit {
    const { tree, style: { lineEnd } } = this
    const line = `import ${name};`
    const plain = kept.filter(one => !one.isStatic)
    if (plain.length === 0) {
      const first = kept[0]
      if (first) return { start: tree.start(first.node), end: tree.start(first.node), text: line + lineEnd }
      const declared = tree.childOf(0, Kind.PackageDeclaration)
      if (declared !== NONE) return { start: tree.end(declared), end: tree.end(declared), text: `${isFirst ? lineEnd : ''}${lineEnd}${line}` }
      return { start: 0, end: 0, text: `${line}${lineEnd}${isLast ? lineEnd : ''}` }
    }
    const alike = (one: Import): number => {
      const a = name.split('.'), b = one.name.split('.')
      let count = 0
      while (count < a.length && a[count] === b[count]) count++
      return count
    }
    const most = Math.max(...plain.map(alike))
    const group = plain.filter(one => alike(one) === most)
    const before = group.filter(one => compareText(one.name, name) < 0).at(-1)
    if (before) return { start: tree.end(before.node), end: tree.end(before.node), text: lineEnd + line }
    const start = tree.start(group[0]!.node)
    return { start, end: start, text: line + lineEnd }
  }
}

/** A file that is to be made. */
export class NewJavaFile extends FileNames {
  /** Names that mean something of its own: its type, its type parameters. */
  constructor(packageName: string, private readonly own: ReadonlySet<string>, private readonly bound: BoundProgram) { super(packageName) }

  protected meaning(name: string): unknown {
    if (this.own.has(name)) return this.own
    const { program } = this.bound
    return program.classIn(this.packageName, name) ?? ([...this.needed].some(one => one.endsWith(`.${name}`)) ? undefined : program.classIn('java.lang', name))
  }

  protected importsAs(name: string): string | undefined { return [...this.needed].find(one => one.endsWith(`.${name}`)) }
}

function packageOf(name: string): string { return name.slice(0, Math.max(0, name.lastIndexOf('.'))) }
function simpleNameOf(name: string): string { return name.slice(name.lastIndexOf('.') + 1) }

/** Line ends, and what a member of a class is indented by. */
export function styleOf(tree: FlatTree): JavaStyle {
  const { text } = tree
  const lineEnd = text.includes('\r\n') ? '\r\n' : '\n'
  const blank = (offset: number): string => /^[ \t]*/.exec(text.slice(text.lastIndexOf('\n', offset - 1) + 1, offset))![0]
  for (let at = tree.first(0); at !== NONE; at = tree.next(at, 0)) {
    const body = tree.child(at, Field.Body)
    const member = body === NONE ? NONE : tree.first(body)
    if (member === NONE) continue
    const indent = blank(tree.start(member)).slice(blank(tree.start(at)).length)
    if (indent !== '') return { lineEnd, indent }
  }
  return { lineEnd, indent: '    ' }
}

/** Edits of all files of one change. */
export class JavaEditor {
  private readonly editors = new Map<string, JavaFileEditor>()
  private readonly created = new Map<string, string>()
  /** From where files are to where they will be. */
  readonly moved = new Map<string, string>()

  constructor(readonly bound: BoundProgram) {}

  /** The editor of a file; names are seen as they are inside `at`, by default as at the file's top. */
  file(path: string): JavaFileEditor {
    let editor = this.editors.get(path)
    if (!editor) {
      const file = this.bound.file(path)
      if (!file) throw new Refused('not-readable', `${path} cannot be followed`)
      const [only] = file.java.types
      this.editors.set(path, editor = new JavaFileEditor(file.java, this.bound, only ? this.bound.program.declarations.get(only)!.scope : file.java.scope))
    }
    return editor
  }

  create(path: string, text: string): void { this.created.set(path, text) }

  /** The file as it will be stands under another path. */
  move(path: string, to: string): void { this.file(path); this.moved.set(path, to) }

  finish(): { changes: FileChange[]; edits: Map<string, readonly TextEdit[]>; count: number } {
    const changes: FileChange[] = []
    const edits = new Map<string, readonly TextEdit[]>()
    let count = 0
    for (const [path, text] of this.created) { changes.push({ path, before: null, after: text }); count++ }
    for (const [path, editor] of this.editors) {
      const target = this.moved.get(path)
      if ((editor.changed || target !== undefined) && this.bound.foreign.has(path)) throw new Refused('encoding', `${path} is not valid UTF-8, so that it could not be written as it was; save it as UTF-8 first`)
      if (!editor.changed && editor.needed.size === 0 && target === undefined) continue
      const list = editor.finish()
      const before = editor.tree.text
      let after: string
      try { after = applyEdits(before, list) } catch (error) {
        if (!(error instanceof RangeError)) throw error
        throw new Refused('overlap', `Two changes of ${path} would overlap`)
      }
      if (target !== undefined) {
        changes.push({ path: target, before: null, after }, { path, before, after: null })
        edits.set(path, list)
        count += list.length + 1
        continue
      }
      if (after === before) continue
      changes.push({ path, before, after })
      edits.set(path, list)
      count += list.length
    }
    return { changes: changes.sort((a, b) => compareText(a.path, b.path)), edits, count }
  }
}
