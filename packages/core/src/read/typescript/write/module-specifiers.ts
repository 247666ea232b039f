import ts from 'typescript'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import { relativeSpecifier } from './file-editor.js'

/** A place that names a file of the project in order to use what it exports. */
export interface SpecifierPlace {
  readonly file: ts.SourceFile
  readonly path: string
  readonly literal: ts.StringLiteralLike
}

type WithImports = ts.SourceFile & { imports?: readonly ts.StringLiteralLike[]; moduleAugmentations?: readonly (ts.StringLiteral | ts.Identifier)[] }
type Resolving = ts.Program & { getResolvedModuleFromModuleSpecifier(literal: ts.StringLiteralLike, file: ts.SourceFile): { resolvedModule?: ts.ResolvedModuleFull } | undefined }

/** Every import, export, dynamic import, `require` and import type that leads to a file, in order of path and place. */
export function specifiersOf(target: ts.SourceFile, { program, paths }: Snapshot): SpecifierPlace[] {
  const found: SpecifierPlace[] = []
  for (const [file, path] of paths) {
    for (const literal of (file as WithImports).imports ?? []) {
      const resolved = (program as Resolving).getResolvedModuleFromModuleSpecifier(literal, file)?.resolvedModule
      if (resolved && program.getSourceFile(resolved.resolvedFileName) === target) found.push({ file, path, literal })
    }
  }
  return found
}

/** A place that names a file in a text that no compiler looks at, as tests do to replace a module; undefined where there is none. */
export function namedInText(target: string, { paths }: Snapshot): { readonly path: string; readonly node: ts.Node } | undefined {
  const stem = stemOf(target)
  for (const [file, path] of paths) {
    if (!/\.\w*[mM]ock\w*\(|requireActual|importActual/.test(file.text)) continue
    let found: ts.Node | undefined
    const visit = (node: ts.Node): void => {
      if (ts.isStringLiteralLike(node) && /^\.\.?\//.test(node.text) && ts.isCallExpression(node.parent) && node.parent.expression.kind !== ts.SyntaxKind.ImportKeyword &&
        stemOf(joined(folderOf(path), node.text)) === stem) found = node
      if (!found) ts.forEachChild(node, visit)
    }
    visit(file)
    if (found) return { path, node: found }
  }
  return undefined
}

/** Whether something else adds to what a file declares. */
export function isAugmented(target: ts.SourceFile, { checker, paths }: Snapshot): boolean {
  const module = checker.getSymbolAtLocation(target)
  return [...paths.keys()].some(file => (file as WithImports).moduleAugmentations?.some(name => checker.getSymbolAtLocation(name) === module && module !== undefined))
}

/** A relative specifier written for another place of the importing file or of what it imports, its ending kept. */
export function respecified(specifier: string, from: string, to: string): string {
  return relativeSpecifier(from, to, /\.[cm]?[jt]sx?$/.exec(specifier)?.[0] ?? '')
}

/** The same specifier as seen from another file: what it leads to stays where it is. */
export function seenFrom(specifier: string, oldPath: string, newPath: string): string {
  if (!/^\.\.?(\/|$)/.test(specifier)) return specifier
  const target = joined(folderOf(oldPath), specifier)
  const source = folderOf(newPath) === '' ? [] : folderOf(newPath).split('/'), goal = target === '' ? [] : target.split('/')
  let same = 0
  while (same < source.length && same < goal.length && source[same] === goal[same]) same++
  const up = '../'.repeat(source.length - same), down = goal.slice(same).join('/')
  // What lies beside it is named: not everything that resolves imports takes a folder for its index.
  return up === '' ? `./${down === '' ? 'index' : down}` : down === '' ? up.slice(0, -1) : up + down
}

function joined(folder: string, relative: string): string {
  const parts = folder === '' ? [] : folder.split('/')
  for (const part of relative.split('/')) {
    if (part === '..') parts.pop()
    else if (part !== '.' && part !== '') parts.push(part)
  }
  return parts.join('/')
}

function stemOf(path: string): string { return path.replace(/(\.d)?\.[cm]?[jt]sx?$/, '').replace(/\/index$/, '') }
