import ts from 'typescript'
import type { FileProblem, MemberFacts, TypeFacts } from '../../model/facts.js'
import type { TypeNode } from './declarations.js'
import type { OriginContext } from './origins.js'
import type { TypeContext } from './type-facts.js'
import { typeFacts } from './type-facts.js'

/** What the types of a file need to know of the program around it. */
export interface FileTypesContext extends TypeContext {
  readonly pathOf: (file: ts.SourceFile) => string | undefined
}

/** The types that a file declares, and the unit that stands for its functions and values. `usesOthers`: the unit uses other types. */
export function typesOfFile(file: ts.SourceFile, path: string, unitMembers: readonly MemberFacts[], usesOthers: boolean, context: FileTypesContext, origins: OriginContext): TypeFacts[] {
  const types: TypeFacts[] = []
  const own = context.declarations.declaredIn(file)
  const done = new Set<string>()
  for (const node of own.keys()) {
    const declared = context.declarations.typeOf(node as TypeNode)!
    // A declaration merged into another file's is told there.
    if (done.has(declared.id) || context.pathOf(declared.node.getSourceFile()) !== path) continue
    done.add(declared.id)
    types.push(typeFacts(declared, file, context, origins))
  }
  const needsUnit = unitMembers.length > 0 || usesOthers
  const span = { start: 0, end: file.end, line: 1, column: 1 }
  if (needsUnit) {
    const name = path.slice(path.lastIndexOf('/') + 1)
    const lines = Math.max(0, lineCount(file) - types.filter(type => type.outer === null).reduce((sum, type) => sum + type.lines, 0))
    types.push({
      id: `${path}#`, name, kind: 'functions', span, lines, exported: true, outer: null, members: unitMembers, parameters: [],
      inert: unitMembers.length > 0 && unitMembers.every(member => member.kind === 'value' && member.origins.every(origin => origin.how === 'own'))
    })
  }
  return types
}

/** Physical lines of a file. */
export function lineCount(file: ts.SourceFile): number {
  const starts = file.getLineStarts().length
  return file.text.endsWith('\n') ? starts - 1 : starts
}

/** What the parser says is wrong in a file. */
export function syntaxProblems(file: ts.SourceFile, program: ts.Program): FileProblem[] {
  return program.getSyntacticDiagnostics(file).map(diagnostic => ({
    line: file.getLineAndCharacterOfPosition(diagnostic.start ?? 0).line + 1, message: ts.flattenDiagnosticMessageText(diagnostic.messageText, ' ')
  }))
}
