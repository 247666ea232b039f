/** What is known of each argument of a call: it never changes; or it only reads, so that nothing notices when that is done. */
export interface ArgumentKind { readonly settled: boolean; readonly simple: boolean }

/**
 * What would be different if the arguments at `indices` were worked out one after the other where the first of them stands: one of
 * them twice, since those that are not `gone` are handed by themselves too, or some in another order than others. Null for nothing.
 */
export function differentOrder(args: readonly ArgumentKind[], indices: readonly number[], gone: ReadonlySet<number>): 'twice' | 'order' | null {
  const quiet = ({ settled, simple }: ArgumentKind) => settled || simple
  if (indices.some(index => !gone.has(index) && !quiet(args[index]!))) return 'twice'
  const first = Math.min(...indices), now = [...indices, ...args.map((_, at) => at).filter(at => at > first && !gone.has(at))]
  const minds = (a: ArgumentKind, b: ArgumentKind) => !a.settled && !b.settled && !(a.simple && b.simple)
  return now.some((one, at) => now.slice(at + 1).some(other => other < one && minds(args[one]!, args[other]!))) ? 'order' : null
}
