import type { Ref } from 'vue'
import { computed, ref, shallowRef, watch } from 'vue'
import type { Fabric, HelpfulMove, Rearrangement, RearrangedProject } from '@hollowmoor/core/measure/rearrangement'
import { stillFits } from '@hollowmoor/core/measure/rearrangement'
import { useWhatIfWorker } from './useWhatIf'

export interface RearrangementState {
  readonly moves: Ref<Rearrangement['moves']>
  readonly struck: Ref<Rearrangement['struck']>
  /** The project as it is. */
  readonly before: Ref<RearrangedProject | null>
  /** The project as it would be. */
  readonly after: Ref<RearrangedProject | null>
  /** Moves that make the cuts cheaper; null while they are looked for. */
  readonly helpful: Ref<readonly HelpfulMove[] | null>
  readonly isChanged: Ref<boolean>
  move(type: string, module: string): void
  stay(type: string): void
  /** Strikes a dependency out, or puts it back. */
  toggle(one: Rearrangement['struck'][number]): void
  clear(): void
}

/**
 * What would be of a project with types elsewhere and dependencies gone, answered in a web worker as that changes. What is
 * supposed outlives a new survey, as far as it still fits the code.
 */
export function useRearrangement(fabric: Ref<Fabric | null>): RearrangementState {
  const moves = ref<Rearrangement['moves']>([]), struck = ref<Rearrangement['struck']>([])
  const before = shallowRef<RearrangedProject | null>(null), after = shallowRef<RearrangedProject | null>(null), helpful = shallowRef<readonly HelpfulMove[] | null>(null)
  let newest = 0, asItIs = 0
  const isChanged = computed(() => moves.value.length + struck.value.length > 0)
  const ask = useWhatIfWorker(response => {
    if (response.kind === 'arrangement' && response.id === asItIs) before.value = response.answer
    if (response.id !== newest) return
    if (response.kind === 'arrangement') after.value = response.answer
    else if (response.kind === 'helpful') helpful.value = response.answer
  })
  const asked = (): void => { helpful.value = null; ask({ kind: 'arrangement', id: ++newest, arrangement: { moves: moves.value, struck: struck.value } }) }
  watch(fabric, known => {
    if (!known) return
    ask({ kind: 'fabric', fabric: known })
    asItIs = ++newest
    ask({ kind: 'arrangement', id: asItIs, arrangement: { moves: [], struck: [] } })
    if (!isChanged.value) return
    const kept = stillFits(known, { moves: moves.value, struck: struck.value })
    moves.value = kept.moves
    struck.value = kept.struck
  }, { immediate: true })
  watch([moves, struck], () => { if (fabric.value) asked() })
  const isSame = (a: Rearrangement['struck'][number], b: Rearrangement['struck'][number]) => a.within === b.within && a.from === b.from && a.to === b.to
  return {
    moves, struck, before, after, helpful, isChanged,
    move: (type, module) => { moves.value = [...moves.value.filter(one => one.type !== type), { type, module }] },
    stay: type => { moves.value = moves.value.filter(one => one.type !== type) },
    toggle: one => { struck.value = struck.value.some(other => isSame(one, other)) ? struck.value.filter(other => !isSame(one, other)) : [...struck.value, one] },
    clear: () => { moves.value = []; struck.value = [] }
  }
}
