import type { WhatIfQuestion } from './what-if'
import { answerWhatIf } from './what-if'

addEventListener('message', (event: MessageEvent<{ id: number; question: WhatIfQuestion }>) => {
  postMessage({ id: event.data.id, answer: answerWhatIf(event.data.question) })
})
