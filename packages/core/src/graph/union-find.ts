/** Disjoint sets of things (Galler, Fischer 1964), with paths halved: close to constant time a step. A thing that was never joined stands alone. */
export class UnionFind<T> {
  private readonly parent = new Map<T, T>()

  /** The thing that stands for the set of this one. */
  root(thing: T): T {
    let at = thing, above = this.parent.get(at)
    while (above !== undefined && above !== at) {
      const next = this.parent.get(above)!
      this.parent.set(at, next)
      at = next
      above = this.parent.get(at)
    }
    return at
  }

  /** Puts the sets of two things together; both are known from then on. */
  join(a: T, b: T): void {
    if (!this.parent.has(a)) this.parent.set(a, a)
    if (!this.parent.has(b)) this.parent.set(b, b)
    const one = this.root(a), other = this.root(b)
    if (one !== other) this.parent.set(one, other)
  }

  /** All things that were joined, in the order in which they came. */
  items(): IterableIterator<T> { return this.parent.keys() }
}
