import type { Ref } from 'vue'
import { onUnmounted, ref, watch } from 'vue'
import type { WhatIfAnswer, WhatIfQuestion } from '../what-if'

/** Answers what-if questions in a web worker as they change; null while nothing is struck out. */
export function useWhatIf(question: Ref<WhatIfQuestion | null>): Ref<WhatIfAnswer | null> {
  const answer = ref<WhatIfAnswer | null>(null)
  const worker = new Worker(new URL('../what-if-worker.ts', import.meta.url), { type: 'module' })
  let newest = 0
  worker.onmessage = (event: MessageEvent<{ id: number; answer: WhatIfAnswer }>) => { if (event.data.id === newest) answer.value = event.data.answer }
  watch(question, asked => {
    newest++
    if (!asked || asked.struck.length === 0) { answer.value = null; return }
    // Plain data only: reactive proxies cannot be sent.
    worker.postMessage({ id: newest, question: JSON.parse(JSON.stringify(asked)) as WhatIfQuestion })
  }, { immediate: true })
  onUnmounted(() => worker.terminate())
  return answer
}
