import ts from 'typescript'
import type { PlanRefusal, RetireStaticFacePlan, StaticFace } from '../../../model/plan.js'
import type { Snapshot } from '../session.js'
import { packageEntries } from '../workspace.js'
import { checkedStep, refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import { ProjectEditor } from './file-editor.js'
import { functionGroups } from './group-functions.js'

/** The word by which a function, or one of its forms, is exported. */
interface ExportedWord { readonly name: string; readonly word: ts.Modifier }

/**
 * Functions that a file has in an object to be handed in, and still exports one by one. Those that another file exports as well, or
 * that a package shows to whoever installs it, may be had by others, and are none.
 */
export function exportedFaces(file: ts.SourceFile, snapshot: Snapshot, root: string): StaticFace[] {
  return [...new Set(exportedWords(file, snapshot, root).map(one => one.name))].map(member => ({ member, kind: 'face' }))
}

function exportedWords(file: ts.SourceFile, snapshot: Snapshot, root: string): ExportedWord[] {
  const grouped = new Set(functionGroups(file, snapshot).flatMap(one => [...one.functions]))
  if (grouped.size === 0 || packageEntries(snapshot.source, root, snapshot.files).has(snapshot.pathOf(file)!)) return []
  return file.statements.flatMap((statement): ExportedWord[] => {
    const declared = ts.isFunctionDeclaration(statement) ? statement : ts.isVariableStatement(statement) && statement.declarationList.declarations.length === 1 ? statement.declarationList.declarations[0]! : undefined
    const word = declared && ts.canHaveModifiers(statement) ? ts.getModifiers(statement)?.find(one => one.kind === ts.SyntaxKind.ExportKeyword) : undefined
    const symbol = word && declared?.name && snapshot.checker.getSymbolAtLocation(declared.name)
    if (!symbol || !grouped.has(symbol) || handedOn(snapshot).has(symbol)) return []
    return [{ name: symbol.name, word }]
  })
}

const known = new WeakMap<Snapshot, ReadonlySet<ts.Symbol>>()

/** What files of the project export of others. A snapshot is looked through once. */
function handedOn(snapshot: Snapshot): ReadonlySet<ts.Symbol> {
  const before = known.get(snapshot)
  if (before) return before
  const { checker } = snapshot, found = new Set<ts.Symbol>()
  known.set(snapshot, found)
  for (const [file] of snapshot.paths) {
    const module = file.statements.some(ts.isExportDeclaration) ? checker.getSymbolAtLocation(file) : undefined
    for (const symbol of module ? checker.getExportsOfModule(module) : []) {
      const meant = symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol
      if (meant.declarations?.[0]?.getSourceFile() !== file) found.add(meant)
    }
  }
  return found
}

/** Functions that nobody has one by one any more are not exported: what remains is the object, which can be handed in. */
export function retireFunctionExports(plan: RetireStaticFacePlan, file: ts.SourceFile, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  try {
    const editor = new ProjectEditor(snapshot, root), own = editor.editor(snapshot.pathOf(file)!)
    for (const { name, word } of exportedWords(file, snapshot, root)) {
      if (plan.members.includes(name)) own.replace(word.getStart(file), word.end + /^[ \t]*/.exec(file.text.slice(word.end))![0].length, '')
    }
    return checkedStep(editor, context, { notes: [], choices: {}, planned: [] })
  } catch (error) { return refusalOf(error) }
}
