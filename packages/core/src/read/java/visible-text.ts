import type { FlatTree } from '../syntax/flat-tree.js'
import { NODE_WIDTH, NONE } from '../syntax/flat-tree.js'
import { Field, Kind } from './syntax.js'

/** All that other files can see of a file: its text without bodies and without values of fields. While it stays, their facts stay. */
export function visibleText(tree: FlatTree): string {
  const end = tree.after(0)
  let from = 0, visible = ''
  for (let node = 0; node < end;) {
    const kind = tree.kind(node)
    const hidden = kind === Kind.Block || kind === Kind.ConstructorBody ? node : kind === Kind.VariableDeclarator ? tree.child(node, Field.Value) : NONE
    if (hidden === NONE) { node += NODE_WIDTH; continue }
    visible += tree.text.slice(from, tree.start(hidden))
    from = tree.end(hidden)
    node = tree.after(hidden)
  }
  return visible + tree.text.slice(from)
}
