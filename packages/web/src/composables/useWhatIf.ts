import type { Ref } from 'vue'
import { onUnmounted, ref, watch } from 'vue'
import type { WhatIfAnswer, WhatIfQuestion } from '../what-if'
import type { WhatIfRequest, WhatIfResponse } from '../what-if-worker'

/** Answers what-if questions in a web worker as they change; null while nothing is struck out. */
export function useWhatIf(question: Ref<WhatIfQuestion | null>): Ref<WhatIfAnswer | null> {
  const answer = ref<WhatIfAnswer | null>(null)
  let newest = 0
  const ask = useWhatIfWorker(response => { if (response.kind === 'cycle' && response.id === newest) answer.value = response.answer })
  watch(question, asked => {
    newest++
    if (!asked || asked.struck.length === 0) answer.value = null
    else ask({ kind: 'cycle', id: newest, question: asked })
  }, { immediate: true })
  return answer
}

/** A web worker for what-if questions, which ends with the component; returns what sends it a question. */
export function useWhatIfWorker(heard: (response: WhatIfResponse) => void): (request: WhatIfRequest) => void {
  const worker = new Worker(new URL('../what-if-worker.ts', import.meta.url), { type: 'module' })
  worker.onmessage = (event: MessageEvent<WhatIfResponse>) => heard(event.data)
  onUnmounted(() => worker.terminate())
  // Plain data only: reactive proxies cannot be sent.
  return request => worker.postMessage(JSON.parse(JSON.stringify(request)))
}
