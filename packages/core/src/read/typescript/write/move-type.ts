import ts from 'typescript'
import type { TextEdit } from '../../../edit/text-edit.js'
import { applyEdits } from '../../../edit/text-edit.js'
import type { MoveTypePlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { Refused } from '../../write/refused.js'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import { packageEntries } from '../workspace.js'
import type { MovedText, PlannedRebinding } from './check.js'
import { checkedStep, refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import type { FileEditor } from './file-editor.js'
import { packageFolder, ProjectEditor } from './file-editor.js'
import { fileNameFor } from './file-name.js'
import { lineOf } from './injection-points.js'
import type { MovableDeclaration } from './movable-declaration.js'
import type { SpecifierPlace } from './module-specifiers.js'
import { isAugmented, namedInText, respecified, seenFrom, specifiersOf } from './module-specifiers.js'
import type { ImportedName, TopLevelUses } from './moving-statements.js'
import { attachedEnd, attachedStart, isExportedStatement, isTypeUse, privateTo, topLevelUses } from './moving-statements.js'
import { newFileCycle } from './new-file-cycle.js'
import { removeLines } from '../../write/removed-lines.js'
import { hasWhole, isHadWhole, nameBehind, usesThrough } from './whole-imports.js'

/**
 * A type, a function or a constant in a file of another folder: with its file where nothing else is in that, else in a file of its own, with what is
 * private to it. Whoever imported it imports it from there; what it needs of its old neighbours is exported by them.
 */
export function moveType(plan: MoveTypePlan, moving: MovableDeclaration | undefined, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  if (!moving) return planRefused('nested', `It does not stand by itself at the top of a TypeScript module${plan.member === null ? '' : ', or something runs as it is loaded'}.`)
  const { file, statements } = moving, path = snapshot.pathOf(file)!
  const folder = plan.module === '.' ? '' : plan.module
  if (!/^(?:[^/\\:*?"<>|]+(?:\/[^/\\:*?"<>|]+)*)?$/.test(folder) || folder.split('/').some(part => part === '.' || part === '..' || part === 'node_modules')) return planRefused('module', `${plan.module} is no folder that a module can have.`)
  if (folder === folderOf(path)) return planRefused('done', `${moving.name} is in ${plan.module} already.`)
  if (!statements) return planRefused('merged', `${moving.name} is declared in several places that belong together.`)
  if (isAugmented(file, snapshot)) return planRefused('augmented', `Something else in the project adds to what ${path} declares.`)

  const { uses, moved, whole } = goingWith(statements, file, snapshot)
  const name = whole ? path.slice(path.lastIndexOf('/') + 1) : fileNameFor(moving.name, path).replace(/\.ts$/, path.endsWith('.tsx') && [...moved].some(holdsMarkup) ? '.tsx' : '.ts')
  const target = folder === '' ? name : `${folder}/${name}`
  const entryOf = packageEntries(snapshot.source, root, snapshot.files).get(path)?.package
  if (whole && entryOf !== undefined) return planRefused('entry', `${path} is what others get of the package ${entryOf}: package.json names it.`)
  if (snapshot.files.isSource(target) || snapshot.source.isFile(`${root}/${target}`)) return planRefused('file-exists', `${target} exists already.`)

  const editor = new ProjectEditor(snapshot, root)
  const notes: string[] = []
  try {
    refuseNamesInText(path, whole, snapshot)
    const pieces = whole ? moveFile(path, file, target, editor) : moveStatements(path, file, moved, uses, target, entryOf, editor, notes)
    for (const place of specifiersOf(file, snapshot)) {
      if (place.file === file) continue
      if (whole) redirectAll(place, path, target, editor)
      // What an entry goes on exporting is still there for whoever has all of it, or has it by the package's name.
      else if (entryOf === undefined || (place.literal.text.startsWith('.') && !hasWhole(place, snapshot))) redirectSome(place, moved, target, editor, snapshot)
    }
    const outcome = checkedStep(editor, context, { notes, choices: { module: plan.module }, planned: renamed(path, file, moved, target, snapshot), moved: pieces })
    if ('refused' in outcome) return outcome
    // A file under another path imports and is imported in the same places: what is loaded when stays the same.
    const cycle = whole ? null : newFileCycle(snapshot, outcome.after, path, target)
    return cycle ? planRefused('file-cycle', `Files would load each other in a circle: ${cycle.join(' → ')}.`) : outcome
  } catch (error) { return refusalOf(error) }
}

/** What goes along, and whether nothing is left in the file then. */
function goingWith(statements: readonly ts.Statement[], file: ts.SourceFile, snapshot: Snapshot): { readonly uses: TopLevelUses; readonly moved: ReadonlySet<ts.Statement>; readonly whole: boolean } {
  const uses = topLevelUses(file, snapshot), moved = new Set(statements)
  for (const one of privateTo(moved, file, uses)) moved.add(one)
  // Where nothing else is left, what exports it apart from where it is declared goes along.
  const all = new Set([...moved, ...exportsApart(moved, uses, file).filter(one => [...uses.statements.get(one)!].every(used => moved.has(used)))])
  const whole = file.statements.every(one => all.has(one) || ts.isImportDeclaration(one) || ts.isImportEqualsDeclaration(one))
  return { uses, moved: whole ? all : moved, whole }
}

/** Statements that export some of these apart from where they are declared. */
function exportsApart(moved: ReadonlySet<ts.Statement>, uses: TopLevelUses, file: ts.SourceFile): ts.Statement[] {
  return file.statements.filter(one => !moved.has(one) && (ts.isExportAssignment(one) || (ts.isExportDeclaration(one) && !one.moduleSpecifier)) && [...uses.statements.get(one)!].some(used => moved.has(used)))
}

/** Whether what is known before anything is written lets a declaration go to another file. */
export function canMoveDeclaration({ file, statements }: MovableDeclaration, module: string, snapshot: Snapshot, root: string): boolean {
  const path = snapshot.pathOf(file)!
  // Its package would have to import it from the other, and the other perhaps what it needs from its package.
  if (!statements || packageFolder(snapshot, path) !== packageFolder(snapshot, module === '.' ? 'file' : `${module}/file`)) return false
  const isEntry = packageEntries(snapshot.source, root, snapshot.files).has(path)
  const { uses, moved, whole } = goingWith(statements, file, snapshot)
  if (!whole && ([...moved].some(isDefaultExport) || exportsApart(moved, uses, file).length > 0)) return false
  return !(isEntry || isHadWhole(file, snapshot)) || whole !== isEntry
}

function holdsMarkup(node: ts.Node): boolean { return ts.isJsxElement(node) || ts.isJsxSelfClosingElement(node) || ts.isJsxFragment(node) || ts.forEachChild(node, child => holdsMarkup(child) || undefined) === true }

function refuseNamesInText(path: string, whole: boolean, snapshot: Snapshot): void {
  const named = namedInText(path, snapshot)
  if (named) throw new Refused('named-in-text', `${named.path}:${lineOf(named.node)} names ${path} in a text that ${whole ? 'would then name nothing' : 'may mean what moves'}`)
}

/** The new ids of everything that moves. */
function renamed(path: string, file: ts.SourceFile, moved: ReadonlySet<ts.Statement>, target: string, snapshot: Snapshot): PlannedRebinding[] {
  const renamings: PlannedRebinding[] = [{ types: new Set([`${path}#`]), to: `${target}#` }]
  for (const [node, { id }] of snapshot.declarations.declaredIn(file)) {
    if ([...moved].some(one => one.pos <= node.pos && node.end <= one.end)) renamings.push({ types: new Set([id]), to: `${target}${id.slice(path.length)}` })
  }
  return renamings
}

/** The whole file under another path, its relative specifiers written anew. */
function moveFile(path: string, file: ts.SourceFile, target: string, editor: ProjectEditor): MovedText[] {
  const code = file.text
  if (/\bimport\.meta\b|\b__(dirname|filename)\b/.test(code)) throw new Refused('place', `${path} looks where it stands itself (import.meta or __dirname)`)
  const edits: TextEdit[] = []
  for (const literal of (file as ts.SourceFile & { imports?: readonly ts.StringLiteralLike[] }).imports ?? []) {
    // The compiler adds imports of its own, that of a helper library, which stand nowhere.
    if (literal.pos < 0) continue
    const text = seenFrom(literal.text, path, target)
    if (text !== literal.text) edits.push({ start: literal.getStart(file) + 1, end: literal.end - 1, text })
  }
  if (/^\/\/\/\s*<reference\s+path=/m.test(code)) throw new Refused('place', `${path} refers to another file by a path in a comment`)
  editor.create(target, applyEdits(code, edits))
  editor.remove(path)
  return [{ from: path, start: 0, end: code.length, to: target, at: 0, edits }]
}

/** Some statements of a file as a file of their own, with the imports that they need; and the file without them. */
function moveStatements(path: string, file: ts.SourceFile, moved: ReadonlySet<ts.Statement>, uses: TopLevelUses, target: string, entryOf: string | undefined, editor: ProjectEditor, notes: string[]): MovedText[] {
  const own = editor.editor(path)
  const { lineEnd, quote, semicolons } = own.style
  const end = semicolons ? ';' : ''
  const going = file.statements.filter(one => moved.has(one)), staying = file.statements.filter(one => !moved.has(one))
  if (going.some(one => /\bimport\.meta\b|\b__(dirname|filename)\b/.test(one.getText()))) throw new Refused('place', `${path} looks where it stands itself (import.meta or __dirname)`)
  if (going.some(isDefaultExport)) throw new Refused('default-export', `It is what ${path} exports by default, beside other things`)
  for (const one of exportsApart(moved, uses, file)) throw new Refused('export-list', `${path}:${lineOf(one)} exports it apart from where it is declared`)

  // What stays and what goes name each other: the one exports what the other needs.
  const fromOld = new Map<string, { typeOnly: boolean }>(), fromNew = new Map<string, { typeOnly: boolean; statement: ts.Statement }>()
  for (const statement of going) for (const [used, names] of uses.names.get(statement)!) {
    if (moved.has(used)) continue
    for (const [name, { typeOnly }] of names) fromOld.set(name, { typeOnly: typeOnly && (fromOld.get(name)?.typeOnly ?? true) })
    if (!isExportedStatement(used)) exportStatement(used, own, notes)
  }
  for (const statement of staying) for (const [used, names] of uses.names.get(statement)!) {
    if (moved.has(used)) for (const [name, { typeOnly }] of names) fromNew.set(name, { typeOnly: typeOnly && (fromNew.get(name)?.typeOnly ?? true), statement: used })
  }
  const imports = importLines(going, uses, path, target)
  if (fromOld.size > 0) {
    const all = [...fromOld].sort((a, b) => (a[0] < b[0] ? -1 : 1)), specifier = editor.specifierFor(target, path, all[0]![0])
    const line = (names: string[], type: boolean) => (names.length === 0 ? [] : [`import ${type ? 'type ' : ''}{ ${names.join(', ')} } from ${quote}${specifier}${quote}${end}`])
    if (editor.typeStyle === 'statement') imports.push(...line(all.filter(one => !one[1].typeOnly).map(one => one[0]), false), ...line(all.filter(one => one[1].typeOnly).map(one => one[0]), true))
    else imports.push(...line(all.map(([name, { typeOnly }]) => (typeOnly && editor.typeStyle === 'inline' ? `type ${name}` : name)), false))
  }
  let text = imports.map(one => one + lineEnd).join('') + (imports.length > 0 ? lineEnd : '')
  const pieces: MovedText[] = []
  for (const [index, statement] of going.entries()) {
    if (index > 0) text += lineEnd
    const start = attachedStart(statement, file), stop = attachedEnd(statement, file)
    const exported = isExportedStatement(statement) || ![...fromNew.values()].some(one => one.statement === statement)
    const edits = exported ? [] : [{ start: statement.getStart(file), end: statement.getStart(file), text: 'export ' }]
    pieces.push({ from: path, start, end: stop, to: target, at: text.length, edits })
    const piece = file.text.slice(start, stop)
    text += (edits[0] ? applyEdits(piece, [{ ...edits[0], start: edits[0].start - start, end: edits[0].end - start }]) : piece) + lineEnd
    removeLines(start, stop, own)
  }
  editor.create(target, text)
  for (const [name, { typeOnly }] of fromNew) own.importAsItself({ name, file: target, specifier: null, typeOnly })
  const shown = going.filter(isExportedStatement)
  if (entryOf !== undefined && shown.length > 0) {
    const names = [...new Set(shown.flatMap(declaredNames))], typeOnly = shown.every(one => ts.isInterfaceDeclaration(one) || ts.isTypeAliasDeclaration(one))
    own.insert(file.text.length, `${/\n\s*$/.test(file.text) ? '' : lineEnd}export ${typeOnly ? 'type ' : ''}{ ${names.join(', ')} } from ${quote}${editor.specifierFor(path, target, names[0]!)}${quote}${end}${lineEnd}`)
    notes.push(`${path} is what others get of the package ${entryOf}, and goes on exporting ${names.join(' and ')}.`)
  }
  return pieces
}

function declaredNames(statement: ts.Statement): string[] {
  if (ts.isVariableStatement(statement)) return statement.declarationList.declarations.map(one => one.name.getText())
  const { name } = statement as ts.FunctionDeclaration
  return name ? [name.text] : []
}

function isDefaultExport(statement: ts.Statement): boolean {
  return ts.canHaveModifiers(statement) && ts.getModifiers(statement)?.some(one => one.kind === ts.SyntaxKind.DefaultKeyword) === true
}

function exportStatement(statement: ts.Statement, own: FileEditor, notes: string[]): void {
  if (own.isExporting(statement)) return
  own.exportAtStart(statement)
  const name = ts.isVariableStatement(statement) ? statement.declarationList.declarations[0]!.name.getText() : (statement as ts.FunctionDeclaration).name?.text ?? 'something'
  notes.push(`${own.path} exports ${name} now, because what moved uses it and so does what stays.`)
}

/** The imports that some statements need, as their file has them, cut down to what they use and seen from another path. */
function importLines(going: readonly ts.Statement[], uses: TopLevelUses, path: string, target: string): string[] {
  const wanted = new Set<ImportedName>(going.flatMap(statement => [...uses.imports.get(statement)!]))
  const lines: string[] = []
  const file = going[0]!.getSourceFile()
  for (const statement of file.statements) {
    if (ts.isImportEqualsDeclaration(statement) && wanted.has(statement)) {
      const reference = statement.moduleReference
      if (ts.isExternalModuleReference(reference) && ts.isStringLiteral(reference.expression)) lines.push(withSpecifier(statement, reference.expression, path, target, statement.getText()))
      else lines.push(statement.getText())
    }
    if (!ts.isImportDeclaration(statement) || !statement.importClause || !ts.isStringLiteral(statement.moduleSpecifier)) continue
    const clause = statement.importClause, bindings = clause.namedBindings
    const parts: string[] = []
    if (clause.name && wanted.has(clause)) parts.push(clause.name.text)
    if (bindings && ts.isNamespaceImport(bindings) && wanted.has(bindings)) parts.push(bindings.getText())
    if (bindings && ts.isNamedImports(bindings)) {
      const names = bindings.elements.filter(one => wanted.has(one))
      if (names.length === bindings.elements.length && names.length > 0) parts.push(bindings.getText())
      else if (names.length > 0) parts.push(`{ ${names.map(one => one.getText()).join(', ')} }`)
    }
    if (parts.length === 0) continue
    const head = file.text.slice(statement.getStart(), clause.getStart()), tail = file.text.slice(clause.end, statement.end)
    const type = clause.isTypeOnly && !/\btype\b/.test(head) ? 'type ' : ''
    lines.push(withSpecifier(statement, statement.moduleSpecifier, path, target, head + type + parts.join(', ') + tail))
  }
  return lines
}

function withSpecifier(statement: ts.Statement, literal: ts.StringLiteral, path: string, target: string, text: string): string {
  const written = literal.getText(), at = text.lastIndexOf(written)
  return text.slice(0, at) + written[0] + seenFrom(literal.text, path, target) + written[0] + text.slice(at + written.length)
}

function redirectAll({ path, literal }: SpecifierPlace, old: string, target: string, editor: ProjectEditor): void {
  const own = editor.editor(path)
  own.replace(literal.getStart() + 1, literal.end - 1, /^\.\.?(\/|$)/.test(literal.text) ? respecified(literal.text, path, target) : editor.specifierFor(path, target, ''))
}

/** Lets an import or export of several names name those that moved from where they are now. */
function redirectSome({ path, file, literal }: SpecifierPlace, moved: ReadonlySet<ts.Statement>, target: string, editor: ProjectEditor, snapshot: Snapshot): void {
  const { checker } = snapshot
  const holder = literal.parent
  const means = (name: ts.Node): boolean => {
    const found = checker.getSymbolAtLocation(name)
    const symbol = found && found.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(found) : found
    return symbol?.declarations?.some(one => { for (let at: ts.Node = one; at; at = at.parent) if (moved.has(at as ts.Statement)) return true; return false }) === true
  }
  const own = editor.editor(path)
  const { lineEnd, quote, semicolons } = own.style
  const specifier = () => (/^\.\.?(\/|$)/.test(literal.text) ? respecified(literal.text, path, target) : editor.specifierFor(path, target, ''))
  const line = (head: string) => `${lineEnd}${head} from ${quote}${specifier()}${quote}${semicolons ? ';' : ''}`
  if (ts.isImportDeclaration(holder) || ts.isExportDeclaration(holder)) {
    const bindings = ts.isImportDeclaration(holder) ? holder.importClause?.namedBindings : holder.exportClause
    if (ts.isExportDeclaration(holder) && !bindings) { own.insert(holder.end, line(`export ${holder.isTypeOnly ? 'type ' : ''}*`)); return }
    if (!bindings) return
    if (ts.isNamespaceImport(bindings) || ts.isNamespaceExport(bindings)) {
      const uses = ts.isNamespaceImport(bindings) ? usesThrough(bindings, file, checker) : undefined
      if (!uses) throw new Refused('namespace-import', `${path}:${lineOf(holder)} has all of the file under one name`)
      const isTypeOnly = ts.isImportDeclaration(holder) && holder.importClause!.isTypeOnly
      for (const use of uses) {
        const name = nameBehind(use)
        if (means(name)) own.replace(use.getStart(file), use.end, own.nameFor({ name: name.text, file: target, specifier: null, typeOnly: isTypeOnly || isTypeUse(name) }))
      }
      return
    }
    const elements: ts.NodeArray<ts.ImportSpecifier> | ts.NodeArray<ts.ExportSpecifier> = bindings.elements
    const going = (elements as readonly (ts.ImportSpecifier | ts.ExportSpecifier)[]).filter(one => means(one.name))
    if (going.length === 0) return
    const other = ts.isImportDeclaration(holder) && holder.importClause?.name
    if (going.length === elements.length && !other) { own.replace(literal.getStart() + 1, literal.end - 1, specifier()); return }
    own.removeElements(elements, new Set(going))
    const typeOnly = ts.isImportDeclaration(holder) ? holder.importClause!.isTypeOnly : holder.isTypeOnly
    own.insert(holder.end, line(`${ts.isImportDeclaration(holder) ? 'import' : 'export'} ${typeOnly ? 'type ' : ''}{ ${going.map(one => one.getText()).join(', ')} }`))
    return
  }
  if (ts.isLiteralTypeNode(holder) && ts.isImportTypeNode(holder.parent)) {
    if (holder.parent.qualifier && !means(ts.isIdentifier(holder.parent.qualifier) ? holder.parent.qualifier : holder.parent.qualifier.right)) return
    if (holder.parent.qualifier) { own.replace(literal.getStart() + 1, literal.end - 1, specifier()); return }
  }
  throw new Refused('namespace-import', `${path}:${lineOf(literal)} has all of the file at once`)
}
