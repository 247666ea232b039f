import type { ClassSymbol } from '../../binding/symbols.js'
import { Field, Kind } from '../syntax.js'
import type { JavaWriteContext } from './context.js'

const LOOKS = /\.(?:get(?:Declared)?(?:Constructors?|Fields?|Methods?|Classes)|newInstance)\(/

/** The first place outside of a class whose file asks its class object what it has: there a package or a member more can be seen. */
export function lookedThroughAt(symbol: ClassSymbol, { bound, state }: JavaWriteContext): string | undefined {
  const own = bound.program.declarations.get(symbol)?.file.path
  for (const { path, references } of state.facts.files) {
    if (path === own || !references.some(one => one.to === symbol.id)) continue
    const file = bound.file(path)?.java
    if (!file || !LOOKS.test(file.tree.text)) continue
    const { tree } = file
    for (let at = 0; at < tree.size * 5; at += 5) {
      if (tree.kind(at) !== Kind.ClassLiteral) continue
      for (let name = at; name < tree.after(at); name += 5) {
        if (file.meaning(name) === symbol || file.meaning(tree.child(name, Field.Name)) === symbol) return `${path}:${tree.text.slice(0, tree.start(at)).split('\n').length}`
      }
    }
  }
  return undefined
}
