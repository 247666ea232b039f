import ts from 'typescript'
import type { Snapshot } from '../session.js'

/** The file of the project that an import names. */
export function handedOnBy(imported: ts.ImportSpecifier, { checker, pathOf }: Snapshot): string | undefined {
  const module = checker.getSymbolAtLocation(imported.parent.parent.parent.moduleSpecifier)?.declarations?.find(ts.isSourceFile)
  return module && pathOf(module)
}
