/** Numbers of one node in a `FlatTree`: kind, field, start, end, and where the next node after its subtree begins. */
const WIDTH = 5

/** A node: the place of its record. The root is 0; `NONE` is no node. */
export type Node = number
export const NONE: Node = -1

/**
 * A syntax tree as one array of numbers, in preorder: small, quick to walk, and free of the parser that made it. It holds
 * named nodes but no comments. Kinds and fields are the numbers of a language's own lists, 0 for anything not in them.
 */
export class FlatTree {
  constructor(readonly text: string, private readonly data: Int32Array) {}

  /** How many nodes it holds. */
  get size(): number { return this.data.length / WIDTH }

  kind(node: Node): number { return this.data[node]! }
  /** The field of its parent that a node stands in, or 0. */
  field(node: Node): number { return this.data[node + 1]! }
  /** Offsets in UTF-16 units, half open. */
  start(node: Node): number { return this.data[node + 2]! }
  end(node: Node): number { return this.data[node + 3]! }
  /** The first node that is not in the subtree of this one. */
  after(node: Node): Node { return this.data[node + 4]! }

  textOf(node: Node): string { return this.text.slice(this.data[node + 2], this.data[node + 3]) }

  first(node: Node): Node {
    const child = node + WIDTH
    return child < this.data[node + 4]! ? child : NONE
  }

  /** The parent of a node that is its first child. */
  parentOfFirst(node: Node): Node { return node - WIDTH }

  /** The sibling after a child of `parent`. */
  next(child: Node, parent: Node): Node {
    const after = this.data[child + 4]!
    return after < this.data[parent + 4]! ? after : NONE
  }

  /** The first child in a field. */
  child(node: Node, field: number): Node {
    const { data } = this
    const end = data[node + 4]!
    for (let at = node + WIDTH; at < end; at = data[at + 4]!) if (data[at + 1] === field) return at
    return NONE
  }

  /** The first child of a kind. */
  childOf(node: Node, kind: number): Node {
    const { data } = this
    const end = data[node + 4]!
    for (let at = node + WIDTH; at < end; at = data[at + 4]!) if (data[at] === kind) return at
    return NONE
  }

  children(node: Node): Node[] {
    const found: Node[] = []
    for (let at = this.first(node); at !== NONE; at = this.next(at, node)) found.push(at)
    return found
  }

  /** Whether a kind occurs in the subtree. */
  contains(node: Node, kind: number): boolean {
    const end = this.data[node + 4]!
    for (let at = node; at < end; at += WIDTH) if (this.data[at] === kind) return true
    return false
  }
}

export { WIDTH as NODE_WIDTH }
