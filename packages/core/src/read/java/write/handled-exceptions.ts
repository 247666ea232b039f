import type { ClassSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { JavaFile, Scope } from '../scope.js'
import { Kind } from '../syntax.js'

/**
 * Checked exceptions that may be thrown at a place: those of the `catch` clauses around it and those that its method says. Code
 * that compiles throws no others there, whatever it calls. Null in a lambda, whose interface may allow more.
 */
export function handledExceptions(node: Node, member: Node, file: JavaFile, scope: Scope, { program }: BoundProgram): ClassSymbol[] | null {
  const { tree } = file
  const found = new Set<ClassSymbol>()
  const add = (holder: Node): void => {
    for (const child of tree.children(holder)) {
      const type = program.names.type(child, scope)
      if (type.tag === 'class' && isChecked(type.symbol, program)) found.add(type.symbol)
    }
  }
  for (let at = node; at !== member; at = parentOf(tree, at)) {
    const kind = tree.kind(at)
    if (kind === Kind.LambdaExpression || kind === Kind.ClassBody) return null
    const around = parentOf(tree, at)
    if ((tree.kind(around) !== Kind.TryStatement && tree.kind(around) !== Kind.TryWithResourcesStatement) || tree.kind(at) === Kind.CatchClause || tree.kind(at) === Kind.FinallyClause) continue
    for (const clause of tree.children(around)) {
      if (tree.kind(clause) !== Kind.CatchClause) continue
      const type = tree.childOf(tree.childOf(clause, Kind.CatchFormalParameter), Kind.CatchType)
      if (type !== NONE) add(type)
    }
  }
  const clause = tree.childOf(member, Kind.Throws)
  if (clause !== NONE) add(clause)
  return [...found]
}

function isChecked(symbol: ClassSymbol, { hierarchy }: BoundProgram['program']): boolean {
  const above = [symbol, ...hierarchy.ancestorsOf(symbol)].map(one => one.id)
  return !above.includes('java.lang.RuntimeException') && !above.includes('java.lang.Error')
}

/** What all of several places are ready for, without those that another one of them covers. */
export function handledEverywhere(places: readonly (readonly ClassSymbol[])[], { program: { hierarchy } }: BoundProgram): ClassSymbol[] {
  const covers = (wide: ClassSymbol, narrow: ClassSymbol) => wide === narrow || [...hierarchy.ancestorsOf(narrow)].includes(wide)
  const all = [...new Set(places.flat())].filter(one => places.every(place => place.some(other => covers(other, one))))
  return all.filter(one => !all.some(other => other !== one && covers(other, one)))
}
