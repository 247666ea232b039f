/** Runs actions on one thing one after the other; actions on different things at the same time. */
export class Serially<Key> {
  private readonly last = new Map<Key, Promise<unknown>>()

  run<Result>(key: Key, action: () => Promise<Result>): Promise<Result> {
    const before = this.last.get(key) ?? Promise.resolve()
    const result = before.then(action, action)
    const settled = result.catch(() => undefined)
    this.last.set(key, settled)
    void settled.then(() => {
      if (this.last.get(key) === settled) this.last.delete(key)
    })
    return result
  }
}
