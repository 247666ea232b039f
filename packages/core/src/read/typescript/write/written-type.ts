import ts from 'typescript'
import type { Snapshot } from '../session.js'
import type { FileEditor, ProjectEditor } from './file-editor.js'
import type { NeededName } from './file-imports.js'
import { NameConflict } from './file-editor.js'
import { importedElsewhere } from './imported-name.js'

/** Why a type cannot be written somewhere else than where it stands. */
export class NotWritable extends Error {}

/**
 * Text of types for a file other than the one they stand in, with the names that file then needs.
 * `names` collects them; in the class's own file nothing is needed.
 */
export class TypeWriter {
  readonly needed: { name: NeededName; local: string }[] = []
  private readonly printer = ts.createPrinter({ removeComments: true })

  constructor(
    private readonly snapshot: Snapshot, private readonly editor: ProjectEditor,
    /** The declaration from whose place types are seen. */
    private readonly at: ts.Node, private readonly sameFile: boolean
  ) {}

  /** A type as the user wrote it. */
  source(node: ts.TypeNode | ts.TypeParameterDeclaration): string {
    this.collect(node)
    return node.getText()
  }

  /** A type as the compiler infers it. */
  inferred(type: ts.Type): string {
    const flags = ts.NodeBuilderFlags.NoTruncation | ts.NodeBuilderFlags.UseAliasDefinedOutsideCurrentScope
    const node = this.snapshot.checker.typeToTypeNode(type, this.at, flags)
    if (!node) throw new NotWritable('its type cannot be written down')
    const text = this.printer.printNode(ts.EmitHint.Unspecified, node, this.at.getSourceFile())
    if (/\bimport\(/.test(text)) throw new NotWritable(`its inferred type ${shorten(text)} uses a name that is not visible here; write its type down first`)
    this.collect(node)
    return text.replace(/\s*\n\s*/g, ' ')
  }

  private collect(node: ts.Node): void {
    const own = new Set<string>()
    const visit = (at: ts.Node): void => {
      if (ts.isTypeParameterDeclaration(at)) own.add(at.name.text)
      if (ts.isInferTypeNode(at)) own.add(at.typeParameter.name.text)
      if (ts.isTypeReferenceNode(at)) this.need(leftmost(at.typeName), own)
      else if (ts.isTypeQueryNode(at)) this.need(leftmost(at.exprName), own, false)
      else if (ts.isExpressionWithTypeArguments(at) && ts.isIdentifier(at.expression)) this.need(at.expression, own)
      else if (ts.isImportTypeNode(at)) {
        const specifier = ts.isLiteralTypeNode(at.argument) && ts.isStringLiteral(at.argument.literal) ? at.argument.literal.text : ''
        if (specifier.startsWith('.')) throw new NotWritable('its type is written with import(...)')
      } else if (at.kind === ts.SyntaxKind.ComputedPropertyName && !/^\[Symbol\.\w+\]$/.test(at.getText())) {
        throw new NotWritable('its type has a computed name')
      }
      ts.forEachChild(at, visit)
    }
    visit(node)
  }

  private need(name: ts.Identifier, own: ReadonlySet<string>, typeOnly = true): void {
    if (own.has(name.text) || name.text === 'const' || name.text === 'globalThis') return
    if (name.text === 'default') throw new NotWritable('something in its type has no name but that a file exports it by default')
    const symbol = (name as ts.Identifier & { symbol?: ts.Symbol }).symbol ?? (name.pos >= 0 ? this.snapshot.checker.getSymbolAtLocation(name) : undefined) ??
      this.snapshot.checker.resolveName(name.text, this.at, ts.SymbolFlags.Type | ts.SymbolFlags.Namespace | ts.SymbolFlags.Value, false)
    const declaration = symbol?.declarations?.[0]
    if (!symbol || !declaration) throw new NotWritable(`${name.text} in its type is not found`)
    if (ts.isTypeParameterDeclaration(declaration) || ts.isParameter(declaration)) return
    const { checker } = this.snapshot
    const target = symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol
    const here = checker.resolveName(name.text, this.at, ts.SymbolFlags.Type | ts.SymbolFlags.Namespace | ts.SymbolFlags.Value, false)
    const visible = here !== undefined && (here === symbol || (here.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(here) : here) === target)
    if (visible && this.sameFile) return
    const file = this.at.getSourceFile()
    if (declaration.getSourceFile() === file && symbol.flags & ts.SymbolFlags.Alias) {
      const imported = importedElsewhere(declaration, symbol, typeOnly, this.snapshot, this.editor)
      if (!imported) throw new NotWritable(`${name.text} in its type is imported in a way that cannot be repeated`)
      this.add(imported, name.text)
    } else if (declaration.getSourceFile() === file) {
      const path = this.snapshot.pathOf(file)!
      const exported = this.editor.exportedName(declaration)
      if (exported === undefined) throw new NotWritable(`${name.text} in its type is not exported by ${path}`)
      this.add({ name: exported, file: path, specifier: null, typeOnly }, name.text)
    } else if (this.snapshot.pathOf(declaration.getSourceFile()) !== undefined && ts.isExternalModule(declaration.getSourceFile())) {
      const exported = this.editor.exportedName(declaration)
      if (exported === undefined) throw new NotWritable(`${name.text} in its type is not exported`)
      this.add({ name: exported, file: this.snapshot.pathOf(declaration.getSourceFile())!, specifier: null, typeOnly }, name.text)
    }
    else if (!visible || ts.isExternalModule(declaration.getSourceFile())) {
      const imported = this.editor.packageImportOf(target)
      if (imported) this.add({ name: imported.name, file: null, specifier: imported.specifier, typeOnly }, name.text)
      else if (!visible || this.snapshot.pathOf(declaration.getSourceFile()) !== undefined || declaration.getSourceFile().fileName.includes('/node_modules/') && ts.isExternalModule(declaration.getSourceFile())) {
        throw new NotWritable(`${name.text} in its type is not visible here`)
      }
    }
    // Globals need no import.
  }

  private add(name: NeededName, local: string): void {
    if (!this.needed.some(other => other.local === local)) this.needed.push({ name, local })
  }
}

/** Lets a file import what written types need; refused where the names would have to be others. */
export function takeNames(write: TypeWriter, own: FileEditor): void {
  for (const { name, local } of write.needed) {
    if (own.nameFor(name) !== local) throw new NameConflict(`${local} means something else in ${own.path}`)
  }
}

function leftmost(name: ts.EntityName): ts.Identifier {
  while (ts.isQualifiedName(name)) name = name.left
  return name
}

function shorten(text: string): string {
  return text.length > 60 ? `${text.slice(0, 57)}…` : text
}
