import type { Snapshot } from '../session.js'

/** A function of a node whose answer in each state of the project, which never changes, is worked out once. */
export function remembered<Node extends object, Answer>(answer: (node: Node, snapshot: Snapshot) => Answer): (node: Node, snapshot: Snapshot) => Answer {
  const states = new WeakMap<Snapshot, WeakMap<Node, Answer>>()
  return (node, snapshot) => {
    let known = states.get(snapshot)
    if (!known) states.set(snapshot, known = new WeakMap())
    let found = known.get(node)
    if (found === undefined) known.set(node, found = answer(node, snapshot))
    return found
  }
}
